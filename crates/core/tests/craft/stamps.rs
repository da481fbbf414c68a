//! Things that are stamped: nothing lies round them, and they come last, over what has dried.

use rosy_core::ink::Powder;
use rosy_core::moves::{Breach, Move, Technique};
use rosy_core::order::RunSheet;
use rosy_core::order::check::check;
use rosy_core::order::pieces::taken;
use rosy_core::scene::Thing;
use rosy_core::shape::Use;
use rosy_core::surface::Hard;
use rosy_core::{Panel, Units};

use super::covered_scenes::{MIST, NIGHT, STRAW, scene, shape, thing, told};

fn stamped(family: &str, letters: &str) -> Thing {
    let mut stamped = thing(shape(family, letters), 136, 176);
    stamped.shape.used = Use::Stamp;
    Thing { over: true, ..stamped }
}

#[test]
fn a_text_is_stamped_over_a_dry_ground_with_nothing_round_it() {
    let panel = scene(vec![(stamped("word", "gale"), Some(NIGHT))], Some(MIST));
    let right = ["ground", "dry", "ink 0", "dry"];
    assert_eq!(told(&panel), right);
    assert_eq!(check(&panel), []);
    assert!(taken(&panel.moves, &panel.materials()).iter().all(|pieces| pieces.count() == 0));
    // One print, by no brush, and within its letters alone.
    let prints: Vec<&Move> =
        panel.moves.iter().filter(|m| m.laying().is_some_and(|laying| laying.on == Some(0))).collect();
    assert!(matches!(prints.as_slice(), [Move::Print(_)]) && prints[0].brushed().is_none());
    let surface = panel.surface();
    let printed: f64 = surface
        .areas()
        .iter()
        .filter(|area| area.surface.coats.iter().any(|coat| coat.skims == Some(0)))
        .map(|area| area.region.as_ref().unwrap().area())
        .sum();
    let letters = panel.materials().masks.things[0].area();
    assert!((printed / letters - 1.0).abs() < 0.01, "{printed} of {letters}");
    // On damp ink it is refused, and put right.
    let mut damp = panel.clone();
    let at = damp.moves.iter().position(|m| matches!(m, Move::Print(_))).unwrap();
    damp.moves.remove(at - 1);
    let broken = check(&damp);
    assert_eq!(broken.iter().map(|one| one.breach).collect::<Vec<_>>(), [Breach::PadOnDamp]);
    assert_eq!(check(&broken[0].mended(&damp)), []);
}

#[test]
fn how_it_is_pressed_goes_by_how_strong_it_is_wanted() {
    let how = |veils: u8| {
        let mut panel = scene(vec![(stamped("heart", ""), Some(NIGHT))], Some(MIST));
        panel.scene.things[0].blends_mut()[0].fields[0].veils = veils;
        let panel = Panel { moves: Vec::new(), ..panel }.laid();
        let steps = RunSheet::of(&panel, Units::Inches).steps;
        steps.into_iter().find(|step| step.title.starts_with("Stamp the heart")).unwrap().how
    };
    assert!(how(2).contains("second print is pale") && how(4).contains("Press it down once"));
    assert!(how(7).contains("once more on the same place"));
}

#[test]
fn lines_are_stamped_in_powder_over_a_finished_blend() {
    for powder in [Powder::White, Powder::Clear] {
        let lines = Thing { resist: Some(powder), ..stamped("waves", "") };
        let panel = scene(vec![(lines, None)], Some(STRAW));
        let told = told(&panel);
        let place = |word: &str| {
            told.iter().position(|one| one == word).unwrap_or_else(|| panic!("{word}: {told:?}"))
        };
        // The blend is finished and dry; then the bag, sticky ink on a stamp, powder, heat.
        let order = ["ground", "dry", "anti-static", "sticky", "powder", "melt", "cool"].map(place);
        assert!(order.is_sorted(), "{told:?}");
        assert_eq!(told.last().map(String::as_str), Some("cool"), "nothing is left to dry");
        assert!(!told.iter().any(|one| one.contains("frame")), "{told:?}");
        assert_eq!(check(&panel), []);
        // What it lies over is under it.
        let areas = panel.surface().areas();
        let on_it = areas.iter().find(|area| area.surface.under.is_some()).unwrap();
        assert!(matches!(on_it.surface.under.unwrap().of, Hard::Powder(of) if of == powder));
        assert!(!on_it.surface.coats.is_empty());
    }
}

#[test]
fn a_stamp_on_bare_card_is_covered_by_a_plug_while_what_is_behind_is_laid() {
    let leaf = Thing { over: false, ..stamped("heart", "") };
    let panel = scene(vec![(leaf, Some(STRAW))], Some(NIGHT));
    assert_eq!(told(&panel), ["ink 0", "dry", "plug 0 on", "ground", "dry", "plug 0 off"]);
    assert_eq!(check(&panel), []);
}
