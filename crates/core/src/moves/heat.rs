//! Dry it with heat, where waiting would cost more than the heating.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Unmet};
use super::technique::{Technique, Words};
use crate::ink::measured;
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Materials, Surface};

/// What a heat tool asks for.
pub(super) const CARE: &str = "A heat tool's tip is over 250 °C: work on metal, keep fingers and paper clear, never leave it on alone, let it cool \
     before putting it away. Its own instructions come first.";

/// A heat tool moved over the panel until it is dry.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Heat {}

impl Technique for Heat {
    fn act(&self, surface: &mut Surface) {
        surface.dry();
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        if surface.is_soft() {
            let says = "The paste is still soft: heat blows it into blisters. Let it dry in air.".into();
            return vec![Unmet { breach: Breach::PasteHeated, says, mend: Mend::DryInAir }];
        }
        if surface.masks.is_empty() {
            return Vec::new();
        }
        let says =
            "Heat sets the glue of a mask hard, and curls it: let it dry in air while a mask is on.".into();
        vec![Unmet { breach: Breach::HeatOnMask, says, mend: Mend::DryInAir }]
    }

    fn hands(&self, with: &Materials) -> u32 {
        measured::SECONDS_OF_WARM_UP + with.seconds(Figure::Heat, None)
    }

    fn dries(&self) -> bool {
        true
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let how = format!(
            "Warm the heat tool up for {} seconds away from the card, then about {} seconds over it, moving on all the time.",
            measured::SECONDS_OF_WARM_UP,
            surface.materials.seconds(Figure::Heat, None)
        );
        Words { title: "Dry it with heat".into(), how, care: Some(CARE.into()) }
    }
}
