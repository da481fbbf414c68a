//! How much of one laying of ink lies where?
//!
//! A laying is a few veils, each over its own reach along a way. A veil's ends are smeared by the tool's footprint. One that
//! ends at the panel's own edge runs on past it, since strokes start off the card.

use crate::blend::way::Along;
use crate::blend::{Reach, Way};
use crate::length::Length;

/// Ink taken up once and laid: its veils along a way.
#[derive(Clone, Debug)]
pub struct Coat {
    /// The ink, by its place in the panel's list.
    pub ink: usize,
    /// The way it was laid along, by its place among the surface's runs.
    pub run: usize,
    /// Where each veil begins and ends, in millimetres; none where it runs on.
    veils: Vec<(Option<f64>, Option<f64>)>,
    footprint: f64,
    /// What of the guide's veil each of them is: more or less by the hand that lays it, less where the brush was not loaded for it.
    share: f64,
    /// The masks that lay there meanwhile, by their place among the surface's covers.
    pub cover: usize,
    /// How many things had been sealed by then.
    pub sealed: usize,
    /// The raised thing that it was skimmed over, or the stamp that it was printed by: it reaches nothing else.
    pub skims: Option<usize>,
    /// When its laying began, in seconds since the first move.
    pub laid_at: u32,
    /// Seconds that it was laid in.
    pub took: u32,
    /// Whether it is touch dry.
    pub is_dry: bool,
}

impl Coat {
    /// Lays veils with a tool of this footprint radius, in millimetres.
    pub fn laid(ink: usize, run: usize, way: Way, span: Length, veils: &[Reach], footprint: f64) -> Coat {
        let ends = |veil: &Reach| {
            let from = (veil.from > Length::ZERO).then(|| veil.from.mm());
            let to = (veil.to < span || !way.runs_on()).then(|| veil.to.mm());
            (from, to)
        };
        Coat {
            ink,
            run,
            veils: veils.iter().map(ends).collect(),
            footprint,
            share: 1.0,
            cover: 0,
            sealed: 0,
            skims: None,
            laid_at: 0,
            took: 0,
            is_dry: false,
        }
    }

    /// How many veils it is.
    pub fn veils(&self) -> usize {
        self.veils.len()
    }

    /// How many passes it comes to where it is full, each counted by how much of it there is.
    pub fn passes(&self) -> f64 {
        self.share * self.veils.len() as f64
    }

    /// The same with a share of a veil in each.
    pub(super) fn thinned(self, share: f64) -> Coat {
        Coat { share, ..self }
    }

    /// The same among other runs.
    pub(super) fn along_run(self, run: usize) -> Coat {
        Coat { run, ..self }
    }

    /// Veils at a place along its way.
    #[inline]
    pub fn veils_at(&self, along: Along) -> f64 {
        let soft = self.footprint * along.stretch;
        let before =
            |end: Option<f64>, without: f64| end.map_or(without, |end| smeared((end - along.place) / soft));
        let veils: f64 = self.veils.iter().map(|(from, to)| before(*to, 1.0) - before(*from, 0.0)).sum();
        self.share * veils
    }
}

/// Share of a soft round footprint that lies before an edge `distance` footprints ahead of its centre:
/// the running sum of a raised cosine.
#[inline]
fn smeared(distance: f64) -> f64 {
    use std::f64::consts::PI;
    match distance {
        d if d <= -1.0 => 0.0,
        d if d >= 1.0 => 1.0,
        d => 0.5 + 0.5 * d + (PI * d).sin() / (2.0 * PI),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn along(place: f64) -> Along {
        Along { place, stretch: 1.0 }
    }

    proptest! {
        #[test]
        fn smearing_moves_ink_but_neither_makes_nor_loses_any(from in 8_i64..24, wide in 1_i64..24) {
            let (from, to) = (Length::from_64ths(from * 8), Length::from_64ths((from + wide) * 8));
            let span = Length::from_inches(12);
            let coat = Coat::laid(0, 0, Way::DOWN, span, &[Reach { from, to }], 9.0);
            let step = 0.05;
            let laid: f64 = (0..(span.mm() / step) as usize)
                .map(|n| coat.veils_at(along((n as f64 + 0.5) * step)) * step)
                .sum();
            prop_assert!((laid - (to - from).mm()).abs() < 0.01);
        }
    }

    #[test]
    fn strokes_start_off_the_card_and_a_patch_ends_at_its_rim() {
        let span = Length::from_inches(2);
        let all = [Reach { from: Length::ZERO, to: span }];
        let band = Coat::laid(0, 0, Way::DOWN, span, &all, 9.0);
        for place in [0.0, 1.0, 30.0, span.mm()] {
            assert!((band.veils_at(along(place)) - 1.0).abs() < 1e-12);
        }
        let at = crate::place::Point { left: span, top: span };
        let patch = Coat::laid(0, 0, Way::Patch { centre: at, across: span, down: span }, span, &all, 9.0);
        assert_eq!(patch.veils_at(along(0.0)), 1.0);
        assert!((patch.veils_at(along(span.mm())) - 0.5).abs() < 1e-12);
        assert_eq!(patch.veils_at(along(span.mm() + 9.0)), 0.0);
    }
}
