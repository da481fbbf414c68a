//! What of an order of the maker's own is kept when something else is wanted?
//!
//! What she changed is read off by holding her steps against those that would have been laid for the same: left out, put in,
//! put elsewhere. Each is done again on the steps that are laid now, before the step it stood before. What would not lay
//! what is wanted, or breaks a rule that her own order kept, is left as planned, and told.

use super::check::check;
use super::plan::{Plan, shared_out};
use crate::ink::Name;
use crate::length::Units;
use crate::moves::{Move, Technique};
use crate::panel::{MOST_NOTES, Panel};

/// Most changes that are tried one by one where they do not go together; more are kept all or not at all (chosen: a second's work).
const MOST_ALONE: usize = 24;
/// How alike two steps are that are the same; that do the same to the same thing, with other ink; that only do the same.
const SAME: u32 = 8;
const ON_THE_SAME: u32 = 3;
const OF_ONE_KIND: u32 = 1;

/// A step as it stands among those that are laid now.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Item {
    /// One of them, by its place.
    Planned(usize),
    /// One of the maker's own, by its place among hers.
    Own(usize),
}

/// Something that she changed.
#[derive(Clone, Copy, Debug)]
enum Difference {
    /// One of the steps that are laid now is left out.
    Out(usize),
    /// A step goes to where one of hers stood, by its place among hers.
    At(Item, usize),
    /// One of hers is of something that is no longer there.
    Gone(usize),
}

/// Her order, and what is laid now.
struct Own<'a> {
    before: &'a Panel,
    after: &'a Panel,
    /// Her steps, as they are called now; nothing where what they are of has gone.
    steps: Vec<Option<Move>>,
    /// Each of hers among those that are laid now.
    items: Vec<Option<Item>>,
    /// Those that are laid now.
    planned: Vec<Move>,
    changes: Vec<Difference>,
}

impl Panel {
    /// This panel, made of another by a change, with the order of the maker's own that stood there, as far as it can be
    /// kept; what could not is noted in it.
    #[must_use]
    pub fn in_the_order_of(mut self, before: &Panel) -> Panel {
        if !before.by_hand || self.by_hand {
            return self;
        }
        let (kept, lost) = Own::of(before, &self).kept();
        if let Some(kept) = kept {
            self = kept;
        }
        if !lost.is_empty() {
            let head = if self.by_hand {
                "Your own order of the steps stands, but for this: "
            } else {
                "The steps are planned anew, in place of your own order: "
            };
            self.gave.push(format!("{head}{}.", lost.join("; ")));
            let surplus = self.gave.len().saturating_sub(MOST_NOTES);
            self.gave.drain(..surplus);
        }
        self
    }
}

