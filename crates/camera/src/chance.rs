//! Which draws come of a seed? The same, each time.

use rand_chacha::ChaCha8Rng;
use rand_core::{Rng, SeedableRng};

/// Draws, one after the other.
pub struct Chance(ChaCha8Rng);

impl Chance {
    /// The draws of a seed.
    pub fn of(seed: u64) -> Chance {
        Chance(ChaCha8Rng::seed_from_u64(seed))
    }

    /// Draws of their own for one part, so that what one part draws changes no other.
    pub fn part(&mut self) -> Chance {
        Chance::of(self.0.next_u64())
    }

    /// Anywhere from 0 up to 1.
    pub fn share(&mut self) -> f64 {
        (self.0.next_u64() >> 11) as f64 / (1u64 << 53) as f64
    }

    /// Anywhere between.
    pub fn between(&mut self, least: f64, most: f64) -> f64 {
        least + (most - least) * self.share()
    }

    /// A normal draw about 0, one wide (Box and Muller 1958).
    pub fn normal(&mut self) -> f64 {
        let (one, other) = (1.0 - self.share(), self.share());
        (-2.0 * one.ln()).sqrt() * (std::f64::consts::TAU * other).cos()
    }

    /// Whether it falls so, which it does so often.
    pub fn falls(&mut self, often: f64) -> bool {
        self.share() < often
    }
}

/// Noise with a grain: smooth between draws that lie so far apart, about 0 and about one wide.
pub struct Grain {
    draws: Vec<f32>,
    apart: f64,
}

/// Draws along a side; the pattern comes again after so many.
const SIDE: usize = 128;

impl Grain {
    /// A grain of so many millimetres.
    pub fn of(apart: f64, chance: &mut Chance) -> Grain {
        Grain { draws: (0..SIDE * SIDE).map(|_| chance.normal() as f32).collect(), apart }
    }

    /// How it lies at a place.
    pub fn at(&self, x: f64, y: f64) -> f64 {
        let (u, v) = (x / self.apart, y / self.apart);
        let smooth = |t: f64| t * t * (3.0 - 2.0 * t);
        let (du, dv) = (smooth(u - u.floor()), smooth(v - v.floor()));
        let draw = |i: i64, j: i64| {
            let on = |n: i64| n.rem_euclid(SIDE as i64) as usize;
            f64::from(self.draws[on(u.floor() as i64 + i) + SIDE * on(v.floor() as i64 + j)])
        };
        let top = draw(0, 0) + du * (draw(1, 0) - draw(0, 0));
        let foot = draw(0, 1) + du * (draw(1, 1) - draw(0, 1));
        // Between draws they average out: 1.35 makes the whole one wide again.
        1.35 * (top + dv * (foot - top))
    }
}
