//! Which outlines are there, and can they be cut? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`region`] | what of a sheet lies inside, and what is left when one part is taken from another? |
//! | [`sides`] | which sides of a region lie near a place? |
//! | [`crossings`] | how often do the lines of a drawing cross one another? |
//! | [`coverage`] | how much of each cell of a raster, or pixel, lies inside a region? |
//! | [`outline`] | what is the edge of a shape? |
//! | [`family`] | which shapes are there, and by which measures are they drawn? |
//! | [`draw`] | how is each family drawn? |
//! | [`letters`] | which outline has a word? |
//! | [`svg`] | a drawing that the maker brings: what is an outline, what is refused, and why? |
//! | [`eye`] | what would fall out, tear, or be cut wrongly? |
//! | [`bridge`] | what holds the islands of a stencil? |
//! | [`piece`] | which pieces come of a cut? |
//! | [`kept`] | which shapes does a bench keep? |
//! | [`steps`] | how is an edge repeated so that its humps never line up? |
//! | [`words`] | how is what is wrong with a shape told? |

pub mod bridge;
pub mod coverage;
pub mod crossings;
pub mod depth;
pub mod draw;
pub mod eye;
pub mod family;
pub mod kept;
pub mod letters;
pub mod measure;
pub mod outline;
pub mod piece;
pub mod region;
pub mod sides;
pub mod steps;
pub mod svg;
pub mod words;

pub use depth::Depth;
pub use eye::{Fault, Material, Use};
pub use family::Drawn;
pub use kept::Shape;
pub use outline::Outline;
pub use piece::{Cut, Part};
pub use region::Region;
