//! Masks that lie on one another: no plan does what no hand can do, and what cannot be done is told and put right.

use std::sync::Arc;

use proptest::prelude::*;
use rosy_core::blend::{Blend, Way};
use rosy_core::ink::{Ink, Powder};
use rosy_core::judgement::{Reading, Rule, unseen};
use rosy_core::moves::{Breach, Move, Technique, mask_off::MaskOff, mask_on::MaskOn};
use rosy_core::order::{RunSheet, check::check};
use rosy_core::scene::{Covering, Loose, Thing};
use rosy_core::shape::{Region, Shape};
use rosy_core::surface::{Handled, Mask, Masks, Part};
use rosy_core::{Length, Panel, Units};

use super::covered_scenes::{MIST, NIGHT, STRAW, TAR, scene, shape, some_scene_of, thing, told};

/// Where a mask lies, by the outlines of its thing alone.
fn lies(panel: &Panel, mask: Mask) -> Region {
    let masked = &panel.materials().masks.things[mask.thing];
    let whole = Region::rect(0.0, 0.0, panel.width.mm(), panel.height.mm());
    match mask.part {
        Part::Frame => whole.minus(masked.shape()),
        Part::Plug => {
            let out = panel.scene.things[mask.thing].shape.cut.outside();
            masked.shape().grown(out).intersected(&whole)
        }
    }
}

/// The first thing that some moves do and no hand can: a mask drawn from under another, or put where it lies already.
fn no_hand_can(panel: &Panel) -> Option<String> {
    let mut pile: Vec<Mask> = Vec::new();
    for (at, m) in panel.moves.iter().enumerate() {
        if let Some(lying) = pile.iter().position(|mask| *m == MaskOff(*mask).into()) {
            let lower = lies(panel, pile[lying]);
            // A little more than is counted as lying on it: areas are not worked out to the last hair.
            let on_it =
                pile[lying + 1..].iter().find(|upper| lower.intersected(&lies(panel, **upper)).area() > 1.1);
            if let Some(upper) = on_it {
                return Some(format!("{at}: {:?} from under {upper:?}", pile[lying]));
            }
            pile.remove(lying);
        } else if let Some(mask) = m.mask() {
            if *m != MaskOn(mask).into() || pile.contains(&mask) {
                return Some(format!("{at}: {m:?} with {pile:?}"));
            }
            pile.push(mask);
        }
    }
    None
}

