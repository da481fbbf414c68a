//! What is changed about the things on a panel: which there are, where they stand, how they are cut and covered, and the paper
//! window that is laid over it?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::gets::{self, Gets};
use super::words::{self, Written, choice, either, in_mm, nudged};
use super::{Edit, Edited, GONE, Has};
use crate::colour::Lab;
use crate::ink::{DrawerError, Ink, Kind, Powder};
use crate::judgement::greeting::best_place;
use crate::length::{Length, ParseIn, Units};
use crate::order::ways::{trapped, ways};
use crate::panel::Panel;
use crate::place::{Extent, Point};
use crate::scene::company::{MOST_PARTS, free_names, tint, usual_shadow};
use crate::scene::snap::caught;
use crate::scene::{Covering, MOST_THINGS, Thing};
use crate::search::darker::darker;
use crate::shape::family::{self, Value};
use crate::shape::kept::{Figure, PERCENT, Shape};
use crate::shape::steps::REPEATS;
use crate::shape::{Cut, Drawn, Use};

/// A change to the things on a panel.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Change {
    /// A thing of a family put in front.
    Add(String),
    /// A shape of the maker's put in front, by its number.
    Bring(String),
    /// One of a thing's words or measures, as it was written.
    Set(Written<Field>),
    /// Its middle moved to a place, in shares of the panel's width and height.
    Move {
        /// Which.
        thing: usize,
        /// In shares of the panel's width.
        across: f64,
        /// In shares of its height.
        down: f64,
    },
    /// Its middle moved by pencil marks.
    Nudge {
        /// Which.
        thing: usize,
        /// To the right.
        right: i32,
        /// Down.
        down: i32,
    },
    /// A corner of its box moved to a place, in shares of the panel's width and height.
    Size {
        /// Which.
        thing: usize,
        /// In shares of the panel's width.
        across: f64,
        /// In shares of its height.
        down: f64,
    },
    /// Made larger or smaller by so many per cent.
    Grow {
        /// Which.
        thing: usize,
        /// By how many.
        by: i32,
    },
    /// Brought before the thing in front of it.
    Forward(usize),
    /// Put behind the thing behind it.
    Behind(usize),
    /// Taken away.
    Remove(usize),
    /// A shadow put behind it, larger all round.
    Shadow(usize),
    /// White brushed round its edge.
    Glow(usize),
    /// Raised, and skimmed in the darker set of the ground's inks.
    Skim(usize),
    /// The same once more over all that stands behind it.
    Again(usize),
    /// Its blend through one ink more.
    Through(usize),
    /// Its blend through one ink fewer.
    Fewer(usize),
    /// Divided into parts by tape.
    Parts {
        /// Which.
        thing: usize,
        /// How many.
        count: usize,
    },
    /// Its edge stepped down the panel.
    Steps {
        /// Which.
        thing: usize,
        /// How many.
        count: usize,
    },
    /// A breath of ink over all of it.
    Tint,
    /// A word put where it reads best.
    Best(usize),
    /// Another way to decide what is covered when.
    Cover(Covering),
    /// What would take plugs trapped under clear powder.
    Trap,
    /// A paper window of a family laid over it, to find the part worth cutting out; none takes it away.
    Window(Option<String>),
    /// The window's middle moved to a place, in shares of the panel's width and height.
    WindowMove {
        /// In shares of the panel's width.
        across: f64,
        /// In shares of its height.
        down: f64,
    },
    /// The window's middle moved by pencil marks.
    WindowNudge {
        /// To the right.
        right: i32,
        /// Down.
        down: i32,
    },
    /// A corner of the window's box moved to a place, in shares of the panel's width and height.
    WindowSize {
        /// In shares of the panel's width.
        across: f64,
        /// In shares of its height.
        down: f64,
    },
    /// The window made larger or smaller by so many per cent.
    WindowGrow {
        /// By how many.
        by: i32,
    },
}

/// A field, and what was written in it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Field {
    /// Of which thing.
    pub thing: usize,
    /// Which of its words.
    pub what: String,
    /// What was written.
    pub to: String,
}

/// A word of a thing. Figures and names are as the maker wrote them, and read where it is known what they belong to.
#[allow(missing_docs, reason = "each is named as its field is")]
#[derive(Clone, Debug, PartialEq)]
pub enum Word {
    Name(String),
    Over(bool),
    Bold(bool),
    Resist(Option<Powder>),
    Used(Use),
    Grown(String),
    From(String),
    To(String),
    Upright(bool),
    Left(String),
    Top(String),
    Turn(String),
    Percent(String),
    Mirrored(bool),
    Letters(String),
    Family(String),
    Cut(CutAt),
    By(String),
    Measure(String, String),
    Gets(gets::Word),
}

