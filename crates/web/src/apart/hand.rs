//! How is a child begun, told what to do, and ended? A thread of the workroom has one child at a time: it is begun when it is
//! first wanted, does errand after errand, and is ended when it takes too long or nobody waits for it any more.

use std::io::{self, Read, Write};
use std::os::fd::OwnedFd;
use std::os::unix::net::UnixStream;
use std::os::unix::process::ExitStatusExt;
use std::process::{Child, Command, Stdio};
use std::sync::{Condvar, Mutex, PoisonError};
use std::time::{Duration, Instant};

use rustix::process::Signal;

use super::child::{Answered, Message, Outcome};
use super::errand::Errand;
use super::limits::{Limits, TOGETHER};

/// How often it is looked whether an errand is still wanted.
const LOOKED: Duration = Duration::from_millis(50);
/// How many times its seconds of a processor an errand may take by the clock: the machine may be busy.
const PATIENCE: u32 = 12;

/// A child of this program.
pub struct Hand {
    child: Child,
    line: UnixStream,
}

/// How an errand ended without an answer.
#[derive(Debug, PartialEq, Eq)]
pub enum Ended {
    /// It was refused: why, and what to do.
    Refused(String),
    /// The program itself went wrong.
    Broken,
    /// Nobody waits for it any more.
    Unwanted,
}

/// Megabytes that errands may hold just now.
struct Held(u64);

static HELD: Mutex<u64> = Mutex::new(0);
static LESS: Condvar = Condvar::new();

impl Held {
    /// Waits until there is room for so many.
    fn of(megabytes: u64) -> Held {
        let held = HELD.lock().unwrap_or_else(PoisonError::into_inner);
        let is_full = |held: &mut u64| *held + megabytes > TOGETHER;
        *LESS.wait_while(held, is_full).unwrap_or_else(PoisonError::into_inner) += megabytes;
        Held(megabytes)
    }
}

impl Drop for Held {
    fn drop(&mut self) {
        *HELD.lock().unwrap_or_else(PoisonError::into_inner) -= self.0;
        LESS.notify_all();
    }
}

impl Hand {
    fn begin() -> io::Result<Hand> {
        let (line, theirs) = UnixStream::pair()?;
        // The program as it runs, whatever has become of its file since.
        let child = Command::new("/proc/self/exe")
            .arg("work")
            .env_clear()
            // One heap for all threads: what is held is what is used.
            .env("MALLOC_ARENA_MAX", "1")
            .env("RAYON_NUM_THREADS", "2")
            .stdin(Stdio::from(OwnedFd::from(theirs.try_clone()?)))
            .stdout(Stdio::from(OwnedFd::from(theirs)))
            .stderr(Stdio::null())
            .spawn()?;
        line.set_read_timeout(Some(LOOKED))?;
        line.set_write_timeout(Some(LOOKED))?;
        Ok(Hand { child, line })
    }

    /// Has an errand done by the child there is, or by a new one.
    ///
    /// # Errors
    /// How it [`Ended`].
    pub fn does(
        there: &mut Option<Hand>,
        errand: &Errand,
        sent: &[u8],
        is_wanted: &dyn Fn() -> bool,
    ) -> Result<Vec<u8>, Ended> {
        let limits = errand.limits();
        let _held = Held::of(limits.megabytes);
        // One that has ended meanwhile is no fault of what is asked now.
        let there_still = there.take().and_then(Hand::if_it_runs);
        let mut hand = match there_still {
            Some(hand) => hand,
            None => Hand::begin().map_err(|error| {
                eprintln!("rosy-veil: no child could be begun: {error}");
                Ended::Broken
            })?,
        };
        let until = Instant::now() + PATIENCE * Duration::from_secs(limits.seconds);
        let wanted = || is_wanted() && Instant::now() < until;
        match hand.asked(errand, sent, &wanted) {
            Ok((answered, body)) => {
                if answered.is_last {
                    hand.end();
                } else {
                    *there = Some(hand);
                }
                let says = || String::from_utf8_lossy(&body).into_owned();
                match answered.outcome {
                    Outcome::Done => Ok(body),
                    Outcome::Refused => Err(Ended::Refused(says())),
                    Outcome::Broken => {
                        eprintln!("rosy-veil: working apart, {}", says());
                        Err(Ended::Broken)
                    }
                }
            }
            Err(_) if !is_wanted() => {
                hand.end();
                Err(Ended::Unwanted)
            }
            Err(_) => Err(Ended::Refused(hand.why(&limits))),
        }
    }

    fn asked(
        &mut self,
        errand: &Errand,
        sent: &[u8],
        wanted: &dyn Fn() -> bool,
    ) -> io::Result<(Answered, Vec<u8>)> {
        let asked = Message { errand: errand.clone(), bytes: sent.len() as u64 };
        let head = serde_json::to_string(&asked)? + "\n";
        let mut line = Patient { line: &self.line, wanted };
        line.write_all(head.as_bytes())?;
        line.write_all(sent)?;
        let mut head = Vec::new();
        // The head of an answer is short: letter by letter, so that nothing of what follows is taken.
        let mut letter = [0];
        while head.last() != Some(&b'\n') {
            line.read_exact(&mut letter)?;
            head.extend(letter);
        }
        let answered: Answered = serde_json::from_slice(&head)?;
        let mut body = vec![0; usize::try_from(answered.bytes).unwrap_or(usize::MAX)];
        line.read_exact(&mut body)?;
        Ok((answered, body))
    }

    fn if_it_runs(mut self) -> Option<Hand> {
        matches!(self.child.try_wait(), Ok(None)).then_some(self)
    }

    /// Ends it at once.
    fn end(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }

    /// Why it ended without an answer.
    fn why(&mut self, limits: &Limits) -> String {
        let by_itself = self.child.try_wait().ok().flatten();
        // One whose line is closed is about to end.
        let ended = by_itself.or_else(|| {
            std::thread::sleep(LOOKED);
            self.child.try_wait().ok().flatten()
        });
        self.end();
        match ended.map(|ended| ended.signal()) {
            Some(Some(signal)) if signal != Signal::XCPU.as_raw() && signal != Signal::KILL.as_raw() => {
                limits.too_much()
            }
            Some(None) => limits.too_much(),
            _ => limits.too_long(),
        }
    }
}

impl Drop for Hand {
    fn drop(&mut self) {
        self.end();
    }
}

/// A line that is waited at as long as what comes over it is wanted.
struct Patient<'a> {
    line: &'a UnixStream,
    wanted: &'a dyn Fn() -> bool,
}

impl Patient<'_> {
    fn waiting<T>(&self, mut step: impl FnMut(&UnixStream) -> io::Result<T>) -> io::Result<T> {
        loop {
            match step(self.line) {
                Err(error) if matches!(error.kind(), io::ErrorKind::WouldBlock | io::ErrorKind::TimedOut) => {
                    if !(self.wanted)() {
                        return Err(io::ErrorKind::ConnectionAborted.into());
                    }
                }
                other => return other,
            }
        }
    }
}

impl Read for Patient<'_> {
    fn read(&mut self, into: &mut [u8]) -> io::Result<usize> {
        self.waiting(|mut line| line.read(into))
    }
}

impl Write for Patient<'_> {
    fn write(&mut self, from: &[u8]) -> io::Result<usize> {
        self.waiting(|mut line| line.write(from))
    }

    fn flush(&mut self) -> io::Result<()> {
        Ok(())
    }
}
