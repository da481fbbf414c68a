//! What is wanted on the panel? From front to back:
//!
//! | file | question |
//! |---|---|
//! | [`company`] | what goes with a thing: shadow, glow, parts, the same again |
//! | [`cells`] | what lies between the lines of a pattern, and which of it gets which ink? |
//! | [`lent`] | which stencil is there to lift colour with, or to scrape paste through? |
//! | [`texture`] | how is a raised pattern skimmed? |
//! | [`loose`] | what is done with water? |
//! | [`smooshed`] | how is a mat begun, and what is added to it? |
//! | [`room`] | where is there room for one thing more, or for several of a kind? |
//! | [`snap`] | where does a thing that is moved catch? |
//! | [`manner`] | in which manner is it laid? |
//! | [`whole`] | what is wanted, all together? |

pub mod cells;
pub mod company;
pub mod lent;
pub mod loose;
pub mod manner;
pub mod room;
pub mod smooshed;
pub mod snap;
pub mod texture;
pub mod whole;

pub use crate::thing::{Between, MOST_ON_ONE, MOST_THINGS, Thing, ThingError, Treatment};
pub use loose::{Loose, LooseError, Pressing, Smoosh};
pub use manner::{Covering, School};
pub use whole::{MOST_BLENDS, Scene, SceneError};
