//! In a real browser: what goes with a thing. A word with its shadow, a stencil in two colours with tape, a stepped sky,
//! colour trapped instead of plugged, a piece inked on its own, a part found with a paper window, and a finding left as it is.

use crate::covered::{choose, press, steps, still, tells, write_over};
use crate::desk::{Browser, Desk};
use fantoccini::key::Key;
use serde_json::json;

/// Presses one of the deeds that stand under a thing.
async fn deed(browser: &Browser, thing: usize, what: &str) {
    still(browser).await;
    browser
        .run(&format!(
            "const b = document.querySelector('[data-thing=\"{thing}\"][data-deed=\"{what}\"]'); \
             b.closest('details').open = true; b.focus(); b.click()"
        ))
        .await;
}

async fn put_in_front(browser: &Browser, family: &str) {
    browser.run(&format!("document.querySelector('#new-shape').value = {}", json!(family))).await;
    browser.click("[data-add]").await;
}

/// Whether some titles stand on the run sheet one after the other.
fn in_order(told: &[String], wanted: &[&str]) {
    let mut from = 0;
    for title in wanted {
        let at = told[from..].iter().position(|step| step.starts_with(title));
        from += 1 + at.unwrap_or_else(|| panic!("{title} after {from}: {told:?}"));
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_word_and_its_shadow_from_nothing_to_the_run_sheet() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "Nothing stands on it yet").await;
    put_in_front(&browser, "word").await;
    tells(&browser, "In front, the word").await;
    write_over(&browser, 0, "letters", "ebb").await;
    tells(&browser, "“ebb”").await;
    deed(&browser, 0, "shadow").await;
    // Round what is white the rim goes an ink.
    tells(&browser, "Behind it, the shadow of word, a word “ebb”").await;
    tells(&browser, "standing out by 1/8 in").await;
    write_over(&browser, 1, "ink0", "Winkle").await;
    tells(&browser, "goes Winkle").await;
    // Other letters are the shadow's letters too.
    write_over(&browser, 0, "letters", "flow").await;
    tells(&browser, "the shadow of word, a word “flow”").await;
    // Where it is read best, the program says.
    deed(&browser, 0, "best").await;
    browser.until_says(".notice", "1 against the ground at its faintest").await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    in_order(
        &steps(&browser).await,
        &[
            "Put on the plug of the word",
            "Put on the frame of the shadow of word",
            "Winkle",
            "Lift the plug of the word",
        ],
    );
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn two_colours_through_one_stencil_with_tape() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "Nothing stands on it yet").await;
    put_in_front(&browser, "brick").await;
    tells(&browser, "In front, the brick").await;
    still(&browser).await;
    choose(&browser, 0, "gets", "goes").await;
    tells(&browser, "goes").await;
    still(&browser).await;
    choose(&browser, 0, "used", "stencil").await;
    still(&browser).await;
    choose(&browser, 0, "over", "over").await;
    tells(&browser, "over what lies behind").await;
    deed(&browser, 0, "parts").await;
    tells(&browser, "In front, the brick 1").await;
    tells(&browser, "Behind it, the brick 2").await;
    tells(&browser, "only between 0 in and").await;
    write_over(&browser, 0, "ink0", "Night Ferry").await;
    tells(&browser, "goes Night Ferry").await;
    write_over(&browser, 1, "ink0", "Winkle").await;
    tells(&browser, "goes Winkle").await;
    // A line that leaves nothing open is told by its field, and nothing is lost.
    write_over(&browser, 1, "from", "9").await;
    browser
        .until(
            "what is wrong",
            "document.querySelector('[data-wrong=\"1\"]').textContent.includes('leave nothing open')",
        )
        .await;
    browser.until_says(".made", "1 piece").await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let told = steps(&browser).await;
    in_order(
        &told,
        &[
            "Put on the stencil of the brick 1",
            "Night Ferry",
            "Let it dry",
            "Move the tape to the brick 2",
            "Winkle",
        ],
    );
    assert_eq!(told.iter().filter(|step| step.starts_with("Lift the stencil")).count(), 1, "{told:?}");
    browser.until_says(".steps", "Tape off all of it but what lies between").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_stepped_sky_from_nothing_to_the_run_sheet() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "Nothing stands on it yet").await;
    put_in_front(&browser, "cloud-edge").await;
    tells(&browser, "In front, the cloud edge").await;
    still(&browser).await;
    browser.run("document.querySelector('[data-count=\"steps\"]').value = '4'").await;
    deed(&browser, 0, "steps").await;
    tells(&browser, "In front, the cloud edge 4").await;
    tells(&browser, "the cloud edge 1").await;
    browser.until_says(".notice", "No two humps come nearer than").await;
    browser.until_says(".made", "1 piece").await;
    still(&browser).await;
    // All of it is one change, taken back at once and made again.
    browser.click("[data-undo]").await;
    tells(&browser, "In front, the cloud edge,").await;
    still(&browser).await;
    browser.click("[data-redo]").await;
    tells(&browser, "In front, the cloud edge 4").await;
    still(&browser).await;
    // A breath of colour over all of it needs no mask, however many stand there.
    browser.click("[data-tint]").await;
    tells(&browser, "In front, the tint over all").await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let told = steps(&browser).await;
    assert_eq!(
        told.iter().filter(|step| step.starts_with("Move the frame on to the cloud edge")).count(),
        3,
        "{told:?}"
    );
    assert!(!told.iter().any(|step| step.contains("tint over all")), "{told:?}");
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn colour_is_trapped_instead_of_plugged_at_one_press() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Lamp on the groyne").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "the lamp, a circle").await;
    still(&browser).await;
    browser.run("const b = document.querySelector('[data-deed=\"trap\"]'); b.focus(); b.click()").await;
    tells(&browser, "sealed under clear powder").await;
    deed(&browser, 0, "glow").await;
    tells(&browser, "the glow round near dune").await;
    tells(&browser, "in from its edge as far as").await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let told = steps(&browser).await;
    assert!(told.iter().any(|step| step == "Melt the powder"), "{told:?}");
    assert!(!told.iter().any(|step| step.contains("frame of the glow")), "{told:?}");
    // The glow reaches over what is sealed behind: ink takes nowhere there, and that is said.
    let broken = browser
        .run("return [...document.querySelectorAll('.broken .trouble')].map((b) => b.textContent)")
        .await;
    let [one] = broken.as_array().unwrap().as_slice() else { panic!("{broken}") };
    assert!(one.as_str().unwrap().contains("it is lost there"), "{broken}");
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_part_worth_cutting_out_is_found_with_a_paper_window() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Tea-hut stripes").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "Nothing stands on it yet").await;
    still(&browser).await;
    browser.run("document.querySelector('#window-shape').value = 'heart'").await;
    browser.click("[data-window]").await;
    browser.until("the window", "document.querySelector('.outlines .pane')").await;
    still(&browser).await;
    // By keys: its middle stood at 1 3/4 in from the left and 4 1/4 in from the top.
    for _ in 0..4 {
        browser.write("[data-grip='pane']", &String::from(char::from(Key::Down))).await;
    }
    browser.write("[data-grip='pane size']", &String::from(char::from(Key::Right))).await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let told = steps(&browser).await;
    assert!(told.iter().any(|step| step.starts_with("Cut out the heart: ")), "{told:?}");
    browser.until_says(".steps", "1 3/4 in from the left").await;
    // What was done stays done: a window lays no ink.
    assert_eq!(
        browser
            .run("return document.querySelectorAll('.tick[role=\"checkbox\"][aria-checked=\"true\"]').length")
            .await,
        json!(5)
    );
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_shape_is_inked_on_its_own_from_its_heart_out() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/shapes").await;
    browser
        .run("[...document.querySelectorAll('main a')].find((a) => a.textContent.includes('lamp')).click()")
        .await;
    browser.until("the shape", "document.querySelector('#piece-title')").await;
    browser.run("document.querySelector('[value=\"heart\"]').click()").await;
    browser.until("its inks", "location.pathname.endsWith('/inks')").await;
    let id = browser.run("return location.pathname.split('/')[2]").await.as_str().unwrap().to_owned();
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    browser.until_says("main", "There is nothing to lay yet").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "Nothing stands on it yet").await;
    put_in_front(&browser, "circle").await;
    tells(&browser, "In front, the circle").await;
    still(&browser).await;
    choose(&browser, 0, "gets", "goes").await;
    tells(&browser, "goes").await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let told = steps(&browser).await;
    assert!(told[0].starts_with("Cut out the lamp"), "{told:?}");
    // It has its place in the next batch, with no card's pieces beside it.
    browser.go(&desk, "/stock").await;
    browser
        .run(&format!(
            "const f = document.querySelector('form[action=\"/stock/batch/cards\"]'); \
             f.querySelector('select').value = {}; f.querySelector('[name=count]').value = '5'; f.requestSubmit()",
            json!(id)
        ))
        .await;
    browser.until_says(".batch-list", "lamp").await;
    browser.until_says(".batch-list", "5 ×").await;
    let pieces = browser.run("return document.querySelectorAll('.batch-list li').length").await;
    assert_eq!(pieces, json!(1), "the demo's batch is empty to begin with");
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_finding_is_seen_left_as_it_is_with_a_note_and_taken_up_again() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Lamp on the groyne").await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    press(&browser, "Let it dry in air", "out").await;
    browser.until_says(".steps", "is still damp where").await;
    browser.run("document.querySelector('.harm').scrollIntoView()").await;
    browser
        .until("what it would do", "(() => { const i = document.querySelector('.harm'); return i.complete && i.naturalWidth > 40 })()")
        .await;
    browser
        .run("window.here = true; const f = document.querySelector('.broken'); f.querySelector('details').open = true; \
              f.querySelector('[name=note]').value = 'the room is hot tonight'; f.querySelector('[value=accept]').click()")
        .await;
    browser.until("the page again", "!window.here && document.querySelector('.step')").await;
    browser.until_says(".broken", "Left as it is.").await;
    browser.until_says(".broken", "the room is hot tonight").await;
    browser.run("window.here = true; document.querySelector('[value=\"take-up\"]').click()").await;
    browser.until("the page again", "!window.here && document.querySelector('[value=\"accept\"]')").await;
    browser.close().await;
}
