//! Where everything heavy is reckoned: pictures, plans, files.
//!
//! A few threads of their own do the work, so that those which serve are always free. What waits to be done waits in a
//! line for each visitor, and the lines take turns: someone who asks for much does not keep the others waiting. A line that
//! is full is told so at once. What nobody waits for any more is not begun. What was made is kept, within a bounded
//! memory, under a key that says all it was made from.

use std::collections::{HashMap, VecDeque};
use std::net::TcpStream;
use std::num::NonZero;
use std::os::fd::BorrowedFd;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::{Arc, Condvar, Mutex, MutexGuard, PoisonError};

use actix_web::HttpRequest;
use actix_web::web::Bytes;
use lru::LruCache;
use tokio::sync::oneshot;

use crate::error::Problem;

/// Most that one visitor may have waiting: a long run sheet's pictures, twice (chosen).
const MOST_EACH: usize = 160;
/// Most that may wait altogether (chosen).
const MOST_ALL: usize = 2_000;
/// Most bytes kept of what was made (chosen).
const MOST_KEPT: usize = 96 << 20;

/// In whose line something waits.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub enum Who {
    /// A browser, by its session.
    Visitor(String),
    /// Programs that ask questions.
    Program,
}

/// The connection that something was asked over, as far as it is needed to see whether it still stands.
#[derive(Clone, Debug)]
pub struct Line(Arc<TcpStream>);

impl Line {
    /// Another hold on a connection; none where the system has no more to give.
    pub fn of(connection: BorrowedFd<'_>) -> Option<Line> {
        Some(Line(Arc::new(connection.try_clone_to_owned().ok()?.into())))
    }

    /// Whether the other end has hung up: then there is nothing more to come from it, and no error either.
    fn is_dead(&self) -> bool {
        matches!(self.0.peek(&mut [0]), Ok(0))
    }
}

/// Who waits for something, and where.
#[derive(Clone, Debug)]
pub struct Asker {
    who: Who,
    line: Option<Line>,
}

impl Asker {
    /// Someone who asked in a request.
    pub fn new(who: Who, request: &HttpRequest) -> Asker {
        Asker { who, line: request.conn_data::<Line>().cloned() }
    }

    /// In whose line.
    pub fn who(&self) -> &Who {
        &self.who
    }

    fn is_gone(&self) -> bool {
        self.line.as_ref().is_some_and(Line::is_dead)
    }
}

type Job = Box<dyn FnOnce() + Send>;

/// What waits to be done.
#[derive(Default)]
struct Waiting {
    lines: HashMap<Who, VecDeque<Job>>,
    /// Whose turn it is: each with something waiting, once.
    turns: VecDeque<Who>,
    all: usize,
}

impl Waiting {
    fn add(&mut self, who: &Who, job: Job) -> bool {
        let line = self.lines.entry(who.clone()).or_default();
        if line.len() >= MOST_EACH || self.all >= MOST_ALL {
            return false;
        }
        if line.is_empty() {
            self.turns.push_back(who.clone());
        }
        line.push_back(job);
        self.all += 1;
        true
    }

    fn next(&mut self) -> Option<Job> {
        let who = self.turns.pop_front()?;
        let line = self.lines.get_mut(&who)?;
        let job = line.pop_front()?;
        self.all -= 1;
        if line.is_empty() {
            self.lines.remove(&who);
        } else {
            self.turns.push_back(who);
        }
        Some(job)
    }
}

struct Room {
    waiting: Mutex<Waiting>,
    more: Condvar,
    made: Mutex<Made>,
}

/// What was made, the latest asked for last to go.
struct Made {
    by_key: LruCache<String, Bytes>,
    bytes: usize,
}

impl Made {
    fn put(&mut self, key: String, made: Bytes) {
        let size = |key: &str, made: &Bytes| key.len() + made.len();
        self.bytes += size(&key, &made);
        if let Some((key, replaced)) = self.by_key.push(key, made) {
            self.bytes -= size(&key, &replaced);
        }
        while self.bytes > MOST_KEPT {
            let Some((key, oldest)) = self.by_key.pop_lru() else { break };
            self.bytes -= size(&key, &oldest);
        }
    }
}

/// The way in.
#[derive(Clone)]
pub struct Workroom(Arc<Room>);

