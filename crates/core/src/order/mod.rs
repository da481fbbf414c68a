//! In which order is it laid? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`moves`] | what is one move, and how much film does it leave where? |
//! | [`school`] | how does each school lay the same fields? |
//! | [`sheet`] | what does the maker read at the bench, step by step? |

pub mod moves;
pub mod school;
pub mod sheet;

pub use moves::{Move, Purpose};
pub use school::{Cost, School, lay};
pub use sheet::{RunSheet, Step};
