//! What is sticky, powdered or sealed on the card, under powder or under paste?
//!
//! Powder holds to sticky ink, and to every damp or charged spot. Melted it is a raised line that water-based ink does not
//! stain: what lies there then stays as it is, and nothing laid later reaches it.

use super::masks::{Mask, Part, Plot};
use super::materials::Materials;
use crate::colour::{Illuminant, Lab, Spectrum};
use crate::ink::{Paste, Powder, Stack, paste};

/// How far embossing has come.
#[derive(Clone, Debug, Default)]
pub struct Embossing {
    /// Whether all of it has been dried through since ink was last laid.
    pub is_bone_dry: bool,
    /// When an anti-static bag was last over it.
    pub wiped: Option<Wiped>,
    /// The thing that is sticky, and the masks that lay there when it became so.
    pub sticky: Option<(usize, Vec<Mask>)>,
    /// The powder that holds to it.
    pub powder: Option<Powder>,
    /// What is sealed, in order.
    pub sealed: Vec<Sealed>,
    /// Whether the last of it is still hot.
    pub is_hot: bool,
    /// When paste was scraped on that is still soft, in seconds since the first move.
    pub soft_since: Option<u32>,
}

/// An anti-static bag wiped over a card.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Wiped {
    /// The masks that lay there: it did not reach what they covered.
    pub(super) masks: Vec<Mask>,
    /// How much had been laid by then: what has been laid since takes away what the bag left.
    pub(super) coats: usize,
    pub(super) films: usize,
}

/// What dries or melts hard over a part of a card.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Hard {
    /// Powder.
    Powder(Powder),
    /// Paste.
    Paste(Paste),
}

/// What lies hard over a part of a card.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Seal {
    /// What.
    pub of: Hard,
    /// Layers of it, one over the other: a second makes the line bolder and smoother.
    pub layers: u8,
}

impl Seal {
    /// One layer of powder.
    pub const fn powder(powder: Powder) -> Seal {
        Seal { of: Hard::Powder(powder), layers: 1 }
    }

    /// Its own colour, where nothing beneath it is seen.
    pub fn covers_with(self, materials: &Materials) -> Option<Lab> {
        match self.of {
            Hard::Powder(powder) => powder.covers_with(),
            Hard::Paste(Paste::White) => Some(paste::WHITE),
            Hard::Paste(Paste::Tinted(ink)) => {
                let mut tinted = Stack::on(&Spectrum::of(paste::WHITE, Illuminant::D65));
                tinted.lay(ink, &materials.films[ink], paste::TINT);
                Some(tinted.lab(Illuminant::D65))
            }
            Hard::Paste(Paste::Shimmer) => None,
        }
    }

    /// What it lays over what is seen through it, where it does.
    pub(super) fn lie_on(self, stack: &mut Stack) {
        if self.of == Hard::Paste(Paste::Shimmer) {
            stack.flake(paste::MICA_COVERS, &Spectrum::of(paste::MICA, Illuminant::D65));
        }
    }

    /// The share of what water has done beneath it that is seen through it.
    pub fn lets(self, materials: &Materials) -> f32 {
        match self.of {
            _ if self.covers_with(materials).is_some() => 0.0,
            Hard::Paste(Paste::Shimmer) => 1.0 - paste::MICA_COVERS as f32,
            _ => 1.0,
        }
    }
}

/// A thing sealed under powder, or its pattern in paste.
#[derive(Clone, Debug, PartialEq)]
pub struct Sealed {
    /// The thing.
    pub thing: usize,
    /// Under what.
    pub seal: Seal,
    /// The masks that lay there when the sticky ink was laid: what they covered is not sealed.
    masks: Vec<Mask>,
}

impl Embossing {
    /// Sticky ink on a thing, wherever none of the masks that lie there covers it.
    pub(crate) fn stick(&mut self, thing: usize, lying: &[Mask]) {
        let mut masks = lying.to_vec();
        let frame = Mask { thing, part: Part::Frame };
        // Without its frame it goes no further than a careful hand.
        if !masks.contains(&frame) {
            masks.push(frame);
        }
        self.sticky = Some((thing, masks));
    }

    /// Melts the powder there is.
    pub(crate) fn melt(&mut self) {
        let Some(powder) = self.powder.take() else { return };
        match (self.sticky.take(), self.sealed.last_mut()) {
            (Some((thing, masks)), _) => {
                self.sealed.push(Sealed { thing, seal: Seal::powder(powder), masks });
                self.is_hot = true;
            }
            // What is poured on while it is hot holds to it.
            (None, Some(last)) if self.is_hot => {
                last.seal = Seal { of: Hard::Powder(powder), layers: last.seal.layers + 1 };
            }
            _ => {}
        }
    }

    /// Paste scraped through the stencil of a thing, wherever none of the masks that lie there covers the card.
    pub(crate) fn spread(&mut self, thing: usize, of: Paste, lying: &[Mask]) {
        let mut masks = lying.to_vec();
        masks.push(Mask { thing, part: Part::Frame });
        self.sealed.push(Sealed { thing, seal: Seal { of: Hard::Paste(of), layers: 1 }, masks });
    }

    /// What a plot lies sealed under.
    pub fn over(&self, plot: &Plot) -> Option<Seal> {
        self.sealed.iter().rev().find(|sealed| sealed.holds(plot)).map(|sealed| sealed.seal)
    }
}

impl Sealed {
    /// Whether a plot is sealed by it.
    pub fn holds(&self, plot: &Plot) -> bool {
        !self.masks.iter().any(|mask| plot.is_covered(*mask))
    }
}
