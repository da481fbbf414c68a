//! Any change that can be made of a panel, as one message.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{Edit, blend, came, card, cover, water};

/// A change of any kind.
#[expect(clippy::large_enum_variant, reason = "one is made at a time")]
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum AnyEdit {
    /// Of a blend of the ground.
    Blend(blend::Bend),
    /// Of what stands on it.
    Cover(cover::Change),
    /// Of what is done with water.
    Water(water::Change),
    /// Of its card.
    Card(card::Change),
    /// Of what lies there by now, where it came out otherwise.
    CameOut(came::CameOut),
}

impl AnyEdit {
    /// The change itself.
    pub fn of_its_kind(&self) -> &dyn Edit {
        match self {
            AnyEdit::Blend(edit) => edit,
            AnyEdit::Cover(edit) => edit,
            AnyEdit::Water(edit) => edit,
            AnyEdit::Card(edit) => edit,
            AnyEdit::CameOut(edit) => edit,
        }
    }
}
