//! What is being made? One panel as one document: its size, card, tool, inks, fields and moves.
//!
//! The document is complete in itself, so that a file of it can be drawn, judged and laid anywhere.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::blend::{Blend, Direction, field::FieldError};
use crate::card::plan::{Card, CardError};
use crate::card::trim::Feature;
use crate::colour::Spectrum;
use crate::ink::{DrawerError, Film, Ink, Name, Paper, Stack, Tool};
use crate::length::{Length, Units};
use crate::order::{Move, School, lay};

/// The version of the document this program writes and reads.
pub const VERSION: u32 = 1;
/// Narrowest and widest side of a panel.
pub const SIDES: (Length, Length) = (Length::from_inches(1), Length::from_inches(12));
/// Most features of a panel.
pub const MOST_FEATURES: usize = 12;
/// Most moves in a document.
const MOST_MOVES: usize = 400;

/// A panel: a piece of card and all that is planned for it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
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
    /// What the chance in its picture starts from: the same seed gives the same picture.
    #[serde(default)]
    pub seed: u32,
    /// Steps of the run sheet already done.
    #[serde(default)]
    pub done: usize,
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
        let (features, card) = (Vec::new(), None);
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
        match self.version {
            0 => return Err(PanelError::NoVersion),
            VERSION => {}
            later => return Err(PanelError::LaterVersion(later)),
        }
        for (side, length) in [("width", self.width), ("height", self.height)] {
            if !(SIDES.0..=SIDES.1).contains(&length) {
                return Err(PanelError::Side { side, length });
            }
        }
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
        if self.moves.len() > MOST_MOVES {
            return Err(PanelError::ManyMoves(self.moves.len()));
        }
        let on_panel = |m: &Move| {
            m.ink < self.inks.len()
                && !m.veils.is_empty()
                && m.veils.len() <= usize::from(crate::ink::drawer::MOST_VEILS)
                && m.veils.iter().all(|v| Length::ZERO <= v.from && v.from < v.to && v.to <= span)
        };
        match self.moves.iter().position(|m| !on_panel(m)) {
            Some(at) => Err(PanelError::Move(at + 1)),
            None => Ok(()),
        }
    }

    /// The same panel with its moves laid anew from its fields and school.
    #[must_use]
    pub fn laid(self) -> Panel {
        let moves = lay(&self.blend, &self.inks, self.span(), self.school);
        let done = if moves == self.moves { self.done } else { 0 };
        Panel { moves, done, ..self }
    }

    /// The same panel with other inks, spread evenly, and laid.
    #[must_use]
    pub fn with_inks(self, inks: Vec<Ink>, units: Units) -> Panel {
        let blend = Blend::spread(&inks, self.blend.direction, self.span(), units);
        Panel { inks, blend, ..self }.laid()
    }

    /// The same panel in another size, every measure keeping its share.
    #[must_use]
    pub fn resized(self, width: Length, height: Length) -> Panel {
        let new = self.blend.direction.span(width, height);
        let blend = self.blend.carried_to(self.span(), new);
        let from = (self.width, self.height);
        let features = self.features.iter().map(|feature| feature.carried(from, (width, height))).collect();
        Panel { width, height, blend, features, ..self }.laid()
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
