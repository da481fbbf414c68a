//! Mist the card, so that it can be blotted to a worn ground.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::mist_mat::pumps;
use super::rules::{Stage, Unmet};
use super::technique::{Technique, Words};
use super::wetting;
use crate::ink::Surface as Card;
use crate::length::Units;
use crate::surface::{Materials, Surface};
use crate::water::Wet;
use crate::water::bench::MOST_MISTS;

/// Mist over the card.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Mist {
    /// How often the bottle is pumped.
    pub pumps: u8,
}

/// Seconds of a pump, and until the water has loosened what it stands on (chosen).
const SECONDS: u32 = 3;
const SECONDS_OF_WATER: u32 = 20;

impl Technique for Mist {
    fn is_possible(&self, _: &Stage) -> bool {
        (1..=MOST_MISTS).contains(&self.pumps)
    }

    fn act(&self, surface: &mut Surface) {
        surface.wet(Wet::Misted(self.pumps));
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        wetting::unmet(surface, &Wet::Misted(self.pumps))
    }

    fn hands(&self, _: &Materials) -> u32 {
        SECONDS * u32::from(self.pumps)
    }

    fn waits(&self, _: &Surface) -> u32 {
        SECONDS_OF_WATER
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

    fn in_goes(&self, card: Card) -> Vec<Mist> {
        let goes = wetting::goes(self.pumps, card, Wet::Misted);
        goes.into_iter().map(|pumps| Mist { pumps }).collect()
    }
}
