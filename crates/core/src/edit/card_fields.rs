//! A measure of a card as it was written, put where it stands in the panel's document.

use super::GONE;
use super::words::{choice, place};
use crate::card::fit::Known;
use crate::card::trim::Feature;
use crate::card::{Card, DieCut, Layer, Mount, Reveal, Shaped, Tape, Trim};
use crate::edges::Edges;
use crate::ink::Name;
use crate::length::{Length, ParseIn, Units, thickness};
use crate::moves::telling::none_of;
use crate::panel::Panel;
use crate::place::Point;

type Put = Result<(), String>;

/// Puts what was written where it belongs.
pub fn set(mut panel: Panel, at: &str, to: &str, units: Units) -> Result<Panel, String> {
    let path: Vec<&str> = at.split('.').collect();
    match path.as_slice() {
        ["name"] => panel.name = name(to)?,
        ["piece", side] => {
            let (mut width, mut height) = panel.size();
            match *side {
                "width" => width = length(to, units)?,
                "height" => height = length(to, units)?,
                other => return Err(none_of(other)),
            }
            return panel.resized(width, height, units).map_err(|error| error.to_string());
        }
        ["features", nth, rest @ ..] => {
            feature(self::nth(&mut panel.features, place(nth)?)?, rest, to, units)?;
        }
        ["card", "layers", nth, rest @ ..] => {
            layer(layer_of(&mut panel, place(nth)?, units)?, rest, to, units)?;
        }
        ["card", rest @ ..] => card(card_of(&mut panel, units), rest, to, units)?,
        _ => return Err(none_of(at)),
    }
    Ok(panel)
}

/// What such a measure is called.
pub fn words(at: &str) -> &'static str {
    let path: Vec<&str> = at.split('.').filter(|part| part.parse::<usize>().is_err()).collect();
    match path.as_slice() {
        [.., "name"] => "the name",
        [.., "fold"] => "how it opens",
        [.., "relief"] => "what is trimmed off each flap",
        [.., "over"] => "how far over its size it is inked",
        [.., "border", _] => "the border",
        [.., "tape", _] => "the tape",
        [.., "reveal"] | [.., "reveal", _] => "what shows of the layer beneath",
        [.., "frame"] => "the frame",
        [.., "window", _] => "the window",
        [.., "count"] => "how many there are",
        [.., "percent"] => "the size of what is cut out",
        [.., "shapes", "at", _] => "where it is cut out",
        [.., "trim", "feature", "at", _] | ["features", "at", _] => "where the feature stands",
        [.., "across"] => "how wide the feature is",
        [.., "post_limit"] => "how thick the post takes it",
        [.., "tiers"] => "how many tiers there are",
        [.., "thick"] => "how thick the foam is",
        [.., "thickness"] => "how thick its card is",
        [.., "width"] => "the width",
        [.., "height"] => "the height",
        _ => "the card",
    }
}

/// The panel's card, or the one that would suit it.
pub fn card_of(panel: &mut Panel, units: Units) -> &mut Card {
    if panel.card.is_none() {
        panel.card = Some(Card::fitting(&panel.inked(), units));
    }
    panel.card.as_mut().expect("it has just been planned")
}

/// One of its layers.
pub fn layer_of(panel: &mut Panel, at: usize, units: Units) -> Result<&mut Layer, String> {
    nth(&mut card_of(panel, units).layers, at)
}

/// One of the shapes cut through a layer.
pub fn shaped_of(layer: &mut Layer, at: usize) -> Result<&mut Shaped, String> {
    nth(&mut layer.shapes, at)
}

/// One of several.
pub fn nth<T>(of: &mut [T], at: usize) -> Result<&mut T, String> {
    of.get_mut(at).ok_or_else(|| GONE.into())
}

fn card(card: &mut Card, path: &[&str], to: &str, units: Units) -> Put {
    match path {
        ["format", "fold"] => card.format.fold = choice(to)?,
        ["format", "width"] => card.format.width = length(to, units)?,
        ["format", "height"] => card.format.height = length(to, units)?,
        ["format", "relief"] => card.format.relief = length(to, units)?,
        ["over"] => card.over = length(to, units)?,
        ["post_limit"] => card.post_limit = if to.is_empty() { None } else { Some(thick(to, units)?) },
        ["tape", rest @ ..] => tape(&mut card.tape, rest, to, units)?,
        ["trim", "feature", "at", side] => match &mut card.trim {
            Trim::Feature { at: Some(at), .. } => point(at, side, to, units)?,
            _ => return Err(GONE.into()),
        },
        ["die_cut", rest @ ..] => die_cut(card.die_cut.as_mut().ok_or(GONE)?, rest, to, units)?,
        other => return Err(none_of(&other.join("."))),
    }
    Ok(())
}

