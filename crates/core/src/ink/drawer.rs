//! What does a maker own: inks and papers?

use std::fmt;
use std::str::FromStr;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::family::Family;
use super::film::Film;
use super::kind::Kind;
use super::measured::{BRIGHT_WHITE, bright_white};
use crate::colour::{Colour, ColourError, Illuminant, Lab, Spectrum};
use crate::length::{Length, LengthError, Units, thickness};

/// Most characters in a name.
pub const LONGEST_NAME: usize = 80;
/// Most light passes a full swatch may stand for.
pub const MOST_VEILS: u8 = 24;
/// What of an ink may be taken on other ink, in hundredths.
pub const ON_INK: std::ops::RangeInclusive<u8> = 30..=120;
/// Most inks of a panel.
pub const MOST_INKS: usize = 12;
/// Thicknesses of card with the weights makers know them by (published for usual card).
pub const CARD_LB: [(u32, Length); 2] =
    [(110, Length::from_tenths_mm(3)), (80, Length::from_hundredths_mm(22))];
/// Most tools of one name.
pub const MOST_ALIKE: u8 = 24;

/// What stands in the way of keeping an ink, a paper or a tool.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum DrawerError {
    /// Nothing to call it by.
    #[error("a name is missing: write one, such as what is on the lid or the packet")]
    NoName,
    /// A name that would not fit any list.
    #[error("the name has {0} characters: keep it to {LONGEST_NAME}")]
    LongName(usize),
    /// Line breaks and the like.
    #[error("the name has a character that cannot be shown: keep it to letters, figures and signs")]
    OddName,
    /// A colour no surface has.
    #[error(transparent)]
    Colour(#[from] ColourError),
    /// Too few or too many veils.
    #[error("the full swatch took {0} light passes: give a number from 2 to {MOST_VEILS}")]
    FullVeils(u8),
    /// Taken hardly at all, or far better, on other ink.
    #[error("{0} % of it is taken on other ink: give {least} to {most} %, or leave it out", least = ON_INK.start(), most = ON_INK.end())]
    OnInk(u8),
    /// A single veil darker than the full swatch.
    #[error("one light pass is darker than the full swatch: check which swatch is which")]
    DarkVeil,
    /// More or fewer tools of a name than anyone has.
    #[error("{0} alike: give a number from 1 to {MOST_ALIKE}")]
    Alike(u8),
    /// Card of no thickness or too thick to be card.
    #[error("card is 0.1 to 2 mm (0.004 to 0.08 in) thick, not {}", .0.as_thickness(Units::Millimetres))]
    Thickness(Length),
}

/// The name of a thing in the drawer or of a panel: one line of 1 to 80 characters.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(try_from = "String", into = "String")]
#[schemars(with = "String", extend("minLength" = 1, "maxLength" = 80))]
pub struct Name(String);

impl Name {
    /// The text.
    pub fn as_str(&self) -> &str {
        &self.0
    }

    /// The name with something after it, no longer than a name may be.
    #[must_use]
    pub fn with_tail(&self, tail: &str) -> Name {
        let room = LONGEST_NAME.saturating_sub(tail.chars().count());
        let start: String = self.0.chars().take(room).collect();
        format!("{start}{tail}").parse().unwrap_or_else(|_| self.clone())
    }
}

impl FromStr for Name {
    type Err = DrawerError;
    fn from_str(text: &str) -> Result<Name, DrawerError> {
        let shown: String = text.chars().filter(|c| !is_unseen(*c)).collect();
        let text = shown.trim();
        match text.chars().count() {
            0 => Err(DrawerError::NoName),
            // Joiners alone join nothing.
            _ if text.chars().all(|c| matches!(c, '\u{200c}' | '\u{200d}' | ' ')) => Err(DrawerError::NoName),
            n if n > LONGEST_NAME => Err(DrawerError::LongName(n)),
            _ if text.chars().any(char::is_control) => Err(DrawerError::OddName),
            _ => Ok(Name(text.to_owned())),
        }
    }
}

