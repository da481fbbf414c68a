//! In a real browser: an evening planned, worked through by keyboard, with the program killed in its middle, on two devices.

use crate::desk::{Browser, Desk, sleep};
use fantoccini::key::Key;

/// The step that is read.
async fn where_to(browser: &Browser) -> String {
    browser.text(".doing-where").await
}

async fn until_step(browser: &Browser, step: usize) {
    browser.until_says(".doing-where", &format!("step {step} of")).await;
    browser.until("kept", "document.querySelector('.doing .status').textContent === 'kept'").await;
}

async fn key(browser: &Browser, key: Key) {
    browser.find("body").await.send_keys(&char::from(key).to_string()).await.unwrap();
}

/// Plans an evening of so many cards of a panel, and gives its address.
async fn planned(browser: &Browser, desk: &Desk, panel: &str, count: &str) -> String {
    let id = browser.panel(desk, panel).await;
    browser.go(desk, "/evenings").await;
    browser.write("#evening-name", "Thursday evening").await;
    browser.write(&format!("#count-{id}"), count).await;
    browser.click(".new-evening form button").await;
    browser.until("the thread", "document.querySelector('.thread-line')").await;
    browser.run("return location.pathname").await.as_str().unwrap().to_owned()
}

#[tokio::test(flavor = "multi_thread")]
async fn an_evening_planned_and_worked_by_keyboard_with_the_program_killed_in_its_middle() {
    let mut desk = Desk::new(true).await;
    let browser = Browser::new().await;
    // What cannot be is told by the form, and what was written stays.
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, "/evenings").await;
    browser.write(&format!("#count-{id}"), "many").await;
    browser.click(".new-evening form button").await;
    browser.until_says(".new-evening .wrong", "write a whole number").await;
    browser.until("kept", &format!("document.getElementById('count-{id}').value === 'many'")).await;
    let evening = planned(&browser, &desk, "Ebb at six", "2").await;
    browser.until_says(".evening-says", "2 cards in").await;
    browser.until_says(".evening-steps", "Tea-hut Lamp").await;
    // Less time: a card is left for another evening, and it is said which.
    browser.write("#minutes", "14").await;
    browser.click(".evening-says form button").await;
    browser.until_says(".evening-says", "For another evening").await;
    browser.run("document.querySelector('#minutes').value = ''").await;
    browser.click(".evening-says form button").await;
    browser.until_says(".evening-says", "2 cards in").await;

    browser.go(&desk, &format!("{evening}/bench")).await;
    browser.until_says("[data-done]", "Begin").await;
    key(&browser, Key::Enter).await;
    until_step(&browser, 1).await;
    browser.until_says("[data-done]", "Done").await;
    // Space, an arrow, and the key of a foot switch.
    key(&browser, Key::Space).await;
    until_step(&browser, 2).await;
    key(&browser, Key::Right).await;
    until_step(&browser, 3).await;
    key(&browser, Key::PageDown).await;
    until_step(&browser, 4).await;
    let before = where_to(&browser).await;
    key(&browser, Key::Space).await;
    until_step(&browser, 5).await;
    key(&browser, Key::Left).await;
    until_step(&browser, 4).await;
    assert_eq!(where_to(&browser).await, before, "taken back");

    // The program is killed: the hands go on, and all is told when it is there again.
    desk.kill();
    key(&browser, Key::Space).await;
    browser.until_says(".doing .status", "kept in this browser").await;
    browser.until_says(".doing-where", "step 5 of").await;
    key(&browser, Key::Space).await;
    browser.until_says(".doing-where", "step 6 of").await;
    // Even the page may be left meanwhile.
    desk.start_again();
    until_step(&browser, 6).await;
    // Nor is a step lost that is told while the database is stopped.
    desk.database_answers(false).await;
    key(&browser, Key::Space).await;
    browser.until_says(".doing .status", "kept in this browser").await;
    desk.database_answers(true).await;
    until_step(&browser, 7).await;
    // Another device sees the same.
    let cookies = browser.run("return document.cookie").await;
    assert_eq!(cookies.as_str(), Some(""), "no script reads the session");
    browser.go(&desk, &format!("{evening}/bench")).await;
    until_step(&browser, 7).await;
    let picture = "document.querySelector('.doing-picture img').naturalWidth > 100";
    browser.until("its picture", picture).await;
    browser.close().await;
}

/// Seconds from now to the end of the step that comes next.
const LASTS: &str = "const asked = new XMLHttpRequest(); \
    asked.open('GET', `/api${location.pathname.replace('/bench', '')}`, false); asked.send(); \
    const { now, steps } = JSON.parse(asked.responseText); \
    return Math.max(1, Math.round((steps[0].ends - now) / 1000))";

