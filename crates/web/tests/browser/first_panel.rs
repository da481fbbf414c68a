//! In a real browser: a maker's first panel, from the empty bench to the printed run sheet.

use crate::desk::{Browser, Desk, sleep};
use fantoccini::key::Key;
use fantoccini::wd::{PrintConfigurationBuilder, PrintSize};
use serde_json::Value;

/// Adds an ink through the drawer's own page.
async fn add_ink(browser: &Browser, desk: &Desk, name: &str, colour: &str) {
    browser.go(desk, "/drawer/inks/new").await;
    browser.write("#name", name).await;
    browser.write("#colour", colour).await;
    browser.click(".fields .strong").await;
    browser.until_says(".notice", name).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn from_an_empty_bench_to_a_printed_run_sheet() {
    let desk = Desk::new(false).await;
    let browser = Browser::new().await;

    // The empty pages say what to do first.
    browser.go(&desk, "/").await;
    browser.until_says("main", "Two are enough to begin").await;
    browser.go(&desk, "/drawer").await;
    browser.until_says("main", "Add the first ink").await;

    for (name, colour) in [("First Tide", "57 -17 -31"), ("Cockle", "#d65c90"), ("Tea-hut Lamp", "80 12 62")]
    {
        add_ink(&browser, &desk, name, colour).await;
    }

    // A new panel in two clicks: the bench of a maker who has panels shows the button alone.
    browser.click(".notice a[href='/']").await;
    browser.until_says(".first-steps", "3 are in the drawer").await;
    browser.click(".size-button").await;
    browser.until_says("main", "Pick two to five inks").await;

    // Inks are taken one by one; picture and verdict follow.
    for (name, count) in [("First Tide", 1), ("Cockle", 2), ("Tea-hut Lamp", 3)] {
        browser.click(&format!(".strip-button[data-name='{name}']")).await;
        browser.until(name, &format!("document.querySelectorAll('.chosen-ink').length === {count}")).await;
        browser.until("kept", "document.querySelector('.status').textContent === 'kept'").await;
    }
    browser.until_says(".chosen-list", "violet").await;
    browser.until_says(".chosen-list", "orange").await;
    browser.click(".chosen-inks a.strong").await;

    // The picture follows the hand.
    browser.until_kept().await;
    let before = browser.picture().await;
    let value = "document.querySelector('[data-cell=\"0-full_to\"]').value";
    let stood = browser.run(&format!("return {value}")).await;
    browser.drag("[data-handle='0-full_to']", 0, 80).await;
    browser.until("the number follows", &format!("{value} !== {stood}")).await;
    browser.until_kept().await;
    let dragged = browser.picture().await;
    assert!(before != dragged, "dragging a handle changes the picture");
    let measure = "return document.querySelector('[data-cell=\"0-full_to\"]').value";
    let written = browser.run(measure).await;

    // A number can be typed, in either system, and nonsense is refused by the field without harm.
    let cell = "[data-cell='0-full_to']";
    browser.write(cell, &format!("38.1 mm{}", char::from(Key::Tab))).await;
    browser
        .until(
            "38.1 mm is 1 1/2 in",
            &format!(
                "document.querySelector('{cell_js}')?.value === '1 1/2 in'",
                cell_js = "[data-cell=\"0-full_to\"]"
            ),
        )
        .await;
    browser.write(cell, &format!("4 1/0 in{}", char::from(Key::Tab))).await;
    browser.until_says(".numbers td:has([data-cell=\"0-full_to\"]) .wrong", "divides by nothing").await;
    browser.until_kept().await;

    // A reload half way loses nothing, and undo still reaches back across it.
    let picture = browser.picture().await;
    browser.client.refresh().await.unwrap();
    browser.until_kept().await;
    assert_eq!(browser.run(measure).await, Value::from("1 1/2 in"));
    assert!(browser.picture().await == picture, "the same plan gives the same picture");
    browser.run("document.activeElement.blur()").await;
    browser.find("body").await.send_keys("u").await.unwrap();
    browser.until("undone", "document.querySelector('[data-cell=\"0-full_to\"]').value !== '1 1/2 in'").await;
    assert_eq!(browser.run(measure).await, written);
    browser.find("body").await.send_keys("r").await.unwrap();
    browser
        .until("done again", "document.querySelector('[data-cell=\"0-full_to\"]').value === '1 1/2 in'")
        .await;

    // The handle moves by keyboard too.
    browser.run("document.querySelector(\"[data-handle='0-full_to']\").focus()").await;
    browser
        .find("[data-handle='0-full_to']")
        .await
        .send_keys(&char::from(Key::Down).to_string())
        .await
        .unwrap();
    browser
        .until("1 9/16", "document.querySelector('[data-cell=\"0-full_to\"]').value === '1 9/16 in'")
        .await;
    browser.until_kept().await;

    // The run sheet: a picture for each step, ticks that are kept, and paper.
    browser.click(".pages a[href$='/sheet']").await;
    browser.find(".step").await;
    let steps = browser.run("return document.querySelectorAll('.step').length").await.as_u64().unwrap();
    let pictures = "new Set([...document.querySelectorAll('.step img')].map((i) => i.src)).size";
    let pictures = browser.run(&format!("return {pictures}")).await.as_u64().unwrap();
    assert!(steps >= 8 && pictures >= steps - 6, "{steps} steps, {pictures} pictures");
    browser.until_says(".steps", "Take care.").await;
    browser.click(".step button.tick").await;
    browser.until_says(".progress-of, .sheet-head", "Step 2 of").await;
    browser.until("kept", "document.querySelector('.status').textContent === 'kept'").await;
    browser.client.refresh().await.unwrap();
    browser.until_says(".sheet-head", "Step 2 of").await;
    browser.until("pictures", "[...document.images].every((i) => i.complete && i.naturalWidth > 10)").await;
    for (width, height) in [(21.59, 27.94), (21.0, 29.7)] {
        let paper = PrintConfigurationBuilder::default()
            .size(PrintSize { width, height })
            .background(true)
            .build()
            .unwrap();
        let pdf = browser.client.print(paper).await.expect("the sheet prints");
        assert!(pdf.starts_with(b"%PDF") && pdf.len() > 20_000, "{} bytes", pdf.len());
        let text = crate::desk::text_of(&pdf);
        let pages: Vec<&str> = text.split('\u{c}').filter(|page| !page.trim().is_empty()).collect();
        for (n, page) in pages.iter().enumerate() {
            let number = format!("{} of {}", n + 1, pages.len());
            assert!(page.contains("Panel 1") && page.contains(&number), "page {number}: {page}");
        }
    }

    browser.go(&desk, "/").await;
    browser.until_says(".panels", "Step 2 of").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn two_tabs_lose_nothing_to_each_other() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/").await;
    let link = browser.find(".panel-words h2 a").await.attr("href").await.unwrap().unwrap();
    browser.go(&desk, &link).await;
    browser.until_kept().await;
    let first = browser.client.window().await.unwrap();
    let second = browser.client.new_window(true).await.unwrap().handle;
    browser.client.switch_to_window(second.clone()).await.unwrap();
    browser.go(&desk, &link).await;
    browser.until_kept().await;

    // The first tab changes the panel; the second, not knowing, changes it too.
    browser.client.switch_to_window(first).await.unwrap();
    browser.click(".numbers tbody tr:nth-of-type(1) .stepper button:last-child").await;
    browser.until("kept", "!document.querySelector('[data-undo]').disabled").await;
    browser.client.switch_to_window(second).await.unwrap();
    browser.click(".numbers tbody tr:nth-of-type(1) .stepper button:first-child").await;
    browser.until_says(".notice", "Both are kept").await;
    browser.until_says(".numbers", "8").await;
    browser.go(&desk, "/").await;
    browser.until_says(".panels", "(other tab)").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_killed_program_and_a_stopped_database_lose_nothing() {
    let mut desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/").await;
    let link = browser.find(".panel-words h2 a").await.attr("href").await.unwrap().unwrap();
    browser.go(&desk, &link).await;
    browser.until_kept().await;
    let veils = "document.querySelector('.numbers .stepper output')?.textContent";
    let more = ".numbers tbody tr:nth-of-type(1) .stepper button:last-child";

    // The program dies, a change is made, the program comes back.
    desk.kill();
    browser.click(more).await;
    browser.until_says(".status", "not kept yet").await;
    desk.start_again();
    browser.until("kept after all", "document.querySelector('.status').textContent === 'kept'").await;
    browser.client.refresh().await.unwrap();
    browser.until_kept().await;
    browser.until("8 veils", &format!("{veils} === '8'")).await;

    // The database stops: the page says so, keeps the change, and a reload later brings it in.
    desk.database_answers(false).await;
    browser.click(more).await;
    browser.until_says(".status", "not kept yet").await;
    let (status, _, said) = desk.send("GET", "/", &[], "");
    assert_eq!(status, 503);
    assert!(said.contains("nothing is lost"), "{said}");
    desk.database_answers(true).await;
    sleep(200).await;
    browser.client.refresh().await.unwrap();
    browser.until("kept after all", "document.querySelector('.status')?.textContent === 'kept'").await;
    browser.client.refresh().await.unwrap();
    browser.until("9 veils", &format!("{veils} === '9'")).await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_bend_made_while_the_program_is_away_outlives_its_page() {
    let mut desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    let page = format!("/panels/{id}/blend");
    browser.go(&desk, &page).await;
    browser.until_kept().await;
    let starts = "document.querySelector('[data-cell=\"1-starts\"]')?.value";
    let before = browser.run(&format!("return {starts}")).await.as_str().unwrap().to_owned();
    desk.kill();
    browser.find("[data-hill='1']").await.send_keys(&char::from(Key::Down).to_string()).await.unwrap();
    browser.until_says(".status", "not kept yet").await;
    browser.client.goto("about:blank").await.unwrap();
    desk.start_again();
    browser.go(&desk, &page).await;
    browser.until("bent after all", &format!("{starts} && {starts} !== {before:?}")).await;
    browser.until_kept().await;
    browser.until("undone if wished", "!document.querySelector('[data-undo]').disabled").await;
    browser.go(&desk, &page).await;
    browser.until_kept().await;
    assert_ne!(browser.run(&format!("return {starts}")).await.as_str(), Some(before.as_str()));
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_measure_that_is_being_written_is_left_alone() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/blend")).await;
    browser.until_kept().await;
    // Half a measure stands in a field while something else is answered.
    browser.write("[data-cell='0-ends']", "3 1").await;
    browser.run("[...document.querySelectorAll('.deeds .button')].find((b) => b.textContent === 'One more round').click()").await;
    browser.until("a round more", "document.querySelector('.numbers output').textContent === '8'").await;
    browser.until_kept().await;
    let ends = "document.querySelector('[data-cell=\"0-ends\"]').value";
    assert_eq!(browser.run(&format!("return {ends}")).await.as_str(), Some("3 1"));
    browser.find("[data-cell='0-ends']").await.send_keys("/8\u{e004}").await.unwrap();
    browser.until("set", &format!("{ends} === '3 1/8 in'")).await;
    browser.until_kept().await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_drawer_is_searched_changed_and_undone() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/drawer").await;
    let shown = "document.querySelectorAll('#shelves .strip-button').length";
    browser.until("all", &format!("{shown} >= 36")).await;
    let search = "[name=search]";
    browser.write(search, "cock").await;
    browser.until("one", &format!("{shown} === 1")).await;
    browser.write(search, "no such ink").await;
    browser.until_says("#shelves", "No ink").await;
    browser.write(search, " ").await;
    browser.run("document.querySelector('[name=kind][value=pigment]').click()").await;
    browser.until("whites", &format!("{shown} === 2")).await;

    browser.go(&desk, "/drawer").await;
    browser.click("button[aria-label='Remove Cockle']").await;
    browser.until_says(".undo-bar", "remove Cockle").await;
    assert!(!browser.text(".shelves").await.contains("Cockle"));
    browser.run("document.activeElement.blur()").await;
    browser.find("body").await.send_keys("u").await.unwrap();
    browser.until_says(".shelves", "Cockle").await;

    // Wrong input is told by its field and nothing written is lost.
    browser.go(&desk, "/drawer/inks/new").await;
    browser.run(&format!("document.querySelector('#name').value = '{}'", "x".repeat(1_000))).await;
    browser.write("#colour", "rosy").await;
    browser.click(".fields .strong").await;
    browser.until_says("#wrong-name", "1000 characters").await;
    browser.write("#name", "Kelp").await;
    browser.click(".fields .strong").await;
    browser.until_says("#wrong-colour", "is not a colour").await;
    assert_eq!(browser.find("#name").await.prop("value").await.unwrap().unwrap(), "Kelp");
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn remedies_are_applied_orders_taken_and_units_changed() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/").await;
    browser.until_says(".panels", "turn grey where they meet").await;
    let link =
        "[...document.querySelectorAll('.panel-words h2 a')].find((a) => a.textContent.includes('Strings'))";
    browser.run(&format!("{link}.click()")).await;
    browser.until_kept().await;
    browser.until_says(".notes", "muddy").await;
    browser.until("an order", "document.querySelector('.two-orders .button')").await;
    browser.click(".two-orders .button").await;
    browser.until("no mud", "!document.querySelector('.notes').textContent.includes('muddy')").await;
    browser.until_kept().await;
    browser.run("document.activeElement.blur()").await;
    browser.find("body").await.send_keys("u").await.unwrap();
    browser.until_says(".notes", "muddy").await;
    browser.until("a remedy", "[...document.querySelectorAll('.remedy')].some((b) => b.offsetParent)").await;
    browser.run("[...document.querySelectorAll('.remedy')].find((b) => b.offsetParent).click()").await;
    browser.until("mended", "!document.querySelector('.notes').textContent.includes('muddy')").await;
    browser.until_kept().await;

    // The card changes size and the blend goes along; undo brings the old size back.
    browser.click(".pages a[href$='/card']").await;
    browser.until("5 1/2", "document.querySelector('[data-at=\"piece.width\"]')?.value === '5 1/2'").await;
    browser.write("[data-at='piece.width']", &format!("3.5 in{}", char::from(Key::Tab))).await;
    browser.until("3 1/2", "document.querySelector('[data-at=\"piece.width\"]')?.value === '3 1/2'").await;
    browser.until("kept", "document.querySelector('.status').textContent === 'kept'").await;
    browser.click("[data-undo]").await;
    browser.until("5 1/2", "document.querySelector('[data-at=\"piece.width\"]')?.value === '5 1/2'").await;
    browser.click(".pages a[href$='/blend']").await;
    browser.until_kept().await;

    // Another direction and another school, then millimetres.
    browser
        .run("const s = document.querySelector('#way'); s.value = '7'; s.dispatchEvent(new Event('change'))")
        .await;
    browser.until_says(".blend-told", "marked along both edges").await;
    browser.until("kept", "document.querySelector('.status').textContent === 'kept'").await;
    browser.click(".school:nth-of-type(3)").await;
    browser
        .until("all light first", "document.querySelector('.school:nth-of-type(3)').ariaChecked === 'true'")
        .await;
    browser.until("kept", "document.querySelector('.status').textContent === 'kept'").await;
    browser.click(".units button[value='millimetres']").await;
    browser.until("metric", "document.querySelector('[data-cell]')?.value.endsWith('mm')").await;
    browser.close().await;
}
