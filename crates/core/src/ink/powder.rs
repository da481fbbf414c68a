//! Embossing powder: what does it make of what lies under it?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::colour::Lab;

/// A powder that is melted to a raised line.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Powder {
    /// What lies under it shows.
    #[default]
    Clear,
    /// White, and covers.
    White,
    /// A warm metal, and covers.
    Metallic,
}

impl Powder {
    /// All three.
    pub const ALL: [Powder; 3] = [Powder::Clear, Powder::White, Powder::Metallic];

    /// Its words.
    pub const fn words(self) -> &'static str {
        match self {
            Powder::Clear => "clear powder",
            Powder::White => "white powder",
            Powder::Metallic => "metallic powder",
        }
    }

    /// Its own colour, where it covers (chosen; under D65).
    pub fn covers_with(self) -> Option<Lab> {
        match self {
            Powder::Clear => None,
            Powder::White => Some([95.0, -0.4, 1.2].into()),
            Powder::Metallic => Some([68.0, 5.0, 34.0].into()),
        }
    }
}
