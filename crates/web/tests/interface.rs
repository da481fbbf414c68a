//! Without a browser: who may see and change what, what is refused, and files out and in.

mod desk;

use desk::Desk;
use serde_json::{Value, json};

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
    let (_, _, stock) = desk.send("GET", "/stock", &[("Cookie", &cookie)], "");
    let sheet = stock.split("/stock/sheets/").nth(1).map(|rest| rest[..36].to_owned()).expect("a sheet");
    let form = format!("token={token}&name=String+menders&units=inches");
    let (status, head, _) = desk.send("POST", "/benches", &[("Cookie", &cookie)], &form);
    assert_eq!(status, 303, "{head}");
    let other =
        head.lines().find_map(|line| line.strip_prefix("set-cookie: ")).unwrap().split(';').next().unwrap();
    let (other, token, page) = arrive(&desk, other);
    assert!(page.contains("String menders") && page.contains("Two are enough to begin"));
    for path in [
        "card",
        "inks",
        "blend",
        "cover",
        "sheet",
        "picture.png",
        "panel.json",
        "card.pdf",
        "card.svg",
        "card.csv",
        "masks.svg",
        "masks.pdf",
    ] {
        let (status, ..) = desk.send("GET", &format!("/panels/{theirs}/{path}"), &[("Cookie", &other)], "");
        assert_eq!(status, 404, "{path}");
    }
    let headers = [("Cookie", other.as_str()), ("X-Rosy-Token", token.as_str())];
    for (method, path) in [("GET", ""), ("POST", "/undo"), ("DELETE", "/undo")] {
        let (status, ..) = desk.send(method, &format!("/api/panels/{theirs}{path}"), &headers, "");
        assert_eq!(status, 404, "{method} {path}");
    }
    for path in [
        format!("/panels/{theirs}/remove"),
        format!("/stock/sheets/{sheet}"),
        format!("/stock/sheets/{sheet}/remove"),
        "/stock/batch/cards".to_owned(),
    ] {
        let form = format!("token={token}&count=3&panel={theirs}");
        let (status, ..) = desk.send("POST", &path, &headers, &form);
        assert_eq!(status, 404, "{path}");
    }
    let (_, _, stock) = desk.send("GET", "/stock", &headers, "");
    assert!(stock.contains("No sheets are counted yet"));
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
        ("POST", "/stock/sheets".to_owned(), "token=x&name=Mist&width=8.5&height=11&count=4"),
        ("POST", "/stock/batch/cut".to_owned(), "token=x&seen=0"),
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
        (file.replacen("\"version\": 2", "\"version\": 5", 1), "newer Rosy Veil"),
        (file.replacen("\"height\": \"", "\"height\": \"3000 mm", 1), "not a length"),
        ("name,colour".to_owned(), "not a panel"),
    ] {
        let (status, head, said) = desk.send("POST", "/api/panels", &headers, &sent);
        assert_eq!(status, 422, "{said}");
        assert!(head.contains("application/problem+json") && said.contains(says), "{said}");
    }
    let (status, _, said) = desk.send("POST", "/api/inks", &headers, "name,shade\nKelp,#445544\n");
    assert!(status == 422 && said.contains("“colour” is missing"), "{said}");
    for path in ["/api/inks", "/api/panels", "/drawer/inks", "/api/ask/order"] {
        let (status, _, said) = desk.send("POST", path, &headers, &"x".repeat(3 << 20));
        assert_eq!(status, 413, "{path}: {said}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn sizes_that_cannot_be_are_told_by_the_field() {
    let desk = Desk::new(true).await;
    let (cookie, token, page) = arrive(&desk, "");
    for (width, says) in [
        ("4+1%2F0+in", "divides by nothing"),
        ("3000+mm", "longer than 50 in"),
        ("40+in", "12 in"),
        ("", "No length"),
    ] {
        let form = format!("token={token}&width={width}&height=5");
        let (status, _, said) = desk.send("POST", "/panels", &[("Cookie", &cookie)], &form);
        assert!(status == 422 && said.contains(says), "{width}: {status}");
    }
    let _ = page;
    for (path, form, says) in [
        ("/stock/sheets", "name=&width=8.5&height=11&count=4", "A name is missing"),
        ("/stock/sheets", "name=Mist&width=far&height=11&count=4", "“far” is not a length"),
        ("/stock/sheets", "name=Mist&width=0&height=11&count=4", "more than nothing"),
        ("/stock/sheets", "name=Mist&width=8.5&height=11&count=0", "whole one from 1 to 600"),
        ("/stock/batch/pieces", "name=Mat&width=4&height=5&count=9000", "whole one from 1 to 600"),
        ("/stock/batch/pieces", "name=Mat&width=4.33&height=5&count=9", "falls between the marks"),
        ("/stock/batch/cards", "panel=x&count=some", "“some” is no such number"),
        (
            "/stock/formats",
            "name=Tall&width=40&height=5&fold=side",
            "The width of the finished card is 40 in",
        ),
    ] {
        let (status, _, said) =
            desk.send("POST", path, &[("Cookie", &cookie)], &format!("token={token}&{form}"));
        assert!(status == 422 && said.contains(says), "{path} {form}: {status} {said}");
        // What was written still stands in its fields.
        let written =
            form.split('&').filter_map(|field| field.strip_prefix("name=")).next().unwrap_or_default();
        assert!(written.is_empty() || said.contains(&format!("value=\"{written}\"")), "{form}");
    }
    let (_, _, page) = desk.send("GET", "/stock", &[("Cookie", &cookie)], "");
    assert!(!page.contains("Undo: "), "nothing refused was kept");
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

#[tokio::test(flavor = "multi_thread")]
async fn pictures_and_assets_are_served_as_what_they_are() {
    let desk = Desk::new(true).await;
    let (cookie, _, page) = arrive(&desk, "");
    let panel = panel_on(&page);
    let get = |path: String| desk.send("GET", &path, &[("Cookie", cookie.as_str())], "");
    let (status, head, body) = get(format!("/panels/{panel}/picture.png?dpi=30&after=2"));
    assert!(status == 200 && head.contains("content-type: image/png") && body.contains("IHDR"), "{head}");
    assert!(
        head.contains("no-store"),
        "a picture that is not named by what it is drawn from may change: {head}"
    );
    let seen = page
        .split(&format!("/panels/{panel}/picture.png"))
        .nth(1)
        .and_then(|rest| rest.split("seen=").nth(1));
    let seen = &seen.expect("what the page's picture is drawn from")[..16];
    let (_, head, _) = get(format!("/panels/{panel}/picture.png?dpi=30&seen={seen}"));
    assert!(head.contains("max-age"), "{head}");
    let (_, head, _) = get(format!("/panels/{panel}/picture.png?dpi=30&save=true"));
    assert!(head.contains("attachment; filename=\"ebb-at-six.png\""), "{head}");
    for dpi in ["0", "99999", "-3", "NaN"] {
        let (status, _, said) = get(format!("/panels/{panel}/picture.png?dpi={dpi}"));
        assert!((400..500).contains(&status), "{dpi}: {said}");
    }
    // What compresses is compressed, and a first page is light.
    let gzip = [("Cookie", cookie.as_str()), ("Accept-Encoding", "gzip")];
    for path in ["/", "/drawer", "/drawer/inks.csv"] {
        let (_, head, _) = desk.send("GET", path, &gzip, "");
        assert!(head.contains("content-encoding: gzip"), "{path}: {head}");
    }
    let fonts = concat!(env!("CARGO_MANIFEST_DIR"), "/static/fonts");
    let western = std::fs::read_dir(fonts)
        .unwrap()
        .filter_map(Result::ok)
        .filter(|file| file.file_name().to_string_lossy().ends_with("-latin.woff2"));
    let bytes: u64 = western.map(|file| file.metadata().unwrap().len()).sum();
    assert!(bytes > 10_000 && bytes < 100_000, "{bytes} bytes of fonts");
    let styles = page.split("href=\"").map(|rest| rest.split('"').next().unwrap_or_default());
    let styles =
        styles.into_iter().find(|address| address.ends_with("app.css")).expect("a style sheet").to_owned();
    let (status, head, _) = get(styles.clone());
    assert!(status == 200 && head.contains("text/css") && head.contains("immutable"), "{head}");
    for away in ["/assets/x/../../Cargo.toml", "/assets/x/%2e%2e/Cargo.toml", "/assets/x/no.css"] {
        assert_eq!(get(away.to_owned()).0, 404, "{away}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn inks_go_out_and_come_in_again_as_csv_and_json() {
    let desk = Desk::new(true).await;
    let (cookie, token, _) = arrive(&desk, "");
    let headers = [("Cookie", cookie.as_str()), ("X-Rosy-Token", token.as_str())];
    for (path, kind) in [("/drawer/inks.csv", "text/csv"), ("/drawer/inks.json", "application/json")] {
        let (status, head, file) = desk.send("GET", path, &headers, "");
        assert!(status == 200 && head.contains(kind) && head.contains("attachment"), "{head}");
        let (status, _, said) = desk.send("POST", "/api/inks", &headers, &file);
        // The same inks are found again: nothing is doubled, nothing is there to undo.
        assert!(status == 201 && said.contains("\"added\":0,\"changed\":0,\"same\":37"), "{said}");
        assert!(desk.send("GET", path, &headers, "").2 == file, "read back, the drawer is as it was");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn going_back_leads_only_to_our_own_pages() {
    let desk = Desk::new(true).await;
    let (cookie, token, _) = arrive(&desk, "");
    for (back, leads) in [
        ("%2F%01", "/"),
        ("%2Fa%09b", "/"),
        ("%2F%09%2Fexample.invalid", "/"),
        ("%2Fdrawer", "/drawer"),
        ("https%3A%2F%2Fexample.invalid", "/"),
        ("%2F%2Fexample.invalid", "/"),
        ("%2F%5Cexample.invalid", "/"),
        ("%2Fx%0d%0aSet-Cookie%3A+a", "/"),
    ] {
        let form = format!("token={token}&units=millimetres&back={back}");
        let (status, head, _) = desk.send("POST", "/units", &[("Cookie", &cookie)], &form);
        let location = head.lines().find_map(|line| line.strip_prefix("location: ")).unwrap_or_default();
        assert_eq!((status, location), (303, leads), "{back}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn names_are_text_wherever_they_stand() {
    let desk = Desk::new(true).await;
    let (cookie, token, page) = arrive(&desk, "");
    let panel = panel_on(&page);
    let name = "%3Cscript%3Ealert(1)%3C%2Fscript%3E%22%27";
    let headers = [("Cookie", cookie.as_str()), ("X-Rosy-Token", token.as_str())];
    let (_, _, state) = desk.send("GET", &format!("/api/panels/{panel}"), &headers, "");
    let mut kept: Value = serde_json::from_str(&state).unwrap();
    kept["panel"]["name"] = "<script>alert(1)</script>\"'".into();
    kept["label"] = "rename".into();
    let (status, ..) = desk.send("PUT", &format!("/api/panels/{panel}"), &headers, &kept.to_string());
    assert_eq!(status, 200);
    for (path, form) in [
        ("sheets", format!("name={name}&width=8.5&height=11&count=4")),
        ("batch/pieces", format!("name={name}&width=4&height=5&count=9")),
        ("formats", format!("name={name}&width=4&height=5&fold=side")),
        ("batch/cards", format!("panel={panel}&count=2")),
    ] {
        let form = format!("token={token}&{form}");
        let (status, ..) = desk.send("POST", &format!("/stock/{path}"), &[("Cookie", &cookie)], &form);
        assert_eq!(status, 303, "{path}");
    }
    for path in [
        "/".to_owned(),
        "/stock".to_owned(),
        "/stock/plan.svg".to_owned(),
        format!("/panels/{panel}/card"),
        format!("/panels/{panel}/inks"),
        format!("/panels/{panel}/sheet"),
    ] {
        let (status, _, page) = desk.send("GET", &path, &[("Cookie", &cookie)], "");
        assert_eq!(status, 200, "{path}");
        assert!(!page.contains("<script>alert") && page.contains("alert(1)"), "{path}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_card_is_answered_carried_and_refused_over_the_web() {
    let desk = Desk::new(true).await;
    let (cookie, token, page) = arrive(&desk, "");
    let headers = [("Cookie", cookie.as_str()), ("X-Rosy-Token", token.as_str())];
    let (_, _, state) = desk.send("GET", &format!("/api/panels/{}", panel_on(&page)), &headers, "");
    let panel = serde_json::from_str::<Value>(&state).unwrap()["panel"].clone();
    let ask = |path: &str, asked: Value| {
        let (status, _, said) = desk.send("POST", path, &headers, &asked.to_string());
        (status, serde_json::from_str::<Value>(&said).unwrap_or_else(|_| panic!("{said}")))
    };
    let (status, look) = ask("/api/panels/card", json!({ "panel": panel, "dpi": 40, "settled": true }));
    assert_eq!(status, 200);
    let views: Vec<&str> =
        look["views"].as_array().unwrap().iter().filter_map(|v| v["name"].as_str()).collect();
    assert_eq!(views[..3], ["The card, closed", "The piece to ink", "The base, flat"]);
    assert!(look["picture"].as_str().unwrap().starts_with("data:image/png"));

    // A piece of another size takes its blend along.
    let change = json!({ "set": { "at": "piece.width", "to": "6 in" } });
    let asked = json!({ "panel": panel, "change": change, "dpi": 40, "settled": true });
    let wide = ask("/api/panels/card", asked).1;
    assert_eq!(wide["panel"]["width"], "6 in");
    assert_eq!(
        wide["panel"]["scene"]["ground"][0]["fields"].as_array().map(Vec::len),
        panel["scene"]["ground"][0]["fields"].as_array().map(Vec::len)
    );

    // Another card, and one that no card has.
    let slim = json!({ "name": "Slim", "width": "4 in", "height": "9 in", "fold": "side" });
    let (status, carried) = ask("/api/panels/card/again", json!({ "panel": panel, "format": slim }));
    assert_eq!((status, &carried["panel"]["card"]["format"]["height"]), (200, &json!("9 in")));
    let huge = json!({ "name": "Huge", "width": "40 in", "height": "9 in" });
    let (status, said) = ask("/api/panels/card/again", json!({ "panel": panel, "format": huge }));
    assert!(status == 422 && said["detail"].as_str().unwrap().contains("give 1 in"), "{said}");
    let mut off = look["panel"].clone();
    off["features"] = json!([{ "name": "Moon", "at": { "left": "11 in", "top": "1 in" } }]);
    let (status, said) = ask("/api/panels/card", json!({ "panel": off, "dpi": 40, "settled": true }));
    assert!(
        status == 422 && said["detail"].as_str().unwrap().contains("Moon lies beside the panel"),
        "{said}"
    );
    let mut two = panel.clone();
    two["card"] = look["card"].clone();
    two["card"]["trim"] = json!({ "feature": { "feature": 3 } });
    let (status, said) = ask("/api/panels/card", json!({ "panel": two, "dpi": 40, "settled": true }));
    assert!(
        status == 422 && said["detail"].as_str().unwrap().contains("eature 4 is not on the panel"),
        "{said}"
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn an_address_that_leads_nowhere_says_so() {
    let desk = Desk::new(false).await;
    for path in
        ["/weather", "/panels/not-a-number/blend", "/panels/00000000-0000-7000-8000-000000000000/blend"]
    {
        let (status, _, page) = desk.send("GET", path, &[], "");
        assert_eq!(status, 404, "{path}");
        assert!(!path.contains("0000") || page.contains("no such panel on this bench"), "{page}");
        assert!(!page.contains("UUID") && !page.contains("parse"), "{page}");
    }
}

/// A figure of the maker's own is shown first, taken over by her alone, planned with from then on, and left again.
#[tokio::test(flavor = "multi_thread")]
async fn own_times_are_planned_with_once_they_are_taken_over() {
    let desk = Desk::new(true).await;
    let (cookie, token, page) = arrive(&desk, "");
    let panel = panel_on(&page);
    let headers = [("Cookie", cookie.as_str())];
    let made = || desk.send("GET", "/made", &headers, "").2;
    assert!(made().contains("Plan with it") && !made().contains("planned with<"));
    let evening = || {
        let form = format!("token={token}&name=&count_{panel}=2");
        let (status, head, said) = desk.send("POST", "/evenings", &headers, &form);
        assert_eq!(status, 303, "{said}");
        let id = head.lines().find_map(|line| line.strip_prefix("location: /evenings/")).expect("an evening");
        desk.send("GET", &format!("/evenings/{id}/evening.json"), &headers, "").2
    };
    let guides = evening();
    assert!(!guides.contains("\"pace\""));
    let choose = |take: bool, figure: &str| {
        let form = format!("token={token}&figure={figure}&by=all&of=&take={take}");
        desk.send("POST", "/made/times", &headers, &form).0
    };
    assert_eq!(choose(true, "light-pass"), 303);
    assert!(made().contains("planned with<") && made().contains("Back to the guide's"));
    let own = evening();
    assert!(own.contains("\"pace\"") && own.contains("\"light-pass\""), "{own:.300}");
    // What no evening has said cannot be taken over; what is taken over can be undone, and left.
    assert_eq!(choose(true, "paste-dries"), 404);
    assert_eq!(choose(true, "naps"), 422);
    assert_eq!(choose(false, "light-pass"), 303);
    assert!(!made().contains("planned with<"));
    assert_eq!(desk.send("POST", "/undo", &headers, &format!("token={token}")).0, 303);
    assert!(made().contains("planned with<"));
}

/// What is counted goes down with each card that is recorded, is told when it runs short, and comes back with an undo.
#[tokio::test(flavor = "multi_thread")]
async fn supplies_go_down_with_what_is_recorded_and_a_spare_card_is_gone_on_with() {
    let desk = Desk::new(true).await;
    let (cookie, token, page) = arrive(&desk, "");
    let headers = [("Cookie", cookie.as_str())];
    let post =
        |path: &str, fields: &str| desk.send("POST", path, &headers, &format!("token={token}&{fields}"));
    let supplies = || desk.send("GET", "/supplies", &headers, "").2;
    let left = |name: &str| -> u8 {
        let page = supplies();
        let after = page.split(&format!("<strong>{name}</strong>")).nth(1).expect("it is counted").to_owned();
        after
            .split("value=\"")
            .nth(1)
            .and_then(|rest| rest.split('"').next()?.parse().ok())
            .expect("per cent")
    };
    assert!(supplies().contains("Count what is in my drawer"));
    assert_eq!(post("/supplies", "").0, 303);
    assert!(supplies().contains("Nothing runs low") && left("masking sheet") == 100);
    // A panel that is recorded over and over.
    let panel = panel_on(&page);
    let document: Value =
        serde_json::from_slice(&desk.fetch(&format!("/panels/{panel}/panel.json"), &cookie))
            .expect("a panel");
    let ink = document["inks"][0]["name"].as_str().expect("an ink").to_owned();
    for _ in 0..4 {
        assert_eq!(post(&format!("/panels/{panel}/made"), "").0, 303);
    }
    let down = left(&ink);
    assert!((60..100).contains(&down), "{down}");
    assert_eq!(post("/undo", "").0, 303);
    assert!(left(&ink) > down);
    // Seen to be nearly gone, it is low, and the run sheet says that it may not do.
    let of = format!("of=%7B%22ink%22%3A%22{}%22%7D", ink.replace(' ', "+"));
    assert_eq!(post("/supplies/told", &format!("{of}&left=0")).0, 303);
    assert!(supplies().contains(&format!("Running low: {ink}")));
    let sheet = desk.send("GET", &format!("/panels/{panel}/sheet"), &headers, "").2;
    assert!(sheet.contains(&format!("There may not be enough {ink}")));
    assert_eq!(post("/supplies/told", &format!("{of}&deed=open")).0, 303);
    assert_eq!((left(&ink), post("/supplies/told", "of=%22wishes%22&deed=open").0), (100, 404));
    assert_eq!(post("/supplies/told", &format!("{of}&deed=drop")).0, 303);
    assert!(!supplies().contains(&format!("<strong>{ink}</strong>")));

    // Three cards were pressed off one mat; two of them are left over.
    let made = || desk.send("GET", "/made", &headers, "").2;
    assert!(made().contains("Left over"));
    let page = made();
    let at = page.find("/spare/").expect("a spare card is left over");
    let spare = page[at - 42..at + 8].to_owned();
    assert!(desk.fetch(&format!("{spare}/picture.png"), &cookie).starts_with(b"\x89PNG"));
    let (status, head, said) = post(&spare, "");
    assert_eq!(status, 303, "{said}");
    let new = head.lines().find_map(|line| line.strip_prefix("location: ")).expect("a panel").to_owned();
    assert!(desk.send("GET", &new, &headers, "").2.contains("spare card"));
    assert_eq!(post(&spare, "").0, 404, "it is used");
    assert_eq!(post("/undo", "").0, 303);
    assert!(made().contains(&spare));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_measured_spectrum_is_kept_as_one_through_drawer_panel_and_files() {
    let desk = Desk::new(true).await;
    let (cookie, token, _) = arrive(&desk, "");
    let headers = [("Cookie", cookie.as_str()), ("X-Rosy-Token", token.as_str())];
    let bands: Vec<usize> = (380..=730).step_by(10).collect();
    let names: Vec<String> = bands.iter().map(|nm| format!("SPECTRAL_NM{nm}")).collect();
    let row = |deep: f64| -> String {
        let share = |nm: &usize| 0.85 - deep * (-((*nm as f64 - 540.0) / 40.0).powi(2)).exp();
        bands.iter().map(|nm| format!("{:.4}", share(nm))).collect::<Vec<_>>().join(" ")
    };
    let file = format!(
        "CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_NAME LIGHT_PASSES {}\nEND_DATA_FORMAT\nBEGIN_DATA\n\"Sea Rose\" 6 {}\n\"Sea Rose\" 1 {}\nEND_DATA\n",
        names.join(" "),
        row(0.75),
        row(0.2),
    );
    let (status, _, said) = desk.send("POST", "/api/inks/look", &headers, &file);
    let told: Value = serde_json::from_str(&said).unwrap();
    assert_eq!((status, &told["new"]), (200, &json!(["Sea Rose"])), "{said}");
    assert!(said.contains("taken for dye"), "what was not said is told: {said}");
    assert_eq!(desk.send("POST", "/api/inks", &headers, &file).0, 201);
    let kept = |path: &str| desk.send("GET", path, &headers, "").2;
    let all: Value = serde_json::from_str(&kept("/drawer/inks.json")).unwrap();
    let ink = all.as_array().unwrap().iter().find(|ink| ink["name"] == "Sea Rose").expect("the ink").clone();
    assert_eq!(ink["colour"]["reflectance"].as_array().map(Vec::len), Some(36), "{ink}");
    assert_eq!((&ink["full_veils"], ink["one_veil"]["reflectance"][16].as_f64()), (&json!(6), Some(0.65)));
    // Out and in again as measurements and as a table, it is the same ink.
    for path in ["/drawer/inks.txt", "/drawer/inks.csv"] {
        let (status, _, said) = desk.send("POST", "/api/inks/look", &headers, &kept(path));
        let told: Value = serde_json::from_str(&said).unwrap();
        let changed = told["changed"].as_array().unwrap();
        assert_eq!((status, told["new"].as_array().map(Vec::len)), (200, Some(0)), "{path}: {said}");
        assert!(!changed.contains(&json!("Sea Rose")), "{path}: {said}");
    }
    // Its own page keeps it as well, where something else about it is changed.
    let drawer = kept("/drawer?search=sea+rose");
    let mut pages = drawer.split("href=\"/drawer/inks/").skip(1).filter_map(|rest| rest.get(..36));
    let page = pages.find(|id| uuid::Uuid::parse_str(id).is_ok()).expect("its page");
    let shown = kept(&format!("/drawer/inks/{page}"));
    let value = |field: &str| {
        let input = shown.split(&format!("id=\"{field}\"")).nth(1).expect("the field");
        input.split("value=\"").nth(1).unwrap().split('"').next().unwrap().replace(' ', "+")
    };
    let form = format!(
        "token={token}&name=Sea+Rose&kind=dye&colour={}&one_veil={}&full_veils=7",
        value("colour"),
        value("one_veil")
    );
    let (status, _, said) = desk.send("POST", &format!("/drawer/inks/{page}"), &headers, &form);
    assert_eq!(status, 303, "{said}");
    let again: Value = serde_json::from_str(&kept("/drawer/inks.json")).unwrap();
    let again = again.as_array().unwrap().iter().find(|ink| ink["name"] == "Sea Rose").unwrap().clone();
    assert_eq!((&again["colour"], &again["full_veils"]), (&ink["colour"], &json!(7)));
    // A spectrum that is none is refused by what is wrong with it.
    let off = file.replace("0.8500", "900");
    let (_, _, said) = desk.send("POST", "/api/inks/look", &headers, &off);
    assert!(said.contains("share of light") || said.contains("Lab numbers"), "{said}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_change_is_kept_once_merged_where_it_can_be_and_refused_by_its_field() {
    let desk = Desk::new(true).await;
    let (cookie, token, page) = arrive(&desk, "");
    let headers = [("Cookie", cookie.as_str()), ("X-Rosy-Token", token.as_str())];
    let api = format!("/api/panels/{}", panel_on(&page));
    let read = |answer: &str| serde_json::from_str::<Value>(answer).expect("JSON");
    let kept = || read(&desk.send("GET", &api, &headers, "").2);
    let put = |sent: &Value| {
        let (status, _, said) = desk.send("PUT", &format!("{api}/edit"), &headers, &sent.to_string());
        (status, read(&said))
    };
    let edit = |revision: &Value, edit: Value| json!({ "revision": revision, "mark": uuid::Uuid::now_v7(), "edit": edit });
    let before = kept();
    let veils = |state: &Value| state["panel"]["scene"]["ground"][0]["fields"][0]["veils"].clone();

    // Kept, and once, however often it is sent; it is called what it does.
    let more = edit(
        &before["revision"],
        json!({ "blend": { "blend": 0, "change": { "veils": { "field": 0, "by": 1 } } } }),
    );
    let (status, first) = put(&more);
    assert_eq!((status, &first["blend"]), (200, &json!(0)), "{first}");
    assert!(first["undo"].as_str().is_some_and(|label| !label.is_empty()));
    let (status, again) = put(&more);
    assert_eq!((status, &again["revision"]), (200, &first["revision"]));
    assert_eq!((&kept()["revision"], kept()["panel"].clone()), (&first["revision"], first["panel"].clone()));

    // Made on what has been changed meanwhile: asked for what it was made on, then in it beside the other.
    let name = json!({ "card": { "set": { "at": "name", "to": "Ebb at seven" } } });
    let mut late = edit(&before["revision"], name);
    let (status, said) = put(&late);
    assert_eq!((status, &said["wants"]), (409, &json!("base")), "{said}");
    late["base"] = before["panel"].clone();
    let (status, both) = put(&late);
    assert_eq!((status, &both["panel"]["name"]), (200, &json!("Ebb at seven")), "{both}");
    assert!(both["said"].as_str().unwrap().contains("both changes are in it"));
    assert_eq!(veils(&both), veils(&first));

    // What cannot be made is told by its field, and nothing is kept of it.
    let wide = edit(&both["revision"], json!({ "card": { "set": { "at": "card.over", "to": "4 1/0" } } }));
    let (status, said) = put(&wide);
    assert_eq!((status, &said["field"]), (422, &json!("card.over")), "{said}");
    assert!(said["detail"].as_str().unwrap().contains("divides by nothing"), "{said}");
    let (status, said) = put(&edit(&both["revision"], json!({ "cover": { "bring": "no such shape" } })));
    assert_eq!(status, 404, "{said}");
    assert_eq!(kept()["revision"], both["revision"]);
}

#[tokio::test(flavor = "multi_thread")]
async fn every_step_that_can_be_asked_for_goes_through_all_pages() {
    let desk = Desk::new(true).await;
    let (cookie, token, page) = arrive(&desk, "");
    let headers = [("Cookie", cookie.as_str()), ("X-Rosy-Token", token.as_str())];
    // Some of them go by a shape that stands there.
    let named = page.find(">Lamp on the groyne<").expect("a panel with a shape on it");
    let panel = panel_on(&page[page[..named].rfind("/panels/").expect("its address")..]);
    let api = format!("/api/panels/{panel}");
    let read = |answer: &str| serde_json::from_str::<Value>(answer).expect("JSON");
    let water = desk.send("GET", &format!("/panels/{panel}/water"), &headers, "").2;
    let menu = water.split("id=\"new-deed\"").nth(1).expect("a menu").split("</select>").next().unwrap();
    let keys: Vec<&str> = menu.split("value=\"").skip(1).filter_map(|rest| rest.split('"').next()).collect();
    assert!(keys.len() > 10, "{keys:?}");
    for key in keys {
        let kept = read(&desk.send("GET", &api, &headers, "").2);
        let edit = json!({
            "revision": kept["revision"], "mark": uuid::Uuid::now_v7(), "edit": { "water": { "add": key } },
        });
        let (status, _, said) = desk.send("PUT", &format!("{api}/edit"), &headers, &edit.to_string());
        assert_eq!(status, 200, "{key}: {said}");
        let asked = json!({ "panel": read(&said)["panel"], "dpi": 20, "settled": true });
        let (status, _, said) = desk.send("POST", "/api/panels/water", &headers, &asked.to_string());
        assert_eq!(status, 200, "{key}: {said}");
        let look = read(&said);
        let told = look["told"].as_str().unwrap_or_else(|| panic!("{key}: {said}"));
        assert!(told.contains("data-deed-row=\"0\"") && told.contains("aria-label=\""), "{key}: {told}");
        // There is more to do than without it, and the run sheet shows it.
        let sheet = desk.send("GET", &format!("/panels/{panel}/sheet"), &headers, "").2;
        let moves = |panel: &Value| panel["moves"].as_array().map_or(0, Vec::len);
        assert!(moves(&look["panel"]) > moves(&kept["panel"]), "{key}");
        assert!(sheet.matches("id=\"move-").count() > 0, "{key}: {sheet}");
        // It goes into the record, and the record is shown.
        let (status, _, said) =
            desk.send("POST", &format!("/panels/{panel}/made"), &headers, &format!("token={token}"));
        assert_eq!(status, 303, "{key}: {said}");
        let (status, ..) = desk.send("GET", "/made", &headers, "");
        assert_eq!(status, 200, "{key}");
        let (status, _, said) = desk.send("POST", &format!("{api}/undo"), &headers, "");
        assert_eq!(status, 200, "{key}: {said}");
    }
}
