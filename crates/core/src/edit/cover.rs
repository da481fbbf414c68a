//! What is changed about the things on a panel: which there are, where they stand, how they are cut and covered, and the paper
//! window that is laid over it?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::things::Things;
use super::words::{self, Written, choice, either, place};
use super::{Edit, Edited, GONE, Has, gets, window};
use crate::ink::{DrawerError, Powder};
use crate::length::{Length, ParseIn, Units};
use crate::panel::Panel;
use crate::scene::room::Lie;
use crate::scene::{Covering, Thing};
use crate::shape::family::{self, Value};
use crate::shape::kept::{Figure, Shape};
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
    /// White brushed round its edge at the end, over what has dried.
    Edging(usize),
    /// Raised, and skimmed in the darker set of the ground's inks.
    Skim(usize),
    /// The same once more over all that stands behind it.
    Again(usize),
    /// What lies between its lines filled with inks that run over it.
    Cells(usize),
    /// Its blend through one ink more.
    Through(usize),
    /// Its blend through one ink fewer.
    Fewer(usize),
    /// A blend more over those it has.
    Over(usize),
    /// One of the blends over its first left out.
    Leave {
        /// Of which.
        thing: usize,
        /// Which of its blends, from 0.
        blend: usize,
    },
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
    /// So many more of a thing, beside it.
    More {
        /// Which.
        thing: usize,
        /// How many.
        count: usize,
        /// How they lie.
        lie: Lie,
    },
    /// A breath of ink over all of it.
    Tint,
    /// A thing made no larger than fits on the panel, and moved in.
    Fit(usize),
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
    /// Of one of its blends.
    Gets(usize, gets::Word),
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
            what => {
                // Those over the first are told by their places.
                let over = what.strip_prefix("over").and_then(|rest| rest.split_once('_'));
                let (blend, what) =
                    over.map_or(Ok((0, what)), |(at, what)| place(at).map(|at| (at, what)))?;
                Word::Gets(blend, gets::Word::read(what, to)?)
            }
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

    fn label(&self, panel: &Panel, has: &Has) -> String {
        let named = |place: &usize| panel.scene.things.get(*place).map(|thing| thing.shape.name.as_str());
        let name = |place: &usize| named(place).unwrap_or("thing");
        match self {
            Change::Add(family) => {
                let family = family::find(family).map_or("it", |family| family.words);
                format!("put {family} in front")
            }
            Change::Bring(_) => {
                let name = has.shape.map_or("it", |shape| shape.name.as_str());
                format!("put {name} in front")
            }
            Change::Set(Written { field, .. }) => format!("change the {}", name(&field.thing)),
            Change::Move { thing, .. } | Change::Nudge { thing, .. } => format!("move the {}", name(thing)),
            Change::Size { thing, .. } | Change::Grow { thing, .. } => {
                format!("make the {} another size", name(thing))
            }
            Change::Forward(place) => format!("bring the {} forward", name(place)),
            Change::Behind(place) => format!("put the {} behind", name(place)),
            Change::Remove(place) => format!("take the {} away", name(place)),
            Change::Shadow(place) => format!("a shadow behind the {}", name(place)),
            Change::Glow(place) => format!("white round the {}", name(place)),
            Change::Edging(place) => format!("white round the {} at the end", name(place)),
            Change::Skim(place) => format!("raise the {} and skim it", name(place)),
            Change::Again(place) => format!("go over the {} once more", name(place)),
            Change::Cells(place) => format!("fill the cells of the {}", name(place)),
            Change::Through(place) => format!("the {} through one ink more", name(place)),
            Change::Fewer(place) => format!("the {} through one ink fewer", name(place)),
            Change::Over(place) => format!("another blend over the {}", name(place)),
            Change::Leave { thing, .. } => format!("one blend fewer on the {}", name(thing)),
            Change::Parts { thing, .. } => format!("tape the {} into parts", name(thing)),
            Change::Steps { thing, .. } => format!("step the {} down", name(thing)),
            Change::More { thing, .. } => format!("more of the {}", name(thing)),
            Change::Tint => "tint all of it after".into(),
            Change::Fit(place) => format!("make the {} fit", name(place)),
            Change::Best(place) => format!("put the {} where it reads best", name(place)),
            Change::Cover(_) => "make it another way".into(),
            Change::Trap => "trap the colour under powder".into(),
            Change::Window(Some(_)) => "lay a paper window over it".into(),
            Change::Window(None) => "take the window away".into(),
            Change::WindowMove { .. } | Change::WindowNudge { .. } => "move the window".into(),
            Change::WindowSize { .. } | Change::WindowGrow { .. } => "make the window another size".into(),
        }
    }

    fn orders(&self) -> bool {
        matches!(self, Change::Cover(_))
    }

    /// Whether it may take an ink of the drawer.
    fn takes_ink(&self) -> bool {
        matches!(
            self,
            Change::Set(_)
                | Change::Shadow(_)
                | Change::Glow(_)
                | Change::Edging(_)
                | Change::Skim(_)
                | Change::Cells(_)
                | Change::Through(_)
                | Change::Over(_)
                | Change::Steps { .. }
                | Change::Tint
        )
    }

    fn brings(&self) -> Option<&str> {
        match self {
            Change::Bring(id) => Some(id),
            _ => None,
        }
    }

    fn made(&self, panel: Panel, has: &Has) -> Result<Edited, String> {
        let things = Things::of(panel, has);
        match *self {
            Change::Add(ref family) => things.add(usual(family, has.units)?),
            Change::Bring(_) => things.add(has.shape.cloned().ok_or(GONE)?),
            Change::Set(Written { ref field, ref word }) => {
                things.written(field.thing, |panel, thing| set(panel, thing, word, has))
            }
            Change::Move { thing, across, down } => things.r#move(thing, (across, down)),
            Change::Nudge { thing, right, down } => things.nudge(thing, (right, down)),
            Change::Size { thing, across, down } => things.size(thing, (across, down)),
            Change::Grow { thing, by } => things.grow(thing, by),
            Change::Forward(place) => things.swap(place.checked_sub(1), place),
            Change::Behind(place) => things.swap(Some(place), place + 1),
            Change::Remove(place) => things.remove(place),
            Change::Shadow(place) => things.shadow(place),
            Change::Glow(place) => things.glow(place),
            Change::Edging(place) => things.edging(place),
            Change::Skim(place) => things.skim(place),
            Change::Again(place) => things.again(place),
            Change::Cells(place) => things.cells(place),
            Change::Through(place) => things.through(place, 1),
            Change::Fewer(place) => things.through(place, -1),
            Change::Over(place) => things.written(place, |panel, thing| gets::over(panel, thing, has)),
            Change::Leave { thing, blend } => things.written(thing, |_, thing| gets::without(thing, blend)),
            Change::Parts { thing, count } => things.parts(thing, count),
            Change::Steps { thing, count } => things.steps(thing, count),
            Change::More { thing, count, lie } => things.more(thing, count, lie),
            Change::Tint => things.tint(),
            Change::Fit(place) => things.fit(place),
            Change::Best(place) => things.best(place),
            Change::Cover(covering) => Ok(Panel { covering, by_hand: false, ..things.panel }.laid().into()),
            Change::Trap => things.trap(),
            Change::Window(None) => Ok(Panel { part: None, ..things.panel }.into()),
            Change::Window(Some(ref family)) => window::laid(things.panel, usual(family, has.units)?),
            Change::WindowMove { across, down } => window::moved(things.panel, (across, down), has.units),
            Change::WindowNudge { right, down } => window::nudged(things.panel, (right, down), has.units),
            Change::WindowSize { across, down } => window::sized(things.panel, (across, down), has.units),
            Change::WindowGrow { by } => window::grown(things.panel, by, has.units),
        }
    }
}

