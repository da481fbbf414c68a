//! Several cards at once: schedules against every order there is, against the cards' own surfaces, and against their bounds.

use proptest::prelude::*;
use rosy_core::blend::{Blend, Way};
use rosy_core::colour::Colour;
use rosy_core::evening::chain::{Chain, Gap, Task};
use rosy_core::evening::check::suffers;
use rosy_core::evening::shop::{Cost, Shop};
use rosy_core::evening::{Evening, Progress};
use rosy_core::ink::{Ink, Kind, Paper, Surface as Face, Tool, ToolKind};
use rosy_core::place::Point;
use rosy_core::scene::{Loose, Thing, Treatment, Wetting};
use rosy_core::shape::kept::Figure;
use rosy_core::shape::{Drawn, Shape, family};
use rosy_core::{Length, Panel, Units};

fn some_gap() -> impl Strategy<Value = Gap> {
    prop_oneof![
        3 => Just(Gap::default()),
        1 => (0_u32..3).prop_map(|wait| Gap { wait: 10 * wait, ..Gap::default() }),
        2 => (1_u32..40, any::<bool>())
            .prop_map(|(air, heats)| Gap { wait: 0, air: 10 * air, heat: heats.then_some(70) }),
    ]
}

/// Up to so many tasks, of which those that go back over a join have to come soon enough.
fn some_chain(most: usize) -> impl Strategy<Value = Chain> {
    let task = (1_u32..12, proptest::option::weighted(0.7, 0_usize..3), some_gap(), 0_u32..4, any::<bool>());
    (proptest::collection::vec(task, 1..=most), some_gap()).prop_map(|(tasks, last)| {
        let mut own: Vec<Task> = Vec::new();
        for (at, (hands, ink, gap, within, is_back)) in tasks.into_iter().enumerate() {
            let laid_before =
                own.last().is_some_and(|before: &Task| before.ink.is_some() && before.ink != ink);
            let joins = is_back && at > 0 && ink.is_some() && laid_before;
            let gap = if joins || at == 0 { Gap::default() } else { gap };
            let setup = if ink.is_some() { 10 } else { 0 };
            let window = joins.then(|| (at - 1, setup + 20 * within));
            own.push(Task { moves: at..at + 1, hands: 10 * hands, ink, setup, gap, window, mat: None });
        }
        Chain { tasks: own, last }
    })
}

/// One event of an order, on its own terms: which card, its hands, and from when after which earlier event.
#[derive(Clone, Copy)]
struct Event {
    card: usize,
    task: Option<usize>,
    hands: i64,
}

/// The best of every order there is: all ways to put the cards' tasks after one another, each gap heated or not, each with
/// the least times that all its waits allow, found by relaxing until nothing changes (Bellman 1958).
fn by_force(chains: &[Chain]) -> Cost {
    let mut best = Cost { finish: i64::MAX, changes: u32::MAX };
    let gaps: Vec<(usize, usize)> = chains
        .iter()
        .enumerate()
        .flat_map(|(card, chain)| (0..=chain.tasks.len()).map(move |task| (card, task)))
        .filter(|(card, task)| *task > 0 && chains[*card].gap(*task).heat().is_some())
        .collect();
    for heats in 0..1_u32 << gaps.len() {
        let is_heated = |card: usize, task: usize| {
            gaps.iter().position(|gap| *gap == (card, task)).is_some_and(|at| heats & (1 << at) != 0)
        };
        let lines: Vec<Vec<Event>> = chains
            .iter()
            .enumerate()
            .map(|(card, chain)| {
                let mut line = Vec::new();
                for task in 0..=chain.tasks.len() {
                    if is_heated(card, task) {
                        line.push(Event { card, task: None, hands: chain.gap(task).heat().unwrap() });
                    }
                    if let Some(of) = chain.tasks.get(task) {
                        line.push(Event { card, task: Some(task), hands: i64::from(of.hands) });
                    }
                }
                line
            })
            .collect();
        orders(&lines, &mut vec![0; lines.len()], &mut Vec::new(), &mut |order| {
            if let Some(cost) = least(chains, order, &is_heated) {
                best = best.min(cost);
            }
        });
    }
    best
}