/// A mask that is lifted again with nothing done under it.
fn put_on_for_nothing(panel: &Panel) -> Option<Mask> {
    let mut idle: Vec<Mask> = Vec::new();
    for m in &panel.moves {
        match m.mask() {
            Some(mask) if *m == MaskOn(mask).into() => idle.push(mask),
            Some(mask) if idle.contains(&mask) => return Some(mask),
            Some(_) => {}
            None if m.stays() || m.wets() => idle.clear(),
            None => {}
        }
    }
    None
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(24) })]

    #[test]
    fn no_plan_lifts_what_lies_under_another(panel in some_scene_of(1..=6)) {
        for covering in [Covering::Fewest, Covering::FrontFirst, Covering::BackFirst] {
            let panel = Panel { covering, ..panel.clone() }.laid();
            prop_assert_eq!(no_hand_can(&panel), None, "{:?} {:?}", covering, told(&panel));
            prop_assert_eq!(put_on_for_nothing(&panel), None, "{:?} {:?}", covering, told(&panel));
            let under = check(&panel).into_iter().find(|broken| broken.breach == Breach::UnderAnother);
            prop_assert!(under.is_none(), "{under:?}");
        }
    }

    /// Whatever lies there and whatever is wanted, what is done leads from the one to the other by what hands can do, and
    /// lifts nothing that neither goes nor lies on what goes.
    #[test]
    fn any_masks_lead_to_any_others(
        panel in some_scene_of(2..=5),
        before in any::<u16>(),
        after in any::<u16>(),
    ) {
        let masks: Arc<Masks> = panel.materials().masks.clone();
        let all = |bits: u16| -> Vec<Mask> {
            (0..masks.things.len())
                .flat_map(|thing| [Part::Plug, Part::Frame].map(|part| Mask { thing, part }))
                .enumerate()
                .filter(|(at, _)| bits & (1 << at) != 0)
                .map(|(_, mask)| mask)
                .collect()
        };
        // One piece lies in one place.
        let worn = |bits: u16| {
            let mut worn: Vec<Mask> = Vec::new();
            for mask in all(bits) {
                let is_twin = |other: &Mask| masks.piece(*other) == masks.piece(mask);
                if !worn.iter().any(is_twin) {
                    worn.push(mask);
                }
            }
            worn
        };
        let mut pile = Vec::new();
        masks.shifted(&mut pile, &worn(before));
        let (start, wanted) = (pile.clone(), worn(after));
        let steps = masks.shifted(&mut pile, &wanted);
        let mut lying = start.clone();
        for step in &steps {
            match *step {
                Handled::Off(mask) => {
                    prop_assert!(masks.on_top_of(mask, &lying).next().is_none(), "{mask:?} of {lying:?}");
                    let at = lying.iter().position(|other| *other == mask);
                    lying.remove(at.unwrap());
                }
                Handled::On(mask, _) => lying.push(mask),
            }
        }
        prop_assert_eq!(&lying, &pile);
        let sorted = |mut masks: Vec<Mask>| { masks.sort_unstable(); masks };
        prop_assert_eq!(sorted(lying), sorted(wanted.clone()));
        for mask in steps.iter().filter_map(|step| match step { Handled::Off(mask) => Some(*mask), Handled::On(..) => None }) {
            let at = start.iter().position(|other| *other == mask).unwrap();
            let lies_on_one_that_leaves = start[..at].iter().any(|lower| {
                masks.overlap(mask, *lower) && steps.contains(&Handled::Off(*lower))
            });
            prop_assert!(!wanted.contains(&mask) || lies_on_one_that_leaves, "{mask:?} stays");
        }
        // Once there, nothing is left to do.
        prop_assert!(masks.shifted(&mut pile, &wanted).is_empty());
    }
}

/// A moon before a hill, both inked, both kept under plugs from a dark sky.
pub(super) fn moon_before_a_hill() -> Panel {
    let moon = thing(shape("circle", ""), 136, 150);
    let hill = thing(shape("heart", ""), 160, 190);
    let panel = scene(vec![(moon, Some(STRAW)), (hill, Some(MIST))], Some(NIGHT));
    Panel { covering: Covering::FrontFirst, ..panel }.laid()
}

#[test]
fn what_lies_under_another_is_told_and_put_right() {
    let panel = moon_before_a_hill();
    let plug = |thing: usize| Mask { thing, part: Part::Plug };
    // At the end both plugs lie there, the hill's over the moon's: the moon's first is no way.
    let lifts: Vec<usize> = (0..panel.moves.len())
        .filter(|at| [0, 1].iter().any(|thing| panel.moves[*at] == MaskOff(plug(*thing)).into()))
        .collect();
    assert_eq!(lifts.len(), 2, "{:?}", told(&panel));
    assert_eq!(panel.moves[lifts[0]], MaskOff(plug(1)).into());
    let mut moves = panel.moves.clone();
    moves.swap(lifts[0], lifts[1]);
    let turned = Panel { moves, ..panel.clone() };
    let found = check(&turned);
    assert_eq!(found.iter().map(|one| one.breach).collect::<Vec<_>>(), [Breach::UnderAnother]);
    assert!(found[0].says.contains("lies under the plug of the heart"), "{}", found[0].says);
    assert_eq!(found[0].repair(&turned.materials()), "Lift the plug of the heart first");
    assert_eq!(found[0].mended(&turned).moves, panel.moves);
}

