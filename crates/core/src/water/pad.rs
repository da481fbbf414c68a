//! What does an ink pad leave that goes straight to the card?
//!
//! A pad touches only where its cloth and the card's tooth meet: a firm hand brings most of the card to it, a light one only
//! what stands highest. Patted, it leaves pad-sized prints side by side, deeper where two lie over one another; swiped, its
//! cloth draws streaks as long as the stroke, paler towards the end as the pad gives less. Strong and uneven: fit for what
//! will be cut up small, and for bark.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::drops::Chance;
use super::fibre::grain;
use super::raster::Raster;

/// Most times the pad goes over the card.
pub const MOST_TIMES: u8 = 6;
/// Millimetres along a pad's side, how far one print or lane lies over the next, how unlike that is, and at least and most
/// (all figures here are chosen).
const SIDE: f64 = 25.0;
const OVER: f64 = 2.0;
const UNLIKE: f64 = 1.2;
const OVERS: (f64, f64) = (0.3, 4.5);
/// How unlike one print is to another in what it gives: the standard deviation of the logarithm.
const FULL: f64 = 0.14;
/// Share of the card that a firm and a light hand bring to the pad.
const TOUCHED: (f64, f64) = (0.86, 0.4);
/// What lies there then of an ink, in full swatches, and how unevenly.
const LEAVES: (f64, f64) = (0.42, 0.3);
const UNEVEN: f32 = 0.45;
/// Streaks of a swipe: how broad and how long each sort is, in millimetres, and its share; what the card's tooth adds.
const STREAKS: [(f64, f64, f32); 2] = [(0.3, 22.0, 1.0), (1.3, 40.0, 0.8)];
const TOOTH: f32 = 0.5;
/// In how many millimetres of a swipe a pad gives a third of what it gave.
const GIVES: f64 = 260.0;
/// How softly what is touched ends, in standard deviations of the height.
const SOFT: f32 = 0.25;

/// How the pad goes over the card.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Stroke {
    /// Patted straight down, print beside print.
    Pat,
    /// Swiped from the top to the bottom.
    #[default]
    Down,
    /// Swiped from the left to the right.
    Across,
}

impl Stroke {
    /// All of them.
    pub const ALL: [Stroke; 3] = [Stroke::Down, Stroke::Across, Stroke::Pat];
}

/// A pad taken to the card.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Pad {
    /// The ink, by its place in the panel's list.
    pub ink: usize,
    /// How it goes over the card.
    #[serde(default)]
    pub stroke: Stroke,
    /// How many times, 1 to 6.
    #[serde(default = "once")]
    pub times: u8,
    /// Whether it is held so lightly that only what stands up takes ink.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub light: bool,
}

const fn once() -> u8 {
    1
}

impl Pad {
    /// Whether it can be done on a panel that has so many inks.
    pub const fn is_possible(&self, inks: usize) -> bool {
        self.ink < inks && 1 <= self.times && self.times <= MOST_TIMES
    }

    /// The share of the card that it touches each time.
    pub const fn touches(&self) -> f64 {
        if self.light { TOUCHED.1 } else { TOUCHED.0 }
    }

    /// How much lies in each cell of a card so large, in full swatches.
    pub fn left(&self, size: (f64, f64), seed: u32, nth: u64) -> Raster {
        let mut left = Raster::empty(size);
        for time in 0..u64::from(self.times) {
            let stream = 1_100 + 8 * nth + time;
            let height = self.height(size, seed, stream);
            let touched = touched(&height, self.touches());
            let prints = self.prints(size, &mut Chance::of(seed, 90_000 + stream));
            let leaves = if self.light { LEAVES.1 } else { LEAVES.0 } as f32;
            for (cell, left) in left.cells.iter_mut().enumerate() {
                let (x, y) = height.middle(cell);
                let uneven = (1.0 + UNEVEN * height.cells[cell]).clamp(0.3, 2.2);
                *left += leaves * touched[cell] * uneven * prints.at(x, y) as f32;
            }
        }
        left
    }

    /// How high the card and the cloth stand towards one another, evenly about 0 and of width 1.
    fn height(&self, size: (f64, f64), seed: u32, stream: u64) -> Raster {
        let tooth = grain(size, seed, stream);
        let along = |broad: f64, long: f64| match self.stroke {
            Stroke::Pat => (2.0 * broad, 2.0 * broad),
            Stroke::Down => (broad, long),
            Stroke::Across => (long, broad),
        };
        let mut height = tooth.of_width(f64::from(TOOTH));
        for (nth, (broad, long, share)) in STREAKS.into_iter().enumerate() {
            let cloth = grain(size, seed, stream + 4_000 * (nth as u64 + 1));
            let cloth = cloth.spread(along(broad, long)).of_width(f64::from(share));
            height.change(|cell, height| *height += cloth.cells[cell]);
        }
        height.of_width(1.0)
    }

