//! How does ink lie once a puddle has dried?
//!
//! A drying puddle is pinned at its edge and carries ink there (Deegan et al., *Nature* 1997): what dries is part an even
//! film and part a rim whose strength falls off with the distance from the edge. Each puddle keeps just the ink it had.

use std::ops::Range;

use rayon::prelude::*;

use super::raster::{CELL, Raster};

/// Puddles: which cells hang together, and how far each lies from the edge.
#[derive(Clone, Debug)]
pub struct Puddles {
    /// Wet cells side by side, and the puddle they belong to, from 0.
    pub runs: Vec<(Range<usize>, usize)>,
    /// Millimetres to the edge.
    pub deep: Vec<f32>,
    /// How many.
    pub count: usize,
}

/// What is dry or wet on a raster of so many columns: runs of wet cells that touch from row to row hang together.
pub fn puddles(wet: &[bool], columns: usize) -> Puddles {
    let mut runs: Vec<Run> = Vec::new();
    let mut above = 0..0;
    for (row, line) in wet.chunks_exact(columns).enumerate() {
        let first = runs.len();
        let mut column = 0;
        while let Some(start) = line[column..].iter().position(|wet| *wet).map(|at| column + at) {
            let end = line[start..].iter().position(|wet| !*wet).map_or(columns, |at| start + at);
            runs.push(Run { cells: row * columns + start..row * columns + end, same_as: runs.len() });
            column = end;
        }
        join(&mut runs, above, first, columns);
        above = first..runs.len();
    }
    let (mut numbers, mut count) = (vec![0; runs.len()], 0);
    for at in 0..runs.len() {
        // What hangs together is known by the first of its runs.
        let same = first_of(&mut runs, at);
        numbers[at] = if same == at { count } else { numbers[same] };
        count += usize::from(same == at);
    }
    let runs = runs.into_iter().map(|run| run.cells).zip(numbers).collect();
    Puddles { runs, deep: deep(wet, columns), count }
}

/// Wet cells side by side, and an earlier run that they hang together with.
struct Run {
    cells: Range<usize>,
    same_as: usize,
}

/// The first of all runs that one hangs together with.
fn first_of(runs: &mut [Run], mut at: usize) -> usize {
    while runs[at].same_as != at {
        runs[at].same_as = runs[runs[at].same_as].same_as;
        at = runs[at].same_as;
    }
    at
}

/// Joins the runs of a row, which begin at some number, with those of the row above that they touch.
fn join(runs: &mut [Run], mut above: Range<usize>, first: usize, columns: usize) {
    for own in first..runs.len() {
        let cells = runs[own].cells.clone();
        while let Some(over) = above.next() {
            let (start, end) = (runs[over].cells.start + columns, runs[over].cells.end + columns);
            if start < cells.end && cells.start < end {
                let (one, other) = (first_of(runs, over), first_of(runs, own));
                let earlier = one.min(other);
                runs[one.max(other)].same_as = earlier;
            }
            // It may reach over the next one too.
            if end > cells.end {
                above.start = over;
                break;
            }
        }
    }
}

/// How far each wet cell lies from the dry, by two sweeps that count 1 beside and √2 across (Borgefors 1986).
fn deep(wet: &[bool], columns: usize) -> Vec<f32> {
    const FAR: f32 = 1e6;
    const ACROSS: f32 = std::f32::consts::SQRT_2;
    let mut deep: Vec<f32> = wet.iter().map(|wet| if *wet { FAR } else { 0.0 }).collect();
    // The row before, with nothing beside its ends, and what it brings to each cell of the next.
    let mut before = vec![FAR; columns + 2];
    let mut sweep = |deep: &mut [f32], is_forward: bool| {
        before.fill(FAR);
        let rows = deep.len() / columns;
        for row in 0..rows {
            let row = if is_forward { row } else { rows - 1 - row };
            let line = &mut deep[row * columns..(row + 1) * columns];
            for (cell, near) in line.iter_mut().zip(before.windows(3)) {
                *cell = cell.min(near[1] + 1.0).min(near[0].min(near[2]) + ACROSS);
            }
            // Seen from the row's beginning, what lies along it adds nothing to the least.
            let mut least = FAR;
            let along = |(steps, cell): (usize, &mut f32)| {
                least = least.min(*cell - steps as f32);
                *cell = least + steps as f32;
            };
            if is_forward {
                line.iter_mut().enumerate().for_each(along)
            } else {
                line.iter_mut().rev().enumerate().for_each(along)
            }
            before[1..=columns].copy_from_slice(line);
        }
    };
    sweep(&mut deep, true);
    sweep(&mut deep, false);
    deep.into_iter().map(|cells| if cells >= FAR { 1e3 } else { cells * CELL as f32 }).collect()
}

/// How the ink of a drying puddle goes to its edge.
#[derive(Clone, Copy, Debug)]
pub struct Rim {
    /// The share of it that goes there.
    pub share: f64,
    /// Millimetres in which the fine line at the edge, and the broad one behind it, fall off.
    pub fine: f64,
    /// The broad one.
    pub broad: f64,
}

/// Puddles as they dry: how strongly each cell draws ink to the edge.
#[derive(Clone, Debug)]
pub struct Drying<'a> {
    puddles: &'a Puddles,
    draws: Vec<f32>,
}

