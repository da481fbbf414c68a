//! At which places is it enough to look?
//!
//! Between edges colour is smooth, so it is worked out on a lattice and read between. Where all ink was laid along one way
//! whose measure grows evenly, the lattice is a line along that way; otherwise it covers the panel.

use super::standing::{Spot, Surface};
use crate::blend::way::Along;

/// Places to look at.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Lattice {
    /// Along the only way there is.
    Line {
        /// Places.
        count: usize,
        /// Places to a millimetre of the way's measure.
        per_mm: f64,
    },
    /// Over the panel, row by row.
    Sheet {
        /// Places across.
        columns: usize,
        /// Places down.
        rows: usize,
        /// Places to a millimetre, across and down.
        per_mm: (f64, f64),
        /// The first place, in millimetres from the panel's left and top edges.
        first: (f64, f64),
    },
}

impl Lattice {
    /// A lattice for a surface: along a line about `fine` millimetres apart, over the panel about `coarse`.
    pub fn of(surface: &Surface, fine: f64, coarse: f64) -> Lattice {
        let even = match surface.runs.as_slice() {
            [] => return Lattice::Line { count: 1, per_mm: 0.0 },
            [run] => run.even_stretch().map(|stretch| (run, stretch)),
            _ => None,
        };
        let over = |long: f64, step: f64| (long / step).ceil().max(1.0);
        match even {
            Some((run, stretch)) => {
                // Beyond its span a blend lies no further than a footprint smears it.
                let smeared = run.span + surface.materials.tool.kind.footprint_mm() * stretch;
                let long = run.furthest().min(smeared);
                let steps = over(long, fine * stretch);
                Lattice::Line { count: steps as usize + 1, per_mm: steps / long }
            }
            None => {
                let (first, (width, height)) = surface.window;
                let (across, down) = (over(width, coarse), over(height, coarse));
                Lattice::Sheet {
                    columns: across as usize + 1,
                    rows: down as usize + 1,
                    per_mm: (across / width, down / height),
                    first,
                }
            }
        }
    }

    /// How many places.
    pub const fn len(&self) -> usize {
        match *self {
            Lattice::Line { count, .. } => count,
            Lattice::Sheet { columns, rows, .. } => columns * rows,
        }
    }

    /// Never: there is always a place to look at.
    pub const fn is_empty(&self) -> bool {
        false
    }

    /// The measures of the `n`th place.
    pub fn spot(&self, surface: &Surface, n: usize) -> Spot {
        match *self {
            Lattice::Line { per_mm, .. } => {
                let of = |run: &crate::blend::way::Run| Along {
                    place: n as f64 / per_mm,
                    stretch: run.even_stretch().unwrap_or(1.0),
                };
                surface.runs.iter().map(of).collect()
            }
            Lattice::Sheet { .. } => {
                let (x, y) = self.point(surface, n);
                surface.spot(x, y)
            }
        }
    }

    /// Where the `n`th place lies, in millimetres from the left and top edges.
    pub fn point(&self, surface: &Surface, n: usize) -> (f64, f64) {
        match *self {
            Lattice::Line { per_mm, .. } => {
                surface.runs.first().map_or((0.0, 0.0), |run| run.point(n as f64 / per_mm))
            }
            Lattice::Sheet { columns, per_mm, first, .. } => {
                (first.0 + (n % columns) as f64 / per_mm.0, first.1 + (n / columns) as f64 / per_mm.1)
            }
        }
    }

    /// The places next to the `n`th that come after it, with the millimetres between, measured straight across the bands.
    pub fn next_to(&self, surface: &Surface, n: usize) -> impl Iterator<Item = (usize, f64)> {
        let pair = match *self {
            Lattice::Line { count, per_mm } => {
                let stretch = surface.runs.first().and_then(|run| run.even_stretch()).unwrap_or(1.0);
                [(n + 1 < count).then(|| (n + 1, 1.0 / (per_mm * stretch))), None]
            }
            Lattice::Sheet { columns, rows, per_mm, .. } => [
                ((n % columns) + 1 < columns).then(|| (n + 1, 1.0 / per_mm.0)),
                (n / columns + 1 < rows).then(|| (n + columns, 1.0 / per_mm.1)),
            ],
        };
        pair.into_iter().flatten()
    }
}

/// The most veils of an ink that lie anywhere, as far as places some millimetres apart show.
pub fn most_of(surface: &Surface, ink: usize) -> f64 {
    let lattice = Lattice::of(surface, 2.0, 5.0);
    let veils = |n| surface.by_ink(&surface.veils_at(&lattice.spot(surface, n)))[ink];
    (0..lattice.len()).map(veils).fold(0.0, f64::max)
}
