//! Which smooth reflectance has this colour?
//!
//! A swatch gives three numbers; films need a spectrum. Of all reflectances with the swatch's colour
//! the smoothest is taken: the least sum of squared steps, band to band, of ln(ρ / (c − ρ)), subject to
//! the tristimulus values, by Newton's method with Lagrange multipliers. With the ceiling c = 1 this is
//! the least hyperbolic-tangent slope, with c → ∞ the least log slope of Burns (*Color Research &
//! Application*, 2020).

use schemars::{JsonSchema, Schema, SchemaGenerator, json_schema};
use serde::de::{self, Deserializer};
use serde::{Deserialize, Serialize, Serializer};

use super::lab::Lab;
use super::observer::{BANDS, Illuminant};

/// The ceiling c of a recovered reflectance: a little over 1, so that a perfect white has a spectrum.
/// Over the five published print sets c = 1.1 predicts overprints to a mean ΔE00 of 2.9, c → ∞ to 3.1.
const CEILING: f64 = 1.1;
/// The darkest relative tristimulus value recovered: no ink reflects less than 1 in 2000.
const DARKEST: f64 = 0.0005;
/// Times an excess over the card is cut off and asked for again.
const CUTS: usize = 80;
/// Newton steps before the nearest colour reached so far is taken.
const STEPS: usize = 60;

/// One number for each of 36 bands, 380 to 730 nm: a reflectance, a transmittance, an absorbance.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Spectrum(pub [f64; BANDS]);

impl Serialize for Spectrum {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_seq(self.0)
    }
}

impl<'de> Deserialize<'de> for Spectrum {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Spectrum, D::Error> {
        let values = Vec::<f64>::deserialize(deserializer)?;
        let count = values.len();
        let says = || format!("{count} bands: a spectrum has {BANDS}, every 10 nm from 380 to 730");
        values.try_into().map(Spectrum).map_err(|_| de::Error::custom(says()))
    }
}

impl JsonSchema for Spectrum {
    fn schema_name() -> std::borrow::Cow<'static, str> {
        "Spectrum".into()
    }
    fn json_schema(_: &mut SchemaGenerator) -> Schema {
        json_schema!({
            "type": "array", "items": { "type": "number" }, "minItems": BANDS, "maxItems": BANDS,
            "description": "One number for each of 36 bands, every 10 nm from 380 to 730.",
        })
    }
}

impl Spectrum {
    /// The same to five places, as files hold it.
    #[must_use]
    pub fn rounded(&self) -> Spectrum {
        self.map(|value| (value * 1e5).round() / 1e5)
    }

    /// The same in every band.
    pub const fn flat(value: f64) -> Spectrum {
        Spectrum([value; BANDS])
    }

    /// Band by band.
    pub fn map(&self, f: impl Fn(f64) -> f64) -> Spectrum {
        Spectrum(self.0.map(f))
    }

    /// Band by band with another.
    pub fn zip(&self, other: &Spectrum, f: impl Fn(f64, f64) -> f64) -> Spectrum {
        Spectrum(std::array::from_fn(|band| f(self.0[band], other.0[band])))
    }

    /// X/Xn, Y/Yn, Z/Zn of this reflectance under a light.
    pub fn relative(&self, light: Illuminant) -> [f64; 3] {
        let mut sums = [0.0; 3];
        for (value, weight) in self.0.iter().zip(light.weights()) {
            for axis in 0..3 {
                sums[axis] += value * weight[axis];
            }
        }
        sums
    }

    /// The colour of this reflectance under a light.
    pub fn lab(&self, light: Illuminant) -> Lab {
        Lab::from_relative(self.relative(light))
    }

