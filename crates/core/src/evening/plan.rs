//! What is done when, and what fits into the time there is?
//!
//! Small batches are searched to the end, and it is proven that no order is better; of larger ones the best is kept that a
//! careful hand finds, with the time before which nothing could be over said beside it.

use std::ops::Range;

use super::chain::{Ahead, BEAT, Chain, Task};
use super::desk::{Desk, Found, OnHand, Readied};
use super::shop::{Act, Come, Cost, Shop, Timed};
use crate::moves::Move;
use crate::panel::Panel;

/// Tasks up to which an evening is searched to the end, and acts that are looked at for it.
const MOST_EXACT: usize = 48;
const ACTS: usize = 80_000;
/// Tasks up to which so many times as many are looked at.
const FEW: usize = 24;
const MORE_FOR_FEW: usize = 5;
/// Steps of the rule that are tried, all told: half a second's work.
const STEPS: usize = 100_000;
/// The same where it is only asked whether some cards fit into the time there is.
const STEPS_TO_SEE: usize = 4_000;
/// The same where an evening has begun and the hands wait for an answer.
const STEPS_AT_ONCE: usize = 16_000;

/// What there is at the desk.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Tools {
    /// Whether there is a heat tool.
    pub heat: bool,
}

/// How far a card has come.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Progress {
    /// How many of its moves have been made.
    pub moves: usize,
    /// Seconds since the last of them ended.
    pub since: i64,
}

/// Cards to be made together.
#[derive(Clone, Debug)]
pub struct Evening {
    /// The cards, each with its moves.
    pub cards: Vec<Panel>,
    /// What there is at the desk.
    pub tools: Tools,
    /// How far each has come; those not named have not begun.
    pub progress: Vec<Progress>,
    /// What has been done, in order: the card, and its moves. It is still on the brushes.
    pub done: Vec<(usize, Range<usize>)>,
    /// Seconds that there are tonight; none where there is no end to it.
    pub time: Option<i64>,
}

/// One thing the hands do.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Step {
    /// The card.
    pub card: usize,
    /// The moves of the card that it is, by their places. Heat is none of them: it comes before the first.
    pub moves: Range<usize>,
    /// Whether it is heat on the card.
    pub heats: bool,
    /// What is done to the brush first, where it lays ink.
    pub readied: Option<Readied>,
    /// Seconds from the beginning: from when the hands make ready for it, come to the card and leave it.
    pub from: i64,
    /// See `from`.
    pub begins: i64,
    /// See `from`.
    pub ends: i64,
}

/// What is done when.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Scheduled {
    /// The desk that it is done on.
    pub desk: Desk,
    /// What the hands do, in order.
    pub steps: Vec<Step>,
    /// When each card is done and dry; nothing for what is left for another evening.
    pub done: Vec<Option<i64>>,
    /// What it comes to.
    pub cost: Cost,
    /// Seconds before which nothing could be over: by the hands' work, and by the longest card.
    pub bounds: (i64, i64),
    /// Whether it is proven that no order is better.
    pub is_proven: bool,
    /// The cards that do not fit into the time there is.
    pub later: Vec<usize>,
}

impl Scheduled {
    /// The greater of its two bounds.
    pub fn bound(&self) -> i64 {
        self.bounds.0.max(self.bounds.1)
    }
}

impl Evening {
    /// Cards from nothing, with as much time as they take.
    pub fn of(cards: Vec<Panel>, heat: bool) -> Evening {
        Evening { cards, tools: Tools { heat }, progress: Vec::new(), done: Vec::new(), time: None }
    }

