//! Every change with what was before and after, so that it can be undone and redone.
//!
//! A change may touch several things (an import adds many inks) and is one row. Changes of one *scope*,
//! the drawer or a single panel, form a line: undo takes back the last, redo does it again, and a new change
//! drops what was undone. A change is taken back only while its things still are as it left them.

use chrono::Utc;
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, DatabaseTransaction, EntityTrait,
    IntoActiveModel, QueryFilter, QueryOrder, QuerySelect, Select, TransactionTrait,
};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use crate::entity::{bench, change, thing};
use crate::thing::{Kept, Thing, latest_first, row as row_of};
use crate::{Store, StoreError, letters};

/// Changes remembered in one scope.
const REMEMBERED: u64 = 200;
/// How far back things that were removed are looked for.
const LOOKED_BACK: u64 = 60;

/// The line of changes that undo walks along.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Scope {
    /// Inks, papers and tools.
    Drawer,
    /// Sheets, offcuts, card formats and the next batch.
    Stock,
    /// Shapes that masks and stencils are cut from.
    Shapes,
    /// The list of panels: made, copied, removed.
    Bench,
    /// One panel.
    Panel(Uuid),
}

impl Scope {
    fn key(self) -> String {
        match self {
            Scope::Drawer => "drawer".into(),
            Scope::Stock => "stock".into(),
            Scope::Shapes => "shapes".into(),
            Scope::Bench => "bench".into(),
            Scope::Panel(id) => format!("panel {id}"),
        }
    }
}

/// One thing's part of a change.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Change {
    id: Uuid,
    kind: String,
    before: Option<Value>,
    after: Option<Value>,
}

impl Change {
    /// A thing is added under a number.
    ///
    /// # Errors
    /// Where it has no JSON form, or holds a letter that cannot be kept.
    pub fn add<T: Thing>(id: Uuid, thing: &T) -> Result<Change, StoreError> {
        Ok(Change { id, kind: T::KIND.into(), before: None, after: Some(kept(thing)?) })
    }

    /// A thing becomes another.
    ///
    /// # Errors
    /// Where it has no JSON form, or holds a letter that cannot be kept.
    pub fn replace<T: Thing>(id: Uuid, before: &T, after: &T) -> Result<Change, StoreError> {
        let (before, after) = (Some(serde_json::to_value(before)?), Some(kept(after)?));
        Ok(Change { id, kind: T::KIND.into(), before, after })
    }

    /// What is kept becomes a thing; nothing where it is that already.
    ///
    /// # Errors
    /// Where it has no JSON form, or holds a letter that cannot be kept.
    pub(crate) fn from_kept<T: Thing>(
        id: Uuid,
        before: Value,
        after: &T,
    ) -> Result<Option<Change>, StoreError> {
        let (before, after) = (Some(before), Some(kept(after)?));
        Ok((before != after).then(|| Change { id, kind: T::KIND.into(), before, after }))
    }

    /// A thing is removed.
    ///
    /// # Errors
    /// Where it has no JSON form, or holds a letter that cannot be kept.
    pub fn remove<T: Thing>(id: Uuid, thing: &T) -> Result<Change, StoreError> {
        Ok(Change { id, kind: T::KIND.into(), before: Some(serde_json::to_value(thing)?), after: None })
    }

    pub(crate) const fn after(&self) -> Option<&Value> {
        self.after.as_ref()
    }

    fn turned_round(self) -> Change {
        Change { before: self.after, after: self.before, ..self }
    }
}

/// A thing as it is kept, where it can be.
fn kept<T: Thing>(thing: &T) -> Result<Value, StoreError> {
    let document = serde_json::to_value(thing)?;
    letters::of(&document)?;
    Ok(document)
}

impl Store {
    /// Makes a change and remembers it under `label`, all or nothing.
    ///
    /// # Errors
    /// [`StoreError::ChangedSince`] where a thing is not as the change expects it.
    pub async fn change(
        &self,
        bench: Uuid,
        scope: Scope,
        label: &str,
        things: Vec<Change>,
    ) -> Result<(), StoreError> {
        let db = self.at_bench(bench).await?;
        apply(&db, bench, label, &things).await?;
        remember(&db, bench, scope, label, &things, None).await?;
        Ok(db.commit().await?)
    }

    /// Makes the only one of its kind on a bench another, or begins it; nothing where it is that already.
    ///
    /// # Errors
    /// As [`Store::change`].
    pub async fn put_only<T: Thing + PartialEq>(
        &self,
        bench: Uuid,
        scope: Scope,
        label: &str,
        (known, after): ((Option<Uuid>, T), &T),
    ) -> Result<(), StoreError> {
        let change = match known {
            (_, before) if before == *after => return Ok(()),
            (Some(id), before) => Change::replace(id, &before, after)?,
            (None, _) => Change::add(Uuid::now_v7(), after)?,
        };
        self.change(bench, scope, label, vec![change]).await
    }

