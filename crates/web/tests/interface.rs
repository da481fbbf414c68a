//! Without a browser: who may see and change what, what is refused, and files out and in.

mod desk;

use desk::Desk;
use serde_json::Value;

/// What a browser would hold after opening a page: its cookie and the page's token.
fn arrive(desk: &Desk, cookie: &str) -> (String, String, String) {
    let (status, head, page) = desk.send("GET", "/", &[("Cookie", cookie)], "");
    assert_eq!(status, 200);
    let cookie = head
        .lines()
        .find_map(|line| line.strip_prefix("set-cookie: "))
        .map_or_else(|| cookie.to_owned(), |value| value.split(';').next().unwrap_or_default().to_owned());
    let token = page.split("rosy-token\" content=\"").nth(1).and_then(|rest| rest.split('"').next());
    (cookie, token.expect("a token").to_owned(), page)
}

fn first_panel(page: &str) -> String {
    page.split("/panels/")
        .nth(1)
        .and_then(|rest| rest.split('/').next())
        .map(str::to_owned)
        .unwrap_or_default()
}

fn panel_on(page: &str) -> String {
    page.match_indices("/panels/")
        .map(|(at, _)| &page[at + 8..at + 44])
        .find(|id| id.bytes().filter(|b| *b == b'-').count() == 4)
        .expect("a panel")
        .to_owned()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_bench_sees_nothing_of_another() {
    let desk = Desk::new(true).await;
    let (cookie, token, page) = arrive(&desk, "");
    let theirs = panel_on(&page);
    let form = format!("token={token}&name=String+menders&units=inches");
    let (status, head, _) = desk.send("POST", "/benches", &[("Cookie", &cookie)], &form);
    assert_eq!(status, 303, "{head}");
    let other =
        head.lines().find_map(|line| line.strip_prefix("set-cookie: ")).unwrap().split(';').next().unwrap();
    let (other, token, page) = arrive(&desk, other);
    assert!(page.contains("String menders") && page.contains("Nothing is on the bench yet"));
    for path in ["card", "inks", "blend", "sheet", "picture.png", "panel.json"] {
        let (status, ..) = desk.send("GET", &format!("/panels/{theirs}/{path}"), &[("Cookie", &other)], "");
        assert_eq!(status, 404, "{path}");
    }
    let headers = [("Cookie", other.as_str()), ("X-Rosy-Token", token.as_str())];
    for (method, path) in [("GET", ""), ("POST", "/undo"), ("DELETE", "/undo")] {
        let (status, ..) = desk.send(method, &format!("/api/panels/{theirs}{path}"), &headers, "");
        assert_eq!(status, 404, "{method} {path}");
    }
    let (status, ..) =
        desk.send("POST", &format!("/panels/{theirs}/remove"), &headers, &format!("token={token}"));
    assert_eq!(status, 404);
}

#[tokio::test(flavor = "multi_thread")]
async fn changes_without_the_pages_token_are_refused() {
    let desk = Desk::new(true).await;
    let (cookie, _, page) = arrive(&desk, "");
    let panel = panel_on(&page);
    for (method, path, body) in [
        ("POST", "/undo".to_owned(), "token=guess"),
        ("POST", format!("/panels/{panel}/remove"), "token="),
        (
            "POST",
            "/drawer/inks".to_owned(),
            "token=x&name=Kelp&kind=dye&colour=%23445544&one_veil=&full_veils=7",
        ),
        ("POST", "/api/inks".to_owned(), "name,colour\nKelp,#445544\n"),
        ("POST", format!("/api/panels/{panel}/undo"), ""),
    ] {
        let (status, _, said) = desk.send(method, &path, &[("Cookie", &cookie)], body);
        assert_eq!(status, 403, "{method} {path}: {said}");
    }
    assert!(arrive(&desk, &cookie).2.contains(&panel));
}

#[tokio::test(flavor = "multi_thread")]
async fn pages_carry_no_script_or_style_of_their_own() {
    let desk = Desk::new(true).await;
    let (cookie, _, page) = arrive(&desk, "");
    let panel = panel_on(&page);
    for path in [
        "/",
        "/drawer",
        "/drawer/inks/new",
        "/benches",
        &format!("/panels/{panel}/blend"),
        &format!("/panels/{panel}/sheet"),
    ] {
        let (status, head, page) = desk.send("GET", path, &[("Cookie", &cookie)], "");
        assert_eq!(status, 200, "{path}");
        assert!(head.contains("script-src 'self'") && !head.contains("unsafe"), "{head}");
        assert!(
            !page.contains(" style=\"") && !page.contains("<style") && !page.contains("onclick"),
            "{path}"
        );
        let scripts = page.matches("<script").count();
        let harmless =
            page.matches("type=\"application/json\"").count() + page.matches("type=\"module\" src=").count();
        assert_eq!(scripts, harmless, "{path}");
    }
    assert!(!first_panel(&page).is_empty());
}

#[tokio::test(flavor = "multi_thread")]
async fn a_panels_file_comes_back_identical_and_later_versions_are_refused() {
    let desk = Desk::new(true).await;
    let (cookie, token, page) = arrive(&desk, "");
    let headers = [("Cookie", cookie.as_str()), ("X-Rosy-Token", token.as_str())];
    let panel = panel_on(&page);
    let (_, head, file) = desk.send("GET", &format!("/panels/{panel}/panel.json"), &headers, "");
    assert!(head.contains("attachment; filename="));
    let (status, _, said) = desk.send("POST", "/api/panels", &headers, &file);
    assert_eq!(status, 201, "{said}");
    let again: Value = serde_json::from_str(&said).unwrap();
    let again = again["id"].as_str().unwrap();
    assert_ne!(again, panel);
    let (_, _, second) = desk.send("GET", &format!("/panels/{again}/panel.json"), &headers, "");
    assert_eq!(file, second);

    for (sent, says) in [
        (file.replacen("\"version\": 1", "\"version\": 5", 1), "newer Rosy Veil"),
        (file.replacen("\"height\": \"", "\"height\": \"3000 mm", 1), "not a length"),
        ("name,colour".to_owned(), "not a panel"),
    ] {
        let (status, head, said) = desk.send("POST", "/api/panels", &headers, &sent);
        assert_eq!(status, 422, "{said}");
        assert!(head.contains("application/problem+json") && said.contains(says), "{said}");
    }
    let (status, _, said) = desk.send("POST", "/api/inks", &headers, "name,shade\nKelp,#445544\n");
    assert!(status == 422 && said.contains("no column “shade”"), "{said}");
    let (status, ..) = desk.send("POST", "/api/inks", &headers, &"x".repeat(3 << 20));
    assert!((400..500).contains(&status), "{status}");
}

#[tokio::test(flavor = "multi_thread")]
async fn sizes_that_cannot_be_are_told_by_the_field() {
    let desk = Desk::new(true).await;
    let (cookie, token, page) = arrive(&desk, "");
    for (width, says) in [
        ("4+1%2F0+in", "divides by nothing"),
        ("3000+mm", "longer than 50 in"),
        ("40+in", "12 in"),
        ("", "no length"),
    ] {
        let form = format!("token={token}&width={width}&height=5");
        let (status, _, said) = desk.send("POST", "/panels", &[("Cookie", &cookie)], &form);
        assert!(status == 422 && said.contains(says), "{width}: {status}");
    }
    let panel = panel_on(&page);
    let form = format!("token={token}&revision=1&name=&width=4&height=far&paper=as+it+is&tool=as+it+is");
    let (status, _, said) =
        desk.send("POST", &format!("/panels/{panel}/card"), &[("Cookie", &cookie)], &form);
    assert!(
        status == 422
            && said.contains("wrong-name")
            && said.contains("wrong-height")
            && said.contains("value=\"far\"")
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn programs_ask_the_same_questions_over_the_web() {
    let desk = Desk::new(false).await;
    let asked = r##"{"inks":[{"colour":{"lab":[57,-17,-31]}},{"colour":{"srgb":"#d65c90"}}]}"##;
    let (status, _, said) = desk.send("POST", "/api/ask/junction", &[], asked);
    let seen: Value = serde_json::from_str(&said).unwrap();
    assert_eq!((status, seen["named"].as_str()), (200, Some("violet")), "{said}");
    let (status, head, said) = desk.send("POST", "/api/ask/junction", &[], r#"{"inks":[]}"#);
    assert!(status == 422 && head.contains("problem+json") && said.contains("exactly two"), "{said}");
    let (status, ..) = desk.send("POST", "/api/ask/weather", &[], "{}");
    assert_eq!(status, 422);
}
