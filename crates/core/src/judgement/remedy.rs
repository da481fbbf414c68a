//! Which change mends it?
//!
//! For each finding the changes a maker would try are tried on the model: the panel is laid and read
//! again, and the smallest change that helps most is offered. A remedy is never guessed.

use std::sync::Arc;

use rayon::prelude::*;

use super::finding::{Finding, Rule, reach_of};
use super::muddied::{Cleared, cleared};
use super::reading::Reading;
use crate::blend::limits::WORTH_REORDERING;
use crate::blend::sequence::{best_sequence, cost_of, pair_costs};
use crate::blend::{Blend, Field};
use crate::colour::{Illuminant, Lab};
use crate::ink::drawer::MOST_VEILS;
use crate::ink::{Film, Ink, KeptFor, Paper, Tool};
use crate::length::{Length, Units};
use crate::moves::light_passes;
use crate::panel::Panel;
use crate::search::{Costs, bridges, stand_ins, standing_in};
use crate::surface::Materials;

/// What a maker has to mend with, beside what is on the panel.
#[derive(Clone, Debug, Default)]
pub struct Owned {
    /// The drawer's inks.
    pub inks: Vec<Ink>,
    /// Tools.
    pub tools: Vec<Tool>,
    /// Card.
    pub papers: Vec<Paper>,
}

/// Most remedies offered for one finding.
const MOST_REMEDIES: usize = 3;
/// How many other inks are tried in the place of one that is too weak or too strong.
const STAND_INS: usize = 3;
/// Most changes after one another that are tried where no single one mends all.
const MOST_CHANGES: usize = 4;
/// How many bridges are tried for a muddy join.
const BRIDGES: usize = 3;

/// A change that mends a finding.
#[derive(Clone, Debug, PartialEq)]
pub struct Remedy {
    /// What to do, as a maker would say it.
    pub says: String,
    /// The panel with the remedy applied, laid anew.
    pub panel: Panel,
    /// How bad the findings were together, and how bad they are then.
    pub trouble: (f64, f64),
    /// Whether all of what it is for is gone then.
    pub mends: bool,
}

/// What kind of change it is: of each kind the best is offered.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Kind {
    /// Hills bent.
    Bend,
    /// Other numbers of passes.
    Passes,
    /// The same inks in another order.
    Order,
    /// An ink between.
    Bridge,
    /// Another tool.
    Tool,
    /// Another card.
    Card,
    /// Another ink in its place.
    StandIn,
}

impl Remedy {
    /// The remedies of a finding, the best first: those that mend all of it before those that only help. Of each kind of
    /// change there is the smallest that helps most; where none mends all of it, several after one another are tried too.
    pub fn all(
        panel: &Panel,
        materials: &Arc<Materials>,
        reading: &Reading,
        finding: &Finding,
        owned: &Owned,
        units: Units,
    ) -> Vec<Remedy> {
        // What is told of a thing is told in its own measures: it is changed where the thing is.
        if finding.on.is_some() {
            return Vec::new();
        }
        let before = reading.trouble();
        let changes = bent(panel, finding, units).chain(with_owned(panel, finding, owned, units));
        let mut best = best_of(panel, materials, before, finding, changes);
        if !best.iter().any(|(_, remedy)| remedy.mends)
            && let Some(several) = several(panel, before, finding, &best, units)
        {
            best.push(several);
        }
        best.sort_by(|(_, one), (_, other)| {
            other.mends.cmp(&one.mends).then(one.trouble.1.total_cmp(&other.trouble.1))
        });
        best.into_iter().map(|(_, remedy)| remedy).take(MOST_REMEDIES).collect()
    }
}

/// Changes to the hills and passes of the blend a finding is in.
fn bent(panel: &Panel, finding: &Finding, units: Units) -> impl Iterator<Item = (Kind, String, Panel)> {
    candidates(panel, finding, units)
        .into_iter()
        .map(|(kind, says, blend)| (kind, says, panel.clone().with_blend(finding.blend, blend)))
}

