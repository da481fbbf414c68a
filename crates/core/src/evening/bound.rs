//! In how little time could it be done at best?
//!
//! No order ends before the hands have done all there is to do, each ink taken up at least once; and none before the
//! longest card is through, heat used wherever it is the shorter.

use super::shop::{Come, Now, Shop};

impl Shop<'_> {
    /// Time before which nothing can be over, from here on: by the hands' work, and by the longest card.
    pub fn bounds(&self, now: &Now) -> (i64, i64) {
        let (mut hands, mut longest) = (0, now.time);
        // The least set-up of each ink that is still to be laid.
        let mut setups: Vec<Option<i64>> = Vec::new();
        for (card, (chain, come)) in self.chains.iter().zip(&now.come).enumerate() {
            hands += self.ahead[card].hands[come.tasks];
            for task in &chain.tasks[come.tasks.min(chain.tasks.len())..] {
                let Some(ink) = task.ink.filter(|ink| Some(*ink) != now.ink) else { continue };
                if setups.len() <= ink {
                    setups.resize(ink + 1, None);
                }
                let least =
                    setups[ink].map_or(i64::from(task.setup), |known| known.min(i64::from(task.setup)));
                setups[ink] = Some(least);
            }
            longest = longest.max(self.through(card, come));
        }
        let setups: Vec<i64> = setups.into_iter().flatten().collect();
        // Clean hands take up their first ink as it comes.
        let spared = if now.ink.is_none() { setups.iter().copied().max().unwrap_or(0) } else { 0 };
        (now.time + hands + setups.iter().sum::<i64>() - spared, longest)
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
            inks.extend(chain.tasks[come.tasks.min(chain.tasks.len())..].iter().filter_map(|task| task.ink));
        }
        inks.sort_unstable();
        inks.dedup();
        let others = inks.iter().filter(|ink| Some(**ink) != now.ink).count() as u32;
        if now.ink.is_none() { others.saturating_sub(1) } else { others }
    }
}
