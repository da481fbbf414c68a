//! How strong did each ink come, all over?
//!
//! One factor for each ink makes the plan look most like the photo (least squares in ΔE00, with less weight for what is odd, by
//! Gauss and Newton). How sure that is goes by how much the panel changes with it, and by how far off the phone's colours may be.

use nalgebra::{DMatrix, DVector, Vector3};
use rosy_core::colour::Lab;
use rosy_core::learn::hand::Came;

use super::seen::Seen;
use super::wanted::Wanted;
use crate::phone::{axes, between};

/// How strong an ink came.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Strength {
    /// The ink, by its place in the panel's list.
    pub ink: usize,
    /// What was laid, as a share of what was planned.
    pub came: f64,
    /// By which factor that may be off, nine times in ten, either way.
    pub within: f64,
}

/// Places that are looked at, in steps of the grid.
const EVERY: usize = 4;
/// How far strengths differ before anything is seen (logarithm, standard deviation), and ΔE00 beyond which a place is odd.
const DIFFER: f64 = 0.28;
const ODD: f64 = 3.0;
const ROUNDS: usize = 6;
/// By how much a panel's own colours calm what a phone is off by: they are of a few kinds, each off in its own way (chosen).
const OF_ONE_KIND: f64 = 1.35;
/// Light passes of an ink that have to lie somewhere so that its strength can be told.
const SHOWS: f64 = 0.8;
/// Nine tenths of a bell lie within so many of its standard deviations.
const NINE_TENTHS: f64 = 1.645;

/// How the colour of a place goes with each ink, in parts of ΔE00, for a logarithm of its amount.
pub fn slopes(wanted: &Wanted, n: usize, grown: &[f64], at: Lab) -> Vec<Vector3<f64>> {
    const BY: f64 = 0.04;
    let axes = axes(at);
    let passes = wanted.places[n].as_ref().map(|place| place.passes.as_slice()).unwrap_or_default();
    (0..grown.len())
        .map(|ink| {
            if passes.get(ink).is_none_or(|passes| *passes < 0.01) {
                return Vector3::zeros();
            }
            let mut more = grown.to_vec();
            more[ink] *= f64::exp(BY);
            wanted.grown(n, &more).map_or_else(Vector3::zeros, |lab| axes * between(lab, at) / BY)
        })
        .collect()
}

/// How far two inks of a panel differ in what a strong hand does to them (logarithm, standard deviation), and which part of their
/// doubt they share (chosen).
const INKS_DIFFER: f64 = 0.06;
const SHARED: f64 = 0.5;

/// How strong all inks of a panel came together: what its maker's hand did.
pub fn together(strengths: &[Strength]) -> Option<Came> {
    let variance = |one: &Strength| (one.within.ln() / NINE_TENTHS).powi(2) + INKS_DIFFER * INKS_DIFFER;
    let weights: f64 = strengths.iter().map(|one| 1.0 / variance(one)).sum();
    if strengths.is_empty() {
        return None;
    }
    let log = strengths.iter().map(|one| one.came.ln() / variance(one)).sum::<f64>() / weights;
    // As one ink whose doubt is the usual one among them, less by the part that is each one's own.
    let usual = strengths.len() as f64 / weights;
    let own = (1.0 - SHARED) / strengths.len() as f64;
    Some(Came { share: log.exp(), within: (NINE_TENTHS * (usual * (SHARED + own)).sqrt()).exp() })
}

/// The strengths of a panel's inks: those of which enough lies somewhere.
pub fn strengths(wanted: &Wanted, seen: &Seen) -> Vec<Strength> {
    let inks = wanted.surface.materials.inks.len();
    let white = wanted.surface.materials.paper.lab();
    let grid = wanted.grid;
    let places: Vec<usize> = (0..grid.len())
        .filter(|n| (n % grid.columns) % EVERY == 1 && (n / grid.columns) % EVERY == 1)
        .filter(|n| wanted.is_even(*n) && seen.lab[*n].is_some() && seen.is_whole(*n))
        .filter(|n| wanted.places[*n].as_ref().is_some_and(|place| !place.is_bare))
        .collect();
    let most = |ink: usize| {
        let of = |n: &usize| wanted.places[*n].as_ref().map_or(0.0, |place| place.passes[ink]);
        places.iter().map(of).fold(0.0, f64::max)
    };
    let shown: Vec<usize> = (0..inks).filter(|ink| most(*ink) >= SHOWS).collect();
    let count = shown.len();
    if count == 0 || places.len() < 8 {
        return Vec::new();
    }
    let mut logs = vec![0.0; inks];
    let mut normal = DMatrix::identity(count, count);
    let mut doubts = vec![(0.0, 0.0); count];
    for round in 0..ROUNDS {
        normal = DMatrix::identity(count, count) / (DIFFER * DIFFER);
        let mut side = DVector::from_iterator(count, shown.iter().map(|ink| -logs[*ink] / (DIFFER * DIFFER)));
        let grown: Vec<f64> = logs.iter().map(|log: &f64| log.exp()).collect();
        for n in &places {
            let (Some(now), Some(lab)) = (wanted.grown(*n, &grown), seen.lab[*n]) else { continue };
            let off = axes(now) * between(lab, now);
            let far = off.norm();
            // Places of a grid lie near one another: their noise is not each one's own.
            let weight = 0.25 * if far > ODD { ODD / far } else { 1.0 };
            let slopes = slopes(wanted, *n, &grown, now);
            for (row, ink) in shown.iter().enumerate() {
                side[row] += weight * slopes[*ink].dot(&off);
                for (column, other) in shown.iter().enumerate() {
                    normal[(row, column)] += weight * slopes[*ink].dot(&slopes[*other]);
                }
            }
            if round + 1 == ROUNDS
                && let Some(unsure) = seen.unsure(*n, grid.at(*n), white)
            {
                for (doubt, ink) in doubts.iter_mut().zip(&shown) {
                    let slope = slopes[*ink].norm();
                    *doubt = (doubt.0 + slope * unsure, doubt.1 + slope * slope);
                }
            }
        }
        let Some(step) = normal.clone().cholesky().map(|normal| normal.solve(&side)) else { break };
        for (row, ink) in shown.iter().enumerate() {
            logs[*ink] = (logs[*ink] + step[row].clamp(-0.4, 0.4)).clamp(-1.6, 1.6);
        }
    }
    let inverse = normal.try_inverse().unwrap_or_else(|| DMatrix::identity(count, count));
    shown
        .iter()
        .enumerate()
        .map(|(row, ink)| {
            // A phone is off the same way at all places of one colour: as if it were one place.
            let of_phone = doubts[row].0 / doubts[row].1.max(1e-9) / OF_ONE_KIND;
            let spread = (inverse[(row, row)] + of_phone * of_phone).sqrt();
            Strength { ink: *ink, came: logs[*ink].exp(), within: (NINE_TENTHS * spread).exp() }
        })
        .collect()
}
