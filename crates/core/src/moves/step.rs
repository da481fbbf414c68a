//! A technique that a maker asks for by itself: how is it begun, told in a sentence that she writes on, and taken along when its
//! panel changes?

use super::technique::Technique;
use super::telling::{About, Telling};
use crate::place::{Point, Resized};
use crate::water::Flecks;

/// Something that can be asked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Offer {
    /// Its word in a document.
    pub key: &'static str,
    /// What a list of all of them calls it.
    pub words: &'static str,
    /// Whether it wants the stencil of a thing.
    pub has_stencil: bool,
}

/// A step as it is usually begun.
#[derive(Clone, Debug)]
pub struct Begun<T> {
    /// It.
    pub step: T,
    /// Whether its water is blotted.
    pub blot: bool,
    /// Whether it comes before anything is blended.
    pub first: bool,
}

impl<T> Begun<T> {
    /// Done over all of it, at the end.
    pub const fn last(step: T) -> Begun<T> {
        Begun { step, blot: false, first: false }
    }

    /// The same, blotted.
    #[must_use]
    pub fn blotted(self) -> Begun<T> {
        Begun { blot: true, ..self }
    }

    /// The same as another type of step.
    pub fn map<U>(self, to: impl FnOnce(T) -> U) -> Begun<U> {
        Begun { step: to(self.step), blot: self.blot, first: self.first }
    }
}

/// A technique that is asked for by itself.
pub trait Step: Technique + Clone {
    /// What it can be begun as.
    const OFFERS: &'static [Offer];
    /// What stands at the head of a sentence on what cannot be done, before its place.
    const NAME: &'static str;
    /// What its measures may be, in the imperative.
    const LIMITS: &'static str;

    /// Begins it, by the word of an offer, with its usual measures.
    ///
    /// # Errors
    /// Where what it takes is not there, with the remedy.
    fn begun(offer: &str, about: &mut About) -> Result<Begun<Self>, String>;

    /// Tells it in a sentence, a word of which may be written anew by that; its end is told by what it is a part of.
    fn tell(&mut self, told: &mut Telling);

    /// The same with what is told only where one asks.
    fn tell_more(&mut self, told: &mut Telling) {
        let _ = told;
    }

    /// Less or more of it, by so many per cent.
    ///
    /// # Errors
    /// Why there is no less and no more of it.
    fn scaled(&self, percent: u32) -> Result<Self, &'static str>;

    /// Whether it is water that can be blotted.
    fn is_water(&self) -> bool {
        false
    }

    /// Whether nothing comes off it that no towel takes, so that it is blotted always.
    fn is_blotted(&self) -> bool {
        false
    }

    /// Whether it comes last of all that is wet.
    fn is_last(&self) -> bool {
        false
    }

    /// Whether it goes through a stencil of its own, so that it needs no other.
    fn has_stencil(&self) -> bool {
        false
    }

    /// The thing that lies under its plug meanwhile, by its place from front to back.
    fn covers(&self) -> Option<usize> {
        None
    }

    /// Whether the card gets wetter by it than by a brush.
    fn is_wet(&self) -> bool {
        true
    }

    /// The ink it brings, to be changed.
    fn ink_mut(&mut self) -> Option<&mut usize> {
        None
    }

    /// The place it is aimed at, to be changed.
    fn aim_mut(&mut self) -> Option<&mut Point> {
        None
    }

    /// The flecks that it is, to be changed.
    fn flecks_mut(&mut self) -> Option<&mut Flecks> {
        None
    }

    /// The same on a panel that becomes another size.
    #[must_use]
    fn carried(&self, to: &Resized) -> Self {
        let _ = to;
        self.clone()
    }
}

/// So much less or more of a number, by at least one, as far as it goes.
pub fn scaled(n: u32, percent: u32, most: u32) -> u32 {
    let to = (n * percent).div_ceil(100);
    (if percent > 100 { to.max(n + 1) } else { to.min(n.saturating_sub(1)) }).clamp(1, most)
}
