//! A whole bench, out and in: every row of it, with what can be undone, so that nothing is lost on the way. Both ways it goes by
//! in parts, so that a bench of any size takes no more memory than a small one.

use std::collections::{HashMap, HashSet};

use chrono::{DateTime, Utc};
use rosy_core::Units;
use rosy_core::ink::Name;
use sea_orm::{
    ActiveModelTrait, ActiveValue::NotSet, ActiveValue::Set, ColumnTrait, DatabaseTransaction, EntityTrait,
    IsolationLevel, QueryFilter, QueryOrder, QuerySelect, TransactionTrait,
};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use crate::bench::word;
use crate::entity::{bench, change, photo, thing};
use crate::{Bench, Store, StoreError, letters};

/// Rows read or looked for at once.
const AT_ONCE: usize = 25;
/// Rows written at once, and about how many letters of them at most.
const WRITTEN: usize = 200;
const LETTERS: usize = 2 << 20;

/// What a bench is set up with.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Arrived {
    /// What the maker calls it.
    pub name: Name,
    /// How the maker reads lengths.
    pub units: Units,
    /// Every number that is given in it: of things, of photos, and of what its changes speak of.
    pub ids: HashSet<Uuid>,
    /// How many changes were left out, since they could not be undone any more.
    pub left: usize,
}

/// A part of a bench.
#[derive(Clone, Debug, PartialEq)]
pub enum Part {
    /// A thing.
    Thing(Row),
    /// A change.
    Change(Past),
    /// A photo, under its number.
    Photo(Uuid, Vec<u8>),
}

/// A bench while it is read, as it stood when that was begun.
pub struct Leaving {
    db: DatabaseTransaction,
    /// Which.
    pub bench: Bench,
}

/// A thing as it is kept.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Row {
    /// Its number.
    pub id: Uuid,
    /// What kind it is of.
    pub kind: String,
    /// Times it has been changed.
    pub revision: i64,
    /// When last.
    pub changed_at: DateTime<Utc>,
    /// Itself.
    pub body: Value,
}

/// A change that can be undone, or done again.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Past {
    /// In which line it stands.
    pub scope: String,
    /// What it is called.
    pub label: String,
    /// What was before and after.
    pub things: Value,
    /// Whether it has been undone.
    pub undone: bool,
    /// When it was made.
    pub made_at: DateTime<Utc>,
    /// The mark it was sent with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mark: Option<Uuid>,
}

impl From<thing::Model> for Row {
    fn from(row: thing::Model) -> Row {
        let thing::Model { id, kind, body, revision, changed_at, .. } = row;
        Row { id, kind, revision, changed_at, body }
    }
}

impl From<change::Model> for Past {
    fn from(row: change::Model) -> Past {
        let change::Model { scope, label, things, undone, made_at, mark, .. } = row;
        Past { scope, label, things, undone, made_at, mark }
    }
}

/// New numbers for those that are taken on this machine.
struct Renumbered(HashMap<String, Uuid>);

impl Renumbered {
    fn id(&self, id: Uuid) -> Uuid {
        self.0.get(&id.to_string()).copied().unwrap_or(id)
    }

    fn text(&self, text: &mut String) {
        if let Some(new) = self.0.get(text.as_str()) {
            *text = new.to_string();
        }
    }

    /// Wherever a document names one.
    fn value(&self, value: &mut Value) {
        match value {
            Value::String(text) => self.text(text),
            Value::Array(all) => all.iter_mut().for_each(|one| self.value(one)),
            Value::Object(all) => all.values_mut().for_each(|one| self.value(one)),
            _ => {}
        }
    }

    fn scope(&self, scope: &str) -> String {
        match scope.split_once(' ') {
            Some((kind, id)) => {
                let mut id = id.to_owned();
                self.text(&mut id);
                format!("{kind} {id}")
            }
            None => scope.to_owned(),
        }
    }
}

impl Leaving {
    /// Some of the things of a kind, by number, after the one told.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn things(&self, kind: &str, after: Option<Uuid>) -> Result<Vec<Row>, StoreError> {
        let own = thing::Entity::find().filter(thing::Column::BenchId.eq(self.bench.id));
        let own = own.filter(thing::Column::Kind.eq(kind));
        let own = match after {
            Some(after) => own.filter(thing::Column::Id.gt(after)),
            None => own,
        };
        let rows = own.order_by_asc(thing::Column::Id).limit(AT_ONCE as u64).all(&self.db).await?;
        Ok(rows.into_iter().map(Row::from).collect())
    }

    /// Which kinds of things there are.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn kinds(&self) -> Result<Vec<String>, StoreError> {
        let own = thing::Entity::find().filter(thing::Column::BenchId.eq(self.bench.id));
        let kinds = own.select_only().column(thing::Column::Kind).distinct();
        Ok(kinds.order_by_asc(thing::Column::Kind).into_tuple().all(&self.db).await?)
    }

    /// Some of the changes, the first first, after the one told; each under its number.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn changes(&self, after: i64) -> Result<Vec<(i64, Past)>, StoreError> {
        let own = change::Entity::find().filter(change::Column::BenchId.eq(self.bench.id));
        let own = own.filter(change::Column::Id.gt(after)).order_by_asc(change::Column::Id);
        let rows = own.limit(AT_ONCE as u64).all(&self.db).await?;
        Ok(rows.into_iter().map(|row| (row.id, Past::from(row))).collect())
    }

    /// The next photo after the one told.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn photo(&self, after: Option<Uuid>) -> Result<Option<(Uuid, Vec<u8>)>, StoreError> {
        let own = photo::Entity::find().filter(photo::Column::BenchId.eq(self.bench.id));
        let own = match after {
            Some(after) => own.filter(photo::Column::Id.gt(after)),
            None => own,
        };
        let row = own.order_by_asc(photo::Column::Id).one(&self.db).await?;
        Ok(row.map(|row| (row.id, row.body)))
    }
}

