//! Drawings, archives, pictures and texts made to hold the program up: each is answered with a reason, nothing is held longer
//! than it may be, the program stays small, and whoever else is there goes on.

mod desk;

use std::io::{Cursor, Read, Write};
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};
use std::time::{Duration, Instant};

use desk::{Desk, Files, Visit, packed, unpacked};
use image::{DynamicImage, ImageFormat, Rgb, RgbImage};
use rand_chacha::ChaCha8Rng;
use rand_core::{Rng, SeedableRng};
use rosy_core::Panel;
use rosy_store::{Change, Store};
use serde_json::{Value, json};
use uuid::Uuid;

/// Megabytes above the resting program that may be held while something hostile is worked on, and after it.
const MEANWHILE: u64 = 300;
const AFTER: u64 = 100;

fn headers(visit: &Visit) -> [(&str, &str); 2] {
    [("Cookie", visit.cookie.as_str()), ("X-Rosy-Token", visit.token.as_str())]
}

fn detail(said: &str) -> String {
    let said: Value = serde_json::from_str(said).unwrap_or_else(|_| panic!("{said:.300}"));
    said["detail"].as_str().unwrap_or_default().to_owned()
}

fn svg(head: &str, inside: &str) -> String {
    format!("<svg xmlns='http://www.w3.org/2000/svg' {head}>{inside}</svg>")
}

fn polygon(points: impl Iterator<Item = (f64, f64)>) -> String {
    let points: String = points.map(|(x, y)| format!("{x:.3},{y:.3} ")).collect();
    format!("<polygon points='{points}'/>")
}

fn star(corners: usize) -> String {
    polygon((0..corners).map(|n| {
        let at = (n * (corners - 1) / 2) as f64 * std::f64::consts::TAU / corners as f64;
        (100.0 + 80.0 * at.cos(), 100.0 + 80.0 * at.sin())
    }))
}

/// A share from nothing to one.
fn share(random: &mut ChaCha8Rng) -> f64 {
    f64::from(random.next_u32()) / f64::from(u32::MAX)
}

fn scribble(random: &mut ChaCha8Rng, corners: usize) -> String {
    polygon((0..corners).map(|_| (180.0 * share(random), 140.0 * share(random))))
}

const PAGE: &str = "width='200mm' height='200mm' viewBox='0 0 200 200'";