    /// Plans it.
    ///
    /// ```
    /// # use rosy_core::evening::Evening;
    /// # let text = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/version_1/ebb_down.json"));
    /// let panel: rosy_core::Panel = serde_json::from_str(text)?;
    /// let two = Evening::of(vec![panel.clone(), panel], false).scheduled();
    /// // One pair of hands: no step begins before the one before it has ended, and none of it is quicker than can be.
    /// assert!(two.steps.windows(2).all(|pair| pair[0].ends <= pair[1].begins));
    /// assert!(two.done.iter().flatten().max() >= Some(&two.bounds.0));
    /// assert!(Evening::of(Vec::new(), false).scheduled().steps.is_empty());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn scheduled(&self) -> Scheduled {
        let (chains, desk) = self.chains();
        let all: Vec<usize> = (0..chains.len()).collect();
        let has_begun = self.progress.iter().any(|progress| progress.moves > 0);
        let (steps, acts) = if has_begun { (STEPS_AT_ONCE, ACTS / 16) } else { (STEPS, ACTS) };
        let in_full = |cards: &[usize]| self.of_some(&chains, &desk, cards, (steps, acts));
        let whole = in_full(&all);
        let Some(time) = self.time.filter(|time| whole.cost.finish > *time) else { return whole };
        // What has begun goes first, then what is soonest through; one card more as long as all of them are through in time.
        let way = |card: &usize| {
            let come = self.come(&chains[*card], *card);
            (come.tasks == 0, Ahead::of(&chains[*card]).least[come.tasks])
        };
        let mut sorted = all.clone();
        sorted.sort_by_key(way);
        let mut fit: Vec<usize> = Vec::new();
        for card in sorted {
            let mut more = fit.clone();
            more.push(card);
            more.sort_unstable();
            // A longer look begins with the same tries, and so finds nothing worse.
            if self.of_some(&chains, &desk, &more, (STEPS_TO_SEE, 0)).cost.finish <= time {
                fit = more;
            }
        }
        in_full(&fit)
    }

    /// What has to be done to each card, and the desk that it is done on.
    pub fn chains(&self) -> (Vec<Chain>, Desk) {
        let mut found = Found::default();
        let mut chains: Vec<Chain> = Vec::with_capacity(self.cards.len());
        for (at, card) in self.cards.iter().enumerate() {
            // Cards alike are gone through once.
            let like = self.cards[..at].iter().position(|other| other.moves == card.moves && other == card);
            let chain = match like {
                Some(like) => chains[like].clone(),
                None => Chain::of(card, &mut found),
            };
            chains.push(chain);
        }
        let (desk, places) = found.desk();
        (chains.into_iter().map(|chain| chain.on_desk(&desk, &places)).collect(), desk)
    }

    /// What is on the brushes, by what has been done.
    fn on_hand(&self, chains: &[Chain], desk: &Desk) -> OnHand {
        let mut on_hand = desk.clean();
        for (card, moves) in &self.done {
            let is_done = |task: &&Task| moves.contains(&(task.moves.end - 1));
            for lays in chains[*card].tasks.iter().filter(is_done).filter_map(|task| task.lays.as_ref()) {
                let readied = desk.readied(&on_hand, lays);
                desk.lay(&mut on_hand, readied, lays);
            }
        }
        on_hand
    }

    /// How far a card has come, in tasks.
    fn come(&self, chain: &Chain, card: usize) -> Come {
        let Progress { moves, since } = self.progress.get(card).copied().unwrap_or_default();
        let tasks = chain.tasks.iter().take_while(|task| task.moves.end <= moves).count();
        let own = self.cards[card].moves.get(..moves).unwrap_or(&[]);
        // Drying that was the last thing made is behind it.
        let heated = matches!(own.last(), Some(Move::Dry(_) | Move::Heat(_) | Move::Cool(_)));
        let since = since - since.rem_euclid(i64::from(BEAT));
        Come { tasks, ended: if moves == 0 { 0 } else { -since }, heated }
    }

    /// Plans some of the cards, with so many steps of the rule and acts of the search.
    fn of_some(
        &self,
        chains: &[Chain],
        desk: &Desk,
        cards: &[usize],
        (steps, most): (usize, usize),
    ) -> Scheduled {
        let empty = Chain { tasks: Vec::new(), last: Default::default() };
        let is_in = |card: usize| cards.contains(&card);
        let own: Vec<Chain> = chains
            .iter()
            .enumerate()
            .map(|(card, chain)| if is_in(card) { chain.clone() } else { empty.clone() })
            .collect();
        let come: Vec<Come> = (0..own.len())
            .map(|card| if is_in(card) { self.come(&own[card], card) } else { Come::default() })
            .collect();
        let mat = (0..own.len()).find(|card| {
            let (done, rest) = own[*card].tasks.split_at(come[*card].tasks);
            done.iter().any(|task| task.mat.is_some()) && rest.iter().any(|task| task.mat.is_some())
        });
        let on_hand = self.on_hand(chains, desk);
        let shop = Shop { come, mat, on_hand, ..Shop::of(&own, desk, self.tools.heat) };
        let planned = Evening::planned(&shop, cards, (steps, most));
        if !planned.steps.is_empty() {
            return planned;
        }
        // With brushes that others have used too a join may take longer to come to: it is worked as soon as it can be.
        let wiped: Vec<Chain> = own.iter().map(|chain| chain.clone().with_all_wiped(desk)).collect();
        Evening::planned(&Shop { chains: &wiped, ..shop.clone() }, cards, (steps, most))
    }

    fn planned(shop: &Shop, cards: &[usize], (steps, most): (usize, usize)) -> Scheduled {
        let own = shop.chains;
        let is_in = |card: usize| cards.contains(&card);
        let tasks: usize =
            own.iter().zip(&shop.come).map(|(chain, come)| chain.tasks.len() - come.tasks).sum();
        let bounds = shop.bounds(&shop.begin());
        let ruled = shop.found_by_rule((steps / (tasks + 1)).clamp(8, 1500), tasks as u32);
        let least = Cost { finish: bounds.0.max(bounds.1), changes: shop.least_changes(&shop.begin()) };
        let is_least = ruled.as_ref().is_some_and(|(cost, _)| *cost <= least);
        let acts = match tasks {
            _ if is_least || tasks > MOST_EXACT => 0,
            _ if tasks <= FEW => MORE_FOR_FEW * most,
            _ => most,
        };
        let found = shop.best(ruled, acts);
        let (times, cost, is_proven) = match found {
            Some(found) => (found.times, found.cost, found.is_proven || is_least),
            None => (Vec::new(), least, false),
        };
        let mut end = shop.begin();
        times.iter().for_each(|timed| shop.done(&mut end, *timed));
        let dry = |card: usize| {
            let come = end.come[card];
            come.ended + if come.heated { 0 } else { own[card].last.in_air() }
        };
        Scheduled {
            desk: shop.desk.clone(),
            steps: times.iter().map(|timed| step(own, *timed)).collect(),
            done: (0..own.len()).map(|card| is_in(card).then(|| dry(card))).collect(),
            cost,
            bounds,
            is_proven,
            later: (0..own.len()).filter(|card| !is_in(*card)).collect(),
        }
    }
}

fn step(chains: &[Chain], Timed { act, readied, from, begins, ends }: Timed) -> Step {
    let Act { card, task, heats } = act;
    let tasks = &chains[card].tasks;
    let moves = match tasks.get(task) {
        Some(task) if heats => task.moves.start..task.moves.start,
        Some(task) => task.moves.clone(),
        None => {
            let end = tasks.last().map_or(0, |task| task.moves.end);
            end..end
        }
    };
    Step { card, moves, heats, readied, from, begins, ends }
}
