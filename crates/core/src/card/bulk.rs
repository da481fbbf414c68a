//! How thick and stiff does it become, and what brings it under the limit?
//!
//! Thickness is the sum of what lies one over the other at the thickest place: the base's leaves, every layer, the foam
//! under it, and the die cuts on top.
//!
//! Stiffness is that of leaves bending together. What is glued bends as one board; foam between two boards lets them slide
//! by its own shear, so that only a part of what they would be as one is reached: `1 / (1 + π² · EA · t / (G · L²))` for
//! boards of joint stretch stiffness EA on foam of thickness t over a length L (Newmark, Siess and Viest, 1951; the
//! γ of EN 1995-1-1, Annex B). The inner leaf of a folded base slides freely and adds only its own. Given as a
//! multiple of one leaf of 0.3 mm card.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::layers::{Layer, Placed, Stacked};
use super::mount::Mount;
use crate::ink::drawer::CARD_LB;
use crate::ink::{Name, Paper};
use crate::length::{Length, Units};

/// Foam tape: thinnest and thickest (published at the bench).
pub const FOAM: (Length, Length) = (Length::from_tenths_mm(10), Length::from_tenths_mm(20));
/// Most tiers of a stacked die cut.
pub const MOST_TIERS: u8 = 5;
/// Stiffness, in leaves of 0.3 mm card, from which a card no longer bends round a sorting drum easily, and
/// from which it is a board (chosen).
const STIFF: (f64, f64) = (15.0, 60.0);
/// What stiffness is told against: one leaf of 110 lb card.
const LEAF: Length = CARD_LB[0].1;
/// Young's modulus of card over the shear modulus of soft foam tape: 3 GPa to 0.1 MPa (usual for either).
const STRETCH_TO_SHEAR: f64 = 3e9 / 1e5;

/// A die cut on top, in tiers glued one on the other.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct DieCut {
    /// What it shows.
    pub name: Name,
    /// From left to right.
    pub width: Length,
    /// From top to bottom.
    pub height: Length,
    /// Tiers, 1 to 5.
    pub tiers: u8,
    /// Thickness of one tier's card.
    #[serde(with = "crate::length::thickness")]
    #[schemars(with = "Length")]
    pub thickness: Length,
    /// How the lowest is held.
    #[serde(default)]
    pub mount: Mount,
}

/// Why nothing can be said of the bulk.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum BulkError {
    /// Foam there is none of.
    #[error("foam of {}, laid {layers} times: foam tape is 0.5 to 4 mm (0.02 to 0.16 in) thick, laid once or twice", .thick.as_thickness(Units::Millimetres))]
    Foam {
        /// Thickness.
        thick: Length,
        /// Layers.
        layers: u8,
    },
    /// Card there is none of.
    #[error("card of {}: card is 0.1 to 2 mm (0.004 to 0.08 in) thick", .0.as_thickness(Units::Millimetres))]
    Card(Length),
    /// A die cut of no size, or larger than any card.
    #[error("{name} is {length} on one side: a die cut is more than nothing and at most 12 in (304.8 mm)")]
    Size {
        /// What it shows.
        name: Name,
        /// What was given.
        length: Length,
    },
    /// Too many tiers, or none.
    #[error("{0} glued one on the other: a stacked die cut has 1 to {MOST_TIERS}")]
    Tiers(u8),
}

impl Mount {
    /// Refuses foam there is none of.
    ///
    /// # Errors
    /// [`BulkError::Foam`].
    pub fn check(self) -> Result<(), BulkError> {
        match self {
            Mount::Foam { thick, layers }
                if !(Length::from_tenths_mm(5)..=Length::from_tenths_mm(40)).contains(&thick)
                    || !(1..=2).contains(&layers) =>
            {
                Err(BulkError::Foam { thick, layers })
            }
            _ => Ok(()),
        }
    }
}

impl DieCut {
    /// Refuses what no die cut is.
    ///
    /// # Errors
    /// A [`BulkError`] with the remedy.
    pub fn check(&self) -> Result<(), BulkError> {
        check_card(self.thickness)?;
        let side = |length: &Length| Length::ZERO < *length && *length <= Length::from_inches(12);
        if let Some(length) = [self.width, self.height].into_iter().find(|length| !side(length)) {
            return Err(BulkError::Size { name: self.name.clone(), length });
        }
        if !(1..=MOST_TIERS).contains(&self.tiers) {
            return Err(BulkError::Tiers(self.tiers));
        }
        self.mount.check()
    }
}

