//! How does a person write a colour?
//!
//! As a screen's six or three hexadecimal digits with or without their sign, as `rgb(…)`, as one of the names that
//! browsers know (CSS Color Module Level 4), or as the L*, a* and b* of a measurement with commas or spaces between.

use super::lab::{Colour, ColourError, Lab, Srgb};
use super::observer::Illuminant;

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
    }
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