/// A shape of a family, by its usual measures, called what it is.
fn usual(family: &str, units: Units) -> Result<Shape, String> {
    let family = family::find(family).map_err(|error| error.to_string())?;
    let name = family.words.trim_start_matches("an ").trim_start_matches("a ");
    let name = name.parse().map_err(|_| "give it a name")?;
    Ok(Shape::new(name, Figure::Drawn(Drawn::usual_in(family, units))))
}

/// A thing with one of its words or measures as it was written.
fn set(panel: &mut Panel, mut thing: Thing, word: &Word, has: &Has) -> Result<Thing, String> {
    let units = has.units;
    match word {
        Word::Gets(blend, word) => return gets::written(panel, thing, *blend, word, has),
        Word::Name(text) => return named(panel, thing, text),
        Word::Over(over) => return Ok(Thing { over: *over, ..thing }),
        Word::Used(Use::Raised) if !thing.is_inked() => return gets::raised(panel, thing, has),
        Word::Bold(bold) => return Ok(Thing { bold: *bold, ..thing }),
        Word::Resist(resist) => return Ok(Thing { resist: *resist, ..thing }),
        Word::From(_) | Word::To(_) | Word::Upright(_) => return between(thing, word, units),
        Word::Left(text) => thing.at.left = length(text, units)?,
        Word::Top(text) => thing.at.top = length(text, units)?,
        _ => {}
    }
    let mut shape = thing.shape.clone();
    reshape(&mut shape, word, units)?;
    // What cannot be drawn is told by its field, and the thing stays as it is.
    shape.check().map_err(|error| error.to_string())?;
    let reshaped = thing.reshaped(shape, units);
    // Other letters stay on the panel where those before them did.
    let is_on = |thing: &Thing| {
        let inside = |outline| thing.whole(&outline).lies_within(&panel.inside());
        thing.shape.outline().is_ok_and(inside)
    };
    let runs_off = matches!(word, Word::Letters(_)) && is_on(&thing) && !is_on(&reshaped);
    Ok(if runs_off { reshaped.fitted(panel.inside(), units) } else { reshaped })
}

