//! What does one patch show, and can it be read?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::field::Field;
use crate::picture::Picture;
use crate::plane::Plane;
use crate::rank::median;

/// A rectangle of the page, in millimetres: from its left upper corner to its right lower one.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Area {
    /// Left and top.
    pub from: [f64; 2],
    /// Right and foot.
    pub to: [f64; 2],
}

impl Area {
    /// Its middle.
    pub fn middle(&self) -> [f64; 2] {
        [0, 1].map(|axis| (self.from[axis] + self.to[axis]) / 2.0)
    }

    /// Its corners: left and right above, left and right below.
    pub fn corners(&self) -> [[f64; 2]; 4] {
        let ([l, t], [r, b]) = (self.from, self.to);
        [[l, t], [r, t], [l, b], [r, b]]
    }
}

/// What is seen of an even patch.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Patch {
    /// The mean of its pixels, each channel 0 to 1.
    pub rgb: [f64; 3],
    /// What bare card would look like there.
    pub card: [f64; 3],
    /// How far its parts differ, as a share of what is seen: the tool's own grain, in logarithms (standard deviation).
    pub uneven: f64,
}

/// Why a patch is not read.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum Refused {
    /// A part of it lies outside of the photo.
    Outside,
    /// It is burnt out, or black.
    Clipped,
    /// Something shines on it.
    Glaring,
    /// The edge of a shadow crosses it.
    Shaded,
    /// It is out of focus, or the hand moved.
    Blurred,
    /// A finger, a fleck or a scratch is on it.
    Marked,
}

impl Refused {
    /// What is the matter, and what would make it better, after the name of the patch and a colon.
    pub const fn words(self) -> &'static str {
        match self {
            Refused::Outside => "lies outside of the photo. Take the whole page",
            Refused::Clipped => "burnt out or black in the photo. Take it a little darker, or lighter",
            Refused::Glaring => "something shines on it. Move the lamp to the side, or the page",
            Refused::Shaded => {
                "the edge of a shadow crosses it. Hold the phone so that nothing shades the page"
            }
            Refused::Blurred => "blurred. Hold the phone still and let it focus",
            Refused::Marked => "not even, as if a finger had touched it. Lay it anew, or leave it out",
        }
    }
}

/// Cells of a patch along and across, whose means are compared.
const CELLS: [usize; 2] = [8, 4];
/// Cells along and across a block: about as large as what a finger leaves, and larger than a tool's grain.
const BLOCK: [usize; 2] = [3, 2];
/// Points looked at along and across each cell.
const POINTS: usize = 7;
/// A patch with more than this share of its pixels at either end is clipped.
const CLIPPED: f64 = 0.04;
/// The pixel values at which a channel is.
const ENDS: [f64; 2] = [0.006, 0.994];
/// A step of bare card over the patch that an interpolation does not follow.
const STEEP: f64 = 0.10;
/// How far a block may differ from the whole: a share of the ink's own depth, and another that goes with the root of the light
/// passes, since passes average out; and the least that is told from noise (logarithms of what is seen).
const UNEVEN: [f64; 2] = [0.05, 0.16];
const LEAST: f64 = 0.02;

