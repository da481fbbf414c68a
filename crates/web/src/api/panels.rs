//! Panels kept, changed, undone, read from files and written to them.

use actix_web::http::header::CONTENT_DISPOSITION;
use actix_web::{HttpResponse, web};
use rosy_core::Panel;
use rosy_core::blend::Direction;
use rosy_core::ink::Ink;
use rosy_store::{Kept, Saved, Scope, Store};
use serde::{Deserialize, Serialize};
use serde_json::json;
use uuid::Uuid;

use super::picture::attachment;
use crate::error::{ApiProblem, Problem};
use crate::files;
use crate::visitor::{Caller, Document};

/// A panel as kept, and what undo and redo would do.
#[derive(Serialize)]
pub struct State {
    panel: Panel,
    revision: i64,
    undo: Option<String>,
    redo: Option<String>,
}

/// A panel's state.
pub async fn state(store: &Store, bench: Uuid, id: Uuid) -> Result<State, Problem> {
    let Kept { value: panel, revision, .. } = store.one::<Panel>(bench, id).await?;
    let (undo, redo) = store.undoable(bench, Scope::Panel(id)).await?;
    Ok(State { panel, revision, undo, redo })
}

/// `GET /api/panels/{id}`.
pub async fn get(
    caller: Caller,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, ApiProblem> {
    Ok(HttpResponse::Ok().json(state(&store, caller.visitor.bench.id, *id).await?))
}

/// A panel to be saved.
#[derive(Deserialize)]
pub struct Save {
    /// The revision it was read at.
    revision: i64,
    /// What was done to it, for undo.
    label: String,
    /// It.
    panel: Panel,
}

/// `PUT /api/panels/{id}`: keeps a panel. Where another tab was first, both are kept.
pub async fn save(
    caller: Caller,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
    Document(sent): Document<Save>,
) -> Result<HttpResponse, ApiProblem> {
    keep(&store, caller.visitor.bench.id, *id, sent.revision, &sent.label, sent.panel.laid()).await
}

async fn keep(
    store: &Store,
    bench: Uuid,
    id: Uuid,
    revision: i64,
    label: &str,
    panel: Panel,
) -> Result<HttpResponse, ApiProblem> {
    panel.check().map_err(|error| Problem::Refused(error.to_string()))?;
    let label: String = label.chars().filter(|c| !c.is_control()).take(120).collect();
    match store.save_panel(bench, id, revision, &panel, &label).await? {
        Saved::Kept(_) => Ok(HttpResponse::Ok().json(state(store, bench, id).await?)),
        Saved::Beside { id, name } => Ok(HttpResponse::Conflict().json(json!({
            "detail": format!("Another tab had changed this panel. Both are kept: this one is now “{name}”."),
            "beside": id,
            "name": name,
        }))),
    }
}

/// The inks chosen for a panel, by their numbers in the drawer or their places on the panel.
#[derive(Deserialize)]
pub struct Chosen {
    revision: i64,
    label: String,
    inks: Vec<Choice>,
    /// Which way the bands are to run from now on; as they do where it is left out.
    direction: Option<Direction>,
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

/// `PUT /api/panels/{id}/inks`: other inks or another direction, the inks spread evenly along the blend.
pub async fn choose_inks(
    caller: Caller,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
    Document(chosen): Document<Chosen>,
) -> Result<HttpResponse, ApiProblem> {
    let bench = caller.visitor.bench.id;
    let mut panel = store.one::<Panel>(bench, *id).await?.value;
    let most = *rosy_core::blend::field::INKS.end();
    if chosen.inks.len() > most {
        return Err(Problem::Refused(format!(
            "A blend takes two to {most} inks: put one back before taking another."
        ))
        .into());
    }
    let mut inks = Vec::new();
    for choice in &chosen.inks {
        inks.push(match choice {
            Choice::Place(place) => panel.inks.get(*place).cloned().ok_or(Problem::Missing("ink"))?,
            Choice::Drawer(ink) => store.one::<Ink>(bench, *ink).await?.value,
        });
    }
    panel.blend.direction = chosen.direction.unwrap_or(panel.blend.direction);
    let panel = panel.with_inks(inks, caller.visitor.units());
    keep(&store, bench, *id, chosen.revision, &chosen.label, panel).await
}

/// `POST /api/panels/{id}/undo`: takes back the last change.
pub async fn undo(
    caller: Caller,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, ApiProblem> {
    let bench = caller.visitor.bench.id;
    store.undo(bench, Scope::Panel(*id)).await?;
    Ok(HttpResponse::Ok().json(state(&store, bench, *id).await?))
}

/// `DELETE /api/panels/{id}/undo`: does it again.
pub async fn redo(
    caller: Caller,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, ApiProblem> {
    let bench = caller.visitor.bench.id;
    store.redo(bench, Scope::Panel(*id)).await?;
    Ok(HttpResponse::Ok().json(state(&store, bench, *id).await?))
}

/// `POST /api/panels`: a panel from its JSON file.
pub async fn read(caller: Caller, store: web::Data<Store>, text: String) -> Result<HttpResponse, ApiProblem> {
    let panel = files::read_panel(&text).map_err(Problem::Refused)?;
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
        .insert_header((CONTENT_DISPOSITION, attachment(panel.name.as_str(), "json")))
        .body(files::write_panel(&panel)))
}
