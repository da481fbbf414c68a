//! What is wanted on the panel? Behind all, its ground: blends that lie over one another, each along its own way.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::blend::{Blend, field::FieldError};
use crate::length::{Length, Units};

/// Most blends on a panel.
pub const MOST_BLENDS: usize = 8;

/// What is wanted.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Scene {
    /// The blends of the ground, in the order they are told.
    pub ground: Vec<Blend>,
}

/// Why a scene cannot be laid, and what to change.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum SceneError {
    /// More blends than a panel takes.
    #[error("{0} blends: a panel takes up to {MOST_BLENDS}")]
    Many(usize),
    /// One blend of several.
    #[error("blend {0}: {1}")]
    OfSeveral(usize, FieldError),
    /// The only blend.
    #[error(transparent)]
    Only(FieldError),
}

impl Scene {
    /// Refuses a scene that cannot be laid on a panel of this size that has so many inks.
    ///
    /// # Errors
    /// A [`SceneError`] naming the blend.
    pub fn check(&self, inks: usize, size: (Length, Length)) -> Result<(), SceneError> {
        if self.ground.len() > MOST_BLENDS {
            return Err(SceneError::Many(self.ground.len()));
        }
        for (blend, place) in self.ground.iter().zip(1..) {
            blend.check(inks, size).map_err(|error| match self.ground.len() {
                1 => SceneError::Only(error),
                _ => SceneError::OfSeveral(place, error),
            })?;
        }
        Ok(())
    }

    /// The same scene on a panel of another size: every measure keeps its share.
    #[must_use]
    pub fn carried(&self, old: (Length, Length), new: (Length, Length), units: Units) -> Scene {
        let carried = |blend: &Blend| {
            let way = blend.way.carried(old, new, units.pencil());
            Blend { way, ..blend.carried_to(blend.way.span(old), way.span(new), units) }
        };
        Scene { ground: self.ground.iter().map(carried).collect() }
    }

    /// The inks in use, by their places in the panel's list, in the order they first stand along the blends.
    pub fn inks(&self) -> Vec<usize> {
        let mut inks: Vec<usize> = Vec::new();
        for field in self.ground.iter().flat_map(|blend| &blend.fields) {
            if !inks.contains(&field.ink) {
                inks.push(field.ink);
            }
        }
        inks
    }
}
