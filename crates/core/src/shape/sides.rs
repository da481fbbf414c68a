//! Which sides of a region lie near a place?
//!
//! Sides are sorted into square cells, so that whoever asks for what is near looks at few of them, however many there are.
//!
//! ```
//! use rosy_core::shape::{Region, sides::Sides};
//!
//! let sides = Sides::of(&Region::rect(0.0, 0.0, 40.0, 60.0));
//! assert_eq!(sides.nearest([3.0, 20.0]), Some([0.0, 20.0]));
//! assert_eq!(sides.nearest([20.0, 90.0]), Some([20.0, 60.0])); // from outside too
//! ```

use super::region::{Region, distance, nearest_on};

/// A straight line, from one end to the other.
pub type Side = ([f64; 2], [f64; 2]);

/// Most cells along a side of the grid.
const MOST_CELLS: usize = 512;
/// Millimetres along the smallest cell (chosen: the thinnest rib is about as wide).
const SMALLEST: f64 = 1.0;

/// The sides of a region, by where they lie.
#[derive(Clone, Debug)]
pub struct Sides {
    all: Vec<Side>,
    first: [f64; 2],
    cell: f64,
    columns: usize,
    rows: usize,
    /// Where each cell's list begins in `listed`, row by row, and where the last ends.
    begins: Vec<u32>,
    listed: Vec<u32>,
}

impl Sides {
    /// Sorts a region's sides.
    pub fn of(region: &Region) -> Sides {
        let all: Vec<Side> = region.sides().collect();
        let (least, most) = region.bounds().unwrap_or_default();
        let (wide, high) = (most[0] - least[0], most[1] - least[1]);
        // About as many cells as sides.
        let even = (wide * high / all.len().max(1) as f64).sqrt();
        let cell = even.max(SMALLEST).max(wide.max(high) / MOST_CELLS as f64);
        let cells = |long: f64| (long / cell) as usize + 1;
        let mut sides = Sides {
            all,
            first: least,
            cell,
            columns: cells(wide),
            rows: cells(high),
            begins: Vec::new(),
            listed: Vec::new(),
        };
        sides.fill();
        sides
    }

    fn fill(&mut self) {
        let mut counts = vec![0_u32; self.columns * self.rows + 1];
        for side in &self.all {
            self.through(*side, |cell| counts[cell + 1] += 1);
        }
        for cell in 1..counts.len() {
            counts[cell] += counts[cell - 1];
        }
        let mut next = counts.clone();
        let mut listed = vec![0; counts.last().map_or(0, |all| *all as usize)];
        for (nth, side) in self.all.iter().enumerate() {
            self.through(*side, |cell| {
                listed[next[cell] as usize] = u32::try_from(nth).unwrap_or(u32::MAX);
                next[cell] += 1;
            });
        }
        (self.begins, self.listed) = (counts, listed);
    }

    fn along(&self, axis: usize, at: f64) -> usize {
        let cells = if axis == 0 { self.columns } else { self.rows };
        (((at - self.first[axis]) / self.cell).max(0.0) as usize).min(cells - 1)
    }

    /// Every cell that a side goes through.
    fn through(&self, (from, to): Side, mut visit: impl FnMut(usize)) {
        let (upper, lower) = if from[1] <= to[1] { (from, to) } else { (to, from) };
        let (top, foot) = (self.along(1, upper[1]), self.along(1, lower[1]));
        let at = |y: f64| {
            let share = ((y - upper[1]) / (lower[1] - upper[1])).clamp(0.0, 1.0);
            if share.is_finite() { upper[0] + share * (lower[0] - upper[0]) } else { upper[0] }
        };
        for row in top..=foot {
            let edge = |n: usize| self.first[1] + n as f64 * self.cell;
            let here = if row == top { upper[0] } else { at(edge(row)) };
            let there = if row == foot { lower[0] } else { at(edge(row + 1)) };
            for column in self.along(0, here.min(there))..=self.along(0, here.max(there)) {
                visit(row * self.columns + column);
            }
        }
    }

    fn in_cell(&self, column: usize, row: usize) -> impl Iterator<Item = Side> {
        let cell = row * self.columns + column;
        let (from, to) = (self.begins[cell] as usize, self.begins[cell + 1] as usize);
        self.listed[from..to].iter().map(|nth| self.all[*nth as usize])
    }

