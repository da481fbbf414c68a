//! How quick it stays: many makers at once, and benches that have grown. `./rosy bench` runs these; they measure and claim
//! nothing. Bounded in number and time, on loopback alone.

mod desk;

use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

use desk::{Desk, Visit};
use rosy_core::Panel;
use rosy_core::cut::Sheet;
use rosy_core::ink::Ink;
use rosy_store::{Change, Store};
use serde_json::{Value, json};
use uuid::Uuid;

/// How long each number of makers goes on.
const GOES_ON: Duration = Duration::from_secs(6);

/// The middle and the 95th of a hundred, in milliseconds, and the worst.
fn spread(mut times: Vec<f64>) -> (f64, f64, f64) {
    times.sort_by(f64::total_cmp);
    let at = |share: f64| {
        times.get(((times.len() as f64 - 1.0) * share).round() as usize).copied().unwrap_or(f64::NAN)
    };
    (at(0.5), at(0.95), at(1.0))
}

fn milliseconds(began: Instant) -> f64 {
    began.elapsed().as_secs_f64() * 1000.0
}

#[tokio::test(flavor = "multi_thread")]
#[ignore = "measures: ./rosy bench"]
async fn makers_dragging_at_once() {
    let desk = Desk::new(true).await;
    println!(
        "makers dragging at once: a look while a hand moves, one when it rests, a page for another visitor, in ms (and × one maker's look)"
    );
    let mut alone = f64::NAN;
    println!("  memory before: {} MB", desk.memory() >> 20);
    let mut peak = 0;
    for makers in [1, 4, 16] {
        let over = AtomicBool::new(false);
        let (looks, pages) = std::thread::scope(|scope| {
            let looking: Vec<_> = (0..makers)
                .map(|maker| {
                    scope.spawn({
                        let (desk, over) = (&desk, &over);
                        move || drag(desk, maker, over)
                    })
                })
                .collect();
            let reading = scope.spawn(|| {
                let visit = Visit::new(&desk);
                let mut times = Vec::new();
                while !over.load(Ordering::Relaxed) {
                    let began = Instant::now();
                    let path = ["/", "/drawer", "/stock"][times.len() % 3];
                    assert_eq!(desk.send("GET", path, &[("Cookie", &visit.cookie)], "").0, 200);
                    times.push(milliseconds(began));
                    std::thread::sleep(Duration::from_millis(50));
                }
                times
            });
            let began = Instant::now();
            while began.elapsed() < GOES_ON {
                peak = peak.max(desk.memory());
                std::thread::sleep(Duration::from_millis(50));
            }
            over.store(true, Ordering::Relaxed);
            let looks: Vec<(f64, bool)> =
                looking.into_iter().flat_map(|maker| maker.join().unwrap()).collect();
            (looks, reading.join().unwrap())
        });
        let (rests, looks): (Vec<_>, Vec<_>) = looks.into_iter().partition(|(_, settled)| *settled);
        let [looks, rests] =
            [looks, rests].map(|of| of.into_iter().map(|(took, _)| took).collect::<Vec<_>>());
        let (count, (rest, rest_95, _)) = (looks.len(), spread(rests));
        let ((look, look_95, worst), (page, page_95, _)) = (spread(looks), spread(pages));
        if makers == 1 {
            alone = look;
        }
        println!(
            "  {makers:>2} makers, {count:>4} looks: p50 {look:.0} ({:.1}×), p95 {look_95:.0} ({:.1}×), worst {worst:.0}; at rest p50 {rest:.0}, p95 {rest_95:.0}; page p50 {page:.0}, p95 {page_95:.0}",
            look / alone,
            look_95 / alone
        );
    }
    println!("  memory at the peak: {} MB", peak >> 20);
    std::thread::sleep(Duration::from_secs(2));
    println!("  memory after: {} MB", desk.memory() >> 20);
}

