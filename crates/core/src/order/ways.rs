//! Which ways are there to cover a scene, and what does each take?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::cost::Cost;
use super::cover::Scenery;
use crate::ink::Powder;
use crate::moves::Move;
use crate::panel::Panel;
use crate::scene::Covering;

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
