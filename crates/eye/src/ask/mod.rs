//! What can be asked from outside? Each question is a document that is read, and its answer one that is written; the picture comes
//! in beside it, as pixels.
//!
//! | file | question |
//! |---|---|
//! | [`swatch`] | what does a photo of swatches say of the inks on it? |
//! | [`drill`] | how well was a strip laid that was practised on? |
//! | [`inspect`] | what does a photo of a panel say, held against its plan? |

pub mod drill;
pub mod inspect;
pub mod swatch;

pub use drill::{DrillAsked, DrillSeen};
pub use inspect::{InspectAsked, InspectSeen};
pub use swatch::{Placed, SwatchAnswer, SwatchAsked};
