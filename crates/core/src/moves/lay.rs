//! Lay an ink: load, dab off, come on from off the card, and work it in with light circles.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::laying::{Laying, light_passes};
use super::rules::{Stage, Unmet};
use super::technique::{Technique, Words};
use crate::blend::Reach;
use crate::ink::Kind;
use crate::learn::Figure;
use crate::length::Units;
use crate::say::capital;
use crate::surface::{Mask, Materials, Part, Surface};

/// An ink laid for the first time, or once more to deepen it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Lay(pub Laying);

impl Technique for Lay {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.is_possible(stage)
    }

    fn act(&self, surface: &mut Surface) {
        surface.lay(self.0.ink, self.0.on, self.0.way, &self.0.veils);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        self.0.unmet(surface)
    }

    fn paced(&self, with: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::LightPass, self.0.work(with)))
    }

    fn made(&self) -> Option<&'static str> {
        Some("blended")
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        let Laying { ink, on, way, veils, .. } = &self.0;
        let (name, passes) = (&surface.materials.inks[*ink].name, light_passes(veils.len()));
        let deepens = surface.has(*ink, Some((*on, *way)));
        let title =
            if deepens { format!("Deepen with {name}: {passes}") } else { format!("{name}: {passes}") };
        let mut how = capital(&self.0.place_on(surface, units)) + ".";
        if let Some(placed) = way.placed(units).filter(|_| surface.run_along(*on, *way).is_none()) {
            how.push_str(&format!(" {}.", capital(&placed)));
        }
        let skims = on.is_some_and(|thing| surface.raised.contains(&thing));
        if skims {
            how.push_str(
                " A flat brush, nearly dry, held low: skim what stands up, and leave the rest as it is.",
            );
        }
        let is_pigment = surface.materials.inks[*ink].kind == Kind::Pigment;
        if is_pigment {
            how.push_str(" Put a little of it on the mat and take it up from there, never from the pad.");
        }
        if !surface.has(*ink, None) && !is_pigment && !skims {
            let masked = on.and_then(|thing| surface.materials.masks.things.get(thing).zip(Some(thing)));
            let is_framed = |thing| surface.masks.contains(&Mask { thing, part: Part::Frame });
            let from = match masked {
                None => "come on from off the card".to_owned(),
                Some((masked, thing)) if is_framed(thing) => {
                    format!("come on from the {}", masked.called(Part::Frame))
                }
                Some(_) => "come on beside the edge".to_owned(),
            };
            how.push_str(&format!(
                " Load, dab most of it off, {from} in small circles with hardly any weight."
            ));
        }
        if veils.windows(2).any(|pair| pair[0] != pair[1]) {
            how.push_str(" Let each pass fade out a little before the last.");
        }
        Words { title, how, care: None }
    }

    fn laying(&self) -> Option<&Laying> {
        Some(&self.0)
    }

    fn relaid(&self, veils: Vec<Reach>) -> Option<Lay> {
        Some(Lay(Laying { veils, ..self.0.clone() }))
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Lay> {
        self.0.with_things_moved(to).map(Lay)
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Lay> {
        self.0.with_inks_moved(to).map(Lay)
    }
}
