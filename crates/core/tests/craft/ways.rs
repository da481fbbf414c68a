//! Blends along every way: the laws of symmetry that a picture and a judgement must keep.

use proptest::prelude::*;
use rosy_core::blend::{Blend, Field, Way};
use rosy_core::colour::{Colour, Illuminant, Lab};
use rosy_core::ink::{Finish, Ink, Kind, Paper, Tool, ToolKind};
use rosy_core::judgement::{Reading, Rule};
use rosy_core::moves::Technique;
use rosy_core::order::RunSheet;
use rosy_core::picture::{Size, draw};
use rosy_core::place::{Corner, Point};
use rosy_core::scene::School;
use rosy_core::{Length, Panel, Units};

fn ink(name: &str, kind: Kind, lab: [f64; 3]) -> Ink {
    let colour = Colour::Lab(lab.into());
    Ink { name: name.parse().unwrap(), kind, colour, one_veil: None, full_veils: 7, on_ink: None }
}

fn tide() -> Ink {
    ink("First Tide", Kind::Dye, [50.0, -22.0, -36.0])
}

fn cockle() -> Ink {
    ink("Cockle", Kind::Dye, [55.0, 60.0, -4.0])
}

fn lamp() -> Ink {
    ink("Tea-hut Lamp", Kind::Oxide, [80.0, 14.0, 72.0])
}

fn inches(n: i64) -> Length {
    Length::from_inches(n)
}

fn at(left: i64, top: i64) -> Point {
    Point { left: inches(left), top: inches(top) }
}

fn bare(width: Length, height: Length) -> Panel {
    let paper = Paper::plain(Finish::VerySmooth);
    let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
    Panel::bare("Lamp on the groyne".parse().unwrap(), width, height, paper, tool, 3)
}

fn along(way: Way, inks: Vec<Ink>, size: (Length, Length)) -> Panel {
    let mut panel = bare(size.0, size.1);
    panel.scene.ground[0].way = way;
    panel.with_inks(inks, Units::Inches)
}

fn seen(panel: &Panel, x: f64, y: f64) -> Lab {
    let surface = panel.surface();
    surface.stack(&surface.veils_at(&surface.spot(x, y)), |_| 1.0).lab(Illuminant::D65)
}

/// The panel turned by a right angle, clockwise: left becomes top.
fn turned(panel: &Panel) -> Panel {
    let height = panel.height;
    let point = |at: Point| Point { left: height - at.top, top: at.left };
    let way = |way: Way| match way {
        Way::Band { angle } => Way::Band { angle: (angle + 90) % 360 },
        Way::Corner { from, round } => Way::Corner {
            round,
            from: match from {
                Corner::TopLeft => Corner::TopRight,
                Corner::TopRight => Corner::BottomRight,
                Corner::BottomRight => Corner::BottomLeft,
                Corner::BottomLeft => Corner::TopLeft,
            },
        },
        Way::Glow { centre, across, down } => Way::Glow { centre: point(centre), across: down, down: across },
        Way::Patch { centre, across, down } => {
            Way::Patch { centre: point(centre), across: down, down: across }
        }
        Way::Vignette { corners } => Way::Vignette { corners },
        Way::Streak { from, to, reach } => Way::Streak { from: point(from), to: point(to), reach },
        Way::Rim { reach } => Way::Rim { reach },
    };
    let mut turned = panel.clone();
    (turned.width, turned.height) = (panel.height, panel.width);
    for blend in &mut turned.scene.ground {
        blend.way = way(blend.way);
    }
    turned.moves.clear();
    turned.laid()
}

