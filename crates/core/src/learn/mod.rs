//! What do a maker's own times say?
//!
//! | file | question |
//! |---|---|
//! | [`figure`] | which figures can be learned, and what does the field guide give for them? |
//! | [`estimate`] | what is a figure most likely, and how sure is that? |
//! | [`pace`] | which figures does a maker plan with? |
//! | [`ask`] | what can be asked from outside? |

pub mod ask;
pub mod estimate;
pub mod figure;
pub mod pace;

pub use estimate::{Estimate, Prior};
pub use figure::Figure;
pub use pace::Pace;
