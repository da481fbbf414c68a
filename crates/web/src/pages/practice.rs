//! Practice: strips for a scrap of card, what came of them, and which is the next.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Panel;
use rosy_core::drill::Drill;
use rosy_core::ink::{Ink, Tool};
use rosy_core::practice::{Scored, Scores, StripError, WELL, strip, usual_inks};
use rosy_store::{Kept, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::bench::{Desk, to_hand};
use super::{Frame, page, see};
use crate::drawing::pdf;
use crate::drawing::strip::strip as drawn;
use crate::error::{PageProblem, Problem, sentence};
use crate::files::attachment;
use crate::picture::data_url;
use crate::say::{many, word};
use crate::visitor::{Sent, Visitor};
use crate::workroom::Workroom;

/// Scores that are drawn of each strip, the latest.
const LATELY: usize = 12;
/// Pixels to the inch of the pictures.
const DPI: f64 = 40.0;

#[derive(Template)]
#[template(path = "practice.html")]
struct PracticePage {
    frame: Frame,
    /// The inks of the drawer, by name, and whether each is the first or the second to begin with.
    inks: Vec<(String, String, [bool; 2])>,
    rows: Vec<Row>,
}

/// A strip, and how it went so far.
struct Row {
    key: String,
    words: String,
    teaches: &'static str,
    inks: &'static str,
    is_next: bool,
    /// How it looks, laid well.
    picture: String,
    /// The scores of late, from left to right, as the points of a line in a box of 100 by 100, and the last of them.
    line: String,
    dots: Vec<(f64, f64)>,
    says: String,
}

impl Row {
    fn of(drill: Drill, scores: &Scores, picture: String) -> Row {
        let all: Vec<&Scored> = scores.of(drill).collect();
        let lately = &all[all.len().saturating_sub(LATELY)..];
        let across = |n: usize| 4.0 + 92.0 * n as f64 / (LATELY - 1) as f64;
        let dots: Vec<(f64, f64)> = lately
            .iter()
            .enumerate()
            .map(|(n, scored)| (across(n), 100.0 - f64::from(scored.score)))
            .collect();
        let line: Vec<String> = dots.iter().map(|(x, y)| format!("{x:.1},{y:.1}")).collect();
        let best = all.iter().map(|scored| scored.score).max();
        let says = match (lately.last(), best) {
            (Some(last), Some(best)) => {
                let weakest =
                    if last.score < WELL { format!("; weakest: {}", last.weakest) } else { String::new() };
                format!(
                    "{} of 100 last time{weakest}. Best {best}, {}.",
                    last.score,
                    many(all.len(), "strip")
                )
            }
            _ => "Not tried yet.".into(),
        };
        Row {
            key: word(drill),
            words: rosy_core::say::capital(drill.words()),
            teaches: drill.teaches(),
            inks: if drill.inks() == 1 { "one ink" } else { "two inks" },
            is_next: scores.next() == drill,
            picture,
            line: line.join(" "),
            dots,
            says,
        }
    }
}

/// `GET /practice`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let bench = visitor.bench.id;
    let mut inks = store.all::<Ink>(bench).await?;
    inks.sort_by(|one, other| one.value.name.cmp(&other.value.name));
    let own: Vec<Ink> = inks.iter().map(|kept| kept.value.clone()).collect();
    let (units, Desk { paper, tools, .. }) = (visitor.units(), to_hand(&store, bench).await?);
    let work = move || {
        let usual = usual_inks(&own).unwrap_or([0, 1]);
        let chosen: Vec<Ink> = usual.iter().filter_map(|place| own.get(*place).cloned()).collect();
        let picture = |drill: Drill| {
            let inks = chosen.get(..drill.inks())?;
            let strip = strip(drill, inks, paper.clone(), Tool::plain(), units).ok()?;
            data_url(&strip.with_desk(&tools).surface(), DPI).ok()
        };
        (usual, Drill::ALL.map(|drill| (drill, picture(drill).unwrap_or_default())))
    };
    let (usual, pictures) = room.done(visitor.asker(), work).await?;
    let scores = store.only::<Scores>(bench).await?.1;
    let mut rows: Vec<Row> =
        pictures.into_iter().map(|(drill, picture)| Row::of(drill, &scores, picture)).collect();
    rows.sort_by_key(|row| !row.is_next);
    let shown = |(nth, Kept { id, value: ink, .. }): (usize, Kept<Ink>)| {
        (id.to_string(), format!("{}, {}", ink.name, ink.kind), usual.map(|place| place == nth))
    };
    let inks = inks.into_iter().enumerate().map(shown).collect();
    page(&PracticePage { frame: Frame::of(&visitor), inks, rows })
}

/// What is to be practised, and with what.
#[derive(Deserialize)]
pub struct Begun {
    drill: Drill,
    first: Uuid,
    second: Uuid,
}

/// `POST /practice`: a strip is planned, and its run sheet opened.
pub async fn begin(
    sent: Sent<Begun>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units, Begun { drill, first, second }) =
        (sent.visitor.bench.id, sent.visitor.units(), sent.form);
    let mut inks = vec![store.one::<Ink>(bench, first).await?.value];
    if drill.inks() == 2 {
        if first == second {
            return Err(Problem::Refused("Choose two different inks for this strip.".into()).into());
        }
        inks.push(store.one::<Ink>(bench, second).await?.value);
    }
    let Desk { paper, tools, heated, hands, number } = to_hand(&store, bench).await?;
    let planned = room.done(sent.visitor.asker(), move || {
        let panel = strip(drill, &inks, paper, Tool::plain(), units)?;
        Ok(Panel { seed: number, heated, hands, ..panel.with_desk(&tools) })
    });
    let planned: Result<Panel, StripError> = planned.await?;
    let panel = planned.map_err(|error| Problem::Refused(sentence(&error.to_string())))?;
    let panel = Panel { name: panel.name.with_tail(&format!(" {number}")), ..panel };
    let id = store.add_panel(bench, &panel).await?;
    Ok(see(format!("/panels/{id}/sheet")))
}

/// What is asked of a strip's file.
#[derive(Deserialize)]
pub struct FileAsked {
    paper: Option<pdf::Paper>,
}

/// `GET /panels/{id}/strip.pdf`: the lines of a strip, at true scale.
pub async fn file(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
    asked: web::Query<FileAsked>,
) -> Result<HttpResponse, PageProblem> {
    let panel = store.one::<Panel>(visitor.bench.id, *id).await?.value;
    if panel.practice.is_none() {
        return Err(Problem::Missing("strip").into());
    }
    let paper = visitor.paper(asked.paper)?;
    let drawn = room.done(visitor.asker(), move || {
        let name = panel.name.to_string();
        pdf::of_ready(&name, std::iter::once((name.as_str(), drawn(&panel))), paper)
    });
    Ok(HttpResponse::Ok()
        .content_type("application/pdf")
        .insert_header(attachment("practice strip", "pdf"))
        .body(drawn.await?))
}
