//! Panels saved from several tabs.

use rosy_core::Panel;
use rosy_core::ink::Name;
use sea_orm::TransactionTrait;
use uuid::Uuid;

use crate::change::{Change, Scope, apply, remember};
use crate::thing::row;
use crate::{Kept, Store, StoreError};

/// How a save went.
#[derive(Clone, Debug, PartialEq)]
pub enum Saved {
    /// Kept under its number, now at this revision.
    Kept(i64),
    /// Another tab was first: that one stays, and this one is kept beside it as a panel of its own.
    Beside {
        /// The number of the panel that holds what was being saved.
        id: Uuid,
        /// What it is called.
        name: String,
    },
}

impl Store {
    /// Saves a panel that was read at `revision`. Where it has been changed since, both are kept.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where the bench has no such panel.
    pub async fn save_panel(
        &self,
        bench: Uuid,
        id: Uuid,
        revision: i64,
        panel: &Panel,
        label: &str,
    ) -> Result<Saved, StoreError> {
        let db = self.db.begin().await?;
        let present = row(&db, bench, id, true).await?.ok_or(StoreError::Missing("panel"))?;
        let before: Panel = serde_json::from_value(present.body.clone())?;
        if before == *panel {
            return Ok(Saved::Kept(present.revision));
        }
        if present.revision == revision {
            // The body is compared as kept, so that the change can be taken back to the letter.
            let change = vec![Change::replace(id, &before, panel)?];
            apply(&db, bench, label, &change).await?;
            remember(&db, bench, Scope::Panel(id), label, &change).await?;
            db.commit().await?;
            return Ok(Saved::Kept(revision + 1));
        }
        let beside = Panel { name: named_beside(&panel.name), ..panel.clone() };
        let other = Uuid::now_v7();
        let change = vec![Change::add(other, &beside)?];
        let label = format!("keep {} beside", beside.name);
        apply(&db, bench, &label, &change).await?;
        remember(&db, bench, Scope::Bench, &label, &change).await?;
        db.commit().await?;
        Ok(Saved::Beside { id: other, name: beside.name.to_string() })
    }

    /// Adds a panel to a bench.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn add_panel(&self, bench: Uuid, panel: &Panel) -> Result<Uuid, StoreError> {
        let id = Uuid::now_v7();
        let label = format!("make {}", panel.name);
        self.change(bench, Scope::Bench, &label, vec![Change::add(id, panel)?]).await?;
        Ok(id)
    }

    /// Removes a panel; undo in the scope of the bench brings it back.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where the bench has no such panel.
    pub async fn remove_panel(&self, bench: Uuid, id: Uuid) -> Result<String, StoreError> {
        let Kept { value, .. } = self.one::<Panel>(bench, id).await?;
        let label = format!("remove {}", value.name);
        self.change(bench, Scope::Bench, &label, vec![Change::remove(id, &value)?]).await?;
        Ok(label)
    }
}

/// A name for the second of two tabs' panels, no longer than a name may be.
fn named_beside(name: &Name) -> Name {
    const TAIL: &str = " (other tab)";
    let room = rosy_core::ink::drawer::LONGEST_NAME - TAIL.len();
    let start: String = name.as_str().chars().take(room).collect();
    format!("{start}{TAIL}").parse().unwrap_or_else(|_| name.clone())
}
