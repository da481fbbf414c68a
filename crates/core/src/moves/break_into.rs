//! Break one ink gently into another with what is left on the brush: a breath of the one past where they meet, and no
//! loading again.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::laying::place_of;
use super::rules::{Breach, Mend, Stage, Unmet};
use super::technique::{Technique, Words};
use crate::blend::{Reach, Way};
use crate::length::{Length, Units};
use crate::say::capital;
use crate::surface::{Materials, Surface};

/// What is left on a brush, spent.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct BreakInto {
    /// The ink that is left on it, by its place in the panel's list, from 0.
    pub ink: usize,
    /// The ink it is broken into.
    pub over: usize,
    /// The thing it is laid on; the ground where none is named.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on: Option<usize>,
    /// The way its measures are taken along.
    pub way: Way,
    /// Where.
    pub reach: Reach,
}

impl Technique for BreakInto {
    fn is_possible(&self, stage: &Stage) -> bool {
        let Some(size) = stage.size_of(self.on) else { return false };
        let Reach { from, to } = self.reach;
        self.ink.max(self.over) < stage.inks
            && self.way.check(size).is_ok()
            && Length::ZERO <= from
            && from < to
            && to <= self.way.span(size)
    }

    fn act(&self, surface: &mut Surface) {
        surface.spend(self.ink, self.on, self.way, self.reach);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        if surface.brushes.carried().of(self.ink) > 0.0 {
            return Vec::new();
        }
        let name = &surface.materials.inks[self.ink].name;
        let says = format!(
            "There is no {name} left on the brush in hand: leave this out, or do it right after {name}."
        );
        vec![Unmet { breach: Breach::BareBrush, says, mend: Mend::LeaveOut }]
    }

    fn hands(&self, with: &Materials) -> u32 {
        with.pass_seconds(self.ink, self.on, self.way, &[self.reach])
    }

    fn made(&self) -> Option<&'static str> {
        Some("blended")
    }

    fn spends(&self) -> bool {
        true
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        let [ink, over] = [self.ink, self.over].map(|ink| &surface.materials.inks[ink].name);
        let place = place_of((self.on, self.way, &[self.reach]), surface, units);
        Words {
            title: format!("Break {over} gently into {ink}"),
            how: format!(
                "{}. What is left on the brush is enough: do not load it again, and hardly touch the card.",
                capital(&place)
            ),
            care: None,
        }
    }

    fn stays(&self) -> bool {
        true
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<BreakInto> {
        let on = match self.on {
            Some(thing) => Some(to(thing)?),
            None => None,
        };
        Some(BreakInto { on, ..*self })
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<BreakInto> {
        Some(BreakInto { ink: to(self.ink)?, over: to(self.over)?, ..*self })
    }
}
