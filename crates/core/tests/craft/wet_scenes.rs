//! What is done with water, planned, drawn and checked.

use proptest::prelude::*;
use rosy_core::alter::{Alter, AlterError, Altered, altered};
use rosy_core::blend::{Blend, Way};
use rosy_core::colour::{Colour, Illuminant, Srgb};
use rosy_core::ink::{Finish, Ink, Kind, Name, Paper, Paste, Powder, Tool, ToolKind};
use rosy_core::judgement::{Finding, Owned, Reading, Remedy, Rule, cleared, muddied};
use rosy_core::moves::{
    Breach, Move, Technique, WetStep, blot::Blot, dry::Dry, flick::Flick, heat::Heat, lift::Lift,
    mask_off::MaskOff, mask_on::MaskOn, mist::Mist, mist_mat::MistMat, press::Press, spray::Spray as Bottle,
    spread::Spread, swipe::Swipe,
};
use rosy_core::order::check::check;
use rosy_core::order::pieces::taken;
use rosy_core::order::{Bow, RunSheet};
use rosy_core::picture::{Picture, Size, draw};
use rosy_core::place::{Extent, Point};
use rosy_core::scene::{Loose, Pressing, Smoosh, Thing, Treatment};
use rosy_core::shape::kept::Figure;
use rosy_core::shape::{Drawn, Shape, Use, family};
use rosy_core::surface::{Mask, Part};
use rosy_core::water::drops::Chance;
use rosy_core::water::flecks::FleckLook;
use rosy_core::water::pad::Stroke;
use rosy_core::water::{Flecks, Movement, Pad, Placed, Spray, Thrown, Tilt};
use rosy_core::{Length, Panel, Units};

const SAIL: [f64; 3] = [69.0, -17.0, -23.0];
const EBB: [f64; 3] = [44.0, -6.0, -40.0];
const COCKLE: [f64; 3] = [57.0, 56.0, -4.0];
const WHITE: [f64; 3] = [96.0, 0.0, -1.0];

fn ink(lab: [f64; 3], kind: Kind) -> Ink {
    Ink {
        name: format!("{kind} {:.0} {:.0} {:.0}", lab[0], lab[1], lab[2]).parse().unwrap(),
        kind,
        colour: Colour::Lab(lab.into()),
        one_veil: None,
        full_veils: 7,
        on_ink: None,
    }
}

fn inches(sixty_fourths: i64) -> Length {
    Length::from_64ths(sixty_fourths)
}

/// A small panel of watercolour card in these inks, the first so many of them on the ground.
fn panel(inks: Vec<Ink>, ground: usize) -> Panel {
    let paper = Paper::plain(Finish::Watercolour);
    let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
    let mut panel =
        Panel::bare("Rain on the duckboards".parse().unwrap(), inches(160), inches(192), paper, tool, 7);
    let listed: Vec<(usize, &Ink)> = inks.iter().enumerate().take(ground).collect();
    if !listed.is_empty() {
        panel.scene.ground = vec![Blend::spread(&listed, Way::DOWN, panel.height, Units::Inches)];
    }
    Panel { inks, ..panel }
}

fn flecks(of: Thrown) -> Flecks {
    Flecks::of_look(of, FleckLook::Snow, (inches(160), inches(192)))
}

fn wet(deed: WetStep) -> Loose {
    Loose { blot: deed.is_water(), ..Loose::last(deed) }
}

fn shape(family: &str, letters: &str) -> Shape {
    let mut drawn = Drawn::usual(family::find(family).unwrap());
    if !letters.is_empty() {
        drawn.letters = letters.into();
    }
    let name = if letters.is_empty() { family } else { letters };
    let mut shape = Shape::new(name.parse().unwrap(), Figure::Drawn(drawn));
    shape.percent = 50;
    shape
}

fn with_loose(mut panel: Panel, loose: Vec<Loose>) -> Panel {
    panel.scene.loose = loose;
    let panel = panel.laid();
    panel.check().unwrap();
    panel
}

/// A ground of dyes with these deeds over it.
fn ground_with(kind: Kind, loose: Vec<Loose>) -> Panel {
    with_loose(panel(vec![ink(SAIL, kind), ink(EBB, kind)], 2), loose)
}

fn smooshed(presses: Vec<Pressing>) -> Panel {
    let mut panel = panel(vec![ink(SAIL, Kind::Dye), ink(EBB, Kind::Oxide)], 0);
    let smoosh = Smoosh::of(&[0, 1], panel.size(), Units::Inches);
    panel.scene.smoosh = Some(Smoosh { presses, ..smoosh });
    let panel = panel.laid();
    panel.check().unwrap();
    panel
}

fn pressing(mists: u8, spare: Option<u8>) -> Pressing {
    Pressing { mists, spare, movement: Movement::Still, on_damp: false }
}

fn kinds(panel: &Panel) -> Vec<&'static str> {
    let word = |m: &Move| match m {
        Move::Dab(_) => "dab",
        Move::MistMat(_) => "mist the mat",
        Move::Press(press) if press.spare.is_some() => "press a spare card",
        Move::Press(_) => "press",
        Move::Flick(_) => "flick",
        Move::Spray(_) => "spray",
        Move::Mist(_) => "mist",
        Move::Lift(_) => "lift",
        Move::Blot(_) => "blot",
        Move::Spread(_) => "paste",
        Move::Heat(_) => "heat",
        Move::Dry(_) => "dry",
        Move::MaskOn(_) => "mask on",
        Move::MaskOff(_) => "mask off",
        Move::Buff(_) => "buff",
        Move::Look(_) => "look",
        _ => "lay",
    };
    let mut words: Vec<&str> = panel.moves.iter().map(word).collect();
    words.dedup();
    words
}

fn picture(panel: &Panel) -> Picture {
    draw(&panel.surface(), Size { dpi: 100.0 }).unwrap()
}

/// The lightness of each pixel.
fn lightness(picture: &Picture) -> Vec<f64> {
    let of = |pixel: &[u8]| Srgb([pixel[0], pixel[1], pixel[2]]).lab(Illuminant::D65).l;
    picture.rgb.chunks_exact(3).map(of).collect()
}

