//! Which shapes does a bench keep? Each with its name, how it lies, and what it is cut for and from.

use kurbo::Affine;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::eye::{Fault, Finding, Material, Use, look};
use super::family::{self, Drawn, DrawnError, Family, Sort};
use super::outline::{Outline, OutlineError};
use super::piece::Cut;
use crate::ink::Name;
use crate::length::{Length, Units};

/// Smallest and largest that a shape is made, in per cent.
pub const PERCENT: std::ops::RangeInclusive<u16> = 5..=1000;
/// Most times a shape is repeated each way.
pub const MOST_TIMES: u8 = 20;

/// Most that a shape is made larger all round.
pub const MOST_GROWN: Length = Length::from_inches(2);

/// What is drawn.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Figure {
    /// One of a family, by its measures.
    Drawn(Drawn),
    /// One that the maker brought, or that was mended by hand or program.
    Brought {
        /// SVG path data in millimetres about its middle.
        outline: String,
        /// Whether a place is inside where the curves go round it an odd number of times.
        #[serde(default)]
        even_odd: bool,
    },
}

impl Figure {
    /// A shape of another family that keeps the measures both have, where that can be drawn.
    pub fn drawn_as(&self, family: &Family, units: Units) -> Drawn {
        let usual = Drawn::usual_in(family, units);
        let Figure::Drawn(own) = self else { return usual };
        let mut alike = usual.clone();
        for (key, value) in &mut alike.measures {
            *value = own.measures.get(key).copied().unwrap_or(*value);
        }
        if family.is_word() && !own.letters.is_empty() {
            alike.letters.clone_from(&own.letters);
        }
        if alike.outline().is_ok() { alike } else { usual }
    }
}

/// The same shape again, side by side.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Repeat {
    /// How many across.
    pub across: u8,
    /// How many down.
    pub down: u8,
    /// From one to the next across, middle to middle.
    pub right: Length,
    /// From one to the next down, middle to middle.
    pub below: Length,
}

/// A shape on the bench.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Shape {
    /// What it is called.
    pub name: Name,
    /// What is drawn.
    pub figure: Figure,
    /// How far it is turned, in degrees clockwise.
    #[serde(default)]
    pub turn: u16,
    /// Whether left and right change places, before it is turned.
    #[serde(default)]
    pub mirrored: bool,
    /// Its size as against what is drawn.
    #[serde(default = "whole")]
    pub percent: u16,
    /// The same again, where it is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub repeat: Option<Repeat>,
    /// How much larger it is all round, as the shadow of a word is larger than the word.
    #[serde(default, skip_serializing_if = "is_none")]
    pub grown: Length,
    /// What it is cut for.
    #[serde(default, rename = "use")]
    pub used: Use,
    /// What it is cut from.
    #[serde(default)]
    pub material: Material,
    /// Where its plug is cut.
    #[serde(default)]
    pub cut: Cut,
}

const fn whole() -> u16 {
    100
}

fn is_none(grown: &Length) -> bool {
    *grown == Length::ZERO
}

