//! All techniques as one.

use std::sync::Arc;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::laying::Laying;
use super::rules::{Stage, Unmet};
use super::technique::{Technique, Words};
use super::{
    anti_static::AntiStatic, back::Back, blot::Blot, break_into::BreakInto, buff::Buff, cool::Cool, dab::Dab,
    dry::Dry, flick::Flick, heat::Heat, lay::Lay, lift::Lift, look::Look, mask_off::MaskOff, mask_on::MaskOn,
    melt::Melt, mist::Mist, mist_mat::MistMat, powder::Powder, press::Press, raise::Raise, spray::Spray,
    spread::Spread, sticky::Sticky, swipe::Swipe, take::Take, wipe::Wipe,
};
use crate::ink::Surface as Card;
use crate::length::Units;
use crate::surface::{Mask, Materials, Surface};

macro_rules! techniques {
    ($($(#[$doc:meta])* $name:ident,)+) => {
        /// One move of a plan.
        #[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
        #[serde(rename_all = "kebab-case", deny_unknown_fields)]
        pub enum Move {
            $($(#[$doc])* $name($name),)+
        }

        impl Technique for Move {
            fn is_possible(&self, stage: &Stage) -> bool {
                match self { $(Move::$name(it) => it.is_possible(stage),)+ }
            }
            fn act(&self, surface: &mut Surface) {
                match self { $(Move::$name(it) => it.act(surface),)+ }
            }
            fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
                match self { $(Move::$name(it) => it.unmet(surface),)+ }
            }
            fn hands(&self, with: &Materials) -> u32 {
                match self { $(Move::$name(it) => it.hands(with),)+ }
            }
            fn waits(&self, surface: &Surface) -> u32 {
                match self { $(Move::$name(it) => it.waits(surface),)+ }
            }
            fn words(&self, surface: &Surface, units: Units) -> Words {
                match self { $(Move::$name(it) => it.words(surface, units),)+ }
            }
            fn is_step(&self) -> bool {
                match self { $(Move::$name(it) => it.is_step(),)+ }
            }
            fn laying(&self) -> Option<&Laying> {
                match self { $(Move::$name(it) => it.laying(),)+ }
            }
            fn wets(&self) -> bool {
                match self { $(Move::$name(it) => it.wets(),)+ }
            }
            fn stays(&self) -> bool {
                match self { $(Move::$name(it) => it.stays(),)+ }
            }
            fn dries(&self) -> bool {
                match self { $(Move::$name(it) => it.dries(),)+ }
            }
            fn in_goes(&self, card: Card) -> Vec<Move> {
                match self { $(Move::$name(it) => it.in_goes(card).into_iter().map(Move::$name).collect(),)+ }
            }
            fn mask(&self) -> Option<Mask> {
                match self { $(Move::$name(it) => it.mask(),)+ }
            }
            fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Move> {
                match self { $(Move::$name(it) => it.with_things_moved(to).map(Move::$name),)+ }
            }
            fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Move> {
                match self { $(Move::$name(it) => it.with_inks_moved(to).map(Move::$name),)+ }
            }
        }

        $(impl From<$name> for Move {
            fn from(it: $name) -> Move {
                Move::$name(it)
            }
        })+
    };
}

techniques! {
    /// Lay an ink.
    Lay,
    /// Back with the one before.
    Back,
    /// Break an ink into another with what is left on the brush.
    BreakInto,
    /// Take up a brush.
    Take,
    /// Wipe the brush.
    Wipe,
    /// Put a mask on.
    MaskOn,
    /// Lift a mask.
    MaskOff,
    /// Wipe an anti-static bag over it.
    AntiStatic,
    /// Sticky ink on a thing.
    Sticky,
    /// Powder over it.
    Powder,
    /// Melt the powder.
    Melt,
    /// Let it cool.
    Cool,
    /// Buff what is sealed.
    Buff,
    /// Dab a pad on the mat.
    Dab,
    /// Mist the mat.
    MistMat,
    /// Press the card on the mat.
    Press,
    /// Spray it.
    Spray,
    /// Flick flecks.
    Flick,
    /// Mist the card.
    Mist,
    /// Lift ink with a wet stencil.
    Lift,
    /// Blot it.
    Blot,
    /// Spread paste.
    Spread,
    /// Take the pad straight to the card.
    Swipe,
    /// Raise a pattern.
    Raise,
    /// Look, and stop early.
    Look,
    /// Let it dry in air.
    Dry,
    /// Dry it with heat.
    Heat,
}

impl Move {
    /// Makes the move on a surface: what it does, and the time it takes.
    pub fn make(&self, surface: &mut Surface) {
        let waits = self.waits(surface);
        self.act(surface);
        surface.pass(self.hands(&surface.materials) + waits);
    }
}

/// The card as some moves leave it.
pub fn surface_after(materials: Arc<Materials>, moves: &[Move]) -> Surface {
    let mut surface = Surface::bare(materials);
    for m in moves {
        m.make(&mut surface);
    }
    surface
}

/// Masks lifted, one after the other.
pub fn all_off(masks: &[Mask]) -> impl Iterator<Item = Move> {
    masks.iter().map(|mask| MaskOff(*mask).into())
}
