//! The same panel on another card: what carries over and what has to give?
//!
//! Reveals are kept and sizes follow; the blend, its fields and the panel's features keep their share of each side.
//! What cannot be kept is said, with what was done in its place.

use crate::blend::Way;
use crate::card::fit::Reveal;
use crate::card::format::Format;
use crate::card::layers::{Layer, Stacked, stack};
use crate::card::plan::{Card, CardError, Made};
use crate::card::shaped::{self, Shaped};
use crate::card::trim::Trim;
use crate::edges::{Place, size};
use crate::judgement::Reading;
use crate::length::{Length, Units};
use crate::panel::{Panel, PanelError};
use crate::place::Point;

/// Carries a panel to another format; what had to give is noted in it, each in a sentence.
///
/// # Errors
/// A [`PanelError`] where nothing of it fits the format.
pub fn again(panel: &Panel, format: &Format, units: Units) -> Result<Panel, PanelError> {
    format.check().map_err(CardError::Format)?;
    let card = panel.card.clone().unwrap_or_else(|| Card::fitting(&panel.inked(), units));
    let (before, _) = card.made(&panel.inked(), &[], units)?;
    let mut gave = Vec::new();
    let layers = card.layers.iter().enumerate();
    let layers = layers.map(|(at, layer)| carried_layer(layer, at, &before, &mut gave)).collect();
    let mut card = Card { format: format.clone(), layers, ..card.clone() };
    gave.extend(into_marks(&mut card, units));
    gave.extend(carry_shapes(&mut card, &before, units)?);
    let finished = card.finished(units)?;
    gave.extend(fit_tape(&mut card, finished, units));
    gave.extend(large_die_cut(&card));

    let piece = (finished.0 + card.over * 2, finished.1 + card.over * 2);
    let mut carried = panel.clone().resized(piece.0, piece.1, units)?;
    card.trim = carried_trim(card.trim, before.panel.place, finished, units);
    carried.card = Some(card.clone());
    let (after, _) = card.made(&carried.inked(), &[], units)?;
    if let Err(refusal) = &after.trimmed {
        gave.push(format!("{} It is trimmed evenly instead.", refusal.says));
        carried.card = Some(Card { trim: Trim::Even, ..card });
    }
    carried.check()?;
    gave.extend(blend_gave(panel, &carried, units));
    gave.extend(stretched_features(panel, &carried));
    Ok(Panel { gave, ..carried }.in_the_order_of(panel))
}

/// The shapes cut through its layers keep their share of each side and their size; what does not fit any more is left out, and told.
fn carry_shapes(card: &mut Card, before: &Made, units: Units) -> Result<Vec<String>, CardError> {
    let mut bare = card.clone();
    bare.layers.iter_mut().for_each(|layer| layer.shapes.clear());
    let closed = (Some(bare.format.width), Some(bare.format.height));
    let after = stack(closed, &bare.layers, units)?;
    let mut gave = Vec::new();
    for (of, layer) in card.layers.iter_mut().enumerate() {
        let place = |stacked: &Stacked| {
            stacked.layers.iter().rev().find(|placed| placed.of == of).map(|placed| placed.place)
        };
        let (Some(was), Some(is)) = (place(&before.stacked), place(&after)) else { continue };
        let mark = units.pencil();
        for shaped in std::mem::take(&mut layer.shapes) {
            let at = Point {
                left: shaped.at.left.scaled(is.width, was.width, mark),
                top: shaped.at.top.scaled(is.height, was.height, mark),
            };
            layer.shapes.push(Shaped { at, ..shaped });
            if shaped::check(&layer.shapes, layer.name.as_str(), (is.width, is.height)).is_err()
                && let Some(lost) = layer.shapes.pop()
            {
                let name = &lost.shape.name;
                gave.push(format!(
                    "The {name} does not fit into {} any more: it is not cut there.",
                    layer.name
                ));
            }
        }
    }
    Ok(gave)
}

/// A layer by what shows around it: sizes follow the new card. What was worked out stays what it was found to be.
fn carried_layer(layer: &Layer, at: usize, before: &Made, gave: &mut Vec<String>) -> Layer {
    let placed = || before.stacked.layers.iter().filter(|placed| placed.of == at);
    let mut carried = Layer { width: None, height: None, ..layer.clone() };
    if layer.width.is_some() || layer.height.is_some() {
        carried.reveal = placed().next().map_or(layer.reveal, |placed| Reveal::from(placed.reveal));
        gave.push(format!("{} had a size of its own: it keeps what shows around it instead.", layer.name));
    }
    if let Some(window) = &mut carried.window
        && let Some(opening) = placed().find_map(|placed| placed.window)
    {
        (window.width, window.height, window.frame) = (None, None, Reveal::from(opening.frame));
    }
    carried.count = layer.count.or_else(|| Some(placed().count() as u32));
    carried
}

