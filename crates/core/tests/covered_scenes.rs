//! Scenes of things in front of one another, and the moves that make them.

use proptest::prelude::*;
use rosy_core::blend::{Blend, Way};
use rosy_core::colour::{Colour, Illuminant};
use rosy_core::ink::{Ink, Kind, Paper, Powder, Surface as Face, Tool, ToolKind};
use rosy_core::moves::{
    Breach, Move, Technique, dry::Dry, heat::Heat, mask_off::MaskOff, mask_on::MaskOn, melt::Melt, powder,
    sticky::Sticky,
};
use rosy_core::order::check::check;
use rosy_core::order::cover::{Effort, Scenery, Scheme};
use rosy_core::order::hand::{Deed, HandError, changed};
use rosy_core::order::{Cost, Covering};
use rosy_core::place::Point;
use rosy_core::scene::{Thing, Treatment};
use rosy_core::shape::kept::Figure;
use rosy_core::shape::{Cut, Drawn, Shape, family};
use rosy_core::surface::{Mask, Part};
use rosy_core::{Length, Panel, Units};

const STRAW: [f64; 3] = [84.0, 4.0, 66.0];
const NIGHT: [f64; 3] = [26.0, 12.0, -38.0];
const MIST: [f64; 3] = [91.0, -3.0, -6.0];
const TAR: [f64; 3] = [18.0, 1.0, -3.0];

fn ink(lab: [f64; 3]) -> Ink {
    Ink {
        name: format!("Ink {:.0} {:.0} {:.0}", lab[0], lab[1], lab[2]).parse().unwrap(),
        kind: Kind::Dye,
        colour: Colour::Lab(lab.into()),
        one_veil: None,
        full_veils: 7,
    }
}

fn bare() -> Panel {
    let paper = Paper {
        name: "Slack Water".parse().unwrap(),
        colour: Colour::Lab([96.5, 0.3, -1.8].into()),
        surface: Face::VerySmooth,
        thickness: Length::from_tenths_mm(3),
    };
    let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
    let (width, height) = (Length::from_64ths(272), Length::from_64ths(352));
    Panel::bare("Lamp on the groyne".parse().unwrap(), width, height, paper, tool, 1)
}

fn shape(family: &str, letters: &str) -> Shape {
    let mut drawn = Drawn::usual(family::find(family).unwrap());
    if !letters.is_empty() {
        drawn.letters = letters.into();
    }
    let name = if letters.is_empty() { family } else { letters };
    Shape::new(name.parse().unwrap(), Figure::Drawn(drawn))
}

/// A shape with its middle so many sixty-fourths from the left and the top.
fn thing(shape: Shape, left: i64, top: i64) -> Thing {
    let at = Point { left: Length::from_64ths(left), top: Length::from_64ths(top) };
    Thing { shape, at, gets: Treatment::White, over: false, resist: None }
}

/// The panel with inks, the last of them on the ground all over, and things in the inks before it, or white.
fn scene(things: Vec<(Thing, Option<[f64; 3]>)>, ground: Option<[f64; 3]>) -> Panel {
    let mut panel = bare();
    let place = |inks: &mut Vec<Ink>, lab: [f64; 3]| {
        let own = ink(lab);
        inks.iter().position(|known| *known == own).unwrap_or_else(|| {
            inks.push(own);
            inks.len() - 1
        })
    };
    if let Some(lab) = ground {
        let at = place(&mut panel.inks, lab);
        let spread = Blend::spread(&[(at, &ink(lab))], Way::DOWN, panel.height, Units::Inches);
        panel.scene.ground = vec![spread];
    }
    for (mut thing, lab) in things {
        if let Some(lab) = lab {
            let at = place(&mut panel.inks, lab);
            let size = thing.extent(&thing.shape.outline().unwrap()).size;
            let spread = Blend::spread(&[(at, &ink(lab))], Way::DOWN, Way::DOWN.span(size), Units::Inches);
            thing.gets = Treatment::Inked(vec![spread]);
        }
        panel.scene.things.push(thing);
    }
    let panel = panel.laid();
    panel.check().unwrap();
    panel
}

