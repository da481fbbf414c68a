//! Changes to a panel, as the pages send them: each makes what it says, and what cannot be is told by its field.

use rosy_core::ask::edit::EditAsked;
use rosy_core::blend::{Blend, Way};
use rosy_core::card::Card;
use rosy_core::colour::Colour;
use rosy_core::edges::Edges;
use rosy_core::edit::{AnyEdit, Edited, Has, Refused, edited};
use rosy_core::ink::{Finish, Ink, Kind, Paper, Paste, Powder, Tool, ToolKind};
use rosy_core::judgement::{Reading, muddied};
use rosy_core::moves::{
    Move, Technique, WetStep, flick::Flick, spray::Spray as Bottle, spread::Spread, swipe::Swipe,
};
use rosy_core::order::Cost;
use rosy_core::order::check::check;
use rosy_core::order::hand::{ByHand, changed};
use rosy_core::order::pieces::taken;
use rosy_core::place::{Corner, Point};
use rosy_core::record::Made;
use rosy_core::scene::{Loose, Thing, Treatment};
use rosy_core::shape::Use;
use rosy_core::water::{Pad, pad::Stroke};
use rosy_core::{Length, Panel, Units};
use serde_json::{Value, json};

fn ink(name: &str, lab: [f64; 3], kind: Kind) -> Ink {
    let colour = Colour::Lab(lab.into());
    Ink { name: name.parse().unwrap(), kind, colour, one_veil: None, full_veils: 7, on_ink: None }
}

fn sail() -> Ink {
    ink("Blue Sail", [69.0, -17.0, -23.0], Kind::Dye)
}

fn drawer() -> Vec<Ink> {
    vec![
        ink("Cockle", [57.0, 56.0, -4.0], Kind::Dye),
        ink("Ebb", [44.0, -6.0, -40.0], Kind::Oxide),
        ink("Ullen White", [96.0, 0.0, -1.0], Kind::Pigment),
    ]
}

/// A ground of one blue.
pub fn panel() -> Panel {
    let paper = Paper::plain(Finish::Watercolour);
    let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
    let (width, height) = (Length::from_inches(4), Length::from_inches(5));
    let panel = Panel::bare("Kites after dark".parse().unwrap(), width, height, paper, tool, 7);
    panel.with_inks(vec![sail()], Units::Inches)
}

/// What comes of a change as a page sends it.
fn made(panel: &Panel, edit: Value) -> Result<Panel, Refused> {
    made_with(panel, edit, &drawer()).map(|edited| edited.panel)
}

fn made_with(panel: &Panel, edit: Value, drawer: &[Ink]) -> Result<Edited, Refused> {
    made_having(panel, edit, &Has { drawer, ..Has::default() })
}

/// The same with all that the maker has to change it with.
pub fn made_having(panel: &Panel, edit: Value, has: &Has) -> Result<Edited, Refused> {
    let read = |error: serde_json::Error| Refused { field: "unread".into(), says: error.to_string() };
    let edit: AnyEdit = serde_json::from_value(edit).map_err(read)?;
    edited(panel.clone(), edit.of_its_kind(), has)
}

fn all(panel: Panel, edits: &[Value]) -> Panel {
    edits.iter().fold(panel, |panel, edit| made(&panel, edit.clone()).unwrap())
}

fn water(change: Value) -> Value {
    json!({ "water": change })
}

fn cover(change: Value) -> Value {
    json!({ "cover": change })
}

fn step(place: usize, what: &str, to: &str) -> Value {
    water(json!({ "set": { "row": "deed", "place": place, "what": what, "to": to } }))
}

fn word(thing: usize, what: &str, to: &str) -> Value {
    cover(json!({ "set": { "thing": thing, "what": what, "to": to } }))
}

