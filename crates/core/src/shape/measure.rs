//! What is a shape measured by?

use std::collections::BTreeMap;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::length::{Length, Units};

/// What a measure is.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Kind {
    /// A length: as it is to begin with, the least and the most, in sixty-fourths of an inch.
    Length(i64, i64, i64),
    /// A number: as it is to begin with, the least and the most.
    Number(u32, u32, u32),
}

/// One measure of a family.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Measure {
    /// What documents call it.
    pub key: &'static str,
    /// What the maker reads.
    pub words: &'static str,
    /// What it can be.
    pub kind: Kind,
}

/// A length: as it is to begin with, the least and the most, in sixty-fourths of an inch.
pub const fn long(key: &'static str, words: &'static str, usual: i64, least: i64, most: i64) -> Measure {
    Measure { key, words, kind: Kind::Length(usual, least, most) }
}

/// A number: as it is to begin with, the least and the most.
pub const fn number(key: &'static str, words: &'static str, usual: u32, least: u32, most: u32) -> Measure {
    Measure { key, words, kind: Kind::Number(usual, least, most) }
}

/// Measures of a shape, as they are drawn.
#[derive(Debug)]
pub struct Given<'a> {
    /// The measures of its family, where one is not given.
    pub usual: &'static [Measure],
    /// Those that are given, by name.
    pub measures: &'a BTreeMap<String, Value>,
    /// The letters of a word.
    pub letters: &'a str,
}

impl Given<'_> {
    fn value(&self, key: &str) -> Value {
        let usual = || self.usual.iter().find(|measure| measure.key == key).map(|measure| measure.usual());
        // A family only draws by its own measures.
        self.measures.get(key).copied().or_else(usual).unwrap_or(Value::Number(0))
    }

    /// A length, in millimetres.
    pub fn mm(&self, key: &str) -> f64 {
        match self.value(key) {
            Value::Length(length) => length.mm(),
            Value::Number(_) => 0.0,
        }
    }

    /// A number.
    pub fn number(&self, key: &str) -> u32 {
        match self.value(key) {
            Value::Number(number) => number,
            Value::Length(_) => 0,
        }
    }
}

/// A measure's value.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(untagged)]
pub enum Value {
    /// A number.
    Number(u32),
    /// A length.
    Length(Length),
}

impl Measure {
    /// As it is to begin with.
    pub const fn usual(&self) -> Value {
        match self.kind {
            Kind::Length(usual, ..) => Value::Length(Length::from_64ths(usual)),
            Kind::Number(usual, ..) => Value::Number(usual),
        }
    }

    /// The same in a maker's own system: in millimetres whole ones, and from two centimetres on by fives.
    pub fn usual_in(&self, units: Units) -> Value {
        match (self.usual(), units) {
            (Value::Length(length), Units::Millimetres) => {
                let by = if length < Length::from_tenths_mm(200) { 10 } else { 50 };
                let by = Length::from_tenths_mm(by);
                Value::Length(Length::nearest(length.mm(), by).max(by))
            }
            (usual, _) => usual,
        }
    }

    /// Whether it can be this.
    pub fn takes(&self, value: Value) -> bool {
        match (self.kind, value) {
            (Kind::Length(_, least, most), Value::Length(length)) => {
                (Length::from_64ths(least)..=Length::from_64ths(most)).contains(&length)
            }
            (Kind::Number(_, least, most), Value::Number(number)) => (least..=most).contains(&number),
            _ => false,
        }
    }

    /// What it can be, in words.
    pub fn range(&self) -> String {
        match self.kind {
            Kind::Length(_, least, most) => {
                format!("a length from {} to {}", Length::from_64ths(least), Length::from_64ths(most))
            }
            Kind::Number(_, least, most) => format!("a number from {least} to {most}"),
        }
    }
}
