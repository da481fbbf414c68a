//! Dye, oxide or pigment: how does it cover, dry and bloom?

use std::fmt;
use std::str::FromStr;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What an ink is made of, which decides how its film behaves.
#[derive(
    Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema,
)]
#[serde(rename_all = "lowercase")]
pub enum Kind {
    /// Transparent; quick to dry; two overlapped make a third colour.
    #[default]
    Dye,
    /// Dye with pigment: blends easily, dries with a chalky bloom, partly covers.
    Oxide,
    /// Covers; stays wet long.
    Pigment,
}

impl Kind {
    /// Every kind.
    pub const ALL: [Kind; 3] = [Kind::Dye, Kind::Oxide, Kind::Pigment];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Kind::Dye => "dye",
            Kind::Oxide => "oxide",
            Kind::Pigment => "pigment",
        }
    }
}

impl fmt::Display for Kind {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.word())
    }
}

impl FromStr for Kind {
    type Err = String;
    fn from_str(text: &str) -> Result<Kind, String> {
        let word = text.trim().to_lowercase();
        Kind::ALL
            .into_iter()
            .find(|kind| kind.word() == word)
            .ok_or_else(|| format!("“{text:.20}” is not a kind of ink: write dye, oxide or pigment"))
    }
}