#[test]
fn what_is_lifted_for_what_lies_beneath_it_goes_back_for_what_is_still_to_be_done() {
    let panel = moon_before_a_hill();
    let moon = Mask { thing: 0, part: Part::Plug };
    // The moon's plug drawn out before the sky is laid, from under the hill's.
    let off = panel.moves.iter().position(|m| *m == MaskOff(moon).into()).unwrap();
    let sky = panel.moves.iter().position(|m| m.laying().is_some_and(|laying| laying.on.is_none())).unwrap();
    let mut moves = panel.moves.clone();
    let lifted = moves.remove(off);
    moves.insert(sky, lifted);
    let drawn = Panel { moves, ..panel };
    let under = |panel: &Panel| check(panel).into_iter().find(|one| one.breach == Breach::UnderAnother);
    let mended = under(&drawn).unwrap().mended(&drawn);
    assert!(under(&mended).is_none(), "{:?}", told(&mended));
    assert_eq!(no_hand_can(&mended), None, "{:?}", told(&mended));
    let hill = Mask { thing: 1, part: Part::Plug };
    let times = mended.moves.iter().filter(|m| **m == MaskOn(hill).into()).count();
    assert_eq!(times, 2, "{:?}", told(&mended));
}

#[test]
fn a_stencil_half_on_a_plug_is_pressed_down_where_it_stands_off() {
    let panel = moon_before_a_hill();
    let sheet = RunSheet::of(&panel, Units::Inches);
    let frame = sheet.steps.iter().find(|step| step.title == "Put on the frame of the heart").unwrap();
    assert!(frame.how.contains("half on the plug of the circle"), "{}", frame.how);
    let first = sheet.steps.iter().find(|step| step.title == "Put on the frame of the circle").unwrap();
    assert!(!first.how.contains("half on"), "{}", first.how);
}

#[test]
fn a_plug_that_is_wanted_for_flecks_stays_where_it_lies() {
    let moon = thing(shape("circle", ""), 136, 150);
    let mut panel = scene(vec![(moon, Some(STRAW))], Some(TAR));
    panel.scene.loose = vec![Loose { keep: vec![0], ..flecks() }];
    let panel = panel.laid();
    let plug = Mask { thing: 0, part: Part::Plug };
    let count = |of: Move| panel.moves.iter().filter(|m| **m == of).count();
    assert!(panel.moves.iter().any(Technique::wets), "{:?}", told(&panel));
    assert_eq!((count(MaskOn(plug).into()), count(MaskOff(plug).into())), (1, 1), "{:?}", told(&panel));
    assert_eq!(panel.moves.last(), Some(&MaskOff(plug).into()));
    assert!(check(&panel).is_empty(), "{:?}", check(&panel));
}

/// Water flicked.
fn flecks() -> Loose {
    use rosy_core::moves::WetStep;
    use rosy_core::moves::telling::About;
    let mut about = About {
        size: (Length::from_inches(4), Length::from_inches(5)),
        units: Units::Inches,
        inks: Vec::new(),
        drawer: &[],
        things: &[],
        stencil: 0,
        has_ground: true,
    };
    Loose::begun(WetStep::begun("water", &mut about).unwrap())
}

