//! Spray it: ink or clean water from a bottle.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::mist_mat::pumps;
use super::rules::{Stage, Unmet};
use super::step::{Begun, Offer, Step, scaled};
use super::technique::{Technique, Words};
use super::telling::{About, Telling, times};
use super::wetting;
use crate::ink::Finish;
use crate::learn::Figure;
use crate::length::{Length, Units};
use crate::place::{Point, Resized};
use crate::surface::{Masks, Materials, Surface, Wet};
use crate::water::effect::Where;
use crate::water::spray::{DISTANCES, MOST_PUMPS};
use crate::water::{self, Effect, Thrown, Tilt, wash};

/// A bottle pumped over the card.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Spray(pub water::Spray);

/// Seconds of wetting the card and letting it run, and of pushing it about (chosen).
const SECONDS_OF_RUNNING: u32 = 60;
const SECONDS_OF_PUSHING: u32 = 30;
/// What spraying asks for.
const CARE: &str = "Do not breathe the mist: open a window, and keep it off food and skin as its label says.";

impl Wet for Spray {
    fn effect(&self, at: Where, _: &Masks) -> Effect {
        let raster = self.0.left(at.size_mm(), &mut at.chance(), at.seed, at.nth);
        match self.0.ink {
            Some(ink) => Effect::of_ink(ink, raster),
            None => Effect::of_water(wash::sprayed(&raster, at.is_blotted)),
        }
    }

    fn inks(&self) -> Vec<usize> {
        self.0.ink.into_iter().collect()
    }

    fn is_water(&self) -> bool {
        self.0.ink.is_none()
    }

    fn load(&self) -> f64 {
        let each = if self.0.splashed { 0.8 } else { 0.35 };
        f64::from(self.0.pumps) * each + if self.0.on_wet { 2.0 } else { 0.0 }
    }

    /// What fell beside the card too.
    fn taken(&self, _: &Effect) -> Vec<(usize, f64)> {
        self.inks().into_iter().map(|ink| (ink, self.0.thrown())).collect()
    }
}

impl Step for Spray {
    const OFFERS: &'static [Offer] = &[Offer { key: "spray", words: "Spray it", has_stencil: false }];
    const NAME: &'static str = "spray";
    const LIMITS: &'static str = "name an ink of the panel or clean water, hold it 2 in (50.8 mm) to 20 in (508 mm) off, pump 1 to 20 \
                                  times, aim no further beside the panel than it is wide, and push it about only on wet card";

    fn begun(_: &str, about: &mut About) -> Result<Begun<Spray>, String> {
        let distance = match about.units {
            Units::Inches => Length::from_inches(7),
            Units::Millimetres => Length::from_tenths_mm(1_800),
        };
        let at = Point { left: about.size.0 / 2, top: about.size.1 / 2 };
        let (ink, tilt) = (Some(about.dark()?), Tilt::Flat);
        let spray =
            water::Spray { ink, at, distance, pumps: 4, on_wet: false, tilt, splashed: false, pushed: false };
        // Sprayed before it is blended where nothing is yet.
        Ok(Begun { first: !about.has_ground, ..Begun::last(Spray(spray)) })
    }

    fn tell(&mut self, told: &mut Telling) {
        let water::Spray { ink, distance, pumps, on_wet, tilt, splashed, pushed, .. } = &mut self.0;
        let by = [("pump", false, "Spray"), ("cap", true, "Splash from the cap")];
        told.choice("from", "From the pump or the cap", splashed, &by);
        told.say(" ");
        let mut of = ink.map_or(Thrown::Water, Thrown::Ink);
        told.thrown("ink", "What is sprayed", &mut of, &[Thrown::Water]);
        *ink = if let Thrown::Ink(ink) = of { Some(ink) } else { None };
        told.say(", ");
        told.count("pumps", "How many times", pumps);
        told.say(format!("{} from ", times(u32::from(*pumps), "time", "times")));
        told.length("distance", "How far off", distance);
        told.say(", on ");
        told.choice(
            "card",
            "On dry or wet card",
            on_wet,
            &[("dry", false, "dry card"), ("wet", true, "wet card")],
        );
        // On dry card there is nothing to push.
        *pushed &= *on_wet;
        if *on_wet {
            told.say(", ");
            told.choice(
                "tilt",
                "How the card lies",
                tilt,
                &Tilt::ALL.map(|tilt| (tilt.key(), tilt, tilt.words())),
            );
            told.say(", ");
            let brushed = [("runs", false, "left to run"), ("pushed", true, "pushed about with a brush")];
            told.choice("brush", "Whether it is pushed about with a brush", pushed, &brushed);
        }
    }

    fn tell_more(&mut self, told: &mut Telling) {
        told.say("Aimed ");
        told.length("left", "Aimed from the left", &mut self.0.at.left);
        told.say(" from the left and ");
        told.length("top", "Aimed from the top", &mut self.0.at.top);
        told.say(" from the top. ");
    }

    fn scaled(&self, percent: u32) -> Result<Spray, &'static str> {
        let pumps = scaled(self.0.pumps.into(), percent, MOST_PUMPS.into()) as u8;
        Ok(Spray(water::Spray { pumps, ..self.0 }))
    }

    fn is_water(&self) -> bool {
        self.0.ink.is_none()
    }

    fn ink_mut(&mut self) -> Option<&mut usize> {
        self.0.ink.as_mut()
    }

    fn aim_mut(&mut self) -> Option<&mut Point> {
        Some(&mut self.0.at)
    }

    fn carried(&self, to: &Resized) -> Spray {
        let (wider, higher) = to.ratio();
        let distance = Length::nearest(self.0.distance.mm() * wider.min(higher), to.units.pencil());
        let distance = distance.clamp(DISTANCES.0, DISTANCES.1);
        Spray(water::Spray { at: to.at(self.0.at), distance, ..self.0 })
    }
}

impl Technique for Spray {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.ink.is_none_or(|ink| ink < stage.inks) && self.0.is_possible(stage.size)
    }

    fn act(&self, surface: &mut Surface) {
        surface.wet(*self);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        wetting::unmet(surface, self)
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        (!self.0.on_wet).then_some((Figure::Spray, f64::from(self.0.pumps)))
    }

    fn hands(&self, with: &Materials) -> u32 {
        let of = |is_so: bool, seconds: u32| if is_so { seconds } else { 0 };
        with.seconds(Figure::Spray, None) * u32::from(self.0.pumps)
            + of(self.0.on_wet, SECONDS_OF_RUNNING)
            + of(self.0.pushed, SECONDS_OF_PUSHING)
    }

    fn made(&self) -> Option<&'static str> {
        Some("sprayed")
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

    fn in_goes(&self, card: Finish) -> Vec<Spray> {
        let of = |pumps: u8| water::Spray { pumps, ..self.0 };
        let goes = wetting::goes(self.0.pumps, card, |pumps| Spray(of(pumps)).load());
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
