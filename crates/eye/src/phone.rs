//! What does this phone do to colours?
//!
//! A phone shows colours stronger than they are, in a curve of its own, through sensors that are not the eye's. Undone in that
//! order: saturation, about the grey of the same lightness; the curve, upon that of screens (IEC 61966-2-1); the light, by dividing
//! by what bare card shows at the same place; and the sensors, by a root-polynomial (Finlayson, Mackiewicz and Hurlbert 2015),
//! which keeps its shape in any exposure, and white as white.
//!
//! What is believed of phones in general is where it begins, with how far phones differ; what is known in a photo moves it from
//! there (a maximum a posteriori estimate, by Gauss and Newton), and what is left unsure goes into the spread of every colour read.
//!
//! ```
//! use rosy_core::colour::Lab;
//! use rosy_eye::patch::Patch;
//! use rosy_eye::phone::{Known, Phone};
//!
//! let card = Lab { l: 96.0, a: 0.0, b: -2.0 };
//! let phone = Phone::usual();
//! // What looks like the card is the card, whatever the light.
//! let bare = Patch { rgb: [0.8, 0.7, 0.6], card: [0.8, 0.7, 0.6], uneven: 0.0 };
//! assert!(phone.read(&bare, card).lab.difference(card) < 1e-6);
//! // Something known makes all that is read surer.
//! let rose = Patch { rgb: [0.8, 0.45, 0.5], card: [0.9; 3], uneven: 0.0 };
//! let told = phone.read(&rose, card);
//! let known = Known { patch: rose, lab: told.lab, sure: 0.5 };
//! let (learned, _) = phone.learned(&[known], card);
//! assert!(learned.read(&rose, card).within < told.within);
//! ```

use nalgebra::{Matrix3, SMatrix, SVector, Vector3};
use palette::encoding::{IntoLinear, Srgb};
use rosy_core::colour::{Illuminant, Lab, Spectrum};
use rosy_core::ink::{Film, Kind, Stack};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::patch::Patch;
use crate::picture::light;

/// Figures of a phone: ten of its look, and 18 of its root-polynomial.
pub(crate) const FIGURES: usize = LOOK + 18;
/// Of its look: ln of its saturation, how that goes with the hue (sine and cosine); by how much it turns hues (radians: all, sine,
/// cosine); three of its curve; stray light.
const LOOK: usize = 10;
type Figures = SVector<f64, FIGURES>;
type Square = SMatrix<f64, FIGURES, FIGURES>;

/// Terms of the root-polynomial of the second degree: r, g, b and the roots of their products.
const TERMS: usize = 6;

/// What a phone does, and how sure that is.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Phone {
    /// By how much each of its figures differs from that of a usual phone, in how far phones usually differ.
    #[serde(with = "figures")]
    #[schemars(with = "Vec<f64>", length(equal = 28))]
    moved: Figures,
    /// The lower half of the matrix whose square is how sure they are, row by row.
    #[serde(with = "sureness")]
    #[schemars(with = "Vec<f64>", length(equal = 406))]
    spread: Square,
    /// How far off a colour is on the average that the figures cannot explain (ΔE00, root of the mean square, one of three axes).
    left: f64,
}

/// A patch whose colour is known.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Known {
    /// What is seen of it.
    pub patch: Patch,
    /// Its colour.
    pub lab: Lab,
    /// By how much that is off on the average (ΔE00).
    pub sure: f64,
}

/// A colour that was read.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Read {
    /// The colour.
    pub lab: Lab,
    /// How far off it may be, nine times in ten (ΔE00).
    pub within: f64,
}

