//! What has to be done to one card, one thing after the other, and what lies between?
//!
//! The moves of a card are taken together to *tasks*: what the hands do without a pause and with one ink. Between tasks lie
//! *gaps*: water stands its half minute, powder cools, ink dries, in air with the hands free or with heat. A join is worked
//! while its ink is damp: the task that goes back over it has a *window*, which closes so long after the other ink was laid.

use std::ops::Range;

use super::desk::{Desk, Found, Lays};
use crate::ink::measured;
use crate::moves::{Technique, dry::Dry, heat::Heat};
use crate::panel::Panel;
use crate::surface::Surface;

/// Seconds in which an evening is planned: nobody works to the second (chosen).
pub const BEAT: u32 = 5;

/// What lies between two tasks of a card.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub struct Gap {
    /// Seconds that pass in any case: water stands, powder cools.
    pub wait: u32,
    /// Seconds that it then dries in air, hands free.
    pub air: u32,
    /// Seconds of heat that do instead, where heat may come near; they keep the hands busy.
    pub heat: Option<u32>,
}

impl Gap {
    /// The least time it takes.
    pub fn least(self) -> i64 {
        i64::from(self.wait) + i64::from(self.heat.map_or(self.air, |heat| heat.min(self.air)))
    }

    /// The time it takes with nothing done.
    pub fn in_air(self) -> i64 {
        i64::from(self.wait) + i64::from(self.air)
    }

    /// Whether heat would spare any time.
    pub fn heat(self) -> Option<i64> {
        self.heat.filter(|heat| *heat < self.air).map(i64::from)
    }
}

/// What the hands do to a card without a pause.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct Task {
    /// The card's moves that it is, by their places.
    pub moves: Range<usize>,
    /// Seconds that it keeps the hands busy.
    pub hands: u32,
    /// What it lays, where it lays ink.
    pub lays: Option<Lays>,
    /// Seconds to make a brush ready for it, where no other card is worked with the same brushes.
    pub setup: u32,
    /// What has to pass since the card's task before.
    pub gap: Gap,
    /// The earlier task over whose ink it works a join, and seconds after its end within which it begins.
    pub window: Option<(usize, u32)>,
    /// Whether it needs the mat, and whether it is the card's last that does.
    pub mat: Option<bool>,
}

/// A card as it is worked through.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct Chain {
    /// Its tasks, in order.
    pub tasks: Vec<Task>,
    /// What has to pass after the last of them.
    pub last: Gap,
}

/// What keeps a task together.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Of {
    Laying(usize),
    Work,
}

/// A laying that a join may be worked over: which task, which ink, and what it lay on.
struct LaidBy {
    task: usize,
    ink: usize,
    on: Option<usize>,
}

impl Chain {
    /// Of a panel's moves, and what it needs of the desk.
    pub fn of(panel: &Panel, found: &mut Found) -> Chain {
        let mut surface = Surface::bare(panel.materials());
        let mut tasks: Vec<Task> = Vec::new();
        let mut of: Option<Of> = None;
        let (mut gap, mut setup, mut begun) = (Gap::default(), 0, None);
        let mut laid: Vec<LaidBy> = Vec::new();
        let last_on_mat = panel.moves.iter().rposition(Technique::is_on_mat);
        for (at, m) in panel.moves.iter().enumerate() {
            if m.readies() {
                setup += m.hands(&surface.materials);
                begun.get_or_insert(at);
                m.make(&mut surface);
                continue;
            }
            if m.dries() {
                gap = dried(gap, &surface);
                m.make(&mut surface);
                // What has dried takes no join any more.
                (of, laid) = (None, Vec::new());
                begun.get_or_insert(at);
                continue;
            }
            let laying = m.brushed();
            let own = laying.map_or(Of::Work, |laying| Of::Laying(laying.ink));
            // What a brush still carries is worked in before it takes up anything else.
            let goes_on = m.spends() || (of == Some(own) && m.join().is_none());
            let window = m.join().and_then(|laying| {
                let other =
                    laid.iter().rev().find(|other| other.on == laying.on && other.ink != laying.ink)?;
                Some((other.task, surface.materials.touch_dry(other.ink).1))
            });
            match tasks.last_mut().filter(|_| goes_on && gap == Gap::default()) {
                Some(task) => {
                    task.moves.end = at + 1;
                    task.hands += m.hands(&surface.materials) + setup;
                }
                None => tasks.push(Task {
                    moves: begun.unwrap_or(at)..at + 1,
                    hands: m.hands(&surface.materials),
                    lays: None,
                    setup: if laying.is_some() { setup.max(measured::SECONDS_A_CHANGE) } else { 0 },
                    gap,
                    window,
                    mat: None,
                }),
            }
            let place = tasks.len() - 1;
            if m.is_on_mat() {
                tasks[place].mat = Some(last_on_mat == Some(at));
            }
            if let Some(laying) = laying {
                laid.push(LaidBy { task: place, ink: laying.ink, on: laying.on });
            }
            (of, setup, begun) = (Some(own), 0, None);
            let waits = m.waits(&surface);
            gap = Gap { wait: waits, ..Gap::default() };
            if waits > 0 {
                of = None;
            }
            m.make(&mut surface);
            if let Some(laying) = laying {
                let lays = found.lays(panel, &surface, (laying.ink, laying.veils.len()));
                // It begins with the first of its layings, and leaves on the brush what the last of them does.
                let leaves = lays.leaves;
                tasks[place].lays.get_or_insert(lays).leaves = leaves;
            }
        }
        Chain { tasks, last: gap }.in_beats().with_windows_that_can_be_met()
    }