#[test]
fn what_is_sealed_is_wiped_over_while_nothing_covers_it_and_later_ink_comes_off_it_while_it_is_wet() {
    let mut star = thing(shape("circle", ""), 136, 180);
    star.resist = Some(Powder::Clear);
    let panel = scene(vec![(star, Some(STRAW))], Some(NIGHT));
    let mut lying: Vec<Mask> = Vec::new();
    let mut at: Vec<&str> = Vec::new();
    for m in &panel.moves {
        match m {
            Move::MaskOn(on) => lying.push(on.0),
            Move::MaskOff(off) => lying.retain(|mask| *mask != off.0),
            Move::AntiStatic(_) => {
                assert!(lying.is_empty(), "{:?}", told(&panel));
                at.push("bag");
            }
            Move::Sticky(_) => at.push("sticky"),
            Move::Melt(_) => at.push("melt"),
            Move::Buff(_) => at.push("buff"),
            _ => {}
        }
    }
    assert_eq!(at[..3], ["bag", "sticky", "melt"], "{:?}", told(&panel));
    assert!(at[3..].iter().all(|what| *what == "buff") && at.len() > 3, "{at:?}");
    // From the first ink that stands on it to the cloth it is five minutes at most, but for what is done in one go.
    let (mut first, mut late) = (None, 0);
    for (count, m) in panel.moves.iter().enumerate() {
        let now = panel.after(count);
        if m.laying().is_some_and(|laying| now.goes_over_powder(laying.on)) {
            first.get_or_insert(now.seconds());
        } else if let (Move::Buff(_), Some(since)) = (m, first.take()) {
            late = late.max(now.seconds() - since);
        }
    }
    assert!(first.is_none() && late <= 420, "{late} s, {:?}", told(&panel));
    // White is dulled by each colour: no second one is laid over it before the first is wiped off.
    let mut white = panel.clone();
    white.scene.things[0].resist = Some(Powder::White);
    let inks: Vec<(usize, &Ink)> = white.inks.iter().enumerate().collect();
    white.scene.ground = vec![Blend::spread(&inks, Way::DOWN, white.height, Units::Inches)];
    let white = white.laid();
    let (mut stands, mut laid) = (None, 0);
    for (count, m) in white.moves.iter().enumerate() {
        if matches!(m, Move::Buff(_)) {
            stands = None;
        }
        if let Some(laying) = m.laying().filter(|laying| white.after(count).goes_over_powder(laying.on)) {
            assert!(stands.is_none_or(|ink| ink == laying.ink), "{:?}", told(&white));
            (stands, laid) = (Some(laying.ink), laid + 1);
        }
    }
    assert!(laid > 2 && stands.is_none(), "{laid} {:?}", told(&white));
    assert!(check(&panel).is_empty() && check(&white).is_empty(), "{:?} {:?}", check(&panel), check(&white));
}

#[test]
fn what_is_never_seen_is_said_to_be_so() {
    let small = Shape { percent: 40, ..shape("circle", "") };
    let behind = scene(
        vec![
            (thing(shape("circle", ""), 136, 180), Some(STRAW)),
            (thing(small.clone(), 136, 180), Some(TAR)),
        ],
        Some(NIGHT),
    );
    let says = unseen::told(&behind);
    assert!(says.len() == 1 && says[0].contains("stands behind the circle all over"), "{says:?}");
    let hidden = Reading::of(&behind).findings.into_iter().find(|finding| finding.rule == Rule::Hidden);
    assert_eq!(hidden.and_then(|finding| finding.on), Some(1));
    let beside = scene(
        vec![(thing(shape("circle", ""), 136, 180), Some(STRAW)), (thing(small, 40, 40), Some(TAR))],
        Some(NIGHT),
    );
    assert!(unseen::told(&beside).is_empty());
}

#[test]
fn ink_of_what_is_behind_is_told_on_a_thing_though_a_pattern_lies_over_it() {
    // The strip's pattern covers all that the disc and the heart share.
    let pattern = Thing { over: true, ..thing(shape("strip", ""), 136, 190) };
    let disc = thing(shape("circle", ""), 136, 150);
    let heart = thing(shape("heart", ""), 160, 230);
    let panel = scene(vec![(pattern, Some(MIST)), (disc, Some(STRAW)), (heart, Some(TAR))], None);
    assert!(check(&panel).is_empty(), "{:?}", check(&panel));
    let plug = Mask { thing: 1, part: Part::Plug };
    let moves: Vec<Move> = panel.moves.iter().filter(|m| m.mask() != Some(plug)).cloned().collect();
    if moves.len() < panel.moves.len() {
        let found = check(&Panel { moves, ..panel });
        assert!(found.iter().any(|one| one.breach == Breach::Printed), "{found:?}");
    } else {
        // No plug: then the dark heart was laid first, or its ink is not on the disc.
        let disc = panel.moves.iter().position(|m| m.laying().is_some_and(|laying| laying.on == Some(1)));
        let heart = panel.moves.iter().position(|m| m.laying().is_some_and(|laying| laying.on == Some(2)));
        panic!("{disc:?} {heart:?} {:?}", told(&panel));
    }
}
