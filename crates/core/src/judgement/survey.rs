//! What lies and shows at each place?

use rayon::prelude::*;

use crate::blend::way::Along;
use crate::colour::{Illuminant, Lab};
use crate::shape::Region;
use crate::surface::{Lattice, Surface};

/// Millimetres between the places looked at: along a line, and over the panel.
pub const STEP_MM: (f64, f64) = (1.0, 2.5);

/// What is seen at one place.
#[derive(Clone, Debug)]
pub struct Sample {
    /// Its measures along the surface's ways.
    pub along: Vec<Along>,
    /// Veils of each ink.
    pub veils: Vec<f64>,
    /// The colour.
    pub lab: Lab,
}

/// A change of colour between two places next to one another.
#[derive(Clone, Copy, Debug)]
pub struct Step {
    /// The two places.
    pub between: (usize, usize),
    /// ΔE00 a millimetre.
    pub steepness: f64,
}

/// A surface looked at all over.
#[derive(Debug)]
pub struct Survey<'a> {
    /// The surface.
    pub surface: &'a Surface,
    /// Where it was looked at.
    pub lattice: Lattice,
    /// What was seen at each place of it.
    pub samples: Vec<Sample>,
    /// Places that something in front hides; none where all is seen.
    hidden: Vec<bool>,
}

impl Survey<'_> {
    /// Looks where a region lies, or all over.
    pub fn of<'a>(surface: &'a Surface, seen: Option<&Region>) -> Survey<'a> {
        let lattice = Lattice::of(surface, STEP_MM.0, STEP_MM.1);
        let sample = |n: usize| {
            let along = lattice.spot(surface, n);
            let by_coat = surface.veils_at(&along);
            let lab = surface.stack(&by_coat, |_| 1.0).lab(Illuminant::D65);
            Sample { veils: surface.by_ink(&by_coat), along, lab }
        };
        let samples = (0..lattice.len()).into_par_iter().map(sample).collect();
        // A place along a line stands for all of that measure, which is seen somewhere.
        let hidden = match (seen, lattice) {
            (Some(seen), Lattice::Sheet { .. }) => {
                let is_hidden = |n: usize| {
                    let (x, y) = lattice.point(surface, n);
                    !seen.has([x, y])
                };
                (0..lattice.len()).into_par_iter().map(is_hidden).collect()
            }
            _ => Vec::new(),
        };
        // Where nothing of it would be seen, it is looked at as if nothing hid it.
        let hidden = if hidden.iter().all(|hidden| *hidden) { Vec::new() } else { hidden };
        Survey { surface, lattice, samples, hidden }
    }

    /// The places that are seen.
    pub fn places(&self) -> impl Iterator<Item = usize> + Clone {
        (0..self.samples.len()).filter(|n| !self.is_hidden(*n))
    }

    fn is_hidden(&self, n: usize) -> bool {
        self.hidden.get(n).is_some_and(|hidden| *hidden)
    }

    /// Veils of an ink at a place, as a share of its full swatch.
    pub fn share(&self, sample: &Sample, ink: usize) -> f64 {
        sample.veils[ink] / self.surface.materials.full_veils(ink)
    }

    /// Square millimetres that each place stands for; along a line, of a strip 2 cm wide.
    pub fn area_mm2(&self) -> f64 {
        match self.lattice {
            Lattice::Line { .. } => STEP_MM.0 * 20.0,
            Lattice::Sheet { per_mm, .. } => 1.0 / (per_mm.0 * per_mm.1),
        }
    }

    /// Every change of colour between neighbouring places.
    pub fn steps(&self) -> Vec<Step> {
        let from = |n: usize| {
            let next = self.lattice.next_to(self.surface, n);
            let seen = next.filter(move |(other, _)| !self.is_hidden(n) && !self.is_hidden(*other));
            seen.map(move |(other, mm)| Step {
                between: (n, other),
                steepness: self.samples[n].lab.difference(self.samples[other].lab) / mm,
            })
        };
        (0..self.samples.len()).into_par_iter().flat_map_iter(from).collect()
    }
}