/// Signs that take no room and join no letters: a name is told by what is seen of it.
const fn is_unseen(c: char) -> bool {
    matches!(c, '\u{ad}' | '\u{34f}' | '\u{180e}' | '\u{200b}' | '\u{200e}' | '\u{200f}' | '\u{202a}'..='\u{202e}'
        | '\u{2060}'..='\u{206f}' | '\u{feff}' | '\u{115f}' | '\u{1160}' | '\u{3164}' | '\u{ffa0}')
}

impl TryFrom<String> for Name {
    type Error = DrawerError;
    fn try_from(text: String) -> Result<Name, DrawerError> {
        text.parse()
    }
}

impl From<Name> for String {
    fn from(name: Name) -> String {
        name.0
    }
}

impl fmt::Display for Name {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0)
    }
}

/// An ink. Its swatches are colours on bright white card.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Ink {
    /// What is on the lid.
    pub name: Name,
    /// Dye, oxide or pigment.
    #[serde(default)]
    pub kind: Kind,
    /// The full swatch.
    pub colour: Colour,
    /// A swatch of one light pass, where the maker has made one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub one_veil: Option<Colour>,
    /// How many light passes the full swatch stands for, 2 to 24.
    #[serde(default = "usual_full_veils")]
    pub full_veils: u8,
    /// How much of it is taken on a full swatch of other ink, in hundredths of what bare card takes, 30 to 120, where the maker has
    /// made a patch of it over another; usually 80.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on_ink: Option<u8>,
}

pub(super) fn usual_full_veils() -> u8 {
    7
}

impl Ink {
    /// Whether it is the same ink by its lid: of one name, whatever the size of its letters, and of one kind.
    pub fn is_called_as(&self, other: &Ink) -> bool {
        self.kind == other.kind && self.name.as_str().to_lowercase() == other.name.as_str().to_lowercase()
    }

    /// Refuses what no ink can be.
    ///
    /// # Errors
    /// A [`DrawerError`] with the remedy.
    pub fn check(&self) -> Result<(), DrawerError> {
        let full = self.colour.lab(Illuminant::D65)?;
        if !(2..=MOST_VEILS).contains(&self.full_veils) {
            return Err(DrawerError::FullVeils(self.full_veils));
        }
        if let Some(share) = self.on_ink.filter(|share| !ON_INK.contains(share)) {
            return Err(DrawerError::OnInk(share));
        }
        if let Some(one) = self.one_veil
            && one.lab(Illuminant::D65)?.l < full.l
            && self.kind != Kind::Pigment
        {
            return Err(DrawerError::DarkVeil);
        }
        Ok(())
    }

    /// The full swatch's colour.
    pub fn lab(&self) -> Lab {
        self.colour.lab(Illuminant::D65).unwrap_or(BRIGHT_WHITE)
    }

    /// Its film; amounts in it are shares of the full swatch.
    pub fn film(&self) -> Film {
        let card = bright_white();
        let on_card = |colour: Colour| colour.on(card, Illuminant::D65).ok();
        let full = on_card(self.colour).unwrap_or(*card);
        let film = Film::of_reflectance(&full, card, self.kind);
        let film = match self.on_ink {
            Some(share) => film.with_trapping(f64::from(share) / 100.0),
            None => film,
        };
        match self.one_veil.and_then(on_card) {
            Some(one) => film.with_thin_reflectance(&one, card, 1.0 / f64::from(self.full_veils)),
            None => film,
        }
    }

    /// The colour family, by the name of its full swatch.
    pub fn family(&self) -> Family {
        Family::of(self.lab())
    }

    /// Whether it is white: a light ink that covers and has no colour of its own. Neon that covers is none.
    pub fn is_white(&self) -> bool {
        let Lab { l, a, b } = self.lab();
        self.kind == Kind::Pigment && l > WHITE_FROM && a.hypot(b) < WHITE_WITHIN
    }
}

/// L* above which, and chroma (CIELAB) below which, ink that covers is white: one grain of other ink shows in it (chosen).
const WHITE_FROM: f64 = 85.0;
const WHITE_WITHIN: f64 = 8.0;

