//! Which brush lays an ink, and what has to be done to it first?
//!
//! The brushes on the desk serve all the cards of an evening. What a laying leaves on its brush, its own ink and what came
//! off the damp films it was worked over, goes into the next ink: the brush is wiped before that as often as it takes, or
//! another is taken up. The hands take the brush that is ready soonest; of those ready as soon, the first on the desk.

use std::sync::Arc;

use crate::ink::{Brush, Ink, measured, tool::taking};
use crate::learn::Figure;
use crate::panel::Panel;
use crate::surface::brushes::Carried;
use crate::surface::{Materials, Surface};

/// The inks, the brushes and what lies on them, as cards are gone through.
#[derive(Clone, Debug, Default)]
pub struct Found {
    /// The inks of the evening, each once.
    pub inks: Vec<Ink>,
    brushes: Vec<Brush>,
    left: Vec<Lain>,
    /// Inks with light passes laid of them at once: the fewer they are, the more of what is on a brush shows in them.
    wanted: Vec<(usize, usize)>,
    with: Option<Arc<Materials>>,
}

/// What a laying leaves on its brush: its ink, and all that is on it.
#[derive(Clone, Debug, PartialEq)]
struct Lain {
    ink: usize,
    carried: Carried,
}

/// A laying, as far as brushes are concerned.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct Lays {
    /// The ink, by its place among the inks of the evening.
    pub ink: usize,
    /// The ink with so many light passes of it, by their place in what is wiped for.
    pub wanted: usize,
    /// The brushes that take it, by their places on the desk; at least one.
    pub brushes: Vec<usize>,
    /// What it leaves on its brush, by its place on [`Desk::left`].
    pub leaves: usize,
}

/// The desk of an evening.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Desk {
    /// What its brushes are called.
    pub brushes: Vec<String>,
    /// What its inks are called.
    pub inks: Vec<String>,
    /// What can be left on a brush.
    pub left: Vec<Left>,
    /// Seconds of a wipe.
    pub wipe: u32,
}

/// What is left on a brush, as far as anything follows from it.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct Left {
    /// The ink it was loaded with.
    pub ink: usize,
    /// How often it is wiped before each ink that is laid, by its light passes.
    pub wipes: Vec<u8>,
}

/// What is on the brushes, and which is in hand.
#[derive(Clone, Debug, Default, PartialEq, Eq, Hash)]
pub struct OnHand {
    /// What is left on each, by its place on [`Desk::left`]; nothing on a clean one.
    pub left: Vec<Option<usize>>,
    /// The one in hand.
    pub held: Option<usize>,
}

/// What is done to a brush before it lays an ink.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Readied {
    /// The brush, by its place on the desk.
    pub brush: usize,
    /// What is on it, by its place on [`Desk::left`].
    pub left: Option<usize>,
    /// How often it is wiped.
    pub wipes: u8,
    /// Whether it is taken up, and not in hand already.
    pub is_taken: bool,
}

/// Where something is listed; it is put there where it is not.
fn place<T: PartialEq>(list: &mut Vec<T>, of: T) -> usize {
    list.iter().position(|known| *known == of).unwrap_or_else(|| {
        list.push(of);
        list.len() - 1
    })
}

impl Found {
    /// An ink that has just been laid on a card, so many light passes of it.
    pub fn lays(&mut self, panel: &Panel, surface: &Surface, (ink, passes): (usize, usize)) -> Lays {
        let materials = &surface.materials;
        self.with.get_or_insert_with(|| materials.clone());
        let own = taking(&materials.brushes, &panel.inks[ink]);
        let brushes =
            own.into_iter().map(|brush| place(&mut self.brushes, materials.brushes[brush].clone())).collect();
        let carried = surface.brushes.carried().0.iter();
        let carried =
            carried.map(|(of, left)| (place(&mut self.inks, panel.inks[*of].clone()), *left)).collect();
        let ink = place(&mut self.inks, panel.inks[ink].clone());
        let wanted = place(&mut self.wanted, (ink, passes.max(1)));
        let leaves = place(&mut self.left, Lain { ink, carried: Carried(carried) });
        Lays { ink, wanted, brushes, leaves }
    }

