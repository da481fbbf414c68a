//! How long a batch takes to plan, and how many sheets it uses; times stand beside what laying it in rows costs.
//!
//! Run with `./rosy bench`.

use std::time::{Duration, Instant};

use rosy_core::cut::{Piece, Plan, Sheet, SheetAsked};
use rosy_core::{Length, Units};

const TIMES: usize = 5;

fn eighths(n: i64) -> Length {
    Length::from_64ths(8 * n)
}

fn batch(sizes: &[(i64, i64)], of_each: u32) -> SheetAsked {
    let name = |text: &str| text.parse().expect("a name");
    let pieces = sizes.iter().enumerate().map(|(n, (w, h))| Piece {
        name: name(&format!("Piece {n}")),
        width: eighths(*w),
        height: eighths(*h),
        grain: None,
        count: of_each,
        paper: None,
    });
    let letter = Sheet {
        name: name("Letter"),
        width: eighths(68),
        height: eighths(88),
        grain: None,
        count: None,
        paper: None,
        offcut: false,
    };
    SheetAsked { units: Units::Inches, pieces: pieces.collect(), sheets: vec![letter], keep: None }
}

/// The same with A4 beside letter and offcuts of six sizes, two of each.
fn with_offcuts(asked: SheetAsked) -> SheetAsked {
    let letter = asked.sheets[0].clone();
    let a4 = Sheet {
        width: Length::from_tenths_mm(2_100),
        height: Length::from_tenths_mm(2_970),
        ..letter.clone()
    };
    let offcut = |n: i64| Sheet {
        width: eighths(24 + 5 * n),
        height: eighths(38 + 3 * n),
        count: Some(2),
        offcut: true,
        ..letter.clone()
    };
    let sheets = [letter.clone(), a4].into_iter().chain((0..6).map(offcut)).collect();
    SheetAsked { sheets, ..asked }
}

fn middle(asked: &SheetAsked) -> (Duration, Plan) {
    let mut times = Vec::new();
    let mut plan = None;
    for _ in 0..TIMES {
        let began = Instant::now();
        plan = Some(asked.answer().expect("a batch that can be cut"));
        times.push(began.elapsed());
    }
    times.sort_unstable();
    (times[TIMES / 2], plan.expect("planned at least once"))
}

fn main() {
    let one = batch(&[(68, 44)], 1);
    let (yardstick, _) = middle(&one);
    println!("Sheets from letter, 8 1/2 × 11 in; × is against planning a single base\n");
    println!("{:<52} {:>9} {:>9}  sheets  at least  by area", "", "ms", "×");
    for (what, asked) in [
        (
            "12 each of base, mat, panel to ink, strip, label",
            batch(&[(68, 44), (33, 43), (36, 46), (8, 44), (12, 24)], 12),
        ),
        (
            "12 each of five sizes that fit badly",
            batch(&[(39, 47), (37, 41), (29, 53), (23, 31), (13, 37)], 12),
        ),
        ("12 each of five small sizes", batch(&[(9, 13), (11, 17), (14, 14), (10, 21), (16, 24)], 12)),
        ("20 each of base, mat and panel", batch(&[(68, 44), (33, 43), (32, 42)], 20)),
        ("12 each of twelve sizes", batch(&(0..12).map(|n| (5 + n, 9 + 3 * n)).collect::<Vec<_>>(), 12)),
        (
            "12 each of five sizes, some from offcuts",
            with_offcuts(batch(&[(39, 47), (37, 41), (29, 53), (23, 31), (13, 37)], 12)),
        ),
        ("10 each of sixty sizes", batch(&(0..60).map(|n| (8 + n % 20, 9 + n % 37)).collect::<Vec<_>>(), 10)),
    ] {
        let (time, plan) = middle(&asked);
        let area: i128 = asked.pieces.iter().map(|p| p.area() * i128::from(p.count)).sum();
        let by_area = (area as f64 / asked.sheets[0].area() as f64).ceil();
        println!(
            "{what:<52} {:>9.1} {:>9.0}  {:>6}  {:>8}  {by_area:>7}",
            time.as_secs_f64() * 1e3,
            time.as_secs_f64() / yardstick.as_secs_f64(),
            plan.full_sheets,
            plan.at_least,
        );
    }
}
