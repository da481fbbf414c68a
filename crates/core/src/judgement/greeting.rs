//! Where on a ground, and in which colour, is a greeting read best?
//!
//! The ground is looked at on a grid as it will be without the greeting. Wherever its box finds room on the panel, and
//! nothing in front would hide it, the tenth part of the ground beneath that stands out from it least decides: a word is
//! lost by its faintest letter. Contrast goes by light, as for all reading (WCAG 2).

use super::sight::Sight;
use crate::colour::{Illuminant, Lab};
use crate::ink::{Powder, Stack};
use crate::length::{Length, Units};
use crate::panel::Panel;
use crate::place::{Extent, Point};
use crate::scene::Thing;
use crate::shape::Shape;
use crate::shape::family::Value;
use crate::shape::kept::Figure;

/// Contrast of light below which large letters, and small ones, are hard to read (WCAG 2).
const LARGE: f64 = 3.0;
const SMALL: f64 = 4.5;
/// Height of the capitals from which letters are large, in millimetres: those of 18 points.
const LARGE_MM: f64 = 4.5;
/// Millimetres between places of the ground that are looked at, and how near an edge of the panel a greeting may come.
const STEP: f64 = 3.0;
const MARGIN: f64 = 3.0;
/// Share of the ground beneath that decides.
const FAINTEST: f64 = 0.1;

/// Where it is read best.
#[derive(Clone, Debug, PartialEq)]
pub struct Best {
    /// The middle of the shape.
    pub at: Point,
    /// Contrast there, in the colour it has.
    pub contrast: f64,
    /// The same with its remedy, in a sentence.
    pub says: String,
}

/// The contrast of light that a word of this shape needs to be read.
pub fn needed(shape: &Shape) -> f64 {
    let high = match &shape.figure {
        Figure::Drawn(drawn) => drawn.measures.get("high").copied(),
        Figure::Brought { .. } => None,
    };
    match high {
        Some(Value::Length(high)) if high.mm() * f64::from(shape.percent) / 100.0 < LARGE_MM => SMALL,
        _ => LARGE,
    }
}

fn bare(panel: &Panel) -> Lab {
    Stack::on(&panel.paper.reflectance()).lab(Illuminant::D65)
}

/// What a word can be made in, with the colour it then has.
fn choices(panel: &Panel) -> Vec<(String, Lab)> {
    let card = bare(panel);
    let powders =
        Powder::ALL.into_iter().filter_map(|powder| Some((powder.words().to_owned(), powder.covers_with()?)));
    let inks = panel.inks.iter().map(|ink| (ink.name.to_string(), ink.lab()));
    std::iter::once(("the white of the card".to_owned(), card)).chain(powders).chain(inks).collect()
}

/// The colour that a thing has by what it gets.
fn own(panel: &Panel, thing: &Thing) -> Lab {
    let powder = thing.resist.and_then(Powder::covers_with);
    let ink = thing.blends().iter().flat_map(|blend| &blend.fields).next();
    powder.or_else(|| Some(panel.inks.get(ink?.ink)?.lab())).unwrap_or_else(|| bare(panel))
}

/// Finds it for one of a panel's things; nothing where there is no room for it anywhere.
pub fn best_place(panel: &Panel, place: usize, units: Units) -> Option<Best> {
    best_on(panel, place, units, &Ground::beneath(panel, place)?)
}

/// The contrast that it has against the ground where it stands.
pub fn contrast_on(panel: &Panel, place: usize, ground: &Ground) -> Option<f64> {
    let colour = own(panel, panel.scene.things.get(place)?);
    Some(ground.faintest(&panel.materials().extent(Some(place)), colour))
}

/// Finds where it is read best on a ground; nothing where there is no room for it anywhere.
pub fn best_on(panel: &Panel, place: usize, units: Units, ground: &Ground) -> Option<Best> {
    let thing = panel.scene.things.get(place)?;
    let extent = panel.materials().extent(Some(place));
    let in_front: Vec<Extent> = panel.materials().masks.things[..place]
        .iter()
        .zip(&panel.scene.things)
        .filter(|(_, front)| !front.is_printed() && !thing.is_company(front))
        .map(|(masked, _)| masked.extent)
        .collect();
    let colour = own(panel, thing);
    let mark = units.pencil();
    // The middle of its box is not always the middle of its shape.
    let off = (thing.at.left - extent.corner.left, thing.at.top - extent.corner.top);
    let mut best: Option<(f64, Extent)> = None;
    for corner in corners(panel.size(), extent.size, mark) {
        let there = Extent { corner, size: extent.size };
        if in_front.iter().any(|front| meets(front, &there)) {
            continue;
        }
        let contrast = ground.faintest(&there, colour);
        // As good elsewhere is no reason to go on: nearer the middle of the panel comes first.
        if best.is_none_or(|(known, _)| contrast > known + 0.05) {
            best = Some((contrast, there));
        }
    }
    let (contrast, there) = best?;
    let needed = needed(&thing.shape);
    let name = &thing.shape.name;
    let better = choices(panel)
        .into_iter()
        .map(|(what, lab)| (ground.faintest(&there, lab), what))
        .max_by(|a, b| a.0.total_cmp(&b.0));
    let reads = if contrast >= needed {
        format!(
            "Here the {name} is read best: {contrast:.1} to 1 against the ground at its faintest, and {needed} is enough."
        )
    } else {
        let remedy = match better {
            Some((most, what)) if most >= needed => format!("In {what} it would have {most:.1}."),
            _ => "Give it a strip or a dark shadow to stand on.".into(),
        };
        format!(
            "Even here the {name} is hard to read: {contrast:.1} to 1 against the ground at its faintest, and it needs {needed}. {remedy}"
        )
    };
    let near = |at: Length| Length::nearest(at.mm(), mark);
    let at = Point { left: near(there.corner.left + off.0), top: near(there.corner.top + off.1) };
    Some(Best { at, contrast, says: reads })
}

