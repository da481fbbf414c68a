//! What can be asked from outside of water?

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::ink::{DrawerError, Film, Finish, Ink, Paper};
use crate::length::Length;
use crate::panel::SIDES;
use crate::picture::file::{Pace, png};
use crate::picture::pressed::{draw, draw_mat};
use crate::place::Point;
use crate::water::bench::{A_DAB, MOST_DABS, MOST_MISTS, Patch};
use crate::water::drops::{Chance, Drop, MOST_DROPS, Sizes, thrown, to_cover};
use crate::water::flecks::FleckLook;
use crate::water::mat::{Mat, Movement, Pressed};
use crate::water::raster::{CELL, Raster};

/// How often flecks are flicked anew in place of those that fell where it stays clear.
const MOST_THROWS: u32 = 2_000;
/// Most inks, patches, cards and deeds of a mat.
const MOST_INKS: usize = 5;
const MOST_PATCHES: usize = 12;
const MOST_CARDS: usize = 6;
const MOST_DEEDS: usize = 40;
/// Most work of one question: square centimetres, times inks, times mists and presses (chosen: some seconds).
const MOST_WORK: f64 = 12_000.0;
/// How often flecks may cover the panel over, all told (chosen: more than that is a wash).
const MOST_OVER: f64 = 4.0;
/// Pixels to the inch of a picture.
const DPI: std::ops::RangeInclusive<f64> = 20.0..=200.0;

/// What is done with the mat, in order.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Deed {
    /// So many pumps of mist over it, 1 to 8.
    Mist(u8),
    /// A card pressed on it.
    Press {
        /// Which card, from 0.
        card: usize,
        /// How it is moved.
        #[serde(default)]
        movement: Movement,
    },
    /// A card dried.
    Dry(usize),
    /// So many per cent of what lies there wiped off with a towel.
    Towel(u8),
}

/// A mat, and what is done with it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct PressAsked {
    /// Across the cards.
    pub width: Length,
    /// Down the cards.
    pub height: Length,
    /// The inks, one to five.
    pub inks: Vec<Ink>,
    /// What the cards are made of; bright white watercolour card where it is left out.
    #[serde(default)]
    pub paper: Option<Paper>,
    /// The patches on the mat.
    pub patches: Vec<Patch>,
    /// What is done, in order.
    pub deeds: Vec<Deed>,
    /// What chance starts from: the same seed gives the same.
    #[serde(default)]
    pub seed: u32,
    /// Pixels to the inch of the pictures; none are drawn where it is left out.
    #[serde(default)]
    pub dpi: Option<f64>,
}

/// What comes of it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PressSeen {
    /// Each card, as far as one was pressed.
    pub cards: Vec<CardPressed>,
    /// The share of each ink put on the mat that still lies there.
    pub mat: Vec<f64>,
    /// The share that went with the towel.
    pub towel: Vec<f64>,
    /// The mat from above, a PNG in base64, where pictures were asked for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mat_picture: Option<String>,
}

/// A card as it comes off the mat.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CardPressed {
    /// The share of each ink put on the mat that it carries.
    pub inks: Vec<f64>,
    /// The share of the card that ink lies on.
    pub covered: f64,
    /// How much ink lies there on the whole, in full swatches.
    pub strength: f64,
    /// Half the width of its last press's puddles, in millimetres: half of their area lies in larger ones.
    pub puddle_mm: f64,
    /// The card, a PNG in base64, where pictures were asked for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub picture: Option<String>,
}

