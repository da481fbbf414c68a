//! How do flecks look, one by one?
//!
//! Each is drawn at the picture's own fineness, its outline as the fibres have it: what lies in its middle and at its rim is
//! laid over what lies there, and how X, Y and Z with it stand to those without it is what its pixels take.

use std::sync::Arc;

use rayon::prelude::*;

use crate::colour::{Illuminant, Spectrum};
use crate::ink::Kind;
use crate::surface::{Layer, Surface, WetFilm};
use crate::water::drops::Chance;
use crate::water::flecks::Thrown;
use crate::water::wash::beneath;
use crate::water::{Drop, Effect};

/// How far an outline strays from a circle, as a share of the radius, and in how many bends.
const STRAYS: [(f64, f64); 4] = [(1.0, 0.05), (2.0, 0.06), (3.0, 0.03), (7.0, 0.012)];
/// How unlike a rim is to itself round a drop, and the middle of a drop to its next.
const UNEVEN: f64 = 0.35;
/// The share of light that mica throws back, and how unlike one glint is to another (chosen).
const GLINTS: f32 = 0.62;
const UNLIKE: f32 = 0.3;

/// A fleck on the picture.
#[derive(Clone, Debug)]
struct Dot {
    drop: Drop,
    /// The film it belongs to, by its place.
    film: usize,
    /// Where each bend of its outline begins.
    turned: [f64; STRAYS.len()],
    /// What X, Y and Z are multiplied by in its middle and at its rim.
    inside: [f32; 4],
    rim: [f32; 4],
    /// In how many millimetres the rim falls off, and how soft the edge is.
    wide: f64,
    soft: f64,
    /// Light that it throws back of itself.
    glint: f32,
}

/// All flecks of a part of a picture, by the rows of pixels they lie on.
#[derive(Clone, Debug)]
pub struct Dots {
    dots: Vec<Dot>,
    rows: Vec<Vec<u32>>,
}

impl Dots {
    /// Of a part of a card, in a picture of so many rows of pixels of some millimetres.
    pub fn of(surface: &Surface, effects: &[Arc<Effect>], rows: usize, mm: f64) -> Option<Dots> {
        if effects.iter().all(|effect| effect.drops.is_empty())
            || surface.under.is_some_and(|seal| seal.covers_with(&surface.materials).is_some())
        {
            return None;
        }
        let (first, size) = surface.window;
        let lies = |drop: &Drop| {
            let near = |at: f64, from: f64, long: f64| {
                (from - 1.3 * drop.radius..=from + long + 1.3 * drop.radius).contains(&at)
            };
            near(drop.x, first.0, size.0) && near(drop.y, first.1, size.1)
        };
        let films = surface.films.iter().zip(effects).enumerate();
        let all: Vec<(usize, usize)> = films
            .flat_map(|(film, (_, effect))| {
                let drops = effect.drops.iter().enumerate();
                drops.filter(|(_, drop)| lies(drop)).map(move |(at, _)| (film, at)).collect::<Vec<_>>()
            })
            .collect();
        let dots: Vec<Dot> =
            all.into_par_iter().filter_map(|(film, at)| dot(surface, effects, film, at)).collect();
        let mut on_rows = vec![Vec::new(); rows];
        for (place, dot) in dots.iter().enumerate() {
            let reach = dot.reach();
            let row = |y: f64| ((y / mm).max(0.0) as usize).min(rows);
            let reached = row(dot.drop.y - reach)..(row(dot.drop.y + reach) + 1).min(rows);
            on_rows[reached].iter_mut().for_each(|on_row: &mut Vec<u32>| on_row.push(place as u32));
        }
        Some(Dots { dots, rows: on_rows })
    }

    /// Lays them over the light of a run of pixels. Drops of one throw that touch are one: where they lie over one another
    /// only the one counts in which a place lies deeper.
    pub fn lay(&self, row: usize, across: std::ops::Range<usize>, mm: f64, light: &mut [[f32; 4]]) {
        let y = (row as f64 + 0.5) * mm;
        let here = &self.rows[row];
        let mut from = 0;
        while from < here.len() {
            let film = self.dots[here[from] as usize].film;
            let count =
                here[from..].iter().take_while(|place| self.dots[**place as usize].film == film).count();
            let throw = &here[from..from + count];
            from += count;
            // The pixels that any of them reaches.
            for (nth, place) in throw.iter().enumerate() {
                let dot = &self.dots[*place as usize];
                let reach = dot.reach() + mm;
                let first = (((dot.drop.x - reach) / mm).max(0.0) as usize).max(across.start);
                let last = (((dot.drop.x + reach) / mm).max(0.0) as usize + 1).min(across.end);
                for column in first..last.max(first) {
                    let at = ((column as f64 + 0.5) * mm, y);
                    let Some(deep) = dot.deep(at, mm) else { continue };
                    let is_deepest = throw.iter().enumerate().all(|(other, place)| {
                        let rival = if other == nth { None } else { self.dots[*place as usize].deep(at, mm) };
                        rival.is_none_or(|rival| (rival, other) < (deep, nth))
                    });
                    if is_deepest {
                        dot.lay(deep, at, mm, &mut light[column - across.start]);
                    }
                }
            }
        }
    }
}

