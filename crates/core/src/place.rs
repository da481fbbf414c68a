//! Where on the panel? Points and corners, measured from the left and top edges.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::length::{Length, Units};

/// A point, from the left and top edges of what it lies on.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Point {
    /// From the left edge.
    pub left: Length,
    /// From the top edge.
    pub top: Length,
}

impl Point {
    /// The nearest point to a place in millimetres, in steps of `step`.
    pub fn nearest((x, y): (f64, f64), step: Length) -> Point {
        Point { left: Length::nearest(x, step), top: Length::nearest(y, step) }
    }
}

/// An upright rectangle on what it lies on.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Extent {
    /// Its top left corner.
    pub corner: Point,
    /// Its width and height.
    pub size: (Length, Length),
}

impl Extent {
    /// All of something of this size.
    pub const fn whole(size: (Length, Length)) -> Extent {
        Extent { corner: Point { left: Length::ZERO, top: Length::ZERO }, size }
    }

    /// Whether all of it lies within another.
    pub fn lies_within(&self, other: &Extent) -> bool {
        let along = |(at, long): (Length, Length), (from, room): (Length, Length)| {
            from <= at && at + long <= from + room
        };
        along((self.corner.left, self.size.0), (other.corner.left, other.size.0))
            && along((self.corner.top, self.size.1), (other.corner.top, other.size.1))
    }
}

/// A panel that becomes another size.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Resized {
    /// Its width and height before.
    pub old: (Length, Length),
    /// And after.
    pub new: (Length, Length),
    /// In which system its measures are.
    pub units: Units,
}

impl Resized {
    /// How many times as wide, and how many times as high.
    pub fn ratio(&self) -> (f64, f64) {
        (self.new.0.ratio(self.old.0), self.new.1.ratio(self.old.1))
    }

    /// A width and a height with their shares of the panel kept.
    pub fn sides(&self, (wide, high): (Length, Length)) -> (Length, Length) {
        let mark = self.units.pencil();
        (wide.scaled(self.new.0, self.old.0, mark), high.scaled(self.new.1, self.old.1, mark))
    }

    /// A place with its shares of the panel kept.
    pub fn at(&self, at: Point) -> Point {
        let (left, top) = self.sides((at.left, at.top));
        Point { left, top }
    }
}

/// A corner of a panel.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Corner {
    /// Top left.
    TopLeft,
    /// Top right.
    TopRight,
    /// Bottom left.
    BottomLeft,
    /// Bottom right.
    BottomRight,
}

impl Corner {
    /// All four.
    pub const ALL: [Corner; 4] = [Corner::TopLeft, Corner::TopRight, Corner::BottomLeft, Corner::BottomRight];

    /// The words for it.
    pub const fn words(self) -> &'static str {
        match self {
            Corner::TopLeft => "top left corner",
            Corner::TopRight => "top right corner",
            Corner::BottomLeft => "bottom left corner",
            Corner::BottomRight => "bottom right corner",
        }
    }

    /// The way away from it.
    pub const fn from_words(self) -> &'static str {
        match self {
            Corner::TopLeft => "from the top left corner",
            Corner::TopRight => "from the top right corner",
            Corner::BottomLeft => "from the bottom left corner",
            Corner::BottomRight => "from the bottom right corner",
        }
    }

    /// The way away from it, square to straight bands.
    pub const fn across_words(self) -> &'static str {
        match self {
            Corner::TopLeft => "in straight bands from the top left corner",
            Corner::TopRight => "in straight bands from the top right corner",
            Corner::BottomLeft => "in straight bands from the bottom left corner",
            Corner::BottomRight => "in straight bands from the bottom right corner",
        }
    }

    /// The corner across the panel.
    pub const fn opposite(self) -> Corner {
        match self {
            Corner::TopLeft => Corner::BottomRight,
            Corner::TopRight => Corner::BottomLeft,
            Corner::BottomLeft => Corner::TopRight,
            Corner::BottomRight => Corner::TopLeft,
        }
    }

    /// Which way is away from it along each side: 1 to the right or down, -1 to the left or up.
    pub const fn away(self) -> (f64, f64) {
        match self {
            Corner::TopLeft => (1.0, 1.0),
            Corner::TopRight => (-1.0, 1.0),
            Corner::BottomLeft => (1.0, -1.0),
            Corner::BottomRight => (-1.0, -1.0),
        }
    }

    /// The first corner that bands meet which run at an angle, in degrees clockwise from left to right.
    pub const fn first_met(angle: u16) -> Corner {
        match angle % 360 {
            0..90 => Corner::TopLeft,
            90..180 => Corner::TopRight,
            180..270 => Corner::BottomRight,
            _ => Corner::BottomLeft,
        }
    }
}
