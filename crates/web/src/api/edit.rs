//! `PUT /api/panels/{id}/edit`: one change to a panel, made and kept before anything of it is drawn.

use actix_web::{HttpResponse, web};
use rosy_core::document::Document;
use rosy_core::edit::{AnyEdit, Edit, Edited, Has, Refused, edited};
use rosy_core::ink::Ink;
use rosy_core::panel::PanelError;
use rosy_core::shape::kept::Shape;
use rosy_core::{Panel, Units};
use rosy_store::{Kept, Save, Store};
use serde::Deserialize;
use serde_json::json;
use uuid::Uuid;

use super::panels::{keep, saving};
use crate::error::{ApiProblem, Problem, sentence};
use crate::plans::{laid, planned};
use crate::state::State;
use crate::visitor::{Caller, Read};
use crate::workroom::Workroom;

/// A change to be made and kept.
#[derive(Deserialize)]
pub struct EditSent {
    /// The revision of the panel it was made on.
    revision: i64,
    /// That panel, where the program has asked for it: what another tab changed since is then merged, where it can be.
    #[serde(default)]
    base: Option<Document>,
    /// Its own mark: sent again, it is not made again.
    mark: Uuid,
    /// It.
    edit: AnyEdit,
}

/// What of the maker's a change may take.
pub struct AtHand {
    pub drawer: Vec<Ink>,
    pub shape: Option<Shape>,
}

impl AtHand {
    /// For one change.
    ///
    /// # Errors
    /// Where she has no such shape, or the database does not answer.
    pub async fn of(store: &Store, bench: Uuid, edit: Option<&dyn Edit>) -> Result<AtHand, Problem> {
        let shape = match edit.and_then(Edit::brings) {
            Some(id) => {
                let id = id.parse().map_err(|_| Problem::Missing("shape"))?;
                Some(store.one::<Shape>(bench, id).await?.value)
            }
            None => None,
        };
        let inks =
            if edit.is_some_and(Edit::takes_ink) { store.all::<Ink>(bench).await? } else { Vec::new() };
        Ok(AtHand { drawer: inks.into_iter().map(|kept| kept.value).collect(), shape })
    }

    pub fn has(&self, units: Units) -> Has<'_> {
        Has { drawer: &self.drawer, shape: self.shape.as_ref(), units }
    }
}

/// Makes it and keeps it.
pub async fn make(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
    Read(sent): Read<EditSent>,
) -> Result<HttpResponse, ApiProblem> {
    let (bench, units) = (caller.visitor.bench.id, caller.visitor.units());
    let EditSent { revision, base, mark, edit } = sent;
    let Kept { value: present, revision: stands, .. } = store.one::<Panel>(bench, *id).await?;
    // What has been made has changed the panel since.
    if stands != revision && store.is_made(bench, mark).await? {
        return Ok(HttpResponse::Ok().json(State::from(store.panel(bench, *id).await?)));
    }
    let base = match base {
        _ if stands == revision => Document::from(present),
        Some(base) => base,
        None => {
            let says =
                "Another tab had changed this panel: send the panel as it was read along with the change.";
            return Ok(HttpResponse::Conflict().json(json!({ "detail": says, "wants": "base" })));
        }
    };
    let saving = saving(&caller, &store, &room, *id);
    let at_hand = AtHand::of(&store, bench, Some(edit.of_its_kind())).await?;
    let made = room.done(saving.asker, move || {
        let nowhere = |error: PanelError| Refused { field: String::new(), says: error.to_string() };
        let base = planned(base).map_err(nowhere)?;
        let edited = edited(Panel::clone(&base), edit.of_its_kind(), &at_hand.has(units))?;
        // It is looked at next.
        laid(edited.panel.clone());
        Ok((base, edited))
    });
    match made.await? {
        Ok((base, Edited { panel, blend, says, label })) => {
            let save = Save { revision, base: Some(&base), panel: &panel, label: &label, mark: Some(mark) };
            keep(&saving, save, |state| State { blend, ..state.and(says.clone()) }).await
        }
        Err(Refused { field, says }) => {
            Ok(HttpResponse::UnprocessableEntity().json(json!({ "detail": sentence(&says), "field": field })))
        }
    }
}
