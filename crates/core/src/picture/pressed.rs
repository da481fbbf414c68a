//! What do the mat and what was pressed off it look like?

use std::collections::HashMap;

use rayon::prelude::*;

use super::draw::Picture;
use crate::colour::{Illuminant, Lab};
use crate::ink::{Film, Paper, Stack};
use crate::water::mat::Mat;
use crate::water::raster::Raster;

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
            let at = |n: usize| (n as f64 + 0.5) * 25.4 / dpi;
            let amounts: Vec<u16> = layers
                .iter()
                .flatten()
                .map(|raster| (STEPS * raster.at(at(column), at(row))).round() as u16)
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

/// The mat itself: a pale, glossy sheet (chosen; X/Xn, Y/Yn, Z/Zn are nearly the same).
const MAT: Lab = Lab { l: 93.0, a: -0.6, b: -0.8 };
/// How far a bead gathers the ink that it has taken up: so much of it lies where the bead is flat, and so much more for
/// each millimetre that it stands high.
const GATHERS: (f32, f32) = (0.35, 0.9);
/// How strongly a bead's side catches the light, and how much of the light its far side holds back (chosen).
const SHINES: f32 = 0.55;
const SHADES: f32 = 0.3;

/// Draws a mat from above, its beads lit from the top left, so many pixels to the inch.
pub fn draw_mat(mat: &Mat, films: &[Film], size: (f64, f64), dpi: f64) -> Picture {
    let (width, height) = ((size.0 / 25.4 * dpi).round() as usize, (size.1 / 25.4 * dpi).round() as usize);
    let sheet = crate::colour::Spectrum::of(MAT, Illuminant::D65);
    let (layer, water) = (mat.layer(), mat.water());
    let mm = 25.4 / dpi;
    let mut rgb = vec![0; width * height * 3];
    rgb.par_chunks_exact_mut(width * 3).enumerate().for_each(|(row, pixels)| {
        let mut known: HashMap<Vec<u16>, [f32; 3]> = HashMap::new();
        let y = (row as f64 + 0.5) * mm;
        for (column, pixel) in pixels.as_chunks_mut::<3>().0.iter_mut().enumerate() {
            let x = (column as f64 + 0.5) * mm;
            let high = water.at(x, y);
            let gathers = if high > 0.02 { GATHERS.0 + GATHERS.1 * high.min(1.4) } else { 1.0 };
            let amounts: Vec<u16> =
                layer.iter().map(|raster| (STEPS * gathers * raster.at(x, y)).round() as u16).collect();
            let light = *known.entry(amounts).or_insert_with_key(|amounts| {
                let mut stack = Stack::on(&sheet);
                for (n, amount) in amounts.iter().enumerate().filter(|(_, amount)| **amount > 0) {
                    stack.lay(n, &films[n], f64::from(*amount) / f64::from(STEPS));
                }
                stack.reflectance().relative(Illuminant::D65).map(|light| light as f32)
            });
            // The side towards the light, from how the water rises to it.
            let step = 0.3;
            let rise = water.at(x + step, y + step) - water.at(x - step, y - step);
            let (lit, shaded) = (SHINES * rise.clamp(0.0, 1.0), SHADES * (-rise).clamp(0.0, 1.0));
            let glint = if rise > 0.75 && high > 0.35 { 0.7 } else { 0.0 };
            let seen =
                light.map(|light| f64::from((light * (1.0 - shaded) + lit * 0.5 * (1.0 - light)).max(glint)));
            *pixel = shown(Lab::from_relative(seen));
        }
    });
    Picture { width, height, rgb }
}
