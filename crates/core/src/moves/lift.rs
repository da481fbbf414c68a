//! Lift ink with a wet stencil: its sheet takes up colour where it touches.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Stage, Unmet};
use super::technique::{Technique, Words};
use super::wetting;
use crate::length::Units;
use crate::surface::{Materials, Surface};
use crate::water::Wet;

/// A wet stencil laid on.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Lift {
    /// The thing whose stencil it is, by its place from front to back, from 0.
    pub thing: usize,
}

/// Seconds to wet a stencil, lay it on and press it down (chosen).
const SECONDS: u32 = 60;

impl Technique for Lift {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.thing < stage.things.len()
    }

    fn act(&self, surface: &mut Surface) {
        surface.wet(Wet::Lifted(self.thing));
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        wetting::unmet(surface, &Wet::Lifted(self.thing))
    }

    fn hands(&self, _: &Materials) -> u32 {
        SECONDS
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
