//! What is done with water: inks pressed off the mat before anything is blended, and what is sprayed, flicked, misted and
//! lifted after?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::length::Length;
use crate::moves::rules::Stage;
use crate::moves::step::Begun;
use crate::moves::{Telling, WetStep};
use crate::place::Resized;
use crate::water::bench::{MOST_DABS, MOST_MISTS, MOST_SPARES, PATCH};
use crate::water::{Movement, Patch};

/// Most patches on the mat.
pub const MOST_PATCHES: usize = 12;
/// Most presses of one mat.
pub const MOST_PRESSES: usize = 9;
/// Most wet steps of a panel beside its presses.
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

/// A wet step.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Loose {
    /// What is done.
    #[serde(rename = "deed")]
    pub step: WetStep,
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
    /// Too many of them.
    #[error("{0} sprays, flecks and the like: keep at most {MOST_LOOSE}")]
    Many(usize),
    /// A step's measures.
    #[error("{name} {place}: {limits}")]
    Step {
        /// What it is.
        name: &'static str,
        /// Which of the steps.
        place: usize,
        /// What they may be.
        limits: &'static str,
    },
    /// A thing that is not there.
    #[error("step {0} names a thing that is not on the panel")]
    Thing(usize),
    /// An ink that is not there.
    #[error("step {0} names an ink that is not on the panel")]
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

    pub(super) fn carried(&self, to: &Resized) -> Smoosh {
        let (old, new, mark) = (to.old, to.new, to.units.pencil());
        let less = if new.0.ratio(old.0) < new.1.ratio(old.1) { (old.0, new.0) } else { (old.1, new.1) };
        let patch = |patch: &Patch| Patch {
            at: to.at(patch.at),
            across: patch.across.scaled(less.1, less.0, mark).clamp(PATCH.0, PATCH.1),
            down: patch.down.scaled(less.1, less.0, mark).clamp(PATCH.0, PATCH.1),
            ..*patch
        };
        Smoosh { patches: self.patches.iter().map(patch).collect(), presses: self.presses.clone() }
    }

    /// Whether the panel has been pressed before a press, so that it can be damp.
    pub fn is_again(&self, press: usize) -> bool {
        let is_panel = |press: &Pressing| press.spare.is_none();
        let before = self.presses.get(..press).unwrap_or_default();
        self.presses.get(press).is_some_and(is_panel) && before.iter().any(is_panel)
    }
}

/// Spare cards that a press offers.
const SPARES: [(&str, Option<u8>, &str); 4] = [
    ("0", None, "this card"),
    ("1", Some(1), "spare card 1"),
    ("2", Some(2), "spare card 2"),
    ("3", Some(3), "spare card 3"),
];
const MOVEMENTS: [(&str, Movement, &str); 3] = [
    ("still", Movement::Still, "straight down"),
    ("little", Movement::Little, "a little to and fro"),
    ("much", Movement::Much, "and push it about"),
];

impl Pressing {
    /// Tells it in a sentence; `again` where the panel may be damp from before.
    pub fn tell(&mut self, again: bool, told: &mut Telling) {
        told.count("mists", "Pumps of mist over the mat", &mut self.mists);
        told.say(" mists, press ");
        told.choice("card", "Which card is pressed", &mut self.spare, &SPARES);
        told.say(" ");
        told.choice("movement", "How it is moved", &mut self.movement, &MOVEMENTS);
        if again {
            told.say(", ");
            let damp = [("dry", false, "once it is dry"), ("damp", true, "while it is damp")];
            told.choice("on_damp", "Whether it is dry before", &mut self.on_damp, &damp);
        }
        told.say(". ");
    }
}

impl Loose {
    /// Something done at the end, over all of it.
    pub fn last(step: impl Into<WetStep>) -> Loose {
        Loose::begun(Begun::last(step.into()))
    }

    /// Something as it is usually begun.
    pub fn begun(begun: Begun<WetStep>) -> Loose {
        Loose { step: begun.step, blot: begun.blot, first: begun.first, keep: Vec::new(), within: None }
    }

    /// Tells it in a sentence.
    pub fn tell(&mut self, told: &mut Telling) {
        self.step.tell(told);
        if !told.about.things.is_empty() && !self.first && !self.step.has_place() {
            told.say(", ");
            told.within("within", "Where it is done", &mut self.within);
        }
        if self.step.is_water() {
            told.say("; wait half a minute and ");
            let ends = [("blot", true, "blot it"), ("dry", false, "let it dry")];
            told.choice("blot", "Whether it is blotted", &mut self.blot, &ends);
        }
        told.say(".");
    }

    /// The same with what is told only where one asks.
    pub fn tell_more(&mut self, told: &mut Telling) {
        self.step.tell_more(told);
        if self.step.is_last() {
            told.say("It comes last of all that is wet.");
        } else {
            told.say("It is done ");
            let when = [
                ("last", false, "over all of it, at the end"),
                ("first", true, "before anything is blended"),
            ];
            told.choice("when", "When it is done", &mut self.first, &when);
            told.say(".");
        }
    }

    /// What is kept dry meanwhile, thing by thing.
    pub fn tell_keep(&mut self, told: &mut Telling) {
        if self.first {
            return;
        }
        for (place, thing) in told.about.things.iter().enumerate() {
            let mut kept = self.keep.contains(&place);
            let label = format!("Keep the {} dry under its plug", thing.shape.name);
            told.check(&format!("keep{place}"), &label, &mut kept);
            self.keep.retain(|other| *other != place);
            self.keep.extend(kept.then_some(place));
        }
    }

    pub(super) fn check(
        &self,
        place: usize,
        (inks, things): (usize, usize),
        size: (Length, Length),
    ) -> Result<(), LooseError> {
        let mut step = self.step.clone();
        if step.ink_mut().is_some_and(|ink| *ink >= inks) {
            return Err(LooseError::Ink(place));
        }
        let may_be = step.is_possible(&Stage { inks, size, things, boxes: &[] });
        let (name, limits) = step.limits();
        let lacks = |thing: &usize| *thing >= things;
        match may_be {
            _ if self.keep.iter().chain(&self.within).any(lacks) => Err(LooseError::Thing(place)),
            false if step.has_stencil() => Err(LooseError::Thing(place)),
            false => Err(LooseError::Step { name, place, limits }),
            true => Ok(()),
        }
    }

    /// The same with the things in other places; nothing where the one it is about has gone.
    pub(super) fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Loose> {
        let step = self.step.with_things_moved(to)?;
        let keep = self.keep.iter().filter_map(|thing| to(*thing)).collect();
        let within = match self.within {
            Some(thing) => Some(to(thing)?),
            None => None,
        };
        Some(Loose { step, keep, within, ..self.clone() })
    }

    pub(super) fn carried(&self, to: &Resized) -> Loose {
        Loose { step: self.step.carried(to), ..self.clone() }
    }
}
