//! What does what was pressed look like?

use std::collections::HashMap;

use rayon::prelude::*;

use super::raster::{CELL, Raster};
use crate::colour::{Illuminant, Lab};
use crate::ink::{Film, Paper, Stack};
use crate::picture::Picture;

/// Steps to a full swatch between which colours are not told apart: finer than the eye sees.
const STEPS: f32 = 240.0;

/// Draws layers of ink on card, each ink by its film, so many pixels to the inch.
pub fn draw(layers: &[Vec<Raster>], films: &[Film], paper: &Paper, size: (f64, f64), dpi: f64) -> Picture {
    let (width, height) = ((size.0 / 25.4 * dpi).round() as usize, (size.1 / 25.4 * dpi).round() as usize);
    let card = paper.reflectance();
    let bare = Stack::on(&card).lab(Illuminant::D65);
    let mut rgb = vec![0; width * height * 3];
    rgb.par_chunks_exact_mut(width * 3).enumerate().for_each(|(row, pixels)| {
        // A row has few colours of its own: what has been reckoned once is known.
        let mut known: HashMap<Vec<u16>, [u8; 3]> = HashMap::new();
        for (column, pixel) in pixels.as_chunks_mut::<3>().0.iter_mut().enumerate() {
            let at = |n: usize| (n as f64 + 0.5) * 25.4 / dpi / CELL - 0.5;
            let amounts: Vec<u16> = layers
                .iter()
                .flatten()
                .map(|raster| (STEPS * between(raster, at(column), at(row))).round() as u16)
                .collect();
            let inks = films.len();
            *pixel = *known.entry(amounts).or_insert_with_key(|amounts| {
                let mut stack = Stack::on(&card);
                for (n, amount) in amounts.iter().enumerate().filter(|(_, amount)| **amount > 0) {
                    stack.lay(n % inks, &films[n % inks], f64::from(*amount) / f64::from(STEPS));
                }
                shown(if amounts.iter().all(|amount| *amount == 0) {
                    bare
                } else {
                    stack.lab(Illuminant::D65)
                })
            });
        }
    });
    Picture { width, height, rgb }
}

fn shown(lab: Lab) -> [u8; 3] {
    lab.on_screen(Illuminant::D65).0.0
}

/// Between the four cells round a place.
fn between(raster: &Raster, u: f64, v: f64) -> f32 {
    let clamped = |at: f64, most: usize| at.clamp(0.0, (most - 1) as f64);
    let (u, v) = (clamped(u, raster.columns), clamped(v, raster.rows));
    let (left, top) = (u as usize, v as usize);
    let (right, below) = ((left + 1).min(raster.columns - 1), (top + 1).min(raster.rows - 1));
    let (across, down) = ((u - left as f64) as f32, (v - top as f64) as f32);
    let cell = |column: usize, row: usize| raster.cells[row * raster.columns + column];
    let along = |row: usize| cell(left, row) + across * (cell(right, row) - cell(left, row));
    along(top) + down * (along(below) - along(top))
}
