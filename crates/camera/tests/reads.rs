//! What the eye reads of photos that a simulated phone took, held against what was laid.

use rosy_camera::chance::Chance;
use rosy_camera::hand::{Hands, Laid, MadeInk, lay};
use rosy_camera::light::Light;
use rosy_camera::phone::Phone as Taker;
use rosy_camera::shot::{Photo, Shot, photograph};
use rosy_core::colour::Lab;
use rosy_core::ink::measured::BRIGHT_WHITE;
use rosy_eye::field::BadLight;
use rosy_eye::find::NoFrame;
use rosy_eye::frame::{PLACES, Part, SIZE};
use rosy_eye::patch::Refused;
use rosy_eye::phone::Phone;
use rosy_eye::picture::Picture;
use rosy_eye::swatch::{Before, Beside, Chart, Layout, Shown, SwatchError, SwatchesSeen, read};

const SIZE_OF_PHOTO: [usize; 2] = [1_350, 1_800];

fn letters(count: usize) -> Vec<String> {
    (0..PLACES).map(|n| if n < count { format!("0{:03X}", n + 1) } else { "0000".into() }).collect()
}

/// Twelve inks laid by a sure hand, or with a chart.
fn laid(seed: u64, hands: Hands) -> (Laid, Chance) {
    let mut chance = Chance::of(seed);
    let inks: Vec<MadeInk> = (0..12).map(|_| MadeInk::any(&mut chance)).collect();
    (lay(hands, &inks, &letters(12), &mut chance), chance)
}

const SURE: Hands = Hands { chart: 0, touches: 0.0 };

fn shot(chance: &mut Chance) -> Shot {
    let shot = Shot::any(SIZE_OF_PHOTO, chance);
    Shot { light: Light::day(6_300.0), fall: (0.2, [0.6, 0.8]), lean: [12.0, -8.0, 4.0], ..shot }
}

fn take(laid: &Laid, shot: &Shot, chance: &mut Chance) -> (Picture, Photo) {
    let taker = Taker::any(chance);
    let photo = photograph(&laid.scene, &taker, shot, chance);
    (picture_of(&photo), photo)
}

fn picture_of(photo: &Photo) -> Picture {
    let rgb = image::load_from_memory(&photo.jpeg).unwrap().to_rgb8();
    Picture::of(rgb.width() as usize, rgb.height() as usize, rgb.into_raw()).unwrap()
}

fn beside(laid: &Laid) -> Beside<'static> {
    let kinds = laid
        .inks
        .iter()
        .map(|ink| ink.as_ref().map(|ink| Before { kind: Some(ink.kind), ..Before::default() }));
    Beside {
        card: BRIGHT_WHITE,
        phone: Phone::usual(),
        inks: kinds.collect(),
        chart: None,
        by_letters: &|_| None,
        over: Vec::new(),
    }
}

fn truth(laid: &Laid, place: usize, part: Part) -> Lab {
    laid.truth.iter().find(|truth| (truth.0, truth.1) == (place, part)).unwrap().2
}

/// How far off each patch is that was read, and how far off it may be.
fn offs(laid: &Laid, seen: &SwatchesSeen) -> Vec<(f64, f64)> {
    let patches =
        seen.strips.iter().flat_map(|strip| strip.patches.iter().map(move |patch| (strip.place - 1, patch)));
    patches
        .filter_map(|(place, patch)| {
            Some((patch.lab?.difference(truth(laid, place, patch.part)), patch.within?))
        })
        .collect()
}

fn mean(offs: &[(f64, f64)]) -> f64 {
    offs.iter().map(|(off, _)| off).sum::<f64>() / offs.len() as f64
}

