//! `POST /api/panels/look`: how a panel as it stands on the page would come out. Nothing is kept.

use std::sync::Arc;

use actix_web::{HttpResponse, web};
use rosy_core::blend::Way;
use rosy_core::blend::grip::{Grip, Measure, Value};
use rosy_core::document::Document;
use rosy_core::edit::blend::{Bend, Change};
use rosy_core::edit::{Has, edited};
use rosy_core::ink::{Ink, Paper, Tool};
use rosy_core::judgement::remedy::{in_sequence, suggested};
use rosy_core::judgement::{Finding, Owned, Reading, Remedy, Rule};
use rosy_core::moves::light_passes;
use rosy_core::order::{Cost, Dirt, lay};
use rosy_core::scene::School;
use rosy_core::surface::brushes::shift_in_words;
use rosy_core::surface::{Look as Seen, Materials};
use rosy_core::{Length, Panel, Units};
use rosy_store::Store;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::hills::Hills;
use crate::error::{ApiProblem, Problem, sentence};
use crate::pages::sheet::brush_work;
use crate::picture::{data_url, for_page, is_large};
use crate::plans::{laid, planned};
use crate::say::many;
use crate::visitor::{Caller, Read};
use crate::workroom::Workroom;

/// Pixels to the inch of the small pictures of other orders.
const SMALL: f64 = 26.0;

/// What is asked.
#[derive(Deserialize)]
pub struct Asked {
    panel: Document,
    /// The blend that is looked at, by its place on the ground.
    #[serde(default)]
    blend: usize,
    /// A change to it, to be looked at and perhaps kept.
    #[serde(default)]
    change: Option<Change>,
    /// Pixels to the inch of the picture.
    dpi: f64,
    /// Whether there is time for remedies and other orders, or the hand is still moving.
    settled: bool,
    /// Whether it is shown as it looks when just laid, still damp.
    #[serde(default)]
    damp: bool,
}

/// How it would come out.
#[derive(Serialize)]
struct Look {
    panel: Panel,
    picture: String,
    /// The blend looked at.
    blend: usize,
    blends: Vec<BlendNote>,
    way: WayNote,
    hills: Hills,
    inks: Vec<InkNote>,
    junctions: Vec<JunctionNote>,
    /// All that will go wrong on the panel, in order along its blends.
    findings: Vec<FindingNote>,
    /// Which of them are about what water has brought.
    brought: Vec<usize>,
    colours_seen: Vec<String>,
    #[serde(flatten)]
    settled: Option<Settled>,
}

/// One of the panel's blends, in a line.
#[derive(Serialize)]
struct BlendNote {
    words: &'static str,
    colours: Vec<String>,
    names: String,
    findings: usize,
}

/// Which way the blend runs, and by what it is taken hold of.
#[derive(Serialize)]
struct WayNote {
    way: Way,
    placed: Option<String>,
    grips: Vec<GripNote>,
    measures: Vec<MeasureNote>,
}

#[derive(Serialize)]
struct GripNote {
    grip: Grip,
    words: &'static str,
    /// Per cent from the left and from the top of the picture.
    left: f64,
    top: f64,
}

#[derive(Serialize)]
struct MeasureNote {
    measure: Measure,
    words: &'static str,
    text: String,
}

/// What takes a moment longer.
#[derive(Serialize)]
struct Settled {
    schools: Vec<SchoolNote>,
    order: OrderNote,
}

#[derive(Serialize)]
struct InkNote {
    says: String,
    /// What will go wrong with it, by place among the findings.
    findings: Vec<usize>,
}

#[derive(Serialize)]
struct JunctionNote {
    named: String,
    colour: String,
    verdict: &'static str,
    says: String,
    /// The inks that meet.
    of: String,
    /// Whether they are of different blends.
    crossing: bool,
    /// Share of the way across the drawing.
    middle: f64,
    findings: Vec<usize>,
}

#[derive(Serialize)]
struct FindingNote {
    /// The blend it is told in.
    blend: usize,
    says: String,
    /// Per cent from the left and from the top of the picture.
    left: f64,
    top: f64,
    /// How bad it is, in a sentence.
    figure: String,
    /// The figure behind it, for those who ask.
    exactly: Option<String>,
    /// What mends it, the best first.
    remedies: Vec<RemedyNote>,
    /// That nothing mends all of it, where that is so.
    unmended: Option<&'static str>,
}

