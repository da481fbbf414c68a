//! Scenes of things in front of one another, and the moves that make them.

use std::collections::HashMap;

use proptest::prelude::*;
use proptest::test_runner::RngSeed;
use rosy_core::blend::{Blend, Way};
use rosy_core::colour::{Colour, Illuminant};
use rosy_core::ink::{Finish, Ink, Kind, Paper, Powder, Tool, ToolKind};
use rosy_core::judgement::greeting::best_place;
use rosy_core::moves::{
    Breach, Move, Technique, dry::Dry, heat::Heat, look::Look, mask_off::MaskOff, mask_on::MaskOn, wipe::Wipe,
};
use rosy_core::order::check::check;
use rosy_core::order::cover::{Effort, Scenery, Scheme};
use rosy_core::order::hand::{ByHand, HandError, changed};
use rosy_core::order::ways::{trapped, ways};
use rosy_core::order::{Cost, RunSheet};
use rosy_core::picture::{Size, draw};
use rosy_core::place::{Corner, Point};
use rosy_core::scene::Covering;
use rosy_core::scene::{Between, Thing, Treatment};
use rosy_core::shape::family::Value;
use rosy_core::shape::kept::Figure;
use rosy_core::shape::{Cut, Drawn, Shape, Use, family};
use rosy_core::surface::masks::Plot;
use rosy_core::surface::{Mask, Part};
use rosy_core::{Length, Panel, Units};

use super::piled_masks::moon_before_a_hill;

pub(super) const STRAW: [f64; 3] = [84.0, 4.0, 66.0];
pub(super) const NIGHT: [f64; 3] = [26.0, 12.0, -38.0];
pub(super) const MIST: [f64; 3] = [91.0, -3.0, -6.0];
pub(super) const TAR: [f64; 3] = [18.0, 1.0, -3.0];

fn ink(lab: [f64; 3]) -> Ink {
    Ink {
        name: format!("Ink {:.0} {:.0} {:.0}", lab[0], lab[1], lab[2]).parse().unwrap(),
        kind: Kind::Dye,
        colour: Colour::Lab(lab.into()),
        one_veil: None,
        full_veils: 7,
        on_ink: None,
    }
}

fn bare() -> Panel {
    let paper = Paper::plain(Finish::VerySmooth);
    let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
    let (width, height) = (Length::from_64ths(272), Length::from_64ths(352));
    Panel::bare("Lamp on the groyne".parse().unwrap(), width, height, paper, tool, 1)
}

pub(super) fn shape(family: &str, letters: &str) -> Shape {
    let mut drawn = Drawn::usual(family::find(family).unwrap());
    if !letters.is_empty() {
        drawn.letters = letters.into();
    }
    let name = if letters.is_empty() { family } else { letters };
    Shape::new(name.parse().unwrap(), Figure::Drawn(drawn))
}

/// A straight-edged shape of so many sixty-fourths.
fn oblong(wide: i64, high: i64) -> Shape {
    let mut drawn = Drawn::usual(family::find("strip").unwrap());
    for (key, long) in [("wide", wide), ("high", high)] {
        drawn.measures.insert(key.into(), Value::Length(Length::from_64ths(long)));
    }
    Shape::new("oblong".parse().unwrap(), Figure::Drawn(drawn))
}

/// A shape with its middle so many sixty-fourths from the left and the top.
pub(super) fn thing(shape: Shape, left: i64, top: i64) -> Thing {
    let at = Point { left: Length::from_64ths(left), top: Length::from_64ths(top) };
    Thing::new(shape, at)
}

/// The panel with inks, the last of them on the ground all over, and things in the inks before it, or white.
pub(super) fn scene(things: Vec<(Thing, Option<[f64; 3]>)>, ground: Option<[f64; 3]>) -> Panel {
    let mut panel = bare();
    let place = |inks: &mut Vec<Ink>, lab: [f64; 3]| {
        let own = ink(lab);
        inks.iter().position(|known| *known == own).unwrap_or_else(|| {
            inks.push(own);
            inks.len() - 1
        })
    };
    if let Some(lab) = ground {
        let at = place(&mut panel.inks, lab);
        let spread = Blend::spread(&[(at, &ink(lab))], Way::DOWN, panel.height, Units::Inches);
        panel.scene.ground = vec![spread];
    }
    for (mut thing, lab) in things {
        if let Some(lab) = lab {
            let at = place(&mut panel.inks, lab);
            let size = thing.extent(&thing.shape.outline().unwrap()).size;
            let spread = Blend::spread(&[(at, &ink(lab))], Way::DOWN, Way::DOWN.span(size), Units::Inches);
            thing.gets = Treatment::Inked(vec![spread]);
        }
        panel.scene.things.push(thing);
    }
    let panel = panel.laid();
    panel.check().unwrap();
    panel
}

/// The moves in a few words: masks and dryings as they are, each run of ink as what it is laid on.
pub(super) fn told(panel: &Panel) -> Vec<String> {
    let part = |mask: Mask| if mask.part == Part::Frame { "frame" } else { "plug" };
    let mut told: Vec<String> = Vec::new();
    for m in &panel.moves {
        let word = match m {
            Move::MaskOn(MaskOn(mask)) => format!("{} {} on", part(*mask), mask.thing),
            Move::MaskOff(MaskOff(mask)) => format!("{} {} off", part(*mask), mask.thing),
            Move::Take(_) | Move::Wipe(_) | Move::Look(_) => continue,
            m => match m.laying() {
                Some(laying) => laying.on.map_or("ground".into(), |thing| format!("ink {thing}")),
                None => {
                    let written = serde_json::to_value(m).unwrap();
                    written.as_object().unwrap().keys().next().unwrap().clone()
                }
            },
        };
        if told.last() != Some(&word) {
            told.push(word);
        }
    }
    told
}

fn is_clean(panel: &Panel) {
    let broken: Vec<_> = check(panel).into_iter().map(|broken| (broken.at, broken.says)).collect();
    assert!(broken.is_empty(), "{broken:?}\n{:?}", told(panel));
}

#[test]
fn a_disc_of_light_and_its_night() {
    let panel = scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT));
    let right = ["frame 0 on", "ink 0", "dry", "plug 0 on", "frame 0 off", "ground", "dry", "plug 0 off"];
    assert_eq!(told(&panel), right);
    is_clean(&panel);
    // The lamp is straw, the night is night, and nothing of the one is in the other.
    let surface = panel.surface();
    let areas = surface.areas();
    assert_eq!(areas.len(), 2);
    for area in &areas {
        assert_eq!(area.surface.inks().len(), 1);
    }
}

#[test]
fn a_word_stays_white_under_its_plug() {
    let word = shape("word", "gale");
    let counters = word.outline().unwrap().region().holes().len();
    assert!(counters > 0);
    let panel = scene(vec![(thing(word, 136, 180), None)], Some(NIGHT));
    assert_eq!(told(&panel), ["plug 0 on", "ground", "dry", "plug 0 off"]);
    is_clean(&panel);
    let bare = panel.surface().areas().into_iter().filter(|area| area.surface.coats.is_empty());
    let kept: f64 = bare.filter_map(|area| area.region).map(|region| region.area()).sum();
    let word = &panel.materials().masks.things[0];
    assert!((kept - word.inside.area()).abs() < 1e-4 * kept, "{kept}");
    assert_eq!(word.counters, counters);
}

/// What is done to seal a thing.
const SEALED: [&str; 5] = ["sticky", "frame 0 off", "powder", "melt", "cool"];

#[test]
fn trapped_colour_stays_bright_under_the_dark() {
    let mut star = thing(shape("circle", ""), 136, 180);
    star.resist = Some(Powder::Clear);
    let panel = scene(vec![(star, Some(STRAW))], Some(NIGHT));
    let right =
        [&["anti-static", "frame 0 on", "ink 0", "dry"][..], &SEALED, &["ground", "buff", "dry"]].concat();
    assert_eq!(told(&panel), right);
    is_clean(&panel);
    assert!(looks_as_wanted(&panel, &panel.surface()));
}

