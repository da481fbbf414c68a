//! Will it be smooth and clean, and what repairs it? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`limits`] | where does each judgement draw its line? |
//! | [`meeting`] | what happens where two inks meet? |
//! | [`sequence`] | in which order should the inks stand side by side? |
//! | [`direction`] | along which way do the bands run, and from which edge are they measured? |
//! | [`field`] | how many veils of an ink lie where? |
//! | [`reading`] | what will the laid blend look like along its path, and what is wrong with it? |
//! | [`remedy`] | which change mends it? |
//!
//! The judgements, each with its measure:
//!
//! | judgement | measure | why this one |
//! |---|---|---|
//! | hard edge | ΔE00 a millimetre along the path | steps are seen as differences, whatever their cause |
//! | dark band | L* below the darker side | films add up, and the eye reads bands by lightness |
//! | mud | Oklab chroma kept of what the two sides have | hue-steady chroma; grey and brown are its loss |
//! | splotch | ΔE00 of one standard deviation of the film | unevenness is seen as difference too |
//! | overload | veils in one place | card pills or stops taking up ink |

pub mod direction;
pub mod field;
pub mod limits;
pub mod meeting;
pub mod reading;
pub mod remedy;
pub mod sequence;

pub use direction::Direction;
pub use field::{Blend, Field, Reach};
pub use meeting::{Meeting, Verdict, meet};
pub use reading::{Finding, Reading, Rule};
pub use remedy::Remedy;
pub use sequence::best_sequence;