    /// The smoothest reflectance that has a colour under a light and nowhere exceeds `most`: what a
    /// film on a card can show, since a film takes light away. Where the smoothest of all exceeds it, the
    /// excess is cut off and the colour lost by the cut is asked for again, until none is lost.
    pub fn at_most(most: &Spectrum, colour: Lab, light: Illuminant) -> Spectrum {
        let wanted = colour.relative();
        let mut asked = wanted;
        let mut cut = Spectrum::of(colour, light).zip(most, f64::min);
        for _ in 0..CUTS {
            let reached = cut.relative(light);
            if (0..3).all(|axis| (reached[axis] - wanted[axis]).abs() < 1e-5) {
                break;
            }
            for axis in 0..3 {
                asked[axis] = (asked[axis] + wanted[axis] - reached[axis]).max(DARKEST);
            }
            cut = Spectrum::of(Lab::from_relative(asked), light).zip(most, f64::min);
        }
        cut
    }

    /// The smoothest reflectance that has a colour under a light. Colours beyond what any smooth
    /// reflectance reaches give the nearest one found on the way there.
    pub fn of(colour: Lab, light: Illuminant) -> Spectrum {
        let target = colour.relative().map(|t| t.clamp(DARKEST, 1.05));
        let weights = light.weights();
        let mut z = [(target[1] / (CEILING - target[1])).ln(); BANDS];
        let mut multipliers = [0.0; 3];
        for _ in 0..STEPS {
            let rho = z.map(reflectance);
            let slope = rho.map(|r| r * (1.0 - r / CEILING));
            let pull: [f64; BANDS] =
                std::array::from_fn(|band| (0..3).map(|k| weights[band][k] * multipliers[k]).sum());
            let reached = Spectrum(rho).relative(light);

            // Stationarity in every band, then the three tristimulus values.
            let mut residual = [0.0; BANDS + 3];
            let mut main = [0.0; BANDS];
            for band in 0..BANDS {
                let below = if band > 0 { z[band] - z[band - 1] } else { 0.0 };
                let above = if band + 1 < BANDS { z[band] - z[band + 1] } else { 0.0 };
                residual[band] = 2.0 * (below + above) + slope[band] * pull[band];
                let neighbours = if band == 0 || band + 1 == BANDS { 1.0 } else { 2.0 };
                main[band] = 2.0 * neighbours + slope[band] * (1.0 - 2.0 * rho[band] / CEILING) * pull[band];
            }
            for axis in 0..3 {
                residual[BANDS + axis] = reached[axis] - target[axis];
            }
            if residual.iter().all(|r| r.abs() < 1e-10) {
                break;
            }
            let Some(step) = newton_step(&main, &slope, weights, &residual) else {
                break;
            };
            let longest = step[..BANDS].iter().fold(0.0_f64, |m, s| m.max(s.abs()));
            let damping = if longest > 1.0 { 1.0 / longest } else { 1.0 };
            for band in 0..BANDS {
                z[band] = (z[band] + damping * step[band]).clamp(-14.0, 14.0);
            }
            for axis in 0..3 {
                multipliers[axis] += damping * step[BANDS + axis];
            }
        }
        Spectrum(z.map(reflectance))
    }
}

fn reflectance(z: f64) -> f64 {
    CEILING / (1.0 + (-z).exp())
}

/// Added to the main diagonal: the smoothness alone does not tell a spectrum from the same shifted. Far below what a step
/// can be off by without the next putting it right.
const HELD: f64 = 1e-7;

