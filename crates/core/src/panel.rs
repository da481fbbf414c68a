//! What is being made? One panel as one document: its size, card, tool, inks, fields and moves.
//!
//! The document is complete in itself, so that a file of it can be drawn, judged and laid anywhere. As it is read it is
//! only a [`Document`], which can do nothing but be checked; what comes of that is a [`Panel`].

use std::sync::Arc;

use schemars::JsonSchema;
use serde::Serialize;

use crate::blend::{Blend, Way};
use crate::card::plan::{Card, CardError, Inked};
use crate::card::trim::Feature;
use crate::drill::Drill;
use crate::edges::Border;
use crate::ink::drawer::MOST_INKS;
use crate::ink::{DrawerError, Ink, Name, Paper, Tool};
use crate::learn::hand::HandError;
use crate::learn::pace::PaceError;
use crate::learn::{Hands, Pace};
use crate::length::Length;
use crate::moves::{Accepted, LONGEST_NOTE, MOST_ACCEPTED, Move, Stage, Technique, surface_after};
use crate::place::{Extent, Point};
use crate::scene::{Covering, Scene, SceneError, School, Thing, ThingError};
use crate::shape::Shape;
use crate::shape::kept::KeptError;
use crate::surface::{Heated, Materials, Surface};

/// The version of the document this program writes and reads.
pub const VERSION: u32 = 2;
/// Narrowest and widest side of a panel.
pub const SIDES: (Length, Length) = (Length::from_inches(1), Length::from_inches(12));
/// Most features of a panel.
pub const MOST_FEATURES: usize = 12;
/// Most tools on the desk beside the one most is laid with.
pub const MOST_TOOLS: usize = 12;
/// Most notes of what had to give.
pub(crate) const MOST_NOTES: usize = 40;
/// Most moves in a document.
const MOST_MOVES: usize = 1_200;

/// A panel: a piece of card and all that is planned for it.
// It is read as a document, which knows what was written before and can only be checked.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Panel {
    /// Version of the document: 2.
    pub version: u32,
    /// What the maker calls it.
    pub name: Name,
    /// From left to right.
    pub width: Length,
    /// From top to bottom.
    pub height: Length,
    /// The shape it is cut to, where it is a piece inked on its own: its middle is the panel's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub outline: Option<Shape>,
    /// The part of it that is worth cutting out, as a paper window laid over it showed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub part: Option<Thing>,
    /// The card it is made of.
    pub paper: Paper,
    /// What carries the ink.
    pub tool: Tool,
    /// Other tools on the desk beside it: those of the same kind, and those for white only.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub brushes: Vec<Tool>,
    /// The inks, in the order they first stand along the blends.
    pub inks: Vec<Ink>,
    /// What is wanted: which ink lies where.
    pub scene: Scene,
    /// Which ink is laid first.
    #[serde(default)]
    pub school: School,
    /// How it is decided what is covered when.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub covering: Covering,
    /// Whether the maker has put the moves in an order of her own.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub by_hand: bool,
    /// The moves, in order.
    pub moves: Vec<Move>,
    /// Places that matter when it is cut, such as the middle of a moon.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub features: Vec<Feature>,
    /// The card it is made for; the usual one for its size where none is chosen.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub card: Option<Card>,
    /// What had to give when it was changed, or carried over from another card, until the maker has taken note of it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub gave: Vec<String>,
    /// What the chance in its picture starts from: the same seed gives the same picture.
    #[serde(default)]
    pub seed: u32,
    /// What is broken by the maker's own order and left so.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub accepted: Vec<Accepted>,
    /// Steps of the run sheet already done.
    #[serde(default)]
    pub done: usize,
    /// Over which masks it is dried with heat.
    #[serde(default, skip_serializing_if = "Heated::is_never")]
    pub heated: Heated,
    /// The figures that it is timed by, where they are the maker's own.
    #[serde(default, skip_serializing_if = "Pace::is_guides")]
    pub pace: Pace,
    /// What a light pass leaves by brush and card, where it is the maker's own.
    #[serde(default, skip_serializing_if = "Hands::is_guides")]
    pub hands: Hands,
    /// Whether what was made stands in its moves as it came out, and not as it was planned.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub came_out: bool,
    /// What is practised on it, where it is a strip of scrap card.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub practice: Option<Drill>,
}

