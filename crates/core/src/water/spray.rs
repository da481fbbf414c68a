//! What does a bottle leave on the card?
//!
//! What a pump throws falls off from the axis as a bell as wide as a share of the distance; drops are log-normal, larger
//! from a loosened cap. On dry card each drop is a dot that dries with a rim; on wet card they run into one another, and a
//! tilted card lets them drift until they are dry. What goes past the card's edge is lost to the mat.

use rayon::prelude::*;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::drops::{Chance, Drop, Sizes};
use super::fibre::grain;
use super::puddle::{Rim, dried, puddles};
use super::raster::{CELL, Raster};
use crate::ink::exp::exp;
use crate::length::Length;
use crate::place::Point;

/// From how near and far a bottle is held.
pub const DISTANCES: (Length, Length) = (Length::from_64ths(128), Length::from_inches(20));
/// Most pumps of one spraying.
pub const MOST_PUMPS: u8 = 20;
/// How wide the bell is, as a share of the distance.
const WIDTH: f64 = 0.17;
/// What one pump throws, in full swatches times square millimetres, how many drops that is, and their sizes (chosen).
const A_PUMP: f64 = 420.0;
const DROPS: f64 = 560.0;
const MIST: Sizes = Sizes { median: 0.2, spread: 0.5 };
/// The same for a splash from the loosened cap.
const A_SPLASH: f64 = 620.0;
const SPLASH_DROPS: f64 = 16.0;
const SPLASH: Sizes = Sizes { median: 1.7, spread: 0.6 };
/// To what power of its radius there is ink in a drop: the larger stand a little thicker.
const BODY: f64 = 2.4;
/// How far fibres move a drop's edge, in millimetres.
const ROUGH: f64 = 0.14;
/// How far ink runs on wet card, and how far it drifts on a tilted one, in millimetres.
const RUNS: f64 = 3.2;
const DRIFTS: f64 = 16.0;
/// How far beside the card drops are followed that may run onto it, in millimetres: a whole number of cells.
const MARGIN: f64 = 25.0;
/// How the tooth takes a wash, below how much of it a wash ends, and how strong the line is there.
const TOOTH: f32 = 0.35;
const ENDS: f32 = 0.03;
const WASH: Rim = Rim { share: 0.12, fine: 0.3, broad: 1.6 };
/// How far a brush pushes ink on wet card, and over how many millimetres its strokes turn.
const PUSHES: f64 = 7.0;
const STROKES: f64 = 5.0;
/// How unlike one finger of a running wash is to another: the standard deviation of the logarithm of how far it runs.
const FINGERS: f64 = 0.7;

/// Which way a wet card is tilted.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Tilt {
    /// It lies flat.
    #[default]
    Flat,
    /// It runs to the left.
    Left,
    /// To the right.
    Right,
    /// To the top.
    Up,
    /// To the bottom.
    Down,
}

impl Tilt {
    /// All of them.
    pub const ALL: [Tilt; 5] = [Tilt::Flat, Tilt::Down, Tilt::Up, Tilt::Left, Tilt::Right];

    /// Its word in a document.
    pub const fn key(self) -> &'static str {
        match self {
            Tilt::Flat => "flat",
            Tilt::Left => "left",
            Tilt::Right => "right",
            Tilt::Up => "up",
            Tilt::Down => "down",
        }
    }

    /// In a few words.
    pub const fn words(self) -> &'static str {
        match self {
            Tilt::Flat => "lying flat",
            Tilt::Left => "tilted to the left",
            Tilt::Right => "tilted to the right",
            Tilt::Up => "tilted to the top",
            Tilt::Down => "tilted to the bottom",
        }
    }

    const fn way(self) -> (f64, f64) {
        match self {
            Tilt::Flat => (0.0, 0.0),
            Tilt::Left => (-1.0, 0.0),
            Tilt::Right => (1.0, 0.0),
            Tilt::Up => (0.0, -1.0),
            Tilt::Down => (0.0, 1.0),
        }
    }
}