    /// Begins what is done at a bench: one thing after the other, so that what is read stays true until it is done.
    pub(crate) async fn at_bench(&self, bench: Uuid) -> Result<DatabaseTransaction, StoreError> {
        let db = self.db.begin().await?;
        let row = bench::Entity::find_by_id(bench).lock_exclusive().one(&db).await?;
        row.map(|_| db).ok_or(StoreError::Missing("bench"))
    }

    /// Sets things out that are there from the start: nothing that undo would take back.
    ///
    /// # Errors
    /// As [`Store::change`].
    pub async fn set_out(&self, bench: Uuid, things: Vec<Change>) -> Result<(), StoreError> {
        let db = self.at_bench(bench).await?;
        apply(&db, bench, "set out", &things).await?;
        Ok(db.commit().await?)
    }

    /// Writes something down beside what a bench has one of: nothing that undo would take back.
    ///
    /// # Errors
    /// As [`Store::change`].
    pub async fn note<T: Thing + Default + PartialEq>(
        &self,
        bench: Uuid,
        with: impl FnOnce(&T) -> T,
    ) -> Result<(), StoreError> {
        let db = self.at_bench(bench).await?;
        let row = latest_first::<T>(bench).one(&db).await?;
        let known = row.map(Kept::<T>::from_row).transpose()?;
        let change = match known {
            Some(kept) => Change::replace(kept.id, &kept.value, &with(&kept.value))?,
            None => Change::add(Uuid::now_v7(), &with(&T::default()))?,
        };
        apply(&db, bench, "what was noted", &[change]).await?;
        Ok(db.commit().await?)
    }

    /// Takes back the last change of a scope; its label, or none where there is nothing to take back.
    ///
    /// # Errors
    /// [`StoreError::ChangedSince`] where something else has changed its things.
    pub async fn undo(&self, bench: Uuid, scope: Scope) -> Result<Option<String>, StoreError> {
        self.step(bench, scope, true).await
    }

    /// Does the last undone change again.
    ///
    /// # Errors
    /// As [`Store::undo`].
    pub async fn redo(&self, bench: Uuid, scope: Scope) -> Result<Option<String>, StoreError> {
        self.step(bench, scope, false).await
    }

    async fn step(&self, bench: Uuid, scope: Scope, back: bool) -> Result<Option<String>, StoreError> {
        let db = self.at_bench(bench).await?;
        let label = walk(&db, bench, scope, back).await?;
        db.commit().await?;
        Ok(label)
    }

    /// What undo and redo would do now.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn undoable(
        &self,
        bench: Uuid,
        scope: Scope,
    ) -> Result<(Option<String>, Option<String>), StoreError> {
        undoable(&self.db, bench, scope).await
    }

    /// What was removed in a scope and is not there any more, the latest first, each under its number.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn removed<T: Thing>(&self, bench: Uuid, scope: Scope) -> Result<Vec<(Uuid, T)>, StoreError> {
        let rows = of_scope(bench, scope)
            .filter(change::Column::Undone.eq(false))
            .order_by_desc(change::Column::Id)
            .limit(LOOKED_BACK)
            .all(&self.db)
            .await?;
        let mut found: Vec<(Uuid, T)> = Vec::new();
        for row in rows {
            let things: Vec<Change> = serde_json::from_value(row.things)?;
            for part in things.into_iter().filter(|part| part.kind == T::KIND && part.after.is_none()) {
                let Some(before) = part.before.filter(|_| found.iter().all(|(id, _)| *id != part.id)) else {
                    continue;
                };
                if row_of(&self.db, bench, part.id, false).await?.is_none() {
                    found.push((part.id, serde_json::from_value(before)?));
                }
            }
        }
        Ok(found)
    }
}

/// What undo and redo would do now, as a transaction sees it.
pub(crate) async fn undoable(
    db: &impl ConnectionTrait,
    bench: Uuid,
    scope: Scope,
) -> Result<(Option<String>, Option<String>), StoreError> {
    // Its label alone: what it changed may be long.
    let label = async |back: bool| {
        let label = in_line(bench, scope, back).select_only().column(change::Column::Label);
        label.into_tuple::<String>().one(db).await
    };
    Ok((label(true).await?, label(false).await?))
}