/// How a card takes ink.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Finish {
    /// Very smooth and heavy: blends easily and evenly.
    #[default]
    VerySmooth,
    /// Ordinary card: blends splotchily.
    Ordinary,
    /// Takes water without pilling; a tooth that shows.
    Watercolour,
    /// Between the two.
    MixedMedia,
}

impl Finish {
    /// Every surface.
    pub const ALL: [Finish; 4] =
        [Finish::VerySmooth, Finish::Ordinary, Finish::Watercolour, Finish::MixedMedia];

    /// The words for it.
    pub const fn words(self) -> &'static str {
        match self {
            Finish::VerySmooth => "very smooth",
            Finish::Ordinary => "ordinary",
            Finish::Watercolour => "watercolour",
            Finish::MixedMedia => "mixed media",
        }
    }

    /// Factor on a veil's unevenness, against very smooth card (chosen).
    pub const fn unevenness(self) -> f64 {
        match self {
            Finish::VerySmooth => 1.0,
            Finish::Ordinary => 1.9,
            Finish::Watercolour => 1.35,
            Finish::MixedMedia => 1.25,
        }
    }

    /// How far the card's tooth lightens and darkens the ink, as a share (chosen).
    pub const fn tooth(self) -> f64 {
        match self {
            Finish::VerySmooth => 0.018,
            Finish::Ordinary => 0.030,
            Finish::Watercolour => 0.055,
            Finish::MixedMedia => 0.042,
        }
    }

    /// Light passes of all inks together that it holds before it pills or stops taking up (chosen).
    pub const fn holds(self) -> u32 {
        match self {
            Finish::VerySmooth => 16,
            Finish::Ordinary => 11,
            Finish::Watercolour => 18,
            Finish::MixedMedia => 18,
        }
    }

    /// Pumps of mist that it drinks before it buckles and pills (chosen).
    pub const fn drinks(self) -> f64 {
        match self {
            Finish::VerySmooth => 4.0,
            Finish::Ordinary => 3.0,
            Finish::Watercolour => 12.0,
            Finish::MixedMedia => 9.0,
        }
    }
}

/// A card stock.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Paper {
    /// What the maker calls it.
    pub name: Name,
    /// Its bare colour.
    pub colour: Colour,
    /// How it takes ink.
    #[serde(default)]
    pub surface: Finish,
    /// Thickness of one sheet.
    #[serde(with = "crate::length::thickness")]
    #[schemars(with = "Length")]
    pub thickness: Length,
}

impl Paper {
    /// White card of usual thickness, where a maker has none of her own.
    ///
    /// # Panics
    /// Never: its name is one.
    pub fn plain(surface: Finish) -> Paper {
        let name = "White card".parse().expect("a name of ten letters");
        Paper { name, colour: Colour::Lab(BRIGHT_WHITE), surface, thickness: Length::from_tenths_mm(3) }
    }

    /// Refuses what no card can be.
    ///
    /// # Errors
    /// A [`DrawerError`] with the remedy.
    pub fn check(&self) -> Result<(), DrawerError> {
        self.colour.lab(Illuminant::D65)?;
        let thick = Length::from_tenths_mm(1)..=Length::from_tenths_mm(20);
        if thick.contains(&self.thickness) { Ok(()) } else { Err(DrawerError::Thickness(self.thickness)) }
    }

    /// Its bare colour.
    pub fn lab(&self) -> Lab {
        self.colour.lab(Illuminant::D65).unwrap_or(BRIGHT_WHITE)
    }

    /// Its bare reflectance.
    pub fn reflectance(&self) -> Spectrum {
        let own = self.colour.spectrum(Illuminant::D65);
        own.unwrap_or_else(|_| Spectrum::of(BRIGHT_WHITE, Illuminant::D65))
    }
}

