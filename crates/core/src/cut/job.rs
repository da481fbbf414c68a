//! Which sheets, and which pieces from each? The best of several ways to find out.
//!
//! Rows without searching, many tries at full sheets, and, where every way to fill a sheet can be listed, a search that
//! ends in a proof. What stands has its sheets swapped for the smallest that hold the same.

use rand_chacha::ChaCha8Rng;
use rand_core::SeedableRng;

use super::blocks::{Blocks, Counts};
use super::bound::Prices;
use super::fewest::{Fewest, Taken};
use super::fill::fill;
use super::layout::{Cell, Layout};
use super::piece::{Piece, Sheet};
use super::shelves::shelves;
use crate::edges::{Axis, Place};
use crate::length::Length;

/// Tries at filling sheets, with offcuts and without (chosen).
const TRIES: u64 = 60;
/// Most pieces placed in all tries together, for batches so large that fewer tries must do (chosen).
const MOST_PLACED: u64 = 20_000;

/// Most ways to get sheets that are looked into where the stock does not reach (chosen).
const MOST_GOT: usize = 40;

/// A batch as the search sees it: pieces of one size and card are one kind, whatever they are called.
pub(super) struct Job<'a> {
    kinds: Vec<Piece>,
    /// For each kind, the pieces it stands for and how many of each.
    pub(super) stands_for: Vec<Vec<(usize, u32)>>,
    sheets: &'a [Sheet],
}

/// What was found.
pub(super) struct Found {
    pub(super) layouts: Vec<Layout>,
    /// Full sheets that it takes at the very least.
    pub(super) at_least: u32,
}

