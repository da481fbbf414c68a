//! Melt powder to a raised, glossy line that ink does not stain.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::heat::CARE;
use super::rules::{Breach, Mend, Unmet};
use super::technique::{Technique, Words};
use crate::ink::measured;
use crate::length::Units;
use crate::surface::{Materials, Surface};

/// Powder melted.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Melt {}

impl Technique for Melt {
    fn act(&self, surface: &mut Surface) {
        surface.dry();
        surface.embossing.melt();
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        let mut unmet = Vec::new();
        if surface.embossing.powder.is_none() {
            let says = "There is no powder to melt: leave this out.".into();
            unmet.push(Unmet { breach: Breach::NothingSticky, says, mend: Mend::LeaveOut });
        }
        if let Some(mask) = surface.masks.last() {
            let says =
                "Heat sets the glue of a mask hard, and curls it: lift it before the powder is melted."
                    .into();
            unmet.push(Unmet { breach: Breach::HeatOnMask, says, mend: Mend::LiftFirst(*mask) });
        }
        unmet
    }

    fn hands(&self, _: &Materials) -> u32 {
        measured::SECONDS_OF_WARM_UP + measured::SECONDS_OF_HEAT
    }

    fn made(&self) -> Option<&'static str> {
        Some("embossed")
    }

    fn words(&self, _: &Surface, _: Units) -> Words {
        Words {
            title: "Melt the powder".into(),
            how: format!(
                "Warm the heat tool up for {} seconds away from the card; then from beneath or the side, moving on as soon as a \
                 spot turns glossy. Too long, and it sinks in flat.",
                measured::SECONDS_OF_WARM_UP
            ),
            care: Some(format!("Molten powder burns: do not touch it, and let air in. {CARE}")),
        }
    }

    fn stays(&self) -> bool {
        true
    }
}
