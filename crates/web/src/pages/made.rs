//! Made: all finished cards by picture, the record of each, and the maker's own times.

use actix_web::{HttpResponse, web};
use askama::Template;
use chrono::{DateTime, Datelike, Utc};
use rosy_core::edges::known_size;
use rosy_core::evening::Sitting;
use rosy_core::ink::{Ink, Name};
use rosy_core::learn::hand::{LearnedHand, Showings, hands_of};
use rosy_core::learn::learned::{By, Learned, learned};
use rosy_core::learn::{Figure, Hands, Pace};
use rosy_core::order::{RunSheet, brushes_used};
use rosy_core::record::Made;
use rosy_core::{Panel, Units};
use rosy_store::{Change, Kept, Scope, Store, StoreError};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, page, refused, see, size, supplies};
use crate::clock::Clock;
use crate::error::{PageProblem, Problem, sentence};
use crate::picture::drawn_from;
use crate::say::{many, word};
use crate::visitor::{Nothing, Sent, Visitor};
use crate::workroom::Workroom;

struct Row {
    id: String,
    name: String,
    when: String,
    to: String,
    seen: String,
    faults: String,
    /// Its photo, where there is one; else it is drawn.
    photo: Option<String>,
}

#[derive(Template)]
#[template(path = "made.html")]
struct MadePage {
    frame: Frame,
    find: String,
    rows: Vec<Row>,
    all: usize,
    /// Spare cards that still lie there.
    spares: Vec<Spare>,
    /// The maker's own figures.
    times: Vec<Time>,
    /// What her light passes leave.
    hands: Vec<HandShown>,
}

/// A spare card that still lies there.
pub struct Spare {
    pub id: String,
    pub n: u8,
    pub name: String,
    pub seen: String,
    pub size: String,
}

impl Spare {
    /// All that some records have left.
    pub fn all(made: &[Kept<Made>], units: Units) -> Vec<Spare> {
        let of = |kept: &Kept<Made>| {
            let (id, panel) = (kept.id, kept.value.panel.clone());
            let spare = move |n: u8| Spare {
                id: id.to_string(),
                n,
                name: panel.name.to_string(),
                seen: drawn_from(&panel),
                size: size(&panel, units),
            };
            kept.value.left_over().into_iter().map(spare).collect::<Vec<_>>()
        };
        made.iter().flat_map(of).collect()
    }
}

/// A figure that the maker's evenings have.
struct Time {
    says: String,
    /// Whether it surely differs from the guide's.
    differs: bool,
    /// Whether plans go by it.
    is_taken: bool,
    figure: String,
    by: String,
    of: String,
}

/// What her light passes leave, with a tool on a card.
struct HandShown {
    says: String,
    differs: bool,
    /// Whether there is anything to plan with.
    is_told: bool,
    /// What she plans with now, and whether that is what her panels say.
    planned: Option<String>,
    is_newest: bool,
    /// Panels that counted for little.
    odd: String,
    tool: String,
    card: String,
}

impl HandShown {
    fn of(learned: LearnedHand, hands: &Hands) -> HandShown {
        let planned = hands.has(learned.tool.as_ref(), learned.card.as_ref());
        let odd: Vec<&str> = learned.odd.iter().map(Name::as_str).collect();
        let named = |name: &Option<Name>| name.as_ref().map_or(String::new(), ToString::to_string);
        HandShown {
            differs: learned.differs,
            is_told: learned.strength.is_some() || learned.unevenness.is_some(),
            planned: planned.map(|hand| {
                format!("planned with {} % strength and {} % unevenness", hand.strength, hand.unevenness)
            }),
            is_newest: planned == Some(learned.hand()),
            odd: rosy_core::say::list(&odd),
            tool: named(&learned.tool),
            card: named(&learned.card),
            says: learned.says,
        }
    }
}

/// What is looked for.
#[derive(Deserialize)]
pub struct Find {
    #[serde(default)]
    find: String,
}

/// A day as it is read.
pub fn day(at: i64) -> String {
    DateTime::<Utc>::from_timestamp_millis(at)
        .map_or(String::new(), |date| date.format("%-d %B %Y").to_string())
}

/// The season of the northern year, the month and the year, as they are looked for.
fn season(at: i64) -> String {
    let Some(date) = DateTime::<Utc>::from_timestamp_millis(at) else { return String::new() };
    let season = match date.month() {
        3..=5 => "spring",
        6..=8 => "summer",
        9..=11 => "autumn",
        _ => "winter",
    };
    format!("{season} {}", date.format("%B %Y"))
}

