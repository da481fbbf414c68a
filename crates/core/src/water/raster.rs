//! How much lies in each quarter of a millimetre?

/// Millimetres along a cell.
pub const CELL: f64 = 0.25;

/// An amount for each cell, row by row.
#[derive(Clone, Debug, PartialEq)]
pub struct Raster {
    /// Cells across.
    pub columns: usize,
    /// Cells down.
    pub rows: usize,
    /// The amounts.
    pub cells: Vec<f32>,
}

impl Raster {
    /// Nothing anywhere, on so many millimetres across and down.
    pub fn empty((wide, high): (f64, f64)) -> Raster {
        let count = |mm: f64| (mm / CELL).round().max(1.0) as usize;
        let (columns, rows) = (count(wide), count(high));
        Raster { columns, rows, cells: vec![0.0; columns * rows] }
    }

    /// Another of the same size, each cell by its place.
    pub fn like(&self, of: impl Fn(usize) -> f32) -> Raster {
        Raster { cells: (0..self.cells.len()).map(of).collect(), ..*self }
    }

    /// The middle of a cell, in millimetres from the left and top.
    pub fn middle(&self, cell: usize) -> (f64, f64) {
        let at = |n: usize| (n as f64 + 0.5) * CELL;
        (at(cell % self.columns), at(cell / self.columns))
    }

    /// All of it together.
    pub fn sum(&self) -> f64 {
        self.cells.iter().map(|cell| f64::from(*cell)).sum()
    }

    /// The cells within so many millimetres of a place, with how far each lies from it.
    pub fn within(&self, (x, y): (f64, f64), reach: f64) -> impl Iterator<Item = (usize, f64)> + '_ {
        let span = |at: f64, most: usize| {
            let first = ((at - reach) / CELL).floor().max(0.0) as usize;
            let last = ((at + reach) / CELL).ceil().max(0.0) as usize;
            first.min(most)..last.min(most)
        };
        let columns = span(x, self.columns);
        span(y, self.rows)
            .flat_map(move |row| columns.clone().map(move |column| row * self.columns + column))
            .filter_map(move |cell| {
                let (u, v) = self.middle(cell);
                let far = (u - x).hypot(v - y);
                (far <= reach).then_some((cell, far))
            })
    }

    /// Spread by so many millimetres, as a bell about each cell; what would pass an edge is thrown back, so that all of it
    /// stays. A bell is three boxes, one after the other (Wells 1986).
    #[must_use]
    pub fn spread(&self, mm: (f64, f64)) -> Raster {
        let mut spread = self.clone();
        let lines =
            |raster: &mut Raster, count: usize, long: usize, at: &dyn Fn(usize, usize) -> usize, mm: f64| {
                let half = ((4.0 * (mm / CELL).powi(2) + 1.0).sqrt() - 1.0) / 2.0;
                let half = half.round() as usize;
                if half == 0 || long < 2 {
                    return;
                }
                let mut line = vec![0.0_f64; long];
                for n in 0..count {
                    for (k, cell) in line.iter_mut().enumerate() {
                        *cell = f64::from(raster.cells[at(n, k)]);
                    }
                    for _ in 0..3 {
                        boxed(&mut line, half);
                    }
                    for (k, cell) in line.iter().enumerate() {
                        raster.cells[at(n, k)] = *cell as f32;
                    }
                }
            };
        let columns = self.columns;
        lines(&mut spread, self.rows, columns, &|row, column| row * columns + column, mm.0);
        lines(&mut spread, columns, self.rows, &|column, row| row * columns + column, mm.1);
        spread
    }
}

/// The mean of each cell and so many to each side; beyond its ends a line is seen as in a mirror.
fn boxed(line: &mut [f64], half: usize) {
    let long = line.len() as isize;
    let mirrored = |at: isize| {
        let period = 2 * long;
        let at = at.rem_euclid(period);
        (if at < long { at } else { period - 1 - at }) as usize
    };
    let before = line.to_vec();
    let reach = half as isize;
    let mut sum: f64 = (-reach..=reach).map(|at| before[mirrored(at)]).sum();
    let share = 1.0 / (2 * half + 1) as f64;
    for at in 0..long {
        line[at as usize] = sum * share;
        sum += before[mirrored(at + reach + 1)] - before[mirrored(at - reach)];
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn spread_is_a_bell_of_the_width_asked_for() {
        let mut raster = Raster::empty((60.0, 60.0));
        let middle = raster.rows / 2 * raster.columns + raster.columns / 2;
        raster.cells[middle] = 1.0;
        let spread = raster.spread((3.0, 1.0));
        let about = raster.middle(middle);
        let variance = |axis: usize| -> f64 {
            (0..spread.cells.len())
                .map(|cell| {
                    let (x, y) = spread.middle(cell);
                    let off = [x - about.0, y - about.1][axis];
                    f64::from(spread.cells[cell]) * off * off
                })
                .sum()
        };
        assert!((variance(0).sqrt() - 3.0).abs() < 0.2, "{}", variance(0).sqrt());
        assert!((variance(1).sqrt() - 1.0).abs() < 0.15, "{}", variance(1).sqrt());
    }

    proptest! {
        #[test]
        fn spreading_neither_makes_nor_loses_anything(
            cells in proptest::collection::vec(0.0_f32..5.0, 35 * 24), across in 0.0..6.0, down in 0.0..6.0,
        ) {
            let raster = Raster { columns: 35, rows: 24, cells };
            let spread = raster.spread((across, down));
            prop_assert!((spread.sum() - raster.sum()).abs() < 1e-3 * raster.sum());
            prop_assert!(spread.cells.iter().all(|cell| *cell >= 0.0));
        }
    }
}
