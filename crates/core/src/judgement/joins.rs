//! How does each ink and each join come out?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::survey::{Sample, Survey};
use crate::blend::limits::PRESENT;
use crate::blend::{Meeting, Reach, Verdict};
use crate::colour::{ColourName, Illuminant, Lab, Srgb};
use crate::length::Length;
use crate::panel::Panel;
use crate::place::Point;

/// Square millimetres that two inks of different blends share before they are said to meet (chosen).
const MEET_MM2: f64 = 60.0;
/// What a veil of other ink counts against a place at which a join is judged, in shares of a swatch.
const FOREIGN: f64 = 0.02;
/// Change of a swatch's share between neighbouring places below which an ink does not change there.
const STILL: f64 = 0.002;

/// A pencil mark on the panel.
pub(super) const MARK: Length = Length::from_64ths(8);

/// Where two inks meet on the panel: neighbours in a blend, or inks of different blends that lie over one another.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Junction {
    /// The two, by their places in the panel's list.
    pub inks: [usize; 2],
    /// The thing they meet on; nothing for the ground.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on: Option<usize>,
    /// The blend whose measures it is told in, by its place on the ground, or among those of the thing.
    pub blend: usize,
    /// Where both are present along that blend; none where they do not meet.
    pub at: Option<Reach>,
    /// Where they stand equal, in millimetres along that blend.
    pub middle_mm: f64,
    /// That place on the panel.
    pub spot: Point,
    /// The colour there.
    pub lab: Lab,
    /// On a screen.
    pub srgb: Srgb,
    /// What a maker would call it.
    pub named: ColourName,
    /// Whether it is clean.
    pub verdict: Verdict,
    /// Oklab chroma kept, as a share of the two sides.
    pub chroma_kept: f64,
    /// The share from which it is clean.
    pub clean_from: f64,
    /// L* below the darker side.
    pub dark_band: f64,
    /// ΔE00 a millimetre where the join is steepest.
    pub steepest: f64,
    /// Why the verdict.
    pub why: String,
    /// The place looked at, among the survey's.
    #[serde(skip)]
    pub(super) middle: usize,
}

/// How one ink comes out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct InkReading {
    /// Light passes laid where it is full.
    pub veils: usize,
    /// The colour where it is fullest.
    pub srgb: Srgb,
    /// What a maker would call it.
    pub named: ColourName,
    /// ΔE00 of one standard deviation of its film: how splotchy it looks.
    pub splotch: f64,
    /// The same if the ink were laid in half as many passes of double weight.
    pub splotch_if_heavy: f64,
}

impl Survey<'_> {
    /// A place's measure along a blend, in millimetres; nothing where nothing of it has been laid.
    pub(super) fn along(&self, panel: &Panel, blend: usize, sample: usize) -> f64 {
        let run = panel.scene.ground.get(blend).and_then(|blend| self.surface.run_along(None, blend.way));
        run.map_or(0.0, |run| self.samples[sample].along[run].place)
    }
}

/// Where an ink is fullest: in the middle of its plateau, away from inks other than `its` own company where it can be.
pub(super) fn fullest(survey: &Survey, ink: usize, its: &[usize]) -> usize {
    let veils = |n: &usize| survey.samples[*n].veils[ink];
    let all: Vec<usize> = survey.places().collect();
    let most = all.iter().map(veils).fold(0.0, f64::max);
    let full: Vec<usize> = all.into_iter().filter(|n| veils(n) > most - 0.02).collect();
    let least = full.iter().map(|n| foreign(&survey.samples[*n], its)).fold(f64::INFINITY, f64::min);
    let alone: Vec<usize> =
        full.into_iter().filter(|n| foreign(&survey.samples[*n], its) <= least + 0.1).collect();
    let points: Vec<(f64, f64)> = alone.iter().map(|n| survey.lattice.point(survey.surface, *n)).collect();
    let count = points.len() as f64;
    let centre = points.iter().fold((0.0, 0.0), |sum, (x, y)| (sum.0 + x / count, sum.1 + y / count));
    let far = |(x, y): &(f64, f64)| (x - centre.0).hypot(y - centre.1);
    let nearest = (0..alone.len()).min_by(|&a, &b| far(&points[a]).total_cmp(&far(&points[b])));
    nearest.map_or(0, |at| alone[at])
}

