//! An evening as it is told at the bench: how it stands follows from what was told alone.

use proptest::prelude::*;
use rosy_core::blend::{Blend, Way};
use rosy_core::card::Card;
use rosy_core::colour::Colour;
use rosy_core::edges::Edges;
use rosy_core::evening::beforehand::ready;
use rosy_core::evening::check::suffers;
use rosy_core::evening::words::said;
use rosy_core::evening::{Fault, Sitting, Told, What};
use rosy_core::ink::{Finish, Ink, Kind, Paper, Tool, ToolKind};
use rosy_core::learn::learned::By;
use rosy_core::learn::pace::Own;
use rosy_core::learn::{Figure, Pace};
use rosy_core::moves::Technique;
use rosy_core::order::RunSheet;
use rosy_core::record::Made;
use rosy_core::{Length, Panel, Units};

const BEGAN: i64 = 1_800_000_000_000;

fn ink(name: &str, lab: [f64; 3], kind: Kind) -> Ink {
    Ink {
        name: name.parse().unwrap(),
        kind,
        colour: Colour::Lab(lab.into()),
        one_veil: None,
        full_veils: 4,
        on_ink: None,
    }
}

fn card(kind: Kind) -> Panel {
    let paper = Paper::plain(Finish::VerySmooth);
    let inks = vec![ink("Sail", [69.0, -17.0, -23.0], kind), ink("Ebb Blue", [44.0, -6.0, -40.0], kind)];
    let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
    let (wide, high) = (Length::from_inches(4), Length::from_inches(5));
    let mut panel = Panel::bare("Ebb at six".parse().unwrap(), wide, high, paper, tool, 3);
    let listed: Vec<(usize, &Ink)> = inks.iter().enumerate().collect();
    panel.scene.ground = vec![Blend::spread(&listed, Way::DOWN, high, Units::Inches)];
    Panel { inks, ..panel }.laid()
}

fn sitting(kind: Kind, count: usize) -> Sitting {
    let cards = vec![card(kind); count];
    let name = "Thursday".parse().unwrap();
    Sitting { name, cards, heat: true, room: None, minutes: None, log: Vec::new() }
}

fn told(nth: usize, seconds: i64, what: What) -> Told {
    Told { mark: format!("mark-{nth:05}"), at: BEGAN + 1000 * seconds, what }
}

/// Tells an evening step by step, each as slow as said, until so many are done.
fn worked(sitting: &mut Sitting, steps: usize, slow: impl Fn(usize) -> f64) -> i64 {
    let mut time = 0;
    sitting.tell(&[told(0, 0, What::Begun)]).unwrap();
    for nth in 1..=steps {
        let standing = sitting.standing();
        let Some(step) = standing.scheduled.steps.first().cloned() else { break };
        time += step.begins + ((step.ends - step.begins) as f64 * slow(nth)).round() as i64;
        let what = if step.heats {
            What::Heated { card: step.card }
        } else {
            What::Done { card: step.card, moves: step.moves.end }
        };
        sitting.tell(&[told(nth, time, what)]).unwrap();
    }
    time
}

#[test]
fn an_evening_worked_through_is_done_and_no_card_suffers_on_the_way() {
    let mut own = sitting(Kind::Oxide, 3);
    let all = own.standing().scheduled.steps.len();
    worked(&mut own, 200, |nth| if nth % 3 == 0 { 1.6 } else { 0.8 });
    let end = own.standing();
    assert!(end.scheduled.steps.is_empty() && end.done.len() + 3 >= all);
    // All three are recorded, as long as they took; one set aside is not.
    let finished: Vec<Made> = own.finished().into_iter().map(Made::from).collect();
    assert_eq!(finished.len(), 3);
    assert!(finished.iter().all(|made| made.minutes.is_some_and(|minutes| (5..120).contains(&minutes))));
    let mut spilt = own.clone();
    spilt.tell(&[told(900, 90_000, What::Went { card: 1, fault: Fault::Spilt })]).unwrap();
    assert_eq!(spilt.finished().len(), 2);
    // On the way: after each step what is left is planned from the cards as they are.
    for upto in (1..own.log.len()).step_by(4) {
        let part = Sitting { log: own.log[..upto].to_vec(), ..own.clone() };
        let standing = part.standing();
        assert_eq!(suffers(&standing.evening, &standing.scheduled), [], "{upto}");
    }
}

