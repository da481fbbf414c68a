//! How is a step told in a sentence, and how is a word of it written anew?
//!
//! Both are one: a step goes through its sentence once, and names each word with what it stands for. Where a word is to be
//! written, that is written as the sentence comes to it. So no word is shown that cannot be written, and none written that is
//! not shown.

use std::fmt::Display;
use std::str::FromStr;

use crate::ink::{Ink, Kind, named};
use crate::length::{Length, ParseIn, Units, thickness};
use crate::thing::Thing;
use crate::water::Thrown;

/// What a step is about: the panel as it stands, and what a maker has beside it.
#[derive(Clone, Debug)]
pub struct About<'a> {
    /// Width and height of the panel.
    pub size: (Length, Length),
    /// How lengths are read and shown.
    pub units: Units,
    /// The panel's inks; one of the drawer may come to them.
    pub inks: Vec<Ink>,
    /// The inks of the drawer.
    pub drawer: &'a [Ink],
    /// What stands on the panel, from front to back.
    pub things: &'a [Thing],
    /// The thing whose stencil is at hand, by its place.
    pub stencil: usize,
    /// Whether anything is blended on its ground.
    pub has_ground: bool,
}

/// One of several words to choose from.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Choice {
    /// Its word in a document.
    pub key: String,
    /// What a maker reads.
    pub words: String,
    /// Whether it stands there.
    pub is_chosen: bool,
}

/// What stands for a word.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Value {
    /// An ink, or what can be thrown in its place.
    Ink(Thrown),
    /// A figure or a length, as it is written.
    Written(String),
    /// One of several.
    Choice(Vec<Choice>),
    /// Yes or no.
    Check(bool),
}

/// A stretch of a sentence.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Stretch {
    /// As it stands.
    Text(String),
    /// A word that can be written anew.
    Word {
        /// What it is called in a document.
        key: String,
        /// What it is.
        label: String,
        /// What stands there.
        value: Value,
    },
}

/// A sentence as it is told, or written.
#[derive(Debug)]
pub struct Telling<'a, 'b> {
    /// What it is about.
    pub about: &'a mut About<'b>,
    written: Option<(&'a str, &'a str)>,
    outcome: Option<Result<(), String>>,
    told: Vec<Stretch>,
}

const NO_INK: &str = "There is no ink in the drawer: tell the drawer of one first.";

/// What is said of a word that nothing is called by.
pub fn none_of(word: &str) -> String {
    format!("“{word:.40}” is none of the words to choose from: reload this page, and choose again")
}

impl About<'_> {
    /// An ink by its place on the panel, to whose inks it comes where it is not one of them.
    pub fn place_of(&mut self, ink: &Ink) -> usize {
        self.inks.iter().position(|known| known == ink).unwrap_or_else(|| {
            self.inks.push(ink.clone());
            self.inks.len() - 1
        })
    }

    /// The ink of a name, on the panel or in the drawer.
    ///
    /// # Errors
    /// Where there is none, with the remedy.
    pub fn ink_called(&mut self, text: &str) -> Result<usize, String> {
        Ok(self.place_of(&named(text, &self.inks, self.drawer)?.clone()))
    }

    /// The best of some inks: of the panel's own, or where none of those is one, of the drawer's.
    pub fn best(&mut self, is_one: impl Fn(&Ink) -> bool, worth: impl Fn(&Ink) -> f64) -> Option<usize> {
        let of = |inks: &[Ink]| {
            let own = inks.iter().filter(|ink| is_one(ink));
            own.max_by(|one, other| worth(one).total_cmp(&worth(other))).cloned()
        };
        let best = of(&self.inks).or_else(|| of(self.drawer))?;
        Some(self.place_of(&best))
    }

    /// The whitest pigment.
    ///
    /// # Errors
    /// Where there is none, with the remedy.
    pub fn white(&mut self) -> Result<usize, String> {
        let white = self.best(|ink| ink.kind == Kind::Pigment, |ink| ink.lab().l);
        white.ok_or_else(|| "There is no white pigment in the drawer: tell the drawer of one first.".into())
    }

    /// The darkest dye or oxide.
    ///
    /// # Errors
    /// Where there is none, with the remedy.
    pub fn dark(&mut self) -> Result<usize, String> {
        self.best(|ink| ink.kind != Kind::Pigment, |ink| -ink.lab().l).ok_or_else(|| NO_INK.into())
    }

    /// The ink that is strongest in colour.
    ///
    /// # Errors
    /// Where there is none, with the remedy.
    pub fn strongest(&mut self) -> Result<usize, String> {
        self.best(|_| true, |ink| ink.lab().a.hypot(ink.lab().b)).ok_or_else(|| NO_INK.into())
    }
}

