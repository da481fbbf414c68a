//! In which manner is it laid: which ink first, and what is covered when?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Which ink is laid first.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum School {
    /// Light inks first, the darkest last: it can always be taken darker, and light pads stay clean.
    #[default]
    LightToDark,
    /// The darkest where it must be strongest, then lighter inks pulled towards it.
    DarkToLight,
    /// A faint round of every ink, then deeper round by round.
    AllLightFirst,
}

impl School {
    /// All three.
    pub const ALL: [School; 3] = [School::LightToDark, School::DarkToLight, School::AllLightFirst];

    /// Its name.
    pub const fn words(self) -> &'static str {
        match self {
            School::LightToDark => "light to dark",
            School::DarkToLight => "dark to light",
            School::AllLightFirst => "all light first",
        }
    }

    /// What it gives, whatever it costs on the panel at hand.
    pub const fn why(self) -> &'static str {
        match self {
            School::LightToDark => "It can always be taken darker.",
            School::DarkToLight => {
                "The dark is strongest where you want it, and the lighter inks carry it along."
            }
            School::AllLightFirst => "You see the whole blend early.",
        }
    }
}

/// How it is decided what is covered when.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Covering {
    /// As few pieces as the colours allow, then as few dryings.
    #[default]
    Fewest,
    /// What is in front first, each thing then under its plug.
    FrontFirst,
    /// The ground first, every thing under its plug until its turn.
    BackFirst,
}

impl Covering {
    /// All three.
    pub const ALL: [Covering; 3] = [Covering::Fewest, Covering::FrontFirst, Covering::BackFirst];

    /// Its name.
    pub const fn words(self) -> &'static str {
        match self {
            Covering::Fewest => "as few masks as will do",
            Covering::FrontFirst => "front first, every plug",
            Covering::BackFirst => "ground first, every plug",
        }
    }
}
