//! What comes nearest to a colour: one ink at so many veils, or one over another?
//!
//! Every ink is tried in each number of whole veils up to its full swatch, alone and over every other. A film over something
//! turns the internal reflectance b beneath it into (p − q·b) / (r − s·b), band by band, whatever its kind (Kubelka 1948): so
//! a film is worked out once for each number of veils and each share of trapping, and laying it over another is one
//! division a band. Only what is light and dark enough is compared in full: ΔE00 is never less than its part of lightness, and
//! for that Y alone is enough, worked out for all bands at once in single precision, with room for its rounding.

use rayon::prelude::*;

use crate::colour::{BANDS, Illuminant, Lab, Spectrum};
use crate::ink::Film;
use crate::ink::film::{Over, inside, outside};

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

/// What rounding may do to a Y in single precision, generously: sums of 36 terms below 1.
const ROUNDING: f32 = 2e-5;

/// The Y/Yn that lie within a part of lightness.
#[derive(Clone, Copy)]
struct Within(f32, f32);

impl Within {
    fn of(wished: f64, limit: f64) -> Within {
        if !limit.is_finite() {
            return Within(f32::NEG_INFINITY, f32::INFINITY);
        }
        // The part of lightness grows with the distance: halved until it is found.
        let reach = |mut far: f64| {
            let mut near = wished;
            for _ in 0..30 {
                let middle = 0.5 * (near + far);
                if lightness_apart(wished, middle) <= limit { near = middle } else { far = middle }
            }
            Lab { l: far, a: 0.0, b: 0.0 }.relative()[1] as f32
        };
        Within(reach(wished - 101.0) - ROUNDING, reach(wished + 101.0) + ROUNDING)
    }

    fn has(self, y: f32) -> bool {
        self.0 <= y && y <= self.1
    }
}

/// How light a film is over something: each band's part of Y/Yn as (p − q·b) / (1 − s·b) of the internal reflectance b beneath.
struct Lightness {
    p: [f32; BANDS],
    q: [f32; BANDS],
    s: [f32; BANDS],
}

impl Lightness {
    fn of(over: &Over, light: Illuminant) -> Lightness {
        let mut own = Lightness { p: [0.0; BANDS], q: [0.0; BANDS], s: [0.0; BANDS] };
        for (band, weight) in light.weights().iter().enumerate() {
            let [p, q, s] = over.outside(band);
            (own.p[band], own.q[band], own.s[band]) =
                ((weight[1] * p) as f32, (weight[1] * q) as f32, s as f32);
        }
        own
    }

    #[inline]
    fn over(&self, beneath: &[f32; BANDS]) -> f32 {
        const LANES: usize = 4;
        let mut sums = [0.0; LANES];
        for band in (0..BANDS).step_by(LANES) {
            for (lane, sum) in sums.iter_mut().enumerate() {
                let at = band + lane;
                *sum += (self.p[at] - self.q[at] * beneath[at]) / (1.0 - self.s[at] * beneath[at]);
            }
        }
        sums.iter().sum()
    }
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
    let mut beneath_it: Vec<f64> = alone.iter().map(|(_, amount, _)| *amount).collect();
    beneath_it.sort_by(f64::total_cmp);
    beneath_it.dedup();
    for others in beneath_it {
        let over: Vec<(Laid, Over, Lightness)> = (0..drawer.len())
            .flat_map(amounts)
            .map(|(laid, amount)| {
                let film = &drawer[laid.place].0;
                let film = Over::of(film, amount, film.trapped(others));
                let lightness = Lightness::of(&film, light);
                (laid, film, lightness)
            })
            .collect();
        let under: Vec<_> = alone.iter().filter(|(_, amount, _)| *amount == others).collect();
        let start: Vec<f64> = best.iter().map(Best::limit).collect();
        let found = under.par_iter().map(|(lower, _, internal)| {
            let mut own = empty();
            let within = |own: &Best, start: f64| Within::of(own.wished.l, start.min(own.limit()));
            let mut wanted: Vec<Within> =
                own.iter().zip(&start).map(|(own, start)| within(own, *start)).collect();
            let beneath = internal.map(|band| band as f32);
            for (upper, film, lightness) in over.iter().filter(|(upper, ..)| upper.place != lower.place) {
                let y = lightness.over(&beneath);
                if !wanted.iter().any(|wanted| wanted.has(y)) {
                    continue;
                }
                let lab = seen(&film.on(internal));
                for ((own, start), wanted) in own.iter_mut().zip(&start).zip(&mut wanted) {
                    let before = own.limit();
                    own.offer(&[*lower, *upper], lab);
                    if own.limit() < before.min(*start) {
                        *wanted = within(own, *start);
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ink::Kind;
    use crate::ink::measured::bright_white;
    use proptest::prelude::*;

    const LIGHT: Illuminant = Illuminant::D65;

    fn some_film() -> impl Strategy<Value = Film> {
        let kind = prop_oneof![Just(Kind::Dye), Just(Kind::Oxide), Just(Kind::Pigment)];
        (5.0..97.0, -60.0..60.0, -60.0..60.0, kind)
            .prop_map(|(l, a, b, kind)| Film::of_swatch(Lab { l, a, b }, bright_white(), LIGHT, kind))
    }

    proptest! {
        #[test]
        fn how_light_a_film_is_over_another_is_known_before_its_colour(
            lower in some_film(), upper in some_film(), amounts in [0.05..1.0, 0.05..1.0], taken in 0.3..1.0,
        ) {
            let beneath = Over::of(&lower, amounts[0], 1.0).on(&bright_white().map(inside).0);
            let upper = Over::of(&upper, amounts[1], taken);
            let seen = Spectrum(upper.on(&beneath).map(outside)).relative(LIGHT)[1];
            let quick = Lightness::of(&upper, LIGHT).over(&beneath.map(|band| band as f32));
            prop_assert!((f64::from(quick) - seen).abs() < f64::from(ROUNDING), "{quick} {seen}");
        }

        #[test]
        fn what_lies_within_a_part_of_lightness_is_let_through(
            wished in 0.0..100.0, l in 0.0..100.0, limit in 0.0..20.0,
        ) {
            let y = Lab { l, a: 0.0, b: 0.0 }.relative()[1] as f32;
            let (is_near, is_let) = (lightness_apart(wished, l) <= limit, Within::of(wished, limit).has(y));
            prop_assert!(is_let || !is_near);
            // Little else is.
            prop_assert!(!is_let || lightness_apart(wished, l) <= limit + 0.1);
        }
    }
}
