//! What can be asked of a drawer from outside: `pairs`, `bridge`, `path`, `near`, `darker` and `lacks`.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::blends::{AskError, InkGiven, JunctionSeen, PaperColour, Seen, card, given, junction_seen};
use crate::blend::{Verdict, meet};
use crate::colour::{Colour, ColourName, Illuminant, Lab, Spectrum};
use crate::ink::drawer::{DrawerError, MOST_VEILS};
use crate::ink::{Family, Film, Kind};
use crate::search::darker::{Darker, darker};
use crate::search::lacks::Mix;
use crate::search::{Costs, Lack, Lacking, Swatch, bridges, lacking, meetings, nearest, path};

/// Most inks of a drawer.
pub const MOST_INKS: usize = 3_000;
/// Most inks of a light set.
const MOST_LIGHT: usize = 12;
/// Most inks whose pairs are told one by one.
pub const MOST_PAIRED: usize = 300;
/// Most inks between two.
pub const MOST_BETWEEN: usize = 5;
/// Most colours that a drawer is told to lack.
pub const MOST_LACKING: usize = 5;
/// Most answers of a kind.
pub const MOST_ANSWERS: usize = 100;
/// Most inks that a run is found through, or that are tried over one another.
pub const MOST_LAID: usize = 600;
/// Most light passes of all inks together that are tried over one another.
pub const MOST_PASSES: usize = 3_000;

/// What every pair of some inks makes.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct PairsAsked {
    /// The light all colours are meant under.
    #[serde(default)]
    pub illuminant: Illuminant,
    /// The bare card; bright white where none is given.
    #[serde(default)]
    pub paper: Option<PaperColour>,
    /// 1 to 300 inks.
    pub inks: Vec<InkGiven>,
}

/// Every pair.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PairsSeen {
    /// For all a < b, in order.
    pub pairs: Vec<PairSeen>,
}

/// One pair.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PairSeen {
    /// The one, by its place in the question, from 0.
    pub a: usize,
    /// The other.
    pub b: usize,
    /// What they pay for standing side by side: mud, dark band and hue travelled. Less is better.
    pub cost: f64,
    /// Whether it is clean.
    pub verdict: Verdict,
    /// What a maker would call what they make.
    pub named: ColourName,
    /// The colour half way.
    pub middle: Seen,
}

impl PairsAsked {
    /// Lets every two meet.
    ///
    /// # Errors
    /// An [`AskError`] naming the ink by its place.
    pub fn answer(&self) -> Result<PairsSeen, AskError> {
        how_many("inks", self.inks.len(), 1, MOST_PAIRED)?;
        let light = self.illuminant;
        let card = card(self.paper, light)?;
        let inks = given(&self.inks, &card, light)?;
        let rows = meetings(&inks, &card, light, |meeting| {
            let middle = Seen::of(meeting.middle, light);
            (meeting.cost(), meeting.verdict, meeting.named.clone(), middle)
        });
        let pairs = rows.into_iter().enumerate().flat_map(|(a, row)| {
            row.into_iter().zip(a + 1..).map(move |((cost, verdict, named, middle), b)| PairSeen {
                a,
                b,
                cost,
                verdict,
                named,
                middle,
            })
        });
        Ok(PairsSeen { pairs: pairs.collect() })
    }
}

/// Two inks, and a drawer to find what bridges them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct BridgeAsked {
    /// The light all colours are meant under.
    #[serde(default)]
    pub illuminant: Illuminant,
    /// The bare card; bright white where none is given.
    #[serde(default)]
    pub paper: Option<PaperColour>,
    /// Exactly two.
    pub inks: Vec<InkGiven>,
    /// Up to 3000 inks.
    pub drawer: Vec<InkGiven>,
    /// How many bridges to tell, 1 to 100; 5 where it is left out.
    #[serde(default = "five")]
    pub most: usize,
}

fn five() -> usize {
    5
}

/// The best bridges.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct BridgeSeen {
    /// The two without one.
    pub direct: Direct,
    /// The bridges, least cost first.
    pub bridges: Vec<Bridge>,
}

/// Two inks side by side.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Direct {
    /// What they pay.
    pub cost: f64,
}

