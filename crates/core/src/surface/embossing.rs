//! What is sticky, powdered or sealed on the card?
//!
//! Powder holds to sticky ink, and to every damp or charged spot. Melted it is a raised line that water-based ink does not
//! stain: what lies there then stays as it is, and nothing laid later reaches it.

use super::masks::{Mask, Part, Plot};
use crate::ink::Powder;

/// How far embossing has come.
#[derive(Clone, Debug, Default)]
pub struct Embossing {
    /// Whether all of it has been dried through since ink was last laid.
    pub is_bone_dry: bool,
    /// Whether an anti-static bag has been over it since.
    pub is_wiped: bool,
    /// The thing that is sticky, and the masks that lay there when it became so.
    pub sticky: Option<(usize, Vec<Mask>)>,
    /// The powder that holds to it.
    pub powder: Option<Powder>,
    /// What is sealed, in order.
    pub sealed: Vec<Sealed>,
    /// Whether the last of it is still hot.
    pub is_hot: bool,
}

/// Melted powder that lies over a part of a card.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Seal {
    /// Which.
    pub powder: Powder,
    /// Layers of it, melted one over the other: a second makes the line bolder and smoother.
    pub layers: u8,
}

/// A thing sealed under powder.
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
                self.sealed.push(Sealed { thing, seal: Seal { powder, layers: 1 }, masks });
                self.is_hot = true;
            }
            // What is poured on while it is hot holds to it.
            (None, Some(last)) if self.is_hot => last.seal = Seal { powder, layers: last.seal.layers + 1 },
            _ => {}
        }
    }

    /// The powder that a plot lies sealed under.
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
