//! Which moves do the wet steps of a scene mean, with what goes between them?
//!
//! Presses come first, then what is wetted before anything is blended; the rest comes over all of it, once it is dry. What
//! is kept dry is covered for as long as it has to be; a word in soluble ink always is. Each step dries before the next.

use crate::ink::{Finish, Kind};
use crate::moves::{
    Move, Technique, blot::Blot, dab::Dab, dry::Dry, handled, heat::Heat, mist_mat::MistMat, press::Press,
};
use crate::scene::{Loose, Pressing, Scene, Thing};
use crate::surface::{Mask, Materials, Part, Surface};

/// Moves of one wet step.
struct Group {
    moves: Vec<Move>,
    /// The plugs that lie there meanwhile.
    keep: Vec<Mask>,
    /// Whether it dries before anything else.
    dries: bool,
    /// Whether what lies there has to be dry before.
    on_dry: bool,
}

/// The wet moves of a scene.
pub struct Wetted {
    first: Vec<Group>,
    last: Vec<Group>,
    /// The tape that lies along the edges all the while.
    border: Vec<Mask>,
    card: Finish,
}

impl Wetted {
    /// Of a scene.
    pub fn of(scene: &Scene, materials: &Materials) -> Wetted {
        let border = materials.masks.border_tape();
        let mut first: Vec<Group> = Vec::new();
        if let Some(smoosh) = &scene.smoosh {
            let dabs = smoosh.patches.iter().map(|patch| Dab(*patch).into()).collect();
            first.push(Group { moves: dabs, keep: border.clone(), dries: false, on_dry: false });
            for (at, press) in smoosh.presses.iter().enumerate() {
                let next = smoosh.presses[at + 1..].iter().find(|next| next.spare.is_none());
                first.push(pressed(press, next.is_some_and(|next| next.on_damp), &border));
            }
        }
        let (before, after): (Vec<&Loose>, Vec<&Loose>) =
            scene.loose.iter().partition(|loose| loose.first && !loose.step.is_last());
        let card = materials.paper.surface;
        first.extend(before.into_iter().flat_map(|loose| groups(loose, (&[], &border), card)));
        let words = soluble_words(scene, materials);
        // Paste comes last of all that is wet.
        let (paste, after): (Vec<&Loose>, Vec<&Loose>) =
            after.into_iter().partition(|loose| loose.step.is_last());
        let water = after.into_iter().flat_map(|loose| groups(loose, (&words, &border), card));
        let last =
            water.chain(paste.into_iter().flat_map(|loose| groups(loose, (&[], &border), card))).collect();
        Wetted { first, last, border, card }
    }

    /// All of them, in order.
    fn all(&self) -> impl Iterator<Item = &Move> {
        self.first.iter().chain(&self.last).flat_map(|group| &group.moves)
    }

    /// The wet ones of some moves; what was done at once counts as the goes that are wanted in its place.
    fn in_goes(&self, moves: &[Move]) -> Vec<Move> {
        let wanted: Vec<&Move> = self.all().collect();
        let is_blotted =
            |go: &Move| wanted.windows(2).any(|two| two[0] == go && matches!(two[1], Move::Blot(_)));
        let in_goes = |m: &Move| {
            let is_blotted = is_blotted(&m.in_goes(self.card)[0]);
            let mut own = goes(m, is_blotted, self.card).concat();
            // The last of them is blotted by a move of its own.
            own.truncate(own.len() - usize::from(is_blotted));
            own
        };
        moves.iter().filter(|m| m.wets()).flat_map(in_goes).collect()
    }

    /// Whether some moves do just what is wanted, in whatever order.
    pub fn is_done_by(&self, moves: &[Move]) -> bool {
        let mut left: Vec<&Move> = self.all().collect();
        for m in &self.in_goes(moves) {
            let Some(at) = left.iter().position(|other| *other == m) else { return false };
            left.swap_remove(at);
        }
        left.is_empty()
    }

    /// How many of them some moves have done already, in order.
    fn done(&self, made: &[Move]) -> usize {
        let wet = self.in_goes(made);
        let mut wet = wet.iter();
        let mut done = 0;
        for wanted in self.all() {
            if !wet.any(|m| m == wanted) {
                break;
            }
            done += 1;
        }
        done
    }

    /// What is still missing of what comes first, on a card as some moves have left it.
    pub fn before(&self, made: &[Move], surface: &Surface) -> Vec<Move> {
        missing(&self.first, self.done(made), surface, &self.border)
    }

