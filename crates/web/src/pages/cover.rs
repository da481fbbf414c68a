//! What stands on a panel, told from front to back; how it is made, and which masks are cut for it.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::blend::field::MOST_INKS;
use rosy_core::blend::grip::{self, Measure};
use rosy_core::blend::{Blend, Field, Way};
use rosy_core::ink::{Ink, Powder};
use rosy_core::judgement::Reading;
use rosy_core::order::pieces::{Pieces, taken};
use rosy_core::order::ways::{CoverWay, ways};
use rosy_core::scene::{Covering, MOST_ON_ONE, Thing};
use rosy_core::shape::family::{FAMILIES, Family, Kind, Value, find};
use rosy_core::shape::kept::{Figure, Shape};
use rosy_core::shape::{Cut, Use};
use rosy_core::surface::Part;
use rosy_core::{Length, Panel, Units};
use rosy_store::Store;

use super::{Frame, PanelHead, Scale, page};
use crate::drawing::shape::small;
use crate::error::PageProblem;
use crate::say::{self, many, word};
use crate::state::State;
use crate::visitor::OnPanel;

/// A word or measure of a sentence that can be changed.
struct Word {
    /// Which it is.
    what: String,
    /// What it stands for, for whoever cannot see the sentence.
    label: String,
    /// What stands before it.
    before: &'static str,
    text: String,
    /// What follows it.
    after: String,
}

/// An ink of a thing's blend.
struct InkWord {
    name: String,
    colour: String,
    /// What stands before it in the sentence.
    before: &'static str,
    veils: u8,
}

/// The way a thing's blend runs: what it is called among those offered, and its measures.
struct WayWords {
    offered: Vec<&'static str>,
    place: usize,
    measures: Vec<Word>,
}

/// One of a thing's blends, as its sentence tells it.
struct BlendWords {
    /// What its words are called by before their own: nothing for the first, by its place for those over it.
    of: String,
    place: usize,
    gets: &'static str,
    inks: Vec<InkWord>,
    /// Its way, where its ink does not go all over it.
    way: Option<WayWords>,
    /// Where it has faded out, where it does.
    reach: Option<String>,
}

/// A thing, as its sentence tells it.
struct Sentence {
    place: usize,
    opening: &'static str,
    name: String,
    /// Its family, or nothing where it was brought.
    family: Option<&'static str>,
    letters: Option<String>,
    measures: Vec<Word>,
    gets: &'static str,
    blends: Vec<BlendWords>,
    /// Whether it is printed over what lies behind it.
    over: bool,
    /// The powder it is sealed under.
    resist: String,
    /// What its pieces are.
    used: String,
    /// How much larger it is all round than what it is drawn from.
    grown: Option<String>,
    /// Its tape lines, and from which side they are measured.
    between: Option<(String, String, bool)>,
    is_word: bool,
    /// Whether it is the lines of a pattern, with cells between them.
    is_lines: bool,
    /// Whether it gets a second layer of powder.
    bold: bool,
    /// Whether it has an upper edge that can be stepped down a panel.
    can_step: bool,
    cut: &'static str,
    by: Option<String>,
    left: String,
    top: String,
    turn: u16,
    percent: u16,
    mirrored: bool,
    chance: Option<String>,
    findings: Vec<String>,
    is_last: bool,
}

/// The ground, as its sentence tells it.
struct Ground {
    inks: Vec<(String, String)>,
    way: &'static str,
    others: usize,
}

/// A way to make it, as the table has it.
struct WayRow {
    key: &'static str,
    words: &'static str,
    pieces: String,
    dryings: String,
    minutes: String,
    by_eye: String,
    chosen: bool,
}

/// What is cut for a thing.
struct CutRow {
    name: String,
    picture: String,
    pieces: String,
}

/// The sentences, how it is made and what is cut: the part of the page that follows every change.
#[derive(Template)]
#[template(path = "cover_told.html")]
pub struct CoverPart {
    sentences: Vec<Sentence>,
    ground: Option<Ground>,
    ways: Vec<WayRow>,
    order: String,
    spared: String,
    cuts: Vec<CutRow>,
}

impl CoverPart {
    /// Of a panel as it stands.
    pub fn of(panel: &Panel, units: Units) -> CoverPart {
        let reading = Reading::of(panel);
        let things = &panel.scene.things;
        let sentence = |(place, thing): (usize, &Thing)| {
            let findings = reading.findings.iter().filter(|finding| finding.on == Some(place));
            let mut told = Sentence::of(panel, place, thing, units);
            told.findings = findings.map(|finding| finding.says.clone()).collect();
            told.is_last = place + 1 == things.len();
            told
        };
        let ways = if panel.moves.is_empty() { Vec::new() } else { ways(panel) };
        let chosen = ways.iter().find(|way| way.moves == panel.moves);
        CoverPart {
            sentences: things.iter().enumerate().map(sentence).collect(),
            ground: Ground::of(panel),
            order: chosen.map(|way| order(panel, way)).unwrap_or_default(),
            spared: chosen.map(|way| spared(panel, way)).unwrap_or_default(),
            cuts: cuts(panel),
            ways: ways.iter().map(|way| WayRow::of(way, panel)).collect(),
        }
    }

