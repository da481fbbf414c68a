//! What is being made? One panel as one document: its size, card, tool, inks, fields and moves.
//!
//! The document is complete in itself, so that a file of it can be drawn, judged and laid anywhere. As it is read it is
//! only a [`Document`], which can do nothing but be checked; what comes of that is a [`Panel`].

use schemars::JsonSchema;
use serde::{Deserialize, Deserializer, Serialize, Serializer, de};

use crate::blend::{Blend, Direction, Field, field::FieldError};
use crate::card::plan::{Card, CardError};
use crate::card::trim::Feature;
use crate::colour::Spectrum;
use crate::ink::{DrawerError, Film, Ink, Name, Paper, Stack, Tool};
use crate::length::{Length, Units};
use crate::order::{Move, School, lay_on, sheet::STEPS_BEFORE};

/// The version of the document this program writes and reads.
pub const VERSION: u32 = 1;
/// Narrowest and widest side of a panel.
pub const SIDES: (Length, Length) = (Length::from_inches(1), Length::from_inches(12));
/// Most features of a panel.
pub const MOST_FEATURES: usize = 12;
/// Most notes of what had to give, and the longest, in characters.
const MOST_NOTES: usize = 40;
const LONGEST_NOTE: usize = 400;
/// Most moves in a document.
const MOST_MOVES: usize = 400;

/// A panel: a piece of card and all that is planned for it.
// How it is written and read as it stands is derived here; reading it for use goes through `Document`, below.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, remote = "Self")]
pub struct Panel {
    /// Version of the document: 1.
    pub version: u32,
    /// What the maker calls it.
    pub name: Name,
    /// From left to right.
    pub width: Length,
    /// From top to bottom.
    pub height: Length,
    /// The card it is made of.
    pub paper: Paper,
    /// What carries the ink.
    pub tool: Tool,
    /// The inks, in the order they stand along the blend.
    pub inks: Vec<Ink>,
    /// Where each ink lies.
    pub blend: Blend,
    /// Which ink is laid first.
    #[serde(default)]
    pub school: School,
    /// The moves, in order.
    pub moves: Vec<Move>,
    /// Places that matter when it is cut, such as the middle of a moon.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub features: Vec<Feature>,
    /// The card it is made for; the usual one for its size where none is chosen.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub card: Option<Card>,
    /// What had to give when it was carried over from another card, until the maker has taken note of it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub gave: Vec<String>,
    /// What the chance in its picture starts from: the same seed gives the same picture.
    #[serde(default)]
    pub seed: u32,
    /// Steps of the run sheet already done.
    #[serde(default)]
    pub done: usize,
}

/// A panel's document as it was read: nothing is known of it yet, and nothing can be done with it but check it.
#[derive(Clone, Debug, PartialEq)]
pub struct Document(Panel);

impl Document {
    /// The panel as it stands in the document, its moves with it.
    ///
    /// # Errors
    /// A [`PanelError`] with the remedy.
    pub fn checked(self) -> Result<Panel, PanelError> {
        self.0.check()?;
        Ok(self.0)
    }

    /// The panel with its moves laid anew, where its fields, inks or school have been changed since they were.
    ///
    /// # Errors
    /// A [`PanelError`] with the remedy.
    pub fn laid(self) -> Result<Panel, PanelError> {
        self.0.check_plan()?;
        Ok(self.0.laid())
    }
}

impl<'de> Deserialize<'de> for Document {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Document, D::Error> {
        Panel::deserialize(deserializer).map(Document)
    }
}

impl<'de> Deserialize<'de> for Panel {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Panel, D::Error> {
        <Document as Deserialize>::deserialize(deserializer)?.checked().map_err(de::Error::custom)
    }
}