#[test]
fn the_bench_tells_what_the_run_sheet_tells_from_the_cut_to_the_card() {
    let mut own = sitting(Kind::Dye, 2);
    let mut fitting = Card::fitting(&own.cards[0].inked(), Units::Inches);
    fitting.tape.border = Edges::all("1/4 in".parse().unwrap());
    own.cards = vec![Panel { card: Some(fitting), ..own.cards[0].clone() }.laid(); 2];
    // First the cut and what is put out, told once for both.
    let standing = own.standing();
    assert!(!standing.is_ready);
    let first = ready(&own.cards.iter().collect::<Vec<_>>(), Units::Inches).unwrap();
    let how: Vec<&str> = first.how.lines().collect();
    assert!(first.title.contains("2 panels") && how.len() == 2, "{first:?}");
    assert!(how[0].contains("2 times") && how[1].contains("Put out") && how[1].contains("tape"), "{how:?}");
    assert!(first.care.unwrap().contains("blade"));
    own.tell(&[told(0, 0, What::Begun), told(400, 1, What::Ready)]).unwrap();
    assert!(own.standing().is_ready);
    worked(&mut own, 200, |_| 1.0);
    // Then what makes a card of each panel, as its run sheet has it.
    let sheet = RunSheet::of(&own.cards[0], Units::Inches).steps;
    let after: Vec<&str> =
        sheet[2..].iter().filter(|step| step.at.is_none()).map(|step| step.title.as_str()).collect();
    let left = |own: &Sitting| own.standing().closing(Units::Inches);
    let titles: Vec<String> = left(&own).into_iter().map(|(_, _, step)| step.title).collect();
    assert_eq!(titles, [&after[..], &after[..]].concat());
    assert!(after.contains(&"Put the card together"));
    // Each is told as it is done, and taken back.
    for nth in 0..titles.len() {
        let rest = left(&own);
        assert_eq!(rest.len(), titles.len() - nth);
        let (card, steps, _) = rest[0];
        own.tell(&[told(500 + nth, 90_000 + nth as i64, What::Closed { card, steps })]).unwrap();
    }
    assert_eq!(left(&own), []);
    own.tell(&[told(600, 95_000, What::TakenBack)]).unwrap();
    assert_eq!(left(&own).len(), 1);
    let (bad, none) = (What::Closed { card: 0, steps: 99 }, What::Closed { card: 9, steps: 1 });
    assert!([bad, none].into_iter().all(|what| own.tell(&[told(700, 96_000, what)]).is_err()));
    // One that is spilt is not put together.
    own.tell(&[told(601, 97_000, What::Went { card: 1, fault: Fault::Spilt })]).unwrap();
    assert!(left(&own).iter().all(|(card, ..)| *card == 0));
}

#[test]
fn what_is_told_twice_or_out_of_its_order_comes_to_the_same() {
    let mut own = sitting(Kind::Dye, 2);
    worked(&mut own, 9, |_| 1.0);
    let standing = own.standing();
    let mut twice = own.clone();
    let again = own.log.clone();
    twice.tell(&again).unwrap();
    assert_eq!(twice, own);
    let mut late = Sitting { log: Vec::new(), ..own.clone() };
    let turned: Vec<Told> = own.log.iter().rev().cloned().collect();
    late.tell(&turned).unwrap();
    assert_eq!(late.standing().cards, standing.cards);
    assert_eq!(late.standing().scheduled, standing.scheduled);
}

#[test]
fn what_cannot_be_is_refused_and_nothing_of_it_is_written() {
    let mut own = sitting(Kind::Dye, 2);
    worked(&mut own, 3, |_| 1.0);
    let before = own.clone();
    let good = told(50, 900, What::StillDamp { card: 0 });
    let no_card = told(51, 901, What::Done { card: 7, moves: 1 });
    assert!(own.tell(&[good.clone(), no_card]).is_err());
    let no_moves = told(52, 902, What::Done { card: 0, moves: 999 });
    assert!(own.tell(&[no_moves]).is_err());
    assert!(own.tell(&[Told { mark: "x".into(), ..good }]).is_err());
    assert_eq!(own, before);
}

