//! The card of a panel: how it comes out as it stands on the page, carried to another format, and its files.

use actix_web::{HttpResponse, web};
use rosy_core::again::again;
use rosy_core::card::layers::Role;
use rosy_core::card::trim::Refusal;
use rosy_core::card::{Card, Envelope, Format, Made, Reveal, Trim, drawing, inking};
use rosy_core::document::Document;
use rosy_core::edges::size;
use rosy_core::edit::card::Change;
use rosy_core::length::thickness;
use rosy_core::place::Point;
use rosy_core::{Length, Panel, Units};
use rosy_store::{Kept, Store, StoreError};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use super::look::{Look, Seen, Wrong, all};
use crate::drawing::{pdf, svg};
use crate::error::{ApiProblem, Problem, sentence};
use crate::files;
use crate::files::attachment;
use crate::plans::planned;
use crate::visitor::{Caller, Read};
use crate::workroom::Workroom;

/// Letters along the longer side of a drawing on the page.
const LETTERS: f64 = 28.0;

/// How its card comes out.
#[derive(Serialize)]
pub struct Folded {
    /// Its card, or the one that would suit it where none is planned yet.
    card: Card,
    /// The card and its features, lengths as they are read.
    fields: Value,
    picture: String,
    views: Vec<View>,
    base: String,
    post: String,
    layers: Vec<LayerNote>,
    inking: InkingNote,
    trim: TrimNote,
    bulk: BulkNote,
    says: Vec<String>,
    pieces: Vec<PieceNote>,
}

#[derive(Serialize)]
struct View {
    name: String,
    svg: String,
}

#[derive(Serialize)]
struct LayerNote {
    size: String,
    width: String,
    height: String,
    shows: String,
    window: Option<String>,
}

#[derive(Serialize)]
struct InkingNote {
    says: String,
    /// The piece as it is, where it has another size than that.
    piece: Option<String>,
    /// The panel with the piece in that size.
    remedy: Option<Remedy>,
    tape: Vec<String>,
}

#[derive(Serialize)]
struct TrimNote {
    marks: Option<String>,
    cuts: Vec<String>,
    refusal: Option<String>,
    remedies: Vec<Remedy>,
}

#[derive(Serialize)]
struct Remedy {
    says: String,
    panel: Panel,
}

#[derive(Serialize)]
struct BulkNote {
    thickness: String,
    stiffness: String,
    within: Option<bool>,
    swaps: Vec<Remedy>,
}

#[derive(Serialize)]
struct PieceNote {
    name: String,
    size: String,
    card: String,
}

impl Look for Folded {
    type Change = Change;
    type Owned = Vec<Envelope>;

    async fn owned(store: &Store, bench: Uuid) -> Result<Vec<Envelope>, StoreError> {
        Ok(all(store, bench).await?.into_iter().chain(Envelope::usual()).collect())
    }

    fn of(seen: &Seen, envelopes: &Vec<Envelope>) -> Result<Folded, Wrong> {
        let (panel, units) = (seen.panel, seen.units);
        let card = panel.card.clone().unwrap_or_else(|| Card::fitting(&panel.inked(), units));
        let (made, post) = card.made(&panel.inked(), envelopes, units).map_err(Wrong::nowhere)?;
        let told = made.units;
        let views = drawing::all(&card, &made, &panel.inked())
            .iter()
            .enumerate()
            .map(|(n, drawn)| View {
                name: drawn.name.clone(),
                svg: svg::for_page(drawn, &format!("view-{n}"), LETTERS),
            })
            .collect();
        let base = &made.base;
        let base = if base.scores.is_empty() {
            format!("One leaf, cut {}.", size(base.width, base.height, told))
        } else {
            made.says.first().cloned().unwrap_or_default()
        };
        let fields = serde_json::json!({
            "card": card, "features": panel.features, "piece": { "width": panel.width, "height": panel.height },
        });
        Ok(Folded {
            picture: seen.drawn()?,
            fields: as_read(fields, "", units),
            layers: layers(&card, &made, units),
            inking: inking(&card, &made, panel, told),
            trim: trim(&card, &made, panel, told),
            bulk: bulk(&card, &made, panel, units),
            says: made.says.iter().skip(usize::from(!made.base.scores.is_empty())).cloned().collect(),
            pieces: pieces(&made, told),
            post: post.says,
            views,
            base,
            card,
        })
    }
}

