//! The things of a panel in a maker's hands: each is moved, sized, put in front, parted and kept company, and what keeps it company
//! goes along.

use super::gets;
use super::water::about;
use super::words::in_mm;
use super::{Edited, GONE, Has, words};
use crate::colour::Lab;
use crate::ink::{Ink, Kind, Name, Powder};
use crate::judgement::greeting::best_place;
use crate::length::{Length, Units};
use crate::moves::edging::Edging;
use crate::order::ways::{trapped, ways};
use crate::panel::Panel;
use crate::place::{Extent, Point};
use crate::scene::cells::{self, Filled};
use crate::scene::company::{MOST_PARTS, free_names, tint, usual_shadow};
use crate::scene::loose::MOST_LOOSE;
use crate::scene::room::{Lie, Room};
use crate::scene::snap::caught;
use crate::scene::{Loose, MOST_THINGS, Thing};
use crate::search::darker::darker;
use crate::shape::kept::{PERCENT, Shape};
use crate::shape::steps::REPEATS;
use crate::shape::{Region, Use};

const NO_INK: &str = "There is no ink in the drawer for it: tell the drawer of one first.";

/// Inks that run over the cells of a pattern, and how many parts of a pencil mark their middles stand at (chosen: as finely as a
/// ruler is read).
const IN_A_RUN: usize = 4;
const MARKS: i64 = 4;

/// A panel, and the things that stood on it before the change.
pub(super) struct Things<'a> {
    pub panel: Panel,
    own: Vec<Thing>,
    has: &'a Has<'a>,
}

