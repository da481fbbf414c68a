//! Where everything heavy is reckoned: pictures, plans, files.
//!
//! A few threads of their own do the work, so that those which serve are always free. What waits to be done waits in a
//! line for each visitor, and turns go by the work done so far: who has had less of the threads' time comes first, however
//! much the others ask for. What takes long waits apart from what a hand waits for, and is done by threads that stand back
//! whenever the others have something to do. A line that is full is told so at once. What nobody waits for any more is not
//! begun. What was made is kept, within a bounded memory, under a key that says all it was made from.

use std::cell::RefCell;
use std::collections::{HashMap, VecDeque};
use std::net::TcpStream;
use std::num::NonZero;
use std::os::fd::BorrowedFd;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::{Arc, Condvar, Mutex, MutexGuard, PoisonError};
use std::time::Instant;

use actix_web::HttpRequest;
use actix_web::web::Bytes;
use lru::LruCache;
use tokio::sync::oneshot;

use crate::apart::{Ended, Errand, Hand};
use crate::error::{Problem, sentence};

/// Most that one visitor may have waiting: a long run sheet's pictures, twice (chosen).
const MOST_EACH: usize = 160;
/// Most that may wait altogether (chosen).
const MOST_ALL: usize = 2_000;
/// Most visitors whose work is remembered while they ask for nothing.
const MOST_KNOWN: usize = 1_000;
/// Most bytes kept of what was made (chosen).
const MOST_KEPT: usize = 96 << 20;
/// How far the threads that do what takes long stand back (the system's own measure, of at most 19).
const STANDS_BACK: i32 = 15;

/// In whose line something waits.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub enum Who {
    /// A browser, by its session.
    Visitor(String),
    /// All those who come without a session, as anyone may who wants to be many.
    Newcomers,
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

/// How long something takes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Heft {
    /// A hand waits for it.
    Light,
    /// It may take a while.
    Heavy,
}

/// Who waits for something, and where.
#[derive(Clone, Debug)]
pub struct Asker {
    who: Who,
    line: Option<Line>,
    heft: Heft,
}

impl Asker {
    /// Someone who asked in a request.
    pub fn new(who: Who, request: &HttpRequest) -> Asker {
        // Programs wait for whole answers.
        let heft = if who == Who::Program { Heft::Heavy } else { Heft::Light };
        Asker { who, line: request.conn_data::<Line>().cloned(), heft }
    }

    /// In whose line.
    pub fn who(&self) -> &Who {
        &self.who
    }

    /// The same, asking for something that takes long where `is_heavy`.
    pub fn heavy_if(&self, is_heavy: bool) -> Asker {
        Asker { heft: if is_heavy { Heft::Heavy } else { self.heft }, ..self.clone() }
    }

    fn is_gone(&self) -> bool {
        self.line.as_ref().is_some_and(Line::is_dead)
    }
}

type Job = Box<dyn FnOnce() + Send>;

/// What one visitor waits for.
#[derive(Default)]
struct Queue {
    light: VecDeque<Job>,
    heavy: VecDeque<Job>,
    /// How many of theirs are being done, and how many of these take long.
    doing: usize,
    doing_heavy: usize,
    /// Seconds of the threads' time that they have had.
    spent: f64,
}

impl Queue {
    fn of(&mut self, heft: Heft) -> &mut VecDeque<Job> {
        match heft {
            Heft::Light => &mut self.light,
            Heft::Heavy => &mut self.heavy,
        }
    }

    fn waiting(&self) -> usize {
        self.light.len() + self.heavy.len()
    }

    fn is_idle(&self) -> bool {
        self.waiting() == 0 && self.doing == 0
    }
}

/// What waits to be done.
struct Waiting {
    /// How many of one visitor's that take long are done at once: one thread is left for the others.
    most_heavy: usize,
    queues: HashMap<Who, Queue>,
    /// How much whoever was served last had had by then: whoever comes back begins no lower, so that nothing is saved up.
    level: f64,
    all: usize,
    come: u64,
    /// When each of those with nothing waiting came first, by number: of two who had as much, the earlier is first.
    since: HashMap<Who, u64>,
}

impl Waiting {
    /// With so many threads for what takes long.
    fn at(threads: usize) -> Waiting {
        Waiting {
            most_heavy: threads.saturating_sub(1).max(1),
            queues: HashMap::new(),
            level: 0.0,
            all: 0,
            come: 0,
            since: HashMap::new(),
        }
    }

    fn add(&mut self, who: &Who, heft: Heft, job: Job) -> bool {
        if self.all >= MOST_ALL {
            return false;
        }
        let queue = self.queues.entry(who.clone()).or_default();
        if queue.waiting() >= MOST_EACH {
            return false;
        }
        if queue.is_idle() {
            queue.spent = queue.spent.max(self.level);
        }
        queue.of(heft).push_back(job);
        self.all += 1;
        self.come += 1;
        self.since.entry(who.clone()).or_insert(self.come);
        true
    }

