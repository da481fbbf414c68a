//! How is a panel's document read, of whichever version it is?
//!
//! As it is read nothing is known of it yet, and nothing can be done with it but check it; what comes of that is a
//! [`Panel`]. Version 1 knew one blend in straight bands or across a corner, and moves that were all ink: it comes out in
//! the same colours at the same places.

use serde::{Deserialize, Deserializer, de};
use serde_json::Value;

use crate::blend::{Blend, Field, Reach, Way};
use crate::card::plan::Card;
use crate::card::trim::Feature;
use crate::drill::Drill;
use crate::ink::{Ink, Name, Paper, Tool};
use crate::learn::{Hands, Pace};
use crate::length::Length;
use crate::moves::{Accepted, Laying, Move, back::Back, lay::Lay};
use crate::order::plan::with_care;
use crate::panel::{Panel, PanelError, VERSION};
use crate::place::Corner;
use crate::scene::{Covering, Scene, School, Thing};
use crate::shape::Shape;
use crate::surface::Heated;

/// A panel's document as it was read.
#[derive(Clone, Debug, PartialEq)]
pub struct Document {
    panel: Panel,
    /// Whether its moves are only ink laid, as version 1 told them.
    only_ink: bool,
}

impl From<Panel> for Document {
    fn from(panel: Panel) -> Document {
        Document { panel, only_ink: false }
    }
}

impl Document {
    /// The panel as it stands in the document, its moves with it.
    ///
    /// # Errors
    /// A [`PanelError`] with the remedy.
    pub fn checked(self) -> Result<Panel, PanelError> {
        self.panel.check()?;
        Ok(self.with_care())
    }

    /// The panel with its moves laid anew, where its scene, inks or school have been changed since they were.
    ///
    /// # Errors
    /// A [`PanelError`] with the remedy.
    pub fn laid(self) -> Result<Panel, PanelError> {
        self.panel.check_plan()?;
        Ok(self.with_care().laid())
    }

    /// What version 1 left unsaid: which brush lays what, a look, and drying.
    fn with_care(self) -> Panel {
        let Document { panel, only_ink } = self;
        if !only_ink || panel.check().is_err() {
            return panel;
        }
        let moves = with_care(&[], panel.moves.clone(), &panel.materials());
        Panel { moves, ..panel }
    }
}

/// What stands in a document of any version.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Written {
    version: u32,
    name: Name,
    width: Length,
    height: Length,
    #[serde(default)]
    outline: Option<Shape>,
    #[serde(default)]
    part: Option<Thing>,
    paper: Paper,
    tool: Tool,
    #[serde(default)]
    brushes: Vec<Tool>,
    inks: Vec<Ink>,
    scene: Option<Scene>,
    blend: Option<OneBlend>,
    #[serde(default)]
    school: School,
    #[serde(default)]
    covering: Covering,
    #[serde(default)]
    by_hand: bool,
    moves: Vec<Value>,
    #[serde(default)]
    features: Vec<Feature>,
    #[serde(default)]
    card: Option<Card>,
    #[serde(default)]
    gave: Vec<String>,
    #[serde(default)]
    seed: u32,
    #[serde(default)]
    accepted: Vec<Accepted>,
    #[serde(default)]
    done: usize,
    #[serde(default)]
    heated: Heated,
    #[serde(default)]
    pace: Pace,
    #[serde(default)]
    hands: Hands,
    #[serde(default)]
    came_out: bool,
    #[serde(default)]
    practice: Option<Drill>,
}

