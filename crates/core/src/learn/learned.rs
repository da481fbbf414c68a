//! What do a maker's own times say: of everything together, then by ink, card, tool and room?

use std::collections::BTreeMap;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::estimate::Estimate;
use super::figure::Figure;
use crate::ink::Name;

/// Longest time, in seconds: a week.
pub const LONGEST: f64 = 604_800.0;
/// How much one ink, card, tool or room differs from all of them together, as the standard deviation of the logarithm
/// (chosen).
const UNLIKE: f64 = 0.25;

/// One time as it was logged.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Log {
    /// Of what.
    pub figure: Figure,
    /// How long it took.
    pub seconds: f64,
    /// With which ink.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ink: Option<Name>,
    /// On which card.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub card: Option<Name>,
    /// With which tool.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tool: Option<Name>,
    /// In which room, or weather.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub room: Option<Name>,
}

/// Of what a figure is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum By {
    /// Of all logs together.
    All,
    /// Of one ink.
    Ink,
    /// Of one card.
    Card,
    /// Of one tool.
    Tool,
    /// Of one room.
    Room,
}

/// A figure as the logs have it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Learned {
    /// Which.
    pub figure: Figure,
    /// Of what.
    pub by: By,
    /// The ink, card, tool or room; nothing for all of them together.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub of: Option<Name>,
    /// How many logs it comes of.
    pub logs: usize,
    /// The field guide's, in seconds.
    pub guide: f64,
    /// The maker's own, in seconds: as likely more as less.
    pub seconds: f64,
    /// In seconds; with the sureness stated it lies between these.
    pub least: f64,
    /// See `least`.
    pub most: f64,
    /// Logs that lie so far off that they count for little, by their places in the question.
    pub odd: Vec<usize>,
    /// Whether it is surely another than the field guide's.
    pub differs: bool,
    /// All of it in a sentence.
    pub says: String,
}

/// Each figure that has logs: of all of them together, then narrower, as far from that as the logs say.
pub fn learned(logs: &[Log]) -> Vec<Learned> {
    let mut found = Vec::new();
    for figure in Figure::ALL.iter().copied() {
        let own: Vec<usize> = (0..logs.len()).filter(|at| logs[*at].figure == figure).collect();
        if own.is_empty() {
            continue;
        }
        let times = |places: &[usize]| places.iter().map(|at| logs[*at].seconds).collect::<Vec<f64>>();
        let all = Estimate::of(figure.prior(), &times(&own));
        found.push(Learned::of(figure, (By::All, None), &own, &all));
        let mut narrower: BTreeMap<(By, &Name), Vec<usize>> = BTreeMap::new();
        for at in &own {
            let log = &logs[*at];
            let of =
                [(By::Ink, &log.ink), (By::Card, &log.card), (By::Tool, &log.tool), (By::Room, &log.room)];
            for (by, name) in of {
                if let Some(name) = name {
                    narrower.entry((by, name)).or_default().push(*at);
                }
            }
        }
        for ((by, name), places) in narrower {
            // What all logs have in common says nothing of its own.
            if places.len() == own.len() {
                continue;
            }
            let estimate = Estimate::of(all.narrower(UNLIKE), &times(&places));
            found.push(Learned::of(figure, (by, Some(name.clone())), &places, &estimate));
        }
    }
    found
}

impl Learned {
    fn of(figure: Figure, (by, of): (By, Option<Name>), places: &[usize], estimate: &Estimate) -> Learned {
        let Estimate { figure: seconds, least, most, odd, .. } = estimate;
        let guide = figure.guide();
        let differs = !(*least..=*most).contains(&guide);
        let whose = of.as_ref().map_or(String::new(), |of| format!(" ({of})"));
        let times = if places.len() == 1 { "1 log".to_owned() } else { format!("{} logs", places.len()) };
        let against = if differs { "instead of" } else { "against" };
        let says = format!(
            "{}{whose}: {}, between {} and {}, by {times}, {against} the guide's {}.",
            crate::say::capital(figure.words()),
            told(*seconds),
            told(*least),
            told(*most),
            told(guide)
        );
        Learned {
            figure,
            by,
            of,
            logs: places.len(),
            guide,
            seconds: *seconds,
            least: *least,
            most: *most,
            odd: odd.iter().map(|at| places[*at]).collect(),
            differs,
            says,
        }
    }
}

/// A time from least to most, as a maker says it.
pub fn told_from((least, most): (u32, u32)) -> String {
    match (least % 60, most % 60) {
        (0, 0) if most >= 60 => format!("{} to {} minutes", least / 60, most / 60),
        _ => format!("{} to {}", told(least.into()), told(most.into())),
    }
}

/// A time as a maker says it.
pub fn told(seconds: f64) -> String {
    let whole = seconds.round() as i64;
    match whole {
        ..120 => format!("{whole} seconds"),
        120..600 if whole % 60 != 0 => format!("{} min {:02} s", whole / 60, whole % 60),
        _ => format!("{} minutes", (seconds / 60.0).round() as i64),
    }
}
