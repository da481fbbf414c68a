//! What is changed about one of a panel's blends: turned, taken hold of, measured, its hills moved, added, taken away?

use std::cmp::Ordering;

use crate::blend::grip::{Grip, Measure};
use crate::blend::{Blend, Field, Way};
use crate::ink::drawer::MOST_VEILS;
use crate::judgement::fewest_passes;
use crate::length::{Length, ParseIn, Units};
use crate::moves::light_passes;
use crate::panel::Panel;
use crate::scene::School;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::words::{MOST_MARKS, in_mm};
use super::{Edit, Edited, GONE, Has};

/// A change to one blend.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Change {
    /// Another way to run, every measure keeping its share.
    Turn(Way),
    /// A grip moved to a place, in shares of the panel's width and height.
    Hold {
        /// Which.
        grip: Grip,
        /// In shares of the panel's width.
        across: f64,
        /// In shares of its height.
        down: f64,
    },
    /// A grip moved by pencil marks.
    Nudge {
        /// Which.
        grip: Grip,
        /// To the right.
        right: i32,
        /// Down.
        down: i32,
    },
    /// A measure as it was written.
    Measure {
        /// Which.
        measure: Measure,
        /// What was written.
        text: String,
    },
    /// One end of a hill moved, between those beside it.
    Edge {
        /// Which hill, by its place.
        field: usize,
        /// Which end of it.
        edge: Edge,
        /// Where to.
        to: To,
    },
    /// One end of a hill as it was written.
    Write {
        /// Which hill, by its place.
        field: usize,
        /// Which end of it.
        edge: Edge,
        /// What was written.
        text: String,
    },
    /// So many light passes more of an ink, or fewer.
    Veils {
        /// Of which hill, by its place.
        field: usize,
        /// By how many.
        by: i8,
    },
    /// Another school to lay all of the panel in.
    School(School),
    /// A whole hill moved by pencil marks, as far as there is room.
    Shift {
        /// Which hill, by its place.
        field: usize,
        /// By how many.
        by: i32,
    },
    /// A blend more, of inks by their places in the panel's list.
    Add {
        /// Which way it runs.
        way: Way,
        /// Of which, by their places in the panel's list.
        inks: Vec<usize>,
    },
    /// The inks the other way round.
    Reverse,
    /// One blend fewer.
    Remove,
    /// One pass more for every ink, or one fewer.
    Round(i8),
    /// As few passes as still look smooth and read as the same colours.
    Fewest,
}

/// One of a hill's four measures.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum Edge {
    /// Where it begins.
    Starts,
    /// From where it is full.
    FullFrom,
    /// To where it is full.
    FullTo,
    /// Where it has faded out.
    Ends,
}

impl Edge {
    /// All of them, in their order along the blend.
    const ALL: [Edge; 4] = [Edge::Starts, Edge::FullFrom, Edge::FullTo, Edge::Ends];

    fn of(self, field: &mut Field) -> &mut Length {
        match self {
            Edge::Starts => &mut field.starts,
            Edge::FullFrom => &mut field.full_from,
            Edge::FullTo => &mut field.full_to,
            Edge::Ends => &mut field.ends,
        }
    }

    /// Puts it somewhere. Those on either side of it make way, so that all of them can be written in any order.
    fn put(self, field: &mut Field, at: Length) {
        for other in Edge::ALL {
            let of = other.of(field);
            *of = match other.cmp(&self) {
                Ordering::Less => at.min(*of),
                Ordering::Equal => at,
                Ordering::Greater => at.max(*of),
            };
        }
    }
}

/// Where one of them is moved to.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum To {
    /// A share of the way along the blend.
    At(f64),
    /// So many pencil marks further along.
    By(i32),
    /// As near to the start as its neighbour allows.
    Least,
    /// As far along.
    Most,
}

/// A change to one of the blends of the ground.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Bend {
    /// Which, by its place.
    #[serde(default)]
    pub blend: usize,
    /// What is changed.
    pub change: Change,
}

impl Edit for Bend {
    fn field(&self) -> String {
        match &self.change {
            Change::Measure { measure, .. } => word_of(measure),
            Change::Write { field, edge, .. } => format!("{field}-{}", word_of(edge)),
            Change::Veils { field, .. } => format!("{field}-passes"),
            _ => String::new(),
        }
    }

