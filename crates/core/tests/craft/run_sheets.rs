//! Run sheets: what the maker reads is what the moves say, in the maker's own units.

use rosy_core::blend::Way;
use rosy_core::card::{Card, Fold};
use rosy_core::colour::Colour;
use rosy_core::ink::{Finish, Ink, KeptFor, Kind, Paper, Tool, ToolKind};
use rosy_core::judgement::Reading;
use rosy_core::moves::{Laying, Move, Technique};
use rosy_core::order::{Cost, RunSheet};
use rosy_core::scene::School;
use rosy_core::{Length, Panel, Units};

const TIDE: (&str, [f64; 3]) = ("First Tide", [57.0, -17.0, -31.0]);
const COCKLE: (&str, [f64; 3]) = ("Cockle", [57.0, 56.0, -4.0]);
const LAMP: (&str, [f64; 3]) = ("Tea-hut Lamp", [80.0, 12.0, 62.0]);

fn panel(way: Way, school: School, kind: Kind, surface: Finish, tool: ToolKind) -> Panel {
    let paper = Paper::plain(surface);
    let tool = Tool::one("Dome".parse().unwrap(), tool);
    let (width, height) = (Length::from_inches(4), Length::from_64ths(5 * 64 + 16));
    let mut panel = Panel::bare("Ebb at six".parse().unwrap(), width, height, paper, tool, 1);
    (panel.scene.ground[0].way, panel.school) = (way, school);
    let inks = [TIDE, COCKLE, LAMP].map(|(name, lab)| Ink {
        name: name.parse().unwrap(),
        kind,
        colour: Colour::Lab(lab.into()),
        one_veil: None,
        full_veils: 7,
        on_ink: None,
    });
    panel.with_inks(inks.to_vec(), Units::Inches)
}

fn usual(way: Way, school: School) -> Panel {
    panel(way, school, Kind::Dye, Finish::VerySmooth, ToolKind::Brush)
}

fn layings(panel: &Panel) -> impl Iterator<Item = &Laying> {
    panel.moves.iter().filter_map(Move::laying)
}

#[test]
fn the_sheet_cuts_first_and_dries_last() {
    for school in School::ALL {
        let sheet = RunSheet::of(&usual(Way::DOWN, school), Units::Inches);
        let titles: Vec<&str> = sheet.steps.iter().map(|step| step.title.as_str()).collect();
        assert!(titles[0].starts_with("Cut the card to 4 × 5 1/4 in"), "{titles:?}");
        assert_eq!(titles.last(), Some(&"Let it dry"));
        assert!(sheet.steps.windows(2).all(|pair| pair[0].after_moves <= pair[1].after_moves));
    }
}

/// A panel as large as the front of its folded card may be that front: what keeps its back clean is said there, and nowhere else.
#[test]
fn the_back_of_a_card_that_opens_is_kept_clean() {
    let says = |width: i64, fold: Fold| {
        let mut panel = usual(Way::DOWN, School::LightToDark);
        (panel.width, panel.height) = (Length::from_64ths(width), Length::from_64ths(352));
        let mut card = Card::fitting(&panel.inked(), Units::Inches);
        (card.format.width, card.format.height) = (Length::from_64ths(272), Length::from_64ths(352));
        card.format.fold = fold;
        let steps = RunSheet::of(&Panel { card: Some(card), ..panel }, Units::Inches).steps;
        steps[1].how.contains("under its edges")
    };
    assert!(says(272, Fold::Side) && says(272, Fold::FlapsTop));
    assert!(!says(272, Fold::Flat) && !says(256, Fold::Side));
}

#[test]
fn each_step_names_its_ink_and_its_light_passes() {
    let panel = usual(Way::DOWN, School::LightToDark);
    let sheet = RunSheet::of(&panel, Units::Inches);
    let steps = sheet.steps.iter().filter(|step| step.ink.is_some());
    let layings = panel.moves.iter().filter(|m| m.laying().is_some());
    for (step, m) in steps.zip(layings) {
        let laid = m.laying().unwrap();
        assert!(step.title.contains(panel.inks[laid.ink].name.as_str()), "{}", step.title);
        assert!(step.title.contains(&format!("{} light pass", laid.veils.len())), "{}", step.title);
        assert_eq!(step.title.starts_with("Back with"), matches!(m, Move::Back(_)));
    }
}

#[test]
fn every_measure_is_in_the_units_asked_for() {
    for way in Way::USUAL {
        let panel = usual(way, School::AllLightFirst);
        for (units, ours, theirs) in [(Units::Inches, " in", " mm"), (Units::Millimetres, " mm", " in ")] {
            for step in RunSheet::of(&panel, units).steps.iter().filter(|step| step.ink.is_some()) {
                assert!(step.how.contains(ours), "{way:?}: {}", step.how);
                // Sentences about the brush come before the one with the measures.
                let has_figure = |says: &&str| says.contains(|c: char| c.is_ascii_digit());
                let measures = step.how.split(['.', ':']).find(has_figure).unwrap_or_default();
                let figures =
                    measures.split(' ').filter(|word| word.starts_with(|c: char| c.is_ascii_digit()));
                assert!(figures.count() >= 1, "{}", step.how);
                assert!(units == Units::Inches || !measures.contains(theirs), "{measures}");
            }
        }
    }
}

