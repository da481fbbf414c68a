//! How long is it? One exact length for both systems of measure.
//!
//! An inch is 2 032 000 units, so 1/64 in is 31 750 units, a thousandth of an inch 2 032 and a
//! thousandth of a millimetre 80: every length a maker writes in either system, and every
//! thickness of card, is a whole number of units, and adding, halving or changing system
//! never rounds.
//!
//! ```
//! use rosy_core::{Length, Units};
//!
//! let panel: Length = "4 1/4".parse_in(Units::Inches).unwrap();
//! assert_eq!(panel, "107.95 mm".parse_in(Units::Inches).unwrap_or(panel));
//! assert_eq!(panel.in_inches(16).to_string(), "4 1/4 in");
//! assert_eq!(Length::from_tenths_mm(1080).to_string(), "108 mm");
//! # use rosy_core::length::ParseIn;
//! ```
//!
//! What is not a length on either scale is refused with the two nearest that are:
//!
//! ```
//! # use rosy_core::{Length, Units, length::ParseIn};
//! let refused = "4 1/0".parse_in(Units::Inches).unwrap_err();
//! assert!(refused.to_string().contains("divides by nothing"));
//! ```

use std::fmt;
use std::ops::{Add, AddAssign, Div, Mul, Neg, Sub, SubAssign};
use std::str::FromStr;

use schemars::{JsonSchema, Schema, SchemaGenerator, json_schema};
use serde::{Deserialize, Deserializer, Serialize, Serializer, de};

/// Units in one inch; divisible by 128, by thousandths and, at 25.4 mm, by thousandths of a millimetre.
const PER_INCH: i64 = 2_032_000;
/// Units in a tenth of a millimetre.
const PER_TENTH_MM: i64 = 8_000;
/// What every sum of sixty-fourths of an inch and tenths of a millimetre is a multiple of: 1/8128 in.
const BOTH_MARKS: Length = Length(PER_INCH / 8128);
/// Longest text worth reading as a length.
const LONGEST_TEXT: usize = 40;
/// Longest length read, in inches: nothing on a card desk is longer than 50 in.
const LONGEST_INCHES: i64 = 50;

/// The system of measure a maker writes and reads in.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "lowercase")]
pub enum Units {
    /// Inches and their halves, quarters, … sixty-fourths.
    #[default]
    Inches,
    /// Millimetres and their tenths.
    Millimetres,
}

/// An exact length. Ordered, signed, and in JSON a text such as `"4 1/4 in"` or `"108 mm"`.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Length(i64);

impl Units {
    /// The finest mark: 1/64 in or 0.1 mm.
    pub const fn finest(self) -> Length {
        match self {
            Units::Inches => Length::from_64ths(1),
            Units::Millimetres => Length::from_tenths_mm(1),
        }
    }

    /// What thicknesses are told in: a thousandth of an inch or a hundredth of a millimetre.
    const fn thinnest(self) -> Length {
        match self {
            Units::Inches => Length(PER_INCH / 1000),
            Units::Millimetres => Length::from_hundredths_mm(1),
        }
    }

    /// The system in which all of some lengths are whole numbers of marks, the maker's own before the other.
    pub fn exact_for(own: Units, lengths: &[Length]) -> Option<Units> {
        let exact = |units: &Units| lengths.iter().all(|length| length.0 % units.finest().0 == 0);
        [own, own.other()].into_iter().find(exact)
    }

    /// The other one.
    pub const fn other(self) -> Units {
        match self {
            Units::Inches => Units::Millimetres,
            Units::Millimetres => Units::Inches,
        }
    }

    /// A mark that can be found with a pencil: 1/16 in or 1 mm.
    pub const fn pencil(self) -> Length {
        match self {
            Units::Inches => Length::from_64ths(4),
            Units::Millimetres => Length::from_tenths_mm(10),
        }
    }
}

impl Length {
    /// No length at all.
    pub const ZERO: Length = Length(0);

    /// A whole number of sixty-fourths of an inch.
    pub const fn from_64ths(n: i64) -> Length {
        Length(n * (PER_INCH / 64))
    }

    /// A whole number of inches.
    pub const fn from_inches(n: i64) -> Length {
        Length(n * PER_INCH)
    }

