//! In a real browser: a strip to practise on is chosen, planned, printed, shown and scored, and the next one follows from that; what the
//! drawer lacks is found.

use crate::desk::{Browser, Desk, Visit, photograph_panel};
use fantoccini::key::Key;
use serde_json::Value;

#[tokio::test(flavor = "multi_thread")]
async fn a_strip_is_practised_by_keyboard_shown_and_scored_and_the_next_one_follows() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/").await;
    browser
        .run("[...document.links].find((a) => a.textContent === 'Practise on a scrap of card').click()")
        .await;
    browser.until_says("h1", "Practice").await;
    browser.until_says(".drills .is-next", "Next: An even ladder").await;
    browser.until_says(".drills .is-next", "Not tried yet.").await;
    let enter = char::from(Key::Enter).to_string();
    browser.find(".drills .is-next button").await.send_keys(&enter).await.unwrap();
    browser.until("its run sheet", "location.pathname.endsWith('/sheet')").await;
    browser.until("steps", "document.querySelectorAll('.step').length > 4").await;
    let path = browser.run("return location.pathname").await;
    let id = path.as_str().unwrap().split('/').nth(2).unwrap().to_owned();
    let visit = Visit::new(&desk);
    let lines = desk.fetch(&format!("/panels/{id}/strip.pdf?paper=a4"), &visit.cookie);
    assert!(lines.starts_with(b"%PDF") && lines.len() > 2_000);
    let panel = desk.fetch(&format!("/panels/{id}/panel.json"), &visit.cookie);
    let planned: Value = serde_json::from_slice(&panel).unwrap();
    assert_eq!(planned["practice"], "ladder");
    let photo = photograph_panel("ladder", &panel, &["--phone", "3"]);
    browser.run("[...document.links].find((a) => a.textContent === 'Show it').click()").await;
    browser.until_says("h1", "Practice: an even ladder").await;
    browser.find("input[type=file]").await.send_keys(photo.to_str().unwrap()).await.unwrap();
    browser.until("its score", "document.querySelector('[data-score]')?.offsetParent !== null").await;
    browser.until_says("[data-score]", "even steps").await;
    let score = browser.text("[data-score] strong").await;
    assert!(score.parse::<u8>().unwrap() >= 50, "{score}");
    // Nothing was laid too strong that a phone could tell, and that is said where her hand is.
    browser.run("[...document.links].find((a) => a.textContent === 'What to practise next').click()").await;
    browser.until_says("h1", "Practice").await;
    browser.until_says(".drills .is-next", "Next: A fade to nothing").await;
    browser.until_says(".drills", &format!("{score} of 100 last time")).await;
    browser.go(&desk, "/made").await;
    browser.until_says("#hands", "cannot be told yet").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_the_drawer_lacks_is_told_with_what_each_colour_would_open() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/drawer/search").await;
    browser.run("[...document.querySelectorAll('.button')].find((b) => b.textContent === 'Find what would help most').click()").await;
    browser.until("colours", "document.querySelectorAll('#lacks li').length > 0").await;
    let says = browser.text("#lacks").await;
    assert!(says.contains("Look for it among the"), "{says}");
    browser.close().await;
}
