//! What does it go into?
//!
//! An envelope is two sheets joined at the edges: inside, its way round is twice its width. A card goes in
//! where its own way round, over its steps and down its sides, is no longer than that. So a raised panel that
//! stands back from the card's edge takes less room than one that reaches it. The way round is the outline
//! of the card's cross-section drawn tight (its convex hull).

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::edges::{Axis, Place, size};
use crate::ink::Name;
use crate::length::{Length, Units};

/// Room to slide in, on the whole way round, in millimetres (chosen).
const EASE_MM: f64 = 1.0;

/// An envelope.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Envelope {
    /// What it is called.
    pub name: Name,
    /// From left to right.
    pub width: Length,
    /// From top to bottom.
    pub height: Length,
}

/// Why something is no envelope.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("the {side} of the envelope is {length}: give 1 in (25.4 mm) to 16 in (406.4 mm)")]
pub struct EnvelopeError {
    /// `width` or `height`.
    pub side: &'static str,
    /// What was given.
    pub length: Length,
}

impl Envelope {
    /// The envelopes that are usual.
    pub fn usual() -> Vec<Envelope> {
        serde_json::from_str(include_str!("envelopes.json")).expect("envelopes that are envelopes")
    }

    /// Refuses what is no envelope.
    ///
    /// # Errors
    /// An [`EnvelopeError`] with the remedy.
    pub fn check(&self) -> Result<(), EnvelopeError> {
        for (side, length) in [("width", self.width), ("height", self.height)] {
            if !(Length::from_inches(1)..=Length::from_inches(16)).contains(&length) {
                return Err(EnvelopeError { side, length });
            }
        }
        Ok(())
    }
}

/// A closed card's outline: one step for the base, and one for each layer that stands on it.
#[derive(Clone, Debug, PartialEq)]
pub struct Outline {
    /// Places on the base with the height of their top above the desk, the base first.
    pub steps: Vec<(Place, Length)>,
}

impl Outline {
    /// The way round along an axis, in millimetres.
    pub fn way_round(&self, axis: Axis) -> f64 {
        let mut points: Vec<(f64, f64)> = Vec::new();
        for (place, top) in &self.steps {
            let (from, long) = place.along(axis);
            points.push((from.mm(), top.mm()));
            points.push(((from + long).mm(), top.mm()));
            // The base stands on the desk.
            if points.len() == 2 {
                points.extend([(from.mm(), 0.0), ((from + long).mm(), 0.0)]);
            }
        }
        perimeter(points)
    }

    /// The smallest envelope it slides into, to the maker's pencil mark.
    pub fn smallest(&self, units: Units) -> (Length, Length) {
        let side = |axis| Length::at_least_mm((self.way_round(axis) + EASE_MM) / 2.0).up_to(units.pencil());
        (side(Axis::Across), side(Axis::Down))
    }

    /// Whether it slides into an envelope, as it lies or turned.
    pub fn goes_into(&self, envelope: &Envelope) -> bool {
        let (across, down) = (self.way_round(Axis::Across), self.way_round(Axis::Down));
        let holds = |width: Length, height: Length| {
            across + EASE_MM <= 2.0 * width.mm() && down + EASE_MM <= 2.0 * height.mm()
        };
        holds(envelope.width, envelope.height) || holds(envelope.height, envelope.width)
    }
}

/// Length of the convex hull's outline (Andrew's monotone chain).
fn perimeter(mut points: Vec<(f64, f64)>) -> f64 {
    points.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.total_cmp(&b.1)));
    let turns_right = |a: (f64, f64), b: (f64, f64), c: (f64, f64)| {
        (b.0 - a.0) * (c.1 - a.1) - (b.1 - a.1) * (c.0 - a.0) <= 0.0
    };
    let half = |points: &mut dyn Iterator<Item = (f64, f64)>| {
        let mut hull: Vec<(f64, f64)> = Vec::new();
        for point in points {
            while hull.len() > 1 && turns_right(hull[hull.len() - 2], hull[hull.len() - 1], point) {
                hull.pop();
            }
            hull.push(point);
        }
        hull.windows(2).map(|pair| (pair[1].0 - pair[0].0).hypot(pair[1].1 - pair[0].1)).sum::<f64>()
    };
    half(&mut points.iter().copied()) + half(&mut points.iter().rev().copied())
}

/// Which envelope a card goes into.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Posted {
    /// The smallest of those there are that it slides into.
    pub envelope: Option<Envelope>,
    /// The smallest there could be: from left to right.
    pub least_width: Length,
    /// The smallest there could be: from top to bottom.
    pub least_height: Length,
    /// That in a sentence.
    pub says: String,
}

impl Posted {
    /// Finds the smallest envelope of those there are.
    pub fn of(outline: &Outline, envelopes: &[Envelope], units: Units) -> Posted {
        let (least_width, least_height) = outline.smallest(units);
        let area = |envelope: &&Envelope| envelope.width.times(envelope.height);
        let envelope =
            envelopes.iter().filter(|envelope| outline.goes_into(envelope)).min_by_key(area).cloned();
        let least = size(least_width, least_height, units);
        let says = match &envelope {
            Some(found) => format!(
                "It goes into an envelope of {} ({}). {least} is the least it needs.",
                size(found.width, found.height, units),
                found.name
            ),
            None => format!("None of the envelopes here takes it: it needs one of {least} or larger."),
        };
        Posted { envelope, least_width, least_height, says }
    }
}
