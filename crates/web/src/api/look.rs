//! `POST /api/panels/look`: how a panel as it stands on the page would come out. Nothing is kept.

use actix_web::{HttpResponse, web};
use rosy_core::blend::{Finding, Reading, Remedy, remedy::suggested};
use rosy_core::order::moves::light_passes;
use rosy_core::order::{Cost, School, lay};
use rosy_core::panel::Document;
use rosy_core::{Length, Panel, Units};
use serde::{Deserialize, Serialize};

use super::hills::Hills;
use crate::error::{ApiProblem, Problem, sentence};
use crate::picture::{data_url, for_page};
use crate::visitor::{Caller, Read};
use crate::workroom::Workroom;

/// Pixels to the inch of the small pictures of other orders.
const SMALL: f64 = 26.0;

/// What is asked.
#[derive(Deserialize)]
pub struct Asked {
    panel: Document,
    /// Pixels to the inch of the picture.
    dpi: f64,
    /// Whether there is time for remedies and other orders, or the hand is still moving.
    settled: bool,
}

/// How it would come out.
#[derive(Serialize)]
struct Look {
    panel: Panel,
    picture: String,
    hills: Hills,
    inks: Vec<InkNote>,
    junctions: Vec<JunctionNote>,
    colours_seen: Vec<String>,
    #[serde(flatten)]
    settled: Option<Settled>,
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
    findings: Vec<FindingNote>,
}

#[derive(Serialize)]
struct JunctionNote {
    named: String,
    colour: String,
    verdict: &'static str,
    says: String,
    /// Share of the way across the drawing.
    middle: f64,
    findings: Vec<FindingNote>,
}

#[derive(Serialize)]
struct FindingNote {
    says: String,
    /// How bad it is, in a sentence.
    figure: String,
    /// The figure behind it, for those who ask.
    exactly: Option<String>,
    remedy: Option<RemedyNote>,
}

#[derive(Serialize)]
struct RemedyNote {
    says: String,
    panel: Panel,
}

#[derive(Serialize)]
struct SchoolNote {
    key: School,
    words: &'static str,
    why: &'static str,
    cost: String,
    says: String,
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
    room: web::Data<Workroom>,
    Read(asked): Read<Asked>,
) -> Result<HttpResponse, ApiProblem> {
    let units = caller.visitor.units();
    let looked = room.done(caller.visitor.asker(), move || {
        let look = looked(asked, units)?;
        serde_json::to_vec(&look).map_err(|error| error.to_string())
    });
    let look = looked.await?.map_err(|says| Problem::Refused(sentence(&says)))?;
    Ok(HttpResponse::Ok().content_type("application/json").body(look))
}

fn looked(asked: Asked, units: Units) -> Result<Look, String> {
    let panel = asked.panel.laid().map_err(|error| error.to_string())?;
    let materials = panel.materials();
    let dpi = for_page(&panel, asked.dpi);
    let picture = data_url(&materials, panel.moves.len(), dpi).map_err(|error| error.to_string())?;
    let reading = Reading::of(&materials);
    let hills = Hills::of(&panel, units);
    let span = panel.span();
    let turned = hills.turned;
    let note = |finding: &Finding| {
        let remedy = if asked.settled { Remedy::find(&panel, &reading, finding, units) } else { None };
        let (figure, exactly) = figure(finding, units, span);
        FindingNote {
            says: finding.says.clone(),
            figure,
            exactly,
            remedy: remedy.map(|remedy| RemedyNote { panel: remedy.apply(&panel), says: remedy.says }),
        }
    };
    let of_junction = |rule: rosy_core::blend::Rule| {
        use rosy_core::blend::Rule;
        matches!(rule, Rule::Mud | Rule::DarkBand | Rule::HardEdge | Rule::Gap)
    };
    let inks = (0..panel.inks.len())
        .map(|ink| InkNote {
            says: ink_says(&panel, ink, units),
            findings: reading
                .findings
                .iter()
                .filter(|finding| !of_junction(finding.rule) && finding.of == ink)
                .map(note)
                .collect(),
        })
        .collect();
    let junctions = reading
        .junctions
        .iter()
        .enumerate()
        .map(|(at, junction)| {
            let along = (junction.middle_mm / span.mm()).clamp(0.0, 1.0);
            let says = match junction.at {
                Some(reach) => format!(
                    "meets between {} and {}",
                    reach.from.shown(units).number(),
                    reach.to.shown(units)
                ),
                None => "the two do not meet".into(),
            };
            JunctionNote {
                named: junction.named.to_string(),
                colour: junction.srgb.to_string(),
                verdict: junction.verdict.word(),
                says,
                middle: if turned { 1.0 - along } else { along },
                findings: reading
                    .findings
                    .iter()
                    .filter(|finding| of_junction(finding.rule) && finding.of == at)
                    .map(note)
                    .collect(),
            }
        })
        .collect();
    let settled = if asked.settled { Some(settled(&panel, &reading)?) } else { None };
    let colours_seen = reading.colours_seen.iter().map(ToString::to_string).collect();
    Ok(Look { picture, hills, inks, junctions, colours_seen, settled, panel: panel.clone() })
}

