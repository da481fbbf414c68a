//! What does water do? It carries ink, and what it carries is somewhere afterwards.
//!
//! | file | question |
//! |---|---|
//! | [`raster`] | how much lies in each quarter of a millimetre? |
//! | [`drops`] | where do drops fall, and how large are they? |
//! | [`fibre`] | how does the card's grain break up an edge? |
//! | [`puddle`] | how does ink lie once a puddle has dried? |
//! | [`mat`] | what lies on the work mat, and what does a press take of it? |
//! | [`picture`] | what does what was pressed look like? |
//! | [`ask`] | what can be asked from outside? |

pub mod ask;
pub mod drops;
pub mod fibre;
pub mod mat;
pub mod picture;
pub mod puddle;
pub mod raster;

pub use drops::Drop;
pub use mat::{Mat, Movement, Pressed};
pub use raster::Raster;
