//! What is drawn of a card and of a sheet: to scale, whole, and measured outside the piece.

use rosy_core::card::layers::Window;
use rosy_core::card::{Card, Format, Layer, Reveal, Role, drawing};
use rosy_core::cut::{Piece, Sheet, SheetAsked};
use rosy_core::drawing::{Drawing, Edge, Mark};
use rosy_core::edges::{Axis, Place};
use rosy_core::{Length, Panel, Units};
use serde_json::json;

fn panel(width: Length, height: Length) -> Panel {
    serde_json::from_value(json!({
        "version": 1, "name": "Lamp on the groyne", "width": width, "height": height,
        "paper": { "name": "White", "colour": { "srgb": "#f6f5f2" }, "thickness": "0.3 mm" },
        "tool": { "name": "Dome" }, "inks": [], "moves": [],
        "blend": { "zone": "1/4 in", "fields": [] }
    }))
    .unwrap()
}

/// A card with a windowed mat under its panel, the panel inked a little over.
fn card(format: Format, units: Units) -> (Card, Panel) {
    let reveal = Reveal::Even(match units {
        Units::Inches => Length::from_64ths(8),
        Units::Millimetres => Length::from_tenths_mm(30),
    });
    let name = |text: &str| text.parse().unwrap();
    let frame = Reveal::Even(Length::from_tenths_mm(100));
    let window = Some(Window { frame, ..Window::default() });
    let mat = Layer { window, ..Layer::showing(name("Mat"), Role::Mat, reveal) };
    let layers = vec![mat, Layer::showing(name("Panel"), Role::Panel, reveal)];
    let (width, height) = (format.width, format.height);
    let sides = [width, height].map(|side| side.min(Length::from_inches(12)).max(Length::from_inches(1)));
    let panel = panel(sides[0], sides[1]);
    let usual = Card::fitting(&panel.inked(), units);
    (Card { format, layers, ..usual }, panel)
}

/// The measures of a row, in their order.
fn row(drawing: &Drawing, edge: Edge, row: usize) -> Vec<(Length, Length)> {
    let of = |mark: &Mark| match mark {
        Mark::Measure { edge: at, row: out, from, to, .. } if *at == edge && *out == row => {
            Some((*from, *to))
        }
        _ => None,
    };
    let mut found: Vec<(Length, Length)> = drawing.marks.iter().filter_map(of).collect();
    found.sort_unstable();
    found
}

fn within(place: &Place, drawing: &Drawing) -> bool {
    place.left >= Length::ZERO
        && place.top >= Length::ZERO
        && place.left + place.width <= drawing.width
        && place.top + place.height <= drawing.height
}

/// What every drawing is: all of it on the sheet, the whole measured last on two sides, no measure over another.
fn true_to_scale(drawing: &Drawing) {
    for mark in &drawing.marks {
        let lies = match mark {
            Mark::Card { place, hole, .. } => {
                within(place, drawing) && hole.is_none_or(|(_, hole)| within(&hole, drawing))
            }
            Mark::Picture { seen, .. } => within(seen, drawing),
            Mark::Waste(place) | Mark::Label(place, _) | Mark::Placed(place, _) => within(place, drawing),
            Mark::Line(_, from, to) => [from, to].into_iter().all(|at| {
                (Length::ZERO..=drawing.width).contains(&at.left)
                    && (Length::ZERO..=drawing.height).contains(&at.top)
            }),
            Mark::Contours(_, contours) => contours.iter().flatten().all(|[x, y]| {
                (0.0..=drawing.width.mm()).contains(x) && (0.0..=drawing.height.mm()).contains(y)
            }),
            Mark::Feature(..) | Mark::Measure { .. } => true,
        };
        assert!(lies, "{}: {mark:?}", drawing.name);
    }
    for (edge, whole) in [(Edge::Bottom, drawing.width), (Edge::Left, drawing.height)] {
        let last = drawing.rows(edge) - 1;
        assert_eq!(row(drawing, edge, last), [(Length::ZERO, whole)], "{}", drawing.name);
    }
    for edge in [Edge::Left, Edge::Right, Edge::Top, Edge::Bottom] {
        for out in 0..drawing.rows(edge) {
            let measures = row(drawing, edge, out);
            assert!(measures.windows(2).all(|pair| pair[0].1 <= pair[1].0), "{}: {measures:?}", drawing.name);
        }
    }
}

