//! The questions the model answers, by name: the same on the command line and over the web.

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use rosy_core::ask::card::{CardAsked, CardSeen, TrimAsked, TrimSeen};
use rosy_core::ask::edit::{EditAsked, EditSeen};
use rosy_core::ask::evening::{EveningAsked, EveningSeen};
use rosy_core::ask::hand::{HandAsked, HandSeen};
use rosy_core::ask::learn::{LearnAsked, LearnSeen};
use rosy_core::ask::order::{CheckAsked, CheckSeen, CoverAsked, CoverSeen};
use rosy_core::ask::search::{
    BridgeAsked, BridgeSeen, DarkerAsked, DarkerSeen, LacksAsked, LacksSeen, NearAsked, NearSeen, PairsAsked,
    PairsSeen, PathAsked, PathSeen,
};
use rosy_core::ask::shape::{ShapeAsked, ShapeSeen};
use rosy_core::ask::strip::{StripAsked, StripSeen};
use rosy_core::ask::water::{FlecksAsked, FlecksSeen, PressAsked, PressSeen};
use rosy_core::ask::{
    Junction, JunctionSeen, Order, OrderSeen, Overprint, OverprintSeen, PanelAsked, PanelSeen,
};
use rosy_core::cut::{Plan, SheetAsked};
use rosy_core::shape::steps::{StepsAsked, StepsSeen};
use rosy_eye::ask::{DrillAsked, DrillSeen, InspectAsked, InspectSeen, SwatchAnswer, SwatchAsked};
use rosy_eye::picture::Picture;
use schemars::{JsonSchema, schema_for};
use serde::{Serialize, de::DeserializeOwned};
use serde_json::{Value, json};

use crate::{photo, refusal};

/// A question by name: how it is answered and the schemas of both sides.
struct Question {
    /// Its name on the command line and in the web address.
    name: &'static str,
    answer: fn(&[u8]) -> Result<Value, String>,
    schema: fn() -> Value,
}

macro_rules! question {
    ($name:literal, $asked:ty, $seen:ty) => {
        Question { name: $name, answer: answered::<$asked, $seen>, schema: schemas::<$asked, $seen> }
    };
}

/// All questions.
const QUESTIONS: [Question; 27] = [
    question!("overprint", Overprint, OverprintSeen),
    question!("junction", Junction, JunctionSeen),
    question!("order", Order, OrderSeen),
    question!("pairs", PairsAsked, PairsSeen),
    question!("bridge", BridgeAsked, BridgeSeen),
    question!("path", PathAsked, PathSeen),
    question!("near", NearAsked, NearSeen),
    question!("darker", DarkerAsked, DarkerSeen),
    question!("lacks", LacksAsked, LacksSeen),
    question!("panel", PanelAsked, PanelSeen),
    question!("card", CardAsked, CardSeen),
    question!("trim", TrimAsked, TrimSeen),
    question!("sheet", SheetAsked, Plan),
    question!("shape", ShapeAsked, ShapeSeen),
    question!("cover", CoverAsked, CoverSeen),
    question!("steps", StepsAsked, StepsSeen),
    question!("edit", EditAsked, EditSeen),
    question!("check", CheckAsked, CheckSeen),
    question!("press", PressAsked, PressSeen),
    question!("flecks", FlecksAsked, FlecksSeen),
    question!("evening", EveningAsked, EveningSeen),
    question!("learn", LearnAsked, LearnSeen),
    question!("hand", HandAsked, HandSeen),
    question!("strip", StripAsked, StripSeen),
    question!("swatch", SwatchAsked, SwatchAnswer),
    question!("inspect", InspectAsked, InspectSeen),
    question!("drill", DrillAsked, DrillSeen),
];

trait Asked<Seen> {
    fn answer(&self) -> Result<Seen, String>;
}