fn orders(lines: &[Vec<Event>], at: &mut Vec<usize>, order: &mut Vec<Event>, each: &mut dyn FnMut(&[Event])) {
    let mut is_through = true;
    for card in 0..lines.len() {
        let Some(event) = lines[card].get(at[card]).copied() else { continue };
        is_through = false;
        at[card] += 1;
        order.push(event);
        orders(lines, at, order, each);
        order.pop();
        at[card] -= 1;
    }
    if is_through {
        each(order);
    }
}

fn least(chains: &[Chain], order: &[Event], is_heated: &dyn Fn(usize, usize) -> bool) -> Option<Cost> {
    // begin of one ≥ begin of another + so much; a window is a wait the other way round, below nothing.
    let mut waits: Vec<(usize, usize, i64)> = Vec::new();
    let (mut ink, mut changes) = (None, 0);
    let place = |card: usize, task: usize| {
        order.iter().position(|event| event.card == card && event.task == Some(task)).unwrap()
    };
    let mut starts = vec![0_i64; order.len()];
    for (at, event) in order.iter().enumerate() {
        let chain = &chains[event.card];
        let own = order[..at].iter().filter(|other| other.card == event.card && other.task.is_some()).count();
        let gap = chain.gap(own);
        let setup = match event.task.and_then(|task| chain.tasks[task].ink) {
            Some(new) if ink.is_some_and(|ink| ink != new) => {
                changes += 1;
                ink = Some(new);
                i64::from(chain.tasks[own].setup)
            }
            Some(new) => {
                ink = Some(new);
                0
            }
            None => 0,
        };
        if at > 0 {
            waits.push((at - 1, at, order[at - 1].hands + setup));
        }
        if own > 0 {
            let before = place(event.card, own - 1);
            let heated = is_heated(event.card, own);
            match event.task {
                None => waits.push((before, at, order[before].hands + i64::from(gap.wait))),
                Some(_) if !heated => waits.push((before, at, order[before].hands + gap.in_air())),
                Some(_) => {}
            }
        } else if event.task.is_some() {
            starts[at] = gap.in_air();
        }
        if let Some((other, within)) = event.task.and_then(|task| chain.tasks[task].window) {
            let other = place(event.card, other);
            waits.push((at, other, -(i64::from(within) + order[other].hands)));
        }
    }
    for round in 0..=order.len() {
        let mut is_still = true;
        for (one, other, wait) in &waits {
            if starts[*one] + wait > starts[*other] {
                starts[*other] = starts[*one] + wait;
                is_still = false;
            }
        }
        if is_still {
            break;
        }
        if round == order.len() {
            return None;
        }
    }
    let ends = order.iter().zip(&starts).map(|(event, start)| start + event.hands);
    let mut finish = ends.max().unwrap_or(0);
    for (card, chain) in chains.iter().enumerate() {
        if !is_heated(card, chain.tasks.len()) {
            let last = place(card, chain.tasks.len() - 1);
            finish = finish.max(starts[last] + order[last].hands + chain.last.in_air());
        }
    }
    Some(Cost { finish, changes })
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(48) })]

    #[test]
    fn the_best_order_is_the_best_of_every_order(
        chains in prop_oneof![
            proptest::collection::vec(some_chain(4), 2..=2),
            proptest::collection::vec(some_chain(2), 3..=3),
            proptest::collection::vec(some_chain(1), 4..=4),
            (some_chain(3), 2_usize..=2).prop_map(|(chain, count)| vec![chain; count]),
        ],
    ) {
        let shop = Shop::of(&chains, true);
        let known = shop.found_by_rule(40, 1);
        let found = shop.best(known, 2_000_000).unwrap();
        prop_assert!(found.is_proven);
        let best = by_force(&chains);
        prop_assert_eq!(found.cost, best);
        let (hands, longest) = shop.bounds(&shop.begin());
        prop_assert!(hands.max(longest) <= best.finish);
        // Its times are what they say they are.
        let order: Vec<_> = found.times.iter().map(|timed| timed.act).collect();
        prop_assert_eq!(shop.times(&order), Some(found.times.clone()));
        prop_assert_eq!(shop.cost_of(&found.times), found.cost);
    }
}

