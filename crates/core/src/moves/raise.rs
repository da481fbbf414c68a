//! Raise a pattern by dry embossing: the card goes through the machine in a folder, and the pattern stands up from it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Stage, Unmet};
use super::technique::{Technique, Words};
use super::unset;
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Materials, Surface};

/// A pattern raised.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Raise {
    /// The thing whose pattern it is, by its place from front to back, from 0.
    pub thing: usize,
}

impl Technique for Raise {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.thing < stage.things
    }

    fn act(&self, surface: &mut Surface) {
        surface.raise(self.thing);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        if let Some(mask) = surface.masks.last() {
            let says = "A mask lies on it: it would be pressed into the card. Lift it first.".into();
            return vec![Unmet { breach: Breach::RaisedUnready, says, mend: Mend::LiftFirst(*mask) }];
        }
        if let Some(squashed) = unset::squashed(surface) {
            return vec![squashed];
        }
        if surface.is_damp() {
            let says =
                "The card is still damp: it would stick to the folder and crack along the pattern. Let it dry first."
                    .into();
            return vec![Unmet { breach: Breach::RaisedUnready, says, mend: Mend::DryFirst }];
        }
        Vec::new()
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Raise, 1.0))
    }

    fn made(&self) -> Option<&'static str> {
        Some("texture")
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let name = surface.materials.masks.things.get(self.thing).map_or("", |thing| thing.name.as_str());
        Words {
            title: format!("Raise the {name} in the folder"),
            how: "Lay the card in the embossing folder, its front to the side that presses down, and run it through. Try the \
                  pressure on scrap card first: machines differ, and one or two shims of card may be needed."
                .into(),
            care: Some("Keep fingers off the rollers; your machine's own rules come first.".into()),
        }
    }

    fn stays(&self) -> bool {
        true
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Raise> {
        Some(Raise { thing: to(self.thing)? })
    }
}