#[test]
fn every_word_of_water_is_read_for_what_it_is() {
    let begun = all(
        panel(),
        &[
            water(json!("mat")),
            water(json!({ "add": "ink" })),
            water(json!({ "add": "spray" })),
            water(json!({ "add": "pad" })),
            water(json!({ "add": "paste" })),
        ],
    );
    assert!(begun.scene.smoosh.as_ref().is_some_and(|smoosh| smoosh.patches.len() == 3));
    assert!(begun.scene.loose.iter().all(|loose| loose.within.is_none()) && begun.scene.things.len() == 1);
    let written = all(
        begun.clone(),
        &[
            step(0, "count", "40"),
            step(0, "ink", "clean water"),
            step(0, "blot", "blot"),
            step(0, "within", "0"),
            step(1, "distance", "9 in"),
            step(1, "card", "wet"),
            step(1, "brush", "pushed"),
            step(1, "keep0", "on"),
            step(2, "stroke", "across"),
            step(3, "of", "shimmer"),
            water(json!({ "set": { "row": "patch", "place": 1, "what": "dabs", "to": "3" } })),
            water(json!({ "set": { "row": "press", "place": 0, "what": "movement", "to": "still" } })),
        ],
    );
    let loose = &written.scene.loose;
    let WetStep::Flecks(Flick(flecks)) = &loose[0].step else { panic!("flecks") };
    assert!(flecks.count == 40 && loose[0].blot && loose[0].within == Some(0));
    let WetStep::Spray(Bottle(spray)) = &loose[1].step else { panic!("a spray") };
    assert!(spray.distance == Length::from_inches(9) && spray.on_wet && spray.pushed && loose[1].keep == [0]);
    assert!(matches!(loose[2].step, WetStep::Pad(Swipe(Pad { stroke: Stroke::Across, .. }))));
    assert!(matches!(loose[3].step, WetStep::Paste(Spread { of: Paste::Shimmer, .. })));
    assert_eq!(written.scene.smoosh.as_ref().unwrap().patches[1].dabs, 3);
    // On dry card there is nothing to push.
    let dry = made(&written, step(1, "card", "dry")).unwrap();
    assert!(matches!(&dry.scene.loose[1].step, WetStep::Spray(Bottle(spray)) if !spray.pushed));
    // What stands there already is no change.
    assert_eq!(made(&begun, step(0, "look", "own")).unwrap().scene, begun.scene);
}

#[test]
fn what_is_no_word_is_refused_and_says_which() {
    let begun = all(panel(), &[water(json!({ "add": "ink" })), water(json!({ "add": "paste" }))]);
    let cases = [
        (water(json!({ "add": "salt" })), "“salt”"),
        (word(0, "gets", "painted"), "“painted”"),
        (word(0, "resist", "salt"), "“salt”"),
        (word(0, "side", "bottom"), "“bottom”"),
        (word(0, "weight", "1"), "“weight”"),
    ];
    for (edit, named) in cases {
        let refused = made(&begun, edit.clone()).unwrap_err();
        assert!(refused.field == "unread" && refused.says.contains(named), "{edit}: {refused:?}");
    }
    // Figures and names are told by the field they were written in, and so is what has gone.
    let cases = [
        (step(0, "within", "nowhere"), "deed-0-within", "“nowhere”"),
        (step(1, "of", "glue"), "deed-1-of", "“glue”"),
        (step(0, "blot", "perhaps"), "deed-0-blot", "“blot”"),
        (step(0, "colour", "red"), "deed-0-colour", "“colour”"),
        (step(0, "keepall", "on"), "deed-0-keepall", "“keepall”"),
        (step(0, "count", "some"), "deed-0-count", "whole number"),
        (step(0, "ink", "Nobody's"), "deed-0-ink", "Nobody's"),
        (step(0, "count", "9000"), "deed-0-count", "2000"),
        (step(7, "count", "9"), "deed-7-count", "reload"),
        (step(0, "tilt", "flat"), "deed-0-tilt", "reload"),
        (word(0, "left", "far"), "0-left", ""),
        (word(5, "name", "Kite"), "5-name", "reload"),
        (word(0, "m_height", "0 in"), "0-m_height", ""),
    ];
    for (edit, field, says) in cases {
        let refused = made(&begun, edit.clone()).unwrap_err();
        assert!(
            refused.field == field && refused.says.len() > 9 && refused.says.contains(says),
            "{edit}: {refused:?}"
        );
    }
}

#[test]
fn an_ink_that_stays_clean_is_looked_for_in_the_drawer() {
    let warm = ink("Orange Buoy", [66.0, 36.0, 62.0], Kind::Dye);
    let mut muddy = panel();
    muddy.inks.push(warm);
    let pad = |ink| WetStep::Pad(Swipe(Pad { ink, stroke: Stroke::Down, times: 2, light: false }));
    muddy.scene.loose = vec![Loose::last(pad(1))];
    let muddy = muddy.laid();
    assert!(!muddied(&muddy.surface()).is_empty(), "orange over blue");
    let clear = water(json!({ "clear": 0 }));
    assert!(made_with(&muddy, clear.clone(), &[]).unwrap_err().says.contains("No ink in the drawer"));
    let cleared = made_with(&muddy, clear, &drawer()).unwrap().panel;
    assert!(muddied(&cleared.surface()).is_empty());
    assert!(cleared.inks.iter().any(|ink| drawer().contains(ink)), "{:?}", cleared.inks);
}

