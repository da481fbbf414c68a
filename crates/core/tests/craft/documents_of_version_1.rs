//! Panels kept by the first version of the document: they come out in the same colours at the same places, cost the same,
//! are judged alike and keep their ticks. `version_1/came_out.json` holds what that version made of them.

use rosy_core::Panel;
use rosy_core::Units;
use rosy_core::blend::Verdict;
use rosy_core::colour::{Illuminant, Lab};
use rosy_core::judgement::{Finding, Reading, Rule};
use rosy_core::moves::Technique;
use rosy_core::order::{Cost, RunSheet};
use serde::Deserialize;
use std::collections::BTreeMap;

const FILES: [(&str, &str); 4] = [
    ("ebb_down", include_str!("../version_1/ebb_down.json")),
    ("strings_corner", include_str!("../version_1/strings_corner.json")),
    ("stripes_left", include_str!("../version_1/stripes_left.json")),
    ("lamp_up", include_str!("../version_1/lamp_up.json")),
];

#[derive(Deserialize)]
struct CameOut {
    colours: Vec<Seen>,
    steps: usize,
    cost: Laid,
    verdicts: Vec<(Verdict, String, f64, f64, f64)>,
    findings: Vec<Found>,
}

/// What was laid, and the minutes it took when every change of ink was a brush wiped.
#[derive(Deserialize)]
struct Laid {
    veils: usize,
    rounds: u8,
    changes: usize,
    dark_then_light: usize,
    minutes: u32,
}

#[derive(Deserialize)]
struct Seen {
    after: usize,
    x_mm: f64,
    y_mm: f64,
    lab: [f64; 3],
}

#[derive(Deserialize)]
struct Found {
    rule: Rule,
    of: usize,
    figure: f64,
}

fn each(check: impl Fn(&str, Panel, &CameOut)) {
    let came_out: BTreeMap<String, CameOut> =
        serde_json::from_str(include_str!("../version_1/came_out.json")).unwrap();
    for (name, text) in FILES {
        check(name, serde_json::from_str(text).unwrap(), &came_out[name]);
    }
}

#[test]
fn the_same_colours_lie_at_the_same_places() {
    each(|name, panel, came_out| {
        for Seen { after, x_mm, y_mm, lab } in &came_out.colours {
            // Then every move laid ink: after so many of those.
            let laid = (0..=panel.moves.len())
                .find(|n| panel.moves[..*n].iter().filter(|m| m.laying().is_some()).count() == *after);
            let surface = panel.after(laid.unwrap());
            let spot = surface.spot(*x_mm, *y_mm);
            let seen = surface.stack(&surface.veils_at(&spot), |_| 1.0).lab(Illuminant::D65);
            let off = seen.difference(Lab::from(*lab));
            assert!(off < 1e-6, "{name} after {after} at {x_mm}, {y_mm}: ΔE00 {off}");
        }
    });
}

#[test]
fn they_cost_the_same_and_have_the_same_steps() {
    each(|name, panel, came_out| {
        let sheet = RunSheet::of(&panel, Units::Inches);
        let Cost { veils, rounds, changes, dark_then_light, minutes, .. } = sheet.cost;
        let was = &came_out.cost;
        assert_eq!((veils, rounds), (was.veils, was.rounds), "{name}");
        assert_eq!((changes, dark_then_light), (was.changes, was.dark_then_light), "{name}");
        assert!(minutes <= was.minutes, "{name}: wiping only where it shows takes no longer");
        assert_eq!(sheet.steps.len(), came_out.steps, "{name}");
    });
}

#[test]
fn they_are_judged_alike() {
    each(|name, panel, came_out| {
        let reading = Reading::of(&panel);
        assert_eq!(reading.junctions.len(), came_out.verdicts.len(), "{name}");
        for (junction, (verdict, named, kept, steepest, dark)) in
            reading.junctions.iter().zip(&came_out.verdicts)
        {
            assert_eq!((junction.verdict, junction.named.to_string()), (*verdict, named.clone()), "{name}");
            let near = |one: f64, other: f64| (one - other).abs() < 0.1 * other.abs() + 0.05;
            assert!(near(junction.chroma_kept, *kept), "{name}: {} {kept}", junction.chroma_kept);
            assert!(near(junction.steepest, *steepest), "{name}: {} {steepest}", junction.steepest);
            assert!(near(junction.dark_band, *dark), "{name}: {} {dark}", junction.dark_band);
        }
        // How far a pad goes was not judged then.
        let known = |f: &&Finding| !matches!(f.rule, Rule::Weak | Rule::Strong);
        let found: Vec<(Rule, usize)> =
            reading.findings.iter().filter(known).map(|f| (f.rule, f.of)).collect();
        // A veil was thought to be more uneven then, and limits were wider by as much.
        let finer = |known: &Found| if known.rule == Rule::Splotch { 0.105 / 0.24 } else { 1.0 };
        for known in &came_out.findings {
            let was = known.figure * finer(known);
            let figure =
                reading.findings.iter().find(|f| (f.rule, f.of) == (known.rule, known.of)).map(|f| f.figure);
            assert!(figure.is_some_and(|f| (f - was).abs() < 0.1 * was), "{name}: {found:?} {figure:?}");
        }
        assert_eq!(found.len(), came_out.findings.len(), "{name}: {found:?}");
    });
}

#[test]
fn they_are_laid_as_they_were_and_written_as_the_present_version() {
    each(|name, panel, _| {
        assert_eq!(panel.clone().laid(), panel, "{name}: nothing is laid anew, ticks stay");
        let text = serde_json::to_string(&panel).unwrap();
        assert!(text.starts_with("{\"version\":2,"), "{name}");
        assert_eq!(serde_json::from_str::<Panel>(&text).unwrap(), panel, "{name}");
    });
}

#[test]
fn half_of_one_version_and_half_of_the_other_is_refused() {
    let one: serde_json::Value = serde_json::from_str(FILES[0].1).unwrap();
    let with = |at: &str, value: serde_json::Value| {
        let mut document = one.clone();
        document[at] = value;
        serde_json::from_value::<Panel>(document).unwrap_err().to_string()
    };
    assert!(with("version", 2.into()).contains("scene"));
    assert!(with("version", 9.into()).contains("newer Rosy Veil"));
    assert!(with("version", 0.into()).contains("first version is 1"));
    let mut moved = one.clone();
    moved["moves"][1]["ink"] = "pink".into();
    assert!(serde_json::from_value::<Panel>(moved).unwrap_err().to_string().contains("move 2"));
}
