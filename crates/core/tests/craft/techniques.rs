//! Every technique, through all that is told and reckoned of it: what one file tells of it is all there is to tell.

use std::collections::BTreeSet;

use rosy_core::blend::{Blend, Way};
use rosy_core::card::Card;
use rosy_core::colour::Colour;
use rosy_core::edges::Edges;
use rosy_core::edit::water::about;
use rosy_core::edit::{AnyEdit, Has, edited};
use rosy_core::evening::plan::Evening;
use rosy_core::evening::words::said;
use rosy_core::ink::{Finish, Ink, Kind, Paper, Tool, ToolKind};
use rosy_core::learn::Pace;
use rosy_core::learn::learned::{By, Learned};
use rosy_core::moves::telling::{Stretch, Value};
use rosy_core::moves::{Move, Technique, Telling, WetStep};
use rosy_core::order::RunSheet;
use rosy_core::order::check::check;
use rosy_core::record::Made;
use rosy_core::scene::Loose;
use rosy_core::supply::{Of, taken_by};
use rosy_core::water::Thrown;
use rosy_core::{Length, Panel, Units};
use serde_json::{Value as Json, json};

fn ink(name: &str, lab: [f64; 3], kind: Kind) -> Ink {
    let colour = Colour::Lab(lab.into());
    Ink { name: name.parse().unwrap(), kind, colour, one_veil: None, full_veils: 7, on_ink: None }
}

fn drawer() -> Vec<Ink> {
    vec![
        ink("Marram", [58.0, -34.0, 34.0], Kind::Dye),
        ink("Straw", [86.0, 2.0, 66.0], Kind::Dye),
        ink("Ebb", [44.0, -6.0, -40.0], Kind::Oxide),
        ink("Ullen White", [96.0, 0.0, -1.0], Kind::Pigment),
        ink("Sail", [69.0, -17.0, -23.0], Kind::Dye),
        ink("Deep Sail", [42.0, -16.0, -24.0], Kind::Dye),
    ]
}

/// A ground that runs from one ink to another.
fn ground(inks: &[Ink]) -> Panel {
    let paper = Paper::plain(Finish::Watercolour);
    let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
    let (width, height) = (Length::from_inches(4), Length::from_inches(5));
    let panel = Panel::bare("Sandbar".parse().unwrap(), width, height, paper, tool, 7);
    let listed: Vec<(usize, &Ink)> = inks.iter().enumerate().collect();
    let mut panel = Panel { inks: inks.to_vec(), ..panel };
    panel.scene.ground = vec![Blend::spread(&listed, Way::DOWN, height, Units::Inches)];
    panel.laid()
}

fn changed(panel: Panel, edits: &[Json]) -> Panel {
    let drawer = drawer();
    let has = Has { drawer: &drawer, ..Has::default() };
    edits.iter().fold(panel, |panel, edit| {
        let read: AnyEdit = serde_json::from_value(edit.clone()).unwrap();
        edited(panel, read.of_its_kind(), &has).unwrap_or_else(|refused| panic!("{edit}: {refused:?}")).panel
    })
}

fn word(what: &str, to: &str) -> Json {
    json!({ "cover": { "set": { "thing": 0, "what": what, "to": to } } })
}

/// Something asked for on a panel where a shape stands, as some of it goes by one.
fn asked(offer: &str) -> [Json; 2] {
    [json!({ "cover": { "add": "circle" } }), json!({ "water": { "add": offer } })]
}

/// The same with a white border on its card.
fn bordered(panel: &Panel) -> Panel {
    let mut card = Card::fitting(&panel.inked(), Units::Inches);
    card.tape.border = Edges::all(Length::from_64ths(16));
    Panel { card: Some(card), ..panel.clone() }.laid()
}

