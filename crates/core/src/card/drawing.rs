//! The card drawn to scale, layer by layer, with every measure a maker marks.

use super::bulk::DieCut;
use super::layers::{Placed, Role};
use super::plan::{Card, Inked, Made};
use crate::drawing::{Drawing, Edge, Hole, Line, Mark, WindowShape};
use crate::edges::{Axis, Edges, Place};
use crate::ink::Paper;
use crate::length::{Length, Units};
use crate::place::Point;

/// Everything there is to draw of a card: closed, the panel's piece, the flat base, and each mat.
pub fn all(card: &Card, made: &Made, panel: &Inked) -> Vec<Drawing> {
    let units = made.units;
    let mut drawn =
        vec![closed(card, made, panel, units), piece(made, panel, units), base(card, made, units)];
    drawn.extend(
        made.stacked
            .layers
            .iter()
            .filter(|layer| layer.role == Role::Mat)
            .map(|layer| mat(layer, layer.paper.as_ref().unwrap_or(&card.paper), units)),
    );
    drawn.extend(card.die_cut.as_ref().map(|cut| die_cut(cut, units)));
    drawn
}

/// The die cut by itself, in the box it fills.
fn die_cut(cut: &DieCut, units: Units) -> Drawing {
    let mut drawing = Drawing::new(cut.name.to_string(), cut.width, cut.height);
    let place = drawing.whole();
    drawing.marks.push(Mark::Card { place, holes: Vec::new(), colour: "#ffffff".into() });
    if cut.tiers > 1 {
        drawing.marks.push(Mark::Label(place, format!("{} of them", cut.tiers)));
    }
    drawing.overall(0, 0, units);
    drawing
}

fn colour(paper: &Paper) -> String {
    paper.lab().on_screen(Default::default()).0.to_string()
}

/// A layer's window where the layer lies.
fn window(layer: &Placed, on: Place) -> Option<(WindowShape, Place)> {
    layer.window.map(|opening| {
        let Place { left, top, width, height } = opening.place;
        (opening.shape, Place { left: on.left + left, top: on.top + top, width, height })
    })
}

/// What is open in a layer that lies there.
fn holes(layer: &Placed, on: Place) -> Vec<Hole> {
    let window = window(layer, on).map(|(shape, place)| Hole::Window(shape, place));
    let open = layer.shapes.iter().filter(|shaped| shaped.back.is_none());
    window.into_iter().chain(open.map(|shaped| Hole::Shaped(shaped.contours((on.left, on.top))))).collect()
}

/// The lines round what is put back in a layer that lies there, or on a piece round all that is cut through it.
fn shapes(drawing: &mut Drawing, layer: &Placed, on: Place) {
    let (line, is_piece) = if drawing.is_piece { (Line::Cut, true) } else { (Line::Seam, false) };
    let drawn = layer.shapes.iter().filter(|shaped| is_piece || shaped.back.is_some());
    let lines = drawn.map(|shaped| Mark::Contours(line, shaped.contours((on.left, on.top))));
    drawing.marks.extend(lines);
}

/// The ends of a place along an axis.
fn ends(place: Place, axis: Axis) -> (Length, Length) {
    let (from, long) = place.along(axis);
    (from, from + long)
}

/// The closed card from the front.
pub fn closed(card: &Card, made: &Made, panel: &Inked, units: Units) -> Drawing {
    let stacked = &made.stacked;
    let mut drawing = Drawing::new("The card, closed", stacked.width, stacked.height);
    drawing.is_piece = false;
    let front = drawing.whole();
    drawing.marks.push(Mark::Card { place: front, holes: Vec::new(), colour: colour(&card.paper) });
    if card.format.fold.has_flaps() {
        let axis = card.format.fold.axis().unwrap_or(Axis::Across);
        let meet = axis.of(stacked.width, stacked.height).halved(units.finest()).0;
        drawing.line(Line::Seam, axis, meet);
    }
    let mut beneath = front;
    for (row, layer) in stacked.layers.iter().enumerate() {
        let holes = holes(layer, layer.place);
        if layer.role == Role::Panel {
            let cut = made.trimmed.as_ref().map(|trimmed| trimmed.window).ok();
            let cut = cut.or(made.trimmed.as_ref().err().and_then(|refusal| refusal.window));
            // A piece that is too small is drawn stretched to where it should reach.
            let whole = cut.map_or(layer.place, |cut| Place {
                left: layer.place.left - cut.left,
                top: layer.place.top - cut.top,
                width: panel.width,
                height: panel.height,
            });
            drawing.marks.push(Mark::Picture { whole, seen: layer.place, holes });
        } else {
            let colour = colour(layer.paper.as_ref().unwrap_or(&card.paper));
            drawing.marks.push(Mark::Card { place: layer.place, holes, colour });
        }
        shapes(&mut drawing, layer, layer.place);
        for edge in [Edge::Bottom, Edge::Left] {
            let (outer, inner) = (ends(beneath, edge.axis()), ends(layer.place, edge.axis()));
            drawing.measures(edge, row, &[outer.0, inner.0, inner.1, outer.1], units);
        }
        beneath = layer.place;
    }
    if let Some(cut) = &card.die_cut {
        let (width, height) = (cut.width.min(front.width), cut.height.min(front.height));
        let (left, top) = ((front.width - width) / 2, (front.height - height) / 2);
        drawing.marks.push(Mark::Placed(Place { left, top, width, height }, cut.name.to_string()));
    }
    let row = stacked.layers.len();
    drawing.overall(row, row, units);
    drawing
}

