//! What can be asked of the model from outside? Each question is one document in and one out.
//!
//! The shapes are kept stable: the command line and the web interface serve the same ones.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::blend::{
    Verdict, best_sequence, meet,
    sequence::{MOST_INKS, cost_of, pair_costs},
};
use crate::colour::{Colour, ColourError, ColourName, Illuminant, Lab, Spectrum, Srgb};
use crate::ink::{DrawerError, Film, Kind, Stack, measured::BRIGHT_WHITE};
use crate::judgement::Reading;
use crate::length::Units;
use crate::order::RunSheet;
use crate::panel::{Panel, PanelError};

/// Most of one film, in swatches.
const MOST_AMOUNT: f64 = 20.0;
/// Most films in one overprint.
const MOST_FILMS: usize = 64;

/// Why a question has no answer, and what to change.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum AskError {
    /// The card's colour.
    #[error("paper: {0}")]
    Paper(ColourError),
    /// A film's or an ink's colour.
    #[error("{what} {place}: {error}")]
    Colour {
        /// `film` or `ink`.
        what: &'static str,
        /// Its place, counted from 1.
        place: usize,
        /// What.
        error: ColourError,
    },
    /// An amount that cannot be laid.
    #[error(
        "film {place}: amount {amount} cannot be laid: give 0 to {MOST_AMOUNT}, 1 being the swatch itself"
    )]
    Amount {
        /// Its place, counted from 1.
        place: usize,
        /// What was given.
        amount: f64,
    },
    /// Too many films.
    #[error("{0} films: give at most {MOST_FILMS}")]
    ManyFilms(usize),
    /// A junction is of two.
    #[error("a junction is where two inks meet, and {0} were given: give exactly two")]
    NotTwo(usize),
    /// Nothing, or too much, to put in order.
    #[error("{0} inks to put in order: give 1 to {MOST_INKS}")]
    HowMany(usize),
    /// The colour that is wished for.
    #[error("colour: {0}")]
    Wished(ColourError),
    /// Too few or too many of something.
    #[error("{given} {what}: give {least} to {most}")]
    HowManyOf {
        /// Of what.
        what: &'static str,
        /// How many were given.
        given: usize,
        /// The fewest.
        least: usize,
        /// The most.
        most: usize,
    },
    /// An ink that cannot be.
    #[error(transparent)]
    Drawer(#[from] DrawerError),
    /// A panel that cannot be.
    #[error(transparent)]
    Panel(#[from] PanelError),
}

/// The card's colour.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct PaperColour(pub Colour);

/// A colour told to programs: as measured and as shown.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Seen {
    /// Relative to the light of the question.
    pub lab: Lab,
    /// On a screen.
    pub srgb: Srgb,
}

impl Seen {
    pub(crate) fn of(lab: Lab, light: Illuminant) -> Seen {
        Seen { lab, srgb: lab.on_screen(light).0 }
    }
}

/// Films laid one over the other on a card.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Overprint {
    /// The light all colours are meant under.
    #[serde(default)]
    pub illuminant: Illuminant,
    /// The bare card; bright white where none is given.
    #[serde(default)]
    pub paper: Option<PaperColour>,
    /// The films, in the order laid.
    pub films: Vec<FilmLaid>,
}

/// One film of an overprint.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct FilmLaid {
    /// The full swatch, on the same card.
    pub colour: Colour,
    /// Dye where none is named.
    #[serde(default)]
    pub kind: Kind,
    /// 1 is the swatch itself, 0 nothing.
    #[serde(default = "one")]
    pub amount: f64,
}

fn one() -> f64 {
    1.0
}

/// What films on a card look like.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct OverprintSeen {
    /// Relative to the light of the question.
    pub lab: Lab,
    /// On a screen, its chroma drawn in where it does not fit.
    pub srgb: Srgb,
    /// Whether it fits as it is.
    pub in_gamut: bool,
}

impl Overprint {
    /// Lays the films.
    ///
    /// # Errors
    /// An [`AskError`] naming the film by its place.
    ///
    /// ```
    /// # use rosy_core::ask::blends::Overprint;
    /// let nothing: Overprint = serde_json::from_str(r#"{ "films": [] }"#)?;
    /// let rose: Overprint = serde_json::from_str(r##"{ "films": [{ "colour": { "srgb": "#d65c90" } }] }"##)?;
    /// assert!(rose.answer()?.lab.difference(nothing.answer()?.lab) > 30.0);
    /// let more = r##"{ "films": [{ "colour": { "srgb": "#d65c90" }, "amount": -1 }] }"##;
    /// assert!(serde_json::from_str::<Overprint>(more)?.answer().is_err());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn answer(&self) -> Result<OverprintSeen, AskError> {
        let light = self.illuminant;
        let card = card(self.paper, light)?;
        if self.films.len() > MOST_FILMS {
            return Err(AskError::ManyFilms(self.films.len()));
        }
        let mut stack = Stack::on(&card);
        for (at, laid) in self.films.iter().enumerate() {
            let place = at + 1;
            if !(0.0..=MOST_AMOUNT).contains(&laid.amount) {
                return Err(AskError::Amount { place, amount: laid.amount });
            }
            let film = Film::of_colour(laid.colour, &card, light, laid.kind)
                .map_err(|error| AskError::Colour { what: "film", place, error })?;
            // The same ink laid again is the same film grown thicker.
            let same = |other: &FilmLaid| other.colour == laid.colour && other.kind == laid.kind;
            let ink = self.films.iter().position(same).unwrap_or(at);
            stack.lay(ink, &film, laid.amount);
        }
        let lab = stack.lab(light);
        let (srgb, in_gamut) = lab.on_screen(light);
        Ok(OverprintSeen { lab, srgb, in_gamut })
    }
}

