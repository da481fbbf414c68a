//! How do X, Y and Z change where water has been?
//!
//! Coats are smooth and stand in the [table](super::table); what water leaves is fine. For every cell of a quarter of a
//! millimetre, or of a pixel where that is larger, coats and films are laid one over the other in a few broad bands, with
//! the films and without them: the difference of the logarithms goes on top of what the table says.

use std::sync::Arc;

use rayon::prelude::*;

use crate::colour::Illuminant;
use crate::ink::Kind;
use crate::ink::few::{self, Eye, FEW, Few, FewFilm};
use crate::surface::Surface;
use crate::water::raster::CELL;
use crate::water::{Effect, Raster};

/// Millimetres between places at which it is looked how much of each coat lies there.
const SMOOTH_MM: f64 = 2.0;
/// What may lie otherwise at a place than between its neighbours, in swatches or shares, before it is worked out by itself.
const BETWEEN: f32 = 0.01;
/// How much of an ink is none.
const NONE: f32 = 1e-3;

/// The changes, cell by cell.
#[derive(Clone, Debug)]
pub struct Wet {
    /// The first cell's middle, in millimetres from the left and top.
    first: (f64, f64),
    cell: f64,
    columns: usize,
    rows: usize,
    /// What is added to ln X, ln Y and ln Z, and how much ink came with it, in full swatches.
    changes: Vec<[f32; 4]>,
}

/// How much of each ink was brushed on between two films, at the places of a coarse sheet.
struct Brushed {
    ink: usize,
    amounts: Vec<f32>,
}

