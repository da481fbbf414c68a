//! Sizes of card beside the usual ones.

use actix_web::{HttpResponse, web};
use rosy_core::card::{Fold, Format};
use rosy_store::Store;
use uuid::Uuid;

use super::form::{Read, Written};
use super::page::{Desk, again};
use super::things::{add, remove};
use crate::error::{PageProblem, sentence};
use crate::pages::see;
use crate::visitor::{Nothing, Sent};
use crate::workroom::Workroom;

/// `POST /stock/formats`.
pub async fn add_format(
    sent: Sent<Written>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, written) = (sent.visitor, Written { form: "format".into(), ..sent.form });
    let mut read = Read::of(&written, visitor.units());
    let (name, (width, height)) = (read.name(), read.sides());
    let fold: Option<Fold> = serde_json::from_value(serde_json::Value::String(written.fold.clone())).ok();
    let made = match (name, width, height) {
        (Some(name), Some(width), Some(height)) => {
            let relief = rosy_core::card::format::RELIEF;
            let format = Format { name, width, height, fold: fold.unwrap_or_default(), relief };
            use rosy_core::card::format::FormatError;
            let field = |error: &FormatError| match error {
                FormatError::Side { side, .. } => side,
                FormatError::Relief(_) => "name",
            };
            format
                .check()
                .map_err(|error| read.wrong.push((field(&error), sentence(&error.to_string()))))
                .ok()
                .map(|()| format)
        }
        _ => None,
    };
    let Some(format) = made else {
        let wrong = read.wrong;
        return again(&Desk { visitor: &visitor, store: &store, room: &room }, written, wrong).await;
    };
    add(&visitor, &store, &format).await?;
    Ok(see("/stock#sizes"))
}

/// `POST /stock/formats/{id}/remove`.
pub async fn remove_format(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    remove::<Format>(&sent, &store, *id).await?;
    Ok(see("/stock#sizes"))
}
