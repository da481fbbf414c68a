//! One ground altered three ways: the three side by side, and made at one press. The page is there at once; each way follows
//! when it has been planned, its picture at an address of its own.

use actix_web::http::header::CACHE_CONTROL;
use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::alter::{Alter, Altered, altered, can_be};
use rosy_core::evening::Sitting;
use rosy_core::ink::Ink;
use rosy_core::order::RunSheet;
use rosy_core::picture::file::Pace;
use rosy_core::{Panel, Units};
use rosy_store::{Change, Scope, Store};
use serde_json::json;
use uuid::Uuid;

use super::{Frame, PanelHead, page, see};
use crate::error::{ApiProblem, PageProblem, Problem};
use crate::picture::{drawn_from, file, for_page, mark};
use crate::say::many;
use crate::visitor::{Caller, Nothing, Sent, Visitor};
use crate::workroom::{Asker, Workroom};

/// Pixels to the inch of the three pictures.
const DPI: f64 = 84.0;

#[derive(Template)]
#[template(path = "alter.html")]
struct AlterPage {
    frame: Frame,
    head: PanelHead,
    ratio: String,
    /// What each is called, and its address.
    ways: Vec<(&'static str, String)>,
    /// What stands in the way.
    wrong: Option<String>,
}

/// A ground, and what it may be altered with.
#[derive(Clone)]
struct Ground {
    panel: Panel,
    drawer: Vec<Ink>,
    units: Units,
}

impl Ground {
    async fn of(store: &Store, visitor: &Visitor, id: Uuid) -> Result<Ground, Problem> {
        let bench = visitor.bench.id;
        let panel = store.one::<Panel>(bench, id).await?.value;
        let drawer = store.all::<Ink>(bench).await?.into_iter().map(|kept| kept.value).collect();
        Ok(Ground { panel, drawer, units: visitor.units() })
    }

    /// A way, planned before from the same or now.
    async fn altered(&self, room: &Workroom, asker: &Asker, way: Alter) -> Result<Altered, Problem> {
        let of = self.clone();
        let key = format!("{} of {}", way.called(), mark(&(&self.panel, &self.drawer, self.units)));
        let asker = asker.heavy_if(true);
        let made = room.made(&asker, key, move || {
            let altered = altered(&of.panel, &of.drawer, of.units, way);
            let altered = altered.map_err(|error| Problem::Refused(error.to_string()))?;
            serde_json::to_vec(&altered).map_err(|_| Problem::Broken)
        });
        serde_json::from_slice(&made.await?).map_err(|_| Problem::Broken)
    }
}

/// The word for a way in an address.
fn key(way: Alter) -> String {
    way.called().replace(' ', "-")
}

fn way_of(key: &str) -> Result<Alter, Problem> {
    Alter::ALL.into_iter().find(|way| self::key(*way) == key).ok_or(Problem::Missing("way"))
}

/// `GET /panels/{id}/alter`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let Ground { panel, drawer, .. } = Ground::of(&store, &visitor, *id).await?;
    let address = |way: Alter| (way.called(), format!("/panels/{}/alter/{}", *id, key(way)));
    page(&AlterPage {
        frame: Frame::of(&visitor),
        head: PanelHead::of(*id, &panel, "water"),
        ratio: format!("{:.4}", panel.width.ratio(panel.height)),
        ways: Alter::ALL.map(address).into(),
        wrong: can_be(&panel, &drawer).err().map(|error| error.to_string()),
    })
}

/// One of the ways of a panel, and in which units it is told.
async fn planned(
    caller: &Caller,
    store: &Store,
    room: &Workroom,
    id: Uuid,
    key: &str,
) -> Result<(Altered, Units), Problem> {
    let ground = Ground::of(store, &caller.visitor, id).await?;
    let altered = ground.altered(room, caller.visitor.asker(), way_of(key)?).await?;
    Ok((altered, ground.units))
}

/// `GET /panels/{id}/alter/{way}`: what is done in a way, what it takes, and where its picture is.
pub async fn way(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    at: web::Path<(Uuid, String)>,
) -> Result<HttpResponse, ApiProblem> {
    let (id, key) = at.into_inner();
    let (Altered { says, panel }, units) = planned(&caller, &store, &room, id, &key).await?;
    let seen = drawn_from(&panel);
    let takes = room.made(caller.visitor.asker(), format!("what it takes {seen}"), move || {
        let sheet = RunSheet::of(&panel, units);
        let takes = format!(
            "{}, about {} of work, {} of drying in air",
            many(sheet.steps.len(), "step"),
            many(sheet.cost.minutes as usize, "minute"),
            many(sheet.cost.drying_minutes as usize, "minute"),
        );
        Ok(takes.into_bytes())
    });
    let takes = String::from_utf8_lossy(&takes.await?).into_owned();
    let picture = format!("/panels/{id}/alter/{key}/picture.png?seen={seen}");
    Ok(HttpResponse::Ok().json(json!({ "says": says, "takes": takes, "picture": picture })))
}

/// `GET /panels/{id}/alter/{way}/picture.png`.
pub async fn picture(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    at: web::Path<(Uuid, String)>,
) -> Result<HttpResponse, ApiProblem> {
    let (id, key) = at.into_inner();
    let (Altered { panel, .. }, _) = planned(&caller, &store, &room, id, &key).await?;
    let dpi = for_page(&panel, DPI);
    let drawn =
        room.made(caller.visitor.asker(), format!("altered {} {dpi}", drawn_from(&panel)), move || {
            file(&panel.surface(), dpi, Pace::Quick)
        });
    let mut response = HttpResponse::Ok();
    response.content_type("image/png").insert_header((CACHE_CONTROL, "private, max-age=3600"));
    Ok(response.body(drawn.await?))
}

/// `POST /panels/{id}/alter`: makes the three, beside the one they come of, and plans the evening they are made on.
pub async fn make(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let ground = Ground::of(&store, &sent.visitor, *id).await?;
    let label = format!("make three of {}", ground.panel.name);
    let (mut changes, mut cards) = (Vec::new(), Vec::new());
    for way in Alter::ALL {
        let Altered { panel, .. } = ground.altered(&room, sent.visitor.asker(), way).await?;
        panel.check().map_err(|error| Problem::Refused(error.to_string()))?;
        changes.push(Change::add(Uuid::now_v7(), &panel)?);
        cards.push(panel);
    }
    // The three are made together.
    let sitting = Sitting {
        name: ground.panel.name.with_tail(", three ways"),
        cards,
        heat: true,
        room: None,
        minutes: None,
        log: Vec::new(),
    };
    let evening = Uuid::now_v7();
    changes.push(Change::add(evening, &sitting)?);
    store.change(sent.visitor.bench.id, Scope::Bench, &label, changes).await?;
    Ok(see(format!("/evenings/{evening}")))
}
