//! When can each thing be done, in a given order of the hands?
//!
//! The hands do one *act* after the other: a task of a card, or heat on one that has to dry. Each begins as soon as the
//! hands are free, the ink before is off them and its card is ready; where a join would be too dry by then, what laid its
//! ink begins so much later.

use std::collections::HashMap;

use super::chain::{Ahead, Chain};
use super::desk::{Desk, OnHand, Readied};

/// What the hands do next.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Act {
    /// The card.
    pub card: usize,
    /// Its task, by its place.
    pub task: usize,
    /// Whether it is heat before that task, or after the last, and not the task itself.
    pub heats: bool,
}

/// An act with its time, in seconds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Timed {
    /// What.
    pub act: Act,
    /// What is done to the brush first, where it lays ink.
    pub readied: Option<Readied>,
    /// When it begins: with the set-up, where there is one.
    pub from: i64,
    /// When the hands come to the card.
    pub begins: i64,
    /// When they leave it.
    pub ends: i64,
}

/// How far a card has come.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub struct Come {
    /// Tasks that are done.
    pub tasks: usize,
    /// When the last of them ended; before the evening where that is below nothing.
    pub ended: i64,
    /// Whether it has been heated since.
    pub heated: bool,
}

/// What there is to do, and how far it has come.
#[derive(Clone, Debug)]
pub struct Shop<'a> {
    /// The cards.
    pub chains: &'a [Chain],
    /// What lies ahead of each of their tasks.
    pub(super) ahead: Vec<Ahead>,
    /// The desk.
    pub desk: &'a Desk,
    /// How far each has come when it begins.
    pub come: Vec<Come>,
    /// What is on the brushes when it begins.
    pub on_hand: OnHand,
    /// The card whose inks lie on the mat when it begins.
    pub mat: Option<usize>,
    /// Whether there is a heat tool.
    pub has_heat: bool,
}

/// The shop at one time.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Now {
    /// When the hands are free.
    pub time: i64,
    /// What is on the brushes.
    pub on_hand: OnHand,
    /// How far each card has come.
    pub come: Vec<Come>,
    /// The card whose inks lie on the mat.
    pub mat: Option<usize>,
    /// Changes of ink so far.
    pub changes: u32,
}

/// What an order comes to: less is better, the time before the changes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Cost {
    /// Seconds until all is done and dry.
    pub finish: i64,
    /// Changes of ink.
    pub changes: u32,
}

impl<'a> Shop<'a> {
    /// Cards of which none has begun, with clean brushes and a clean mat.
    pub fn of(chains: &'a [Chain], desk: &'a Desk, has_heat: bool) -> Shop<'a> {
        let (ahead, come) = (chains.iter().map(Ahead::of).collect(), vec![Come::default(); chains.len()]);
        Shop { chains, ahead, desk, come, on_hand: desk.clean(), mat: None, has_heat }
    }
}

