//! Let melted powder cool until it is hard.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::technique::{Technique, Words};
use crate::ink::measured;
use crate::length::Units;
use crate::surface::Surface;

/// A wait until it is hard.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Cool {}

impl Technique for Cool {
    fn act(&self, surface: &mut Surface) {
        surface.embossing.is_hot = false;
    }

    fn waits(&self, _: &Surface) -> u32 {
        measured::SECONDS_OF_COOLING
    }

    fn words(&self, _: &Surface, _: Units) -> Words {
        Words {
            title: "Let it cool".into(),
            how: "A minute, flat, until it is hard: ink worked over it warm would smear it.".into(),
            care: None,
        }
    }
}
