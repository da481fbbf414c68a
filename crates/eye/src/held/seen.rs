//! What does the photo show at each place of the panel?

use rosy_core::colour::{Illuminant, Lab};

use super::wanted::{Grid, STEP, Wanted};
use crate::field::{BadLight, Bare, Field};
use crate::patch::Patch;
use crate::phone::{Known, Phone};
use crate::picture::Picture;
use crate::plane::Plane;
use crate::rank::median;

/// By what colours are made true.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum White {
    /// By bare card on the panel.
    Card,
    /// By the plan itself, since none of the card is bare: then only what differs from place to place can be judged.
    Plan,
}

/// The panel as it is seen, square and in true colours as far as these can be told.
pub struct Seen {
    /// What the camera saw at each place, each channel 0 to 1; nothing outside of the photo, or where it is burnt out.
    pub rgb: Vec<Option<[f64; 3]>>,
    /// The colours.
    pub lab: Vec<Option<Lab>>,
    /// What bare card would look like.
    pub field: Field,
    /// By what they were made true.
    pub white: White,
    /// The phone they were read by.
    pub phone: Phone,
}

/// Millimetres between bare places that tell the light, and how many of them have to be bare so that they do.
const APART: f64 = 5.0;
const FEWEST: usize = 14;
/// How far what is bare may differ from the card by its place, in light and in hue (logarithms).
const LIGHT: f64 = 0.12;
const TINT: f64 = 0.035;
/// What a channel shows that is neither crushed nor burnt out, from 0 to 1.
const WHOLE: std::ops::RangeInclusive<f64> = 0.045..=0.985;
/// Places of the plan that teach an unknown phone, and by how much a panel differs from its plan (ΔE00).
const TAUGHT_BY: usize = 120;
const DIFFERS: f64 = 6.0;

/// Whether a place looks as bare card would there: as light, and of the same hue, but for what one light leaves open.
fn is_as_bare(bare: &Bare, card: [f64; 3]) -> bool {
    let logs: [f64; 3] = std::array::from_fn(|c| (bare.rgb[c].max(1e-3) / card[c].max(1e-3)).ln());
    let light = logs.iter().sum::<f64>() / 3.0;
    light.abs() < LIGHT && logs.iter().all(|log| (log - light).abs() < TINT)
}

/// What the camera saw at each place.
pub fn squared(picture: &Picture, plane: &Plane, grid: Grid) -> Vec<Option<[f64; 3]>> {
    (0..grid.len())
        .map(|n| {
            let [x, y] = grid.at(n);
            let points = (plane.pixels_a_millimetre([x, y]) * STEP).ceil().clamp(2.0, 7.0) as usize;
            let mut sum = [0.0; 3];
            let mut burnt = 0;
            for k in 0..points * points {
                let along = |k: usize| ((k as f64 + 0.5) / points as f64 - 0.5) * STEP;
                let rgb = picture.at(plane.pixel([x + along(k % points), y + along(k / points)]))?;
                burnt += usize::from(rgb.iter().any(|c| *c > 0.996));
                sum = std::array::from_fn(|c| sum[c] + rgb[c]);
            }
            let count = (points * points) as f64;
            (3 * burnt < points * points).then(|| sum.map(|sum| sum / count))
        })
        .collect()
}

/// Bare places that tell the light, one for each square of some millimetres.
fn bare(wanted: &Wanted, rgb: &[Option<[f64; 3]>]) -> Vec<Bare> {
    let grid = wanted.grid;
    let across = (grid.columns as f64 * STEP / APART).ceil() as usize + 1;
    let mut squares: std::collections::BTreeMap<usize, ([f64; 2], [f64; 3], f64)> = Default::default();
    for n in 0..grid.len() {
        let (Some(place), Some(rgb)) = (&wanted.places[n], rgb[n]) else { continue };
        // Right beside ink, or at the rim, a place may be neither.
        let all_bare =
            grid.about(n, 1).all(|other| wanted.places[other].as_ref().is_some_and(|place| place.is_bare));
        let (column, row) = (n % grid.columns, n / grid.columns);
        let at_rim = column == 0 || row == 0 || column + 1 == grid.columns || row + 1 == grid.rows;
        if !place.is_bare || !all_bare || at_rim {
            continue;
        }
        let at = grid.at(n);
        let square = (at[0] / APART) as usize + across * (at[1] / APART) as usize;
        let (sum, light, count) = squares.entry(square).or_insert(([0.0; 2], [0.0; 3], 0.0));
        *sum = [sum[0] + at[0], sum[1] + at[1]];
        *light = std::array::from_fn(|c| light[c] + rgb[c]);
        *count += 1.0;
    }
    squares
        .into_values()
        .map(|(at, rgb, count)| Bare { at: at.map(|x| x / count), rgb: rgb.map(|c| c / count), paper: false })
        .collect()
}