/// Where a plug is cut.
#[allow(missing_docs, reason = "each is named as its field is")]
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum CutAt {
    OnTheLine,
    Inside,
    Halo,
}

impl words::Field for Field {
    type Word = Word;

    fn word(&self) -> Result<Word, String> {
        Word::read(&self.what, &self.to)
    }
}

impl Word {
    fn read(what: &str, to: &str) -> Result<Word, String> {
        let text = || to.to_owned();
        if let Some(measure) = what.strip_prefix("m_") {
            return Ok(Word::Measure(measure.to_owned(), text()));
        }
        Ok(match what {
            "name" => Word::Name(text()),
            "over" => Word::Over(either(to, "over", "bare")?),
            "bold" => Word::Bold(either(to, "on", "off")?),
            "resist" if to == "none" => Word::Resist(None),
            "resist" => Word::Resist(Some(choice(to)?)),
            "used" => Word::Used(choice(to)?),
            "grown" => Word::Grown(text()),
            "from" => Word::From(text()),
            "to" => Word::To(text()),
            "side" => Word::Upright(either(to, "left", "top")?),
            "left" => Word::Left(text()),
            "top" => Word::Top(text()),
            "turn" => Word::Turn(text()),
            "percent" => Word::Percent(text()),
            "mirrored" => Word::Mirrored(either(to, "on", "off")?),
            "letters" => Word::Letters(text()),
            "family" => Word::Family(text()),
            "cut" => Word::Cut(choice(to)?),
            "by" => Word::By(text()),
            what => Word::Gets(gets::Word::read(what, to)?),
        })
    }
}

impl Edit for Change {
    /// The field it was written in, by which it is told that it cannot be.
    fn field(&self) -> String {
        match self {
            Change::Set(Written { field: Field { thing, what, .. }, .. }) => format!("{thing}-{what}"),
            _ => String::new(),
        }
    }

    /// Whether it may take an ink of the drawer.
    fn takes_ink(&self) -> bool {
        matches!(
            self,
            Change::Set(_)
                | Change::Shadow(_)
                | Change::Glow(_)
                | Change::Skim(_)
                | Change::Through(_)
                | Change::Steps { .. }
                | Change::Tint
        )
    }

    fn made(&self, panel: Panel, has: &Has) -> Result<Edited, String> {
        let mut says = None;
        let changed = self.changed(panel, has, &mut says)?;
        Ok(Edited { says, ..changed.into() })
    }
}