fn is_usual(covering: &Covering) -> bool {
    *covering == Covering::default()
}

/// Why a panel cannot be kept, and what to change.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum PanelError {
    /// Written by a newer program.
    #[error(
        "this panel is of version {0}, and this program reads up to version {VERSION}: open it with a newer Rosy Veil"
    )]
    LaterVersion(u32),
    /// No document has this version.
    #[error("a panel of version 0 does not exist: the first version is 1")]
    NoVersion,
    /// Too small or too large a side.
    #[error("the {side} is {length}: a panel's sides are 1 in (25.4 mm) to 12 in (304.8 mm)")]
    Side {
        /// `width` or `height`.
        side: &'static str,
        /// What was given.
        length: Length,
    },
    /// The shape it is cut to.
    #[error(transparent)]
    Outline(KeptError),
    /// A shape larger than its card.
    #[error("the {0} is larger than its card: make it smaller, or the card larger")]
    LargeOutline(Name),
    /// The part that is to be cut out.
    #[error("{0}: {1}")]
    Part(Name, ThingError),
    /// More inks than a panel takes.
    #[error("{0} inks are chosen: a panel takes up to {MOST_INKS}, so put {more} back", more = .0 - MOST_INKS)]
    ManyInks(usize),
    /// Figures of the maker's own.
    #[error(transparent)]
    Pace(PaceError),
    /// A hand of the maker's own.
    #[error(transparent)]
    Hand(HandError),
    /// Something is wrong with one ink.
    #[error("ink {place}: {error}")]
    Ink {
        /// Its place, counted from 1.
        place: usize,
        /// What.
        error: DrawerError,
    },
    /// Something is wrong with the card.
    #[error("the card: {0}")]
    Paper(DrawerError),
    /// Something is wrong with a tool.
    #[error("{0}: {1}")]
    Tool(Name, DrawerError),
    /// More tools than lie on a desk.
    #[error("{0} tools beside the first: put out at most {MOST_TOOLS}")]
    ManyTools(usize),
    /// The blends cannot be laid.
    #[error(transparent)]
    Scene(#[from] SceneError),
    /// An ink that no blend has.
    #[error("ink {0} lies nowhere: give it a field in a blend, or take it out of the list")]
    Unused(usize),
    /// A move names an ink that is not there, or reaches off the panel.
    #[error("move {0} names an ink or a place that is not on the panel: lay the blend again")]
    Move(usize),
    /// A feature beside the panel.
    #[error(
        "{name} lies beside the panel: give its centre {width} from the left and {height} from the top at most"
    )]
    Feature {
        /// What it is called.
        name: Name,
        /// The panel's width.
        width: Length,
        /// The panel's height.
        height: Length,
    },
    /// More features than can be told apart.
    #[error("{0} features: mark at most {MOST_FEATURES}, those that must stay in their place when it is cut")]
    ManyFeatures(usize),
    /// The card it is made for.
    #[error(transparent)]
    Card(#[from] CardError),
    /// Longer notes than anyone reads.
    #[error(
        "{0} notes of what had to give: keep at most {MOST_NOTES}, each of at most {LONGEST_NOTE} characters"
    )]
    Notes(usize),
    /// More findings left as they are than anyone means.
    #[error(
        "{0} findings are left as they are: keep at most {MOST_ACCEPTED}, each with a note of at most {LONGEST_NOTE} characters"
    )]
    Accepted(usize),
    /// More moves than any sitting has.
    #[error("{0} moves: a panel has at most {MOST_MOVES}")]
    ManyMoves(usize),
}

