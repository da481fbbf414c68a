//! Which colour family does an ink belong to: pinks, blues, browns, …?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::colour::{ColourName, Lab};

/// A colour family, as makers sort a drawer and keep brushes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
#[expect(missing_docs, reason = "each is its own word")]
pub enum Family {
    Pinks,
    Reds,
    Oranges,
    Yellows,
    Greens,
    SeaGreens,
    Blues,
    Violets,
    Browns,
    Neutrals,
}

impl Family {
    /// Every family, in the order they lie in a drawer.
    pub const ALL: [Family; 10] = [
        Family::Pinks,
        Family::Reds,
        Family::Oranges,
        Family::Yellows,
        Family::Greens,
        Family::SeaGreens,
        Family::Blues,
        Family::Violets,
        Family::Browns,
        Family::Neutrals,
    ];

    /// The family of a colour, by its name.
    pub fn of(colour: Lab) -> Family {
        let name = ColourName::of(colour);
        let word = name.as_str().rsplit(['-', ' ']).next().unwrap_or_default();
        match (name.as_str(), word) {
            ("yellow-green", _) => Family::Greens,
            ("blue-green", _) => Family::SeaGreens,
            (_, "pink") => Family::Pinks,
            (_, "red") => Family::Reds,
            (_, "orange") => Family::Oranges,
            (_, "yellow") => Family::Yellows,
            (_, "green") => Family::Greens,
            (_, "blue") => Family::Blues,
            (_, "violet" | "purple") => Family::Violets,
            (_, "brown" | "tan" | "khaki" | "olive") => Family::Browns,
            _ => Family::Neutrals,
        }
    }

    /// The words for it.
    pub const fn words(self) -> &'static str {
        match self {
            Family::Pinks => "pinks",
            Family::Reds => "reds",
            Family::Oranges => "oranges",
            Family::Yellows => "yellows",
            Family::Greens => "greens",
            Family::SeaGreens => "sea greens",
            Family::Blues => "blues",
            Family::Violets => "violets",
            Family::Browns => "browns",
            Family::Neutrals => "neutrals",
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn families_follow_the_eye() {
        for (lab, family) in [
            ([58.0, 58.0, -6.0], Family::Pinks),
            ([52.0, -20.0, -32.0], Family::Blues),
            ([82.0, 8.0, 75.0], Family::Yellows),
            ([40.0, 16.0, 24.0], Family::Browns),
            ([55.0, 0.0, 0.0], Family::Neutrals),
        ] {
            assert_eq!(Family::of(lab.into()), family);
        }
    }
}
