//! Press the card on the mat, and lift it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Stage, Unmet};
use super::technique::{Technique, Words};
use super::wetting;
use crate::length::Units;
use crate::surface::{Materials, Surface};
use crate::water::bench::{Deed, Told};
use crate::water::{Movement, Wet};

/// A card pressed on the mat.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Press {
    /// A spare card that is pressed in the panel's place, from 1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub spare: Option<u8>,
    /// How it is moved.
    #[serde(default)]
    pub movement: Movement,
}

/// Seconds to press a card and lift it (chosen).
const SECONDS: u32 = 25;

impl Press {
    /// The mat once it is done.
    fn told(&self, surface: &Surface) -> Told {
        let mut told = surface.mat.clone();
        let card = usize::from(self.spare.unwrap_or(0));
        // A spare card has dried by the time it is pressed again.
        if card > 0 {
            told.deeds.push(Deed::Dry(card));
        } else if !surface.is_damp() {
            told.deeds.push(Deed::Dry(0));
        }
        told.deeds.push(Deed::Press(card, self.movement));
        told
    }

    /// What it leaves on the panel.
    fn wet(&self, surface: &Surface) -> Option<Wet> {
        let told = self.told(surface);
        self.spare.is_none().then(|| Wet::Pressed(told.clone(), told.layers(0) - 1))
    }
}

impl Technique for Press {
    fn is_possible(&self, _: &Stage) -> bool {
        self.spare.is_none_or(|spare| (1..=crate::water::bench::MOST_SPARES).contains(&spare))
    }

    fn act(&self, surface: &mut Surface) {
        let (told, wet) = (self.told(surface), self.wet(surface));
        surface.mat = told;
        if let Some(wet) = wet {
            surface.wet(wet);
        }
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        let mists = surface.mat.deeds.iter().any(|deed| matches!(deed, Deed::Mist(_)));
        if surface.mat.inks.is_empty() || !mists {
            let (says, mend) = if surface.mat.inks.is_empty() {
                ("There is no ink on the mat: nothing comes off it. Leave this out.", Mend::LeaveOut)
            } else {
                ("The mat is dry: nothing comes off it. Mist it first.", Mend::MistFirst)
            };
            return vec![Unmet { breach: Breach::DryMat, says: says.into(), mend }];
        }
        self.wet(surface).map(|wet| wetting::unmet(surface, &wet)).unwrap_or_default()
    }

    fn hands(&self, _: &Materials) -> u32 {
        SECONDS
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let pressed = surface.films.iter().any(|film| matches!(film.wet, Wet::Pressed(..)));
        let title = match (self.spare, pressed) {
            (Some(spare), _) => format!("Press spare card {spare}"),
            (None, false) => "Press the card on the mat".into(),
            (None, true) => "Press it again, on what is left".into(),
        };
        let how = match self.movement {
            Movement::Still => {
                "Straight down and straight up again: moved sideways the colours run together."
            }
            Movement::Little => {
                "Down, a little to and fro, and up: the colours run into one another a little."
            }
            Movement::Much => "Down, and push it about before you lift it: the colours blend.",
        };
        let after = match self.spare {
            Some(_) => " Lay it aside to dry, for another panel.",
            None => "",
        };
        Words { title, how: format!("{how}{after}"), care: None }
    }

    fn wets(&self) -> bool {
        true
    }
}
