//! The figures makers work by, each from its inputs, in inches and in millimetres.

use proptest::prelude::*;
use rosy_core::again::again;
use rosy_core::ask::card::{CardAsked, CardSeen, TrimAsked, TrimSeen};
use rosy_core::card::{Card, Format};
use rosy_core::edges::{Axis, Edges};
use rosy_core::place::Point;
use rosy_core::{Length, Panel, Units};
use serde_json::{Value, json};

fn asked(document: Value) -> CardAsked {
    serde_json::from_value(document).unwrap_or_else(|error| panic!("{error}"))
}

fn seen(document: Value) -> CardSeen {
    asked(document).answer().unwrap_or_else(|error| panic!("{error}"))
}

fn refused(document: Value) -> String {
    asked(document).answer().expect_err("figures that clash").to_string()
}

/// `"4 1/4 x 5 1/2"` or `"105 mm x 148 mm"`.
fn size(text: &str) -> (Length, Length) {
    let (w, h) = text.split_once(" x ").expect("two sides");
    (w.parse().unwrap(), h.parse().unwrap())
}

/// The same question in the other system of measure: exactly the same answer, only its words differ.
fn in_both(document: Value) -> CardSeen {
    let inches = seen(document.clone());
    let mut other = document;
    other["units"] = "millimetres".into();
    other["over"] = other.get("over").cloned().unwrap_or("1/4 in".into());
    let millimetres = seen(other);
    assert_eq!((&inches.base, &inches.layers), (&millimetres.base, &millimetres.layers));
    assert_eq!(inches.pieces, millimetres.pieces);
    inches
}

fn usual(layers: Value) -> Value {
    json!({ "format": { "width": "4 1/4 in", "height": "5 1/2 in", "fold": "side" }, "layers": layers })
}

fn layer(seen: &CardSeen, at: usize) -> (Length, Length) {
    (seen.layers[at].place.width, seen.layers[at].place.height)
}

#[test]
fn bases_are_cut_and_scored_as_makers_do() {
    for (fold, base, scores, grain) in [
        ("side", "8 1/2 x 5 1/2", vec!["4 1/4"], Some(Axis::Down)),
        ("top", "4 1/4 x 11", vec!["5 1/2"], Some(Axis::Across)),
        ("flat", "4 1/4 x 5 1/2", vec![], None),
        // Each flap half of the front less a hair.
        ("flaps-side", "8 7/16 x 5 1/2", vec!["2 3/32", "6 11/32"], Some(Axis::Down)),
    ] {
        let mut document = usual(json!([]));
        document["format"]["fold"] = fold.into();
        let seen = in_both(document);
        assert_eq!((seen.base.width, seen.base.height), size(base), "{fold}");
        let at: Vec<Length> = seen.base.scores.iter().map(|score| score.at).collect();
        let expected: Vec<Length> = scores.iter().map(|text| text.parse().unwrap()).collect();
        assert_eq!((at, seen.base.grain), (expected, grain), "{fold}");
        assert_eq!(
            seen.base.parts.iter().copied().sum::<Length>(),
            match fold {
                "flat" => Length::ZERO,
                "top" => seen.base.height,
                _ => seen.base.width,
            }
        );
    }
    let slim = in_both(json!({
        "format": { "width": "9 in", "height": "4 in", "fold": "top" },
        "layers": [
            { "name": "Mat", "reveal": "1/8 in" },
            { "name": "Panel", "role": "panel", "reveal": "1/8 in" }
        ]
    }));
    assert_eq!((slim.base.width, slim.base.height), size("9 x 8"));
    assert_eq!(slim.base.scores[0].at, "4 in".parse().unwrap());
    assert_eq!((layer(&slim, 0), layer(&slim, 1)), (size("8 3/4 x 3 3/4"), size("8 1/2 x 3 1/2")));
}

