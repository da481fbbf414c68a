//! `POST /api/ask/{question}`: the model's answers, the same as on the command line.

use actix_web::http::header::ContentType;
use actix_web::{HttpRequest, HttpResponse, web};

use crate::apart::Errand;
use crate::error::{ApiProblem, Problem, sentence};
use crate::questions;
use crate::visitor::Sending;
use crate::workroom::{Asker, Who, Workroom};

/// Answers a question by name. Nothing is kept, so no bench is asked for.
pub async fn answer(
    request: HttpRequest,
    question: web::Path<String>,
    room: web::Data<Workroom>,
    Sending(document): Sending,
) -> Result<HttpResponse, ApiProblem> {
    let question = question.into_inner();
    questions::known(&question).map_err(|says| Problem::Refused(sentence(&says)))?;
    let asker = Asker::new(Who::Program, &request);
    let seen = room.apart(&asker, Errand::Question(question), document).await?;
    Ok(HttpResponse::Ok().content_type(ContentType::json()).body(seen))
}