/// What a usual phone does (chosen: pictures that please have a sixth more colour, and mid-tones darker by a tenth in their shadows).
const USUAL: [f64; LOOK] = [0.157, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.25, 0.0, 0.004];
/// How far phones differ in these (standard deviations), and in a term of the root-polynomial (chosen).
const DIFFER: [f64; LOOK] = [0.10, 0.03, 0.03, 0.03, 0.04, 0.04, 0.12, 0.13, 0.15, 0.004];
const DIFFER_IN_A_TERM: f64 = 0.05;
/// How far a term of it differs from one light to another, in how far phones differ in it (chosen).
const OTHER_LIGHT: f64 = 0.2;
/// What no root-polynomial explains: inks of one look to the eye that differ to the phone (ΔE00 on one axis; chosen, and then
/// found anew from what is known), and how many patches' worth that belief is.
const LEFT: f64 = 1.0;
const LEFT_WORTH: f64 = 12.0;
/// What a phone is asked of to tell how sure its colours are: inks of all hues, pale and deep (chosen).
const ASKED_OF: [[f64; 3]; 12] = [
    [0.80, 0.55, 0.60],
    [0.70, 0.25, 0.35],
    [0.85, 0.68, 0.50],
    [0.80, 0.45, 0.20],
    [0.86, 0.82, 0.55],
    [0.80, 0.72, 0.20],
    [0.62, 0.78, 0.60],
    [0.25, 0.55, 0.32],
    [0.55, 0.74, 0.82],
    [0.15, 0.40, 0.60],
    [0.66, 0.58, 0.80],
    [0.35, 0.22, 0.55],
];
/// Times that Gauss and Newton step, and times that what is odd is given less weight.
const STEPS: usize = 12;
/// By how much of what is left a grey is off, and at which chroma it is as much more again (chosen).
const LEFT_OF_GREY: f64 = 0.8;
const LEFT_PER_CHROMA: f64 = 90.0;
/// How far the lighter patches are believed against what is left of a colour that the photo cut off (chosen).
const LADDER: f64 = 0.8;
/// A patch is at most so many times as deep as the one before it that is whole.
const DEEPEST: f64 = 8.0;
const LIGHT: Illuminant = Illuminant::D65;
/// Below this a channel may have been cut off.
const AT_ITS_END: f64 = 0.04;
/// What the card's own colour is off by (ΔE00 on one axis; a white card is known to about a half in all).
const CARD_IS_OFF: f64 = 0.4;
/// ΔE00 to a logarithm of what is seen, about mid-tones: a tenth lighter is 6.
const PER_LOGARITHM: f64 = 60.0;
/// The least that the sensors got, as a share of what they can.
const DARKEST: f64 = 2e-4;
/// Beyond so many of its own spread, something known counts for less (Huber).
const ODD: f64 = 2.0;
/// A mean over three axes to one of them: the mean length of a normal draw in three directions is 1.6 of its spread in one.
const THREE_AXES: f64 = 1.596;

/// X/Xn, Y/Yn, Z/Zn of linear sRGB: its primaries under noon daylight, each line a share of white.
fn usual_matrix() -> [[f64; 3]; 3] {
    [[0.4339, 0.3762, 0.1899], [0.2126, 0.7152, 0.0722], [0.0177, 0.1095, 0.8728]]
}

/// Linear sRGB of a colour, as shares of that of a card: what a usual phone's sensors are made to tell.
fn usual_shares(lab: Lab, card: Lab) -> [f64; 3] {
    let (seen, white) = (lab.relative(), card.relative());
    let shares = Vector3::from([0, 1, 2].map(|axis| seen[axis] / white[axis]));
    let matrix = Matrix3::from_fn(|row, column| usual_matrix()[row][column]);
    matrix.try_inverse().map_or([0.0; 3], |inverse| (inverse * shares).into())
}

/// Figures that no phone has.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("its figures cannot be those of a phone: leave it out, and it is found anew")]
pub struct NoPhone;

impl Default for Phone {
    fn default() -> Phone {
        Phone::usual()
    }
}

impl Phone {
    /// What is believed of a phone nothing is known of.
    pub fn usual() -> Phone {
        Phone { moved: Figures::zeros(), spread: Square::identity(), left: LEFT }
    }

    /// Refuses what no phone does.
    ///
    /// # Errors
    /// [`NoPhone`] where its figures cannot be those of one.
    pub fn check(&self) -> Result<(), NoPhone> {
        let mut figures = self.moved.iter().chain(self.spread.iter());
        let could_be = figures.all(|figure| figure.abs() < 12.0) && (0.0..20.0).contains(&self.left);
        could_be.then_some(()).ok_or(NoPhone)
    }

    /// The same phone met again in a light that it was not known by: its curve and its colours are as they were, and what its sensors tell
    /// apart goes with the light.
    #[must_use]
    pub fn in_another_light(&self) -> Phone {
        let mut doubt = self.spread * self.spread.transpose();
        (LOOK..FIGURES).for_each(|n| doubt[(n, n)] += OTHER_LIGHT * OTHER_LIGHT);
        let spread = doubt.cholesky().map_or(self.spread, |root| root.l());
        Phone { spread, ..self.clone() }
    }

    /// How sure its colours are against a phone nothing is known of: 0 is no surer, 1 would be without any doubt.
    pub fn sureness(&self) -> f64 {
        let card = Lab { l: 96.0, a: 0.0, b: -2.0 };
        let within = |phone: &Phone| {
            let of = |rgb: [f64; 3]| phone.read(&Patch { rgb, card: [0.88; 3], uneven: 0.0 }, card).within;
            ASKED_OF.map(of).iter().sum::<f64>()
        };
        1.0 - within(self) / within(&Phone::usual())
    }

