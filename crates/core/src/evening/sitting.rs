//! How does an evening stand, by what has been told of it?
//!
//! What the maker tells at the bench is written down, one thing after the other, each with its own mark and its time; nothing
//! is ever struck out. How the evening stands follows from that alone, so that two devices on one evening agree, and what was
//! told while the program was away falls into its place. The plan is the one made when something was last told: it does not
//! change under the hands.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::chain::{Chain, Task};
use super::desk::Found;
use super::plan::{Evening, Progress, Scheduled, Tools};
use super::skip::without;
use crate::ink::Name;
use crate::learn::Figure;
use crate::learn::learned::Log;
use crate::length::Units;
use crate::moves::{Laying, Move, Technique, dry::Dry, lay::Lay};
use crate::order::Step as ClosingStep;
use crate::order::sheet::closing;
use crate::panel::Panel;

/// What is still damp waits so much longer: this share of what it has waited, and at least so many seconds (chosen).
const MORE_WAIT: i64 = 2;
const LEAST_WAIT: i64 = 60;
/// Seconds after which anything is dry, and fewer than which nothing dries in.
const LONG_SINCE: i64 = 24 * 3600;
const LEAST_DRYING: f64 = 20.0;
/// What took so many times less or more than the guide has it was something else, or more was done meanwhile (chosen).
const LIKELY: f64 = 8.0;

/// An evening as it is kept.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Sitting {
    /// What it is called.
    pub name: Name,
    /// The cards, each with its moves as they were planned.
    pub cards: Vec<Panel>,
    /// Whether there is a heat tool.
    pub heat: bool,
    /// Where it is, in the maker's own word: what dries there is logged for that room.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub room: Option<Name>,
    /// Minutes that there are; none where there is no end to it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub minutes: Option<u32>,
    /// What has been told, as it came in.
    #[serde(default)]
    pub log: Vec<Told>,
}

/// One thing told.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Told {
    /// Its own mark, by which it is known when it comes twice.
    pub mark: String,
    /// When, in milliseconds since 1970.
    pub at: i64,
    /// What.
    pub what: What,
}

/// What can be told.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum What {
    /// The evening begins.
    Begun,
    /// The cards are cut, and all lies ready.
    Ready,
    /// So many of a card's moves are made.
    Done {
        /// The card, from 0.
        card: usize,
        /// How many of its moves are made now.
        moves: usize,
    },
    /// A card has been dried with heat.
    Heated {
        /// The card.
        card: usize,
    },
    /// A card is still damp.
    StillDamp {
        /// The card.
        card: usize,
    },
    /// A card is dry by now, sooner than was reckoned.
    IsDry {
        /// The card.
        card: usize,
    },
    /// Something has gone otherwise than it should.
    Went {
        /// On which card.
        card: usize,
        /// What.
        fault: Fault,
    },
    /// What comes next on a card is left out: so many of its moves would be made now.
    Skipped {
        /// The card.
        card: usize,
        /// The move after the last that is left out.
        moves: usize,
    },
    /// So many steps of what is done to a card once it is inked and dry are done: flattened, trimmed, put together.
    Closed {
        /// The card.
        card: usize,
        /// How many of them are done now.
        steps: usize,
    },
    /// The hands are called away.
    Away,
    /// They are at the bench again.
    Back,
    /// What was told last is taken back.
    TakenBack,
}

/// What can go wrong on a card.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Fault {
    /// Too pale.
    TooPale,
    /// Gone muddy.
    Muddy,
    /// A hard mark.
    HardMark,
    /// Ink under a mask.
    BledUnder,
    /// Spilt.
    Spilt,
}

impl Fault {
    /// All of them.
    pub const ALL: [Fault; 5] =
        [Fault::TooPale, Fault::Muddy, Fault::HardMark, Fault::BledUnder, Fault::Spilt];

