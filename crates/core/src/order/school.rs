//! How does each school lay the same scene?
//!
//! All three lay exactly the veils of the plan, in rounds, the widest first. They differ in which ink
//! comes first. In all of them, each time an ink has been brought to its neighbour, the neighbour laid
//! before it goes back over the place where they meet: a share of its last veil is kept for that. Whatever the school, black
//! at the rim of a night sky comes at the very last, and brown at the foot of green ground after the green.

use crate::blend::{Blend, Field, Reach, Way, field::zones};
use crate::ink::{Family, Kind};
use crate::length::Length;
use crate::moves::{Laying, Move, Technique, back::Back, break_into::BreakInto, lay::Lay, print::Print};
use crate::scene::School;
use crate::surface::Materials;

/// L* below which black or brown along an edge is laid last, and by how much it is then darker than its neighbour (chosen).
const RIM_DARK: f64 = 45.0;
const RIM_DARKER: f64 = 5.0;

/// One ink of one blend: a strip to be laid.
struct Strip<'a> {
    /// The thing it is laid on.
    on: Option<usize>,
    blend: &'a Blend,
    /// Its place among the blend's fields.
    field: usize,
    /// Whether there are other blends on the ground.
    over_others: bool,
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

    /// Whether it is a dark ink of one of some families along an end of its blend, over a lighter neighbour, or alone from
    /// the edges in: the black rim of a night sky, the brown at the foot of green ground.
    fn is_rim(&self, materials: &Materials, families: &[Family]) -> bool {
        let fields = &self.blend.fields;
        let ink = |field: usize| &materials.inks[fields[field].ink];
        let own = ink(self.field);
        let over_lighter = match self.field {
            _ if fields.len() < 2 => self.over_others && matches!(self.blend.way, Way::Vignette { .. }),
            0 => own.lab().l + RIM_DARKER < ink(1).lab().l,
            last if last + 1 == fields.len() => own.lab().l + RIM_DARKER < ink(last - 1).lab().l,
            _ => false,
        };
        over_lighter
            && own.kind != Kind::Pigment
            && families.contains(&own.family())
            && own.lab().l < RIM_DARK
    }

    fn laying(&self, round: u8, veils: Vec<Reach>) -> Laying {
        Laying { ink: self.ink(), on: self.on, way: self.blend.way, round, veils }
    }
}

/// The ink of a thing, or of the ground, that is still missing once some moves have been made, in order.
pub fn layings(
    made: &[Move],
    (on, blends): (Option<usize>, &[Blend]),
    materials: &Materials,
    school: School,
) -> Vec<Move> {
    if materials.masks.is_stamped(on) {
        return prints(made, (on, blends), materials);
    }
    let mut strips = strips(made, (on, blends), materials);
    let is_begun = made.iter().any(|m| m.laying().is_some_and(|laying| laying.on == on));
    let round_count = share_out(&mut strips, is_begun, materials, school);
    let turn = turns(&strips, materials, school);
    let of_these = |m: &Move| m.laying().filter(|laying| laying.on == on).map(|laying| laying.round);
    let begun = made.iter().filter_map(of_these).max().unwrap_or(1);
    (0..round_count).flat_map(|round| laid_in(round, begun, &mut strips, &turn, materials)).collect()
}

/// Each ink of a stamped thing in one print, as far as it is still missing.
fn prints(made: &[Move], (on, blends): (Option<usize>, &[Blend]), materials: &Materials) -> Vec<Move> {
    let size = materials.extent(on).size;
    let of = |blend: &Blend| {
        let edges = zones(blend.way.span(size), blend.zone);
        let print = |field: &Field| {
            let (way, veils) = (blend.way, field.reaches(&edges));
            Print(Laying { ink: field.ink, on, way, round: 1, veils }).into()
        };
        blend.fields.iter().map(print).collect::<Vec<Move>>()
    };
    blends.iter().flat_map(of).filter(|print| !made.contains(print)).collect()
}