#[tokio::test(flavor = "multi_thread")]
async fn called_away_and_back_and_a_step_left_out() {
    let (desk, clock) = Desk::with_clock().await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, "/evenings").await;
    browser.write(&format!("#count-{id}"), "1").await;
    browser.write("#evening-room", "tea hut").await;
    browser.click(".new-evening form button").await;
    browser.until("the thread", "document.querySelector('.thread-line')").await;
    browser.until_says(".evening-says", "tea hut").await;
    let evening = browser.run("return location.pathname").await.as_str().unwrap().to_owned();
    browser.go(&desk, &format!("{evening}/bench")).await;
    browser.until_says("[data-done]", "Begin").await;
    key(&browser, Key::Space).await;
    until_step(&browser, 1).await;
    key(&browser, Key::Space).await;
    until_step(&browser, 2).await;
    let title = browser.text(".doing h1").await;
    browser.click("[data-away]").await;
    browser.until_says(".doing h1", "Away from the bench").await;
    browser.until_says(".doing-how", "goes on drying by itself").await;
    browser.until("kept", "document.querySelector('.doing .status').textContent === 'kept'").await;
    // It lasts through a reload, and half an hour later any key is back.
    browser.go(&desk, &format!("{evening}/bench")).await;
    browser.until_says("[data-done]", "Back at the bench").await;
    clock.is_ahead(1800);
    key(&browser, Key::Space).await;
    browser.until_says(".doing-said", "planned anew from now").await;
    browser.until_says(".doing h1", &title).await;
    // Left out, it is not made: as many steps are done as before.
    let all = browser.text(".doing-where").await;
    browser.click("[data-skip]").await;
    browser.until_says(".doing-said", "Left out").await;
    until_step(&browser, 2).await;
    assert_ne!(browser.text(".doing-where").await, all);
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_photo_sent_while_the_database_is_stopped_is_told_and_sent_again() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/made").await;
    browser.click(".made-cards a").await;
    browser.until("its page", "document.querySelector('[data-send]')").await;
    let folder = crate::desk::scratch("photos");
    std::fs::create_dir_all(&folder).unwrap();
    let photo = folder.join("card.png");
    let id = browser.run("return location.pathname").await.as_str().unwrap().to_owned();
    std::fs::write(&photo, desk.fetch(&format!("{id}/picture.png"), "")).unwrap();
    desk.database_answers(false).await;
    browser.find("[data-send]").await.send_keys(photo.to_str().unwrap()).await.unwrap();
    browser.until("it is told", "document.querySelector('.sends .wrong')?.textContent.length > 20").await;
    desk.database_answers(true).await;
    browser.find("[data-send]").await.send_keys(photo.to_str().unwrap()).await.unwrap();
    browser.until_says(".record-seen", "as it came out").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_goes_wrong_is_told_at_one_press_and_the_rest_is_planned_anew() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let evening = planned(&browser, &desk, "Ebb at six", "2").await;
    browser.go(&desk, &format!("{evening}/bench")).await;
    browser.until_says("[data-done]", "Begin").await;
    key(&browser, Key::Enter).await;
    for step in 1..4 {
        until_step(&browser, step).await;
        key(&browser, Key::Space).await;
    }
    until_step(&browser, 4).await;
    let wrong = |fault: &str| {
        format!(
            "document.querySelector('.doing-wrong').open = true; document.querySelector('[data-fault=\"{fault}\"]').click()"
        )
    };
    browser.run(&wrong("too-pale")).await;
    browser.until_says(".doing-said", "One light pass more comes next").await;
    browser.until("kept", "document.querySelector('.doing .status').textContent === 'kept'").await;
    browser.click("[data-damp]").await;
    browser.until_says(".doing-said", "half as long again").await;
    browser.run(&wrong("spilt")).await;
    browser.until_says(".doing-said", "set aside").await;
    sleep(300).await;
    browser.until("kept", "document.querySelector('.doing .status').textContent === 'kept'").await;
    let name = where_to(&browser).await;
    // Only the other card is left, to its end.
    for _ in 0..60 {
        if browser.text(".doing h1").await == "All done" {
            break;
        }
        assert!(where_to(&browser).await.contains(name.split(" · ").nth(1).unwrap()));
        key(&browser, Key::Space).await;
        browser.until("kept", "document.querySelector('.doing .status').textContent === 'kept'").await;
    }
    browser.until_says(".doing h1", "All done").await;
    // The evening as a file: what was told is in it.
    let file = browser
        .run(&format!("const r = new XMLHttpRequest(); r.open('GET', '{evening}/evening.json', false); r.send(); return r.responseText"))
        .await;
    let file: serde_json::Value = serde_json::from_str(file.as_str().unwrap()).unwrap();
    assert!(file["log"].as_array().unwrap().iter().any(|told| told["what"]["went"]["fault"] == "spilt"));
    let calendar = browser
        .run(&format!("const r = new XMLHttpRequest(); r.open('GET', '{evening}/evening.ics', false); r.send(); return r.responseText"))
        .await;
    assert!(calendar.as_str().unwrap().starts_with("BEGIN:VCALENDAR\r\n"));
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_was_made_is_found_written_of_and_made_again() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/made").await;
    browser.until("a dozen", "document.querySelectorAll('[data-made] li').length === 12").await;
    browser.write("#find", "string menders muddy").await;
    browser.click(".find-made button").await;
    browser.until("the one", "document.querySelectorAll('[data-made] li').length === 1").await;
    browser.click(".made-cards a").await;
    browser.until_says(".record-list", "went muddy").await;
    browser.write("#note", "Fewer passes in the join.").await;
    browser.click(".record-form button").await;
    browser.until("kept", "document.querySelector('#note').value.startsWith('Fewer')").await;
    browser.go(&desk, "/made?find=fewer+passes").await;
    browser.until("found by its note", "document.querySelectorAll('[data-made] li').length === 1").await;
    browser.click(".made-cards a").await;
    browser.until("its record", "document.querySelector('.record')").await;
    browser.click("form[action$='/again'] button").await;
    browser.until("a new panel", "location.pathname.endsWith('/card')").await;
    browser.until_says("h1", "Ebb at six, again").await;
    // The finished cards of an evening go into the record, each once.
    browser.go(&desk, "/evenings").await;
    browser.click(".evenings a").await;
    browser.until("the thread", "document.querySelector('.thread-line')").await;
    browser.close().await;
}

