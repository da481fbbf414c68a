//! Panels saved from several tabs.

use rosy_core::Panel;
use rosy_core::ink::Name;
use rosy_core::merge::merged;
use sea_orm::sea_query::Expr;
use sea_orm::{ConnectionTrait, DatabaseTransaction, PaginatorTrait, QueryFilter, QuerySelect};
use uuid::Uuid;

use crate::change::{Change, Scope, apply, is_made, remember, undoable, walk};
use crate::thing::{Thing, latest_first, row};
use crate::{Kept, Store, StoreError};

/// A panel as it stands, and what undo and redo would do.
#[derive(Clone, Debug, PartialEq)]
pub struct PanelState {
    /// The panel.
    pub panel: Panel,
    /// Times it has been changed.
    pub revision: i64,
    /// What undo would take back.
    pub undo: Option<String>,
    /// What redo would do again.
    pub redo: Option<String>,
}

/// A panel to be saved.
#[derive(Clone, Debug)]
pub struct Save<'a> {
    /// The revision it was read at.
    pub revision: i64,
    /// The panel as it was read, where that is known: changes to different things are then merged.
    pub base: Option<&'a Panel>,
    /// What it is to be.
    pub panel: &'a Panel,
    /// What was done to it, for undo.
    pub label: &'a str,
    /// The change's own mark, by which it is known when it is sent again.
    pub mark: Option<Uuid>,
}

/// How a save went.
#[derive(Clone, Debug, PartialEq)]
pub enum Saved {
    /// Kept under its number.
    Kept(PanelState),
    /// Another tab was first and had changed other things: both changes are in it.
    Merged(PanelState),
    /// Another tab was first with the same thing: that one stays, and this one is kept beside it as a panel of its own.
    Beside {
        /// The number of the panel that holds what was being saved.
        id: Uuid,
        /// What it is called.
        name: String,
        /// The panel that stays.
        state: PanelState,
    },
}

impl Store {
    /// A panel as it stands.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where the bench has no such panel.
    pub async fn panel(&self, bench: Uuid, id: Uuid) -> Result<PanelState, StoreError> {
        state(&self.db, bench, id).await
    }

