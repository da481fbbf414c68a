//! What is drawn of a card and of a sheet: to scale, whole, and measured outside the piece.

use rosy_core::again::again;
use rosy_core::card::layers::Window;
use rosy_core::card::{Card, Format, Layer, Mount, Reveal, Role, Shaped, drawing};
use rosy_core::cut::{Piece, Sheet, SheetAsked};
use rosy_core::drawing::{Drawing, Edge, Hole, Line, Mark};
use rosy_core::edges::{Axis, Place};
use rosy_core::order::RunSheet;
use rosy_core::place::Point;
use rosy_core::shape::kept::Figure;
use rosy_core::shape::region::Contour;
use rosy_core::shape::{Drawn, Shape, family};
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

fn lie_within(contours: &[Contour], drawing: &Drawing) -> bool {
    contours
        .iter()
        .flatten()
        .all(|[x, y]| (0.0..=drawing.width.mm()).contains(x) && (0.0..=drawing.height.mm()).contains(y))
}

/// What every drawing is: all of it on the sheet, the whole measured last on two sides, no measure over another.
fn true_to_scale(drawing: &Drawing) {
    for mark in &drawing.marks {
        let lies = match mark {
            Mark::Card { place, holes, .. } => {
                within(place, drawing)
                    && holes.iter().all(|hole| match hole {
                        Hole::Window(_, hole) => within(hole, drawing),
                        Hole::Shaped(contours) => lie_within(contours, drawing),
                    })
            }
            Mark::Picture { seen, .. } => within(seen, drawing),
            Mark::Waste(place) | Mark::Label(place, _) | Mark::Placed(place, _) => within(place, drawing),
            Mark::Line(_, from, to) => [from, to].into_iter().all(|at| {
                (Length::ZERO..=drawing.width).contains(&at.left)
                    && (Length::ZERO..=drawing.height).contains(&at.top)
            }),
            Mark::Contours(_, contours) => lie_within(contours, drawing),
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

/// A heart, so many sixty-fourths across, with its middle so far from a layer's left and top.
fn heart(across: i64, left: i64, top: i64, back: Option<Mount>) -> Shaped {
    let mut drawn = Drawn::usual(family::find("heart").unwrap());
    drawn.measures.insert("across".into(), family::Value::Length(Length::from_64ths(across)));
    let shape = Shape::new(format!("heart {left} {top}").parse().unwrap(), Figure::Drawn(drawn));
    let at = Point { left: Length::from_64ths(left), top: Length::from_64ths(top) };
    Shaped { shape, at, back }
}

#[test]
fn shapes_cut_through_a_panel_are_windows_or_put_back_and_told_from_drawing_to_post() {
    let format = Format::usual().into_iter().find(|format| format.width == Length::from_64ths(272)).unwrap();
    let (plain, panel) = card(format, Units::Inches);
    let foam = Mount::Foam { thick: Length::from_tenths_mm(10), layers: 2 };
    let with = |shapes: Vec<Shaped>| {
        let mut card = plain.clone();
        card.layers[1].shapes = shapes;
        card
    };
    let all =
        vec![heart(64, 60, 60, None), heart(64, 170, 60, Some(Mount::Glue)), heart(64, 120, 200, Some(foam))];
    let card = with(all.clone());
    let (made, post) = card.made(&panel.inked(), &[], Units::Inches).unwrap();
    let (bare, bare_post) = plain.made(&panel.inked(), &[], Units::Inches).unwrap();
    // Only the window is open; the other two are seen by their lines, and all three are cut along on the piece.
    let drawn = drawing::all(&card, &made, &panel.inked());
    drawn.iter().for_each(true_to_scale);
    let open = |drawing: &Drawing| {
        let of = |mark: &Mark| match mark {
            Mark::Picture { holes, .. } => {
                holes.iter().filter(|hole| matches!(hole, Hole::Shaped(_))).count()
            }
            _ => 0,
        };
        drawing.marks.iter().map(of).sum::<usize>()
    };
    let lines = |drawing: &Drawing, line: Line| {
        drawing.marks.iter().filter(|mark| matches!(mark, Mark::Contours(of, _) if *of == line)).count()
    };
    assert_eq!((open(&drawn[0]), lines(&drawn[0], Line::Seam), lines(&drawn[0], Line::Cut)), (1, 2, 0));
    assert_eq!((open(&drawn[1]), lines(&drawn[1], Line::Cut)), (1, 3));
    // What comes out is listed; nothing of it is card to cut from again.
    assert_eq!(made.windows.len(), bare.windows.len() + 3);
    assert_eq!(made.spare, bare.spare);
    // It is as much thicker as doubled foam raises it over the panel, and asks as much of its envelope.
    let more = made.bulk.thickness - bare.bulk.thickness;
    assert_eq!(more, Length::from_tenths_mm(20));
    assert!(post.least_width >= bare_post.least_width && post.least_height >= bare_post.least_height);
    // The run sheet has it, with what becomes of each.
    let planned = Panel { card: Some(card.clone()), ..panel.clone() };
    let steps = RunSheet::of(&planned, Units::Inches).steps;
    let step = steps.iter().find(|step| step.title.starts_with("Cut the heart")).unwrap();
    assert!(step.how.contains("a window") && step.how.contains("level") && step.how.contains("foam"));
    // One that reaches over the edge, or into another, is refused with its name.
    let wrong = with(vec![heart(64, 10, 60, None)]).made(&panel.inked(), &[], Units::Inches);
    assert!(wrong.unwrap_err().to_string().contains("heart 10 60"));
    let crossed = with(vec![heart(64, 60, 60, None), heart(64, 70, 60, None)]);
    assert!(crossed.made(&panel.inked(), &[], Units::Inches).is_err());
    // What would fall out of a window is told.
    let mut ring = heart(64, 136, 100, None);
    ring.shape.figure = Figure::Drawn(Drawn::usual(family::find("ring").unwrap()));
    let says = |back: Option<Mount>| {
        let ringed = with(vec![Shaped { back, ..ring.clone() }]);
        ringed.made(&panel.inked(), &[], Units::Inches).unwrap().0.says.join(" ")
    };
    assert!(says(None).contains("would fall out of Panel") && !says(Some(foam)).contains("fall out"));
    // On another card they keep their share of it; what does not fit any more is told.
    for format in Format::usual() {
        let carried = again(&planned, &format, Units::Inches).unwrap();
        let shapes = &carried.card.as_ref().unwrap().layers[1].shapes;
        let lost = carried.gave.iter().filter(|says| says.contains("does not fit")).count();
        assert_eq!(shapes.len() + lost, 3, "{}", format.name);
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
