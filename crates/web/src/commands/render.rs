//! `rosy-veil render`: a panel's picture as a PNG file of its true size.

use std::path::Path;

use rosy_core::order::RunSheet;
use rosy_core::picture::file::{Pace, png};
use rosy_core::picture::{Size, draw};
use rosy_core::{Panel, Units};

use super::streams::read_file;
use crate::files;

/// Longest document read, in bytes: many times what the fullest panel takes.
const LONGEST: u64 = 2 << 20;

/// Draws the panel of a file into another.
pub fn run(panel: &Path, output: &Path, dpi: f64, after: Option<usize>) -> Result<(), String> {
    let panel: Panel = files::read_panel(&read_file(panel, LONGEST)?)?;
    let moves = match after {
        None => panel.moves.len(),
        Some(step) => moves_after(&panel, step)?,
    };
    let picture = draw(&panel.after(moves), Size { dpi }).map_err(|error| error.to_string())?;
    std::fs::write(output, png(&picture, dpi, Pace::Balanced))
        .map_err(|error| format!("{}: {error}", output.display()))
}

/// How many moves have been made after a step of the run sheet, counted from 1; 0 is before the first.
fn moves_after(panel: &Panel, step: usize) -> Result<usize, String> {
    let steps = RunSheet::of(panel, Units::default()).steps;
    match step.checked_sub(1) {
        None => Ok(0),
        Some(at) => steps
            .get(at)
            .map(|step| step.after_moves)
            .ok_or_else(|| format!("there is no step {step}: the run sheet has {}", steps.len())),
    }
}
