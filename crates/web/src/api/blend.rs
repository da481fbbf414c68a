//! What is seen of a panel on the page of its blends: hills, meetings, what will go wrong and what mends it.

use rosy_core::blend::grip::{Grip, Measure, Value};
use rosy_core::blend::{Blend, Field, Way};
use rosy_core::edit::blend::Bend;
use rosy_core::judgement::joins::Junction;
use rosy_core::judgement::remedy::{in_sequence, suggested};
use rosy_core::judgement::told::{ink_says, joins_say};
use rosy_core::judgement::{Finding, Owned, Reading, Remedy, Rule};
use rosy_core::moves::{Technique, light_passes};
use rosy_core::order::{Cost, Dirt, lay};
use rosy_core::planned::Planned;
use rosy_core::scene::School;
use rosy_core::surface::Moment;
use rosy_core::surface::Surface;
use rosy_core::surface::brushes::shift_in_words;
use rosy_core::{Length, Panel, Units};
use rosy_store::{Store, StoreError};
use serde::Serialize;
use uuid::Uuid;

use super::hills::Hills;
use super::look::{Look, Seen, Wrong, all};
use crate::pages::sheet::brush_work;
use crate::picture::data_url;
use crate::say::many;

/// Pixels to the inch of the small pictures of other orders.
const SMALL: f64 = 26.0;

/// How it would come out.
#[derive(Serialize)]
pub struct Ground {
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

/// Share of a side in per cent.
fn per_cent(at: Length, side: Length) -> f64 {
    100.0 * at.ratio(side)
}

impl Look for Ground {
    type Change = Bend;
    /// What the maker has to mend with.
    type Owned = Owned;

    async fn owned(store: &Store, bench: Uuid) -> Result<Owned, StoreError> {
        Ok(Owned {
            inks: all(store, bench).await?,
            tools: all(store, bench).await?,
            papers: all(store, bench).await?,
        })
    }

    fn of(seen: &Seen, owned: &Owned) -> Result<Ground, Wrong> {
        let (panel, units) = (seen.panel, seen.units);
        panel.check().map_err(Wrong::nowhere)?;
        let last = panel.scene.ground.len().checked_sub(1);
        let last = last.ok_or_else(|| Wrong::nowhere("this panel has no blend: add one"))?;
        let place = seen.how.blend.min(last);
        let reading = of_ground(panel.reading());
        let told = GroundNotes { seen, owned, place, hills: Hills::of(panel, place, units), reading };
        Ok(Ground {
            picture: match seen.how.damp {
                true => seen.picture(&just_laid(panel).looked_at(Moment::Now))?,
                false => seen.drawn()?,
            },
            blend: place,
            blends: blend_notes(panel, &told.reading),
            way: way_note(panel, place, units),
            inks: told.inks(),
            junctions: told.junctions(),
            brought: told.places(|finding| finding.rule == Rule::Muddied),
            findings: told.reading.findings.iter().map(|finding| told.finding(finding)).collect(),
            colours_seen: told.reading.colours_seen.iter().map(ToString::to_string).collect(),
            settled: if seen.how.settled { Some(told.settled()?) } else { None },
            hills: told.hills,
        })
    }
}

/// What is told of the ground, with one of its blends looked at.
struct GroundNotes<'a> {
    seen: &'a Seen<'a>,
    owned: &'a Owned,
    place: usize,
    hills: Hills,
    reading: Reading,
}

