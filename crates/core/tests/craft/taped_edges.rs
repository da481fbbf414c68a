//! A white border: tape along the edges is a mask like others, from the first ink to the last.

use proptest::prelude::*;
use rosy_core::card::Card;
use rosy_core::edges::Edges;
use rosy_core::judgement::Reading;
use rosy_core::moves::{Breach, Move, Technique, heat::Heat, peel::Peel, tape::Tape};
use rosy_core::order::RunSheet;
use rosy_core::order::check::check;
use rosy_core::scene::Covering;
use rosy_core::shape::Use;
use rosy_core::supply::{Of, taken_by};
use rosy_core::surface::Heated;
use rosy_core::{Length, Panel, Units};

use super::covered_scenes::{NIGHT, STRAW, scene, shape, some_scene_of, thing};

/// The same panel on a card of its own size, with a border of so many sixty-fourths at each edge.
fn bordered(panel: &Panel, lines: Edges<i64>) -> Panel {
    let mut card = Card::fitting(&panel.inked(), Units::Inches);
    (card.format.width, card.format.height) = (panel.width, panel.height);
    card.layers[0].reveal = Default::default();
    (card.layers[0].width, card.layers[0].height) = (Some(panel.width), Some(panel.height));
    card.over = Length::ZERO;
    card.tape.border = lines.map(Length::from_64ths);
    Panel { card: Some(card), moves: Vec::new(), ..panel.clone() }.laid()
}

/// Square millimetres that any ink has reached outside the lines, and within them.
fn inked(panel: &Panel, lines: Edges<i64>) -> (f64, f64) {
    let (wide, high) = (panel.width.mm(), panel.height.mm());
    let line = lines.map(|line| Length::from_64ths(line).mm());
    let (mut beyond, mut within) = (0.0, 0.0);
    let surface = panel.surface();
    for area in surface.areas().iter().filter(|area| !area.surface.coats.is_empty()) {
        let region = area.region.as_ref().expect("a border divides the panel");
        let open = rosy_core::shape::Region::rect(
            line.left,
            line.top,
            wide - line.left - line.right,
            high - line.top - line.bottom,
        );
        within += region.intersected(&open).area();
        beyond += region.minus(&open).area();
    }
    (beyond, within)
}

#[test]
fn tape_goes_on_before_the_first_ink_and_comes_off_once_the_last_is_dry() {
    let plain = scene(Vec::new(), Some(NIGHT));
    let lines = Edges { left: 16, right: 24, top: 32, bottom: 64 };
    let panel = bordered(&plain, lines);
    let names: Vec<&str> = panel.moves.iter().map(Move::name).collect();
    assert_eq!(names.first(), Some(&"Tape"));
    assert_eq!(names[names.len() - 2..], ["Dry", "Peel"]);
    assert_eq!(check(&panel), []);
    let (beyond, within) = inked(&panel, lines);
    let open =
        (panel.width.mm() - Length::from_64ths(40).mm()) * (panel.height.mm() - Length::from_64ths(96).mm());
    assert!(beyond < 1e-3 && (within - open).abs() < 1e-3, "{beyond} {within} {open}");
    // Every line is told, and a border wider than the roll takes two strips.
    let how = |panel: &Panel| RunSheet::of(panel, Units::Inches).steps[2].how.clone();
    for said in ["1/4 in from the left edge", "3/8 in from the right", "1/2 in from the top"] {
        assert!(how(&panel).contains(said), "{}", how(&panel));
    }
    assert!(how(&panel).contains("Along the bottom edge it takes 2 strips side by side."), "{}", how(&panel));
    // Tape is taken off the roll: a strip along each edge, and another beside the broad one.
    let taken = taken_by(&panel)[&Of::Tape];
    assert!((taken - 2.0 * panel.height.mm() - 3.0 * panel.width.mm()).abs() < 1e-6, "{taken}");
    // A white border is no fault of the blend within.
    let findings = |panel: &Panel| Reading::of(panel).findings.len();
    assert_eq!(findings(&panel), findings(&plain));
}

#[test]
fn what_is_not_done_with_tape_is_told_and_put_right() {
    let lines = Edges::all(24);
    let panel = bordered(&scene(Vec::new(), Some(NIGHT)), lines);
    let peel = Move::from(Peel {});
    // Never peeled.
    let mut left = panel.clone();
    left.moves.retain(|m| *m != peel);
    let broken = check(&left);
    assert_eq!(broken.iter().map(|one| one.breach).collect::<Vec<_>>(), [Breach::LeftOn]);
    assert!(broken[0].says.starts_with("The tape along the edges is never lifted"), "{}", broken[0].says);
    assert_eq!(broken[0].mended(&left).moves, panel.moves);
    // Peeled while the ink beside it is damp.
    let mut damp = panel.clone();
    let dry = damp.moves.len() - 2;
    damp.moves.remove(dry);
    let broken = check(&damp);
    assert_eq!(broken.iter().map(|one| one.breach).collect::<Vec<_>>(), [Breach::LiftedDamp]);
    assert_eq!(broken[0].mended(&damp).moves, panel.moves);
    // Laid twice.
    let mut twice = panel.clone();
    twice.moves.insert(1, Tape {}.into());
    assert_eq!(check(&twice)[0].breach, Breach::NoSuchMask);
}

#[test]
fn heat_comes_near_masks_only_where_the_maker_lets_it() {
    let lamp = thing(shape("circle", ""), 136, 110);
    let mut stencilled = lamp.clone();
    stencilled.shape.used = Use::Stencil;
    for (thing, is_film) in [(lamp, false), (stencilled, true)] {
        let panel = scene(vec![(thing, Some(STRAW))], Some(NIGHT));
        let on = panel.moves.iter().position(|m| m.mask().is_some()).unwrap() + 1;
        let told = |heated: Heated| {
            let surface = Panel { heated, ..panel.clone() }.after(on);
            let is_said = Heat {}.words(&surface, Units::Inches).care.unwrap().contains("A mask is on");
            assert!(is_said, "the caution stands wherever heat meets a mask");
            Heat {}.unmet(&surface).len()
        };
        assert_eq!(told(Heated::default()), 1, "never, as long as she says nothing");
        assert_eq!(told(Heated { film: is_film, sheet: !is_film }), 0);
        assert_eq!(told(Heated { film: !is_film, sheet: is_film }), 1);
    }
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(16) })]

    #[test]
    fn whatever_stands_there_no_ink_comes_on_a_border(
        panel in some_scene_of(1..=4), left in 0_i64..60, top in 1_i64..60, bottom in 0_i64..60,
    ) {
        let lines = Edges { left, right: left, top, bottom };
        for covering in [Covering::Fewest, Covering::FrontFirst] {
            let panel = bordered(&Panel { covering, ..panel.clone() }, lines);
            let (beyond, _) = inked(&panel, lines);
            prop_assert!(beyond < 0.1, "{beyond} square millimetres");
            let broken: Vec<Breach> = check(&panel).into_iter().map(|one| one.breach).collect();
            let plain: Vec<Breach> = check(&Panel { card: None, moves: Vec::new(), ..panel.clone() }.laid())
                .into_iter().map(|one| one.breach).collect();
            prop_assert!(broken.iter().all(|one| plain.contains(one)), "{broken:?}");
        }
    }
}