#[derive(Serialize)]
struct RemedyNote {
    says: String,
    /// How the panel would look then.
    picture: String,
    panel: Panel,
}

#[derive(Serialize)]
struct SchoolNote {
    key: School,
    words: &'static str,
    why: &'static str,
    cost: String,
    says: String,
    /// The figure behind it, for those who ask.
    exactly: Option<String>,
    chosen: bool,
}

#[derive(Serialize)]
struct OrderNote {
    present: String,
    present_says: String,
    other: Option<OtherOrder>,
}

#[derive(Serialize)]
struct OtherOrder {
    picture: String,
    names: String,
    says: String,
    panel: Panel,
}

/// Looks.
pub async fn look(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    Read(asked): Read<Asked>,
) -> Result<HttpResponse, ApiProblem> {
    let units = caller.visitor.units();
    let owned = if asked.settled { owned(&store, caller.visitor.bench.id).await? } else { Owned::default() };
    let asker = caller.visitor.asker().heavy_if(is_large(asked.dpi));
    let looked = room.done(&asker, move || {
        let look = looked(asked, &owned, units)?;
        serde_json::to_vec(&look).map_err(|error| error.to_string())
    });
    let look = looked.await?.map_err(|says| Problem::Refused(sentence(&says)))?;
    Ok(HttpResponse::Ok().content_type("application/json").body(look))
}

/// What the maker has to mend with.
async fn owned(store: &Store, bench: Uuid) -> Result<Owned, Problem> {
    Ok(Owned {
        inks: store.all::<Ink>(bench).await?.into_iter().map(|kept| kept.value).collect(),
        tools: store.all::<Tool>(bench).await?.into_iter().map(|kept| kept.value).collect(),
        papers: store.all::<Paper>(bench).await?.into_iter().map(|kept| kept.value).collect(),
    })
}

/// Share of a side in per cent.
fn per_cent(at: Length, side: Length) -> f64 {
    100.0 * at.ratio(side)
}

