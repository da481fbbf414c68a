//! What does a thing get, as the words of its sentence say it: white, one ink, one that fades, or a run of several, along
//! any way of the box round it.

use crate::blend::field::MOST_INKS;
use crate::blend::grip::Measure;
use crate::blend::{Blend, Way};
use crate::colour::{Illuminant, Lab};
use crate::ink::{Ink, Kind, named};
use crate::judgement::Sight;
use crate::length::{Length, ParseIn, Units};
use crate::panel::Panel;
use crate::place::Extent;
use crate::scene::{MOST_ON_ONE, Thing, Treatment};
use crate::search::Costs;
use crate::shape::Use;
use serde::Deserialize;

use super::words::{choice, place};
use super::{GONE, Has};
use crate::moves::telling::none_of;

/// Chroma from which an ink is a colour, and how many degrees round the circle of colours the next of a run lies (chosen: from blue to
/// green to yellow in three).
const COLOURFUL: f64 = 25.0;
const FURTHER: f64 = 50.0;

/// From how many ΔE00 on an ink beside another is plainly another colour.
const PLAINLY_ANOTHER: f64 = 15.0;
/// Lightness below which an ink of the drawer is nearly black (chosen).
const NEAR_BLACK: f64 = 22.0;
/// Millimetres beside a thing at which it is looked what it would stand out from.
const BESIDE: f64 = 2.0;
const NO_INK: &str = "there is no ink in the drawer for it: tell the drawer of one first";

/// What a thing gets.
#[allow(missing_docs, reason = "each is named as its field is")]
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Gets {
    White,
    Lends,
    Goes,
    Fades,
    Runs,
    /// Printed by a stamp, over what lies there.
    Stamped,
    /// Raised in a folder, with no ink on it.
    Raised,
}

/// A word of what a thing gets.
#[allow(missing_docs, reason = "each is named as its field is")]
#[derive(Clone, Debug, PartialEq)]
pub enum Word {
    Gets(Gets),
    /// One of the ways that are offered, by its place.
    Way(usize),
    Measure(Measure, String),
    /// How far it comes before it has faded out.
    Reach(String),
    /// How many inks it runs through.
    Inks(usize),
    /// Light passes of an ink, by its place along the blend.
    Veils(usize, String),
    Ink(usize, String),
}

impl Word {
    pub(super) fn read(what: &str, to: &str) -> Result<Word, String> {
        let numbered = |begins: &str| what.strip_prefix(begins).and_then(|at| at.parse().ok());
        if let Some(measure) = what.strip_prefix("w_") {
            return Ok(Word::Measure(choice(measure)?, to.to_owned()));
        }
        if let Some(at) = numbered("veils") {
            return Ok(Word::Veils(at, to.to_owned()));
        }
        if let Some(at) = numbered("ink") {
            return Ok(Word::Ink(at, to.to_owned()));
        }
        match what {
            "gets" => Ok(Word::Gets(choice(to)?)),
            "way" => Ok(Word::Way(place(to)?)),
            "reach" => Ok(Word::Reach(to.to_owned())),
            "inks" => Ok(Word::Inks(place(to)?)),
            _ => Err(none_of(what)),
        }
    }
}