/// The place nearest to another where an ink is as full as anywhere.
fn fullest_near(survey: &Survey, ink: usize, to: usize) -> usize {
    let veils = |n: usize| survey.samples[n].veils[ink];
    let all = survey.places();
    let most = all.clone().map(veils).fold(0.0, f64::max);
    let (x, y) = survey.lattice.point(survey.surface, to);
    let far = |n: usize| {
        let (u, v) = survey.lattice.point(survey.surface, n);
        (u - x).hypot(v - y)
    };
    let full = all.filter(|n| veils(*n) > most - 0.05);
    full.min_by(|&a, &b| far(a).total_cmp(&far(b))).unwrap_or(to)
}

/// Veils of all inks but some.
fn foreign(sample: &Sample, but: &[usize]) -> f64 {
    sample.veils.iter().enumerate().filter(|(ink, _)| !but.contains(ink)).map(|(_, veils)| veils).sum()
}

fn are_both(sample: &Sample, [one, other]: [usize; 2]) -> bool {
    sample.veils[one] > PRESENT && sample.veils[other] > PRESENT
}

pub(super) fn read_ink(survey: &Survey, ink: usize) -> InkReading {
    let surface = survey.surface;
    let sample = &survey.samples[fullest(survey, ink, &[ink])];
    let by_coat = surface.veils_at(&sample.along);
    let veils = sample.veils[ink];
    let sigma = surface.materials.unevenness();
    // One standard deviation of n veils is σ√n; laid in passes of double weight, √2 times that.
    let off = |weight: f64| {
        let more = 1.0 + weight * sigma * veils.sqrt() / veils.max(f64::EPSILON);
        let grown = surface.stack(&by_coat, |other| if other == ink { more } else { 1.0 });
        grown.lab(Illuminant::D65).difference(sample.lab)
    };
    InkReading {
        veils: veils.round() as usize,
        srgb: sample.lab.on_screen(Illuminant::D65).0,
        named: ColourName::of(sample.lab),
        splotch: off(1.0),
        splotch_if_heavy: off(std::f64::consts::SQRT_2),
    }
}

/// The join of two neighbours in a blend.
pub(super) fn read_join(panel: &Panel, survey: &Survey, blend: usize, inks: [usize; 2]) -> Junction {
    let company: Vec<usize> = panel.scene.ground[blend].fields.iter().map(|field| field.ink).collect();
    let [one, other] = inks.map(|ink| fullest(survey, ink, &company));
    let place = |n: usize| survey.along(panel, blend, n);
    let (from, to) = (place(one).min(place(other)), place(one).max(place(other)));
    let stretch: Vec<usize> = survey.places().filter(|n| (from..=to).contains(&place(*n))).collect();
    let apart = |n: usize| {
        let sample = &survey.samples[n];
        let [one, other] = inks.map(|ink| survey.share(sample, ink));
        (one - other).abs() + FOREIGN * foreign(sample, &company)
    };
    let middle = stretch.iter().copied().min_by(|&a, &b| apart(a).total_cmp(&apart(b))).unwrap_or(one);
    let clear = apart(middle) + FOREIGN;
    let near = |n: &&usize| foreign(&survey.samples[**n], &company) * FOREIGN <= clear;
    let darkest = stretch.iter().filter(near).map(|n| survey.samples[*n].lab.l).fold(f64::INFINITY, f64::min);
    let sides = [one, other].map(|n| survey.samples[n].lab);
    let darker_side = sides[0].l.min(sides[1].l);
    junction(panel, survey, Met { inks, blend, sides, darker_side, middle, darkest })
}

