//! What does one ink at one amount do to what lies beneath?
//!
//! Light that enters a card is thrown about inside it, so films are reckoned on the *internal*
//! reflectance (Saunderson, *J. Opt. Soc. Am.* 1942). There a film is a Kubelka–Munk layer of finite
//! thickness: it absorbs K and scatters S. A dye scatters nothing, and its layer is then the plain
//! product of transmittances; an oxide or pigment scatters, and a light one laid over a dark one shows.
//!
//! ```
//! use rosy_core::colour::{Illuminant, Lab, Spectrum};
//! use rosy_core::ink::{Film, Kind, Stack};
//!
//! let light = Illuminant::D65;
//! let card = Spectrum::of(Lab { l: 96.0, a: 0.0, b: -2.0 }, light);
//! let rose = Lab { l: 58.0, a: 58.0, b: -6.0 };
//! let film = Film::of_swatch(rose, &card, light, Kind::Dye);
//!
//! let mut stack = Stack::on(&card);
//! stack.lay(0, &film, 1.0); // the amount of the swatch gives the swatch again
//! assert!(stack.lab(light).difference(rose) < 0.5);
//! ```

use super::kind::Kind;
use super::measured::{SURFACE_INSIDE, TRAPPING, cover, wet_amount, wet_scatter};
use crate::colour::{BANDS, Colour, ColourError, Illuminant, Lab, Spectrum};

/// Halvings that find K from a swatch: to about 1 in 10¹².
const HALVINGS: usize = 44;
/// No swatch absorbs more than this (K of the whole film; e⁻²⁰ comes through).
const DARKEST: f64 = 10.0;

/// Internal from measured reflectance.
pub fn inside(measured: f64) -> f64 {
    measured / (1.0 - SURFACE_INSIDE + SURFACE_INSIDE * measured)
}

/// Measured from internal reflectance.
pub fn outside(internal: f64) -> f64 {
    (1.0 - SURFACE_INSIDE) * internal / (1.0 - SURFACE_INSIDE * internal)
}

/// The film of one ink. Amounts are shares of the full swatch: 0 is bare card, 1 the swatch itself.
#[derive(Clone, Debug)]
pub struct Film {
    /// K of the whole film, per band, at amount 1.
    full: Spectrum,
    /// K per amount of the thinnest film, and that amount, where the ink has a swatch of one veil.
    thin: Option<(Spectrum, f64)>,
    /// S of the whole film at amount 1.
    scattering: f64,
    /// The share of it that is taken on a full swatch of other ink.
    trapping: f64,
}

/// A slice of film ready to lie on something.
pub(super) struct Slice {
    pub(super) absorption: Spectrum,
    pub(super) scattering: f64,
}

impl Film {
    /// The film of an ink from its full swatch and the card the swatch was made on, both under `light`.
    pub fn of_swatch(swatch: Lab, card: &Spectrum, light: Illuminant, kind: Kind) -> Film {
        Film::of_reflectance(&Spectrum::at_most(card, swatch, light), card, kind)
    }

    /// The same from the colour of that swatch, however it is written.
    ///
    /// # Errors
    /// Where it is the colour of no surface.
    pub fn of_colour(
        swatch: Colour,
        card: &Spectrum,
        light: Illuminant,
        kind: Kind,
    ) -> Result<Film, ColourError> {
        Ok(Film::of_reflectance(&swatch.on(card, light)?, card, kind))
    }

    /// The same from what the full swatch gives back in each band, which is nowhere more than the card.
    pub fn of_reflectance(swatch: &Spectrum, card: &Spectrum, kind: Kind) -> Film {
        let covered = inside(cover(kind));
        let scattering = if kind == Kind::Dye { 0.0 } else { covered / (1.0 - covered) };
        Film { full: absorption(swatch, card, scattering), thin: None, scattering, trapping: TRAPPING }
    }

    /// Adds a second swatch made with one veil, `amount` of the full one: hue shifts with dilution,
    /// and the absorbance is then taken between the two.
    #[must_use]
    pub fn with_thin_swatch(self, swatch: Lab, card: &Spectrum, light: Illuminant, amount: f64) -> Film {
        self.with_thin_reflectance(&Spectrum::at_most(card, swatch, light), card, amount)
    }