fn row(kept: Kept<Made>) -> Row {
    let Made { panel, at, to, faults, .. } = &kept.value;
    let faults: Vec<&str> = faults.iter().map(|fault| fault.words()).collect();
    Row {
        id: kept.id.to_string(),
        name: panel.name.to_string(),
        when: day(*at),
        to: to.clone(),
        seen: drawn_from(panel),
        faults: faults.join(", "),
        photo: kept.value.photo.clone(),
    }
}

/// `GET /made`.
pub async fn all(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    asked: web::Query<Find>,
) -> Result<HttpResponse, PageProblem> {
    let bench = visitor.bench.id;
    let mut made = store.all::<Made>(bench).await?;
    let (all, spares) = (made.len(), Spare::all(&made, visitor.units()));
    made.retain(|kept| kept.value.is_found_by(&asked.find, &season(kept.value.at)));
    // The last one first: what did she get last?
    made.sort_by_key(|kept| std::cmp::Reverse(kept.value.at));
    let pace = store.only::<Pace>(bench).await?.1;
    let time = |one: Learned| Time {
        is_taken: pace.has(one.figure, one.by, one.of.as_ref()),
        figure: word(one.figure),
        by: word(one.by),
        of: one.of.map_or(String::new(), |of| of.to_string()),
        says: one.says,
        differs: one.differs,
    };
    let figures = own_figures(&visitor, &store, &room).await?;
    let planned = store.only::<Hands>(bench).await?.1;
    let hands = own_hands(&visitor, &store, &room).await?;
    page(&MadePage {
        frame: Frame::of(&visitor),
        find: asked.find.clone(),
        rows: made.into_iter().map(row).collect(),
        all,
        spares,
        times: figures.into_iter().map(time).collect(),
        hands: hands.into_iter().map(|learned| HandShown::of(learned, &planned)).collect(),
    })
}

/// What all evenings of a bench say of its maker's times.
async fn own_figures(visitor: &Visitor, store: &Store, room: &Workroom) -> Result<Vec<Learned>, PageProblem> {
    let sittings = store.all::<Sitting>(visitor.bench.id).await?;
    let learned = room.done(visitor.asker(), move || {
        let logs: Vec<_> = sittings.iter().flat_map(|kept| kept.value.times()).collect();
        learned(&logs)
    });
    Ok(learned.await?)
}

/// A figure to be taken over, or left to the guide again.
#[derive(Deserialize)]
pub struct Chosen {
    figure: Figure,
    by: By,
    #[serde(default)]
    of: String,
    #[serde(default)]
    take: bool,
}

/// `POST /made/times`: plans go by a figure of the maker's own from now on, or by the guide's again.
pub async fn choose_time(
    sent: Sent<Chosen>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, Chosen { figure, by, of, take }) = (sent.visitor, sent.form);
    let bench = visitor.bench.id;
    let of: Option<Name> = of.parse().ok();
    let (id, before) = store.only::<Pace>(bench).await?;
    let after = if take {
        let figures = own_figures(&visitor, &store, &room).await?;
        let found = figures.iter().find(|one| one.figure == figure && one.by == by && one.of == of);
        before.with(found.ok_or(Problem::Missing("figure"))?)
    } else {
        before.without(figure, by, of.as_ref())
    };
    let label = if take { "plan with my own figure" } else { "plan with the guide's figure" };
    store.put_only(bench, Scope::Bench, label, ((id, before), &after)).await?;
    Ok(see("/made#times-title"))
}

/// What all panels that were shown say of a maker's hand.
async fn own_hands(
    visitor: &Visitor,
    store: &Store,
    room: &Workroom,
) -> Result<Vec<LearnedHand>, PageProblem> {
    let shown = store.only::<Showings>(visitor.bench.id).await?.1;
    Ok(room.done(visitor.asker(), move || hands_of(&shown.0)).await?)
}

/// A hand to be taken over, or left to the guide again.
#[derive(Deserialize)]
pub struct ChosenHand {
    #[serde(default)]
    tool: String,
    #[serde(default)]
    card: String,
    #[serde(default)]
    take: bool,
}

