//! Which colour is it, how far is it from another, and how is it shown on a screen?
//!
//! A [`Lab`] is CIE 1976 L*a*b* relative to a light. Formulas come from the `palette` crate:
//! CIEDE2000 (Sharma, Wu & Dalal 2005), Oklab (Ottosson 2020), Bradford adaptation between lights,
//! sRGB (IEC 61966-2-1).

use std::fmt;
use std::str::FromStr;

use palette::chromatic_adaptation::AdaptFromUnclamped;
use palette::color_difference::{Ciede2000, Wcag21RelativeContrast};
use palette::convert::FromColorUnclamped;
use palette::white_point::{D50, D65};
use palette::{LinSrgb, Oklab, Oklch, Xyz};
use schemars::{JsonSchema, Schema, SchemaGenerator, json_schema};
use serde::{Deserialize, Deserializer, Serialize, Serializer, de};

use super::observer::Illuminant;

/// Where the cube root of CIE Lab gives way to its straight foot, and that foot's slope (CIE 15).
const LAB_FOOT: f64 = 216.0 / 24389.0;
const LAB_SLOPE: f64 = 24389.0 / 27.0;

/// L*, a*, b* relative to a light. L* runs 0 to 100; a* and b* roughly −130 to 130. In JSON `[l, a, b]`.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(from = "[f64; 3]", into = "[f64; 3]")]
#[schemars(with = "[f64; 3]")]
pub struct Lab {
    /// Lightness.
    pub l: f64,
    /// Green to red.
    pub a: f64,
    /// Blue to yellow.
    pub b: f64,
}

impl From<[f64; 3]> for Lab {
    fn from([l, a, b]: [f64; 3]) -> Lab {
        Lab { l, a, b }
    }
}

impl From<Lab> for [f64; 3] {
    fn from(lab: Lab) -> [f64; 3] {
        [lab.l, lab.a, lab.b]
    }
}

impl Lab {
    /// From X/Xn, Y/Yn, Z/Zn.
    pub fn from_relative(xyz: [f64; 3]) -> Lab {
        let [x, y, z] = xyz.map(|t| if t > LAB_FOOT { t.cbrt() } else { (LAB_SLOPE * t + 16.0) / 116.0 });
        Lab { l: 116.0 * y - 16.0, a: 500.0 * (x - y), b: 200.0 * (y - z) }
    }

    /// To X/Xn, Y/Yn, Z/Zn.
    pub fn relative(self) -> [f64; 3] {
        let y = (self.l + 16.0) / 116.0;
        [y + self.a / 500.0, y, y - self.b / 200.0]
            .map(|t| if t.powi(3) > LAB_FOOT { t.powi(3) } else { (116.0 * t - 16.0) / LAB_SLOPE })
    }

    /// The CIEDE2000 difference: about 1 is just seen, 2 to 5 is seen at a glance.
    ///
    /// ```
    /// # use rosy_core::colour::Lab;
    /// // The first pair of the published test data of Sharma, Wu and Dalal (2005).
    /// let (one, other) = (Lab::from([50.0, 2.6772, -79.7751]), Lab::from([50.0, 0.0, -82.7485]));
    /// assert!((one.difference(other) - 2.0425).abs() < 5e-5);
    /// assert_eq!(one.difference(one), 0.0);
    /// ```
    pub fn difference(self, other: Lab) -> f64 {
        let of = |lab: Lab| palette::Lab::<D65, f64>::new(lab.l, lab.a, lab.b);
        of(self).difference(of(other))
    }

    /// Lightness 0–1, chroma 0–0.4 and hue 0–360° in Oklab, the colour meant under D65.
    pub fn oklch(self) -> [f64; 3] {
        let oklch = Oklch::from_color_unclamped(self.xyz_d65(Illuminant::D65));
        [oklch.l, oklch.chroma, oklch.hue.into_positive_degrees()]
    }