/// A thing with one of the words of one of its blends as it was written.
pub(super) fn written(
    panel: &mut Panel,
    thing: Thing,
    at: usize,
    word: &Word,
    has: &Has,
) -> Result<Thing, String> {
    let (size, units) = (size(&thing)?, has.units);
    let mut blend = match word {
        Word::Gets(to) => return gets(panel, thing, at, *to, has),
        Word::Inks(count) => return through(panel, thing, at, *count, has),
        _ => thing.blends().get(at).cloned().ok_or(GONE)?,
    };
    let along = |way: Way| {
        way.check(size).map_err(|error| error.to_string())?;
        Ok::<Blend, String>(Blend { way, ..blend.carried_to(blend.way.span(size), way.span(size), units) })
    };
    match word {
        Word::Gets(_) | Word::Inks(_) => {}
        Word::Reach(text) => blend = reaching(&blend, text, blend.way.span(size), units)?,
        Word::Way(at) => blend = along(*Way::offered_inside(size, units).get(*at).ok_or(GONE)?)?,
        Word::Measure(measure, text) => {
            let way = blend.way.with_measure(*measure, text, units).map_err(|error| error.to_string())?;
            blend = along(way)?;
        }
        Word::Veils(at, text) => {
            let veils = text.trim().parse().map_err(|_| "write a whole number")?;
            blend.fields.get_mut(*at).ok_or(GONE)?.veils = veils;
        }
        Word::Ink(at, name) => {
            let place = ink_called(name, panel, has.drawer)?;
            let ink = &panel.inks[place];
            if blend.fields.iter().enumerate().any(|(other, field)| other != *at && field.ink == place) {
                return Err(format!("{} is in it already: pick another, or leave one ink out", ink.name));
            }
            let field = blend.fields.get_mut(*at).ok_or(GONE)?;
            field.ink = place;
            field.veils = field.veils.min(ink.full_veils);
        }
    }
    Ok(with_blend(thing, at, blend))
}

/// A blend that has faded out where it was written, every measure keeping its share.
fn reaching(blend: &Blend, text: &str, span: Length, units: Units) -> Result<Blend, String> {
    let reach = text.parse_in(units).map_err(|error| error.to_string())?;
    if !(units.pencil() * 2..=span).contains(&reach) {
        return Err(format!("it runs {} there: give a measure up to that", span.shown(units)));
    }
    let ends = blend.fields.last().ok_or(GONE)?.ends;
    Ok(blend.carried_to(ends, reach, units))
}

/// A thing that stays white, goes in one ink, fades from one, or runs from one to another; or a blend over its first that does.
fn gets(panel: &mut Panel, mut thing: Thing, at: usize, to: Gets, has: &Has) -> Result<Thing, String> {
    let (drawer, units) = (has.drawer, has.units);
    let mut inks = inks(&thing, at);
    if at > 0 && (at >= thing.blends().len() || !matches!(to, Gets::Goes | Gets::Fades | Gets::Runs)) {
        return Err(GONE.into());
    }
    // What was stamped and is so no more gets its frame again.
    thing.shape.used = match (to, thing.shape.used) {
        (Gets::Stamped, _) => Use::Stamp,
        // Powder is stamped on too.
        (Gets::White, Use::Stamp) if thing.resist.is_some() => Use::Stamp,
        (Gets::Raised, _) => Use::Raised,
        (Gets::White | Gets::Lends, Use::Raised) | (_, Use::Stamp) => Use::Mask,
        (_, used) => used,
    };
    thing.over |= to == Gets::Stamped;
    match to {
        Gets::White | Gets::Lends => {
            (thing.gets, thing.over) = (Treatment::White, to == Gets::Lends);
            return Ok(thing);
        }
        Gets::Raised => {
            (thing.gets, thing.over, thing.resist) = (Treatment::White, true, None);
            return Ok(thing.all_over(panel.size(), units));
        }
        Gets::Runs => {
            while inks.len() < 2 {
                inks.push(another(panel, &thing, &inks, drawer)?);
            }
        }
        Gets::Goes | Gets::Fades | Gets::Stamped => {
            inks.truncate(1);
            if inks.is_empty() {
                inks.push(another(panel, &thing, &inks, drawer)?);
            }
        }
    }
    let way = thing.blends().get(at).map_or(Way::DOWN, |blend| blend.way);
    let blend = spread(panel, &thing, at, &inks, way, units)?;
    let mut blend = if to == Gets::Fades { blend.fading() } else { blend };
    if to == Gets::Stamped {
        // One print of rubber.
        blend.fields.iter_mut().for_each(|field| field.veils = (panel.inks[field.ink].full_veils / 2).max(1));
    }
    Ok(with_blend(thing, at, blend))
}

