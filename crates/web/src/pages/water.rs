//! What is done with water: the mat and its presses, and what is sprayed, flicked, misted and lifted.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::edit::water::Clear;
use rosy_core::ink::{Ink, Paste};
use rosy_core::judgement::{Bow, muddied};
use rosy_core::moves::Technique;
use rosy_core::order::check::check;
use rosy_core::scene::{Loose, Wetting};
use rosy_core::water::flecks::FleckLook;
use rosy_core::water::flecks::FlickedFrom;
use rosy_core::water::pad::Stroke;
use rosy_core::water::{Flecks, Movement, Pad, Spray, Thrown, Tilt};
use rosy_core::{Length, Panel, Units};
use rosy_store::Store;
use uuid::Uuid;

use super::cover::{names, pip};
use super::{Frame, PanelHead, page};
use crate::error::PageProblem;
use crate::say::{self, Mark, word};
use crate::state::State;
use crate::visitor::Visitor;

/// One of several words to choose from.
struct Choice {
    key: String,
    words: String,
    chosen: bool,
}

/// A patch, as its sentence tells it.
struct PatchLine {
    ink: (String, String),
    dabs: u8,
    left: String,
    top: String,
    across: String,
    down: String,
}

/// A press.
struct PressLine {
    mists: u8,
    cards: Vec<Choice>,
    movements: Vec<Choice>,
    /// Whether the panel has been pressed before, so that it can be damp.
    again: bool,
    on_damp: bool,
}

/// A deed.
struct DeedLine {
    place: usize,
    what: Deed,
    blot: bool,
    is_water: bool,
    first: bool,
    /// Where it is done.
    within: Vec<Choice>,
    /// The things that can be kept dry, and whether they are.
    keep: Vec<(String, bool)>,
    is_last: bool,
}

enum Deed {
    Flecks {
        ink: (String, String),
        looks: Vec<Choice>,
        count: u16,
        size: String,
        unlike: u8,
        water: u8,
        is_thinned: bool,
        clears: Vec<Choice>,
        from_block: bool,
        placed: usize,
        by_pen: bool,
    },
    Spray {
        ink: (String, String),
        pumps: u8,
        distance: String,
        left: String,
        top: String,
        on_wet: bool,
        tilts: Vec<Choice>,
        splashed: bool,
        pushed: bool,
    },
    Mist(u8),
    Pad {
        ink: (String, String),
        strokes: Vec<Choice>,
        times: u8,
        light: bool,
    },
    Lift(Vec<Choice>),
    Paste {
        things: Vec<Choice>,
        pastes: Vec<Choice>,
        ink: Option<(String, String)>,
    },
}

/// The sentences: the part of the page that follows every change.
#[derive(Template)]
#[template(path = "water_told.html")]
pub struct Told {
    has_mat: bool,
    patches: Vec<PatchLine>,
    presses: Vec<PressLine>,
    /// What each card carries of the ink that was put on the mat, and what the mat still holds.
    carries: Vec<(String, String)>,
    deeds: Vec<DeedLine>,
    /// What turns to mud.
    mud: Vec<String>,
    /// What breaks a rule.
    findings: Vec<String>,
    care: Vec<String>,
}

impl Told {
    /// Of a panel as it stands.
    pub fn of(panel: &Panel, units: Units) -> Told {
        let smoosh = panel.scene.smoosh.as_ref();
        let patches = smoosh.iter().flat_map(|smoosh| &smoosh.patches);
        let shown = |length: Length| length.shown(units).to_string();
        let patch = |patch: &rosy_core::water::Patch| PatchLine {
            ink: pip(&panel.inks[patch.ink]),
            dabs: patch.dabs,
            left: shown(patch.at.left),
            top: shown(patch.at.top),
            across: shown(patch.across),
            down: shown(patch.down),
        };
        let wet = |at: usize| panel.moves.get(at).is_some_and(Technique::wets);
        Told {
            has_mat: smoosh.is_some(),
            patches: patches.map(patch).collect(),
            presses: presses(panel),
            carries: carries(panel),
            deeds: deeds(panel, units),
            mud: mud(panel),
            findings: check(panel)
                .into_iter()
                .filter(|broken| wet(broken.at))
                .map(|broken| broken.says)
                .collect(),
            care: care(panel, units),
        }
    }
}

/// Inks that turn to mud where water brought one over the other, in sentences.
fn mud(panel: &Panel) -> Vec<String> {
    let surface = panel.surface();
    muddied(&surface).iter().map(|one| one.says(&surface)).collect()
}

