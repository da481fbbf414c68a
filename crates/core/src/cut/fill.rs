//! Corner by corner: many tries at a full sheet.
//!
//! A piece goes into the corner of a free part; what is left of the part is cut in two, one way or the other, and
//! each is filled in turn. Chance, from a seed passed in, decides between what is nearly as good, so that many tries differ.

use rand_chacha::ChaCha8Rng;
use rand_core::Rng;

use super::layout::{Cell, Part, split};
use super::piece::{Piece, Sheet};
use crate::edges::{Axis, Place};
use crate::length::Length;

/// A share between nothing and one.
fn chance(of: &mut ChaCha8Rng) -> f64 {
    f64::from(of.next_u32()) / f64::from(u32::MAX)
}

/// Fills a sheet with what is left to cut, taking it off `left`.
pub(super) fn fill(
    pieces: &[Piece],
    sheet: &Sheet,
    left: &mut [u16],
    wild: f64,
    seed: &mut ChaCha8Rng,
) -> Cell {
    let place = Place { width: sheet.width, height: sheet.height, ..Place::default() };
    Filling { pieces, sheet, wild }.part(place, left, seed)
}

struct Filling<'a> {
    pieces: &'a [Piece],
    sheet: &'a Sheet,
    /// How far chance may prefer a worse piece: 0 not at all.
    wild: f64,
}

impl Filling<'_> {
    fn part(&self, place: Place, left: &mut [u16], seed: &mut ChaCha8Rng) -> Cell {
        let mut best: Option<(f64, usize, Length, Length)> = None;
        for (kind, piece) in self.pieces.iter().enumerate() {
            if left[kind] == 0 || !self.sheet.suits(piece) {
                continue;
            }
            for (width, height) in piece.ways(self.sheet.grain) {
                if width > place.width || height > place.height {
                    continue;
                }
                // Large pieces first; of two ways to lie, the one that fills the part's width or height better.
                let snug = width.ratio(place.width).max(height.ratio(place.height));
                let size = width.ratio(self.sheet.width) * height.ratio(self.sheet.height);
                let score = (size + 0.2 * snug * size) * (1.0 + self.wild * chance(seed));
                if best.is_none_or(|(known, ..)| score > known) {
                    best = Some((score, kind, width, height));
                }
            }
        }
        let Some((_, kind, width, height)) = best else {
            return Cell { place, part: Part::Left };
        };
        left[kind] -= 1;
        let (right, below) = (place.width - width, place.height - height);
        // The larger rest stays whole, most of the time.
        let whole_right = right.times(place.height) >= below.times(place.width);
        let first =
            if whole_right != (self.wild > 0.0 && chance(seed) < 0.25) { Axis::Across } else { Axis::Down };
        self.cut_off(place, (kind, width, height), [first, first.other()], left, seed)
    }

    /// Cuts the piece's corner off along each axis where anything is left, and fills the rests.
    fn cut_off(
        &self,
        place: Place,
        piece: (usize, Length, Length),
        axes: [Axis; 2],
        left: &mut [u16],
        seed: &mut ChaCha8Rng,
    ) -> Cell {
        let (kind, width, height) = piece;
        let along = |axis: Axis| axis.of((width, place.width), (height, place.height));
        let Some(axis) = axes.into_iter().find(|axis| along(*axis).0 < along(*axis).1) else {
            return Cell { place, part: Part::Piece(kind) };
        };
        let [near, rest] = split(place, axis, along(axis).0);
        let near = self.cut_off(near, piece, axes, left, seed);
        let rest = self.part(rest, left, seed);
        Cell { place, part: Part::Cut(axis, Box::new([near, rest])) }
    }
}
