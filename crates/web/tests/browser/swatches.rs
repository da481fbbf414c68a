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

/// Clicks on the photo at a place that a script tells in its pixels.
async fn tap(browser: &Browser, at: &str) {
    let script = format!(
        "const [x, y] = {at};
        const canvas = document.querySelector('.photo canvas');
        const box = canvas.getBoundingClientRect();
        const [left, top, wide, high] = document.querySelector('.photo svg').getAttribute('viewBox').split(' ').map(Number);
        const [clientX, clientY] = [box.left + ((x - left) / wide) * box.width, box.top + ((y - top) / high) * box.height];
        canvas.dispatchEvent(new MouseEvent('click', {{ clientX, clientY, bubbles: true }}))"
    );
    browser.run(&script).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn swatches_on_no_frame_are_marked_by_tapping_and_a_chart_is_brought_beside_them() {
    let desk = Desk::new(false).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/drawer/swatches").await;
    let photo = photo_of("tapped", &TWELVE[..6], &[]);
    bring(&browser, &photo).await;
    browser.until("six rows", "document.querySelectorAll('.swatch-row').length === 6").await;
    // Where the patches of each strip are, as the frame tells it: the same photo is then marked by hand.
    browser
        .run(
            "window.middles = [1, 2, 3, 4, 5, 6].map((place) => [...document.querySelectorAll(`.photo svg .patch[data-place='${place}']`)]
                .map((shape) => [...shape.points].reduce(([x, y], point) => [x + point.x / 4, y + point.y / 4], [0, 0])));
            window.bare = (strip, n) => { const [a, b] = [window.middles[strip][n], window.middles[strip][n === 0 ? 1 : 2]];
                return [2 * a[0] - b[0], 2 * a[1] - b[1]]; }",
        )
        .await;
    browser.run("[...document.querySelectorAll('.button')].find((b) => b.textContent === 'Mark by tapping').click()").await;
    browser.click(".marking input[type=checkbox]").await;
    browser.until_says(".marking", "0 of at least 4 places").await;
    for (strip, end) in [(0, 0), (0, 3), (2, 0), (3, 3), (5, 0), (5, 3)] {
        tap(&browser, &format!("window.bare({strip}, {end})")).await;
    }
    browser.until_says(".marking", "Now choose a patch").await;
    browser.click(".marking input[value=patch]").await;
    tap(&browser, "window.middles[0][0]").await;
    browser.until_says("[role=alert]", "Write which ink it is first").await;
    for (strip, (name, _)) in TWELVE[..3].iter().enumerate() {
        browser.write(".marking input[aria-label='The ink']", name).await;
        for part in 0..4 {
            tap(&browser, &format!("window.middles[{strip}][{part}]")).await;
        }
    }
    // One too many is taken away again, by keyboard, and one is put where the arrow keys move it.
    let rings = "document.querySelectorAll('[data-mark]').length";
    browser.until("eighteen rings", &format!("{rings} === 18")).await;
    browser.write(".marking input[aria-label='The ink']", "Low Sun").await;
    browser.run("[...document.querySelectorAll('.marking button')].find((b) => b.textContent === 'Mark the middle').click()").await;
    browser.until("it has the focus", "document.activeElement.dataset.mark !== undefined").await;
    let before = browser.run("return document.activeElement.style.left").await;
    browser.find("[data-mark]:focus").await.send_keys(&char::from(Key::Right).to_string()).await.unwrap();
    assert_ne!(browser.run("return document.activeElement.style.left").await, before);
    browser.find("[data-mark]:focus").await.send_keys(&char::from(Key::Delete).to_string()).await.unwrap();
    browser.until("eighteen again", &format!("{rings} === 18")).await;
    let read = "[...document.querySelectorAll('.marking button')].find((b) => b.textContent === 'Read what is marked').click()";
    browser.run(read).await;
    browser.until("three rows", "document.querySelectorAll('.swatch-row').length === 3").await;
    let named = "return [...document.querySelectorAll('.swatch-row input:not([type=checkbox])')].map((input) => input.value).join()";
    assert_eq!(browser.run(named).await, "Cockle,Ebb Blue,Gorse Bank");
    // What was marked outlives the page.
    browser.go(&desk, "/drawer/swatches").await;
    bring(&browser, &photo).await;
    browser.until("three rows", "document.querySelectorAll('.swatch-row').length === 3").await;
    assert_eq!(browser.run(&format!("return {rings}")).await, 18);
    // A chart beside them, from its file; what is none is told.
    let folder = scratch("charts");
    std::fs::create_dir_all(&folder).unwrap();
    let (chart, none) = (folder.join("chart.txt"), folder.join("none.txt"));
    let rows: String = (0..24)
        .map(|n| format!("{}{} {} 0 0\n", ["A", "B", "C", "D"][n / 6], n % 6 + 1, 20 + 3 * n))
        .collect();
    let text = format!(
        "CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\nBEGIN_DATA\n{rows}END_DATA\n"
    );
    std::fs::write(&chart, text).unwrap();
    std::fs::write(&none, "no chart").unwrap();
    let field = browser.find(".marking input[type=file]").await;
    field.send_keys(none.to_str().unwrap()).await.unwrap();
    browser.until_says("[role=alert]", "The chart's file cannot be read").await;
    browser.find(".marking input[type=file]").await.send_keys(chart.to_str().unwrap()).await.unwrap();
    browser.until_says(".marking", "24 colours").await;
    assert_eq!(browser.run("return document.querySelector('.marking input[type=number]').value").await, "6");
    browser.until("its four corners", &format!("{rings} === 22")).await;
    browser.run("[...document.querySelectorAll('.marking button')].find((b) => b.textContent === 'Leave the chart out').click()").await;
    browser.until("none", &format!("{rings} === 18")).await;
    browser
        .find("section .button.strong[x-text]")
        .await
        .send_keys(&char::from(Key::Enter).to_string())
        .await
        .unwrap();
    browser.until("three in the drawer", "document.querySelectorAll('.strip-button').length === 3").await;
    browser.close().await;
}
