//! What will go wrong, and where?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::joins::{InkReading, Junction, MARK, Steepest, fullest, spot};
use super::survey::{Sample, Survey};
use crate::blend::field::zones;
use crate::blend::limits::{BARE, DARK_BAND, HARD_A_MM, LIGHTEST, SPLOTCH, SUDDEN_A_MM};
use crate::blend::{Reach, Verdict};
use crate::colour::Illuminant;
use crate::ink::{Ink, Stack};
use crate::length::Length;
use crate::moves::light_passes;
use crate::panel::Panel;
use crate::place::{Extent, Point};
use crate::surface::Surface;

/// How near to its limit a figure may come before it is over it: what stands at its limit is not flagged.
const AT_LIMIT: f64 = 1e-6;

/// The rule a finding comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Rule {
    /// A join, or a fade to bare card, that changes too fast.
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
    /// An ink that would take more light passes to its full strength than the card holds.
    Weak,
    /// An ink that a single light pass already lays too strong to fade.
    Strong,
    /// A thing that hardly shows against what is round it, or a word that is hard to read.
    Faint,
    /// A thing that stands behind others all over.
    Hidden,
    /// Words that run off the panel.
    RunsOff,
    /// A pattern that is to lie over what is sealed, where no ink takes.
    Lost,
    /// Two inks that turn grey or brown where water, or a pad, has brought one over the other.
    Muddied,
}

/// Whether an ink on a panel's card cannot be laid strong or light enough: the rule, the figure and its limit.
pub(super) fn reach_of(panel: &Panel, ink: &Ink) -> Option<(Rule, f64, f64)> {
    let (full, holds) = (f64::from(ink.full_veils), f64::from(panel.paper.surface.holds()));
    if full > holds {
        return Some((Rule::Weak, full, holds));
    }
    let card = panel.paper.reflectance();
    let mut one = Stack::on(&card);
    one.lay(0, &ink.film(), 1.0 / full);
    let shows = one.lab(Illuminant::D65).difference(card.lab(Illuminant::D65));
    (shows > LIGHTEST + AT_LIMIT).then_some((Rule::Strong, shows, LIGHTEST))
}

/// Something that will go wrong: where, how far, against which limit, and why.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Finding {
    /// The rule.
    pub rule: Rule,
    /// The place among the junctions of the one it is about, or else that of the ink, or of the first of two that meet
    /// nowhere but in water.
    pub of: usize,
    /// The ink it is about, or the two, by their places in the panel's list.
    pub inks: Vec<usize>,
    /// The thing it is about, by its place from front to back; nothing where it is about the ground.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on: Option<usize>,
    /// The blend whose measures it is told in, by its place on the ground, or among those of the thing.
    pub blend: usize,
    /// Where along that blend.
    pub at: Reach,
    /// Where on the panel.
    pub spot: Point,
    /// The figure, in the rule's measure.
    pub figure: f64,
    /// The limit it breaks.
    pub limit: f64,
    /// In plain words.
    pub says: String,
}

impl Finding {
    /// Something that is so of a thing as a whole, told at its middle.
    pub(super) fn on_thing(
        surface: &Surface,
        on: usize,
        rule: Rule,
        (figure, limit): (f64, f64),
        says: String,
    ) -> Finding {
        let Extent { corner, size } = surface.materials.extent(Some(on));
        let spot = Point {
            left: Length::nearest(corner.left.mm() + 0.5 * size.0.mm(), MARK),
            top: Length::nearest(corner.top.mm() + 0.5 * size.1.mm(), MARK),
        };
        let at = Reach { from: Length::ZERO, to: Length::ZERO };
        Finding { rule, of: 0, inks: Vec::new(), on: Some(on), blend: 0, at, spot, figure, limit, says }
    }

    /// How bad it is. A remedy must bring the sum down.
    pub fn trouble(&self) -> f64 {
        match self.rule {
            Rule::Mud => 3.0 + 3.0 * (self.limit - self.figure).max(0.0),
            Rule::Muddied => 2.0 + 4.0 * self.figure,
            Rule::Gap | Rule::Narrow | Rule::Faint | Rule::Hidden | Rule::RunsOff | Rule::Lost => 1.0,
            // It can be laid, but not as strong or as light as might be wished.
            Rule::Weak | Rule::Strong => 0.5,
            _ => self.figure / self.limit,
        }
    }
}