    fn orders(&self) -> bool {
        matches!(self.change, Change::School(_))
    }

    fn label(&self, panel: &Panel, _: &Has) -> String {
        let field = |place: &usize| panel.scene.ground.get(self.blend)?.fields.get(*place);
        let ink = |place: &usize| field(place).and_then(|field| panel.inks.get(field.ink));
        let name = |place: &usize| ink(place).map_or("an ink", |ink| ink.name.as_str());
        match &self.change {
            Change::Turn(_) => "turn the blend".into(),
            Change::Hold { .. } | Change::Nudge { .. } => "bend the blend".into(),
            Change::Measure { measure, .. } => format!("set {}", measure.words()),
            Change::Edge { field, .. } | Change::Shift { field, .. } => format!("move {}", name(field)),
            Change::Write { field, .. } => format!("set {}", name(field)),
            Change::Veils { field: place, by } => {
                let veils = field(place).map_or(1, |field| laid_in(field, *by));
                format!("lay {} in {}", name(place), light_passes(veils.into()))
            }
            Change::School(school) => school.words().into(),
            Change::Add { .. } => "lay another blend over it".into(),
            Change::Reverse => "turn the inks round".into(),
            Change::Remove => "take a blend away".into(),
            Change::Round(by) if *by > 0 => "one more round".into(),
            Change::Round(_) => "stop a round earlier".into(),
            Change::Fewest => "as few passes as still look smooth".into(),
        }
    }

    fn made(&self, panel: Panel, has: &Has) -> Result<Edited, String> {
        let (panel, blend) = self.change.changed(panel, self.blend, has.units)?;
        Ok(Edited { blend: Some(blend), ..panel.into() })
    }
}

impl Change {
    /// The panel with the change made to one of its blends, and the place of the blend that is then looked at.
    fn changed(&self, panel: Panel, place: usize, units: Units) -> Result<(Panel, usize), String> {
        let size = panel.size();
        let Some(blend) = panel.scene.ground.get(place).cloned() else {
            return Err("That blend is not there any more: reload this page.".into());
        };
        let turned = |panel: Panel, way: Way| {
            way.check(size).map_err(|error| error.to_string())?;
            Ok((panel.turned(place, way, units), place))
        };
        match *self {
            Change::Turn(way) => turned(panel, way),
            Change::Hold { grip, across, down } => {
                let at = in_mm(&panel, (across, down), 2.0)?;
                turned(panel, blend.way.held(grip, at, size, units))
            }
            Change::Nudge { grip, right, down } => {
                let marks = |n: i32| n.clamp(-MOST_MARKS, MOST_MARKS);
                turned(panel, blend.way.nudged(grip, (marks(right), marks(down)), size, units))
            }
            Change::Measure { measure, ref text } => {
                let way = blend.way.with_measure(measure, text, units).map_err(|error| error.to_string())?;
                turned(panel, way)
            }
            Change::Edge { field, edge, to } => {
                let fields = moved(&blend, field, edge, to, panel.span(place), units);
                Ok((panel.with_blend(place, Blend { fields, ..blend }), place))
            }
            Change::Shift { field, by } => {
                let fields =
                    shifted(&blend, field, by.clamp(-MOST_MARKS, MOST_MARKS), panel.span(place), units);
                Ok((panel.with_blend(place, Blend { fields, ..blend }), place))
            }
            Change::Write { field, edge, ref text } => {
                let mut fields = blend.fields.clone();
                let at = text.parse_in(units).map_err(|error| error.to_string())?;
                edge.put(fields.get_mut(field).ok_or(GONE)?, at);
                Ok((panel.with_blend(place, Blend { fields, ..blend }), place))
            }
            Change::Veils { field, by } => {
                let mut fields = blend.fields.clone();
                let hill = fields.get_mut(field).ok_or(GONE)?;
                hill.veils = hill.veils.saturating_add_signed(by);
                Ok((panel.with_blend(place, Blend { fields, ..blend }), place))
            }
            Change::School(school) => Ok((Panel { school, by_hand: false, ..panel }.laid(), place)),
            Change::Add { way, ref inks } => {
                way.check(size).map_err(|error| error.to_string())?;
                let chosen =
                    inks.iter().map(|ink| Some((panel.inks.get(*ink)?.clone(), Some(*ink)))).collect();
                let chosen: Option<Vec<_>> = chosen;
                let chosen = chosen.ok_or("That ink is not on the panel any more: reload this page.")?;
                let panel = panel.with_blend_of(chosen, way, units);
                let last = panel.scene.ground.len() - 1;
                Ok((panel, last))
            }
            Change::Reverse => {
                let mut inks: Vec<(usize, u8)> =
                    blend.fields.iter().map(|field| (field.ink, field.veils)).collect();
                inks.reverse();
                let with = |(field, (ink, veils)): (&Field, (usize, u8))| Field { ink, veils, ..*field };
                let fields = blend.fields.iter().zip(inks).map(with).collect();
                Ok((panel.with_blend(place, Blend { fields, ..blend }), place))
            }
            Change::Remove => Ok((panel.without_blend(place), place.saturating_sub(1))),
            Change::Fewest => Ok((fewest_passes(&panel, place), place)),
            Change::Round(by) => {
                let more = |field: &Field| Field { veils: laid_in(field, by), ..*field };
                let fields = blend.fields.iter().map(more).collect();
                Ok((panel.with_blend(place, Blend { fields, ..blend }), place))
            }
        }
    }
}

