//! In which order should the inks stand side by side?
//!
//! The exact least sum of [`Meeting::cost`](super::Meeting::cost) over neighbours, over all orders, by
//! dynamic programming over the sets of inks already placed (Held & Karp 1962). A sequence and its
//! reverse cost the same; of the two, the one nearer to the order given is returned.

use super::meeting::meet;
use crate::colour::{Illuminant, Lab, Spectrum};
use crate::ink::Film;

/// Most inks put in order.
pub const MOST_INKS: usize = 12;

/// The cheapest sequence of `costs.len()` inks, `costs[i][j]` being what inks i and j pay side by side,
/// and its cost.
///
/// # Panics
/// Where the table is not square or has more than [`MOST_INKS`] rows.
pub fn best_sequence(costs: &[Vec<f64>]) -> (Vec<usize>, f64) {
    let n = costs.len();
    assert!(
        n <= MOST_INKS && costs.iter().all(|row| row.len() == n),
        "a square table of at most {MOST_INKS}"
    );
    if n == 0 {
        return (Vec::new(), 0.0);
    }
    // least[set][last]: the cheapest way to place `set`, ending in `last`, and what came before it.
    let mut least = vec![vec![(f64::INFINITY, usize::MAX); n]; 1 << n];
    for ink in 0..n {
        least[1 << ink][ink].0 = 0.0;
    }
    for set in 1_usize..1 << n {
        for last in (0..n).filter(|last| set >> last & 1 == 1) {
            let (so_far, _) = least[set][last];
            for next in (0..n).filter(|next| set >> next & 1 == 0) {
                let with_next = so_far + costs[last][next];
                let known = &mut least[set | 1 << next][next];
                if with_next < known.0 - 1e-12 {
                    *known = (with_next, last);
                }
            }
        }
    }
    let mut set = (1 << n) - 1;
    let mut last = (0..n).min_by(|&a, &b| least[set][a].0.total_cmp(&least[set][b].0)).unwrap_or(0);
    let cost = least[set][last].0;
    let mut sequence = vec![last];
    while sequence.len() < n {
        let before = least[set][last].1;
        set &= !(1 << last);
        last = before;
        sequence.push(last);
    }
    let moved = |sequence: &[usize]| -> usize {
        sequence.iter().enumerate().map(|(place, &ink)| place.abs_diff(ink)).sum()
    };
    let reversed: Vec<usize> = sequence.iter().rev().copied().collect();
    let forward_first = (moved(&sequence), &sequence) <= (moved(&reversed), &reversed);
    (if forward_first { sequence } else { reversed }, cost)
}

/// What each pair of inks, film and swatch, would pay for standing side by side on a card.
pub fn pair_costs(inks: &[(Film, Lab)], card: &Spectrum, light: Illuminant) -> Vec<Vec<f64>> {
    let cost = |(i, one): (usize, &(Film, Lab)), (j, other): (usize, &(Film, Lab))| {
        if i == j { 0.0 } else { meet((&one.0, one.1), (&other.0, other.1), card, light).cost() }
    };
    inks.iter()
        .enumerate()
        .map(|one| inks.iter().enumerate().map(|other| cost(one, other)).collect())
        .collect()
}

/// What a sequence costs as it stands.
pub fn cost_of(sequence: &[usize], costs: &[Vec<f64>]) -> f64 {
    sequence.windows(2).map(|pair| costs[pair[0]][pair[1]]).sum()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn cheapest_of_all(costs: &[Vec<f64>]) -> f64 {
        fn place(left: &mut Vec<usize>, so_far: &mut Vec<usize>, costs: &[Vec<f64>], best: &mut f64) {
            if left.is_empty() {
                *best = best.min(cost_of(so_far, costs));
            }
            for at in 0..left.len() {
                let ink = left.remove(at);
                so_far.push(ink);
                place(left, so_far, costs, best);
                so_far.pop();
                left.insert(at, ink);
            }
        }
        let mut best = f64::INFINITY;
        place(&mut (0..costs.len()).collect(), &mut Vec::new(), costs, &mut best);
        best
    }

    proptest! {
        #[test]
        fn no_other_order_is_cheaper(n in 1_usize..7, seed in proptest::collection::vec(0.0..100.0, 49)) {
            let costs: Vec<Vec<f64>> = (0..n)
                .map(|i| (0..n).map(|j| if i == j { 0.0 } else { seed[i.min(j) * 7 + i.max(j)] }).collect())
                .collect();
            let (sequence, cost) = best_sequence(&costs);
            prop_assert!((cost - cheapest_of_all(&costs)).abs() < 1e-9);
            prop_assert!((cost - cost_of(&sequence, &costs)).abs() < 1e-9);
            let mut inks = sequence.clone();
            inks.sort_unstable();
            prop_assert_eq!(inks, (0..n).collect::<Vec<_>>());
        }
    }

    #[test]
    fn an_order_that_is_already_best_is_left_alone() {
        let line: Vec<Vec<f64>> =
            (0..5_usize).map(|i| (0..5_usize).map(|j| i.abs_diff(j) as f64).collect()).collect();
        assert_eq!(best_sequence(&line), (vec![0, 1, 2, 3, 4], 4.0));
    }
}
