//! How many light passes lie where?
//!
//! Along each blend of the ground, zone by zone: the amounts of the inks that are planned there which would look as the zone does.
//! What is believed before it is looked is the plan, in the strengths the inks came in, off by a pass or so; the rest is least
//! squares by Gauss and Newton, and its spread is what both leave open.

use nalgebra::{DMatrix, DVector, Vector3};
use rosy_core::Panel;
use rosy_core::blend::field::zones;

use super::local::Left;
use super::seen::Seen;
use super::strength::{Strength, slopes};
use super::wanted::Wanted;
use crate::phone::{axes, between};

/// An ink in a zone.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Lies {
    /// The ink, by its place in the panel's list.
    pub ink: usize,
    /// Light passes that the plan has there by now.
    pub planned: f64,
    /// Light passes that lie there.
    pub lie: f64,
    /// How far off that may be, nine times in ten.
    pub within: f64,
}

/// A zone of a blend of the ground.
#[derive(Clone, Debug, PartialEq)]
pub struct Zone {
    /// The blend, by its place on the ground.
    pub blend: usize,
    /// From where to where along it, in millimetres.
    pub from: f64,
    /// Its end.
    pub to: f64,
    /// A place in the middle of it, in millimetres from the panel's left and top edges.
    pub at: [f64; 2],
    /// The inks that lie there.
    pub inks: Vec<Lies>,
    /// How far what is seen is from the plan (ΔE00).
    pub off: f64,
}

/// How far light passes differ from the plan before it is looked: so many, and so much of the planned (standard deviations).
const DIFFER: [f64; 2] = [0.5, 0.18];
/// What a place may be off beside what is not known of the phone (ΔE00).
const OWN: f64 = 0.7;
/// Light passes from which on an ink is counted in a zone.
const SOME: f64 = 0.15;
/// By how much less sure a colour is of which a photo has cut a part off.
const CUT: f64 = 2.0;
/// The fewest places by which a zone is read.
const FEWEST: usize = 10;
const ROUNDS: usize = 6;

/// Reads back every zone of the ground that is seen.
pub fn zones_of(
    panel: &Panel,
    wanted: &Wanted,
    seen: &Seen,
    left: &Left,
    strengths: &[Strength],
) -> Vec<Zone> {
    let mut read = Vec::new();
    let white = wanted.surface.materials.paper.lab();
    let things = &wanted.surface.materials.masks.things;
    let ground: Vec<usize> = (0..wanted.grid.len())
        .filter(|n| left.off(*n).is_some() && wanted.places[*n].as_ref().is_some_and(|place| !place.is_bare))
        .filter(|n| {
            let at = wanted.grid.at(*n);
            !things.iter().any(|thing| thing.inside.has(at))
        })
        .collect();
    for (nth, blend) in panel.scene.ground.iter().enumerate() {
        let Some(run) = wanted.surface.run_along(None, blend.way) else { continue };
        let run = &wanted.surface.runs[run];
        let along: Vec<f64> = ground
            .iter()
            .map(|n| {
                let [x, y] = wanted.grid.at(*n);
                run.at(x, y).place
            })
            .collect();
        for ends in zones(panel.span(nth), blend.zone).windows(2) {
            let (from, to) = (ends[0].mm(), ends[1].mm());
            let here: Vec<(usize, f64)> = ground
                .iter()
                .zip(&along)
                .filter(|(_, place)| (from..to).contains(*place))
                .map(|(n, place)| (*n, *place))
                .collect();
            let whole: Vec<(usize, f64)> = here.iter().filter(|(n, _)| seen.is_whole(*n)).copied().collect();
            let (here, cut) = if whole.len() >= FEWEST { (whole, 1.0) } else { (here, CUT) };
            if here.len() < FEWEST {
                continue;
            }
            let middle = 0.5 * (from + to);
            let Some((n, _)) =
                here.iter().min_by(|a, b| (a.1 - middle).abs().total_cmp(&(b.1 - middle).abs()))
            else {
                continue;
            };
            let offs: Vec<Vector3<f64>> = here.iter().filter_map(|(n, _)| left.off(*n)).collect();
            let off = offs.iter().sum::<Vector3<f64>>() / offs.len() as f64;
            let unsure = cut * seen.unsure(*n, wanted.grid.at(*n), white).unwrap_or(3.0);
            if let Some((inks, off)) = solved(wanted, *n, off, unsure, strengths) {
                read.push(Zone { blend: nth, from, to, at: wanted.grid.at(*n), inks, off });
            }
        }
    }
    read
}

/// The amounts at a place that look as it does: as far from the plan in the strengths the inks came in as its zone is.
fn solved(
    wanted: &Wanted,
    n: usize,
    off: Vector3<f64>,
    unsure: f64,
    strengths: &[Strength],
) -> Option<(Vec<Lies>, f64)> {
    let place = wanted.places[n].as_ref()?;
    let came = |ink: usize| {
        strengths.iter().find(|strength| strength.ink == ink).map_or(1.0, |strength| strength.came)
    };
    let inks: Vec<usize> = (0..place.passes.len()).filter(|ink| place.passes[*ink] > SOME).collect();
    if inks.is_empty() {
        return None;
    }
    let mut grown: Vec<f64> = (0..place.passes.len()).map(came).collect();
    let before = wanted.grown(n, &grown)?;
    // What is seen, as far from what was foretold as the zone is.
    let seen = {
        let axes = axes(before).try_inverse()?;
        let by = axes * off;
        rosy_core::colour::Lab { l: before.l + by[0], a: before.a + by[1], b: before.b + by[2] }
    };
    let doubt = OWN * OWN + unsure * unsure;
    let spread = |ink: usize| DIFFER[0] + DIFFER[1] * place.passes[ink];
    let count = inks.len();
    let mut normal = DMatrix::<f64>::identity(count, count);
    for _ in 0..ROUNDS {
        let now = wanted.grown(n, &grown)?;
        let left = axes(now) * between(seen, now);
        let slopes = slopes(wanted, n, &grown, now);
        normal = DMatrix::zeros(count, count);
        let mut side = DVector::zeros(count);
        for (row, ink) in inks.iter().enumerate() {
            let lies = grown[*ink] * place.passes[*ink];
            let by_pass = slopes[*ink] / lies.max(0.05);
            let believed = 1.0 / spread(*ink).powi(2);
            normal[(row, row)] += believed;
            side[row] += believed * (came(*ink) * place.passes[*ink] - lies) + by_pass.dot(&left) / doubt;
            for (column, other) in inks.iter().enumerate() {
                let other_by = slopes[*other] / (grown[*other] * place.passes[*other]).max(0.05);
                normal[(row, column)] += by_pass.dot(&other_by) / doubt;
            }
        }
        let step = normal.clone().cholesky()?.solve(&side);
        for (row, ink) in inks.iter().enumerate() {
            let lies = (grown[*ink] * place.passes[*ink] + step[row].clamp(-1.5, 1.5)).max(0.02);
            grown[*ink] = lies / place.passes[*ink];
        }
    }
    let inverse = normal.try_inverse()?;
    let lies = inks.iter().enumerate().map(|(row, ink)| Lies {
        ink: *ink,
        planned: place.passes[*ink],
        lie: grown[*ink] * place.passes[*ink],
        within: 1.645 * inverse[(row, row)].max(0.0).sqrt(),
    });
    Some((lies.collect(), seen.difference(place.lab)))
}