#[test]
fn usual_stacks_have_the_usual_sizes() {
    let panel = |reveal: Value| json!([{ "name": "Panel", "role": "panel", "reveal": reveal }]);
    for (layers, expected) in [
        (panel(json!("1/8 in")), "4 x 5 1/4"),
        (panel(json!("3/8 in")), "3 1/2 x 4 3/4"),
        (panel(json!({ "left": "1/8 in", "right": "1/8 in", "top": "0 in", "bottom": "0 in" })), "4 x 5 1/2"),
        (
            panel(json!({ "left": "0 in", "right": "1/8 in", "top": "0 in", "bottom": "0 in" })),
            "4 1/8 x 5 1/2",
        ),
        (panel(json!("0 in")), "4 1/4 x 5 1/2"),
    ] {
        assert_eq!(layer(&in_both(usual(layers)), 0), size(expected));
    }
    let matted = in_both(usual(json!([
        { "name": "Mat", "reveal": "1/16 in" },
        { "name": "Panel", "role": "panel", "reveal": "1/16 in" }
    ])));
    assert_eq!((layer(&matted, 0), layer(&matted, 1)), (size("4 1/8 x 5 3/8"), size("4 x 5 1/4")));
    let inked = matted.inked.expect("a panel is inked");
    assert_eq!((inked.width, inked.height), size("4 1/2 x 5 3/4"));
    let a6 = seen(json!({
        "units": "millimetres",
        "format": { "width": "105 mm", "height": "148 mm", "fold": "side" },
        "layers": [{ "name": "Panel", "role": "panel", "reveal": "3 mm" }]
    }));
    assert_eq!((a6.base.width, a6.base.height), size("210 mm x 148 mm"));
    assert_eq!(layer(&a6, 0), size("99 mm x 142 mm"));
    assert_eq!(a6.inked.map(|inked| (inked.width, inked.height)), Some(size("111 mm x 154 mm")));
    assert_eq!(a6.post.envelope.map(|envelope| envelope.name.to_string()), Some("C6".into()));
}

#[test]
fn whatever_is_left_out_is_found_and_put_back_it_is_the_same() {
    let full = json!([
        { "name": "Mat", "reveal": "1/16 in", "width": "4 1/8 in", "height": "5 3/8 in" },
        { "name": "Panel", "role": "panel", "reveal": "1/16 in", "width": "4 in", "height": "5 1/4 in" }
    ]);
    let known = seen(usual(full.clone()));
    let takes: [&[(usize, &str)]; 5] = [
        &[(0, "reveal")],
        &[(1, "reveal")],
        &[(0, "width"), (0, "height"), (1, "width"), (1, "height")],
        &[(0, "width"), (0, "height")],
        &[(1, "width"), (1, "height"), (0, "reveal")],
    ];
    for taken in takes {
        let mut some = full.clone();
        for (layer, figure) in taken {
            some[*layer].as_object_mut().unwrap().remove(*figure);
        }
        let found = seen(usual(some));
        assert_eq!(found.layers, known.layers, "without {taken:?}");
    }
    // The base itself.
    let mut bare = usual(full);
    bare["format"] = json!({ "fold": "side" });
    let found = seen(bare);
    assert_eq!((found.width, found.height), (known.width, known.height));
    // How many mats: 4 1/4 down to 4 in steps of 1/16 all round is two.
    let counted = seen(usual(json!([
        { "name": "Mat", "reveal": "1/16 in", "width": "4 in", "height": "5 1/4 in", "count": null }
    ])));
    assert_eq!(counted.layers.len(), 2);
    assert_eq!(layer(&counted, 0), size("4 1/8 x 5 3/8"));
}

