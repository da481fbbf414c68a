//! Evenings: which there are, a new one, and each as the thread of the maker's hands between its cards.

use std::collections::HashMap;

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Panel;
use rosy_core::ask::evening::{MOST_CARDS, leftovers, says, titles};
use rosy_core::evening::{Scheduled, Sitting, Standing, Step};
use rosy_core::ink::Name;
use rosy_core::learn::learned::told;
use rosy_core::learn::pace::With;
use rosy_core::learn::{Figure, Pace};
use rosy_core::moves::Technique;
use rosy_core::supply::Shelf;
use rosy_store::{Change, Kept, Scope, Store, StoreError};
use serde::Deserialize;
use uuid::Uuid;

use super::made::unrecorded;
use super::{Frame, Paged, page, refused, see, supplies};
use crate::error::{PageProblem, Problem, sentence};
use crate::picture::drawn_from;
use crate::say::many;
use crate::visitor::{Nothing, Sent, Visitor};
use crate::workroom::Workroom;

/// Longest that an evening is told to last, in minutes.
const LONGEST: u32 = 24 * 60;

/// Evenings on one page, and panels that are offered on one.
const EACH: u64 = 12;
const OFFERED: u64 = 24;

#[derive(Template)]
#[template(path = "evenings.html")]
struct EveningsPage {
    frame: Frame,
    evenings: Vec<(String, String, String)>,
    paged: Paged,
    /// The panels of which some are to be made, then the others on this page of them.
    panels: Vec<Offered>,
    offered: Paged,
    /// The word that panels are found by.
    find: String,
    wrong: Option<String>,
    name: String,
    room: String,
}

/// A panel that can be made.
struct Offered {
    id: String,
    name: String,
    seen: String,
    count: String,
}

/// Which page is wanted.
#[derive(Default, Deserialize)]
#[serde(default)]
pub struct Wanted {
    page: u64,
}

/// The panels of which some are to be made, and how many of each, as it was written.
async fn chosen(
    store: &Store,
    bench: Uuid,
    form: &HashMap<String, String>,
) -> Result<Vec<(Kept<Panel>, String)>, Problem> {
    let counts = form.iter().filter_map(|(field, count)| {
        let id: Uuid = field.strip_prefix("count_")?.parse().ok()?;
        let count = count.trim();
        (!matches!(count, "" | "0")).then(|| (id, count.to_owned()))
    });
    let mut counts: Vec<(Uuid, String)> = counts.collect();
    counts.sort();
    // One more than an evening takes is enough to be told so.
    counts.truncate(MOST_CARDS + 1);
    let mut chosen = Vec::new();
    for (id, count) in counts {
        match store.one::<Panel>(bench, id).await {
            Ok(kept) => chosen.push((kept, count)),
            // It was removed meanwhile; the others stay.
            Err(StoreError::Missing(_)) => {}
            Err(error) => return Err(error.into()),
        }
    }
    Ok(chosen)
}

async fn all_page(
    visitor: &Visitor,
    store: &Store,
    page: u64,
    written: &HashMap<String, String>,
    wrong: Option<String>,
) -> Result<EveningsPage, PageProblem> {
    let bench = visitor.bench.id;
    let evening = |kept: Kept<Sitting>| {
        let cards = many(kept.value.cards.len(), "card");
        let says = if kept.value.log.is_empty() { cards } else { format!("{cards}, begun") };
        (kept.id.to_string(), kept.value.name.to_string(), says)
    };
    let paged = Paged::of(page, store.count::<Sitting>(bench).await?, EACH, "/evenings?page=");
    let evenings = store.some::<Sitting>(bench, paged.skipped(EACH), EACH).await?;
    let offered = |kept: Kept<Panel>, count: String| Offered {
        count,
        id: kept.id.to_string(),
        name: kept.value.name.to_string(),
        seen: drawn_from(&kept.value),
    };
    let chosen = chosen(store, bench, written).await?;
    let text = |field: &str| written.get(field).map(|text| text.trim().to_owned()).unwrap_or_default();
    let (find, turned) = (text("find"), text("panels").parse().unwrap_or(1));
    let (count, _) = store.planned_panels(bench, &find, (0, 0)).await?;
    let on = Paged::of(turned, count, OFFERED, "");
    let (_, others) = store.planned_panels(bench, &find, (on.skipped(OFFERED), OFFERED)).await?;
    let others = others.into_iter().filter(|other| chosen.iter().all(|(kept, _)| kept.id != other.id));
    let others: Vec<Offered> = others.map(|kept| offered(kept, String::new())).collect();
    Ok(EveningsPage {
        frame: Frame::of(visitor),
        evenings: evenings.into_iter().map(evening).collect(),
        paged,
        panels: chosen.into_iter().map(|(kept, count)| offered(kept, count)).chain(others).collect(),
        offered: on,
        find,
        name: text("name"),
        room: text("room"),
        wrong,
    })
}

