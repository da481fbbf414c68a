//! Where does what water brought turn to mud with what lies there?
//!
//! Blends are judged along their own measures; puddles, sprays and pads have none. So the card is looked at place by place:
//! where two inks lie over one another, at least one of them brought by water, and what is seen has lost the colour of both,
//! that is mud, and it counts once it covers enough of the card to be seen as such.

use std::collections::BTreeMap;
use std::sync::Arc;

use rayon::prelude::*;

use super::finding::{Finding, Rule};
use super::joins::MARK;
use crate::blend::{Meeting, Reach, Verdict};
use crate::colour::{ColourName, Illuminant, Lab};
use crate::ink::{Film, Ink, Kind, Name, Stack};
use crate::length::Length;
use crate::panel::Panel;
use crate::place::Point;
use crate::surface::{Area, Layer, Surface};
use crate::water::Effect;

/// Millimetres between the places looked at.
const STEP: f64 = 2.0;
/// Of a swatch, what has to lie there of each of two inks before they are said to meet (chosen).
const PRESENT: f64 = 0.12;
/// Share of the card that mud covers before it is told (chosen).
const SEEN: f64 = 0.02;
/// Chroma of a pigment below which it only pales what it lies over, as white does: a tint is no mud (chosen).
const NEUTRAL: f64 = 8.0;
/// Inks that are tried in the place of one, the nearest first (chosen).
const TRIED: usize = 8;

/// Two inks that turn to mud where they lie over one another.
#[derive(Clone, Debug, PartialEq)]
pub struct Muddied {
    /// The two, by their places in the panel's list.
    pub inks: [usize; 2],
    /// On which share of the card.
    pub share: f64,
    /// What a maker would call it where it is worst.
    pub named: ColourName,
    /// Where that is, in millimetres from the left and top.
    pub worst: (f64, f64),
}

impl Muddied {
    /// In a sentence.
    pub fn says(&self, surface: &Surface) -> String {
        let [one, other] = self.inks.map(|ink| &surface.materials.inks[ink].name);
        let percent = (100.0 * self.share).round().max(1.0);
        format!(
            "{one} and {other} turn {} where they lie over one another, on about {percent:.0} % of the card: take two that \
             lie nearer in hue, or keep them apart.",
            self.named
        )
    }

    /// As one of all findings on a panel.
    fn finding(&self, panel: &Panel, surface: &Surface) -> Finding {
        let ground = &panel.scene.ground;
        let is_of = |ink: usize| ground.iter().position(|blend| blend.fields.iter().any(|f| f.ink == ink));
        let nothing = Reach { from: Length::ZERO, to: Length::ZERO };
        let spot =
            Point { left: Length::nearest(self.worst.0, MARK), top: Length::nearest(self.worst.1, MARK) };
        Finding {
            rule: Rule::Muddied,
            of: self.inks[0],
            inks: self.inks.into(),
            on: None,
            blend: self.inks.into_iter().find_map(is_of).unwrap_or(0),
            at: nothing,
            spot,
            figure: self.share,
            limit: SEEN,
            says: self.says(surface),
        }
    }
}

/// What of all that will go wrong with a panel is mud that water brings.
pub(super) fn findings(panel: &Panel, surface: &Surface) -> impl Iterator<Item = Finding> {
    muddied(surface).into_iter().map(|one| one.finding(panel, surface))
}

/// An ink in the place of one that water brought.
#[derive(Clone, Debug)]
pub struct Cleared {
    /// The panel with it.
    pub panel: Panel,
    /// The one that was there, and the one in its place.
    pub inks: [Name; 2],
}

/// The panel with another ink in the place of one of two that turn to mud: the nearest of the maker's with which nothing of
/// it does, tried on the model. Nothing where none stays clean.
pub fn cleared(panel: &Panel, inks: [usize; 2], drawer: &[Ink]) -> Option<Cleared> {
    let mut scene = panel.scene.clone();
    let wet: Vec<usize> = scene.wet_inks_mut().map(|ink| *ink).collect();
    let mut tries: Vec<(f64, usize, &Ink)> = Vec::new();
    for old in inks.into_iter().filter(|ink| wet.contains(ink)) {
        let was = &panel.inks[old];
        let fresh = drawer.iter().filter(|ink| !panel.inks.contains(ink));
        let others = panel.inks.iter().chain(fresh).filter(|ink| *ink != was && ink.kind != Kind::Pigment);
        tries.extend(others.map(|ink| (ink.lab().difference(was.lab()), old, ink)));
    }
    let stays_clean = |(_, old, ink): &&(f64, usize, &Ink)| {
        let [one, other] = inks;
        let beside = &panel.inks[if *old == one { other } else { one }];
        *ink != beside && overprinted(panel, beside, ink).verdict != Verdict::Muddy
    };
    tries.sort_by(|one, other| one.0.total_cmp(&other.0));
    tries.iter().filter(stays_clean).take(TRIED).find_map(|(_, old, ink)| {
        let mut tried = panel.clone();
        let new = tried.ink_place(ink);
        let mut scene = tried.scene.clone();
        scene.wet_inks_mut().filter(|wet| **wet == *old).for_each(|wet| *wet = new);
        let tried = tried.with_scene(scene);
        let new = tried.inks.iter().position(|own| own == *ink)?;
        let is_clean = muddied(&tried.surface()).iter().all(|mud| !mud.inks.contains(&new));
        is_clean.then(|| Cleared { panel: tried, inks: [panel.inks[*old].name.clone(), ink.name.clone()] })
    })
}

