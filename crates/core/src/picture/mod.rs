//! What will it look like? From the surface to pixels, in the order the work passes through:
//!
//! | file | question |
//! |---|---|
//! | [`grain`] | how uneven is a veil, and what does the card's tooth do? |
//! | [`table`] | which colour lies at each place, and how does it give when a film is thicker? |
//! | [`wet`] | how do X, Y and Z change where water has been? |
//! | [`flecks`] | how do flecks look, one by one? |
//! | [`pressed`] | what does what was pressed off the mat look like? |
//! | [`draw`] | which colour has each pixel? |
//! | [`file`] | as which file is it kept? |
//!
//! A spectrum for each pixel would take minutes. Colours are worked out once for each of the places
//! of a lattice, together with how ln X, ln Y and ln Z move with each ink's film; a pixel then
//! costs a few lookups and three exponentials. That is exact for the mean film and first order around it.

pub mod draw;
pub mod file;
pub mod flecks;
pub mod grain;
pub mod pressed;
pub mod table;
pub mod wet;

pub use draw::{Picture, Size, SizeError, draw};
