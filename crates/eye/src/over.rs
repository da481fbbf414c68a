//! How much of an ink is taken on another, by a patch of it that lies over one?
//!
//! An ink takes less on ink than on bare card. The share that makes its film over the other's look most like the patch is what it takes
//! there; what several patches tell counts by how sure each is, beside what is usual.
//!
//! ```
//! use rosy_core::colour::{Illuminant, Lab, Spectrum};
//! use rosy_core::ink::{Film, Kind, Stack};
//! use rosy_eye::over::{Lies, together};
//!
//! let card = Spectrum::of(Lab { l: 96.0, a: 0.0, b: -2.0 }, Illuminant::D65);
//! let film = |l, a, b| Film::of_swatch(Lab { l, a, b }, &card, Illuminant::D65, Kind::Dye);
//! let (rose, gorse) = (film(58.0, 56.0, -4.0), film(84.0, 4.0, 66.0));
//! let mut stack = Stack::on(&card);
//! stack.lay(0, &gorse, 1.0);
//! stack.lay(1, &rose.clone().with_trapping(0.6), 1.0);
//! let patch = Lies { upper: &rose, amount: 1.0, lower: &gorse, card: &card };
//! let taken = patch.taken(stack.lab(Illuminant::D65), 1.0).unwrap();
//! assert!((taken.share - 0.6).abs() < 0.01);
//! assert!(together(&[taken], 0.8).share < 0.7);
//! ```

use rosy_core::colour::{Illuminant, Lab, Spectrum};
use rosy_core::ink::drawer::ON_INK;
use rosy_core::ink::{Film, Stack};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::swatch::PatchSeen;

const LIGHT: Illuminant = Illuminant::D65;
/// Halvings that find a share.
const HALVINGS: usize = 24;
/// How far inks differ in what other ink takes of them (logarithm, standard deviation; measured prints lie between 0.82 and 0.91 a layer).
const DIFFER: f64 = 0.12;
/// What both films are off by beside the patch itself, as the patch is (chosen: all three were read in one photo).
const FILMS: f64 = 1.4;
/// The length that nine in ten of three normal draws keep within, in their spread on one axis.
const NINE_TENTHS: f64 = 2.5;
/// ΔE00 that a patch has to change by where the ink takes half as well: else it tells nothing.
const TELLS: f64 = 1.0;

/// A patch of one film over another's full swatch.
#[derive(Clone, Copy, Debug)]
pub struct Lies<'a> {
    /// The film that lies above.
    pub upper: &'a Film,
    /// How much of it, in full swatches.
    pub amount: f64,
    /// The film beneath.
    pub lower: &'a Film,
    /// The card.
    pub card: &'a Spectrum,
}

/// How much of an ink is taken on other ink.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Taken {
    /// The share, of what bare card takes.
    pub share: f64,
    /// How far that may be off (logarithm, standard deviation).
    pub unsure: f64,
}

/// What a patch of one ink over another says.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct OverSeen {
    /// The ink above.
    pub ink: String,
    /// The ink beneath.
    pub over: String,
    /// The patch.
    #[serde(flatten)]
    pub patch: PatchSeen,
    /// What was foretold of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub foretold: Option<Lab>,
    /// By how much that was off (ΔE00).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub off: Option<f64>,
    /// How much of the ink the other took: hundredths of what bare card takes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on_ink: Option<u8>,
    /// What is to be said of it.
    pub says: String,
}

impl Lies<'_> {
    /// What it looks like if such a share is taken.
    pub fn with(&self, share: f64) -> Lab {
        let mut stack = Stack::on(self.card);
        stack.lay(0, self.lower, 1.0);
        stack.lay(1, &self.upper.clone().with_trapping(share), self.amount);
        stack.lab(LIGHT)
    }

    /// What it is foretold to look like.
    pub fn foretold(&self) -> Lab {
        self.with(self.upper.trapped(1.0))
    }

    /// The share that makes it look as it was seen, where that is off by so much nine times in ten (ΔE00); nothing where the ink hardly
    /// shows on the other.
    pub fn taken(&self, seen: Lab, within: f64) -> Option<Taken> {
        let [least, most] = [ON_INK.start(), ON_INK.end()].map(|share| f64::from(*share) / 100.0);
        let far = |log: f64| self.with(log.exp()).difference(seen);
        let (mut from, mut to) = (least.ln(), most.ln());
        for _ in 0..HALVINGS {
            let third = (to - from) / 3.0;
            if far(from + third) < far(to - third) { to -= third } else { from += third }
        }
        let log = 0.5 * (from + to);
        let slope = self.with((log + 0.1).exp()).difference(self.with((log - 0.1).exp())) / 0.2;
        let tells = self.with(0.5).difference(self.with(1.0)) >= TELLS;
        tells.then(|| Taken { share: log.exp(), unsure: FILMS * within / NINE_TENTHS / slope.max(1e-6) })
    }
}

