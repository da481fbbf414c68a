//! The model behind Rosy Veil: what colour it will be, whether it will be smooth and clean, in what
//! order it is laid, and what it will look like. No input or output, no clock, no chance but what is
//! passed in.
//!
//! The folders follow the order of the work at the bench.

#![forbid(unsafe_code)]
#![warn(missing_docs)]

pub mod again;
pub mod alter;
pub mod ask;
pub mod blend;
pub mod card;
pub mod colour;
pub mod cut;
pub mod document;
pub mod drawing;
pub mod drill;
pub mod edges;
pub mod edit;
pub mod evening;
pub mod ink;
pub mod judgement;
pub mod learn;
pub mod length;
pub mod merge;
pub mod moves;
pub mod order;
pub mod panel;
pub mod picture;
pub mod place;
pub mod planned;
pub mod practice;
pub mod record;
pub mod say;
pub mod scene;
pub mod search;
pub mod shape;
pub mod supply;
pub mod surface;
pub mod thing;
pub mod water;
pub mod wish;

pub use length::{Length, Units};
pub use panel::Panel;
