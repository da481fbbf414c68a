//! Which moves make the scene, with all that goes between?
//!
//! What is laid when was [decided](super::cover) for the scene as a whole; each thing and the ground is laid as the
//! [school](super::school) has it. Between them masks go on and come off, and ink dries before either; brushes are taken up
//! and wiped; at the end comes a look, drying, and the last masks are lifted.

use std::sync::Arc;

use super::brushes::with_brushes;
use super::cover::{Scenery, Wearing};
use super::school::layings;
use super::wet::Wetted;
use crate::moves::{
    Laying, Move, Technique, all_off, anti_static::AntiStatic, buff::Buff, cool::Cool, dry::Dry, look::Look,
    mask_off::MaskOff, mask_on::MaskOn, melt::Melt, powder::Powder, raise::Raise, sticky::Sticky,
    surface_after,
};
use crate::scene::Scene;
use crate::scene::{Covering, School};
use crate::shape::Use;
use crate::surface::{Mask, Materials, Part, Surface};

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
        let (mut masks, mut is_damp) = (now.masks.clone(), now.is_damp());
        for (on, wearing) in &self.worn {
            let blends = on.map_or(&self.scene.ground[..], |thing| self.scene.things[thing].blends());
            let laid = layings(made, (*on, blends), self.materials, self.school);
            let seal = on.and_then(|thing| Some((thing, self.scene.things[thing].resist?)));
            let seal =
                seal.filter(|(thing, _)| !now.embossing.sealed.iter().any(|sealed| sealed.thing == *thing));
            if laid.is_empty() && seal.is_none() {
                continue;
            }
            let raise = on.filter(|thing| self.is_unraised(*thing, &now));
            let wanted = masks_of(*wearing);
            let on: Vec<Mask> = wanted.iter().copied().filter(|mask| !masks.contains(mask)).collect();
            let off = masks.iter().copied().filter(|mask| !wanted.contains(mask));
            // A stencil that is wanted again where it lies stays there.
            let stays = |mask: &Mask| on.iter().any(|new| self.is_kept(*mask, *new));
            let off: Vec<Mask> = off.filter(|mask| !stays(mask)).collect();
            if is_damp && !(off.is_empty() && on.is_empty()) {
                moves.push(Dry {}.into());
            }
            // A piece that guides another stays until that one lies; one that would be in its way goes first.
            let goes_first = |mask: &&Mask| on.iter().any(|new| self.is_in_the_way(**mask, *new));
            let (first, later): (Vec<&Mask>, Vec<&Mask>) = off.iter().partition(goes_first);
            moves.extend(first.into_iter().map(|mask| MaskOff(*mask).into()));
            moves.extend(on.iter().map(|mask| MaskOn(*mask).into()));
            moves.extend(later.into_iter().map(|mask| MaskOff(*mask).into()));
            if let Some(thing) = raise {
                moves.extend(is_damp.then(|| Dry {}.into()));
                // What lies there would be pressed into the card.
                moves.extend(all_off(&wanted));
                moves.push(Raise { thing }.into());
                moves.extend(wanted.iter().map(|mask| MaskOn(*mask).into()));
                is_damp = false;
            }
            is_damp = (is_damp && off.is_empty() && on.is_empty()) || !laid.is_empty();
            moves.extend(laid);
            masks = wanted;
            if let Some((thing, powder)) = seal {
                moves.extend(is_damp.then(|| Dry {}.into()));
                moves.extend([AntiStatic {}.into(), Sticky { thing }.into()]);
                moves.extend(masks.drain(..).map(|mask| Move::from(MaskOff(mask))));
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
        self.scene.things[thing].shape.used == Use::Raised && !now.raised.contains(&thing)
    }

    /// Whether a mask that lies there is another that is wanted, with its tape moved.
    fn is_kept(&self, lying: Mask, new: Mask) -> bool {
        let things = &self.materials.masks.things;
        (lying.part, new.part) == (Part::Frame, Part::Frame)
            && things[lying.thing].is_twin(&things[new.thing])
    }

    /// Whether a mask that lies there has to go before another can lie: where it is the same piece, or no jig for it.
    fn is_in_the_way(&self, lying: Mask, new: Mask) -> bool {
        let masks = &self.materials.masks;
        (new.thing == lying.thing && masks.things[lying.thing].is_loose)
            || (masks.piece(lying).is_some()
                && masks.piece(lying) == masks.piece(new)
                && lying.part == Part::Frame)
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
        let mut moves = with_care(made, self.missing(made), self.materials);
        let mut end = surface_after(self.materials.clone(), &moves);
        let last = self.wetted.after(&moves, &end);
        last.iter().for_each(|m| m.make(&mut end));
        moves.extend(last);
        // What fell on what is sealed stands there until it is wiped off.
        if end.films.iter().any(|film| film.sealed > 0) {
            moves.push(Buff {}.into());
        }
        moves
    }
}

fn masks_of(wearing: Wearing) -> Vec<Mask> {
    let of = |bits: u32, part: Part| {
        (0..32).filter(move |thing| bits & (1 << thing) != 0).map(move |thing| Mask { thing, part })
    };
    of(wearing.plugs, Part::Plug).chain(of(wearing.frames, Part::Frame)).collect()
}

/// Moves that lay ink, after some that have been made, with what goes between them and after them: the brush for each, a
/// look, drying, and the last masks lifted.
pub fn with_care(made: &[Move], laid: Vec<Move>, materials: &Arc<Materials>) -> Vec<Move> {
    let mut moves = made.to_vec();
    moves.extend(with_brushes(surface_after(materials.clone(), made), laid));
    // Where water has come over it since, it has been looked at and has dried.
    let last = moves.iter().rfind(|m| m.stays());
    if last.is_some_and(|last| !last.wets()) && moves.iter().any(|m| m.laying().is_some()) {
        moves.extend([Look {}.into(), Dry {}.into()]);
    }
    let mut end = Surface::bare(materials.clone());
    moves.iter().for_each(|m| m.make(&mut end));
    // Ink that went over what is sealed stands on it until it is wiped off.
    if end.coats.iter().any(|coat| coat.sealed > 0) {
        moves.push(Buff {}.into());
    }
    moves.extend(all_off(&end.masks));
    moves
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
