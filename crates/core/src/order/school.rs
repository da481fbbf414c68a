//! How does each school lay the same fields?
//!
//! All three lay exactly the veils of the plan, in rounds, the widest first. They differ in which ink
//! comes first. In all of them, each time an ink has been brought to its neighbour, the neighbour laid
//! before it goes back over the place where they meet: a share of its last veil is kept for that.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::moves::{Move, Purpose};
use crate::blend::{Blend, Reach, field::zones};
use crate::ink::{Ink, measured};
use crate::length::Length;

/// Which ink is laid first.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum School {
    /// Light inks first, the darkest last: it can always be taken darker, and light pads stay clean.
    #[default]
    LightToDark,
    /// The darkest where it must be strongest, then lighter inks pulled towards it.
    DarkToLight,
    /// A faint round of every ink, then deeper round by round.
    AllLightFirst,
}

impl School {
    /// All three.
    pub const ALL: [School; 3] = [School::LightToDark, School::DarkToLight, School::AllLightFirst];

    /// Its name.
    pub const fn words(self) -> &'static str {
        match self {
            School::LightToDark => "light to dark",
            School::DarkToLight => "dark to light",
            School::AllLightFirst => "all light first",
        }
    }

    /// What it gives and what it risks.
    pub const fn why(self) -> &'static str {
        match self {
            School::LightToDark => "Can always be taken darker; light pads stay clean.",
            School::DarkToLight => {
                "Strongest dark where you want it; lighter brushes pick it up, so wipe often."
            }
            School::AllLightFirst => "You see the whole blend early; most brush changes.",
        }
    }
}

/// What a way of laying costs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Cost {
    /// Light passes, part passes counted whole.
    pub veils: usize,
    /// Rounds.
    pub rounds: u8,
    /// Times another ink is taken up: a brush to wipe or change.
    pub changes: usize,
    /// Of those, times a lighter ink follows a darker one: a pad at risk.
    pub dark_then_light: usize,
    /// Minutes of inking, without drying.
    pub minutes: u32,
}

impl Cost {
    /// Counts up a list of moves.
    pub fn of(moves: &[Move], inks: &[Ink]) -> Cost {
        let veils = moves.iter().map(|m| m.veils.len()).sum();
        let pairs = moves.windows(2).filter(|pair| pair[0].ink != pair[1].ink);
        let changes = pairs.clone().count();
        let lightness = |m: &Move| inks.get(m.ink).map_or(0.0, |ink| ink.lab().l);
        // A step of lightness too small to foul a pad is not counted.
        let dark_then_light = pairs.filter(|pair| lightness(&pair[1]) > lightness(&pair[0]) + 8.0).count();
        let seconds = veils as u32 * measured::SECONDS_A_VEIL + changes as u32 * measured::SECONDS_A_CHANGE;
        let rounds = moves.iter().map(|m| m.round).max().unwrap_or(0);
        Cost { veils, rounds, changes, dark_then_light, minutes: seconds.div_ceil(60) }
    }
}

/// Lays a blend: the moves, in order.
pub fn lay(blend: &Blend, inks: &[Ink], span: Length, school: School) -> Vec<Move> {
    lay_on(&[], blend, inks, span, school)
}