macro_rules! asked {
    ($($asked:ty => $seen:ty),*) => {$(
        impl Asked<$seen> for $asked {
            fn answer(&self) -> Result<$seen, String> {
                <$asked>::answer(self).map_err(|error| error.to_string())
            }
        }
    )*};
}
asked!(
    Overprint => OverprintSeen, Junction => JunctionSeen, Order => OrderSeen, PanelAsked => PanelSeen,
    PairsAsked => PairsSeen, BridgeAsked => BridgeSeen, PathAsked => PathSeen, NearAsked => NearSeen,
    DarkerAsked => DarkerSeen, LacksAsked => LacksSeen,
    CardAsked => CardSeen, TrimAsked => TrimSeen, SheetAsked => Plan, ShapeAsked => ShapeSeen, CoverAsked => CoverSeen,
    CheckAsked => CheckSeen, StepsAsked => StepsSeen, PressAsked => PressSeen, FlecksAsked => FlecksSeen,
    EveningAsked => EveningSeen, LearnAsked => LearnSeen, HandAsked => HandSeen, StripAsked => StripSeen, EditAsked => EditSeen
);

/// A question with a photo in it, which stands in base64 in its document, or is sent beside it.
pub trait OfPhoto<Seen> {
    /// The photo as it stands in the document.
    fn photo(&self) -> &str;

    /// What the photo says.
    ///
    /// # Errors
    /// What is wrong with it and how to mend it.
    fn of(&self, picture: Picture) -> Result<Seen, String>;
}

macro_rules! of_photo {
    ($($asked:ty => $seen:ty),*) => {$(
        impl OfPhoto<$seen> for $asked {
            fn photo(&self) -> &str {
                &self.picture
            }

            fn of(&self, picture: Picture) -> Result<$seen, String> {
                self.answer(picture).map_err(|error| error.to_string())
            }
        }

        impl Asked<$seen> for $asked {
            fn answer(&self) -> Result<$seen, String> {
                let none = |_| "picture: this is no base64: give the photo's bytes in it, without line breaks".to_owned();
                match self.photo() {
                    "" => Err("picture: give the photo in base64".into()),
                    photo => beside(self, &STANDARD.decode(photo).map_err(none)?),
                }
            }
        }
    )*};
}
of_photo!(SwatchAsked => SwatchAnswer, InspectAsked => InspectSeen, DrillAsked => DrillSeen);

/// What a photo says, its bytes beside what is asked.
///
/// # Errors
/// What is wrong with it and how to mend it.
pub fn beside<Seen>(asked: &impl OfPhoto<Seen>, photo: &[u8]) -> Result<Seen, String> {
    asked.of(photo::picture(photo).map_err(|error| error.to_string())?)
}

/// Most bytes of a question's document: 4 MB, and where a photo stands in it as much as a photo may have, in base64.
pub fn most_bytes(name: &str) -> usize {
    if has_photo(name) { MOST_WITH_PHOTO } else { 4 << 20 }
}

/// Most bytes of a document with a photo in it.
pub const MOST_WITH_PHOTO: usize = photo::MOST_BYTES / 3 * 4 + (2 << 20);

/// Whether a photo is sent with a question.
pub fn has_photo(name: &str) -> bool {
    matches!(name, "swatch" | "inspect" | "drill")
}

fn answered<A: Asked<S> + DeserializeOwned, S: Serialize>(document: &[u8]) -> Result<Value, String> {
    let asked: A = refusal::read(document, "the question")?;
    let seen = asked.answer()?;
    serde_json::to_value(seen).map_err(|error| error.to_string())
}

fn schemas<A: JsonSchema, S: JsonSchema>() -> Value {
    json!({ "question": schema_for!(A), "answer": schema_for!(S) })
}

fn find(name: &str) -> Result<&'static Question, String> {
    QUESTIONS.iter().find(|question| question.name == name).ok_or_else(|| {
        let known: Vec<&str> = QUESTIONS.iter().map(|question| question.name).collect();
        format!("there is no question “{name:.40}”: ask one of {}", known.join(", "))
    })
}

/// Whether there is a question of this name.
///
/// # Errors
/// Which there are.
pub fn known(name: &str) -> Result<(), String> {
    find(name).map(|_| ())
}

/// Answers a question by name.
///
/// # Errors
/// What is wrong with it and how to mend it.
pub fn answer(name: &str, document: &[u8]) -> Result<Value, String> {
    (find(name)?.answer)(document)
}

/// The JSON Schemas of a question and its answer.
///
/// # Errors
/// Which questions there are.
pub fn schema(name: &str) -> Result<Value, String> {
    Ok((find(name)?.schema)())
}
