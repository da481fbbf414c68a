//! What will the laid blend look like along its path, and what is wrong with it?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::field::Reach;
use super::limits::{BARE, DARK_BAND, HARD_A_MM, PRESENT, SEEN_APART, SPLOTCH, SUDDEN_A_MM};
use super::meeting::{Meeting, Verdict};
use crate::colour::{ColourName, Illuminant, Lab, Srgb};
use crate::length::Length;
use crate::order::moves::light_passes;
use crate::panel::Materials;

/// Millimetres between the places looked at.
const STEP_MM: f64 = 1.0;

/// The rule a finding comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Rule {
    /// A join that changes too fast.
    HardEdge,
    /// A join darker than both its sides.
    DarkBand,
    /// A join that turns grey or brown.
    Mud,
    /// Bare card between two inks.
    Gap,
    /// An ink that will look uneven.
    Splotch,
    /// More veils in one place than the card takes up.
    Overload,
    /// A hill too narrow for its veils.
    Narrow,
}

/// Something that will go wrong: where, how far, against which limit, and why.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Finding {
    /// The rule.
    pub rule: Rule,
    /// The junction, by the place of its first ink from 0, or else the ink itself.
    pub of: usize,
    /// Where along the blend.
    pub at: Reach,
    /// The figure, in the rule's measure.
    pub figure: f64,
    /// The limit it breaks.
    pub limit: f64,
    /// In plain words.
    pub says: String,
}

/// Where two neighbouring inks meet on the panel.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Junction {
    /// Where both are present; none where they do not meet.
    pub at: Option<Reach>,
    /// Where they stand equal, in millimetres along the blend.
    pub middle_mm: f64,
    /// The colour there.
    pub lab: Lab,
    /// On a screen.
    pub srgb: Srgb,
    /// What a maker would call it.
    pub named: ColourName,
    /// Whether it is clean.
    pub verdict: Verdict,
    /// Oklab chroma kept, as a share of the two sides.
    pub chroma_kept: f64,
    /// The share from which it is clean.
    pub clean_from: f64,
    /// L* below the darker side.
    pub dark_band: f64,
    /// ΔE00 a millimetre where the join is steepest.
    pub steepest: f64,
    /// Why the verdict.
    pub why: String,
}

/// How one ink comes out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct InkReading {
    /// Light passes laid where it is full.
    pub veils: usize,
    /// The colour in the middle of its hill.
    pub srgb: Srgb,
    /// What a maker would call it.
    pub named: ColourName,
    /// ΔE00 of one standard deviation of its film: how splotchy it looks.
    pub splotch: f64,
    /// The same if the ink were laid in half as many passes of double weight.
    pub splotch_if_heavy: f64,
}

/// The judgement of a laid blend.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Reading {
    /// Each ink.
    pub inks: Vec<InkReading>,
    /// Each junction, in order along the blend.
    pub junctions: Vec<Junction>,
    /// What will go wrong, in order along the blend.
    pub findings: Vec<Finding>,
    /// The colours seen from start to end.
    pub colours_seen: Vec<ColourName>,
}

/// One place along the path.
struct Sample {
    place: f64,
    veils: Vec<f64>,
    lab: Lab,
}

impl Reading {
    /// Reads the panel as its moves leave it.
    pub fn of(materials: &Materials) -> Reading {
        let panel = materials.panel;
        let samples = walk(materials);
        let inks: Vec<InkReading> =
            (0..panel.inks.len()).map(|ink| read_ink(materials, &samples, ink)).collect();
        let junctions: Vec<Junction> =
            (1..panel.inks.len()).map(|second| read_junction(materials, &samples, second - 1)).collect();
        let mut reading = Reading { inks, junctions, findings: Vec::new(), colours_seen: seen(&samples) };
        reading.findings = find(materials, &samples, &reading);
        reading
    }

    /// How bad the findings are together: 0 where there are none. A remedy must bring it down.
    pub fn trouble(&self) -> f64 {
        let weigh = |finding: &Finding| match finding.rule {
            Rule::Mud => 3.0 + 3.0 * (finding.limit - finding.figure).max(0.0),
            Rule::Gap | Rule::Narrow => 1.0,
            _ => finding.figure / finding.limit,
        };
        self.findings.iter().map(weigh).sum()
    }
}

