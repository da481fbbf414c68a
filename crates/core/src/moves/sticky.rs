//! Sticky embossing ink on a thing, through its frame.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Stage, Unmet};
use super::technique::{Technique, Words};
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Mask, Materials, Part, Surface};

/// Sticky ink on one thing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Sticky {
    /// The thing, by its place from front to back, from 0.
    pub thing: usize,
}

impl Technique for Sticky {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.thing < stage.things
    }

    fn act(&self, surface: &mut Surface) {
        let lying = surface.masks.clone();
        surface.embossing.stick(self.thing, &lying);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        let frame = Mask { thing: self.thing, part: Part::Frame };
        let name = surface.materials.masks.things.get(self.thing).map_or("", |thing| thing.name.as_str());
        let mut unmet = Vec::new();
        if !surface.embossing.is_bone_dry {
            let says = "The panel is not bone dry: powder would stay in every damp spot and melt in as freckles. Dry it first.";
            unmet.push(Unmet { breach: Breach::NotBoneDry, says: says.into(), mend: Mend::DryFirst });
        }
        if !surface.is_wiped_round(self.thing) {
            let says = "No anti-static bag has been over all round it since ink was last laid there: strays of powder would melt in for good. Wipe it over first.";
            unmet.push(Unmet { breach: Breach::NoAntiStatic, says: says.into(), mend: Mend::WipeOverFirst });
        }
        let is_stamped = surface.materials.masks.is_stamped(Some(self.thing));
        if !is_stamped && !surface.masks.contains(&frame) {
            let says = format!(
                "The frame of the {name} is not on: the sticky ink would go past its edge. Put it on first."
            );
            unmet.push(Unmet { breach: Breach::NoFrame, says, mend: Mend::MaskFirst(frame) });
        }
        unmet
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Sticky, 1.0))
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let name = &surface.materials.masks.things[self.thing].name;
        if surface.materials.masks.is_stamped(Some(self.thing)) {
            return Words {
                title: format!("Stamp the {name} in sticky ink"),
                how: "Tap the pad of clear sticky ink on the stamp until it is even, press it straight down where the picture shows it, and \
                      lift it straight up; in its press once more on the same place where the area is large. It stays sticky for some \
                      minutes. Wipe the stamp clean."
                    .into(),
                care: None,
            };
        }
        Words {
            title: format!("Sticky ink on the {name}"),
            how: "Dab it on evenly inside the frame, straight down; twice where the area is large. It stays sticky for some minutes."
                .into(),
            care: None,
        }
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Sticky> {
        Some(Sticky { thing: to(self.thing)? })
    }

    fn stays(&self) -> bool {
        true
    }
}
