//! How does one rectangle stand in another, and what of it can be worked out?
//!
//! Along each axis the size beneath is the size above and what shows of it at both ends, once for every
//! layer of a run of equal ones: `beneath = above + count × (one end + the other)`. Any one of the four may be left
//! out and is worked out; where only the sum of the two ends is known the rectangle is centred; where all are
//! given and do not agree, the contradiction is named with the figures that would.

use std::fmt;

use schemars::{JsonSchema, Schema, SchemaGenerator, json_schema};
use serde::de::{self, Deserializer, MapAccess, Visitor, value::MapAccessDeserializer};
use serde::{Deserialize, Serialize};

use crate::edges::{Axis, Edges};
use crate::length::{Length, Units};

/// Most layers in a run of equal ones.
pub const MOST_IN_RUN: u32 = 8;

/// What shows of the piece beneath: in JSON one length for all round, or a length for each edge that is known.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(untagged)]
pub enum Reveal {
    /// The same all round.
    Even(Length),
    /// Each edge by itself; what is left out is worked out.
    Each(Known),
}

/// What is known of the four edges.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Known {
    /// At the left edge.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub left: Option<Length>,
    /// At the right edge.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub right: Option<Length>,
    /// At the top edge.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub top: Option<Length>,
    /// At the bottom edge.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bottom: Option<Length>,
}

impl<'de> Deserialize<'de> for Reveal {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Reveal, D::Error> {
        struct Read;
        impl<'de> Visitor<'de> for Read {
            type Value = Reveal;
            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("one length, such as 1/8 in, or a length for each edge")
            }
            fn visit_str<E: de::Error>(self, text: &str) -> Result<Reveal, E> {
                text.parse().map(Reveal::Even).map_err(E::custom)
            }
            fn visit_map<A: MapAccess<'de>>(self, edges: A) -> Result<Reveal, A::Error> {
                Known::deserialize(MapAccessDeserializer::new(edges)).map(Reveal::Each)
            }
        }
        deserializer.deserialize_any(Read)
    }
}

impl Default for Reveal {
    fn default() -> Reveal {
        Reveal::Each(Known::default())
    }
}

impl JsonSchema for Reveal {
    fn schema_name() -> std::borrow::Cow<'static, str> {
        "Reveal".into()
    }
    fn json_schema(generator: &mut SchemaGenerator) -> Schema {
        json_schema!({
            "description": "What shows of the piece beneath: one length for all round, or a length for each edge that is known; what is left out is worked out.",
            "anyOf": [generator.subschema_for::<Length>(), generator.subschema_for::<Known>()]
        })
    }
}

impl Reveal {
    /// The same with every length that is known changed.
    #[must_use]
    pub fn map(self, with: impl Fn(Length) -> Length) -> Reveal {
        match self {
            Reveal::Even(all) => Reveal::Even(with(all)),
            Reveal::Each(Known { left, right, top, bottom }) => {
                let [left, right, top, bottom] = [left, right, top, bottom].map(|edge| edge.map(&with));
                Reveal::Each(Known { left, right, top, bottom })
            }
        }
    }

    /// What is known at each edge.
    pub fn edges(self) -> Edges<Option<Length>> {
        match self {
            Reveal::Even(all) => Edges::all(Some(all)),
            Reveal::Each(Known { left, right, top, bottom }) => Edges { left, right, top, bottom },
        }
    }
}

impl From<Edges<Length>> for Reveal {
    fn from(edges: Edges<Length>) -> Reveal {
        let Edges { left, right, top, bottom } = edges.map(Some);
        Reveal::Each(Known { left, right, top, bottom })
    }
}

/// Along one axis: what is known of the size beneath, the size above, and what shows at each end.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Span {
    /// Size beneath.
    pub beneath: Option<Length>,
    /// Size above.
    pub above: Option<Length>,
    /// What shows at the left or top end.
    pub near: Option<Length>,
    /// What shows at the right or bottom end.
    pub far: Option<Length>,
    /// Equal layers one on the other, each showing as much.
    pub count: Option<u32>,
}

/// Why the figures do not go together. Its text names them as a maker would.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Clash {
    /// The layer.
    pub what: String,
    /// What it lies on.
    pub on: String,
    /// Along which axis.
    pub axis: Axis,
    /// How.
    pub how: How,
    /// How its lengths are read.
    pub units: Units,
}

/// The ways figures clash.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum How {
    /// Size and reveals do not add up to the size beneath.
    Sum {
        /// Size beneath.
        beneath: Length,
        /// Size above.
        above: Length,
        /// What should show at each end.
        ends: (Length, Length),
        /// Times.
        count: u32,
    },
    /// The reveals leave nothing of the size beneath.
    Nothing {
        /// Size beneath.
        beneath: Length,
        /// What should show, both ends and all layers together.
        shows: Length,
    },
    /// It is larger than what it lies on.
    Over {
        /// Size beneath.
        beneath: Length,
        /// Size above.
        above: Length,
    },
    /// No whole number of equal steps leads from one size to the other.
    Count {
        /// Size beneath.
        beneath: Length,
        /// Size above.
        above: Length,
        /// What shows in one step.
        step: Length,
    },
    /// Too little is given.
    Open,
}

