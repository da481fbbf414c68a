//! Panels kept, changed, undone, read from files and written to them.

use actix_web::{HttpResponse, web};
use rosy_core::Panel;
use rosy_core::blend::field::MOST_INKS;
use rosy_core::document::Document;
use rosy_core::ink::Ink;
use rosy_core::order::what_changes;
use rosy_store::{Save, Saved, Store};
use serde::Deserialize;
use serde_json::json;
use uuid::Uuid;

use crate::error::{ApiProblem, Problem, sentence};
use crate::files::{self, attachment};
use crate::saving::Saving;
use crate::state::State;
use crate::visitor::{Caller, Read, Sending};
use crate::workroom::Workroom;

/// `GET /api/panels/{id}`.
pub async fn get(
    caller: Caller,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, ApiProblem> {
    Ok(HttpResponse::Ok().json(State::from(store.panel(caller.visitor.bench.id, *id).await?)))
}

/// A panel to be saved.
#[derive(Deserialize)]
pub struct SaveAsked {
    /// The revision it was read at.
    revision: i64,
    /// The panel as it was read: what other tabs have changed since is then merged, where it can be.
    #[serde(default)]
    base: Option<Document>,
    /// The change's own mark: sent again, it is not done again.
    #[serde(default)]
    mark: Option<Uuid>,
    /// What was done to it, for undo.
    label: String,
    /// It.
    panel: Document,
}

/// `PUT /api/panels/{id}`: keeps a panel. Where another tab was first, changes to different things are merged; where both
/// changed the same thing, both are kept.
pub async fn save(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
    Read(sent): Read<SaveAsked>,
) -> Result<HttpResponse, ApiProblem> {
    let SaveAsked { revision, base, mark, label, panel } = sent;
    let saving = saving(&caller, &store, &room, *id);
    let base = match base {
        Some(base) => match saving.planned(base).await {
            Ok(base) => Some(base),
            // What cannot be laid says nothing of what was changed.
            Err(Problem::Refused(_)) => None,
            Err(problem) => return Err(problem.into()),
        },
        None => None,
    };
    let panel = saving.planned(panel).await?;
    keep(
        &saving,
        Save { revision, base: base.as_ref().map(|base| &***base), panel: &panel, label: &label, mark },
        |state| state,
    )
    .await
}

/// Where a caller's panel is saved.
pub fn saving<'a>(caller: &'a Caller, store: &'a Store, room: &'a Workroom, id: Uuid) -> Saving<'a> {
    Saving { store, room, asker: caller.visitor.asker(), bench: caller.visitor.bench.id, id }
}

/// Keeps a panel, and answers with what is kept then, and `told` of it.
pub async fn keep(
    saving: &Saving<'_>,
    save: Save<'_>,
    told: impl Fn(State) -> State,
) -> Result<HttpResponse, ApiProblem> {
    let label: String = save.label.chars().filter(|c| !c.is_control()).take(120).collect();
    let before = save.base.cloned();
    match saving.keep(Save { label: &label, ..save }).await? {
        Saved::Kept(state) => {
            let after = state.panel.clone();
            // It is kept, whether there is anything to say of it or not.
            let said = saving.room.done(saving.asker, move || what_changes(&before?, &after)).await.ok().flatten();
            Ok(HttpResponse::Ok().json(told(State { said, ..State::from(state) })))
        }
        Saved::Merged(state) => {
            let said = Some("Another tab had changed other things on this panel: both changes are in it now.".into());
            Ok(HttpResponse::Ok().json(told(State { said, ..State::from(state) })))
        }
        Saved::Beside { id, name, state } => Ok(HttpResponse::Conflict().json(json!({
            "detail": format!("Another tab had changed the same thing on this panel. Both are kept: this one is now “{name}”."),
            "beside": id,
            "name": name,
            "state": State::from(state),
        }))),
    }
}

/// The inks chosen for a panel, by their numbers in the drawer or their places on the panel.
#[derive(Deserialize)]
pub struct Chosen {
    revision: i64,
    /// The panel as it was read, whose places the choice goes by.
    #[serde(default)]
    base: Option<Document>,
    #[serde(default)]
    mark: Option<Uuid>,
    label: String,
    inks: Vec<Choice>,
    /// The blend they are chosen for, by its place on the ground.
    #[serde(default)]
    blend: usize,
}

