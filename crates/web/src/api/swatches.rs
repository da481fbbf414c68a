//! A photo of swatches into the drawer: first what it says of each ink, with a place for every patch; then what is taken of it.

use actix_web::{HttpResponse, web};
use rosy_core::Panel;
use rosy_core::colour::Colour;
use rosy_core::ink::{Ink, Kind, Name, Paper};
use rosy_eye::ask::{Placed, SwatchAsked};
use rosy_eye::phone::Phone;
use rosy_eye::swatch::{PatchSeen, StripSeen, SwatchesSeen};
use rosy_store::{Change, Kept, Scope, Store};
use serde::{Deserialize, Serialize};
use serde_json::json;
use uuid::Uuid;

use super::inks::{brought, changes};
use crate::apart::Errand;
use crate::error::{ApiProblem, Problem};
use crate::say::veil_strip;
use crate::visitor::{Caller, Read, Sending};
use crate::workroom::Workroom;

/// What is told beside the photo.
#[derive(Deserialize)]
pub struct Told {
    /// The card the swatches were laid on; bright white where none is named.
    card: Option<Uuid>,
    /// The frame's outer corners in pixels, where they were shown by hand: eight numbers.
    corners: Option<String>,
    /// The inks at places whose mark cannot be read, as JSON.
    inks: Option<String>,
    /// Whether another phone took it than the one that is known.
    #[serde(default)]
    other_phone: bool,
}

impl Told {
    fn inks(&self) -> Result<Vec<Placed>, Problem> {
        let text = self.inks.as_deref().unwrap_or("[]");
        serde_json::from_str(text)
            .map_err(|error| Problem::Refused(format!("The inks at their places cannot be read: {error}.")))
    }
}

/// Four corners that were shown on a photo: eight numbers.
pub fn corners_of(text: Option<&str>, what: &str) -> Result<Option<[[f64; 2]; 4]>, Problem> {
    let Some(text) = text.filter(|text| !text.is_empty()) else { return Ok(None) };
    let numbers: Vec<f64> = text.split(',').filter_map(|number| number.trim().parse().ok()).collect();
    let says = || Problem::Refused(format!("The corners of the {what} are eight numbers, in pixels."));
    let [a, b, c, d, e, f, g, h] = numbers[..] else { return Err(says()) };
    Ok(Some([[a, b], [c, d], [e, f], [g, h]]))
}

/// `POST /api/swatches/look`: what a photo says. Nothing is kept.
pub async fn look(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    told: web::Query<Told>,
    Sending(photo): Sending,
) -> Result<HttpResponse, ApiProblem> {
    let (bench, asker) = (caller.visitor.bench.id, caller.visitor.asker());
    let drawer = store.all::<Ink>(bench).await?;
    let card = match told.card {
        Some(card) => Some(store.one::<Paper>(bench, card).await?.value.colour),
        None => None,
    };
    let known = store.only::<Phone>(bench).await?;
    let phone = known.0.filter(|_| !told.other_phone).map(|_| known.1);
    let is_known = phone.is_some();
    let asked = SwatchAsked {
        card,
        corners: corners_of(told.corners.as_deref(), "frame")?,
        drawer: drawer.iter().map(|kept| kept.value.clone()).collect(),
        inks: told.inks()?,
        phone,
        ..SwatchAsked::default()
    };
    let seen = room.apart(asker, Errand::Swatches(Box::new(asked)), photo).await?;
    let seen: SwatchesSeen = serde_json::from_slice(&seen).map_err(|_| Problem::Broken)?;
    let panels = store.all::<Panel>(bench).await?;
    let shown = room.done(asker, move || shown(&seen, &drawer, &panels, is_known)).await?;
    Ok(HttpResponse::Ok().json(shown))
}

/// A strip as its page shows it.
#[derive(Serialize)]
struct Row {
    place: usize,
    name: String,
    /// Whether the drawer has it.
    known: bool,
    marks: Vec<Mark>,
    /// What is to be said of it.
    says: String,
    /// The ink that would be taken.
    ink: Option<Ink>,
    /// Its strip, and that of the ink as the drawer has it.
    now: Option<String>,
    before: Option<String>,
    /// The panels that have it as it was, and its page, where they are given the new one.
    panels: Option<String>,
    page: Option<String>,
}

/// A patch on the photo.
#[derive(Serialize)]
struct Mark {
    /// Its outline, as SVG takes it.
    points: String,
    refused: bool,
    /// What it is, and why it was not read.
    says: String,
}