fn looked(asked: Asked, owned: &Owned, units: Units) -> Result<Look, String> {
    let panel = planned(asked.panel).map_err(|error| error.to_string())?;
    let (panel, place) = match asked.change {
        Some(change) => {
            let bend = Bend { blend: asked.blend, change };
            let changed = edited(Panel::clone(&panel), &bend, &Has { units, ..Has::default() });
            let changed = changed.map_err(|refused| refused.says)?;
            (laid(changed.panel), changed.blend.unwrap_or(asked.blend))
        }
        None => {
            let last = panel.scene.ground.len().saturating_sub(1);
            (panel, asked.blend.min(last))
        }
    };
    panel.check().map_err(|error| error.to_string())?;
    if panel.scene.ground.is_empty() {
        return Err("this panel has no blend: add one".into());
    }
    let materials = panel.materials();
    let dpi = for_page(&panel, asked.dpi);
    let picture = match asked.damp {
        true => data_url(&just_laid(&panel).looked_at(Seen::Now), dpi),
        false => data_url(panel.surface(), dpi),
    };
    let picture = picture.map_err(|error| error.to_string())?;
    let whole = panel.reading();
    let reading = of_ground(whole);
    let hills = Hills::of(&panel, place, units);
    let (span, turned) = (panel.span(place), hills.turned);
    let note = |finding: &Finding| {
        let remedies = if asked.settled {
            Remedy::all(&panel, materials, whole, finding, owned, units)
        } else {
            Vec::new()
        };
        let (figure, exactly) = figure(finding, units, panel.span(finding.blend));
        let mends = remedies.first().is_some_and(|best| best.mends);
        let unmended = (asked.settled && !mends).then(|| unmended(finding.rule, remedies.is_empty()));
        FindingNote {
            blend: finding.blend,
            says: finding.says.clone(),
            left: per_cent(finding.spot.left, panel.width),
            top: per_cent(finding.spot.top, panel.height),
            figure,
            exactly,
            unmended,
            remedies: remedies
                .into_iter()
                .map(|remedy| RemedyNote {
                    picture: data_url(&remedy.panel.surface(), SMALL).unwrap_or_default(),
                    panel: remedy.panel,
                    says: remedy.says,
                })
                .collect(),
        }
    };
    let blend = &panel.scene.ground[place];
    let places = |of: &dyn Fn(&Finding) -> bool| -> Vec<usize> {
        reading.findings.iter().enumerate().filter(|(_, finding)| of(finding)).map(|(at, _)| at).collect()
    };
    // An ink that is in several blends is told of in the first that has it.
    let tells = |finding: &Finding, ink: usize| finding.inks == [ink] && finding.blend == place;
    let inks = blend
        .fields
        .iter()
        .enumerate()
        .map(|(at, field)| InkNote {
            says: ink_says(&panel, place, at, units),
            findings: places(&|finding| tells(finding, field.ink)),
        })
        .collect();
    let neighbours =
        |pair: [usize; 2]| blend.fields.windows(2).any(|fields| [fields[0].ink, fields[1].ink] == pair);
    let junctions = reading
        .junctions
        .iter()
        .filter(|junction| {
            let here = blend.fields.iter().any(|field| junction.inks.contains(&field.ink));
            (junction.blend == place && neighbours(junction.inks))
                || (here && is_crossing(&panel, junction.inks))
        })
        .map(|junction| {
            let crossing = is_crossing(&panel, junction.inks);
            let along = (junction.middle_mm / span.mm()).clamp(0.0, 1.0);
            let along = if turned { 1.0 - along } else { along };
            let says = match junction.at {
                Some(reach) if junction.blend == place => format!(
                    "meets between {} and {}",
                    reach.from.shown(units).number(),
                    reach.to.shown(units)
                ),
                Some(_) => "lies over the other blend".into(),
                None => "the two do not meet".into(),
            };
            let own = |finding: &Finding| {
                finding.rule != Rule::Muddied
                    && finding.inks.len() == 2
                    && finding.inks.iter().all(|ink| junction.inks.contains(ink))
            };
            JunctionNote {
                named: junction.named.to_string(),
                colour: junction.srgb.to_string(),
                verdict: junction.verdict.word(),
                of: junction.inks.map(|ink| panel.inks[ink].name.as_str()).join(" and "),
                says,
                crossing,
                middle: if crossing { junction.spot.top.ratio(panel.height) } else { along },
                findings: places(&own),
            }
        })
        .collect();
    let brought = places(&|finding| finding.rule == Rule::Muddied);
    let settled = if asked.settled { Some(settled(&panel, materials, place, &reading)?) } else { None };
    let findings = reading.findings.iter().map(note).collect();
    let colours_seen = reading.colours_seen.iter().map(ToString::to_string).collect();
    let (way, blends) = (way_note(&panel, place, units), blend_notes(&panel, &reading));
    Ok(Look {
        picture,
        blend: place,
        blends,
        way,
        hills,
        inks,
        junctions,
        brought,
        findings,
        colours_seen,
        settled,
        panel: Panel::clone(&panel),
    })
}

/// What of a reading is about the ground.
fn of_ground(whole: &Reading) -> Reading {
    let mut reading = whole.clone();
    reading.findings.retain(|finding| finding.on.is_none());
    reading.junctions.retain(|junction| junction.on.is_none());
    reading
}

/// Whether two inks are neighbours in no blend.
fn is_crossing(panel: &Panel, [one, other]: [usize; 2]) -> bool {
    let neighbours = |fields: &[rosy_core::blend::Field]| {
        [[one, other], [other, one]].contains(&[fields[0].ink, fields[1].ink])
    };
    !panel.scene.ground.iter().any(|blend| blend.fields.windows(2).any(neighbours))
}

/// The card when its last ink has just been laid.
fn just_laid(panel: &Panel) -> rosy_core::surface::Surface {
    use rosy_core::moves::Technique;
    let laid = panel.moves.iter().rposition(|m| m.laying().is_some());
    panel.after(laid.map_or(0, |last| last + 1))
}

