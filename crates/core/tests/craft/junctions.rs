//! Which pairs of inks meet cleanly: the bench's own knowledge, over plausible ink colours.

use rosy_core::ask::{InkGiven, Junction, JunctionSeen};
use rosy_core::blend::Verdict;
use rosy_core::colour::Colour;
use rosy_core::ink::Kind;

/// Swatches, CIE Lab under D65.
#[rustfmt::skip]
const INKS: &[(&str, [f64; 3])] = &[
    ("warm pink",   [58.0,  58.0,   0.0]), ("cool pink",  [55.0,  60.0, -15.0]), ("rose",      [52.0,  62.0,   8.0]),
    ("red",         [48.0,  60.0,  38.0]), ("crimson",    [42.0,  58.0,  22.0]), ("coral",     [64.0,  48.0,  32.0]),
    ("orange",      [68.0,  40.0,  65.0]), ("deep orange",[60.0,  50.0,  60.0]), ("apricot",   [76.0,  28.0,  50.0]),
    ("yellow",      [86.0,   2.0,  80.0]), ("gold",       [80.0,  12.0,  75.0]), ("lemon",     [90.0,  -6.0,  70.0]),
    ("lime",        [78.0, -28.0,  65.0]), ("green",      [55.0, -45.0,  30.0]), ("deep green",[40.0, -30.0,  18.0]),
    ("teal",        [52.0, -32.0, -12.0]), ("aqua",       [68.0, -30.0, -20.0]), ("clear blue",[60.0, -22.0, -36.0]),
    ("blue",        [52.0, -15.0, -42.0]), ("navy",       [28.0,   5.0, -38.0]), ("violet",    [38.0,  35.0, -45.0]),
    ("lilac",       [65.0,  22.0, -28.0]), ("purple",     [38.0,  42.0, -30.0]),
];

/// Pairs that blend cleanly, with the word the colour between them must be called by.
#[rustfmt::skip]
const CLEAN: &[(&str, &str, &str)] = &[
    // The welcome thirds.
    ("warm pink", "clear blue", "violet"), ("warm pink", "blue", "violet"), ("cool pink", "blue", "violet"),
    ("cool pink", "clear blue", "violet"), ("cool pink", "aqua", "violet"), ("rose", "clear blue", "violet"),
    ("warm pink", "yellow", "orange"), ("warm pink", "gold", "orange"), ("cool pink", "gold", "orange"),
    ("rose", "gold", "orange"), ("rose", "yellow", "orange"),
    ("yellow", "clear blue", "green"), ("yellow", "blue", "green"), ("gold", "blue", "green"),
    ("gold", "clear blue", "green"), ("lemon", "clear blue", "green"), ("yellow", "aqua", "green"),
    ("blue", "lime", "green"), ("clear blue", "lime", "green"),
    // Neighbours on the wheel.
    ("lime", "green", "green"), ("green", "teal", "green"), ("yellow", "lime", "yellow"), ("lime", "aqua", "green"),
    ("teal", "blue", "blue"), ("navy", "blue", "blue"), ("blue", "violet", "violet"), ("violet", "cool pink", "violet"),
    ("purple", "cool pink", "purple"), ("red", "deep orange", "orange"), ("orange", "gold", "orange"),
    ("crimson", "warm pink", "pink"), ("coral", "apricot", "orange"), ("apricot", "yellow", "orange"),
    ("deep green", "teal", "green"),
];

/// Opposites: grey or brown between them.
#[rustfmt::skip]
const MUDDY: &[(&str, &str)] = &[
    ("orange", "blue"), ("deep orange", "blue"), ("orange", "clear blue"), ("deep orange", "clear blue"),
    ("orange", "navy"), ("coral", "teal"), ("red", "green"), ("crimson", "green"), ("red", "deep green"),
    ("crimson", "deep green"), ("rose", "green"), ("red", "teal"), ("yellow", "violet"), ("gold", "violet"),
    ("yellow", "purple"), ("gold", "purple"), ("lemon", "violet"), ("lime", "violet"), ("lime", "purple"),
    ("green", "purple"), ("warm pink", "green"), ("cool pink", "green"),
];

