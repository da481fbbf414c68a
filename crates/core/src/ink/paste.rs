//! Texture paste: what does it make of what lies under it?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::colour::Lab;

/// A paste that is scraped through a stencil and dries hard.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Paste {
    /// White, dull and thick.
    #[default]
    White,
    /// White, with a few drops of an ink stirred in: the ink by its place in the panel's list, from 0.
    Tinted(usize),
    /// Mica in a clear gel: pale and glossy, and what lies under it shows through.
    Shimmer,
}

/// White paste (chosen; under D65).
pub const WHITE: Lab = Lab { l: 94.5, a: -0.3, b: 2.2 };
/// What flakes of mica throw back (chosen; under D65), and the share of the card that they cover in a scrape.
pub const MICA: Lab = Lab { l: 93.0, a: 1.2, b: 6.0 };
/// See [`MICA`].
pub const MICA_COVERS: f64 = 0.5;
/// Full swatches of ink that a few drops stirred into white come to (chosen).
pub const TINT: f64 = 0.4;

impl Paste {
    /// The ink stirred into it.
    pub const fn ink(self) -> Option<usize> {
        match self {
            Paste::Tinted(ink) => Some(ink),
            Paste::White | Paste::Shimmer => None,
        }
    }

    /// The same with the inks in other places; nothing where its ink has gone.
    pub fn with_inks_moved(self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Paste> {
        match self {
            Paste::Tinted(ink) => to(ink).map(Paste::Tinted),
            paste => Some(paste),
        }
    }
}