/// How two inks meet at full strength, one over the other.
fn overprinted(panel: &Panel, below: &Ink, above: &Ink) -> Meeting {
    let card = panel.paper.reflectance();
    let (below, above) = (below.film(), above.film());
    let seen = |films: &[&Film]| {
        let mut stack = Stack::on(&card);
        films.iter().enumerate().for_each(|(place, film)| stack.lay(place, film, 1.0));
        stack.lab(Illuminant::D65)
    };
    Meeting::judge(seen(&[&below]), seen(&[&below, &above]), seen(&[&above]))
}

/// What two inks make at a place, in millimetres.
type Place = (Meeting, (f64, f64));

/// All that turns to mud on a card where water, or a pad, has brought ink, the most of it first.
pub fn muddied(surface: &Surface) -> Vec<Muddied> {
    if surface.films.iter().all(|film| film.wet.inks().is_empty()) {
        return Vec::new();
    }
    let areas: Vec<_> = surface.areas().into_iter().map(|area| (area.surface.effects(), area)).collect();
    let (wide, high) = surface.materials.size_mm();
    let count = |side: f64| (side / STEP).ceil().max(1.0) as usize;
    let (columns, rows) = (count(wide), count(high));
    let muddy = |at: usize| {
        let x = ((at % columns) as f64 + 0.5) * wide / columns as f64;
        let y = ((at / columns) as f64 + 0.5) * high / rows as f64;
        let is_here = |area: &Area| area.region.as_ref().is_none_or(|region| region.has([x, y]));
        let (effects, area) = areas.iter().find(|(_, area)| is_here(area))?;
        let (inks, meeting) = met(&area.surface, effects, (x, y))?;
        (meeting.verdict == Verdict::Muddy).then_some((inks, meeting, (x, y)))
    };
    let places: Vec<_> = (0..columns * rows).into_par_iter().filter_map(muddy).collect();
    let mut found: BTreeMap<[usize; 2], Vec<Place>> = BTreeMap::new();
    for (inks, meeting, place) in places {
        found.entry(inks).or_default().push((meeting, place));
    }
    let of_pair = |(inks, met): ([usize; 2], Vec<Place>)| {
        let share = met.len() as f64 / (columns * rows) as f64;
        let worst = met.into_iter().min_by(|a, b| a.0.chroma_kept.total_cmp(&b.0.chroma_kept));
        worst.map(|(meeting, worst)| Muddied { inks, share, named: meeting.named, worst })
    };
    let mut told: Vec<Muddied> =
        found.into_iter().filter_map(of_pair).filter(|one| one.share >= SEEN).collect();
    told.sort_by(|one, other| other.share.total_cmp(&one.share));
    told
}

/// The two inks that are strongest at a place and what they make there; nothing where fewer than two are present, or both
/// were brushed on: blends are judged by themselves.
fn met(surface: &Surface, effects: &[Arc<Effect>], place: (f64, f64)) -> Option<([usize; 2], Meeting)> {
    let layers = surface.layers_at(place, effects, None);
    let mut lies = vec![0.0; surface.materials.inks.len()];
    for layer in &layers {
        if let Layer::Ink(ink, amount) = layer {
            lies[*ink] += amount;
        }
    }
    let mut present: Vec<usize> = (0..lies.len()).filter(|ink| lies[*ink] > PRESENT).collect();
    present.sort_by(|one, other| lies[*other].total_cmp(&lies[*one]));
    let [one, other, ..] = *present.as_slice() else { return None };
    let pales = |ink: usize| {
        let ink = &surface.materials.inks[ink];
        ink.kind == Kind::Pigment && ink.lab().a.hypot(ink.lab().b) < NEUTRAL
    };
    if pales(one) || pales(other) {
        return None;
    }
    let wetted = |ink: usize| surface.films.iter().any(|film| film.wet.inks().contains(&ink));
    if !wetted(one) && !wetted(other) {
        return None;
    }
    let alone = |ink: usize| -> Lab {
        let only: Vec<Layer> = layers
            .iter()
            .filter(|layer| !matches!(layer, Layer::Ink(other, _) if *other != ink))
            .copied()
            .collect();
        surface.stack_of(&only).lab(Illuminant::D65)
    };
    let middle = surface.stack_of(&layers).lab(Illuminant::D65);
    Some(([one.min(other), one.max(other)], Meeting::judge(alone(one), middle, alone(other))))
}