/// The moves in a few words: masks and dryings as they are, each run of ink as what it is laid on.
fn told(panel: &Panel) -> Vec<String> {
    let part = |mask: Mask| if mask.part == Part::Frame { "frame" } else { "plug" };
    let mut told: Vec<String> = Vec::new();
    for m in &panel.moves {
        let word = match m {
            Move::MaskOn(MaskOn(mask)) => format!("{} {} on", part(*mask), mask.thing),
            Move::MaskOff(MaskOff(mask)) => format!("{} {} off", part(*mask), mask.thing),
            Move::Take(_) | Move::Wipe(_) | Move::Look(_) => continue,
            m => match m.laying() {
                Some(laying) => laying.on.map_or("ground".into(), |thing| format!("ink {thing}")),
                None => {
                    let written = serde_json::to_value(m).unwrap();
                    written.as_object().unwrap().keys().next().unwrap().clone()
                }
            },
        };
        if told.last() != Some(&word) {
            told.push(word);
        }
    }
    told
}

fn is_clean(panel: &Panel) {
    let broken: Vec<_> = check(panel).into_iter().map(|broken| (broken.at, broken.says)).collect();
    assert!(broken.is_empty(), "{broken:?}\n{:?}", told(panel));
}

#[test]
fn a_disc_of_light_and_its_night() {
    let panel = scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT));
    let right = ["frame 0 on", "ink 0", "dry", "plug 0 on", "frame 0 off", "ground", "dry", "plug 0 off"];
    assert_eq!(told(&panel), right);
    is_clean(&panel);
    // The lamp is straw, the night is night, and nothing of the one is in the other.
    let surface = panel.surface();
    let areas = surface.areas();
    assert_eq!(areas.len(), 2);
    for area in &areas {
        assert_eq!(area.surface.inks().len(), 1);
    }
}

#[test]
fn a_word_stays_white_under_its_plug() {
    let word = shape("word", "gale");
    let counters = word.outline().unwrap().region().holes().len();
    assert!(counters > 0);
    let panel = scene(vec![(thing(word, 136, 180), None)], Some(NIGHT));
    assert_eq!(told(&panel), ["plug 0 on", "ground", "dry", "plug 0 off"]);
    is_clean(&panel);
    let bare = panel.surface().areas().into_iter().filter(|area| area.surface.coats.is_empty());
    let kept: f64 = bare.filter_map(|area| area.region).map(|region| region.area()).sum();
    let word = &panel.materials().masks.things[0];
    assert!((kept - word.inside.area()).abs() < 1e-4 * kept, "{kept}");
    assert_eq!(word.counters, counters);
}

/// What is done to seal a thing.
const SEALED: [&str; 6] = ["anti-static", "sticky", "frame 0 off", "powder", "melt", "cool"];

#[test]
fn trapped_colour_stays_bright_under_the_dark() {
    let mut star = thing(shape("circle", ""), 136, 180);
    star.resist = Some(Powder::Clear);
    let panel = scene(vec![(star, Some(STRAW))], Some(NIGHT));
    let right = [&["frame 0 on", "ink 0", "dry"][..], &SEALED, &["ground", "dry", "buff"]].concat();
    assert_eq!(told(&panel), right);
    is_clean(&panel);
    assert!(looks_as_wanted(&panel, &panel.surface()));
}

