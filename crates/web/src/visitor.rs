//! Who is at the desk: the bench a request is for, and proof that a change comes from our own page.

use std::future::Future;
use std::io::Write;
use std::pin::Pin;
use std::time::Duration;

use actix_session::{Session, SessionExt};
use actix_web::dev::Payload;
use actix_web::error::PayloadError;
use actix_web::web::{Bytes, Data};
use actix_web::{FromRequest, HttpRequest};
use futures_util::StreamExt;
use rosy_core::Units;
use rosy_store::{Bench, PanelState, Store};
use serde::Deserialize;
use serde::de::DeserializeOwned;
use tempfile::NamedTempFile;
use uuid::Uuid;

use crate::drawing::pdf::Paper;
use crate::error::{ApiProblem, PageProblem, Problem, broken, letter, sentence};
use crate::refusal;
use crate::workroom::{Asker, Who};

const BENCH: &str = "bench";
const TOKEN: &str = "token";
const PAPER: &str = "paper";
/// The header in which scripts send the token.
const HEADER: &str = "x-rosy-token";
/// How long what is sent may take to arrive (chosen: 2 MB on a slow line).
const ARRIVES: Duration = Duration::from_secs(20);
/// Most bytes taken in one request: the largest file of inks or panels with room to spare.
pub const MOST_BYTES: usize = 2 << 20;
const UNREAD: &str = "What was sent cannot be read: send it again.";
/// Longest text of one field of a form, in bytes: a list of colours has room.
const LONGEST_FIELD: usize = 4_000;

/// Most bytes taken at an address that takes more, or less, than others.
#[derive(Clone, Copy, Debug)]
pub struct Most(pub usize);

/// The maker's bench, by the sealed cookie; the oldest bench where there is none yet.
pub struct Visitor {
    /// The bench.
    pub bench: Bench,
    /// What a page puts into its forms: proof, and the bench it was opened on.
    pub token: String,
    /// In whose line what is asked for waits: the session's, by its own mark.
    asker: Asker,
    session: Session,
}

impl Visitor {
    /// Opens another bench from now on.
    pub fn open(&self, bench: Uuid) -> Result<(), Problem> {
        self.session.insert(BENCH, bench).map_err(|error| Problem::Unavailable(error.to_string()))
    }

    async fn of(request: HttpRequest, store: Data<Store>) -> Result<Visitor, Problem> {
        let session = request.get_session();
        let known = session.get::<Uuid>(BENCH).ok().flatten();
        let known = match known {
            Some(id) => store.bench(id).await?,
            None => None,
        };
        let bench = match known {
            Some(bench) => bench,
            None => store.benches().await?.into_iter().next().ok_or(Problem::Missing("bench"))?,
        };
        let keep = |error: actix_session::SessionInsertError| Problem::Unavailable(error.to_string());
        if session.get::<Uuid>(BENCH).ok().flatten() != Some(bench.id) {
            session.insert(BENCH, bench.id).map_err(keep)?;
        }
        let own = session.get::<String>(TOKEN).ok().flatten();
        let who = own.clone().map_or(Who::Newcomers, Who::Visitor);
        let mark = match own {
            Some(mark) => mark,
            None => {
                let mark = Uuid::new_v4().simple().to_string();
                session.insert(TOKEN, &mark).map_err(keep)?;
                mark
            }
        };
        let token = format!("{mark}.{}", bench.id.simple());
        Ok(Visitor { bench, token, asker: Asker::new(who, &request), session })
    }

    /// The same visitor at the bench that a page was opened on, if the token is theirs: another tab may have opened
    /// another bench since.
    async fn with(mut self, token: Option<&str>, store: &Store) -> Result<Visitor, Problem> {
        let (mark, bench) = token.and_then(|token| token.split_once('.')).ok_or(Problem::Stale)?;
        if *self.asker.who() != Who::Visitor(mark.to_owned()) {
            return Err(Problem::Stale);
        }
        let bench: Uuid = bench.parse().map_err(|_| Problem::Stale)?;
        if bench != self.bench.id {
            self.bench = store.bench(bench).await?.ok_or(Problem::Missing("bench"))?;
        }
        Ok(self)
    }

