//! What carries the ink to the card, how many of it are there, and what is each kept for?

use std::fmt;
use std::str::FromStr;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::drawer::{DrawerError, Ink, MOST_ALIKE, Name};
use super::family::Family;

/// What carries the ink to the card.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum ToolKind {
    /// Soft domed brush: softest joins, slow to build.
    #[default]
    Brush,
    /// Foam dome: fast, can leave rings.
    FoamDome,
    /// Small round sponge.
    Sponge,
    /// Finger dauber, for tight places.
    Dauber,
}

impl ToolKind {
    /// Every tool.
    pub const ALL: [ToolKind; 4] = [ToolKind::Brush, ToolKind::FoamDome, ToolKind::Sponge, ToolKind::Dauber];

    /// The words for it.
    pub const fn words(self) -> &'static str {
        match self {
            ToolKind::Brush => "domed brush",
            ToolKind::FoamDome => "foam dome",
            ToolKind::Sponge => "round sponge",
            ToolKind::Dauber => "finger dauber",
        }
    }

    /// The words for several.
    pub const fn several(self) -> &'static str {
        match self {
            ToolKind::Brush => "domed brushes",
            ToolKind::FoamDome => "foam domes",
            ToolKind::Sponge => "round sponges",
            ToolKind::Dauber => "finger daubers",
        }
    }

    /// The word for one of them in the hand.
    pub const fn short(self) -> &'static str {
        match self {
            ToolKind::Brush => "brush",
            ToolKind::FoamDome => "foam dome",
            ToolKind::Sponge => "sponge",
            ToolKind::Dauber => "dauber",
        }
    }

    /// Radius of its footprint in millimetres (brush and dauber published at the bench, rest chosen).
    pub const fn footprint_mm(self) -> f64 {
        match self {
            ToolKind::Brush => 9.0,
            ToolKind::FoamDome => 7.0,
            ToolKind::Sponge => 6.0,
            ToolKind::Dauber => 4.0,
        }
    }

    /// How long a light pass takes with it, against a domed brush (chosen: foam is fast, a dauber small).
    pub const fn pace(self) -> f64 {
        match self {
            ToolKind::Brush | ToolKind::Sponge => 1.0,
            ToolKind::FoamDome => 0.75,
            ToolKind::Dauber => 1.3,
        }
    }

    /// Unevenness of one veil on very smooth card, as a share of a veil (chosen, so that seven veils by a soft brush come out
    /// almost even: about 0.8 in ΔE00).
    pub const fn unevenness(self) -> f64 {
        match self {
            ToolKind::Brush => 0.105,
            ToolKind::FoamDome => 0.150,
            ToolKind::Sponge => 0.167,
            ToolKind::Dauber => 0.185,
        }
    }
}

/// Which inks a tool is kept for.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(try_from = "String", into = "String")]
#[schemars(with = "String")]
pub enum KeptFor {
    /// Any but white.
    #[default]
    Anything,
    /// White only.
    White,
    /// One colour family.
    Family(Family),
}

impl KeptFor {
    /// All that a tool can be kept for.
    pub fn all() -> impl Iterator<Item = KeptFor> {
        [KeptFor::Anything, KeptFor::White].into_iter().chain(Family::ALL.map(KeptFor::Family))
    }

    /// The words for it.
    pub const fn words(self) -> &'static str {
        match self {
            KeptFor::Anything => "anything",
            KeptFor::White => "white only",
            KeptFor::Family(family) => family.words(),
        }
    }

    /// Whether it was kept for inks such as this one.
    pub fn is_meant_for(self, ink: &Ink) -> bool {
        match self {
            KeptFor::Anything => false,
            KeptFor::White => ink.is_white(),
            KeptFor::Family(family) => !ink.is_white() && family == ink.family(),
        }
    }
}

impl fmt::Display for KeptFor {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.words())
    }
}

impl From<KeptFor> for String {
    fn from(kept: KeptFor) -> String {
        kept.words().into()
    }
}

impl FromStr for KeptFor {
    type Err = String;
    fn from_str(text: &str) -> Result<KeptFor, String> {
        let word = text.trim().to_lowercase();
        KeptFor::all().find(|kept| kept.words() == word).ok_or_else(|| {
            format!("“{text:.20}” is nothing a tool is kept for: write anything, white only, or a family such as pinks")
        })
    }
}

impl TryFrom<String> for KeptFor {
    type Error = String;
    fn try_from(text: String) -> Result<KeptFor, String> {
        text.parse()
    }
}

/// A tool the maker owns, or several alike.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Tool {
    /// What the maker calls it.
    pub name: Name,
    /// What it is.
    #[serde(default)]
    pub kind: ToolKind,
    /// Which inks it is kept for: `anything`, `white only`, or a colour family such as `pinks`.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub kept_for: KeptFor,
    /// How many alike there are, 1 to 24.
    #[serde(default = "one", skip_serializing_if = "is_one")]
    pub count: u8,
}

fn is_usual(kept: &KeptFor) -> bool {
    *kept == KeptFor::default()
}

fn one() -> u8 {
    1
}

