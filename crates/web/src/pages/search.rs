//! What does the drawer hold: a run of inks from one to another, and the nearest to colours that were seen?

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::ask::search::{MOST_LACKING, MOST_LAID, MOST_PAIRED, MOST_PASSES};
use rosy_core::blend::limits::NO_CHROMA;
use rosy_core::blend::{Verdict, meet};
use rosy_core::colour::{ColourName, Illuminant, Lab, Srgb, written};
use rosy_core::ink::{Family, Ink, Kind, Paper, measured::bright_white};
use rosy_core::moves::light_passes;
use rosy_core::search::lacks::Mix;
use rosy_core::search::{Costs, Lack, Near, Swatch, bridges, lacking, nearest_to_each, path};
use rosy_core::{Panel, Units};
use rosy_store::{Kept, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::bench::begin;
use super::{Frame, page, see};
use crate::error::{PageProblem, Problem, sentence};
use crate::picture::data_url;
use crate::say::many;
use crate::visitor::{Sent, Visitor};
use crate::workroom::Workroom;

/// Most inks between two: with the two, as many as a blend takes.
const MOST_BETWEEN: usize = 3;
/// Most colours looked for at once.
const MOST_SEEN: usize = 8;
/// Bridges shown.
const BRIDGES: usize = 5;
/// Pixels to the inch of the pictures.
const DPI: f64 = 44.0;
const SMALL: f64 = 20.0;
const LIGHT: Illuminant = Illuminant::D65;

/// What is looked for.
#[derive(Clone, Debug, Default, Deserialize)]
#[serde(default)]
pub struct Wanted {
    from: String,
    to: String,
    between: String,
    saw: String,
    /// Whether it is asked what the drawer lacks.
    lacks: bool,
}

#[derive(Template)]
#[template(path = "search.html")]
struct SearchPage {
    frame: Frame,
    wanted: Wanted,
    /// The inks of the drawer as they are written: name and kind.
    names: Vec<String>,
    most_between: usize,
    run: Option<Run>,
    seen: Vec<Seen>,
    /// The inks that make them all, for a panel.
    seen_inks: Vec<Uuid>,
    lacks: Option<Lacks>,
    wrong: Vec<(&'static str, String)>,
}

impl SearchPage {
    fn wrong_with(&self, field: &str) -> Option<&str> {
        self.wrong.iter().find(|(known, _)| *known == field).map(|(_, says)| says.as_str())
    }

    /// Numbers of inks, as a form carries them.
    fn listed(&self, inks: &[Uuid]) -> String {
        inks.iter().map(Uuid::to_string).collect::<Vec<_>>().join(",")
    }

    fn ids(&self, run: &Run) -> String {
        self.listed(&run.inks.iter().map(|ink| ink.id).collect::<Vec<_>>())
    }

    fn is_between(&self, count: usize) -> bool {
        self.wanted.between.trim().parse() == Ok(count) || (self.wanted.between.is_empty() && count == 1)
    }
}

/// A run of inks, how it looks, and what its joins make.
struct Run {
    inks: Vec<InkShown>,
    picture: String,
    /// What there is to say of the two ends.
    says: Vec<String>,
    /// Other single inks that would do between.
    others: Vec<Other>,
}

struct InkShown {
    id: Uuid,
    name: String,
    kind: &'static str,
    colour: Srgb,
    /// What it makes with the next.
    join: Option<Join>,
}

struct Join {
    colour: Srgb,
    named: String,
    verdict: &'static str,
}

struct Other {
    name: String,
    says: String,
    picture: String,
    inks: Vec<Uuid>,
}

/// A colour that was seen and what comes nearest.
struct Seen {
    colour: Srgb,
    near: Vec<NearShown>,
}

struct NearShown {
    colour: Srgb,
    says: String,
    how_near: &'static str,
    exactly: String,
}

/// What the drawer lacks.
struct Lacks {
    says: String,
    colours: Vec<LackShown>,
}

/// A colour that is lacking.
struct LackShown {
    colour: Srgb,
    named: String,
    says: Vec<String>,
}

/// The drawer, ready for reckoning.
struct Drawer {
    inks: Vec<Kept<Ink>>,
    swatches: Vec<Swatch>,
    card: rosy_core::colour::Spectrum,
}

impl Drawer {
    fn of(inks: Vec<Kept<Ink>>, card: Option<&Paper>) -> Drawer {
        let swatches = inks.iter().map(|kept| (kept.value.film(), kept.value.lab())).collect();
        Drawer { inks, swatches, card: card.map_or_else(|| *bright_white(), Paper::reflectance) }
    }

    fn ink(&self, place: usize) -> &Ink {
        &self.inks[place].value
    }

    fn shown(&self, place: usize) -> InkShown {
        let Kept { id, value: ink, .. } = &self.inks[place];
        InkShown {
            id: *id,
            name: ink.name.to_string(),
            kind: ink.kind.word(),
            colour: on_screen(ink.lab()),
            join: None,
        }
    }

    fn join(&self, one: usize, other: usize) -> Join {
        let [one, other] = [one, other].map(|place| &self.swatches[place]);
        let met = meet((&one.0, one.1), (&other.0, other.1), &self.card, LIGHT);
        Join { colour: on_screen(met.middle), named: met.named.to_string(), verdict: met.verdict.word() }
    }

    /// How each ink of a run joins the next.
    fn joins(&self, run: &[usize]) -> Vec<Join> {
        run.windows(2).map(|two| self.join(two[0], two[1])).collect()
    }

    /// An ink by what is written of it, or the one nearest to a colour; and what there is to say of that.
    fn find(&self, text: &str) -> Result<(usize, Option<String>), String> {
        let wanted = text.trim().to_lowercase();
        if wanted.is_empty() {
            return Err("Name an ink of yours, or write a colour such as #d8456b.".into());
        }
        let is_it = |kept: &Kept<Ink>| {
            let name = kept.value.name.as_str().to_lowercase();
            name == wanted || format!("{name}, {}", kept.value.kind) == wanted
        };
        if let Some(place) = self.inks.iter().position(is_it) {
            return Ok((place, None));
        }
        let Ok(lab) = written::read(text).and_then(|colour| colour.lab(LIGHT)) else {
            return Err(format!(
                "There is no ink called “{text:.40}” in the drawer, and it is no colour: name an ink of yours, or write a \
                 colour such as #d8456b."
            ));
        };
        let off = |place: usize| self.swatches[place].1.difference(lab);
        let nearest = (0..self.inks.len()).min_by(|&one, &other| off(one).total_cmp(&off(other)));
        let place = nearest.ok_or("The drawer is empty.")?;
        let says =
            format!("{}: your nearest to {} ({}).", self.ink(place).name, text.trim(), how_near(off(place)));
        Ok((place, Some(says)))
    }
}

fn on_screen(lab: Lab) -> Srgb {
    lab.on_screen(LIGHT).0
}

/// How near a colour is, as a maker would see it side by side.
pub fn how_near(difference: f64) -> &'static str {
    match difference {
        d if d < 1.0 => "the same to the eye",
        d if d < 2.5 => "hardly to be told apart",
        d if d < 5.0 => "a little off",
        d if d < 10.0 => "plainly off",
        _ => "far off",
    }
}

/// `GET /drawer/search`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    wanted: web::Query<Wanted>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units, wanted) = (visitor.bench.id, visitor.units(), wanted.into_inner());
    let mut inks = store.all::<Ink>(bench).await?;
    inks.sort_by(|one, other| one.value.name.cmp(&other.value.name));
    let names = inks.iter().map(|kept| format!("{}, {}", kept.value.name, kept.value.kind)).collect();
    let card = store.all::<Paper>(bench).await?.into_iter().next_back().map(|kept| kept.value);
    let asks_run = !(wanted.from.is_empty() && wanted.to.is_empty());
    let asks_seen = !wanted.saw.trim().is_empty();
    let mut shown = SearchPage {
        frame: Frame::of(&visitor),
        wanted: wanted.clone(),
        names,
        most_between: MOST_BETWEEN,
        run: None,
        seen: Vec::new(),
        seen_inks: Vec::new(),
        lacks: None,
        wrong: Vec::new(),
    };
    let asks_lacks = wanted.lacks;
    if (asks_run || asks_seen || asks_lacks) && !inks.is_empty() {
        let bare = begin(&store, bench, None, units).await?;
        let work = move || {
            let drawer = Drawer::of(inks, card.as_ref());
            let run = asks_run.then(|| found_run(&drawer, &wanted, &bare, units));
            let seen = asks_seen.then(|| found_seen(&drawer, &wanted.saw));
            let lacks = asks_lacks.then(|| found_lacks(&drawer));
            (run, seen, lacks)
        };
        let (run, seen, lacks) = room.done(visitor.asker(), work).await?;
        shown.lacks = lacks;
        match run {
            Some(Ok(run)) => shown.run = Some(run),
            Some(Err(wrong)) => shown.wrong.extend(wrong),
            None => {}
        }
        match seen {
            Some(Ok((seen, inks))) => (shown.seen, shown.seen_inks) = (seen, inks),
            Some(Err(says)) => shown.wrong.push(("saw", says)),
            None => {}
        }
    }
    page(&shown)
}

