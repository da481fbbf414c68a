//! What colour is it? From the eye's tables to names in plain words, in reading order:
//!
//! | file | question |
//! |---|---|
//! | [`observer`] | what do the eye and the light do to a spectrum? |
//! | [`lab`] | which colour is it, how far from another, and how is it shown on a screen? |
//! | [`spectrum`] | which smooth reflectance has this colour? |
//! | [`name`] | what would a maker call it? |
//! | [`written`] | how does a person write a colour? |
//! | [`cgats`] | how are measured colours written in a file? |
//!
//! Which measure to use when:
//!
//! | to say | use | because |
//! |---|---|---|
//! | how different two colours look | CIEDE2000 ([`Lab::difference`]) | made for small and middling differences |
//! | how light a colour is | L* of [`Lab`] | what the model's limits are stated in |
//! | how colourful it is, what hue | OKLCh ([`Lab::oklch`]) | its hues stay put as chroma changes, blues above all |
//! | whether a word reads on a ground | WCAG 2 contrast ([`Lab::contrast`]) | the published rule for text |

pub mod cgats;
pub mod lab;
pub mod name;
pub mod observer;
pub mod spectrum;
pub mod written;

pub use lab::{ColourError, Lab, Srgb};
pub use name::ColourName;
pub use observer::{BANDS, Illuminant};
pub use spectrum::Spectrum;
pub use written::Colour;