/// Whether two findings on two panels are the same trouble with the same inks.
fn is_same(one: (&Panel, &Finding), other: (&Panel, &Finding)) -> bool {
    let names = |(panel, finding): (&Panel, &Finding)| {
        let mut names: Vec<String> =
            finding.inks.iter().map(|ink| panel.inks[*ink].name.to_string()).collect();
        names.sort_unstable();
        names
    };
    one.1.rule == other.1.rule && names(one) == names(other)
}

/// Of each kind of change, smallest first, the one that helps most.
fn best_of(
    panel: &Panel,
    materials: &Arc<Materials>,
    before: f64,
    finding: &Finding,
    changes: impl Iterator<Item = (Kind, String, Panel)>,
) -> Vec<(Kind, Remedy)> {
    let mut best: Vec<(Kind, Remedy)> = Vec::new();
    for (kind, says, mended) in changes {
        if mended.check().is_err() {
            continue;
        }
        // The same inks in the same order are made of the same.
        let same = (&mended.inks, &mended.tool, &mended.paper) == (&panel.inks, &panel.tool, &panel.paper);
        let reading = Reading::with(&mended, if same { materials.clone() } else { mended.materials() });
        let after = reading.trouble();
        let mends = !reading.findings.iter().any(|left| is_same((panel, finding), (&mended, left)));
        let remedy = Remedy { says, panel: mended, trouble: (before, after), mends };
        if after > before - 0.05 {
            continue;
        }
        // A larger change must help clearly more.
        let is_better = |known: &Remedy| match (remedy.mends, known.mends) {
            (true, false) => true,
            (false, true) => false,
            _ => after < known.trouble.1 - 0.15,
        };
        match best.iter_mut().find(|(known, _)| *known == kind) {
            Some((_, known)) if is_better(known) => *known = remedy,
            None => best.push((kind, remedy)),
            _ => {}
        }
    }
    best
}

/// Changes of hills and passes made after one another, from the best there is, until all is mended or nothing helps more;
/// none where there is no second that helps.
fn several(
    panel: &Panel,
    before: f64,
    finding: &Finding,
    best: &[(Kind, Remedy)],
    units: Units,
) -> Option<(Kind, Remedy)> {
    let bends = best.iter().filter(|(kind, _)| matches!(kind, Kind::Bend | Kind::Passes | Kind::Order));
    let (kind, first) = bends.min_by(|(_, one), (_, other)| one.trouble.1.total_cmp(&other.trouble.1))?;
    let mut says = vec![first.says.clone()];
    let mut present = first.clone();
    for _ in 1..MOST_CHANGES {
        let reading = Reading::of(&present.panel);
        let Some(left) =
            reading.findings.iter().find(|left| is_same((panel, finding), (&present.panel, left)))
        else {
            break;
        };
        let changes = bent(&present.panel, left, units);
        let next = best_of(&present.panel, &present.panel.materials(), reading.trouble(), left, changes);
        let next = next.into_iter().map(|(_, remedy)| remedy);
        let Some(next) = next
            .min_by(|one, other| other.mends.cmp(&one.mends).then(one.trouble.1.total_cmp(&other.trouble.1)))
        else {
            break;
        };
        // The same thing done further takes the place of the last.
        let stem = |says: &str| says.split(|c: char| c.is_ascii_digit()).next().map(str::to_owned);
        if says.last().is_some_and(|last| stem(last) == stem(&next.says)) {
            says.pop();
        }
        says.push(next.says.clone());
        present = next;
    }
    let says = says
        .iter()
        .enumerate()
        .map(|(nth, says)| if nth == 0 { says.clone() } else { lower(says) })
        .collect::<Vec<_>>()
        .join(", then ");
    let remedy = Remedy { says, trouble: (before, present.trouble.1), ..present };
    (remedy.panel != first.panel).then_some((*kind, remedy))
}

/// A change told after another.
fn lower(says: &str) -> String {
    let mut letters = says.chars();
    letters.next().map(|first| first.to_lowercase().chain(letters).collect()).unwrap_or_default()
}

