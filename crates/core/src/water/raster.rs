//! How much lies in each quarter of a millimetre?

use rayon::prelude::*;

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

    /// The cell that a place in millimetres lies in, or the nearest to it.
    #[inline]
    pub fn cell_at(&self, x: f64, y: f64) -> usize {
        let place = |mm: f64, most: usize| ((mm / CELL).max(0.0) as usize).min(most - 1);
        place(y, self.rows) * self.columns + place(x, self.columns)
    }

    /// Between the four cells round a place in millimetres.
    #[inline]
    pub fn at(&self, x: f64, y: f64) -> f32 {
        let place = |mm: f64, most: usize| {
            let at = (mm / CELL - 0.5).clamp(0.0, (most - 1) as f64);
            (at as usize, (at as usize + 1).min(most - 1), at.fract() as f32)
        };
        let (left, right, across) = place(x, self.columns);
        let (top, below, down) = place(y, self.rows);
        let cell = |column: usize, row: usize| self.cells[row * self.columns + column];
        let along = |row: usize| cell(left, row) + across * (cell(right, row) - cell(left, row));
        along(top) + down * (along(below) - along(top))
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
                let far = (u - x).powi(2) + (v - y).powi(2);
                (far <= reach * reach).then(|| (cell, far.sqrt()))
            })
    }

    /// Spread by so many millimetres, as a bell about each cell; what would pass an edge is thrown back, so that all of it
    /// stays. A bell is three boxes, one after the other (Wells 1986).
    #[must_use]
    pub fn spread(&self, mm: (f64, f64)) -> Raster {
        let half = |mm: f64| (((4.0 * (mm / CELL).powi(2) + 1.0).sqrt() - 1.0) / 2.0).round() as usize;
        let mut spread = self.clone();
        along_rows(&mut spread.cells, self.columns, half(mm.0));
        if half(mm.1) > 0 && self.rows > 1 {
            let mut turned = turned(&spread.cells, self.columns);
            along_rows(&mut turned, self.rows, half(mm.1));
            spread.cells = self::turned(&turned, self.rows);
        }
        spread
    }
}

/// Rows as columns and columns as rows.
fn turned(cells: &[f32], columns: usize) -> Vec<f32> {
    const BLOCK: usize = 16;
    let rows = cells.len() / columns;
    let mut turned = vec![0.0; cells.len()];
    turned.par_chunks_mut(BLOCK * rows).enumerate().for_each(|(block, part)| {
        let first = block * BLOCK;
        let count = part.len() / rows;
        for (row, line) in cells.chunks_exact(columns).enumerate() {
            for (n, cell) in line[first..first + count].iter().enumerate() {
                part[n * rows + row] = *cell;
            }
        }
    });
    turned
}

fn along_rows(cells: &mut [f32], columns: usize, half: usize) {
    if half == 0 || columns < 2 {
        return;
    }
    cells.par_chunks_mut(columns).for_each_init(
        || vec![0.0; columns + 2 * half + 1],
        |padded, line| (0..3).for_each(|_| boxed(line, half, padded)),
    );
}

/// The mean of each cell and so many to each side; beyond its ends a line is seen as in a mirror.
fn boxed(line: &mut [f32], half: usize, padded: &mut [f32]) {
    let long = line.len();
    padded[half..half + long].copy_from_slice(line);
    let mirrored = |beyond: usize| {
        let at = beyond % (2 * long);
        if at < long { at } else { 2 * long - 1 - at }
    };
    for beyond in 0..half {
        padded[half - 1 - beyond] = line[mirrored(beyond)];
        padded[half + long + beyond] = line[long - 1 - mirrored(beyond)];
    }
    padded[long + 2 * half] = 0.0;
    let wide = 2 * half + 1;
    let mut sum: f64 = padded[..wide].iter().map(|cell| f64::from(*cell)).sum();
    let share = 1.0 / wide as f64;
    for (at, cell) in line.iter_mut().enumerate() {
        *cell = (sum * share) as f32;
        sum += f64::from(padded[at + wide]) - f64::from(padded[at]);
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
