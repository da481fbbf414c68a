//! How does each school lay the same scene?
//!
//! All three lay exactly the veils of the plan, in rounds, the widest first. They differ in which ink
//! comes first. In all of them, each time an ink has been brought to its neighbour, the neighbour laid
//! before it goes back over the place where they meet: a share of its last veil is kept for that.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::blend::{Blend, Reach, Way, field::zones};
use crate::ink::Ink;
use crate::length::Length;
use crate::moves::{Laying, Move, Technique, back::Back, dry::Dry, lay::Lay, look::Look, wipe::Wipe};
use crate::scene::Scene;

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

/// Lays a scene: the moves, in order.
pub fn lay(scene: &Scene, inks: &[Ink], size: (Length, Length), school: School) -> Vec<Move> {
    lay_on(&[], scene, inks, size, school)
}

/// One ink of one blend: a strip to be laid.
struct Strip<'a> {
    blend: &'a Blend,
    /// Its place among the blend's fields.
    field: usize,
    /// What of it is still to be laid, the widest veil first.
    veils: Vec<Reach>,
    /// How many of its veils have been laid so far.
    laid: usize,
    /// How many are laid in each round.
    shares: Vec<usize>,
}

impl Strip<'_> {
    fn ink(&self) -> usize {
        self.blend.fields[self.field].ink
    }

    fn laying(&self, round: u8, veils: Vec<Reach>) -> Laying {
        Laying { ink: self.ink(), way: self.blend.way, round, veils }
    }
}

/// Lays what is still missing of a scene once some moves have been made: those first, as they were, then the rest.
/// What lies already and is not wanted any more stays, since nothing takes it off.
pub fn lay_on(
    made: &[Move],
    scene: &Scene,
    inks: &[Ink],
    size: (Length, Length),
    school: School,
) -> Vec<Move> {
    let mut strips: Vec<Strip> = Vec::new();
    for blend in &scene.ground {
        let edges = zones(blend.way.span(size), blend.zone);
        for (field, planned) in blend.fields.iter().map(|field| field.reaches(&edges)).enumerate() {
            let veils = missing(&planned, &laid_of(made, blend.fields[field].ink, blend.way));
            strips.push(Strip { blend, field, veils, laid: 0, shares: Vec::new() });
        }
    }
    let most = strips.iter().map(|strip| strip.veils.len()).max().unwrap_or(0);
    for strip in &mut strips {
        let veils = strip.veils.len();
        strip.shares = match school {
            // One faint round of everything, then the rest.
            School::AllLightFirst => {
                let first = if made.is_empty() { veils.min(1) } else { 0 };
                let rest = even_shares(veils - first, rounds(most.saturating_sub(1)));
                [first].into_iter().chain(rest).collect()
            }
            _ => even_shares(veils, rounds(most)),
        };
    }
    let mut turn: Vec<usize> = (0..strips.len()).collect();
    let lightness = |strip: usize| inks[strips[strip].ink()].lab().l;
    match school {
        School::LightToDark => turn.sort_by(|&a, &b| lightness(b).total_cmp(&lightness(a))),
        School::DarkToLight => turn.sort_by(|&a, &b| lightness(a).total_cmp(&lightness(b))),
        School::AllLightFirst => {}
    }

    let mut laid: Vec<Move> = Vec::new();
    let begun = made.iter().filter_map(|m| Some(m.laying()?.round)).max().unwrap_or(1);
    let round_count = strips.iter().map(|strip| strip.shares.len()).max().unwrap_or(0);
    for round in 0..round_count {
        let number = begun.saturating_add(round as u8);
        // Pieces kept back: the strip they belong to, and the neighbour they wait for.
        let mut kept: Vec<(usize, usize, Reach)> = Vec::new();
        for (nth, &at) in turn.iter().enumerate() {
            let share = strips[at].shares[round];
            if share == 0 {
                continue;
            }
            let strip = &strips[at];
            let mut veils = strip.veils[strip.laid..strip.laid + share].to_vec();
            let neighbour = |&&other: &&usize| {
                let other = &strips[other];
                std::ptr::eq(other.blend, strip.blend)
                    && other.field.abs_diff(strip.field) == 1
                    && other.shares[round] > 0
            };
            for &later in turn[nth + 1..].iter().filter(neighbour) {
                let meeting = strip.blend.overlap(strip.field.min(strips[later].field));
                if let Some(piece) = meeting.and_then(|meeting| keep_back(&mut veils, meeting)) {
                    kept.push((at, later, piece));
                }
            }
            if !veils.is_empty() {
                laid.push(Lay(strip.laying(number, veils)).into());
            }
            for (earlier, _, piece) in kept.extract_if(.., |(_, later, _)| *later == at) {
                laid.push(Back(strips[earlier].laying(number, vec![piece])).into());
            }
            strips[at].laid += share;
        }
    }
    with_care(made, laid)
}

