//! How much light falls where?
//!
//! What bare card looks like is found over the whole page: a smooth surface (a polynomial of the third degree in the logarithm
//! of each channel) through all that is bare, and upon it what the nearest bare places differ from it, so that the edge of
//! a shadow is followed too. The paper of the page is another white: it tells the shape of the surface, not its height.

use nalgebra::{DMatrix, DVector};

use crate::rank::at_share;

/// A place that is bare.
#[derive(Clone, Copy, Debug)]
pub struct Bare {
    /// Where on the page.
    pub at: [f64; 2],
    /// What is seen there, each channel 0 to 1.
    pub rgb: [f64; 3],
    /// Whether it is the page's own paper and not the maker's card.
    pub paper: bool,
}

/// What bare card looks like everywhere.
#[derive(Clone, Debug)]
pub struct Field {
    /// Per channel: the terms of the surface.
    surface: [Vec<f64>; 3],
    /// Where card was seen.
    near: Vec<Near>,
    /// Where bare card is lighter than all about it, and how light that is: something shines there.
    peaks: Vec<([f64; 2], f64)>,
    middle: [f64; 2],
    far: f64,
}

/// Bare card at a place.
#[derive(Clone, Copy, Debug)]
struct Near {
    at: [f64; 2],
    /// By how much its logarithms differ from the smooth surface.
    off: [f64; 3],
    /// Whether it is burnt out.
    burnt: bool,
}

impl Near {
    fn far(&self, at: [f64; 2]) -> f64 {
        (self.at[0] - at[0]).hypot(self.at[1] - at[1])
    }
}

/// From here on a channel is burnt out.
const BURNT: f64 = 0.992;

/// Why nothing can be read in this light.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
pub enum BadLight {
    /// Two lights.
    #[error(
        "two lights of different colours fall on the page, so its bare card is not one white: switch one off, or take it by the window \
         alone"
    )]
    Two,
    /// No bare card.
    #[error(
        "no bare card is seen beside the inks: leave the card bare at the ends of each strip, or show where it is bare"
    )]
    NoCard,
    /// Clipped.
    #[error("the bare card is burnt out to plain white: take the photo a little darker")]
    Burnt,
    /// Dark.
    #[error("the photo is too dark to tell colours: give it more light")]
    Dark,
}

/// How far a bare place reaches upon what is near, in millimetres.
const REACH: f64 = 11.0;
/// Times the surface is fitted, and from which logarithm on what lies off it counts for less.
const ROUNDS: usize = 8;
const ODD: f64 = 0.02;
/// How many bare places the smooth surface is worth where they differ from it.
const SMOOTH: f64 = 0.3;
/// How far about its lightest place something shines, in millimetres; by how much bare card is lighter there than on every side of
/// it some way off, and by how much it is lighter than that wherever it still shines, as logarithms of what is seen.
const SPOT: f64 = 45.0;
const PEAK: f64 = 0.025;
const SHINES: f64 = 0.02;
/// The most that red against green, or blue against green, may differ over the page, as a logarithm of what is seen: more are two
/// lights. One light that falls off keeps its colour to a hundredth.
const ONE_LIGHT: f64 = 0.045;
/// The most that is followed where bare card lies all about what is judged (chosen).
const FOLLOWED: f64 = 0.13;
/// Terms of the surface by how many places there are to tell them.
const DEGREES: [(usize, usize); 3] = [(24, 3), (10, 2), (4, 1)];

fn terms([x, y]: [f64; 2], degree: usize) -> Vec<f64> {
    (0..=degree).flat_map(|sum| (0..=sum).map(move |n| x.powi((sum - n) as i32) * y.powi(n as i32))).collect()
}

impl Field {
    /// The field through what is bare.
    ///
    /// # Errors
    /// [`BadLight`] where there is none, or it is not one white.
    pub fn through(bare: &[Bare]) -> Result<Field, BadLight> {
        Field::within(bare, ONE_LIGHT)
    }

    /// The same where a cast that goes slowly over the page is followed, as far as bare card all about it tells.
    ///
    /// # Errors
    /// [`BadLight`] where there is no card, or two lights meet on it.
    pub fn followed(bare: &[Bare]) -> Result<Field, BadLight> {
        Field::within(bare, FOLLOWED)
    }