    /// What the maker presses.
    pub const fn words(self) -> &'static str {
        match self {
            Fault::TooPale => "too pale",
            Fault::Muddy => "went muddy",
            Fault::HardMark => "hard mark",
            Fault::BledUnder => "bled under",
            Fault::Spilt => "spilt",
        }
    }

    /// What to do now, and what becomes of the plan.
    pub const fn says(self) -> &'static str {
        match self {
            Fault::TooPale => {
                "One light pass more comes next on this card: it dries softer still, so stop when it is a little too strong."
            }
            Fault::Muddy => {
                "Leave the join alone now: worked on wet it only gets greyer. It dries first; then one light pass of the lighter ink goes over it."
            }
            Fault::HardMark => {
                "Work round it at once with the brush as it is, nearly dry, in small circles. One light pass more goes over it."
            }
            Fault::BledUnder => {
                "Blot the edge with a dry cloth, and do not lift the mask. It dries through first; a breath of white at the edge hides it in the end."
            }
            Fault::Spilt => {
                "Blot it straight down, do not rub. The card is set aside: the rest goes on without it."
            }
        }
    }

    /// A card's moves with what mends it put in after those that are made.
    fn mends(self, panel: &Panel, made: usize) -> Vec<Move> {
        let laid = |at: usize| panel.moves.get(at).and_then(Move::laying);
        let last = (0..made).rev().find_map(laid);
        let once_more = |laying: &Laying| -> Option<Move> {
            let veils = laying.veils.iter().take(1).copied().collect();
            Some(Lay(Laying { veils, ..laying.clone() }).into())
        };
        let own: Vec<Move> = match self {
            Fault::TooPale | Fault::HardMark => last.and_then(once_more).into_iter().collect(),
            Fault::Muddy => {
                let on = last.map(|last| last.on);
                let met = (0..made).rev().filter_map(laid).filter(|laying| Some(laying.on) == on).take(2);
                let lightness = |laying: &&Laying| panel.inks[laying.ink].lab().l;
                let lighter = met.max_by(|one, other| lightness(one).total_cmp(&lightness(other)));
                std::iter::once(Dry {}.into()).chain(lighter.and_then(once_more)).collect()
            }
            Fault::BledUnder => vec![Dry {}.into()],
            Fault::Spilt => Vec::new(),
        };
        let mut moves = panel.moves.clone();
        moves.splice(made..made, own);
        moves
    }
}

/// How far a card has come.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Stand {
    /// How many of its moves are made.
    pub moves: usize,
    /// When the last of them ended, in milliseconds since 1970; nothing where it has not begun.
    pub ended: Option<i64>,
    /// What has gone wrong on it.
    pub fault: Option<Fault>,
    /// Whether it is set aside.
    pub aside: bool,
    /// Whether it was found dry since.
    pub is_dry: bool,
    /// How many steps are done of what comes once it is inked and dry.
    pub closed: usize,
}

/// A card that is done.
#[derive(Clone, Debug)]
pub struct Finished {
    /// The card, with its moves as they were made.
    pub panel: Panel,
    /// When its first step and its last were done, in milliseconds since 1970.
    pub began: i64,
    /// See `began`.
    pub ended: i64,
    /// What went wrong on it.
    pub faults: Vec<Fault>,
}

/// How an evening stands.
#[derive(Clone, Debug)]
pub struct Standing {
    /// The cards as they are, with what came into their plans since, and how far they have come.
    pub evening: Evening,
    /// The same, by the clock.
    pub cards: Vec<Stand>,
    /// When something was last told, in milliseconds since 1970; nothing before it begins.
    pub at: Option<i64>,
    /// Whether the cards are cut, and all lies ready.
    pub is_ready: bool,
    /// Whether the hands were called away, and are not back yet.
    pub is_away: bool,
    /// What is done from then on.
    pub scheduled: Scheduled,
    /// Steps done: which card, which moves, and when they ended; in order.
    pub done: Vec<(usize, std::ops::Range<usize>, i64)>,
}

