//! Which pieces are cut beforehand? As many of each as ever lie on the panel together: what is moved on from one thing to
//! another of the same shape is one piece.

use std::collections::BTreeMap;
use std::sync::Arc;

use crate::moves::{Move, Technique};
use crate::surface::{Mask, Materials, Part, Surface};

/// What is cut for a shape.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Pieces {
    /// The foremost thing of the shape.
    pub thing: usize,
    /// Other things that its pieces are for.
    pub others: Vec<usize>,
    /// Frames, stencils or strips.
    pub frames: usize,
    /// Plugs.
    pub plugs: usize,
    /// Whether tape is laid along its edges instead.
    pub is_taped: bool,
}

impl Pieces {
    /// How many.
    pub const fn count(&self) -> usize {
        self.frames + self.plugs
    }
}

/// The pieces that some moves take, from the foremost thing to the hindmost.
pub fn taken(moves: &[Move], materials: &Arc<Materials>) -> Vec<Pieces> {
    let masks = &materials.masks;
    let mut surface = Surface::bare(materials.clone());
    let mut most: BTreeMap<Mask, usize> = BTreeMap::new();
    let mut used = vec![false; masks.things.len()];
    for m in moves {
        m.make(&mut surface);
        if m.mask().is_none() {
            continue;
        }
        surface.masks.iter().for_each(|mask| {
            if let Some(used) = used.get_mut(mask.thing) {
                *used = true;
            }
        });
        let lying: Vec<Mask> = surface.masks.iter().filter_map(|mask| masks.piece(*mask)).collect();
        for piece in &lying {
            let together = lying.iter().filter(|other| *other == piece).count();
            let known = most.entry(*piece).or_default();
            *known = together.max(*known);
        }
    }
    let like = |thing: usize| (0..masks.things.len()).filter(move |of| masks.things[*of].like == thing);
    let of = |thing: usize| {
        let count = |part: Part| most.get(&Mask { thing, part }).copied().unwrap_or(0);
        Pieces {
            thing,
            others: like(thing).filter(|of| *of != thing && used[*of]).collect(),
            frames: count(Part::Frame),
            plugs: count(Part::Plug),
            is_taped: masks.things[thing].piece(Part::Frame).is_none(),
        }
    };
    (0..masks.things.len()).filter(|thing| like(*thing).any(|of| used[of])).map(of).collect()
}