#[test]
fn contradictions_are_named_by_their_figures() {
    for (format, layers, says) in [
        (
            "4 1/8 in",
            json!([{ "name": "mat", "reveal": "1/8 in", "width": "4 in" }]),
            "a 4 in mat cannot show 1/8 in on both sides on a 4 1/8 in base",
        ),
        (
            "4 1/4 in",
            json!([{ "name": "mat", "width": "4 1/2 in", "height": "5 in" }]),
            "does not fit on a 4 1/4 in base",
        ),
        ("4 1/4 in", json!([{ "name": "mat", "reveal": "2 1/8 in" }]), "nothing is left of the mat"),
        ("4 1/4 in", json!([{ "name": "mat" }]), "nothing says how large the mat is"),
        (
            "4 1/4 in",
            json!([{ "name": "mat", "reveal": "3/32 in", "width": "4 in", "height": "5 1/4 in", "count": null }]),
            "do not lead from 4 1/4 in to 4 in",
        ),
        ("4 1/4 in", json!([{ "name": "mat", "reveal": "-1/8 in" }]), "less than nothing"),
        ("20 in", json!([]), "the width of the finished card is 20 in"),
    ] {
        let mut document = usual(layers);
        document["format"]["width"] = format.into();
        let said = refused(document);
        assert!(said.contains(says), "{said}");
    }
}

#[test]
fn tape_lines_are_measures_from_each_edge() {
    let mut document = usual(json!([{ "name": "Panel", "role": "panel", "reveal": "1/8 in" }]));
    document["tape"] =
        json!({ "border": { "left": "3/8 in", "right": "3/8 in", "top": "3/8 in", "bottom": "1/2 in" } });
    let tape = in_both(document).inked.unwrap().tape;
    // Inked 1/4 over: the line lies that much further in, the scar ends where the border does.
    let line = tape.lines.left.unwrap();
    assert_eq!(line.line, "5/8 in".parse().unwrap());
    assert_eq!((line.scar_from, line.scar_to), (Some(Length::ZERO), Some("3/8 in".parse().unwrap())));
    assert_eq!(tape.lines.bottom.unwrap().line, "3/4 in".parse().unwrap());
    // Held down by tape over the outer 1/8 alone, the trim takes the scar off.
    let mut held = usual(json!([{ "name": "Panel", "role": "panel", "reveal": "1/8 in" }]));
    held["tape"] = json!({ "hold": "1/8 in" });
    let held = seen(held).inked.unwrap().tape;
    assert!(held.lines.named().iter().all(|(_, line)| line.unwrap().scar_to.is_none()));
    assert!(held.says.iter().any(|says| says.contains("the trim takes it off")));
}

fn trim(piece: &str, finished: &str, feature: Option<(&str, &str)>) -> TrimSeen {
    let sides = |text: &str| {
        let (width, height) = size(text);
        json!({ "width": width, "height": height })
    };
    let mut document = json!({ "piece": sides(piece), "finished": sides(finished) });
    if let Some((left, top)) = feature {
        document["feature"] = json!({ "left": left, "top": top });
    }
    serde_json::from_value::<TrimAsked>(document).unwrap().answer().unwrap()
}

#[test]
fn half_the_finished_size_is_marked_to_each_side_of_a_feature() {
    let TrimSeen::Trimmed(cut) = trim("4 1/2 x 5 3/4", "4 x 5 1/4", Some(("2 1/8 in", "3 in"))) else {
        panic!("there is room")
    };
    let marks = cut.marks.unwrap();
    assert_eq!((marks.left, marks.right), size("2 x 2"));
    assert_eq!((marks.top, marks.bottom), size("2 5/8 x 2 5/8"));
    assert_eq!((cut.waste.left, cut.waste.right), size("1/8 x 3/8"));
    assert_eq!((cut.waste.top, cut.waste.bottom), size("3/8 x 1/8"));
    // Each cut by its stop: the first from the uncut edge across, the second from the fresh one.
    let keeps: Vec<(String, Length)> = cut.cuts.iter().map(|cut| (cut.edge.clone(), cut.keep)).collect();
    let expected = [("right", "4 1/8"), ("left", "4"), ("top", "5 3/8"), ("bottom", "5 1/4")];
    assert_eq!(keeps, expected.map(|(edge, keep)| (edge.to_owned(), keep.parse().unwrap())));
}