/// A document's lengths as the maker reads them, without their unit; thicknesses with it.
fn as_read(value: Value, key: &str, units: Units) -> Value {
    let fine = matches!(key, "thickness" | "thick" | "post_limit");
    match value {
        Value::String(text) if key == "name" => Value::String(text),
        Value::String(text) if fine => {
            Value::String(thickness::read(&text).map_or(text, |length| length.in_thickness_field(units)))
        }
        Value::String(text) => match text.parse::<Length>() {
            Ok(length) if text.ends_with(" in") || text.ends_with(" mm") => {
                Value::String(length.in_field(units))
            }
            _ => Value::String(text),
        },
        Value::Array(all) => Value::Array(all.into_iter().map(|value| as_read(value, key, units)).collect()),
        Value::Object(all) => {
            all.into_iter().map(|(key, value)| (key.clone(), as_read(value, &key, units))).collect()
        }
        other => other,
    }
}

fn layers(card: &Card, made: &Made, units: Units) -> Vec<LayerNote> {
    let told = made.units;
    let of = |at: usize| made.stacked.layers.iter().filter(move |placed| placed.of == at);
    let note = |at: usize| {
        let sizes: Vec<String> =
            of(at).map(|placed| size(placed.place.width, placed.place.height, told)).collect();
        let top = of(at).next_back();
        let shown = |length: Option<Length>| length.map(|l| l.in_field(units)).unwrap_or_default();
        LayerNote {
            size: sizes.join(", then "),
            width: shown(top.map(|top| top.place.width)),
            height: shown(top.map(|top| top.place.height)),
            shows: top.map(|top| top.reveal.words(told)).unwrap_or_default(),
            window: top.and_then(|top| top.window).map(|window| {
                let (opens, frame) = (window.place, window.frame.words(told));
                format!("opens {}, frame {frame}", size(opens.width, opens.height, told))
            }),
        }
    };
    (0..card.layers.len()).map(note).collect()
}

fn inking(card: &Card, made: &Made, panel: &Panel, units: Units) -> InkingNote {
    let place = made.panel.place;
    let differs = (panel.width, panel.height) != made.inked;
    let remedy = differs.then(|| {
        let planned = Panel { card: Some(card.clone()), ..panel.clone() };
        let resized = planned.resized(made.inked.0, made.inked.1, units).ok()?;
        let says = format!("Ink {} instead", size(made.inked.0, made.inked.1, units));
        Some(Remedy { says, panel: resized })
    });
    InkingNote {
        says: inking::says(place.width, place.height, card.over, units),
        piece: differs
            .then(|| format!("The piece as it is planned is {}.", size(panel.width, panel.height, units))),
        remedy: remedy.flatten(),
        tape: made.taped.says.clone(),
    }
}

fn trim(card: &Card, made: &Made, panel: &Panel, units: Units) -> TrimNote {
    match &made.trimmed {
        Ok(trimmed) => {
            let s = |length: Length| length.said(units);
            let marks = trimmed.marks.map(|marks| {
                format!(
                    "From its centre mark {} to the left and {} to the right, {} up and {} down.",
                    s(marks.left),
                    s(marks.right),
                    s(marks.top),
                    s(marks.bottom)
                )
            });
            let cuts = trimmed.cuts.iter().map(|cut| cut.says.clone()).collect();
            TrimNote { marks, cuts, refusal: None, remedies: Vec::new() }
        }
        Err(refusal) => TrimNote {
            marks: None,
            cuts: Vec::new(),
            refusal: Some(refusal.says.clone()),
            remedies: remedies(card, made, panel, refusal, units),
        },
    }
}

/// What could be done about a trim that cannot be: the largest size, or the size with the offset; each tried first.
fn remedies(card: &Card, made: &Made, panel: &Panel, refusal: &Refusal, units: Units) -> Vec<Remedy> {
    let place = made.panel.place;
    let mut found = Vec::new();
    let mut offer = |says: String, changed: Card| {
        let panel = Panel { card: Some(changed.clone()), ..panel.clone() };
        let works = panel.check().is_ok();
        if works && changed.made(&panel.inked(), &[], units).is_ok_and(|(made, _)| made.trimmed.is_ok()) {
            found.push(Remedy { says, panel });
        }
    };
    if let (Some(width), Some(height)) = (refusal.largest_width, refusal.largest_height) {
        let (width, height) = (width.min(place.width), height.min(place.height));
        let mut changed = card.clone();
        for layer in changed.layers.iter_mut().filter(|layer| layer.role == Role::Panel) {
            (layer.width, layer.height, layer.reveal) = (Some(width), Some(height), Reveal::default());
        }
        offer(format!("Trim to {}", size(width, height, units)), changed);
    }
    if let (Trim::Feature { feature, .. }, Some(window)) = (card.trim, refusal.window) {
        let centre = panel.features[feature].at;
        let at = Point { left: centre.left - window.left, top: centre.top - window.top };
        let trim = Trim::Feature { feature, at: Some(at) };
        offer("Keep the size and let it stand off".into(), Card { trim, ..card.clone() });
    }
    found
}