impl Change {
    fn changed(&self, panel: Panel, has: &Has, says: &mut Option<String>) -> Result<Panel, String> {
        let Has { drawer, units, .. } = *has;
        let own = panel.scene.things.clone();
        let mark = units.pencil();
        let one = |place: usize| own.get(place).cloned().ok_or_else(|| GONE.to_owned());
        // What keeps a thing company goes along with it.
        let with = |panel: Panel, place: usize, thing: Thing| {
            let changed = |(at, other): (usize, &Thing)| match at {
                at if at == place => thing.clone(),
                _ if own[place].is_company(other) => other.gone_along(&thing, units),
                _ => other.clone(),
            };
            let things = own.iter().enumerate().map(|one| (changed(one), Some(one.0)));
            panel.with_things(things.collect())
        };
        let put = |panel: Panel, at: usize, new: Vec<Thing>, instead: bool| {
            if own.len() + new.len() - usize::from(instead) > MOST_THINGS {
                return Err(format!("A panel takes up to {MOST_THINGS} things: take one away first."));
            }
            let mut things: Vec<(Thing, Option<usize>)> =
                own.iter().cloned().enumerate().map(|(at, thing)| (thing, Some(at))).collect();
            let gone = at..at + usize::from(instead);
            things.splice(gone, new.into_iter().map(|thing| (thing, None)));
            Ok(panel.with_things(things))
        };
        let names = |name: &str, count: usize| {
            free_names(&own, name, count).ok_or_else(|| "Give it a shorter name first.".to_owned())
        };
        let name = |text: &str| names(text, 1).map(|mut names| names.remove(0));
        match *self {
            Change::Add(ref family) => {
                let family = family::find(family).map_err(|error| error.to_string())?;
                let name = family.words.trim_start_matches("an ").trim_start_matches("a ").to_owned();
                let shape = Shape::new(
                    name.parse().map_err(|_| "give it a name")?,
                    Figure::Drawn(Drawn::usual(family)),
                );
                added(panel, shape)
            }
            Change::Bring(_) => added(panel, has.shape.cloned().ok_or(GONE)?),
            Change::Set(Written { ref field, ref word }) => {
                let (mut panel, place) = (panel, field.thing);
                let thing = set(&mut panel, one(place)?, word, has)?;
                Ok(with(panel, place, thing))
            }
            Change::Move { thing: place, across, down } => {
                let middle = in_mm(&panel, (across, down), 1.0)?;
                let materials = panel.materials();
                let boxes: Vec<Extent> = materials.masks.things.iter().map(|thing| thing.extent).collect();
                let others: Vec<Extent> =
                    boxes.iter().enumerate().filter(|(at, _)| *at != place).map(|(_, of)| *of).collect();
                let Extent { corner, size } = *boxes.get(place).ok_or(GONE)?;
                let thing = one(place)?;
                let caught = caught(Point::nearest(middle, mark), size, panel.size(), &others);
                // The middle of a part is not the middle of the whole.
                let at = Point {
                    left: thing.at.left + caught.left - (corner.left + size.0 / 2),
                    top: thing.at.top + caught.top - (corner.top + size.1 / 2),
                };
                Ok(with(panel, place, Thing { at, ..thing }))
            }
            Change::Nudge { thing: place, right, down } => {
                let thing = one(place)?;
                let at = nudged(thing.at, (right, down), mark);
                Ok(with(panel, place, Thing { at, ..thing }))
            }
            Change::Size { thing: place, across, down } => {
                let corner = in_mm(&panel, (across, down), 1.0)?;
                let thing = one(place)?;
                let Extent { size, .. } = panel.materials().extent(Some(place));
                let percent = reaching(&thing, size, corner);
                Ok(with(panel, place, sized(&thing, percent, units)))
            }
            Change::Grow { thing: place, by } => {
                let thing = one(place)?;
                let percent = f64::from(thing.shape.percent) + f64::from(by.clamp(-1000, 1000));
                Ok(with(panel, place, sized(&thing, percent, units)))
            }
            Change::Forward(place) => swapped(panel, place.checked_sub(1), place),
            Change::Behind(place) => swapped(panel, Some(place), place + 1),
            Change::Remove(place) => {
                one(place)?;
                let left = own.into_iter().enumerate().filter(|(at, _)| *at != place);
                Ok(panel.with_things(left.map(|(at, thing)| (thing, Some(at))).collect()))
            }
            Change::Shadow(place) => {
                let thing = one(place)?;
                let called = name(&format!("shadow of {}", thing.shape.name))?;
                let mut panel = panel;
                let mut shadow = thing.shadow(usual_shadow(units), called);
                // Round what is white a rim shows by its ink, round what is inked by its white.
                if !thing.is_inked() {
                    shadow = gets::gets(&mut panel, shadow, Gets::Goes, has)?;
                }
                put(panel, place + 1, vec![shadow], false)
            }
            Change::Glow(place) => {
                let thing = one(place)?;
                let is_white = |ink: &&Ink| ink.kind == Kind::Pigment;
                let white = panel.inks.iter().chain(drawer).filter(is_white).max_by(lightest).cloned();
                let white =
                    white.ok_or("There is no white pigment in the drawer: tell the drawer of one first.")?;
                let mut panel = panel;
                let ink = panel.ink_place(&white);
                let glow = thing.glow(ink, name(&format!("glow round {}", thing.shape.name))?, units);
                put(panel, place + 1, vec![glow], false)
            }
            Change::Skim(place) => {
                let thing = one(place)?;
                let ground = panel.scene.ground.first().filter(|blend| !blend.fields.is_empty());
                let ground =
                    ground.cloned().ok_or("Blend the ground first: the pattern is skimmed over that.")?;
                let mut panel = panel;
                let lights: Vec<Lab> =
                    ground.fields.iter().map(|field| panel.inks[field.ink].lab()).collect();
                let is_wet = |ink: &&Ink| ink.kind != Kind::Pigment;
                let drawer: Vec<&Ink> = drawer.iter().filter(is_wet).collect();
                let labs: Vec<Lab> = drawer.iter().map(|ink| ink.lab()).collect();
                let found = darker(&lights, &labs);
                let darker: Vec<Option<usize>> =
                    found.iter().map(|one| one.map(|one| panel.ink_place(drawer[one.place]))).collect();
                let skimmed = thing.skimmed(&ground, &darker, panel.size(), units).ok_or(
                    "There is no ink two shades darker of the ground's families in the drawer: tell the drawer of one first.",
                )?;
                let missing = found.iter().zip(&ground.fields).filter(|(one, _)| one.is_none());
                let names: Vec<&str> =
                    missing.map(|(_, field)| panel.inks[field.ink].name.as_str()).collect();
                if !names.is_empty() {
                    *says = Some(format!(
                        "The drawer has no darker ink of the family of {}.",
                        names.join(" and ")
                    ));
                }
                Ok(with(panel, place, skimmed))
            }
            Change::Again(place) => {
                let thing = one(place)?;
                if !thing.is_inked() {
                    return Err(
                        "It stays white: give it an ink first, then it can be gone over again.".into()
                    );
                }
                let again = thing.again(name(&format!("{} again", thing.shape.name))?);
                put(panel, 0, vec![again], false)
            }
            Change::Through(place) => {
                let mut panel = panel;
                let thing = gets::through_one_more(&mut panel, one(place)?, has)?;
                Ok(with(panel, place, thing))
            }
            Change::Fewer(place) => {
                let thing = gets::through_one_fewer(&panel, one(place)?, units)?;
                Ok(with(panel, place, thing))
            }
            Change::Parts { thing: place, count } => {
                let thing = one(place)?;
                let count = count.clamp(2, MOST_PARTS);
                let parts = thing.parts(names(thing.shape.name.as_str(), count)?, units);
                put(panel, place, parts.map_err(|error| error.to_string())?, true)
            }
            Change::Steps { thing: place, count } => {
                let thing = one(place)?;
                let mut panel = panel;
                let own = thing.blends().iter().flat_map(|blend| &blend.fields).next();
                let ink = match own {
                    Some(field) => panel.inks.get(field.ink).cloned(),
                    None => gets::plainest(&panel, &thing, &[], drawer),
                };
                let ink = ink.ok_or("there is no ink in the drawer for it: tell the drawer of one first")?;
                let place_of = panel.ink_place(&ink);
                let names = names(thing.shape.name.as_str(), count.clamp(*REPEATS.start(), *REPEATS.end()))?;
                let stepped = thing.stepped((place_of, &ink), names, panel.size(), units);
                let (steps, schedule) = stepped.map_err(|error| error.to_string())?;
                *says = Some(schedule);
                put(panel, place, steps, true)
            }
            Change::Tint => {
                // A breath of the lightest ink that is there, or of the drawer's where there is none.
                let is_dye = |ink: &&Ink| ink.kind != Kind::Pigment;
                let own = panel.inks.iter().filter(is_dye).max_by(lightest);
                let ink = own.or_else(|| drawer.iter().filter(is_dye).max_by(lightest)).cloned();
                let ink = ink.ok_or("there is no ink in the drawer for it: tell the drawer of one first")?;
                let mut panel = panel;
                let place = panel.ink_place(&ink);
                let tint = tint((place, &ink), name("tint over all")?, panel.size(), units);
                put(panel, 0, vec![tint], false)
            }
            Change::Best(place) => {
                let best = best_place(&panel, place, units)
                    .ok_or("There is no room for it on the panel: make it smaller.")?;
                *says = Some(best.says);
                let thing = Thing { at: best.at, ..one(place)? };
                Ok(with(panel, place, thing))
            }
            Change::Cover(covering) => Ok(Panel { covering, ..panel }.laid()),
            Change::Trap => {
                let ways = ways(&panel);
                let sealed = ways.iter().find(|way| !way.sealed.is_empty()).ok_or(GONE)?;
                Ok(trapped(&panel, &sealed.sealed).laid())
            }
            Change::Window(None) => Ok(Panel { part: None, ..panel }),
            Change::Window(Some(ref family)) => {
                let part = window(&panel, family)?;
                Ok(Panel { part: Some(part), ..panel })
            }
            Change::WindowMove { across, down } => {
                let middle = in_mm(&panel, (across, down), 1.0)?;
                let part = panel.part.clone().ok_or(GONE)?;
                let size = part.extent(&part.shape.outline().map_err(|error| error.to_string())?).size;
                let at = caught(Point::nearest(middle, mark), size, panel.size(), &[]);
                Ok(Panel { part: Some(Thing { at, ..part }), ..panel })
            }
            Change::WindowNudge { right, down } => {
                let part = panel.part.clone().ok_or(GONE)?;
                let at = nudged(part.at, (right, down), mark);
                Ok(Panel { part: Some(Thing { at, ..part }), ..panel })
            }
            Change::WindowSize { across, down } => {
                let corner = in_mm(&panel, (across, down), 1.0)?;
                let part = panel.part.clone().ok_or(GONE)?;
                let size = part.extent(&part.shape.outline().map_err(|error| error.to_string())?).size;
                let part = sized(&part, reaching(&part, size, corner), units);
                Ok(Panel { part: Some(part), ..panel })
            }
            Change::WindowGrow { by } => {
                let part = panel.part.clone().ok_or(GONE)?;
                let percent = f64::from(part.shape.percent) + f64::from(by.clamp(-1000, 1000));
                let part = sized(&part, percent, units);
                Ok(Panel { part: Some(part), ..panel })
            }
        }
    }
}

