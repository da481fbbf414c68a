//! What can be asked of it from outside? `card`: format and layers in, every measure out. `trim`: where a piece is cut.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::card::bulk::{self, Build, Bulk, DieCut};
use crate::card::envelope::{Envelope, Posted};
use crate::card::format::{Base, Fold, Format};
use crate::card::inking::{self, Tape, Taped};
use crate::card::layers::{Layer, Placed, Role, stack};
use crate::card::plan::{CardError, check_limit, check_over, outline, pieces, says};
use crate::card::trim::{self, Refusal, Trimmed};
use crate::colour::Colour;
use crate::cut::Piece;
use crate::edges::Edges;
use crate::ink::drawer::CARD_LB;
use crate::ink::{Finish, Name, Paper, measured::BRIGHT_WHITE};
use crate::length::{Length, Units};
use crate::place::Point;

/// A card to be worked out. Whatever is left out of sizes, reveals and counts is worked out from the rest.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct CardAsked {
    /// The units its measures are said in.
    #[serde(default)]
    pub units: Units,
    /// The finished card, closed.
    pub format: FormatAsked,
    /// What the base is cut from; white card of 0.3 mm where it is left out.
    #[serde(default)]
    pub paper: Option<Paper>,
    /// What lies on the base, from the lowest up.
    #[serde(default)]
    pub layers: Vec<Layer>,
    /// How far over its finished size the panel is inked on each side; 1/4 in or 6 mm where it is left out.
    #[serde(default)]
    pub over: Option<Length>,
    /// Tape on the panel while it is inked.
    #[serde(default)]
    pub tape: Tape,
    /// A die cut on top.
    #[serde(default)]
    pub die_cut: Option<DieCut>,
    /// How thick the maker's own post takes it.
    #[serde(default, with = "crate::length::thickness::option")]
    #[schemars(with = "Option<Length>")]
    pub post_limit: Option<Length>,
    /// Envelopes to choose from; the usual ones where they are left out.
    #[serde(default)]
    pub envelopes: Option<Vec<Envelope>>,
}

/// A finished card; either side may be the unknown.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct FormatAsked {
    /// From left to right, closed.
    #[serde(default)]
    pub width: Option<Length>,
    /// From top to bottom, closed.
    #[serde(default)]
    pub height: Option<Length>,
    /// How it opens.
    #[serde(default)]
    pub fold: Fold,
    /// Trimmed from the inner edge of each flap, where flaps meet.
    #[serde(default = "crate::card::format::relief")]
    pub relief: Length,
}

/// Every measure of a card.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CardSeen {
    /// The finished card, closed: from left to right.
    pub width: Length,
    /// The finished card, closed: from top to bottom.
    pub height: Length,
    /// The flat base.
    pub base: Base,
    /// The layers, from the lowest up.
    pub layers: Vec<Placed>,
    /// The size to ink, where one of the layers is the panel.
    pub inked: Option<InkedSeen>,
    /// What is cut for one card.
    pub pieces: Vec<Piece>,
    /// What straight windows in mats leave over.
    pub spare: Vec<Piece>,
    /// How thick and stiff.
    pub bulk: Bulk,
    /// What it goes into.
    pub post: Posted,
    /// What to do and what to look out for.
    pub says: Vec<String>,
}

/// How large a panel is inked and where tape goes.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct InkedSeen {
    /// From left to right.
    pub width: Length,
    /// From top to bottom.
    pub height: Length,
    /// Where tape goes on it, measured from each edge, and what it leaves after the trim.
    pub tape: Taped,
    /// All that in a sentence.
    pub says: String,
}

