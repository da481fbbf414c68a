//! What does a way of laying cost?

use std::sync::Arc;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::brushes::{Dirt, unwiped};
use crate::moves::{Laying, Move, Technique, surface_after};
use crate::surface::Materials;

/// What a plan costs.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Cost {
    /// Light passes, part passes counted whole.
    pub veils: usize,
    /// Rounds.
    pub rounds: u8,
    /// Times another ink is taken up.
    pub changes: usize,
    /// Of those, times a lighter ink follows a darker one: a pad at risk.
    pub dark_then_light: usize,
    /// Times a brush is wiped.
    pub wipes: usize,
    /// Times a brush is put down for another.
    pub brush_changes: usize,
    /// What one brush that nobody wiped would do to the clean ink it soils worst; none where it would not be seen.
    pub unwiped: Option<Dirt>,
    /// Minutes of work with the hands, without drying.
    pub minutes: u32,
}

impl Cost {
    /// Counts up a list of moves.
    pub fn of(moves: &[Move], materials: &Arc<Materials>) -> Cost {
        let laid: Vec<&Laying> = moves.iter().filter_map(Move::laying).collect();
        let pairs = laid.windows(2).filter(|pair| pair[0].ink != pair[1].ink);
        let lightness = |laying: &Laying| materials.inks[laying.ink].lab().l;
        // A step of lightness too small to foul a pad is not counted.
        let fouls = |pair: &&[&Laying]| lightness(pair[1]) > lightness(pair[0]) + 8.0;
        let seconds: u32 = moves.iter().map(Move::hands).sum();
        let brushes = surface_after(materials.clone(), moves).brushes;
        Cost {
            veils: laid.iter().map(|laying| laying.veils.len()).sum(),
            rounds: laid.iter().map(|laying| laying.round).max().unwrap_or(0),
            changes: pairs.clone().count(),
            dark_then_light: pairs.filter(fouls).count(),
            wipes: brushes.wipes,
            brush_changes: brushes.changes,
            unwiped: unwiped(materials, moves),
            minutes: seconds.div_ceil(60),
        }
    }
}
