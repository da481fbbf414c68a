//! Which moves make the scene, with all that goes between?
//!
//! What is laid when was [decided](super::cover) for the scene as a whole; each thing and the ground is laid as the
//! [school](super::school) has it. Between them masks go on and come off, and ink dries before either; brushes are taken up
//! and wiped; at the end comes a look, drying, and the last masks are lifted.

use std::sync::Arc;

use super::brushes::with_brushes;
use super::cover::{Scenery, Wearing, is_tint};
use super::school::layings;
use super::wet::Wetted;
use crate::ink;
use crate::moves::{
    Laying, Move, Technique, all_off, anti_static::AntiStatic, buff::Buff, cool::Cool, dry::Dry, handled,
    look::Look, melt::Melt, powder::Powder, raise::Raise, sticky::Sticky, surface_after,
};
use crate::scene::{Covering, Scene, School};
use crate::surface::{Hard, Materials, Surface};

/// Seconds for which ink that stands on melted powder is wiped off with a dry cloth (chosen: a blend's first round).
const WIPES_OFF: u32 = 300;

/// A scene to be laid.
pub struct Plan<'a> {
    scene: &'a Scene,
    materials: &'a Arc<Materials>,
    school: School,
    /// What is laid, in order, and the masks that lie there meanwhile.
    worn: Vec<(Option<usize>, Wearing)>,
    /// What is done with water, before and after.
    wetted: Wetted,
}

impl<'a> Plan<'a> {
    /// Decides what is laid when.
    pub fn of(
        scene: &'a Scene,
        materials: &'a Arc<Materials>,
        school: School,
        covering: Covering,
    ) -> Plan<'a> {
        let worn = if scene.things.is_empty() {
            vec![(None, Wearing::default())]
        } else {
            let scenery = Scenery::of(scene, materials);
            scenery.worn(&scenery.scheme(covering))
        };
        Plan { scene, materials, school, worn, wetted: Wetted::of(scene, materials) }
    }

    /// What is still missing once some moves have been made: ink, masks on and off, and the dryings they need.
    pub fn missing(&self, made: &[Move]) -> Vec<Move> {
        let mut now = surface_after(self.materials.clone(), made);
        let mut moves: Vec<Move> = self.wetted.before(made, &now);
        moves.iter().for_each(|m| m.make(&mut now));
        let (mut masks, mut is_damp, mut is_first) = (now.masks.clone(), now.is_damp(), true);
        let border = self.materials.masks.border_tape();
        for (on, wearing) in &self.worn {
            let blends = on.map_or(&self.scene.ground[..], |thing| self.scene.things[thing].blends());
            let laid = layings(made, (*on, blends), self.materials, self.school);
            let seal = on.and_then(|thing| Some((thing, self.scene.things[thing].resist?)));
            let seal =
                seal.filter(|(thing, _)| !now.embossing.sealed.iter().any(|sealed| sealed.thing == *thing));
            let raise = on.filter(|thing| self.is_unraised(*thing, &now));
            if laid.is_empty() && seal.is_none() && raise.is_none() {
                continue;
            }
            let mut steps: Vec<Move> = Vec::new();
            // Before it is sealed the anti-static bag goes over all of it, while nothing covers it.
            if seal.is_some_and(|(thing, _)| !(is_first && now.is_wiped_round(thing))) {
                steps.extend(handled(self.materials.masks.shifted(&mut masks, &[])));
                steps.push(AntiStatic {}.into());
            }
            is_first = false;
            steps.extend(handled(
                self.materials.masks.shifted(&mut masks, &[&border[..], &wearing.masks()].concat()),
            ));
            let is_stamped = self.materials.masks.is_stamped(*on);
            if is_damp && (is_stamped || !steps.is_empty()) {
                moves.push(Dry {}.into());
                is_damp = false;
            }
            moves.extend(steps);
            if let Some(thing) = raise {
                moves.extend(is_damp.then(|| Dry {}.into()));
                // What lies there would be pressed into the card.
                moves.extend(all_off(&masks));
                moves.push(Raise { thing }.into());
                moves.extend(masks.iter().map(|mask| Move::covering(*mask)));
                is_damp = false;
            }
            is_damp |= !laid.is_empty() && !is_tint(self.scene, self.materials, *on);
            moves.extend(laid);
            if let Some((thing, powder)) = seal {
                moves.extend(is_damp.then(|| Dry {}.into()));
                moves.push(Sticky { thing }.into());
                moves.extend(all_off(&masks));
                masks.clear();
                let layers = if self.scene.things[thing].bold { 2 } else { 1 };
                for _ in 0..layers {
                    moves.extend([Powder { kind: powder }.into(), Melt {}.into()]);
                }
                moves.push(Cool {}.into());
                is_damp = false;
            }
        }
        moves
    }

    /// Whether a thing is to be raised that does not stand up yet.
    fn is_unraised(&self, thing: usize, now: &Surface) -> bool {
        self.scene.things[thing].is_raised() && !now.raised.contains(&thing)
    }

    /// Whether some moves lay just the ink that is wanted, in whatever order.
    pub fn is_laid_by(&self, moves: &[Move]) -> bool {
        let missing = self.missing(&[]);
        let mut left: Vec<&Laying> = missing.iter().filter_map(Move::laying).collect();
        for laying in moves.iter().filter_map(Move::laying) {
            let Some(at) = left.iter().position(|other| *other == laying) else { return false };
            left.swap_remove(at);
        }
        left.is_empty() && self.wetted.is_done_by(moves)
    }

    /// All moves: those that have been made, as they were, then what is missing. What lies already and is not wanted any
    /// more stays, since nothing takes it off.
    pub fn laid_on(&self, made: &[Move]) -> Vec<Move> {
        let mut moves = dried(made, self.missing(made), self.materials);
        let mut end = surface_after(self.materials.clone(), &moves);
        let last = self.wetted.after(&moves, &end);
        // What is wanted again for what is done with water stays where it lies.
        let last = if last.is_empty() { all_off(&end.masks).collect() } else { last };
        last.iter().for_each(|m| m.make(&mut end));
        moves.extend(last);
        // What fell on what is sealed stands there until it is wiped off.
        if end.films.iter().any(|film| film.sealed > 0) {
            moves.push(Buff {}.into());
        }
        moves
    }
}

