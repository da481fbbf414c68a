//! How is what was written in a field, or held in a hand, read?

use std::borrow::Cow;

use schemars::{JsonSchema, Schema, SchemaGenerator};
use serde::de::{DeserializeOwned, Deserializer, Error};
use serde::{Deserialize, Serialize, Serializer};

use crate::length::Length;
use crate::moves::telling::none_of;
use crate::panel::Panel;
use crate::place::Point;

/// Farthest something is moved by keys at once, in pencil marks.
pub const MOST_MARKS: i32 = 2_000;

/// A field of a page, and what was written in it, as it is sent.
pub trait Field: DeserializeOwned + Serialize + JsonSchema {
    /// What can be written in fields of this kind, read for what it is. Figures and names stay as the maker wrote them, and are
    /// read where it is known what they belong to.
    type Word;

    /// The word.
    ///
    /// # Errors
    /// Where there is no such word, or it is none to choose there.
    fn word(&self) -> Result<Self::Word, String>;
}

/// A word as it was written in its field: what cannot be read for what it is never becomes one.
#[derive(Clone, Debug, PartialEq)]
pub struct Written<F: Field> {
    /// Where.
    pub(super) field: F,
    /// What.
    pub(super) word: F::Word,
}

impl<'de, F: Field> Deserialize<'de> for Written<F> {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Written<F>, D::Error> {
        let field = F::deserialize(deserializer)?;
        let word = field.word().map_err(D::Error::custom)?;
        Ok(Written { field, word })
    }
}

impl<F: Field> Serialize for Written<F> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.field.serialize(serializer)
    }
}

impl<F: Field> JsonSchema for Written<F> {
    fn schema_name() -> Cow<'static, str> {
        F::schema_name()
    }

    fn json_schema(generator: &mut SchemaGenerator) -> Schema {
        F::json_schema(generator)
    }
}

/// One of a few words to choose from.
pub fn choice<T: DeserializeOwned>(word: &str) -> Result<T, String> {
    serde_json::from_value(word.into()).map_err(|_| none_of(word))
}

/// Which of two words was chosen.
pub fn either(word: &str, yes: &str, no: &str) -> Result<bool, String> {
    match word {
        word if word == yes => Ok(true),
        word if word == no => Ok(false),
        _ => Err(none_of(word)),
    }
}

/// A place in a list.
pub fn place<T: std::str::FromStr>(text: &str) -> Result<T, String> {
    text.parse().map_err(|_| none_of(text))
}

/// A place given in shares of a panel's sides, in millimetres; no further beside the panel than `beside` of its sides.
pub fn in_mm(panel: &Panel, (across, down): (f64, f64), beside: f64) -> Result<(f64, f64), String> {
    if !(across.is_finite() && down.is_finite()) {
        return Err("That place is nowhere: take hold of it again.".into());
    }
    let share = |share: f64| share.clamp(-beside, 1.0 + beside);
    Ok((share(across) * panel.width.mm(), share(down) * panel.height.mm()))
}

/// A place given in shares of a panel's sides, to the nearest mark, no further beside it than half as wide.
pub fn somewhere(panel: &Panel, across: f64, down: f64, mark: Length) -> Result<Point, String> {
    Ok(Point::nearest(in_mm(panel, (across, down), 0.5)?, mark))
}

/// A place moved by pencil marks.
pub fn nudged(at: Point, (right, down): (i32, i32), mark: Length) -> Point {
    let marks = |n: i32| mark * i64::from(n.clamp(-MOST_MARKS, MOST_MARKS));
    Point { left: at.left + marks(right), top: at.top + marks(down) }
}

/// The nearest place on a panel.
pub fn on(at: Point, (width, height): (Length, Length)) -> Point {
    Point { left: at.left.clamp(Length::ZERO, width), top: at.top.clamp(Length::ZERO, height) }
}
