//! How much lies in each quarter of a millimetre?

use rayon::prelude::*;

/// Millimetres along a cell.
pub const CELL: f64 = 0.25;

/// Cells that are worked on together.
const AT_ONCE: usize = 8_192;

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
    pub fn like(&self, of: impl Fn(usize) -> f32 + Sync + Send) -> Raster {
        let cells = (0..self.cells.len()).into_par_iter().with_min_len(AT_ONCE);
        Raster { cells: cells.map(of).collect(), ..*self }
    }

    /// Changes each cell, by its place.
    pub fn change(&mut self, to: impl Fn(usize, &mut f32) + Sync + Send) {
        let cells = self.cells.par_iter_mut().with_min_len(AT_ONCE);
        cells.enumerate().for_each(|(cell, amount)| to(cell, amount));
    }

    /// The middle of a cell, in millimetres from the left and top.
    pub fn middle(&self, cell: usize) -> (f64, f64) {
        let at = |n: usize| (n as f64 + 0.5) * CELL;
        (at(cell % self.columns), at(cell / self.columns))
    }

    /// The column that so many millimetres from the left lie in, or the nearest to it.
    pub fn column_at(&self, x: f64) -> usize {
        ((x / CELL).max(0.0) as usize).min(self.columns - 1)
    }

    /// The row that so many millimetres from the top lie in, or the nearest to it.
    pub fn row_at(&self, y: f64) -> usize {
        ((y / CELL).max(0.0) as usize).min(self.rows - 1)
    }

    /// Drops an amount on a place in millimetres, shared out over the four cells round it; what falls beside is lost.
    ///
    /// ```
    /// # use rosy_core::water::Raster;
    /// let mut raster = Raster::empty((20.0, 10.0));
    /// raster.drop_on((7.3, 4.1), 2.0);
    /// // All of it lies somewhere near there, and what falls beside the card is gone.
    /// assert!((raster.sum() - 2.0).abs() < 1e-5);
    /// raster.drop_on((-5.0, 4.0), 1.0);
    /// assert!((raster.sum() - 2.0).abs() < 1e-5);
    /// ```
    pub fn drop_on(&mut self, (x, y): (f64, f64), amount: f64) {
        let place = |mm: f64| {
            let at = mm / CELL - 0.5;
            (at.floor() as i64, at - at.floor())
        };
        let ((left, across), (top, down)) = (place(x), place(y));
        let on_it = |at: i64, most: usize| usize::try_from(at).ok().filter(|at| *at < most);
        for (row, of_rows) in [(top, 1.0 - down), (top + 1, down)] {
            for (column, of_columns) in [(left, 1.0 - across), (left + 1, across)] {
                if let (Some(row), Some(column)) = (on_it(row, self.rows), on_it(column, self.columns)) {
                    self.cells[row * self.columns + column] += (amount * of_rows * of_columns) as f32;
                }
            }
        }
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
        self.sum_of(f64::from)
    }

    /// What comes of each cell, all of it together.
    pub fn sum_of(&self, of: impl Fn(f32) -> f64 + Sync) -> f64 {
        let part = |cells: &[f32]| {
            let (eights, rest) = cells.as_chunks::<LANES>();
            let mut sums = [0.0; LANES];
            for eight in eights {
                sums.iter_mut().zip(eight).for_each(|(sum, cell)| *sum += of(*cell));
            }
            sums.iter().sum::<f64>() + rest.iter().map(|cell| of(*cell)).sum::<f64>()
        };
        // Added in the same order however many work on it.
        self.cells.par_chunks(AT_ONCE).map(part).collect::<Vec<f64>>().iter().sum()
    }

    /// Scaled so that its cells differ from nothing by so much, as their standard deviation.
    #[must_use]
    pub fn of_width(mut self, width: f64) -> Raster {
        let own = (self.sum_of(|cell| f64::from(cell).powi(2)) / self.cells.len() as f64).sqrt();
        let by = (width / own.max(1e-9)) as f32;
        self.change(|_, cell| *cell *= by);
        self
    }

    /// The cells within so many millimetres of a place, with how far each lies from it.
    pub fn within(&self, (x, y): (f64, f64), reach: f64) -> impl Iterator<Item = (usize, f64)> + '_ {
        let columns = span(x, reach, self.columns);
        span(y, reach, self.rows)
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
    pub fn spread(mut self, mm: (f64, f64)) -> Raster {
        let half = |mm: f64| (((4.0 * (mm / CELL).powi(2) + 1.0).sqrt() - 1.0) / 2.0).round() as usize;
        if half(mm.0) > 0 {
            spread_across(&mut self.cells, self.columns, half(mm.0));
        }
        if half(mm.1) > 0 {
            spread_down(&mut self.cells, self.columns, half(mm.1));
        }
        self
    }
}

/// Lines that are spread together.
const LANES: usize = 8;

