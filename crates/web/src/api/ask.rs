//! `POST /api/ask/{question}`: the model's answers, the same as on the command line.

use actix_web::{HttpResponse, web};

use crate::commands;
use crate::error::{ApiProblem, Problem};

/// Answers a question by name. Nothing is kept, so no bench is asked for.
pub async fn answer(question: web::Path<String>, document: String) -> Result<HttpResponse, ApiProblem> {
    let seen = commands::answer(&question, &document).map_err(Problem::Refused)?;
    Ok(HttpResponse::Ok().json(seen))
}