fn ink(name: &str, lab: [f64; 3], kind: Kind) -> Ink {
    Ink { name: name.parse().unwrap(), kind, colour: Colour::Lab(lab.into()), one_veil: None, full_veils: 5 }
}

/// A card of a few of these inks.
fn card(inks: &[Ink], tool: Tool, things: Vec<Thing>, loose: Vec<Loose>) -> Panel {
    let paper = Paper {
        name: "Slack Water".parse().unwrap(),
        colour: Colour::Lab([96.5, 0.3, -1.8].into()),
        surface: Face::Watercolour,
        thickness: Length::from_tenths_mm(3),
    };
    let (wide, high) = (Length::from_inches(4), Length::from_inches(5));
    let mut panel = Panel::bare("Strings over the flats".parse().unwrap(), wide, high, paper, tool, 3);
    let listed: Vec<(usize, &Ink)> = inks.iter().enumerate().collect();
    panel.scene.ground = vec![Blend::spread(&listed, Way::DOWN, high, Units::Inches)];
    panel.scene.things = things;
    panel.scene.loose = loose;
    let panel = Panel { inks: inks.to_vec(), ..panel }.laid();
    panel.check().unwrap();
    panel
}

fn drawer() -> Vec<Ink> {
    vec![
        ink("Sail", [69.0, -17.0, -23.0], Kind::Dye),
        ink("Ebb Blue", [44.0, -6.0, -40.0], Kind::Oxide),
        ink("Cockle", [57.0, 56.0, -4.0], Kind::Dye),
    ]
}

fn lamp(ink: usize, inks: &[Ink]) -> Thing {
    let drawn = Drawn::usual(family::find("circle").unwrap());
    let shape = Shape::new("lamp".parse().unwrap(), Figure::Drawn(drawn));
    let mut thing = Thing::new(shape, Point { left: Length::from_inches(2), top: Length::from_inches(2) });
    let size = thing.extent(&thing.shape.outline().unwrap()).size;
    let spread = Blend::spread(&[(ink, &inks[ink])], Way::DOWN, Way::DOWN.span(size), Units::Inches);
    thing.gets = Treatment::Inked(vec![spread]);
    thing
}

fn brush() -> Tool {
    Tool::one("Dome".parse().unwrap(), ToolKind::Brush)
}

/// Cards of all kinds: plain, with a mask, flecked.
fn cards() -> Vec<Panel> {
    let inks = drawer();
    vec![
        card(&inks, brush(), Vec::new(), Vec::new()),
        card(&inks[..2], brush(), vec![lamp(1, &inks)], Vec::new()),
        card(&inks, brush(), Vec::new(), vec![Loose { blot: true, ..Loose::last(Wetting::Mist(3)) }]),
        card(&inks[1..], brush(), Vec::new(), Vec::new()),
    ]
}

#[test]
fn no_card_suffers_in_any_schedule() {
    let cards = cards();
    for count in 1..=4 {
        for heat in [true, false] {
            let own: Vec<Panel> = cards.iter().cycle().take(2 * count).cloned().collect();
            let evening = Evening::of(own, heat);
            let scheduled = evening.scheduled();
            assert_eq!(suffers(&evening, &scheduled), [], "{count} {heat}");
            assert!(scheduled.cost.finish >= scheduled.bound());
            assert!(heat || scheduled.steps.iter().all(|step| !step.heats));
            // One after the other takes longer than together.
            let alone: i64 = evening
                .cards
                .iter()
                .map(|card| Evening::of(vec![card.clone()], heat).scheduled().cost.finish)
                .sum();
            assert!(scheduled.cost.finish < alone, "{} {alone}", scheduled.cost.finish);
        }
    }
}