#[test]
fn three_cards_from_one_mat_are_planned_with_what_goes_between() {
    let panel =
        smooshed(vec![pressing(4, None), pressing(2, None), pressing(2, Some(1)), pressing(3, Some(2))]);
    let planned = [
        "dab",
        "mist the mat",
        "press",
        "heat",
        "mist the mat",
        "press",
        "heat",
        "mist the mat",
        "press a spare card",
        "mist the mat",
        "press a spare card",
    ];
    assert_eq!(kinds(&panel), planned);
    assert!(check(&panel).is_empty());
    // Each card paler than the one before, and what is on them and on the mat is what was dabbed.
    let bench = panel.surface().mat.bench();
    let of = |card: usize| bench.cards[card].inks(2).iter().sum::<f64>();
    assert!(of(0) > 1.3 * of(1) && of(1) > 1.1 * of(2), "{} {} {}", of(0), of(1), of(2));
    let spread = |lightness: Vec<f64>| lightness.iter().copied().fold(f64::INFINITY, f64::min);
    assert!(spread(lightness(&picture(&panel))) < 75.0);
}

#[test]
fn what_is_kept_dry_is_covered_and_a_word_in_soluble_ink_always() {
    let mut own = panel(vec![ink(SAIL, Kind::Dye), ink(EBB, Kind::Dye)], 1);
    let at = |left: i64, top: i64| Point { left: inches(left), top: inches(top) };
    let mut word = Thing::new(shape("word", "ebb"), at(80, 140));
    let size = word.extent(&word.shape.outline().unwrap()).size;
    let spread = Blend::spread(&[(1, &own.inks[1])], Way::DOWN, Way::DOWN.span(size), Units::Inches);
    word.gets = Treatment::Inked(vec![spread]);
    own.scene.things = vec![word, Thing::new(shape("circle", ""), at(80, 50))];
    let deed = Loose { keep: vec![1], ..wet(WetStep::Mist(Mist { pumps: 4 })) };
    let own = with_loose(own, vec![deed]);
    assert!(check(&own).is_empty(), "{:?}", check(&own));
    let mist = own.moves.iter().position(|m| matches!(m, Move::Mist(_))).unwrap();
    let covered: Vec<Mask> = own.after(mist).masks;
    let plug = |thing: usize| Mask { thing, part: Part::Plug };
    assert!(covered.contains(&plug(0)) && covered.contains(&plug(1)), "{covered:?}");
    assert!(own.surface().masks.is_empty());
    let cut = taken(&own.moves, &own.materials());
    assert!(cut.iter().all(|pieces| pieces.plugs == 1), "both plugs are cut");
    // Under the plug nothing has changed.
    let plain = Panel {
        scene: rosy_core::scene::Scene { loose: Vec::new(), ..own.scene.clone() },
        moves: Vec::new(),
        ..own.clone()
    }
    .laid();
    let (with, without) = (picture(&own), picture(&plain));
    let middle = |picture: &Picture| {
        let (x, y) = (picture.width * 80 / 160, picture.height * 50 / 192);
        picture.rgb[3 * (y * picture.width + x)..][..3].to_vec()
    };
    assert_eq!(middle(&with), middle(&without));
}

#[test]
fn a_plan_half_done_goes_on_as_it_was() {
    let mut own = smooshed(vec![pressing(4, None), pressing(2, None)]);
    own.scene.loose = vec![
        Loose { first: true, ..wet(WetStep::Spray(Bottle(bottle(Some(0))))) },
        wet(WetStep::Flecks(Flick(flecks(Thrown::Water)))),
        wet(WetStep::Mist(Mist { pumps: 2 })),
    ];
    let own = own.laid();
    assert!(check(&own).is_empty(), "{:?}", check(&own));
    for done in 0..=own.moves.len() + 2 {
        let begun = Panel { done, ..own.clone() }.laid();
        assert_eq!(begun.moves, own.moves, "{done} done");
        // What comes later can still be changed, and what is done stays.
        let mut other = Panel { done, ..own.clone() };
        other.scene.loose.pop();
        let other = other.laid();
        let made = other.made().len();
        assert_eq!(other.moves[..made], own.moves[..made], "{done} done");
    }
}

fn bottle(ink: Option<usize>) -> Spray {
    Spray {
        ink,
        at: Point { left: inches(80), top: inches(80) },
        distance: Length::from_inches(6),
        pumps: 3,
        on_wet: false,
        tilt: Tilt::Flat,
        splashed: false,
        pushed: false,
    }
}

#[test]
fn water_never_darkens_dye_and_oxide_blooms_with_a_rim() {
    for blot in [false, true] {
        let deed = Loose {
            blot,
            ..Loose::last(WetStep::Flecks(Flick(Flecks {
                median: Length::from_tenths_mm(12),
                ..flecks(Thrown::Water)
            })))
        };
        for kind in [Kind::Dye, Kind::Oxide] {
            let (dry, with) = (ground_with(kind, Vec::new()), ground_with(kind, vec![deed.clone()]));
            let (before, after) = (lightness(&picture(&dry)), lightness(&picture(&with)));
            let changes: Vec<f64> = after.iter().zip(&before).map(|(after, before)| after - before).collect();
            let (most, least) =
                changes.iter().fold((0.0_f64, 0.0_f64), |(most, least), by| (most.max(*by), least.min(*by)));
            // Rounding to screen pixels moves a lightness by less than this.
            assert!(most > if blot { 4.0 } else { 0.5 }, "{kind}, blotted {blot}: lighter by {most}");
            match (kind, blot) {
                (Kind::Dye, _) => assert!(least > -0.8, "{kind}: darker by {least}"),
                (_, false) => assert!(least < -1.5, "{kind} has a rim: {least}"),
                _ => {}
            }
        }
    }
}

