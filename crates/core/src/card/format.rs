//! Which sizes do cards come in, and what base is cut and scored for each?
//!
//! A format is told by its *finished* size: what it measures closed, as it lies in front of its reader. The
//! base follows. The usual card opens sideways from a base twice as wide, scored half way:
//!
//! ```
//! use rosy_core::card::{Fold, Format};
//! let usual = Format::usual().into_iter().find(|f| f.fold == Fold::Side).unwrap();
//! let base = usual.base();
//! assert_eq!((base.width.to_string(), base.height.to_string()), ("8 1/2 in".into(), "5 1/2 in".into()));
//! assert_eq!(base.scores[0].at.to_string(), "4 1/4 in");
//! ```
//!
//! Two flaps that abut bind unless a hair is trimmed from the inner edge of each: the *relief*.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::edges::{Axis, known_size};
use crate::ink::Name;
use crate::length::{Length, Units};

/// Shortest and longest side of a finished card.
pub const SIDES: (Length, Length) = (Length::from_inches(1), Length::from_inches(12));
/// What is trimmed from the inner edge of each of two abutting flaps, where nothing else is said.
pub const RELIEF: Length = Length::from_64ths(2);

/// How a card opens.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Fold {
    /// It does not: one leaf.
    Flat,
    /// Sideways, folded at its left edge.
    #[default]
    Side,
    /// Upwards, folded at its top edge.
    Top,
    /// Two flaps from left and right that meet in the middle.
    FlapsSide,
    /// Two flaps from above and below that meet in the middle.
    FlapsTop,
}

impl Fold {
    /// Every fold.
    pub const ALL: [Fold; 5] = [Fold::Flat, Fold::Side, Fold::Top, Fold::FlapsSide, Fold::FlapsTop];

    /// How it opens, in words.
    pub const fn words(self) -> &'static str {
        match self {
            Fold::Flat => "one leaf, does not open",
            Fold::Side => "opens sideways",
            Fold::Top => "opens upwards",
            Fold::FlapsSide => "two flaps, left and right",
            Fold::FlapsTop => "two flaps, above and below",
        }
    }

    /// The axis its scores are measured along; none where it has none.
    pub const fn axis(self) -> Option<Axis> {
        match self {
            Fold::Flat => None,
            Fold::Side | Fold::FlapsSide => Some(Axis::Across),
            Fold::Top | Fold::FlapsTop => Some(Axis::Down),
        }
    }

    /// Whether two flaps meet in front.
    pub const fn has_flaps(self) -> bool {
        matches!(self, Fold::FlapsSide | Fold::FlapsTop)
    }

    /// Leaves of card at any place of the closed base.
    pub const fn leaves(self) -> i64 {
        if matches!(self, Fold::Flat) { 1 } else { 2 }
    }
}

/// A card as it is when closed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Format {
    /// What it is called.
    pub name: Name,
    /// From left to right, closed.
    pub width: Length,
    /// From top to bottom, closed.
    pub height: Length,
    /// How it opens.
    #[serde(default)]
    pub fold: Fold,
    /// Trimmed from the inner edge of each flap, where flaps meet.
    #[serde(default = "relief")]
    pub relief: Length,
}

/// The usual relief, where a document leaves it out.
pub(crate) fn relief() -> Length {
    RELIEF
}

/// What stands in the way of a format.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum FormatError {
    /// Too small or too large a side.
    #[error("the {side} of the finished card is {length}: give 1 in (25.4 mm) to 12 in (304.8 mm)")]
    Side {
        /// `width` or `height`.
        side: &'static str,
        /// What was given.
        length: Length,
    },
    /// Flaps trimmed to nothing, or made longer.
    #[error(
        "{0} is trimmed from each flap: give from nothing to 1/4 in (6.4 mm); about 1/32 in (0.8 mm) is usual"
    )]
    Relief(Length),
}

/// A line to score and fold along.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Score {
    /// Its measure from the left edge of the flat base, or from the top.
    pub at: Length,
    /// Which of the two it is measured along.
    pub along: Axis,
}

/// The base, flat, as it is cut.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Base {
    /// From left to right.
    pub width: Length,
    /// From top to bottom.
    pub height: Length,
    /// Where it is scored.
    pub scores: Vec<Score>,
    /// Which way the grain of its card should run, so that it folds cleanly: along the scores.
    pub grain: Option<Axis>,
    /// Its parts from left to right or from top to bottom: the leaves and flaps.
    pub parts: Vec<Length>,
}

impl Format {
    /// The formats everyone has.
    pub fn usual() -> Vec<Format> {
        serde_json::from_str(include_str!("formats.json")).expect("formats that are formats")
    }

    /// Refuses what is no card.
    ///
    /// # Errors
    /// A [`FormatError`] with the remedy.
    pub fn check(&self) -> Result<(), FormatError> {
        for (side, length) in [("width", self.width), ("height", self.height)] {
            if !(SIDES.0..=SIDES.1).contains(&length) {
                return Err(FormatError::Side { side, length });
            }
        }
        let usable = Length::ZERO..=Length::from_64ths(16);
        if usable.contains(&self.relief) { Ok(()) } else { Err(FormatError::Relief(self.relief)) }
    }

    /// The base it is folded from.
    pub fn base(&self) -> Base {
        let Some(axis) = self.fold.axis() else {
            let (width, height) = (self.width, self.height);
            return Base { width, height, scores: Vec::new(), grain: None, parts: Vec::new() };
        };
        let closed = axis.of(self.width, self.height);
        let parts = if self.fold.has_flaps() {
            let (one, other) = closed.halved(Length::from_64ths(1));
            vec![one - self.relief, closed, other - self.relief]
        } else {
            vec![closed, closed]
        };
        let mut scores = Vec::new();
        let mut at = Length::ZERO;
        for part in &parts {
            at += *part;
            scores.push(Score { at, along: axis });
        }
        scores.pop();
        let (width, height) = axis.of((at, self.height), (self.width, at));
        Base { width, height, scores, grain: Some(axis.other()), parts }
    }

    /// Its name and size.
    pub fn words(&self, units: Units) -> String {
        format!("{}, {}", self.name, known_size(self.width, self.height, units))
    }
}
