//! In a real browser: a word cut through film held by bridges, turned and kept, cut files and the machine; a drawing that is
//! brought, and one that is refused.

use crate::desk::{Browser, Desk, Visit, text_of};
use fantoccini::key::Key;
use serde_json::{Value, json};

async fn set(browser: &Browser, field: &str, text: &str) {
    browser.write(&format!("[name='{field}']"), &format!("{text}{}", char::from(Key::Tab))).await;
}

async fn choose(browser: &Browser, field: &str, value: &str) {
    browser
        .run(&format!(
            "const s = document.querySelector(\"[name='{field}']\"); s.value = '{value}'; s.dispatchEvent(new Event('input', {{ bubbles: true }}))"
        ))
        .await;
}

async fn shows(browser: &Browser, words: &str) {
    browser
        .until(words, &format!("document.querySelector('[data-shown]').innerText.includes({})", json!(words)))
        .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_word_through_film_is_held_by_bridges_and_cut() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/shapes").await;
    // From the keyboard: the word is among what one begins with.
    browser.run("document.querySelector('a[href=\"/shapes/new?family=word\"]').focus()").await;
    browser.write("a[href='/shapes/new?family=word']", &char::from(Key::Enter).to_string()).await;
    browser.until("the word's page", "document.querySelector('[name=\"letters\"]')").await;
    set(&browser, "name", "Ebb tide").await;
    set(&browser, "letters", "Ebb tide").await;
    shows(&browser, "A frame").await;
    shows(&browser, "It can be cut as it is").await;

    // As a stencil its counters would fall out; one press holds them all.
    choose(&browser, "use", "stencil").await;
    choose(&browser, "material", "film").await;
    shows(&browser, "hangs on nothing").await;
    set(&browser, "m_high", "99").await;
    browser.until("what is wrong", "!document.querySelector('#wrong-m_high').hidden").await;
    // Too high, it runs off the sheet; half as high it does not.
    set(&browser, "m_high", "2").await;
    shows(&browser, "the sheet has room for").await;
    set(&browser, "m_high", "1").await;
    browser
        .until("on the sheet", "!document.querySelector('[data-shown]').innerText.includes('has room for')")
        .await;
    browser.until("well again", "document.querySelector('#wrong-m_high').hidden").await;
    shows(&browser, "hangs on nothing").await;
    browser
        .run("[...document.querySelectorAll('[name=\"mend\"]')].find((b) => b.value === 'island').click()")
        .await;
    browser.until("kept", "location.pathname.length > 20 && document.querySelector('[data-shown]')").await;
    browser
        .until("held", "!document.querySelector('[data-shown]').innerText.includes('hangs on nothing')")
        .await;

    // The files are at true size, and the machine says what it did.
    let path = browser.run("return location.pathname").await;
    let path = path.as_str().unwrap().to_owned();
    let cookie = browser.run("return document.cookie").await;
    assert_eq!(cookie, "", "the session is not for scripts");
    browser.click("[name='sent']").await;
    browser.until_says(".shape-cut .notice", "of line").await;

    // Undo takes the mended word away again, and it was the only one.
    browser.click("[data-undo]").await;
    browser.until("the list", "location.pathname === '/shapes'").await;
    browser.until("gone", &format!("!document.querySelector('a[href=\"{path}\"]')")).await;
    browser.click("[data-redo]").await;
    browser.until("back", &format!("document.querySelector('a[href=\"{path}\"]')")).await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn drawings_are_brought_at_their_size_or_refused_with_the_reason() {
    let desk = Desk::new(false).await;
    let visit = Visit::new(&desk);
    let headers = [("Cookie", visit.cookie.as_str()), ("X-Rosy-Token", visit.token.as_str())];
    let bring = |svg: &str| {
        let asked = json!({ "name": "wind sock.svg", "svg": svg }).to_string();
        let (status, _, said) = desk.send("POST", "/api/shapes", &headers, &asked);
        (status, serde_json::from_str::<Value>(&said).unwrap())
    };
    let svg = |inside: &str| {
        format!(
            "<svg xmlns='http://www.w3.org/2000/svg' width='80mm' height='40mm' viewBox='0 0 80 40'>{inside}</svg>"
        )
    };
    let (status, said) = bring(&svg("<path d='M0 0h70v30h-70zM20 10v10h10v-10z'/>"));
    assert_eq!(status, 201, "{said}");
    let id = said["id"].as_str().unwrap().to_owned();
    let (_, _, page) = desk.send("GET", &format!("/shapes/{id}"), &headers, "");
    assert!(page.contains("wind sock") && page.contains("1 counter"), "{page}");

    let cut = |ending: &str| desk.fetch(&format!("/shapes/{id}/cut.{ending}?sheet=a4"), &visit.cookie);
    let drawing = String::from_utf8(cut("svg")).unwrap();
    // A cutter can take the cut lines alone, and they are as large as the drawing said.
    let group = drawing.split("-cut\">").nth(1).expect("a group of cut lines").split("</g>").next().unwrap();
    let path = group.split("d=\"").nth(1).unwrap().split('"').next().unwrap();
    let area = |run: &str| {
        let outline = rosy_core::shape::Outline::read(&format!("M{run}"), false).unwrap();
        (outline.region().area() * 10.0).round() / 10.0
    };
    let areas: Vec<f64> = path.split('M').filter(|run| !run.is_empty()).map(area).collect();
    assert!(areas.contains(&2_100.0) && areas.contains(&100.0), "{areas:?}");
    let printed = text_of(&cut("pdf"));
    assert!(printed.contains("wind sock"), "{printed}");

    for (inside, reason) in [
        ("<script>1</script>", "script"),
        ("<text>Ebb</text>", "turn the letters into outlines"),
        ("<use href='http://far.example/a.svg#b'/>", "outside itself"),
        ("<path d='M0 0L5 5'/>", "no closed outline"),
    ] {
        let (status, said) = bring(&svg(inside));
        let detail = said["detail"].as_str().unwrap_or_default().to_lowercase();
        assert_eq!(status, 422, "{said}");
        assert!(detail.contains(reason), "{detail}");
    }

    // A use that is none is told by its field, and nothing is kept.
    let fields = json!({ "name": "Sock", "figure": "{\"drawn\":{\"family\":\"heart\"}}", "m_across": "2 in", "use": "kite" });
    let (status, _, said) = desk.send("POST", "/api/shapes/look", &headers, &fields.to_string());
    let wrong = serde_json::from_str::<Value>(&said).unwrap()["wrong"].to_string();
    assert!(status == 200 && wrong.contains("\"use\"") && wrong.contains("hoose one of these"), "{said}");

    // Another visitor's bench has none of it: shapes are looked for by owner.
    let (status, _, _) = desk.send("GET", &format!("/shapes/{}", uuid::Uuid::now_v7()), &headers, "");
    assert_eq!(status, 404);
}
