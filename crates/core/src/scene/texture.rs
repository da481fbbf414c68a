//! How is a raised pattern skimmed?
//!
//! Beneath it lies a light blend. What stands up is skimmed in the darker set, ink for ink and the same way along the card,
//! but shifted a little, so that a darker hue stands over a lighter one.

use crate::blend::Blend;
use crate::length::{Length, Units};
use crate::place::Point;
use crate::shape::family::{Family, Value, find};
use crate::shape::kept::Figure;
use crate::shape::{Shape, Use};
use crate::thing::{Thing, Treatment};

/// How far the darker set is shifted, as a share of the blend (chosen: a little).
const SHIFT: (i64, i64) = (1, 8);
/// Light passes of a flat brush that skims (chosen: two or three, for it only touches what stands up).
const PASSES: u8 = 3;
/// How far past the edges of a panel a folder's pattern goes on, each way.
const PAST: Length = Length::from_64ths(32);

impl Thing {
    /// The same thing, where it is a pattern that goes on and on, as large as a folder presses it: over all of a panel. Others stay
    /// as large as they are.
    #[must_use]
    pub fn all_over(&self, panel: (Length, Length), units: Units) -> Thing {
        let Figure::Drawn(drawn) = &self.shape.figure else { return self.clone() };
        if !find(&drawn.family).is_ok_and(Family::goes_on) {
            return self.clone();
        }
        // Turned, it has to reach from corner to corner.
        let (wide, high) = match self.shape.turn {
            0 | 180 => panel,
            90 | 270 => (panel.1, panel.0),
            _ => (panel.0 + panel.1, panel.0 + panel.1),
        };
        let mut drawn = drawn.clone();
        let whole = i64::from(self.shape.percent);
        for (key, side) in [("wide", wide), ("high", high)] {
            let mark = units.pencil();
            let side = (side + PAST * 2).scaled(mark * 100, mark * whole, mark);
            drawn.measures.insert(key.into(), Value::Length(side));
        }
        let shape = Shape { figure: Figure::Drawn(drawn), ..self.shape.clone() };
        let at = Point { left: panel.0 / 2, top: panel.1 / 2 };
        if shape.check().is_ok() { Thing { shape, at, ..self.clone() } } else { self.clone() }
    }

    /// The same thing raised, and skimmed as a blend of the ground runs: for each ink of that the darker one, by its place
    /// among the panel's. Inks that have no darker one are left out, and their neighbours go on to where they would meet.
    /// Nothing where none has one, or where the blend does not run on the thing.
    #[must_use]
    pub fn skimmed(
        &self,
        ground: &Blend,
        darker: &[Option<usize>],
        panel: (Length, Length),
        units: Units,
    ) -> Option<Thing> {
        let outline = self.shape.outline().ok()?;
        let size = self.extent(&outline).size;
        let mut blend = ground.on_another(panel, size, units);
        let span = blend.way.span(size);
        for place in (0..blend.fields.len()).rev() {
            match darker.get(place).copied().flatten() {
                Some(ink) => blend.fields[place].ink = ink,
                None => blend = blend.without(place, span, units),
            }
        }
        let by = span.scaled(Length::from_64ths(SHIFT.0), Length::from_64ths(SHIFT.1), units.pencil());
        let last = blend.fields.len().checked_sub(1)?;
        for (place, field) in blend.fields.iter_mut().enumerate() {
            // What begins at the start goes on beginning there; what runs to the end still does.
            let (starts, ends) = (field.starts, field.ends);
            let further = |at: Length| (at + by).min(span);
            *field = field.map(further);
            if place == 0 && starts == Length::ZERO {
                (field.starts, field.full_from) = (Length::ZERO, Length::ZERO);
            }
            if place == last && ends == span {
                (field.full_to, field.ends) = (span, span);
            }
            field.veils = PASSES;
        }
        // What the shift has moved off the far end is not laid.
        blend.fields.retain(|field| field.starts < field.ends);
        if blend.fields.is_empty() {
            return None;
        }
        let shape = Shape { used: Use::Raised, ..self.shape.clone() };
        Some(Thing { shape, over: true, gets: Treatment::Inked(vec![blend]), ..self.clone() })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::blend::{Field, Way};
    use crate::scene::Thing;
    use crate::shape::Drawn;

    fn inch(n: i64) -> Length {
        Length::from_inches(n)
    }

    #[test]
    fn the_darker_set_runs_the_same_way_an_eighth_further_along() {
        let size = (inch(4), inch(8));
        let field = |ink: usize, starts: i64, full_from: i64, full_to: i64, ends: i64| Field {
            ink,
            veils: 3,
            starts: inch(starts),
            full_from: inch(full_from),
            full_to: inch(full_to),
            ends: inch(ends),
        };
        let ground = Blend {
            way: Way::DOWN,
            zone: Length::from_64ths(16),
            fields: vec![field(0, 0, 0, 2, 4), field(1, 2, 4, 8, 8)],
        };
        let thing = Thing::lent(size, "ripples".parse().unwrap());
        let skimmed = thing.skimmed(&ground, &[Some(2), Some(3)], size, Units::Inches).unwrap();
        let [first, second] = skimmed.blends()[0].fields[..] else { panic!("two inks") };
        assert_eq!((first.ink, first.starts, first.full_from), (2, inch(0), inch(0)));
        assert_eq!((first.full_to, first.ends), (inch(3), inch(5)));
        assert_eq!(
            (second.ink, second.starts, second.full_from, second.ends),
            (3, inch(3), inch(5), inch(8))
        );
        assert!(skimmed.check(4, size).is_ok() && skimmed.shape.used == Use::Raised && skimmed.over);
        // With one darker ink alone that takes all of it; with none there is nothing to skim with.
        let one = thing.skimmed(&ground, &[None, Some(3)], size, Units::Inches).unwrap();
        assert_eq!(one.blends()[0].fields.len(), 1);
        assert!(one.check(4, size).is_ok());
        assert!(thing.skimmed(&ground, &[None, None], size, Units::Inches).is_none());
        let star = Shape::new("star".parse().unwrap(), Figure::Drawn(Drawn::usual(find("stars").unwrap())));
        let small = Thing::new(star, Point { left: inch(2), top: inch(2) });
        assert!(
            small.skimmed(&ground, &[Some(2), Some(3)], size, Units::Inches).unwrap().check(4, size).is_ok()
        );
    }
    #[test]
    fn a_pattern_that_goes_on_is_raised_all_over_and_a_sprig_as_it_is() {
        let size = (inch(4), inch(5));
        for (family, turn, goes_on) in [("honeycomb", 0, true), ("brick", 30, true), ("leaf-sprig", 0, false)]
        {
            let name = "pressed".parse().unwrap();
            let shape = Shape::new(name, Figure::Drawn(Drawn::usual(find(family).unwrap())));
            let thing =
                Thing::new(Shape { turn, percent: 80, ..shape }, Point { left: inch(1), top: inch(1) });
            let raised = thing.all_over(size, Units::Inches);
            assert_eq!(raised != thing, goes_on);
            // What is left free at an edge is less than two of its parts.
            let extent = raised.extent(&raised.shape.outline().unwrap());
            let covers = extent.size.0 > inch(3) && extent.size.1 > inch(4);
            assert_eq!(covers, goes_on, "{family} {extent:?}");
            assert_eq!(raised.check(1, size), Ok(()));
        }
    }
}
