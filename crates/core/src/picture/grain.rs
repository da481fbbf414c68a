//! How uneven is a veil, and what does the card's tooth do?
//!
//! A veil is some tens of small circular strokes a square centimetre, laid at random, each leaving a
//! soft disc the size of the tool's footprint. The film is that random scatter smeared by the footprint:
//! to first order, film = amount + √amount · σ · g, with g a fixed texture of zero mean and unit variance.
//! Within its footprint a stroke is not even either, so g carries some finer, swirled grain.
//!
//! Textures are square tiles that repeat without a seam. There is one for each tool and one for card, drawn
//! when first needed; a panel's seed says where on the tile each of its inks lies.

use std::sync::OnceLock;

use rand_chacha::ChaCha8Rng;
use rand_core::{Rng, SeedableRng};

use crate::ink::ToolKind;

/// A seamless square of numbers with zero mean and unit variance.
#[derive(Clone, Debug)]
pub struct Texture {
    side: usize,
    values: Vec<f32>,
    /// Tile pixels a millimetre.
    per_mm: f64,
}

/// Share of a veil's variance that lies in fine grain within the footprint (chosen: most of what is seen is finer than 6 mm).
const FINE_SHARE: f64 = 0.6;
/// Side of a brush texture in millimetres: larger than most panels, so that no repeat shows.
const BRUSH_TILE_MM: f64 = 160.0;
/// Side of a brush texture in tile pixels: strokes are soft, so few are needed.
const BRUSH_TILE: usize = 256;
/// Side of the tooth's tile, in millimetres and pixels: drawn at 300 to the inch.
const TOOTH_TILE_MM: f64 = 43.0;
const TOOTH_TILE: usize = 508;
/// Most tile pixels that a picture's pixel reaches to each side; coarser ones show the same.
const COARSEST: usize = 24;
/// What the tiles start from (chosen).
const TOOL_SEED: u64 = 1;
const TOOTH_SEED: u64 = 2;

/// A texture laid down somewhere.
#[derive(Clone, Copy, Debug)]
pub struct Laid {
    texture: &'static Texture,
    shift_mm: (f64, f64),
}

impl Laid {
    /// The unevenness of a tool, laid where chance has it.
    pub fn by_tool(tool: ToolKind, seed: u64) -> Laid {
        static TOOLS: [OnceLock<Texture>; 4] = [const { OnceLock::new() }; 4];
        let at = ToolKind::ALL.iter().position(|known| *known == tool).unwrap_or_default();
        let texture = TOOLS[at].get_or_init(|| Texture::of_footprint(tool.footprint_mm(), TOOL_SEED));
        Laid::somewhere(texture, seed)
    }

    /// Card tooth, laid where chance has it, as a picture with pixels `pixel_mm` wide shows it.
    pub fn of_card(pixel_mm: f64, seed: u64) -> Laid {
        static TOOTH: [OnceLock<Texture>; COARSEST + 1] = [const { OnceLock::new() }; COARSEST + 1];
        let reach = ((0.5 * pixel_mm * TOOTH_TILE as f64 / TOOTH_TILE_MM).round() as usize).min(COARSEST);
        Laid::somewhere(TOOTH[reach].get_or_init(|| Texture::of_card(TOOTH_SEED).softened(reach)), seed)
    }

    fn somewhere(texture: &'static Texture, seed: u64) -> Laid {
        let mut random = ChaCha8Rng::seed_from_u64(seed);
        let mut shift =
            || f64::from(random.next_u32() >> 16) / 65536.0 * texture.side as f64 / texture.per_mm;
        Laid { texture, shift_mm: (shift(), shift()) }
    }

    /// Where each of a picture's columns falls, its pixels so many millimetres wide.
    pub fn columns(&self, count: usize, pixel_mm: f64) -> Vec<Step> {
        (0..count).map(|n| self.texture.step((n as f64 + 0.5) * pixel_mm + self.shift_mm.0)).collect()
    }

    /// The values along a row of the tile, for columns to be read [of](Step::of).
    pub fn along(&self, y_mm: f64, values: &mut Vec<f32>) {
        self.texture.along(self.texture.step(y_mm + self.shift_mm.1), values);
    }
}

/// Between which two of a texture's rows or columns a place lies, and how far along.
#[derive(Clone, Copy, Debug)]
pub struct Step {
    here: u32,
    next: u32,
    along: f32,
}

impl Step {
    /// The value between the two of a row.
    #[inline]
    pub fn of(self, row: &[f32]) -> f32 {
        let here = row[self.here as usize];
        here + self.along * (row[self.next as usize] - here)
    }
}

impl Texture {
    /// The unevenness of a tool with this footprint radius.
    fn of_footprint(footprint_mm: f64, seed: u64) -> Texture {
        let per_mm = BRUSH_TILE as f64 / BRUSH_TILE_MM;
        let mut random = ChaCha8Rng::seed_from_u64(seed);
        let mut broad = noise(BRUSH_TILE, &mut random);
        // Three passes of a box half as wide as the footprint come near its soft disc.
        let reach = (0.5 * footprint_mm * per_mm).round().max(1.0) as usize;
        for _ in 0..3 {
            broad = smear(&broad, BRUSH_TILE, reach, reach);
        }
        let mut fine = noise(BRUSH_TILE, &mut random);
        for _ in 0..2 {
            fine = smear(&fine, BRUSH_TILE, 1, 1);
        }
        let (broad, fine) = (unit(broad), unit(fine));
        let (of_broad, of_fine) = ((1.0 - FINE_SHARE).sqrt() as f32, FINE_SHARE.sqrt() as f32);
        let values = broad.iter().zip(&fine).map(|(b, f)| of_broad * b + of_fine * f).collect();
        Texture { side: BRUSH_TILE, values: unit(values), per_mm }
    }