#[test]
fn things_are_put_moved_worded_and_taken_away() {
    let one = made(&panel(), cover(json!({ "add": "circle" }))).unwrap();
    assert_eq!((one.scene.things.len(), one.scene.things[0].shape.name.as_str()), (1, "circle"));
    let inked =
        all(one.clone(), &[word(0, "gets", "goes"), word(0, "ink0", "cockle"), word(0, "veils0", "3")]);
    let Treatment::Inked(blends) = &inked.scene.things[0].gets else { panic!("inked") };
    let field = blends[0].fields[0];
    assert_eq!((inked.inks[field.ink].name.as_str(), field.veils), ("Cockle", 3));
    let moved = made(&one, cover(json!({ "nudge": { "thing": 0, "right": 4, "down": -2 } }))).unwrap();
    let (from, to) = (one.scene.things[0].at, moved.scene.things[0].at);
    let mark = Units::Inches.pencil();
    assert_eq!(to, Point { left: from.left + mark * 4, top: from.top - mark * 2 });
    let back = made(&moved, cover(json!({ "nudge": { "thing": 0, "right": -4, "down": 2 } }))).unwrap();
    assert_eq!(back.scene, one.scene, "there and back");
    let two = made(&inked, cover(json!({ "shadow": 0 }))).unwrap();
    assert_eq!(two.scene.things[1].shape.name.as_str(), "shadow of circle");
    let swapped = made(&two, cover(json!({ "behind": 0 }))).unwrap();
    assert_eq!(swapped.scene.things[1], two.scene.things[0]);
    assert!(made(&two, cover(json!({ "forward": 0 }))).unwrap_err().says.contains("further"));
    let gone = made(&one, cover(json!({ "remove": 0 }))).unwrap();
    assert_eq!(gone.scene, panel().scene);
    let other = cover(json!({ "move": { "thing": 9, "across": 0.5, "down": 0.5 } }));
    assert!(made(&one, other).unwrap_err().says.contains("reload"));
}

#[test]
fn a_blend_is_bent_and_turned_back() {
    let two = panel().with_inks(vec![sail(), drawer()[0].clone()], Units::Inches);
    let bend = |change: Value| json!({ "blend": { "blend": 0, "change": change } });
    let twice = all(two.clone(), &[bend(json!("reverse")), bend(json!("reverse"))]);
    assert_eq!(twice, two);
    let turned = made(&two, bend(json!({ "turn": Way::UP }))).unwrap();
    assert_eq!(turned.scene.ground[0].way, Way::UP);
    let more = made_with(&two, bend(json!({ "add": { "way": Way::UP, "inks": [1] } })), &[]).unwrap();
    assert_eq!((more.blend, more.panel.scene.ground.len()), (Some(1), 2));
    let fewer = json!({ "blend": { "blend": 1, "change": "remove" } });
    assert_eq!(made(&more.panel, fewer).unwrap().scene.ground, two.scene.ground);
    let round = all(two.clone(), &[bend(json!({ "round": 1 })), bend(json!({ "round": -1 }))]);
    let veils = |panel: &Panel| -> Vec<u8> {
        panel.scene.ground.iter().flat_map(|blend: &Blend| &blend.fields).map(|field| field.veils).collect()
    };
    assert_eq!(veils(&round), veils(&two));
    let missing = json!({ "blend": { "blend": 9, "change": "reverse" } });
    assert!(made(&two, missing).unwrap_err().says.contains("reload"));
}

#[test]
fn a_change_is_written_as_it_is_read_and_asked_for_from_outside() {
    let edits = [
        step(0, "ink", "Cockle"),
        water(json!("three")),
        water(json!({ "aim": { "deed": 0, "across": 0.25, "down": 0.5 } })),
        word(0, "gets", "runs"),
        cover(json!({ "window": "circle" })),
        json!({ "blend": { "blend": 0, "change": { "edge": { "field": 0, "edge": "ends", "to": { "by": 2 } } } } }),
    ];
    for edit in edits {
        let read: AnyEdit = serde_json::from_value(edit.clone()).unwrap();
        assert_eq!(serde_json::to_value(&read).unwrap(), edit);
    }
    let asked = json!({ "panel": panel(), "drawer": drawer(), "edit": water(json!({ "add": "white" })) });
    let asked: EditAsked = serde_json::from_value(asked).unwrap();
    let seen = asked.answer().unwrap();
    assert_eq!(seen.panel, made(&panel(), water(json!({ "add": "white" }))).unwrap());
    let none = EditAsked { drawer: Vec::new(), ..asked };
    assert!(none.answer().unwrap_err().to_string().contains("no white pigment"));
}

