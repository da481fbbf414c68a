//! `POST /api/panels/cover`: the things on a panel as they stand on the page, how they are made, and how it would look. And
//! the masks of a panel as files. Nothing is kept here.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Panel;
use rosy_core::edit::cover::Change;
use rosy_core::ink::Name;
use rosy_core::order::pieces::taken;
use rosy_core::place::Extent;
use rosy_core::planned::Planned;
use rosy_core::shape::Region;
use rosy_core::shape::kept::Shape;
use rosy_store::Store;
use serde::Serialize;
use uuid::Uuid;

use super::look::{Look, Seen, Wrong};
use super::shapes::{Wanted, sheets};
use crate::error::{ApiProblem, Problem};
use crate::pages::cover::CoverPart;
use crate::shapes::SheetWanted;
use crate::visitor::Caller;
use crate::workroom::Workroom;

/// How it would come out.
#[derive(Serialize)]
pub struct Things {
    picture: String,
    things: Vec<ThingNote>,
    /// The paper window that is laid over it.
    window: Option<ThingNote>,
    /// The sentences, how it is made, and what is cut, as a part of the page.
    #[serde(skip_serializing_if = "Option::is_none")]
    told: Option<String>,
}

/// A thing as it lies on the picture, in per cent of its width and height.
#[derive(Serialize)]
struct ThingNote {
    name: String,
    left: f64,
    top: f64,
    /// The corner by which it is made larger.
    right: f64,
    bottom: f64,
    /// Its edge, in a square of a thousand.
    outline: String,
}

impl Look for Things {
    type Change = Change;
    type Owned = ();

    fn of(seen: &Seen, (): &()) -> Result<Things, Wrong> {
        let (panel, units) = (seen.panel, seen.units);
        let told = || CoverPart::of(panel, units).render().map_err(Wrong::nowhere);
        Ok(Things {
            picture: seen.drawn()?,
            things: notes(panel),
            window: window_note(panel),
            told: if seen.how.settled { Some(told()?) } else { None },
        })
    }
}

fn notes(panel: &Planned) -> Vec<ThingNote> {
    let things = &panel.materials().masks.things;
    things.iter().map(|masked| note(panel, &masked.name, masked.extent, &masked.inside)).collect()
}

fn window_note(panel: &Panel) -> Option<ThingNote> {
    let part = panel.part.as_ref()?;
    let outline = part.shape.outline().ok()?;
    let region = outline.region().moved(|[x, y]| [x + part.at.left.mm(), y + part.at.top.mm()]);
    Some(note(panel, &part.shape.name, part.extent(&outline), &region))
}

fn note(panel: &Panel, name: &Name, extent: Extent, inside: &Region) -> ThingNote {
    let (width, height) = (panel.width.mm(), panel.height.mm());
    let Extent { corner, size } = extent;
    let (left, top) = (corner.left.mm(), corner.top.mm());
    let (wide, high) = (size.0.mm(), size.1.mm());
    ThingNote {
        name: name.to_string(),
        left: 100.0 * (left + 0.5 * wide) / width,
        top: 100.0 * (top + 0.5 * high) / height,
        right: 100.0 * (left + wide) / width,
        bottom: 100.0 * (top + high) / height,
        outline: inside.moved(|[x, y]| [1000.0 * x / width, 1000.0 * y / height]).path(),
    }
}

/// `GET /panels/{id}/masks.{ending}`: the masks that a panel's moves take, laid on sheets, at true scale.
pub async fn file(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    path: web::Path<(Uuid, String)>,
    wanted: web::Query<Wanted>,
) -> Result<HttpResponse, ApiProblem> {
    let (id, ending) = path.into_inner();
    let units = caller.visitor.units();
    let panel = store.one::<Panel>(caller.visitor.bench.id, id).await?.value;
    let pieces = taken(&panel.moves, &panel.materials());
    let cut = pieces.iter().filter(|pieces| pieces.count() > 0);
    let shapes: Vec<Shape> =
        cut.filter_map(|pieces| Some(panel.scene.things.get(pieces.thing)?.shape.clone())).collect();
    if shapes.is_empty() {
        return Err(
            Problem::Refused("This panel needs no masks: put something in front first.".into()).into()
        );
    }
    let name = format!("{} masks", panel.name);
    let of = (wanted.sheet.unwrap_or(SheetWanted::usual(units)), caller.visitor.paper(wanted.file.paper)?);
    Ok(sheets(&room, caller.visitor.asker(), name, shapes, of, &ending, units).await?)
}