#[test]
fn cells_in_resist_take_one_mask_for_all() {
    let mut cells = thing(Shape { percent: 60, ..shape("honeycomb", "") }, 136, 180);
    cells.resist = Some(Powder::White);
    let panel = scene(vec![(cells, None)], Some(NIGHT));
    let right = [&["anti-static", "frame 0 on"][..], &SEALED, &["ground", "buff", "dry"]].concat();
    assert_eq!(told(&panel), right);
    assert_eq!(Cost::of(&panel.moves, &panel.materials()).pieces, 1);
    is_clean(&panel);
    // The line is the powder's own white, whatever went over it.
    let surface = panel.surface();
    let sealed: Vec<_> = surface.areas().into_iter().filter(|area| area.surface.under.is_some()).collect();
    assert_eq!(sealed.len(), 1);
    let lab = sealed[0].surface.stack(&[], |_| 1.0).lab(Illuminant::D65);
    assert!(lab.l > 94.0, "{lab:?}");
}

#[test]
fn a_pattern_goes_through_its_stencil_over_the_ground() {
    let waves = Thing { over: true, ..thing(Shape { percent: 80, ..shape("waves", "") }, 136, 180) };
    let panel = scene(vec![(waves, Some(NIGHT))], Some(MIST));
    assert_eq!(told(&panel), ["ground", "dry", "frame 0 on", "ink 0", "dry", "frame 0 off"]);
    is_clean(&panel);
    assert!(looks_as_wanted(&panel, &panel.surface()));
}

#[test]
fn hills_with_a_patterned_sky_above() {
    let hill = (thing(shape("strip", ""), 136, 330), Some([40.0, -30.0, 20.0]));
    let stars = Thing { over: true, ..thing(Shape { percent: 70, ..shape("stars", "") }, 136, 200) };
    let panel = scene(vec![hill, (stars, Some(NIGHT))], Some([70.0, 20.0, -20.0]));
    let told = told(&panel);
    let at = |what: &str| told.iter().position(|word| word == what).unwrap();
    assert!(at("ground") < at("ink 1"), "{told:?}");
    is_clean(&panel);
    assert!(looks_as_wanted(&panel, &panel.surface()));
}

#[test]
fn much_darker_in_front_needs_no_plug() {
    let hill = thing(shape("strip", ""), 136, 330);
    let mut panel = scene(vec![(hill.clone(), Some(TAR))], Some(MIST));
    panel.scene.ground[0].fields[0].veils = 1;
    let panel = panel.laid();
    assert_eq!(told(&panel), ["ground", "frame 0 on", "ink 0", "dry", "frame 0 off"]);
    is_clean(&panel);
    // At its full strength the mist would make the tar take less well, and a hill of the mist's own depth in another hue would show what lies under it.
    let near = scene(vec![(hill, Some([72.0, -30.0, 30.0]))], Some(MIST));
    assert!(told(&near).contains(&"plug 0 on".to_string()), "{:?}", told(&near));
    is_clean(&near);
}

#[test]
fn hills_one_behind_the_other_before_a_sky() {
    let hills = vec![
        (thing(shape("strip", ""), 136, 336), Some([40.0, -30.0, 20.0])),
        (thing(shape("strip", ""), 136, 310), Some([60.0, -36.0, 30.0])),
    ];
    let panel = scene(hills, Some([70.0, 40.0, 20.0]));
    is_clean(&panel);
    let surface = panel.surface();
    // Each place has the ink of what stands in front there and no other.
    for plot in &panel.materials().masks.plots {
        let [x, y] = plot.region.heart().unwrap();
        let here = surface.of_plot(plot);
        let veils = here.by_ink(&here.veils_at(&here.spot(x, y)));
        let most = (0..veils.len()).max_by(|a, b| veils[*a].total_cmp(&veils[*b])).unwrap();
        let wanted = match plot.front() {
            None => panel.scene.ground[0].fields[0].ink,
            Some(thing) => panel.scene.things[thing].blends()[0].fields[0].ink,
        };
        assert_eq!(most, wanted, "{:?}", plot.front());
    }
}

#[test]
fn a_halo_is_left_white_round_what_it_is_cut_for() {
    let wide = Length::from_64ths(4);
    let lamp = Shape { cut: Cut::Halo(wide), ..shape("circle", "") };
    let panel = scene(vec![(thing(lamp, 136, 110), Some(STRAW))], Some(NIGHT));
    is_clean(&panel);
    let white: f64 = panel
        .surface()
        .areas()
        .into_iter()
        .filter(|area| area.surface.coats.is_empty())
        .filter_map(|area| area.region)
        .map(|region| region.area())
        .sum();
    let ring = std::f64::consts::PI * ((25.4 + wide.mm()).powi(2) - 25.4_f64.powi(2));
    assert!((white / ring - 1.0).abs() < 0.01, "{white} {ring}");
    // The plug is larger than the hole: the frame cannot be its jig and goes first.
    let told = told(&panel);
    let at = |what: &str| told.iter().position(|word| word == what).unwrap();
    assert!(at("frame 0 off") < at("plug 0 on"));
}

#[test]
fn what_was_done_stays_done_and_the_rest_follows() {
    let panel = scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT));
    let steps = rosy_core::order::laid::steps_in(&panel.moves);
    for done in 0..=steps + 2 {
        let begun = Panel { done, ..panel.clone() };
        assert_eq!(begun.clone().laid(), begun, "{done}");
        let mut deeper = begun.clone();
        deeper.scene.ground[0].fields[0].veils += 1;
        let deeper = deeper.laid();
        assert_eq!(deeper.made(), begun.made(), "{done}");
        is_clean(&deeper);
    }
}

fn at(told: &[String], what: &str) -> usize {
    told.iter().position(|word| word == what).unwrap_or_else(|| panic!("no {what}: {told:?}"))
}

fn pieces(panel: &Panel) -> usize {
    Cost::of(&panel.moves, &panel.materials()).pieces
}

/// The same shape grown all round.
fn shadow(of: &Thing, by: i64) -> Thing {
    let shape = Shape {
        name: format!("shadow of {}", of.shape.name).parse().unwrap(),
        grown: Length::from_64ths(by),
        ..of.shape.clone()
    };
    Thing { shape, ..of.clone() }
}

#[test]
fn a_word_kept_white_with_a_strong_rim_and_a_loose_ground() {
    let word = thing(Shape { percent: 130, ..shape("word", "gale") }, 136, 180);
    let rim = shadow(&word, 10);
    let panel = scene(vec![(word, None), (rim, Some(NIGHT))], Some([70.0, 20.0, -20.0]));
    let told = told(&panel);
    // The word stays under its plug until the end; its rim is inked inside the shadow's frame.
    assert!(at(&told, "plug 0 on") < at(&told, "ink 1") && at(&told, "ink 1") < at(&told, "plug 0 off"));
    assert!(at(&told, "frame 1 on") < at(&told, "ink 1"));
    is_clean(&panel);
    assert!(looks_as_wanted(&panel, &panel.surface()));
    // What is seen of the rim is what the shadow has more than the word.
    let materials = panel.materials();
    let seen: f64 = materials.masks.seen(Some(1)).map(|plot| plot.region.area()).sum();
    let [word, shadow] = [0, 1].map(|n| materials.masks.things[n].inside.area());
    assert!((seen - (shadow - word)).abs() < 0.01 * seen, "{seen} {shadow} {word}");
}

#[test]
fn a_word_inked_strong_with_a_white_rim() {
    let word = thing(Shape { percent: 130, ..shape("word", "gale") }, 136, 180);
    let rim = shadow(&word, 8);
    let panel = scene(vec![(word, Some(NIGHT)), (rim, None)], Some(STRAW));
    let told = told(&panel);
    // The shadow's plug covers the word as well: that needs none of its own.
    assert!(!told.contains(&"plug 0 on".to_string()), "{told:?}");
    assert!(at(&told, "frame 0 on") < at(&told, "ink 0") && at(&told, "plug 1 on") < at(&told, "ground"));
    assert_eq!(pieces(&panel), 2);
    is_clean(&panel);
    assert!(looks_as_wanted(&panel, &panel.surface()));
}