fn way_note(panel: &Panel, place: usize, units: Units) -> WayNote {
    let way = panel.scene.ground[place].way;
    let (width, height) = (panel.width.mm(), panel.height.mm());
    let grip = |(grip, (x, y)): (Grip, (f64, f64))| GripNote {
        grip,
        words: grip.words(),
        left: 100.0 * x / width,
        top: 100.0 * y / height,
    };
    let measure = |(measure, value): (Measure, Value)| MeasureNote {
        measure,
        words: measure.words(),
        text: match value {
            Value::Degrees(degrees) => format!("{degrees}°"),
            Value::Length(length) => length.shown(units).to_string(),
        },
    };
    WayNote {
        way,
        placed: way.placed(units),
        grips: way.grips(panel.size()).into_iter().map(grip).collect(),
        measures: way.measures().into_iter().map(measure).collect(),
    }
}

fn blend_notes(panel: &Panel, reading: &Reading) -> Vec<BlendNote> {
    let note = |(place, blend): (usize, &rosy_core::blend::Blend)| {
        let inks = blend.fields.iter().map(|field| &panel.inks[field.ink]);
        BlendNote {
            words: blend.way.words(),
            colours: inks.clone().map(|ink| ink.lab().on_screen(Default::default()).0.to_string()).collect(),
            names: inks.map(|ink| ink.name.as_str()).collect::<Vec<_>>().join(", "),
            findings: reading
                .findings
                .iter()
                .filter(|finding| finding.blend == place && finding.rule != Rule::Muddied)
                .count(),
        }
    };
    panel.scene.ground.iter().enumerate().map(note).collect()
}

/// How bad it is, in a sentence, and the figure behind it for those who ask.
fn figure(finding: &Finding, units: Units, span: Length) -> (String, Option<String>) {
    let Finding { figure, limit, .. } = *finding;
    let at = finding.at.from.min(span).shown(units);
    let past = |share: f64, just: &str, by: &dyn Fn(String) -> String| match share {
        s if s < 1.15 => just.to_owned(),
        s if s < 1.95 => by(format!("{s:.1} times")),
        s => by(format!("{s:.0} times")),
    };
    match finding.rule {
        Rule::HardEdge => (
            past(figure / limit, "The colour changes just faster than the eye takes for smooth.", &|times| {
                format!("The colour changes {times} as fast as the eye takes for smooth.")
            }),
            Some(format!("{figure:.1} in a millimetre, smooth up to {limit:.1} (CIEDE2000)")),
        ),
        Rule::DarkBand => (
            past(figure / limit, "It is just darker than goes unseen.", &|times| {
                format!("It is {times} as much darker than its sides as goes unseen.")
            }),
            Some(format!("{figure:.0} darker than its darker side, unseen up to {limit:.0} (CIE L*)")),
        ),
        Rule::Mud => (
            format!(
                "The meeting is {:.0} % as strong in colour as its two sides; from {:.0} % on it looks clean.",
                100.0 * figure,
                100.0 * limit
            ),
            Some(format!("Oklab chroma kept {figure:.2}, clean from {limit:.2}")),
        ),
        Rule::Splotch => (
            past(figure / limit, "It is just more uneven than looks even.", &|times| {
                format!("It is {times} as uneven as looks even.")
            }),
            Some(format!("uneven by {figure:.1}, even up to {limit:.1} (CIEDE2000, one standard deviation)")),
        ),
        Rule::Gap | Rule::Overload => (format!("At {at}."), None),
        Rule::Narrow => (format!("{figure:.0} of {limit:.0} find room."), None),
        Rule::Muddied => (format!("From {:.0} % of the card on it is seen.", 100.0 * limit), None),
        Rule::Faint => (format!("It is {figure:.0}; from {limit:.0} on it shows."), None),
        Rule::Weak => (format!("{figure:.0} light passes to its full strength, of about {limit:.0}."), None),
        Rule::Strong => (
            "One light pass already shows more than a gentle fade allows.".into(),
            Some(format!("{figure:.0} from bare card, gentle up to {limit:.0} (CIEDE2000)")),
        ),
    }
}

