//! What can be asked from outside of an evening?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::evening::check::suffers;
use crate::evening::plan::{Evening, Progress, Step, Tools};
use crate::evening::words::main_deed;
use crate::length::Units;
use crate::moves::Technique;
use crate::panel::Panel;

/// Most cards of one evening.
pub const MOST_CARDS: usize = 40;
/// Longest that anything is told to have been, in minutes: a week.
const LONGEST: u32 = 7 * 24 * 60;

/// Panels that are to be made together.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct EveningAsked {
    /// The panels, each with its moves.
    pub panels: Vec<Panel>,
    /// How many cards are made of each panel, in the same order; one each where nothing is given.
    #[serde(default)]
    pub counts: Vec<u32>,
    /// What there is at the desk.
    #[serde(default)]
    pub tools: ToolsTold,
    /// How much time there is.
    #[serde(default)]
    pub time: TimeTold,
    /// Cards that have begun.
    #[serde(default)]
    pub begun: Vec<Begun>,
    /// The units of what is said.
    #[serde(default)]
    pub units: Units,
}

/// What there is at the desk beside one pair of hands and one mat.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ToolsTold {
    /// Whether there is a heat tool; without one all dries in air.
    #[serde(default = "yes")]
    pub heat: bool,
}

const fn yes() -> bool {
    true
}

impl Default for ToolsTold {
    fn default() -> ToolsTold {
        ToolsTold { heat: true }
    }
}

/// How much time there is.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct TimeTold {
    /// Minutes; as many as it takes where nothing is given.
    #[serde(default)]
    pub minutes: Option<u32>,
}

/// A card that has begun.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Begun {
    /// The card: cards are counted from 0, those of the first panel first.
    pub card: usize,
    /// How many of its moves have been made.
    pub moves: usize,
    /// Seconds since the last of them ended.
    #[serde(default)]
    pub seconds_ago: u32,
}

/// What is done when.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct EveningSeen {
    /// What the hands do, in order.
    pub steps: Vec<StepSeen>,
    /// The cards, in order, and when each is done and dry.
    pub cards: Vec<CardSeen>,
    /// Seconds until all is done and dry.
    pub finish: i64,
    /// Changes of ink.
    pub changes: u32,
    /// Seconds before which it cannot be over.
    pub bound: Bound,
    /// Whether it is proven that no order is over sooner, nor as soon with fewer changes of ink.
    pub is_proven: bool,
    /// What would spoil; empty where all is well.
    pub suffers: Vec<SuffersSeen>,
    /// What is left over for another card.
    pub leftovers: Vec<Leftover>,
}

/// Seconds before which it cannot be over.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Bound {
    /// By the hands' work.
    pub hands: i64,
    /// By the card that takes longest.
    pub longest: i64,
}

/// One thing the hands do.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct StepSeen {
    /// The card, from 0.
    pub card: usize,
    /// The first of the card's moves that it is, from 0.
    pub from_move: usize,
    /// The move after the last of them; the same where it is heat and no move of the plan.
    pub to_move: usize,
    /// Whether it is heat on the card.
    pub heat: bool,
    /// What it is, in a few words.
    pub says: String,
    /// What is done to the brush first; nothing where none is used, or the one in hand is ready.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub brush: Option<String>,
    /// Seconds from the beginning until the hands make ready for it, come to the card, and leave it.
    pub ready: i64,
    /// See `ready`.
    pub begins: i64,
    /// See `ready`.
    pub ends: i64,
}

/// A card of the evening.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct CardSeen {
    /// The panel it is made of, from 0.
    pub panel: usize,
    /// Seconds until it is done and dry; nothing where it is left for another evening.
    pub done: Option<i64>,
}

/// What would spoil.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct SuffersSeen {
    /// The card, from 0.
    pub card: usize,
    /// The move, from 0.
    pub at: usize,
    /// What, and why.
    pub says: String,
}

/// Something left over.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Leftover {
    /// The card it comes of, from 0.
    pub card: usize,
    /// What it is.
    pub says: String,
}

/// Why an evening cannot be planned.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum EveningError {
    /// Too few or too many cards.
    #[error("{0} cards: an evening takes 1 to {MOST_CARDS}")]
    Cards(usize),
    /// Counts that do not go with the panels.
    #[error("{0} counts for {1} panels: give one for each, or none at all")]
    Counts(usize, usize),
    /// A card that is not there.
    #[error("begun: there is no card {0}: they are counted from 0 to {1}")]
    NoCard(usize, usize),
    /// More moves than it has.
    #[error("begun: card {card} has {has} moves, and {given} are told to be made")]
    Moves {
        /// The card.
        card: usize,
        /// How many moves it has.
        has: usize,
        /// How many were given.
        given: usize,
    },
    /// Too long.
    #[error("{0} minutes: give up to {LONGEST}, a week")]
    Long(u32),
}

