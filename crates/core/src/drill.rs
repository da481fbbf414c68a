//! Which strips are there to practise on?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What is practised on a strip of scrap card.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Drill {
    /// Two inks that run into one another.
    Join,
    /// One light pass more in each field: an even ladder.
    Ladder,
    /// An ink that fades to nothing.
    Fade,
    /// A light middle that an ink closes in on.
    Glow,
    /// A clean edge round what a mask keeps white.
    Edge,
    /// A shape inked inside its frame, whose plug goes back in its place for the ground.
    Register,
}

impl Drill {
    /// All of them, the plainest first.
    pub const ALL: [Drill; 6] =
        [Drill::Ladder, Drill::Fade, Drill::Join, Drill::Glow, Drill::Edge, Drill::Register];

    /// What it is called.
    pub const fn words(self) -> &'static str {
        match self {
            Drill::Join => "a join of two inks",
            Drill::Ladder => "an even ladder",
            Drill::Fade => "a fade to nothing",
            Drill::Glow => "a glow",
            Drill::Edge => "a clean edge",
            Drill::Register => "a piece put back in register",
        }
    }

    /// What it teaches.
    pub const fn teaches(self) -> &'static str {
        match self {
            Drill::Join => "Two inks that meet with no line, no band and no more dullness than they must.",
            Drill::Ladder => {
                "Five fields, each one light pass deeper than the last: as much ink in every pass."
            }
            Drill::Fade => "An ink that grows lighter all the way and ends where it should, with no rim.",
            Drill::Glow => {
                "A light middle, in the middle and round, that the ink closes in on from all sides."
            }
            Drill::Edge => "A circle kept white by a mask, with no ink under its edge.",
            Drill::Register => {
                "A circle inked inside its frame, and then the ground with its plug on: no white rim, no dark one."
            }
        }
    }

    /// How many inks it takes.
    pub const fn inks(self) -> usize {
        match self {
            Drill::Join | Drill::Register => 2,
            Drill::Ladder | Drill::Fade | Drill::Glow | Drill::Edge => 1,
        }
    }
}