    fn within(bare: &[Bare], most_tint: f64) -> Result<Field, BadLight> {
        let card: Vec<&Bare> = bare.iter().filter(|bare| !bare.paper).collect();
        if card.is_empty() {
            return Err(BadLight::NoCard);
        }
        let burnt = card.iter().filter(|bare| bare.rgb.iter().any(|c| *c > BURNT)).count();
        if 2 * burnt > card.len() {
            return Err(BadLight::Burnt);
        }
        let dark = card.iter().filter(|bare| bare.rgb[1] < 0.3).count();
        if 2 * dark > card.len() {
            return Err(BadLight::Dark);
        }
        let count = bare.len() as f64;
        let middle = [0, 1].map(|axis| bare.iter().map(|bare| bare.at[axis]).sum::<f64>() / count);
        let far = bare
            .iter()
            .map(|bare| (bare.at[0] - middle[0]).hypot(bare.at[1] - middle[1]))
            .fold(1.0, f64::max);
        let degree = DEGREES.iter().find(|(least, _)| bare.len() >= *least).map_or(0, |(_, degree)| *degree);
        let mut field = Field {
            surface: [Vec::new(), Vec::new(), Vec::new()],
            near: Vec::new(),
            peaks: Vec::new(),
            middle,
            far,
        };
        for channel in 0..3 {
            field.surface[channel] = field.fitted(bare, channel, degree);
        }
        field.near = card
            .iter()
            .map(|bare| {
                let smooth = field.smooth(bare.at);
                let off = std::array::from_fn(|c| bare.rgb[c].max(1e-3).ln() - smooth[c]);
                Near { at: bare.at, off, burnt: bare.rgb.iter().any(|c| *c > BURNT) }
            })
            .collect();
        let peaks = field.near.iter().filter_map(|near| Some((near.at, field.about_peak(near)?)));
        field.peaks = peaks.collect();
        if field.tint(&card) > most_tint { Err(BadLight::Two) } else { Ok(field) }
    }

    /// The surface of one channel, fitted again and again with less weight for what lies off it (Huber).
    fn fitted(&self, bare: &[Bare], channel: usize, degree: usize) -> Vec<f64> {
        let both = bare.iter().any(|bare| bare.paper) && bare.iter().any(|bare| !bare.paper);
        let rows: Vec<Vec<f64>> = bare
            .iter()
            .map(|bare| {
                let mut row = terms(self.scaled(bare.at), degree);
                if both {
                    row.push(f64::from(u8::from(bare.paper)));
                }
                row
            })
            .collect();
        let seen: Vec<f64> = bare.iter().map(|bare| bare.rgb[channel].max(1e-3).ln()).collect();
        let count = rows[0].len();
        let mut weights = vec![1.0; rows.len()];
        let mut found = DVector::zeros(count);
        for _ in 0..ROUNDS {
            let mut normal = DMatrix::identity(count, count) * 1e-6;
            let mut side = DVector::zeros(count);
            for ((row, seen), weight) in rows.iter().zip(&seen).zip(&weights) {
                let row = DVector::from_column_slice(row);
                normal += &row * row.transpose() * *weight;
                side += row * (*weight * *seen);
            }
            found = normal.cholesky().map_or(found, |normal| normal.solve(&side));
            for ((row, seen), weight) in rows.iter().zip(&seen).zip(&mut weights) {
                let off = (seen - row.iter().zip(found.iter()).map(|(a, b)| a * b).sum::<f64>()).abs();
                *weight = if off < ODD { 1.0 } else { ODD / off };
            }
        }
        found.iter().copied().take(terms([0.0, 0.0], degree).len()).collect()
    }

    fn scaled(&self, at: [f64; 2]) -> [f64; 2] {
        [0, 1].map(|axis| (at[axis] - self.middle[axis]) / self.far)
    }

    /// Logarithms of the smooth surface.
    fn smooth(&self, at: [f64; 2]) -> [f64; 3] {
        let at = self.scaled(at);
        std::array::from_fn(|channel| {
            let surface = &self.surface[channel];
            let degree = (0..4).find(|degree| (degree + 1) * (degree + 2) / 2 == surface.len()).unwrap_or(0);
            terms(at, degree).iter().zip(surface).map(|(term, size)| term * size).sum()
        })
    }

    /// By how much what is bare near a place differs from the smooth surface, in logarithms.
    fn local(&self, at: [f64; 2]) -> [f64; 3] {
        let (mut sums, mut weights) = ([0.0; 3], SMOOTH);
        for near in &self.near {
            let weight = (-0.5 * (near.far(at) / REACH).powi(2)).exp();
            sums = std::array::from_fn(|c| sums[c] + weight * near.off[c]);
            weights += weight;
        }
        sums.map(|sum| sum / weights)
    }

    /// What bare card looks like at a place.
    pub fn card(&self, at: [f64; 2]) -> [f64; 3] {
        let (smooth, local) = (self.smooth(at), self.local(at));
        std::array::from_fn(|c| (smooth[c] + local[c]).exp())
    }

    /// Whether something shines on a place: bare card by it is lighter than all about some peak, and the peak is not far. Beyond the
    /// edge of a shadow it is lighter too, but there is no end to it.
    pub fn shines(&self, at: [f64; 2]) -> bool {
        let beside = || self.near.iter().filter(|near| near.far(at) < 1.6 * REACH);
        if beside().any(|near| near.burnt) {
            return true;
        }
        let lightest = beside().map(|near| self.light(near)).fold(f64::NEG_INFINITY, f64::max);
        let is_of = |(peak, about): &([f64; 2], f64)| {
            (peak[0] - at[0]).hypot(peak[1] - at[1]) < SPOT && lightest > about + SHINES
        };
        self.peaks.iter().any(is_of)
    }

    /// How light a bare place is: the logarithm of its green.
    fn light(&self, near: &Near) -> f64 {
        self.smooth(near.at)[1] + near.off[1]
    }

