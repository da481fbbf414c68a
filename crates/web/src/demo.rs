//! The demo bench: cards sent after the kite day on Ullen Flats.

use rosy_core::blend::{Blend, Way};
use rosy_core::card::Card;
use rosy_core::card::trim::Feature;
use rosy_core::cut::Sheet;
use rosy_core::edges::Edges;
use rosy_core::evening::{Fault, Sitting, Told, What};
use rosy_core::ink::{Ink, Name, Paper, Powder, Tool};
use rosy_core::moves::{WetStep, flick::Flick, mist::Mist};
use rosy_core::place::Point;
use rosy_core::record::Made;
use rosy_core::scene::School;
use rosy_core::scene::company::free_names;
use rosy_core::scene::{Loose, Pressing, Smoosh, Thing, Treatment};
use rosy_core::shape::Shape;
use rosy_core::water::flecks::FleckLook;
use rosy_core::water::{Flecks, Thrown};
use rosy_core::{Length, Panel, Units};
use rosy_store::photo::ByPhoto;
use rosy_store::{Change, Store, StoreError};
use serde::Deserialize;
use serde_json::Value;
use uuid::Uuid;

use crate::files;

const INKS: &str = include_str!("../demo/inks.csv");
const STOCK: &str = include_str!("../demo/stock.json");
const PANELS: &str = include_str!("../demo/panels.json");
/// A photo of one of the cards that were made, as `rosy-veil photograph` takes it.
const PHOTO: &[u8] = include_bytes!("../demo/photo.jpg");
/// A photo of the panel that is begun, taken so too.
const HALF_WAY: &[u8] = include_bytes!("../demo/half_way.jpg");

/// Papers, tools and sheets, as the demo's file has them.
#[derive(Deserialize)]
struct Stock {
    papers: Vec<Paper>,
    tools: Vec<Tool>,
    sheets: Vec<Sheet>,
    shapes: Vec<Shape>,
}

/// A thing that stands on a panel of the demo.
#[derive(Deserialize)]
struct Standing {
    /// A shape of the demo's bench.
    shape: Name,
    at: Point,
    /// None where it stays white.
    #[serde(default)]
    inks: Vec<Name>,
    #[serde(default = "down")]
    way: Way,
    /// Whether it is printed over what lies behind it.
    #[serde(default)]
    over: bool,
    /// The powder it is sealed under.
    #[serde(default)]
    resist: Option<Powder>,
    /// A shadow behind it.
    shadow: Option<Shadow>,
    /// How many times its edge is stepped down the panel.
    steps: Option<usize>,
}

/// A rim of one ink round a thing.
#[derive(Deserialize)]
struct Shadow {
    by: Length,
    ink: Name,
}

/// A panel of the demo by what is chosen for it; fields and moves follow.
#[derive(Deserialize)]
struct Sketch {
    name: Name,
    width: Length,
    height: Length,
    paper: Name,
    tool: Name,
    inks: Vec<Name>,
    /// Tools on the desk beside it.
    #[serde(default)]
    desk: Vec<Name>,
    #[serde(default = "down")]
    way: Way,
    #[serde(default)]
    school: School,
    #[serde(default)]
    done: usize,
    /// Light passes of each ink, where they differ from the usual.
    #[serde(default)]
    veils: Vec<u8>,
    #[serde(default)]
    features: Vec<Feature>,
    /// What stands on it, from front to back.
    #[serde(default)]
    things: Vec<Standing>,
    /// Inks that are dabbed on the mat, and how it is pressed.
    #[serde(default)]
    mat: Vec<Name>,
    #[serde(default)]
    presses: Vec<Pressing>,
    /// What is done with water over all of it.
    #[serde(default)]
    wet: Vec<Wet>,
    /// Its card as a document, papers by their names.
    card: Option<Value>,
}

/// Something done with water.
#[derive(Deserialize)]
enum Wet {
    /// Water flicked in a look, and blotted.
    Water(FleckLook, Length),
    /// An ink flicked in a look, with so many parts of water.
    Ink(Name, FleckLook, u8),
    /// So many pumps of mist, blotted.
    Mist(u8),
}

