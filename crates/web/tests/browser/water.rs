//! In a real browser: three cards from one mat, a night with flecks flicked and placed, a spray with a thing kept dry, and
//! the rules of water broken and mended on the run sheet.

use crate::covered::{choose, press, steps};
use crate::desk::{Browser, Desk, sleep};
use fantoccini::key::Key;
use serde_json::json;

/// Waits until nothing is being asked or kept any more.
async fn still(browser: &Browser) {
    browser
        .until(
            "still",
            "document.querySelector('.status').textContent === 'kept' && \
             document.querySelector('.water-panel').getAttribute('aria-busy') !== 'true' && \
             document.querySelector('[data-part=\"then\"]') && document.querySelector('.water-panel img.picture').src.startsWith('data:')",
        )
        .await;
}

async fn open(browser: &Browser, desk: &Desk, panel: &str) -> String {
    let id = browser.panel(desk, panel).await;
    browser.go(desk, &format!("/panels/{id}/water")).await;
    still(browser).await;
    id
}

async fn deed(browser: &Browser, what: &str) {
    still(browser).await;
    browser
        .run(&format!(
            "const b = document.querySelector('[data-deed=\"{what}\"]'); b.closest('details')?.setAttribute('open', ''); b.focus(); b.click()"
        ))
        .await;
}

async fn add(browser: &Browser, what: &str) {
    still(browser).await;
    browser.run(&format!("document.querySelector('#new-deed').value = {}", json!(what))).await;
    browser.click("[data-add]").await;
}

/// The panel's picture.
async fn picture(browser: &Browser) -> String {
    let source = browser.run("return document.querySelector('.water-panel img.picture').src").await;
    source.as_str().unwrap_or_default().to_owned()
}

/// Drags something that is first brought into view.
async fn drag(browser: &Browser, css: &str, across: i64, down: i64) {
    still(browser).await;
    browser.run("window.scrollTo(0, 0)").await;
    browser.drag(css, across, down).await;
}

/// Turns a choice or writes a word.
async fn set(browser: &Browser, (row, place, what): (&str, usize, &str), to: &str) {
    still(browser).await;
    let field = json!(format!("[data-row='{row}'][data-place='{place}'][data-set='{what}']"));
    browser
        .run(&format!(
            "const f = document.querySelector({field}); f.closest('details')?.setAttribute('open', ''); f.focus(); \
             if (f.type === 'checkbox') {{ f.click() }} else {{ f.value = {}; f.dispatchEvent(new Event('change', {{ bubbles: true }})) }}",
            json!(to)
        ))
        .await;
}

async fn tells(browser: &Browser, words: &str) {
    let told = "[...document.querySelectorAll('.water-page .told, .water-page .trouble, .water-page .carries')].map(function say(n) { \
                return [...n.childNodes].map((c) => c.nodeType === 3 ? c.data : c.tagName === 'SELECT' ? c.selectedOptions[0].textContent : \
                c.tagName === 'INPUT' ? c.value : say(c)).join('') }).join(' ').replace(/\\s+/g, ' ')";
    browser.until(words, &format!("({told}).includes({})", json!(words))).await;
}

