//! Mist the mat until the ink on it beads.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::Stage;
use super::technique::{Technique, Words};
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Materials, Surface};
use crate::water::bench::{Doing, MOST_MISTS};

/// Mist over the mat.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct MistMat {
    /// How often the bottle is pumped.
    pub pumps: u8,
}

/// So many pumps, in words.
pub(super) fn pumps(n: u8) -> String {
    if n == 1 { "1 pump".into() } else { format!("{n} pumps") }
}

impl Technique for MistMat {
    fn is_possible(&self, _: &Stage) -> bool {
        (1..=MOST_MISTS).contains(&self.pumps)
    }

    fn act(&self, surface: &mut Surface) {
        surface.mat.deeds.push(Doing::Mist(self.pumps));
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Mist, f64::from(self.pumps)))
    }

    fn is_on_mat(&self) -> bool {
        true
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let again = surface.mat.deeds.iter().any(|deed| matches!(deed, Doing::Mist(_)));
        let title = if again { "Mist the mat again" } else { "Mist the mat" };
        let how = format!(
            "{} from above, a hand and a half away, until the ink stands in beads. The card stays clear of it.",
            crate::say::capital(&pumps(self.pumps))
        );
        Words { title: title.into(), how, care: None }
    }

    fn wets(&self) -> bool {
        true
    }
}