    /// A whole number of tenths of a millimetre.
    pub const fn from_tenths_mm(n: i64) -> Length {
        Length(n * PER_TENTH_MM)
    }

    /// A whole number of hundredths of a millimetre, as the thickness of card is given in.
    pub const fn from_hundredths_mm(n: i64) -> Length {
        Length(n * (PER_TENTH_MM / 10))
    }

    /// The length in millimetres, for computing; what is shown comes from [`Length::shown`].
    pub fn mm(self) -> f64 {
        self.0 as f64 / (PER_TENTH_MM * 10) as f64
    }

    /// The length in inches, for computing; what is shown comes from [`Length::shown`].
    pub fn inches(self) -> f64 {
        self.0 as f64 / PER_INCH as f64
    }

    /// The exact length nearest to a point on a picture, in steps of `step`.
    pub fn nearest(mm: f64, step: Length) -> Length {
        let units = mm * (PER_TENTH_MM * 10) as f64;
        Length((units / step.0 as f64).round() as i64 * step.0)
    }

    /// How many whole `step`s fit, and what is left over.
    pub fn div_rem(self, step: Length) -> (i64, Length) {
        (self.0.div_euclid(step.0), Length(self.0.rem_euclid(step.0)))
    }

    /// The ratio of two lengths.
    pub fn ratio(self, whole: Length) -> f64 {
        self.0 as f64 / whole.0 as f64
    }

    /// Scales by an exact fraction and lands on the nearest multiple of `step`.
    pub fn scaled(self, numerator: Length, denominator: Length, step: Length) -> Length {
        let exact = i128::from(self.0) * i128::from(numerator.0);
        let per = i128::from(denominator.0) * i128::from(step.0);
        let steps = (2 * exact + per).div_euclid(2 * per);
        Length(steps as i64 * step.0)
    }

    /// Two parts that make up the whole, as equal as marks of `mark` allow; the second is never the smaller.
    pub fn halved(self, mark: Length) -> (Length, Length) {
        let first = Length(self.0.div_euclid(2 * mark.0) * mark.0);
        if self.0 % 2 == 0 && (self.0 / 2) % mark.0 == 0 {
            return (Length(self.0 / 2), Length(self.0 / 2));
        }
        (first, self - first)
    }

    /// The next multiple of `mark` that is not shorter.
    pub fn up_to(self, mark: Length) -> Length {
        Length(-(-self.0).div_euclid(mark.0) * mark.0)
    }

    /// From a computed number of millimetres, to the next unit that is not shorter.
    pub fn at_least_mm(mm: f64) -> Length {
        Length((mm * (PER_TENTH_MM * 10) as f64).ceil() as i64)
    }

    /// The area of a rectangle of this and another side, in square units.
    pub const fn times(self, other: Length) -> i128 {
        self.0 as i128 * other.0 as i128
    }

    /// The magnitude.
    pub const fn abs(self) -> Length {
        Length(self.0.abs())
    }

    /// As a reduced fraction of an inch to 1/`finest` (a power of two up to 64), the nearest where
    /// the length is not one.
    pub fn in_inches(self, finest: i64) -> Shown {
        let step = PER_INCH / finest.clamp(1, 64);
        let parts = (2 * self.0.abs() + step).div_euclid(2 * step);
        let (whole, rest) = (parts / finest, parts % finest);
        let shared = gcd(rest, finest);
        Shown {
            negative: self.0 < 0 && parts > 0,
            whole,
            part: if rest == 0 { Part::None } else { Part::Fraction(rest / shared, finest / shared) },
            unit: "in",
        }
    }

    /// In millimetres to a tenth, the nearest where the length is not one.
    pub fn in_mm(self) -> Shown {
        let tenths = (2 * self.0.abs() + PER_TENTH_MM).div_euclid(2 * PER_TENTH_MM);
        Shown {
            negative: self.0 < 0 && tenths > 0,
            whole: tenths / 10,
            part: if tenths % 10 == 0 { Part::None } else { Part::Tenths(tenths % 10) },
            unit: "mm",
        }
    }

