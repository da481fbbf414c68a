//! A photo of a panel, held against its plan: what is not as planned, each with its place on the photo. The latest photo of a
//! panel is kept, what it shows of the hand that laid it, and the score of a strip to practise on.

use actix_web::{HttpResponse, web};
use rosy_core::Panel;
use rosy_core::evening::Sitting;
use rosy_core::learn::hand::{Showing, Showings};
use rosy_core::length::Units;
use rosy_core::practice::{Scored, Scores};
use rosy_core::record::{Made, Photos};
use rosy_eye::ask::inspect::{FlawSeen, InspectAsked, InspectSeen, StrengthSeen, ZoneSeen};
use rosy_eye::phone::Phone;
use rosy_store::photo::ByPhoto;
use rosy_store::{Kept, Store};
use serde::{Deserialize, Serialize};
use serde_json::json;
use uuid::Uuid;

use super::swatches::corners_of;
use crate::apart::Errand;
use crate::clock::Clock;
use crate::error::{ApiProblem, Problem};
use crate::visitor::{Caller, Sending};
use crate::workroom::Workroom;

/// What is told beside the photo.
#[derive(Deserialize)]
pub struct Told {
    /// How many of its moves were made.
    moves: Option<usize>,
    /// The panel's corners in pixels, where they were shown by hand: eight numbers.
    corners: Option<String>,
    /// Under which number the photo is kept, where it was read before.
    photo: Option<Uuid>,
    /// Whether another phone took it than the one that is known.
    #[serde(default)]
    other_phone: bool,
}

/// A panel that is shown.
struct Shown {
    panel: Panel,
    /// What it is kept under.
    under: String,
    /// Whether its photo is: a record has its own.
    keeps: bool,
    /// How often its plan has been changed, where it can still be.
    revision: Option<i64>,
    /// Where the picture of its plan is.
    picture: String,
}

/// Pixels to the inch of the plan that is laid over the photo.
const PLAN_DPI: u32 = 110;

impl Told {
    /// A picture at an address, as of after the moves that are made.
    fn picture(&self, at: String) -> String {
        let after = self.moves.map_or(String::new(), |moves| format!("&after={moves}"));
        format!("{at}?dpi={PLAN_DPI}{after}")
    }
}

/// Who shows a photo, what looking at it takes, what is told beside it, and itself.
type Looking = (Caller, web::Data<Store>, web::Data<Workroom>, web::Data<Clock>, web::Query<Told>, Sending);

/// `POST /api/panels/{id}/shown`: what a photo of a panel says.
pub async fn panel(looking: Looking, id: web::Path<Uuid>) -> Result<HttpResponse, ApiProblem> {
    let (caller, store, .., told, _) = &looking;
    let Kept { value: panel, revision, .. } = store.one::<Panel>(caller.visitor.bench.id, *id).await?;
    let picture = told.picture(format!("/panels/{}/picture.png", *id));
    shown(looking, Shown { panel, under: id.to_string(), keeps: true, revision: Some(revision), picture })
        .await
}

/// `POST /api/evenings/{id}/cards/{card}/shown`: what a photo of a card on the bench says.
pub async fn card(looking: Looking, path: web::Path<(Uuid, usize)>) -> Result<HttpResponse, ApiProblem> {
    let (caller, store, .., told, _) = &looking;
    let (id, card) = path.into_inner();
    let sitting = store.one::<Sitting>(caller.visitor.bench.id, id).await?.value;
    let panel = sitting.cards_now().into_iter().nth(card).ok_or(Problem::Missing("card"))?;
    let picture = told.picture(format!("/evenings/{id}/cards/{card}.png"));
    shown(looking, Shown { panel, under: format!("{id} {card}"), keeps: true, revision: None, picture }).await
}

/// `POST /api/made/{id}/shown`: what a photo of what was made says, held against the plan it was made by.
pub async fn made(looking: Looking, id: web::Path<Uuid>) -> Result<HttpResponse, ApiProblem> {
    let (caller, store, .., told, _) = &looking;
    let panel = store.one::<Made>(caller.visitor.bench.id, *id).await?.value.panel;
    let picture = told.picture(format!("/made/{}/picture.png", *id));
    shown(looking, Shown { panel, under: id.to_string(), keeps: false, revision: None, picture }).await
}

