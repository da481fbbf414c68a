//! Wipe the brush on a dry towel, so that the next pad and the next ink stay clean.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::Stage;
use super::technique::{Technique, Words};
use crate::ink::measured;
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::brushes::shift_in_words;
use crate::surface::{Materials, Surface};

/// The brush in hand wiped.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Wipe {
    /// The ink it is wiped for, by its place in the panel's list.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub before: Option<usize>,
    /// How often, on a clean part of the towel each time.
    #[serde(default = "once", skip_serializing_if = "is_once")]
    pub times: u8,
}

fn once() -> u8 {
    1
}

fn is_once(times: &u8) -> bool {
    *times == 1
}

impl Technique for Wipe {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.before.is_none_or(|ink| ink < stage.inks) && (1..=measured::MOST_WIPES).contains(&self.times)
    }

    fn act(&self, surface: &mut Surface) {
        surface.brushes.wipe(self.times);
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Wipe, f64::from(self.times)))
    }

    fn readies(&self) -> bool {
        true
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let (materials, carried) = (&surface.materials, surface.brushes.carried());
        let name = |ink: usize| &materials.inks[ink].name;
        let kind = materials.tool.kind.short();
        let often = match self.times {
            1 => "on a dry towel",
            2 => "twice on a dry towel, a clean part of it each time",
            _ => "three times on a dry towel, a clean part of it each time",
        };
        let off = match self.before {
            Some(ink) => carried.worst_for(materials, ink).map(|off| (off, Some(ink))),
            None => carried.most().map(|off| (off, None)),
        };
        let how = match off {
            Some((off, Some(ink))) => format!(
                "Wipe {} off the {kind} {often} before {}: left on, it would make a light pass of it {}.",
                name(off),
                name(ink),
                shift_in_words(carried.shift(materials, ink, 1))
            ),
            Some((off, None)) => format!("Wipe {} off the {kind} {often}.", name(off)),
            None => format!("Wipe the {kind} {often}."),
        };
        Words { title: format!("Wipe the {kind}"), how, care: None }
    }

    fn is_step(&self) -> bool {
        false
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Wipe> {
        Some(Wipe { before: self.before.and_then(to), ..*self })
    }
}