/// `GET /evenings`.
pub async fn all(
    visitor: Visitor,
    store: web::Data<Store>,
    wanted: web::Query<Wanted>,
) -> Result<HttpResponse, PageProblem> {
    page(&all_page(&visitor, &store, wanted.page, &HashMap::new(), None).await?)
}

/// `POST /evenings`: so many cards of these panels, made together; or another page of panels to choose from, what has been
/// written staying as it is.
pub async fn add(
    sent: Sent<HashMap<String, String>>,
    store: web::Data<Store>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    if turns(&sent.form) {
        return page(&all_page(&sent.visitor, &store, 1, &sent.form, None).await?);
    }
    let pace = store.only::<Pace>(bench).await?.1;
    let chosen = chosen(&store, bench, &sent.form).await?;
    match wanted(&sent.form, chosen, &pace) {
        Ok(sitting) => {
            let id = Uuid::now_v7();
            let label = format!("plan {}", sitting.name);
            store.change(bench, Scope::Bench, &label, vec![Change::add(id, &sitting)?]).await?;
            let then = if sent.form.get("then").is_some_and(|then| then == "bench") { "/bench" } else { "" };
            Ok(see(format!("/evenings/{id}{then}")))
        }
        Err(says) => refused(&all_page(&sent.visitor, &store, 1, &sent.form, Some(sentence(&says))).await?),
    }
}

/// Whether other panels are asked for: by a button, or by another word to find them by and the Enter key.
fn turns(form: &HashMap<String, String>) -> bool {
    let word = |field: &str| form.get(field).map_or("", |word| word.trim());
    form.contains_key("panels") || word("find") != word("found")
}

fn wanted(
    form: &HashMap<String, String>,
    panels: Vec<(Kept<Panel>, String)>,
    pace: &Pace,
) -> Result<Sitting, String> {
    let mut cards = Vec::new();
    for (Kept { value, .. }, written) in panels {
        let count: usize = written
            .parse()
            .map_err(|_| format!("“{written:.20}” cards of {}: write a whole number", value.name))?;
        if cards.len() + count > MOST_CARDS {
            return Err(format!("An evening takes up to {MOST_CARDS} cards: ask for fewer"));
        }
        let fresh = value.afresh();
        cards.extend(std::iter::repeat_n(fresh, count));
    }
    if cards.is_empty() {
        return Err("Say for at least one panel how many cards you make of it".into());
    }
    let name = form.get("name").map_or("", |name| name.trim());
    let name = if name.is_empty() { "An evening at the bench" } else { name };
    let named = |name: &str| name.parse().map_err(|error: rosy_core::ink::DrawerError| error.to_string());
    let name = named(name)?;
    let room = form.get("room").map(|room| room.trim()).filter(|room| !room.is_empty());
    let room: Option<Name> = room.map(named).transpose()?;
    let own = pace.in_room(room.as_ref());
    cards.iter_mut().for_each(|card: &mut Panel| card.pace = own.clone());
    Ok(Sitting { name, cards, heat: true, room, minutes: None, log: Vec::new() })
}

/// A card's column.
struct Column {
    x: i64,
    name: String,
    /// The same, as far as there is room for it.
    short: String,
    picture: String,
    done: String,
    is_later: bool,
}

/// What the hands do on a card.
struct Block {
    x: i64,
    y: i64,
    high: i64,
    colour: String,
    says: String,
    /// Where its words stand, and whether they end there.
    label: i64,
    ends_there: bool,
    is_told: bool,
    is_done: bool,
}

struct Shade {
    x: i64,
    y: i64,
    high: i64,
}

