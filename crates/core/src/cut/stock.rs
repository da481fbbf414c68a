//! What is gathered to be cut, and what is left once it is?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::batch::{KEPT, Plan};
use super::piece::{Piece, Sheet};
use crate::length::Length;

/// Pieces gathered to be cut in one go.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Batch {
    /// What is to be cut.
    pub pieces: Vec<Piece>,
    /// What comes out of windows that are cut in them, to be kept.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub spare: Vec<Piece>,
    /// The shortest side of offcuts worth keeping, the maker's own; it outlasts the batch.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub keep: Option<Length>,
}

impl Batch {
    /// The next batch, empty, with what outlasts this one.
    #[must_use]
    pub fn cleared(&self) -> Batch {
        Batch { keep: self.keep, ..Batch::default() }
    }

    /// Adds pieces to be cut; more of what is there already become more of it.
    pub fn add(&mut self, piece: Piece) {
        add(&mut self.pieces, piece);
    }

    /// Adds what comes out of a window; what is too small to keep is left out.
    pub fn add_spare(&mut self, piece: Piece) {
        let keep = self.keep.unwrap_or(KEPT);
        if piece.width >= keep && piece.height >= keep {
            add(&mut self.spare, piece);
        }
    }
}

fn add(pieces: &mut Vec<Piece>, piece: Piece) {
    let same = |known: &&mut Piece| Piece { count: piece.count, ..(**known).clone() } == piece;
    match pieces.iter_mut().find(same) {
        Some(known) => known.count = known.count.saturating_add(piece.count),
        None => pieces.push(piece),
    }
}

/// The stock after a batch has been cut by a plan: sheets used are gone, offcuts used up are no more, and what is kept is
/// put by, pieces out of windows too.
pub fn after(stock: &[Sheet], batch: &Batch, plan: &Plan) -> Vec<Sheet> {
    let mut left: Vec<Sheet> = stock.to_vec();
    for used in &plan.uses {
        left[used.sheet].count = left[used.sheet].count.map(|count| count.saturating_sub(used.used));
    }
    let windows = batch.spare.iter().cloned().map(|Piece { name, width, height, grain, count, paper }| {
        Sheet { name, width, height, grain, count: Some(count), paper, offcut: true }
    });
    for kept in plan.kept.iter().cloned().chain(windows) {
        let same = |known: &&mut Sheet| {
            known.offcut
                && (known.width, known.height, known.grain) == (kept.width, kept.height, kept.grain)
                && known.paper == kept.paper
        };
        match left.iter_mut().find(same) {
            Some(known) => known.count = known.count.zip(kept.count).map(|(one, more)| one + more),
            None => left.push(kept),
        }
    }
    left
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::cut::SheetAsked;
    use crate::length::Units;

    #[test]
    fn card_is_neither_made_nor_lost_but_for_waste() {
        let eighths = |n: i64| Length::from_64ths(8 * n);
        let piece = |name: &str, w, h, count| Piece {
            name: name.parse().unwrap(),
            width: eighths(w),
            height: eighths(h),
            grain: None,
            count,
            paper: None,
        };
        let sheet = |w, h, n, offcut| Sheet {
            name: "Mist".parse().unwrap(),
            width: eighths(w),
            height: eighths(h),
            grain: None,
            count: Some(n),
            paper: None,
            offcut,
        };
        let stock = vec![sheet(68, 88, 9, false), sheet(34, 50, 2, true)];
        let mut batch = Batch::default();
        batch.add(piece("Mat", 33, 43, 4));
        batch.add(piece("Mat", 33, 43, 5));
        batch.add_spare(piece("Window of Mat", 24, 34, 9));
        batch.add_spare(piece("Window too small to keep", 4, 34, 9));
        assert_eq!((batch.pieces.len(), batch.pieces[0].count, batch.spare.len()), (1, 9, 1));
        let asked = SheetAsked {
            units: Units::Inches,
            pieces: batch.pieces.clone(),
            sheets: stock.clone(),
            keep: None,
        };
        let plan = asked.answer().unwrap();
        let left = after(&stock, &batch, &plan);
        let area = |sheets: &[Sheet]| -> i128 {
            sheets.iter().map(|s| s.area() * i128::from(s.count.unwrap())).sum()
        };
        let pieces: i128 = batch.pieces.iter().map(|p| p.area() * i128::from(p.count)).sum();
        let windows: i128 = batch.spare.iter().map(|p| p.area() * i128::from(p.count)).sum();
        let cut: i128 = plan.sheets.iter().map(|s| s.width.times(s.height) * i128::from(s.alike)).sum();
        let waste = area(&stock) - (area(&left) - windows) - pieces;
        let said = plan.waste_percent / 100.0 * cut as f64;
        assert!((waste as f64 - said).abs() <= 0.0006 * cut as f64, "{waste} against {said}");
    }
}
