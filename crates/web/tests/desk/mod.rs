//! A desk to test at: the program on a database and port of its own, and a browser in front of it.

#![allow(dead_code)]

use std::collections::BTreeMap;
use std::io::{BufRead, BufReader, Cursor, Read, Write};
use std::net::TcpStream;
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::sync::atomic::{AtomicU32, Ordering};
use std::time::Duration;

use fantoccini::actions::{InputSource, MOUSE_BUTTON_LEFT, MouseActions, PointerAction};
use fantoccini::elements::Element;
use fantoccini::key::Key;
use fantoccini::wd::WebDriverCompatibleCommand;
use fantoccini::{Client, ClientBuilder, Locator};
use http::Method;
use hyper_util::client::legacy::connect::HttpConnector;
use sea_orm::{ConnectionTrait, Database};
use serde_json::{Value, json};
use url::{ParseError, Url};
use zip::write::SimpleFileOptions;
use zip::{ZipArchive, ZipWriter};

/// How long a page may take to show what is waited for.
const PATIENCE: Duration = Duration::from_secs(60);

static DESKS: AtomicU32 = AtomicU32::new(0);

fn from_script(variable: &str) -> String {
    std::env::var(variable)
        .unwrap_or_else(|_| panic!("{variable} is not set: run the suite with ./rosy test"))
}

/// The program, running on an empty database of its own.
pub struct Desk {
    program: Child,
    /// Its port on 127.0.0.1.
    pub port: u16,
    database: String,
    demo: bool,
    log: PathBuf,
    clock: Option<PathBuf>,
}

/// A clock that is set ahead.
pub struct Clock(PathBuf);

impl Clock {
    /// So many seconds.
    pub fn is_ahead(&self, seconds: i64) {
        // Read whole or not at all.
        let written = self.0.with_extension("new");
        std::fs::write(&written, seconds.to_string()).expect("the clock can be set");
        std::fs::rename(written, &self.0).expect("the clock can be set");
    }
}

impl Desk {
    /// Sets up the program, with the demo bench or an empty one.
    pub async fn new(demo: bool) -> Desk {
        Desk::going_by(demo, None).await
    }

    /// The demo bench, by a clock that the test sets ahead.
    pub async fn with_clock() -> (Desk, Clock) {
        let file = scratch("clock");
        (Desk::going_by(true, Some(file.clone())).await, Clock(file))
    }

    async fn going_by(demo: bool, clock: Option<PathBuf>) -> Desk {
        let number = DESKS.fetch_add(1, Ordering::Relaxed);
        let name = format!("desk_{}_{number}", std::process::id());
        let server = from_script("DATABASE_URL");
        let connection = Database::connect(&server).await.expect("the throwaway database");
        connection
            .execute_unprepared(&format!("CREATE DATABASE {name}"))
            .await
            .expect("a database of its own");
        let (before, _) = server.rsplit_once('/').expect("an address ending in a database");
        let database = format!("{before}/{name}");
        let log = PathBuf::from(format!("{}/{name}.log", from_script("ROSY_SCRATCH")));
        let (program, port) = start(&database, 0, demo, &log, clock.as_deref());
        Desk { program, port, database, demo, log, clock }
    }

    pub fn address(&self, path: &str) -> String {
        format!("http://127.0.0.1:{}{path}", self.port)
    }

    /// Kills the program as a power cut would.
    pub fn kill(&mut self) {
        self.program.kill().expect("the program runs");
        self.program.wait().expect("the program ends");
    }

    /// Tells it to end, as a machine does that is shut down; whether it has within so long.
    pub fn ends_when_told(&mut self, within: Duration) -> bool {
        let told = Command::new("kill").args(["-TERM", &self.program.id().to_string()]).status();
        assert!(told.is_ok_and(|told| told.success()), "it can be told");
        let until = std::time::Instant::now() + within;
        while std::time::Instant::now() < until {
            if self.program.try_wait().expect("the program can be looked at").is_some() {
                return true;
            }
            std::thread::sleep(Duration::from_millis(50));
        }
        false
    }

    /// Starts it again where it was.
    pub fn start_again(&mut self) {
        (self.program, self.port) =
            start(&self.database, self.port, self.demo, &self.log, self.clock.as_deref());
    }

