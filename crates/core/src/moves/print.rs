//! Print a thing by its stamp: ink from its pad, pressed straight on the card, where nothing has to lie round it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::laying::Laying;
use super::rules::{Stage, Unmet};
use super::stamp::{hands_off, too_damp};
use super::technique::{Technique, Words};
use super::unset::{hot, squashed};
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Materials, Surface};

/// A stamp inked and pressed where its thing stands.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Print(pub Laying);

/// How it is pressed, by how much of its ink is wanted.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Strength {
    /// Off on scrap first: the second print is pale.
    Pale,
    Once,
    /// And once more on the same place.
    Twice,
}

/// Shares of an ink's full swatch up to which a print is pale, and up to which one is enough (chosen: rubber brings half of it).
const PALE: f64 = 0.35;
const ONE: f64 = 0.7;

impl Print {
    fn strength(&self, with: &Materials) -> Strength {
        match self.0.veils.len() as f64 / with.full_veils(self.0.ink) {
            share if share <= PALE => Strength::Pale,
            share if share <= ONE => Strength::Once,
            _ => Strength::Twice,
        }
    }

    fn name<'a>(&self, surface: &'a Surface) -> &'a str {
        let thing = self.0.on.and_then(|thing| surface.materials.masks.things.get(thing));
        thing.map_or("", |thing| thing.name.as_str())
    }
}

impl Technique for Print {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.on.is_some() && self.0.is_possible(stage)
    }

    fn act(&self, surface: &mut Surface) {
        surface.print(self.0.ink, self.0.on, self.0.way, &self.0.veils);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        if let Some(unmet) = squashed(surface).or_else(|| hot(surface)) {
            return vec![unmet];
        }
        let is_damp = surface.wet_film().is_some()
            || surface.coats.iter().any(|coat| !coat.is_dry && !surface.is_on(coat.run, self.0.on));
        is_damp.then(|| too_damp(self.name(surface))).into_iter().collect()
    }

    fn paced(&self, with: &Materials) -> Option<(Figure, f64)> {
        let times = if self.strength(with) == Strength::Once { 1.0 } else { 2.0 };
        Some((Figure::Print, times))
    }

    fn made(&self) -> Option<&'static str> {
        Some("stamped")
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let (name, ink) = (self.name(surface), &surface.materials.inks[self.0.ink]);
        let pressed = match self.strength(&surface.materials) {
            Strength::Pale => "Press it off on scrap once, and then on the card: the second print is pale.",
            Strength::Once => "Press it down once where the picture shows it.",
            Strength::Twice => {
                "Press it down where the picture shows it; leave it in its press, ink it again and press it once more on the same \
                 place."
            }
        };
        let wait = hands_off(ink.kind);
        let how = format!(
            "Lay scrap paper under the card. Tap the pad of {} on the stamp until it is even; rub a new stamp with a finger first. \
             {pressed} Straight down and straight up. {wait} Wipe the stamp clean before the ink dries on it.",
            ink.name
        );
        Words { title: format!("Stamp the {name} in {}", ink.name), how, care: None }
    }

    fn laying(&self) -> Option<&Laying> {
        Some(&self.0)
    }

    fn brushed(&self) -> Option<&Laying> {
        None
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Print> {
        self.0.with_inks_moved(to).map(Print)
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Print> {
        self.0.with_things_moved(to).map(Print)
    }
}