/// Watches how much is held while something is done: the most, in megabytes above what was held before.
fn watched<T: Send>(desk: &Desk, work: impl FnOnce() -> T + Send) -> (T, u64) {
    let (before, over, most) = (desk.memory(), AtomicBool::new(false), AtomicU64::new(0));
    let done = std::thread::scope(|scope| {
        scope.spawn(|| {
            while !over.load(Ordering::Relaxed) {
                most.fetch_max(desk.memory(), Ordering::Relaxed);
                std::thread::sleep(Duration::from_millis(10));
            }
        });
        let done = work();
        over.store(true, Ordering::Relaxed);
        done
    });
    (done, most.into_inner().saturating_sub(before) >> 20)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_drawing_is_refused_before_it_holds_anything_up() {
    let desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let tiny = "width='9mm' height='9mm' viewBox='0 0 .00001 .00001'";
    let mut random = ChaCha8Rng::seed_from_u64(3);
    let attributes: String = (0..60_000).map(|n| format!(" a{n}='1'")).collect();
    let cases: Vec<(String, &str)> = vec![
        (svg(tiny, "<path d='M0 0A900000 900000 0 1 1 1 1z'/>"), "larger than two metres"),
        (
            svg(PAGE, "<g transform='scale(1000000)'><g transform='scale(1000000)'><circle r='9'/></g></g>"),
            "larger than two metres",
        ),
        (svg(PAGE, &star(3_999)), "crosses itself"),
        (svg(PAGE, &scribble(&mut random, 500)), "crosses itself"),
        (
            svg(
                PAGE,
                &format!("<style>{}</style><rect width='3' height='3'/>", ".a{fill:red}".repeat(60_000)),
            ),
            "500 rules",
        ),
        (svg(PAGE, &format!("<rect{attributes} width='3' height='3'/>")), "100 attributes"),
        (svg(PAGE, "<style>a{}<g/>@IMPORT 'far.css';</style><rect width='3' height='3'/>"), "outside itself"),
    ];
    let before = desk.memory();
    for (drawing, part) in cases {
        for (path, body) in [
            ("/api/ask/shape", json!({ "svg": drawing })),
            ("/api/shapes", json!({ "name": "kite.svg", "svg": drawing })),
        ] {
            let sent = body.to_string();
            let ((status, _, said), held) =
                watched(&desk, || desk.send("POST", path, &headers(&visit), &sent));
            assert!(status == 422 && detail(&said).contains(part), "{part}: {status} {said:.300}");
            assert!(held < MEANWHILE, "{part}: {held} MB");
        }
    }
    // An ordinary scribble is drawn, kept, and looked at again.
    let sent = json!({ "name": "scribble.svg", "svg": svg(PAGE, &scribble(&mut random, 120)) }).to_string();
    let (status, _, said) = desk.send("POST", "/api/shapes", &headers(&visit), &sent);
    assert_eq!(status, 201, "{said:.300}");
    let id = serde_json::from_str::<Value>(&said).unwrap()["id"].as_str().unwrap().to_owned();
    for _ in 0..2 {
        let (status, _, page) = desk.send("GET", &format!("/shapes/{id}"), &headers(&visit), "");
        assert!(status == 200 && page.contains("more like it"), "{status}");
    }
    assert!(desk.memory().saturating_sub(before) >> 20 < AFTER, "{} MB", desk.memory() >> 20);
    assert_eq!(desk.log(), "", "nothing broke");
}

/// A star whose every corner is a rib: as a stencil it takes the longest of all drawings that are read. It is ended where that is
/// too long, and the next question finds a new child.
#[tokio::test(flavor = "multi_thread")]
async fn a_child_that_takes_too_much_is_ended() {
    let desk = Desk::new(true).await;
    let tangled = svg(PAGE, &star(101).replace("<polygon", "<polygon fill-rule='evenodd'"));
    let asked = json!({ "svg": tangled, "use": "stencil", "material": "film" }).to_string();
    let ((status, _, said), held) = watched(&desk, || desk.send("POST", "/api/ask/shape", &[], &asked));
    assert!(
        status == 200 || status == 422 && detail(&said).contains("takes more than"),
        "{status} {said:.300}"
    );
    assert!(held < MEANWHILE, "{held} MB");
    // One whose asker hangs up is ended too: the line is free at once.
    for _ in 0..6 {
        let mut stream = std::net::TcpStream::connect(("127.0.0.1", desk.port)).unwrap();
        let head = format!(
            "POST /api/ask/shape HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: {}\r\n\r\n",
            asked.len()
        );
        stream.write_all(&[head.as_bytes(), asked.as_bytes()].concat()).unwrap();
        std::thread::sleep(Duration::from_millis(150));
    }
    let began = Instant::now();
    let rect = json!({ "svg": svg(PAGE, "<rect width='9' height='9'/>") }).to_string();
    assert_eq!(desk.send("POST", "/api/ask/shape", &[], &rect).0, 200);
    assert!(began.elapsed() < Duration::from_secs(5), "{:?}", began.elapsed());
    assert_eq!(desk.log(), "", "nothing broke");
}

/// Its name, what it is cut for, and all else can be changed however long its outline is.
#[tokio::test(flavor = "multi_thread")]
async fn a_drawing_that_was_taken_can_be_kept() {
    let desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let petals: String = (0..55)
        .map(|n| {
            format!(
                "<path transform='rotate({} 100 100)' d='M100 100c9 -20 9 -60 0 -80c-9 20 -9 60 0 80z'/>",
                n * 360 / 55
            )
        })
        .collect();
    let sent = json!({ "name": "petals.svg", "svg": svg(PAGE, &petals) }).to_string();
    let (status, _, said) = desk.send("POST", "/api/shapes", &headers(&visit), &sent);
    assert_eq!(status, 201, "{said:.300}");
    let id = serde_json::from_str::<Value>(&said).unwrap()["id"].as_str().unwrap().to_owned();
    let (_, _, page) = desk.send("GET", &format!("/shapes/{id}"), &headers(&visit), "");
    assert!(
        page.contains(&format!("name=\"of\" value=\"{id}\"")) && page.contains("name=\"figure\" value=\"\"")
    );
    let fields = format!(
        "of={id}&figure=&name=Kite+wheel&use=stencil&material=film&cut=on-the-line&turn=0&percent=100&across=1&down=1"
    );
    let (status, _, said) =
        desk.send("POST", &format!("/shapes/{id}"), &headers(&visit), &visit.form(&fields));
    assert_eq!(status, 303, "{said:.300}");
    let (_, _, page) = desk.send("GET", &format!("/shapes/{id}"), &headers(&visit), "");
    assert!(page.contains("Kite wheel") && page.contains("A stencil with"));
    // While it is set its picture follows.
    let asked = json!({ "of": id, "figure": "", "name": "Kite wheel", "use": "mask", "material": "film", "percent": "50" });
    let (status, _, said) = desk.send("POST", "/api/shapes/look", &headers(&visit), &asked.to_string());
    assert!(status == 200 && said.contains("plug"), "{said:.300}");
}

#[tokio::test(flavor = "multi_thread")]
async fn letters_that_are_none_are_refused_by_their_field() {
    let desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let made = {
        let (_, _, page) = desk.send("GET", "/made", &headers(&visit), "");
        let at = page.find("href=\"/made/").expect("a record") + 12;
        page[at..at + 36].to_owned()
    };
    for (path, fields, field) in [
        ("/drawer/inks".to_owned(), "name=Kelp%00&kind=dye&colour=%23445544", "name"),
        ("/panels".into(), "name=%00&width=4&height=5", "name"),
        (format!("/made/{made}"), "note=lovely%00", "note"),
        (format!("/made/{made}"), "to=%00", "to"),
        ("/evenings".into(), "name=Thursday%00", "name"),
    ] {
        let (status, _, said) = desk.send("POST", &path, &headers(&visit), &visit.form(fields));
        assert!(
            status == 422 && said.contains(&format!("the {field} holds a sign"))
                || said.contains(&format!("The {field} holds a sign")),
            "{path}: {status} {said:.300}"
        );
    }
    let address = format!("/api/panels/{}", visit.panel);
    let state: Value = serde_json::from_str(&desk.send("GET", &address, &headers(&visit), "").2).unwrap();
    let mut panel = state["panel"].clone();
    panel["inks"][0]["name"] = "Cock\u{0}le".into();
    let save = json!({ "revision": state["revision"], "base": state["panel"], "panel": panel, "label": "rename", "mark": null });
    let (status, _, said) = desk.send("PUT", &address, &headers(&visit), &save.to_string());
    assert!(status == 422 && detail(&said).contains("name"), "{status} {said:.300}");
    assert_eq!(desk.log(), "", "nothing broke");
}

#[tokio::test(flavor = "multi_thread")]
async fn pictures_are_read_whatever_they_are_and_limits_are_told_as_they_are() {
    let desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let seen = RgbImage::from_fn(90, 60, |x, _| if x < 45 { Rgb([200, 30, 30]) } else { Rgb([30, 30, 200]) });
    for format in [ImageFormat::Jpeg, ImageFormat::Png, ImageFormat::WebP] {
        let mut bytes = Cursor::new(Vec::new());
        DynamicImage::ImageRgb8(seen.clone()).write_to(&mut bytes, format).unwrap();
        let (status, _, said) = desk.send("POST", "/api/drawer/saw", &headers(&visit), &bytes.into_inner());
        let colours = serde_json::from_str::<Value>(&said).unwrap()["colours"].as_array().map(Vec::len);
        assert_eq!((status, colours), (200, Some(2)), "{format:?}: {said:.300}");
    }
    let (_, _, page) = desk.send("GET", "/made", &headers(&visit), "");
    let at = page.find("href=\"/made/").expect("a record") + 12;
    let address = format!("/api/made/{}/photo", &page[at..at + 36]);
    let (status, _, said) = desk.send("POST", &address, &headers(&visit), &vec![0; 25 << 20]);
    assert!(status == 413 && detail(&said).contains("24 MB"), "{said:.300}");
    let (status, _, said) = desk.send("POST", "/api/inks/look", &headers(&visit), &vec![0; 3 << 20]);
    assert!(status == 413 && detail(&said).contains("2 MB"), "{said:.300}");
}

/// The archive of the demo's bench, without what is not read again.
fn bench_of(desk: &Desk, visit: &Visit) -> Files {
    let mut files = unpacked(&desk.fetch("/benches/bench.zip", &visit.cookie));
    files.retain(|name, _| name.ends_with(".json"));
    files
}

#[tokio::test(flavor = "multi_thread")]
async fn an_archive_is_read_as_what_it_must_be_within_its_bounds() {
    let desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let files = bench_of(&desk, &visit);
    let with = |name: &str, body: &str| {
        let mut changed = files.clone();
        changed.insert(name.into(), body.as_bytes().to_vec());
        packed(&changed)
    };
    let row = |id: u32, body: &str, at: &str| {
        format!(
            r#"{{"id":"01a217ac-c74c-71d5-8e71-b1ccda0d{id:04x}","kind":"ink","revision":1,"changed_at":"{at}","body":{body}}}"#
        )
    };
    let now = "2026-01-01T00:00:00Z";
    let many = format!("[{}]", row(1, &format!("{{\"a\":[{}{{}}]}}", "{},".repeat(8_000_000)), now));
    let deep = format!("[{}]", row(1, &format!("{}1{}", "[".repeat(100_000), "]".repeat(100_000)), now));
    let kelp = r##"{"name":"Kelp","kind":"dye","colour":{"srgb":"#445544"},"full_veils":7}"##;
    let cases = [
        (with("things/ink.json", &many), "things/ink.json"),
        (with("things/ink.json", &deep), "things/ink.json"),
        (with("things/ink.json", &format!("[{0},{0}]", row(1, kelp, now))), "two things have this number"),
        (with("things/ink.json", &format!("[{}]", row(1, kelp, "-9999-01-01T00:00:00Z"))), "things/ink.json"),
        (with("things/ink.json", &format!("[{}]", row(1, kelp, "+20000-01-01T00:00:00Z"))), "calendar"),
        (
            with("things/ink.json", &format!("[{}]", row(1, &kelp.replace("Kelp", "Ke\\u0000lp"), now))),
            "name",
        ),
    ];
    let before = desk.memory();
    for (archive, part) in cases {
        let ((status, _, said), held) =
            watched(&desk, || desk.send("POST", "/api/benches", &headers(&visit), &archive));
        assert!(status == 422 && detail(&said).contains(part), "{part}: {status} {said:.300}");
        assert!(held < MEANWHILE, "{part}: {held} MB");
    }
    assert!(desk.memory().saturating_sub(before) >> 20 < AFTER, "{} MB", desk.memory() >> 20);

    // Photos: two of one number; one with its place in it is written anew.
    let seen = RgbImage::from_fn(60, 40, |x, y| Rgb([x as u8, y as u8, 90]));
    let mut plain = Cursor::new(Vec::new());
    DynamicImage::ImageRgb8(seen).write_to(&mut plain, ImageFormat::Jpeg).unwrap();
    let plain = plain.into_inner();
    let exif = [&b"Exif\0\0MM\0\x2a\0\0\0\x08\0\0\0\0\0\0"[..], b"GPS of the string menders"].concat();
    let long = ((exif.len() + 2) as u16).to_be_bytes();
    let placed = [&plain[..2], &[0xff, 0xe1], &long, &exif, &plain[2..]].concat();
    let id = "01a217ac-c74c-71d5-8e71-b1ccda0da9e3";
    let mut twice = files.clone();
    twice.insert(format!("photos/{id}.jpg"), placed.clone());
    let one = packed(&twice);
    twice.insert(format!("photos/{}.jpg", id.to_uppercase()), placed.clone());
    let (status, _, said) = desk.send("POST", "/api/benches", &headers(&visit), &packed(&twice));
    assert!(status == 422 && detail(&said).contains("two photos have this number"), "{said:.300}");
    let mut half = files.clone();
    half.insert(format!("photos/{id}.jpg"), plain[..plain.len() / 2].to_vec());
    let (status, _, said) = desk.send("POST", "/api/benches", &headers(&visit), &packed(&half));
    assert!(status == 422 && detail(&said).contains("ends in the middle"), "{said:.300}");
    let (status, head, said) = desk.send("POST", "/api/benches", &headers(&visit), &one);
    assert_eq!(status, 200, "{said:.300}");
    let brought = desk::cookie_of(&head).expect("the new bench is opened");
    let again = unpacked(&desk.fetch("/benches/bench.zip", &brought));
    let photo = again.iter().find(|(name, _)| name.starts_with("photos/")).expect("its photo").1;
    assert!(image::load_from_memory(photo).is_ok() && !photo.windows(3).any(|part| part == b"GPS"));
    assert_eq!(desk.log(), "", "nothing broke");
}

#[tokio::test(flavor = "multi_thread")]
async fn changes_that_speak_of_what_is_not_there_are_left_out_and_told() {
    let desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let files = bench_of(&desk, &visit);
    let kelp = r##"{"name":"Kelp","kind":"dye","colour":{"srgb":"#445544"},"full_veils":7}"##;
    let change = |things: &str, mark: &str, at: &str| {
        format!(
            r#"{{"scope":"bench","label":"rename","things":[{things}],"undone":false,"made_at":"{at}"{mark}}}"#
        )
    };
    let part = |id: &str, before: &str| format!(r#"{{{id}"kind":"ink","before":{before},"after":{kelp}}}"#);
    let foreign = r#""id":"01a217ac-c74c-71d5-8e71-b1ccda0da9e3","#;
    let mark = r#","mark":"0193a1de-0000-7000-8000-000000000001""#;
    let own = &serde_json::from_slice::<Vec<Value>>(&files["things/ink.json"]).unwrap()[0];
    let own =
        format!(r#"{{"id":{},"kind":"ink","before":{},"after":{}}}"#, own["id"], own["body"], own["body"]);
    let now = "2026-01-01T00:00:00Z";
    let (status, _, said) = {
        let mut changed = files.clone();
        changed
            .insert("changes.json".into(), format!("[{}]", change(&part("", "null"), "", now)).into_bytes());
        desk.send("POST", "/api/benches", &headers(&visit), &packed(&changed))
    };
    assert!(status == 422 && detail(&said).contains("changes.json"), "no number: {said:.300}");
    let all = [
        change(&own, mark, now),
        change(&own, mark, now),
        change(&part(foreign, kelp), "", now),
        change(&own, "", "+20000-01-01T00:00:00Z"),
    ];
    let mut changed = files.clone();
    changed.insert("changes.json".into(), format!("[{}]", all.join(",")).into_bytes());
    let (status, head, said) = desk.send("POST", "/api/benches", &headers(&visit), &packed(&changed));
    let answer: Value = serde_json::from_str(&said).unwrap();
    assert_eq!((status, &answer["left"]), (200, &json!(2)), "{said:.300}");
    let brought = Visit::at(&desk, &desk::cookie_of(&head).expect("the new bench is opened"));
    let told = desk.send("GET", answer["then"].as_str().unwrap(), &headers(&brought), "").2;
    assert!(told.contains("2 changes"), "it is said");
    // What is left can be undone, and nothing else is in its way.
    for _ in 0..3 {
        assert_eq!(desk.send("POST", "/undo", &headers(&brought), &brought.form("")).0, 303);
    }
    assert_eq!(desk.log(), "", "nothing broke");
}

/// A bench that is taken out is given as it is packed; whoever hangs up stops it, and the program ends when it is told to.
#[tokio::test(flavor = "multi_thread")]
async fn whoever_hangs_up_stops_what_was_asked_and_the_program_ends_when_told() {
    let mut desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let request = format!(
        "GET /benches/bench.zip HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\nCookie: {}\r\n\r\n",
        visit.cookie
    );
    let mut stream = std::net::TcpStream::connect(("127.0.0.1", desk.port)).unwrap();
    stream.write_all(request.as_bytes()).unwrap();
    let mut begun = [0; 600];
    stream.read_exact(&mut begun).unwrap();
    drop(stream);
    assert_eq!(desk.send("GET", "/", &headers(&visit), "").0, 200);
    // One that goes on does not keep it from ending.
    let mut stream = std::net::TcpStream::connect(("127.0.0.1", desk.port)).unwrap();
    stream.write_all(request.as_bytes()).unwrap();
    stream.read_exact(&mut begun).unwrap();
    assert!(desk.ends_when_told(Duration::from_secs(20)), "it still runs");
    desk.start_again();
    assert_eq!(desk.send("GET", "/", &headers(&visit), "").0, 200);
}

/// However many panels there are, a page offers some of them; what was asked for on one stays on the next.
#[tokio::test(flavor = "multi_thread")]
async fn an_evening_is_chosen_from_many_panels_page_by_page() {
    let desk = Desk::new(true).await;
    let store = Store::open(desk.database()).await.unwrap();
    let bench = store.benches().await.unwrap()[0].id;
    let own = store.all::<Panel>(bench).await.unwrap().remove(0).value;
    let named = |n: usize| Panel { name: format!("Kite {n}").parse().unwrap(), ..own.clone() };
    let things = (0..80).map(|n| Change::add(Uuid::now_v7(), &named(n)).unwrap()).collect();
    store.set_out(bench, things).await.unwrap();
    let visit = Visit::new(&desk);
    let offered = |page: &str| page.matches("name=\"count_").count();
    let first = desk.send("GET", "/evenings", &headers(&visit), "").2;
    assert!(offered(&first) == 24 && first.contains("page 1 of 4"), "{}", offered(&first));
    let at = first.find("name=\"count_").unwrap() + 12;
    let id = &first[at..at + 36];
    let turned = |fields: &str| desk.send("POST", "/evenings", &headers(&visit), &visit.form(fields));
    let (status, _, second) = turned(&format!("name=Thursday&count_{id}=3&panels=2"));
    assert!(status == 200 && second.contains("page 2 of 4") && second.contains("value=\"Thursday\""));
    assert!(second.contains(&format!("name=\"count_{id}\" value=\"3\"")) && offered(&second) == 25);
    let (status, _, found) = turned(&format!("count_{id}=3&find=kite+7&panels=1"));
    // 7, 70 to 79, and the one asked for where it is none of these.
    assert!(status == 200 && (11..=12).contains(&offered(&found)), "{status} {}", offered(&found));
    assert_eq!(offered(&turned("find=100%25_&panels=1").2), 0, "a word is a word");
    // The Enter key finds where another word was written, and plans otherwise.
    let (status, _, entered) = turned(&format!("count_{id}=3&find=kite+7&found="));
    assert!(status == 200 && offered(&entered) == offered(&found), "{status} {}", offered(&entered));
    assert_eq!(turned(&format!("count_{id}=3&find=kite+7&found=kite+7")).0, 303);
    let buttons = first.split("action=\"/evenings\"").nth(1).and_then(|form| form.split("<button ").nth(1));
    assert!(buttons.is_some_and(|first| !first.split('>').next().unwrap_or("").contains("name=")));
    let (status, head, said) = turned(&format!("name=Thursday&count_{id}=3"));
    assert_eq!(status, 303, "{said:.300}");
    assert!(head.contains("location: /evenings/"), "{head}");
}

/// A drawing made to hurt, from a seed.
fn drawing(random: &mut ChaCha8Rng) -> String {
    let below = |random: &mut ChaCha8Rng, most: u32| random.next_u32() % most;
    let corners = [20, 60, 120, 200, 700][below(random, 5) as usize];
    let inside = match below(random, 9) {
        0 => scribble(random, corners),
        1 => star(2 * corners + 1),
        2 => format!(
            "<g transform='scale({})'>{}</g>",
            10_f64.powi(below(random, 12) as i32 - 4),
            scribble(random, 12)
        ),
        3 => format!(
            "<style>{}</style>{}",
            "g g .a > .b{fill:red}".repeat(corners),
            "<rect class='a' width='3' height='3'/>".repeat(corners)
        ),
        4 => "<g>".repeat(corners) + "<circle r='9'/>" + &"</g>".repeat(corners),
        5 => {
            (0..corners).map(|n| format!("<path d='M{n} 0L{} 190L{n}.2 190z'/>", 200 - n.min(199))).collect()
        }
        6 => format!("<path d='M0 0A{0} {0} 0 1 1 1 1z'/>", 10_f64.powi(below(random, 7) as i32)),
        7 => format!("<g id='a'>{}</g>", "<use href='#a'/>".repeat(corners)) + &star(9),
        _ => format!(
            "<path stroke='red' stroke-width='{corners}' d='M0 0{}'/>",
            "C9 9 180 9 90 140S1 1 9 9".repeat(corners)
        ),
    };
    let mut text = svg(PAGE, &inside);
    if below(random, 4) == 0 {
        let at = below(random, text.len() as u32) as usize;
        if text.is_char_boundary(at) {
            text.truncate(at);
        }
    }
    text
}

/// Bytes of a file, some of them others.
fn torn(random: &mut ChaCha8Rng, whole: &[u8]) -> Vec<u8> {
    let mut bytes = whole.to_vec();
    for _ in 0..1 + random.next_u32() % 12 {
        let at = random.next_u32() as usize % bytes.len();
        match random.next_u32() % 4 {
            0 => bytes.truncate(at.max(1)),
            1 => bytes[at] = random.next_u32() as u8,
            2 => bytes[at..].iter_mut().take(4).for_each(|byte| *byte = 0xff),
            _ => {
                let copy = bytes[at..(at + 300).min(bytes.len())].to_vec();
                bytes.splice(at..at, copy);
            }
        }
    }
    bytes
}

/// How many of each there are: a twentieth of a siege in the suite, all of it where `ROSY_SIEGE` is set.
fn siege(whole: usize) -> usize {
    if std::env::var_os("ROSY_SIEGE").is_some() { whole } else { whole / 20 }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_siege_holds_nobody_up() {
    let desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let other = Visit::new(&desk);
    let files = bench_of(&desk, &visit);
    let seen = RgbImage::from_fn(300, 200, |x, y| Rgb([x as u8, y as u8, 90]));
    let picture = |format: ImageFormat| {
        let mut bytes = Cursor::new(Vec::new());
        DynamicImage::ImageRgb8(seen.clone()).write_to(&mut bytes, format).unwrap();
        bytes.into_inner()
    };
    let pictures = [ImageFormat::Jpeg, ImageFormat::Png, ImageFormat::WebP, ImageFormat::Gif].map(picture);
    let (_, _, page) = desk.send("GET", "/made", &headers(&visit), "");
    let at = page.find("href=\"/made/").expect("a record") + 12;
    let photo = format!("/api/made/{}/photo", &page[at..at + 36]);
    let (over, slowest) = (AtomicBool::new(false), AtomicU64::new(0));
    let before = desk.memory();
    let ((), held) = watched(&desk, || {
        std::thread::scope(|scope| {
            // Somebody else, who only wants to see a picture now and then.
            scope.spawn(|| {
                let mut n = 0;
                while !over.load(Ordering::Relaxed) {
                    n += 1;
                    let began = Instant::now();
                    let path = format!("/panels/{}/picture.png?dpi={}", other.panel, 30 + n % 40);
                    assert_eq!(desk.send("GET", &path, &[("Cookie", &other.cookie)], "").0, 200);
                    slowest.fetch_max(began.elapsed().as_millis() as u64, Ordering::Relaxed);
                    std::thread::sleep(Duration::from_millis(100));
                }
            });
            let besiegers: Vec<_> = (0..4_u64)
                .map(|nth| {
                    let (desk, visit, files, pictures, photo) = (&desk, &visit, &files, &pictures, &photo);
                    scope.spawn(move || {
                        let mut random = ChaCha8Rng::seed_from_u64(23 + nth);
                        let told = |what: &str, (status, _, said): (u16, String, String)| {
                            assert!(
                                status < 500 || status == 503 && said.contains("Too much"),
                                "{what}: {status} {said:.300}"
                            );
                        };
                        for _ in 0..siege(5_000) / 4 {
                            let sent = json!({ "svg": drawing(&mut random) }).to_string();
                            told("a drawing", desk.send("POST", "/api/ask/shape", &[], &sent));
                        }
                        for _ in 0..siege(500) / 4 {
                            let mut changed = files.clone();
                            let name = files.keys().nth(random.next_u32() as usize % files.len()).unwrap();
                            changed.insert(name.clone(), torn(&mut random, &files[name]));
                            let mut archive = packed(&changed);
                            if random.next_u32() % 3 == 0 {
                                archive = torn(&mut random, &archive);
                            }
                            told("an archive", desk.send("POST", "/api/benches", &headers(visit), &archive));
                            let nth = random.next_u32() as usize % pictures.len();
                            let picture = torn(&mut random, &pictures[nth]);
                            told("a photo", desk.send("POST", photo, &headers(visit), &picture));
                            told(
                                "a picture",
                                desk.send("POST", "/api/drawer/saw", &headers(visit), &picture),
                            );
                        }
                    })
                })
                .collect();
            besiegers.into_iter().for_each(|besieger| besieger.join().unwrap());
            over.store(true, Ordering::Relaxed);
        });
    });
    let after = desk.memory().saturating_sub(before) >> 20;
    println!("held {held} MB meanwhile and {after} after; another's slowest picture took {slowest:?} ms");
    assert!(held < MEANWHILE && after < AFTER, "{held} MB meanwhile, {after} after");
    assert!(slowest.into_inner() < 3_000, "another visitor waited");
}