    /// The paper in her printer: what is asked for now, and kept, or what was last; to begin with what goes with her measures.
    pub fn paper(&self, asked: Option<Paper>) -> Result<Paper, Problem> {
        match asked {
            Some(paper) => {
                self.session.insert(PAPER, paper).map_err(|error| Problem::Unavailable(error.to_string()))?;
                Ok(paper)
            }
            None => Ok(self.session.get(PAPER).ok().flatten().unwrap_or(Paper::of(self.units()))),
        }
    }

    /// How this maker reads lengths.
    pub fn units(&self) -> Units {
        self.bench.units
    }

    /// In whose line what is asked for waits.
    pub fn asker(&self) -> &Asker {
        &self.asker
    }
}

/// What was sent, within bounds of size and time.
async fn body(request: HttpRequest, mut payload: Payload) -> Result<Bytes, Problem> {
    let most = request.app_data::<Most>().map_or(MOST_BYTES, |most| most.0);
    let arriving = Bytes::from_request(&request, &mut payload);
    match tokio::time::timeout(ARRIVES, arriving).await {
        Err(_) => Err(Problem::TooSlow),
        Ok(Ok(body)) => Ok(body),
        Ok(Err(error)) => Err(match error.as_error::<PayloadError>() {
            Some(PayloadError::Overflow) => Problem::TooLarge(most),
            _ => Problem::Refused(UNREAD.into()),
        }),
    }
}

/// What was sent, as it is.
pub struct Sending(pub Bytes);

impl FromRequest for Sending {
    type Error = ApiProblem;
    type Future = Extracting<Sending, ApiProblem>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let body = body(request.clone(), payload.take());
        Box::pin(async move { Ok(Sending(body.await?)) })
    }
}

/// What was sent, in a file of its own: more than is held in memory, up to so many bytes.
pub struct Filed<const MOST: usize> {
    /// Where it lies, as long as this is held.
    pub file: NamedTempFile,
    /// How many bytes it has.
    pub bytes: u64,
}

impl<const MOST: usize> FromRequest for Filed<MOST> {
    type Error = ApiProblem;
    type Future = Extracting<Filed<MOST>, ApiProblem>;

    fn from_request(_: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let mut payload = payload.take();
        Box::pin(async move {
            let cannot = |error: std::io::Error| broken(format!("what is sent cannot be put down: {error}"));
            let mut filed = Filed { file: NamedTempFile::new().map_err(cannot)?, bytes: 0 };
            loop {
                let next = tokio::time::timeout(ARRIVES, payload.next());
                let Some(part) = next.await.map_err(|_| Problem::TooSlow)? else { return Ok(filed) };
                let part = part.map_err(|_| Problem::Refused(UNREAD.into()))?;
                filed.bytes += part.len() as u64;
                if filed.bytes > MOST as u64 {
                    return Err(Problem::TooLarge(MOST).into());
                }
                filed.file.write_all(&part).map_err(cannot)?;
            }
        })
    }
}

type Extracting<T, E> = Pin<Box<dyn Future<Output = Result<T, E>>>>;

fn store(request: &HttpRequest) -> Result<Data<Store>, Problem> {
    request
        .app_data::<Data<Store>>()
        .cloned()
        .ok_or_else(|| Problem::Unavailable("no store is set up".into()))
}

impl FromRequest for Visitor {
    type Error = PageProblem;
    type Future = Extracting<Visitor, PageProblem>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let (request, store) = (request.clone(), store(request));
        Box::pin(async move { Ok(Visitor::of(request, store?).await?) })
    }
}

/// A panel that a page is of.
pub struct OnPanel {
    /// Whose.
    pub visitor: Visitor,
    /// Its number.
    pub id: Uuid,
    /// As it stands.
    pub state: PanelState,
}