#[test]
fn cells_in_resist_take_one_mask_for_all() {
    let mut cells = thing(Shape { percent: 60, ..shape("honeycomb", "") }, 136, 180);
    cells.resist = Some(Powder::White);
    let panel = scene(vec![(cells, None)], Some(NIGHT));
    let right = [&["frame 0 on"][..], &SEALED, &["ground", "dry", "buff"]].concat();
    assert_eq!(told(&panel), right);
    assert_eq!(Cost::of(&panel.moves, &panel.materials()).pieces, 1);
    is_clean(&panel);
    // The line is the powder's own white, whatever went over it.
    let surface = panel.surface();
    let sealed: Vec<_> = surface.areas().into_iter().filter(|area| area.surface.under.is_some()).collect();
    assert_eq!(sealed.len(), 1);
    let lab = sealed[0].surface.stack(&[], |_| 1.0).lab(Illuminant::D65);
    assert!(lab.l > 94.0, "{lab:?}");
}

#[test]
fn a_pattern_goes_through_its_stencil_over_the_ground() {
    let waves = Thing { over: true, ..thing(Shape { percent: 80, ..shape("waves", "") }, 136, 180) };
    let panel = scene(vec![(waves, Some(NIGHT))], Some(MIST));
    assert_eq!(told(&panel), ["ground", "dry", "frame 0 on", "ink 0", "dry", "frame 0 off"]);
    is_clean(&panel);
    assert!(looks_as_wanted(&panel, &panel.surface()));
}

#[test]
fn hills_with_a_patterned_sky_above() {
    let hill = (thing(shape("strip", ""), 136, 330), Some([40.0, -30.0, 20.0]));
    let stars = Thing { over: true, ..thing(Shape { percent: 70, ..shape("stars", "") }, 136, 200) };
    let panel = scene(vec![hill, (stars, Some(NIGHT))], Some([70.0, 20.0, -20.0]));
    let told = told(&panel);
    let at = |what: &str| told.iter().position(|word| word == what).unwrap();
    assert!(at("ground") < at("ink 1"), "{told:?}");
    is_clean(&panel);
    assert!(looks_as_wanted(&panel, &panel.surface()));
}

#[test]
fn much_darker_in_front_needs_no_plug() {
    let hill = thing(shape("strip", ""), 136, 330);
    let mut panel = scene(vec![(hill.clone(), Some(TAR))], Some(MIST));
    panel.scene.ground[0].fields[0].veils = 1;
    let panel = panel.laid();
    assert_eq!(told(&panel), ["ground", "dry", "frame 0 on", "ink 0", "dry", "frame 0 off"]);
    is_clean(&panel);
    // At its full strength the mist would make the tar take less well, and a hill of the mist's own depth in another hue would show what lies under it.
    let near = scene(vec![(hill, Some([72.0, -30.0, 30.0]))], Some(MIST));
    assert!(told(&near).contains(&"plug 0 on".to_string()), "{:?}", told(&near));
    is_clean(&near);
}

#[test]
fn hills_one_behind_the_other_before_a_sky() {
    let hills = vec![
        (thing(shape("strip", ""), 136, 336), Some([40.0, -30.0, 20.0])),
        (thing(shape("strip", ""), 136, 310), Some([60.0, -36.0, 30.0])),
    ];
    let panel = scene(hills, Some([70.0, 40.0, 20.0]));
    is_clean(&panel);
    let surface = panel.surface();
    // Each place has the ink of what stands in front there and no other.
    for plot in &panel.materials().masks.plots {
        let [x, y] = plot.region.heart().unwrap();
        let here = surface.of_plot(plot);
        let veils = here.by_ink(&here.veils_at(&here.spot(x, y)));
        let most = (0..veils.len()).max_by(|a, b| veils[*a].total_cmp(&veils[*b])).unwrap();
        let wanted = match plot.front() {
            None => panel.scene.ground[0].fields[0].ink,
            Some(thing) => panel.scene.things[thing].blends()[0].fields[0].ink,
        };
        assert_eq!(most, wanted, "{:?}", plot.front());
    }
}