#[test]
fn four_inks_from_the_corners_through_a_stencil_trapped_under_the_dark() {
    let mut stars = thing(Shape { used: Use::Stencil, percent: 70, ..shape("stars", "") }, 136, 180);
    stars.resist = Some(Powder::Clear);
    let mut panel = scene(vec![(stars, Some(STRAW))], Some(TAR));
    let inks = [[60.0, 55.0, 5.0], [58.0, -34.0, 34.0], [70.0, 20.0, -20.0]];
    panel.inks.extend(inks.map(ink));
    let size = panel.scene.things[0].extent(&panel.scene.things[0].shape.outline().unwrap()).size;
    let corners = [Corner::TopLeft, Corner::TopRight, Corner::BottomLeft];
    let first = panel.inks.iter().position(|own| *own == ink(STRAW)).unwrap();
    let places = [first, panel.inks.len() - 3, panel.inks.len() - 2];
    let blends = corners.into_iter().zip(places).map(|(from, place)| {
        let way = Way::round(from);
        let mut blend = Blend::spread(&[(place, &panel.inks[place])], way, way.span(size), Units::Inches);
        (blend.fields[0].full_to, blend.fields[0].ends) = (way.span(size) / 4, way.span(size) / 2);
        blend
    });
    panel.scene.things[0].gets = Treatment::Inked(blends.collect());
    panel.inks.pop();
    let panel = panel.laid();
    panel.check().unwrap();
    let right =
        [&["anti-static", "frame 0 on", "ink 0", "dry"][..], &SEALED, &["ground", "buff", "dry"]].concat();
    assert_eq!(told(&panel), right);
    is_clean(&panel);
    // Under the powder nothing of the dark is left, and all three inks are.
    let surface = panel.surface();
    let sealed: Vec<_> = surface.areas().into_iter().filter(|area| area.surface.under.is_some()).collect();
    assert_eq!(sealed.len(), 1);
    assert_eq!(sealed[0].surface.inks().len(), 3);
}

#[test]
fn a_stencil_in_four_parts_and_six_inks_with_tape() {
    let waves = Thing { over: true, ..thing(Shape { used: Use::Stencil, ..shape("waves", "") }, 136, 180) };
    let long = waves.extent(&waves.shape.outline().unwrap()).size.1;
    let mark = Length::from_64ths(2);
    let line = |n: i64| long.scaled(mark * n, mark * 4, mark);
    let part = |n: i64| Thing {
        between: Some(Between { upright: false, from: line(n), to: line(n + 1) }),
        ..waves.clone()
    };
    let inks = [NIGHT, [40.0, -30.0, 20.0], [46.0, 50.0, 10.0], TAR];
    let parts = inks.into_iter().enumerate().map(|(n, lab)| (part(n as i64), Some(lab)));
    let mut panel = scene(parts.collect(), Some(MIST));
    // Two of the parts run from a light ink to their own.
    for (thing, lab) in [(0, [70.0, -10.0, -30.0]), (2, [78.0, 20.0, 30.0])] {
        panel.inks.push(ink(lab));
        let (light, own) = (panel.inks.len() - 1, panel.scene.things[thing].blends()[0].fields[0].ink);
        let size = panel.materials().extent(Some(thing)).size;
        let listed = [(light, &panel.inks[light]), (own, &panel.inks[own])];
        let blend = Blend::spread(&listed, Way::DOWN, Way::DOWN.span(size), Units::Inches);
        panel.scene.things[thing].gets = Treatment::Inked(vec![blend]);
    }
    let panel = panel.laid();
    panel.check().unwrap();
    is_clean(&panel);
    assert_eq!(panel.inks.len(), 7, "six inks and the ground's");
    assert_eq!(pieces(&panel), 1, "one stencil for all parts");
    // It is put on once and lifted once; between the parts only tape is moved, each time on dry ink.
    let told = told(&panel);
    assert_eq!(told.iter().filter(|word| word.ends_with(" off")).count(), 1, "{told:?}");
    let titles: Vec<String> =
        RunSheet::of(&panel, Units::Inches).steps.into_iter().map(|step| step.title).collect();
    assert_eq!(titles.iter().filter(|title| title.starts_with("Move the tape")).count(), 3, "{titles:?}");
    // Light, dark, light again: the two marry.
    let back = panel.moves.iter().filter(|m| matches!(m, Move::Back(back) if back.0.on == Some(0))).count();
    assert!(back > 0);
    // Each part has its own inks and none of another's.
    let surface = panel.surface();
    let ground = panel.scene.ground[0].fields[0].ink;
    for plot in &panel.materials().masks.plots {
        let own: Vec<usize> = plot
            .front()
            .map_or(&[][..], |thing| panel.scene.things[thing].blends())
            .iter()
            .flat_map(|blend| blend.fields.iter().map(|field| field.ink))
            .collect();
        for ink in surface.of_plot(plot).inks() {
            assert!(ink == ground || own.contains(&ink), "{:?}", plot.front());
        }
    }
}

#[test]
fn a_hill_strip_covers_for_the_sky_and_is_slid_up_for_the_ground() {
    let hill = Shape { used: Use::Slide, ..shape("strip", "") };
    let stars = Thing { over: true, ..thing(Shape { percent: 70, ..shape("stars", "") }, 136, 160) };
    let things = vec![(thing(hill, 136, 320), Some([72.0, -30.0, 30.0])), (stars, Some(NIGHT))];
    let panel = scene(things, Some([70.0, 20.0, -20.0]));
    is_clean(&panel);
    assert!(looks_as_wanted(&panel, &panel.surface()));
    let told = told(&panel);
    // One piece is both: it never lies in both places at once.
    assert!(told.contains(&"plug 0 on".to_string()) && told.contains(&"frame 0 on".to_string()), "{told:?}");
    assert_eq!(pieces(&panel), 2, "the strip and the stars");
    let mut lying = Vec::new();
    for word in &told {
        match word.as_str() {
            "plug 0 on" | "frame 0 on" => lying.push(word.clone()),
            "plug 0 off" | "frame 0 off" => lying.clear(),
            _ => {}
        }
        assert!(lying.len() <= 1, "{told:?}");
    }
}

#[test]
fn a_stepped_cloud_edge_takes_one_piece_slid_down() {
    let edge = |n: i64| Thing {
        over: true,
        ..thing(Shape { turn: 180, percent: 150, ..shape("cloud-edge", "") }, 100 + 37 * (n % 3), 60 + 48 * n)
    };
    // What lies further down was inked later: it stands in front.
    let things: Vec<_> = (0..5).rev().map(|n| (edge(n), Some([70.0 - 6.0 * n as f64, 0.0, -30.0]))).collect();
    let panel = scene(things, Some(MIST));
    is_clean(&panel);
    assert_eq!(pieces(&panel), 1);
    assert!(looks_as_wanted(&panel, &panel.surface()));
    let titles: Vec<String> =
        RunSheet::of(&panel, Units::Inches).steps.into_iter().map(|step| step.title).collect();
    assert_eq!(titles.iter().filter(|title| title.starts_with("Move the frame on")).count(), 4, "{titles:?}");
}

