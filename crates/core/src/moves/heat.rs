//! Dry it with heat, where waiting would cost more than the heating.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Unmet};
use super::technique::{Technique, Words};
use crate::ink::measured;
use crate::learn::Figure;
use crate::length::Units;
use crate::say::capital;
use crate::surface::{Materials, Surface};

/// What a heat tool asks for.
pub(super) const CARE: &str = "A heat tool's tip is over 250 °C: work on metal, keep fingers and paper clear, never leave it on alone, let it cool \
     before putting it away. Its own instructions come first.";

/// What to take care of, with the masks that lie there.
pub(super) fn with_care(surface: &Surface) -> String {
    match surface.masks.is_empty() {
        true => CARE.into(),
        false => format!(
            "A mask is on: hold the tool further off, and stop as soon as its edge lifts or curls. {CARE}"
        ),
    }
}

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
        let unmet = surface.keeps_heat_away().map(|mask| {
            let what = capital(&surface.materials.masks.called(mask));
            let says = if surface.materials.masks.is_film(mask) {
                format!("{what} is on: heat warps film. Let it dry in air.")
            } else {
                format!("{what} is on: heat sets its glue hard, and curls it. Let it dry in air.")
            };
            Unmet { breach: Breach::HeatOnMask, says, mend: Mend::DryInAir }
        });
        unmet.into_iter().collect()
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
        Words { title: "Dry it with heat".into(), how, care: Some(with_care(surface)) }
    }
}