#[test]
fn water_moves_neither_resist_nor_what_lies_under_it() {
    let sealed = |loose: Vec<Loose>| {
        let mut own = panel(vec![ink(SAIL, Kind::Dye), ink(COCKLE, Kind::Dye)], 1);
        let mut star = Thing::new(shape("circle", ""), Point { left: inches(80), top: inches(90) });
        let size = star.extent(&star.shape.outline().unwrap()).size;
        let spread = Blend::spread(&[(1, &own.inks[1])], Way::DOWN, Way::DOWN.span(size), Units::Inches);
        star.gets = Treatment::Inked(vec![spread]);
        star.resist = Some(Powder::Clear);
        own.scene.things = vec![star];
        with_loose(own, loose)
    };
    let deeds = vec![
        wet(WetStep::Mist(Mist { pumps: 6 })),
        wet(WetStep::Flecks(Flick(flecks(Thrown::Ink(0))))),
        wet(WetStep::Spray(Bottle(bottle(Some(1))))),
    ];
    let (plain, with) = (sealed(Vec::new()), sealed(deeds));
    assert!(check(&with).is_empty(), "{:?}", check(&with));
    assert_eq!(kinds(&with).last(), Some(&"buff"));
    let (one, other) = (picture(&plain), picture(&with));
    let radius = plain.scene.things[0].shape.outline().unwrap().size().0 / 2.0 - 1.0;
    let (mut inside, mut beside) = (0, 0);
    for (at, (a, b)) in one.rgb.chunks_exact(3).zip(other.rgb.chunks_exact(3)).enumerate() {
        let mm = 0.254;
        let (x, y) =
            ((at % one.width) as f64 * mm - inches(80).mm(), (at / one.width) as f64 * mm - inches(90).mm());
        if x.hypot(y) < radius {
            assert_eq!(a, b);
            inside += 1;
        } else {
            beside += usize::from(a != b);
        }
    }
    assert!(inside > 500 && beside > 5_000);
}

#[test]
fn the_same_seed_gives_the_same_picture_and_once_again_is_not_the_same() {
    let deed = || wet(WetStep::Flecks(Flick(flecks(Thrown::Ink(1)))));
    let once = ground_with(Kind::Dye, vec![deed()]);
    assert!(picture(&once) == picture(&once.clone()));
    let seeded = Panel { seed: 8, ..once.clone() };
    assert!(picture(&once) != picture(&seeded));
    // The second throw falls elsewhere: it covers more than the first.
    let twice = ground_with(Kind::Dye, vec![deed(), deed()]);
    let drops = |panel: &Panel| {
        panel.surface().effects().iter().map(|effect| effect.drops.clone()).collect::<Vec<_>>()
    };
    let drops = drops(&twice);
    assert!(drops[0] != drops[1]);
}

/// What is seen of a place in the picture is what its layers come to.
#[test]
fn the_picture_shows_what_lies_there() {
    let mut own = smooshed(vec![pressing(4, None), pressing(3, None)]);
    own.scene.loose = vec![
        wet(WetStep::Mist(Mist { pumps: 3 })),
        wet(WetStep::Spray(Bottle(Spray { on_wet: true, ..bottle(Some(0)) }))),
    ];
    let own = own.laid();
    let surface = own.surface();
    let effects = surface.effects();
    // At the middle of cells, where nothing is read between: four pixels to the millimetre.
    let drawn = draw(&surface, Size { dpi: 101.6 }).unwrap();
    let (mut sum, mut count, mut worst) = (0.0, 0, 0.0_f64);
    for row in (8..drawn.height - 8).step_by(9) {
        for column in (8..drawn.width - 8).step_by(7) {
            let place = ((column as f64 + 0.5) * 0.25, (row as f64 + 0.5) * 0.25);
            let exact = surface.lab_at(place, &effects);
            let pixel = &drawn.rgb[3 * (row * drawn.width + column)..][..3];
            let seen = Srgb([pixel[0], pixel[1], pixel[2]]).lab(Illuminant::D65);
            let apart = exact.difference(seen);
            (sum, count, worst) = (sum + apart, count + 1, worst.max(apart));
        }
    }
    // The tooth of the card lightens and darkens each pixel a little.
    assert!(sum / f64::from(count) < 1.6 && worst < 9.0, "{} {worst}", sum / f64::from(count));
}

fn some_deed() -> impl Strategy<Value = Loose> {
    let flecks_of = |of: Thrown| flecks(of);
    let step = prop_oneof![
        Just(WetStep::Flecks(Flick(flecks_of(Thrown::Water)))),
        (0_usize..2).prop_map(move |ink| WetStep::Flecks(Flick(flecks_of(Thrown::Ink(ink))))),
        Just(WetStep::Flecks(Flick(flecks_of(Thrown::Mica)))),
        (1_u8..9).prop_map(|pumps| WetStep::Mist(Mist { pumps })),
        (0_usize..3, any::<bool>(), any::<bool>()).prop_map(|(ink, on_wet, splashed)| {
            WetStep::Spray(Bottle(Spray { on_wet, splashed, ..bottle((ink < 2).then_some(ink)) }))
        }),
        Just(WetStep::Lift(Lift { thing: 0 })),
        (0_usize..2, 0_usize..3, 1_u8..4, any::<bool>()).prop_map(|(ink, stroke, times, light)| {
            WetStep::Pad(Swipe(Pad { ink, stroke: Stroke::ALL[stroke], times, light }))
        }),
        prop_oneof![Just(Paste::White), Just(Paste::Shimmer), (0_usize..2).prop_map(Paste::Tinted)]
            .prop_map(|of| WetStep::Paste(Spread { thing: 1, of })),
    ];
    let keep = proptest::sample::subsequence(vec![0_usize, 1], 0..=2);
    (step, any::<bool>(), any::<bool>(), keep, proptest::option::of(0_usize..2)).prop_map(
        |(step, blot, first, keep, within)| {
            // Before anything is blended only ink comes on the card: water would find nothing.
            let first = first && !step.is_water();
            Loose { blot: blot && step.is_water(), first, keep, within, step }
        },
    )
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(32) })]

    #[test]
    fn a_plan_of_the_programs_own_breaks_no_rule(
        loose in proptest::collection::vec(some_deed(), 0..4),
        presses in proptest::collection::vec((1_u8..5, 0_u8..3), 0..4),
        is_word in any::<bool>(),
        sealed in any::<bool>(),
    ) {
        let mut own = panel(vec![ink(SAIL, Kind::Dye), ink(EBB, Kind::Oxide)], 2);
        if !presses.is_empty() {
            let smoosh = Smoosh::of(&[0, 1], own.size(), Units::Inches);
            let presses = presses.iter().map(|(mists, spare)| pressing(*mists, (*spare > 0).then_some(*spare)));
            own.scene.smoosh = Some(Smoosh { presses: presses.collect(), ..smoosh });
        }
        let at = |top: i64| Point { left: inches(80), top: inches(top) };
        let mut front = Thing::new(if is_word { shape("word", "ebb") } else { shape("heart", "") }, at(60));
        let size = front.extent(&front.shape.outline().unwrap()).size;
        let spread = Blend::spread(&[(1, &own.inks[1])], Way::DOWN, Way::DOWN.span(size), Units::Inches);
        front.gets = Treatment::Inked(vec![spread]);
        front.resist = sealed.then_some(Powder::Clear);
        own.scene.things = vec![front, Thing::new(shape("circle", ""), at(140))];
        own.scene.loose = loose;
        let own = own.laid();
        own.check().unwrap();
        let broken: Vec<_> = check(&own).into_iter().map(|broken| broken.says).collect();
        prop_assert!(broken.is_empty(), "{broken:?} {:?}", kinds(&own));
        prop_assert!(own.surface().masks.is_empty() && !own.surface().is_damp());
        // What is written down is read again.
        let text = serde_json::to_string(&own).unwrap();
        let read: rosy_core::document::Document = serde_json::from_str(&text).unwrap();
        prop_assert_eq!(read.checked().unwrap(), own);
    }
}