#[test]
fn waves_light_to_dark_tinted_after_put_back_and_deepened() {
    let waves = Thing {
        over: true,
        ..thing(Shape { used: Use::Stencil, percent: 80, ..shape("waves", "") }, 136, 180)
    };
    let all = oblong(288, 368);
    let tint = Thing { over: true, ..thing(all, 136, 176) };
    let things = vec![(waves.clone(), Some(TAR)), (tint, Some(MIST)), (waves, Some([52.0, -20.0, -30.0]))];
    let mut panel = scene(things, None);
    // Light to dark through the stencil the first time.
    let size = panel.materials().extent(Some(2)).size;
    let light = panel.inks.len();
    panel.inks.push(ink([80.0, -10.0, -20.0]));
    let own = panel.scene.things[2].blends()[0].fields[0].ink;
    let listed = [(light, &panel.inks[light]), (own, &panel.inks[own])];
    let spread = Blend::spread(&listed, Way::DOWN, Way::DOWN.span(size), Units::Inches);
    panel.scene.things[2].gets = Treatment::Inked(vec![spread]);
    let panel = panel.laid();
    panel.check().unwrap();
    is_clean(&panel);
    // The tint goes over all of it and takes no mask; the stencil is one piece, put back where it was.
    let told = told(&panel);
    let order =
        ["frame 2 on", "ink 2", "frame 2 off", "ink 1", "frame 0 on", "ink 0"].map(|what| at(&told, what));
    assert!(order.is_sorted(), "{told:?}");
    assert!(!told.contains(&"frame 1 on".to_string()));
    assert_eq!(pieces(&panel), 1);
    let steps = RunSheet::of(&panel, Units::Inches).steps;
    let step = |title: &str| {
        steps.iter().find(|step| step.title.starts_with(title)).unwrap_or_else(|| panic!("{steps:#?}"))
    };
    assert!(step("Lift the stencil").how.contains("mark two of its corners"));
    assert!(step("Put the stencil").how.contains("on the marks"));
    // Deepened, the pattern stands out more than it did under the tint.
    let apart = |panel: &Panel, pattern: usize| {
        let surface = panel.surface();
        let masks = &panel.materials().masks;
        let lab = |inside: bool| {
            let plot = masks.plots.iter().filter(|plot| plot.is_inside(pattern) == inside);
            let plot = plot.max_by(|a, b| a.region.area().total_cmp(&b.region.area())).unwrap();
            let here = surface.of_plot(plot);
            let [x, y] = plot.region.heart().unwrap();
            here.stack(&here.veils_at(&here.spot(x, y)), |_| 1.0).lab(Illuminant::D65)
        };
        lab(true).difference(lab(false))
    };
    let mut once = panel.clone();
    once.scene.things[0].gets = Treatment::White;
    once.scene.things[0].over = false;
    once.scene.things.remove(0);
    let unused = once.inks.iter().position(|own| *own == ink(TAR)).unwrap();
    once.inks.remove(unused);
    for ink in once.scene.inks_mut() {
        *ink -= usize::from(*ink > unused);
    }
    let once = Panel { moves: Vec::new(), ..once }.laid();
    once.check().unwrap();
    let (deepened, before) = (apart(&panel, 2), apart(&once, 1));
    assert!(deepened > before + 5.0, "{deepened} {before}");
}

#[test]
fn two_stencils_of_a_set_go_on_in_register() {
    let stencil = |family: &str| Thing {
        over: true,
        ..thing(Shape { used: Use::Stencil, percent: 60, ..shape(family, "") }, 136, 180)
    };
    let panel = scene(vec![(stencil("brick"), Some(NIGHT)), (stencil("waves"), Some(TAR))], Some(MIST));
    is_clean(&panel);
    assert_eq!(pieces(&panel), 2);
    let steps = RunSheet::of(&panel, Units::Inches).steps;
    let how = |title: &str| &steps.iter().find(|step| step.title.starts_with(title)).unwrap().how;
    assert!(how("Lift the stencil of the waves").contains("Another of its set goes here in register"));
    assert!(how("Put on the stencil of the brick").contains("its corners on the marks"));
    // One of the two alone needs no marks.
    let alone = scene(vec![(stencil("waves"), Some(TAR))], Some(MIST));
    let steps = RunSheet::of(&alone, Units::Inches).steps;
    assert!(steps.iter().all(|step| !step.how.contains("mark two of its corners")));
}

#[test]
fn one_mask_is_moved_over_many_cells() {
    let cell = |n: i64| thing(Shape { percent: 55, ..shape("cell", "") }, 60 + 76 * n, 180);
    let labs = [STRAW, NIGHT, [58.0, -34.0, 34.0]];
    let panel =
        scene(labs.into_iter().enumerate().map(|(n, lab)| (cell(n as i64), Some(lab))).collect(), None);
    is_clean(&panel);
    assert_eq!(pieces(&panel), 1);
    let titles: Vec<String> =
        RunSheet::of(&panel, Units::Inches).steps.into_iter().map(|step| step.title).collect();
    assert_eq!(titles.iter().filter(|title| title.starts_with("Move the frame on")).count(), 2, "{titles:?}");
    // With a ground behind them as many plugs lie there together as need one.
    let mut behind = panel.clone();
    behind.inks.push(ink(TAR));
    let place = behind.inks.len() - 1;
    behind.scene.ground = vec![Blend::spread(&[(place, &ink(TAR))], Way::DOWN, behind.height, Units::Inches)];
    let behind = behind.laid();
    is_clean(&behind);
    assert_eq!(pieces(&behind), 4);
}

#[test]
fn tape_along_a_horizon_is_no_piece() {
    let sea = Shape { used: Use::Tape, ..oblong(288, 128) };
    let panel = scene(vec![(thing(sea, 136, 340), Some([46.0, -20.0, -24.0]))], Some([84.0, 10.0, 30.0]));
    is_clean(&panel);
    assert_eq!(pieces(&panel), 0);
    let steps = RunSheet::of(&panel, Units::Inches).steps;
    let tape = steps.iter().find(|step| step.title.starts_with("Tape along")).unwrap();
    assert!(tape.how.contains("from the top"), "{}", tape.how);
}

#[test]
fn a_glow_round_a_things_edge_needs_its_plug_and_no_frame() {
    let word = thing(Shape { percent: 130, ..shape("word", "gale") }, 136, 180);
    let mut glow = Thing { over: true, ..shadow(&word, 32) };
    let mut panel = scene(vec![(word, Some(NIGHT))], Some([52.0, -20.0, -30.0]));
    let white = Ink { kind: Kind::Pigment, ..ink([95.0, 0.0, 1.0]) };
    panel.inks.push(white.clone());
    let reach = Length::from_64ths(32);
    let way = Way::Rim { reach };
    let mut blend = Blend::spread(&[(panel.inks.len() - 1, &white)], way, reach, Units::Inches);
    (blend.fields[0].starts, blend.fields[0].full_from) = (reach / 2, reach);
    glow.gets = Treatment::Inked(vec![blend]);
    panel.scene.things.push(glow);
    let panel = panel.laid();
    panel.check().unwrap();
    is_clean(&panel);
    let told = told(&panel);
    assert!(!told.contains(&"frame 1 on".to_string()), "{told:?}");
    let lies = at(&told, "plug 0 on");
    assert!(lies < at(&told, "ink 1"), "{told:?}");
    // Beside the word it is white; further off it is as the ground was.
    let surface = panel.surface();
    let masks = &panel.materials().masks;
    let veils = |deep: f64| {
        let near = masks.plots.iter().find(|plot| plot.front() == Some(1)).unwrap();
        let depth = masks.things[1].depth();
        let [x, y] = depth.place(deep);
        surface.of_plot(near).veils_at(&surface.of_plot(near).spot(x, y)).last().copied().unwrap()
    };
    assert!(veils(9.0) > 2.0 * veils(2.0), "{} {}", veils(9.0), veils(2.0));
}

/// Some things in some inks, in front of a ground.
pub(super) fn some_scene(most: usize) -> BoxedStrategy<Panel> {
    some_scene_of(1..=most)
}

pub(super) fn some_scene_of(count: std::ops::RangeInclusive<usize>) -> BoxedStrategy<Panel> {
    let lab = prop_oneof![
        Just(STRAW),
        Just(NIGHT),
        Just(MIST),
        Just(TAR),
        Just([60.0, 55.0, 5.0]),
        Just([58.0, -34.0, 34.0]),
    ]
    .boxed();
    let place = (20_i64..250, 20_i64..330);
    let resist = proptest::option::weighted(0.25, Just(Powder::Clear));
    let one = (
        place,
        0_usize..3,
        proptest::option::weighted(0.8, lab.clone()),
        // Some of one size: their masks are the same piece.
        prop_oneof![Just(60_u16), Just(90), 55_u16..110],
        (resist, proptest::bool::weighted(0.2)),
    );
    (proptest::collection::vec(one, count), proptest::option::weighted(0.9, lab))
        .prop_map(|(things, ground)| {
            let things = things.into_iter().map(|((left, top), kind, lab, percent, (resist, over))| {
                let shape = Shape { percent, ..shape(["circle", "heart", "strip"][kind], "") };
                (Thing { resist, over, ..thing(shape, left, top) }, lab)
            });
            scene(things.collect(), ground)
        })
        .boxed()
}