/// Panels that together are made with every technique there is.
fn panels() -> Vec<Panel> {
    let inks = drawer();
    let (meadow, sea) = (ground(&inks[..2]), ground(&inks[1..3]));
    let circle = json!({ "cover": { "add": "circle" } });
    let sealed = [circle.clone(), word("gets", "goes"), word("resist", "clear")];
    let skimmed = [circle.clone(), json!({ "cover": { "skim": 0 } })];
    let smooshed = [json!({ "water": "mat" }), json!({ "water": "press" })];
    let mitten = Tool::one("Mitten".parse().unwrap(), ToolKind::Brush);
    let two_brushes = Panel { brushes: vec![mitten], moves: Vec::new(), ..sea.clone() }.laid();
    let mut panels = vec![meadow, sea.clone(), two_brushes];
    panels.extend([&[circle][..], &sealed, &smooshed].map(|edits| changed(sea.clone(), edits)));
    panels.push(changed(ground(&inks[4..5]), &skimmed));
    panels.push(bordered(&sea));
    panels.push(changed(sea.clone(), &[json!({ "cover": { "add": "circle" } }), word("gets", "stamped")]));
    // Each that can be asked for, on a panel of its own.
    panels.extend(WetStep::offers().map(|offer| changed(sea.clone(), &asked(offer.key))));
    panels
}

#[test]
fn every_technique_is_told_timed_recorded_and_supplied() {
    let mut seen: BTreeSet<&str> = BTreeSet::new();
    for panel in panels() {
        let names: Vec<&str> = panel.moves.iter().map(Move::name).collect();
        assert_eq!(panel.check(), Ok(()));
        assert_eq!(check(&panel), [], "{names:?}");
        // It comes back from its document as it was.
        let document = serde_json::to_value(&panel).unwrap();
        assert_eq!(serde_json::from_value::<Panel>(document).unwrap(), panel);
        // The run sheet says all of it, in both systems.
        for units in [Units::Inches, Units::Millimetres] {
            for (at, m) in panel.moves.iter().enumerate() {
                let words = m.words(&panel.after(at), units);
                let is_sentence = |text: &str| text.ends_with(['.', '!', '?']) && !text.contains("  ");
                assert!(!words.title.is_empty() && is_sentence(&words.how), "{}: {words:?}", m.name());
                assert!(words.care.as_deref().is_none_or(is_sentence), "{}: {words:?}", m.name());
            }
        }
        let steps = RunSheet::of(&panel, Units::Inches).steps;
        for m in panel.moves.iter().enumerate().filter(|(_, m)| m.is_step()) {
            let title = m.1.words(&panel.after(m.0), Units::Inches).title;
            assert!(steps.iter().any(|step| step.title == title), "{title}");
        }
        // An evening says each of its steps, and takes no less time than hands do.
        let evening = Evening::of(vec![panel.clone()], true);
        let (scheduled, (_, desk)) = (evening.scheduled(), evening.chains());
        for step in &scheduled.steps {
            let said = said(&panel, step, &desk, Units::Inches);
            assert!(!said.title.is_empty() && said.how.iter().all(|how| !how.is_empty()), "{said:?}");
        }
        let materials = panel.materials();
        let hands: u32 = panel.moves.iter().filter(|m| !m.dries()).map(|m| m.hands(&materials)).sum();
        assert!(scheduled.cost.finish >= i64::from(hands) / 2, "{names:?}");
        // The record names what was done, by each technique that says something of the card.
        let made = Made::new(panel.clone(), 0).techniques();
        assert!(panel.moves.iter().filter_map(Technique::made).all(|word| made.contains(&word)));
        // What it brings is taken off the shelf.
        let taken = taken_by(&panel);
        for (ink, of) in panel.inks.iter().enumerate() {
            let amount = taken.get(&Of::Ink(of.name.clone())).copied().unwrap_or_default();
            assert!(amount > 1.0, "{names:?}: {ink} {amount}");
        }
        seen.extend(names);
    }
    let all: BTreeSet<&str> = Move::NAMES.iter().copied().collect();
    assert_eq!(all.difference(&seen).collect::<Vec<_>>(), Vec::<&&str>::new(), "techniques nobody walked");
}

#[test]
fn a_maker_s_own_pace_is_planned_with_wherever_hands_are_timed_by_it() {
    for panel in panels() {
        for m in &panel.moves {
            let Some((figure, times)) = m.paced(&panel.materials()) else { continue };
            let own = |seconds: f64| Learned {
                figure,
                by: By::All,
                of: None,
                logs: 9,
                guide: figure.guide(),
                seconds,
                least: 0.9 * seconds,
                most: 1.1 * seconds,
                odd: Vec::new(),
                differs: true,
                says: String::new(),
            };
            let slow = |seconds: f64| {
                let pace = Pace::default().with(&own(seconds));
                m.hands(&Panel { pace, ..panel.clone() }.materials())
            };
            let guide = figure.guide().round();
            let more = slow(guide + 30.0) - slow(guide);
            assert!(f64::from(more) >= (30.0 * times).floor(), "{}: {more} of {times}", m.name());
        }
    }
}