#[test]
fn a_feature_too_near_an_edge_is_refused_with_the_largest_size_and_the_offset() {
    let TrimSeen::Refused(no) = trim("4 1/2 x 5 3/4", "4 x 5 1/4", Some(("1 3/4 in", "2 7/8 in"))) else {
        panic!("1 3/4 in is less than half of 4 in")
    };
    assert_eq!(no.largest_width, Some("3 1/2 in".parse().unwrap()));
    assert_eq!((no.offset_across, no.offset_down), (Length::from_64ths(-16), Length::ZERO));
    assert!(
        no.says.contains("too near the left edge") && no.says.contains("1/4 in left of its place"),
        "{}",
        no.says
    );
    // What it offers works, and a mark more does not.
    let width = no.largest_width.unwrap();
    assert!(matches!(
        trim("4 1/2 x 5 3/4", &format!("{width} x 5 1/4 in"), Some(("1 3/4 in", "2 7/8 in"))),
        TrimSeen::Trimmed(_)
    ));
    // One mark more still halves to the same marks; two do not.
    let more = width + Length::from_64ths(2);
    assert!(matches!(
        trim("4 1/2 x 5 3/4", &format!("{more} x 5 1/4 in"), Some(("1 3/4 in", "2 7/8 in"))),
        TrimSeen::Refused(_)
    ));
}

#[test]
fn thickness_is_the_sum_of_what_lies_one_over_the_other() {
    let paper =
        |thickness: &str| json!({ "name": "White", "colour": { "srgb": "#f6f5f2" }, "thickness": thickness });
    let mut document = usual(json!([
        { "name": "Mat", "reveal": "1/16 in", "paper": paper("0.22 mm") },
        { "name": "Panel", "role": "panel", "reveal": "1/16 in", "mount": { "foam": { "thick": "2 mm", "layers": 2 } } }
    ]));
    document["paper"] = paper("0.3 mm");
    document["die_cut"] =
        json!({ "name": "Kite", "width": "2 in", "height": "2 in", "tiers": 3, "thickness": "0.3 mm" });
    document["post_limit"] = json!("5 mm");
    let bulk = seen(document.clone()).bulk;
    // Two leaves of 0.3, a mat of 0.22, foam of 2 × 2, a panel of 0.3, three tiers of 0.3.
    assert_eq!(bulk.thickness, Length::from_hundredths_mm(60 + 22 + 400 + 30 + 90));
    assert!(!bulk.within && !bulk.swaps.is_empty());
    assert!(bulk.swaps.iter().all(|swap| swap.thickness <= Length::from_tenths_mm(50)), "{:?}", bulk.swaps);
    document["post_limit"] = json!("6.02 mm");
    assert!(seen(document).bulk.within);
}

#[test]
fn the_usual_card_goes_into_the_usual_envelope_and_a_raised_one_does_not() {
    let flat = in_both(usual(json!([{ "name": "Panel", "role": "panel", "reveal": "1/8 in" }])));
    let envelope = flat.post.envelope.unwrap();
    assert_eq!((envelope.width, envelope.height), size("4 3/8 x 5 3/4"));
    let raised = seen(usual(json!([{ "name": "Panel", "role": "panel", "reveal": "0 in",
        "mount": { "foam": { "thick": "2 mm", "layers": 2 } } }])));
    assert!(raised.post.envelope.is_none_or(|other| other != envelope));
}

#[test]
fn every_usual_format_makes_a_card_that_folds_shut() {
    for format in Format::usual() {
        format.check().unwrap();
        let base = format.base();
        let Some(axis) = format.fold.axis() else { continue };
        let closed = axis.of(format.width, format.height);
        let (longest, parts) = (base.parts.iter().max().unwrap(), &base.parts);
        assert_eq!(*longest, closed, "{}", format.name);
        if format.fold.has_flaps() {
            let gap = closed - parts[0] - parts[2];
            assert_eq!(gap, format.relief * 2, "{}: the flaps leave a hair each", format.name);
        } else {
            assert_eq!(parts[0], parts[1]);
        }
        assert_eq!(base.grain, Some(axis.other()), "the grain runs along the fold");
        let card = Card::fitting(&panel("4 in", "5 1/4 in").inked(), Units::Inches);
        let card = Card { format, ..card };
        let (made, post) = card
            .made(&panel("4 in", "5 1/4 in").inked(), &rosy_core::card::Envelope::usual(), Units::Inches)
            .unwrap();
        assert!(post.envelope.is_some(), "{}", card.format.name);
        assert!(made.pieces.len() == 2);
    }
}

