//! What does a drawer of inks hold for a wish? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`pairs`] | what does every pair of inks make, and what does it cost to have them side by side? |
//! | [`bridge`] | which ink between two makes their joins cleanest? |
//! | [`path`] | which run of inks leads most cleanly from one to another? |
//! | [`darker`] | which inks are the darker set to a light one? |
//! | [`near`] | what comes nearest to a colour: one ink at so many veils, or one over another? |
//! | [`saw`] | which few colours does a picture show? |
//! | [`lacks`] | which colours would mend most joins, or reach what nothing reaches? |
//! | [`stand_in`] | what comes nearest on a panel where an ink of it is not owned? |
//!
//! All answers are exact for the costs they are asked of. A drawer is a list of inks; an answer names them by their places
//! in it.

pub mod bridge;
pub mod darker;
pub mod lacks;
pub mod near;
pub mod pairs;
pub mod path;
pub mod saw;
pub mod stand_in;

pub use bridge::bridges;
pub use lacks::{Lack, Lacking, lacking};
pub use near::{Laid, Near, nearest, nearest_to_each};
pub use pairs::{Costs, Swatch, meetings};
pub use path::{Path, path};
pub use saw::{Saw, colours_of};
pub use stand_in::{StandIn, stand_ins, standing_in};
