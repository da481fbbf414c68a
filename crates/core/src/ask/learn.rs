//! What do a maker's own times say?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::learn::estimate::SURE;
use crate::learn::learned::{LONGEST, Learned, Log, learned};

/// Most logs of one question.
const MOST_LOGS: usize = 20_000;

/// A maker's times.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct LearnAsked {
    /// The logs, in any order.
    pub logs: Vec<Log>,
}

/// What they say.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LearnSeen {
    /// Each figure that has logs: first of all together, then by ink, card, tool and room.
    pub figures: Vec<Learned>,
    /// How often a figure lies between its least and its most.
    pub sure: f64,
}

/// Why nothing is learned, and what to change.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum LearnError {
    /// Too many.
    #[error("{0} logs: give at most {MOST_LOGS}")]
    Many(usize),
    /// No time.
    #[error(
        "log {place}: {seconds} seconds is no time that anything took: give more than nothing and up to a week"
    )]
    Time {
        /// Its place, counted from 1.
        place: usize,
        /// What was given.
        seconds: f64,
    },
}

impl LearnAsked {
    /// Learns.
    ///
    /// # Errors
    /// A [`LearnError`] naming the log.
    pub fn answer(&self) -> Result<LearnSeen, LearnError> {
        if self.logs.len() > MOST_LOGS {
            return Err(LearnError::Many(self.logs.len()));
        }
        let is_time = |log: &Log| log.seconds > 0.0 && log.seconds <= LONGEST;
        if let Some(at) = self.logs.iter().position(|log| !is_time(log)) {
            return Err(LearnError::Time { place: at + 1, seconds: self.logs[at].seconds });
        }
        Ok(LearnSeen { figures: learned(&self.logs), sure: SURE })
    }
}