impl EveningAsked {
    /// The evening that is asked for, and of which panel each of its cards is.
    ///
    /// # Errors
    /// An [`EveningError`] naming the place.
    pub fn evening(&self) -> Result<(Evening, Vec<usize>), EveningError> {
        if !self.counts.is_empty() && self.counts.len() != self.panels.len() {
            return Err(EveningError::Counts(self.counts.len(), self.panels.len()));
        }
        let count = |panel: usize| self.counts.get(panel).map_or(1, |count| *count as usize);
        let all = (0..self.panels.len()).map(count).fold(0_usize, usize::saturating_add);
        if !(1..=MOST_CARDS).contains(&all) {
            return Err(EveningError::Cards(all));
        }
        if let Some(minutes) = self.time.minutes.filter(|minutes| *minutes > LONGEST) {
            return Err(EveningError::Long(minutes));
        }
        let of: Vec<usize> =
            (0..self.panels.len()).flat_map(|panel| std::iter::repeat_n(panel, count(panel))).collect();
        let mut progress = vec![Progress::default(); of.len()];
        for begun in &self.begun {
            let panel = of.get(begun.card).ok_or(EveningError::NoCard(begun.card, of.len() - 1))?;
            let has = self.panels[*panel].moves.len();
            if begun.moves > has {
                return Err(EveningError::Moves { card: begun.card, has, given: begun.moves });
            }
            if begun.seconds_ago > 60 * LONGEST {
                return Err(EveningError::Long(begun.seconds_ago / 60));
            }
            progress[begun.card] = Progress { moves: begun.moves, since: i64::from(begun.seconds_ago) };
        }
        let mut in_order = self.begun.clone();
        in_order.sort_by_key(|begun| std::cmp::Reverse(begun.seconds_ago));
        let evening = Evening {
            cards: of.iter().map(|panel| self.panels[*panel].clone()).collect(),
            tools: Tools { heat: self.tools.heat },
            progress,
            done: in_order.iter().map(|begun| (begun.card, 0..begun.moves)).collect(),
            time: self.time.minutes.map(|minutes| 60 * i64::from(minutes)),
        };
        Ok((evening, of))
    }

    /// Plans it.
    ///
    /// # Errors
    /// An [`EveningError`] naming the place.
    pub fn answer(&self) -> Result<EveningSeen, EveningError> {
        let (evening, of) = self.evening()?;
        let scheduled = evening.scheduled();
        let titles: Vec<Vec<String>> = self.panels.iter().map(|panel| titles(panel, self.units)).collect();
        let steps = scheduled.steps.iter().map(|step| StepSeen {
            card: step.card,
            from_move: step.moves.start,
            to_move: step.moves.end,
            heat: step.heats,
            says: says(&self.panels[of[step.card]], &titles[of[step.card]], step),
            brush: step.readied.and_then(|readied| scheduled.desk.says(readied)),
            ready: step.from,
            begins: step.begins,
            ends: step.ends,
        });
        let suffering = suffers(&evening, &scheduled);
        Ok(EveningSeen {
            steps: steps.collect(),
            cards: of
                .iter()
                .zip(&scheduled.done)
                .map(|(panel, done)| CardSeen { panel: *panel, done: *done })
                .collect(),
            finish: scheduled.cost.finish,
            changes: scheduled.cost.changes,
            bound: Bound { hands: scheduled.bounds.0, longest: scheduled.bounds.1 },
            is_proven: scheduled.is_proven,
            suffers: suffering
                .into_iter()
                .map(|one| SuffersSeen { card: one.card, at: one.at, says: one.says })
                .collect(),
            leftovers: leftovers(&evening, &scheduled.later),
        })
    }
}

/// What each move of a panel is called, in a few words.
pub fn titles(panel: &Panel, units: Units) -> Vec<String> {
    let mut surface = crate::surface::Surface::bare(panel.materials());
    let title = |m: &crate::moves::Move| {
        let title = m.words(&surface, units).title;
        m.make(&mut surface);
        title
    };
    panel.moves.iter().map(title).collect()
}

/// What a step of a panel is called: by what it is mostly done for.
pub fn says(panel: &Panel, titles: &[String], step: &Step) -> String {
    if step.heats {
        return "Dry it with heat".into();
    }
    let main = main_deed(panel.moves.get(step.moves.clone()).unwrap_or(&[]));
    main.and_then(|main| titles.get(step.moves.start + main)).cloned().unwrap_or_default()
}

/// What is left over once the cards are done.
pub fn leftovers(evening: &Evening, later: &[usize]) -> Vec<Leftover> {
    let cards = evening.cards.iter().enumerate().filter(|(card, _)| !later.contains(card));
    let of = |(card, panel): (usize, &Panel)| {
        let spares = panel.scene.smoosh.iter().flat_map(|smoosh| smoosh.spares());
        let pressed = spares.map(move |n| Leftover {
            card,
            says: format!("spare card {n}, pressed off the mat of {}", panel.name),
        });
        pressed.collect::<Vec<_>>()
    };
    cards.flat_map(of).collect()
}