/// A thing that is only raised.
pub(super) fn raised(panel: &mut Panel, thing: Thing, has: &Has) -> Result<Thing, String> {
    gets(panel, thing, 0, Gets::Raised, has)
}

/// A thing one of whose blends runs through so many inks: another comes in before its last, or the one there goes.
pub(super) fn through(
    panel: &mut Panel,
    thing: Thing,
    at: usize,
    count: usize,
    has: &Has,
) -> Result<Thing, String> {
    let mut inks = inks(&thing, at);
    if count > MOST_INKS {
        return Err(format!("A blend takes up to {MOST_INKS} inks: leave one out first."));
    }
    if inks.len() < 2 || count < 2 {
        return Err(GONE.into());
    }
    while inks.len() < count {
        let ink = another(panel, &thing, &inks, has.drawer)?;
        inks.insert(inks.len() - 1, ink);
    }
    while inks.len() > count {
        inks.remove(inks.len() - 2);
    }
    let way = thing.blends().get(at).ok_or(GONE)?.way;
    let blend = spread(panel, &thing, at, &inks, way, has.units)?;
    Ok(with_blend(thing, at, blend))
}

/// A thing with one blend more over those it has: of one ink that fades, from where none of them begins, and comes half as far as
/// it could, so that not all of them lie on one another.
pub(super) fn over(panel: &mut Panel, thing: Thing, has: &Has) -> Result<Thing, String> {
    let at = thing.blends().len();
    if !thing.is_inked() {
        return Err("It has no ink yet: say what it gets first.".into());
    }
    if at >= MOST_ON_ONE {
        return Err(format!("A thing takes up to {MOST_ON_ONE} blends: leave one out first."));
    }
    let inks: Vec<usize> =
        thing.blends().iter().flat_map(|blend| &blend.fields).map(|field| field.ink).collect();
    let ink = another(panel, &thing, &inks, has.drawer)?;
    let ways: Vec<Way> = thing.blends().iter().map(|blend| blend.way).collect();
    let way = Way::from_elsewhere(&ways);
    let span = way.span(size(&thing)?);
    let half = (span / 2).up_to(has.units.pencil()).min(span);
    let blend = spread(panel, &thing, at, &[ink], way, has.units)?.fading();
    Ok(with_blend(thing, at, blend.carried_to(span, half, has.units)))
}

/// A thing without one of the blends over its first.
pub(super) fn without(mut thing: Thing, at: usize) -> Result<Thing, String> {
    match &mut thing.gets {
        Treatment::Inked(blends) if at > 0 && at < blends.len() => blends.remove(at),
        _ => return Err(GONE.into()),
    };
    Ok(thing)
}

/// Inks in equal shares along a way; those the thing had keep their passes, and the others are as strong as what is laid there.
fn spread(
    panel: &Panel,
    thing: &Thing,
    at: usize,
    inks: &[usize],
    way: Way,
    units: Units,
) -> Result<Blend, String> {
    let listed: Vec<(usize, &Ink)> = inks.iter().map(|ink| (*ink, &panel.inks[*ink])).collect();
    let mut blend = Blend::spread(&listed, way, way.span(size(thing)?), units);
    let before: Vec<_> = thing.blends().get(at).map_or(&[][..], |blend| &blend.fields).iter().collect();
    let usual = usual_passes(panel, thing);
    for field in &mut blend.fields {
        let old = before.iter().find(|old| old.ink == field.ink).map(|old| old.veils);
        if let Some(veils) = old.or(usual) {
            field.veils = veils.min(panel.inks[field.ink].full_veils);
        }
    }
    Ok(blend)
}

/// A thing with this for one of its blends, or over all it has; the others stay.
fn with_blend(mut thing: Thing, at: usize, blend: Blend) -> Thing {
    let mut blends = thing.blends().to_vec();
    match blends.get_mut(at) {
        Some(own) => *own = blend,
        None => blends.push(blend),
    }
    thing.gets = Treatment::Inked(blends);
    thing
}

