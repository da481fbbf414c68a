//! Which shapes are there, and by which measures are they drawn?
//!
//! Each family is a few measures and a way to draw them. To add one: a line in [`FAMILIES`] with its words and measures,
//! and the function that draws it in [`draw`](super::draw). Pages, documents and questions read the list.

use std::collections::BTreeMap;

use kurbo::BezPath;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::draw;
use super::letters;
pub use super::measure::{Given, Kind, Measure, Value};
use super::measure::{long, number};
use super::outline::{Outline, OutlineError};
use crate::length::Units;

/// Most letters of some words.
pub const MOST_LETTERS: usize = 60;

/// A family of shapes.
#[derive(Debug)]
pub struct Family {
    /// What documents call it.
    pub key: &'static str,
    /// What the maker reads, with its article.
    pub words: &'static str,
    /// Its measures.
    pub measures: &'static [Measure],
    /// What sort of drawing it is.
    pub sort: Sort,
    draw: fn(&Given) -> BezPath,
}

/// What sort of drawing a family is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Sort {
    /// One shape by itself.
    Alone,
    /// A pattern that goes on and on, cut off where it ends.
    Pattern,
    /// The lines of such a pattern, with cells between them: too thin for a mask, they are stamped.
    Lines,
    /// A word of letters.
    Word,
}

impl Family {
    const fn of(self, sort: Sort) -> Family {
        Family { sort, ..self }
    }

    /// Whether it is a word of letters.
    pub fn is_word(&self) -> bool {
        self.sort == Sort::Word
    }

    /// Whether it is a pattern that goes on and on, cut off where it ends.
    pub const fn goes_on(&self) -> bool {
        matches!(self.sort, Sort::Pattern | Sort::Lines)
    }
}

/// An inch in sixty-fourths.
const IN: i64 = 64;
const ACROSS: Measure = long("across", "across", 2 * IN, 8, 24 * IN);
const WIDE: Measure = long("wide", "wide", 4 * IN + 16, 16, 24 * IN);
const HIGH: Measure = long("high", "high", 2 * IN, 8, 24 * IN);
/// What a pattern's openings, and the lines between them, are measured by.
const COMB: &[Measure] =
    &[WIDE, HIGH, long("cell", "a cell, flat to flat", 28, 6, 6 * IN), long("wall", "wall", 5, 1, IN)];
const BRICK: &[Measure] = &[
    WIDE,
    HIGH,
    long("brick", "a brick, wide", 40, 8, 6 * IN),
    long("course", "a brick, high", 20, 4, 6 * IN),
    long("joint", "joint", 5, 1, IN),
];
const DIAMONDS: &[Measure] = &[
    WIDE,
    HIGH,
    long("diamond", "a diamond, wide", 28, 6, 6 * IN),
    long("tall", "a diamond, high", 40, 6, 6 * IN),
    long("wall", "between them", 6, 1, IN),
];
const CHANCE: Measure = number("chance", "as chance has it", 1, 1, 999);

const fn family(
    key: &'static str,
    words: &'static str,
    measures: &'static [Measure],
    draw: fn(&Given) -> BezPath,
) -> Family {
    Family { key, words, measures, sort: Sort::Alone, draw }
}

/// All families.
pub static FAMILIES: [Family; 21] = [
    family("circle", "a circle", &[ACROSS], draw::circle),
    family("ring", "a ring", &[ACROSS, long("band", "band", 16, 4, 12 * IN)], draw::ring),
    family("crescent", "a crescent", &[ACROSS, long("thick", "thick", 32, 4, 24 * IN)], draw::crescent),
    family("strip", "a strip", &[WIDE, long("high", "high", 32, 4, 24 * IN)], draw::strip),
    family(
        "hill-line",
        "a hill line",
        &[
            WIDE,
            HIGH,
            long("rise", "rise and fall", 48, 0, 24 * IN),
            number("humps", "humps", 2, 1, 12),
            CHANCE,
        ],
        draw::hill_line,
    ),
    family(
        "cloud-edge",
        "a cloud edge",
        &[WIDE, HIGH, number("humps", "humps", 6, 2, 30), CHANCE],
        draw::cloud_edge,
    ),
    family(
        "waves",
        "waves",
        &[
            WIDE,
            HIGH,
            number("rows", "rows", 4, 1, 40),
            long("wave", "from crest to crest", 48, 8, 12 * IN),
            long("thick", "thick", 8, 2, 2 * IN),
        ],
        draw::waves,
    )
    .of(Sort::Pattern),
    family(
        "rays",
        "rays",
        &[ACROSS, long("heart", "free in the middle", 24, 0, 20 * IN), number("count", "rays", 16, 3, 72)],
        draw::rays,
    ),
    family("brick", "brick", BRICK, draw::brick).of(Sort::Pattern),
    family("joints", "brick joints", BRICK, draw::joints).of(Sort::Lines),
    family("honeycomb", "honeycomb", COMB, draw::honeycomb).of(Sort::Pattern),
    family("comb-walls", "honeycomb walls", COMB, draw::comb_walls).of(Sort::Lines),
    family(
        "stars",
        "scattered stars",
        &[
            WIDE,
            HIGH,
            long("star", "the largest", 20, 3, 4 * IN),
            number("count", "stars", 24, 1, 300),
            CHANCE,
        ],
        draw::stars,
    )
    .of(Sort::Pattern),
    family("diamonds", "diamonds", DIAMONDS, draw::diamonds).of(Sort::Pattern),
    family("lattice", "a lattice", DIAMONDS, draw::lattice).of(Sort::Lines),
    family(
        "leaf-sprig",
        "a leaf sprig",
        &[long("tall", "tall", 3 * IN, 24, 24 * IN), number("pairs", "pairs of leaves", 5, 1, 20)],
        draw::leaf_sprig,
    ),
    family("heart", "a heart", &[ACROSS], draw::heart),
    family(
        "cell",
        "a cell of even sides",
        &[long("flat", "flat to flat", IN, 8, 12 * IN), number("sides", "sides", 6, 3, 12)],
        draw::cell,
    ),
    family("word", "a word", &[long("high", "height of capitals", IN, 8, 12 * IN)], letters::word)
        .of(Sort::Word),
    family(
        "frame",
        "a frame",
        &[WIDE, long("high", "high", 5 * IN + 32, 16, 24 * IN), long("band", "band", 24, 4, 6 * IN)],
        draw::frame,
    ),
    family(
        "torn-edge",
        "a torn edge",
        &[WIDE, HIGH, long("rough", "rough", 8, 1, IN), CHANCE],
        draw::torn_edge,
    ),
];

