//! What comes of a wet deed?
//!
//! Whatever water, ink or paint does to a card, it comes to three things: ink that lies in cells, a share of what lay there
//! that is left, and drops that stand out one by one. What has been worked out once is kept for a while.

use std::num::NonZeroUsize;
use std::sync::{Arc, LazyLock, Mutex, PoisonError};

use lru::LruCache;

use super::bench::Told;
use super::drops::{Chance, Drop};
use super::flecks::{Flecks, Thrown};
use super::pad::Pad;
use super::raster::Raster;
use super::spray::Spray;
use super::wash;
use crate::ink::Kind;
use crate::length::Length;
use crate::shape::Region;

/// How many effects are kept.
const KEPT: usize = 24;

/// A wet deed as the card knows it.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub enum Wet {
    /// A layer that presses on a mat have left.
    Pressed(Told, usize),
    /// What a bottle threw.
    Sprayed(Spray),
    /// Flecks.
    Flicked(Flecks),
    /// So many pumps of mist.
    Misted(u8),
    /// A wet stencil laid on, of a thing.
    Lifted(usize),
    /// An ink pad, straight to the card.
    Padded(Pad),
}

/// What comes of it.
#[derive(Clone, Debug, Default)]
pub struct Effect {
    /// Ink that lies in cells, each by its place in the panel's list, in full swatches.
    pub inks: Vec<(usize, Raster)>,
    /// What is left of the dye and of the oxide that lay there.
    pub left: Option<[Raster; 2]>,
    /// Drops that stand out.
    pub drops: Vec<Drop>,
}

/// On what it comes about.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Where {
    /// Width and height of the panel.
    pub size: (Length, Length),
    /// What chance starts from.
    pub seed: u32,
    /// How many wet deeds went before it.
    pub nth: u64,
    /// Whether it has been blotted.
    pub is_blotted: bool,
}

impl Wet {
    /// Works it out, or remembers it. A wet stencil touches where its sheet lies.
    pub fn effect(&self, at: Where, sheet: impl FnOnce(usize) -> Region) -> Arc<Effect> {
        type Known = LruCache<(Wet, Where), Arc<Effect>>;
        static KNOWN: LazyLock<Mutex<Known>> =
            LazyLock::new(|| Mutex::new(LruCache::new(NonZeroUsize::new(KEPT).unwrap_or(NonZeroUsize::MIN))));
        // A thing is known by its place only: its sheet may be another the next time.
        if let Wet::Lifted(thing) = self {
            return Arc::new(lifted(&sheet(*thing), at));
        }
        let key = (self.clone(), at);
        if let Some(known) = KNOWN.lock().unwrap_or_else(PoisonError::into_inner).get(&key) {
            return known.clone();
        }
        let effect = Arc::new(self.worked_out(at));
        KNOWN.lock().unwrap_or_else(PoisonError::into_inner).put(key, effect.clone());
        effect
    }

    fn worked_out(&self, Where { size, seed, nth, is_blotted }: Where) -> Effect {
        let size = (size.0.mm(), size.1.mm());
        let mut chance = Chance::of(seed, 1_000 + nth);
        match self {
            Wet::Pressed(told, layer) => {
                let bench = told.bench();
                let layer = bench.cards.first().and_then(|card| card.layers.get(*layer));
                let inks = told.inks.iter().zip(layer.into_iter().flatten());
                Effect {
                    inks: inks.map(|((ink, _), raster)| (*ink, raster.clone())).collect(),
                    ..Effect::default()
                }
            }
            Wet::Sprayed(spray) => {
                let raster = spray.left(size, &mut chance, seed, nth);
                match spray.ink {
                    Some(ink) => Effect { inks: vec![(ink, raster)], ..Effect::default() },
                    None => {
                        let loosened = raster.like(|cell| (raster.cells[cell] / WET).min(1.0));
                        let of = |kind| wash::left(&loosened, kind, is_blotted);
                        Effect { left: Some([of(Kind::Dye), of(Kind::Oxide)]), ..Effect::default() }
                    }
                }
            }
            Wet::Flicked(flecks) => Effect { drops: flecks.drops(size, &mut chance), ..Effect::default() },
            Wet::Misted(pumps) => {
                let left = wash::mist(*pumps, is_blotted, size, (&mut chance, seed, nth));
                Effect { left: Some(left), ..Effect::default() }
            }
            Wet::Lifted(_) => Effect::default(),
            Wet::Padded(pad) => {
                Effect { inks: vec![(pad.ink, pad.left(size, seed, nth))], ..Effect::default() }
            }
        }
    }

    /// The inks it brings, by their places.
    pub fn inks(&self) -> Vec<usize> {
        match self {
            Wet::Pressed(told, _) => told.inks.iter().map(|(ink, _)| *ink).collect(),
            Wet::Sprayed(spray) => spray.ink.into_iter().collect(),
            Wet::Padded(pad) => vec![pad.ink],
            Wet::Flicked(Flecks { of: Thrown::Ink(ink), .. }) => vec![*ink],
            Wet::Flicked(_) | Wet::Misted(_) | Wet::Lifted(_) => Vec::new(),
        }
    }

    /// Whether it is water, that takes of what lies there and brings nothing.
    pub fn is_water(&self) -> bool {
        match self {
            Wet::Pressed(..) | Wet::Padded(_) => false,
            Wet::Sprayed(spray) => spray.ink.is_none(),
            Wet::Flicked(flecks) => flecks.of == Thrown::Water,
            Wet::Misted(_) | Wet::Lifted(_) => true,
        }
    }
}

/// Water that loosens all it can, in what a full swatch of ink would be.
const WET: f32 = 0.12;

fn lifted(sheet: &Region, Where { size, seed, nth, .. }: Where) -> Effect {
    let size = (size.0.mm(), size.1.mm());
    let left = wash::lifted(|x, y| sheet.has([x, y]), size, (seed, nth));
    Effect { left: Some(left), ..Effect::default() }
}
