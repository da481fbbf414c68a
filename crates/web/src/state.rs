//! What does a page know of its panel?

use rosy_core::Panel;
use rosy_store::PanelState;
use serde::Serialize;

/// A panel as kept, what undo and redo would do, and what there is to say about how it came to be so.
#[derive(Serialize)]
pub struct State {
    pub panel: Panel,
    pub revision: i64,
    pub undo: Option<String>,
    pub redo: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub said: Option<String>,
    /// The blend that is looked at then, where the change was to one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub blend: Option<usize>,
}

impl State {
    /// The same with something more to be known.
    pub fn and(self, says: Option<String>) -> State {
        let said = match (says, self.said) {
            (Some(says), Some(said)) => Some(format!("{says} {said}")),
            (says, said) => says.or(said),
        };
        State { said, ..self }
    }
}

impl From<PanelState> for State {
    fn from(state: PanelState) -> State {
        let PanelState { panel, revision, undo, redo } = state;
        State { panel, revision, undo, redo, said: None, blend: None }
    }
}