/// What a colour is called beside others of its name: how light and how strong it is.
fn called(lab: Lab) -> String {
    let [lightness, chroma, _] = lab.oklch();
    let depth = match lightness {
        l if l > 0.78 => "light ",
        l if l < 0.5 => "deep ",
        _ => "",
    };
    let strength = match chroma {
        c if c > 0.13 => "strong ",
        c if c < 0.07 => "soft ",
        _ => "",
    };
    rosy_core::say::capital(&format!("{depth}{strength}{}", ColourName::of(lab)))
}

/// What the drawer lacks; the first so many inks of a larger one are looked at.
fn found_lacks(drawer: &Drawer) -> Lacks {
    let owned: Vec<_> = drawer
        .swatches
        .iter()
        .zip(&drawer.inks)
        .map(|(swatch, kept)| (swatch.clone(), kept.value.kind))
        .take(MOST_PAIRED)
        .collect();
    let lacking = lacking(&owned, &drawer.card, LIGHT, MOST_LACKING);
    let name = |place: usize| drawer.ink(place).name.as_str();
    let shown = |lack: &Lack| {
        let mends = match lack.mends.as_slice() {
            [] => None,
            [(one, other), rest @ ..] => {
                let more = match rest.len() {
                    0 => String::new(),
                    more => format!(", and {} more", many(more, "pair")),
                };
                Some(format!(
                    "Lies cleanly between {} and {}{more}, which go to mud now.",
                    name(*one),
                    name(*other)
                ))
            }
        };
        let share = (100.0 * lack.reaches as f64 / lacking.colours as f64).round();
        let reaches = (lack.reaches > 0).then(|| match share {
            share if share < 1.0 => "Reaches a few colours that nothing of yours comes near.".to_owned(),
            share => format!("Reaches {share:.0} % of all colours, which nothing of yours comes near."),
        });
        let mix = lack.mix.map(|Mix { of: [one, other], parts: [a, b], difference }| {
            format!(
                "Or mix it on the mat: {} of {} to {b} of {} ({}).",
                many(usize::from(a), "part"),
                name(one),
                name(other),
                how_near(difference)
            )
        });
        let family = format!("Look for it among the {}.", Family::of(lack.lab).words());
        let says = mends.into_iter().chain(reaches).chain([family]).chain(mix).collect();
        LackShown { colour: on_screen(lack.lab), named: called(lack.lab), says }
    };
    let muddy = match lacking.muddy {
        0 => "Every pair of your inks meets cleanly, or has an ink of yours to lie between".to_owned(),
        1 => "One pair of your inks goes to mud with nothing of yours to lie between".to_owned(),
        count => format!("{count} pairs of your inks go to mud with nothing of yours to lie between"),
    };
    let share = 100.0 * lacking.unreached as f64 / lacking.colours as f64;
    let says = format!("{muddy}, and {share:.0} % of the colours that inks can have lie out of your reach.");
    let says = match drawer.inks.len() {
        count if count > MOST_PAIRED => format!("Of the first {MOST_PAIRED} inks by name: {says}"),
        _ => says,
    };
    Lacks { says, colours: lacking.lacks.iter().map(shown).collect() }
}

