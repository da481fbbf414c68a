//! In a real browser: everything can be read, reached and named, on a laptop and on a tablet held upright.

use std::collections::HashMap;

use crate::desk::{Browser, Desk};
use fantoccini::key::Key;
use serde_json::Value;

/// Where every address is listed.
const ROUTES: &str = include_str!("../../src/routes.rs");

/// Every page there is, with something to show on it.
async fn pages(browser: &Browser, desk: &Desk) -> Vec<String> {
    let mut pages = Vec::new();
    for route in ROUTES.split("at(\"").skip(1) {
        let (path, served) = route.split_once('"').expect("an address");
        let is_page = served.contains(".get(pages::") && !path.contains('.') && !path.starts_with("/api");
        // Parts that a page fetches are no pages.
        if is_page && !path.contains("{way}") {
            let shelves: &[&str] =
                if path.contains("{shelf") { &["papers", "tools", "envelopes"] } else { &[""] };
            pages.extend(shelves.iter().map(|shelf| of_shelf(path, shelf)));
        }
    }
    assert!(pages.len() > 25, "{pages:?}");
    let mut known: HashMap<String, Option<String>> = HashMap::new();
    for page in &pages {
        let Some((before, _)) = page.split_once("{id}").filter(|(before, _)| !known.contains_key(*before))
        else {
            continue;
        };
        // The list that leads there.
        let list = match before {
            "/panels/" => "/",
            before if before.starts_with("/drawer/") => "/drawer",
            before => before.trim_end_matches('/'),
        };
        browser.go(desk, list).await;
        let link = format!(
            "const found = [...document.links].map((a) => a.pathname.match(/^{}([0-9a-f-]{{36}})/)).find(Boolean); return found && found[1]",
            before.replace('/', "\\/")
        );
        known.insert(before.into(), browser.run(&link).await.as_str().map(str::to_owned));
    }
    // There are no envelopes of their own on the demo bench.
    let missing: Vec<_> = known.iter().filter(|(_, id)| id.is_none()).map(|(before, _)| before).collect();
    assert_eq!(missing, ["/drawer/envelopes/"]);
    let with_id = |page: String| match page.split_once("{id}") {
        Some((before, after)) => known[before].as_ref().map(|id| format!("{before}{id}{after}")),
        None => Some(page),
    };
    let mut pages: Vec<String> = pages.into_iter().filter_map(with_id).collect();
    browser.go(desk, "/").await;
    let ids =
        "return [...document.querySelectorAll('.panel-words h2 a')].map((a) => a.pathname.split('/')[2])";
    let ids = browser.run(ids).await;
    let of = |at: usize, page: &str| format!("/panels/{}/{page}", ids[at].as_str().expect("a panel"));
    // What stands on one; one that lies across and one from a corner; a mat with its presses.
    pages.extend([of(2, "cover"), of(1, "blend"), of(4, "blend"), of(5, "water")]);
    pages
}

/// An address with one of the shelves it is for in its place.
fn of_shelf(path: &str, shelf: &str) -> String {
    match (path.find("{shelf"), path.find("}/")) {
        (Some(from), Some(to)) => format!("{}{shelf}{}", &path[..from], &path[to + 1..]),
        _ => path.to_owned(),
    }
}

