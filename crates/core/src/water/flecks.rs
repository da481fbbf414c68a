//! Which drops does a wished look of flecks mean?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::drops::{Chance, Drop, Sizes, thrown};
use crate::length::Length;
use crate::place::{Extent, Point};

/// Most flecks of one throw.
pub const MOST_FLECKS: u16 = 2_000;
/// Most that are placed one by one.
pub const MOST_PLACED: usize = 60;
/// Most places kept clear.
pub const MOST_CLEAR: usize = 12;
/// From the middle of a fleck to its edge.
pub const RADII: (Length, Length) = (Length::from_hundredths_mm(5), Length::from_hundredths_mm(800));
/// Most parts of water to one of ink or paint.
pub const MOST_WATER: u8 = 8;
/// How unlike flecks can be: the standard deviation of the logarithm of the radius, in hundredths.
pub const MOST_UNLIKE: u8 = 120;

/// A wished look of flecks.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum FleckLook {
    /// A few stars far apart, one or two of them large.
    SparseSky,
    /// Many soft dots of several sizes.
    Snow,
    /// A fine, dense fall.
    Rain,
}

impl FleckLook {
    /// Sizes, and how many on ten square centimetres (chosen from what makers call them).
    pub const fn figures(self) -> (Sizes, f64) {
        match self {
            FleckLook::SparseSky => (Sizes { median: 0.28, spread: 0.55 }, 4.0),
            FleckLook::Snow => (Sizes { median: 0.55, spread: 0.5 }, 16.0),
            FleckLook::Rain => (Sizes { median: 0.2, spread: 0.35 }, 60.0),
        }
    }
}

/// What is flicked.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Thrown {
    /// Clean water.
    Water,
    /// An ink or paint thinned with water, by its place in the panel's list.
    Ink(usize),
    /// Mica that glints.
    Mica,
}

/// What flecks are flicked from.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum FlickedFrom {
    /// A loaded brush.
    #[default]
    Brush,
    /// The inked edge of a stamping block, a finger drawn over it.
    Block,
}

impl FlickedFrom {
    const fn is_brush(&self) -> bool {
        matches!(self, FlickedFrom::Brush)
    }
}

/// A fleck placed with the tip of a brush or a pen.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Placed {
    /// Where.
    pub at: Point,
    /// From its middle to its edge.
    #[serde(with = "crate::length::thickness")]
    #[schemars(with = "Length")]
    pub radius: Length,
}

/// Flecks: flicked from a brush, and placed one by one.
#[derive(Clone, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Flecks {
    /// What they are of.
    pub of: Thrown,
    /// Parts of water to one of ink or paint: more is softer, less is brighter.
    #[serde(default)]
    pub water: u8,
    /// What they are flicked from.
    #[serde(default, skip_serializing_if = "FlickedFrom::is_brush")]
    pub from: FlickedFrom,
    /// How many are flicked.
    pub count: u16,
    /// From the middle of a flicked one to its edge, half of them smaller.
    #[serde(with = "crate::length::thickness")]
    #[schemars(with = "Length")]
    pub median: Length,
    /// How unlike they are: the standard deviation of the natural logarithm of the radius, in hundredths.
    pub unlike: u8,
    /// Those placed one by one.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub placed: Vec<Placed>,
    /// Whether those are set with a pen, that needs no water: brighter than what is flicked.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub by_pen: bool,
    /// Where scrap card keeps it clear of them.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub clear: Vec<Extent>,
}

impl Flecks {
    /// Of a look, on a panel of this size.
    pub fn of_look(of: Thrown, look: FleckLook, size: (Length, Length)) -> Flecks {
        let (sizes, on_ten_cm2) = look.figures();
        let area = size.0.mm() * size.1.mm() / 1000.0;
        Flecks {
            of,
            water: 1,
            count: ((on_ten_cm2 * area).round() as u16).clamp(1, MOST_FLECKS),
            median: Length::from_hundredths_mm((100.0 * sizes.median).round() as i64),
            unlike: (100.0 * sizes.spread).round() as u8,
            from: FlickedFrom::Brush,
            placed: Vec::new(),
            by_pen: false,
            clear: Vec::new(),
        }
    }

    /// Whether flecks of this kind can be thrown on a panel of this size that has so many inks.
    pub fn is_possible(&self, inks: usize, (width, height): (Length, Length)) -> bool {
        let is_size = |radius: Length| (RADII.0..=RADII.1).contains(&radius);
        let is_on = |at: Point| {
            (Length::ZERO..=width).contains(&at.left) && (Length::ZERO..=height).contains(&at.top)
        };
        let has_ink = match self.of {
            Thrown::Ink(ink) => ink < inks,
            Thrown::Water | Thrown::Mica => true,
        };
        has_ink
            && self.water <= MOST_WATER
            && self.count <= MOST_FLECKS
            && self.unlike <= MOST_UNLIKE
            && is_size(self.median)
            && self.placed.len() <= MOST_PLACED
            && self.placed.iter().all(|placed| is_on(placed.at) && is_size(placed.radius))
            && self.clear.len() <= MOST_CLEAR
    }

    /// Where they fall on a panel so large; those placed come first. Fewer are flicked where most of it is kept clear.
    pub fn drops(&self, size: (f64, f64), chance: &mut Chance) -> Vec<Drop> {
        let sizes = Sizes { median: self.median.mm(), spread: f64::from(self.unlike) / 100.0 };
        let placed = self.placed.iter().map(|placed| Drop {
            x: placed.at.left.mm(),
            y: placed.at.top.mm(),
            radius: placed.radius.mm(),
        });
        let flicked = thrown(usize::from(self.count), sizes, size, chance);
        placed.chain(flicked.into_iter().filter(|drop| !self.is_clear(drop))).collect()
    }

    fn is_clear(&self, drop: &Drop) -> bool {
        self.clear.iter().any(|Extent { corner, size }| {
            drop.reaches((corner.left.mm(), corner.top.mm()), (size.0.mm(), size.1.mm()))
        })
    }

    /// Parts of water to one in a fleck, by its place among them: those placed come first, and a pen needs none.
    pub fn water_of(&self, nth: usize) -> u8 {
        if self.by_pen && nth < self.placed.len() { 0 } else { self.water }
    }

    /// How much ink stands in a fleck, in full swatches: thinned with more water it is less (chosen).
    pub fn strength_of(&self, nth: usize) -> f64 {
        2.2 / (1.0 + 0.5 * f64::from(self.water_of(nth)))
    }
}
