//! Drawn panels: flat fields measure what was predicted, joins are where they were planned, and the
//! same plan gives the same picture.

use rosy_core::blend::{Blend, Field, Way};
use rosy_core::colour::{Colour, Illuminant, Lab};
use rosy_core::ink::{Finish, Ink, Kind, Paper, Tool, ToolKind};
use rosy_core::moves::Technique;
use rosy_core::picture::{Picture, Size, draw};
use rosy_core::{Length, Panel, Units};

fn ink(name: &str, kind: Kind, lab: [f64; 3]) -> Ink {
    let colour = Colour::Lab(lab.into());
    Ink { name: name.parse().unwrap(), kind, colour, one_veil: None, full_veils: 7, on_ink: None }
}

fn bare(surface: Finish, kind: ToolKind) -> Panel {
    let thickness = Length::from_tenths_mm(3);
    let paper = Paper { thickness, ..Paper::plain(surface) };
    let tool = Tool::one("Dome".parse().unwrap(), kind);
    let (width, height) = (Length::from_64ths(4 * 64 + 16), Length::from_64ths(5 * 64 + 32));
    Panel::bare("A flat field".parse().unwrap(), width, height, paper, tool, 11)
}

fn flat(kind: Kind, lab: [f64; 3], veils: u8, surface: Finish, tool: ToolKind) -> Panel {
    let panel = bare(surface, tool).with_inks(vec![ink("Cockle", kind, lab)], Units::Inches);
    let span = panel.span(0);
    let field =
        Field { ink: 0, veils, starts: Length::ZERO, full_from: Length::ZERO, full_to: span, ends: span };
    let blend = Blend { fields: vec![field], ..panel.scene.ground[0].clone() };
    panel.with_blend(0, blend)
}

fn ebb(way: Way) -> Panel {
    let mut panel = bare(Finish::VerySmooth, ToolKind::Brush);
    panel.scene.ground[0].way = way;
    panel.with_inks(
        vec![
            ink("First Tide", Kind::Dye, [57.0, -22.0, -36.0]),
            ink("Cockle", Kind::Dye, [55.0, 60.0, -4.0]),
            ink("Tea-hut Lamp", Kind::Oxide, [80.0, 14.0, 72.0]),
        ],
        Units::Inches,
    )
}

fn picture(panel: &Panel, after: usize, dpi: f64) -> Picture {
    draw(&panel.after(after), Size { dpi }).unwrap()
}

/// The colour of the mean film at a place.
fn seen_at(panel: &Panel, x: f64, y: f64) -> Lab {
    let surface = panel.surface();
    surface.stack(&surface.veils_at(&surface.spot(x, y)), |_| 1.0).lab(Illuminant::D65)
}

fn predicted(panel: &Panel) -> Lab {
    seen_at(panel, 0.5 * panel.width.mm(), 0.5 * panel.height.mm())
}

#[test]
fn a_flat_field_measures_what_was_predicted() {
    for (kind, lab) in [
        (Kind::Dye, [55.0, 60.0, -4.0]),
        (Kind::Dye, [30.0, 8.0, -40.0]),
        (Kind::Oxide, [62.0, -25.0, -20.0]),
        (Kind::Dye, [84.0, 6.0, 70.0]),
    ] {
        for veils in [1, 3, 7] {
            for (surface, tool) in
                [(Finish::VerySmooth, ToolKind::Brush), (Finish::Watercolour, ToolKind::FoamDome)]
            {
                let panel = flat(kind, lab, veils, surface, tool);
                // A pixel that a screen cannot show is drawn in by a shorter way than a colour that is told.
                let predicted = predicted(&panel);
                let beyond =
                    predicted.difference(predicted.on_screen(Illuminant::D65).0.lab(Illuminant::D65));
                for dpi in [30.0, 100.0] {
                    let off = picture(&panel, usize::MAX, dpi).mean().difference(predicted);
                    assert!(off < 1.0 + beyond, "{kind} {lab:?}, {veils} veils, {dpi} dpi: ΔE00 {off:.2}");
                }
            }
        }
    }
}

#[test]
fn before_any_move_the_card_is_bare() {
    let panel = ebb(Way::DOWN);
    let off = picture(&panel, 0, 60.0).mean().difference(panel.paper.lab());
    assert!(off < 0.5, "ΔE00 {off:.2}");
}

#[test]
fn each_move_changes_the_picture_and_the_same_plan_does_not() {
    let panel = ebb(Way::DOWN);
    for (m, after) in panel.moves.iter().zip(1..) {
        let (before, then) = (picture(&panel, after - 1, 30.0), picture(&panel, after, 30.0));
        assert_eq!(before != then, m.laying().is_some(), "move {after}");
    }
    assert_eq!(picture(&panel, 5, 60.0), picture(&panel, 5, 60.0));
    let other = Panel { seed: panel.seed + 1, ..panel.clone() };
    assert_ne!(picture(&panel, 5, 60.0), picture(&other, 5, 60.0));
}