/// A maker who drags a handle as fast as the program answers.
fn drag(desk: &Desk, maker: usize, over: &AtomicBool) -> Vec<(f64, bool)> {
    let visit = Visit::new(desk);
    let headers = [("Cookie", visit.cookie.as_str()), ("X-Rosy-Token", visit.token.as_str())];
    let (_, _, state) = desk.send("GET", &format!("/api/panels/{}", visit.panel), &headers, "");
    let mut panel = serde_json::from_str::<Value>(&state).unwrap()["panel"].clone();
    let mut times = Vec::new();
    while !over.load(Ordering::Relaxed) {
        let at = 4 + (times.len() + maker) % 9;
        panel["scene"]["ground"][0]["fields"][0]["full_to"] = format!("{at}/8 in").into();
        // Now and then the hand rests.
        let settled = times.len() % 12 == 11;
        // As the page asks: coarser while the hand moves.
        let dpi = if settled { 110 } else { 48 };
        let asked = json!({ "panel": panel, "dpi": dpi, "settled": settled }).to_string();
        let began = Instant::now();
        let (status, _, said) = desk.send("POST", "/api/panels/look", &headers, &asked);
        assert_eq!(status, 200, "{said}");
        times.push((milliseconds(began), settled));
    }
    times
}

#[tokio::test(flavor = "multi_thread")]
#[ignore = "measures: ./rosy bench"]
async fn a_change_kept_against_a_read() {
    let desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let headers = [("Cookie", visit.cookie.as_str()), ("X-Rosy-Token", visit.token.as_str())];
    println!("a change kept, against a read of its panel");
    for name in ["Ebb at six", "Lamp on the groyne", "Tea-hut stripes"] {
        let (_, _, page) = desk.send("GET", "/", &headers, "");
        let named = page.find(&format!(">{name}<")).expect("the panel");
        let before = &page[..named];
        let id = &before[before.rfind("/panels/").expect("its address") + 8..][..36];
        let api = format!("/api/panels/{id}");
        let timed = |method: &str, path: &str, sent: &str| {
            let began = Instant::now();
            let (status, _, said) = desk.send(method, path, &headers, sent);
            assert_eq!(status, 200, "{said}");
            (milliseconds(began), said)
        };
        let (mut reads, mut edits, mut looks) = (Vec::new(), Vec::new(), Vec::new());
        for n in 0..60_i64 {
            let (took, said) = timed("GET", &api, "");
            reads.push(took);
            let state: Value = serde_json::from_str(&said).unwrap();
            let change = json!({ "veils": { "field": 0, "by": if n % 2 == 0 { 1 } else { -1 } } });
            let edit = json!({
                "revision": state["revision"], "mark": uuid::Uuid::now_v7(),
                "edit": { "blend": { "blend": 0, "change": change } },
            });
            let (took, said) = timed("PUT", &format!("{api}/edit"), &edit.to_string());
            edits.push(took);
            let state: Value = serde_json::from_str(&said).unwrap();
            let asked = json!({ "panel": state["panel"], "dpi": 110, "settled": true });
            looks.push(timed("POST", "/api/panels/cover", &asked.to_string()).0);
        }
        let [(read, ..), (edit, edit_95, _), (look, ..)] = [reads, edits, looks].map(spread);
        println!(
            "  {name}: read {read:.1} ms; change kept p50 {edit:.1} ({:.1}×), p95 {edit_95:.1}; its picture after it {look:.0}",
            edit / read
        );
    }
}

#[tokio::test(flavor = "multi_thread")]
#[ignore = "measures: ./rosy bench"]
async fn benches_that_grow() {
    println!("benches that grow: a page in ms, first and again, and its size");
    for many in [10, 1_000, 10_000] {
        let desk = Desk::new(true).await;
        let store = Store::open(desk.database()).await.unwrap();
        let bench = store.benches().await.unwrap()[0].id;
        let panel = store.all::<Panel>(bench).await.unwrap().remove(0).value;
        let ink = store.all::<Ink>(bench).await.unwrap().remove(0).value;
        let sheet = store.all::<Sheet>(bench).await.unwrap().remove(0).value;
        let mut things = Vec::new();
        for n in 0..many {
            let name = |what: &str| format!("{what} {n}").parse().unwrap();
            let mut colour = [20.0 + (n % 71) as f64, (n % 97) as f64 - 48.0, (n % 89) as f64 - 44.0];
            colour[0] = colour[0].min(90.0);
            let ink = Ink {
                name: name("Ink"),
                colour: rosy_core::colour::Colour::Lab(colour.into()),
                one_veil: None,
                ..ink.clone()
            };
            things
                .push(Change::add(Uuid::now_v7(), &Panel { name: name("Panel"), ..panel.clone() }).unwrap());
            things.push(Change::add(Uuid::now_v7(), &ink).unwrap());
            things
                .push(Change::add(Uuid::now_v7(), &Sheet { name: name("Sheet"), ..sheet.clone() }).unwrap());
        }
        store.set_out(bench, things).await.unwrap();
        let visit = Visit::new(&desk);
        for path in ["/", "/drawer", "/drawer?search=ink+7", "/stock"] {
            let mut took = Vec::new();
            let mut size = 0;
            for _ in 0..3 {
                let began = Instant::now();
                let (status, _, page) = desk.send("GET", path, &[("Cookie", &visit.cookie)], "");
                assert_eq!(status, 200, "{path}: {page}");
                took.push(milliseconds(began));
                size = page.len();
            }
            println!(
                "  {many:>6} of each, {path:<20} {:>5.0}, then {:>4.0}; {} kB",
                took[0],
                took[2],
                size / 1000
            );
        }
    }
}

