//! In which order is it laid? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`school`] | how does each school lay the same scene? |
//! | [`cover`] | in which order are things and ground laid, and which plugs does that take? |
//! | [`unseen`] | what of a scene is never seen, however it is laid? |
//! | [`brushes`] | which brush lays what, and where is it wiped? |
//! | [`wet`] | which moves do the wet deeds of a scene mean? |
//! | [`plan`] | which moves make the scene, with all that goes between? |
//! | [`check`] | which rules of the craft do some moves break, and what puts it right? |
//! | [`hand`] | what can a maker change about the moves herself? |
//! | [`own`] | what of such an order is kept when something else is wanted? |
//! | [`pieces`] | which pieces are cut beforehand? |
//! | [`cost`] | what does a way of laying cost? |
//! | [`bow`] | how far does a panel bow once its water has dried? |
//! | [`sheet`] | what does the maker read at the bench, step by step? |
//! | [`laid`] | which moves have been made, and which are laid after them? |
//! | [`ways`] | which ways are there to cover it, and what does each take? |
//! | [`anew`] | what is laid when something else is wanted? |
//! | [`ticks`] | what becomes of the steps already done when the plan changes? |

pub mod anew;
pub mod bow;
pub mod brushes;
pub mod check;
pub mod cost;
pub mod cover;
pub mod hand;
pub mod laid;
pub mod own;
pub mod pieces;
pub mod plan;
pub mod school;
pub mod sheet;
pub mod ticks;
pub mod unseen;
pub mod ways;
pub mod wet;

pub use bow::Bow;
pub use brushes::Dirt;
pub use cost::Cost;
pub use plan::{Plan, lay, lay_on};
pub use sheet::{RunSheet, Step, brushes_used};
pub use ticks::what_changes;
