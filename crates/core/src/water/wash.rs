//! What does water take of ink that lies there?
//!
//! A drop on dry ink that reacts with water loosens a share of what lies beneath it. Left to dry, what is loose of an oxide
//! goes to the drop's rim and the rest blooms pale; of a dye it goes back into the card, a little paler. Blotted, most of
//! what is loose comes off with the towel. Pigment does not react. A dye is never darker for it; of an oxide just as much
//! lies there afterwards as before, but for what was blotted.

use super::drops::{Chance, Drop, Sizes, thrown};
use super::fibre::grain;
use super::raster::{CELL, Oval, Raster, about};
use crate::ink::Kind;

/// Share of an ink that a drop loosens (chosen).
const fn loosened(kind: Kind) -> f64 {
    match kind {
        Kind::Dye => 0.5,
        Kind::Oxide => 0.62,
        Kind::Pigment => 0.0,
    }
}

/// What a blot takes of what is loose; and what of a dye that was not blotted is lost to sight in the card (chosen).
const BLOTTED: f64 = 0.85;
const SUNK: f64 = 0.14;
/// In how many millimetres a rim falls off, and at most of the radius.
const RIM: (f64, f64) = (0.24, 0.2);
/// Drops of one mist on a square centimetre of card, and their sizes.
const DROPS_A_MIST: f64 = 6.0;
const MIST: Sizes = Sizes { median: 0.6, spread: 0.7 };
/// How little the weakest of them loosens; how far fibres move an edge, as a share of the radius; how soft it is; and how
/// far from it what it carries comes to lie, in millimetres.
const LEAST: f64 = 0.25;
const ROUGH: f64 = 0.12;
const SOFT: f64 = 0.7;
const BROAD: f64 = 0.6;
/// Water that loosens all it can, in what a full swatch of ink would be.
const WET: f32 = 0.12;
/// How far water creeps along a wet sheet's edge, in millimetres, and how unevenly a sheet touches.
const CREEPS: f64 = 0.4;
const UNEVEN: f32 = 0.22;

/// What becomes of an ink beneath a drop.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Beneath {
    /// What is left of it inside.
    pub inside: f64,
    /// And at the very rim.
    pub rim: f64,
    /// In how many millimetres that falls off to a third.
    pub wide: f64,
}

/// The share of an ink that is gone where water stood, once it has dried.
pub fn gone(kind: Kind, blotted: bool) -> f64 {
    match (kind, blotted) {
        (Kind::Dye, false) => SUNK * loosened(kind),
        (_, false) => 0.0,
        (_, true) => BLOTTED * loosened(kind),
    }
}

/// What of what is loose goes to the rim.
fn to_the_rim(kind: Kind, blotted: bool) -> f64 {
    if kind == Kind::Oxide {
        (loosened(kind) - gone(kind, blotted)) * if blotted { 0.9 } else { 0.75 }
    } else {
        0.0
    }
}

/// What becomes of an ink beneath a drop of some radius: at the rim it is strongest, and falls off inward as e^(−d/w).
pub fn beneath(kind: Kind, radius: f64, blotted: bool) -> Beneath {
    let wide = RIM.0.min(RIM.1 * radius);
    let (gone, moved) = (gone(kind, blotted), to_the_rim(kind, blotted));
    // What went to the rim stands on this share of the drop: ∫ e^(−(R−r)/w) 2πr dr over πR².
    let share = 2.0 * wide * (radius - wide + wide * (-radius / wide).exp()) / (radius * radius);
    Beneath { inside: 1.0 - gone - moved, rim: 1.0 - gone - moved + moved / share, wide }
}

/// How far water has loosened what lies in each cell, where drops stood: nothing to all that it can. Drops that touch are
/// one; their edges are as the fibres have them, and no two stand equally long.
pub fn loosening(drops: &[Drop], size: (f64, f64), (chance, seed, nth): (&mut Chance, u32, u64)) -> Raster {
    let fibre = grain(size, seed, 900 + nth);
    let mut share = Raster::empty(size);
    let drops: Vec<(Drop, f64)> =
        drops.iter().map(|drop| (*drop, LEAST + (1.0 - LEAST) * chance.even())).collect();
    let oval = |(drop, _): &(Drop, f64)| Oval::round((drop.x, drop.y), 1.3 * drop.radius + CELL);
    about(&mut share.cells, share.columns, &drops, oval, |share, cell, (right, below), (drop, strong)| {
        let far = (right * right + below * below).sqrt();
        let edge = drop.radius * (1.0 + ROUGH * f64::from(fibre.cells[cell]).clamp(-1.6, 1.6));
        let inside = ((edge - far) / SOFT.min(drop.radius) + 0.5).clamp(0.0, 1.0);
        *share = share.max((strong * inside) as f32);
    });
    share.spread((CELL, CELL))
}

