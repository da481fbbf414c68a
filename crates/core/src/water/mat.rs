//! What lies on the work mat, and what does a press take of it?
//!
//! Ink is dabbed on the mat in patches; mist falls on it in drops, that run together to beads and take up the film they
//! stand on. A card pressed straight down flattens beads to puddles, whose edge its fibres roughen; a share of what is in
//! them stays on the card and dries there with a rim. What is left lies on the mat for the next press, in finer beads.
//! On damp card puddles mix with what lies there; on dry card they lie over it. All figures are chosen from what makers tell;
//! whatever they are, ink is never made and never lost.

use rayon::prelude::*;

use super::drops::{Chance, Drop, Sizes, thrown};
use super::fibre::grain;
use super::puddle::{Drying, Puddles, Rim, puddles};
use super::raster::{self, CELL, Oval, Raster, about};
use crate::ink::Kind;

/// How far water is dragged when a card is moved, as a share of how far ink is.
const DRAGS: f64 = 0.25;
/// Drops of one mist on a square centimetre, and their sizes.
const DROPS_A_MIST: f64 = 1.7;
const MIST: Sizes = Sizes { median: 1.15, spread: 0.55 };
/// Little drops that stand between the beads, for each of the mist's, and their sizes.
const SATELLITES: f64 = 0.5;
const SATELLITE: Sizes = Sizes { median: 0.28, spread: 0.4 };
/// Height of a drop over its radius.
const HIGH: f64 = 0.6;
/// How far beads draw together at the first press, and what of that is left at each later one; never less than the least.
const BEADS: f64 = 1.6;
const FINER: f64 = 0.62;
const FINEST: f64 = 0.5;
/// Over how many millimetres a pad lies unevenly, and over how many the edge of a patch bends; how far that lies from an
/// oval's, as the standard deviation of a share of it.
const GRAIN: f64 = 0.8;
const BAY: f64 = 5.0;
const EDGE: f64 = 0.13;
/// Share of the film that a bead takes up, beneath it and as far beside it as it reaches, in millimetres.
const TAKEN_UP: f64 = 0.85;
const REACHES: f64 = 3.5;
/// Millimetres that a pressed card leaves between itself and the mat: a bead of some volume becomes a puddle of that
/// volume over this. On a mat that has been pressed before beads hold less together, and it is wider. At most so large a share of the card is wetted, and fibres move a puddle's edge by so much of its height.
const GAP: f64 = 0.3;
const WIDER: f64 = 0.5;
const WETTED: f64 = 0.85;
const FIBRES: f64 = 0.3;
/// How far inks mix in the puddles of the first press; and in those of later ones.
const MIXES: (f64, f64) = (3.0, 1.6);
/// Share of what is in a puddle that stays on the card, and what of all the water is left on the mat after a press.
const STAYS: f64 = 0.6;
const LEFT_WET: f64 = 0.05;
/// How far what lies on damp card is drawn into a puddle pressed on it.
const DAMP: f64 = 2.5;
/// Water below which a bead takes nothing up.
const SOME: f32 = 0.02;

/// How the card is moved while it lies on the mat.
#[derive(
    Clone,
    Copy,
    Debug,
    Default,
    PartialEq,
    Eq,
    Hash,
    serde::Serialize,
    serde::Deserialize,
    schemars::JsonSchema,
)]
#[serde(rename_all = "kebab-case")]
pub enum Movement {
    /// Straight down and straight up.
    #[default]
    Still,
    /// A little to and fro.
    Little,
    /// Pushed about.
    Much,
}

impl Movement {
    /// How much further inks mix, across and down, in millimetres.
    const fn smears(self) -> (f64, f64) {
        match self {
            Movement::Still => (0.0, 0.0),
            Movement::Little => (5.0, 1.5),
            Movement::Much => (12.0, 5.0),
        }
    }
}

/// The share of a puddle's ink that goes to its rim.
const fn to_the_rim(kind: Kind) -> f64 {
    match kind {
        Kind::Dye => 0.42,
        Kind::Oxide => 0.2,
        Kind::Pigment => 0.1,
    }
}

