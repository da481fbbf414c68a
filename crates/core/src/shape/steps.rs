//! How is an edge repeated down a panel so that its humps never line up?
//!
//! A torn or cloud-edged piece is inked along its edge, slid down by a set step and shifted sideways, again and again. Two
//! repeats line up where a hump of one stands over a hump of the other. Of all shifts on a ruler's marks that the piece has
//! room for, those are chosen whose humps come least near one another, for any two repeats; and they are put in the order in
//! which neighbours differ most. Both are searched exactly.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::family::{Drawn, DrawnError};
use super::outline::Outline;
use super::piece::SheetSize;
use super::region::Region;
use super::svg::{self, SvgError};
use crate::length::{Length, Units};

/// Fewest and most repeats.
pub const REPEATS: std::ops::RangeInclusive<usize> = 2..=10;
/// Most shifts that are tried: marks are coarser on a piece with more room.
const MOST_SHIFTS: usize = 72;
/// Millimetres between the places where the edge is looked at, and how far a hump stands above what is beside it.
const FINE: f64 = 0.25;
const HUMP: f64 = 0.4;
/// Millimetres to each side within which a hump is the highest place.
const BESIDE: f64 = 2.0;

/// An edge to be repeated.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct StepsAsked {
    /// The piece as a shape by its measures, its upper edge the one that is inked along.
    #[serde(default)]
    pub drawn: Option<Drawn>,
    /// The piece as the text of an SVG.
    #[serde(default)]
    pub svg: Option<String>,
    /// The panel.
    pub panel: SheetSize,
    /// How many times, 2 to 10.
    pub count: usize,
    /// From one to the next, down; shared out over the panel where none is given.
    #[serde(default)]
    pub slide: Option<Length>,
    /// In which units it is told.
    #[serde(default)]
    pub units: Units,
}

/// Why an edge cannot be repeated, and what to change.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum StepsError {
    /// Neither or both.
    #[error("give either svg, the text of a drawing, or drawn, a shape by its measures")]
    Which,
    /// The drawing.
    #[error(transparent)]
    Svg(#[from] SvgError),
    /// The measures.
    #[error(transparent)]
    Drawn(#[from] DrawnError),
    /// How often.
    #[error("{0} repeats: give {least} to {most}", least = REPEATS.start(), most = REPEATS.end())]
    Count(usize),
    /// The panel.
    #[error("panel {0} × {1}: give sides from 1 in to 12 in")]
    Panel(Length, Length),
    /// A slide off the panel.
    #[error("slides of {0}: give more than nothing, and no more than the panel is high")]
    Slide(Length),
    /// No wider than the panel.
    #[error("the piece is {0} wide and the panel {1}: it needs at least a pencil mark more to be shifted")]
    Narrow(Length, Length),
    /// Nothing to line up.
    #[error("the upper edge has no humps: it can be slid down as it is")]
    Level,
}

/// A schedule of slides and shifts.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct StepsSeen {
    /// Humps along the piece, in millimetres from its left end.
    pub humps_mm: Vec<f64>,
    /// The repeats, from the top of the panel down.
    pub steps: Vec<StepSeen>,
    /// The least distance sideways between a hump of one repeat and a hump of any other, in millimetres.
    pub least_mm: f64,
    /// The same between a repeat and the next.
    pub least_next_mm: f64,
    /// The schedule in a sentence.
    pub says: String,
}

/// One repeat.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct StepSeen {
    /// From the top of the panel to the top of the edge.
    pub down: Length,
    /// How far the piece's left end stands out to the left of the panel.
    pub left: Length,
}

impl StepsAsked {
    /// Makes the schedule.
    ///
    /// # Errors
    /// A [`StepsError`] saying what to change.
    pub fn answer(&self) -> Result<StepsSeen, StepsError> {
        let SheetSize { width, height } = self.panel;
        schedule(&self.outline()?, (width, height), self.count, self.slide, self.units)
    }