fn changed(panel: &Panel, change: impl Fn(&mut Vec<Move>)) -> Panel {
    let mut moves = panel.moves.clone();
    change(&mut moves);
    Panel { moves, ..panel.clone() }
}

fn place(moves: &[Move], of: impl Fn(&Move) -> bool) -> usize {
    moves.iter().position(of).unwrap()
}

/// A circle that stands up, skimmed in a darker ink.
fn skimmed() -> Panel {
    let mut own = panel(vec![ink(SAIL, Kind::Dye), ink(EBB, Kind::Dye)], 1);
    let mut pattern = shape("circle", "");
    pattern.used = Use::Raised;
    let mut thing = Thing { over: true, ..Thing::new(pattern, Point { left: inches(80), top: inches(90) }) };
    let size = thing.extent(&thing.shape.outline().unwrap()).size;
    let spread = Blend::spread(&[(1, &own.inks[1])], Way::DOWN, Way::DOWN.span(size), Units::Inches);
    thing.gets = Treatment::Inked(vec![spread]);
    own.scene.things = vec![thing];
    own.laid()
}

/// A panel whose moves break a rule, and one that comes as near as it may.
fn broken_and_near() -> Vec<(Breach, Panel, Panel)> {
    let is_heat = |m: &Move| matches!(m, Move::Heat(_));
    let two = smooshed(vec![pressing(4, None), pressing(2, None)]);
    let misted = ground_with(Kind::Dye, vec![wet(WetStep::Mist(Mist { pumps: 3 }))]);
    let mut written = panel(vec![ink(SAIL, Kind::Dye), ink(EBB, Kind::Dye)], 1);
    let mut word = Thing::new(shape("word", "ebb"), Point { left: inches(80), top: inches(140) });
    let size = word.extent(&word.shape.outline().unwrap()).size;
    let spread = Blend::spread(&[(1, &written.inks[1])], Way::DOWN, Way::DOWN.span(size), Units::Inches);
    word.gets = Treatment::Inked(vec![spread]);
    written.scene.things = vec![word];
    let mut sealed = written.clone();
    sealed.scene.things[0].resist = Some(Powder::Clear);
    let (written, sealed) = (
        with_loose(written, vec![wet(WetStep::Mist(Mist { pumps: 3 }))]),
        with_loose(sealed, vec![wet(WetStep::Mist(Mist { pumps: 3 }))]),
    );
    let plug = Mask { thing: 0, part: Part::Plug };
    let first = with_loose(
        panel(vec![ink(SAIL, Kind::Dye), ink(EBB, Kind::Dye)], 1),
        vec![Loose { first: true, ..Loose::last(WetStep::Spray(Bottle(bottle(Some(1))))) }],
    );
    let smooth = |pumps: u8| {
        let mut own = ground_with(
            Kind::Dye,
            vec![wet(WetStep::Mist(Mist { pumps: 2 })), wet(WetStep::Mist(Mist { pumps }))],
        );
        own.paper.surface = Finish::VerySmooth;
        changed(&own.laid(), |moves| {
            let blot = place(moves, |m| matches!(m, Move::Blot(_)));
            moves.remove(blot);
            while moves[blot].dries() {
                moves.remove(blot);
            }
        })
    };
    let mut pasted = panel(vec![ink(SAIL, Kind::Dye), ink(EBB, Kind::Dye)], 2);
    pasted.scene.things = vec![Thing::lent(pasted.size(), "waves".parse().unwrap())];
    let pasted = with_loose(pasted, vec![Loose::last(WetStep::Paste(Spread { thing: 0, of: Paste::White }))]);
    let bark = Pad { ink: 1, stroke: Stroke::Down, times: 1, light: true };
    let swiped = ground_with(Kind::Dye, vec![Loose::last(WetStep::Pad(Swipe(bark)))]);
    let skimmed = skimmed();
    let white = with_loose(
        panel(vec![ink(WHITE, Kind::Pigment)], 0),
        vec![Loose::last(WetStep::Flecks(Flick(flecks(Thrown::Ink(0)))))],
    );
    vec![
        (
            Breach::PressOnDamp,
            changed(&two, |moves| drop(moves.remove(place(moves, is_heat)))),
            changed(&two, |moves| {
                let at = place(moves, is_heat);
                moves[at] = Dry {}.into();
            }),
        ),
        (
            Breach::DryMat,
            changed(&two, |moves| moves.retain(|m| !matches!(m, Move::MistMat(_)))),
            changed(&two, |moves| {
                let second = moves.iter().rposition(|m| matches!(m, Move::MistMat(_))).unwrap();
                moves.remove(second);
            }),
        ),
        (
            Breach::WaterOnDamp,
            changed(&misted, |moves| {
                let mist = place(moves, |m| matches!(m, Move::Mist(_)));
                let dry = moves[..mist].iter().rposition(Move::dries).unwrap();
                moves.remove(dry);
            }),
            misted.clone(),
        ),
        (
            Breach::NothingReacts,
            changed(&white, |moves| moves.extend([Flick(flecks(Thrown::Water)).into(), Heat {}.into()])),
            changed(&misted, |moves| moves.extend([Flick(flecks(Thrown::Water)).into(), Heat {}.into()])),
        ),
        (
            Breach::NothingToBlot,
            changed(&misted, |moves| moves.push(Blot {}.into())),
            changed(&misted, |moves| moves.extend([Flick(flecks(Thrown::Water)).into(), Blot {}.into()])),
        ),
        (
            Breach::Runs,
            changed(&written, |moves| {
                let mist = place(moves, |m| matches!(m, Move::Mist(_)));
                let on = moves[..mist].iter().rposition(|m| m.mask() == Some(plug)).unwrap();
                let off = mist + place(&moves[mist..], |m| m.mask() == Some(plug));
                moves.remove(off);
                moves.remove(on);
            }),
            sealed,
        ),
        (
            Breach::BrushOnWet,
            changed(&first, |moves| drop(moves.remove(place(moves, |m| m.dries())))),
            first.clone(),
        ),
        (Breach::Soaked, smooth(3), smooth(2)),
        (
            Breach::PadOnDamp,
            changed(&swiped, |moves| {
                let at = place(moves, |m| matches!(m, Move::Swipe(_)));
                let dry = moves[..at].iter().rposition(Move::dries).unwrap();
                moves.remove(dry);
            }),
            swiped.clone(),
        ),
        (
            Breach::NotRaised,
            changed(&skimmed, |moves| moves.retain(|m| !matches!(m, Move::Raise(_)))),
            // What lies under it is laid before it is raised.
            skimmed.clone(),
        ),
        (
            Breach::RaisedUnready,
            changed(&skimmed, |moves| {
                let at = place(moves, |m| matches!(m, Move::Raise(_)));
                let dry = moves[..at].iter().rposition(Move::dries).unwrap();
                moves.remove(dry);
            }),
            changed(&skimmed, |moves| {
                let at = place(moves, |m| matches!(m, Move::Raise(_)));
                let dry = moves[..at].iter().rposition(Move::dries).unwrap();
                moves[dry] = Dry {}.into();
            }),
        ),
        (
            Breach::SpreadOnDamp,
            changed(&pasted, |moves| {
                let at = place(moves, |m| matches!(m, Move::Spread(_)));
                let dry = moves[..at].iter().rposition(Move::dries).unwrap();
                moves.remove(dry);
            }),
            pasted.clone(),
        ),
        (
            Breach::PasteSquashed,
            changed(&pasted, |moves| {
                let at = place(moves, |m| matches!(m, Move::Spread(_)));
                moves.insert(at + 1, MaskOn(plug).into());
                moves.push(MaskOff(plug).into());
            }),
            changed(&pasted, |moves| moves.extend([MaskOn(plug).into(), MaskOff(plug).into()])),
        ),
        (
            Breach::PasteNotLast,
            changed(&pasted, |moves| moves.extend([Mist { pumps: 2 }.into(), Dry {}.into()])),
            changed(&pasted, |moves| {
                let at = place(moves, |m| matches!(m, Move::Spread(_)));
                moves.splice(at..at, [Mist { pumps: 2 }.into(), Dry {}.into()]);
            }),
        ),
        (
            Breach::PasteHeated,
            changed(&pasted, |moves| *moves.last_mut().unwrap() = Heat {}.into()),
            changed(&pasted, |moves| moves.push(Heat {}.into())),
        ),
    ]
}

