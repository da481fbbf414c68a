//! In which order is it laid? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`moves`] | what is one move, and how much film does it leave where? |
//! | [`school`] | how does each school lay the same fields? |
//! | [`sheet`] | what does the maker read at the bench, step by step? |
//! | [`ticks`] | what becomes of the steps already done when the plan changes? |

pub mod moves;
pub mod school;
pub mod sheet;
pub mod ticks;

pub use moves::{Move, Purpose};
pub use school::{Cost, School, lay, lay_on};
pub use sheet::{RunSheet, Step};
pub use ticks::what_changes;