    /// What is still missing of what comes last, after all these moves.
    pub fn after(&self, moves: &[Move], surface: &Surface) -> Vec<Move> {
        let first: usize = self.first.iter().map(|group| group.moves.len()).sum();
        missing(&self.last, self.done(moves).saturating_sub(first), surface, &[])
    }
}

/// Something wet in as many goes as the card drinks, each blotted where the whole is.
pub fn goes(whole: &Move, is_blotted: bool, card: Finish) -> Vec<Vec<Move>> {
    let blot = is_blotted.then(|| Move::from(Blot {}));
    whole.in_goes(card).into_iter().map(|go| [go].into_iter().chain(blot.clone()).collect()).collect()
}

fn pressed(press: &Pressing, stays_damp: bool, border: &[Mask]) -> Group {
    let mut moves: Vec<Move> = Vec::new();
    if press.mists > 0 {
        moves.push(MistMat { pumps: press.mists }.into());
    }
    moves.push(Press { spare: press.spare, movement: press.movement }.into());
    let is_own = press.spare.is_none();
    let keep = border.to_vec();
    Group { moves, keep, dries: is_own && !stays_damp, on_dry: is_own && !press.on_damp }
}

/// In as many goes as the card takes water.
fn groups(loose: &Loose, (words, border): (&[usize], &[Mask]), card: Finish) -> Vec<Group> {
    let is_blotted = loose.step.is_water() && (loose.blot || loose.step.is_blotted());
    let mut keep = words.to_vec();
    keep.extend(if loose.first { &[] } else { loose.keep.as_slice() });
    keep.extend(loose.step.covers());
    keep.sort_unstable();
    keep.dedup();
    let plugs = keep.into_iter().map(|thing| Mask { thing, part: Part::Plug });
    let mut keep: Vec<Mask> = border.iter().copied().chain(plugs).collect();
    keep.extend(within(loose).map(|thing| Mask { thing, part: Part::Frame }));
    let group = |moves: Vec<Move>| Group { moves, keep: keep.clone(), dries: true, on_dry: true };
    goes(&loose.step.as_move(), is_blotted, card).into_iter().map(group).collect()
}

/// The thing through whose frame it is done; what has its own place needs none.
fn within(loose: &Loose) -> Option<usize> {
    loose.within.filter(|_| !loose.first && !loose.step.has_place())
}

/// Words in ink that water dissolves, with nothing over it.
fn soluble_words(scene: &Scene, materials: &Materials) -> Vec<usize> {
    let dissolves = |thing: &Thing| {
        let inks = thing.blends().iter().flat_map(|blend| &blend.fields).map(|field| field.ink);
        inks.into_iter().any(|ink| materials.inks[ink].kind != Kind::Pigment)
    };
    let things = scene.things.iter().enumerate();
    things
        .filter(|(_, thing)| thing.shape.is_word() && thing.resist.is_none() && dissolves(thing))
        .map(|(place, _)| place)
        .collect()
}

/// Moves, and the card as they leave it.
struct Course {
    moves: Vec<Move>,
    now: Surface,
}

impl Course {
    fn make(&mut self, m: Move) {
        m.make(&mut self.now);
        self.moves.push(m);
    }

    /// Dried with heat, or in air where a mask keeps that away or paste is soft.
    fn dry(&mut self) {
        let in_air = self.now.keeps_heat_away().is_some() || self.now.is_soft();
        let m = if in_air { Dry {}.into() } else { Heat {}.into() };
        self.make(m);
    }

    /// Just these masks on it.
    fn cover(&mut self, keep: &[Mask], on_dry: bool) {
        let mut pile = self.now.masks.clone();
        let steps = self.now.materials.masks.shifted(&mut pile, keep);
        if self.now.is_damp() && (on_dry || !steps.is_empty()) {
            self.dry();
        }
        handled(steps).for_each(|m| self.make(m));
    }
}

/// What is missing of some groups, with just some masks left there in the end.
fn missing(groups: &[Group], mut done: usize, surface: &Surface, left: &[Mask]) -> Vec<Move> {
    let mut course = Course { moves: Vec::new(), now: surface.clone() };
    for group in groups {
        let rest = &group.moves[done.min(group.moves.len())..];
        done = done.saturating_sub(group.moves.len());
        // Half a step goes on where it stands.
        if rest.len() == group.moves.len() {
            course.cover(&group.keep, group.on_dry);
        }
        rest.iter().for_each(|m| course.make(m.clone()));
        if group.dries && !rest.is_empty() && course.now.is_damp() {
            course.dry();
        }
    }
    if !course.moves.is_empty() {
        course.cover(left, false);
    }
    course.moves
}
