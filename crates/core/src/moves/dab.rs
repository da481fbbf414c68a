//! Dab a pad on the mat, for a press.

use std::f64::consts::PI;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::Stage;
use super::technique::{Takes, Technique, Words};
use super::telling::{Telling, times};
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Materials, Surface};
use crate::water::Patch;
use crate::water::bench::{A_DAB, MOST_DABS};

/// A patch of ink dabbed on the mat.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Dab(pub Patch);

impl Dab {
    /// Tells it in a sentence.
    pub fn tell(&mut self, told: &mut Telling) {
        told.ink("ink", "The ink of this patch", &mut self.0.ink);
        told.say(", dabbed ");
        told.count("dabs", "How often the pad is dabbed", &mut self.0.dabs);
        told.say(format!("{}.", times(self.0.dabs.into(), "time", "times")));
    }

    /// Tells where it lies.
    pub fn tell_more(&mut self, told: &mut Telling) {
        let Patch { at, across, down, .. } = &mut self.0;
        told.say("Its middle lies ");
        told.length("left", "Its middle from the left", &mut at.left);
        told.say(" from the left and ");
        told.length("top", "Its middle from the top", &mut at.top);
        told.say(" from the top; it reaches ");
        told.length("across", "How far it reaches to each side", across);
        told.say(" out to each side and ");
        told.length("down", "How far it reaches up and down", down);
        told.say(" up and down. ");
    }
}

impl Technique for Dab {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.ink < stage.inks && self.0.lies_under(stage.size) && (1..=MOST_DABS).contains(&self.0.dabs)
    }

    fn act(&self, surface: &mut Surface) {
        let kind = surface.materials.inks[self.0.ink].kind;
        surface.mat.dab(self.0, kind);
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Dab, f64::from(self.0.dabs)))
    }

    fn is_on_mat(&self) -> bool {
        true
    }

    fn takes(&self, _: &Surface) -> Vec<Takes> {
        let Patch { ink, across, down, dabs, .. } = self.0;
        vec![Takes::Ink(ink, PI * across.mm() * down.mm() * A_DAB * f64::from(dabs))]
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        let Patch { ink, at, across, down, dabs } = self.0;
        let name = &surface.materials.inks[ink].name;
        let said = |length: crate::Length| length.said(units);
        let times = if dabs == 1 { "once".into() } else { format!("{dabs} times") };
        let reach = if across == down {
            format!("about {} out from its middle", said(across))
        } else {
            format!("about {} out to each side and {} up and down", said(across), said(down))
        };
        let how = format!(
            "Dab the pad {times} on the work mat: the patch reaches {reach}, which lies {} from the left and {} from the \
             top of where the card comes down. Leave bare mat between it and the next.",
            said(at.left),
            said(at.top)
        );
        Words { title: format!("{name} on the mat"), how, care: None }
    }

    fn wets(&self) -> bool {
        true
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Dab> {
        Some(Dab(Patch { ink: to(self.0.ink)?, ..self.0 }))
    }
}
