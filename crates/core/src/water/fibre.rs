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
    for (nth, (mm, share)) in GRAINS.into_iter().enumerate() {
        let mut chance = Chance::of(seed, stream * 8 + nth as u64);
        let step = (mm / CELL).max(1.0);
        let columns = (grain.columns as f64 / step).ceil() as usize + 2;
        let rows = (grain.rows as f64 / step).ceil() as usize + 2;
        // Evenly about 0, of width 1.
        let knots: Vec<f32> =
            (0..columns * rows).map(|_| (12.0_f32.sqrt()) * (chance.even() as f32 - 0.5)).collect();
        let places: Vec<(usize, f32)> =
            (0..grain.columns).map(|column| split(column as f64 / step)).collect();
        grain.cells.par_chunks_mut(grain.columns).enumerate().for_each(|(row, line)| {
            let (v, down) = split(row as f64 / step);
            let (upper, lower) = (&knots[v * columns..], &knots[(v + 1) * columns..]);
            for (cell, &(u, across)) in line.iter_mut().zip(&places) {
                let between = |from: f32, to: f32, share: f32| from + share * (to - from);
                let above = between(upper[u], upper[u + 1], across);
                let below = between(lower[u], lower[u + 1], across);
                *cell += share as f32 * between(above, below, down);
            }
        });
    }
    let count = grain.cells.len() as f64;
    let mean = grain.sum() / count;
    let width =
        (grain.cells.iter().map(|cell| (f64::from(*cell) - mean).powi(2)).sum::<f64>() / count).sqrt();
    grain.cells.iter_mut().for_each(|cell| *cell = ((f64::from(*cell) - mean) / width.max(1e-9)) as f32);
    grain
}

/// The whole part, and the rest on a smooth step.
fn split(at: f64) -> (usize, f32) {
    let whole = at.floor();
    let rest = (at - whole) as f32;
    (whole as usize, rest * rest * (3.0 - 2.0 * rest))
}