impl Shop<'_> {
    /// As it begins.
    pub fn begin(&self) -> Now {
        Now { time: 0, on_hand: self.on_hand.clone(), come: self.come.clone(), mat: self.mat, changes: 0 }
    }

    /// What can be done next to a card; nothing where it is through, or where another's inks lie on the mat.
    pub fn next(&self, now: &Now, card: usize) -> Option<Act> {
        let (chain, come) = (&self.chains[card], now.come[card]);
        let task = chain.tasks.get(come.tasks)?;
        let is_free = task.mat.is_none() || now.mat.is_none_or(|on| on == card);
        is_free.then_some(Act { card, task: come.tasks, heats: false })
    }

    /// The heat that would spare a card some drying next.
    pub fn heat(&self, now: &Now, card: usize) -> Option<Act> {
        let come = now.come[card];
        let gap = self.chains[card].gap(come.tasks);
        let is_worth = self.has_heat && !come.heated && gap.heat().is_some() && self.has_begun(card, come);
        is_worth.then_some(Act { card, task: come.tasks, heats: true })
    }

    /// Whether there is anything on a card that could dry.
    fn has_begun(&self, card: usize, come: Come) -> bool {
        come.tasks > 0 || self.chains[card].gap(0).air > 0
    }

    /// When a card is ready for an act.
    pub fn ready(&self, now: &Now, act: Act) -> i64 {
        let come = now.come[act.card];
        let gap = self.chains[act.card].gap(act.task);
        come.ended
            + match (act.heats, come.heated) {
                (true, _) => i64::from(gap.wait),
                (false, true) => 0,
                (false, false) => gap.in_air(),
            }
    }

    /// The times of an act that begins as soon as it can, and not before some time.
    pub fn timed(&self, now: &Now, act: Act, not_before: i64) -> Timed {
        let chain = &self.chains[act.card];
        let lays = chain.tasks.get(act.task).filter(|_| !act.heats).and_then(|task| task.lays.as_ref());
        let readied = lays.map(|lays| self.desk.readied(&now.on_hand, lays));
        let setup =
            lays.zip(readied).map_or(0, |(lays, readied)| self.desk.seconds(&now.on_hand, readied, lays.ink));
        let hands = match act.heats {
            true => chain.gap(act.task).heat().unwrap_or(0),
            false => i64::from(chain.tasks[act.task].hands),
        };
        let begins = (now.time + setup).max(self.ready(now, act)).max(not_before);
        Timed { act, readied, from: begins - setup, begins, ends: begins + hands }
    }

    /// The shop once an act is done.
    pub fn done(&self, now: &mut Now, timed: Timed) {
        let Timed { act, readied, ends, .. } = timed;
        now.time = ends;
        let come = &mut now.come[act.card];
        if act.heats {
            (come.ended, come.heated) = (ends, true);
            return;
        }
        *come = Come { tasks: act.task + 1, ended: ends, heated: false };
        let task = &self.chains[act.card].tasks[act.task];
        if let Some((lays, readied)) = task.lays.as_ref().zip(readied) {
            let ink = self.desk.ink(&now.on_hand);
            now.changes += u32::from(ink.is_some_and(|ink| ink != lays.ink));
            self.desk.lay(&mut now.on_hand, readied, lays);
        }
        match task.mat {
            Some(true) => now.mat = None,
            Some(false) => now.mat = Some(act.card),
            None => {}
        }
    }

    /// Whether all is through, but for what dries by itself.
    pub fn is_through(&self, now: &Now) -> bool {
        now.come.iter().zip(self.chains).all(|(come, chain)| come.tasks == chain.tasks.len())
    }

    /// What it comes to if nothing more is done.
    pub fn cost(&self, now: &Now) -> Cost {
        let end = |(come, chain): (&Come, &Chain)| {
            // A card on which nothing is done tonight takes none of it.
            if chain.tasks.is_empty() {
                0
            } else if come.heated {
                come.ended
            } else {
                come.ended + chain.last.in_air()
            }
        };
        let dry = now.come.iter().zip(self.chains).map(end).max().unwrap_or(0);
        Cost { finish: dry.max(now.time), changes: now.changes }
    }

    /// The earliest times of an order, later where a join would be too dry; nothing where it would be in any case.
    pub fn times(&self, order: &[Act]) -> Option<Vec<Timed>> {
        let mut not_before = vec![i64::MIN; order.len()];
        let joins = self.joins_in(order);
        // Each time round some join is in time for good, or it never comes out.
        for _ in 0..=joins.len() {
            let mut now = self.begin();
            let mut times: Vec<Timed> = Vec::with_capacity(order.len());
            for (at, act) in order.iter().enumerate() {
                let timed = self.timed(&now, *act, not_before[at]);
                self.done(&mut now, timed);
                times.push(timed);
            }
            let mut is_kept = true;
            for (at, other, within) in &joins {
                let late = times[*at].begins - times[*other].ends - within;
                if late > 0 {
                    not_before[*other] = times[*other].begins + late;
                    is_kept = false;
                }
            }
            if is_kept {
                return Some(times);
            }
        }
        None
    }

    /// The joins of an order: which act works it, which laid its ink, and seconds between them at most.
    fn joins_in(&self, order: &[Act]) -> Vec<(usize, usize, i64)> {
        let mut places: HashMap<(usize, usize), usize> = HashMap::new();
        let mut joins = Vec::new();
        for (at, act) in order.iter().enumerate().filter(|(_, act)| !act.heats) {
            let window = self.chains[act.card].tasks[act.task].window;
            let other = window.and_then(|(other, within)| Some((places.get(&(act.card, other))?, within)));
            joins.extend(other.map(|(other, within)| (at, *other, i64::from(within))));
            places.insert((act.card, act.task), at);
        }
        joins
    }

    /// A join of a card that is to be worked before its ink is dry, once so many of its tasks are done and the last of them
    /// has just ended: by when the hands have to turn to the card, and how long they are then busy with it.
    pub fn join(&self, card: usize, tasks: usize, ended: &dyn Fn(usize) -> i64) -> Option<(i64, i64)> {
        let chain = &self.chains[card];
        let at = self.ahead[card].join[tasks.min(chain.tasks.len())]?;
        let (other, within) = chain.tasks[at].window?;
        let before: i64 = chain.tasks[tasks..at]
            .iter()
            .map(|task| i64::from(task.hands + task.setup) + task.gap.in_air())
            .sum();
        let own = i64::from(chain.tasks[at].setup);
        let by = ended(other) + i64::from(within) - before - own;
        Some((by, before + own + i64::from(chain.tasks[at].hands)))
    }
}