/// Whoever panicked while holding a lock had finished with what it guards.
fn held<T>(lock: &Mutex<T>) -> MutexGuard<'_, T> {
    lock.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Workroom {
    /// Opens it with as many threads as the machine has.
    pub fn open() -> Workroom {
        let threads = std::thread::available_parallelism().map_or(2, NonZero::get);
        let room = Workroom(Arc::new(Room {
            waiting: Mutex::default(),
            more: Condvar::new(),
            made: Mutex::new(Made { by_key: LruCache::unbounded(), bytes: 0 }),
        }));
        for _ in 0..threads {
            let room = room.0.clone();
            std::thread::spawn(move || {
                loop {
                    let mut waiting = held(&room.waiting);
                    let job = loop {
                        match waiting.next() {
                            Some(job) => break job,
                            None => waiting = room.more.wait(waiting).unwrap_or_else(PoisonError::into_inner),
                        }
                    };
                    drop(waiting);
                    // What breaks drops its answer's end, which whoever waits is told of.
                    let _ = catch_unwind(AssertUnwindSafe(job));
                }
            });
        }
        room
    }

    /// Does something when its turn comes.
    ///
    /// # Errors
    /// [`Problem::Busy`] where too much is waiting already, [`Problem::Broken`] where it breaks off.
    pub async fn done<T: Send + 'static>(
        &self,
        asker: &Asker,
        work: impl FnOnce() -> T + Send + 'static,
    ) -> Result<T, Problem> {
        let (tell, told) = oneshot::channel();
        let waits = asker.clone();
        let job = Box::new(move || {
            if !tell.is_closed() {
                let _ = tell.send((!waits.is_gone()).then(work));
            }
        });
        if !held(&self.0.waiting).add(&asker.who, job) {
            return Err(Problem::Busy);
        }
        self.0.more.notify_one();
        // Whoever has hung up reads no answer.
        told.await.map_err(|_| Problem::Broken)?.ok_or(Problem::Busy)
    }

    /// What was made under a key before, or is made now and kept.
    ///
    /// # Errors
    /// As [`Workroom::done`], and whatever the work is refused with.
    pub async fn made(
        &self,
        asker: &Asker,
        key: String,
        work: impl FnOnce() -> Result<Vec<u8>, Problem> + Send + 'static,
    ) -> Result<Bytes, Problem> {
        if let Some(made) = held(&self.0.made).by_key.get(&key) {
            return Ok(made.clone());
        }
        let made = Bytes::from(self.done(asker, work).await??);
        held(&self.0.made).put(key, made.clone());
        Ok(made)
    }
}

