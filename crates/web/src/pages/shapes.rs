//! The shapes of a bench: those kept, families to begin with, and one shape with all there is to set on it.

use std::collections::BTreeMap;

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::cut::{machine, tiles};
use rosy_core::ink::DrawerError;
use rosy_core::length::ParseIn;
use rosy_core::shape::family::{self, DrawnError, FAMILIES, Family, Value};
use rosy_core::shape::kept::{Figure, KeptError, Repeat, Shape};
use rosy_core::shape::{Cut, Drawn, Fault, Material, Use};
use rosy_core::{Length, Units};
use rosy_store::{Change, Kept, Scope, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, page, refused, see};
use crate::apart::Errand;
use crate::drawing::shape::small;
use crate::error::{PageProblem, Problem, sentence};
use crate::picture::mark;
use crate::say::{from_word, word};
use crate::shapes::{Looked, Looking, SheetWanted, Shown, size_of};
use crate::visitor::{Nothing, Sent, Visitor};
use crate::workroom::{Asker, Workroom};

/// What is wrong, by field.
pub type Wrong = Vec<(String, String)>;

/// A shape's fields as texts.
#[derive(Clone, Debug, Default, Deserialize)]
#[serde(default)]
pub struct ShapeForm {
    name: String,
    /// What is drawn by its measures, as documents hold it; nothing where it is a drawing, which lies with the shape.
    figure: String,
    /// The shape that these are the fields of.
    of: Option<Uuid>,
    /// What that shape is kept as.
    #[serde(skip)]
    kept: Option<Figure>,
    letters: String,
    turn: String,
    percent: String,
    mirrored: String,
    across: String,
    down: String,
    right: String,
    below: String,
    #[serde(rename = "use")]
    used: String,
    material: String,
    cut: String,
    by: String,
    /// How much larger it is all round.
    grown: String,
    /// What is to be mended while it is kept.
    mend: String,
    /// Its family's measures, each under its own name.
    #[serde(flatten)]
    measures: BTreeMap<String, String>,
}

/// The name of a measure's field.
fn field_of(key: &str) -> String {
    format!("m_{key}")
}

impl ShapeForm {
    /// The fields of a shape.
    pub fn of(shape: &Shape, units: Units) -> ShapeForm {
        let mut measures = BTreeMap::new();
        let mut letters = String::new();
        if let Figure::Drawn(drawn) = &shape.figure {
            letters.clone_from(&drawn.letters);
            for (key, value) in &drawn.measures {
                let text = match value {
                    Value::Length(length) => length.in_field(units),
                    Value::Number(number) => number.to_string(),
                };
                measures.insert(field_of(key), text);
            }
        }
        let (cut, by) = match shape.cut {
            Cut::OnTheLine => ("on-the-line", None),
            Cut::Inside(by) => ("inside", Some(by)),
            Cut::Halo(by) => ("halo", Some(by)),
        };
        let of_repeat = |of: fn(&Repeat) -> Length| shape.repeat.map(|repeat| of(&repeat).in_field(units));
        let times = |of: fn(&Repeat) -> u8| shape.repeat.map_or(1, |repeat| of(&repeat)).to_string();
        ShapeForm {
            name: shape.name.to_string(),
            figure: match &shape.figure {
                Figure::Drawn(_) => serde_json::to_string(&shape.figure).unwrap_or_default(),
                Figure::Brought { .. } => String::new(),
            },
            of: None,
            kept: Some(shape.figure.clone()),
            letters,
            turn: shape.turn.to_string(),
            percent: shape.percent.to_string(),
            mirrored: if shape.mirrored { "on".into() } else { String::new() },
            across: times(|repeat| repeat.across),
            down: times(|repeat| repeat.down),
            right: of_repeat(|repeat| repeat.right).unwrap_or_default(),
            below: of_repeat(|repeat| repeat.below).unwrap_or_default(),
            used: word(shape.used),
            material: word(shape.material),
            cut: cut.into(),
            by: by.map(|by| by.in_field(units)).unwrap_or_default(),
            grown: if shape.grown == Length::ZERO { String::new() } else { shape.grown.in_field(units) },
            mend: String::new(),
            measures,
        }
    }

