//! In a real browser: a panel with a hard mark is shown, its findings stand at their places, the rest is planned from what lies there
//! and taken back; by keyboard, and with the program stopped while a photo is on its way.

use std::path::Path;

use crate::desk::{Browser, Desk, Visit, photograph, photograph_panel};
use fantoccini::key::Key;
use serde_json::{Value, json};

async fn bring(browser: &Browser, photo: &Path) {
    browser.find("input[type=file]").await.send_keys(photo.to_str().unwrap()).await.unwrap();
}

async fn press(browser: &Browser, button: &str) {
    let script = format!(
        "[...document.querySelectorAll('.button')].find((b) => b.textContent === '{button}').click()"
    );
    browser.run(&script).await;
}

/// A panel of the demo with a white border, brought as a file.
fn framed(desk: &Desk, visit: &Visit, id: &str) -> String {
    let file = desk.fetch(&format!("/panels/{id}/panel.json"), &visit.cookie);
    let mut panel: Value = serde_json::from_slice(&file).expect("a panel");
    panel["name"] = json!("Ebb framed");
    for edge in ["left", "right", "top", "bottom"] {
        panel["card"]["tape"]["border"][edge] = json!("1/4 in");
    }
    let headers = [("Cookie", visit.cookie.as_str()), ("X-Rosy-Token", visit.token.as_str())];
    let (status, _, said) = desk.send("POST", "/api/panels", &headers, &panel.to_string());
    assert_eq!(status, 201, "{said}");
    let id =
        serde_json::from_str::<Value>(&said).expect("its number")["id"].as_str().expect("one").to_owned();
    // It is laid anew, with its tape.
    let school = json!({ "blend": { "blend": 0, "change": { "school": "dark-to-light" } } });
    let edit = json!({ "revision": 1, "mark": "01a2330e-fbb2-7764-9bf5-bd84c51c6600", "edit": school });
    let (status, _, said) = desk.send("PUT", &format!("/api/panels/{id}/edit"), &headers, &edit.to_string());
    assert_eq!(status, 200, "{said}");
    id
}

