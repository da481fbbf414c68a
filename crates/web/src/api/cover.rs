//! `POST /api/panels/cover`: the things on a panel as they stand on the page, how they are made, and how it would look. And
//! the masks of a panel as files. Nothing is kept here.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::colour::Lab;
use rosy_core::ink::{Ink, Kind, Name};
use rosy_core::judgement::greeting::best_place;
use rosy_core::length::ParseIn;
use rosy_core::order::Covering;
use rosy_core::order::ask::{trapped, ways};
use rosy_core::order::pieces::taken;
use rosy_core::place::{Extent, Point};
use rosy_core::scene::company::{MOST_PARTS, free_names, tint, usual_shadow};
use rosy_core::scene::snap::caught;
use rosy_core::scene::{MOST_THINGS, Thing};
use rosy_core::search::darker::darker;
use rosy_core::shape::family::{self, Value};
use rosy_core::shape::kept::{Figure, PERCENT, Shape};
use rosy_core::shape::steps::REPEATS;
use rosy_core::shape::{Cut, Drawn, Region, Use};
use rosy_core::{Length, Panel, Units};
use rosy_store::Store;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::gets;
use super::looked::{Asked, GONE, Wrong, answer};
use super::shapes::{Wanted, sheets};
use crate::error::{ApiProblem, Problem};
use crate::pages::cover::Told;
use crate::pages::shapes::SheetWanted;
use crate::picture::{data_url, for_page, is_large};
use crate::visitor::{Caller, Read};
use crate::workroom::Workroom;

/// Farthest a thing is moved by keys at once, in pencil marks.
const MOST_MARKS: i32 = 2_000;

/// A change to the things on a panel.
#[derive(Clone, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Change {
    /// A thing of a family put in front.
    Add(String),
    /// A shape of the bench put in front.
    Bring(Uuid),
    /// One of a thing's words or measures, as it was written.
    Set { thing: usize, what: String, to: String },
    /// Its middle moved to a place, in shares of the panel's width and height.
    Move { thing: usize, across: f64, down: f64 },
    /// Its middle moved by pencil marks.
    Nudge { thing: usize, right: i32, down: i32 },
    /// A corner of its box moved to a place, in shares of the panel's width and height.
    Size { thing: usize, across: f64, down: f64 },
    /// Made larger or smaller by so many per cent.
    Grow { thing: usize, by: i32 },
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
    Parts { thing: usize, count: usize },
    /// Its edge stepped down the panel.
    Steps { thing: usize, count: usize },
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
    WindowMove { across: f64, down: f64 },
    /// The window's middle moved by pencil marks.
    WindowNudge { right: i32, down: i32 },
    /// A corner of the window's box moved to a place, in shares of the panel's width and height.
    WindowSize { across: f64, down: f64 },
    /// The window made larger or smaller by so many per cent.
    WindowGrow { by: i32 },
}

/// How it would come out.
#[derive(Serialize)]
struct Look {
    panel: Panel,
    picture: String,
    things: Vec<ThingNote>,
    /// The paper window that is laid over it.
    window: Option<ThingNote>,
    /// The sentences, how it is made, and what is cut, as a part of the page.
    #[serde(skip_serializing_if = "Option::is_none")]
    told: Option<String>,
    /// What is to be known of a change that was made.
    #[serde(skip_serializing_if = "Option::is_none")]
    says: Option<String>,
}

/// A thing as it lies on the picture, in per cent of its width and height.
#[derive(Serialize)]
struct ThingNote {
    name: String,
    left: f64,
    top: f64,
    /// The corner by which it is made larger.
    right: f64,
    bottom: f64,
    /// Its edge, in a square of a thousand.
    outline: String,
}

/// What the maker has to make things of.
struct Owned {
    inks: Vec<Ink>,
    shape: Option<Shape>,
}

