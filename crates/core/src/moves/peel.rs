//! Peel the tape off the edges, once the ink beside it is dry.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::mask_off;
use super::rules::Unmet;
use super::technique::{Technique, Words};
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Mask, Materials, Surface};

/// The tape along the edges peeled off.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Peel {}

impl Technique for Peel {
    fn act(&self, surface: &mut Surface) {
        surface.uncover(Mask::BORDER);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        mask_off::unmet(surface, Mask::BORDER)
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::MaskOff, 1.0))
    }

    fn words(&self, _: &Surface, _: Units) -> Words {
        Words {
            title: "Peel the tape off".into(),
            how: "Slowly, folded back flat over itself and away from the ink: a white border stays.".into(),
            care: None,
        }
    }

    fn mask(&self) -> Option<Mask> {
        Some(Mask::BORDER)
    }
}
