//! Along which way do the bands run, and from which edge are they measured?
//!
//! A place along the blend is one exact length. For straight bands it is the distance from the edge
//! where the first ink stands. For diagonal ones it is the *sum* of the distances from the two edges that
//! meet in the first ink's corner: the same measure marked along both edges from that corner gives the
//! two ends of a band's line, so a maker never measures across the card.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::length::Length;

/// Where the first ink stands and where the blend runs to.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Direction {
    /// From the top edge down.
    #[default]
    Down,
    /// From the bottom edge up.
    Up,
    /// From the left edge to the right.
    Right,
    /// From the right edge to the left.
    Left,
    /// From the top left corner.
    DownRight,
    /// From the top right corner.
    DownLeft,
    /// From the bottom left corner.
    UpRight,
    /// From the bottom right corner.
    UpLeft,
}

impl Direction {
    /// All eight.
    pub const ALL: [Direction; 8] = [
        Direction::Down,
        Direction::Up,
        Direction::Right,
        Direction::Left,
        Direction::DownRight,
        Direction::DownLeft,
        Direction::UpRight,
        Direction::UpLeft,
    ];

    /// The direction in words.
    pub const fn words(self) -> &'static str {
        match self {
            Direction::Down => "top to bottom",
            Direction::Up => "bottom to top",
            Direction::Right => "left to right",
            Direction::Left => "right to left",
            Direction::DownRight => "from the top left corner",
            Direction::DownLeft => "from the top right corner",
            Direction::UpRight => "from the bottom left corner",
            Direction::UpLeft => "from the bottom right corner",
        }
    }

    /// The edge or corner that measures start from.
    pub const fn from(self) -> &'static str {
        match self {
            Direction::Down => "top edge",
            Direction::Up => "bottom edge",
            Direction::Right => "left edge",
            Direction::Left => "right edge",
            Direction::DownRight => "top left corner",
            Direction::DownLeft => "top right corner",
            Direction::UpRight => "bottom left corner",
            Direction::UpLeft => "bottom right corner",
        }
    }

    /// The edge or corner at the far end.
    pub const fn to(self) -> &'static str {
        self.reversed().from()
    }

    /// The same way backwards.
    pub const fn reversed(self) -> Direction {
        match self {
            Direction::Down => Direction::Up,
            Direction::Up => Direction::Down,
            Direction::Right => Direction::Left,
            Direction::Left => Direction::Right,
            Direction::DownRight => Direction::UpLeft,
            Direction::DownLeft => Direction::UpRight,
            Direction::UpRight => Direction::DownLeft,
            Direction::UpLeft => Direction::DownRight,
        }
    }

    /// Whether measures are marked along two edges from a corner.
    pub const fn is_diagonal(self) -> bool {
        matches!(self, Direction::DownRight | Direction::DownLeft | Direction::UpRight | Direction::UpLeft)
    }

    /// Whether places along the blend run down or up the panel.
    pub const fn is_upright(self) -> bool {
        matches!(self, Direction::Down | Direction::Up)
    }

    /// How long the blend is on a panel.
    pub fn span(self, width: Length, height: Length) -> Length {
        match self {
            Direction::Down | Direction::Up => height,
            Direction::Right | Direction::Left => width,
            _ => width + height,
        }
    }

    /// How much further along the blend a millimetre straight across the bands is.
    pub fn stretch(self) -> f64 {
        if self.is_diagonal() { std::f64::consts::SQRT_2 } else { 1.0 }
    }

    /// Place along the blend of a point, as `start + x · across + y · down`, in the unit of the panel's
    /// `width` and `height`: returns (start, across, down).
    pub fn slopes(self, width: f64, height: f64) -> (f64, f64, f64) {
        match self {
            Direction::Down => (0.0, 0.0, 1.0),
            Direction::Up => (height, 0.0, -1.0),
            Direction::Right => (0.0, 1.0, 0.0),
            Direction::Left => (width, -1.0, 0.0),
            Direction::DownRight => (0.0, 1.0, 1.0),
            Direction::DownLeft => (width, -1.0, 1.0),
            Direction::UpRight => (height, 1.0, -1.0),
            Direction::UpLeft => (width + height, -1.0, -1.0),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_direction_starts_at_nothing_and_ends_at_its_span() {
        let (w, h) = (Length::from_inches(4), Length::from_inches(5));
        for direction in Direction::ALL {
            let (start, across, down) = direction.slopes(4.0, 5.0);
            let corners = [(0.0, 0.0), (4.0, 0.0), (0.0, 5.0), (4.0, 5.0)];
            let places = corners.map(|(x, y)| start + x * across + y * down);
            let least = places.iter().copied().fold(f64::INFINITY, f64::min);
            let most = places.iter().copied().fold(0.0, f64::max);
            assert_eq!((least, most), (0.0, direction.span(w, h).inches()), "{direction:?}");
            assert_eq!(direction.reversed().reversed(), direction);
        }
    }
}
