//! What is gathered to be cut, and what is left once it is?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::batch::Plan;
use super::piece::{Piece, Sheet};

/// Pieces gathered to be cut in one go.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Batch {
    /// What is to be cut.
    pub pieces: Vec<Piece>,
}

impl Batch {
    /// Adds pieces; more of what is there already become more of it.
    pub fn add(&mut self, piece: Piece) {
        let same = |known: &&mut Piece| Piece { count: piece.count, ..(**known).clone() } == piece;
        match self.pieces.iter_mut().find(same) {
            Some(known) => known.count = known.count.saturating_add(piece.count),
            None => self.pieces.push(piece),
        }
    }
}

/// The stock after a plan has been cut: sheets used are gone, offcuts used up are no more, and what is kept is put by.
pub fn after(stock: &[Sheet], plan: &Plan) -> Vec<Sheet> {
    let mut left: Vec<Sheet> = stock.to_vec();
    for used in &plan.uses {
        left[used.sheet].count = left[used.sheet].count.map(|count| count.saturating_sub(used.used));
    }
    for kept in &plan.kept {
        let same = |known: &&mut Sheet| {
            known.offcut
                && (known.width, known.height, known.grain) == (kept.width, kept.height, kept.grain)
                && known.paper == kept.paper
        };
        match left.iter_mut().find(same) {
            Some(known) => known.count = known.count.zip(kept.count).map(|(one, more)| one + more),
            None => left.push(kept.clone()),
        }
    }
    left
}
