//! How long an evening takes to plan, and how far it is from its bound; times stand beside what planning one card costs.
//!
//! Run with `./rosy bench`.

use std::time::{Duration, Instant};

use rosy_core::blend::{Blend, Way};
use rosy_core::colour::Colour;
use rosy_core::evening::{Evening, Progress, Scheduled};
use rosy_core::ink::{Finish, Ink, Kind, Paper, Tool, ToolKind};
use rosy_core::{Length, Panel, Units};

const TIMES: usize = 5;

fn ink(n: usize) -> Ink {
    let hue = n as f64 * 0.7;
    Ink {
        name: format!("Ink {n}").parse().expect("a name"),
        kind: if n.is_multiple_of(2) { Kind::Dye } else { Kind::Oxide },
        colour: Colour::Lab([40.0 + 6.0 * (n % 6) as f64, 42.0 * hue.cos(), 42.0 * hue.sin()].into()),
        one_veil: None,
        full_veils: 6,
        on_ink: None,
    }
}

/// A card of four inks, from one of a drawer on.
fn card(first: usize) -> Panel {
    let paper = Paper::plain(Finish::VerySmooth);
    let tool = Tool::one("Dome".parse().expect("a name"), ToolKind::Brush);
    let (wide, high) = (Length::from_inches(4), Length::from_inches(5));
    let mut panel = Panel::bare("Ebb at six".parse().expect("a name"), wide, high, paper, tool, 1);
    let inks: Vec<Ink> = (first..first + 4).map(ink).collect();
    let listed: Vec<(usize, &Ink)> = inks.iter().enumerate().collect();
    panel.scene.ground = vec![Blend::spread(&listed, Way::DOWN, high, Units::Inches)];
    Panel { inks, ..panel }.laid()
}

fn middle(evening: &Evening) -> (Duration, Scheduled) {
    let mut times = Vec::new();
    let mut scheduled = evening.scheduled();
    for _ in 0..TIMES {
        let began = Instant::now();
        scheduled = evening.scheduled();
        times.push(began.elapsed());
    }
    times.sort_unstable();
    (times[TIMES / 2], scheduled)
}

fn main() {
    let (yardstick, _) = middle(&Evening::of(vec![card(0)], true));
    println!("Evenings; × is against planning a single card\n");
    println!("{:<44} {:>9} {:>9}  tasks  above the bound", "", "ms", "×");
    let twenty: Vec<Panel> = (0..20).map(|n| card(n % 5)).collect();
    let moves = twenty.iter().map(|card| card.moves.len()).sum::<usize>() / twenty.len();
    let planned = Evening::of(twenty.clone(), true).scheduled();
    let mut progress = vec![Progress::default(); twenty.len()];
    for step in planned.steps.iter().take(planned.steps.len() / 2).filter(|step| !step.heats) {
        progress[step.card] = Progress { moves: step.moves.end, since: 300 };
    }
    let late = Evening { progress, ..Evening::of(twenty.clone(), true) };
    for (what, evening) in [
        ("4 cards alike", Evening::of(vec![card(0); 4], true)),
        ("8 cards alike", Evening::of(vec![card(0); 8], true)),
        (&*format!("20 cards of five kinds, {moves} moves each"), Evening::of(twenty, true)),
        ("the same half done, a step late", late),
    ] {
        let (time, scheduled) = middle(&evening);
        let above = 100.0 * (scheduled.cost.finish as f64 / scheduled.bound() as f64 - 1.0);
        println!(
            "{what:<44} {:>9.1} {:>9.0}  {:>5}  {above:>6.1} %{}",
            time.as_secs_f64() * 1e3,
            time.as_secs_f64() / yardstick.as_secs_f64(),
            scheduled.steps.len(),
            if scheduled.is_proven { ", proven best" } else { "" },
        );
    }
}