pub(crate) fn card(paper: Option<PaperColour>, light: Illuminant) -> Result<Spectrum, AskError> {
    match paper {
        Some(PaperColour(colour)) => colour.spectrum(light).map_err(AskError::Paper),
        None => Ok(Spectrum::of(BRIGHT_WHITE, light)),
    }
}

/// Two inks and the card they meet on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Junction {
    /// The light all colours are meant under.
    #[serde(default)]
    pub illuminant: Illuminant,
    /// The bare card; bright white where none is given.
    #[serde(default)]
    pub paper: Option<PaperColour>,
    /// Exactly two.
    pub inks: Vec<InkGiven>,
}

/// An ink by its colour alone.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct InkGiven {
    /// The full swatch, on the same card.
    pub colour: Colour,
    /// Dye where none is named.
    #[serde(default)]
    pub kind: Kind,
}

/// What happens where two inks meet, each at half its swatch.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct JunctionSeen {
    /// The colour half way.
    pub middle: Seen,
    /// What a maker would call it.
    pub named: ColourName,
    /// Whether it is clean.
    pub verdict: Verdict,
    /// Oklab chroma of the middle as a share of the mean of the two swatches'.
    pub chroma_kept: f64,
    /// L* by which the middle is darker than the darker swatch; 0 where it is not.
    pub dark_band: f64,
    /// The judgement in a sentence.
    pub why: String,
}

pub(crate) fn given(
    inks: &[InkGiven],
    card: &Spectrum,
    light: Illuminant,
) -> Result<Vec<(Film, Lab)>, AskError> {
    let one = |(at, ink): (usize, &InkGiven)| {
        let refused = |error| AskError::Colour { what: "ink", place: at + 1, error };
        let lab = ink.colour.lab(light).map_err(refused)?;
        Ok((Film::of_colour(ink.colour, card, light, ink.kind).map_err(refused)?, lab))
    };
    inks.iter().enumerate().map(one).collect()
}

pub(crate) fn junction_seen(
    one: &(Film, Lab),
    other: &(Film, Lab),
    card: &Spectrum,
    light: Illuminant,
) -> JunctionSeen {
    let meeting = meet((&one.0, one.1), (&other.0, other.1), card, light);
    JunctionSeen {
        middle: Seen::of(meeting.middle, light),
        why: meeting.why(),
        named: meeting.named,
        verdict: meeting.verdict,
        chroma_kept: meeting.chroma_kept,
        dark_band: meeting.dark_band,
    }
}

impl Junction {
    /// Lets them meet.
    ///
    /// # Errors
    /// An [`AskError`] naming the ink by its place.
    pub fn answer(&self) -> Result<JunctionSeen, AskError> {
        let [one, other] = self.inks.as_slice() else { return Err(AskError::NotTwo(self.inks.len())) };
        let card = card(self.paper, self.illuminant)?;
        match given(&[*one, *other], &card, self.illuminant)?.as_slice() {
            [one, other] => Ok(junction_seen(one, other, &card, self.illuminant)),
            inks => Err(AskError::NotTwo(inks.len())),
        }
    }
}

/// Inks to stand side by side.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Order {
    /// The light all colours are meant under.
    #[serde(default)]
    pub illuminant: Illuminant,
    /// The bare card; bright white where none is given.
    #[serde(default)]
    pub paper: Option<PaperColour>,
    /// 1 to 12 inks.
    pub inks: Vec<InkGiven>,
}

/// The best order of some inks.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct OrderSeen {
    /// Their places in the question, from 0, in the best order; its reverse is as good.
    pub sequence: Vec<usize>,
    /// What that order costs: mud, dark bands and hue travelled, summed over junctions. Less is better.
    pub score: f64,
    /// What the order given costs.
    pub score_as_given: f64,
    /// The junctions of the best order.
    pub junctions: Vec<JunctionSeen>,
}

impl Order {
    /// Puts them in order.
    ///
    /// # Errors
    /// An [`AskError`] naming the ink by its place.
    pub fn answer(&self) -> Result<OrderSeen, AskError> {
        if !(1..=MOST_INKS).contains(&self.inks.len()) {
            return Err(AskError::HowMany(self.inks.len()));
        }
        let light = self.illuminant;
        let card = card(self.paper, light)?;
        let inks = given(&self.inks, &card, light)?;
        let costs = pair_costs(&inks, &card, light);
        let as_given: Vec<usize> = (0..inks.len()).collect();
        let (sequence, score) = best_sequence(&costs);
        let junctions = sequence
            .windows(2)
            .map(|pair| junction_seen(&inks[pair[0]], &inks[pair[1]], &card, light))
            .collect();
        Ok(OrderSeen { sequence, score, score_as_given: cost_of(&as_given, &costs), junctions })
    }
}

/// A panel to be judged and laid.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct PanelAsked {
    /// The panel.
    pub panel: Panel,
    /// The units of the run sheet's measures.
    #[serde(default)]
    pub units: Units,
}

/// How a panel comes out and how it is made.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PanelSeen {
    /// The judgement.
    pub reading: Reading,
    /// The steps.
    pub run_sheet: RunSheet,
}

impl PanelAsked {
    /// Reads it and writes its run sheet.
    ///
    /// # Errors
    /// None: the panel was checked as it was read.
    pub fn answer(&self) -> Result<PanelSeen, AskError> {
        Ok(PanelSeen { reading: Reading::of(&self.panel), run_sheet: RunSheet::of(&self.panel, self.units) })
    }
}