#[derive(Template)]
#[template(path = "evening.html")]
struct EveningPage {
    frame: Frame,
    id: String,
    name: String,
    wide: i64,
    high: i64,
    columns: Vec<Column>,
    hours: Vec<(i64, String)>,
    shades: Vec<Shade>,
    thread: String,
    blocks: Vec<Block>,
    now: Option<i64>,
    title: String,
    sooner: String,
    later: Vec<String>,
    leftovers: Vec<String>,
    /// What there is not enough of.
    short: Vec<String>,
    /// Whether any card has not begun.
    can_be_cut: bool,
    /// Whether any card is done.
    /// Whether a finished card is not in the record yet.
    can_be_recorded: bool,
    heat: bool,
    minutes: String,
    /// Where it is.
    room: Option<String>,
    /// The steps, as they are printed: when, which card, what, and what is done to the brush first.
    steps: Vec<(String, String, String, Option<String>)>,
    wrong: Option<String>,
}

/// Pixels to a minute, before the first column, from one to the next at least and at most, and what there is for all of them.
const MINUTE: i64 = 16;
const LEFT: i64 = 112;
const APART: (i64, i64) = (96, 168);
const ROOM: i64 = 830;
const TOP: i64 = 12;
/// A block lower than this has no room for its words.
const LEAST_TOLD: i64 = 11;

fn at(seconds: i64) -> i64 {
    TOP + seconds * MINUTE / 60
}

fn clock(seconds: i64) -> String {
    format!("{}:{:02}", seconds / 3600, seconds / 60 % 60)
}

impl Block {
    /// A step on the thread of its card, which stands at `x`; the last card's words stand before it.
    fn of(drawn: &Drawn, x: i64, apart: i64, ends_there: bool) -> Block {
        let high = ((drawn.to - drawn.from) * MINUTE / 60 - 1).max(2);
        Block {
            x,
            y: at(drawn.from),
            high,
            colour: drawn.colour.clone(),
            says: short(&drawn.says, apart),
            label: x + if ends_there { -12 } else { 12 },
            ends_there,
            is_told: high >= LEAST_TOLD,
            is_done: drawn.is_done,
        }
    }
}

fn drawn(
    id: Uuid,
    sitting: &Sitting,
    (shelf, can_be_recorded): (&Shelf, bool),
    frame: Frame,
    wrong: Option<String>,
) -> EveningPage {
    let units = frame.units;
    let standing = sitting.standing();
    let (names, cards) = (sitting.names(), &standing.evening.cards);
    let scheduled = &standing.scheduled;
    // What has been done stands above, by the clock; the plan goes on from when something was last told.
    let begun =
        standing.done.first().map_or(0, |_| sitting.log.iter().map(|told| told.at).min().unwrap_or(0));
    let gone = standing.at.map_or(0, |at| if begun == 0 { 0 } else { (at - begun) / 1000 });
    let titles: Vec<Vec<String>> = cards.iter().map(|card| titles(card, units)).collect();
    let mut blocks = past(&standing, &titles, begun);
    blocks.extend(
        scheduled
            .steps
            .iter()
            .map(|step| Drawn::of(&standing, &titles, step, (gone + step.begins, gone + step.ends), false)),
    );
    let finish = gone + scheduled.cost.finish;
    let last = cards.len().saturating_sub(1);
    let apart = (ROOM / cards.len().max(1) as i64).clamp(APART.0, APART.1);
    let x = |card: usize| LEFT + apart * card as i64;
    let block = |drawn: &Drawn| Block::of(drawn, x(drawn.card), apart, drawn.card == last && drawn.card > 0);
    let column = |(card, panel): (usize, &Panel)| Column {
        x: x(card),
        short: short_name(&names[card], apart + 14),
        name: names[card].clone(),
        picture: format!("/evenings/{id}/cards/{card}.png?dpi=26&seen={}", drawn_from(panel)),
        done: scheduled.done[card].map_or(String::new(), |done| clock(gone + done)),
        is_later: scheduled.later.contains(&card),
    };
    let printed = |step: &Step| {
        let brush = step.readied.and_then(|readied| scheduled.desk.says(readied));
        let (name, says) = (names[step.card].clone(), says(&cards[step.card], &titles[step.card], step));
        (clock(gone + step.begins), name, says, brush)
    };
    let count = cards.len() - scheduled.later.len();
    let left = finish - if standing.at.is_some() { gone } else { 0 };
    EveningPage {
        id: id.to_string(),
        name: sitting.name.to_string(),
        wide: LEFT + apart * cards.len() as i64 - apart / 3,
        high: at(finish) + 30,
        columns: cards.iter().enumerate().map(column).collect(),
        hours: (0..=finish / 900).map(|quarter| (at(900 * quarter), clock(900 * quarter))).collect(),
        shades: shades(&standing, &blocks, gone, x),
        thread: thread(&blocks, x),
        blocks: blocks.iter().map(block).collect(),
        now: standing.at.map(|_| at(gone)),
        title: match left {
            1.. => format!("{} in {}", many(count, "card"), told(left as f64)),
            _ => format!("{}, all done", many(count, "card")),
        },
        sooner: if left > 0 { sooner(scheduled) } else { String::new() },
        later: scheduled.later.iter().map(|card| names[*card].clone()).collect(),
        can_be_cut: !sitting.not_begun().is_empty(),
        short: supplies::short(shelf, &sitting.cards),
        leftovers: leftovers(&standing.evening, &scheduled.later).into_iter().map(|one| one.says).collect(),
        can_be_recorded,
        heat: sitting.heat,
        room: sitting.room.as_ref().map(Name::to_string),
        minutes: sitting.minutes.map_or(String::new(), |minutes| minutes.to_string()),
        steps: scheduled.steps.iter().map(printed).collect(),
        wrong,
        frame,
    }
}

