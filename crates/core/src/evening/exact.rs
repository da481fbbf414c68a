//! Which order is the best of all?
//!
//! All orders of the hands are gone through together, one more task at a time. Of what has done the same only that is gone
//! on with which is in some way ahead: the hands free sooner, a card dry sooner, a join open longer, fewer changes of ink.
//! What lays the ink of a join may be put off, by every beat there is, so that the join is come to in time. What cannot
//! come out better than what is known is left, and so is what a card like another would do first for no reason. Where more
//! is left than may be looked at the most promising is gone on with, and what is found then is not proven.

use std::collections::{BTreeMap, HashMap};

use super::chain::{Chain, Gap, Task};
use super::desk::OnHand;
use super::shop::{Act, Cost, Now, Shop, Timed};
use crate::ink::measured;

/// Of those that have come as far, how many are gone on with at first, and how many times as many then (chosen).
const LEAST: usize = 30;
const MORE: usize = 10;
/// Of a join that is not open: it is in time whenever it is worked.
const ANY_TIME: i64 = i64::MAX / 4;

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

/// What has been done, as far as the rest depends on it: how far each card has come, the brushes, and the mat.
type Done = (Vec<(usize, usize, bool)>, OnHand, Option<usize>);

/// When the hands and each card were ready for the rest, by when each join has to be worked, and the changes so far.
#[derive(Clone, Debug)]
struct When {
    time: i64,
    ended: Vec<i64>,
    by: Vec<i64>,
    changes: u32,
}

impl When {
    fn is_no_later(&self, other: &When) -> bool {
        self.time <= other.time
            && self.changes <= other.changes
            && self.ended.iter().zip(&other.ended).all(|(own, other)| own <= other)
            && self.by.iter().zip(&other.by).all(|(own, other)| own >= other)
    }
}

/// Some order as far as it has come.
#[derive(Clone, Debug)]
struct Begun {
    now: Now,
    /// By when each join has to be worked.
    by: Vec<i64>,
    /// The last act, by its place on the trail.
    last: Option<usize>,
    /// What it comes to at best.
    least: Cost,
}

/// A join: its card, the task that goes back over it, the one that laid its ink, and seconds from the end of that.
#[derive(Clone, Copy, Debug)]
struct Join {
    card: usize,
    task: usize,
    other: usize,
    within: i64,
}

struct Search<'a> {
    shop: &'a Shop<'a>,
    /// For each card the first that is like it.
    like: Vec<usize>,
    joins: Vec<Join>,
    beat: i64,
    /// Acts that may still be looked at.
    left: usize,
    best: Option<(Cost, Vec<Timed>)>,
    /// Acts with their times, each with the place of the one before it.
    trail: Vec<(Option<usize>, Timed)>,
    /// Orders that have come as far, by what they have done.
    ahead: BTreeMap<usize, HashMap<Done, Vec<(When, Begun)>>>,
}

impl Shop<'_> {
    /// Looks for a better order than one that is known, at so many acts at most.
    pub fn best(&self, known: Option<(Cost, Vec<Timed>)>, most: usize) -> Option<Found> {
        let like =
            |card: usize| (0..card).find(|other| self.chains[*other] == self.chains[card]).unwrap_or(card);
        let joins = |(card, chain): (usize, &Chain)| {
            let join = |(task, of): (usize, &Task)| {
                let (other, within) = of.window?;
                Some(Join { card, task, other, within: within.into() })
            };
            chain.tasks.iter().enumerate().filter_map(join).collect::<Vec<Join>>()
        };
        let mut search = Search {
            shop: self,
            like: (0..self.chains.len()).map(like).collect(),
            joins: self.chains.iter().enumerate().flat_map(joins).collect(),
            beat: self.beat(),
            best: known,
            trail: Vec::new(),
            ahead: BTreeMap::new(),
            left: most,
        };
        // The better the best that is known, the less is left to look at.
        let mut is_proven = false;
        let mut some = LEAST;
        while !is_proven && search.left > 0 {
            is_proven = search.through(some);
            some *= MORE;
        }
        search.best.map(|(cost, times)| Found { times, cost, is_proven })
    }

    /// Seconds of which all that takes time here is a multiple.
    fn beat(&self) -> i64 {
        let of_gap = |gap: Gap| [i64::from(gap.wait), i64::from(gap.air), i64::from(gap.heat.unwrap_or(0))];
        let of_task = |task: &Task| {
            let window = task.window.map_or(0, |(_, within)| i64::from(within));
            [i64::from(task.hands), window].into_iter().chain(of_gap(task.gap))
        };
        let chains = self.chains.iter();
        let all = chains.flat_map(|chain| chain.tasks.iter().flat_map(of_task).chain(of_gap(chain.last)));
        let come = self.come.iter().map(|come| come.ended);
        let desk = [i64::from(self.desk.wipe), i64::from(measured::SECONDS_A_CHANGE)];
        all.chain(come).chain(desk).fold(0, common).max(1)
    }

    /// What it comes to at best from here on.
    fn least(&self, now: &Now) -> Cost {
        let (hands, longest) = self.bounds(now);
        Cost { finish: hands.max(longest), changes: now.changes + self.least_changes(now) }
    }
}

/// The greatest number that two are multiples of.
fn common(one: i64, other: i64) -> i64 {
    if other == 0 { one.abs() } else { common(other, one % other) }
}

