//! Changes to a card, as its page sends them: each measure goes where it belongs, and what does not go together is told by its field.

use proptest::prelude::*;
use rosy_core::card::{Card, Made, Mount, Trim};
use rosy_core::edges::Edges;
use rosy_core::edit::{Has, Refused};
use rosy_core::place::Point;
use rosy_core::shape::kept::Figure;
use rosy_core::shape::{Drawn, Shape, family};
use rosy_core::{Length, Panel, Units};
use serde_json::{Value, json};

use crate::edits::{made_having, panel};

fn made(panel: &Panel, change: Value) -> Result<Panel, Refused> {
    made_having(panel, json!({ "card": change }), &Has::default()).map(|edited| edited.panel)
}

fn all(panel: Panel, changes: &[Value]) -> Panel {
    changes.iter().fold(panel, |panel, change| {
        made(&panel, change.clone()).unwrap_or_else(|no| panic!("{change}: {no:?}"))
    })
}

fn set(at: &str, to: &str) -> Value {
    json!({ "set": { "at": at, "to": to } })
}

/// How the card of a panel comes out.
fn out(panel: &Panel) -> Made {
    let card = panel.card.clone().unwrap_or_else(|| Card::fitting(&panel.inked(), Units::Inches));
    card.made(&panel.inked(), &[], Units::Inches).unwrap().0
}

fn inches_64(n: i64) -> Length {
    Length::from_64ths(n)
}

/// A panel with a mat under it: the mat shows 1/16 in, the panel on it as well.
fn matted() -> Panel {
    let piece = all(panel(), &[set("piece.width", "4 1/4"), set("piece.height", "5 1/2")]);
    all(piece, &[json!("mat"), set("card.layers.1.reveal", "1/16")])
}

#[test]
fn a_measure_goes_where_it_stands_in_the_document_and_nowhere_else() {
    let start = all(matted(), &[json!("die-cut"), json!({ "window": 0 }), json!("feature")]);
    let length = |panel: &Panel, at: &str| {
        let document = serde_json::to_value(panel).unwrap();
        document.pointer(&format!("/{}", at.replace('.', "/"))).cloned().unwrap_or(Value::Null)
    };
    for (at, to) in [
        ("card.format.relief", "3/64 in"),
        ("card.over", "3/8 in"),
        ("card.tape.border.left", "1/8 in"),
        ("card.tape.hold", "1/16 in"),
        ("card.tape.width", "1/2 in"),
        ("card.layers.0.window.frame", "3/4 in"),
        ("card.die_cut.width", "1 1/2 in"),
        ("features.0.at.left", "1 1/4 in"),
        ("features.0.across", "5/8 in"),
    ] {
        let changed = made(&start, set(at, to)).unwrap_or_else(|no| panic!("{at}: {no:?}"));
        assert_eq!(length(&changed, at), json!(to), "{at}");
        // Written as it was before, all is as it was.
        let was = length(&start, at);
        let back = made(&changed, set(at, was.as_str().unwrap_or(""))).unwrap();
        assert_eq!(back, start, "{at}");
    }
    for (at, to, stands) in [
        ("card.layers.0.name", "Mat under it", json!("Mat under it")),
        ("card.layers.0.count", "2", json!(2)),
        ("card.layers.0.window.shape", "oval", json!("oval")),
        ("card.die_cut.tiers", "3", json!(3)),
        ("card.format.fold", "top", json!("top")),
        ("card.die_cut.thickness", "0.4 mm", json!("0.4 mm")),
    ] {
        assert_eq!(length(&made(&start, set(at, to)).unwrap(), at), stands, "{at}");
    }
    let sized = made(&start, set("card.layers.0.width", "4 1/8")).unwrap();
    let many = made(&sized, set("card.layers.0.count", "")).unwrap();
    assert_eq!(length(&many, "card.layers.0.count"), Value::Null, "it is worked out");
    assert_eq!(out(&many).stacked, out(&sized).stacked);
}

#[test]
fn a_bare_figure_is_in_the_makers_own_system() {
    let has = Has { units: Units::Millimetres, ..Has::default() };
    let over = |to: &str, has: &Has| {
        made_having(&panel(), json!({ "card": set("card.over", to) }), has).unwrap().panel.card.unwrap().over
    };
    assert_eq!(over("6", &has), Length::from_tenths_mm(60));
    assert_eq!(over("1/4", &Has::default()), inches_64(16));
    assert_eq!(over("6 mm", &Has::default()), over("6", &has));
}

