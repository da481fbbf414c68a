//! The card of a panel: how it comes out as it stands on the page, carried to another format, and its files.

use actix_web::http::header::CONTENT_DISPOSITION;
use actix_web::{HttpResponse, web};
use rosy_core::card::edges::{Edges, Point, size};
use rosy_core::card::layers::Role;
use rosy_core::card::trim::Refusal;
use rosy_core::card::{Again, Card, Envelope, Format, Made, Reveal, Trim, again, drawing, inking};
use rosy_core::length::thickness;
use rosy_core::{Length, Panel, Units};
use rosy_store::Store;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use super::picture::attachment;
use crate::drawing::{pdf, svg};
use crate::error::{ApiProblem, Problem};
use crate::files;
use crate::picture::data_url;
use crate::visitor::{Caller, Document};

/// Letters along the longer side of a drawing on the page.
const LETTERS: f64 = 28.0;

/// A panel as it stands on the page.
#[derive(Deserialize)]
pub struct Asked {
    panel: Panel,
    /// The size the piece is to have from now on; what is left out stays.
    #[serde(default)]
    piece: Piece,
    /// Pixels to the inch of its picture.
    dpi: f64,
}

/// A piece to ink.
#[derive(Default, Deserialize)]
struct Piece {
    width: Option<Length>,
    height: Option<Length>,
}

/// How its card comes out.
#[derive(Serialize)]
struct Look {
    panel: Panel,
    /// The card and its features, lengths as they are read.
    fields: Value,
    /// The middle of the piece, on a mark.
    middle: Point,
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
    /// Width and height, as documents hold them.
    exact: Option<(Length, Length)>,
    shows: String,
    /// What shows at each edge, as documents hold it.
    reveal: Option<Edges<Length>>,
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
    /// Where the feature stands on the finished panel, as documents hold it.
    at: Option<Point>,
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
    swaps: Vec<String>,
}

#[derive(Serialize)]
struct PieceNote {
    name: String,
    size: String,
    card: String,
}

/// `POST /api/panels/card`. Nothing is kept.
pub async fn look(caller: Caller, Document(asked): Document<Asked>) -> Result<HttpResponse, ApiProblem> {
    let units = caller.visitor.units();
    let looked = web::block(move || looked(asked, units)).await;
    let look = looked.map_err(|error| Problem::Away(error.to_string()))?.map_err(Problem::Refused)?;
    Ok(HttpResponse::Ok().json(look))
}

fn looked(asked: Asked, units: Units) -> Result<Look, String> {
    let Piece { width, height } = asked.piece;
    let (width, height) = (width.unwrap_or(asked.panel.width), height.unwrap_or(asked.panel.height));
    let resized = (width, height) != (asked.panel.width, asked.panel.height);
    let mut panel = if resized { asked.panel.resized(width, height) } else { asked.panel.laid() };
    let card = panel.card.get_or_insert(Card::usual_for(&panel, units)).clone();
    panel.check().map_err(|error| error.to_string())?;
    let picture =
        data_url(&panel.materials(), panel.moves.len(), asked.dpi).map_err(|error| error.to_string())?;
    let (made, post) = card.made(&panel, &Envelope::usual(), units).map_err(|error| error.to_string())?;
    let told = made.units;
    let views = drawing::all(&card, &made, &panel)
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
    Ok(Look {
        fields: as_read(fields, "", units),
        middle: Point {
            left: panel.width.halved(units.pencil()).0,
            top: panel.height.halved(units.pencil()).0,
        },
        layers: layers(&card, &made, units),
        inking: inking(&card, &made, &panel, told),
        trim: trim(&card, &made, &panel, told),
        bulk: bulk(&made, units),
        says: made.says.iter().skip(usize::from(!made.base.scores.is_empty())).cloned().collect(),
        pieces: pieces(&made, told),
        post: post.says,
        picture,
        views,
        base,
        panel,
    })
}