/// A shape of a family, by its measures. What is not given is as usual.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Drawn {
    /// The family.
    pub family: String,
    /// Its measures by name.
    #[serde(default)]
    pub measures: BTreeMap<String, Value>,
    /// The letters of a word.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub letters: String,
}

/// Why a shape cannot be drawn, and what to change.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum DrawnError {
    /// No such family.
    #[error("there is no shape “{0:.40}”: there are {known}", known = known())]
    Family(String),
    /// A measure that the family has not.
    #[error("{0} has no measure “{1:.40}”: it has {2}")]
    Measure(&'static str, String, String),
    /// A measure out of its range.
    #[error("{0}: give {1}")]
    Range(&'static str, String),
    /// No letters, or too many.
    #[error("{0} letters: write 1 to {MOST_LETTERS}")]
    Letters(usize),
    /// A letter that the font has not.
    #[error("“{0}” is not among the letters that can be cut: leave it out or bring it as a drawing")]
    Letter(char),
    /// Measures that leave nothing.
    #[error("nothing is left of it by these measures: make it larger, or its walls thinner")]
    Nothing,
    /// Measures that make too much.
    #[error("it has {0} points by these measures, more than can be cut: make its parts larger or fewer")]
    Long(usize),
}

fn known() -> String {
    FAMILIES.iter().map(|family| family.key).collect::<Vec<_>>().join(", ")
}

/// A family by what documents call it.
///
/// # Errors
/// A [`DrawnError`] with all there are.
pub fn find(key: &str) -> Result<&'static Family, DrawnError> {
    FAMILIES.iter().find(|family| family.key == key).ok_or_else(|| DrawnError::Family(key.to_owned()))
}

impl Drawn {
    /// A shape of a family with its usual measures, in inches.
    pub fn usual(family: &Family) -> Drawn {
        Drawn::usual_in(family, Units::Inches)
    }

    /// A shape of a family with the measures that a maker of these units would begin with.
    pub fn usual_in(family: &Family, units: Units) -> Drawn {
        let measures = family.measures.iter();
        let measures = measures.map(|measure| (measure.key.to_owned(), measure.usual_in(units))).collect();
        let letters = if family.is_word() { "Ebb".to_owned() } else { String::new() };
        Drawn { family: family.key.to_owned(), measures, letters }
    }

    /// Its outline.
    ///
    /// # Errors
    /// A [`DrawnError`] naming the measure.
    pub fn outline(&self) -> Result<Outline, DrawnError> {
        let family = find(&self.family)?;
        for (key, value) in &self.measures {
            let Some(measure) = family.measures.iter().find(|measure| measure.key == key) else {
                let has = family.measures.iter().map(|measure| measure.key).collect::<Vec<_>>().join(", ");
                return Err(DrawnError::Measure(family.words, key.clone(), has));
            };
            if !measure.takes(*value) {
                return Err(DrawnError::Range(measure.words, measure.range()));
            }
        }
        if family.is_word() {
            let count = self.letters.chars().count();
            if self.letters.trim().is_empty() || count > MOST_LETTERS {
                return Err(DrawnError::Letters(count));
            }
            let mut all = self.letters.split(letters::LINES).flat_map(str::chars);
            if let Some(letter) = all.find(|letter| !letters::has(*letter)) {
                return Err(DrawnError::Letter(letter));
            }
        }
        let given = Given { usual: family.measures, measures: &self.measures, letters: &self.letters };
        Outline::of((family.draw)(&given), false).map_err(|error| match error {
            OutlineError::Long(points) => DrawnError::Long(points),
            _ => DrawnError::Nothing,
        })
    }
}