/// Has the program learn what the phone does, from a frame of the inks that the drawer has.
async fn learn_the_phone(browser: &Browser, desk: &Desk, visit: &Visit) {
    let inks: Value = serde_json::from_slice(&desk.fetch("/drawer/inks.json", &visit.cookie)).expect("inks");
    let inks: Vec<Value> = inks.as_array().expect("a list").iter().take(24).cloned().collect();
    browser.go(desk, "/drawer/swatches").await;
    bring(browser, &photograph("known", &json!(inks), &["--phone", "7"])).await;
    browser.until("its rows", "document.querySelectorAll('.swatch-row').length > 12").await;
    browser.click("section .button.strong").await;
    browser.until("the drawer", "location.pathname === '/drawer'").await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_panel_is_shown_and_the_rest_is_planned_from_what_lies_there() {
    let mut desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    let visit = Visit::new(&desk);
    learn_the_phone(&browser, &desk, &visit).await;
    let other = format!("/panels/{}/panel.json", browser.panel(&desk, "Kites after dark").await);
    let id = framed(&desk, &visit, &id);
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    browser.until("steps", "document.querySelectorAll('.step').length > 5").await;
    // All of it has been done, by a light hand.
    browser.run("[...document.querySelectorAll('.step .tick[role=checkbox]')].at(-1).click()").await;
    browser.until("all done", "document.body.textContent.includes('All done.')").await;
    browser.until("kept", "document.querySelector('.status').textContent === 'kept'").await;
    let steps = browser.run("return document.querySelectorAll('.step').length").await;
    let file = format!("/panels/{id}/panel.json");
    let panel = desk.fetch(&file, &visit.cookie);
    let photo = photograph_panel("light", &panel, &["--phone", "7", "--stronger", "-35", "--wrong", "touch"]);
    browser.run("[...document.links].find((a) => a.textContent === 'Show it').click()").await;
    browser.until_says("h1", "Ebb framed, shown").await;
    desk.kill();
    bring(&browser, &photo).await;
    browser.until_says("[role=alert]", "The photo is still here").await;
    desk.start_again();
    press(&browser, "Send it again").await;
    browser.until("findings", "document.querySelectorAll('.finding').length > 0").await;
    browser.until_says("[data-says]", "not as planned").await;
    let findings = browser.text("section[aria-label='What is not as planned'] ol").await;
    assert!(findings.contains("first touch") && findings.contains("weaker than planned"), "{findings}");
    // The photo is kept: it is there when the page is opened again, and read anew.
    browser.go(&desk, &format!("/panels/{id}/shown")).await;
    browser.until("findings again", "document.querySelectorAll('.finding').length > 0").await;
    assert_eq!(browser.text("section[aria-label='What is not as planned'] ol").await, findings);
    // A number stands at its place, which is shown by keyboard.
    let numbers = browser.run("return document.querySelectorAll('.photo svg text').length").await;
    assert!(numbers.as_u64().unwrap() > 0);
    browser.run("document.querySelector('.finding').focus()").await;
    browser.until("its place", "document.querySelector('.photo svg .meant') !== null").await;
    // The plan is drawn over the photo as far as the slider says.
    let right: String = [char::from(Key::Right); 4].iter().collect();
    browser.find("[data-over]").await.send_keys(&right).await.unwrap();
    let clipped = "getComputedStyle(document.querySelector('.photo img')).clipPath.includes('96%')";
    browser.until("the plan over it", clipped).await;
    // What came short is laid from there: one change, which is taken back as one.
    browser.until("a remedy", "document.querySelector('[data-remedy]').offsetParent !== null").await;
    browser.find("[data-remedy]").await.send_keys(&char::from(Key::Enter).to_string()).await.unwrap();
    browser.until("the run sheet", "location.pathname.endsWith('/sheet')").await;
    let moves = |file: &[u8]| serde_json::from_slice::<Value>(file).unwrap()["moves"].clone();
    assert_ne!(moves(&desk.fetch(&file, &visit.cookie)), moves(&panel));
    browser.until("steps", "document.querySelectorAll('.step').length > 5").await;
    browser.click("[data-undo]").await;
    browser.until("as before", &format!("document.querySelectorAll('.step').length === {steps}")).await;
    assert_eq!(moves(&desk.fetch(&file, &visit.cookie)), moves(&panel));
    // What it showed of her hand is remembered; taken over, what is not begun is planned with it, and undone it is the guide's again.
    browser.go(&desk, "/made").await;
    let hand = "#hands";
    browser.until_says(hand, "A light pass of yours lays").await;
    let is_planned = || {
        let panels: Value = serde_json::from_slice(&desk.fetch(&other, &visit.cookie)).expect("a panel");
        panels.get("hands").is_some()
    };
    assert!(!is_planned());
    browser
        .find(&format!("{hand} button"))
        .await
        .send_keys(&char::from(Key::Enter).to_string())
        .await
        .unwrap();
    browser.until_says(hand, "Now planned with").await;
    assert!(is_planned());
    let back = format!(
        "[...document.querySelectorAll(\"{hand} button\")].find((b) => b.textContent.startsWith('Back')).click()"
    );
    browser.run(&back).await;
    browser
        .until(
            "the guide's",
            &format!("!document.querySelector(\"{hand}\").textContent.includes('Now planned with')"),
        )
        .await;
    assert!(!is_planned());
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn corners_are_moved_by_keyboard_on_a_phone() {
    let desk = Desk::new(true).await;
    let browser = Browser::phone().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    let panel = desk.fetch(&format!("/panels/{id}/panel.json"), &Visit::new(&desk).cookie);
    let photo = photograph_panel("plain", &panel, &[]);
    browser.go(&desk, &format!("/panels/{id}/shown")).await;
    bring(&browser, &photo).await;
    browser.until("read", "document.querySelector('section[aria-label]').offsetParent !== null").await;
    browser.until_says("section[aria-label]", "bare card is not seen all about it").await;
    press(&browser, "Show the corners").await;
    browser.until("four corners", "document.querySelectorAll('[data-corner]').length === 4").await;
    let corner = "return document.querySelector(\"[data-corner='0']\").style.left";
    let before = browser.run(corner).await;
    browser.find("[data-corner='0']").await.send_keys(&char::from(Key::Right).to_string()).await.unwrap();
    browser.until("it is read again", "document.querySelector('progress').offsetParent === null").await;
    assert_ne!(browser.run(corner).await, before);
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_record_is_held_against_its_plan_by_its_own_photo_and_a_card_is_shown_at_the_bench() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/made").await;
    browser.click(".made-cards a:has(img[src*='photos'])").await;
    browser.until_says("h1", "Ebb at six").await;
    let show = "[...document.links].find((a) => a.pathname.endsWith('/shown') && a.offsetParent)";
    browser.run(&format!("{show}.click()")).await;
    browser.until_says("h1", "Ebb at six, shown").await;
    browser.until("findings", "document.querySelectorAll('.finding').length > 1").await;
    let findings = browser.text("section[aria-label='What is not as planned'] ol").await;
    assert!(findings.contains("A line") && findings.contains("first touch"), "{findings}");
    // At the bench, after the step that was done last.
    browser.go(&desk, "/evenings").await;
    browser.click(".evenings a").await;
    browser.until("the evening", "/^.evenings.[0-9a-f-]+$/.test(location.pathname)").await;
    let path = browser.run("return location.pathname").await.as_str().unwrap().to_owned();
    browser.go(&desk, &format!("{path}/bench")).await;
    browser.until("a way to show it", &format!("Boolean({show})")).await;
    browser.run(&format!("{show}.click()")).await;
    browser.until_says("h1", ", shown").await;
    browser.until_says("main", "Bring the photo").await;
    let file = browser.run("return document.querySelector('select[aria-label]').value").await;
    assert!(file.as_str().is_some_and(|moves| moves.parse::<usize>().is_ok_and(|moves| moves > 0)), "{file}");
    browser.close().await;
}