impl Wet {
    fn on(&self, panel: &mut Panel, inks: &[Ink]) -> Result<Loose, StoreError> {
        let size = panel.size();
        let blotted = |step: WetStep| Loose { blot: true, ..Loose::last(step) };
        Ok(match self {
            Wet::Water(look, median) => {
                let flecks = Flecks::of_look(Thrown::Water, *look, size);
                blotted(Flick(Flecks { median: *median, water: 0, ..flecks }).into())
            }
            Wet::Ink(name, look, water) => {
                let ink = inks.iter().find(|ink| ink.name == *name).ok_or(StoreError::Missing("demo ink"))?;
                let flecks = Flecks::of_look(Thrown::Ink(panel.ink_place(ink)), *look, size);
                Loose::last(Flick(Flecks { water: *water, ..flecks }))
            }
            Wet::Mist(pumps) => blotted(Mist { pumps: *pumps }.into()),
        })
    }
}

fn down() -> Way {
    Way::DOWN
}

/// A card as a document, with the papers that are named in it put in.
fn card_of(mut card: Value, papers: &[Paper]) -> Result<Card, StoreError> {
    let put = |holder: &mut Value| -> Result<(), StoreError> {
        let Some(name) = holder.get("paper").and_then(Value::as_str) else { return Ok(()) };
        let paper = papers.iter().find(|paper| paper.name.as_str() == name);
        holder["paper"] = serde_json::to_value(paper.ok_or(StoreError::Missing("demo paper"))?)?;
        Ok(())
    };
    put(&mut card)?;
    card["layers"].as_array_mut().into_iter().flatten().try_for_each(put)?;
    Ok(serde_json::from_value(card)?)
}

/// Sets up a first bench where there is none: the demo's, or a bare one.
pub async fn fill(store: &Store, demo: bool) -> Result<(), StoreError> {
    if !store.benches().await?.is_empty() {
        return Ok(());
    }
    let name = |text: &str| text.parse::<Name>().map_err(|_| StoreError::Missing("name"));
    if !demo {
        store.add_bench(&name("My bench")?, Units::Inches).await?;
        return Ok(());
    }
    let bench = store.add_bench(&name("Kite-day bench")?, Units::Inches).await?;
    let inks = files::read_inks(INKS.as_bytes()).map_err(|_| StoreError::Missing("demo ink"))?.inks;
    let stock: Stock = serde_json::from_str(STOCK)?;
    let mut things = Vec::new();
    for paper in &stock.papers {
        things.push(Change::add(Uuid::now_v7(), paper)?);
    }
    for tool in &stock.tools {
        things.push(Change::add(Uuid::now_v7(), tool)?);
    }
    for ink in &inks {
        things.push(Change::add(Uuid::now_v7(), ink)?);
    }
    let panels = panels(&inks)?;
    let mut half_way = None;
    for panel in &panels {
        let id = Uuid::now_v7();
        things.push(Change::add(id, panel)?);
        half_way = half_way.or_else(|| (panel.done > 0).then(|| (id.to_string(), panel.made().len())));
    }
    let now = chrono::Utc::now().timestamp_millis();
    // The latest that was made was photographed.
    let photo = store.keep_photo(bench.id, PHOTO.to_vec()).await?;
    for (nth, one) in made(&panels, now)?.into_iter().enumerate() {
        let photo = (nth == PHOTOGRAPHED).then(|| photo.to_string());
        things.push(Change::add(Uuid::now_v7(), &Made { photo, ..one })?);
    }
    // The one that is begun was shown half way.
    if let Some(panel) = half_way {
        store.shown_by(bench.id, panel, ByPhoto::New(HALF_WAY.to_vec())).await?;
    }
    let evening = evening(&panels, now)?;
    things.push(Change::add(Uuid::now_v7(), &evening)?);
    for shape in &stock.shapes {
        things.push(Change::add(Uuid::now_v7(), shape)?);
    }
    for sheet in &stock.sheets {
        things.push(Change::add(Uuid::now_v7(), sheet)?);
    }
    store.set_out(bench.id, things).await?;
    Ok(())
}

