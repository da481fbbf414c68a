//! Which moves have been made, by the steps ticked off, and which are laid after them?

use super::plan::{Plan, shared_out};
use crate::moves::{Move, Technique};
use crate::panel::Panel;

/// Steps of the run sheet before the first move: the cut, and making ready.
pub const STEPS_BEFORE: usize = 2;

impl Panel {
    /// Moves that have been made, by the steps ticked off, as far as they are moves of this panel: up to the last that
    /// left something on it.
    pub fn made(&self) -> &[Move] {
        let ticked = self.done.saturating_sub(STEPS_BEFORE);
        let (mut steps, mut end) = (0, 0);
        if ticked == 0 {
            return &[];
        }
        let boxes = self.boxes();
        for (m, after) in self.moves.iter().zip(1..) {
            if steps == ticked || !m.is_possible(&self.stage(&boxes)) {
                break;
            }
            steps += usize::from(m.is_step());
            if m.stays() {
                end = after;
            }
        }
        &self.moves[..end]
    }

    /// How many moves the steps that are ticked off make.
    pub(crate) fn done_moves(&self) -> usize {
        let ticked = self.done.saturating_sub(STEPS_BEFORE);
        let mut steps = self.moves.iter().enumerate().filter(|(_, m)| m.is_step()).map(|(at, _)| at + 1);
        ticked.checked_sub(1).map_or(0, |last| steps.nth(last).unwrap_or(self.moves.len()))
    }

    /// The same panel with its moves laid from its scene and school. Moves that have been made stay as they are, and
    /// what is still missing is laid after them. A plan stands as long as it is what would have been laid from what
    /// had been made at some time before.
    #[must_use]
    pub fn laid(self) -> Panel {
        let made = self.made();
        let materials = self.materials();
        let plan = Plan::of(&self.scene, &materials, self.school, self.covering);
        let lays = |moves: &[Move]| moves.iter().filter(|m| m.stays()).cloned().collect::<Vec<_>>();
        // An order of the maker's own stands as long as it lays what is wanted.
        if self.by_hand && plan.is_laid_by(&self.moves) {
            let done = self.done_moves();
            let moves = shared_out(&self.moves[..done], self.moves[done..].to_vec(), &materials);
            return Panel { moves, ..self };
        }
        let own = lays(&self.moves);
        let stands = |n: usize| {
            let missing = lays(&plan.missing(&made[..n]));
            let present = lays(&made[..n]);
            // Sharing out the brushes is the longer part: it is only done where the same ink would be laid.
            own.len() >= present.len() + missing.len()
                && own[..present.len()] == present
                && own[present.len()..][..missing.len()] == missing
                && plan.laid_on(&made[..n]) == self.moves
        };
        if (0..=made.len()).any(stands) {
            let came_out = self.came_out && !made.is_empty();
            return Panel { by_hand: false, came_out, ..self };
        }
        let (moves, made) = (plan.laid_on(made), steps_in(made));
        let done = if made == 0 { 0 } else { self.done.min(STEPS_BEFORE + made) };
        let came_out = self.came_out && made > 0;
        Panel { moves, done, by_hand: false, came_out, ..self }
    }

    /// The same panel as it is planned, to be made from nothing.
    #[must_use]
    pub fn afresh(self) -> Panel {
        let came_out = self.came_out;
        let fresh = Panel { done: 0, ..self };
        // What came out otherwise on this one is not planned for the next.
        if came_out { fresh.laid() } else { fresh }
    }

    /// The same panel with none of its moves made.
    pub(crate) fn untouched(self) -> Panel {
        Panel { moves: Vec::new(), done: 0, ..self }
    }
}

/// How many of some moves are steps of the run sheet of their own.
pub fn steps_in(moves: &[Move]) -> usize {
    moves.iter().filter(|m| m.is_step()).count()
}
