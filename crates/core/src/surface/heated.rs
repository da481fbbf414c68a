//! May a heat tool come near while a mask is on?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::masks::{Mask, Masks, Part};
use crate::shape::Use;

/// Over which masks a maker dries with heat: some do, others never.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(default, deny_unknown_fields)]
pub struct Heated {
    /// Over low-tack sheet and tape, whose glue heat can set hard.
    pub sheet: bool,
    /// Over stencils of film, which heat can warp.
    pub film: bool,
}

impl Heated {
    /// Whether it is neither.
    pub fn is_never(&self) -> bool {
        *self == Heated::default()
    }
}

impl Masks {
    /// Whether a mask is a stencil of film, and not low-tack sheet or tape.
    pub fn is_film(&self, mask: Mask) -> bool {
        let thing = self.things.get(mask.thing).filter(|_| mask.part == Part::Frame);
        thing.is_some_and(|thing| thing.used == Use::Stencil)
    }
}
