//! An ink brushed round a thing, once all else has dried.

use rosy_core::ink::{Ink, Kind};
use rosy_core::moves::{Breach, Move, Technique, edging::Edging, flick::Flick};
use rosy_core::order::check::check;
use rosy_core::order::pieces::taken;
use rosy_core::scene::Loose;
use rosy_core::surface::{Mask, Part, Surface};
use rosy_core::water::flecks::FleckLook;
use rosy_core::water::{Flecks, Thrown};
use rosy_core::{Length, Panel};

use super::covered_scenes::{NIGHT, STRAW, scene, shape, thing};

const REACH: Length = Length::from_64ths(32);
const MOON: Mask = Mask { thing: 0, part: Part::Plug };

/// A moon of two inches at night, with white brushed round it.
fn moon(passes: u8, before: Vec<Loose>) -> Panel {
    let mut panel = scene(vec![(thing(shape("circle", ""), 136, 176), Some(STRAW))], Some(NIGHT));
    let white = Ink {
        name: "Ullen White".parse().unwrap(),
        kind: Kind::Pigment,
        colour: rosy_core::colour::Colour::Lab([96.0, 0.0, -1.0].into()),
        one_veil: None,
        full_veils: 7,
        on_ink: None,
    };
    let ink = panel.ink_place(&white);
    let mut scene = panel.scene.clone();
    scene.loose = before;
    scene.loose.push(Loose::last(Edging { thing: 0, ink, passes, reach: REACH }));
    let panel = panel.with_scene(scene);
    panel.check().unwrap();
    panel
}

/// How much of what was brushed lies so many millimetres from the moon's edge, to its right.
fn lies(surface: &Surface, out: f64) -> f64 {
    let (x, y) = (136.0 / 64.0 * 25.4 + 25.4 + out, 176.0 / 64.0 * 25.4);
    let effect = surface.films.last().unwrap().effect(&surface.materials);
    f64::from(effect.inks[0].1.at(x, y))
}

#[test]
fn it_goes_on_over_a_plug_put_back_on_dry_ink() {
    let panel = moon(4, Vec::new());
    assert_eq!(check(&panel), []);
    let at = panel.moves.iter().position(|m| matches!(m, Move::Edging(_))).unwrap();
    let before = panel.after(at);
    assert!(before.masks == [MOON] && !before.is_damp());
    // Its plug is cut and listed, and nothing is left lying there.
    let pieces = taken(&panel.moves, &panel.materials());
    assert!(pieces.iter().map(|pieces| pieces.count()).sum::<usize>() >= 2);
    assert!(panel.surface().masks.is_empty());
    // Without the plug it would come on the moon too: that is told, and put right.
    let moves = panel.moves.iter().filter(|m| m.mask() != Some(MOON)).cloned().collect();
    let bare = Panel { moves, by_hand: true, ..panel.clone() };
    let broken = check(&bare);
    let told = broken.iter().find(|one| one.breach == Breach::NoPlug).unwrap();
    assert!(told.mended(&bare).moves.iter().any(|m| m.mask() == Some(MOON)));
}

#[test]
fn it_is_strong_at_the_edge_gone_at_its_reach_and_not_on_the_thing() {
    let surface = moon(4, Vec::new()).surface();
    let profile: Vec<f64> = (0..=14).map(|mm| lies(&surface, f64::from(mm))).collect();
    assert!(profile.windows(2).all(|two| two[1] <= two[0] + 1e-6), "{profile:?}");
    // Four light passes of seven at the edge, and half of that half way out.
    assert!((profile[0] - 4.0 / 7.0).abs() < 0.02, "{profile:?}");
    assert!((lies(&surface, REACH.mm() / 2.0) - 2.0 / 7.0).abs() < 0.03);
    assert!(profile[13].abs() < 1e-6, "{profile:?}");
    // Twice as many passes are twice as much, everywhere.
    let double = moon(8, Vec::new()).surface();
    for mm in 0..12 {
        let (one, two) = (lies(&surface, f64::from(mm)), lies(&double, f64::from(mm)));
        assert!((two - 2.0 * one).abs() < 0.01, "{mm}: {one} {two}");
    }
    // What is brushed on the plug is no more than where the strokes begin: well within it there is nothing.
    assert!(lies(&surface, -20.0).abs() < 1e-6 && lies(&surface, -2.0) > 0.5);
    // The moon looks as it does without.
    let plain = scene(vec![(thing(shape("circle", ""), 136, 176), Some(STRAW))], Some(NIGHT)).surface();
    let middle = |surface: &Surface| {
        let area = surface.areas().into_iter().find(|area| {
            area.region.as_ref().is_some_and(|region| region.has([136.0 / 64.0 * 25.4, 176.0 / 64.0 * 25.4]))
        });
        let area = area.unwrap().surface;
        let effects = area.effects();
        area.lab_at((136.0 / 64.0 * 25.4, 176.0 / 64.0 * 25.4), &effects)
    };
    assert!(middle(&surface).difference(middle(&plain)) < 1e-9);
}

#[test]
fn flecks_that_are_to_show_come_after_it_and_it_goes_along_with_its_thing() {
    let flecks = Loose::last(Flick(Flecks::of_look(
        Thrown::Water,
        FleckLook::Snow,
        (Length::from_64ths(272), Length::from_64ths(352)),
    )));
    let panel = moon(4, vec![flecks]);
    let place = |of: &dyn Fn(&Move) -> bool| panel.moves.iter().position(of).unwrap();
    assert!(place(&|m| matches!(m, Move::Flick(_))) < place(&|m| matches!(m, Move::Edging(_))));
    // Its thing gone, there is nothing to brush round.
    let bare = panel.with_things(Vec::new());
    assert!(bare.scene.loose.iter().all(|loose| loose.step.covers().is_none()));
}
