//! The physical numbers of films on card, each with its unit and origin.
//!
//! *Fitted* means: least mean and worst CIEDE2000 together over the twenty solid overprints of the
//! print characterisations FOGRA28L, FOGRA29L, FOGRA39L, TR003 and TR005, all with one set of
//! numbers. *Field* means a figure in use at the bench. *Chosen* means a judgement by eye.

use std::sync::LazyLock;

use super::kind::Kind;
use crate::colour::{Illuminant, Lab, Spectrum};

/// Share of light inside that the surface throws back in (Saunderson's k2; fitted). The share
/// thrown back before light enters, his k1, came out as 0 and is left out.
pub const SURFACE_INSIDE: f64 = 0.84;
/// What a film takes on a full swatch of other ink, against bare card (fitted). Once a swatch's worth
/// covers the card the next film meets ink and no longer card, so more beneath changes nothing.
pub const TRAPPING: f64 = 0.80;

/// Bright white card, on which swatches are taken to be made (chosen; L*, a*, b* under D65).
pub const BRIGHT_WHITE: Lab = Lab { l: 96.5, a: 0.3, b: -1.8 };

/// The reflectance of that card, worked out once.
pub fn bright_white() -> &'static Spectrum {
    static CARD: LazyLock<Spectrum> = LazyLock::new(|| Spectrum::of(BRIGHT_WHITE, Illuminant::D65));
    &CARD
}

/// Reflectance over black of a full film that absorbs nothing (chosen): how far an ink covers.
pub const fn cover(kind: Kind) -> f64 {
    match kind {
        Kind::Dye => 0.0,
        Kind::Oxide => 0.07,
        Kind::Pigment => 0.60,
    }
}

/// How much more film a wet veil shows than the same veil dry, as a factor (chosen: dye dries a
/// little lighter and softer).
pub const fn wet_amount(kind: Kind) -> f64 {
    match kind {
        Kind::Dye => 1.12,
        Kind::Oxide => 1.08,
        Kind::Pigment => 1.0,
    }
}

/// Share of its scattering that a film shows while wet: the rest is the bloom it dries to (chosen).
pub const fn wet_scatter(kind: Kind) -> f64 {
    match kind {
        Kind::Dye => 0.0,
        Kind::Oxide => 0.55,
        Kind::Pigment => 0.9,
    }
}

/// Minutes until touch dry in air, least and most (field).
pub const fn touch_dry_minutes(kind: Kind) -> (u32, u32) {
    match kind {
        Kind::Dye => (1, 3),
        Kind::Oxide => (5, 10),
        Kind::Pigment => (15, 25),
    }
}

/// Up to what share of a full swatch dye is touch dry by the time a mask is moved (chosen: makers slide a pale edge down a panel
/// and go on).
pub const TINT: f64 = 0.45;

/// Minutes until a card that water stood on is touch dry in air, least and most (chosen).
pub const WET_MINUTES: (u32, u32) = (10, 20);
/// Minutes until texture paste is hard, least and most (field).
pub const PASTE_MINUTES: (u32, u32) = (30, 60);

/// Seconds to lay one veil over a usual field and work it in (chosen).
pub const SECONDS_A_VEIL: u32 = 25;
/// A usual field, in square millimetres: three quarters of a panel of 4 × 5 1/4 in (chosen, so that three inks over one take the 8
/// to 20 minutes that makers tell of).
pub const FIELD_MM2: f64 = 10_000.0;
/// The least part of that which any pass takes: the brush is loaded and dabbed off (chosen).
pub const LEAST_PASS: f64 = 0.2;
/// How much sooner a piece is moved on to the next thing of its shape than one is laid down and aligned anew (chosen).
pub const MOVED_ON: f64 = 0.4;
/// Seconds to wipe a brush once on a dry towel and dab it on scrap to see that it is clean (chosen).
pub const SECONDS_A_WIPE: u32 = 30;
/// Seconds to put one brush down and take another up (chosen).
pub const SECONDS_A_CHANGE: u32 = 10;
/// Seconds until melted powder is hard (chosen).
pub const SECONDS_OF_COOLING: u32 = 60;

/// What a brush still holds of the ink it was loaded with once that is laid, in light passes of that ink (chosen).
pub const fn held(kind: Kind) -> f64 {
    match kind {
        Kind::Dye => 0.10,
        Kind::Oxide => 0.14,
        Kind::Pigment => 0.25,
    }
}

/// What a brush gives of what it carries when it is worked over a place without being loaded again (chosen).
pub const SPENT: f64 = 0.6;

/// What a brush takes up of a damp film it is worked over, as a share of that film (chosen). Of a dry one it takes none.
pub const fn taken_up(kind: Kind) -> f64 {
    match kind {
        Kind::Dye => 0.03,
        Kind::Oxide => 0.05,
        Kind::Pigment => 0.08,
    }
}

/// What one wipe on a dry towel leaves of what is on a brush, as a share (chosen).
pub const WIPE_LEAVES: f64 = 0.12;
/// Wipes at once, at most: what they leave cannot be seen (chosen).
pub const MOST_WIPES: u8 = 3;
/// ΔE00 up to which nobody sees that what is laid of a clean ink has other ink in it (chosen: about the difference
/// at which two patches side by side can just be told apart).
pub const UNSEEN: f64 = 1.0;

/// Seconds of heat tool for a panel, and to warm it up first (field).
pub const SECONDS_OF_HEAT: u32 = 40;
/// Seconds the heat tool warms up before it comes near the card (field).
pub const SECONDS_OF_WARM_UP: u32 = 30;
