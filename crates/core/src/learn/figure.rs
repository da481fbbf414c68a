//! Which figures can be learned, and what does the field guide give for them?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::estimate::Prior;
use crate::ink::{Kind, measured};

/// A time that differs from maker to maker.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Figure {
    /// Until dye is touch dry in air.
    DyeDries,
    /// Until oxide is.
    OxideDries,
    /// Until pigment is.
    PigmentDries,
    /// Until a card that water stood on is.
    WetCardDries,
    /// Until paste is hard.
    PasteDries,
    /// One light pass over a field.
    LightPass,
    /// One wipe of a brush.
    Wipe,
    /// A mask put on.
    MaskOn,
    /// A mask lifted.
    MaskOff,
    /// A panel dried with heat, the tool warm.
    Heat,
}

/// How unlike makers, rooms and cards are, as the standard deviation of the logarithm of a time (chosen: two makers in three
/// lie between two thirds and one and a half of the guide's figure; drying, which goes by the room, twice as far).
const HANDS: f64 = 0.4;
const DRYING: f64 = 0.7;

impl Figure {
    /// All of them.
    pub const ALL: [Figure; 10] = [
        Figure::DyeDries,
        Figure::OxideDries,
        Figure::PigmentDries,
        Figure::WetCardDries,
        Figure::PasteDries,
        Figure::LightPass,
        Figure::Wipe,
        Figure::MaskOn,
        Figure::MaskOff,
        Figure::Heat,
    ];

    /// The figure of an ink's drying.
    pub const fn drying(kind: Kind) -> Figure {
        match kind {
            Kind::Dye => Figure::DyeDries,
            Kind::Oxide => Figure::OxideDries,
            Kind::Pigment => Figure::PigmentDries,
        }
    }

    /// What it is, in the maker's words.
    pub const fn words(self) -> &'static str {
        match self {
            Figure::DyeDries => "dye until it is touch dry",
            Figure::OxideDries => "oxide until it is touch dry",
            Figure::PigmentDries => "white until it is touch dry",
            Figure::WetCardDries => "wet card until it is touch dry",
            Figure::PasteDries => "paste until it is hard",
            Figure::LightPass => "one light pass",
            Figure::Wipe => "one wipe of the brush",
            Figure::MaskOn => "putting a mask on",
            Figure::MaskOff => "lifting a mask",
            Figure::Heat => "drying a card with heat",
        }
    }

    /// What the field guide gives, in seconds: in the middle between its least and its most, as times go.
    pub fn guide(self) -> f64 {
        let between = |(least, most): (u32, u32)| 60.0 * (f64::from(least) * f64::from(most)).sqrt();
        match self {
            Figure::DyeDries => between(measured::touch_dry_minutes(Kind::Dye)),
            Figure::OxideDries => between(measured::touch_dry_minutes(Kind::Oxide)),
            Figure::PigmentDries => between(measured::touch_dry_minutes(Kind::Pigment)),
            Figure::WetCardDries => between(measured::WET_MINUTES),
            Figure::PasteDries => between(measured::PASTE_MINUTES),
            Figure::LightPass => f64::from(measured::SECONDS_A_VEIL),
            Figure::Wipe => f64::from(measured::SECONDS_A_WIPE),
            Figure::MaskOn => f64::from(measured::SECONDS_A_MASK_ON),
            Figure::MaskOff => f64::from(measured::SECONDS_A_MASK_OFF),
            Figure::Heat => f64::from(measured::SECONDS_OF_HEAT),
        }
    }

    /// What is known of it before anything is logged.
    pub fn prior(self) -> Prior {
        let dries = matches!(
            self,
            Figure::DyeDries
                | Figure::OxideDries
                | Figure::PigmentDries
                | Figure::WetCardDries
                | Figure::PasteDries
        );
        Prior { middle: self.guide().ln(), wide: if dries { DRYING } else { HANDS } }
    }
}
