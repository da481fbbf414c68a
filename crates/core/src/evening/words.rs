//! How is a step of an evening said, from a metre away?

use super::desk::Desk;
use super::plan::Step;
use crate::ink::Ink;
use crate::length::Units;
use crate::moves::{Technique, heat::Heat};
use crate::panel::Panel;

/// A step as it is read at the bench.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Said {
    /// What to do.
    pub title: String,
    /// How, a line each.
    pub how: Vec<String>,
    /// What to take care of.
    pub care: Vec<String>,
    /// The ink that is laid, by its place in the card's list.
    pub ink: Option<usize>,
}

/// A step on a card as it stands, with the brush made ready first, from a desk that serves all cards of the evening.
pub fn said(card: &Panel, step: &Step, desk: &Desk, units: Units) -> Said {
    let mut surface = card.after(step.moves.start);
    if step.heats {
        let words = Heat {}.words(&surface, units);
        return Said {
            title: words.title,
            how: vec![words.how],
            care: words.care.into_iter().collect(),
            ink: None,
        };
    }
    let mut said = Said::default();
    let mut titles: Vec<String> = Vec::new();
    said.how.extend(step.readied.and_then(|readied| desk.says(readied)));
    for (m, after) in card.moves.get(step.moves.clone()).unwrap_or(&[]).iter().zip(step.moves.start + 1..) {
        let words = m.words_before(&surface, card.moves.get(after..).unwrap_or(&[]), units);
        let is_ready = m.readies();
        if !m.dries() {
            said.care.extend(words.care);
            // The brush is ready by the time of the first laying; the card alone would have taken another.
            if !is_ready || said.ink.is_some() {
                said.how.push(words.how);
            }
            if !is_ready {
                titles.push(words.title);
            }
        }
        said.ink = said.ink.or(m.laying().map(|laying| laying.ink));
        m.make(&mut surface);
    }
    said.care.dedup();
    let is_one_ink = said.ink.is_some();
    said.title = match titles.as_slice() {
        [] => String::new(),
        [first, _, ..] if is_one_ink => format!("{first}, then once more"),
        [one] => one.clone(),
        [first, second] => format!("{first}, then {}", lower(second, &card.inks)),
        [first, .., last] => format!("{first}, and on to: {}", lower(last, &card.inks)),
    };
    said
}

/// A title in the middle of a sentence: the name of an ink keeps its capital.
fn lower(title: &str, inks: &[Ink]) -> String {
    let is_named = inks.iter().any(|ink| title.starts_with(ink.name.as_str()));
    let mut signs = title.chars();
    match signs.next() {
        Some(first) if !is_named => first.to_lowercase().chain(signs).collect(),
        _ => title.to_owned(),
    }
}
