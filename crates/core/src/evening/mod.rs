//! Several cards at once: what do one pair of hands do when? In reading order:
//!
//! | file | question |
//! |---|---|
//! | [`chain`] | what has to be done to one card, one thing after the other, and what lies between? |
//! | [`desk`] | which brush lays an ink, and what has to be done to it first? |
//! | [`shop`] | when can each thing be done, in a given order of the hands? |
//! | [`bound`] | in how little time could it be done at best? |
//! | [`rule`] | which order does a careful hand find? |
//! | [`exact`] | which order is the best of all? |
//! | [`plan`] | what is done when, and what fits into the time there is? |
//! | [`check`] | does any card suffer by it? |
//! | [`sitting`] | how does it stand, by what has been told of it? |
//! | [`skip`] | can what comes next on a card be left out? |
//! | [`beforehand`] | what is cut and put out before the first ink? |
//! | [`words`] | how is a step said, from a metre away? |
//!
//! An evening is a shop with one pair of hands, one heat tool and one mat. Each card is a chain of tasks with least waits
//! between them (dry before it is covered) and longest waits (a join is worked before its ink is dry), and with set-ups
//! between inks. The hands end as early as they can; of all orders that end so, the one with the fewest changes of ink is
//! the best.

pub mod beforehand;
pub mod bound;
pub mod chain;
pub mod check;
pub mod desk;
pub mod exact;
pub mod plan;
pub mod rule;
pub mod shop;
pub mod sitting;
pub mod skip;
pub mod words;

pub use chain::{Chain, Gap, Task};
pub use plan::{Evening, Progress, Scheduled, Step, Tools};
pub use sitting::{Fault, Finished, Sitting, Standing, Told, What};