/// Refuses thicknesses, foam and die cuts there are none of.
///
/// # Errors
/// A [`BulkError`] with the remedy.
pub fn check_all(base: &Paper, layers: &[Layer], die_cut: Option<&DieCut>) -> Result<(), BulkError> {
    check_card(base.thickness)?;
    for layer in layers {
        layer.mount.check()?;
        layer.shapes.iter().filter_map(|shaped| shaped.back).try_for_each(Mount::check)?;
        layer.paper.as_ref().map_or(Ok(()), |paper| check_card(paper.thickness))?;
    }
    die_cut.map_or(Ok(()), DieCut::check)
}

/// Refuses card there is none of.
///
/// # Errors
/// [`BulkError::Card`].
pub fn check_card(thickness: Length) -> Result<(), BulkError> {
    let card = Length::from_tenths_mm(1)..=Length::from_tenths_mm(20);
    if card.contains(&thickness) { Ok(()) } else { Err(BulkError::Card(thickness)) }
}

/// Leaves that bend together, each per millimetre of width and with the stretch stiffness of card as one.
struct Board {
    /// Bending stiffness.
    bends: f64,
    /// Thickness of card in it.
    thick: f64,
    /// Height of its middle.
    middle: f64,
}

impl Board {
    /// With another on top, foam of some thickness (none: glue) between them, over a length.
    fn joined(self, other: Board, foam: f64, long: f64) -> Board {
        let thick = self.thick + other.thick;
        let stretch = self.thick * other.thick / thick;
        let shared =
            1.0 / (1.0 + std::f64::consts::PI.powi(2) * STRETCH_TO_SHEAR * stretch * foam / (long * long));
        let apart = other.middle - self.middle;
        Board {
            bends: self.bends + other.bends + shared * stretch * apart * apart,
            thick,
            middle: (self.middle * self.thick + other.middle * other.thick) / thick,
        }
    }
}

/// What lies at the thickest place, as a maker could swap it.
#[derive(Clone, Debug, PartialEq)]
pub struct Build {
    /// The closed card's longer side.
    pub long: Length,
    /// Leaves of the closed base.
    pub leaves: i64,
    /// Thickness of the base's card.
    pub base: Length,
    /// Layers from the lowest up: name, card, mount.
    pub layers: Vec<(Name, Length, Mount)>,
    /// Which of the layers asked for each of them came from, from 0.
    pub of: Vec<usize>,
    /// What is cut out of a layer and put back on foam.
    pub raised: Vec<Raised>,
    /// On top.
    pub die_cut: Option<DieCut>,
}

/// A piece cut out of a layer and put back in its opening on foam.
#[derive(Clone, Debug, PartialEq)]
pub struct Raised {
    /// What it is called.
    pub name: Name,
    /// The layer it is cut out of, among those of the build.
    pub layer: usize,
    /// The same among the layers asked for, and which of that layer's shapes it is.
    pub of: usize,
    /// See there.
    pub nth: usize,
    /// What holds it.
    pub mount: Mount,
}

impl Build {
    /// Of layers worked out; those without a card of their own are of the base's.
    pub fn of(leaves: i64, base: &Paper, stacked: &Stacked, die_cut: Option<&DieCut>) -> Build {
        let thick = |layer: &Placed| layer.paper.as_ref().map_or(base.thickness, |paper| paper.thickness);
        let raised = stacked.layers.iter().enumerate().flat_map(|(layer, placed)| {
            let on_foam = placed.shapes.iter().enumerate().filter_map(|(nth, shaped)| {
                Some((nth, shaped, shaped.back.filter(|back| *back != Mount::Glue)?))
            });
            on_foam.map(move |(nth, shaped, mount)| Raised {
                name: shaped.shape.name.clone(),
                layer,
                of: placed.of,
                nth,
                mount,
            })
        });
        Build {
            raised: raised.collect(),
            long: stacked.width.max(stacked.height),
            leaves,
            base: base.thickness,
            layers: stacked
                .layers
                .iter()
                .map(|layer| (layer.name.clone(), thick(layer), layer.mount))
                .collect(),
            of: stacked.layers.iter().map(|layer| layer.of).collect(),
            die_cut: die_cut.cloned(),
        }
    }

