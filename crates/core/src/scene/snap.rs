//! Where does a thing that is moved catch?
//!
//! A thing moved by hand catches where a maker would measure: at the middle of the panel, flush with an edge of it, and at
//! the middles and edges of other things. Each way by itself, and only where it comes near.

use crate::length::Length;
use crate::place::{Extent, Point};

/// How near it must come: a sixteenth of an inch, about a pencil's breadth on a page (chosen).
pub const NEAR: Length = Length::from_64ths(4);

/// The middle of a thing of a size, moved near a place on a panel among other things, caught where it comes near.
pub fn caught(middle: Point, size: (Length, Length), panel: (Length, Length), others: &[Extent]) -> Point {
    let along = |at: Length, long: Length, side: Length, of: &dyn Fn(&Extent) -> (Length, Length)| {
        let half = long / 2;
        let mut marks = vec![side / 2, half, side - half];
        for (from, wide) in others.iter().map(of) {
            let to = from + wide;
            // Middle to middle, edge to edge, and beside it.
            marks.extend([from + wide / 2, from + half, to - half, from - half, to + half]);
        }
        let off = |mark: &Length| if *mark > at { *mark - at } else { at - *mark };
        marks.into_iter().filter(|mark| off(mark) <= NEAR).min_by_key(off).unwrap_or(at)
    };
    Point {
        left: along(middle.left, size.0, panel.0, &|other| (other.corner.left, other.size.0)),
        top: along(middle.top, size.1, panel.1, &|other| (other.corner.top, other.size.1)),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(left: i64, top: i64) -> Point {
        Point { left: Length::from_64ths(left), top: Length::from_64ths(top) }
    }

    #[test]
    fn it_catches_at_middles_and_edges_and_nowhere_else() {
        let (size, panel) = (
            (Length::from_inches(1), Length::from_inches(1)),
            (Length::from_inches(4), Length::from_inches(5)),
        );
        let caught = |left, top, others: &[Extent]| caught(at(left, top), size, panel, others);
        assert_eq!(caught(131, 163, &[]), at(128, 160), "the middle");
        assert_eq!(caught(30, 286, &[]), at(32, 288), "flush with the left and bottom edges");
        assert_eq!(caught(100, 100, &[]), at(100, 100));
        let other = Extent { corner: at(96, 64), size: (Length::from_64ths(32), Length::from_64ths(32)) };
        assert_eq!(caught(110, 130, &[other]), at(112, 128), "under its middle, edge to edge");
    }
}
