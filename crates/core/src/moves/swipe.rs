//! Take the ink pad straight to the card: patted, or swiped in streaks.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Stage, Unmet};
use super::technique::{Technique, Words};
use super::unset::{hot, squashed};
use crate::length::Units;
use crate::surface::{Materials, Surface};
use crate::water::pad::Stroke;
use crate::water::{Pad, Wet};

/// A pad over the card.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Swipe(pub Pad);

/// Seconds of going over a card once (chosen).
const SECONDS: u32 = 15;

impl Technique for Swipe {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.is_possible(stage.inks)
    }

    fn act(&self, surface: &mut Surface) {
        surface.wet(Wet::Padded(self.0));
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        if let Some(unmet) = squashed(surface).or_else(|| hot(surface)) {
            return vec![unmet];
        }
        if !surface.is_damp() {
            return Vec::new();
        }
        let name = &surface.materials.inks[self.0.ink].name;
        let says = format!(
            "The card is still damp: the pad of {name} would take up what lies there, and carry it to every panel after this \
             one. Let it dry first."
        );
        vec![Unmet { breach: Breach::PadOnDamp, says, mend: Mend::DryFirst }]
    }

    fn hands(&self, _: &Materials) -> u32 {
        SECONDS * u32::from(self.0.times)
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let Pad { ink, stroke, times, light } = self.0;
        let name = &surface.materials.inks[ink].name;
        let hand =
            if light { "so lightly that only the tooth of the card takes ink" } else { "firmly and flat" };
        let times = match times {
            1 => "once".to_owned(),
            2 => "twice".to_owned(),
            more => format!("{more} times"),
        };
        let (title, how) = match stroke {
            Stroke::Pat => (
                format!("Pat the pad of {name} on the card"),
                format!("Go over it {times}, print beside print, {hand}; straight down and straight up."),
            ),
            Stroke::Down | Stroke::Across => {
                let way = if stroke == Stroke::Down {
                    "from the top to the bottom"
                } else {
                    "from the left to the right"
                };
                (
                    format!("Swipe the pad of {name} over the card"),
                    format!(
                        "Go over it {times} {way}, lane beside lane, on past the edge, {hand}; do not go back."
                    ),
                )
            }
        };
        let how = format!("{how} It comes out strong and uneven. Close the pad at once.");
        Words { title, how, care: None }
    }

    fn wets(&self) -> bool {
        true
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Swipe> {
        Some(Swipe(Pad { ink: to(self.0.ink)?, ..self.0 }))
    }
}
