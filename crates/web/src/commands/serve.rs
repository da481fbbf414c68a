//! `rosy-veil serve`: the pages, on this machine only.

use std::io::ErrorKind;
use std::os::fd::AsFd;
use std::time::Duration;

use actix_session::SessionMiddleware;
use actix_session::config::{CookieContentSecurity, PersistentSession};
use actix_session::storage::CookieSessionStore;
use actix_web::cookie::{Key, SameSite, time};
use actix_web::middleware::{Compress, from_fn};
use actix_web::rt::net::TcpStream;
use actix_web::web::{Data, PayloadConfig};
use actix_web::{App, HttpServer};
use rosy_store::Store;

use crate::clock::Clock;
use crate::demo;
use crate::guard::{Hosts, guard};
use crate::routes::routes;
use crate::visitor::MOST_BYTES;
use crate::workroom::{Line, Workroom};

/// How long a browser stays at its bench.
const DAYS: i64 = 365;
/// How long the head of a request may take to arrive, and how long a connection is kept for the next.
const HEAD_ARRIVES: Duration = Duration::from_secs(10);
const NEXT: Duration = Duration::from_secs(30);

/// Serves until it is told to stop.
pub fn run(port: u16, demo: bool, hosts: Vec<String>, clock: Clock) -> Result<(), String> {
    let url = std::env::var("DATABASE_URL").map_err(|_| {
        "no database is named: set DATABASE_URL, or start the program with ./rosy start".to_owned()
    })?;
    actix_web::rt::System::new().block_on(serve(&url, port, demo, hosts, clock))
}

async fn serve(url: &str, port: u16, demo: bool, hosts: Vec<String>, clock: Clock) -> Result<(), String> {
    let store = Store::open(url)
        .await
        .map_err(|error| format!("{error}. Check DATABASE_URL and that PostgreSQL runs."))?;
    let fresh: String = Key::generate().master().iter().map(|byte| format!("{byte:02x}")).collect();
    let key = store.cookie_key(fresh).await.map_err(|error| error.to_string())?;
    let key = Key::from(&unhex(&key));
    demo::fill(&store, demo).await.map_err(|error| error.to_string())?;

    let clock = Data::new(clock);
    let (store, hosts, room) = (Data::new(store), Data::new(Hosts(hosts)), Data::new(Workroom::open()));
    let server = HttpServer::new(move || {
        let session = SessionMiddleware::builder(CookieSessionStore::default(), key.clone())
            .cookie_name("rosy-veil".into())
            // The pages are served on this machine alone, without TLS.
            .cookie_secure(false)
            .cookie_http_only(true)
            .cookie_same_site(SameSite::Strict)
            .cookie_content_security(CookieContentSecurity::Private)
            .session_lifecycle(PersistentSession::default().session_ttl(time::Duration::days(DAYS)))
            .build();
        App::new()
            .app_data(store.clone())
            .app_data(hosts.clone())
            .app_data(room.clone())
            .app_data(clock.clone())
            .app_data(PayloadConfig::new(MOST_BYTES))
            .wrap(session)
            .wrap(Compress::default())
            .wrap(from_fn(guard))
            .configure(routes)
    })
    .on_connect(|connection, kept| {
        // By which it is seen whether whoever asked is still there.
        let stream = connection.downcast_ref::<TcpStream>();
        if let Some(line) = stream.and_then(|stream| Line::of(stream.as_fd())) {
            kept.insert(line);
        }
    })
    .workers(2)
    .client_request_timeout(HEAD_ARRIVES)
    .client_disconnect_timeout(Duration::from_secs(3))
    .keep_alive(NEXT)
    .shutdown_timeout(5)
    .bind(("127.0.0.1", port))
    .map_err(|error| match error.kind() {
        ErrorKind::AddrInUse => {
            format!("port {port} is taken by another program: choose another with --port")
        }
        _ => format!("port {port}: {error}"),
    })?;
    for address in server.addrs() {
        println!("Rosy Veil is at http://{address}");
    }
    server.run().await.map_err(|error| error.to_string())?;
    // What is still being worked out is nobody's any more.
    std::process::exit(0)
}

fn unhex(text: &str) -> Vec<u8> {
    (0..text.len() / 2).filter_map(|n| u8::from_str_radix(&text[2 * n..2 * n + 2], 16).ok()).collect()
}
