//! One ink of the drawer: its name, kind and swatches.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::ink::{Ink, Kind};
use rosy_store::{Change, Kept, Scope, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, page, refused, see};
use crate::error::PageProblem;
use crate::files::{colour_text, ink_from};
use crate::say::veil_strip;
use crate::visitor::{Nothing, Sent, Visitor};

#[derive(Template)]
#[template(path = "ink.html")]
struct InkPage {
    frame: Frame,
    id: Option<String>,
    form: InkForm,
    kinds: [Kind; 3],
    strip: Option<String>,
    /// What is wrong, and with which field.
    wrong: Option<(String, String)>,
}

/// The fields of the page as texts.
#[derive(Clone, Default, Deserialize)]
pub struct InkForm {
    name: String,
    kind: String,
    colour: String,
    one_veil: String,
    full_veils: String,
}

impl InkForm {
    fn of(ink: &Ink) -> InkForm {
        InkForm {
            name: ink.name.to_string(),
            kind: ink.kind.to_string(),
            colour: colour_text(ink.colour),
            one_veil: ink.one_veil.map(colour_text).unwrap_or_default(),
            full_veils: ink.full_veils.to_string(),
        }
    }

    fn text(&self, field: &str) -> &str {
        match field {
            "name" => &self.name,
            "kind" => &self.kind,
            "colour" => &self.colour,
            "one_veil" => &self.one_veil,
            "full_veils" => &self.full_veils,
            _ => "",
        }
    }

    fn read(&self) -> Result<Ink, (String, String)> {
        ink_from(|field| self.text(field).trim()).map_err(|says| {
            const FIELDS: [&str; 5] = ["name", "kind", "colour", "one_veil", "full_veils"];
            match says.split_once(": ").filter(|(field, _)| FIELDS.contains(field)) {
                Some((field, says)) => (field.to_owned(), says.to_owned()),
                None if says.contains("light passes") => ("full_veils".into(), says),
                None if says.contains("one light pass") => ("one_veil".into(), says),
                None => ("colour".into(), says),
            }
        })
    }
}

impl InkPage {
    fn wrong_with(&self, field: &str) -> Option<&str> {
        self.wrong.as_ref().filter(|(known, _)| known == field).map(|(_, says)| says.as_str())
    }

    fn of(visitor: &Visitor, id: Option<Uuid>, form: InkForm, wrong: Option<(String, String)>) -> InkPage {
        let strip = form.read().ok().map(|ink| veil_strip(&ink, "strip"));
        InkPage {
            frame: Frame::of(visitor),
            id: id.map(|id| id.to_string()),
            form,
            kinds: Kind::ALL,
            strip,
            wrong,
        }
    }
}

/// `GET /drawer/inks/new`.
pub async fn blank(visitor: Visitor) -> Result<HttpResponse, PageProblem> {
    let form = InkForm { kind: "dye".into(), full_veils: "7".into(), ..InkForm::default() };
    page(&InkPage::of(&visitor, None, form, None))
}

/// `GET /drawer/inks/{id}`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let kept = store.one::<Ink>(visitor.bench.id, *id).await?;
    page(&InkPage::of(&visitor, Some(*id), InkForm::of(&kept.value), None))
}

/// `POST /drawer/inks`.
pub async fn add(sent: Sent<InkForm>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let (visitor, form) = (sent.visitor, sent.form);
    match form.read() {
        Ok(ink) => {
            let change = vec![Change::add(Uuid::now_v7(), &ink)?];
            store.change(visitor.bench.id, Scope::Drawer, &format!("add {}", ink.name), change).await?;
            Ok(see("/drawer"))
        }
        Err(wrong) => refused(&InkPage::of(&visitor, None, form, Some(wrong))),
    }
}

/// `POST /drawer/inks/{id}`.
pub async fn save(
    sent: Sent<InkForm>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, form) = (sent.visitor, sent.form);
    match form.read() {
        Ok(ink) => {
            let bench = visitor.bench.id;
            let Kept { value: before, .. } = store.one::<Ink>(bench, *id).await?;
            if before != ink {
                let change = vec![Change::replace(*id, &before, &ink)?];
                store.change(bench, Scope::Drawer, &format!("change {}", before.name), change).await?;
            }
            Ok(see("/drawer"))
        }
        Err(wrong) => refused(&InkPage::of(&visitor, Some(*id), form, Some(wrong))),
    }
}

/// `POST /drawer/inks/{id}/remove`.
pub async fn remove(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let Kept { value: ink, .. } = store.one::<Ink>(bench, *id).await?;
    let change = vec![Change::remove(*id, &ink)?];
    store.change(bench, Scope::Drawer, &format!("remove {}", ink.name), change).await?;
    Ok(see("/drawer"))
}
