//! What has water, or what came with it, left on the card, and over which coats?

use std::sync::Arc;

use super::materials::Materials;
use super::wet::{self, Wet};
use crate::ink::Kind;
use crate::learn::Figure;
use crate::water::Effect;
use crate::water::effect::Where;
use crate::water::flecks::Thrown;
use crate::water::wash::beneath;

/// Something wet on the card.
#[derive(Clone, Debug)]
pub struct WetFilm {
    /// What it was.
    pub wet: Arc<dyn Wet>,
    /// Whether it has been blotted.
    pub is_blotted: bool,
    /// How many films lay there before it.
    pub nth: u64,
    /// How many coats lie under it.
    pub above: usize,
    /// The masks that lay there meanwhile, by their place among the surface's covers.
    pub cover: usize,
    /// How many things had been sealed by then.
    pub sealed: usize,
    /// When it came there, in seconds since the first move.
    pub laid_at: u32,
    /// Whether it is touch dry.
    pub is_dry: bool,
}

/// What stands at a place once coats and films lie one over the other.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Layer {
    /// So much of an ink, in full swatches.
    Ink(usize, f64),
    /// Water that leaves such shares of the dye and of the oxide under it.
    Left(f64, f64),
}

impl WetFilm {
    /// What comes of it on a card.
    pub fn effect(&self, materials: &Materials) -> Arc<Effect> {
        let at =
            Where { size: materials.size, seed: materials.seed, nth: self.nth, is_blotted: self.is_blotted };
        wet::effect(&self.wet, at, &materials.masks)
    }

    /// What it does at a place in millimetres, one of its flecks left out.
    pub fn at(
        &self,
        materials: &Materials,
        effect: &Effect,
        (x, y): (f64, f64),
        but: Option<usize>,
    ) -> Vec<Layer> {
        let mut layers: Vec<Layer> =
            effect.inks.iter().map(|(ink, raster)| Layer::Ink(*ink, f64::from(raster.at(x, y)))).collect();
        if let Some([dye, oxide]) = &effect.left {
            layers.push(Layer::Left(f64::from(dye.at(x, y)), f64::from(oxide.at(x, y))));
        }
        let drops = effect.drops.iter().enumerate();
        let here =
            drops.filter(|(at, drop)| Some(*at) != but && (drop.x - x).hypot(drop.y - y) < drop.radius);
        for (nth, drop) in here {
            layers.extend(self.of_drop(materials, effect, nth, (drop.x - x).hypot(drop.y - y)));
        }
        layers
    }

    /// What a fleck does so far from its middle.
    pub fn of_drop(&self, materials: &Materials, effect: &Effect, nth: usize, far: f64) -> Option<Layer> {
        let flecks = self.wet.flecks()?;
        let drop = effect.drops.get(nth)?;
        match flecks.of {
            Thrown::Ink(ink) => {
                // Pigment stands as thick at its edge; what is dye dries with a rim.
                let rim = match materials.inks[ink].kind {
                    Kind::Pigment => 1.0,
                    _ if far > 0.72 * drop.radius => 1.3,
                    _ => 0.82,
                };
                Some(Layer::Ink(ink, rim * flecks.strength_of(nth)))
            }
            Thrown::Water => {
                let of = |kind| {
                    let under = beneath(kind, drop.radius, self.is_blotted);
                    let deep = (drop.radius - far).max(0.0);
                    under.inside + (under.rim - under.inside) * (-deep / under.wide).exp()
                };
                Some(Layer::Left(of(Kind::Dye), of(Kind::Oxide)))
            }
            Thrown::Mica => None,
        }
    }

    /// Seconds until it is touch dry in air.
    pub(super) fn dries_in(&self, materials: &Materials) -> u32 {
        let inks = self.wet.inks().into_iter().map(|ink| materials.touch_dry(ink).0);
        inks.max().unwrap_or(0).max(materials.dries_in(Figure::WetCardDries).0)
    }
}