#[test]
fn what_cannot_be_is_told_by_its_field_and_what_only_goes_together_goes_together() {
    let start = all(matted(), &[set("card.layers.0.reveal", "1/8")]);
    let width = set("card.layers.0.width", "4 1/8");
    let refused = made(&start, width.clone()).unwrap_err();
    assert_eq!(refused.field, "card.layers.0.width");
    assert!(refused.says.contains("cannot show 1/8 in on both sides"), "{}", refused.says);
    let none = set("card.layers.0.reveal", "");
    assert!(made(&start, json!({ "together": [width.clone(), set("card.over", "1/0")] })).is_err());
    let height = set("card.layers.0.height", "5 3/8");
    let both = made(&start, json!({ "together": [width, height, none] })).unwrap();
    let mat = out(&both).stacked.layers[0].clone();
    assert_eq!((mat.place.width, mat.reveal.left), (inches_64(264), inches_64(4)));
    for (at, to) in [
        ("card.over", "1/0"),
        ("card.layers.7.width", "1"),
        ("card.layers.0.count", "many"),
        ("card.format.width", ""),
        ("card.format.fold", "sideways"),
        ("card.die_cut.width", "1"),
        ("card.weather", "1"),
        ("", ""),
        ("name", ""),
    ] {
        let refused = made(&start, set(at, to)).unwrap_err();
        assert!(refused.field == at && !refused.says.is_empty(), "{at}: {refused:?}");
    }
}

#[test]
fn shapes_are_brought_one_at_a_time_and_no_change_holds_others_that_hold_others() {
    let cut = |shape: &str| json!({ "cut": { "layer": 1, "shape": shape } });
    let shape =
        Shape::new("Moon".parse().unwrap(), Figure::Drawn(Drawn::usual(family::find("circle").unwrap())));
    let has = Has { shape: Some(&shape), ..Has::default() };
    let together =
        |changes: &[Value]| made_having(&matted(), json!({ "card": { "together": changes } }), &has);
    assert!(together(&[set("card.over", "1/4"), cut("one")]).is_ok());
    for several in [[cut("one"), cut("other")], [json!("mat"), json!({ "together": [] })]] {
        assert!(together(&several).unwrap_err().says.contains("one after the other"));
    }
}

#[test]
fn what_shows_is_the_same_whichever_way_it_is_said() {
    let start = matted();
    let before = out(&start).stacked;
    for way in ["all", "each", "found"] {
        let said = made(&start, json!({ "reveal": { "layer": 0, "way": way } })).unwrap();
        assert_eq!(out(&said).stacked, before, "{way}");
    }
    let shows = |way: &str| {
        let said = made(&start, json!({ "reveal": { "layer": 1, "way": way } })).unwrap();
        out(&said).stacked.layers[1].reveal
    };
    let some = inches_64(4);
    assert_eq!(shows("sides"), Edges::from_ends((some, some), (Length::ZERO, Length::ZERO)));
    assert_eq!(shows("ends"), Edges::from_ends((Length::ZERO, Length::ZERO), (some, some)));
}

#[test]
fn layers_are_put_in_taken_out_and_moved_back_to_where_they_were() {
    let start = matted();
    let names = |panel: &Panel| -> Vec<String> {
        panel.card.iter().flat_map(|card| &card.layers).map(|layer| layer.name.to_string()).collect()
    };
    let two = made(&start, json!("mat")).unwrap();
    assert_eq!(names(&two), ["Mat", "Mat 2", "Panel"]);
    let moved = made(&two, json!({ "up": 0 })).unwrap();
    assert_eq!(names(&moved), ["Mat 2", "Mat", "Panel"]);
    assert_eq!(made(&moved, json!({ "down": 1 })).unwrap(), two);
    assert_eq!(names(&made(&two, json!({ "off": 1 })).unwrap()), names(&start));
    for nowhere in [json!({ "up": 2 }), json!({ "down": 0 }), json!({ "off": 9 }), json!({ "window": 5 })] {
        assert!(made(&two, nowhere).is_err());
    }
    assert!(
        made(&start, json!({ "off": 1 })).unwrap_err().says.contains("panel"),
        "a card is made for its panel"
    );
    let window = json!({ "window": 0 });
    assert_eq!(all(start.clone(), &[window.clone(), window]), start);
}

#[test]
fn foam_stays_as_thick_as_it_was() {
    let hold = |by: Value| json!({ "hold": { "what": { "layer": 0 }, "by": by } });
    let foam = all(matted(), &[hold(json!({ "foam": 1 })), set("card.layers.0.mount.foam.thick", "2 mm")]);
    let doubled = made(&foam, hold(json!({ "foam": 2 }))).unwrap();
    let mount = |panel: &Panel| panel.card.as_ref().unwrap().layers[0].mount;
    assert_eq!(mount(&doubled), Mount::Foam { thick: Length::from_tenths_mm(20), layers: 2 });
    assert_eq!(mount(&made(&doubled, hold(json!("glue"))).unwrap()), Mount::Glue);
    assert_eq!(out(&doubled).bulk.thickness - out(&foam).bulk.thickness, Length::from_tenths_mm(20));
}

