//! One ground altered three ways: the three side by side, and made at one press.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::alter::{Altered, three_ways};
use rosy_core::evening::Sitting;
use rosy_core::ink::Ink;
use rosy_core::order::RunSheet;
use rosy_core::{Panel, Units};
use rosy_store::{Change, Scope, Store};
use uuid::Uuid;

use super::{Frame, PanelHead, page, see};
use crate::error::{PageProblem, Problem};
use crate::picture::{data_url, for_page};
use crate::say::many;
use crate::visitor::{Nothing, Sent, Visitor};
use crate::workroom::Workroom;

/// Pixels to the inch of the three pictures.
const DPI: f64 = 84.0;

struct Way {
    called: &'static str,
    picture: String,
    says: String,
    takes: String,
}

#[derive(Template)]
#[template(path = "alter.html")]
struct AlterPage {
    frame: Frame,
    head: PanelHead,
    ratio: String,
    ways: Vec<Way>,
    /// What stands in the way.
    wrong: Option<String>,
}

async fn drawer(store: &Store, bench: Uuid) -> Result<Vec<Ink>, Problem> {
    Ok(store.all::<Ink>(bench).await?.into_iter().map(|kept| kept.value).collect())
}

fn shown(panel: &Panel, inks: &[Ink], units: Units) -> Result<Vec<Way>, String> {
    let ways = three_ways(panel, inks, units).map_err(|error| error.to_string())?;
    let way = |Altered { called, says, panel }: Altered| {
        let sheet = RunSheet::of(&panel, units);
        let picture = data_url(&panel.surface(), for_page(&panel, DPI)).map_err(|error| error.to_string())?;
        let takes = format!(
            "{}, about {} of work, {} of drying in air",
            many(sheet.steps.len(), "step"),
            many(sheet.cost.minutes as usize, "minute"),
            many(sheet.cost.drying_minutes as usize, "minute"),
        );
        Ok(Way { called, picture, says, takes })
    };
    ways.into_iter().map(way).collect()
}

/// `GET /panels/{id}/alter`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units) = (visitor.bench.id, visitor.units());
    let panel = store.one::<Panel>(bench, *id).await?.value;
    let inks = drawer(&store, bench).await?;
    let of = panel.clone();
    let (ways, wrong) = match room.done(visitor.asker(), move || shown(&of, &inks, units)).await? {
        Ok(ways) => (ways, None),
        Err(says) => (Vec::new(), Some(says)),
    };
    page(&AlterPage {
        frame: Frame::of(&visitor),
        head: PanelHead::of(*id, &panel, "water"),
        ratio: format!("{:.4}", panel.width.ratio(panel.height)),
        ways,
        wrong,
    })
}

/// `POST /panels/{id}/alter`: makes the three, beside the one they come of, and plans the evening they are made on.
pub async fn make(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units) = (sent.visitor.bench.id, sent.visitor.units());
    let panel = store.one::<Panel>(bench, *id).await?.value;
    let inks = drawer(&store, bench).await?;
    let label = format!("make three of {}", panel.name);
    let ways = three_ways(&panel, &inks, units).map_err(|error| Problem::Refused(error.to_string()))?;
    let (mut changes, mut cards) = (Vec::new(), Vec::new());
    for Altered { panel, .. } in ways {
        panel.check().map_err(|error| Problem::Refused(error.to_string()))?;
        changes.push(Change::add(Uuid::now_v7(), &panel)?);
        cards.push(panel);
    }
    // The three are made together.
    let sitting = Sitting {
        name: panel.name.with_tail(", three ways"),
        cards,
        heat: true,
        room: None,
        minutes: None,
        log: Vec::new(),
    };
    let evening = Uuid::now_v7();
    changes.push(Change::add(evening, &sitting)?);
    store.change(bench, Scope::Bench, &label, changes).await?;
    Ok(see(format!("/evenings/{evening}")))
}