    fn figure(moved: &Figures, n: usize) -> f64 {
        if n < LOOK { USUAL[n] + DIFFER[n] * moved[n] } else { DIFFER_IN_A_TERM * moved[n] }
    }

    /// Light as the sensors got it, before the curve and the colours were pleased.
    fn linear(moved: &Figures, rgb: [f64; 3]) -> [f64; 3] {
        let look: [f64; LOOK] = std::array::from_fn(|n| Phone::figure(moved, n));
        // Colour as video has it (Rec. 601): a grey, and what is more blue and more red than that.
        let grey = light(rgb);
        let (blue, red) = (0.564 * (rgb[2] - grey), 0.713 * (rgb[0] - grey));
        let chroma = blue.hypot(red).max(1e-9);
        let (sin, cos) = (red / chroma, blue / chroma);
        let less = (-look[0] - look[1] * sin - look[2] * cos).exp();
        let (turn_sin, turn_cos) = (-look[3] - look[4] * sin - look[5] * cos).sin_cos();
        let (blue, red) =
            (less * (blue * turn_cos - red * turn_sin), less * (blue * turn_sin + red * turn_cos));
        let calm = [grey + red / 0.713, grey - 0.344 * blue - 0.714 * red, grey + blue / 0.564];
        calm.map(|v| {
            let v = v.clamp(0.0, 1.0);
            let v = v + v * (1.0 - v) * (look[6] + look[7] * (1.0 - 2.0 * v) + look[8] * (1.0 - v).powi(3));
            let linear: f64 = Srgb::into_linear(v);
            (linear - look[9]).max(DARKEST)
        })
    }

    /// What the sensors got of a patch, as shares of what they got of bare card.
    fn shares(moved: &Figures, patch: &Patch) -> [f64; 3] {
        let (ink, bare) = (Phone::linear(moved, patch.rgb), Phone::linear(moved, patch.card));
        std::array::from_fn(|c| (ink[c] / bare[c].max(1e-3)).min(1.6))
    }

    /// The colour of what is seen where bare card would be seen so, without asking how far off it may be.
    pub fn colour_of(&self, rgb: [f64; 3], card: [f64; 3], white: Lab) -> Lab {
        Phone::told(&self.moved, &Patch { rgb, card, uneven: 0.0 }, white)
    }

    /// The colour that figures tell of a patch.
    fn told(moved: &Figures, patch: &Patch, card: Lab) -> Lab {
        Phone::colour(moved, Phone::shares(moved, patch), card)
    }

    /// The colour of what the sensors got.
    fn colour(moved: &Figures, [r, g, b]: [f64; 3], card: Lab) -> Lab {
        let terms = [r, g, b, (r * g).sqrt(), (g * b).sqrt(), (r * b).sqrt()];
        let mean = (r + g + b) / 3.0;
        let white = card.relative();
        Lab::from_relative(std::array::from_fn(|axis| {
            let usual: f64 = usual_matrix()[axis].iter().zip([r, g, b]).map(|(a, c)| a * c).sum();
            let more: f64 =
                (0..TERMS).map(|n| Phone::figure(moved, LOOK + TERMS * axis + n) * (terms[n] - mean)).sum();
            (usual + more).max(3e-4) * white[axis]
        }))
    }

    /// The colour of a patch on a card of known colour, and how far off it may be.
    pub fn read(&self, patch: &Patch, card: Lab) -> Read {
        self.read_as(patch, Phone::shares(&self.moved, patch), card)
    }

