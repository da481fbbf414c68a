//! All techniques as one.

use std::sync::Arc;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::laying::Laying;
use super::rules::{Stage, Unmet};
use super::step::{Begun, Offer, Step};
use super::technique::{Takes, Technique, Words};
use super::telling::{About, Telling, none_of};
use super::{
    anti_static::AntiStatic, back::Back, blot::Blot, break_into::BreakInto, buff::Buff, cool::Cool, dab::Dab,
    dry::Dry, edging::Edging, flick::Flick, heat::Heat, lay::Lay, lift::Lift, look::Look, mask_off::MaskOff,
    mask_on::MaskOn, melt::Melt, mist::Mist, mist_mat::MistMat, peel::Peel, powder::Powder, press::Press,
    print::Print, raise::Raise, spray::Spray, spread::Spread, stamp::Stamp, sticky::Sticky, swipe::Swipe,
    take::Take, tape::Tape, wipe::Wipe,
};
use crate::blend::Reach;
use crate::ink::{Finish, Ink};
use crate::learn::Figure;
use crate::length::Units;
use crate::place::{Point, Resized};
use crate::surface::{Handled, Mask, Materials, Surface};
use crate::water::Flecks;

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
            fn paced(&self, with: &Materials) -> Option<(Figure, f64)> {
                match self { $(Move::$name(it) => it.paced(with),)+ }
            }
            fn drying(&self, inks: &[Ink]) -> Option<Figure> {
                match self { $(Move::$name(it) => it.drying(inks),)+ }
            }
            fn takes(&self, surface: &Surface) -> Vec<Takes> {
                match self { $(Move::$name(it) => it.takes(surface),)+ }
            }
            fn made(&self) -> Option<&'static str> {
                match self { $(Move::$name(it) => it.made(),)+ }
            }
            fn readies(&self) -> bool {
                match self { $(Move::$name(it) => it.readies(),)+ }
            }
            fn is_on_mat(&self) -> bool {
                match self { $(Move::$name(it) => it.is_on_mat(),)+ }
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
            fn words_before(&self, surface: &Surface, rest: &[Move], units: Units) -> Words {
                match self { $(Move::$name(it) => it.words_before(surface, rest, units),)+ }
            }
            fn is_step(&self) -> bool {
                match self { $(Move::$name(it) => it.is_step(),)+ }
            }
            fn laying(&self) -> Option<&Laying> {
                match self { $(Move::$name(it) => it.laying(),)+ }
            }
            fn relaid(&self, veils: Vec<Reach>) -> Option<Move> {
                match self { $(Move::$name(it) => it.relaid(veils).map(Move::$name),)+ }
            }
            fn brushed(&self) -> Option<&Laying> {
                match self { $(Move::$name(it) => it.brushed(),)+ }
            }
            fn join(&self) -> Option<&Laying> {
                match self { $(Move::$name(it) => it.join(),)+ }
            }
            fn spends(&self) -> bool {
                match self { $(Move::$name(it) => it.spends(),)+ }
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
            fn in_goes(&self, card: Finish) -> Vec<Move> {
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

        impl Move {
            /// All techniques by their names.
            pub const NAMES: &[&str] = &[$(stringify!($name)),+];

            /// The name of its technique.
            pub const fn name(&self) -> &'static str {
                match self { $(Move::$name(_) => stringify!($name),)+ }
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
    /// Print a thing by its stamp.
    Print,
    /// Put a mask on.
    MaskOn,
    /// Lift a mask.
    MaskOff,
    /// Tape the edges of the panel.
    Tape,
    /// Peel that tape off.
    Peel,
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
    /// Press an inked stamp.
    Stamp,
    /// Brush an ink round a thing.
    Edging,
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
    /// A mask put on.
    pub fn covering(mask: Mask) -> Move {
        if mask == Mask::BORDER { Tape {}.into() } else { MaskOn(mask).into() }
    }

    /// A mask lifted.
    pub fn uncovering(mask: Mask) -> Move {
        if mask == Mask::BORDER { Peel {}.into() } else { MaskOff(mask).into() }
    }

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

/// A pile of masks lifted, the uppermost first.
pub fn all_off(pile: &[Mask]) -> impl Iterator<Item = Move> {
    pile.iter().rev().map(|mask| Move::uncovering(*mask))
}

/// What is done with masks, as moves.
pub fn handled(steps: Vec<Handled>) -> impl Iterator<Item = Move> {
    steps.into_iter().map(|step| match step {
        Handled::Off(mask) => Move::uncovering(mask),
        Handled::On(mask, _) => Move::covering(mask),
    })
}

macro_rules! steps {
    ($($(#[$attribute:meta])* $name:ident($technique:ty),)+) => {
        /// A technique that is asked for by itself.
        #[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
        #[serde(rename_all = "kebab-case")]
        pub enum WetStep {
            $($(#[$attribute])* $name($technique),)+
        }

        impl WetStep {
            /// All that can be asked for.
            pub fn offers() -> impl Iterator<Item = &'static Offer> {
                [].iter()$(.chain(<$technique>::OFFERS))+
            }

            /// Begins one, by the word of its offer.
            ///
            /// # Errors
            /// Where what it takes is not there, or nothing is called so.
            pub fn begun(offer: &str, about: &mut About) -> Result<Begun<WetStep>, String> {
                $(if <$technique>::OFFERS.iter().any(|one| one.key == offer) {
                    return Ok(<$technique>::begun(offer, about)?.map(WetStep::$name));
                })+
                Err(none_of(offer))
            }

            /// What stands at the head of a sentence on what cannot be done, and what its measures may be.
            pub const fn limits(&self) -> (&'static str, &'static str) {
                match self { $(WetStep::$name(_) => (<$technique>::NAME, <$technique>::LIMITS),)+ }
            }

            /// It as a move.
            pub fn as_move(&self) -> Move {
                match self { $(WetStep::$name(it) => it.clone().into(),)+ }
            }

            /// See [`Step::tell`].
            pub fn tell(&mut self, told: &mut Telling) {
                match self { $(WetStep::$name(it) => it.tell(told),)+ }
            }

            /// See [`Step::tell_more`].
            pub fn tell_more(&mut self, told: &mut Telling) {
                match self { $(WetStep::$name(it) => it.tell_more(told),)+ }
            }

            /// See [`Step::scaled`].
            ///
            /// # Errors
            /// Why there is no less and no more of it.
            pub fn scaled(&self, percent: u32) -> Result<WetStep, &'static str> {
                match self { $(WetStep::$name(it) => it.scaled(percent).map(WetStep::$name),)+ }
            }

            /// See [`Step::is_water`].
            pub fn is_water(&self) -> bool {
                match self { $(WetStep::$name(it) => Step::is_water(it),)+ }
            }

            /// See [`Step::is_blotted`].
            pub fn is_blotted(&self) -> bool {
                match self { $(WetStep::$name(it) => it.is_blotted(),)+ }
            }

            /// See [`Step::is_last`].
            pub fn is_last(&self) -> bool {
                match self { $(WetStep::$name(it) => it.is_last(),)+ }
            }

            /// See [`Step::has_stencil`].
            pub fn has_stencil(&self) -> bool {
                match self { $(WetStep::$name(it) => it.has_stencil(),)+ }
            }

            /// Whether it lies where a thing says: through a stencil of its own, or round a plug.
            pub fn has_place(&self) -> bool {
                self.has_stencil() || self.covers().is_some()
            }

            /// See [`Step::covers`].
            pub fn covers(&self) -> Option<usize> {
                match self { $(WetStep::$name(it) => it.covers(),)+ }
            }

            /// See [`Step::is_wet`].
            pub fn is_wet(&self) -> bool {
                match self { $(WetStep::$name(it) => it.is_wet(),)+ }
            }

            /// See [`Step::ink_mut`].
            pub fn ink_mut(&mut self) -> Option<&mut usize> {
                match self { $(WetStep::$name(it) => it.ink_mut(),)+ }
            }

            /// See [`Step::aim_mut`].
            pub fn aim_mut(&mut self) -> Option<&mut Point> {
                match self { $(WetStep::$name(it) => it.aim_mut(),)+ }
            }

            /// See [`Step::flecks_mut`].
            pub fn flecks_mut(&mut self) -> Option<&mut Flecks> {
                match self { $(WetStep::$name(it) => it.flecks_mut(),)+ }
            }

            /// See [`Technique::is_possible`].
            pub fn is_possible(&self, stage: &Stage) -> bool {
                match self { $(WetStep::$name(it) => it.is_possible(stage),)+ }
            }

            /// See [`Technique::with_things_moved`].
            pub fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<WetStep> {
                match self { $(WetStep::$name(it) => it.with_things_moved(to).map(WetStep::$name),)+ }
            }

            /// See [`Step::carried`].
            #[must_use]
            pub fn carried(&self, to: &Resized) -> WetStep {
                match self { $(WetStep::$name(it) => WetStep::$name(it.carried(to)),)+ }
            }
        }

        $(impl From<$technique> for WetStep {
            fn from(it: $technique) -> WetStep {
                WetStep::$name(it)
            }
        })+
    };
}

steps! {
    /// Flecks are flicked or placed.
    Flecks(Flick),
    /// It is sprayed.
    Spray(Spray),
    /// It is misted with so many pumps.
    #[serde(with = "bare::pumps")]
    #[schemars(with = "u8")]
    Mist(Mist),
    /// A wet stencil is laid on, of a thing by its place, and blotted.
    #[serde(with = "bare::thing")]
    #[schemars(with = "usize")]
    Lift(Lift),
    /// An ink pad is taken straight to the card.
    Pad(Swipe),
    /// A shape is stamped.
    Stamp(Stamp),
    /// An ink is brushed round a thing.
    Edging(Edging),
    /// Paste is scraped through the stencil of a thing, once all else that is wet has been done.
    Paste(Spread),
}

/// Techniques of one measure stand for it alone where they are asked for.
mod bare {
    macro_rules! bare {
        ($of:ident, $technique:ident, $measure:ty) => {
            pub mod $of {
                use serde::{Deserialize, Deserializer, Serialize, Serializer};

                use super::super::$technique;

                pub fn serialize<S: Serializer>(it: &$technique, serializer: S) -> Result<S::Ok, S::Error> {
                    it.$of.serialize(serializer)
                }

                pub fn deserialize<'de, D: Deserializer<'de>>(
                    deserializer: D,
                ) -> Result<$technique, D::Error> {
                    <$measure>::deserialize(deserializer).map(|$of| $technique { $of })
                }
            }
        };
    }

    bare!(pumps, Mist, u8);
    bare!(thing, Lift, usize);
}