    /// The next of what takes so long: of whoever has fewest being done and has had least.
    fn next(&mut self, heft: Heft) -> Option<(Who, Job)> {
        let since = &self.since;
        let rank = |who: &Who, queue: &Queue| (queue.doing, queue.spent, since.get(who).copied());
        let most = self.most_heavy;
        let waits = self.queues.iter_mut().filter(|(_, queue)| match heft {
            Heft::Light => !queue.light.is_empty(),
            Heft::Heavy => !queue.heavy.is_empty() && queue.doing_heavy < most,
        });
        let (who, queue) = waits.min_by(|(a, one), (b, other)| {
            rank(a, one).partial_cmp(&rank(b, other)).unwrap_or(std::cmp::Ordering::Equal)
        })?;
        let (who, job) = (who.clone(), queue.of(heft).pop_front()?);
        queue.doing += 1;
        queue.doing_heavy += usize::from(heft == Heft::Heavy);
        self.level = self.level.max(queue.spent);
        self.all -= 1;
        // Whoever was served comes after those who wait as well.
        self.come += 1;
        self.since.insert(who.clone(), self.come);
        Some((who, job))
    }

    fn is_done(&mut self, who: &Who, heft: Heft, seconds: f64) {
        if let Some(queue) = self.queues.get_mut(who) {
            queue.doing -= 1;
            queue.doing_heavy -= usize::from(heft == Heft::Heavy);
            queue.spent += seconds;
        }
        if self.queues.len() > MOST_KNOWN {
            let level = self.level;
            self.queues.retain(|_, queue| !queue.is_idle() || queue.spent > level);
            if self.queues.len() > 2 * MOST_KNOWN {
                self.queues.retain(|_, queue| !queue.is_idle());
            }
            let queues = &self.queues;
            self.since.retain(|who, _| queues.contains_key(who));
        }
    }
}

struct Room {
    waiting: Mutex<Waiting>,
    more: Condvar,
    made: Mutex<Made>,
    /// Threads that stand back, for what takes long and is shared out.
    back: rayon::ThreadPool,
}