#[test]
fn every_usual_card_is_drawn_layer_by_layer_with_its_measures() {
    for format in Format::usual() {
        let units = Units::exact_for(Units::Inches, &[format.width, format.height]).unwrap();
        let (card, panel) = card(format.clone(), units);
        let (made, _) = card.made(&panel.inked(), &[], units).unwrap();
        let drawn = drawing::all(&card, &made, &panel.inked());
        let names: Vec<&str> = drawn.iter().map(|drawing| drawing.name.as_str()).collect();
        assert_eq!(names, ["The card, closed", "The piece to ink", "The base, flat", "Mat"]);
        drawn.iter().for_each(true_to_scale);
        assert_eq!((drawn[0].width, drawn[0].height), (format.width, format.height));
        assert_eq!((drawn[2].width, drawn[2].height), (made.base.width, made.base.height));
        // The parts of the base, score to score, make up its whole.
        if let Some(axis) = format.fold.axis() {
            let parts = row(&drawn[2], axis.of(Edge::Top, Edge::Right), 0);
            assert_eq!(parts.len(), made.base.scores.len() + 1);
            let whole: Length = parts.iter().map(|(from, to)| *to - *from).sum();
            assert_eq!(whole, axis.of(made.base.width, made.base.height));
        }
        // What falls off and what is kept make up the piece.
        let trimmed = made.trimmed.as_ref().unwrap();
        for (edge, axis, side) in
            [(Edge::Bottom, Axis::Across, panel.width), (Edge::Left, Axis::Down, panel.height)]
        {
            let (near, far) = trimmed.waste.along(axis);
            let kept = trimmed.window.along(axis).1;
            assert_eq!(near + kept + far, side);
            let measured: Length = row(&drawn[1], edge, 0).iter().map(|(from, to)| *to - *from).sum();
            assert_eq!(measured, side);
        }
    }
}

#[test]
fn a_sheet_is_drawn_with_everything_that_comes_from_it() {
    let name = |text: &str| text.parse().unwrap();
    let inches = Length::from_inches;
    let piece = |text: &str, w, h, count| Piece {
        name: name(text),
        width: inches(w),
        height: inches(h),
        grain: None,
        count,
        paper: None,
    };
    let letter = Sheet {
        name: name("Letter"),
        width: Length::from_64ths(8 * 64 + 32),
        height: inches(11),
        grain: None,
        count: None,
        paper: None,
        offcut: false,
    };
    let pieces = vec![piece("Strings: mat", 4, 5, 3), piece("Label", 2, 3, 2)];
    let asked = SheetAsked { units: Units::Inches, pieces, sheets: vec![letter], keep: None };
    let plan = asked.answer().unwrap();
    let mut labels = Vec::new();
    for cut in &plan.sheets {
        let drawn = rosy_core::cut::drawing::sheet(cut, &asked, Units::Inches);
        true_to_scale(&drawn);
        let area = |place: &Place| place.width.times(place.height);
        let covered: i128 = drawn
            .marks
            .iter()
            .map(|mark| match mark {
                Mark::Card { place, .. } | Mark::Waste(place) => area(place),
                _ => 0,
            })
            .sum();
        assert_eq!(covered, drawn.width.times(drawn.height), "pieces and rests cover the sheet once");
        for mark in &drawn.marks {
            if let Mark::Label(_, text) = mark {
                labels.extend((0..cut.alike).map(|_| text.clone()));
            }
        }
    }
    assert_eq!(labels.iter().filter(|text| text.contains("mat")).count(), 3);
    assert_eq!(labels.iter().filter(|text| text.contains("Label\n")).count(), 2);
}
