//! In a real browser: a drawer of twelve from one photo and a blend of them; corners moved by keyboard; the program stopped while
//! a photo is on its way.

use std::path::{Path, PathBuf};

use crate::desk::{Browser, Desk, photograph, scratch};
use fantoccini::key::Key;
use serde_json::json;

/// A photo of a frame of these inks.
fn photo_of(name: &str, inks: &[(&str, [i32; 3])], more: &[&str]) -> PathBuf {
    let inks: Vec<_> =
        inks.iter().map(|(name, lab)| json!({ "name": name, "colour": { "lab": lab } })).collect();
    photograph(name, &json!(inks), more)
}

#[rustfmt::skip]
const TWELVE: [(&str, [i32; 3]); 12] = [
    ("Cockle", [57, 56, -4]),
    ("Ebb Blue", [48, -8, -38]),
    ("Gorse Bank", [82, 6, 68]),
    ("Low Sun", [66, 40, 56]),
    ("Kelp", [44, -10, 34]),
    ("Mussel", [36, 20, -34]),
    ("Glasswort", [58, -34, 30]),
    ("Flag Red", [46, 58, 34]),
    ("Rain", [60, -6, -12]),
    ("Sand", [78, 8, 26]),
    ("Night", [28, 6, -26]),
    ("Shell", [80, 18, 6]),
];

async fn bring(browser: &Browser, photo: &Path) {
    browser.find("input[type=file]").await.send_keys(photo.to_str().unwrap()).await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_drawer_of_twelve_from_one_photo_and_a_blend_of_them() {
    let desk = Desk::new(false).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/drawer").await;
    browser
        .run("[...document.links].find((a) => a.textContent === 'Read swatches from a photo').click()")
        .await;
    browser.until_says("h1", "Swatches from a photo").await;
    // A bench without inks has a frame without names: each is named where it was read.
    let photo = photo_of("twelve", &TWELVE, &[]);
    bring(&browser, &photo).await;
    browser.until("twelve rows", "document.querySelectorAll('.swatch-row').length === 12").await;
    browser.until_says("section [role=status]", "12 inks were read").await;
    for (n, (name, _)) in TWELVE.iter().enumerate() {
        let field = format!(".swatch-row[data-place='{}'] input:not([type=checkbox])", n + 1);
        browser.find(&field).await.send_keys(name).await.unwrap();
        browser.find(&field).await.send_keys(&char::from(Key::Tab).to_string()).await.unwrap();
    }
    // What was written beside it is there when the photo is brought again, whatever became of the page.
    let box_of_sand = ".swatch-row[data-place='10'] input[type=checkbox]";
    browser.find(box_of_sand).await.send_keys(" ").await.unwrap();
    browser.until_says("section .button.strong", "Take 11 inks").await;
    browser.go(&desk, "/drawer/swatches").await;
    bring(&browser, &photo).await;
    browser.until_says("section .button.strong", "Take 11 inks").await;
    let fourth =
        "return document.querySelector(\".swatch-row[data-place='4'] input:not([type=checkbox])\").value";
    assert_eq!(browser.run(fourth).await, "Low Sun");
    browser.find(box_of_sand).await.send_keys(" ").await.unwrap();
    // Two of one name would be one ink.
    let second = ".swatch-row[data-place='2'] input:not([type=checkbox])";
    let enter = char::from(Key::Enter).to_string();
    browser.write(second, "Cockle").await;
    browser.find(second).await.send_keys(&char::from(Key::Tab).to_string()).await.unwrap();
    browser.find("section .button.strong").await.send_keys(&enter).await.unwrap();
    browser.until_says("[role=alert]", "Two of them are called Cockle").await;
    browser.write(second, "Ebb Blue").await;
    browser.find(second).await.send_keys(&char::from(Key::Tab).to_string()).await.unwrap();
    // One is left out, by keyboard.
    let box_of_rain = ".swatch-row[data-place='9'] input[type=checkbox]";
    browser.find(box_of_rain).await.send_keys(" ").await.unwrap();
    browser.until_says("section .button.strong", "Take 11 inks").await;
    browser.find("section .button.strong").await.send_keys(&enter).await.unwrap();
    browser.until("eleven in the drawer", "document.querySelectorAll('.strip-button').length === 11").await;
    // All of it is one change.
    browser.click("form[action='/drawer/undo'] button").await;
    browser.until("none again", "document.querySelectorAll('.strip-button').length === 0").await;
    browser.click("form[action='/drawer/redo'] button").await;
    browser.until("eleven again", "document.querySelectorAll('.strip-button').length === 11").await;
    let near =
        "return [...document.querySelectorAll('.strip-button')].map((a) => a.textContent.trim()).join()";
    let names = browser.run(near).await;
    assert!(
        names.as_str().unwrap().contains("Cockle") && !names.as_str().unwrap().contains("Rain"),
        "{names}"
    );

    // The frame for these inks tells them by its marks; they are not new any more.
    browser.go(&desk, "/drawer/swatches").await;
    assert_eq!(browser.run("return document.querySelectorAll('[name=ink]:checked').length").await, 11);
    bring(&browser, &photo_of("again", &TWELVE, &[])).await;
    browser.until("twelve rows", "document.querySelectorAll('.swatch-row').length === 12").await;
    browser.until_says(".swatch-row", "as read").await;
    let first = "return document.querySelector('.swatch-row input:not([type=checkbox])').value";
    assert_eq!(browser.run(first).await, "Cockle");

    // And a blend of them.
    browser.go(&desk, "/drawer/search?from=Cockle&to=Ebb%20Blue&between=1").await;
    browser.until("drawn", "document.querySelector('.run .picture')?.naturalWidth > 50").await;
    browser.click(".run .strong").await;
    browser.until("on its blend", "document.querySelectorAll('.numbers tbody tr').length === 3").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_photo_outlives_the_program_and_its_corners_are_moved_by_keyboard() {
    let mut desk = Desk::new(false).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/drawer/swatches").await;
    desk.kill();
    bring(&browser, &photo_of("held", &TWELVE[..6], &["--fingers"])).await;
    browser.until_says("[role=alert]", "The photo is still here").await;
    desk.start_again();
    browser.run("[...document.querySelectorAll('.button')].find((b) => b.textContent === 'Send it again').click()").await;
    browser.until("six rows", "document.querySelectorAll('.swatch-row').length === 6").await;
    // A corner that is moved has the photo read again from where it is now.
    browser.run("[...document.querySelectorAll('.button')].find((b) => b.textContent === 'Show the corners').click()").await;
    browser.until("four corners", "document.querySelectorAll('[data-corner]').length === 4").await;
    let corner = "return document.querySelector(\"[data-corner='0']\").style.left";
    let before = browser.run(corner).await;
    let right: String = [char::from(Key::Right); 2].iter().collect();
    browser.find("[data-corner='0']").await.send_keys(&right).await.unwrap();
    browser.until("it is read again", "document.querySelector('progress').offsetParent === null").await;
    assert_ne!(browser.run(corner).await, before);
    assert_eq!(browser.run("return document.querySelectorAll('.swatch-row').length").await, 6);
    // What is no photo is told at its place.
    let folder = scratch("no-photo");
    std::fs::create_dir_all(&folder).unwrap();
    let none = folder.join("none.jpg");
    std::fs::write(&none, "no photo").unwrap();
    bring(&browser, &none).await;
    browser.until_says("[role=alert]", "cannot show this picture").await;
    browser.close().await;
}