    /// Stops the program's database, or lets it answer again.
    pub async fn database_answers(&self, answers: bool) {
        let connection =
            Database::connect(from_script("DATABASE_URL")).await.expect("the throwaway database");
        let (_, name) = self.database.rsplit_once('/').expect("an address ending in a database");
        for sql in [
            format!("ALTER DATABASE {name} ALLOW_CONNECTIONS {answers}"),
            format!("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '{name}'"),
        ] {
            connection.execute_unprepared(&sql).await.expect("the throwaway cluster obeys");
        }
    }

    /// Sends a request without a browser: status, headers and body.
    pub fn send(
        &self,
        method: &str,
        path: &str,
        headers: &[(&str, &str)],
        body: &(impl AsRef<[u8]> + ?Sized),
    ) -> (u16, String, String) {
        self.send_as("127.0.0.1", method, path, headers, body)
    }

    /// Sends a request to a host of another name, which leads here.
    pub fn send_as(
        &self,
        host: &str,
        method: &str,
        path: &str,
        headers: &[(&str, &str)],
        body: &(impl AsRef<[u8]> + ?Sized),
    ) -> (u16, String, String) {
        let body = body.as_ref();
        let mut request = format!(
            "{method} {path} HTTP/1.1\r\nHost: {host}\r\nConnection: close\r\nContent-Length: {}\r\n",
            body.len()
        );
        for (name, value) in headers {
            request.push_str(&format!("{name}: {value}\r\n"));
        }
        request.push_str("\r\n");
        let answer = self.answer(&[request.as_bytes(), body].concat());
        let answer = String::from_utf8_lossy(&answer).into_owned();
        let (head, body) = answer.split_once("\r\n\r\n").expect("a head and a body");
        let status = head.split(' ').nth(1).and_then(|code| code.parse().ok()).expect("a status");
        (status, head.to_owned(), body.to_owned())
    }

    /// Fetches a file as it is.
    pub fn fetch(&self, path: &str, cookie: &str) -> Vec<u8> {
        let answer = self.answer(
            format!(
                "GET {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\nCookie: {cookie}\r\n\r\n"
            )
            .as_bytes(),
        );
        let body = answer.windows(4).position(|four| four == b"\r\n\r\n").expect("a head and a body") + 4;
        let head = String::from_utf8_lossy(&answer[..body]).to_lowercase();
        if head.contains("transfer-encoding: chunked") {
            joined(&answer[body..])
        } else {
            answer[body..].to_vec()
        }
    }

    /// The address of its database.
    pub fn database(&self) -> &str {
        &self.database
    }

    /// The memory that it and what it has begun hold now, in bytes.
    pub fn memory(&self) -> u64 {
        family(self.program.id()).into_iter().map(held).sum()
    }

    /// What the program has said on standard error.
    pub fn log(&self) -> String {
        std::fs::read_to_string(&self.log).unwrap_or_default()
    }

    fn answer(&self, request: &[u8]) -> Vec<u8> {
        let mut stream = TcpStream::connect(("127.0.0.1", self.port)).expect("the program listens");
        // One that refuses what is too large does not wait for the end of it.
        let _ = stream.write_all(request);
        let mut answer = Vec::new();
        let read = stream.read_to_end(&mut answer);
        assert!(read.is_ok() || !answer.is_empty(), "the program answers: {read:?}");
        answer
    }
}

/// What is in an archive, by name.
pub type Files = BTreeMap<String, Vec<u8>>;

/// Opens an archive.
pub fn unpacked(zip: &[u8]) -> Files {
    let mut zip = ZipArchive::new(Cursor::new(zip)).expect("an archive");
    let count = zip.len();
    let file = |at: usize| {
        let mut file = zip.by_index(at).expect("a file");
        let mut body = Vec::new();
        file.read_to_end(&mut body).expect("it can be read");
        (file.name().to_owned(), body)
    };
    (0..count).map(file).collect()
}

/// Puts an archive together.
pub fn packed(files: &Files) -> Vec<u8> {
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    for (name, body) in files {
        zip.start_file(name.as_str(), SimpleFileOptions::default()).expect("a file");
        zip.write_all(body).expect("it can be written");
    }
    zip.finish().expect("an archive").into_inner()
}

