//! Inks from a CSV or JSON file into the drawer: first what the file would bring, then what is taken of it. And an ink's
//! strip while its colour is being found.

use actix_web::web::Bytes;
use actix_web::{HttpResponse, web};
use rosy_core::ink::{Ink, Paper};
use rosy_store::{Change, Kept, Scope, Store, StoreError};
use serde::Deserialize;
use serde_json::json;
use uuid::Uuid;

use crate::apart::Errand;
use crate::error::{ApiProblem, Problem, sentence};
use crate::files::InkFile;
use crate::meets::with_others;
use crate::pages::ink::InkForm;
use crate::say::veil_strip;
use crate::visitor::{Caller, Read, Sending};
use crate::workroom::Workroom;

/// What a file's inks are beside those in the drawer.
pub(super) struct Brought {
    pub(super) new: Vec<Ink>,
    /// Those there under the same name and kind, and what they are to become.
    pub(super) changed: Vec<(Kept<Ink>, Ink)>,
    same: usize,
}

/// What of them is new, what changed, what is there already.
pub(super) fn brought(drawer: &[Kept<Ink>], inks: Vec<Ink>) -> Brought {
    let mut brought = Brought { new: Vec::new(), changed: Vec::new(), same: 0 };
    for ink in inks {
        let known = drawer.iter().find(|kept| kept.value.is_called_as(&ink));
        // Measurements and older files say nothing of how it lies on other ink: that stays as it is known.
        let on_ink = ink.on_ink.or(known.and_then(|kept| kept.value.on_ink));
        let ink = Ink { on_ink, ..ink };
        match known {
            Some(kept) if kept.value == ink => brought.same += 1,
            // Twice in one file: the last counts.
            Some(kept) => {
                brought.changed.retain(|(other, _)| other.id != kept.id);
                brought.changed.push((kept.clone(), ink));
            }
            None => match brought.new.iter_mut().find(|new| new.is_called_as(&ink)) {
                Some(new) => *new = ink,
                None => brought.new.push(ink),
            },
        }
    }
    brought
}

/// What becomes of the drawer where they are taken, those that changed too or the new ones alone.
pub(super) fn changes(brought: &Brought, with_changed: bool) -> Result<Vec<Change>, StoreError> {
    let added = brought.new.iter().map(|ink| Change::add(Uuid::now_v7(), ink));
    let taken = brought.changed.iter().filter(|_| with_changed);
    added.chain(taken.map(|(kept, ink)| Change::replace(kept.id, &kept.value, ink))).collect()
}

async fn from_file(
    caller: &Caller,
    store: &Store,
    room: &Workroom,
    bytes: Bytes,
) -> Result<(InkFile, Brought), ApiProblem> {
    let read = room.apart(caller.visitor.asker(), Errand::Inks, bytes).await?;
    let mut file: InkFile = serde_json::from_slice(&read).map_err(|_| Problem::Broken)?;
    let drawer = store.all::<Ink>(caller.visitor.bench.id).await?;
    let brought = brought(&drawer, std::mem::take(&mut file.inks));
    Ok((file, brought))
}

/// `POST /api/inks/look`: what a file would bring. Nothing is kept.
pub async fn look(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    Sending(bytes): Sending,
) -> Result<HttpResponse, ApiProblem> {
    let (file, brought) = from_file(&caller, &store, &room, bytes).await?;
    let new: Vec<&str> = brought.new.iter().map(|ink| ink.name.as_str()).collect();
    let changed: Vec<&str> = brought.changed.iter().map(|(_, ink)| ink.name.as_str()).collect();
    Ok(HttpResponse::Ok().json(json!({
        "new": new, "changed": changed, "same": brought.same, "wrong": file.wrong, "notes": file.notes,
    })))
}

/// Which of a file's inks are taken.
#[derive(Deserialize)]
pub struct Take {
    /// Whether those that are in the drawer become as the file has them; the new ones alone where not.
    #[serde(default = "yes")]
    changed: bool,
    /// Whether the good rows are taken where others cannot be read.
    #[serde(default)]
    good: bool,
}

fn yes() -> bool {
    true
}

/// `POST /api/inks`: takes a file's inks, the same ink found again by its name and kind.
pub async fn take(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    wanted: web::Query<Take>,
    Sending(bytes): Sending,
) -> Result<HttpResponse, ApiProblem> {
    let (file, brought) = from_file(&caller, &store, &room, bytes).await?;
    if !wanted.good && !file.wrong.is_empty() {
        return Err(Problem::Refused(file.wrong.join(" ")).into());
    }
    let changes = changes(&brought, wanted.changed)?;
    let (added, all) = (brought.new.len(), changes.len());
    if all > 0 {
        let label = format!("read {all} {} from a file", if all == 1 { "ink" } else { "inks" });
        store.change(caller.visitor.bench.id, Scope::Drawer, &label, changes).await?;
    }
    Ok(HttpResponse::Created().json(json!({ "added": added, "changed": all - added, "same": brought.same })))
}

/// `POST /api/inks/strip`: how an ink as it stands in its form would look, and what it makes with some of the drawer.
pub async fn strip(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    Read(form): Read<InkForm>,
) -> Result<HttpResponse, ApiProblem> {
    let ink = match form.read() {
        Ok(ink) => ink,
        Err((field, says)) => {
            return Ok(HttpResponse::Ok().json(json!({ "field": field, "wrong": sentence(&says) })));
        }
    };
    let bench = caller.visitor.bench.id;
    let drawer = store.all::<Ink>(bench).await?;
    // Whatever kind it is: a lid with that name is there.
    let name = ink.name.as_str().to_lowercase();
    let named =
        drawer.iter().find(|kept| kept.value.name.as_str().to_lowercase() == name).map(|kept| kept.id);
    let paper = store.all::<Paper>(bench).await?.into_iter().next_back().map(|kept| kept.value);
    let shown = room.done(caller.visitor.asker(), move || {
        let others: Vec<Ink> = drawer.into_iter().map(|kept| kept.value).collect();
        json!({
            "strip": veil_strip(&ink, "strip"),
            "screen": ink.lab().on_screen(Default::default()).0.to_string(),
            "family": ink.family().words(),
            "meets": with_others(&ink, &others, paper.as_ref()),
            "named": named,
        })
    });
    Ok(HttpResponse::Ok().json(shown.await?))
}