/// One bridge.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Bridge {
    /// Its place in the drawer, from 0.
    pub place: usize,
    /// What both joins cost together.
    pub cost: f64,
    /// The two joins, in order.
    pub junctions: Vec<JunctionSeen>,
}

impl BridgeAsked {
    /// Finds the bridges.
    ///
    /// # Errors
    /// An [`AskError`] naming the ink by its place.
    pub fn answer(&self) -> Result<BridgeSeen, AskError> {
        how_many("inks in the drawer", self.drawer.len(), 0, MOST_INKS)?;
        how_many("bridges", self.most, 1, MOST_ANSWERS)?;
        if self.inks.len() != 2 {
            return Err(AskError::NotTwo(self.inks.len()));
        }
        let light = self.illuminant;
        let card = card(self.paper, light)?;
        let (sides, drawer) = (given(&self.inks, &card, light)?, given(&self.drawer, &card, light)?);
        let [one, other] = [&sides[0], &sides[1]];
        let [to_one, to_other] = [one, other].map(|side| Costs::to_each(side, &drawer, &card, light));
        let bridges = bridges(&to_one, &to_other, self.most).into_iter().map(|(place, cost)| {
            let joins = [(one, &drawer[place]), (&drawer[place], other)];
            let junctions = joins.map(|(from, to)| junction_seen(from, to, &card, light)).into();
            Bridge { place, cost, junctions }
        });
        let direct = Direct { cost: meet((&one.0, one.1), (&other.0, other.1), &card, light).cost() };
        Ok(BridgeSeen { direct, bridges: bridges.collect() })
    }
}

/// Two ends, and a drawer to find a run between them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct PathAsked {
    /// The light all colours are meant under.
    #[serde(default)]
    pub illuminant: Illuminant,
    /// The bare card; bright white where none is given.
    #[serde(default)]
    pub paper: Option<PaperColour>,
    /// Where it begins.
    pub from: InkGiven,
    /// Where it ends.
    pub to: InkGiven,
    /// Up to 600 inks.
    pub drawer: Vec<InkGiven>,
    /// Exactly so many different inks between, 0 to 5.
    pub between: usize,
}

/// The cleanest run.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PathSeen {
    /// The inks between, by their places in the drawer, in order.
    pub places: Vec<usize>,
    /// What all joins cost together.
    pub cost: f64,
    /// The joins, in order.
    pub junctions: Vec<JunctionSeen>,
}

impl PathAsked {
    /// Finds the run.
    ///
    /// # Errors
    /// An [`AskError`] naming the ink by its place.
    pub fn answer(&self) -> Result<PathSeen, AskError> {
        how_many("inks in the drawer", self.drawer.len(), self.between, MOST_LAID)?;
        how_many("inks between", self.between, 0, MOST_BETWEEN)?;
        let light = self.illuminant;
        let card = card(self.paper, light)?;
        let ends = given(&[self.from, self.to], &card, light)?;
        let drawer = given(&self.drawer, &card, light)?;
        let [from, to] = [&ends[0], &ends[1]];
        let [by_from, by_to] = [from, to].map(|end| Costs::to_each(end, &drawer, &card, light));
        let direct = meet((&from.0, from.1), (&to.0, to.1), &card, light).cost();
        let costs =
            if self.between > 1 { Costs::of(&drawer, &card, light) } else { Costs::unasked(drawer.len()) };
        let found = path(&costs, &by_from, &by_to, direct, self.between);
        let found = found.ok_or(AskError::HowManyOf {
            what: "inks in the drawer",
            given: drawer.len(),
            least: self.between,
            most: MOST_LAID,
        })?;
        let run: Vec<&Swatch> =
            [from].into_iter().chain(found.places.iter().map(|place| &drawer[*place])).chain([to]).collect();
        let junctions = run.windows(2).map(|pair| junction_seen(pair[0], pair[1], &card, light)).collect();
        Ok(PathSeen { places: found.places, cost: found.cost, junctions })
    }
}

/// An ink of a drawer, with the veils that make its swatch.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct InkOwned {
    /// The full swatch, on the same card.
    pub colour: Colour,
    /// Dye where none is named.
    #[serde(default)]
    pub kind: Kind,
    /// How many light passes make the swatch, 2 to 24; 7 where it is left out.
    #[serde(default = "seven")]
    pub full_veils: u8,
}