/// A body that was sent in parts, each after its length; it has to have come to its end.
fn joined(mut parts: &[u8]) -> Vec<u8> {
    let mut body = Vec::new();
    loop {
        let line = parts.windows(2).position(|two| two == b"\r\n").expect("the length of a part");
        let length =
            std::str::from_utf8(&parts[..line]).ok().and_then(|text| usize::from_str_radix(text, 16).ok());
        let length = length.expect("a length");
        if length == 0 {
            return body;
        }
        body.extend_from_slice(&parts[line + 2..line + 2 + length]);
        parts = &parts[line + 4 + length..];
    }
}

/// A process and all that it has begun.
fn family(process: u32) -> Vec<u32> {
    let mut all = vec![process];
    let tasks = std::fs::read_dir(format!("/proc/{process}/task")).into_iter().flatten().flatten();
    for task in tasks {
        let children = std::fs::read_to_string(task.path().join("children")).unwrap_or_default();
        all.extend(children.split_whitespace().filter_map(|id| id.parse().ok()).flat_map(family));
    }
    all
}

/// The memory that a process holds by itself, in bytes: what it shares with others, as the program itself, is none of it.
fn held(process: u32) -> u64 {
    let status = std::fs::read_to_string(format!("/proc/{process}/status")).unwrap_or_default();
    let held = status.lines().find_map(|line| line.strip_prefix("RssAnon:"));
    held.and_then(|held| held.split_whitespace().next()?.parse::<u64>().ok()).unwrap_or(0) << 10
}

/// What a PDF says, by the reader's own tools; pages end with a form feed.
pub fn text_of(pdf: &[u8]) -> String {
    let file = scratch("printed.pdf");
    std::fs::write(&file, pdf).expect("a file can be written");
    let output =
        Command::new("pdftotext").arg(&file).arg("-").output().expect("pdftotext, from poppler-utils");
    String::from_utf8_lossy(&output.stdout).into_owned()
}

/// A file of this test run's own.
pub fn scratch(name: &str) -> PathBuf {
    let number = DESKS.fetch_add(1, Ordering::Relaxed);
    PathBuf::from(from_script("ROSY_SCRATCH")).join(format!("{}-{number}-{name}", std::process::id()))
}

/// What a browser would hold after opening the bench: its cookie, the page's token, and a panel there.
pub struct Visit {
    pub cookie: String,
    pub token: String,
    pub panel: String,
}

/// A photo of a swatch frame with some inks, taken by the camera that ships with the program.
pub fn photograph(name: &str, inks: &Value, more: &[&str]) -> PathBuf {
    taken(name, "--inks", inks.to_string().as_bytes(), more)
}

/// A photo of a panel as the program hands it out, taken by the same camera.
pub fn photograph_panel(name: &str, panel: &[u8], more: &[&str]) -> PathBuf {
    taken(name, "--panel", panel, more)
}

fn taken(name: &str, what: &str, file: &[u8], more: &[&str]) -> PathBuf {
    let folder = scratch("photos");
    std::fs::create_dir_all(&folder).expect("a folder");
    let (photo, given) = (folder.join(format!("{name}.jpg")), folder.join(format!("{name}.json")));
    std::fs::write(&given, file).expect("a file");
    let mut command = Command::new(env!("CARGO_BIN_EXE_rosy-veil"));
    command.args(["photograph", "--seed", "5", "--pixels", "1700", "--well", what]).arg(&given).args(more);
    let taken = command.arg("-o").arg(&photo).status().expect("the program starts");
    assert!(taken.success(), "the photo is taken");
    photo
}

/// The cookie that an answer sets.
pub fn cookie_of(head: &str) -> Option<String> {
    let set = head.lines().find_map(|line| line.strip_prefix("set-cookie: "))?;
    set.split(';').next().map(str::to_owned)
}

impl Visit {
    pub fn new(desk: &Desk) -> Visit {
        Visit::at(desk, "")
    }

    pub fn at(desk: &Desk, cookie: &str) -> Visit {
        let (status, head, page) = desk.send("GET", "/", &[("Cookie", cookie)], "");
        assert_eq!(status, 200);
        let token = page.split("rosy-token\" content=\"").nth(1).and_then(|rest| rest.split('"').next());
        let panels =
            page.match_indices("/panels/").map(|(at, _)| page.get(at + 8..at + 44).unwrap_or_default());
        let panel = panels.into_iter().find(|id| id.bytes().filter(|b| *b == b'-').count() == 4);
        Visit {
            cookie: cookie_of(&head).unwrap_or_else(|| cookie.to_owned()),
            token: token.expect("a token").to_owned(),
            panel: panel.unwrap_or_default().to_owned(),
        }
    }