#[test]
fn measures_name_the_edge_the_direction_starts_from() {
    for way in Way::USUAL {
        let panel = usual(way, School::LightToDark);
        let sheet = RunSheet::of(&panel, Units::Inches);
        let first = sheet.steps.iter().find(|step| step.ink == Some(0)).unwrap();
        assert!(first.how.contains(&format!("Start off the {}", way.from())), "{}", first.how);
        let last = sheet.steps.iter().find(|step| step.ink == Some(2)).unwrap();
        let far = if way.has_two_ends() { "Start off the" } else { "Over the" };
        assert!(last.how.contains(&format!("{far} {}", way.to())), "{}", last.how);
        assert_eq!(
            first.how.contains("marked along both edges"),
            matches!(way, Way::Corner { .. }),
            "{}",
            first.how
        );
    }
}

#[test]
fn drying_follows_the_slowest_ink() {
    for (kind, says) in
        [(Kind::Dye, "1 to 3 minutes"), (Kind::Oxide, "5 to 10 minutes"), (Kind::Pigment, "15 to 25")]
    {
        let panel = panel(Way::DOWN, School::LightToDark, kind, Finish::VerySmooth, ToolKind::Brush);
        let sheet = RunSheet::of(&panel, Units::Inches);
        let dry = sheet.steps.last().unwrap();
        assert!(dry.how.contains(says), "{}", dry.how);
        assert!(dry.care.as_deref().is_some_and(|care| care.contains("instructions come first")));
    }
}

#[test]
fn white_without_a_brush_of_its_own_is_told_so() {
    let ready = |panel: &Panel| RunSheet::of(panel, Units::Inches).steps[1].how.clone();
    let mut panel = panel(Way::DOWN, School::LightToDark, Kind::Pigment, Finish::VerySmooth, ToolKind::Brush);
    // Colours that cover are no white.
    assert!(!ready(&panel).contains("kept for white"), "{}", ready(&panel));
    panel.inks[0].colour = Colour::Lab([96.0, 0.0, -1.0].into());
    assert!(ready(&panel).contains("White asks for a brush of its own"), "{}", ready(&panel));
    let white = Tool { kept_for: KeptFor::White, ..Tool::one("Snow".parse().unwrap(), ToolKind::Dauber) };
    panel.brushes.push(white);
    let says = ready(&panel.laid());
    assert!(says.contains("Dome and Snow") && !says.contains("White asks"), "{says}");
}

#[test]
fn the_cost_is_what_the_moves_add_up_to() {
    let panel = usual(Way::DOWN, School::LightToDark);
    let cost = Cost::of(&panel.moves, &panel.materials());
    assert_eq!(cost.veils, layings(&panel).map(|laid| laid.veils.len()).sum::<usize>());
    assert_eq!(cost.rounds, 3);
    assert!(cost.dark_then_light <= cost.changes && cost.changes < panel.moves.len());
    let planned: usize = panel.scene.ground[0].fields.iter().map(|field| usize::from(field.veils)).sum();
    assert!(cost.veils >= planned, "part passes only add to {planned}: {}", cost.veils);
    assert_eq!(Cost::of(&[], &panel.materials()).minutes, 0);
}

#[test]
fn rough_card_and_hard_tools_look_splotchier() {
    let splotch = |surface, tool| {
        let panel = panel(Way::DOWN, School::LightToDark, Kind::Dye, surface, tool);
        Reading::of(&panel).inks[1].splotch
    };
    let best = splotch(Finish::VerySmooth, ToolKind::Brush);
    assert!(splotch(Finish::Ordinary, ToolKind::Brush) > 1.5 * best);
    assert!(splotch(Finish::VerySmooth, ToolKind::Dauber) > 1.3 * best);
    let panel = usual(Way::DOWN, School::LightToDark);
    for ink in Reading::of(&panel).inks {
        assert!(ink.splotch_if_heavy > 1.2 * ink.splotch, "few heavy passes are worse: {ink:?}");
    }
}

#[test]
fn steps_already_laid_stay_laid_when_the_plan_changes() {
    let ticked = Panel { done: 4, ..usual(Way::DOWN, School::LightToDark) };
    assert_eq!(ticked.clone().laid().done, 4);
    let renamed = Panel { name: "Ebb at seven".parse().unwrap(), ..ticked.clone() };
    assert_eq!(renamed.laid().done, 4);
    let other = Panel { school: School::DarkToLight, ..ticked.clone() }.laid();
    assert_eq!((other.done, other.made()), (4, ticked.made()));
    let turned = ticked.clone().turned(0, Way::UP, Units::Inches);
    assert_eq!(turned.done, 0, "what was laid the other way is no part of this plan");
    assert_eq!(ticked.clone().turned(0, Way::DOWN, Units::Inches), ticked, "turned to where it is");
}