    /// As the thickness of card is read: thousandths of an inch, or millimetres to a hundredth; where it is not exact
    /// in the maker's system, with the other beside it.
    pub fn as_thickness(self, units: Units) -> String {
        let own = self.in_thousandths(units);
        if self.0 % units.thinnest().0 == 0 || self.0 % units.other().thinnest().0 != 0 {
            return own;
        }
        format!("{own} ({})", self.in_thousandths(units.other()))
    }

    /// As a thickness stands in a field: exact, with its unit.
    pub fn in_thickness_field(self, units: Units) -> String {
        let exact = [units, units.other()].into_iter().find(|units| self.0 % units.thinnest().0 == 0);
        exact.map_or_else(|| self.to_string(), |units| self.in_thousandths(units))
    }

    fn in_thousandths(self, units: Units) -> String {
        let (parts, digits, unit) = match units {
            Units::Inches => (1000, 3, "in"),
            Units::Millimetres => (100, 2, "mm"),
        };
        let step = units.thinnest().0;
        let steps = (2 * self.0 + step).div_euclid(2 * step);
        let decimals = format!("{:0digits$}", steps % parts);
        match decimals.trim_end_matches('0') {
            "" => format!("{} {unit}", steps / parts),
            decimals => format!("{}.{decimals} {unit}", steps / parts),
        }
    }

    /// In words, with its unit, as the maker reads lengths; where it is not on that scale, about what it is.
    pub fn said(self, units: Units) -> String {
        let about = if self.is_exact_in(units) { "" } else { "about " };
        format!("{about}{}", self.shown(units))
    }

    /// Whether it is a whole number of a system's finest marks.
    pub const fn is_exact_in(self, units: Units) -> bool {
        self.0 % units.finest().0 == 0
    }

    /// As it stands in a field, where a bare number is of the maker's system: reading it back gives the same length.
    pub fn in_field(self, units: Units) -> String {
        match Units::exact_for(units, &[self]) {
            Some(exact) if exact == units => self.shown(units).number(),
            _ => self.to_string(),
        }
    }

    /// As the maker chose to read it: inches to 1/16 (finer where it needs to be), or millimetres.
    pub fn shown(self, units: Units) -> Shown {
        match units {
            Units::Inches if self.0 % (PER_INCH / 16) == 0 => self.in_inches(16),
            Units::Inches => self.in_inches(64),
            Units::Millimetres => self.in_mm(),
        }
    }
}

/// A length made ready for reading: whole part, fraction or tenths, unit.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Shown {
    /// Below zero.
    pub negative: bool,
    /// Whole inches or millimetres.
    pub whole: i64,
    /// What comes after them.
    pub part: Part,
    /// `in` or `mm`.
    pub unit: &'static str,
}

/// The part of a shown length after the whole number.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Part {
    /// Nothing.
    None,
    /// A reduced fraction.
    Fraction(i64, i64),
    /// Tenths.
    Tenths(i64),
}

impl Shown {
    /// The number without its unit.
    pub fn number(&self) -> String {
        let sign = if self.negative { "-" } else { "" };
        match (self.whole, self.part) {
            (whole, Part::None) => format!("{sign}{whole}"),
            (0, Part::Fraction(n, d)) => format!("{sign}{n}/{d}"),
            (whole, Part::Fraction(n, d)) => format!("{sign}{whole} {n}/{d}"),
            (whole, Part::Tenths(t)) => format!("{sign}{whole}.{t}"),
        }
    }
}

impl fmt::Display for Shown {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{} {}", self.number(), self.unit)
    }
}

/// The exact text of a length: inches where it is a 64th, otherwise millimetres with as many decimals as
/// it takes. Reading it back gives the same length.
impl fmt::Display for Length {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        if self.0 % (PER_INCH / 64) == 0 {
            return self.in_inches(64).fmt(f);
        }
        // A unit is 1/80 000 mm: seven decimals are exact.
        let (per_mm, sign) = (PER_TENTH_MM * 10, if self.0 < 0 { "-" } else { "" });
        let (whole, rest) = (self.0.abs() / per_mm, self.0.abs() % per_mm);
        let decimals = format!("{:07}", rest * (10_000_000 / per_mm));
        match decimals.trim_end_matches('0') {
            "" => write!(f, "{sign}{whole} mm"),
            decimals => write!(f, "{sign}{whole}.{decimals} mm"),
        }
    }
}

