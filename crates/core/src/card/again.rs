//! The same panel on another card: what carries over and what has to give?
//!
//! Reveals are kept and sizes follow; the blend, its fields and the panel's features keep their share of each side.
//! What cannot be kept is said, with what was done in its place.

use super::edges::{Axis, size};
use super::fit::Reveal;
use super::format::Format;
use super::layers::{Layer, Role};
use super::plan::{Card, CardError};
use super::trim::Trim;
use crate::blend::Reading;
use crate::length::{Length, Units};
use crate::panel::Panel;

/// A panel carried to another card.
#[derive(Clone, Debug, PartialEq)]
pub struct Again {
    /// The panel, with its card.
    pub panel: Panel,
    /// What had to give, each in a sentence; empty where everything carried over.
    pub gave: Vec<String>,
}

/// Carries a panel to another format.
///
/// # Errors
/// A [`CardError`] where nothing of it fits the format.
pub fn again(panel: &Panel, format: &Format, units: Units) -> Result<Again, CardError> {
    format.check()?;
    let card = panel.card.clone().unwrap_or_else(|| Card::usual_for(panel, units));
    let (before, _) = card.made(panel, &[], units)?;
    let mut gave = Vec::new();
    let layers = card.layers.iter().enumerate().map(|(at, layer)| {
        let placed = before.stacked.layers.iter().find(|placed| placed.of == at);
        let mut carried = Layer { width: None, height: None, ..layer.clone() };
        if layer.width.is_some() || layer.height.is_some() {
            if let Some(placed) = placed {
                carried.reveal = Reveal::from(placed.reveal);
            }
            gave.push(format!(
                "{} had a size of its own: it keeps what shows around it instead.",
                layer.name
            ));
        }
        if let Some(window) = &mut carried.window
            && let Some(opening) = before.stacked.layers.iter().filter(|l| l.of == at).find_map(|l| l.window)
        {
            (window.width, window.height, window.frame) = (None, None, Reveal::from(opening.frame));
        }
        // What was worked out stays what it was found to be.
        carried.count = layer
            .count
            .or_else(|| Some(before.stacked.layers.iter().filter(|placed| placed.of == at).count() as u32));
        carried
    });
    let mut made_for = Card { format: format.clone(), layers: layers.collect(), ..card.clone() };
    gave.extend(into_marks(&mut made_for, units));
    let finished = finished(&made_for, units)?;
    let piece = (finished.0 + made_for.over * 2, finished.1 + made_for.over * 2);
    let mut carried = panel.clone().resized(piece.0, piece.1);
    carried.done = 0;

    let was = before.panel.place;
    if let Trim::Feature { feature, at: Some(at) } = made_for.trim {
        let step = units.finest();
        let left = at.left.scaled(finished.0, was.width, step);
        let top = at.top.scaled(finished.1, was.height, step);
        made_for.trim = Trim::Feature { feature, at: Some(super::edges::Point { left, top }) };
    }
    let tape = made_for.tape.border;
    if made_for
        .tape
        .check(super::edges::Place { width: finished.0, height: finished.1, ..Default::default() })
        .is_err()
    {
        made_for.tape.border = Default::default();
        gave.push(format!(
            "The masked border of {} leaves nothing on it: it is left off.",
            tape.words(units)
        ));
    }
    if let Some(cut) = &mut made_for.die_cut
        && (cut.width > format.width || cut.height > format.height)
    {
        gave.push(format!("{} is larger than the card: choose a smaller one.", cut.name));
    }
    carried.card = Some(made_for.clone());
    let (after, _) = made_for.made(&carried, &[], units)?;
    if let Err(refusal) = &after.trimmed {
        gave.push(format!("{} It is trimmed evenly instead.", refusal.says));
        made_for.trim = Trim::Even;
        carried.card = Some(made_for);
    }
    gave.extend(blend_gave(panel, &carried, units));
    let (width, height) = (was.width.max(Length::from_64ths(1)), was.height.max(Length::from_64ths(1)));
    let (across, down) = (finished.0.ratio(width), finished.1.ratio(height));
    if panel.features.iter().any(|feature| feature.across.is_some()) && (across / down - 1.0).abs() > 0.05 {
        gave.push("Features keep their size; only their places are carried, as shares of each side.".into());
    }
    Ok(Again { panel: carried, gave })
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

/// The finished size of the panel on a card.
fn finished(card: &Card, units: Units) -> Result<(Length, Length), CardError> {
    let closed = (Some(card.format.width), Some(card.format.height));
    let stacked = super::layers::stack(closed, &card.layers, units)?;
    let panel = stacked.layers.iter().find(|placed| placed.role == Role::Panel);
    panel.map(|placed| (placed.place.width, placed.place.height)).ok_or(CardError::Panels(0))
}

/// What the blend has to say to its new length.
fn blend_gave(before: &Panel, after: &Panel, units: Units) -> Vec<String> {
    let mut gave = Vec::new();
    let (was, is) = (before.span(), after.span());
    if was == is || before.inks.is_empty() {
        return gave;
    }
    let ratio = is.ratio(was);
    gave.push(if ratio > 1.0 {
        format!(
            "The blend runs {} in place of {}: each ink covers {ratio:.1} times as far.",
            is.shown(units),
            was.shown(units)
        )
    } else {
        format!(
            "The blend has {} in place of {}: every join is {:.0} % shorter.",
            is.shown(units),
            was.shown(units),
            100.0 * (1.0 - ratio)
        )
    });
    let along = |panel: &Panel| {
        let lies = panel.width > panel.height;
        panel.span() == Axis::Down.of(panel.width, panel.height) && lies
            || panel.span() == Axis::Across.of(panel.width, panel.height)
                && !lies
                && panel.width != panel.height
    };
    if along(after) && !along(before) {
        gave.push(format!(
            "It now runs across the short side of {}: turn it on the Inks page to give it the long one.",
            size(after.width, after.height, units)
        ));
    }
    let troubles = |panel: &Panel| Reading::of(&panel.materials()).findings;
    let (old, new) = (troubles(before), troubles(after));
    for finding in new {
        if !old.iter().any(|known| known.rule == finding.rule && known.of == finding.of) {
            gave.push(finding.says);
        }
    }
    gave
}
