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
    /// Gold, and covers.
    Metallic,
    /// Silver, and covers.
    Silver,
    /// Copper, and covers.
    Copper,
}

impl Powder {
    /// All of them.
    pub const ALL: [Powder; 5] =
        [Powder::Clear, Powder::White, Powder::Metallic, Powder::Silver, Powder::Copper];

    /// Its words.
    pub const fn words(self) -> &'static str {
        match self {
            Powder::Clear => "clear powder",
            Powder::White => "white powder",
            Powder::Metallic => "gold powder",
            Powder::Silver => "silver powder",
            Powder::Copper => "copper powder",
        }
    }

    /// Its own colour, where it covers (chosen; under D65).
    pub fn covers_with(self) -> Option<Lab> {
        match self {
            Powder::Clear => None,
            Powder::White => Some([95.0, -0.4, 1.2].into()),
            Powder::Metallic => Some([68.0, 5.0, 34.0].into()),
            Powder::Silver => Some([72.0, -0.3, 0.8].into()),
            Powder::Copper => Some([56.0, 22.0, 28.0].into()),
        }
    }

    /// Whether it shines as metal does, by light thrown back in its own colour and not scattered.
    pub const fn is_metal(self) -> bool {
        matches!(self, Powder::Metallic | Powder::Silver | Powder::Copper)
    }
}
