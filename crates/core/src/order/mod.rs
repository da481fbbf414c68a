//! In which order is it laid? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`school`] | how does each school lay the same scene? |
//! | [`brushes`] | which brush lays what, and where is it wiped? |
//! | [`cost`] | what does a way of laying cost? |
//! | [`sheet`] | what does the maker read at the bench, step by step? |
//! | [`ticks`] | what becomes of the steps already done when the plan changes? |

pub mod brushes;
pub mod cost;
pub mod school;
pub mod sheet;
pub mod ticks;

pub use brushes::Dirt;
pub use cost::Cost;
pub use school::{School, lay, lay_on};
pub use sheet::{RunSheet, Step};
pub use ticks::what_changes;
