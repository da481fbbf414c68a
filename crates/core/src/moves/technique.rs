//! What does every technique answer?

use super::Move;
use super::laying::Laying;
use super::rules::{Stage, Unmet};
use crate::blend::Reach;
use crate::ink::{Finish, Ink};
use crate::learn::Figure;
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

/// Something that is taken off the shelf.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Takes {
    /// An ink by its place, in full swatches times square millimetres.
    Ink(usize, f64),
    /// Powder, in square millimetres.
    Powder(f64),
    /// Low-tack tape, in millimetres.
    Tape(f64),
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

    /// By which figure of a maker's own pace its hands are timed, and how many times it is taken; nothing where no pace is learned.
    fn paced(&self, with: &Materials) -> Option<(Figure, f64)> {
        let _ = with;
        None
    }

    /// Seconds that it keeps the hands busy, at the maker's own pace.
    fn hands(&self, with: &Materials) -> u32 {
        let ink = self.laying().map(|laying| laying.ink);
        self.paced(with)
            .map_or(0, |(figure, times)| (times * f64::from(with.seconds(figure, ink))).round() as u32)
    }

    /// Until what is dry in air, before anything is done over it; nothing where it leaves nothing damp.
    fn drying(&self, inks: &[Ink]) -> Option<Figure> {
        let laid = self.laying().map(|laying| Figure::drying(inks[laying.ink].kind));
        laid.or_else(|| self.wets().then_some(Figure::WetCardDries))
    }

    /// Seconds that it waits on a surface, hands free.
    fn waits(&self, surface: &Surface) -> u32 {
        let _ = surface;
        0
    }

    /// How the run sheet says it, on the surface it meets.
    fn words(&self, surface: &Surface, units: Units) -> Words;

    /// The same, where what it does depends on what is still to be done after it.
    fn words_before(&self, surface: &Surface, rest: &[Move], units: Units) -> Words {
        let _ = rest;
        self.words(surface, units)
    }

    /// What it takes off the shelf, on the surface it meets, beside the ink that then lies on the card.
    fn takes(&self, surface: &Surface) -> Vec<Takes> {
        let _ = surface;
        Vec::new()
    }

    /// What a card on which it was done is, as the record has it; nothing where that says nothing of the card.
    fn made(&self) -> Option<&'static str> {
        None
    }

    /// Whether it only makes the brush ready for what comes next.
    fn readies(&self) -> bool {
        false
    }

    /// Whether it is done on the mat, or with it.
    fn is_on_mat(&self) -> bool {
        false
    }

    /// Whether it is a step of its own, with a picture beside it; otherwise it is said at the head of the next.
    fn is_step(&self) -> bool {
        true
    }

    /// The ink it lays, where it lays one. What is laid stays on the card.
    fn laying(&self) -> Option<&Laying> {
        None
    }

    /// The same with other light passes of its ink; nothing where it lays none with a brush.
    fn relaid(&self, _veils: Vec<Reach>) -> Option<Self>
    where
        Self: Sized,
    {
        None
    }

    /// The ink it lays with a brush, which takes some of it up, and of what is damp.
    fn brushed(&self) -> Option<&Laying> {
        self.laying()
    }

    /// The laying by which it works over the place where its ink meets another, while both are damp.
    fn join(&self) -> Option<&Laying> {
        None
    }

    /// Whether it lays what the brush still carries, so that nothing is taken up before it.
    fn spends(&self) -> bool {
        false
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
    fn in_goes(&self, card: Finish) -> Vec<Self>
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