/// The amount above which so many cells lie; nothing where fewer have anything.
pub fn above_which(raster: &Raster, count: usize) -> f32 {
    // What is above nothing is in the order of its bits: the upper half of them is sorted by counting.
    const HALF: u32 = 16;
    let bits = |cell: &f32| (*cell > 0.0).then_some(cell.to_bits());
    let mut counts = vec![0_usize; 1 << HALF];
    raster.cells.iter().filter_map(bits).for_each(|bits| counts[(bits >> HALF) as usize] += 1);
    let mut above = 0;
    let holds = (0..counts.len()).rev().find(|upper| {
        above += counts[*upper];
        above > count
    });
    let Some(upper) = holds else { return 0.0 };
    let mut alike: Vec<u32> =
        raster.cells.iter().filter_map(bits).filter(|bits| (bits >> HALF) as usize == upper).collect();
    f32::from_bits(*alike.select_nth_unstable(above - count - 1).1)
}

/// A cell of each of some lines side by side.
type Across = [f32; LANES];

/// Three times the mean of each cell and so many to each side; beyond its ends a line is seen as in a mirror.
fn spread_along(lines: &mut [Across], half: usize, padded: &mut Vec<Across>) {
    let long = lines.len();
    let wide = 2 * half + 1;
    let mirrored = |beyond: usize| {
        let at = beyond % (2 * long);
        if at < long { at } else { 2 * long - 1 - at }
    };
    padded.resize(long + wide, [0.0; LANES]);
    for _ in 0..3 {
        padded[half..half + long].copy_from_slice(lines);
        for beyond in 0..half {
            padded[half - 1 - beyond] = lines[mirrored(beyond)];
            padded[half + long + beyond] = lines[long - 1 - mirrored(beyond)];
        }
        let mut sum = [0.0; LANES];
        for cells in &padded[..wide] {
            sum.iter_mut().zip(cells).for_each(|(sum, cell)| *sum += cell);
        }
        let share = 1.0 / wide as f32;
        let passing = padded.iter().zip(&padded[wide..]);
        for (cells, (leaving, entering)) in lines.iter_mut().zip(passing) {
            *cells = sum.map(|sum| sum * share);
            sum = std::array::from_fn(|lane| sum[lane] + (entering[lane] - leaving[lane]));
        }
    }
}

fn spread_across(cells: &mut [f32], columns: usize, half: usize) {
    cells.par_chunks_mut(LANES * columns).for_each_init(
        || (vec![[0.0; LANES]; columns], Vec::new()),
        |(lines, padded), rows| {
            for (lane, row) in rows.chunks_exact(columns).enumerate() {
                lines.iter_mut().zip(row).for_each(|(cells, cell)| cells[lane] = *cell);
            }
            spread_along(lines, half, padded);
            for (lane, row) in rows.chunks_exact_mut(columns).enumerate() {
                row.iter_mut().zip(&*lines).for_each(|(cell, cells)| *cell = cells[lane]);
            }
        },
    );
}

fn spread_down(cells: &mut [f32], columns: usize, half: usize) {
    let rows = cells.len() / columns;
    let mut strips = vec![[0.0; LANES]; columns.div_ceil(LANES) * rows];
    strips.par_chunks_mut(rows).enumerate().for_each_init(Vec::new, |padded, (nth, lines)| {
        let first = nth * LANES;
        let wide = LANES.min(columns - first);
        for (strip, row) in lines.iter_mut().zip(cells.chunks_exact(columns)) {
            strip[..wide].copy_from_slice(&row[first..first + wide]);
        }
        spread_along(lines, half, padded);
    });
    cells.par_chunks_mut(columns).enumerate().for_each(|(row, line)| {
        for (part, strip) in line.chunks_mut(LANES).zip(strips.chunks_exact(rows)) {
            part.copy_from_slice(&strip[row][..part.len()]);
        }
    });
}

/// Rows that are worked on together.
const BAND: usize = 24;

/// An oval: its middle, and how far it reaches to the sides and up and down, in millimetres.
#[derive(Clone, Copy, Debug)]
pub struct Oval {
    /// Its middle.
    pub at: (f64, f64),
    /// How far it reaches.
    pub reach: (f64, f64),
}

impl Oval {
    /// A round one.
    pub const fn round(at: (f64, f64), reach: f64) -> Oval {
        Oval { at, reach: (reach, reach) }
    }
}