/// Why a mat cannot be pressed, and what to change.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum PressError {
    /// The card.
    #[error("{0}: cards are 1 in (25.4 mm) to 12 in (304.8 mm) a side")]
    Side(Length),
    /// How many inks.
    #[error("{0} inks: give one to {MOST_INKS}")]
    Inks(usize),
    /// One of them.
    #[error("ink {0}: {1}")]
    Ink(usize, DrawerError),
    /// What the cards are made of.
    #[error("paper: {0}")]
    Paper(DrawerError),
    /// How many patches.
    #[error("{0} patches: give one to {MOST_PATCHES}")]
    Patches(usize),
    /// A patch of an ink that is not there.
    #[error("patch {0}: give one of the inks, counted from 0")]
    PatchInk(usize),
    /// A patch too small, too large, or beside the mat.
    #[error(
        "patch {0}: place its middle on the card, and make it 1/8 in (3.175 mm) to 12 in from its middle to its edge"
    )]
    PatchPlace(usize),
    /// How often it is dabbed.
    #[error("patch {0}: dab it 1 to {MOST_DABS} times")]
    Dabs(usize),
    /// How much is done.
    #[error("{0} deeds: give at most {MOST_DEEDS}")]
    Deeds(usize),
    /// More than is answered at once.
    #[error(
        "so large a card, so many inks, mists and presses together take too long: give fewer, or a smaller card"
    )]
    Work,
    /// A card there is none of.
    #[error("deed {0}: cards are counted from 0, and there are at most {MOST_CARDS}")]
    Card(usize),
    /// Mist.
    #[error("deed {0}: mist it with 1 to {MOST_MISTS} pumps")]
    Mists(usize),
    /// A towel.
    #[error("deed {0}: a towel takes 1 to 100 per cent")]
    Towel(usize),
    /// A press with no water on the mat.
    #[error("deed {0}: nothing is wet on the mat yet, so the card would come off bare: mist it first")]
    Parched(usize),
    /// The picture.
    #[error("dpi: give 20 to 200 pixels to the inch")]
    Dpi,
}

impl PressAsked {
    fn check(&self) -> Result<(), PressError> {
        for side in [self.width, self.height] {
            if !(SIDES.0..=SIDES.1).contains(&side) {
                return Err(PressError::Side(side));
            }
        }
        if !(1..=MOST_INKS).contains(&self.inks.len()) {
            return Err(PressError::Inks(self.inks.len()));
        }
        for (ink, place) in self.inks.iter().zip(1..) {
            ink.check().map_err(|error| PressError::Ink(place, error))?;
        }
        self.paper.iter().try_for_each(|paper| paper.check().map_err(PressError::Paper))?;
        if !(1..=MOST_PATCHES).contains(&self.patches.len()) {
            return Err(PressError::Patches(self.patches.len()));
        }
        for (patch, place) in self.patches.iter().zip(1..) {
            if patch.ink >= self.inks.len() {
                return Err(PressError::PatchInk(place));
            }
            if !patch.lies_under((self.width, self.height)) {
                return Err(PressError::PatchPlace(place));
            }
            if !(1..=MOST_DABS).contains(&patch.dabs) {
                return Err(PressError::Dabs(place));
            }
        }
        if self.deeds.len() > MOST_DEEDS {
            return Err(PressError::Deeds(self.deeds.len()));
        }
        let wet = self.deeds.iter().filter(|deed| matches!(deed, Deed::Mist(_) | Deed::Press { .. })).count();
        let area = self.width.mm() * self.height.mm() / 100.0;
        if area * (self.inks.len() * wet) as f64 > MOST_WORK {
            return Err(PressError::Work);
        }
        let mut is_misted = false;
        for (deed, place) in self.deeds.iter().zip(1..) {
            match *deed {
                Deed::Mist(pumps) if !(1..=MOST_MISTS).contains(&pumps) => {
                    return Err(PressError::Mists(place));
                }
                Deed::Towel(share) if !(1..=100).contains(&share) => return Err(PressError::Towel(place)),
                Deed::Press { card, .. } | Deed::Dry(card) if card >= MOST_CARDS => {
                    return Err(PressError::Card(place));
                }
                Deed::Press { .. } if !is_misted => return Err(PressError::Parched(place)),
                Deed::Mist(_) => is_misted = true,
                _ => {}
            }
        }
        if self.dpi.is_some_and(|dpi| !DPI.contains(&dpi)) { Err(PressError::Dpi) } else { Ok(()) }
    }