/// Every order of what is laid.
fn orders(laid: &[Option<usize>]) -> Vec<Vec<Option<usize>>> {
    match laid {
        [] => vec![Vec::new()],
        _ => (0..laid.len())
            .flat_map(|at| {
                let mut rest = laid.to_vec();
                let first = rest.remove(at);
                orders(&rest).into_iter().map(move |rest| [vec![first], rest].concat())
            })
            .collect(),
    }
}

/// What is known of plots, by what reached them in order: whether they look as wanted.
type Known = HashMap<(usize, Vec<Option<usize>>), bool>;

/// Whether the masks of a scheme leave every thing in its own colours: what they let through to each plot, laid there by
/// itself, looks as what is wanted there.
fn comes_out(panel: &Panel, scheme: &Scheme, known: &mut Known) -> bool {
    let materials = panel.materials();
    let worn = Scenery::of(&panel.scene, &materials).worn(scheme);
    let is_resist = |on: Option<usize>| on.is_some_and(|thing| panel.scene.things[thing].resist.is_some());
    materials.masks.plots.iter().enumerate().all(|(at, plot)| {
        let mut reached = Vec::new();
        for (on, wearing) in &worn {
            let lies = |bits: u32, part: Part| {
                let things = (0..panel.scene.things.len()).filter(move |thing| bits & (1 << thing) != 0);
                things.into_iter().any(|thing| plot.is_covered(Mask { thing, part }))
            };
            if lies(wearing.frames, Part::Frame) || lies(wearing.plugs, Part::Plug) {
                continue;
            }
            reached.push(*on);
            if is_resist(*on) {
                break;
            }
        }
        let wanted = wanted_on(panel, plot);
        // Powder melted for another is raised and glossy there, whatever its colour.
        if reached.iter().any(|on| is_resist(*on) && !wanted.contains(on)) {
            return false;
        }
        let key = (at, reached.clone());
        *known.entry(key).or_insert_with(|| {
            let [seen, wanted] = [&reached, &wanted].map(|on| {
                let laid = laid_alone(panel, on);
                let places = plot.region.places().into_iter();
                places.map(|[x, y]| lab(&laid, x, y)).collect::<Vec<_>>()
            });
            seen.iter().zip(&wanted).all(|(seen, wanted)| seen.difference(*wanted) <= 1.0)
        })
    })
}

fn lab(surface: &rosy_core::surface::Surface, x: f64, y: f64) -> rosy_core::colour::Lab {
    surface.stack(&surface.veils_at(&surface.spot(x, y)), |_| 1.0).lab(Illuminant::D65)
}

/// Some things and the ground laid one over the other, with no masks.
fn laid_alone(panel: &Panel, on: &[Option<usize>]) -> rosy_core::surface::Surface {
    let mut alone = rosy_core::surface::Surface::bare(panel.materials());
    for on in on {
        let own = panel.moves.iter().filter(|m| m.laying().is_some_and(|laying| laying.on == *on));
        own.for_each(|m| m.make(&mut alone));
    }
    alone
}

/// What is wanted on a plot: what stands in front there but for patterns; then those, the hindmost first.
fn wanted_on(panel: &Panel, plot: &Plot) -> Vec<Option<usize>> {
    let things = (0..panel.scene.things.len()).filter(|thing| plot.is_inside(*thing));
    let is_pattern = |thing: &usize| panel.scene.things[*thing].is_printed();
    let front = things.clone().find(|thing| !is_pattern(thing));
    let patterns = things.filter(|thing| is_pattern(thing) && front.is_none_or(|front| *thing < front));
    // On what is sealed no ink takes.
    let is_sealed = |thing: usize| panel.scene.things[thing].resist.is_some();
    let mut wanted: Vec<Option<usize>> = vec![front];
    for pattern in patterns.collect::<Vec<_>>().into_iter().rev() {
        if wanted.last().copied().flatten().is_some_and(is_sealed) {
            break;
        }
        wanted.push(Some(pattern));
    }
    wanted
}

/// Whether each place looks as what stands in front there does by itself.
fn looks_as_wanted(panel: &Panel, surface: &rosy_core::surface::Surface) -> bool {
    panel.materials().masks.plots.iter().all(|plot| {
        let (alone, here) = (laid_alone(panel, &wanted_on(panel, plot)), surface.of_plot(plot));
        let places = plot.region.places().into_iter();
        places.into_iter().all(|[x, y]| lab(&here, x, y).difference(lab(&alone, x, y)) <= 1.0)
    })
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(40) })]

    #[test]
    fn plots_tile_the_panel(panel in some_scene(6)) {
        let materials = panel.materials();
        let sum: f64 = materials.masks.plots.iter().map(|plot| plot.region.area()).sum();
        let (width, height) = materials.size_mm();
        prop_assert!((sum / (width * height) - 1.0).abs() < 1e-4, "{sum}");
        let seen = |on| materials.masks.seen(on).map(|plot| plot.region.area()).sum::<f64>();
        let visible: f64 = seen(None) + (0..panel.scene.things.len()).map(|thing| seen(Some(thing))).sum::<f64>();
        prop_assert!((visible / (width * height) - 1.0).abs() < 1e-4, "{visible}");
    }

    #[test]
    fn every_way_to_cover_it_breaks_no_rule_and_looks_the_same(panel in some_scene(4)) {
        let laid = |covering| Panel { covering, moves: Vec::new(), ..panel.clone() }.laid();
        let all = Covering::ALL.map(laid);
        for panel in &all {
            prop_assert!(looks_as_wanted(panel, &panel.surface()), "{:?}", told(panel));
            // A pattern over what is sealed is lost whatever the order.
            let broken = check(panel).into_iter().filter(|broken| broken.breach != Breach::PatternLost);
            let broken: Vec<_> = broken.map(|broken| broken.says).collect();
            prop_assert!(broken.is_empty(), "{:?} {broken:?} {:?}", panel.covering, told(panel));
        }
        let surfaces = all.each_ref().map(Panel::surface);
        for plot in &panel.materials().masks.plots {
            for [x, y] in plot.region.places() {
                let seen = surfaces.each_ref().map(|surface| {
                    let here = surface.of_plot(plot);
                    here.stack(&here.veils_at(&here.spot(x, y)), |_| 1.0).lab(Illuminant::D65)
                });
                prop_assert!(seen[0].difference(seen[1]) <= 1.0 && seen[1].difference(seen[2]) <= 1.0, "{seen:?}");
            }
        }
    }

    #[test]
    fn no_other_order_takes_less(panel in some_scene(4)) {
        takes_least(&panel)?;
    }
}

proptest! {
    // From one seed: every order of six shapes is long, so that few scenes are gone through.
    #![proptest_config(ProptestConfig {
        failure_persistence: None,
        rng_seed: RngSeed::Fixed(6),
        ..ProptestConfig::with_cases(4)
    })]

    #[test]
    fn no_other_order_of_six_shapes_takes_less(panel in some_scene_of(6..=6)) {
        takes_least(&panel)?;
    }
}

/// Whether no order of what is laid and no choice of plugs takes less than what was found and comes out as wanted.
fn takes_least(panel: &Panel) -> Result<(), TestCaseError> {
    let materials = panel.materials();
    let scenery = Scenery::of(&panel.scene, &materials);
    let found = scenery.scheme(Covering::Fewest);
    let least = scenery.effort(&found);
    let mut known = Known::new();
    prop_assert!(comes_out(panel, &found, &mut known), "{found:?}");
    prop_assert!(looks_as_wanted(panel, &panel.surface()), "{found:?}");
    // What is counted is what is done.
    let cost = Cost::of(&panel.moves, &materials);
    prop_assert_eq!((cost.pieces, cost.dryings), (least.pieces, least.dryings.max(cost.dryings.min(1))));
    let inked = (0..panel.scene.things.len()).filter(|thing| panel.scene.things[*thing].is_made()).map(Some);
    let has_ground = panel.scene.ground.iter().any(|blend| !blend.fields.is_empty());
    let laid: Vec<Option<usize>> = inked.chain(has_ground.then_some(None)).collect();
    let things = panel.scene.things.len();
    for order in orders(&laid) {
        for choice in 0..1_u32 << things {
            let plugs = (0..things).filter(|thing| choice & (1 << thing) != 0).collect();
            let other = Scheme { order: order.clone(), plugs };
            let effort: Effort = scenery.effort(&other);
            prop_assert!(
                effort >= least || !comes_out(panel, &other, &mut known),
                "{other:?} {effort:?} {found:?} {least:?}"
            );
        }
    }
    Ok(())
}