impl Panel {
    /// A bare panel.
    pub fn bare(name: Name, width: Length, height: Length, paper: Paper, tool: Tool, seed: u32) -> Panel {
        let blend = Blend { way: Way::DOWN, zone: Length::from_64ths(16), fields: Vec::new() };
        let scene = Scene { ground: vec![blend], ..Scene::default() };
        let (inks, moves, school) = (Vec::new(), Vec::new(), School::default());
        let (features, card, gave) = (Vec::new(), None, Vec::new());
        Panel {
            version: VERSION,
            name,
            width,
            height,
            outline: None,
            part: None,
            paper,
            tool,
            brushes: Vec::new(),
            inks,
            scene,
            school,
            covering: Covering::default(),
            by_hand: false,
            moves,
            features,
            card,
            gave,
            seed,
            accepted: Vec::new(),
            done: 0,
            heated: Heated::default(),
            pace: Pace::default(),
            hands: Hands::default(),
            came_out: false,
            practice: None,
        }
    }

    /// A bare piece of some shape, cut out and inked on its own: light at its foot, with the panel that is as large as it.
    ///
    /// # Errors
    /// A [`PanelError`] where it is no size for a panel.
    pub fn piece(shape: Shape, paper: Paper, tool: Tool, seed: u32) -> Result<Panel, PanelError> {
        let outline = shape.outline().map_err(PanelError::Outline)?;
        let middle = Point { left: Length::ZERO, top: Length::ZERO };
        let (width, height) = Thing::new(shape.clone(), middle).extent(&outline).size;
        check_sides(width, height)?;
        let mut piece = Panel::bare(shape.name.clone(), width, height, paper, tool, seed);
        piece.scene.ground[0].way = Way::UP;
        Ok(Panel { outline: Some(shape), ..piece })
    }

    /// Width and height.
    pub fn size(&self) -> (Length, Length) {
        (self.width, self.height)
    }

    /// How long one of its blends is; nothing where there is none.
    pub fn span(&self, blend: usize) -> Length {
        self.scene.ground.get(blend).map_or(Length::ZERO, |blend| blend.way.span(self.size()))
    }