impl Workroom {
    /// Several things, each made before under its key or made now and kept; those that are missing are made in one go.
    ///
    /// # Errors
    /// As [`Workroom::done`].
    pub async fn each_made<T: Send + 'static>(
        &self,
        asker: &Asker,
        things: Vec<(String, T)>,
        make: impl Fn(&T) -> String + Send + 'static,
    ) -> Result<Vec<Bytes>, Problem> {
        let known: Vec<Option<Bytes>> = {
            let mut made = held(&self.0.made);
            things.iter().map(|(key, _)| made.by_key.get(key).cloned()).collect()
        };
        let missing: Vec<(String, T)> = things
            .into_iter()
            .zip(&known)
            .filter(|(_, known)| known.is_none())
            .map(|(thing, _)| thing)
            .collect();
        let mut fresh = Vec::new();
        if !missing.is_empty() {
            let make_all = move || -> Vec<(String, Bytes)> {
                missing.into_iter().map(|(key, thing)| (key, Bytes::from(make(&thing)))).collect()
            };
            fresh = self.done(asker, make_all).await?;
            let mut made = held(&self.0.made);
            fresh.iter().for_each(|(key, bytes)| made.put(key.clone(), bytes.clone()));
        }
        let mut fresh = fresh.into_iter().map(|(_, bytes)| bytes);
        Ok(known.into_iter().filter_map(|known| known.or_else(|| fresh.next())).collect())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::io::{Read, Write};
    use std::os::fd::AsFd;
    use std::sync::atomic::{AtomicUsize, Ordering};
    use std::sync::mpsc;

    fn visitor(name: &str) -> Who {
        Who::Visitor(name.into())
    }

    fn program() -> Asker {
        Asker { who: Who::Program, line: None }
    }

    #[test]
    fn visitors_take_turns() {
        let mut waiting = Waiting::default();
        let order = Arc::new(Mutex::new(Vec::new()));
        let mut add = |who: &str, what: u32| {
            let (order, name) = (order.clone(), who.to_owned());
            assert!(waiting.add(&visitor(who), Box::new(move || held(&order).push((name, what)))));
        };
        (1..=3).for_each(|n| add("many", n));
        add("one", 1);
        while let Some(job) = waiting.next() {
            job();
        }
        let order: Vec<(String, u32)> = held(&order).clone();
        let said: Vec<(&str, u32)> = order.iter().map(|(who, what)| (who.as_str(), *what)).collect();
        assert_eq!(said, [("many", 1), ("one", 1), ("many", 2), ("many", 3)]);
        assert!(waiting.lines.is_empty() && waiting.turns.is_empty() && waiting.all == 0);
    }

    #[test]
    fn a_line_that_is_full_takes_no_more_and_the_others_still_do() {
        let mut waiting = Waiting::default();
        for _ in 0..MOST_EACH {
            assert!(waiting.add(&visitor("many"), Box::new(|| {})));
        }
        assert!(!waiting.add(&visitor("many"), Box::new(|| {})));
        assert!(waiting.add(&visitor("one"), Box::new(|| {})));
    }

    #[tokio::test]
    async fn what_breaks_is_told_and_the_room_goes_on() {
        let room = Workroom::open();
        let broken = room.done(&program(), || -> u32 { panic!("on purpose") }).await;
        assert!(matches!(broken, Err(Problem::Broken)));
        assert_eq!(room.done(&program(), || 7).await.unwrap(), 7);
    }

    #[tokio::test]
    async fn what_nobody_waits_for_is_not_begun() {
        let room = Workroom::open();
        let (go, gone) = mpsc::channel::<()>();
        let gone = Arc::new(Mutex::new(gone));
        let threads = std::thread::available_parallelism().map_or(2, NonZero::get);
        let mut held_up = Vec::new();
        let (busy, is_busy) = mpsc::channel::<()>();
        for _ in 0..threads {
            let (room, gone, busy) = (room.clone(), gone.clone(), busy.clone());
            held_up.push(std::thread::spawn(move || {
                let runtime = tokio::runtime::Builder::new_current_thread().build().unwrap();
                let _ = runtime.block_on(room.done(&program(), move || {
                    busy.send(()).unwrap();
                    // All wait for the same door: one after the other is let go.
                    let _ = held(&gone).recv();
                }));
            }));
        }
        (0..threads).for_each(|_| is_busy.recv().unwrap());
        let begun = Arc::new(AtomicUsize::new(0));
        for _ in 0..20 {
            let begun = begun.clone();
            let asker = program();
            let asked = room.done(&asker, move || begun.fetch_add(1, Ordering::SeqCst));
            // Asked for, and gone away before its turn.
            let _ = tokio::time::timeout(std::time::Duration::from_millis(1), asked).await;
        }
        (0..threads).for_each(|_| go.send(()).unwrap());
        held_up.into_iter().for_each(|thread| thread.join().unwrap());
        room.done(&program(), || ()).await.unwrap();
        assert_eq!(begun.load(Ordering::SeqCst), 0);
    }

    #[test]
    fn a_line_whose_other_end_has_hung_up_is_dead() {
        let door = std::net::TcpListener::bind(("127.0.0.1", 0)).unwrap();
        let mut caller = TcpStream::connect(door.local_addr().unwrap()).unwrap();
        let (called, _) = door.accept().unwrap();
        called.set_nonblocking(true).unwrap();
        let line = Line::of(called.as_fd()).unwrap();
        assert!(!line.is_dead(), "nothing said yet");
        caller.write_all(b"more").unwrap();
        called.set_nonblocking(false).unwrap();
        (&called).read_exact(&mut [0; 3]).unwrap();
        called.set_nonblocking(true).unwrap();
        assert!(!line.is_dead(), "there is more to read");
        (&called).read_exact(&mut [0; 1]).unwrap();
        drop(caller);
        let hung_up = (0..200).any(|_| {
            std::thread::sleep(std::time::Duration::from_millis(10));
            line.is_dead()
        });
        assert!(hung_up);
    }

    #[tokio::test]
    async fn what_was_made_is_kept_within_bounds() {
        let room = Workroom::open();
        let made = AtomicUsize::new(0);
        for n in [1, 2, 1, 1, 2] {
            let once = made.load(Ordering::SeqCst);
            let bytes =
                room.made(&program(), format!("key {n}"), move || Ok(vec![n as u8; 10])).await.unwrap();
            assert_eq!(bytes[0], n as u8);
            made.store(once + 1, Ordering::SeqCst);
        }
        assert_eq!(held(&room.0.made).by_key.len(), 2);
        let things = ["one", "two", "three", "two"].map(|name| (format!("word {name}"), name)).to_vec();
        for _ in 0..2 {
            let all = room.each_made(&program(), things.clone(), |name| name.to_uppercase()).await.unwrap();
            assert_eq!(all, ["ONE", "TWO", "THREE", "TWO"]);
        }
        let mut kept = Made { by_key: LruCache::unbounded(), bytes: 0 };
        for n in 0..40 {
            kept.put(format!("{n}"), Bytes::from(vec![0; MOST_KEPT / 10]));
            assert!(kept.bytes <= MOST_KEPT);
        }
        assert!(kept.by_key.contains("39") && !kept.by_key.contains("20"));
    }
}
