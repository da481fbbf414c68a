//! What does water do? It carries ink, and what it carries is somewhere afterwards.
//!
//! | file | question |
//! |---|---|
//! | [`raster`] | how much lies in each quarter of a millimetre? |
//! | [`drops`] | where do drops fall, and how large are they? |
//! | [`fibre`] | how does the card's grain break up an edge? |
//! | [`puddle`] | how does ink lie once a puddle has dried? |
//! | [`mat`] | what lies on the work mat, and what does a press take of it? |
//! | [`bench`] | what has become of the mat and the cards by now? |
//! | [`spray`] | what does a bottle leave on the card? |
//! | [`flecks`] | which drops does a wished look of flecks mean? |
//! | [`wash`] | what does water take of ink that lies there? |
//! | [`pad`] | what does an ink pad leave that goes straight to the card? |
//! | [`effect`] | what comes of something wet on the card? |

pub mod bench;
pub mod drops;
pub mod effect;
pub mod fibre;
pub mod flecks;
pub mod mat;
pub mod pad;
pub mod puddle;
pub mod raster;
pub mod spray;
pub mod wash;

pub use bench::Patch;
pub use drops::Drop;
pub use effect::Effect;
pub use flecks::{Flecks, Placed, Thrown};
pub use mat::{Mat, Movement, Pressed};
pub use pad::Pad;
pub use raster::Raster;
pub use spray::{Spray, Tilt};
