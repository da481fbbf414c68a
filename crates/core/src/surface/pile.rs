//! Which mask lies on which, and what has to be done so that just some of them lie there?
//!
//! A mask lies on all that it overlaps of what lay there before it; only what nothing lies on can be lifted. A plug set into
//! its own frame, or a frame round its own plug, lies beside it: the one guides the other.

use super::masks::{Mask, Masks, Part};

/// One thing done with a mask.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Handled {
    /// It is lifted.
    Off(Mask),
    /// It is put on; whether something that lies there guides it.
    On(Mask, bool),
}

impl Masks {
    /// What lies on a mask, of a pile from the lowest to the uppermost: all of it has to be lifted before.
    pub fn on_top_of(&self, mask: Mask, pile: &[Mask]) -> impl DoubleEndedIterator<Item = Mask> {
        let at = pile.iter().position(|lying| *lying == mask).unwrap_or(pile.len());
        pile.iter().skip(at + 1).copied().filter(move |upper| self.overlap(*upper, mask))
    }

    /// What is done with masks so that of a pile, from the lowest to the uppermost, just those that are wanted lie there. What
    /// stays stays, unless it lies on something that goes: then it is lifted before it, and put back.
    pub fn shifted(&self, pile: &mut Vec<Mask>, wanted: &[Mask]) -> Vec<Handled> {
        let mut steps = Vec::new();
        let new: Vec<Mask> = wanted.iter().copied().filter(|mask| !pile.contains(mask)).collect();
        // A stencil that is wanted again where it lies stays there, and its tape is moved.
        let twin = |lying: &Mask| {
            let twin = new.iter().find(|new| self.is_same_sheet(*lying, **new));
            twin.filter(|_| !wanted.contains(lying)).map(|new| (*lying, *new))
        };
        let moved: Vec<(Mask, Mask)> = pile.iter().filter_map(twin).collect();
        let stays = |mask: &Mask| wanted.contains(mask) || moved.iter().any(|(lying, _)| lying == mask);
        let mut leaves: Vec<Mask> = Vec::new();
        for mask in pile.iter() {
            if !stays(mask) || leaves.iter().any(|lower| self.overlap(*mask, *lower)) {
                leaves.push(*mask);
            }
        }
        if leaves.is_empty() && new.is_empty() {
            return steps;
        }
        let back: Vec<Mask> = leaves.iter().copied().filter(|mask| wanted.contains(mask)).collect();
        let guided = self.guided(pile, &new, &leaves, &back);
        let guides = |mask: &Mask| guided.contains(&mask.other());
        self.lift(pile, &mut steps, |mask| leaves.contains(mask) && !guides(mask));
        for mask in &guided {
            pile.push(*mask);
            steps.push(Handled::On(*mask, true));
        }
        self.lift(pile, &mut steps, |mask| leaves.contains(mask));
        // The tape along the edges lies beneath all; plugs go on before a frame that is to be lifted from them.
        let rest: Vec<Mask> =
            back.iter().chain(&new).copied().filter(|mask| !guided.contains(mask)).collect();
        let kinds: [fn(&Mask) -> bool; 3] = [
            |mask| *mask == Mask::BORDER,
            |mask| mask.part == Part::Plug,
            |mask| mask.part == Part::Frame && *mask != Mask::BORDER,
        ];
        for is_so in kinds {
            for mask in rest.iter().copied().filter(is_so) {
                let twin = moved.iter().find(|(_, new)| *new == mask);
                match twin.and_then(|(old, _)| pile.iter().position(|lying| lying == old)) {
                    Some(at) => {
                        pile[at] = mask;
                        steps.push(Handled::On(mask, true));
                    }
                    None => {
                        let is_guided = pile.contains(&mask.other()) && !self.things[mask.thing].is_loose;
                        pile.push(mask);
                        steps.push(Handled::On(mask, is_guided));
                    }
                }
            }
        }
        steps
    }

    /// What of the new goes on while its other piece, which leaves, still lies there to guide it: it must not come to lie on what
    /// has still to go, nor be the same piece.
    fn guided(&self, pile: &[Mask], new: &[Mask], leaves: &[Mask], back: &[Mask]) -> Vec<Mask> {
        let is_guided = |mask: &Mask| {
            let other = mask.other();
            leaves.contains(&other) && !back.contains(&other) && !self.things[mask.thing].is_loose
        };
        let mut guided: Vec<Mask> = new.iter().copied().filter(is_guided).collect();
        while !guided.is_empty() {
            let mut left = pile.to_vec();
            let goes = |mask: &Mask| leaves.contains(mask) && !guided.contains(&mask.other());
            self.lift(&mut left, &mut Vec::new(), goes);
            left.retain(|mask| leaves.contains(mask));
            let is_apart = |mask: Mask, other: Mask| {
                let is_one = self.piece(mask).is_some() && self.piece(mask) == self.piece(other);
                !self.overlap(mask, other) && !is_one
            };
            let count = guided.len();
            guided.retain(|mask| left.iter().all(|other| *other == mask.other() || is_apart(*mask, *other)));
            if guided.len() == count {
                break;
            }
        }
        guided
    }

    /// Lifts some of a pile, the uppermost first, as far as nothing else lies on them.
    fn lift(&self, pile: &mut Vec<Mask>, steps: &mut Vec<Handled>, goes: impl Fn(&Mask) -> bool) {
        for mask in pile.clone().into_iter().rev().filter(goes) {
            if self.on_top_of(mask, pile).next().is_none() {
                pile.retain(|lying| *lying != mask);
                steps.push(Handled::Off(mask));
            }
        }
    }

    /// Whether a mask that lies there is another that is wanted, with its tape moved.
    fn is_same_sheet(&self, lying: Mask, new: Mask) -> bool {
        let pair = (self.things.get(lying.thing), self.things.get(new.thing));
        (lying.part, new.part) == (Part::Frame, Part::Frame)
            && lying != new
            && matches!(pair, (Some(one), Some(two)) if one.is_twin(two))
    }
}