/// Looks at a patch that was laid in so many light passes.
///
/// # Errors
/// [`Refused`] where it cannot be read.
pub fn look(
    picture: &Picture,
    plane: &Plane,
    field: &Field,
    area: Area,
    passes: f64,
) -> Result<Patch, Refused> {
    let (cells, clipped) = cells(picture, plane, area).ok_or(Refused::Outside)?;
    let middle = area.middle();
    if field.shines(middle) {
        return Err(Refused::Glaring);
    }
    if clipped > CLIPPED {
        return Err(Refused::Clipped);
    }
    if field.steep(middle, 0.9 * (area.to[0] - area.from[0])) > STEEP {
        return Err(Refused::Shaded);
    }
    let rgb = std::array::from_fn(|c| median(cells.iter().map(|cell| cell[c]).collect()).unwrap_or_default());
    let card = field.card(middle);
    let depth: [f64; 3] = std::array::from_fn(|c| (card[c] / rgb[c].max(1e-3)).ln());
    let deep = depth.iter().map(|d| d * d).sum::<f64>().sqrt();
    let lean = std::array::from_fn::<f64, 3, _>(|c| field.card(area.to)[c] / field.card(area.from)[c]);
    let off = |n: usize| -> [f64; 3] {
        // What the light alone does from the left upper to the right lower corner.
        let along = ((n % CELLS[0]) as f64 + 0.5) / CELLS[0] as f64 - 0.5;
        std::array::from_fn(|c| {
            let lit = lean[c].max(1e-3).powf(along);
            // A dark channel tells little: its last digits are noise.
            let trust = (rgb[c] / 0.25).min(1.0);
            trust * (cells[n][c].max(1e-3) / rgb[c].max(1e-3) / lit).ln()
        })
    };
    let offs: Vec<[f64; 3]> = (0..cells.len()).map(off).collect();
    if most_of_blocks(&offs) > ((UNEVEN[0] + UNEVEN[1] / passes.sqrt()) * deep).max(LEAST) {
        return Err(Refused::Marked);
    }
    let squares = offs.iter().map(|off| off.iter().map(|off| off * off).sum::<f64>());
    let uneven = (squares.sum::<f64>() / offs.len() as f64).sqrt();
    Ok(Patch { rgb, card, uneven })
}

/// By how much the block that differs most does so.
fn most_of_blocks(offs: &[[f64; 3]]) -> f64 {
    let corners =
        (0..=CELLS[1] - BLOCK[1]).flat_map(|row| (0..=CELLS[0] - BLOCK[0]).map(move |column| (row, column)));
    let means = corners.map(|(row, column)| {
        let mut sums = [0.0; 3];
        for n in 0..BLOCK[0] * BLOCK[1] {
            let cell = offs[column + n % BLOCK[0] + CELLS[0] * (row + n / BLOCK[0])];
            sums = std::array::from_fn(|c| sums[c] + cell[c] / (BLOCK[0] * BLOCK[1]) as f64);
        }
        sums.iter().map(|sum| sum * sum).sum::<f64>().sqrt()
    });
    means.fold(0.0, f64::max)
}

/// The means of an area's cells, line by line, and the share of it that is at either end; nothing where it lies outside.
fn cells(picture: &Picture, plane: &Plane, area: Area) -> Option<(Vec<[f64; 3]>, f64)> {
    let mut clipped = 0usize;
    let mut cells = Vec::with_capacity(CELLS[0] * CELLS[1]);
    let count = (POINTS * POINTS) as f64;
    for row in 0..CELLS[1] {
        for column in 0..CELLS[0] {
            let mut sums = [0.0; 3];
            for n in 0..POINTS * POINTS {
                let share = [(column, n % POINTS, CELLS[0]), (row, n / POINTS, CELLS[1])].map(
                    |(cell, point, cells)| {
                        (cell as f64 + (point as f64 + 0.5) / POINTS as f64) / cells as f64
                    },
                );
                let page =
                    [0, 1].map(|axis| area.from[axis] + share[axis] * (area.to[axis] - area.from[axis]));
                let rgb = picture.at(plane.pixel(page))?;
                clipped += usize::from(rgb.iter().any(|c| *c > ENDS[1]) || rgb.iter().all(|c| *c < ENDS[0]));
                sums = std::array::from_fn(|c| sums[c] + rgb[c]);
            }
            cells.push(sums.map(|sum| sum / count));
        }
    }
    let all = CELLS[0] * CELLS[1] * POINTS * POINTS;
    Some((cells, clipped as f64 / all as f64))
}

/// The mean of what is seen in an area that needs no light taken out, and how far its cells differ at most, as a share.
pub fn mean(picture: &Picture, plane: &Plane, area: Area) -> Option<([f64; 3], f64)> {
    let (cells, _) = cells(picture, plane, area)?;
    let rgb: [f64; 3] =
        std::array::from_fn(|c| median(cells.iter().map(|cell| cell[c]).collect()).unwrap_or_default());
    let off = cells.iter().map(|cell| (cell[1] / rgb[1].max(1e-3) - 1.0).abs()).fold(0.0, f64::max);
    Some((rgb, off))
}