#[test]
fn a_step_taken_back_is_to_be_done_again() {
    let mut own = sitting(Kind::Dye, 2);
    worked(&mut own, 5, |_| 1.0);
    let before = own.standing();
    let first = before.scheduled.steps[0].clone();
    let what = What::Done { card: first.card, moves: first.moves.end };
    own.tell(&[told(60, 2_000, what), told(61, 2_001, What::TakenBack)]).unwrap();
    let after = own.standing();
    assert_eq!((after.cards, after.scheduled), (before.cards, before.scheduled));
    assert_eq!(own.log.len(), 8, "nothing is struck out");
}

#[test]
fn each_fault_says_what_to_do_and_changes_the_plan_of_its_own_card_alone() {
    for fault in Fault::ALL {
        let mut own = sitting(Kind::Oxide, 2);
        worked(&mut own, 6, |_| 1.0);
        let before = own.standing();
        let card = before.done.last().unwrap().0;
        own.tell(&[told(70, 3_000, What::Went { card, fault })]).unwrap();
        let after = own.standing();
        assert!(!fault.says().is_empty());
        assert_eq!(after.evening.cards[1 - card].moves, before.evening.cards[1 - card].moves);
        if fault == Fault::Spilt {
            assert!(after.cards[card].aside && after.scheduled.steps.iter().all(|step| step.card != card));
        } else {
            assert!(
                after.evening.cards[card].moves.len() > before.evening.cards[card].moves.len(),
                "{fault:?}"
            );
            // What lies on the card stays.
            let made = before.cards[card].moves;
            assert_eq!(after.evening.cards[card].moves[..made], before.evening.cards[card].moves[..made]);
        }
        assert_eq!(after.cards[card].fault, Some(fault));
        assert_eq!(after.evening.cards.len(), 2);
    }
}

#[test]
fn a_card_that_is_still_damp_waits_half_as_long_again() {
    let mut own = Sitting { heat: false, ..sitting(Kind::Oxide, 1) };
    worked(&mut own, 200, |_| 1.0);
    let done = own.standing();
    let dries = done.scheduled.cost.finish;
    let end = own.log.last().unwrap().at;
    assert!(dries > 0, "it dries at the end");
    let now = (end - BEGAN) / 1000 + dries;
    own.tell(&[told(90, now, What::StillDamp { card: 0 })]).unwrap();
    let more = own.standing().scheduled.cost.finish;
    assert!((more - dries / 2).abs() <= 1, "{more} {dries}");
}

#[test]
fn real_times_are_told_apart_from_waiting() {
    let mut own = sitting(Kind::Oxide, 1);
    worked(&mut own, 200, |_| 0.6);
    let times = own.times();
    assert!(!times.is_empty());
    for log in &times {
        assert_eq!(log.figure, Figure::LightPass);
        assert!(log.seconds > 10.0 && log.seconds < 27.0, "{}", log.seconds);
    }
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(24) })]

    #[test]
    fn however_late_each_step_is_said_with_what_it_needs(
        slow in proptest::collection::vec(0.3_f64..6.0, 40), steps in 0_usize..14,
    ) {
        let mut own = sitting(Kind::Dye, 2);
        worked(&mut own, steps, |nth| slow[nth % 40]);
        let text = serde_json::to_string(&own).unwrap();
        prop_assert_eq!(serde_json::from_str::<Sitting>(&text).unwrap(), own.clone());
        let standing = own.standing();
        let mut ends = 0;
        for step in &standing.scheduled.steps {
            let words = said(&standing.evening.cards[step.card], step, &standing.scheduled.desk, Units::Inches);
            prop_assert!(!words.title.is_empty() && !words.how.is_empty());
            prop_assert!(step.from >= ends && step.ends >= step.begins);
            ends = step.ends;
        }
    }
}