fn presses(panel: &Panel) -> Vec<PressLine> {
    let presses = panel.scene.smoosh.as_ref().map_or(&[][..], |smoosh| &smoosh.presses);
    let line = |(at, press): (usize, &rosy_core::scene::Pressing)| {
        let spare = press.spare.unwrap_or(0);
        let card = |n: u8| Choice {
            key: n.to_string(),
            words: if n == 0 { "this card".into() } else { format!("spare card {n}") },
            chosen: n == spare,
        };
        let movement = |movement: Movement| Choice {
            key: word(movement),
            words: match movement {
                Movement::Still => "straight down",
                Movement::Little => "a little to and fro",
                Movement::Much => "and push it about",
            }
            .into(),
            chosen: movement == press.movement,
        };
        PressLine {
            mists: press.mists,
            cards: (0..=3).map(card).collect(),
            movements: [Movement::Still, Movement::Little, Movement::Much].map(movement).into(),
            again: spare == 0 && presses[..at].iter().any(|before| before.spare.is_none()),
            on_damp: press.on_damp,
        }
    };
    presses.iter().enumerate().map(line).collect()
}

/// What each card carries of all the ink that was dabbed on the mat, and what is still there.
fn carries(panel: &Panel) -> Vec<(String, String)> {
    let Some(smoosh) = &panel.scene.smoosh else { return Vec::new() };
    let told = panel.surface().mat;
    let bench = told.bench();
    let count = told.inks.len();
    let of = |card: usize| bench.cards.get(card).map_or(0.0, |card| card.inks(count).iter().sum::<f64>());
    let on_mat: f64 = bench.mat.inks().iter().sum();
    let all = on_mat + (0..bench.cards.len()).map(of).sum::<f64>();
    if all <= 0.0 || smoosh.presses.is_empty() {
        return Vec::new();
    }
    let share = |amount: f64| format!("{:.0} % of the ink", 100.0 * amount / all);
    let mut lines = vec![("This card".to_owned(), share(of(0)))];
    lines.extend(smoosh.spares().into_iter().map(|n| (format!("Spare card {n}"), share(of(usize::from(n))))));
    let left = on_mat / all;
    let still = match left {
        left if left > 0.4 => "a good deal for another card",
        left if left > 0.15 => "enough for a breath more",
        _ => "the mat is done",
    };
    lines.push(("The mat".into(), format!("{}: {still}", share(on_mat))));
    lines
}

fn deeds(panel: &Panel, units: Units) -> Vec<DeedLine> {
    let last = panel.scene.loose.len().saturating_sub(1);
    let line = |(place, loose): (usize, &Loose)| DeedLine {
        place,
        what: deed(panel, loose, units),
        blot: loose.blot,
        is_water: loose.deed.is_water(),
        first: loose.first,
        within: within(panel, loose),
        keep: keep(panel, loose),
        is_last: place == last,
    };
    panel.scene.loose.iter().enumerate().map(line).collect()
}

fn keep(panel: &Panel, loose: &Loose) -> Vec<(String, bool)> {
    let things = panel.scene.things.iter().enumerate();
    things.map(|(place, thing)| (thing.shape.name.to_string(), loose.keep.contains(&place))).collect()
}

fn deed(panel: &Panel, loose: &Loose, units: Units) -> Deed {
    let shown = |length: Length| length.shown(units).to_string();
    let water = || ("clean water".to_owned(), "#cfe3ee".to_owned());
    match &loose.deed {
        Wetting::Flecks(flecks) => Deed::Flecks {
            ink: match flecks.of {
                Thrown::Water => water(),
                Thrown::Mica => ("mica".into(), "#e6dcc0".into()),
                Thrown::Ink(ink) => pip(&panel.inks[ink]),
            },
            looks: looks(flecks, panel),
            count: flecks.count,
            size: (flecks.median * 2).in_thickness_field(units),
            unlike: flecks.unlike,
            water: flecks.water,
            is_thinned: flecks.of != Thrown::Water,
            clears: clears(flecks, panel),
            from_block: flecks.from == FlickedFrom::Block,
            placed: flecks.placed.len(),
            by_pen: flecks.by_pen,
        },
        Wetting::Spray(Spray { ink, at, distance, pumps, on_wet, tilt, splashed, pushed }) => Deed::Spray {
            ink: ink.map_or_else(water, |ink| pip(&panel.inks[ink])),
            pumps: *pumps,
            distance: shown(*distance),
            left: shown(at.left),
            top: shown(at.top),
            on_wet: *on_wet,
            tilts: Tilt::ALL
                .map(|one| Choice { key: word(one), words: one.words().into(), chosen: one == *tilt })
                .into(),
            splashed: *splashed,
            pushed: *pushed,
        },
        Wetting::Mist(pumps) => Deed::Mist(*pumps),
        Wetting::Pad(Pad { ink, stroke, times, light }) => {
            Deed::Pad { ink: pip(&panel.inks[*ink]), strokes: strokes(*stroke), times: *times, light: *light }
        }
        Wetting::Lift(thing) => Deed::Lift(stencils(panel, *thing)),
        Wetting::Paste { thing, of } => {
            let is_tinted = of.ink().is_some();
            let paste = |key: &str, words: &str, chosen: bool| Choice {
                key: key.into(),
                words: words.into(),
                chosen,
            };
            Deed::Paste {
                things: stencils(panel, *thing),
                pastes: vec![
                    paste("white", "white paste", *of == Paste::White),
                    paste("tinted", "white paste tinted with", is_tinted),
                    paste("shimmer", "shimmer paste", *of == Paste::Shimmer),
                ],
                ink: of.ink().map(|ink| pip(&panel.inks[ink])),
            }
        }
    }
}

