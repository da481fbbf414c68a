//! How is it held, what is in the way, and what does the file hold?

use image::codecs::jpeg::JpegEncoder;
use nalgebra::{Matrix3, Vector3};
use rayon::prelude::*;
use rosy_core::colour::Spectrum;

use crate::chance::{Chance, Grain};
use crate::light::Light;
use crate::phone::Phone;
use crate::scene::{MOST_INKS, Painting, Scene, Seen};

/// How a photo is taken.
#[derive(Clone, Debug)]
pub struct Shot {
    /// Pixels across and down.
    pub size: [usize; 2],
    /// By how many degrees the phone leans, back and to the side, and how far it is turned.
    pub lean: [f64; 3],
    /// How much of the photo the page fills.
    pub fills: f64,
    /// How the lens bends: the share by which what lies at the corners is moved outward.
    pub bend: f64,
    /// Blur in pixels.
    pub blur: f64,
    /// The light, and a second one with the direction it comes from and how much of it there is on that side.
    pub light: Light,
    /// A second light, from a direction, and its share on that side.
    pub second: Option<(Light, [f64; 2], f64)>,
    /// Fall-off of the light over the page: the share lost at the far side, and the direction.
    pub fall: (f64, [f64; 2]),
    /// The share lost at the photo's corners.
    pub dark_corners: f64,
    /// What shines: where on the page, how wide, how much of white is added.
    pub glare: Vec<([f64; 2], f64, f64)>,
    /// A shadow over a half of the page: a point of its edge, the direction it lies in, how soft, how deep.
    pub shadow: Option<([f64; 2], [f64; 2], f64, f64)>,
    /// White balance off in red and blue, as logarithms.
    pub off: [f64; 2],
    /// What white comes to.
    pub white: f64,
    /// Noise of a mid-grey, as a share of white.
    pub noise: f64,
    /// How well the file is written, in per cent.
    pub quality: u8,
}

impl Shot {
    /// As a hand takes one: leaning up to 25°, in a light that falls off by up to 40 %.
    pub fn any(size: [usize; 2], chance: &mut Chance) -> Shot {
        let way = |chance: &mut Chance| {
            let angle = chance.between(0.0, std::f64::consts::TAU);
            [angle.cos(), angle.sin()]
        };
        let lean = chance.between(0.0, 25.0);
        let to = way(chance);
        Shot {
            size,
            lean: [lean * to[0], lean * to[1], chance.between(-8.0, 8.0)],
            fills: chance.between(0.82, 0.95),
            bend: chance.between(-0.02, 0.02),
            blur: chance.between(0.5, 1.1),
            light: Light::any(chance),
            second: None,
            fall: (chance.between(0.0, 0.4), way(chance)),
            dark_corners: chance.between(0.0, 0.2),
            glare: Vec::new(),
            shadow: None,
            off: [0.05 * chance.normal(), 0.05 * chance.normal()],
            white: chance.between(0.6, 0.88),
            noise: chance.between(0.006, 0.02),
            quality: chance.between(78.0, 95.0) as u8,
        }
    }

    /// The light that falls on a place of the page, without what shines: as a share of what falls on its brightest one.
    pub fn falls(&self, scene: &Scene, x: f64, y: f64) -> f64 {
        let (share, way) = self.fall;
        let along = along(scene, way, x, y);
        let shade = self.shadow.map_or(1.0, |(at, to, soft, deep)| {
            let inside = ((x - at[0]) * to[0] + (y - at[1]) * to[1]) / soft;
            1.0 - deep / (1.0 + (-inside).exp())
        });
        (1.0 - share * along) * shade
    }

    /// What shines at a place, as a share of white.
    pub fn shines(&self, x: f64, y: f64) -> f64 {
        let spot = |([cx, cy], wide, much): &([f64; 2], f64, f64)| {
            much * (-0.5 * ((x - cx).powi(2) + (y - cy).powi(2)) / (wide * wide)).exp()
        };
        self.glare.iter().map(spot).sum()
    }
}

/// How far along a way over the page a place lies, 0 to 1.
fn along(scene: &Scene, way: [f64; 2], x: f64, y: f64) -> f64 {
    let [w, h] = scene.page.size;
    let (u, v) = ((x - scene.page.at[0]) / w - 0.5, (y - scene.page.at[1]) / h - 0.5);
    ((u * way[0] + v * way[1]) / (way[0].abs() + way[1].abs()) + 0.5).clamp(0.0, 1.0)
}

/// What was taken.
pub struct Photo {
    /// The file.
    pub jpeg: Vec<u8>,
    /// From the page in millimetres to straight pixels, without the lens.
    to_pixels: Matrix3<f64>,
    size: [usize; 2],
    bend: f64,
}