    /// Card tooth: fine, and slightly fibrous along the width.
    fn of_card(seed: u64) -> Texture {
        let per_mm = TOOTH_TILE as f64 / TOOTH_TILE_MM;
        let mut random = ChaCha8Rng::seed_from_u64(seed);
        let tooth = smear(&noise(TOOTH_TILE, &mut random), TOOTH_TILE, 1, 1);
        let fibres = smear(&noise(TOOTH_TILE, &mut random), TOOTH_TILE, 7, 0);
        let fibres = smear(&fibres, TOOTH_TILE, 4, 1);
        let (tooth, fibres) = (unit(tooth), unit(fibres));
        let values = tooth.iter().zip(&fibres).map(|(t, f)| 0.75 * t + 0.66 * f).collect();
        Texture { side: TOOTH_TILE, values: unit(values), per_mm }
    }

    /// Where a measure falls along a side of the tile.
    fn step(&self, at_mm: f64) -> Step {
        let at = at_mm * self.per_mm;
        let before = at.floor();
        let here = (before as i64).rem_euclid(self.side as i64) as usize;
        let next = if here + 1 == self.side { 0 } else { here + 1 };
        Step { here: here as u32, next: next as u32, along: (at - before) as f32 }
    }

    /// The values where a row falls, all along the tile.
    fn along(&self, row: Step, values: &mut Vec<f32>) {
        let [upper, lower] =
            [row.here, row.next].map(|row| &self.values[row as usize * self.side..][..self.side]);
        values.clear();
        values.extend(upper.iter().zip(lower).map(|(upper, lower)| upper + row.along * (lower - upper)));
    }

    /// The mean over squares reaching so many tile pixels to each side.
    fn softened(&self, reach: usize) -> Texture {
        let values = smear(&self.values, self.side, reach, reach);
        Texture { side: self.side, values, per_mm: self.per_mm }
    }
}

fn noise(side: usize, random: &mut ChaCha8Rng) -> Vec<f32> {
    // The sum of four even numbers is near enough to normal, and has no far outliers.
    (0..side * side)
        .map(|_| {
            let bits = random.next_u64();
            (0..4).map(|n| (bits >> (16 * n) & 0xffff) as f32 / 65535.0 - 0.5).sum()
        })
        .collect()
}

/// The mean over a box reaching so far to each side, round the edges of the tile.
fn smear(values: &[f32], side: usize, across: usize, down: usize) -> Vec<f32> {
    let mut rows = vec![0.0; values.len()];
    for row in 0..side {
        let line = &values[row * side..(row + 1) * side];
        running_mean(|n| line[n], side, across, |n, mean| rows[row * side + n] = mean);
    }
    let mut smeared = vec![0.0; values.len()];
    for column in 0..side {
        running_mean(|n| rows[n * side + column], side, down, |n, mean| smeared[n * side + column] = mean);
    }
    smeared
}

fn running_mean(of: impl Fn(usize) -> f32, side: usize, reach: usize, mut put: impl FnMut(usize, f32)) {
    let wide = 2 * reach + 1;
    let mut sum: f64 = (0..wide).map(|n| f64::from(of((n + side * wide - reach) % side))).sum();
    for n in 0..side {
        put(n, (sum / wide as f64) as f32);
        sum += f64::from(of((n + reach + 1) % side)) - f64::from(of((n + side * wide - reach) % side));
    }
}

/// Brought to zero mean and unit variance.
fn unit(values: Vec<f32>) -> Vec<f32> {
    let count = values.len() as f64;
    let mean = values.iter().map(|v| f64::from(*v)).sum::<f64>() / count;
    let variance = values.iter().map(|v| (f64::from(*v) - mean).powi(2)).sum::<f64>() / count;
    let scale = 1.0 / variance.sqrt();
    values.into_iter().map(|v| ((f64::from(v) - mean) * scale) as f32).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(texture: &Texture, x_mm: f64, y_mm: f64) -> f32 {
        let mut row = Vec::new();
        texture.along(texture.step(y_mm), &mut row);
        texture.step(x_mm).of(&row)
    }

    #[test]
    fn textures_are_even_on_the_whole_and_the_same_for_the_same_seed() {
        for texture in [Texture::of_footprint(9.0, 7), Texture::of_card(7)] {
            let count = texture.values.len() as f32;
            let mean = texture.values.iter().sum::<f32>() / count;
            let variance = texture.values.iter().map(|v| v * v).sum::<f32>() / count;
            assert!(mean.abs() < 1e-3 && (variance - 1.0).abs() < 1e-2);
        }
        let at = |seed| {
            let laid = Laid::by_tool(ToolKind::Brush, seed);
            let mut row = Vec::new();
            laid.along(4.0, &mut row);
            laid.columns(1, 6.0)[0].of(&row)
        };
        assert_eq!(at(7), at(7));
        assert_ne!(at(7), at(8));
    }

    #[test]
    fn a_larger_footprint_has_a_coarser_grain() {
        let roughness = |footprint: f64| {
            let texture = Texture::of_footprint(footprint, 3);
            let step = |n: usize| (at(&texture, n as f64, 0.0) - at(&texture, n as f64 + 3.0, 0.0)).powi(2);
            (0..150).map(step).sum::<f32>()
        };
        assert!(roughness(9.0) < roughness(4.0));
    }

    #[test]
    fn a_tile_has_no_seam() {
        let texture = Texture::of_footprint(9.0, 5);
        let across_the_seam = (at(&texture, -0.1, 20.0) - at(&texture, 0.1, 20.0)).abs();
        assert!(across_the_seam < 0.5);
        assert_eq!(at(&texture, 1.0, 2.0), at(&texture, 1.0 + BRUSH_TILE_MM, 2.0));
    }
}
