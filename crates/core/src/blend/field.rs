//! How many veils of an ink lie where?
//!
//! A [`Field`] is a hill along the blend: it rises, stays full, falls away. Makers lay whole veils, so the
//! hill is cut into whole veils per zone, and each veil becomes one [`Reach`]: the stretch it covers.
//!
//! ```
//! use rosy_core::blend::{Field, field::zones};
//! use rosy_core::Length;
//!
//! let inch = Length::from_inches;
//! let field = Field { veils: 4, starts: inch(0), full_from: inch(0), full_to: inch(1), ends: inch(3) };
//! let edges = zones(inch(5), Length::from_64ths(16));
//! let reaches = field.reaches(&edges);
//! assert_eq!(reaches.len(), 4); // one for each veil, each inside the one before
//! assert!(reaches.windows(2).all(|r| r[1].to <= r[0].to));
//! ```

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::direction::Direction;
use crate::ink::Ink;
use crate::ink::drawer::MOST_VEILS;
use crate::length::{Length, Units};

/// Fewest and most inks in one blend.
pub const INKS: std::ops::RangeInclusive<usize> = 2..=5;

/// A hill of one ink along the blend, in measures from the edge or corner where the blend begins.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Field {
    /// Light passes where it is full, 1 to 24.
    pub veils: u8,
    /// Where the ink first shows.
    pub starts: Length,
    /// From where it is full.
    pub full_from: Length,
    /// To where it is full.
    pub full_to: Length,
    /// Where it has faded out.
    pub ends: Length,
}

/// A stretch along the blend.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Reach {
    /// Nearer the start of the blend.
    pub from: Length,
    /// Further along.
    pub to: Length,
}

/// Where the inks lie: one field for each ink of the panel, in the order they stand along the blend.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Blend {
    /// Which way the bands follow one another.
    #[serde(default)]
    pub direction: Direction,
    /// Width of a zone of whole veils, 1/4 in or more.
    pub zone: Length,
    /// One hill for each ink.
    pub fields: Vec<Field>,
}

/// Why the fields cannot be laid, and what to change.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum FieldError {
    /// Not as many fields as inks.
    #[error("{inks} inks but {fields} fields: each ink needs one field")]
    Count {
        /// Inks chosen.
        inks: usize,
        /// Fields given.
        fields: usize,
    },
    /// The four measures do not follow one another.
    #[error("ink {0}: the measures must follow one another: starts, full from, full to, ends")]
    Order(usize),
    /// Part of the field lies outside the panel.
    #[error("ink {ink}: the field must lie on the panel, between 0 and {span}")]
    Outside {
        /// Its place, counted from 1.
        ink: usize,
        /// Length of the blend.
        span: Length,
    },
    /// None or too many veils.
    #[error("ink {ink}: {veils} light passes: give a number from 1 to {MOST_VEILS}")]
    Veils {
        /// Its place, counted from 1.
        ink: usize,
        /// What was given.
        veils: u8,
    },
    /// Zones finer than a brush can keep.
    #[error("zones of {0} are finer than a brush can keep: make them 1/4 in (6.35 mm) to 2 in")]
    Zone(Length),
}

impl Field {
    /// Share of its full veils at a place: a smooth hill of cosine slopes.
    pub fn profile(&self, place: f64) -> f64 {
        let slope =
            |foot: f64, top: f64| 0.5 - 0.5 * (std::f64::consts::PI * (place - foot) / (top - foot)).cos();
        let [starts, full_from, full_to, ends] =
            [self.starts, self.full_from, self.full_to, self.ends].map(Length::mm);
        if (full_from..=full_to).contains(&place) {
            1.0
        } else if place > starts && place < full_from {
            slope(starts, full_from)
        } else if place > full_to && place < ends {
            slope(ends, full_to)
        } else {
            0.0
        }
    }

    /// The same hill with each of its measures changed.
    #[must_use]
    pub fn map(self, with: impl Fn(Length) -> Length) -> Field {
        Field {
            veils: self.veils,
            starts: with(self.starts),
            full_from: with(self.full_from),
            full_to: with(self.full_to),
            ends: with(self.ends),
        }
    }

    /// The stretch of each veil, the widest first: where the hill, rounded in each zone, is at least as
    /// high. A hill too narrow for its last veils has fewer.
    pub fn reaches(&self, edges: &[Length]) -> Vec<Reach> {
        let heights: Vec<u8> = edges
            .windows(2)
            .map(|zone| {
                let middle = 0.5 * (zone[0].mm() + zone[1].mm());
                (f64::from(self.veils) * self.profile(middle)).round() as u8
            })
            .collect();
        (1..=self.veils)
            .filter_map(|veil| {
                let first = heights.iter().position(|&h| h >= veil)?;
                let last = heights.iter().rposition(|&h| h >= veil)?;
                Some(Reach { from: edges[first], to: edges[last + 1] })
            })
            .collect()
    }
}

