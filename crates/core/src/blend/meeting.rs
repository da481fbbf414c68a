//! What happens where two inks meet?
//!
//! In the middle of a join each ink lies at half its swatch. Which was laid first matters a little
//! (trapping) or much (oxides), and a maker goes back and forth, so the middle is the mean of both
//! orders: turning the pair round changes nothing.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::limits::{GREY, NO_CHROMA, mud_limits};
use crate::colour::{ColourName, Illuminant, Lab, Spectrum};
use crate::ink::{Film, Stack};

/// How clean a junction is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "lowercase")]
pub enum Verdict {
    /// A colour of its own.
    Clean,
    /// Duller than its sides.
    Dusky,
    /// Grey or brown.
    Muddy,
}

impl Verdict {
    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Verdict::Clean => "clean",
            Verdict::Dusky => "dusky",
            Verdict::Muddy => "muddy",
        }
    }
}

/// The junction of two inks.
#[derive(Clone, Debug, PartialEq)]
pub struct Meeting {
    /// The colour half way.
    pub middle: Lab,
    /// What a maker would call it.
    pub named: ColourName,
    /// Whether it is clean.
    pub verdict: Verdict,
    /// Oklab chroma of the middle as a share of the mean of the two sides.
    pub chroma_kept: f64,
    /// L* by which the middle is darker than the darker side; 0 where it is not.
    pub dark_band: f64,
    /// Degrees of Oklab hue travelled from one side through the middle to the other.
    pub hue_path: f64,
    /// Shares of chroma below which it were muddy and from which it were clean.
    pub limits: (f64, f64),
}

impl Meeting {
    /// Judges a middle colour against the colours on its two sides.
    pub fn judge(one: Lab, middle: Lab, other: Lab) -> Meeting {
        let ([_, chroma_one, hue_one], [_, chroma, hue], [_, chroma_other, hue_other]) =
            (one.oklch(), middle.oklch(), other.oklch());
        let sides = 0.5 * (chroma_one + chroma_other);
        let apart = if chroma_one.min(chroma_other) < NO_CHROMA { 0.0 } else { turned(hue_one, hue_other) };
        let (muddy_below, clean_from) = mud_limits(middle, apart);
        let colourless = sides < NO_CHROMA;
        let chroma_kept = if colourless { 1.0 } else { chroma / sides };
        let verdict = match chroma_kept {
            _ if colourless => Verdict::Clean,
            kept if kept < muddy_below || chroma < GREY => Verdict::Muddy,
            kept if kept < clean_from => Verdict::Dusky,
            _ => Verdict::Clean,
        };
        let turn = |from: f64, to: f64, least: f64| if least < GREY { 0.0 } else { turned(from, to) };
        Meeting {
            middle,
            named: ColourName::of(middle),
            verdict,
            chroma_kept,
            dark_band: (one.l.min(other.l) - middle.l).max(0.0),
            hue_path: turn(hue_one, hue, chroma_one.min(chroma))
                + turn(hue, hue_other, chroma.min(chroma_other)),
            limits: (muddy_below, clean_from),
        }
    }

    /// What a sequence pays for having these two side by side: mud first (0 when clean, 100 when all
    /// chroma is lost), then the dark band in L*, then a tenth of the hue travelled.
    pub fn cost(&self) -> f64 {
        let clean_from = self.limits.1;
        let mud = 100.0 * (1.0 - self.chroma_kept / clean_from).max(0.0);
        mud + self.dark_band + 0.1 * self.hue_path
    }

    /// The judgement in a sentence.
    pub fn why(&self) -> String {
        let kept = (100.0 * self.chroma_kept.min(1.0)).round();
        let named = &self.named;
        let colour = match self.verdict {
            Verdict::Clean => {
                format!(
                    "They meet in a {named} of its own, {kept:.0} % as strong as the two are by themselves."
                )
            }
            Verdict::Dusky => {
                format!(
                    "They meet in a dull {named}, only {kept:.0} % as strong as the two are by themselves."
                )
            }
            Verdict::Muddy => {
                format!(
                    "They lie too far apart on the wheel: what is left is {kept:.0} % as strong as the two by themselves, and reads as {named}."
                )
            }
        };
        if self.dark_band >= 1.0 {
            format!(
                "{colour} The join is darker than its darker side, by {:.0} in a hundred steps of lightness.",
                self.dark_band
            )
        } else {
            colour
        }
    }
}

/// Degrees from one hue to another, the short way round.
fn turned(from: f64, to: f64) -> f64 {
    ((to - from + 540.0).rem_euclid(360.0) - 180.0).abs()
}

/// Lets two inks meet on a card, each at half its swatch.
pub fn meet(one: (&Film, Lab), other: (&Film, Lab), card: &Spectrum, light: Illuminant) -> Meeting {
    let laid = |first: &Film, second: &Film| {
        let mut stack = Stack::on(card);
        stack.lay(0, first, 0.5);
        stack.lay(1, second, 0.5);
        stack.reflectance().relative(light)
    };
    let (there, back) = (laid(one.0, other.0), laid(other.0, one.0));
    let middle = Lab::from_relative(std::array::from_fn(|axis| 0.5 * (there[axis] + back[axis])));
    Meeting::judge(one.1, middle, other.1)
}
