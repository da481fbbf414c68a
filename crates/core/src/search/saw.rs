//! Which few colours does a picture show?
//!
//! Its pixels are gathered into small cells of CIE Lab; the colours are the centres of the groups that the cells fall into
//! (Lloyd 1982), begun with those that are both common and unlike the others, so that the same picture always gives the
//! same answer. What can hardly be told apart is one colour.

use crate::colour::{Illuminant, Lab, Srgb};

/// Side of a cell, in CIE Lab.
const CELL: f64 = 6.0;
/// ΔE00 below which two colours are told as one.
const ALIKE: f64 = 9.0;
/// The least share of a picture that is told of.
const LEAST: f64 = 0.02;
/// Rounds of gathering.
const ROUNDS: usize = 16;

/// A colour that a picture shows, and the share of it that is so.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Saw {
    /// The colour.
    pub lab: Lab,
    /// From 0 to 1.
    pub share: f64,
}

/// At most so many colours of a picture, the commonest first.
pub fn colours_of(pixels: impl IntoIterator<Item = Srgb>, most: usize) -> Vec<Saw> {
    let cells = cells(pixels);
    let all: f64 = cells.iter().map(|cell| cell.share).sum();
    if all == 0.0 || most == 0 {
        return Vec::new();
    }
    let mut centres: Vec<Lab> = Vec::new();
    while centres.len() < most {
        // Common, and far from what is there already.
        let worth = |cell: &&Saw| cell.share.sqrt() * apart(&centres, cell.lab).min(60.0);
        let next = cells.iter().max_by(|one, other| worth(one).total_cmp(&worth(other)));
        match next.filter(|cell| apart(&centres, cell.lab) > ALIKE) {
            Some(cell) => centres.push(cell.lab),
            None => break,
        }
    }
    for _ in 0..ROUNDS {
        centres = gathered(&cells, &centres).into_iter().map(|saw| saw.lab).collect();
    }
    let mut saw = gathered(&cells, &centres);
    saw.sort_by(|one, other| other.share.total_cmp(&one.share));
    let mut told: Vec<Saw> = Vec::new();
    for one in saw {
        match told.iter_mut().find(|known| known.lab.difference(one.lab) < ALIKE) {
            Some(known) => known.share += one.share / all,
            None => told.push(Saw { share: one.share / all, ..one }),
        }
    }
    told.retain(|saw| saw.share >= LEAST);
    told
}

/// How far a colour is from the nearest of some.
fn apart(centres: &[Lab], lab: Lab) -> f64 {
    centres.iter().map(|centre| centre.difference(lab)).fold(f64::INFINITY, f64::min)
}

/// The mean colour of each cell that has any, and how many pixels it has.
fn cells(pixels: impl IntoIterator<Item = Srgb>) -> Vec<Saw> {
    let mut cells = std::collections::BTreeMap::new();
    for pixel in pixels {
        let Lab { l, a, b } = pixel.lab(Illuminant::D65);
        let cell = [l, a, b].map(|value| (value / CELL).floor() as i32);
        let sum = cells.entry(cell).or_insert([0.0; 4]);
        for (sum, value) in sum.iter_mut().zip([l, a, b, 1.0]) {
            *sum += value;
        }
    }
    let mean = |[l, a, b, n]: [f64; 4]| Saw { lab: Lab { l: l / n, a: a / n, b: b / n }, share: n };
    cells.into_values().map(mean).collect()
}

/// The mean of the cells that are nearest to each centre, straight in CIE Lab.
fn gathered(cells: &[Saw], centres: &[Lab]) -> Vec<Saw> {
    let mut sums = vec![[0.0; 4]; centres.len()];
    let far = |one: Lab, other: Lab| {
        (one.l - other.l).powi(2) + (one.a - other.a).powi(2) + (one.b - other.b).powi(2)
    };
    for Saw { lab, share } in cells {
        let nearest = (0..centres.len())
            .min_by(|&one, &other| far(centres[one], *lab).total_cmp(&far(centres[other], *lab)));
        let Some(nearest) = nearest else { continue };
        for (sum, value) in sums[nearest].iter_mut().zip([lab.l, lab.a, lab.b, 1.0]) {
            *sum += value * share;
        }
    }
    let mean = |(sum, centre): ([f64; 4], &Lab)| {
        let [l, a, b, share] = sum;
        if share == 0.0 {
            return Saw { lab: *centre, share };
        }
        Saw { lab: Lab { l: l / share, a: a / share, b: b / share }, share }
    };
    sums.into_iter().zip(centres).map(mean).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn picture(patches: &[(Srgb, usize)]) -> Vec<Srgb> {
        patches.iter().flat_map(|(colour, count)| std::iter::repeat_n(*colour, *count)).collect()
    }

    #[test]
    fn a_picture_of_patches_shows_its_patches() {
        let (pink, blue, cream) = ("#d8456b", "#284b8c", "#f3e6c8");
        let [pink, blue, cream] = [pink, blue, cream].map(|text| text.parse::<Srgb>().unwrap());
        let saw = colours_of(picture(&[(blue, 300), (pink, 500), (cream, 200)]), 6);
        assert_eq!(saw.len(), 3);
        for (saw, (colour, share)) in saw.iter().zip([(pink, 0.5), (blue, 0.3), (cream, 0.2)]) {
            assert!(saw.lab.difference(colour.lab(Illuminant::D65)) < 0.5, "{saw:?}");
            assert!((saw.share - share).abs() < 1e-9, "{saw:?}");
        }
        let backwards = colours_of(picture(&[(cream, 200), (pink, 500), (blue, 300)]), 6);
        assert_eq!(backwards, saw, "the order of the pixels does not matter");
        assert_eq!(colours_of(picture(&[(pink, 5)]), 0), []);
        assert_eq!(colours_of([], 6), []);
    }

    #[test]
    fn a_run_from_one_colour_to_another_is_a_few_and_specks_are_left_out() {
        let grey = |n: usize| Srgb([n as u8; 3]);
        let mut run: Vec<Srgb> = (0..240).flat_map(|n| [grey(n); 4]).collect();
        run.push("#ff0000".parse().unwrap());
        let saw = colours_of(run, 5);
        assert!((3..=5).contains(&saw.len()), "{saw:?}");
        assert!(saw.iter().all(|saw| saw.lab.a.hypot(saw.lab.b) < 5.0), "one speck in a thousand: {saw:?}");
        for (at, one) in saw.iter().enumerate() {
            assert!(saw[at + 1..].iter().all(|other| one.lab.difference(other.lab) >= ALIKE));
        }
    }
}
