//! Which colour lies at each place along the blend, and how does it give when a film is thicker?

use rayon::prelude::*;

use crate::colour::Illuminant;
use crate::order::Move;
use crate::panel::Materials;

/// Most inks in a table.
pub const INKS: usize = 5;
/// Millimetres between the rows of the table: an eighth of the smallest footprint.
const ROW_MM: f64 = 0.5;
/// Step in an ink's amount with which its effect is measured, as a share of one standard deviation.
const STEP: f64 = 1.0;

/// One place along the blend.
#[derive(Clone, Copy, Debug, Default)]
pub struct Row {
    /// ln X/Xn, ln Y/Yn, ln Z/Zn of the mean film.
    pub mean: [f32; 3],
    /// How the three move with one standard deviation more of each ink.
    pub give: [[f32; 3]; INKS],
    /// Standard deviations down to which each ink can thin before none is left.
    pub floor: [f32; INKS],
}

/// The rows from the start of the blend to its end.
#[derive(Clone, Debug)]
pub struct Table {
    rows: Vec<Row>,
    per_mm: f64,
    /// Inks in use.
    pub inks: usize,
}

impl Table {
    /// Works out the colours of some of a panel's moves.
    pub fn of(materials: &Materials, moves: &[Move]) -> Table {
        let panel = materials.panel;
        let span = panel.span().mm();
        let count = (span / ROW_MM).ceil() as usize + 1;
        let per_mm = (count - 1) as f64 / span;
        let sigma = panel.tool.kind.unevenness() * panel.paper.surface.unevenness();
        let rows =
            (0..count).into_par_iter().map(|n| row(materials, moves, n as f64 / per_mm, sigma)).collect();
        Table { rows, per_mm, inks: panel.inks.len().min(INKS) }
    }

    /// The row nearest before a place, and the share of the way to the next.
    #[inline]
    pub fn at(&self, place_mm: f64) -> (&Row, &Row, f32) {
        let along = (place_mm * self.per_mm).clamp(0.0, (self.rows.len() - 1) as f64);
        let row = along as usize;
        let next = (row + 1).min(self.rows.len() - 1);
        (&self.rows[row], &self.rows[next], (along - row as f64) as f32)
    }
}

fn row(materials: &Materials, moves: &[Move], place: f64, sigma: f64) -> Row {
    let light = Illuminant::D65;
    let by_move = materials.veils_at(moves, place);
    let veils = materials.by_ink(moves, &by_move);
    let logs = |grown: &dyn Fn(usize) -> f64| {
        materials.stack(moves, &by_move, grown).reflectance().relative(light).map(|t| t.max(1e-5).ln())
    };
    let mean = logs(&|_| 1.0);
    let mut row = Row { mean: mean.map(|t| t as f32), ..Row::default() };
    for (ink, &veils) in veils.iter().enumerate().take(INKS) {
        if veils < 1e-3 {
            continue;
        }
        let deviation = sigma * veils.sqrt();
        let more = 1.0 + STEP * deviation / veils;
        let thicker = logs(&|other| if other == ink { more } else { 1.0 });
        row.give[ink] = std::array::from_fn(|axis| ((thicker[axis] - mean[axis]) / STEP) as f32);
        row.floor[ink] = -(veils / deviation) as f32;
        // Thin spots let through more light than thick ones hold back; half the variance in logs makes up
        // for it, so that the mean of the uneven film is the colour predicted for the even one.
        for axis in 0..3 {
            row.mean[axis] -= 0.5 * row.give[ink][axis].powi(2);
        }
    }
    row
}
