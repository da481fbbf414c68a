//! What can a maker change about the moves herself?
//!
//! She puts a step earlier or later, leaves one out that lays no ink, dries once more, or has the program put right what she
//! broke. Such an order stands as long as it lays the ink that the scene wants; brushes are shared out anew for it. What has
//! been done stays as it was done.

use super::brushes::with_brushes;
use super::check::check;
use crate::moves::{Laying, Move, Technique, dry::Dry, surface_after};
use crate::panel::{Panel, STEPS_BEFORE};

/// A change to one step.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Deed {
    /// Before the step that comes before it.
    Earlier,
    /// After the step that comes after it.
    Later,
    /// Not at all.
    Out,
    /// Drying put in before it.
    DryBefore,
    /// What is broken, by its place among the findings, put right.
    Mend(usize),
}

/// Why a step is not changed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum HandError {
    /// There is no such step.
    #[error("that step is not there any more: reload the page")]
    Gone,
    /// It has been done.
    #[error("that step is done already: take its tick away first")]
    Done,
    /// There is none to change places with.
    #[error("it cannot go further that way")]
    Last,
    /// Ink that is wanted.
    #[error("that step lays ink the panel is to have: take it out of the blend instead")]
    Ink,
}

/// A panel with one of its moves, by its place, changed.
///
/// # Errors
/// A [`HandError`] saying why not.
pub fn changed(panel: &Panel, at: usize, deed: Deed) -> Result<Panel, HandError> {
    let done = done_moves(panel);
    if let Deed::Mend(nth) = deed {
        let broken = check(panel);
        let broken = broken.get(nth).ok_or(HandError::Gone)?;
        if broken.at < done {
            return Err(HandError::Done);
        }
        let mended = broken.mended(panel);
        return Ok(by_hand(panel, done, mended.moves[done.min(mended.moves.len())..].to_vec()));
    }
    if !panel.moves.get(at).is_some_and(Move::is_step) {
        return Err(HandError::Gone);
    }
    if at < done {
        return Err(HandError::Done);
    }
    let mut rest: Vec<Move> = panel.moves[done..].iter().filter(|m| m.is_step()).cloned().collect();
    let place = panel.moves[done..at].iter().filter(|m| m.is_step()).count();
    match deed {
        Deed::Earlier => rest.swap(place.checked_sub(1).ok_or(HandError::Last)?, place),
        Deed::Later if place + 1 < rest.len() => rest.swap(place, place + 1),
        Deed::Later => return Err(HandError::Last),
        Deed::Out if rest[place].laying().is_some() => return Err(HandError::Ink),
        Deed::Out => drop(rest.remove(place)),
        Deed::DryBefore => rest.insert(place, Dry {}.into()),
        Deed::Mend(_) => {}
    }
    Ok(by_hand(panel, done, rest))
}

/// How many moves the steps that are ticked off make.
fn done_moves(panel: &Panel) -> usize {
    let ticked = panel.done.saturating_sub(STEPS_BEFORE);
    let steps = panel.moves.iter().enumerate().filter(|(_, m)| m.is_step());
    ticked.checked_sub(1).map_or(0, |last| steps.map(|(at, _)| at + 1).nth(last).unwrap_or(panel.moves.len()))
}

fn by_hand(panel: &Panel, done: usize, rest: Vec<Move>) -> Panel {
    let made = &panel.moves[..done];
    let mut moves = made.to_vec();
    let steps = rest.into_iter().filter(Move::is_step).collect();
    moves.extend(with_brushes(surface_after(panel.materials(), made), steps));
    Panel { moves, by_hand: true, ..panel.clone() }
}

/// The panel with its moves as the maker has put them, brushes shared out anew; nothing where they do not lay the ink that
/// is wanted any more.
pub(crate) fn stands(panel: &Panel, wanted: &[Move]) -> Option<Panel> {
    let mut left: Vec<&Laying> = wanted.iter().filter_map(Move::laying).collect();
    for laying in panel.moves.iter().filter_map(Move::laying) {
        let at = left.iter().position(|other| *other == laying)?;
        left.swap_remove(at);
    }
    if !left.is_empty() {
        return None;
    }
    let done = done_moves(panel);
    Some(by_hand(panel, done, panel.moves[done..].to_vec()))
}
