//! What comes from outside is worked on apart: by a child of this program that has only so much time and memory, and that
//! can be ended at any moment. In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`limits`] | how much may be sent, and how much may be spent on it? |
//! | [`errand`] | what is done apart? |
//! | [`hand`] | how is a child begun, told what to do, and ended? |
//! | [`child`] | what does the child do? |

pub mod child;
pub mod errand;
pub mod hand;
pub mod limits;

pub use errand::Errand;
pub use hand::{Ended, Hand};
