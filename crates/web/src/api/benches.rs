//! A whole bench as one archive, out and in.

use std::pin::Pin;
use std::task::{Context, Poll};

use actix_web::body::{BodySize, MessageBody};
use actix_web::web::Bytes;
use actix_web::{HttpResponse, web};
use rosy_core::Panel;
use rosy_core::ink::Ink;
use rosy_core::record::Made;
use rosy_store::archive::{Leaving, Row};
use rosy_store::{Store, Thing};
use tokio::sync::mpsc;
use zip::result::ZipError;

use crate::apart::Errand;
use crate::archive::{self, Packing, Parts, changes, head_of, of_rows, table_of};
use crate::error::{ApiProblem, Problem, broken};
use crate::files::attachment;
use crate::visitor::{Caller, Filed};
use crate::workroom::{Asker, Workroom};

/// Pictures drawn in one turn: the others' turns come between.
const PICTURES: usize = 8;
/// Parts that wait for a slow reader.
const AHEAD: usize = 4;

/// `GET /benches/bench.zip`: the bench that is open, with all that is on it, as it is packed.
pub async fn take_out(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, ApiProblem> {
    let leaving = store.leaving(caller.visitor.bench.id).await?;
    let name = attachment(&leaving.bench.name, "zip");
    let (give, given) = mpsc::channel(AHEAD);
    let out = Out { room, asker: caller.visitor.asker().heavy_if(true), give, leaving };
    actix_web::rt::spawn(out.all());
    Ok(HttpResponse::Ok().content_type("application/zip").insert_header(name).body(Given(given)))
}

/// What is given as it comes. Where it breaks off, so does the answer: half an archive is never taken for a whole one.
struct Given(mpsc::Receiver<Result<Bytes, Problem>>);

impl MessageBody for Given {
    type Error = std::io::Error;

    fn size(&self) -> BodySize {
        BodySize::Stream
    }

    fn poll_next(
        mut self: Pin<&mut Self>,
        context: &mut Context<'_>,
    ) -> Poll<Option<Result<Bytes, std::io::Error>>> {
        let broken = |problem: Problem| std::io::Error::other(problem.to_string());
        self.0.poll_recv(context).map(|given| given.map(|given| given.map_err(broken)))
    }
}

/// A bench on its way out.
struct Out {
    room: web::Data<Workroom>,
    asker: Asker,
    give: mpsc::Sender<Result<Bytes, Problem>>,
    leaving: Leaving,
}

impl Out {
    async fn all(self) {
        if let Err(problem) = self.packed().await {
            let _ = self.give.send(Err(problem)).await;
        }
    }

    /// Packs something more when its turn comes, and gives out what is ready.
    async fn packs(
        &self,
        packing: Packing,
        work: impl FnOnce(&mut Packing) -> Result<(), ZipError> + Send + 'static,
    ) -> Result<Packing, Problem> {
        let done = self.room.done(&self.asker, move || {
            let mut packing = packing;
            work(&mut packing).map(|()| (packing.taken(), packing))
        });
        let (ready, packing) = done.await?.map_err(broken)?;
        self.give(ready).await?;
        Ok(packing)
    }

    async fn give(&self, ready: Vec<u8>) -> Result<(), Problem> {
        if ready.is_empty() {
            return Ok(());
        }
        // Whoever has gone takes nothing more.
        self.give.send(Ok(ready.into())).await.map_err(|_| Problem::Busy)
    }

    /// All things of a kind, some at a time.
    async fn each(
        &self,
        kind: &str,
        mut packing: Packing,
        mut work: impl FnMut(Vec<Row>) -> Box<dyn FnOnce(&mut Packing) -> Result<(), ZipError> + Send>,
    ) -> Result<Packing, Problem> {
        let mut after = None;
        loop {
            let rows = self.leaving.things(kind, after).await?;
            let Some(last) = rows.last() else { return Ok(packing) };
            after = Some(last.id);
            packing = self.packs(packing, work(rows)).await?;
        }
    }

    async fn packed(&self) -> Result<(), Problem> {
        let cannot = |error: ZipError| broken(error);
        let mut packing = Packing::of(&self.leaving.bench).map_err(cannot)?;
        let (mut inks, mut made): (Vec<Ink>, String) = Default::default();
        for kind in self.leaving.kinds().await? {
            packing.list(&format!("things/{kind}.json")).map_err(cannot)?;
            packing = self
                .each(&kind, packing, |rows| {
                    if kind == Ink::KIND {
                        inks.extend(of_rows(&rows));
                    }
                    if kind == Made::KIND {
                        made.push_str(&table_of(&of_rows(&rows), made.is_empty()));
                    }
                    Box::new(move |packing| packing.more(&rows))
                })
                .await?;
            packing.end().map_err(cannot)?;
        }
        packing.list("changes.json").map_err(cannot)?;
        let mut after = 0;
        loop {
            let rows = self.leaving.changes(after).await?;
            let Some((last, _)) = rows.last() else { break };
            after = *last;
            packing = self.packs(packing, move |packing| packing.more(&changes(rows))).await?;
        }
        packing.end().map_err(cannot)?;
        let mut after = None;
        while let Some((id, body)) = self.leaving.photo(after).await? {
            after = Some(id);
            packing = self.packs(packing, move |packing| packing.photo(id, &body)).await?;
        }
        let made = if made.is_empty() { table_of(&[], true) } else { made };
        packing = self.packs(packing, move |packing| packing.tables(&inks, &made)).await?;
        for (of, kind) in [("panels", Panel::KIND), ("made", Made::KIND)] {
            let mut after = None;
            loop {
                let rows = self.leaving.things(kind, after).await?;
                let Some(last) = rows.last() else { break };
                after = Some(last.id);
                for rows in rows.chunks(PICTURES) {
                    let panels: Vec<Panel> = if of == "panels" {
                        of_rows(rows)
                    } else {
                        of_rows::<Made>(rows).into_iter().map(|made| made.panel).collect()
                    };
                    packing = self.packs(packing, move |packing| packing.pictures(of, &panels)).await?;
                }
            }
        }
        let last = self.room.done(&self.asker, move || packing.finish()).await?.map_err(cannot)?;
        self.give(last).await
    }
}

/// `POST /api/benches`: a bench set up from its archive, and opened.
pub async fn bring_in(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    sent: Filed<{ archive::MOST_BYTES }>,
) -> Result<HttpResponse, ApiProblem> {
    let cannot = |error: std::io::Error| broken(format!("an archive could not be unpacked: {error}"));
    let taken = tempfile::NamedTempFile::new().map_err(cannot)?;
    let errand =
        Errand::Archive { from: sent.file.path().to_owned(), to: taken.path().to_owned(), bytes: sent.bytes };
    let head = room.apart(caller.visitor.asker(), errand, Bytes::new()).await?;
    let mut arrived = head_of(&head).map_err(cannot)?;
    if store.benches().await?.iter().any(|bench| bench.name == arrived.name.as_str()) {
        arrived.name = arrived.name.with_tail(", brought in");
    }
    let left = arrived.left;
    let bench = store.bring_bench(arrived, Parts::of(taken.path()).map_err(cannot)?).await?;
    caller.visitor.open(bench.id)?;
    let then = if left > 0 { format!("/benches?left={left}") } else { "/".into() };
    Ok(HttpResponse::Ok().json(serde_json::json!({ "then": then, "left": left })))
}