fn is_one(count: &u8) -> bool {
    *count == 1
}

impl Tool {
    /// One tool for anything.
    pub fn one(name: Name, kind: ToolKind) -> Tool {
        Tool { name, kind, kept_for: KeptFor::Anything, count: 1 }
    }

    /// A domed brush, where a maker has told of none of her own.
    ///
    /// # Panics
    /// Never: its name is one.
    pub fn plain() -> Tool {
        Tool::one("Domed brush".parse().expect("a name of eleven letters"), ToolKind::Brush)
    }

    /// Refuses what nobody has.
    ///
    /// # Errors
    /// A [`DrawerError`] with the remedy.
    pub fn check(&self) -> Result<(), DrawerError> {
        if (1..=MOST_ALIKE).contains(&self.count) { Ok(()) } else { Err(DrawerError::Alike(self.count)) }
    }
}

/// One tool that lies on the desk.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Brush {
    /// What it is called; those alike are told apart by a number.
    pub name: String,
    /// Which inks it is kept for.
    pub kept_for: KeptFor,
}

/// Whether a tool lies well beside another: of the same kind, so that both leave the same footprint, or for white.
pub fn lies_beside(tool: &Tool, other: &Tool) -> bool {
    other.kind == tool.kind || other.kept_for == KeptFor::White
}

/// The tools on the desk one by one: the one most is laid with, and those that lie well beside it. Where some ink has none that takes it, what the first is kept for is forgotten.
pub fn desk(tool: &Tool, others: &[Tool], inks: &[Ink]) -> Vec<Brush> {
    let mut brushes: Vec<Brush> = Vec::new();
    for tool in std::iter::once(tool).chain(others.iter().filter(|other| lies_beside(tool, other))) {
        for nth in 1..=tool.count {
            let name = if tool.count == 1 { tool.name.to_string() } else { format!("{} {nth}", tool.name) };
            brushes.push(Brush { name, kept_for: tool.kept_for });
        }
    }
    if inks.iter().any(|ink| taking(&brushes, ink).is_empty()) {
        brushes[0].kept_for = KeptFor::Anything;
    }
    brushes
}

/// Which brushes take an ink, by their places on the desk: those kept for it, or else those kept for anything.
pub fn taking(brushes: &[Brush], ink: &Ink) -> Vec<usize> {
    let places = |of: &dyn Fn(&Brush) -> bool| -> Vec<usize> {
        brushes.iter().enumerate().filter(|(_, brush)| of(brush)).map(|(place, _)| place).collect()
    };
    let own = places(&|brush| brush.kept_for.is_meant_for(ink));
    if own.is_empty() { places(&|brush| brush.kept_for == KeptFor::Anything) } else { own }
}

#[cfg(test)]
mod tests {
    use super::super::kind::Kind;
    use super::*;
    use crate::colour::Colour;

    fn tool(name: &str, kept_for: &str, count: u8) -> Tool {
        Tool {
            name: name.parse().unwrap(),
            kind: ToolKind::Brush,
            kept_for: kept_for.parse().unwrap(),
            count,
        }
    }

    fn ink(lab: [f64; 3], kind: Kind) -> Ink {
        let name = "Wind Sock".parse().unwrap();
        Ink { name, kind, colour: Colour::Lab(lab.into()), one_veil: None, full_veils: 7, on_ink: None }
    }

    #[test]
    fn brushes_take_what_they_are_kept_for() {
        let (pink, blue) = (ink([58.0, 58.0, -6.0], Kind::Dye), ink([52.0, -20.0, -32.0], Kind::Dye));
        let white = ink([96.0, 0.0, 0.0], Kind::Pigment);
        let inks = [pink.clone(), blue.clone(), white.clone()];
        let brushes = desk(
            &tool("Dome", "anything", 2),
            &[tool("Rosy", "pinks", 1), tool("Snow", "white only", 1)],
            &inks,
        );
        let names: Vec<&str> = brushes.iter().map(|brush| brush.name.as_str()).collect();
        assert_eq!(names, ["Dome 1", "Dome 2", "Rosy", "Snow"]);
        assert_eq!(taking(&brushes, &pink), [2]);
        assert_eq!(taking(&brushes, &blue), [0, 1]);
        assert_eq!(taking(&brushes, &white), [3]);
        // One brush for pinks and nothing else: it has to do for all.
        let only = desk(&tool("Rosy", "pinks", 1), &[], &inks);
        assert!(inks.iter().all(|ink| taking(&only, ink) == [0]));
    }

    #[test]
    fn what_a_tool_is_kept_for_is_written_in_words() {
        for kept in KeptFor::all() {
            assert_eq!(serde_json::from_value::<KeptFor>(serde_json::to_value(kept).unwrap()).unwrap(), kept);
        }
        assert!("plaids".parse::<KeptFor>().unwrap_err().contains("pinks"));
        let plain: Tool = serde_json::from_str(r#"{"name":"Dome"}"#).unwrap();
        assert_eq!(plain, tool("Dome", "anything", 1));
        assert_eq!(serde_json::to_string(&plain).unwrap(), r#"{"name":"Dome","kind":"brush"}"#);
    }
}
