//! Press the card on the mat, and lift it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Stage, Unmet};
use super::technique::{Technique, Words};
use super::wetting;
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Masks, Materials, Surface, Wet};
use crate::water::bench::{Doing, Doings};
use crate::water::effect::Where;
use crate::water::{Effect, Movement};

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

impl Press {
    /// The mat once it is done.
    fn told(&self, surface: &Surface) -> Doings {
        let mut told = surface.mat.clone();
        let card = usize::from(self.spare.unwrap_or(0));
        // A spare card has dried by the time it is pressed again.
        if card > 0 {
            told.deeds.push(Doing::Dry(card));
        } else if !surface.is_damp() {
            told.deeds.push(Doing::Dry(0));
        }
        told.deeds.push(Doing::Press(card, self.movement));
        told
    }

    /// What it leaves on the panel.
    fn wet(&self, surface: &Surface) -> Option<Pressed> {
        let told = self.told(surface);
        self.spare.is_none().then(|| Pressed { layer: told.layers(0) - 1, told })
    }
}

/// A layer that presses on a mat have left on the card.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
struct Pressed {
    told: Doings,
    layer: usize,
}

impl Wet for Pressed {
    fn effect(&self, _: Where, _: &Masks) -> Effect {
        let bench = self.told.bench();
        let layer = bench.cards.first().and_then(|card| card.layers.get(self.layer));
        let inks = self.inks().into_iter().zip(layer.into_iter().flatten().cloned());
        Effect { inks: inks.collect(), ..Effect::default() }
    }

    fn inks(&self) -> Vec<usize> {
        self.told.inks.iter().map(|(ink, _)| *ink).collect()
    }

    fn load(&self) -> f64 {
        3.0
    }

    /// All of it was taken when it was dabbed on the mat.
    fn taken(&self, _: &Effect) -> Vec<(usize, f64)> {
        Vec::new()
    }

    /// A press on a card that is still damp from the last.
    fn mixes_with(&self, damp: &dyn Wet) -> bool {
        damp.any().downcast_ref::<Pressed>().is_some_and(|last| last.layer == self.layer)
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
        let mists = surface.mat.deeds.iter().any(|deed| matches!(deed, Doing::Mist(_)));
        if surface.mat.inks.is_empty() || !mists {
            let (says, mend) = if surface.mat.inks.is_empty() {
                ("There is no ink on the mat: nothing comes off it. Leave this out.", Mend::LeaveOut)
            } else {
                ("The mat is dry: nothing comes off it. Mist it first.", Mend::MistFirst)
            };
            return vec![Unmet { breach: Breach::DryMat, says: says.into(), mend }];
        }
        if self.spare.is_some() {
            return Vec::new();
        }
        wetting::unmet_of_press(surface)
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Press, 1.0))
    }

    fn made(&self) -> Option<&'static str> {
        Some("smooshed")
    }

    fn is_on_mat(&self) -> bool {
        true
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let pressed = surface.films.iter().any(|film| film.wet.any().is::<Pressed>());
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