/// Green that runs into yellow.
fn meadow() -> Panel {
    let mut panel = bare();
    panel.inks = vec![ink([58.0, -34.0, 34.0]), ink([86.0, 2.0, 66.0])];
    let listed: Vec<(usize, &Ink)> = panel.inks.iter().enumerate().collect();
    panel.scene.ground = vec![Blend::spread(&listed, Way::DOWN, panel.height, Units::Inches)];
    panel.laid()
}

#[test]
fn yellow_is_broken_into_green_with_what_is_left_on_the_brush() {
    let meadow = meadow();
    is_clean(&meadow);
    let at = meadow.moves.iter().position(|m| matches!(m, Move::BreakInto(_))).unwrap();
    let Move::BreakInto(broken) = &meadow.moves[at] else { unreachable!() };
    // Right after the green, with nothing done to the brush between.
    assert!(matches!(&meadow.moves[at - 1], Move::Lay(lay) if lay.0.ink == 0 && lay.0.ink == broken.ink));
    assert_eq!(broken.over, 1);
    // It lays a share of a veil on the yellow's side, and the brush carries less of it afterwards.
    let (before, after) = (meadow.after(at), meadow.after(at + 1));
    let middle = 0.5 * (broken.reach.from.mm() + broken.reach.to.mm());
    let green = |surface: &rosy_core::surface::Surface| {
        surface.by_ink(&surface.veils_at(&surface.spot(50.0, middle)))[0]
    };
    let laid = green(&after) - green(&before);
    assert!(laid > 0.01 && laid < 0.2, "{laid}");
    assert!(after.brushes.carried().of(0) < 0.5 * before.brushes.carried().of(0));
    // The veils of the plan are as many as without it.
    let steps = RunSheet::of(&meadow, Units::Inches).steps;
    let step = steps.iter().find(|step| step.title.starts_with("Break Ink 86")).unwrap();
    assert!(step.how.contains("do not load it again"), "{}", step.how);
}

/// Moves that break a rule, and the rule.
fn broken() -> Vec<(Breach, Panel)> {
    let panel = scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT));
    let changed = |change: &dyn Fn(&mut Vec<Move>)| {
        let mut moves = panel.moves.clone();
        change(&mut moves);
        Panel { moves, ..panel.clone() }
    };
    let at = |of: &dyn Fn(&Move) -> bool| panel.moves.iter().position(of).unwrap();
    let (plug, frame) = (Mask { thing: 0, part: Part::Plug }, Mask { thing: 0, part: Part::Frame });
    let first_dry = at(&|m| matches!(m, Move::Dry(_)));
    let last_dry = panel.moves.iter().rposition(|m| matches!(m, Move::Dry(_))).unwrap();
    let wipe = panel.moves.iter().position(|m| matches!(m, Move::Wipe(_)));
    let mut all = vec![
        (Breach::MaskOnDamp, changed(&|moves| drop(moves.remove(first_dry)))),
        (Breach::LiftedDamp, changed(&|moves| drop(moves.remove(last_dry)))),
        (Breach::HeatOnMask, changed(&|moves| moves[last_dry] = Heat {}.into())),
        (Breach::NoSuchMask, changed(&|moves| moves.push(MaskOff(plug).into()))),
        (Breach::NoSuchMask, changed(&|moves| moves.insert(1, MaskOn(frame).into()))),
        (Breach::LeftOn, changed(&|moves| drop(moves.pop()))),
        (Breach::NoFrame, changed(&|moves| moves.retain(|m| m.mask() != Some(frame)))),
        (Breach::Printed, changed(&|moves| moves.retain(|m| m.mask() != Some(plug)))),
        (
            Breach::AllCovered,
            changed(&|moves| {
                let off = moves.iter().position(|m| *m == MaskOff(frame).into()).unwrap();
                moves.remove(off);
                let end = moves.len();
                moves.insert(end, MaskOff(frame).into());
            }),
        ),
    ];
    let mut star = thing(shape("circle", ""), 136, 180);
    star.resist = Some(Powder::Clear);
    let trapped = scene(vec![(star, Some(STRAW))], Some(NIGHT));
    let without = |of: &dyn Fn(&Move) -> bool| {
        let at = trapped.moves.iter().position(of).unwrap();
        let moves = [&trapped.moves[..at], &trapped.moves[at + 1..]].concat();
        Panel { moves, ..trapped.clone() }
    };
    let frame_off = Move::from(MaskOff(frame));
    all.extend([
        (Breach::BagOverMask, {
            let mut moves = trapped.moves.clone();
            let bag = moves.iter().position(|m| matches!(m, Move::AntiStatic(_))).unwrap();
            let on = moves.iter().position(|m| *m == MaskOn(frame).into()).unwrap();
            moves[bag..=on].rotate_left(1);
            Panel { moves, ..trapped.clone() }
        }),
        (Breach::UnderAnother, {
            let panel = moon_before_a_hill();
            let mut moves = panel.moves.clone();
            let lifts = moves.len() - 2;
            moves.swap(lifts, lifts + 1);
            Panel { moves, ..panel }
        }),
        (Breach::PatternLost, pattern_over_a_seal(110)),
        (Breach::NotBoneDry, without(&|m| matches!(m, Move::Dry(_)))),
        (Breach::NoAntiStatic, without(&|m| matches!(m, Move::AntiStatic(_)))),
        (Breach::NothingSticky, without(&|m| matches!(m, Move::Sticky(_)))),
        (Breach::NotMelted, without(&|m| matches!(m, Move::Melt(_)))),
        (Breach::Hot, without(&|m| matches!(m, Move::Cool(_)))),
        (Breach::HeatOnMask, without(&|m| *m == frame_off)),
    ]);
    all.push((Breach::BareBrush, {
        let meadow = meadow();
        let at = meadow.moves.iter().position(|m| matches!(m, Move::BreakInto(_))).unwrap();
        let mut moves = meadow.moves.clone();
        // Once the brush has been taken to another ink, nothing of the green is left on it.
        let broken = moves.remove(at);
        moves.push(broken);
        Panel { moves, ..meadow }
    }));
    all.extend(wipe.map(|at| (Breach::DirtyBrush, changed(&|moves| drop(moves.remove(at))))));
    all
}

#[test]
fn every_rule_is_told_where_it_is_broken_and_its_repair_puts_it_right() {
    for (breach, panel) in broken() {
        panel.check().unwrap();
        let mut panel = panel;
        let found = check(&panel);
        assert!(
            found.iter().any(|broken| broken.breach == breach),
            "{breach:?}: {found:?} {:?}",
            told(&panel)
        );
        // One repair after the other, the rule's own first.
        for _ in 0..12 {
            let found = check(&panel);
            let Some(next) = found.iter().find(|one| one.breach == breach).or(found.first()) else { break };
            panel = next.mended(&panel);
        }
        let left: Vec<_> = check(&panel).into_iter().map(|broken| (broken.breach, broken.at)).collect();
        assert!(left.is_empty(), "{breach:?}: {left:?} {:?}", told(&panel));
        // Powder that was to hold to something still does.
        let powdered = panel.moves.iter().any(|m| matches!(m, Move::Powder(_)));
        assert!(breach != Breach::NothingSticky || powdered, "{:?}", told(&panel));
    }
}

/// A pattern that is to lie over the ground, and over a disc sealed under powder where it comes so far.
fn pattern_over_a_seal(top: i64) -> Panel {
    let mut disc = thing(shape("circle", ""), 136, 110);
    disc.resist = Some(Powder::Clear);
    let strip = Thing { over: true, ..thing(shape("strip", ""), 136, top) };
    scene(vec![(strip, Some(TAR)), (disc, Some(STRAW))], Some(MIST))
}

