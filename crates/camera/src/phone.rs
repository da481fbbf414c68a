//! What does a phone make of light? Three sensitivities that are not the eye's, a white balance that guesses, a matrix
//! fitted to usual surfaces, and then its look: a curve, more colour, hues moved a little.

use nalgebra::{Matrix3, Vector3};
use rosy_core::colour::{BANDS, Illuminant, Spectrum};

use crate::chance::Chance;
use crate::light::{Light, nanometres};

/// One phone.
#[derive(Clone, Debug)]
pub struct Phone {
    sensors: [Spectrum; 3],
    look: Look,
}

/// What it does to a picture to please.
#[derive(Clone, Copy, Debug)]
pub struct Look {
    /// How much of an S curve: 0 is none.
    pub contrast: f64,
    /// How steep that S is.
    pub steep: f64,
    /// An exponent on top of the usual curve of screens.
    pub power: f64,
    /// Colour, as a factor.
    pub saturation: f64,
    /// By how many degrees hues are turned at most, and where.
    pub turn: [f64; 2],
}

/// A phone set for one light: how it develops what falls on its sensors.
pub struct Developing {
    to_rgb: Matrix3<f64>,
    exposure: f64,
    look: Look,
}

fn sensor(middle: f64, wide: f64, tail: f64) -> Spectrum {
    Spectrum(std::array::from_fn(|band| {
        let nm = nanometres(band);
        let side = if nm < middle { wide } else { wide * 1.15 };
        (-0.5 * ((nm - middle) / side).powi(2)).exp() + tail * (-0.5 * ((nm - 540.0) / 90.0).powi(2)).exp()
    }))
}

/// Linear sRGB of X/Xn, Y/Yn, Z/Zn under noon daylight (IEC 61966-2-1).
fn srgb_of() -> Matrix3<f64> {
    let to_xyz = Matrix3::new(0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505);
    let white = Vector3::new(0.9505, 1.0, 1.0891);
    to_xyz.try_inverse().expect("the primaries span all colours") * Matrix3::from_diagonal(&white)
}

/// What a maker of phones calibrates with: smooth surfaces of all hues, light and dark, and greys.
fn usual_surfaces() -> Vec<Spectrum> {
    let hues = (0..18).map(|n| {
        let middle = 400.0 + 18.0 * f64::from(n);
        let (wide, dips) = (35.0 + 12.0 * f64::from(n % 4), n % 2 == 0);
        Spectrum(std::array::from_fn(|band| {
            let bell = (-0.5 * ((nanometres(band) - middle) / wide).powi(2)).exp();
            if dips { 0.75 - 0.6 * bell } else { 0.12 + 0.6 * bell }
        }))
    });
    hues.chain([0.05, 0.2, 0.4, 0.6, 0.9].map(Spectrum::flat)).collect()
}

impl Phone {
    /// One of those that are sold.
    pub fn any(chance: &mut Chance) -> Phone {
        let sensors = [
            sensor(chance.between(592.0, 608.0), chance.between(27.0, 34.0), chance.between(0.0, 0.05)),
            sensor(chance.between(526.0, 542.0), chance.between(33.0, 41.0), chance.between(0.0, 0.05)),
            sensor(chance.between(450.0, 466.0), chance.between(22.0, 29.0), chance.between(0.0, 0.04)),
        ];
        let look = Look {
            contrast: chance.between(0.05, 0.55),
            steep: chance.between(4.0, 6.0),
            power: chance.between(0.93, 1.07),
            saturation: chance.between(1.0, 1.35),
            turn: [chance.between(0.0, 5.0), chance.between(0.0, 360.0)],
        };
        Phone { sensors, look }
    }

    /// What its sensors get of a surface under a light.
    pub fn raw(&self, surface: &Spectrum, light: &Light) -> [f64; 3] {
        let get = |sensor: &Spectrum| {
            (0..BANDS).map(|band| surface.0[band] * light.power.0[band] * sensor.0[band]).sum::<f64>()
        };
        [get(&self.sensors[0]), get(&self.sensors[1]), get(&self.sensors[2])]
    }