    /// What a thing may be sealed under.
    fn powders(&self) -> [(String, &'static str); Powder::ALL.len()] {
        Powder::ALL.map(|powder| (word(powder), powder.words()))
    }

    fn families(&self) -> &'static [Family] {
        &FAMILIES
    }

    fn most_inks(&self) -> usize {
        MOST_INKS
    }

    fn most_blends(&self) -> usize {
        MOST_ON_ONE
    }

    fn ink_label(&self, place: &usize) -> String {
        ["its ink", "its second ink", "its third ink", "its fourth ink", "its fifth ink"]
            .get(*place)
            .map_or_else(String::new, |words| (*words).to_owned())
    }

    fn uses(&self) -> [(String, &'static str); 6] {
        Use::ALL.map(|of| (word(of), of.words()))
    }
}

fn key(covering: Covering) -> &'static str {
    match covering {
        Covering::Fewest => "fewest",
        Covering::FrontFirst => "front-first",
        Covering::BackFirst => "back-first",
    }
}

pub(crate) fn pip(ink: &Ink) -> (String, String) {
    (ink.name.to_string(), ink.lab().on_screen(Default::default()).0.to_string())
}

impl Sentence {
    fn of(panel: &Panel, place: usize, thing: &Thing, units: Units) -> Sentence {
        let shape = &thing.shape;
        let name = shape.name.to_string();
        let shown = |length: Length| length.shown(units).to_string();
        let (mut measures, mut chance, mut family, mut letters) = (Vec::new(), None, None, None);
        if let Figure::Drawn(drawn) = &shape.figure
            && let Ok(known) = find(&drawn.family)
        {
            family = Some(known.key);
            letters = known.is_word().then(|| drawn.letters.clone());
            for measure in known.measures {
                let value = drawn.measures.get(measure.key).copied();
                let text = match value.unwrap_or(measure.usual()) {
                    Value::Length(length) => shown(length),
                    Value::Number(number) => number.to_string(),
                };
                if measure.key == "chance" {
                    chance = Some(text);
                    continue;
                }
                let label = match measure.kind {
                    Kind::Length(..) => format!("{name}, {}", measure.words),
                    Kind::Number(..) => format!("{name}, how many {}", measure.words),
                };
                measures.push(Word {
                    what: format!("m_{}", measure.key),
                    label,
                    before: if measures.is_empty() { " of " } else { ", " },
                    after: counted(measure.words, &text),
                    text,
                });
            }
        }
        let gets = gets(thing);
        let (cut, by) = match shape.cut {
            Cut::OnTheLine => ("on-the-line", None),
            Cut::Inside(by) => ("inside", Some(shown(by))),
            Cut::Halo(by) => ("halo", Some(shown(by))),
        };
        Sentence {
            place,
            opening: if place == 0 { "In front, the" } else { "Behind it, the" },
            name,
            family,
            letters,
            measures,
            gets,
            blends: blend_words(panel, thing, units),
            over: thing.over,
            resist: thing.resist.map_or("none".into(), word),
            used: word(shape.used),
            grown: (shape.grown > Length::ZERO).then(|| shown(shape.grown)),
            between: thing.between.map(|tape| (shown(tape.from), shown(tape.to), tape.upright)),
            is_word: shape.is_word(),
            is_lines: shape.is_lines(),
            bold: thing.bold,
            can_step: matches!(family, Some("cloud-edge" | "torn-edge" | "hill-line")),
            cut,
            by,
            left: shown(thing.at.left),
            top: shown(thing.at.top),
            turn: shape.turn,
            percent: shape.percent,
            mirrored: shape.mirrored,
            chance,
            findings: Vec::new(),
            is_last: false,
        }
    }
}

/// What a thing gets, in the word of its sentence.
fn gets(thing: &Thing) -> &'static str {
    match thing.blends().first() {
        Some(Blend { fields, .. }) if thing.shape.used == Use::Stamp && !fields.is_empty() => "stamped",
        Some(blend) if !blend.fields.is_empty() => goes(blend),
        _ if thing.is_raised() => "raised",
        _ if thing.lends() => "lends",
        _ => "white",
    }
}

/// What a blend does, in the word of its sentence.
fn goes(blend: &Blend) -> &'static str {
    match blend.fields.len() {
        2.. => "runs",
        _ if blend.is_fading() => "fades",
        _ => "goes",
    }
}

