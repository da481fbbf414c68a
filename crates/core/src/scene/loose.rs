//! What is done with water: inks pressed off the mat before anything is blended, and what is sprayed, flicked, misted and
//! lifted after?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::ink::Paste;
use crate::length::{Length, Units};
use crate::place::{Extent, Point};
use crate::water::bench::{MOST_DABS, MOST_MISTS, MOST_SPARES, PATCH};
use crate::water::flecks::Thrown;
use crate::water::pad::MOST_TIMES;
use crate::water::spray::DISTANCES;
use crate::water::{Flecks, Movement, Pad, Patch, Placed, Spray};

/// Most patches on the mat.
pub const MOST_PATCHES: usize = 12;
/// Most presses of one mat.
pub const MOST_PRESSES: usize = 9;
/// Most wet deeds of a panel beside its presses.
pub const MOST_LOOSE: usize = 8;

/// Inks laid on the mat, and pressed off it.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Smoosh {
    /// The patches of ink on the mat.
    pub patches: Vec<Patch>,
    /// The presses, in order.
    pub presses: Vec<Pressing>,
}

/// The mat misted, and a card pressed on it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Pressing {
    /// Pumps of mist over the mat first; none goes on with the water that stands there.
    pub mists: u8,
    /// A spare card that is pressed in the panel's place, from 1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub spare: Option<u8>,
    /// How the card is moved.
    #[serde(default)]
    pub movement: Movement,
    /// Whether the panel is pressed again while it is still damp from before.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub on_damp: bool,
}

/// A wet deed.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Loose {
    /// What is done.
    pub deed: Wetting,
    /// Whether the water is blotted.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub blot: bool,
    /// Whether it comes before anything is blended.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub first: bool,
    /// The things that are kept dry under their plugs, by their places from front to back.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub keep: Vec<usize>,
    /// The thing through whose frame it is done, so that nothing else takes any, by its place from front to back; not where it
    /// comes before anything is blended.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub within: Option<usize>,
}

/// What can be done.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Wetting {
    /// Flecks are flicked or placed.
    Flecks(Flecks),
    /// It is sprayed.
    Spray(Spray),
    /// It is misted with so many pumps.
    Mist(u8),
    /// A wet stencil is laid on, of a thing by its place, and blotted.
    Lift(usize),
    /// An ink pad is taken straight to the card.
    Pad(Pad),
    /// Paste is scraped through the stencil of a thing, once all else that is wet has been done.
    Paste {
        /// The thing, by its place.
        thing: usize,
        /// Which paste.
        of: Paste,
    },
}

/// Why it cannot be done, and what to change.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum LooseError {
    /// Too many patches, or none to press.
    #[error("{0} patches on the mat: dab 1 to {MOST_PATCHES}, or take the presses away")]
    Patches(usize),
    /// A patch.
    #[error(
        "patch {0} lies beside the card, or is too small or too large: give 1/8 in (3.18 mm) to 12 in (304.8 mm)"
    )]
    Patch(usize),
    /// Dabs.
    #[error("patch {0}: dab the pad 1 to {MOST_DABS} times")]
    Dabs(usize),
    /// Too many presses.
    #[error("{0} presses: a mat gives at most {MOST_PRESSES}")]
    Presses(usize),
    /// Pumps.
    #[error("press {0}: mist it 1 to {MOST_MISTS} times, at least once before the first")]
    Mists(usize),
    /// A spare card.
    #[error("press {0}: there are spare cards 1 to {MOST_SPARES}")]
    Spare(usize),
    /// Too many deeds.
    #[error("{0} sprays, flecks and the like: keep at most {MOST_LOOSE}")]
    Many(usize),
    /// Flecks.
    #[error(
        "flecks of {0}: flick up to 2000 of a radius of 0.05 to 8 mm, place up to 60 on the panel, keep up to 12 places clear, thin with up to 8 parts of water"
    )]
    Flecks(usize),
    /// A spray.
    #[error(
        "spray {0}: hold it 2 in (50.8 mm) to 20 in (508 mm) off, pump 1 to 20 times, and aim no further beside the panel than it is wide"
    )]
    Spray(usize),
    /// Mist.
    #[error("mist {0}: pump 1 to {MOST_MISTS} times")]
    Mist(usize),
    /// A pad.
    #[error("pad {0}: name an ink of the panel, and go over it 1 to {MOST_TIMES} times")]
    Pad(usize),
    /// A thing that is not there.
    #[error("deed {0} names a thing that is not on the panel")]
    Thing(usize),
    /// An ink that is not there.
    #[error("deed {0} names an ink that is not on the panel")]
    Ink(usize),
}