/// Controls without a name, pictures without a text, and words too faint for their ground.
const UNREADABLE: &str = r#"
  const shown = (e) => e.offsetParent && getComputedStyle(e).visibility !== 'hidden';
  const name = (e) => e.getAttribute('aria-label') || e.textContent.trim() || e.labels?.[0]?.textContent.trim() || e.title;
  const wrong = [];
  for (const e of document.querySelectorAll('a, button, input:not([type=hidden]), select, [role]'))
    if (shown(e) && !e.closest('[aria-hidden=true]') && !name(e)) wrong.push(`no name: ${e.outerHTML.slice(0, 120)}`);
  for (const e of document.images) if (!e.hasAttribute('alt')) wrong.push(`no alt: ${e.src.slice(0, 80)}`);
  const ids = [...document.querySelectorAll('[id]')].map((e) => e.id);
  for (const id of ids) if (ids.filter((other) => other === id).length > 1) wrong.push(`id twice: ${id}`);
  const channels = (css) => css.match(/[\d.]+/g).map(Number);
  const light = ([r, g, b]) => [r, g, b].map((c) => c / 255).map((c) => (c <= 0.03928 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4))
    .reduce((sum, c, n) => sum + c * [0.2126, 0.7152, 0.0722][n], 0);
  const ground = (e) => {
    for (; e; e = e.parentElement) {
      const [r, g, b, a = 1] = channels(getComputedStyle(e).backgroundColor);
      if (a > 0.9) return [r, g, b];
    }
    return [251, 248, 243];
  };
  for (const e of document.querySelectorAll('p, h1, h2, h3, a, button, label, span, em, strong, small, th, td, li, dt, dd')) {
    if (!shown(e) || e.disabled || e.closest(':disabled, [aria-disabled=true], [aria-hidden=true], .strip, svg')) continue;
    if (![...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim())) continue;
    const [text, behind] = [light(channels(getComputedStyle(e).color)), light(ground(e))];
    const contrast = (Math.max(text, behind) + 0.05) / (Math.min(text, behind) + 0.05);
    if (contrast < 4.5) wrong.push(`${contrast.toFixed(2)}: ${e.textContent.trim().slice(0, 40)}`);
  }
  if (document.querySelectorAll('h1').length !== 1) wrong.push('not one heading of the page');
  let level = 1;
  for (const e of [...document.querySelectorAll('h1, h2, h3, h4')].filter(shown)) {
    const own = Number(e.tagName[1]);
    if (own > level + 1) wrong.push(`heading ${own} under ${level}: ${e.textContent.trim().slice(0, 40)}`);
    level = own;
  }
  for (const e of document.querySelectorAll('[role=slider]')) if (!e.ariaOrientation) wrong.push(`which way does it lie: ${e.ariaLabel}`);
  return wrong;
"#;