/// How a pad goes over the card.
fn strokes(chosen: Stroke) -> Vec<Choice> {
    let words = |stroke: Stroke| match stroke {
        Stroke::Down => "swipe it from top to bottom",
        Stroke::Across => "swipe it from left to right",
        Stroke::Pat => "pat it, print beside print",
    };
    Stroke::ALL
        .map(|stroke| Choice { key: word(stroke), words: words(stroke).into(), chosen: stroke == chosen })
        .into()
}

/// The things through whose frame it can be done, where it can: all of the panel is the first choice.
fn within(panel: &Panel, loose: &Loose) -> Vec<Choice> {
    if panel.scene.things.is_empty()
        || loose.first
        || matches!(loose.deed, Wetting::Lift(_) | Wetting::Paste { .. })
    {
        return Vec::new();
    }
    let whole = Choice { key: "all".into(), words: "over all of it".into(), chosen: loose.within.is_none() };
    let things = panel.scene.things.iter().enumerate().map(|(place, thing)| Choice {
        key: place.to_string(),
        words: format!("only inside the {}", thing.shape.name),
        chosen: loose.within == Some(place),
    });
    std::iter::once(whole).chain(things).collect()
}

/// The things whose stencils can be used.
fn stencils(panel: &Panel, chosen: usize) -> Vec<Choice> {
    let things = panel.scene.things.iter().enumerate();
    let choice = |(place, of): (usize, &rosy_core::scene::Thing)| Choice {
        key: place.to_string(),
        words: of.shape.name.to_string(),
        chosen: place == chosen,
    };
    things.map(choice).collect()
}

/// The looks that can be wished for; where figures are of the maker's own, that too.
fn looks(flecks: &Flecks, panel: &Panel) -> Vec<Choice> {
    let figures = |of: &Flecks| (of.count, of.median, of.unlike);
    let look = |(look, words): (FleckLook, &str)| Choice {
        key: word(look),
        words: words.into(),
        chosen: figures(&Flecks::of_look(flecks.of, look, panel.size())) == figures(flecks),
    };
    let known = [
        (FleckLook::SparseSky, "sparse, as stars"),
        (FleckLook::Snow, "soft, as snow"),
        (FleckLook::Rain, "fine, as rain"),
    ];
    let mut looks: Vec<Choice> = known.into_iter().map(look).collect();
    if !looks.iter().any(|look| look.chosen) {
        looks.push(Choice { key: "own".into(), words: "as you have set them".into(), chosen: true });
    }
    looks
}

fn clears(flecks: &Flecks, panel: &Panel) -> Vec<Choice> {
    let clear = flecks.clear.first();
    let mut all = vec![Choice { key: "none".into(), words: "all of it".into(), chosen: clear.is_none() }];
    all.extend(Clear::ALL.map(|one| Choice {
        key: word(one),
        words: one.words().into(),
        chosen: clear == Some(&one.of(panel.size())),
    }));
    if !all.iter().any(|one| one.chosen) {
        all.push(Choice { key: "own".into(), words: "all but a place of your own".into(), chosen: true });
    }
    all
}

/// What the card asks for where it gets wet.
fn care(panel: &Panel, units: Units) -> Vec<String> {
    use rosy_core::ink::Surface;
    // A pad is no wetter than a brush.
    let is_wet = |loose: &Loose| !matches!(loose.deed, Wetting::Pad(_));
    if panel.scene.smoosh.is_none() && !panel.scene.loose.iter().any(is_wet) {
        return Vec::new();
    }
    let card = panel.paper.surface;
    let mut said = Vec::new();
    if matches!(card, Surface::VerySmooth | Surface::Ordinary) {
        said.push(format!(
            "{} is {} card: it buckles when it is soaked and pills when it is scrubbed. Watercolour or mixed-media card takes water better.",
            panel.paper.name,
            card.words()
        ));
    }
    said.push(Bow::of(panel).says(units));
    said
}

#[derive(Template)]
#[template(path = "water.html")]
struct WaterPage {
    frame: Frame,
    head: PanelHead,
    across: Vec<Mark>,
    down: Vec<Mark>,
    ratio: String,
    inches: String,
    inks: Vec<String>,
    state: String,
}

/// `GET /panels/{id}/water`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units) = (visitor.bench.id, visitor.units());
    let state = store.panel(bench, *id).await?;
    let panel = state.panel.clone();
    let drawer = store.all::<Ink>(bench).await?;
    page(&WaterPage {
        frame: Frame::of(&visitor),
        head: PanelHead::of(*id, &panel, "water"),
        across: say::ruler(panel.width, units),
        down: say::ruler(panel.height, units),
        ratio: format!("{:.4}", panel.width.ratio(panel.height)),
        inches: format!("{:.4}", panel.width.inches()),
        inks: names(panel.inks.iter().chain(drawer.iter().map(|kept| &kept.value))),
        state: say::json_in_page(&State::from(state)),
    })
}