/// A thing of the demo, with what goes with it, from front to back.
fn things(
    panel: &mut Panel,
    standing: &Standing,
    inks: &[Ink],
    shapes: &[Shape],
) -> Result<Vec<Thing>, StoreError> {
    let thing = thing(panel, standing, inks, shapes)?;
    let missing = || StoreError::Missing("demo ink");
    if let Some(count) = standing.steps {
        let field = thing.blends().iter().flat_map(|blend| &blend.fields).next().ok_or_else(missing)?.ink;
        let ink = panel.inks.get(field).cloned().ok_or_else(missing)?;
        let names = free_names(&[], standing.shape.as_str(), count).unwrap_or_default();
        let stepped = thing.stepped((field, &ink), names, panel.size(), Units::Inches);
        return Ok(stepped.map_err(|_| StoreError::Missing("demo shape"))?.0);
    }
    let Some(Shadow { by, ink }) = &standing.shadow else { return Ok(vec![thing]) };
    let name = format!("shadow of {}", standing.shape).parse().map_err(|_| StoreError::Missing("name"))?;
    let mut shadow = thing.shadow(*by, name);
    let ink = inks.iter().find(|own| own.name == *ink).ok_or_else(missing)?;
    let outline = shadow.shape.outline().map_err(|_| StoreError::Missing("demo shape"))?;
    let span = Way::DOWN.span(shadow.extent(&outline).size);
    let blend = Blend::spread(&[(panel.ink_place(ink), ink)], Way::DOWN, span, Units::Inches);
    shadow.gets = Treatment::Inked(vec![blend]);
    Ok(vec![thing, shadow])
}

fn thing(
    panel: &mut Panel,
    standing: &Standing,
    inks: &[Ink],
    shapes: &[Shape],
) -> Result<Thing, StoreError> {
    let shape = shapes.iter().find(|shape| shape.name == standing.shape);
    let shape = shape.ok_or(StoreError::Missing("demo shape"))?.clone();
    let outline = shape.outline().map_err(|_| StoreError::Missing("demo shape"))?;
    let mut thing = Thing { over: standing.over, resist: standing.resist, ..Thing::new(shape, standing.at) };
    let chosen: Option<Vec<&Ink>> =
        standing.inks.iter().map(|name| inks.iter().find(|ink| ink.name == *name)).collect();
    let chosen = chosen.ok_or(StoreError::Missing("demo ink"))?;
    if !chosen.is_empty() {
        let listed: Vec<(usize, &Ink)> = chosen.into_iter().map(|ink| (panel.ink_place(ink), ink)).collect();
        let span = standing.way.span(thing.extent(&outline).size);
        thing.gets = Treatment::Inked(vec![Blend::spread(&listed, standing.way, span, Units::Inches)]);
    }
    Ok(thing)
}

fn panels(inks: &[Ink]) -> Result<Vec<Panel>, StoreError> {
    let stock: Stock = serde_json::from_str(STOCK)?;
    let sketches: Vec<Sketch> = serde_json::from_str(PANELS)?;
    sketches
        .into_iter()
        .zip(1..)
        .map(|(sketch, seed)| {
            let paper = stock
                .papers
                .iter()
                .find(|p| p.name == sketch.paper)
                .ok_or(StoreError::Missing("demo paper"))?;
            let tool =
                stock.tools.iter().find(|t| t.name == sketch.tool).ok_or(StoreError::Missing("demo tool"))?;
            let chosen: Option<Vec<Ink>> =
                sketch.inks.iter().map(|name| inks.iter().find(|ink| ink.name == *name).cloned()).collect();
            let chosen = chosen.ok_or(StoreError::Missing("demo ink"))?;
            let mut panel =
                Panel::bare(sketch.name, sketch.width, sketch.height, paper.clone(), tool.clone(), seed);
            panel.brushes =
                stock.tools.iter().filter(|tool| sketch.desk.contains(&tool.name)).cloned().collect();
            panel.scene.ground[0].way = sketch.way;
            panel.school = sketch.school;
            let mut panel = panel.with_inks(chosen, Units::Inches);
            for (field, veils) in panel.scene.ground[0].fields.iter_mut().zip(sketch.veils) {
                field.veils = veils;
            }
            let mut standing = Vec::new();
            for one in &sketch.things {
                standing.extend(
                    things(&mut panel, one, inks, &stock.shapes)?.into_iter().map(|thing| (thing, None)),
                );
            }
            let mut panel = panel.with_things(standing);
            let mut scene = panel.scene.clone();
            if !sketch.mat.is_empty() {
                let chosen = sketch.mat.iter().map(|name| inks.iter().find(|ink| ink.name == *name));
                let chosen: Option<Vec<usize>> =
                    chosen.map(|ink| ink.map(|ink| panel.ink_place(ink))).collect();
                let chosen = chosen.ok_or(StoreError::Missing("demo ink"))?;
                let mat = Smoosh::of(&chosen, panel.size(), Units::Inches);
                scene.smoosh = Some(Smoosh { presses: sketch.presses, ..mat });
            }
            for wet in &sketch.wet {
                scene.loose.push(wet.on(&mut panel, inks)?);
            }
            let mut panel = panel.with_scene(scene);
            panel.features = sketch.features;
            let card = sketch.card.map(|card| card_of(card, &stock.papers)).transpose()?;
            panel.card = Some(card.unwrap_or_else(|| Card::fitting(&panel.inked(), Units::Inches)));
            Ok(Panel { done: sketch.done, ..panel.laid() })
        })
        .collect()
}