impl Photo {
    /// A photo of a scene that was taken before, from its file.
    pub fn taken_before(jpeg: Vec<u8>, scene: &Scene, shot: &Shot) -> Photo {
        Photo { jpeg, to_pixels: seen_from(shot, scene), size: shot.size, bend: shot.bend }
    }

    /// Where in the photo a place of the page is seen: from the left upper corner, in pixels.
    pub fn pixel(&self, x: f64, y: f64) -> [f64; 2] {
        let at = self.to_pixels * Vector3::new(x, y, 1.0);
        bent([at[0] / at[2], at[1] / at[2]], self.size, self.bend)
    }
}

/// What the lens does: outward by the square of the distance from the middle, a corner by `bend`.
fn bent(at: [f64; 2], size: [usize; 2], bend: f64) -> [f64; 2] {
    let middle = size.map(|side| side as f64 / 2.0);
    let (u, v) = (at[0] - middle[0], at[1] - middle[1]);
    let far = (u * u + v * v) / (middle[0].powi(2) + middle[1].powi(2));
    [middle[0] + u * (1.0 + bend * far), middle[1] + v * (1.0 + bend * far)]
}

fn unbent(at: [f64; 2], size: [usize; 2], bend: f64) -> [f64; 2] {
    let mut straight = at;
    for _ in 0..6 {
        let again = bent(straight, size, bend);
        straight = [straight[0] + at[0] - again[0], straight[1] + at[1] - again[1]];
    }
    straight
}

/// From the page to pixels: a pinhole that leans, at such a distance that the page fills what it should.
fn seen_from(shot: &Shot, scene: &Scene) -> Matrix3<f64> {
    let [wide, high] = shot.size.map(|side| side as f64);
    let middle = [0, 1].map(|axis| scene.page.at[axis] + scene.page.size[axis] / 2.0);
    let [back, side, turn] = shot.lean.map(f64::to_radians);
    let about = nalgebra::Rotation3::from_euler_angles(back, side, turn);
    // A phone's lens sees about 65° across its longer side; it is held as far off as fills the photo.
    let focal = 0.8 * wide.max(high);
    let project = |far: f64| {
        let m = about.matrix();
        let plane =
            Matrix3::new(m[(0, 0)], m[(0, 1)], 0.0, m[(1, 0)], m[(1, 1)], 0.0, m[(2, 0)], m[(2, 1)], far);
        let lens = Matrix3::new(focal, 0.0, wide / 2.0, 0.0, focal, high / 2.0, 0.0, 0.0, 1.0);
        lens * plane * Matrix3::new(1.0, 0.0, -middle[0], 0.0, 1.0, -middle[1], 0.0, 0.0, 1.0)
    };
    let spread = |far: f64| {
        let to_pixels = project(far);
        let corners = [(0.0, 0.0), (1.0, 0.0), (0.0, 1.0), (1.0, 1.0)].map(|(u, v)| {
            let [x, y] =
                [scene.page.at[0] + u * scene.page.size[0], scene.page.at[1] + v * scene.page.size[1]];
            let at = to_pixels * Vector3::new(x, y, 1.0);
            let [u, v] = [at[0] / at[2] / wide - 0.5, at[1] / at[2] / high - 0.5];
            2.0 * u.abs().max(v.abs())
        });
        corners.into_iter().fold(0.0, f64::max)
    };
    let (mut near, mut off) = (150.0, 3_000.0);
    for _ in 0..50 {
        let far = 0.5 * (near + off);
        if spread(far) > shot.fills { near = far } else { off = far }
    }
    project(off)
}

/// Points of a pixel that are looked at, along a side.
const FINE: usize = 2;

/// Takes the photo.
pub fn photograph(scene: &Scene, phone: &Phone, shot: &Shot, chance: &mut Chance) -> Photo {
    let [wide, high] = shot.size;
    let to_pixels = seen_from(shot, scene);
    let raws = sensed(scene, phone, shot, &to_pixels);
    let raws = blurred(raws, wide, shot.blur);
    let developing = phone.set_for(&shot.light, shot.off, shot.white);
    let white = phone.raw(&Spectrum::flat(1.0), &shot.light);
    let mosaic = mosaic(&raws, wide, white, shot.noise, chance);
    let mut rgb = vec![0u8; 3 * wide * high];
    rgb.par_chunks_mut(3 * wide).enumerate().for_each(|(y, line)| {
        for (x, pixel) in line.chunks_mut(3).enumerate() {
            let raw = demosaiced(&mosaic, wide, high, x, y);
            let full = std::array::from_fn(|c| f64::from(raw[c]) * white[c]);
            for (to, from) in pixel.iter_mut().zip(developing.pixel(full)) {
                *to = (from.clamp(0.0, 1.0) * 255.0).round() as u8;
            }
        }
    });
    let mut jpeg = Vec::new();
    JpegEncoder::new_with_quality(&mut jpeg, shot.quality)
        .encode(&rgb, wide as u32, high as u32, image::ExtendedColorType::Rgb8)
        .expect("a picture of eight bits is written to memory");
    Photo { jpeg, to_pixels, size: shot.size, bend: shot.bend }
}

