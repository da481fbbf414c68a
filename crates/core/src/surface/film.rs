//! What has water, or what came with it, left on the card, and over which coats?

use std::sync::Arc;

use super::standing::Surface;
use crate::colour::{Illuminant, Lab, Spectrum};
use crate::ink::{Kind, Stack};
use crate::learn::Figure;
use crate::shape::Region;
use crate::surface::Masks;
use crate::water::effect::Where;
use crate::water::flecks::Thrown;
use crate::water::wash::beneath;
use crate::water::{Effect, Wet};

/// A wet deed on the card.
#[derive(Clone, Debug)]
pub struct Film {
    /// What it was.
    pub wet: Wet,
    /// Whether it has been blotted.
    pub is_blotted: bool,
    /// How many wet deeds went before it.
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

impl Film {
    /// What comes of it on a surface.
    pub fn effect(&self, surface: &Surface) -> Arc<Effect> {
        let materials = &surface.materials;
        let at =
            Where { size: materials.size, seed: materials.seed, nth: self.nth, is_blotted: self.is_blotted };
        self.wet.effect(at, |thing| sheet(&materials.masks, thing))
    }

    /// What it does at a place in millimetres, one of its flecks left out.
    pub fn at(
        &self,
        surface: &Surface,
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
            layers.extend(self.of_drop(surface, effect, nth, (drop.x - x).hypot(drop.y - y)));
        }
        layers
    }

    /// What a fleck does so far from its middle.
    pub fn of_drop(&self, surface: &Surface, effect: &Effect, nth: usize, far: f64) -> Option<Layer> {
        let Wet::Flicked(flecks) = &self.wet else { return None };
        let drop = effect.drops.get(nth)?;
        match flecks.of {
            Thrown::Ink(ink) => {
                // Pigment stands as thick at its edge; what is dye dries with a rim.
                let rim = match surface.materials.inks[ink].kind {
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

    /// Minutes until it is touch dry in air.
    fn dries_in(&self, surface: &Surface) -> u32 {
        let inks = self.wet.inks().into_iter().map(|ink| surface.materials.touch_dry(ink).0);
        inks.max().unwrap_or(0).max(surface.materials.minutes(Figure::WetCardDries).0)
    }
}

/// The sheet of a wet stencil: a broad border round its shape, without what is open.
fn sheet(masks: &Masks, thing: usize) -> Region {
    let Some(thing) = masks.things.get(thing) else { return Region::default() };
    let (left, top) = (thing.extent.corner.left.mm(), thing.extent.corner.top.mm());
    let (wide, high) = (thing.extent.size.0.mm(), thing.extent.size.1.mm());
    Region::rect(left - SHEET, top - SHEET, wide + 2.0 * SHEET, high + 2.0 * SHEET).minus(&thing.inside)
}

/// How far a wet stencil's sheet reaches past its openings, in millimetres.
const SHEET: f64 = 4.0;

impl Surface {
    /// Something wet comes on it.
    pub fn wet(&mut self, wet: Wet) {
        // A press on a card that is still damp from the last mixes with it.
        if let Wet::Pressed(told, layer) = &wet
            && let Some(last) = self.films.last_mut()
            && matches!(&last.wet, Wet::Pressed(_, before) if before == layer)
        {
            last.wet = Wet::Pressed(told.clone(), *layer);
            last.laid_at = self.seconds;
            return;
        }
        let film = Film {
            nth: self.films.len() as u64,
            above: self.coats.len(),
            cover: self.cover(),
            sealed: self.embossing.sealed.len(),
            laid_at: self.seconds,
            is_dry: false,
            is_blotted: false,
            wet,
        };
        (self.embossing.is_bone_dry, self.embossing.is_wiped) = (false, false);
        self.films.push(film);
    }

    /// What water stands on it is blotted.
    pub fn blot(&mut self) {
        for film in self.films.iter_mut().filter(|film| !film.is_dry && film.wet.is_water()) {
            film.is_blotted = true;
            film.is_dry = true;
        }
    }

    /// The water that stands on it, or what came with water and is still damp.
    pub fn wet_film(&self) -> Option<&Film> {
        self.films.iter().rev().find(|film| !film.is_dry)
    }

    /// Whether anything on it is damp.
    pub fn is_damp(&self) -> bool {
        self.coats.iter().any(|coat| !coat.is_dry) || self.wet_film().is_some() || self.is_soft()
    }

    /// What came with water and has had its minutes in air is touch dry.
    pub(super) fn films_pass(&mut self) {
        for at in 0..self.films.len() {
            let film = &self.films[at];
            let is_dry = self.seconds >= film.laid_at + 60 * film.dries_in(self);
            self.films[at].is_dry |= is_dry;
        }
    }

    /// All that lies at a place, the first at the bottom; in place of one fleck of one film what is given for it.
    pub fn layers_at(
        &self,
        (x, y): (f64, f64),
        effects: &[Arc<Effect>],
        but: Option<(usize, usize, Option<Layer>)>,
    ) -> Vec<Layer> {
        let spot = self.spot(x, y);
        let mut layers = Vec::with_capacity(self.coats.len() + 2 * self.films.len());
        let mut coats = self.coats.iter().enumerate().peekable();
        let of_coat = |coat: &super::Coat| {
            Layer::Ink(coat.ink, coat.veils_at(spot[coat.run]) / self.materials.full_veils(coat.ink))
        };
        for (nth, (film, effect)) in self.films.iter().zip(effects).enumerate() {
            while let Some((_, coat)) = coats.next_if(|(at, _)| *at < film.above) {
                layers.push(of_coat(coat));
            }
            let but = but.filter(|(of, ..)| *of == nth);
            layers.extend(film.at(self, effect, (x, y), but.map(|(_, drop, _)| drop)));
            layers.extend(but.and_then(|(.., instead)| instead));
        }
        layers.extend(coats.map(|(_, coat)| of_coat(coat)));
        layers
    }

    /// Layers one over the other, water taking of what lies under it.
    pub fn stack_of(&self, layers: &[Layer]) -> Stack {
        if let Some(hard) = self.under.and_then(|seal| seal.covers_with(&self.materials)) {
            return Stack::on(&Spectrum::of(hard, Illuminant::D65));
        }
        let mut inks: Vec<(usize, f64)> = Vec::with_capacity(layers.len());
        for layer in layers {
            match *layer {
                Layer::Ink(ink, amount) => inks.push((ink, amount)),
                Layer::Left(of_dye, of_oxide) => {
                    for (ink, amount) in &mut inks {
                        *amount *= match self.materials.inks[*ink].kind {
                            Kind::Dye => of_dye,
                            Kind::Oxide => of_oxide,
                            Kind::Pigment => 1.0,
                        };
                    }
                }
            }
        }
        let mut stack = Stack::on(&self.materials.card);
        for (ink, amount) in inks {
            stack.lay(ink, &self.materials.films[ink], amount);
        }
        if let Some(seal) = self.under {
            seal.lie_on(&mut stack);
        }
        stack
    }

    /// The colour at a place, whatever water has done there.
    pub fn lab_at(&self, place: (f64, f64), effects: &[Arc<Effect>]) -> Lab {
        self.stack_of(&self.layers_at(place, effects, None)).lab(Illuminant::D65)
    }

    /// What comes of each film on it.
    pub fn effects(&self) -> Vec<Arc<Effect>> {
        self.films.iter().map(|film| film.effect(self)).collect()
    }
}
