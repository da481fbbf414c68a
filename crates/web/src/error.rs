//! What goes wrong, told as a plain page to people and as problem+json (RFC 9457) to programs.

use std::fmt;

use actix_web::http::StatusCode;
use actix_web::http::header::{ALLOW, ContentType};
use actix_web::{HttpRequest, HttpResponse, ResponseError};
use askama::Template;
use rosy_store::StoreError;
use serde_json::json;

use crate::refusal;

/// Longest text of a refusal, in characters: what was sent may be quoted in it, and nobody reads more.
const LONGEST_SAID: usize = 600;

/// Anything a request can end in but its answer.
#[derive(Debug)]
pub enum Problem {
    /// What was sent cannot be used; the message says how to mend it.
    Refused(String),
    /// More was sent than is read, which is so many bytes.
    TooLarge(usize),
    /// What was sent did not arrive in time.
    TooSlow,
    /// The page was opened too long ago.
    Stale,
    /// Another site's page sent this.
    OtherSite,
    /// Asked under a name that is not this program's.
    OtherName,
    /// Nothing is there.
    Missing(&'static str),
    /// It is there, but this cannot be done with it; what can.
    NotAllowed(String),
    /// The database does not answer: nothing was changed.
    Unavailable(String),
    /// Too much is asked at once.
    Busy,
    /// The program itself went wrong.
    Broken,
    /// Something else must be done first.
    Conflict(String),
}

impl Problem {
    fn title(&self) -> &'static str {
        match self {
            Problem::Refused(_) | Problem::TooLarge(_) => "This cannot be used as it is",
            Problem::TooSlow => "It did not arrive",
            Problem::Stale => "This page has been open too long",
            Problem::OtherSite => "Another site asked for this",
            Problem::OtherName => "Rosy Veil has another address",
            Problem::Missing(_) => "Nothing is here",
            Problem::NotAllowed(_) => "This is not done here",
            Problem::Unavailable(_) => "The database does not answer",
            Problem::Busy => "Too much is asked at once",
            Problem::Broken => "Something in the program went wrong",
            Problem::Conflict(_) => "Something came in between",
        }
    }

    fn status(&self) -> StatusCode {
        match self {
            Problem::Refused(_) => StatusCode::UNPROCESSABLE_ENTITY,
            Problem::TooLarge(_) => StatusCode::PAYLOAD_TOO_LARGE,
            Problem::TooSlow => StatusCode::REQUEST_TIMEOUT,
            Problem::Stale | Problem::OtherSite => StatusCode::FORBIDDEN,
            Problem::OtherName => StatusCode::MISDIRECTED_REQUEST,
            Problem::Missing(_) => StatusCode::NOT_FOUND,
            Problem::NotAllowed(_) => StatusCode::METHOD_NOT_ALLOWED,
            Problem::Unavailable(_) | Problem::Busy => StatusCode::SERVICE_UNAVAILABLE,
            Problem::Broken => StatusCode::INTERNAL_SERVER_ERROR,
            Problem::Conflict(_) => StatusCode::CONFLICT,
        }
    }

    fn log(&self) {
        if let Problem::Unavailable(cause) = self {
            eprintln!("rosy-veil: {cause}");
        }
    }
}

impl fmt::Display for Problem {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Problem::Refused(says) | Problem::Conflict(says) => {
                let said: String = says.chars().take(LONGEST_SAID).collect();
                let more = if said.len() < says.len() { "…" } else { "" };
                write!(f, "{said}{more}")
            }
            Problem::TooLarge(most) => write!(
                f,
                "More was sent than is read at once, which is {} MB: make it smaller, or send it in parts.",
                most >> 20
            ),
            Problem::TooSlow => f.write_str("What was being sent stopped arriving. Nothing was changed: send it again."),
            Problem::Stale => f.write_str(
                "Nothing was changed. Reload the page: what you had not kept yet waits in this browser and is kept then.",
            ),
            Problem::OtherSite => f.write_str("Nothing was changed, and nothing was read. Open the page from here instead."),
            Problem::OtherName => f.write_str(
                "It answers on this machine only, at 127.0.0.1, unless it was started with another name (--host).",
            ),
            Problem::Missing("page") => f.write_str("There is no such page. The bench is a good place to start from."),
            Problem::Missing(what) => write!(
                f,
                "There is no such {what} on this bench. It may have been removed, and undo brings it back; or it lies on another bench."
            ),
            Problem::NotAllowed(allowed) => write!(f, "What can be done at this address: {allowed}."),
            Problem::Unavailable(_) => f.write_str(
                "Nothing was changed, and nothing is lost. Start the program again if it was stopped, then try once more.",
            ),
            Problem::Busy => f.write_str("Nothing was changed, and nothing is lost. Try again in a moment."),
            Problem::Broken => f.write_str("Nothing was changed. If it happens again, undo the last change."),
        }
    }
}

