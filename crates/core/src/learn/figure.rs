//! Which figures can be learned, and what does the field guide give for them?
//!
//! All times that a maker can have otherwise stand in one table; what a technique takes is so many times one of them.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::estimate::Prior;
use crate::ink::{Kind, measured};

/// How unlike makers, rooms and cards are, as the standard deviation of the logarithm of a time (chosen: two makers in three
/// lie between two thirds and one and a half of the guide's figure; drying, which goes by the room, twice as far).
const HANDS: f64 = 0.4;
const DRYING: f64 = 0.7;

/// What the field guide gives for a figure.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Guide {
    /// Seconds of hands.
    Hands(u32),
    /// Minutes in air, least and most.
    Air((u32, u32)),
}

use Guide::{Air, Hands};

macro_rules! figures {
    ($($(#[$doc:meta])* $name:ident: $words:literal, $guide:expr;)+) => {
        /// A time that differs from maker to maker.
        #[derive(
            Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema,
        )]
        #[serde(rename_all = "kebab-case")]
        pub enum Figure {
            $($(#[$doc])* $name,)+
        }

        impl Figure {
            /// All of them.
            pub const ALL: &[Figure] = &[$(Figure::$name),+];

            /// What it is, in the maker's words.
            pub const fn words(self) -> &'static str {
                match self { $(Figure::$name => $words,)+ }
            }

            const fn given(self) -> Guide {
                match self { $(Figure::$name => $guide,)+ }
            }
        }
    };
}

// Seconds of hands are chosen, but where a figure of the ink stands for them.
figures! {
    /// Until dye is touch dry in air.
    DyeDries: "dye until it is touch dry", Air(measured::touch_dry_minutes(Kind::Dye));
    /// Until oxide is.
    OxideDries: "oxide until it is touch dry", Air(measured::touch_dry_minutes(Kind::Oxide));
    /// Until pigment is.
    PigmentDries: "white until it is touch dry", Air(measured::touch_dry_minutes(Kind::Pigment));
    /// Until a card that water stood on is.
    WetCardDries: "wet card until it is touch dry", Air(measured::WET_MINUTES);
    /// Until paste is hard.
    PasteDries: "paste until it is hard", Air(measured::PASTE_MINUTES);
    /// One light pass over a field.
    LightPass: "one light pass", Hands(measured::SECONDS_A_VEIL);
    /// One wipe of a brush.
    Wipe: "one wipe of the brush", Hands(measured::SECONDS_A_WIPE);
    /// A mask put on.
    MaskOn: "putting a mask on", Hands(60);
    /// A strip of tape laid along an edge.
    TapeOn: "taping an edge", Hands(20);
    /// A mask lifted.
    MaskOff: "lifting a mask", Hands(20);
    /// A panel dried with heat, the tool warm.
    Heat: "drying a card with heat", Hands(measured::SECONDS_OF_HEAT);
    /// An anti-static bag wiped over a panel.
    AntiStatic: "wiping an anti-static bag over it", Hands(20);
    /// Sticky ink dabbed on inside a frame.
    Sticky: "sticky ink inside a frame", Hands(40);
    /// Powder poured on, tipped off, and strays brushed away.
    Powder: "powder, and its strays", Hands(45);
    /// What is sealed, buffed with a dry cloth.
    Buff: "buffing what is sealed", Hands(30);
    /// A stencil laid on, paste scraped over it, the stencil lifted, what is left brought back to the jar.
    Paste: "paste through a stencil", Hands(120);
    /// One dab of a pad on the mat.
    Dab: "one dab of a pad on the mat", Hands(4);
    /// One pump of mist, over the mat or the card.
    Mist: "one pump of mist", Hands(3);
    /// A card pressed on the mat, and lifted.
    Press: "pressing a card on the mat", Hands(25);
    /// One pump of a spray, or one splash.
    Spray: "one pump of a spray", Hands(4);
    /// A brush loaded, and flecks flicked.
    Flick: "flicking flecks", Hands(45);
    /// One fleck placed.
    PlaceFleck: "placing one fleck", Hands(4);
    /// A stencil wetted, laid on and pressed down.
    Lift: "laying a wet stencil on", Hands(60);
    /// Water blotted.
    Blot: "blotting", Hands(20);
    /// A pad taken over the card once.
    Swipe: "going over a card with a pad", Hands(15);
    /// A stamp inked, pressed and lifted once.
    Print: "one print of a stamp", Hands(20);
    /// A card laid in a folder and run through the machine.
    Raise: "raising a pattern", Hands(90);
}

impl Figure {
    /// The figure of an ink's drying.
    pub const fn drying(kind: Kind) -> Figure {
        match kind {
            Kind::Dye => Figure::DyeDries,
            Kind::Oxide => Figure::OxideDries,
            Kind::Pigment => Figure::PigmentDries,
        }
    }

    /// What the field guide gives, in seconds: in the middle between its least and its most, as times go.
    pub fn guide(self) -> f64 {
        match self.given() {
            Hands(seconds) => f64::from(seconds),
            Air((least, most)) => 60.0 * (f64::from(least) * f64::from(most)).sqrt(),
        }
    }

    /// The same in minutes, least and most.
    pub const fn guide_minutes(self) -> (u32, u32) {
        match self.given() {
            Hands(seconds) => (seconds / 60, seconds.div_ceil(60)),
            Air(minutes) => minutes,
        }
    }

    /// What is known of it before anything is logged.
    pub fn prior(self) -> Prior {
        let wide = if matches!(self.given(), Air(_)) { DRYING } else { HANDS };
        Prior { middle: self.guide().ln(), wide }
    }
}
