//! What is wet on the card, and what lies at a place once water has been there?

use std::sync::Arc;

use super::coat::Coat;
use super::film::{Layer, WetFilm};
use super::standing::Surface;
use super::wet::Wet;
use crate::colour::{Illuminant, Lab, Spectrum};
use crate::ink::{Kind, Stack};
use crate::water::Effect;

impl Surface {
    /// Something wet comes on it.
    pub fn wet(&mut self, wet: impl Wet) {
        if let Some(last) = self.films.last_mut()
            && wet.mixes_with(&*last.wet)
        {
            last.wet = Arc::new(wet);
            last.laid_at = self.seconds;
            return;
        }
        let film = WetFilm {
            nth: self.films.len() as u64,
            above: self.coats.len(),
            cover: self.cover(),
            sealed: self.embossing.sealed.len(),
            laid_at: self.seconds,
            is_dry: false,
            is_blotted: false,
            wet: Arc::new(wet),
        };
        self.embossing.is_bone_dry = false;
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
    pub fn wet_film(&self) -> Option<&WetFilm> {
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
            let is_dry = self.seconds >= film.laid_at + film.dries_in(&self.materials);
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
        let of_coat = |coat: &Coat| {
            Layer::Ink(coat.ink, coat.veils_at(spot[coat.run]) / self.materials.full_veils(coat.ink))
        };
        for (nth, (film, effect)) in self.films.iter().zip(effects).enumerate() {
            while let Some((_, coat)) = coats.next_if(|(at, _)| *at < film.above) {
                layers.push(of_coat(coat));
            }
            let but = but.filter(|(of, ..)| *of == nth);
            layers.extend(film.at(&self.materials, effect, (x, y), but.map(|(_, drop, _)| drop)));
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
        self.films.iter().map(|film| film.effect(&self.materials)).collect()
    }
}
