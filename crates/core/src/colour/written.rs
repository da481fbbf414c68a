//! How does a person write a colour?
//!
//! As a screen's six or three hexadecimal digits with or without their sign, as `rgb(…)`, as one of the names that
//! browsers know (CSS Color Module Level 4), as the L*, a* and b* of a measurement with commas or spaces between, or as a whole
//! spectrum: `reflectance` and 36 numbers, every 10 nm from 380 to 730.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::lab::{ColourError, Lab, MOST_GIVEN_BACK, Srgb};
use super::observer::{BANDS, Illuminant};
use super::spectrum::Spectrum;

/// A colour as written: `{"lab": [l, a, b]}`, relative to the light named beside it, `{"srgb": "#rrggbb"}`, or
/// `{"reflectance": […]}`, what it gives back every 10 nm from 380 to 730.
#[expect(clippy::large_enum_variant, reason = "a drawer has few of them, and they are copied freely")]
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "lowercase", deny_unknown_fields)]
pub enum Colour {
    /// As measured.
    Lab(Lab),
    /// As seen on a screen.
    Srgb(Srgb),
    /// Its whole spectrum, as an instrument measures it.
    Reflectance(Spectrum),
}

impl Colour {
    /// The colour relative to a light.
    ///
    /// # Errors
    /// [`ColourError::NotASurface`] where a number is out of range or not a number.
    pub fn lab(self, light: Illuminant) -> Result<Lab, ColourError> {
        match self {
            Colour::Srgb(srgb) => Ok(srgb.lab(light)),
            Colour::Reflectance(spectrum) => {
                let off = (0..BANDS).find(|band| !(0.0..=MOST_GIVEN_BACK).contains(&spectrum.0[*band]));
                match off {
                    Some(band) => {
                        Err(ColourError::NotAReflectance { nm: 380 + 10 * band, share: spectrum.0[band] })
                    }
                    None => Ok(spectrum.lab(light)),
                }
            }
            Colour::Lab(lab) => {
                let Lab { l, a, b } = lab;
                let inside = (0.0..=100.0).contains(&l) && [a, b].iter().all(|c| c.abs() <= 150.0);
                if inside { Ok(lab) } else { Err(ColourError::NotASurface { l, a, b }) }
            }
        }
    }

    /// What a surface of this colour gives back: as it was measured, or else the smoothest that has the colour.
    ///
    /// # Errors
    /// As [`Colour::lab`].
    pub fn spectrum(self, light: Illuminant) -> Result<Spectrum, ColourError> {
        let lab = self.lab(light)?;
        Ok(match self {
            Colour::Reflectance(spectrum) => spectrum,
            _ => Spectrum::of(lab, light),
        })
    }

    /// What a film of this colour lets a card give back: as it was measured, or else the smoothest that has the colour. A film only
    /// takes light away, so it is nowhere more than the card's own.
    ///
    /// # Errors
    /// As [`Colour::lab`].
    pub fn on(self, card: &Spectrum, light: Illuminant) -> Result<Spectrum, ColourError> {
        let lab = self.lab(light)?;
        Ok(match self {
            Colour::Reflectance(spectrum) => spectrum.zip(card, f64::min),
            _ => Spectrum::at_most(card, lab, light),
        })
    }
}

/// Reads a colour as people write it.
///
/// # Errors
/// A [`ColourError`] with the text and the remedy.
pub fn read(text: &str) -> Result<Colour, ColourError> {
    let text = text.trim();
    let lower = text.to_lowercase();
    let colour = hexadecimal(&lower)
        .or_else(|| rgb(&lower))
        .or_else(|| named(&lower))
        .map(Colour::Srgb)
        .or_else(|| spectrum(&lower).map(Colour::Reflectance))
        .or_else(|| measured(&lower).map(Colour::Lab))
        .ok_or_else(|| ColourError::NotWritten(text.chars().take(20).collect()))?;
    colour.lab(Illuminant::D65)?;
    Ok(colour)
}

/// A colour as [`read`] reads it back.
pub fn write(colour: Colour) -> String {
    match colour {
        Colour::Srgb(srgb) => srgb.to_string(),
        Colour::Lab(Lab { l, a, b }) => format!("{l} {a} {b}"),
        Colour::Reflectance(spectrum) => {
            let values: Vec<String> = spectrum.0.iter().map(ToString::to_string).collect();
            format!("reflectance {}", values.join(" "))
        }
    }
}

fn spectrum(text: &str) -> Option<Spectrum> {
    let values = text.strip_prefix("reflectance")?.split_whitespace();
    let values: Option<Vec<f64>> = values.map(|value| value.parse().ok()).collect();
    values?.try_into().ok().map(Spectrum)
}

fn hexadecimal(text: &str) -> Option<Srgb> {
    let digits = text.strip_prefix('#').unwrap_or(text);
    if !digits.bytes().all(|b| b.is_ascii_hexdigit()) {
        return None;
    }
    let digits = match digits.len() {
        6 => digits.to_owned(),
        // Each digit stands for two.
        3 => digits.chars().flat_map(|digit| [digit, digit]).collect(),
        _ => return None,
    };
    format!("#{digits}").parse().ok()
}

