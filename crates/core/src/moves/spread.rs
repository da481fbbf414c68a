//! Spread paste through a stencil: it stands up from the card, and nothing wet comes after it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Stage, Unmet};
use super::step::{Begun, Offer, Step};
use super::technique::{Technique, Words};
use super::telling::{About, Telling};
use crate::ink::{Ink, Paste};
use crate::learn::Figure;
use crate::length::Units;
use crate::shape::Use;
use crate::surface::{Materials, Surface};

/// Paste scraped through the stencil of a thing, and the stencil lifted at once.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Spread {
    /// The thing whose stencil it is, by its place from front to back, from 0.
    pub thing: usize,
    /// Which paste.
    pub of: Paste,
}

impl Step for Spread {
    const OFFERS: &'static [Offer] =
        &[Offer { key: "paste", words: "Scrape paste through a stencil", has_stencil: true }];
    const NAME: &'static str = "paste";
    const LIMITS: &'static str = "name a thing and an ink of the panel";

    fn begun(_: &str, about: &mut About) -> Result<Begun<Spread>, String> {
        Ok(Begun::last(Spread { thing: about.stencil, of: Paste::White }))
    }

    fn tell(&mut self, told: &mut Telling) {
        told.say("Scrape ");
        let mut kind = (self.of.ink().is_some(), self.of == Paste::Shimmer);
        let pastes = [
            ("white", (false, false), "white paste"),
            ("tinted", (true, false), "white paste tinted with"),
            ("shimmer", (false, true), "shimmer paste"),
        ];
        told.choice("of", "Which paste", &mut kind, &pastes);
        self.of = match (kind, self.of.ink()) {
            ((true, _), Some(ink)) => Paste::Tinted(ink),
            // The strongest in colour tints it.
            ((true, _), None) => told.for_it(About::strongest).map_or(self.of, Paste::Tinted),
            ((_, true), _) => Paste::Shimmer,
            _ => Paste::White,
        };
        if let Paste::Tinted(ink) = &mut self.of {
            told.say(" ");
            told.ink("ink", "The ink that tints it", ink);
        }
        told.say(" through the stencil of the ");
        told.thing("thing", "Which stencil", &mut self.thing);
        told.say(", and let it dry");
    }

    fn scaled(&self, _: u32) -> Result<Spread, &'static str> {
        Err("Paste lies as thick as its stencil, no more and no less.")
    }

    fn is_last(&self) -> bool {
        true
    }

    fn has_stencil(&self) -> bool {
        true
    }

    fn ink_mut(&mut self) -> Option<&mut usize> {
        match &mut self.of {
            Paste::Tinted(ink) => Some(ink),
            Paste::White | Paste::Shimmer => None,
        }
    }
}

impl Technique for Spread {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.thing < stage.things && self.of.ink().is_none_or(|ink| ink < stage.inks)
    }

    fn act(&self, surface: &mut Surface) {
        surface.spread(self.thing, self.of);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        if !surface.is_damp() {
            return Vec::new();
        }
        let says = "The card is still damp: the paste would take the ink up and turn grey, and the stencil would lift it. Let it dry first.";
        vec![Unmet { breach: Breach::SpreadOnDamp, says: says.into(), mend: Mend::DryFirst }]
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Paste, 1.0))
    }

    fn made(&self) -> Option<&'static str> {
        Some("paste")
    }

    fn drying(&self, _: &[Ink]) -> Option<Figure> {
        Some(Figure::PasteDries)
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let thing = surface.materials.masks.things.get(self.thing);
        let name = thing.map_or("", |thing| thing.name.as_str());
        let stencil = if thing.is_some_and(|thing| thing.used == Use::Stencil) { "stencil" } else { "frame" };
        let (paste, before) = match self.of {
            Paste::White => ("paste", String::new()),
            Paste::Tinted(ink) => {
                let ink = &surface.materials.inks[ink].name;
                (
                    "tinted paste",
                    format!("Stir a few drops of {ink} into a spoon of white paste, until it is even. "),
                )
            }
            Paste::Shimmer => ("shimmer paste", String::new()),
        };
        Words {
            title: format!("Scrape {paste} through the {stencil} of the {name}"),
            how: format!(
                "{before}Lay the {stencil} on and hold it down. Scrape the paste over it along the pattern with a flat blade, as \
                 thick as the sheet and no thicker; what is left goes back in the jar. Lift the {stencil} straight up at once, and \
                 wash it before the paste sets."
            ),
            care: (self.of == Paste::Shimmer).then(|| {
                "Loose mica is not to be breathed: stir it in wet. The jar's own label comes first.".into()
            }),
        }
    }

    fn wets(&self) -> bool {
        true
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Spread> {
        Some(Spread { thing: to(self.thing)?, ..*self })
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Spread> {
        Some(Spread { of: self.of.with_inks_moved(to)?, ..*self })
    }
}