/// Moves that come as near to a rule as they may, and the rule.
fn near() -> Vec<(Breach, Panel)> {
    let panel = scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT));
    let mut star = thing(shape("circle", ""), 136, 180);
    star.resist = Some(Powder::Clear);
    let trapped = scene(vec![(star, Some(STRAW))], Some(NIGHT));
    let with = |of: &Panel, change: &dyn Fn(&mut Vec<Move>)| {
        let mut moves = of.moves.clone();
        change(&mut moves);
        Panel { moves, ..of.clone() }
    };
    let place = |moves: &[Move], of: &dyn Fn(&Move) -> bool| moves.iter().position(of).unwrap();
    let dry = |m: &Move| matches!(m, Move::Dry(_));
    let (plug, frame) = (Mask { thing: 0, part: Part::Plug }, Mask { thing: 0, part: Part::Frame });
    // Dye is touch dry after a minute: looking long enough, and wiping the brush, does as well as drying.
    let waits = |moves: &mut Vec<Move>| {
        let at = place(moves, &dry);
        moves[at] = Look {}.into();
        for _ in 0..12 {
            moves.insert(at, Wipe { before: None, times: 3 }.into());
        }
    };
    let last_dry = |moves: &[Move]| moves.iter().rposition(dry).unwrap();
    vec![
        (Breach::MaskOnDamp, with(&panel, &waits)),
        // Dried before the look and not after it.
        (
            Breach::LiftedDamp,
            with(&panel, &|moves| {
                let at = last_dry(moves);
                moves.swap(at - 1, at);
            }),
        ),
        // Heat once the last mask is off.
        (Breach::HeatOnMask, with(&panel, &|moves| moves.push(Heat {}.into()))),
        // The same mask once more, once it has been lifted.
        (
            Breach::NoSuchMask,
            with(&panel, &|moves| moves.extend([MaskOn(plug).into(), MaskOff(plug).into()])),
        ),
        (
            Breach::LeftOn,
            with(&panel, &|moves| {
                let last = moves.pop().unwrap();
                moves.push(Dry {}.into());
                moves.push(last);
            }),
        ),
        // The frame put on before the brush is loaded, or right before the ink.
        (
            Breach::NoFrame,
            with(&panel, &|moves| {
                let at = place(moves, &|m| *m == MaskOn(frame).into());
                let ink = place(moves, &|m| m.laying().is_some());
                moves[at..ink].rotate_left(1);
            }),
        ),
        // One light pass of mist shifts tar by less than the eye sees.
        (Breach::Printed, {
            let mut pale = scene(vec![(thing(shape("strip", ""), 136, 330), Some(TAR))], Some(MIST));
            pale.scene.ground[0].fields[0].veils = 1;
            pale.laid()
        }),
        // Some of the ground stays open beside the plug.
        (Breach::AllCovered, panel.clone()),
        // Dried with heat is bone dry.
        (
            Breach::NotBoneDry,
            with(&trapped, &|moves| {
                let at = place(moves, &dry);
                moves[at] = Heat {}.into();
                // Not with the frame on: that comes off for it, and on again.
                moves.insert(at, MaskOff(frame).into());
                moves.insert(at + 2, MaskOn(frame).into());
                moves.insert(at, Dry {}.into());
            }),
        ),
        // Wiped over, and a mask lifted since.
        (
            Breach::NoAntiStatic,
            with(&trapped, &|moves| {
                let at = place(moves, &|m| matches!(m, Move::AntiStatic(_)));
                moves.insert(at + 1, Look {}.into());
            }),
        ),
        // A second layer holds to the first while that is hot.
        (Breach::NothingSticky, {
            let mut bold = trapped.clone();
            bold.scene.things[0].bold = true;
            bold.laid()
        }),
        (
            Breach::NotMelted,
            with(&trapped, &|moves| {
                let at = place(moves, &|m| matches!(m, Move::Melt(_)));
                moves.insert(at, Look {}.into());
            }),
        ),
        // Over all of it, right before the frame.
        (Breach::BagOverMask, trapped.clone()),
        // Two that lie on one another, the upper first.
        (Breach::UnderAnother, moon_before_a_hill()),
        // Just beside what is sealed.
        (Breach::PatternLost, pattern_over_a_seal(330)),
        // Cooled, and not a minute longer.
        (Breach::Hot, trapped.clone()),
        // Spent right after the green, however much waits between.
        (Breach::BareBrush, {
            let meadow = meadow();
            let at = meadow.moves.iter().position(|m| matches!(m, Move::BreakInto(_))).unwrap();
            with(&meadow, &|moves| moves.insert(at, Look {}.into()))
        }),
        // The brush wiped as often as it takes.
        (Breach::DirtyBrush, panel.clone()),
    ]
}

#[test]
fn rules_do_not_fire_where_they_are_just_kept() {
    for (breach, panel) in near() {
        panel.check().unwrap();
        let found: Vec<_> = check(&panel).into_iter().map(|one| (one.breach, one.at, one.says)).collect();
        assert!(found.is_empty(), "{breach:?}: {found:?} {:?}", told(&panel));
    }
    // Dried twice is dry.
    let panel = scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT));
    let plug = panel.moves.iter().position(|m| *m == MaskOn(Mask { thing: 0, part: Part::Plug }).into());
    let mut moves = panel.moves.clone();
    moves.insert(plug.unwrap(), Dry {}.into());
    is_clean(&Panel { moves, ..panel });
    // Every rule that is broken somewhere in these tests has a case that comes near it.
    for (breach, _) in broken() {
        assert!(near().iter().any(|(kept, _)| *kept == breach), "{breach:?}");
    }
}

#[test]
fn what_a_broken_rule_does_is_seen() {
    for (breach, panel) in broken() {
        let found = check(&panel);
        let Some(one) = found.iter().find(|one| one.breach == breach) else { continue };
        let Some(harmed) = one.harmed(&panel) else { continue };
        let whole = panel.after(one.at);
        let parts = |surface: &rosy_core::surface::Surface| {
            surface
                .areas()
                .into_iter()
                .map(|area| (area.surface.coats.len(), area.surface.under.is_some(), area.region))
                .map(|(coats, sealed, region)| (coats, sealed, region.map_or(0.0, |region| region.area())))
                .collect::<Vec<_>>()
        };
        let (before, after) = (parts(&whole), parts(&harmed));
        assert_ne!(before, after, "{breach:?}");
        let (wide, high) = panel.materials().size_mm();
        let sum: f64 = after.iter().map(|(.., area)| area).sum();
        if after.len() > 1 {
            assert!((sum / (wide * high) - 1.0).abs() < 1e-3, "{breach:?}: {sum}");
        }
    }
    let kinds: Vec<Breach> = broken()
        .into_iter()
        .filter(|(breach, panel)| {
            check(panel).iter().any(|one| one.breach == *breach && one.harmed(panel).is_some())
        })
        .map(|(breach, _)| breach)
        .collect();
    for breach in [Breach::MaskOnDamp, Breach::LiftedDamp, Breach::NotBoneDry, Breach::NoFrame] {
        assert!(kinds.contains(&breach), "{breach:?}");
    }
}

#[test]
fn a_finding_left_as_it_is_stays_left_and_can_be_taken_up_again() {
    let (_, panel) = broken().into_iter().find(|(breach, _)| *breach == Breach::MaskOnDamp).unwrap();
    let one = check(&panel).into_iter().find(|one| one.breach == Breach::MaskOnDamp).unwrap();
    assert_eq!(one.accepted(&panel), None);
    let left = one.accept(&panel, "  this dye is dry in no time ").unwrap();
    assert_eq!(one.accepted(&left).unwrap().note, "this dye is dry in no time");
    left.check().unwrap();
    // Said twice is said once; a longer note is refused.
    let twice = one.accept(&left, "still").unwrap();
    assert_eq!(twice.accepted.len(), 1);
    assert!(one.accept(&panel, &"so ".repeat(200)).is_err());
    assert_eq!(one.taken_up(&left).accepted, Vec::new());
}