    /// A form's fields with the page's token.
    pub fn form(&self, fields: &str) -> String {
        format!("token={}&{fields}", self.token)
    }
}

impl Drop for Desk {
    fn drop(&mut self) {
        let _ = self.program.kill();
        let _ = self.program.wait();
    }
}

fn start(database: &str, port: u16, demo: bool, log: &Path, clock: Option<&Path>) -> (Child, u16) {
    let mut command = Command::new(env!("CARGO_BIN_EXE_rosy-veil"));
    command.args(["serve", "--port", &port.to_string()]).env("DATABASE_URL", database).stdout(Stdio::piped());
    let log = std::fs::File::options().create(true).append(true).open(log).expect("a log can be written");
    command.stderr(log);
    if demo {
        command.arg("--demo");
    }
    if let Some(clock) = clock {
        command.arg("--clock").arg(clock);
    }
    let mut program = command.spawn().expect("the program starts");
    let mut said = String::new();
    let stdout = program.stdout.take().expect("its output is piped");
    BufReader::new(stdout).read_line(&mut said).expect("it says where it is");
    let port = said.trim().rsplit(':').next().and_then(|port| port.parse().ok());
    (program, port.unwrap_or_else(|| panic!("no address in {said:?}")))
}

/// A browser of its own, at about the size of a laptop's window.
pub struct Browser {
    pub client: Client,
}

impl Browser {
    pub async fn new() -> Browser {
        Browser::sized(1280, 800).await
    }

    /// As narrow as a phone: narrower than a browser's own window can be.
    pub async fn phone() -> Browser {
        let phone =
            json!({ "deviceMetrics": { "width": 390, "height": 844, "pixelRatio": 2.0, "touch": true } });
        Browser::with(390, 844, Some(phone)).await
    }

    pub async fn sized(width: u32, height: u32) -> Browser {
        Browser::with(width, height, None).await
    }

    async fn with(width: u32, height: u32, device: Option<Value>) -> Browser {
        let number = DESKS.fetch_add(1, Ordering::Relaxed);
        let profile = format!("{}/browser-{}-{number}", from_script("ROSY_SCRATCH"), std::process::id());
        let arguments = [
            "--headless",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--disable-dev-shm-usage",
            "--hide-scrollbars",
            &format!("--user-data-dir={profile}"),
            &format!("--window-size={width},{height}"),
        ];
        let mut options = json!({ "args": arguments });
        if let Some(device) = device {
            options["mobileEmulation"] = device;
        }
        let capabilities = json!({
            "browserName": "chrome",
            "goog:chromeOptions": options,
            "goog:loggingPrefs": { "browser": "ALL" },
        });
        let Value::Object(capabilities) = capabilities else { unreachable!("an object") };
        let client = ClientBuilder::new(HttpConnector::new())
            .capabilities(capabilities)
            .connect(&from_script("ROSY_WEBDRIVER"))
            .await
            .expect("ChromeDriver gives a browser");
        Browser { client }
    }

    pub async fn go(&self, desk: &Desk, path: &str) {
        self.client.goto(&desk.address(path)).await.expect("the page opens");
        // A busy machine says so before the last of it is there.
        self.until("all of the page", "document.readyState === 'complete'").await;
    }

    /// The number of a panel on the bench, by its name.
    pub async fn panel(&self, desk: &Desk, name: &str) -> String {
        self.go(desk, "/").await;
        let named = format!(
            "[...document.querySelectorAll('.panel-words h2 a')].find((a) => a.textContent === {})",
            json!(name)
        );
        let id = self.run(&format!("return {named}.pathname.split('/')[2]")).await;
        id.as_str().expect("a panel of that name").to_owned()
    }

    /// The element, once it is there.
    pub async fn find(&self, css: &str) -> Element {
        let found = self.client.wait().at_most(PATIENCE).for_element(Locator::Css(css)).await;
        match found {
            Ok(element) => element,
            Err(error) => panic!("{css}: {error}\n{}", self.text("body").await),
        }
    }

    pub async fn click(&self, css: &str) {
        self.find(css).await.click().await.unwrap_or_else(|error| panic!("{css}: {error}"));
    }

