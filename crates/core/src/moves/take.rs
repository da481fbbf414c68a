//! Take up a brush: the one kept for this ink, or the one that needs least cleaning for it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::technique::{Technique, Words};
use crate::ink::measured;
use crate::length::Units;
use crate::surface::{Materials, Surface};

/// A brush taken up, by its place on the desk, from 0.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Take {
    /// Its place.
    pub brush: usize,
}

impl Technique for Take {
    fn act(&self, surface: &mut Surface) {
        // On a desk with fewer brushes the last has to do.
        let last = surface.materials.brushes.len() - 1;
        surface.brushes.take(self.brush.min(last));
    }

    fn hands(&self, _: &Materials) -> u32 {
        measured::SECONDS_A_CHANGE
    }

    fn readies(&self) -> bool {
        true
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let materials = &surface.materials;
        let brush = &materials.brushes[self.brush.min(materials.brushes.len() - 1)];
        let held = surface.brushes.in_hand.map(|at| &materials.brushes[at].name);
        let on_it = surface.brushes.carried().most().map(|ink| &materials.inks[ink].name);
        let how = match (held, on_it) {
            (Some(held), Some(ink)) => {
                format!("Put {held} down, which has {ink} on it, and take {}.", brush.name)
            }
            _ => format!("Take {}.", brush.name),
        };
        Words { title: format!("Take {}", brush.name), how, care: None }
    }

    fn is_step(&self) -> bool {
        false
    }
}