fn shown(
    seen: &SwatchesSeen,
    drawer: &[Kept<Ink>],
    panels: &[Kept<Panel>],
    is_known: bool,
) -> serde_json::Value {
    let rows: Vec<Row> = seen.strips.iter().map(|strip| row(strip, drawer, panels)).collect();
    let read = rows.iter().filter(|row| row.ink.is_some()).count();
    let patches = || seen.strips.iter().flat_map(|strip| &strip.patches);
    let refused = patches().filter(|patch| patch.refused.is_some()).count();
    let mut within: Vec<f64> = patches().filter_map(|patch| patch.within).collect();
    within.sort_by(f64::total_cmp);
    let typical = within.get(within.len() / 2).copied();
    json!({
        "corners": seen.corners, "rows": rows, "phone": seen.phone,
        "says": summary(read, refused, typical),
        "better": better(seen.phone_sure, seen.strips.len(), is_known),
    })
}

/// What came of it, in a sentence or two.
fn summary(read: usize, refused: usize, typical: Option<f64>) -> String {
    let inks = match read {
        0 => "No ink could be read.".to_owned(),
        1 => "One ink was read.".to_owned(),
        read => format!("{read} inks were read."),
    };
    let near = typical.map_or(String::new(), |within| format!(" {}", nearness(within)));
    let left = match refused {
        0 => String::new(),
        1 => " One patch is left out: its reason stands by it.".to_owned(),
        refused => format!(" {refused} patches are left out: their reasons stand by them."),
    };
    inks + &near + &left
}

/// How near its colours are, for whoever looks at them.
fn nearness(within: f64) -> &'static str {
    match within {
        within if within < 3.0 => "Most colours are as near as the eye tells side by side.",
        within if within < 5.0 => "Most colours are near: side by side a little difference may be seen.",
        within if within < 8.0 => "Most colours are about right: a difference is seen at a glance.",
        _ => "Colours are rough: what this phone does to them is not known yet.",
    }
}

/// From here on a phone is known as well as a photo or two can tell.
const SURE: f64 = 0.5;

/// What would make the next photo say more.
fn better(sure: f64, strips: usize, is_known: bool) -> Option<&'static str> {
    if sure > SURE {
        None
    } else if strips < 12 && !is_known {
        Some(
            "Twelve or more inks on one frame, some of which the drawer has already, tell what your phone does to colours.",
        )
    } else {
        Some("Daylight from a window on a grey day, and no lamp, brings colours nearer.")
    }
}

fn row(strip: &StripSeen, drawer: &[Kept<Ink>], panels: &[Kept<Panel>]) -> Row {
    let name = strip.name.clone();
    let called = |kept: &&Kept<Ink>| {
        name.as_deref().is_some_and(|name| kept.value.name.as_str().eq_ignore_ascii_case(name))
    };
    let kept = drawer.iter().find(called);
    let before = kept.map(|kept| &kept.value);
    let kind = before.map(|ink| ink.kind).or(strip.kind).unwrap_or_default();
    let ink = strip.ink.map(|read| Ink {
        name: name.clone().and_then(|name| name.parse().ok()).unwrap_or_else(|| unnamed(strip.place)),
        kind,
        colour: Colour::Lab(read.colour),
        one_veil: read.one_veil.map(Colour::Lab),
        full_veils: read.full_veils,
    });
    let ink = ink.filter(|ink| ink.check().is_ok());
    Row {
        place: strip.place,
        known: before.is_some(),
        marks: strip.patches.iter().map(mark).collect(),
        says: says(strip, before, ink.as_ref(), kind),
        now: ink.as_ref().map(|ink| veil_strip(ink, &format!("now-{}", strip.place))),
        before: before.map(|ink| veil_strip(ink, &format!("before-{}", strip.place))),
        panels: before.and_then(|ink| with_it(ink, panels)),
        page: kept.map(|kept| format!("/drawer/inks/{}#panels", kept.id)),
        ink,
        name: name.unwrap_or_default(),
    }
}

/// Which panels would look different with an ink as it was read.
fn with_it(ink: &Ink, panels: &[Kept<Panel>]) -> Option<String> {
    let has_it = |kept: &&Kept<Panel>| kept.value.inks.iter().any(|other| other.is_called_as(ink));
    let names: Vec<&str> = panels.iter().filter(has_it).map(|kept| kept.value.name.as_str()).collect();
    match names[..] {
        [] => None,
        [one] => Some(format!("{one} has it as it was.")),
        [one, other] => Some(format!("{one} and {other} have it as it was.")),
        [first, ..] => Some(format!("{first} and {} other panels have it as it was.", names.len() - 1)),
    }
}