fn size(thing: &Thing) -> Result<(Length, Length), String> {
    let outline = thing.shape.outline().map_err(|error| error.to_string())?;
    Ok(thing.extent(&outline).size)
}

fn inks(thing: &Thing, at: usize) -> Vec<usize> {
    thing.blends().iter().skip(at).take(1).flat_map(|blend| &blend.fields).map(|field| field.ink).collect()
}

/// A thing in one ink.
pub(super) fn in_ink(panel: &mut Panel, thing: Thing, ink: &Ink, units: Units) -> Result<Thing, String> {
    let at = panel.ink_place(ink);
    let way = thing.blends().first().map_or(Way::DOWN, |blend| blend.way);
    let blend = spread(panel, &thing, 0, &[at], way, units)?;
    Ok(with_blend(thing, 0, blend))
}

/// Up to so many inks that run over several things which do not meet, by their places on the panel: its own, and from the last of
/// them on those of the drawer that lie so much further round the circle of colours each.
pub(super) fn run(
    panel: &mut Panel,
    thing: &Thing,
    count: usize,
    drawer: &[Ink],
) -> Result<Vec<usize>, String> {
    let chroma = |ink: &Ink| ink.lab().a.hypot(ink.lab().b);
    let hue = |ink: &Ink| ink.lab().b.atan2(ink.lab().a).to_degrees();
    let is_colour = |ink: &Ink| ink.kind != Kind::Pigment && !is_near_black(ink) && chroma(ink) > COLOURFUL;
    let mut inks: Vec<usize> =
        (0..panel.inks.len()).filter(|place| is_colour(&panel.inks[*place])).take(count).collect();
    if inks.is_empty() {
        inks.push(another(panel, thing, &[], drawer)?);
    }
    while inks.len() < count {
        let wanted = hue(&panel.inks[inks[inks.len() - 1]]) - FURTHER;
        let off = |ink: &Ink| (hue(ink) - wanted + 540.0).rem_euclid(360.0) - 180.0;
        let is_new = |ink: &&Ink| is_colour(ink) && !inks.iter().any(|own| panel.inks[*own] == **ink);
        let near = drawer.iter().filter(is_new);
        let Some(next) = near.min_by(|one, other| off(one).abs().total_cmp(&off(other).abs())) else { break };
        inks.push(panel.ink_place(next));
    }
    Ok(inks)
}

/// The darkest ink for a shadow: of the panel's own, or else of the drawer; never one that covers.
pub(super) fn darkest(panel: &Panel, drawer: &[Ink]) -> Option<Ink> {
    let is_wet = |ink: &&Ink| ink.kind != Kind::Pigment;
    let least = |one: &&Ink, other: &&Ink| one.lab().l.total_cmp(&other.lab().l);
    let own = panel.inks.iter().filter(is_wet).min_by(least);
    own.or_else(|| drawer.iter().filter(is_wet).filter(|ink| !is_near_black(ink)).min_by(least)).cloned()
}

/// Whether an ink is so dark that nobody begins with it unasked.
fn is_near_black(ink: &Ink) -> bool {
    ink.lab().l < NEAR_BLACK
}

/// The most light passes that an ink of a thing, or else of what stands round it, is laid in; nothing where nothing is.
fn usual_passes(panel: &Panel, thing: &Thing) -> Option<u8> {
    let of = |blends: &[Blend]| blends.iter().flat_map(|blend| &blend.fields).map(|field| field.veils).max();
    let others = panel.scene.things.iter().filter(|other| *other != thing && !other.over);
    of(thing.blends())
        .or_else(|| of(&panel.scene.ground))
        .or_else(|| others.filter_map(|other| of(other.blends())).max())
}