    /// WCAG 2 contrast with another colour, 1 to 21, both meant under D65.
    pub fn contrast(self, other: Lab) -> f64 {
        let shown = |lab: Lab| lab.on_screen(Illuminant::D65).0.linear();
        shown(self).relative_contrast(shown(other))
    }

    /// As a screen shows it, and whether the screen can. A colour outside sRGB keeps its Oklab hue and
    /// lightness and gives up chroma until it fits.
    pub fn on_screen(self, light: Illuminant) -> (Srgb, bool) {
        let xyz = self.xyz_d65(light);
        let direct = LinSrgb::from_color_unclamped(xyz);
        if fits(direct) {
            return (Srgb::from_linear(direct), true);
        }
        let oklch = Oklch::from_color_unclamped(Oklab::from_color_unclamped(xyz));
        let (mut inside, mut outside) = (0.0, oklch.chroma);
        for _ in 0..30 {
            let chroma = 0.5 * (inside + outside);
            if fits(LinSrgb::from_color_unclamped(Oklch { chroma, ..oklch })) {
                inside = chroma;
            } else {
                outside = chroma;
            }
        }
        (Srgb::from_linear(LinSrgb::from_color_unclamped(Oklch { chroma: inside, ..oklch })), false)
    }

    fn xyz_d65(self, light: Illuminant) -> Xyz<D65, f64> {
        match light {
            Illuminant::D65 => {
                Xyz::from_color_unclamped(palette::Lab::<D65, f64>::new(self.l, self.a, self.b))
            }
            Illuminant::D50 => Xyz::adapt_from_unclamped(Xyz::from_color_unclamped(
                palette::Lab::<D50, f64>::new(self.l, self.a, self.b),
            )),
        }
    }
}

/// Whether linear sRGB lies in the cube, but for the arithmetic's own grain.
fn fits(rgb: LinSrgb<f64>) -> bool {
    const GRAIN: f64 = 1e-6;
    [rgb.red, rgb.green, rgb.blue].into_iter().all(|c| (-GRAIN..=1.0 + GRAIN).contains(&c))
}

/// A screen colour of eight bits a channel. In JSON and text `#rrggbb`.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Srgb(pub [u8; 3]);

impl Srgb {
    /// From linear light, clipped to the cube.
    pub fn from_linear(rgb: LinSrgb<f64>) -> Srgb {
        let coded = palette::Srgb::<f64>::from_linear(rgb).into_format::<u8>();
        Srgb([coded.red, coded.green, coded.blue])
    }

    fn linear(self) -> LinSrgb<f64> {
        let [red, green, blue] = self.0;
        palette::Srgb::new(red, green, blue).into_format::<f64>().into_linear()
    }

    /// Its Lab relative to a light.
    pub fn lab(self, light: Illuminant) -> Lab {
        let xyz = Xyz::<D65, f64>::from_color_unclamped(self.linear());
        match light {
            Illuminant::D65 => {
                let lab = palette::Lab::<D65, f64>::from_color_unclamped(xyz);
                Lab { l: lab.l, a: lab.a, b: lab.b }
            }
            Illuminant::D50 => {
                let lab = palette::Lab::<D50, f64>::from_color_unclamped(
                    Xyz::<D50, f64>::adapt_from_unclamped(xyz),
                );
                Lab { l: lab.l, a: lab.a, b: lab.b }
            }
        }
    }
}

impl fmt::Display for Srgb {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let [r, g, b] = self.0;
        write!(f, "#{r:02x}{g:02x}{b:02x}")
    }
}

impl FromStr for Srgb {
    type Err = ColourError;
    fn from_str(text: &str) -> Result<Srgb, ColourError> {
        let refused = || ColourError::NotAColour(text.chars().take(20).collect());
        let hex = text.trim().strip_prefix('#').ok_or_else(refused)?;
        if hex.len() != 6 || !hex.bytes().all(|b| b.is_ascii_hexdigit()) {
            return Err(refused());
        }
        let channel = |at: usize| u8::from_str_radix(&hex[at..at + 2], 16).map_err(|_| refused());
        Ok(Srgb([channel(0)?, channel(2)?, channel(4)?]))
    }
}

