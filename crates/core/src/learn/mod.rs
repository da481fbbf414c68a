//! What do a maker's own times say, and her own hand?
//!
//! | file | question |
//! |---|---|
//! | [`figure`] | which figures can be learned, and what does the field guide give for them? |
//! | [`estimate`] | what is a figure most likely, and how sure is that? |
//! | [`learned`] | what do the logs say, of everything together and of each ink, card, tool and room? |
//! | [`hand`] | what does a light pass of hers leave, by brush and card? |
//! | [`pace`] | which figures does a maker plan with? |

pub mod estimate;
pub mod figure;
pub mod hand;
pub mod learned;
pub mod pace;

pub use estimate::{Estimate, Prior};
pub use figure::Figure;
pub use hand::{Hand, Hands};
pub use pace::Pace;