#[test]
fn every_rule_of_water_is_told_where_it_is_broken_and_only_there() {
    for (breach, broken, near) in broken_and_near() {
        near.check().unwrap();
        let told = |panel: &Panel| check(panel).into_iter().map(|one| one.breach).collect::<Vec<_>>();
        assert!(!told(&near).contains(&breach), "{breach:?} near: {:?} {:?}", told(&near), kinds(&near));
        broken.check().unwrap();
        assert!(told(&broken).contains(&breach), "{breach:?}: {:?} {:?}", told(&broken), kinds(&broken));
        let mut mended = broken;
        for _ in 0..8 {
            let found = check(&mended);
            let Some(next) = found.iter().find(|one| one.breach == breach).or(found.first()) else { break };
            mended = next.mended(&mended);
        }
        assert!(check(&mended).is_empty(), "{breach:?}: {:?} {:?}", told(&mended), kinds(&mended));
    }
}

#[test]
fn what_no_hand_can_do_is_refused() {
    let refused = |change: &dyn Fn(&mut Panel)| {
        let mut own = smooshed(vec![pressing(4, None)]);
        own.scene.loose = vec![wet(WetStep::Flecks(Flick(flecks(Thrown::Water))))];
        change(&mut own);
        own.moves = Vec::new();
        own.check().unwrap_err().to_string()
    };
    let patch =
        |own: &mut Panel| own.scene.smoosh.as_mut().unwrap().patches[0].at.left = Length::from_inches(9);
    assert!(refused(&patch).starts_with("patch 1 lies beside the card"));
    let mists = |own: &mut Panel| own.scene.smoosh.as_mut().unwrap().presses[0].mists = 0;
    assert!(refused(&mists).contains("at least once before the first"));
    let deed = |deed: WetStep| move |own: &mut Panel| own.scene.loose = vec![Loose::last(deed.clone())];
    assert!(refused(&deed(WetStep::Mist(Mist { pumps: 0 }))).starts_with("mist 1"));
    assert!(refused(&deed(WetStep::Lift(Lift { thing: 3 }))).contains("not on the panel"));
    assert!(refused(&deed(WetStep::Flecks(Flick(flecks(Thrown::Ink(9)))))).contains("names an ink"));
    let many = Flecks { count: 9_000, ..flecks(Thrown::Water) };
    assert!(refused(&deed(WetStep::Flecks(Flick(many)))).starts_with("flecks 1"));
    let far = Spray { distance: Length::from_inches(40), ..bottle(None) };
    assert!(refused(&deed(WetStep::Spray(Bottle(far)))).starts_with("spray 1"));
    let keep = |own: &mut Panel| own.scene.loose[0].keep = vec![4];
    assert!(refused(&keep).contains("not on the panel"));
}

