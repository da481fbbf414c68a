//! What does a photo show? Pixels in, findings out: no files, no clock, no chance. What is read is said with its spread, and
//! refused where it cannot be read.
//!
//! In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`picture`] | what is at a place of the photo? |
//! | [`rank`] | which value has such a share of all others below it? |
//! | [`frame`] | what is printed where on a swatch frame? |
//! | [`plane`] | where in the photo is a place of the page? |
//! | [`find`] | is there a frame, and where? |
//! | [`field`] | how much light falls where? |
//! | [`patch`] | what does one patch show, and can it be read? |
//! | [`phone`] | what does this phone do to colours? |
//! | [`strip`] | what ink is it, by its four patches? |
//! | [`over`] | how much of an ink is taken on another? |
//! | [`swatch`] | what does a photo of swatches say, from the pixels to the inks? |
//! | [`telling`] | how is that told? |
//! | [`outline`] | where does a panel lie? |
//! | [`held`] | what of a panel is not as planned? |
//! | [`ask`] | what can be asked from outside? |

#![forbid(unsafe_code)]
#![warn(missing_docs)]

pub mod ask;
pub mod field;
pub mod find;
pub mod frame;
pub mod held;
pub mod outline;
pub mod over;
pub mod patch;
pub mod phone;
pub mod picture;
pub mod plane;
pub mod rank;
pub mod strip;
pub mod swatch;
pub mod telling;
