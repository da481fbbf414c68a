//! Inks, papers, tools, panels, card formats, sheets, shapes and the next batch: one row each, its body the core's own document.

use chrono::{DateTime, Utc};
use rosy_core::Panel;
use rosy_core::card::{Envelope, Format};
use rosy_core::cut::{Batch, Sheet};
use rosy_core::ink::{Ink, Paper, Tool};
use rosy_core::learn::hand::Showings;
use rosy_core::learn::{Hands, Pace};
use rosy_core::practice::Scores;
use rosy_core::record::{Made, Photos};
use rosy_core::shape::Shape;
use rosy_core::supply::Shelf;
use rosy_core::surface::Heated;
use rosy_eye::phone::Phone;
use sea_orm::{
    ColumnTrait, ConnectionTrait, EntityTrait, PaginatorTrait, QueryFilter, QueryOrder, QuerySelect, Select,
};
use serde::Serialize;
use serde::de::DeserializeOwned;
use uuid::Uuid;

use crate::entity::thing;
use crate::{Store, StoreError};

/// A kind of thing that a bench keeps.
pub trait Thing: Serialize + DeserializeOwned {
    /// What its rows are marked with, and the word for it.
    const KIND: &'static str;
    /// What it is called.
    fn name(&self) -> &str;
}

impl Thing for Ink {
    const KIND: &'static str = "ink";
    fn name(&self) -> &str {
        self.name.as_str()
    }
}

impl Thing for Paper {
    const KIND: &'static str = "paper";
    fn name(&self) -> &str {
        self.name.as_str()
    }
}

impl Thing for Tool {
    const KIND: &'static str = "tool";
    fn name(&self) -> &str {
        self.name.as_str()
    }
}

impl Thing for Panel {
    const KIND: &'static str = "panel";
    fn name(&self) -> &str {
        self.name.as_str()
    }
}

impl Thing for Format {
    const KIND: &'static str = "format";
    fn name(&self) -> &str {
        self.name.as_str()
    }
}

impl Thing for Envelope {
    const KIND: &'static str = "envelope";
    fn name(&self) -> &str {
        self.name.as_str()
    }
}

impl Thing for Sheet {
    const KIND: &'static str = "sheet";
    fn name(&self) -> &str {
        self.name.as_str()
    }
}

impl Thing for Shape {
    const KIND: &'static str = "shape";
    fn name(&self) -> &str {
        self.name.as_str()
    }
}

impl Thing for Made {
    const KIND: &'static str = "made";
    fn name(&self) -> &str {
        self.panel.name.as_str()
    }
}

impl Thing for Pace {
    const KIND: &'static str = "pace";
    fn name(&self) -> &str {
        "the figures planned with"
    }
}

impl Thing for Hands {
    const KIND: &'static str = "hands";
    fn name(&self) -> &str {
        "the hands planned with"
    }
}

impl Thing for Showings {
    const KIND: &'static str = "showings";
    fn name(&self) -> &str {
        "what panels showed"
    }
}

impl Thing for Scores {
    const KIND: &'static str = "scores";
    fn name(&self) -> &str {
        "what strips were scored"
    }
}

impl Thing for Photos {
    const KIND: &'static str = "photos";
    fn name(&self) -> &str {
        "the photos panels were shown by"
    }
}

impl Thing for Heated {
    const KIND: &'static str = "heated";
    fn name(&self) -> &str {
        "where heat may come near"
    }
}

impl Thing for Shelf {
    const KIND: &'static str = "shelf";
    fn name(&self) -> &str {
        "what is counted down"
    }
}

impl Thing for Phone {
    const KIND: &'static str = "phone";
    fn name(&self) -> &str {
        "what is known of the phone"
    }
}

impl Thing for Batch {
    const KIND: &'static str = "batch";
    fn name(&self) -> &str {
        "the next batch"
    }
}

/// A thing as kept.
#[derive(Clone, Debug, PartialEq)]
pub struct Kept<T> {
    /// Its number.
    pub id: Uuid,
    /// Times it has been changed.
    pub revision: i64,
    /// When last.
    pub changed_at: DateTime<Utc>,
    /// Itself.
    pub value: T,
}

impl<T: Thing> Kept<T> {
    pub(crate) fn from_row(row: thing::Model) -> Result<Kept<T>, StoreError> {
        let value = serde_json::from_value(row.body)?;
        Ok(Kept { id: row.id, revision: row.revision, changed_at: row.changed_at, value })
    }
}

/// One row of a bench, locked against others where `lock` is set.
pub(crate) async fn row(
    db: &impl ConnectionTrait,
    bench: Uuid,
    id: Uuid,
    lock: bool,
) -> Result<Option<thing::Model>, StoreError> {
    let found = thing::Entity::find_by_id(id).filter(thing::Column::BenchId.eq(bench));
    Ok(if lock { found.lock_exclusive() } else { found }.one(db).await?)
}

fn of_kind<T: Thing>(bench: Uuid) -> Select<thing::Entity> {
    thing::Entity::find().filter(thing::Column::BenchId.eq(bench)).filter(thing::Column::Kind.eq(T::KIND))
}

pub(crate) fn latest_first<T: Thing>(bench: Uuid) -> Select<thing::Entity> {
    of_kind::<T>(bench).order_by_desc(thing::Column::ChangedAt).order_by_desc(thing::Column::Id)
}

impl Store {
    /// All of a bench's things of a kind, the latest changed first.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn all<T: Thing>(&self, bench: Uuid) -> Result<Vec<Kept<T>>, StoreError> {
        let rows = latest_first::<T>(bench).all(&self.db).await?;
        rows.into_iter().map(Kept::from_row).collect()
    }

    /// How many of a bench's things of a kind there are.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn count<T: Thing>(&self, bench: Uuid) -> Result<u64, StoreError> {
        Ok(of_kind::<T>(bench).count(&self.db).await?)
    }

    /// So many of a bench's things of a kind, the latest changed first, from one on.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn some<T: Thing>(
        &self,
        bench: Uuid,
        from: u64,
        most: u64,
    ) -> Result<Vec<Kept<T>>, StoreError> {
        let rows = latest_first::<T>(bench).offset(from).limit(most).all(&self.db).await?;
        rows.into_iter().map(Kept::from_row).collect()
    }

    /// What a bench has one of, and the number it is kept under once there is any.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn only<T: Thing + Default>(&self, bench: Uuid) -> Result<(Option<Uuid>, T), StoreError> {
        let kept = self.some::<T>(bench, 0, 1).await?.into_iter().next();
        Ok(kept.map_or_else(Default::default, |kept| (Some(kept.id), kept.value)))
    }

    /// One of a bench's things.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where the bench has none of this number.
    pub async fn one<T: Thing>(&self, bench: Uuid, id: Uuid) -> Result<Kept<T>, StoreError> {
        match row(&self.db, bench, id, false).await? {
            Some(row) if row.kind == T::KIND => Kept::from_row(row),
            _ => Err(StoreError::Missing(T::KIND)),
        }
    }
}
