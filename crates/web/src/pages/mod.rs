//! The pages: each is a file here and a template of the same name, and a script where it needs one.

pub mod alter;
pub mod bench;
pub mod benches;
pub mod blend;
pub mod card;
pub mod cover;
pub mod doing;
pub mod drawer;
pub mod evening;
pub mod ink;
pub mod inks;
pub mod made;
pub mod meetings;
pub mod owned;
pub mod practice;
pub mod search;
pub mod shapes;
pub mod sheet;
pub mod shown;
pub mod stock;
pub mod supplies;
pub mod swatches;
pub mod water;
pub mod wishes;

use actix_web::http::header::{ContentType, LOCATION};
use actix_web::{HttpRequest, HttpResponse};
use askama::Template;
use rosy_core::edges::known_size;
use rosy_core::ink::{DrawerError, Name};
use rosy_core::{Panel, Units};
use rosy_store::Store;
use serde::Deserialize;
use uuid::Uuid;

use crate::assets;
use crate::error::{PageProblem, Problem, answer, sentence};
use crate::picture::drawn_from;
use crate::saving::Saving;
use crate::say::{self, Mark};
use crate::visitor::Visitor;
use crate::workroom::Workroom;

/// Saves a panel for a visitor.
pub fn saving<'a>(visitor: &'a Visitor, store: &'a Store, room: &'a Workroom, id: Uuid) -> Saving<'a> {
    Saving { store, room, asker: visitor.asker(), bench: visitor.bench.id, id }
}

/// What every page needs to know.
pub struct Frame {
    /// The bench's name.
    pub bench: String,
    /// Its number, by which the browser keeps what could not be saved.
    pub bench_id: String,
    /// Put into every form.
    pub token: String,
    /// How the maker reads lengths.
    pub units: Units,
}

impl Frame {
    /// For a visitor.
    pub fn of(visitor: &Visitor) -> Frame {
        Frame {
            bench: visitor.bench.name.clone(),
            bench_id: visitor.bench.id.to_string(),
            token: visitor.token.clone(),
            units: visitor.units(),
        }
    }

    /// Whether lengths are inches.
    pub fn inches(&self) -> bool {
        self.units == Units::Inches
    }

    /// The address of a style, script or font.
    pub fn asset(&self, name: &str) -> String {
        assets::address(name)
    }

    /// What stands over a field for a length.
    pub fn measure(&self) -> &'static str {
        if self.inches() { "inches" } else { "mm" }
    }

    /// The word for the units.
    pub fn unit(&self) -> &'static str {
        say::unit(self.units)
    }
}

/// The head of a panel's pages.
pub struct PanelHead {
    /// Its number.
    pub id: String,
    /// Its name.
    pub name: String,
    /// A mark of all that its pictures are drawn from, which they are kept under.
    pub seen: String,
    /// Which of its pages this is.
    pub here: &'static str,
}

/// How a panel is drawn to scale.
pub struct Scale {
    /// Marks along its top edge.
    pub across: Vec<Mark>,
    /// Marks down its left edge.
    pub down: Vec<Mark>,
    /// Its width to its height.
    pub ratio: String,
    /// Width in inches, by which the script chooses the picture's fineness.
    pub inches: String,
}

impl Scale {
    fn of(panel: &Panel, units: Units) -> Scale {
        Scale {
            across: say::ruler(panel.width, units),
            down: say::ruler(panel.height, units),
            ratio: format!("{:.4}", panel.width.ratio(panel.height)),
            inches: format!("{:.4}", panel.width.inches()),
        }
    }
}

/// A new name for something.
#[derive(Default, Deserialize)]
#[serde(default)]
pub struct Renaming {
    name: String,
}

impl Renaming {
    /// The name, if it is one.
    fn read(&self) -> Result<Name, Problem> {
        self.name.parse().map_err(|error: DrawerError| Problem::Refused(sentence(&error.to_string())))
    }
}

/// A bench's and its frame's answer.
fn page(template: &impl Template) -> Result<HttpResponse, PageProblem> {
    let body = template.render().map_err(|error| Problem::Unavailable(error.to_string()))?;
    Ok(HttpResponse::Ok().content_type(ContentType::html()).body(body))
}

/// A page that says what was wrong with what was sent.
fn refused(template: &impl Template) -> Result<HttpResponse, PageProblem> {
    let body = template.render().map_err(|error| Problem::Unavailable(error.to_string()))?;
    Ok(HttpResponse::UnprocessableEntity().content_type(ContentType::html()).body(body))
}

/// On to another page.
fn see(address: impl AsRef<str>) -> HttpResponse {
    HttpResponse::SeeOther().insert_header((LOCATION, address.as_ref())).finish()
}

/// No route has this address.
pub async fn nothing_here(request: HttpRequest) -> HttpResponse {
    answer(&Problem::Missing("page"), &request)
}

/// A long list in pages: which is shown, and of how many.
#[derive(Clone, Debug)]
pub struct Paged {
    /// Which, from 1.
    pub page: u64,
    /// Of how many.
    pub pages: u64,
    /// The rest of the address, ending where the number goes.
    pub address: String,
}

impl Paged {
    /// The page wanted of so many things, or the last there is.
    pub fn of(wanted: u64, things: u64, each: u64, address: impl Into<String>) -> Paged {
        let pages = things.div_ceil(each).max(1);
        Paged { page: wanted.clamp(1, pages), pages, address: address.into() }
    }

    /// How many things stand before those shown.
    pub fn skipped(&self, each: u64) -> u64 {
        (self.page - 1) * each
    }

    /// The page before.
    pub fn before(&self) -> Option<u64> {
        (self.page > 1).then(|| self.page - 1)
    }

    /// The page after.
    pub fn after(&self) -> Option<u64> {
        (self.page < self.pages).then_some(self.page + 1)
    }
}

impl PanelHead {
    /// For one of a panel's pages.
    fn of(id: uuid::Uuid, panel: &Panel, here: &'static str) -> PanelHead {
        PanelHead { id: id.to_string(), name: panel.name.to_string(), seen: drawn_from(panel), here }
    }
}

/// The size of a panel as it is read.
fn size(panel: &Panel, units: Units) -> String {
    known_size(panel.width, panel.height, units)
}
