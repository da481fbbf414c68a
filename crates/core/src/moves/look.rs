//! Look, and stop early: what looks too strong wet dries softer.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::technique::{Technique, Words};
use crate::colour::Illuminant;
use crate::ink::{Kind, Name};
use crate::length::Units;
use crate::surface::{Moment, Surface, lattice::most_of};

/// A pause to judge the panel as it will be when dry.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Look {}

impl Technique for Look {
    fn act(&self, _: &mut Surface) {}

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let kinds = surface.inks().into_iter().map(|ink| surface.materials.inks[ink].kind);
        let dries = match kinds.max().unwrap_or_default() {
            Kind::Dye => "Dye dries a little lighter and softer",
            Kind::Oxide => "Oxide dries with a soft, chalky bloom",
            Kind::Pigment => "Pigment stays wet long and hardly changes",
        };
        let mut how = format!("{dries}: what looks too strong now will not when it is dry.");
        if let Some((ink, lighter)) = dries_most(surface) {
            how.push_str(&format!(" {ink} changes most: about {lighter:.0} in a hundred lighter."));
        }
        Words { title: "Look, and stop early".into(), how, care: None }
    }
}

/// The ink whose own film, as strong as it lies anywhere, dries to the lightest difference in L*, where it can be seen.
fn dries_most(surface: &Surface) -> Option<(&Name, f64)> {
    let materials = &surface.materials;
    let lightness = |ink: usize, look: Moment| {
        let amount = most_of(surface, ink) / materials.full_veils(ink);
        let mut stack = crate::ink::Stack::on(&materials.card);
        let films = if look == Moment::Dry { &materials.films } else { &materials.wet_films };
        stack.lay(ink, &films[ink], amount);
        stack.lab(Illuminant::D65).l
    };
    let lighter = |ink: usize| lightness(ink, Moment::Dry) - lightness(ink, Moment::Now);
    let drying = surface.inks().into_iter().map(|ink| (&materials.inks[ink].name, lighter(ink)));
    drying.filter(|(_, lighter)| *lighter >= 1.0).max_by(|a, b| a.1.total_cmp(&b.1))
}
