//! What does a photo of swatches say of the inks on it?

use rosy_core::colour::{Colour, Illuminant, Lab};
use rosy_core::ink::measured::BRIGHT_WHITE;
use rosy_core::ink::{Ink, Kind};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::frame::{PLACES, Part, letters_of};
use crate::phone::{NoPhone, Phone};
use crate::picture::Picture;
use crate::swatch::{self, Before, Beside, Chart, Layout, Shown, SwatchError, SwatchesSeen};

/// What a photo of swatches says of the inks on it.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct SwatchAsked {
    /// The photo, in base64: JPEG, PNG, WebP or GIF.
    #[serde(default)]
    pub picture: String,
    /// The colour of the bare card; bright white where it is not told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub card: Option<Colour>,
    /// The outer corners of the swatch frame in the photo, in pixels: left and right above, left and right below. They are found
    /// by its marks where they are not told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub corners: Option<[[f64; 2]; 4]>,
    /// Where bare card and patches are, for swatches that lie on no frame.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shown: Option<ShownByHand>,
    /// The inks there are: those on the frame are found among them by what its marks tell. What is known of their colours is
    /// believed to about 5 (ΔE00), and tells what the phone does; where a phone is given, only those do whose spectrum was measured,
    /// since the others may have been read by it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub drawer: Vec<Ink>,
    /// The inks at places of the frame, by name, where its marks do not tell them, or tell others.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub inks: Vec<Placed>,
    /// A chart of known colours beside them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub chart: Option<ChartGiven>,
    /// What was found of this phone before.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub phone: Option<Phone>,
}

/// An ink at a place of the frame.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Placed {
    /// The place, 1 to 24: down the left column, then down the right.
    pub place: usize,
    /// What is on its lid.
    pub name: String,
    /// Its kind, where the drawer has not got it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kind: Option<Kind>,
}

/// Places in the photo that were shown, in pixels from its left upper corner.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ShownByHand {
    /// Bare card, at four places or more all about the patches.
    pub card: Vec<[f64; 2]>,
    /// The patches.
    pub patches: Vec<PatchShown>,
    /// How far about each of these it is even, in pixels.
    pub reach: f64,
}

/// A patch that was shown.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct PatchShown {
    /// What is on its lid.
    pub ink: String,
    /// What was laid: one, two, four or full.
    pub part: Part,
    /// Where.
    pub at: [f64; 2],
}

/// A chart of known colours.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ChartGiven {
    /// The middles of its four corner patches in the photo, in pixels: left and right above, left and right below.
    pub corners: [[f64; 2]; 4],
    /// Patches to a row.
    pub columns: usize,
    /// Their colours, row by row.
    pub colours: Vec<Colour>,
}

/// Why a photo of swatches says nothing, and what to change.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum AskError {
    /// It cannot be read.
    #[error(transparent)]
    Swatch(#[from] SwatchError),
    /// A colour is none.
    #[error("{0}")]
    Colour(String),
    /// A place there is not.
    #[error("place {0}: a frame has places 1 to {PLACES}")]
    Place(usize),
    /// A chart of another shape.
    #[error(
        "a chart of {count} colours in rows of {columns}: it takes whole rows, at least 2 of at least 2, and at most 200 colours"
    )]
    Chart {
        /// How many.
        count: usize,
        /// Patches to a row.
        columns: usize,
    },
    /// Too much shown.
    #[error("{0} patches and bare places were shown: show at most 500")]
    Shown(usize),
    /// Nothing laid.
    #[error("a patch of {0} is shown as bare card: what was laid on a patch is one, two, four or full")]
    Bare(String),
    /// No size.
    #[error("reach: {0} pixels about a place cannot be looked at: give 3 to 500")]
    Reach(f64),
    /// No phone.
    #[error("phone: {0}")]
    Phone(#[from] NoPhone),
}

impl SwatchAsked {
    /// Reads the photo.
    ///
    /// # Errors
    /// An [`AskError`] with the remedy.
    pub fn answer(&self, picture: Picture) -> Result<SwatchesSeen, AskError> {
        let (picture, factor) = picture.as_read();
        let factor = factor as f64;
        let (layout, inks) = self.layout(factor)?;
        let phone = self.phone.clone().unwrap_or_else(Phone::usual);
        phone.check()?;
        let by_letters = |letters: &str| {
            self.drawer.iter().find(|ink| letters_of(ink) == letters).map(|ink| self.before(ink))
        };
        let beside = Beside {
            card: lab_of(self.card.as_ref())?,
            phone,
            inks,
            chart: self.chart(factor)?,
            by_letters: &by_letters,
        };
        let mut seen = swatch::read(&picture, &layout, &beside)?;
        for strip in &mut seen.strips {
            strip.name = self.name_at(strip.place, strip.letters.as_deref());
        }
        Ok(seen.larger(factor))
    }