/// What lies there, in order.
enum Item<'a> {
    Coats(Brushed),
    Ink(usize, &'a Raster),
    Left([&'a Raster; 2]),
}

impl Wet {
    /// Of a part of a card; nothing where no water has been but what stands out in drops.
    pub fn of(surface: &Surface, effects: &[Arc<Effect>], pixel_mm: f64) -> Option<Wet> {
        let lets = surface.under.map_or(1.0, |seal| seal.lets(&surface.materials));
        if lets == 0.0 {
            return None;
        }
        if effects.iter().all(|effect| effect.inks.is_empty() && effect.left.is_none()) {
            return None;
        }
        let cell = CELL.max(pixel_mm);
        let (first, (wide, high)) = surface.window;
        let first = (first.0.max(0.0) + 0.5 * cell, first.1.max(0.0) + 0.5 * cell);
        let count = |mm: f64| (mm / cell).ceil().max(1.0) as usize;
        let (columns, rows) = (count(wide), count(high));
        let sheet = Sheet::over(surface);
        let items = items(surface, effects, &sheet);
        let films: Vec<FewFilm> = surface.materials.films.iter().map(FewFilm::of).collect();
        let kinds: Vec<Kind> = surface.materials.inks.iter().map(|ink| ink.kind).collect();
        let (eye, card) = (Eye::under(Illuminant::D65), few::card(&surface.materials.card));
        let dry = sheet.dry(&items, (&films, &kinds), (&card, &eye));
        let whole = Raster::empty(surface.materials.size_mm());
        // Cells are about as large as those of the rasters: the nearest is read.
        let columns_of: Vec<usize> =
            (0..columns).map(|n| whole.column_at(first.0 + n as f64 * cell)).collect();
        let rows_of: Vec<usize> = (0..rows).map(|n| whole.row_at(first.1 + n as f64 * cell)).collect();
        let place = |column: usize, row: usize| rows_of[row] * whole.columns + columns_of[column];
        let work = || Work { films: &films, kinds: &kinds, laid: vec![0.0; films.len()], lies: Vec::new() };
        let at = |column: usize, row: usize| (first.0 + column as f64 * cell, first.1 + row as f64 * cell);
        let worked_out = |work: &mut Work, column: usize, row: usize| {
            let place = (place(column, row), at(column, row));
            let change = work.change(&items, (&sheet, &dry), place, (&card, &eye));
            change.map(|change| lets * change)
        };
        // Whether what lies at a place is what lies between two others: then it looks so too.
        let is_between = |[here, one, other]: [(usize, usize); 3]| {
            let [here, one, other] = [here, one, other].map(|(column, row)| place(column, row));
            let is_even = |raster: &Raster| {
                let cells = &raster.cells;
                (cells[here] - 0.5 * (cells[one] + cells[other])).abs() < BETWEEN
            };
            items.iter().all(|item| match item {
                Item::Coats(_) => true,
                Item::Ink(_, raster) => is_even(raster),
                Item::Left(left) => left.iter().all(|raster| is_even(raster)),
            })
        };
        let mean = |one: &[f32; 4], other: &[f32; 4]| std::array::from_fn(|n| 0.5 * (one[n] + other[n]));
        // Every second row, in it every second place, and what cannot be told from its neighbours.
        let mut every_second = vec![[0.0; 4]; columns * rows.div_ceil(2)];
        every_second.par_chunks_mut(columns).enumerate().for_each_init(work, |work, (half, line)| {
            let row = 2 * half;
            (0..columns).step_by(2).for_each(|column| line[column] = worked_out(work, column, row));
            for column in (1..columns).step_by(2) {
                let has_next = column + 1 < columns;
                let is_even = has_next && is_between([(column, row), (column - 1, row), (column + 1, row)]);
                line[column] = if is_even {
                    mean(&line[column - 1], &line[column + 1])
                } else {
                    worked_out(work, column, row)
                };
            }
        });
        let mut changes = vec![[0.0; 4]; columns * rows];
        changes.par_chunks_mut(columns).enumerate().for_each_init(work, |work, (row, line)| {
            let above = &every_second[row / 2 * columns..];
            if row % 2 == 0 {
                line.copy_from_slice(&above[..columns]);
                return;
            }
            for (column, change) in line.iter_mut().enumerate() {
                let below = above.get(columns + column);
                *change = match below {
                    Some(below) if is_between([(column, row), (column, row - 1), (column, row + 1)]) => {
                        mean(&above[column], below)
                    }
                    _ => worked_out(work, column, row),
                };
            }
        });
        Some(Wet { first, cell, columns, rows, changes })
    }

    /// Adds the changes along a row of pixels to what is there.
    pub fn add(&self, across: std::ops::Range<usize>, mm: f64, y: f64, logs: &mut [[f32; 4]]) {
        let place = |at: f64, first: f64, most: usize| {
            let at = ((at - first) / self.cell).clamp(0.0, (most - 1) as f64);
            (at as usize, (at as usize + 1).min(most - 1), at.fract() as f32)
        };
        let (above, below, down) = place(y, self.first.1, self.rows);
        let (above, below) = (&self.changes[above * self.columns..], &self.changes[below * self.columns..]);
        let between = |one: &[f32; 4], other: &[f32; 4], along: f32| -> [f32; 4] {
            std::array::from_fn(|n| one[n] + along * (other[n] - one[n]))
        };
        for (column, logs) in across.zip(logs) {
            let (left, right, along) = place((column as f64 + 0.5) * mm, self.first.0, self.columns);
            let change = between(
                &between(&above[left], &below[left], down),
                &between(&above[right], &below[right], down),
                along,
            );
            *logs = std::array::from_fn(|n| logs[n] + change[n]);
        }
    }
}

/// Places every two millimetres.
struct Sheet {
    first: (f64, f64),
    step: (f64, f64),
    columns: usize,
    rows: usize,
}

impl Sheet {
    fn over(surface: &Surface) -> Sheet {
        let (first, (wide, high)) = surface.window;
        let steps = |mm: f64| (mm / SMOOTH_MM).ceil().max(1.0);
        let (across, down) = (steps(wide), steps(high));
        Sheet {
            first,
            step: (wide / across, high / down),
            columns: across as usize + 1,
            rows: down as usize + 1,
        }
    }

    /// ln X, ln Y and ln Z at each place of what was brushed on, had no water come.
    fn dry(
        &self,
        items: &[Item],
        (films, kinds): (&[FewFilm], &[Kind]),
        (card, eye): (&Few, &Eye),
    ) -> Vec<[f32; 3]> {
        let at = |place: usize| {
            let coats = items.iter().filter_map(|item| match item {
                Item::Coats(Brushed { ink, amounts }) => Some((*ink, amounts[place])),
                _ => None,
            });
            let lies: Vec<(usize, f32)> = coats.filter(|(_, amount)| *amount > NONE).collect();
            let mut work = Work { films, kinds, laid: vec![0.0; films.len()], lies: Vec::new() };
            work.seen(&lies, (card, eye))
        };
        (0..self.columns * self.rows).into_par_iter().map(at).collect()
    }

    /// The four places round one, and the share of each.
    #[inline]
    fn about(&self, (x, y): (f64, f64)) -> [(usize, f32); 4] {
        let place = |at: f64, first: f64, step: f64, most: usize| {
            let at = ((at - first) / step).clamp(0.0, (most - 1) as f64);
            (at as usize, (at as usize + 1).min(most - 1), at.fract() as f32)
        };
        let (left, right, across) = place(x, self.first.0, self.step.0, self.columns);
        let (top, below, down) = place(y, self.first.1, self.step.1, self.rows);
        let of = |row: usize, column: usize, share: f32| (row * self.columns + column, share);
        [
            of(top, left, (1.0 - across) * (1.0 - down)),
            of(top, right, across * (1.0 - down)),
            of(below, left, (1.0 - across) * down),
            of(below, right, across * down),
        ]
    }
}

/// Everything that lies on a surface, coats of one ink between two films taken together.
fn items<'a>(surface: &Surface, effects: &'a [Arc<Effect>], sheet: &Sheet) -> Vec<Item<'a>> {
    let spots = (0..sheet.columns * sheet.rows).into_par_iter().map(|at| {
        let x = sheet.first.0 + (at % sheet.columns) as f64 * sheet.step.0;
        let y = sheet.first.1 + (at / sheet.columns) as f64 * sheet.step.1;
        surface.veils_at(&surface.spot(x, y))
    });
    let veils: Vec<Vec<f64>> = spots.collect();
    let brushed = |from: usize, to: usize| {
        let mut inks: Vec<usize> = Vec::new();
        for coat in &surface.coats[from..to] {
            if !inks.contains(&coat.ink) {
                inks.push(coat.ink);
            }
        }
        let of = |ink: usize| {
            let full = surface.materials.full_veils(ink);
            let here = |veils: &Vec<f64>| {
                let own = (from..to).filter(|at| surface.coats[*at].ink == ink).map(|at| veils[at]);
                (own.sum::<f64>() / full) as f32
            };
            Item::Coats(Brushed { ink, amounts: veils.iter().map(here).collect() })
        };
        inks.into_iter().map(of).collect::<Vec<_>>()
    };
    let (mut items, mut before) = (Vec::new(), 0);
    for (film, effect) in surface.films.iter().zip(effects) {
        items.extend(brushed(before, film.above));
        before = film.above;
        items.extend(effect.inks.iter().map(|(ink, raster)| Item::Ink(*ink, raster)));
        items.extend(effect.left.as_ref().map(|[dye, oxide]| Item::Left([dye, oxide])));
    }
    items.extend(brushed(before, surface.coats.len()));
    items
}

