//! The pages: each is a file here and a template of the same name, and a script where it needs one.

pub mod bench;
pub mod benches;
pub mod blend;
pub mod card;
pub mod drawer;
pub mod ink;
pub mod inks;
pub mod sheet;
pub mod stock;

use actix_web::HttpResponse;
use actix_web::http::header::{ContentType, LOCATION};
use askama::Template;
use rosy_core::{Panel, Units};

use crate::assets;
use crate::error::{PageProblem, Problem};
use crate::say;
use crate::visitor::Visitor;

/// What every page needs to know.
pub struct Frame {
    /// The bench's name.
    pub bench: String,
    /// Put into every form.
    pub token: String,
    /// How the maker reads lengths.
    pub units: Units,
}

impl Frame {
    /// For a visitor.
    pub fn of(visitor: &Visitor) -> Frame {
        Frame { bench: visitor.bench.name.clone(), token: visitor.token.clone(), units: visitor.units() }
    }

    /// Whether lengths are inches.
    pub fn inches(&self) -> bool {
        self.units == Units::Inches
    }

    /// The address of a style, script or font.
    pub fn asset(&self, name: &str) -> String {
        assets::address(name)
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
    /// Its revision, which pictures are kept under.
    pub revision: i64,
    /// Which of its pages this is.
    pub here: &'static str,
}

/// A bench's and its frame's answer.
fn page(template: &impl Template) -> Result<HttpResponse, PageProblem> {
    let body = template.render().map_err(|error| Problem::Away(error.to_string()))?;
    Ok(HttpResponse::Ok().content_type(ContentType::html()).body(body))
}

/// A page that says what was wrong with what was sent.
fn refused(template: &impl Template) -> Result<HttpResponse, PageProblem> {
    let body = template.render().map_err(|error| Problem::Away(error.to_string()))?;
    Ok(HttpResponse::UnprocessableEntity().content_type(ContentType::html()).body(body))
}

/// On to another page.
fn see(address: impl AsRef<str>) -> HttpResponse {
    HttpResponse::SeeOther().insert_header((LOCATION, address.as_ref())).finish()
}

/// No route has this address.
pub async fn nothing_here() -> Result<HttpResponse, PageProblem> {
    Err(Problem::Missing("page").into())
}

/// The size of a panel as it is read.
fn size(panel: &Panel, units: Units) -> String {
    format!("{} × {}", panel.width.shown(units).number(), panel.height.shown(units))
}
