//! How well is a panel held against its plan: are its corners found, what went wrong named, and nothing that did not?
//!
//! Run with `./rosy bench`; `PHOTOS=500` sets how many photos of each sort, and in a folder named by `KEPT` photos are kept from one
//! run to the next: taking them is most of the work, and the same eye is tried on the same ones. With `TELL` what was missed or is untrue
//! is told, panel by panel.

use std::collections::BTreeMap;
use std::path::Path;
use std::time::Instant;

use rayon::prelude::*;
use rosy_camera::chance::Chance;
use rosy_camera::light::Light;
use rosy_camera::panel::{Fault, Hands, Kind, LaidPanel, lay};
use rosy_camera::phone::Phone as Taker;
use rosy_camera::plan::{self, Wanted};
use rosy_camera::scene::Scene;
use rosy_camera::shot::{Photo, Shot, photograph};
use rosy_core::Panel;
use rosy_core::colour::{Illuminant, Spectrum};
use rosy_core::drill::Drill;
use rosy_core::ink::measured::BRIGHT_WHITE;
use rosy_core::learn::hand::{Share, hands_of};
use rosy_core::length::Units;
use rosy_eye::ask::DrillAsked;
use rosy_eye::held::flaw::FlawKind;
use rosy_eye::held::hold::{Held, HeldError, hold};
use rosy_eye::patch::Patch;
use rosy_eye::phone::{Known, Phone};
use rosy_eye::picture::Picture;

/// What is looked at in one run of photos.
#[derive(Clone, Debug)]
struct Sort {
    name: &'static str,
    faults: &'static [Kind],
    wanted: Wanted,
    strength: f64,
}

struct Tried {
    panel: Panel,
    laid: LaidPanel,
    photo: Photo,
    held: Result<Held, HeldError>,
    took: f64,
    pixels_a_mm: f64,
}

fn picture(photo: &Photo) -> Picture {
    let rgb = image::load_from_memory(&photo.jpeg).expect("a photo").to_rgb8();
    Picture::of(rgb.width() as usize, rgb.height() as usize, rgb.into_raw()).expect("its pixels")
}

/// A phone as it is known after a chart of 24 patches by a window.
fn known(taker: &Taker, chance: &mut Chance) -> Phone {
    let light = Light::day(chance.between(5_000.0, 6_500.0));
    let developing = taker.set_for(&light, [0.02 * chance.normal(), 0.02 * chance.normal()], 0.8);
    let card = Spectrum::of(BRIGHT_WHITE, Illuminant::D65);
    let seen = |surface: &Spectrum| developing.pixel(taker.raw(surface, &light)).map(|c| c.clamp(0.0, 1.0));
    let white = seen(&card);
    let patches: Vec<Known> = (0..24)
        .map(|n| {
            let surface = if n % 4 == 3 {
                Spectrum::flat([0.9, 0.55, 0.3, 0.16, 0.08, 0.03][n / 4])
            } else {
                let (middle, wide) = (chance.between(420.0, 680.0), chance.between(30.0, 90.0));
                let (low, high, dips) =
                    (chance.between(0.04, 0.25), chance.between(0.4, 0.85), chance.falls(0.5));
                Spectrum(std::array::from_fn(|band| {
                    let bell = (-0.5 * ((380.0 + 10.0 * band as f64 - middle) / wide).powi(2)).exp();
                    low + (high - low) * if dips { 1.0 - bell } else { bell }
                }))
            };
            let patch = Patch { rgb: seen(&surface), card: white, uneven: 0.01 };
            Known { patch, lab: surface.lab(Illuminant::D65), sure: 0.5 }
        })
        .collect();
    Phone::usual().learned(&patches, BRIGHT_WHITE).0
}