/// A word as it is sent.
fn word_of(of: &impl Serialize) -> String {
    serde_json::to_value(of).ok().and_then(|word| word.as_str().map(str::to_owned)).unwrap_or_default()
}

/// In how many light passes a field is laid with so many more, or fewer.
fn laid_in(field: &Field, by: i8) -> u8 {
    field.veils.saturating_add_signed(by).clamp(1, MOST_VEILS)
}

/// The fields with one end of one hill moved to a pencil mark, kept between those beside it.
fn moved(blend: &Blend, place: usize, edge: Edge, to: To, span: Length, units: Units) -> Vec<Field> {
    let mut fields = blend.fields.clone();
    let Some(hill) = fields.get_mut(place) else { return fields };
    let mark = units.pencil();
    let own = *hill;
    let (least, most) = match edge {
        Edge::Starts => (Length::ZERO, own.full_from),
        Edge::FullFrom => (own.starts, own.full_to),
        Edge::FullTo => (own.full_from, own.ends),
        Edge::Ends => (own.full_to, span),
    };
    let at = edge.of(hill);
    let wished = match to {
        To::At(share) if share.is_finite() => Length::nearest(share.clamp(0.0, 1.0) * span.mm(), mark),
        To::At(_) => *at,
        To::By(marks) => *at + mark * i64::from(marks.clamp(-MOST_MARKS, MOST_MARKS)),
        To::Least => least,
        To::Most => most,
    };
    *at = wished.clamp(least, most);
    // Nothing of it would be left.
    if hill.starts == hill.ends {
        return blend.fields.clone();
    }
    fields
}

/// The fields with one hill moved along, its shape kept, as far as there is room at either end. A hill that begins or ends
/// at the very end of the blend runs off it there, and keeps doing so.
fn shifted(blend: &Blend, place: usize, by: i32, span: Length, units: Units) -> Vec<Field> {
    let mut fields = blend.fields.clone();
    let Some(hill) = fields.get_mut(place) else { return fields };
    let (off_start, off_end) = (hill.full_from == Length::ZERO, hill.full_to == span);
    let low = if off_start { hill.full_to } else { hill.starts };
    let high = if off_end { hill.full_from } else { hill.ends };
    let mark = units.pencil();
    let moved = (mark * i64::from(by)).clamp((-low).min(Length::ZERO), (span - high).max(Length::ZERO));
    let with = |at: Length, stays: bool| if stays { at } else { at + moved };
    *hill = Field {
        starts: with(hill.starts, off_start),
        full_from: with(hill.full_from, off_start),
        full_to: with(hill.full_to, off_end),
        ends: with(hill.ends, off_end),
        ..*hill
    };
    fields
}
