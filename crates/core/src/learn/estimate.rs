//! What is a figure most likely, and how sure is that?
//!
//! A time is log-normal about the maker's own figure; now and then an evening is odd, and then it is far off. So the error of
//! the logarithm is taken to be Student's t with few degrees of freedom, whose tails are heavy: a log that lies far from all
//! others hardly moves the figure (Lange, Little & Taylor, *J. Am. Stat. Assoc.* 1989). Before anything is logged the figure
//! lies about the field guide's, as far off as makers differ; how much one evening differs from the next is not known either.
//! Both are reckoned together on a grid, by Bayes' rule and with no approximation but the grid's own, and what is stated is
//! read off the figure's own distribution: its middle, and the part of it that holds nine tenths.

/// Degrees of freedom of the error (chosen: heavy tails, and a variance all the same).
const FREEDOM: f64 = 4.0;
/// Places of the grid: for the figure, and for how much evenings differ.
const PLACES: usize = 601;
const SPREADS: usize = 25;
/// How much evenings differ, as the scale of the logarithm's error: about a fifth, and from a third of that to three times
/// it (chosen).
const SPREAD: f64 = 0.2;
const SPREAD_WIDE: f64 = 0.5;
/// What is stated to lie within least and most.
pub const SURE: f64 = 0.9;
/// How many times its usual error a log lies off from which on it is told to be odd (chosen).
const ODD: f64 = 4.0;

/// What is known of a figure beforehand: its logarithm's middle and standard deviation.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Prior {
    /// The middle.
    pub middle: f64,
    /// The standard deviation.
    pub wide: f64,
}

/// A figure as the logs have it, in whatever they are in.
#[derive(Clone, Debug, PartialEq)]
pub struct Estimate {
    /// Its middle: as likely more as less.
    pub figure: f64,
    /// With [`SURE`] it lies between these.
    pub least: f64,
    /// See `least`.
    pub most: f64,
    /// How much one evening differs from the next, as a share.
    pub spread: f64,
    /// The logs that lie so far off that they count for little, by their places.
    pub odd: Vec<usize>,
}

impl Estimate {
    /// From what is known beforehand, and logs; those that are not above nothing are left out.
    ///
    /// ```
    /// # use rosy_core::learn::{Estimate, Figure};
    /// let guide = Figure::DyeDries.guide();
    /// // Nothing logged leaves what the guide gives; a maker whose card dries in half that moves it there.
    /// let before = Estimate::of(Figure::DyeDries.prior(), &[]);
    /// let after = Estimate::of(Figure::DyeDries.prior(), &[guide / 2.0; 12]);
    /// assert!(before.least < guide && guide < before.most);
    /// assert!(after.least < guide / 2.0 && after.most < guide);
    /// assert_eq!(Estimate::of(Figure::DyeDries.prior(), &[f64::NAN, -3.0]), before);
    /// ```
    pub fn of(prior: Prior, logs: &[f64]) -> Estimate {
        let known: Vec<(usize, f64)> = logs
            .iter()
            .enumerate()
            .filter(|(_, seconds)| seconds.is_finite() && **seconds > 0.0)
            .map(|(at, seconds)| (at, seconds.ln()))
            .collect();
        // The grid reaches as far as either the prior or the logs do.
        let logged = known.iter().map(|(_, log)| *log);
        let first = logged.clone().fold(prior.middle - 4.0 * prior.wide, f64::min) - 0.2;
        let last = logged.fold(prior.middle + 4.0 * prior.wide, f64::max) + 0.2;
        let place = |n: usize| first + (last - first) * n as f64 / (PLACES - 1) as f64;
        let spread = |n: usize| {
            let along = n as f64 / (SPREADS - 1) as f64;
            SPREAD * (SPREAD_WIDE * (6.0 * along - 3.0)).exp()
        };
        let mut logs_of = vec![0.0; PLACES * SPREADS];
        for (n, weight) in logs_of.iter_mut().enumerate() {
            let (middle, scale) = (place(n / SPREADS), spread(n % SPREADS));
            let far = (middle - prior.middle) / prior.wide;
            let unlike = (scale / SPREAD).ln() / SPREAD_WIDE;
            *weight = -0.5 * (far * far + unlike * unlike);
            for (_, log) in &known {
                let off = (log - middle) / scale;
                *weight -= scale.ln() + 0.5 * (FREEDOM + 1.0) * (off * off / FREEDOM).ln_1p();
            }
        }
        let most = logs_of.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        let weights: Vec<f64> = logs_of.into_iter().map(|log| (log - most).exp()).collect();
        let by_place: Vec<f64> = weights.chunks_exact(SPREADS).map(|row| row.iter().sum()).collect();
        let all: f64 = by_place.iter().sum();
        let at = |share: f64| {
            let mut sum = 0.0;
            for (n, weight) in by_place.iter().enumerate() {
                if sum + weight >= share * all {
                    // Between two places, as far as the weight goes.
                    let into = (share * all - sum) / weight;
                    return place(n) + (into - 0.5) * (last - first) / (PLACES - 1) as f64;
                }
                sum += weight;
            }
            last
        };
        let middle = at(0.5);
        let scale = (0..weights.len()).map(|n| weights[n] * spread(n % SPREADS)).sum::<f64>() / all;
        let odd =
            known.iter().filter(|(_, log)| (log - middle).abs() > ODD * scale).map(|(at, _)| *at).collect();
        let tail = 0.5 * (1.0 - SURE);
        Estimate {
            figure: middle.exp(),
            least: at(tail).exp(),
            most: at(1.0 - tail).exp(),
            spread: scale,
            odd,
        }
    }