/// The colours of the two sides, how dark the darker is, where they meet, and how dark it becomes there.
struct Met {
    inks: [usize; 2],
    blend: usize,
    sides: [Lab; 2],
    darker_side: f64,
    middle: usize,
    darkest: f64,
}

fn junction(panel: &Panel, survey: &Survey, met: Met) -> Junction {
    let Met { inks, blend, sides: [one, other], darker_side, middle, darkest } = met;
    let lab = survey.samples[middle].lab;
    let dark_band = (darker_side - darkest).max(0.0);
    let meeting = Meeting { dark_band, ..Meeting::judge(one, lab, other) };
    let both = survey.places().filter(|n| are_both(&survey.samples[*n], inks));
    let places = both.map(|n| survey.along(panel, blend, n));
    let (from, to) =
        places.fold((f64::INFINITY, f64::NEG_INFINITY), |(from, to), at| (from.min(at), to.max(at)));
    let at = (from <= to).then(|| Reach { from: Length::nearest(from, MARK), to: Length::nearest(to, MARK) });
    Junction {
        inks,
        on: None,
        blend,
        at,
        middle_mm: survey.along(panel, blend, middle),
        spot: spot(survey, middle),
        lab,
        srgb: lab.on_screen(Illuminant::D65).0,
        why: meeting.why(),
        named: meeting.named,
        verdict: meeting.verdict,
        chroma_kept: meeting.chroma_kept,
        clean_from: meeting.limits.1,
        dark_band,
        steepest: 0.0,
        middle,
    }
}

/// Pairs of inks, not neighbours in a blend, that are the two strongest over some of the panel.
pub(super) fn crossings(panel: &Panel, survey: &Survey, known: &[Junction]) -> Vec<[usize; 2]> {
    let count = panel.inks.len();
    let mut shared = vec![0_usize; count * count];
    for sample in survey.places().map(|n| &survey.samples[n]) {
        let mut present: Vec<usize> = (0..count).filter(|ink| sample.veils[*ink] > PRESENT).collect();
        present.sort_by(|&a, &b| survey.share(sample, b).total_cmp(&survey.share(sample, a)));
        if let [one, other, ..] = present.as_slice() {
            shared[one.min(other) * count + one.max(other)] += 1;
        }
    }
    let least = (MEET_MM2 / survey.area_mm2()).ceil() as usize;
    let is_known = |pair: &[usize; 2]| {
        known.iter().any(|junction| junction.inks == *pair || junction.inks == [pair[1], pair[0]])
    };
    let pairs = (0..count * count).filter(|at| shared[*at] >= least.max(2));
    pairs.map(|at| [at / count, at % count]).filter(|pair| !is_known(pair)).collect()
}

/// Where two inks of different blends lie over one another: at the worst of the places where they are about equal.
pub(super) fn read_crossing(panel: &Panel, survey: &Survey, inks: [usize; 2]) -> Option<Junction> {
    let blend_of = |ink: usize| {
        panel.scene.ground.iter().position(|blend| blend.fields.iter().any(|field| field.ink == ink))
    };
    let blend = blend_of(inks[0])?.max(blend_of(inks[1])?);
    // An ink that lies over another everywhere has no side of its own: each is taken as it would be alone.
    let sides = inks.map(|ink| alone(survey, ink, fullest(survey, ink, &[ink])));
    let both: Vec<usize> = survey.places().filter(|n| are_both(&survey.samples[*n], inks)).collect();
    let apart = |n: usize| {
        let sample = &survey.samples[n];
        let [one, other] = inks.map(|ink| survey.share(sample, ink));
        (one - other).abs() + FOREIGN * foreign(sample, &inks)
    };
    let least = both.iter().map(|n| apart(*n)).fold(f64::INFINITY, f64::min);
    let cost = |n: usize| Meeting::judge(sides[0], survey.samples[n].lab, sides[1]).cost();
    let equal = both.iter().copied().filter(|n| apart(*n) <= least + 0.05);
    let middle = equal.max_by(|&a, &b| cost(a).total_cmp(&cost(b)))?;
    // A band is dark between two lighter places: the nearest where each of them is full.
    let near = inks.map(|ink| survey.samples[fullest_near(survey, ink, middle)].lab.l);
    let (darker_side, darkest) = (near[0].min(near[1]), survey.samples[middle].lab.l);
    Some(junction(panel, survey, Met { inks, blend, sides, darker_side, middle, darkest }))
}

