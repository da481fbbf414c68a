//! In a real browser: everything can be read, reached and named, on a laptop and on a tablet held upright.

use crate::desk::{Browser, Desk};
use fantoccini::key::Key;
use serde_json::Value;

async fn pages(browser: &Browser, desk: &Desk) -> Vec<String> {
    browser.go(desk, "/").await;
    let ids =
        "return [...document.querySelectorAll('.panel-words h2 a')].map((a) => a.pathname.split('/')[2])";
    let ids = browser.run(ids).await;
    let id = |at: usize| ids[at].as_str().expect("a panel").to_owned();
    let mut pages: Vec<String> = [
        "/",
        "/drawer",
        "/drawer/inks/new",
        "/drawer/papers/new",
        "/drawer/tools/new",
        "/drawer/envelopes/new",
        "/benches",
        "/stock",
        "/evenings",
        "/made",
        "/supplies",
    ]
    .map(str::to_owned)
    .to_vec();
    for (list, link, more) in [("/evenings", ".evenings a", "/bench"), ("/made", ".made-cards a", "")] {
        browser.go(desk, list).await;
        let one = browser.run(&format!("return document.querySelector('{link}').pathname")).await;
        let one = one.as_str().expect("one of them").to_owned();
        pages.extend((!more.is_empty()).then(|| format!("{one}{more}")));
        pages.push(one);
    }
    for page in ["card", "inks", "blend", "sheet"] {
        pages.push(format!("/panels/{}/{page}", id(0)));
    }
    // What stands on one.
    pages.push(format!("/panels/{}/cover", id(2)));
    // One that lies across and one from a corner.
    pages.push(format!("/panels/{}/blend", id(1)));
    pages.push(format!("/panels/{}/blend", id(4)));
    // A mat with its presses, and a panel without one.
    pages.push(format!("/panels/{}/water", id(5)));
    pages.push(format!("/panels/{}/water", id(2)));
    pages
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
