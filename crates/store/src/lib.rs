//! What a maker's bench keeps: inks, papers, tools, panels, and every change to them, in PostgreSQL.
//!
//! | file | what it keeps |
//! |---|---|
//! | `store` | the connection |
//! | [`migration`] | the tables |
//! | [`entity`] | their rows |
//! | [`bench`] | who owns everything |
//! | [`thing`] | inks, papers, tools, panels, formats, sheets, the batch: one row each, its body the core's own document |
//! | [`change`] | every change with what was before and after, so that it can be undone and redone |
//! | [`panel`] | panels saved from several tabs |
//! | [`evening`] | what is told of an evening |
//! | [`photo`] | photos of what was made |
//! | [`archive`] | a whole bench, out and in |
//! | `letters` | what a text may hold to be kept |
//!
//! Every query takes the bench it is for: nothing can be fetched without its owner.

#![forbid(unsafe_code)]
#![warn(missing_docs)]

pub mod archive;
pub mod bench;
pub mod change;
mod entity;
pub mod evening;
mod letters;
mod migration;
pub mod panel;
pub mod photo;
mod store;
pub mod thing;

pub use bench::Bench;
pub use change::{Change, Scope};
pub use panel::{PanelState, Save, Saved};
pub use store::{Store, StoreError};
pub use thing::{Kept, Thing};