/// Why a text is not a length, and what to write instead.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum LengthError {
    /// Nothing was written.
    #[error("no length was given: write one such as 4 1/4 in or 108 mm")]
    Empty,
    /// Not a number, a fraction or a mixed number with a unit.
    #[error("“{0}” is not a length: write it as 4 1/4 in, 4.25 in, 108 mm or 10.8 cm")]
    NotALength(String),
    /// A fraction over zero.
    #[error("“{0}” divides by nothing: the number under the stroke must be 1 or more, as in 4 1/4")]
    OverZero(String),
    /// Neither on the 1/64 in nor on the 0.1 mm scale.
    #[error("“{text}” falls between the marks: the nearest are {below} and {above}")]
    BetweenMarks {
        /// What was written.
        text: String,
        /// The nearest mark below.
        below: String,
        /// The nearest mark above.
        above: String,
    },
    /// Longer than anything on a card desk.
    #[error("“{0}” is longer than 50 in (1270 mm): check the unit")]
    TooLong(String),
}

/// Reading a text as a length in the units meant where none is written.
pub trait ParseIn {
    /// Reads `4 1/4`, `4-1/4 in`, `4.25"`, `108 mm`, `10.8cm`.
    ///
    /// # Errors
    /// A [`LengthError`] with the text and the remedy.
    fn parse_in(&self, units: Units) -> Result<Length, LengthError>;
}

impl ParseIn for str {
    fn parse_in(&self, units: Units) -> Result<Length, LengthError> {
        let (length, mark) = exactly(self, units)?;
        if length.div_rem(BOTH_MARKS).1 == Length::ZERO {
            Ok(length)
        } else {
            Err(between(self, length, mark))
        }
    }
}

/// Reads any length that is a whole number of units, with the mark of the system it is written in.
fn exactly(text: &str, units: Units) -> Result<(Length, Length), LengthError> {
    let text = text.trim();
    if text.is_empty() {
        return Err(LengthError::Empty);
    }
    if text.chars().count() > LONGEST_TEXT {
        let start: String = text.chars().take(LONGEST_TEXT).collect();
        return Err(LengthError::NotALength(format!("{start}…")));
    }
    let lower = text.to_lowercase().replace(['′', '″', '”', '“'], "\"");
    let (number, unit) = split_unit(&lower);
    let scale = match unit {
        "" if units == Units::Inches => Scale::Inches,
        "" => Scale::Millimetres,
        "in" | "in." | "inch" | "inches" | "\"" | "\"\"" | "''" => Scale::Inches,
        "mm" => Scale::Millimetres,
        "cm" => Scale::Centimetres,
        _ => return Err(LengthError::NotALength(text.into())),
    };
    let (numerator, denominator) = rational(number, text)?;
    let (per, mark) = match scale {
        Scale::Inches => (i128::from(PER_INCH), Length::from_64ths(1)),
        Scale::Millimetres => (i128::from(PER_TENTH_MM * 10), Length::from_tenths_mm(1)),
        Scale::Centimetres => (i128::from(PER_TENTH_MM * 100), Length::from_tenths_mm(1)),
    };
    let units_over = numerator * per;
    if units_over.abs() > i128::from(LONGEST_INCHES * PER_INCH) * denominator {
        return Err(LengthError::TooLong(text.into()));
    }
    if units_over % denominator == 0 {
        return Ok((Length((units_over / denominator) as i64), mark));
    }
    Err(between(text, Length(units_over.div_euclid(denominator) as i64), mark))
}

impl FromStr for Length {
    type Err = LengthError;
    /// Reads an exact text: any sum of marks of both systems; a bare number is inches.
    fn from_str(text: &str) -> Result<Length, LengthError> {
        text.parse_in(Units::Inches)
    }
}

/// The refusal of a text, with the marks on both sides of it.
fn between(text: &str, below: Length, mark: Length) -> LengthError {
    let marks = below.div_rem(mark).0;
    let at = |n: i64| (mark * n).to_string();
    LengthError::BetweenMarks { text: text.trim().into(), below: at(marks), above: at(marks + 1) }
}

/// Thickness of card, foam and cards made of them, in documents: read to any whole unit, as `0.22 mm` or `0.012 in`.
pub mod thickness {
    use super::{Length, LengthError, Units, exactly};
    use serde::{Deserialize, Deserializer, Serializer, de};

