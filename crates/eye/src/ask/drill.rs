//! How well was a strip laid that was practised on?

use rosy_core::Panel;
use rosy_core::drill::Drill;
use rosy_core::length::Units;
use rosy_core::practice::Figured;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::inspect::{FlawSeen, InspectAsked, InspectError, InspectSeen};
use crate::phone::Phone;
use crate::picture::Picture;

/// A photo of a strip.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct DrillAsked {
    /// The photo, in base64: JPEG, PNG, WebP or GIF.
    #[serde(default)]
    pub picture: String,
    /// The strip as `strip` plans it, all of its moves made.
    pub strip: Panel,
    /// Its corners in the photo, in pixels: its left and right above, its left and right below. They are found where they are not told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub corners: Option<[[f64; 2]; 4]>,
    /// What is known of the phone, as photos of swatches told it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub phone: Option<Phone>,
    /// The units of the measures in what is said.
    #[serde(default)]
    pub units: Units,
}

/// Why a strip is not scored.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum DrillError {
    /// A panel that nothing is practised on.
    #[error("strip: this panel is no strip to practise on: plan one with `strip`")]
    None,
    /// None of its figures can be seen.
    #[error("too little of the strip is seen to score it: photograph it from nearer, whole and by a window")]
    Unseen,
    /// It cannot be read.
    #[error(transparent)]
    Photo(#[from] InspectError),
}

/// How well it was laid.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DrillSeen {
    /// What was practised.
    pub drill: Drill,
    /// 0 to 100: its weakest figure.
    pub score: u8,
    /// The figures it is scored by, the weakest first.
    pub figures: Vec<Figured>,
    /// What else is not as planned.
    pub findings: Vec<FlawSeen>,
    /// The strip's corners in the photo, in pixels: its left and right above, its left and right below.
    pub corners: [[f64; 2]; 4],
}

impl DrillAsked {
    /// Scores it.
    ///
    /// # Errors
    /// A [`DrillError`] with the remedy.
    pub fn answer(&self, picture: Picture) -> Result<DrillSeen, DrillError> {
        let asked = InspectAsked {
            picture: String::new(),
            panel: self.strip.clone(),
            moves: None,
            corners: self.corners,
            phone: self.phone.clone(),
            units: self.units,
        };
        let drill = self.strip.practice.ok_or(DrillError::None)?;
        let InspectSeen { findings, corners, figures, .. } = asked.answer(picture)?;
        let score = figures.first().ok_or(DrillError::Unseen)?.score;
        Ok(DrillSeen { drill, score, figures, findings, corners })
    }
}
