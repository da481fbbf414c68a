//! Lift ink with a wet stencil: its sheet takes up colour where it touches.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Stage, Unmet};
use super::step::{Begun, Offer, Step};
use super::technique::{Technique, Words};
use super::telling::{About, Telling};
use super::wetting;
use crate::learn::Figure;
use crate::length::Units;
use crate::shape::Region;
use crate::surface::{Masks, Materials, Surface, Wet};
use crate::water::effect::Where;
use crate::water::{Effect, wash};

/// A wet stencil laid on.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Lift {
    /// The thing whose stencil it is, by its place from front to back, from 0.
    pub thing: usize,
}

/// How far a wet stencil's sheet reaches past its openings, in millimetres.
const SHEET: f64 = 4.0;

/// The sheet of a wet stencil: a broad border round its shape, without what is open.
fn sheet(masks: &Masks, thing: usize) -> Region {
    let Some(thing) = masks.things.get(thing) else { return Region::default() };
    let (left, top) = (thing.extent.corner.left.mm(), thing.extent.corner.top.mm());
    let (wide, high) = (thing.extent.size.0.mm(), thing.extent.size.1.mm());
    Region::rect(left - SHEET, top - SHEET, wide + 2.0 * SHEET, high + 2.0 * SHEET).minus(&thing.inside)
}

impl Wet for Lift {
    fn effect(&self, at: Where, masks: &Masks) -> Effect {
        let sheet = sheet(masks, self.thing);
        Effect::of_water(wash::lifted(|x, y| sheet.has([x, y]), at.size_mm(), (at.seed, at.nth)))
    }

    fn is_water(&self) -> bool {
        true
    }

    fn load(&self) -> f64 {
        1.5
    }

    fn has_shape(&self) -> bool {
        true
    }
}

impl Step for Lift {
    const OFFERS: &'static [Offer] =
        &[Offer { key: "lift", words: "Lift colour with a wet stencil", has_stencil: true }];
    const NAME: &'static str = "wet stencil";
    const LIMITS: &'static str = "name a thing of the panel";

    fn begun(_: &str, about: &mut About) -> Result<Begun<Lift>, String> {
        Ok(Begun::last(Lift { thing: about.stencil }).blotted())
    }

    fn tell(&mut self, told: &mut Telling) {
        told.say("Lay the wet stencil of the ");
        told.thing("thing", "Which stencil", &mut self.thing);
        told.say(" on it");
    }

    fn scaled(&self, _: u32) -> Result<Lift, &'static str> {
        Err("A wet stencil lifts what it lifts: do it once again for more.")
    }

    fn is_water(&self) -> bool {
        true
    }

    fn is_blotted(&self) -> bool {
        true
    }

    fn has_stencil(&self) -> bool {
        true
    }
}

impl Technique for Lift {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.thing < stage.things
    }

    fn act(&self, surface: &mut Surface) {
        surface.wet(*self);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        wetting::unmet(surface, self)
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Lift, 1.0))
    }

    fn made(&self) -> Option<&'static str> {
        Some("lifted with a wet stencil")
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let name = surface.materials.masks.things.get(self.thing).map_or("", |thing| thing.name.as_str());
        Words {
            title: format!("Lift colour with the wet stencil of the {name}"),
            how: "Mist the stencil, shake the drops off, lay it on and press it down with a towel: its ribs lift the colour \
                  where they touch."
                .into(),
            care: None,
        }
    }

    fn wets(&self) -> bool {
        true
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Lift> {
        Some(Lift { thing: to(self.thing)? })
    }
}