/// A photo of a scene: the one that is kept, if there is one.
fn taken(named: &str, scene: &Scene, taker: &Taker, shot: &Shot, chance: &mut Chance) -> Photo {
    let kept = std::env::var_os("KEPT").map(|folder| Path::new(&folder).join(format!("{named}.jpg")));
    if let Some(jpeg) = kept.as_ref().and_then(|file| std::fs::read(file).ok()) {
        return Photo::taken_before(jpeg, scene, shot);
    }
    let photo = photograph(scene, taker, shot, chance);
    if let Some(file) = kept {
        std::fs::write(file, &photo.jpeg).expect("a folder to keep photos in");
    }
    photo
}

fn tried(sort: &Sort, seed: u64, phone_known: bool) -> Tried {
    let mut chance = Chance::of(seed);
    let named = format!("{}-{seed}", sort.name);
    let panel = Panel { name: named.parse().expect("a name"), ..plan::any(sort.wanted, &mut chance) };
    let hands = Hands { strength: sort.strength, faults: sort.faults.to_vec(), desk: None };
    let laid = lay(&panel, panel.moves.len(), &hands, &mut chance.part());
    let taker = Taker::any(&mut chance);
    let phone = known(&taker, &mut chance.part());
    let shot = Shot::any([1500, 2000], &mut chance);
    let photo = taken(&named, &laid.scene, &taker, &shot, &mut chance.part());
    let picture = picture(&photo);
    let begun = Instant::now();
    let held = hold(&picture, &panel, panel.moves.len(), None, phone_known.then_some(&phone));
    let took = begun.elapsed().as_secs_f64();
    let (a, b) = (photo.pixel(0.0, 0.0), photo.pixel(laid.size[0], 0.0));
    let pixels_a_mm = (a[0] - b[0]).hypot(a[1] - b[1]) / laid.size[0];
    Tried { panel, laid, photo, held, took, pixels_a_mm }
}

/// How far the worst corner is off, in millimetres.
fn corners_off(tried: &Tried) -> Option<f64> {
    let held = tried.held.as_ref().ok()?;
    let [w, h] = tried.laid.size;
    let truth = [[0.0, 0.0], [w, 0.0], [0.0, h], [w, h]];
    let off = |n: usize| {
        let seen = tried.photo.pixel(truth[n][0], truth[n][1]);
        (seen[0] - held.corners[n][0]).hypot(seen[1] - held.corners[n][1]) / tried.pixels_a_mm
    };
    Some((0..4).map(off).fold(0.0, f64::max))
}

/// The kinds of flaw that a fault is rightly told as.
fn told_as(kind: Kind) -> &'static [FlawKind] {
    match kind {
        Kind::Strong => &[FlawKind::Strong],
        Kind::Line => &[FlawKind::Line],
        Kind::Band => &[FlawKind::Band],
        Kind::Touch => &[FlawKind::Touch],
        Kind::Finger => &[FlawKind::Lifted],
        Kind::Flecks => &[FlawKind::Fleck],
        Kind::Halo => &[FlawKind::Halo],
        Kind::Bleed => &[FlawKind::Bleed],
        Kind::Slip => &[FlawKind::Slipped],
        Kind::Uneven => &[FlawKind::Uneven],
        Kind::Askew => &[FlawKind::Askew],
        Kind::OffPlace => &[FlawKind::OffPlace],
        Kind::Mud => &[FlawKind::Muddy],
        Kind::Dull => &[FlawKind::Dulled],
        Kind::Faint => &[FlawKind::Faint],
    }
}

/// Whether a flaw is where a fault is.
fn is_there(fault: &Fault, flaw: &rosy_eye::held::flaw::Flaw) -> bool {
    let local = matches!(
        fault.kind,
        Kind::Line | Kind::Touch | Kind::Finger | Kind::Flecks | Kind::Bleed | Kind::Mud
    );
    let within =
        |axis: usize| (flaw.around[0][axis] - 5.0..=flaw.around[1][axis] + 5.0).contains(&fault.at[axis]);
    told_as(fault.kind).contains(&flaw.kind)
        && (!local || (within(0) && within(1)))
        && (fault.kind != Kind::Strong || flaw.ink == fault.ink)
}