/// How much sooner it could be at all.
fn sooner(scheduled: &Scheduled) -> String {
    match scheduled.bound() {
        _ if scheduled.is_proven => "Sooner it cannot be.".into(),
        bound if bound < scheduled.cost.finish => {
            format!("Sooner than in {} it cannot be.", told(bound as f64))
        }
        _ => String::new(),
    }
}

/// What the hands do or did, by the clock in seconds.
struct Drawn {
    card: usize,
    from: i64,
    to: i64,
    colour: String,
    says: String,
    is_done: bool,
    /// Seconds that it takes to dry.
    dries: i64,
}

impl Drawn {
    fn of(
        standing: &Standing,
        titles: &[Vec<String>],
        step: &Step,
        (from, to): (i64, i64),
        is_done: bool,
    ) -> Drawn {
        let card = &standing.evening.cards[step.card];
        let own = card.moves.get(step.moves.clone()).unwrap_or(&[]);
        let laying = own.iter().rev().find_map(Technique::laying);
        let colour = match laying {
            Some(laying) => super::cover::pip(&card.inks[laying.ink]).1,
            None if step.heats => "#d98a2b".into(),
            None => "#b9a9a6".into(),
        };
        let dries = |figure: Figure, ink: Option<usize>| {
            let (ink, card_name) = (ink.map(|ink| &card.inks[ink].name), &card.paper.name);
            card.pace.dries_in(figure, With { ink, card: Some(card_name), tool: None }).1
        };
        let last = own.iter().rev().find_map(|m| m.drying(&card.inks));
        let seconds = last.map_or(0, |figure| dries(figure, laying.map(|laying| laying.ink)));
        let says = says(card, &titles[step.card], step);
        Drawn { card: step.card, from, to, colour, says, is_done, dries: i64::from(seconds) }
    }
}

/// Steps that are done, by the clock: each from what was told before it.
fn past(standing: &Standing, titles: &[Vec<String>], begun: i64) -> Vec<Drawn> {
    let mut before = 0;
    let one = |(card, moves, ended): &(usize, std::ops::Range<usize>, i64)| {
        let to = (ended - begun) / 1000;
        let from = before.max(to - 1800);
        before = to;
        // What was told done and only dries was heated.
        let own = standing.evening.cards[*card].moves.get(moves.clone()).unwrap_or(&[]);
        let heats = own.iter().any(Technique::dries) && own.iter().all(|m| m.dries() || !m.is_step());
        let step =
            Step { card: *card, moves: moves.clone(), heats, readied: None, from, begins: from, ends: to };
        Drawn::of(standing, titles, &step, (from, to.max(from + 10)), true)
    };
    standing.done.iter().map(one).collect()
}

/// A step's words as far as there is room for them: the length of its block tells the passes, the list below all of it.
fn short(says: &str, apart: i64) -> String {
    let says = says.split(':').next().unwrap_or(says);
    let says = says.strip_prefix("Deepen with ").or(says.strip_prefix("Back with ")).unwrap_or(says);
    let room = ((apart - 20) * 10 / 62).max(8) as usize;
    if says.chars().count() <= room {
        return says.to_owned();
    }
    let start: String = says.chars().take(room - 1).collect();
    format!("{}…", start.trim_end())
}

