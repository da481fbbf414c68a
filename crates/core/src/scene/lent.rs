//! Which stencil does a panel have to lift colour with, or to scrape paste through?
//!
//! One that is inked already will do; where there is none, a pattern of waves over the whole card is lent for it, which is
//! nothing by itself and lets all behind it be seen.

use std::collections::BTreeMap;

use super::whole::Scene;
use crate::ink::Name;
use crate::length::Length;
use crate::place::Point;
use crate::shape::family::Value;
use crate::shape::kept::Figure;
use crate::shape::{Drawn, Shape, Use};
use crate::thing::{Thing, Treatment};

/// From one row of waves to the next, from crest to crest, and how thick a wave is, in 64ths of an inch (chosen: as broad as
/// a blade scrapes well).
const ROW: i64 = 30;
const CREST: i64 = 56;
const THICK: i64 = 9;
/// Sides that waves are drawn with at least.
const LEAST: Length = Length::from_64ths(16);

impl Scene {
    /// The foremost thing whose stencil can be used over all that stands there, by its place.
    pub fn stencil(&self) -> Option<usize> {
        let is_one = |thing: &Thing| {
            thing.between.is_none()
                && (thing.lends() || (thing.shape.used == Use::Stencil && thing.is_inked()))
        };
        // What stands in front of a stencil would be gone over.
        let is_open = |place: &usize| self.things[..*place].iter().all(Thing::is_printed);
        self.things.iter().position(is_one).filter(is_open)
    }
}

impl Thing {
    /// A pattern of waves over a whole card of this size, that only lends its stencil.
    pub fn lent((width, height): (Length, Length), name: Name) -> Thing {
        let sixty_fourths = |n: i64| Value::Length(Length::from_64ths(n));
        let rows = (height.mm() / Length::from_64ths(ROW).mm()).round().clamp(1.0, 40.0) as i64;
        let measures = [
            ("wide", Value::Length(width.max(LEAST))),
            ("high", Value::Length(height.max(LEAST))),
            ("rows", Value::Number(rows as u32)),
            ("wave", sixty_fourths(CREST)),
            ("thick", sixty_fourths(THICK)),
        ];
        let measures: BTreeMap<String, Value> =
            measures.into_iter().map(|(key, value)| (key.to_owned(), value)).collect();
        let drawn = Drawn { family: "waves".into(), measures, letters: String::new() };
        let shape = Shape { used: Use::Stencil, ..Shape::new(name, Figure::Drawn(drawn)) };
        // Half an odd side falls between the marks.
        let half = |side: Length| {
            let is_inches = side.div_rem(Length::from_64ths(1)).1 == Length::ZERO;
            Length::nearest(
                0.5 * side.mm(),
                if is_inches { Length::from_64ths(1) } else { Length::from_tenths_mm(1) },
            )
        };
        let at = Point { left: half(width), top: half(height) };
        Thing { gets: Treatment::White, over: true, ..Thing::new(shape, at) }
    }
}
