//! What can a maker change about the moves herself?
//!
//! She puts a step earlier or later, leaves one out that lays no ink, dries once more, or has the program put right what she
//! broke. Such an order stands as long as it lays the ink that the scene wants; brushes are shared out anew for it. What has
//! been done stays as it was done.

use super::check::check;
use super::plan::shared_out;
use crate::moves::{Move, Technique, dry::Dry};
use crate::panel::Panel;

/// A change to one step.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ByHand {
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
    /// What is wanted with water.
    #[error("that step is wanted of the panel: change it on its Water page instead")]
    Water,
}

/// A panel with one of its moves, by its place, changed.
///
/// # Errors
/// A [`HandError`] saying why not.
pub fn changed(panel: &Panel, at: usize, deed: ByHand) -> Result<Panel, HandError> {
    let done = panel.done_moves();
    if let ByHand::Mend(nth) = deed {
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
        ByHand::Earlier => rest.swap(place.checked_sub(1).ok_or(HandError::Last)?, place),
        ByHand::Later if place + 1 < rest.len() => rest.swap(place, place + 1),
        ByHand::Later => return Err(HandError::Last),
        ByHand::Out if rest[place].laying().is_some() => return Err(HandError::Ink),
        ByHand::Out if rest[place].wets() => return Err(HandError::Water),
        ByHand::Out => drop(rest.remove(place)),
        ByHand::DryBefore => rest.insert(place, Dry {}.into()),
        ByHand::Mend(_) => {}
    }
    Ok(by_hand(panel, done, rest))
}

/// The panel with other moves after those that are done, in an order of the maker's own.
fn by_hand(panel: &Panel, done: usize, rest: Vec<Move>) -> Panel {
    let moves = shared_out(&panel.moves[..done], rest, &panel.materials());
    Panel { moves, by_hand: true, ..panel.clone() }
}
