//! What can be asked from outside? Each question is a document that is read, and its answer one that is written.
//!
//! | file | questions |
//! |---|---|
//! | [`blends`] | what inks make one over the other, how they meet, in which order they are laid, and what a panel comes to |
//! | [`card`] | how a card is made up, and where a panel is cut for it |
//! | [`edit`] | what becomes of a panel when something on it is changed |
//! | [`evening`] | when each step of several cards is done |
//! | [`hand`] | what the panels that a maker showed say of her hand |
//! | [`learn`] | what a maker's own times say |
//! | [`order`] | what is covered when, and which rules a panel breaks |
//! | [`search`] | what a drawer of inks holds for a wish |
//! | [`shape`] | whether an outline can be cut |
//! | [`strip`] | how a strip to practise on is planned |
//! | [`water`] | what comes off the mat, and where flecks fall |

pub mod blends;
pub mod card;
pub mod edit;
pub mod evening;
pub mod hand;
pub mod learn;
pub mod order;
pub mod search;
pub mod shape;
pub mod strip;
pub mod water;

pub use blends::{
    AskError, FilmLaid, InkGiven, Junction, JunctionSeen, Order, OrderSeen, Overprint, OverprintSeen,
    PanelAsked, PanelSeen, PaperColour, Seen,
};
