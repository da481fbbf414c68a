//! What runs into what? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`limits`] | where does each judgement draw its line? |
//! | [`meeting`] | what happens where two inks meet? |
//! | [`sequence`] | in which order should the inks stand side by side? |
//! | [`way`] | along which way does a blend run, and from where is it measured? |
//! | [`grip`] | by what is a way taken hold of, and what becomes of it then? |
//! | [`field`] | how many veils of an ink lie where? |

pub mod field;
pub mod grip;
pub mod limits;
pub mod meeting;
pub mod sequence;
pub mod way;

pub use field::{Blend, Field, Reach};
pub use meeting::{Meeting, Verdict, meet};
pub use sequence::best_sequence;
pub use way::{Way, WayError};