    /// All sides in the cells of a box; one that goes through several of them is there as often.
    pub fn within(&self, least: [f64; 2], most: [f64; 2]) -> Vec<Side> {
        let outside = |axis: usize, cells: usize| {
            most[axis] < self.first[axis] || least[axis] > self.first[axis] + cells as f64 * self.cell
        };
        if self.all.is_empty() || outside(0, self.columns) || outside(1, self.rows) {
            return Vec::new();
        }
        let mut found = Vec::new();
        for row in self.along(1, least[1])..=self.along(1, most[1]) {
            for column in self.along(0, least[0])..=self.along(0, most[0]) {
                found.extend(self.in_cell(column, row));
            }
        }
        found
    }

    /// How far from a place, straight on in a direction of length one, the first side is that `counts`, as it says how far
    /// along it is crossed; none within `reach`.
    pub fn ahead(
        &self,
        at: [f64; 2],
        way: [f64; 2],
        reach: f64,
        counts: impl Fn(Side) -> Option<f64>,
    ) -> Option<f64> {
        let on = |by: f64| [at[0] + by * way[0], at[1] + by * way[1]];
        let mut gone = 0.0;
        while gone < reach {
            let (here, there) = (on(gone), on((gone + self.cell).min(reach)));
            let least = [here[0].min(there[0]), here[1].min(there[1])];
            let most = [here[0].max(there[0]), here[1].max(there[1])];
            let found = self.within(least, most).into_iter().filter_map(&counts).reduce(f64::min);
            gone += self.cell;
            if let Some(found) = found.filter(|found| *found <= gone) {
                return (found <= reach).then_some(found);
            }
        }
        None
    }

    /// The place on any side that lies nearest to another.
    pub fn nearest(&self, at: [f64; 2]) -> Option<[f64; 2]> {
        let (column, row) = (self.along(0, at[0]), self.along(1, at[1]));
        let mut best: Option<[f64; 2]> = None;
        // A place outside is as far again from what lies round its cell.
        let inside = [0, 1].map(|axis| {
            let cells = if axis == 0 { self.columns } else { self.rows };
            at[axis].clamp(self.first[axis], self.first[axis] + cells as f64 * self.cell)
        });
        for ring in 0..self.columns.max(self.rows) {
            let reached = (ring as f64 - 1.0).max(0.0) * self.cell;
            if best.is_some_and(|best| distance(inside, best).max(distance(at, best)) <= reached) {
                break;
            }
            let (left, right) = (column.saturating_sub(ring), (column + ring).min(self.columns - 1));
            let (top, foot) = (row.saturating_sub(ring), (row + ring).min(self.rows - 1));
            for y in top..=foot {
                let is_edge = y + ring == row || y == row + ring;
                let mut offer = |x: usize| {
                    for side in self.in_cell(x, y) {
                        let near = nearest_on(side, at);
                        if best.is_none_or(|best| distance(at, near) < distance(at, best)) {
                            best = Some(near);
                        }
                    }
                };
                if is_edge {
                    (left..=right).for_each(&mut offer);
                } else {
                    if left + ring == column {
                        offer(left);
                    }
                    if right == column + ring && right != left {
                        offer(right);
                    }
                }
            }
        }
        best
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn what_is_near_is_what_looking_at_all_of_them_finds(
            corners in proptest::collection::vec([0.0..90.0_f64, 0.0..70.0_f64], 3..60),
            at in [-20.0..110.0_f64, -20.0..90.0_f64],
            turn in 0.0..std::f64::consts::TAU,
        ) {
            let region = Region::of(&[corners], true);
            prop_assume!(!region.is_empty());
            let sides = Sides::of(&region);
            let plainly = region
                .sides()
                .map(|side| distance(nearest_on(side, at), at))
                .fold(f64::INFINITY, f64::min);
            let found = sides.nearest(at).map_or(f64::INFINITY, |near| distance(near, at));
            prop_assert!((found - plainly).abs() < 1e-9, "{} {}", found, plainly);
            let way = [turn.cos(), turn.sin()];
            let crossed = |(from, to): Side| {
                let side = [to[0] - from[0], to[1] - from[1]];
                let turned = way[0] * side[1] - way[1] * side[0];
                let off = [from[0] - at[0], from[1] - at[1]];
                let along = (off[0] * side[1] - off[1] * side[0]) / turned;
                let share = (off[0] * way[1] - off[1] * way[0]) / turned;
                (along > 0.0 && (0.0..=1.0).contains(&share)).then_some(along)
            };
            let plainly = region.sides().filter_map(crossed).filter(|far| *far <= 40.0).reduce(f64::min);
            prop_assert_eq!(sides.ahead(at, way, 40.0, crossed), plainly);
        }
    }

    #[test]
    fn nothing_lies_near_nothing() {
        let none = Sides::of(&Region::default());
        assert!(none.nearest([1.0, 2.0]).is_none() && none.within([0.0; 2], [9.0; 2]).is_empty());
    }
}