impl fmt::Display for Clash {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Clash { what, on, axis, how, units } = self;
        let s = |length: Length| length.shown(*units);
        let size = axis.size();
        let (near, far) = axis.ends();
        match *how {
            How::Sum { beneath, above, ends, count } => {
                let each =
                    |count: u32| if count == 1 { String::new() } else { format!(", {count} times over,") };
                let shows = if ends.0 == ends.1 {
                    format!("{} on both sides", s(ends.0))
                } else {
                    format!("{} {near} and {} {far}", s(ends.0), s(ends.1))
                };
                let both = (ends.0 + ends.1) * i64::from(count);
                write!(
                    f,
                    "a {} {what} cannot show {shows}{} on a {} {on}: {} less {} leaves {} for its {size}",
                    s(above),
                    each(count),
                    s(beneath),
                    s(beneath),
                    s(both),
                    s(beneath - both),
                )?;
                if above <= beneath {
                    let (one, other) = (beneath - above).halved(units.finest() * i64::from(count));
                    let (one, other) = (one / i64::from(count), other / i64::from(count));
                    if one == other {
                        write!(f, "; at {} it shows {} on both", s(above), s(one))?;
                    }
                }
                Ok(())
            }
            How::Nothing { beneath, shows } => write!(
                f,
                "nothing is left of the {what}: {} of reveal is as much as the {} {on} measures across its {size}; show less",
                s(shows),
                s(beneath)
            ),
            How::Over { beneath, above } => write!(
                f,
                "a {} {what} does not fit on a {} {on}: make its {size} {} or less, or the {on} larger",
                s(above),
                s(beneath),
                s(beneath)
            ),
            How::Count { beneath, above, step } => write!(
                f,
                "steps of {} do not lead from {} to {}: give a size or a reveal that a whole number of layers (at most {MOST_IN_RUN}) makes up",
                s(step),
                s(beneath),
                s(above)
            ),
            How::Open => write!(
                f,
                "nothing says how large the {what} is: give its {size}, or what shows of the {on} {near} and {far}"
            ),
        }
    }
}

impl std::error::Error for Clash {}

impl Span {
    /// Works out what can be: one pass. The count, where unknown, is worked out from sizes and ends.
    ///
    /// # Errors
    /// The way its figures clash.
    pub fn worked_out(self) -> Result<Span, How> {
        let Span { beneath, above, near, far, count } = self;
        let ends = near.zip(far);
        if let (Some(beneath), Some(above)) = (beneath, above) {
            let rest = beneath - above;
            if rest < Length::ZERO {
                return Err(How::Over { beneath, above });
            }
            let Some(count) = count else {
                return self.counted(beneath, above, ends);
            };
            return match (near, far) {
                (Some(near), Some(far)) if (near + far) * i64::from(count) != rest => {
                    Err(How::Sum { beneath, above, ends: (near, far), count })
                }
                (Some(one), None) | (None, Some(one)) if one * i64::from(count) > rest => {
                    Err(How::Sum { beneath, above, ends: (one, Length::ZERO), count })
                }
                _ => Ok(self),
            };
        }
        let (Some((near, far)), Some(count)) = (ends, count) else {
            return Ok(self);
        };
        let shows = (near + far) * i64::from(count);
        Ok(match (beneath, above) {
            (Some(beneath), None) if beneath <= shows => return Err(How::Nothing { beneath, shows }),
            (Some(beneath), None) => Span { above: Some(beneath - shows), ..self },
            (None, Some(above)) => Span { beneath: Some(above + shows), ..self },
            _ => self,
        })
    }

    fn counted(self, beneath: Length, above: Length, ends: Option<(Length, Length)>) -> Result<Span, How> {
        let Some((near, far)) = ends else { return Ok(self) };
        let (step, rest) = (near + far, beneath - above);
        if step == Length::ZERO {
            // Nothing shows along this axis: the other one counts.
            return if rest == step { Ok(self) } else { Err(How::Count { beneath, above, step }) };
        }
        match rest.div_rem(step) {
            (n @ 1..=8, Length::ZERO) => Ok(Span { count: Some(n as u32), ..self }),
            _ => Err(How::Count { beneath, above, step }),
        }
    }

    /// What shows at both ends of each layer of the run, the lowest first, once the sizes are known: as
    /// given, or as equal as the marks allow, the lowest layers taking up the rest.
    pub fn shows(self, units: Units) -> Vec<(Length, Length)> {
        let (Some(beneath), Some(above)) = (self.beneath, self.above) else {
            return Vec::new();
        };
        let (rest, count, mark) = (beneath - above, i64::from(self.count.unwrap_or(1)), units.finest());
        let (marks, over) = rest.div_rem(mark);
        let one = |layer: i64| {
            let more = mark * i64::from(layer < marks % count) + if layer == 0 { over } else { Length::ZERO };
            let both = mark * (marks / count) + more;
            match (self.near, self.far) {
                (Some(near), Some(far)) => (near, far),
                (Some(near), None) => (near, both - near),
                (None, Some(far)) => (both - far, far),
                (None, None) => both.halved(mark),
            }
        };
        (0..count).map(one).collect()
    }
}