/// A work mat, as far as it lies under a panel. Amounts are in full swatches of each ink.
#[derive(Clone, Debug)]
pub struct Mat {
    size: (f64, f64),
    kinds: Vec<Kind>,
    seed: u32,
    /// How pads lie, once that has been asked.
    pads: Option<Pads>,
    /// Ink that lies on it as a film.
    film: Vec<Raster>,
    /// Ink in the beads.
    beads: Vec<Raster>,
    /// Millimetres of water.
    water: Raster,
    mists: u64,
    presses: u64,
}

/// How pads lie on it.
#[derive(Clone, Debug)]
struct Pads {
    /// How unevenly.
    grain: Raster,
    /// How far the edge of what is dabbed with them lies further out or in than an oval's, as a share of that.
    bays: Raster,
}

/// A card that has been pressed on a mat.
#[derive(Clone, Debug)]
pub struct Pressed {
    /// What each press left on it, ink by ink, the first at the bottom.
    pub layers: Vec<Vec<Raster>>,
    /// Whether the last of it has dried.
    pub is_dry: bool,
    /// Half the width of a round puddle as large as those of the last press: half of their area lies in larger ones.
    pub puddle_mm: f64,
}

impl Default for Pressed {
    fn default() -> Pressed {
        Pressed { layers: Vec::new(), is_dry: true, puddle_mm: 0.0 }
    }
}

impl Pressed {
    /// All there is of each ink, in full swatches times square millimetres.
    pub fn inks(&self, count: usize) -> Vec<f64> {
        let of =
            |ink: usize| self.layers.iter().filter_map(|layer| layer.get(ink)).map(Raster::sum).sum::<f64>();
        (0..count).map(|ink| of(ink) * CELL * CELL).collect()
    }

    /// The share of the card that any ink lies on, and how much lies there on the whole, in full swatches.
    pub fn covered(&self) -> (f64, f64) {
        let Some(first) = self.layers.first().and_then(|layer| layer.first()) else { return (0.0, 0.0) };
        let (mut cells, mut sum) = (0_usize, 0.0);
        for cell in 0..first.cells.len() {
            let here: f64 = self.layers.iter().flatten().map(|raster| f64::from(raster.cells[cell])).sum();
            if here > 0.02 {
                cells += 1;
                sum += here;
            }
        }
        (cells as f64 / first.cells.len() as f64, if cells == 0 { 0.0 } else { sum / cells as f64 })
    }
}

impl Mat {
    /// A clean one under a panel of this size in millimetres, for inks of these kinds.
    pub fn clean(size: (f64, f64), kinds: &[Kind], seed: u32) -> Mat {
        let empty = || vec![Raster::empty(size); kinds.len()];
        Mat {
            size,
            kinds: kinds.to_vec(),
            seed,
            pads: None,
            film: empty(),
            beads: empty(),
            water: Raster::empty(size),
            mists: 0,
            presses: 0,
        }
    }

    /// Dabs an ink on an oval patch: so many full swatches, unevenly as a pad lays it.
    pub fn dab(&mut self, ink: usize, at: (f64, f64), (across, down): (f64, f64), amount: f64) {
        let (size, seed) = (self.size, self.seed);
        let Pads { grain, bays } = self.pads.get_or_insert_with(|| Pads {
            grain: grain(size, seed, 40).spread((GRAIN, GRAIN)),
            bays: grain(size, seed, 41).spread((BAY, BAY)).of_width(EDGE),
        });
        let film = &mut self.film[ink];
        // No two pads lie alike: each patch has the grain from elsewhere.
        let count = grain.cells.len();
        let elsewhere = (ink + 1) * 7_919 % count;
        let patch = Oval { at, reach: (1.5 * across, 1.5 * down) };
        about(
            &mut film.cells,
            film.columns,
            &[patch],
            |patch| *patch,
            |amount_there, cell, (right, below), _| {
                let at = cell + elsewhere;
                let grain = f64::from(grain.cells[if at < count { at } else { at - count }]);
                let (u, v) = (right / across, below / down);
                let out = (u * u + v * v).sqrt() + 0.12 * grain + f64::from(bays.cells[cell]);
                let edge = ((1.0 - out) / 0.08).clamp(0.0, 1.0);
                *amount_there += (amount * edge * (1.0 + 0.5 * grain).max(0.2)) as f32;
            },
        );
    }

