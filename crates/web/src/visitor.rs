//! Who is at the desk: the bench a request is for, and proof that a change comes from our own page.

use std::future::Future;
use std::pin::Pin;

use actix_session::{Session, SessionExt};
use actix_web::dev::Payload;
use actix_web::web::{Bytes, Data};
use actix_web::{FromRequest, HttpRequest};
use rosy_core::Units;
use rosy_store::{Bench, Store};
use serde::Deserialize;
use serde::de::DeserializeOwned;
use uuid::Uuid;

use crate::error::{ApiProblem, PageProblem, Problem};

const BENCH: &str = "bench";
const TOKEN: &str = "token";
/// The header in which scripts send the token.
const HEADER: &str = "x-rosy-token";

/// The maker's bench, by the sealed cookie; the oldest bench where there is none yet.
pub struct Visitor {
    /// The bench.
    pub bench: Bench,
    /// What a page puts into its forms.
    pub token: String,
    session: Session,
}

impl Visitor {
    /// Opens another bench from now on.
    pub fn open(&self, bench: Uuid) -> Result<(), Problem> {
        self.session.insert(BENCH, bench).map_err(|error| Problem::Away(error.to_string()))
    }

    async fn of(session: Session, store: Data<Store>) -> Result<Visitor, Problem> {
        let known = session.get::<Uuid>(BENCH).ok().flatten();
        let known = match known {
            Some(id) => store.bench(id).await?,
            None => None,
        };
        let bench = match known {
            Some(bench) => bench,
            None => store.benches().await?.into_iter().next().ok_or(Problem::Missing("bench"))?,
        };
        let keep = |error: actix_session::SessionInsertError| Problem::Away(error.to_string());
        session.insert(BENCH, bench.id).map_err(keep)?;
        let token = match session.get::<String>(TOKEN).ok().flatten() {
            Some(token) => token,
            None => {
                let token = Uuid::new_v4().simple().to_string();
                session.insert(TOKEN, &token).map_err(keep)?;
                token
            }
        };
        Ok(Visitor { bench, token, session })
    }

    /// How this maker reads lengths.
    pub fn units(&self) -> Units {
        self.bench.units
    }
}

type Extracting<T, E> = Pin<Box<dyn Future<Output = Result<T, E>>>>;

fn store(request: &HttpRequest) -> Result<Data<Store>, Problem> {
    request.app_data::<Data<Store>>().cloned().ok_or_else(|| Problem::Away("no store is set up".into()))
}

impl FromRequest for Visitor {
    type Error = PageProblem;
    type Future = Extracting<Visitor, PageProblem>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let (session, store) = (request.get_session(), store(request));
        Box::pin(async move { Ok(Visitor::of(session, store?).await?) })
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
    token: String,
}

impl<T: DeserializeOwned + 'static> FromRequest for Sent<T> {
    type Error = PageProblem;
    type Future = Extracting<Sent<T>, PageProblem>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let (session, store) = (request.get_session(), store(request));
        let body = Bytes::from_request(request, payload);
        Box::pin(async move {
            let body = body.await.map_err(|error| Problem::Refused(error.to_string()))?;
            let visitor = Visitor::of(session, store?).await?;
            let sent: Token = fields(&body)?;
            if sent.token != visitor.token {
                return Err(Problem::Stale.into());
            }
            Ok(Sent { visitor, form: fields(&body)? })
        })
    }
}

fn fields<T: DeserializeOwned>(body: &Bytes) -> Result<T, Problem> {
    actix_web::web::Query::<T>::from_query(&String::from_utf8_lossy(body))
        .map(actix_web::web::Query::into_inner)
        .map_err(|error| Problem::Refused(format!("the form cannot be read: {error}")))
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
        let (session, store) = (request.get_session(), store(request));
        Box::pin(async move {
            let visitor = Visitor::of(session, store?).await?;
            if !reading && token.as_deref() != Some(visitor.token.as_str()) {
                return Err(Problem::Stale.into());
            }
            Ok(Caller { visitor })
        })
    }
}

/// A JSON document sent by a script; what cannot be read is refused with the reason.
pub struct Document<T>(pub T);

impl<T: DeserializeOwned + 'static> FromRequest for Document<T> {
    type Error = ApiProblem;
    type Future = Extracting<Document<T>, ApiProblem>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let body = Bytes::from_request(request, payload);
        Box::pin(async move {
            let body = body.await.map_err(|error| Problem::Refused(error.to_string()))?;
            let read = serde_json::from_slice(&body);
            Ok(Document(read.map_err(|error| Problem::Refused(plain(&error.to_string())))?))
        })
    }
}

/// A reader's message without its line and column, which mean nothing to someone at a page.
fn plain(message: &str) -> String {
    message.split(" at line ").next().unwrap_or(message).to_owned()
}

/// Nothing but the token.
#[derive(Deserialize)]
pub struct Nothing {}