#[test]
fn every_piece_has_a_card_it_fits() {
    let offered = [
        // Width, height, the card, what shows, what is trimmed off each side.
        ("4 in", "5 1/4 in", "4 1/4 x 5 1/2", "1/8 in all round", "0 in"),
        ("4 1/4 in", "5 1/2 in", "4 1/4 x 5 1/2", "none", "0 in"),
        ("4 1/2 in", "5 3/4 in", "4 1/4 x 5 1/2", "1/8 in all round", "1/4 in"),
        ("3 1/2 in", "8 1/2 in", "4 x 9", "1/4 in all round", "0 in"),
        ("99 mm", "142 mm", "105 mm x 148 mm", "3 mm all round", "0 in"),
        ("105 mm", "148 mm", "105 mm x 148 mm", "none", "0 in"),
        ("112 mm", "155 mm", "105 mm x 148 mm", "3 mm all round", "6.5 mm"),
        ("89 mm", "199 mm", "99 mm x 210 mm", "", "0 in"),
        ("11 1/4 in", "11 3/4 in", "11 1/4 x 11 3/4", "none", "0 in"),
        ("2 5/16 in", "6 7/16 in", "", "", "0 in"),
    ];
    for (width, height, card, shows, over) in offered {
        let units = if width.ends_with("mm") { Units::Millimetres } else { Units::Inches };
        let panel = panel(width, height);
        let fitting = Card::fitting(&panel.inked(), units);
        let (made, _) = fitting.made(&panel.inked(), &[], units).unwrap();
        let trimmed = made.trimmed.as_ref().unwrap_or_else(|refused| panic!("{width}: {}", refused.says));
        assert_eq!(trimmed.cuts.is_empty(), over == "0 in", "{width}: {:?}", trimmed.cuts);
        assert_eq!(fitting.over.to_string(), over, "{width} × {height}");
        assert_eq!(made.inked, (panel.width, panel.height), "the size chosen is the size that is inked");
        if let Some((w, h)) = card.split_once(" x ") {
            let side = |text: &str| text.parse::<Length>().unwrap();
            assert_eq!(
                (fitting.format.width, fitting.format.height),
                (side(w), side(h)),
                "{width} × {height}"
            );
        }
        if !shows.is_empty() {
            assert_eq!(made.panel.reveal.words(units), shows, "{width} × {height}");
        }
    }
}

fn panel(width: &str, height: &str) -> Panel {
    serde_json::from_value(json!({
        "version": 1, "name": "Lamp on the groyne", "width": width, "height": height,
        "paper": { "name": "White", "colour": { "srgb": "#f6f5f2" }, "thickness": "0.3 mm" },
        "tool": { "name": "Dome" },
        "inks": [
            { "name": "First Tide", "colour": { "lab": [57, -17, -31] } },
            { "name": "Cockle", "colour": { "lab": [57, 56, -4] } }
        ],
        "blend": { "zone": "1/4 in", "fields": [
            { "veils": 5, "starts": "0 in", "full_from": "0 in", "full_to": "1 1/2 in", "ends": "3 1/2 in" },
            { "veils": 5, "starts": "1 1/2 in", "full_from": "3 1/2 in", "full_to": height, "ends": height } ] },
        "moves": []
    }))
    .unwrap()
}