#[test]
fn a_halo_is_left_white_round_what_it_is_cut_for() {
    let wide = Length::from_64ths(4);
    let lamp = Shape { cut: Cut::Halo(wide), ..shape("circle", "") };
    let panel = scene(vec![(thing(lamp, 136, 110), Some(STRAW))], Some(NIGHT));
    is_clean(&panel);
    let white: f64 = panel
        .surface()
        .areas()
        .into_iter()
        .filter(|area| area.surface.coats.is_empty())
        .filter_map(|area| area.region)
        .map(|region| region.area())
        .sum();
    let ring = std::f64::consts::PI * ((25.4 + wide.mm()).powi(2) - 25.4_f64.powi(2));
    assert!((white / ring - 1.0).abs() < 0.01, "{white} {ring}");
    // The plug is larger than the hole: the frame cannot be its jig and goes first.
    let told = told(&panel);
    let at = |what: &str| told.iter().position(|word| word == what).unwrap();
    assert!(at("frame 0 off") < at("plug 0 on"));
}

#[test]
fn what_was_done_stays_done_and_the_rest_follows() {
    let panel = scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT));
    let steps = rosy_core::panel::steps_in(&panel.moves);
    for done in 0..=steps + 2 {
        let begun = Panel { done, ..panel.clone() };
        assert_eq!(begun.clone().laid(), begun, "{done}");
        let mut deeper = begun.clone();
        deeper.scene.ground[0].fields[0].veils += 1;
        let deeper = deeper.laid();
        assert_eq!(deeper.made(), begun.made(), "{done}");
        is_clean(&deeper);
    }
}

/// Some things in some inks, in front of a ground.
fn some_scene(most: usize) -> BoxedStrategy<Panel> {
    let lab = prop_oneof![
        Just(STRAW),
        Just(NIGHT),
        Just(MIST),
        Just(TAR),
        Just([60.0, 55.0, 5.0]),
        Just([58.0, -34.0, 34.0]),
    ]
    .boxed();
    let place = (20_i64..250, 20_i64..330);
    let resist = proptest::option::weighted(0.25, Just(Powder::Clear));
    let one = (
        place,
        0_usize..3,
        proptest::option::weighted(0.8, lab.clone()),
        55_u16..110,
        (resist, proptest::bool::weighted(0.2)),
    );
    (proptest::collection::vec(one, 1..=most), proptest::option::weighted(0.9, lab))
        .prop_map(|(things, ground)| {
            let things = things.into_iter().map(|((left, top), kind, lab, percent, (resist, over))| {
                let shape = Shape { percent, ..shape(["circle", "heart", "strip"][kind], "") };
                (Thing { resist, over, ..thing(shape, left, top) }, lab)
            });
            scene(things.collect(), ground)
        })
        .boxed()
}

/// Every order of what is laid.
fn orders(laid: &[Option<usize>]) -> Vec<Vec<Option<usize>>> {
    match laid {
        [] => vec![Vec::new()],
        _ => (0..laid.len())
            .flat_map(|at| {
                let mut rest = laid.to_vec();
                let first = rest.remove(at);
                orders(&rest).into_iter().map(move |rest| [vec![first], rest].concat())
            })
            .collect(),
    }
}

/// Whether the moves of a scheme leave every thing in its own colours, by the surface itself.
fn comes_out(panel: &Panel, scheme: &Scheme) -> bool {
    let mut surface = rosy_core::surface::Surface::bare(panel.materials());
    let materials = panel.materials();
    let scenery = Scenery::of(&panel.scene, &materials);
    for (on, wearing) in scenery.worn(scheme) {
        surface.masks.clear();
        for thing in 0..panel.scene.things.len() {
            for (bits, part) in [(wearing.plugs, Part::Plug), (wearing.frames, Part::Frame)] {
                if bits & (1 << thing) != 0 {
                    surface.cover_with(Mask { thing, part });
                }
            }
        }
        for m in panel.moves.iter().filter(|m| m.laying().is_some_and(|laying| laying.on == on)) {
            m.make(&mut surface);
        }
        if let Some((thing, kind)) = on.and_then(|thing| Some((thing, panel.scene.things[thing].resist?))) {
            Sticky { thing }.act(&mut surface);
            powder::Powder { kind }.act(&mut surface);
            Melt {}.act(&mut surface);
        }
    }
    surface.masks.clear();
    looks_as_wanted(panel, &surface)
}