#[test]
fn a_frame_that_leans_is_found_to_half_a_millimetre() {
    for seed in 0..3 {
        let (laid, mut chance) = laid(seed, SURE);
        let turned = 90.0 * seed as f64 + 5.0;
        let size = if seed == 1 { [2_400, 1_800] } else { [1_800, 2_400] };
        let shot = Shot { size, lean: [14.0, -10.0, turned], bend: 0.02, ..shot(&mut chance) };
        let (picture, photo) = take(&laid, &shot, &mut chance);
        let seen = read(&picture, &Layout::Frame, &beside(&laid)).unwrap();
        let corners = [[0.0, 0.0], [SIZE[0], 0.0], [0.0, SIZE[1]], SIZE];
        for (found, [x, y]) in seen.corners.unwrap().into_iter().zip(corners) {
            let ([a, b], [c, d]) = (photo.pixel(x, y), photo.pixel(x + 1.0, y));
            let off = (found[0] - a).hypot(found[1] - b) / (c - a).hypot(d - b);
            assert!(off < 0.5, "{off:.2} mm off in photo {seed}");
        }
        assert_eq!(seen.strips.len(), 12);
        // Where its corners are shown, its marks are read all the same.
        let shown = corners.map(|[x, y]| photo.pixel(x + 0.7, y - 0.5));
        let again = read(&picture, &Layout::FrameAt(shown), &beside(&laid)).unwrap();
        assert_eq!(again.strips[6].letters.as_deref(), Some("0007"));
        assert_eq!(seen.strips[6].letters.as_deref(), Some("0007"));
    }
}

#[test]
fn inks_are_read_and_a_chart_brings_them_nearer() {
    let (mut with, mut without, mut kinds) = (Vec::new(), Vec::new(), (0, 0));
    for seed in 10..13 {
        let (laid, mut chance) = laid(seed, Hands { chart: 24, touches: 0.0 });
        let shot = shot(&mut chance);
        let (picture, photo) = take(&laid, &shot, &mut chance);
        let plain = beside(&laid);
        let blind = read(&picture, &Layout::Frame, &plain).unwrap();
        let (corners, columns, colours) = laid.chart.clone().unwrap();
        let corners = std::array::from_fn(|n| photo.pixel(corners[n][0], corners[n][1]));
        let chart = Some(Chart { corners, columns, colours });
        let seen = read(&picture, &Layout::Frame, &Beside { chart, ..plain }).unwrap();
        assert!(seen.phone_sure > blind.phone_sure + 0.2);
        assert_eq!(seen.chart.len(), 24);
        for strip in &seen.strips {
            let ink = laid.inks[strip.place - 1].as_ref().unwrap();
            kinds = (kinds.0 + usize::from(strip.kind == Some(ink.kind)), kinds.1 + 1);
            if let Some(read) = strip.ink {
                let veils = f64::from(read.full_veils);
                assert!((veils / ink.veils).ln().abs() < 0.6, "{veils} light passes of {}", ink.veils);
            }
        }
        with.extend(offs(&laid, &seen));
        without.extend(offs(&laid, &blind));
    }
    assert!(mean(&with) < 2.6, "with a chart {:.2}", mean(&with));
    assert!(mean(&without) < 4.5 && mean(&with) < mean(&without), "without {:.2}", mean(&without));
    let covered = with.iter().filter(|(off, within)| off <= within).count() as f64 / with.len() as f64;
    assert!(covered > 0.75, "{covered}");
    assert!(kinds.0 as f64 > 0.9 * kinds.1 as f64, "{kinds:?}");
}

#[test]
fn a_phone_that_is_known_is_known_in_the_next_photo() {
    let (laid, mut chance) = laid(30, Hands { chart: 24, touches: 0.0 });
    let taker = Taker::any(&mut chance);
    let (first, second) = (shot(&mut chance), Shot { light: Light::day(5_600.0), ..shot(&mut chance) });
    let photos = [first, second].map(|shot| photograph(&laid.scene, &taker, &shot, &mut chance));
    let (corners, columns, colours) = laid.chart.clone().unwrap();
    let corners = std::array::from_fn(|n| photos[0].pixel(corners[n][0], corners[n][1]));
    let with = Beside { chart: Some(Chart { corners, columns, colours }), ..beside(&laid) };
    let known = read(&picture_of(&photos[0]), &Layout::Frame, &with).unwrap().phone;
    let blind = read(&picture_of(&photos[1]), &Layout::Frame, &beside(&laid)).unwrap();
    let seen =
        read(&picture_of(&photos[1]), &Layout::Frame, &Beside { phone: known, ..beside(&laid) }).unwrap();
    let (seen, blind) = (offs(&laid, &seen), offs(&laid, &blind));
    assert!(mean(&seen) < mean(&blind) && mean(&seen) < 3.0, "{:.2}, {:.2} blind", mean(&seen), mean(&blind));
}