impl Serialize for Panel {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        Panel::serialize(self, serializer)
    }
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
    /// More inks than a blend takes.
    #[error("{0} inks are chosen: a blend takes two to five, so put {more} back", more = .0 - 5)]
    ManyInks(usize),
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
    /// The fields cannot be laid.
    #[error(transparent)]
    Field(#[from] FieldError),
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
    /// More moves than any sitting has.
    #[error("{0} moves: a panel has at most {MOST_MOVES}")]
    ManyMoves(usize),
}

impl Panel {
    /// A bare panel.
    pub fn bare(name: Name, width: Length, height: Length, paper: Paper, tool: Tool, seed: u32) -> Panel {
        let zone = Length::from_64ths(16);
        let blend = Blend { direction: Direction::Down, zone, fields: Vec::new() };
        let (inks, moves, school) = (Vec::new(), Vec::new(), School::default());
        let (features, card, gave) = (Vec::new(), None, Vec::new());
        Panel {
            version: VERSION,
            name,
            width,
            height,
            paper,
            tool,
            inks,
            blend,
            school,
            moves,
            features,
            card,
            gave,
            seed,
            done: 0,
        }
    }

    /// How long its blend is.
    pub fn span(&self) -> Length {
        self.blend.direction.span(self.width, self.height)
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
        match self.moves.iter().position(|m| !self.is_on_panel(m)) {
            Some(at) => Err(PanelError::Move(at + 1)),
            None => Ok(()),
        }
    }

    /// Whether a move names an ink and a place that are on the panel.
    fn is_on_panel(&self, m: &Move) -> bool {
        let span = self.span();
        m.ink < self.inks.len()
            && !m.veils.is_empty()
            && m.veils.len() <= usize::from(crate::ink::drawer::MOST_VEILS)
            && m.veils.iter().all(|v| Length::ZERO <= v.from && v.from < v.to && v.to <= span)
    }

    /// Refuses what cannot be laid; its moves are not looked at.
    fn check_plan(&self) -> Result<(), PanelError> {
        match self.version {
            0 => return Err(PanelError::NoVersion),
            VERSION => {}
            later => return Err(PanelError::LaterVersion(later)),
        }
        check_sides(self.width, self.height)?;
        if self.inks.len() > *crate::blend::field::INKS.end() {
            return Err(PanelError::ManyInks(self.inks.len()));
        }
        for (ink, place) in self.inks.iter().zip(1..) {
            ink.check().map_err(|error| PanelError::Ink { place, error })?;
        }
        self.paper.check().map_err(PanelError::Paper)?;
        let span = self.span();
        self.blend.check(self.inks.len(), span)?;
        if self.features.len() > MOST_FEATURES {
            return Err(PanelError::ManyFeatures(self.features.len()));
        }
        if let Some(beside) = self.features.iter().find(|feature| !feature.is_on(self.width, self.height)) {
            let (name, width, height) = (beside.name.clone(), self.width, self.height);
            return Err(PanelError::Feature { name, width, height });
        }
        if let Some(card) = &self.card {
            card.check(self)?;
        }
        let long = |note: &String| note.chars().count() > LONGEST_NOTE;
        if self.gave.len() > MOST_NOTES || self.gave.iter().any(long) {
            return Err(PanelError::Notes(self.gave.len()));
        }
        Ok(())
    }

    /// Moves that have been made, by the steps ticked off, as far as they are moves of this panel.
    fn made(&self) -> &[Move] {
        let ticked = self.done.saturating_sub(STEPS_BEFORE).min(self.moves.len());
        let sound = self.moves.iter().take(ticked).take_while(|m| self.is_on_panel(m)).count();
        &self.moves[..sound]
    }

    /// The same panel with its moves laid from its fields and school. Moves that have been made stay as they are, and
    /// what is still missing is laid after them. A plan stands as long as it is what would have been laid from what
    /// had been made at some time before.
    #[must_use]
    pub fn laid(self) -> Panel {
        let made = self.made();
        let planned = |made: &[Move]| lay_on(made, &self.blend, &self.inks, self.span(), self.school);
        if (0..=made.len()).any(|n| planned(&made[..n]) == self.moves) {
            return self;
        }
        let (moves, made) = (planned(made), made.len());
        let done = if made == 0 { 0 } else { self.done.min(STEPS_BEFORE + made) };
        Panel { moves, done, ..self }
    }