/// Whether each place looks as what stands in front there does by itself.
fn looks_as_wanted(panel: &Panel, surface: &rosy_core::surface::Surface) -> bool {
    let materials = panel.materials();
    materials.masks.plots.iter().all(|plot| {
        // What stands in front there, but for patterns; then those, the hindmost first.
        let things = (0..panel.scene.things.len()).filter(|thing| plot.is_inside(*thing));
        let is_pattern = |thing: &usize| panel.scene.things[*thing].is_printed();
        let front = things.clone().find(|thing| !is_pattern(thing));
        let patterns = things.filter(|thing| is_pattern(thing) && front.is_none_or(|front| *thing < front));
        // On what is sealed no ink takes.
        let is_sealed = |thing: usize| panel.scene.things[thing].resist.is_some();
        let mut seen: Vec<Option<usize>> = vec![front];
        for pattern in patterns.rev() {
            if seen.last().copied().flatten().is_some_and(is_sealed) {
                break;
            }
            seen.push(Some(pattern));
        }
        let mut alone = rosy_core::surface::Surface::bare(materials.clone());
        for on in seen {
            let own = panel.moves.iter().filter(|m| m.laying().is_some_and(|laying| laying.on == on));
            own.for_each(|m| m.make(&mut alone));
        }
        let here = surface.of_plot(plot);
        plot.region.places().into_iter().all(|[x, y]| {
            let [seen, wanted] = [&here, &alone].map(|surface| {
                surface.stack(&surface.veils_at(&surface.spot(x, y)), |_| 1.0).lab(Illuminant::D65)
            });
            seen.difference(wanted) <= 1.0
        })
    })
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(40) })]

    #[test]
    fn plots_tile_the_panel(panel in some_scene(6)) {
        let materials = panel.materials();
        let sum: f64 = materials.masks.plots.iter().map(|plot| plot.region.area()).sum();
        let (width, height) = materials.size_mm();
        prop_assert!((sum / (width * height) - 1.0).abs() < 1e-4, "{sum}");
        let seen = |on| materials.masks.seen(on).map(|plot| plot.region.area()).sum::<f64>();
        let visible: f64 = seen(None) + (0..panel.scene.things.len()).map(|thing| seen(Some(thing))).sum::<f64>();
        prop_assert!((visible / (width * height) - 1.0).abs() < 1e-4, "{visible}");
    }

    #[test]
    fn every_way_to_cover_it_breaks_no_rule_and_looks_the_same(panel in some_scene(4)) {
        let laid = |covering| Panel { covering, moves: Vec::new(), ..panel.clone() }.laid();
        let all = Covering::ALL.map(laid);
        for panel in &all {
            prop_assert!(looks_as_wanted(panel, &panel.surface()), "{:?}", told(panel));
            let broken: Vec<_> = check(panel).into_iter().map(|broken| broken.says).collect();
            prop_assert!(broken.is_empty(), "{:?} {broken:?} {:?}", panel.covering, told(panel));
        }
        let surfaces = all.each_ref().map(Panel::surface);
        for plot in &panel.materials().masks.plots {
            for [x, y] in plot.region.places() {
                let seen = surfaces.each_ref().map(|surface| {
                    let here = surface.of_plot(plot);
                    here.stack(&here.veils_at(&here.spot(x, y)), |_| 1.0).lab(Illuminant::D65)
                });
                prop_assert!(seen[0].difference(seen[1]) <= 1.0 && seen[1].difference(seen[2]) <= 1.0, "{seen:?}");
            }
        }
    }

    #[test]
    fn no_other_order_takes_less(panel in some_scene(4)) {
        let materials = panel.materials();
        let scenery = Scenery::of(&panel.scene, &materials);
        let found = scenery.scheme(Covering::Fewest);
        let least = scenery.effort(&found);
        prop_assert!(comes_out(&panel, &found), "{found:?}");
        // What is counted is what is done.
        let cost = Cost::of(&panel.moves, &materials);
        prop_assert_eq!((cost.pieces, cost.dryings), (least.pieces, least.dryings.max(cost.dryings.min(1))));
        let inked = (0..panel.scene.things.len()).filter(|thing| panel.scene.things[*thing].is_made()).map(Some);
        let has_ground = panel.scene.ground.iter().any(|blend| !blend.fields.is_empty());
        let laid: Vec<Option<usize>> = inked.chain(has_ground.then_some(None)).collect();
        let things = panel.scene.things.len();
        for order in orders(&laid) {
            for choice in 0..1_u32 << things {
                let plugs = (0..things).filter(|thing| choice & (1 << thing) != 0).collect();
                let other = Scheme { order: order.clone(), plugs };
                let effort: Effort = scenery.effort(&other);
                prop_assert!(effort >= least || !comes_out(&panel, &other), "{other:?} {effort:?} {found:?} {least:?}");
            }
        }
    }
}