/// Reads a figure as it was written.
fn whole<T: FromStr>(text: &str) -> Result<T, String> {
    text.trim().trim_end_matches('%').trim_end().parse().map_err(|_| "write a whole number".to_owned())
}

/// One of some things by its place.
fn one_of(things: &[Thing], to: &str) -> Result<usize, String> {
    to.parse().ok().filter(|place| *place < things.len()).ok_or_else(|| none_of(to))
}

impl<'a, 'b> Telling<'a, 'b> {
    /// A sentence that is only told.
    pub const fn of(about: &'a mut About<'b>) -> Telling<'a, 'b> {
        Telling { about, written: None, outcome: None, told: Vec::new() }
    }

    /// A sentence of which a word is written anew.
    pub const fn writing(about: &'a mut About<'b>, (key, to): (&'a str, &'a str)) -> Telling<'a, 'b> {
        Telling { about, written: Some((key, to)), outcome: None, told: Vec::new() }
    }

    /// What has been told since the last time.
    pub fn taken(&mut self) -> Vec<Stretch> {
        std::mem::take(&mut self.told)
    }

    /// Whether the word was written.
    ///
    /// # Errors
    /// Where it could not be, or no word is called so.
    pub fn outcome(self) -> Result<(), String> {
        let key = self.written.map_or("", |(key, _)| key);
        self.outcome.unwrap_or_else(|| Err(none_of(key)))
    }

    /// Says something.
    pub fn say(&mut self, text: impl Into<String>) {
        self.told.push(Stretch::Text(text.into()));
    }

