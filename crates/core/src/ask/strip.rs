//! How is a strip to practise on planned?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::drill::Drill;
use crate::ink::{Finish, Ink, Paper, Tool};
use crate::length::Units;
use crate::order::RunSheet;
use crate::panel::Panel;
use crate::practice::{StripError, strip};

/// What is to be practised, and with what.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct StripAsked {
    /// What.
    pub drill: Drill,
    /// One ink, or two for a join and for a piece put back in register.
    pub inks: Vec<Ink>,
    /// The card; very smooth bright white where none is given.
    #[serde(default)]
    pub paper: Option<Paper>,
    /// The tool; a domed brush where none is given.
    #[serde(default)]
    pub tool: Option<Tool>,
    /// The units of its measures.
    #[serde(default)]
    pub units: Units,
}

/// The strip.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct StripSeen {
    /// Its panel, as `panel`, `inspect` and `drill` take it.
    pub strip: Panel,
    /// How it is laid.
    pub sheet: RunSheet,
}

impl StripAsked {
    /// Plans it.
    ///
    /// # Errors
    /// A [`StripError`] with the remedy.
    pub fn answer(&self) -> Result<StripSeen, StripError> {
        let paper = self.paper.clone().unwrap_or_else(|| Paper::plain(Finish::VerySmooth));
        let tool = self.tool.clone().unwrap_or_else(Tool::plain);
        let strip = strip(self.drill, &self.inks, paper, tool, self.units)?;
        Ok(StripSeen { sheet: RunSheet::of(&strip, self.units), strip })
    }
}