/// A bottle held over the card.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Spray {
    /// The ink, by its place in the panel's list; clean water where none is named.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ink: Option<usize>,
    /// What it is aimed at.
    pub at: Point,
    /// How far off it is held.
    pub distance: Length,
    /// How often it is pumped, 1 to 20.
    pub pumps: u8,
    /// Whether the card is wetted first.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub on_wet: bool,
    /// How the card is tilted while it is wet.
    #[serde(default)]
    pub tilt: Tilt,
    /// Whether it is splashed from the loosened cap.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub splashed: bool,
    /// Whether it is pushed about with a brush while it is wet: on wet card only.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub pushed: bool,
}

impl Spray {
    /// Whether there is such a bottle, held so, over a panel of this size.
    pub fn is_possible(&self, (width, height): (Length, Length)) -> bool {
        let near = |at: Length, side: Length| (-side..=side + side).contains(&at);
        near(self.at.left, width)
            && near(self.at.top, height)
            && (DISTANCES.0..=DISTANCES.1).contains(&self.distance)
            && (1..=MOST_PUMPS).contains(&self.pumps)
            && (self.on_wet || !self.pushed)
    }

    /// Where drops fall, over the card's edges too.
    fn drops(&self, chance: &mut Chance) -> Vec<Drop> {
        let (each, sizes) = if self.splashed { (SPLASH_DROPS, SPLASH) } else { (DROPS, MIST) };
        let wide = WIDTH * self.distance.mm();
        let (x, y) = (self.at.left.mm(), self.at.top.mm());
        (0..(each * f64::from(self.pumps)) as usize)
            .map(|_| Drop {
                x: x + wide * chance.bell(),
                y: y + wide * chance.bell(),
                radius: chance.radius(sizes),
            })
            .collect()
    }

    /// All that is thrown, in full swatches times square millimetres.
    pub fn thrown(&self) -> f64 {
        f64::from(self.pumps) * if self.splashed { A_SPLASH } else { A_PUMP }
    }

    /// How much of it lies in each cell of a card so large, in full swatches.
    pub fn left(&self, size: (f64, f64), chance: &mut Chance, seed: u32, nth: u64) -> Raster {
        let drops = self.drops(chance);
        if !self.on_wet {
            return dots(&drops, self.thrown(), size, (seed, nth));
        }
        // What falls beside the card may run onto it from where it is tilted.
        let (right, below) = self.tilt.way();
        let wide = (size.0 + MARGIN * right.abs(), size.1 + MARGIN * below.abs());
        let off = (MARGIN * right.max(0.0), MARGIN * below.max(0.0));
        let mut fallen = Raster::empty(wide);
        for (drop, ink) in shared_out(&drops, self.thrown()) {
            fallen.drop_on((drop.x + off.0, drop.y + off.1), ink / (CELL * CELL));
        }
        let run = fallen.spread((RUNS, RUNS));
        let run = match self.tilt {
            Tilt::Flat => run,
            _ => cut(&drifted(run, (right, below), grain(wide, seed, 760 + nth)), off, size),
        };
        let run = if self.pushed { pushed_about(&run, size, (seed, nth)) } else { run };
        // It settles where the tooth is deeper, and dries with a line where the wash ends.
        let tooth = grain(size, seed, 780 + nth).spread((0.5, 0.5));
        let mut settled = run.like(|cell| run.cells[cell] * (1.0 + TOOTH * tooth.cells[cell]).max(0.2));
        let whole = if settled.sum() > 0.0 { (run.sum() / settled.sum()) as f32 } else { 1.0 };
        settled.change(|_, cell| *cell *= whole);
        let wet: Vec<bool> = settled.cells.iter().map(|cell| *cell > ENDS).collect();
        dried(&settled, &puddles(&wet, settled.columns), WASH)
    }
}

/// Drops, and what of all the ink is in each.
fn shared_out(drops: &[Drop], thrown: f64) -> impl Iterator<Item = (&Drop, f64)> {
    let volumes: f64 = drops.iter().map(|drop| drop.radius.powf(BODY)).sum();
    drops.iter().map(move |drop| (drop, thrown * drop.radius.powf(BODY) / volumes))
}