    /// The same with what is left on its brushes as the desk counts it.
    #[must_use]
    pub fn on_desk(mut self, desk: &Desk, places: &[usize]) -> Chain {
        let mut before: Option<Lays> = None;
        for task in &mut self.tasks {
            let Some(lays) = &mut task.lays else { continue };
            lays.leaves = places[lays.leaves];
            // With one brush it is known what is on it.
            if let Some(before) = before.filter(|before| before.brushes.len() == 1 && lays.brushes.len() == 1)
            {
                let wipes = desk.left[before.leaves].wipes[lays.wanted];
                task.setup = task.setup.max(u32::from(wipes) * desk.wipe + measured::SECONDS_A_CHANGE);
            }
            before = Some(lays.clone());
        }
        self.with_windows_that_can_be_met()
    }

    /// The same with joins that can be come to in time however much has to be wiped off a brush first.
    #[must_use]
    pub fn with_all_wiped(mut self, desk: &Desk) -> Chain {
        for task in &mut self.tasks {
            task.setup = task.lays.as_ref().map_or(0, |lays| desk.most(lays));
        }
        self.with_windows_that_can_be_met()
    }

    /// The same in beats: nothing is reckoned shorter than it is, and no join longer open.
    fn in_beats(mut self) -> Chain {
        let up = |seconds: u32| seconds.next_multiple_of(BEAT);
        let gap = |gap: Gap| Gap { wait: up(gap.wait), air: up(gap.air), heat: gap.heat.map(up) };
        let longer: Vec<u32> = self.tasks.iter().map(|task| up(task.hands) - task.hands).collect();
        for task in &mut self.tasks {
            (task.hands, task.gap) = (up(task.hands), gap(task.gap));
            let in_beats = |(other, seconds): (usize, u32)| {
                let seconds = seconds.saturating_sub(longer[other]);
                (other, seconds - seconds % BEAT)
            };
            task.window = task.window.map(in_beats);
        }
        self.last = gap(self.last);
        self
    }

    /// A join that this maker cannot come to in time, however straight she goes for it, is worked as soon as she can.
    fn with_windows_that_can_be_met(mut self) -> Chain {
        for at in 0..self.tasks.len() {
            let Some((other, seconds)) = self.tasks[at].window else { continue };
            let between = &self.tasks[other + 1..at];
            let straight = |task: &Task| i64::from(task.setup + task.hands) + task.gap.in_air();
            let least = between.iter().map(straight).sum::<i64>()
                + i64::from(self.tasks[at].setup)
                + self.tasks[at].gap.in_air();
            self.tasks[at].window = Some((other, seconds.max(u32::try_from(least).unwrap_or(u32::MAX))));
        }
        self
    }

    /// What has to pass before one of its tasks; after the last of them, before it is done.
    pub fn gap(&self, task: usize) -> Gap {
        self.tasks.get(task).map_or(self.last, |task| task.gap)
    }
}

/// What lies ahead of each task of a chain, and after the last: worked out once.
#[derive(Clone, Debug)]
pub struct Ahead {
    /// Seconds of hands, without set-ups and with all drying in air.
    pub hands: Vec<i64>,
    /// The least seconds from the end of the task before to the end of it all, with heat where that is the shorter.
    pub least: Vec<i64>,
    /// The same with all drying in air.
    pub in_air: Vec<i64>,
    /// The task that has to be come to soon, since it works a join over ink that has been laid.
    pub join: Vec<Option<usize>>,
}

impl Ahead {
    /// Of a chain.
    pub fn of(chain: &Chain) -> Ahead {
        let count = chain.tasks.len();
        let (mut hands, mut least, mut in_air) = (vec![0; count + 1], vec![0; count + 1], vec![0; count + 1]);
        (least[count], in_air[count]) = (chain.last.least(), chain.last.in_air());
        for (at, task) in chain.tasks.iter().enumerate().rev() {
            let own = i64::from(task.hands);
            hands[at] = hands[at + 1] + own;
            least[at] = least[at + 1] + own + task.gap.least();
            in_air[at] = in_air[at + 1] + own + task.gap.in_air();
        }
        let join = |at: usize| {
            let is_open = |task: &usize| chain.tasks[*task].window.is_some_and(|(other, _)| other < at);
            (at..count).find(is_open)
        };
        Ahead { join: (0..=count).map(join).collect(), hands, least, in_air }
    }
}

/// A gap in which it dries too.
fn dried(gap: Gap, surface: &Surface) -> Gap {
    let air = Dry {}.waits(surface);
    let heat = Heat {}.unmet(surface).is_empty().then(|| Heat {}.hands(&surface.materials));
    if gap.air == 0 {
        return Gap { air, heat, ..gap };
    }
    // Dried twice over: what lets both be heated lets heat near.
    Gap { air: gap.air.max(air), heat: gap.heat.zip(heat).map(|(one, other)| one.max(other)), ..gap }
}
