//! What is done with water: the mat and its presses, and what is sprayed, flicked, misted and lifted.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::edit::water::about;
use rosy_core::ink::Ink;
use rosy_core::moves::dab::Dab;
use rosy_core::moves::step::Offer;
use rosy_core::moves::telling::{Stretch, Value};
use rosy_core::moves::{Technique, Telling, WetStep};
use rosy_core::order::Bow;
use rosy_core::planned::Planned;
use rosy_core::scene::{Loose, Smoosh};
use rosy_core::water::{Patch, Thrown};
use rosy_core::{Panel, Units};
use rosy_store::Store;

use super::cover::{names, pip};
use super::{Frame, PanelHead, Scale, page};
use crate::error::PageProblem;
use crate::say;
use crate::state::State;
use crate::visitor::OnPanel;

/// Something that is told in a sentence.
struct Line {
    row: &'static str,
    place: usize,
    sentence: Vec<Stretch>,
    /// What is told where one asks.
    more: Vec<Stretch>,
    /// What can be kept dry meanwhile.
    keep: Vec<Stretch>,
    /// What can be done with it.
    can: Can,
}

/// What can be done with a step beside writing its words.
#[derive(Default)]
struct Can {
    /// Whether there is less and more of it.
    be_more: bool,
    /// How many flecks are placed, where it is flecks.
    placed: Option<usize>,
    is_last: bool,
}

/// The sentences: the part of the page that follows every change.
#[derive(Template)]
#[template(path = "water_told.html")]
pub struct WaterPart {
    has_mat: bool,
    patches: Vec<Line>,
    presses: Vec<Line>,
    /// What each card carries of the ink that was put on the mat, and what the mat still holds.
    carries: Vec<(String, String)>,
    steps: Vec<Line>,
    /// The inks, by their places: each by its name and colour.
    inks: Vec<(String, String)>,
    /// What turns to mud.
    mud: Vec<String>,
    /// What breaks a rule.
    findings: Vec<String>,
    care: Vec<String>,
}

impl WaterPart {
    /// Of a panel as it stands.
    pub fn of(panel: &Planned, units: Units) -> WaterPart {
        let mut about = about(panel, &panel.scene, &[], units);
        let mut told = Telling::of(&mut about);
        let smoosh = panel.scene.smoosh.clone().unwrap_or_default();
        let wet = |at: usize| panel.moves.get(at).is_some_and(Technique::wets);
        WaterPart {
            has_mat: panel.scene.smoosh.is_some(),
            patches: smoosh.patches.iter().enumerate().map(|patch| of_patch(patch, &mut told)).collect(),
            presses: (0..smoosh.presses.len()).map(|place| of_press(&smoosh, place, &mut told)).collect(),
            carries: carries(panel),
            steps: steps(panel, &mut told),
            inks: panel.inks.iter().map(pip).collect(),
            mud: mud(panel),
            findings: panel
                .broken()
                .iter()
                .filter(|broken| wet(broken.at))
                .map(|broken| broken.says.clone())
                .collect(),
            care: care(panel, units),
        }
    }
}

impl WaterPart {
    /// What can be thrown, by its name and colour.
    fn thrown(&self, of: &Thrown) -> (String, String) {
        match of {
            Thrown::Water => ("clean water".into(), "#cfe3ee".into()),
            Thrown::Mica => ("mica".into(), "#e6dcc0".into()),
            Thrown::Ink(ink) => self.inks.get(*ink).cloned().unwrap_or_default(),
        }
    }
}

/// Inks that turn to mud where water brought one over the other, in sentences.
fn mud(panel: &Planned) -> Vec<String> {
    panel.muddied().iter().map(|one| one.says(panel.surface())).collect()
}

fn of_patch((place, patch): (usize, &Patch), told: &mut Telling) -> Line {
    let mut dab = Dab(*patch);
    dab.tell(told);
    let sentence = told.taken();
    dab.tell_more(told);
    let (more, keep) = (told.taken(), Vec::new());
    Line { row: "patch", place, sentence, more, keep, can: Can::default() }
}

fn of_press(smoosh: &Smoosh, place: usize, told: &mut Telling) -> Line {
    smoosh.presses[place].clone().tell(smoosh.is_again(place), told);
    let (sentence, more, keep) = (told.taken(), Vec::new(), Vec::new());
    Line { row: "press", place, sentence, more, keep, can: Can::default() }
}

fn steps(panel: &Panel, told: &mut Telling) -> Vec<Line> {
    let last = panel.scene.loose.len().saturating_sub(1);
    let line = |(place, loose): (usize, &Loose)| {
        let mut loose = loose.clone();
        loose.tell(told);
        let sentence = told.taken();
        loose.tell_more(told);
        let more = told.taken();
        loose.tell_keep(told);
        let can = Can {
            be_more: loose.step.scaled(100).is_ok(),
            placed: loose.step.flecks_mut().map(|flecks| flecks.placed.len()),
            is_last: place == last,
        };
        Line { row: "deed", place, sentence, more, keep: told.taken(), can }
    };
    panel.scene.loose.iter().enumerate().map(line).collect()
}

/// What each card carries of all the ink that was dabbed on the mat, and what is still there.
fn carries(panel: &Planned) -> Vec<(String, String)> {
    let Some(smoosh) = &panel.scene.smoosh else { return Vec::new() };
    let told = &panel.surface().mat;
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

/// What the card asks for where it gets wet.
fn care(panel: &Panel, units: Units) -> Vec<String> {
    use rosy_core::ink::Finish;
    if panel.scene.smoosh.is_none() && !panel.scene.loose.iter().any(|loose| loose.step.is_wet()) {
        return Vec::new();
    }
    let card = panel.paper.surface;
    let mut said = Vec::new();
    if matches!(card, Finish::VerySmooth | Finish::Ordinary) {
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
    scale: Scale,
    inks: Vec<String>,
    state: String,
    offers: Vec<&'static Offer>,
}

/// `GET /panels/{id}/water`.
pub async fn show(
    OnPanel { visitor, id, state }: OnPanel,
    store: web::Data<Store>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units) = (visitor.bench.id, visitor.units());
    let panel = state.panel.clone();
    let drawer = store.all::<Ink>(bench).await?;
    page(&WaterPage {
        frame: Frame::of(&visitor),
        head: PanelHead::of(id, &panel, "water"),
        scale: Scale::of(&panel, units),
        inks: names(panel.inks.iter().chain(drawer.iter().map(|kept| &kept.value))),
        state: say::json_in_page(&State::from(state)),
        offers: WetStep::offers().collect(),
    })
}