    /// The same from what that swatch gives back in each band.
    #[must_use]
    pub fn with_thin_reflectance(mut self, swatch: &Spectrum, card: &Spectrum, amount: f64) -> Film {
        let thin = absorption(swatch, card, self.scattering * amount);
        self.thin = Some((thin.map(|k| k / amount), amount));
        self
    }

    /// The same film, of which another share is taken on a full swatch of other ink.
    #[must_use]
    pub const fn with_trapping(mut self, share: f64) -> Film {
        self.trapping = share;
        self
    }

    /// The share of it that is taken where so much other ink lies already, in swatches.
    pub fn trapped(&self, others: f64) -> f64 {
        self.trapping.powf(others.min(1.0))
    }

    /// The same film before it has dried: a little more of it shows, and it has not bloomed.
    #[must_use]
    pub fn wet(&self, kind: Kind) -> Film {
        let more = |k: f64| k * wet_amount(kind);
        Film {
            full: self.full.map(more),
            thin: self.thin.as_ref().map(|(thin, amount)| (thin.map(more), *amount)),
            scattering: self.scattering * wet_scatter(kind),
            trapping: self.trapping,
        }
    }

    /// Whether K goes with the amount: there is no swatch of one veil that says otherwise.
    pub(super) const fn is_even(&self) -> bool {
        self.thin.is_none()
    }

    /// K of the whole film at an amount.
    fn absorption_at(&self, amount: f64) -> Spectrum {
        match &self.thin {
            None => self.full.map(|k| k * amount),
            Some((thin, thin_amount)) => {
                let along = ((amount - thin_amount) / (1.0 - thin_amount)).clamp(0.0, 1.0);
                thin.zip(&self.full, |thin, full| amount * (thin + along * (full - thin)))
            }
        }
    }

    /// What laying from one amount up to another adds, taken up by a share `taken`.
    pub(super) fn slice(&self, from: f64, to: f64, taken: f64) -> Slice {
        let absorption = match self.thin {
            None => self.full.map(|k| k * (to - from) * taken),
            Some(_) => self
                .absorption_at(to)
                .zip(&self.absorption_at(from), |more, less| (more - less).max(0.0) * taken),
        };
        Slice { absorption, scattering: self.scattering * (to - from) * taken }
    }
}

/// A film ready to lie over anything: it turns the internal reflectance b beneath it into (p − q·b) / (r − s·b), band by band.
#[derive(Clone, Debug)]
pub struct Over {
    p: [f64; BANDS],
    q: [f64; BANDS],
    r: [f64; BANDS],
    s: f64,
}

impl Over {
    /// An amount of a film, of which a share is taken by what it lies on.
    pub fn of(film: &Film, amount: f64, taken: f64) -> Over {
        let Slice { absorption, scattering: s } = film.slice(0.0, amount, taken);
        let mut over = Over { p: [s; BANDS], q: [0.0; BANDS], r: [1.0; BANDS], s };
        for (band, k) in absorption.0.into_iter().enumerate() {
            if s == 0.0 {
                over.q[band] = -(-2.0 * k).exp();
            } else {
                let d_coth_d = d_coth_d(k, s);
                (over.q[band], over.r[band]) = (k + s - d_coth_d, k + s + d_coth_d);
            }
        }
        over
    }

    /// What is measured of it in a band as (p − q·b) / (1 − s·b), b being the internal reflectance beneath: p, q and s.
    pub fn outside(&self, band: usize) -> [f64; 3] {
        let (p, q, r) = (self.p[band], self.q[band], self.r[band]);
        let scale = r - SURFACE_INSIDE * p;
        let through = 1.0 - SURFACE_INSIDE;
        [through * p / scale, through * q / scale, (self.s - SURFACE_INSIDE * q) / scale]
    }

    /// What comes back from it and what lies beneath.
    #[inline]
    pub fn on(&self, beneath: &[f64; BANDS]) -> [f64; BANDS] {
        std::array::from_fn(|band| {
            (self.p[band] - self.q[band] * beneath[band]) / (self.r[band] - self.s * beneath[band])
        })
    }
}

