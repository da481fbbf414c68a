//! Blot what water stands on the card.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Unmet};
use super::technique::{Technique, Words};
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Materials, Surface};

/// A towel laid on and lifted.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Blot {}

impl Technique for Blot {
    fn act(&self, surface: &mut Surface) {
        surface.blot();
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        if surface.films.iter().any(|film| !film.is_dry && film.wet.is_water()) {
            return Vec::new();
        }
        let says = "No water stands on it: there is nothing to blot. Leave this out.".into();
        vec![Unmet { breach: Breach::NothingToBlot, says, mend: Mend::LeaveOut }]
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Blot, 1.0))
    }

    fn words(&self, _: &Surface, _: Units) -> Words {
        Words {
            title: "Blot it".into(),
            how: "Lay a dry towel on it, press flat without rubbing, and lift it straight up.".into(),
            care: None,
        }
    }

    fn wets(&self) -> bool {
        true
    }
}
