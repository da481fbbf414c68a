//! How strong did each ink come, all over?
//!
//! One factor for each ink makes the plan look most like the photo (least squares in ΔE00, with less weight for what is odd, by
//! Gauss and Newton). What is not known of the phone is sought in the same equations, as far from what is believed of it as that
//! may be off: a phone is off the same way wherever a colour comes again, so what it could do by itself is told from what only more
//! ink does, and what cannot be told apart is what the strengths may be off by.

use nalgebra::{DMatrix, DVector, Matrix3xX, Vector3};
use rosy_core::colour::Lab;
use rosy_core::learn::hand::Came;

use super::seen::Seen;
use super::wanted::Wanted;
use crate::phone::{FIGURES, axes, between};

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
/// How far strengths differ before anything is seen (logarithm, standard deviation), and ΔE00 from which on a place is odd: it counts for
/// less at first, and for next to nothing once the strengths are near, if it is quite odd (Geman and McClure): faults lie at some places
/// only.
const DIFFER: f64 = 0.28;
const ODD: f64 = 3.0;
const QUITE_ODD: f64 = 4.5;
const ROUNDS: usize = 8;
const NEAR_FROM: usize = 3;
/// ΔE00 within which colours are off alike by what no phone's figures explain (chosen).
const ALIKE: f64 = 8.0;
/// What a place is off by itself: the tool's grain and the phone's noise (ΔE00 on one axis).
const OWN: f64 = 1.2;
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

/// A place that tells strengths.
struct Told {
    n: usize,
    lab: Lab,
    /// How its colour goes with what is not known of the phone.
    of_phone: Matrix3xX<f64>,
    /// What it may be off by itself, as one of all that are off alike: the square.
    variance: f64,
}

impl Told {
    fn of(n: usize, lab: Lab, seen: &Seen, at: [f64; 2], white: Lab) -> Option<Told> {
        let patch = seen.patch(n, at)?;
        let of_phone = seen.phone.doubts(&patch, white, &axes(lab));
        let of_phone = Matrix3xX::from_iterator(FIGURES, of_phone.iter().copied());
        Some(Told { n, lab, of_phone, variance: OWN * OWN })
    }
}

/// Places that tell strengths, each with what it is worth among those of its colour.
fn told(wanted: &Wanted, seen: &Seen) -> Vec<Told> {
    let white = wanted.surface.materials.paper.lab();
    let grid = wanted.grid;
    let mut told: Vec<Told> = (0..grid.len())
        .filter(|n| (n % grid.columns) % EVERY == 1 && (n / grid.columns) % EVERY == 1)
        .filter(|n| wanted.is_even(*n) && seen.is_whole(*n))
        .filter(|n| wanted.places[*n].as_ref().is_some_and(|place| !place.is_bare))
        .filter_map(|n| Told::of(n, seen.lab[n]?, seen, grid.at(n), white))
        .collect();
    let alike = |one: &Told| -> f64 {
        let axes = axes(one.lab);
        let near = |other: &Told| (axes * between(other.lab, one.lab)).norm_squared();
        told.iter().map(|other| (-0.5 * near(other) / (ALIKE * ALIKE)).exp()).sum()
    };
    let many: Vec<f64> = told.iter().map(alike).collect();
    for (one, many) in told.iter_mut().zip(many) {
        one.variance += many * seen.phone.left_of(one.lab).powi(2);
    }
    told
}

/// The strengths of a panel's inks: those of which enough lies somewhere.
pub fn strengths(wanted: &Wanted, seen: &Seen) -> Vec<Strength> {
    let inks = wanted.surface.materials.inks.len();
    let places = told(wanted, seen);
    let most = |ink: usize| {
        let of = |one: &Told| wanted.places[one.n].as_ref().map_or(0.0, |place| place.passes[ink]);
        places.iter().map(of).fold(0.0, f64::max)
    };
    let shown: Vec<usize> = (0..inks).filter(|ink| most(*ink) >= SHOWS).collect();
    if shown.is_empty() || places.len() < 8 {
        return Vec::new();
    }
    // First the logarithms of the inks that show, then what is not known of the phone.
    let count = shown.len();
    let believed = DVector::from_fn(count + FIGURES, |n, _| if n < count { DIFFER } else { 1.0 });
    let prior = DMatrix::from_diagonal(&believed.map(|believed| 1.0 / (believed * believed)));
    let mut found: DVector<f64> = DVector::zeros(count + FIGURES);
    let mut normal = prior.clone();
    for round in 0..ROUNDS {
        let mut grown = vec![1.0; inks];
        shown.iter().zip(found.iter()).for_each(|(ink, log)| grown[*ink] = log.exp());
        normal = prior.clone();
        let mut side = -(&prior * &found);
        for one in &places {
            let Some(now) = wanted.grown(one.n, &grown) else { continue };
            let slopes = slopes(wanted, one.n, &grown, now);
            let mut goes = Matrix3xX::zeros(count + FIGURES);
            shown.iter().enumerate().for_each(|(n, ink)| goes.set_column(n, &slopes[*ink]));
            goes.columns_mut(count, FIGURES).copy_from(&one.of_phone);
            let off = axes(now) * between(one.lab, now) - &one.of_phone * found.rows(count, FIGURES);
            let far = off.norm();
            let trust = match round {
                ..NEAR_FROM => (ODD / far).min(1.0),
                _ => (1.0 + (far / QUITE_ODD).powi(2)).powi(-2),
            };
            let weight = trust / one.variance;
            let turned = goes.transpose();
            side += &turned * off * weight;
            normal += turned * goes * weight;
        }
        let Some(step) = normal.clone().cholesky().map(|normal| normal.solve(&side)) else { break };
        found += step;
        found.rows_mut(0, count).iter_mut().for_each(|log| *log = log.clamp(-1.6, 1.6));
    }
    let inverse = normal.try_inverse().unwrap_or_else(|| DMatrix::identity(count, count));
    let spread = |n: usize| inverse[(n, n)].max(0.0).sqrt();
    let came = |(n, ink): (usize, &usize)| Strength {
        ink: *ink,
        came: found[n].exp(),
        within: (NINE_TENTHS * spread(n)).exp(),
    };
    shown.iter().enumerate().map(came).collect()
}
