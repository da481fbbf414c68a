//! How does the card's grain break up an edge?
//!
//! A sum of value noises of a fine, a middle and a coarse grain, about 0 and of width 1: where the fibres lie closer a
//! puddle's edge holds, where they lie looser it creeps on.

use rayon::prelude::*;

use super::drops::Chance;
use super::raster::{CELL, Raster};

/// Millimetres of each grain, and its share.
const GRAINS: [(f64, f64); 3] = [(0.2, 0.15), (0.45, 0.5), (1.2, 0.85)];

/// The grain of a card so large.
pub fn grain(size: (f64, f64), seed: u32, stream: u64) -> Raster {
    let mut grain = Raster::empty(size);
    let (columns, rows) = (grain.columns, grain.rows);
    let noises = GRAINS.into_par_iter().enumerate().map(|(nth, (mm, share))| {
        let step = (mm / CELL).max(1.0);
        Noise::over((columns, rows), step, share as f32, &Chance::of(seed, stream * 8 + nth as u64))
    });
    let noises: Vec<Noise> = noises.collect();
    grain.cells.par_chunks_mut(columns).enumerate().for_each(|(row, line)| {
        noises.iter().for_each(|noise| noise.add(row, line));
    });
    let count = grain.cells.len() as f64;
    let mean = grain.sum() / count;
    let width = (grain.sum_of(|cell| (f64::from(cell) - mean).powi(2)) / count).sqrt();
    let (mean, scale) = (mean as f32, (1.0 / width.max(1e-9)) as f32);
    grain.change(|_, cell| *cell = scale * (*cell - mean));
    grain
}

/// Numbers by chance on the knots of a net, and smoothly between them.
struct Noise {
    /// Rows of the net.
    knots: Vec<Vec<f32>>,
    /// Cells from one knot to the next.
    step: f64,
    /// Where each column of cells lies between two knots.
    places: Vec<(usize, f32)>,
}

impl Noise {
    fn over((columns, rows): (usize, usize), step: f64, share: f32, chance: &Chance) -> Noise {
        let knots = |cells: usize| (cells as f64 / step).ceil() as usize + 2;
        // Evenly about 0, of width 1.
        let wide = share * 12.0_f32.sqrt();
        let row = |row: usize| {
            let mut chance = chance.apart(row as u64);
            (0..knots(columns)).map(|_| wide * (chance.even() as f32 - 0.5)).collect()
        };
        Noise {
            knots: (0..knots(rows)).into_par_iter().map(row).collect(),
            step,
            places: (0..columns).map(|column| split(column as f64 / step)).collect(),
        }
    }

    fn add(&self, row: usize, line: &mut [f32]) {
        let (v, down) = split(row as f64 / self.step);
        let between = |from: f32, to: f32, share: f32| from + share * (to - from);
        let knots: Vec<f32> = self.knots[v]
            .iter()
            .zip(&self.knots[v + 1])
            .map(|(above, below)| between(*above, *below, down))
            .collect();
        for (cell, &(u, across)) in line.iter_mut().zip(&self.places) {
            *cell += between(knots[u], knots[u + 1], across);
        }
    }
}

/// The whole part, and the rest on a smooth step.
fn split(at: f64) -> (usize, f32) {
    let whole = at.floor();
    let rest = (at - whole) as f32;
    (whole as usize, rest * rest * (3.0 - 2.0 * rest))
}