    fn outline(&self) -> Result<Outline, StepsError> {
        match (&self.svg, &self.drawn) {
            (Some(text), None) => Ok(svg::read(text)?.outline),
            (None, Some(drawn)) => Ok(drawn.outline()?),
            _ => Err(StepsError::Which),
        }
    }
}

/// The schedule of slides and shifts by which an outline's upper edge is repeated so often down a panel.
///
/// # Errors
/// A [`StepsError`] saying what to change.
pub fn schedule(
    outline: &Outline,
    (width, height): (Length, Length),
    count: usize,
    slide: Option<Length>,
    units: Units,
) -> Result<StepsSeen, StepsError> {
    if !REPEATS.contains(&count) {
        return Err(StepsError::Count(count));
    }
    let sides = Length::from_inches(1)..=Length::from_inches(12);
    if !sides.contains(&width) || !sides.contains(&height) {
        return Err(StepsError::Panel(width, height));
    }
    let mark = units.pencil();
    let slide = match slide {
        Some(slide) if slide <= Length::ZERO || slide > height => return Err(StepsError::Slide(slide)),
        Some(slide) => slide,
        None => Length::nearest(height.mm() / (count + 1) as f64, mark).max(mark),
    };
    let wide = outline.size().0;
    let room = wide - width.mm();
    if room < mark.mm() {
        return Err(StepsError::Narrow(Length::nearest(wide, mark), width));
    }
    let humps = humps(&outline.region());
    if humps.is_empty() {
        return Err(StepsError::Level);
    }
    let marks = (room / mark.mm()).floor() as usize;
    let coarser = marks.div_ceil(MOST_SHIFTS).max(1);
    let shifts: Vec<Length> = (0..=marks / coarser).map(|n| mark * (n * coarser) as i64).collect();
    let apart = |a: usize, b: usize| apart(&humps, shifts[a].mm(), shifts[b].mm(), width.mm());
    let (chosen, least_mm) = furthest_apart(shifts.len(), count, &apart);
    let (order, least_next_mm) = in_order(&chosen, &apart);
    let steps: Vec<StepSeen> = order
        .into_iter()
        .zip(1..)
        .map(|(shift, nth)| StepSeen { down: slide * nth, left: shifts[shift] })
        .collect();
    let shown = |length: Length| length.shown(units).to_string();
    let lefts: Vec<String> = steps.iter().map(|step| shown(step.left)).collect();
    let near = shown(Length::nearest(least_mm, mark));
    let says = format!(
        "Slide it down {} each time; let its left end stand out by {}, in turn. No two humps come nearer than about {near} sideways.",
        shown(slide),
        lefts.join(", ")
    );
    Ok(StepsSeen { humps_mm: humps, steps, least_mm, least_next_mm, says })
}

/// The humps of a piece's upper edge, in millimetres from its left end.
fn humps(piece: &Region) -> Vec<f64> {
    let Some((least, most)) = piece.bounds() else { return Vec::new() };
    let count = ((most[0] - least[0]) / FINE) as usize;
    let x = |n: usize| least[0] + (n as f64 + 0.5) * FINE;
    let mut tops = vec![f64::INFINITY; count];
    for (from, to) in piece.sides() {
        let (left, right) = if from[0] <= to[0] { (from, to) } else { (to, from) };
        let begin = ((left[0] - least[0]) / FINE - 0.5).ceil().max(0.0) as usize;
        for (n, top) in tops.iter_mut().enumerate().skip(begin) {
            if x(n) > right[0] {
                break;
            }
            let share = (x(n) - left[0]) / (right[0] - left[0]).max(1e-9);
            *top = top.min(left[1] + share.clamp(0.0, 1.0) * (right[1] - left[1]));
        }
    }
    let reach = (BESIDE / FINE) as usize;
    let is_hump = |n: &usize| {
        let (from, to) = (n.saturating_sub(reach), (*n + reach + 1).min(count));
        if *n < reach || n + reach >= count {
            return false;
        }
        let before = tops[from..*n].iter().all(|top| tops[*n] < *top);
        let after = tops[n + 1..to].iter().all(|top| tops[*n] <= *top);
        before && after && deepest(&tops[..*n]) > tops[*n] + HUMP && deepest(&tops[n + 1..]) > tops[*n] + HUMP
    };
    (0..count).filter(is_hump).map(|n| x(n) - least[0]).collect()
}

