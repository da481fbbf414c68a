//! In which order, and with which setting of the stop, is each cut made?
//!
//! A part lies against the stop with one edge, the stop is set to the measure that is to be kept, and the blade comes
//! down. Strips of one size come off one after the other with the stop left where it is; parts that are alike are cut alike,
//! and of the parts waiting the one that needs no new setting goes first.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::layout::{Cell, Part};
use super::piece::Piece;
use crate::edges::{Axis, size};
use crate::length::{Length, Units};

/// One setting of the stop and the cuts made with it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Step {
    /// What is cut: `the sheet`, or a part by its letter.
    pub of: String,
    /// How many of these there are on one sheet: the step is done with each.
    pub each: u32,
    /// Which way is measured: across sets the left edge against the stop, down the top edge.
    pub along: Axis,
    /// The setting of the stop: from it to the blade.
    pub stop: Length,
    /// Cuts made with it, one strip after the other.
    pub times: u32,
    /// What comes off.
    pub gives: String,
    /// What is left of it; nothing where the last cut leaves one more of the same.
    pub leaves: Option<String>,
    /// All that in a sentence.
    pub says: String,
}

/// Something waiting to be cut.
struct Waiting<'a> {
    name: String,
    cell: &'a Cell,
    each: u32,
}

/// The cuts of a sheet in order.
pub fn steps(sheet: &Cell, pieces: &[Piece], keep: Length, units: Units) -> Vec<Step> {
    let mut steps: Vec<Step> = Vec::new();
    let mut waiting = vec![Waiting { name: "the sheet".into(), cell: sheet, each: 1 }];
    let mut letters = 0;
    let mut named = |cell: &Cell| match &cell.part {
        Part::Piece(piece) => words(&pieces[*piece].name.to_string(), cell, units),
        Part::Left if cell.place.width < keep || cell.place.height < keep => "waste".into(),
        Part::Left => words("an offcut", cell, units),
        Part::Cut(..) => {
            letters += 1;
            words(&format!("part {}", letter(letters)), cell, units)
        }
    };
    loop {
        let set = |waiting: &Waiting| setting(waiting.cell).map(|(axis, stop, _)| (axis, stop));
        let last = steps.last().map(|step: &Step| (step.along, step.stop));
        let Some(next) = waiting
            .iter()
            .position(|w| set(w).is_some() && set(w) == last)
            .or_else(|| waiting.iter().position(|w| set(w).is_some()))
        else {
            return steps;
        };
        let Waiting { name, cell, each } = waiting.remove(next);
        let Some((along, stop, [off, mut rest])) = setting(cell) else { continue };
        let mut times = 1;
        // The same strip again from what is left.
        while let Some((same, again, [more, after])) = setting(rest)
            && (same, again) == (along, stop)
            && more.alike(off)
        {
            times += 1;
            rest = after;
        }
        let one_more = rest.alike(off);
        let gives = named(off);
        let leaves = (!one_more).then(|| named(rest));
        let count = times + u32::from(one_more);
        let letter_of = |words: &str| words.split(" (").next().unwrap_or(words).to_owned();
        let edge = along.of("left", "top");
        let cuts = if times == 1 { "cut".to_owned() } else { format!("cut {times} times") };
        let with_each = if each > 1 { format!(", each of {each}") } else { String::new() };
        let comes = if count == 1 { gives.clone() } else { format!("{count}\u{a0}× {gives}") };
        let left =
            leaves.as_ref().map_or_else(String::new, |leaves| format!(" {} is left.", capital(leaves)));
        let says = format!(
            "{}{with_each}: {edge} edge against the trimmer's stop, the stop set to {}, {cuts}: {comes}.{left}",
            capital(&name),
            stop.said(units)
        );
        steps.push(Step {
            of: name,
            each,
            along,
            stop,
            times,
            gives: gives.clone(),
            leaves: leaves.clone(),
            says,
        });
        let mut wait = Vec::new();
        wait.push(Waiting { name: letter_of(&gives), cell: off, each: each * count });
        if let Some(leaves) = leaves {
            wait.push(Waiting { name: letter_of(&leaves), cell: rest, each });
        }
        waiting.splice(0..0, wait);
    }
}

/// How a part is cut: the axis, the stop, what comes off against it and what is left.
fn setting(cell: &Cell) -> Option<(Axis, Length, [&Cell; 2])> {
    let Part::Cut(axis, parts) = &cell.part else { return None };
    let [one, other] = parts.as_ref();
    // What is thrown away is never what is measured.
    let kept = if matches!(one.part, Part::Left) { [other, one] } else { [one, other] };
    Some((*axis, kept[0].place.along(*axis).1, kept))
}

fn words(what: &str, cell: &Cell, units: Units) -> String {
    format!("{what} ({})", size(cell.place.width, cell.place.height, units))
}

/// A, B, …, Z, AA, …
fn letter(mut n: usize) -> String {
    let mut letters = String::new();
    while n > 0 {
        letters.insert(0, char::from(b'A' + ((n - 1) % 26) as u8));
        n = (n - 1) / 26;
    }
    letters
}

fn capital(text: &str) -> String {
    let mut rest = text.chars();
    rest.next().map_or_else(String::new, |first| first.to_uppercase().chain(rest).collect())
}
