//! What does a photo of a panel say, held against its plan?

use rosy_core::Panel;
use rosy_core::edit::AnyEdit;
use rosy_core::learn::hand::{Came, Showing};
use rosy_core::length::{Length, Units};
use rosy_core::place::Point;
use rosy_core::practice::Figured;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::held::drilled::Drilled;
use crate::held::flaw::{Flaw, FlawKind};
use crate::held::hold::{Found, Held, HeldError};
use crate::held::mend::remedy;
use crate::held::passes::Zone;
use crate::held::seen::White;
use crate::held::telling::{place, told, width};
use crate::phone::{NoPhone, Phone};
use crate::picture::Picture;

/// A photo of a panel, held against its plan.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct InspectAsked {
    /// The photo, in base64: JPEG, PNG, WebP or GIF.
    #[serde(default)]
    pub picture: String,
    /// The panel, with its moves.
    pub panel: Panel,
    /// How many of its moves are made; all of them where it is not told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub moves: Option<usize>,
    /// The panel's corners in the photo, in pixels: its left and right above, its left and right below. They are found where they
    /// are not told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub corners: Option<[[f64; 2]; 4]>,
    /// What is known of the phone, as photos of swatches told it. Without it no amounts are told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub phone: Option<Phone>,
    /// The units of the measures in what is said.
    #[serde(default)]
    pub units: Units,
}

/// Why a photo of a panel says nothing.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum InspectError {
    /// It cannot be read.
    #[error(transparent)]
    Held(#[from] HeldError),
    /// No phone.
    #[error("phone: {0}")]
    Phone(#[from] NoPhone),
    /// More moves than there are.
    #[error("moves: {asked} are made, and the panel has {has}")]
    Moves {
        /// How many.
        asked: usize,
        /// How many there are.
        has: usize,
    },
}

/// What a panel is judged by.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum By {
    /// Bare card on it and a phone that is known: colours, amounts, joins and edges.
    CardAndPhone,
    /// Bare card on it: joins, edges and what differs from place to place; no amounts.
    Card,
    /// Neither: joins and edges alone.
    Plan,
}

/// What was found.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct InspectSeen {
    /// The panel's corners in the photo, in pixels: its left and right above, its left and right below.
    pub corners: [[f64; 2]; 4],
    /// What it is judged by.
    pub by: By,
    /// What that leaves out, and what would let it be judged.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub left_out: Option<String>,
    /// What is not as planned.
    pub findings: Vec<FlawSeen>,
    /// The figures that a strip to practise on is scored by, the weakest first; none of any other panel.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub figures: Vec<Figured>,
    /// How strong each ink came, where that can be told.
    pub strengths: Vec<StrengthSeen>,
    /// How many light passes lie where, where that can be told.
    pub zones: Vec<ZoneSeen>,
    /// A change that plans the rest from what lies there, where that ends nearer to what is wanted.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub remedy: Option<RemedySeen>,
    /// What it shows of the hand that laid it, as `hand` takes it; nothing of a panel whose moves say what came of them.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub showing: Option<Showing>,
    /// How far the photo is from the plan all over (ΔE00, the middle of all places), where that can be told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub off: Option<f64>,
}

/// A change to the panel, tried on the model.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RemedySeen {
    /// The change, as `edit` takes it.
    pub edit: AnyEdit,
    /// What is to come then.
    pub says: String,
    /// How far the finished panel is from what was wanted as things stand (ΔE00, on the mean).
    pub off: f64,
    /// The same with the change.
    pub then_off: f64,
}

/// Something that is not as planned.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FlawSeen {
    /// Of which kind.
    pub kind: FlawKind,
    /// Where its middle is on the panel.
    pub at: Point,
    /// The corners of the box round it in the photo, in pixels, one after the other.
    pub around: [[f64; 2]; 4],
    /// Its size in the measure of its kind: a colour difference (ΔE00), or a share of what was planned.
    pub figure: f64,
    /// Its width, where it has one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub wide: Option<Length>,
    /// The ink it is of, by its place in the panel's list.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub ink: Option<usize>,
    /// The thing it is of, by its place from front to back.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub thing: Option<usize>,
    /// What is the matter, and where.
    pub says: String,
    /// What to do now; nothing where it cannot be saved.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub now: Option<String>,
    /// What to do next time.
    pub next: String,
}

/// How strong an ink came.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct StrengthSeen {
    /// The ink, by its place in the panel's list.
    pub ink: usize,
    /// What was laid, as a share of what was planned.
    pub came: f64,
    /// By which factor that may be off either way, nine times in ten.
    pub within: f64,
}

/// A zone of a blend of the ground.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ZoneSeen {
    /// The blend, by its place on the ground.
    pub blend: usize,
    /// From where along it.
    pub from: Length,
    /// To where.
    pub to: Length,
    /// How far what is seen is from the plan (ΔE00).
    pub off: f64,
    /// The inks that lie there.
    pub inks: Vec<LiesSeen>,
}

