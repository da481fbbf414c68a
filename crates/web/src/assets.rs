//! Styles, scripts and fonts, held in the program and served under addresses that change with them.

use std::sync::LazyLock;

use actix_web::http::header::{CACHE_CONTROL, CONTENT_TYPE};
use actix_web::web::Redirect;
use actix_web::{HttpResponse, web};
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "static"]
struct Static;

/// A mark of all files together: scripts name one another, so that when one changes all addresses do.
static MARK: LazyLock<String> = LazyLock::new(|| {
    let mut mark = [0_u8; 8];
    for (place, name) in Static::iter().enumerate() {
        let Some(file) = Static::get(&name) else {
            continue;
        };
        for (at, byte) in file.metadata.sha256_hash().iter().enumerate() {
            let kept = &mut mark[(at + place) % 8];
            *kept = kept.rotate_left(3) ^ byte;
        }
    }
    mark.iter().map(|byte| format!("{byte:02x}")).collect()
});

/// The address of a file.
pub fn address(name: &str) -> String {
    format!("/assets/{}/{name}", *MARK)
}

/// `GET /favicon.ico`: where a browser asks for the mark of the program by itself.
pub async fn icon() -> Redirect {
    Redirect::to(address("veil.svg")).temporary()
}

/// `GET /assets/{mark}/{name}`: a file, kept by the browser for good, since its address changes with it.
pub async fn get(path: web::Path<(String, String)>) -> HttpResponse {
    let (_, name) = path.into_inner();
    let kind = match name.rsplit('.').next() {
        Some("css") => "text/css; charset=utf-8",
        Some("js") => "text/javascript; charset=utf-8",
        Some("woff2") => "font/woff2",
        Some("svg") => "image/svg+xml",
        _ => return HttpResponse::NotFound().finish(),
    };
    match Static::get(&name) {
        Some(file) => HttpResponse::Ok()
            .insert_header((CONTENT_TYPE, kind))
            .insert_header((CACHE_CONTROL, "public, max-age=31536000, immutable"))
            .body(file.data.into_owned()),
        None => HttpResponse::NotFound().finish(),
    }
}
