//! In how little time could it be done at best?
//!
//! No order ends before the hands have done all there is to do, each ink taken up at least once; and none before the
//! longest card is through, heat used wherever it is the shorter.

use super::chain::Chain;
use super::shop::{Come, Now, Shop};

impl Shop<'_> {
    /// Time before which nothing can be over, from here on: by the hands' work, and by the longest card.
    pub fn bounds(&self, now: &Now) -> (i64, i64) {
        let (mut hands, mut longest) = (0, now.time);
        let held = self.desk.ink(&now.on_hand);
        // The least set-up of each ink that is still to be laid.
        let mut setups: Vec<i64> = vec![0; self.desk.inks.len()];
        for (card, (chain, come)) in self.chains.iter().zip(&now.come).enumerate() {
            hands += self.ahead[card].hands[come.tasks];
            for task in &chain.tasks[come.tasks.min(chain.tasks.len())..] {
                if let Some(lays) = task.lays.as_ref().filter(|lays| Some(lays.ink) != held) {
                    let least = self.desk.least(lays);
                    let known = &mut setups[lays.ink];
                    *known = if *known == 0 { least } else { least.min(*known) };
                }
            }
            longest = longest.max(self.through(card, come));
        }
        // Clean hands take up their first ink as it comes.
        let spared = if held.is_none() { setups.iter().copied().max().unwrap_or(0) } else { 0 };
        let (from, dries) = (self.soonest(now), self.dries_last(now));
        (from + hands + setups.iter().sum::<i64>() - spared + dries, longest)
    }

    /// The earliest that the hands have anything to do.
    fn soonest(&self, now: &Now) -> i64 {
        let mut soonest = None;
        for (card, chain) in self.chains.iter().enumerate() {
            let come = now.come[card];
            if come.tasks < chain.tasks.len() {
                let gap = chain.gap(come.tasks);
                let own = match (come.heated, self.has_heat) {
                    (true, _) => 0,
                    (false, true) if gap.heat().is_some() => i64::from(gap.wait),
                    (false, _) => gap.in_air(),
                };
                // The brush is made ready while the card still dries.
                let lays = chain.tasks[come.tasks].lays.as_ref();
                let ready = come.ended + own - lays.map_or(0, |lays| i64::from(self.desk.most(lays)));
                soonest = Some(soonest.map_or(ready, |known: i64| known.min(ready)));
            }
        }
        soonest.map_or(now.time, |soonest| soonest.max(now.time))
    }

    /// The least that is left to dry once the hands have done all: some card is the last.
    fn dries_last(&self, now: &Now) -> i64 {
        let rest = self.chains.iter().zip(&now.come).filter(|(chain, come)| come.tasks < chain.tasks.len());
        let least = |chain: &Chain| if self.has_heat { chain.last.least() } else { chain.last.in_air() };
        rest.map(|(chain, _)| least(chain)).min().unwrap_or(0)
    }

    /// The earliest that a card can be through.
    fn through(&self, card: usize, come: &Come) -> i64 {
        let (chain, ahead) = (&self.chains[card], &self.ahead[card]);
        if chain.tasks.is_empty() {
            return 0;
        }
        let gap = chain.gap(come.tasks);
        let (rest, own) = if self.has_heat {
            (ahead.least[come.tasks], gap.least())
        } else {
            (ahead.in_air[come.tasks], gap.in_air())
        };
        come.ended + rest - if come.heated { own } else { 0 }
    }

    /// Changes of ink that cannot be spared from here on.
    pub fn least_changes(&self, now: &Now) -> u32 {
        let mut inks: Vec<usize> = Vec::new();
        for (chain, come) in self.chains.iter().zip(&now.come) {
            inks.extend(
                chain.tasks[come.tasks.min(chain.tasks.len())..]
                    .iter()
                    .filter_map(|task| Some(task.lays.as_ref()?.ink)),
            );
        }
        inks.sort_unstable();
        inks.dedup();
        let held = self.desk.ink(&now.on_hand);
        let others = inks.iter().filter(|ink| Some(**ink) != held).count() as u32;
        if held.is_none() { others.saturating_sub(1) } else { others }
    }
}
