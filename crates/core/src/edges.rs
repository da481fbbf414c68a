//! How is something measured from the four edges?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::length::{Length, Units};
use crate::place::Point;

/// Across a piece, or down it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "lowercase")]
pub enum Axis {
    /// From left to right: along the width.
    Across,
    /// From top to bottom: along the height.
    Down,
}

impl Axis {
    /// Both.
    pub const BOTH: [Axis; 2] = [Axis::Across, Axis::Down];

    /// The other one.
    pub const fn other(self) -> Axis {
        match self {
            Axis::Across => Axis::Down,
            Axis::Down => Axis::Across,
        }
    }

    /// Of two things, the one along this axis.
    pub fn of<T>(self, across: T, down: T) -> T {
        match self {
            Axis::Across => across,
            Axis::Down => down,
        }
    }

    /// The word for a size along it.
    pub const fn size(self) -> &'static str {
        match self {
            Axis::Across => "width",
            Axis::Down => "height",
        }
    }

    /// The edges at its two ends.
    pub const fn ends(self) -> (&'static str, &'static str) {
        match self {
            Axis::Across => ("left", "right"),
            Axis::Down => ("top", "bottom"),
        }
    }
}

/// One thing for each edge.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Edges<T> {
    /// At the left edge.
    pub left: T,
    /// At the right edge.
    pub right: T,
    /// At the top edge.
    pub top: T,
    /// At the bottom edge.
    pub bottom: T,
}

impl<T: Copy> Edges<T> {
    /// The same at every edge.
    pub const fn all(of: T) -> Edges<T> {
        Edges { left: of, right: of, top: of, bottom: of }
    }

    /// What stands at the two ends of an axis.
    pub fn along(self, axis: Axis) -> (T, T) {
        axis.of((self.left, self.right), (self.top, self.bottom))
    }

    /// From what stands at the ends of both axes.
    pub fn from_ends(across: (T, T), down: (T, T)) -> Edges<T> {
        Edges { left: across.0, right: across.1, top: down.0, bottom: down.1 }
    }

    /// Something made of each.
    pub fn map<U>(self, with: impl Fn(T) -> U) -> Edges<U> {
        Edges {
            left: with(self.left),
            right: with(self.right),
            top: with(self.top),
            bottom: with(self.bottom),
        }
    }

    /// All four with their names.
    pub fn named(self) -> [(&'static str, T); 4] {
        [("left", self.left), ("right", self.right), ("top", self.top), ("bottom", self.bottom)]
    }
}

/// Tape along the edges of a piece: what lies outside its inner lines stays bare.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Border {
    /// How far from each edge the ink ends; nothing where there is no tape.
    pub lines: Edges<Length>,
    /// How wide the roll is.
    pub roll: Length,
}

impl Default for Border {
    /// No tape, and the usual roll.
    fn default() -> Border {
        Border { lines: Edges::default(), roll: Length::from_64ths(48) }
    }
}

impl Border {
    /// Whether there is tape at some edge.
    pub fn is_there(&self) -> bool {
        self.lines != Edges::default()
    }

    /// Strips side by side that reach from a line to the edge beyond it.
    pub fn strips(&self, beyond: Length) -> u32 {
        (beyond.mm() / self.roll.mm() - 1e-9).ceil().max(1.0) as u32
    }
}

impl Edges<Length> {
    /// In words: `1/8 in all round`, `1/8 in left and right, none above and below`, …
    pub fn words(self, units: Units) -> String {
        let shown = |length: Length| match length {
            Length::ZERO => "none".to_owned(),
            some => some.said(units),
        };
        let Edges { left, right, top, bottom } = self;
        if left == right && left == top && left == bottom {
            return if left == Length::ZERO { "none".into() } else { format!("{} all round", shown(left)) };
        }
        let pair = |one, other, (first, second): (&str, &str)| {
            if one == other {
                format!("{} {first} and {second}", shown(one))
            } else {
                format!("{} {first}, {} {second}", shown(one), shown(other))
            }
        };
        format!("{}; {}", pair(left, right, Axis::Across.ends()), pair(top, bottom, Axis::Down.ends()))
    }
}

/// A rectangle's place and size, from the left and top edges of what it lies on.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Place {
    /// From the left edge.
    pub left: Length,
    /// From the top edge.
    pub top: Length,
    /// From left to right.
    pub width: Length,
    /// From top to bottom.
    pub height: Length,
}

impl Place {
    /// Where it begins and how long it is along an axis.
    pub fn along(self, axis: Axis) -> (Length, Length) {
        axis.of((self.left, self.width), (self.top, self.height))
    }
}

impl Point {
    /// Its measure along an axis.
    pub fn along(self, axis: Axis) -> Length {
        axis.of(self.left, self.top)
    }
}

/// A size as the maker reads it: `4 × 5 1/4 in`.
pub fn size(width: Length, height: Length, units: Units) -> String {
    let exact = width.is_exact_in(units) && height.is_exact_in(units);
    let about = if exact { "" } else { "about " };
    format!("{about}{} × {}", width.shown(units).number(), height.shown(units))
}

/// A size by itself, as a sheet or a card is known by: as [`size`], and where that is not exact, with the other system's
/// beside it.
pub fn known_size(width: Length, height: Length, units: Units) -> String {
    let own = size(width, height, units);
    match Units::exact_for(units, &[width, height]) {
        Some(exact) if exact != units => format!("{own} ({})", size(width, height, exact)),
        _ => own,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn edges_are_said_as_a_maker_says_them() {
        let eighth = Length::from_64ths(8);
        assert_eq!(Edges::all(eighth).words(Units::Inches), "1/8 in all round");
        assert_eq!(Edges::all(Length::ZERO).words(Units::Inches), "none");
        let sides = Edges { top: Length::ZERO, bottom: Length::ZERO, ..Edges::all(eighth) };
        assert_eq!(sides.words(Units::Inches), "1/8 in left and right; none top and bottom");
    }
}
