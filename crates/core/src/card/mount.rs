//! How is a layer held to the one beneath?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::length::{Length, Units};

/// How a layer is held to the one beneath.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "lowercase")]
pub enum Mount {
    /// Glue or thin tape: no thickness to speak of.
    #[default]
    Glue,
    /// Foam tape: its thickness, and how many layers of it.
    Foam {
        /// Thickness of one layer.
        #[serde(with = "crate::length::thickness")]
        #[schemars(with = "Length")]
        thick: Length,
        /// Layers of foam, 1 or 2.
        layers: u8,
    },
}

impl Mount {
    /// How it is held, in words.
    pub fn words(self, units: Units) -> String {
        match self {
            Mount::Glue => "glued".to_owned(),
            Mount::Foam { thick, layers: 1 } => format!("on foam of {}", thick.as_thickness(units)),
            Mount::Foam { thick, layers } => {
                format!("on {layers} layers of foam of {}", thick.as_thickness(units))
            }
        }
    }

    /// How far it raises what it holds.
    pub fn raises(self) -> Length {
        match self {
            Mount::Glue => Length::ZERO,
            Mount::Foam { thick, layers } => thick * i64::from(layers),
        }
    }
}