#[test]
fn what_a_schedule_breaks_is_told_by_the_cards_surface() {
    let evening = Evening::of(vec![cards()[1].clone(), cards()[2].clone()], false);
    let scheduled = evening.scheduled();
    // Begun ten minutes sooner, something is damp or the hands are elsewhere; a step left out is missed; a join put off dries.
    let mut early = scheduled.clone();
    let late = early.steps.len() - 1;
    let last = &mut early.steps[late];
    (last.from, last.begins, last.ends) = (last.from - 900, last.begins - 900, last.ends - 900);
    assert!(!suffers(&evening, &early).is_empty());
    let mut short = scheduled.clone();
    short.steps.remove(0);
    assert!(suffers(&evening, &short).iter().any(|one| one.says.contains("comes next")));
    let back = scheduled
        .steps
        .iter()
        .position(|step| {
            let moves = &evening.cards[step.card].moves[step.moves.clone()];
            moves.iter().any(|m| matches!(m, rosy_core::moves::Move::Back(_)))
        })
        .unwrap();
    let mut put_off = scheduled.clone();
    for step in &mut put_off.steps[back..] {
        (step.from, step.begins, step.ends) = (step.from + 1800, step.begins + 1800, step.ends + 1800);
    }
    assert!(
        suffers(&evening, &put_off).iter().any(|one| one.says.contains("the join does not blend any more"))
    );
}

#[test]
fn alike_cards_are_inked_one_ink_after_the_other_and_change_it_seldom() {
    let oxides: Vec<Ink> = drawer().into_iter().map(|ink| Ink { kind: Kind::Oxide, ..ink }).collect();
    let one = card(&oxides, brush(), Vec::new(), Vec::new());
    let alone = Evening::of(vec![one.clone()], true).scheduled();
    let evening = Evening::of(vec![one; 4], true);
    let scheduled = evening.scheduled();
    assert_eq!(suffers(&evening, &scheduled), []);
    assert!(
        scheduled.cost.changes < 4 * alone.cost.changes,
        "{} {}",
        scheduled.cost.changes,
        alone.cost.changes
    );
}

#[test]
fn what_does_not_fit_tonight_is_left_and_what_has_begun_goes_on() {
    let cards = cards();
    let whole = Evening::of(cards.clone(), true).scheduled();
    let tonight = Evening { time: Some(whole.cost.finish / 2), ..Evening::of(cards.clone(), true) };
    let some = tonight.scheduled();
    assert!(!some.later.is_empty() && some.later.len() < cards.len());
    assert!(some.cost.finish <= whole.cost.finish / 2);
    assert_eq!(suffers(&tonight, &some), []);
    let none = Evening { time: Some(60), ..Evening::of(cards.clone(), true) }.scheduled();
    assert!(none.steps.is_empty() && none.later.len() == cards.len());
    // After some steps the rest is planned from there, on the cards as they are.
    for made in [1, 3, 6] {
        let mut progress = vec![Progress::default(); cards.len()];
        for step in whole.steps.iter().take(made).filter(|step| !step.heats) {
            let now = whole.steps[made - 1].ends;
            progress[step.card] = Progress { moves: step.moves.end, since: now - step.ends };
        }
        let begun = Evening { progress, ..Evening::of(cards.clone(), true) };
        let rest = begun.scheduled();
        assert_eq!(suffers(&begun, &rest), [], "{made}");
        assert!(rest.cost.finish <= whole.cost.finish);
    }
}