    /// The sum of all, at the thickest place.
    pub fn thickness(&self) -> Length {
        let up_to = |count: usize| -> Length {
            self.layers[..count].iter().map(|(_, card, mount)| *card + mount.raises()).sum()
        };
        let raised = self
            .raised
            .iter()
            .map(|raised| up_to(raised.layer) + raised.mount.raises() + self.layers[raised.layer].1);
        let raised = raised.max().unwrap_or_default();
        let die_cut = self
            .die_cut
            .iter()
            .map(|cut| cut.thickness * i64::from(cut.tiers) + cut.mount.raises())
            .sum::<Length>();
        self.base * self.leaves + raised.max(up_to(self.layers.len()) + die_cut)
    }

    /// Stiffness as a multiple of one leaf of 0.3 mm card.
    pub fn stiffness(&self) -> f64 {
        let board =
            |thick: f64, from: f64| Board { bends: thick.powi(3) / 12.0, thick, middle: from + thick / 2.0 };
        let leaf = self.base.mm();
        let (mut front, mut top) = (board(leaf, 0.0), leaf);
        for (_, card, mount) in &self.layers {
            let foam = mount.raises().mm();
            front = front.joined(board(card.mm(), top + foam), foam, self.long.mm());
            top += foam + card.mm();
        }
        let inner = (self.leaves - 1) as f64 * board(leaf, 0.0).bends;
        (front.bends + inner) / board(LEAF.mm(), 0.0).bends
    }

    /// Every single swap that makes it thinner, the smallest saving first: what to do, and the build then.
    fn swaps(&self, units: Units) -> Vec<(String, Build)> {
        let mut found = Vec::new();
        let mut offer = |says: String, with: &dyn Fn(&mut Build)| {
            let mut swapped = self.clone();
            with(&mut swapped);
            found.push((says, swapped));
        };
        let thin = CARD_LB[1].1;
        for (at, (name, card, mount)) in self.layers.iter().enumerate() {
            if let Mount::Foam { thick, layers } = *mount {
                if layers == 2 {
                    let once = Mount::Foam { thick, layers: 1 };
                    offer(format!("one layer of foam under {name} in place of two"), &|b| {
                        b.layers[at].2 = once
                    });
                }
                if thick > FOAM.0 {
                    let thinner = Mount::Foam { thick: FOAM.0, layers };
                    let says = format!("foam of {} under {name}", FOAM.0.as_thickness(units));
                    offer(says, &|b| b.layers[at].2 = thinner);
                }
                offer(format!("glue under {name} in place of foam"), &|b| b.layers[at].2 = Mount::Glue);
            }
            if *card > thin {
                let says = format!(
                    "{name} of {} card in place of {}",
                    thin.as_thickness(units),
                    card.as_thickness(units)
                );
                offer(says, &|b| b.layers[at].1 = thin);
            }
        }
        for (at, raised) in self.raised.iter().enumerate() {
            offer(format!("{} put back level, without foam", raised.name), &|b| drop(b.raised.remove(at)));
        }
        if let Some(cut) = &self.die_cut {
            if cut.tiers > 1 {
                let says =
                    format!("{} of {} one on the other in place of {}", cut.tiers - 1, cut.name, cut.tiers);
                offer(says, &|b| b.die_cut.iter_mut().for_each(|cut| cut.tiers -= 1));
                if cut.tiers > 2 {
                    let says = format!("a single {}", cut.name);
                    offer(says, &|b| b.die_cut.iter_mut().for_each(|cut| cut.tiers = 1));
                }
            }
            if cut.mount != Mount::Glue {
                let says = format!("glue under {} in place of foam", cut.name);
                offer(says, &|b| b.die_cut.iter_mut().for_each(|cut| cut.mount = Mount::Glue));
            }
        }
        found.sort_by_key(|(_, build)| std::cmp::Reverse(build.thickness()));
        found
    }
}

/// What can be said of a card's thickness and stiffness.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Bulk {
    /// At the thickest place.
    #[serde(with = "crate::length::thickness")]
    #[schemars(with = "Length")]
    pub thickness: Length,
    /// As a multiple of one leaf of 0.3 mm card.
    pub stiffness: f64,
    /// That in words.
    pub stiffness_says: String,
    /// The maker's own limit, where one is set.
    #[serde(default, with = "crate::length::thickness::option")]
    #[schemars(with = "Option<Length>")]
    pub limit: Option<Length>,
    /// Whether it is within the limit; true where none is set.
    pub within: bool,
    /// What to swap to get under the limit, smallest change first; empty where it is under.
    pub swaps: Vec<Swap>,
}