/// A join over ink that has been laid: it blends for as long as that is damp.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct OpenJoin {
    /// The card.
    pub card: usize,
    /// The ink that dries, by its place in the card's list.
    pub ink: usize,
    /// Until when it is damp enough, in milliseconds since 1970.
    pub until: i64,
}

impl Standing {
    /// The joins that are still to be worked over ink that is laid, the first to dry first.
    pub fn open_joins(&self) -> Vec<OpenJoin> {
        let cards = self.evening.cards.iter().enumerate();
        let of = |(card, panel): (usize, &Panel)| {
            let chain = Chain::of(panel, &mut Found::default());
            let made = self.cards[card].moves;
            let join = |task: &Task| {
                let (other, seconds) = task.window.filter(|_| task.moves.start >= made)?;
                let other = &chain.tasks[other].moves;
                let is_it = |(of, moves, _): &&(usize, std::ops::Range<usize>, i64)| {
                    *of == card && moves.contains(&(other.end - 1))
                };
                let ended = self.done.iter().find(is_it)?.2;
                let ink = panel.moves[other.clone()].iter().rev().find_map(Move::laying)?.ink;
                Some(OpenJoin { card, ink, until: ended + 1000 * i64::from(seconds) })
            };
            let is_on = !self.cards[card].aside;
            chain.tasks.iter().filter(|_| is_on).filter_map(join).collect::<Vec<OpenJoin>>()
        };
        let mut joins: Vec<OpenJoin> = cards.flat_map(of).collect();
        joins.sort_by_key(|join| join.until);
        joins
    }

    /// What is still to be done to cards that are inked by the end of the plan, those that are dry first coming first: the card, how
    /// many of its closing steps are done after it, and the step.
    pub fn closing(&self, units: Units) -> Vec<(usize, usize, ClosingStep)> {
        let is_left = |card: &usize| self.cards[*card].aside || self.scheduled.later.contains(card);
        let mut cards: Vec<usize> = (0..self.cards.len()).filter(|card| !is_left(card)).collect();
        cards.sort_by_key(|card| self.scheduled.done.get(*card).copied().flatten());
        let of = |card: usize| {
            let steps = closing(&self.evening.cards[card], units).into_iter().zip(1..);
            let rest = steps.skip(self.cards[card].closed);
            rest.map(move |(step, done)| (card, done, step)).collect::<Vec<_>>()
        };
        cards.into_iter().flat_map(of).collect()
    }

    /// When a card is ready for its next step, in seconds from when something was last told; nothing where it waits for nothing.
    pub fn waits(&self, card: usize, step: &super::plan::Step) -> Option<i64> {
        let stand = self.cards.get(card)?;
        let chain = Chain::of(self.evening.cards.get(card)?, &mut Found::default());
        let task = chain.tasks.iter().position(|task| task.moves == step.moves)?;
        let gap = chain.gap(task).in_air();
        let since = (self.at? - stand.ended?).max(0) / 1000;
        (gap > 0 && !stand.is_dry && stand.moves <= step.moves.start).then_some(gap - since)
    }
}

/// Why something cannot be told.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ToldError {
    /// A card that is not there.
    #[error("There is no such card on this evening: reload the page.")]
    Card,
    /// More moves than it has.
    #[error("That card has no such step: reload the page.")]
    Moves,
    /// What comes after a step needs it.
    #[error("That step cannot be left out: what comes after it needs it. Take it back, or let the card be.")]
    Needed,
    /// No mark.
    #[error("What is told needs a mark of 8 to 64 signs.")]
    Mark,
}

impl Sitting {
    /// The cards' names; those that are alike are numbered.
    pub fn names(&self) -> Vec<String> {
        let alike =
            |cards: &[Panel], card: &Panel| cards.iter().filter(|other| other.name == card.name).count();
        let name = |(at, card): (usize, &Panel)| match alike(&self.cards, card) {
            1 => card.name.to_string(),
            _ => format!("{}, {}", card.name, alike(&self.cards[..=at], card)),
        };
        self.cards.iter().enumerate().map(name).collect()
    }