    /// The desk, once all cards are gone through, and where each thing that can be left on a brush is found on it.
    pub fn desk(&self) -> (Desk, Vec<usize>) {
        let mut desk = Desk {
            brushes: self.brushes.iter().map(|brush| brush.name.clone()).collect(),
            inks: self.inks.iter().map(|ink| ink.name.to_string()).collect(),
            ..Desk::default()
        };
        let Some(with) = &self.with else { return (desk, Vec::new()) };
        desk.wipe = with.seconds(Figure::Wipe, None);
        let all = with.of_inks(&self.inks);
        let left = |lain: &Lain| {
            let wipes = self.wanted.iter().map(|(ink, passes)| lain.carried.cleaning(&all, *ink, *passes).0);
            Left { ink: lain.ink, wipes: wipes.collect() }
        };
        let places = self.left.iter().map(|lain| place(&mut desk.left, left(lain))).collect();
        (desk, places)
    }
}

impl Desk {
    /// Clean brushes, none of them in hand.
    pub fn clean(&self) -> OnHand {
        OnHand { left: vec![None; self.brushes.len()], held: None }
    }

    /// The ink on the brush in hand.
    pub fn ink(&self, on_hand: &OnHand) -> Option<usize> {
        Some(self.left[on_hand.left[on_hand.held?]?].ink)
    }

    /// The brush that is ready soonest, and what is done to it first.
    pub fn readied(&self, on_hand: &OnHand, lays: &Lays) -> Readied {
        let readied = |brush: &usize| {
            let left = on_hand.left[*brush];
            let wipes = left.map_or(0, |left| self.left[left].wipes[lays.wanted]);
            Readied { brush: *brush, left, wipes, is_taken: on_hand.held != Some(*brush) }
        };
        let all = lays.brushes.iter().map(readied);
        all.min_by_key(|readied| self.seconds(on_hand, *readied, lays.ink)).unwrap_or(Readied {
            brush: 0,
            left: None,
            wipes: 0,
            is_taken: false,
        })
    }

    /// Seconds until a brush is ready for an ink. The first of an evening is at hand; another pad has to be opened.
    pub fn seconds(&self, on_hand: &OnHand, readied: Readied, ink: usize) -> i64 {
        let is_change = on_hand.held.is_some() && (readied.is_taken || self.ink(on_hand) != Some(ink));
        let change = if is_change { measured::SECONDS_A_CHANGE } else { 0 };
        i64::from(u32::from(readied.wipes) * self.wipe + change)
    }

    /// What is done to a brush first, in words; nothing where it is in hand and ready.
    pub fn says(&self, readied: Readied) -> Option<String> {
        let brush = &self.brushes[readied.brush];
        let on_it = readied.left.map(|left| &self.inks[self.left[left].ink]);
        let often = match readied.wipes {
            1 => "on a dry towel",
            2 => "twice on a dry towel, a clean part of it each time",
            _ => "three times on a dry towel, a clean part of it each time",
        };
        match (on_it, readied.wipes) {
            (Some(ink), 1..) if readied.is_taken => {
                Some(format!("Take {brush} and wipe {ink} off it {often}."))
            }
            (Some(ink), 1..) => Some(format!("Wipe {ink} off {brush} {often}.")),
            (Some(_), 0) if !readied.is_taken => None,
            (Some(ink), 0) => Some(format!("Take {brush}, which has {ink} on it.")),
            (None, _) => Some(format!("Take {brush}, clean.")),
        }
    }

    /// The longest that it can take to make ready for a laying, whatever was laid before.
    pub fn most(&self, lays: &Lays) -> u32 {
        let wipes = self.left.iter().map(|left| left.wipes[lays.wanted]).max().unwrap_or(0);
        u32::from(wipes) * self.wipe + measured::SECONDS_A_CHANGE
    }

    /// The least that it takes to make ready for an ink that is not in hand.
    pub fn least(&self, lays: &Lays) -> i64 {
        // With one brush for all of them, what was laid before is always on it.
        let others = self.left.iter().filter(|left| left.ink != lays.ink && self.brushes.len() == 1);
        let wipes = others.map(|left| left.wipes[lays.wanted]).min().unwrap_or(0);
        i64::from(u32::from(wipes) * self.wipe + measured::SECONDS_A_CHANGE)
    }

    /// The brushes once an ink is laid with one of them.
    pub fn lay(&self, on_hand: &mut OnHand, readied: Readied, lays: &Lays) {
        on_hand.left[readied.brush] = Some(lays.leaves);
        on_hand.held = Some(readied.brush);
    }
}