    /// Mist falls on it, and the beads take up what they stand on.
    pub fn mist(&mut self, mists: f64) {
        self.mists += 1;
        let area = self.size.0 * self.size.1 / 100.0;
        let mut chance = Chance::of(self.seed, 200 + self.mists);
        let drops = thrown((DROPS_A_MIST * mists * area).round() as usize, MIST, self.size, &mut chance);
        about(
            &mut self.water.cells,
            self.water.columns,
            &drops,
            Drop::oval,
            |water, _, (right, below), drop| {
                *water += (HIGH * drop.radius * (1.0 - (right * right + below * below) / drop.radius.powi(2)))
                    as f32;
            },
        );
        let reached = self.water.clone().spread((REACHES, REACHES));
        self.film.par_iter_mut().zip(&mut self.beads).for_each(|(film, beads)| {
            for ((film, beads), reached) in film.cells.iter_mut().zip(&mut beads.cells).zip(&reached.cells) {
                let taken = if *reached > SOME { TAKEN_UP as f32 * *film } else { 0.0 };
                *film -= taken;
                *beads += taken;
            }
        });
    }

    /// Presses a card on it.
    pub fn press(&mut self, card: &mut Pressed, movement: Movement) {
        self.presses += 1;
        let later = (self.presses - 1) as i32;
        let draws = (BEADS * FINER.powi(later)).max(FINEST);
        let smears = movement.smears();
        // Water is dragged less far than what is in it: it draws together again.
        let water = self.water.clone().spread((draws, draws)).spread((DRAGS * smears.0, DRAGS * smears.1));
        let mut wet = wetted(
            &water,
            &grain(self.size, self.seed, 60 + self.presses),
            GAP * (1.0 + WIDER * f64::from(later)),
        );
        let mut chance = Chance::of(self.seed, 300 + self.presses);
        let area = self.size.0 * self.size.1 / 100.0;
        let count = if water.sum() > 0.0 { (SATELLITES * DROPS_A_MIST * area) as usize } else { 0 };
        let columns = water.columns;
        let satellites = thrown(count, SATELLITE, self.size, &mut chance);
        about(&mut wet, columns, &satellites, Drop::oval, |wet, _, _, _| *wet = true);
        let mixes = if later == 0 { MIXES.0 } else { MIXES.1 };
        let mix = |beads: Raster| beads.spread((mixes, mixes)).spread(smears);
        let beads = std::mem::take(&mut self.beads);
        let (found, (mixed, draws)) = rayon::join(
            || puddles(&wet, columns),
            || (beads.into_par_iter().map(mix).collect::<Vec<Raster>>(), gathering(&wet, &self.water)),
        );
        card.puddle_mm = typical(&found);
        let lay = |mixed: Raster| {
            let mut beads = gathered(mixed, &draws);
            let laid = beads.like(|cell| if wet[cell] { STAYS as f32 * beads.cells[cell] } else { 0.0 });
            beads.change(|cell, left| *left -= laid.cells[cell]);
            (beads, laid)
        };
        let (beads, mut laid): (Vec<Raster>, Vec<Raster>) = mixed.into_par_iter().map(lay).unzip();
        self.beads = beads;
        self.water = water.like(|cell| LEFT_WET as f32 * water.cells[cell]);
        // Damp under damp mixes: what lies in the puddle is drawn into it. Damp over dry lies on top.
        if !card.is_dry
            && let Some(under) = card.layers.pop()
        {
            for (laid, under) in laid.iter_mut().zip(under) {
                let mixed =
                    laid.like(|cell| laid.cells[cell] + if wet[cell] { under.cells[cell] } else { 0.0 });
                let mixed = mixed.spread((DAMP, DAMP));
                *laid =
                    mixed.like(|cell| mixed.cells[cell] + if wet[cell] { 0.0 } else { under.cells[cell] });
            }
        }
        let drying = Drying::of(&found, Rim { share: 0.0, fine: 0.28, broad: 1.3 });
        laid.par_iter_mut()
            .zip(&self.kinds)
            .for_each(|(laid, kind)| *laid = drying.dried(laid, to_the_rim(*kind)));
        card.layers.push(laid);
        card.is_dry = false;
    }

