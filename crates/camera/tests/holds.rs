//! What the eye finds on photos of panels that a simulated hand laid and a simulated phone took, held against what went wrong.

use rosy_camera::chance::Chance;
use rosy_camera::light::Light;
use rosy_camera::panel::{Hands, Kind, LaidPanel, lay};
use rosy_camera::phone::Phone as Taker;
use rosy_camera::plan::{self, Wanted};
use rosy_camera::shot::{Photo, Shot, photograph};
use rosy_core::Panel;
use rosy_core::colour::{Illuminant, Lab, Spectrum};
use rosy_core::drill::Drill;
use rosy_core::ink::measured::BRIGHT_WHITE;
use rosy_core::learn::hand::hands_of;
use rosy_core::length::Units;
use rosy_core::practice::WELL;
use rosy_eye::ask::DrillAsked;
use rosy_eye::held::flaw::FlawKind;
use rosy_eye::held::hold::{Held, HeldError, hold};
use rosy_eye::held::seen::White;
use rosy_eye::outline::NoOutline;
use rosy_eye::patch::Patch;
use rosy_eye::phone::{Known, Phone};
use rosy_eye::picture::Picture;

const PLAIN: Wanted = Wanted { border: true, thing: None };
const INKED: Wanted = Wanted { border: true, thing: Some(true) };
const WHITE: Wanted = Wanted { border: true, thing: Some(false) };

/// A panel laid, and the photo of it.
struct Taken {
    panel: Panel,
    laid: LaidPanel,
    photo: Photo,
    taker: Taker,
    chance: Chance,
}

fn taken(seed: u64, wanted: Wanted, faults: &[Kind]) -> Taken {
    taken_on(seed, wanted, &Hands { strength: 1.0, faults: faults.to_vec(), desk: Some(DESK) })
}

const DESK: Lab = Lab { l: 42.0, a: 6.0, b: 14.0 };

fn taken_on(seed: u64, wanted: Wanted, hands: &Hands) -> Taken {
    let mut chance = Chance::of(seed);
    let panel = plan::any(wanted, &mut chance);
    taken_of(panel, hands, chance)
}

fn taken_of(panel: Panel, hands: &Hands, mut chance: Chance) -> Taken {
    let laid = lay(&panel, panel.moves.len(), hands, &mut chance.part());
    let taker = Taker::any(&mut chance);
    let shot = Shot::any([1_350, 1_800], &mut chance);
    let shot = Shot { light: Light::day(6_000.0), fall: (0.2, [0.6, 0.8]), lean: [9.0, -7.0, 4.0], ..shot };
    let photo = photograph(&laid.scene, &taker, &shot, &mut chance.part());
    Taken { panel, laid, photo, taker, chance }
}

fn picture(photo: &Photo) -> Picture {
    let rgb = image::load_from_memory(&photo.jpeg).unwrap().to_rgb8();
    Picture::of(rgb.width() as usize, rgb.height() as usize, rgb.into_raw()).unwrap()
}

/// A phone as two dozen surfaces of known colour by a window tell it.
fn known(taker: &Taker, chance: &mut Chance) -> Phone {
    let light = Light::day(5_600.0);
    let developing = taker.set_for(&light, [0.0, 0.0], 0.8);
    let seen = |surface: &Spectrum| developing.pixel(taker.raw(surface, &light)).map(|c| c.clamp(0.0, 1.0));
    let card = seen(&Spectrum::of(BRIGHT_WHITE, Illuminant::D65));
    let patches: Vec<Known> = (0..24)
        .map(|_| {
            let (middle, wide) = (chance.between(420.0, 680.0), chance.between(30.0, 90.0));
            let (low, high) = (chance.between(0.04, 0.25), chance.between(0.4, 0.85));
            let surface = Spectrum(std::array::from_fn(|band| {
                let bell = (-0.5 * ((380.0 + 10.0 * band as f64 - middle) / wide).powi(2)).exp();
                low + (high - low) * bell
            }));
            let patch = Patch { rgb: seen(&surface), card, uneven: 0.01 };
            Known { patch, lab: surface.lab(Illuminant::D65), sure: 0.5 }
        })
        .collect();
    Phone::usual().learned(&patches, BRIGHT_WHITE).0
}

impl Taken {
    fn held(&self, phone: Option<&Phone>) -> Result<Held, HeldError> {
        hold(&picture(&self.photo), &self.panel, self.panel.moves.len(), None, phone)
    }

    /// How far the worst corner is from where it is, in millimetres.
    fn corners_off(&self, held: &Held) -> f64 {
        let [w, h] = self.laid.size;
        let truth = [[0.0, 0.0], [w, 0.0], [0.0, h], [w, h]].map(|[x, y]| self.photo.pixel(x, y));
        let pixels_a_mm = (truth[0][0] - truth[1][0]).hypot(truth[0][1] - truth[1][1]) / w;
        let off = truth.iter().zip(&held.corners).map(|(a, b)| (a[0] - b[0]).hypot(a[1] - b[1]));
        off.fold(0.0, f64::max) / pixels_a_mm
    }
}

