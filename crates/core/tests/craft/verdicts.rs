//! What is said of a panel is so of that panel: no advice that is followed already, no fade where nothing fades.

use rosy_core::Panel;
use rosy_core::blend::Blend;
use rosy_core::judgement::{Finding, Reading, Rule};
use rosy_core::scene::Thing;

use super::covered_scenes::{MIST, NIGHT, STRAW, TAR, scene, shape, thing};

fn findings(panel: &Panel, rule: Rule) -> Vec<Finding> {
    Reading::of(panel).findings.into_iter().filter(|finding| finding.rule == rule).collect()
}

/// The ground's ink fading from the middle of the panel on.
fn fading(panel: &Panel) -> Panel {
    let mut panel = panel.clone();
    let half = panel.height / 2;
    let field = &mut panel.scene.ground[0].fields[0];
    (field.full_to, field.ends) = (half, half + half / 2);
    panel.laid()
}

#[test]
fn a_strong_ink_is_told_where_it_fades_and_not_where_it_goes_all_over() {
    let mut strong = scene(Vec::new(), Some(NIGHT));
    strong.inks[0].full_veils = 2;
    let strong = strong.laid();
    assert!(findings(&strong, Rule::Strong).is_empty(), "{:?}", findings(&strong, Rule::Strong));
    let told = findings(&fading(&strong), Rule::Strong);
    assert!(told.len() == 1 && told[0].says.contains("cannot fade gently"), "{told:?}");
}

#[test]
fn a_hard_stop_is_said_to_be_on_bare_card_only_where_it_is() {
    // Laid full to a line, on the ground itself and on a strip printed over it.
    let stops = |blend: &mut Blend| {
        let field = &mut blend.fields[0];
        (field.full_to, field.ends) = (field.ends / 2, field.ends / 2 + rosy_core::Length::from_64ths(1));
        field.veils = 5;
    };
    let mut bare = scene(Vec::new(), Some(TAR));
    stops(&mut bare.scene.ground[0]);
    let told = findings(&bare.laid(), Rule::HardEdge);
    assert!(told.iter().any(|finding| finding.says.ends_with("on bare card.")), "{told:?}");
    let strip = Thing { over: true, ..thing(shape("circle", ""), 136, 180) };
    let mut over = scene(vec![(strip, Some(TAR))], Some(MIST));
    stops(&mut over.scene.things[0].blends_mut()[0]);
    let told = findings(&over.laid(), Rule::HardEdge);
    assert!(!told.is_empty() && told.iter().all(|finding| !finding.says.contains("bare card")), "{told:?}");
}

#[test]
fn what_hardly_shows_is_never_advised_the_ink_it_is_in() {
    // On a ground as pale as it is there is no other ink that would do.
    let faint = scene(vec![(thing(shape("circle", ""), 136, 180), Some(MIST))], Some([93.0, -3.0, -5.0]));
    let told = findings(&faint, Rule::Faint);
    assert!(told.len() == 1, "{told:?}");
    let own = &faint.inks[faint.scene.things[0].blends()[0].fields[0].ink].name;
    assert!(!told[0].says.contains(own.as_str()), "{told:?}");
    // With straw on the panel that is what is advised.
    let small = thing(shape("circle", ""), 30, 30);
    let with = scene(
        vec![(thing(shape("circle", ""), 136, 180), Some(MIST)), (small, Some(STRAW))],
        Some([93.0, -3.0, -5.0]),
    );
    let told = findings(&with, Rule::Faint);
    let told = told.iter().find(|finding| finding.on == Some(0)).unwrap();
    let straw = &with.inks[with.scene.things[1].blends()[0].fields[0].ink].name;
    assert!(told.says.contains(straw.as_str()), "{told:?}");
}

#[test]
fn a_thing_whose_ink_fades_downwards_is_judged_by_its_inked_edge() {
    // A dark hill, inked along its upper edge and fading out long before its foot: it shows in plain view.
    let mut hill = scene(vec![(thing(shape("hill-line", ""), 136, 180), Some(TAR))], Some(MIST));
    let blend = &mut hill.scene.things[0].blends_mut()[0];
    let field = &mut blend.fields[0];
    (field.full_to, field.ends) = (field.ends / 8, field.ends / 4);
    let hill = hill.laid();
    assert!(findings(&hill, Rule::Faint).is_empty(), "{:?}", findings(&hill, Rule::Faint));
}