#[tokio::test(flavor = "multi_thread")]
async fn every_control_has_a_name_and_every_word_its_contrast() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    for page in pages(&browser, &desk).await {
        browser.go(&desk, &page).await;
        if page.ends_with("blend") {
            browser.until_kept().await;
        }
        if page.ends_with("card") {
            browser.until("drawn", "document.querySelector('.drawing svg')").await;
        }
        browser.run("document.querySelectorAll('details').forEach((details) => (details.open = true))").await;
        let wrong = browser.run(UNREADABLE).await;
        assert_eq!(wrong, Value::Array(Vec::new()), "{page}");
    }
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn nothing_runs_off_a_tablet_held_upright() {
    let desk = Desk::new(true).await;
    let browser = Browser::sized(820, 1180).await;
    fits(&browser, &desk).await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn nothing_runs_off_a_phone() {
    let desk = Desk::new(true).await;
    let browser = Browser::phone().await;
    fits(&browser, &desk).await;
    assert_eq!(browser.run("return innerWidth").await, 390);
    browser.close().await;
}

async fn fits(browser: &Browser, desk: &Desk) {
    for page in pages(browser, desk).await {
        browser.go(desk, &page).await;
        if page.ends_with("blend") {
            browser.until_kept().await;
        }
        if page.ends_with("card") {
            browser.until("drawn", "document.querySelector('.drawing svg')").await;
        }
        browser.run("document.querySelectorAll('details').forEach((details) => (details.open = true))").await;
        let over = browser.run("return document.documentElement.scrollWidth - innerWidth").await;
        assert!(over.as_i64().is_some_and(|over| over <= 0), "{page} is {over} pixels too wide");
        // What stands over a page takes two lines of it, and where one is can be seen in each.
        let heads = "return ['.top', '.head-row'].map((head) => document.querySelector(head))
            .filter((head) => head && head.offsetHeight > 2 * 56 + 16)
            .map((head) => `${head.className} ${head.offsetHeight}`)";
        assert_eq!(browser.run(heads).await, Value::Array(Vec::new()), "{page}");
        let hidden = "return [...document.querySelectorAll('.top nav [aria-current], .pages [aria-current]')]
            .map((here) => [here, here.getBoundingClientRect(), here.parentElement.getBoundingClientRect()])
            .filter(([, own, line]) => own.left < line.left - 1 || own.right > line.right + 1)
            .map(([here]) => here.textContent)";
        assert_eq!(browser.run(hidden).await, Value::Array(Vec::new()), "{page}");
        if page.ends_with("/cover") || page.ends_with("/water") {
            browser
                .until("drawn", "document.querySelector('.scale-picture .picture').naturalWidth > 0")
                .await;
        }
        // A picture that is pulled out of its shape tells of another panel.
        let pulled = "return [...document.querySelectorAll('img')]
            .filter((i) => i.offsetParent && i.naturalWidth && getComputedStyle(i).objectFit === 'fill')
            .filter((i) => Math.abs((i.offsetWidth / i.offsetHeight) / (i.naturalWidth / i.naturalHeight) - 1) > 0.04)
            .map((i) => `${i.className} ${i.alt} ${i.offsetWidth} × ${i.offsetHeight}, not ${i.naturalWidth} × ${i.naturalHeight}`)";
        assert_eq!(browser.run(pulled).await, Value::Array(Vec::new()), "{page}");
        // Hands are inky: what is pressed must be large enough to hit.
        let small = "return [...document.querySelectorAll('button, a.button, .pages a, .top a, .next a, summary.plain, summary.button, input, select')]
            .filter((e) => e.offsetParent && !['hidden', 'radio', 'checkbox'].includes(e.type) && !e.closest('.file, .strips form'))
            .filter((e) => e.getBoundingClientRect().height < 43.5)
            .map((e) => e.outerHTML.slice(0, 100))";
        assert_eq!(browser.run(small).await, Value::Array(Vec::new()), "{page}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn the_keys_are_shown_and_lead_where_they_say() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.go(&desk, "/").await;
    browser.find("body").await.send_keys("?").await.unwrap();
    browser.until("the keys", "document.querySelector('#keys').open").await;
    browser.until_says("#keys", "undo the last change here").await;
    browser.click("#keys .button").await;
    browser.until("closed", "!document.querySelector('#keys').open").await;
    browser.find("body").await.send_keys("d").await.unwrap();
    browser.until("the drawer", "location.pathname === '/drawer'").await;
    // Keys written into a field are text.
    browser.write("[name=search]", "bud").await;
    assert_eq!(browser.run("return location.pathname").await, "/drawer");
    browser.run("document.activeElement.blur()").await;
    browser.find("body").await.send_keys("b").await.unwrap();
    browser.until("the bench", "location.pathname === '/'").await;

    // A removed panel comes back with one key.
    let count = "document.querySelectorAll('.panel-row').length";
    let before = browser.run(&format!("return {count}")).await;
    browser.click(".panel-row button[aria-label^='Remove']").await;
    browser.until("one fewer", &format!("{count} === {before} - 1")).await;
    let ctrl_z = format!("{}z{}", char::from(Key::Control), char::from(Key::Null));
    browser.find("body").await.send_keys(&ctrl_z).await.unwrap();
    browser.until("back", &format!("{count} === {before}")).await;
    let again = format!("{}{}z{}", char::from(Key::Control), char::from(Key::Shift), char::from(Key::Null));
    browser.find("body").await.send_keys(&again).await.unwrap();
    browser.until("gone again", &format!("{count} === {before} - 1")).await;
    browser.close().await;
}
