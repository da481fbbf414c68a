//! `rosy-veil schema`: the shape of a panel's document.

use rosy_core::Panel;
use schemars::schema_for;

/// Prints it.
pub fn run() -> Result<(), String> {
    let schema = serde_json::to_string_pretty(&schema_for!(Panel)).map_err(|error| error.to_string())?;
    super::streams::print(&format!("{schema}\n"))
}
