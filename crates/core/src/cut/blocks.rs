//! Which pieces can come from one sheet together? All the ways, exactly.
//!
//! Whatever is cut edge to edge is put together again by joining two blocks side by side or one above the other. So every
//! set of pieces is the joining of two smaller sets, and the smallest rectangles it fills follow from theirs. Of those
//! only the ones that are not both wider and higher than another are kept. Nothing that can be cut is missed, so where
//! the table is complete what it says no to is impossible.

use std::collections::HashMap;

use super::layout::Block;
use super::piece::{Piece, Sheet};
use crate::edges::Axis;
use crate::length::Length;

/// How many of each kind of piece.
pub(super) type Counts = Box<[u16]>;

/// Most sets of pieces in a table, and most pairs looked at while it is made (chosen: some tenths of a second).
const MOST_SETS: usize = 6_000;
const MOST_PAIRS: usize = 400_000;

/// A rectangle that a set of pieces fills.
#[derive(Clone, Copy, Debug)]
struct Filled {
    width: Length,
    height: Length,
    how: How,
}

/// How it is put together.
#[derive(Clone, Copy, Debug)]
enum How {
    /// One piece.
    Piece(usize),
    /// Two sets along an axis: each by its number and the rectangle's place among its own.
    Pair(Axis, [(usize, usize); 2]),
}

/// Every set of pieces that comes from a sheet of some sizes together.
#[derive(Debug)]
pub(super) struct Blocks {
    counts: Vec<Counts>,
    filled: Vec<Vec<Filled>>,
    number: HashMap<Counts, usize>,
}

/// Sets joined so far, by their pieces.
#[derive(Default)]
struct Level {
    counts: Vec<Counts>,
    filled: Vec<Vec<Filled>>,
    number: HashMap<Counts, usize>,
}

impl Level {
    fn add(&mut self, counts: Counts, filled: Filled) {
        let at = match self.number.get(&counts) {
            Some(at) => *at,
            None => {
                self.number.insert(counts.clone(), self.counts.len());
                self.counts.push(counts);
                self.filled.push(Vec::new());
                self.counts.len() - 1
            }
        };
        let known = &mut self.filled[at];
        if known.iter().any(|k| k.width <= filled.width && k.height <= filled.height) {
            return;
        }
        known.retain(|k| k.width < filled.width || k.height < filled.height);
        known.push(filled);
    }
}

impl Blocks {
    /// Of the given kinds of pieces, on sheets whose grain runs so; none where there are too many ways to look at all.
    pub(super) fn of(
        pieces: &[Piece],
        kinds: &[usize],
        grain: Option<Axis>,
        sizes: &[(Length, Length)],
    ) -> Option<Blocks> {
        let fits = |w: Length, h: Length| sizes.iter().any(|(width, height)| w <= *width && h <= *height);
        let most_area = sizes.iter().map(|(width, height)| width.times(*height)).max().unwrap_or(0);
        let area = |counts: &[u16]| -> i128 {
            counts.iter().zip(pieces).map(|(n, piece)| i128::from(*n) * piece.area()).sum()
        };
        let mut areas: Vec<i128> = Vec::new();
        let mut all = Level::default();
        // Where the sets of each number of pieces begin.
        let mut begins = vec![0, 0];
        for &kind in kinds {
            for (width, height) in pieces[kind].ways(grain).into_iter().filter(|(w, h)| fits(*w, *h)) {
                let mut counts: Counts = vec![0; pieces.len()].into();
                counts[kind] = 1;
                all.add(counts, Filled { width, height, how: How::Piece(kind) });
            }
        }
        let mut pairs = 0;
        loop {
            let n = begins.len();
            begins.push(all.counts.len());
            areas.extend(all.counts[areas.len()..].iter().map(|counts| area(counts)));
            let sets = |of: usize| begins[of]..begins[of + 1];
            let mut level = Level::default();
            for small in 1..=n / 2 {
                for a in sets(small) {
                    for b in sets(n - small) {
                        pairs += 1;
                        if areas[a] + areas[b] > most_area {
                            continue;
                        }
                        pairs += 4 * all.filled[a].len() * all.filled[b].len();
                        if pairs > MOST_PAIRS {
                            return None;
                        }
                        let sum = |k: usize| all.counts[a][k] + all.counts[b][k];
                        if kinds.iter().any(|&k| u32::from(sum(k)) > pieces[k].count) {
                            continue;
                        }
                        let counts: Counts = (0..pieces.len()).map(sum).collect();
                        for (at_a, one) in all.filled[a].iter().enumerate() {
                            for (at_b, other) in all.filled[b].iter().enumerate() {
                                for axis in Axis::BOTH {
                                    // Three in a row are joined one at a time: the smaller part is no row itself.
                                    if matches!(one.how, How::Pair(same, _) if same == axis) {
                                        continue;
                                    }
                                    let (width, height) = axis.of(
                                        (one.width + other.width, one.height.max(other.height)),
                                        (one.width.max(other.width), one.height + other.height),
                                    );
                                    if fits(width, height) {
                                        let how = How::Pair(axis, [(a, at_a), (b, at_b)]);
                                        level.add(counts.clone(), Filled { width, height, how });
                                    }
                                }
                            }
                        }
                    }
                }
            }
            if level.counts.is_empty() {
                break;
            }
            if all.counts.len() + level.counts.len() > MOST_SETS {
                return None;
            }
            for (counts, filled) in level.counts.into_iter().zip(level.filled) {
                all.number.insert(counts.clone(), all.counts.len());
                all.counts.push(counts);
                all.filled.push(filled);
            }
        }
        Some(Blocks { counts: all.counts, filled: all.filled, number: all.number })
    }

    /// Whether a set comes from a sheet.
    pub(super) fn holds(&self, counts: &[u16], sheet: &Sheet) -> bool {
        let fits = |f: &Filled| f.width <= sheet.width && f.height <= sheet.height;
        self.number.get(counts).is_some_and(|&set| self.filled[set].iter().any(fits))
    }

    /// The sets that come from a sheet and to which nothing can be added.
    pub(super) fn fullest(&self, pieces: &[Piece], sheet: &Sheet) -> Vec<Counts> {
        let mut more: Counts = vec![0; pieces.len()].into();
        let mut is_full = |counts: &Counts| {
            self.holds(counts, sheet)
                && (0..pieces.len()).all(|kind| {
                    more.copy_from_slice(counts);
                    more[kind] += 1;
                    !self.holds(&more, sheet)
                })
        };
        self.counts.iter().filter(|counts| is_full(counts)).cloned().collect()
    }

    /// The way a set lies on a sheet that leaves the largest rest in one piece.
    pub(super) fn block(&self, counts: &[u16], sheet: &Sheet) -> Option<Block> {
        let set = *self.number.get(counts)?;
        let rest = |f: &Filled| {
            let (right, below) = (sheet.width - f.width, sheet.height - f.height);
            right.times(sheet.height).max(below.times(sheet.width))
        };
        let fits = |f: &&Filled| f.width <= sheet.width && f.height <= sheet.height;
        let best = self.filled[set].iter().filter(fits).max_by_key(|f| rest(f))?;
        Some(self.put_together(best))
    }

    fn put_together(&self, filled: &Filled) -> Block {
        match filled.how {
            How::Piece(kind) => Block::Piece(kind, filled.width, filled.height),
            How::Pair(axis, parts) => {
                let [one, other] = parts.map(|(set, at)| self.put_together(&self.filled[set][at]));
                Block::pair(axis, one, other)
            }
        }
    }
}
