//! An evening at the bench: how it stands, what is told of it, its cards' pictures, and its plan as a file.

use std::fmt::Write;

use actix_web::{HttpResponse, web};
use chrono::{DateTime, Utc};
use rosy_core::ask::evening::{leftovers, says, titles};
use rosy_core::evening::beforehand::ready;
use rosy_core::evening::sitting::OpenJoin;
use rosy_core::evening::skip::without;
use rosy_core::evening::words::said;
use rosy_core::evening::{Sitting, Standing, Told, What};
use rosy_core::learn::learned::told as told_time;
use rosy_core::picture::file::Pace;
use rosy_core::{Panel, Units};
use rosy_store::{Kept, Store};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::clock::Clock;
use crate::error::{ApiProblem, Problem};
use crate::files::attachment;
use crate::pages::made::unrecorded;
use crate::picture::{drawn_from, file as file_of, for_page};
use crate::visitor::{Caller, Read};
use crate::workroom::Workroom;

/// Steps that are told ahead, so that the hands can go on while the program is away.
const AHEAD: usize = 24;
/// Longest that something told has lain in a browser, in milliseconds: two days.
const LONGEST: i64 = 2 * 24 * 3_600_000;

/// An evening as the page at the bench shows it; all times in milliseconds since 1970.
#[derive(Serialize)]
pub struct View {
    /// The program's clock.
    now: i64,
    has_begun: bool,
    /// What comes next, in order.
    steps: Vec<StepView>,
    /// Whether all is done, and something of it is not in the record yet.
    is_made: bool,
    /// How many steps are done, and how many there are in all.
    done: usize,
    all: usize,
    /// The card that was worked on last.
    #[serde(skip_serializing_if = "Option::is_none")]
    last: Option<CardView>,
    /// Cards that dry or cool.
    clocks: Vec<DryingView>,
    /// When all is done and dry.
    finish: i64,
    /// The cards that are left for another evening, by name.
    later: Vec<String>,
    /// What is left over.
    leftovers: Vec<String>,
    /// Whether the hands were called away.
    away: bool,
    /// Joins that blend only so long, the first to dry first.
    joins: Vec<JoinView>,
    /// What there is to say to what was told.
    #[serde(skip_serializing_if = "Option::is_none")]
    said: Option<String>,
}

#[derive(Serialize)]
struct StepView {
    card: usize,
    name: String,
    title: String,
    how: Vec<String>,
    care: Vec<String>,
    /// The ink's colour, where one is laid.
    colour: Option<String>,
    /// What is told once it is done.
    tell: What,
    begins: i64,
    /// When it ends by the plan; nothing where it takes the time it takes.
    ends: Option<i64>,
    picture: String,
    /// Whether it can be left out.
    skips: bool,
}

#[derive(Serialize)]
struct JoinView {
    name: String,
    ink: String,
    until: i64,
}

#[derive(Serialize)]
struct CardView {
    card: usize,
    name: String,
    /// Where it is shown as it lies there now.
    shown: String,
}

#[derive(Serialize)]
struct DryingView {
    card: usize,
    name: String,
    from: i64,
    until: i64,
}

/// An evening as it is told from.
struct Teller<'a> {
    id: Uuid,
    names: Vec<String>,
    standing: &'a Standing,
    units: Units,
    /// When it was last told of, in milliseconds; seconds of its plan count from then.
    at: i64,
}