    /// Whether a change with this mark has been made.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn is_made(&self, bench: Uuid, mark: Uuid) -> Result<bool, StoreError> {
        is_made(&self.db, bench, mark).await
    }

    /// Saves a panel. Where it has been changed since it was read, both changes are merged, or else both are kept. What
    /// is answered is what this save made of it, whatever comes after.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where the bench has no such panel.
    pub async fn save_panel(&self, bench: Uuid, id: Uuid, save: Save<'_>) -> Result<Saved, StoreError> {
        let db = self.at_bench(bench).await?;
        let Kept { value: present, revision, .. } = kept(&db, bench, id).await?;
        let again = match save.mark {
            Some(mark) => is_made(&db, bench, mark).await?,
            None => false,
        };
        if again || present == *save.panel {
            let state = state(&db, bench, id).await?;
            db.commit().await?;
            return Ok(Saved::Kept(state));
        }
        if revision == save.revision {
            return Ok(Saved::Kept(replace(db, bench, id, &present, save.panel, &save).await?));
        }
        if let Some(both) = save.base.and_then(|base| merged(base, save.panel, &present)) {
            return Ok(Saved::Merged(replace(db, bench, id, &present, &both, &save).await?));
        }
        let beside = Panel { name: named_beside(&save.panel.name), ..save.panel.clone() };
        let other = Uuid::now_v7();
        let change = vec![Change::add(other, &beside)?];
        let label = format!("keep {} beside", beside.name);
        apply(&db, bench, &label, &change).await?;
        remember(&db, bench, Scope::Bench, &label, &change, save.mark).await?;
        let state = state(&db, bench, id).await?;
        db.commit().await?;
        Ok(Saved::Beside { id: other, name: beside.name.to_string(), state })
    }

    /// Takes back a panel's last change, or does it again.
    ///
    /// # Errors
    /// As [`Store::undo`].
    pub async fn walk_panel(&self, bench: Uuid, id: Uuid, back: bool) -> Result<PanelState, StoreError> {
        let db = self.at_bench(bench).await?;
        walk(&db, bench, Scope::Panel(id), back).await?;
        let state = state(&db, bench, id).await?;
        db.commit().await?;
        Ok(state)
    }

    /// How many panels with a plan have a word in their name, and some of them, the latest changed first, from one on.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn planned_panels(
        &self,
        bench: Uuid,
        word: &str,
        (from, most): (u64, u64),
    ) -> Result<(u64, Vec<Kept<Panel>>), StoreError> {
        let plain: String = word.trim().chars().filter(|c| *c != '\0').take(80).collect();
        let plain = plain.replace('\\', "\\\\").replace('%', "\\%").replace('_', "\\_");
        let named = Expr::cust_with_values("body->>'name' ILIKE $1", [format!("%{plain}%")]);
        let planned = Expr::cust("jsonb_array_length(coalesce(body->'moves', '[]'::jsonb)) > 0");
        let of = || latest_first::<Panel>(bench).filter(planned.clone()).filter(named.clone());
        let count = of().count(&self.db).await?;
        let rows = of().offset(from).limit(most).all(&self.db).await?;
        Ok((count, rows.into_iter().map(Kept::from_row).collect::<Result<_, _>>()?))
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

    /// Makes another panel like one, under a name of its own.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where the bench has no such panel.
    pub async fn copy_panel(&self, bench: Uuid, id: Uuid) -> Result<Uuid, StoreError> {
        let Kept { value, .. } = self.one::<Panel>(bench, id).await?;
        let name = value.name.with_tail(", copy");
        let copy = Panel { name, done: 0, gave: Vec::new(), ..value };
        let (other, label) = (Uuid::now_v7(), format!("copy {}", copy.name));
        self.change(bench, Scope::Bench, &label, vec![Change::add(other, &copy.laid())?]).await?;
        Ok(other)
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

    /// Brings a removed panel back as it was.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where it was not removed, or too long ago.
    pub async fn bring_panel_back(&self, bench: Uuid, id: Uuid) -> Result<(), StoreError> {
        let removed = self.removed::<Panel>(bench, Scope::Bench).await?;
        let (_, panel) =
            removed.into_iter().find(|(other, _)| *other == id).ok_or(StoreError::Missing("panel"))?;
        let label = format!("bring back {}", panel.name);
        self.change(bench, Scope::Bench, &label, vec![Change::add(id, &panel)?]).await
    }
}

/// Puts one panel in another's place, and says how it stands then.
async fn replace(
    db: DatabaseTransaction,
    bench: Uuid,
    id: Uuid,
    present: &Panel,
    panel: &Panel,
    save: &Save<'_>,
) -> Result<PanelState, StoreError> {
    // The body is compared as kept, so that the change can be taken back to the letter.
    let change = vec![Change::replace(id, present, panel)?];
    apply(&db, bench, save.label, &change).await?;
    remember(&db, bench, Scope::Panel(id), save.label, &change, save.mark).await?;
    let state = state(&db, bench, id).await?;
    db.commit().await?;
    Ok(state)
}

async fn kept(db: &impl ConnectionTrait, bench: Uuid, id: Uuid) -> Result<Kept<Panel>, StoreError> {
    let found = row(db, bench, id, false).await?.filter(|row| row.kind == Panel::KIND);
    Kept::from_row(found.ok_or(StoreError::Missing(Panel::KIND))?)
}

async fn state(db: &impl ConnectionTrait, bench: Uuid, id: Uuid) -> Result<PanelState, StoreError> {
    let Kept { value: panel, revision, .. } = kept(db, bench, id).await?;
    let (undo, redo) = undoable(db, bench, Scope::Panel(id)).await?;
    Ok(PanelState { panel, revision, undo, redo })
}

/// A name for the second of two tabs' panels.
fn named_beside(name: &Name) -> Name {
    name.with_tail(" (other tab)")
}