fn kinds(held: &Held) -> Vec<FlawKind> {
    held.flaws.iter().map(|flaw| flaw.kind).collect()
}

#[test]
fn a_panel_as_planned_is_found_and_nothing_is_told_of_it() {
    for (seed, wanted) in [(3, WHITE), (11, PLAIN), (12, INKED)] {
        let taken = taken(seed, wanted, &[]);
        let held = taken.held(None).unwrap();
        assert!(taken.corners_off(&held) < 0.5, "{}", taken.corners_off(&held));
        assert_eq!(kinds(&held), [], "{seed}");
        // A phone nothing is known of tells no amounts.
        assert!(
            held.white == White::Card
                && !held.phone_known
                && held.strengths.is_empty()
                && held.zones.is_empty()
        );
    }
}

#[test]
fn what_went_wrong_is_told_at_its_place() {
    let local = [
        (Kind::Line, FlawKind::Line, 21),
        (Kind::Touch, FlawKind::Touch, 22),
        (Kind::Finger, FlawKind::Lifted, 23),
        (Kind::Flecks, FlawKind::Fleck, 24),
        (Kind::Mud, FlawKind::Muddy, 25),
    ];
    for (fault, flaw, seed) in local {
        // The first panel from there on on which it can go wrong.
        let taken = (seed..seed + 20).map(|seed| taken(seed, PLAIN, &[fault]));
        let taken = taken.into_iter().find(|taken| !taken.laid.faults.is_empty()).expect("a panel");
        let [x, y] = taken.laid.faults[0].at;
        let held = taken.held(None).unwrap();
        let is_there = |found: &rosy_eye::held::flaw::Flaw| {
            found.kind == flaw
                && (found.around[0][0] - 4.0..found.around[1][0] + 4.0).contains(&x)
                && (found.around[0][1] - 4.0..found.around[1][1] + 4.0).contains(&y)
        };
        assert!(held.flaws.iter().any(is_there), "{fault}: {:?}", held.flaws);
    }
}

#[test]
fn along_the_edge_of_a_shape_widths_are_told() {
    for (fault, flaw, wanted, seed, within) in [
        (Kind::Halo, FlawKind::Halo, INKED, 31, 0.2),
        (Kind::Bleed, FlawKind::Bleed, WHITE, 32, 0.5),
        (Kind::Slip, FlawKind::Slipped, WHITE, 33, 0.3),
        (Kind::OffPlace, FlawKind::OffPlace, INKED, 35, 0.4),
        (Kind::Askew, FlawKind::Askew, PLAIN, 34, 0.3),
    ] {
        let taken = taken(seed, wanted, &[fault]);
        let held = taken.held(None).unwrap();
        let truth = taken.laid.faults[0].size;
        let told = held
            .flaws
            .iter()
            .find(|found| found.kind == flaw)
            .unwrap_or_else(|| panic!("{fault}: {:?}", held.flaws));
        assert!((told.size - truth).abs() < within, "{fault}: {} told, {truth} laid", told.size);
    }
}

#[test]
fn a_shape_that_is_dull_and_one_that_hardly_shows_are_told() {
    let is_told = |taken: &Taken, flaw: FlawKind| {
        let held = taken.held(None).unwrap();
        let found = held.flaws.iter().any(|found| found.kind == flaw && found.thing == Some(0));
        assert!(found, "{flaw:?}: {:?}", held.flaws);
    };
    is_told(&taken(36, WHITE, &[Kind::Dull]), FlawKind::Dulled);
    // A circle in another ink than its ground.
    let mut chance = Chance::of(37);
    let strip = plan::strip_of(Drill::Register, &mut chance);
    let hands = Hands { strength: 1.0, faults: vec![Kind::Faint], desk: Some(DESK) };
    is_told(&taken_of(strip, &hands, chance), FlawKind::Faint);
}

/// A maker lays a quarter too much on every panel, and shows each.
#[test]
fn a_strong_hand_is_known_after_some_panels() {
    let mut chance = Chance::of(71);
    let taker = Taker::any(&mut chance);
    let phone = known(&taker, &mut chance.part());
    let showing = |nth: u64| {
        let mut chance = Chance::of(72 + nth);
        let panel = plan::any(PLAIN, &mut chance);
        let panel = Panel { name: format!("Panel {nth}").parse().unwrap(), ..panel };
        let hands = Hands { strength: 1.25, faults: Vec::new(), desk: Some(DESK) };
        let laid = lay(&panel, panel.moves.len(), &hands, &mut chance.part());
        let shot = Shot { light: Light::day(6_000.0), ..Shot::any([1_350, 1_800], &mut chance) };
        let photo = photograph(&laid.scene, &taker, &shot, &mut chance.part());
        hold(&picture(&photo), &panel, panel.moves.len(), None, Some(&phone)).unwrap().showing(&panel)
    };
    let showings: Vec<_> = (0..5).filter_map(showing).collect();
    let hand = &hands_of(&showings)[0];
    let strength = hand.strength.unwrap();
    assert!((strength.share / 1.25).ln().abs() < 0.1, "{strength:?}");
    assert!(hand.differs && (strength.least..=strength.most).contains(&1.25), "{strength:?}");
    // The grain is the tool's own.
    assert!((0.75..1.35).contains(&hand.unevenness.unwrap().share), "{:?}", hand.unevenness);
}