/// The colour that an ink would have at a place if nothing else lay there.
fn alone(survey: &Survey, ink: usize, n: usize) -> Lab {
    let by_coat = survey.surface.veils_at(&survey.samples[n].along);
    let only = |other: usize| if other == ink { 1.0 } else { 0.0 };
    survey.surface.stack(&by_coat, only).lab(Illuminant::D65)
}

/// The steepest change of colour between two inks, or of one ink to bare card.
#[derive(Clone, Debug)]
pub(super) struct Steepest {
    /// One ink, or two.
    pub inks: Vec<usize>,
    /// ΔE00 a millimetre.
    pub steepness: f64,
    /// Where, among the survey's places.
    pub sample: usize,
    /// The blend of its first ink.
    pub blend: usize,
    /// Where along that blend, in millimetres.
    pub place_mm: f64,
}

impl Steepest {
    /// Whether it lies between these two.
    pub fn is_of(&self, pair: &[usize; 2]) -> bool {
        self.inks.len() == 2 && pair.iter().all(|ink| self.inks.contains(ink))
    }
}

/// The steepest change of each pair of inks, and of each alone.
pub(super) fn steepest(panel: &Panel, survey: &Survey) -> Vec<Steepest> {
    let mut found: Vec<Steepest> = Vec::new();
    for step in survey.steps() {
        let Some(inks) = who_changes(survey, step.between) else { continue };
        let sample = step.between.0;
        match found.iter_mut().find(|known| known.inks == inks) {
            Some(known) if known.steepness >= step.steepness => {}
            Some(known) => (known.steepness, known.sample) = (step.steepness, sample),
            None => found.push(Steepest { inks, steepness: step.steepness, sample, blend: 0, place_mm: 0.0 }),
        }
    }
    for edge in &mut found {
        let of = |ink: usize| {
            panel.scene.ground.iter().position(|blend| blend.fields.iter().any(|field| field.ink == ink))
        };
        edge.blend = of(edge.inks[0]).unwrap_or(0);
        edge.place_mm = survey.along(panel, edge.blend, edge.sample);
    }
    found
}

/// The ink that changes most between two places, with the one that takes its place, or else the one it lies over; in the
/// panel's order.
fn who_changes(survey: &Survey, (here, there): (usize, usize)) -> Option<Vec<usize>> {
    let (here, there) = (&survey.samples[here], &survey.samples[there]);
    let inks = 0..here.veils.len();
    let change = |ink: usize| survey.share(there, ink) - survey.share(here, ink);
    let first = inks.clone().max_by(|&a, &b| change(a).abs().total_cmp(&change(b).abs()))?;
    if change(first).abs() < STILL {
        return None;
    }
    let against = |ink: usize| -change(first).signum() * change(ink);
    let others = inks.filter(|ink| *ink != first);
    let taker = others
        .clone()
        .filter(|ink| against(*ink) > 0.25 * change(first).abs())
        .max_by(|&a, &b| against(a).total_cmp(&against(b)));
    let present = |ink: &usize| here.veils[*ink].max(there.veils[*ink]) > PRESENT;
    let beneath =
        others.filter(present).max_by(|&a, &b| survey.share(here, a).total_cmp(&survey.share(here, b)));
    let mut pair: Vec<usize> = [Some(first), taker.or(beneath)].into_iter().flatten().collect();
    pair.sort_unstable();
    Some(pair)
}

/// Where on the panel a place looked at lies.
pub(super) fn spot(survey: &Survey, sample: usize) -> Point {
    Point::nearest(survey.lattice.point(survey.surface, sample), MARK)
}
