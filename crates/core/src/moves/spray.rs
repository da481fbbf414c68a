//! Spray it: ink or clean water from a bottle.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::mist_mat::pumps;
use super::rules::{Stage, Unmet};
use super::technique::{Technique, Words};
use super::wetting;
use crate::ink::Surface as Card;
use crate::length::Units;
use crate::surface::{Materials, Surface};
use crate::water::{self, Tilt, Wet};

/// A bottle pumped over the card.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Spray(pub water::Spray);

/// Seconds of a pump, of wetting the card and letting it run, and of pushing it about (chosen).
const SECONDS: u32 = 4;
const SECONDS_OF_RUNNING: u32 = 60;
const SECONDS_OF_PUSHING: u32 = 30;
/// What spraying asks for.
const CARE: &str = "Do not breathe the mist: open a window, and keep it off food and skin as its label says.";

impl Technique for Spray {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.ink.is_none_or(|ink| ink < stage.inks) && self.0.is_possible(stage.size)
    }

    fn act(&self, surface: &mut Surface) {
        surface.wet(Wet::Sprayed(self.0));
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        wetting::unmet(surface, &Wet::Sprayed(self.0))
    }

    fn hands(&self, _: &Materials) -> u32 {
        let of = |is_so: bool, seconds: u32| if is_so { seconds } else { 0 };
        SECONDS * u32::from(self.0.pumps)
            + of(self.0.on_wet, SECONDS_OF_RUNNING)
            + of(self.0.pushed, SECONDS_OF_PUSHING)
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        let water::Spray { ink, at, distance, on_wet, tilt, splashed, pushed, .. } = self.0;
        let name = ink.map_or("clean water", |ink| surface.materials.inks[ink].name.as_str());
        let said = |length: crate::Length| length.said(units);
        let title = if splashed { format!("Splash {name}") } else { format!("Spray {name}") };
        let shake = if ink.is_some() { "Shake the bottle. " } else { "" };
        let wetted = if on_wet { "Wet the card evenly first. " } else { "" };
        let from = if splashed {
            format!("Loosen the cap and splash {} times", self.0.pumps)
        } else {
            pumps(self.0.pumps)
        };
        let runs = match (on_wet, tilt) {
            (false, _) => String::new(),
            (true, Tilt::Flat) => " Let it run into itself, lying flat.".into(),
            (true, tilt) => format!(" Let it run, {}, until it stops.", tilt.words()),
        };
        let brushed = if pushed {
            " Push it about with a wet brush, with hardly any weight: wet card pills where it is scrubbed."
        } else {
            ""
        };
        let how = format!(
            "{wetted}{shake}{} from {} away, aimed at {} from the left and {} from the top.{runs}{brushed} Spray away from finished \
             panels; what must stay dry is covered.",
            crate::say::capital(&from),
            said(distance),
            said(at.left),
            said(at.top)
        );
        Words { title, how, care: ink.map(|_| CARE.into()) }
    }

    fn wets(&self) -> bool {
        true
    }

    fn in_goes(&self, card: Card) -> Vec<Spray> {
        let of = |pumps: u8| water::Spray { pumps, ..self.0 };
        let goes = wetting::goes(self.0.pumps, card, |pumps| Wet::Sprayed(of(pumps)));
        goes.into_iter().map(|pumps| Spray(of(pumps))).collect()
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Spray> {
        let ink = match self.0.ink {
            Some(ink) => Some(to(ink)?),
            None => None,
        };
        Some(Spray(water::Spray { ink, ..self.0 }))
    }
}