/// A bench that a maker has filled over years.
async fn large_bench(desk: &Desk, panels: usize, inks: usize) -> Uuid {
    let store = Store::open(desk.database()).await.unwrap();
    let bench = store.benches().await.unwrap()[0].id;
    let designs = store.all::<Panel>(bench).await.unwrap();
    let ink = store.all::<Ink>(bench).await.unwrap().remove(0).value;
    let mut things = Vec::new();
    for n in 0..panels {
        let design = &designs[n % designs.len()].value;
        let name = format!("{} {n}", design.name.as_str().chars().take(60).collect::<String>());
        let panel = Panel { name: name.parse().unwrap(), seed: n as u32, ..design.clone() };
        things.push(Change::add(Uuid::now_v7(), &panel).unwrap());
    }
    for n in 0..inks {
        let colour = [20.0 + (n % 71) as f64, (n % 97) as f64 - 48.0, (n % 89) as f64 - 44.0];
        let colour = rosy_core::colour::Colour::Lab(colour.into());
        let ink = Ink { name: format!("Ink {n}").parse().unwrap(), colour, one_veil: None, ..ink.clone() };
        things.push(Change::add(Uuid::now_v7(), &ink).unwrap());
    }
    store.set_out(bench, things).await.unwrap();
    bench
}

/// How long something took, in milliseconds, and the most memory that was held meanwhile above what was held before.
fn watched<T>(desk: &Desk, work: impl FnOnce() -> T + Send) -> (T, f64, u64)
where
    T: Send,
{
    let before = desk.memory();
    let over = AtomicBool::new(false);
    std::thread::scope(|scope| {
        let most = scope.spawn(|| {
            let mut most = 0;
            while !over.load(Ordering::Relaxed) {
                most = desk.memory().max(most);
                std::thread::sleep(Duration::from_millis(20));
            }
            most
        });
        let began = Instant::now();
        let done = work();
        let took = milliseconds(began);
        over.store(true, Ordering::Relaxed);
        (done, took, most.join().unwrap().saturating_sub(before))
    })
}

#[tokio::test(flavor = "multi_thread")]
#[ignore = "measures: ./rosy bench"]
async fn a_bench_filled_over_years() {
    println!("a bench of 2,000 panels and 3,000 inks: seconds, size, and memory above the resting program");
    let desk = Desk::new(true).await;
    large_bench(&desk, 2_000, 3_000).await;
    let visit = Visit::new(&desk);
    let line = |what: &str, took: f64, size: usize, memory: u64| {
        println!("  {what:<24} {:>6.2} s, {:>6} kB, {:>5} MB", took / 1000.0, size / 1000, memory >> 20);
    };
    for _ in 0..2 {
        let (body, took, memory) = watched(&desk, || desk.fetch("/evenings", &visit.cookie));
        line("/evenings", took, body.len(), memory);
    }
    let (archive, took, memory) = watched(&desk, || desk.fetch("/benches/bench.zip", &visit.cookie));
    line("bench.zip", took, archive.len(), memory);
    let headers = [("Cookie", visit.cookie.as_str()), ("X-Rosy-Token", visit.token.as_str())];
    let ((status, _, said), took, memory) =
        watched(&desk, || desk.send("POST", "/api/benches", &headers, &archive));
    assert_eq!(status, 200, "{said}");
    line("bench.zip brought in", took, archive.len(), memory);
}