    /// Writes into a field in place of what stands there, as a maker would who then leaves it.
    pub async fn write(&self, css: &str, text: &str) {
        let field = self.find(css).await;
        let all = format!("{}a{}", char::from(Key::Control), char::from(Key::Null));
        field.send_keys(&all).await.expect("a field's text can be chosen");
        field.send_keys(text).await.expect("a field can be written in");
    }

    pub async fn text(&self, css: &str) -> String {
        match self.client.find(Locator::Css(css)).await {
            Ok(element) => element.text().await.unwrap_or_default(),
            Err(_) => String::new(),
        }
    }

    /// Takes hold of something with the mouse and lets go of it elsewhere.
    pub async fn drag(&self, css: &str, across: i64, down: i64) {
        let (x, y, w, h) = self.find(css).await.rectangle().await.expect("what is taken hold of has a place");
        let (x, y) = (x + w / 2.0, y + h / 2.0);
        let to = |x: f64, y: f64| PointerAction::MoveTo { duration: Some(Duration::from_millis(120)), x, y };
        let actions = MouseActions::new("mouse".into())
            .then(to(x, y))
            .then(PointerAction::Down { button: MOUSE_BUTTON_LEFT })
            .then(to(x + across as f64 / 2.0, y + down as f64 / 2.0))
            .then(to(x + across as f64, y + down as f64))
            .then(PointerAction::Up { button: MOUSE_BUTTON_LEFT });
        self.client.perform_actions(actions).await.expect("the mouse moves");
    }

    pub async fn run(&self, script: &str) -> Value {
        self.client.execute(script, Vec::new()).await.unwrap_or_else(|error| panic!("{script}: {error}"))
    }

    /// Waits until a script's answer is true.
    pub async fn until(&self, says: &str, script: &str) {
        let deadline = std::time::Instant::now() + PATIENCE;
        while self.run(&format!("return Boolean({script})")).await != Value::Bool(true) {
            assert!(std::time::Instant::now() < deadline, "{says}: still not\n{}", self.text("body").await);
            sleep(60).await;
        }
    }

    /// Waits until a text stands in an element.
    pub async fn until_says(&self, css: &str, words: &str) {
        let quoted = json!(words);
        self.until(words, &format!("document.querySelector('{css}')?.textContent.includes({quoted})")).await;
    }

    /// Waits until everything on a panel's page is kept and its picture is there.
    pub async fn until_kept(&self) {
        self.until(
            "kept",
            "document.querySelector('.status')?.textContent === 'kept' && \
             document.querySelector('img.picture')?.src.startsWith('data:image/png') && \
             document.querySelectorAll('.note').length > 0 && \
             document.querySelector('.stage').ariaBusy !== 'true'",
        )
        .await;
    }

    pub async fn picture(&self) -> String {
        self.run("return document.querySelector('img.picture').src")
            .await
            .as_str()
            .unwrap_or_default()
            .to_owned()
    }

    /// What went wrong in the pages' own scripts, as the browser's console tells it; that an address did not answer, or refused,
    /// is no fault of a script.
    async fn complaints(&self) -> Vec<String> {
        let entries = self.client.issue_cmd(Console).await.unwrap_or_default();
        let entries = entries.as_array().cloned().unwrap_or_default();
        let is_ours = |entry: &Value| entry["level"] == "SEVERE" && entry["source"] != "network";
        entries.iter().filter(|entry| is_ours(entry)).map(|entry| entry["message"].to_string()).collect()
    }

    /// Ends it. No page may have complained while it was open.
    pub async fn close(self) {
        let complaints = self.complaints().await;
        assert!(complaints.is_empty(), "the browser's console says: {complaints:#?}");
        self.client.close().await.expect("the browser closes");
    }
}

/// Asks the driver for what the browser's console says.
#[derive(Debug)]
struct Console;

impl WebDriverCompatibleCommand for Console {
    fn endpoint(&self, base: &Url, session: Option<&str>) -> Result<Url, ParseError> {
        base.join(&format!("session/{}/se/log", session.unwrap_or_default()))
    }

    fn method_and_body(&self, _: &Url) -> (Method, Option<String>) {
        (Method::POST, Some(json!({ "type": "browser" }).to_string()))
    }
}

pub async fn sleep(milliseconds: u64) {
    tokio::time::sleep(Duration::from_millis(milliseconds)).await;
}
