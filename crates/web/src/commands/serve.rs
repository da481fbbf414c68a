//! `rosy-veil serve`: the pages, on this machine only.

use std::io::ErrorKind;

use actix_session::SessionMiddleware;
use actix_session::config::{CookieContentSecurity, PersistentSession};
use actix_session::storage::CookieSessionStore;
use actix_web::cookie::time::Duration;
use actix_web::cookie::{Key, SameSite};
use actix_web::middleware::DefaultHeaders;
use actix_web::web::{Data, PayloadConfig};
use actix_web::{App, HttpServer};
use rosy_store::Store;

use crate::demo;
use crate::routes::routes;

/// Most bytes taken in one request: the largest file of inks or panels with room to spare.
const MOST_BYTES: usize = 2 << 20;
/// Nothing but our own files, and pictures a page makes; no script or style in a page.
const POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; connect-src 'self'; \
                      img-src 'self' data:; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";
/// How long a browser stays at its bench.
const DAYS: i64 = 365;

/// Serves until it is told to stop.
pub fn run(port: u16, demo: bool) -> Result<(), String> {
    let url = std::env::var("DATABASE_URL").map_err(|_| {
        "no database is named: set DATABASE_URL, or start the program with ./rosy start".to_owned()
    })?;
    actix_web::rt::System::new().block_on(serve(&url, port, demo))
}

async fn serve(url: &str, port: u16, demo: bool) -> Result<(), String> {
    let store = Store::open(url)
        .await
        .map_err(|error| format!("{error}. Check DATABASE_URL and that PostgreSQL runs."))?;
    let fresh: String = Key::generate().master().iter().map(|byte| format!("{byte:02x}")).collect();
    let key = store.cookie_key(fresh).await.map_err(|error| error.to_string())?;
    let key = Key::from(&unhex(&key));
    demo::fill(&store, demo).await.map_err(|error| error.to_string())?;

    let store = Data::new(store);
    let server = HttpServer::new(move || {
        let session = SessionMiddleware::builder(CookieSessionStore::default(), key.clone())
            .cookie_name("rosy-veil".into())
            // The pages are served on this machine alone, without TLS.
            .cookie_secure(false)
            .cookie_http_only(true)
            .cookie_same_site(SameSite::Strict)
            .cookie_content_security(CookieContentSecurity::Private)
            .session_lifecycle(PersistentSession::default().session_ttl(Duration::days(DAYS)))
            .build();
        let headers = DefaultHeaders::new()
            .add(("Content-Security-Policy", POLICY))
            .add(("X-Content-Type-Options", "nosniff"))
            .add(("Referrer-Policy", "same-origin"))
            .add(("Cross-Origin-Opener-Policy", "same-origin"));
        App::new()
            .app_data(store.clone())
            .app_data(PayloadConfig::new(MOST_BYTES))
            .wrap(session)
            .wrap(headers)
            .configure(routes)
    })
    .workers(2)
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
    server.run().await.map_err(|error| error.to_string())
}

fn unhex(text: &str) -> Vec<u8> {
    (0..text.len() / 2).filter_map(|n| u8::from_str_radix(&text[2 * n..2 * n + 2], 16).ok()).collect()
}