fn walk(materials: &Materials) -> Vec<Sample> {
    let panel = materials.panel;
    let step = STEP_MM * panel.blend.direction.stretch();
    let count = (panel.span().mm() / step).ceil() as usize;
    (0..=count)
        .map(|n| {
            let place = (n as f64 * step).min(panel.span().mm());
            let by_move = materials.veils_at(&panel.moves, place);
            let stack = materials.stack(&panel.moves, &by_move, |_| 1.0);
            let veils = materials.by_ink(&panel.moves, &by_move);
            Sample { place, veils, lab: stack.lab(Illuminant::D65) }
        })
        .collect()
}

/// The sample in the middle of where an ink is fullest.
fn fullest(samples: &[Sample], ink: usize) -> &Sample {
    let most = samples.iter().map(|s| s.veils[ink]).fold(0.0, f64::max);
    let full: Vec<usize> = (0..samples.len()).filter(|&n| samples[n].veils[ink] > most - 0.02).collect();
    &samples[full[full.len() / 2]]
}

fn read_ink(materials: &Materials, samples: &[Sample], ink: usize) -> InkReading {
    let panel = materials.panel;
    let sample = fullest(samples, ink);
    let by_move = materials.veils_at(&panel.moves, sample.place);
    let veils = sample.veils[ink];
    let sigma = panel.tool.kind.unevenness() * panel.paper.surface.unevenness();
    // One standard deviation of n veils is σ√n; laid in passes of double weight, √2 times that.
    let off = |weight: f64| {
        let more = 1.0 + weight * sigma * veils.sqrt() / veils.max(f64::EPSILON);
        let grown = materials.stack(&panel.moves, &by_move, |other| if other == ink { more } else { 1.0 });
        grown.lab(Illuminant::D65).difference(sample.lab)
    };
    InkReading {
        veils: veils.round() as usize,
        srgb: sample.lab.on_screen(Illuminant::D65).0,
        named: ColourName::of(sample.lab),
        splotch: off(1.0),
        splotch_if_heavy: off(std::f64::consts::SQRT_2),
    }
}

fn read_junction(materials: &Materials, samples: &[Sample], first: usize) -> Junction {
    let panel = materials.panel;
    let share = |s: &Sample, ink: usize| s.veils[ink] / f64::from(panel.inks[ink].full_veils);
    let both = |s: &&Sample| s.veils[first] > PRESENT && s.veils[first + 1] > PRESENT;
    let meeting: Vec<&Sample> = samples.iter().filter(both).collect();
    let (one, other) = (fullest(samples, first), fullest(samples, first + 1));
    let between = |s: &&Sample| (one.place.min(other.place)..=one.place.max(other.place)).contains(&s.place);
    let stretch: Vec<&Sample> = samples.iter().filter(between).collect();
    let middle = stretch
        .iter()
        .min_by(|a, b| {
            let apart = |s: &Sample| (share(s, first) - share(s, first + 1)).abs();
            apart(a).total_cmp(&apart(b))
        })
        .copied()
        .unwrap_or(one);
    let darkest = stretch.iter().map(|s| s.lab.l).fold(f64::INFINITY, f64::min);
    let judged = Meeting::judge(one.lab, middle.lab, other.lab);
    let dark_band = (one.lab.l.min(other.lab.l) - darkest).max(0.0);
    let per_mm = STEP_MM;
    let steepest = stretch
        .windows(2)
        .filter(|pair| pair[1].place - pair[0].place > 0.5 * per_mm)
        .map(|pair| pair[0].lab.difference(pair[1].lab) / per_mm)
        .fold(0.0, f64::max);
    let mark = Length::from_64ths(8);
    let at = match (meeting.first(), meeting.last()) {
        (Some(a), Some(b)) => {
            Some(Reach { from: Length::nearest(a.place, mark), to: Length::nearest(b.place, mark) })
        }
        _ => None,
    };
    let meeting = Meeting { dark_band, ..judged };
    Junction {
        at,
        middle_mm: middle.place,
        lab: middle.lab,
        srgb: middle.lab.on_screen(Illuminant::D65).0,
        why: meeting.why(),
        named: meeting.named,
        verdict: meeting.verdict,
        chroma_kept: meeting.chroma_kept,
        clean_from: meeting.limits.1,
        dark_band,
        steepest,
    }
}

