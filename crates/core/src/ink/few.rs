//! What do films come to in a few broad bands, quickly enough for every cell of a picture?
//!
//! Bands of a spectrum are taken together, two by two and more at its ends. What a film changes is all that is read from
//! them: how X, Y and Z with it stand to those without it, where the error of the broad bands falls out to first order.

use std::ops::Range;

use super::exp::exp;
use super::film::{Film, inside};
use crate::colour::{BANDS, Illuminant, Spectrum};

/// Broad bands.
pub const FEW: usize = 16;
/// A number for each.
pub type Few = [f32; FEW];

/// Steps to a full swatch in which K is tabled, and how many swatches it is tabled for.
const STEPS: usize = 16;
const SWATCHES: usize = 4;

/// How many bands go into each broad one: fewer where the eye sees most.
const WIDE: [usize; FEW] = [3, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 3, 4];

/// The bands of each broad one.
fn parts() -> [Range<usize>; FEW] {
    let mut from = 0;
    WIDE.map(|wide| {
        from += wide;
        from - wide..from
    })
}

/// The mean over each broad band, each of its bands counting for what the eye sees of it.
fn broad(spectrum: &Spectrum) -> Few {
    let seen: [f64; BANDS] = Illuminant::D65.weights().map(|of| of.iter().sum());
    parts().map(|part| {
        let all: f64 = seen[part.clone()].iter().sum();
        (part.map(|band| seen[band] * spectrum.0[band]).sum::<f64>() / all) as f32
    })
}

/// A film in broad bands.
#[derive(Clone, Debug)]
pub struct FewFilm {
    /// K of a full swatch, where it goes with the amount.
    even: Option<Few>,
    /// K at each step of its amount.
    absorption: Vec<Few>,
    /// S of one full swatch; none where it only lets light through.
    pub scattering: f32,
    /// The share of it that is not taken on a full swatch of other ink.
    pub traps: f32,
}

impl FewFilm {
    /// The same film.
    pub fn of(film: &Film) -> FewFilm {
        let at = |step: usize| {
            let slice = film.slice(0.0, step as f64 / STEPS as f64, 1.0);
            broad(&slice.absorption)
        };
        let scattering = film.slice(0.0, 1.0, 1.0).scattering as f32;
        let even = film.is_even().then(|| at(STEPS));
        let traps = (1.0 - film.trapped(1.0)) as f32;
        FewFilm { even, absorption: (0..=STEPS * SWATCHES).map(at).collect(), scattering, traps }
    }

    /// Adds to K what laying from one amount up to another brings, taken up by a share.
    #[inline]
    pub fn add(&self, from: f32, to: f32, taken: f32, k: &mut Few) {
        if let Some(full) = &self.even {
            let amount = taken * (to - from);
            for n in 0..FEW {
                k[n] += amount * full[n];
            }
            return;
        }
        let place = |amount: f32| {
            let at = (amount * STEPS as f32).clamp(0.0, (STEPS * SWATCHES) as f32 - 0.001);
            (at as usize, at.fract())
        };
        let ((one, along_one), (other, along_other)) = (place(from), place(to));
        let (a, b) = (&self.absorption[one], &self.absorption[one + 1]);
        let (c, d) = (&self.absorption[other], &self.absorption[other + 1]);
        for n in 0..FEW {
            let less = a[n] + along_one * (b[n] - a[n]);
            let more = c[n] + along_other * (d[n] - c[n]);
            k[n] += taken * (more - less).max(0.0);
        }
    }
}

/// Bare card, seen from inside.
pub fn card(reflectance: &Spectrum) -> Few {
    broad(&reflectance.map(inside))
}