fn layer(layer: &mut Layer, path: &[&str], to: &str, units: Units) -> Put {
    match path {
        ["name"] => layer.name = name(to)?,
        ["reveal"] => layer.reveal = known(to, units)?.map_or_else(Reveal::default, Reveal::Even),
        ["reveal", edge] => *edge_of(&mut layer.reveal, edge)? = known(to, units)?,
        ["width"] => layer.width = known(to, units)?,
        ["height"] => layer.height = known(to, units)?,
        ["count"] => layer.count = if to.is_empty() { None } else { Some(count(to)?) },
        ["mount", "foam", "thick"] => foam(&mut layer.mount, to, units)?,
        ["window", rest @ ..] => {
            let window = layer.window.as_mut().ok_or(GONE)?;
            match rest {
                ["shape"] => window.shape = choice(to)?,
                ["width"] => window.width = known(to, units)?,
                ["height"] => window.height = known(to, units)?,
                ["frame"] => window.frame = known(to, units)?.map_or_else(Reveal::default, Reveal::Even),
                other => return Err(none_of(&other.join("."))),
            }
        }
        ["shapes", nth, rest @ ..] => {
            let shaped = shaped_of(layer, place(nth)?)?;
            match rest {
                ["at", side] => point(&mut shaped.at, side, to, units)?,
                ["shape", "percent"] => shaped.shape.percent = count(to)?,
                other => return Err(none_of(&other.join("."))),
            }
        }
        other => return Err(none_of(&other.join("."))),
    }
    Ok(())
}

fn tape(tape: &mut Tape, path: &[&str], to: &str, units: Units) -> Put {
    match path {
        ["border", edge] => {
            let Edges { left, right, top, bottom } = &mut tape.border;
            let edge = match *edge {
                "left" => left,
                "right" => right,
                "top" => top,
                "bottom" => bottom,
                other => return Err(none_of(other)),
            };
            *edge = known(to, units)?.unwrap_or(Length::ZERO);
        }
        ["hold"] => tape.hold = known(to, units)?.unwrap_or(Length::ZERO),
        ["width"] => tape.width = known(to, units)?.unwrap_or(Tape::usual(units).width),
        other => return Err(none_of(&other.join("."))),
    }
    Ok(())
}

fn die_cut(die_cut: &mut DieCut, path: &[&str], to: &str, units: Units) -> Put {
    match path {
        ["name"] => die_cut.name = name(to)?,
        ["width"] => die_cut.width = length(to, units)?,
        ["height"] => die_cut.height = length(to, units)?,
        ["tiers"] => die_cut.tiers = count(to)?,
        ["thickness"] => die_cut.thickness = thick(to, units)?,
        ["mount", "foam", "thick"] => foam(&mut die_cut.mount, to, units)?,
        other => return Err(none_of(&other.join("."))),
    }
    Ok(())
}

fn feature(feature: &mut Feature, path: &[&str], to: &str, units: Units) -> Put {
    match path {
        ["name"] => feature.name = name(to)?,
        ["at", side] => point(&mut feature.at, side, to, units)?,
        ["across"] => feature.across = known(to, units)?,
        other => return Err(none_of(&other.join("."))),
    }
    Ok(())
}

fn point(at: &mut Point, side: &str, to: &str, units: Units) -> Put {
    match side {
        "left" => at.left = length(to, units)?,
        "top" => at.top = length(to, units)?,
        other => return Err(none_of(other)),
    }
    Ok(())
}

/// One edge of what shows, each told by itself from now on.
fn edge_of<'a>(reveal: &'a mut Reveal, edge: &str) -> Result<&'a mut Option<Length>, String> {
    if matches!(reveal, Reveal::Even(_)) {
        *reveal = Reveal::Each(Known::default());
    }
    let Reveal::Each(Known { left, right, top, bottom }) = reveal else { return Err(GONE.into()) };
    match edge {
        "left" => Ok(left),
        "right" => Ok(right),
        "top" => Ok(top),
        "bottom" => Ok(bottom),
        other => Err(none_of(other)),
    }
}

fn foam(mount: &mut Mount, to: &str, units: Units) -> Put {
    let Mount::Foam { thick, .. } = mount else { return Err(GONE.into()) };
    *thick = self::thick(to, units)?;
    Ok(())
}

fn name(to: &str) -> Result<Name, String> {
    to.parse().map_err(|error| format!("{error}"))
}

fn length(to: &str, units: Units) -> Result<Length, String> {
    to.parse_in(units).map_err(|error| error.to_string())
}

/// Nothing where it is to be worked out.
fn known(to: &str, units: Units) -> Result<Option<Length>, String> {
    if to.is_empty() { Ok(None) } else { length(to, units).map(Some) }
}

fn thick(to: &str, units: Units) -> Result<Length, String> {
    thickness::read_in(to, units).map_err(|error| error.to_string())
}

fn count<T: std::str::FromStr>(to: &str) -> Result<T, String> {
    to.parse().map_err(|_| format!("“{to}” is no number that can stand here: write a whole one, such as 2"))
}