    /// Where the swatches are, and what is known of the ink at each place.
    fn layout(&self, factor: f64) -> Result<(Layout, Vec<Option<Before>>), AskError> {
        if let Some(shown) = &self.shown {
            let count = shown.card.len() + shown.patches.len();
            if count > 500 {
                return Err(AskError::Shown(count));
            }
            if !(3.0..=500.0).contains(&shown.reach) {
                return Err(AskError::Reach(shown.reach));
            }
            if let Some(patch) = shown.patches.iter().find(|patch| !Part::INKED.contains(&patch.part)) {
                return Err(AskError::Bare(patch.ink.clone()));
            }
            let names = shown.names();
            let patches = shown.patches.iter().map(|patch| {
                let ink = names.iter().position(|name| *name == patch.ink).unwrap_or_default();
                (ink, patch.part, patch.at.map(|along| along / factor))
            });
            let mut patches: Vec<_> = patches.collect();
            patches.sort_by_key(|(ink, part, _)| (*ink, *part));
            let card = shown.card.iter().map(|at| at.map(|along| along / factor)).collect();
            let inks = names.iter().map(|name| Some(self.known(name, None))).collect();
            return Ok((
                Layout::Shown(Shown { card, patches, reach: (shown.reach / factor).max(2.0) }),
                inks,
            ));
        }
        let mut inks = vec![None; PLACES];
        for placed in &self.inks {
            let slot = placed.place.checked_sub(1).and_then(|place| inks.get_mut(place));
            *slot.ok_or(AskError::Place(placed.place))? = Some(self.known(&placed.name, placed.kind));
        }
        let smaller = |corners: [[f64; 2]; 4]| corners.map(|corner| corner.map(|along| along / factor));
        Ok((self.corners.map_or(Layout::Frame, |corners| Layout::FrameAt(smaller(corners))), inks))
    }

    /// What is known of an ink by its name.
    fn known(&self, name: &str, kind: Option<Kind>) -> Before {
        let found = self.drawer.iter().find(|ink| ink.name.as_str().eq_ignore_ascii_case(name));
        found.map_or(Before { kind, ..Before::default() }, |ink| self.before(ink))
    }

    /// What is known of an ink of the drawer, and teaches what the phone does.
    fn before(&self, ink: &Ink) -> Before {
        let teaches = |colour: &Colour| self.phone.is_none() || matches!(colour, Colour::Reflectance(_));
        let lab =
            |colour: Colour| Some(colour).filter(teaches).and_then(|colour| colour.lab(Illuminant::D65).ok());
        Before { kind: Some(ink.kind), full: lab(ink.colour), one: ink.one_veil.and_then(lab) }
    }

    fn name_at(&self, place: usize, letters: Option<&str>) -> Option<String> {
        if let Some(shown) = &self.shown {
            return shown.names().get(place - 1).map(|name| (*name).to_owned());
        }
        let placed = self.inks.iter().find(|placed| placed.place == place).map(|placed| placed.name.clone());
        let by_mark = || self.drawer.iter().find(|ink| Some(letters_of(ink).as_str()) == letters);
        placed.or_else(|| by_mark().map(|ink| ink.name.to_string()))
    }

    fn chart(&self, factor: f64) -> Result<Option<Chart>, AskError> {
        let Some(given) = &self.chart else { return Ok(None) };
        let (count, columns) = (given.colours.len(), given.columns);
        if columns < 2 || count > 200 || count < 2 * columns || !count.is_multiple_of(columns) {
            return Err(AskError::Chart { count, columns });
        }
        let colours = given.colours.iter().map(|colour| lab_of(Some(colour)));
        Ok(Some(Chart {
            corners: given.corners.map(|corner| corner.map(|along| along / factor)),
            columns,
            colours: colours.collect::<Result<_, _>>()?,
        }))
    }
}

impl ShownByHand {
    /// The inks, in the order they were shown first.
    fn names(&self) -> Vec<&str> {
        let mut names: Vec<&str> = Vec::new();
        for patch in &self.patches {
            if !names.contains(&patch.ink.as_str()) {
                names.push(&patch.ink);
            }
        }
        names
    }
}

fn lab_of(colour: Option<&Colour>) -> Result<Lab, AskError> {
    colour.map_or(Ok(BRIGHT_WHITE), |colour| {
        colour.lab(Illuminant::D65).map_err(|error| AskError::Colour(error.to_string()))
    })
}
