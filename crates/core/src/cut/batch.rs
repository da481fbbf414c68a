//! The plan for a whole batch: sheets, cuts, offcuts.
//!
//! Rows without searching, many tries at full sheets, and, where every way to fill a sheet can be listed, a search that
//! ends in a proof: the best of them stands, with the fewest sheets it could possibly take said beside it.

use rand_chacha::ChaCha8Rng;
use rand_core::SeedableRng;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::blocks::{Blocks, Counts};
use super::bound::Prices;
use super::fewest::Fewest;
use super::fill::fill;
use super::layout::{Cell, Layout, Lying, Part};
use super::piece::{Piece, Sheet};
use super::shelves::shelves;
use super::steps::{Step, steps};
use crate::card::edges::{Axis, Place, size};
use crate::ink::Name;
use crate::length::{Length, Units};

/// Most kinds of pieces, pieces of all kinds, and kinds of sheets in one batch.
pub const MOST: (usize, u32, usize) = (60, 600, 80);
/// Smallest side of what is worth keeping: 1 in (chosen).
pub const KEPT: Length = Length::from_inches(1);
/// Longest side of a piece or a sheet.
const LONGEST: Length = Length::from_inches(50);
/// Tries at filling sheets, with offcuts and without (chosen).
const TRIES: u64 = 60;

/// Pieces to be cut, and the sheets there are.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct SheetAsked {
    /// The units its measures are said in.
    #[serde(default)]
    pub units: Units,
    /// What is to be cut.
    pub pieces: Vec<Piece>,
    /// What it can be cut from.
    pub sheets: Vec<Sheet>,
}

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
            known.offcut && (known.width, known.height, known.grain) == (kept.width, kept.height, kept.grain) && known.paper == kept.paper
        };
        match left.iter_mut().find(same) {
            Some(known) => known.count = known.count.zip(kept.count).map(|(one, more)| one + more),
            None => left.push(kept.clone()),
        }
    }
    left
}

/// Why a batch cannot be planned.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum CutError {
    /// Nothing to cut, or nothing to cut it from.
    #[error("there is nothing to {0}: give at least one")]
    Nothing(&'static str),
    /// More than can be planned at once.
    #[error("{count} {what}: plan at most {most} at a time")]
    Many {
        /// What.
        what: &'static str,
        /// How many.
        count: usize,
        /// How many may be.
        most: usize,
    },
    /// A side no piece and no sheet has.
    #[error("{name}: a side of {length} cannot be cut: give more than nothing and at most 50 in (1270 mm)")]
    Side {
        /// The piece or sheet.
        name: Name,
        /// What was given.
        length: Length,
    },
    /// None of a piece.
    #[error("{0}: none are to be cut: give at least 1, or leave it out")]
    None(Name),
    /// A piece that no sheet holds.
    #[error("{name}, {}, fits on no sheet: {why}", size(*.width, *.height, *.units))]
    Fits {
        /// The piece.
        name: Name,
        /// Its width.
        width: Length,
        /// Its height.
        height: Length,
        /// Why not.
        why: String,
        /// How lengths are read.
        units: Units,
    },
    /// Offcuts that do not hold everything, and no full sheet beside them that could be got.
    #[error("the offcuts alone do not hold all of it: add a full sheet of the same card")]
    Offcuts,
    /// Pieces of several cards, and a sheet that does not say which card it is.
    #[error("{sheet} does not say which card it is, and pieces of {one} and of {other} are to be cut: give each sheet its card")]
    Card {
        /// The sheet.
        sheet: Name,
        /// A card.
        one: Name,
        /// Another.
        other: Name,
    },
}

/// A batch planned.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Plan {
    /// The sheets to cut, alike ones together.
    pub sheets: Vec<SheetCut>,
    /// How many of each kind of sheet are used, in the order they were given; only those that are.
    pub uses: Vec<Use>,
    /// Full sheets used.
    pub full_sheets: u32,
    /// Offcuts used up.
    pub offcuts_used: u32,
    /// Full sheets that it takes at the very least.
    pub at_least: u32,
    /// Whether fewer full sheets are proved to be impossible.
    pub exact: bool,
    /// What is left over and worth keeping.
    pub kept: Vec<Sheet>,
    /// Share of the sheets that is neither a piece nor worth keeping, in per cent.
    pub waste_percent: f64,
    /// Share of the sheets that is left over and worth keeping, in per cent.
    pub kept_percent: f64,
    /// All that in sentences.
    pub says: Vec<String>,
}