/// The strips of a thing's blends, or of the ground's, with what of them is still to be laid.
fn strips<'a>(
    made: &[Move],
    (on, blends): (Option<usize>, &'a [Blend]),
    materials: &Materials,
) -> Vec<Strip<'a>> {
    let mut strips = Vec::new();
    let (over_others, size) = (blends.len() > 1, materials.extent(on).size);
    for blend in blends {
        let edges = zones(blend.way.span(size), blend.zone);
        for (field, planned) in blend.fields.iter().map(|field| field.reaches(&edges)).enumerate() {
            let veils = missing(&planned, &laid_of(made, blend.fields[field].ink, on, blend.way));
            strips.push(Strip { on, blend, field, over_others, veils, laid: 0, shares: Vec::new() });
        }
    }
    strips
}

/// Shares the veils of each strip out over the rounds, and says how many rounds there are.
fn share_out(strips: &mut [Strip], is_begun: bool, materials: &Materials, school: School) -> usize {
    let most = strips.iter().map(|strip| strip.veils.len()).max().unwrap_or(0);
    let is_alone = strips.iter().filter(|strip| !strip.veils.is_empty()).count() == 1;
    let round_count = match school {
        // Between the rounds of one ink nothing would be laid.
        _ if is_alone => 1,
        School::AllLightFirst => 1 + rounds(most.saturating_sub(1)),
        _ => rounds(most),
    };
    for strip in strips {
        let veils = strip.veils.len();
        strip.shares = match school {
            _ if is_alone => vec![veils],
            // A little black at the very last, and once.
            _ if strip.is_rim(materials, &[Family::Neutrals]) => {
                let before = round_count.saturating_sub(1);
                std::iter::repeat_n(0, before).chain([veils]).collect()
            }
            // One faint round of everything, then the rest.
            School::AllLightFirst => {
                let first = if is_begun { 0 } else { veils.min(1) };
                [first].into_iter().chain(even_shares(veils - first, round_count - 1)).collect()
            }
            _ => even_shares(veils, round_count),
        };
    }
    round_count
}

/// In which order the strips are laid within a round.
fn turns(strips: &[Strip], materials: &Materials, school: School) -> Vec<usize> {
    let mut turn: Vec<usize> = (0..strips.len()).collect();
    let lightness = |strip: usize| materials.inks[strips[strip].ink()].lab().l;
    match school {
        School::LightToDark => turn.sort_by(|&a, &b| lightness(b).total_cmp(&lightness(a))),
        School::DarkToLight => turn.sort_by(|&a, &b| lightness(a).total_cmp(&lightness(b))),
        School::AllLightFirst => {}
    }
    // Black and brown along an edge come after the rest, whatever comes first: they dirty all that follows.
    turn.sort_by_key(|&strip| strips[strip].is_rim(materials, &[Family::Neutrals, Family::Browns]));
    turn
}

/// What is laid in one round, the first being the one that was begun.
fn laid_in(
    round: usize,
    begun: u8,
    strips: &mut [Strip],
    turn: &[usize],
    materials: &Materials,
) -> Vec<Move> {
    let mut laid: Vec<Move> = Vec::new();
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
            let is_last = strip.laid + share == strip.veils.len();
            laid.extend(
                turn[..nth]
                    .iter()
                    .filter(|_| is_last)
                    .find_map(|&other| broken_into(strip, &strips[other], materials)),
            );
        }
        for (earlier, _, piece) in kept.extract_if(.., |(_, later, _)| *later == at) {
            laid.push(Back(strips[earlier].laying(number, vec![piece])).into());
        }
        strips[at].laid += share;
    }
    laid
}