impl Smoosh {
    /// Refuses what no mat gives to a card of this size in so many inks.
    ///
    /// # Errors
    /// A [`LooseError`] naming the place.
    pub fn check(&self, inks: usize, size: (Length, Length)) -> Result<(), LooseError> {
        if !(1..=MOST_PATCHES).contains(&self.patches.len()) {
            return Err(LooseError::Patches(self.patches.len()));
        }
        for (patch, place) in self.patches.iter().zip(1..) {
            if patch.ink >= inks {
                return Err(LooseError::Ink(place));
            }
            if !patch.lies_under(size) {
                return Err(LooseError::Patch(place));
            }
            if !(1..=MOST_DABS).contains(&patch.dabs) {
                return Err(LooseError::Dabs(place));
            }
        }
        if self.presses.len() > MOST_PRESSES {
            return Err(LooseError::Presses(self.presses.len()));
        }
        for (press, place) in self.presses.iter().zip(1..) {
            if press.mists > MOST_MISTS || (place == 1 && press.mists == 0) {
                return Err(LooseError::Mists(place));
            }
            if press.spare.is_some_and(|spare| !(1..=MOST_SPARES).contains(&spare)) {
                return Err(LooseError::Spare(place));
            }
        }
        Ok(())
    }

    /// The spare cards that are pressed, in order, each once.
    pub fn spares(&self) -> Vec<u8> {
        let mut spares: Vec<u8> = Vec::new();
        for spare in self.presses.iter().filter_map(|press| press.spare) {
            if !spares.contains(&spare) {
                spares.push(spare);
            }
        }
        spares
    }

    pub(super) fn carried(&self, old: (Length, Length), new: (Length, Length), mark: Length) -> Smoosh {
        let less = if new.0.ratio(old.0) < new.1.ratio(old.1) { (old.0, new.0) } else { (old.1, new.1) };
        let patch = |patch: &Patch| Patch {
            at: share(patch.at, old, new, mark),
            across: patch.across.scaled(less.1, less.0, mark).clamp(PATCH.0, PATCH.1),
            down: patch.down.scaled(less.1, less.0, mark).clamp(PATCH.0, PATCH.1),
            ..*patch
        };
        Smoosh { patches: self.patches.iter().map(patch).collect(), presses: self.presses.clone() }
    }
}

fn share(at: Point, old: (Length, Length), new: (Length, Length), mark: Length) -> Point {
    let of = |at: Length, old: Length, new: Length| at.scaled(new, old, mark);
    Point { left: of(at.left, old.0, new.0), top: of(at.top, old.1, new.1) }
}

impl Wetting {
    /// The ink it brings, to be changed.
    fn ink_mut(&mut self) -> Option<&mut usize> {
        match self {
            Wetting::Flecks(Flecks { of: Thrown::Ink(ink), .. }) => Some(ink),
            Wetting::Spray(spray) => spray.ink.as_mut(),
            Wetting::Pad(pad) => Some(&mut pad.ink),
            Wetting::Paste { of: Paste::Tinted(ink), .. } => Some(ink),
            _ => None,
        }
    }

    /// Whether it is water that can be blotted.
    pub fn is_water(&self) -> bool {
        match self {
            Wetting::Flecks(flecks) => flecks.of == Thrown::Water,
            Wetting::Spray(spray) => spray.ink.is_none(),
            Wetting::Mist(_) | Wetting::Lift(_) => true,
            Wetting::Paste { .. } | Wetting::Pad(_) => false,
        }
    }
}