    fn figure(&self) -> Option<Figure> {
        if self.figure.is_empty() { self.kept.clone() } else { serde_json::from_str(&self.figure).ok() }
    }

    /// With the drawing of the shape whose fields they are, where the fields themselves have none.
    pub async fn with_kept(
        mut self,
        store: &Store,
        bench: Uuid,
        id: Option<Uuid>,
    ) -> Result<ShapeForm, Problem> {
        self.of = id.or(self.of);
        if let Some(id) = self.of.filter(|_| self.figure.is_empty()) {
            self.kept = Some(store.one::<Shape>(bench, id).await?.value.figure);
        }
        Ok(self)
    }

    fn family(&self) -> Option<&'static Family> {
        match self.figure()? {
            Figure::Drawn(drawn) => family::find(&drawn.family).ok(),
            Figure::Brought { .. } => None,
        }
    }

    /// Its measures as they stand in their fields: name, words, text, whether it is a length.
    fn rows(&self) -> Vec<Measured> {
        let of = |measure: &family::Measure| {
            let field = field_of(measure.key);
            Measured {
                text: self.measures.get(&field).cloned().unwrap_or_default(),
                field,
                words: measure.words,
                is_length: matches!(measure.kind, family::Kind::Length(..)),
            }
        };
        self.family().map(|family| family.measures.iter().map(of).collect()).unwrap_or_default()
    }

    /// The shape, or all that is wrong with the fields.
    pub fn read(&self, units: Units) -> Result<Shape, Wrong> {
        let mut fields = Fields { wrong: Wrong::new(), units };
        let name = self.name.parse().map_err(|error: DrawerError| error.to_string());
        let name = fields.told("name", name);
        let used = fields.told("use", from_word(&self.used));
        let material = fields.told("material", from_word(&self.material));
        let turn = fields.number("turn", &self.turn, 0);
        let percent = fields.number("percent", &self.percent, 100);
        let figure = self.figure_in(&mut fields);
        let cut = match self.cut.as_str() {
            "inside" => fields.length("by", &self.by).map(Cut::Inside),
            "halo" => fields.length("by", &self.by).map(Cut::Halo),
            _ => Some(Cut::OnTheLine),
        };
        let grown = match self.grown.trim() {
            "" => Some(Length::ZERO),
            text => fields.length("grown", text),
        };
        let repeat = self.repeat_in(&mut fields);
        let mirrored = !self.mirrored.is_empty();
        let read = || {
            Some(Shape {
                name: name?,
                figure: figure?,
                turn: turn?,
                mirrored,
                percent: percent?,
                repeat: repeat?,
                grown: grown?,
                used: used?,
                material: material?,
                cut: cut?,
            })
        };
        let shape = read().filter(|_| fields.wrong.is_empty()).ok_or(fields.wrong)?;
        match shape.check() {
            Ok(()) => Ok(shape),
            Err(error) => Err(vec![(self.field_with(&error), sentence(&error.to_string()))]),
        }
    }

    /// The figure, by its letters and measures.
    fn figure_in(&self, fields: &mut Fields) -> Option<Figure> {
        let mut figure = self.figure();
        if figure.is_none() {
            fields.tell("name", "this shape cannot be read any more: begin another");
        }
        if let Some(Figure::Drawn(drawn)) = &mut figure {
            drawn.letters =
                if drawn.family == "word" { self.letters.trim().to_owned() } else { String::new() };
            for row in self.rows() {
                let key = row.field.trim_start_matches("m_").to_owned();
                let value = if row.is_length {
                    fields.length(&row.field, &row.text).map(Value::Length)
                } else {
                    let number = row.text.trim().parse().map_err(|_| WHOLE.to_owned());
                    fields.told(&row.field, number).map(Value::Number)
                };
                drawn.measures.extend(value.map(|value| (key, value)));
            }
        }
        figure
    }

    /// How it is repeated; nothing within where it is not.
    fn repeat_in(&self, fields: &mut Fields) -> Option<Option<Repeat>> {
        let across = fields.number("across", &self.across, 1)?;
        let down = fields.number("down", &self.down, 1)?;
        let [across, down] = [across, down].map(|times| u8::try_from(times).unwrap_or(u8::MAX));
        if (across, down) == (1, 1) {
            return Some(None);
        }
        let mut step = |times: u8, field: &str, text: &str| match times {
            1 => Some(Length::ZERO),
            _ => fields.length(field, text),
        };
        let right = step(across, "right", &self.right);
        let below = step(down, "below", &self.below);
        Some(Some(Repeat { across, down, right: right?, below: below? }))
    }

    /// The field that a refusal is about.
    fn field_with(&self, error: &KeptError) -> String {
        match error {
            KeptError::Drawn(DrawnError::Range(words, _)) => self
                .family()
                .and_then(|family| family.measures.iter().find(|measure| measure.words == *words))
                .map_or_else(|| "name".into(), |measure| field_of(measure.key)),
            KeptError::Drawn(DrawnError::Letters(_) | DrawnError::Letter(_)) => "letters".into(),
            KeptError::Turn(_) => "turn".into(),
            KeptError::Percent(_) => "percent".into(),
            KeptError::Times(..) => "across".into(),
            KeptError::Step => "right".into(),
            KeptError::Cut => "by".into(),
            KeptError::Grown(_) => "grown".into(),
            KeptError::Drawn(_) | KeptError::Outline(_) => {
                self.rows().first().map_or_else(|| "percent".into(), |row| row.field.clone())
            }
        }
    }
}