/// What absorbs K and scatters S over what lies beneath.
#[inline]
pub fn laid(k: &Few, s: f32, beneath: &mut Few) {
    if s <= 0.0 {
        for n in 0..FEW {
            beneath[n] *= exp(-2.0 * k[n]);
        }
        return;
    }
    for n in 0..FEW {
        let d = (k[n] * (k[n] + 2.0 * s)).sqrt().max(1e-3);
        // d · coth d, from e^(−2d).
        let e = exp(-2.0 * d);
        let d_coth = d * (1.0 + e) / (1.0 - e);
        beneath[n] = (s - beneath[n] * (k[n] + s - d_coth)) / (k[n] + s - beneath[n] * s + d_coth);
    }
}

/// X/Xn, Y/Yn, Z/Zn of what the eye would measure.
#[derive(Clone, Debug)]
pub struct Eye {
    weights: [[f32; FEW]; 3],
}

impl Eye {
    /// Under a light.
    pub fn under(light: Illuminant) -> Eye {
        let weight = |axis: usize| {
            parts().map(|part| light.weights()[part].iter().map(|weight| weight[axis]).sum::<f64>() as f32)
        };
        Eye { weights: std::array::from_fn(weight) }
    }

    /// Their natural logarithms.
    #[inline]
    pub fn logs(&self, internal: &Few) -> [f32; 3] {
        const BACK: f32 = crate::ink::measured::SURFACE_INSIDE as f32;
        let seen: Few = internal.map(|r| (1.0 - BACK) * r / (1.0 - BACK * r));
        self.weights.map(|weights| {
            let sum: f32 = weights.iter().zip(&seen).map(|(weight, seen)| weight * seen).sum();
            sum.max(1e-5).ln()
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::colour::Lab;
    use crate::ink::{Kind, Stack};

    /// What a film changes comes out the same in broad bands as in all of them, within what is hardly seen.
    #[test]
    fn what_a_film_changes_is_seen_as_well_in_few_bands() {
        let light = Illuminant::D65;
        let paper = Spectrum::of(Lab { l: 96.0, a: 0.0, b: -2.0 }, light);
        let labs = [
            [58.0, 58.0, -6.0],
            [35.0, 10.0, -45.0],
            [80.0, 2.0, 70.0],
            [52.0, -40.0, 20.0],
            [96.0, 0.0, 2.0],
        ];
        let kinds = [Kind::Dye, Kind::Oxide, Kind::Dye, Kind::Oxide, Kind::Pigment];
        let films: Vec<Film> = labs
            .iter()
            .zip(kinds)
            .map(|([l, a, b], kind)| Film::of_swatch(Lab { l: *l, a: *a, b: *b }, &paper, light, kind))
            .collect();
        let few: Vec<FewFilm> = films.iter().map(FewFilm::of).collect();
        let eye = Eye::under(light);
        let mut worst = 0.0_f64;
        for under in 0..films.len() {
            for over in (0..films.len()).filter(|over| *over != under) {
                for amount in [0.2, 0.6, 1.2] {
                    let mut stack = Stack::on(&paper);
                    stack.lay(under, &films[under], 0.7);
                    let base = stack.reflectance().relative(light);
                    stack.lay(over, &films[over], amount);
                    let exact = stack.reflectance().lab(light);
                    let taken = films[over].trapped(0.7) as f32;
                    let mut internal = card(&paper);
                    let lay = |film: &FewFilm, amount: f32, taken: f32, internal: &mut Few| {
                        let mut k = [0.0; FEW];
                        film.add(0.0, amount, taken, &mut k);
                        laid(&k, film.scattering * amount * taken, internal);
                    };
                    lay(&few[under], 0.7, 1.0, &mut internal);
                    let before = eye.logs(&internal);
                    lay(&few[over], amount as f32, taken, &mut internal);
                    let after = eye.logs(&internal);
                    let seen: [f64; 3] =
                        std::array::from_fn(|n| base[n] * f64::from(after[n] - before[n]).exp());
                    worst = worst.max(Lab::from_relative(seen).difference(exact));
                }
            }
        }
        assert!(worst < 1.5, "{worst}");
    }
}
