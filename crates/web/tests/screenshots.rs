//! Takes the pictures in docs/screenshots from the demo bench: `./rosy shots`.

mod desk;

use desk::{Browser, Desk};
use serde_json::{Value, json};

const FOLDER: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/screenshots");

#[tokio::test(flavor = "multi_thread")]
#[ignore = "writes the pictures of the documentation"]
async fn the_main_views() {
    let desk = Desk::new(true).await;
    let browser = Browser::sized(1280, 940).await;
    // A headless window's own frame takes some of its height.
    let outer = browser.run("return outerHeight - innerHeight").await.as_u64().unwrap_or(0) as u32;
    browser.client.set_window_size(1280, 800 + outer).await.unwrap();
    browser.go(&desk, "/").await;
    let links = "return [...document.querySelectorAll('.panel-words h2 a')].map((a) => [a.textContent, a.pathname.split('/')[2]])";
    let links = browser.run(links).await;
    let panel = |name: &str| {
        let found = links.as_array().unwrap().iter().find(|link| link[0] == name).expect(name);
        found[1].as_str().unwrap().to_owned()
    };
    browser.go(&desk, "/drawer").await;
    let ink = "return [...document.querySelectorAll('.strip-button')].find((a) => a.textContent.includes('Cockle')).pathname";
    let ink = browser.run(ink).await.as_str().expect("an ink").to_owned();
    browser.go(&desk, "/evenings").await;
    let evening = browser.run("return document.querySelector('.evenings a').pathname").await;
    let evening = evening.as_str().expect("an evening").to_owned();
    for (file, path) in [
        ("bench", "/".to_owned()),
        ("ink-drawer", "/drawer".to_owned()),
        ("ink", ink),
        ("card", format!("/panels/{}/card", panel("Lamp on the groyne"))),
        ("evening", evening.clone()),
        ("at-the-bench", format!("{evening}/bench")),
        ("made", "/made".to_owned()),
        ("stock", "/stock".to_owned()),
        ("inks", format!("/panels/{}/inks", panel("Ebb at six"))),
        ("blend", format!("/panels/{}/blend", panel("Ebb at six"))),
        ("cover", format!("/panels/{}/cover", panel("Lamp on the groyne"))),
        ("water", format!("/panels/{}/water", panel("Rain on the duckboards"))),
        ("run-sheet", format!("/panels/{}/sheet", panel("Ebb at six"))),
        ("meetings", "/drawer/meetings".to_owned()),
        (
            "search",
            "/drawer/search?from=Cockle&to=Night%20Ferry&between=1&saw=%23d8456b,%20teal,%20%23f2d08a"
                .to_owned(),
        ),
        ("shape", "/shapes/new?family=word".to_owned()),
        ("practice", "/practice".to_owned()),
        ("swatches", "/drawer/swatches".to_owned()),
        ("shown", format!("/panels/{}/shown", panel("Ebb at six"))),
    ] {
        browser.go(&desk, &path).await;
        if file == "meetings" {
            browser
                .until("drawn", "document.querySelector('.shawl canvas').ariaLabel.includes(' and ')")
                .await;
            let canvas = browser.find(".shawl canvas").await;
            // Along to a crossing in the middle, with one of its inks picked out.
            canvas.send_keys(&"\u{e014}".repeat(6)).await.unwrap();
            canvas.send_keys(&"\u{e015}".repeat(5)).await.unwrap();
            canvas.send_keys(" ").await.unwrap();
        }
        if file == "shown" {
            let panel = desk.fetch(&path.replace("/shown", "/panel.json"), "");
            let wrong = ["--wrong", "line", "--wrong", "touch", "--wrong", "flecks"];
            let photo = desk::photograph_panel("shown", &panel, &wrong);
            browser.find("input[type=file]").await.send_keys(photo.to_str().unwrap()).await.unwrap();
            browser.until("told", "document.querySelectorAll('.finding').length > 1").await;
        }
        if file == "swatches" {
            let inks: Value = serde_json::from_slice(&desk.fetch("/drawer/inks.json", "")).unwrap();
            let inks = json!(inks.as_array().unwrap()[..18]);
            let photo = desk::photograph("shown", &inks, &["--fingers"]);
            browser.find("input[type=file]").await.send_keys(photo.to_str().unwrap()).await.unwrap();
            browser.until("read", "document.querySelectorAll('.swatch-row').length === 18").await;
        }
        browser.until("pictures", "[...document.images].filter((i) => i.src && i.getBoundingClientRect().top < innerHeight && i.offsetParent).every((i) => i.complete && i.naturalWidth)").await;
        if path.ends_with("blend") {
            browser.until_kept().await;
            browser.until("orders", "document.querySelector('.two-orders img')?.naturalWidth").await;
        }
        if path.ends_with("water") {
            browser.until("presses", "document.querySelector('[data-show-press] img')?.naturalWidth").await;
        }
        if path.ends_with("card") {
            browser.until("drawn", "document.querySelector('.drawing svg')").await;
        }
        if file == "shape" {
            browser.write("[name='letters']", "Ebb tide").await;
            for (field, value) in [("use", "stencil"), ("material", "film")] {
                browser
                    .run(&format!(
                        "const s = document.querySelector(\"[name='{field}']\"); s.value = '{value}'; s.dispatchEvent(new Event('input', {{ bubbles: true }}))"
                    ))
                    .await;
            }
            browser.until_says("[data-shown]", "hangs on nothing").await;
        }
        if file == "stock" {
            browser.write("#cards-count", "12").await;
            browser.run("const s = document.querySelector('#cards-panel'); s.value = [...s.options].find((o) => o.textContent === 'Lamp on the groyne').value").await;
            browser.click(".row-form .strong").await;
            browser.until_says(".plan", "Fewer cannot do").await;
        }
        browser.until("fonts", "document.fonts.status === 'loaded'").await;
        desk::sleep(400).await;
        let png = browser.client.screenshot().await.unwrap();
        std::fs::create_dir_all(FOLDER).unwrap();
        std::fs::write(format!("{FOLDER}/{file}.png"), png).unwrap();
    }
    browser.close().await;
}