/// Every word that a sentence shows, with what stands there as it would be written.
fn words(told: Vec<Stretch>, inks: &[Ink]) -> Vec<(String, String)> {
    let written = |value: Value| match value {
        Value::Ink(Thrown::Ink(ink)) => inks[ink].name.to_string(),
        Value::Ink(Thrown::Water) => "clean water".into(),
        Value::Ink(Thrown::Mica) => "mica".into(),
        Value::Written(text) => text,
        Value::Check(on) => if on { "on" } else { "off" }.into(),
        Value::Choice(choices) => {
            let chosen: Vec<_> = choices.into_iter().filter(|choice| choice.is_chosen).collect();
            assert_eq!(chosen.len(), 1, "{chosen:?}");
            chosen[0].key.clone()
        }
    };
    let word = |stretch| match stretch {
        Stretch::Word { key, value, label } => {
            assert!(!label.is_empty());
            Some((key, written(value)))
        }
        Stretch::Text(_) => None,
    };
    told.into_iter().filter_map(word).collect()
}

fn told(loose: &mut Loose, told: &mut Telling) {
    loose.tell(told);
    loose.tell_more(told);
    loose.tell_keep(told);
}

#[test]
fn what_a_sentence_shows_can_be_written_and_writing_what_stands_there_changes_nothing() {
    let drawer = drawer();
    for offer in WetStep::offers() {
        for units in [Units::Inches, Units::Millimetres] {
            let panel = changed(ground(&drawer[1..3]), &asked(offer.key));
            let about = || about(&panel, &panel.scene, &drawer, units);
            let loose = panel.scene.loose[0].clone();
            let (mut shown, mut with) = (loose.clone(), about());
            let mut telling = Telling::of(&mut with);
            told(&mut shown, &mut telling);
            assert_eq!(shown, loose, "{}: told, it stays as it is", offer.key);
            let words = words(telling.taken(), &panel.inks);
            let keys: BTreeSet<&str> = words.iter().map(|(key, _)| key.as_str()).collect();
            assert_eq!(keys.len(), words.len(), "{}: each word has its own name", offer.key);
            for (key, to) in &words {
                let (mut again, mut with) = (loose.clone(), about());
                let mut telling = Telling::writing(&mut with, (key, to));
                told(&mut again, &mut telling);
                assert_eq!(telling.outcome(), Ok(()), "{} {key}: {to}", offer.key);
                assert_eq!(again, loose, "{} {key}: {to}", offer.key);
                let (mut wrong, mut with) = (loose.clone(), about());
                let mut telling = Telling::writing(&mut with, (key, "no such thing"));
                told(&mut wrong, &mut telling);
                assert!(telling.outcome().is_err(), "{} {key}", offer.key);
                assert_eq!(wrong, loose, "{} {key}: what is refused changes nothing", offer.key);
            }
        }
    }
}

#[test]
fn less_of_a_step_is_less_and_more_is_more() {
    let inks = drawer();
    for offer in WetStep::offers() {
        let panel = changed(ground(&inks[1..3]), &asked(offer.key));
        let step = &panel.scene.loose[0].step;
        if step.scaled(100).is_err() {
            assert!(step.scaled(70).is_err() && step.scaled(140).is_err());
            continue;
        }
        let as_much = |percent: u32| {
            let mut other = panel.clone();
            other.scene.loose[0].step = step.scaled(percent).unwrap();
            let other = other.clone().with_scene(other.scene);
            let hands: u32 = other.moves.iter().map(|m| m.hands(&other.materials())).sum();
            let all: f64 = taken_by(&other).values().sum();
            (f64::from(hands) + all, other.scene.loose[0].step.clone())
        };
        let (less, more) = (as_much(70), as_much(140));
        assert!(less.1 != more.1 && less.0 <= more.0, "{}: {less:?} {more:?}", offer.key);
    }
}
