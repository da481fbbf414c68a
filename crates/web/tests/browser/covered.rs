//! In a real browser: a lamp and its night from nothing to the run sheet, a word kept white, and what stands on a panel
//! changed by keyboard alone and by hand on the picture.

use crate::desk::{Browser, Desk};
use fantoccini::key::Key;
use serde_json::json;

/// A word of a thing's sentence.
fn word(thing: usize, what: &str) -> String {
    format!("[data-thing='{thing}'][data-set='{what}']")
}

pub async fn tells(browser: &Browser, words: &str) {
    let told = "[...document.querySelectorAll('.sentence')].map((s) => [...s.querySelectorAll('.told')].map(function say(n) { \
                return [...n.childNodes].map((c) => c.nodeType === 3 ? c.data : c.tagName === 'SELECT' ? c.selectedOptions[0].textContent : \
                c.tagName === 'INPUT' ? c.value : c.tagName === 'A' ? '' : say(c)).join('') }).join(' ')).join(' ').replace(/\\s+/g, ' ')";
    browser.until(words, &format!("({told}).includes({})", json!(words))).await;
}

/// Waits until nothing is being asked or kept any more.
pub async fn still(browser: &Browser) {
    browser
        .until(
            "still",
            "document.querySelector('.status').textContent === 'kept' && \
             document.querySelector('.cover-stage').getAttribute('aria-busy') !== 'true' && \
             document.querySelector('.sentence')",
        )
        .await;
}

/// Writes over a word, as a hand on the keyboard does.
pub async fn write_over(browser: &Browser, thing: usize, what: &str, text: &str) {
    let field = word(thing, what);
    still(browser).await;
    browser.run(&format!("const f = document.querySelector({}); f.focus(); f.select()", json!(field))).await;
    browser.write(&field, &format!("{text}{}", char::from(Key::Tab))).await;
}

/// Turns a choice by its keys to what is wanted.
pub async fn choose(browser: &Browser, thing: usize, what: &str, value: &str) {
    let field = json!(word(thing, what));
    browser
        .run(&format!(
            "const s = document.querySelector({field}); s.focus(); s.value = {}; s.dispatchEvent(new Event('change', {{ bubbles: true }}))",
            json!(value)
        ))
        .await;
}