/// A paper window of a family in the middle of a panel, about half as large as it.
fn window(panel: &Panel, family: &str) -> Result<Thing, String> {
    let family = family::find(family).map_err(|error| error.to_string())?;
    let name = family.words.trim_start_matches("an ").trim_start_matches("a ");
    let name = name.parse().map_err(|_| "give it a name")?;
    let mut shape = Shape::new(name, Figure::Drawn(Drawn::usual(family)));
    let (wide, high) = shape.outline().map_err(|error| error.to_string())?.size();
    let half = 50.0 * (panel.width.mm() / wide).min(panel.height.mm() / high);
    shape.percent = half.floor().clamp(f64::from(*PERCENT.start()), f64::from(*PERCENT.end())) as u16;
    Ok(Thing::new(shape, Point { left: panel.width / 2, top: panel.height / 2 }))
}

/// By lightness.
fn lightest(one: &&Ink, other: &&Ink) -> std::cmp::Ordering {
    one.lab().l.total_cmp(&other.lab().l)
}

/// Of how many per cent a thing is whose corner comes to a place.
fn reaching(thing: &Thing, size: (Length, Length), (x, y): (f64, f64)) -> f64 {
    let half = (0.5 * size.0.mm()).hypot(0.5 * size.1.mm());
    let far = (x - thing.at.left.mm()).hypot(y - thing.at.top.mm());
    (f64::from(thing.shape.percent) * far / half).round()
}