    /// Writes down what is told; what is known by its mark is not written twice.
    ///
    /// # Errors
    /// A [`ToldError`] with the remedy; nothing is written then.
    pub fn tell(&mut self, told: &[Told]) -> Result<(), ToldError> {
        let mut log = self.log.clone();
        for one in told {
            if !(8..=64).contains(&one.mark.len()) {
                return Err(ToldError::Mark);
            }
            if log.iter().any(|known| known.mark == one.mark) {
                continue;
            }
            let card = match one.what {
                What::Done { card, .. }
                | What::Heated { card }
                | What::StillDamp { card }
                | What::IsDry { card }
                | What::Skipped { card, .. }
                | What::Closed { card, .. }
                | What::Went { card, .. } => Some(card),
                What::Begun | What::Ready | What::Away | What::Back | What::TakenBack => None,
            };
            if card.is_some_and(|card| card >= self.cards.len()) {
                return Err(ToldError::Card);
            }
            if let What::Closed { card, steps } = one.what
                && steps > closing(&self.cards[card], Units::default()).len()
            {
                return Err(ToldError::Moves);
            }
            if let What::Skipped { card, moves } = one.what {
                let so_far = Sitting { log: log.clone(), ..self.clone() };
                let (cards, stands, _) = so_far.gone_through();
                without(&cards[card], stands[card].moves..moves).ok_or(ToldError::Needed)?;
            }
            log.push(one.clone());
        }
        let before = std::mem::replace(&mut self.log, log);
        let (cards, stands, ..) = self.gone_through();
        let is_over = |(card, stand): (&Panel, &Stand)| stand.moves > card.moves.len();
        if cards.iter().zip(&stands).any(is_over) {
            self.log = before;
            return Err(ToldError::Moves);
        }
        Ok(())
    }

    /// What was told and not taken back, in the order of its times.
    fn valid(&self) -> Vec<&Told> {
        let mut log: Vec<&Told> = self.log.iter().collect();
        log.sort_by_key(|told| told.at);
        let mut valid: Vec<&Told> = Vec::new();
        for told in log {
            match told.what {
                What::TakenBack => drop(valid.pop()),
                _ => valid.push(told),
            }
        }
        valid
    }

    /// The cards as they are now, how far each has come, and the steps that were done.
    #[expect(clippy::type_complexity, reason = "three lists that are made together")]
    fn gone_through(&self) -> (Vec<Panel>, Vec<Stand>, Vec<(usize, std::ops::Range<usize>, i64)>) {
        let mut cards = self.cards.clone();
        let mut stands = vec![Stand::default(); cards.len()];
        let mut done = Vec::new();
        for told in self.valid() {
            match told.what {
                What::Begun | What::Ready | What::Away | What::Back | What::TakenBack => {}
                What::Closed { card, steps } => stands[card].closed = steps.max(stands[card].closed),
                What::Skipped { card, moves } => {
                    let from = stands[card].moves;
                    if let Some(without) = without(&cards[card], from..moves) {
                        cards[card] = without;
                    }
                }
                What::Done { card, moves } => {
                    let stand = &mut stands[card];
                    if moves > stand.moves {
                        done.push((card, stand.moves..moves, told.at));
                        (stand.moves, stand.ended, stand.is_dry) = (moves, Some(told.at), false);
                    }
                }
                What::Heated { card } => {
                    let stand = &mut stands[card];
                    let rest = cards[card].moves.get(stand.moves..).unwrap_or(&[]);
                    let dries = rest.iter().take_while(|m| m.dries() || m.readies());
                    let dries = dries.collect::<Vec<_>>().iter().rposition(|m| m.dries());
                    if let Some(last) = dries {
                        done.push((card, stand.moves..stand.moves + last + 1, told.at));
                        stand.moves += last + 1;
                        stand.ended = Some(told.at);
                    }
                }
                // It is as if it had been laid so much later.
                What::StillDamp { card } => {
                    stands[card].is_dry = false;
                    if let Some(ended) = &mut stands[card].ended {
                        let waited = (told.at - *ended).max(0);
                        *ended = (*ended + (waited / MORE_WAIT).max(1000 * LEAST_WAIT)).min(told.at);
                    }
                }
                What::IsDry { card } => stands[card].is_dry |= stands[card].ended.is_some(),
                What::Went { card, fault } => {
                    let stand = &mut stands[card];
                    stand.fault = Some(fault);
                    stand.aside |= fault == Fault::Spilt;
                    let moves = fault.mends(&cards[card], stand.moves);
                    cards[card].moves = moves;
                }
            }
        }
        (cards, stands, done)
    }