/// Moves that lay ink, after some that have been made, with what goes between them and after them: the brush for each, a
/// look, drying, and the last masks lifted.
pub fn with_care(made: &[Move], laid: Vec<Move>, materials: &Arc<Materials>) -> Vec<Move> {
    let mut moves = dried(made, laid, materials);
    moves.extend(all_off(&surface_after(materials.clone(), &moves).masks));
    moves
}

/// The same, with the last masks still on.
fn dried(made: &[Move], laid: Vec<Move>, materials: &Arc<Materials>) -> Vec<Move> {
    let mut moves = made.to_vec();
    moves.extend(with_brushes(surface_after(materials.clone(), made), laid));
    // Where water has come over it since, it has been looked at and has dried.
    let last = moves.iter().rfind(|m| m.stays());
    // After what was melted or raised there is nothing left to dry.
    let is_dry = matches!(last, Some(Move::Melt(_) | Move::Raise(_)));
    if last.is_some_and(|last| !last.wets()) && moves.iter().any(|m| m.laying().is_some()) {
        moves.push(Look {}.into());
        moves.extend((!is_dry).then(|| Dry {}.into()));
    }
    wiped_off(made.len(), moves, materials)
}

/// The same, with the ink that stands on melted powder wiped off while it is wet: off white powder after each colour, off other
/// after all that is laid in one go, or sooner where that takes too long.
fn wiped_off(made: usize, moves: Vec<Move>, materials: &Arc<Materials>) -> Vec<Move> {
    if !moves.iter().any(|m| matches!(m, Move::Melt(_))) {
        return moves;
    }
    let mut now = Surface::bare(materials.clone());
    let mut wiped: Vec<Move> = Vec::with_capacity(moves.len());
    // When, and of which ink, the first stands there that has not been wiped off.
    let mut stands: Option<(u32, usize)> = None;
    let is_white = |now: &Surface| {
        now.embossing.sealed.iter().any(|sealed| sealed.seal.of == Hard::Powder(ink::Powder::White))
    };
    for (at, m) in moves.into_iter().enumerate() {
        let mut after = now.clone();
        m.make(&mut after);
        let laying = m.laying();
        let stays = |(since, ink): (u32, usize)| {
            let is_same = laying.is_some_and(|laying| laying.ink == ink || !is_white(&now));
            (!m.is_step() || is_same) && after.seconds() - since <= WIPES_OFF
        };
        if at >= made && stands.is_some_and(|stands| !stays(stands)) {
            Move::from(Buff {}).make(&mut now);
            wiped.push(Buff {}.into());
            stands = None;
        }
        if let Some(laying) = laying.filter(|laying| now.goes_over_powder(laying.on)) {
            stands = stands.or(Some((now.seconds(), laying.ink)));
        }
        if matches!(m, Move::Buff(_)) {
            stands = None;
        }
        m.make(&mut now);
        wiped.push(m);
    }
    wiped.extend(stands.map(|_| Move::from(Buff {})));
    wiped
}

/// Moves in an order of the maker's own, after some that have been made, with brushes shared out anew.
pub fn shared_out(made: &[Move], rest: Vec<Move>, materials: &Arc<Materials>) -> Vec<Move> {
    let mut moves = made.to_vec();
    let steps = rest.into_iter().filter(Move::is_step).collect();
    moves.extend(with_brushes(surface_after(materials.clone(), made), steps));
    moves
}

/// Lays a scene: the moves, in order.
pub fn lay(scene: &Scene, materials: &Arc<Materials>, school: School) -> Vec<Move> {
    lay_on(&[], scene, materials, school)
}

/// Lays what is still missing of a scene once some moves have been made.
pub fn lay_on(made: &[Move], scene: &Scene, materials: &Arc<Materials>, school: School) -> Vec<Move> {
    Plan::of(scene, materials, school, Covering::default()).laid_on(made)
}