impl<'a> Job<'a> {
    /// Pieces of one size and card taken together.
    pub(super) fn of(pieces: &[Piece], sheets: &'a [Sheet]) -> Job<'a> {
        let mut kinds: Vec<Piece> = Vec::new();
        let mut stands_for: Vec<Vec<(usize, u32)>> = Vec::new();
        for (at, piece) in pieces.iter().enumerate() {
            let same = |kind: &Piece| {
                let as_is = (kind.width, kind.height) == (piece.width, piece.height);
                let turned = (kind.width, kind.height) == (piece.height, piece.width);
                (as_is && kind.grain == piece.grain || turned && kind.grain == piece.grain.map(Axis::other))
                    && kind.paper == piece.paper
            };
            match kinds.iter().position(same) {
                Some(kind) => {
                    kinds[kind].count += piece.count;
                    stands_for[kind].push((at, piece.count));
                }
                None => {
                    kinds.push(piece.clone());
                    stands_for.push(vec![(at, piece.count)]);
                }
            }
        }
        Job { kinds, stands_for, sheets }
    }

    /// How many of each kind of sheet there are, as far as they are of use.
    fn stock(&self) -> Vec<u32> {
        let all = self.all();
        let of = |sheet: &Sheet| if self.is_useful(sheet) { sheet.count.unwrap_or(all).min(all) } else { 0 };
        self.sheets.iter().map(of).collect()
    }

    /// How many pieces there are to be cut.
    fn all(&self) -> u32 {
        self.kinds.iter().map(|kind| kind.count).sum()
    }

    fn is_useful(&self, sheet: &Sheet) -> bool {
        self.kinds.iter().any(|kind| sheet.holds(kind))
    }

    /// The best plan with the stock as it is; where it does not reach, with the fewest sheets that must be got.
    pub(super) fn found(&self) -> Option<Found> {
        let mut kinds: Vec<usize> = (0..self.kinds.len()).collect();
        kinds.sort_by_key(|kind| (-self.kinds[*kind].area(), *kind));
        let tables = self.tables(&kinds);
        let stock = self.stock();
        self.best(&stock, &kinds, &tables).or_else(|| self.with_fewest_got(&stock, &kinds, &tables))
    }

    /// The best plan with as few sheets beyond the stock as can be: from as many of each as would be taken if there were
    /// no end of them, fewer and fewer of one after the other, then every way to get fewer still, as far as there are
    /// not too many to look into.
    fn with_fewest_got(&self, stock: &[u32], kinds: &[usize], tables: &Tables) -> Option<Found> {
        let all = self.all();
        let gettable: Vec<usize> = (0..self.sheets.len())
            .filter(|sheet| !self.sheets[*sheet].offcut && self.is_useful(&self.sheets[*sheet]))
            .collect();
        let with = |got: &[u32]| {
            let stock: Vec<u32> =
                stock.iter().zip(got).map(|(there, more)| (there + more).min(all)).collect();
            self.best(&stock, kinds, tables)
        };
        let taken = |found: &Found| -> Vec<u32> {
            let mut got: Vec<u32> = vec![0; self.sheets.len()];
            found.layouts.iter().for_each(|layout| got[layout.sheet] += 1);
            got.iter().zip(stock).map(|(used, there)| used.saturating_sub(*there)).collect()
        };
        let no_end: Vec<u32> =
            (0..self.sheets.len()).map(|sheet| if gettable.contains(&sheet) { all } else { 0 }).collect();
        let mut best = with(&no_end)?;
        let mut got = taken(&best);
        let mut looks = 0;
        // Fewer of one kind, as few as do, the others as they are.
        for &sheet in &gettable {
            let (mut least, mut most) = (0, got[sheet]);
            while least < most && looks < MOST_GOT {
                looks += 1;
                let mut fewer = got.clone();
                fewer[sheet] = least + (most - least) / 2;
                match with(&fewer) {
                    Some(found) => {
                        got = taken(&found);
                        most = got[sheet].min(fewer[sheet]);
                        best = found;
                    }
                    None => least = fewer[sheet] + 1,
                }
            }
        }
        // Any fewer of whatever kinds: a proof where all of them can be looked into.
        let mut total = 1;
        while total < got.iter().sum::<u32>() && looks < MOST_GOT {
            let mut better = None;
            for shares in shared_out(total, gettable.len(), MOST_GOT) {
                let mut tried = vec![0; self.sheets.len()];
                gettable.iter().zip(shares).for_each(|(sheet, n)| tried[*sheet] = n);
                looks += 1;
                better = with(&tried);
                if better.is_some() || looks >= MOST_GOT {
                    break;
                }
            }
            if let Some(found) = better {
                return Some(found);
            }
            total += 1;
        }
        Some(best)
    }

    fn best(&self, stock: &[u32], kinds: &[usize], tables: &Tables) -> Option<Found> {
        let mut prices = vec![Prices::by_area(&self.kinds, self.sheets)];
        let ways: Vec<Vec<Counts>> = (0..self.sheets.len())
            .map(|sheet| match (stock[sheet], tables.of(sheet)) {
                (0, _) | (_, None) => Vec::new(),
                (_, Some(blocks)) => blocks.fullest(&self.kinds, &self.sheets[sheet]),
            })
            .collect();
        prices.extend(Prices::best(&self.kinds, self.sheets, stock, &ways, &kinds[..tables.kinds]));
        let open: Vec<u16> = self.kinds.iter().map(|kind| kind.count as u16).collect();
        let least = prices.iter().map(|prices| prices.least(&open, self.sheets, stock));
        // Where even a bound says that the stock cannot do, it cannot.
        let mut at_least = least.collect::<Option<Vec<u32>>>()?.into_iter().max().unwrap_or(0);

        let mut known = self.tried(stock);
        let cost = |layouts: &[Layout]| {
            let (offcuts, full): (Vec<&Layout>, Vec<&Layout>) =
                layouts.iter().partition(|layout| self.sheets[layout.sheet].offcut);
            (full.len() as u32, offcuts.len() as u32)
        };
        if tables.kinds == kinds.len() {
            let blocks = (0..self.sheets.len()).filter_map(|sheet| tables.of(sheet)).collect();
            let search = Fewest {
                pieces: &self.kinds,
                sheets: self.sheets,
                blocks,
                ways: &ways,
                prices: &prices,
                hardest: kinds,
            };
            let (better, proved) = search.search(stock, at_least, known.as_deref().map(cost));
            at_least = at_least.max(proved);
            let laid = better.map(|taken| {
                taken
                    .into_iter()
                    .filter_map(|(sheet, set)| self.laid(tables, sheet, &set))
                    .collect::<Vec<_>>()
            });
            known = laid.or(known);
        }
        let layouts = self.snug(self.filled_up(known?, tables), stock, tables);
        let at_least = at_least.min(cost(&layouts).0);
        Some(Found { layouts, at_least })
    }

    /// A table of sets for each kind of sheet, over as many kinds of pieces, the largest first, as can be listed.
    fn tables(&self, kinds: &[usize]) -> Tables {
        let suited = |sheet: &Sheet| -> Vec<usize> {
            kinds.iter().copied().filter(|kind| sheet.suits(&self.kinds[*kind])).collect()
        };
        let mut classes: Vec<Class> = Vec::new();
        let mut class_of = Vec::new();
        for sheet in self.sheets {
            let (suited, size) = (suited(sheet), (sheet.width, sheet.height));
            let same = classes.iter().position(|class| class.grain == sheet.grain && class.suited == suited);
            class_of.push(same.unwrap_or(classes.len()));
            match same {
                Some(class) => classes[class].sizes.push(size),
                None => classes.push(Class { grain: sheet.grain, suited, sizes: vec![size] }),
            }
        }
        let table = |upto: usize| -> Option<Vec<Blocks>> {
            let of = |class: &Class| {
                let suited = class.suited.iter().copied().filter(|kind| kinds[..upto].contains(kind));
                Blocks::of(&self.kinds, &suited.collect::<Vec<_>>(), class.grain, &class.sizes)
            };
            classes.iter().map(of).collect()
        };
        let mut known = (Vec::new(), 0);
        for upto in 1..=kinds.len() {
            let Some(blocks) = table(upto) else { break };
            known = (blocks, upto);
        }
        Tables { blocks: known.0, class_of, kinds: known.1 }
    }

    /// The best of the rows and of many tries.
    fn tried(&self, stock: &[u32]) -> Option<Vec<Layout>> {
        let mut best: Option<((u32, i128, u32), Vec<Layout>)> = None;
        let mut offer = |layouts: Vec<Layout>| {
            let full = || layouts.iter().filter(|layout| !self.sheets[layout.sheet].offcut);
            let area = full().map(|layout| self.sheets[layout.sheet].area()).sum();
            let count = full().count() as u32;
            let cost = (count, area, layouts.len() as u32 - count);
            if best.as_ref().is_none_or(|(known, _)| cost < *known) {
                best = Some((cost, layouts));
            }
        };
        let all: u32 = self.kinds.iter().map(|kind| kind.count).sum();
        for (sheet, of) in self.sheets.iter().enumerate() {
            let suits = self.kinds.iter().all(|kind| of.suits(kind));
            if !of.offcut && suits && stock[sheet] > 0 {
                for flat in [true, false] {
                    let rows = shelves(&self.kinds, sheet, of, flat);
                    rows.filter(|rows| stock[sheet] == all || rows.len() as u32 <= stock[sheet])
                        .map(&mut offer);
                }
            }
        }
        let full = self.sheets.iter().zip(stock).filter(|(sheet, n)| !sheet.offcut && **n > 0).count();
        let tries = (MOST_PLACED / (u64::from(all) * full.max(1) as u64)).clamp(4, TRIES);
        for offcuts in [true, false] {
            for attempt in 0..tries {
                let wild = if attempt == 0 { 0.0 } else { 0.15 + 0.5 * (attempt % 5) as f64 };
                let mut seed = ChaCha8Rng::seed_from_u64(attempt);
                self.attempt(stock, offcuts, wild, &mut seed).map(&mut offer);
            }
        }
        best.map(|(_, layouts)| layouts)
    }

    /// One try: offcuts first where they may be used, then the full sheets that take up most.
    fn attempt(&self, stock: &[u32], offcuts: bool, wild: f64, seed: &mut ChaCha8Rng) -> Option<Vec<Layout>> {
        let mut left: Vec<u16> = self.kinds.iter().map(|kind| kind.count as u16).collect();
        let mut stock = stock.to_vec();
        let mut layouts = Vec::new();
        let filled = |sheet: usize, left: &mut Vec<u16>, seed: &mut ChaCha8Rng| {
            let before = left.clone();
            let cell = fill(&self.kinds, &self.sheets[sheet], left, wild, seed);
            let placed = before.iter().zip(left.iter()).zip(&self.kinds);
            let area: i128 = placed.map(|((b, a), kind)| i128::from(b - a) * kind.area()).sum();
            (area, Layout { sheet, cell })
        };
        if offcuts {
            for sheet in (0..self.sheets.len()).filter(|sheet| self.sheets[*sheet].offcut) {
                while stock[sheet] > 0 {
                    let (area, layout) = filled(sheet, &mut left, seed);
                    if area == 0 {
                        break;
                    }
                    stock[sheet] -= 1;
                    layouts.push(layout);
                }
            }
        }
        while left.iter().any(|n| *n > 0) {
            let mut best: Option<(i128, Layout, Vec<u16>)> = None;
            for sheet in (0..self.sheets.len()).filter(|sheet| !self.sheets[*sheet].offcut) {
                if stock[sheet] == 0 {
                    continue;
                }
                let mut after = left.clone();
                let (area, layout) = filled(sheet, &mut after, seed);
                let smaller = |known: &Layout| self.sheets[sheet].area() < self.sheets[known.sheet].area();
                if area > 0
                    && best
                        .as_ref()
                        .is_none_or(|(known, with, _)| area > *known || area == *known && smaller(with))
                {
                    best = Some((area, layout, after));
                }
            }
            let (_, layout, after) = best?;
            stock[layout.sheet] -= 1;
            left = after;
            layouts.push(layout);
        }
        Some(layouts)
    }

    /// A set on a sheet, laid so that the largest rest stays whole.
    fn laid(&self, tables: &Tables, sheet: usize, set: &[u16]) -> Option<Layout> {
        let of = &self.sheets[sheet];
        let place = Place { width: of.width, height: of.height, ..Place::default() };
        let block = tables.of(sheet)?.block(set, of)?;
        Some(Layout { sheet, cell: block.laid(place) })
    }

    /// The same plan, pieces moved from emptier sheets to fuller ones as long as they find room: what is left over is left
    /// in one piece.
    fn filled_up(&self, layouts: Vec<Layout>, tables: &Tables) -> Vec<Layout> {
        let mut sets: Vec<Taken> =
            layouts.iter().map(|layout| (layout.sheet, self.set(&layout.cell))).collect();
        let area = |set: &Counts| -> i128 {
            set.iter().zip(&self.kinds).map(|(n, kind)| i128::from(*n) * kind.area()).sum()
        };
        let room = |(sheet, set): &Taken, kind: usize| {
            let mut more = set.clone();
            more[kind] += 1;
            tables.of(*sheet).is_some_and(|blocks| blocks.holds(&more, &self.sheets[*sheet]))
        };
        // Every move makes a fuller sheet fuller still, so it ends.
        loop {
            let mut fullest: Vec<usize> = (0..sets.len()).collect();
            fullest.sort_by_key(|at| (-area(&sets[*at].1), *at));
            let moves = fullest.iter().enumerate().flat_map(|(place, to)| {
                let sets = &sets;
                let emptier = fullest[place + 1..].iter().rev();
                emptier.flat_map(move |from| (0..sets[*from].1.len()).map(move |kind| (*from, *to, kind)))
            });
            let found = moves
                .into_iter()
                .find(|(from, to, kind)| sets[*from].1[*kind] > 0 && room(&sets[*to], *kind));
            let Some((from, to, kind)) = found else { break };
            sets[from].1[kind] -= 1;
            sets[to].1[kind] += 1;
        }
        sets.retain(|(_, set)| set.iter().any(|n| *n > 0));
        let laid: Option<Vec<Layout>> =
            sets.iter().map(|(sheet, set)| self.laid(tables, *sheet, set)).collect();
        laid.unwrap_or(layouts)
    }

    /// The same plan, every sheet swapped for the smallest there is that holds its pieces, and laid for the largest rest.
    fn snug(&self, layouts: Vec<Layout>, stock: &[u32], tables: &Tables) -> Vec<Layout> {
        let mut stock = stock.to_vec();
        for layout in &layouts {
            stock[layout.sheet] -= 1;
        }
        let mut by_area: Vec<usize> = (0..self.sheets.len()).collect();
        by_area.sort_by_key(|sheet| self.sheets[*sheet].area());
        let swapped = layouts.into_iter().map(|layout| {
            let set = self.set(&layout.cell);
            let present = layout.sheet;
            let smaller = by_area.iter().copied().filter(|sheet| {
                let (new, old) = (&self.sheets[*sheet], &self.sheets[present]);
                new.offcut == old.offcut
                    && (*sheet == present || stock[*sheet] > 0 && new.area() < old.area())
            });
            let found = smaller.filter_map(|sheet| self.laid(tables, sheet, &set)).next();
            let layout = found.unwrap_or(layout);
            stock[present] += 1;
            stock[layout.sheet] -= 1;
            layout
        });
        swapped.collect()
    }

    fn set(&self, cell: &Cell) -> Counts {
        let mut set: Counts = vec![0; self.kinds.len()].into();
        for kind in cell.parts().iter().filter_map(|lying| lying.piece) {
            set[kind] += 1;
        }
        set
    }
}

/// The ways to share a number out, at most so many of them.
fn shared_out(total: u32, over: usize, most: usize) -> Vec<Vec<u32>> {
    let Some(rest) = over.checked_sub(1) else { return Vec::new() };
    if rest == 0 {
        return vec![vec![total]];
    }
    let mut ways = Vec::new();
    for first in (0..=total).rev() {
        for mut way in shared_out(total - first, rest, most - ways.len()) {
            way.insert(0, first);
            ways.push(way);
        }
        if ways.len() >= most {
            break;
        }
    }
    ways
}

/// Sheets of one grain and card: they share a table.
struct Class {
    grain: Option<Axis>,
    /// Kinds of pieces that may come from them.
    suited: Vec<usize>,
    sizes: Vec<(Length, Length)>,
}

/// The tables of all kinds of sheets.
struct Tables {
    blocks: Vec<Blocks>,
    /// Which of them each kind of sheet shares.
    class_of: Vec<usize>,
    /// How many kinds of pieces, the largest first, they know.
    kinds: usize,
}

impl Tables {
    fn of(&self, sheet: usize) -> Option<&Blocks> {
        self.blocks.get(self.class_of[sheet])
    }
}
