//! Wipe the ink off what is sealed, with a dry cloth.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::technique::{Technique, Words};
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Materials, Surface};

/// A dry cloth over what is sealed.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Buff {}

impl Technique for Buff {
    fn act(&self, _: &mut Surface) {}

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Buff, 1.0))
    }

    fn words(&self, _: &Surface, _: Units) -> Words {
        Words {
            title: "Buff what is sealed".into(),
            how: "With a dry cloth, lightly: the ink that stands on it comes off, and it shines.".into(),
            care: None,
        }
    }
}
