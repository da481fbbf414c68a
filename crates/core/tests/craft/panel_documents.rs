//! A panel's document: out and in again it is the same, and what cannot be is refused with the remedy.

use proptest::prelude::*;
use rosy_core::blend::Way;
use rosy_core::colour::Colour;
use rosy_core::document::Document;
use rosy_core::ink::{Finish, Ink, Kind, Paper, Tool, ToolKind};
use rosy_core::judgement::{Owned, Reading, Remedy, Rule};
use rosy_core::moves::Technique;
use rosy_core::order::RunSheet;
use rosy_core::scene::School;
use rosy_core::{Length, Panel, Units};

fn panel(way: Way, school: School, inks: &[(Kind, [f64; 3])], units: Units) -> Panel {
    let paper = Paper {
        name: "Slack water".parse().unwrap(),
        colour: Colour::Srgb("#f7f6f3".parse().unwrap()),
        surface: Finish::VerySmooth,
        thickness: Length::from_tenths_mm(3),
    };
    let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
    let (width, height) = (Length::from_inches(4), Length::from_64ths(5 * 64 + 16));
    let mut panel = Panel::bare("Ebb at six".parse().unwrap(), width, height, paper, tool, 3);
    (panel.scene.ground[0].way, panel.school) = (way, school);
    let inks = inks
        .iter()
        .map(|(kind, lab)| Ink {
            name: "Cockle".parse().unwrap(),
            kind: *kind,
            colour: Colour::Lab((*lab).into()),
            one_veil: None,
            full_veils: 7,
            on_ink: None,
        })
        .collect();
    panel.with_inks(inks, units)
}

fn tide_and_lamp() -> Panel {
    panel(
        Way::DOWN,
        School::LightToDark,
        &[(Kind::Dye, [57.0, -22.0, -36.0]), (Kind::Dye, [80.0, 14.0, 72.0])],
        Units::Inches,
    )
}

fn any_ink() -> impl Strategy<Value = (Kind, [f64; 3])> {
    (prop::sample::select(&Kind::ALL[..]), (20.0..90.0, -60.0..60.0, -60.0..80.0))
        .prop_map(|(kind, (l, a, b))| (kind, [l, a, b]))
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn out_and_in_again_is_the_same_document(
        way in prop::sample::select(&Way::USUAL[..]),
        school in prop::sample::select(&School::ALL[..]),
        inks in prop::collection::vec(any_ink(), 0..6),
        metric: bool,
    ) {
        let units = if metric { Units::Millimetres } else { Units::Inches };
        let made = panel(way, school, &inks, units);
        prop_assert_eq!(made.check(), Ok(()));
        let text = serde_json::to_string_pretty(&made).unwrap();
        let back: Panel = serde_json::from_str(&text).unwrap();
        prop_assert_eq!(&back, &made);
        prop_assert_eq!(serde_json::to_string_pretty(&back).unwrap(), text);
    }

    #[test]
    fn another_size_keeps_every_field_on_the_panel(width in 64_i64..700, height in 64_i64..700) {
        let (width, height) = (Length::from_64ths(width), Length::from_64ths(height));
        let sized = tide_and_lamp().resized(width, height, Units::Inches).unwrap();
        prop_assert_eq!(sized.check(), Ok(()));
    }

    #[test]
    fn every_remedy_offered_brings_the_trouble_down(inks in prop::collection::vec(any_ink(), 2..4)) {
        let made = panel(Way::DOWN, School::LightToDark, &inks, Units::Inches);
        let reading = Reading::of(&made);
        for finding in reading.findings.iter().take(2) {
            for remedy in Remedy::all(&made, &made.materials(), &reading, finding, &Owned::default(), Units::Inches) {
                let mended = remedy.panel;
                prop_assert_eq!(mended.check(), Ok(()));
                prop_assert!(Reading::of(&mended).trouble() < reading.trouble());
            }
        }
    }
}

#[test]
fn documents_that_cannot_be_are_refused_with_the_remedy() {
    let good = serde_json::to_value(tide_and_lamp()).unwrap();
    for (at, value, says) in [
        ("/version", serde_json::json!(7), "newer Rosy Veil"),
        ("/width", serde_json::json!("3000 mm"), "longer than 50 in"),
        ("/width", serde_json::json!("40 in"), "1 in (25.4 mm) to 12 in"),
        ("/height", serde_json::json!("4 1/0 in"), "divides by nothing"),
        ("/name", serde_json::json!("x".repeat(10_000)), "10000 characters"),
        ("/scene/ground/0/zone", serde_json::json!("1/64 in"), "finer than a brush"),
        ("/scene/ground/0/fields/0/veils", serde_json::json!(0), "light passes"),
        ("/scene/ground/0/fields/1/ends", serde_json::json!("9 in"), "must lie on the panel"),
        ("/moves/0/lay/ink", serde_json::json!(9), "lay the blend again"),
        ("/scene/ground/0/zone", serde_json::json!("0 in"), "finer than a brush"),
        ("/width", serde_json::json!("-5 in"), "1 in (25.4 mm) to 12 in"),
    ] {
        let mut bad = good.clone();
        *bad.pointer_mut(at).unwrap() = value;
        let refused = serde_json::from_value::<Panel>(bad).unwrap_err().to_string();
        assert!(refused.contains(says), "{at}: {refused}");
    }
}

