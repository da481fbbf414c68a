//! What goes with a thing? Its shadow, a glow round its edge, the same again over it, its parts between tape lines, or its
//! edge stepped down the panel.
//!
//! Each is a thing of its own, so that planner, rules and picture know nothing of it; those that stand round a thing at its
//! own place keep it company when it is moved or made larger.

use crate::blend::{Blend, Field, Way};
use crate::ink::{Ink, Name};
use crate::length::{Length, Units};
use crate::place::Point;
use crate::shape::kept::{Figure, KeptError};
use crate::shape::steps::{StepSeen, StepsError, schedule};
use crate::shape::{Cut, Drawn, Material, Outline, Region, Shape, Use, family};
use crate::thing::{Between, MOST_THINGS, Thing, Treatment};

/// Most parts that tape divides a thing into.
pub const MOST_PARTS: usize = 6;
/// Zones that a glow's light passes lie in (chosen: the fewest that fade).
const GLOW_ZONES: i64 = 2;
/// Light passes of a white glow and of a tint over all (chosen: a soft rim, and a breath of colour).
const GLOW_VEILS: u8 = 4;
const TINT_VEILS: u8 = 1;
/// Light passes along a stepped edge (chosen: it is inked lightly).
const STEP_VEILS: u8 = 3;

/// Why a thing cannot be stepped down a panel.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum SteppedError {
    /// Its shape.
    #[error(transparent)]
    Shape(#[from] KeptError),
    /// The schedule.
    #[error(transparent)]
    Steps(#[from] StepsError),
    /// It leaves nothing open above it.
    #[error("its upper edge is its whole outline: take a cloud edge, a torn edge or a hill line")]
    Closed,
}

/// How far a shadow stands out, to begin with.
pub fn usual_shadow(units: Units) -> Length {
    match units {
        Units::Inches => Length::from_64ths(8),
        Units::Millimetres => Length::from_tenths_mm(30),
    }
}

impl Thing {
    /// Whether another keeps it company: drawn from the same outline at the same place, and larger, taped off or gone over once
    /// more. What only happens to stand there is a stranger.
    pub fn is_company(&self, other: &Thing) -> bool {
        let bare = |thing: &Thing| Shape {
            name: self.shape.name.clone(),
            grown: Length::ZERO,
            used: Use::default(),
            material: Material::default(),
            cut: Cut::default(),
            ..thing.shape.clone()
        };
        let is_other = self.shape.grown != other.shape.grown || self.between != other.between;
        self.at == other.at && bare(self) == bare(other) && (is_other || other.over)
    }

    /// The same thing gone along with another it keeps company, from what that was to what it is.
    #[must_use]
    pub fn gone_along(&self, with: &Thing, units: Units) -> Thing {
        let shape = Shape {
            figure: with.shape.figure.clone(),
            turn: with.shape.turn,
            mirrored: with.shape.mirrored,
            percent: with.shape.percent,
            repeat: with.shape.repeat,
            ..self.shape.clone()
        };
        Thing { at: with.at, ..self.reshaped(shape, units) }
    }

    /// A shape so much larger all round, to stand behind it, kept white.
    #[must_use]
    pub fn shadow(&self, by: Length, name: Name) -> Thing {
        let shape = Shape { name, grown: self.shape.grown + by, cut: Cut::OnTheLine, ..self.shape.clone() };
        Thing::new(shape, self.at)
    }

    /// Ink brushed round it, strong at its edge and gone a little further out, to stand behind it: the ink has the place
    /// given among the panel's.
    #[must_use]
    pub fn glow(&self, ink: usize, name: Name, units: Units) -> Thing {
        let zone = match units {
            Units::Inches => Length::from_64ths(16),
            Units::Millimetres => Length::from_tenths_mm(70),
        };
        let reach = zone * GLOW_ZONES;
        let field = Field {
            ink,
            veils: GLOW_VEILS,
            starts: zone / 2,
            full_from: zone * 3 / 2,
            full_to: reach,
            ends: reach,
        };
        let blend = Blend { way: Way::Rim { reach }, zone, fields: vec![field] };
        Thing { over: true, gets: Treatment::Inked(vec![blend]), ..self.shadow(reach, name) }
    }

    /// The same once more, to be laid over all that stands behind it: through the same stencil put back, and stronger.
    #[must_use]
    pub fn again(&self, name: Name) -> Thing {
        Thing { over: true, shape: Shape { name, ..self.shape.clone() }, ..self.clone() }
    }

    /// So many parts of it, one below the other, with tape over the rest each time. Where it runs from an ink to another,
    /// each part does.
    ///
    /// # Errors
    /// A [`KeptError`] where it cannot be drawn.
    pub fn parts(&self, names: Vec<Name>, units: Units) -> Result<Vec<Thing>, KeptError> {
        let outline = self.shape.outline()?;
        let (long, whole) = (self.whole(&outline).size, names.len() as i64);
        let mark = units.pencil();
        let line = |n: i64| if n == whole { long.1 } else { long.1.scaled(mark * n, mark * whole, mark) };
        let part = |(name, n): (Name, i64)| {
            let mut thing = self.again(name);
            thing.between = Some(Between { upright: false, from: line(n), to: line(n + 1) });
            let (old, new) = (self.extent(&outline).size, thing.extent(&outline).size);
            thing.blends_mut().iter_mut().for_each(|blend| *blend = blend.on_another(old, new, units));
            thing
        };
        Ok(names.into_iter().zip(0..).map(part).collect())
    }

    /// Its upper edge stepped down a panel: what lies above the edge at each step, inked lightly along it, the lowest in
    /// front; and how, in a sentence.
    ///
    /// # Errors
    /// A [`SteppedError`] with the remedy.
    pub fn stepped(
        &self,
        (ink, of): (usize, &Ink),
        names: Vec<Name>,
        panel: (Length, Length),
        units: Units,
    ) -> Result<(Vec<Thing>, String), SteppedError> {
        let outline = wide_enough(&self.shape, panel.0).outline()?;
        let seen = schedule(&outline, panel, names.len(), None, units)?;
        let slide = seen.steps.first().map_or(panel.1, |step| step.down);
        let (open, edge) = above(&outline, 2.0 * slide.mm()).ok_or(SteppedError::Closed)?;
        let figure = Figure::Brought { outline: open.data(), even_odd: true };
        let bare = Shape {
            used: Use::Mask,
            material: self.shape.material,
            ..Shape::new(self.shape.name.clone(), figure)
        };
        let size = Thing::new(bare.clone(), self.at).extent(&bare.outline()?).size;
        let mark = units.pencil();
        let mut blend = Blend::spread(&[(ink, of)], Way::UP, Way::UP.span(size), units);
        let field = &mut blend.fields[0];
        field.veils = STEP_VEILS.min(of.full_veils);
        field.full_to = Length::nearest(edge, mark).clamp(mark, size.1);
        field.ends = (field.full_to + slide.scaled(mark * 2, mark * 3, mark)).min(size.1);
        let step = |(step, name): (&StepSeen, Name)| {
            // The foot of its box is the lowest place of the edge.
            let at = Point {
                left: size.0 / 2 - step.left,
                top: step.down + Length::nearest(edge, mark) - size.1 / 2,
            };
            let gets = Treatment::Inked(vec![blend.clone()]);
            Thing { over: true, gets, ..Thing::new(Shape { name, ..bare.clone() }, at) }
        };
        let mut things: Vec<Thing> = seen.steps.iter().zip(names).map(step).collect();
        things.reverse();
        Ok((things, seen.says))
    }
}

/// A breath of one ink over all of a panel: it needs no mask.
pub fn tint((ink, of): (usize, &Ink), name: Name, panel: (Length, Length), units: Units) -> Thing {
    let mut drawn = family::find("strip").map(Drawn::usual).expect("a family of the house");
    // A little larger than the panel, so that no edge of it shows.
    let past = Length::from_64ths(16);
    for (key, side) in [("wide", panel.0), ("high", panel.1)] {
        drawn.measures.insert(key.into(), family::Value::Length(side + past));
    }
    let shape = Shape { used: Use::Tape, ..Shape::new(name, Figure::Drawn(drawn)) };
    let at = Point { left: panel.0 / 2, top: panel.1 / 2 };
    let mut thing = Thing { over: true, ..Thing::new(shape, at) };
    let size = (panel.0 + past, panel.1 + past);
    let mut blend = Blend::spread(&[(ink, of)], Way::DOWN, Way::DOWN.span(size), units);
    blend.fields[0].veils = TINT_VEILS;
    thing.gets = Treatment::Inked(vec![blend]);
    thing
}

/// How much wider than the panel a piece is made that has to be shifted.
const ROOM: Length = Length::from_64ths(96);

/// A shape drawn by its measures made so wide that it can be shifted on a panel; others stay as they are.
fn wide_enough(shape: &Shape, panel: Length) -> Shape {
    let mut wide = shape.clone();
    let is_narrow = shape.outline().is_ok_and(|outline| outline.size().0 < (panel + ROOM).mm());
    if let (Figure::Drawn(drawn), true) = (&mut wide.figure, is_narrow)
        && let Some(value) = drawn.measures.get_mut("wide")
    {
        *value = family::Value::Length(panel + ROOM);
        wide.percent = 100;
    }
    wide
}

/// What lies above a shape's upper edge, as wide as it and so many millimetres high above its highest place; and how far
/// down the edge comes below that.
fn above(outline: &Outline, high: f64) -> Option<(Outline, f64)> {
    let shape = outline.region();
    let (least, most) = shape.bounds()?;
    let wide = most[0] - least[0];
    // The edge ends where no straight line to the side goes past it: below that it is the piece itself.
    let ends = shape
        .contours()
        .flatten()
        .filter(|[x, _]| *x < least[0] + 1e-3 || *x > most[0] - 1e-3)
        .map(|[_, y]| *y)
        .fold(f64::INFINITY, f64::min);
    let deep = ends - least[1];
    if !(0.0..most[1] - least[1]).contains(&deep) {
        return None;
    }
    let open = Region::rect(least[0], least[1] - high, wide, high + deep).minus(&shape);
    let whole = open.parts().max_by(|a, b| a.area().total_cmp(&b.area()))?;
    Outline::read(&whole.path(), true).ok().map(|outline| (outline, deep))
}

/// Names that no other thing has: one, or so many with numbers after them.
pub fn free_names(things: &[Thing], name: &str, count: usize) -> Option<Vec<Name>> {
    let is_taken = |name: &String| things.iter().any(|thing| thing.shape.name.as_str() == name);
    let own = (count == 1).then(|| name.to_owned());
    let first = if count == 1 { 2 } else { 1 };
    let numbered = (first..first + 2 * MOST_THINGS).map(|n| format!("{name} {n}"));
    let free = own.into_iter().chain(numbered).filter(|name| !is_taken(name)).take(count);
    free.map(|name| name.parse().ok()).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn thing(family: &str) -> Thing {
        let drawn = Drawn::usual(family::find(family).unwrap());
        let shape = Shape::new("Ebb".parse().unwrap(), Figure::Drawn(drawn));
        Thing::new(shape, Point { left: Length::from_inches(2), top: Length::from_inches(3) })
    }

    fn name() -> Name {
        "Shadow".parse().unwrap()
    }

    #[test]
    fn company_goes_along_and_strangers_stay() {
        let heart = thing("heart");
        let shadow = heart.shadow(Length::from_64ths(8), name());
        assert!(heart.is_company(&shadow) && !heart.is_company(&thing("circle")));
        assert!(heart.is_company(&heart.again(name())) && !heart.is_company(&thing("heart")));
        let moved = Thing {
            at: Point { left: Length::from_inches(1), ..heart.at },
            shape: Shape { percent: 150, turn: 30, ..heart.shape.clone() },
            ..heart.clone()
        };
        assert!(!moved.is_company(&shadow));
        let gone = shadow.gone_along(&moved, Units::Inches);
        assert!(moved.is_company(&gone) && gone.shape.grown == Length::from_64ths(8));
    }

    #[test]
    fn parts_tile_the_thing_they_are_parts_of() {
        let waves = thing("waves");
        let names = (1..=4).map(|n| format!("waves {n}").parse().unwrap()).collect();
        let parts = waves.parts(names, Units::Millimetres).unwrap();
        let long = waves.whole(&waves.shape.outline().unwrap()).size.1;
        let between: Vec<Between> = parts.iter().filter_map(|part| part.between).collect();
        assert_eq!((between[0].from, between[3].to), (Length::ZERO, long));
        assert!(between.windows(2).all(|pair| pair[0].to == pair[1].from));
        assert!(parts.iter().all(|part| waves.is_company(part)));
    }

    #[test]
    fn what_lies_above_an_edge_fits_it_and_ends_where_it_ends() {
        for family in ["cloud-edge", "torn-edge", "hill-line"] {
            let shape = thing(family).shape.outline().unwrap();
            let (open, deep) = above(&shape, 30.0).unwrap();
            let (wide, high) = open.size();
            assert!((wide - shape.size().0).abs() < 0.01, "{family}");
            assert!((high - 30.0 - deep).abs() < 0.01, "{family}: {high} {deep}");
            // Laid back on the shape, neither overlaps the other.
            let (least, _) = shape.region().bounds().unwrap();
            let (from, _) = open.region().bounds().unwrap();
            let (right, below) = (least[0] - from[0], least[1] - 30.0 - from[1]);
            let back = open.region().moved(|[x, y]| [x + right, y + below]);
            assert!(back.intersected(&shape.region()).area() < 1.0, "{family}");
        }
        assert!(above(&thing("heart").shape.outline().unwrap(), 30.0).is_none_or(|(_, deep)| deep > 0.0));
    }

    #[test]
    fn names_are_not_given_twice() {
        let things = [thing("heart")];
        let names = |name: &str, count| {
            let free = free_names(&things, name, count).unwrap();
            free.into_iter().map(|name| name.to_string()).collect::<Vec<_>>()
        };
        assert_eq!(names("Ebb", 1), ["Ebb 2"]);
        assert_eq!(names("Flood", 1), ["Flood"]);
        assert_eq!(names("Ebb", 2), ["Ebb 1", "Ebb 2"]);
    }
}