#[tokio::test(flavor = "multi_thread")]
#[ignore = "measures: ./rosy bench"]
async fn one_ground_three_ways() {
    println!(
        "one ground three ways: seconds to the page, to all of it, and to all of it again (× the panel's own picture)"
    );
    let desk = Desk::new(true).await;
    let visit = Visit::new(&desk);
    let store = Store::open(desk.database()).await.unwrap();
    let bench = store.benches().await.unwrap()[0].id;
    for kept in store.all::<Panel>(bench).await.unwrap() {
        let began = Instant::now();
        desk.fetch(&format!("/panels/{}/picture.png?dpi=84", kept.id), &visit.cookie);
        let picture = milliseconds(began);
        let mut took = Vec::new();
        for _ in 0..2 {
            let began = Instant::now();
            let page = desk.fetch(&format!("/panels/{}/alter", kept.id), &visit.cookie);
            let first = milliseconds(began);
            let page = String::from_utf8_lossy(&page);
            let parts =
                ["darker-edges", "paste", "lifted"].map(|way| format!("/panels/{}/alter/{way}", kept.id));
            for part in parts.iter().filter(|part| page.contains(part.as_str())) {
                desk.fetch(part, &visit.cookie);
                desk.fetch(&format!("{part}/picture.png"), &visit.cookie);
            }
            took.push((first, milliseconds(began)));
        }
        let [(first, all), (_, again)] = took[..] else { unreachable!("twice") };
        println!(
            "  {:<28} {:>3} moves: {:.2}, {:.2} ({:.0}×), {:.2}",
            kept.value.name,
            kept.value.moves.len(),
            first / 1000.0,
            all / 1000.0,
            all / picture,
            again / 1000.0
        );
    }
}

/// How long a maker's look at rest takes while another has many large ones in flight, against the same alone.
#[tokio::test(flavor = "multi_thread")]
#[ignore = "measures: ./rosy bench"]
async fn one_maker_asks_for_much() {
    let desk = Desk::new(true).await;
    let (many, one) = (Visit::new(&desk), Visit::new(&desk));
    let headers = |visit: &Visit| {
        [("Cookie".to_owned(), visit.cookie.clone()), ("X-Rosy-Token".to_owned(), visit.token.clone())]
    };
    let address = format!("/api/panels/{}", one.panel);
    let (_, _, state) =
        desk.send("GET", &address, &[("Cookie", &one.cookie), ("X-Rosy-Token", &one.token)], "");
    let panel = serde_json::from_str::<Value>(&state).unwrap()["panel"].clone();
    let look = |visit: &Visit, n: usize, dpi: u32| {
        let mut panel = panel.clone();
        panel["seed"] = n.into();
        let asked = json!({ "panel": panel, "dpi": dpi, "settled": true }).to_string();
        let headers = headers(visit);
        let headers: Vec<(&str, &str)> =
            headers.iter().map(|(name, value)| (name.as_str(), value.as_str())).collect();
        let began = Instant::now();
        let (status, ..) = desk.send("POST", "/api/panels/look", &headers, &asked);
        (status, milliseconds(began))
    };
    println!("one maker's look at rest, in ms: alone, while another has 200 at 300 dpi in flight (×)");
    for dpi in [48, 110, 300] {
        let alone = spread((0..10).map(|n| look(&one, n, dpi).1).collect()).0;
        let over = AtomicBool::new(false);
        let beside = std::thread::scope(|scope| {
            for asker in 0..200 {
                let (over, look, many) = (&over, &look, &many);
                scope.spawn(move || {
                    let mut n = 1_000 + asker * 1_000;
                    while !over.load(Ordering::Relaxed) {
                        n += 1;
                        // One that is told to wait waits, as a browser does.
                        if look(many, n, 300).0 == 503 {
                            std::thread::sleep(Duration::from_secs(2));
                        }
                    }
                });
            }
            std::thread::sleep(Duration::from_secs(2));
            let beside = spread((100..110).map(|n| look(&one, n, dpi).1).collect()).0;
            over.store(true, Ordering::Relaxed);
            beside
        });
        println!("  at {dpi:>3} dpi: {alone:.0}, {beside:.0} ({:.1}×)", beside / alone);
    }
}