    /// How light it is about a place, where that place is lighter than every side of it; there have to be three to compare.
    fn about_peak(&self, here: &Near) -> Option<f64> {
        let mut sides = [(0.0, 0.0); 4];
        for near in &self.near {
            let [x, y] = [near.at[0] - here.at[0], near.at[1] - here.at[1]];
            if (SPOT / 2.0..1.5 * SPOT).contains(&x.hypot(y)) {
                let nth = if x.abs() > y.abs() { usize::from(x > 0.0) } else { 2 + usize::from(y > 0.0) };
                sides[nth] = (sides[nth].0 + self.light(near), sides[nth].1 + 1.0);
            }
        }
        let lights: Vec<f64> = sides.iter().filter(|(_, n)| *n > 0.0).map(|(sum, n)| sum / n).collect();
        let is_peak = lights.len() >= 3 && lights.iter().all(|light| self.light(here) - light > PEAK);
        is_peak.then(|| lights.iter().sum::<f64>() / lights.len() as f64)
    }

    /// By how much, as a share, bare card changes within so many millimetres about a place.
    pub fn steep(&self, at: [f64; 2], within: f64) -> f64 {
        let is_near =
            |near: &&Near| (near.at[0] - at[0]).abs() < within && (near.at[1] - at[1]).abs() < 0.5 * within;
        let lights: Vec<f64> = self.near.iter().filter(is_near).map(|near| self.light(near)).collect();
        let most = lights.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        let least = lights.iter().copied().fold(f64::INFINITY, f64::min);
        if lights.len() < 2 { 0.0 } else { most - least }
    }

    /// How far the colour of bare card differs over the page: from its fifth to its ninety-fifth place in a hundred.
    fn tint(&self, card: &[&Bare]) -> f64 {
        let spread = |c: usize| {
            let ratios: Vec<f64> =
                card.iter().map(|bare| (bare.rgb[c].max(1e-3) / bare.rgb[1].max(1e-3)).ln()).collect();
            let at = |share: f64| at_share(ratios.clone(), share).unwrap_or_default();
            at(0.95) - at(0.05)
        };
        spread(0).max(spread(2))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn lit(light: impl Fn(f64, f64) -> [f64; 3]) -> Vec<Bare> {
        (0..60)
            .map(|n| {
                let at = [f64::from(n % 6) * 30.0, f64::from(n / 6) * 22.0];
                Bare { at, rgb: light(at[0], at[1]), paper: false }
            })
            .collect()
    }

    #[test]
    fn fall_off_is_followed_between_bare_places() {
        let light = |x: f64, y: f64| [0.9, 0.88, 0.84].map(|c| c * (1.0 - 0.001 * x - 0.000_8 * y));
        let field = Field::through(&lit(light)).unwrap();
        let (seen, truth) = (field.card([77.0, 95.0]), light(77.0, 95.0));
        assert!((0..3).all(|c| (seen[c] / truth[c] - 1.0).abs() < 0.004), "{seen:?} {truth:?}");
        assert!(!field.shines([77.0, 95.0]));
    }

    #[test]
    fn what_shines_is_told_from_the_lit_side_of_a_shadow() {
        let lamp = |x: f64, y: f64| {
            [0.8 * (1.0 + 0.3 * (-((x - 75.0).powi(2) + (y - 90.0).powi(2)) / 800.0).exp()); 3]
        };
        let field = Field::through(&lit(lamp)).unwrap();
        assert!(field.shines([75.0, 90.0]) && !field.shines([5.0, 190.0]));
        let shadow = |x: f64, _: f64| [if x < 80.0 { 0.8 } else { 0.6 }; 3];
        let field = Field::through(&lit(shadow)).unwrap();
        assert!(lit(shadow).iter().all(|bare| !field.shines(bare.at)));
    }

    #[test]
    fn paper_tells_the_shape_and_not_the_height() {
        let light = |x: f64, y: f64| [0.8 - 0.001 * x - 0.000_5 * y; 3];
        let mut bare = lit(light);
        for bare in bare.iter_mut().skip(1).step_by(2) {
            (bare.rgb, bare.paper) = (bare.rgb.map(|c| 0.93 * c), true);
        }
        let field = Field::through(&bare).unwrap();
        let (seen, truth) = (field.card([75.0, 77.0])[1], light(75.0, 77.0)[1]);
        assert!((seen / truth - 1.0).abs() < 0.01, "{seen} {truth}");
    }

    #[test]
    fn two_lights_are_refused_and_so_is_no_card() {
        let two = |x: f64, _: f64| [0.8, 0.8, 0.8 * (1.0 - 0.001 * x)];
        assert_eq!(Field::through(&lit(two)).unwrap_err(), BadLight::Two);
        assert_eq!(Field::through(&[]).unwrap_err(), BadLight::NoCard);
        assert_eq!(Field::through(&lit(|_, _| [1.0; 3])).unwrap_err(), BadLight::Burnt);
        assert_eq!(Field::through(&lit(|_, _| [0.1; 3])).unwrap_err(), BadLight::Dark);
    }
}
