//! Can what comes next on a card be left out?

use std::ops::Range;

use crate::moves::{Breach, Move, Technique};
use crate::order::check::check;
use crate::panel::Panel;

/// A card without some of its moves; it dries all the same. Nothing where what comes after needs them.
pub fn without(panel: &Panel, moves: Range<usize>) -> Option<Panel> {
    let is_left_out = |at: usize, m: &Move| moves.contains(&at) && !m.dries();
    let rest = panel.moves.iter().enumerate().filter(|(at, m)| !is_left_out(*at, m));
    let left = Panel { moves: rest.map(|(_, m)| m.clone()).collect(), ..panel.clone() };
    // Which brush lays what is the evening's own matter, whatever the card was planned with.
    let breaches = |panel: &Panel| -> Vec<Breach> {
        let all = check(panel).into_iter().map(|broken| broken.breach);
        all.filter(|breach| *breach != Breach::DirtyBrush).collect()
    };
    let mut known = breaches(panel);
    // What was broken before may stay so; nothing new may come of it.
    let is_known =
        |breach: Breach| known.iter().position(|of| *of == breach).map(|at| known.remove(at)).is_some();
    let is_sound = left.moves.len() < panel.moves.len()
        && left.check().is_ok()
        && breaches(&left).into_iter().all(is_known);
    is_sound.then_some(left)
}
