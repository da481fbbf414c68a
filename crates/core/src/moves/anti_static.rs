//! Wipe an anti-static bag over the panel, so that powder stays only where sticky ink is.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Unmet};
use super::technique::{Technique, Words};
use crate::learn::Figure;
use crate::length::Units;
use crate::say::capital;
use crate::surface::{Materials, Surface};

/// An anti-static bag wiped over all of it.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct AntiStatic {}

impl Technique for AntiStatic {
    fn act(&self, surface: &mut Surface) {
        surface.wipe_over();
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        let unmet = surface.masks.last().map(|mask| {
            let says = format!(
                "{} lies there: the bag reaches only what it leaves open, and powder strays beside it. Lift it first.",
                capital(&surface.materials.masks.called(*mask))
            );
            Unmet { breach: Breach::BagOverMask, says, mend: Mend::UncoverFirst(*mask) }
        });
        unmet.into_iter().collect()
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::AntiStatic, 1.0))
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let begins = match surface.coats.is_empty() {
            true => "Wipe it",
            false => {
                "First shake a little powder over all of it and tip it off: any that stays shows a damp spot, to be dried again. \
                 Then wipe the bag over it,"
            }
        };
        Words {
            title: "Wipe the anti-static bag over it".into(),
            how: format!(
                "{begins} all over, lightly, while nothing covers it. Without it, strays of powder melt in for good."
            ),
            care: None,
        }
    }
}
