//! How is a batch of pieces cut from the sheets there are? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`piece`] | what is to be cut, and from what? |
//! | [`layout`] | how do pieces lie on a sheet so that every cut runs from edge to edge? |
//! | [`blocks`] | which pieces can come from one sheet together? All the ways, exactly |
//! | [`shelves`] | first-fit rows: how many sheets does it take without searching? |
//! | [`fill`] | corner by corner: many tries at a full sheet |
//! | [`bound`] | how few sheets can it possibly take? |
//! | [`fewest`] | sheet after sheet until fewer is proved impossible |
//! | [`job`] | which sheets, and which pieces from each? The best of all these |
//! | [`batch`] | the plan for a whole batch: sheets, cuts, offcuts |
//! | [`steps`] | in which order, and with which setting of the stop, is each cut made? |
//! | [`stock`] | what is gathered to be cut, and what is left once it is? |
//! | [`drawing`] | a sheet drawn to scale |
//! | [`tiles`] | how do the pieces of a shape lie on the sheets they are cut from? |
//! | [`machine`] | what does the cutting machine do with a sheet? |

pub mod batch;
mod blocks;
mod bound;
pub mod drawing;
mod fewest;
mod fill;
mod job;
pub mod layout;
pub mod machine;
pub mod piece;
mod shelves;
pub mod steps;
pub mod stock;
pub mod tiles;

pub use batch::{CutError, Plan, SheetAsked};
pub use layout::{Cell, Layout};
pub use piece::{Piece, Sheet};
pub use stock::Batch;