impl Teller<'_> {
    fn time(&self, seconds: i64) -> i64 {
        self.at + 1000 * seconds
    }

    fn card(&self, card: usize) -> &Panel {
        &self.standing.evening.cards[card]
    }

    fn picture(&self, card: usize, after: usize) -> String {
        let seen = drawn_from(self.card(card));
        format!("/evenings/{}/cards/{card}.png?after={after}&seen={seen}", self.id)
    }

    /// A step of the inking; only the very next can be left out, since what comes later is asked when it comes.
    fn step(&self, step: &rosy_core::evening::Step, is_next: bool) -> StepView {
        let card = self.card(step.card);
        let words = said(card, step, &self.standing.scheduled.desk, self.units);
        StepView {
            card: step.card,
            name: self.names[step.card].clone(),
            title: words.title,
            how: words.how,
            care: words.care,
            colour: words.ink.map(|ink| crate::pages::cover::pip(&card.inks[ink]).1),
            tell: match step.heats {
                true => What::Heated { card: step.card },
                false => What::Done { card: step.card, moves: step.moves.end },
            },
            begins: self.time(step.begins),
            ends: Some(self.time(step.ends)),
            picture: self.picture(step.card, step.moves.end),
            skips: is_next && !step.heats && without(card, step.moves.clone()).is_some(),
        }
    }

    /// What is told on either side of the inking.
    fn around(&self, (card, step): (usize, rosy_core::order::Step), tell: What, begins: i64) -> StepView {
        StepView {
            card,
            name: self.names[card].clone(),
            title: step.title,
            how: step.how.lines().map(str::to_owned).collect(),
            care: step.care.into_iter().collect(),
            colour: None,
            tell,
            begins,
            ends: None,
            picture: self.picture(card, step.after_moves),
            skips: false,
        }
    }

    /// What is made ready before the first ink.
    fn ready(&self) -> Option<StepView> {
        let Standing { scheduled, evening, .. } = self.standing;
        let tonight: Vec<usize> =
            (0..evening.cards.len()).filter(|card| !scheduled.later.contains(card)).collect();
        let own: Vec<&Panel> = tonight.iter().map(|card| self.card(*card)).collect();
        let first = (!self.standing.is_ready).then(|| ready(&own, self.units)).flatten()?;
        Some(self.around((tonight[0], first), What::Ready, self.at))
    }

    /// What is done to each card once it is dry.
    fn closing(&self) -> Vec<StepView> {
        let close = |(card, steps, step): (usize, usize, rosy_core::order::Step)| {
            let dry = self.standing.scheduled.done.get(card).copied().flatten().unwrap_or_default();
            self.around((card, step), What::Closed { card, steps }, self.time(dry.max(0)))
        };
        self.standing.closing(self.units).into_iter().map(close).collect()
    }

    /// How long a card still dries.
    fn clock(
        &self,
        (card, stand): (usize, &rosy_core::evening::sitting::Stand),
        now: i64,
    ) -> Option<DryingView> {
        let scheduled = &self.standing.scheduled;
        let from = stand.ended.filter(|_| !stand.aside)?;
        // What is heated next does not wait for its air.
        let until = match scheduled.steps.iter().find(|step| step.card == card) {
            Some(step) if step.heats => return None,
            Some(step) => self.time(self.standing.waits(card, step)?),
            None => self.time((*scheduled.done.get(card)?)?),
        };
        (until > now).then(|| DryingView { card, name: self.names[card].clone(), from, until })
    }
}

impl View {
    fn of(id: Uuid, sitting: &Sitting, standing: &Standing, units: Units, now: i64) -> View {
        let (names, at) = (sitting.names(), standing.at.unwrap_or(now));
        let teller = Teller { id, names, standing, units, at };
        let Teller { names, .. } = &teller;
        let scheduled = &standing.scheduled;
        let (first, closing) = (teller.ready(), teller.closing());
        let closed: usize = standing.cards.iter().map(|stand| stand.closed).sum();
        let done = usize::from(standing.is_ready) + standing.done.len() + closed;
        let to_do = first.iter().len() + scheduled.steps.len() + closing.len();
        let inked =
            scheduled.steps.iter().take(AHEAD).enumerate().map(|(nth, step)| teller.step(step, nth == 0));
        let left = leftovers(&standing.evening, &scheduled.later);
        View {
            now,
            has_begun: standing.at.is_some(),
            steps: first.into_iter().chain(inked).chain(closing).take(AHEAD).collect(),
            done,
            all: done + to_do,
            is_made: false,
            last: standing.done.last().map(|(card, moves, _)| CardView {
                card: *card,
                name: names[*card].clone(),
                shown: format!("/evenings/{}/cards/{card}/shown?after={}", teller.id, moves.end),
            }),
            clocks: standing.cards.iter().enumerate().filter_map(|stand| teller.clock(stand, now)).collect(),
            finish: teller.time(scheduled.cost.finish),
            later: scheduled.later.iter().map(|card| names[*card].clone()).collect(),
            leftovers: left.into_iter().map(|one| one.says).collect(),
            away: standing.is_away,
            joins: joins(standing, names),
            said: None,
        }
    }
}

fn joins(standing: &Standing, names: &[String]) -> Vec<JoinView> {
    let join = |join: OpenJoin| JoinView {
        name: names[join.card].clone(),
        ink: standing.evening.cards[join.card].inks[join.ink].name.to_string(),
        until: join.until,
    };
    standing.open_joins().into_iter().map(join).collect()
}