fn sized(thing: &Thing, percent: f64, units: Units) -> Thing {
    let percent = percent.clamp(f64::from(*PERCENT.start()), f64::from(*PERCENT.end())) as u16;
    thing.reshaped(Shape { percent, ..thing.shape.clone() }, units)
}

/// A shape put in front of all, in the middle of the panel, and no larger than it.
fn added(panel: Panel, mut shape: Shape) -> Result<Panel, String> {
    let own = &panel.scene.things;
    if own.len() == MOST_THINGS {
        return Err(format!("A panel takes up to {MOST_THINGS} things: take one away first."));
    }
    let (wide, high) = shape.outline().map_err(|error| error.to_string())?.size();
    let fits = (panel.width.mm() / wide).min(panel.height.mm() / high);
    if fits < 1.0 {
        let percent = (f64::from(shape.percent) * fits).floor().max(f64::from(*PERCENT.start()));
        shape.percent = percent as u16;
    }
    // Two of one name could not be told apart in what is said.
    let free = free_names(own, shape.name.as_str(), 1).ok_or("Give it a shorter name first.")?;
    shape.name = free.into_iter().next().ok_or("Give it a name first.")?;
    let at = Point { left: panel.width / 2, top: panel.height / 2 };
    let thing = Thing::new(shape, at);
    let others = own.iter().cloned().enumerate().map(|(at, thing)| (thing, Some(at)));
    let things = std::iter::once((thing, None)).chain(others).collect();
    Ok(panel.with_things(things))
}

fn swapped(panel: Panel, front: Option<usize>, behind: usize) -> Result<Panel, String> {
    let mut things: Vec<(Thing, Option<usize>)> =
        panel.scene.things.iter().cloned().enumerate().map(|(at, thing)| (thing, Some(at))).collect();
    let front = front.filter(|_| behind < things.len()).ok_or("It cannot be moved further.")?;
    things.swap(front, behind);
    Ok(panel.with_things(things))
}

