//! Sheet after sheet until fewer is proved impossible.
//!
//! Some sheet must hold the largest piece still open: every full way to lay it is tried, the most valuable first. A state
//! that failed is not tried again, and prices cut off what cannot come out. Work is counted, not timed, so that the same
//! batch always has the same answer.

use std::collections::HashSet;

use super::blocks::{Blocks, Counts};
use super::bound::Prices;
use super::piece::{Piece, Sheet};

/// Most ways looked at before the search gives up (chosen: some tenths of a second).
const MOST_LOOKS: usize = 400_000;

/// The pieces that come from one sheet, and its kind.
pub(super) type Taken = (usize, Counts);

/// A search for few sheets, all ways to fill each of them known.
pub(super) struct Fewest<'a> {
    pub(super) pieces: &'a [Piece],
    pub(super) sheets: &'a [Sheet],
    /// The table of each kind of sheet.
    pub(super) blocks: Vec<&'a Blocks>,
    /// The fullest sets of each.
    pub(super) ways: &'a [Vec<Counts>],
    /// Prices to cut off with.
    pub(super) prices: &'a [Prices],
    /// Kinds of pieces, the hardest to place first.
    pub(super) hardest: &'a [usize],
}

/// More ways than may be looked at.
struct Enough;

/// Where a search stands: pieces open, stock left, full sheets and offcuts that may still be taken.
#[derive(Clone, PartialEq, Eq, Hash)]
struct State {
    open: Counts,
    stock: Vec<u32>,
    full: u32,
    offcuts: u32,
}

impl Fewest<'_> {
    /// Looks for a plan with fewer full sheets, or as many and fewer offcuts, than `known`, from `least` full sheets on.
    /// Gives the plan where there is one, and how many full sheets are now proved to be needed.
    pub(super) fn search(
        &self,
        stock: &[u32],
        least: u32,
        known: Option<(u32, u32)>,
    ) -> (Option<Vec<Taken>>, u32) {
        let open: Counts = self.pieces.iter().map(|piece| piece.count as u16).collect();
        let offcuts: u32 = self.sheets.iter().zip(stock).filter(|(s, _)| s.offcut).map(|(_, n)| n).sum();
        let all: u32 = self.pieces.iter().map(|piece| piece.count).sum();
        let (most, most_offcuts) = known.unwrap_or((all, offcuts.min(all) + 1));
        let (mut failed, mut looks) = (HashSet::new(), 0);
        let mut with = |full: u32, offcuts: u32| {
            let state = State { open: open.clone(), stock: stock.to_vec(), full, offcuts };
            let mut taken = Vec::new();
            self.from(state, &mut taken, &mut failed, &mut looks).map(|found| found.then_some(taken))
        };
        let mut found = None;
        let mut full = least;
        // Every offcut there is, until some number of full sheets will do …
        while full < most {
            match with(full, offcuts.min(all)) {
                Ok(Some(taken)) => {
                    found = Some(taken);
                    break;
                }
                Ok(None) => full += 1,
                Err(Enough) => return (None, full),
            }
        }
        // … then no more offcuts than must be.
        let used =
            |taken: &[Taken]| taken.iter().filter(|(sheet, _)| self.sheets[*sheet].offcut).count() as u32;
        let enough = found.as_deref().map_or(most_offcuts, used);
        for offcuts in 0..enough {
            match with(full, offcuts) {
                Ok(Some(fewer)) => return (Some(fewer), full),
                Ok(None) => {}
                Err(Enough) => break,
            }
        }
        (found, full)
    }

    fn from(
        &self,
        state: State,
        taken: &mut Vec<Taken>,
        failed: &mut HashSet<State>,
        looks: &mut usize,
    ) -> Result<bool, Enough> {
        let Some(&hardest) = self.hardest.iter().find(|kind| state.open[**kind] > 0) else {
            return Ok(true);
        };
        if self.out_of_reach(&state) || failed.contains(&state) {
            return Ok(false);
        }
        let mut next: Vec<(i128, usize, Counts)> = Vec::new();
        let mut seen = HashSet::new();
        for (sheet, ways) in self.ways.iter().enumerate() {
            let offcut = self.sheets[sheet].offcut;
            let allowed = if offcut { state.offcuts } else { state.full };
            if allowed == 0 || state.stock[sheet] == 0 {
                continue;
            }
            for way in ways.iter().filter(|way| way[hardest] > 0) {
                *looks += 1;
                let clipped: Counts = way.iter().zip(&state.open).map(|(n, open)| *n.min(open)).collect();
                if !self.is_full(&clipped, sheet, &state.open) || !seen.insert((sheet, clipped.clone())) {
                    continue;
                }
                let worth = self.prices.last().map_or(0, |prices| prices.worth(&clipped));
                next.push((worth, sheet, clipped));
            }
        }
        if *looks > MOST_LOOKS {
            return Err(Enough);
        }
        // The most valuable first; of equal ones the smaller sheet.
        next.sort_by_key(|(worth, sheet, _)| (-worth, self.sheets[*sheet].area()));
        for (_, sheet, way) in next {
            let mut after = state.clone();
            after.open.iter_mut().zip(&way).for_each(|(open, n)| *open -= n);
            after.stock[sheet] -= 1;
            if self.sheets[sheet].offcut {
                after.offcuts -= 1
            } else {
                after.full -= 1
            }
            taken.push((sheet, way));
            if self.from(after, taken, failed, looks)? {
                return Ok(true);
            }
            taken.pop();
        }
        failed.insert(state);
        Ok(false)
    }

    /// Whether nothing that is still open can be added to a set on its sheet.
    fn is_full(&self, set: &Counts, sheet: usize, open: &[u16]) -> bool {
        let mut more = set.clone();
        (0..open.len()).all(|kind| {
            if set[kind] >= open[kind] {
                return true;
            }
            more[kind] += 1;
            let fits = self.blocks[sheet].holds(&more, &self.sheets[sheet]);
            more[kind] -= 1;
            !fits
        })
    }

    /// Whether prices say that what may still be taken cannot be enough.
    fn out_of_reach(&self, state: &State) -> bool {
        self.prices.iter().any(|prices| {
            let least = prices.least(&state.open, self.sheets, &state.stock);
            least.is_none_or(|least| least > state.full)
        })
    }
}
