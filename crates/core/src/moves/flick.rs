//! Flick or place flecks: of water, of thinned ink or paint, of mica.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Stage, Unmet};
use super::technique::{Technique, Words};
use super::wetting;
use crate::ink::Kind;
use crate::length::Units;
use crate::say::capital;
use crate::surface::{Materials, Surface};
use crate::water::flecks::FlickedFrom;
use crate::water::{Flecks, Placed, Thrown, Wet};

/// Flecks flicked and placed.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Flick(pub Flecks);

/// Seconds to load a brush and flick, and to place one (chosen).
const SECONDS: u32 = 45;
const SECONDS_A_PLACED: u32 = 4;
/// Seconds that water needs to loosen what it stands on (field: half a minute).
const SECONDS_OF_WATER: u32 = 30;
/// Flecks that one flick of a loaded brush throws, and of the edge of a block (chosen).
const A_FLICK: (u16, u16) = (45, 20);
/// Most places that are told one by one.
const TOLD: usize = 6;

impl Technique for Flick {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.is_possible(stage.inks, stage.size)
    }

    fn act(&self, surface: &mut Surface) {
        surface.wet(Wet::Flicked(self.0.clone()));
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        wetting::unmet(surface, &Wet::Flicked(self.0.clone()))
    }

    fn hands(&self, _: &Materials) -> u32 {
        let flicked = if self.0.count > 0 { SECONDS } else { 0 };
        flicked + SECONDS_A_PLACED * self.0.placed.len() as u32
    }

    fn waits(&self, _: &Surface) -> u32 {
        if self.0.of == Thrown::Water { SECONDS_OF_WATER } else { 0 }
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        let flecks = &self.0;
        let name = match flecks.of {
            Thrown::Water => "water".to_owned(),
            Thrown::Mica => "mica".to_owned(),
            Thrown::Ink(ink) => surface.materials.inks[ink].name.to_string(),
        };
        let thinned = match (flecks.of, flecks.water) {
            (Thrown::Water, _) => "Load a small brush with clean water".to_owned(),
            (_, 0) => format!("Take up {name} as it is"),
            (_, 1) => format!("Mix {name} with as much water: one drop to one drop"),
            (_, parts) => format!("Mix 1 drop of {name} with {parts} of water"),
        };
        let (a_flick, from) = match flecks.from {
            FlickedFrom::Brush => (A_FLICK.0, "from a hand's width away"),
            FlickedFrom::Block => (
                A_FLICK.1,
                "by drawing a finger over the edge of a block that you have spread it on, towards yourself",
            ),
        };
        let flicks = (flecks.count / a_flick).max(1);
        let times = if flicks == 1 { "once".into() } else { format!("about {flicks} times") };
        let flicked = (flecks.count > 0).then(|| {
            format!(
                "{thinned}; try it on scrap, then flick {times} {from}, for about {} flecks of {} across.",
                flecks.count,
                (flecks.median * 2).as_thickness(units)
            )
        });
        let placed = match flecks.placed.as_slice() {
            [] => None,
            some => {
                let tool = match flecks.of {
                    Thrown::Water => "the tip of the brush",
                    _ if flecks.by_pen => "a pen, straight from its tip",
                    _ => "the tip of a fine brush",
                };
                let at = |placed: &Placed| {
                    format!(
                        "{} from the left and {} from the top",
                        placed.at.left.said(units),
                        placed.at.top.said(units)
                    )
                };
                let told: Vec<String> = some.iter().take(TOLD).map(at).collect();
                let more = some.len().saturating_sub(TOLD);
                let more =
                    if more > 0 { format!("; {more} more as the picture shows") } else { String::new() };
                Some(format!("Place {} with {tool}: {}{more}.", some.len(), told.join("; ")))
            }
        };
        let clear = (!flecks.clear.is_empty())
            .then(|| "Scrap card lies over what stays clear, as the picture shows.".to_owned());
        let end = match flecks.of {
            Thrown::Water => "Wait half a minute.",
            Thrown::Ink(ink) if surface.materials.inks[ink].kind == Kind::Pigment => {
                "Do not touch it before it is dry: paint stays wet long."
            }
            _ => "Do not touch it before it is dry.",
        };
        let told: Vec<String> =
            clear.into_iter().chain(flicked).chain(placed).chain([end.to_owned()]).collect();
        let title = if flecks.count == 0 { "Place flecks of" } else { "Flick" };
        Words { title: format!("{title} {name}"), how: capital(&told.join(" ")), care: None }
    }

    fn wets(&self) -> bool {
        true
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Flick> {
        let of = match self.0.of {
            Thrown::Ink(ink) => Thrown::Ink(to(ink)?),
            of => of,
        };
        Some(Flick(Flecks { of, ..self.0.clone() }))
    }
}