/// What has dried while the hands were away.
fn dried(view: &View) -> String {
    let late: Vec<&JoinView> = view.joins.iter().filter(|join| join.until < view.now).collect();
    match late.as_slice() {
        [] => "All that waited is as it should be. The rest is planned anew from now.".into(),
        [one, ..] => format!(
            "{} has dried on {}: its join does not blend any more. Work it in small circles, nearly dry, and press Hard mark if its line shows. The rest is planned anew from now.",
            one.ink, one.name
        ),
    }
}

/// `GET /api/evenings/{id}`: how it stands.
pub async fn get(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    clock: web::Data<Clock>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, ApiProblem> {
    let Kept { value, .. } = store.one::<Sitting>(caller.visitor.bench.id, *id).await?;
    let (id, units, sitting) = (*id, caller.visitor.units(), value.clone());
    let view = room
        .done(caller.visitor.asker(), move || View::of(id, &value, &value.standing(), units, clock.now()));
    let view = told_last(view.await?, &store, caller.visitor.bench.id, &sitting).await?;
    Ok(HttpResponse::Ok().json(view))
}

/// With what can still go into the record, once all is done.
async fn told_last(view: View, store: &Store, bench: Uuid, sitting: &Sitting) -> Result<View, ApiProblem> {
    let is_made = view.steps.is_empty() && !unrecorded(store, bench, sitting).await?.is_empty();
    Ok(View { is_made, ..view })
}

/// What is told, in the order it happened.
#[derive(Deserialize)]
pub struct Asked {
    told: Vec<One>,
}

/// One thing told.
#[derive(Deserialize)]
pub struct One {
    /// Its own mark.
    mark: String,
    /// How long ago, in milliseconds by the browser's clock.
    #[serde(default)]
    ago: i64,
    what: What,
}

/// `POST /api/evenings/{id}`: writes down what is told, and says how the evening stands then.
pub async fn tell(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    clock: web::Data<Clock>,
    id: web::Path<Uuid>,
    Read(asked): Read<Asked>,
) -> Result<HttpResponse, ApiProblem> {
    let (bench, units, came) = (caller.visitor.bench.id, caller.visitor.units(), clock.now());
    let told: Vec<Told> = asked
        .told
        .into_iter()
        .map(|one| Told { mark: one.mark, at: came - one.ago.clamp(0, LONGEST), what: one.what })
        .collect();
    let is_back = told.last().is_some_and(|told| told.what == What::Back);
    let faults = told.iter().rev().find_map(|told| match told.what {
        What::Skipped { .. } => Some("Left out. The picture shows the card without it.".into()),
        What::Went { fault, .. } => Some(fault.says().to_owned()),
        What::IsDry { .. } => {
            Some("It goes on at once. How long it took is kept among your own times.".into())
        }
        What::StillDamp { .. } => {
            Some("It gets half as long again. The rest goes on meanwhile; your own times are kept.".into())
        }
        _ => None,
    });
    let kept = store.tell_evening(bench, *id, &told).await?.map_err(Problem::Refused)?;
    let (id, sitting) = (*id, kept.value.clone());
    let view = room.done(caller.visitor.asker(), move || {
        View::of(id, &kept.value, &kept.value.standing(), units, clock.now())
    });
    let view = told_last(view.await?, &store, bench, &sitting).await?;
    let said = if is_back { Some(dried(&view)) } else { faults };
    Ok(HttpResponse::Ok().json(View { said, ..view }))
}

/// What is asked of a picture.
#[derive(Deserialize)]
pub struct PictureAsked {
    /// How many moves have been made; all where it is left out.
    after: Option<usize>,
    #[serde(default = "usual")]
    dpi: f64,
}

const fn usual() -> f64 {
    96.0
}

/// `GET /evenings/{id}/cards/{card}.png`: a card as it should look after some of its moves.
pub async fn picture(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    path: web::Path<(Uuid, usize)>,
    asked: web::Query<PictureAsked>,
) -> Result<HttpResponse, ApiProblem> {
    let (id, card) = path.into_inner();
    let Kept { value, .. } = store.one::<Sitting>(caller.visitor.bench.id, id).await?;
    let panel = value.cards_now().into_iter().nth(card).ok_or(Problem::Missing("card"))?;
    let dpi = for_page(&panel, asked.dpi);
    let after = asked.after.unwrap_or(panel.moves.len()).min(panel.moves.len());
    let key = format!("evening {} {after} {dpi}", drawn_from(&panel));
    let file = room.made(caller.visitor.asker(), key, move || file_of(&panel.after(after), dpi, Pace::Quick));
    Ok(HttpResponse::Ok().content_type("image/png").body(file.await?))
}

/// `GET /evenings/{id}/evening.{ending}`: the plan as a calendar (`ics`), a table (`csv`) or all that is known (`json`).
pub async fn file(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    clock: web::Data<Clock>,
    path: web::Path<(Uuid, String)>,
) -> Result<HttpResponse, ApiProblem> {
    let (id, ending) = path.into_inner();
    let Kept { value, .. } = store.one::<Sitting>(caller.visitor.bench.id, id).await?;
    let units = caller.visitor.units();
    let kind = match ending.as_str() {
        "ics" => "text/calendar; charset=utf-8",
        "csv" => "text/csv; charset=utf-8",
        "json" => "application/json",
        _ => return Err(Problem::Missing("file").into()),
    };
    let name = value.name.to_string();
    let as_file = ending.clone();
    let body = room.done(caller.visitor.asker(), move || match as_file.as_str() {
        "json" => serde_json::to_string_pretty(&value).unwrap_or_default(),
        "csv" => table(&value, units),
        _ => calendar(id, &value, units, clock.now()),
    });
    Ok(HttpResponse::Ok().content_type(kind).insert_header(attachment(&name, &ending)).body(body.await?))
}

/// What is still to be done, each step with its card, its words, and its seconds from the beginning.
fn steps(sitting: &Sitting, units: Units) -> Vec<(String, String, i64, i64)> {
    let (standing, names) = (sitting.standing(), sitting.names());
    let titles: Vec<Vec<String>> = standing.evening.cards.iter().map(|card| titles(card, units)).collect();
    let step = |step: &rosy_core::evening::Step| {
        (
            names[step.card].clone(),
            says(&standing.evening.cards[step.card], &titles[step.card], step),
            step.begins,
            step.ends,
        )
    };
    standing.scheduled.steps.iter().map(step).collect()
}

fn table(sitting: &Sitting, units: Units) -> String {
    let mut text = String::from("begins_seconds,ends_seconds,card,step\r\n");
    let quoted = |field: &str| format!("\"{}\"", field.replace('"', "\"\""));
    for (card, says, begins, ends) in steps(sitting, units) {
        let _ = write!(text, "{begins},{ends},{},{}\r\n", quoted(&card), quoted(&says));
    }
    text
}

/// The evening as a calendar (RFC 5545): one event for the whole of it, its steps in order in what is said of it.
fn calendar(id: Uuid, sitting: &Sitting, units: Units, now: i64) -> String {
    let standing = sitting.standing();
    let begins = standing.at.unwrap_or(now);
    let ends = begins + 1000 * standing.scheduled.cost.finish;
    let stamp = |time: i64| {
        DateTime::<Utc>::from_timestamp_millis(time).unwrap_or_default().format("%Y%m%dT%H%M%SZ").to_string()
    };
    let escaped =
        |text: &str| text.replace('\\', "\\\\").replace(';', "\\;").replace(',', "\\,").replace('\n', "\\n");
    let line = |(card, says, begins, _): (String, String, i64, i64)| {
        format!("{} {card}: {says}", told_time(begins as f64))
    };
    let all: Vec<String> = steps(sitting, units).into_iter().map(line).collect();
    let lines = [
        "BEGIN:VCALENDAR".to_owned(),
        "VERSION:2.0".into(),
        "PRODID:-//Rosy Veil//Evening//EN".into(),
        "BEGIN:VEVENT".into(),
        format!("UID:{id}@rosy-veil"),
        format!("DTSTAMP:{}", stamp(now)),
        format!("DTSTART:{}", stamp(begins)),
        format!("DTEND:{}", stamp(ends)),
        format!("SUMMARY:{}", escaped(sitting.name.as_str())),
        format!("DESCRIPTION:{}", escaped(&all.join("\n"))),
        "END:VEVENT".into(),
        "END:VCALENDAR".into(),
    ];
    lines.iter().map(|line| folded(line)).collect()
}

/// A line of a calendar, folded after 75 bytes as the format wants it.
fn folded(line: &str) -> String {
    let mut text = String::new();
    let mut long = 0;
    for sign in line.chars() {
        if long + sign.len_utf8() > 74 {
            text.push_str("\r\n ");
            long = 1;
        }
        text.push(sign);
        long += sign.len_utf8();
    }
    text + "\r\n"
}
