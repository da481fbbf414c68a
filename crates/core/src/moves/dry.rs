//! Let it dry in air, or, in less time, with heat.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::heat::with_care;
use super::technique::{Technique, Words};
use crate::ink::measured;
use crate::learn::Figure;
use crate::learn::learned::told_from;
use crate::length::Units;
use crate::surface::Surface;

/// A wait until all of it is touch dry.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Dry {}

/// The seconds that the slowest ink on a surface takes, least and most.
fn dries_in(surface: &Surface) -> (u32, u32) {
    let materials = &surface.materials;
    if surface.is_soft() {
        return materials.dries_in(Figure::PasteDries);
    }
    let slowest =
        surface.inks().into_iter().map(|ink| materials.touch_dry(ink)).max_by_key(|(_, most)| *most);
    let (least, most) = slowest.unwrap_or_else(|| materials.dries_in(Figure::DyeDries));
    match surface.wet_film() {
        Some(_) => {
            let wet = materials.dries_in(Figure::WetCardDries);
            (least.max(wet.0), most.max(wet.1))
        }
        None => (least, most),
    }
}

impl Technique for Dry {
    fn act(&self, surface: &mut Surface) {
        surface.dry();
    }

    fn waits(&self, surface: &Surface) -> u32 {
        dries_in(surface).1
    }

    fn dries(&self) -> bool {
        true
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let in_air = told_from(dries_in(surface));
        if surface.is_soft() {
            let how = format!(
                "Paste is hard in {in_air} in air, flat, with nothing on it and no heat. Your own room may differ."
            );
            return Words { title: "Let the paste dry in air".into(), how, care: None };
        }
        if surface.keeps_heat_away().is_some() {
            let how = format!(
                "Touch dry in {in_air} in air, with no heat while a mask is on: it sets the glue hard, and curls it. \
                 Your own card and room may differ."
            );
            return Words { title: "Let it dry in air".into(), how, care: None };
        }
        let how = format!(
            "Touch dry in {in_air} in air; or {} seconds of a heat tool that has warmed up for {} \
             seconds away from the card. Your own card and room may differ.",
            surface.materials.seconds(Figure::Heat, None),
            measured::SECONDS_OF_WARM_UP
        );
        Words { title: "Let it dry".into(), how, care: Some(with_care(surface)) }
    }
}
