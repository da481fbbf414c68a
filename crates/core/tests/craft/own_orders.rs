//! An order of the maker's own, when something else is wanted.

use proptest::prelude::*;
use rosy_core::blend::Way;
use rosy_core::moves::{Move, Technique};
use rosy_core::order::check::check;
use rosy_core::order::hand::{ByHand, changed};
use rosy_core::scene::{Loose, Thing};
use rosy_core::{Length, Panel, Units};

use super::covered_scenes::{MIST, NIGHT, STRAW, scene, shape, some_scene, thing, told};

fn moon_at_night() -> Panel {
    scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT))
}

fn place(panel: &Panel, of: impl Fn(&Move) -> bool) -> usize {
    panel.moves.iter().position(of).unwrap()
}

fn is_dry(m: &Move) -> bool {
    matches!(m, Move::Dry(_))
}

/// The moon moved by an eighth of an inch.
fn moved(panel: &Panel) -> Panel {
    let mut things: Vec<(Thing, Option<usize>)> =
        panel.scene.things.iter().cloned().zip((0..).map(Some)).collect();
    things[0].0.at.left += Length::from_64ths(8);
    panel.clone().with_things(things)
}

#[test]
fn what_she_put_in_and_left_out_stays_when_a_shape_is_moved_or_an_ink_exchanged() {
    let planned = moon_at_night();
    let ground = place(&planned, |m| m.laying().is_some_and(|laying| laying.on.is_none()));
    let own = changed(&planned, ground, ByHand::DryBefore).unwrap();
    let dry = place(&own, is_dry);
    let own = changed(&own, dry, ByHand::Out).unwrap();
    assert_ne!(told(&own), told(&planned));
    let other = {
        let mut inks: Vec<_> = vec![(own.inks[1].clone(), None)];
        inks[0].0.name = "Other".parse().unwrap();
        own.clone().choosing(0, inks, Units::Inches)
    };
    for after in [moved(&own), other] {
        assert!(!after.by_hand);
        let kept = after.in_the_order_of(&own);
        assert!(kept.by_hand && kept.gave.is_empty(), "{:?}", kept.gave);
        assert_eq!(told(&kept), told(&own));
        assert_eq!(kept.clone().laid(), kept, "it stands");
    }
}

#[test]
fn a_step_put_elsewhere_stays_before_what_it_stood_before() {
    let moon = thing(shape("circle", ""), 80, 90);
    let star = thing(shape("heart", ""), 200, 280);
    let planned = scene(vec![(moon, Some(STRAW)), (star, Some(MIST))], Some(NIGHT));
    // The second is inked first.
    let first = |panel: &Panel, on: usize| place(panel, |m| m.laying().is_some_and(|l| l.on == Some(on)));
    let is_second_first = first(&planned, 1) < first(&planned, 0);
    let (early, late) = if is_second_first { (1, 0) } else { (0, 1) };
    let mut own = planned.clone();
    for _ in 0..30 {
        let at = place(&own, |m| m.laying().is_some_and(|l| l.on == Some(late)));
        if at < first(&own, early) {
            break;
        }
        own = changed(&own, at, ByHand::Earlier).unwrap();
    }
    let kept = moved(&own).in_the_order_of(&own);
    assert!(kept.by_hand && first(&kept, late) < first(&kept, early), "{:?}", told(&kept));
    // One pass more of the ground leaves it so too.
    let mut deeper = own.clone();
    deeper.scene.ground[0].fields[0].veils += 1;
    let kept = deeper.laid().in_the_order_of(&own);
    assert!(kept.by_hand && first(&kept, late) < first(&kept, early), "{:?}", told(&kept));
}

#[test]
fn water_comes_in_beside_her_order_and_what_cannot_be_kept_is_told() {
    let planned = moon_at_night();
    let ground = place(&planned, |m| m.laying().is_some_and(|laying| laying.on.is_none()));
    let own = changed(&planned, ground, ByHand::DryBefore).unwrap();
    let mut scene = own.scene.clone();
    scene.loose.push(Loose::last(rosy_core::moves::mist::Mist { pumps: 2 }));
    let kept = own.clone().with_scene(scene).in_the_order_of(&own);
    assert!(kept.by_hand && kept.moves.iter().any(|m| matches!(m, Move::Mist(_))), "{:?}", told(&kept));
    let dryings = |panel: &Panel| {
        told(panel).iter().take_while(|one| *one != "ground").filter(|one| *one == "dry").count()
    };
    assert_eq!(dryings(&kept), dryings(&own));
    // The moon goes, and with it what she did about its masks.
    let own =
        changed(&planned, place(&planned, |m| matches!(m, Move::MaskOff(_))), ByHand::DryBefore).unwrap();
    let bare = own.clone().with_things(Vec::new()).in_the_order_of(&own);
    assert_eq!(check(&bare), []);
    // Left out, the moon's frame would be missing for a moon that is asked for anew.
    let out = changed(&planned, place(&planned, |m| matches!(m, Move::MaskOn(_))), ByHand::Out).unwrap();
    let broken = check(&out).len();
    assert!(broken > 0);
    let after = moved(&out).in_the_order_of(&out);
    assert!(check(&after).len() <= broken);
}

#[test]
fn a_plan_of_the_program_s_own_is_left_alone() {
    let planned = moon_at_night();
    let after = moved(&planned);
    assert_eq!(after.clone().in_the_order_of(&planned), after);
    let turned = planned.clone().turned(0, Way::UP, Units::Inches);
    assert_eq!(turned.clone().in_the_order_of(&planned), turned);
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(24) })]

    /// Whatever she did to the steps of whatever scene: planned anew for the same, her order comes out as it was, as long as it
    /// is possible at all; for something else it is laid as wanted and breaks no more than it broke.
    #[test]
    fn her_order_comes_out_as_it_was_and_never_breaks_more(
        panel in some_scene(3),
        deeds in prop::collection::vec((0_usize..1_000, 0_u8..4), 1..5),
    ) {
        let mut own = panel;
        for (at, deed) in deeds {
            let deed = [ByHand::Earlier, ByHand::Later, ByHand::Out, ByHand::DryBefore][usize::from(deed)];
            if let Ok(changed) = changed(&own, at % own.moves.len().max(1), deed) {
                own = changed;
            }
        }
        prop_assume!(own.by_hand && own.check().is_ok() && own.clone().laid() == own);
        let anew = Panel { by_hand: false, moves: Vec::new(), ..own.clone() }.laid();
        let kept = anew.in_the_order_of(&own);
        prop_assert_eq!(&kept.gave, &own.gave);
        prop_assert_eq!(told(&kept), told(&own));
        if let Some(blend) = own.scene.ground.first().filter(|blend| !blend.fields.is_empty()) {
            let mut deeper = own.clone();
            deeper.scene.ground[0] = blend.clone();
            deeper.scene.ground[0].fields[0].veils += 1;
            let deeper = Panel { moves: Vec::new(), ..deeper }.laid();
            let kept = deeper.clone().in_the_order_of(&own);
            prop_assert_eq!(kept.check(), Ok(()));
            prop_assert_eq!(kept.clone().laid(), kept.clone());
            prop_assert!(check(&kept).len() <= check(&own).len().max(check(&deeper).len()));
        }
    }
}
