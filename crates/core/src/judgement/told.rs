//! How is what was judged told to the one who asks?

use super::{Finding, Reading, Rule};
use crate::length::{Length, Units};
use crate::moves::light_passes;
use crate::panel::Panel;

impl Finding {
    /// How bad it is, in a sentence, and the figure behind it for those who ask.
    pub fn how_bad(&self, panel: &Panel, units: Units) -> (String, Option<String>) {
        let Finding { figure, limit, .. } = *self;
        let span = panel.span(self.blend);
        let at = self.at.from.min(span).shown(units);
        let past = |share: f64, just: &str, by: &dyn Fn(String) -> String| match share {
            s if s < 1.15 => just.to_owned(),
            s if s < 1.95 => by(format!("{s:.1} times")),
            s => by(format!("{s:.0} times")),
        };
        match self.rule {
            Rule::HardEdge => (
                past(
                    figure / limit,
                    "The colour changes just faster than the eye takes for smooth.",
                    &|times| format!("The colour changes {times} as fast as the eye takes for smooth."),
                ),
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
                Some(format!(
                    "uneven by {figure:.1}, even up to {limit:.1} (CIEDE2000, one standard deviation)"
                )),
            ),
            Rule::Gap | Rule::Overload => (format!("At {at}."), None),
            Rule::Narrow => (format!("{figure:.0} of {limit:.0} find room."), None),
            Rule::Hidden => ("Nothing of it is seen.".into(), None),
            Rule::RunsOff => ("Some of it is cut off.".into(), None),
            Rule::Lost => ("Melted powder takes no ink.".into(), None),
            Rule::Muddied => (format!("From {:.0} % of the card on it is seen.", 100.0 * limit), None),
            Rule::Faint => (format!("It is {figure:.0}; from {limit:.0} on it shows."), None),
            Rule::Weak => {
                (format!("{figure:.0} light passes to its full strength, of about {limit:.0}."), None)
            }
            Rule::Strong => (
                "One light pass already shows more than a gentle fade allows.".into(),
                Some(format!("{figure:.0} from bare card, gentle up to {limit:.0} (CIEDE2000)")),
            ),
        }
    }
}

impl Rule {
    /// Why nothing mends all of it.
    pub fn unmended(self, nothing_helps: bool) -> &'static str {
        match (self, nothing_helps) {
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
            (Rule::Hidden, _) => "Bring it forward, move it, or take it away.",
            (Rule::RunsOff, _) => "Make it fit, or write it on several lines.",
            (Rule::Lost, _) => "Leave what lies under it unsealed, or move the one off the other.",
            (Rule::Weak, _) => "No ink of the drawer that comes near to it is stronger.",
            (Rule::Strong, _) => "No ink of the drawer that comes near to it can be laid more lightly.",
        }
    }
}

/// How an ink of a blend is laid: in how many passes, from where to where.
pub fn ink_says(panel: &Panel, place: usize, at: usize, units: Units) -> String {
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

/// The joins of a blend in a word each.
pub fn joins_say(reading: &Reading, blend: usize) -> String {
    let words: Vec<String> = reading
        .junctions
        .iter()
        .filter(|junction| junction.blend == blend)
        .map(|junction| format!("{} {}", junction.verdict.word(), junction.named))
        .collect();
    words.join(", ")
}