impl<'a> Own<'a> {
    fn of(before: &'a Panel, after: &'a Panel) -> Own<'a> {
        let (hers, planned) = (open(before), open(after));
        let was_planned = open(&Panel { by_hand: false, ..before.clone() }.laid());
        let places = places(before, after);
        let steps: Vec<Option<Move>> = hers.iter().map(|m| renamed(m, &places)).collect();
        // Hers among those that were planned: in their order first, then those she put elsewhere.
        let same = |one: &Move, other: &Move| u32::from(one == other);
        let mut among = aligned(&hers, &was_planned, same);
        let stays = among.clone();
        for (at, m) in hers.iter().enumerate() {
            let is_free = |place: &usize| was_planned[*place] == *m && !among.contains(&Some(*place));
            if among[at].is_none() {
                among[at] = (0..was_planned.len()).find(is_free);
            }
        }
        // Those that were planned among those that are planned now.
        let called: Vec<Option<Move>> = was_planned.iter().map(|m| renamed(m, &places)).collect();
        let old: Vec<(&Move, &Option<Move>)> = was_planned.iter().zip(&called).collect();
        let now = aligned(&old, &planned, |(old, called), new| match called {
            Some(called) if called == new => SAME,
            _ if old.name() != new.name() => 0,
            Some(called) if is_on_the_same(called, new) => ON_THE_SAME,
            _ => OF_ONE_KIND,
        });
        let item = |at: usize| match among[at] {
            Some(place) => now[place].map(Item::Planned),
            None => steps[at].as_ref().map(|_| Item::Own(at)),
        };
        let items: Vec<Option<Item>> = (0..hers.len()).map(item).collect();
        let out = (0..was_planned.len()).filter(|place| !among.contains(&Some(*place)));
        let mut changes: Vec<Difference> = out.filter_map(|place| now[place].map(Difference::Out)).collect();
        // From the last to the first, so that what a step stood before stands there already.
        let put = (0..hers.len()).rev().filter(|at| stays[*at].is_none());
        changes.extend(put.filter_map(|at| match items[at] {
            Some(item) => Some(Difference::At(item, at)),
            // What was planned and has gone with the change was not hers.
            None => among[at].is_none().then_some(Difference::Gone(at)),
        }));
        Own { before, after, steps, items, planned, changes }
    }

    /// The panel in her order, where anything of it can be kept, and what cannot, each in a few words.
    fn kept(&self) -> (Option<Panel>, Vec<String>) {
        if self.changes.is_empty() {
            return (None, Vec::new());
        }
        let is_there = |change: &&Difference| !matches!(change, Difference::Gone(_));
        let told = |changes: Vec<&Difference>| changes.into_iter().map(|change| self.told(*change)).collect();
        let (all, gone): (Vec<&Difference>, Vec<&Difference>) = self.changes.iter().partition(is_there);
        if let Some(panel) = self.with(&all) {
            return (Some(panel), told(gone));
        }
        let (mut kept, mut panel, mut lost) = (Vec::new(), None, gone);
        for change in all {
            kept.push(change);
            match self.with(&kept).filter(|_| self.changes.len() <= MOST_ALONE) {
                Some(with) => panel = Some(with),
                None => lost.extend(kept.pop()),
            }
        }
        (panel, told(lost))
    }

    /// The panel with some of the changes made; nothing where that does not lay what is wanted, or breaks more than before.
    fn with(&self, changes: &[&Difference]) -> Option<Panel> {
        let mut order: Vec<Item> = (0..self.planned.len()).map(Item::Planned).collect();
        for change in changes {
            match **change {
                Difference::Out(place) => order.retain(|item| *item != Item::Planned(place)),
                Difference::At(item, at) => {
                    order.retain(|other| *other != item);
                    let follows = self.items[at + 1..].iter().flatten();
                    let before = follows.filter_map(|next| order.iter().position(|item| item == next)).next();
                    order.insert(before.unwrap_or(order.len()), item);
                }
                Difference::Gone(_) => {}
            }
        }
        let step = |item: &Item| match *item {
            Item::Planned(place) => Some(self.planned[place].clone()),
            Item::Own(at) => self.steps[at].clone(),
        };
        let rest = order.iter().filter_map(step).collect();
        let materials = self.after.materials();
        let moves = shared_out(&self.after.moves[..self.after.done_moves()], rest, &materials);
        let panel = Panel { moves, by_hand: true, ..self.after.clone() };
        let plan = Plan::of(&panel.scene, &materials, panel.school, panel.covering);
        let stands = panel.check().is_ok() && plan.is_laid_by(&panel.moves);
        (stands && check(&panel).len() <= check(self.before).len().max(check(self.after).len()))
            .then_some(panel)
    }

    /// A change that could not be kept, in a few words.
    fn told(&self, change: Difference) -> String {
        let title = |panel: &Panel, of: &dyn Fn(&Move) -> bool| {
            let at = panel.moves.iter().position(of).unwrap_or_default();
            panel
                .moves
                .get(at)
                .map_or_else(String::new, |m| m.words(&panel.after(at), Units::default()).title)
        };
        let now = |place: usize| title(self.after, &|m| *m == self.planned[place]);
        let hers = |at: usize| title(self.before, &|m| Some(m) == open(self.before).get(at));
        match change {
            Difference::Out(place) => format!("“{}” is there again", now(place)),
            Difference::At(Item::Planned(place), _) => format!("“{}” stands where it is planned", now(place)),
            Difference::At(Item::Own(at), _) => format!("“{}”, which you put in, is left out", hers(at)),
            Difference::Gone(at) => format!("“{}” has nothing to be done to any more", hers(at)),
        }
    }
}

