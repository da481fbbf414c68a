//! How near are colours read from photos of swatches, and how honest is what is said of their spread?
//!
//! Run with `./rosy bench`; `PHOTOS=300` sets how many photos of each sort.

use rayon::prelude::*;
use rosy_camera::chance::Chance;
use rosy_camera::hand::{Hands, Laid, MadeInk, lay};
use rosy_camera::light::Light;
use rosy_camera::phone::Phone as Taker;
use rosy_camera::shot::{Photo, Shot, photograph};
use rosy_core::colour::Lab;
use rosy_core::ink::measured::BRIGHT_WHITE;
use rosy_eye::frame::{PLACES, Part};
use rosy_eye::phone::Phone;
use rosy_eye::picture::Picture;
use rosy_eye::swatch::{Before, Beside, Chart, Layout, read};

/// What is known beside the photo.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Sort {
    Chart(usize),
    Inks(usize),
    Nothing,
    Window,
}

struct Patch {
    off: f64,
    within: f64,
    part: Part,
}

#[derive(Default)]
struct Told {
    found: bool,
    read: Vec<Patch>,
    /// Of the readable: refused, and all.
    wrongly: (usize, usize),
    /// Of the unreadable: refused, and all.
    rightly: (usize, usize),
    kinds: (usize, usize),
    veils: Vec<f64>,
}

fn picture(photo: &Photo) -> Picture {
    let rgb = image::load_from_memory(&photo.jpeg).expect("a photo").to_rgb8();
    Picture::of(rgb.width() as usize, rgb.height() as usize, rgb.into_raw()).expect("its pixels")
}

/// A photo of swatches with what spoils some of them.
fn taken(sort: Sort, seed: u64) -> (Laid, Shot, Photo) {
    let mut chance = Chance::of(seed);
    let (chart, inks) = match sort {
        Sort::Chart(count) => (count, 8 + (chance.share() * 12.0) as usize),
        Sort::Inks(least) => (0, least + (chance.share() * 12.0) as usize),
        _ => (0, 8 + (chance.share() * 16.0) as usize),
    };
    let letters: Vec<String> =
        (0..PLACES).map(|n| if n < inks { format!("0{:03X}", n + 1) } else { "0000".into() }).collect();
    let made: Vec<MadeInk> = (0..inks).map(|_| MadeInk::any(&mut chance)).collect();
    let laid = lay(Hands { chart, touches: 0.02 }, &made, &letters, &mut chance);
    let mut shot = Shot::any([1_500, 2_000], &mut chance);
    if sort == Sort::Window {
        shot.light = Light::day(chance.between(6_000.0, 7_200.0));
        shot.fall.0 *= 0.6;
    }
    if chance.falls(0.2) {
        shot.glare.push((
            [chance.between(10.0, 176.0), chance.between(30.0, 210.0)],
            chance.between(8.0, 22.0),
            chance.between(0.2, 0.8),
        ));
    }
    if chance.falls(0.25) {
        let angle = chance.between(0.0, std::f64::consts::TAU);
        let at = [chance.between(30.0, 150.0), chance.between(40.0, 200.0)];
        shot.shadow =
            Some((at, [angle.cos(), angle.sin()], chance.between(2.0, 10.0), chance.between(0.1, 0.35)));
    }
    let taker = Taker::any(&mut chance);
    let photo = photograph(&laid.scene, &taker, &shot, &mut chance);
    (laid, shot, photo)
}

/// Whether something lies on a patch that no reading can take out; nothing where it may or may not.
fn is_spoilt(laid: &Laid, shot: &Shot, place: usize, part: Part) -> Option<bool> {
    if let Some((.., by)) = laid.touched.iter().find(|touched| (touched.0, touched.1) == (place, part)) {
        return (*by > 2.0).then_some(true);
    }
    let area = rosy_eye::swatch::inked(place, part);
    let at = |n: usize| {
        let share = [n % 5, n / 5].map(|k| k as f64 / 4.0);
        [0, 1].map(|axis| area.from[axis] + share[axis] * (area.to[axis] - area.from[axis]))
    };
    let shines = (0..25).map(|n| shot.shines(at(n)[0], at(n)[1])).sum::<f64>() / 25.0;
    let falls: Vec<f64> = (0..25).map(|n| shot.falls(&laid.scene, at(n)[0], at(n)[1])).collect();
    let step = falls.iter().copied().fold(0.0, f64::max) / falls.iter().copied().fold(9.0, f64::min) - 1.0;
    if shines > 0.06 || step > 0.2 {
        Some(true)
    } else if shines > 0.012 || step > 0.07 {
        None
    } else {
        Some(false)
    }
}

/// What is known beside a photo of a sort; what the drawer has is off by about 5 (ΔE00), as what is typed in is.
fn known(sort: Sort, seed: u64, laid: &Laid, photo: &Photo) -> Beside<'static> {
    let mut chance = Chance::of(seed ^ 0x9e37);
    let mut off = |lab: Lab| {
        let chroma = 1.0 + 0.03 * lab.a.hypot(lab.b);
        Lab {
            l: lab.l + 3.1 * chance.normal(),
            a: lab.a + 3.1 * chroma * chance.normal(),
            b: lab.b + 3.1 * chroma * chance.normal(),
        }
    };
    let inks = laid.inks.iter().enumerate().map(|(place, ink)| {
        let mut at = |part| {
            if matches!(sort, Sort::Inks(_)) { truth(laid, place, part).map(&mut off) } else { None }
        };
        ink.as_ref().map(|ink| Before { kind: Some(ink.kind), full: at(Part::Full), one: at(Part::One) })
    });
    let inks = inks.collect();
    let chart = laid.chart.as_ref().map(|(corners, columns, colours)| Chart {
        corners: std::array::from_fn(|n| photo.pixel(corners[n][0], corners[n][1])),
        columns: *columns,
        colours: colours.clone(),
    });
    Beside { card: BRIGHT_WHITE, phone: Phone::usual(), inks, chart, by_letters: &|_| None, over: Vec::new() }
}

