//! What is one move, and how much film does it leave where?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::blend::{Direction, Reach};
use crate::length::{Length, Units};

/// Why a move is made.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "lowercase")]
pub enum Purpose {
    /// The first time this ink is laid.
    Lay,
    /// Back with the ink before over the place where it meets the one just laid.
    Back,
    /// Once more, to deepen.
    Deepen,
}

/// One ink taken up and laid: one or more veils, each over its own reach.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Move {
    /// The ink, by its place in the panel's list, from 0.
    pub ink: usize,
    /// Why it is laid now.
    pub purpose: Purpose,
    /// Which round it belongs to, from 1.
    pub round: u8,
    /// One reach for each light pass, in measures from where the blend begins.
    pub veils: Vec<Reach>,
}

impl Move {
    /// The stretch it touches.
    pub fn extent(&self) -> Reach {
        let from = self.veils.iter().map(|veil| veil.from).min().unwrap_or_default();
        let to = self.veils.iter().map(|veil| veil.to).max().unwrap_or_default();
        Reach { from, to }
    }

    /// Veils it leaves at a place, in millimetres along the blend: its reaches smeared by the tool's
    /// footprint. A reach that ends at the panel's edge runs on past it, since strokes start off the card.
    pub fn veils_at(&self, place: f64, footprint: f64, span: Length) -> f64 {
        let edge = |at: Length| match at {
            Length::ZERO => 0.0,
            at if at == span => 1.0,
            at => smeared((at.mm() - place) / footprint),
        };
        self.veils
            .iter()
            .map(|veil| if veil.to == span { 1.0 } else { edge(veil.to) } - edge(veil.from))
            .sum()
    }

    /// Where it goes, as a maker measures it: from the nearer edge it touches.
    pub fn place(&self, direction: Direction, span: Length, units: Units) -> String {
        let Reach { from, to } = self.extent();
        let shown = |length: Length| length.shown(units).to_string();
        let range = |a: Length, b: Length| {
            if a == b { shown(a) } else { format!("{} to {}", a.shown(units).number(), shown(b)) }
        };
        let innermost_from = self.veils.iter().map(|veil| veil.from).max().unwrap_or_default();
        let innermost_to = self.veils.iter().map(|veil| veil.to).min().unwrap_or_default();
        let both = if direction.is_diagonal() { ", marked along both edges" } else { "" };
        match (from == Length::ZERO, to == span) {
            (true, true) => "over the whole panel, on and off past the edges".into(),
            (true, false) => format!(
                "start off the {}, fade out {} from it{both}",
                direction.from(),
                range(innermost_to, to)
            ),
            (false, true) => format!(
                "start off the {}, fade out {} from it{both}",
                direction.to(),
                range(span - innermost_from, span - from)
            ),
            (false, false) => format!(
                "between {} and {} from the {}, fading out both ways{both}",
                shown(from),
                shown(to),
                direction.from()
            ),
        }
    }
}

/// So many light passes, in words.
pub fn light_passes(n: usize) -> String {
    if n == 1 { "1 light pass".into() } else { format!("{n} light passes") }
}

/// Share of a soft round footprint that lies before an edge `distance` footprints ahead of its centre:
/// the running sum of a raised cosine.
fn smeared(distance: f64) -> f64 {
    use std::f64::consts::PI;
    let d = distance.clamp(-1.0, 1.0);
    0.5 + 0.5 * d + (PI * d).sin() / (2.0 * PI)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn inches(n: i64) -> Length {
        Length::from_inches(n)
    }

    proptest! {
        #[test]
        fn smearing_moves_ink_but_neither_makes_nor_loses_any(from in 8_i64..24, wide in 1_i64..24) {
            let (from, to) = (Length::from_64ths(from * 8), Length::from_64ths((from + wide) * 8));
            let span = inches(12);
            let veil = Move { ink: 0, purpose: Purpose::Lay, round: 1, veils: vec![Reach { from, to }] };
            let step = 0.05;
            let laid: f64 = (0..(span.mm() / step) as usize)
                .map(|n| veil.veils_at((n as f64 + 0.5) * step, 9.0, span) * step)
                .sum();
            prop_assert!((laid - (to - from).mm()).abs() < 0.01);
        }
    }

    #[test]
    fn strokes_start_off_the_card() {
        let span = inches(5);
        let all = Move {
            ink: 0,
            purpose: Purpose::Lay,
            round: 1,
            veils: vec![Reach { from: Length::ZERO, to: span }],
        };
        for place in [0.0, 1.0, 60.0, span.mm()] {
            assert!((all.veils_at(place, 9.0, span) - 1.0).abs() < 1e-12);
        }
    }

    #[test]
    fn measures_are_taken_from_the_edge_the_ink_starts_at() {
        let span = inches(5);
        let at = |from, to| Move {
            ink: 0,
            purpose: Purpose::Lay,
            round: 1,
            veils: vec![Reach { from: inches(from), to: inches(to) }],
        };
        let place = |from, to| at(from, to).place(Direction::Down, span, Units::Inches);
        assert_eq!(place(0, 2), "start off the top edge, fade out 2 in from it");
        assert_eq!(place(3, 5), "start off the bottom edge, fade out 2 in from it");
        assert_eq!(place(1, 4), "between 1 in and 4 in from the top edge, fading out both ways");
    }
}