impl<'a> Things<'a> {
    pub fn of(panel: Panel, has: &'a Has<'a>) -> Things<'a> {
        Things { own: panel.scene.things.clone(), panel, has }
    }

    fn one(&self, place: usize) -> Result<Thing, String> {
        self.own.get(place).cloned().ok_or_else(|| GONE.to_owned())
    }

    /// A thing as it is now. What keeps it company goes along.
    fn with(self, place: usize, thing: Thing) -> Edited {
        let Things { panel, own, has } = self;
        let changed = |(at, other): (usize, &Thing)| match at {
            at if at == place => thing.clone(),
            _ if own[place].is_company(other) => other.gone_along(&thing, has.units),
            _ => other.clone(),
        };
        let things = own.iter().enumerate().map(|one| (changed(one), Some(one.0)));
        panel.with_things(things.collect()).into()
    }

    /// New things put in at a place, before what stands there or instead of it.
    fn put(self, at: usize, new: Vec<Thing>, instead: bool) -> Result<Edited, String> {
        let Things { panel, own, .. } = self;
        if own.len() + new.len() - usize::from(instead) > MOST_THINGS {
            return Err(format!("A panel takes up to {MOST_THINGS} things: take one away first."));
        }
        let mut things = in_place(own);
        things.splice(at..at + usize::from(instead), new.into_iter().map(|thing| (thing, None)));
        Ok(panel.with_things(things).into())
    }

    /// Names that no other thing has.
    fn names(&self, name: &str, count: usize) -> Result<Vec<Name>, String> {
        free_names(&self.own, name, count).ok_or_else(|| "Give it a shorter name first.".to_owned())
    }

    fn name(&self, name: &str) -> Result<crate::ink::Name, String> {
        Ok(self.names(name, 1)?.remove(0))
    }

    /// A thing as `write` writes it, which may take inks on to the panel.
    pub fn written(
        mut self,
        place: usize,
        write: impl FnOnce(&mut Panel, Thing) -> Result<Thing, String>,
    ) -> Result<Edited, String> {
        let thing = self.one(place)?;
        let thing = write(&mut self.panel, thing)?;
        Ok(self.with(place, thing))
    }

    /// A thing whose first blend runs through so many inks more.
    pub fn through(self, place: usize, more: isize) -> Result<Edited, String> {
        let has = self.has;
        self.written(place, |panel, thing| {
            let count = thing.blends().first().map_or(0, |blend| blend.fields.len());
            gets::through(panel, thing, 0, count.saturating_add_signed(more), has)
        })
    }

    /// A shape put in front of all, in the middle of the panel, and no larger than it.
    pub fn add(self, mut shape: Shape) -> Result<Edited, String> {
        // Two of one name could not be told apart in what is said.
        shape.name = self.name(shape.name.as_str())?;
        let inside = self.panel.inside();
        let middle = Point {
            left: inside.corner.left + inside.size.0 / 2,
            top: inside.corner.top + inside.size.1 / 2,
        };
        let mut thing = Thing::new(shape, middle).fitted(inside, self.has.units);
        // Lines so thin are no mask to cut: they are stamped, and powder keeps them.
        if thing.shape.is_lines() {
            thing.shape.used = Use::Stamp;
            thing.resist = Some(Powder::White);
        }
        let outline = thing.shape.outline().map_err(|error| error.to_string())?;
        let boxes = self.boxes();
        thing.at = self.room(&boxes).for_one(thing.extent(&outline).size);
        self.put(0, vec![thing], false)
    }

    /// The boxes round the things, from front to back.
    fn boxes(&self) -> Vec<Extent> {
        self.panel.materials().masks.things.iter().map(|thing| thing.extent).collect()
    }

    fn room<'b>(&self, others: &'b [Extent]) -> Room<'b> {
        Room { within: self.panel.inside(), others, gap: self.has.units.pencil() * 2 }
    }

    /// So many more of a thing, beside it.
    pub fn more(self, place: usize, count: usize, lie: Lie) -> Result<Edited, String> {
        let thing = self.one(place)?;
        let room = MOST_THINGS.saturating_sub(self.own.len());
        if room == 0 {
            return Err(format!("A panel takes up to {MOST_THINGS} things: take one away first."));
        }
        let boxes = self.boxes();
        let seed = self.panel.seed.wrapping_add(self.own.len() as u32);
        let asked = count.clamp(1, MOST_THINGS);
        let places = self.room(&boxes).for_more(&boxes[place], asked.min(room), lie, seed);
        if places.is_empty() {
            return Err("There is no room beside it on the panel: make it smaller, or move it.".into());
        }
        let names = free_names(&self.own, thing.shape.name.as_str(), places.len());
        let names = names.ok_or("Give it a shorter name first.")?;
        // The middle of a part is not the middle of the whole.
        let own = boxes[place];
        let off = (
            thing.at.left - own.corner.left - own.size.0 / 2,
            thing.at.top - own.corner.top - own.size.1 / 2,
        );
        let copy = |(at, name): (&Point, Name)| Thing {
            at: Point { left: at.left + off.0, top: at.top + off.1 },
            shape: Shape { name, ..thing.shape.clone() },
            ..thing.clone()
        };
        let new: Vec<Thing> = places.iter().zip(names).map(copy).collect();
        let fewer = new.len() < asked;
        let says = fewer.then(|| format!("There was room for {} more.", new.len()));
        Ok(Edited { says, ..self.put(place + 1, new, false)? })
    }

    /// What lies between its lines filled with inks that run over all of it, behind it: each cell by itself, or where there
    /// are more than a panel takes, all of an ink together.
    pub fn cells(mut self, place: usize) -> Result<Edited, String> {
        let thing = self.one(place)?;
        let (wide, high) = self.panel.size();
        let panel = Region::rect(0.0, 0.0, wide.mm(), high.mm());
        let masks = self.panel.materials().masks.clone();
        let mut cells = cells::cells(masks.things[place].shape(), &panel);
        if cells.is_empty() {
            return Err(
                "There is nothing between its lines to fill: make it larger, or its cells smaller.".into()
            );
        }
        // What is filled already, more than half of it, stays as it is.
        let inked = self.own.iter().zip(&masks.things).filter(|(own, _)| own.is_inked());
        let filled = Region::all(inked.map(|(_, masked)| masked.shape().clone()));
        cells.retain(|cell| cell.intersected(&filled).area() < 0.5 * cell.area());
        if cells.is_empty() {
            return Err("All its cells are filled: take away those that are to be filled anew.".into());
        }
        let inks = gets::run(&mut self.panel, &thing, cells.len().min(IN_A_RUN), self.has.drawer)?;
        let filled = cells::filled(cells, inks.len(), MOST_THINGS.saturating_sub(self.own.len()));
        let is_each = filled.iter().all(|one| one.cells.count() == 1);
        let name = |one: &Filled| format!("cells in {}", self.panel.inks[inks[one.ink]].name);
        let names = match is_each {
            true => self.names("cell", filled.len())?,
            false => filled.iter().map(|one| self.name(&name(one))).collect::<Result<_, _>>()?,
        };
        let units = self.has.units;
        let mark = units.pencil() / MARKS;
        let things = cells::things(&filled, names, mark).into_iter().zip(&filled);
        let inked = things.map(|(cell, one)| {
            let ink = self.panel.inks[inks[one.ink]].clone();
            gets::in_ink(&mut self.panel, cell, &ink, units)
        });
        let new: Vec<Thing> = inked.collect::<Result<_, _>>()?;
        if new.is_empty() {
            return Err(format!("A panel takes up to {MOST_THINGS} things: take one away first."));
        }
        self.put(place + 1, new, false)
    }

    pub fn r#move(self, place: usize, to: (f64, f64)) -> Result<Edited, String> {
        let middle = in_mm(&self.panel, to, 1.0)?;
        let boxes = self.boxes();
        let others: Vec<Extent> =
            boxes.iter().enumerate().filter(|(at, _)| *at != place).map(|(_, of)| *of).collect();
        let Extent { corner, size } = *boxes.get(place).ok_or(GONE)?;
        let thing = self.one(place)?;
        let nearest = Point::nearest(middle, self.has.units.pencil());
        let caught = caught(nearest, size, self.panel.size(), &others);
        // The middle of a part is not the middle of the whole.
        let at = Point {
            left: thing.at.left + caught.left - (corner.left + size.0 / 2),
            top: thing.at.top + caught.top - (corner.top + size.1 / 2),
        };
        Ok(self.with(place, Thing { at, ..thing }))
    }

    pub fn nudge(self, place: usize, by: (i32, i32)) -> Result<Edited, String> {
        let thing = self.one(place)?;
        let at = words::nudged(thing.at, by, self.has.units.pencil());
        Ok(self.with(place, Thing { at, ..thing }))
    }

    pub fn size(self, place: usize, corner: (f64, f64)) -> Result<Edited, String> {
        let corner = in_mm(&self.panel, corner, 1.0)?;
        let Extent { size, .. } = self.panel.materials().extent(Some(place));
        let sized = reaching(&self.one(place)?, size, corner, self.has.units);
        Ok(self.with(place, sized))
    }

    /// Made no larger than fits on the panel, and moved in.
    pub fn fit(self, place: usize) -> Result<Edited, String> {
        let fitted = self.one(place)?.fitted(self.panel.inside(), self.has.units);
        Ok(self.with(place, fitted))
    }

    pub fn grow(self, place: usize, by: i32) -> Result<Edited, String> {
        let grown = grown(&self.one(place)?, by, self.has.units);
        Ok(self.with(place, grown))
    }

    /// Two that stand one behind the other change places.
    pub fn swap(self, front: Option<usize>, behind: usize) -> Result<Edited, String> {
        let mut things = in_place(self.own);
        let front = front.filter(|_| behind < things.len()).ok_or("It cannot be moved further.")?;
        things.swap(front, behind);
        Ok(self.panel.with_things(things).into())
    }

    pub fn remove(self, place: usize) -> Result<Edited, String> {
        self.one(place)?;
        let mut things = in_place(self.own);
        things.remove(place);
        Ok(self.panel.with_things(things).into())
    }

    pub fn shadow(mut self, place: usize) -> Result<Edited, String> {
        let thing = self.one(place)?;
        let called = self.name(&format!("shadow of {}", thing.shape.name))?;
        let mut shadow = thing.shadow(usual_shadow(self.has.units), called);
        // Round what is white a rim shows by its ink, round what is inked by its white.
        if !thing.is_inked() {
            let dark = gets::darkest(&self.panel, self.has.drawer).ok_or(NO_INK)?;
            shadow = gets::in_ink(&mut self.panel, shadow, &dark, self.has.units)?;
        }
        self.put(place + 1, vec![shadow], false)
    }

    pub fn glow(mut self, place: usize) -> Result<Edited, String> {
        let thing = self.one(place)?;
        let is_white = |ink: &&Ink| ink.kind == Kind::Pigment;
        let white = self.panel.inks.iter().chain(self.has.drawer).filter(is_white).max_by(lightest).cloned();
        let white = white.ok_or("There is no white pigment in the drawer: tell the drawer of one first.")?;
        let called = self.name(&format!("glow round {}", thing.shape.name))?;
        let ink = self.panel.ink_place(&white);
        let glow = thing.glow(ink, called, self.has.units);
        self.put(place + 1, vec![glow], false)
    }

    /// White brushed round its edge once all else has dried.
    pub fn edging(self, place: usize) -> Result<Edited, String> {
        self.one(place)?;
        let mut scene = self.panel.scene.clone();
        if scene.loose.len() >= MOST_LOOSE {
            return Err(format!(
                "Keep at most {MOST_LOOSE} sprays, flecks and the like: leave one out on Water first."
            ));
        }
        let mut about = about(&self.panel, &scene, self.has.drawer, self.has.units);
        let white = about.white()?;
        let inks = about.inks;
        scene.loose.push(Loose::last(Edging::of(place, white, self.has.units)));
        Ok(Panel { inks, ..self.panel }.with_scene(scene).into())
    }

    /// Raised all over, where it is a pattern, and skimmed in the darker set.
    pub fn skim(mut self, place: usize) -> Result<Edited, String> {
        let thing = self.one(place)?.all_over(self.panel.size(), self.has.units);
        let ground = self.panel.scene.ground.first().filter(|blend| !blend.fields.is_empty());
        let ground = ground.cloned().ok_or("Blend the ground first: the pattern is skimmed over that.")?;
        let lights: Vec<Lab> = ground.fields.iter().map(|field| self.panel.inks[field.ink].lab()).collect();
        let drawer: Vec<&Ink> = self.has.drawer.iter().filter(|ink| ink.kind != Kind::Pigment).collect();
        let labs: Vec<Lab> = drawer.iter().map(|ink| ink.lab()).collect();
        let found = darker(&lights, &labs);
        let darker: Vec<Option<usize>> =
            found.iter().map(|one| one.map(|one| self.panel.ink_place(drawer[one.place]))).collect();
        let skimmed = thing.skimmed(&ground, &darker, self.panel.size(), self.has.units).ok_or(
            "There is no ink two shades darker of the ground's families in the drawer: tell the drawer of one first.",
        )?;
        let missing = found.iter().zip(&ground.fields).filter(|(one, _)| one.is_none());
        let names: Vec<&str> = missing.map(|(_, field)| self.panel.inks[field.ink].name.as_str()).collect();
        let says = (!names.is_empty())
            .then(|| format!("The drawer has no darker ink of the family of {}.", names.join(" and ")));
        Ok(Edited { says, ..self.with(place, skimmed) })
    }

    pub fn again(self, place: usize) -> Result<Edited, String> {
        let thing = self.one(place)?;
        if !thing.is_inked() {
            return Err("It stays white: give it an ink first, then it can be gone over again.".into());
        }
        let again = thing.again(self.name(&format!("{} again", thing.shape.name))?);
        self.put(0, vec![again], false)
    }

    pub fn parts(self, place: usize, count: usize) -> Result<Edited, String> {
        let thing = self.one(place)?;
        let names = self.names(thing.shape.name.as_str(), count.clamp(2, MOST_PARTS))?;
        let parts = thing.parts(names, self.has.units).map_err(|error| error.to_string())?;
        self.put(place, parts, true)
    }

    pub fn steps(mut self, place: usize, count: usize) -> Result<Edited, String> {
        let thing = self.one(place)?;
        let own = thing.blends().iter().flat_map(|blend| &blend.fields).next();
        let ink = match own {
            Some(field) => self.panel.inks.get(field.ink).cloned(),
            None => gets::plainest(&self.panel, &thing, &[], self.has.drawer),
        };
        let ink = ink.ok_or(NO_INK)?;
        let at = self.panel.ink_place(&ink);
        let count = count.clamp(*REPEATS.start(), *REPEATS.end());
        let names = self.names(thing.shape.name.as_str(), count)?;
        let stepped = thing.stepped((at, &ink), names, self.panel.size(), self.has.units);
        let (steps, schedule) = stepped.map_err(|error| error.to_string())?;
        Ok(Edited { says: Some(schedule), ..self.put(place, steps, true)? })
    }

    /// A breath of the lightest ink that is there, or of the drawer's where there is none.
    pub fn tint(mut self) -> Result<Edited, String> {
        let is_wet = |ink: &&Ink| ink.kind != Kind::Pigment;
        let own = self.panel.inks.iter().filter(is_wet).max_by(lightest);
        let ink = own.or_else(|| self.has.drawer.iter().filter(is_wet).max_by(lightest)).cloned();
        let ink = ink.ok_or(NO_INK)?;
        let called = self.name("tint over all")?;
        let at = self.panel.ink_place(&ink);
        let tint = tint((at, &ink), called, self.panel.size(), self.has.units);
        self.put(0, vec![tint], false)
    }

    /// Words put where they read best.
    pub fn best(self, place: usize) -> Result<Edited, String> {
        let best = best_place(&self.panel, place, self.has.units)
            .ok_or("There is no room for it on the panel: make it smaller.")?;
        let thing = Thing { at: best.at, ..self.one(place)? };
        Ok(Edited { says: Some(best.says), ..self.with(place, thing) })
    }

    /// What would take plugs trapped under clear powder.
    pub fn trap(self) -> Result<Edited, String> {
        let ways = ways(&self.panel);
        let sealed = ways.iter().find(|way| !way.sealed.is_empty()).ok_or(GONE)?;
        Ok(trapped(&self.panel, &sealed.sealed).laid().into())
    }
}

