//! Wipe an anti-static bag over the panel, so that powder stays only where sticky ink is.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::technique::{Technique, Words};
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::Surface;

/// An anti-static bag wiped over all of it.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct AntiStatic {}

impl Technique for AntiStatic {
    fn act(&self, surface: &mut Surface) {
        surface.embossing.is_wiped = true;
    }

    fn paced(&self) -> Option<(Figure, u32)> {
        Some((Figure::AntiStatic, 1))
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let test = if surface.coats.is_empty() {
            ""
        } else {
            " First shake a little powder over it and tip it off: any that stays shows a damp spot, to be dried again."
        };
        Words {
            title: "Wipe the anti-static bag over it".into(),
            how: format!("All over, lightly.{test} Without it, strays of powder melt in for good."),
            care: None,
        }
    }
}