/// All that will go wrong, in order along the blends.
pub(super) fn all(
    panel: &Panel,
    survey: &Survey,
    inks: &[InkReading],
    junctions: &[Junction],
    (steepest, is_on_card): (&[Steepest], bool),
) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (of, junction) in junctions.iter().enumerate() {
        of_junction(panel, survey, of, junction, &mut findings);
    }
    hard_edges(panel, survey, junctions, (steepest, is_on_card), &mut findings);
    for (ink, reading) in inks.iter().enumerate() {
        of_ink(panel, survey, ink, reading, &mut findings);
    }
    findings.extend(overload(panel, survey));
    findings.sort_by_key(|finding| (finding.blend, finding.at.from));
    findings
}

fn name(panel: &Panel, ink: usize) -> &str {
    panel.inks[ink].name.as_str()
}

fn of_junction(panel: &Panel, survey: &Survey, of: usize, junction: &Junction, findings: &mut Vec<Finding>) {
    let middle = Length::nearest(junction.middle_mm, MARK);
    let at = junction.at.unwrap_or(Reach { from: middle, to: middle });
    let [one, other] = junction.inks.map(|ink| name(panel, ink));
    let mut find = |rule, figure, limit, says| {
        let Junction { inks, blend, spot, .. } = *junction;
        findings.push(Finding {
            rule,
            of,
            inks: inks.into(),
            on: None,
            blend,
            at,
            spot,
            figure,
            limit,
            says,
        });
    };
    let laid: f64 = survey.samples[junction.middle].veils.iter().sum();
    if laid < BARE - AT_LIMIT {
        find(
            Rule::Gap,
            laid,
            BARE,
            format!("Bare card shows between {one} and {other}: they never quite meet."),
        );
        return;
    }
    if junction.verdict != Verdict::Clean {
        let named = &junction.named;
        let says = match junction.verdict {
            Verdict::Muddy => format!("{one} and {other} turn {named} where they meet."),
            _ => format!("{one} and {other} meet in a dull {named}."),
        };
        find(Rule::Mud, junction.chroma_kept, junction.clean_from, says);
    }
    if junction.dark_band > DARK_BAND + AT_LIMIT {
        let says = format!("A dark band where {one} and {other} add up.");
        find(Rule::DarkBand, junction.dark_band, DARK_BAND, says);
    }
}

fn hard_edges(
    panel: &Panel,
    survey: &Survey,
    junctions: &[Junction],
    (steepest, is_on_card): (&[Steepest], bool),
    findings: &mut Vec<Finding>,
) {
    // One light pass of a strong ink is as soft as a fade to bare card can be: that alone is no trouble.
    let limit = |edge: &Steepest| if edge.inks.len() == 1 { HARD_A_MM } else { SUDDEN_A_MM };
    for edge in steepest.iter().filter(|edge| edge.steepness > limit(edge) + AT_LIMIT) {
        let how = if edge.steepness > HARD_A_MM { "a visible line" } else { "a little sudden" };
        let junction = junctions.iter().position(|junction| edge.is_of(&junction.inks));
        let gap = |finding: &Finding| {
            finding.rule == Rule::Gap && edge.inks.iter().all(|ink| finding.inks.contains(ink))
        };
        if findings.iter().any(gap) {
            continue;
        }
        let says = match edge.inks.as_slice() {
            [one, other] => {
                format!("The join of {} and {} is {how}.", name(panel, *one), name(panel, *other))
            }
            [ink, ..] if is_on_card => format!("{} stops in {how} on bare card.", name(panel, *ink)),
            [ink, ..] => format!("{} stops in {how}.", name(panel, *ink)),
            [] => continue,
        };
        let (blend, at) = match junction {
            Some(of) => (junctions[of].blend, junctions[of].at),
            None => (edge.blend, None),
        };
        let here = Length::nearest(edge.place_mm, MARK);
        findings.push(Finding {
            rule: Rule::HardEdge,
            of: junction.unwrap_or(edge.inks[0]),
            inks: edge.inks.clone(),
            on: None,
            blend,
            at: at.unwrap_or(Reach { from: here, to: here }),
            spot: spot(survey, edge.sample),
            figure: edge.steepness,
            limit: limit(edge),
            says,
        });
    }
}

