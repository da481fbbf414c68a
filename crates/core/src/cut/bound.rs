//! How few sheets can it possibly take?
//!
//! Put a price on every piece so that no sheet can carry more than a known worth: then the worth of all pieces says how
//! many sheets there must be. Areas are such prices. Where every way to fill a sheet is known, the best prices are the
//! dual of a linear program over all of them (Gilmore and Gomory, *Operations Research*, 1961). Whatever prices are
//! found, the bound is then reckoned in whole numbers, so that no rounding can make it claim too much.

use microlp::{ComparisonOp, OptimizationDirection, Problem};

use super::blocks::Counts;
use super::piece::{Piece, Sheet};

/// Most ways to fill a sheet that prices are sought over (chosen).
const MOST_WAYS: usize = 6_000;
/// Whole prices to one sheet's worth.
const FINE: f64 = 1e6;

/// A price for each kind of piece, and the most that each kind of sheet carries.
#[derive(Clone, Debug)]
pub(super) struct Prices {
    of: Vec<i128>,
    carries: Vec<i128>,
}

impl Prices {
    /// Every piece by its area.
    pub(super) fn by_area(pieces: &[Piece], sheets: &[Sheet]) -> Prices {
        let holds = |sheet: &Sheet| pieces.iter().any(|piece| sheet.holds(piece));
        Prices {
            of: pieces.iter().map(Piece::area).collect(),
            carries: sheets.iter().map(|s| if holds(s) { s.area() } else { 0 }).collect(),
        }
    }

    /// The prices that ask for the most sheets, given every way to fill each kind of sheet with the kinds of pieces
    /// that are priced; none where there are too many ways.
    pub(super) fn best(
        pieces: &[Piece],
        sheets: &[Sheet],
        stock: &[u32],
        ways: &[Vec<Counts>],
        kinds: &[usize],
    ) -> Option<Prices> {
        if ways.iter().map(Vec::len).sum::<usize>() > MOST_WAYS || kinds.is_empty() {
            return None;
        }
        let mut problem = Problem::new(OptimizationDirection::Maximize);
        let free = (0.0, f64::INFINITY);
        let price: Vec<_> =
            kinds.iter().map(|&k| problem.add_var(f64::from(pieces[k].count), free)).collect();
        for ((sheet, ways), stock) in sheets.iter().zip(ways).zip(stock) {
            let cost = if sheet.offcut { 0.0 } else { 1.0 };
            // What one more of a kind that runs out would be worth.
            let scarce = problem.add_var(-f64::from(*stock), free);
            for way in ways {
                let mut worth: Vec<_> = kinds
                    .iter()
                    .zip(&price)
                    .filter(|(kind, _)| way[**kind] > 0)
                    .map(|(kind, price)| (*price, f64::from(way[*kind])))
                    .collect();
                worth.push((scarce, -1.0));
                problem.add_constraint(&worth, ComparisonOp::Le, cost);
            }
        }
        let solved = problem.solve().ok()?.into_solution().ok()?;
        let mut of = vec![0; pieces.len()];
        for (kind, price) in kinds.iter().zip(price) {
            of[*kind] = (solved.var_value(price).max(0.0) * FINE).floor() as i128;
        }
        let prices = Prices { of, carries: Vec::new() };
        let most = |ways: &Vec<Counts>| ways.iter().map(|way| prices.worth(way)).max().unwrap_or(0);
        Some(Prices { carries: ways.iter().map(most).collect(), ..prices })
    }

    /// What some pieces are worth together.
    pub(super) fn worth(&self, pieces: &[u16]) -> i128 {
        pieces.iter().zip(&self.of).map(|(n, price)| i128::from(*n) * price).sum()
    }

    /// How many full sheets some pieces need at least, every offcut of the stock used; none where the stock cannot do.
    pub(super) fn least(&self, pieces: &[u16], sheets: &[Sheet], stock: &[u32]) -> Option<u32> {
        let all = || self.carries.iter().zip(sheets).zip(stock);
        let offcuts = all().filter(|((_, sheet), _)| sheet.offcut);
        let carried: i128 = offcuts.map(|((carries, _), n)| carries * i128::from(*n)).sum();
        let mut open = self.worth(pieces) - carried;
        let mut full: Vec<(i128, u32)> = all()
            .filter(|((carries, sheet), _)| !sheet.offcut && **carries > 0)
            .map(|((carries, _), n)| (*carries, *n))
            .collect();
        full.sort_unstable_by_key(|(carries, _)| -carries);
        let mut least = 0;
        for (carries, stock) in full {
            if open <= 0 {
                break;
            }
            let needed = ((open + carries - 1) / carries).min(i128::from(stock));
            open -= needed * carries;
            least += needed as u32;
        }
        (open <= 0).then_some(least)
    }
}
