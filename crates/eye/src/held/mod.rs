//! What of a panel is not as it was planned? A photo of it held against the plan. In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`wanted`] | what should be seen at each place? |
//! | [`seen`] | what does the photo show there? |
//! | [`flaw`] | what is not as planned? |
//! | [`edges`] | what happened along edges? |
//! | [`things`] | is what should stay bright bright, and does what should show stand out? |
//! | [`words`] | is a word read on the ground as it came? |
//! | [`strength`] | how strong did each ink come, all over? |
//! | [`local`] | where does it differ within a few millimetres? |
//! | [`passes`] | how many light passes lie where? |
//! | [`mend`] | what is to come now, if the rest is planned from there? |
//! | [`hold`] | all of it together |
//! | [`drilled`] | how well was a strip laid that was practised on? |
//! | [`telling`] | how is it told? |

#[cfg(test)]
mod drawn;
pub mod drilled;
pub mod edges;
pub mod flaw;
pub mod hold;
pub mod local;
pub mod mend;
pub mod passes;
pub mod seen;
pub mod strength;
pub mod telling;
pub mod things;
pub mod wanted;
pub mod words;