impl Loose {
    /// Something done at the end, over all of it.
    pub const fn last(deed: Wetting) -> Loose {
        Loose { deed, blot: false, first: false, keep: Vec::new(), within: None }
    }

    /// The inks it brings, to be changed.
    pub(super) fn ink_mut(&mut self) -> Option<&mut usize> {
        self.deed.ink_mut()
    }

    pub(super) fn check(
        &self,
        place: usize,
        (inks, things): (usize, usize),
        size: (Length, Length),
    ) -> Result<(), LooseError> {
        if self.keep.iter().chain(&self.within).any(|thing| *thing >= things) {
            return Err(LooseError::Thing(place));
        }
        match &self.deed {
            Wetting::Flecks(flecks) if !flecks.is_possible(inks, size) => Err(LooseError::Flecks(place)),
            Wetting::Spray(spray) if spray.ink.is_some_and(|ink| ink >= inks) => Err(LooseError::Ink(place)),
            Wetting::Spray(spray) if !spray.is_possible(size) => Err(LooseError::Spray(place)),
            Wetting::Mist(pumps) if !(1..=MOST_MISTS).contains(pumps) => Err(LooseError::Mist(place)),
            Wetting::Pad(pad) if !pad.is_possible(inks) => Err(LooseError::Pad(place)),
            Wetting::Lift(thing) | Wetting::Paste { thing, .. } if *thing >= things => {
                Err(LooseError::Thing(place))
            }
            Wetting::Paste { of: Paste::Tinted(ink), .. } if *ink >= inks => Err(LooseError::Ink(place)),
            _ => Ok(()),
        }
    }

    /// The same with the things in other places; nothing where the one it is about has gone.
    pub(super) fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Loose> {
        let deed = match &self.deed {
            Wetting::Lift(thing) => Wetting::Lift(to(*thing)?),
            Wetting::Paste { thing, of } => Wetting::Paste { thing: to(*thing)?, of: *of },
            deed => deed.clone(),
        };
        let keep = self.keep.iter().filter_map(|thing| to(*thing)).collect();
        let within = match self.within {
            Some(thing) => Some(to(thing)?),
            None => None,
        };
        Some(Loose { deed, keep, within, ..self.clone() })
    }

    pub(super) fn carried(&self, old: (Length, Length), new: (Length, Length), units: Units) -> Loose {
        let mark = units.pencil();
        let deed = match &self.deed {
            Wetting::Flecks(flecks) => {
                let placed = |placed: &Placed| Placed { at: share(placed.at, old, new, mark), ..*placed };
                let clear = |clear: &Extent| {
                    let (wide, high) = clear.size;
                    Extent {
                        corner: share(clear.corner, old, new, mark),
                        size: (wide.scaled(new.0, old.0, mark), high.scaled(new.1, old.1, mark)),
                    }
                };
                // As close together as they were.
                let area = new.0.ratio(old.0) * new.1.ratio(old.1);
                let count = (f64::from(flecks.count) * area).round() as u16;
                Wetting::Flecks(Flecks {
                    count: count.clamp(flecks.count.min(1), crate::water::flecks::MOST_FLECKS),
                    placed: flecks.placed.iter().map(placed).collect(),
                    clear: flecks.clear.iter().map(clear).collect(),
                    ..flecks.clone()
                })
            }
            Wetting::Spray(spray) => {
                let less = new.0.ratio(old.0).min(new.1.ratio(old.1));
                let distance = Length::nearest(spray.distance.mm() * less, mark);
                Wetting::Spray(Spray {
                    at: share(spray.at, old, new, mark),
                    distance: distance.clamp(DISTANCES.0, DISTANCES.1),
                    ..*spray
                })
            }
            deed => deed.clone(),
        };
        Loose { deed, ..self.clone() }
    }
}