/// Takes the last change of a scope back, or does it again; its label.
pub(crate) async fn walk(
    db: &DatabaseTransaction,
    bench: Uuid,
    scope: Scope,
    back: bool,
) -> Result<Option<String>, StoreError> {
    let Some(last) = nearest(db, bench, scope, back).await? else {
        return Ok(None);
    };
    let things: Vec<Change> = serde_json::from_value(last.things.clone())?;
    let things = if back { things.into_iter().rev().map(Change::turned_round).collect() } else { things };
    let label = last.label.clone();
    apply(db, bench, &label, &things).await?;
    let mut row = last.into_active_model();
    row.undone = Set(back);
    row.update(db).await?;
    Ok(Some(label))
}

/// Whether a change with this mark has been made: what is sent again is known again.
pub(crate) async fn is_made(db: &impl ConnectionTrait, bench: Uuid, mark: Uuid) -> Result<bool, StoreError> {
    let made = change::Entity::find()
        .filter(change::Column::BenchId.eq(bench))
        .filter(change::Column::Mark.eq(mark));
    Ok(made.one(db).await?.is_some())
}

fn of_scope(bench: Uuid, scope: Scope) -> Select<change::Entity> {
    change::Entity::find()
        .filter(change::Column::BenchId.eq(bench))
        .filter(change::Column::Scope.eq(scope.key()))
}

/// The change that undo (`back`) or redo would take next.
async fn nearest(
    db: &impl ConnectionTrait,
    bench: Uuid,
    scope: Scope,
    back: bool,
) -> Result<Option<change::Model>, StoreError> {
    Ok(in_line(bench, scope, back).one(db).await?)
}

/// The changes that undo (`back`) or redo would take, the next first.
fn in_line(bench: Uuid, scope: Scope, back: bool) -> Select<change::Entity> {
    let of_scope = of_scope(bench, scope).filter(change::Column::Undone.eq(!back));
    if back { of_scope.order_by_desc(change::Column::Id) } else { of_scope.order_by_asc(change::Column::Id) }
}

/// Brings things from `before` to `after`, each checked to be as it was.
pub(crate) async fn apply(
    db: &DatabaseTransaction,
    bench: Uuid,
    label: &str,
    things: &[Change],
) -> Result<(), StoreError> {
    for part in things {
        let present = row_of(db, bench, part.id, true).await?;
        if present.as_ref().map(|row| &row.body) != part.before.as_ref() {
            return Err(StoreError::ChangedSince(label.into()));
        }
        match (present, &part.after) {
            (Some(present), Some(after)) => become_another(db, present, after.clone()).await?,
            (Some(present), None) => {
                thing::Entity::delete_by_id(present.id).exec(db).await?;
            }
            (None, Some(after)) => {
                let added = thing::ActiveModel {
                    id: Set(part.id),
                    bench_id: Set(bench),
                    kind: Set(part.kind.clone()),
                    body: Set(after.clone()),
                    revision: Set(1),
                    changed_at: Set(Utc::now()),
                };
                added.insert(db).await?;
            }
            (None, None) => {}
        }
    }
    Ok(())
}

/// Puts another body in the place of a row's, as its next revision.
pub(crate) async fn become_another(
    db: &DatabaseTransaction,
    present: thing::Model,
    body: Value,
) -> Result<(), StoreError> {
    let revision = present.revision + 1;
    let mut changed = present.into_active_model();
    changed.body = Set(body);
    changed.revision = Set(revision);
    changed.changed_at = Set(Utc::now());
    changed.update(db).await?;
    Ok(())
}

/// Adds a change to its line, drops what had been undone, and forgets what is too long ago.
pub(crate) async fn remember(
    db: &DatabaseTransaction,
    bench: Uuid,
    scope: Scope,
    label: &str,
    things: &[Change],
    mark: Option<Uuid>,
) -> Result<(), StoreError> {
    letters::in_text(label, "label")?;
    let of_scope = || {
        change::Entity::delete_many()
            .filter(change::Column::BenchId.eq(bench))
            .filter(change::Column::Scope.eq(scope.key()))
    };
    of_scope().filter(change::Column::Undone.eq(true)).exec(db).await?;
    let made = change::ActiveModel {
        bench_id: Set(bench),
        scope: Set(scope.key()),
        label: Set(label.into()),
        things: Set(serde_json::to_value(things)?),
        undone: Set(false),
        made_at: Set(Utc::now()),
        mark: Set(mark),
        ..Default::default()
    };
    change::Entity::insert(made).exec_without_returning(db).await?;
    // Its number alone: what it changed may be long.
    let long_ago = self::of_scope(bench, scope).order_by_desc(change::Column::Id).offset(REMEMBERED);
    let long_ago = long_ago.select_only().column(change::Column::Id).into_tuple::<i64>().one(db).await?;
    if let Some(latest) = long_ago {
        of_scope().filter(change::Column::Id.lte(latest)).exec(db).await?;
    }
    Ok(())
}