/// A yellow that lies already beside a green just laid is broken into it with what is left on the brush: from where they
/// meet a zone on towards the yellow.
fn broken_into(green: &Strip, yellow: &Strip, materials: &Materials) -> Option<Move> {
    let family = |strip: &Strip| materials.inks[strip.ink()].family();
    let are_so =
        matches!(family(green), Family::Greens | Family::SeaGreens) && family(yellow) == Family::Yellows;
    let are_beside = std::ptr::eq(green.blend, yellow.blend) && green.field.abs_diff(yellow.field) == 1;
    if !are_so || !are_beside {
        return None;
    }
    let (blend, on) = (green.blend, green.on);
    let meeting = blend.overlap(green.field.min(yellow.field))?;
    let span = blend.way.span(materials.extent(on).size);
    let reach = if yellow.field < green.field {
        Reach {
            from: (meeting.from - blend.zone).max(Length::ZERO),
            to: meeting.from + blend.zone.min(meeting.to - meeting.from),
        }
    } else {
        Reach {
            from: meeting.to - blend.zone.min(meeting.to - meeting.from),
            to: (meeting.to + blend.zone).min(span),
        }
    };
    Some(BreakInto { ink: green.ink(), over: yellow.ink(), on, way: blend.way, reach }.into())
}

/// The stretches of one ink that some moves have laid along a way of a thing, or of the ground.
pub fn laid_of(made: &[Move], ink: usize, on: Option<usize>, way: Way) -> Vec<Reach> {
    let of = |laying: &&Laying| laying.ink == ink && laying.on == on && laying.way == way;
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

/// Up to four rounds, of at most three veils while that is enough: a tint is gone over once.
fn rounds(veils: usize) -> usize {
    veils.div_ceil(3).clamp(1, 4)
}

/// Shares a number out over rounds, the first rounds taking what does not divide.
fn even_shares(veils: usize, rounds: usize) -> Vec<usize> {
    (0..rounds).map(|round| veils / rounds + usize::from(round < veils % rounds)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::colour::Colour;
    use crate::edges::Border;
    use crate::ink::{Ink, Kind};
    use crate::length::Units;
    use crate::order::{Cost, lay, lay_on};
    use crate::panel::sample;
    use crate::scene::Scene;
    use proptest::prelude::*;
    use std::sync::Arc;

    fn ink(l: f64) -> Ink {
        Ink {
            name: format!("Ink at {l:.0}").parse().unwrap(),
            kind: Kind::Dye,
            colour: Colour::Lab([l, 40.0, 10.0].into()),
            one_veil: None,
            full_veils: 7,
            on_ink: None,
        }
    }

    fn veils_at(moves: &[Move], ink: usize, place: Length) -> usize {
        let covers = |veil: &&Reach| veil.from <= place && place < veil.to;
        let of_ink = moves.iter().filter_map(Move::laying).filter(|laying| laying.ink == ink);
        of_ink.map(|laying| laying.veils.iter().filter(covers).count()).sum()
    }

    fn spread(inks: &[Ink], high: Length) -> (Scene, Arc<Materials>) {
        let listed: Vec<(usize, &Ink)> = inks.iter().enumerate().collect();
        let blend = Blend::spread(&listed, Way::DOWN, high, Units::Inches);
        let (panel, size) = (sample(), (Length::from_inches(4), high));
        let materials =
            Materials::of(size, &panel.paper, (&panel.tool, &[]), inks, (None, Border::default(), &[]), 1);
        (Scene { ground: vec![blend], ..Scene::default() }, Arc::new(materials))
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
            let (mut scene, materials) = spread(&inks, span);
            for (field, veils) in scene.ground[0].fields.iter_mut().zip(&veils) {
                field.veils = *veils;
            }
            let edges = zones(span, scene.ground[0].zone);
            for school in School::ALL {
                let moves = lay(&scene, &materials, school);
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
            let (mut scene, materials) = spread(&inks, span);
            for (field, veils) in scene.ground[0].fields.iter_mut().zip(&before) {
                field.veils = *veils;
            }
            for school in School::ALL {
                let moves = lay(&scene, &materials, school);
                let made = &moves[..made.min(moves.len())];
                let mut deeper = scene.clone();
                for (field, more) in deeper.ground[0].fields.iter_mut().zip(&more) {
                    field.veils += more;
                }
                let after = lay_on(made, &deeper, &materials, school);
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
        let (scene, materials) = spread(&inks, Length::from_inches(5));
        for (school, first) in
            [(School::LightToDark, 1), (School::DarkToLight, 0), (School::AllLightFirst, 0)]
        {
            let moves = lay(&scene, &materials, school);
            assert_eq!(moves[0].laying().map(|laying| laying.ink), Some(first), "{school:?}");
            for round in 1..=Cost::of(&moves, &materials).rounds {
                let back =
                    moves.iter().filter(|m| matches!(m, Move::Back(Back(laying)) if laying.round == round));
                assert_eq!(back.count(), 2, "{school:?} round {round}");
            }
        }
        let faint = lay(&scene, &materials, School::AllLightFirst);
        let first_round = faint.iter().filter_map(|m| match m {
            Move::Lay(Lay(laying)) if laying.round == 1 => Some(laying.veils.len()),
            _ => None,
        });
        assert!(first_round.into_iter().all(|veils| veils == 1));
        assert!(
            Cost::of(&faint, &materials).changes
                > Cost::of(&lay(&scene, &materials, School::LightToDark), &materials).changes
        );
    }

    #[test]
    fn black_at_the_rim_comes_last_and_the_blue_goes_back_over_it() {
        let named = |name: &str, lab: [f64; 3]| Ink {
            name: name.parse().unwrap(),
            colour: Colour::Lab(lab.into()),
            ..ink(50.0)
        };
        let sky = [
            named("Glow", [80.0, -15.0, -20.0]),
            named("Night", [30.0, 8.0, -40.0]),
            named("Tar", [16.0, 0.0, -1.0]),
        ];
        let ground = [named("Grass", [55.0, -38.0, 30.0]), named("Mud", [35.0, 14.0, 22.0])];
        for school in School::ALL {
            for veils in 1..=24 {
                let (mut scene, materials) = spread(&sky, Length::from_inches(5));
                scene.ground[0].fields.iter_mut().for_each(|field| field.veils = veils);
                let black = lay(&scene, &materials, school)
                    .iter()
                    .filter_map(Move::laying)
                    .filter(|laying| laying.ink == 2)
                    .map(|laying| laying.veils.len())
                    .sum::<usize>();
                assert!(black > 0, "{school:?}, {veils} veils");
            }
            let laid = |inks: &[Ink]| -> Vec<(usize, bool)> {
                let (scene, materials) = spread(inks, Length::from_inches(5));
                let moves = lay(&scene, &materials, school);
                let of = |m: &Move| Some((m.laying()?.ink, matches!(m, Move::Back(_))));
                moves.iter().filter_map(of).collect()
            };
            let sky = laid(&sky);
            let black = sky.iter().position(|laid| laid.0 == 2).unwrap();
            assert_eq!(sky[black + 1..], [(1, true)], "{school:?}: {sky:?}");
            let ground = laid(&ground);
            assert_eq!(ground.first(), Some(&(0, false)), "{school:?}: green first: {ground:?}");
            assert!(ground.windows(2).any(|pair| pair == [(1, false), (0, true)]), "{ground:?}");
        }
    }

    #[test]
    fn every_ink_meets_a_clean_brush() {
        let inks = [ink(30.0), ink(80.0), ink(55.0)];
        let (scene, materials) = spread(&inks, Length::from_inches(5));
        for school in School::ALL {
            let moves = lay(&scene, &materials, school);
            let mut surface = crate::surface::Surface::bare(materials.clone());
            for m in &moves {
                assert_eq!(m.unmet(&surface), [], "{school:?}: {m:?}");
                m.make(&mut surface);
            }
            assert!(matches!(moves.last(), Some(Move::Dry(_))));
        }
    }
}