/// One or more sheets cut alike.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SheetCut {
    /// Which of the sheets given, from 0.
    pub sheet: usize,
    /// What it is called.
    pub name: Name,
    /// From left to right.
    pub width: Length,
    /// From top to bottom.
    pub height: Length,
    /// How many are cut like this.
    pub alike: u32,
    /// Its pieces, each by its number among those given, from 0, and what is left over, tiling it.
    pub parts: Vec<Lying>,
    /// The cuts in order.
    pub cuts: Vec<Step>,
    /// How it is cut in two again and again.
    #[serde(skip)]
    #[schemars(skip)]
    pub cell: Option<Cell>,
}

/// How many of a kind of sheet are used.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Use {
    /// Which of the sheets given, from 0.
    pub sheet: usize,
    /// What it is called.
    pub name: Name,
    /// How many are used.
    pub used: u32,
    /// How many of them are still to be got.
    pub to_get: u32,
}

impl SheetAsked {
    /// Plans it.
    ///
    /// # Errors
    /// A [`CutError`] with the remedy.
    pub fn answer(&self) -> Result<Plan, CutError> {
        self.check()?;
        let job = Job::of(&self.pieces, &self.sheets);
        let found = job.found().ok_or(CutError::Offcuts)?;
        Ok(self.told(&job, found))
    }

    fn check(&self) -> Result<(), CutError> {
        let (pieces, sheets, units) = (&self.pieces, &self.sheets, self.units);
        if pieces.is_empty() {
            return Err(CutError::Nothing("cut"));
        }
        if sheets.is_empty() {
            return Err(CutError::Nothing("cut from"));
        }
        let all: u32 = pieces.iter().map(|piece| piece.count).fold(0, u32::saturating_add);
        for (what, count, most) in [
            ("kinds of pieces", pieces.len(), MOST.0),
            ("pieces", all as usize, MOST.1 as usize),
            ("kinds of sheets", sheets.len(), MOST.2),
        ] {
            if count > most {
                return Err(CutError::Many { what, count, most });
            }
        }
        let sides = pieces.iter().flat_map(|p| [(&p.name, p.width), (&p.name, p.height)]);
        let sides = sides.chain(sheets.iter().flat_map(|s| [(&s.name, s.width), (&s.name, s.height)]));
        for (name, length) in sides {
            if length <= Length::ZERO || length > LONGEST {
                return Err(CutError::Side { name: name.clone(), length });
            }
        }
        if let Some(none) = pieces.iter().find(|piece| piece.count == 0) {
            return Err(CutError::None(none.name.clone()));
        }
        let mut cards = pieces.iter().filter_map(|piece| piece.paper.as_ref());
        if let Some(one) = cards.next()
            && let Some(other) = cards.find(|card| *card != one)
            && let Some(sheet) = sheets.iter().find(|sheet| sheet.paper.is_none())
        {
            let (sheet, one, other) = (sheet.name.clone(), one.clone(), other.clone());
            return Err(CutError::Card { sheet, one, other });
        }
        // Full sheets can be got; an offcut there is none of cannot.
        let there = |sheet: &&Sheet| !sheet.offcut || sheet.count != Some(0);
        for piece in pieces {
            if sheets.iter().filter(there).any(|sheet| sheet.holds(piece)) {
                continue;
            }
            let suited = || sheets.iter().filter(there).filter(|sheet| sheet.suits(piece));
            let why = match (suited().max_by_key(|sheet| sheet.area()), &piece.paper) {
                (None, Some(card)) => format!("there are none of {card}"),
                (None, None) => "there are none".into(),
                (Some(largest), _) => {
                    let turned = if piece.grain.is_some() { " with its grain along the fold" } else { "" };
                    format!(
                        "the largest, {}, is {}, and it cannot lie there{turned}",
                        largest.name,
                        size(largest.width, largest.height, units)
                    )
                }
            };
            let Piece { name, width, height, .. } = piece.clone();
            return Err(CutError::Fits { name, width, height, why, units });
        }
        Ok(())
    }
}

/// A batch as the search sees it: pieces of one size and card are one kind, whatever they are called.
struct Job<'a> {
    kinds: Vec<Piece>,
    /// For each kind, the pieces it stands for and how many of each.
    stands_for: Vec<Vec<(usize, u32)>>,
    sheets: &'a [Sheet],
}

/// What was found.
struct Found {
    layouts: Vec<Layout>,
    at_least: u32,
}