/// Moves that break a rule, and the rule.
fn broken() -> Vec<(Breach, Panel)> {
    let panel = scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT));
    let changed = |change: &dyn Fn(&mut Vec<Move>)| {
        let mut moves = panel.moves.clone();
        change(&mut moves);
        Panel { moves, ..panel.clone() }
    };
    let at = |of: &dyn Fn(&Move) -> bool| panel.moves.iter().position(of).unwrap();
    let (plug, frame) = (Mask { thing: 0, part: Part::Plug }, Mask { thing: 0, part: Part::Frame });
    let first_dry = at(&|m| matches!(m, Move::Dry(_)));
    let last_dry = panel.moves.iter().rposition(|m| matches!(m, Move::Dry(_))).unwrap();
    let wipe = panel.moves.iter().position(|m| matches!(m, Move::Wipe(_)));
    let mut all = vec![
        (Breach::MaskOnDamp, changed(&|moves| drop(moves.remove(first_dry)))),
        (Breach::LiftedDamp, changed(&|moves| drop(moves.remove(last_dry)))),
        (Breach::HeatOnMask, changed(&|moves| moves[last_dry] = Heat {}.into())),
        (Breach::NoSuchMask, changed(&|moves| moves.push(MaskOff(plug).into()))),
        (Breach::NoSuchMask, changed(&|moves| moves.insert(1, MaskOn(frame).into()))),
        (Breach::LeftOn, changed(&|moves| drop(moves.pop()))),
        (Breach::NoFrame, changed(&|moves| moves.retain(|m| m.mask() != Some(frame)))),
        (Breach::Printed, changed(&|moves| moves.retain(|m| m.mask() != Some(plug)))),
        (
            Breach::AllCovered,
            changed(&|moves| {
                let off = moves.iter().position(|m| *m == MaskOff(frame).into()).unwrap();
                moves.remove(off);
                let end = moves.len();
                moves.insert(end, MaskOff(frame).into());
            }),
        ),
    ];
    let mut star = thing(shape("circle", ""), 136, 180);
    star.resist = Some(Powder::Clear);
    let trapped = scene(vec![(star, Some(STRAW))], Some(NIGHT));
    let without = |of: &dyn Fn(&Move) -> bool| {
        let at = trapped.moves.iter().position(of).unwrap();
        let moves = [&trapped.moves[..at], &trapped.moves[at + 1..]].concat();
        Panel { moves, ..trapped.clone() }
    };
    let frame_off = Move::from(MaskOff(frame));
    all.extend([
        (Breach::NotBoneDry, without(&|m| matches!(m, Move::Dry(_)))),
        (Breach::NoAntiStatic, without(&|m| matches!(m, Move::AntiStatic(_)))),
        (Breach::NothingSticky, without(&|m| matches!(m, Move::Sticky(_)))),
        (Breach::NotMelted, without(&|m| matches!(m, Move::Melt(_)))),
        (Breach::Hot, without(&|m| matches!(m, Move::Cool(_)))),
        (Breach::HeatOnMask, without(&|m| *m == frame_off)),
    ]);
    all.extend(wipe.map(|at| (Breach::DirtyBrush, changed(&|moves| drop(moves.remove(at))))));
    all
}