    /// Does it.
    ///
    /// # Errors
    /// A [`PressError`] naming the place.
    pub fn answer(&self) -> Result<PressSeen, PressError> {
        self.check()?;
        let size = (self.width.mm(), self.height.mm());
        let kinds: Vec<_> = self.inks.iter().map(|ink| ink.kind).collect();
        let mut mat = Mat::clean(size, &kinds, self.seed);
        for patch in &self.patches {
            let at = (patch.at.left.mm(), patch.at.top.mm());
            mat.dab(patch.ink, at, (patch.across.mm(), patch.down.mm()), A_DAB * f64::from(patch.dabs));
        }
        let put = mat.inks();
        let share = |amounts: &[f64]| -> Vec<f64> {
            amounts
                .iter()
                .zip(&put)
                .map(|(amount, put)| if *put > 0.0 { amount / put } else { 0.0 })
                .collect()
        };
        let mut cards = vec![Pressed::default(); MOST_CARDS];
        let mut towel = vec![0.0; self.inks.len()];
        for deed in &self.deeds {
            match *deed {
                Deed::Mist(pumps) => mat.mist(f64::from(pumps)),
                Deed::Press { card, movement } => mat.press(&mut cards[card], movement),
                Deed::Dry(card) => cards[card].is_dry = true,
                Deed::Towel(part) => {
                    let went = mat.wipe(f64::from(part) / 100.0);
                    towel.iter_mut().zip(went).for_each(|(towel, went)| *towel += went);
                }
            }
        }
        let films: Vec<Film> = self.inks.iter().map(Ink::film).collect();
        let paper = self.paper.clone().unwrap_or_else(white);
        let picture = |layers: &[Vec<Raster>]| {
            let dpi = self.dpi?;
            Some(STANDARD.encode(png(&draw(layers, &films, &paper, size, dpi), dpi, Pace::Quick)))
        };
        let seen = |card: &Pressed| {
            let (covered, strength) = card.covered();
            CardPressed {
                inks: share(&card.inks(self.inks.len())),
                covered,
                strength,
                puddle_mm: card.puddle_mm,
                picture: picture(&card.layers),
            }
        };
        let count = cards.iter().rposition(|card| !card.layers.is_empty()).map_or(0, |last| last + 1);
        Ok(PressSeen {
            cards: cards[..count].iter().map(seen).collect(),
            mat: share(&mat.inks()),
            towel: share(&towel),
            mat_picture: self
                .dpi
                .map(|dpi| STANDARD.encode(png(&draw_mat(&mat, &films, size, dpi), dpi, Pace::Quick))),
        })
    }
}

fn white() -> Paper {
    Paper::plain(Finish::Watercolour)
}

/// Flecks by a look, or by figures.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct FlecksAsked {
    /// Across the panel.
    pub width: Length,
    /// Down the panel.
    pub height: Length,
    /// A look; what is given beside it goes before it.
    #[serde(default)]
    pub look: Option<FleckLook>,
    /// How many.
    #[serde(default)]
    pub count: Option<usize>,
    /// The share of the panel that they cover, in per cent, in place of how many.
    #[serde(default)]
    pub cover_percent: Option<f64>,
    /// From the middle of a fleck to its edge, half of them smaller: in millimetres.
    #[serde(default)]
    pub median_mm: Option<f64>,
    /// How unlike they are: the standard deviation of the natural logarithm of the radius.
    #[serde(default)]
    pub spread: Option<f64>,
    /// Rectangles that stay clear of them.
    #[serde(default)]
    pub clear: Vec<Clear>,
    /// What chance starts from.
    #[serde(default)]
    pub seed: u32,
}

/// A part of the panel that is kept clear.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Clear {
    /// Its left top corner.
    pub at: Point,
    /// How wide.
    pub width: Length,
    /// How high.
    pub height: Length,
}

/// Where they fall.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FlecksSeen {
    /// Each of them.
    pub drops: Vec<Drop>,
    /// The share of the panel that they cover, in per cent.
    pub covered_percent: f64,
    /// The median radius, in millimetres.
    pub median_mm: f64,
    /// How far the nearest other fleck lies on the mean, middle to middle, in millimetres; nothing where there is but one.
    pub nearest_mm: Option<f64>,
}

/// Why flecks cannot be thrown so, and what to change.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum FlecksError {
    /// The panel.
    #[error("{0}: panels are 1 in (25.4 mm) to 12 in (304.8 mm) a side")]
    Side(Length),
    /// Neither a look nor figures.
    #[error("give a look, or how many (count) or how much they cover (cover_percent)")]
    Nothing,
    /// Both figures.
    #[error("give either count or cover_percent: the one follows from the other")]
    Both,
    /// Too many.
    #[error("{0} flecks: give 1 to {MOST_DROPS}")]
    Count(usize),
    /// Too much.
    #[error("cover_percent: give more than 0 and at most 80")]
    Cover,
    /// So many, so large, that nothing is left to be seen between them.
    #[error(
        "so many flecks of that size would cover the panel several times over: give fewer, or smaller ones"
    )]
    Drowned,
    /// A size no brush throws.
    #[error("median_mm: give 0.05 to 8")]
    Median,
    /// A spread no brush has.
    #[error("spread: give 0 to 1.2")]
    Spread,
    /// Nothing left open.
    #[error("what is kept clear leaves no room for flecks: keep less of it clear")]
    NoRoom,
}