/// One or more changes that bring a card under its limit.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Swap {
    /// What to do.
    pub says: String,
    /// How thick it is then.
    #[serde(with = "crate::length::thickness")]
    #[schemars(with = "Length")]
    pub thickness: Length,
    /// What lies one over the other then.
    #[serde(skip)]
    #[schemars(skip)]
    pub build: Option<Build>,
}

impl Bulk {
    /// Judges a build against the maker's limit.
    pub fn of(build: &Build, limit: Option<Length>, units: Units) -> Bulk {
        let thickness = build.thickness();
        let stiffness = build.stiffness();
        let stiffness_says = match stiffness {
            s if s < STIFF.0 => "It bends easily.",
            s if s < STIFF.1 => "It is stiff: a sorting machine may not bend it.",
            _ => "It is a board: no sorting machine bends it, and many posts ask more for that.",
        };
        let within = limit.is_none_or(|limit| thickness <= limit);
        let swaps = limit.filter(|_| !within).map_or_else(Vec::new, |limit| swaps(build, limit, units));
        Bulk { thickness, stiffness, stiffness_says: stiffness_says.into(), limit, within, swaps }
    }
}

/// Single swaps that do, else pairs, else as many as it takes; none where the base alone is too thick.
fn swaps(build: &Build, limit: Length, units: Units) -> Vec<Swap> {
    const SHOWN: usize = 4;
    let fits = |says: String, build: &Build| {
        let thickness = build.thickness();
        (thickness <= limit).then(|| Swap { says, thickness, build: Some(build.clone()) })
    };
    let singles = build.swaps(units);
    let mut found: Vec<Swap> = singles.iter().filter_map(|(says, b)| fits(says.clone(), b)).collect();
    if found.is_empty() {
        let pairs = singles.iter().flat_map(|(first, b)| {
            b.swaps(units).into_iter().map(move |(second, b)| (format!("{first}, and {second}"), b))
        });
        found = pairs.filter_map(|(says, b)| fits(says, &b)).collect();
        found.sort_by_key(|swap| std::cmp::Reverse(swap.thickness));
        found.dedup_by_key(|swap| swap.thickness);
    }
    if found.is_empty() {
        let (mut says, mut swapped) = (Vec::new(), build.clone());
        while swapped.thickness() > limit {
            let Some((what, next)) = swapped.swaps(units).pop() else { break };
            says.push(what);
            swapped = next;
        }
        found.extend(fits(says.join(", and "), &swapped));
    }
    found.truncate(SHOWN);
    found
}

#[cfg(test)]
mod tests {
    use super::*;

    fn build(layers: &[(i64, Mount)]) -> Build {
        let name: Name = "Layer".parse().unwrap();
        Build {
            long: Length::from_tenths_mm(1400),
            leaves: 1,
            base: Length::from_tenths_mm(3),
            layers: layers
                .iter()
                .map(|(t, mount)| (name.clone(), Length::from_tenths_mm(*t), *mount))
                .collect(),
            of: (0..layers.len()).collect(),
            raised: Vec::new(),
            die_cut: None,
        }
    }

    #[test]
    fn glued_leaves_are_one_board_as_thick_as_all_of_them() {
        for n in 1..5 {
            let leaves = vec![(3, Mount::Glue); n];
            let as_one = ((n + 1) as f64).powi(3);
            assert!(
                (build(&leaves).stiffness() - as_one).abs() < 1e-9 * as_one,
                "stiffness goes with the cube of thickness"
            );
        }
    }

    #[test]
    fn foam_joins_less_than_glue_would_over_the_same_distance_and_more_over_a_longer_card() {
        let foam = Mount::Foam { thick: Length::from_tenths_mm(10), layers: 1 };
        let raised = build(&[(3, foam)]);
        // Two leaves of 0.3 mm with their middles 1.3 mm apart: apart they are twice one leaf, as one 1 + 1 + 12 / 2 × (1.3 / 0.3)².
        let as_one = 2.0 + 6.0 * (1.3_f64 / 0.3).powi(2);
        assert!(raised.stiffness() > 2.0 && raised.stiffness() < as_one);
        let longer = Build { long: raised.long * 2, ..raised.clone() };
        assert!(longer.stiffness() > raised.stiffness() && longer.stiffness() < as_one);
    }
}
