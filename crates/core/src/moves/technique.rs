//! What does every technique answer?

use super::laying::Laying;
use crate::length::{Length, Units};
use crate::surface::Surface;

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
    /// Whether it names only inks and places that a panel of so many inks and this size has.
    fn is_possible(&self, inks: usize, size: (Length, Length)) -> bool {
        let _ = (inks, size);
        true
    }

    /// What it does to the surface.
    fn act(&self, surface: &mut Surface);

    /// What is not as it must be before it, and the remedy; nothing where all is well.
    fn unmet(&self, surface: &Surface) -> Option<String> {
        let _ = surface;
        None
    }

    /// Seconds that it keeps the hands busy.
    fn hands(&self) -> u32 {
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

    /// The same with the inks in other places of the panel's list; nothing where its ink has gone.
    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Self>
    where
        Self: Sized + Clone,
    {
        let _ = to;
        Some(self.clone())
    }
}