/// Why a shape cannot be kept, and what to change.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum KeptError {
    /// What is drawn.
    #[error(transparent)]
    Drawn(#[from] DrawnError),
    /// What was brought.
    #[error(transparent)]
    Outline(#[from] OutlineError),
    /// Turned too far.
    #[error("turned by {0}°: give 0 to 359")]
    Turn(u16),
    /// Too small or too large.
    #[error("made {0} %: give {least} to {most}", least = PERCENT.start(), most = PERCENT.end())]
    Percent(u16),
    /// Repeated too often, or without a step.
    #[error("repeated {0} by {1} times: give 1 to {MOST_TIMES} each way")]
    Times(u8, u8),
    /// A step that is none.
    #[error("from one to the next: give more than nothing and at most 24 in")]
    Step,
    /// A hair or halo that no blade can be set to.
    #[error("a hair or halo is more than nothing and at most 1/2 in")]
    Cut,
    /// Larger all round than any shadow.
    #[error("{0} larger all round: give at most 2 in (50.8 mm)")]
    Grown(Length),
}

impl Shape {
    /// A shape as it comes, for a mask.
    pub fn new(name: Name, figure: Figure) -> Shape {
        Shape {
            name,
            figure,
            turn: 0,
            mirrored: false,
            percent: whole(),
            repeat: None,
            grown: Length::ZERO,
            used: Use::default(),
            material: Material::default(),
            cut: Cut::default(),
        }
    }

    /// Whether it is a word of letters.
    pub fn is_word(&self) -> bool {
        matches!(&self.figure, Figure::Drawn(drawn) if drawn.family == "word")
    }

    /// Whether it is the lines of a pattern, with cells between them.
    pub fn is_lines(&self) -> bool {
        let is_so =
            |drawn: &Drawn| family::find(&drawn.family).is_ok_and(|family| family.sort == Sort::Lines);
        matches!(&self.figure, Figure::Drawn(drawn) if is_so(drawn))
    }

    /// Its outline as it lies, about its middle.
    ///
    /// # Errors
    /// A [`KeptError`] saying what to change.
    pub fn outline(&self) -> Result<Outline, KeptError> {
        if self.turn >= 360 {
            return Err(KeptError::Turn(self.turn));
        }
        if !PERCENT.contains(&self.percent) {
            return Err(KeptError::Percent(self.percent));
        }
        if !self.cut.is_possible() {
            return Err(KeptError::Cut);
        }
        if !(Length::ZERO..=MOST_GROWN).contains(&self.grown) {
            return Err(KeptError::Grown(self.grown));
        }
        let drawn = match &self.figure {
            Figure::Drawn(drawn) => drawn.outline()?,
            Figure::Brought { outline, even_odd } => Outline::read(outline, *even_odd)?,
        };
        let mirror = if self.mirrored { Affine::FLIP_X } else { Affine::IDENTITY };
        let turn = Affine::rotate(f64::from(self.turn).to_radians());
        let lying = drawn.changed(turn * mirror * Affine::scale(f64::from(self.percent) / 100.0));
        let repeated = match self.repeat {
            None => lying.path().clone(),
            Some(repeat) => repeated(lying.path(), repeat)?,
        };
        // Turned, its box has another middle.
        let outline = Outline::of(repeated, lying.even_odd())?;
        Ok(if self.grown == Length::ZERO { outline } else { outline.grown(self.grown.mm())? })
    }

    /// Refuses what cannot be drawn.
    ///
    /// # Errors
    /// A [`KeptError`] saying what to change.
    pub fn check(&self) -> Result<(), KeptError> {
        self.outline().map(|_| ())
    }

    /// What is wrong with it, cut from a sheet so many millimetres wide and high.
    ///
    /// # Errors
    /// A [`KeptError`] where it cannot be drawn.
    pub fn look(&self, sheet: (f64, f64)) -> Result<Vec<Finding>, KeptError> {
        let is_backwards = self.is_word() && self.mirrored;
        Ok(look(&self.outline()?, self.used, self.material, sheet, is_backwards))
    }

    /// The same shape with what is wrong mended. A word turned the right way round stays a word; every other repair is an
    /// outline of its own.
    #[must_use]
    pub fn mended(&self, finding: &Finding) -> Option<Shape> {
        if finding.fault == Fault::Backwards {
            return Some(Shape { mirrored: false, ..self.clone() });
        }
        let outline = finding.mended.as_ref()?;
        let figure = Figure::Brought { outline: outline.data(), even_odd: outline.even_odd() };
        Some(Shape {
            figure,
            turn: 0,
            mirrored: false,
            percent: 100,
            repeat: None,
            grown: Length::ZERO,
            ..self.clone()
        })
    }
}

fn repeated(path: &kurbo::BezPath, repeat: Repeat) -> Result<kurbo::BezPath, KeptError> {
    let times = 1..=MOST_TIMES;
    if !times.contains(&repeat.across) || !times.contains(&repeat.down) {
        return Err(KeptError::Times(repeat.across, repeat.down));
    }
    let steps = Length::from_64ths(1)..=Length::from_inches(24);
    if (repeat.across > 1 && !steps.contains(&repeat.right))
        || (repeat.down > 1 && !steps.contains(&repeat.below))
    {
        return Err(KeptError::Step);
    }
    let places = (0..repeat.down).flat_map(|row| (0..repeat.across).map(move |column| (column, row)));
    let moved = places.flat_map(|(column, row)| {
        let by = (f64::from(column) * repeat.right.mm(), f64::from(row) * repeat.below.mm());
        (Affine::translate(by) * path.clone()).into_iter()
    });
    Ok(moved.collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shape::family::{FAMILIES, find};

    fn shape(family: &str) -> Shape {
        Shape::new("Ebb".parse().unwrap(), Figure::Drawn(Drawn::usual(find(family).unwrap())))
    }

    #[test]
    fn turning_mirroring_and_size_keep_what_a_shape_is() {
        for family in &FAMILIES {
            let area = |shape: Shape| shape.outline().unwrap().region().area();
            let usual = shape(family.key);
            let meant = area(usual.clone());
            let close = |got: f64, share: f64| {
                assert!((got / (meant * share) - 1.0).abs() < 5e-3, "{}: {got} {meant}", family.key);
            };
            close(area(Shape { turn: 37, mirrored: true, ..usual.clone() }), 1.0);
            close(area(Shape { percent: 50, ..usual.clone() }), 0.25);
            let repeat =
                Repeat { across: 3, down: 2, right: Length::from_inches(12), below: Length::from_inches(12) };
            close(area(Shape { repeat: Some(repeat), ..usual }), 6.0);
        }
    }

    #[test]
    fn four_quarter_turns_are_none() {
        let crescent = shape("crescent");
        let turned = |turn| Shape { turn, ..crescent.clone() }.outline().unwrap();
        let (upright, lying) = (turned(0).size(), turned(90).size());
        assert!((upright.0 - lying.1).abs() < 1e-6 && (upright.1 - lying.0).abs() < 1e-6);
        assert_eq!(Shape { turn: 360, ..crescent.clone() }.check(), Err(KeptError::Turn(360)));
        assert_eq!(Shape { percent: 2, ..crescent }.check(), Err(KeptError::Percent(2)));
    }

    #[test]
    fn a_mirrored_word_is_told_and_turned_back() {
        let word = Shape { mirrored: true, ..shape("word") };
        let findings = word.look((300.0, 300.0)).unwrap();
        let backwards = findings.iter().find(|finding| finding.fault == Fault::Backwards).unwrap();
        let mended = word.mended(backwards).unwrap();
        assert!(!mended.mirrored && mended.is_word());
        assert!(mended.look((300.0, 300.0)).unwrap().iter().all(|finding| finding.fault != Fault::Backwards));
    }

    #[test]
    fn letters_through_a_stencil_are_held_by_bridges_at_one_press() {
        let word = Shape { used: Use::Stencil, material: Material::Film, ..shape("word") };
        let sheet = (210.0, 150.0);
        let findings = word.look(sheet).unwrap();
        let islands = findings.iter().filter(|finding| finding.fault == Fault::Island).count();
        // The counters of a capital E (none) and of two small b.
        assert_eq!(islands, 2, "{findings:?}");
        let island = findings.iter().find(|finding| finding.fault == Fault::Island).unwrap();
        let mended = word.mended(island).unwrap();
        assert!(mended.look(sheet).unwrap().iter().all(|finding| finding.fault != Fault::Island));
    }
}