type Wrong = Vec<(&'static str, String)>;

/// A run as it was asked for: the inks at its ends, how many stand between, and what is said of the ends.
struct Ends {
    from: usize,
    to: usize,
    between: usize,
    says: Vec<String>,
}

impl Ends {
    fn read(drawer: &Drawer, wanted: &Wanted) -> Result<Ends, Wrong> {
        let mut wrong = Wrong::new();
        let mut end = |field: &'static str, text: &str| match drawer.find(text) {
            Ok(found) => Some(found),
            Err(says) => {
                wrong.push((field, says));
                None
            }
        };
        let (from, to) = (end("from", &wanted.from), end("to", &wanted.to));
        let between = match wanted.between.trim() {
            "" => 1,
            text => text.parse().unwrap_or(usize::MAX),
        };
        if between > MOST_BETWEEN {
            wrong.push(("between", format!("Choose 0 to {MOST_BETWEEN}: a blend takes up to five inks.")));
        }
        let (Some((from, from_says)), Some((to, to_says))) = (from, to) else { return Err(wrong) };
        if from == to {
            wrong.push(("to", "Both ends are the same ink: name another.".into()));
        }
        let says = [from_says, to_says].into_iter().flatten().collect();
        if wrong.is_empty() { Ok(Ends { from, to, between, says }) } else { Err(wrong) }
    }

    /// What may stand between: all but the two. What has no colour, or covers, joins cleanly with anything, and would take the
    /// colour out of the run; it stands between only where an end is such.
    fn free(&mut self, drawer: &Drawer) -> Result<Vec<usize>, Wrong> {
        let is_plain = |place: &usize| {
            drawer.ink(*place).kind == Kind::Pigment || drawer.swatches[*place].1.oklch()[1] < NO_CHROMA
        };
        let with_plain = is_plain(&self.from) || is_plain(&self.to);
        let mut free: Vec<usize> = (0..drawer.inks.len())
            .filter(|place| ![self.from, self.to].contains(place) && (with_plain || !is_plain(place)))
            .collect();
        if self.between > 1 && free.len() > MOST_LAID {
            free.truncate(MOST_LAID);
            self.says.push(format!(
                "Runs of more than one ink between are looked for among the first {MOST_LAID} by name."
            ));
        }
        if free.len() < self.between {
            let says =
                format!("Only {} other inks of the drawer have a colour: choose fewer between.", free.len());
            return Err(vec![("between", says)]);
        }
        Ok(free)
    }
}

