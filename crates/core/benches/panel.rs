//! How fast is drawing, against encoding the same picture as PNG in the same run; and how soon does a
//! page preview answer? `./rosy bench` prints the table.

use std::time::{Duration, Instant};

use rosy_core::blend::{Blend, Way};
use rosy_core::colour::{Colour, Illuminant, Lab};
use rosy_core::ink::measured::bright_white;
use rosy_core::ink::{Film, Finish, Ink, Kind, Paper, Tool, ToolKind};
use rosy_core::judgement::Reading;
use rosy_core::moves::{Technique, WetStep, flick::Flick, mist::Mist, spray::Spray as Bottle};
use rosy_core::order::check::check;
use rosy_core::picture::file::{Pace, png};
use rosy_core::picture::{Size, draw};
use rosy_core::place::Point;
use rosy_core::scene::{Loose, Smoosh, Thing, Treatment};
use rosy_core::search::{Costs, Swatch, nearest, path};
use rosy_core::shape::family::{self, Value};
use rosy_core::shape::kept::Figure;
use rosy_core::shape::{Drawn, Shape};
use rosy_core::water::flecks::FleckLook;
use rosy_core::water::{Flecks, Spray, Thrown, Tilt};
use rosy_core::{Length, Panel, Units};

/// Times each thing is done; the middle time counts.
const TIMES: usize = 9;

fn panel(kinds: [Kind; 3]) -> Panel {
    let labs = [[57.0, -17.0, -31.0], [57.0, 56.0, -4.0], [80.0, 12.0, 62.0]];
    let inks = kinds.into_iter().zip(labs).map(|(kind, lab)| Ink {
        name: "Cockle".parse().expect("a name"),
        kind,
        colour: Colour::Lab(lab.into()),
        one_veil: None,
        full_veils: 7,
        on_ink: None,
    });
    let paper = Paper::plain(Finish::VerySmooth);
    let tool = Tool::one("Dome".parse().expect("a name"), ToolKind::Brush);
    let (width, height) = (Length::from_64ths(4 * 64 + 16), Length::from_64ths(5 * 64 + 32));
    Panel::bare("Ebb at six".parse().expect("a name"), width, height, paper, tool, 1)
        .with_inks(inks.collect(), Units::Inches)
}

fn middle<T>(mut work: impl FnMut() -> T) -> Duration {
    let mut times: Vec<Duration> = (0..TIMES)
        .map(|_| {
            let began = Instant::now();
            std::hint::black_box(work());
            began.elapsed()
        })
        .collect();
    times.sort_unstable();
    times[TIMES / 2]
}

fn row(what: &str, time: Duration, against: Duration) {
    let ratio = time.as_secs_f64() / against.as_secs_f64();
    println!("{what:<58} {:>8.1} ms {ratio:>7.2} ×", time.as_secs_f64() * 1e3);
}

/// Three blends over one another: a glow, a rim and a streak.
fn layered(kinds: [Kind; 3]) -> Panel {
    let panel = panel(kinds);
    let inches = Length::from_inches;
    let at = |left, top| Point { left: inches(left), top: inches(top) };
    let rim = Way::Vignette { corners: inches(1) };
    let streak = Way::Streak { from: at(1, 4), to: at(3, 3), reach: inches(1) };
    let own = |panel: &Panel, ink: usize| vec![(panel.inks[ink].clone(), Some(ink))];
    let (first, last) = (own(&panel, 0), own(&panel, 2));
    let glow = Way::Glow { centre: at(2, 2), across: inches(4), down: inches(4) };
    panel.turned(0, glow, Units::Inches).with_blend_of(first, rim, Units::Inches).with_blend_of(
        last,
        streak,
        Units::Inches,
    )
}

/// A drawer of so many inks, every third an oxide.
fn drawer(count: usize) -> Vec<Swatch> {
    let ink = |n: usize| {
        let (hue, kind) = (n as f64 * 2.399_963, if n.is_multiple_of(3) { Kind::Oxide } else { Kind::Dye });
        let chroma = 12.0 + (n * 7 % 45) as f64;
        let lab = Lab { l: 28.0 + (n * 11 % 52) as f64, a: chroma * hue.cos(), b: chroma * hue.sin() };
        (Film::of_swatch(lab, bright_white(), Illuminant::D65, kind), lab)
    };
    (0..count).map(ink).collect()
}