#[test]
fn colour_can_be_trapped_instead_of_plugged() {
    let panel = scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT));
    let ways = ways(&panel);
    let sealed = ways.iter().find(|way| !way.sealed.is_empty()).unwrap();
    assert_eq!((sealed.sealed.as_slice(), sealed.plugs.as_slice()), (&[0][..], &[][..]));
    assert!(sealed.cost.pieces < ways[0].cost.pieces);
    let trapped = trapped(&panel, &sealed.sealed).laid();
    assert_eq!(trapped.moves, sealed.moves);
    is_clean(&trapped);
    // Where nothing needs a plug there is nothing to trap.
    let white = scene(vec![(thing(shape("word", "gale"), 136, 180), None)], Some(NIGHT));
    assert!(rosy_core::order::ways::ways(&white).iter().all(|way| way.sealed.is_empty()));
}

#[test]
fn a_piece_is_inked_within_its_own_edge() {
    let paper = bare().paper;
    let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
    let hill = shape("hill-line", "");
    let mut piece = Panel::piece(hill.clone(), paper, tool, 3).unwrap();
    let (way, height) = (piece.scene.ground[0].way, piece.height);
    assert_eq!(way, Way::UP, "light to dark from its foot");
    piece.inks = vec![ink(STRAW), ink(TAR)];
    let inks = [(0, &ink(STRAW)), (1, &ink(TAR))];
    piece.scene.ground = vec![Blend::spread(&inks, way, height, Units::Inches)];
    let piece = piece.laid();
    piece.check().unwrap();
    is_clean(&piece);
    let areas = piece.surface().areas();
    let area: f64 = areas.iter().filter_map(|area| area.region.as_ref()).map(|region| region.area()).sum();
    let meant = hill.outline().unwrap().region().area();
    assert!((area / meant - 1.0).abs() < 1e-3, "{area} {meant}");
    // Light at its foot, dark at its top; round it lies the mat and not the card.
    let picture = draw(&piece.surface(), Size { dpi: 60.0 }).unwrap();
    let at = |across: f64, down: f64| {
        let (x, y) = ((across * picture.width as f64) as usize, (down * picture.height as f64) as usize);
        let start = 3 * (y.min(picture.height - 1) * picture.width + x.min(picture.width - 1));
        picture.rgb[start..start + 3].iter().map(|c| u32::from(*c)).sum::<u32>()
    };
    let (foot, beside) = (at(0.5, 0.97), at(0.0, 0.0));
    assert!(beside > 700, "{beside}");
    assert!(at(0.5, 0.6) < foot, "{foot}");
    // Carried to another size the shape goes along and still fits.
    let smaller = piece.clone().resized(piece.width * 3 / 4, piece.height * 3 / 4, Units::Inches).unwrap();
    assert!(smaller.outline.unwrap().percent <= 75);
    let sheet = RunSheet::of(&piece, Units::Inches);
    assert!(sheet.steps[0].title.starts_with("Cut out the hill-line"), "{}", sheet.steps[0].title);
}

#[test]
fn a_greeting_finds_the_place_where_it_is_read_best() {
    // The ground runs from pale at the top to night at the foot: a white word is read at the foot, an inked one above.
    let mut panel =
        scene(vec![(thing(Shape { percent: 40, ..shape("word", "gale") }, 136, 60), None)], Some(NIGHT));
    panel.inks.insert(0, ink(MIST));
    let inks = [(0, &ink(MIST)), (1, &ink(NIGHT))];
    panel.scene.ground = vec![Blend::spread(&inks, Way::DOWN, panel.height, Units::Inches)];
    let panel = panel.laid();
    panel.check().unwrap();
    let white = best_place(&panel, 0, Units::Inches).unwrap();
    assert!(white.at.top > panel.height * 2 / 3, "{:?}", white.at);
    assert!(white.contrast > 5.0 && white.says.contains("read best"), "{}", white.says);
    let mut inked = panel.clone();
    let size = panel.materials().extent(Some(0)).size;
    let dark = Blend::spread(&[(1, &ink(NIGHT))], Way::DOWN, Way::DOWN.span(size), Units::Inches);
    inked.scene.things[0].gets = Treatment::Inked(vec![dark]);
    let inked = inked.laid();
    let dark = best_place(&inked, 0, Units::Inches).unwrap();
    assert!(dark.at.top < panel.height / 3, "{:?}", dark.at);
    // No other place on the panel has more contrast than the one found.
    for (left, top) in [(136, 100), (136, 176), (136, 250), (100, 320)] {
        let mut moved = panel.clone();
        moved.scene.things[0].at = Point { left: Length::from_64ths(left), top: Length::from_64ths(top) };
        let other = best_place(&moved, 0, Units::Inches).unwrap();
        assert!((other.contrast - white.contrast).abs() < 0.1, "wherever it stood before");
    }
    // What finds no room is told.
    let mut wide = panel.clone();
    wide.scene.things[0].shape.percent = 400;
    assert!(best_place(&wide, 0, Units::Inches).is_none());
}

/// The place of the first move that is one of some.
fn first(panel: &Panel, of: impl Fn(&Move) -> bool) -> usize {
    panel.moves.iter().position(of).unwrap()
}

#[test]
fn an_order_of_the_makers_own_stands_while_it_lays_what_is_wanted() {
    let panel = scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT));
    let dry = first(&panel, |m| matches!(m, Move::Dry(_)));
    // Left out, it is told what that breaks, and one press puts it right.
    let broken = changed(&panel, dry, ByHand::Out).unwrap();
    assert!(broken.by_hand && broken.clone().laid() == broken);
    let found = check(&broken);
    assert!(found.iter().any(|one| one.breach == Breach::MaskOnDamp), "{found:?}");
    let mended = changed(&broken, 0, ByHand::Mend(0)).unwrap();
    assert_eq!(told(&mended), told(&panel));
    is_clean(&mended);
    // A step that lays ink cannot be left out, nor one that is done be moved.
    let ink = first(&panel, |m| m.laying().is_some());
    assert_eq!(changed(&panel, ink, ByHand::Out), Err(HandError::Ink));
    let begun = Panel { done: 4, ..panel.clone() };
    assert_eq!(changed(&begun, ink, ByHand::Later), Err(HandError::Done));
    // Earlier and later again is as it was.
    let later = changed(&panel, ink, ByHand::Later).unwrap();
    assert_ne!(told(&later), Vec::<String>::new());
    let back = changed(&later, first(&later, |m| m.laying().is_some()), ByHand::Earlier);
    assert!(back.is_ok());
    // Where another ink is wanted, the program plans again.
    let mut deeper = broken;
    deeper.scene.ground[0].fields[0].veils += 1;
    let deeper = deeper.laid();
    assert!(!deeper.by_hand);
    is_clean(&deeper);
}

#[test]
fn metal_shines_in_its_own_colour_and_other_powder_in_that_of_the_light() {
    let of = |powder: Powder| {
        let sealed = Thing { resist: Some(powder), ..thing(shape("heart", ""), 136, 176) };
        let picture = draw(&scene(vec![(sealed, None)], None).surface(), Size { dpi: 120.0 }).unwrap();
        picture.rgb.chunks_exact(3).map(|rgb| [rgb[0], rgb[1], rgb[2]].map(i32::from)).collect::<Vec<_>>()
    };
    let bare = of(Powder::Clear)[0];
    // What is neither card nor nearly so is gold: red before green before blue, in its light and in its shade.
    let gold: Vec<[i32; 3]> =
        of(Powder::Metallic).into_iter().filter(|rgb| (rgb[2] - bare[2]).abs() > 60).collect();
    assert!(gold.len() > 1000 && gold.iter().all(|[r, g, b]| r >= g && g > b), "{}", gold.len());
    let (dark, light) = (gold.iter().map(|rgb| rgb[0]).min(), gold.iter().map(|rgb| rgb[0]).max());
    assert!(light > dark.map(|dark| dark + 40), "{dark:?} {light:?}");
    // Silver has no colour but the light's.
    assert!(of(Powder::Silver).iter().all(|[r, g, b]| (r - g).abs().max((g - b).abs()) < 12));
}