    /// The cards with what has come into their plans since.
    pub fn cards_now(&self) -> Vec<Panel> {
        self.gone_through().0
    }

    /// The cards that nothing has been done to yet.
    pub fn not_begun(&self) -> Vec<Panel> {
        let (cards, stands, _) = self.gone_through();
        let begun = |stand: &Stand| stand.ended.is_some() || stand.aside;
        cards.into_iter().zip(&stands).filter(|(_, stand)| !begun(stand)).map(|(card, _)| card).collect()
    }

    /// How it stands.
    pub fn standing(&self) -> Standing {
        let (cards, stands, done) = self.gone_through();
        let at = self.valid().last().map(|told| told.at);
        let progress = |(card, stand): (&Panel, &Stand)| match (stand.aside, stand.ended, at) {
            (true, ..) => Progress { moves: card.moves.len(), since: LONG_SINCE },
            _ if stand.is_dry => Progress { moves: stand.moves, since: LONG_SINCE },
            (_, Some(ended), Some(at)) => Progress { moves: stand.moves, since: (at - ended).max(0) / 1000 },
            _ => Progress { moves: stand.moves, since: 0 },
        };
        let progress = cards.iter().zip(&stands).map(progress).collect();
        let begun = self.valid().first().map(|told| told.at);
        let gone = begun.zip(at).map_or(0, |(begun, at)| (at - begun) / 1000);
        let time = self.minutes.map(|minutes| (60 * i64::from(minutes) - gone).max(0));
        let tools = Tools { heat: self.heat };
        let on_brushes = done.iter().map(|(card, moves, _)| (*card, moves.clone())).collect();
        let evening = Evening { cards, tools, progress, done: on_brushes, time };
        let is_away = self.valid().last().is_some_and(|told| told.what == What::Away);
        // Whoever inks has cut the card.
        let is_ready = !done.is_empty() || self.valid().iter().any(|told| told.what == What::Ready);
        Standing { scheduled: evening.scheduled(), evening, cards: stands, at, is_ready, is_away, done }
    }

    /// The cards that are done; one that was set aside is none.
    pub fn finished(&self) -> Vec<Finished> {
        let (cards, stands, done) = self.gone_through();
        let faults = |of: usize| {
            let fault = |told: &&Told| match told.what {
                What::Went { card, fault } if card == of => Some(fault),
                _ => None,
            };
            self.valid().iter().filter_map(fault).collect::<Vec<Fault>>()
        };
        let of = |(card, panel): (usize, Panel)| {
            let stand = stands[card];
            let ended = stand.ended.filter(|_| !stand.aside)?;
            let is_done = panel.moves.get(stand.moves..).unwrap_or(&[]).iter().all(Move::dries);
            let began = done.iter().find(|(of, ..)| *of == card).map(|(.., ended)| *ended)?;
            is_done.then(|| Finished { panel, began, ended, faults: faults(card) })
        };
        cards.into_iter().enumerate().filter_map(of).collect()
    }