/// The edges of the zones along a blend; what is left over at the far end widens the last zone.
pub fn zones(span: Length, zone: Length) -> Vec<Length> {
    let (whole, _) = span.div_rem(zone);
    let mut edges: Vec<Length> = (0..whole.max(1)).map(|n| zone * n).collect();
    edges.push(span);
    edges
}

impl Blend {
    /// A first plan: the inks in equal shares, each running a good third into the next.
    pub fn spread(inks: &[Ink], direction: Direction, span: Length, units: Units) -> Blend {
        let (zone, mark) = match units {
            Units::Inches => (Length::from_64ths(16), Length::from_64ths(8)),
            Units::Millimetres => (Length::from_tenths_mm(70), Length::from_tenths_mm(10)),
        };
        let count = inks.len() as i64;
        // Boundaries lie at whole shares; a fade reaches 5/12 of a share to either side of one.
        let at =
            |twelfths: i64| span.scaled(mark * twelfths, mark * (12 * count), mark).clamp(Length::ZERO, span);
        let fields = inks
            .iter()
            .zip(0_i64..)
            .map(|(ink, place)| {
                let (first, last) = (place == 0, place == count - 1);
                Field {
                    veils: ink.full_veils.min(7),
                    starts: if first { Length::ZERO } else { at(12 * place - 5) },
                    full_from: if first { Length::ZERO } else { at(12 * place + 5) },
                    full_to: if last { span } else { at(12 * place + 7) },
                    ends: if last { span } else { at(12 * place + 17) },
                }
            })
            .collect();
        Blend { direction, zone, fields }
    }

    /// Refuses fields that cannot be laid on a panel of this span.
    ///
    /// # Errors
    /// A [`FieldError`] naming the ink by its place.
    pub fn check(&self, inks: usize, span: Length) -> Result<(), FieldError> {
        if self.fields.len() != inks {
            return Err(FieldError::Count { inks, fields: self.fields.len() });
        }
        if !(Length::from_64ths(16)..=Length::from_inches(2)).contains(&self.zone) {
            return Err(FieldError::Zone(self.zone));
        }
        for (field, ink) in self.fields.iter().zip(1..) {
            let measures = [field.starts, field.full_from, field.full_to, field.ends];
            if !measures.is_sorted() {
                return Err(FieldError::Order(ink));
            }
            if field.starts < Length::ZERO || field.ends > span || field.starts == field.ends {
                return Err(FieldError::Outside { ink, span });
            }
            if !(1..=MOST_VEILS).contains(&field.veils) {
                return Err(FieldError::Veils { ink, veils: field.veils });
            }
        }
        Ok(())
    }

    /// The same blend on a panel of another span: every measure keeps its share.
    #[must_use]
    pub fn carried_to(&self, old: Length, new: Length, units: Units) -> Blend {
        if old == new {
            return self.clone();
        }
        let mark = units.pencil();
        let carry = |at: Length| {
            if at == old { new } else { at.scaled(new, old, mark).clamp(Length::ZERO, new) }
        };
        let fields = self.fields.iter().map(|field| field.map(carry));
        Blend { fields: fields.collect(), ..self.clone() }
    }

    /// The same blend with room for one ink more at its far end: the others keep their shares of what is left to them.
    #[must_use]
    pub fn with_room(&self, span: Length, units: Units) -> Blend {
        let mark = units.pencil();
        let count = self.fields.len() as i64;
        let squeezed = |at: Length| at.scaled(mark * count, mark * (count + 1), mark);
        let mut fields: Vec<Field> = self.fields.iter().map(|field| field.map(squeezed)).collect();
        // As `spread` has it: a fade reaches 5/12 of a share to either side of the boundary.
        let at = |twelfths: i64| span.scaled(mark * (12 * count + twelfths), mark * (12 * (count + 1)), mark);
        if let Some(last) = fields.last_mut() {
            last.full_to = at(-5).max(last.full_from);
            last.ends = at(5).max(last.full_to + mark);
        }
        let (starts, full_from) = if count == 0 { (Length::ZERO, Length::ZERO) } else { (at(-5), at(5)) };
        fields.push(Field { veils: 1, starts, full_from, full_to: span, ends: span });
        Blend { fields, ..self.clone() }
    }

