//! How deep inside a shape does a place lie, measured from its edge?
//!
//! The nearest point of the edge is found on a grid: nodes beside a side know theirs, and each passes it on to its
//! neighbours in sweeps over the grid (Danielsson 1980). Between nodes depth is read between them.
//!
//! ```
//! use rosy_core::shape::{Region, depth::Depth};
//!
//! let depth = Depth::of(&Region::rect(0.0, 0.0, 40.0, 60.0));
//! assert!((depth.at(20.0, 5.0) - 5.0).abs() < 0.1);
//! assert!((depth.at(-3.0, 30.0) + 3.0).abs() < 0.1); // three millimetres outside
//! ```

use super::region::{Region, distance, nearest_on};

/// Millimetres from one node to the next (chosen: finer than a brush can keep).
const STEP: f64 = 0.5;
/// Millimetres round the shape that are measured too; further out all is as far (chosen: wider than any tool's footprint).
const BESIDE: f64 = 16.0;

/// Depths inside one shape, in millimetres; outside they are below nothing.
#[derive(Clone, Debug, PartialEq)]
pub struct Depth {
    first: [f64; 2],
    columns: usize,
    mm: Vec<f32>,
}

impl Depth {
    /// Measures a region.
    pub fn of(region: &Region) -> Depth {
        let Some((least, most)) = region.bounds() else {
            return Depth { first: [0.0; 2], columns: 1, mm: vec![-BESIDE as f32] };
        };
        let first = least.map(|at| at - BESIDE);
        let nodes = |axis: usize| ((most[axis] - least[axis] + 2.0 * BESIDE) / STEP).ceil() as usize + 1;
        let (columns, rows) = (nodes(0), nodes(1));
        let node =
            |n: usize| [first[0] + (n % columns) as f64 * STEP, first[1] + (n / columns) as f64 * STEP];
        let mut nearest: Vec<Option<[f64; 2]>> = vec![None; columns * rows];
        let offer = |nearest: &mut Vec<Option<[f64; 2]>>, n: usize, at: [f64; 2]| {
            let here = node(n);
            if nearest[n].is_none_or(|known| distance(here, at) < distance(here, known)) {
                nearest[n] = Some(at);
            }
        };
        for side in region.sides() {
            let (from, to) = side;
            let paces = (distance(from, to) / STEP).ceil().max(1.0) as usize;
            for pace in 0..=paces {
                let share = pace as f64 / paces as f64;
                let at = |axis: usize| from[axis] + share * (to[axis] - from[axis]);
                let (column, row) =
                    (((at(0) - first[0]) / STEP) as usize, ((at(1) - first[1]) / STEP) as usize);
                for n in [0, 1, columns, columns + 1].map(|beside| row * columns + column + beside) {
                    if n < nearest.len() {
                        offer(&mut nearest, n, nearest_on(side, node(n)));
                    }
                }
            }
        }
        let steps: [(isize, isize); 4] = [(-1, 0), (-1, -1), (0, -1), (1, -1)];
        let total = columns * rows;
        // Twice each way: what comes from one side is passed on to the other.
        for sweep in 0..4 {
            let sign = if sweep % 2 == 0 { 1 } else { -1 };
            for at in 0..total {
                let n = if sign > 0 { at } else { total - 1 - at };
                let (column, row) = ((n % columns) as isize, (n / columns) as isize);
                for (across, down) in steps {
                    let (left, top) = (column + sign * across, row + sign * down);
                    if (0..columns as isize).contains(&left) && (0..rows as isize).contains(&top) {
                        let other = nearest[top as usize * columns + left as usize];
                        if let Some(known) = other {
                            offer(&mut nearest, n, known);
                        }
                    }
                }
            }
        }
        let mut mm: Vec<f32> = (0..total)
            .map(|n| nearest[n].map_or(-BESIDE as f32, |at| -distance(node(n), at) as f32))
            .collect();
        let sides: Vec<_> = region.sides().collect();
        for row in 0..rows {
            let y = node(row * columns)[1];
            let mut crossed: Vec<f64> = sides
                .iter()
                .filter(|(from, to)| (from[1] > y) != (to[1] > y))
                .map(|(from, to)| from[0] + (to[0] - from[0]) * (y - from[1]) / (to[1] - from[1]))
                .collect();
            crossed.sort_by(f64::total_cmp);
            for pair in crossed.chunks_exact(2) {
                let column = |x: f64| ((x - first[0]) / STEP).ceil().max(0.0) as usize;
                for mm in &mut mm[row * columns..][column(pair[0])..column(pair[1]).min(columns)] {
                    *mm = -*mm;
                }
            }
        }
        Depth { first, columns, mm }
    }

