//! What can be asked from outside of how a scene is covered?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::judgement::unseen;
use crate::length::Units;
use crate::moves::{Breach, Move, Technique};
use crate::order::check::{Broken, check};
use crate::order::ways::{CoverWay, ways};
use crate::panel::Panel;

/// A panel whose scene is to be laid.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct CoverAsked {
    /// The panel; its moves are not looked at.
    pub panel: Panel,
}

/// The ways to lay a scene, the one that takes least first.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CoverSeen {
    /// Each way that lays it differently.
    pub ways: Vec<CoverWay>,
    /// What comes out nowhere, however it is laid.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub says: Vec<String>,
}

impl CoverAsked {
    /// Lays it each way.
    ///
    /// # Errors
    /// None: the panel was checked as it was read.
    pub fn answer(&self) -> Result<CoverSeen, std::convert::Infallible> {
        Ok(CoverSeen { ways: ways(&self.panel), says: unseen::told(&self.panel) })
    }
}

/// A panel whose moves are to be checked.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct CheckAsked {
    /// The panel, with its moves.
    pub panel: Panel,
    /// The units of the measures in what is said.
    #[serde(default)]
    pub units: Units,
}

/// What some moves break.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CheckSeen {
    /// In the order of the moves; empty where all is well.
    pub findings: Vec<BrokenSeen>,
}

/// A rule broken, and how it is put right.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct BrokenSeen {
    /// The rule.
    pub rule: Breach,
    /// The move, by its place from 0; the number of moves where it is the end that breaks it.
    #[serde(rename = "move")]
    pub at: usize,
    /// What the move is called.
    pub title: String,
    /// What happens, why, and the remedy.
    pub says: String,
    /// What the maker has said to it, where she leaves it so.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub accepted: Option<String>,
    /// What puts it right, in a few words.
    pub repair: String,
    /// The moves with it put right.
    pub mended: Vec<Move>,
}

impl CheckAsked {
    /// Goes through them.
    ///
    /// # Errors
    /// None: the panel was checked as it was read.
    pub fn answer(&self) -> Result<CheckSeen, std::convert::Infallible> {
        let (panel, materials) = (&self.panel, self.panel.materials());
        let seen = |broken: Broken| BrokenSeen {
            rule: broken.breach,
            at: broken.at,
            title: panel
                .moves
                .get(broken.at)
                .map_or("the end".into(), |m| m.words(&panel.after(broken.at), self.units).title),
            accepted: broken.accepted(panel).map(|one| one.note.clone()),
            repair: broken.repair(&materials),
            mended: broken.mended(panel).moves,
            says: broken.says,
        };
        Ok(CheckSeen { findings: check(panel).into_iter().map(seen).collect() })
    }
}