impl FlecksAsked {
    /// Throws them.
    ///
    /// # Errors
    /// A [`FlecksError`] naming the figure.
    pub fn answer(&self) -> Result<FlecksSeen, FlecksError> {
        for side in [self.width, self.height] {
            if !(SIDES.0..=SIDES.1).contains(&side) {
                return Err(FlecksError::Side(side));
            }
        }
        let size = (self.width.mm(), self.height.mm());
        let usual = self.look.unwrap_or(FleckLook::Snow).figures();
        let sizes = Sizes {
            median: self.median_mm.unwrap_or(usual.0.median),
            spread: self.spread.unwrap_or(usual.0.spread),
        };
        if !(0.05..=8.0).contains(&sizes.median) {
            return Err(FlecksError::Median);
        }
        if !(0.0..=1.2).contains(&sizes.spread) {
            return Err(FlecksError::Spread);
        }
        let open = self.open(size);
        let area = size.0 * size.1 * open;
        if open < 0.005 {
            return Err(FlecksError::NoRoom);
        }
        let wanted = match (self.count, self.cover_percent, self.look) {
            (Some(_), Some(_), _) => return Err(FlecksError::Both),
            (Some(count), None, _) => count,
            (None, Some(percent), _) if percent > 0.0 && percent <= 80.0 => {
                to_cover(percent / 100.0 / open, sizes, area).max(1)
            }
            (None, Some(_), _) => return Err(FlecksError::Cover),
            (None, None, Some(_)) => (usual.1 * area / 1000.0).round().max(1.0) as usize,
            (None, None, None) => return Err(FlecksError::Nothing),
        };
        if !(1..=MOST_DROPS).contains(&wanted) {
            return Err(FlecksError::Count(wanted));
        }
        if wanted as f64 * std::f64::consts::PI * sizes.mean_square() > MOST_OVER * area {
            return Err(FlecksError::Drowned);
        }
        let mut chance = Chance::of(self.seed, 11);
        let mut drops = Vec::with_capacity(wanted);
        let mut throws = 0;
        while drops.len() < wanted {
            let more = thrown(wanted - drops.len(), sizes, size, &mut chance);
            drops.extend(more.into_iter().filter(|drop| !self.is_clear(drop)));
            throws += 1;
            if throws > MOST_THROWS {
                return Err(FlecksError::NoRoom);
            }
        }
        let mut radii: Vec<f64> = drops.iter().map(|drop| drop.radius).collect();
        radii.sort_by(f64::total_cmp);
        Ok(FlecksSeen {
            covered_percent: 100.0 * covered(&drops, size),
            median_mm: radii[radii.len() / 2],
            nearest_mm: nearest(&drops, size),
            drops,
        })
    }

    fn is_clear(&self, drop: &Drop) -> bool {
        self.clear.iter().any(|clear| {
            let corner = (clear.at.left.mm(), clear.at.top.mm());
            drop.reaches(corner, (clear.width.mm(), clear.height.mm()))
        })
    }

    /// The share of the panel that is open to them.
    fn open(&self, size: (f64, f64)) -> f64 {
        if self.clear.is_empty() {
            return 1.0;
        }
        let raster = Raster::empty(size);
        let is_open = |cell: &usize| {
            let (x, y) = raster.middle(*cell);
            !self.is_clear(&Drop { x, y, radius: 0.0 })
        };
        (0..raster.cells.len()).filter(is_open).count() as f64 / raster.cells.len() as f64
    }
}

