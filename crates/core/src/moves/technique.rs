//! What does every technique answer?

use super::laying::Laying;
use super::rules::{Stage, Unmet};
use crate::ink::Surface as Card;
use crate::length::Units;
use crate::surface::{Mask, Materials, Surface};

/// A technique as the run sheet says it.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Words {
    /// What to do, in a few words.
    pub title: String,
    /// How, with measures.
    pub how: String,
    /// What to take care of, where something can hurt or spoil.
    pub care: Option<String>,
}

/// A thing that hands do to a panel.
pub trait Technique {
    /// Whether it names only inks, things and places that a panel has.
    fn is_possible(&self, stage: &Stage) -> bool {
        let _ = stage;
        true
    }

    /// What it does to the surface.
    fn act(&self, surface: &mut Surface);

    /// What is not as it must be before it; nothing where all is well.
    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        let _ = surface;
        Vec::new()
    }

    /// Seconds that it keeps the hands busy, at the maker's own pace.
    fn hands(&self, with: &Materials) -> u32 {
        let _ = with;
        0
    }

    /// Seconds that it waits on a surface, hands free.
    fn waits(&self, surface: &Surface) -> u32 {
        let _ = surface;
        0
    }

    /// How the run sheet says it, on the surface it meets.
    fn words(&self, surface: &Surface, units: Units) -> Words;

    /// Whether it is a step of its own, with a picture beside it; otherwise it is said at the head of the next.
    fn is_step(&self) -> bool {
        true
    }

    /// The ink it lays, where it lays one. What is laid stays on the card.
    fn laying(&self) -> Option<&Laying> {
        None
    }

    /// Whether it belongs to the loose half of the work: water or paste on the card, or ink and water on the mat for it.
    fn wets(&self) -> bool {
        false
    }

    /// Whether it leaves something on the card that stays there: ink, a mask, powder.
    fn stays(&self) -> bool {
        self.laying().is_some() || self.mask().is_some() || self.wets()
    }

    /// Whether all is dry after it.
    fn dries(&self) -> bool {
        false
    }

    /// The same in as many goes as a card takes water, to be dried between.
    fn in_goes(&self, card: Card) -> Vec<Self>
    where
        Self: Sized + Clone,
    {
        let _ = card;
        vec![self.clone()]
    }

    /// The mask it puts on or lifts, where it does.
    fn mask(&self) -> Option<Mask> {
        None
    }

    /// The same with the things in other places from front to back; nothing where its thing has gone.
    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Self>
    where
        Self: Sized + Clone,
    {
        let _ = to;
        Some(self.clone())
    }

    /// The same with the inks in other places of the panel's list; nothing where its ink has gone.
    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Self>
    where
        Self: Sized + Clone,
    {
        let _ = to;
        Some(self.clone())
    }
}
