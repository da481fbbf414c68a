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
//! let field = Field { ink: 0, veils: 4, starts: inch(0), full_from: inch(0), full_to: inch(1), ends: inch(3) };
//! let edges = zones(inch(5), Length::from_64ths(16));
//! let reaches = field.reaches(&edges);
//! assert_eq!(reaches.len(), 4); // one for each veil, each inside the one before
//! assert!(reaches.windows(2).all(|r| r[1].to <= r[0].to));
//! ```

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::way::{Way, WayError};
use crate::ink::Ink;
use crate::ink::drawer::MOST_VEILS;
use crate::length::{Length, Units};

/// Most inks in one blend.
pub const MOST_INKS: usize = 5;

/// A hill of one ink along the blend, in measures from where the blend begins.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Field {
    /// The ink, by its place in the panel's list, from 0.
    pub ink: usize,
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

/// Inks that run into one another along one way: a field for each, in the order they stand along it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Blend {
    /// Which way it runs.
    pub way: Way,
    /// How long one zone is, within which the number of veils is the same.
    pub zone: Length,
    /// The fields, in order along the way.
    pub fields: Vec<Field>,
}

/// Why the fields cannot be laid, and what to change.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum FieldError {
    /// More inks than one blend takes.
    #[error("{0} inks in one blend: a blend takes two to five, so put {more} back", more = .0 - MOST_INKS)]
    Many(usize),
    /// A field of an ink that is not there, or of one that has a field already.
    #[error("ink {0} of the blend: give each field an ink of the panel's own, each once")]
    Ink(usize),
    /// It cannot run that way.
    #[error(transparent)]
    Way(#[from] WayError),
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
            starts: with(self.starts),
            full_from: with(self.full_from),
            full_to: with(self.full_to),
            ends: with(self.ends),
            ..self
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
    /// A first plan: inks, each with its place in the panel's list, in equal shares, each running a good third into the
    /// next.
    pub fn spread(inks: &[(usize, &Ink)], way: Way, span: Length, units: Units) -> Blend {
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
            .map(|((ink, of), place)| {
                let (first, last) = (place == 0, place == count - 1);
                Field {
                    ink: *ink,
                    veils: of.full_veils.min(7),
                    starts: if first { Length::ZERO } else { at(12 * place - 5) },
                    full_from: if first { Length::ZERO } else { at(12 * place + 5) },
                    full_to: if last { span } else { at(12 * place + 7) },
                    ends: if last { span } else { at(12 * place + 17) },
                }
            })
            .collect();
        Blend { way, zone, fields }
    }

    /// The same blend, its last ink running out to nothing from where it has come on in full.
    #[must_use]
    pub fn fading(mut self) -> Blend {
        if let Some(last) = self.fields.last_mut() {
            last.full_to = last.full_from;
        }
        self
    }

    /// Whether its last ink runs out to nothing.
    pub fn is_fading(&self) -> bool {
        self.fields.last().is_some_and(|last| last.full_to < last.ends)
    }

    /// Refuses fields that cannot be laid on a panel of this size that has so many inks.
    ///
    /// # Errors
    /// A [`FieldError`] naming the ink by its place in the blend.
    pub fn check(&self, inks: usize, size: (Length, Length)) -> Result<(), FieldError> {
        self.way.check(size)?;
        let span = self.way.span(size);
        if self.fields.len() > MOST_INKS {
            return Err(FieldError::Many(self.fields.len()));
        }
        let twice = |at: usize| self.fields[..at].iter().any(|other| other.ink == self.fields[at].ink);
        if let Some(at) = (0..self.fields.len()).find(|&at| self.fields[at].ink >= inks || twice(at)) {
            return Err(FieldError::Ink(at + 1));
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

    /// The same blend on something of another size: its way is carried over, and every measure keeps its share.
    #[must_use]
    pub fn on_another(&self, old: (Length, Length), new: (Length, Length), units: Units) -> Blend {
        let way = self.way.carried(old, new, units.pencil());
        Blend { way, ..self.carried_to(self.way.span(old), way.span(new), units) }
    }

    /// The same blend with room for one ink more at its far end: the others keep their shares of what is left to them.
    #[must_use]
    pub fn with_room(&self, ink: usize, span: Length, units: Units) -> Blend {
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
        fields.push(Field { ink, veils: 1, starts, full_from, full_to: span, ends: span });
        Blend { fields, ..self.clone() }
    }

    /// The same blend with one field taken out: those beside it move on until they meet in its middle.
    #[must_use]
    pub fn without(&self, field: usize, span: Length, units: Units) -> Blend {
        let mark = units.pencil();
        let mut fields = self.fields.clone();
        if field >= fields.len() {
            return self.clone();
        }
        let gone = fields.remove(field);
        let middle = |one: Length, other: Length| Length::nearest(0.5 * (one.mm() + other.mm()), mark);
        let before = field.checked_sub(1);
        match (before, fields.get(field).copied()) {
            (Some(before), Some(after)) => {
                let (one, other) =
                    (middle(fields[before].ends, gone.starts), middle(gone.ends, after.starts));
                let meet = middle(one, other);
                fields[before].full_to += meet - one;
                fields[before].ends += meet - one;
                fields[field].starts -= other - meet;
                fields[field].full_from -= other - meet;
            }
            (Some(before), None) => (fields[before].full_to, fields[before].ends) = (span, span),
            (None, Some(_)) => (fields[0].starts, fields[0].full_from) = (Length::ZERO, Length::ZERO),
            (None, None) => {}
        }
        // Bands set far over one another may have nowhere to move on to.
        for hill in &mut fields {
            hill.starts = hill.starts.clamp(Length::ZERO, span - mark);
            hill.full_from = hill.full_from.clamp(hill.starts, span);
            hill.full_to = hill.full_to.clamp(hill.full_from, span);
            hill.ends = hill.ends.clamp(hill.full_to.max(hill.starts + mark), span);
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
            let field = Field { ink: 0, veils, starts, full_from, full_to, ends };
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
                on_ink: None,
            };
            let size = (Length::from_inches(4), span);
            let listed: Vec<(usize, &Ink)> = (0..count).map(|place| (place, &ink)).collect();
            let mut blend = Blend::spread(&listed, Way::DOWN, span, units);
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
                if tried.check(count, size).is_ok() {
                    blend = tried;
                }
            }
            let more = blend.with_room(count, span, units);
            prop_assert_eq!(more.check(count + 1, size), Ok(()));
            if gone < count {
                prop_assert_eq!(blend.without(gone, span, units).check(count, size), Ok(()));
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