/// A card's name as far as there is room for it; its number stays.
fn short_name(name: &str, apart: i64) -> String {
    match name.rsplit_once(", ") {
        Some((name, number)) if number.parse::<u32>().is_ok() => {
            format!("{} {number}", short(name, apart - 16))
        }
        _ => short(name, apart),
    }
}

/// Where cards dry once something is done to them: as long as it takes, or until the hands come again.
fn shades(standing: &Standing, blocks: &[Drawn], gone: i64, x: impl Fn(usize) -> i64) -> Vec<Shade> {
    let mut shades = Vec::new();
    for (card, done) in standing.scheduled.done.iter().enumerate() {
        let own: Vec<&Drawn> = blocks.iter().filter(|block| block.card == card).collect();
        let next = own.iter().skip(1).map(|block| block.from).chain(done.map(|done| gone + done));
        for (block, next) in own.iter().zip(next) {
            let long = (next - block.to).min(block.dries);
            if long > 45 {
                shades.push(Shade { x: x(card), y: at(block.to), high: long * MINUTE / 60 });
            }
        }
    }
    shades
}

/// The thread of the hands from block to block, as a path.
fn thread(blocks: &[Drawn], x: impl Fn(usize) -> i64) -> String {
    let mut path = String::new();
    for (n, drawn) in blocks.iter().enumerate() {
        let (x, from, to) = (x(drawn.card), at(drawn.from), at(drawn.to));
        if n == 0 {
            path.push_str(&format!("M{x} {from}"));
        } else {
            // Down, across, and down again.
            let middle = from - 3;
            path.push_str(&format!("C{0} {middle} {x} {middle} {x} {from}", x));
        }
        path.push_str(&format!("L{x} {to}"));
    }
    path
}

async fn shown(
    visitor: Visitor,
    store: &Store,
    room: &Workroom,
    id: Uuid,
    wrong: Option<String>,
) -> Result<HttpResponse, PageProblem> {
    let sitting = store.one::<Sitting>(visitor.bench.id, id).await?.value;
    let shelf = store.only::<Shelf>(visitor.bench.id).await?.1;
    let (frame, is_wrong) = (Frame::of(&visitor), wrong.is_some());
    let can_be_recorded = !unrecorded(store, visitor.bench.id, &sitting).await?.is_empty();
    let with = (shelf, can_be_recorded);
    let drawn =
        room.done(visitor.asker(), move || drawn(id, &sitting, (&with.0, with.1), frame, wrong)).await?;
    if is_wrong { refused(&drawn) } else { page(&drawn) }
}

/// `GET /evenings/{id}`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    shown(visitor, &store, &room, *id, None).await
}

/// What is changed about an evening.
#[derive(Deserialize)]
pub struct Changed {
    #[serde(default)]
    minutes: String,
    #[serde(default)]
    heat: Option<String>,
}

/// `POST /evenings/{id}`: how much time there is, and whether there is a heat tool.
pub async fn change(
    sent: Sent<Changed>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let before = store.one::<Sitting>(bench, *id).await?.value;
    let written = sent.form.minutes.trim();
    let minutes = match written {
        "" => None,
        written => match written.parse::<u32>() {
            Ok(minutes) if (1..=LONGEST).contains(&minutes) => Some(minutes),
            _ => {
                let says = format!(
                    "“{written:.20}” minutes: write a whole number from 1 to {LONGEST}, or leave it empty."
                );
                return shown(sent.visitor, &store, &room, *id, Some(says)).await;
            }
        },
    };
    let after = Sitting { minutes, heat: sent.form.heat.is_some(), ..before.clone() };
    if after != before {
        let label = format!("change {}", before.name);
        store.change(bench, Scope::Bench, &label, vec![Change::replace(*id, &before, &after)?]).await?;
    }
    Ok(see(format!("/evenings/{}", *id)))
}

/// `POST /evenings/{id}/remove`.
pub async fn remove(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let sitting = store.one::<Sitting>(bench, *id).await?.value;
    let label = format!("remove {}", sitting.name);
    store.change(bench, Scope::Bench, &label, vec![Change::remove(*id, &sitting)?]).await?;
    Ok(see("/evenings"))
}
