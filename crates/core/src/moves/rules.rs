//! What must be true before a move, and what puts it right where it is not?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::length::Length;
use crate::place::Extent;
use crate::surface::Mask;

/// What a panel has, that a move can name.
#[derive(Clone, Copy, Debug)]
pub struct Stage<'a> {
    /// How many inks.
    pub inks: usize,
    /// Its width and height.
    pub size: (Length, Length),
    /// How many things.
    pub things: usize,
    /// The boxes round them, from front to back, where moves are measured on them.
    pub boxes: &'a [Extent],
}

impl Stage<'_> {
    /// The width and height of what measures are taken on: a thing, or the ground. Nothing where there is no such thing.
    pub fn size_of(&self, on: Option<usize>) -> Option<(Length, Length)> {
        on.map_or(Some(self.size), |thing| self.boxes.get(thing).map(|extent| extent.size))
    }
}

/// The rule of the craft that a move breaks.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Breach {
    /// Another ink on the brush.
    DirtyBrush,
    /// An ink spent from a brush that carries none of it.
    BareBrush,
    /// A mask laid on damp ink.
    MaskOnDamp,
    /// A mask lifted while ink at its edge is damp.
    LiftedDamp,
    /// A heat tool over a mask.
    HeatOnMask,
    /// A mask that lies there already, or one to be lifted that does not lie there.
    NoSuchMask,
    /// Ink laid where masks cover all of it.
    AllCovered,
    /// Ink of a thing laid without its frame.
    NoFrame,
    /// Ink brushed round a thing without its plug.
    NoPlug,
    /// A mask lifted that lies under another.
    UnderAnother,
    /// A mask still there at the end.
    LeftOn,
    /// Ink of what is behind a thing laid over it, so that it is seen.
    Printed,
    /// A pattern that is to lie over what is sealed before it.
    PatternLost,
    /// Sticky ink on a panel that is not dried through.
    NotBoneDry,
    /// Sticky ink where no anti-static bag has been.
    NoAntiStatic,
    /// An anti-static bag over masks.
    BagOverMask,
    /// Powder with nothing to hold to, or heat with no powder to melt.
    NothingSticky,
    /// Ink over powder that is still hot.
    Hot,
    /// Sticky ink or powder that is never melted.
    NotMelted,
    /// Water on ink that is still damp.
    WaterOnDamp,
    /// Water where nothing reacts with it.
    NothingReacts,
    /// A card pressed again while it is damp.
    PressOnDamp,
    /// A press on a mat with no ink or no water.
    DryMat,
    /// More water than the card drinks.
    Soaked,
    /// Water on words in soluble ink that nothing covers.
    Runs,
    /// A blot where no water stands.
    NothingToBlot,
    /// A brush worked over wet card.
    BrushOnWet,
    /// A card run through the folder damp, or with a mask on it.
    RaisedUnready,
    /// Ink skimmed over a pattern that does not stand up yet.
    NotRaised,
    /// Paste scraped on while the card is damp.
    SpreadOnDamp,
    /// Something put or worked on paste that is still soft.
    PasteSquashed,
    /// Water after paste.
    PasteNotLast,
    /// Heat on paste that is still soft.
    PasteHeated,
    /// A pad on damp card.
    PadOnDamp,
}

/// What puts it right.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Mend {
    /// Let it dry first.
    DryFirst,
    /// Let it dry in air instead.
    DryInAir,
    /// Wipe the brush so often first.
    WipeFirst(u8),
    /// Leave the move out.
    LeaveOut,
    /// Put a mask on first, and lift it afterwards.
    MaskFirst(Mask),
    /// Lift a mask at the end.
    Lift(Mask),
    /// Wipe an anti-static bag over it first.
    WipeOverFirst,
    /// Lift a mask first.
    LiftFirst(Mask),
    /// Lift what lies on it first, and put that back where it is still wanted.
    UncoverFirst(Mask),
    /// Let it cool first.
    CoolFirst,
    /// Powder, where there is none yet, and melt it at the end.
    MeltAtTheEnd,
    /// Mist the mat first.
    MistFirst,
    /// Raise a thing's pattern first.
    RaiseFirst(usize),
    /// Take it in as many goes as the card drinks, dried between.
    InGoes,
    /// Lay sticky ink first, while what keeps it in its place still lies there.
    StickFirst,
    /// Leave a thing unsealed.
    Unseal(usize),
    /// Lay it anew as the program plans it.
    PlanAnew,
}

/// What is not as it must be before a move.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Unmet {
    /// The rule.
    pub breach: Breach,
    /// What happens, why, and the remedy.
    pub says: String,
    /// What puts it right.
    pub mend: Mend,
}