fn main() {
    let photos: u64 = std::env::var("PHOTOS").ok().and_then(|count| count.parse().ok()).unwrap_or(24);
    let only = std::env::var("SORT").ok();
    let plain = Wanted { border: true, thing: None };
    let inked = Wanted { border: true, thing: Some(true) };
    let white = Wanted { border: true, thing: Some(false) };
    let sort = |name, faults, wanted| Sort { name, faults, wanted, strength: 1.0 };
    let sorts = [
        sort("nothing wrong", &[] as &[Kind], white),
        sort("nothing wrong, a shape inked", &[], inked),
        sort("nothing wrong, no border", &[], Wanted { border: false, thing: Some(false) }),
        sort("a line", &[Kind::Line], plain),
        sort("a band", &[Kind::Band], plain),
        sort("a first touch", &[Kind::Touch], white),
        sort("a finger", &[Kind::Finger], plain),
        sort("flecks", &[Kind::Flecks], plain),
        sort("a halo", &[Kind::Halo], inked),
        sort("ink under a mask", &[Kind::Bleed], white),
        sort("a slip", &[Kind::Slip], white),
        sort("uneven", &[Kind::Uneven], plain),
        sort("askew", &[Kind::Askew], plain),
        sort("a plug off its place", &[Kind::OffPlace], inked),
        sort("mud", &[Kind::Mud], plain),
        sort("a dull shape", &[Kind::Dull], white),
        sort("a faint shape", &[Kind::Faint], inked),
        sort("one ink strong", &[Kind::Strong], plain),
        Sort { strength: 1.25, ..sort("a strong hand", &[], plain) },
        sort("line and halo", &[Kind::Line, Kind::Halo], inked),
    ];
    let mut wrong: BTreeMap<String, usize> = BTreeMap::new();
    let (mut corners, mut sought, mut times) = (Vec::new(), 0, Vec::new());
    for (nth, sort) in
        sorts.iter().enumerate().filter(|(_, sort)| only.as_ref().is_none_or(|only| sort.name == only))
    {
        let tried: Vec<Tried> =
            (0..photos).into_par_iter().map(|n| tried(sort, 7_000 * (nth as u64 + 1) + n, true)).collect();
        let (mut found, mut true_faults, mut hit, mut false_photos, mut false_all) = (0, 0, 0, 0, 0);
        let mut strengths = Vec::new();
        let mut read = Vec::new();
        let mut widths = Vec::new();
        let mut why: BTreeMap<String, usize> = BTreeMap::new();
        for tried in &tried {
            sought += 1;
            times.push(tried.took);
            if let Some(off) = corners_off(tried) {
                corners.push(off);
            }
            let held = match &tried.held {
                Ok(held) => held,
                Err(error) => {
                    *why.entry(error.to_string().chars().take(60).collect()).or_default() += 1;
                    continue;
                }
            };
            found += 1;
            for fault in &tried.laid.faults {
                true_faults += 1;
                let flaw = held.flaws.iter().find(|flaw| is_there(fault, flaw));
                hit += usize::from(flaw.is_some());
                if let (Kind::Halo, Some(flaw)) = (fault.kind, flaw) {
                    widths.push(flaw.size - fault.size);
                }
            }
            if std::env::var_os("TELL").is_some() {
                tell(tried, held);
            }
            let untrue: Vec<_> = held
                .flaws
                .iter()
                .filter(|flaw| !tried.laid.faults.iter().any(|fault| is_there(fault, flaw)))
                .collect();
            false_all += untrue.len();
            false_photos += usize::from(!untrue.is_empty());
            for flaw in untrue {
                *wrong.entry(format!("{:?}", flaw.kind)).or_default() += 1;
                *why.entry(format!("untrue {:?}", flaw.kind)).or_default() += 1;
            }
            for strength in &held.strengths {
                let truth = tried.laid.strengths[strength.ink];
                strengths.push(((strength.came / truth).ln(), strength.within.ln()));
            }
            for zone in &held.zones {
                let truth = tried.laid.passes(zone.at[0], zone.at[1]);
                for lies in &zone.inks {
                    if tried.panel.inks[lies.ink].kind == rosy_core::ink::Kind::Dye && truth[lies.ink] <= 7.0
                    {
                        read.push(((lies.lie - truth[lies.ink]).abs(), lies.within));
                    }
                }
            }
        }
        println!(
            "{:30} seen {found}/{}  faults told {hit}/{true_faults}  untrue in {false_photos} ({false_all})  {why:?}",
            sort.name,
            tried.len(),
        );
        if !widths.is_empty() {
            let within = widths.iter().filter(|off| off.abs() <= 0.2).count();
            println!(
                "{:30} halo's width within 0.2 mm: {within}/{}, off by {:.2} on the average",
                "",
                widths.len(),
                widths.iter().sum::<f64>() / widths.len() as f64
            );
        }
        if !strengths.is_empty() {
            let mut offs: Vec<f64> = strengths.iter().map(|(off, _)| off.abs()).collect();
            offs.sort_by(f64::total_cmp);
            let covered = strengths.iter().filter(|(off, within)| off.abs() <= *within).count();
            println!(
                "{:30} strengths off by {:.3} (half), {:.3} (nine in ten); spread covers {:.2}; passes within one {:.2} of {}, spread covers {:.2}",
                "",
                offs[offs.len() / 2],
                offs[offs.len() * 9 / 10],
                covered as f64 / strengths.len() as f64,
                read.iter().filter(|(off, _)| *off <= 1.0).count() as f64 / read.len().max(1) as f64,
                read.len(),
                read.iter().filter(|(off, within)| off <= within).count() as f64 / read.len().max(1) as f64,
            );
        }
    }
    corners.sort_by(f64::total_cmp);
    times.sort_by(f64::total_cmp);
    if !corners.is_empty() {
        let near = corners.iter().filter(|off| **off <= 0.5).count();
        println!(
            "corners within 0.5 mm: {near} of {} found, {sought} sought; half {:.2}, nine in ten {:.2}, worst {:.2} mm",
            corners.len(),
            corners[corners.len() / 2],
            corners[corners.len() * 9 / 10],
            corners[corners.len() - 1]
        );
        println!("held in {:.2} s (half), {:.2} s (most)", times[times.len() / 2], times[times.len() - 1]);
    }
    println!("untrue: {wrong:?}");
    if only.as_ref().is_none_or(|only| only == "hands") {
        hands(photos.div_ceil(4));
    }
    if only.as_ref().is_none_or(|only| only == "strips") {
        strips(photos);
    }
}

