//! Which order does a careful hand find?
//!
//! At each time the hands take what can be done without waiting: a join before its ink dries, then what goes on with the ink
//! they have, then the card that has the longest way to go. Where nothing can be done they heat what waits longest, or wait.
//! Tried a great many times, each time with the cards weighed a little otherwise, the best is kept. Chance starts from a seed.

use super::shop::{Act, Cost, Now, Shop, Timed};
use crate::water::drops::Chance;

/// How much a card's weight is changed by chance, in seconds of its way to go (chosen).
const SWAY: f64 = 900.0;

/// How a careful hand weighs things.
#[derive(Clone, Debug)]
struct Weighs {
    /// Added to each card's way to go.
    cards: Vec<f64>,
    /// Seconds that going on with the same ink is worth.
    same_ink: f64,
    /// Seconds of waiting from which on heat is taken.
    heat_from: f64,
    /// Seconds that the hands would rather wait than change inks.
    patience: f64,
}

impl Shop<'_> {
    /// The best order of so many tried.
    pub fn found_by_rule(&self, tries: usize, seed: u32) -> Option<(Cost, Vec<Timed>)> {
        let mut chance = Chance::of(seed, 0);
        let plain = |same_ink: f64, patience: f64| Weighs {
            cards: vec![0.0; self.chains.len()],
            same_ink,
            heat_from: 70.0,
            patience,
        };
        let mut best: Option<(Cost, Vec<Timed>, Weighs)> =
            self.one_by_one().map(|times| (self.cost_of(&times), times, plain(1e6, 0.0)));
        for nth in 0..tries.max(1) {
            let weighs = match (nth, &best) {
                (0, _) => plain(1e6, 0.0),
                (1, _) => plain(0.0, 0.0),
                (2, _) => plain(1e6, 60.0),
                (_, None) => swayed(&plain(1e6, 0.0), &mut chance),
                (_, Some((.., known))) => swayed(known, &mut chance),
            };
            let Some(times) = self.by_rule(&weighs) else { continue };
            let cost = self.cost_of(&times);
            if best.as_ref().is_none_or(|(least, ..)| cost <= *least) {
                best = Some((cost, times, weighs));
            }
        }
        best.map(|(cost, times, _)| (cost, times))
    }

    /// One card after the other, those that have begun first: as dull as it is sure.
    fn one_by_one(&self) -> Option<Vec<Timed>> {
        let mut cards: Vec<usize> = (0..self.chains.len()).collect();
        cards.sort_by_key(|card| (self.mat != Some(*card), self.come[*card].tasks == 0));
        let rest = |card: usize| {
            let tasks = self.come[card].tasks..self.chains[card].tasks.len();
            tasks.map(move |task| Act { card, task, heats: false })
        };
        self.times(&cards.into_iter().flat_map(rest).collect::<Vec<Act>>())
    }

    /// What times come to.
    pub fn cost_of(&self, times: &[Timed]) -> Cost {
        let mut now = self.begin();
        times.iter().for_each(|timed| self.done(&mut now, *timed));
        self.cost(&now)
    }

    fn by_rule(&self, weighs: &Weighs) -> Option<Vec<Timed>> {
        let mut now = self.begin();
        let mut ended: Vec<Vec<i64>> = self
            .come
            .iter()
            .map(|come| {
                (0..come.tasks)
                    .map(|task| if task + 1 == come.tasks { come.ended } else { i64::MIN / 4 })
                    .collect()
            })
            .collect();
        let mut times: Vec<Timed> = Vec::new();
        while !self.is_through(&now) {
            let timed = self.pick(&now, &ended, weighs)?;
            self.done(&mut now, timed);
            if !timed.act.heats {
                ended[timed.act.card].push(timed.ends);
            }
            times.push(timed);
        }
        // At the end what dries longest is heated for as long as that spares time.
        loop {
            let finish = self.cost(&now);
            let heats = (0..self.chains.len()).filter_map(|card| self.heat(&now, card));
            let heated = heats.map(|act| self.timed(&now, act, i64::MIN)).filter_map(|timed| {
                let mut then = now.clone();
                self.done(&mut then, timed);
                let last = self.cost(&now).finish;
                let own = now.come[timed.act.card].ended + self.chains[timed.act.card].last.in_air();
                (own == last).then_some((self.cost(&then), timed, then))
            });
            match heated.min_by_key(|(cost, ..)| *cost) {
                Some((cost, timed, then)) if cost < finish || (cost == finish && self.many_last(&now)) => {
                    times.push(timed);
                    now = then;
                }
                _ => break,
            }
        }
        // What was heated to no end is left as it was.
        let without = self.without_idle_heat(&times);
        self.times(&without)
    }

    /// Whether more than one card is the last to dry.
    fn many_last(&self, now: &Now) -> bool {
        let finish = self.cost(now).finish;
        let ends = now.come.iter().zip(self.chains).filter(|(come, chain)| {
            !come.heated && !chain.tasks.is_empty() && come.ended + chain.last.in_air() == finish
        });
        ends.count() > 1
    }

    /// An order without the last heats, where they spare nothing.
    fn without_idle_heat(&self, times: &[Timed]) -> Vec<Act> {
        let mut order: Vec<Act> = times.iter().map(|timed| timed.act).collect();
        let cost = |order: &[Act]| self.times(order).map(|times| self.cost_of(&times));
        while order.last().is_some_and(|act| act.heats) {
            let (with, without) = (cost(&order), cost(&order[..order.len() - 1]));
            if without.is_none() || with < without {
                break;
            }
            order.pop();
        }
        order
    }

    /// The joins that have to be worked before their ink is dry, the first to dry first: by when, how long they take, and
    /// whose they are.
    fn joins(&self, now: &Now, ended: &[Vec<i64>]) -> Vec<(i64, i64, usize)> {
        let join = |card: usize| {
            let known = |task: usize| ended[card].get(task).copied().unwrap_or(now.time);
            self.join(card, now.come[card].tasks, &known).map(|(by, takes)| (by, takes, card))
        };
        let mut joins: Vec<(i64, i64, usize)> = (0..self.chains.len()).filter_map(join).collect();
        joins.sort_unstable();
        joins
    }

    /// Whether every join can still be worked in time once an act is done.
    fn leaves_time(&self, now: &Now, ended: &[Vec<i64>], joins: &[(i64, i64, usize)], timed: &Timed) -> bool {
        let Timed { act, ends, .. } = *timed;
        let known = |task: usize| ended[act.card].get(task).copied().unwrap_or(ends);
        let more = usize::from(!act.heats);
        let mut own = self.join(act.card, now.come[act.card].tasks + more, &known);
        let mut time = ends;
        let mut works = |by: i64, takes: i64| {
            let is_in_time = time <= by;
            time += takes;
            is_in_time
        };
        for (by, takes, _) in joins.iter().filter(|(.., card)| *card != act.card) {
            if let Some((first, busy)) = own.take_if(|(first, _)| *first <= *by)
                && !works(first, busy)
            {
                return false;
            }
            if !works(*by, *takes) {
                return false;
            }
        }
        own.is_none_or(|(by, takes)| works(by, takes))
    }

    /// What the hands take next.
    fn pick(&self, now: &Now, ended: &[Vec<i64>], weighs: &Weighs) -> Option<Timed> {
        let cards = 0..self.chains.len();
        let timed = |act: Act| self.timed(now, act, i64::MIN);
        let tasks: Vec<Timed> = cards.clone().filter_map(|card| self.next(now, card)).map(timed).collect();
        let heats: Vec<Timed> = cards.clone().filter_map(|card| self.heat(now, card)).map(timed).collect();
        let joins = self.joins(now, ended);
        let free: Vec<&Timed> =
            tasks.iter().chain(&heats).filter(|timed| self.leaves_time(now, ended, &joins, timed)).collect();
        let Some(soonest) = free.iter().filter(|timed| !timed.act.heats).map(|timed| timed.begins).min()
        else {
            // Nothing can be begun before a join has to be worked: the one that dries first.
            let first =
                joins.first().and_then(|(.., card)| tasks.iter().find(|timed| timed.act.card == *card));
            return first.or(tasks.first()).copied();
        };
        let waits = |timed: &Timed| (timed.from - now.time).max(0) as f64;
        // Better to heat than to wait long.
        if (soonest - now.time) as f64 > weighs.heat_from
            && let Some(heat) =
                free.iter().filter(|timed| timed.act.heats && timed.ends < soonest).max_by(|one, other| {
                    self.way_to_go(now, one.act.card, weighs).total_cmp(&self.way_to_go(
                        now,
                        other.act.card,
                        weighs,
                    ))
                })
        {
            return Some(**heat);
        }
        let worth = |timed: &Timed| {
            let task = &self.chains[timed.act.card].tasks[timed.act.task];
            let held = self.desk.ink(&now.on_hand);
            let goes_on = task.lays.as_ref().is_none_or(|lays| held.is_none_or(|held| held == lays.ink));
            let same = if goes_on { weighs.same_ink } else { 0.0 };
            same + self.way_to_go(now, timed.act.card, weighs)
        };
        let ready = free
            .iter()
            .filter(|timed| !timed.act.heats && timed.begins as f64 <= soonest as f64 + weighs.patience);
        ready
            .max_by(|one, other| {
                (worth(one) - waits(one))
                    .total_cmp(&(worth(other) - waits(other)))
                    .then(other.act.card.cmp(&one.act.card))
            })
            .map(|timed| **timed)
    }

    fn way_to_go(&self, now: &Now, card: usize, weighs: &Weighs) -> f64 {
        self.ahead[card].least[now.come[card].tasks] as f64 + weighs.cards[card]
    }
}

fn swayed(known: &Weighs, chance: &mut Chance) -> Weighs {
    let mut weighs = known.clone();
    let one_of =
        |chance: &mut Chance, of: &[f64]| of[((chance.even() * of.len() as f64) as usize).min(of.len() - 1)];
    // Now and then all of it anew, mostly a card or two.
    let all = chance.even() < 0.2;
    for card in &mut weighs.cards {
        if all || chance.even() < 0.15 {
            *card = SWAY * (2.0 * chance.even() - 1.0);
        }
    }
    if chance.even() < 0.3 {
        weighs.same_ink = one_of(chance, &[0.0, 60.0, 300.0, 1e6]);
    }
    if chance.even() < 0.3 {
        weighs.heat_from = one_of(chance, &[0.0, 30.0, 70.0, 200.0, 1e9]);
    }
    if chance.even() < 0.3 {
        weighs.patience = one_of(chance, &[0.0, 20.0, 60.0, 180.0]);
    }
    weighs
}
