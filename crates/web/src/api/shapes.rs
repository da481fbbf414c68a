//! A shape while it is set: how it comes out as its fields stand. Drawings that are brought, and the files a shape is cut from.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Units;
use rosy_core::cut::tiles;
use rosy_core::ink::Name;
use rosy_core::shape::kept::Shape;
use rosy_store::{Change, Scope, Store};
use serde::Deserialize;
use serde_json::json;
use uuid::Uuid;

use super::card::FileAsked;
use crate::apart::Errand;
use crate::drawing::pdf::Paper as PrintOn;
use crate::drawing::{pdf, svg};
use crate::error::{ApiProblem, Problem, sentence};
use crate::files::attachment;
use crate::pages::shapes::{ShapeForm, looked};
use crate::shapes::{Brought, Looking, SheetWanted};
use crate::visitor::{Caller, Read};
use crate::workroom::{Asker, Workroom};

/// `POST /api/shapes/look`: how a shape comes out as its fields stand. Nothing is kept.
pub async fn look(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    Read(form): Read<ShapeForm>,
) -> Result<HttpResponse, ApiProblem> {
    let (bench, units) = (caller.visitor.bench.id, caller.visitor.units());
    let form = form.with_kept(&store, bench, None).await?;
    let looked = match form.read(units) {
        Err(wrong) => json!({ "wrong": wrong }),
        Ok(shape) => {
            let looking = Looking { shape, wanted: SheetWanted::usual(units), units, mend: None };
            match looked(&room, caller.visitor.asker(), looking).await {
                Ok(looked) => {
                    json!({ "wrong": [], "shown": looked.shown.render().map_err(|_| Problem::Broken)? })
                }
                Err(Problem::Refused(says)) => json!({ "wrong": [("name", says)] }),
                Err(other) => return Err(other.into()),
            }
        }
    };
    Ok(HttpResponse::Ok().json(looked))
}

/// A drawing that is brought.
#[derive(Deserialize)]
pub struct Bringing {
    /// The file's name, by which the shape is called until it is called otherwise.
    name: String,
    svg: String,
}

/// `POST /api/shapes`: keeps a drawing as a shape.
pub async fn bring(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    Read(asked): Read<Bringing>,
) -> Result<HttpResponse, ApiProblem> {
    let Bringing { name, svg } = asked;
    let read = room.apart(caller.visitor.asker(), Errand::Drawing, svg.into()).await?;
    let Brought { figure, notes } = serde_json::from_slice(&read).map_err(|_| Problem::Broken)?;
    let name: String = name.trim_end_matches(".svg").trim().chars().take(60).collect();
    let name: Name = name.parse().or_else(|_| "Brought".parse()).map_err(|_| Problem::Broken)?;
    let shape = Shape::new(name, figure);
    let (id, label) = (Uuid::now_v7(), format!("bring {}", shape.name));
    store.change(caller.visitor.bench.id, Scope::Shapes, &label, vec![Change::add(id, &shape)?]).await?;
    Ok(HttpResponse::Created().json(json!({ "id": id, "notes": notes })))
}

/// Which sheet, and which paper to print on.
#[derive(Deserialize)]
pub struct Wanted {
    pub sheet: Option<SheetWanted>,
    #[serde(flatten)]
    pub file: FileAsked,
}

/// `GET /shapes/{id}/cut.{ending}`: its pieces laid on sheets, at true scale, as `svg` or `pdf`.
pub async fn file(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    path: web::Path<(Uuid, String)>,
    wanted: web::Query<Wanted>,
) -> Result<HttpResponse, ApiProblem> {
    let (id, ending) = path.into_inner();
    let units = caller.visitor.units();
    let shape = store.one::<Shape>(caller.visitor.bench.id, id).await?.value;
    let name = shape.name.to_string();
    let sheet = wanted.sheet.unwrap_or(SheetWanted::usual(units));
    let of = (sheet, caller.visitor.paper(wanted.file.paper)?);
    Ok(sheets(&room, caller.visitor.asker(), name, vec![shape], of, &ending, units).await?)
}

/// The pieces of some shapes laid on sheets, as a file of a kind.
pub async fn sheets(
    room: &Workroom,
    asker: &Asker,
    name: String,
    shapes: Vec<Shape>,
    (wanted, paper): (SheetWanted, PrintOn),
    ending: &str,
    units: Units,
) -> Result<HttpResponse, Problem> {
    let kind = match ending {
        "pdf" => "application/pdf",
        "svg" => "image/svg+xml",
        _ => return Err(Problem::Missing("file")),
    };
    let file = attachment(&name, ending);
    let is_pdf = ending == "pdf";
    let asker = asker.heavy_if(true);
    let body = room.done(&asker, move || {
        let laid = tiles::laid(&shapes, wanted.size()).map_err(|error| error.to_string())?;
        let named = |nth: usize| format!("{name}, sheet {} of {}", nth + 1, laid.len());
        let drawn: Vec<_> =
            laid.iter().enumerate().map(|(nth, sheet)| sheet.drawing(named(nth), units)).collect();
        Ok(if is_pdf { pdf::pages(&name, &drawn, paper) } else { svg::all_for_file(&drawn).into_bytes() })
    });
    let body = body.await?.map_err(|says: String| Problem::Refused(sentence(&says)))?;
    Ok(HttpResponse::Ok().content_type(kind).insert_header(file).body(body))
}