const WHOLE: &str = "write a whole number";

/// The fields of a form as they are read, and what is wrong with them.
struct Fields {
    wrong: Wrong,
    units: Units,
}

impl Fields {
    fn tell(&mut self, field: &str, says: &str) {
        self.wrong.push((field.to_owned(), sentence(says)));
    }

    fn told<T>(&mut self, field: &str, read: Result<T, String>) -> Option<T> {
        read.map_err(|says| self.tell(field, &says)).ok()
    }

    fn length(&mut self, field: &str, text: &str) -> Option<Length> {
        let read = text.parse_in(self.units).map_err(|error| error.to_string());
        self.told(field, read)
    }

    fn number(&mut self, field: &str, text: &str, usual: u16) -> Option<u16> {
        let read = match text.trim() {
            "" => Ok(usual),
            text => text.trim_end_matches(['°', '%', ' ']).parse().map_err(|_| WHOLE.to_owned()),
        };
        self.told(field, read)
    }
}

/// A measure in its field.
pub struct Measured {
    field: String,
    words: &'static str,
    text: String,
    is_length: bool,
}

/// Looks a shape over: at once where it is drawn by its measures, apart where it is a drawing that was brought.
pub async fn looked(room: &Workroom, asker: &Asker, looking: Looking) -> Result<Looked, Problem> {
    match &looking.shape.figure {
        Figure::Drawn(_) => {
            let looked = room.done(asker, move || looking.looked()).await?;
            looked.map_err(|says| Problem::Refused(sentence(&says)))
        }
        Figure::Brought { .. } => {
            let sent = serde_json::to_string(&looking).map_err(|_| Problem::Broken)?;
            let key = format!("shape {}", mark(&sent));
            let looked = room.made_apart(asker, key, Errand::Shape, sent.into()).await?;
            serde_json::from_slice(&looked).map_err(|_| Problem::Broken)
        }
    }
}

#[derive(Template)]
#[template(path = "shapes.html")]
struct ShapesPage {
    frame: Frame,
    shapes: Vec<ShapeRow>,
    families: Vec<FamilyRow>,
    undo: Option<String>,
    redo: Option<String>,
}

struct ShapeRow {
    id: String,
    name: String,
    picture: String,
    size: String,
}

struct FamilyRow {
    key: &'static str,
    words: &'static str,
    picture: String,
}