impl Store {
    /// Begins to read a whole bench as it stands at this moment.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where there is none of this number.
    pub async fn leaving(&self, id: Uuid) -> Result<Leaving, StoreError> {
        let db = self.db.begin_with_config(Some(IsolationLevel::RepeatableRead), None).await?;
        let bench = bench::Entity::find_by_id(id).one(&db).await?.ok_or(StoreError::Missing("bench"))?;
        Ok(Leaving { db, bench: bench.into() })
    }

    /// Sets up a bench with all that an archive holds, all or nothing. What has a number that is taken here gets another.
    ///
    /// # Errors
    /// Where the database does not answer, a part cannot be read, or holds what cannot be kept.
    pub async fn bring_bench(
        &self,
        arrived: Arrived,
        parts: impl Iterator<Item = std::io::Result<Part>>,
    ) -> Result<Bench, StoreError> {
        let db = self.db.begin().await?;
        let new = bench::ActiveModel {
            id: Set(Uuid::now_v7()),
            name: Set(arrived.name.to_string()),
            units: Set(word(arrived.units).into()),
            created_at: Set(Utc::now()),
            former_name: Set(None),
            removed_at: Set(None),
        };
        let bench = Bench::from(new.insert(&db).await?);
        let mut taken: Vec<Uuid> = Vec::new();
        let ids: Vec<Uuid> = arrived.ids.into_iter().collect();
        for ids in ids.chunks(20 * AT_ONCE) {
            let among = |column: thing::Column| column.is_in(ids.iter().copied());
            let found = thing::Entity::find().filter(among(thing::Column::Id));
            let found = found.select_only().column(thing::Column::Id);
            taken.extend(found.into_tuple::<Uuid>().all(&db).await?);
            let found = photo::Entity::find().filter(photo::Column::Id.is_in(ids.iter().copied()));
            let found = found.select_only().column(photo::Column::Id);
            taken.extend(found.into_tuple::<Uuid>().all(&db).await?);
        }
        let renumbered = Renumbered(taken.into_iter().map(|id| (id.to_string(), Uuid::now_v7())).collect());
        let mut batch = Batch::default();
        for part in parts {
            batch.take(part.map_err(|_| StoreError::CutOff)?, bench.id, &renumbered)?;
            if batch.is_full() {
                batch.write(&db).await?;
            }
        }
        batch.write(&db).await?;
        db.commit().await?;
        Ok(bench)
    }
}

/// Rows that are written together.
#[derive(Default)]
struct Batch {
    things: Vec<thing::ActiveModel>,
    changes: Vec<change::ActiveModel>,
    photos: Vec<photo::ActiveModel>,
    letters: usize,
}

impl Batch {
    fn take(&mut self, part: Part, bench: Uuid, renumbered: &Renumbered) -> Result<(), StoreError> {
        match part {
            Part::Thing(mut row) => {
                renumbered.value(&mut row.body);
                self.letters += letters::of(&row.body)?;
                self.things.push(thing::ActiveModel {
                    id: Set(renumbered.id(row.id)),
                    bench_id: Set(bench),
                    kind: Set(row.kind),
                    body: Set(row.body),
                    revision: Set(row.revision),
                    changed_at: Set(row.changed_at),
                });
            }
            Part::Change(mut past) => {
                renumbered.value(&mut past.things);
                self.letters += letters::of(&past.things)? + letters::in_text(&past.label, "label")?;
                self.changes.push(change::ActiveModel {
                    id: NotSet,
                    bench_id: Set(bench),
                    scope: Set(renumbered.scope(&past.scope)),
                    label: Set(past.label),
                    things: Set(past.things),
                    undone: Set(past.undone),
                    made_at: Set(past.made_at),
                    mark: Set(past.mark),
                });
            }
            Part::Photo(id, body) => {
                self.letters += body.len();
                self.photos.push(photo::ActiveModel {
                    id: Set(renumbered.id(id)),
                    bench_id: Set(bench),
                    body: Set(body),
                    created_at: Set(Utc::now()),
                });
            }
        }
        Ok(())
    }

    fn is_full(&self) -> bool {
        self.letters > LETTERS || self.things.len() + self.changes.len() + self.photos.len() >= WRITTEN
    }

    async fn write(&mut self, db: &DatabaseTransaction) -> Result<(), StoreError> {
        let Batch { things, changes, photos, .. } = std::mem::take(self);
        if !things.is_empty() {
            thing::Entity::insert_many(things).exec_without_returning(db).await?;
        }
        if !changes.is_empty() {
            change::Entity::insert_many(changes).exec_without_returning(db).await?;
        }
        if !photos.is_empty() {
            photo::Entity::insert_many(photos).exec_without_returning(db).await?;
        }
        Ok(())
    }
}