/// Cards of the demo's evening: the panels by their places, and how many of each.
const EVENING: [(usize, usize); 2] = [(10, 5), (9, 3)];

/// Eight cards for the kite day, half done by now.
fn evening(panels: &[Panel], now: i64) -> Result<Sitting, StoreError> {
    let fresh = |panel: &Panel| Panel { done: 0, ..panel.clone() };
    let of = |(place, count): &(usize, usize)| panels.get(*place).map(|panel| vec![fresh(panel); *count]);
    let cards: Option<Vec<Vec<Panel>>> = EVENING.iter().map(of).collect();
    let cards = cards.ok_or(StoreError::Missing("demo panel"))?.concat();
    let name = "Eight for the string menders".parse().map_err(|_| StoreError::Missing("demo name"))?;
    let mut sitting = Sitting { name, cards, heat: true, room: None, minutes: None, log: Vec::new() };
    let planned = sitting.standing().scheduled;
    let half = &planned.steps[..planned.steps.len() / 2];
    let began = now - 1000 * half.last().map_or(0, |step| step.ends);
    let told = |(nth, (seconds, what)): (usize, (i64, What))| Told {
        mark: format!("demo-{nth:04}"),
        at: began + 1000 * seconds,
        what,
    };
    let steps = half.iter().map(|step| {
        let card = step.card;
        let what =
            if step.heats { What::Heated { card } } else { What::Done { card, moves: step.moves.end } };
        (step.ends, what)
    });
    sitting.log = std::iter::once((0, What::Begun)).chain(steps).enumerate().map(told).collect();
    Ok(sitting)
}

/// Which of what was made has a photo.
const PHOTOGRAPHED: usize = 0;

/// What was made before: panels by their places, days ago, to whom it went, what there is to say, and what went wrong.
type Before = (usize, i64, &'static str, &'static str, Option<Fault>);
const MADE: [Before; 12] = [
    (10, 3, "the tea hut", "", None),
    (9, 3, "the string menders", "The join by the string came out best with the light from the left.", None),
    (2, 12, "the flag stewards", "", Some(Fault::HardMark)),
    (7, 19, "the tea hut", "Stripes a little wider next time.", None),
    (8, 31, "the string menders", "", None),
    (8, 31, "the flag stewards", "", Some(Fault::BledUnder)),
    (4, 58, "the tea hut", "", None),
    (3, 75, "the kite judges", "Stars flicked last; two more placed by hand.", None),
    (5, 96, "the string menders", "", Some(Fault::TooPale)),
    (6, 127, "the flag stewards", "", None),
    (0, 160, "the kite judges", "", None),
    (10, 201, "the string menders", "", Some(Fault::Muddy)),
];

fn made(panels: &[Panel], now: i64) -> Result<Vec<Made>, StoreError> {
    const DAY: i64 = 24 * 3_600_000;
    let one = |(nth, (place, days, to, note, fault)): (usize, &Before)| {
        let panel = panels.get(*place).cloned().ok_or(StoreError::Missing("demo panel"))?;
        // That one had a white border.
        let panel = if nth == PHOTOGRAPHED { bordered(panel) } else { panel };
        let made = Made { faults: fault.iter().copied().collect(), ..Made::new(panel, now - days * DAY) };
        made.written(to, note).map_err(|_| StoreError::Missing("demo record"))
    };
    MADE.iter().enumerate().map(one).collect()
}

/// A panel with tape round it, laid anew.
fn bordered(mut panel: Panel) -> Panel {
    if let Some(card) = &mut panel.card {
        card.tape.border = Edges::all(Length::from_64ths(16));
    }
    Panel { moves: Vec::new(), done: 0, ..panel }.laid()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_demo_can_be_laid() {
        let inks = files::read_inks(INKS.as_bytes()).unwrap().inks;
        assert!(inks.len() >= 36);
        for panel in panels(&inks).unwrap() {
            assert_eq!(panel.check(), Ok(()), "{}", panel.name);
        }
    }
}
