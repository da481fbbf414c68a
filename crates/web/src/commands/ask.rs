//! `rosy-veil ask`: the model's answers for programs.

use super::streams::{print, read_all};
use crate::questions;

/// Reads standard input and answers on standard output.
pub fn run(name: &str, schema: bool) -> Result<(), String> {
    questions::known(name)?;
    let seen = if schema {
        questions::schema(name)?
    } else {
        questions::answer(
            name,
            &read_all(std::io::stdin(), "standard input", questions::most_bytes(name) as u64)?,
        )?
    };
    print(&format!("{seen:#}\n"))
}
