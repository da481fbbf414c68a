//! What was made in photos, and a whole bench out and in: nothing is lost on the way, and nothing hostile comes in.

mod desk;

use std::io::{Cursor, Write};

use desk::{Desk, Files, Visit, packed, unpacked};
use image::{DynamicImage, ImageFormat, Rgb, RgbImage};
use serde_json::Value;
use zip::ZipWriter;
use zip::write::SimpleFileOptions;

fn photo(wide: u32, high: u32) -> Vec<u8> {
    let seen =
        RgbImage::from_fn(wide, high, |x, y| Rgb([(x % 251) as u8, (y % 241) as u8, ((x + y) % 97) as u8]));
    let mut bytes = Cursor::new(Vec::new());
    DynamicImage::ImageRgb8(seen).write_to(&mut bytes, ImageFormat::Jpeg).expect("a photo");
    bytes.into_inner()
}

/// What of an archive is read again, but for its photos, which are written anew.
fn kept(files: &Files) -> Vec<(&String, &Vec<u8>)> {
    files.iter().filter(|(name, _)| name.ends_with(".json")).collect()
}

/// How far two photos are apart on average, in steps of 255.
fn apart(one: &[u8], other: &[u8]) -> f64 {
    let [one, other] = [one, other].map(|bytes| image::load_from_memory(bytes).expect("a photo").to_rgb8());
    assert_eq!(one.dimensions(), other.dimensions());
    let steps = one.iter().zip(other.iter()).map(|(a, b)| f64::from(a.abs_diff(*b)));
    steps.sum::<f64>() / one.len() as f64
}

fn headers(visit: &Visit) -> [(&str, &str); 2] {
    [("Cookie", visit.cookie.as_str()), ("X-Rosy-Token", visit.token.as_str())]
}

fn made(desk: &Desk, visit: &Visit) -> String {
    let (_, _, page) = desk.send("GET", "/made", &headers(visit), "");
    let at = page.find("href=\"/made/").expect("a record") + 12;
    page[at..at + 36].to_owned()
}

