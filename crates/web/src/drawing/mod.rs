//! Drawings of the core put on a page, into a file or on paper. In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`art`] | which areas, lines and letters is a drawing made of? |
//! | [`svg`] | as SVG, for a page or a file |
//! | [`shape`] | a shape as its page shows it |
//! | [`frame`] | the swatch frame to print |
//! | [`faces`] | with which letters is a file written? |
//! | [`pdf`] | as PDF pages at true scale, with a bar to check them by |

pub mod art;
pub mod faces;
pub mod frame;
pub mod pdf;
pub mod shape;
pub mod strip;
pub mod svg;