#[test]
fn a_measure_of_a_hill_is_written_in_either_system_and_refused_by_its_field() {
    let two = panel().with_inks(vec![sail(), drawer()[0].clone()], Units::Inches);
    let bend = |change: Value| json!({ "blend": { "blend": 0, "change": change } });
    let write = |text: &str| bend(json!({ "write": { "field": 0, "edge": "full_to", "text": text } }));
    let field = |panel: &Panel| panel.scene.ground[0].fields[0];
    assert_eq!(field(&made(&two, write("1/2 in")).unwrap()).full_to, Length::from_64ths(32));
    // A bare figure is in the maker's own system.
    assert_eq!(made(&two, write("1/2")), made(&two, write("12.7 mm")));
    for nonsense in ["1/0 in", "wide", "-3 in", "900 in"] {
        let refused = made(&two, write(nonsense)).unwrap_err();
        assert_eq!(refused.field, "0-full_to", "{nonsense}: {}", refused.says);
    }
    let veils = |by: i8| bend(json!({ "veils": { "field": 1, "by": by } }));
    let laid = |panel: &Panel| panel.scene.ground[0].fields[1].veils;
    assert_eq!(laid(&made(&two, veils(1)).unwrap()), laid(&two) + 1);
    assert_eq!(made(&two, veils(-9)).unwrap_err().field, "1-passes");
    let dark = made(&two, bend(json!({ "school": "dark-to-light" }))).unwrap();
    assert_eq!(dark.scene, two.scene, "the same ink, in another order");
    assert_ne!(dark.moves, two.moves);
}

#[test]
fn what_can_be_taken_back_is_called_what_was_done() {
    let drawer = drawer();
    let label = |panel: &Panel, edit: Value| made_with(panel, edit, &drawer).unwrap().label;
    let two = panel().with_inks(vec![sail(), drawer[0].clone()], Units::Inches);
    let bend = |change: Value| json!({ "blend": { "blend": 0, "change": change } });
    assert_eq!(label(&two, bend(json!("reverse"))), "turn the inks round");
    let lay = label(&two, bend(json!({ "veils": { "field": 0, "by": 1 } })));
    let passes = two.scene.ground[0].fields[0].veils + 1;
    assert_eq!(lay, format!("lay {} in {passes} light passes", sail().name));
    let ringed = all(two, &[cover(json!({ "add": "ring" }))]);
    assert_eq!(label(&ringed, cover(json!({ "remove": 0 }))), "take the ring away");
    assert_eq!(label(&ringed, cover(json!({ "window": null }))), "take the window away");
    assert_eq!(label(&ringed, water(json!("mat"))), "lay inks on the mat");
    let seen = json!({ "panel": ringed, "edit": cover(json!({ "forward": 0 })) });
    let refused: EditAsked = serde_json::from_value(seen).unwrap();
    assert!(refused.answer().is_err(), "what is not done has no name");
}

#[test]
fn what_is_put_on_stands_beside_the_last_and_only_what_keeps_it_company_goes_along() {
    let circles = vec![cover(json!({ "add": "circle" })); 2];
    let two = all(panel(), &circles);
    let [second, first] = two.scene.things.as_slice() else { panic!("two circles") };
    assert_ne!(first.at, second.at);
    // One laid right on the other stays where it is when that one is moved; its own shadow goes along.
    let at = |thing: usize, to: f64| cover(json!({ "move": { "thing": thing, "across": to, "down": 0.5 } }));
    let together = all(two, &[at(0, 0.5), at(1, 0.5), cover(json!({ "shadow": 0 })), at(0, 0.3)]);
    let places: Vec<Point> = together.scene.things.iter().map(|thing| thing.at).collect();
    assert!(places[0] == places[1] && places[1] != places[2], "{places:?}");
}

