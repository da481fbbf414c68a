//! The command line: questions, schemas, pictures, and what it says when it cannot.

use std::io::Write;
use std::process::{Command, Output, Stdio};

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use serde_json::{Value, json};

fn rosy(arguments: &[&str], input: &str) -> Output {
    let mut program = Command::new(env!("CARGO_BIN_EXE_rosy-veil"))
        .args(arguments)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .expect("the program starts");
    // A program that refuses its arguments does not wait for its input.
    let _ = program.stdin.take().expect("its input is piped").write_all(input.as_bytes());
    program.wait_with_output().expect("the program ends")
}

fn ask(question: &str, asked: &Value) -> Value {
    let output = rosy(&["ask", question], &asked.to_string());
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    serde_json::from_slice(&output.stdout).expect("one JSON document")
}

fn refused(arguments: &[&str], input: &str) -> String {
    let output = rosy(arguments, input);
    assert!(!output.status.success() && output.stdout.is_empty());
    String::from_utf8(output.stderr).expect("a message")
}

fn lab(l: f64, a: f64, b: f64) -> Value {
    json!({ "colour": { "lab": [l, a, b] } })
}

#[test]
fn an_overprint_of_one_swatch_is_the_swatch() {
    let seen = ask(
        "overprint",
        &json!({
            "illuminant": "D50",
            "paper": { "lab": [95.7, 0.6, -2.3] },
            "films": [{ "colour": { "lab": [55.0, 59.5, -4.0] }, "kind": "dye", "amount": 1.0 }],
        }),
    );
    for (found, given) in seen["lab"].as_array().unwrap().iter().zip([55.0, 59.5, -4.0]) {
        assert!((found.as_f64().unwrap() - given).abs() < 0.2, "{seen}");
    }
    assert!(seen["srgb"].as_str().unwrap().starts_with('#') && seen["in_gamut"].is_boolean());
}

#[test]
fn the_best_order_is_never_worse_than_the_one_given() {
    let inks = [lab(66.0, 42.0, 60.0), lab(52.0, -15.0, -42.0), lab(84.0, 4.0, 70.0), lab(56.0, 58.0, -6.0)];
    let seen = ask("order", &json!({ "inks": inks }));
    let mut sequence: Vec<u64> =
        seen["sequence"].as_array().unwrap().iter().filter_map(Value::as_u64).collect();
    assert!(seen["score"].as_f64() <= seen["score_as_given"].as_f64(), "{seen}");
    assert_eq!(seen["junctions"].as_array().unwrap().len(), 3);
    sequence.sort_unstable();
    assert_eq!(sequence, [0, 1, 2, 3]);
}

#[test]
fn cards_trims_and_sheets_are_answered() {
    let card = ask(
        "card",
        &json!({
            "format": { "width": "4 1/4 in", "height": "5 1/2 in", "fold": "side" },
            "layers": [
                { "name": "Mat", "width": "4 1/8 in", "height": "5 3/8 in" },
                { "name": "Panel", "role": "panel", "reveal": "1/16 in" }
            ]
        }),
    );
    assert_eq!(
        (&card["base"]["width"], &card["base"]["scores"][0]["at"]),
        (&json!("8 1/2 in"), &json!("4 1/4 in"))
    );
    assert_eq!(card["layers"][0]["reveal"]["left"], "1/16 in");
    assert_eq!(card["layers"][1]["place"]["width"], "4 in");
    assert_eq!((&card["inked"]["width"], &card["inked"]["height"]), (&json!("4 1/2 in"), &json!("5 3/4 in")));
    let trim = ask(
        "trim",
        &json!({
            "piece": { "width": "112 mm", "height": "154 mm" },
            "finished": { "width": "99 mm", "height": "142 mm" },
            "feature": { "left": "51 mm", "top": "80 mm" },
            "units": "millimetres"
        }),
    );
    assert_eq!(trim["trimmed"]["marks"]["left"], "49.5 mm");
    assert_eq!(
        trim["trimmed"]["waste"],
        json!({ "left": "1.5 mm", "right": "11.5 mm", "top": "9 mm", "bottom": "3 mm" })
    );
    let sheet = ask(
        "sheet",
        &json!({
            "pieces": [
                { "name": "Base", "width": "8 1/2 in", "height": "5 1/2 in", "grain": "down", "count": 8 },
                { "name": "Mat", "width": "4 1/8 in", "height": "5 3/8 in", "count": 12 }
            ],
            "sheets": [{ "name": "Letter", "width": "8 1/2 in", "height": "11 in", "grain": "down", "count": 6 }]
        }),
    );
    assert_eq!((&sheet["full_sheets"], &sheet["exact"]), (&json!(7), &json!(true)));
    assert_eq!(sheet["uses"][0]["to_get"], 1);
}

