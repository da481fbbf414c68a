//! What is the card made of, how large is every piece, and where is it marked? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`format`](mod@format) | which sizes do cards come in, and what base is cut and scored for each? |
//! | [`fit`] | how does one rectangle stand in another, and what of it can be worked out? |
//! | [`mount`] | how is a layer held to the one beneath? |
//! | [`shaped`] | which shapes are cut through a layer, and what becomes of what comes out? |
//! | [`layers`] | base, mats, panel, windows: how large is each and what shows of it? |
//! | [`inking`] | how far over the finished size is it inked, and where does the tape go? |
//! | [`trim`] | where is it cut so that a feature stays in its place? |
//! | [`envelope`] | what does it go into? |
//! | [`bulk`] | how thick and stiff does it become, and what brings it under the limit? |
//! | [`plan`] | all of it together, for one panel |
//! | [`drawing`] | all of it drawn to scale |

pub mod bulk;
pub mod drawing;
pub mod envelope;
pub mod fit;
pub mod format;
pub mod inking;
pub mod layers;
pub mod mount;
pub mod plan;
pub mod shaped;
pub mod trim;

pub use bulk::{Bulk, DieCut};
pub use envelope::Envelope;
pub use fit::Reveal;
pub use format::{Base, Fold, Format};
pub use inking::Tape;
pub use layers::{Layer, Placed, Role};
pub use mount::Mount;
pub use plan::{Card, CutOut, Inked, Made};
pub use shaped::Shaped;
pub use trim::Trim;
