//! What does the cutting machine do with a sheet? A small stand-in for one: it takes a sheet's cuts, refuses what it cannot
//! cut, puts the rest in order and says how far its blade goes and how long that takes.
//!
//! What lies inside is cut before what lies round it, since a piece that has come loose no longer holds still; among the
//! rest the nearest comes next.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::tiles::Laid;
use crate::length::{Length, Units};
use crate::shape::region::{Contour, Region, distance};

/// Widest sheet it takes, and longest (chosen: as machines for a desk are).
const BED: (i64, i64) = (12, 24);
/// Millimetres a second with the blade down, and up (chosen).
const CUTS: f64 = 40.0;
const MOVES: f64 = 120.0;
/// Seconds to lift the blade and set it down again (chosen).
const LIFT: f64 = 0.35;
/// Millimetres across below which a piece comes off with the blade (chosen).
const SMALLEST: f64 = 1.5;
/// Most points in a job.
const MOST_POINTS: usize = 40_000;

/// Why it does not cut.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum MachineError {
    /// The sheet does not go in.
    #[error("the cutting machine takes sheets up to {wide} × {long}, and this one is {0} × {1}: take a smaller sheet",
        wide = Length::from_inches(BED.0), long = Length::from_inches(BED.1))]
    Sheet(Length, Length),
    /// Something too small.
    #[error(
        "{0} outlines are smaller than 1/16 in across and would come off with the blade: make the shape larger"
    )]
    Small(usize),
    /// Off the sheet.
    #[error("an outline reaches off the sheet: make the shape smaller")]
    Off,
    /// Too much.
    #[error(
        "{0} points are more than the cutting machine remembers ({MOST_POINTS}): cut fewer shapes at a time"
    )]
    Long(usize),
    /// Nothing.
    #[error("there is nothing to cut")]
    Nothing,
}

/// What it did.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Done {
    /// Outlines cut.
    pub outlines: usize,
    /// Millimetres with the blade down.
    pub cut_mm: f64,
    /// Millimetres with the blade up.
    pub moved_mm: f64,
    /// Times the blade was lifted.
    pub lifts: usize,
    /// Seconds it took.
    pub seconds: f64,
    /// In which order the outlines were cut, by their places.
    pub order: Vec<usize>,
}

impl Done {
    /// What it did, in a sentence.
    pub fn says(&self, units: Units) -> String {
        let long = match units {
            Units::Inches => format!("{:.0} in", self.cut_mm / 25.4),
            Units::Millimetres => format!("{:.0} cm", self.cut_mm / 10.0),
        };
        let whole = self.seconds.ceil() as u64;
        let took = match (whole / 60, whole % 60) {
            (0, seconds) => format!("{seconds} s"),
            (minutes, seconds) => format!("{minutes} min {seconds} s"),
        };
        let outlines =
            if self.outlines == 1 { "1 outline".into() } else { format!("{} outlines", self.outlines) };
        let lifts = if self.lifts == 1 { "1 lift".into() } else { format!("{} lifts", self.lifts) };
        format!("Cut: {outlines}, {long} of line, {lifts}, {took}.")
    }
}

/// Cuts a sheet.
///
/// # Errors
/// A [`MachineError`] with what to do.
pub fn cut(laid: &Laid) -> Result<Done, MachineError> {
    let (wide, long) = (Length::from_inches(BED.0), Length::from_inches(BED.1));
    let sheet = laid.sheet;
    if sheet.width > wide || sheet.height > long {
        return Err(MachineError::Sheet(sheet.width, sheet.height));
    }
    if laid.cuts.is_empty() {
        return Err(MachineError::Nothing);
    }
    let points = laid.cuts.iter().map(Vec::len).sum();
    if points > MOST_POINTS {
        return Err(MachineError::Long(points));
    }
    let on_it =
        |[x, y]: &[f64; 2]| (0.0..=sheet.width.mm()).contains(x) && (0.0..=sheet.height.mm()).contains(y);
    if !laid.cuts.iter().flatten().all(on_it) {
        return Err(MachineError::Off);
    }
    let small = laid.cuts.iter().filter(|contour| across(contour) < SMALLEST).count();
    if small > 0 {
        return Err(MachineError::Small(small));
    }
    let order = in_order(&laid.cuts);
    let round = |contour: &Contour| {
        contour.iter().zip(contour.iter().cycle().skip(1)).map(|(from, to)| distance(*from, *to)).sum::<f64>()
    };
    let cut_mm: f64 = laid.cuts.iter().map(round).sum();
    // From its corner, from start to start, and back: every outline ends where it began.
    let mut at = [0.0; 2];
    let mut moved_mm = 0.0;
    for &nth in &order {
        moved_mm += distance(at, laid.cuts[nth][0]);
        at = laid.cuts[nth][0];
    }
    moved_mm += distance(at, [0.0; 2]);
    let lifts = order.len();
    let seconds = cut_mm / CUTS + moved_mm / MOVES + LIFT * lifts as f64;
    Ok(Done { outlines: order.len(), cut_mm, moved_mm, lifts, seconds, order })
}