    /// Reads it from a text with its unit.
    ///
    /// # Errors
    /// A [`LengthError`] with the remedy.
    pub fn read(text: &str) -> Result<Length, LengthError> {
        read_in(text, Units::Inches)
    }

    /// Reads it in the units meant where none is written.
    ///
    /// # Errors
    /// A [`LengthError`] with the remedy.
    pub fn read_in(text: &str, units: Units) -> Result<Length, LengthError> {
        exactly(text, units).map(|(length, _)| length)
    }

    /// Writes it.
    ///
    /// # Errors
    /// The writer's.
    pub fn serialize<S: Serializer>(length: &Length, to: S) -> Result<S::Ok, S::Error> {
        to.collect_str(length)
    }

    /// Reads it.
    ///
    /// # Errors
    /// Where it is no length, with the remedy.
    pub fn deserialize<'de, D: Deserializer<'de>>(from: D) -> Result<Length, D::Error> {
        let text = String::deserialize(from)?;
        read(&text).map_err(de::Error::custom)
    }

    /// Where there may be none.
    pub mod option {
        use super::{Deserialize, Deserializer, Length, Serializer};

        /// Writes it.
        ///
        /// # Errors
        /// The writer's.
        pub fn serialize<S: Serializer>(length: &Option<Length>, to: S) -> Result<S::Ok, S::Error> {
            match length {
                Some(length) => to.collect_str(length),
                None => to.serialize_none(),
            }
        }

        /// Reads it.
        ///
        /// # Errors
        /// Where it is no length, with the remedy.
        pub fn deserialize<'de, D: Deserializer<'de>>(from: D) -> Result<Option<Length>, D::Error> {
            #[derive(Deserialize)]
            struct Some(#[serde(with = "super")] Length);
            Ok(Option::<Some>::deserialize(from)?.map(|some| some.0))
        }
    }
}

enum Scale {
    Inches,
    Millimetres,
    Centimetres,
}

fn split_unit(text: &str) -> (&str, &str) {
    let at = text.find(|c: char| !(c.is_ascii_digit() || " ./-+,".contains(c) || vulgar(c).is_some()));
    let (number, unit) = text.split_at(at.unwrap_or(text.len()));
    (number.trim(), unit.trim())
}

/// Fractions that stand as one character.
fn vulgar(c: char) -> Option<&'static str> {
    Some(match c {
        '¼' => "1/4",
        '½' => "1/2",
        '¾' => "3/4",
        '⅛' => "1/8",
        '⅜' => "3/8",
        '⅝' => "5/8",
        '⅞' => "7/8",
        _ => return None,
    })
}

/// Reads `4`, `4.25`, `4,25`, `1/4`, `4 1/4` or `4-1/4` as an exact fraction.
fn rational(number: &str, text: &str) -> Result<(i128, i128), LengthError> {
    let nonsense = || LengthError::NotALength(text.into());
    let spelled: String =
        number.chars().map(|c| vulgar(c).map_or_else(|| c.to_string(), |part| format!(" {part}"))).collect();
    let (sign, spelled) = match spelled.trim().strip_prefix('-') {
        Some(rest) => (-1, rest.trim_start().to_owned()),
        None => (1, spelled.trim().to_owned()),
    };
    let digits = |s: &str| -> Result<i128, LengthError> {
        if s.is_empty() || s.len() > 12 || !s.bytes().all(|b| b.is_ascii_digit()) {
            return Err(nonsense());
        }
        s.parse().map_err(|_| nonsense())
    };
    let fraction = |s: &str| -> Result<(i128, i128), LengthError> {
        let (top, bottom) = s.split_once('/').ok_or_else(nonsense)?;
        let (top, bottom) = (digits(top.trim())?, digits(bottom.trim())?);
        if bottom == 0 { Err(LengthError::OverZero(text.into())) } else { Ok((top, bottom)) }
    };
    let (top, bottom) = if spelled.contains('/') {
        let stroke = spelled.find('/').unwrap_or(0);
        let before = spelled[..stroke].trim_end();
        match before.rfind([' ', '-']) {
            Some(gap) => {
                let whole = digits(spelled[..gap].trim_end_matches([' ', '-']))?;
                let (top, bottom) = fraction(&spelled[gap + 1..])?;
                (whole * bottom + top, bottom)
            }
            None => fraction(&spelled)?,
        }
    } else {
        match spelled.split_once(['.', ',']) {
            Some((whole, part)) => {
                let whole = if whole.is_empty() { 0 } else { digits(whole)? };
                let scale = 10_i128.pow(part.len().min(12) as u32);
                (whole * scale + digits(part)?, scale)
            }
            None => (digits(&spelled)?, 1),
        }
    };
    Ok((sign * top, bottom))
}

