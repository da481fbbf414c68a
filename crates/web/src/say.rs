//! What several pages say and draw alike: measures, rulers, veil strips.

use std::fmt::Write;

use rosy_core::ink::{Ink, Stack, measured::bright_white};
use rosy_core::{Length, Units};

/// A mark on a ruler.
pub struct Mark {
    /// Where, in thousandths of the ruler.
    pub at: f64,
    /// How long, in thousandths of the longest.
    pub long: u32,
    /// What stands beside it.
    pub label: String,
}

/// The marks along one side of a panel.
pub fn ruler(side: Length, units: Units) -> Vec<Mark> {
    let (step, of_label, of_half) = match units {
        Units::Inches => (Length::from_64ths(16), 4, 2),
        Units::Millimetres => (Length::from_tenths_mm(50), 4, 2),
    };
    let (count, _) = side.div_rem(step);
    (0..=count)
        .map(|n| {
            let place = step * n;
            let label = if n % of_label == 0 { place.shown(units).number() } else { String::new() };
            let long = if n % of_label == 0 {
                1000
            } else if n % of_half == 0 {
                650
            } else {
                400
            };
            Mark { at: 1000.0 * place.ratio(side), long, label }
        })
        .collect()
}

/// A stretch of a text: as it stands, or a fraction with the whole number before it.
pub enum Run<'a> {
    /// As it stands.
    Plain(&'a str),
    /// The whole number, where there is one, and the figures above and below the stroke.
    Fraction(&'a str, &'a str, &'a str),
}

/// A text in runs.
pub fn runs(text: &str) -> Vec<Run<'_>> {
    let digits = |s: &str| s.find(|c: char| !c.is_ascii_digit()).unwrap_or(s.len());
    let mut found = Vec::new();
    let (mut from, mut at) = (0, 0);
    while let Some(next) = text[at..].find(|c: char| c.is_ascii_digit()) {
        let top = at + next;
        let stroke = top + digits(&text[top..]);
        at = stroke;
        let Some(below) = text[stroke..].strip_prefix('/') else { continue };
        let bottom = digits(below);
        if bottom == 0 {
            continue;
        }
        let before = &text[from..top];
        // A whole number stands before it with one space between.
        let closer = before.strip_suffix(' ').unwrap_or("");
        let whole = closer.len() - closer.bytes().rev().take_while(u8::is_ascii_digit).count();
        let (before, whole) =
            if whole < closer.len() { (&closer[..whole], &closer[whole..]) } else { (before, "") };
        found.push(Run::Plain(before));
        found.push(Run::Fraction(whole, &text[top..stroke], &below[..bottom]));
        at = stroke + 1 + bottom;
        from = at;
    }
    found.push(Run::Plain(&text[from..]));
    found
}

/// A text for a page, its fractions set as fractions: read, searched and copied it is the text as it stands.
pub fn typeset(text: impl std::fmt::Display) -> String {
    let text = text.to_string();
    let mut set = String::with_capacity(text.len() + 32);
    for run in runs(&text) {
        let _ = match run {
            Run::Plain(plain) => write!(set, "{}", escaped(plain)),
            Run::Fraction(whole, top, bottom) => {
                let gap = if whole.is_empty() { "" } else { " " };
                write!(set, "<span class=\"frac\">{whole}{gap}<sup>{top}</sup>/<sub>{bottom}</sub></span>")
            }
        };
    }
    set
}

/// A text that may stand in a page or a picture.
pub fn escaped(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}

/// So many of something.
pub fn many(n: usize, one: &str) -> String {
    if n == 1 { format!("1 {one}") } else { format!("{n} {one}s") }
}

/// So often.
pub fn times(n: usize) -> String {
    match n {
        1 => "once".into(),
        2 => "twice".into(),
        n => format!("{n} times"),
    }
}

/// The word after a bare number.
pub fn unit(units: Units) -> &'static str {
    match units {
        Units::Inches => "in",
        Units::Millimetres => "mm",
    }
}