/// A thing's blends, but for those that lay nothing.
fn blend_words(panel: &Panel, thing: &Thing, units: Units) -> Vec<BlendWords> {
    let laid = thing.blends().iter().enumerate().filter(|(_, blend)| !blend.fields.is_empty());
    let words = |(place, blend): (usize, &Blend)| BlendWords {
        of: if place == 0 { String::new() } else { format!("over{place}_") },
        place,
        gets: goes(blend),
        inks: ink_words(panel, blend),
        way: WayWords::of(thing, blend, units),
        // A way with a reach of its own tells that.
        reach: (blend.is_fading() && !blend.way.has_reach())
            .then(|| blend.fields.last().map(|last| last.ends.shown(units).to_string()))
            .flatten(),
    };
    laid.map(words).collect()
}

fn ink_words(panel: &Panel, blend: &Blend) -> Vec<InkWord> {
    let last = blend.fields.len().saturating_sub(1);
    let one = |(at, field): (usize, &Field)| {
        let (name, colour) = pip(panel.inks.get(field.ink)?);
        let before = match at {
            0 => "",
            at if at == last => " to",
            _ => " through",
        };
        Some(InkWord { name, colour, before, veils: field.veils })
    };
    blend.fields.iter().enumerate().filter_map(one).collect()
}

impl WayWords {
    /// Of one of a thing's blends; of one ink that goes all over it there is none to tell.
    fn of(thing: &Thing, blend: &Blend, units: Units) -> Option<WayWords> {
        let goes_all_over = blend.fields.len() == 1
            && !blend.is_fading()
            && blend.way.runs_on()
            && !matches!(blend.way, Way::Rim { .. });
        if blend.fields.is_empty() || goes_all_over {
            return None;
        }
        let size = thing.extent(&thing.shape.outline().ok()?).size;
        let offered = Way::offered_inside(size, units);
        let word = |(measure, value): (Measure, grip::Value)| {
            let (before, after) = measure.told();
            Word {
                what: format!("w_{}", word(measure)),
                label: format!("{}, {}", thing.shape.name, measure.words()),
                before,
                text: match value {
                    grip::Value::Degrees(degrees) => format!("{degrees}°"),
                    grip::Value::Length(length) => length.shown(units).to_string(),
                },
                after: after.to_owned(),
            }
        };
        // The straight ways say it all by their names.
        let is_plain = |measure: Measure| measure == Measure::Angle && Way::USUAL.contains(&blend.way);
        let told = blend.way.measures().into_iter().filter(|(measure, _)| !is_plain(*measure));
        Some(WayWords {
            place: blend.way.among(&offered)?,
            measures: told.map(word).collect(),
            offered: offered.iter().map(|way| way.words()).collect(),
        })
    }
}

/// What is counted, of which there are so many: of one it has no s.
fn counted(words: &str, text: &str) -> String {
    if text == "1" { words.trim_end_matches('s').to_owned() } else { words.to_owned() }
}

impl Ground {
    fn of(panel: &Panel) -> Option<Ground> {
        let laid: Vec<_> = panel.scene.ground.iter().filter(|blend| !blend.fields.is_empty()).collect();
        let first = laid.first()?;
        Some(Ground {
            inks: first.fields.iter().filter_map(|field| panel.inks.get(field.ink)).map(pip).collect(),
            way: first.way.words(),
            others: laid.len() - 1,
        })
    }
}

impl WayRow {
    fn of(way: &CoverWay, panel: &Panel) -> WayRow {
        let cost = &way.cost;
        WayRow {
            key: if way.sealed.is_empty() { key(way.covering) } else { "trapped" },
            words: if way.sealed.is_empty() {
                way.covering.words()
            } else {
                "colour trapped under clear powder, raised and glossy"
            },
            pieces: many(cost.pieces, "piece"),
            dryings: many(cost.dryings, "drying"),
            minutes: format!(
                "{} of work, {} drying",
                many(cost.minutes as usize, "minute"),
                cost.drying_minutes
            ),
            by_eye: match way.by_eye {
                0 => "each guides the next".into(),
                n => format!("{n} placed by eye"),
            },
            chosen: way.moves == panel.moves,
        }
    }
}