#[test]
fn bands_set_by_hand_are_carried_over() {
    let mut panel = usual(Way::DOWN, School::LightToDark);
    panel.scene.ground[0].fields[1].veils = 18;
    panel.scene.ground[0].fields[0].full_to = Length::from_64ths(20);
    let panel = panel.laid();
    let turned = panel.clone().turned(0, Way::RIGHT, Units::Inches);
    assert_eq!(turned.scene.ground[0].fields[1].veils, 18);
    // A share of 4 in as before of 5 1/4 in, to the nearest 1/16 in.
    let share = |panel: &Panel| panel.scene.ground[0].fields[0].full_to.ratio(panel.span(0));
    assert!((share(&turned) - share(&panel)).abs() < 0.5 / 64.0);
    let inks = panel.inks.clone();
    let moved: Vec<_> = [1, 0, 2].iter().map(|&n| (inks[n].clone(), Some(n))).collect();
    let moved = panel.clone().choosing(0, moved, Units::Inches);
    let veils: Vec<u8> = moved.scene.ground[0].fields.iter().map(|field| field.veils).collect();
    assert_eq!(
        (veils, moved.scene.ground[0].fields[0].full_to),
        (vec![18, 7, 7], panel.scene.ground[0].fields[0].full_to)
    );
    let kept: Vec<_> = [0, 1].iter().map(|&n| (inks[n].clone(), Some(n))).collect();
    let fewer = panel.clone().choosing(0, kept, Units::Inches);
    assert_eq!(
        (fewer.scene.ground[0].fields[0].full_to, fewer.scene.ground[0].fields[1].veils),
        (panel.scene.ground[0].fields[0].full_to, 18)
    );
    fewer.check().unwrap();
    // Nothing set by hand: as if the inks had been chosen together.
    let one_by_one = usual(Way::DOWN, School::LightToDark);
    let two = one_by_one.clone().choosing(
        0,
        [0, 1].iter().map(|&n| (inks[n].clone(), Some(n))).collect(),
        Units::Inches,
    );
    let again = [0, 1].iter().map(|&n| (inks[n].clone(), Some(n))).chain([(inks[2].clone(), None)]);
    assert_eq!(two.choosing(0, again.collect(), Units::Inches).scene, one_by_one.scene);
    let more = inks.iter().cloned().enumerate().map(|(n, ink)| (ink, Some(n)));
    let more = panel.clone().choosing(0, more.chain([(inks[0].clone(), None)]).collect(), Units::Inches);
    more.check().unwrap();
    assert_eq!((more.scene.ground[0].fields[1].veils, more.scene.ground[0].fields[3].veils), (18, 7));
}

#[test]
fn everything_the_card_plans_is_a_step_and_a_piece() {
    let mut panel = usual(Way::DOWN, School::LightToDark);
    let card = serde_json::json!({
        "format": { "name": "Usual", "width": "4 1/4 in", "height": "5 1/2 in" },
        "paper": panel.paper,
        "layers": [
            { "name": "Panel", "role": "panel", "reveal": "1/8 in", "window": { "shape": "oval", "width": "1 in", "height": "1 in" } },
            { "name": "Mat", "reveal": "1/4 in", "window": { "frame": "1/2 in" }, "mount": { "foam": { "thick": "1 mm", "layers": 1 } } },
        ],
        "over": "0 in",
        "die_cut": { "name": "Kite", "width": "1 1/2 in", "height": "2 in", "tiers": 3, "thickness": "0.3 mm" },
    });
    panel.card = Some(serde_json::from_value(card).unwrap());
    for (units, measure, foam) in [
        (Units::Inches, "1 1/2 × 2 in", "0.039 in (1 mm)"),
        (Units::Millimetres, "1 1/2 × 2 in", "0.039 in (1 mm)"),
    ] {
        let sheet = RunSheet::of(&panel, units);
        let said: Vec<String> =
            sheet.steps.iter().map(|step| format!("{}. {}", step.title, step.how)).collect();
        let step = |title: &str| {
            said.iter()
                .position(|said| said.starts_with(title))
                .unwrap_or_else(|| panic!("{title}: {said:#?}"))
        };
        let order = [
            step("Let it dry"),
            step("Cut the window of Panel"),
            step("Cut the window of Mat"),
            step("Cut Kite"),
        ];
        assert!(order.is_sorted() && order[3] < step("Put the card together"), "{said:#?}");
        assert!(
            said[order[3]].contains(measure) && said[order[3]].contains("3 of them"),
            "{}",
            said[order[3]]
        );
        let last = &said[step("Put the card together")];
        assert!(last.contains(foam) && last.contains("On top Kite, glued"), "{last}");
    }
    let (made, _) = panel.card.as_ref().unwrap().made(&panel.inked(), &[], Units::Inches).unwrap();
    let kite = made.pieces.iter().find(|piece| piece.name.as_str() == "Kite").unwrap();
    assert_eq!((kite.count, kite.width.to_string()), (3, "1 1/2 in".into()));
    let windows: Vec<(&str, bool)> =
        made.windows.iter().map(|out| (out.piece.name.as_str(), out.is_spare)).collect();
    assert_eq!(windows, [("Window of Panel", false), ("Window of Mat", true)]);
}
