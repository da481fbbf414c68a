//! Which run of inks leads most cleanly from one to another?
//!
//! Exactly so many different inks of the drawer between, at the least sum of costs over all ways to choose and order them.
//! A table of the cheapest ways on (Bellman, 1957), in which inks may come back but not at once, says how little any rest can
//! cost; a search in depth, the most hopeful first, leaves whatever cannot come out cheaper than the best so far. That is
//! exact: what it leaves is never better. Were inks to come back at once, the same colour as dye and as oxide would make
//! every rest look cheap.

use super::pairs::Costs;

/// A run through a drawer.
#[derive(Clone, Debug, PartialEq)]
pub struct Path {
    /// The inks between, by their places in the drawer, in order.
    pub places: Vec<usize>,
    /// What all joins cost together.
    pub cost: f64,
}

/// Costs that differ by less are the same.
const SAME: f64 = 1e-12;

/// The cheapest run with exactly `between` different inks of the drawer; none where it has fewer. `from` and `to` give what
/// each ink of the drawer pays beside the two ends, `direct` what the ends pay beside one another.
pub fn path(costs: &Costs, from: &[f64], to: &[f64], direct: f64, between: usize) -> Option<Path> {
    if between == 0 {
        return Some(Path { places: Vec::new(), cost: direct });
    }
    if between > costs.len() {
        return None;
    }
    // least[n][ink]: the cheapest ways on from an ink to the end with n more inks between.
    let mut least: Vec<Vec<Rest>> =
        vec![to.iter().map(|cost| Rest { cost: *cost, next: NOWHERE, otherwise: *cost }).collect()];
    for n in 1..between {
        let on = |ink: usize| {
            let mut rest = Rest { cost: f64::INFINITY, next: NOWHERE, otherwise: f64::INFINITY };
            for other in (0..costs.len()).filter(|other| *other != ink) {
                let cost = costs.between(ink, other) + least[n - 1][other].after(ink);
                if cost < rest.cost {
                    rest = Rest { cost, next: other, otherwise: rest.cost };
                } else if cost < rest.otherwise {
                    rest.otherwise = cost;
                }
            }
            rest
        };
        least.push((0..costs.len()).map(on).collect());
    }
    let mut search = Search { costs, least: &least, run: Vec::new(), best: None };
    search.on(from, 0.0, between);
    search.best
}

/// No ink at all.
const NOWHERE: usize = usize::MAX;

/// The cheapest way on from an ink, the ink it goes on to, and the cheapest that goes on to another.
#[derive(Clone, Copy)]
struct Rest {
    cost: f64,
    next: usize,
    otherwise: f64,
}

impl Rest {
    /// The cheapest that does not go straight back.
    fn after(&self, before: usize) -> f64 {
        if self.next == before { self.otherwise } else { self.cost }
    }
}

struct Search<'a> {
    costs: &'a Costs,
    least: &'a [Vec<Rest>],
    run: Vec<usize>,
    best: Option<Path>,
}

impl Search<'_> {
    /// Tries every next ink that can still lead to something better: `step` gives what each pays beside the last.
    fn on(&mut self, step: &[f64], so_far: f64, left: usize) {
        if left == 0 {
            return;
        }
        let before = self.run.last().copied().unwrap_or(NOWHERE - 1);
        let free = (0..self.costs.len()).filter(|ink| !self.run.contains(ink));
        let mut next: Vec<(f64, usize)> =
            free.map(|ink| (so_far + step[ink] + self.least[left - 1][ink].after(before), ink)).collect();
        next.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
        for (at_least, ink) in next {
            if self.best.as_ref().is_some_and(|best| at_least >= best.cost - SAME) {
                return;
            }
            self.run.push(ink);
            if left == 1 {
                // Nothing is left to be chosen: what it costs at least is what it costs.
                self.best = Some(Path { places: self.run.clone(), cost: at_least });
            } else {
                let row: Vec<f64> =
                    (0..self.costs.len()).map(|other| self.costs.between(ink, other)).collect();
                self.on(&row, so_far + step[ink], left - 1);
            }
            self.run.pop();
        }
    }
}