/// The steps that are not done yet.
fn open(panel: &Panel) -> Vec<Move> {
    let done = panel.done_moves();
    panel.moves[done..].iter().filter(|m| m.is_step()).cloned().collect()
}

/// Whether two moves are of the same thing or mask, or of the ground both.
fn is_on_the_same(one: &Move, other: &Move) -> bool {
    one.mask() == other.mask()
        && one.laying().map(|laying| laying.on) == other.laying().map(|laying| laying.on)
}

/// A move of one panel as it is called on another; nothing where what it is of is not there any more.
fn renamed(m: &Move, (inks, things): &(Vec<Option<usize>>, Vec<Option<usize>>)) -> Option<Move> {
    let at = |places: &[Option<usize>], place: usize| places.get(place).copied().flatten();
    m.with_inks_moved(&|ink| at(inks, ink))?.with_things_moved(&|thing| at(things, thing))
}

/// Where the inks and the things of one panel stand on another.
fn places(before: &Panel, after: &Panel) -> (Vec<Option<usize>>, Vec<Option<usize>>) {
    let inks = |panel: &Panel| panel.inks.iter().map(|ink| ink.name.clone()).collect::<Vec<_>>();
    let things =
        |panel: &Panel| panel.scene.things.iter().map(|thing| thing.shape.name.clone()).collect::<Vec<_>>();
    (carried(&inks(before), &inks(after)), carried(&things(before), &things(after)))
}

/// Where each name of one list stands in another: those that are there, then those that came for those that went.
fn carried(before: &[Name], after: &[Name]) -> Vec<Option<usize>> {
    let mut places: Vec<Option<usize>> = vec![None; before.len()];
    for by_name in [true, false] {
        for at in 0..before.len() {
            let is_free =
                |place: &usize| (!by_name || after[*place] == before[at]) && !places.contains(&Some(*place));
            if places[at].is_none() {
                places[at] = (0..after.len()).find(is_free);
            }
        }
    }
    places
}

/// The pairs of two lists, in the order of both, that are together most alike: each of the first with one of the second, or
/// none (Needleman and Wunsch 1970, with no price for gaps).
fn aligned<A, B>(one: &[A], other: &[B], likeness: impl Fn(&A, &B) -> u32) -> Vec<Option<usize>> {
    let width = other.len() + 1;
    // How alike the rest of both is at best, from each pair of places on.
    let mut best = vec![0_u32; (one.len() + 1) * width];
    let mut alike = vec![0_u32; one.len() * width];
    for a in (0..one.len()).rev() {
        for b in (0..other.len()).rev() {
            let like = likeness(&one[a], &other[b]);
            let paired = if like > 0 { like + best[(a + 1) * width + b + 1] } else { 0 };
            alike[a * width + b] = like;
            best[a * width + b] = paired.max(best[(a + 1) * width + b]).max(best[a * width + b + 1]);
        }
    }
    let (mut pairs, mut b) = (vec![None; one.len()], 0);
    for a in 0..one.len() {
        // What is best left alone is passed over.
        while b < other.len() && best[a * width + b] == best[a * width + b + 1] && best[a * width + b] > 0 {
            b += 1;
        }
        let like = alike.get(a * width + b).copied().unwrap_or_default();
        if b < other.len() && like > 0 && best[a * width + b] == like + best[(a + 1) * width + b + 1] {
            pairs[a] = Some(b);
            b += 1;
        }
    }
    pairs
}
