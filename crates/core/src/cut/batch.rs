//! The plan for a whole batch: sheets, cuts, offcuts, and beside it the fewest sheets it could possibly take.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::job::{Found, Job};
use super::layout::{Cell, Layout, Lying, Part};
use super::piece::{Piece, Sheet};
use super::steps::{Step, steps};
use crate::edges::{Place, size};
use crate::ink::Name;
use crate::length::{Length, Units};

/// Most kinds of pieces, pieces of all kinds, and kinds of sheets in one batch.
pub const MOST: (usize, u32, usize) = (60, 600, 80);
/// Smallest side of what is worth keeping, where the maker has not said: 1 in (chosen).
pub const KEPT: Length = Length::from_inches(1);
/// Longest side of a piece or a sheet.
const LONGEST: Length = Length::from_inches(50);
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
    /// The shortest side of what is worth keeping; 1 in where it is left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub keep: Option<Length>,
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
    /// A least size of offcuts that is none.
    #[error(
        "offcuts from {0} on: give the shortest side worth keeping, more than nothing and at most 12 in (304.8 mm)"
    )]
    Keep(Length),
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
    #[error(
        "{sheet} does not say which card it is, and pieces of {one} and of {other} are to be cut: give each sheet its card"
    )]
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

/// Refuses a least size of offcuts that is none.
///
/// # Errors
/// [`CutError::Keep`].
pub fn check_keep(keep: Option<Length>) -> Result<(), CutError> {
    let known = |length: &Length| Length::ZERO < *length && *length <= Length::from_inches(12);
    match keep.filter(|length| !known(length)) {
        Some(length) => Err(CutError::Keep(length)),
        None => Ok(()),
    }
}

impl SheetAsked {
    /// The shortest side of what is worth keeping.
    pub fn kept_from(&self) -> Length {
        self.keep.unwrap_or(KEPT)
    }

    /// The system its measures are told in: one for the whole list, the maker's own unless all is exact in the other alone.
    pub fn told_in(&self) -> Units {
        let pieces = self.pieces.iter().flat_map(|piece| [piece.width, piece.height]);
        let sides: Vec<Length> =
            pieces.chain(self.sheets.iter().flat_map(|sheet| [sheet.width, sheet.height])).collect();
        Units::exact_for(self.units, &sides).unwrap_or(self.units)
    }

    /// Plans it.
    ///
    /// # Errors
    /// A [`CutError`] with the remedy.
    ///
    /// ```
    /// # use rosy_core::cut::SheetAsked;
    /// let two_on_each = r#"{
    ///     "pieces": [{ "name": "Base", "width": "8 1/2 in", "height": "5 1/2 in", "count": 7 }],
    ///     "sheets": [{ "name": "Letter", "width": "8 1/2 in", "height": "11 in", "count": 6 }]
    /// }"#;
    /// let asked: SheetAsked = serde_json::from_str(two_on_each)?;
    /// let plan = asked.answer()?;
    /// assert_eq!((plan.full_sheets, plan.exact), (4, true));
    /// // What no sheet holds is refused.
    /// let long: SheetAsked = serde_json::from_str(&two_on_each.replace("5 1/2", "12"))?;
    /// assert!(long.answer().is_err());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn answer(&self) -> Result<Plan, CutError> {
        self.check()?;
        let job = Job::of(&self.pieces, &self.sheets);
        let found = job.found().ok_or(CutError::Offcuts)?;
        Ok(self.told(&job, found))
    }

    /// Refuses what cannot be planned, before anything is reckoned.
    ///
    /// # Errors
    /// A [`CutError`] with the remedy.
    pub fn check(&self) -> Result<(), CutError> {
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
        check_keep(self.keep)?;
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

impl SheetAsked {
    fn told(&self, job: &Job, found: Found) -> Plan {
        let (units, keep) = (self.told_in(), self.kept_from());
        let mut layouts = found.layouts;
        // Sheets of a kind together, the fullest first.
        layouts.sort_by_key(|layout| {
            (self.sheets[layout.sheet].offcut, layout.sheet, -(layout.cell.parts().len() as i64))
        });
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
            let (parts, cuts) = (cell.parts(), steps(&cell, &self.pieces, keep, units));
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
        let pieces: i128 =
            self.pieces.iter().map(|piece| area((piece.width, piece.height), piece.count)).sum();
        let keeping: i128 = kept.iter().map(|k| area((k.width, k.height), k.count.unwrap_or(1))).sum();
        let percent =
            |part: i128| if all == 0 { 0.0 } else { (1000.0 * part as f64 / all as f64).round() / 10.0 };
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
                if width < self.kept_from() || height < self.kept_from() {
                    continue;
                }
                let same = |known: &&mut Sheet| {
                    (known.width, known.height, known.grain) == (width, height, of.grain)
                        && known.paper == of.paper
                };
                if let Some(known) = kept.iter_mut().find(same) {
                    known.count = known.count.map(|count| count + cut.alike);
                    continue;
                }
                let stem = of.paper.as_ref().unwrap_or(&of.name).as_str();
                let stem = stem
                    .strip_prefix("Offcut of ")
                    .and_then(|stem| stem.rsplit_once(", "))
                    .map_or(stem, |s| s.0);
                let stem: String = stem.chars().take(44).collect();
                let name = format!("Offcut of {stem}, {}", size(width, height, self.told_in()));
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
    let more = |n: u32| if n == 1 { "1 more sheet".to_owned() } else { format!("{n} more sheets") };
    let mut says = Vec::new();
    let mut taken = Vec::new();
    if plan.full_sheets > 0 {
        taken.push(many(plan.full_sheets, "sheet"));
    }
    if plan.offcuts_used > 0 {
        taken.push(format!("{} from the stock", many(plan.offcuts_used, "offcut")));
    }
    let bound = if plan.full_sheets == 0 {
        "No full sheet is cut into.".to_owned()
    } else if plan.exact {
        "Fewer cannot do.".to_owned()
    } else {
        let more = many(plan.full_sheets - plan.at_least, "sheet");
        format!("At least {} are needed, so this is at most {more} more than the fewest.", plan.at_least)
    };
    says.push(format!("{}. {bound}", taken.join(" and ")));
    says.push(format!(
        "{} % goes to waste, and {} % is left in pieces worth keeping.",
        plan.waste_percent, plan.kept_percent
    ));
    for short in plan.uses.iter().filter(|used| used.to_get > 0) {
        says.push(format!("The stock does not reach: get {} of {}.", more(short.to_get), short.name));
    }
    says
}
