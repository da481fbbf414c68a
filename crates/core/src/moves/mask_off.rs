//! Lift a mask, slowly, once the ink at its edge is dry.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::Move;
use super::rules::{Breach, Mend, Stage, Unmet};
use super::technique::{Technique, Words};
use crate::ink::measured;
use crate::learn::Figure;
use crate::length::Units;
use crate::say::capital;
use crate::surface::masks::Masked;
use crate::surface::{Mask, Materials, Part, Surface};

/// A mask lifted.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct MaskOff(pub Mask);

impl Technique for MaskOff {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.thing < stage.things
    }

    fn act(&self, surface: &mut Surface) {
        surface.uncover(self.0);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        unmet(surface, self.0)
    }

    fn paced(&self, with: &Materials) -> Option<(Figure, f64)> {
        let moved_on = with.masks.is_moved_on(self.0);
        Some((Figure::MaskOff, if moved_on { measured::MOVED_ON } else { 1.0 }))
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        self.words_before(surface, &[], units)
    }

    fn words_before(&self, surface: &Surface, rest: &[Move], _: Units) -> Words {
        let masks = &surface.materials.masks;
        let what = masks.called(self.0);
        let own = &masks.things[self.0.thing];
        // A plug finds its place by the ink round it.
        let is_later = |is_so: &dyn Fn(&Masked) -> bool| {
            let mut later = rest.iter().filter_map(|m| match m {
                Move::MaskOn(on) if on.0.part == Part::Frame => masks.things.get(on.0.thing),
                _ => None,
            });
            self.0.part == Part::Frame && later.any(is_so)
        };
        let marks = if is_later(&|other| other.is_twin(own)) {
            "It goes back here later: mark two of its corners on the mat first. "
        } else if is_later(&|other| other.is_in_register(own)) {
            "Another of its set goes here in register: mark two of its corners on the mat first. "
        } else {
            ""
        };
        let how = format!(
            "{marks}Lift it slowly, folded back flat over itself; a wet mask tears. Keep it: it sticks a few times more."
        );
        Words { title: format!("Lift {what}"), how, care: None }
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<MaskOff> {
        Some(MaskOff(Mask { thing: to(self.0.thing)?, ..self.0 }))
    }

    fn mask(&self) -> Option<Mask> {
        Some(self.0)
    }
}

/// What is not as it must be before a mask is lifted.
pub(super) fn unmet(surface: &Surface, mask: Mask) -> Vec<Unmet> {
    let masks = &surface.materials.masks;
    let what = masks.called(mask);
    if !surface.masks.contains(&mask) {
        let says = format!("{} does not lie there: leave this out.", capital(&what));
        return vec![Unmet { breach: Breach::NoSuchMask, says, mend: Mend::LeaveOut }];
    }
    if let Some(upper) = masks.on_top_of(mask, &surface.masks).next_back() {
        let on_it = masks.called(upper);
        let says = format!("{} lies under {on_it}: lift that first.", capital(&what));
        return vec![Unmet { breach: Breach::UnderAnother, says, mend: Mend::UncoverFirst(upper) }];
    }
    let Some(edge) = masks.edge_of(mask) else { return Vec::new() };
    // Ink at its edge lies in what it leaves open right beside it.
    let beside = masks.plots.iter().filter(|plot| !plot.is_covered(mask) && plot.region.is_near(edge));
    let damp = beside.into_iter().find_map(|plot| surface.damp_on(plot));
    let unmet = damp.map(|damp| {
        let damp = damp.called(&surface.materials);
        let says = format!(
            "{damp} still damp along the edge of {what}: lifted now, it bleeds under and the card tears. Let it dry first."
        );
        Unmet { breach: Breach::LiftedDamp, says, mend: Mend::DryFirst }
    });
    unmet.into_iter().collect()
}