    /// The same blend with one ink taken out: those beside it move on until they meet in its middle.
    #[must_use]
    pub fn without(&self, ink: usize, span: Length, units: Units) -> Blend {
        let mark = units.pencil();
        let mut fields = self.fields.clone();
        if ink >= fields.len() {
            return self.clone();
        }
        let gone = fields.remove(ink);
        let middle = |one: Length, other: Length| Length::nearest(0.5 * (one.mm() + other.mm()), mark);
        let before = ink.checked_sub(1);
        match (before, fields.get(ink).copied()) {
            (Some(before), Some(after)) => {
                let (one, other) =
                    (middle(fields[before].ends, gone.starts), middle(gone.ends, after.starts));
                let meet = middle(one, other);
                fields[before].full_to += meet - one;
                fields[before].ends += meet - one;
                fields[ink].starts -= other - meet;
                fields[ink].full_from -= other - meet;
            }
            (Some(before), None) => (fields[before].full_to, fields[before].ends) = (span, span),
            (None, Some(_)) => (fields[0].starts, fields[0].full_from) = (Length::ZERO, Length::ZERO),
            (None, None) => {}
        }
        // Bands set far over one another may have nowhere to move on to.
        for field in &mut fields {
            field.starts = field.starts.clamp(Length::ZERO, span - mark);
            field.full_from = field.full_from.clamp(field.starts, span);
            field.full_to = field.full_to.clamp(field.full_from, span);
            field.ends = field.ends.clamp(field.full_to.max(field.starts + mark), span);
        }
        Blend { fields, ..self.clone() }
    }

    /// The stretch between where one ink begins and the one before it ends; none where they do not meet.
    pub fn overlap(&self, junction: usize) -> Option<Reach> {
        let (one, other) = (self.fields.get(junction)?, self.fields.get(junction + 1)?);
        let reach = Reach { from: other.starts.max(one.starts), to: one.ends.min(other.ends) };
        (reach.from < reach.to).then_some(reach)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn a_hill_is_whole_veils_one_inside_the_other(
            mut at in proptest::array::uniform4(0_i64..80), veils in 1_u8..12,
        ) {
            at.sort_unstable();
            let [starts, full_from, full_to, ends] = at.map(|n| Length::from_64ths(n * 4));
            let field = Field { veils, starts, full_from, full_to, ends };
            let edges = zones(Length::from_inches(5), Length::from_64ths(16));
            let reaches = field.reaches(&edges);
            prop_assert!(reaches.len() <= usize::from(veils));
            for pair in reaches.windows(2) {
                prop_assert!(pair[0].from <= pair[1].from && pair[1].to <= pair[0].to);
            }
        }

        #[test]
        fn inks_come_and_go_and_the_rest_can_be_laid(
            count in 1_usize..5, span in 128_i64..640, gone in 0_usize..5, metric in proptest::bool::ANY,
            moves in proptest::collection::vec((0_usize..5, 0_usize..4, -24_i64..24), 0..6),
        ) {
            let units = if metric { Units::Millimetres } else { Units::Inches };
            let span = Length::from_64ths(span);
            let ink = Ink {
                name: "Cockle".parse().unwrap(),
                kind: crate::ink::Kind::Dye,
                colour: crate::colour::Colour::Lab([57.0, 56.0, -4.0].into()),
                one_veil: None,
                full_veils: 7,
            };
            let mut blend = Blend::spread(&vec![ink; count], Direction::Down, span, units);
            // Set by hand, as far as it can be laid.
            for (of, which, by) in moves {
                let mut tried = blend.clone();
                if let Some(field) = tried.fields.get_mut(of) {
                    let by = units.pencil() * by;
                    match which {
                        0 => field.starts += by,
                        1 => field.full_from += by,
                        2 => field.full_to += by,
                        _ => field.ends += by,
                    }
                }
                if tried.check(count, span).is_ok() {
                    blend = tried;
                }
            }
            let more = blend.with_room(span, units);
            prop_assert_eq!(more.check(count + 1, span), Ok(()));
            if gone < count {
                prop_assert_eq!(blend.without(gone, span, units).check(count - 1, span), Ok(()));
            }
        }

        #[test]
        fn zones_tile_the_blend(span in 64_i64..640, zone in 16_i64..128) {
            let (span, zone) = (Length::from_64ths(span), Length::from_64ths(zone));
            let edges = zones(span, zone);
            prop_assert_eq!((edges[0], *edges.last().unwrap()), (Length::ZERO, span));
            prop_assert!(edges.windows(2).all(|z| z[1] - z[0] >= zone.min(span) && z[1] - z[0] < zone * 2));
        }
    }
}