/// The longer side of an outline's box.
fn across(contour: &Contour) -> f64 {
    let extent = |axis: usize| {
        let of = |point: &[f64; 2]| point[axis];
        let (least, most) =
            contour.iter().map(of).fold((f64::MAX, f64::MIN), |(a, b), at| (a.min(at), b.max(at)));
        most - least
    };
    extent(0).max(extent(1))
}

/// Inner before outer, then the nearest.
fn in_order(cuts: &[Contour]) -> Vec<usize> {
    let regions: Vec<Region> =
        cuts.iter().map(|contour| Region::of(std::slice::from_ref(contour), false)).collect();
    let depth = |nth: usize| {
        let start = cuts[nth][0];
        (0..cuts.len()).filter(|&other| other != nth && regions[other].has(start)).count()
    };
    let depths: Vec<usize> = (0..cuts.len()).map(depth).collect();
    let mut waiting: Vec<usize> = (0..cuts.len()).collect();
    let mut order = Vec::with_capacity(cuts.len());
    let mut at = [0.0; 2];
    while let Some(deepest) = waiting.iter().map(|&nth| depths[nth]).max() {
        let near = |nth: &usize| distance(at, cuts[*nth][0]);
        let next = waiting
            .iter()
            .enumerate()
            .filter(|(_, nth)| depths[**nth] == deepest)
            .min_by(|a, b| near(a.1).total_cmp(&near(b.1)))
            .map(|(place, _)| place);
        let Some(place) = next else { break };
        let nth = waiting.remove(place);
        at = cuts[nth][0];
        order.push(nth);
    }
    order
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shape::piece::SheetSize;

    fn square(left: f64, top: f64, side: f64) -> Contour {
        vec![[left, top], [left + side, top], [left + side, top + side], [left, top + side]]
    }

    fn laid(cuts: Vec<Contour>) -> Laid {
        Laid { sheet: SheetSize::LETTER, cuts, names: Vec::new() }
    }

    #[test]
    fn what_lies_inside_is_cut_first_and_all_of_it_is_told() {
        let job = laid(vec![square(10.0, 10.0, 100.0), square(20.0, 20.0, 30.0), square(25.0, 25.0, 10.0)]);
        let done = cut(&job).unwrap();
        assert_eq!(done.order, vec![2, 1, 0]);
        assert!((done.cut_mm - 560.0).abs() < 1e-9);
        assert_eq!((done.outlines, done.lifts), (3, 3));
        assert!(done.seconds > 560.0 / CUTS && done.says(Units::Millimetres).contains("56 cm"));
    }

    #[test]
    fn what_it_cannot_cut_is_refused_with_the_reason() {
        assert_eq!(cut(&laid(vec![])), Err(MachineError::Nothing));
        assert_eq!(cut(&laid(vec![square(10.0, 10.0, 1.4)])), Err(MachineError::Small(1)));
        assert!(cut(&laid(vec![square(10.0, 10.0, 1.6)])).is_ok());
        assert_eq!(cut(&laid(vec![square(-1.0, 10.0, 20.0)])), Err(MachineError::Off));
        let wide = SheetSize { width: Length::from_inches(13), height: Length::from_inches(5) };
        assert!(matches!(
            cut(&Laid { sheet: wide, ..laid(vec![square(9.0, 9.0, 9.0)]) }),
            Err(MachineError::Sheet(..))
        ));
    }
}