fn deepest(tops: &[f64]) -> f64 {
    tops.iter().copied().filter(|top| top.is_finite()).fold(f64::NEG_INFINITY, f64::max)
}

/// How near a hump of a repeat comes to one of another, sideways, on a panel so wide: each stands out to the left by its own.
fn apart(humps: &[f64], one: f64, other: f64, wide: f64) -> f64 {
    let seen =
        |left: f64| humps.iter().map(move |hump| hump - left).filter(move |at| (0.0..=wide).contains(at));
    let pairs = seen(one).flat_map(|a| seen(other).map(move |b| (a - b).abs()));
    pairs.fold(f64::INFINITY, f64::min).min(wide)
}

/// Of so many shifts some, no two of which come nearer than need be; and how near the nearest two do.
fn furthest_apart(shifts: usize, count: usize, apart: &dyn Fn(usize, usize) -> f64) -> (Vec<usize>, f64) {
    let table: Vec<Vec<f64>> = (0..shifts).map(|a| (0..shifts).map(|b| apart(a, b)).collect()).collect();
    let mut steps: Vec<f64> = (0..shifts).flat_map(|a| table[a][a + 1..].to_vec()).collect();
    steps.push(0.0);
    steps.sort_by(f64::total_cmp);
    steps.dedup();
    // The greatest distance that so many shifts keep from one another.
    let holds = |least: f64| {
        let mut chosen = Vec::new();
        pick(&table, count, least, 0, &mut chosen).then_some(chosen)
    };
    let first_not = steps.partition_point(|least| holds(*least).is_some());
    let chosen = steps[..first_not].last().and_then(|least| holds(*least));
    // Where there is too little room for so many different shifts, some come again.
    let chosen = chosen.unwrap_or_else(|| (0..count).map(|n| n % shifts).collect());
    let table = &table;
    let near = |a: usize, b: usize| if a == b { 0.0 } else { table[a][b] };
    let pairs = (0..chosen.len()).flat_map(|n| (0..n).map(move |m| (n, m)));
    let nearest = pairs.map(|(n, m)| near(chosen[n], chosen[m])).fold(f64::INFINITY, f64::min);
    (chosen, nearest)
}

fn pick(table: &[Vec<f64>], count: usize, least: f64, from: usize, chosen: &mut Vec<usize>) -> bool {
    if chosen.len() == count {
        return true;
    }
    let missing = count - chosen.len();
    for next in from..(table.len() + 1).saturating_sub(missing) {
        if chosen.iter().all(|a| table[*a][next] >= least) {
            chosen.push(next);
            if pick(table, count, least, next + 1, chosen) {
                return true;
            }
            chosen.pop();
        }
    }
    false
}