/// Things, each with the place it had.
fn in_place(things: Vec<Thing>) -> Vec<(Thing, Option<usize>)> {
    things.into_iter().enumerate().map(|(at, thing)| (thing, Some(at))).collect()
}

/// By lightness.
fn lightest(one: &&Ink, other: &&Ink) -> std::cmp::Ordering {
    one.lab().l.total_cmp(&other.lab().l)
}

/// A thing of such a size, made so large that the corner of its box comes to a place.
pub(super) fn reaching(thing: &Thing, size: (Length, Length), (x, y): (f64, f64), units: Units) -> Thing {
    let half = (0.5 * size.0.mm()).hypot(0.5 * size.1.mm());
    let far = (x - thing.at.left.mm()).hypot(y - thing.at.top.mm());
    sized(thing, (f64::from(thing.shape.percent) * far / half).round(), units)
}

/// A thing larger or smaller by so many per cent.
pub(super) fn grown(thing: &Thing, by: i32, units: Units) -> Thing {
    sized(thing, f64::from(thing.shape.percent) + f64::from(by.clamp(-1000, 1000)), units)
}

fn sized(thing: &Thing, percent: f64, units: Units) -> Thing {
    let percent = percent.clamp(f64::from(*PERCENT.start()), f64::from(*PERCENT.end())) as u16;
    thing.reshaped(Shape { percent, ..thing.shape.clone() }, units)
}
