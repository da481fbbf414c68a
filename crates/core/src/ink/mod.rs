//! What is in the drawer, and what does a film of it do to the colour beneath? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`measured`] | which physical numbers does the model rest on, and where do they come from? |
//! | [`kind`] | dye, oxide or pigment: how does it cover, dry and bloom? |
//! | [`film`] | what does one ink at one amount do to what lies beneath? |
//! | [`stack`] | what colour are several films, one over the other? |
//! | [`drawer`] | what does a maker own: inks, papers, tools? |

pub mod drawer;
pub mod film;
pub mod kind;
pub mod measured;
pub mod stack;

pub use drawer::{DrawerError, Ink, Name, Paper, Surface, Tool, ToolKind};
pub use film::Film;
pub use kind::Kind;
pub use stack::Stack;
