//! What the eye and the light do: the published CIE tables in 10 nm bands from 380 to 730 nm.
//!
//! The 1931 2° colour-matching functions and the relative powers of the illuminants D50 and D65 are
//! CIE data (CIE 15; ISO/CIE 11664-1 and 11664-2). Weights are divided by their sums, so that a
//! perfect white card is exactly 1, 1, 1 under either light and Lab 100, 0, 0.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Bands of a spectrum: 380, 390, … 730 nm.
pub const BANDS: usize = 36;

/// The light a colour is meant under.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
pub enum Illuminant {
    /// Horizon-warm daylight, the light of printing standards.
    D50,
    /// Noon daylight, the light of screens; taken where none is named.
    #[default]
    D65,
}

impl Illuminant {
    /// Per band, what it adds to X/Xn, Y/Yn and Z/Zn; each column sums to 1.
    pub fn weights(self) -> &'static [[f64; 3]; BANDS] {
        use std::sync::LazyLock;
        static D50_WEIGHTS: LazyLock<[[f64; 3]; BANDS]> = LazyLock::new(|| weigh(&D50));
        static D65_WEIGHTS: LazyLock<[[f64; 3]; BANDS]> = LazyLock::new(|| weigh(&D65));
        match self {
            Illuminant::D50 => &D50_WEIGHTS,
            Illuminant::D65 => &D65_WEIGHTS,
        }
    }
}

impl Illuminant {
    /// X, Y and Z of a perfect white under it, Y being 1.
    pub fn white(self) -> [f64; 3] {
        let light = match self {
            Illuminant::D50 => &D50,
            Illuminant::D65 => &D65,
        };
        let sum = |axis: usize| (0..BANDS).map(|band| OBSERVER[band][axis] * light[band]).sum::<f64>();
        [0, 1, 2].map(|axis| sum(axis) / sum(1))
    }
}

fn weigh(light: &[f64; BANDS]) -> [[f64; 3]; BANDS] {
    let mut weights = [[0.0; 3]; BANDS];
    for axis in 0..3 {
        let sum: f64 = (0..BANDS).map(|band| OBSERVER[band][axis] * light[band]).sum();
        for band in 0..BANDS {
            weights[band][axis] = OBSERVER[band][axis] * light[band] / sum;
        }
    }
    weights
}

/// CIE 1931 2° standard observer: x̄, ȳ, z̄.
#[rustfmt::skip]
const OBSERVER: [[f64; 3]; BANDS] = [
    [0.001368, 0.000039, 0.006450001],
    [0.004243, 0.00012, 0.02005001],
    [0.01431, 0.000396, 0.06785001],
    [0.04351, 0.00121, 0.2074],
    [0.13438, 0.004, 0.6456],
    [0.2839, 0.0116, 1.3856],
    [0.34828, 0.023, 1.74706],
    [0.3362, 0.038, 1.77211],
    [0.2908, 0.06, 1.6692],
    [0.19536, 0.09098, 1.28764],
    [0.09564, 0.13902, 0.8129501],
    [0.03201, 0.20802, 0.46518],
    [0.0049, 0.323, 0.272],
    [0.0093, 0.503, 0.1582],
    [0.06327, 0.71, 0.07824999],
    [0.1655, 0.862, 0.04216],
    [0.2904, 0.954, 0.0203],
    [0.4334499, 0.9949501, 0.008749999],
    [0.5945, 0.995, 0.0039],
    [0.7621, 0.952, 0.0021],
    [0.9163, 0.87, 0.001650001],
    [1.0263, 0.757, 0.0011],
    [1.0622, 0.631, 0.0008],
    [1.0026, 0.503, 0.00034],
    [0.8544499, 0.381, 0.00019],
    [0.6424, 0.265, 0.00005],
    [0.4479, 0.175, 0.00002],
    [0.2835, 0.107, 0.0],
    [0.1649, 0.061, 0.0],
    [0.0874, 0.032, 0.0],
    [0.04677, 0.017, 0.0],
    [0.0227, 0.00821, 0.0],
    [0.01135916, 0.004102, 0.0],
    [0.005790346, 0.002091, 0.0],
    [0.002899327, 0.001047, 0.0],
    [0.001439971, 0.00052, 0.0],
];

/// Relative spectral power of CIE standard illuminant D50.
#[rustfmt::skip]
const D50: [f64; BANDS] = [
    24.488, 29.871, 49.308, 56.513, 60.034, 57.818, 74.825, 87.247, 90.612,
    91.368, 95.109, 91.963, 95.724, 96.613, 97.129, 102.099, 100.755, 102.317,
    100.0, 97.735, 98.918, 93.499, 97.688, 99.269, 99.042, 95.722, 98.857,
    95.667, 98.19, 103.003, 99.133, 87.381, 91.604, 92.889, 76.854, 86.511,
];

/// Relative spectral power of CIE standard illuminant D65.
#[rustfmt::skip]
const D65: [f64; BANDS] = [
    49.9755, 54.6482, 82.7549, 91.486, 93.4318, 86.6823, 104.865, 117.008, 117.812,
    114.861, 115.923, 108.811, 109.354, 107.802, 104.79, 107.689, 104.405, 104.046,
    100.0, 96.3342, 95.788, 88.6856, 90.0062, 89.5991, 87.6987, 83.2886, 83.6992,
    80.0268, 80.2146, 82.2778, 78.2842, 69.7213, 71.6091, 74.349, 61.604, 69.8856,
];