fn meet(one: &str, other: &str) -> JunctionSeen {
    let ink = |name: &str| {
        let (_, lab) = INKS.iter().find(|(known, _)| *known == name).expect(name);
        InkGiven { colour: Colour::Lab((*lab).into()), kind: Kind::Dye }
    };
    let inks = vec![ink(one), ink(other)];
    Junction { illuminant: Default::default(), paper: None, inks }.answer().unwrap()
}

#[test]
fn welcome_thirds_and_neighbours_are_clean_and_called_by_their_names() {
    let mut wrong = Vec::new();
    for (one, other, word) in CLEAN {
        let seen = meet(one, other);
        if seen.verdict != Verdict::Clean || !seen.named.as_str().contains(word) {
            wrong.push(format!("{one} + {other}: {seen:?}, not a clean {word}"));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn opposites_are_muddy() {
    let mut wrong = Vec::new();
    for (one, other) in MUDDY {
        let seen = meet(one, other);
        if seen.verdict != Verdict::Muddy {
            wrong.push(format!("{one} + {other}: {seen:?}, not muddy"));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn turning_a_pair_round_changes_nothing() {
    for (one, _) in INKS {
        for (other, _) in INKS {
            let (there, back) = (meet(one, other), meet(other, one));
            assert_eq!((there.verdict, &there.named), (back.verdict, &back.named), "{one} + {other}");
            assert!((there.chroma_kept - back.chroma_kept).abs() < 1e-9);
        }
    }
}

#[test]
fn an_oxide_pair_is_judged_the_same_from_either_side() {
    let oxide = |lab: [f64; 3]| InkGiven { colour: Colour::Lab(lab.into()), kind: Kind::Oxide };
    let (cream, night) = (oxide([88.0, 2.0, 30.0]), oxide([28.0, 5.0, -38.0]));
    let meet = |inks| Junction { illuminant: Default::default(), paper: None, inks }.answer().unwrap();
    assert_eq!(meet(vec![cream, night]).verdict, meet(vec![night, cream]).verdict);
}

#[test]
fn pads_that_differ_a_little_are_judged_alike() {
    // Two pads of one colour are never quite the same: most small differences must not turn a verdict.
    let shifts = [
        [4.0, 0.0, 0.0],
        [-4.0, 0.0, 0.0],
        [0.0, 5.0, 0.0],
        [0.0, -5.0, 0.0],
        [0.0, 0.0, 5.0],
        [0.0, 0.0, -5.0],
    ];
    let shifted = |name: &str, shift: [f64; 3]| {
        let (_, lab) = INKS.iter().find(|(known, _)| *known == name).expect(name);
        let lab: [f64; 3] = std::array::from_fn(|axis| lab[axis] + shift[axis]);
        InkGiven { colour: Colour::Lab(lab.into()), kind: Kind::Dye }
    };
    let pairs = CLEAN.iter().map(|(one, other, _)| (*one, *other, Verdict::Clean));
    let pairs = pairs.chain(MUDDY.iter().map(|(one, other)| (*one, *other, Verdict::Muddy)));
    let (mut kept, mut turned, mut all) = (0, 0, 0);
    for (one, other, verdict) in pairs {
        for shift in shifts {
            let inks = vec![shifted(one, shift), shifted(other, shift.map(|axis| -axis))];
            let seen =
                Junction { illuminant: Default::default(), paper: None, inks }.answer().unwrap().verdict;
            all += 1;
            kept += usize::from(seen == verdict);
            // From clean to muddy or back is another matter than a shade of dusky.
            turned += usize::from(seen != verdict && seen != Verdict::Dusky);
        }
    }
    assert!(kept * 100 >= all * 95, "{kept} of {all} kept their verdict");
    assert!(turned * 100 <= all * 2, "{turned} of {all} turned right round");
}