fn bulk(card: &Card, made: &Made, panel: &Panel, units: Units) -> BulkNote {
    let bulk = &made.bulk;
    let swaps = bulk.swaps.iter().filter_map(|swap| {
        let swapped = card.built(swap.build.as_ref()?, &panel.inked());
        // As thick as the card is then, whatever else the swap takes along.
        let (made, _) = swapped.made(&panel.inked(), &[], units).ok()?;
        let says = format!("{}: {}", capital(&swap.says), made.bulk.thickness.as_thickness(units));
        Some(Remedy { says, panel: Panel { card: Some(swapped), ..panel.clone() } })
    });
    BulkNote {
        thickness: bulk.thickness.as_thickness(units),
        stiffness: bulk.stiffness_says.clone(),
        within: bulk.limit.map(|_| bulk.within),
        swaps: swaps.collect(),
    }
}

fn capital(text: &str) -> String {
    let mut rest = text.chars();
    rest.next().map_or_else(String::new, |first| first.to_uppercase().chain(rest).collect())
}

fn pieces(made: &Made, units: Units) -> Vec<PieceNote> {
    let note = |piece: &rosy_core::cut::Piece, card: String| PieceNote {
        name: match piece.count {
            1 => piece.name.to_string(),
            n => format!("{n} × {}", piece.name),
        },
        size: size(piece.width, piece.height, units),
        card,
    };
    let cut = made.pieces.iter().map(|piece| {
        note(piece, piece.paper.as_ref().map_or_else(|| "of any card".into(), ToString::to_string))
    });
    let out = made.windows.iter().map(|out| note(&out.piece, format!("comes out of {}", out.of)));
    cut.chain(out).collect()
}

/// A panel and the format it is to be made in.
#[derive(Deserialize)]
pub struct AgainAsked {
    panel: Document,
    format: Format,
}

/// `POST /api/panels/card/again`: the same panel on another card, with what had to give. Nothing is kept.
pub async fn make_again(
    caller: Caller,
    room: web::Data<Workroom>,
    Read(asked): Read<AgainAsked>,
) -> Result<HttpResponse, ApiProblem> {
    let units = caller.visitor.units();
    let carried = room.done(caller.visitor.asker(), move || {
        let panel = planned(asked.panel)?;
        again(&panel, &asked.format, units)
    });
    let panel = carried.await?.map_err(|error| Problem::Refused(sentence(&error.to_string())))?;
    Ok(HttpResponse::Ok().json(serde_json::json!({ "panel": panel })))
}

/// Which file, and on which paper.
#[derive(Deserialize)]
pub struct FileAsked {
    /// On which paper it is printed; the one that was last chosen where nothing is said.
    pub paper: Option<pdf::Paper>,
}

/// `GET /panels/{id}/card.{ending}`: all layers at true scale as `pdf` or `svg`, or the list of pieces as `csv`.
pub async fn file(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    path: web::Path<(Uuid, String)>,
    asked: web::Query<FileAsked>,
) -> Result<HttpResponse, ApiProblem> {
    let (id, ending) = path.into_inner();
    let units = caller.visitor.units();
    let kind = match ending.as_str() {
        "pdf" => "application/pdf",
        "svg" => "image/svg+xml",
        "csv" => "text/csv; charset=utf-8",
        _ => return Err(Problem::Missing("file").into()),
    };
    let Kept { value: panel, revision, .. } = store.one::<Panel>(caller.visitor.bench.id, id).await?;
    let name = format!("{} card", panel.name);
    let (paper, file) = (caller.visitor.paper(asked.paper)?, ending.clone());
    let key = format!("card {id} {revision} {ending} {paper:?} {units:?}");
    let body = room.made(caller.visitor.asker(), key, move || {
        let card = panel.card.clone().unwrap_or_else(|| Card::fitting(&panel.inked(), units));
        let made = card
            .made(&panel.inked(), &[], units)
            .map_err(|error| Problem::Refused(sentence(&error.to_string())))?
            .0;
        let (drawn, units) = (drawing::all(&card, &made, &panel.inked()), made.units);
        Ok(match file.as_str() {
            "pdf" => pdf::pages(panel.name.as_str(), &drawn, paper),
            "svg" => svg::all_for_file(&drawn).into_bytes(),
            _ => files::write_pieces(&made, units).into_bytes(),
        })
    });
    Ok(HttpResponse::Ok().content_type(kind).insert_header(attachment(&name, &ending)).body(body.await?))
}