/// What is laid when, in a sentence.
fn order(panel: &Panel, way: &CoverWay) -> String {
    let plugged = way.plugs.iter().filter_map(|thing| panel.scene.things.get(*thing));
    let plugs: Vec<String> = plugged.map(|thing| format!("plug of the {}", thing.shape.name)).collect();
    let plugs = plugs.join(", the ");
    let called = |on: &Option<usize>| match on.and_then(|thing| panel.scene.things.get(thing)) {
        Some(thing) if thing.resist.is_some() && thing.is_inked() => {
            format!("the {} inside its frame, sealed under powder", thing.shape.name)
        }
        Some(thing) if thing.resist.is_some() => format!("powder melted on the {}", thing.shape.name),
        Some(thing) if thing.is_raised() && !thing.is_inked() => {
            format!("the {} raised in the folder", thing.shape.name)
        }
        Some(thing) if thing.over => format!("the {} over what lies behind", thing.shape.name),
        Some(thing) => format!("the {} inside its frame", thing.shape.name),
        None if way.plugs.is_empty() => "the ground".into(),
        None => format!("the ground, round the {plugs}"),
    };
    let told: Vec<String> = way.order.iter().map(called).collect();
    match told.as_slice() {
        [] => String::new(),
        [one] => format!("Only {one}."),
        [first, rest @ ..] => format!("First {first}, then {}.", rest.join(", then ")),
    }
}

/// The plugs that are not needed, in a sentence.
fn spared(panel: &Panel, way: &CoverWay) -> String {
    let things = panel.scene.things.iter().enumerate();
    let names: Vec<&str> = things
        .filter(|(place, thing)| {
            thing.is_inked() && !thing.over && thing.resist.is_none() && !way.plugs.contains(place)
        })
        .map(|(_, thing)| thing.shape.name.as_str())
        .collect();
    match names.as_slice() {
        [] => String::new(),
        [one] => format!(
            "The {one} needs no plug: what lies over or under it shifts it by less than the eye sees."
        ),
        all => format!(
            "The {} need no plugs: what lies over or under them shifts them by less than the eye sees.",
            all.join(", the ")
        ),
    }
}

fn cuts(panel: &Panel) -> Vec<CutRow> {
    let materials = panel.materials();
    let things = &materials.masks.things;
    let row = |taken: &Pieces| {
        let (shape, masked) = (&panel.scene.things.get(taken.thing)?.shape, &things[taken.thing]);
        let mut pieces: Vec<String> = Vec::new();
        let several = |n: usize, one: &str| if n == 1 { one.to_owned() } else { many(n, one) };
        pieces.extend((taken.frames > 0).then(|| several(taken.frames, masked.called(Part::Frame))));
        pieces.extend((taken.plugs > 0).then(|| several(taken.plugs, masked.called(Part::Plug))));
        pieces.extend((masked.counters > 0 && taken.frames > 0).then(|| many(masked.counters, "counter")));
        pieces.extend(taken.is_taped.then(|| "low-tack tape, nothing to cut".to_owned()));
        let mut pieces = pieces.join(", ");
        let others: Vec<&str> = taken.others.iter().map(|of| things[*of].name.as_str()).collect();
        if !others.is_empty() {
            pieces.push_str(&format!("; for {} too", others.join(", ")));
        }
        Some(CutRow {
            name: shape.name.to_string(),
            picture: small(&shape.outline().ok()?, shape.used),
            pieces,
        })
    };
    taken(&panel.moves, &materials).iter().filter_map(row).collect()
}

#[derive(Template)]
#[template(path = "cover.html")]
struct CoverPage {
    frame: Frame,
    head: PanelHead,
    scale: Scale,
    families: &'static [Family],
    /// The shapes of the bench.
    kept: Vec<(String, String)>,
    /// What an ink can be called, on the panel and in the drawer.
    inks: Vec<String>,
    state: String,
}

/// `GET /panels/{id}/cover`.
pub async fn show(
    OnPanel { visitor, id, state }: OnPanel,
    store: web::Data<Store>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units) = (visitor.bench.id, visitor.units());
    let panel = state.panel.clone();
    let kept = store.all::<Shape>(bench).await?;
    let drawer = store.all::<Ink>(bench).await?;
    page(&CoverPage {
        frame: Frame::of(&visitor),
        head: PanelHead::of(id, &panel, "cover"),
        scale: Scale::of(&panel, units),
        families: &FAMILIES,
        kept: kept.into_iter().map(|kept| (kept.id.to_string(), kept.value.name.to_string())).collect(),
        inks: names(panel.inks.iter().chain(drawer.iter().map(|kept| &kept.value))),
        state: say::json_in_page(&State::from(state)),
    })
}

/// Names that each stand for one ink: where two share one, their kinds follow.
pub(super) fn names<'a>(inks: impl Iterator<Item = &'a Ink>) -> Vec<String> {
    let mut known: Vec<&Ink> = Vec::new();
    for ink in inks {
        if !known.iter().any(|other| (&other.name, other.kind) == (&ink.name, ink.kind)) {
            known.push(ink);
        }
    }
    let is_twice = |ink: &Ink| known.iter().filter(|other| other.name == ink.name).count() > 1;
    known
        .iter()
        .map(|ink| if is_twice(ink) { format!("{}, {}", ink.name, ink.kind) } else { ink.name.to_string() })
        .collect()
}
