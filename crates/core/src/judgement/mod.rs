//! Will it be smooth and clean, and what repairs it? In reading order:
//!
//! | file | question |
//! |---|---|
//! | `view` | what is judged by itself? |
//! | [`sight`] | which colour is seen at a place, whatever masks and water have done there? |
//! | [`survey`] | what lies and shows at each place? |
//! | [`joins`] | how does each ink and each join come out? |
//! | [`finding`] | what will go wrong, and where? |
//! | [`standing_out`] | does each thing stand out from what is round it? |
//! | [`unseen`] | what of a scene comes out nowhere? |
//! | [`muddied`] | where does what water brought turn to mud with what lies there? |
//! | [`greeting`] | where is a greeting read best, and in which colour? |
//! | [`reading`] | how does the panel come out, all together? |
//! | [`fewest`] | how few light passes still look as smooth? |
//! | [`remedy`] | which change mends it? |
//! | [`told`] | how is it told? |
//!
//! The judgements, each with its measure:
//!
//! | judgement | measure | why this one |
//! |---|---|---|
//! | hard edge | ΔE00 a millimetre straight across | steps are seen as differences, whatever their cause |
//! | dark band | L* below the darker side | films add up, and the eye reads bands by lightness |
//! | mud | Oklab chroma kept of what the two sides have | hue-steady chroma; grey and brown are its loss |
//! | muddied | the same, of two inks that water brings together, and the share of the card | it has no join to be told by |
//! | splotch | ΔE00 of one standard deviation of the film | unevenness is seen as difference too |
//! | overload | veils in one place | card pills or stops taking up ink |
//! | weak ink | light passes of its full swatch, against what the card holds | it cannot get to its strength |
//! | faint thing | ΔE00 across its edge; for a word, contrast of light | what hardly differs vanishes, and words go by lightness |
//! | hidden thing, lost pattern | nothing of it is seen; powder beneath it takes no ink | what is not there is no matter of degree |
//! | strong ink | ΔE00 of one light pass from bare card | it cannot be laid light enough to fade |

pub mod fewest;
pub mod finding;
pub mod greeting;
pub mod joins;
pub mod muddied;
pub mod reading;
pub mod remedy;
pub mod sight;
pub mod standing_out;
pub mod survey;
pub mod told;
pub mod unseen;
mod view;

pub use fewest::fewest_passes;
pub use finding::{Finding, Rule};
pub use muddied::{Muddied, cleared, muddied};
pub use reading::Reading;
pub use remedy::{Owned, Remedy};
pub use sight::Sight;