pub async fn steps(browser: &Browser) -> Vec<String> {
    browser.until("all of it", "document.readyState === 'complete'").await;
    let titles = browser
        .run("return [...document.querySelectorAll('.step h2 .tabular-nums')].map((h) => h.textContent)")
        .await;
    titles.as_array().unwrap().iter().map(|title| title.as_str().unwrap().to_owned()).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_lamp_and_its_night_from_nothing_to_the_run_sheet() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "Nothing stands on it yet. The ground runs from").await;
    browser.click("[data-add]").await;
    tells(&browser, "In front, the circle, a circle of 2 in across, stays white.").await;
    write_over(&browser, 0, "name", "lamp").await;
    tells(&browser, "In front, the lamp, a circle").await;
    write_over(&browser, 0, "m_across", "1 1/4").await;
    tells(&browser, "of 1 1/4 in across").await;
    choose(&browser, 0, "gets", "goes").await;
    tells(&browser, "1 1/4 in across, goes").await;
    // An ink of the drawer by its name, and one there is none of.
    write_over(&browser, 0, "ink0", "No such ink").await;
    browser
        .until(
            "what is wrong",
            "document.querySelector('[data-wrong=\"0\"]').textContent.includes('No such ink')",
        )
        .await;
    write_over(&browser, 0, "ink0", "gorse bank").await;
    tells(&browser, "goes Gorse Bank.").await;
    choose(&browser, 0, "gets", "runs").await;
    tells(&browser, "runs from Gorse Bank to").await;
    choose(&browser, 0, "gets", "goes").await;
    tells(&browser, "goes Gorse Bank.").await;
    browser
        .until_says(".made", "First the lamp inside its frame, then the ground, round the plug of the lamp.")
        .await;
    browser.until_says(".made", "2 pieces").await;
    still(&browser).await;

    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let told = steps(&browser).await;
    let at = |title: &str| {
        told.iter().position(|step| step == title).unwrap_or_else(|| panic!("{title}: {told:?}"))
    };
    let order = [
        "Put on the frame of the lamp",
        "Gorse Bank: 7 light passes",
        "Let it dry in air",
        "Put on the plug of the lamp",
        "Lift the frame of the lamp",
        "Lift the plug of the lamp",
    ];
    assert!(order.windows(2).all(|pair| at(pair[0]) < at(pair[1])), "{told:?}");
    browser.until_says(".steps", "From masking sheet, cut beforehand: frame and plug of the lamp").await;
    // Its pictures are drawn, the mask lying on them.
    browser
        .until("its pictures", "[...document.querySelectorAll('.step img')].slice(0, 6).every((i) => i.complete && i.naturalWidth > 40)")
        .await;

    // Steps that are done stay done when the night is changed.
    for step in 0..=at("Put on the plug of the lamp") {
        browser.click(&format!(".step:nth-child({}) .tick[role='checkbox']", step + 1)).await;
        if step > 0 {
            continue;
        }
        browser.until("ticked", "document.querySelector('.tick[aria-checked=\"true\"]')").await;
    }
    browser.until("kept", "document.querySelector('.status').textContent === 'kept'").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "goes Gorse Bank.").await;
    write_over(&browser, 0, "name", "moon").await;
    tells(&browser, "In front, the moon").await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let done = "document.querySelectorAll('.tick[role=\"checkbox\"][aria-checked=\"true\"]').length";
    let ticked = at("Put on the plug of the lamp") + 1;
    browser.until("what was done", &format!("{done} === {ticked}")).await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_word_stays_white_and_its_masks_come_as_files() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "Nothing stands on it yet").await;
    browser.run("document.querySelector('#new-shape').value = 'word'").await;
    browser.click("[data-add]").await;
    tells(&browser, "a word").await;
    write_over(&browser, 0, "letters", "gale").await;
    browser.until_says(".to-cut", "plug").await;
    browser.until_says(".made", "1 piece").await;
    // In its halo, the plug is larger than the word.
    browser.run("document.querySelector('[data-more]').open = true").await;
    choose(&browser, 0, "cut", "halo").await;
    tells(&browser, "outside, for a halo by 1/32 in").await;
    still(&browser).await;
    for (ending, begins) in [("svg", "<svg"), ("pdf", "%PDF")] {
        let fetched = browser
            .run(&format!("return fetch('/panels/{id}/masks.{ending}').then((a) => a.text()).then((t) => t.slice(0, 400))"))
            .await;
        assert!(fetched.as_str().unwrap().contains(begins), "{ending}: {fetched}");
    }
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let told = steps(&browser).await;
    assert!(told.iter().any(|step| step.starts_with("Put on the plug of the")), "{told:?}");
    assert!(!told.iter().any(|step| step.contains("frame")), "{told:?}");
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_scene_is_changed_by_keyboard_alone() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Lamp on the groyne").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "In front, the near dune").await;
    tells(&browser, "Behind it, the lamp, a circle of 1 1/4 in across, runs from").await;
    // Forward and behind, the focus going along with it.
    let button = "[data-deed='behind'][data-thing='0']";
    still(&browser).await;
    browser.run(&format!("document.querySelector(\"{button}\").focus()")).await;
    browser.write(button, &char::from(Key::Enter).to_string()).await;
    tells(&browser, "In front, the far dune").await;
    browser
        .until("the focus", "document.activeElement.dataset.deed === 'behind' && document.activeElement.dataset.thing === '1'")
        .await;
    // A measure no hill line has is told by the field, and nothing is lost.
    write_over(&browser, 1, "m_high", "99").await;
    browser.until("what is wrong", "!document.querySelector('[data-wrong=\"1\"]').hidden").await;
    write_over(&browser, 1, "m_high", "1 1/2").await;
    tells(&browser, "1 1/2 in high").await;
    // The grip on the picture goes by the arrows, a pencil mark at a time.
    browser.run("document.querySelectorAll('[data-more]')[2].open = true").await;
    tells(&browser, "Its middle lies 2 7/16 in from the left").await;
    let grip = "[data-grip='middle 2']";
    browser.run(&format!("document.querySelector(\"{grip}\").focus()")).await;
    browser.write(grip, &char::from(Key::Right).to_string()).await;
    tells(&browser, "Its middle lies 2 1/2 in from the left").await;
    browser.until("the focus", "document.activeElement.dataset.grip === 'middle 2'").await;
    still(&browser).await;
    browser.click("[data-undo]").await;
    tells(&browser, "Its middle lies 2 7/16 in from the left").await;
    // Another way to make it.
    still(&browser).await;
    browser.run("document.querySelector('[data-way=\"back-first\"]')?.focus()").await;
    browser.write("[data-way='back-first']", &char::from(Key::Enter).to_string()).await;
    browser
        .until(
            "chosen",
            "document.querySelector('[data-way=\"back-first\"]').getAttribute('aria-checked') === 'true'",
        )
        .await;
    still(&browser).await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_thing_is_moved_on_the_picture_and_catches_at_its_middle() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Lamp on the groyne").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "In front, the near dune").await;
    browser.run("document.querySelectorAll('[data-more]')[2].open = true").await;
    // The middle of the panel is 2 1/4 in from the left; the lamp stands 3/16 in to the right of it.
    let wide = browser.run("return document.querySelector('.on-picture .picture').clientWidth").await;
    let inch = wide.as_f64().unwrap() / 4.5;
    browser.drag("[data-grip='middle 2']", (-0.16 * inch) as i64, (0.8 * inch) as i64).await;
    tells(&browser, "Its middle lies 2 1/4 in from the left").await;
    still(&browser).await;
    // Its size goes by its corner.
    browser.drag("[data-grip='size']", (0.3 * inch) as i64, (0.3 * inch) as i64).await;
    browser
        .until(
            "larger",
            "parseInt(document.querySelector(\"[data-thing='2'][data-set='percent']\").value) > 120",
        )
        .await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    browser.until("kept", "document.querySelectorAll('.sentence').length === 4").await;
    browser.close().await;
}

