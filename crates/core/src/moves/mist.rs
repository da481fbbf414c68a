//! Mist the card, so that it can be blotted to a worn ground.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::mist_mat::pumps;
use super::rules::{Stage, Unmet};
use super::step::{Begun, Offer, Step, scaled};
use super::technique::{Technique, Words};
use super::telling::{About, Telling, times};
use super::wetting;
use crate::ink::Finish;
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Masks, Materials, Surface, Wet};
use crate::water::bench::MOST_MISTS;
use crate::water::effect::Where;
use crate::water::{Effect, wash};

/// Mist over the card.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Mist {
    /// How often the bottle is pumped.
    pub pumps: u8,
}

/// Seconds until the water has loosened what it stands on (chosen).
const SECONDS_OF_WATER: u32 = 20;

impl Wet for Mist {
    fn effect(&self, at: Where, _: &Masks) -> Effect {
        let chance = (&mut at.chance(), at.seed, at.nth);
        Effect::of_water(wash::mist(self.pumps, at.is_blotted, at.size_mm(), chance))
    }

    fn is_water(&self) -> bool {
        true
    }

    fn load(&self) -> f64 {
        f64::from(self.pumps)
    }
}

impl Step for Mist {
    const OFFERS: &'static [Offer] = &[Offer { key: "mist", words: "Mist and blot it", has_stencil: false }];
    const NAME: &'static str = "mist";
    const LIMITS: &'static str = "pump 1 to 8 times";

    fn begun(_: &str, _: &mut About) -> Result<Begun<Mist>, String> {
        Ok(Begun::last(Mist { pumps: 4 }).blotted())
    }

    fn tell(&mut self, told: &mut Telling) {
        told.say("Mist the card with ");
        told.count("pumps", "How many pumps", &mut self.pumps);
        told.say(times(self.pumps.into(), "pump", "pumps"));
    }

    fn scaled(&self, percent: u32) -> Result<Mist, &'static str> {
        Ok(Mist { pumps: scaled(self.pumps.into(), percent, MOST_MISTS.into()) as u8 })
    }

    fn is_water(&self) -> bool {
        true
    }
}

impl Technique for Mist {
    fn is_possible(&self, _: &Stage) -> bool {
        (1..=MOST_MISTS).contains(&self.pumps)
    }

    fn act(&self, surface: &mut Surface) {
        surface.wet(*self);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        wetting::unmet(surface, self)
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Mist, f64::from(self.pumps)))
    }

    fn waits(&self, _: &Surface) -> u32 {
        SECONDS_OF_WATER
    }

    fn made(&self) -> Option<&'static str> {
        Some("misted")
    }

    fn words(&self, _: &Surface, _: Units) -> Words {
        let how = format!(
            "{} of clean water from two hands away, so that it falls in separate drops; wait until the ink loosens under them.",
            crate::say::capital(&pumps(self.pumps))
        );
        Words { title: "Mist the card".into(), how, care: None }
    }

    fn wets(&self) -> bool {
        true
    }

    fn in_goes(&self, card: Finish) -> Vec<Mist> {
        let goes = wetting::goes(self.pumps, card, |pumps| Mist { pumps }.load());
        goes.into_iter().map(|pumps| Mist { pumps }).collect()
    }
}
