//! Where do drops fall, and how large are they?
//!
//! Places come by chance, each as likely as any other (a Poisson process), radii as a log-normal law has them: what a pump,
//! a flick or a loosened cap throws. A number asked for is met exactly; so is a share of the area that they are to cover,
//! as far as whole drops can.

use rand_chacha::ChaCha8Rng;
use rand_core::{Rng, SeedableRng};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::raster::Oval;

/// Most drops of one throw.
pub const MOST_DROPS: usize = 20_000;

/// A drop where it fell.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Drop {
    /// Millimetres from the left.
    pub x: f64,
    /// Millimetres from the top.
    pub y: f64,
    /// Millimetres from its middle to its edge.
    pub radius: f64,
}

impl Drop {
    /// Whether any of it lies in a box, by its left top corner and its size in millimetres.
    pub fn reaches(&self, corner: (f64, f64), size: (f64, f64)) -> bool {
        let off = |at: f64, from: f64, long: f64| at - at.clamp(from, from + long);
        off(self.x, corner.0, size.0).hypot(off(self.y, corner.1, size.1)) <= self.radius
    }

    /// Where it lies.
    pub const fn oval(&self) -> Oval {
        Oval::round((self.x, self.y), self.radius)
    }
}

/// How large drops are: half of them smaller than the median.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Sizes {
    /// The median radius, in millimetres.
    pub median: f64,
    /// The standard deviation of the natural logarithm of the radius.
    pub spread: f64,
}

/// Chance that starts from a seed.
#[derive(Clone, Debug)]
pub struct Chance(ChaCha8Rng);

impl Chance {
    /// The same seed and stream give the same chance.
    pub fn of(seed: u32, stream: u64) -> Chance {
        Chance(ChaCha8Rng::seed_from_u64(u64::from(seed) << 20 ^ stream))
    }

    /// Another that starts from the same, for each number its own.
    #[must_use]
    pub fn apart(&self, nth: u64) -> Chance {
        let mut apart = self.0.clone();
        apart.set_stream(nth);
        Chance(apart)
    }

    /// Evenly between 0 and 1.
    pub fn even(&mut self) -> f64 {
        (f64::from(self.0.next_u32()) + 0.5) / (f64::from(u32::MAX) + 1.0)
    }

    /// As a bell of width 1 about 0 (Box and Muller 1958).
    pub fn bell(&mut self) -> f64 {
        let (one, other) = (self.even(), self.even());
        (-2.0 * one.ln()).sqrt() * (std::f64::consts::TAU * other).cos()
    }

    /// A radius.
    pub fn radius(&mut self, sizes: Sizes) -> f64 {
        // One drop in thousands would be a splash: beyond three widths it is drawn anew.
        let bell = std::iter::repeat_with(|| self.bell()).find(|bell| bell.abs() <= 3.0).unwrap_or(0.0);
        sizes.median * (sizes.spread * bell).exp()
    }
}

impl Sizes {
    /// The mean of the square of the radius, by the law.
    pub fn mean_square(&self) -> f64 {
        self.median.powi(2) * (2.0 * self.spread.powi(2)).exp()
    }
}

/// So many drops over a place so wide and high.
pub fn thrown(count: usize, sizes: Sizes, (wide, high): (f64, f64), chance: &mut Chance) -> Vec<Drop> {
    (0..count.min(MOST_DROPS))
        .map(|_| Drop { x: wide * chance.even(), y: high * chance.even(), radius: chance.radius(sizes) })
        .collect()
}

/// How many drops it takes to cover a share of an area, where they fall over one another as chance has it: of an area, the
/// share e^(−n·πr²/A) stays bare (Hall 1988).
pub fn to_cover(share: f64, sizes: Sizes, area: f64) -> usize {
    let one = std::f64::consts::PI * sizes.mean_square();
    (-(1.0 - share.clamp(0.0, 0.99)).ln() * area / one).round() as usize
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn sizes_and_places_follow_their_laws() {
        let sizes = Sizes { median: 1.15, spread: 0.55 };
        let drops = thrown(12_000, sizes, (100.0, 140.0), &mut Chance::of(7, 1));
        let mut radii: Vec<f64> = drops.iter().map(|drop| drop.radius).collect();
        radii.sort_by(f64::total_cmp);
        assert!((radii[radii.len() / 2] / sizes.median - 1.0).abs() < 0.05);
        let mean = radii.iter().map(|radius| radius.ln()).sum::<f64>() / radii.len() as f64;
        let width = (radii.iter().map(|radius| (radius.ln() - mean).powi(2)).sum::<f64>()
            / radii.len() as f64)
            .sqrt();
        assert!((width / sizes.spread - 1.0).abs() < 0.05, "{width}");
        // As many in one quarter as in another.
        let quarter = drops.iter().filter(|drop| drop.x < 50.0 && drop.y < 70.0).count() as f64;
        assert!((quarter / 3_000.0 - 1.0).abs() < 0.05, "{quarter}");
        // The nearest neighbours lie as far as chance has it: half the mean distance (Clark and Evans 1954).
        let few = &drops[..1_500];
        let nearest = |drop: &Drop| {
            let far = |other: &&Drop| (other.x - drop.x).hypot(other.y - drop.y);
            few.iter().filter(|other| *other != drop).map(|other| far(&other)).fold(f64::INFINITY, f64::min)
        };
        let inner: Vec<&Drop> = few
            .iter()
            .filter(|drop| (8.0..92.0).contains(&drop.x) && (8.0..132.0).contains(&drop.y))
            .collect();
        let seen = inner.iter().map(|drop| nearest(drop)).sum::<f64>() / inner.len() as f64;
        let meant = 0.5 / (1_500.0_f64 / 14_000.0).sqrt();
        assert!((seen / meant - 1.0).abs() < 0.05, "{seen} {meant}");
        assert_eq!(
            thrown(50, sizes, (9.0, 9.0), &mut Chance::of(7, 1)),
            thrown(50, sizes, (9.0, 9.0), &mut Chance::of(7, 1))
        );
    }

    #[test]
    fn a_share_to_be_covered_is_covered() {
        let sizes = Sizes { median: 0.8, spread: 0.4 };
        for share in [0.05, 0.2, 0.5] {
            let size = (120.0, 120.0);
            let drops = thrown(to_cover(share, sizes, size.0 * size.1), sizes, size, &mut Chance::of(3, 9));
            let mut wet = crate::water::Raster::empty(size);
            for drop in &drops {
                let cells: Vec<usize> =
                    wet.within((drop.x, drop.y), drop.radius).map(|(cell, _)| cell).collect();
                cells.into_iter().for_each(|cell| wet.cells[cell] = 1.0);
            }
            let covered = wet.sum() / wet.cells.len() as f64;
            assert!((covered / share - 1.0).abs() < 0.08, "{share}: {covered}");
        }
    }
}