impl Seen {
    /// Reads a photo by a phone, or by one that is not known.
    ///
    /// # Errors
    /// A [`BadLight`] where colours cannot be told in this light.
    pub fn of(
        picture: &Picture,
        plane: &Plane,
        wanted: &Wanted,
        phone: Option<&Phone>,
    ) -> Result<Seen, BadLight> {
        let rgb = squared(picture, plane, wanted.grid);
        let white = wanted.surface.materials.paper.lab();
        let bare = bare(wanted, &rgb);
        let known = phone.map_or_else(Phone::usual, Phone::in_another_light);
        let size = [wanted.grid.columns, wanted.grid.rows].map(|count| count as f64 * STEP);
        let is_enough = |bare: &[Bare]| {
            let spread = |axis: usize| {
                let places = bare.iter().map(|bare| bare.at[axis]);
                places.clone().fold(f64::NEG_INFINITY, f64::max) - places.fold(f64::INFINITY, f64::min)
            };
            bare.len() >= FEWEST && (0..2).all(|axis| spread(axis) > 0.5 * size[axis])
        };
        // What tape kept white is bare for sure; what was only left out within it may have come out otherwise.
        let open = &wanted.surface.materials.masks.open;
        let is_kept = |bare: &Bare| open.as_ref().is_some_and(|open| !open.has(bare.at));
        let (kept, within): (Vec<Bare>, Vec<Bare>) = bare.into_iter().partition(is_kept);
        let bare: Vec<Bare> = if is_enough(&kept) {
            let field = Field::followed(&kept)?;
            kept.into_iter()
                .chain(within.into_iter().filter(|bare| is_as_bare(bare, field.card(bare.at))))
                .collect()
        } else {
            kept.into_iter().chain(within).collect()
        };
        let (field, by) = if is_enough(&bare) {
            (Field::followed(&bare)?, White::Card)
        } else {
            (Field::followed(&as_planned(wanted, &rgb, &known, white))?, White::Plan)
        };
        let mut seen = Seen { lab: Vec::new(), rgb, field, white: by, phone: known };
        if phone.is_none() || by == White::Plan {
            seen.phone = seen.taught(wanted, white);
        }
        seen.lab = (0..wanted.grid.len())
            .map(|n| {
                let rgb = seen.rgb[n]?;
                Some(seen.phone.colour_of(rgb, seen.field.card(wanted.grid.at(n)), white))
            })
            .collect();
        Ok(seen)
    }

    /// A phone that makes the panel look as it was planned, as far as that goes with what phones do.
    fn taught(&self, wanted: &Wanted, white: Lab) -> Phone {
        let even: Vec<usize> =
            (0..wanted.grid.len()).filter(|n| wanted.is_even(*n) && self.rgb[*n].is_some()).collect();
        let step = even.len().div_ceil(TAUGHT_BY).max(1);
        let known = even.iter().step_by(step).filter_map(|n| {
            let patch = self.patch(*n, wanted.grid.at(*n))?;
            Some(Known { patch, lab: wanted.places[*n].as_ref()?.lab, sure: DIFFERS })
        });
        self.phone.learned(&known.collect::<Vec<_>>(), white).0
    }

    /// Whether a place shows all of its colour: a channel that a photo has crushed or burnt out tells no amounts.
    pub fn is_whole(&self, n: usize) -> bool {
        self.rgb[n].is_some_and(|rgb| rgb.iter().all(|channel| WHOLE.contains(channel)))
    }

    /// What is seen of a place.
    pub fn patch(&self, n: usize, at: [f64; 2]) -> Option<Patch> {
        Some(Patch { rgb: self.rgb[n]?, card: self.field.card(at), uneven: 0.0 })
    }

    /// How far off a colour may be for what is not known of the phone (ΔE00, on the average).
    pub fn unsure(&self, n: usize, at: [f64; 2], white: Lab) -> Option<f64> {
        Some(self.phone.read(&self.patch(n, at)?, white).within / 2.1)
    }
}

/// What bare card would look like if all had come out as planned, at places all over: it tells how the light falls off.
fn as_planned(wanted: &Wanted, rgb: &[Option<[f64; 3]>], phone: &Phone, white: Lab) -> Vec<Bare> {
    let grid = wanted.grid;
    let cast = cast(wanted, rgb);
    let every = (APART / STEP) as usize;
    let places =
        (0..grid.len()).filter(|n| (n % grid.columns) % every == 2 && (n / grid.columns) % every == 2);
    places
        .filter(|n| wanted.is_even(*n))
        .filter_map(|n| {
            let (place, rgb) = (wanted.places[n].as_ref()?, rgb[n]?);
            // The card that would make this place look as light as it should, found by halving.
            let lightness = |by: f64| phone.colour_of(rgb, rgb.map(|c| (c * by).min(1.2)), white).l;
            let (mut less, mut more) = (1.0, 8.0);
            for _ in 0..24 {
                let middle = 0.5 * (less + more);
                if lightness(middle) > place.lab.l { less = middle } else { more = middle }
            }
            Some(Bare { at: grid.at(n), rgb: rgb.map(|c| c * less), paper: false })
        })
        .map(|bare| {
            // One light has one colour: how light it is goes by the place, its cast is the same all over.
            // No cast makes it burnt out or black.
            let light =
                crate::picture::light(bare.rgb).clamp(0.35, 0.98 / cast.into_iter().fold(1.0, f64::max));
            Bare { rgb: cast.map(|cast| light * cast), ..bare }
        })
        .collect()
}

/// By how much the photo is redder, greener or bluer than the plan on a screen, about a grey of 1.
fn cast(wanted: &Wanted, rgb: &[Option<[f64; 3]>]) -> [f64; 3] {
    let shares: Vec<[f64; 3]> = (0..wanted.grid.len())
        .step_by(7)
        .filter(|n| wanted.is_even(*n))
        .filter_map(|n| {
            let (place, seen) = (wanted.places[n].as_ref()?, rgb[n]?);
            let screen = place.lab.on_screen(Illuminant::D65).0.0.map(|c| f64::from(c).max(8.0) / 255.0);
            Some(std::array::from_fn(|c| seen[c] / screen[c]))
        })
        .collect();
    let usual: [f64; 3] =
        std::array::from_fn(|c| median(shares.iter().map(|share| share[c]).collect()).unwrap_or(1.0));
    let grey = crate::picture::light(usual);
    usual.map(|c| (c / grey).clamp(0.6, 1.6))
}
