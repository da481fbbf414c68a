//! What can be asked from outside of how a scene is covered?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::check::{Broken, check};
use super::cost::Cost;
use super::cover::{Covering, Scenery};
use crate::ink::Powder;
use crate::length::Units;
use crate::moves::{Breach, Move, Technique};
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
}

/// One way to lay a scene.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CoverWay {
    /// How it was decided what is covered when.
    pub covering: Covering,
    /// The things by their places from front to back, and the ground as nothing, in the order they are laid.
    pub order: Vec<Option<usize>>,
    /// The things that get a plug.
    pub plugs: Vec<usize>,
    /// Things that are sealed under clear powder instead of covered by a plug: it looks otherwise, raised and glossy.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub sealed: Vec<usize>,
    /// Pieces put on where nothing guides them.
    pub by_eye: usize,
    /// What it costs.
    pub cost: Cost,
    /// The moves.
    pub moves: Vec<Move>,
}

/// The ways to lay a panel's scene, the one that takes least first; one that lays it as another does is left out.
pub fn ways(panel: &Panel) -> Vec<CoverWay> {
    let mut ways: Vec<CoverWay> = Vec::new();
    for covering in Covering::ALL {
        let way = way(panel, covering);
        if ways.iter().all(|known| known.moves != way.moves) {
            ways.push(way);
        }
    }
    // Colour trapped under powder needs no plug.
    let plugs = ways.first().map_or(&[][..], |way| &way.plugs);
    let sealed: Vec<usize> =
        plugs.iter().copied().filter(|thing| panel.scene.things[*thing].is_inked()).collect();
    if !sealed.is_empty() {
        let trapped = trapped(panel, &sealed);
        ways.push(CoverWay { sealed, ..way(&trapped, Covering::Fewest) });
    }
    ways
}

/// The panel with the colour of some things trapped under clear powder.
#[must_use]
pub fn trapped(panel: &Panel, things: &[usize]) -> Panel {
    let mut trapped = panel.clone();
    for thing in things {
        if let Some(thing) = trapped.scene.things.get_mut(*thing) {
            thing.resist = Some(Powder::Clear);
        }
    }
    trapped
}

fn way(panel: &Panel, covering: Covering) -> CoverWay {
    let materials = panel.materials();
    let scenery = Scenery::of(&panel.scene, &materials);
    let scheme = scenery.scheme(covering);
    let laid = Panel { covering, moves: Vec::new(), done: 0, ..panel.clone() }.laid();
    CoverWay {
        covering,
        by_eye: scenery.effort(&scheme).by_eye,
        order: scheme.order,
        plugs: scheme.plugs,
        sealed: Vec::new(),
        cost: Cost::of(&laid.moves, &materials),
        moves: laid.moves,
    }
}

impl CoverAsked {
    /// Lays it each way.
    ///
    /// # Errors
    /// None: the panel was checked as it was read.
    pub fn answer(&self) -> Result<CoverSeen, std::convert::Infallible> {
        Ok(CoverSeen { ways: ways(&self.panel) })
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
