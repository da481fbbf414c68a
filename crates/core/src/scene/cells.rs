//! What lies between the lines of a pattern, and which of it gets which of some inks?
//!
//! Each cell is a thing of its own, so that one mask is moved on from cell to cell, as long as a panel takes as many; else all
//! cells of one ink are one thing, with one frame.

use crate::ink::Name;
use crate::length::Length;
use crate::place::Point;
use crate::shape::kept::Figure;
use crate::shape::{Region, Shape};
use crate::thing::Thing;

/// Share of a cell that has to lie on the panel for it to be filled (chosen: less is hidden under any border).
const ON_PANEL: f64 = 0.2;
/// Share of its area by which a cell may differ from another and be cut as one with it.
const ALIKE: f64 = 0.005;

/// Cells to be filled as one thing: what they are, and which of the inks they get.
#[derive(Clone, Debug)]
pub struct Filled {
    /// They, where they lie on the panel, in millimetres.
    pub cells: Region,
    /// The ink, by its place in the run.
    pub ink: usize,
}

fn middle(region: &Region) -> [f64; 2] {
    let (least, most) = region.bounds().unwrap_or_default();
    [0, 1].map(|axis| 0.5 * (least[axis] + most[axis]))
}

/// What the lines of a pattern lie round on a panel, from its top left to its bottom right.
pub fn cells(lines: &Region, panel: &Region) -> Vec<Region> {
    let is_on = |cell: &Region| cell.intersected(panel).area() > ON_PANEL * cell.area();
    let mut cells: Vec<Region> = lines.holes().into_iter().filter(is_on).collect();
    let along = |cell: &Region| middle(cell).iter().sum::<f64>();
    cells.sort_by(|one, other| along(one).total_cmp(&along(other)));
    cells
}

/// Cells in a run of inks over all of them, the first first: each by itself where there is room for so many things, or else all
/// of an ink together.
pub fn filled(cells: Vec<Region>, inks: usize, room: usize) -> Vec<Filled> {
    let (count, inks) = (cells.len(), inks.min(room));
    let with_ink = |(nth, cells): (usize, Region)| Filled { cells, ink: nth * inks / count };
    let each: Vec<Filled> = cells.into_iter().enumerate().map(with_ink).collect();
    if count <= room {
        return each;
    }
    let of = |ink: usize| each.iter().filter(move |one| one.ink == ink).map(|one| one.cells.clone());
    (0..inks).map(|ink| Filled { cells: Region::beside(of(ink)), ink }).collect()
}

/// Cells as things, kept white, with their middles at marks of a ruler. Those alike are of one outline, so that one mask does for
/// all.
pub fn things(filled: &[Filled], names: Vec<Name>, mark: Length) -> Vec<Thing> {
    let mut outlines: Vec<(Region, String)> = Vec::new();
    let thing = |(one, name): (&Filled, Name)| {
        let [x, y] = middle(&one.cells);
        let own = one.cells.moved(|[u, v]| [u - x, v - y]);
        let apart = |other: &Region| own.minus(other).area() + other.minus(&own).area();
        let known = outlines.iter().find(|(known, _)| apart(known) < ALIKE * own.area());
        let known = known.map(|(_, outline)| outline.clone());
        let outline = known.unwrap_or_else(|| {
            let outline = own.path();
            outlines.push((own, outline.clone()));
            outline
        });
        let at = Point { left: Length::nearest(x, mark), top: Length::nearest(y, mark) };
        Thing::new(Shape::new(name, Figure::Brought { outline, even_odd: false }), at)
    };
    filled.iter().zip(names).map(thing).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A wall round each of some squares.
    fn walls(across: usize, down: usize) -> Region {
        let square = |n: usize| {
            Region::rect((n % across) as f64 * 22.0 + 2.0, (n / across) as f64 * 22.0 + 2.0, 20.0, 20.0)
        };
        let all = Region::rect(0.0, 0.0, across as f64 * 22.0 + 2.0, down as f64 * 22.0 + 2.0);
        (0..across * down).fold(all, |walls, n| walls.minus(&square(n)))
    }

    #[test]
    fn all_between_the_lines_is_filled_once_each_by_itself_or_by_its_ink() {
        let (lines, panel) = (walls(3, 4), Region::rect(0.0, 0.0, 100.0, 100.0));
        let cells = cells(&lines, &panel);
        assert_eq!(cells.len(), 12);
        for (inks, room, count) in [(4, 12, 12), (4, 11, 4), (4, 3, 3), (1, 2, 1)] {
            let filled = filled(cells.clone(), inks, room);
            assert_eq!(filled.len(), count);
            let area: f64 = filled.iter().map(|one| one.cells.area()).sum();
            assert!((area - 12.0 * 400.0).abs() < 1.0, "{area}");
            assert!(filled.iter().all(|one| one.cells.intersected(&lines).area() < 0.1));
            assert!(filled.windows(2).all(|two| two[0].ink <= two[1].ink));
        }
        // What hardly lies on the panel is left.
        assert_eq!(super::cells(&lines, &Region::rect(0.0, 0.0, 48.0, 100.0)).len(), 8);
    }

    #[test]
    fn cells_alike_are_cut_as_one_and_all_stand_where_they_were() {
        for (inks, room) in [(3, 9), (4, 4), (3, 4), (2, 2)] {
            let cells = cells(&walls(3, 3), &Region::rect(0.0, 0.0, 100.0, 100.0));
            let filled = filled(cells, inks, room);
            let names = (1..=9).map(|n| format!("cell {n}").parse().unwrap()).collect();
            let things = things(&filled, names, Length::from_64ths(1));
            let is_one = things.iter().all(|thing| thing.shape.figure == things[0].shape.figure);
            assert_eq!(is_one, room == 9, "{inks} {room}");
            for (thing, one) in things.iter().zip(&filled) {
                // Half a sixty-fourth of an inch at most beside it, at each of four sides of a cell.
                let (left, top) = (thing.at.left.mm(), thing.at.top.mm());
                let outline = thing.shape.outline().unwrap().region();
                let stands = outline.moved(|[x, y]| [x + left, y + top]);
                let apart = stands.minus(&one.cells).area() + one.cells.minus(&stands).area();
                assert!(apart < 0.05 * one.cells.area(), "{inks} {room}: {apart}");
            }
        }
    }
}
