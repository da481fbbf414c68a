//! In a real browser: a panel with an off-centre moon trimmed to a matted card, and a batch of twelve planned, printed,
//! counted off the stock and undone. Then the files: PDF pages at true scale, SVG, CSV.

use std::path::PathBuf;
use std::process::Command;

use crate::desk::{Browser, Desk, Visit, scratch, text_of};
use fantoccini::key::Key;
use fantoccini::wd::PrintConfigurationBuilder;
use serde_json::{Value, json};

/// Writes into the field of a place in the document and leaves it.
async fn set(browser: &Browser, at: &str, text: &str) {
    browser.write(&format!("[data-at='{at}']"), &format!("{text}{}", char::from(Key::Tab))).await;
}

async fn choose(browser: &Browser, css: &str, words: &str) {
    let (css, words) = (json!(css), json!(words));
    let option =
        format!("[...document.querySelector({css}).options].find((o) => o.textContent.includes({words}))");
    browser.until(&format!("{words} in {css}"), &option).await;
    browser
        .run(&format!(
            "const s = document.querySelector({css}); s.value = {option}.value; s.dispatchEvent(new Event('change', {{ bubbles: true }}))"
        ))
        .await;
}

async fn press(browser: &Browser, words: &str) {
    let find = format!(
        "[...document.querySelectorAll('.card-fields button')].find((b) => b.offsetParent && b.textContent.includes({}))",
        json!(words)
    );
    browser.until(words, &find).await;
    browser.run(&format!("{find}.click()")).await;
}

async fn until_kept(browser: &Browser) {
    browser.until("kept", "document.querySelector('.status')?.textContent === 'kept'").await;
}