/// An ink as a strip with torn edges that runs from one veil to full, as an SVG picture.
pub fn veil_strip(ink: &Ink, id: &str) -> String {
    const WIDE: f64 = 220.0;
    const HIGH: f64 = 34.0;
    let (film, light) = (ink.film(), Default::default());
    let veils = u32::from(ink.full_veils);
    let mut stops = String::new();
    for veil in 1..=veils {
        let mut stack = Stack::on(bright_white());
        stack.lay(0, &film, f64::from(veil) / f64::from(veils));
        let colour = stack.lab(light).on_screen(light).0;
        let at = f64::from(veil - 1) / f64::from(veils - 1);
        let _ = write!(stops, "<stop offset=\"{at:.3}\" stop-color=\"{colour}\"/>");
    }
    // The torn edge follows the name, so that an ink always has the same strip.
    let mut state =
        ink.name.as_str().bytes().fold(0x9e37_79b9_u32, |h, b| (h ^ u32::from(b)).wrapping_mul(0x0100_0193));
    let mut torn = || {
        state ^= state << 13;
        state ^= state >> 17;
        state ^= state << 5;
        f64::from(state % 1000) / 1000.0
    };
    const STEPS: u32 = 24;
    let mut edge = String::new();
    for n in 0..=STEPS {
        let x = 2.0 + (WIDE - 4.0) * f64::from(n) / f64::from(STEPS) + 2.0 * torn() - 1.0;
        let _ = write!(edge, "{x:.1},{:.1} ", 1.0 + 4.0 * torn());
    }
    for n in (0..=STEPS).rev() {
        let x = 2.0 + (WIDE - 4.0) * f64::from(n) / f64::from(STEPS) + 2.0 * torn() - 1.0;
        let _ = write!(edge, "{x:.1},{:.1} ", HIGH - 1.0 - 4.0 * torn());
    }
    format!(
        "<svg class=\"strip\" viewBox=\"0 0 {WIDE} {HIGH}\" preserveAspectRatio=\"none\" aria-hidden=\"true\">\
         <defs><linearGradient id=\"{id}\">{stops}</linearGradient></defs>\
         <polygon points=\"{edge}\" fill=\"url(#{id})\"/></svg>"
    )
}

/// JSON that may stand inside a script element.
pub fn json_in_page(value: &impl serde::Serialize) -> String {
    serde_json::to_string(value).unwrap_or_default().replace('<', "\\u003c")
}

/// A word of a document, such as `very-smooth`.
pub fn word(value: impl serde::Serialize) -> String {
    serde_json::to_value(value).ok().and_then(|value| value.as_str().map(str::to_owned)).unwrap_or_default()
}

/// What a word of a document names.
pub fn from_word<T: serde::de::DeserializeOwned>(word: &str) -> Result<T, String> {
    serde_json::from_value(serde_json::Value::String(word.to_owned()))
        .map_err(|_| "choose one of these".to_owned())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rulers_label_whole_inches_and_every_twenty_millimetres() {
        let side = Length::from_64ths(5 * 64 + 16);
        let labels = |units| -> Vec<String> {
            ruler(side, units).into_iter().map(|mark| mark.label).filter(|label| !label.is_empty()).collect()
        };
        assert_eq!(labels(Units::Inches), ["0", "1", "2", "3", "4", "5"]);
        assert_eq!(labels(Units::Millimetres), ["0", "20", "40", "60", "80", "100", "120"]);
    }

    #[test]
    fn fractions_are_set_and_everything_else_is_left() {
        let half = "<span class=\"frac\"><sup>1</sup>/<sub>2</sub></span>";
        assert_eq!(
            typeset("about 4 1/2 in"),
            "about <span class=\"frac\">4 <sup>1</sup>/<sub>2</sub></span> in"
        );
        assert_eq!(typeset("from 1/2 to 12 mm"), format!("from {half} to 12 mm"));
        assert_eq!(typeset("<b>/3 & 5/"), "&lt;b&gt;/3 &amp; 5/");
        for text in ["4 1/2 × 5 3/4 in", "1/2 and 1/4", "step 3: 7/8 in, 12 mm"] {
            let set = typeset(text);
            let plain = set.split(['<', '>']).step_by(2).collect::<String>();
            assert_eq!(plain, text, "what is read out and copied is the text itself");
        }
    }

    #[test]
    fn a_name_cannot_break_out_of_a_page() {
        assert!(!json_in_page(&"</script><script>").contains('<'));
    }
}
