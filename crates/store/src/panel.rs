//! Panels saved from several tabs.

use std::borrow::Cow;

use rosy_core::Panel;
use rosy_core::ink::Name;
use sea_orm::sea_query::Expr;
use sea_orm::{ConnectionTrait, PaginatorTrait, QueryFilter, QuerySelect};
use uuid::Uuid;

use crate::change::{Change, Scope, apply, become_another, is_made, remember, undoable, walk};
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
#[derive(Clone, Copy, Debug)]
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

/// How a panel was put in another's place.
enum Put {
    /// It stands there.
    Kept(PanelState),
    /// Another stands there, changed since this one was read.
    Differs(PanelState),
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

    /// Saves a panel. Where it has been changed since it was read, both changes are merged as `merge` does it, of the panel as
    /// it was read, this change and the other, or else both are kept. What is answered is what this save made of it, whatever
    /// comes after. Nothing is locked while they are merged.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where the bench has no such panel; and where it could not be worked out whether both go together.
    pub async fn save_panel<E: From<StoreError>>(
        &self,
        bench: Uuid,
        id: Uuid,
        save: Save<'_>,
        merge: impl AsyncFn([&Panel; 3]) -> Result<Option<Panel>, E>,
    ) -> Result<Saved, E> {
        let (mut panel, mut revision) = (Cow::Borrowed(save.panel), save.revision);
        loop {
            let present = match self.put(bench, id, &panel, Save { revision, ..save }).await? {
                Put::Kept(state) if matches!(panel, Cow::Borrowed(_)) => return Ok(Saved::Kept(state)),
                Put::Kept(state) => return Ok(Saved::Merged(state)),
                Put::Differs(present) => present,
            };
            let both = match save.base {
                Some(base) => merge([base, &panel, &present.panel]).await?,
                None => None,
            };
            match both {
                Some(both) => (panel, revision) = (Cow::Owned(both), present.revision),
                None => return Ok(self.keep_beside(bench, present, save).await?),
            }
        }
    }

    /// Puts a panel in the place of what is kept, where that is still as it was read.
    async fn put(&self, bench: Uuid, id: Uuid, panel: &Panel, save: Save<'_>) -> Result<Put, StoreError> {
        let db = self.at_bench(bench).await?;
        let present = row(&db, bench, id, false).await?.filter(|row| row.kind == Panel::KIND);
        let present = present.ok_or(StoreError::Missing(Panel::KIND))?;
        // What has been made has changed the panel since.
        let again = match save.mark {
            Some(mark) if present.revision != save.revision => is_made(&db, bench, mark).await?,
            _ => false,
        };
        // The body is compared as kept, so that the change can be taken back to the letter.
        let change = Change::from_kept(id, present.body.clone(), panel)?;
        let is_there = again || change.is_none();
        let Some(change) = change.filter(|_| !again && present.revision == save.revision) else {
            let state = state(&db, bench, id).await?;
            db.commit().await?;
            return Ok(if is_there { Put::Kept(state) } else { Put::Differs(state) });
        };
        let (revision, undo) = (present.revision + 1, Some(save.label.to_owned()));
        if let Some(after) = change.after() {
            become_another(&db, present, after.clone()).await?;
        }
        remember(&db, bench, Scope::Panel(id), save.label, &[change], save.mark).await?;
        db.commit().await?;
        Ok(Put::Kept(PanelState { panel: panel.clone(), revision, undo, redo: None }))
    }

    /// Keeps what was to be saved beside the panel that stays, as one of its own.
    async fn keep_beside(&self, bench: Uuid, state: PanelState, save: Save<'_>) -> Result<Saved, StoreError> {
        let db = self.at_bench(bench).await?;
        // Sent again meanwhile, it has been kept.
        if let Some(mark) = save.mark
            && is_made(&db, bench, mark).await?
        {
            db.commit().await?;
            return Ok(Saved::Kept(state));
        }
        let beside = Panel { name: named_beside(&save.panel.name), ..save.panel.clone() };
        let other = Uuid::now_v7();
        let change = vec![Change::add(other, &beside)?];
        let label = format!("keep {} beside", beside.name);
        apply(&db, bench, &label, &change).await?;
        remember(&db, bench, Scope::Bench, &label, &change, save.mark).await?;
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
        self.add_panel_as(bench, panel, &format!("make {}", panel.name)).await
    }

    /// The same under a label of its own.
    ///
    /// # Errors
    /// As [`Store::add_panel`].
    pub async fn add_panel_as(&self, bench: Uuid, panel: &Panel, label: &str) -> Result<Uuid, StoreError> {
        let id = Uuid::now_v7();
        self.change(bench, Scope::Bench, label, vec![Change::add(id, panel)?]).await?;
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