fn says(body: &str) -> String {
    let said: Value = serde_json::from_str(body).unwrap_or_else(|_| panic!("{body}"));
    said["detail"].as_str().unwrap_or_default().to_owned()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_whole_bench_goes_out_and_comes_in_on_another_machine_and_everything_is_equal() {
    let desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let one = made(&desk, &visit);
    let (status, _, said) =
        desk.send("POST", &format!("/api/made/{one}/photo"), &headers(&visit), &photo(300, 200));
    assert_eq!(status, 200, "{said}");
    // Something to be undone, and something undone.
    for path in
        [format!("/panels/{}/copy", visit.panel), format!("/panels/{}/copy", visit.panel), "/undo".into()]
    {
        let (status, ..) = desk.send("POST", &path, &headers(&visit), &visit.form(""));
        assert_eq!(status, 303, "{path}");
    }
    let archive = desk.fetch("/benches/bench.zip", &visit.cookie);
    let files = unpacked(&archive);
    for name in [
        "bench.json",
        "changes.json",
        "things/ink.json",
        "things/panel.json",
        "things/evening.json",
        "things/made.json",
        "inks.csv",
        "made.csv",
    ] {
        assert!(files.contains_key(name), "{name} of {:?}", files.keys());
    }
    assert!(files.keys().any(|name| name.starts_with("photos/")));
    assert!(files.keys().filter(|name| name.starts_with("pictures/")).count() >= 20);

    let other = Desk::new(false).await;
    let there = Visit::new(&other);
    let (status, head, said) = other.send("POST", "/api/benches", &headers(&there), &archive);
    assert_eq!(status, 200, "{said}");
    let brought = Visit::at(&other, &desk::cookie_of(&head).expect("the new bench is opened"));
    let again = unpacked(&other.fetch("/benches/bench.zip", &brought.cookie));
    assert_eq!(kept(&files), kept(&again));
    let photos = |files: &Files| -> Files {
        files.clone().into_iter().filter(|(name, _)| name.starts_with("photos/")).collect()
    };
    let (before, after) = (photos(&files), photos(&again));
    assert!(!before.is_empty() && before.keys().eq(after.keys()));
    for (name, photo) in before {
        assert!(apart(&photo, &after[&name]) < 1.0, "{name}: {}", apart(&photo, &after[&name]));
    }
    let (status, _, page) = other.send("GET", &format!("/made/{one}"), &headers(&brought), "");
    assert!(status == 200 && page.contains("as it came out"));
    // What was undone can be done again, and undone once more.
    for path in ["/redo", "/undo", "/undo"] {
        assert_eq!(other.send("POST", path, &headers(&brought), &brought.form("")).0, 303, "{path}");
    }

    // Brought in beside itself, all of it gets numbers of its own, and the two stay apart.
    let (status, head, said) = other.send("POST", "/api/benches", &headers(&brought), &archive);
    assert_eq!(status, 200, "{said}");
    let beside = Visit::at(&other, &desk::cookie_of(&head).expect("the new bench is opened"));
    let twin = unpacked(&other.fetch("/benches/bench.zip", &beside.cookie));
    let count =
        |files: &Files, name: &str| serde_json::from_slice::<Vec<Value>>(&files[name]).map(|rows| rows.len());
    for name in files.keys().filter(|name| name.starts_with("things/")) {
        assert_eq!(count(&files, name).ok(), count(&twin, name).ok(), "{name}");
    }
    assert!(twin.keys().any(|name| name.starts_with("photos/") && !files.contains_key(name)));
    let photographed = made(&other, &beside);
    assert_ne!(photographed, one);
    let (_, _, page) = other.send("GET", &format!("/made/{photographed}"), &headers(&beside), "");
    let at = page.find("/made/photos/").expect("its photo came along");
    assert_eq!(other.send("GET", &page[at..at + 53], &headers(&beside), "").0, 200);
    assert_eq!(other.send("POST", "/redo", &headers(&beside), &beside.form("")).0, 303);
    // The photo of one bench is nothing of another's.
    assert_eq!(other.send("GET", &page[at..at + 53], &headers(&there), "").0, 404);
}

#[tokio::test(flavor = "multi_thread")]
async fn an_archive_that_is_none_or_is_hostile_changes_nothing() {
    let desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let archive = desk.fetch("/benches/bench.zip", &visit.cookie);
    let files = unpacked(&archive);
    let with = |name: &str, body: &[u8]| {
        let mut changed = files.clone();
        changed.insert(name.into(), body.to_vec());
        packed(&changed)
    };
    let panels = String::from_utf8(files["things/panel.json"].clone()).expect("text");
    let tools = String::from_utf8(files["things/tool.json"].clone()).expect("text");
    let evenings = String::from_utf8(files["things/evening.json"].clone()).expect("text");
    let cases: Vec<(Vec<u8>, &str)> = vec![
        (b"not a zip".to_vec(), "no ZIP file"),
        (archive[..archive.len() / 2].to_vec(), "no ZIP file"),
        (packed(&Files::from([("hello.txt".to_owned(), b"hello".to_vec())])), "no bench of Rosy Veil"),
        (with("bench.json", br#"{"format":"rosy-veil bench","version":9,"name":"Later","units":"inches"}"#), "later Rosy Veil"),
        (with("bench.json", br#"{"format":"rosy-veil bench","version":1,"name":"","units":"inches"}"#), "no bench of Rosy Veil"),
        (with("things/ink.json", b"[{]"), "things/ink.json"),
        (with("things/spells.json", br#"[{"id":"01a217ac-c74c-71d5-8e71-b1ccda0da9e3","kind":"spells","revision":1,"changed_at":"2026-01-01T00:00:00Z","body":{}}]"#), "no bench keeps such things"),
        (with("things/panel.json", panels.replacen("\"height\":\"", "\"height\":\"9", 1).as_bytes()), "things/panel.json"),
        (with("things/evening.json", evenings.replacen("\"card\":0", "\"card\":99", 1).as_bytes()), "things/evening.json"),
        (with("things/tool.json", tools.replacen("\"count\":2", "\"count\":200", 1).as_bytes()), "things/tool.json"),
        (with("photos/01a217ac-c74c-71d5-8e71-b1ccda0da9e3.jpg", b"<script>alert(1)</script>"), "no photo"),
        (with("photos/../../etc.jpg", &photo(20, 20)), "no number"),
    ];
    let (_, _, before) = desk.send("GET", "/benches", &headers(&visit), "");
    for (body, part) in cases {
        let (status, _, said) = desk.send("POST", "/api/benches", &headers(&visit), &body);
        assert_eq!(status, 422, "{part}: {said:.300}");
        assert!(says(&said).contains(part), "{part}: {said:.300}");
    }
    let stranger =
        [("Cookie", visit.cookie.as_str()), ("X-Rosy-Token", "guess.01a217acc74c71d58e71b1ccda0da9e3")];
    assert_eq!(desk.send("POST", "/api/benches", &stranger, &archive).0, 403);
    // A little file that swells to a gigabyte is left where it is.
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    for name in ["bench.json", "changes.json"] {
        zip.start_file(name, SimpleFileOptions::default()).expect("a file");
        zip.write_all(&files[name]).expect("it can be written");
    }
    zip.start_file("things/ink.json", SimpleFileOptions::default()).expect("a file");
    let blank = vec![b' '; 1 << 20];
    (0..600).for_each(|_| zip.write_all(&blank).expect("it can be written"));
    let bomb = zip.finish().expect("an archive").into_inner();
    assert!(bomb.len() < 4 << 20);
    let (status, _, said) = desk.send("POST", "/api/benches", &headers(&visit), &bomb);
    assert!(status == 422 && says(&said).contains("16 MB"), "{said}");
    let (_, _, after) = desk.send("GET", "/benches", &headers(&visit), "");
    assert_eq!(before.matches("<li>").count(), after.matches("<li>").count(), "no bench came of it");
    // A change that cannot be undone is left out; the rest comes in.
    let hex = br#"[{"scope":"bench","label":"hex","things":[{"id":"01a217ac-c74c-71d5-8e71-b1ccda0da9e3","kind":"ink","before":null,"after":{"spell":1}}],"undone":true,"made_at":"2026-01-01T00:00:00Z"}]"#;
    let (status, head, said) =
        desk.send("POST", "/api/benches", &headers(&visit), &with("changes.json", hex));
    assert_eq!(status, 200, "{said:.300}");
    let brought = desk::cookie_of(&head).expect("the new bench is opened");
    let again = unpacked(&desk.fetch("/benches/bench.zip", &brought));
    assert_eq!(again["changes.json"], b"[]\n");
    assert_eq!(desk.log(), "", "nothing broke");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_photo_is_its_owners_alone_and_undo_brings_back_the_one_before() {
    let mut desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let one = made(&desk, &visit);
    let address = format!("/api/made/{one}/photo");
    let shown = |desk: &Desk| {
        let (_, _, page) = desk.send("GET", &format!("/made/{one}"), &headers(&visit), "");
        page.find("/made/photos/").map(|at| page[at..at + 53].to_owned())
    };
    assert_eq!(shown(&desk), None);
    let large = photo(5_472, 3_648);
    let (status, _, said) = desk.send("POST", &address, &headers(&visit), &large);
    assert_eq!(status, 200, "20 million pixels: {said}");
    let first = shown(&desk).expect("a photo");
    let body = desk.fetch(&first, &visit.cookie);
    let seen = image::load_from_memory(&body).expect("a photo");
    assert!(seen.width() == 1_600 && body.len() < large.len() / 4);
    assert_eq!(desk.send("POST", &address, &headers(&visit), &photo(60, 40)).0, 200);
    assert_ne!(shown(&desk).as_ref(), Some(&first));
    // What was answered is there after the program was killed.
    desk.kill();
    desk.start_again();
    assert_eq!(desk.send("POST", "/undo", &headers(&visit), &visit.form("")).0, 303);
    assert_eq!(shown(&desk).as_ref(), Some(&first));
    assert_eq!(desk.send("POST", &format!("/made/{one}/no-photo"), &headers(&visit), &visit.form("")).0, 303);
    assert_eq!(shown(&desk), None);
    for (body, part) in [(&b"<svg/>"[..], "JPEG, PNG"), (&large[..large.len() / 2], "ends in the middle")] {
        let (status, _, said) = desk.send("POST", &address, &headers(&visit), body);
        assert!(status == 422 && says(&said).contains(part), "{said}");
    }
    let (status, _, said) = desk.send("POST", &address, &headers(&visit), &vec![0; 25 << 20]);
    assert_eq!(status, 413, "{said}");
    // Another bench has nothing to do with it.
    let (_, head, _) =
        desk.send("POST", "/benches", &headers(&visit), &visit.form("name=Flag+stewards&units=inches"));
    let other = Visit::at(&desk, &desk::cookie_of(&head).expect("the session moves on"));
    assert_eq!(desk.send("GET", &first, &headers(&other), "").0, 404);
    assert_eq!(desk.send("POST", &address, &headers(&other), &photo(20, 20)).0, 404);
    let guess = [("Cookie", visit.cookie.as_str())];
    assert_eq!(desk.send("POST", &address, &guess, &photo(20, 20)).0, 403);
}
