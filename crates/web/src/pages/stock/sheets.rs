//! Sheets and offcuts: added, counted, removed.

use actix_web::{HttpResponse, web};
use rosy_core::cut::Sheet;
use rosy_store::Store;
use uuid::Uuid;

use super::form::{Read, Written};
use super::page::{Desk, again};
use super::things::{add, remove};
use crate::error::PageProblem;
use crate::pages::see;
use crate::stock::count_off;
use crate::visitor::{Nothing, Sent};
use crate::workroom::Workroom;

/// `POST /stock/sheets`.
pub async fn add_sheet(
    sent: Sent<Written>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, written) = (sent.visitor, Written { form: "sheet".into(), ..sent.form });
    let mut read = Read::of(&written, visitor.units());
    let (name, (width, height), count) = (read.name(), read.sides(), read.count(1));
    let (grain, paper) = (read.grain(), read.paper());
    let (Some(name), Some(width), Some(height), Some(count)) = (name, width, height, count) else {
        let wrong = read.wrong;
        return again(&Desk { visitor: &visitor, store: &store, room: &room }, written, wrong).await;
    };
    let offcut = written.offcut == "on";
    let sheet = Sheet { name, width, height, grain, count: Some(count), paper, offcut };
    add(&visitor, &store, &sheet).await?;
    Ok(see("/stock"))
}

/// `POST /stock/sheets/{id}`: how many there are now.
pub async fn count_sheet(
    sent: Sent<Written>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, written) = (sent.visitor, Written { form: id.to_string(), ..sent.form });
    let mut read = Read::of(&written, visitor.units());
    let Some(count) = read.count(0) else {
        let wrong = read.wrong;
        return again(&Desk { visitor: &visitor, store: &store, room: &room }, written, wrong).await;
    };
    count_off(&store, visitor.bench.id, *id, count).await?;
    Ok(see("/stock"))
}

/// `POST /stock/sheets/{id}/remove`.
pub async fn remove_sheet(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    remove::<Sheet>(&sent, &store, *id).await?;
    Ok(see("/stock"))
}