    /// What still lies on it of each ink, in full swatches times square millimetres.
    pub fn inks(&self) -> Vec<f64> {
        let all = self.film.iter().zip(&self.beads).map(|(film, beads)| film.sum() + beads.sum());
        all.map(|sum| sum * CELL * CELL).collect()
    }

    /// Everything that lies on it, ink by ink, as one layer to be looked at.
    pub fn layer(&self) -> Vec<Raster> {
        let both = |(film, beads): (&Raster, &Raster)| film.like(|cell| film.cells[cell] + beads.cells[cell]);
        self.film.iter().zip(&self.beads).map(both).collect()
    }

    /// Millimetres of water that stand on it.
    pub const fn water(&self) -> &Raster {
        &self.water
    }

    /// Wipes so large a share of all of it off with a towel, and tells what went.
    pub fn wipe(&mut self, share: f64) -> Vec<f64> {
        let before = self.inks();
        let left = (1.0 - share) as f32;
        for raster in self.film.iter_mut().chain(&mut self.beads).chain([&mut self.water]) {
            raster.change(|_, cell| *cell *= left);
        }
        before.iter().zip(self.inks()).map(|(before, after)| before - after).collect()
    }
}

/// The cells that are wetted: where water stands highest, as its fibres have it, as many as the volume makes puddles.
fn wetted(water: &Raster, fibre: &Raster, gap: f64) -> Vec<bool> {
    let height = water.like(|cell| match water.cells[cell] {
        water if water > SOME => water * (1.0 - FIBRES as f32 * fibre.cells[cell]).max(0.1),
        _ => 0.0,
    });
    let count = (water.sum() / gap).min(WETTED * water.cells.len() as f64) as usize;
    let least = raster::above_which(&height, count);
    height.cells.iter().map(|height| *height > least).collect()
}

/// Share of what was taken up that stays behind between puddles.
const BEHIND: f32 = 0.04;

/// How much of what lies in its reach each cell draws to it.
fn gathering(wet: &[bool], like: &Raster) -> Raster {
    let share = |cell: usize| if wet[cell] { 1.0 } else { BEHIND };
    let about = like.like(share).spread((MIXES.1, MIXES.1));
    about.like(|cell| share(cell) / about.cells[cell].max(BEHIND))
}

/// Ink gathered in the puddles that stand in its reach. All of it stays.
fn gathered(mut ink: Raster, draws: &Raster) -> Raster {
    let before = ink.sum();
    ink.change(|cell, ink| *ink *= draws.cells[cell]);
    let after = ink.sum();
    if after > 0.0 {
        let whole = (before / after) as f32;
        ink.change(|_, ink| *ink *= whole);
    }
    ink
}