/// Internal reflectance of a layer that absorbs `k` and scatters `s` over `beneath` (Kubelka 1948).
pub(super) fn layer(k: f64, s: f64, beneath: f64) -> f64 {
    if s == 0.0 {
        return beneath * (-2.0 * k).exp();
    }
    let d_coth_d = d_coth_d(k, s);
    (s - beneath * (k + s - d_coth_d)) / (k + s - beneath * s + d_coth_d)
}

/// d·coth(d) of a layer, d = √(k (k + 2 s)).
fn d_coth_d(k: f64, s: f64) -> f64 {
    let d = (k * (k + 2.0 * s)).sqrt();
    if d < 1e-6 { 1.0 + d * d / 3.0 } else { d / d.tanh() }
}

/// K that turns the card's reflectance into the swatch's, per band; 0 where the swatch is the lighter.
fn absorption(swatch: &Spectrum, card: &Spectrum, scattering: f64) -> Spectrum {
    swatch.zip(card, |target, beneath| {
        let (target, beneath) = (inside(target), inside(beneath));
        if scattering == 0.0 {
            return (-0.5 * (target / beneath).ln()).clamp(0.0, DARKEST);
        }
        let (mut low, mut high) = (0.0, DARKEST + 100.0 * scattering);
        for _ in 0..HALVINGS {
            let middle = 0.5 * (low + high);
            if layer(middle, scattering, beneath) > target {
                low = middle;
            } else {
                high = middle;
            }
        }
        0.5 * (low + high)
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ink::Stack;
    use proptest::prelude::*;

    const LIGHT: Illuminant = Illuminant::D65;

    #[test]
    fn a_thin_swatch_is_met_at_its_own_amount() {
        let card = Spectrum::of(Lab { l: 96.0, a: 0.0, b: -2.0 }, LIGHT);
        let (full, one) = (Lab { l: 50.0, a: 45.0, b: 40.0 }, Lab { l: 88.0, a: 14.0, b: 3.0 });
        let film =
            Film::of_swatch(full, &card, LIGHT, Kind::Dye).with_thin_swatch(one, &card, LIGHT, 1.0 / 7.0);
        for (amount, swatch) in [(1.0 / 7.0, one), (1.0, full)] {
            let mut stack = Stack::on(&card);
            stack.lay(0, &film, amount);
            assert!(stack.lab(LIGHT).difference(swatch) < 1.0);
        }
    }

    #[test]
    fn dye_dries_lighter_and_oxide_blooms() {
        let card = Spectrum::of(Lab { l: 96.0, a: 0.0, b: -2.0 }, LIGHT);
        let lightness = |film: &Film| {
            let mut stack = Stack::on(&card);
            stack.lay(0, film, 1.0);
            stack.lab(LIGHT).l
        };
        for kind in [Kind::Dye, Kind::Oxide] {
            let film = Film::of_swatch(Lab { l: 45.0, a: 10.0, b: -40.0 }, &card, LIGHT, kind);
            let (wet, dry) = (lightness(&film.wet(kind)), lightness(&film));
            assert!(dry > wet + 0.5 && dry < wet + 8.0, "{kind}: {wet:.1} wet, {dry:.1} dry");
        }
    }

    proptest! {
        #[test]
        fn the_surface_is_undone_exactly(r in 0.01..1.0) {
            prop_assert!((outside(inside(r)) - r).abs() < 1e-12);
        }

        #[test]
        fn scattering_fades_into_the_plain_product(k in 0.01..4.0, beneath in 0.05..0.99) {
            prop_assert!((layer(k, 1e-9, beneath) - layer(k, 0.0, beneath)).abs() < 1e-6);
        }

        #[test]
        fn a_layer_gives_back_less_than_it_gets(k in 0.0..8.0, s in 0.0..30.0, beneath in 0.0..1.0) {
            let r = layer(k, s, beneath);
            prop_assert!((-1e-9..=1.0 + 1e-9).contains(&r));
        }

        #[test]
        fn two_halves_of_a_layer_are_the_whole(k in 0.01..4.0, s in 0.0..4.0, beneath in 0.05..0.95) {
            let halves = layer(k / 2.0, s / 2.0, layer(k / 2.0, s / 2.0, beneath));
            prop_assert!((halves - layer(k, s, beneath)).abs() < 1e-9);
        }
    }
}