impl Drying<'_> {
    /// Of some puddles, their rims falling off in so many millimetres.
    pub fn of(puddles: &Puddles, rim: Rim) -> Drying<'_> {
        // Depths are whole steps beside and across: few of them, so that each is reckoned once.
        const STEPS: f32 = 64.0;
        let deepest = 8.0 * rim.broad as f32;
        let at_edge = |deep: f32| {
            let deep = f64::from(deep) - 0.5 * CELL;
            (0.65 * (-deep / rim.fine).exp() + 0.35 * (-deep / rim.broad).exp()) as f32
        };
        let known: Vec<f32> = (0..=(deepest * STEPS) as usize).map(|n| at_edge(n as f32 / STEPS)).collect();
        let draws = |deep: &f32| known.get((deep * STEPS) as usize).copied().unwrap_or(0.0);
        let cells = puddles.deep.par_iter().with_min_len(8_192);
        Drying { puddles, draws: cells.map(draws).collect() }
    }

    /// An amount that lies in them as they dry: a share of each puddle's ink goes to its rim, and none of it is lost.
    pub fn dried(&self, amount: &Raster, share: f64) -> Raster {
        let mut sums = vec![(0.0_f64, 0.0_f64); self.puddles.count];
        for (run, of) in &self.puddles.runs {
            let (total, edge) = &mut sums[*of];
            for (held, draws) in amount.cells[run.clone()].iter().zip(&self.draws[run.clone()]) {
                *total += f64::from(*held);
                // Where there is more ink the rim is stronger.
                *edge += f64::from(held * draws);
            }
        }
        let share = share as f32;
        let mut dried = amount.clone();
        for (run, of) in &self.puddles.runs {
            let (total, edge) = sums[*of];
            if edge > 0.0 {
                let rim = share * (total / edge) as f32;
                for (held, draws) in dried.cells[run.clone()].iter_mut().zip(&self.draws[run.clone()]) {
                    *held *= 1.0 - share + rim * draws;
                }
            }
        }
        dried
    }
}

/// An amount that lies in puddles as they dry: part of each puddle's ink goes to its rim.
pub fn dried(amount: &Raster, puddles: &Puddles, rim: Rim) -> Raster {
    Drying::of(puddles, rim).dried(amount, rim.share)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_round_puddle_dries_to_a_rim_and_keeps_its_ink() {
        let mut amount = Raster::empty((30.0, 30.0));
        let inside: Vec<usize> = amount.within((15.0, 15.0), 8.0).map(|(cell, _)| cell).collect();
        inside.iter().for_each(|cell| amount.cells[*cell] = 0.5);
        let wet: Vec<bool> = amount.cells.iter().map(|cell| *cell > 0.0).collect();
        let found = puddles(&wet, amount.columns);
        assert_eq!(found.count, 1);
        let dried = dried(&amount, &found, Rim { share: 0.4, fine: 0.28, broad: 1.3 });
        assert!((dried.sum() / amount.sum() - 1.0).abs() < 1e-4);
        let at = |x: f64, y: f64| dried.cells[(y / CELL) as usize * dried.columns + (x / CELL) as usize];
        assert!(at(22.7, 15.0) > 1.3 * at(15.0, 15.0), "{} {}", at(22.7, 15.0), at(15.0, 15.0));
        assert_eq!(at(25.0, 15.0), 0.0);
        // How deep a cell lies is the distance to the edge, within what two sweeps can tell.
        let middle = (15.0 / CELL) as usize * amount.columns + (15.0 / CELL) as usize;
        assert!((found.deep[middle] - 8.0).abs() < 0.7, "{}", found.deep[middle]);
    }

    proptest! {
        #[test]
        fn puddles_are_what_hangs_together(wet in proptest::collection::vec(proptest::bool::weighted(0.6), 17 * 23)) {
            let columns = 17;
            let found = puddles(&wet, columns);
            let mut of = vec![None; wet.len()];
            found.runs.iter().for_each(|(run, puddle)| of[run.clone()].fill(Some(*puddle)));
            let beside = |cell: usize| {
                let right = (cell % columns + 1 < columns).then_some(cell + 1);
                right.into_iter().chain((cell + columns < wet.len()).then_some(cell + columns))
            };
            // Neighbours of one puddle have one number.
            for cell in 0..wet.len() {
                prop_assert_eq!(of[cell].is_some(), wet[cell]);
                for next in beside(cell).filter(|next| wet[*next] && wet[cell]) {
                    prop_assert_eq!(of[cell], of[next]);
                }
            }
            // And there are no more numbers than a walk from cell to cell finds.
            let (mut seen, mut walks) = (vec![false; wet.len()], 0);
            for start in (0..wet.len()).filter(|cell| wet[*cell]) {
                let mut open = if seen[start] { Vec::new() } else { vec![start] };
                walks += open.len();
                while let Some(cell) = open.pop() {
                    if std::mem::replace(&mut seen[cell], true) {
                        continue;
                    }
                    let back = (cell % columns > 0).then(|| cell - 1).into_iter();
                    let around = beside(cell).chain(back).chain(cell.checked_sub(columns));
                    open.extend(around.filter(|next| wet[*next] && !seen[*next]));
                }
            }
            prop_assert_eq!(found.count, walks);
        }
    }

    #[test]
    fn puddles_that_touch_are_one() {
        let wet: Vec<bool> =
            "..##..##.\n..##..##.\n.........".chars().filter(|c| *c != '\n').map(|c| c == '#').collect();
        assert_eq!(puddles(&wet, 9).count, 2);
        let bridged: Vec<bool> =
            "..######.\n..##..##.\n.........".chars().filter(|c| *c != '\n').map(|c| c == '#').collect();
        assert_eq!(puddles(&bridged, 9).count, 1);
    }
}