/// Changes that bring in something else that is owned: an ink between two, another tool, another card.
fn with_owned(panel: &Panel, finding: &Finding, owned: &Owned, units: Units) -> Vec<(Kind, String, Panel)> {
    let mut found = Vec::new();
    if let (Rule::Muddied, [one, other]) = (finding.rule, finding.inks.as_slice()) {
        let clean = cleared(panel, [*one, *other], &owned.inks);
        found.extend(clean.map(|Cleared { panel, inks: [was, is] }| {
            (Kind::StandIn, format!("Take {is} in the place of {was}"), panel)
        }));
    }
    if finding.rule == Rule::Mud {
        found.extend(bridged(panel, finding, &owned.inks, units));
    }
    if matches!(finding.rule, Rule::Splotch | Rule::HardEdge) {
        let own = panel.tool.kind.unevenness();
        let softer = |tool: &&Tool| {
            if tool.kept_for != KeptFor::Anything {
                return false;
            }
            tool.kind.unevenness() < own || tool.kind.footprint_mm() > panel.tool.kind.footprint_mm()
        };
        for tool in owned.tools.iter().filter(softer) {
            let says = format!("Lay it with {}, a {}", tool.name, tool.kind.words());
            found.push((Kind::Tool, says, panel.clone().with_tool(tool, &owned.tools)));
        }
    }
    if matches!(finding.rule, Rule::Weak | Rule::Strong)
        && let [ink] = finding.inks.as_slice()
    {
        let fitting: Vec<Ink> =
            owned.inks.iter().filter(|other| reach_of(panel, other).is_none()).cloned().collect();
        // In as many passes as are planned: they were meant for an ink of usual strength.
        for other in
            stand_ins(panel, *ink, &fitting, STAND_INS).into_iter().map(|found| &fitting[found.place])
        {
            let says = format!("Take {} in its place", other.name);
            found.push((Kind::StandIn, says, standing_in(panel, *ink, other, 1.0)));
        }
    }
    if matches!(finding.rule, Rule::Splotch | Rule::Overload) {
        let own = panel.paper.surface;
        let better = |paper: &&Paper| {
            paper.surface.unevenness() < own.unevenness() || paper.surface.holds() > own.holds()
        };
        for paper in owned.papers.iter().filter(better) {
            let says = format!("Make it on {}, {} card", paper.name, paper.surface.words());
            found.push((Kind::Card, says, Panel { paper: paper.clone(), ..panel.clone() }));
        }
    }
    found
}

/// The inks of a drawer that best bridge a muddy join of two neighbours, each put between them.
fn bridged(panel: &Panel, finding: &Finding, drawer: &[Ink], units: Units) -> Vec<(Kind, String, Panel)> {
    let fields = &panel.scene.ground[finding.blend].fields;
    let pair = |fields: &[Field]| fields.iter().all(|field| finding.inks.contains(&field.ink));
    let Some(join) = fields.windows(2).position(pair) else { return Vec::new() };
    let is_new = |ink: &&Ink| !panel.inks.iter().any(|own| own == *ink);
    let drawer: Vec<&Ink> = drawer.iter().filter(is_new).collect();
    let swatch = |ink: &Ink| (ink.film(), ink.lab());
    let swatches: Vec<(Film, Lab)> = drawer.par_iter().map(|ink| swatch(ink)).collect();
    let card = panel.paper.reflectance();
    let sides = [join, join + 1].map(|at| swatch(&panel.inks[fields[at].ink]));
    let [one, other] = sides.map(|side| Costs::to_each(&side, &swatches, &card, Illuminant::D65));
    let put_between = |(place, _): (usize, f64)| {
        let ink = drawer[place];
        let mut chosen: Vec<(Ink, Option<usize>)> =
            fields.iter().map(|field| (panel.inks[field.ink].clone(), Some(field.ink))).collect();
        chosen.insert(join + 1, (ink.clone(), None));
        let [one, other] = [join, join + 1].map(|at| &panel.inks[fields[at].ink].name);
        let says = format!("Put {} between {one} and {other}", ink.name);
        (Kind::Bridge, says, panel.clone().choosing(finding.blend, chosen, units))
    };
    bridges(&one, &other, BRIDGES).into_iter().map(put_between).collect()
}

/// A change, in words, and the blend of the finding as it is then.
type Candidate = (Kind, String, Blend);