/// Drops as they dry on dry card, so much ink in all of them together.
fn dots(drops: &[Drop], thrown: f64, size: (f64, f64), (seed, nth): (u32, u64)) -> Raster {
    let mut raster = Raster::empty(size);
    let fibre = grain(size, seed, 700 + nth);
    let mut wet = vec![false; raster.cells.len()];
    for (drop, ink) in shared_out(drops, thrown) {
        let reach = drop.radius.max(0.5 * CELL);
        let rough = ROUGH.min(0.3 * reach);
        let covers = |(cell, far): (usize, f64)| {
            let edge = reach + rough * f64::from(fibre.cells[cell]).clamp(-2.0, 2.0);
            (cell, ((edge - far) / CELL + 0.5).clamp(0.0, 1.0))
        };
        let cells: Vec<(usize, f64)> =
            raster.within((drop.x, drop.y), reach + 2.0 * rough + CELL).map(covers).collect();
        // A drop over the edge leaves on the card what of it lies there.
        let lies = cells.iter().map(|(_, share)| share).sum::<f64>() * CELL * CELL;
        let within = |at: f64, side: f64| (reach + CELL..side - reach - CELL).contains(&at);
        let is_whole = within(drop.x, size.0) && within(drop.y, size.1) && lies > 0.0;
        let deep =
            ink / if is_whole { lies } else { (std::f64::consts::PI * reach * reach).max(CELL * CELL) };
        for (cell, share) in cells.into_iter().filter(|(_, share)| *share > 0.0) {
            raster.cells[cell] += (share * deep) as f32;
            wet[cell] |= share > 0.5 && drop.radius > 1.5 * CELL;
        }
    }
    dried(&raster, &puddles(&wet, raster.columns), Rim { share: 0.4, fine: 0.25, broad: 0.8 })
}

/// Ink that runs on as it dries: on its way a share of it stays in each cell, less in some places than in others. What passes
/// the edge is gone.
fn drifted(mut run: Raster, (right, below): (f64, f64), grain: Raster) -> Raster {
    // Fingers: broad noise along the way, finer across it.
    let is_upright = right == 0.0;
    let fingers = grain.spread(if is_upright { (2.2, 14.0) } else { (14.0, 2.2) }).of_width(FINGERS);
    const A_CELL: f32 = (CELL / (0.5 * DRIFTS)) as f32;
    let stays = fingers.like(|cell| 1.0 - exp(-A_CELL * exp(-fingers.cells[cell])));
    // Twice, so that it comes on and goes softly.
    for _ in 0..2 {
        if is_upright { down(&mut run, &stays, below > 0.0) } else { across(&mut run, &stays, right > 0.0) }
    }
    run
}

/// Ink that a brush has pushed about: each place has what lay so far from it along the strokes, and all of it is still there.
fn pushed_about(run: &Raster, size: (f64, f64), (seed, nth): (u32, u64)) -> Raster {
    let strokes =
        |way: u64| grain(size, seed, 820 + 2 * nth + way).spread((STROKES, STROKES)).of_width(PUSHES);
    let (right, below) = (strokes(0), strokes(1));
    let mut pushed = run.like(|cell| {
        let (x, y) = run.middle(cell);
        run.at(x - f64::from(right.cells[cell]), y - f64::from(below.cells[cell]))
    });
    let (before, after) = (run.sum(), pushed.sum());
    if after > 0.0 {
        let whole = (before / after) as f32;
        pushed.change(|_, cell| *cell *= whole);
    }
    pushed
}

/// Ink that runs on from row to row, to the bottom or to the top: in each cell a share of it stays.
fn down(run: &mut Raster, stays: &Raster, to_the_bottom: bool) {
    let mut carried = vec![0.0_f32; run.columns];
    let pass = |(here, stays): (&mut [f32], &[f32])| {
        for ((here, stays), carried) in here.iter_mut().zip(stays).zip(&mut carried) {
            let all = *carried + *here;
            *here = stays * all;
            *carried = all - *here;
        }
    };
    let rows = run.cells.chunks_exact_mut(run.columns).zip(stays.cells.chunks_exact(run.columns));
    if to_the_bottom { rows.for_each(pass) } else { rows.rev().for_each(pass) }
}

