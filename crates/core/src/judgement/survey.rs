//! What lies and shows at each place?

use rayon::prelude::*;

use crate::blend::way::Along;
use crate::colour::{Illuminant, Lab};
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
}

impl Survey<'_> {
    /// Looks.
    pub fn of(surface: &Surface) -> Survey<'_> {
        let lattice = Lattice::of(surface, STEP_MM.0, STEP_MM.1);
        let sample = |n: usize| {
            let along = lattice.spot(surface, n);
            let by_coat = surface.veils_at(&along);
            let lab = surface.stack(&by_coat, |_| 1.0).lab(Illuminant::D65);
            Sample { veils: surface.by_ink(&by_coat), along, lab }
        };
        let samples = (0..lattice.len()).into_par_iter().map(sample).collect();
        Survey { surface, lattice, samples }
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
            next.map(move |(other, mm)| Step {
                between: (n, other),
                steepness: self.samples[n].lab.difference(self.samples[other].lab) / mm,
            })
        };
        (0..self.samples.len()).into_par_iter().flat_map_iter(from).collect()
    }
}