/// Solves the bordered Newton system: its large part is tridiagonal, so that elimination goes once down and once up it
/// (Thomas 1949) for the residual and the three borders, and only three by three are left for the multipliers.
fn newton_step(
    main: &[f64; BANDS],
    slope: &[f64; BANDS],
    weights: &[[f64; 3]; BANDS],
    residual: &[f64; BANDS + 3],
) -> Option<[f64; BANDS + 3]> {
    const BESIDE: f64 = -2.0;
    // Columns: the residual and the three borders.
    let mut right: [[f64; 4]; BANDS] = std::array::from_fn(|band| {
        let border = |axis: usize| slope[band] * weights[band][axis];
        [-residual[band], border(0), border(1), border(2)]
    });
    let borders = right;
    let mut pivot = [0.0; BANDS];
    pivot[0] = main[0] + HELD;
    for band in 1..BANDS {
        if pivot[band - 1].abs() < 1e-12 {
            return None;
        }
        let factor = BESIDE / pivot[band - 1];
        pivot[band] = main[band] + HELD - factor * BESIDE;
        let above = right[band - 1];
        right[band] = std::array::from_fn(|column| right[band][column] - factor * above[column]);
    }
    if pivot[BANDS - 1].abs() < 1e-12 {
        return None;
    }
    for band in (0..BANDS).rev() {
        let below = right.get(band + 1).copied().unwrap_or_default();
        right[band] =
            std::array::from_fn(|column| (right[band][column] - BESIDE * below[column]) / pivot[band]);
    }
    // What the borders make of it: three equations for the multipliers.
    let mut left = [[0.0; 4]; 3];
    for (axis, row) in left.iter_mut().enumerate() {
        for (other, value) in row.iter_mut().take(3).enumerate() {
            *value = (0..BANDS).map(|band| borders[band][axis + 1] * right[band][other + 1]).sum();
        }
        let free: f64 = (0..BANDS).map(|band| borders[band][axis + 1] * right[band][0]).sum();
        row[3] = free + residual[BANDS + axis];
    }
    let multipliers = three(left)?;
    let mut step = [0.0; BANDS + 3];
    for band in 0..BANDS {
        let held: f64 = (0..3).map(|axis| right[band][axis + 1] * multipliers[axis]).sum();
        step[band] = right[band][0] - held;
    }
    step[BANDS..].copy_from_slice(&multipliers);
    Some(step)
}

/// Solves three equations by elimination with pivoting.
fn three(mut rows: [[f64; 4]; 3]) -> Option<[f64; 3]> {
    for column in 0..3 {
        let pivot = (column..3).max_by(|&i, &j| rows[i][column].abs().total_cmp(&rows[j][column].abs()))?;
        rows.swap(column, pivot);
        if rows[column][column].abs() < 1e-300 {
            return None;
        }
        let leading = rows[column];
        for row in rows.iter_mut().skip(column + 1) {
            let factor = row[column] / leading[column];
            for k in column..4 {
                row[k] -= factor * leading[k];
            }
        }
    }
    let mut found = [0.0; 3];
    for i in (0..3).rev() {
        let known: f64 = (i + 1..3).map(|k| rows[i][k] * found[k]).sum();
        found[i] = (rows[i][3] - known) / rows[i][i];
    }
    Some(found)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::colour::Srgb;
    use proptest::prelude::*;

    #[test]
    fn grey_card_has_a_flat_spectrum() {
        let grey = Spectrum::of(Lab { l: 60.0, a: 0.0, b: 0.0 }, Illuminant::D65);
        let [first, ..] = grey.0;
        assert!(grey.0.iter().all(|r| (r - first).abs() < 1e-9));
    }

    #[test]
    fn every_corner_of_the_screen_cube_is_reached() {
        for corner in 0..8_u8 {
            let srgb = Srgb([0, 1, 2].map(|bit| if corner >> bit & 1 == 1 { 255 } else { 8 }));
            let lab = srgb.lab(Illuminant::D65);
            let back = Spectrum::of(lab, Illuminant::D65).lab(Illuminant::D65);
            assert!(lab.difference(back) < 0.5, "{srgb}: {lab:?} came back as {back:?}");
        }
    }

    proptest! {
        #[test]
        fn a_recovered_spectrum_has_the_colour_asked_for(rgb: [u8; 3]) {
            for light in [Illuminant::D50, Illuminant::D65] {
                let lab = Srgb(rgb.map(|c| c.max(12))).lab(light);
                let spectrum = Spectrum::of(lab, light);
                prop_assert!(spectrum.0.iter().all(|r| *r > 0.0 && *r < CEILING));
                prop_assert!(lab.difference(spectrum.lab(light)) < 0.05);
            }
        }
    }
}
