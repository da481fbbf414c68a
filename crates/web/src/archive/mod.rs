//! A whole bench in one file: what is in the archive, and what is read of one that is brought.
//!
//! A ZIP file with open formats inside. `bench.json` says what it is; `things/` has a JSON list for each kind, `changes.json`
//! what can be undone, `photos/` the photos. That is all that is read again. For people and other programs there are `inks.csv`,
//! `made.csv` and `pictures/` besides, drawn from the rest.
//!
//! | file | question |
//! |---|---|
//! | [`packed`] | how is a bench written into an archive, part by part? |
//! | [`unpacked`] | what of an archive can be taken, and what is refused? |
//! | [`parts`] | how does what was taken go from there into the database? |

mod packed;
mod parts;
mod unpacked;

use rosy_core::Units;
use rosy_core::ink::Name;
use serde::{Deserialize, Serialize};

pub use packed::{Packing, changes, of_rows, table_of};
pub use parts::{Parts, head_of};
pub use unpacked::unpacked;

/// Most bytes of an archive that is brought.
pub const MOST_BYTES: usize = 192 << 20;
/// What an archive says that it is, and the latest way in which they are written.
const FORMAT: &str = "rosy-veil bench";
const VERSION: u32 = 1;

/// What stands at its head.
#[derive(Serialize, Deserialize)]
struct Head {
    format: String,
    version: u32,
    name: Name,
    units: Units,
}
