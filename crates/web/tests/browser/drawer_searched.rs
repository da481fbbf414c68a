//! In a real browser: several blends on a panel bent by mouse and by keyboard, wishes to begin with, a muddy join mended by
//! an ink of the drawer, and the meetings of the whole drawer walked to a new panel.

use crate::desk::{Browser, Desk};
use fantoccini::key::Key;

async fn press(browser: &Browser, css: &str, keys: &[Key]) {
    let text: String = keys.iter().map(|key| char::from(*key)).collect();
    browser.find(css).await.send_keys(&text).await.unwrap_or_else(|error| panic!("{css}: {error}"));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_glow_is_placed_by_mouse_keyboard_and_number_and_a_rim_laid_over_it() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/blend")).await;
    browser.until_kept().await;
    let glow = "[...document.querySelectorAll('#way option')].find((o) => o.textContent === 'a glow').value";
    browser
        .run(&format!(
            "const s = document.querySelector('#way'); s.value = {glow}; s.dispatchEvent(new Event('change'))"
        ))
        .await;
    browser.until("three grips", "document.querySelectorAll('.grip').length === 3").await;
    browser.until_kept().await;
    let left = "document.querySelector('[data-measure=\"left\"]').value";
    browser.until("in the middle", &format!("{left} === '2 in'")).await;
    // Every press counts, however fast.
    press(&browser, "[data-grip='centre']", &[Key::Right; 4]).await;
    browser.until("a quarter of an inch on", &format!("{left} === '2 1/4 in'")).await;
    browser.until_kept().await;
    browser.write("[data-measure='across']", "1 in").await;
    press(&browser, "[data-measure='across']", &[Key::Tab]).await;
    browser.until("an oval", "document.querySelector('[data-measure=\"across\"]').value === '1 in'").await;
    browser.until_kept().await;
    browser.write("[data-measure='across']", "much").await;
    press(&browser, "[data-measure='across']", &[Key::Tab]).await;
    browser
        .until("says why", "document.querySelector('.way-measure .wrong:not([style*=none])')?.textContent")
        .await;
    // By hand on the picture.
    let before = browser.picture().await;
    browser.drag("[data-grip='centre']", -60, 40).await;
    browser.until_kept().await;
    assert!(before != browser.picture().await, "dragging the centre changes the picture");
    assert!(browser.run(&format!("return {left}")).await.as_str() != Some("2 1/4 in"));

    // A rim over it, of an ink that is there already; then away again.
    browser.run("document.querySelector('.adding').open = true").await;
    browser.click(".adding-form .strong").await;
    browser.until("two blends", "document.querySelectorAll('.blend-line[data-blend]').length === 2").await;
    browser.until_kept().await;
    browser.until_says(".blends", "from the edges in").await;
    browser.run("[...document.querySelectorAll('.deeds .button')].find((b) => b.textContent === 'Take this blend away').click()").await;
    browser.until("one blend", "document.querySelectorAll('.blend-line[data-blend]').length === 1").await;
    browser.until_kept().await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_hill_moves_as_a_whole_and_no_handle_covers_another() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Tea-hut stripes").await;
    browser.go(&desk, &format!("/panels/{id}/blend")).await;
    browser.until_kept().await;
    for hill in 0..4 {
        browser.click(&format!("[data-hill='{hill}']")).await;
        browser
            .until(
                "its handles",
                &format!("document.querySelector('.handle').dataset.handle.startsWith('{hill}-')"),
            )
            .await;
        let covered = browser
            .run(
                "const all = [...document.querySelectorAll('.handle')].map((h) => h.getBoundingClientRect());
                 const middle = (r) => [r.x + r.width / 2, r.y + r.height / 2];
                 return all.some((one, n) => all.some((other, m) => {
                   const [x, y] = middle(other);
                   return n !== m && Math.hypot(middle(one)[0] - x, middle(one)[1] - y) < 43;
                 }))",
            )
            .await;
        assert_eq!(covered, false, "hill {hill}");
    }
    let cell = |measure: &str| format!("document.querySelector('[data-cell=\"1-{measure}\"]').value");
    let before = browser.run(&format!("return [{}, {}]", cell("starts"), cell("ends"))).await;
    press(&browser, "[data-hill='1']", &[Key::Down; 3]).await;
    browser.until("moved", &format!("{} !== '{}'", cell("starts"), before[0].as_str().unwrap())).await;
    browser.until_kept().await;
    assert_ne!(browser.run(&format!("return {}", cell("ends"))).await, before[1], "both its ends have moved");
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn each_wish_is_picked_by_its_picture_and_bent() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    let wishes = format!("/panels/{id}/wishes");
    browser.go(&desk, &wishes).await;
    browser.until("eight wishes", "document.querySelectorAll('.wish').length === 8").await;
    let names =
        browser.run("return [...document.querySelectorAll('.wish')].map((w) => w.dataset.wish)").await;
    for name in names.as_array().unwrap() {
        browser.go(&desk, &wishes).await;
        let css = format!(".wish[data-wish='{}']", name.as_str().unwrap());
        browser.until("drawn", &format!("document.querySelector(\"{css} img\")?.naturalWidth")).await;
        press(&browser, &css, &[Key::Enter]).await;
        browser
            .until(
                "on the blend",
                "location.pathname.endsWith('/blend') && document.querySelector('.handle')",
            )
            .await;
        browser.until_kept().await;
        // Bent: one round more.
        let veils = "document.querySelector('.numbers output').textContent";
        let before = browser.run(&format!("return {veils}")).await;
        browser.run("document.querySelector('.deeds .button').click()").await;
        browser.until("a round more", &format!("{veils} !== '{}'", before.as_str().unwrap())).await;
        browser.until_kept().await;
    }
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_muddy_join_is_bridged_and_its_verdict_turns_clean() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Strings over the flats").await;
    browser.go(&desk, &format!("/panels/{id}/blend")).await;
    browser.until_says(".notes", "muddy").await;
    let bridge = "[...document.querySelectorAll('.remedy')].find((b) => b.offsetParent && b.textContent.startsWith('Put '))";
    browser.until("a bridge", bridge).await;
    let inks = "document.querySelectorAll('.numbers tbody tr').length";
    let before = browser.run(&format!("return {inks}")).await.as_i64().unwrap();
    browser.run(&format!("{bridge}.click()")).await;
    browser.until("an ink more", &format!("{inks} === {}", before + 1)).await;
    browser.until("no mud", "!document.querySelector('.notes').textContent.includes('muddy')").await;
    browser.until_kept().await;
    browser.click("[data-undo]").await;
    browser.until("undone", &format!("{inks} === {before}")).await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_meetings_are_walked_by_keyboard_to_a_new_panel() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/drawer/meetings").await;
    browser
        .until(
            "drawn",
            "document.querySelector('.shawl canvas').getAttribute('aria-label').includes(' and ')",
        )
        .await;
    let said = "document.querySelector('.shawl canvas').getAttribute('aria-label')";
    let before = browser.run(&format!("return {said}")).await.as_str().unwrap().to_owned();
    press(&browser, ".shawl canvas", &[Key::Right, Key::Right, Key::Down]).await;
    browser.until("walked on", &format!("{said} !== {before:?}")).await;
    press(&browser, ".shawl canvas", &[Key::Left]).await;
    let pair = browser.run(&format!("return {said}.split(':')[0]")).await.as_str().unwrap().to_owned();
    browser
        .until(
            "told beside it",
            &format!("document.querySelector('.shawl-told h2').textContent === {pair:?}"),
        )
        .await;
    press(&browser, ".shawl canvas", &[Key::Enter]).await;
    browser.until("a panel", "location.pathname.endsWith('/blend')").await;
    let names =
        "[...document.querySelectorAll('.numbers tbody th')].map((n) => n.textContent).sort().join(' and ')";
    browser.until("its two inks", &format!("document.querySelectorAll('.numbers tbody th').length === 2 && {names} === {:?}.split(' and ').sort().join(' and ')", pair)).await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_run_is_found_from_one_ink_to_another_and_begun_as_a_panel() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/drawer").await;
    browser.click("a[href='/drawer/search']").await;
    browser.until_says("h1", "Find in the drawer").await;
    browser.write("[name='from']", "Cockle, dye").await;
    browser.write("[name='to']", "no such ink").await;
    browser.click("[aria-labelledby='run-title'] .asked .button").await;
    browser.until_says("#wrong-to", "no ink called").await;
    browser.write("[name='to']", "#1d2f5e").await;
    browser.run("document.querySelector('[name=\"between\"]').value = '2'").await;
    browser.click("[aria-labelledby='run-title'] .asked .button").await;
    browser.until("four inks", "document.querySelectorAll('.run-inks > li').length === 4").await;
    browser.until_says(".run", "your nearest to #1d2f5e").await;
    browser.until("three joins", "document.querySelectorAll('.run-inks .meets').length === 3").await;
    browser.until("drawn", "document.querySelector('.run .picture').naturalWidth > 50").await;
    browser.click(".run .strong").await;
    browser.until("on its blend", "document.querySelectorAll('.numbers tbody tr').length === 4").await;

    // One between: the best, and others that would do.
    browser.go(&desk, "/drawer/search?from=Cockle&to=Samphire&between=1").await;
    browser.until("others too", "document.querySelectorAll('.run-other').length > 2").await;
    browser.click(".run-other").await;
    browser.until("on its blend", "document.querySelectorAll('.numbers tbody tr').length === 3").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn colours_that_were_seen_are_found_in_the_drawer() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/drawer/search").await;
    browser.write("textarea[name='saw']", "#d8456b, plaid").await;
    browser.click("[data-saw] .strong").await;
    browser.until_says("#wrong-saw", "plaid").await;
    browser.write("textarea[name='saw']", "#d8456b, rgb(0, 120, 130)").await;
    browser.click("[data-saw] .strong").await;
    browser.until("two", "document.querySelectorAll('.seen-colours > li').length === 2").await;
    browser.until_says("#seen", "light pass").await;

    // From a picture: half of it pink, half of it blue.
    let file = crate::desk::scratch("seen.png");
    let mut bytes = Vec::new();
    let mut encoder = png::Encoder::new(&mut bytes, 300, 200);
    encoder.set_color(png::ColorType::Rgb);
    let pixels: Vec<u8> =
        (0..300 * 200).flat_map(|n| if n % 300 < 150 { [216, 69, 107] } else { [40, 75, 140] }).collect();
    encoder.write_header().unwrap().write_image_data(&pixels).unwrap();
    std::fs::write(&file, &bytes).unwrap();
    browser.find("[data-picture]").await.send_keys(file.to_str().unwrap()).await.unwrap();
    let saw = "document.querySelector('textarea[name=\"saw\"]').value";
    browser.until("its two colours", &format!("/^#[0-9a-f]{{6}}, #[0-9a-f]{{6}}$/.test({saw})")).await;
    browser.until("both found", "document.querySelectorAll('.seen-colours > li').length === 2").await;
    std::fs::write(&file, "no picture").unwrap();
    browser.find("[data-picture]").await.send_keys(file.to_str().unwrap()).await.unwrap();
    browser.until_says("[data-picture-wrong]", "not a picture that can be read").await;
    browser.click("[aria-labelledby='saw-title'] > form[action='/drawer/panel'] .button").await;
    browser.until("on its blend", "location.pathname.endsWith('/blend')").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn brushes_that_are_owned_change_the_wipes() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Strings over the flats").await;
    let sheet = format!("/panels/{id}/sheet");
    let wipes = "return [...document.querySelectorAll('.step')].filter((s) => s.textContent.includes('Wipe ')).length";
    browser.go(&desk, &sheet).await;
    let alone = browser.run(wipes).await.as_u64().unwrap();
    assert!(alone > 0, "one brush for all has to be wiped");
    browser.go(&desk, "/drawer/tools/new").await;
    browser.write("#name", "Sunday brushes").await;
    browser.write("#count", "many").await;
    browser.click(".fields .strong").await;
    browser.until_says("#wrong-count", "1 to 24").await;
    browser.write("#count", "5").await;
    browser.click(".fields .strong").await;
    browser.until_says("#tools", "5 domed brushes").await;
    browser.go(&desk, &sheet).await;
    browser
        .run("[...document.querySelectorAll('#desk button')].find((b) => b.textContent.includes('Sunday')).click()")
        .await;
    browser
        .until(
            "put out",
            "document.querySelector('#desk button[aria-pressed=\"true\"]')?.textContent.includes('Sunday')",
        )
        .await;
    assert!(browser.run(wipes).await.as_u64().unwrap() < alone, "an ink each: nothing to wipe");
    browser.until_says(".steps", "Put Sunday brushes 1 down").await;
    // It is undone like any change of the panel.
    browser.until("kept", "document.querySelector('.status').textContent === 'kept'").await;
    browser.click("[data-undo]").await;
    browser.until("laid aside", "!document.querySelector('#desk button[aria-pressed=\"true\"]')").await;
    assert_eq!(browser.run(wipes).await.as_u64().unwrap(), alone);
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_ink_that_is_not_owned_is_stood_in_for() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, "/drawer").await;
    browser
        .run("[...document.querySelectorAll('a')].find((a) => a.textContent.includes('Cockle')).click()")
        .await;
    browser.until_says("h1", "Cockle").await;
    browser.until("its threads", "document.querySelectorAll('.thread svg').length > 30").await;
    browser.run("document.querySelector('form[action$=\"/remove\"] button').click()").await;
    browser.until_says("h1", "Ink drawer").await;
    browser.go(&desk, &format!("/panels/{id}/inks")).await;
    browser.until_says(".lacking", "Cockle is not in your drawer").await;
    browser.run("document.querySelector('.lacking .run-other').click()").await;
    browser
        .until(
            "stood in for",
            "!document.querySelector('.lacking') && document.querySelector('.chosen-list')",
        )
        .await;
    browser.until("still three", "document.querySelectorAll('.chosen-list > li').length === 3").await;
    browser.close().await;
}
