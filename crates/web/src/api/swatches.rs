//! A photo of swatches into the drawer: first what it says of each ink, with a place for every patch; then what is taken of it.

use actix_web::{HttpResponse, web};
use rosy_core::Panel;
use rosy_core::colour::cgats;
use rosy_core::ink::samples::colours_of;
use rosy_core::ink::{Ink, Name, Paper};
use rosy_eye::ask::swatch::columns_of;
use rosy_eye::ask::{SwatchAnswer, SwatchAsked};
use rosy_eye::phone::Phone;
use rosy_eye::swatch::{PatchSeen, StripSeen};
use rosy_store::{Change, Kept, Scope, Store};
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use serde_json::json;
use uuid::Uuid;

use super::inks::{brought, changes};
use crate::apart::Errand;
use crate::error::{ApiProblem, Problem, sentence};
use crate::files::decoded;
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
    /// What was shown by hand, where the swatches lie on no frame; patches of one ink over another; a chart beside them: as JSON.
    shown: Option<String>,
    over: Option<String>,
    chart: Option<String>,
    /// Whether another phone took it than the one that is known.
    #[serde(default)]
    other_phone: bool,
}

/// Something told as JSON beside the photo.
fn told<T: DeserializeOwned>(text: Option<&str>, what: &str) -> Result<Option<T>, Problem> {
    let read = |text| serde_json::from_str(text);
    text.map(read).transpose().map_err(|error| Problem::Refused(format!("{what} cannot be read: {error}.")))
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
    beside: web::Query<Told>,
    Sending(photo): Sending,
) -> Result<HttpResponse, ApiProblem> {
    let (bench, asker) = (caller.visitor.bench.id, caller.visitor.asker());
    let drawer = store.all::<Ink>(bench).await?;
    let card = match beside.card {
        Some(card) => Some(store.one::<Paper>(bench, card).await?.value.colour),
        None => None,
    };
    let known = store.only::<Phone>(bench).await?;
    let phone = known.0.filter(|_| !beside.other_phone).map(|_| known.1);
    let asked = SwatchAsked {
        card,
        corners: corners_of(beside.corners.as_deref(), "frame")?,
        drawer: drawer.iter().map(|kept| kept.value.clone()).collect(),
        inks: told(beside.inks.as_deref(), "What the inks are at their places")?.unwrap_or_default(),
        shown: told(beside.shown.as_deref(), "What was marked on the photo")?,
        over: told(beside.over.as_deref(), "What lies over one another")?.unwrap_or_default(),
        chart: told(beside.chart.as_deref(), "The chart")?,
        phone,
        ..SwatchAsked::default()
    };
    let seen = room.apart(asker, Errand::Swatches(Box::new(asked)), photo).await?;
    let seen: SwatchAnswer = serde_json::from_slice(&seen).map_err(|_| Problem::Broken)?;
    let panels = store.all::<Panel>(bench).await?;
    let shown = room.done(asker, move || shown(&seen, &drawer, &panels)).await?;
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

fn shown(answer: &SwatchAnswer, drawer: &[Kept<Ink>], panels: &[Kept<Panel>]) -> serde_json::Value {
    let seen = &answer.seen;
    let rows: Vec<Row> = seen.strips.iter().map(|strip| row(strip, drawer, panels)).collect();
    let over: Vec<serde_json::Value> = answer
        .over
        .iter()
        .map(|one| json!({ "mark": mark(&one.patch, &format!("{} over {}", one.ink, one.over)), "says": one.says }))
        .collect();
    json!({
        "corners": seen.corners, "rows": rows, "over": over, "phone": seen.phone,
        "says": answer.says, "better": answer.better,
    })
}

fn row(strip: &StripSeen, drawer: &[Kept<Ink>], panels: &[Kept<Panel>]) -> Row {
    let name = strip.name.clone();
    let called = |kept: &&Kept<Ink>| {
        name.as_deref().is_some_and(|name| kept.value.name.as_str().eq_ignore_ascii_case(name))
    };
    let kept = drawer.iter().find(called);
    let before = kept.map(|kept| &kept.value);
    let ink = strip.as_ink(before);
    Row {
        place: strip.place,
        known: before.is_some(),
        marks: strip.patches.iter().map(|patch| mark(patch, patch.part.words())).collect(),
        says: strip.says.clone(),
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

fn mark(patch: &PatchSeen, what: &str) -> Mark {
    let [a, b, c, d] = patch.corners.map(|[x, y]| format!("{x:.1},{y:.1}"));
    Mark {
        points: format!("{a} {b} {d} {c}"),
        refused: patch.refused.is_some(),
        says: patch.refused.map_or(what.to_owned(), |refused| format!("{what}: {}", refused.words())),
    }
}

/// `POST /api/swatches/chart`: the colours of a chart, from its file of measurements. Nothing is kept.
pub async fn chart(
    caller: Caller,
    room: web::Data<Workroom>,
    Sending(file): Sending,
) -> Result<HttpResponse, ApiProblem> {
    let chart = room.done(caller.visitor.asker(), move || chart_of(&file)).await?;
    Ok(HttpResponse::Ok().json(chart.map_err(Problem::Refused)?))
}

fn chart_of(file: &[u8]) -> Result<serde_json::Value, String> {
    let (text, _) = decoded(file);
    let file = cgats::read(&text).map_err(|error| format!("The chart's file cannot be read: {error}."))?;
    if let Some(wrong) = file.wrong.first() {
        return Err(format!("The chart's file cannot be read whole. {}", sentence(wrong)));
    }
    let names: Vec<&str> = file.samples.iter().map(|sample| sample.name.as_str()).collect();
    let columns = columns_of(&names).ok_or_else(|| {
        format!("The chart's file has {} colours: a chart has at least four, in whole rows.", names.len())
    })?;
    Ok(json!({ "colours": colours_of(&file), "columns": columns }))
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