#[test]
fn a_strip_is_scored_by_what_it_is_for() {
    let score = |drill: Drill, faults: &[Kind]| {
        let mut chance = Chance::of(81);
        let strip = plan::strip_of(drill, &mut chance);
        let hands = Hands { strength: 1.0, faults: faults.to_vec(), desk: Some(DESK) };
        let Taken { panel: strip, photo, .. } = taken_of(strip, &hands, chance);
        let (corners, phone) = (None, None);
        let asked = DrillAsked { picture: String::new(), strip, corners, phone, units: Units::Inches };
        asked.answer(picture(&photo)).unwrap()
    };
    for (drill, fault, weakest) in [
        (Drill::Fade, Kind::Line, "no line"),
        (Drill::Edge, Kind::Bleed, "a clean line"),
        (Drill::Register, Kind::OffPlace, "in its place"),
    ] {
        let (well, badly) = (score(drill, &[]), score(drill, &[fault]));
        assert!(well.score >= WELL, "{drill:?}: {:?}", well.figures);
        assert!(badly.score < 50 && badly.figures[0].of == weakest, "{drill:?}: {:?}", badly.figures);
    }
}

#[test]
fn a_strong_ink_is_named_where_the_phone_is_known_and_passes_are_read_back() {
    let (mut named, mut near, mut passes) = (0, 0, 0);
    for seed in 41..49 {
        let mut taken = taken(seed, PLAIN, &[Kind::Strong]);
        let phone = known(&taken.taker, &mut taken.chance.part());
        let held = taken.held(Some(&phone)).unwrap();
        assert!(held.phone_known);
        let strong = held.flaws.iter().filter(|flaw| flaw.kind == FlawKind::Strong);
        named += strong.filter(|flaw| flaw.ink == taken.laid.faults[0].ink).count();
        for zone in &held.zones {
            let truth = taken.laid.passes(zone.at[0], zone.at[1]);
            near += zone.inks.iter().filter(|lies| (lies.lie - truth[lies.ink]).abs() <= 1.0).count();
            passes += zone.inks.len();
        }
    }
    assert!(named >= 5, "{named} of 8 named");
    assert!(passes > 80 && near * 100 >= passes * 85, "{near} of {passes} within one");
}

#[test]
fn without_bare_card_only_joins_and_edges_are_judged() {
    let mut taken = taken(51, Wanted { border: false, thing: None }, &[Kind::Touch]);
    let phone = known(&taken.taker, &mut taken.chance.part());
    let held = taken.held(Some(&phone)).unwrap();
    assert!(held.white == White::Plan && held.strengths.is_empty() && held.off.is_none());
    assert!(kinds(&held).contains(&FlawKind::Touch), "{:?}", held.flaws);
}

#[test]
fn what_is_not_seen_is_asked_for() {
    // A white border on a white desk.
    let white = Lab { l: 95.5, a: 0.5, b: -1.5 };
    let taken = taken_on(61, PLAIN, &Hands { strength: 1.0, faults: Vec::new(), desk: Some(white) });
    match taken.held(None) {
        Err(HeldError::Outline(NoOutline::NotSeen | NoOutline::Side | NoOutline::Shape)) => {}
        Ok(held) => assert!(taken.corners_off(&held) < 0.5),
        Err(error) => panic!("{error}"),
    }
    // Shown by hand it is judged all the same.
    let [w, h] = taken.laid.size;
    let corners = [[0.0, 0.0], [w, 0.0], [0.0, h], [w, h]].map(|[x, y]| taken.photo.pixel(x, y));
    let shown =
        hold(&picture(&taken.photo), &taken.panel, taken.panel.moves.len(), Some(corners), None).unwrap();
    assert!(taken.corners_off(&shown) < 0.5);

    let one = self::taken(62, PLAIN, &[]);
    assert_eq!(hold(&picture(&one.photo), &one.panel, 0, None, None).err(), Some(HeldError::Bare));
    let grey = Picture::of(400, 300, vec![90; 3 * 400 * 300]).unwrap();
    let nothing = hold(&grey, &one.panel, one.panel.moves.len(), None, None).err();
    assert_eq!(nothing, Some(HeldError::Outline(NoOutline::NotSeen)));
}