#[test]
fn more_of_a_thing_lie_beside_it_as_far_as_there_is_room() {
    let one = all(panel(), &[cover(json!({ "add": "circle" })), word(0, "percent", "30")]);
    for lie in ["row", "grid", "scattered"] {
        let more = cover(json!({ "more": { "thing": 0, "count": 4, "lie": lie } }));
        let edited = made_with(&one, more, &drawer()).unwrap();
        let things = &edited.panel.scene.things;
        let found = things.len() - 1;
        assert!((1..=4).contains(&found), "{lie}");
        assert_eq!(edited.says.is_some(), found < 4, "{lie}: fewer than asked is said");
        let names: std::collections::BTreeSet<&str> =
            things.iter().map(|thing| thing.shape.name.as_str()).collect();
        assert_eq!(names.len(), things.len());
        let sizes: Vec<u16> = things.iter().map(|thing| thing.shape.percent).collect();
        assert!(sizes.iter().all(|size| *size == 30));
    }
    // Where it fills the panel there is no room for another.
    let large = all(panel(), &[cover(json!({ "add": "circle" })), word(0, "percent", "300")]);
    let more = cover(json!({ "more": { "thing": 0, "count": 1, "lie": "row" } }));
    assert!(made(&large, more).unwrap_err().says.contains("no room"));
}

#[test]
fn words_fit_and_what_runs_off_is_said() {
    let says = |panel: &Panel| rosy_core::judgement::unseen::told(panel).join(" ");
    let text = "the tide comes in at six";
    // Other letters fit by themselves, where those before them did.
    let short = all(panel(), &[cover(json!({ "add": "word" }))]);
    let longer = made(&short, word(0, "letters", text)).unwrap();
    assert_eq!(says(&longer), "");
    assert!(longer.scene.things[0].shape.percent < short.scene.things[0].shape.percent);
    let word_on = made(&longer, word(0, "percent", "100")).unwrap();
    assert!(
        says(&word_on).contains("runs off the panel") && says(&word_on).contains("% of its size it fits")
    );
    let fitted = made(&word_on, cover(json!({ "fit": 0 }))).unwrap();
    assert_eq!(says(&fitted), "");
    assert!(fitted.scene.things[0].shape.percent < word_on.scene.things[0].shape.percent);
    // On three lines the same words fit larger.
    let lines =
        all(word_on, &[word(0, "letters", "the tide / comes in / at six"), cover(json!({ "fit": 0 }))]);
    assert_eq!(says(&lines), "");
    assert!(lines.scene.things[0].shape.percent > fitted.scene.things[0].shape.percent);
    // Moved past the edge it is moved in again, as large as it was.
    let moved = made(&lines, cover(json!({ "move": { "thing": 0, "across": 0.95, "down": 0.5 } }))).unwrap();
    assert!(says(&moved).contains("moved in, it fits"), "{}", says(&moved));
    let back = made(&moved, cover(json!({ "fit": 0 }))).unwrap();
    assert_eq!(
        (says(&back), back.scene.things[0].shape.percent),
        (String::new(), lines.scene.things[0].shape.percent)
    );
}

#[test]
fn what_is_taken_unasked_is_the_panel_s_own_and_as_strong_as_what_is_laid_there() {
    let mut drawer = drawer();
    drawer.push(ink("Tar", [14.0, 1.0, -2.0], Kind::Dye));
    let one = made(&panel(), cover(json!({ "add": "heart" }))).unwrap();
    let ground = one.scene.ground[0].fields[0].veils;
    // One ink: the panel's own, in as many passes as its neighbour has.
    let goes = made_with(&one, word(0, "gets", "goes"), &drawer).unwrap().panel;
    assert_eq!(goes.inks.len(), 1);
    assert_eq!(goes.scene.things[0].blends()[0].fields[0].veils, ground);
    // One more that the panel has not got: never a near-black.
    let runs = made_with(&goes, word(0, "gets", "runs"), &drawer).unwrap().panel;
    assert!(runs.inks.len() == 2 && runs.inks[1].name.as_str() != "Tar", "{:?}", runs.inks);
    // A white heart's shadow is the darkest that is there, and never white.
    let white = Panel { inks: vec![sail(), drawer[2].clone(), drawer[0].clone()], ..one.clone() };
    let mut white = Panel { moves: Vec::new(), ..white };
    let mut blend = white.scene.ground[0].clone();
    blend.fields.extend([1, 2].map(|ink| rosy_core::blend::Field { ink, ..blend.fields[0] }));
    white.scene.ground[0] = blend;
    let shadow = made_with(&white, cover(json!({ "shadow": 0 })), &drawer).unwrap().panel;
    let of = shadow.scene.things[1].blends()[0].fields[0].ink;
    assert_eq!(shadow.inks[of].name.as_str(), "Cockle");
}