/// The piece that is inked: tape, features, where it is cut and what falls off.
pub fn piece(made: &Made, panel: &Inked, units: Units) -> Drawing {
    let mut drawing = Drawing::new("The piece to ink", panel.width, panel.height);
    let whole = drawing.whole();
    let cut_out =
        made.trimmed.as_ref().map_or_else(|_| Vec::new(), |trimmed| holes(&made.panel, trimmed.window));
    drawing.marks.push(Mark::Picture { whole, seen: whole, holes: cut_out });
    if let Ok(trimmed) = &made.trimmed {
        shapes(&mut drawing, &made.panel, trimmed.window);
    }
    let (window, waste, marks) = match &made.trimmed {
        Ok(trimmed) => (Some(trimmed.window), trimmed.waste, trimmed.marks),
        Err(refusal) => (refusal.window, Edges::default(), None),
    };
    if let Some(window) = window {
        let Place { left, top, width, height } = window;
        let (right, foot) = (left + width, top + height);
        for place in [
            Place { left: Length::ZERO, top: Length::ZERO, width: left, height: panel.height },
            Place { left: right, top: Length::ZERO, width: panel.width - right, height: panel.height },
            Place { left, top: Length::ZERO, width, height: top },
            Place { left, top: foot, width, height: panel.height - foot },
        ] {
            if place.width > Length::ZERO && place.height > Length::ZERO {
                drawing.marks.push(Mark::Waste(place));
            }
        }
        let cuts = [(Axis::Across, left, waste.left), (Axis::Across, right, waste.right)];
        let cuts = cuts.into_iter().chain([(Axis::Down, top, waste.top), (Axis::Down, foot, waste.bottom)]);
        for (axis, at, _) in cuts.filter(|(_, _, waste)| *waste > Length::ZERO) {
            drawing.line(Line::Cut, axis, at);
        }
        drawing.measures(Edge::Bottom, 0, &[Length::ZERO, left, right, panel.width], units);
        drawing.measures(Edge::Left, 0, &[Length::ZERO, top, foot, panel.height], units);
        if let Some(marks) = marks {
            let centre = Point { left: left + marks.left, top: top + marks.top };
            drawing.measures(Edge::Top, 0, &[left, centre.left, right], units);
            drawing.measures(Edge::Right, 0, &[top, centre.top, foot], units);
        }
    }
    drawing.overall(1, 1, units);
    tape(&mut drawing, made, panel, units);
    for feature in panel.features {
        drawing.marks.push(Mark::Feature(feature.at, feature.across));
    }
    drawing
}

fn tape(drawing: &mut Drawing, made: &Made, panel: &Inked, units: Units) {
    let lines = made.taped.lines.map(|line| line.map(|line| line.line));
    for axis in Axis::BOTH {
        let side = axis.of(panel.width, panel.height);
        let edge = axis.of(Edge::Top, Edge::Right);
        let row = drawing.rows(edge);
        let (near, far) = lines.along(axis);
        for at in [near, far.map(|far| side - far)].into_iter().flatten() {
            drawing.line(Line::Tape, axis, at);
        }
        if let Some(near) = near {
            drawing.measure(edge, row, Length::ZERO, near, units);
        }
        if let Some(far) = far {
            drawing.measure(edge, row, side - far, side, units);
        }
    }
}

/// The base, flat: its scores and the parts between them.
pub fn base(card: &Card, made: &Made, units: Units) -> Drawing {
    let base = &made.base;
    let mut drawing = Drawing::new("The base, flat", base.width, base.height);
    let place = drawing.whole();
    drawing.marks.push(Mark::Card { place, holes: Vec::new(), colour: colour(&card.paper) });
    let mut at = vec![Length::ZERO];
    for part in &base.parts {
        at.push(at[at.len() - 1] + *part);
    }
    for score in &base.scores {
        drawing.line(Line::Score, score.along, score.at);
    }
    if let Some(axis) = card.format.fold.axis() {
        drawing.measures(axis.of(Edge::Top, Edge::Right), 0, &at, units);
        let grain = axis.of("grain up and down", "grain from side to side");
        // On the part that is the front, clear of the scores.
        let (from, to) = (at[at.len() - 2], at[at.len() - 1]);
        let front = axis.of(
            Place { left: from, width: to - from, ..place },
            Place { top: from, height: to - from, ..place },
        );
        drawing.marks.push(Mark::Label(front, grain.into()));
    }
    drawing.overall(0, 0, units);
    drawing
}

/// A mat by itself, with its window.
fn mat(layer: &Placed, paper: &Paper, units: Units) -> Drawing {
    let mut drawing = Drawing::new(layer.name.to_string(), layer.place.width, layer.place.height);
    let place = drawing.whole();
    drawing.marks.push(Mark::Card { place, holes: holes(layer, place), colour: colour(paper) });
    shapes(&mut drawing, layer, place);
    let mut row = 0;
    if let Some((_, window)) = window(layer, place) {
        for edge in [Edge::Bottom, Edge::Left] {
            let (outer, inner) = (ends(place, edge.axis()), ends(window, edge.axis()));
            drawing.measures(edge, 0, &[outer.0, inner.0, inner.1, outer.1], units);
        }
        row = 1;
    }
    drawing.overall(row, row, units);
    drawing
}