#[test]
fn what_shines_is_touched_or_shaded_is_refused_with_its_reason() {
    let (laid, mut chance) = laid(40, Hands { chart: 0, touches: 0.15 });
    let shot = Shot { glare: vec![([50.0, 100.0], 14.0, 0.7)], ..shot(&mut chance) };
    let seen = read(&take(&laid, &shot, &mut chance).0, &Layout::Frame, &beside(&laid)).unwrap();
    let refused = |place: usize, part: Part| {
        let strip = seen.strips.iter().find(|strip| strip.place == place + 1).unwrap();
        strip.patches.iter().find(|patch| patch.part == part).unwrap().refused
    };
    assert_eq!(refused(4, Part::Four), Some(Refused::Glaring), "the lamp shines on the fifth place");
    let is_far = |place: usize| !(2..8).contains(&place);
    let touched = laid.touched.iter().filter(|(place, _, by)| is_far(*place) && *by > 2.0);
    let found: Vec<bool> =
        touched.map(|(place, part, _)| refused(*place, *part) == Some(Refused::Marked)).collect();
    assert!(
        found.len() >= 2 && found.iter().filter(|found| **found).count() * 10 >= found.len() * 7,
        "{found:?}"
    );
    let sound = laid.truth.iter().filter(|(place, part, _)| {
        is_far(*place) && laid.touched.iter().all(|touched| (touched.0, touched.1) != (*place, *part))
    });
    let wrongly = sound.filter(|(place, part, _)| refused(*place, *part).is_some()).count();
    assert!(wrongly <= 1, "{wrongly} sound patches refused");
}

#[test]
fn two_lights_are_refused_and_so_is_a_table_without_a_frame() {
    let (laid, mut chance) = laid(50, SURE);
    let shot = Shot { second: Some((Light::bulb(2_700.0), [1.0, 0.3], 0.8)), ..shot(&mut chance) };
    let (picture, _) = take(&laid, &shot, &mut chance);
    assert_eq!(
        read(&picture, &Layout::Frame, &beside(&laid)).unwrap_err(),
        SwatchError::Light(BadLight::Two)
    );
    let grey = Picture::of(900, 700, vec![120; 3 * 900 * 700]).unwrap();
    let none = SwatchError::Frame(NoFrame::Marks(0));
    assert_eq!(read(&grey, &Layout::Frame, &beside(&laid)).unwrap_err(), none);
    let noise = (0..3 * 640 * 480_u32).map(|n| (n.wrapping_mul(2_654_435_761) >> 24) as u8).collect();
    let noise = Picture::of(640, 480, noise).unwrap();
    assert_eq!(read(&noise, &Layout::Frame, &beside(&laid)).unwrap_err(), none);
    let nowhere = [[0.0, 0.0], [639.0, 0.0], [0.0, 479.0], [639.0, 479.0]];
    assert!(read(&noise, &Layout::FrameAt(nowhere), &beside(&laid)).is_err());
    assert!(read(&noise, &Layout::FrameAt([[5.0; 2]; 4]), &beside(&laid)).is_err());
}

/// The same inks without a frame: bare card and patches are shown by hand.
#[test]
fn swatches_anywhere_are_read_where_they_are_shown() {
    let (laid, mut chance) = laid(60, SURE);
    let shot = shot(&mut chance);
    let (picture, photo) = take(&laid, &shot, &mut chance);
    let middle = |place: usize, part: Part| {
        let [x, y] = rosy_eye::swatch::inked(place, part).middle();
        photo.pixel(x, y)
    };
    let bare = |place: usize| {
        let [x, y] = rosy_eye::frame::place(place);
        [5.0, 76.0].map(|along| photo.pixel(x + along, y + 5.0))
    };
    let card = (0..12).flat_map(bare).collect();
    let patches =
        (0..12).flat_map(|place| Part::INKED.map(|part| (place, part, middle(place, part)))).collect();
    let shown = Shown { card, patches, reach: 12.0 };
    let seen = read(&picture, &Layout::Shown(shown), &beside(&laid)).unwrap();
    let offs = offs(&laid, &seen);
    assert!(offs.len() > 40 && mean(&offs) < 4.5, "{} read, {:.2} off", offs.len(), mean(&offs));
}