/// The doorbell: what dries goes on drying, the rest is planned anew from when the hands are back, and what was begun
/// before they left tells nothing of how long a pass takes.
#[test]
fn called_away_the_hands_come_back_to_a_plan_from_now() {
    let mut own = sitting(Kind::Dye, 2);
    let mut nth = 0;
    // Until ink is laid whose join is still to be worked.
    while own.standing().open_joins().is_empty() {
        nth += 1;
        own.log.clear();
        worked(&mut own, nth, |_| 1.0);
        assert!(nth < 20, "there is a join");
    }
    let now = (own.log.last().unwrap().at - BEGAN) / 1000;
    let before = own.standing();
    let join = before.open_joins()[0];
    assert!(join.until > BEGAN + 1000 * now);
    let passes = own.times().len();
    own.tell(&[told(70, now + 5, What::Away)]).unwrap();
    assert!(own.standing().is_away);
    own.tell(&[told(71, now + 1_805, What::Back)]).unwrap();
    let back = own.standing();
    assert!(!back.is_away && back.done == before.done);
    assert_eq!(back.at, Some(BEGAN + 1000 * (now + 1_805)));
    assert!(back.open_joins()[0].until < back.at.unwrap(), "it has dried meanwhile");
    assert!(suffers(&back.evening, &back.scheduled).iter().any(|one| one.says.contains("has dried")));
    let step = back.scheduled.steps[0].clone();
    let ended = now + 1_805 + step.ends;
    own.tell(&[told(72, ended, What::Done { card: step.card, moves: step.moves.end })]).unwrap();
    assert_eq!(own.times().len(), passes, "nothing is learned of it");
    // In time again: nothing has dried, and nothing suffers.
    let mut short = sitting(Kind::Dye, 2);
    worked(&mut short, nth, |_| 1.0);
    short.tell(&[told(70, now + 5, What::Away), told(71, now + 15, What::Back)]).unwrap();
    let standing = short.standing();
    assert_eq!(suffers(&standing.evening, &standing.scheduled), []);
}

/// A step left out is not made, what hangs on it is not left hanging, and the rest is planned without it.
#[test]
fn a_step_can_be_left_out_where_nothing_after_it_needs_it() {
    let mut own = sitting(Kind::Oxide, 1);
    worked(&mut own, 1, |_| 1.0);
    let standing = own.standing();
    let step = standing.scheduled.steps[0].clone();
    let laid = |own: &Sitting| {
        own.cards_now()[0]
            .moves
            .iter()
            .filter_map(|m| m.laying())
            .map(|laying| laying.veils.len())
            .sum::<usize>()
    };
    let (veils, finish) = (laid(&own), standing.scheduled.cost.finish);
    let now = (own.log.last().unwrap().at - BEGAN) / 1000;
    own.tell(&[told(80, now, What::Skipped { card: 0, moves: step.moves.end })]).unwrap();
    let after = own.standing();
    assert!(laid(&own) < veils && after.scheduled.cost.finish < finish);
    assert_eq!(suffers(&after.evening, &after.scheduled), []);
    own.cards_now()[0].check().unwrap();
    own.tell(&[told(81, now + 1, What::TakenBack)]).unwrap();
    assert_eq!(laid(&own), veils);
    // Nothing to leave out, or a card that is not there: refused, and nothing is written.
    let kept = own.clone();
    assert!(own.tell(&[told(82, now + 2, What::Skipped { card: 0, moves: 0 })]).is_err());
    assert!(own.tell(&[told(83, now + 2, What::Skipped { card: 7, moves: 1 })]).is_err());
    assert_eq!(own, kept);
}