/// Presses a deed in the step of a title.
pub async fn press(browser: &Browser, title: &str, deed: &str) {
    let step = format!(
        "[...document.querySelectorAll('.step')].find((s) => s.querySelector('h2 .tabular-nums').textContent === {})",
        json!(title)
    );
    browser.run(&format!("window.here = true; {step}.querySelector('.step-more').open = true; {step}.querySelector(\"[value='{deed}']\").click()")).await;
    browser.until("the page again", "!window.here && document.querySelector('.step')").await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_changed_step_breaks_is_told_and_put_right() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    for (panel, step, says, repair) in [
        ("Lamp on the groyne", "Let it dry in air", "is still damp where", "Let it dry first"),
        (
            "Kites after dark",
            "Wipe the anti-static bag over it",
            "No anti-static bag",
            "Wipe the anti-static bag over it first",
        ),
        ("Kites after dark", "Let it cool", "still hot", "Let it cool first"),
    ] {
        let id = browser.panel(&desk, panel).await;
        browser.go(&desk, &format!("/panels/{id}/sheet")).await;
        let before = steps(&browser).await;
        press(&browser, step, "out").await;
        browser.until_says(".steps", says).await;
        browser.until_says(".own-order", "The order of the steps is your own").await;
        browser.run("window.here = true").await;
        browser
            .run(&format!(
                "[...document.querySelectorAll('.broken button')].find((b) => b.textContent === {}).click()",
                json!(repair)
            ))
            .await;
        browser
            .until(
                "put right",
                "!window.here && document.querySelector('.step') && !document.querySelector('.broken')",
            )
            .await;
        browser.until_says(".own-order", "and breaks no rule").await;
        assert_eq!(steps(&browser).await, before);
        // The program's own order again, and back by undo.
        browser.run("window.here = true; document.querySelector('[value=\"plan\"]').click()").await;
        browser
            .until(
                "planned",
                "!window.here && document.querySelector('.step') && !document.querySelector('.own-order')",
            )
            .await;
    }
    // A step moved; what was changed can be undone.
    let id = browser.panel(&desk, "Kites after dark").await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let before = steps(&browser).await;
    press(&browser, "Melt the powder", "earlier").await;
    browser.until_says(".steps", "There is no powder to melt").await;
    // Once it is undone the page comes again by itself.
    browser.run("window.here = true").await;
    browser.click("[data-undo]").await;
    browser.until("undone", "!window.here && document.querySelector('.step')").await;
    assert_eq!(steps(&browser).await, before);
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn trapped_colour_from_nothing_to_the_run_sheet() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "Nothing stands on it yet").await;
    browser.run("document.querySelector('#new-shape').value = 'heart'").await;
    browser.click("[data-add]").await;
    tells(&browser, "In front, the heart").await;
    still(&browser).await;
    choose(&browser, 0, "gets", "goes").await;
    tells(&browser, "goes").await;
    write_over(&browser, 0, "ink0", "Gorse Bank").await;
    tells(&browser, "goes Gorse Bank").await;
    still(&browser).await;
    choose(&browser, 0, "resist", "clear").await;
    tells(&browser, "goes Gorse Bank, sealed under clear powder.").await;
    browser.until_says(".made", "1 piece").await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let told = steps(&browser).await;
    let order = [
        "Wipe the anti-static bag over it",
        "Put on the frame of the heart",
        "Gorse Bank: 7 light passes",
        "Let it dry in air",
        "Sticky ink on the heart",
        "Lift the frame of the heart",
        "Pour clear powder over it",
        "Melt the powder",
        "Let it cool",
        "Buff what is sealed",
        "Look, and stop early",
    ];
    let at = |title: &str| {
        told.iter().position(|step| step == title).unwrap_or_else(|| panic!("{title}: {told:?}"))
    };
    assert!(order.windows(2).all(|pair| at(pair[0]) < at(pair[1])), "{told:?}");
    browser.until_says(".steps", "Molten powder burns").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_word_changed_while_the_database_is_away_outlives_the_page() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Lamp on the groyne").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "In front, the near dune").await;
    still(&browser).await;
    desk.database_answers(false).await;
    browser
        .run(&format!("const f = document.querySelector({}); f.focus(); f.select()", json!(word(0, "name"))))
        .await;
    browser.write(&word(0, "name"), &format!("ridge{}", char::from(Key::Tab))).await;
    browser.until("waiting", "document.querySelector('.status').textContent.includes('not kept yet')").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    desk.database_answers(true).await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    tells(&browser, "In front, the ridge").await;
    still(&browser).await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_thing_runs_through_five_inks_along_a_glow_placed_by_number() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Kites after dark").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    still(&browser).await;
    let dots = "document.querySelectorAll('[data-sentence=\"0\"] .ink-dot').length";
    let deed = |what: &str| format!("[data-step='{what}'][data-thing='0']");
    choose(&browser, 0, "gets", "fades").await;
    tells(&browser, "fades to bare card from").await;
    choose(&browser, 0, "gets", "runs").await;
    browser.until("two inks", &format!("{dots} === 2")).await;
    still(&browser).await;
    browser.run("document.querySelector('[data-more=\"0\"]').open = true").await;
    for count in 3..=5 {
        browser.click(&deed("more")).await;
        browser.until("one ink more", &format!("{dots} === {count}")).await;
        still(&browser).await;
    }
    // No blend takes more.
    browser.until("no sixth", &format!("!document.querySelector({})", json!(deed("more")))).await;
    browser.click(&deed("fewer")).await;
    browser.until("four inks", &format!("{dots} === 4")).await;
    still(&browser).await;
    let glow = "[...document.querySelector(\"[data-thing='0'][data-set='way']\").options].find((o) => o.textContent === 'a glow').value";
    let glow = browser.run(&format!("return {glow}")).await;
    choose(&browser, 0, "way", glow.as_str().unwrap()).await;
    tells(&browser, "a glow, its centre").await;
    write_over(&browser, 0, "w_left", "1/2").await;
    tells(&browser, "its centre 1/2 in from the left").await;
    write_over(&browser, 0, "w_across", "1/64").await;
    browser
        .until(
            "told by its field",
            "document.querySelector('[data-wrong=\"0\"]').textContent.includes('1/4 in')",
        )
        .await;
    // Taken back and written anew, it is kept over a reload.
    write_over(&browser, 0, "w_across", "2").await;
    tells(&browser, "2 in out to each side").await;
    write_over(&browser, 0, "veils1", "3").await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    still(&browser).await;
    tells(&browser, "2 in out to each side").await;
    let passes =
        browser.run("return document.querySelector(\"[data-thing='0'][data-set='veils1']\").value").await;
    assert_eq!(passes, "3");
    browser.close().await;
}