/// `POST /made/hands`: panels that are not begun are planned with her own light pass from now on, or with the guide's again.
pub async fn choose_hand(
    sent: Sent<ChosenHand>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, ChosenHand { tool, card, take }) = (sent.visitor, sent.form);
    let bench = visitor.bench.id;
    let [tool, card] = [tool, card].map(|name| name.parse::<Name>().ok());
    let (id, before) = store.only::<Hands>(bench).await?;
    let after = if take {
        let learned = own_hands(&visitor, &store, &room).await?;
        let found = learned.iter().find(|one| one.tool == tool && one.card == card);
        before.with(found.ok_or(Problem::Missing("hand"))?)
    } else {
        before.without(tool.as_ref(), card.as_ref())
    };
    let mut changes = match id {
        Some(id) => vec![Change::replace(id, &before, &after)?],
        None => vec![Change::add(Uuid::now_v7(), &after)?],
    };
    for Kept { id, value: panel, .. } in store.all::<Panel>(bench).await? {
        let hand = |hands: &Hands| hands.of(&panel.tool.name, &panel.paper.name);
        if panel.done == 0 && hand(&panel.hands) != hand(&after) {
            changes.push(Change::replace(id, &panel, &Panel { hands: after.clone(), ..panel.clone() })?);
        }
    }
    let label = if take { "plan with my own hand" } else { "plan with the guide's hand" };
    store.change(bench, Scope::Bench, label, changes).await?;
    Ok(see("/made#hands-title"))
}

#[derive(Template)]
#[template(path = "record.html")]
struct RecordPage {
    frame: Frame,
    id: String,
    name: String,
    seen: String,
    ratio: String,
    when: String,
    size: String,
    paper: String,
    brushes: String,
    inks: Vec<(String, String)>,
    techniques: String,
    took: String,
    faults: Vec<&'static str>,
    to: String,
    note: String,
    steps: Vec<String>,
    photo: Option<String>,
    wrong: Option<String>,
}

/// How large the piece was that was inked, and what is seen of it on its card where that is another size.
fn inked_and_finished(panel: &Panel, units: Units) -> String {
    let inked = size(panel, units);
    match panel.card.as_ref().and_then(|card| card.finished(units).ok()) {
        Some((width, height)) if (width, height) != panel.size() => {
            format!("{} finished, inked {inked}", known_size(width, height, units))
        }
        _ => inked,
    }
}

fn record(frame: Frame, id: Uuid, made: &Made) -> RecordPage {
    let (panel, units) = (&made.panel, frame.units);
    RecordPage {
        id: id.to_string(),
        name: panel.name.to_string(),
        seen: drawn_from(panel),
        ratio: format!("{:.4}", panel.width.ratio(panel.height)),
        when: day(made.at),
        size: inked_and_finished(panel, units),
        paper: panel.paper.name.to_string(),
        brushes: brushes_used(panel).join(", "),
        inks: panel
            .inks
            .iter()
            .map(|ink| (format!("{}, {}", ink.name, ink.kind), super::cover::pip(ink).1))
            .collect(),
        techniques: made.techniques().join(", "),
        took: made.minutes.map_or(String::new(), |minutes| many(minutes as usize, "minute")),
        faults: made.faults.iter().map(|fault| fault.words()).collect(),
        to: made.to.clone(),
        note: made.note.clone(),
        steps: RunSheet::of(panel, units).steps.into_iter().map(|step| step.title).collect(),
        photo: made.photo.clone(),
        wrong: None,
        frame,
    }
}

/// `GET /made/{id}`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let made = store.one::<Made>(visitor.bench.id, *id).await?.value;
    page(&record(Frame::of(&visitor), *id, &made))
}

/// What is written of it.
#[derive(Deserialize)]
pub struct Written {
    #[serde(default)]
    to: String,
    #[serde(default)]
    note: String,
}

/// `POST /made/{id}`: to whom it went, and what there is to say.
pub async fn save(
    sent: Sent<Written>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let before = store.one::<Made>(bench, *id).await?.value;
    let Written { to, note } = sent.form;
    match before.written(&to, &note) {
        Ok(after) => {
            let label = format!("write of {}", before.panel.name);
            if after != before {
                store
                    .change(bench, Scope::Bench, &label, vec![Change::replace(*id, &before, &after)?])
                    .await?;
            }
            Ok(see(format!("/made/{}", *id)))
        }
        Err(error) => {
            let frame = Frame::of(&sent.visitor);
            let wrong = Some(sentence(&error.to_string()));
            refused(&RecordPage { to, note, wrong, ..record(frame, *id, &before) })
        }
    }
}