/// A thing with one of its words or measures as it was written.
fn set(panel: &mut Panel, mut thing: Thing, word: &Word, has: &Has) -> Result<Thing, String> {
    let units = has.units;
    let length = |text: &str| text.parse_in(units).map_err(|error| error.to_string());
    let number = |text: &str, sign: &[char]| {
        let text = text.trim().trim_end_matches(sign).trim();
        text.parse::<u16>().map_err(|_| "write a whole number".to_owned())
    };
    let mut shape = thing.shape.clone();
    match word {
        Word::Gets(word) => return gets::written(panel, thing, word, has),
        Word::Name(text) => {
            shape.name = text.parse().map_err(|error: DrawerError| error.to_string())?;
            // Two of one name could not be told apart in what is said.
            let others = panel.scene.things.iter().filter(|other| other.shape.name != thing.shape.name);
            if others.into_iter().any(|other| other.shape.name == shape.name) {
                return Err(format!("there is another {} on the panel: call it something else", shape.name));
            }
            return Ok(Thing { shape, ..thing });
        }
        Word::Over(over) => return Ok(Thing { over: *over, ..thing }),
        Word::Bold(bold) => return Ok(Thing { bold: *bold, ..thing }),
        Word::Resist(resist) => return Ok(Thing { resist: *resist, ..thing }),
        Word::From(_) | Word::To(_) | Word::Upright(_) => {
            let outline = shape.outline().map_err(|error| error.to_string())?;
            let old = thing.extent(&outline).size;
            let between = thing.between.as_mut().ok_or(GONE)?;
            match word {
                Word::From(text) => between.from = length(text)?,
                Word::To(text) => between.to = length(text)?,
                Word::Upright(upright) => between.upright = *upright,
                _ => {}
            }
            thing.check_tape(&outline).map_err(|error| error.to_string())?;
            let new = thing.extent(&outline).size;
            thing.blends_mut().iter_mut().for_each(|blend| *blend = blend.on_another(old, new, units));
            return Ok(thing);
        }
        Word::Used(used) => {
            shape.used = *used;
            if shape.used != Use::Mask {
                shape.cut = Cut::OnTheLine;
            }
        }
        Word::Grown(text) => shape.grown = length(text)?,
        Word::Left(text) => thing.at.left = length(text)?,
        Word::Top(text) => thing.at.top = length(text)?,
        Word::Turn(text) => shape.turn = number(text, &['°'])?,
        Word::Percent(text) => shape.percent = number(text, &['%'])?,
        Word::Mirrored(mirrored) => shape.mirrored = *mirrored,
        Word::Letters(text) => {
            if let Figure::Drawn(drawn) = &mut shape.figure {
                drawn.letters = text.trim().to_owned();
            }
        }
        Word::Family(key) => {
            let family = family::find(key).map_err(|error| error.to_string())?;
            shape.figure = Figure::Drawn(Drawn::usual(family));
        }
        Word::Cut(at) => {
            shape.cut = match at {
                CutAt::OnTheLine => Cut::OnTheLine,
                CutAt::Inside => Cut::Inside(by_usual(shape.cut)),
                CutAt::Halo => Cut::Halo(by_usual(shape.cut)),
            }
        }
        Word::By(text) => {
            shape.cut = match shape.cut {
                Cut::OnTheLine => Cut::OnTheLine,
                Cut::Inside(_) => Cut::Inside(length(text)?),
                Cut::Halo(_) => Cut::Halo(length(text)?),
            }
        }
        Word::Measure(key, text) => {
            let Figure::Drawn(drawn) = &mut shape.figure else { return Err(GONE.into()) };
            let is_length = matches!(drawn.measures.get(key), Some(Value::Length(_)));
            let value = if is_length {
                Value::Length(length(text)?)
            } else {
                Value::Number(number(text, &[])?.into())
            };
            drawn.measures.insert(key.clone(), value);
        }
    }
    // What cannot be drawn is told by its field, and the thing stays as it is.
    shape.check().map_err(|error| error.to_string())?;
    Ok(thing.reshaped(shape, units))
}

/// How far a plug is let in or out to begin with: a hair.
fn by_usual(cut: Cut) -> Length {
    match cut {
        Cut::OnTheLine => Length::from_64ths(2),
        Cut::Inside(by) | Cut::Halo(by) => by,
    }
}