/// A feature's own place on the finished panel, as the same share of both sides.
fn carried_trim(trim: Trim, was: Place, finished: (Length, Length), units: Units) -> Trim {
    match trim {
        Trim::Feature { feature, at: Some(at) } => {
            let left = at.left.scaled(finished.0, was.width, units.finest());
            let top = at.top.scaled(finished.1, was.height, units.finest());
            Trim::Feature { feature, at: Some(Point { left, top }) }
        }
        other => other,
    }
}

/// Leaves a masked border off where it would cover the whole panel.
fn fit_tape(card: &mut Card, finished: (Length, Length), units: Units) -> Option<String> {
    let place = Place { width: finished.0, height: finished.1, ..Place::default() };
    card.tape.check(place).err()?;
    let border = std::mem::take(&mut card.tape.border);
    Some(format!("The masked border of {} leaves nothing on it: it is left off.", border.words(units)))
}

fn large_die_cut(card: &Card) -> Option<String> {
    let cut = card.die_cut.as_ref()?;
    let large = cut.width > card.format.width || cut.height > card.format.height;
    large.then(|| format!("{} is larger than the card: choose a smaller one.", cut.name))
}

/// Features of a size of their own, where the panel has grown more one way than the other.
fn stretched_features(before: &Panel, after: &Panel) -> Option<String> {
    let (across, down) = (after.width.ratio(before.width), after.height.ratio(before.height));
    let stretched = (across / down - 1.0).abs() > 0.05;
    (stretched && before.features.iter().any(|feature| feature.across.is_some()))
        .then(|| "Features keep their size; only their places are carried, as shares of each side.".into())
}

/// Takes the measures of a card into the system its format is exact in, to the nearest mark that is easily found: half a
/// millimetre, or 1/32 in. Says so where any changed.
fn into_marks(card: &mut Card, units: Units) -> Option<String> {
    let system = Units::exact_for(units, &[card.format.width, card.format.height])?;
    let (finest, easy) = match system {
        Units::Inches => (system.finest(), Length::from_64ths(2)),
        Units::Millimetres => (system.finest(), Length::from_tenths_mm(5)),
    };
    let taken = |length: Length| match length.div_rem(finest).1 {
        Length::ZERO => length,
        _ => Length::nearest(length.mm(), easy).max(easy),
    };
    let before = card.clone();
    for layer in &mut card.layers {
        layer.reveal = layer.reveal.map(taken);
        if let Some(window) = &mut layer.window {
            window.frame = window.frame.map(taken);
        }
    }
    card.over = taken(card.over);
    card.tape.border = card.tape.border.map(taken);
    card.tape.hold = taken(card.tape.hold);
    let word = match system {
        Units::Inches => "1/32 in",
        Units::Millimetres => "half millimetre",
    };
    (*card != before).then(|| format!("What shows is now measured to the nearest {word}."))
}

/// What the blend has to say to its new length.
fn blend_gave(before: &Panel, after: &Panel, units: Units) -> Vec<String> {
    let mut gave = Vec::new();
    let one = before.scene.ground.len() == 1;
    let (was, is) = (before.span(0), after.span(0));
    if before.size() == after.size() || before.inks.is_empty() {
        return gave;
    }
    let ratio = is.ratio(was);
    let along = if one { "The blend" } else { "The first blend" };
    gave.push(if ratio > 1.0 {
        format!(
            "{along} runs {} in place of {}: each ink covers {ratio:.1} times as far.",
            is.said(units),
            was.said(units)
        )
    } else {
        format!(
            "{along} has {} in place of {}: every join is {:.0} % shorter.",
            is.said(units),
            was.said(units),
            100.0 * (1.0 - ratio)
        )
    });
    let short = |panel: &Panel| {
        let straight = matches!(panel.scene.ground[0].way, Way::Band { .. });
        straight && panel.width != panel.height && panel.span(0) == panel.width.min(panel.height)
    };
    if short(after) && !short(before) {
        gave.push(format!(
            "It now runs across the short side of {}: turn it on the Blend page to give it the long one.",
            size(after.width, after.height, units)
        ));
    }
    let troubles = |panel: &Panel| Reading::of(panel).findings;
    let (old, new) = (troubles(before), troubles(after));
    for finding in new {
        if !old.iter().any(|known| known.rule == finding.rule && known.inks == finding.inks) {
            gave.push(finding.says);
        }
    }
    gave
}