/// The same along each row, to the right or to the left.
fn across(run: &mut Raster, stays: &Raster, to_the_right: bool) {
    let rows = run.cells.par_chunks_mut(run.columns).zip(stays.cells.par_chunks(run.columns));
    rows.for_each(|(here, stays)| {
        let mut carried = 0.0_f32;
        let pass = |(here, stays): (&mut f32, &f32)| {
            let all = carried + *here;
            *here = stays * all;
            carried = all - *here;
        };
        let cells = here.iter_mut().zip(stays);
        if to_the_right { cells.for_each(pass) } else { cells.rev().for_each(pass) }
    });
}

/// The part of a raster that lies so far from its left and top, of some size.
fn cut(raster: &Raster, off: (f64, f64), size: (f64, f64)) -> Raster {
    let mut part = Raster::empty(size);
    let cells = |mm: f64| (mm / CELL).round() as usize;
    let rows = raster.cells.chunks_exact(raster.columns).skip(cells(off.1));
    let left = cells(off.0);
    for (own, row) in part.cells.chunks_exact_mut(part.columns).zip(rows) {
        own.copy_from_slice(&row[left..left + part.columns]);
    }
    part
}

#[cfg(test)]
mod tests {
    use super::*;

    const SIZE: (f64, f64) = (120.0, 120.0);

    fn bottle() -> Spray {
        let middle = Length::from_tenths_mm(600);
        Spray {
            ink: Some(0),
            at: Point { left: middle, top: middle },
            distance: Length::from_tenths_mm(1000),
            pumps: 4,
            on_wet: false,
            tilt: Tilt::Flat,
            splashed: false,
            pushed: false,
        }
    }

    fn left(spray: Spray) -> Raster {
        spray.left(SIZE, &mut Chance::of(5, 1), 5, 1)
    }

    fn sum(raster: &Raster) -> f64 {
        raster.sum() * CELL * CELL
    }

    #[test]
    fn all_that_is_thrown_at_the_middle_lies_on_the_card() {
        for on_wet in [false, true] {
            for splashed in [false, true] {
                let spray = Spray { on_wet, splashed, ..bottle() };
                let (lies, thrown) = (sum(&left(spray)), spray.thrown());
                assert!((lies / thrown - 1.0).abs() < 0.06, "{on_wet} {splashed}: {lies} of {thrown}");
            }
        }
        // Aimed at the edge, half of it is lost.
        let edge = Spray { at: Point { left: Length::ZERO, ..bottle().at }, ..bottle() };
        let share = sum(&left(edge)) / edge.thrown();
        assert!((share - 0.5).abs() < 0.06, "{share}");
    }

    #[test]
    fn it_falls_off_as_a_bell_as_wide_as_the_distance_has_it() {
        for tenths in [500_i64, 1000, 1500] {
            let spray = Spray { distance: Length::from_tenths_mm(tenths), pumps: 10, ..bottle() };
            let raster = left(spray);
            let wide = WIDTH * spray.distance.mm();
            let within: f64 =
                raster.within((60.0, 60.0), wide).map(|(cell, _)| f64::from(raster.cells[cell])).sum::<f64>()
                    / raster.sum();
            // Within one width of a bell over an area lies 1 − e^(−1/2) of it.
            let meant = 1.0 - (-0.5_f64).exp();
            assert!((within / meant - 1.0).abs() < 0.12, "{tenths}: {within} {meant}");
        }
    }

    #[test]
    fn on_wet_card_it_is_even_and_runs_the_way_the_card_is_tilted() {
        let rough = |raster: &Raster| {
            let steps = raster.cells.windows(2).map(|pair| f64::from((pair[1] - pair[0]).abs()));
            steps.sum::<f64>() / raster.sum()
        };
        let wet = left(Spray { on_wet: true, ..bottle() });
        assert!(rough(&wet) < 0.3 * rough(&left(bottle())));
        let middle = |raster: &Raster| {
            let of = |cell: usize| raster.middle(cell).1 * f64::from(raster.cells[cell]);
            (0..raster.cells.len()).map(of).sum::<f64>() / raster.sum()
        };
        let down = left(Spray { on_wet: true, tilt: Tilt::Down, ..bottle() });
        let up = left(Spray { on_wet: true, tilt: Tilt::Up, ..bottle() });
        assert!(middle(&down) > middle(&wet) + 3.0 && middle(&up) < middle(&wet) - 3.0);
    }
}