fn of_ink(panel: &Panel, survey: &Survey, ink: usize, reading: &InkReading, findings: &mut Vec<Finding>) {
    let spot = spot(survey, fullest(survey, ink, &[ink]));
    let mut find = |rule, blend, at, figure, limit, says| {
        findings.push(Finding {
            rule,
            of: ink,
            inks: vec![ink],
            on: None,
            blend,
            at,
            spot,
            figure,
            limit,
            says,
        });
    };
    let own = name(panel, ink);
    let mut first = None;
    for (blend, of) in panel.scene.ground.iter().enumerate() {
        for field in of.fields.iter().filter(|field| field.ink == ink) {
            let at = Reach { from: field.full_from, to: field.full_to };
            first.get_or_insert((blend, at));
            let laid = field.reaches(&zones(panel.span(blend), of.zone)).len();
            if laid < usize::from(field.veils) {
                let says = format!(
                    "The band of {own} is so narrow that only {laid} of its {} light passes find room.",
                    field.veils
                );
                find(Rule::Narrow, blend, at, laid as f64, f64::from(field.veils), says);
            }
        }
    }
    let fields = panel.scene.ground.iter().flat_map(|blend| &blend.fields).filter(|field| field.ink == ink);
    // What goes all over, and nowhere fades, need not be laid lightly.
    let fades = fields.into_iter().any(|field| field.starts < field.full_from || field.full_to < field.ends);
    let reach = reach_of(panel, &panel.inks[ink]).filter(|(rule, ..)| fades || *rule != Rule::Strong);
    if let (Some((blend, at)), Some((rule, figure, limit))) = (first, reach) {
        let says = match rule {
            Rule::Weak => format!(
                "{own} is weak: its full strength takes {}, and {} card holds about {limit:.0}. Plan it pale.",
                light_passes(figure as usize),
                panel.paper.surface.words()
            ),
            _ => format!(
                "{own} is strong: a single light pass already shows plainly, so it cannot fade gently. Dab nearly all of it \
                 off on scrap first."
            ),
        };
        find(rule, blend, at, figure, limit, says);
    }
    if let Some((blend, at)) = first.filter(|_| reading.splotch > SPLOTCH + AT_LIMIT) {
        let says = format!(
            "{own} will look splotchy: {} on {} card with a {} does not even out.",
            light_passes(reading.veils),
            panel.paper.surface.words(),
            panel.tool.kind.words()
        );
        find(Rule::Splotch, blend, at, reading.splotch, SPLOTCH, says);
    }
}

fn overload(panel: &Panel, survey: &Survey) -> Option<Finding> {
    let laid = |sample: &Sample| sample.veils.iter().sum::<f64>();
    let heaviest =
        survey.places().max_by(|&a, &b| laid(&survey.samples[a]).total_cmp(&laid(&survey.samples[b])))?;
    let sample = &survey.samples[heaviest];
    let (figure, limit) = (laid(sample), f64::from(panel.paper.surface.holds()));
    if figure <= limit + 0.05 {
        return None;
    }
    let ink = (0..sample.veils.len()).max_by(|&a, &b| sample.veils[a].total_cmp(&sample.veils[b]))?;
    let blend =
        panel.scene.ground.iter().position(|blend| blend.fields.iter().any(|field| field.ink == ink))?;
    let at = Length::nearest(survey.along(panel, blend, heaviest), MARK);
    let says = format!(
        "{figure:.0} light passes in one place: {} card takes up about {limit:.0} before it pills.",
        panel.paper.surface.words()
    );
    Some(Finding {
        rule: Rule::Overload,
        of: ink,
        inks: vec![ink],
        on: None,
        blend,
        at: Reach { from: at, to: at },
        spot: spot(survey, heaviest),
        figure,
        limit,
        says,
    })
}