/// Half the width of a round puddle that stands in the middle when puddles are weighed by their area.
fn typical(puddles: &Puddles) -> f64 {
    let mut cells = vec![0_usize; puddles.count];
    puddles.runs.iter().for_each(|(run, of)| cells[*of] += run.len());
    cells.sort_unstable();
    let all: usize = cells.iter().sum();
    let mut gone = 0;
    let middle = cells.into_iter().find(|cells| {
        gone += cells;
        2 * gone >= all
    });
    (middle.unwrap_or(0) as f64 * CELL * CELL / std::f64::consts::PI).sqrt()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const SIZE: (f64, f64) = (60.0, 80.0);

    fn laid(seed: u32) -> Mat {
        let mut mat = Mat::clean(SIZE, &[Kind::Dye, Kind::Oxide], seed);
        mat.dab(0, (20.0, 25.0), (16.0, 18.0), 0.8);
        mat.dab(1, (40.0, 55.0), (15.0, 20.0), 0.8);
        mat
    }

    fn all(mat: &Mat, cards: &[Pressed], towel: &[f64]) -> Vec<f64> {
        let mut sum = mat.inks();
        for card in cards {
            for (sum, own) in sum.iter_mut().zip(card.inks(2)) {
                *sum += own;
            }
        }
        sum.iter_mut().zip(towel).for_each(|(sum, own)| *sum += own);
        sum
    }

    proptest! {
        #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(8) })]

        #[test]
        fn ink_is_on_the_mat_on_cards_or_on_the_towel(
            seed in 0_u32..1000,
            deeds in proptest::collection::vec((0_usize..3, 0_usize..3, 0.5..3.0), 1..7),
        ) {
            let mut mat = laid(seed);
            let put = mat.inks();
            let mut cards = vec![Pressed::default(); 3];
            let mut towel = vec![0.0; 2];
            for (card, deed, much) in deeds {
                mat.mist(much);
                let held = mat.inks();
                let before = cards[card].inks(2);
                mat.press(&mut cards[card], [Movement::Still, Movement::Little, Movement::Much][deed]);
                // No press adds more than the mat held.
                for ((after, before), held) in cards[card].inks(2).iter().zip(before).zip(held) {
                    prop_assert!(after - before <= held * 1.0001, "{after} {before} {held}");
                }
                match deed {
                    0 => cards[card].is_dry = true,
                    1 => towel.iter_mut().zip(mat.wipe(0.3)).for_each(|(towel, went)| *towel += went),
                    _ => {}
                }
            }
            for (now, put) in all(&mat, &cards, &towel).iter().zip(put) {
                prop_assert!((now / put - 1.0).abs() < 0.005, "{now} {put}");
            }
        }
    }

    #[test]
    fn later_presses_are_paler_and_finer() {
        for seed in [1, 5, 9, 23] {
            let mut mat = laid(seed);
            let put: f64 = mat.inks().iter().sum();
            let taken: Vec<(f64, f64)> = (0..3)
                .map(|_| {
                    let mut card = Pressed::default();
                    mat.mist(1.5);
                    mat.press(&mut card, Movement::Still);
                    (card.inks(2).iter().sum::<f64>() / put, card.puddle_mm)
                })
                .collect();
            assert!(taken.windows(2).all(|pair| pair[1].0 < 0.9 * pair[0].0), "{seed}: {taken:?}");
            assert!(taken[0].1 > taken[2].1, "{seed}: {taken:?}");
            assert!(taken[0].0 > 0.2 && taken[0].0 < 0.75, "{seed}: {taken:?}");
        }
    }

    #[test]
    fn damp_on_damp_mixes_and_damp_on_dry_lies_over_it() {
        let pressed = |dries: bool| {
            let mut mat = laid(4);
            let mut card = Pressed::default();
            for _ in 0..2 {
                mat.mist(2.0);
                mat.press(&mut card, Movement::Still);
                card.is_dry = dries;
            }
            card
        };
        let (dry, damp) = (pressed(true), pressed(false));
        assert_eq!((dry.layers.len(), damp.layers.len()), (2, 1));
        let both = |card: &Pressed| {
            let first = &card.layers[0][0];
            let sum =
                |ink: usize, cell: usize| card.layers.iter().map(|layer| layer[ink].cells[cell]).sum::<f32>();
            (0..first.cells.len()).filter(|cell| sum(0, *cell) > 0.05 && sum(1, *cell) > 0.05).count()
        };
        assert!(both(&damp) > both(&dry), "{} {}", both(&damp), both(&dry));
        // Moved sideways inks mix more.
        let moved = |movement: Movement| {
            let (mut mat, mut card) = (laid(4), Pressed::default());
            mat.mist(2.0);
            mat.press(&mut card, movement);
            both(&card)
        };
        assert!(moved(Movement::Much) > moved(Movement::Still));
    }

    #[test]
    fn the_same_seed_gives_the_same_press() {
        let pressed = |seed: u32| {
            let (mut mat, mut card) = (laid(seed), Pressed::default());
            mat.mist(1.0);
            mat.press(&mut card, Movement::Still);
            card.layers
        };
        assert!(pressed(3) == pressed(3) && pressed(3) != pressed(4));
    }
}
