//! `rosy-veil ask`: the model's answers for programs.

use super::streams::{print, read_all};
use crate::questions;

/// Longest document read, in bytes.
const LONGEST: u64 = 4 << 20;

/// Reads standard input and answers on standard output.
pub fn run(name: &str, schema: bool) -> Result<(), String> {
    questions::known(name)?;
    let seen = if schema {
        questions::schema(name)?
    } else {
        questions::answer(name, &read_all(std::io::stdin(), "standard input", LONGEST)?)?
    };
    print(&format!("{seen:#}\n"))
}
