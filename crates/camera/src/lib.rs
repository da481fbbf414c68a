//! A camera that was never built: it takes photos of pages and panels that were never laid, with all that a phone in a
//! maker's hand does to colours, and the truth of them is known. It shares no way of drawing or reckoning with the eye
//! that reads its photos: light goes through it in spectra.
//!
//! | file | question |
//! |---|---|
//! | [`chance`] | which draws come of a seed? |
//! | [`light`] | what falls on the table? |
//! | [`scene`] | what lies on the table? |
//! | [`phone`] | what does a phone make of light? |
//! | [`shot`] | how is it held, what is in the way, and what does the file hold? |
//! | [`hand`] | what inks are there, and how does a hand lay them on a swatch frame? |
//! | [`plan`] | which panels might be planned? |
//! | [`panel`] | how does a hand lay a panel, and what goes wrong? |

#![forbid(unsafe_code)]
#![warn(missing_docs)]

pub mod chance;
pub mod hand;
pub mod light;
pub mod panel;
pub mod phone;
pub mod plan;
pub mod scene;
pub mod shot;
