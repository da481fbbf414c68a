//! The next batch: what is to be cut, and that it has been.

use actix_web::{HttpResponse, web};
use rosy_core::card::Card;
use rosy_core::cut::stock::after;
use rosy_core::cut::{Batch, Piece};
use rosy_core::evening::Sitting;
use rosy_core::{Panel, Units};
use rosy_store::{Change, Kept, Scope, Store, StoreError};
use serde::Deserialize;
use uuid::Uuid;

use super::form::{Read, Written};
use super::page::{Desk, again};
use crate::error::{PageProblem, Problem, sentence};
use crate::pages::see;
use crate::stock::{Stock, seen, stock};
use crate::visitor::{Nothing, Sent};
use crate::workroom::Workroom;

/// The batch with something done to it, kept.
async fn change_batch(
    store: &Store,
    bench: Uuid,
    label: &str,
    with: impl FnOnce(&mut Batch),
) -> Result<(), StoreError> {
    let kept = store.all::<Batch>(bench).await?.into_iter().next();
    let change = match kept {
        Some(Kept { id, value, .. }) => {
            let mut changed = value.clone();
            with(&mut changed);
            Change::replace(id, &value, &changed)?
        }
        None => {
            let mut batch = Batch::default();
            with(&mut batch);
            Change::add(Uuid::now_v7(), &batch)?
        }
    };
    store.change(bench, Scope::Stock, label, vec![change]).await
}

/// `POST /stock/batch/cards`: everything that is cut for so many of a panel's cards.
pub async fn add_cards(
    sent: Sent<Written>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, written) = (sent.visitor, Written { form: "cards".into(), ..sent.form });
    let (bench, units) = (visitor.bench.id, visitor.units());
    let mut read = Read::of(&written, units);
    let Some(count) = read.count(1) else {
        let wrong = read.wrong;
        return again(&Desk { visitor: &visitor, store: &store, room: &room }, written, wrong).await;
    };
    let id = written.panel.parse().map_err(|_| Problem::Missing("panel"))?;
    let panel = store.one::<Panel>(bench, id).await?.value;
    let label = format!("add {count} of {}", panel.name);
    let (pieces, spare) = cut_for(&panel, count, units)?;
    change_batch(&store, bench, &label, |batch| {
        pieces.into_iter().for_each(|piece| batch.add(piece));
        spare.into_iter().for_each(|piece| batch.add_spare(piece));
    })
    .await?;
    Ok(see("/stock"))
}

/// `POST /evenings/{id}/cut`: everything that is cut for the cards of an evening that have not begun.
pub async fn add_evening(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units) = (sent.visitor.bench.id, sent.visitor.units());
    let sitting = store.one::<Sitting>(bench, *id).await?.value;
    let mut alike: Vec<(Panel, u32)> = Vec::new();
    for card in sitting.not_begun() {
        match alike.iter_mut().find(|(known, _)| *known == card) {
            Some((_, count)) => *count += 1,
            None => alike.push((card, 1)),
        }
    }
    if alike.is_empty() {
        return Err(Problem::Refused(
            "Every card of this evening has begun: there is nothing to cut.".into(),
        )
        .into());
    }
    let mut all = (Vec::new(), Vec::new());
    for (panel, count) in &alike {
        let (pieces, spare) = cut_for(panel, *count, units)?;
        all.0.extend(pieces);
        all.1.extend(spare);
    }
    let label = format!("add the cards of {}", sitting.name);
    change_batch(&store, bench, &label, |batch| {
        all.0.into_iter().for_each(|piece| batch.add(piece));
        all.1.into_iter().for_each(|piece| batch.add_spare(piece));
    })
    .await?;
    Ok(see("/stock"))
}

/// What is cut for so many of a panel's cards, and what comes out of their windows.
fn cut_for(panel: &Panel, count: u32, units: Units) -> Result<(Vec<Piece>, Vec<Piece>), Problem> {
    // A piece that is cut out and inked on its own stands on no card of its own: it takes the box round it.
    if panel.outline.is_some() {
        let (width, height) = panel.size();
        let (name, paper) = (panel.name.clone(), Some(panel.paper.name.clone()));
        return Ok((vec![Piece { name, width, height, grain: None, count, paper }], Vec::new()));
    }
    let card = panel.card.clone().unwrap_or_else(|| Card::fitting(&panel.inked(), units));
    let (made, _) = card
        .made(&panel.inked(), &[], units)
        .map_err(|error| Problem::Refused(sentence(&error.to_string())))?;
    let of_panel = |piece: Piece| {
        let name = format!("{}: {}", panel.name, piece.name.as_str().to_lowercase());
        Piece { name: name.parse().unwrap_or(piece.name.clone()), count, ..piece }
    };
    Ok((made.pieces.into_iter().map(of_panel).collect(), made.spare.into_iter().map(of_panel).collect()))
}

