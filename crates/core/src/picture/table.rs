//! Which colour lies at each place, and how does it give when a film is thicker?

use rayon::prelude::*;

use crate::colour::Illuminant;
use crate::surface::{Lattice, Surface};

/// Most inks in a table.
pub const INKS: usize = crate::ink::drawer::MOST_INKS;
/// Rows of a table along a line to one radius of the tool's footprint.
const ROWS_A_FOOTPRINT: f64 = 8.0;
/// Step in an ink's amount with which its effect is measured, as a share of one standard deviation.
const STEP: f64 = 1.0;
/// Veils of an ink below which it is not seen.
const NONE: f64 = 1e-3;

/// One place. Its numbers stand in fours, the width in which they are reckoned.
#[derive(Clone, Copy, Debug, Default)]
pub struct Row {
    /// ln X/Xn, ln Y/Yn, ln Z/Zn of the mean film, and nothing.
    pub mean: [f32; 4],
    /// How the three move with one standard deviation more of each ink; then the standard deviations down to which the ink
    /// can thin before none is left.
    pub give: [[f32; 4]; INKS],
}

impl Row {
    /// Between this one and another, so far along; of the first so many inks.
    #[inline]
    fn towards(&self, other: &Row, along: f32, inks: usize) -> Row {
        let mut row = Row { mean: between(&self.mean, &other.mean, along), ..*self };
        for ink in 0..inks {
            row.give[ink] = between(&self.give[ink], &other.give[ink], along);
        }
        row
    }
}

/// Between two fours, so far along.
#[inline]
pub fn between(here: &[f32; 4], next: &[f32; 4], along: f32) -> [f32; 4] {
    std::array::from_fn(|n| here[n] + along * (next[n] - here[n]))
}

/// The rows at the places of a lattice.
#[derive(Clone, Debug)]
pub struct Table {
    /// The places.
    pub lattice: Lattice,
    rows: Vec<Row>,
    /// The inks in use: the rows tell of these, in this order.
    pub inks: Vec<usize>,
}

impl Table {
    /// Works out the colours of a surface, on a lattice of so many millimetres where it must cover the panel.
    pub fn of(surface: &Surface, coarse_mm: f64) -> Table {
        let fine_mm = surface.materials.tool.kind.footprint_mm() / ROWS_A_FOOTPRINT;
        let lattice = Lattice::of(surface, fine_mm, coarse_mm);
        let inks = surface.brushed();
        let rows = (0..lattice.len()).into_par_iter().map(|n| row(surface, &lattice, &inks, n)).collect();
        Table { lattice, rows, inks }
    }

    /// The place of the last row that a line of pixels reads.
    pub const fn last(&self) -> usize {
        match self.lattice {
            Lattice::Line { count, .. } => count - 1,
            Lattice::Sheet { columns, .. } => columns - 1,
        }
    }

    /// The rows that a line of pixels reads, from left to right or along the blend: those of the lattice, or between two
    /// rows of it where it covers the panel.
    pub fn line(&self, y_mm: f64) -> std::borrow::Cow<'_, [Row]> {
        match self.lattice {
            Lattice::Line { .. } => (&self.rows).into(),
            Lattice::Sheet { columns, rows, per_mm, first } => {
                let at = ((y_mm - first.1) * per_mm.1).clamp(0.0, (rows - 1) as f64);
                let (above, below) = (at as usize, (at as usize + 1).min(rows - 1));
                let along = (at - above as f64) as f32;
                let (above, below) = (&self.rows[above * columns..], &self.rows[below * columns..]);
                let between = |n: usize| above[n].towards(&below[n], along, self.inks.len());
                (0..columns).map(between).collect::<Vec<Row>>().into()
            }
        }
    }
}

fn row(surface: &Surface, lattice: &Lattice, inks: &[usize], n: usize) -> Row {
    let by_coat = surface.veils_at(&lattice.spot(surface, n));
    let veils = surface.by_ink(&by_coat);
    let sigma = surface.materials.unevenness();
    let logs = |grown: &dyn Fn(usize) -> f64| {
        let seen = surface.stack(&by_coat, grown).reflectance().relative(Illuminant::D65);
        seen.map(|t| t.max(1e-5).ln())
    };
    let mean = logs(&|_| 1.0);
    let mut row = Row::default();
    row.mean[..3].copy_from_slice(&mean.map(|t| t as f32));
    for (place, &ink) in inks.iter().enumerate() {
        let veils = veils[ink];
        if veils < NONE {
            continue;
        }
        let deviation = sigma * veils.sqrt();
        let more = 1.0 + STEP * deviation / veils;
        let thicker = logs(&|other| if other == ink { more } else { 1.0 });
        // Thin spots let through more light than thick ones hold back; half the variance in logs makes up
        // for it, so that the mean of the uneven film is the colour predicted for the even one.
        for axis in 0..3 {
            let give = ((thicker[axis] - mean[axis]) / STEP) as f32;
            row.give[place][axis] = give;
            row.mean[axis] -= 0.5 * give * give;
        }
        row.give[place][3] = -(veils / deviation) as f32;
    }
    row
}