/// Eleven things in three inks and a stencil of two thousand corners, in front of three dyes; the last so many of the things.
fn scene(things: usize) -> Panel {
    let mut panel = panel([Kind::Dye; 3]);
    let shape = |family: &str, measures: &[(&str, Value)]| {
        let mut drawn = Drawn::usual(family::find(family).expect("a family"));
        drawn.measures.extend(measures.iter().map(|(key, value)| ((*key).to_owned(), *value)));
        Shape::new(family.parse().expect("a name"), Figure::Drawn(drawn))
    };
    let at = |left: i64, top: i64| Point { left: Length::from_64ths(left), top: Length::from_64ths(top) };
    let inked = |panel: &Panel, shape: Shape, at: Point, ink: usize, over: bool| {
        let mut thing = Thing { over, ..Thing::new(shape, at) };
        let size = thing.extent(&thing.shape.outline().expect("an outline")).size;
        let blend = Blend::spread(&[(ink, &panel.inks[ink])], Way::DOWN, Way::DOWN.span(size), Units::Inches);
        thing.gets = Treatment::Inked(vec![blend]);
        thing
    };
    let stars =
        shape("stars", &[("count", Value::Number(200)), ("wide", Value::Length(Length::from_inches(4)))]);
    let mut all = vec![inked(&panel, stars, at(136, 176), 2, true)];
    for n in 0..11_i64 {
        let across = [("across", Value::Length(Length::from_64ths(52)))];
        let family = ["circle", "heart", "crescent"][n as usize % 3];
        all.push(inked(
            &panel,
            shape(family, &across),
            at(40 + 64 * (n % 4), 60 + 90 * (n / 4)),
            n as usize % 3,
            false,
        ));
    }
    panel.scene.things = all.split_off(all.len() - things);
    panel.laid()
}

fn covered(encoding: Duration) {
    for (name, things) in [("six things", 6), ("twelve things, one a stencil of 2,000 corners", 12)] {
        println!("\n{name}");
        let panel = scene(things);
        let anew = || Panel { moves: Vec::new(), ..panel.clone() }.laid();
        row("plan it (goal: under 300 ms)", middle(anew), encoding);
        row("check its moves", middle(|| check(&panel)), encoding);
        row("judge it", middle(|| Reading::of(&panel)), encoding);
        let page = || draw(&panel.surface(), Size { dpi: 110.0 });
        row("draw it at page size (goal: under 80 ms)", middle(page), encoding);
        let print = Size { dpi: 300.0 };
        let drawn = draw(&panel.surface(), print).expect("a printable size");
        let own = middle(|| png(&drawn, 300.0, Pace::Balanced));
        row(
            "draw it at 300 dpi, × against its own PNG (goal: 0.7)",
            middle(|| draw(&panel.surface(), print)),
            own,
        );
    }
}

/// A wet deed over three dyes; each time with another seed, so that nothing of it is known from before.
fn wet(encoding: Duration) {
    let size = panel([Kind::Dye; 3]).size();
    let at = Point { left: size.0 / 2, top: size.1 / 2 };
    let spray = |on_wet: bool| {
        let tilt = if on_wet { Tilt::Down } else { Tilt::Flat };
        WetStep::Spray(Bottle(Spray {
            ink: Some(1),
            at,
            distance: Length::from_inches(7),
            pumps: 5,
            on_wet,
            tilt,
            splashed: false,
            pushed: false,
        }))
    };
    let flecks = |of: Thrown| {
        WetStep::Flecks(Flick(Flecks { count: 400, ..Flecks::of_look(of, FleckLook::Snow, size) }))
    };
    let mut seed = 100;
    let mut anew = |panel: &Panel| {
        seed += 1;
        Panel { seed, ..panel.clone() }
    };
    let page = Size { dpi: 110.0 };
    println!(
        "\nwhat water does, worked out anew and drawn at page size (goal: 40 ms each above the dry panel)\n"
    );
    let dry = panel([Kind::Dye, Kind::Oxide, Kind::Dye]);
    row("the dry panel", middle(|| draw(&dry.surface(), page)), encoding);
    for (name, deed) in [
        ("mist and blot", WetStep::Mist(Mist { pumps: 4 })),
        ("400 flecks of water", flecks(Thrown::Water)),
        ("400 flecks of ink", flecks(Thrown::Ink(0))),
        ("a spray on dry card", spray(false)),
        ("a spray on wet card, tilted", spray(true)),
    ] {
        let mut panel = dry.clone();
        panel.scene.loose = vec![Loose { blot: true, ..Loose::last(deed) }];
        let panel = panel.laid();
        row(name, middle(|| draw(&anew(&panel).surface(), page)), encoding);
        row("  the same, known from before", middle(|| draw(&panel.surface(), page)), encoding);
    }
    for presses in [1, 3] {
        let mut panel = panel([Kind::Dye, Kind::Oxide, Kind::Dye]);
        let mut smoosh = Smoosh::of(&[0, 1, 2], size, Units::Inches);
        (1..presses).for_each(|_| smoosh.press_again());
        panel.scene.smoosh = Some(smoosh);
        let panel = panel.laid();
        row(
            &format!("{presses} of a mat's presses"),
            middle(|| draw(&anew(&panel).surface(), page)),
            encoding,
        );
        row("  the same, known from before", middle(|| draw(&panel.surface(), page)), encoding);
    }
    // A press more, when all before it is known.
    let mut pressed = panel([Kind::Dye, Kind::Oxide, Kind::Dye]);
    pressed.scene.smoosh = Some(Smoosh::of(&[0, 1, 2], size, Units::Inches));
    let mut again = pressed.clone();
    again.scene.smoosh.iter_mut().for_each(Smoosh::press_again);
    let (pressed, again) = (pressed.laid(), again.laid());
    let mut times: Vec<Duration> = (1_000..1_000 + TIMES as u32)
        .map(|seed| {
            draw(&Panel { seed, ..pressed.clone() }.surface(), page).expect("a page's size");
            let began = Instant::now();
            std::hint::black_box(draw(&Panel { seed, ..again.clone() }.surface(), page))
                .expect("a page's size");
            began.elapsed()
        })
        .collect();
    times.sort_unstable();
    row("a press more, the mat known until then", times[TIMES / 2], encoding);
    println!("\na blend, three presses, 400 flecks and a stencil\n");
    let mut panel = scene(1);
    let mut smoosh = Smoosh::of(&[0, 1, 2], size, Units::Inches);
    (1..3).for_each(|_| smoosh.press_again());
    panel.scene.smoosh = Some(smoosh);
    panel.scene.loose = vec![Loose::last(flecks(Thrown::Ink(0)))];
    let panel = panel.laid();
    row("draw it at page size", middle(|| draw(&panel.surface(), page)), encoding);
    let print = Size { dpi: 300.0 };
    let drawn = draw(&panel.surface(), print).expect("a printable size");
    let own = middle(|| png(&drawn, 300.0, Pace::Balanced));
    row(
        "draw it at 300 dpi, × against its own PNG (goal: 1.0)",
        middle(|| draw(&panel.surface(), print)),
        own,
    );
}