fn seven() -> u8 {
    7
}

/// A light set of inks, and the drawer that the darker set comes from.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct DarkerAsked {
    /// The light all colours are meant under.
    #[serde(default)]
    pub illuminant: Illuminant,
    /// The light set, 1 to 12 inks by their full swatches.
    pub inks: Vec<Colour>,
    /// Up to 3000 inks, by theirs.
    pub drawer: Vec<Colour>,
}

/// The darker set.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DarkerSeen {
    /// For each of the light set the ink two shades darker of its family; none where the drawer has none.
    pub darker: Vec<Option<DarkerFound>>,
}

/// An ink of the drawer.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DarkerFound {
    /// Its place in the drawer, from 0.
    pub place: usize,
    /// How much darker it is, in L*.
    pub darker: f64,
    /// How far its hue strays: ΔH*ab.
    pub strays: f64,
}

impl DarkerAsked {
    /// Finds them.
    ///
    /// # Errors
    /// An [`AskError`] naming the ink by its place.
    pub fn answer(&self) -> Result<DarkerSeen, AskError> {
        how_many("inks of the light set", self.inks.len(), 1, MOST_LIGHT)?;
        how_many("inks in the drawer", self.drawer.len(), 0, MOST_INKS)?;
        let labs = |colours: &[Colour], what: &'static str| {
            let lab = |(colour, place): (&Colour, usize)| {
                colour.lab(self.illuminant).map_err(|error| AskError::Colour { what, place, error })
            };
            colours.iter().zip(1..).map(lab).collect::<Result<Vec<Lab>, AskError>>()
        };
        let (lights, drawer) = (labs(&self.inks, "ink")?, labs(&self.drawer, "ink of the drawer")?);
        let found = |one: Darker| DarkerFound { place: one.place, darker: one.darker, strays: one.strays };
        Ok(DarkerSeen { darker: darker(&lights, &drawer).into_iter().map(|one| one.map(found)).collect() })
    }
}

/// A colour, and a drawer to come near it with.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct NearAsked {
    /// The light all colours are meant under.
    #[serde(default)]
    pub illuminant: Illuminant,
    /// The bare card; bright white where none is given.
    #[serde(default)]
    pub paper: Option<PaperColour>,
    /// The colour wished for.
    pub colour: Colour,
    /// Up to 600 inks.
    pub drawer: Vec<InkOwned>,
    /// How many answers, 1 to 100; 5 where it is left out.
    #[serde(default = "five")]
    pub most: usize,
}

/// What comes nearest.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct NearSeen {
    /// Least difference first. Each ink lies in whole veils, up to its full swatch.
    pub nearest: Vec<NearFound>,
}

/// One way to come near.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct NearFound {
    /// One film, or two, the lower first.
    pub films: Vec<FilmOfDrawer>,
    /// The colour they make.
    pub lab: Lab,
    /// CIEDE2000 from the colour wished for.
    pub difference: f64,
}

/// Veils of an ink.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct FilmOfDrawer {
    /// Its place in the drawer, from 0.
    pub place: usize,
    /// Whole veils.
    pub veils: u8,
}

impl NearAsked {
    /// Finds them.
    ///
    /// # Errors
    /// An [`AskError`] naming the ink by its place.
    pub fn answer(&self) -> Result<NearSeen, AskError> {
        how_many("inks in the drawer", self.drawer.len(), 0, MOST_LAID)?;
        how_many("answers", self.most, 1, MOST_ANSWERS)?;
        let light = self.illuminant;
        let card = card(self.paper, light)?;
        let wished = self.colour.lab(light).map_err(AskError::Wished)?;
        let passes = self.drawer.iter().map(|ink| usize::from(ink.full_veils)).sum();
        how_many("light passes of all inks' swatches together", passes, 0, MOST_PASSES)?;
        let films = films(&self.drawer, &card, light)?;
        let films: Vec<(Film, u8)> =
            films.into_iter().zip(&self.drawer).map(|(film, ink)| (film, ink.full_veils)).collect();
        let found = nearest(wished, &films, &card, light, self.most).into_iter().map(|near| NearFound {
            films: near
                .films
                .iter()
                .map(|laid| FilmOfDrawer { place: laid.place, veils: laid.veils })
                .collect(),
            lab: near.lab,
            difference: near.difference,
        });
        Ok(NearSeen { nearest: found.collect() })
    }
}