/// `POST /made/{id}/again`: a panel to make it again; what is not owned any more is replaced by what comes nearest.
pub async fn again(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let made = store.one::<Made>(bench, *id).await?.value;
    let drawer: Vec<Ink> = store.all::<Ink>(bench).await?.into_iter().map(|kept| kept.value).collect();
    let (panel, replaced) = room.done(sent.visitor.asker(), move || made.again(&drawer)).await?;
    let gave = replaced.into_iter().map(|one| match one.by {
        Some(by) => {
            format!("{} is not in the drawer any more: {by} comes nearest, and stands in its place.", one.ink)
        }
        None => format!(
            "{} is not in the drawer any more, and nothing comes near it: it stays in the plan.",
            one.ink
        ),
    });
    let gave = gave.collect();
    let panel = Panel { name: panel.name.with_tail(", again"), gave, pace: Pace::default(), ..panel };
    let id = store.add_panel(bench, &panel).await?;
    Ok(see(format!("/panels/{id}/card")))
}

/// `POST /made/{id}/no-photo`: its photo is taken off; undo puts it back.
pub async fn no_photo(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    store.set_photo(sent.visitor.bench.id, *id, None).await?;
    Ok(see(format!("/made/{}", *id)))
}

/// `POST /made/{id}/spare/{n}`: a spare card pressed off its mat becomes a panel, to go on with.
pub async fn use_spare(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    at: web::Path<(Uuid, u8)>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, (id, n)) = (sent.visitor.bench.id, at.into_inner());
    let before = store.one::<Made>(bench, id).await?.value;
    if !before.left_over().contains(&n) {
        return Err(Problem::Missing("spare card").into());
    }
    let made = before.clone();
    let panel = room.done(sent.visitor.asker(), move || made.spare(n)).await?;
    let panel = panel.ok_or(Problem::Missing("spare card"))?;
    let mut after = before.clone();
    after.used.push(n);
    let new = Uuid::now_v7();
    let changes = vec![Change::add(new, &panel)?, Change::replace(id, &before, &after)?];
    store.change(bench, Scope::Bench, &format!("take {}", panel.name), changes).await?;
    Ok(see(format!("/panels/{new}/cover")))
}

/// `POST /made/{id}/remove`.
pub async fn remove(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let made = store.one::<Made>(bench, *id).await?.value;
    let label = format!("remove the record of {}", made.panel.name);
    store.change(bench, Scope::Bench, &label, vec![Change::remove(*id, &made)?]).await?;
    Ok(see("/made"))
}

/// `POST /panels/{id}/made`: a panel goes into the record as it stands.
pub async fn of_panel(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    clock: web::Data<Clock>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let panel = store.one::<Panel>(bench, *id).await?.value;
    let made = Made::new(panel, clock.now());
    let (id, label) = (Uuid::now_v7(), format!("record {}", made.panel.name));
    let mut changes = vec![Change::add(id, &made)?];
    changes.extend(supplies::taken(&store, bench, std::slice::from_ref(&made.panel)).await?);
    store.change(bench, Scope::Bench, &label, changes).await?;
    Ok(see(format!("/made/{id}")))
}

/// The finished cards of an evening that are not in the record yet.
pub async fn unrecorded(store: &Store, bench: Uuid, sitting: &Sitting) -> Result<Vec<Made>, StoreError> {
    let known = store.all::<Made>(bench).await?;
    let is_new =
        |made: &Made| !known.iter().any(|kept| kept.value.at == made.at && kept.value.panel == made.panel);
    Ok(sitting.finished().into_iter().map(Made::from).filter(is_new).collect())
}

/// `POST /evenings/{id}/made`: the evening's finished cards go into the record, each once.
pub async fn of_evening(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let sitting = store.one::<Sitting>(bench, *id).await?.value;
    let (mut changes, mut taken) = (Vec::new(), Vec::new());
    for made in unrecorded(&store, bench, &sitting).await? {
        changes.push(Change::add(Uuid::now_v7(), &made)?);
        taken.push(made.panel);
    }
    if changes.is_empty() {
        let says = "No card of this evening is done that is not in the record already.";
        return Err(Problem::Refused(says.into()).into());
    }
    let label = format!("record {}", many(changes.len(), "card"));
    changes.extend(supplies::taken(&store, bench, &taken).await?);
    store.change(bench, Scope::Bench, &label, changes).await?;
    Ok(see("/made"))
}