#[test]
fn what_is_stamped_and_so_no_more_has_its_frame_again_unless_powder_is_stamped_on_it() {
    let used = |panel: &Panel| panel.scene.things[0].shape.used;
    let heart = all(panel(), &[cover(json!({ "add": "heart" })), word(0, "gets", "stamped")]);
    assert!(used(&heart) == Use::Stamp && heart.scene.things[0].over);
    for gets in ["goes", "white", "runs"] {
        let changed = made(&heart, word(0, "gets", gets)).unwrap();
        assert_eq!(used(&changed), Use::Mask, "{gets}");
    }
    let powdered = all(heart, &[word(0, "resist", "white"), word(0, "gets", "white")]);
    assert_eq!(used(&powdered), Use::Stamp);
}

#[test]
fn what_is_put_on_stands_within_a_border() {
    let mut bordered = panel();
    let mut card = Card::fitting(&bordered.inked(), Units::Inches);
    card.tape.border = Edges { left: Length::from_inches(1), ..Edges::all(Length::from_64ths(16)) };
    bordered.card = Some(card);
    let inside = bordered.inside();
    for _ in 0..3 {
        bordered = made(&bordered, cover(json!({ "add": "circle" }))).unwrap();
        let thing = &bordered.scene.things[0];
        let own = thing.extent(&thing.shape.outline().unwrap());
        assert!(own.corner.left >= inside.corner.left && own.corner.top >= inside.corner.top, "{own:?}");
    }
}

#[test]
fn a_thing_takes_an_ink_from_each_corner_and_each_as_far_as_is_written() {
    let mut drawer = drawer();
    drawer.push(ink("Gorse Bank", [84.0, 4.0, 66.0], Kind::Dye));
    drawer.push(ink("Samphire", [58.0, -34.0, 34.0], Kind::Dye));
    let over = || cover(json!({ "over": 0 }));
    let white = made(&panel(), cover(json!({ "add": "circle" }))).unwrap();
    assert!(made_with(&white, over(), &drawer).unwrap_err().says.contains("no ink yet"));
    let mut circle = made_with(&white, word(0, "gets", "fades"), &drawer).unwrap().panel;
    let size = circle.materials().extent(Some(0)).size;
    let corner = Way::offered_inside(size, Units::Inches)
        .iter()
        .position(|way| *way == Way::round(Corner::TopLeft))
        .unwrap();
    circle = made_with(&circle, word(0, "way", &corner.to_string()), &drawer).unwrap().panel;
    for _ in 0..3 {
        circle = made_with(&circle, over(), &drawer).unwrap().panel;
    }
    // No two from one corner, and no ink twice.
    let blends = |panel: &Panel| panel.scene.things[0].blends().to_vec();
    let ways: Vec<Way> = blends(&circle).iter().map(|blend| blend.way).collect();
    assert!(Corner::ALL.iter().all(|corner| ways.contains(&Way::round(*corner))), "{ways:?}");
    let inks: std::collections::BTreeSet<usize> =
        blends(&circle).iter().map(|blend| blend.fields[0].ink).collect();
    assert_eq!(inks.len(), 4);
    let fifth = made_with(&circle, over(), &drawer).unwrap_err().says;
    assert!(fifth.contains("leave one out"), "{fifth}");
    // Each is written by itself.
    let written = made_with(&circle, word(0, "over2_reach", "1 1/2"), &drawer).unwrap().panel;
    let ends = |panel: &Panel| blends(panel).iter().map(|blend| blend.fields[0].ends).collect::<Vec<_>>();
    let before = ends(&circle);
    assert_eq!(ends(&written), [before[0], before[1], Length::from_64ths(96), before[3]]);
    let far = made_with(&circle, word(0, "over2_reach", "40"), &drawer).unwrap_err();
    assert!(far.field == "0-over2_reach" && far.says.contains("up to that"), "{far:?}");
    assert!(made_with(&circle, word(0, "over4_reach", "1"), &drawer).is_err());
    // All four are laid inside one frame, with nothing sealed and nothing cut between.
    let frames = written.moves.iter().filter(|step| matches!(step, Move::MaskOn(_))).count();
    assert_eq!(frames, 2, "its frame, and its plug while the ground is laid");
    let three =
        made_with(&written, cover(json!({ "leave": { "thing": 0, "blend": 1 } })), &drawer).unwrap().panel;
    assert_eq!(blends(&three).len(), 3);
    assert_eq!(blends(&three)[1].way, blends(&written)[2].way);
    assert!(made(&three, cover(json!({ "leave": { "thing": 0, "blend": 0 } }))).is_err());
}