    /// Times that were really taken, as far as they can be told apart from waiting.
    pub fn times(&self) -> Vec<Log> {
        let (cards, _, done) = self.gone_through();
        let mut logs = self.paces(&cards, &done);
        logs.extend(self.dryings(&cards));
        logs.iter_mut().for_each(|log| log.room.clone_from(&self.room));
        logs
    }

    /// Seconds of what hands do: from what was told before a step to its end, where all of it goes by one figure.
    fn paces(&self, cards: &[Panel], done: &[(usize, std::ops::Range<usize>, i64)]) -> Vec<Log> {
        let valid = self.valid();
        let log = |(card, moves, ended): &(usize, std::ops::Range<usize>, i64)| {
            let before = valid.iter().filter(|told| told.at < *ended).max_by_key(|told| told.at)?;
            // What was begun before the hands were called away took longer than it seems.
            if before.what == What::Back {
                return None;
            }
            let panel = &cards[*card];
            let own = &panel.moves[moves.start..moves.end.min(panel.moves.len())];
            // A brush that is only taken up says nothing; a wipe, or what had to dry first, leaves no one figure.
            let with = panel.materials();
            let told = own.iter().filter(|m| !(m.readies() && m.paced(&with).is_none()));
            let paced: Vec<(Figure, f64)> = told.map(|m| m.paced(&with)).collect::<Option<_>>()?;
            let figure = paced.first()?.0;
            let times: f64 = paced.iter().map(|(_, times)| times).sum();
            if times <= 0.0 || paced.iter().any(|(other, _)| *other != figure) {
                return None;
            }
            let seconds = (ended - before.at) as f64 / 1000.0 / times;
            let ink = own.iter().find_map(Move::laying).map(|laying| laying.ink);
            let usual = figure.guide();
            (usual / LIKELY..=usual * LIKELY).contains(&seconds).then(|| log_of(panel, figure, ink, seconds))
        };
        done.iter().filter_map(log).collect()
    }

    /// Seconds until a card was found dry, from the end of what was done to it last.
    fn dryings(&self, cards: &[Panel]) -> Vec<Log> {
        let mut last: Vec<Option<(usize, i64)>> = vec![None; cards.len()];
        let mut logs = Vec::new();
        for told in self.valid() {
            match told.what {
                What::Done { card, moves } => last[card] = Some((moves, told.at)),
                // It was not the air, or it was looked at before.
                What::Heated { card } => last[card] = None,
                What::IsDry { card } => {
                    let Some((moves, ended)) = last[card].take() else { continue };
                    let seconds = (told.at - ended) as f64 / 1000.0;
                    if let Some((figure, ink)) =
                        dries(&cards[card], moves).filter(|_| seconds >= LEAST_DRYING)
                    {
                        logs.push(log_of(&cards[card], figure, ink, seconds));
                    }
                }
                _ => {}
            }
        }
        logs
    }
}

/// What dries on a card once so many of its moves are made, and which ink that is; nothing where nothing is damp.
fn dries(panel: &Panel, moves: usize) -> Option<(Figure, Option<usize>)> {
    let surface = panel.after(moves);
    if surface.is_soft() {
        return Some((Figure::PasteDries, None));
    }
    if surface.wet_film().is_some() {
        return Some((Figure::WetCardDries, None));
    }
    let damp = surface.coats.iter().filter(|coat| !coat.is_dry);
    let slowest = damp.max_by_key(|coat| surface.materials.touch_dry(coat.ink).1)?.ink;
    Some((Figure::drying(panel.inks[slowest].kind), Some(slowest)))
}

fn log_of(panel: &Panel, figure: Figure, ink: Option<usize>, seconds: f64) -> Log {
    Log {
        figure,
        seconds,
        ink: ink.map(|ink| panel.inks[ink].name.clone()),
        card: Some(panel.paper.name.clone()),
        tool: (figure == Figure::LightPass).then(|| panel.tool.name.clone()),
        room: None,
    }
}