/// How bad it is, in a sentence, and the figure behind it for those who ask.
fn figure(finding: &Finding, units: Units, span: Length) -> (String, Option<String>) {
    use rosy_core::blend::Rule;
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
    }
}

fn ink_says(panel: &Panel, ink: usize, units: Units) -> String {
    let (field, span) = (&panel.blend.fields[ink], panel.span());
    let passes = light_passes(field.veils.into());
    let (from, to) = (panel.blend.direction.from(), panel.blend.direction.to());
    let range = |a: Length, b: Length| format!("{} to {}", a.shown(units).number(), b.shown(units));
    match (
        field.starts == Length::ZERO && field.full_from == Length::ZERO,
        field.ends == span && field.full_to == span,
    ) {
        (true, true) => format!("{passes} over the whole panel"),
        (true, false) => {
            format!("{passes} from the {from}, fading from {}", range(field.full_to, field.ends))
        }
        (false, true) => format!(
            "{passes} from the {to}, fading from {} from it",
            range(span - field.full_from, span - field.starts)
        ),
        (false, false) => format!("{passes}, full from {}", range(field.full_from, field.full_to)),
    }
}

/// So many of something.
fn many(n: u32, one: &str) -> String {
    if n == 1 { format!("1 {one}") } else { format!("{n} {one}s") }
}

fn rounds(n: u8) -> String {
    many(n.into(), "round")
}

fn settled(panel: &Panel, reading: &Reading) -> Result<Settled, String> {
    let schools = School::ALL
        .into_iter()
        .map(|school| {
            let cost = Cost::of(&lay(&panel.blend, &panel.inks, panel.span(), school), &panel.inks);
            let risk = match cost.dark_then_light {
                0 => "no light pad at risk".to_owned(),
                1 => "a light ink follows a dark one once".to_owned(),
                n => format!("a light ink follows a dark one {n} times"),
            };
            SchoolNote {
                key: school,
                words: school.words(),
                why: school.why(),
                cost: format!(
                    "about {}, {}",
                    many(cost.minutes, "minute"),
                    many(cost.changes as u32, "ink change")
                ),
                says: format!("{} in {}; {risk}", light_passes(cost.veils), rounds(cost.rounds)),
                chosen: school == panel.school,
            }
        })
        .collect();
    let small = |panel: &Panel| {
        data_url(&panel.materials(), panel.moves.len(), SMALL).map_err(|error| error.to_string())
    };
    let (sequence, (score, present_score)) = suggested(panel);
    let as_is: Vec<usize> = (0..panel.inks.len()).collect();
    let other = if sequence == as_is {
        None
    } else {
        let remedy = Remedy {
            says: String::new(),
            fields: sequence
                .iter()
                .zip(&panel.blend.fields)
                .map(|(&ink, field)| rosy_core::blend::Field {
                    veils: panel.blend.fields[ink].veils,
                    ..*field
                })
                .collect(),
            sequence,
            trouble: (present_score, score),
        };
        let reordered = remedy.apply(panel);
        let judged = Reading::of(&reordered.materials());
        let names: Vec<&str> = reordered.inks.iter().map(|ink| ink.name.as_str()).collect();
        Some(OtherOrder {
            picture: small(&reordered)?,
            names: names.join(", "),
            says: joins(&judged),
            panel: reordered,
        })
    };
    let order = OrderNote { present: small(panel)?, present_says: joins(reading), other };
    Ok(Settled { schools, order })
}

/// The joins in a word each.
fn joins(reading: &Reading) -> String {
    let words: Vec<String> = reading
        .junctions
        .iter()
        .map(|junction| format!("{} {}", junction.verdict.word(), junction.named))
        .collect();
    words.join(", ")
}