impl FromRequest for OnPanel {
    type Error = PageProblem;
    type Future = Extracting<OnPanel, PageProblem>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let (request, store) = (request.clone(), store(request));
        Box::pin(async move {
            let store = store?;
            let visitor = Visitor::of(request.clone(), store.clone()).await?;
            let id = request.match_info().get("id").and_then(|id| id.parse().ok());
            let id = id.ok_or(Problem::Missing("panel"))?;
            let state = store.panel(visitor.bench.id, id).await.map_err(Problem::from)?;
            Ok(OnPanel { visitor, id, state })
        })
    }
}

/// A form of one of our own pages: its fields, and the visitor who sent it.
pub struct Sent<T> {
    /// Who.
    pub visitor: Visitor,
    /// The fields.
    pub form: T,
}

#[derive(Deserialize)]
struct Token {
    token: Option<String>,
}

impl<T: DeserializeOwned + 'static> FromRequest for Sent<T> {
    type Error = PageProblem;
    type Future = Extracting<Sent<T>, PageProblem>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let (asked, store) = (request.clone(), store(request));
        let body = body(request.clone(), payload.take());
        Box::pin(async move {
            let (body, store) = (body.await?, store?);
            let sent: Token = fields(&body)?;
            let visitor =
                Visitor::of(asked, store.clone()).await?.with(sent.token.as_deref(), &store).await?;
            Ok(Sent { visitor, form: fields(&body)? })
        })
    }
}

fn fields<T: DeserializeOwned>(body: &Bytes) -> Result<T, Problem> {
    let text = String::from_utf8_lossy(body);
    if text.split('&').any(|field| field.len() > LONGEST_FIELD) {
        return Err(Problem::Refused(format!(
            "A field holds more than {LONGEST_FIELD} letters: write less."
        )));
    }
    // A letter that is none has no place in anything that is kept.
    let with_none = text.split('&').find(|field| field.contains("%00") || field.contains('\0'));
    if let Some((field, _)) = with_none.and_then(|field| field.split_once('=')) {
        let field: String =
            field.chars().filter(|c| c.is_ascii_alphanumeric() || *c == '_').take(40).collect();
        return Err(letter(&field));
    }
    actix_web::web::Query::<T>::from_query(&text).map(actix_web::web::Query::into_inner).map_err(|_| {
        Problem::Refused("The form cannot be read: reload the page and fill it in again.".into())
    })
}

/// The maker's bench as a script sees it; where a change is asked for, the token was right.
pub struct Caller {
    /// Who.
    pub visitor: Visitor,
}

impl FromRequest for Caller {
    type Error = ApiProblem;
    type Future = Extracting<Caller, ApiProblem>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let reading = request.method().is_safe();
        let token = request.headers().get(HEADER).and_then(|value| value.to_str().ok()).map(str::to_owned);
        let (asked, store) = (request.clone(), store(request));
        Box::pin(async move {
            let store = store?;
            let visitor = Visitor::of(asked, store.clone()).await?;
            // A script says on which bench its page was opened; a picture or a file goes by the session alone.
            let visitor = if reading && token.is_none() {
                visitor
            } else {
                visitor.with(token.as_deref(), &store).await?
            };
            Ok(Caller { visitor })
        })
    }
}

/// A JSON document sent by a script; what cannot be read is refused with the reason.
pub struct Read<T>(pub T);

impl<T: DeserializeOwned + 'static> FromRequest for Read<T> {
    type Error = ApiProblem;
    type Future = Extracting<Read<T>, ApiProblem>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let body = body(request.clone(), payload.take());
        Box::pin(async move {
            let body = body.await?;
            Ok(Read(refusal::read(&body, "what was sent").map_err(|says| Problem::Refused(sentence(&says)))?))
        })
    }
}

/// Nothing but the token.
#[derive(Deserialize)]
pub struct Nothing {}