/// The share of a panel that drops cover, by lines a tenth of a millimetre apart.
fn covered(drops: &[Drop], (wide, high): (f64, f64)) -> f64 {
    const LINE: f64 = 0.1;
    let rows = (high / LINE).round().max(1.0) as usize;
    let mut spans: Vec<Vec<(f64, f64)>> = vec![Vec::new(); rows];
    for drop in drops {
        let first = ((drop.y - drop.radius) / LINE).floor().max(0.0) as usize;
        let last = (((drop.y + drop.radius) / LINE).ceil().max(0.0) as usize).min(rows);
        for (row, spans) in spans.iter_mut().enumerate().take(last).skip(first) {
            let off = (row as f64 + 0.5) * LINE - drop.y;
            let half = (drop.radius.powi(2) - off.powi(2)).max(0.0).sqrt();
            if half > 0.0 {
                spans.push(((drop.x - half).max(0.0), (drop.x + half).min(wide)));
            }
        }
    }
    let mut sum = 0.0;
    for line in &mut spans {
        line.sort_by(|a, b| a.0.total_cmp(&b.0));
        let mut end = 0.0_f64;
        for (from, to) in line.iter() {
            sum += (to - from.max(end)).max(0.0);
            end = end.max(*to);
        }
    }
    sum * LINE / (wide * high)
}