fn candidates(panel: &Panel, finding: &Finding, units: Units) -> Vec<Candidate> {
    let Some(blend) = panel.scene.ground.get(finding.blend) else { return Vec::new() };
    let place = |ink: &usize| blend.fields.iter().position(|field| field.ink == *ink);
    // The fields it is about, in this blend's order.
    let mut about: Vec<usize> = finding.inks.iter().filter_map(place).collect();
    about.sort_unstable();
    let join = match about.as_slice() {
        [one, other] if one + 1 == *other => Some(*one),
        _ => None,
    };
    let mut tried = Tried { panel, blend, units, found: Vec::new() };
    match (finding.rule, join) {
        (Rule::HardEdge | Rule::Gap, Some(join)) => tried.widths(join, &[1, 2, 3, 4, 6, 8]),
        (Rule::HardEdge | Rule::Gap, None) => about.iter().for_each(|field| tried.softer(*field)),
        (Rule::DarkBand, Some(join)) => {
            tried.widths(join, &[-1, -2, -3, -4]);
            about.iter().for_each(|field| tried.veils(*field, &[-1, -2, -3]));
        }
        (Rule::Mud, Some(join)) => {
            tried.reordered();
            tried.widths(join, &[-2, -4, -6]);
            tried.parted(join);
        }
        (Rule::DarkBand | Rule::Mud | Rule::Overload, _) => {
            about.iter().for_each(|field| tried.veils(*field, &[-1, -2, -3, -4, -6]));
        }
        (Rule::Splotch, _) => about.iter().for_each(|field| tried.veils(*field, &[1, 2, 3, -1, -2, -3])),
        // How far a pad goes is no matter of hills.
        (
            Rule::Weak
            | Rule::Strong
            | Rule::Faint
            | Rule::Hidden
            | Rule::RunsOff
            | Rule::Lost
            | Rule::Muddied,
            _,
        ) => {}
        (Rule::Narrow, _) => about.iter().for_each(|field| tried.as_many(*field, finding.figure as u8)),
    }
    tried.found
}

/// Changes to one blend of a panel.
struct Tried<'a> {
    panel: &'a Panel,
    blend: &'a Blend,
    units: Units,
    found: Vec<Candidate>,
}

impl Tried<'_> {
    fn offer(&mut self, kind: Kind, says: String, fields: Vec<Field>) {
        self.found.push((kind, says, Blend { fields, ..self.blend.clone() }));
    }

    fn name(&self, field: usize) -> &str {
        self.panel.inks[self.blend.fields[field].ink].name.as_str()
    }

    fn step(&self) -> Length {
        match self.units {
            Units::Inches => Length::from_64ths(8),
            Units::Millimetres => Length::from_tenths_mm(30),
        }
    }

    /// One meeting wider by so many steps on each side, or narrower.
    fn widths(&mut self, join: usize, widths: &[i64]) {
        for &steps in widths {
            let by = self.step() * steps;
            let shown = (by.abs() * 2).shown(self.units);
            let word = if steps > 0 { "Widen" } else { "Narrow" };
            if let Some(fields) = widened(&self.blend.fields, join, by) {
                self.offer(Kind::Bend, format!("{word} the meeting by {shown}"), fields);
            }
        }
    }

    /// One ink in more or fewer passes.
    fn veils(&mut self, field: usize, changes: &[i16]) {
        for &change in changes {
            let veils = i16::from(self.blend.fields[field].veils) + change;
            if (1..=i16::from(MOST_VEILS)).contains(&veils) {
                let mut fields = self.blend.fields.clone();
                fields[field].veils = veils as u8;
                self.offer(
                    Kind::Passes,
                    format!("Lay {} in {}", self.name(field), light_passes(veils as usize)),
                    fields,
                );
            }
        }
    }

    /// As many passes as find room.
    fn as_many(&mut self, field: usize, veils: u8) {
        let mut fields = self.blend.fields.clone();
        fields[field].veils = veils.max(1);
        let says = format!("Ask {} of {}", light_passes(fields[field].veils.into()), self.name(field));
        self.offer(Kind::Passes, says, fields);
    }

    /// One ink's fades begun earlier.
    fn softer(&mut self, field: usize) {
        for steps in [1, 2, 3, 4, 6] {
            let by = self.step() * steps;
            let mut fields = self.blend.fields.clone();
            let hill = &mut fields[field];
            let middle =
                Length::nearest(0.5 * (hill.full_from.mm() + hill.full_to.mm()), Length::from_64ths(1));
            if hill.starts < hill.full_from {
                hill.full_from = (hill.full_from + by).min(middle);
            }
            if hill.full_to < hill.ends {
                hill.full_to = (hill.full_to - by).max(middle).max(hill.full_from);
            }
            let says = format!("Let {} fade out over {} more", self.name(field), by.shown(self.units));
            self.offer(Kind::Bend, says, fields);
        }
    }

    /// The inks in their best order, passes going with their ink.
    fn reordered(&mut self) {
        let (sequence, _) = suggested(self.panel, self.blend);
        if sequence.is_sorted() {
            return;
        }
        let order: Vec<&str> = sequence.iter().map(|field| self.name(*field)).collect();
        let says = format!("Place them {}", order.join(", "));
        let fields = in_sequence(self.blend, &sequence);
        self.offer(Kind::Order, says, fields);
    }

    /// The two faded out before they touch.
    fn parted(&mut self, join: usize) {
        if let Some(fields) = parted(&self.blend.fields, join) {
            self.offer(Kind::Bend, "Leave a strip of bare card between them".into(), fields);
        }
    }
}