impl Search<'_> {
    /// Goes through all orders, or through the most promising of those that have come as far; whether it was all.
    fn through(&mut self, most: usize) -> bool {
        let now = self.shop.begin();
        let (least, by) = (self.shop.least(&now), vec![ANY_TIME; self.joins.len()]);
        self.trail.clear();
        self.come_to(Begun { now, by, last: None, least });
        let mut is_all = true;
        while let Some((_, level)) = self.ahead.pop_first() {
            let mut level: Vec<Begun> = level.into_values().flatten().map(|(_, begun)| begun).collect();
            level.retain(|begun| !self.is_no_better(begun.least));
            level.sort_by_key(|begun| (begun.least, begun.now.time, begun.last));
            is_all &= level.len() <= most;
            level.truncate(most);
            level.iter().for_each(|begun| self.go_on(begun));
        }
        is_all && self.left > 0
    }

    fn go_on(&mut self, begun: &Begun) {
        let shop = self.shop;
        if self.left == 0 || self.is_no_better(begun.least) {
            return;
        }
        for card in 0..shop.chains.len() {
            // Of cards that are alike and have come as far, the first goes first.
            let twin = |other: usize| {
                self.like[other] == self.like[card] && begun.now.come[other] == begun.now.come[card]
            };
            if (0..card).any(twin) {
                continue;
            }
            let acts = [shop.next(&begun.now, card), shop.heat(&begun.now, card)];
            acts.into_iter().flatten().for_each(|act| self.go_on_with(begun, act));
        }
    }

    fn is_no_better(&self, least: Cost) -> bool {
        self.best.as_ref().is_some_and(|(best, _)| least >= *best)
    }

    /// Does one act more, as soon as it can be; what lays the ink of a join also later, for as long as that may be better.
    fn go_on_with(&mut self, begun: &Begun, act: Act) {
        let shop = self.shop;
        let timed = shop.timed(&begun.now, act, i64::MIN);
        let is_it = |task: usize| !act.heats && task == act.task;
        let own = |join: &&Join| join.card == act.card;
        let works = self.joins.iter().zip(&begun.by).filter(|(join, _)| own(join) && is_it(join.task));
        let latest = works.map(|(_, by)| *by).min().unwrap_or(ANY_TIME);
        let lays = self.joins.iter().filter(own).any(|join| is_it(join.other));
        let mut now = begun.now.clone();
        shop.done(&mut now, timed);
        let mut by = begun.by.clone();
        for (join, by) in self.joins.iter().zip(&mut by).filter(|(join, _)| join.card == act.card) {
            if is_it(join.other) {
                *by = timed.ends + join.within;
            } else if is_it(join.task) {
                *by = ANY_TIME;
            }
        }
        let mut put_off = timed;
        while put_off.begins <= latest {
            let least = shop.least(&now);
            if self.is_no_better(least) {
                return;
            }
            self.left = self.left.saturating_sub(1);
            self.trail.push((begun.last, put_off));
            let last = Some(self.trail.len() - 1);
            self.come_to(Begun { now: now.clone(), by: by.clone(), last, least });
            if !lays {
                return;
            }
            put_off = Timed {
                from: put_off.from + self.beat,
                begins: put_off.begins + self.beat,
                ends: put_off.ends + self.beat,
                ..put_off
            };
            now.time += self.beat;
            now.come[act.card].ended += self.beat;
            for (_, by) in self.joins.iter().zip(&mut by).filter(|(join, _)| own(join) && is_it(join.other)) {
                *by += self.beat;
            }
        }
    }

    /// Keeps an order to go on with, unless another has done the same and is in no way behind.
    fn come_to(&mut self, begun: Begun) {
        let shop = self.shop;
        if shop.is_through(&begun.now) {
            let cost = shop.cost(&begun.now);
            if !self.is_no_better(cost) {
                self.best = Some((cost, self.times(begun.last)));
            }
            // What dries at the end may still be heated.
        }
        let (done, when) = self.done(&begun);
        let tasks: usize = begun.now.come.iter().map(|come| come.tasks).sum();
        let heated = begun.now.come.iter().filter(|come| come.heated).count();
        let level = tasks * (shop.chains.len() + 1) + heated;
        let alike = self.ahead.entry(level).or_default().entry(done).or_default();
        if alike.iter().any(|(before, _)| before.is_no_later(&when)) {
            return;
        }
        alike.retain(|(before, _)| !when.is_no_later(before));
        alike.push((when, begun));
    }

    fn times(&self, mut last: Option<usize>) -> Vec<Timed> {
        let mut times = Vec::new();
        while let Some(at) = last {
            times.push(self.trail[at].1);
            last = self.trail[at].0;
        }
        times.reverse();
        times
    }

    /// What an order has done, and when.
    fn done(&self, Begun { now, by, .. }: &Begun) -> (Done, When) {
        let shop = self.shop;
        let ended = |card: usize| {
            let come = now.come[card];
            // A card that has been ready for a while is no readier than one that is ready now.
            let gap = if come.heated { 0 } else { shop.chains[card].gap(come.tasks).in_air() };
            come.ended.max(now.time - gap)
        };
        let own_by = |card: usize| {
            let own = self.joins.iter().zip(by).filter(move |(join, _)| join.card == card);
            own.map(|(_, by)| *by).collect::<Vec<i64>>()
        };
        let mut cards: Vec<(usize, usize, bool, i64, usize)> = (0..shop.chains.len())
            .map(|card| (self.like[card], now.come[card].tasks, now.come[card].heated, ended(card), card))
            .collect();
        cards.sort_unstable();
        let come = cards.iter().map(|(like, tasks, heated, ..)| (*like, *tasks, *heated)).collect();
        let mat = now.mat.and_then(|on| cards.iter().position(|(.., card)| *card == on));
        let when = When {
            time: now.time,
            ended: cards.iter().map(|(.., ended, _)| *ended).collect(),
            by: cards.iter().flat_map(|(.., card)| own_by(*card)).collect(),
            changes: now.changes,
        };
        ((come, now.on_hand.clone(), mat), when)
    }
}