#[test]
fn questions_that_cannot_be_answered_say_why() {
    for (question, asked, says) in [
        ("weather", "{}", "there is no question"),
        ("junction", "{}", "the list of inks is missing in the question"),
        ("junction", "not json", "not a JSON document"),
        ("order", r#"{"inks":[]}"#, "give 1 to 12"),
        (
            "overprint",
            r#"{"films":[{"colour":{"lab":[150,0,0]}}]}"#,
            "film 1: 150, 0, 0 are the Lab numbers of no surface",
        ),
        ("overprint", r#"{"films":[{"colour":{"lab":[50,0,0]},"amount":-1}]}"#, "amount -1 cannot be laid"),
        ("overprint", r#"{"films":[{"colour":{"srgb":"pink"}}]}"#, "is not a colour"),
        (
            "card",
            r#"{"format":{"width":"4 1/8 in","height":"5 1/2 in"},"layers":[{"name":"mat","width":"4 in","reveal":"1/8 in"}]}"#,
            "a 4 in mat cannot show 1/8 in on both sides on a 4 1/8 in base",
        ),
        ("card", r#"{"format":{"width":"wide"}}"#, "“wide” is not a length"),
        (
            "trim",
            r#"{"piece":{"width":"4 in","height":"5 in"},"finished":{"width":"0 in","height":"5 in"}}"#,
            "the finished width is 0 in",
        ),
        ("sheet", r#"{"pieces":[],"sheets":[]}"#, "nothing to cut"),
    ] {
        let said = refused(&["ask", question], asked);
        assert!(said.contains(says), "{question}: {said}");
    }
}

#[test]
fn every_question_prints_both_schemas() {
    for question in ["overprint", "junction", "order", "panel", "card", "trim", "sheet"] {
        let output = rosy(&["ask", question, "--schema"], "");
        let schemas: Value = serde_json::from_slice(&output.stdout).expect("JSON");
        assert!(schemas["question"]["$schema"].is_string() && schemas["answer"]["$schema"].is_string());
    }
}

#[test]
fn a_rendered_panel_knows_its_size() {
    let folder = std::env::temp_dir().join(format!("rosy-render-{}", std::process::id()));
    std::fs::create_dir_all(&folder).unwrap();
    let file = folder.join("panel.png");
    let file = file.to_str().unwrap();
    let panel = json!({
        "version": 1, "name": "Ebb at six", "width": "4 in", "height": "5 1/4 in",
        "paper": { "name": "White", "colour": { "srgb": "#f6f5f2" }, "thickness": "0.3 mm" },
        "tool": { "name": "Dome" },
        "inks": [{ "name": "Cockle", "colour": { "lab": [57, 56, -4] } }],
        "blend": { "zone": "1/4 in", "fields": [
            { "veils": 5, "starts": "0 in", "full_from": "0 in", "full_to": "2 in", "ends": "5 in" }] },
        "moves": [{ "ink": 0, "purpose": "lay", "round": 1, "veils": [{ "from": "0 in", "to": "3 in" }] }],
    });
    let text = panel.to_string();
    let output = rosy(&["render", "-", "-o", file, "--dpi", "100"], &text);
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    let read = |file: &str| {
        let bytes = std::io::BufReader::new(std::fs::File::open(file).unwrap());
        let mut reader = png::Decoder::new(bytes).read_info().unwrap();
        let mut pixels = vec![0; reader.output_buffer_size().unwrap()];
        reader.next_frame(&mut pixels).unwrap();
        let info = reader.info();
        let dims = info.pixel_dims.expect("a physical size");
        ((info.width, info.height), (dims.xppu, dims.yppu), pixels)
    };
    let (size, per_metre, laid) = read(file);
    assert_eq!((size, per_metre), ((400, 525), (3937, 3937)));
    assert!(rosy(&["render", "-", "-o", file, "--dpi", "100", "--after", "1"], &text).status.success());
    let (_, _, bare) = read(file);
    assert_ne!(laid, bare, "after the first step, the cut, the card is bare");

    assert!(refused(&["render", "-", "-o", file, "--after", "99"], &text).contains("there is no step 99"));
    assert!(refused(&["render", "-", "-o", file, "--dpi", "0"], &text).contains("ask for 5 to 1200"));
    let newer = text.replace("\"version\":1", "\"version\":9");
    assert!(refused(&["render", "-", "-o", file], &newer).contains("newer Rosy Veil"));
    assert!(refused(&["render", "no-such-file.json", "-o", file], "").contains("no-such-file.json"));
    std::fs::remove_dir_all(folder).unwrap();
}

/// A frame is laid, photographed and read; all of it on the command line.
#[test]
fn swatches_are_photographed_and_read() {
    let folder = tempfile::tempdir().unwrap();
    let (inks, photo) = (folder.path().join("inks.json"), folder.path().join("swatches.jpg"));
    let (inks, photo) = (inks.to_str().unwrap(), photo.to_str().unwrap());
    let colours = [[57, 56, -4], [44, -10, 34], [48, -8, -38], [82, 6, 68], [62, 42, 48], [38, 20, -34]];
    let drawer: Vec<Value> = colours
        .iter()
        .enumerate()
        .map(|(n, lab)| json!({ "name": format!("Tide {n}"), "kind": if n == 4 { "oxide" } else { "dye" }, "colour": { "lab": lab } }))
        .collect();
    std::fs::write(inks, json!(drawer).to_string()).unwrap();
    let take = ["photograph", "-o", photo, "--inks", inks, "--seed", "7", "--pixels", "1800", "--well"];
    let output = rosy(&take, "");
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    let bytes = std::fs::read(photo).unwrap();
    let seen = ask("swatch", &json!({ "picture": STANDARD.encode(&bytes), "drawer": drawer }));
    let strips = seen["strips"].as_array().unwrap();
    assert_eq!(strips.len(), 6);
    for (strip, lab) in strips.iter().zip(colours) {
        assert_eq!(strip["name"], format!("Tide {}", strip["place"].as_u64().unwrap() - 1));
        let read = strip["ink"]["colour"].as_array().unwrap();
        let off: f64 =
            read.iter().zip(lab).map(|(read, told)| (read.as_f64().unwrap() - f64::from(told)).powi(2)).sum();
        assert!(off.sqrt() < 18.0, "{strip}");
    }
    assert_eq!(strips[4]["kind"], "oxide");
    // The same, from what is known now of the phone; in the browser it is asked for under the same name.
    let again =
        ask("swatch", &json!({ "picture": STANDARD.encode(&bytes), "drawer": [], "phone": seen["phone"] }));
    assert_eq!(again["strips"][0]["letters"], seen["strips"][0]["letters"]);

    let says = |asked: Value| refused(&["ask", "swatch"], &asked.to_string());
    assert!(says(json!({})).contains("give the photo in base64"));
    assert!(says(json!({ "picture": "%%%" })).contains("no base64"));
    assert!(says(json!({ "picture": STANDARD.encode("none") })).contains("no photo that can be read"));
    let half = STANDARD.encode(&bytes[..bytes.len() / 2]);
    assert!(says(json!({ "picture": half })).contains("ends in the middle"));
    let asked = |more: Value| {
        let mut asked = json!({ "picture": STANDARD.encode(&bytes) });
        asked.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        says(asked)
    };
    assert!(asked(json!({ "inks": [{ "place": 25, "name": "Far" }] })).contains("places 1 to 24"));
    assert!(asked(json!({ "chart": { "corners": [[0, 0], [1, 0], [0, 1], [1, 1]], "columns": 3, "colours": [{ "lab": [50, 0, 0] }, { "lab": [60, 0, 0] }] } })).contains("whole rows"));
    assert!(asked(json!({ "shown": { "card": [], "patches": [], "reach": 1 } })).contains("give 3 to 500"));
    assert!(asked(json!({ "shown": { "card": [], "patches": [], "reach": 9 } })).contains("no bare card"));
    let patch = json!({ "ink": "Kelp", "part": "end", "at": [5, 5] });
    assert!(
        asked(json!({ "shown": { "card": [], "patches": [patch], "reach": 9 } }))
            .contains("one, two, four or full")
    );
    assert!(asked(json!({ "corners": [[0, 0], [1e300, 0], [0, 1], [1, 1]] })).contains("flat page"));
    let long = " ".repeat((34 << 20) + 10);
    assert!(refused(&["ask", "swatch"], &long).contains("more than 34 MB"));
    assert!(refused(&["photograph", "-o", photo, "--pixels", "90"], "").contains("600 to 4000"));
    let many = json!(
        (0..25)
            .map(|n| json!({ "name": format!("Ink {n}"), "colour": { "lab": [50, 0, n] } }))
            .collect::<Vec<_>>()
    );
    assert!(
        refused(&["photograph", "-o", photo, "--inks", "-"], &many.to_string())
            .contains("a frame has 24 places")
    );
}

#[test]
fn a_reader_that_has_had_enough_is_no_failure_and_limits_are_named() {
    for arguments in [&["ask", "panel", "--schema"][..], &["schema"]] {
        let mut program = Command::new(env!("CARGO_BIN_EXE_rosy-veil"))
            .args(arguments)
            .stdin(Stdio::null())
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .unwrap();
        drop(program.stdout.take());
        let ended = program.wait_with_output().unwrap();
        assert!(
            ended.status.success() && ended.stderr.is_empty(),
            "{}",
            String::from_utf8_lossy(&ended.stderr)
        );
    }
    let long = " ".repeat((4 << 20) + 10);
    assert!(refused(&["ask", "order"], &long).contains("more than 4 MB"));
    assert!(refused(&["render", "-", "-o", "/dev/null"], &long[..(2 << 20) + 10]).contains("more than 2 MB"));
}

#[test]
fn serving_without_a_database_says_what_to_do() {
    let output = Command::new(env!("CARGO_BIN_EXE_rosy-veil"))
        .arg("serve")
        .env_remove("DATABASE_URL")
        .output()
        .unwrap();
    assert!(String::from_utf8_lossy(&output.stderr).contains("set DATABASE_URL"));
}

const EBB: &str = include_str!("../../core/tests/version_1/ebb_down.json");

/// A panel is laid with something wrong, photographed, and held against its plan.
#[test]
fn a_panel_is_photographed_and_held_against_its_plan() {
    let folder = tempfile::tempdir().unwrap();
    let (file, photo) = (folder.path().join("panel.json"), folder.path().join("panel.jpg"));
    let (file, photo) = (file.to_str().unwrap(), photo.to_str().unwrap());
    let panel: Value = serde_json::from_str(EBB).unwrap();
    std::fs::write(file, EBB).unwrap();
    let take = [
        "photograph",
        "-o",
        photo,
        "--panel",
        file,
        "--seed",
        "3",
        "--pixels",
        "1600",
        "--well",
        "--wrong",
        "touch",
    ];
    let output = rosy(&take, "");
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    let bytes = STANDARD.encode(std::fs::read(photo).unwrap());
    let seen = ask("inspect", &json!({ "picture": bytes, "panel": panel }));
    // It has no border: amounts are not told, and that is said.
    assert_eq!((&seen["by"], &seen["strengths"], &seen["zones"]), (&json!("plan"), &json!([]), &json!([])));
    assert!(seen["left_out"].as_str().unwrap().contains("bare card is not seen all about it"));
    let touch =
        seen["findings"].as_array().unwrap().iter().find(|finding| finding["kind"] == "touch").unwrap();
    assert!(touch["says"].as_str().unwrap().contains("first touch") && touch["now"].is_string());
    // Its corners shown by hand are its corners.
    let shown = ask("inspect", &json!({ "picture": bytes, "panel": panel, "corners": seen["corners"] }));
    let number = |value: &Value| value.as_f64().unwrap();
    for (one, other) in seen["corners"].as_array().unwrap().iter().zip(shown["corners"].as_array().unwrap()) {
        assert!((number(&one[0]) - number(&other[0])).hypot(number(&one[1]) - number(&other[1])) < 1.0);
    }

    let says = |more: Value| {
        let mut asked = json!({ "picture": bytes, "panel": panel });
        asked.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        refused(&["ask", "inspect"], &asked.to_string())
    };
    assert!(says(json!({ "picture": "" })).contains("give the photo in base64"));
    assert!(says(json!({ "moves": 900 })).contains("900 are made, and the panel has"));
    assert!(says(json!({ "moves": 0 })).contains("nothing has been laid"));
    assert!(says(json!({ "corners": [[0, 0], [1, 0], [2, 0], [3, 0]] })).contains("not the four corners"));
    let wrong =
        |more: &[&str]| refused(&[&["photograph", "-o", photo, "--panel", file][..], more].concat(), "");
    assert!(wrong(&["--wrong", "halo"]).contains("no place where that could go wrong"));
    assert!(wrong(&["--wrong", "smell"]).contains("give one of strong, line"));
    assert!(wrong(&["--moves", "900"]).contains("the panel has"));
    assert!(wrong(&["--stronger", "900"]).contains("-60 to 100"));
}

/// A strip to practise on is planned, laid with a mask that did not hold, photographed and scored.
#[test]
fn a_strip_is_planned_photographed_and_scored() {
    let folder = tempfile::tempdir().unwrap();
    let (file, photo) = (folder.path().join("strip.json"), folder.path().join("strip.jpg"));
    let (file, photo) = (file.to_str().unwrap(), photo.to_str().unwrap());
    let slack =
        json!({ "name": "Slack", "kind": "dye", "colour": { "lab": [52.0, -20.0, -32.0] }, "full_veils": 7 });
    let planned = ask("strip", &json!({ "drill": "edge", "inks": [slack], "units": "millimetres" }));
    assert!(planned["sheet"]["steps"].as_array().unwrap().len() > 4);
    let strip = &planned["strip"];
    assert_eq!(strip["practice"], "edge");
    std::fs::write(file, strip.to_string()).unwrap();
    let score = |wrong: &[&str]| {
        let take = ["photograph", "-o", photo, "--panel", file, "--seed", "5", "--pixels", "1400", "--well"];
        let output = rosy(&[&take[..], wrong].concat(), "");
        assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
        let bytes = STANDARD.encode(std::fs::read(photo).unwrap());
        ask("drill", &json!({ "picture": bytes, "strip": strip, "units": "millimetres" }))
    };
    let (well, badly) = (score(&[]), score(&["--wrong", "bleed"]));
    assert!(well["score"].as_u64() > badly["score"].as_u64(), "{} {}", well["figures"], badly["figures"]);
    assert_eq!(badly["figures"][0]["of"], "a clean line");
    assert!(badly["figures"][0]["next"].as_str().unwrap().contains("bone folder"));

    let says = |question: &str, asked: Value| refused(&["ask", question], &asked.to_string());
    assert!(
        says("strip", json!({ "drill": "join", "inks": [slack] })).contains("takes two inks, and 1 is given")
    );
    let bytes = STANDARD.encode(std::fs::read(photo).unwrap());
    let panel: Value = serde_json::from_str(EBB).unwrap();
    assert!(says("drill", json!({ "picture": bytes, "strip": panel })).contains("no strip to practise on"));
}

#[test]
fn what_panels_showed_is_a_hand_and_a_drawer_is_told_what_it_lacks() {
    let showing = |n: u32, share: f64| {
        json!({
            "panel": format!("Panel {n}"), "tool": "Soft dome", "card": "Slack Water",
            "strength": { "share": share, "within": 1.2 }, "unevenness": 1.1,
        })
    };
    let showings: Vec<Value> = (0..8).map(|n| showing(n, 1.25)).collect();
    let seen = ask("hand", &json!({ "showings": showings }));
    let strength = &seen["hands"][0]["strength"];
    assert!((strength["share"].as_f64().unwrap() - 1.25).abs() < 0.05, "{strength}");
    assert!(seen["hands"][0]["says"].as_str().unwrap().contains("A light pass of yours lays"));
    let asked = json!({ "showings": [showing(1, -1.0)] }).to_string();
    assert!(refused(&["ask", "hand"], &asked).contains("showing 1"));

    // An orange and a blue go to mud.
    let drawer = json!([lab(65.0, 45.0, 60.0), lab(45.0, 0.0, -45.0)]);
    let seen = ask("lacks", &json!({ "drawer": drawer, "most": 2 }));
    assert_eq!((&seen["muddy"], &seen["lacks"][0]["mends"]), (&json!(1), &json!([[0, 1]])));
    assert!(seen["lacks"][0]["reaches"].as_u64() > Some(0) && seen["lacks"][0]["family"].is_string());
    assert!(refused(&["ask", "lacks"], &json!({ "drawer": [] }).to_string()).contains("give 1 to 300"));
}
