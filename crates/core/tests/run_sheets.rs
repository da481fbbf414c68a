//! Run sheets: what the maker reads is what the moves say, in the maker's own units.

use rosy_core::blend::{Direction, Reading};
use rosy_core::colour::Colour;
use rosy_core::ink::{Ink, Kind, Paper, Surface, Tool, ToolKind};
use rosy_core::order::{Cost, Purpose, RunSheet, School};
use rosy_core::{Length, Panel, Units};

const TIDE: (&str, [f64; 3]) = ("First Tide", [57.0, -17.0, -31.0]);
const COCKLE: (&str, [f64; 3]) = ("Cockle", [57.0, 56.0, -4.0]);
const LAMP: (&str, [f64; 3]) = ("Tea-hut Lamp", [80.0, 12.0, 62.0]);

fn panel(direction: Direction, school: School, kind: Kind, surface: Surface, tool: ToolKind) -> Panel {
    let paper = Paper {
        name: "Slack Water".parse().unwrap(),
        colour: Colour::Lab([96.5, 0.3, -1.8].into()),
        surface,
        thickness: Length::from_tenths_mm(3),
    };
    let tool = Tool { name: "Dome".parse().unwrap(), kind: tool };
    let (width, height) = (Length::from_inches(4), Length::from_64ths(5 * 64 + 16));
    let mut panel = Panel::bare("Ebb at six".parse().unwrap(), width, height, paper, tool, 1);
    (panel.blend.direction, panel.school) = (direction, school);
    let inks = [TIDE, COCKLE, LAMP].map(|(name, lab)| Ink {
        name: name.parse().unwrap(),
        kind,
        colour: Colour::Lab(lab.into()),
        one_veil: None,
        full_veils: 7,
    });
    panel.with_inks(inks.to_vec(), Units::Inches)
}

fn usual(direction: Direction, school: School) -> Panel {
    panel(direction, school, Kind::Dye, Surface::VerySmooth, ToolKind::Brush)
}

#[test]
fn the_sheet_cuts_first_and_dries_last() {
    for school in School::ALL {
        let sheet = RunSheet::of(&usual(Direction::Down, school), Units::Inches);
        let titles: Vec<&str> = sheet.steps.iter().map(|step| step.title.as_str()).collect();
        assert!(titles[0].starts_with("Cut the card to 4 × 5 1/4 in"), "{titles:?}");
        assert_eq!(titles.last(), Some(&"Let it dry"));
        assert!(sheet.steps.windows(2).all(|pair| pair[0].after_moves <= pair[1].after_moves));
    }
}

#[test]
fn each_step_names_its_ink_and_its_light_passes() {
    let panel = usual(Direction::Down, School::LightToDark);
    let sheet = RunSheet::of(&panel, Units::Inches);
    let steps = sheet.steps.iter().filter(|step| step.ink.is_some());
    for (step, laid) in steps.zip(&panel.moves) {
        assert!(step.title.contains(panel.inks[laid.ink].name.as_str()), "{}", step.title);
        assert!(step.title.contains(&format!("{} light pass", laid.veils.len())), "{}", step.title);
        assert_eq!(step.title.starts_with("Back with"), laid.purpose == Purpose::Back);
    }
}

#[test]
fn every_measure_is_in_the_units_asked_for() {
    for direction in Direction::ALL {
        let panel = usual(direction, School::AllLightFirst);
        for (units, ours, theirs) in [(Units::Inches, " in", " mm"), (Units::Millimetres, " mm", " in ")] {
            for step in RunSheet::of(&panel, units).steps.iter().filter(|step| step.ink.is_some()) {
                assert!(step.how.contains(ours), "{direction:?}: {}", step.how);
                let measures = step.how.split(['.', ':']).next().unwrap_or_default();
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
    for direction in Direction::ALL {
        let panel = usual(direction, School::LightToDark);
        let sheet = RunSheet::of(&panel, Units::Inches);
        let first = sheet.steps.iter().find(|step| step.ink == Some(0)).unwrap();
        assert!(first.how.contains(&format!("Start off the {}", direction.from())), "{}", first.how);
        let last = sheet.steps.iter().find(|step| step.ink == Some(2)).unwrap();
        assert!(last.how.contains(&format!("Start off the {}", direction.to())), "{}", last.how);
        assert_eq!(first.how.contains("marked along both edges"), direction.is_diagonal(), "{}", first.how);
    }
}

#[test]
fn drying_follows_the_slowest_ink() {
    for (kind, says) in
        [(Kind::Dye, "1 to 3 minutes"), (Kind::Oxide, "5 to 10 minutes"), (Kind::Pigment, "15 to 25")]
    {
        let panel = panel(Direction::Down, School::LightToDark, kind, Surface::VerySmooth, ToolKind::Brush);
        let sheet = RunSheet::of(&panel, Units::Inches);
        let dry = sheet.steps.last().unwrap();
        assert!(dry.how.contains(says), "{}", dry.how);
        assert!(dry.care.as_deref().is_some_and(|care| care.contains("instructions come first")));
    }
}

#[test]
fn the_cost_is_what_the_moves_add_up_to() {
    let panel = usual(Direction::Down, School::LightToDark);
    let cost = Cost::of(&panel.moves, &panel.inks);
    assert_eq!(cost.veils, panel.moves.iter().map(|laid| laid.veils.len()).sum::<usize>());
    assert_eq!(cost.rounds, 3);
    assert!(cost.dark_then_light <= cost.changes && cost.changes < panel.moves.len());
    let planned: usize = panel.blend.fields.iter().map(|field| usize::from(field.veils)).sum();
    assert!(cost.veils >= planned, "part passes only add to {planned}: {}", cost.veils);
    assert_eq!(Cost::of(&[], &panel.inks).minutes, 0);
}

#[test]
fn rough_card_and_hard_tools_look_splotchier() {
    let splotch = |surface, tool| {
        let panel = panel(Direction::Down, School::LightToDark, Kind::Dye, surface, tool);
        Reading::of(&panel.materials()).inks[1].splotch
    };
    let best = splotch(Surface::VerySmooth, ToolKind::Brush);
    assert!(splotch(Surface::Ordinary, ToolKind::Brush) > 1.5 * best);
    assert!(splotch(Surface::VerySmooth, ToolKind::Dauber) > 1.3 * best);
    let panel = usual(Direction::Down, School::LightToDark);
    for ink in Reading::of(&panel.materials()).inks {
        assert!(ink.splotch_if_heavy > 1.2 * ink.splotch, "few heavy passes are worse: {ink:?}");
    }
}

#[test]
fn laying_again_forgets_ticks_only_when_the_moves_change() {
    let ticked = Panel { done: 4, ..usual(Direction::Down, School::LightToDark) };
    assert_eq!(ticked.clone().laid().done, 4);
    let renamed = Panel { name: "Ebb at seven".parse().unwrap(), ..ticked.clone() };
    assert_eq!(renamed.laid().done, 4);
    let other = Panel { school: School::DarkToLight, ..ticked };
    assert_eq!(other.laid().done, 0);
}