    /// A word, and what is written in its place where it is the one.
    fn word(&mut self, key: &str, label: &str, value: Value) -> Option<&'a str> {
        self.told.push(Stretch::Word { key: key.to_owned(), label: label.to_owned(), value });
        self.written.filter(|(of, _)| *of == key).map(|(_, to)| to)
    }

    /// A word read by `read` where it is the one that is written; otherwise it stays as it is.
    fn read<T>(
        &mut self,
        (key, label): (&str, &str),
        value: Value,
        read: impl FnOnce(&mut About<'b>, &str) -> Result<T, String>,
    ) -> Option<T> {
        let to = self.word(key, label, value)?;
        let (outcome, read) = match read(self.about, to) {
            Ok(read) => (Ok(()), Some(read)),
            Err(error) => (Err(error), None),
        };
        self.outcome = Some(outcome);
        read
    }

    /// What is taken of the drawer for the word that was written last; nothing, and that is told, where it is not there.
    pub fn for_it<T>(&mut self, take: impl FnOnce(&mut About<'b>) -> Result<T, String>) -> Option<T> {
        take(self.about).map_err(|error| self.outcome = Some(Err(error))).ok()
    }

    /// An ink.
    pub fn ink(&mut self, key: &str, label: &str, ink: &mut usize) {
        let read = self.read((key, label), Value::Ink(Thrown::Ink(*ink)), About::ink_called);
        *ink = read.unwrap_or(*ink);
    }

    /// An ink, or one of what can be thrown in its place.
    pub fn thrown(&mut self, key: &str, label: &str, of: &mut Thrown, others: &[Thrown]) {
        let read = self.read((key, label), Value::Ink(*of), |about, text| {
            let name = text.trim().to_lowercase();
            let is_it = |thrown: &&Thrown| match thrown {
                Thrown::Water => matches!(name.as_str(), "water" | "clean water"),
                Thrown::Mica => name == "mica",
                Thrown::Ink(_) => false,
            };
            match others.iter().find(is_it) {
                Some(thrown) => Ok(*thrown),
                None => about.ink_called(text).map(Thrown::Ink),
            }
        });
        *of = read.unwrap_or(*of);
    }

    /// A whole number.
    pub fn count<T: FromStr + Display + Copy>(&mut self, key: &str, label: &str, n: &mut T) {
        let read = self.read((key, label), Value::Written(n.to_string()), |_, text| whole(text));
        *n = read.unwrap_or(*n);
    }

    /// A length.
    pub fn length(&mut self, key: &str, label: &str, length: &mut Length) {
        let shown = length.shown(self.about.units).to_string();
        let read = self.read((key, label), Value::Written(shown), |about, text| {
            text.parse_in(about.units).map_err(|error| error.to_string())
        });
        *length = read.unwrap_or(*length);
    }

    /// A radius, told as how large it is across, as finely as the thickness of card.
    pub fn across(&mut self, key: &str, label: &str, radius: &mut Length) {
        let shown = (*radius * 2).in_thickness_field(self.about.units);
        let read = self.read((key, label), Value::Written(shown), |about, text| {
            thickness::read_in(text, about.units).map_err(|error| error.to_string())
        });
        *radius = read.map_or(*radius, |across| across / 2);
    }

    /// One of several things, each with its word in a document and what a maker reads.
    pub fn choice<T: PartialEq + Copy>(
        &mut self,
        key: &str,
        label: &str,
        is: &mut T,
        all: &[(&str, T, &str)],
    ) {
        let choices = all.iter().map(|(key, one, words)| Choice {
            key: (*key).to_owned(),
            words: (*words).to_owned(),
            is_chosen: one == is,
        });
        let read = self.read((key, label), Value::Choice(choices.collect()), |_, to| {
            all.iter().find(|(key, ..)| *key == to).map(|(_, one, _)| *one).ok_or_else(|| none_of(to))
        });
        *is = read.unwrap_or(*is);
    }

    /// One of several that are figures at the same time, so that a maker's own may be none of them: then `own` stands there.
    /// What is picked is given back.
    pub fn look(&mut self, key: &str, label: &str, mut choices: Vec<Choice>, own: &str) -> Option<String> {
        let keys: Vec<String> = choices.iter().map(|choice| choice.key.clone()).collect();
        if !choices.iter().any(|choice| choice.is_chosen) {
            choices.push(Choice { key: "own".into(), words: own.into(), is_chosen: true });
        }
        let picked = self.read((key, label), Value::Choice(choices), |_, to| match to {
            "own" => Ok(None),
            to if keys.iter().any(|key| key == to) => Ok(Some(to.to_owned())),
            to => Err(none_of(to)),
        });
        picked.flatten()
    }

    /// One of the things on the panel.
    pub fn thing(&mut self, key: &str, label: &str, thing: &mut usize) {
        let things = self.about.things;
        let choice = |(place, of): (usize, &Thing)| Choice {
            key: place.to_string(),
            words: of.shape.name.to_string(),
            is_chosen: place == *thing,
        };
        let value = Value::Choice(things.iter().enumerate().map(choice).collect());
        let read = self.read((key, label), value, |_, to| one_of(things, to));
        *thing = read.unwrap_or(*thing);
    }

    /// All of the panel, or the inside of one of its things.
    pub fn within(&mut self, key: &str, label: &str, within: &mut Option<usize>) {
        let things = self.about.things;
        let whole = Choice { key: "all".into(), words: "over all of it".into(), is_chosen: within.is_none() };
        let inside = things.iter().enumerate().map(|(place, thing)| Choice {
            key: place.to_string(),
            words: format!("only inside the {}", thing.shape.name),
            is_chosen: *within == Some(place),
        });
        let value = Value::Choice(std::iter::once(whole).chain(inside).collect());
        let read = self.read((key, label), value, |_, to| match to {
            "all" => Ok(None),
            to => one_of(things, to).map(Some),
        });
        *within = read.unwrap_or(*within);
    }

    /// Yes or no.
    pub fn check(&mut self, key: &str, label: &str, is: &mut bool) {
        let read = self.read((key, label), Value::Check(*is), |_, to| match to {
            "on" => Ok(true),
            "off" => Ok(false),
            to => Err(none_of(to)),
        });
        *is = read.unwrap_or(*is);
    }
}

/// The plural of a word, where it stands for more or fewer than one.
pub fn times(n: u32, one: &str, many: &str) -> String {
    format!(" {}", if n == 1 { one } else { many })
}