/// Presses the repair of a rule that is broken on the run sheet.
async fn mend(browser: &Browser, repair: &str) {
    browser.run("window.here = true").await;
    browser
        .run(&format!(
            "[...document.querySelectorAll('.broken button')].find((b) => b.textContent.startsWith({})).click()",
            json!(repair)
        ))
        .await;
    browser
        .until(
            "put right",
            "!window.here && document.querySelector('.step') && !document.querySelector('.broken')",
        )
        .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn three_cards_from_one_mat_and_a_second_press_on_a_damp_first() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = open(&browser, &desk, "Ebb at six").await;
    let bare = picture(&browser).await;
    deed(&browser, "mat").await;
    browser.until("a mat", "document.querySelectorAll('[data-patch]').length === 3").await;
    tells(&browser, "4 mists, press this card straight down").await;
    still(&browser).await;
    assert_ne!(picture(&browser).await, bare);
    deed(&browser, "three").await;
    browser.until("three cards", "document.querySelectorAll('.spares img').length === 2").await;
    tells(&browser, "2 mists, press spare card 2").await;
    // Each paler than the one before, in so many words.
    let shares = browser
        .run("return [...document.querySelectorAll('.carries dd')].map((d) => parseInt(d.textContent))")
        .await;
    let shares: Vec<i64> = shares.as_array().unwrap().iter().map(|share| share.as_i64().unwrap()).collect();
    assert!(shares[0] > shares[1] && shares[1] > shares[2], "{shares:?}");
    assert!((98..=102).contains(&shares.iter().sum::<i64>()), "{shares:?}");
    // A patch is moved with the mouse, and by its arrow keys.
    let at = "document.querySelector('[data-row=\"patch\"][data-place=\"0\"][data-set=\"left\"]').value";
    let before = browser.run(&format!("return {at}")).await;
    drag(&browser, "[data-grip='patch 0']", 40, 10).await;
    browser.until("moved", &format!("{at} !== {before}")).await;
    still(&browser).await;
    let moved = browser.run(&format!("return {at}")).await;
    browser.run("document.querySelector(\"[data-grip='patch 0']\").focus()").await;
    browser.find("[data-grip='patch 0']").await.send_keys(&char::from(Key::Right).to_string()).await.unwrap();
    browser.until("moved by a mark", &format!("{at} !== {moved}")).await;
    // What no mat has is told by its field, and what was written stays.
    set(&browser, ("patch", 0, "dabs"), "90").await;
    browser
        .until("told", "document.querySelector('[data-wrong=\"patch-0\"]').textContent.includes('1 to 8')")
        .await;
    set(&browser, ("patch", 0, "dabs"), "4").await;
    tells(&browser, "dabbed 4 times").await;
    // Pressed again while it is damp: what that does is said.
    // The mat and the card after each press; then all of it again.
    let shown = |of: &str| format!("document.querySelector('{of} img.picture').src");
    let (all, misted) = (
        browser.run(&format!("return {}", shown(".water-panel"))).await,
        browser.run(&format!("return {}", shown(".mat-picture"))).await,
    );
    for press in ["0", "1", "2"] {
        browser.click(&format!("[data-show-press='{press}']")).await;
        let other = format!("{} !== {all} && {} !== {misted}", shown(".water-panel"), shown(".mat-picture"));
        browser.until("the mat and the card then", &other).await;
        assert_eq!(browser.run("return document.querySelectorAll('.mat-picture .grip').length").await, 0);
    }
    browser.click("[data-show-all]").await;
    browser.until("all of it", &format!("{} === {all}", shown(".water-panel"))).await;
    deed(&browser, "press").await;
    set(&browser, ("press", 3, "card"), "0").await;
    tells(&browser, "once it is dry").await;
    set(&browser, ("press", 3, "on_damp"), "dry").await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let planned = steps(&browser).await;
    for title in [
        "Press the card on the mat",
        "Press spare card 1",
        "Press spare card 2",
        "Press it again, on what is left",
    ] {
        assert!(planned.iter().any(|step| step == title), "{title}: {planned:?}");
    }
    // The drying between taken out, told, and put back.
    press(&browser, "Dry it with heat", "out").await;
    browser.until_says(".steps", "run into one another to mud").await;
    mend(&browser, "Let it dry first").await;
    browser.until_says(".own-order", "and breaks no rule").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_night_with_flecks_flicked_and_placed() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = open(&browser, &desk, "Kites after dark").await;
    let night = picture(&browser).await;
    add(&browser, "white").await;
    tells(&browser, "sparse, as stars").await;
    still(&browser).await;
    assert_ne!(picture(&browser).await, night);
    set(&browser, ("deed", 0, "clear"), "lower").await;
    tells(&browser, "all but the lower third").await;
    let count =
        "Number(document.querySelector('[data-row=\"deed\"][data-place=\"0\"][data-set=\"count\"]').value)";
    let before = browser.run(&format!("return {count}")).await.as_i64().unwrap();
    deed(&browser, "more").await;
    browser.until("more", &format!("{count} > {before}")).await;
    deed(&browser, "less").await;
    deed(&browser, "less").await;
    browser.until("less", &format!("{count} < {before}")).await;
    // Two brighter ones placed where the picture is tapped.
    deed(&browser, "placing").await;
    browser.until("placing", "document.querySelector('.on-picture.placing')").await;
    drag(&browser, ".water-panel img.picture", 0, 0).await;
    tells(&browser, "and set 1 with").await;
    still(&browser).await;
    drag(&browser, ".water-panel img.picture", 0, 0).await;
    tells(&browser, "and set 2 with").await;
    still(&browser).await;
    browser.click("[data-placing] button").await;
    set(&browser, ("deed", 0, "tip"), "pen").await;
    tells(&browser, "a pen, brighter").await;
    browser.until("done", "!document.querySelector('.on-picture.placing')").await;
    deed(&browser, "again").await;
    browser.until("twice", "document.querySelectorAll('[data-deed-row]').length === 2").await;
    still(&browser).await;
    browser.click("[data-undo]").await;
    browser.until("once", "document.querySelectorAll('[data-deed-row]').length === 1").await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let planned = steps(&browser).await;
    let flick = planned.iter().position(|step| step.starts_with("Flick")).unwrap();
    assert!(planned[..flick].iter().any(|step| step.starts_with("Let it dry") || step.starts_with("Dry it")));
    browser.until_says(".steps", "one drop to one drop").await;
    browser.until_says(".steps", "with a pen, straight from its tip").await;
    browser.until_says(".steps", "Scrap card lies over what stays clear").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_spray_with_a_thing_kept_dry_under_its_plug() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = open(&browser, &desk, "Lamp on the groyne").await;
    add(&browser, "spray").await;
    tells(&browser, "from 7 in, on dry card").await;
    set(&browser, ("deed", 0, "card"), "wet").await;
    set(&browser, ("deed", 0, "tilt"), "down").await;
    tells(&browser, "tilted to the bottom").await;
    set(&browser, ("deed", 0, "brush"), "pushed").await;
    tells(&browser, "pushed about with a brush").await;
    browser.until_says(".water-then", "It bows about").await;
    set(&browser, ("deed", 0, "keep0"), "on").await;
    set(&browser, ("deed", 0, "distance"), "30 in").await;
    browser
        .until("told", "document.querySelector('[data-wrong=\"deed-0\"]').textContent.includes('20 in')")
        .await;
    set(&browser, ("deed", 0, "distance"), "9 in").await;
    tells(&browser, "from 9 in").await;
    still(&browser).await;
    let left = "document.querySelector('[data-row=\"deed\"][data-set=\"left\"]').value";
    let before = browser.run(&format!("return {left}")).await;
    drag(&browser, "[data-grip='aim 0']", 30, -20).await;
    browser.until("aimed", &format!("{left} !== {before}")).await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let planned = steps(&browser).await;
    let spray = planned.iter().position(|step| step.starts_with("Spray")).unwrap();
    // Its plug lay there for what was laid before, and stays.
    let handled = |step: &&String| step.ends_with("the plug of the near dune");
    let before = planned[..spray].iter().rfind(handled).map(String::as_str);
    assert_eq!(before, Some("Put on the plug of the near dune"), "{planned:?}");
    let after = planned[spray..].iter().find(handled).map(String::as_str);
    assert_eq!(after, Some("Lift the plug of the near dune"), "{planned:?}");
    browser.until_says(".steps", "Do not breathe the mist").await;
    browser.until_says(".steps", "Push it about with a wet brush").await;
    // The mask is cut with the others.
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    browser.until_says(".to-cut", "near dune").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn water_on_a_greeting_in_soluble_ink_is_told_and_mended() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    crate::covered::still(&browser).await;
    browser.run("document.querySelector('#new-shape').value = 'word'").await;
    browser.click("[data-add]").await;
    browser.until("a word", "document.querySelector('[data-thing=\"0\"][data-set=\"letters\"]')").await;
    crate::covered::still(&browser).await;
    choose(&browser, 0, "gets", "goes").await;
    browser.until("in ink", "document.querySelector('[data-thing=\"0\"][data-set=\"ink0\"]')").await;
    crate::covered::still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/water")).await;
    add(&browser, "mist").await;
    tells(&browser, "Mist the card with 4 pumps").await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let planned = steps(&browser).await;
    let mist = planned.iter().position(|step| step == "Mist the card").unwrap();
    let lift = planned[mist..].iter().find(|step| step.starts_with("Lift the plug of the")).unwrap();
    // Lifted before it is misted, and not after.
    let at = planned.iter().position(|step| step == lift).unwrap();
    for _ in mist..at {
        press(&browser, lift, "earlier").await;
    }
    browser.until_says(".steps", "it would run. Cover it first").await;
    mend(&browser, "Put on the plug of the").await;
    browser.until_says(".own-order", "and breaks no rule").await;
    let again = steps(&browser).await;
    let mist = again.iter().position(|step| step == "Mist the card").unwrap();
    assert!(
        again[mist - 1].starts_with("Put the plug of the ") && again[mist - 1].ends_with(" back"),
        "{again:?}"
    );
    // What is wanted is not taken out here, but on its own page.
    let own = "[...document.querySelectorAll('.step')].find((s) => s.querySelector('h2 .tabular-nums').textContent === 'Mist the card')";
    browser.run(&format!("{own}.querySelector(\"[value='out']\").click()")).await;
    browser.until_says("body", "change it on its Water page instead").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_texture_skimmed_in_darker_shades_and_paste_through_its_stencil() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = browser.panel(&desk, "Ebb at six").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    crate::covered::still(&browser).await;
    browser.run("document.querySelector('#new-shape').value = 'waves'").await;
    browser.click("[data-add]").await;
    browser.until("waves", "document.querySelector('[data-deed=\"skim\"]')").await;
    crate::covered::still(&browser).await;
    browser
        .run("const b = document.querySelector('[data-deed=\"skim\"]'); b.closest('details')?.setAttribute('open', ''); b.click()")
        .await;
    // The drawer has one ink two shades below First Tide; the others have none, and that is said.
    crate::covered::tells(&browser, "goes Ebb Blue, over what lies behind").await;
    browser.until_says(".notice", "no darker ink of the family of Cockle").await;
    crate::covered::still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let planned = steps(&browser).await;
    let raise = planned.iter().position(|step| step.starts_with("Raise the waves")).unwrap();
    assert!(planned[raise + 1..].iter().any(|step| step.starts_with("Ebb Blue")), "{planned:?}");
    browser.until_says(".steps", "skim what stands up").await;
    // Paste comes last; a stencil is lent for it, and its own page says so.
    browser.go(&desk, &format!("/panels/{id}/water")).await;
    add(&browser, "paste").await;
    tells(&browser, "Scrape white paste through the stencil of the waves 2, and let it dry.").await;
    set(&browser, ("deed", 0, "of"), "tinted").await;
    tells(&browser, "white paste tinted with").await;
    set(&browser, ("deed", 0, "of"), "shimmer").await;
    tells(&browser, "Scrape shimmer paste through").await;
    add(&browser, "mist").await;
    still(&browser).await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    let planned = steps(&browser).await;
    let at = |title: &str| planned.iter().position(|step| step.starts_with(title)).unwrap();
    assert!(at("Mist the card") < at("Scrape shimmer paste"), "{planned:?}");
    assert!(at("Scrape shimmer paste") < at("Let the paste dry in air"));
    browser.until_says(".steps", "Loose mica is not to be breathed").await;
    browser.go(&desk, &format!("/panels/{id}/cover")).await;
    crate::covered::tells(&browser, "the waves 2, waves of 4 in wide").await;
    crate::covered::tells(&browser, "only lends its stencil").await;
    browser.close().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn one_ground_altered_three_ways_side_by_side_and_made() {
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    open(&browser, &desk, "Ebb at six").await;
    browser.click(".water-then a[href$='/alter']").await;
    browser.until("three", "[...document.querySelectorAll('.three-ways img')].filter((of) => of.naturalWidth > 9).length === 3").await;
    browser.until_says(".three-ways", "White paste scraped through the stencil of the waves").await;
    browser.click(".three-ways form button").await;
    // They are planned together.
    browser.until_says(".evening-says", "3 cards in").await;
    browser.go(&desk, "/").await;
    for name in ["Ebb at six, darker edges", "Ebb at six, paste", "Ebb at six, lifted"] {
        browser.until_says(".panels", name).await;
    }
    browser.click("[data-undo]").await;
    browser.until("gone", "!document.querySelector('.panels').textContent.includes('darker edges')").await;
    // A bare panel has nothing to alter: it is said, with the remedy.
    browser.run("document.querySelector('.new-panel').setAttribute('open', '')").await;
    browser.click(".size-button").await;
    browser.until("a new panel", "location.pathname.endsWith('/inks')").await;
    let bare = browser.run("return location.pathname.split('/')[2]").await;
    browser.go(&desk, &format!("/panels/{}/alter", bare.as_str().unwrap())).await;
    browser.until_says(".three-ways .trouble", "give it a blend").await;
    browser.close().await;
}

/// A pad taken straight to the card for bark, through a thing's frame; mud told; the panel taken to the bench from its sheet.
#[tokio::test(flavor = "multi_thread")]
async fn a_pad_swiped_for_bark_and_mud_told() {
    const INK: &str = "return document.querySelector('[data-row=deed][data-set=ink]').value";
    let desk = Desk::new(true).await;
    let browser = Browser::new().await;
    let id = open(&browser, &desk, "Ebb at six").await;
    let before = picture(&browser).await;
    add(&browser, "pad").await;
    tells(&browser, "lightly, for bark").await;
    still(&browser).await;
    let light = picture(&browser).await;
    assert_ne!(light, before);
    // A green lightly over the pink of the ground: at one press another ink is taken, which stays clean.
    set(&browser, ("deed", 0, "ink"), "Eelgrass").await;
    tells(&browser, "Eelgrass turn").await;
    still(&browser).await;
    // From the blend beneath too: what mends it there is kept.
    browser.go(&desk, &format!("/panels/{id}/blend")).await;
    browser.until_says("[data-note=brought]", "Eelgrass turn").await;
    browser.click("[data-note=brought] .remedy").await;
    browser.until("no mud", "!document.querySelector('[data-note=brought]')").await;
    browser.until_kept().await;
    browser.go(&desk, &format!("/panels/{id}/water")).await;
    still(&browser).await;
    assert_ne!(browser.run(INK).await.as_str(), Some("Eelgrass"));
    set(&browser, ("deed", 0, "ink"), "Eelgrass").await;
    tells(&browser, "Eelgrass turn").await;
    deed(&browser, "clear").await;
    browser.until("no mud", "!document.querySelector('[data-deed=clear]')").await;
    still(&browser).await;
    assert_ne!(browser.run(INK).await.as_str(), Some("Eelgrass"));
    set(&browser, ("deed", 0, "hand"), "firm").await;
    set(&browser, ("deed", 0, "times"), "3").await;
    tells(&browser, "firmly").await;
    still(&browser).await;
    assert_ne!(picture(&browser).await, light);
    // A green one firmly over it: what they turn to is said.
    set(&browser, ("deed", 0, "ink"), "Eelgrass").await;
    tells(&browser, "Eelgrass turn").await;
    tells(&browser, "where they lie over one another").await;
    // The whole drawer is looked through for one that stays clean, as on the blend's own page.
    deed(&browser, "clear").await;
    browser.until("no mud", "!document.querySelector('[data-deed=clear]')").await;
    still(&browser).await;
    assert_ne!(browser.run(INK).await.as_str(), Some("Eelgrass"));
    set(&browser, ("deed", 0, "ink"), "Eelgrass").await;
    tells(&browser, "Eelgrass turn").await;
    set(&browser, ("deed", 0, "times"), "none").await;
    browser.until_says("[data-wrong=deed-0]", "whole number").await;
    set(&browser, ("deed", 0, "stroke"), "across").await;
    still(&browser).await;
    // It is among what there is to say of the blend beneath, too.
    browser.go(&desk, &format!("/panels/{id}/blend")).await;
    browser.until_says("[data-note=brought]", "Eelgrass turn").await;
    browser.go(&desk, &format!("/panels/{id}/sheet")).await;
    assert!(steps(&browser).await.iter().any(|step| step.starts_with("Swipe the pad of")));
    browser.until_says(".steps", "from the left to the right").await;
    // From its sheet it goes to the bench at once, one step at a time.
    browser.click("form[action='/evenings'] button").await;
    browser.until_says("[data-done]", "Begin").await;
    browser.close().await;
}

/// What is changed on two devices is both kept; what is changed while the database is away outlives the page.
#[tokio::test(flavor = "multi_thread")]
async fn water_on_two_devices_and_while_the_database_is_away() {
    let desk = Desk::new(true).await;
    let (browser, other) = (Browser::new().await, Browser::new().await);
    let id = open(&browser, &desk, "Squall on the sea wall").await;
    add(&browser, "mist").await;
    still(&browser).await;
    add(&browser, "spray").await;
    still(&browser).await;
    let fields = |what: &str| {
        format!(
            "[...document.querySelectorAll('[data-row=deed][data-set={what}]')].map((f) => f.dataset.place + f.value).join()"
        )
    };
    let count =
        browser.run("return document.querySelectorAll('[data-deed-row]').length").await.as_u64().unwrap()
            as usize;
    other.go(&desk, &format!("/panels/{id}/water")).await;
    still(&other).await;
    set(&browser, ("deed", count - 2, "pumps"), "7").await;
    set(&other, ("deed", count - 1, "pumps"), "9").await;
    still(&browser).await;
    still(&other).await;
    let both = format!(
        "{}.includes('{}7') && {}.includes('{}9')",
        fields("pumps"),
        count - 2,
        fields("pumps"),
        count - 1
    );
    for device in [&browser, &other] {
        device.go(&desk, &format!("/panels/{id}/water")).await;
        still(device).await;
        device.until("both are kept", &both).await;
    }
    desk.database_answers(false).await;
    browser
        .run(&format!(
            "const f = document.querySelector('[data-row=deed][data-place=\"{}\"][data-set=pumps]'); f.focus(); f.value = '5'; \
             f.dispatchEvent(new Event('change', {{ bubbles: true }}))",
            count - 1
        ))
        .await;
    browser.until("waiting", "document.querySelector('.status').textContent.includes('not kept yet')").await;
    browser.go(&desk, &format!("/panels/{id}/water")).await;
    desk.database_answers(true).await;
    browser.go(&desk, &format!("/panels/{id}/water")).await;
    browser.until("it outlives the page", &format!("{}.includes('{}5')", fields("pumps"), count - 1)).await;
    still(&browser).await;
    // A page that is left in the moment a word is changed loses nothing.
    let written = |pumps: u8| {
        format!(
            "const f = document.querySelector('[data-row=deed][data-place=\"{}\"][data-set=pumps]'); f.value = '{pumps}'; \
             f.dispatchEvent(new Event('change', {{ bubbles: true }})); \
             return new Promise((told) => setTimeout(() => told(document.querySelector('.status').textContent)))",
            count - 1
        )
    };
    assert_eq!(browser.run(&written(6)).await, "keeping…");
    browser.go(&desk, "/").await;
    browser.go(&desk, &format!("/panels/{id}/water")).await;
    browser.until("it is made", &format!("{}.includes('{}6')", fields("pumps"), count - 1)).await;
    still(&browser).await;
    // What waits on one page is not made by another as well.
    desk.database_answers(false).await;
    browser.click(&format!("[data-deed=again][data-place=\"{}\"]", count - 1)).await;
    browser.until("waiting", "document.querySelector('.status').textContent.includes('not kept yet')").await;
    desk.database_answers(true).await;
    assert_eq!(browser.run("return Boolean(window.open(location.href))").await, true);
    let rows = |count: usize| format!("document.querySelectorAll('[data-deed-row]').length === {count}");
    browser.until("made once", &rows(count + 1)).await;
    still(&browser).await;
    sleep(3_000).await;
    browser.go(&desk, &format!("/panels/{id}/water")).await;
    still(&browser).await;
    browser.until("and no more", &rows(count + 1)).await;
    for device in [browser, other] {
        device.close().await;
    }
}