fn truth(laid: &Laid, place: usize, part: Part) -> Option<Lab> {
    laid.truth.iter().find(|truth| (truth.0, truth.1) == (place, part)).map(|truth| truth.2)
}

fn tried(sort: Sort, seed: u64) -> Told {
    let (laid, shot, photo) = taken(sort, seed);
    let mut told = Told::default();
    let Ok(seen) = read(&picture(&photo), &Layout::Frame, &known(sort, seed, &laid, &photo)) else {
        return told;
    };
    told.found = true;
    for strip in &seen.strips {
        let place = strip.place - 1;
        let Some(ink) = &laid.inks[place] else { continue };
        if let Some(kind) = strip.kind {
            told.kinds = (told.kinds.0 + usize::from(kind == ink.kind), told.kinds.1 + 1);
        }
        told.veils.extend(strip.ink.map(|read| (f64::from(read.full_veils) / ink.veils - 1.0).abs()));
        for patch in &strip.patches {
            let refused = usize::from(patch.refused.is_some());
            match is_spoilt(&laid, &shot, place, patch.part) {
                Some(true) => told.rightly = (told.rightly.0 + refused, told.rightly.1 + 1),
                Some(false) => {
                    told.wrongly = (told.wrongly.0 + refused, told.wrongly.1 + 1);
                    let read = patch.lab.zip(patch.within).zip(truth(&laid, place, patch.part));
                    told.read.extend(read.map(|((lab, within), truth)| Patch {
                        off: lab.difference(truth),
                        within,
                        part: patch.part,
                    }));
                }
                None => {}
            }
        }
    }
    told
}

fn at(sorted: &[f64], share: f64) -> f64 {
    sorted[((sorted.len() - 1) as f64 * share).round() as usize]
}

fn sorted(values: impl Iterator<Item = f64>) -> Vec<f64> {
    let mut values: Vec<f64> = values.collect();
    values.sort_by(f64::total_cmp);
    values
}

/// How often what is said of a spread covers the truth.
fn covered<'a>(patches: impl Iterator<Item = &'a Patch>) -> f64 {
    let covers: Vec<bool> = patches.map(|patch| patch.off <= patch.within).collect();
    100.0 * covers.iter().filter(|covers| **covers).count() as f64 / covers.len().max(1) as f64
}

fn report(sort: Sort, told: &[Told]) {
    let found = told.iter().filter(|told| told.found).count();
    let patches = || told.iter().flat_map(|told| &told.read);
    let of = |parts: &'static [Part]| {
        sorted(patches().filter(|patch| parts.contains(&patch.part)).map(|patch| patch.off))
    };
    let offs = of(&[Part::One, Part::Full]);
    if offs.is_empty() {
        return println!("{sort:?}: nothing was read of {} photos", told.len());
    }
    let mean = |offs: &[f64]| offs.iter().sum::<f64>() / offs.len().max(1) as f64;
    let each = sorted(told.iter().filter(|told| !told.read.is_empty()).map(|told| covered(told.read.iter())));
    let sum = |of: fn(&Told) -> (usize, usize)| {
        let (some, all) = told.iter().map(of).fold((0, 0), |a, b| (a.0 + b.0, a.1 + b.1));
        format!("{:.1} % of {all}", 100.0 * some as f64 / all.max(1) as f64)
    };
    let veils = sorted(told.iter().flat_map(|told| told.veils.iter().copied()));
    println!(
        "{sort:?}: {found} of {} found. Off by (ΔE00) {:.2}, 95 in 100 within {:.2}; one light pass {:.2}, full {:.2}.",
        told.len(),
        mean(&offs),
        at(&offs, 0.95),
        mean(&of(&[Part::One])),
        mean(&of(&[Part::Full])),
    );
    println!(
        "    the spread covers {:.1} %, in the tenth-worst photo of a hundred {:.0} %; spoilt refused {}, sound refused {}; the kind told \
         {}; light passes off by {:.0} %, nine in ten within {:.0} %",
        covered(patches()),
        at(&each, 0.1),
        sum(|told| told.rightly),
        sum(|told| told.wrongly),
        sum(|told| told.kinds),
        100.0 * at(&veils, 0.5),
        100.0 * at(&veils, 0.9),
    );
}

fn main() {
    let count: u64 = std::env::var("PHOTOS").ok().and_then(|count| count.parse().ok()).unwrap_or(40);
    for sort in [Sort::Chart(24), Sort::Chart(12), Sort::Inks(12), Sort::Nothing, Sort::Window] {
        report(sort, &(0..count).into_par_iter().map(|seed| tried(sort, 1_000 + seed)).collect::<Vec<_>>());
    }
}
