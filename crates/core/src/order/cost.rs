//! What does a way of laying cost?

use std::sync::Arc;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::brushes::{Dirt, unwiped};
use super::pieces::{Pieces, taken};
use crate::moves::{Laying, Move, Technique};
use crate::surface::{Materials, Surface};

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
    /// Pieces of masking sheet.
    pub pieces: usize,
    /// Times that it is left to dry, or dried with heat.
    pub dryings: usize,
    /// Minutes of work with the hands, without drying.
    pub minutes: u32,
    /// Minutes that it dries in air, hands free.
    pub drying_minutes: u32,
}

impl Cost {
    /// Counts up a list of moves.
    pub fn of(moves: &[Move], materials: &Arc<Materials>) -> Cost {
        let laid: Vec<&Laying> = moves.iter().filter_map(Move::laying).collect();
        let pairs = laid.windows(2).filter(|pair| pair[0].ink != pair[1].ink);
        let lightness = |laying: &Laying| materials.inks[laying.ink].lab().l;
        // A step of lightness too small to foul a pad is not counted.
        let fouls = |pair: &&[&Laying]| lightness(pair[1]) > lightness(pair[0]) + 8.0;
        let seconds: u32 = moves.iter().map(|m| m.hands(materials)).sum();
        let (mut surface, mut waits) = (Surface::bare(materials.clone()), 0);
        for m in moves {
            waits += m.waits(&surface);
            m.make(&mut surface);
        }
        let brushes = surface.brushes;
        Cost {
            veils: laid.iter().map(|laying| laying.veils.len()).sum(),
            rounds: laid.iter().map(|laying| laying.round).max().unwrap_or(0),
            changes: pairs.clone().count(),
            dark_then_light: pairs.filter(fouls).count(),
            wipes: brushes.wipes,
            brush_changes: brushes.changes,
            unwiped: unwiped(materials, moves),
            pieces: taken(moves, materials).iter().map(Pieces::count).sum(),
            dryings: moves.iter().filter(|m| m.dries()).count(),
            minutes: seconds.div_ceil(60),
            drying_minutes: waits.div_ceil(60),
        }
    }
}