/// `GET /shapes`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let bench = visitor.bench.id;
    let kept = store.all::<Shape>(bench).await?;
    let (undo, redo) = store.undoable(bench, Scope::Shapes).await?;
    let units = visitor.units();
    let (shapes, families) = room
        .done(visitor.asker(), move || {
            let row = |Kept { id, value, .. }: &Kept<Shape>| {
                let outline = value.outline().ok();
                let size = outline.as_ref().map(|outline| size_of(outline, units));
                ShapeRow {
                    id: id.to_string(),
                    name: value.name.to_string(),
                    picture: outline.map(|outline| small(&outline, value.used)).unwrap_or_default(),
                    size: size.unwrap_or_default(),
                }
            };
            let family = |family: &Family| FamilyRow {
                key: family.key,
                words: family.words,
                picture: Drawn::usual(family)
                    .outline()
                    .map(|drawn| small(&drawn, Use::Mask))
                    .unwrap_or_default(),
            };
            (kept.iter().map(row).collect(), FAMILIES.iter().map(family).collect())
        })
        .await?;
    page(&ShapesPage { frame: Frame::of(&visitor), shapes, families, undo, redo })
}

#[derive(Template)]
#[template(path = "shape.html")]
struct ShapePage {
    frame: Frame,
    id: Option<String>,
    form: ShapeForm,
    rows: Vec<Measured>,
    is_word: bool,
    shown: Option<Shown>,
    wrong: Wrong,
    wanted: SheetWanted,
    /// What the cutting machine did, or why it did not.
    cut: Option<Result<String, String>>,
    undo: Option<String>,
    redo: Option<String>,
}

impl ShapePage {
    async fn of(
        visitor: &Visitor,
        store: &Store,
        room: &Workroom,
        id: Option<Uuid>,
        form: ShapeForm,
        (wanted, is_cut): (SheetWanted, bool),
    ) -> Result<ShapePage, Problem> {
        let units = visitor.units();
        let (undo, redo) = store.undoable(visitor.bench.id, Scope::Shapes).await?;
        let read = form.read(units);
        let wrong = read.as_ref().err().cloned().unwrap_or_default();
        let (mut shown, mut cut, mut wrong) = (None, None, wrong);
        if let Ok(shape) = read {
            if is_cut {
                let of = shape.clone();
                let asker = visitor.asker().heavy_if(true);
                cut = Some(room.done(&asker, move || sent_to_machine(&of, wanted, units)).await?);
            }
            let looking = Looking { shape, wanted, units, mend: None };
            match looked(room, visitor.asker(), looking).await {
                Ok(looked) => shown = Some(looked.shown),
                Err(Problem::Refused(says)) => wrong.push(("name".into(), says)),
                Err(other) => return Err(other),
            }
        }
        Ok(ShapePage {
            frame: Frame::of(visitor),
            id: id.map(|id| id.to_string()),
            rows: form.rows(),
            is_word: form.family().is_some_and(Family::is_word),
            form,
            shown,
            wrong,
            wanted,
            cut,
            undo,
            redo,
        })
    }

    fn wrong_with(&self, field: &str) -> Option<&str> {
        self.wrong.iter().find(|(known, _)| known == field).map(|(_, says)| says.as_str())
    }

    fn is_repeated(&self) -> bool {
        ![&self.form.across, &self.form.down].iter().all(|times| ["", "1"].contains(&times.trim()))
    }
}

/// Sends a shape's sheets to the cutting machine, one after the other.
fn sent_to_machine(shape: &Shape, wanted: SheetWanted, units: Units) -> Result<String, String> {
    let laid = tiles::laid(std::slice::from_ref(shape), wanted.size())
        .map_err(|error| sentence(&error.to_string()))?;
    let said: Result<Vec<String>, _> =
        laid.iter().map(|sheet| machine::cut(sheet).map(|done| done.says(units))).collect();
    said.map(|said| said.join(" ")).map_err(|error| sentence(&error.to_string()))
}

/// Which family a new shape is of.
#[derive(Deserialize)]
pub struct Begun {
    #[serde(default)]
    family: String,
}

/// `GET /shapes/new`.
pub async fn blank(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    begun: web::Query<Begun>,
) -> Result<HttpResponse, PageProblem> {
    let family = family::find(&begun.family).map_err(|_| Problem::Missing("shape"))?;
    let name = family.words.trim_start_matches("an ").trim_start_matches("a ");
    let name = capital(name).parse().map_err(|_| Problem::Missing("shape"))?;
    let shape = Shape::new(name, Figure::Drawn(Drawn::usual_in(family, visitor.units())));
    let form = ShapeForm::of(&shape, visitor.units());
    page(
        &ShapePage::of(&visitor, &store, &room, None, form, (SheetWanted::usual(visitor.units()), false))
            .await?,
    )
}

fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map(|first| first.to_uppercase().chain(letters).collect()).unwrap_or_default()
}

/// Which sheet it is cut from, and whether it has been sent to the machine.
#[derive(Default, Deserialize)]
#[serde(default)]
pub struct CutAsked {
    sheet: Option<SheetWanted>,
    sent: bool,
}

/// `GET /shapes/{id}`.
pub async fn one(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
    asked: web::Query<CutAsked>,
) -> Result<HttpResponse, PageProblem> {
    let kept = store.one::<Shape>(visitor.bench.id, *id).await?;
    let form = ShapeForm::of(&kept.value, visitor.units());
    let wanted = asked.sheet.unwrap_or_else(|| SheetWanted::usual(visitor.units()));
    page(&ShapePage::of(&visitor, &store, &room, Some(*id), form, (wanted, asked.sent)).await?)
}

async fn kept(
    sent: Sent<ShapeForm>,
    store: &Store,
    room: &Workroom,
    id: Option<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let Sent { visitor, form } = sent;
    let (bench, units) = (visitor.bench.id, visitor.units());
    let wanted = SheetWanted::usual(units);
    let form = form.with_kept(store, bench, id).await?;
    let shape = match form.read(units) {
        Ok(shape) => shape,
        Err(_) => {
            return refused(&ShapePage::of(&visitor, store, room, id, form, (wanted, false)).await?);
        }
    };
    let (shape, does) = if form.mend.is_empty() {
        (shape, "change")
    } else {
        let fault: Fault =
            serde_json::from_value(form.mend.clone().into()).map_err(|_| Problem::Missing("repair"))?;
        let looking = Looking { shape, wanted, units, mend: Some(fault) };
        let mended = looked(room, visitor.asker(), looking).await?.mended;
        (mended.ok_or_else(|| Problem::Refused("That is mended already.".into()))?, "mend")
    };
    let (id, change, label) = match id {
        None => {
            let id = Uuid::now_v7();
            (id, Change::add(id, &shape)?, format!("keep {}", shape.name))
        }
        Some(id) => {
            let before = store.one::<Shape>(bench, id).await?.value;
            if before == shape {
                return Ok(see(format!("/shapes/{id}")));
            }
            (id, Change::replace(id, &before, &shape)?, format!("{does} {}", before.name))
        }
    };
    store.change(bench, Scope::Shapes, &label, vec![change]).await?;
    Ok(see(format!("/shapes/{id}")))
}

/// `POST /shapes`.
pub async fn add(
    sent: Sent<ShapeForm>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    kept(sent, &store, &room, None).await
}

/// `POST /shapes/{id}`.
pub async fn save(
    sent: Sent<ShapeForm>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    kept(sent, &store, &room, Some(*id)).await
}

/// `POST /shapes/{id}/remove`; undo brings it back.
pub async fn remove(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let shape = store.one::<Shape>(bench, *id).await?.value;
    let label = format!("remove {}", shape.name);
    store.change(bench, Scope::Shapes, &label, vec![Change::remove(*id, &shape)?]).await?;
    Ok(see("/shapes"))
}

/// `POST /shapes/undo`.
pub async fn undo(sent: Sent<Nothing>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    store.undo(sent.visitor.bench.id, Scope::Shapes).await?;
    Ok(see("/shapes"))
}

/// `POST /shapes/redo`.
pub async fn redo(sent: Sent<Nothing>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    store.redo(sent.visitor.bench.id, Scope::Shapes).await?;
    Ok(see("/shapes"))
}

/// The choices of a page.
impl ShapePage {
    fn uses(&self) -> [(String, &'static str); 6] {
        Use::ALL.map(|of| (word(of), of.words()))
    }
    fn materials(&self) -> Vec<(String, &'static str)> {
        [Material::MaskingSheet, Material::Film, Material::Card].map(|of| (word(of), of.words())).into()
    }
    fn cuts(&self) -> [(&'static str, &'static str); 3] {
        [("on-the-line", "on the line"), ("inside", "a hair inside"), ("halo", "outside, for a halo")]
    }
}
