//! What comes nearest to a colour: one ink at so many veils, or one over another?
//!
//! Every ink is tried in each number of whole veils up to its full swatch, alone and over every other. A film over something
//! turns the internal reflectance b beneath it into (p − q·b) / (r − s·b), band by band, whatever its kind (Kubelka 1948): so
//! a film is worked out once for each number of veils and each share of trapping, and laying it over another is one
//! division a band. Only what is light and dark enough is compared in full: ΔE00 is never less than its part of lightness.

use rayon::prelude::*;

use crate::colour::{BANDS, Illuminant, Lab, Spectrum};
use crate::ink::Film;
use crate::ink::film::{Over, inside, outside};
use crate::ink::stack::trapped;

/// A film and how many veils of it lie there.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Laid {
    /// The ink, by its place in the drawer.
    pub place: usize,
    /// Whole veils.
    pub veils: u8,
}

/// What comes near to a colour.
#[derive(Clone, Debug, PartialEq)]
pub struct Near {
    /// One film, or two, the lower first.
    pub films: Vec<Laid>,
    /// The colour they make.
    pub lab: Lab,
    /// CIEDE2000 from the colour wished for.
    pub difference: f64,
}

/// The best so far, the nearest first; where two are as near, fewer films and earlier places first.
struct Best {
    wished: Lab,
    most: usize,
    found: Vec<Near>,
}

impl Best {
    fn limit(&self) -> f64 {
        if self.found.len() < self.most { f64::INFINITY } else { self.found[self.most - 1].difference }
    }

    fn offer(&mut self, films: &[Laid], lab: Lab) {
        if lightness_apart(self.wished.l, lab.l) > self.limit() {
            return;
        }
        let difference = self.wished.difference(lab);
        if difference > self.limit() {
            return;
        }
        self.put(Near { films: films.to_vec(), lab, difference });
    }

    fn put(&mut self, near: Near) {
        let key = |near: &Near| (near.films.len(), near.films.clone());
        let before = |known: &Near| {
            known.difference.total_cmp(&near.difference).then_with(|| key(known).cmp(&key(&near))).is_lt()
        };
        let at = self.found.partition_point(before);
        self.found.insert(at, near);
        self.found.truncate(self.most);
    }
}

/// The part of lightness in ΔE00 (Sharma, Wu & Dalal 2005): the rest is a square and never below nothing.
fn lightness_apart(one: f64, other: f64) -> f64 {
    let off = (0.5 * (one + other) - 50.0).powi(2);
    (one - other).abs() / (1.0 + 0.015 * off / (20.0 + off).sqrt())
}

/// The films of a drawer, each with the veils that make its full swatch, that come nearest to a colour on a card.
pub fn nearest(
    wished: Lab,
    drawer: &[(Film, u8)],
    card: &Spectrum,
    light: Illuminant,
    most: usize,
) -> Vec<Near> {
    nearest_to_each(&[wished], drawer, card, light, most).pop().unwrap_or_default()
}

/// The same for each of several colours at once, at little more than the cost of one.
pub fn nearest_to_each(
    wished: &[Lab],
    drawer: &[(Film, u8)],
    card: &Spectrum,
    light: Illuminant,
    most: usize,
) -> Vec<Vec<Near>> {
    let beneath = card.map(inside);
    let seen = |internal: &[f64; BANDS]| {
        let reflectance = Spectrum(std::array::from_fn(|band| outside(internal[band])));
        reflectance.lab(light)
    };
    let amounts = |place: usize| {
        let full = drawer[place].1;
        (1..=full).map(move |veils| (Laid { place, veils }, f64::from(veils) / f64::from(full)))
    };
    let alone: Vec<(Laid, f64, [f64; BANDS])> = (0..drawer.len())
        .flat_map(amounts)
        .map(|(laid, amount)| {
            let film = Over::of(&drawer[laid.place].0, amount, 1.0);
            (laid, amount, film.on(&beneath.0))
        })
        .collect();
    let empty =
        || -> Vec<Best> { wished.iter().map(|&wished| Best { wished, most, found: Vec::new() }).collect() };
    let mut best = empty();
    for (laid, _, internal) in &alone {
        let lab = seen(internal);
        best.iter_mut().for_each(|best| best.offer(&[*laid], lab));
    }
    // What lies beneath holds back what comes over it by the share of a swatch that it is.
    let mut shares: Vec<f64> = alone.iter().map(|(_, amount, _)| trapped(*amount)).collect();
    shares.sort_by(f64::total_cmp);
    shares.dedup();
    for taken in shares {
        let over: Vec<(Laid, Over)> = (0..drawer.len())
            .flat_map(amounts)
            .map(|(laid, amount)| (laid, Over::of(&drawer[laid.place].0, amount, taken)))
            .collect();
        let under: Vec<_> = alone.iter().filter(|(_, amount, _)| trapped(*amount) == taken).collect();
        let start: Vec<f64> = best.iter().map(Best::limit).collect();
        let found = under.par_iter().map(|(lower, _, internal)| {
            let mut own = empty();
            for (upper, film) in over.iter().filter(|(upper, _)| upper.place != lower.place) {
                let lab = seen(&film.on(internal));
                for (own, start) in own.iter_mut().zip(&start) {
                    if lightness_apart(own.wished.l, lab.l) <= *start {
                        own.offer(&[*lower, *upper], lab);
                    }
                }
            }
            own
        });
        for own in found.collect::<Vec<_>>() {
            for (best, own) in best.iter_mut().zip(own) {
                own.found.into_iter().for_each(|near| best.put(near));
            }
        }
    }
    best.into_iter().map(|best| best.found).collect()
}
