//! `rosy-veil ask`: the model's answers for programs.

use std::io::Read;

use rosy_core::ask::{
    Junction, JunctionSeen, Order, OrderSeen, Overprint, OverprintSeen, PanelAsked, PanelSeen,
};
use rosy_core::card::ask::{CardAsked, CardSeen, TrimAsked, TrimSeen};
use rosy_core::cut::{Plan, SheetAsked};
use schemars::{JsonSchema, schema_for};
use serde::{Serialize, de::DeserializeOwned};
use serde_json::{Value, json};

/// Longest document read, in bytes.
const LONGEST: u64 = 4 << 20;

/// A question by name: how it is answered and the schemas of both sides.
struct Question {
    /// Its name on the command line and in the web address.
    name: &'static str,
    answer: fn(&str) -> Result<Value, String>,
    schema: fn() -> Value,
}

macro_rules! question {
    ($name:literal, $asked:ty, $seen:ty) => {
        Question { name: $name, answer: answered::<$asked, $seen>, schema: schemas::<$asked, $seen> }
    };
}

/// All questions.
const QUESTIONS: [Question; 7] = [
    question!("overprint", Overprint, OverprintSeen),
    question!("junction", Junction, JunctionSeen),
    question!("order", Order, OrderSeen),
    question!("panel", PanelAsked, PanelSeen),
    question!("card", CardAsked, CardSeen),
    question!("trim", TrimAsked, TrimSeen),
    question!("sheet", SheetAsked, Plan),
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
    CardAsked => CardSeen, TrimAsked => TrimSeen, SheetAsked => Plan
);

fn answered<A: Asked<S> + DeserializeOwned, S: Serialize>(document: &str) -> Result<Value, String> {
    let asked: A =
        serde_json::from_str(document).map_err(|error| format!("the question cannot be read: {error}"))?;
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

/// Answers a question by name.
pub fn answer(name: &str, document: &str) -> Result<Value, String> {
    (find(name)?.answer)(document)
}

/// Reads standard input and answers on standard output.
pub fn run(name: &str, schema: bool) -> Result<(), String> {
    let question = find(name)?;
    let seen = if schema {
        (question.schema)()
    } else {
        let mut document = String::new();
        std::io::stdin()
            .take(LONGEST)
            .read_to_string(&mut document)
            .map_err(|error| format!("standard input cannot be read: {error}"))?;
        (question.answer)(&document)?
    };
    println!("{seen:#}");
    Ok(())
}
