//! What is laid when something else is wanted: other inks, things or tools, or another size? What has been made stays as far as it
//! can.

use crate::blend::{Blend, Field, Way};
use crate::ink::tool::lies_beside;
use crate::ink::{Ink, KeptFor, Tool};
use crate::length::{Length, Units};
use crate::moves::{Move, Technique};
use crate::panel::{MOST_TOOLS, Panel, PanelError, check_sides};
use crate::place::Resized;
use crate::scene::{Scene, Thing};
use crate::shape::Shape;

/// Which inks and blends lie on the ground, and which way do they run?
impl Panel {
    /// The same panel with one blend, of other inks, spread evenly along the way of its first, and laid.
    #[must_use]
    pub fn with_inks(self, inks: Vec<Ink>, units: Units) -> Panel {
        let way = self.scene.ground.first().map_or(Way::DOWN, |blend| blend.way);
        let listed: Vec<(usize, &Ink)> = inks.iter().enumerate().collect();
        let blend = Blend::spread(&listed, way, way.span(self.size()), units);
        self.begun(inks, vec![blend])
    }

    /// A ground of inks begun on this panel, in place of the one it has. What stands on it stays, in its own inks.
    #[must_use]
    pub fn begun(self, inks: Vec<Ink>, ground: Vec<Blend>) -> Panel {
        let own = self.inks.clone();
        let mut begun = Panel { inks, ..self.untouched() };
        let mut scene = Scene { ground: Vec::new(), ..begun.scene.clone() };
        for ink in scene.inks_mut() {
            if let Some(own) = own.get(*ink) {
                *ink = begun.ink_place(own);
            }
        }
        Panel { scene: Scene { ground, ..scene }, ..begun }.sorted().laid()
    }

    /// Another blend in one's place.
    #[must_use]
    pub fn with_blend(mut self, place: usize, blend: Blend) -> Panel {
        if let Some(present) = self.scene.ground.get_mut(place) {
            *present = blend;
        }
        self.sorted().laid()
    }

    /// Other inks for one of its blends: each new, or one of the panel's own by its place. Hills set by hand stay where
    /// they are as far as there are as many, passes go with their ink.
    #[must_use]
    pub fn choosing(mut self, place: usize, chosen: Vec<(Ink, Option<usize>)>, units: Units) -> Panel {
        let Some(present) = self.scene.ground.get(place).cloned() else { return self };
        let span = self.span(place);
        // Where nothing was set by hand yet, the hills are spread anew.
        let spread = |inks: &[(usize, &Ink)]| Blend::spread(inks, present.way, span, units);
        let hills = |fields: &[Field]| {
            fields.iter().map(|field| Field { veils: 1, ink: 0, ..*field }).collect::<Vec<_>>()
        };
        let own: Vec<(usize, &Ink)> =
            present.fields.iter().map(|field| (field.ink, &self.inks[field.ink])).collect();
        let untouched = hills(&spread(&own).fields) == hills(&present.fields);
        let mut blend = present.clone();
        let stays = |ink: usize| chosen.iter().any(|(_, of)| *of == Some(ink));
        for gone in (0..present.fields.len()).rev().filter(|at| !stays(present.fields[*at].ink)) {
            blend = blend.without(gone, span, units);
        }
        let first_new = self.inks.len();
        while blend.fields.len() < chosen.len() {
            blend = blend.with_room(first_new + blend.fields.len(), span, units);
        }
        // New inks go to the end of the panel's list until it is sorted.
        let mut places = Vec::new();
        for (ink, of) in &chosen {
            places.push(of.unwrap_or_else(|| {
                self.inks.push(ink.clone());
                self.inks.len() - 1
            }));
        }
        if untouched {
            let listed: Vec<(usize, &Ink)> = places.iter().map(|ink| (*ink, &self.inks[*ink])).collect();
            blend = spread(&listed);
        }
        for (field, ink) in blend.fields.iter_mut().zip(&places) {
            let before = present.fields.iter().find(|field| field.ink == *ink);
            field.ink = *ink;
            field.veils = before.map_or(self.inks[*ink].full_veils.min(7), |field| field.veils);
        }
        self.with_blend(place, blend)
    }

    /// One blend more over the others: inks, each new or one of the panel's own by its place, spread along a way.
    #[must_use]
    pub fn with_blend_of(mut self, chosen: Vec<(Ink, Option<usize>)>, way: Way, units: Units) -> Panel {
        let mut places = Vec::new();
        for (ink, of) in chosen {
            places.push(of.unwrap_or_else(|| {
                self.inks.push(ink);
                self.inks.len() - 1
            }));
        }
        let listed: Vec<(usize, &Ink)> = places.iter().map(|ink| (*ink, &self.inks[*ink])).collect();
        let mut blend = Blend::spread(&listed, way, way.span(self.size()), units);
        if let ([field], false) = (blend.fields.as_mut_slice(), self.scene.ground.is_empty()) {
            // Over others a single ink is laid lightly and fades, or it would drown them.
            let (span, mark) = (way.span(self.size()), units.pencil());
            let share = |percent: i64| span.scaled(mark * percent, mark * 100, mark);
            (field.full_to, field.ends, field.veils) = (share(12), share(65), field.veils.min(4));
        }
        self.scene.ground.push(blend);
        self.sorted().laid()
    }