#[test]
fn pale_dye_edges_slid_down_a_panel_need_no_drying_between() {
    let slid = |kind: Kind| {
        let mut bare = panel();
        bare.scene.ground.clear();
        let bare = Panel { moves: Vec::new(), inks: Vec::new(), ..bare };
        let drawer = [ink("Blue Sail", [69.0, -17.0, -23.0], kind)];
        let steps = cover(json!({ "steps": { "thing": 0, "count": 7 } }));
        let edge = made_with(&bare, cover(json!({ "add": "cloud-edge" })), &drawer).unwrap().panel;
        made_with(&edge, steps, &drawer).unwrap().panel
    };
    let dryings = |panel: &Panel| panel.moves.iter().filter(|step| step.dries()).count();
    let pale = slid(Kind::Dye);
    assert_eq!(check(&pale), []);
    assert_eq!(dryings(&pale), 1, "once, when all of it is laid");
    // Makers take seven minutes for seven of them.
    let cost = Cost::of(&pale.moves, &pale.materials());
    assert!((3..8).contains(&cost.minutes), "{cost:?}");
    // Oxide stays damp, and so does dye in as many passes as it has.
    let oxide = slid(Kind::Oxide);
    assert_eq!((check(&oxide), dryings(&oxide)), (Vec::new(), 7));
    let strong = made(&pale, word(3, "veils0", "7")).unwrap();
    assert_eq!((check(&strong), dryings(&strong)), (Vec::new(), 2));
    // An order of her own that dries nowhere is told so only where it is damp.
    let hurried = |panel: &Panel| {
        let moves = panel.moves.iter().filter(|step| !step.dries()).cloned().collect();
        check(&Panel { moves, by_hand: true, ..panel.clone() }).len()
    };
    assert!(hurried(&pale) <= 1 && hurried(&oxide) > 6, "{} {}", hurried(&pale), hurried(&oxide));
}

#[test]
fn a_pattern_is_only_raised_all_over_and_white_again_it_has_its_mask() {
    let comb = made(&panel(), cover(json!({ "add": "honeycomb" }))).unwrap();
    // By what it gets, or by what its masks are.
    for how in [word(0, "gets", "raised"), word(0, "used", "raised")] {
        let raised = made(&comb, how).unwrap();
        let thing = &raised.scene.things[0];
        assert!(thing.is_raised() && thing.over && !thing.is_inked(), "{thing:?}");
        assert!(raised.materials().extent(Some(0)).size.0 > Length::from_64ths(200));
        let last = raised.moves.iter().rfind(|step| step.stays());
        assert!(matches!(last, Some(Move::Raise(_))), "{:?}", raised.moves);
        assert_eq!(check(&raised), []);
        // It is seen by its edge, so that nobody is told that it hardly shows.
        let told = Reading::of(&raised).findings;
        assert!(told.iter().all(|finding| finding.on.is_none()), "{told:?}");
        let white = made(&raised, word(0, "gets", "white")).unwrap();
        let thing = &white.scene.things[0];
        assert!(thing.shape.used == Use::Mask && !thing.over);
    }
    // What is only raised has no powder on it either.
    let powdered = made(&comb, word(0, "resist", "white")).unwrap();
    assert_eq!(made(&powdered, word(0, "gets", "raised")).unwrap().scene.things[0].resist, None);
    // Skimmed it is raised all over as well, in two or three passes.
    let mut drawer = drawer();
    drawer.push(ink("Deep Sail", [42.0, -14.0, -26.0], Kind::Dye));
    let skimmed = made_with(&comb, cover(json!({ "skim": 0 })), &drawer).unwrap().panel;
    let thing = &skimmed.scene.things[0];
    assert!(thing.is_raised() && thing.blends()[0].fields.iter().all(|field| field.veils <= 3));
    assert!(skimmed.materials().extent(Some(0)).size.1 > Length::from_64ths(256));
}

#[test]
fn a_record_is_of_a_panel_as_long_as_that_is_what_was_made() {
    let panel = panel();
    let record = Made::new(Panel { done: 9, ..panel.clone() }, 0);
    assert!(record.is_of(&panel), "how far it has come says nothing of what it is");
    let changed = made(&panel, cover(json!({ "add": "circle" }))).unwrap();
    let renamed = Panel { name: "Kites at noon".parse().unwrap(), ..panel.clone() };
    let other_ink = Panel { inks: vec![drawer()[0].clone()], ..panel };
    assert!([changed, renamed, other_ink].iter().all(|other| !record.is_of(other)));
}