/// Looks.
pub async fn look(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    Read(asked): Read<Asked<Change>>,
) -> Result<HttpResponse, ApiProblem> {
    let (bench, units) = (caller.visitor.bench.id, caller.visitor.units());
    let shape = match &asked.change {
        Some(Change::Bring(id)) => Some(store.one::<Shape>(bench, *id).await?.value),
        _ => None,
    };
    let inks = match &asked.change {
        Some(change) if change.takes_ink() => {
            store.all::<Ink>(bench).await?.into_iter().map(|kept| kept.value).collect()
        }
        _ => Vec::new(),
    };
    let owned = Owned { inks, shape };
    let asker = caller.visitor.asker().heavy_if(is_large(asked.dpi));
    let looked = room.done(&asker, move || looked(asked, &owned, units));
    answer(looked.await?)
}

fn looked(asked: Asked<Change>, owned: &Owned, units: Units) -> Result<Look, Wrong> {
    let (dpi, settled) = (asked.dpi, asked.settled);
    let mut says = None;
    let panel = asked.changed(Change::field, |change, panel| change.made(panel, owned, units, &mut says))?;
    let dpi = for_page(&panel, dpi);
    let picture = data_url(&panel.surface(), dpi).map_err(Wrong::nowhere)?;
    let told = if settled { Some(Told::of(&panel, units).render().map_err(Wrong::nowhere)?) } else { None };
    Ok(Look { things: notes(&panel), window: window_note(&panel), picture, told, panel, says })
}

fn notes(panel: &Panel) -> Vec<ThingNote> {
    let things = &panel.materials().masks.things;
    things.iter().map(|masked| note(panel, &masked.name, masked.extent, &masked.inside)).collect()
}

fn window_note(panel: &Panel) -> Option<ThingNote> {
    let part = panel.part.as_ref()?;
    let outline = part.shape.outline().ok()?;
    let region = outline.region().moved(|[x, y]| [x + part.at.left.mm(), y + part.at.top.mm()]);
    Some(note(panel, &part.shape.name, part.extent(&outline), &region))
}

fn note(panel: &Panel, name: &Name, extent: Extent, inside: &Region) -> ThingNote {
    let (width, height) = (panel.width.mm(), panel.height.mm());
    let Extent { corner, size } = extent;
    let (left, top) = (corner.left.mm(), corner.top.mm());
    let (wide, high) = (size.0.mm(), size.1.mm());
    ThingNote {
        name: name.to_string(),
        left: 100.0 * (left + 0.5 * wide) / width,
        top: 100.0 * (top + 0.5 * high) / height,
        right: 100.0 * (left + wide) / width,
        bottom: 100.0 * (top + high) / height,
        outline: inside.moved(|[x, y]| [1000.0 * x / width, 1000.0 * y / height]).path(),
    }
}

impl Change {
    /// The field it was written in, by which it is told that it cannot be.
    fn field(&self) -> String {
        match self {
            Change::Set { thing, what, .. } => format!("{thing}-{what}"),
            _ => String::new(),
        }
    }

    /// Whether it may take an ink of the drawer.
    const fn takes_ink(&self) -> bool {
        matches!(
            self,
            Change::Set { .. }
                | Change::Shadow(_)
                | Change::Glow(_)
                | Change::Skim(_)
                | Change::Through(_)
                | Change::Steps { .. }
                | Change::Tint
        )
    }

