//! What does every pair of inks make, and what does it cost to have them side by side?

use rayon::prelude::*;

use crate::blend::{Meeting, meet};
use crate::colour::{Illuminant, Lab, Spectrum};
use crate::ink::Film;

/// An ink as far as meetings go: its film and its full swatch.
pub type Swatch = (Film, Lab);

/// What every two of some inks pay for standing side by side: [`Meeting::cost`].
#[derive(Clone, Debug, PartialEq)]
pub struct Costs {
    count: usize,
    costs: Vec<f64>,
}

impl Costs {
    /// Reckons them; each pair once.
    pub fn of(inks: &[Swatch], card: &Spectrum, light: Illuminant) -> Costs {
        Costs::from_rows(inks.len(), meetings(inks, card, light, |meeting| meeting.cost()))
    }

    /// From the upper half of the table: of each ink with those after it.
    pub fn from_rows(count: usize, rows: Vec<Vec<f64>>) -> Costs {
        let mut costs = vec![0.0; count * count];
        for (one, row) in rows.iter().enumerate() {
            for (off, cost) in row.iter().enumerate() {
                let other = one + 1 + off;
                costs[one * count + other] = *cost;
                costs[other * count + one] = *cost;
            }
        }
        Costs { count, costs }
    }

    /// Of so many inks, where what they pay is not asked.
    pub fn unasked(count: usize) -> Costs {
        Costs { count, costs: vec![0.0; count * count] }
    }

    /// How many inks.
    pub const fn len(&self) -> usize {
        self.count
    }

    /// Whether there is none.
    pub const fn is_empty(&self) -> bool {
        self.count == 0
    }

    /// What two pay.
    #[inline]
    pub fn between(&self, one: usize, other: usize) -> f64 {
        self.costs[one * self.count + other]
    }

    /// What one ink, not among them, pays beside each.
    pub fn to_each(ink: &Swatch, inks: &[Swatch], card: &Spectrum, light: Illuminant) -> Vec<f64> {
        inks.par_iter().map(|other| meet((&ink.0, ink.1), (&other.0, other.1), card, light).cost()).collect()
    }
}

/// Something of every meeting of two of some inks: one row for each ink, with those after it.
pub fn meetings<T: Send>(
    inks: &[Swatch],
    card: &Spectrum,
    light: Illuminant,
    of: impl Fn(&Meeting) -> T + Sync,
) -> Vec<Vec<T>> {
    let row = |one: usize| {
        let first = &inks[one];
        let meeting = |other: &Swatch| of(&meet((&first.0, first.1), (&other.0, other.1), card, light));
        inks[one + 1..].iter().map(meeting).collect()
    };
    (0..inks.len()).into_par_iter().map(row).collect()
}