/// A document's lengths as the maker reads them, without their unit; thicknesses with it.
fn as_read(value: Value, key: &str, units: Units) -> Value {
    let fine = matches!(key, "thickness" | "thick" | "post_limit");
    match value {
        Value::String(text) if key == "name" => Value::String(text),
        Value::String(text) if fine => {
            Value::String(thickness::read(&text).map_or(text, |length| length.as_thickness(units)))
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
            exact: top.map(|top| (top.place.width, top.place.height)),
            shows: top.map(|top| top.reveal.words(told)).unwrap_or_default(),
            reveal: top.map(|top| top.reveal),
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
        let resized = panel.clone().resized(made.inked.0, made.inked.1);
        let says = format!("Ink {} instead", size(made.inked.0, made.inked.1, units));
        resized.check().is_ok().then_some(Remedy { says, panel: resized })
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
            let at = trimmed.marks.map(|marks| Point { left: marks.left, top: marks.top });
            TrimNote { at, marks, cuts, refusal: None, remedies: Vec::new() }
        }
        Err(refusal) => TrimNote {
            at: None,
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
        if works && changed.made(&panel, &[], units).is_ok_and(|(made, _)| made.trimmed.is_ok()) {
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

fn bulk(made: &Made, units: Units) -> BulkNote {
    let bulk = &made.bulk;
    let swaps = bulk
        .swaps
        .iter()
        .map(|swap| format!("{}: {}", capital(&swap.says), swap.thickness.as_thickness(units)));
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
    let note = |piece: &rosy_core::cut::Piece| PieceNote {
        name: piece.name.to_string(),
        size: size(piece.width, piece.height, units),
        card: piece.paper.as_ref().map(ToString::to_string).unwrap_or_default(),
    };
    made.pieces.iter().map(note).collect()
}

/// A panel and the format it is to be made in.
#[derive(Deserialize)]
pub struct AgainAsked {
    panel: Panel,
    format: Format,
}

/// `POST /api/panels/card/again`: the same panel on another card, and what had to give. Nothing is kept.
pub async fn make_again(
    caller: Caller,
    Document(asked): Document<AgainAsked>,
) -> Result<HttpResponse, ApiProblem> {
    let refused = |error: &dyn std::error::Error| Problem::Refused(error.to_string());
    asked.panel.check().map_err(|error| refused(&error))?;
    let carried = again::again(&asked.panel, &asked.format, caller.visitor.units());
    let Again { panel, gave } = carried.map_err(|error| refused(&error))?;
    panel.check().map_err(|error| refused(&error))?;
    Ok(HttpResponse::Ok().json(serde_json::json!({ "panel": panel, "gave": gave })))
}

/// Which file, and on which paper.
#[derive(Deserialize)]
pub struct FileAsked {
    /// In whose printer it goes.
    #[serde(default = "letter")]
    pub paper: pdf::Paper,
}

fn letter() -> pdf::Paper {
    pdf::Paper::Letter
}

/// `GET /panels/{id}/card.{ending}`: all layers at true scale as `pdf` or `svg`, or the list of pieces as `csv`.
pub async fn file(
    caller: Caller,
    store: web::Data<Store>,
    path: web::Path<(Uuid, String)>,
    asked: web::Query<FileAsked>,
) -> Result<HttpResponse, ApiProblem> {
    let (id, ending) = path.into_inner();
    let units = caller.visitor.units();
    let panel = store.one::<Panel>(caller.visitor.bench.id, id).await?.value;
    let card = panel.card.clone().unwrap_or_else(|| Card::usual_for(&panel, units));
    let made = card.made(&panel, &[], units).map_err(|error| Problem::Refused(error.to_string()))?.0;
    let (drawn, units) = (drawing::all(&card, &made, &panel), made.units);
    let (kind, body) = match ending.as_str() {
        "pdf" => ("application/pdf", pdf::pages(panel.name.as_str(), &drawn, asked.paper)),
        "svg" => ("image/svg+xml", svg::all_for_file(&drawn).into_bytes()),
        "csv" => ("text/csv; charset=utf-8", files::write_pieces(&made.pieces, units).into_bytes()),
        _ => return Err(Problem::Missing("file").into()),
    };
    let name = format!("{} card", panel.name);
    Ok(HttpResponse::Ok()
        .content_type(kind)
        .insert_header((CONTENT_DISPOSITION, attachment(&name, &ending)))
        .body(body))
}