#[test]
fn every_rule_is_told_where_it_is_broken_and_its_repair_puts_it_right() {
    for (breach, panel) in broken() {
        panel.check().unwrap();
        let mut panel = panel;
        let found = check(&panel);
        assert!(
            found.iter().any(|broken| broken.breach == breach),
            "{breach:?}: {found:?} {:?}",
            told(&panel)
        );
        // One repair after the other, the rule's own first.
        for _ in 0..12 {
            let found = check(&panel);
            let Some(next) = found.iter().find(|one| one.breach == breach).or(found.first()) else { break };
            panel = next.mended(&panel);
        }
        let left: Vec<_> = check(&panel).into_iter().map(|broken| (broken.breach, broken.at)).collect();
        assert!(left.is_empty(), "{breach:?}: {left:?} {:?}", told(&panel));
    }
}

#[test]
fn rules_do_not_fire_where_they_are_just_kept() {
    // Dye is touch dry after a minute in air: a look that takes as long does as well as drying.
    let panel = scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT));
    let mut moves = panel.moves.clone();
    let plug = moves.iter().position(|m| *m == MaskOn(Mask { thing: 0, part: Part::Plug }).into()).unwrap();
    // Heat once the last mask is off is no harm.
    moves.push(Heat {}.into());
    is_clean(&Panel { moves: moves.clone(), ..panel.clone() });
    // Dried twice is dry.
    moves.insert(plug, Dry {}.into());
    is_clean(&Panel { moves, ..panel });
}

/// The place of the first move that is one of some.
fn first(panel: &Panel, of: impl Fn(&Move) -> bool) -> usize {
    panel.moves.iter().position(of).unwrap()
}

#[test]
fn an_order_of_the_makers_own_stands_while_it_lays_what_is_wanted() {
    let panel = scene(vec![(thing(shape("circle", ""), 136, 110), Some(STRAW))], Some(NIGHT));
    let dry = first(&panel, |m| matches!(m, Move::Dry(_)));
    // Left out, it is told what that breaks, and one press puts it right.
    let broken = changed(&panel, dry, Deed::Out).unwrap();
    assert!(broken.by_hand && broken.clone().laid() == broken);
    let found = check(&broken);
    assert!(found.iter().any(|one| one.breach == Breach::MaskOnDamp), "{found:?}");
    let mended = changed(&broken, 0, Deed::Mend(0)).unwrap();
    assert_eq!(told(&mended), told(&panel));
    is_clean(&mended);
    // A step that lays ink cannot be left out, nor one that is done be moved.
    let ink = first(&panel, |m| m.laying().is_some());
    assert_eq!(changed(&panel, ink, Deed::Out), Err(HandError::Ink));
    let begun = Panel { done: 4, ..panel.clone() };
    assert_eq!(changed(&begun, ink, Deed::Later), Err(HandError::Done));
    // Earlier and later again is as it was.
    let later = changed(&panel, ink, Deed::Later).unwrap();
    assert_ne!(told(&later), Vec::<String>::new());
    let back = changed(&later, first(&later, |m| m.laying().is_some()), Deed::Earlier);
    assert!(back.is_ok());
    // Where another ink is wanted, the program plans again.
    let mut deeper = broken;
    deeper.scene.ground[0].fields[0].veils += 1;
    let deeper = deeper.laid();
    assert!(!deeper.by_hand);
    is_clean(&deeper);
}
