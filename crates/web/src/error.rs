//! What goes wrong, told as a plain page to people and as problem+json (RFC 9457) to programs.

use std::fmt;

use actix_web::http::StatusCode;
use actix_web::http::header::ContentType;
use actix_web::{HttpResponse, ResponseError};
use askama::Template;
use rosy_store::StoreError;
use serde_json::json;

/// Anything a request can end in but its answer.
#[derive(Debug)]
pub enum Problem {
    /// What was sent cannot be used; the message says how to mend it.
    Refused(String),
    /// The page was opened too long ago, or another site sent this.
    Stale,
    /// Nothing is there.
    Missing(&'static str),
    /// The database does not answer: nothing was changed.
    Away(String),
    /// Something else must be done first.
    Conflict(String),
}

impl Problem {
    fn title(&self) -> &'static str {
        match self {
            Problem::Refused(_) => "This cannot be used as it is",
            Problem::Stale => "This page has been open too long",
            Problem::Missing(_) => "Nothing is here",
            Problem::Away(_) => "The database does not answer",
            Problem::Conflict(_) => "Something came in between",
        }
    }
}

impl fmt::Display for Problem {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Problem::Refused(says) | Problem::Conflict(says) => f.write_str(says),
            Problem::Stale => f.write_str("Nothing was changed. Reload the page and do it once more."),
            Problem::Missing(what) => write!(f, "There is no such {what} on this bench. It may have been removed: undo brings it back."),
            Problem::Away(_) => f.write_str(
                "Nothing was changed, and nothing is lost. Start the program again if it was stopped, then try once more.",
            ),
        }
    }
}

impl From<StoreError> for Problem {
    fn from(error: StoreError) -> Problem {
        match error {
            StoreError::Missing(what) => Problem::Missing(what),
            StoreError::ChangedSince(_) => Problem::Conflict(error.to_string()),
            StoreError::Database(_) | StoreError::Unreadable(_) => Problem::Away(error.to_string()),
        }
    }
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

fn status(problem: &Problem) -> StatusCode {
    match problem {
        Problem::Refused(_) => StatusCode::UNPROCESSABLE_ENTITY,
        Problem::Stale => StatusCode::FORBIDDEN,
        Problem::Missing(_) => StatusCode::NOT_FOUND,
        Problem::Away(_) => StatusCode::SERVICE_UNAVAILABLE,
        Problem::Conflict(_) => StatusCode::CONFLICT,
    }
}

fn log(problem: &Problem) {
    if let Problem::Away(cause) = problem {
        eprintln!("rosy-veil: {cause}");
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
}

impl ResponseError for PageProblem {
    fn status_code(&self) -> StatusCode {
        status(&self.0)
    }

    fn error_response(&self) -> HttpResponse {
        log(&self.0);
        let page = ProblemPage { title: self.0.title(), says: self.0.to_string() };
        HttpResponse::build(self.status_code())
            .content_type(ContentType::html())
            .body(page.render().unwrap_or_else(|_| self.0.to_string()))
    }
}

impl ResponseError for ApiProblem {
    fn status_code(&self) -> StatusCode {
        status(&self.0)
    }

    fn error_response(&self) -> HttpResponse {
        log(&self.0);
        let problem = json!({
            "type": "about:blank",
            "title": self.0.title(),
            "status": self.status_code().as_u16(),
            "detail": self.0.to_string(),
        });
        HttpResponse::build(self.status_code())
            .content_type("application/problem+json")
            .body(problem.to_string())
    }
}