    fn prints(&self, (wide, high): (f64, f64), chance: &mut Chance) -> Prints {
        let (across, down) = match self.stroke {
            Stroke::Pat => (Some(wide), Some(high)),
            Stroke::Down => (Some(wide), None),
            Stroke::Across => (None, Some(high)),
        };
        let mut lanes = |side: Option<f64>| side.map(|side| lanes(side, chance)).unwrap_or_default();
        let (columns, rows) = (lanes(across), lanes(down));
        let gives = match self.stroke {
            Stroke::Pat => (0.0, 0.0),
            Stroke::Down => (0.0, 1.0 / GIVES),
            Stroke::Across => (1.0 / GIVES, 0.0),
        };
        Prints { columns, rows, gives }
    }
}

/// Where the pad goes, lane beside lane.
struct Prints {
    /// Each lane: from where to where, and how full the pad is there. None means that a stroke goes over all of it.
    columns: Vec<(f64, f64, f64)>,
    rows: Vec<(f64, f64, f64)>,
    /// What it loses on a millimetre of its way to the right and down.
    gives: (f64, f64),
}

impl Prints {
    fn at(&self, x: f64, y: f64) -> f64 {
        let of = |lanes: &[(f64, f64, f64)], at: f64| {
            if lanes.is_empty() {
                return 1.0;
            }
            let here = lanes.iter().filter(|(from, to, _)| (*from..*to).contains(&at));
            here.map(|(.., full)| full).sum()
        };
        of(&self.columns, x) * of(&self.rows, y) * (-self.gives.0 * x - self.gives.1 * y).exp()
    }
}

/// Lanes over a side, each a little over the one before.
fn lanes(side: f64, chance: &mut Chance) -> Vec<(f64, f64, f64)> {
    let (mut lanes, mut from) = (Vec::new(), -SIDE * chance.even());
    while from < side {
        lanes.push((from, from + SIDE, (FULL * chance.bell()).exp()));
        from += SIDE - (OVER + UNLIKE * chance.bell()).clamp(OVERS.0, OVERS.1);
    }
    lanes
}

/// How far each cell is touched, of so large a share of them.
fn touched(height: &Raster, share: f64) -> Vec<f32> {
    let mut order = height.cells.clone();
    let nth = (((1.0 - share) * order.len() as f64) as usize).min(order.len() - 1);
    let (_, least, _) = order.select_nth_unstable_by(nth, f32::total_cmp);
    let least = *least;
    height.cells.iter().map(|height| ((height - least) / SOFT + 0.5).clamp(0.0, 1.0)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    const SIZE: (f64, f64) = (80.0, 100.0);

    fn pad(stroke: Stroke) -> Pad {
        Pad { ink: 0, stroke, times: 1, light: false }
    }

    /// How alike neighbours are, so many cells apart to the right and down.
    fn alike(raster: &Raster, right: usize, down: usize) -> f64 {
        let mean = raster.sum() / raster.cells.len() as f64;
        let off = |cell: usize| f64::from(raster.cells[cell]) - mean;
        let (mut both, mut own, mut count) = (0.0, 0.0, 0);
        for row in 0..raster.rows - down {
            for column in 0..raster.columns - right {
                let cell = row * raster.columns + column;
                both += off(cell) * off(cell + down * raster.columns + right);
                own += off(cell).powi(2);
                count += 1;
            }
        }
        assert!(count > 0);
        both / own
    }

    #[test]
    fn a_swipe_is_streaked_along_its_way_and_a_pat_is_not() {
        let apart = 24; // 6 mm
        let down = pad(Stroke::Down).left(SIZE, 3, 1);
        assert!(alike(&down, 0, apart) > alike(&down, apart, 0) + 0.25);
        let across = pad(Stroke::Across).left(SIZE, 3, 1);
        assert!(alike(&across, apart, 0) > alike(&across, 0, apart) + 0.25);
        let pat = pad(Stroke::Pat).left(SIZE, 3, 1);
        assert!((alike(&pat, apart, 0) - alike(&pat, 0, apart)).abs() < 0.25);
    }

    #[test]
    fn a_hand_touches_what_it_is_said_to_and_a_lighter_one_less() {
        for stroke in Stroke::ALL {
            for light in [false, true] {
                let pad = Pad { light, ..pad(stroke) };
                let left = pad.left(SIZE, 9, 2);
                // Half touched counts as half.
                let inked =
                    left.cells.iter().filter(|cell| **cell > 0.0).count() as f64 / left.cells.len() as f64;
                assert!((inked - pad.touches()).abs() < 0.07, "{stroke:?} {light}: {inked}");
            }
        }
    }

    #[test]
    fn every_time_adds_ink_and_the_end_of_a_stroke_gets_least() {
        let mut before = 0.0;
        for times in 1..=MOST_TIMES {
            let sum = Pad { times, ..pad(Stroke::Down) }.left(SIZE, 5, 0).sum();
            assert!(sum > before, "{times}");
            before = sum;
        }
        let left = Pad { times: MOST_TIMES, ..pad(Stroke::Down) }.left(SIZE, 5, 0);
        let half = left.cells.len() / 2;
        let sum = |cells: &[f32]| cells.iter().map(|cell| f64::from(*cell)).sum::<f64>();
        assert!(sum(&left.cells[..half]) > 1.05 * sum(&left.cells[half..]));
        assert_eq!(left, Pad { times: MOST_TIMES, ..pad(Stroke::Down) }.left(SIZE, 5, 0));
    }
}