/// One ink chosen.
#[derive(Deserialize)]
#[serde(untagged)]
pub enum Choice {
    /// It stands on the panel already, in this place.
    Place(usize),
    /// It comes from the drawer.
    Drawer(Uuid),
}

/// `PUT /api/panels/{id}/inks`: other inks for one of its blends; what was set by hand is carried over.
pub async fn choose_inks(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
    Read(chosen): Read<Chosen>,
) -> Result<HttpResponse, ApiProblem> {
    let (bench, units) = (caller.visitor.bench.id, caller.visitor.units());
    let present = store.panel(bench, *id).await?;
    if let Some(mark) = chosen.mark
        && store.is_made(bench, mark).await?
    {
        return Ok(HttpResponse::Ok().json(State::from(present)));
    }
    let saving = saving(&caller, &store, &room, *id);
    let base = match chosen.base {
        Some(base) => Panel::clone(&*saving.planned(base).await?),
        None if present.revision == chosen.revision => present.panel,
        None => {
            let says = "Another tab had changed this panel: reload this page and choose again.";
            return Err(Problem::Conflict(says.into()).into());
        }
    };
    if chosen.inks.len() > MOST_INKS {
        let says = "A blend takes two to five inks: put one back before taking another.";
        return Err(Problem::Refused(says.into()).into());
    }
    let mut inks = Vec::new();
    for choice in &chosen.inks {
        inks.push(match choice {
            Choice::Place(place) => {
                (base.inks.get(*place).cloned().ok_or(Problem::Missing("ink"))?, Some(*place))
            }
            Choice::Drawer(ink) => (store.one::<Ink>(bench, *ink).await?.value, None),
        });
    }
    let twice = |place: &usize| inks.iter().filter(|(_, of)| of.as_ref() == Some(place)).count() > 1;
    if let Some(place) = (0..base.inks.len()).find(|place| twice(place)) {
        let name = &base.inks[place].name;
        return Err(
            Problem::Refused(format!("{name} stands twice in the new order: name each place once.")).into()
        );
    }
    let Chosen { revision, label, mark, blend, .. } = chosen;
    let own = base.clone();
    let panel = saving.reckoned(move || {
        let chosen = own.clone().choosing(blend, inks, units).in_the_order_of(&own);
        chosen.check().map(|()| chosen)
    });
    let panel = panel.await?;
    let save = Save { revision, base: Some(&base), panel: &panel, label: &label, mark };
    keep(&saving, save, |state| state).await
}

/// `POST /api/panels/{id}/undo`: takes back the last change.
pub async fn undo(
    caller: Caller,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, ApiProblem> {
    Ok(HttpResponse::Ok().json(State::from(store.walk_panel(caller.visitor.bench.id, *id, true).await?)))
}

/// `DELETE /api/panels/{id}/undo`: does it again.
pub async fn redo(
    caller: Caller,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, ApiProblem> {
    Ok(HttpResponse::Ok().json(State::from(store.walk_panel(caller.visitor.bench.id, *id, false).await?)))
}

/// `POST /api/panels`: a panel from its JSON file.
pub async fn read(
    caller: Caller,
    store: web::Data<Store>,
    Sending(text): Sending,
) -> Result<HttpResponse, ApiProblem> {
    let panel = files::read_panel(&text).map_err(|says| Problem::Refused(sentence(&says)))?;
    let id = store.add_panel(caller.visitor.bench.id, &panel).await?;
    Ok(HttpResponse::Created().json(json!({ "id": id })))
}

/// `GET /panels/{id}/panel.json`: a panel's JSON file.
pub async fn file(
    caller: Caller,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, ApiProblem> {
    let panel = store.one::<Panel>(caller.visitor.bench.id, *id).await?.value;
    Ok(HttpResponse::Ok()
        .content_type("application/json")
        .insert_header(attachment(panel.name.as_str(), "json"))
        .body(files::write_panel(&panel)))
}