/// Found dry sooner than was reckoned, a card is gone on with at once, and how long it took is logged as a drying.
#[test]
fn a_card_found_dry_goes_on_at_once_and_its_drying_is_logged() {
    let mut own = Sitting { heat: false, ..sitting(Kind::Oxide, 1) };
    worked(&mut own, 200, |_| 1.0);
    let finish = own.standing().scheduled.cost.finish;
    let end = (own.log.last().unwrap().at - BEGAN) / 1000;
    assert!(finish > 120, "an oxide dries long");
    own.tell(&[told(90, end + 100, What::IsDry { card: 0 })]).unwrap();
    let after = own.standing();
    assert!(
        after.scheduled.steps.is_empty() && after.scheduled.cost.finish <= 0,
        "{}",
        after.scheduled.cost.finish
    );
    let dryings: Vec<_> = own.times().into_iter().filter(|log| log.figure == Figure::OxideDries).collect();
    assert_eq!(dryings.len(), 1);
    assert!((dryings[0].seconds - 100.0).abs() < 1e-9 && dryings[0].ink.is_some());
    // Told twice it is one drying; taken back it is none.
    let mut twice = own.clone();
    twice.tell(&[told(91, end + 160, What::IsDry { card: 0 })]).unwrap();
    assert_eq!(twice.times(), own.times());
    own.tell(&[told(92, end + 170, What::TakenBack)]).unwrap();
    assert!(own.times().iter().all(|log| log.figure != Figure::OxideDries));
    // What heat dried says nothing of air.
    let mut heated = sitting(Kind::Oxide, 1);
    worked(&mut heated, 200, |_| 1.0);
    let end = (heated.log.last().unwrap().at - BEGAN) / 1000;
    heated
        .tell(&[told(93, end + 50, What::Heated { card: 0 }), told(94, end + 90, What::IsDry { card: 0 })])
        .unwrap();
    assert!(heated.times().iter().all(|log| log.figure == Figure::LightPass));
}

fn own(figure: Figure, seconds: u32) -> Own {
    Own { figure, by: By::All, of: None, seconds, least: (seconds * 3 / 4).max(1), most: seconds * 3 / 2 }
}

/// Figures taken over are planned with: slower hands make a longer evening, and quicker drying a shorter one.
#[test]
fn plans_go_by_the_figures_that_were_taken_over() {
    let finish = |pace: Vec<Own>| {
        let mut own = Sitting { heat: false, ..sitting(Kind::Oxide, 2) };
        own.cards.iter_mut().for_each(|card| card.pace = Pace(pace.clone()));
        own.cards.iter().for_each(|card| card.check().unwrap());
        own.standing().scheduled.cost.finish
    };
    let guide = finish(Vec::new());
    assert!(finish(vec![own(Figure::LightPass, 60)]) > guide + 100);
    assert!(finish(vec![own(Figure::OxideDries, 120)]) < guide - 100);
    // Of another ink they say nothing.
    let other =
        Own { by: By::Ink, of: Some("Gorse Bank".parse().unwrap()), ..own(Figure::OxideDries, 9_000) };
    assert_eq!(finish(vec![other]), guide);
    let of_one = Own { by: By::Ink, of: Some("Ebb Blue".parse().unwrap()), ..own(Figure::OxideDries, 3_000) };
    assert!(finish(vec![of_one]) > guide + 600);
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(16) })]

    /// Whatever a maker's pace, what is planned by it spoils no card that dries by it.
    #[test]
    fn at_no_pace_does_a_card_suffer(
        times in proptest::collection::vec(0.2_f64..4.0, Figure::ALL.len()), heat in any::<bool>(), oxide in any::<bool>(),
    ) {
        let pace = Figure::ALL.iter().zip(&times).map(|(figure, by)| own(*figure, (figure.guide() * by).round().max(2.0) as u32));
        let pace = Pace(pace.collect());
        let mut own = Sitting { heat, ..sitting(if oxide { Kind::Oxide } else { Kind::Dye }, 3) };
        own.cards.iter_mut().for_each(|card| card.pace = pace.clone());
        let standing = own.standing();
        // A join that dries before these hands can come to it is told, and worked as soon as it can be; nothing else is broken.
        let mut found = suffers(&standing.evening, &standing.scheduled);
        let alone = Sitting { cards: own.cards[..1].to_vec(), ..own.clone() }.standing();
        if !suffers(&alone.evening, &alone.scheduled).is_empty() {
            found.retain(|one| !one.says.contains("does not blend any more"));
        }
        prop_assert_eq!(found, []);
    }
}