#[test]
fn on_a_larger_panel_flecks_stand_as_close_and_what_was_placed_keeps_its_share() {
    let placed =
        Placed { at: Point { left: inches(40), top: inches(48) }, radius: Length::from_tenths_mm(10) };
    let clear =
        Extent { corner: Point { left: Length::ZERO, top: Length::ZERO }, size: (inches(160), inches(64)) };
    let own = Flecks { placed: vec![placed], clear: vec![clear], ..flecks(Thrown::Water) };
    let count = own.count;
    let panel = ground_with(Kind::Dye, vec![wet(WetStep::Flecks(Flick(own)))]);
    let larger = panel.resized(inches(320), inches(384), Units::Inches).unwrap();
    let WetStep::Flecks(Flick(flecks)) = &larger.scene.loose[0].step else { panic!("flecks stay flecks") };
    assert_eq!(
        (flecks.count, flecks.placed[0].at.left, flecks.clear[0].size.1),
        (4 * count, inches(80), inches(128))
    );
    let drops = &larger.surface().effects()[0].drops;
    assert!(drops.iter().skip(1).all(|drop| drop.y > inches(128).mm()), "the upper third stays clear");
}

/// The moves of a mat say what is pressed on what.
#[test]
fn a_press_takes_no_more_than_the_mat_holds() {
    let panel = smooshed(vec![pressing(4, None), pressing(0, Some(1)), pressing(0, Some(2))]);
    let mut told = rosy_core::surface::Surface::bare(panel.materials());
    let mut held: Option<f64> = None;
    for m in &panel.moves {
        m.make(&mut told);
        if !told.mat.inks.is_empty() {
            let now: f64 = told.mat.bench().mat.inks().iter().sum();
            let is_press = *m == Move::from(Press { spare: Some(1), ..Press::default() })
                || *m == Move::from(Press { spare: Some(2), ..Press::default() });
            assert!(!is_press || now <= held.unwrap() + 1e-6);
            held = Some(now);
        }
    }
    assert!(!panel.moves.contains(&MistMat { pumps: 2 }.into()));
}

/// A skimmed texture: the raised pattern takes the darker ink, and nothing beside it does.
#[test]
fn a_texture_is_raised_first_and_only_what_stands_up_is_skimmed() {
    let own = skimmed();
    own.check().unwrap();
    assert!(check(&own).is_empty(), "{:?}", check(&own));
    let at = place(&own.moves, |m| matches!(m, Move::Raise(_)));
    assert!(own.moves[..at].iter().any(Move::dries), "dry before it goes through the folder");
    assert!(own.moves.iter().all(|m| m.mask().is_none()), "nothing is cut for it");
    let plain = changed(&own, |moves| {
        moves.retain(|m| m.laying().is_none_or(|laying| laying.on.is_none()) && !matches!(m, Move::Raise(_)));
    });
    let (with, without) = (lightness(&picture(&own)), lightness(&picture(&plain)));
    let wide = picture(&own).width;
    let radius = own.scene.things[0].shape.outline().unwrap().size().0 / 2.0;
    for (n, (with, without)) in with.iter().zip(&without).enumerate() {
        let (x, y) =
            ((n % wide) as f64 * 0.254 - inches(80).mm(), (n / wide) as f64 * 0.254 - inches(90).mm());
        let far = x.hypot(y);
        if far < radius - 2.0 {
            assert!(with + 5.0 < *without, "skimmed: {with} {without}");
        } else if far > radius + 1.0 {
            assert!((with - without).abs() < 1e-9, "left as it was: {with} {without}");
        }
    }
}

/// Paste stands bright where the stencil is open, whatever lies under it; beside it all stays as it was, and the stencil that
/// is lent for it is nothing by itself.
#[test]
fn paste_covers_where_its_stencil_is_open_and_shimmer_lets_the_ground_through() {
    let mut own = panel(vec![ink(SAIL, Kind::Dye), ink(EBB, Kind::Dye)], 2);
    let plain = own.clone().laid();
    own.scene.things = vec![Thing::lent(own.size(), "waves".parse().unwrap())];
    let lent = with_loose(own.clone(), Vec::new());
    assert_eq!(picture(&lent).rgb, picture(&plain).rgb, "a stencil that is only lent shows nothing");
    assert!(lent.moves.iter().all(|m| m.mask().is_none()));
    let of = |of: Paste| with_loose(own.clone(), vec![Loose::last(WetStep::Paste(Spread { thing: 0, of }))]);
    let (white, shimmer, tinted) = (of(Paste::White), of(Paste::Shimmer), of(Paste::Tinted(1)));
    let moves = kinds(&white);
    assert_eq!(moves[moves.len() - 2..], ["paste", "dry"]);
    assert!(white.surface().has_paste() && !white.surface().is_soft());
    let masks = &white.materials().masks;
    let wide = picture(&white).width;
    let [bare, white, shimmer, tinted] =
        [&plain, &white, &shimmer, &tinted].map(|panel| lightness(&picture(panel)));
    let frame = Mask { thing: 0, part: Part::Frame };
    let (mut inside, mut beside) = (0, 0);
    for n in 0..white.len() {
        let at = |dx: f64, dy: f64| {
            let (x, y) = ((n % wide) as f64 * 0.254 + 0.127 + dx, (n / wide) as f64 * 0.254 + 0.127 + dy);
            masks.plot_at(x, y).map(|plot| plot.is_covered(frame))
        };
        let around: Vec<_> =
            [(0.0, 0.0), (0.9, 0.0), (-0.9, 0.0), (0.0, 0.9), (0.0, -0.9)].map(|(x, y)| at(x, y)).into();
        if around.iter().all(|covered| *covered == Some(false)) {
            inside += 1;
            // White wherever it is, but for its tooth and the light on its edge; shimmer between that and the ground.
            assert!(white[n] > 85.0, "{n}: {}", white[n]);
            assert!(tinted[n] < white[n] && shimmer[n] > bare[n], "{n}");
        } else if around.iter().all(|covered| *covered == Some(true)) {
            beside += 1;
            assert!((white[n] - bare[n]).abs() < 1e-9 && (shimmer[n] - bare[n]).abs() < 1e-9);
        }
    }
    assert!(inside > 200 && beside > 2000, "{inside} {beside}");
}

/// Three panels from one ground: each follows the rules, each is told apart from the others and from the ground, and what
/// they share is planned alike.
fn three_ways(panel: &Panel, drawer: &[Ink], units: Units) -> Result<[Altered; 3], AlterError> {
    let [edges, paste, lifted] = Alter::ALL.map(|way| altered(panel, drawer, units, way));
    Ok([edges?, paste?, lifted?])
}