async fn shown(looking: Looking, one: Shown) -> Result<HttpResponse, ApiProblem> {
    let (caller, store, room, clock, told, Sending(photo)) = looking;
    let Shown { panel, under, keeps, revision, picture } = one;
    let (bench, asker, units) = (caller.visitor.bench.id, caller.visitor.asker(), caller.visitor.units());
    let known = store.only::<Phone>(bench).await?;
    let phone = known.0.filter(|_| !told.other_phone).map(|_| known.1);
    let moves = told.moves.map(|moves| moves.min(panel.moves.len()));
    let corners = corners_of(told.corners.as_deref(), "panel")?;
    let names: Vec<String> = panel.inks.iter().map(|ink| ink.name.to_string()).collect();
    let drill = panel.practice;
    let made = moves.unwrap_or(panel.moves.len());
    let asked = InspectAsked { picture: String::new(), panel, moves, corners, phone, units };
    let seen = room.apart(asker, Errand::Shown(Box::new(asked)), photo.clone()).await?;
    let seen: InspectSeen = serde_json::from_slice(&seen).map_err(|_| Problem::Broken)?;
    let photo = if keeps {
        let known = store.only::<Photos>(bench).await?.1;
        let is_kept = |id: &Uuid| known.0.iter().any(|shown| shown.photo == id.to_string());
        let photo = match told.photo.filter(is_kept) {
            Some(id) => ByPhoto::Kept(id),
            None => ByPhoto::New(room.apart(asker, Errand::Photo, photo).await?),
        };
        Some(store.shown_by(bench, (under.clone(), made), photo).await?)
    } else {
        None
    };
    // What it shows of her hand is remembered, whether or not anything else comes of it.
    if let Some(showing) = seen.showing.clone().filter(Showing::is_one) {
        store.note::<Showings>(bench, |known| known.clone().with(showing)).await?;
    }
    if let (Some(drill), Some(weakest)) = (drill, seen.figures.first()) {
        let (score, weakest) = (weakest.score, weakest.of.clone());
        let scored = Scored { strip: under, drill, at: clock.now(), score, weakest };
        store.note::<Scores>(bench, |known| known.clone().with(scored)).await?;
    }
    let mut told = told_of(&seen, &names, (picture, revision), units);
    told["photo"] = json!(photo);
    Ok(HttpResponse::Ok().json(told))
}

/// Something that is not as planned, as its page shows it.
#[derive(Serialize)]
struct Row {
    /// Its outline on the photo, as SVG takes it, and where its number stands.
    points: String,
    number: [f64; 2],
    /// Whether it is of the whole panel.
    whole: bool,
    says: String,
    now: String,
    next: String,
}

impl From<&FlawSeen> for Row {
    fn from(flaw: &FlawSeen) -> Row {
        let points: Vec<String> = flaw.around.iter().map(|[x, y]| format!("{x:.1},{y:.1}")).collect();
        let number = [0, 1].map(|axis| flaw.around.iter().map(|corner| corner[axis]).sum::<f64>() / 4.0);
        Row {
            points: points.join(" "),
            number,
            whole: flaw.kind.is_of_all(),
            says: flaw.says.clone(),
            now: flaw.now.clone().unwrap_or_default(),
            next: flaw.next.clone(),
        }
    }
}

fn told_of(
    seen: &InspectSeen,
    names: &[String],
    (plan, revision): (String, Option<i64>),
    units: Units,
) -> serde_json::Value {
    // What was made is not planned any more.
    let remedy = seen.remedy.as_ref().filter(|_| revision.is_some());
    let rows: Vec<Row> = seen.findings.iter().map(Row::from).collect();
    let strengths: Vec<String> = seen.strengths.iter().filter_map(|one| strength(one, names)).collect();
    let zones: Vec<serde_json::Value> = seen.zones.iter().map(|one| zone(one, names, units)).collect();
    let score = seen.figures.first().map(|weakest| weakest.score);
    json!({
        "score": score, "figures": seen.figures, "corners": seen.corners, "findings": rows, "says": summary(rows.len()), "left_out": seen.left_out,
        "strengths": strengths, "zones": zones, "plan": plan, "remedy": remedy, "revision": revision,
    })
}

fn summary(count: usize) -> String {
    match count {
        0 => "It is as planned: what differs is no more than the tool's own unevenness.".into(),
        1 => "One thing is not as planned.".into(),
        count => format!("{count} things are not as planned."),
    }
}

/// How strong an ink came, in a sentence.
fn strength(one: &StrengthSeen, names: &[String]) -> Option<String> {
    let name = names.get(one.ink)?;
    let percent = |share: f64| (100.0 * share).round();
    let (by, give) = (percent(one.came - 1.0), percent(one.within - 1.0));
    Some(match by {
        by if by.abs() < 1.0 => format!("{name} came as planned, give or take {give} %."),
        by if by > 0.0 => format!("{name} came {by} % stronger than planned, give or take {give} %."),
        by => format!("{name} came {} % weaker than planned, give or take {give} %.", -by),
    })
}

/// What lies in a zone: where, and of each ink how many light passes.
fn zone(zone: &ZoneSeen, names: &[String], units: Units) -> serde_json::Value {
    let inks = zone.inks.iter().filter_map(|lies| {
        let name = names.get(lies.ink)?;
        Some(format!("{name} {:.1} of {:.1}, give or take {:.1}", lies.lie, lies.planned, lies.within))
    });
    json!({
        "key": format!("{} {}", zone.blend, zone.from), "from": zone.from.shown(units).to_string(),
        "to": zone.to.shown(units).to_string(), "inks": inks.collect::<Vec<_>>().join("; "),
    })
}
