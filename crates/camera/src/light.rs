//! What falls on the table?
//!
//! Daylight is the CIE's sum of three published spectra (CIE 15; Judd, MacAdam and Wyszecki 1964), a bulb shines after
//! Planck's law, a lamp of light-emitting diodes is a blue peak and a broad hump of phosphor.

use rosy_core::colour::{BANDS, Spectrum};

use crate::chance::Chance;

/// A light, as power in each band.
#[derive(Clone, Debug)]
pub struct Light {
    /// What a maker would call it.
    pub name: &'static str,
    /// Power in each band: about 1 at 560 nm.
    pub power: Spectrum,
}

/// The wavelength of a band in nanometres.
pub fn nanometres(band: usize) -> f64 {
    380.0 + 10.0 * band as f64
}

fn bell(at: f64, middle: f64, wide: f64) -> f64 {
    (-0.5 * ((at - middle) / wide).powi(2)).exp()
}

impl Light {
    /// Daylight of a correlated colour temperature, 4000 to 25000 K.
    pub fn day(kelvin: f64) -> Light {
        let t = 1e3 / kelvin;
        let x = if kelvin <= 7_000.0 {
            0.244_063 + 0.099_11 * t + 2.967_8 * t * t - 4.607_0 * t.powi(3)
        } else {
            0.237_040 + 0.247_48 * t + 1.901_8 * t * t - 2.006_4 * t.powi(3)
        };
        let y = -3.0 * x * x + 2.870 * x - 0.275;
        let m = 0.024_1 + 0.256_2 * x - 0.734_1 * y;
        let m1 = (-1.351_5 - 1.770_3 * x + 5.911_4 * y) / m;
        let m2 = (0.030_0 - 31.442_4 * x + 30.071_7 * y) / m;
        let power = std::array::from_fn(|band| {
            let [mean, blue, green] = DAY[band];
            (mean + m1 * blue + m2 * green).max(0.0) / 100.0
        });
        Light { name: if kelvin > 6_000.0 { "shade" } else { "a window" }, power: Spectrum(power) }
    }

    /// A bulb of a temperature, by Planck's law.
    pub fn bulb(kelvin: f64) -> Light {
        let power = |nm: f64| nm.powi(-5) / ((1.438_8e7 / (nm * kelvin)).exp() - 1.0);
        let power = std::array::from_fn(|band| power(nanometres(band)) / power(560.0));
        Light { name: "a bulb", power: Spectrum(power) }
    }

    /// A lamp of diodes: how much of the blue peak comes through, and where the phosphor shines.
    pub fn diodes(blue: f64, hump: f64) -> Light {
        let power = std::array::from_fn(|band| {
            let nm = nanometres(band);
            blue * bell(nm, 452.0, 10.0) + bell(nm, hump, 52.0) + 0.25 * bell(nm, hump + 55.0, 45.0) + 0.01
        });
        Light { name: "a lamp", power: Spectrum(power) }
    }

    /// One that a maker may have: a window three times in ten, shade twice, a bulb once, a lamp else.
    pub fn any(chance: &mut Chance) -> Light {
        match chance.share() {
            share if share < 0.3 => Light::day(chance.between(4_800.0, 5_900.0)),
            share if share < 0.5 => Light::day(chance.between(6_200.0, 8_000.0)),
            share if share < 0.6 => Light::bulb(chance.between(2_700.0, 3_100.0)),
            _ => Light::diodes(chance.between(0.45, 1.3), chance.between(560.0, 590.0)),
        }
    }
}

/// The mean and the first two characteristic vectors of daylight, 380 to 730 nm.
#[rustfmt::skip]
const DAY: [[f64; 3]; BANDS] = [
    [ 63.4, 38.5,  3.0], [ 65.8, 35.0,  1.2], [ 94.8, 43.4, -1.1], [104.8, 46.3, -0.5], [105.9, 43.9, -0.7], [ 96.8, 37.1, -1.2],
    [113.9, 36.7, -2.6], [125.6, 35.9, -2.9], [125.5, 32.6, -2.8], [121.3, 27.9, -2.6], [121.3, 24.3, -2.6], [113.5, 20.1, -1.8],
    [113.1, 16.2, -1.5], [110.8, 13.2, -1.3], [106.5,  8.6, -1.2], [108.8,  6.1, -1.0], [105.3,  4.2, -0.5], [104.4,  1.9, -0.3],
    [100.0,  0.0,  0.0], [ 96.0, -1.6,  0.2], [ 95.1, -3.5,  0.5], [ 89.1, -3.5,  2.1], [ 90.5, -5.8,  3.2], [ 90.3, -7.2,  4.1],
    [ 88.4, -8.6,  4.7], [ 84.0, -9.5,  5.1], [ 85.1,-10.9,  6.7], [ 81.9,-10.7,  7.3], [ 82.6,-12.0,  8.6], [ 84.9,-14.0,  9.8],
    [ 81.3,-13.6, 10.2], [ 71.9,-12.0,  8.3], [ 74.3,-13.3,  9.6], [ 76.4,-12.9,  8.5], [ 63.3,-10.6,  7.0], [ 71.7,-11.6,  7.6],
];

#[cfg(test)]
mod tests {
    use super::*;
    use rosy_core::colour::Illuminant;

    /// The core's own table of noon daylight, published apart from the vectors, has the same shape.
    #[test]
    fn noon_daylight_is_the_published_one() {
        let day = Light::day(6_504.0).power;
        // Weights are observer × light: between lights of one shape their ratio is the same in each band.
        let other = Light::day(5_003.0).power;
        let ratio = |band: usize| {
            let [d65, d50] =
                [Illuminant::D65, Illuminant::D50].map(|light| light.weights()[band][1] * light.white()[1]);
            (d65 / d50) / (day.0[band] / other.0[band])
        };
        let middle = ratio(18);
        for band in 4..32 {
            assert!(
                (ratio(band) / middle - 1.0).abs() < 0.02,
                "{} nm: {}",
                nanometres(band),
                ratio(band) / middle
            );
        }
    }
}