/// Colours met along the path, each named once where it is first far enough from the last.
fn seen(samples: &[Sample]) -> Vec<ColourName> {
    let mut seen: Vec<(ColourName, Lab)> = Vec::new();
    for sample in samples {
        let name = ColourName::of(sample.lab);
        if seen.iter().all(|(known, lab)| *known != name && lab.difference(sample.lab) > SEEN_APART) {
            seen.push((name, sample.lab));
        }
    }
    seen.into_iter().map(|(name, _)| name).collect()
}

fn find(materials: &Materials, samples: &[Sample], reading: &Reading) -> Vec<Finding> {
    let panel = materials.panel;
    let mut findings = Vec::new();
    let name = |ink: usize| panel.inks[ink].name.as_str();
    let mark = Length::from_64ths(8);
    for (of, junction) in reading.junctions.iter().enumerate() {
        let middle = Length::nearest(junction.middle_mm, mark);
        let at = junction.at.unwrap_or(Reach { from: middle, to: middle });
        let pair = format!("{} and {}", name(of), name(of + 1));
        let bare = samples
            .iter()
            .find(|s| (s.place - junction.middle_mm).abs() < STEP_MM && s.veils.iter().sum::<f64>() < BARE);
        if let Some(bare) = bare {
            let says = format!("Bare card shows between {pair}: they never quite meet.");
            findings.push(Finding {
                rule: Rule::Gap,
                of,
                at,
                figure: bare.veils.iter().sum(),
                limit: BARE,
                says,
            });
            continue;
        }
        if junction.verdict != Verdict::Clean {
            let named = &junction.named;
            let says = match junction.verdict {
                Verdict::Muddy => format!("{pair} turn {named} where they meet."),
                _ => format!("{pair} meet in a dull {named}."),
            };
            let limit = junction.clean_from;
            findings.push(Finding { rule: Rule::Mud, of, at, figure: junction.chroma_kept, limit, says });
        }
        if junction.dark_band > DARK_BAND {
            let says = format!("A dark band where {pair} add up.");
            findings.push(Finding {
                rule: Rule::DarkBand,
                of,
                at,
                figure: junction.dark_band,
                limit: DARK_BAND,
                says,
            });
        }
        if junction.steepest > SUDDEN_A_MM {
            let how = if junction.steepest > HARD_A_MM { "a visible line" } else { "a little sudden" };
            let says = format!("The join of {pair} is {how}.");
            findings.push(Finding {
                rule: Rule::HardEdge,
                of,
                at,
                figure: junction.steepest,
                limit: SUDDEN_A_MM,
                says,
            });
        }
    }
    for (of, (ink, field)) in reading.inks.iter().zip(&panel.blend.fields).enumerate() {
        let at = Reach { from: field.full_from, to: field.full_to };
        let laid: usize = field.reaches(&super::field::zones(panel.span(), panel.blend.zone)).len();
        if laid < usize::from(field.veils) {
            let says = format!(
                "The band of {} is so narrow that only {laid} of its {} light passes find room.",
                name(of),
                field.veils
            );
            findings.push(Finding {
                rule: Rule::Narrow,
                of,
                at,
                figure: laid as f64,
                limit: f64::from(field.veils),
                says,
            });
        }
        if ink.splotch > SPLOTCH {
            let says = format!(
                "{} will look splotchy: {} on {} card with a {} does not even out.",
                name(of),
                light_passes(ink.veils),
                panel.paper.surface.words(),
                panel.tool.kind.words()
            );
            findings.push(Finding { rule: Rule::Splotch, of, at, figure: ink.splotch, limit: SPLOTCH, says });
        }
    }
    let holds = f64::from(panel.paper.surface.holds());
    let heaviest = samples.iter().max_by(|a, b| a.veils.iter().sum::<f64>().total_cmp(&b.veils.iter().sum()));
    if let Some(heaviest) = heaviest {
        let figure: f64 = heaviest.veils.iter().sum();
        if figure > holds + 0.05 {
            let at = Length::nearest(heaviest.place, mark);
            let of = (0..heaviest.veils.len())
                .max_by(|&a, &b| heaviest.veils[a].total_cmp(&heaviest.veils[b]))
                .unwrap_or(0);
            let says = format!(
                "{figure:.0} light passes in one place: {} card takes up about {holds:.0} before it pills.",
                panel.paper.surface.words()
            );
            findings.push(Finding {
                rule: Rule::Overload,
                of,
                at: Reach { from: at, to: at },
                figure,
                limit: holds,
                says,
            });
        }
    }
    findings.sort_by_key(|finding| finding.at.from);
    findings
}
