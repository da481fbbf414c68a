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
