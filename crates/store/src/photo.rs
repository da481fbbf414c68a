//! Photos of what was made. A record names its photo; a photo itself is only ever added, so that whatever is undone finds it.

use chrono::Utc;
use rosy_core::record::Made;
use sea_orm::{ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter};
use uuid::Uuid;

use crate::change::{Change, apply, remember};
use crate::entity::photo;
use crate::thing::{Kept, Thing, row};
use crate::{Scope, Store, StoreError};

impl Store {
    /// Keeps a photo and puts it into a record, all or nothing; without one the record has none any more.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where the bench has no such record.
    pub async fn set_photo(
        &self,
        bench: Uuid,
        record: Uuid,
        body: Option<Vec<u8>>,
    ) -> Result<(), StoreError> {
        let db = self.at_bench(bench).await?;
        let found = row(&db, bench, record, true).await?.filter(|row| row.kind == Made::KIND);
        let before = Kept::<Made>::from_row(found.ok_or(StoreError::Missing(Made::KIND))?)?.value;
        let verb = if body.is_some() { "put a photo to" } else { "take the photo off" };
        let photo = match body {
            Some(body) => Some(kept(&db, bench, body).await?.to_string()),
            None => None,
        };
        let after = Made { photo, ..before.clone() };
        if after != before {
            let label = format!("{verb} {}", before.panel.name);
            let changes = [Change::replace(record, &before, &after)?];
            apply(&db, bench, &label, &changes).await?;
            remember(&db, bench, Scope::Bench, &label, &changes, None).await?;
        }
        Ok(db.commit().await?)
    }

    /// Keeps a photo beside nothing yet; its number.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where there is no such bench.
    pub async fn keep_photo(&self, bench: Uuid, body: Vec<u8>) -> Result<Uuid, StoreError> {
        let db = self.at_bench(bench).await?;
        let id = kept(&db, bench, body).await?;
        db.commit().await?;
        Ok(id)
    }

    /// A photo, as it is kept.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where the bench has none of this number.
    pub async fn photo(&self, bench: Uuid, id: Uuid) -> Result<Vec<u8>, StoreError> {
        let own = photo::Entity::find_by_id(id).filter(photo::Column::BenchId.eq(bench));
        own.one(&self.db).await?.map(|row| row.body).ok_or(StoreError::Missing("photo"))
    }
}

/// Puts a photo down; its number.
async fn kept(db: &impl ConnectionTrait, bench: Uuid, body: Vec<u8>) -> Result<Uuid, StoreError> {
    let id = Uuid::now_v7();
    let row = photo::ActiveModel {
        id: Set(id),
        bench_id: Set(bench),
        body: Set(body),
        created_at: Set(Utc::now()),
    };
    row.insert(db).await?;
    Ok(id)
}