fn rgb(text: &str) -> Option<Srgb> {
    let inside = text.strip_prefix("rgb")?.trim_start().strip_prefix('(')?.strip_suffix(')')?;
    let channel = |part: &str| -> Option<u8> {
        let value = match part.strip_suffix('%') {
            Some(percent) => percent.trim().parse::<f64>().ok()? * 2.55,
            None => part.parse().ok()?,
        };
        (-0.5..255.5).contains(&value).then(|| value.round() as u8)
    };
    match parts(inside).as_slice() {
        [r, g, b] => Some(Srgb([channel(r)?, channel(g)?, channel(b)?])),
        _ => None,
    }
}

fn named(text: &str) -> Option<Srgb> {
    palette::named::from_str(text).map(|colour| Srgb([colour.red, colour.green, colour.blue]))
}

fn measured(text: &str) -> Option<Lab> {
    let inside = text.strip_prefix("lab").map(|rest| rest.trim().trim_matches(['(', ')'])).unwrap_or(text);
    let numbers = |parts: Vec<&str>| -> Option<[f64; 3]> {
        let numbers: Option<Vec<f64>> =
            parts.iter().map(|part| part.trim_end_matches('%').replace(',', ".").parse().ok()).collect();
        numbers?.try_into().ok()
    };
    // A comma after a figure may part it from the next or stand for its point.
    let by_space = inside.split([' ', ';', '/', '\t']).map(|part| part.trim_end_matches(','));
    numbers(by_space.filter(|part| !part.is_empty()).collect())
        .or_else(|| numbers(parts(inside)))
        .map(Lab::from)
}

fn parts(text: &str) -> Vec<&str> {
    text.split([' ', ',', ';', '/', '\t']).filter(|part| !part.is_empty()).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn colours_no_surface_has_are_refused() {
        let noon = Illuminant::D65;
        assert!(Colour::Lab(Lab { l: 130.0, a: 0.0, b: 0.0 }).lab(noon).is_err());
        assert!(Colour::Lab(Lab { l: f64::NAN, a: 0.0, b: 0.0 }).lab(noon).is_err());
        let mut bands = [0.5; BANDS];
        assert!(Colour::Reflectance(Spectrum(bands)).lab(noon).is_ok());
        for share in [-0.1, 3.0, f64::NAN] {
            bands[3] = share;
            let refused = Colour::Reflectance(Spectrum(bands)).lab(noon).unwrap_err();
            assert!(refused.to_string().contains("at 410 nm"), "{refused}");
        }
    }

    #[test]
    fn a_spectrum_is_read_as_it_is_written() {
        let slope = Spectrum(std::array::from_fn(|band| 0.05 + band as f64 / 50.0)).rounded();
        assert_eq!(read(&write(Colour::Reflectance(slope))), Ok(Colour::Reflectance(slope)));
        assert!(read("reflectance 0.1 0.2").is_err());
    }

    #[test]
    fn a_colour_is_read_however_it_is_written() {
        let rose = Colour::Srgb(Srgb([0xd8, 0x45, 0x6b]));
        for text in
            ["#d8456b", "d8456b", "D8456B", " rgb(216, 69, 107) ", "rgb(216 69 107)", "rgb(84.7% 27% 42%)"]
        {
            assert_eq!(read(text), Ok(rose), "{text}");
        }
        assert_eq!(read("#d4b"), read("#dd44bb"));
        // CSS Color Module Level 4, section 6.1.
        for (name, hex) in [("pink", "#ffc0cb"), ("Teal", "#008080"), ("rebeccapurple", "#663399")] {
            assert_eq!(read(name), read(hex), "{name}");
        }
        let measured = Colour::Lab(Lab { l: 55.0, a: 60.0, b: -4.0 });
        for text in
            ["55 60 -4", "55, 60, -4", "55,60,-4", "55; 60; -4", "55/60/-4", "lab(55 60 -4)", "55% 60 -4"]
        {
            assert_eq!(read(text), Ok(measured), "{text}");
        }
        assert_eq!(read("55,5 60,25 -4"), Ok(Colour::Lab(Lab { l: 55.5, a: 60.25, b: -4.0 })));
        for text in ["", "pinkish", "#d845", "rgb(300, 0, 0)", "55 60", "55 60 -4 7", "rgb(1,2)"] {
            assert!(matches!(read(text), Err(ColourError::NotWritten(_))), "{text}");
        }
        assert!(matches!(read("155 60 -4"), Err(ColourError::NotASurface { .. })));
    }

    #[test]
    fn what_is_written_is_read_back() {
        for colour in [Colour::Srgb(Srgb([1, 2, 255])), Colour::Lab(Lab { l: 57.25, a: -17.0, b: 0.1 })] {
            assert_eq!(read(&write(colour)), Ok(colour));
        }
    }
}