#[test]
fn made_again_slim_a_panel_keeps_its_shares_and_says_what_gave() {
    let mut moon = panel("4 1/2 in", "5 3/4 in").laid();
    moon.features.push(rosy_core::card::trim::Feature {
        name: "Moon".parse().unwrap(),
        at: Point { left: "2 1/4 in".parse().unwrap(), top: "1 7/16 in".parse().unwrap() },
        across: Some("1 1/2 in".parse().unwrap()),
    });
    moon.card = Some(Card::fitting(&moon.inked(), Units::Inches));
    moon.check().unwrap();
    let slim = Format::usual().into_iter().find(|f| f.name.as_str() == "Slim, standing").unwrap();
    let made = again(&moon, &slim, Units::Inches).unwrap();
    made.check().unwrap();
    assert_eq!((made.width, made.height), size("4 1/4 x 9 1/4"));
    // A quarter down before, a quarter down after; the inks in their order, each with as many veils.
    let at = made.features[0].at;
    assert!(
        (at.top.ratio(made.height) - 0.25).abs() < 0.002 && (at.left.ratio(made.width) - 0.5).abs() < 0.005
    );
    assert_eq!(made.inks, moon.inks);
    for (new, old) in made.scene.ground[0].fields.iter().zip(&moon.scene.ground[0].fields) {
        assert_eq!(new.veils, old.veils);
        assert!((new.full_to.ratio(made.span(0)) - old.full_to.ratio(moon.span(0))).abs() < 0.02);
    }
    assert!(
        made.gave.iter().any(|says| says.contains("The blend runs 9 1/4 in in place of 5 3/4 in")),
        "{:?}",
        made.gave
    );
    // On the card it came from, nothing gives.
    let same = again(&moon, &moon.card.as_ref().unwrap().format, Units::Inches).unwrap();
    assert_eq!((same.scene, same.gave), (moon.scene.clone(), Vec::<String>::new()));
    // On a card in millimetres, measures become marks of a millimetre rule.
    let a6 = Format::usual().into_iter().find(|f| f.name.as_str() == "A6, opens sideways").unwrap();
    let metric = again(&moon, &a6, Units::Inches).unwrap();
    let card = metric.card.clone().unwrap();
    let (made, _) = card.made(&metric.inked(), &[], Units::Inches).unwrap();
    assert_eq!(made.units, Units::Millimetres);
    assert_eq!(made.panel.reveal.left, Length::from_tenths_mm(30), "1/8 in is 3.2 mm: 3 mm by halves");
    assert!(metric.gave.iter().any(|says| says.contains("nearest half millimetre")));
    // A moon too near the edge for the new card is said, and the panel is trimmed evenly.
    let mut low = moon.clone();
    low.features[0].at.left = "3/4 in".parse().unwrap();
    low.card.as_mut().unwrap().trim = rosy_core::card::Trim::Feature { feature: 0, at: None };
    let gave = again(&low, &slim, Units::Inches).unwrap();
    assert_eq!(gave.card.unwrap().trim, rosy_core::card::Trim::Even);
    assert!(gave.gave.iter().any(|says| says.contains("trimmed evenly")), "{:?}", gave.gave);
}

#[test]
fn the_run_sheet_ends_with_the_trim_and_the_card() {
    let mut panel = panel("4 1/2 in", "5 3/4 in").laid();
    let without = rosy_core::order::RunSheet::of(&panel, Units::Inches).steps.len();
    let mut card = Card::fitting(&panel.inked(), Units::Inches);
    card.tape.border = Edges::all("3/8 in".parse().unwrap());
    panel.card = Some(card);
    let steps = rosy_core::order::RunSheet::of(&panel, Units::Inches).steps;
    assert_eq!(steps.len(), without + 2, "steps ticked off before stay where they were");
    // Laid anew it is taped before the first ink, and peeled once the last is dry.
    let panel = panel.laid();
    let steps = rosy_core::order::RunSheet::of(&panel, Units::Inches).steps;
    assert_eq!(steps.len(), without + 4);
    let (tape, peel) = (&steps[2], &steps[steps.len() - 3]);
    assert_eq!((tape.title.as_str(), peel.title.as_str()), ("Tape the edges", "Peel the tape off"));
    assert!(tape.how.contains("5/8 in from every edge of the piece"), "{}", tape.how);
    let [.., trim, card] = steps.as_slice() else { panic!("two more steps") };
    assert!(trim.how.contains("the stop set to 4 in") && trim.care.is_some(), "{}", trim.how);
    assert!(
        card.how.contains("score at 4 1/4 in")
            && card.how.contains("Panel, 4 × 5 1/4 in, glued: 1/8 in all round")
    );
}

