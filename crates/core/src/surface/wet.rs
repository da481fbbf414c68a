//! What comes on the card wet, and what comes of it?
//!
//! A technique that wets the card tells it here; the card knows no technique by its name. What has been worked out once is kept
//! for a while, by what it was and on what it came about.

use std::any::Any;
use std::fmt::Debug;
use std::hash::{Hash, Hasher};
use std::num::NonZeroUsize;
use std::sync::{Arc, LazyLock, Mutex, PoisonError};

use lru::LruCache;

use super::masks::Masks;
use crate::water::effect::Where;
use crate::water::{Effect, Flecks};

/// How many effects are kept.
const KEPT: usize = 24;

/// Something wet on the card.
pub trait Wet: Alike + Debug + Send + Sync {
    /// Works out what comes of it.
    fn effect(&self, at: Where, masks: &Masks) -> Effect;

    /// The inks it brings, by their places.
    fn inks(&self) -> Vec<usize> {
        Vec::new()
    }

    /// Whether it is water, that takes of what lies there and brings nothing.
    fn is_water(&self) -> bool {
        false
    }

    /// How much water it brings to the card, in pumps of mist, about (chosen).
    fn load(&self) -> f64 {
        0.0
    }

    /// Whether it touches with the shape of a thing, and not only by its own measures.
    fn has_shape(&self) -> bool {
        false
    }

    /// The flecks that it is, where each is seen by itself.
    fn flecks(&self) -> Option<&Flecks> {
        None
    }

    /// What it takes off the shelf, in full swatches times square millimetres: what lies there, where nothing went beside.
    fn taken(&self, effect: &Effect) -> Vec<(usize, f64)> {
        effect.in_cells()
    }

    /// Whether it becomes one with another that is still damp there, rather than lying over it.
    fn mixes_with(&self, damp: &dyn Wet) -> bool {
        let _ = damp;
        false
    }
}

/// Things of several types that can be held against one another.
pub trait Alike: Any {
    /// Whether it is the same as another.
    fn is(&self, other: &dyn Any) -> bool;
    /// What it is, as a number.
    fn hashed(&self, into: &mut dyn Hasher);
    /// It, as whatever it is.
    fn any(&self) -> &dyn Any;
}

impl<T: Any + Eq + Hash> Alike for T {
    fn is(&self, other: &dyn Any) -> bool {
        other.downcast_ref::<T>() == Some(self)
    }

    fn hashed(&self, mut into: &mut dyn Hasher) {
        self.hash(&mut into);
    }

    fn any(&self) -> &dyn Any {
        self
    }
}

/// What an effect is known by. The same pieces are the same in memory, and stay there as long as this is kept.
#[derive(Clone)]
struct Key {
    wet: Arc<dyn Wet>,
    at: Where,
    masks: Option<Arc<Masks>>,
}

impl PartialEq for Key {
    fn eq(&self, other: &Key) -> bool {
        let are_masks = match (&self.masks, &other.masks) {
            (Some(own), Some(other)) => Arc::ptr_eq(own, other),
            (own, other) => own.is_none() && other.is_none(),
        };
        self.at == other.at && are_masks && self.wet.is(other.wet.any())
    }
}

impl Eq for Key {}

impl Hash for Key {
    fn hash<H: Hasher>(&self, state: &mut H) {
        self.wet.hashed(state);
        self.at.hash(state);
    }
}

/// Works out what comes of something wet, or remembers it.
pub(super) fn effect(wet: &Arc<dyn Wet>, at: Where, masks: &Arc<Masks>) -> Arc<Effect> {
    static KNOWN: LazyLock<Mutex<LruCache<Key, Arc<Effect>>>> =
        LazyLock::new(|| Mutex::new(LruCache::new(NonZeroUsize::new(KEPT).unwrap_or(NonZeroUsize::MIN))));
    let known = || KNOWN.lock().unwrap_or_else(PoisonError::into_inner);
    let key = Key { wet: wet.clone(), at, masks: wet.has_shape().then(|| masks.clone()) };
    if let Some(known) = known().get(&key) {
        return known.clone();
    }
    let effect = Arc::new(wet.effect(at, masks));
    known().put(key, effect.clone());
    effect
}