fn searches() {
    let light = Illuminant::D65;
    println!("\nthe drawer searched; × is against the same for 30 inks\n");
    let mut costs_of_30 = Duration::ZERO;
    for count in [30, 300, 3_000] {
        let (began, inks) = (Instant::now(), drawer(count));
        let made = began.elapsed();
        let began = Instant::now();
        let costs = Costs::of(&inks, bright_white(), light);
        let took = began.elapsed();
        if count == 30 {
            costs_of_30 = took;
        }
        row(&format!("films of {count} inks"), made, costs_of_30);
        row(&format!("every two of {count} inks"), took, costs_of_30);
        if count <= 300 {
            let (from, to) = (&inks[0], &inks[count / 2]);
            let ends = [from, to].map(|end| Costs::to_each(end, &inks, bright_white(), light));
            for between in [1, 3, 5] {
                let run = || path(&costs, &ends[0], &ends[1], 0.0, between);
                row(
                    &format!("the cleanest run of {between} among {count}, costs known"),
                    middle(run),
                    costs_of_30,
                );
            }
            let films: Vec<(Film, u8)> = inks.iter().map(|(film, _)| (film.clone(), 7)).collect();
            let wished = Lab { l: 47.0, a: 21.0, b: -33.0 };
            let began = Instant::now();
            std::hint::black_box(nearest(wished, &films, bright_white(), light, 5));
            row(&format!("nearest to a colour among {count}, one or two inks"), began.elapsed(), costs_of_30);
        }
    }
}

fn main() {
    let dye = panel([Kind::Dye; 3]);
    let mixed = panel([Kind::Dye, Kind::Oxide, Kind::Dye]);
    let print = Size { dpi: 300.0 };
    let drawn = draw(&dye.surface(), print).expect("a printable size");
    let encoding = middle(|| png(&drawn, 300.0, Pace::Balanced));
    println!(
        "4 1/4 × 5 1/2 in, three inks, {} moves; × is against encoding it as PNG at 300 dpi\n",
        dye.moves.len()
    );
    row("encode the 300 dpi picture as PNG", encoding, encoding);
    for (name, panel) in [("three dyes", &dye), ("an oxide among dyes", &mixed)] {
        row(&format!("draw it at 300 dpi, {name}"), middle(|| draw(&panel.surface(), print)), encoding);
        let page = |panel: &Panel| {
            let drawn = draw(&panel.surface(), Size { dpi: 110.0 }).expect("a page's size");
            png(&drawn, 110.0, Pace::Quick)
        };
        let at_page_size = || page(panel);
        row(&format!("page preview's picture at 110 dpi, {name}"), middle(at_page_size), encoding);
        row(&format!("page preview's judgement, {name}"), middle(|| Reading::of(panel)), encoding);
        let preview = || {
            let laid = panel.clone().laid();
            (page(&laid), Reading::of(&laid))
        };
        row(&format!("page preview in all, {name} (goal: under 50 ms)"), middle(preview), encoding);
    }
    for (name, panel) in [
        ("three dyes", layered([Kind::Dye; 3])),
        ("an oxide among dyes", layered([Kind::Dye, Kind::Oxide, Kind::Dye])),
    ] {
        let moves = panel.moves.iter().filter(|m| m.laying().is_some()).count();
        println!("\nthree blends over one another, {moves} layings, {name}");
        row("draw it at 300 dpi (goal: at most 0.5)", middle(|| draw(&panel.surface(), print)), encoding);
        let page = || draw(&panel.surface(), Size { dpi: 110.0 });
        row("page preview's picture at 110 dpi", middle(page), encoding);
        row("page preview's judgement", middle(|| Reading::of(&panel)), encoding);
    }
    covered(encoding);
    wet(encoding);
    searches();
}