    fn made(
        self,
        panel: Panel,
        owned: &Owned,
        units: Units,
        says: &mut Option<String>,
    ) -> Result<Panel, String> {
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
        match self {
            Change::Add(family) => {
                let family = family::find(&family).map_err(|error| error.to_string())?;
                let name = family.words.trim_start_matches("an ").trim_start_matches("a ").to_owned();
                let shape = Shape::new(
                    name.parse().map_err(|_| "give it a name")?,
                    Figure::Drawn(Drawn::usual(family)),
                );
                added(panel, shape)
            }
            Change::Bring(_) => added(panel, owned.shape.clone().ok_or(GONE)?),
            Change::Set { thing: place, what, to } => {
                let mut panel = panel;
                let thing = set(&mut panel, one(place)?, &what, &to, owned, units)?;
                Ok(with(panel, place, thing))
            }
            Change::Move { thing: place, across, down } => {
                let middle = somewhere(&panel, across, down)?;
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
                let marks = |n: i32| mark * i64::from(n.clamp(-MOST_MARKS, MOST_MARKS));
                let at = Point { left: thing.at.left + marks(right), top: thing.at.top + marks(down) };
                Ok(with(panel, place, Thing { at, ..thing }))
            }
            Change::Size { thing: place, across, down } => {
                let corner = somewhere(&panel, across, down)?;
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
                    shadow = gets::written(&mut panel, shadow, "gets", "goes", &owned.inks, units)?;
                }
                put(panel, place + 1, vec![shadow], false)
            }
            Change::Glow(place) => {
                let thing = one(place)?;
                let is_white = |ink: &&Ink| ink.kind == Kind::Pigment;
                let white = panel.inks.iter().chain(&owned.inks).filter(is_white).max_by(lightest).cloned();
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
                let drawer: Vec<&Ink> = owned.inks.iter().filter(is_wet).collect();
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
                let thing = gets::through_one_more(&mut panel, one(place)?, &owned.inks, units)?;
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
                    None => gets::plainest(&panel, &thing, &[], &owned.inks),
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
                let ink = own.or_else(|| owned.inks.iter().filter(is_dye).max_by(lightest)).cloned();
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
            Change::Window(Some(family)) => {
                let part = window(&panel, &family)?;
                Ok(Panel { part: Some(part), ..panel })
            }
            Change::WindowMove { across, down } => {
                let middle = somewhere(&panel, across, down)?;
                let part = panel.part.clone().ok_or(GONE)?;
                let size = part.extent(&part.shape.outline().map_err(|error| error.to_string())?).size;
                let at = caught(Point::nearest(middle, mark), size, panel.size(), &[]);
                Ok(Panel { part: Some(Thing { at, ..part }), ..panel })
            }
            Change::WindowNudge { right, down } => {
                let part = panel.part.clone().ok_or(GONE)?;
                let marks = |n: i32| mark * i64::from(n.clamp(-MOST_MARKS, MOST_MARKS));
                let at = Point { left: part.at.left + marks(right), top: part.at.top + marks(down) };
                Ok(Panel { part: Some(Thing { at, ..part }), ..panel })
            }
            Change::WindowSize { across, down } => {
                let corner = somewhere(&panel, across, down)?;
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

/// A place given in shares of the panel's sides, in millimetres.
fn somewhere(panel: &Panel, across: f64, down: f64) -> Result<(f64, f64), String> {
    if !(across.is_finite() && down.is_finite()) {
        return Err("That place is nowhere: take hold of it again.".into());
    }
    Ok((across.clamp(-1.0, 2.0) * panel.width.mm(), down.clamp(-1.0, 2.0) * panel.height.mm()))
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
fn set(
    panel: &mut Panel,
    mut thing: Thing,
    what: &str,
    to: &str,
    owned: &Owned,
    units: Units,
) -> Result<Thing, String> {
    let length = || to.parse_in(units).map_err(|error| error.to_string());
    let number = |with: &[char]| {
        to.trim().trim_end_matches(with).trim().parse::<u16>().map_err(|_| "write a whole number".to_owned())
    };
    let mut shape = thing.shape.clone();
    match what {
        "name" => {
            shape.name = to.parse().map_err(|error: rosy_core::ink::DrawerError| error.to_string())?;
            // Two of one name could not be told apart in what is said.
            let others = panel.scene.things.iter().filter(|other| other.shape.name != thing.shape.name);
            if others.into_iter().any(|other| other.shape.name == shape.name) {
                return Err(format!("there is another {} on the panel: call it something else", shape.name));
            }
            thing.shape = shape;
            return Ok(thing);
        }
        "over" => {
            thing.over = to == "over";
            return Ok(thing);
        }
        "bold" => {
            thing.bold = to == "on";
            return Ok(thing);
        }
        "resist" => {
            thing.resist = match to {
                "none" => None,
                powder => Some(serde_json::from_value(powder.into()).map_err(|_| GONE)?),
            };
            return Ok(thing);
        }
        "used" => {
            shape.used = serde_json::from_value(to.into()).map_err(|_| GONE)?;
            if shape.used != Use::Mask {
                shape.cut = Cut::OnTheLine;
            }
        }
        "grown" => shape.grown = length()?,
        "from" | "to" | "side" => {
            let outline = shape.outline().map_err(|error| error.to_string())?;
            let old = thing.extent(&outline).size;
            let between = thing.between.as_mut().ok_or(GONE)?;
            match what {
                "from" => between.from = length()?,
                "to" => between.to = length()?,
                _ => between.upright = to == "left",
            }
            thing.check_tape(&outline).map_err(|error| error.to_string())?;
            let new = thing.extent(&outline).size;
            thing.blends_mut().iter_mut().for_each(|blend| *blend = blend.on_another(old, new, units));
            return Ok(thing);
        }
        "left" => thing.at.left = length()?,
        "top" => thing.at.top = length()?,
        "turn" => shape.turn = number(&['°'])?,
        "percent" => shape.percent = number(&['%'])?,
        "mirrored" => shape.mirrored = to == "on",
        "letters" => {
            if let Figure::Drawn(drawn) = &mut shape.figure {
                drawn.letters = to.trim().to_owned();
            }
        }
        "family" => {
            shape.figure = Figure::Drawn(Drawn::usual(family::find(to).map_err(|error| error.to_string())?))
        }
        "cut" => {
            shape.cut = match to {
                "inside" => Cut::Inside(by_usual(shape.cut)),
                "halo" => Cut::Halo(by_usual(shape.cut)),
                _ => Cut::OnTheLine,
            }
        }
        "by" => {
            shape.cut = match shape.cut {
                Cut::OnTheLine => Cut::OnTheLine,
                Cut::Inside(_) => Cut::Inside(length()?),
                Cut::Halo(_) => Cut::Halo(length()?),
            }
        }
        measure if shape_measure(measure).is_none() => {
            return gets::written(panel, thing, what, to, &owned.inks, units);
        }
        measure => {
            let (Figure::Drawn(drawn), Some(key)) = (&mut shape.figure, shape_measure(measure)) else {
                return Err(GONE.into());
            };
            let is_length = matches!(drawn.measures.get(key), Some(Value::Length(_)));
            let value = if is_length { Value::Length(length()?) } else { Value::Number(number(&[])?.into()) };
            drawn.measures.insert(key.to_owned(), value);
        }
    }
    // What cannot be drawn is told by its field, and the thing stays as it is.
    shape.check().map_err(|error| error.to_string())?;
    Ok(thing.reshaped(shape, units))
}

/// The key of a measure of a shape, where the word is one.
fn shape_measure(what: &str) -> Option<&str> {
    what.strip_prefix("m_")
}

/// How far a plug is let in or out to begin with: a hair.
fn by_usual(cut: Cut) -> Length {
    match cut {
        Cut::OnTheLine => Length::from_64ths(2),
        Cut::Inside(by) | Cut::Halo(by) => by,
    }
}

/// `GET /panels/{id}/masks.{ending}`: the masks that a panel's moves take, laid on sheets, at true scale.
pub async fn file(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    path: web::Path<(Uuid, String)>,
    wanted: web::Query<Wanted>,
) -> Result<HttpResponse, ApiProblem> {
    let (id, ending) = path.into_inner();
    let units = caller.visitor.units();
    let panel = store.one::<Panel>(caller.visitor.bench.id, id).await?.value;
    let pieces = taken(&panel.moves, &panel.materials());
    let cut = pieces.iter().filter(|pieces| pieces.count() > 0);
    let shapes: Vec<Shape> =
        cut.filter_map(|pieces| Some(panel.scene.things.get(pieces.thing)?.shape.clone())).collect();
    if shapes.is_empty() {
        return Err(
            Problem::Refused("This panel needs no masks: put something in front first.".into()).into()
        );
    }
    let name = format!("{} masks", panel.name);
    let of = (wanted.sheet.unwrap_or(SheetWanted::usual(units)), wanted.file.paper);
    Ok(sheets(&room, caller.visitor.asker(), name, shapes, of, &ending, units).await?)
}
