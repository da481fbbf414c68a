//! Which colour is seen at a place, whatever masks and water have done there?

use std::sync::Arc;

use crate::colour::{Illuminant, Lab};
use crate::surface::{Area, Surface};
use crate::water::Effect;

/// A surface taken apart once, to be looked at in many places.
pub struct Sight {
    areas: Vec<(Area, Vec<Arc<Effect>>)>,
}

impl Sight {
    /// Of a surface.
    pub fn of(surface: &Surface) -> Sight {
        let with_effects = |area: Area| {
            let effects = area.surface.effects();
            (area, effects)
        };
        Sight { areas: surface.areas().into_iter().map(with_effects).collect() }
    }

    /// The colour at a place, in millimetres from the left and top edges; nothing beside the card.
    pub fn lab(&self, x: f64, y: f64) -> Option<Lab> {
        let is_here = |(area, _): &&(Area, _)| area.region.as_ref().is_none_or(|region| region.has([x, y]));
        let (area, effects) = self.areas.iter().find(is_here)?;
        let here = &area.surface;
        Some(if effects.is_empty() {
            here.stack(&here.veils_at(&here.spot(x, y)), |_| 1.0).lab(Illuminant::D65)
        } else {
            here.lab_at((x, y), effects)
        })
    }
}