/// One ink more for a thing that has these, to stand beside the last two of them, by its place on the panel: the one that
/// meets its neighbours cleanest and is plainly another colour, or that shows most plainly where there is no neighbour.
fn another(panel: &mut Panel, thing: &Thing, has: &[usize], drawer: &[Ink]) -> Result<usize, String> {
    let beside: Vec<&Ink> = has.iter().rev().take(2).map(|ink| &panel.inks[*ink]).collect();
    let is_new = |ink: &&Ink| {
        ink.kind != Kind::Pigment
            && !has.iter().any(|own| panel.inks[*own] == **ink)
            && beside.iter().all(|other| other.lab().difference(ink.lab()) > PLAINLY_ANOTHER)
    };
    // The panel's own come first, and a near-black of the drawer only where there is nothing else.
    let own: Vec<&Ink> = panel.inks.iter().filter(is_new).collect();
    let new = || drawer.iter().filter(|ink| !panel.inks.contains(ink)).filter(is_new);
    let lighter: Vec<&Ink> = new().filter(|ink| !is_near_black(ink)).collect();
    let others =
        [own, lighter, new().collect()].into_iter().find(|some| !some.is_empty()).unwrap_or_default();
    let swatch = |ink: &&Ink| (ink.film(), ink.lab());
    let (swatches, card) = (others.iter().map(swatch).collect::<Vec<_>>(), panel.paper.reflectance());
    let costs = beside.iter().map(|ink| Costs::to_each(&swatch(ink), &swatches, &card, Illuminant::D65));
    let costs = costs.reduce(|sum, next| sum.iter().zip(next).map(|(a, b)| a + b).collect());
    let least = costs.and_then(|costs| (0..costs.len()).min_by(|a, b| costs[*a].total_cmp(&costs[*b])));
    let ink = match least {
        Some(at) => others[at].clone(),
        None => plainest(panel, thing, has, drawer).ok_or(NO_INK)?,
    };
    Ok(panel.ink_place(&ink))
}

/// Places on the panel just beside the middle of each side of a thing.
fn beside(panel: &Panel, thing: &Thing) -> Vec<(f64, f64)> {
    let Ok(outline) = thing.shape.outline() else { return Vec::new() };
    let (Extent { corner, size }, (wide, high)) = (thing.extent(&outline), panel.size());
    let (left, top, right, bottom) =
        (corner.left.mm(), corner.top.mm(), (corner.left + size.0).mm(), (corner.top + size.1).mm());
    let (across, down) = (0.5 * (left + right), 0.5 * (top + bottom));
    let all =
        [(left - BESIDE, down), (right + BESIDE, down), (across, top - BESIDE), (across, bottom + BESIDE)];
    let on_panel = |(x, y): &(f64, f64)| (0.0..wide.mm()).contains(x) && (0.0..high.mm()).contains(y);
    all.into_iter().filter(on_panel).collect()
}

/// The ink that shows most plainly where a thing stands, but for those it has: of the panel's own, or else of the drawer.
pub(super) fn plainest(panel: &Panel, thing: &Thing, has: &[usize], drawer: &[Ink]) -> Option<Ink> {
    let surface = panel.surface();
    let seen = Sight::of(&surface);
    let mut round: Vec<Lab> = beside(panel, thing).into_iter().filter_map(|(x, y)| seen.lab(x, y)).collect();
    if round.is_empty() {
        round.push(panel.paper.reflectance().lab(Illuminant::D65));
    }
    let far = |ink: &&Ink| round.iter().map(|lab| ink.lab().difference(*lab)).fold(f64::INFINITY, f64::min);
    let own = (0..panel.inks.len()).filter(|ink| !has.contains(ink)).map(|ink| &panel.inks[ink]);
    let new = || drawer.iter().filter(|ink| !panel.inks.contains(ink));
    let most = |one: &&Ink, other: &&Ink| far(one).total_cmp(&far(other));
    let lighter = || new().filter(|ink| !is_near_black(ink)).max_by(most);
    own.max_by(most).or_else(lighter).or_else(|| new().max_by(most)).cloned()
}

/// An ink of the panel or the drawer by its name, by its place on the panel.
pub(super) fn ink_called(text: &str, panel: &mut Panel, drawer: &[Ink]) -> Result<usize, String> {
    let ink = named(text, &panel.inks, drawer)?.clone();
    Ok(panel.ink_place(&ink))
}