#[test]
fn lines_are_stamped_in_powder_and_their_cells_filled_with_one_mask_moved_on() {
    let walls = made(&panel(), cover(json!({ "add": "comb-walls" }))).unwrap();
    let thing = &walls.scene.things[0];
    assert!(thing.shape.used == Use::Stamp && thing.resist == Some(Powder::White), "{thing:?}");
    // More cells than a panel takes things: all of an ink together.
    let many = made(&walls, cover(json!({ "cells": 0 }))).unwrap();
    let inks = many.scene.things.len() - 1;
    assert!((2..=4).contains(&inks) && many.scene.things[1..].iter().all(Thing::is_inked));
    // Large ones each by itself, of one outline.
    let bare = made(&panel().without_blend(0), cover(json!({ "add": "comb-walls" }))).unwrap();
    let sized = [word(0, "m_cell", "1 in"), word(0, "m_high", "3 in"), cover(json!({ "cells": 0 }))];
    let large = all(bare, &sized);
    let cells = &large.scene.things[1..];
    assert!((4..=11).contains(&cells.len()), "{}", cells.len());
    assert!(cells.iter().all(|cell| cell.shape.figure == cells[0].shape.figure && cell.is_inked()));
    let pieces = taken(&large.moves, &large.materials());
    assert_eq!(check(&large), [], "{:?}", large.moves);
    assert_eq!(pieces.iter().map(|piece| piece.count()).sum::<usize>(), 1, "one mask is moved on");
    // Once is enough; one that was taken away is filled again.
    for full in [&many, &large] {
        assert!(made(full, cover(json!({ "cells": 0 }))).unwrap_err().says.contains("are filled"));
    }
    let again = all(large.clone(), &[cover(json!({ "remove": 2 })), cover(json!({ "cells": 0 }))]);
    assert_eq!(again.scene.things.len(), large.scene.things.len());
    // What has no cells is not filled.
    let refused = made(&all(panel(), &[cover(json!({ "add": "circle" }))]), cover(json!({ "cells": 0 })));
    assert!(refused.unwrap_err().says.contains("nothing between its lines"));
}

#[test]
fn the_four_measures_of_a_hill_are_written_in_any_order() {
    let wanted = [("starts", "1 in"), ("full_from", "2 in"), ("full_to", "3 in"), ("ends", "4 in")];
    let write = |panel: &Panel, (edge, text): (&str, &str)| {
        let change = json!({ "write": { "field": 0, "edge": edge, "text": text } });
        made(panel, json!({ "blend": { "blend": 0, "change": change } })).unwrap()
    };
    let orders = [[0, 1, 2, 3], [3, 2, 1, 0], [2, 0, 3, 1], [1, 3, 0, 2]];
    for order in orders {
        // Written twice, as one would who sees another give way.
        let panel = [order, order].concat().into_iter().fold(panel(), |panel, at| write(&panel, wanted[at]));
        let field = panel.scene.ground[0].fields[0];
        let inches = Length::from_inches;
        let all = [field.starts, field.full_from, field.full_to, field.ends];
        assert_eq!(all, [1, 2, 3, 4].map(inches), "{order:?}");
    }
}

#[test]
fn white_is_brushed_round_a_word_at_the_end_at_one_press() {
    let word_on = all(panel(), &[cover(json!({ "add": "word" })), cover(json!({ "edging": 0 }))]);
    let [loose] = word_on.scene.loose.as_slice() else { panic!("one step") };
    assert!(matches!(loose.step, WetStep::Edging(edging) if edging.thing == 0));
    assert!(word_on.inks.iter().any(Ink::is_white) && check(&word_on).is_empty());
    let at = word_on.moves.iter().position(|m| matches!(m, Move::Edging(_))).unwrap();
    assert!(word_on.moves[..at].iter().rfind(|m| m.laying().is_some()).is_some());
}

/// Another school, or another way to cover it, is another order that is asked for: none of her own stays.
#[test]
fn an_order_that_is_asked_for_is_the_one_that_is_laid() {
    let planned = all(panel(), &[cover(json!({ "add": "circle" })), word(0, "gets", "goes")]);
    let at = planned.moves.iter().position(|m| m.laying().is_some()).unwrap();
    let own = changed(&planned, at, ByHand::DryBefore).unwrap();
    let school = json!({ "blend": { "blend": 0, "change": { "school": "dark-to-light" } } });
    for edit in [cover(json!({ "cover": "back-first" })), school] {
        let laid = made(&own, edit.clone()).unwrap();
        assert!(!laid.by_hand && laid.gave.is_empty(), "{edit}");
        assert_eq!(laid.moves, made(&planned, edit).unwrap().moves);
    }
}