/// Lays what is still missing of a blend once some moves have been made: those first, as they were, then the rest.
/// What lies already and is not wanted any more stays, since nothing takes it off.
pub fn lay_on(made: &[Move], blend: &Blend, inks: &[Ink], span: Length, school: School) -> Vec<Move> {
    let edges = zones(span, blend.zone);
    let planned = blend.fields.iter().map(|field| field.reaches(&edges));
    let reaches: Vec<Vec<Reach>> =
        planned.enumerate().map(|(ink, planned)| missing(&planned, &laid_of(made, ink))).collect();
    let most = reaches.iter().map(Vec::len).max().unwrap_or(0);
    let shares = |veils: usize| -> Vec<usize> {
        match school {
            // One faint round of everything, then the rest.
            School::AllLightFirst => {
                let first = if made.is_empty() { veils.min(1) } else { 0 };
                [first]
                    .into_iter()
                    .chain(even_shares(veils - first, rounds(most.saturating_sub(1))))
                    .collect()
            }
            _ => even_shares(veils, rounds(most)),
        }
    };
    let shares: Vec<Vec<usize>> = reaches.iter().map(|r| shares(r.len())).collect();
    let mut turn: Vec<usize> = (0..blend.fields.len().min(inks.len())).collect();
    match school {
        School::LightToDark => turn.sort_by(|&a, &b| inks[b].lab().l.total_cmp(&inks[a].lab().l)),
        School::DarkToLight => turn.sort_by(|&a, &b| inks[a].lab().l.total_cmp(&inks[b].lab().l)),
        School::AllLightFirst => {}
    }

    let mut moves = made.to_vec();
    let mut laid = vec![0; reaches.len()];
    let begun = made.iter().map(|m| m.round).max().unwrap_or(1);
    let round_count = shares.iter().map(Vec::len).max().unwrap_or(0);
    for round in 0..round_count {
        let number = begun.saturating_add(round as u8);
        let share: Vec<usize> = shares.iter().map(|shares| shares[round]).collect();
        // Pieces kept back: the ink they belong to, and the neighbour they wait for.
        let mut kept: Vec<(usize, usize, Reach)> = Vec::new();
        for (nth, &ink) in turn.iter().enumerate().filter(|&(_, &ink)| share[ink] > 0) {
            let mut veils = reaches[ink][laid[ink]..laid[ink] + share[ink]].to_vec();
            let first = laid[ink] == 0 && !made.iter().any(|m| m.ink == ink);
            let purpose = if first { Purpose::Lay } else { Purpose::Deepen };
            laid[ink] += share[ink];
            let waits_for = |&&other: &&usize| other.abs_diff(ink) == 1 && share[other] > 0;
            for &later in turn[nth + 1..].iter().filter(waits_for) {
                let meeting = blend.overlap(ink.min(later));
                if let Some(piece) = meeting.and_then(|meeting| keep_back(&mut veils, meeting)) {
                    kept.push((ink, later, piece));
                }
            }
            if !veils.is_empty() {
                moves.push(Move { ink, purpose, round: number, veils });
            }
            for (earlier, _, piece) in kept.extract_if(.., |(_, later, _)| *later == ink) {
                let veils = vec![piece];
                moves.push(Move { ink: earlier, purpose: Purpose::Back, round: number, veils });
            }
        }
    }
    moves
}

/// The stretches of one ink that some moves have laid.
pub fn laid_of(made: &[Move], ink: usize) -> Vec<Reach> {
    made.iter().filter(|m| m.ink == ink).flat_map(|m| m.veils.iter().copied()).collect()
}

/// What of the planned veils is not covered by those laid, as stretches one over the other, the first the widest.
pub fn missing(planned: &[Reach], laid: &[Reach]) -> Vec<Reach> {
    let mut edges: Vec<Length> =
        planned.iter().chain(laid).flat_map(|reach| [reach.from, reach.to]).collect();
    edges.sort_unstable();
    edges.dedup();
    let over = |reaches: &[Reach], from: Length, to: Length| {
        reaches.iter().filter(|reach| reach.from <= from && to <= reach.to).count()
    };
    let short: Vec<(Length, Length, usize)> = edges
        .windows(2)
        .map(|zone| {
            (zone[0], zone[1], over(planned, zone[0], zone[1]).saturating_sub(over(laid, zone[0], zone[1])))
        })
        .collect();
    let most = short.iter().map(|(.., veils)| *veils).max().unwrap_or(0);
    let level = |veil: usize| {
        short.chunk_by(move |one, other| (one.2 >= veil) == (other.2 >= veil)).filter_map(move |run| {
            let (first, last) = (run.first()?, run.last()?);
            (first.2 >= veil).then_some(Reach { from: first.0, to: last.1 })
        })
    };
    (1..=most).flat_map(level).collect()
}

/// Takes from the last veil that comes into a meeting the piece that lies in it, leaving the rest.
fn keep_back(veils: &mut Vec<Reach>, meeting: Reach) -> Option<Reach> {
    let within = |veil: &Reach| Reach { from: veil.from.max(meeting.from), to: veil.to.min(meeting.to) };
    let some = |reach: &Reach| reach.from < reach.to;
    let at = veils.iter().rposition(|veil| some(&within(veil)))?;
    let veil = veils.remove(at);
    let piece = within(&veil);
    let rest = [Reach { to: piece.from, ..veil }, Reach { from: piece.to, ..veil }];
    veils.extend(rest.into_iter().filter(some));
    Some(piece)
}

/// Two to four rounds of at most three veils, or as few as there are veils.
fn rounds(veils: usize) -> usize {
    veils.div_ceil(3).clamp(2, 4).min(veils.max(1))
}