/// What falls on the sensors, pixel by pixel.
fn sensed(scene: &Scene, phone: &Phone, shot: &Shot, to_pixels: &Matrix3<f64>) -> Vec<[f32; 3]> {
    let [wide, high] = shot.size;
    let back = to_pixels.try_inverse().expect("the page is seen from before it");
    let sorted = scene.sorted();
    let tables: Vec<Vec<[[f64; 3]; 2]>> = scene
        .stuffs
        .iter()
        .map(|stuff| {
            let under = |surface: &Spectrum| {
                let second = shot.second.as_ref().map_or([0.0; 3], |(light, ..)| phone.raw(surface, light));
                [phone.raw(surface, &shot.light), second]
            };
            stuff.0.iter().map(under).collect()
        })
        .collect();
    let painted = scene.painting.as_ref().map(|painting| Sensed::of(painting, phone, shot));
    let white = phone.raw(&Spectrum::flat(1.0), &shot.light);
    let look = |px: f64, py: f64| {
        let [u, v] = unbent([px, py], shot.size, shot.bend);
        let at = back * Vector3::new(u, v, 1.0);
        let (x, y) = (at[0] / at[2], at[1] / at[2]);
        let raws = match (sorted.at(x, y), &painted) {
            (Seen::Painted(u, v), Some(painted)) => painted.at(u, v),
            (Seen::Stuff(stuff, amount), _) => {
                let table = &tables[stuff];
                let along = amount.clamp(0.0, 1.0) * (table.len() - 1) as f64;
                let (low, share) = ((along.floor() as usize).min(table.len() - 1), along.fract());
                let next = (low + 1).min(table.len() - 1);
                std::array::from_fn(|light| {
                    std::array::from_fn(|c| {
                        table[low][light][c] + share * (table[next][light][c] - table[low][light][c])
                    })
                })
            }
            (Seen::Painted(..), None) => [[0.0; 3]; 2],
        };
        let second = shot.second.as_ref().map_or(0.0, |(_, way, much)| much * self::along(scene, *way, x, y));
        let [cx, cy] = [px / wide as f64 - 0.5, py / high as f64 - 0.5];
        let corners = 1.0 - shot.dark_corners * 2.0 * (cx * cx + cy * cy);
        let (falls, shines) = (shot.falls(scene, x, y) * corners, shot.shines(x, y));
        std::array::from_fn::<f64, 3, _>(|c| {
            let lit = raws[0][c] * (1.0 - second) + raws[1][c] * second;
            lit * falls + white[c] * shines
        })
    };
    (0..wide * high)
        .into_par_iter()
        .map(|n| {
            let (x, y) = ((n % wide) as f64, (n / wide) as f64);
            let mut sum = [0.0; 3];
            for i in 0..FINE * FINE {
                let part = |k: usize| (k as f64 + 0.5) / FINE as f64;
                let raw = look(x + part(i % FINE), y + part(i / FINE));
                sum = std::array::from_fn(|c| sum[c] + raw[c]);
            }
            sum.map(|s| (s / (FINE * FINE) as f64) as f32)
        })
        .collect()
}

/// What the sensors get of a painting: logarithms at each place of its lattice, under both lights, and how they go with each ink.
struct Sensed<'a> {
    painting: &'a Painting,
    grounds: Vec<Vec<[[[f64; 3]; 1 + MOST_INKS]; 2]>>,
    second: bool,
}