/// The order in which neighbours differ most, and by how much the two do that differ least: over all orders, through the best
/// way to have laid each set with each last.
fn in_order(chosen: &[usize], apart: &dyn Fn(usize, usize) -> f64) -> (Vec<usize>, f64) {
    let n = chosen.len();
    let all = (1_usize << n) - 1;
    let mut best = vec![(f64::NEG_INFINITY, usize::MAX); (all + 1) * n];
    for last in 0..n {
        best[(1 << last) * n + last] = (f64::INFINITY, usize::MAX);
    }
    for set in 1..=all {
        for last in (0..n).filter(|last| set & (1 << last) != 0) {
            let (so_far, _) = best[set * n + last];
            for next in (0..n).filter(|next| set & (1 << next) == 0) {
                let with = so_far.min(apart(chosen[last], chosen[next]));
                let entry = &mut best[(set | 1 << next) * n + next];
                if with > entry.0 {
                    *entry = (with, last);
                }
            }
        }
    }
    let mut last = (0..n).max_by(|a, b| best[all * n + a].0.total_cmp(&best[all * n + b].0)).unwrap_or(0);
    let least = best[all * n + last].0;
    let (mut set, mut order) = (all, Vec::new());
    while last != usize::MAX {
        order.push(chosen[last]);
        let before = best[set * n + last].1;
        set &= !(1 << last);
        last = before;
    }
    order.reverse();
    (order, least)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shape::family::find;
    use proptest::prelude::*;

    fn asked(count: usize) -> StepsAsked {
        let mut drawn = Drawn::usual(find("cloud-edge").unwrap());
        drawn.measures.insert("wide".into(), super::super::family::Value::Length(Length::from_inches(6)));
        let panel = SheetSize { width: Length::from_inches(4), height: Length::from_64ths(5 * 64 + 16) };
        StepsAsked { drawn: Some(drawn), svg: None, panel, count, slide: None, units: Units::Inches }
    }

    #[test]
    fn humps_never_line_up_and_the_least_distance_is_what_is_said() {
        for count in [2, 3, 5] {
            let seen = asked(count).answer().unwrap();
            assert_eq!(seen.steps.len(), count);
            assert!(seen.humps_mm.len() >= 3, "{:?}", seen.humps_mm);
            let mut nearest = f64::INFINITY;
            for (n, one) in seen.steps.iter().enumerate() {
                for other in &seen.steps[n + 1..] {
                    nearest = nearest.min(apart(&seen.humps_mm, one.left.mm(), other.left.mm(), 101.6));
                }
            }
            assert!((nearest - seen.least_mm).abs() < 1e-9 && nearest > 0.0, "{nearest} {}", seen.least_mm);
            assert!(seen.least_next_mm >= seen.least_mm - 1e-9);
            assert!(seen.steps.windows(2).all(|pair| pair[0].down < pair[1].down));
        }
        assert!(asked(2).answer().unwrap().least_mm > asked(5).answer().unwrap().least_mm);
    }

    #[test]
    fn what_cannot_be_repeated_is_told() {
        assert_eq!(asked(1).answer(), Err(StepsError::Count(1)));
        let narrow =
            StepsAsked { panel: SheetSize { width: Length::from_inches(6), ..asked(2).panel }, ..asked(2) };
        assert!(matches!(narrow.answer(), Err(StepsError::Narrow(..))));
        let level = StepsAsked { drawn: Some(Drawn::usual(find("strip").unwrap())), ..asked(2) };
        let level = StepsAsked { panel: SheetSize { width: Length::from_inches(2), ..level.panel }, ..level };
        assert_eq!(level.answer(), Err(StepsError::Level));
        assert_eq!(StepsAsked { drawn: None, ..asked(2) }.answer(), Err(StepsError::Which));
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(64))]
        #[test]
        fn no_other_shifts_keep_further_apart(
            humps in proptest::collection::vec(0.0..60.0, 1..6),
            shifts in 3_usize..9,
            count in 2_usize..4,
        ) {
            let apart = |a: usize, b: usize| apart(&humps, 3.0 * a as f64, 3.0 * b as f64, 40.0);
            let (chosen, least) = furthest_apart(shifts, count, &apart);
            let nearest = |of: &[usize]| {
                of.iter().enumerate().flat_map(|(n, a)| of[n + 1..].iter().map(|b| apart(*a, *b))).fold(f64::INFINITY, f64::min)
            };
            prop_assert_eq!(nearest(&chosen), least);
            for choice in 0..1_u32 << shifts {
                let other: Vec<usize> = (0..shifts).filter(|n| choice & (1 << n) != 0).collect();
                if other.len() == count {
                    prop_assert!(nearest(&other) <= least);
                }
            }
            let (order, next) = in_order(&chosen, &apart);
            let along = |of: &[usize]| of.windows(2).map(|pair| apart(pair[0], pair[1])).fold(f64::INFINITY, f64::min);
            prop_assert_eq!(along(&order), next);
            let mut turned = order.clone();
            for n in 0..order.len() {
                turned.swap(0, n);
                prop_assert!(along(&turned) <= next);
            }
        }
    }
}