impl<'a> Job<'a> {
    fn of(pieces: &[Piece], sheets: &'a [Sheet]) -> Job<'a> {
        let mut kinds: Vec<Piece> = Vec::new();
        let mut stands_for: Vec<Vec<(usize, u32)>> = Vec::new();
        for (at, piece) in pieces.iter().enumerate() {
            let same = |kind: &Piece| {
                let as_is = (kind.width, kind.height) == (piece.width, piece.height);
                let turned = (kind.width, kind.height) == (piece.height, piece.width);
                (as_is && kind.grain == piece.grain
                    || turned && kind.grain == piece.grain.map(Axis::other))
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

    /// How many of each kind of sheet may be taken: no more than there are, or no more than there are pieces.
    fn stock(&self, as_it_is: bool) -> Vec<u32> {
        let all: u32 = self.kinds.iter().map(|kind| kind.count).sum();
        let of = |sheet: &Sheet| {
            let useful = self.kinds.iter().any(|kind| sheet.holds(kind));
            match sheet.count {
                _ if !useful => 0,
                Some(count) if as_it_is || sheet.offcut => count.min(all),
                _ => all,
            }
        };
        self.sheets.iter().map(of).collect()
    }

    /// The best plan with the stock as it is; where it is not enough, as if more could be got.
    fn found(&self) -> Option<Found> {
        self.best(&self.stock(true)).or_else(|| self.best(&self.stock(false)))
    }

    fn best(&self, stock: &[u32]) -> Option<Found> {
        let mut kinds: Vec<usize> = (0..self.kinds.len()).collect();
        kinds.sort_by_key(|kind| (-self.kinds[*kind].area(), *kind));
        let mut prices = vec![Prices::by_area(&self.kinds, self.sheets)];
        let tables = self.tables(&kinds);
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
                hardest: &kinds,
            };
            let (better, proved) = search.search(stock, at_least, known.as_deref().map(cost));
            at_least = at_least.max(proved);
            let laid = better.map(|taken| {
                taken.into_iter().filter_map(|(sheet, set)| self.laid(&tables, sheet, &set)).collect::<Vec<_>>()
            });
            known = laid.or(known);
        }
        let layouts = self.snug(known?, stock, &tables);
        let at_least = at_least.min(cost(&layouts).0);
        Some(Found { layouts, at_least })
    }

    /// A table of sets for each kind of sheet, over as many kinds of pieces, the largest first, as can be listed.
    fn tables(&self, kinds: &[usize]) -> Tables {
        // Sheets of one grain and card share a table.
        let suited = |sheet: &Sheet| -> Vec<usize> {
            kinds.iter().copied().filter(|kind| sheet.suits(&self.kinds[*kind])).collect()
        };
        let mut classes: Vec<(Option<Axis>, Vec<usize>, Vec<(Length, Length)>)> = Vec::new();
        let mut class_of = Vec::new();
        for sheet in self.sheets {
            let (suited, dims) = (suited(sheet), (sheet.width, sheet.height));
            let same = classes.iter().position(|(grain, s, _)| *grain == sheet.grain && *s == suited);
            class_of.push(same.unwrap_or(classes.len()));
            match same {
                Some(class) => classes[class].2.push(dims),
                None => classes.push((sheet.grain, suited, vec![dims])),
            }
        }
        let table = |upto: usize| -> Option<Vec<Blocks>> {
            let priced = |kind: &usize| kinds[..upto].contains(kind);
            let of = |(grain, suited, sizes): &(Option<Axis>, Vec<usize>, Vec<(Length, Length)>)| {
                let suited: Vec<usize> = suited.iter().copied().filter(priced).collect();
                Blocks::of(&self.kinds, &suited, *grain, sizes)
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
                    rows.filter(|rows| stock[sheet] == all || rows.len() as u32 <= stock[sheet]).map(&mut offer);
                }
            }
        }
        for offcuts in [true, false] {
            for attempt in 0..TRIES {
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
                    && best.as_ref().is_none_or(|(known, with, _)| area > *known || area == *known && smaller(with))
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
                new.offcut == old.offcut && (*sheet == present || stock[*sheet] > 0 && new.area() < old.area())
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

impl SheetAsked {
    fn told(&self, job: &Job, found: Found) -> Plan {
        let units = self.units;
        let mut layouts = found.layouts;
        // Sheets of a kind together, the fullest first.
        layouts.sort_by_key(|layout| (self.sheets[layout.sheet].offcut, layout.sheet, -(layout.cell.parts().len() as i64)));
        let mut open = job.stands_for.clone();
        for layout in &mut layouts {
            named(&mut layout.cell, &mut open);
        }
        let mut sheets: Vec<SheetCut> = Vec::new();
        for Layout { sheet, cell } in layouts {
            let same = |known: &&mut SheetCut| {
                known.sheet == sheet && known.cell.as_ref().is_some_and(|known| known.alike(&cell))
            };
            if let Some(known) = sheets.iter_mut().find(same) {
                known.alike += 1;
                continue;
            }
            let of = &self.sheets[sheet];
            let (name, width, height) = (of.name.clone(), of.width, of.height);
            let (parts, cuts) = (cell.parts(), steps(&cell, &self.pieces, units));
            sheets.push(SheetCut { sheet, name, width, height, alike: 1, parts, cuts, cell: Some(cell) });
        }
        let uses = self.sheets.iter().enumerate().filter_map(|(at, sheet)| {
            let used: u32 = sheets.iter().filter(|cut| cut.sheet == at).map(|cut| cut.alike).sum();
            let to_get = sheet.count.map_or(0, |count| used.saturating_sub(count));
            (used > 0).then(|| Use { sheet: at, name: sheet.name.clone(), used, to_get })
        });
        let uses: Vec<Use> = uses.collect();
        let count = |offcut: bool| -> u32 {
            uses.iter().filter(|used| self.sheets[used.sheet].offcut == offcut).map(|used| used.used).sum()
        };
        let (full_sheets, offcuts_used) = (count(false), count(true));
        let kept = self.kept(&sheets);
        let area = |sides: (Length, Length), times: u32| sides.0.times(sides.1) * i128::from(times);
        let all: i128 = sheets.iter().map(|cut| area((cut.width, cut.height), cut.alike)).sum();
        let pieces: i128 = self.pieces.iter().map(|piece| area((piece.width, piece.height), piece.count)).sum();
        let keeping: i128 = kept.iter().map(|k| area((k.width, k.height), k.count.unwrap_or(1))).sum();
        let percent = |part: i128| if all == 0 { 0.0 } else { (1000.0 * part as f64 / all as f64).round() / 10.0 };
        let exact = found.at_least >= full_sheets;
        let mut plan = Plan {
            sheets,
            full_sheets,
            offcuts_used,
            at_least: found.at_least,
            exact,
            waste_percent: percent(all - pieces - keeping),
            kept_percent: percent(keeping),
            uses,
            kept,
            says: Vec::new(),
        };
        plan.says = says(&plan);
        plan
    }

    /// What is left over and worth keeping, each size once.
    fn kept(&self, sheets: &[SheetCut]) -> Vec<Sheet> {
        let mut kept: Vec<Sheet> = Vec::new();
        for cut in sheets {
            let of = &self.sheets[cut.sheet];
            for part in cut.parts.iter().filter(|part| part.piece.is_none()) {
                let Place { width, height, .. } = part.place;
                if width < KEPT || height < KEPT {
                    continue;
                }
                let same = |known: &&mut Sheet| {
                    (known.width, known.height, known.grain) == (width, height, of.grain) && known.paper == of.paper
                };
                if let Some(known) = kept.iter_mut().find(same) {
                    known.count = known.count.map(|count| count + cut.alike);
                    continue;
                }
                let stem = of.paper.as_ref().unwrap_or(&of.name).as_str();
                let stem = stem.strip_prefix("Offcut of ").and_then(|stem| stem.rsplit_once(", ")).map_or(stem, |s| s.0);
                let stem: String = stem.chars().take(44).collect();
                let name = format!("Offcut of {stem}, {}", size(width, height, self.units));
                kept.push(Sheet {
                    name: name.parse().unwrap_or_else(|_| of.name.clone()),
                    width,
                    height,
                    grain: of.grain,
                    count: Some(cut.alike),
                    paper: of.paper.clone(),
                    offcut: true,
                });
            }
        }
        kept
    }
}

/// Gives each piece of a kind the number of one of those it stands for.
fn named(cell: &mut Cell, open: &mut [Vec<(usize, u32)>]) {
    match &mut cell.part {
        Part::Left => {}
        Part::Cut(_, parts) => parts.iter_mut().for_each(|part| named(part, open)),
        Part::Piece(kind) => {
            let of = &mut open[*kind];
            if let Some((piece, left)) = of.iter_mut().find(|(_, left)| *left > 0) {
                *left -= 1;
                *kind = *piece;
            }
        }
    }
}

fn says(plan: &Plan) -> Vec<String> {
    let many = |n: u32, one: &str| if n == 1 { format!("1 {one}") } else { format!("{n} {one}s") };
    let mut says = Vec::new();
    let offcuts = if plan.offcuts_used > 0 {
        format!(" and {} from the stock", many(plan.offcuts_used, "offcut"))
    } else {
        String::new()
    };
    let bound = if plan.full_sheets == 0 {
        "No full sheet is cut into.".to_owned()
    } else if plan.exact {
        "Fewer cannot do.".to_owned()
    } else {
        let more = plan.full_sheets - plan.at_least;
        format!("At least {} are needed, so this is at most {} more than the fewest.", plan.at_least, many(more, "sheet"))
    };
    says.push(format!("{}{offcuts}. {bound}", many(plan.full_sheets, "sheet")));
    says.push(format!(
        "{} % goes to waste, and {} % is left in pieces worth keeping.",
        plan.waste_percent, plan.kept_percent
    ));
    for short in plan.uses.iter().filter(|used| used.to_get > 0) {
        says.push(format!("The stock does not reach: get {} more of {}.", short.to_get, short.name));
    }
    says
}