fn found_run(drawer: &Drawer, wanted: &Wanted, bare: &Panel, units: Units) -> Result<Run, Wrong> {
    let mut ends = Ends::read(drawer, wanted)?;
    let free = ends.free(drawer)?;
    let Ends { from, to, between, mut says } = ends;
    let swatches: Vec<Swatch> = free.iter().map(|place| drawer.swatches[*place].clone()).collect();
    let to_each = |end: usize| Costs::to_each(&drawer.swatches[end], &swatches, &drawer.card, LIGHT);
    let costs =
        if between > 1 { Costs::of(&swatches, &drawer.card, LIGHT) } else { Costs::unasked(swatches.len()) };
    let beside = (to_each(from), to_each(to));
    let best = path(&costs, &beside.0, &beside.1, 0.0, between).map(|path| path.places).unwrap_or_default();
    let run: Vec<usize> =
        std::iter::once(from).chain(best.into_iter().map(|place| free[place])).chain([to]).collect();
    let picture = |run: &[usize], dpi: f64| {
        let inks = run.iter().map(|place| drawer.ink(*place).clone()).collect();
        data_url(&bare.clone().with_inks(inks, units).surface(), dpi).unwrap_or_default()
    };
    let other = |(place, _): (usize, f64)| {
        let run = [from, free[place], to];
        let says: Vec<String> =
            drawer.joins(&run).iter().map(|join| format!("{} {}", join.verdict, join.named)).collect();
        Other {
            name: drawer.ink(free[place]).name.to_string(),
            says: says.join(", then "),
            picture: picture(&run, SMALL),
            inks: run.iter().map(|place| drawer.inks[*place].id).collect(),
        }
    };
    let all = if between == 1 { bridges(&beside.0, &beside.1, BRIDGES + 1) } else { Vec::new() };
    let others =
        all.into_iter().filter(|(place, _)| free[*place] != run[1]).take(BRIDGES).map(other).collect();
    let joins = drawer.joins(&run);
    if joins.iter().any(|join| join.verdict == Verdict::Muddy.word()) {
        says.push(match between {
            MOST_BETWEEN => "No run in the drawer keeps every join out of the mud.".into(),
            _ => "Even the best leaves a muddy join: try one more between.".into(),
        });
    }
    let mut joins = joins.into_iter();
    Ok(Run {
        inks: run.iter().map(|place| InkShown { join: joins.next(), ..drawer.shown(*place) }).collect(),
        picture: picture(&run, DPI),
        says,
        others,
    })
}

