//! What does the child do? It waits for errands on its standard input, does one after the other, each within its limits, and
//! answers on its standard output. It ends when nobody speaks to it any more.

use std::cell::RefCell;
use std::io::{self, BufRead, Read, Write};
use std::panic::{AssertUnwindSafe, catch_unwind};

use rustix::process::{Resource, Rlimit, Signal, getrlimit, set_parent_process_death_signal, setrlimit};
use rustix::time::{ClockId, clock_gettime};
use serde::{Deserialize, Serialize};

use super::errand::Errand;
use super::limits::Limits;

/// Bytes held after an errand from which on a child has had its day.
const STALE: u64 = 48 << 20;

/// What stands before what is sent: one line of JSON.
#[derive(Serialize, Deserialize)]
pub struct Message {
    /// What is to be done.
    pub errand: Errand,
    /// How many bytes follow.
    pub bytes: u64,
}

/// How it went.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Outcome {
    /// Done: what came of it follows.
    Done,
    /// Refused: why, and what to do, follows.
    Refused,
    /// The program itself went wrong: how, follows.
    Broken,
}

/// What stands before an answer: one line of JSON.
#[derive(Serialize, Deserialize)]
pub struct Answered {
    /// How it went.
    pub outcome: Outcome,
    /// How many bytes follow.
    pub bytes: u64,
    /// Whether the child ends now, since it holds more memory than it should.
    pub is_last: bool,
}

thread_local! {
    static BROKEN: RefCell<String> = const { RefCell::new(String::new()) };
}

/// Does errands until there are no more.
///
/// # Errors
/// Where the limits cannot be set, or the line to the program breaks.
pub fn run() -> Result<(), String> {
    let failed = |error: &dyn std::fmt::Display| format!("working apart: {error}");
    set_parent_process_death_signal(Some(Signal::KILL)).map_err(|error| failed(&error))?;
    setrlimit(Resource::Core, Rlimit { current: Some(0), maximum: Some(0) })
        .map_err(|error| failed(&error))?;
    // What breaks is told in the answer.
    std::panic::set_hook(Box::new(|broke| BROKEN.with_borrow_mut(|says| *says = broke.to_string())));
    let (mut asked, mut answers) = (io::stdin().lock(), io::stdout().lock());
    loop {
        let mut head = String::new();
        if asked.read_line(&mut head).map_err(|error| failed(&error))? == 0 {
            return Ok(());
        }
        let Message { errand, bytes } = serde_json::from_str(&head).map_err(|error| failed(&error))?;
        within(&errand.limits()).map_err(|error| failed(&error))?;
        let mut sent = Vec::new();
        (&mut asked).take(bytes).read_to_end(&mut sent).map_err(|error| failed(&error))?;
        let done = catch_unwind(AssertUnwindSafe(|| errand.done(&sent)));
        let (outcome, body) = match done {
            Ok(Ok(body)) => (Outcome::Done, body),
            Ok(Err(says)) => (Outcome::Refused, says.into_bytes()),
            Err(_) => (Outcome::Broken, BROKEN.take().into_bytes()),
        };
        drop(sent);
        let answered = Answered { outcome, bytes: body.len() as u64, is_last: held() > STALE };
        let head = serde_json::to_string(&answered).map_err(|error| failed(&error))?;
        let written = writeln!(answers, "{head}").and_then(|()| answers.write_all(&body));
        written.and_then(|()| answers.flush()).map_err(|error| failed(&error))?;
        if answered.is_last {
            return Ok(());
        }
    }
}

/// So much more time from now on, and so much memory in all.
fn within(limits: &Limits) -> rustix::io::Result<()> {
    let spent = u64::try_from(clock_gettime(ClockId::ProcessCPUTime).tv_sec).unwrap_or(0);
    let set = |resource: Resource, most: u64| {
        setrlimit(resource, Rlimit { current: Some(most), maximum: getrlimit(resource).maximum })
    };
    set(Resource::Cpu, spent + 1 + limits.seconds)?;
    set(Resource::Data, limits.megabytes << 20)
}

/// The memory it holds, in bytes.
fn held() -> u64 {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    // What it shares with the program that began it, their code, is not counted.
    let own = status.lines().find_map(|line| line.strip_prefix("RssAnon:"));
    own.and_then(|own| own.split_whitespace().next()?.parse::<u64>().ok()).unwrap_or(0) << 10
}