/// How far the nearest other lies on the mean; squares as wide as the mean distance keep it from being slow.
fn nearest(drops: &[Drop], (wide, high): (f64, f64)) -> Option<f64> {
    if drops.len() < 2 {
        return None;
    }
    let side = (wide * high / drops.len() as f64).sqrt().max(CELL);
    let columns = (wide / side).ceil() as usize + 1;
    let rows = (high / side).ceil() as usize + 1;
    let square = |drop: &Drop| ((drop.x / side) as usize, (drop.y / side) as usize);
    let mut squares: Vec<Vec<usize>> = vec![Vec::new(); columns * rows];
    for (place, drop) in drops.iter().enumerate() {
        let (column, row) = square(drop);
        squares[row * columns + column].push(place);
    }
    let of = |(place, drop): (usize, &Drop)| {
        let (column, row) = square(drop);
        let mut best = f64::INFINITY;
        for ring in 0..columns.max(rows) {
            // Whatever lies in a further ring is further than the ring is.
            if best <= ring.saturating_sub(1) as f64 * side {
                break;
            }
            for near in row.saturating_sub(ring)..=(row + ring).min(rows - 1) {
                for beside in column.saturating_sub(ring)..=(column + ring).min(columns - 1) {
                    if near.abs_diff(row).max(beside.abs_diff(column)) != ring {
                        continue;
                    }
                    for other in squares[near * columns + beside].iter().filter(|other| **other != place) {
                        best = best.min((drops[*other].x - drop.x).hypot(drops[*other].y - drop.y));
                    }
                }
            }
        }
        best
    };
    Some(drops.iter().enumerate().map(of).sum::<f64>() / drops.len() as f64)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::colour::Colour;
    use crate::ink::Kind;

    fn ink(lab: [f64; 3], kind: Kind) -> Ink {
        let colour = Colour::Lab(lab.into());
        Ink { name: "Flood".parse().unwrap(), kind, colour, one_veil: None, full_veils: 7, on_ink: None }
    }

    fn mat(deeds: Vec<Deed>) -> PressAsked {
        let at = |left: i64, top: i64| Point { left: Length::from_64ths(left), top: Length::from_64ths(top) };
        let patch = |ink, at| Patch {
            ink,
            at,
            across: Length::from_inches(1),
            down: Length::from_inches(1),
            dabs: 2,
        };
        PressAsked {
            width: Length::from_inches(3),
            height: Length::from_inches(4),
            inks: vec![ink([57.0, -17.0, -31.0], Kind::Dye), ink([57.0, 56.0, -4.0], Kind::Oxide)],
            paper: None,
            patches: vec![patch(0, at(70, 80)), patch(1, at(130, 180))],
            deeds,
            seed: 5,
            dpi: None,
        }
    }

    #[test]
    fn three_cards_from_one_mat_are_each_paler_and_all_the_ink_is_somewhere() {
        let mut deeds = Vec::new();
        for card in 0..3 {
            deeds.extend([Deed::Mist(2), Deed::Press { card, movement: Movement::Still }]);
        }
        deeds.push(Deed::Towel(50));
        let seen = mat(deeds).answer().unwrap();
        assert_eq!(seen.cards.len(), 3);
        for ink in 0..2 {
            let carried: Vec<f64> = seen.cards.iter().map(|card| card.inks[ink]).collect();
            assert!(carried.windows(2).all(|pair| pair[1] < pair[0]), "{carried:?}");
            let sum = carried.iter().sum::<f64>() + seen.mat[ink] + seen.towel[ink];
            assert!((sum - 1.0).abs() < 0.005, "{sum}");
        }
        assert!(seen.cards[0].strength > seen.cards[2].strength);
        assert!(seen.cards.iter().all(|card| card.picture.is_none()));
        let looked = PressAsked {
            dpi: Some(60.0),
            ..mat(vec![Deed::Mist(2), Deed::Press { card: 0, movement: Movement::Still }])
        };
        let png = STANDARD.decode(looked.answer().unwrap().cards[0].picture.as_ref().unwrap()).unwrap();
        assert_eq!(&png[1..4], b"PNG");
    }

    #[test]
    fn what_cannot_be_is_told_by_its_place() {
        let press = Deed::Press { card: 0, movement: Movement::Still };
        assert_eq!(mat(vec![press]).answer(), Err(PressError::Parched(1)));
        assert_eq!(mat(vec![Deed::Mist(0)]).answer(), Err(PressError::Mists(1)));
        assert_eq!(mat(vec![Deed::Mist(1), Deed::Dry(9)]).answer(), Err(PressError::Card(2)));
        let mut wrong = mat(Vec::new());
        wrong.patches[1].ink = 7;
        assert_eq!(wrong.answer(), Err(PressError::PatchInk(2)));
        // As large and as often as can be, all together, is too much; three cards from one mat are not.
        let side = Length::from_inches(12);
        let much = PressAsked { width: side, height: side, ..mat([Deed::Mist(1), press].repeat(12)) };
        assert_eq!(much.answer(), Err(PressError::Work));
        assert_eq!(PressAsked { dpi: Some(f64::NAN), ..mat(Vec::new()) }.answer(), Err(PressError::Dpi));
        assert!(mat(Vec::new()).answer().unwrap().cards.is_empty());
    }

    fn corner() -> Point {
        Point { left: Length::ZERO, top: Length::ZERO }
    }

    fn flecks() -> FlecksAsked {
        FlecksAsked {
            width: Length::from_inches(4),
            height: Length::from_inches(5),
            look: None,
            count: None,
            cover_percent: None,
            median_mm: None,
            spread: None,
            clear: Vec::new(),
            seed: 2,
        }
    }

    #[test]
    fn flecks_are_as_many_and_cover_as_much_as_asked() {
        let many = FlecksAsked { count: Some(400), ..flecks() }.answer().unwrap();
        assert_eq!(many.drops.len(), 400);
        assert!((many.median_mm / 0.55 - 1.0).abs() < 0.1);
        // As far apart as chance has it (Clark and Evans 1954), a little more for the edges.
        let meant = 0.5 / (400.0_f64 / (101.6 * 127.0)).sqrt();
        assert!((many.nearest_mm.unwrap() / meant - 1.0).abs() < 0.08, "{:?} {meant}", many.nearest_mm);
        for percent in [2.0, 12.0, 40.0] {
            let wet =
                FlecksAsked { cover_percent: Some(percent), spread: Some(0.3), ..flecks() }.answer().unwrap();
            assert!((wet.covered_percent / percent - 1.0).abs() < 0.05, "{percent}: {}", wet.covered_percent);
        }
        let looks = [FleckLook::SparseSky, FleckLook::Snow, FleckLook::Rain];
        let counts =
            looks.map(|look| FlecksAsked { look: Some(look), ..flecks() }.answer().unwrap().drops.len());
        assert!(counts.is_sorted(), "{counts:?}");
    }

    #[test]
    fn what_is_kept_clear_stays_clear() {
        let clear = Clear { at: corner(), width: Length::from_inches(4), height: Length::from_inches(2) };
        let asked = FlecksAsked { look: Some(FleckLook::Snow), clear: vec![clear], ..flecks() };
        let seen = asked.answer().unwrap();
        assert!(seen.drops.iter().all(|drop| drop.y - drop.radius > 50.8), "not by an edge either");
        let all = Clear { at: corner(), width: Length::from_inches(9), height: Length::from_inches(9) };
        assert_eq!(FlecksAsked { clear: vec![all], ..asked }.answer(), Err(FlecksError::NoRoom));
        assert_eq!(flecks().answer(), Err(FlecksError::Nothing));
        let drowned = FlecksAsked { count: Some(MOST_DROPS), median_mm: Some(8.0), ..flecks() };
        assert_eq!(drowned.answer(), Err(FlecksError::Drowned));
        let both = FlecksAsked { count: Some(3), cover_percent: Some(3.0), ..flecks() };
        assert_eq!(both.answer(), Err(FlecksError::Both));
    }
}