/// Why nothing mends all of it.
fn unmended(rule: Rule, nothing_helps: bool) -> &'static str {
    match (rule, nothing_helps) {
        (_, false) => "Each of these helps; none that was tried mends all of it.",
        (Rule::Mud, _) => {
            "Neither another order, nor a narrower meeting, nor any ink of the drawer between them keeps it clean."
        }
        (Rule::Muddied, _) => {
            "No ink in the drawer stays clean there: keep the two apart, with a mask or a dry brush between."
        }
        (Rule::HardEdge | Rule::Gap, _) => "There is no room to widen it on this panel.",
        (Rule::DarkBand, _) => {
            "Neither a narrower meeting nor fewer passes lighten it without spoiling something else."
        }
        (Rule::Overload, _) => "Fewer passes would lose the colour: nothing that was tried helps.",
        (Rule::Splotch, _) => {
            "Neither other passes, nor a softer tool, nor a smoother card of yours evens it out."
        }
        (Rule::Narrow, _) => "It is narrower than the tool: widen its band by hand.",
        (Rule::Faint, _) => "Where it stands it takes another ink.",
        (Rule::Weak, _) => "No ink of the drawer that comes near to it is stronger.",
        (Rule::Strong, _) => "No ink of the drawer that comes near to it can be laid more lightly.",
    }
}

fn ink_says(panel: &Panel, place: usize, at: usize, units: Units) -> String {
    let (blend, span) = (&panel.scene.ground[place], panel.span(place));
    let (field, way) = (&blend.fields[at], blend.way);
    let passes = light_passes(field.veils.into());
    let (from, to) = (way.from(), way.to());
    let range = |a: Length, b: Length| format!("{} to {}", a.shown(units).number(), b.shown(units));
    let begins = field.starts == Length::ZERO && field.full_from == Length::ZERO;
    let ends = field.ends == span && field.full_to == span;
    match (begins, ends) {
        (true, true) if way.runs_on() => format!("{passes} over the whole panel"),
        (true, _) => format!("{passes} from the {from}, fading from {}", range(field.full_to, field.ends)),
        (false, true) if way.has_two_ends() => format!(
            "{passes} from the {to}, fading from {} from it",
            range(span - field.full_from, span - field.starts)
        ),
        (false, true) => format!("{passes}, full from {} on", field.full_from.shown(units)),
        (false, false) => format!("{passes}, full from {}", range(field.full_from, field.full_to)),
    }
}

fn settled(
    panel: &Panel,
    materials: &Arc<Materials>,
    place: usize,
    reading: &Reading,
) -> Result<Settled, String> {
    let schools = School::ALL
        .into_iter()
        .map(|school| {
            let cost = Cost::of(&lay(&panel.scene, materials, school), materials);
            let name = |ink: usize| &panel.inks[ink].name;
            let risk = match cost.unwiped {
                None => "no ink would be soiled even unwiped".to_owned(),
                Some(Dirt { ink, by, shift }) => {
                    format!("unwiped, {} would make {} {}", name(by), name(ink), shift_in_words(shift))
                }
            };
            SchoolNote {
                key: school,
                words: school.words(),
                why: school.why(),
                cost: format!("about {}, {}", many(cost.minutes as usize, "minute"), brush_work(&cost)),
                says: format!(
                    "{} in {}, {}; {risk}",
                    light_passes(cost.veils),
                    many(cost.rounds.into(), "round"),
                    many(cost.changes, "ink change")
                ),
                exactly: cost.unwiped.map(|dirt| format!("shifted by {:.1} (CIEDE2000)", dirt.shift)),
                chosen: school == panel.school,
            }
        })
        .collect();
    let small = |panel: &Panel| data_url(&panel.surface(), SMALL).map_err(|error| error.to_string());
    let blend = &panel.scene.ground[place];
    let (sequence, _) = suggested(panel, blend);
    let other = if sequence.is_sorted() {
        None
    } else {
        let fields = in_sequence(blend, &sequence);
        let names: Vec<&str> = fields.iter().map(|field| panel.inks[field.ink].name.as_str()).collect();
        let names = names.join(", ");
        let reordered = panel.clone().with_blend(place, rosy_core::blend::Blend { fields, ..blend.clone() });
        let judged = Reading::of(&reordered);
        Some(OtherOrder { picture: small(&reordered)?, names, says: joins(&judged, place), panel: reordered })
    };
    let order = OrderNote { present: small(panel)?, present_says: joins(reading, place), other };
    Ok(Settled { schools, order })
}

/// The joins of a blend in a word each.
fn joins(reading: &Reading, blend: usize) -> String {
    let words: Vec<String> = reading
        .junctions
        .iter()
        .filter(|junction| junction.blend == blend)
        .map(|junction| format!("{} {}", junction.verdict.word(), junction.named))
        .collect();
    words.join(", ")
}
