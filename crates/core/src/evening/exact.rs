//! Which order is the best of all?
//!
//! Branch and bound over the orders of the hands. A branch is cut where its bound says that it cannot come out better than
//! what is known, where a card like another goes first for no reason, and where the same has been done before in no more
//! time, with each card ready no later and with no more changes.

use std::collections::HashMap;

use super::shop::{Act, Come, Cost, Now, Shop, Timed};

/// An order of the hands, what it comes to, and whether none is better.
#[derive(Clone, Debug)]
pub struct Found {
    /// The acts with their times.
    pub times: Vec<Timed>,
    /// What it comes to.
    pub cost: Cost,
    /// Whether it is proven that none is better.
    pub is_proven: bool,
}

/// What has been done, as far as the rest depends on it: how far each card has come, the ink on the hands, the mat.
type Done = (Vec<(usize, usize, bool)>, Option<usize>, Option<usize>);
/// When the hands and each card were ready for the rest, and the changes so far.
type When = (i64, Vec<i64>, u32);

struct Search<'a> {
    shop: &'a Shop<'a>,
    /// For each card the first that is like it.
    like: Vec<usize>,
    best: Option<(Cost, Vec<Timed>)>,
    known: HashMap<Done, Vec<When>>,
    /// Branches that may still be looked at.
    left: usize,
}

impl Shop<'_> {
    /// Looks for a better order than one that is known, over at most so many branches.
    pub fn best(&self, known: Option<(Cost, Vec<Timed>)>, branches: usize) -> Option<Found> {
        let like = (0..self.chains.len())
            .map(|card| {
                let is_like = |other: &usize| self.chains[*other] == self.chains[card];
                (0..card).find(is_like).unwrap_or(card)
            })
            .collect();
        let mut search = Search { shop: self, like, best: known, known: HashMap::new(), left: branches };
        search.go_on(&self.begin(), &mut Vec::new());
        let is_proven = search.left > 0;
        search.best.map(|(cost, times)| Found { times, cost, is_proven })
    }
}

impl Search<'_> {
    fn go_on(&mut self, now: &Now, times: &mut Vec<Timed>) {
        if self.left == 0 {
            return;
        }
        self.left -= 1;
        let shop = self.shop;
        if shop.is_through(now) {
            let cost = shop.cost(now);
            if self.best.as_ref().is_none_or(|(best, _)| cost < *best) {
                self.best = Some((cost, times.clone()));
            }
            // What dries at the end may still be heated.
        }
        let (hands, longest) = shop.bounds(now);
        let least = Cost { finish: hands.max(longest), changes: now.changes + shop.least_changes(now) };
        if self.best.as_ref().is_some_and(|(best, _)| least >= *best) || self.is_known(now) {
            return;
        }
        let mut next: Vec<Timed> = Vec::new();
        for card in 0..shop.chains.len() {
            // Of cards that are alike and have come as far, the first goes first.
            let twin =
                |other: usize| self.like[other] == self.like[card] && now.come[other] == now.come[card];
            if (0..card).any(twin) {
                continue;
            }
            let acts = [shop.next(now, card), shop.heat(now, card)];
            next.extend(acts.into_iter().flatten().map(|act| shop.timed(now, act, i64::MIN)));
        }
        next.sort_by_key(|timed| (timed.begins, timed.act.heats, timed.ends));
        for timed in next {
            times.push(timed);
            if shop.too_late(times).is_none() {
                let mut then = now.clone();
                shop.done(&mut then, timed);
                self.go_on(&then, times);
                times.pop();
                continue;
            }
            // What laid the ink of the join is put off.
            let order: Vec<Act> = times.iter().map(|timed| timed.act).collect();
            times.pop();
            if let Some(mut put_off) = shop.times(&order) {
                let mut then = shop.begin();
                put_off.iter().for_each(|timed| shop.done(&mut then, *timed));
                self.go_on(&then, &mut put_off);
            }
        }
    }

    /// Whether as much has been done before, no later and with no more changes; remembered otherwise.
    fn is_known(&mut self, now: &Now) -> bool {
        // While a join waits, what was done before it may still be put off.
        if self.waits(now) {
            return false;
        }
        let shop = self.shop;
        let mut cards: Vec<(usize, Come, i64)> = (0..shop.chains.len())
            .map(|card| {
                let come = now.come[card];
                // A card that has been ready for a while is no readier than one that is ready now.
                let gap = if come.heated { 0 } else { shop.chains[card].gap(come.tasks).in_air() };
                (self.like[card], come, come.ended.max(now.time - gap))
            })
            .collect();
        cards.sort_by_key(|(like, come, ended)| (*like, come.tasks, come.heated, *ended));
        let done = cards.iter().map(|(like, come, _)| (*like, come.tasks, come.heated)).collect();
        let when = (now.time, cards.iter().map(|(.., ended)| *ended).collect::<Vec<i64>>(), now.changes);
        let known = self.known.entry((done, now.ink, now.mat)).or_default();
        let is_no_later = |one: &When, other: &When| {
            one.0 <= other.0 && one.2 <= other.2 && one.1.iter().zip(&other.1).all(|(a, b)| a <= b)
        };
        if known.iter().any(|before| is_no_later(before, &when)) {
            return true;
        }
        known.retain(|before| !is_no_later(&when, before));
        known.push(when);
        false
    }

    /// Whether a join is still to be worked over ink that has been laid.
    fn waits(&self, now: &Now) -> bool {
        now.come.iter().zip(self.shop.chains).any(|(come, chain)| {
            let rest = &chain.tasks[come.tasks.min(chain.tasks.len())..];
            rest.iter().any(|task| task.window.is_some_and(|(other, _)| other < come.tasks))
        })
    }
}
