//! Does each thing stand out from what is round it?
//!
//! Along its edge the colour just inside is held against the colour just outside. What differs too little, in lightness or
//! hue, vanishes; a word has to be read besides, and that goes by contrast of light.

use super::finding::{Finding, Rule};
use super::greeting::needed;
use super::sight::Sight;
use crate::colour::Lab;
use crate::length::Length;
use crate::panel::Panel;
use crate::shape::Region;
use crate::surface::{Coat, Surface};

/// ΔE00 across its edge below which a thing hardly shows at arm's length (chosen).
pub const SHOWS: f64 = 9.0;
/// Millimetres to each side of the edge that are looked at, and the places along it.
const ASIDE: f64 = 1.0;
/// Light passes from which a place counts as inked (chosen).
const SOME: f64 = 0.25;
const PLACES: usize = 48;

/// The things that hardly show, or cannot be read.
pub(super) fn faint(panel: &Panel, surface: &Surface) -> Vec<Finding> {
    // What fades out has no edge to be seen by.
    let things = surface.materials.masks.things.iter().enumerate();
    // What only lends its stencil is not there, and what is only raised is seen by its edge.
    let is_there = |on: usize| {
        let thing = &panel.scene.things[on];
        !thing.fades_out() && !thing.lends() && (thing.is_inked() || !thing.is_raised())
    };
    let things = things.filter(|(on, _)| is_there(*on));
    let seen = Sight::of(surface);
    things.filter_map(|(on, masked)| told(panel, (surface, &seen), on, &masked.inside)).collect()
}

fn told(panel: &Panel, (surface, seen): (&Surface, &Sight), on: usize, inside: &Region) -> Option<Finding> {
    let pairs = across((surface, seen), on, inside);
    let (inner, outer) = middle(&pairs)?;
    let (thing, shift) = (&panel.scene.things[on], inner.difference(outer));
    // The shadow of a word is not read.
    let is_word = thing.shape.is_word() && thing.shape.grown == Length::ZERO;
    let name = &thing.shape.name;
    let reads_from = needed(&thing.shape);
    let contrast = inner.contrast(outer);
    let (figure, limit, what) = if shift < SHOWS {
        (shift, SHOWS, format!("The {name} hardly shows against what is round it."))
    } else if is_word && contrast < reads_from {
        (
            contrast,
            reads_from,
            format!("The {name} is hard to read on this ground: the two are too near in lightness."),
        )
    } else {
        return None;
    };
    let reads = |lab: Lab| !is_word || lab.contrast(outer) >= reads_from;
    let own: Vec<usize> =
        thing.blends().iter().flat_map(|blend| &blend.fields).map(|field| field.ink).collect();
    let others = panel.inks.iter().enumerate().filter(|(ink, _)| !own.contains(ink));
    let better = others
        .map(|(_, ink)| ink)
        .filter(|ink| ink.lab().difference(outer) >= SHOWS && reads(ink.lab()))
        .max_by(|a, b| a.lab().difference(outer).total_cmp(&b.lab().difference(outer)));
    let remedy = match better {
        Some(ink) => format!(" In {} it would.", ink.name),
        None => " Move it to a lighter or darker place, or give it another ink.".into(),
    };
    Some(Finding::on_thing(surface, on, Rule::Faint, (figure, limit), what + &remedy))
}

/// Colours just inside and just outside along the edge of a thing, wherever it is seen.
fn across((surface, seen): (&Surface, &Sight), on: usize, inside: &Region) -> Vec<(Lab, Lab)> {
    let masks = &surface.materials.masks;
    let lab = |x: f64, y: f64, is_inside: bool| {
        let plot = masks.plot_at(x, y).filter(|plot| plot.is_inked())?;
        let is_seen = if is_inside { plot.front() == Some(on) } else { !plot.is_inside(on) };
        if is_seen { seen.lab(x, y) } else { None }
    };
    // Where its ink fades, or has not come, it has no edge to be seen by.
    let coats: Vec<&Coat> = surface.coats.iter().filter(|coat| surface.is_on(coat.run, Some(on))).collect();
    let is_inked = |[x, y]: [f64; 2]| {
        let veils = coats.iter().map(|coat| coat.veils_at(surface.runs[coat.run].at(x, y))).sum::<f64>();
        coats.is_empty() || veils > SOME
    };
    let step = (inside.edge() / PLACES as f64).max(0.5);
    let mut pairs = Vec::new();
    let mut gone = 0.0;
    for (from, to) in inside.sides() {
        let along = [to[0] - from[0], to[1] - from[1]];
        let long = along[0].hypot(along[1]);
        gone += long;
        if long < 1e-6 || gone < step {
            continue;
        }
        gone = 0.0;
        let middle = [0.5 * (from[0] + to[0]), 0.5 * (from[1] + to[1])];
        let square = [ASIDE * along[1] / long, -ASIDE * along[0] / long];
        let [one, other] = [1.0, -1.0].map(|way| [middle[0] + way * square[0], middle[1] + way * square[1]]);
        let (inner, outer) = if inside.has(one) { (one, other) } else { (other, one) };
        if !is_inked(inner) {
            continue;
        }
        pairs.extend(lab(inner[0], inner[1], true).zip(lab(outer[0], outer[1], false)));
    }
    pairs
}

/// The pair that stands in the middle when they are put in the order of how far they differ.
fn middle(pairs: &[(Lab, Lab)]) -> Option<(Lab, Lab)> {
    let mut pairs = pairs.to_vec();
    pairs.sort_by(|a, b| a.0.difference(a.1).total_cmp(&b.0.difference(b.1)));
    pairs.get(pairs.len() / 2).copied()
}