/// The films of a drawer.
fn films(drawer: &[InkOwned], card: &Spectrum, light: Illuminant) -> Result<Vec<Film>, AskError> {
    let film = |(ink, place): (&InkOwned, usize)| {
        if !(2..=MOST_VEILS).contains(&ink.full_veils) {
            return Err(DrawerError::FullVeils(ink.full_veils).into());
        }
        Film::of_colour(ink.colour, card, light, ink.kind).map_err(|error| AskError::Colour {
            what: "ink",
            place,
            error,
        })
    };
    drawer.iter().zip(1..).map(film).collect()
}

/// A drawer, to find what it lacks.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct LacksAsked {
    /// The light all colours are meant under.
    #[serde(default)]
    pub illuminant: Illuminant,
    /// The bare card; bright white where none is given.
    #[serde(default)]
    pub paper: Option<PaperColour>,
    /// 1 to 300 inks.
    pub drawer: Vec<InkOwned>,
    /// How many colours, 1 to 5; 5 where it is left out.
    #[serde(default = "five")]
    pub most: usize,
}

/// What it lacks.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LacksSeen {
    /// How many pairs of inks go to mud with no ink of the drawer to lie between them cleanly.
    pub muddy: usize,
    /// How many colours were looked for: of each ink there could be, a seventh, two, four and all of its full swatch.
    pub colours: usize,
    /// How many of them no ink comes within 5 of (CIEDE2000), alone or over another.
    pub unreached: usize,
    /// The colours lacking: first the one that opens most, then what opens most of what is left.
    pub lacks: Vec<LackSeen>,
}

/// A colour that is lacking.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LackSeen {
    /// Its full swatch, of a dye.
    pub colour: Seen,
    /// What a maker would call it.
    pub named: ColourName,
    /// The family it is to be looked for in.
    pub family: Family,
    /// The pairs that it would lie between cleanly, by their places in the drawer, from 0.
    pub mends: Vec<[usize; 2]>,
    /// How many of the colours that nothing reaches it would reach by itself.
    pub reaches: usize,
    /// Two dyes of the drawer that come within 4 of it (CIEDE2000) mixed on the mat.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub mix: Option<MixSeen>,
}

/// Two dyes mixed on the mat.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct MixSeen {
    /// Their places in the drawer, from 0.
    pub of: [usize; 2],
    /// Their parts.
    pub parts: [u8; 2],
    /// How far what they make is from the colour (CIEDE2000).
    pub difference: f64,
}

impl LacksAsked {
    /// Finds them.
    ///
    /// # Errors
    /// An [`AskError`] naming the ink by its place.
    pub fn answer(&self) -> Result<LacksSeen, AskError> {
        how_many("inks in the drawer", self.drawer.len(), 1, MOST_PAIRED)?;
        how_many("colours", self.most, 1, MOST_LACKING)?;
        let light = self.illuminant;
        let card = card(self.paper, light)?;
        let mut owned = Vec::new();
        for (film, (ink, place)) in
            films(&self.drawer, &card, light)?.into_iter().zip(self.drawer.iter().zip(1..))
        {
            let lab =
                ink.colour.lab(light).map_err(|error| AskError::Colour { what: "ink", place, error })?;
            owned.push(((film, lab), ink.kind));
        }
        let Lacking { muddy, colours, unreached, lacks } = lacking(&owned, &card, light, self.most);
        let lack = |lack: Lack| LackSeen {
            colour: Seen::of(lack.lab, light),
            named: ColourName::of(lack.lab),
            family: Family::of(lack.lab),
            mends: lack.mends.iter().map(|(one, other)| [*one, *other]).collect(),
            reaches: lack.reaches,
            mix: lack.mix.map(|Mix { of, parts, difference }| MixSeen { of, parts, difference }),
        };
        Ok(LacksSeen { muddy, colours, unreached, lacks: lacks.into_iter().map(lack).collect() })
    }
}

fn how_many(what: &'static str, given: usize, least: usize, most: usize) -> Result<(), AskError> {
    if (least..=most).contains(&given) {
        Ok(())
    } else {
        Err(AskError::HowManyOf { what, given, least, most })
    }
}