impl From<StoreError> for Problem {
    fn from(error: StoreError) -> Problem {
        match error {
            StoreError::Missing(what) => Problem::Missing(what),
            StoreError::ChangedSince(_) | StoreError::Last => Problem::Conflict(sentence(&error.to_string())),
            StoreError::Busy => Problem::Busy,
            StoreError::Letter(place) => letter(&place),
            StoreError::Refused | StoreError::CutOff => Problem::Refused(sentence(&error.to_string())),
            StoreError::Database(_) | StoreError::Unreadable(_) => Problem::Unavailable(error.to_string()),
        }
    }
}

/// The program itself went wrong: why is written down.
pub fn broken(cause: impl fmt::Display) -> Problem {
    eprintln!("rosy-veil: {cause}");
    Problem::Broken
}

/// Where a letter stands that cannot be kept.
pub fn letter(place: &str) -> Problem {
    let place = refusal::place(place);
    Problem::Refused(sentence(&format!(
        "{place} holds a sign that is no letter (U+0000): take it out, and keep it again"
    )))
}

/// A message as a sentence.
pub fn sentence(message: &str) -> String {
    let mut letters = message.chars();
    let first = letters.next().map(|first| first.to_uppercase().collect::<String>()).unwrap_or_default();
    let end = if message.ends_with(['.', '!', '?']) { "" } else { "." };
    format!("{first}{}{end}", letters.as_str())
}

/// A [`Problem`] on a page.
#[derive(Debug)]
pub struct PageProblem(pub Problem);

/// A [`Problem`] told to a program.
#[derive(Debug)]
pub struct ApiProblem(pub Problem);

impl<E: Into<Problem>> From<E> for PageProblem {
    fn from(error: E) -> PageProblem {
        PageProblem(error.into())
    }
}

impl<E: Into<Problem>> From<E> for ApiProblem {
    fn from(error: E) -> ApiProblem {
        ApiProblem(error.into())
    }
}

impl fmt::Display for PageProblem {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}

impl fmt::Display for ApiProblem {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}

#[derive(Template)]
#[template(path = "problem.html")]
struct ProblemPage<'a> {
    title: &'a str,
    says: String,
    /// Whether the same page is worth another try.
    again: bool,
}

fn begun(problem: &Problem) -> actix_web::HttpResponseBuilder {
    let mut response = HttpResponse::build(problem.status());
    if let Problem::NotAllowed(allowed) = problem {
        response.insert_header((ALLOW, allowed.as_str()));
    }
    response
}

fn as_page(problem: &Problem) -> HttpResponse {
    problem.log();
    let again = matches!(problem, Problem::Busy | Problem::Unavailable(_) | Problem::Stale);
    let page = ProblemPage { title: problem.title(), says: problem.to_string(), again };
    begun(problem)
        .content_type(ContentType::html())
        .body(page.render().unwrap_or_else(|_| problem.to_string()))
}

fn as_document(problem: &Problem) -> HttpResponse {
    problem.log();
    let document = json!({
        "type": "about:blank",
        "title": problem.title(),
        "status": problem.status().as_u16(),
        "detail": problem.to_string(),
    });
    begun(problem).content_type("application/problem+json").body(document.to_string())
}

/// A problem as whoever asked reads it.
pub fn answer(problem: &Problem, request: &HttpRequest) -> HttpResponse {
    if request.path().starts_with("/api/") { as_document(problem) } else { as_page(problem) }
}

impl ResponseError for PageProblem {
    fn status_code(&self) -> StatusCode {
        self.0.status()
    }

    fn error_response(&self) -> HttpResponse {
        as_page(&self.0)
    }
}

impl ResponseError for ApiProblem {
    fn status_code(&self) -> StatusCode {
        self.0.status()
    }

    fn error_response(&self) -> HttpResponse {
        as_document(&self.0)
    }
}