    /// The depth of a place.
    #[inline]
    pub fn at(&self, x: f64, y: f64) -> f64 {
        let rows = self.mm.len() / self.columns;
        let (u, v) = ((x - self.first[0]) / STEP, (y - self.first[1]) / STEP);
        if u < 0.0 || v < 0.0 || u >= (self.columns - 1) as f64 || v >= (rows - 1) as f64 {
            return -BESIDE;
        }
        let (column, row) = (u as usize, v as usize);
        let (across, down) = (u - column as f64, v - row as f64);
        let node =
            |right: usize, below: usize| f64::from(self.mm[(row + below) * self.columns + column + right]);
        let between = |from: f64, to: f64, share: f64| from + share * (to - from);
        between(between(node(0, 0), node(1, 0), across), between(node(0, 1), node(1, 1), across), down)
    }

    /// A place about as deep, as near the middle of the shape's upper half as there is.
    pub fn place(&self, mm: f64) -> [f64; 2] {
        let rows = self.mm.len() / self.columns;
        let middle = [0.5 * self.columns as f64, 0.25 * rows as f64];
        let off = |n: &usize| {
            let at = [(n % self.columns) as f64, (n / self.columns) as f64];
            let wrong = (f64::from(self.mm[*n]) - mm).abs() / STEP;
            // A node never lies on a depth exactly: what is within a step is as good.
            10.0 * self.columns as f64 * (wrong - 0.6).max(0.0) + distance(at, middle)
        };
        let best = (0..self.mm.len()).min_by(|a, b| off(a).total_cmp(&off(b))).unwrap_or(0);
        [
            self.first[0] + (best % self.columns) as f64 * STEP,
            self.first[1] + (best / self.columns) as f64 * STEP,
        ]
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn depth_in_a_disc_and_a_ring_is_what_geometry_says() {
        let disc = |radius: f64| {
            let corner = |n: u32| {
                let turn = f64::from(n) * std::f64::consts::TAU / 720.0;
                [50.0 + radius * turn.cos(), 40.0 + radius * turn.sin()]
            };
            Region::of(&[(0..720).map(corner).collect()], true)
        };
        let (whole, ring) = (Depth::of(&disc(25.0)), Depth::of(&disc(25.0).minus(&disc(10.0))));
        for n in 0..200 {
            let (turn, out) = (f64::from(n) * 0.37, f64::from(n) * 0.19);
            let (x, y) = (50.0 + out * turn.cos(), 40.0 + out * turn.sin());
            let meant = (25.0 - out).max(-BESIDE);
            // Right at the middle the grid rounds the peak off.
            assert!(
                (whole.at(x, y) - meant).abs() < 0.15 + STEP * f64::from(out < 1.0),
                "{out}: {}",
                whole.at(x, y)
            );
            let meant = meant.min(out - 10.0);
            assert!((ring.at(x, y) - meant).abs() < 0.3, "{out}: {} {meant}", ring.at(x, y));
        }
        assert_eq!(whole.at(500.0, 0.0), -BESIDE);
        for mm in [2.0, 8.0, 20.0] {
            let [x, y] = whole.place(mm);
            assert!((whole.at(x, y) - mm).abs() < 0.4, "{mm}");
        }
    }
}
