//! How does the card's grain break up an edge?
//!
//! A sum of value noises of a fine, a middle and a coarse grain, about 0 and of width 1: where the fibres lie closer a
//! puddle's edge holds, where they lie looser it creeps on.

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
        let knots: Vec<f32> = (0..columns * rows).map(|_| chance.bell() as f32).collect();
        for row in 0..grain.rows {
            let (v, down) = split(row as f64 / step);
            for column in 0..grain.columns {
                let (u, across) = split(column as f64 / step);
                let knot = |right: usize, below: usize| knots[(v + below) * columns + u + right];
                let between = |from: f32, to: f32, share: f32| from + share * (to - from);
                let value = between(
                    between(knot(0, 0), knot(1, 0), across),
                    between(knot(0, 1), knot(1, 1), across),
                    down,
                );
                grain.cells[row * grain.columns + column] += share as f32 * value;
            }
        }
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
