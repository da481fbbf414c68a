//! What do the panels that a maker showed say of her hand?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::learn::estimate::SURE;
use crate::learn::hand::{LearnedHand, MOST_SHOWINGS, Showing, hands_of};

/// What photos of panels showed, each as `inspect` tells it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct HandAsked {
    /// Up to 400.
    pub showings: Vec<Showing>,
}

/// Her hand.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct HandSeen {
    /// Of all together first, then with each tool on each card where those differ.
    pub hands: Vec<LearnedHand>,
    /// How often a figure lies between its least and its most.
    pub sure: f64,
}

/// Why nothing is learned, and what to change.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum HandAskedError {
    /// Too many.
    #[error("{0} showings: give at most {MOST_SHOWINGS}")]
    Many(usize),
    /// No figure.
    #[error(
        "showing {0}: give its strength and unevenness as shares above nothing, and what it is within as a factor of 1 and more"
    )]
    Figure(usize),
}

impl HandAsked {
    /// Learns.
    ///
    /// # Errors
    /// A [`HandAskedError`] naming the showing.
    pub fn answer(&self) -> Result<HandSeen, HandAskedError> {
        if self.showings.len() > MOST_SHOWINGS {
            return Err(HandAskedError::Many(self.showings.len()));
        }
        match self.showings.iter().position(|showing| !showing.is_one()) {
            Some(at) => Err(HandAskedError::Figure(at + 1)),
            None => Ok(HandSeen { hands: hands_of(&self.showings), sure: SURE }),
        }
    }
}
