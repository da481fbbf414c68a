//! What do hands do? Each technique is one file that holds all there is to know of it.
//!
//! To add one: write a file here with a type that keeps its measures and implements [`Technique`] (what must be true
//! before it, what it does to the surface, how long it takes, how the run sheet says it, what can hurt), and name it in
//! [`list`]. Nothing else knows techniques by name but the planner that lays them; picture, judgements, run sheet and pages
//! read what the surface has become and what the technique itself answers.
//!
//! ```
//! # use rosy_core::moves::surface_after;
//! # let text = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/version_1/ebb_down.json"));
//! let panel: rosy_core::Panel = serde_json::from_str(text)?;
//! // A panel is what its moves make of bare card, one after the other; before the first there is no ink on it.
//! let after = |count: usize| surface_after(panel.materials(), &panel.moves[..count]).coats.len();
//! assert_eq!(after(0), 0);
//! assert!((1..panel.moves.len()).all(|count| after(count - 1) <= after(count)));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! | file | technique |
//! |---|---|
//! | [`technique`] | what every technique answers |
//! | [`step`] | what one answers that a maker asks for by itself |
//! | [`telling`] | how is a step told in a sentence, and a word of it written? |
//! | [`rules`] | what must be true before a move, and what puts it right where it is not |
//! | `unset` | what on a card has not set yet, so that nothing may touch it? |
//! | [`laying`] | ink taken up once: which, along which way, how many veils from where to where |
//! | [`lay`] | lay an ink |
//! | [`back`] | back with the one before, over the place where two meet |
//! | [`break_into`] | break an ink gently into another with what is left on the brush |
//! | [`take`] | take up a brush |
//! | [`wipe`] | wipe the brush |
//! | [`mask_on`] | put a mask on |
//! | [`mask_off`] | lift a mask |
//! | [`anti_static`] | wipe an anti-static bag over it |
//! | [`sticky`] | sticky embossing ink on a thing, through its frame |
//! | [`powder`] | embossing powder over sticky ink |
//! | [`melt`] | melt powder to a raised, glossy line |
//! | [`cool`] | let it cool until it is hard |
//! | [`buff`] | wipe the ink off what is sealed |
//! | [`wetting`] | what must be true before water comes on the card |
//! | [`dab`] | dab a pad on the mat |
//! | [`mist_mat`] | mist the mat until the ink beads |
//! | [`press`] | press the card on the mat |
//! | [`spray`] | spray it from a bottle |
//! | [`flick`] | flick or place flecks |
//! | [`mist`] | mist the card |
//! | [`lift`] | lift ink with a wet stencil |
//! | [`blot`] | blot what water stands on it |
//! | [`spread`] | spread paste through a stencil |
//! | [`swipe`] | take the pad straight to the card |
//! | [`print`] | print a thing by its stamp |
//! | [`stamp`] | stamp a shape |
//! | [`edging`] | brush an ink round a thing |
//! | [`tape`] | tape the edges of the panel |
//! | [`peel`] | peel that tape off |
//! | [`raise`] | raise a pattern by dry embossing |
//! | [`look`] | look, and stop early |
//! | [`dry`] | let it dry in air |
//! | [`heat`] | dry it with heat |
//! | [`list`] | all of them as one |
//! | [`accepted`] | which broken rules does the maker leave as they are? |

pub mod accepted;
pub mod anti_static;
pub mod back;
pub mod blot;
pub mod break_into;
pub mod buff;
pub mod cool;
pub mod dab;
pub mod dry;
pub mod edging;
pub mod flick;
pub mod heat;
pub mod lay;
pub mod laying;
pub mod lift;
pub mod list;
pub mod look;
pub mod mask_off;
pub mod mask_on;
pub mod melt;
pub mod mist;
pub mod mist_mat;
pub mod peel;
pub mod powder;
pub mod press;
pub mod print;
pub mod raise;
pub mod rules;
pub mod spray;
pub mod spread;
pub mod stamp;
pub mod step;
pub mod sticky;
pub mod swipe;
pub mod take;
pub mod tape;
pub mod technique;
pub mod telling;
mod unset;
pub mod wetting;
pub mod wipe;

pub use accepted::{Accepted, LONGEST_NOTE, MOST_ACCEPTED};
pub use laying::{Laying, light_passes};
pub use list::{Move, WetStep, all_off, handled, surface_after};
pub use rules::{Breach, Mend, Stage, Unmet};
pub use step::Step;
pub use technique::{Technique, Words};
pub use telling::Telling;
pub use wetting::standing;
