//! What does a way of laying cost?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::ink::Ink;
use crate::moves::{Laying, Move, Technique};

/// What a plan costs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Cost {
    /// Light passes, part passes counted whole.
    pub veils: usize,
    /// Rounds.
    pub rounds: u8,
    /// Times another ink is taken up: a brush to wipe or change.
    pub changes: usize,
    /// Of those, times a lighter ink follows a darker one: a pad at risk.
    pub dark_then_light: usize,
    /// Minutes of work with the hands, without drying.
    pub minutes: u32,
}

impl Cost {
    /// Counts up a list of moves.
    pub fn of(moves: &[Move], inks: &[Ink]) -> Cost {
        let laid: Vec<&Laying> = moves.iter().filter_map(Move::laying).collect();
        let pairs = laid.windows(2).filter(|pair| pair[0].ink != pair[1].ink);
        let lightness = |laying: &Laying| inks.get(laying.ink).map_or(0.0, |ink| ink.lab().l);
        // A step of lightness too small to foul a pad is not counted.
        let fouls = |pair: &&[&Laying]| lightness(pair[1]) > lightness(pair[0]) + 8.0;
        let seconds: u32 = moves.iter().map(Move::hands).sum();
        Cost {
            veils: laid.iter().map(|laying| laying.veils.len()).sum(),
            rounds: laid.iter().map(|laying| laying.round).max().unwrap_or(0),
            changes: pairs.clone().count(),
            dark_then_light: pairs.filter(fouls).count(),
            minutes: seconds.div_ceil(60),
        }
    }
}
