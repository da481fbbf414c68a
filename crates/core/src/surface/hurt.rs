//! What does a broken rule do to the card?
//!
//! Where a mask is lifted from damp ink, ink goes with it in blotches; where one is lifted beside damp ink, that creeps
//! under its edge; powder that holds where it should not melts in as freckles. Where chance has its say it starts from the
//! panel's seed. How wide and how many is chosen from what makers tell of it.

use rand_chacha::ChaCha8Rng;
use rand_core::{Rng, SeedableRng};

use super::harm::{Harm, What};
use super::masks::Mask;
use super::standing::Surface;
use crate::ink::Powder;
use crate::shape::Region;

/// How far ink creeps under an edge, in millimetres.
const CREEPS: f64 = 1.0;
/// Square millimetres of damp ink for each blotch that goes with a mask, and its least and greatest radius.
const A_BLOTCH: f64 = 70.0;
const BLOTCH: (f64, f64) = (1.2, 3.6);
/// Square millimetres of card for each freckle, and its least and greatest radius.
const A_FRECKLE: f64 = 45.0;
const FRECKLE: (f64, f64) = (0.15, 0.5);
/// Most spots of one harm.
const MOST: usize = 600;
/// Corners of a spot.
const CORNERS: usize = 11;

impl Surface {
    fn damp(&self) -> Vec<usize> {
        (0..self.coats.len()).filter(|at| !self.coats[*at].is_dry).collect()
    }

    /// What a mask covers, or what it leaves open.
    fn region_of(&self, mask: Mask, is_covered: bool) -> Region {
        let plots = self.materials.masks.plots.iter();
        let of = plots.filter(|plot| plot.is_covered(mask) == is_covered).map(|plot| plot.region.clone());
        // Plots beside one another are one, so that no edge between them is creept under.
        Region::all(of)
    }

    /// The card once a mask that was laid on damp ink has been lifted again.
    #[must_use]
    pub fn torn_by(mut self, mask: Mask) -> Surface {
        let (damp, region) = (self.damp(), self.region_of(mask, true));
        let spots = self.spots(&region, A_BLOTCH, BLOTCH);
        self.harms.push(Harm { region: spots.intersected(&region), what: What::Gone(damp) });
        self
    }

    /// The card once a mask has been lifted whose edge lay beside damp ink.
    #[must_use]
    pub fn crept_under(mut self, mask: Mask) -> Surface {
        let (damp, open) = (self.damp(), self.region_of(mask, false));
        let covered = self.region_of(mask, true);
        let band = covered.intersected(&open.grown(CREEPS));
        // It creeps further here and there.
        let further = self.spots(&band, 14.0, (0.5 * CREEPS, 1.6 * CREEPS));
        self.harms.push(Harm { region: band.united(&further).intersected(&covered), what: What::Come(damp) });
        self.uncover(mask);
        self
    }

    /// The card once powder has held wherever it was damp or charged.
    #[must_use]
    pub fn freckled(mut self, powder: Powder) -> Surface {
        let (width, height) = self.materials.size_mm();
        let region = self.spots(&Region::rect(0.0, 0.0, width, height), A_FRECKLE, FRECKLE);
        self.harms.push(Harm { region, what: What::Sealed(powder) });
        self
    }

    /// Round spots scattered over a region, none quite round.
    fn spots(&self, over: &Region, each: f64, radii: (f64, f64)) -> Region {
        let Some((least, most)) = over.bounds() else { return Region::default() };
        let mut random = ChaCha8Rng::seed_from_u64(u64::from(self.materials.seed) ^ 0x00da_3a9e);
        let mut chance = || f64::from(random.next_u32()) / f64::from(u32::MAX);
        let wanted = ((over.area() / each).ceil() as usize).min(MOST);
        let mut spots = Vec::new();
        // A region that fills little of its box is not looked for for ever.
        for _ in 0..40 * wanted {
            if spots.len() == wanted {
                break;
            }
            let at = [least[0] + chance() * (most[0] - least[0]), least[1] + chance() * (most[1] - least[1])];
            let radius = radii.0 + chance() * chance() * (radii.1 - radii.0);
            let waves: [f64; CORNERS] = std::array::from_fn(|_| 0.75 + 0.5 * chance());
            if !over.has(at) {
                continue;
            }
            let corner = |n: usize| {
                let turn = n as f64 * std::f64::consts::TAU / CORNERS as f64;
                let out = radius * waves[n];
                [at[0] + out * turn.cos(), at[1] + out * turn.sin()]
            };
            spots.push(Region::of(&[(0..CORNERS).map(corner).collect()], true));
        }
        Region::all(spots)
    }
}
