//! In a real browser: what is done at once, quickly, in two tabs or with half a mind, and where the focus is afterwards.

use crate::desk::{Browser, Desk, Visit};
use fantoccini::key::Key;
use serde_json::{Value, json};

async fn until_kept(browser: &Browser) {
    browser.until("kept", "document.querySelector('.status')?.textContent === 'kept'").await;
}

/// What the element with the focus is called.
async fn focus(browser: &Browser) -> String {
    let name = "const e = document.activeElement; return e.ariaLabel || e.textContent.trim().slice(0, 60) || e.id || e.tagName";
    browser.run(name).await.as_str().unwrap_or_default().to_owned()
}

#[tokio::test(flavor = "multi_thread")]
async fn ticks_of_two_tabs_are_ticks_of_one_panel() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    let sheet = format!("/panels/{id}/sheet");
    browser.go(&desk, &sheet).await;
    browser.find(".tick").await;
    let first = browser.client.window().await.unwrap();
    let second = browser.client.new_window(true).await.unwrap().handle;
    browser.client.switch_to_window(second.clone()).await.unwrap();
    browser.go(&desk, &sheet).await;
    browser.click(".step:nth-of-type(1) button.tick").await;
    until_kept(&browser).await;
    browser.client.switch_to_window(first).await.unwrap();
    browser.click(".step:nth-of-type(2) button.tick").await;
    until_kept(&browser).await;
    browser.until_says(".sheet-head", "Step 3 of").await;
    browser.until_says(".notice", "both changes are in it").await;
    browser.go(&desk, "/").await;
    assert_eq!(
        browser.run("return document.querySelectorAll('.panel-row').length").await,
        11,
        "no second panel"
    );
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_change_that_waits_takes_nothing_back_that_was_merged_before_it() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    browser.find(".tick").await;
    // Another tab renames the panel; this one does not know.
    let visit = Visit::new(&desk);
    let headers = [("Cookie", visit.cookie.as_str()), ("X-Rosy-Token", visit.token.as_str())];
    let form = visit.form("name=Ebb+at+seven");
    assert_eq!(desk.send("POST", &format!("/panels/{id}/name"), &headers, &form).0, 303);
    // Three ticks faster than any answer: the first is merged, the others were made upon it.
    browser
        .run("for (const tick of [...document.querySelectorAll('button.tick')].slice(0, 3)) tick.click()")
        .await;
    let state = || {
        let (_, _, said) = desk.send("GET", &format!("/api/panels/{id}"), &headers, "");
        serde_json::from_str::<Value>(&said).unwrap()["panel"].clone()
    };
    browser.until_says(".sheet-head", "Step 4 of").await;
    until_kept(&browser).await;
    assert_eq!((&state()["done"], &state()["name"]), (&json!(3), &json!("Ebb at seven")));
    browser.go(&desk, "/").await;
    assert_eq!(browser.run("return document.querySelectorAll('.panel-row').length").await, 11);
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn one_more_pass_leaves_the_ticks_and_says_what_changes() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Tea-hut stripes").await;
    browser.go(&desk, &format!("/panels/{id}/blend")).await;
    browser.until_kept().await;
    browser.click(".numbers tbody tr:nth-of-type(4) .stepper button:last-child").await;
    browser.until_says(".notice", "5 steps already done stay done").await;
    browser.until_says(".notice", "new from step 6").await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    browser.until_says(".sheet-head", "Step 6 of").await;
    // Turned, what was laid is no part of the plan: said, and one press brings both back.
    browser.go(&desk, &format!("/panels/{id}/blend")).await;
    browser.until_kept().await;
    let turn =
        "const s = document.querySelector('#way'); s.value = '0'; s.dispatchEvent(new Event('change'))";
    browser.run(turn).await;
    browser.until_says(".notice", "all steps are open again").await;
    let passes = "document.querySelector('.numbers tbody tr:nth-of-type(4) output').textContent";
    browser.until("passes set by hand are carried over", &format!("{passes} === '8'")).await;
    browser.click("[data-undo]").await;
    browser.until("turned back", "document.querySelector('#way').value === '1'").await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    browser.until_says(".sheet-head", "Step 6 of").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn quick_presses_are_all_taken_in_their_order() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/").await;
    browser.click(".new-panel summary").await;
    browser.click(".size-button").await;
    browser.find(".strip-button[data-name='Cockle']").await;
    // Faster than any answer.
    let names = ["Cockle", "Marram", "First Tide", "Mussel"];
    browser
        .run(&format!(
            "for (const name of {}) document.querySelector(`.strip-button[data-name='${{name}}']`).click()",
            json!(names)
        ))
        .await;
    let chosen = "[...document.querySelectorAll('.chosen-ink .ink-name')].map((e) => e.textContent).join()";
    browser.until("all four", &format!("{chosen} === '{}'", names.join(","))).await;
    until_kept(&browser).await;

    // Moved up twice by the same press: the focus stays with the ink, not with the row.
    browser.run("document.querySelector('[data-move=\"Mussel up\"]').focus()").await;
    for order in ["Cockle,Marram,Mussel,First Tide", "Cockle,Mussel,Marram,First Tide"] {
        browser.run("document.activeElement.click()").await;
        browser.until(order, &format!("{chosen} === '{order}'")).await;
        browser.until("the focus", "document.activeElement.ariaLabel === 'Move Mussel up'").await;
    }
    browser.click("button[aria-label='Put Cockle back']").await;
    browser.until("three", &format!("{chosen} === 'Mussel,Marram,First Tide'")).await;
    browser.until("the focus stays here", "document.activeElement.id === 'chosen-title'").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn two_counts_are_kept_as_they_are_written() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/stock").await;
    for (row, count) in [(1, "17"), (2, "9")] {
        browser
            .write(
                &format!(".stock-list ul:first-of-type .stock-row:nth-of-type({row}) .count"),
                &format!("{count}{}", char::from(Key::Tab)),
            )
            .await;
    }
    browser.until("told", "!document.querySelector('[data-replan]').hidden").await;
    browser.until("both kept", "document.querySelectorAll('[data-kept]').length === 2").await;
    browser
        .write(
            ".stock-list ul:first-of-type .stock-row:nth-of-type(3) .count",
            &format!("many{}", char::from(Key::Tab)),
        )
        .await;
    browser
        .until_says(
            ".stock-list ul:first-of-type .stock-row:nth-of-type(3) .wrong",
            "“many” is no number of sheets",
        )
        .await;
    browser.client.refresh().await.unwrap();
    let counts = "[...document.querySelectorAll('.stock-list ul:first-of-type .count')].map((e) => e.value)";
    let counts = browser.run(&format!("return {counts}")).await;
    assert_eq!((&counts[0], &counts[1], &counts[2]), (&json!("17"), &json!("9"), &json!("5")));

    // After a removal the focus is on the next row, after its undoing on undo's own place.
    browser.click(".stock-row button[aria-label='Remove Mist card, A4']").await;
    browser.until_says(".undo-bar", "remove Mist card, A4").await;
    assert_eq!(focus(&browser).await, "Remove Oatmeal card, large");
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_list_of_inks_is_told_before_it_is_taken() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/drawer").await;
    let file = std::env::temp_dir().join(format!("rosy-inks-{}.csv", std::process::id()));
    // As an older program writes it: semicolons, Western letters, a column of its own.
    std::fs::write(&file, b"Name;Color;Kind;Shop\nRos\xe9;#d8456b;dye;Tea hut\nCockle;#d65c90;dye;\nMussel;44 32 -42;dye;\n;#445544;dye;\nKelp;greenish;dye;\n").unwrap();
    let input = browser.find("[data-brings]").await;
    input.send_keys(file.to_str().unwrap()).await.unwrap();
    browser.until_says(".brought", "1 ink new, 2 changed").await;
    for says in ["New: Rosé", "Left out: Shop", "not saved as UTF-8", "Row 5, name", "Row 6, colour"] {
        browser.until_says(".brought", says).await;
    }
    assert!(!browser.text("#shelves").await.contains("Rosé"), "nothing is taken yet");
    browser.run("[...document.querySelectorAll('.brought button')].find((b) => b.textContent === 'Only the new').click()").await;
    browser.until_says("#shelves", "Rosé").await;
    browser.until_says(".undo-bar", "read 1 ink from a file").await;
    std::fs::remove_file(file).unwrap();
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_changed_ink_is_offered_to_the_panels_that_use_it() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, "/drawer?search=cockle").await;
    browser.click("#shelves .strip-button").await;
    // The strip and the picker follow what is written.
    let strip = "document.querySelector('[data-strip]').innerHTML";
    browser.until("a strip", &format!("{strip}.includes('svg')")).await;
    let before = browser.run(&format!("return {strip}")).await;
    browser.write("#colour", "teal").await;
    browser
        .until("the picker follows", "document.querySelector('[data-sets=colour]').value === '#008080'")
        .await;
    assert_ne!(browser.run(&format!("return {strip}")).await, before);
    browser.until_says("[data-meets]", "with").await;
    browser.click(".fields .strong").await;
    browser.until_says("#panels", "Ebb at six").await;
    browser.until_says("#panels", "Tea-hut stripes").await;
    browser.click("#panels .button").await;
    browser.until_says(".notice", "Cockle is in the drawer").await;
    let visit = Visit::new(&desk);
    let (_, _, state) =
        desk.send("GET", &format!("/panels/{id}/panel.json"), &[("Cookie", &visit.cookie)], "");
    let kept: Value = serde_json::from_str(&state).unwrap();
    assert_eq!(kept["inks"][1]["colour"], json!({ "srgb": "#008080" }));
    // Each panel takes it back by itself.
    browser.go(&desk, &format!("/panels/{id}/blend")).await;
    browser.until_kept().await;
    browser
        .until(
            "undo says it",
            "document.querySelector('[data-undo]').title === 'change Cockle as in the drawer'",
        )
        .await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_focus_follows_what_was_done() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Strings over the flats").await;
    browser.go(&desk, &format!("/panels/{id}/blend")).await;
    browser.until_kept().await;
    browser.until("a remedy", "[...document.querySelectorAll('.remedy')].some((b) => b.offsetParent)").await;
    browser.run("const b = [...document.querySelectorAll('.remedy')].find((b) => b.offsetParent); b.focus(); b.click()").await;
    browser.until("on its note", "document.activeElement.classList.contains('note-title')").await;
    browser.until_kept().await;
    // From what is pressed no letter leaves the page, and Ctrl Z takes back.
    browser.run("document.querySelector('.stepper button').focus()").await;
    let on = browser.find(".stepper button").await;
    on.send_keys("b").await.unwrap();
    assert!(browser.run("return location.pathname").await.as_str().unwrap().ends_with("/blend"));
    on.send_keys(&format!("{}z{}", char::from(Key::Control), char::from(Key::Null))).await.unwrap();
    browser.until_says(".notes", "muddy").await;
    // Radios follow the arrows; handles know their ends.
    browser.run("document.querySelector('[role=radio][aria-checked=true]').focus()").await;
    browser
        .client
        .active_element()
        .await
        .unwrap()
        .send_keys(&char::from(Key::Down).to_string())
        .await
        .unwrap();
    browser.until("the next school", "document.activeElement.getAttribute('role') === 'radio' && document.activeElement.ariaChecked === 'true' && document.activeElement.textContent.includes('dark to light')").await;
    until_kept(&browser).await;
    browser.run("document.querySelector(\"[data-hill='1']\").focus()").await;
    let handle = browser.find("[data-handle='1-full_to']").await;
    handle.send_keys(&char::from(Key::End).to_string()).await.unwrap();
    browser.until("as far as it goes", "document.querySelector('[data-cell=\"1-full_to\"]').value === document.querySelector('[data-cell=\"1-ends\"]').value").await;
    until_kept(&browser).await;

    // Layers that change places keep their details open and the focus.
    browser.go(&desk, &format!("/panels/{id}/card")).await;
    browser.until("drawn", "document.querySelector('.drawing svg')").await;
    let press = |words: &str| {
        format!(
            "[...document.querySelectorAll('.card-fields button')].find((b) => b.offsetParent && b.textContent.trim() === {}).click()",
            json!(words)
        )
    };
    browser.run(&press("Add a mat under the panel")).await;
    browser.until("two", "document.querySelectorAll('.layer').length === 2").await;
    browser
        .until(
            "the new one is open",
            "[...document.querySelectorAll('.layer details')].filter((d) => d.open).length === 1",
        )
        .await;
    browser.run("document.querySelector('.layer details[open] [data-does$=\" up\"]').click()").await;
    browser.until("on top", "document.querySelector('.layer .layer-name').textContent === 'Mat'").await;
    browser.until("the focus goes along", "document.activeElement.dataset.does === 'Mat 0 up'").await;
    assert_eq!(browser.run("return document.activeElement.closest('details').open").await, true);
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_to_be_seen_is_brought_into_view() {
    let desk = Desk::new(true).await;
    let browser = Browser::sized(820, 1180).await;
    let id = browser.panel(&desk, "Lamp on the groyne").await;
    browser.go(&desk, &format!("/panels/{id}/card")).await;
    browser.until("drawn", "document.querySelector('.drawing svg')").await;
    browser
        .run("[...document.querySelectorAll('button')].find((b) => b.textContent === 'Point at it').click()")
        .await;
    let in_view = |css: &str| {
        format!(
            "(() => {{ const r = document.querySelector('{css}').getBoundingClientRect(); return r.top > -1 && r.top < innerHeight }})()"
        )
    };
    browser.until("the piece", &in_view(".drawing.pointing")).await;
    // The sixth ink is refused where it can be read.
    let id = browser.panel(&desk, "Tea-hut stripes").await;
    browser.go(&desk, &format!("/panels/{id}/inks")).await;
    for name in ["Marram", "Thrift"] {
        browser.click(&format!(".strip-button[data-name='{name}']")).await;
        until_kept(&browser).await;
    }
    browser.until_says(".notice", "two to five inks").await;
    browser.until("the notice", &in_view(".notice")).await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn panels_and_benches_are_renamed_copied_removed_and_brought_back() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    let rename = format!("[name=name]#name-{id}");
    browser.run(&format!("document.querySelector('{rename}').closest('details').open = true")).await;
    browser.write(&rename, &format!("Ebb at seven{}", char::from(Key::Enter))).await;
    browser.until_says(".panels", "Ebb at seven").await;
    browser.until_says(".undo-bar", "rename Ebb at six").await;
    browser.click("[data-undo]").await;
    browser.until_says(".panels", "Ebb at six").await;
    browser.click("button[aria-label='Copy Ebb at six']").await;
    browser.until_says(".panels", "Ebb at six, copy").await;
    for name in ["Ebb at six", "Ebb at six, copy"] {
        browser.click(&format!("button[aria-label='Remove {name}']")).await;
        browser.until_says(".undo-bar", &format!("remove {name}")).await;
    }
    browser.click(".removed summary").await;
    browser.click("button[aria-label='Bring Ebb at six back']").await;
    browser
        .until(
            "back, whatever was done since",
            "[...document.querySelectorAll('h2 a')].some((a) => a.textContent === 'Ebb at six')",
        )
        .await;

    browser.go(&desk, "/benches").await;
    browser.write("#bench-name", &format!("String menders{}", char::from(Key::Enter))).await;
    browser.until_says(".bench-name", "String menders").await;
    browser.until_says("main", "Two are enough to begin").await;
    browser.until_says("main", "Say which card").await;
    browser.go(&desk, "/benches").await;
    browser.click("button[aria-label='Remove Kite-day bench']").await;
    browser.until_says("main", "Removed, with everything on them").await;
    browser.click("button[aria-label='Bring Kite-day bench back']").await;
    browser.until("two", "document.querySelectorAll('.benches')[0].children.length === 2").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn card_tools_and_envelopes_are_the_makers_own() {
    let desk = Desk::new(false).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/drawer/papers/new").await;
    browser.write("#name", "Tern heavy").await;
    browser.write("#thickness", "heavy").await;
    browser.click(".fields .strong").await;
    browser.until_says("#wrong-thickness", "“heavy” is not a length").await;
    browser.write("#thickness", "110 lb").await;
    browser.click(".fields .strong").await;
    browser.until_says("#papers", "very smooth, 0.012 in (0.3 mm) thick").await;
    browser.go(&desk, "/drawer/tools/new").await;
    browser.write("#name", "Pinks brush").await;
    browser.click(".fields .strong").await;
    browser.until_says("#tools", "Pinks brush").await;
    browser.go(&desk, "/drawer/envelopes/new").await;
    browser.write("#name", "Tern envelopes").await;
    browser.write("#width", "4 3/8").await;
    browser.write("#height", "5 5/8").await;
    browser.click(".fields .strong").await;
    browser.until_says("#envelopes", "Tern envelopes").await;

    // A new panel is planned on them, and goes into the envelope.
    browser.go(&desk, "/").await;
    browser.click(".size-button").await;
    // The drawer is empty: the way leads to the first ink and back.
    browser.click(".empty a.strong").await;
    browser.write("#name", "Cockle").await;
    browser.write("#colour", "#d65c90").await;
    browser.click(".fields .strong").await;
    browser.until_says(".drawer-side", "Cockle").await;
    let card = browser.run("return document.querySelector('.pages a[href$=\"/card\"]').pathname").await;
    browser.go(&desk, card.as_str().unwrap()).await;
    browser.until_says(".card-fields", "Tern envelopes").await;
    browser
        .until(
            "its card",
            "document.querySelector('#paper').selectedOptions[0].textContent.includes('Tern heavy')",
        )
        .await;

    // Foam of one's own thickness.
    let hold = "const s = document.querySelector('.layer select[id$=\".mount\"]'); s.value = 'foam 1'; s.dispatchEvent(new Event('change'))";
    browser.run(hold).await;
    browser
        .until("a field for it", "document.querySelector('[data-at=\"card.layers.0.mount.foam.thick\"]')")
        .await;
    browser.run("document.querySelectorAll('.layer details').forEach((d) => (d.open = true))").await;
    browser
        .write("[data-at='card.layers.0.mount.foam.thick']", &format!("1.5 mm{}", char::from(Key::Tab)))
        .await;
    until_kept(&browser).await;
    browser.until_says("#thickness", "(2.4 mm)").await;

    // Changed, removed and undone like an ink.
    browser.go(&desk, "/drawer").await;
    browser.click("#tools a").await;
    browser.run("[...document.querySelectorAll('button')].find((b) => b.textContent.startsWith('Remove it')).click()").await;
    browser.until_says(".undo-bar", "remove Pinks brush").await;
    browser.click("[data-undo]").await;
    browser.until_says("#tools", "Pinks brush").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn renaming_renames_and_every_size_offered_has_a_card_it_fits() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let visit = Visit::new(&desk);
    let headers = [("Cookie", visit.cookie.as_str()), ("X-Rosy-Token", visit.token.as_str())];
    // A panel that says nothing of its card says nothing of it after its renaming on the card's own page either.
    let (_, _, file) = desk.send("GET", &format!("/panels/{}/panel.json", visit.panel), &headers, "");
    let mut bare: Value = serde_json::from_str(&file).unwrap();
    bare.as_object_mut().unwrap().remove("card");
    let (_, _, said) = desk.send("POST", "/api/panels", &headers, &bare.to_string());
    let id = serde_json::from_str::<Value>(&said).unwrap()["id"].as_str().unwrap().to_owned();
    browser.go(&desk, &format!("/panels/{id}/card")).await;
    browser.until("drawn", "document.querySelector('.drawing svg')").await;
    browser.write("[data-at='name']", &format!("Ebb at nine{}", char::from(Key::Tab))).await;
    until_kept(&browser).await;
    browser.until("kept", "!document.querySelector('[data-undo]').disabled").await;
    let (_, _, file) = desk.send("GET", &format!("/panels/{id}/panel.json"), &headers, "");
    let renamed: Value = serde_json::from_str(&file).unwrap();
    assert_eq!(renamed["name"], "Ebb at nine");
    assert!(renamed.get("card").is_none(), "renaming only renames");

    for units in ["inches", "millimetres"] {
        desk.send("POST", "/units", &headers, &visit.form(&format!("units={units}&back=/")));
        let (_, _, page) = desk.send("GET", "/", &headers, "");
        let field = |form: &str, name: &str| {
            let value = form.split(&format!("name=\"{name}\" value=\"")).nth(1).unwrap();
            value.split('"').next().unwrap().replace(' ', "+")
        };
        let forms: Vec<&str> = page.split("id=\"size-").skip(1).collect();
        assert_eq!(forms.len(), 4);
        for form in forms {
            let size = format!("width={}&height={}", field(form, "width"), field(form, "height"));
            let (status, head, _) = desk.send("POST", "/panels", &headers, &visit.form(&size));
            assert_eq!(status, 303, "{size}");
            let id = head.split("/panels/").nth(1).and_then(|rest| rest.split('/').next()).unwrap();
            let (_, _, state) = desk.send("GET", &format!("/api/panels/{id}"), &headers, "");
            let panel = serde_json::from_str::<Value>(&state).unwrap()["panel"].clone();
            let asked = json!({ "panel": panel, "dpi": 40, "settled": true }).to_string();
            let (_, _, look) = desk.send("POST", "/api/panels/card", &headers, &asked);
            let look: Value = serde_json::from_str(&look).unwrap();
            assert!(
                look["trim"]["refusal"].is_null() && look["inking"]["piece"].is_null(),
                "{size}: {}",
                look["inking"]
            );
        }
    }
    browser.close().await;
}

/// A change taken back at once, while what mends it is still being worked out: what is shown is what stands there.
#[tokio::test(flavor = "multi_thread")]
async fn a_change_taken_back_before_all_is_told_of_it_is_not_shown_any_more() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Strings over the flats").await;
    browser.go(&desk, &format!("/panels/{id}/blend")).await;
    browser.until("a remedy", "[...document.querySelectorAll('.remedy')].some((b) => b.offsetParent)").await;
    browser.until_kept().await;
    // As soon as the change is shown, and not when its remedies have come; it is kept by then.
    browser
        .run(
            "window.before = document.querySelector('img.picture').src; \
             [...document.querySelectorAll('.deeds button')].find((b) => b.textContent === 'One more round').click(); \
             const hand = setInterval(() => { if (document.querySelector('img.picture').src === window.before) return; \
               clearInterval(hand); window.kept = document.querySelector('.status').textContent === 'kept'; \
               document.querySelector('[data-undo]').click(); window.undone = true; }, 4)",
        )
        .await;
    browser.until("taken back", "window.undone").await;
    assert_eq!(browser.run("return window.kept").await, true, "kept first, drawn second");
    browser.until("as it was", "document.querySelector('img.picture').src === window.before").await;
    browser.until_kept().await;
    assert_eq!(browser.run("return document.querySelector('img.picture').src === window.before").await, true);
    browser.close().await;
}

