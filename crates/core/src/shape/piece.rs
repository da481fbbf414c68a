//! Which pieces come of a cut? Round a shape a frame, out of it a plug, and in its holes the counters.
//!
//! Cut on the line, frame, plug and counters are the whole sheet. A plug may be cut a hair inside its line, so that no white
//! shows round what it covered, or with a halo outside it, where a pale outline is wanted.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::region::Region;
use crate::length::Length;

/// A sheet's sides.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct SheetSize {
    /// Across.
    pub width: Length,
    /// Down.
    pub height: Length,
}

impl SheetSize {
    /// What a maker has sheets of where none is said.
    pub const LETTER: SheetSize =
        SheetSize { width: Length::from_64ths(17 * 32), height: Length::from_inches(11) };
}

/// Where a plug is cut.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Cut {
    /// On the line.
    #[default]
    OnTheLine,
    /// So far inside it.
    Inside(Length),
    /// So far outside it: a halo stays round what it covered.
    Halo(Length),
}

/// Widest halo, and twice the widest hair, in millimetres.
const MOST: f64 = 12.7;

impl Cut {
    /// How far outside the line, in millimetres.
    pub fn outside(self) -> f64 {
        match self {
            Cut::OnTheLine => 0.0,
            Cut::Inside(by) => -by.mm(),
            Cut::Halo(by) => by.mm(),
        }
    }

    /// Whether a blade can be set to it.
    pub fn is_possible(self) -> bool {
        match self {
            Cut::OnTheLine => true,
            Cut::Inside(by) | Cut::Halo(by) => by > Length::ZERO && by.mm() <= MOST,
        }
    }
}

/// What a piece is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Part {
    /// What lies round the shape: ink goes inside.
    Frame,
    /// The shape itself: ink goes outside.
    Plug,
    /// What lies in a hole of the shape.
    Counter,
}

/// A piece of sheet.
#[derive(Clone, Debug, PartialEq)]
pub struct Piece {
    /// What it is for.
    pub part: Part,
    /// What of the sheet it is.
    pub region: Region,
}

/// The pieces of a shape cut from a sheet.
pub fn pieces(inside: &Region, cut: Cut, sheet: &Region) -> Vec<Piece> {
    let plug = inside.grown(cut.outside());
    let frame = sheet.minus(&inside.filled());
    // The counters belong to the plug where it is let in or out, so that they lie in its holes.
    let counters = plug.filled().minus(&plug);
    let pieces =
        |part: Part, of: Region| -> Vec<Piece> { of.parts().map(|region| Piece { part, region }).collect() };
    [(Part::Frame, frame), (Part::Plug, plug), (Part::Counter, counters)]
        .into_iter()
        .flat_map(|(part, of)| pieces(part, of))
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shape::family::{Drawn, FAMILIES};
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn cut_on_the_line_the_pieces_are_the_sheet(nth in 0..FAMILIES.len()) {
            let inside = Drawn::usual(&FAMILIES[nth]).outline().unwrap().region();
            let sheet = Region::rect(-150.0, -150.0, 300.0, 300.0);
            let pieces = pieces(&inside, Cut::OnTheLine, &sheet);
            let sum: f64 = pieces.iter().map(|piece| piece.region.area()).sum();
            // A ten-thousandth, as it is told; what is thrown away by rounding is far less.
            prop_assert!((sum / sheet.area() - 1.0).abs() < 1e-4, "{} {sum}", FAMILIES[nth].key);
            for (n, one) in pieces.iter().enumerate() {
                for other in &pieces[n + 1..] {
                    prop_assert!(one.region.intersected(&other.region).area() < 1e-2);
                }
            }
        }
    }

    #[test]
    fn a_halo_is_as_wide_as_it_is_to_be() {
        let disc =
            crate::shape::family::find("circle").map(Drawn::usual).unwrap().outline().unwrap().region();
        let sheet = Region::rect(-60.0, -60.0, 120.0, 120.0);
        let plug = |cut| {
            let pieces = pieces(&disc, cut, &sheet);
            pieces.into_iter().find(|piece| piece.part == Part::Plug).unwrap().region.area()
        };
        let radius = |area: f64| (area / std::f64::consts::PI).sqrt();
        let by = Length::from_64ths(2);
        for (cut, meant) in [(Cut::Inside(by), -by.mm()), (Cut::Halo(by), by.mm()), (Cut::OnTheLine, 0.0)] {
            assert!((radius(plug(cut)) - 25.4 - meant).abs() < 0.03, "{cut:?}");
        }
        assert!(!Cut::Halo(Length::from_inches(1)).is_possible() && !Cut::Inside(Length::ZERO).is_possible());
    }
}
