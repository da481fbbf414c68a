//! How is a step of an evening said, from a metre away?

use super::desk::Desk;
use super::plan::Step;
use crate::length::Units;
use crate::moves::{Move, Technique, Words, heat::Heat};
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
    let mut deeds: Vec<(&Move, Words)> = Vec::new();
    said.how.extend(step.readied.and_then(|readied| desk.says(readied)));
    let own = card.moves.get(step.moves.clone()).unwrap_or(&[]);
    for (m, after) in own.iter().zip(step.moves.start + 1..) {
        let words = m.words_before(&surface, card.moves.get(after..).unwrap_or(&[]), units);
        let is_ready = m.readies();
        if !m.dries() {
            said.care.extend(words.care.clone());
            // The brush is ready by the time of the first laying; the card alone would have taken another.
            if !is_ready || said.ink.is_some() {
                deeds.push((m, words));
            }
        }
        said.ink = said.ink.or(m.laying().map(|laying| laying.ink));
        m.make(&mut surface);
    }
    said.care.dedup();
    let count = deeds.iter().filter(|(m, _)| !m.readies()).count();
    let main = main_deed(own).map(|main| &own[main]);
    let Some((_, words)) = deeds.iter().find(|(m, _)| main.is_some_and(|main| std::ptr::eq(*m, main))) else {
        return said;
    };
    said.title = match count {
        2 if said.ink.is_some() => format!("{}, then once more", words.title),
        _ => words.title.clone(),
    };
    // Where there are several, each says what it is.
    let named = |(m, words): &(&Move, Words)| match m.readies() || count == 1 {
        true => words.how.clone(),
        false => format!("{}. {}", words.title, words.how),
    };
    said.how.extend(deeds.iter().map(named));
    said
}

/// What several moves that are done as one step are for: the first that stays on the card; of what is done on the mat, the last.
pub fn main_deed(moves: &[Move]) -> Option<usize> {
    let is_deed = |m: &Move| !m.dries() && !m.readies();
    let stays = |m: &Move| is_deed(m) && m.stays() && !matches!(m, Move::Blot(_));
    let first = moves.iter().position(stays);
    match first.filter(|first| moves[*first].is_on_mat()) {
        Some(_) => moves.iter().rposition(|m| is_deed(m) && m.is_on_mat()),
        None => first.or(moves.iter().rposition(is_deed)).or(moves.len().checked_sub(1)),
    }
}