/// Thickness of a sheet from what a maker knows of it: a thickness, or the weight on the packet. `110 lb` cover is 0.3 mm
/// and `80 lb` 0.22 mm (published for usual card); between and beyond, thickness goes with weight. A pound of cover
/// stock is 2.708 g/m² (500 sheets of 20 × 26 in, ISO 536 and ASTM D646).
///
/// # Errors
/// A [`LengthError`] with the remedy.
pub fn card_thickness(text: &str, units: Units) -> Result<Length, LengthError> {
    let lower = text.trim().to_lowercase();
    let weights = [
        ("lb", 1.0),
        ("lbs", 1.0),
        ("#", 1.0),
        ("gsm", 1.0 / 2.708),
        ("g/m²", 1.0 / 2.708),
        ("g/m2", 1.0 / 2.708),
    ];
    let weight = weights.into_iter().find_map(|(unit, pounds)| {
        let number = lower.strip_suffix(unit)?.trim().replace(',', ".");
        number.parse::<f64>().ok().filter(|n| n.is_finite() && *n > 0.0).map(|n| n * pounds)
    });
    match weight {
        Some(pounds) => {
            let [(heavy, thick), (light, thin)] = CARD_LB;
            let per_pound = (thick.mm() - thin.mm()) / f64::from(heavy - light);
            let mm = thin.mm() + (pounds - f64::from(light)) * per_pound;
            Ok(Length::nearest(mm.clamp(0.0, 10.0), Length::from_hundredths_mm(1)))
        }
        None => thickness::read_in(text, units),
    }
}

/// The ink of a name, of a panel's own or else of the drawer; where a name stands for several, its kind follows after a comma.
///
/// # Errors
/// Where there is none, with the remedy.
pub fn named<'a>(text: &str, own: &'a [Ink], drawer: &'a [Ink]) -> Result<&'a Ink, String> {
    let name = text.trim().to_lowercase();
    let is_it = |ink: &&Ink| {
        let own = ink.name.as_str().to_lowercase();
        own == name || format!("{own}, {}", ink.kind) == name
    };
    own.iter().chain(drawer).find(is_it).ok_or_else(|| {
        format!(
            "there is no ink called {:.60}: pick one of the drawer, or tell the drawer of it",
            text.trim()
        )
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ink(lab: [f64; 3]) -> Ink {
        Ink {
            name: "Wind Sock".parse().unwrap(),
            kind: Kind::Dye,
            colour: Colour::Lab(lab.into()),
            one_veil: None,
            full_veils: 7,
            on_ink: None,
        }
    }

    #[test]
    fn names_are_one_line_of_eighty() {
        assert_eq!("  Groyne Tar ".parse::<Name>().unwrap().as_str(), "Groyne Tar");
        for nothing in ["", "  ", "\u{200b}\u{200b}", "\u{2060} \u{feff}", "\u{200d}"] {
            assert_eq!(nothing.parse::<Name>(), Err(DrawerError::NoName), "{nothing:?}");
        }
        assert_eq!("Mus\u{200b}sel".parse::<Name>().unwrap().as_str(), "Mussel");
        assert_eq!("x".repeat(10_000).parse::<Name>(), Err(DrawerError::LongName(10_000)));
        assert_eq!("a\nb".parse::<Name>(), Err(DrawerError::OddName));
    }

    #[test]
    fn card_is_as_thick_as_its_weight_says() {
        for (text, mm) in
            [("110 lb", 0.30), ("80lb", 0.22), ("298 gsm", 0.30), ("217 g/m²", 0.22), ("0.35 mm", 0.35)]
        {
            assert_eq!(card_thickness(text, Units::Inches).unwrap().mm(), mm, "{text}");
        }
        assert_eq!(card_thickness("0.3", Units::Millimetres).unwrap(), Length::from_tenths_mm(3));
        assert!(card_thickness("heavy", Units::Inches).is_err());
    }

    #[test]
    fn inks_that_cannot_be_are_refused() {
        assert!(ink([58.0, 58.0, -6.0]).check().is_ok());
        assert!(ink([158.0, 58.0, -6.0]).check().is_err());
        assert_eq!(Ink { full_veils: 0, ..ink([58.0, 0.0, 0.0]) }.check(), Err(DrawerError::FullVeils(0)));
        let dark = Some(Colour::Lab([20.0, 0.0, 0.0].into()));
        assert_eq!(Ink { one_veil: dark, ..ink([58.0, 0.0, 0.0]) }.check(), Err(DrawerError::DarkVeil));
    }
}