/// What is left of a kind of ink where it was loosened, as a share of what lay there. What goes to a rim is what the edge
/// of the water has more of than its surroundings: as much as is gone beside it.
pub fn left(loosened: &Raster, kind: Kind, blotted: bool) -> Raster {
    let (gone, moved) = (gone(kind, blotted) as f32, to_the_rim(kind, blotted) as f32);
    if moved == 0.0 {
        return loosened.like(|cell| 1.0 - gone * loosened.cells[cell]);
    }
    let about = loosened.clone().spread((BROAD, BROAD));
    loosened.like(|cell| {
        let own = loosened.cells[cell];
        1.0 - gone * own - moved * (own - about.cells[cell])
    })
}

/// What a spray of clean water leaves of the dye and of the oxide that lay there, by how much of it lies in each cell, in what
/// a full swatch of ink would be.
pub fn sprayed(water: &Raster, blotted: bool) -> [Raster; 2] {
    let loosened = water.like(|cell| (water.cells[cell] / WET).min(1.0));
    [Kind::Dye, Kind::Oxide].map(|kind| left(&loosened, kind, blotted))
}

/// What mist leaves of dye and of oxide.
pub fn mist(
    pumps: u8,
    blotted: bool,
    size: (f64, f64),
    (chance, seed, nth): (&mut Chance, u32, u64),
) -> [Raster; 2] {
    let area = size.0 * size.1 / 100.0;
    let drops = thrown((DROPS_A_MIST * f64::from(pumps) * area) as usize, MIST, size, chance);
    let loosened = loosening(&drops, size, (chance, seed, nth));
    [Kind::Dye, Kind::Oxide].map(|kind| left(&loosened, kind, blotted))
}

/// What a wet sheet leaves of dye and of oxide where it touches, once that is blotted.
pub fn lifted(
    touches: impl Fn(f64, f64) -> bool + Sync + Send,
    size: (f64, f64),
    (seed, nth): (u32, u64),
) -> [Raster; 2] {
    let empty = Raster::empty(size);
    let fibre = grain(size, seed, 800 + nth);
    let wet = empty.like(|cell| {
        let (x, y) = empty.middle(cell);
        let uneven = 1.0 - UNEVEN * fibre.cells[cell].abs();
        if touches(x, y) { uneven.max(0.2) } else { 0.0 }
    });
    let loosened = wet.spread((CREEPS, CREEPS));
    [Kind::Dye, Kind::Oxide].map(|kind| left(&loosened, kind, true))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_drop_takes_what_is_gone_and_no_more() {
        for kind in [Kind::Dye, Kind::Oxide] {
            for blotted in [false, true] {
                for radius in [0.2, 0.6, 1.5, 4.0] {
                    let Beneath { inside, rim, wide } = beneath(kind, radius, blotted);
                    let steps = 4_000;
                    let ring = |n: usize| {
                        let r = radius * (n as f64 + 0.5) / f64::from(steps);
                        (inside + (rim - inside) * (-(radius - r) / wide).exp()) * 2.0 * r
                            / radius
                            / f64::from(steps)
                    };
                    let left: f64 = (0..steps as usize).map(ring).sum();
                    assert!((left - (1.0 - gone(kind, blotted))).abs() < 1e-4, "{kind} {radius}: {left}");
                    assert!(kind == Kind::Oxide || rim <= 1.0, "a dye is never darker for it");
                    assert!(inside < 1.0);
                    assert!(kind == Kind::Dye || rim > inside);
                }
            }
        }
        assert_eq!(beneath(Kind::Pigment, 1.0, true).inside, 1.0);
    }

    #[test]
    fn mist_wears_what_lies_there_and_loses_just_what_is_blotted() {
        let size = (60.0, 60.0);
        let drops = thrown(600, MIST, size, &mut Chance::of(4, 2));
        let loosened = loosening(&drops, size, (&mut Chance::of(4, 3), 4, 2));
        let share = loosened.sum() / loosened.cells.len() as f64;
        assert!(share > 0.1 && share < 0.9, "{share}");
        for (kind, blotted) in
            [(Kind::Dye, false), (Kind::Dye, true), (Kind::Oxide, false), (Kind::Oxide, true)]
        {
            let raster = left(&loosened, kind, blotted);
            let mean = raster.sum() / raster.cells.len() as f64;
            let meant = 1.0 - share * gone(kind, blotted);
            assert!((mean - meant).abs() < 0.002, "{kind}: {mean} {meant}");
            let most = raster.cells.iter().fold(0.0_f32, |most, cell| most.max(*cell));
            // Of an oxide that is blotted hardly any is left to go to a rim.
            let rim = if blotted { 1.0 } else { 1.05 };
            assert!(if kind == Kind::Dye { most <= 1.0001 } else { most > rim }, "{kind}: {most}");
        }
    }

    #[test]
    fn a_wet_sheet_lifts_where_it_touches() {
        let left = lifted(|x, _| x < 15.0, (30.0, 30.0), (3, 1));
        for raster in left {
            assert!(raster.at(5.0, 15.0) < 0.7 && raster.at(25.0, 15.0) > 0.999);
        }
    }
}
