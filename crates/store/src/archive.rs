//! A whole bench, out and in: every row of it, with what can be undone, so that nothing is lost on the way.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use rosy_core::Units;
use rosy_core::ink::Name;
use sea_orm::{
    ActiveModelTrait, ActiveValue::NotSet, ActiveValue::Set, ColumnTrait, EntityTrait, IsolationLevel,
    QueryFilter, QueryOrder, QuerySelect, TransactionTrait,
};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use crate::bench::word;
use crate::entity::{bench, change, photo, thing};
use crate::{Bench, Store, StoreError};

/// Rows written at once.
const AT_ONCE: usize = 500;

/// All that a bench has but its photos.
#[derive(Clone, Debug, PartialEq)]
pub struct Whole {
    /// What the maker calls it.
    pub name: Name,
    /// How the maker reads lengths.
    pub units: Units,
    /// Its things, the oldest number first.
    pub things: Vec<Row>,
    /// Its changes, the first first.
    pub changes: Vec<Past>,
    /// The numbers of its photos.
    pub photos: Vec<Uuid>,
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

impl Store {
    /// A whole bench as it stands at one moment.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where there is none of this number.
    pub async fn whole_bench(&self, id: Uuid) -> Result<Whole, StoreError> {
        let db = self.db.begin_with_config(Some(IsolationLevel::RepeatableRead), None).await?;
        let bench = bench::Entity::find_by_id(id).one(&db).await?.ok_or(StoreError::Missing("bench"))?;
        let bench = Bench::from(bench);
        let things = thing::Entity::find().filter(thing::Column::BenchId.eq(id));
        let changes = change::Entity::find().filter(change::Column::BenchId.eq(id));
        let photos = photo::Entity::find().filter(photo::Column::BenchId.eq(id));
        let photos = photos.select_only().column(photo::Column::Id).order_by_asc(photo::Column::Id);
        Ok(Whole {
            name: bench.name.parse().map_err(|_| StoreError::Missing("name"))?,
            units: bench.units,
            things: things
                .order_by_asc(thing::Column::Id)
                .all(&db)
                .await?
                .into_iter()
                .map(Row::from)
                .collect(),
            changes: changes
                .order_by_asc(change::Column::Id)
                .all(&db)
                .await?
                .into_iter()
                .map(Past::from)
                .collect(),
            photos: photos.into_tuple::<Uuid>().all(&db).await?,
        })
    }

    /// Sets up a bench with all that an archive holds, all or nothing. What has a number that is taken here gets another.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn bring_bench(&self, whole: Whole, photos: Vec<(Uuid, Vec<u8>)>) -> Result<Bench, StoreError> {
        let db = self.db.begin().await?;
        let new = bench::ActiveModel {
            id: Set(Uuid::now_v7()),
            name: Set(whole.name.to_string()),
            units: Set(word(whole.units).into()),
            created_at: Set(Utc::now()),
            former_name: Set(None),
            removed_at: Set(None),
        };
        let bench = Bench::from(new.insert(&db).await?);
        let mut taken: Vec<Uuid> = Vec::new();
        for ids in whole.things.chunks(AT_ONCE) {
            let ids = thing::Column::Id.is_in(ids.iter().map(|row| row.id));
            let found = thing::Entity::find().filter(ids).select_only().column(thing::Column::Id);
            taken.extend(found.into_tuple::<Uuid>().all(&db).await?);
        }
        for ids in photos.chunks(AT_ONCE) {
            let ids = photo::Column::Id.is_in(ids.iter().map(|(id, _)| *id));
            let found = photo::Entity::find().filter(ids).select_only().column(photo::Column::Id);
            taken.extend(found.into_tuple::<Uuid>().all(&db).await?);
        }
        let renumbered = Renumbered(taken.into_iter().map(|id| (id.to_string(), Uuid::now_v7())).collect());
        let thing = |mut row: Row| {
            renumbered.value(&mut row.body);
            thing::ActiveModel {
                id: Set(renumbered.id(row.id)),
                bench_id: Set(bench.id),
                kind: Set(row.kind),
                body: Set(row.body),
                revision: Set(row.revision),
                changed_at: Set(row.changed_at),
            }
        };
        let things: Vec<thing::ActiveModel> = whole.things.into_iter().map(thing).collect();
        for things in things.chunks(AT_ONCE) {
            thing::Entity::insert_many(things.to_vec()).exec_without_returning(&db).await?;
        }
        let change = |mut past: Past| {
            renumbered.value(&mut past.things);
            change::ActiveModel {
                id: NotSet,
                bench_id: Set(bench.id),
                scope: Set(renumbered.scope(&past.scope)),
                label: Set(past.label),
                things: Set(past.things),
                undone: Set(past.undone),
                made_at: Set(past.made_at),
                mark: Set(past.mark),
            }
        };
        let changes: Vec<change::ActiveModel> = whole.changes.into_iter().map(change).collect();
        for changes in changes.chunks(AT_ONCE) {
            change::Entity::insert_many(changes.to_vec()).exec_without_returning(&db).await?;
        }
        for (id, body) in photos {
            let row = photo::ActiveModel {
                id: Set(renumbered.id(id)),
                bench_id: Set(bench.id),
                body: Set(body),
                created_at: Set(Utc::now()),
            };
            row.insert(&db).await?;
        }
        db.commit().await?;
        Ok(bench)
    }
}