const fn gcd(a: i64, b: i64) -> i64 {
    if b == 0 { if a == 0 { 1 } else { a } } else { gcd(b, a % b) }
}

impl Add for Length {
    type Output = Length;
    fn add(self, other: Length) -> Length {
        Length(self.0 + other.0)
    }
}
impl Sub for Length {
    type Output = Length;
    fn sub(self, other: Length) -> Length {
        Length(self.0 - other.0)
    }
}
impl std::iter::Sum for Length {
    fn sum<I: Iterator<Item = Length>>(lengths: I) -> Length {
        lengths.fold(Length::ZERO, Add::add)
    }
}
impl AddAssign for Length {
    fn add_assign(&mut self, other: Length) {
        self.0 += other.0;
    }
}
impl SubAssign for Length {
    fn sub_assign(&mut self, other: Length) {
        self.0 -= other.0;
    }
}
impl Neg for Length {
    type Output = Length;
    fn neg(self) -> Length {
        Length(-self.0)
    }
}
impl Mul<i64> for Length {
    type Output = Length;
    fn mul(self, times: i64) -> Length {
        Length(self.0 * times)
    }
}
/// Whole division, towards nothing; halves of marks are exact.
impl Div<i64> for Length {
    type Output = Length;
    fn div(self, by: i64) -> Length {
        Length(self.0 / by)
    }
}

impl Serialize for Length {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_str(self)
    }
}

impl<'de> Deserialize<'de> for Length {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Length, D::Error> {
        let text = String::deserialize(deserializer)?;
        text.parse().map_err(de::Error::custom)
    }
}