/// Light passes of an ink in a zone.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LiesSeen {
    /// The ink, by its place in the panel's list.
    pub ink: usize,
    /// Light passes that the plan has there by now.
    pub planned: f64,
    /// Light passes that lie there.
    pub lie: f64,
    /// How far off that may be, nine times in ten.
    pub within: f64,
}

impl InspectAsked {
    /// Holds the photo against the plan.
    ///
    /// # Errors
    /// An [`InspectError`] with the remedy.
    pub fn answer(&self, picture: Picture) -> Result<InspectSeen, InspectError> {
        let has = self.panel.moves.len();
        let moves = self.moves.unwrap_or(has);
        if moves > has {
            return Err(InspectError::Moves { asked: moves, has });
        }
        if let Some(phone) = &self.phone {
            phone.check()?;
        }
        let (picture, factor) = picture.as_read();
        let factor = factor as f64;
        let corners = self.corners.map(|corners| corners.map(|corner| corner.map(|along| along / factor)));
        let found = Found::of(&picture, &self.panel, moves, corners, self.phone.as_ref())?;
        let held = Held::of(&found, &picture, &self.panel, self.phone.as_ref());
        // What is practised is scored once all of it is laid.
        let drill = self.panel.practice.filter(|_| moves == has);
        let drilled = Drilled { found: &found, held: &held, edges: found.edges(&picture), units: self.units };
        let figures = drill.map_or(Vec::new(), |drill| drilled.figures(drill));
        Ok(InspectSeen { figures, ..self.seen(&held, moves, factor) })
    }

    fn seen(&self, held: &Held, moves: usize, factor: f64) -> InspectSeen {
        let larger = |[x, y]: [f64; 2]| [x * factor, y * factor];
        let by = match (held.white, held.phone_known) {
            (White::Card, true) => By::CardAndPhone,
            (White::Card, false) => By::Card,
            (White::Plan, _) => By::Plan,
        };
        InspectSeen {
            corners: held.corners.map(larger),
            by,
            left_out: by.left_out().map(str::to_owned),
            figures: Vec::new(),
            findings: held.flaws.iter().map(|flaw| self.finding(flaw, held, moves, factor)).collect(),
            strengths: held
                .strengths
                .iter()
                .map(|strength| StrengthSeen {
                    ink: strength.ink,
                    came: rounded(strength.came),
                    within: rounded(strength.within),
                })
                .collect(),
            zones: held.zones.iter().map(|zone| self.zone(zone)).collect(),
            remedy: remedy(&self.panel, moves, &held.zones, self.units).map(|remedy| RemedySeen {
                edit: AnyEdit::CameOut(remedy.edit),
                says: remedy.says,
                off: rounded(remedy.off[0]),
                then_off: rounded(remedy.off[1]),
            }),
            showing: held.showing(&self.panel).map(|showing| Showing {
                strength: showing
                    .strength
                    .map(|came| Came { share: rounded(came.share), within: rounded(came.within) }),
                unevenness: showing.unevenness.map(rounded),
                ..showing
            }),
            off: held.off.map(rounded),
        }
    }

    fn finding(&self, flaw: &Flaw, held: &Held, moves: usize, factor: f64) -> FlawSeen {
        let told = told(flaw, &self.panel, moves, self.units);
        let [[l, t], [r, b]] = flaw.around;
        let around =
            [[l, t], [r, t], [r, b], [l, b]].map(|at| held.plane.pixel(at).map(|along| along * factor));
        FlawSeen {
            kind: flaw.kind,
            at: place(flaw.at, self.units),
            around: around.map(|at| at.map(|along| (10.0 * along).round() / 10.0)),
            figure: rounded(flaw.size),
            wide: flaw.kind.is_wide().then(|| width(flaw.size, self.units)),
            ink: flaw.ink,
            thing: flaw.thing,
            says: told.says,
            now: told.now,
            next: told.next,
        }
    }

    fn zone(&self, zone: &Zone) -> ZoneSeen {
        let lies = |lies: &crate::held::passes::Lies| LiesSeen {
            ink: lies.ink,
            planned: rounded(lies.planned),
            lie: rounded(lies.lie),
            within: rounded(lies.within),
        };
        ZoneSeen {
            blend: zone.blend,
            from: width(zone.from, self.units),
            to: width(zone.to, self.units),
            off: rounded(zone.off),
            inks: zone.inks.iter().map(lies).collect(),
        }
    }
}

impl By {
    /// What is left out, and what would let it be judged.
    pub const fn left_out(self) -> Option<&'static str> {
        match self {
            By::CardAndPhone => None,
            By::Card => Some(
                "How many light passes lie where cannot be told, since it is not known what your phone does to colours: read a photo of \
                 your swatches first.",
            ),
            By::Plan => Some(
                "Colours cannot be made true, since bare card is not seen all about it: only joins and edges are judged. A white border, \
                 or the tape line, lets them be.",
            ),
        }
    }
}

fn rounded(figure: f64) -> f64 {
    (100.0 * figure).round() / 100.0
}