impl<'a> Sensed<'a> {
    fn of(painting: &'a Painting, phone: &Phone, shot: &Shot) -> Sensed<'a> {
        const PART: f64 = 0.1;
        let under = |place: &Vec<Spectrum>, light: &Light| {
            let raw = |logs: &Spectrum| phone.raw(&logs.map(f64::exp), light).map(|raw| raw.max(1e-9).ln());
            let bare = raw(&place[0]);
            let mut all = [[0.0; 3]; 1 + MOST_INKS];
            all[0] = bare;
            for (ink, by) in place[1..].iter().enumerate() {
                let more = raw(&place[0].zip(by, |log, by| log + PART * by));
                all[1 + ink] = std::array::from_fn(|c| (more[c] - bare[c]) / PART);
            }
            all
        };
        let second = shot.second.as_ref().map(|(light, ..)| light);
        let place = |place: &Vec<Spectrum>| {
            [under(place, &shot.light), second.map_or([[0.0; 3]; 1 + MOST_INKS], |light| under(place, light))]
        };
        let grounds = painting.grounds.iter().map(|ground| ground.par_iter().map(place).collect()).collect();
        Sensed { painting, grounds, second: second.is_some() }
    }

    fn at(&self, u: f64, v: f64) -> [[f64; 3]; 2] {
        let ground = &self.grounds[(self.painting.which)(u, v)];
        let (about, more) = (self.painting.about(u, v), (self.painting.more)(u, v));
        let lit = |light: usize| {
            std::array::from_fn(|c| {
                let log = |at: usize| {
                    let place = &ground[at][light];
                    place[0][c] + (0..MOST_INKS).map(|ink| place[1 + ink][c] * more[ink]).sum::<f64>()
                };
                about.iter().map(|(at, share)| share * log(*at)).sum::<f64>().exp()
            })
        };
        [lit(0), if self.second { lit(1) } else { [0.0; 3] }]
    }
}

/// Spread as a lens spreads a point.
fn blurred(raws: Vec<[f32; 3]>, wide: usize, sigma: f64) -> Vec<[f32; 3]> {
    let reach = (3.0 * sigma).ceil() as i64;
    let kernel: Vec<f32> =
        (-reach..=reach).map(|k| (-0.5 * (k as f64 / sigma).powi(2)).exp() as f32).collect();
    let sum: f32 = kernel.iter().sum();
    let high = raws.len() / wide;
    let pass = |from: &[[f32; 3]], step: usize, along: &(dyn Fn(usize) -> (usize, usize) + Sync)| {
        (0..from.len())
            .into_par_iter()
            .map(|n| {
                let (at, long) = along(n);
                let mut out = [0.0f32; 3];
                for (k, weight) in (-reach..=reach).zip(&kernel) {
                    let to = (at as i64 + k).clamp(0, long as i64 - 1);
                    let other = from[(n as i64 + (to - at as i64) * step as i64) as usize];
                    out = std::array::from_fn(|c| out[c] + weight / sum * other[c]);
                }
                out
            })
            .collect::<Vec<_>>()
    };
    let across = pass(&raws, 1, &|n| (n % wide, wide));
    pass(&across, wide, &|n| (n / wide, high))
}

/// Which colour a sensor has: red and blue once, green twice in each square of four.
fn colour_at(x: usize, y: usize) -> usize {
    match (x % 2, y % 2) {
        (0, 0) => 0,
        (1, 1) => 2,
        _ => 1,
    }
}

/// What each sensor tells, as a share of white, with its noise: that of light goes with its root.
fn mosaic(raws: &[[f32; 3]], wide: usize, white: [f64; 3], noise: f64, chance: &mut Chance) -> Vec<f32> {
    let draws = Grain::of(1.0, chance);
    let more = Grain::of(1.0, chance);
    raws.par_iter()
        .enumerate()
        .map(|(n, raw)| {
            let (x, y) = (n % wide, n / wide);
            let c = colour_at(x, y);
            let share = f64::from(raw[c]) / white[c];
            // Two patterns of which neither comes again where the other does.
            let draw = (draws.at(x as f64, y as f64)
                + more.at((x + 31 * (y / 97)) as f64, (y + 17 * (x / 89)) as f64))
                / (1.35 * std::f64::consts::SQRT_2);
            (share + noise * (0.1 + share.max(0.0) / 0.5).sqrt() * draw).clamp(0.0, 4.0) as f32
        })
        .collect()
}

/// All three colours at a sensor: the mean of the nearest of each.
fn demosaiced(mosaic: &[f32], wide: usize, high: usize, x: usize, y: usize) -> [f32; 3] {
    let own = colour_at(x, y);
    let (mut sums, mut counts) = ([0.0f32; 3], [0.0f32; 3]);
    for j in y.saturating_sub(1)..(y + 2).min(high) {
        for i in x.saturating_sub(1)..(x + 2).min(wide) {
            let c = colour_at(i, j);
            if c != own {
                sums[c] += mosaic[i + j * wide];
                counts[c] += 1.0;
            }
        }
    }
    std::array::from_fn(|c| if c == own { mosaic[x + y * wide] } else { sums[c] / counts[c].max(1.0) })
}