impl Serialize for Srgb {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_str(self)
    }
}

impl<'de> Deserialize<'de> for Srgb {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Srgb, D::Error> {
        String::deserialize(deserializer)?.parse().map_err(de::Error::custom)
    }
}

impl JsonSchema for Srgb {
    fn schema_name() -> std::borrow::Cow<'static, str> {
        "Srgb".into()
    }
    fn json_schema(_: &mut SchemaGenerator) -> Schema {
        json_schema!({ "type": "string", "pattern": "^#[0-9a-fA-F]{6}$", "description": "A screen colour." })
    }
}

/// The most that a surface gives back of the light of a band: a brightener turns light of shorter waves into it.
pub(super) const MOST_GIVEN_BACK: f64 = 1.6;

/// Why a colour cannot be used, and what to write instead.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum ColourError {
    /// Not six hexadecimal digits.
    #[error("“{0}” is not a colour: write it as # and six digits 0–9 or a–f, such as #d8456b")]
    NotAColour(String),
    /// Written in none of the ways a colour is written.
    #[error(
        "“{0}” is not a colour: write # and six digits such as #d8456b, rgb(216, 69, 107), a name such as pink, or the three Lab numbers of a measured one such as 55 60 -4"
    )]
    NotWritten(String),
    /// Not a colour any surface can have.
    #[error(
        "{l}, {a}, {b} are the Lab numbers of no surface: the first must lie between 0 and 100, the others between −150 and 150"
    )]
    NotASurface {
        /// L*.
        l: f64,
        /// a*.
        a: f64,
        /// b*.
        b: f64,
    },
    /// Gives back what no surface gives back.
    #[error(
        "{share} at {nm} nm is no share of light that a surface gives back: give 0 to {MOST_GIVEN_BACK} in each band"
    )]
    NotAReflectance {
        /// Where, in nanometres.
        nm: usize,
        /// How much.
        share: f64,
    },
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_colour_no_screen_shows_keeps_its_hue() {
        let cyan = Lab { l: 59.0, a: -45.0, b: -45.0 };
        let (shown, in_gamut) = cyan.on_screen(Illuminant::D65);
        assert!(!in_gamut);
        let [l, _, h] = cyan.oklch();
        let [shown_l, _, shown_h] = shown.lab(Illuminant::D65).oklch();
        assert!((h - shown_h).abs() < 1.5 && (l - shown_l).abs() < 0.01);
    }

    #[test]
    fn white_is_white_under_either_light() {
        for light in [Illuminant::D50, Illuminant::D65] {
            let white = Lab { l: 100.0, a: 0.0, b: 0.0 };
            assert_eq!(white.on_screen(light), (Srgb([255; 3]), true));
        }
        let black = Lab { l: 0.0, a: 0.0, b: 0.0 };
        assert!((black.contrast(Lab { l: 100.0, a: 0.0, b: 0.0 }) - 21.0).abs() < 0.01);
    }

    #[test]
    fn what_is_no_screen_colour_is_refused() {
        assert!("d8456b".parse::<Srgb>().is_err() && "#d8456".parse::<Srgb>().is_err());
    }

    proptest! {
        #[test]
        fn a_screen_colour_survives_lab(rgb: [u8; 3]) {
            for light in [Illuminant::D50, Illuminant::D65] {
                prop_assert_eq!(Srgb(rgb).lab(light).on_screen(light), (Srgb(rgb), true));
            }
        }

        #[test]
        fn lab_survives_tristimulus(l in 0.0..100.0, a in -100.0..100.0, b in -100.0..100.0) {
            let lab = Lab { l, a, b };
            let back = Lab::from_relative(lab.relative());
            prop_assert!((back.l - l).abs() + (back.a - a).abs() + (back.b - b).abs() < 1e-9);
        }
    }
}