/// What several patches tell together, where such a share is usual.
pub fn together(taken: &[Taken], usual: f64) -> Taken {
    let believed = 1.0 / (DIFFER * DIFFER);
    let (mut sum, mut weights) = (believed * usual.ln(), believed);
    for one in taken {
        let weight = 1.0 / one.unsure.max(0.02).powi(2);
        sum += weight * one.share.ln();
        weights += weight;
    }
    Taken { share: (sum / weights).exp(), unsure: (1.0 / weights).sqrt() }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use rosy_core::colour::Colour;
    use rosy_core::ink::measured::{TRAPPING, bright_white};
    use rosy_core::ink::{Ink, Kind};

    fn film(lab: Lab, kind: Kind) -> Film {
        Film::of_swatch(lab, bright_white(), LIGHT, kind)
    }

    fn inky() -> impl Strategy<Value = Lab> {
        (35.0..80.0, 20.0..55.0, 0.0..std::f64::consts::TAU).prop_map(|(l, c, h): (f64, f64, f64)| Lab {
            l,
            a: c * h.cos(),
            b: c * h.sin(),
        })
    }

    proptest! {
        /// Whatever share was taken is the one that is told, or it is said that nothing can be.
        #[test]
        fn what_was_taken_is_told(upper in inky(), lower in inky(), share in 0.35..1.15, oxide: bool) {
            let kind = if oxide { Kind::Oxide } else { Kind::Dye };
            let (upper, lower) = (film(upper, kind), film(lower, Kind::Dye));
            let lies = Lies { upper: &upper, amount: 1.0, lower: &lower, card: bright_white() };
            if let Some(taken) = lies.taken(lies.with(share), 1.0) {
                prop_assert!((taken.share / share).ln().abs() < 0.02, "{} of {share}", taken.share);
            }
        }

        /// More patches are surer, and what they agree on is what is told.
        #[test]
        fn patches_that_agree_outweigh_what_is_usual(share in 0.5..1.0, unsure in 0.05..0.2) {
            let one = Taken { share, unsure };
            let (few, many) = (together(&[one], TRAPPING), together(&[one; 12], TRAPPING));
            prop_assert!(many.unsure < few.unsure);
            prop_assert!((many.share / share).ln().abs() <= (few.share / share).ln().abs() + 1e-12);
            prop_assert_eq!(together(&[], TRAPPING).share, (TRAPPING.ln()).exp());
        }
    }

    #[test]
    fn an_ink_that_other_ink_takes_less_of_shows_less_there_and_as_much_on_bare_card() {
        let ink = |lab: [f64; 3], on_ink| Ink {
            name: "Wind Sock".parse().unwrap(),
            kind: Kind::Dye,
            colour: Colour::Lab(lab.into()),
            one_veil: None,
            full_veils: 7,
            on_ink,
        };
        let under = ink([84.0, 2.0, 60.0], None).film();
        let over = |on_ink, beneath: f64| {
            let mut stack = Stack::on(bright_white());
            stack.lay(0, &under, beneath);
            stack.lay(1, &ink([48.0, 20.0, -40.0], on_ink).film(), 1.0);
            stack.lab(LIGHT)
        };
        for beneath in [0.3, 1.0] {
            assert!(over(Some(50), beneath).l > over(None, beneath).l + 1.0);
            assert_eq!(over(Some(80), beneath), over(None, beneath));
        }
        assert_eq!(over(Some(50), 0.0), over(None, 0.0));
        assert!(
            ink([58.0, 0.0, 0.0], Some(60)).check().is_ok()
                && ink([58.0, 0.0, 0.0], Some(29)).check().is_err()
        );
    }

    #[test]
    fn an_ink_that_hardly_shows_on_another_tells_nothing() {
        let (black, pale) = (
            film(Lab { l: 12.0, a: 0.0, b: 0.0 }, Kind::Dye),
            film(Lab { l: 90.0, a: 2.0, b: 8.0 }, Kind::Dye),
        );
        let lies = Lies { upper: &pale, amount: 1.0, lower: &black, card: bright_white() };
        assert_eq!(lies.taken(lies.with(0.5), 1.0), None);
    }
}