    /// The same panel with none of its moves made.
    fn untouched(self) -> Panel {
        Panel { moves: Vec::new(), done: 0, ..self }
    }

    /// The same panel with other inks, spread evenly, and laid.
    #[must_use]
    pub fn with_inks(self, inks: Vec<Ink>, units: Units) -> Panel {
        let blend = Blend::spread(&inks, self.blend.direction, self.span(), units);
        Panel { inks, blend, ..self.untouched() }.laid()
    }

    /// The same inks in another order, by their present places, over other fields.
    #[must_use]
    pub fn placed(self, sequence: &[usize], fields: Vec<Field>) -> Panel {
        let inks = sequence.iter().filter_map(|&ink| self.inks.get(ink).cloned()).collect();
        let blend = Blend { fields, ..self.blend.clone() };
        let sequence: Vec<Option<usize>> = sequence.iter().copied().map(Some).collect();
        self.replanned(inks, &sequence, blend)
    }

    /// Other inks: each new, or one of the present ones by its place. Bands set by hand stay where they are as far as
    /// there are as many, passes go with their ink.
    #[must_use]
    pub fn choosing(self, chosen: Vec<(Ink, Option<usize>)>, units: Units) -> Panel {
        // Where nothing was set by hand yet, the bands are spread anew.
        let bands =
            |fields: &[Field]| fields.iter().map(|field| Field { veils: 1, ..*field }).collect::<Vec<_>>();
        let spread = |inks: &[Ink]| Blend::spread(inks, self.blend.direction, self.span(), units);
        let untouched = bands(&spread(&self.inks).fields) == bands(&self.blend.fields);
        let mut blend = self.blend.clone();
        let stays = |place: &usize| chosen.iter().any(|(_, of)| of == &Some(*place));
        for gone in (0..self.inks.len()).rev().filter(|place| !stays(place)) {
            blend = blend.without(gone, self.span(), units);
        }
        while blend.fields.len() < chosen.len() {
            blend = blend.with_room(self.span(), units);
        }
        let veils = |(ink, of): &(Ink, Option<usize>)| {
            of.and_then(|place| self.blend.fields.get(place))
                .map_or(ink.full_veils.min(7), |field| field.veils)
        };
        if untouched {
            let inks: Vec<Ink> = chosen.iter().map(|(ink, _)| ink.clone()).collect();
            blend = spread(&inks);
        }
        for (field, chosen) in blend.fields.iter_mut().zip(&chosen) {
            field.veils = veils(chosen);
        }
        let (inks, places): (_, Vec<Option<usize>>) = chosen.into_iter().unzip();
        self.replanned(inks, &places, blend)
    }

    /// Laid with these inks, each at the place it had before, if it had one. A panel that has lost an ink which had been
    /// laid is begun anew.
    fn replanned(self, inks: Vec<Ink>, places: &[Option<usize>], blend: Blend) -> Panel {
        let moved =
            |m: &Move| Some(Move { ink: places.iter().position(|of| *of == Some(m.ink))?, ..m.clone() });
        let made: Option<Vec<Move>> = self.made().iter().map(moved).collect();
        let done = if made.is_some() { self.done } else { 0 };
        Panel { inks, blend, moves: made.unwrap_or_default(), done, ..self }.laid()
    }

    /// The same panel with its bands running another way, every measure keeping its share.
    #[must_use]
    pub fn turned(self, direction: Direction, units: Units) -> Panel {
        if direction == self.blend.direction {
            return self;
        }
        let new = direction.span(self.width, self.height);
        let blend = Blend { direction, ..self.blend.carried_to(self.span(), new, units) };
        Panel { blend, ..self.untouched() }.laid()
    }