#[test]
fn a_document_read_from_outside_is_laid_only_once_it_is_checked() {
    let good = serde_json::to_value(tide_and_lamp()).unwrap();
    let laid = |at: &str, value: serde_json::Value| {
        let mut document = good.clone();
        *document.pointer_mut(at).unwrap() = value;
        serde_json::from_value::<Document>(document).unwrap().laid()
    };
    // Other bands than the moves were laid for: laid anew.
    let deeper = laid("/scene/ground/0/fields/0/veils", serde_json::json!(9)).unwrap();
    assert_eq!(deeper.check(), Ok(()));
    assert_ne!(deeper.moves, tide_and_lamp().moves);
    for (at, value) in [
        ("/scene/ground/0/zone", serde_json::json!("0 in")),
        ("/width", serde_json::json!("-50 in")),
        ("/height", serde_json::json!("50 in")),
        ("/scene/ground/0/fields/0/starts", serde_json::json!("-1 in")),
        ("/scene/ground/0/fields", serde_json::json!([])),
    ] {
        assert!(laid(at, value).is_err(), "{at}");
    }
    let fields = vec![good["scene"]["ground"][0]["fields"][0].clone(); 50];
    assert!(laid("/scene/ground/0/fields", fields.into()).is_err());
    assert!(tide_and_lamp().resized(Length::from_inches(-5), Length::from_inches(4), Units::Inches).is_err());
}

#[test]
fn a_join_squeezed_together_is_a_hard_edge_and_widening_mends_it() {
    let mut squeezed = tide_and_lamp();
    let middle = Length::from_64ths(2 * 64 + 40);
    let hair = Length::from_64ths(4);
    squeezed.tool.kind = ToolKind::Dauber;
    (squeezed.scene.ground[0].fields[0].full_to, squeezed.scene.ground[0].fields[0].ends) =
        (middle - hair, middle + hair);
    (squeezed.scene.ground[0].fields[1].starts, squeezed.scene.ground[0].fields[1].full_from) =
        (middle - hair, middle + hair);
    let squeezed = squeezed.laid();
    let reading = Reading::of(&squeezed);
    let finding = reading.findings.iter().find(|f| f.rule == Rule::HardEdge).expect("a hard edge");
    let remedy =
        Remedy::all(&squeezed, &squeezed.materials(), &reading, finding, &Owned::default(), Units::Inches)
            .into_iter()
            .next()
            .expect("a remedy");
    assert!(remedy.says.starts_with("Widen the meeting by"), "{}", remedy.says);
    let mended = Reading::of(&remedy.panel);
    assert!(mended.junctions[0].steepest < reading.junctions[0].steepest);
}

#[test]
fn opposites_side_by_side_are_found_and_reordering_mends_them() {
    // Orange beside blue is mud; with the pink between them both joins are clean.
    let (orange, blue, pink) = ([66.0, 42.0, 62.0], [52.0, -15.0, -42.0], [56.0, 60.0, -8.0]);
    let muddy = panel(
        Way::DOWN,
        School::LightToDark,
        &[(Kind::Dye, pink), (Kind::Dye, orange), (Kind::Dye, blue)],
        Units::Inches,
    );
    let reading = Reading::of(&muddy);
    let finding = reading.findings.iter().find(|f| f.rule == Rule::Mud).expect("mud");
    assert_eq!(finding.of, 1);
    let remedy = Remedy::all(&muddy, &muddy.materials(), &reading, finding, &Owned::default(), Units::Inches)
        .into_iter()
        .next()
        .expect("a remedy");
    assert_eq!(remedy.panel.inks[1], muddy.inks[0], "the pink goes between: {}", remedy.says);
    let mended = Reading::of(&remedy.panel);
    assert!(!mended.findings.iter().any(|f| f.rule == Rule::Mud), "{:?}", mended.findings);
}