proptest! {
    #[test]
    fn reveals_and_sizes_add_up_to_the_base(
        width in 16_i64..96, height in 16_i64..96,
        steps in proptest::collection::vec(0_i64..8, 4..5),
        mm in any::<bool>(),
    ) {
        let mark = |n: i64| if mm { Length::from_tenths_mm(20 * n) } else { Length::from_64ths(8 * n) };
        let edges = Edges { left: mark(steps[0]), right: mark(steps[1]), top: mark(steps[2]), bottom: mark(steps[3]) };
        let (w, h) = (mark(width), mark(height));
        prop_assume!(w >= Length::from_inches(1) && h >= Length::from_inches(1));
        prop_assume!(edges.left + edges.right < w && edges.top + edges.bottom < h);
        prop_assume!(w <= Length::from_inches(12) && h <= Length::from_inches(12));
        let units = if mm { Units::Millimetres } else { Units::Inches };
        let document = json!({
            "format": { "width": w, "height": h, "fold": "flat" },
            "layers": [{ "name": "Mat", "reveal": { "left": edges.left, "right": edges.right, "top": edges.top, "bottom": edges.bottom } }]
        });
        let found = seen(document);
        let placed = &found.layers[0];
        prop_assert_eq!(placed.place.width + edges.left + edges.right, w);
        prop_assert_eq!(placed.place.height + edges.top + edges.bottom, h);
        // Solving for the unknown and putting it back is the same: from the size, the reveals of a centred layer.
        let back = seen(json!({
            "units": units,
            "format": { "width": w, "height": h, "fold": "flat" },
            "layers": [{ "name": "Mat", "width": placed.place.width, "height": placed.place.height }]
        }));
        let reveal = back.layers[0].reveal;
        prop_assert_eq!(reveal.left + reveal.right, edges.left + edges.right);
        prop_assert!((reveal.left - reveal.right).abs() <= units.finest());
    }

    #[test]
    fn whatever_is_asked_the_answer_adds_up_or_says_why_not(
        base in (proptest::option::of(-1_i64..90), proptest::option::of(-1_i64..90)),
        layers in proptest::collection::vec((
            (proptest::option::of(-1_i64..90), proptest::option::of(-1_i64..90)),
            proptest::collection::vec(proptest::option::of(-1_i64..12), 4..5),
            proptest::option::of(0_u32..10),
            proptest::option::of((proptest::option::of(1_i64..60), proptest::option::of(0_i64..20))),
        ), 0..5),
        fold in 0_usize..5,
        over in -1_i64..10,
        mm in any::<bool>(),
    ) {
        let mark = |n: i64| if mm { Length::from_tenths_mm(30 * n) } else { Length::from_64ths(8 * n) };
        let some = |n: Option<i64>| n.map_or(Value::Null, |n| json!(mark(n)));
        let layers: Vec<Value> = layers.into_iter().enumerate().map(|(n, ((w, h), reveal, count, window))| {
            let edges = ["left", "right", "top", "bottom"].into_iter().zip(reveal).map(|(edge, n)| (edge.to_owned(), some(n)));
            let window = window.map(|(side, frame)| json!({ "width": some(side), "frame": { "left": some(frame) } }));
            json!({ "name": format!("Layer {n}"), "width": some(w), "height": some(h), "count": count,
                "reveal": edges.collect::<serde_json::Map<String, Value>>(), "window": window,
                "role": if n == 1 { "panel" } else { "mat" } })
        }).collect();
        let fold = ["flat", "side", "top", "flaps-side", "flaps-top"][fold];
        let document = json!({
            "format": { "width": some(base.0), "height": some(base.1), "fold": fold },
            "layers": layers, "over": mark(over),
            "units": if mm { "millimetres" } else { "inches" },
        });
        match asked(document).answer() {
            Err(why) => prop_assert!(!why.to_string().is_empty()),
            Ok(seen) => {
                let (mut width, mut height) = (seen.width, seen.height);
                for layer in &seen.layers {
                    prop_assert_eq!(layer.reveal.left + layer.place.width + layer.reveal.right, width);
                    prop_assert_eq!(layer.reveal.top + layer.place.height + layer.reveal.bottom, height);
                    prop_assert!(layer.reveal.named().iter().all(|(_, shows)| *shows >= Length::ZERO), "{:?}", layer);
                    (width, height) = (layer.place.width, layer.place.height);
                    prop_assert!(width > Length::ZERO && height > Length::ZERO);
                    if let Some(window) = &layer.window {
                        prop_assert_eq!(window.frame.left + window.place.width + window.frame.right, width);
                    }
                }
            }
        }
    }

    #[test]
    fn a_trim_is_either_cut_or_refused_and_never_cuts_beside_the_piece(
        piece in (8_i64..96, 8_i64..96), finished in (4_i64..96, 4_i64..96), at in (0_i64..96, 0_i64..96),
    ) {
        let mark = |n: i64| Length::from_64ths(8 * n);
        prop_assume!(at.0 <= piece.0 && at.1 <= piece.1);
        let text = |(w, h): (i64, i64)| format!("{} x {}", mark(w), mark(h));
        let (left, top) = (mark(at.0).to_string(), mark(at.1).to_string());
        match trim(&text(piece), &text(finished), Some((&left, &top))) {
            TrimSeen::Trimmed(cut) => {
                let marks = cut.marks.unwrap();
                prop_assert_eq!(marks.left + marks.right, mark(finished.0));
                prop_assert_eq!(cut.waste.left + mark(finished.0) + cut.waste.right, mark(piece.0));
                prop_assert_eq!(cut.waste.top + mark(finished.1) + cut.waste.bottom, mark(piece.1));
                prop_assert!(cut.waste.named().iter().all(|(_, waste)| *waste >= Length::ZERO));
                prop_assert!((marks.left - marks.right).abs() <= Length::from_64ths(1));
                prop_assert_eq!(cut.cuts.len(), cut.waste.named().iter().filter(|(_, w)| *w > Length::ZERO).count());
            }
            TrimSeen::Refused(no) => {
                let half = |at: i64, piece: i64| 2 * at.min(piece - at);
                prop_assert!(half(at.0, piece.0) < finished.0 || half(at.1, piece.1) < finished.1);
                if let (Some(width), Some(height)) = (no.largest_width, no.largest_height) {
                    prop_assert_eq!(width, mark(half(at.0, piece.0)));
                    prop_assert_eq!(height, mark(half(at.1, piece.1)));
                }
                if let Some(window) = no.window {
                    prop_assert!(window.left >= Length::ZERO && window.left + window.width <= mark(piece.0));
                }
            }
        }
    }
}

#[test]
fn sizes_are_read_in_a_document_as_people_write_them() {
    let read =
        |text: &str| seen(json!({ "format": { "width": text, "height": "5 1/2\"", "fold": "side" } })).width;
    for text in ["4 1/4 in", "4-1/4", "4.25\"", "10.795 cm", "107.95 mm", "4¼ in"] {
        assert_eq!(read(text), "4 1/4 in".parse().unwrap(), "{text}");
    }
    let bad = serde_json::from_value::<CardAsked>(json!({ "format": { "width": "four" } }))
        .unwrap_err()
        .to_string();
    assert!(bad.contains("“four” is not a length"), "{bad}");
}