#[test]
fn the_first_ink_stands_where_the_direction_says() {
    for way in Way::USUAL {
        let panel = ebb(way);
        let drawn = picture(&panel, usize::MAX, 40.0);
        let unit = (Length::from_inches(1), Length::from_inches(1));
        // The corner or edge nearest the start, a little way in.
        let place = |x: f64, y: f64| way.on(unit).at(25.4 * x, 25.4 * y).place;
        let spots = [0.04, 0.5, 0.96];
        let corners = spots.into_iter().flat_map(|y| spots.into_iter().map(move |x| (x, y)));
        let (x, y) = corners.min_by(|a, b| place(a.0, a.1).total_cmp(&place(b.0, b.1))).unwrap();
        let (column, row) = ((x * drawn.width as f64) as usize, (y * drawn.height as f64) as usize);
        let at = 3 * (row * drawn.width + column);
        let [r, _, b] = [drawn.rgb[at], drawn.rgb[at + 1], drawn.rgb[at + 2]];
        assert!(b > r, "{way:?}: First Tide is blue, this is {:?}", &drawn.rgb[at..at + 3]);
    }
}

#[test]
fn more_passes_look_more_even() {
    // The same amount of ink in more, lighter passes: relative unevenness falls with the square root.
    let spread = |veils: u8| {
        let mut panel = flat(Kind::Dye, [55.0, 60.0, -4.0], veils, Finish::VerySmooth, ToolKind::FoamDome);
        panel.inks[0].full_veils = 2 * veils;
        let greens: Vec<f64> =
            picture(&panel, usize::MAX, 40.0).rgb.chunks(3).map(|p| f64::from(p[1])).collect();
        let mean = greens.iter().sum::<f64>() / greens.len() as f64;
        (greens.iter().map(|g| (g - mean).powi(2)).sum::<f64>() / greens.len() as f64).sqrt()
    };
    let (few, many) = (spread(2), spread(8));
    assert!(many < 0.65 * few && many > 0.35 * few, "{few:.2} against {many:.2}");
}

/// How uneven a picture looks, as the standard deviation in ΔE00 from its mean; and the same of what is coarser than 6 mm.
fn unevenness(panel: &Panel) -> (f64, f64) {
    let dpi = 60.0;
    let drawn = picture(panel, usize::MAX, dpi);
    let mean = drawn.mean();
    // Squares of a pixel, and of 6 mm, away from the panel's edges.
    let spread = |side: usize| {
        let (columns, rows) = (drawn.width / side, drawn.height / side);
        let square = |n: usize| {
            let (left, top) = ((n % columns) * side, (n / columns) * side);
            let mut sum = [0.0; 3];
            for at in (0..side * side).map(|n| 3 * ((top + n / side) * drawn.width + left + n % side)) {
                let pixel = rosy_core::colour::Srgb([drawn.rgb[at], drawn.rgb[at + 1], drawn.rgb[at + 2]]);
                let Lab { l, a, b } = pixel.lab(Illuminant::D65);
                sum = [sum[0] + l, sum[1] + a, sum[2] + b];
            }
            Lab::from(sum.map(|sum| sum / (side * side) as f64)).difference(mean).powi(2)
        };
        ((0..columns * rows).map(square).sum::<f64>() / (columns * rows) as f64).sqrt()
    };
    (spread(1), spread((6.0 / 25.4 * dpi) as usize))
}

#[test]
fn a_soft_brush_on_very_smooth_card_is_almost_even_and_ordinary_card_is_not() {
    for lab in [[55.0, 60.0, -4.0], [52.0, -20.0, -32.0], [66.0, -28.0, 42.0]] {
        let of = |surface| unevenness(&flat(Kind::Dye, lab, 7, surface, ToolKind::Brush));
        let (smooth, coarse) = of(Finish::VerySmooth);
        assert!((0.5..1.2).contains(&smooth), "{lab:?}: {smooth:.2}, aimed at 0.8");
        assert!(
            coarse.powi(2) < 0.5 * smooth.powi(2),
            "{lab:?}: {coarse:.2} of {smooth:.2} is coarser than 6 mm"
        );
        let (ordinary, _) = of(Finish::Ordinary);
        assert!((1.6..3.2).contains(&(ordinary / smooth)), "{lab:?}: {ordinary:.2} against {smooth:.2}");
    }
}

#[test]
fn sizes_no_screen_or_printer_has_are_refused() {
    let panel = ebb(Way::DOWN);
    let surface = panel.after(0);
    for dpi in [0.0, f64::NAN, 1e9] {
        assert!(draw(&surface, Size { dpi }).is_err());
    }
}