/// `POST /stock/batch/pieces`.
pub async fn add_piece(
    sent: Sent<Written>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, written) = (sent.visitor, Written { form: "piece".into(), ..sent.form });
    let mut read = Read::of(&written, visitor.units());
    let (name, (width, height), count) = (read.name(), read.sides(), read.count(1));
    let (grain, paper) = (read.grain(), read.paper());
    let (Some(name), Some(width), Some(height), Some(count)) = (name, width, height, count) else {
        let wrong = read.wrong;
        return again(&Desk { visitor: &visitor, store: &store, room: &room }, written, wrong).await;
    };
    let label = format!("add {count} of {name}");
    let piece = Piece { name, width, height, grain, count, paper };
    change_batch(&store, visitor.bench.id, &label, |batch| batch.add(piece)).await?;
    Ok(see("/stock"))
}

/// `POST /stock/batch/pieces/{at}/remove`.
pub async fn remove_piece(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    at: web::Path<usize>,
) -> Result<HttpResponse, PageProblem> {
    let mut removed = false;
    change_batch(&store, sent.visitor.bench.id, "take a piece out", |batch| {
        // First what is to be cut, then what comes out of windows, as they stand on the page.
        let windows = at.checked_sub(batch.pieces.len());
        removed = match windows {
            None => batch.pieces.drain(*at..=*at).next(),
            Some(at) if at < batch.spare.len() => batch.spare.drain(at..=at).next(),
            Some(_) => None,
        }
        .is_some();
    })
    .await?;
    if removed { Ok(see("/stock")) } else { Err(Problem::Missing("piece").into()) }
}

/// What the page had shown when it was decided to cut.
#[derive(Deserialize)]
pub struct CutAsked {
    #[serde(default)]
    seen: String,
}

/// `POST /stock/batch/cut`: the batch is cut; sheets go, offcuts come, and the next batch is empty.
pub async fn cut(
    sent: Sent<CutAsked>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let Stock { all: _, sheets, batch, asked, plan } = stock(&sent.visitor, &store, &room).await?;
    if seen(&asked, &sheets) != sent.form.seen {
        let says = "The stock or the batch has changed since this plan was shown. Nothing was cut: look at the plan again.";
        return Err(Problem::Conflict(says.into()).into());
    }
    let plan = plan
        .ok_or(Problem::Missing("batch"))?
        .map_err(|error| Problem::Refused(sentence(&error.to_string())))?;
    let gathered = batch.as_ref().map(|kept| kept.value.clone()).unwrap_or_default();
    let left = after(&asked.sheets, &gathered, &plan);
    let mut changes = Vec::new();
    for (kept, left) in sheets.iter().zip(&left) {
        if left.offcut && left.count == Some(0) {
            changes.push(Change::remove(kept.id, &kept.value)?);
        } else if *left != kept.value {
            changes.push(Change::replace(kept.id, &kept.value, left)?);
        }
    }
    for offcut in &left[sheets.len()..] {
        changes.push(Change::add(Uuid::now_v7(), offcut)?);
    }
    if let Some(Kept { id, value, .. }) = batch {
        changes.push(Change::replace(id, &value, &value.cleared())?);
    }
    store.change(bench, Scope::Stock, "cut the batch", changes).await?;
    Ok(see("/stock"))
}

/// `POST /stock/keep`: the shortest side of offcuts worth keeping, from now on.
pub async fn keep(
    sent: Sent<Written>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, written) = (sent.visitor, Written { form: "keep".into(), ..sent.form });
    let mut read = Read::of(&written, visitor.units());
    let side = read.side("keep", &written.keep).filter(|side| {
        let checked = rosy_core::cut::batch::check_keep(Some(*side));
        read.keep("keep", checked.map_err(|error| error.to_string())).is_some()
    });
    let Some(side) = side else {
        let wrong = read.wrong;
        return again(&Desk { visitor: &visitor, store: &store, room: &room }, written, wrong).await;
    };
    let label = format!("keep offcuts from {} on", side.shown(visitor.units()));
    change_batch(&store, visitor.bench.id, &label, |batch| batch.keep = Some(side)).await?;
    Ok(see("/stock#offcuts"))
}
