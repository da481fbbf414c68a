//! Put a mask on: the frame of a thing, or its plug, pressed down at its edges.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Stage, Unmet};
use super::technique::{Technique, Words};
use crate::ink::measured;
use crate::length::Units;
use crate::surface::{Mask, Part, Surface};

/// A mask put on.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct MaskOn(pub Mask);

impl Technique for MaskOn {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.thing < stage.things.len()
    }

    fn act(&self, surface: &mut Surface) {
        surface.cover_with(self.0);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        let masks = &surface.materials.masks;
        let what = called(surface, self.0);
        if surface.masks.contains(&self.0) {
            let says = format!("{} lies there already: leave this out.", crate::say::capital(&what));
            return vec![Unmet { breach: Breach::NoSuchMask, says, mend: Mend::LeaveOut }];
        }
        let beneath = masks.plots.iter().filter(|plot| plot.is_covered(self.0));
        // Under another mask the ink is out of its reach.
        let bare =
            |plot: &&crate::surface::masks::Plot| !surface.masks.iter().any(|other| plot.is_covered(*other));
        let damp = beneath.filter(bare).find_map(|plot| surface.damp_on(plot));
        let unmet = damp.map(|ink| {
            let ink = &surface.materials.inks[ink].name;
            let says = format!(
                "{ink} is still damp where {what} goes: it would not stick, and would lift the ink. Let it dry first."
            );
            Unmet { breach: Breach::MaskOnDamp, says, mend: Mend::DryFirst }
        });
        unmet.into_iter().collect()
    }

    fn hands(&self) -> u32 {
        measured::SECONDS_A_MASK_ON
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        let masks = &surface.materials.masks;
        let thing = &masks.things[self.0.thing];
        let other =
            Mask { part: if self.0.part == Part::Frame { Part::Plug } else { Part::Frame }, ..self.0 };
        let place = || {
            let corner = thing.extent.corner;
            let at = |side: crate::length::Length| side.shown(units).to_string();
            let (left, top) = (corner.left + thing.extent.size.0 / 2, corner.top + thing.extent.size.1 / 2);
            format!("with its middle {} from the left and {} from the top edge", at(left), at(top))
        };
        let counters = match thing.counters {
            0 => String::new(),
            1 => " Put its counter in too.".into(),
            n => format!(" Put its {n} counters in too."),
        };
        let (how, counters) = match (self.0.part, surface.masks.contains(&other)) {
            (Part::Frame, true) => ("round its plug, edge to edge".to_owned(), counters),
            (Part::Frame, false) => (place(), counters),
            (Part::Plug, true) => {
                ("into the hole of its frame, so that no card shows between".to_owned(), String::new())
            }
            (Part::Plug, false) => (place(), String::new()),
        };
        let part = thing.called(self.0.part);
        let held = if thing.is_stencil && self.0.part == Part::Frame {
            " Low-tack spray on its back, or a sticky mat, holds thin ribs best; spray into a box, away from flame, and let air in."
        } else {
            ""
        };
        Words {
            title: format!("Put on the {part} of the {}", thing.name),
            how: format!(
                "Stick the {part} down {how}.{counters}{held} Press its edges down with a bone folder through scrap card."
            ),
            care: None,
        }
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<MaskOn> {
        Some(MaskOn(Mask { thing: to(self.0.thing)?, ..self.0 }))
    }

    fn mask(&self) -> Option<Mask> {
        Some(self.0)
    }
}

/// A mask as it is told: the frame of the lamp.
pub(super) fn called(surface: &Surface, mask: Mask) -> String {
    let thing = surface.materials.masks.things.get(mask.thing);
    thing.map_or_else(String::new, |thing| format!("the {} of the {}", thing.called(mask.part), thing.name))
}