#[test]
fn one_ground_is_altered_three_ways() {
    let drawer = [ink(EBB, Kind::Oxide), ink(WHITE, Kind::Pigment)];
    let own = panel(vec![ink(SAIL, Kind::Dye), ink(EBB, Kind::Dye)], 2).laid();
    let ways = three_ways(&own, &drawer, Units::Inches).unwrap();
    let pictures: Vec<Picture> = ways.iter().map(|way| picture(&way.panel)).collect();
    for (n, way) in ways.iter().enumerate() {
        let called = Alter::ALL[n].called();
        way.panel.check().unwrap();
        assert!(check(&way.panel).is_empty(), "{}: {:?}", called, check(&way.panel));
        assert!(way.panel.name.as_str().ends_with(called));
        let text = serde_json::to_string(&way.panel).unwrap();
        let read: rosy_core::document::Document = serde_json::from_str(&text).unwrap();
        assert_eq!(read.checked().unwrap(), way.panel);
        let apart = |other: &Picture| other.mean().difference(pictures[n].mean());
        assert!(apart(&picture(&own)) > 0.5, "{}", called);
    }
    // Paste and lifting make it lighter, the edges darker.
    let ground = picture(&own).mean().l;
    assert!(pictures[0].mean().l < ground && pictures[1].mean().l > ground && pictures[2].mean().l > ground);
    // A stencil that it has already is used.
    let mut stencilled = own.clone();
    stencilled.scene.things = vec![Thing::lent(own.size(), "mine".parse().unwrap())];
    let ways = three_ways(&stencilled.laid(), &drawer, Units::Inches).unwrap();
    assert_eq!(ways[1].panel.scene.things.len(), 1);
    // Spare cards that are pressed off its mat are no part of the three: each has a mat of its own, and that is misted.
    let spares = smooshed(vec![pressing(4, Some(1)), pressing(0, None), pressing(0, Some(2))]);
    for way in three_ways(&spares, &drawer, Units::Inches).unwrap() {
        let presses = way.panel.scene.smoosh.unwrap().presses;
        assert!(matches!(presses.as_slice(), [Pressing { mists: 4, spare: None, .. }]), "{presses:?}");
    }
    // Nothing, or nothing that water loosens, is said to be so.
    assert_eq!(three_ways(&panel(Vec::new(), 0), &drawer, Units::Inches).unwrap_err(), AlterError::Bare);
    let white = panel(vec![ink(WHITE, Kind::Pigment)], 1).laid();
    assert_eq!(three_ways(&white, &drawer, Units::Inches).unwrap_err(), AlterError::NothingLifts);
}

fn blue_name(panel: &Panel) -> Name {
    panel.inks[1].name.clone()
}

/// More water at once than a card drinks is planned in goes; told so by hand it is a rule broken, and put right.
#[test]
fn much_water_is_taken_in_goes_that_are_dried_between() {
    let mut own = panel(vec![ink(SAIL, Kind::Dye)], 1);
    own.paper.surface = Finish::VerySmooth;
    let mist = Loose { blot: true, ..Loose::last(WetStep::Mist(Mist { pumps: 7 })) };
    let own = with_loose(own, vec![mist]);
    assert!(check(&own).is_empty(), "{:?}", check(&own));
    let pumps: Vec<u8> = own
        .moves
        .iter()
        .filter_map(|m| if let Move::Mist(mist) = m { Some(mist.pumps) } else { None })
        .collect();
    assert_eq!(pumps, [4, 3]);
    assert_eq!(own.moves.iter().filter(|m| matches!(m, Move::Blot(_))).count(), 2);
    // All at once by hand.
    let mut by_hand = own.clone();
    let first = by_hand.moves.iter().position(|m| matches!(m, Move::Mist(_))).unwrap();
    by_hand.moves.truncate(first);
    by_hand.moves.push(Mist { pumps: 7 }.into());
    by_hand.moves.push(Blot {}.into());
    let broken = check(&by_hand);
    assert_eq!(broken.iter().map(|one| one.breach).collect::<Vec<_>>(), [Breach::Soaked]);
    assert!(broken[0].says.contains("goes"), "{}", broken[0].says);
    let mended = broken[0].mended(&by_hand);
    assert!(check(&mended).is_empty(), "{:?}", check(&mended));
    assert_eq!(mended.moves.iter().filter(|m| matches!(m, Move::Blot(_))).count(), 2);
    // What was done at once is done, and not asked for again.
    let mut all_at_once = 0;
    for done in 0..=by_hand.moves.len() + 2 {
        let on = Panel { done, ..by_hand.clone() }.laid();
        let count = |is_it: fn(&Move) -> bool| on.moves.iter().filter(|m| is_it(m)).count();
        let (mists, blots) = (count(|m| matches!(m, Move::Mist(_))), count(|m| matches!(m, Move::Blot(_))));
        let was_done = Panel { done, ..by_hand.clone() }.made().iter().any(|m| matches!(m, Move::Mist(_)));
        all_at_once += usize::from(was_done);
        assert_eq!((mists, blots), if was_done { (1, 1) } else { (2, 2) }, "{done}: {:?}", on.moves);
    }
    assert!(all_at_once > 0);
    // What the card drinks stays one deed.
    let few =
        with_loose(panel(vec![ink(SAIL, Kind::Dye)], 1), vec![Loose::last(WetStep::Mist(Mist { pumps: 3 }))]);
    assert_eq!(few.moves.iter().filter(|m| matches!(m, Move::Mist(_))).count(), 1);
}

/// A panel bows the more the more water stood on it at once and the thinner it is: as the square of its length.
#[test]
fn a_panel_bows_by_its_water_and_its_card() {
    let of = |pumps: u8, tenths: i64| {
        let mut own = panel(vec![ink(SAIL, Kind::Dye)], 1);
        own.paper.thickness = Length::from_tenths_mm(tenths);
        own.paper.surface = Finish::Watercolour;
        let deeds = (pumps > 0).then(|| Loose::last(WetStep::Mist(Mist { pumps }))).into_iter().collect();
        Bow::of(&with_loose(own, deeds)).mm
    };
    assert_eq!(of(0, 3), 0.0);
    assert!((of(4, 3) / of(2, 3) - 2.0).abs() < 1e-9 && (of(4, 3) / of(4, 6) - 4.0).abs() < 1e-9);
    // Timoshenko's arc: with the strain that four pumps leave on card of 0.3 mm.
    let own = panel(vec![ink(SAIL, Kind::Dye)], 1);
    let long = own.width.max(own.height).mm();
    let strain = 0.025 * 0.1 * 4.0 * 6.5 / 150.0;
    assert!((of(4, 3) - 1.5 * strain / 0.3 * long * long / 8.0).abs() < 1e-9);
    assert!(Bow { mm: 0.4 }.says(Units::Inches).contains("flat"));
    assert!(Bow { mm: 6.2 }.says(Units::Inches).contains("1/4 in"));
    assert!(Bow { mm: 6.2 }.says(Units::Millimetres).contains("6 mm"));
}