/// Works on all that lies in the ovals about some places: on what is there, with the cell's number and how far to the right
/// and below the oval's middle its own lies. Bands of rows are worked on side by side; what comes to a cell comes in the
/// places' order.
pub fn about<C: Send, P: Sync>(
    cells: &mut [C],
    columns: usize,
    places: &[P],
    oval: impl Fn(&P) -> Oval + Sync,
    work: impl Fn(&mut C, usize, (f64, f64), &P) + Sync,
) {
    let rows = cells.len() / columns;
    let mut of_bands = vec![Vec::new(); rows.div_ceil(BAND)];
    for place in places {
        let Oval { at, reach } = oval(place);
        let over = span(at.1, reach.1, rows);
        if !over.is_empty() {
            (over.start / BAND..=(over.end - 1) / BAND).for_each(|band| of_bands[band].push(place));
        }
    }
    let bands = cells.par_chunks_mut(BAND * columns).zip(&of_bands).enumerate();
    bands.for_each(|(band, (lines, places))| {
        let own = band * BAND..band * BAND + lines.len() / columns;
        for place in places {
            let Oval { at: (x, y), reach } = oval(place);
            let down = span(y, reach.1, rows);
            for row in down.start.max(own.start)..down.end.min(own.end) {
                let below = (row as f64 + 0.5) * CELL - y;
                // What of the row lies in it.
                let half = reach.0 * (1.0 - (below / reach.1).powi(2)).max(0.0).sqrt();
                let first = ((x - half) / CELL - 0.5).ceil().max(0.0) as usize;
                let end = (((x + half) / CELL - 0.5).floor() + 1.0).max(0.0) as usize;
                let across = first.min(columns)..end.clamp(first.min(columns), columns);
                let line = &mut lines[(row - own.start) * columns..][across.clone()];
                for (column, cell) in across.zip(line) {
                    let right = (column as f64 + 0.5) * CELL - x;
                    work(cell, row * columns + column, (right, below), place);
                }
            }
        }
    });
}

/// The cells of a line that a reach about a place may touch.
fn span(at: f64, reach: f64, most: usize) -> std::ops::Range<usize> {
    let first = ((at - reach) / CELL).floor().max(0.0) as usize;
    let last = ((at + reach) / CELL).ceil().max(0.0) as usize;
    first.min(most)..last.min(most)
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
        let about = raster.middle(middle);
        let spread = raster.spread((3.0, 1.0));
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

    #[test]
    fn what_is_dropped_stays_where_it_fell_and_beside_the_edge_it_is_lost() {
        let mut raster = Raster::empty((20.0, 30.0));
        raster.drop_on((7.3, 11.9), 4.0);
        let along = |axis: usize| -> f64 {
            let middle = |cell: usize| [raster.middle(cell).0, raster.middle(cell).1][axis];
            (0..raster.cells.len()).map(|cell| f64::from(raster.cells[cell]) * middle(cell)).sum::<f64>()
        };
        assert!((raster.sum() - 4.0).abs() < 1e-5);
        assert!((along(0) / 4.0 - 7.3).abs() < 1e-4 && (along(1) / 4.0 - 11.9).abs() < 1e-4);
        raster.drop_on((-3.0, 5.0), 1.0);
        raster.drop_on((0.0, 5.0), 1.0);
        assert!((raster.sum() - 4.5).abs() < 1e-5, "half of what falls on the edge");
    }

    proptest! {
        #[test]
        fn bands_of_rows_do_what_one_place_after_the_other_does(
            places in proptest::collection::vec((-4.0..24.0, -4.0..34.0, 0.1..9.0, 0.1..9.0), 0..12),
        ) {
            let mut raster = Raster::empty((20.0, 30.0));
            let ovals: Vec<Oval> =
                places.into_iter().map(|(x, y, across, down)| Oval { at: (x, y), reach: (across, down) }).collect();
            // The order tells in what comes of it.
            about(&mut raster.cells, raster.columns, &ovals, |oval| *oval, |cell, _, (right, below), _| {
                *cell = 0.5 * *cell + (right + 2.0 * below) as f32;
            });
            for cell in 0..raster.cells.len() {
                let (x, y) = raster.middle(cell);
                let lies = |oval: &&Oval| {
                    let far = |off: f64, reach: f64| (off / reach).powi(2);
                    far(x - oval.at.0, oval.reach.0) + far(y - oval.at.1, oval.reach.1) <= 1.0
                };
                let meant = ovals.iter().filter(lies).fold(0.0, |amount: f32, oval| {
                    0.5 * amount + ((x - oval.at.0) + 2.0 * (y - oval.at.1)) as f32
                });
                prop_assert!((raster.cells[cell] - meant).abs() < 1e-3, "{x} {y}");
            }
        }

        #[test]
        fn as_many_lie_above_as_asked_for(
            cells in proptest::collection::vec(-1.0_f32..3.0, 40 * 30), count in 0_usize..1_300,
        ) {
            let raster = Raster { columns: 40, rows: 30, cells };
            let least = above_which(&raster, count);
            let with_any = raster.cells.iter().filter(|cell| **cell > 0.0).count();
            let above = raster.cells.iter().filter(|cell| **cell > least).count();
            prop_assert!(above <= count && above + 2 >= count.min(with_any), "{above} {count} {with_any}");
        }

        #[test]
        fn spreading_neither_makes_nor_loses_anything(
            cells in proptest::collection::vec(0.0_f32..5.0, 35 * 24), across in 0.0..6.0, down in 0.0..6.0,
        ) {
            let raster = Raster { columns: 35, rows: 24, cells };
            let before = raster.sum();
            let spread = raster.spread((across, down));
            prop_assert!((spread.sum() - before).abs() < 1e-3 * before);
            prop_assert!(spread.cells.iter().all(|cell| *cell >= 0.0));
        }
    }
}
