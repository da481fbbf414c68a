//! Take the ink pad straight to the card: patted, or swiped in streaks.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Stage, Unmet};
use super::step::{Begun, Offer, Step, scaled};
use super::technique::{Technique, Words};
use super::telling::{About, Telling, times};
use super::unset::{hot, squashed};
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Masks, Materials, Surface, Wet};
use crate::water::effect::Where;
use crate::water::pad::{MOST_TIMES, Stroke};
use crate::water::{Effect, Pad};

/// A pad over the card.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Swipe(pub Pad);

impl Wet for Swipe {
    fn effect(&self, at: Where, _: &Masks) -> Effect {
        Effect::of_ink(self.0.ink, self.0.left(at.size_mm(), at.seed, at.nth))
    }

    fn inks(&self) -> Vec<usize> {
        vec![self.0.ink]
    }

    fn load(&self) -> f64 {
        0.2
    }
}

/// How a pad goes over the card, as a sentence has it.
const STROKES: [(&str, Stroke, &str); 3] = [
    ("down", Stroke::Down, "swipe it from top to bottom"),
    ("across", Stroke::Across, "swipe it from left to right"),
    ("pat", Stroke::Pat, "pat it, print beside print"),
];

impl Step for Swipe {
    const OFFERS: &'static [Offer] =
        &[Offer { key: "pad", words: "Take a pad straight to it", has_stencil: false }];
    const NAME: &'static str = "pad";
    const LIMITS: &'static str = "name an ink of the panel, and go over it 1 to 6 times";

    fn begun(_: &str, about: &mut About) -> Result<Begun<Swipe>, String> {
        Ok(Begun::last(Swipe(Pad { ink: about.dark()?, stroke: Stroke::Down, times: 1, light: true })))
    }

    fn tell(&mut self, told: &mut Telling) {
        let Pad { ink, stroke, times: n, light } = &mut self.0;
        told.say("Take the pad of ");
        told.ink("ink", "The ink of the pad", ink);
        told.say(" to the card and ");
        told.choice("stroke", "How it goes over the card", stroke, &STROKES);
        told.say(", ");
        let hands = [("light", true, "lightly, for bark"), ("firm", false, "firmly")];
        told.choice("hand", "How it is held", light, &hands);
        told.say(", ");
        told.count("times", "How many times", n);
        told.say(times(u32::from(*n), "time", "times"));
    }

    fn scaled(&self, percent: u32) -> Result<Swipe, &'static str> {
        let times = scaled(self.0.times.into(), percent, MOST_TIMES.into()) as u8;
        Ok(Swipe(Pad { times, ..self.0 }))
    }

    /// A pad is no wetter than a brush.
    fn is_wet(&self) -> bool {
        false
    }

    fn ink_mut(&mut self) -> Option<&mut usize> {
        Some(&mut self.0.ink)
    }
}

impl Technique for Swipe {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.is_possible(stage.inks)
    }

    fn act(&self, surface: &mut Surface) {
        surface.wet(*self);
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

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Swipe, f64::from(self.0.times)))
    }

    fn made(&self) -> Option<&'static str> {
        Some("straight from the pad")
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