/// What a strip's ink is called until its maker names it.
fn unnamed(place: usize) -> Name {
    format!("Ink at place {place}").parse().expect("a name of a few letters")
}

fn mark(patch: &PatchSeen) -> Mark {
    let [a, b, c, d] = patch.corners.map(|[x, y]| format!("{x:.1},{y:.1}"));
    let what = patch.part.words();
    Mark {
        points: format!("{a} {b} {d} {c}"),
        refused: patch.refused.is_some(),
        says: patch.refused.map_or(what.to_owned(), |refused| format!("{what}: {}", refused.words())),
    }
}

/// What is to be said of a strip.
fn says(strip: &StripSeen, before: Option<&Ink>, ink: Option<&Ink>, kind: Kind) -> String {
    if strip.empty {
        return "No strip lies here.".into();
    }
    let mut says = Vec::new();
    if let Some(other) = strip.kind.filter(|other| *other != kind) {
        says.push(format!("Over the dark line it behaves like {other}, and the drawer says {kind}."));
    }
    match (before, ink) {
        (_, None) => {
            says.push("Nothing is taken of it: it takes the full swatch and one lighter patch.".to_owned())
        }
        (Some(before), Some(ink)) => {
            let apart = before.lab().difference(ink.lab());
            says.push(match apart {
                apart if apart < 2.0 => "As the drawer has it.".to_owned(),
                apart if apart < 6.0 => "A little other than in the drawer.".to_owned(),
                _ => "Quite other than in the drawer.".to_owned(),
            });
        }
        (None, Some(_)) => says.push("New.".to_owned()),
    }
    let refused = strip.patches.iter().filter_map(|patch| Some((patch.part, patch.refused?)));
    says.extend(refused.map(|(part, refused)| format!("{}: {}.", capital(part.words()), refused.words())));
    says.join(" ")
}

fn capital(words: &str) -> String {
    let mut letters = words.chars();
    letters.next().map_or(String::new(), |first| first.to_uppercase().chain(letters).collect())
}

/// What is taken of a photo.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Take {
    inks: Vec<Ink>,
    /// What the photo says of the phone.
    phone: Option<Phone>,
}

/// The name of an ink that stands there twice: one of the two would be lost.
fn called_twice(inks: &[Ink]) -> Option<&Name> {
    let is_again = |n: &usize| inks[..*n].iter().any(|other| other.is_called_as(&inks[*n]));
    (0..inks.len()).find(is_again).map(|n| &inks[n].name)
}

/// `POST /api/swatches`: takes inks into the drawer, all in one change; and what the photo says of the phone, for photos to come.
pub async fn take(
    caller: Caller,
    store: web::Data<Store>,
    Read(take): Read<Take>,
) -> Result<HttpResponse, ApiProblem> {
    let bench = caller.visitor.bench.id;
    for ink in &take.inks {
        ink.check().map_err(|error| Problem::Refused(format!("{}: {error}.", ink.name)))?;
    }
    if let Some(twice) = called_twice(&take.inks) {
        let says =
            format!("Two of them are called {twice}: give one of them another name. Nothing was taken.");
        return Err(Problem::Refused(says).into());
    }
    let brought = brought(&store.all::<Ink>(bench).await?, take.inks);
    let names: Vec<String> = brought.changed.iter().map(|(kept, _)| kept.value.name.to_string()).collect();
    let (added, mut changes) = (brought.new.len(), changes(&brought, true)?);
    let taken = changes.len();
    if let Some(phone) = take.phone {
        phone.check().map_err(|error| Problem::Refused(format!("What is known of the phone: {error}.")))?;
        changes.push(match store.only::<Phone>(bench).await? {
            (Some(id), known) => Change::replace(id, &known, &phone)?,
            (None, _) => Change::add(Uuid::now_v7(), &phone)?,
        });
    }
    if !changes.is_empty() {
        let label = match taken {
            0 => "learn what the phone does".to_owned(),
            1 => "read 1 ink from a photo".to_owned(),
            taken => format!("read {taken} inks from a photo"),
        };
        store.change(bench, Scope::Drawer, &label, changes).await?;
    }
    Ok(HttpResponse::Created().json(json!({ "added": added, "changed": names })))
}