    /// The colours of patches of one ink, each laid deeper than the one before.
    ///
    /// More colour than a photo can show cuts a channel off. A film goes on as it began, so the last patch that is whole tells what it
    /// would come to, laid as deep as the whole channels say.
    pub fn read_ladder(&self, patches: &[Patch], card: Lab) -> Vec<Read> {
        let is_cut = |patch: &Patch, c: usize| patch.rgb[c] < AT_ITS_END;
        let bare = Spectrum::of(card, LIGHT);
        let mut whole: Option<Film> = None;
        let mut read = Vec::with_capacity(patches.len());
        for patch in patches {
            let mut seen = self.read(patch, card);
            let cut: Vec<usize> = (0..3).filter(|c| is_cut(patch, *c)).collect();
            if cut.is_empty() {
                whole = Some(Film::of_swatch(seen.lab, &bare, LIGHT, Kind::Dye));
            } else if let Some(film) = whole.as_ref().filter(|_| cut.len() < 3) {
                let shares = Phone::shares(&self.moved, patch);
                let laid = |amount: f64| {
                    let mut stack = Stack::on(&bare);
                    stack.lay(0, film, amount);
                    stack.lab(LIGHT)
                };
                let off = |amount: f64| {
                    let would = usual_shares(laid(amount), card);
                    (0..3)
                        .filter(|c| !cut.contains(c))
                        .map(|c| (would[c].max(1e-3) / shares[c]).ln())
                        .sum::<f64>()
                };
                let (mut less, mut more) = (1.0, DEEPEST);
                for _ in 0..30 {
                    let middle = 0.5 * (less + more);
                    if off(middle) > 0.0 { less = middle } else { more = middle }
                }
                let goes_on = laid(less);
                seen.within = seen.within.max(0.5 * goes_on.difference(seen.lab));
                let both = |seen: f64, goes_on: f64| seen + LADDER * (goes_on - seen);
                seen.lab = Lab {
                    l: both(seen.lab.l, goes_on.l),
                    a: both(seen.lab.a, goes_on.a),
                    b: both(seen.lab.b, goes_on.b),
                };
            }
            read.push(seen);
        }
        read
    }

    /// How what is told of a patch goes with each thing that is not known of the phone, by as much as that may be off (a standard
    /// deviation): parts of ΔE00.
    pub(crate) fn doubts(&self, patch: &Patch, card: Lab, axes: &Matrix3<f64>) -> SMatrix<f64, 3, FIGURES> {
        slope(&self.moved, patch, card, axes) * self.spread
    }

    /// What no figure of the phone explains of a colour (ΔE00 on one axis, a standard deviation).
    pub(crate) fn left_of(&self, lab: Lab) -> f64 {
        self.left * (LEFT_OF_GREY + lab.a.hypot(lab.b) / LEFT_PER_CHROMA)
    }

    fn read_as(&self, patch: &Patch, shares: [f64; 3], card: Lab) -> Read {
        let lab = Phone::colour(&self.moved, shares, card);
        let slope = self.doubts(patch, card, &axes(lab));
        let mut doubt = slope * slope.transpose() + Matrix3::identity() * self.left_of(lab).powi(2);
        // A channel at its end may have been anywhere beyond it: more colour than the photo can show.
        for c in (0..3).filter(|c| patch.rgb[*c] < AT_ITS_END) {
            let mut beyond = shares;
            beyond[c] *= 0.5;
            let by = axes(lab)
                * between(Phone::colour(&self.moved, beyond, card), lab)
                * (1.0 - patch.rgb[c] / AT_ITS_END);
            doubt += by * by.transpose();
        }
        // The card's own colour is not quite known; nor is the mean of parts that differ.
        doubt += Matrix3::identity()
            * (CARD_IS_OFF.powi(2) + (PER_LOGARITHM * patch.uneven / 32.0_f64.sqrt()).powi(2));
        Read { lab, within: ninetieth(&doubt) }
    }

    /// Moved by what is known in a photo; and how far off each of these then is (ΔE00).
    #[must_use]
    pub fn learned(&self, known: &[Known], card: Lab) -> (Phone, Vec<f64>) {
        let begun = (self.spread * self.spread.transpose()).try_inverse().unwrap_or_else(Square::identity);
        let (mut moved, mut normal) = (self.moved, begun);
        let mut left = self.left;
        for _ in 0..STEPS {
            normal = begun;
            let mut side = begun * (self.moved - moved);
            let (mut squares, mut counted) = (LEFT_WORTH * LEFT * LEFT, LEFT_WORTH);
            for known in known.iter().filter(|known| known.patch.rgb.iter().all(|c| *c > AT_ITS_END / 2.0)) {
                let axes = axes(known.lab);
                let off = axes * between(known.lab, Phone::told(&moved, &known.patch, card));
                let of_its_own = (known.sure / THREE_AXES).powi(2);
                let variance = of_its_own + left * left;
                let far = (off.norm_squared() / (3.0 * variance)).sqrt();
                let weight = if far > ODD { ODD / far } else { 1.0 };
                let slope = slope(&moved, &known.patch, card, &axes);
                normal += slope.transpose() * slope * (weight / variance);
                side += slope.transpose() * off * (weight / variance);
                // What is left tells of the phone only as far as it is more than what is known is off by.
                let share = left * left / variance;
                squares += share * (weight * off.norm_squared() / 3.0 - of_its_own).max(0.0);
                counted += share;
            }
            let Some(step) = normal.cholesky().map(|normal| normal.solve(&side)) else { break };
            moved += step;
            // Figures that were moved to fit have made what is left smaller than it is.
            let fitted =
                normal.cholesky().map_or(0.0, |normal| FIGURES as f64 - normal.solve(&begun).trace());
            left = (squares / (counted - fitted / 3.0).max(0.5 * LEFT_WORTH)).sqrt();
        }
        let spread = normal.cholesky().map_or(self.spread, |normal| {
            let inverse = normal.inverse();
            inverse.cholesky().map_or(self.spread, |root| root.l())
        });
        let phone = Phone { moved, spread, left };
        let offs = known.iter().map(|known| Phone::told(&moved, &known.patch, card).difference(known.lab));
        let offs = offs.collect();
        (phone, offs)
    }
}

