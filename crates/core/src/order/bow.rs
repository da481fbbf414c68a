//! How far does a panel bow once its water has dried?
//!
//! Water swells the side it comes on; as that dries it shrinks to a little less than it was, and draws the card hollow. Two
//! halves of a card that differ in length by a strain Δε bend it to a curvature of 3/2 · Δε / thickness (Timoshenko 1925),
//! and an arc of some length stands up by curvature · length² / 8. Paper swells by a tenth of a per cent for every per cent
//! of water that it takes up (Niskanen, *Paper Physics*).

use crate::length::{Length, Units};
use crate::moves::standing;
use crate::panel::Panel;
use crate::surface::Surface;

/// Grams that a square metre of card weighs for each millimetre of its thickness: 0.30 mm is about 300 g/m².
const A_MILLIMETRE: f64 = 1_000.0;
/// Grams of water that a pump of mist brings to a square metre (chosen).
const A_PUMP: f64 = 6.5;
/// How much of its swelling a side loses more than it had gained (chosen).
const LOST: f64 = 0.025;
/// Strain for each share of water that is taken up.
const SWELLS: f64 = 0.1;
/// Millimetres below which it lies flat, and up to which a night under books flattens it (chosen).
const FLAT: f64 = 1.0;
const BOOKS: f64 = 4.0;

/// How far the middle of a panel's longer side stands off the table.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Bow {
    /// Millimetres.
    pub mm: f64,
}

impl Bow {
    /// Of a panel as its moves leave it: what bows it is the most water that stood on it at once.
    pub fn of(panel: &Panel) -> Bow {
        let mut surface = Surface::bare(panel.materials());
        let mut most = 0.0_f64;
        for m in &panel.moves {
            m.make(&mut surface);
            most = most.max(standing(&surface));
        }
        let thick = panel.paper.thickness.mm();
        let long = panel.width.max(panel.height).mm();
        // The upper half of the card takes it up.
        let half = 0.5 * thick * A_MILLIMETRE;
        let strain = LOST * SWELLS * A_PUMP * most / half;
        Bow { mm: 1.5 * strain / thick * long * long / 8.0 }
    }

    /// Whether it is to be flattened before it is trimmed or glued.
    pub fn is_seen(self) -> bool {
        self.mm >= FLAT
    }

    /// In a sentence, with what flattens it.
    pub fn says(self, units: Units) -> String {
        if !self.is_seen() {
            return "It dries nearly flat: a book on it overnight does the rest.".into();
        }
        let step = match units {
            Units::Inches => Length::from_64ths(4),
            Units::Millimetres => Length::from_tenths_mm(10),
        };
        let bows = Length::nearest(self.mm, step).max(step).shown(units);
        let flattens = if self.mm <= BOOKS {
            "a night under books flattens it, and foam tape or a second layer of card keeps it so"
        } else {
            "foam tape or a second layer of card beneath flattens it; thicker card bows far less"
        };
        format!("It bows about {bows} as it dries: {flattens}.")
    }
}