impl Dot {
    fn reach(&self) -> f64 {
        1.2 * self.drop.radius + self.soft
    }

    fn angle(&self, (x, y): (f64, f64)) -> f64 {
        (y - self.drop.y).atan2(x - self.drop.x)
    }

    /// How deep inside its outline a place lies, in millimetres; nothing where it is out of its reach.
    #[inline]
    fn deep(&self, (x, y): (f64, f64), mm: f64) -> Option<f64> {
        let (u, v) = (x - self.drop.x, y - self.drop.y);
        let reach = self.reach() + mm;
        if u.abs() > reach || v.abs() > reach {
            return None;
        }
        let angle = v.atan2(u);
        let bends = STRAYS.iter().zip(&self.turned);
        let strays: f64 = bends.map(|((times, share), turned)| share * (times * angle + turned).sin()).sum();
        let deep = self.drop.radius * (1.0 + strays) - u.hypot(v);
        (deep > -0.5 * self.soft.max(mm)).then_some(deep)
    }

    #[inline]
    fn lay(&self, deep: f64, at: (f64, f64), mm: f64, light: &mut [f32; 4]) {
        // Half a pixel of an edge is what a pixel covers of it.
        let covered = (deep / self.soft.max(mm) + 0.5).clamp(0.0, 1.0) as f32;
        let uneven = 1.0 + UNEVEN * (2.0 * self.angle(at) + self.turned[0]).sin();
        let rim = if self.wide > 0.0 { ((-deep.max(0.0) / self.wide).exp() * uneven) as f32 } else { 0.0 };
        for ((light, inside), of_rim) in light.iter_mut().zip(self.inside).zip(self.rim).take(3) {
            let by = inside + rim.min(1.2) * (of_rim - inside);
            let with = *light * by;
            let with = with + self.glint * (1.0 - with);
            *light += covered * (with - *light);
        }
    }
}

fn dot(surface: &Surface, effects: &[Arc<Effect>], film: usize, at: usize) -> Option<Dot> {
    let (of, effect) = (&surface.films[film], &effects[film]);
    let flecks = of.wet.flecks()?;
    let drop = effect.drops[at];
    let mut chance = Chance::of(surface.materials.seed, (of.nth << 16) + at as u64);
    let turned = std::array::from_fn(|_| std::f64::consts::TAU * chance.even());
    let here = (drop.x, drop.y);
    let with = |far: Option<f64>| seen(surface, &layers(surface, effects, (film, at), here, far));
    let ratio = |far: f64, base: &[f64; 3]| {
        let seen = with(Some(far));
        let of = |n: usize| (seen[n].max(1e-5) / base[n].max(1e-5)) as f32;
        [of(0), of(1), of(2), 1.0]
    };
    let base = with(None);
    let plain = [1.0; 4];
    let dot = Dot { drop, film, turned, inside: plain, rim: plain, wide: 0.0, soft: 0.0, glint: 0.0 };
    Some(match flecks.of {
        Thrown::Mica => {
            let bright = GLINTS * (1.0 + UNLIKE * (2.0 * chance.even() as f32 - 1.0));
            Dot { glint: bright, soft: 0.05, ..dot }
        }
        Thrown::Water => {
            let under = beneath(Kind::Oxide, drop.radius, of.is_blotted);
            Dot {
                inside: ratio(0.0, &base),
                rim: ratio(drop.radius, &base),
                wide: under.wide,
                soft: (0.5 * drop.radius).min(if of.is_blotted { 0.5 } else { 0.22 }),
                ..dot
            }
        }
        Thrown::Ink(ink) => {
            let is_paint = surface.materials.inks[ink].kind == Kind::Pigment;
            // Thinned with more water its edge is softer.
            let soft = (0.04 + 0.05 * f64::from(flecks.water_of(at)))
                * drop.radius.min(1.2)
                * if is_paint { 2.0 } else { 1.0 };
            Dot {
                inside: ratio(0.0, &base),
                rim: ratio(drop.radius, &base),
                wide: if is_paint { 0.0 } else { (0.25 * drop.radius).min(0.3) },
                soft,
                ..dot
            }
        }
    })
}

/// What lies in the middle of a fleck: without it, or as it is so far from its middle.
fn layers(
    surface: &Surface,
    effects: &[Arc<Effect>],
    (film, at): (usize, usize),
    here: (f64, f64),
    far: Option<f64>,
) -> Vec<Layer> {
    let but = |of: &WetFilm| far.and_then(|far| of.of_drop(&surface.materials, &effects[film], at, far));
    surface.layers_at(here, effects, Some((film, at, but(&surface.films[film]))))
}

/// X/Xn, Y/Yn and Z/Zn of some layers.
fn seen(surface: &Surface, layers: &[Layer]) -> [f64; 3] {
    let reflectance: Spectrum = surface.stack_of(layers).reflectance();
    reflectance.relative(Illuminant::D65)
}