/// Shares a number out over rounds, the first rounds taking what does not divide.
fn even_shares(veils: usize, rounds: usize) -> Vec<usize> {
    (0..rounds).map(|round| veils / rounds + usize::from(round < veils % rounds)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::blend::Direction;
    use crate::colour::Colour;
    use crate::ink::Kind;
    use crate::length::Units;
    use proptest::prelude::*;

    fn ink(l: f64) -> Ink {
        Ink {
            name: format!("Ink at {l:.0}").parse().unwrap(),
            kind: Kind::Dye,
            colour: Colour::Lab([l, 40.0, 10.0].into()),
            one_veil: None,
            full_veils: 7,
        }
    }

    fn veils_at(moves: &[Move], ink: usize, place: Length) -> usize {
        let covers = |veil: &&Reach| veil.from <= place && place < veil.to;
        moves.iter().filter(|m| m.ink == ink).map(|m| m.veils.iter().filter(covers).count()).sum()
    }

    proptest! {
        #[test]
        fn every_school_lays_exactly_the_plan(
            lightness in proptest::collection::vec(20.0..90.0, 2..6),
            veils in proptest::collection::vec(1_u8..10, 5),
            eighths in 24_i64..80,
        ) {
            let inks: Vec<Ink> = lightness.iter().map(|l| ink(*l)).collect();
            let span = Length::from_64ths(eighths * 8);
            let mut blend = Blend::spread(&inks, Direction::Down, span, Units::Inches);
            for (field, veils) in blend.fields.iter_mut().zip(&veils) {
                field.veils = *veils;
            }
            let edges = zones(span, blend.zone);
            for school in School::ALL {
                let moves = lay(&blend, &inks, span, school);
                for (ink, field) in blend.fields.iter().enumerate() {
                    let planned = field.reaches(&edges);
                    for n in 0..eighths {
                        let place = Length::from_64ths(n * 8);
                        let wanted = planned.iter().filter(|r| r.from <= place && place < r.to).count();
                        prop_assert_eq!(veils_at(&moves, ink, place), wanted, "{:?} ink {} at {}", school, ink, place);
                    }
                }
            }
        }
    }

    proptest! {
        #[test]
        fn what_is_laid_and_what_is_missing_make_up_the_plan(
            lightness in proptest::collection::vec(20.0..90.0, 2..6),
            before in proptest::collection::vec(1_u8..10, 5),
            more in proptest::collection::vec(0_u8..4, 5),
            made in 0_usize..30,
        ) {
            let inks: Vec<Ink> = lightness.iter().map(|l| ink(*l)).collect();
            let span = Length::from_inches(5);
            let mut blend = Blend::spread(&inks, Direction::Down, span, Units::Inches);
            for (field, veils) in blend.fields.iter_mut().zip(&before) {
                field.veils = *veils;
            }
            for school in School::ALL {
                let moves = lay(&blend, &inks, span, school);
                let made = &moves[..made.min(moves.len())];
                let mut deeper = blend.clone();
                for (field, more) in deeper.fields.iter_mut().zip(&more) {
                    field.veils += more;
                }
                let after = lay_on(made, &deeper, &inks, span, school);
                prop_assert_eq!(&after[..made.len()], made, "what is laid stays laid");
                let edges = zones(span, blend.zone);
                for (ink, field) in deeper.fields.iter().enumerate() {
                    let planned = field.reaches(&edges);
                    for n in 0..40 {
                        let place = Length::from_64ths(n * 8);
                        let wanted = planned.iter().filter(|r| r.from <= place && place < r.to).count();
                        prop_assert_eq!(veils_at(&after, ink, place), wanted, "ink {} at {}", ink, place);
                    }
                }
            }
        }
    }

    #[test]
    fn each_school_takes_its_own_ink_first_and_goes_back_at_every_join() {
        let inks = [ink(30.0), ink(80.0), ink(55.0)];
        let span = Length::from_inches(5);
        let blend = Blend::spread(&inks, Direction::Down, span, Units::Inches);
        for (school, first) in
            [(School::LightToDark, 1), (School::DarkToLight, 0), (School::AllLightFirst, 0)]
        {
            let moves = lay(&blend, &inks, span, school);
            assert_eq!(moves[0].ink, first, "{school:?}");
            for round in 1..=Cost::of(&moves, &inks).rounds {
                let back = moves.iter().filter(|m| m.round == round && m.purpose == Purpose::Back);
                assert_eq!(back.count(), 2, "{school:?} round {round}");
            }
        }
        let faint = lay(&blend, &inks, span, School::AllLightFirst);
        assert!(
            faint.iter().filter(|m| m.round == 1 && m.purpose == Purpose::Lay).all(|m| m.veils.len() == 1)
        );
        assert!(
            Cost::of(&faint, &inks).changes
                > Cost::of(&lay(&blend, &inks, span, School::LightToDark), &inks).changes
        );
    }
}