    /// What of it matters to the card it is made for.
    pub fn inked(&self) -> Inked<'_> {
        Inked { width: self.width, height: self.height, paper: &self.paper, features: &self.features }
    }

    /// Refuses a document that cannot be drawn and laid.
    ///
    /// # Errors
    /// A [`PanelError`] with the remedy.
    pub fn check(&self) -> Result<(), PanelError> {
        self.check_plan()?;
        if self.moves.len() > MOST_MOVES {
            return Err(PanelError::ManyMoves(self.moves.len()));
        }
        let boxes = self.boxes();
        match self.moves.iter().position(|m| !m.is_possible(&self.stage(&boxes))) {
            Some(at) => Err(PanelError::Move(at + 1)),
            None => Ok(()),
        }
    }

    /// The boxes round its things.
    pub(crate) fn boxes(&self) -> Vec<Extent> {
        self.scene
            .things
            .iter()
            .filter_map(|thing| Some(thing.extent(&thing.shape.outline().ok()?)))
            .collect()
    }

    /// What of it a move can name.
    pub(crate) fn stage<'a>(&self, boxes: &'a [Extent]) -> Stage<'a> {
        Stage { inks: self.inks.len(), size: self.size(), things: self.scene.things.len(), boxes }
    }

    /// Refuses what cannot be laid; its moves are not looked at.
    pub(crate) fn check_plan(&self) -> Result<(), PanelError> {
        self.pace.check().map_err(PanelError::Pace)?;
        self.hands.check().map_err(PanelError::Hand)?;
        match self.version {
            0 => return Err(PanelError::NoVersion),
            VERSION => {}
            later => return Err(PanelError::LaterVersion(later)),
        }
        check_sides(self.width, self.height)?;
        if let Some(shape) = &self.outline {
            let (wide, high) = shape.outline().map_err(PanelError::Outline)?.size();
            let is_larger = |shape: f64, side: Length| shape > side.mm() + 0.5;
            if is_larger(wide, self.width) || is_larger(high, self.height) {
                return Err(PanelError::LargeOutline(shape.name.clone()));
            }
        }
        if let Some(part) = &self.part {
            part.check(0, self.size()).map_err(|error| PanelError::Part(part.shape.name.clone(), error))?;
        }
        if self.inks.len() > MOST_INKS {
            return Err(PanelError::ManyInks(self.inks.len()));
        }
        for (ink, place) in self.inks.iter().zip(1..) {
            ink.check().map_err(|error| PanelError::Ink { place, error })?;
        }
        self.paper.check().map_err(PanelError::Paper)?;
        if self.brushes.len() > MOST_TOOLS {
            return Err(PanelError::ManyTools(self.brushes.len()));
        }
        for tool in std::iter::once(&self.tool).chain(&self.brushes) {
            tool.check().map_err(|error| PanelError::Tool(tool.name.clone(), error))?;
        }
        self.scene.check(self.inks.len(), self.size())?;
        let used = self.scene.inks();
        if let Some(unused) = (0..self.inks.len()).find(|ink| !used.contains(ink)) {
            return Err(PanelError::Unused(unused + 1));
        }
        if self.features.len() > MOST_FEATURES {
            return Err(PanelError::ManyFeatures(self.features.len()));
        }
        if let Some(beside) = self.features.iter().find(|feature| !feature.is_on(self.width, self.height)) {
            let (name, width, height) = (beside.name.clone(), self.width, self.height);
            return Err(PanelError::Feature { name, width, height });
        }
        if let Some(card) = &self.card {
            card.check(&self.inked())?;
        }
        let long = |note: &String| note.chars().count() > LONGEST_NOTE;
        if self.gave.len() > MOST_NOTES || self.gave.iter().any(long) {
            return Err(PanelError::Notes(self.gave.len()));
        }
        if self.accepted.len() > MOST_ACCEPTED || self.accepted.iter().any(|one| long(&one.note)) {
            return Err(PanelError::Accepted(self.accepted.len()));
        }
        Ok(())
    }

    /// The tape along its edges while it is inked.
    pub fn border(&self) -> Border {
        self.card.as_ref().map_or_else(Border::default, |card| card.border(&self.inked()))
    }

    /// The box within which it is seen: within the tape along its edges.
    pub fn inside(&self) -> Extent {
        let lines = self.border().lines;
        Extent {
            corner: Point { left: lines.left, top: lines.top },
            size: (self.width - lines.left - lines.right, self.height - lines.top - lines.bottom),
        }
    }

    /// Its card and films, ready for reckoning.
    pub fn materials(&self) -> Arc<Materials> {
        let tools = (&self.tool, self.brushes.as_slice());
        let stands = (self.outline.as_ref(), self.border(), self.scene.things.as_slice());
        let materials = Materials::of(self.size(), &self.paper, tools, &self.inks, stands, self.seed);
        let hand = self.hands.of(&self.tool.name, &self.paper.name);
        Arc::new(Materials { pace: self.pace.clone(), hand, heated: self.heated, ..materials })
    }

    /// The card as its first `moves` moves leave it.
    pub fn after(&self, moves: usize) -> Surface {
        surface_after(self.materials(), &self.moves[..moves.min(self.moves.len())])
    }

    /// The card as all its moves leave it.
    pub fn surface(&self) -> Surface {
        self.after(self.moves.len())
    }
}

/// Refuses sides that no panel has.
pub(crate) fn check_sides(width: Length, height: Length) -> Result<(), PanelError> {
    let known = SIDES.0..=SIDES.1;
    match [("width", width), ("height", height)].into_iter().find(|(_, length)| !known.contains(length)) {
        Some((side, length)) => Err(PanelError::Side { side, length }),
        None => Ok(()),
    }
}

/// A panel of two inks, for tests of what is done with panels.
#[cfg(test)]
pub(crate) fn sample() -> Panel {
    use crate::colour::Colour;
    use crate::ink::{Finish, Kind, ToolKind};
    use crate::length::Units;
    let ink = |name: &str, l: f64| Ink {
        name: name.parse().unwrap(),
        kind: Kind::Dye,
        colour: Colour::Lab([l, 40.0, 10.0].into()),
        one_veil: None,
        full_veils: 7,
        on_ink: None,
    };
    let paper = Paper::plain(Finish::VerySmooth);
    let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
    let (width, height) = (Length::from_inches(4), Length::from_inches(5));
    Panel::bare("Ebb at six".parse().unwrap(), width, height, paper, tool, 1)
        .with_inks(vec![ink("Cockle", 60.0), ink("Mussel", 30.0)], Units::Inches)
}
