//! What is to be cut, and from what?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::edges::{Axis, size};
use crate::ink::Name;
use crate::length::{Length, Units};

/// Pieces of one size.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Piece {
    /// What it is.
    pub name: Name,
    /// From left to right.
    pub width: Length,
    /// From top to bottom.
    pub height: Length,
    /// Which way the grain must run on it, where that matters: along its fold.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub grain: Option<Axis>,
    /// How many.
    #[serde(default = "one")]
    pub count: u32,
    /// The card it is cut from; any where it is left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub paper: Option<Name>,
}

fn one() -> u32 {
    1
}

/// Sheets of one size.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Sheet {
    /// What it is called.
    pub name: Name,
    /// From left to right.
    pub width: Length,
    /// From top to bottom.
    pub height: Length,
    /// Which way its grain runs; none where it is not known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub grain: Option<Axis>,
    /// How many there are; as many as it takes where it is left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub count: Option<u32>,
    /// Which card it is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub paper: Option<Name>,
    /// Whether it is left over from an earlier cutting: using it up costs no sheet.
    #[serde(default, skip_serializing_if = "is_false")]
    pub offcut: bool,
}

#[allow(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
fn is_false(offcut: &bool) -> bool {
    !offcut
}

impl Piece {
    /// The area of one.
    pub fn area(&self) -> i128 {
        self.width.times(self.height)
    }

    /// Its name and size.
    pub fn words(&self, units: Units) -> String {
        format!("{}, {}", self.name, size(self.width, self.height, units))
    }

    /// Its width and height as it may lie on a sheet whose grain runs so; either way where that is not known.
    pub fn ways(&self, grain: Option<Axis>) -> Vec<(Length, Length)> {
        let (as_is, turned) = ((self.width, self.height), (self.height, self.width));
        let mut ways = match (self.grain, grain) {
            (Some(piece), Some(sheet)) if piece == sheet => vec![as_is],
            (Some(_), Some(_)) => vec![turned],
            _ => vec![as_is, turned],
        };
        ways.dedup();
        ways
    }
}

impl Sheet {
    /// The area of one.
    pub fn area(&self) -> i128 {
        self.width.times(self.height)
    }

    /// Whether a piece may be cut from it at all, by its card.
    pub fn suits(&self, piece: &Piece) -> bool {
        piece.paper.is_none() || self.paper.is_none() || piece.paper == self.paper
    }

    /// Whether a piece fits on it, either way it may lie.
    pub fn holds(&self, piece: &Piece) -> bool {
        self.suits(piece) && piece.ways(self.grain).iter().any(|(w, h)| *w <= self.width && *h <= self.height)
    }
}
