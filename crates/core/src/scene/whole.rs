//! What is wanted, all together? Things from front to back, and behind all the ground: blends that lie over one another,
//! each along its own way; and what is done with water before and after.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::loose::{Loose, LooseError, MOST_LOOSE, Smoosh};
use crate::blend::{Blend, field::FieldError};
use crate::ink::Name;
use crate::length::Length;
use crate::place::Resized;
use crate::thing::{MOST_THINGS, Thing, ThingError};

/// Most blends on a panel.
pub const MOST_BLENDS: usize = 8;

/// What is wanted.
///
/// ```
/// # use rosy_core::scene::Scene;
/// # let text = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/version_1/ebb_down.json"));
/// let panel: rosy_core::Panel = serde_json::from_str(text)?;
/// // What is wanted says nothing of how it is laid: planned anew, the same scene has the same moves.
/// let anew = rosy_core::Panel { moves: Vec::new(), ..panel.clone() }.laid();
/// assert_eq!(anew.scene, panel.scene);
/// let nothing = rosy_core::Panel { scene: Scene::default(), moves: Vec::new(), ..panel }.laid();
/// assert!(nothing.moves.is_empty());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Scene {
    /// What stands on it, from front to back.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub things: Vec<Thing>,
    /// The blends of the ground, in the order they are told.
    pub ground: Vec<Blend>,
    /// Inks pressed off the mat before anything is blended.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub smoosh: Option<Smoosh>,
    /// What is sprayed, flicked, misted and lifted, in order.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub loose: Vec<Loose>,
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
    /// More things than a panel takes.
    #[error("{0} things: a panel takes up to {MOST_THINGS}")]
    ManyThings(usize),
    /// One of the things.
    #[error("{0}: {1}")]
    Thing(Name, ThingError),
    /// What is done with water.
    #[error(transparent)]
    Loose(#[from] LooseError),
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
        if self.things.len() > MOST_THINGS {
            return Err(SceneError::ManyThings(self.things.len()));
        }
        for thing in &self.things {
            let refused = |error| SceneError::Thing(thing.shape.name.clone(), error);
            thing.check(inks, size).map_err(refused)?;
        }
        self.smoosh.iter().try_for_each(|smoosh| smoosh.check(inks, size))?;
        if self.loose.len() > MOST_LOOSE {
            return Err(LooseError::Many(self.loose.len()).into());
        }
        for (loose, place) in self.loose.iter().zip(1..) {
            loose.check(place, (inks, self.things.len()), size)?;
        }
        Ok(())
    }

    /// The blends of everything, each with the thing it is on: those of the ground, then of the things from front to back.
    pub fn all_blends(&self) -> impl Iterator<Item = (Option<usize>, &Blend)> {
        let things = self.things.iter().enumerate();
        let of_things =
            things.flat_map(|(place, thing)| thing.blends().iter().map(move |blend| (Some(place), blend)));
        self.ground.iter().map(|blend| (None, blend)).chain(of_things)
    }

    /// The same scene on a panel of another size: every measure keeps its share.
    #[must_use]
    pub fn carried(&self, to: &Resized) -> Scene {
        Scene {
            things: self.things.iter().map(|thing| thing.carried(to)).collect(),
            ground: self.ground.iter().map(|blend| blend.on_another(to.old, to.new, to.units)).collect(),
            smoosh: self.smoosh.as_ref().map(|smoosh| smoosh.carried(to)),
            loose: self.loose.iter().map(|loose| loose.carried(to)).collect(),
        }
    }

    /// The same scene with its things in other places; what was done with one that has gone goes too.
    #[must_use]
    pub fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Scene {
        let loose = self.loose.iter().filter_map(|loose| loose.with_things_moved(to)).collect();
        Scene { loose, ..self.clone() }
    }

    /// Every ink that is named in it, by its place in the panel's list, to be changed.
    pub fn inks_mut(&mut self) -> impl Iterator<Item = &mut usize> {
        let things = self.things.iter_mut().flat_map(Thing::blends_mut);
        let fields = things.chain(&mut self.ground).flat_map(|blend| &mut blend.fields);
        let wet = wet_inks(&mut self.smoosh, &mut self.loose);
        fields.map(|field| &mut field.ink).chain(wet)
    }

    /// Those of them that water or a pad brings.
    pub fn wet_inks_mut(&mut self) -> impl Iterator<Item = &mut usize> {
        wet_inks(&mut self.smoosh, &mut self.loose)
    }

    /// The inks in use, by their places in the panel's list, in the order they first stand along the blends of the
    /// ground, then of the things; then those that come with water.
    pub fn inks(&self) -> Vec<usize> {
        let mut loose = self.loose.clone();
        let fields = self.all_blends().flat_map(|(_, blend)| &blend.fields).map(|field| field.ink);
        let patches = self.smoosh.iter().flat_map(|smoosh| &smoosh.patches).map(|patch| patch.ink);
        let wet = loose.iter_mut().filter_map(|loose| loose.step.ink_mut().copied());
        let mut inks: Vec<usize> = Vec::new();
        for ink in fields.chain(patches).chain(wet) {
            if !inks.contains(&ink) {
                inks.push(ink);
            }
        }
        inks
    }
}

fn wet_inks<'a>(
    smoosh: &'a mut Option<Smoosh>,
    loose: &'a mut [Loose],
) -> impl Iterator<Item = &'a mut usize> {
    let patches = smoosh.iter_mut().flat_map(|smoosh| &mut smoosh.patches);
    patches.map(|patch| &mut patch.ink).chain(loose.iter_mut().filter_map(|loose| loose.step.ink_mut()))
}
