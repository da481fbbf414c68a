//! What is owned beside inks: card, tools and envelopes. Each is added, changed and removed as an ink is.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Units;
use rosy_core::card::Envelope;
use rosy_core::colour::{Colour, written};
use rosy_core::ink::drawer::{MOST_ALIKE, card_thickness};
use rosy_core::ink::measured::BRIGHT_WHITE;
use rosy_core::ink::{Finish, KeptFor, Paper, Tool, ToolKind};
use rosy_core::length::ParseIn;
use rosy_store::{Change, Scope, Store, StoreError, Thing};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, page, refused, see};
use crate::error::{PageProblem, Problem, sentence};
use crate::say::{from_word, word};
use crate::visitor::{Nothing, Sent, Visitor};

/// The fields of all of them as texts; each kind uses some.
#[derive(Clone, Debug, Default, Deserialize)]
#[serde(default)]
pub struct Written {
    name: String,
    colour: String,
    surface: String,
    thickness: String,
    kind: String,
    kept_for: String,
    count: String,
    width: String,
    height: String,
}

type Wrong = Vec<(&'static str, String)>;

/// Reads one field, or notes what is wrong with it.
fn read<T, E: ToString>(wrong: &mut Wrong, field: &'static str, read: Result<T, E>) -> Option<T> {
    read.map_err(|error| wrong.push((field, sentence(&error.to_string())))).ok()
}

/// A kind of thing that is owned: how its form is filled in and read.
trait Owned: Thing + PartialEq {
    /// What a new one is called on its page.
    const NEW: &'static str;
    fn written(&self, units: Units) -> Written;
    fn read(written: &Written, units: Units, wrong: &mut Wrong) -> Option<Self>;
    /// A form to begin with.
    fn begun() -> Written;
}

impl Owned for Paper {
    const NEW: &'static str = "Card of your own";

    fn begun() -> Written {
        let colour = written::write(Colour::Srgb(BRIGHT_WHITE.on_screen(Default::default()).0));
        Written { surface: word(Finish::VerySmooth), colour, ..Written::default() }
    }

    fn written(&self, units: Units) -> Written {
        Written {
            name: self.name.to_string(),
            colour: written::write(self.colour),
            surface: word(self.surface),
            thickness: self.thickness.in_thickness_field(units),
            ..Written::default()
        }
    }

    fn read(written: &Written, units: Units, wrong: &mut Wrong) -> Option<Paper> {
        let name = read(wrong, "name", written.name.parse::<rosy_core::ink::Name>());
        let colour = read(wrong, "colour", written::read(&written.colour));
        let surface = read(wrong, "surface", from_word(&written.surface));
        let thickness = read(wrong, "thickness", card_thickness(&written.thickness, units));
        let paper = Paper { name: name?, colour: colour?, surface: surface?, thickness: thickness? };
        read(wrong, "thickness", paper.check()).map(|()| paper)
    }
}

impl Owned for Tool {
    const NEW: &'static str = "A tool of your own";

    fn begun() -> Written {
        Written {
            kind: word(ToolKind::Brush),
            kept_for: KeptFor::Anything.to_string(),
            count: "1".into(),
            ..Written::default()
        }
    }

    fn written(&self, _: Units) -> Written {
        Written {
            name: self.name.to_string(),
            kind: word(self.kind),
            kept_for: self.kept_for.to_string(),
            count: self.count.to_string(),
            ..Written::default()
        }
    }

    fn read(written: &Written, _: Units, wrong: &mut Wrong) -> Option<Tool> {
        let name = read(wrong, "name", written.name.parse::<rosy_core::ink::Name>());
        let kind = read(wrong, "kind", from_word(&written.kind));
        let kept_for = read(wrong, "kept_for", written.kept_for.parse::<KeptFor>());
        let count = match written.count.trim() {
            "" => Ok(1),
            text => text.parse::<u8>().map_err(|_| format!("write a number from 1 to {MOST_ALIKE}")),
        };
        let count = read(wrong, "count", count);
        let tool = Tool { name: name?, kind: kind?, kept_for: kept_for?, count: count? };
        read(wrong, "count", tool.check()).map(|()| tool)
    }
}

impl Owned for Envelope {
    const NEW: &'static str = "An envelope of your own";

    fn begun() -> Written {
        Written::default()
    }

    fn written(&self, units: Units) -> Written {
        Written {
            name: self.name.to_string(),
            width: self.width.in_field(units),
            height: self.height.in_field(units),
            ..Written::default()
        }
    }

    fn read(written: &Written, units: Units, wrong: &mut Wrong) -> Option<Envelope> {
        let name = read(wrong, "name", written.name.parse::<rosy_core::ink::Name>());
        let width = read(wrong, "width", written.width.parse_in(units));
        let height = read(wrong, "height", written.height.parse_in(units));
        let envelope = Envelope { name: name?, width: width?, height: height? };
        let field = |error: &rosy_core::card::envelope::EnvelopeError| error.side;
        match envelope.check() {
            Ok(()) => Some(envelope),
            Err(error) => {
                wrong.push((field(&error), sentence(&error.to_string())));
                None
            }
        }
    }
}

#[derive(Template)]
#[template(path = "owned.html")]
struct OwnedPage {
    frame: Frame,
    shelf: String,
    id: Option<String>,
    title: String,
    form: Written,
    surfaces: Vec<(String, &'static str)>,
    kinds: Vec<(String, &'static str)>,
    keeps: Vec<&'static str>,
    wrong: Wrong,
}

impl OwnedPage {
    fn of<T: Owned>(
        visitor: &Visitor,
        shelf: &str,
        id: Option<Uuid>,
        form: Written,
        wrong: Wrong,
    ) -> OwnedPage {
        let title = if id.is_some() { form.name.clone() } else { T::NEW.into() };
        OwnedPage {
            frame: Frame::of(visitor),
            shelf: shelf.to_owned(),
            id: id.map(|id| id.to_string()),
            title,
            form,
            surfaces: Finish::ALL.into_iter().map(|surface| (word(surface), surface.words())).collect(),
            kinds: ToolKind::ALL.into_iter().map(|kind| (word(kind), kind.words())).collect(),
            keeps: KeptFor::all().map(KeptFor::words).collect(),
            wrong,
        }
    }

    fn wrong_with(&self, field: &str) -> Option<&str> {
        self.wrong.iter().find(|(known, _)| *known == field).map(|(_, says)| says.as_str())
    }
}

/// Does what is asked with the kind of thing that lies on a shelf.
macro_rules! on_shelf {
    ($shelf:expr, $T:ident => $does:expr) => {
        match $shelf {
            "papers" => {
                type $T = Paper;
                $does
            }
            "tools" => {
                type $T = Tool;
                $does
            }
            "envelopes" => {
                type $T = Envelope;
                $does
            }
            _ => Err(Problem::Missing("page").into()),
        }
    };
}

/// `GET /drawer/{shelf}/new`.
pub async fn blank(visitor: Visitor, shelf: web::Path<String>) -> Result<HttpResponse, PageProblem> {
    on_shelf!(shelf.as_str(), T => page(&OwnedPage::of::<T>(&visitor, &shelf, None, T::begun(), Wrong::new())))
}

/// `GET /drawer/{shelf}/{id}`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    path: web::Path<(String, Uuid)>,
) -> Result<HttpResponse, PageProblem> {
    let (shelf, id) = path.into_inner();
    on_shelf!(shelf.as_str(), T => {
        let kept = store.one::<T>(visitor.bench.id, id).await?.value;
        page(&OwnedPage::of::<T>(&visitor, &shelf, Some(id), kept.written(visitor.units()), Wrong::new()))
    })
}

async fn kept<T: Owned>(
    visitor: &Visitor,
    store: &Store,
    shelf: &str,
    id: Option<Uuid>,
    form: Written,
) -> Result<HttpResponse, PageProblem> {
    let (bench, mut wrong) = (visitor.bench.id, Wrong::new());
    let Some(thing) = T::read(&form, visitor.units(), &mut wrong) else {
        return refused(&OwnedPage::of::<T>(visitor, shelf, id, form, wrong));
    };
    let (change, label) = match id {
        None => (Change::add(Uuid::now_v7(), &thing)?, format!("add {}", thing.name())),
        Some(id) => {
            let before = store.one::<T>(bench, id).await?.value;
            if before == thing {
                return Ok(see(format!("/drawer#{shelf}")));
            }
            (Change::replace(id, &before, &thing)?, format!("change {}", before.name()))
        }
    };
    store.change(bench, Scope::Drawer, &label, vec![change]).await?;
    Ok(see(format!("/drawer#{shelf}")))
}

/// `POST /drawer/{shelf}`.
pub async fn add(
    sent: Sent<Written>,
    store: web::Data<Store>,
    shelf: web::Path<String>,
) -> Result<HttpResponse, PageProblem> {
    let Sent { visitor, form } = sent;
    on_shelf!(shelf.as_str(), T => kept::<T>(&visitor, &store, &shelf, None, form).await)
}

/// `POST /drawer/{shelf}/{id}`.
pub async fn save(
    sent: Sent<Written>,
    store: web::Data<Store>,
    path: web::Path<(String, Uuid)>,
) -> Result<HttpResponse, PageProblem> {
    let (Sent { visitor, form }, (shelf, id)) = (sent, path.into_inner());
    on_shelf!(shelf.as_str(), T => kept::<T>(&visitor, &store, &shelf, Some(id), form).await)
}

async fn removed<T: Owned>(visitor: &Visitor, store: &Store, id: Uuid) -> Result<(), StoreError> {
    let bench = visitor.bench.id;
    let thing = store.one::<T>(bench, id).await?.value;
    let label = format!("remove {}", thing.name());
    store.change(bench, Scope::Drawer, &label, vec![Change::remove(id, &thing)?]).await
}

/// `POST /drawer/{shelf}/{id}/remove`; undo brings it back.
pub async fn remove(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    path: web::Path<(String, Uuid)>,
) -> Result<HttpResponse, PageProblem> {
    let (shelf, id) = path.into_inner();
    on_shelf!(shelf.as_str(), T => {
        removed::<T>(&sent.visitor, &store, id).await?;
        Ok(see(format!("/drawer#{shelf}")))
    })
}
