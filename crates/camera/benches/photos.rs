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

fn tried(sort: Sort, seed: u64) -> Told {
    let (laid, shot, photo) = taken(sort, seed);
    let mut chance = Chance::of(seed ^ 0x9e37);
    let mut off = |lab: Lab| {
        // About 5 ΔE00 off, as what is typed in is.
        let chroma = lab.a.hypot(lab.b);
        Lab {
            l: lab.l + 3.1 * chance.normal(),
            a: lab.a + 3.1 * (1.0 + 0.03 * chroma) * chance.normal(),
            b: lab.b + 3.1 * (1.0 + 0.03 * chroma) * chance.normal(),
        }
    };
    let truth =
        |place: usize, part: Part| laid.truth.iter().find(|t| (t.0, t.1) == (place, part)).map(|t| t.2);
    let inks = (0..PLACES)
        .map(|place| {
            let ink = laid.inks[place].as_ref()?;
            let known = matches!(sort, Sort::Inks(_));
            let mut at = |part| if known { truth(place, part).map(&mut off) } else { None };
            Some(Before { kind: Some(ink.kind), full: at(Part::Full), one: at(Part::One) })
        })
        .collect();
    let chart = laid.chart.as_ref().map(|(corners, columns, colours)| Chart {
        corners: std::array::from_fn(|n| photo.pixel(corners[n][0], corners[n][1])),
        columns: *columns,
        colours: colours.clone(),
    });
    if let Ok(folder) = std::env::var("KEEP") {
        std::fs::write(format!("{folder}/{sort:?}-{seed}.jpg"), &photo.jpeg).expect("kept");
    }
    let beside = Beside { card: BRIGHT_WHITE, phone: Phone::usual(), inks, chart, by_letters: &|_| None };
    let mut told = Told::default();
    let seen = match read(&picture(&photo), &Layout::Frame, &beside) {
        Ok(seen) => seen,
        Err(error) => {
            if std::env::var("SAY").is_ok() {
                eprintln!("{sort:?} {seed}: {error}");
            }
            return told;
        }
    };
    told.found = true;
    for strip in &seen.strips {
        let place = strip.place - 1;
        if let (Some(kind), Some(ink)) = (strip.kind, &laid.inks[place]) {
            told.kinds.1 += 1;
            told.kinds.0 += usize::from(kind == ink.kind);
        }
        if let (Some(read), Some(ink)) = (strip.ink, &laid.inks[place]) {
            told.veils.push((f64::from(read.full_veils) / ink.veils - 1.0).abs());
        }
        for patch in &strip.patches {
            let spoilt = is_spoilt(&laid, &shot, place, patch.part);
            let refused = usize::from(patch.refused.is_some());
            match spoilt {
                Some(true) => told.rightly = (told.rightly.0 + refused, told.rightly.1 + 1),
                Some(false) => told.wrongly = (told.wrongly.0 + refused, told.wrongly.1 + 1),
                None => {}
            }
            if std::env::var("SAY").is_ok() {
                if spoilt == Some(false) && refused == 1 {
                    eprintln!("{sort:?} {seed} wrongly {place} {:?} {:?}", patch.part, patch.refused);
                }
                if spoilt == Some(true) && refused == 0 {
                    eprintln!(
                        "{sort:?} {seed} missed {place} {:?} touched {:?} ",
                        patch.part,
                        laid.touched.iter().find(|t| (t.0, t.1) == (place, patch.part))
                    );
                }
            }
            if let (Some(lab), Some(within), Some(true_lab)) =
                (patch.lab, patch.within, truth(place, patch.part))
            {
                if spoilt == Some(false) {
                    if std::env::var("ROWS").is_ok() {
                        eprintln!(
                            "ROW {sort:?} {seed} {place} {:?} {:.1} {:.1} {:.1} {:.1} {:.1} {:.1} {within:.1} {:.2}",
                            patch.part,
                            true_lab.l,
                            true_lab.a,
                            true_lab.b,
                            lab.l,
                            lab.a,
                            lab.b,
                            lab.difference(true_lab)
                        );
                    }
                    told.read.push(Patch { off: lab.difference(true_lab), within, part: patch.part });
                }
            }
        }
    }
    told
}

fn at(sorted: &[f64], share: f64) -> f64 {
    sorted[((sorted.len() - 1) as f64 * share).round() as usize]
}

fn main() {
    let count: u64 = std::env::var("PHOTOS").ok().and_then(|n| n.parse().ok()).unwrap_or(60);
    let only = std::env::var("ONLY").unwrap_or_default();
    for sort in [Sort::Chart(24), Sort::Chart(12), Sort::Inks(12), Sort::Nothing, Sort::Window]
        .into_iter()
        .filter(|sort| format!("{sort:?}").contains(&only))
    {
        let told: Vec<Told> = (0..count).into_par_iter().map(|seed| tried(sort, 1_000 + seed)).collect();
        let found = told.iter().filter(|told| told.found).count();
        let wanted = |patch: &&Patch| matches!(patch.part, Part::One | Part::Full);
        let mut offs: Vec<f64> =
            told.iter().flat_map(|told| &told.read).filter(wanted).map(|patch| patch.off).collect();
        offs.sort_by(f64::total_cmp);
        if offs.is_empty() {
            println!("{sort:?}: nothing read");
            continue;
        }
        let covered = |patches: &[Patch]| {
            patches.iter().filter(|patch| patch.off <= patch.within).count() as f64
                / patches.len().max(1) as f64
        };
        let all: f64 = told.iter().map(|told| covered(&told.read) * told.read.len() as f64).sum::<f64>()
            / told.iter().map(|told| told.read.len()).sum::<usize>() as f64;
        let mut each: Vec<f64> =
            told.iter().filter(|told| !told.read.is_empty()).map(|told| covered(&told.read)).collect();
        each.sort_by(f64::total_cmp);
        let sum = |of: fn(&Told) -> (usize, usize)| {
            let (some, all) = told.iter().map(of).fold((0, 0), |a, b| (a.0 + b.0, a.1 + b.1));
            format!("{:.1} % of {all}", 100.0 * some as f64 / all.max(1) as f64)
        };
        let mut veils: Vec<f64> = told.iter().flat_map(|told| told.veils.clone()).collect();
        veils.sort_by(f64::total_cmp);
        let one = |part: Part| {
            let offs: Vec<f64> =
                told.iter().flat_map(|told| &told.read).filter(|p| p.part == part).map(|p| p.off).collect();
            offs.iter().sum::<f64>() / offs.len().max(1) as f64
        };
        println!(
            "{sort:?}: {found} of {count} found; ΔE00 mean {:.2}, 95 in 100 within {:.2} (one {:.2}, full {:.2}); spread covers {:.1} %, in the tenth-worst photo \
             {:.0} %; spoilt refused {}, sound refused {}; kinds {}; veils off {:.0} % median, {:.0} % at 90",
            offs.iter().sum::<f64>() / offs.len() as f64,
            at(&offs, 0.95),
            one(Part::One),
            one(Part::Full),
            100.0 * all,
            100.0 * at(&each, 0.1),
            sum(|told| told.rightly),
            sum(|told| told.wrongly),
            sum(|told| told.kinds),
            100.0 * at(&veils, 0.5),
            100.0 * at(&veils, 0.9),
        );
    }
}
