//! What comes of something wet on the card?
//!
//! Whatever water, ink or paint does to a card, it comes to three things: ink that lies in cells, a share of what lay there
//! that is left, and drops that stand out one by one.

use super::drops::{Chance, Drop};
use super::raster::{CELL, Raster};
use crate::length::Length;

/// What comes of it.
#[derive(Clone, Debug, Default)]
pub struct Effect {
    /// Ink that lies in cells, each by its place in the panel's list, in full swatches.
    pub inks: Vec<(usize, Raster)>,
    /// What is left of the dye and of the oxide that lay there.
    pub left: Option<[Raster; 2]>,
    /// Drops that stand out.
    pub drops: Vec<Drop>,
}

/// On what it comes about.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Where {
    /// Width and height of the panel.
    pub size: (Length, Length),
    /// What chance starts from.
    pub seed: u32,
    /// How many films lay there before it.
    pub nth: u64,
    /// Whether it has been blotted.
    pub is_blotted: bool,
}

impl Where {
    /// Width and height of the panel in millimetres.
    pub fn size_mm(&self) -> (f64, f64) {
        (self.size.0.mm(), self.size.1.mm())
    }

    /// The chance that it comes about by.
    pub fn chance(&self) -> Chance {
        Chance::of(self.seed, 1_000 + self.nth)
    }
}

impl Effect {
    /// An ink that lies in cells.
    pub fn of_ink(ink: usize, raster: Raster) -> Effect {
        Effect { inks: vec![(ink, raster)], ..Effect::default() }
    }

    /// What water leaves of the dye and of the oxide that lay there.
    pub fn of_water(left: [Raster; 2]) -> Effect {
        Effect { left: Some(left), ..Effect::default() }
    }

    /// How much of each ink lies in its cells, in full swatches times square millimetres.
    pub fn in_cells(&self) -> Vec<(usize, f64)> {
        self.inks.iter().map(|(ink, raster)| (*ink, raster.sum() * CELL * CELL)).collect()
    }
}
