//! What scripts and programs ask for.

pub mod ask;
pub mod benches;
pub mod blend;
pub mod card;
pub mod cover;
pub mod edit;
pub mod evenings;
mod hills;
pub mod inks;
pub mod look;
pub mod made;
pub mod panels;
pub mod picture;
pub mod saw;
pub mod shapes;
pub mod shown;
pub mod stock;
pub mod swatches;
pub mod water;
pub mod wishes;
