//! What is on the card after some of the moves? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`materials`] | which card, tool and films is it made with? |
//! | [`masks`] | which pieces of masking sheet are there, and what does each cover? |
//! | [`pile`] | which mask lies on which, and what is done so that others lie there? |
//! | [`coat`] | how much of one laying of ink lies where? |
//! | [`wet`] | what comes on the card wet, and what comes of it? |
//! | [`film`] | what does water, or what came with it, leave on the card? |
//! | [`brushes`] | what is on each brush, and which is in hand? |
//! | [`embossing`] | what is sticky, powdered or sealed on it? |
//! | [`standing`] | what lies on the card as it stands, in which order, and how damp? |
//! | [`soaked`] | what is wet on it, and what lies at a place once water has been there? |
//! | [`heated`] | may a heat tool come near while a mask is on? |
//! | `strays` | where does powder stray to, and which ink stands on what is melted? |
//! | [`harm`] | what has come out otherwise than it was meant to? |
//! | [`hurt`] | what does a broken rule do to the card? |
//! | `passes` | how long is a light pass over a field? |
//! | [`area`] | where have the same moves reached the card? |
//! | [`lattice`] | at which places is it enough to look? |
//!
//! Picture, judgements and run sheet read the card from here and know nothing of the moves that made it.

pub mod area;
pub mod brushes;
pub mod coat;
pub mod embossing;
pub mod film;
pub mod harm;
pub mod heated;
pub mod hurt;
pub mod lattice;
pub mod masks;
pub mod materials;
mod passes;
pub mod pile;
pub mod soaked;
pub mod standing;
mod strays;
pub mod wet;

pub use area::Area;
pub use brushes::Brushes;
pub use coat::Coat;
pub use embossing::{Embossing, Hard, Seal};
pub use film::{Layer, WetFilm};
pub use heated::Heated;
pub use lattice::Lattice;
pub use masks::{Mask, Masks, Part};
pub use materials::Materials;
pub use pile::Handled;
pub use standing::{Moment, Spot, Surface};
pub use wet::Wet;