/// A brush on a wash moves its ink and loses none of it; on dry card there is nothing to push.
#[test]
fn a_wash_that_is_pushed_about_keeps_its_ink() {
    let size = (inches(4 * 64), inches(5 * 64));
    let wash = Spray { on_wet: true, ..bottle(Some(0)) };
    let pushed = Spray { pushed: true, ..wash };
    assert!(pushed.is_possible(size) && !Spray { on_wet: false, ..pushed }.is_possible(size));
    let left = |spray: Spray| spray.left((101.6, 127.0), &mut Chance::of(3, 1), 3, 1);
    let (one, other) = (left(wash), left(pushed));
    assert!((other.sum() / one.sum() - 1.0).abs() < 0.005);
    let moved: f64 = one.cells.iter().zip(&other.cells).map(|(a, b)| f64::from((a - b).abs())).sum();
    assert!(moved > 0.1 * one.sum(), "{}", moved / one.sum());
    let own =
        with_loose(panel(vec![ink(SAIL, Kind::Dye)], 1), vec![Loose::last(WetStep::Spray(Bottle(pushed)))]);
    let says: Vec<String> = RunSheet::of(&own, Units::Inches).steps.iter().map(|s| s.how.clone()).collect();
    assert!(says.iter().any(|how| how.contains("Push it about")), "{says:?}");
}

/// Complements pressed, sprayed or swiped over one another are mud, and told; neighbours are not; nor is a blend by itself.
#[test]
fn mud_is_told_of_what_water_brings_too() {
    let of = |labs: [[f64; 3]; 2], deed: &dyn Fn(usize) -> WetStep| {
        let ground = panel(labs.map(|lab| ink(lab, Kind::Dye)).into(), 1);
        muddied(&with_loose(ground, vec![Loose::last(deed(1))]).surface())
    };
    let pad = |ink: usize| WetStep::Pad(Swipe(Pad { ink, stroke: Stroke::Down, times: 2, light: false }));
    let spray = |ink: usize| WetStep::Spray(Bottle(Spray { on_wet: true, pumps: 14, ..bottle(Some(ink)) }));
    const ORANGE: [f64; 3] = [68.0, 45.0, 60.0];
    const BLUE: [f64; 3] = [44.0, -6.0, -40.0];
    // White over a colour only pales it.
    const WHITE: [f64; 3] = [96.0, 0.0, 1.0];
    let painted = panel(vec![ink(BLUE, Kind::Dye), ink(WHITE, Kind::Pigment)], 1);
    assert_eq!(muddied(&with_loose(painted, vec![Loose::last(pad(1))]).surface()), []);
    for deed in [&pad as &dyn Fn(usize) -> WetStep, &spray] {
        let told = of([ORANGE, BLUE], deed);
        assert_eq!(told.len(), 1, "{told:?}");
        assert!(told[0].inks == [0, 1] && told[0].share > 0.05, "{told:?}");
        assert!(of([SAIL, BLUE], deed).is_empty());
        // At one press another ink is taken: the nearest of the drawer that stays clean, where there is one.
        let own = with_loose(
            panel([ORANGE, BLUE].map(|lab| ink(lab, Kind::Dye)).into(), 1),
            vec![Loose::last(deed(1))],
        );
        let near = Ink { name: "Near".parse().unwrap(), ..ink([46.0, 8.0, -42.0], Kind::Dye) };
        let warm = Ink { name: "Warm".parse().unwrap(), ..ink([60.0, 50.0, 40.0], Kind::Dye) };
        let clean = cleared(&own, told[0].inks, &[near.clone(), warm.clone()]).unwrap();
        assert!(
            muddied(&clean.panel.surface()).is_empty() && clean.inks == [blue_name(&own), warm.name.clone()]
        );
        clean.panel.check().unwrap();
        assert!(cleared(&own, told[0].inks, std::slice::from_ref(&near)).is_none());
        // It is among all that will go wrong with the panel, where it is, and that is a way to mend it.
        let reading = Reading::of(&own);
        let of_water = |finding: &&Finding| finding.rule == Rule::Muddied;
        let finding = reading.findings.iter().find(of_water).unwrap();
        assert!(finding.inks == [0, 1] && finding.figure > finding.limit);
        assert!(finding.spot.left <= own.width && finding.spot.top <= own.height);
        let owned = Owned { inks: vec![near, warm], ..Owned::default() };
        let remedies = Remedy::all(&own, &own.materials(), &reading, finding, &owned, Units::Inches);
        assert!(remedies[0].mends && remedies[0].says.contains("Warm"), "{remedies:?}");
        assert!(!Reading::of(&remedies[0].panel).findings.iter().any(|f| of_water(&f)));
        // The other way round it is the same.
        assert_eq!(of([BLUE, ORANGE], deed).len(), 1);
    }
    let mut smooshed = panel(vec![ink(ORANGE, Kind::Dye), ink(BLUE, Kind::Dye)], 0);
    let mut mat = Smoosh::of(&[0, 1], smooshed.size(), Units::Inches);
    mat.patches[1].at = mat.patches[0].at;
    smooshed.scene.smoosh = Some(mat);
    assert_eq!(muddied(&smooshed.laid().surface()).len(), 1, "two patches on one place");
    let blended = panel(vec![ink(ORANGE, Kind::Dye), ink(BLUE, Kind::Dye)], 2).laid();
    assert!(muddied(&blended.surface()).is_empty(), "a blend is judged by itself");
    // It is said with what they turn to, and where.
    let says = of([ORANGE, BLUE], &pad)[0].says(&blended.surface());
    assert!(says.contains("turn ") && says.contains(" % of the card"));
}
