//! Back with the ink before, over the place where it meets the one just laid: the join should look like a colour of its own,
//! not like one ink on top of the other.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::laying::{Laying, light_passes};
use super::rules::{Stage, Unmet};
use super::technique::{Technique, Words};
use crate::blend::Reach;
use crate::learn::Figure;
use crate::length::Units;
use crate::say::capital;
use crate::surface::{Materials, Surface};

/// The ink before, once more over a meeting.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Back(pub Laying);

impl Technique for Back {
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

    fn join(&self) -> Option<&Laying> {
        Some(&self.0)
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        let name = &surface.materials.inks[self.0.ink].name;
        let place = capital(&self.0.place_on(surface, units));
        Words {
            title: format!("Back with {name}: {}", light_passes(self.0.veils.len())),
            how: format!("{place}. Work the join until it looks like a colour of its own."),
            care: None,
        }
    }

    fn laying(&self) -> Option<&Laying> {
        Some(&self.0)
    }

    fn relaid(&self, veils: Vec<Reach>) -> Option<Back> {
        Some(Back(Laying { veils, ..self.0.clone() }))
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Back> {
        self.0.with_things_moved(to).map(Back)
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Back> {
        self.0.with_inks_moved(to).map(Back)
    }
}
