//! At the bench: one step at a time, readable from a metre.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::evening::{Fault, Sitting};
use rosy_store::Store;
use uuid::Uuid;

use super::{Frame, page};
use crate::error::PageProblem;
use crate::say::word;
use crate::visitor::Visitor;

#[derive(Template)]
#[template(path = "doing.html")]
struct DoingPage {
    frame: Frame,
    id: String,
    name: String,
    faults: Vec<(String, &'static str)>,
}

/// `GET /evenings/{id}/bench`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let sitting = store.one::<Sitting>(visitor.bench.id, *id).await?.value;
    page(&DoingPage {
        frame: Frame::of(&visitor),
        id: id.to_string(),
        name: sitting.name.to_string(),
        faults: Fault::ALL.map(|fault| (word(fault), fault.words())).into(),
    })
}