/// A blend's fields with its inks in another order, told by their present places; passes go with their ink.
pub fn in_sequence(blend: &Blend, sequence: &[usize]) -> Vec<Field> {
    let of = |(field, place): (&Field, &usize)| {
        let Field { ink, veils, .. } = blend.fields[*place];
        Field { ink, veils, ..*field }
    };
    blend.fields.iter().zip(sequence).map(of).collect()
}

/// The fields with one meeting made wider by `by` on each side, or narrower where it is negative;
/// none where there is no room.
fn widened(fields: &[Field], junction: usize, by: Length) -> Option<Vec<Field>> {
    let mut fields = fields.to_vec();
    let (one, other) = (fields[junction], fields[junction + 1]);
    let moved = (one.full_to - by, one.ends + by, other.starts - by, other.full_from + by);
    let fits = one.full_from <= moved.0
        && moved.0 < moved.1
        && moved.1 <= other.ends
        && one.starts <= moved.2
        && moved.2 < moved.3
        && moved.3 <= other.full_to;
    if !fits {
        return None;
    }
    (fields[junction].full_to, fields[junction].ends) = (moved.0, moved.1);
    (fields[junction + 1].starts, fields[junction + 1].full_from) = (moved.2, moved.3);
    Some(fields)
}

/// The fields with the two inks faded out before they touch.
fn parted(fields: &[Field], junction: usize) -> Option<Vec<Field>> {
    let mut fields = fields.to_vec();
    let (one, other) = (fields[junction], fields[junction + 1]);
    let mark = Length::from_64ths(8);
    let middle = Length::nearest(0.5 * (one.full_to.mm() + other.full_from.mm()), mark);
    let hair = mark * 3;
    let (ends, starts) = (middle - hair, middle + hair);
    if ends <= one.full_to || starts >= other.full_from {
        return None;
    }
    fields[junction].ends = ends;
    fields[junction + 1].starts = starts;
    Some(fields)
}

/// The best sequence of a blend's inks, by their places in it, with its cost and that of the present one.
pub fn suggested(panel: &Panel, blend: &Blend) -> (Vec<usize>, (f64, f64)) {
    let of = |field: &Field| {
        let ink: &Ink = &panel.inks[field.ink];
        (ink.film(), ink.lab())
    };
    let inks: Vec<(Film, Lab)> = blend.fields.iter().map(of).collect();
    let costs = pair_costs(&inks, &panel.paper.reflectance(), Illuminant::D65);
    let as_is: Vec<usize> = (0..blend.fields.len()).collect();
    let present = cost_of(&as_is, &costs);
    let (sequence, cost) = best_sequence(&costs);
    // The present order stands unless another is clearly better.
    if cost < present - WORTH_REORDERING { (sequence, (cost, present)) } else { (as_is, (present, present)) }
}
