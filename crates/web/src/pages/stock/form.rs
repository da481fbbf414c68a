//! What is written in the stock's forms, read as it is meant.

use rosy_core::edges::Axis;
use rosy_core::ink::Name;
use rosy_core::length::ParseIn;
use rosy_core::{Length, Units};
use serde::Deserialize;

use crate::error::sentence;
use crate::stock::MOST;

/// What was written in a form that was refused.
#[derive(Clone, Debug, Default, Deserialize)]
#[serde(default)]
pub struct Written {
    pub(super) form: String,
    pub(super) name: String,
    pub(super) width: String,
    pub(super) height: String,
    pub(super) count: String,
    pub(super) paper: String,
    pub(super) grain: String,
    pub(super) panel: String,
    pub(super) fold: String,
    pub(super) offcut: String,
    pub(super) keep: String,
}

/// What is wrong, by the field.
pub(super) type Wrong = Vec<(&'static str, String)>;

/// A form's fields as they are meant, each wrong one with what is wrong.
pub(super) struct Read<'a> {
    written: &'a Written,
    units: Units,
    pub(super) wrong: Wrong,
}

impl<'a> Read<'a> {
    pub(super) fn of(written: &'a Written, units: Units) -> Read<'a> {
        Read { written, units, wrong: Vec::new() }
    }

    pub(super) fn keep<T>(&mut self, field: &'static str, read: Result<T, String>) -> Option<T> {
        read.map_err(|says| self.wrong.push((field, sentence(&says)))).ok()
    }

    pub(super) fn name(&mut self) -> Option<Name> {
        self.keep(
            "name",
            self.written.name.parse().map_err(|error: rosy_core::ink::DrawerError| error.to_string()),
        )
    }

    pub(super) fn side(&mut self, field: &'static str, text: &str) -> Option<Length> {
        let read = text.parse_in(self.units).map_err(|error| error.to_string());
        let read = read.and_then(|length| {
            let most = Length::from_inches(50);
            let most_said = most.shown(self.units);
            let cut = Length::ZERO < length && length <= most;
            cut.then_some(length).ok_or_else(|| {
                format!("{}: give more than nothing and at most {most_said}", length.shown(self.units))
            })
        });
        self.keep(field, read)
    }

    pub(super) fn sides(&mut self) -> (Option<Length>, Option<Length>) {
        let written = self.written;
        (self.side("width", &written.width), self.side("height", &written.height))
    }

    pub(super) fn count(&mut self, least: u32) -> Option<u32> {
        let text = self.written.count.trim();
        let whole = text.parse().ok().filter(|count| (least..=MOST).contains(count));
        let read = whole.ok_or_else(|| {
            format!("“{text:.20}” is no such number: give a whole one from {least} to {MOST}")
        });
        self.keep("count", read)
    }

    pub(super) fn paper(&self) -> Option<Name> {
        self.written.paper.parse().ok()
    }

    pub(super) fn grain(&self) -> Option<Axis> {
        match self.written.grain.as_str() {
            "across" => Some(Axis::Across),
            "down" => Some(Axis::Down),
            _ => None,
        }
    }
}