impl CardAsked {
    /// Works it out.
    ///
    /// # Errors
    /// A [`CardError`] with the remedy: a contradiction by its figures, or the layer too little is known of.
    pub fn answer(&self) -> Result<CardSeen, CardError> {
        let units = self.units;
        let panels = self.layers.iter().filter(|layer| layer.role == Role::Panel).count();
        if panels > 1 {
            return Err(CardError::Panels(panels));
        }
        let stacked = stack((self.format.width, self.format.height), &self.layers, units)?;
        let name: Name = "Card".parse().expect("a name of four letters");
        let (width, height) = (stacked.width, stacked.height);
        let FormatAsked { fold, relief, .. } = self.format;
        let format = Format { name: name.clone(), width, height, fold, relief };
        format.check()?;
        let colour = Colour::Lab(BRIGHT_WHITE);
        let paper = self.paper.clone().unwrap_or_else(|| {
            let thickness = CARD_LB[0].1;
            let name = "White card".parse().expect("a name of ten letters");
            Paper { name, colour, surface: Finish::default(), thickness }
        });
        bulk::check_all(&paper, &self.layers, self.die_cut.as_ref())?;
        let base = format.base();
        let panel = stacked.layers.iter().find(|placed| placed.role == Role::Panel);
        let over = self.over.unwrap_or_else(|| inking::usual_over(units));
        check_over(over)?;
        check_limit(self.post_limit)?;
        let inked = match panel {
            None => None,
            Some(placed) => {
                let place = placed.place;
                self.tape.check(place)?;
                let (width, height) = inking::inked(place.width, place.height, over);
                let says = inking::says(place.width, place.height, over, units);
                Some(InkedSeen { width, height, tape: self.tape.laid(Edges::all(over), units), says })
            }
        };
        let size = inked.as_ref().map(|inked| (inked.width, inked.height));
        let (pieces, windows) = pieces(&base, &stacked, &paper, size, self.die_cut.as_ref());
        let spare = windows.into_iter().filter(|out| out.is_spare).map(|out| out.piece).collect();
        let outline = outline(&stacked, &paper, fold, self.die_cut.as_ref());
        let build = Build::of(fold.leaves(), &paper, &stacked, self.die_cut.as_ref());
        let usual = Envelope::usual();
        let envelopes = self.envelopes.as_ref().unwrap_or(&usual);
        for envelope in envelopes {
            envelope.check().map_err(CardError::Envelope)?;
        }
        Ok(CardSeen {
            says: says(&format, &stacked, units),
            bulk: Bulk::of(&build, self.post_limit, units),
            post: Posted::of(&outline, envelopes, units),
            layers: stacked.layers,
            width,
            height,
            base,
            inked,
            pieces,
            spare,
        })
    }
}

/// A piece to be trimmed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct TrimAsked {
    /// The units its measures are said in.
    #[serde(default)]
    pub units: Units,
    /// The piece as it is.
    pub piece: Size,
    /// What is to be left of it.
    pub finished: Size,
    /// The centre of what must keep its place, from the left and top edges of the piece; trimmed evenly where it is
    /// left out.
    #[serde(default)]
    pub feature: Option<Point>,
    /// Where that centre should stand on what is left; its middle where it is left out.
    #[serde(default)]
    pub at: Option<Point>,
}

/// A width and a height.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Size {
    /// From left to right.
    pub width: Length,
    /// From top to bottom.
    pub height: Length,
}

/// A trim, or why it cannot be.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "lowercase")]
pub enum TrimSeen {
    /// It can be cut.
    Trimmed(Trimmed),
    /// It cannot: the largest size that can, and the offset if the size is kept.
    Refused(Box<Refusal>),
}

impl TrimAsked {
    /// Works it out.
    ///
    /// # Errors
    /// [`CardError::Trim`] where a size or a place is none.
    pub fn answer(&self) -> Result<TrimSeen, CardError> {
        let (piece, finished) = (self.piece, self.finished);
        for (what, side) in [
            ("piece's width", piece.width),
            ("piece's height", piece.height),
            ("finished width", finished.width),
            ("finished height", finished.height),
        ] {
            if side <= Length::ZERO {
                return Err(CardError::Trim { what, length: side });
            }
        }
        for (point, within, what) in
            [(self.feature, piece, "feature's place"), (self.at, finished, "place wanted for the feature")]
        {
            let Some(point) = point else { continue };
            for (at, side) in [(point.left, within.width), (point.top, within.height)] {
                if !(Length::ZERO..=side).contains(&at) {
                    return Err(CardError::Trim { what, length: at });
                }
            }
        }
        let asked = trim::Trimming {
            piece: (piece.width, piece.height),
            finished: (finished.width, finished.height),
            feature: self.feature.map(|feature| (feature, self.at)),
        };
        Ok(match trim::trim(&asked, self.units) {
            Ok(trimmed) => TrimSeen::Trimmed(trimmed),
            Err(refusal) => TrimSeen::Refused(refusal),
        })
    }
}