    /// Set for a light. Its white balance is off by so much in red and blue, and white comes to `white` of what it can show.
    pub fn set_for(&self, light: &Light, off: [f64; 2], white: f64) -> Developing {
        let of_white = Vector3::from(self.raw(&Spectrum::flat(1.0), light));
        // Its matrices were made for daylight and for a bulb; which is meant it tells by red against blue.
        let made_for = [Light::day(6_500.0), Light::bulb(2_856.0)];
        let redness = |light: &Light| {
            let [r, _, b] = self.raw(&Spectrum::flat(1.0), light);
            (r / b).ln()
        };
        let [cool, warm] = [redness(&made_for[0]), redness(&made_for[1])];
        let share = ((redness(light) - cool) / (warm - cool)).clamp(0.0, 1.0);
        let matrix = self.matrix(&made_for[0]) * (1.0 - share) + self.matrix(&made_for[1]) * share;
        let gains = Vector3::new(off[0].exp() / of_white[0], 1.0 / of_white[1], off[1].exp() / of_white[2]);
        Developing { to_rgb: matrix * Matrix3::from_diagonal(&gains), exposure: white, look: self.look }
    }

    /// From what its sensors get of usual surfaces, as shares of white, to what they look like; white stays white.
    fn matrix(&self, light: &Light) -> Matrix3<f64> {
        let white = self.raw(&Spectrum::flat(1.0), light);
        let (mut seen, mut both) = (Matrix3::zeros(), Matrix3::zeros());
        for surface in usual_surfaces() {
            let raw = self.raw(&surface, light);
            let raw = Vector3::new(raw[0] / white[0], raw[1] / white[1], raw[2] / white[2]);
            let looks = srgb_of() * Vector3::from(surface.relative(Illuminant::D65));
            seen += raw * raw.transpose();
            both += looks * raw.transpose();
        }
        let matrix = both * seen.try_inverse().expect("surfaces of all hues");
        let sums = matrix * Vector3::new(1.0, 1.0, 1.0);
        Matrix3::from_fn(|row, column| matrix[(row, column)] / sums[row])
    }
}

impl Developing {
    /// The pixel, 0 to 1 and beyond where it clips, that comes of what the sensors got.
    pub fn pixel(&self, raw: [f64; 3]) -> [f64; 3] {
        let linear = self.to_rgb * Vector3::from(raw) * self.exposure;
        let coded = [linear[0], linear[1], linear[2]].map(|light| self.look.coded(light));
        self.look.coloured(coded)
    }
}

impl Look {
    fn coded(&self, linear: f64) -> f64 {
        let linear = linear.clamp(0.0, 1.0);
        let usual =
            if linear <= 0.003_130_8 { 12.92 * linear } else { 1.055 * linear.powf(1.0 / 2.4) - 0.055 };
        let base = usual.powf(self.power);
        let s = |v: f64| 1.0 / (1.0 + (-self.steep * (v - 0.5)).exp());
        let curved = (s(base) - s(0.0)) / (s(1.0) - s(0.0));
        base + self.contrast * (curved - base)
    }

    fn coloured(&self, [r, g, b]: [f64; 3]) -> [f64; 3] {
        let y = 0.299 * r + 0.587 * g + 0.114 * b;
        let (cb, cr) = (0.564 * (b - y), 0.713 * (r - y));
        let hue = cr.atan2(cb);
        let turn = self.turn[0].to_radians() * (hue - self.turn[1].to_radians()).sin();
        let chroma = self.saturation * cb.hypot(cr);
        let (cb, cr) = (chroma * (hue + turn).cos(), chroma * (hue + turn).sin());
        [y + cr / 0.713, y - 0.344 * cb - 0.714 * cr, y + cb / 0.564]
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Whatever its light: what is grey looks grey where its white balance guesses well, and light things lighter.
    #[test]
    fn grey_stays_grey_and_in_order() {
        for seed in 0..20 {
            let mut chance = Chance::of(seed);
            let (phone, light) = (Phone::any(&mut chance), Light::any(&mut chance));
            let developing = phone.set_for(&light, [0.0, 0.0], 0.8);
            let greys: Vec<[f64; 3]> = [0.05, 0.2, 0.5, 0.9]
                .map(|share| developing.pixel(phone.raw(&Spectrum::flat(share), &light)))
                .to_vec();
            for grey in &greys {
                assert!((grey[0] - grey[1]).abs() < 1e-6 && (grey[2] - grey[1]).abs() < 1e-6, "{grey:?}");
            }
            assert!(greys.windows(2).all(|two| two[0][1] < two[1][1]));
        }
    }
}