async fn says(browser: &Browser, words: &str) {
    browser
        .until(words, &format!("document.querySelector('.card-fields').innerText.includes({})", json!(words)))
        .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_moon_off_the_middle_is_trimmed_to_a_matted_card() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/card")).await;
    browser.until("drawn", "document.querySelector('.drawing svg')").await;
    says(&browser, "Cut the base 8 1/2 × 5 1/2 in, score at 4 1/4 in").await;

    // A mat goes under the panel, and both show 1/16; a piece is inked 1/4 over.
    press(&browser, "Add a mat").await;
    until_kept(&browser).await;
    browser.until("two layers", "document.querySelectorAll('.layer').length === 2").await;
    browser.run("document.querySelectorAll('.layer summary').forEach((s) => s.click())").await;
    set(&browser, "card.layers.1.reveal", "1/16").await;
    says(&browser, "4 × 5 1/4 in").await;
    set(&browser, "card.over", "1/4").await;
    press(&browser, "Ink 4").await;
    browser.until("the piece", "document.querySelector('[data-at=\"piece.width\"]').value === '4 1/2'").await;
    until_kept(&browser).await;

    // The moon is marked, pointed at on the picture, then given by its measures.
    press(&browser, "Mark a feature").await;
    browser.until("pointing", "document.querySelector('.drawing.pointing svg')").await;
    browser
        .run(
            "const svg = document.querySelector('.drawing svg'); const at = new DOMPoint(50.8, 63.5).matrixTransform(svg.getScreenCTM());
             svg.dispatchEvent(new MouseEvent('click', { bubbles: true, clientX: at.x, clientY: at.y }))",
        )
        .await;
    browser
        .until("pointed at", "document.querySelector('[data-at=\"features.0.at.left\"]')?.value === '2'")
        .await;
    assert_eq!(
        browser.run("return document.querySelector('[data-at=\"features.0.at.top\"]').value").await,
        "2 1/2"
    );
    set(&browser, "features.0.name", "Moon").await;
    set(&browser, "features.0.at.left", "2 1/8").await;
    until_kept(&browser).await;
    choose(&browser, "#trim", "Moon stands in the middle").await;
    // 4 in with its middle at 2 1/8: marks 1/8 and 4 1/8; the taller side does not reach.
    browser.until("refused", "[...document.querySelectorAll('.card-fields .trouble')].some((e) => e.offsetParent && e.textContent.includes('too near the top edge'))").await;
    press(&browser, "Trim to 4 × 5 in").await;
    says(
        &browser,
        "From its centre mark 2 in to the left and 2 in to the right, 2 1/2 in up and 2 1/2 in down.",
    )
    .await;
    says(
        &browser,
        "Left edge against the trimmer's stop, the stop set to 4 1/8 in: 3/8 in falls off at the right.",
    )
    .await;
    until_kept(&browser).await;

    // A figure that clashes stays in its field with the reason, and nothing that was kept is lost.
    set(&browser, "card.layers.0.reveal", "1/8").await;
    until_kept(&browser).await;
    set(&browser, "card.layers.0.width", "4 1/8").await;
    browser.until("named", "[...document.querySelectorAll('.card-fields .wrong')].some((e) => e.textContent.includes('4 1/8 in Mat cannot show 1/8 in on both sides on a 4 1/4 in base'))").await;
    assert_eq!(
        browser.run("return document.querySelector('[data-at=\"card.layers.0.width\"]').value").await,
        "4 1/8"
    );
    set(&browser, "card.layers.0.width", &char::from(Key::Delete).to_string()).await;
    browser
        .until(
            "no more",
            "![...document.querySelectorAll('.card-fields .wrong')].some((e) => e.offsetParent)",
        )
        .await;
    set(&browser, "card.over", "4 1/0").await;
    browser.until("named", "[...document.querySelectorAll('.card-fields .wrong')].some((e) => e.textContent.includes('divides by nothing'))").await;

    // A reload keeps what was kept; undo walks back.
    browser.client.refresh().await.unwrap();
    says(&browser, "From its centre mark 2 in").await;
    assert_eq!(browser.run("return document.querySelector('[data-at=\"card.over\"]').value").await, "1/4");
    browser.until("undo", "document.querySelector('[data-undo]').disabled === false").await;
    browser.run("document.activeElement.blur()").await;
    browser.find("body").await.send_keys("u").await.unwrap();
    browser
        .until("1/16 again", "document.querySelector('[data-at=\"card.layers.0.reveal\"]').value === '1/16'")
        .await;

    // Made again slim: a new panel with the gradient, the features and what had to give.
    choose(&browser, "#again", "Slim, standing").await;
    press(&browser, "Make it again").await;
    browser.until("another panel", &format!("!location.pathname.includes('{id}')")).await;
    says(&browser, "What had to give").await;
    says(&browser, "The blend runs").await;
    browser.until("slim", "document.querySelector('[data-at=\"card.format.height\"]').value === '9'").await;
    assert_eq!(
        browser.run("return document.querySelector('[data-at=\"features.0.name\"]').value").await,
        "Moon"
    );
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_card_change_waits_for_a_program_that_was_killed() {
    let mut desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/card")).await;
    browser.until("drawn", "document.querySelector('.drawing svg')").await;
    desk.kill();
    set(&browser, "card.over", "3/8").await;
    browser.until("says so", "document.querySelector('.status').textContent.includes('not kept yet')").await;
    // Started again and reloaded before anything was kept: the change lay in the browser.
    desk.start_again();
    browser.client.refresh().await.unwrap();
    until_kept(&browser).await;
    browser.until("3/8", "document.querySelector('[data-at=\"card.over\"]')?.value === '3/8'").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn twelve_cards_are_planned_printed_cut_and_undone() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    browser.panel(&desk, "Lamp on the groyne").await;
    browser.go(&desk, "/stock").await;
    browser.write("#cards-count", "12").await;
    choose(&browser, "#cards-panel", "Lamp on the groyne").await;
    browser.click(".row-form .strong").await;
    browser.until_says(".plan", "15 sheets. Fewer cannot do.").await;
    let counts = "return [...document.querySelectorAll('.stock-row')].filter((r) => r.querySelector('.count')).map((r) => [r.querySelector('strong').textContent, r.querySelector('.count').value])";
    let count = |counts: &Value, name: &str| {
        let rows = counts.as_array().unwrap().iter();
        rows.filter(|row| row[0] == name).filter_map(|row| row[1].as_str()?.parse::<u32>().ok()).sum::<u32>()
    };
    let before = browser.run(counts).await;
    assert_eq!(count(&before, "Slack Water, letter"), 14);
    assert!(
        browser.text(".plan").await.contains("top edge against the trimmer's stop, the stop set to 5 1/2 in")
    );

    // Printed: the plan alone, not the forms around it.
    let printed = browser.client.print(PrintConfigurationBuilder::default().build().unwrap()).await.unwrap();
    assert!(printed.starts_with(b"%PDF"));
    let text = text_of(&printed);
    assert!(text.contains("against the trimmer's stop") && !text.contains("Add sheets"), "{text}");

    // Cut: sheets are counted off, what is worth keeping comes in, and the batch is empty.
    browser.click(".plan-does .strong").await;
    browser.until_says(".batch", "Say what you want to cut").await;
    let after = browser.run(counts).await;
    assert_eq!(count(&after, "Slack Water, letter"), 8);
    assert_eq!(count(&after, "Day Book white, letter"), 14);
    browser.until_says(".plan", "Offcut of Slack Water").await;

    // Undone: everything as it was, the batch too.
    browser.run("document.activeElement.blur()").await;
    browser.find("body").await.send_keys("u").await.unwrap();
    browser.until_says(".plan", "15 sheets").await;
    assert_eq!(browser.run(counts).await, before);
    browser.run("document.activeElement.blur()").await;
    browser.find("body").await.send_keys("r").await.unwrap();
    browser.until_says(".batch", "Say what you want to cut").await;
    browser.run("document.activeElement.blur()").await;
    browser.find("body").await.send_keys("u").await.unwrap();
    browser.until_says(".plan", "15 sheets").await;

    // A plan that is no longer the one shown is not cut.
    let stale = browser.run("return document.querySelector('[name=seen]').value").await;
    browser.run("const c = [...document.querySelectorAll('.stock-row')].find((r) => r.textContent.includes('Slack Water, letter')).querySelector('.count-form'); c.querySelector('.count').value = '2'; c.submit()").await;
    browser.until_says(".plan", "get 4 more sheets of Slack Water, letter").await;
    browser.run(&format!("document.querySelector('[name=seen]').value = {stale}")).await;
    browser.click(".plan-does .strong").await;
    browser.until_says("body", "Nothing was cut: look at the plan again").await;
    browser.close().await;
}

/// Pages as pictures in grey, so many dots to the inch: width, height and a byte for each dot.
fn pages(pdf: &[u8], dpi: u32, name: &str) -> Vec<(usize, usize, Vec<u8>)> {
    let file = scratch(name);
    std::fs::write(&file, pdf).unwrap();
    let done = Command::new("pdftoppm")
        .args(["-gray", "-r", &dpi.to_string()])
        .arg(&file)
        .arg(file.with_extension("page"))
        .status()
        .expect("pdftoppm, from poppler-utils");
    assert!(done.success());
    let folder = file.parent().unwrap();
    let stem = file.with_extension("page").file_name().unwrap().to_string_lossy().into_owned();
    let mut found: Vec<PathBuf> = std::fs::read_dir(folder)
        .unwrap()
        .filter_map(|entry| Some(entry.ok()?.path()))
        .filter(|path| path.file_name().is_some_and(|n| n.to_string_lossy().starts_with(&stem)))
        .collect();
    found.sort();
    found
        .into_iter()
        .map(|path| {
            let bytes = std::fs::read(path).unwrap();
            let mut parts = bytes.splitn(4, |b| b.is_ascii_whitespace());
            let mut next = || String::from_utf8_lossy(parts.next().unwrap()).into_owned();
            assert_eq!(next(), "P5");
            let (width, height): (usize, usize) = (next().parse().unwrap(), next().parse().unwrap());
            (width, height, bytes[bytes.len() - width * height..].to_vec())
        })
        .collect()
}

/// The longest stretches of full black across a page, one for each band of rows: top row and length in dots.
fn bars((width, _, dots): &(usize, usize, Vec<u8>)) -> Vec<(usize, usize)> {
    let longest = |row: &[u8]| row.split(|dot| *dot > 8).map(<[u8]>::len).max().unwrap_or(0);
    let rows: Vec<usize> = dots.chunks(*width).map(longest).collect();
    let mut found: Vec<(usize, usize)> = Vec::new();
    // A bar is 1.6 mm high: many rows of the same length in black alone.
    let mut from = 0;
    for at in 1..=rows.len() {
        if at == rows.len() || rows[at] != rows[from] {
            if at - from > 20 && rows[from] > 100 {
                found.push((from, rows[from]));
            }
            from = at;
        }
    }
    found
}

/// Where unbroken lines at least so long stand upright: the first column of each.
fn uprights((width, _, dots): &(usize, usize, Vec<u8>), long: usize) -> Vec<usize> {
    let (mut run, mut longest) = (vec![0_usize; *width], vec![0_usize; *width]);
    for row in dots.chunks(*width) {
        for (at, dot) in row.iter().enumerate() {
            run[at] = if *dot < 170 { run[at] + 1 } else { 0 };
            longest[at] = longest[at].max(run[at]);
        }
    }
    (1..*width).filter(|at| longest[*at] >= long && longest[at - 1] < long).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn printed_pages_are_at_true_scale() {
    const DPI: u32 = 1200;
    let desk = Desk::new(true).await;
    let (cookie, id) = desk_cookie(&desk);
    let mm = |dots: usize| dots as f64 * 25.4 / f64::from(DPI);
    for (paper, size) in [("letter", (215.9, 279.4)), ("a4", (210.0, 297.0))] {
        let pdf = desk.fetch(&format!("/panels/{id}/card.pdf?paper={paper}"), &cookie);
        let pages = pages(&pdf, DPI, &format!("{paper}.pdf"));
        assert!(pages.len() >= 4, "closed, piece, base, mat: {}", pages.len());
        for page in &pages {
            let sides = (mm(page.0), mm(page.1));
            let near = |a: f64, b: f64| (a - b).abs() < 0.1;
            assert!(
                near(sides.0, size.0) && near(sides.1, size.1)
                    || near(sides.0, size.1) && near(sides.1, size.0),
                "{sides:?}"
            );
            let bars = bars(page);
            let long: Vec<f64> = bars.iter().map(|(_, dots)| mm(*dots)).collect();
            assert!(long.iter().any(|l| (l - 50.8).abs() < 0.1), "a bar of 2 in: {long:?}");
            assert!(long.iter().any(|l| (l - 50.0).abs() < 0.1), "a bar of 50 mm: {long:?}");
        }
        // What is drawn is as true as the bars: the mat of 4 1/8 × 5 3/8 in between its long edges.
        let mat = pages.last().unwrap();
        let edges = uprights(mat, (120.0 / 25.4 * f64::from(DPI)) as usize);
        let across = mm(edges.last().unwrap() - edges.first().unwrap());
        assert!((across - 104.775).abs() < 0.1, "the mat is {across} mm wide");
    }
}

fn desk_cookie(desk: &Desk) -> (String, String) {
    let (_, head, page) = desk.send("GET", "/", &[], "");
    let cookie = head.lines().find_map(|line| line.strip_prefix("set-cookie: ")).unwrap();
    let cookie = cookie.split(';').next().unwrap().to_owned();
    let at = page.find(">Lamp on the groyne<").expect("the demo's panel");
    let from = page[..at].rfind("/panels/").unwrap() + 8;
    (cookie, page[from..from + 36].to_owned())
}

#[tokio::test(flavor = "multi_thread")]
async fn cut_sheets_and_layers_leave_as_files() {
    let desk = Desk::new(true).await;
    let (cookie, id) = desk_cookie(&desk);
    let (_, _, page) = desk.send("GET", "/stock", &[("Cookie", &cookie)], "");
    let token = page.split("rosy-token\" content=\"").nth(1).and_then(|rest| rest.split('"').next()).unwrap();
    let (status, ..) = desk.send("GET", "/stock/plan.pdf", &[("Cookie", &cookie)], "");
    assert_eq!(status, 404, "nothing is to be cut yet");
    let form = format!("token={token}&panel={id}&count=8");
    desk.send("POST", "/stock/batch/cards", &[("Cookie", &cookie)], &form);

    let (_, head, svg) = desk.send("GET", &format!("/panels/{id}/card.svg"), &[("Cookie", &cookie)], "");
    assert!(head.contains("image/svg+xml") && head.contains("lamp-on-the-groyne-card.svg"), "{head}");
    // Its unit is a millimetre: the mat of 4 1/8 × 5 3/8 in stands there in its true size.
    let unit: f64 = svg.split("width=\"").nth(1).and_then(|w| w.split("mm").next()).unwrap().parse().unwrap();
    let view: f64 =
        svg.split("viewBox=\"0 0 ").nth(1).and_then(|w| w.split(' ').next()).unwrap().parse().unwrap();
    assert_eq!(unit, view);
    assert!(svg.contains("h104.7750v136.5250"), "{svg}");
    // A cutter takes the cut lines alone: they are the first group of every piece, and nothing else is in them.
    for n in 1..4 {
        let piece = svg.split(&format!("<g id=\"drawing-{n}\"")).nth(1).unwrap();
        let first = piece.split("<g id=\"").nth(1).unwrap();
        assert!(first.starts_with(&format!("drawing-{n}-cut\"")), "{first:.60}");
        let cut = first.split("</g>").next().unwrap();
        assert!(cut.contains("<path") && !cut.contains("<text"), "{cut}");
    }
    for group in ["drawing-2-score", "drawing-1-measures", "drawing-0-edges"] {
        assert!(svg.contains(&format!("<g id=\"{group}\">")), "{group}");
    }
    assert!(!svg.contains("drawing-0-cut"), "a card put together is not cut");

    let (_, _, csv) = desk.send("GET", &format!("/panels/{id}/card.csv"), &[("Cookie", &cookie)], "");
    assert!(csv.starts_with("\u{feff}piece,width,height,count,card,grain,cut from\n"), "{csv}");
    assert!(csv.contains("Base,8 1/2 in,5 1/2 in,1,Day Book white,from top to bottom,sheet"), "{csv}");
    let (_, _, csv) = desk.send("GET", "/stock/plan.csv", &[("Cookie", &cookie)], "");
    assert!(csv.lines().count() > 4 && csv.contains("5 1/2 in"), "{csv}");
    // A letter sheet does not fit on a letter page's free part: it is printed in parts, with its whole size in them.
    let pdf = desk.fetch("/stock/plan.pdf?paper=letter", &cookie);
    assert!(text_of(&pdf).contains("part 1 of"));
    let (status, ..) = desk.send("GET", "/stock/plan.doc", &[("Cookie", &cookie)], "");
    assert_eq!(status, 404);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_the_card_plans_is_in_every_file_and_a_wide_card_on_a_turned_page() {
    let desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let headers = [("Cookie", visit.cookie.as_str()), ("X-Rosy-Token", visit.token.as_str())];
    let (_, _, file) = desk.send("GET", &format!("/panels/{}/panel.json", visit.panel), &headers, "");
    let mut panel: Value = serde_json::from_str(&file).unwrap();
    panel["card"]["format"] =
        json!({ "name": "Slim, lying", "width": "9 in", "height": "4 in", "fold": "flat" });
    panel["card"]["layers"] = json!([
        { "name": "Mat", "reveal": "1/8 in", "window": { "frame": "1/2 in" } },
        { "name": "Panel", "role": "panel", "width": "2 in", "height": "2 in", "window": { "shape": "oval", "frame": "1/4 in" } },
    ]);
    panel["card"]["die_cut"] =
        json!({ "name": "Kite", "width": "1 in", "height": "2 in", "tiers": 3, "thickness": "0.3 mm" });
    let (status, _, said) = desk.send("POST", "/api/panels", &headers, &panel.to_string());
    assert_eq!(status, 201, "{said}");
    let id = serde_json::from_str::<Value>(&said).unwrap()["id"].as_str().unwrap().to_owned();
    let (_, _, csv) = desk.send("GET", &format!("/panels/{id}/card.csv"), &headers, "");
    for row in [
        "Kite,1 in,2 in,3,,,sheet",
        "Window of Mat,7 3/4 in,2 3/4 in,1,",
        "Window of Panel,1 1/2 in,1 1/2 in,1,",
    ] {
        assert!(csv.contains(row), "{row}: {csv}");
    }
    let (_, _, svg) = desk.send("GET", &format!("/panels/{id}/card.svg"), &headers, "");
    assert!(svg.contains(">Kite</text>") && svg.contains("3 of them"));
    let (_, _, sheet) = desk.send("GET", &format!("/panels/{id}/sheet"), &headers, "");
    for step in ["Cut the window of Mat", "Cut the window of Panel", "Cut Kite", "On top Kite"] {
        assert!(sheet.contains(step), "{step}");
    }
    let pdf = desk.fetch(&format!("/panels/{id}/card.pdf?paper=letter"), &visit.cookie);
    let text = String::from_utf8_lossy(&pdf);
    let first = text.split("/MediaBox [").nth(1).and_then(|rest| rest.split(']').next()).unwrap();
    let sides: Vec<f64> = first.split_whitespace().filter_map(|side| side.parse().ok()).collect();
    assert!(sides[2] > sides[3], "9 × 4 in lies on a turned page: {sides:?}");
    assert!(text_of(&pdf).contains("Kite"));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_shape_is_cut_through_the_panel_and_put_back_and_her_paper_is_kept() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/card")).await;
    browser.until("drawn", "document.querySelector('.drawing svg')").await;
    browser.run("document.querySelector('.layer summary').click()").await;
    press(&browser, "cut through it").await;
    browser.until("cut", "document.querySelectorAll('.layer-shapes li').length === 1").await;
    until_kept(&browser).await;
    // What comes out is listed among the pieces, and can be put back.
    says(&browser, "comes out of Panel").await;
    choose(&browser, ".layer-shapes select", "put back on foam").await;
    until_kept(&browser).await;
    // Over the edge it is told by its field, and the rest stays.
    set(&browser, "card.layers.0.shapes.0.at.left", "0").await;
    let told = "[...document.querySelectorAll('.layer-shapes .wrong')].some((e) => e.offsetParent && e.textContent.includes('does not lie within Panel'))";
    browser.until("told", told).await;
    set(&browser, "card.layers.0.shapes.0.at.left", "2").await;
    browser.until("no more", &format!("!({told})")).await;
    until_kept(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    browser
        .until(
            "its step",
            "document.querySelector('.steps').innerText.includes('put back in its opening on foam')",
        )
        .await;
    // The paper she chose is the one she gets from then on.
    let side = |query: &str| {
        format!(
            "return fetch('/panels/{id}/card.pdf{query}').then((a) => a.text()).then((t) => \
             t.match(/MediaBox \\[([^\\]]*)\\]/)[1].trim().split(/\\s+/).map(Number).slice(2).sort((a, b) => a - b)[0])"
        )
    };
    for (query, least) in
        [("", 612.0), ("?paper=a4", 595.28), ("", 595.28), ("?paper=letter", 612.0), ("", 612.0)]
    {
        let short = browser.run(&side(query)).await.as_f64().unwrap();
        assert!((short - least).abs() < 1.0, "{query}: {short}");
    }
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_piece_is_begun_from_the_bench_and_from_a_card() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    for (path, open) in [
        ("/".to_owned(), "document.querySelector('.new-panel').open = true"),
        (format!("/panels/{id}/card"), ""),
    ] {
        browser.go(&desk, &path).await;
        browser.until("a form", "document.querySelector('form[action=\"/pieces\"]')").await;
        browser.run(open).await;
        let name = "document.querySelector('form[action=\"/pieces\"] select').selectedOptions[0].textContent";
        let name = browser.run(&format!("return {name}")).await.as_str().unwrap().to_owned();
        browser.run("document.querySelector('form[action=\"/pieces\"] button[value=heart]').click()").await;
        browser.until("its inks", "location.pathname.endsWith('/inks')").await;
        let title = browser.run("return document.title").await;
        assert!(title.as_str().unwrap().contains(&name), "{title} {name}");
    }
    browser.close().await;
}