/// Colours as they are written: one to a line, or parted by semicolons, or by commas outside brackets.
fn parted(text: &str) -> Vec<&str> {
    let mut depth = 0_usize;
    let parts = text.split(move |c: char| {
        match c {
            '(' => depth += 1,
            ')' => depth = depth.saturating_sub(1),
            _ => {}
        }
        matches!(c, '\n' | ';') || (c == ',' && depth == 0)
    });
    parts.map(str::trim).filter(|part| !part.is_empty()).collect()
}

fn found_seen(drawer: &Drawer, text: &str) -> Result<(Vec<Seen>, Vec<Uuid>), String> {
    let parts = parted(text);
    if parts.len() > MOST_SEEN {
        return Err(format!("{} colours: look for at most {MOST_SEEN} at once.", parts.len()));
    }
    let read = |part: &&str| {
        written::read(part).and_then(|colour| colour.lab(LIGHT)).map_err(|error| sentence(&error.to_string()))
    };
    let wished: Vec<Lab> = parts.iter().map(read).collect::<Result<_, _>>()?;
    let mut films = Vec::new();
    let mut passes = 0;
    for (place, swatch) in drawer.swatches.iter().enumerate() {
        passes += usize::from(drawer.ink(place).full_veils);
        if passes > MOST_PASSES {
            break;
        }
        films.push((swatch.0.clone(), drawer.ink(place).full_veils));
    }
    let found = nearest_to_each(&wished, &films, &drawer.card, LIGHT, 3);
    let mut inks: Vec<Uuid> = Vec::new();
    for film in found.iter().filter_map(|near| near.first()).flat_map(|near| &near.films) {
        let id = drawer.inks[film.place].id;
        if !inks.contains(&id) {
            inks.push(id);
        }
    }
    let near = |near: Near| {
        let film =
            |place: usize, veils: u8| format!("{} of {}", light_passes(veils.into()), drawer.ink(place).name);
        let says = match near.films.as_slice() {
            [lower, upper] => format!(
                "{}, then {} of {} over it",
                film(lower.place, lower.veils),
                upper.veils,
                drawer.ink(upper.place).name
            ),

            [one, ..] => film(one.place, one.veils),
            [] => String::new(),
        };
        NearShown {
            colour: on_screen(near.lab),
            says,
            how_near: how_near(near.difference),
            exactly: format!("{:.1} (CIEDE2000)", near.difference),
        }
    };
    let seen = wished
        .into_iter()
        .zip(found)
        .map(|(lab, found)| Seen { colour: on_screen(lab), near: found.into_iter().map(near).collect() })
        .collect();
    Ok((seen, inks))
}

/// Inks a panel is begun with, by their numbers in the drawer, parted by commas.
#[derive(Deserialize)]
pub struct Chosen {
    inks: String,
}

/// `POST /drawer/panel`: a new panel of some inks of the drawer.
pub async fn panel(sent: Sent<Chosen>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let (bench, units) = (sent.visitor.bench.id, sent.visitor.units());
    let mut inks = Vec::new();
    for id in sent.form.inks.split(',').take(rosy_core::blend::field::MOST_INKS) {
        let id: Uuid = id.trim().parse().map_err(|_| Problem::Missing("ink"))?;
        inks.push((store.one::<Ink>(bench, id).await?.value, None));
    }
    let panel = begin(&store, bench, None, units).await?.choosing(0, inks, units);
    panel.check().map_err(|error| Problem::Refused(sentence(&error.to_string())))?;
    let id = store.add_panel(bench, &panel).await?;
    Ok(see(format!("/panels/{id}/blend")))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn colours_are_parted_outside_their_brackets() {
        assert_eq!(
            parted("#d8456b, teal\n rgb(1, 2, 3); 55 60 -4,"),
            ["#d8456b", "teal", "rgb(1, 2, 3)", "55 60 -4"]
        );
        assert!(parted(" \n ,").is_empty());
    }
}
