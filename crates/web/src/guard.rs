//! What is refused before anything is looked at, and what every answer carries.
//!
//! Only the names this program was told it has are answered, so that no other site can point a name of its own at it.
//! Another site may link to a page; it may ask for nothing else. Someone who follows such a link comes without the sealed
//! cookie, which browsers keep back then: the answer sends the browser to the same page once more, from ourselves, so that
//! no session is ever begun over one that is there.

use actix_web::body::{EitherBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::header::{self, ContentType, HeaderName, HeaderValue};
use actix_web::http::{Method, StatusCode};
use actix_web::middleware::Next;
use actix_web::web::Data;
use actix_web::{Error, HttpResponse};

use crate::error::{Problem, answer};

/// The hosts that are answered, besides this machine's own.
#[derive(Clone, Debug, Default)]
pub struct Hosts(pub Vec<String>);

/// Nothing but our own files, and pictures a page makes; no script or style in a page.
const POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; connect-src 'self'; \
                      img-src 'self' data:; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

impl Hosts {
    /// Whether a `Host` or `Origin` names us, whatever the port.
    fn are(&self, named: &str) -> bool {
        let host = match named.rsplit_once(':') {
            Some((host, port)) if port.bytes().all(|b| b.is_ascii_digit()) => host,
            _ => named,
        };
        let own = ["127.0.0.1", "localhost", "[::1]"];
        // A name is a name in any size of its letters, and with the dot that ends it.
        let host = host.strip_suffix('.').unwrap_or(host);
        own.iter()
            .copied()
            .chain(self.0.iter().map(String::as_str))
            .any(|known| known.eq_ignore_ascii_case(host))
    }
}

fn text<'a>(request: &'a ServiceRequest, name: impl Into<&'a str>) -> Option<&'a str> {
    request.headers().get(name.into()).and_then(|value| value.to_str().ok())
}

/// What a request is, as far as its sender says.
enum Sender {
    /// One of our own pages, a program, or an address that was typed.
    Ours,
    /// Someone who followed a link on another site.
    Follower,
    /// Another site's page.
    Other,
    /// Asked under a name that is not ours.
    Misled,
}

fn sender(request: &ServiceRequest, hosts: &Hosts) -> Sender {
    let host =
        request.uri().authority().map(|authority| authority.as_str()).or_else(|| text(request, "host"));
    if !host.is_some_and(|host| hosts.are(host)) {
        return Sender::Misled;
    }
    let reading = request.method() == Method::GET || request.method() == Method::HEAD;
    match text(request, "sec-fetch-site") {
        Some("same-origin" | "none") => Sender::Ours,
        Some(_) if reading && text(request, "sec-fetch-mode") == Some("navigate") => Sender::Follower,
        Some(_) => Sender::Other,
        // Programs, and browsers that do not say: by where the page came from, where that is said.
        None => match text(request, "origin").map(|origin| origin.split_once("://")) {
            None => Sender::Ours,
            Some(Some((_, from))) if Some(from) == host => Sender::Ours,
            Some(_) => Sender::Other,
        },
    }
}

/// Once more, from ourselves.
const ONCE_MORE: &str = "<!doctype html><html lang=\"en\"><meta charset=\"utf-8\"><meta http-equiv=\"refresh\" content=\"0\">\
                         <title>Rosy Veil</title><p>Opening…</p></html>";

/// Refuses what is not ours, and dresses what is answered.
pub async fn guard<B: MessageBody + 'static>(
    hosts: Data<Hosts>,
    request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<EitherBody<B>>, Error> {
    let refused = match sender(&request, &hosts) {
        Sender::Ours => None,
        Sender::Follower => Some(HttpResponse::Ok().content_type(ContentType::html()).body(ONCE_MORE)),
        Sender::Other => Some(answer(&Problem::OtherSite, request.request())),
        Sender::Misled => Some(answer(&Problem::OtherName, request.request())),
    };
    let mut answered = match refused {
        Some(refused) => request.into_response(refused).map_into_right_body(),
        None => next.call(request).await?.map_into_left_body(),
    };
    dress(&mut answered);
    Ok(answered)
}

fn dress<B>(answered: &mut ServiceResponse<B>) {
    let unkept = !answered.headers().contains_key(header::CACHE_CONTROL);
    let headers = answered.headers_mut();
    let mut set =
        |name: HeaderName, value: &'static str| headers.insert(name, HeaderValue::from_static(value));
    set(header::CONTENT_SECURITY_POLICY, POLICY);
    set(header::X_CONTENT_TYPE_OPTIONS, "nosniff");
    set(header::REFERRER_POLICY, "same-origin");
    set(HeaderName::from_static("cross-origin-opener-policy"), "same-origin");
    set(HeaderName::from_static("cross-origin-resource-policy"), "same-origin");
    // Pages carry a token, and everything else is somebody's own.
    if unkept {
        set(header::CACHE_CONTROL, "no-store");
    }
    if answered.status() == StatusCode::SERVICE_UNAVAILABLE {
        answered.headers_mut().insert(header::RETRY_AFTER, HeaderValue::from_static("2"));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use actix_web::test::TestRequest;

    fn of(method: Method, headers: &[(&'static str, &'static str)]) -> &'static str {
        let mut request = TestRequest::default().method(method);
        for header in headers {
            request = request.insert_header(*header);
        }
        match sender(&request.to_srv_request(), &Hosts(vec!["desk.example".into()])) {
            Sender::Ours => "ours",
            Sender::Follower => "follower",
            Sender::Other => "other",
            Sender::Misled => "misled",
        }
    }

    #[test]
    fn only_our_own_names_are_answered() {
        for (host, is) in [
            ("127.0.0.1:8730", "ours"),
            ("localhost", "ours"),
            ("LOCALHOST:8730", "ours"),
            ("localhost.", "ours"),
            ("localhost.evil.example.", "misled"),
            ("localhost..", "misled"),
            ("[::1]:8730", "ours"),
            ("Desk.Example:80", "ours"),
            ("evil.example", "misled"),
            ("127.0.0.1.evil.example", "misled"),
            ("localhost:8730@evil.example", "misled"),
        ] {
            assert_eq!(of(Method::GET, &[("host", host)]), is, "{host}");
        }
        assert_eq!(of(Method::GET, &[]), "misled", "no name at all");
    }

    #[test]
    fn another_site_may_link_to_a_page_and_nothing_else() {
        let host = ("host", "127.0.0.1:8730");
        let cross = ("sec-fetch-site", "cross-site");
        assert_eq!(of(Method::GET, &[host, cross, ("sec-fetch-mode", "navigate")]), "follower");
        assert_eq!(of(Method::GET, &[host, cross, ("sec-fetch-mode", "no-cors")]), "other");
        assert_eq!(of(Method::POST, &[host, cross, ("sec-fetch-mode", "navigate")]), "other");
        assert_eq!(
            of(Method::POST, &[host, ("sec-fetch-site", "same-site")]),
            "other",
            "another port is another site"
        );
        assert_eq!(of(Method::POST, &[host, ("origin", "http://evil.example")]), "other");
        assert_eq!(of(Method::POST, &[host, ("origin", "null")]), "other");
        assert_eq!(of(Method::POST, &[host, ("origin", "http://127.0.0.1:8730")]), "ours");
        assert_eq!(of(Method::POST, &[host, ("sec-fetch-site", "same-origin")]), "ours");
        assert_eq!(of(Method::POST, &[host]), "ours", "a program says nothing");
    }
}
