//! How does ink lie once a puddle has dried?
//!
//! A drying puddle is pinned at its edge and carries ink there (Deegan et al., *Nature* 1997): what dries is part an even
//! film and part a rim whose strength falls off with the distance from the edge. Each puddle keeps just the ink it had.

use super::raster::{CELL, Raster};

/// Puddles: which cells hang together, and how far each lies from the edge.
#[derive(Clone, Debug)]
pub struct Puddles {
    /// The puddle of each cell, from 1; 0 where it is dry.
    pub of: Vec<u32>,
    /// Millimetres to the edge.
    pub deep: Vec<f32>,
    /// How many.
    pub count: usize,
}

/// What is dry or wet on a raster of so many columns.
pub fn puddles(wet: &[bool], columns: usize) -> Puddles {
    let rows = wet.len() / columns;
    let mut of = vec![0_u32; wet.len()];
    let mut count = 0;
    let mut open = Vec::new();
    for start in 0..wet.len() {
        if !wet[start] || of[start] != 0 {
            continue;
        }
        count += 1;
        of[start] = count;
        open.push(start);
        while let Some(cell) = open.pop() {
            let (column, row) = (cell % columns, cell / columns);
            let beside = [
                (column > 0).then(|| cell - 1),
                (column + 1 < columns).then_some(cell + 1),
                (row > 0).then(|| cell - columns),
                (row + 1 < rows).then_some(cell + columns),
            ];
            for next in beside.into_iter().flatten() {
                if wet[next] && of[next] == 0 {
                    of[next] = count;
                    open.push(next);
                }
            }
        }
    }
    Puddles { of, deep: deep(wet, columns), count: count as usize }
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
            let mut last = FAR;
            let mut along = |cell: &mut f32| {
                *cell = cell.min(last + 1.0);
                last = *cell;
            };
            if is_forward {
                line.iter_mut().for_each(&mut along)
            } else {
                line.iter_mut().rev().for_each(&mut along)
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
        let draws = |(deep, of): (&f32, &u32)| match (of, known.get((deep * STEPS) as usize)) {
            (0, _) | (_, None) => 0.0,
            (_, Some(draws)) => *draws,
        };
        Drying { puddles, draws: puddles.deep.iter().zip(&puddles.of).map(draws).collect() }
    }

    /// An amount that lies in them as they dry: a share of each puddle's ink goes to its rim, and none of it is lost.
    pub fn dried(&self, amount: &Raster, share: f64) -> Raster {
        let mut total = vec![0.0_f64; self.puddles.count + 1];
        let mut edge = vec![0.0_f64; self.puddles.count + 1];
        for ((of, held), draws) in self.puddles.of.iter().zip(&amount.cells).zip(&self.draws) {
            total[*of as usize] += f64::from(*held);
            // Where there is more ink the rim is stronger.
            edge[*of as usize] += f64::from(held * draws);
        }
        let ratio: Vec<f32> = total
            .iter()
            .zip(&edge)
            .enumerate()
            .map(|(of, (total, edge))| if of == 0 || *edge <= 0.0 { -1.0 } else { (total / edge) as f32 })
            .collect();
        let share = share as f32;
        amount.like(|cell| {
            let (held, ratio) = (amount.cells[cell], ratio[self.puddles.of[cell] as usize]);
            if ratio < 0.0 {
                return held;
            }
            (1.0 - share) * held + share * held * self.draws[cell] * ratio
        })
    }
}

/// An amount that lies in puddles as they dry: part of each puddle's ink goes to its rim.
pub fn dried(amount: &Raster, puddles: &Puddles, rim: Rim) -> Raster {
    Drying::of(puddles, rim).dried(amount, rim.share)
}

#[cfg(test)]
mod tests {
    use super::*;

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