/// What went wrong on a panel and was not told, and what was told and did not; each ink that did not come as it was told.
fn tell(tried: &Tried, held: &Held) {
    let name = &tried.panel.name;
    for fault in &tried.laid.faults {
        if !held.flaws.iter().any(|flaw| is_there(fault, flaw)) {
            eprintln!("{name}: not told: {fault:?}");
        }
    }
    for flaw in held.flaws.iter().filter(|flaw| !tried.laid.faults.iter().any(|fault| is_there(fault, flaw)))
    {
        eprintln!("{name}: untrue: {flaw:?}");
    }
    for one in &held.strengths {
        let truth = tried.laid.strengths[one.ink];
        if (one.came / truth).ln().abs() > one.within.ln() {
            let lab = tried.panel.inks[one.ink].lab();
            eprintln!(
                "{name}: ink {} came {:.2} of {truth:.2}, within {:.2}, {lab:?}",
                one.ink, one.came, one.within
            );
        }
    }
}

/// Makers who lay a quarter too much, each known by eight panels.
fn hands(makers: u64) {
    const STRENGTH: f64 = 1.25;
    let maker = |nth: u64| -> Option<(f64, bool)> {
        let mut chance = Chance::of(900_000 + nth);
        let taker = Taker::any(&mut chance);
        let phone = known(&taker, &mut chance.part());
        let showing = |n: u64| {
            let mut chance = Chance::of(910_000 + 100 * nth + n);
            let panel = plan::any(Wanted { border: true, thing: None }, &mut chance);
            let own = Panel { name: format!("Panel {n}").parse().expect("a name"), ..panel };
            let hands = Hands { strength: STRENGTH, faults: Vec::new(), desk: None };
            let laid = lay(&own, own.moves.len(), &hands, &mut chance.part());
            let shot = Shot::any([1500, 2000], &mut chance);
            let photo = photograph(&laid.scene, &taker, &shot, &mut chance.part());
            hold(&picture(&photo), &own, own.moves.len(), None, Some(&phone)).ok()?.showing(&own)
        };
        let showings: Vec<_> = (0..8).into_par_iter().filter_map(showing).collect();
        let found = hands_of(&showings).into_iter().next()?;
        let Share { share, least, most } = found.strength?;
        let evenness = found.unevenness.map_or(f64::NAN, |share| share.share);
        eprintln!("maker {nth}: {share:.3} in {least:.2} to {most:.2}, evenness {evenness:.2}");
        Some(((share / STRENGTH).ln(), (least..=most).contains(&STRENGTH)))
    };
    let told: Vec<(f64, bool)> = (0..makers).filter_map(maker).collect();
    let within = |by: f64| told.iter().filter(|(off, _)| off.abs() < by.ln_1p()).count();
    println!(
        "hands: of {makers} makers {} told, {} within 5 %, {} within 10 %, {} covered",
        told.len(),
        within(0.05),
        within(0.1),
        told.iter().filter(|(_, is_covered)| *is_covered).count()
    );
}