pub(crate) fn between(to: Lab, from: Lab) -> Vector3<f64> {
    Vector3::new(to.l - from.l, to.a - from.a, to.b - from.b)
}

/// What turns a small difference at a colour into its parts of lightness, chroma and hue, each in ΔE00.
pub(crate) fn axes(at: Lab) -> Matrix3<f64> {
    let chroma = at.a.hypot(at.b).max(1e-6);
    let (cos, sin) = (at.a / chroma, at.b / chroma);
    let off = (at.l - 50.0).powi(2);
    let of_lightness = 1.0 + 0.015 * off / (20.0 + off).sqrt();
    let (of_chroma, of_hue) = (1.0 + 0.045 * chroma, 1.0 + 0.015 * chroma);
    Matrix3::new(
        1.0 / of_lightness,
        0.0,
        0.0,
        0.0,
        cos / of_chroma,
        sin / of_chroma,
        0.0,
        -sin / of_hue,
        cos / of_hue,
    )
}

/// How what is told of a patch moves with each figure, in ΔE00.
fn slope(moved: &Figures, patch: &Patch, card: Lab, axes: &Matrix3<f64>) -> SMatrix<f64, 3, FIGURES> {
    const BY: f64 = 1e-3;
    SMatrix::from_columns(&std::array::from_fn::<Vector3<f64>, FIGURES, _>(|n| {
        let at = |by: f64| {
            let mut other = *moved;
            other[n] += by;
            Phone::told(&other, patch, card)
        };
        axes * between(at(BY), at(-BY)) / (2.0 * BY)
    }))
}

/// The length that nine in ten normal draws of a spread keep within (Satterthwaite's chi-square, by Wilson and Hilferty).
fn ninetieth(doubt: &Matrix3<f64>) -> f64 {
    let mean = doubt.trace();
    let freedom = mean * mean / (doubt * doubt).trace().max(1e-12);
    let ninth = 2.0 / (9.0 * freedom);
    (mean * (1.0 - ninth + 1.2816 * ninth.sqrt()).powi(3)).sqrt()
}

mod figures {
    use super::{FIGURES, Figures};
    use serde::{Deserialize, Deserializer, Serializer, de};

    pub fn serialize<S: Serializer>(figures: &Figures, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_seq(figures.iter().map(|value| (value * 1e6).round() / 1e6))
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(deserializer: D) -> Result<Figures, D::Error> {
        let values = Vec::<f64>::deserialize(deserializer)?;
        let says = || format!("{} figures: a phone has {FIGURES}", values.len());
        if values.len() == FIGURES {
            Ok(Figures::from_column_slice(&values))
        } else {
            Err(de::Error::custom(says()))
        }
    }
}

mod sureness {
    use super::{FIGURES, Square};
    use serde::{Deserialize, Deserializer, Serializer, de};

    const HALF: usize = FIGURES * (FIGURES + 1) / 2;

    pub fn serialize<S: Serializer>(spread: &Square, serializer: S) -> Result<S::Ok, S::Error> {
        let half = (0..FIGURES).flat_map(|row| (0..=row).map(move |column| spread[(row, column)]));
        serializer.collect_seq(half.map(|value| (value * 1e6).round() / 1e6))
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(deserializer: D) -> Result<Square, D::Error> {
        let values = Vec::<f64>::deserialize(deserializer)?;
        if values.len() != HALF {
            return Err(de::Error::custom(format!(
                "{} numbers: how sure a phone's figures are takes {HALF}",
                values.len()
            )));
        }
        let mut values = values.into_iter();
        let mut spread = Square::zeros();
        for row in 0..FIGURES {
            for column in 0..=row {
                spread[(row, column)] = values.next().unwrap_or_default();
            }
        }
        Ok(spread)
    }
}
