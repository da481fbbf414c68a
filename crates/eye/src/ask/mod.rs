//! What can be asked from outside? Each question is a document that is read, and its answer one that is written; the picture comes
//! in beside it, as pixels.
//!
//! | file | question |
//! |---|---|
//! | [`swatch`] | what does a photo of swatches say of the inks on it? |
//! | [`inspect`] | what does a photo of a panel say, held against its plan? |

pub mod inspect;
pub mod swatch;

pub use inspect::{InspectAsked, InspectSeen};
pub use swatch::{Placed, SwatchAsked};
