//! What is in the drawer, and what does a film of it do to the colour beneath? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`measured`] | which physical numbers does the model rest on, and where do they come from? |
//! | [`kind`] | dye, oxide or pigment: how does it cover, dry and bloom? |
//! | [`film`] | what does one ink at one amount do to what lies beneath? |
//! | [`stack`] | what colour are several films, one over the other? |
//! | [`few`] | the same in a few broad bands, quickly enough for every cell of a picture |
//! | [`exp`] | e to a power, quickly enough for that |
//! | [`samples`] | what do measured samples say of inks? |
//! | [`family`] | which colour family does an ink belong to? |
//! | [`drawer`] | what does a maker own: inks and papers? |
//! | [`powder`] | what does embossing powder make of what lies under it? |
//! | [`paste`] | what does texture paste make of what lies under it? |
//! | [`tool`] | what carries the ink, how many of it are there, and what is each kept for? |

pub mod drawer;
pub mod exp;
pub mod family;
pub mod few;
pub mod film;
pub mod kind;
pub mod measured;
pub mod paste;
pub mod powder;
pub mod samples;
pub mod stack;
pub mod tool;

pub use drawer::{DrawerError, Finish, Ink, Name, Paper, named};
pub use family::Family;
pub use film::Film;
pub use kind::Kind;
pub use paste::Paste;
pub use powder::Powder;
pub use stack::Stack;
pub use tool::{Brush, KeptFor, Tool, ToolKind};