impl GroundNotes<'_> {
    fn panel(&self) -> &Planned {
        self.seen.panel
    }

    fn blend(&self) -> &Blend {
        &self.panel().scene.ground[self.place]
    }

    /// Where among the findings those are that are so.
    fn places(&self, is_so: impl Fn(&Finding) -> bool) -> Vec<usize> {
        let findings = self.reading.findings.iter().enumerate();
        findings.filter(|(_, finding)| is_so(finding)).map(|(at, _)| at).collect()
    }

    fn finding(&self, finding: &Finding) -> FindingNote {
        let (panel, Seen { how, units, .. }) = (self.panel(), *self.seen);
        let remedies = match how.settled {
            true => Remedy::all(panel, panel.materials(), panel.reading(), finding, self.owned, units),
            false => Vec::new(),
        };
        let (figure, exactly) = finding.how_bad(panel, units);
        let mends = remedies.first().is_some_and(|best| best.mends);
        let unmended = (how.settled && !mends).then(|| finding.rule.unmended(remedies.is_empty()));
        let note = |remedy: Remedy| RemedyNote {
            picture: data_url(&remedy.panel.surface(), SMALL).unwrap_or_default(),
            panel: remedy.panel,
            says: remedy.says,
        };
        FindingNote {
            blend: finding.blend,
            says: finding.says.clone(),
            left: per_cent(finding.spot.left, panel.width),
            top: per_cent(finding.spot.top, panel.height),
            figure,
            exactly,
            unmended,
            remedies: remedies.into_iter().map(note).collect(),
        }
    }

    fn inks(&self) -> Vec<InkNote> {
        // An ink that is in several blends is told of in the first that has it.
        let tells = |finding: &Finding, ink: usize| finding.inks == [ink] && finding.blend == self.place;
        let note = |(at, field): (usize, &Field)| InkNote {
            says: ink_says(self.panel(), self.place, at, self.seen.units),
            findings: self.places(|finding| tells(finding, field.ink)),
        };
        self.blend().fields.iter().enumerate().map(note).collect()
    }

    /// The meetings of this blend's neighbours, and those of its inks with the other blends'.
    fn junctions(&self) -> Vec<JunctionNote> {
        let fields = &self.blend().fields;
        let are_neighbours =
            |pair: [usize; 2]| fields.windows(2).any(|fields| [fields[0].ink, fields[1].ink] == pair);
        let is_told = |junction: &&Junction| {
            let is_here = fields.iter().any(|field| junction.inks.contains(&field.ink));
            (junction.blend == self.place && are_neighbours(junction.inks))
                || (is_here && is_crossing(self.panel(), junction.inks))
        };
        self.reading.junctions.iter().filter(is_told).map(|junction| self.junction(junction)).collect()
    }

    fn junction(&self, junction: &Junction) -> JunctionNote {
        let (panel, units) = (self.panel(), self.seen.units);
        let crossing = is_crossing(panel, junction.inks);
        let along = (junction.middle_mm / panel.span(self.place).mm()).clamp(0.0, 1.0);
        let along = if self.hills.turned { 1.0 - along } else { along };
        let says = match junction.at {
            Some(reach) if junction.blend == self.place => {
                format!("meets between {} and {}", reach.from.shown(units).number(), reach.to.shown(units))
            }
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
            findings: self.places(own),
        }
    }

    fn settled(&self) -> Result<Settled, Wrong> {
        let small = |panel: &Panel| data_url(&panel.surface(), SMALL).map_err(Wrong::nowhere);
        let (panel, blend) = (self.panel(), self.blend());
        let (sequence, _) = suggested(panel, blend);
        let other = if sequence.is_sorted() {
            None
        } else {
            let fields = in_sequence(blend, &sequence);
            let names: Vec<&str> = fields.iter().map(|field| panel.inks[field.ink].name.as_str()).collect();
            let names = names.join(", ");
            let reordered = Panel::clone(panel).with_blend(self.place, Blend { fields, ..blend.clone() });
            let says = joins_say(&Reading::of(&reordered), self.place);
            Some(OtherOrder { picture: small(&reordered)?, names, says, panel: reordered })
        };
        let (present, present_says) = (small(panel)?, joins_say(&self.reading, self.place));
        Ok(Settled { schools: schools(panel), order: OrderNote { present, present_says, other } })
    }
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
    let neighbours =
        |fields: &[Field]| [[one, other], [other, one]].contains(&[fields[0].ink, fields[1].ink]);
    !panel.scene.ground.iter().any(|blend| blend.fields.windows(2).any(neighbours))
}

/// The card when its last ink has just been laid.
fn just_laid(panel: &Panel) -> Surface {
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
    let note = |(place, blend): (usize, &Blend)| {
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

/// What each school would cost.
fn schools(panel: &Planned) -> Vec<SchoolNote> {
    let note = |school: School| {
        let materials = panel.materials();
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
    };
    School::ALL.into_iter().map(note).collect()
}
