//! What would a maker call it?
//!
//! Hues are read in Oklab, where a hue keeps its name from pale to strong. The bounds are chosen:
//! the halfway points between the hues of plainly named paints.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::lab::Lab;

/// Below this Oklab chroma a colour reads as grey, white or black (chosen).
const COLOURLESS: f64 = 0.018;
/// Below this it reads as a grey with a lean, such as grey-green (chosen).
const GREYED: f64 = 0.042;
/// Below this chroma a light orange reads as tan and a light yellow as khaki (chosen).
const DULL: f64 = 0.075;
/// Below this lightness a dull warm colour reads as brown, a dull yellow-green as olive (chosen).
const BROWN_BELOW: f64 = 0.62;
/// Above this lightness a red reads as pink or, leaning to yellow, as orange (chosen).
const PINK_ABOVE: f64 = 0.66;
/// Below this lightness a pink reads as purple (chosen).
const PURPLE_BELOW: f64 = 0.52;

/// Where each hue ends on the Oklab circle, in degrees, from red on (chosen).
const HUES: [(f64, &str); 11] = [
    (12.0, "pink"),
    (31.0, "red"),
    (76.0, "orange"),
    (112.0, "yellow"),
    (132.0, "yellow-green"),
    (168.0, "green"),
    (213.0, "blue-green"),
    (266.0, "blue"),
    (321.0, "violet"),
    (338.0, "purple"),
    (360.0, "pink"),
];

/// A colour in plain words.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct ColourName(String);

impl ColourName {
    /// Names a colour meant under D65.
    pub fn of(colour: Lab) -> ColourName {
        let [lightness, chroma, hue] = colour.oklch();
        let word = hue_word(lightness, chroma, hue);
        ColourName(if chroma < COLOURLESS {
            match lightness {
                l if l > 0.93 => "white".into(),
                l if l < 0.28 => "black".into(),
                _ => "grey".into(),
            }
        } else if chroma < GREYED {
            match word {
                "tan" | "khaki" if lightness > 0.90 => "cream".into(),
                _ if lightness > 0.90 => format!("pale {word}"),
                "brown" => "grey-brown".into(),
                "red" | "tan" | "khaki" => "beige".into(),
                "yellow-green" | "olive" | "blue-green" => "grey-green".into(),
                word => format!("grey-{word}"),
            }
        } else {
            word.to_owned()
        })
    }

    /// The words.
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

fn hue_word(lightness: f64, chroma: f64, hue: f64) -> &'static str {
    let word = HUES.iter().find(|(end, _)| hue < *end).map_or("pink", |(_, word)| word);
    let dark = lightness < BROWN_BELOW;
    match word {
        "red" if dark && chroma < 0.10 => "brown",
        "orange" if dark && chroma < 0.14 => "brown",
        "yellow" if dark => "brown",
        "orange" if chroma < DULL => "tan",
        "yellow" if chroma < DULL => "khaki",
        "yellow-green" if dark && chroma < 0.09 => "olive",
        "red" if lightness > PINK_ABOVE && hue < 21.0 => "pink",
        "red" if lightness > PINK_ABOVE => "orange",
        "pink" if lightness < PURPLE_BELOW => "purple",
        word => word,
    }
}

impl std::fmt::Display for ColourName {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.0)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::colour::{Illuminant, Srgb};

    #[test]
    fn paints_everyone_names_alike_get_their_names() {
        for (hex, name) in [
            ("#d4202a", "red"),
            ("#f28c1e", "orange"),
            ("#f7d21e", "yellow"),
            ("#9acd32", "yellow-green"),
            ("#2e8b3d", "green"),
            ("#1f8f8f", "blue-green"),
            ("#2a6fc9", "blue"),
            ("#6a3fb5", "violet"),
            ("#e0559a", "pink"),
            ("#7a4a21", "brown"),
            ("#808080", "grey"),
            ("#ffffff", "white"),
            ("#0a0a0a", "black"),
        ] {
            let lab = hex.parse::<Srgb>().unwrap().lab(Illuminant::D65);
            assert_eq!(ColourName::of(lab).as_str(), name, "{hex} {:?}", lab.oklch());
        }
    }
}