/// What waits in a browser from before each change was sent as one is still made, whichever page of the panel is opened next.
#[tokio::test(flavor = "multi_thread")]
async fn what_waited_in_earlier_ways_is_made_by_any_page_of_the_panel() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Lamp on the groyne").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    browser.until("drawn", "document.querySelector('.sentence')").await;
    let visit = Visit::new(&desk);
    let headers = [("Cookie", visit.cookie.as_str()), ("X-Rosy-Token", visit.token.as_str())];
    let state = || {
        let (_, _, said) = desk.send("GET", &format!("/api/panels/{id}"), &headers, "");
        serde_json::from_str::<Value>(&said).unwrap()
    };
    let before = state();
    let mut named = before["panel"].clone();
    named["name"] = "Lamp at noon".into();
    let save = json!({
        "address": format!("/api/panels/{id}"),
        "body": {
            "label": "name it", "panel": named, "base": before["panel"], "revision": before["revision"],
            "mark": "00000000-0000-4000-8000-000000000001",
        },
    });
    let bends = json!([{ "change": { "veils": { "field": 0, "by": 1 } }, "kept": true, "settled": false, "blend": 0 }]);
    let things = json!([
        { "change": { "nudge": { "thing": 0, "right": 2, "down": 0 } }, "kept": true, "settled": true },
        { "change": { "remove": 1 }, "settled": true },
    ]);
    browser
        .run(&format!(
            "const bench = document.querySelector('meta[name=\"rosy-bench\"]').content;
             const name = `rosy-veil bench ${{bench}} panel {id}`;
             localStorage.setItem(name, JSON.stringify({save}));
             localStorage.setItem(`${{name}} bends ${{crypto.randomUUID()}}`, JSON.stringify({bends}));
             localStorage.setItem(`${{name}} things`, JSON.stringify({things}))"
        ))
        .await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    until_kept(&browser).await;
    let after = state();
    let field = |state: &Value| state["panel"]["scene"]["ground"][0]["fields"][0]["veils"].as_u64();
    let things = |state: &Value| state["panel"]["scene"]["things"].as_array().map(Vec::len);
    assert_eq!(after["panel"]["name"], "Lamp at noon");
    assert_eq!(field(&after), field(&before).map(|veils| veils + 1));
    assert_ne!(after["panel"]["scene"]["things"][0]["at"], before["panel"]["scene"]["things"][0]["at"]);
    assert_eq!(things(&after), things(&before), "what was only looked at is not kept");
    browser
        .until("nothing waits", "Object.keys(localStorage).every((key) => !key.includes(' panel '))")
        .await;
    browser.close().await;
}