/// What is reckoned with at one cell.
struct Work<'a> {
    films: &'a [FewFilm],
    kinds: &'a [Kind],
    /// How much of each ink lies beneath.
    laid: Vec<f32>,
    /// What lies there: each ink, and how much of it.
    lies: Vec<(usize, f32)>,
}

impl Work<'_> {
    fn change(
        &mut self,
        items: &[Item],
        (sheet, dry): (&Sheet, &[[f32; 3]]),
        (cell, at): (usize, (f64, f64)),
        (card, eye): (&Few, &Eye),
    ) -> [f32; 4] {
        // Most of a card may have stayed as it was.
        let is_touched = |item: &Item| match item {
            Item::Coats(_) => false,
            Item::Ink(_, raster) => raster.cells[cell] > NONE,
            Item::Left([of_dye, of_oxide]) => {
                (of_dye.cells[cell] - 1.0).abs() > NONE || (of_oxide.cells[cell] - 1.0).abs() > NONE
            }
        };
        if !items.iter().any(is_touched) {
            return [0.0; 4];
        }
        let about = sheet.about(at);
        self.lies.clear();
        let mut came = 0.0;
        for item in items {
            match item {
                Item::Coats(Brushed { ink, amounts }) => {
                    let amount: f32 = about.iter().map(|(at, share)| share * amounts[*at]).sum();
                    if amount > NONE {
                        self.lies.push((*ink, amount));
                    }
                }
                Item::Ink(ink, raster) => {
                    let amount = raster.cells[cell];
                    if amount > NONE {
                        came += amount;
                        self.lies.push((*ink, amount));
                    }
                }
                Item::Left([of_dye, of_oxide]) => {
                    for (ink, amount) in &mut self.lies {
                        *amount *= match self.kinds[*ink] {
                            Kind::Dye => of_dye.cells[cell],
                            Kind::Oxide => of_oxide.cells[cell],
                            Kind::Pigment => 1.0,
                        };
                    }
                }
            }
        }
        let lies = std::mem::take(&mut self.lies);
        let after = self.seen(&lies, (card, eye));
        self.lies = lies;
        let before: [f32; 3] =
            std::array::from_fn(|n| about.iter().map(|(at, share)| share * dry[*at][n]).sum());
        [after[0] - before[0], after[1] - before[1], after[2] - before[2], 10.0 * came]
    }

    /// ln X, ln Y and ln Z of inks laid one over the other.
    fn seen(&mut self, lies: &[(usize, f32)], (card, eye): (&Few, &Eye)) -> [f32; 3] {
        self.laid.iter_mut().for_each(|laid| *laid = 0.0);
        let (mut internal, mut clear, mut is_clear) = (*card, [0.0; FEW], true);
        let mut all = 0.0;
        for &(ink, amount) in lies {
            let film = &self.films[ink];
            let own = self.laid[ink];
            let taken = 1.0 - film.traps * (all - own).clamp(0.0, 1.0);
            if film.scattering > 0.0 {
                if !is_clear {
                    few::laid(&clear, 0.0, &mut internal);
                    (clear, is_clear) = ([0.0; FEW], true);
                }
                let mut k = [0.0; FEW];
                film.add(own, own + amount, taken, &mut k);
                few::laid(&k, film.scattering * amount * taken, &mut internal);
            } else {
                film.add(own, own + amount, taken, &mut clear);
                is_clear = false;
            }
            self.laid[ink] += amount;
            all += amount;
        }
        if !is_clear {
            few::laid(&clear, 0.0, &mut internal);
        }
        eye.logs(&internal)
    }
}