    /// One blend fewer; the last stays as an empty one.
    #[must_use]
    pub fn without_blend(mut self, place: usize) -> Panel {
        if place < self.scene.ground.len() {
            match self.scene.ground.len() {
                1 => self.scene.ground[0].fields.clear(),
                _ => drop(self.scene.ground.remove(place)),
            }
        }
        self.sorted().laid()
    }

    /// The same panel with one of its blends running another way, every measure keeping its share.
    #[must_use]
    pub fn turned(self, place: usize, way: Way, units: Units) -> Panel {
        let Some(blend) = self.scene.ground.get(place).filter(|blend| blend.way != way) else { return self };
        let carried = blend.carried_to(self.span(place), way.span(self.size()), units);
        let mut turned = self.clone().untouched();
        turned.scene.ground[place] = Blend { way, ..carried };
        turned.laid()
    }

    /// The place of an ink in its list, where it is put at the end if it is not there yet.
    pub fn ink_place(&mut self, ink: &Ink) -> usize {
        self.inks.iter().position(|known| known == ink).unwrap_or_else(|| {
            self.inks.push(ink.clone());
            self.inks.len() - 1
        })
    }

    /// The same panel with its inks in the order they first stand along the blends, and none that has no field. A panel
    /// that has lost an ink which had been laid is begun anew.
    fn sorted(mut self) -> Panel {
        let places = self.scene.inks();
        let to = |ink: usize| places.iter().position(|of| *of == ink);
        let made: Option<Vec<Move>> = self.made().iter().map(|m| m.with_inks_moved(&to)).collect();
        for ink in self.scene.inks_mut() {
            *ink = to(*ink).unwrap_or_default();
        }
        let inks = places.iter().filter_map(|ink| self.inks.get(*ink).cloned()).collect();
        let done = if made.is_some() { self.done } else { 0 };
        Panel { inks, moves: made.unwrap_or_default(), done, ..self }
    }
}

/// What stands on it?
impl Panel {
    /// The same panel with other things on it, each new or one of its own by its place. What was laid through the masks of
    /// one that has gone or lies elsewhere now is of no use any more: then all is begun anew.
    #[must_use]
    pub fn with_things(self, things: Vec<(Thing, Option<usize>)>) -> Panel {
        let own = &self.scene.things;
        let lies_there = |thing: &Thing, before: &Thing| {
            let shape = Shape { name: before.shape.name.clone(), ..thing.shape.clone() };
            (&shape, thing.at) == (&before.shape, before.at)
        };
        let to = |place: usize| {
            things.iter().position(|(thing, of)| *of == Some(place) && lies_there(thing, &own[place]))
        };
        let made: Option<Vec<Move>> = self.made().iter().map(|m| m.with_things_moved(&to)).collect();
        let done = if made.is_some() { self.done } else { 0 };
        let moved = |place: usize| things.iter().position(|(_, of)| *of == Some(place));
        let scene = self.scene.with_things_moved(&moved);
        let things = things.into_iter().map(|(thing, _)| thing).collect();
        let scene = Scene { things, ..scene };
        Panel { scene, moves: made.unwrap_or_default(), done, ..self }.sorted().laid()
    }

    /// The same panel with another scene in its place; what has been made stays, and what is missing is laid after it.
    #[must_use]
    pub fn with_scene(self, scene: Scene) -> Panel {
        Panel { scene, ..self }.sorted().laid()
    }
}

/// What is it laid with?
impl Panel {
    /// The same panel laid with the first of some tools that takes anything, and those that lie well beside it.
    #[must_use]
    pub fn with_desk(self, tools: &[Tool]) -> Panel {
        match tools.iter().find(|tool| tool.kept_for == KeptFor::Anything).or(tools.first()) {
            Some(tool) => self.with_tool(tool, tools),
            None => self,
        }
    }

    /// The same panel laid with one of some tools, and beside it those of the others that lie well there.
    #[must_use]
    pub fn with_tool(self, tool: &Tool, owned: &[Tool]) -> Panel {
        let own = owned.iter().position(|other| other == tool);
        let others = owned.iter().enumerate().filter(|(at, _)| Some(*at) != own).map(|(_, other)| other);
        let brushes = others.filter(|other| lies_beside(tool, other)).take(MOST_TOOLS).cloned().collect();
        Panel { tool: tool.clone(), brushes, ..self }.laid()
    }
}

/// How large is it?
impl Panel {
    /// The same panel in another size, every measure keeping its share.
    ///
    /// # Errors
    /// [`PanelError::Side`] where no panel has that size.
    pub fn resized(self, width: Length, height: Length, units: Units) -> Result<Panel, PanelError> {
        check_sides(width, height)?;
        let from = self.size();
        let to = Resized { old: from, new: (width, height), units };
        let scene = self.scene.carried(&to);
        let features = self.features.iter().map(|feature| feature.carried(from, (width, height))).collect();
        let share = width.ratio(from.0).min(height.ratio(from.1));
        let outline = self.outline.clone().map(|shape| {
            // Never larger than its card.
            let percent = (f64::from(shape.percent) * share + 1e-9).floor().max(1.0) as u16;
            Shape { percent, ..shape }
        });
        let part = self.part.as_ref().map(|part| part.carried(&to));
        let resized = Panel { width, height, outline, part, scene, features, ..self.untouched() };
        resized.check_plan()?;
        Ok(resized.laid())
    }
}