fn length(text: &str, units: Units) -> Result<Length, String> {
    text.parse_in(units).map_err(|error| error.to_string())
}

fn number(text: &str, sign: &[char]) -> Result<u16, String> {
    let text = text.trim().trim_end_matches(sign).trim();
    text.parse().map_err(|_| "write a whole number".to_owned())
}

fn named(panel: &Panel, mut thing: Thing, text: &str) -> Result<Thing, String> {
    let old = std::mem::replace(
        &mut thing.shape.name,
        text.parse().map_err(|error: DrawerError| error.to_string())?,
    );
    let new = &thing.shape.name;
    // Two of one name could not be told apart in what is said.
    if *new != old && panel.scene.things.iter().any(|other| other.shape.name == *new) {
        return Err(format!("there is another {new} on the panel: call it something else"));
    }
    Ok(thing)
}

/// Tape along other lines, with what it gets stretched to them.
fn between(mut thing: Thing, word: &Word, units: Units) -> Result<Thing, String> {
    let outline = thing.shape.outline().map_err(|error| error.to_string())?;
    let old = thing.extent(&outline).size;
    let between = thing.between.as_mut().ok_or(GONE)?;
    match word {
        Word::From(text) => between.from = length(text, units)?,
        Word::To(text) => between.to = length(text, units)?,
        Word::Upright(upright) => between.upright = *upright,
        _ => {}
    }
    thing.check_tape(&outline).map_err(|error| error.to_string())?;
    let new = thing.extent(&outline).size;
    thing.blends_mut().iter_mut().for_each(|blend| *blend = blend.on_another(old, new, units));
    Ok(thing)
}

/// A shape with one of its own words or measures as it was written.
fn reshape(shape: &mut Shape, word: &Word, units: Units) -> Result<(), String> {
    match word {
        Word::Used(used) => {
            shape.used = *used;
            if shape.used != Use::Mask {
                shape.cut = Cut::OnTheLine;
            }
        }
        Word::Grown(text) => shape.grown = length(text, units)?,
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
            shape.figure = Figure::Drawn(shape.figure.drawn_as(family, units));
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
                Cut::Inside(_) => Cut::Inside(length(text, units)?),
                Cut::Halo(_) => Cut::Halo(length(text, units)?),
            }
        }
        Word::Measure(key, text) => {
            let Figure::Drawn(drawn) = &mut shape.figure else { return Err(GONE.into()) };
            let value = match drawn.measures.get(key) {
                Some(Value::Length(_)) => Value::Length(length(text, units)?),
                _ => Value::Number(number(text, &[])?.into()),
            };
            drawn.measures.insert(key.clone(), value);
        }
        _ => {}
    }
    Ok(())
}

/// How far a plug is let in or out to begin with: a hair.
fn by_usual(cut: Cut) -> Length {
    match cut {
        Cut::OnTheLine => Length::from_64ths(2),
        Cut::Inside(by) | Cut::Halo(by) => by,
    }
}