/// Corners of the box wherever it finds room, the nearest to the middle of the panel first.
fn corners(panel: (Length, Length), size: (Length, Length), mark: Length) -> Vec<Point> {
    let along = |side: Length, long: Length| {
        let room = side.mm() - long.mm() - 2.0 * MARGIN;
        let count = if room < 0.0 { 0 } else { (room / STEP) as usize + 1 };
        let at = move |n: usize| Length::nearest(MARGIN + n as f64 * room / (count.max(2) - 1) as f64, mark);
        // With room for one place alone, that is the middle.
        let only = (count == 1).then(|| (side - long) / 2);
        (0..count).map(move |n| only.unwrap_or(at(n))).collect::<Vec<_>>()
    };
    let (across, down) = (along(panel.0, size.0), along(panel.1, size.1));
    let mut all: Vec<Point> =
        down.iter().flat_map(|top| across.iter().map(|left| Point { left: *left, top: *top })).collect();
    let off = |at: &Point| {
        let (x, y) = (at.left.mm() + 0.5 * size.0.mm(), at.top.mm() + 0.5 * size.1.mm());
        (x - 0.5 * panel.0.mm()).hypot(y - 0.5 * panel.1.mm())
    };
    all.sort_by(|a, b| off(a).total_cmp(&off(b)));
    all
}

fn meets(one: &Extent, other: &Extent) -> bool {
    let overlap = |a: Length, long_a: Length, b: Length, long_b: Length| a < b + long_b && b < a + long_a;
    overlap(one.corner.left, one.size.0, other.corner.left, other.size.0)
        && overlap(one.corner.top, one.size.1, other.corner.top, other.size.1)
}

/// The colours of a panel on a grid.
#[derive(Clone, Debug)]
pub struct Ground {
    columns: usize,
    labs: Vec<Lab>,
}

impl Ground {
    /// What lies beneath one of a panel's things once all is made, as it is planned.
    pub fn beneath(panel: &Panel, place: usize) -> Option<Ground> {
        let thing = panel.scene.things.get(place)?;
        // What keeps it company goes along with it.
        let stays = |(at, other): &(usize, Thing)| *at != place && !thing.is_company(other);
        let others = panel.scene.things.iter().cloned().enumerate().filter(stays);
        let without = panel.clone().with_things(others.map(|(at, thing)| (thing, Some(at))).collect());
        Some(Ground::of(&without))
    }

    /// The same with the colours that are seen, wherever some are.
    #[must_use]
    pub fn as_seen(mut self, seen: impl Fn([f64; 2]) -> Option<Lab>) -> Ground {
        for (n, lab) in self.labs.iter_mut().enumerate() {
            let at = [n % self.columns, n / self.columns].map(|along| (along as f64 + 0.5) * STEP);
            *lab = seen(at).unwrap_or(*lab);
        }
        self
    }

    fn of(panel: &Panel) -> Ground {
        let surface = panel.surface();
        let (width, height) = surface.materials.size_mm();
        let (columns, rows) = ((width / STEP) as usize, (height / STEP) as usize);
        let (seen, card) = (Sight::of(&surface), bare(panel));
        let labs = (0..columns * rows).map(|n| {
            let (x, y) = ((n % columns) as f64 * STEP + 0.5 * STEP, (n / columns) as f64 * STEP + 0.5 * STEP);
            seen.lab(x, y).unwrap_or(card)
        });
        Ground { labs: labs.collect(), columns }
    }

    /// The contrast that a colour has with the part of the ground in a box from which it stands out least.
    fn faintest(&self, there: &Extent, colour: Lab) -> f64 {
        let rows = self.labs.len() / self.columns.max(1);
        let cells = |from: Length, long: Length, most: usize| {
            let first = (from.mm() / STEP) as usize;
            first..(((from + long).mm() / STEP).ceil() as usize).clamp(first + 1, most.max(first + 1))
        };
        let (across, down) = (
            cells(there.corner.left, there.size.0, self.columns),
            cells(there.corner.top, there.size.1, rows),
        );
        let places = down.flat_map(|row| across.clone().map(move |column| row * self.columns + column));
        let mut contrasts: Vec<f64> =
            places.filter_map(|n| self.labs.get(n)).map(|lab| colour.contrast(*lab)).collect();
        contrasts.sort_by(f64::total_cmp);
        contrasts.get((FAINTEST * contrasts.len() as f64) as usize).copied().unwrap_or(1.0)
    }
}