impl<'de> Deserialize<'de> for Document {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Document, D::Error> {
        let written = Written::deserialize(deserializer)?;
        let (scene, moves) = match (written.version, written.scene, written.blend) {
            // A version there is none of is told by its number, whatever else stands in it.
            (other, _, _) if other == 0 || other > VERSION => (Scene::default(), Vec::new()),
            (1, None, Some(blend)) => {
                let moves = read_moves::<InkMove, D::Error>(written.moves)?;
                (blend.scene(), blend.moves(moves))
            }
            (1, _, _) => return Err(de::Error::missing_field("blend")),
            (_, Some(scene), None) => (scene, read_moves::<Move, D::Error>(written.moves)?),
            (_, None, _) => return Err(de::Error::missing_field("scene")),
            (_, Some(_), Some(_)) => return Err(de::Error::unknown_field("blend", &["scene"])),
        };
        let Written { name, width, height, outline, part, paper, tool, brushes, inks, .. } = written;
        let Written {
            school,
            covering,
            by_hand,
            features,
            card,
            gave,
            seed,
            accepted,
            done,
            heated,
            pace,
            hands,
            came_out,
            practice,
            ..
        } = written;
        let only_ink = written.version == 1;
        let version = if only_ink { VERSION } else { written.version };
        let panel = Panel {
            version,
            name,
            width,
            height,
            outline,
            part,
            paper,
            tool,
            brushes,
            inks,
            scene,
            school,
            covering,
            by_hand,
            moves,
            features,
            card,
            gave,
            seed,
            accepted,
            done,
            heated,
            pace,
            hands,
            came_out,
            practice,
        };
        Ok(Document { panel, only_ink })
    }
}

impl<'de> Deserialize<'de> for Panel {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Panel, D::Error> {
        Document::deserialize(deserializer)?.checked().map_err(de::Error::custom)
    }
}

fn read_moves<M: de::DeserializeOwned, E: de::Error>(moves: Vec<Value>) -> Result<Vec<M>, E> {
    let read = |(value, place): (Value, usize)| {
        let says = || E::custom(format!("move {place} cannot be read: lay the blend again"));
        serde_json::from_value(value).map_err(|_| says())
    };
    moves.into_iter().zip(1..).map(read).collect()
}

/// The only blend of a panel of version 1.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct OneBlend {
    #[serde(default)]
    direction: Direction,
    zone: Length,
    fields: Vec<Hill>,
}

/// Which way it ran.
#[derive(Clone, Copy, Default, Deserialize)]
#[serde(rename_all = "kebab-case")]
enum Direction {
    #[default]
    Down,
    Up,
    Right,
    Left,
    DownRight,
    DownLeft,
    UpRight,
    UpLeft,
}

/// The field of the ink in the same place of the list.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Hill {
    veils: u8,
    starts: Length,
    full_from: Length,
    full_to: Length,
    ends: Length,
}

/// A move of version 1: ink laid.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct InkMove {
    ink: usize,
    purpose: Purpose,
    round: u8,
    veils: Vec<Reach>,
}

#[derive(Deserialize)]
#[serde(rename_all = "lowercase")]
enum Purpose {
    Lay,
    Back,
    Deepen,
}

impl OneBlend {
    fn way(&self) -> Way {
        match self.direction {
            Direction::Down => Way::DOWN,
            Direction::Up => Way::UP,
            Direction::Right => Way::RIGHT,
            Direction::Left => Way::LEFT,
            Direction::DownRight => Way::across(Corner::TopLeft),
            Direction::DownLeft => Way::across(Corner::TopRight),
            Direction::UpRight => Way::across(Corner::BottomLeft),
            Direction::UpLeft => Way::across(Corner::BottomRight),
        }
    }

    fn scene(&self) -> Scene {
        let field = |(ink, hill): (usize, &Hill)| {
            let Hill { veils, starts, full_from, full_to, ends } = *hill;
            Field { ink, veils, starts, full_from, full_to, ends }
        };
        let fields = self.fields.iter().enumerate().map(field).collect();
        let blend = Blend { way: self.way(), zone: self.zone, fields };
        Scene { ground: vec![blend], ..Scene::default() }
    }

    fn moves(&self, moves: Vec<InkMove>) -> Vec<Move> {
        let way = self.way();
        let laid = moves.into_iter().map(|InkMove { ink, purpose, round, veils }| {
            let laying = Laying { ink, on: None, way, round, veils };
            match purpose {
                Purpose::Lay | Purpose::Deepen => Lay(laying).into(),
                Purpose::Back => Back(laying).into(),
            }
        });
        laid.collect()
    }
}