thread_local! {
    /// The child of a thread of the room.
    static HAND: RefCell<Option<Hand>> = const { RefCell::new(None) };
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

impl Room {
    /// What a thread does: one thing after the other.
    fn work(&self, heft: Heft) {
        loop {
            let mut waiting = held(&self.waiting);
            let (who, job) = loop {
                match waiting.next(heft) {
                    Some(next) => break next,
                    None => waiting = self.more.wait(waiting).unwrap_or_else(PoisonError::into_inner),
                }
            };
            drop(waiting);
            let began = Instant::now();
            // What breaks drops its answer's end, which whoever waits is told of.
            let _ = catch_unwind(AssertUnwindSafe(job));
            held(&self.waiting).is_done(&who, heft, began.elapsed().as_secs_f64());
            // What of theirs was held back may be next.
            self.more.notify_all();
        }
    }
}

/// Lets every other thread of this machine go first. Where the system does not, this one is as quick as the others.
fn stand_back() {
    let _ = rustix::process::setpriority_process(None, STANDS_BACK);
}

/// Whoever panicked while holding a lock had finished with what it guards.
fn held<T>(lock: &Mutex<T>) -> MutexGuard<'_, T> {
    lock.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Workroom {
    /// Opens it with as many threads as the machine has for what is light, and as many that stand back.
    pub fn open() -> Workroom {
        let threads = std::thread::available_parallelism().map_or(2, NonZero::get);
        let back =
            rayon::ThreadPoolBuilder::new().num_threads(threads).start_handler(|_| stand_back()).build();
        let room = Workroom(Arc::new(Room {
            waiting: Mutex::new(Waiting::at(threads)),
            more: Condvar::new(),
            made: Mutex::new(Made { by_key: LruCache::unbounded(), bytes: 0 }),
            back: back.expect("threads can be begun"),
        }));
        for heft in [Heft::Light, Heft::Heavy] {
            for _ in 0..threads {
                let room = room.0.clone();
                std::thread::spawn(move || {
                    if heft == Heft::Heavy {
                        stand_back();
                    }
                    room.work(heft)
                });
            }
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
        let (room, heft) = (self.0.clone(), asker.heft);
        self.in_turn(asker, move |_| match heft {
            Heft::Light => work(),
            Heft::Heavy => room.back.install(work),
        })
        .await
    }

    /// Has an errand done apart when its turn comes; nobody waits for it any more once whoever asked has gone.
    ///
    /// # Errors
    /// As [`Workroom::done`], and [`Problem::Refused`] where the errand is refused, or costs too much.
    pub async fn apart(&self, asker: &Asker, errand: Errand, sent: Bytes) -> Result<Vec<u8>, Problem> {
        let asker = asker.heavy_if(true);
        let done = self.in_turn(&asker, move |is_wanted| {
            HAND.with_borrow_mut(|hand| Hand::does(hand, &errand, &sent, is_wanted))
        });
        done.await?.map_err(|ended| match ended {
            Ended::Refused(says) => Problem::Refused(sentence(&says)),
            Ended::Broken => Problem::Broken,
            Ended::Unwanted => Problem::Busy,
        })
    }

    async fn in_turn<T: Send + 'static>(
        &self,
        asker: &Asker,
        work: impl FnOnce(&dyn Fn() -> bool) -> T + Send + 'static,
    ) -> Result<T, Problem> {
        let (tell, told) = oneshot::channel();
        let waits = asker.clone();
        let job = Box::new(move || {
            if !tell.is_closed() {
                let done = (!waits.is_gone()).then(|| work(&|| !tell.is_closed() && !waits.is_gone()));
                let _ = tell.send(done);
            }
        });
        if !held(&self.0.waiting).add(&asker.who, asker.heft, job) {
            return Err(Problem::Busy);
        }
        // Whichever of the threads it is for.
        self.0.more.notify_all();
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
    /// What came of an errand before, under a key, or comes of it now and is kept.
    ///
    /// # Errors
    /// As [`Workroom::apart`].
    pub async fn made_apart(
        &self,
        asker: &Asker,
        key: String,
        errand: Errand,
        sent: Bytes,
    ) -> Result<Bytes, Problem> {
        if let Some(made) = held(&self.0.made).by_key.get(&key) {
            return Ok(made.clone());
        }
        let made = Bytes::from(self.apart(asker, errand, sent).await?);
        held(&self.0.made).put(key, made.clone());
        Ok(made)
    }

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
        Asker { who: Who::Program, line: None, heft: Heft::Light }
    }

    /// In which order what waits is done, each taking as long as is said.
    fn order(waiting: &mut Waiting, takes: impl Fn(&str) -> f64) -> Vec<String> {
        let mut order = Vec::new();
        while let Some((who, _)) = waiting.next(Heft::Light) {
            let Who::Visitor(name) = &who else { continue };
            waiting.is_done(&who, Heft::Light, takes(name));
            order.push(name.clone());
        }
        order
    }

    #[test]
    fn turns_go_by_the_work_and_not_by_how_much_is_asked_for() {
        let mut waiting = Waiting::at(2);
        let add = |waiting: &mut Waiting, who: &str, times: usize| {
            for _ in 0..times {
                assert!(waiting.add(&visitor(who), Heft::Light, Box::new(|| {})));
            }
        };
        add(&mut waiting, "many", 3);
        add(&mut waiting, "one", 1);
        assert_eq!(order(&mut waiting, |_| 1.0), ["many", "one", "many", "many"]);
        // Ten of one visitor's are as much work as one of another's.
        add(&mut waiting, "large", 3);
        add(&mut waiting, "small", 12);
        let order_of = order(&mut waiting, |who| if who == "large" { 1.0 } else { 0.1 });
        let before = order_of.iter().enumerate().filter(|(_, who)| *who == "large").map(|(at, _)| at).nth(1);
        assert!(before.is_some_and(|before| before >= 10), "{order_of:?}");
        assert_eq!(waiting.all, 0);
        // Whoever asked for nothing for long has saved nothing up.
        add(&mut waiting, "late", 2);
        add(&mut waiting, "large", 2);
        assert_eq!(order(&mut waiting, |_| 1.0)[..2], ["late", "large"]);
    }

    #[test]
    fn what_takes_long_waits_apart_and_who_has_something_being_done_comes_later() {
        let mut waiting = Waiting::at(2);
        assert!(waiting.add(&visitor("one"), Heft::Heavy, Box::new(|| {})));
        assert!(waiting.add(&visitor("one"), Heft::Heavy, Box::new(|| {})));
        assert!(waiting.add(&visitor("two"), Heft::Heavy, Box::new(|| {})));
        assert!(waiting.next(Heft::Light).is_none());
        let next = |waiting: &mut Waiting| waiting.next(Heft::Heavy).map(|(who, _)| who);
        assert_eq!(next(&mut waiting), Some(visitor("one")));
        assert_eq!(next(&mut waiting), Some(visitor("two")));
        // Of two threads one is left for the others.
        assert_eq!(next(&mut waiting), None);
        waiting.is_done(&visitor("one"), Heft::Heavy, 1.0);
        assert_eq!(next(&mut waiting), Some(visitor("one")));
        assert_eq!(next(&mut waiting), None);
    }

    #[test]
    fn few_are_remembered_of_many_who_came_once() {
        let mut waiting = Waiting::at(2);
        for n in 0..5 * MOST_KNOWN {
            let who = visitor(&n.to_string());
            assert!(waiting.add(&who, Heft::Light, Box::new(|| {})));
            let (who, _) = waiting.next(Heft::Light).unwrap();
            waiting.is_done(&who, Heft::Light, 1.0);
        }
        assert!(waiting.queues.len() <= 2 * MOST_KNOWN + 1 && waiting.since.len() <= 2 * MOST_KNOWN + 1);
    }

    #[test]
    fn a_line_that_is_full_takes_no_more_and_the_others_still_do() {
        let mut waiting = Waiting::at(2);
        for _ in 0..MOST_EACH {
            assert!(waiting.add(&visitor("many"), Heft::Light, Box::new(|| {})));
        }
        assert!(!waiting.add(&visitor("many"), Heft::Heavy, Box::new(|| {})));
        assert!(waiting.add(&visitor("one"), Heft::Light, Box::new(|| {})));
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