/// Strips laid well, and with what can go wrong on them.
fn strips(each: u64) {
    use Drill::{Edge, Fade, Glow, Join, Ladder, Register};
    let tries: [(Drill, &[Kind]); 13] = [
        (Join, &[]),
        (Join, &[Kind::Line]),
        (Join, &[Kind::Band]),
        (Ladder, &[]),
        (Ladder, &[Kind::Uneven]),
        (Fade, &[]),
        (Fade, &[Kind::Line]),
        (Glow, &[]),
        (Glow, &[Kind::Askew]),
        (Edge, &[]),
        (Edge, &[Kind::Bleed]),
        (Register, &[]),
        (Register, &[Kind::OffPlace]),
    ];
    for (drill, faults) in tries {
        for phone_known in [true, false] {
            let score = |n: u64| {
                let mut chance = Chance::of(950_000 + 1_000 * drill as u64 + n);
                let strip = plan::strip_of(drill, &mut chance);
                let hands = Hands { strength: 1.0, faults: faults.to_vec(), desk: None };
                let laid = lay(&strip, strip.moves.len(), &hands, &mut chance.part());
                let taker = Taker::any(&mut chance);
                let phone = known(&taker, &mut chance.part());
                let shot = Shot::any([1500, 2000], &mut chance);
                let photo = photograph(&laid.scene, &taker, &shot, &mut chance.part());
                let phone = phone_known.then_some(phone);
                let asked = DrillAsked {
                    picture: String::new(),
                    strip,
                    corners: None,
                    phone,
                    units: Units::Millimetres,
                };
                let seen = asked.answer(picture(&photo)).ok()?;
                Some((seen.score, seen.figures[0].of.clone()))
            };
            let told: Vec<(u8, String)> = (0..each).into_par_iter().filter_map(score).collect();
            let scores: Vec<u8> = told.iter().map(|(score, _)| *score).collect();
            let weakest: std::collections::BTreeSet<&str> = told.iter().map(|(_, of)| of.as_str()).collect();
            println!(
                "strip {drill:?} {faults:?} phone known {phone_known}: {scores:?} of {each}, weakest {weakest:?}"
            );
        }
    }
}
