//! Wipe or change the brush, so that the next pad and the next ink stay clean.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::technique::{Technique, Words};
use crate::ink::measured;
use crate::length::Units;
use crate::surface::Surface;

/// The brush wiped on a dry towel, or another taken up.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Wipe {}

impl Technique for Wipe {
    fn act(&self, surface: &mut Surface) {
        surface.brush = None;
    }

    fn hands(&self) -> u32 {
        measured::SECONDS_A_CHANGE
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let off = surface.brush.map(|ink| surface.materials.inks[ink].name.as_str());
        let how = match off {
            Some(name) => format!("Wipe {name} off on a dry towel, or take another brush."),
            None => "Wipe the brush on a dry towel, or take another.".to_owned(),
        };
        Words { title: "Wipe or change the brush".into(), how, care: None }
    }

    fn is_step(&self) -> bool {
        false
    }
}