impl JsonSchema for Length {
    fn schema_name() -> std::borrow::Cow<'static, str> {
        "Length".into()
    }
    fn json_schema(_: &mut SchemaGenerator) -> Schema {
        json_schema!({
            "type": "string",
            "description": "An exact length with its unit: a fraction or decimal of an inch, or millimetres. What a maker measures is given to 1/64 in or 0.1 mm; the thickness of card more finely.",
            "examples": ["4 1/4 in", "4.25 in", "108 mm", "10.8 cm"]
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn read(text: &str) -> Length {
        text.parse_in(Units::Inches).unwrap()
    }

    #[test]
    fn sizes_are_read_as_people_write_them() {
        let quarter_past_four = Length::from_64ths(4 * 64 + 16);
        for text in ["4 1/4", "4-1/4 in", "4.25\"", "4,25 in", "17/4 in", "4¼", " 4  1/4 inches", "4 - 1/4"]
        {
            assert_eq!(text.parse_in(Units::Inches), Ok(quarter_past_four), "{text}");
        }
        for text in ["108", "108 mm", "10.8cm", "10,8 cm", "108.0mm"] {
            assert_eq!(text.parse_in(Units::Millimetres), Ok(Length::from_tenths_mm(1080)), "{text}");
        }
        assert_eq!(read("25.4 mm"), read("1 in"));
        assert_eq!(read("-1/8"), Length::from_64ths(-8));
    }

    #[test]
    fn nonsense_is_refused_with_the_remedy() {
        for (text, says) in [
            ("", "no length"),
            ("4 1/0 in", "divides by nothing"),
            ("wide", "write it as"),
            ("4 1/4 ft", "write it as"),
            ("1/2/3", "write it as"),
            ("4 1 1/4", "write it as"),
            ("4.3 in", "4 19/64 in and 4 5/16 in"),
            ("10.33 mm", "10.3 mm and 10.4 mm"),
            ("3 000 mm", "write it as"),
            ("3000 mm", "longer than 50 in"),
            (&"9".repeat(10_000), "write it as"),
        ] {
            let error = text.parse_in(Units::Inches).unwrap_err().to_string();
            assert!(error.contains(says), "{text:.20}: {error}");
            assert!(error.chars().count() < 200);
        }
    }

    #[test]
    fn thicknesses_are_read_and_shown_finely() {
        let fine = |text: &str| exactly(text, Units::Inches).unwrap().0;
        assert_eq!(fine("0.22 mm"), Length::from_hundredths_mm(22));
        assert!("0.22 mm".parse::<Length>().is_err(), "no maker measures a hundredth of a millimetre");
        assert_eq!(fine("0.22 mm").as_thickness(Units::Millimetres), "0.22 mm");
        assert_eq!(fine("0.3 mm").as_thickness(Units::Inches), "0.012 in (0.3 mm)");
        assert_eq!(fine("0.3 mm").in_thickness_field(Units::Inches), "0.3 mm");
        assert_eq!(fine("0.012 in").as_thickness(Units::Inches), "0.012 in");
        assert_eq!(Length::from_tenths_mm(20).as_thickness(Units::Millimetres), "2 mm");
    }

    #[test]
    fn what_is_on_the_other_scale_alone_is_said_on_it() {
        let a4 = Length::from_tenths_mm(2_100);
        assert_eq!(a4.said(Units::Inches), "about 8 17/64 in");
        assert_eq!(Length::from_64ths(9).said(Units::Millimetres), "about 3.6 mm");
        assert_eq!((a4 - Length::from_64ths(9)).said(Units::Inches), "about 8 1/8 in");
    }

    #[test]
    fn fractions_are_shown_reduced() {
        assert_eq!(read("4.25").in_inches(16).to_string(), "4 1/4 in");
        assert_eq!(read("0.5").in_inches(64).to_string(), "1/2 in");
        assert_eq!(read("107.95 mm").in_inches(64).to_string(), "4 1/4 in");
        assert_eq!(read("5 63/64").in_inches(8).to_string(), "6 in");
        assert_eq!(read("1/64").shown(Units::Millimetres).to_string(), "0.4 mm");
    }

    proptest! {
        #[test]
        fn every_length_survives_its_own_text(units in -100_000_000_i64..100_000_000) {
            let (fine, length) = (Length(units), BOTH_MARKS * (units / BOTH_MARKS.0));
            prop_assert_eq!(length.to_string().parse::<Length>().unwrap(), length);
            prop_assert_eq!(exactly(&fine.to_string(), Units::Inches).unwrap().0, fine);
        }

        #[test]
        fn marks_of_either_scale_survive_being_shown(n in 0_i64..3_000) {
            let inch = Length::from_64ths(n);
            prop_assert_eq!(inch.shown(Units::Inches).to_string().parse::<Length>().unwrap(), inch);
            let mm = Length::from_tenths_mm(n);
            prop_assert_eq!(mm.shown(Units::Millimetres).to_string().parse::<Length>().unwrap(), mm);
        }

        #[test]
        fn what_stands_in_a_field_is_read_back_the_same(n in 0_i64..1_000, m in 0_i64..3_000) {
            let length = Length::from_64ths(n) + Length::from_tenths_mm(m);
            for units in [Units::Inches, Units::Millimetres] {
                prop_assert_eq!(length.in_field(units).parse_in(units), Ok(length));
            }
        }

        #[test]
        fn halves_make_up_the_whole(n in 0_i64..3_000) {
            for (units, length) in
                [(Units::Inches, Length::from_64ths(n)), (Units::Millimetres, Length::from_tenths_mm(n))]
            {
                let (one, other) = length.halved(units.finest());
                prop_assert_eq!(one + other, length);
                prop_assert!(one <= other && other - one <= units.finest());
                prop_assert_eq!(one.div_rem(units.finest()).1, Length::ZERO);
            }
        }

        #[test]
        fn adding_is_exact_across_the_two_systems(a in 0_i64..3_000, b in 0_i64..3_000) {
            let (inch, mm) = (Length::from_64ths(a), Length::from_tenths_mm(b));
            prop_assert_eq!(inch + mm - inch, mm);
            prop_assert!((inch.inches() * 25.4 - inch.mm()).abs() < 1e-9);
        }
    }
}
