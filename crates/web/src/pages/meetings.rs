//! What every two inks of the drawer make: one picture to explore, and from any meeting straight to a panel of the two.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::blend::Verdict;
use rosy_core::colour::{ColourName, Illuminant, Srgb};
use rosy_core::ink::measured::bright_white;
use rosy_core::ink::{Ink, Paper};
use rosy_core::search::{Swatch, meetings};
use rosy_store::{Kept, Store};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::{Frame, page};
use crate::error::{ApiProblem, PageProblem, Problem};
use crate::visitor::{Caller, Visitor};
use crate::workroom::Workroom;

/// Most inks whose meetings are shown in one picture.
const MOST: usize = 500;

#[derive(Template)]
#[template(path = "meetings.html")]
struct MeetingsPage {
    frame: Frame,
    inks: usize,
    most: usize,
    /// The ink picked out as the page opens.
    picked: Option<Uuid>,
}

/// Which ink is picked out.
#[derive(Deserialize)]
pub struct Wanted {
    ink: Option<Uuid>,
}

/// `GET /drawer/meetings`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    wanted: web::Query<Wanted>,
) -> Result<HttpResponse, PageProblem> {
    let inks = store.count::<Ink>(visitor.bench.id).await? as usize;
    page(&MeetingsPage { frame: Frame::of(&visitor), inks, most: MOST, picked: wanted.ink })
}

/// The drawer's inks along the top, and what every two of them make.
#[derive(Serialize)]
struct Meetings {
    inks: Vec<InkTold>,
    /// Names of colours, told of by number.
    names: Vec<String>,
    /// One row for each ink, with those after it.
    rows: Vec<Vec<Cell>>,
}

#[derive(Serialize)]
struct InkTold {
    id: Uuid,
    name: String,
    kind: &'static str,
    colour: Srgb,
    family: &'static str,
}

/// The colour, how clean (0 clean, 1 dusky, 2 muddy), what it is called, and what the two pay.
#[derive(Serialize)]
struct Cell(Srgb, u8, usize, u32);

/// `GET /api/drawer/meetings`.
pub async fn all(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, ApiProblem> {
    let bench = caller.visitor.bench.id;
    let mut inks = store.all::<Ink>(bench).await?;
    inks.sort_by(|one, other| along_top(&one.value).total_cmp(&along_top(&other.value)));
    inks.truncate(MOST);
    let card = store.all::<Paper>(bench).await?.into_iter().next_back().map(|kept| kept.value);
    let key = format!("meetings {}", serde_json::to_string(&(&inks_of(&inks), &card)).unwrap_or_default());
    let told = room.made(caller.visitor.asker(), key, move || {
        let told = tell(&inks, card.as_ref());
        serde_json::to_vec(&told).map_err(|_| Problem::Broken)
    });
    Ok(HttpResponse::Ok().content_type("application/json").body(told.await?))
}

fn inks_of(inks: &[Kept<Ink>]) -> Vec<(Uuid, &Ink)> {
    inks.iter().map(|kept| (kept.id, &kept.value)).collect()
}

/// Where an ink stands along the top: by family, and within it from light to dark.
fn along_top(ink: &Ink) -> f64 {
    1_000.0 * f64::from(ink.family() as u8) - ink.lab().l
}

fn tell(inks: &[Kept<Ink>], card: Option<&Paper>) -> Meetings {
    use rayon::prelude::*;
    let swatches: Vec<Swatch> = inks.par_iter().map(|kept| (kept.value.film(), kept.value.lab())).collect();
    let card = card.map_or_else(|| *bright_white(), Paper::reflectance);
    let met = meetings(&swatches, &card, Illuminant::D65, |meeting| {
        let worse = match meeting.verdict {
            Verdict::Clean => 0,
            Verdict::Dusky => 1,
            Verdict::Muddy => 2,
        };
        let colour = meeting.middle.on_screen(Illuminant::D65).0;
        (colour, worse, meeting.named.clone(), meeting.cost().round() as u32)
    });
    let mut names: Vec<ColourName> = Vec::new();
    let mut number = |name: ColourName| {
        names.iter().position(|known| *known == name).unwrap_or_else(|| {
            names.push(name);
            names.len() - 1
        })
    };
    let rows = met
        .into_iter()
        .map(|row| {
            row.into_iter()
                .map(|(colour, worse, name, cost)| Cell(colour, worse, number(name), cost))
                .collect()
        })
        .collect();
    let inks = inks.iter().map(|kept| InkTold {
        id: kept.id,
        name: kept.value.name.to_string(),
        kind: kept.value.kind.word(),
        colour: kept.value.lab().on_screen(Illuminant::D65).0,
        family: kept.value.family().words(),
    });
    Meetings { inks: inks.collect(), names: names.iter().map(ToString::to_string).collect(), rows }
}