/// Moves that lay ink, with what goes between them and after them: a clean brush for each ink, a look, and drying.
pub fn with_care(made: &[Move], laid: Vec<Move>) -> Vec<Move> {
    let mut moves = made.to_vec();
    let mut on_brush = made.iter().rev().find_map(|m| Some(m.laying()?.ink));
    for m in laid {
        let ink = m.laying().map(|laying| laying.ink);
        if ink.is_some() && on_brush.is_some() && ink != on_brush {
            moves.push(Wipe {}.into());
        }
        on_brush = ink.or(on_brush);
        moves.push(m);
    }
    if on_brush.is_some() {
        moves.extend([Look {}.into(), Dry {}.into()]);
    }
    moves
}

/// The stretches of one ink that some moves have laid along a way.
pub fn laid_of(made: &[Move], ink: usize, way: Way) -> Vec<Reach> {
    let of = |laying: &&Laying| laying.ink == ink && laying.way == way;
    made.iter().filter_map(Move::laying).filter(of).flat_map(|laying| laying.veils.clone()).collect()
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
    use crate::colour::Colour;
    use crate::ink::Kind;
    use crate::length::Units;
    use crate::order::Cost;
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
        let of_ink = moves.iter().filter_map(Move::laying).filter(|laying| laying.ink == ink);
        of_ink.map(|laying| laying.veils.iter().filter(covers).count()).sum()
    }

    fn spread(inks: &[Ink], high: Length) -> (Scene, (Length, Length)) {
        let listed: Vec<(usize, &Ink)> = inks.iter().enumerate().collect();
        let blend = Blend::spread(&listed, Way::DOWN, high, Units::Inches);
        (Scene { ground: vec![blend] }, (Length::from_inches(4), high))
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
            let (mut scene, size) = spread(&inks, span);
            for (field, veils) in scene.ground[0].fields.iter_mut().zip(&veils) {
                field.veils = *veils;
            }
            let edges = zones(span, scene.ground[0].zone);
            for school in School::ALL {
                let moves = lay(&scene, &inks, size, school);
                for (ink, field) in scene.ground[0].fields.iter().enumerate() {
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
            let (mut scene, size) = spread(&inks, span);
            for (field, veils) in scene.ground[0].fields.iter_mut().zip(&before) {
                field.veils = *veils;
            }
            for school in School::ALL {
                let moves = lay(&scene, &inks, size, school);
                let made = &moves[..made.min(moves.len())];
                let mut deeper = scene.clone();
                for (field, more) in deeper.ground[0].fields.iter_mut().zip(&more) {
                    field.veils += more;
                }
                let after = lay_on(made, &deeper, &inks, size, school);
                prop_assert_eq!(&after[..made.len()], made, "what is laid stays laid");
                let edges = zones(span, scene.ground[0].zone);
                for (ink, field) in deeper.ground[0].fields.iter().enumerate() {
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
        let (scene, size) = spread(&inks, Length::from_inches(5));
        for (school, first) in
            [(School::LightToDark, 1), (School::DarkToLight, 0), (School::AllLightFirst, 0)]
        {
            let moves = lay(&scene, &inks, size, school);
            assert_eq!(moves[0].laying().map(|laying| laying.ink), Some(first), "{school:?}");
            for round in 1..=Cost::of(&moves, &inks).rounds {
                let back =
                    moves.iter().filter(|m| matches!(m, Move::Back(Back(laying)) if laying.round == round));
                assert_eq!(back.count(), 2, "{school:?} round {round}");
            }
        }
        let faint = lay(&scene, &inks, size, School::AllLightFirst);
        let first_round = faint.iter().filter_map(|m| match m {
            Move::Lay(Lay(laying)) if laying.round == 1 => Some(laying.veils.len()),
            _ => None,
        });
        assert!(first_round.into_iter().all(|veils| veils == 1));
        assert!(
            Cost::of(&faint, &inks).changes
                > Cost::of(&lay(&scene, &inks, size, School::LightToDark), &inks).changes
        );
    }

    #[test]
    fn every_other_ink_meets_a_clean_brush() {
        let inks = [ink(30.0), ink(80.0), ink(55.0)];
        let (scene, size) = spread(&inks, Length::from_inches(5));
        for school in School::ALL {
            let moves = lay(&scene, &inks, size, school);
            let wipes = moves.iter().filter(|m| matches!(m, Move::Wipe(_))).count();
            assert_eq!(wipes, Cost::of(&moves, &inks).changes);
            assert!(matches!(moves.last(), Some(Move::Dry(_))));
        }
    }
}