fn any_way() -> impl Strategy<Value = Way> {
    let length = |from: i64, to: i64| (from * 4..to * 4).prop_map(|n| Length::from_64ths(n * 16));
    let point = move || (length(0, 4), length(0, 5)).prop_map(|(left, top)| Point { left, top });
    prop_oneof![
        (0_u16..360).prop_map(|angle| Way::Band { angle }),
        (prop::sample::select(&Corner::ALL[..]), any::<bool>())
            .prop_map(|(from, round)| Way::Corner { from, round }),
        (point(), length(1, 5), length(1, 5)).prop_map(|(centre, across, down)| Way::Glow {
            centre,
            across,
            down
        }),
        length(0, 2).prop_map(|corners| Way::Vignette { corners }),
        (point(), length(1, 3), length(1, 3)).prop_map(|(centre, across, down)| Way::Patch {
            centre,
            across,
            down
        }),
        (point(), point(), length(1, 2)).prop_map(|(from, to, reach)| Way::Streak { from, to, reach }),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    #[test]
    fn turning_a_panel_by_a_right_angle_turns_its_colours(
        one in any_way(), other in any_way(), x in 0.0..101.0, y in 0.0..127.0,
    ) {
        let size = (inches(4), inches(5));
        let panel = along(one, vec![tide(), cockle()], size)
            .with_blend_of(vec![(lamp(), None)], other, Units::Inches);
        let there = turned(&panel);
        let off = seen(&panel, x, y).difference(seen(&there, 127.0 - y, x));
        prop_assert!(off < 0.05, "{one:?} {other:?}: ΔE00 {off}");
    }

    #[test]
    fn every_way_can_be_laid_drawn_and_carried_to_another_card(
        one in any_way(), other in any_way(), wide in 2_i64..9, high in 2_i64..9,
    ) {
        let panel = along(one, vec![tide(), cockle()], (inches(4), inches(5)))
            .with_blend_of(vec![(lamp(), None), (tide(), Some(0))], other, Units::Inches);
        prop_assert_eq!(panel.check(), Ok(()));
        let text = serde_json::to_string(&panel).unwrap();
        prop_assert_eq!(&serde_json::from_str::<Panel>(&text).unwrap(), &panel);
        let drawn = draw(&panel.surface(), Size { dpi: 12.0 });
        prop_assert!(drawn.is_ok());
        let carried = panel.resized(inches(wide), inches(high), Units::Inches).unwrap();
        prop_assert_eq!(carried.check(), Ok(()));
        for school in School::ALL {
            let laid = Panel { school, ..carried.clone() }.laid();
            prop_assert_eq!(laid.check(), Ok(()));
            let sheet = RunSheet::of(&laid, Units::Millimetres);
            prop_assert!(sheet.steps.iter().all(|step| !step.how.contains(" in from")));
        }
    }
}

#[test]
fn a_glow_looks_the_same_from_all_sides() {
    let way = Way::Glow { centre: at(2, 2), across: inches(3), down: inches(3) };
    let panel = along(way, vec![lamp(), tide()], (inches(4), inches(4)));
    let mean = |dx: f64, dy: f64| seen(&panel, 50.8 + dx, 50.8 + dy);
    for far in [5.0, 20.0, 40.0] {
        let one = mean(far, 0.0);
        for n in 1..12 {
            let (sin, cos) = (f64::from(n) * std::f64::consts::FRAC_PI_6).sin_cos();
            assert!(mean(far * cos, far * sin).difference(one) < 1e-6);
        }
    }
    // Light within or without is the inks the other way round.
    assert!(mean(0.0, 0.0).l > mean(45.0, 0.0).l + 15.0);
}

#[test]
fn opposite_edges_of_a_vignette_are_alike() {
    let mut panel = along(Way::Vignette { corners: inches(1) }, vec![tide()], (inches(4), inches(5)));
    panel.scene.ground[0].fields[0].full_to = Length::from_64ths(16);
    panel.scene.ground[0].fields[0].ends = inches(1);
    let panel = panel.laid();
    for off in [0.5, 8.0, 20.0] {
        let (w, h) = (101.6, 127.0);
        for (x, y) in [(off, 40.0), (w - off, 40.0), (off, h - 40.0)] {
            let other = seen(&panel, w - x, y);
            assert!(seen(&panel, x, y).difference(other) < 1e-6);
        }
        assert!(seen(&panel, off, 63.5).difference(seen(&panel, 50.8, off)) < 1e-6);
    }
    assert!(
        seen(&panel, 1.0, 1.0).l <= seen(&panel, 1.0, 63.0).l + 1e-9,
        "corners are no lighter than edges"
    );
    assert!(seen(&panel, 50.8, 63.5).difference(panel.paper.lab()) < 0.5, "the middle stays bare");
}

#[test]
fn a_blend_in_two_halves_is_the_same_blend() {
    let whole = along(Way::DOWN, vec![tide(), cockle()], (inches(4), inches(5)));
    let mut even = whole.scene.ground[0].clone();
    let with = |veils: u8, blend: &mut Blend| blend.fields.iter_mut().for_each(|field| field.veils = veils);
    with(8, &mut even);
    let whole = whole.with_blend(0, even.clone());
    with(4, &mut even);
    let mut halves = whole.clone();
    halves.scene.ground = vec![even.clone(), even];
    let halves = halves.laid();
    let veils = |panel: &Panel, y: f64| {
        let surface = panel.surface();
        surface.by_ink(&surface.veils_at(&surface.spot(50.0, y)))
    };
    for n in 0..40 {
        let y = 1.0 + 3.15 * f64::from(n);
        let (one, two) = (veils(&whole, y), veils(&halves, y));
        // Each half of a slope comes in whole veils of its own: no more than one apart.
        assert!(
            one.iter().zip(&two).all(|(one, two)| (one - two).abs() <= 1.0 + 1e-9),
            "{y}: {one:?} {two:?}"
        );
        let level = one.iter().zip(&two).all(|(one, two)| (one - two).abs() < 1e-9);
        assert!(!level || seen(&whole, 50.0, y).difference(seen(&halves, 50.0, y)) < 1.0, "{y}");
    }
    let (one, two) = (Reading::of(&whole), Reading::of(&halves));
    assert_eq!(one.junctions[0].verdict, two.junctions[0].verdict);
    assert_eq!(one.junctions[0].named, two.junctions[0].named);
}

#[test]
fn mud_is_found_where_inks_of_two_blends_lie_over_one_another() {
    let orange = ink("Kite Tail", Kind::Dye, [66.0, 42.0, 62.0]);
    let blue = ink("Night Ferry", Kind::Dye, [45.0, -5.0, -42.0]);
    let size = (inches(4), inches(5));
    let panel = along(Way::DOWN, vec![orange.clone()], size);
    let patch = Way::Patch { centre: at(2, 3), across: inches(1), down: inches(1) };
    let both = panel.clone().with_blend_of(vec![(blue, None)], patch, Units::Inches);
    let mud: Vec<_> =
        Reading::of(&both).findings.into_iter().filter(|finding| finding.rule == Rule::Mud).collect();
    assert_eq!(mud.len(), 1, "{mud:?}");
    assert_eq!(mud[0].inks, [0, 1]);
    let (left, top) = (mud[0].spot.left.inches() - 2.0, mud[0].spot.top.inches() - 3.0);
    assert!(left.hypot(top) < 1.5, "it lies on the patch: {left} {top}");
    assert!(!Reading::of(&panel).findings.iter().any(|finding| finding.rule == Rule::Mud));
}

#[test]
fn a_patch_that_stops_short_is_a_hard_edge_on_bare_card() {
    let patch = Way::Patch { centre: at(2, 2), across: inches(2), down: inches(2) };
    let mut panel =
        along(patch, vec![ink("Groyne Tar", Kind::Dye, [20.0, 0.0, -5.0])], (inches(4), inches(5)));
    panel.tool.kind = ToolKind::Dauber;
    let hard = |panel: &Panel| {
        let found = Reading::of(panel).findings;
        found.into_iter().find(|finding| finding.rule == Rule::HardEdge)
    };
    let found = hard(&panel.clone().laid()).expect("a hard edge");
    assert_eq!(found.inks, [0]);
    assert!(found.says.contains("bare card"), "{}", found.says);
    panel.inks[0] = cockle();
    panel.scene.ground[0].fields[0].full_to = Length::from_64ths(8);
    panel.tool.kind = ToolKind::Brush;
    panel.scene.ground[0].fields[0].veils = 3;
    let soft = panel.laid();
    assert!(hard(&soft).is_none(), "{:?}", hard(&soft));
}

#[test]
fn inks_are_listed_once_and_go_with_their_blends() {
    let size = (inches(4), inches(5));
    let panel = along(Way::DOWN, vec![tide(), cockle()], size);
    let vignette = Way::Vignette { corners: inches(1) };
    let two = panel.clone().with_blend_of(vec![(tide(), Some(0))], vignette, Units::Inches);
    assert_eq!(two.inks.len(), 2, "the same ink along two ways is one ink");
    let three = two.clone().with_blend_of(vec![(lamp(), None)], Way::RIGHT, Units::Inches);
    assert_eq!((three.inks.len(), three.scene.ground[2].fields[0].ink), (3, 2));
    let without = three.clone().without_blend(0);
    let names: Vec<&str> = without.inks.iter().map(|ink| ink.name.as_str()).collect();
    assert_eq!(names, ["First Tide", "Tea-hut Lamp"]);
    assert_eq!(without.check(), Ok(()));
    // Taking an ink out of one blend leaves it where another still has it.
    let kept = two.choosing(0, vec![(cockle(), Some(1))], Units::Inches);
    assert_eq!(kept.inks.len(), 2);
    assert_eq!(kept.check(), Ok(()));
    assert!(panel.moves.iter().any(|m| m.laying().is_some()));
}

#[test]
fn fields_that_no_panel_has_are_refused() {
    let panel = along(Way::DOWN, vec![tide(), cockle()], (inches(4), inches(5)));
    let field = panel.scene.ground[0].fields[0];
    let with = |way: Way, fields: Vec<Field>| {
        let mut tried = panel.clone();
        tried.scene.ground[0] = Blend { way, fields, ..panel.scene.ground[0].clone() };
        tried.check().unwrap_err().to_string()
    };
    assert!(with(Way::Band { angle: 400 }, vec![field]).contains("0 to 359"));
    assert!(with(Way::DOWN, vec![field, field]).contains("each once"));
    assert!(with(Way::DOWN, vec![Field { ink: 7, ..field }]).contains("panel's own"));
    let far = Point { left: inches(-20), top: inches(1) };
    let glow = Way::Glow { centre: far, across: inches(2), down: inches(2) };
    assert!(with(glow, vec![field]).contains("beside it"));
    let thin = Way::Streak { from: at(1, 1), to: at(2, 2), reach: Length::from_64ths(1) };
    assert!(with(thin, vec![field]).contains("1/4 in"));
    assert!(with(Way::Vignette { corners: inches(3) }, vec![field]).contains("shorter side"));
}