#[test]
fn a_shape_is_cut_through_a_layer_with_some_of_it_left_round_and_put_back() {
    let shape =
        Shape::new("Moon".parse().unwrap(), Figure::Drawn(Drawn::usual(family::find("circle").unwrap())));
    let has = Has { shape: Some(&shape), ..Has::default() };
    let cut = json!({ "card": { "cut": { "layer": 1, "shape": "its number" } } });
    let open = made_having(&matted(), cut, &has).unwrap().panel;
    let shaped = open.card.as_ref().unwrap().layers[1].shapes[0].clone();
    let layer = out(&open).stacked.layers[1].place;
    let (wide, high) = shaped.shape.outline().unwrap().size();
    assert!(wide <= 0.81 * layer.width.mm() && high <= 0.81 * layer.height.mm(), "{wide} × {high}");
    let middle = Point { left: layer.width / 2, top: layer.height / 2 };
    let off = (shaped.at.left - middle.left).abs().max((shaped.at.top - middle.top).abs());
    assert!(off <= inches_64(2), "its middle lies on the nearest mark");
    let hold = |by: Value| json!({ "hold": { "what": { "shape": [1, 0] }, "by": by } });
    let raised = made(&open, hold(json!({ "foam": 1 }))).unwrap();
    assert!(raised.card.as_ref().unwrap().layers[1].shapes[0].back.is_some());
    assert_eq!(made(&raised, hold(json!("nothing"))).unwrap(), open);
    let whole = made(&open, json!({ "uncut": { "layer": 1, "shape": 0 } })).unwrap();
    assert_eq!(whole, matted());
}

#[test]
fn a_feature_is_marked_pointed_at_and_trimmed_to() {
    let marked = all(panel(), &[set("card.over", "1/4"), json!("feature")]);
    let pointed = made(&marked, json!({ "point": { "feature": 0, "left": 50.9, "top": 63.4 } })).unwrap();
    let inch = |n: i64| inches_64(n * 32);
    assert_eq!(pointed.features[0].at, Point { left: inch(4), top: inch(5) });
    // On a smaller card it can stand in the middle; a place of its own begins there.
    let small = all(
        pointed,
        &[set("card.layers.0.width", "3"), set("card.layers.0.height", "4"), set("card.layers.0.reveal", "")],
    );
    let middle = made(&small, json!({ "trim": { "middle": 0 } })).unwrap();
    let own = made(&middle, json!({ "trim": { "own": 0 } })).unwrap();
    assert_eq!(out(&own).trimmed, out(&middle).trimmed);
    assert!(matches!(own.card.as_ref().unwrap().trim, Trim::Feature { at: Some(_), .. }));
    let moved = made(&own, set("card.trim.feature.at.left", "1 1/4")).unwrap();
    assert_ne!(out(&moved).trimmed, out(&own).trimmed);
    let forgotten = made(&moved, json!({ "forget": 0 })).unwrap();
    assert_eq!((forgotten.features.len(), forgotten.card.unwrap().trim), (0, Trim::Even));
    assert!(made(&middle, set("card.trim.feature.at.left", "1")).is_err(), "it has no place of its own");
}

#[test]
fn another_format_carries_all_of_it() {
    let slim = json!({ "name": "Slim", "width": "4 in", "height": "9 in", "fold": "side" });
    let carried = made(&matted(), json!({ "format": slim })).unwrap();
    assert_eq!(carried.card.as_ref().unwrap().format.name.as_str(), "Slim");
    assert!(!carried.gave.is_empty(), "a blend as long as that runs further");
    assert!(made(&carried, json!("noted")).unwrap().gave.is_empty());
    let wide = made(&matted(), set("piece.width", "6")).unwrap();
    assert_eq!(wide.scene.ground[0].fields.len(), matted().scene.ground[0].fields.len());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    /// Whatever is written wherever, a card comes of it that can be made, or a refusal by its field.
    #[test]
    fn whatever_is_written_is_made_or_refused(
        at in "(name|piece|card|features)(\\.(card|format|layers|tape|border|window|reveal|shapes|die_cut|trim|feature|at|width|height|left|over|count|name|mount|foam|thick|[0-3])){0,5}",
        to in "([0-9]{0,3}( [0-9]/[0-9])?( ?(in|mm|cm))?|[a-z]{0,6}|\\PC{0,4})",
    ) {
        match made(&matted(), set(&at, &to)) {
            Ok(panel) => prop_assert!(panel.check().is_ok()),
            Err(refused) => prop_assert_eq!(refused.field, at),
        }
    }
}