#[test]
fn a_muddy_join_is_bridged_from_the_drawer() {
    let (orange, blue, pink, green) =
        ([66.0, 42.0, 62.0], [52.0, -15.0, -42.0], [56.0, 60.0, -8.0], [55.0, -40.0, 30.0]);
    let muddy =
        panel(Way::DOWN, School::LightToDark, &[(Kind::Dye, orange), (Kind::Dye, blue)], Units::Inches);
    let drawer =
        panel(Way::DOWN, School::LightToDark, &[(Kind::Dye, green), (Kind::Dye, pink)], Units::Inches);
    let owned = Owned { inks: drawer.inks.clone(), ..Owned::default() };
    let reading = Reading::of(&muddy);
    let finding = reading.findings.iter().find(|f| f.rule == Rule::Mud).expect("mud");
    let remedy = Remedy::all(&muddy, &muddy.materials(), &reading, finding, &owned, Units::Inches);
    let bridge = remedy.into_iter().find(|remedy| remedy.says.starts_with("Put"));
    let mended = bridge.expect("a bridge").panel;
    assert_eq!(mended.inks[1], drawer.inks[1], "the pink goes between");
    assert!(!Reading::of(&mended).findings.iter().any(|f| f.rule == Rule::Mud));
    assert_eq!(mended.check(), Ok(()));
}

#[test]
fn what_no_single_change_mends_is_mended_by_several_at_one_press() {
    let mut heavy = tide_and_lamp();
    heavy.scene.ground[0].fields[0].veils = 24;
    let heavy = heavy.laid();
    let reading = Reading::of(&heavy);
    let finding = reading.findings.iter().find(|f| f.rule == Rule::Overload).expect("too much ink");
    let remedies =
        Remedy::all(&heavy, &heavy.materials(), &reading, finding, &Owned::default(), Units::Inches);
    let best = remedies.first().expect("a remedy");
    assert!(best.mends, "{}", best.says);
    assert!(!Reading::of(&best.panel).findings.iter().any(|f| f.rule == Rule::Overload));
    assert!(
        best.panel.scene.ground[0].fields[0].veils < 18,
        "more than the largest single step: {}",
        best.says
    );
}

#[test]
fn weak_and_strong_inks_are_told_and_another_is_taken_in_their_place() {
    let usual = tide_and_lamp();
    for (full_veils, rule) in [(20, Rule::Weak), (2, Rule::Strong)] {
        let mut odd = usual.clone();
        odd.inks[0].full_veils = full_veils;
        let odd = odd.laid();
        let reading = Reading::of(&odd);
        let finding = reading.findings.iter().find(|f| f.rule == rule);
        let finding = finding.unwrap_or_else(|| panic!("{rule:?}: {:?}", reading.findings));
        let owned = Owned { inks: vec![usual.inks[0].clone()], ..Owned::default() };
        let remedies = Remedy::all(&odd, &odd.materials(), &reading, finding, &owned, Units::Inches);
        let best = remedies.first().expect("the same colour from a usual pad");
        assert!(best.mends && best.says.starts_with("Take"), "{}", best.says);
        assert_eq!(best.panel.inks[0], usual.inks[0]);
        let none = Remedy::all(&odd, &odd.materials(), &reading, finding, &Owned::default(), Units::Inches);
        assert_eq!(none.first().map(|remedy| remedy.mends), None, "hills do not change a pad");
    }
}

#[test]
fn three_inks_make_five_colours() {
    let panel = panel(
        Way::DOWN,
        School::LightToDark,
        &[
            (Kind::Dye, [57.0, -22.0, -36.0]),
            (Kind::Dye, [55.0, 60.0, -10.0]),
            (Kind::Dye, [84.0, 6.0, 76.0]),
        ],
        Units::Inches,
    );
    let seen = Reading::of(&panel).colours_seen;
    let words: Vec<&str> = seen.iter().map(|name| name.as_str()).collect();
    for word in ["blue", "violet", "pink", "orange", "yellow"] {
        assert!(words.contains(&word), "{words:?}");
    }
}

#[test]
fn the_run_sheet_makes_every_move_once_and_carries_the_cautions() {
    let panel = tide_and_lamp();
    let sheet = RunSheet::of(&panel, Units::Millimetres);
    let laid: Vec<usize> = sheet.steps.iter().filter(|s| s.ink.is_some()).map(|s| s.after_moves).collect();
    let inked = (1..=panel.moves.len()).filter(|after| panel.moves[after - 1].laying().is_some());
    assert_eq!(laid, inked.collect::<Vec<_>>());
    let care = |word: &str| sheet.steps.iter().any(|s| s.care.as_deref().is_some_and(|c| c.contains(word)));
    assert!(care("blade away") && care("stains") && care("250 °C"));
    assert!(sheet.steps.iter().all(|s| !s.how.contains(" in from")), "all measures are metric");
}
