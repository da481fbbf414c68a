//! Dab a pad on the mat, for a press.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::Stage;
use super::technique::{Technique, Words};
use crate::length::Units;
use crate::surface::{Materials, Surface};
use crate::water::Patch;
use crate::water::bench::MOST_DABS;

/// A patch of ink dabbed on the mat.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Dab(pub Patch);

/// Seconds a dab takes (chosen).
const SECONDS: u32 = 4;

impl Technique for Dab {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.ink < stage.inks && self.0.lies_under(stage.size) && (1..=MOST_DABS).contains(&self.0.dabs)
    }

    fn act(&self, surface: &mut Surface) {
        let kind = surface.materials.inks[self.0.ink].kind;
        surface.mat.dab(self.0, kind);
    }

    fn hands(&self, _: &Materials) -> u32 {
        SECONDS * u32::from(self.0.dabs)
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