/// A whole evening by keyboard alone: cut, worked to its end, put into the record, with a photo of how it came out.
#[tokio::test(flavor = "multi_thread")]
async fn a_whole_evening_by_keyboard_alone_ends_in_the_record_with_a_photo() {
    let (desk, clock) = Desk::with_clock().await;
    let browser = Browser::new().await;
    let mut gone = 0;
    let enter_on = async |css: &str| {
        browser.run(&format!("document.querySelector({css:?}).focus()")).await;
        browser.find(css).await.send_keys(&char::from(Key::Enter).to_string()).await.unwrap();
    };
    let evening = planned(&browser, &desk, "Ebb at six", "2").await;
    enter_on("form[action$='/cut'] button").await;
    browser.until_says(".batch-list", "Ebb at six: panel").await;
    browser.go(&desk, &format!("{evening}/bench")).await;
    browser.until_says("[data-done]", "Begin").await;
    key(&browser, Key::Space).await;
    let mut step = 1;
    loop {
        until_step(&browser, step).await;
        // As long as it takes by the plan, on a clock that goes as fast as it is told to.
        gone += browser.run(LASTS).await.as_i64().expect("how long it takes");
        clock.is_ahead(gone);
        key(&browser, Key::Space).await;
        step += 1;
        let goes_on = format!(
            "const where = document.querySelector('.doing-where').textContent; const is = document.querySelector('.doing h1').textContent; \
             return where.includes('step {step} of') || is === 'All done'"
        );
        browser.until("the next step", &format!("(() => {{ {goes_on} }})()")).await;
        if browser.text(".doing h1").await == "All done" {
            break;
        }
        assert!(step < 120, "it comes to an end");
    }
    assert!(step > 20, "{step} steps of two cards");
    browser.until("kept", "document.querySelector('.doing .status').textContent === 'kept'").await;
    browser.go(&desk, &evening).await;
    enter_on("form[action$='/made'] button").await;
    browser.until_says(".made-cards", "Ebb at six").await;
    enter_on(".made-cards a").await;
    browser.until_says(".record-says", "from the first step to the last").await;
    let says = browser.text(".record-says").await;
    assert!((900..6 * 3600).contains(&gone), "{gone} s of two cards");
    assert!(says.contains("minutes") || says.contains("hour"), "{says}");
    // What is no photo is told at its place; a photo is shown beside what was planned.
    let folder = crate::desk::scratch("photos");
    std::fs::create_dir_all(&folder).unwrap();
    let (none, photo) = (folder.join("note.jpg"), folder.join("card.png"));
    std::fs::write(&none, "no photo").unwrap();
    let id = browser.run("return location.pathname").await.as_str().unwrap().to_owned();
    let cookie = browser.run("return document.cookie").await;
    let drawn = desk.fetch(&format!("{id}/picture.png"), cookie.as_str().unwrap_or_default());
    std::fs::write(&photo, drawn).unwrap();
    browser.find("[data-send]").await.send_keys(none.to_str().unwrap()).await.unwrap();
    browser.until_says(".sends .wrong", "no photo that can be read").await;
    browser.find("[data-send]").await.send_keys(photo.to_str().unwrap()).await.unwrap();
    browser.until_says(".record-seen", "as it came out").await;
    enter_on("form[action$='/no-photo'] button").await;
    browser.until_says(".sends", "Put a photo to it").await;
    browser.close().await;
}