    /// What is known from here on of something narrower, that differs from this by so much.
    pub fn narrower(&self, unlike: f64) -> Prior {
        // Nine tenths of a bell lie within 1.645 of its standard deviations.
        let own = (self.most / self.least).ln() / (2.0 * 1.645);
        Prior { middle: self.figure.ln(), wide: own.hypot(unlike) }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::learn::Figure;
    use crate::water::drops::Chance;

    /// Logs of one who takes so many seconds, a tenth of them on odd evenings.
    fn evenings(truth: f64, spread: f64, count: usize, odd: bool, chance: &mut Chance) -> Vec<f64> {
        let one = |n: usize, chance: &mut Chance| {
            let log = truth * (spread * chance.bell()).exp();
            if odd && n % 10 == 4 { log * if chance.even() < 0.5 { 5.0 } else { 0.2 } } else { log }
        };
        (0..count).map(|n| one(n, chance)).collect()
    }

    #[test]
    fn with_no_logs_it_is_the_field_guides() {
        for figure in Figure::ALL {
            let estimate = Estimate::of(figure.prior(), &[]);
            assert!((estimate.figure / figure.guide() - 1.0).abs() < 1e-3);
            let wide = (estimate.most / estimate.least).ln() / 2.0;
            assert!((wide / (1.6449 * figure.prior().wide) - 1.0).abs() < 0.02, "{wide}");
        }
    }

    #[test]
    fn after_ten_logs_it_is_within_a_tenth_of_the_truth_odd_evening_or_not() {
        let mut chance = Chance::of(5, 1);
        let mut within = [0, 0];
        for _ in 0..200 {
            let figure = Figure::ALL[(chance.even() * 10.0) as usize % 10];
            let truth = figure.guide() * (0.5 * chance.bell()).exp();
            for (n, odd) in [false, true].into_iter().enumerate() {
                let estimate = Estimate::of(figure.prior(), &evenings(truth, 0.12, 10, odd, &mut chance));
                within[n] += usize::from((estimate.figure / truth - 1.0).abs() < 0.1);
            }
        }
        assert!(within.iter().all(|count| *count >= 190), "{within:?} of 200");
    }

    #[test]
    fn one_odd_evening_in_ten_does_not_move_it() {
        let mut chance = Chance::of(9, 2);
        for _ in 0..60 {
            let logs = evenings(600.0, 0.15, 9, false, &mut chance);
            let prior = Figure::OxideDries.prior();
            let plain = Estimate::of(prior, &logs);
            for odd in [6000.0, 60.0] {
                let mut with = logs.clone();
                with.push(odd);
                let moved = Estimate::of(prior, &with);
                assert!((moved.figure / plain.figure).ln().abs() < 0.05, "{} {}", plain.figure, moved.figure);
                assert_eq!(moved.odd, [9]);
            }
        }
    }

    #[test]
    fn what_it_is_sure_of_is_so_as_often_as_it_says() {
        let mut chance = Chance::of(3, 3);
        for count in [0, 2, 5, 10, 30] {
            let mut held = 0;
            const MAKERS: usize = 400;
            for _ in 0..MAKERS {
                let figure = Figure::ALL[(chance.even() * 10.0) as usize % 10];
                let prior = figure.prior();
                // Makers, rooms and evenings as the estimator takes them to be.
                let truth = (prior.middle + prior.wide * chance.bell()).exp();
                let spread = SPREAD * (SPREAD_WIDE * chance.bell()).exp();
                let heavy = |chance: &mut Chance| {
                    let squares: f64 = (0..4).map(|_| chance.bell().powi(2)).sum();
                    chance.bell() / (squares / 4.0).sqrt()
                };
                let logs: Vec<f64> =
                    (0..count).map(|_| truth * (spread * heavy(&mut chance)).exp()).collect();
                let estimate = Estimate::of(prior, &logs);
                held += usize::from((estimate.least..=estimate.most).contains(&truth));
            }
            let share = held as f64 / MAKERS as f64;
            // Four standard errors of a share of nine tenths of so many.
            assert!((share - SURE).abs() < 0.06, "{count} logs: {share}");
        }
    }

    #[test]
    fn more_logs_make_it_surer_and_nonsense_is_left_out() {
        let mut chance = Chance::of(1, 4);
        let logs = evenings(30.0, 0.15, 40, false, &mut chance);
        let wide = |count: usize| {
            let estimate = Estimate::of(Figure::LightPass.prior(), &logs[..count]);
            estimate.most / estimate.least
        };
        assert!(wide(40) < wide(10) && wide(10) < wide(3) && wide(3) < wide(0));
        let with: Vec<f64> = logs.iter().copied().chain([f64::NAN, -4.0, 0.0, f64::INFINITY]).collect();
        assert_eq!(
            Estimate::of(Figure::LightPass.prior(), &with),
            Estimate::of(Figure::LightPass.prior(), &logs)
        );
    }
}
