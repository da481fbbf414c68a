//! Which broken rules does the maker leave as they are?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::list::Move;
use super::rules::Breach;

/// Most findings of a panel that are left as they are.
pub const MOST_ACCEPTED: usize = 40;
/// The longest note to one, in characters.
pub const LONGEST_NOTE: usize = 400;

/// A finding that the maker leaves as it is.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Accepted {
    /// The rule.
    pub rule: Breach,
    /// The move that breaks it; nothing where it is the end that does.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub at: Option<Move>,
    /// Why it is left so, in her words.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
}
