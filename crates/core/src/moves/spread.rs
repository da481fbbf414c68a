//! Spread paste through a stencil: it stands up from the card, and nothing wet comes after it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Stage, Unmet};
use super::technique::{Technique, Words};
use crate::ink::{Paste, measured};
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

impl Technique for Spread {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.thing < stage.things.len() && self.of.ink().is_none_or(|ink| ink < stage.inks)
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

    fn hands(&self, _: &Materials) -> u32 {
        measured::SECONDS_OF_PASTE
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