    /// The same panel in another size, every measure keeping its share.
    ///
    /// # Errors
    /// [`PanelError::Side`] where no panel has that size.
    pub fn resized(self, width: Length, height: Length, units: Units) -> Result<Panel, PanelError> {
        check_sides(width, height)?;
        let new = self.blend.direction.span(width, height);
        let blend = self.blend.carried_to(self.span(), new, units);
        let from = (self.width, self.height);
        let features = self.features.iter().map(|feature| feature.carried(from, (width, height))).collect();
        let resized = Panel { width, height, blend, features, ..self.untouched() };
        resized.check_plan()?;
        Ok(resized.laid())
    }

    /// Its card and films, ready for reckoning.
    pub fn materials(&self) -> Materials<'_> {
        Materials {
            panel: self,
            card: self.paper.reflectance(),
            films: self.inks.iter().map(Ink::film).collect(),
        }
    }
}

fn check_sides(width: Length, height: Length) -> Result<(), PanelError> {
    let known = SIDES.0..=SIDES.1;
    match [("width", width), ("height", height)].into_iter().find(|(_, length)| !known.contains(length)) {
        Some((side, length)) => Err(PanelError::Side { side, length }),
        None => Ok(()),
    }
}

/// A panel's card and films, worked out once and used at every place.
#[derive(Clone, Debug)]
pub struct Materials<'a> {
    /// The panel.
    pub panel: &'a Panel,
    /// Bare card.
    pub card: Spectrum,
    /// One film for each ink.
    pub films: Vec<Film>,
}

impl Materials<'_> {
    /// Veils each of the moves leaves at a place (millimetres along the blend).
    pub fn veils_at(&self, moves: &[Move], place: f64) -> Vec<f64> {
        let direction = self.panel.blend.direction;
        let footprint = self.panel.tool.kind.footprint_mm() * direction.stretch();
        let span = self.panel.span();
        moves.iter().map(|m| m.veils_at(place, footprint, span)).collect()
    }

    /// The films one over the other, given the veils of each move; `grown` scales each ink's amount.
    pub fn stack(&self, moves: &[Move], veils: &[f64], grown: impl Fn(usize) -> f64) -> Stack {
        let mut stack = Stack::on(&self.card);
        for (m, veils) in moves.iter().zip(veils) {
            let full = f64::from(self.panel.inks[m.ink].full_veils);
            stack.lay(m.ink, &self.films[m.ink], veils / full * grown(m.ink));
        }
        stack
    }

    /// Veils of each ink, all moves together.
    pub fn by_ink(&self, moves: &[Move], veils: &[f64]) -> Vec<f64> {
        let mut sums = vec![0.0; self.panel.inks.len()];
        for (m, veils) in moves.iter().zip(veils) {
            sums[m.ink] += veils;
        }
        sums
    }
}

/// A panel of two inks, for tests of what is done with panels.
#[cfg(test)]
pub(crate) fn sample() -> Panel {
    use crate::colour::Colour;
    use crate::ink::{Kind, Surface, ToolKind};
    let ink = |name: &str, l: f64| Ink {
        name: name.parse().unwrap(),
        kind: Kind::Dye,
        colour: Colour::Lab([l, 40.0, 10.0].into()),
        one_veil: None,
        full_veils: 7,
    };
    let paper = Paper {
        name: "Slack Water".parse().unwrap(),
        colour: Colour::Lab([96.5, 0.3, -1.8].into()),
        surface: Surface::VerySmooth,
        thickness: Length::from_tenths_mm(3),
    };
    let tool = Tool { name: "Dome".parse().unwrap(), kind: ToolKind::Brush };
    let (width, height) = (Length::from_inches(4), Length::from_inches(5));
    Panel::bare("Ebb at six".parse().unwrap(), width, height, paper, tool, 1)
        .with_inks(vec![ink("Cockle", 60.0), ink("Mussel", 30.0)], Units::Inches)
}
