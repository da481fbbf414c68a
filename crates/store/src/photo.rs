//! Photos of what was made, and of panels that were shown before they were done. A record names its photo, which stays so that whatever is
//! undone finds it; of a panel only the latest is kept.

use chrono::Utc;
use rosy_core::record::{Made, Photos, ShownBy};
use sea_orm::{ActiveModelTrait, ActiveValue::Set, ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter};
use uuid::Uuid;

use crate::change::{Change, apply, remember};
use crate::entity::photo;
use crate::thing::{Kept, Thing, latest_first, row};
use crate::{Scope, Store, StoreError};

/// The photo by which a panel is shown.
#[derive(Clone, Debug)]
pub enum ByPhoto {
    /// One that was just brought.
    New(Vec<u8>),
    /// One that is kept already, read again.
    Kept(Uuid),
}

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

    /// Keeps the photo by which a panel was shown, or one that is kept already as it is read again; what there was of that panel goes. Not
    /// a change that can be undone. Its number.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where there is no such bench, or no such photo.
    pub async fn shown_by(
        &self,
        bench: Uuid,
        (what, moves): (String, usize),
        photo: ByPhoto,
    ) -> Result<Uuid, StoreError> {
        let db = self.at_bench(bench).await?;
        let known =
            latest_first::<Photos>(bench).one(&db).await?.map(Kept::<Photos>::from_row).transpose()?;
        let is_known = |id: &Uuid| {
            let spoken_of = |shown: &ShownBy| shown.photo == id.to_string();
            known.as_ref().is_some_and(|known| known.value.0.iter().any(spoken_of))
        };
        let id = match photo {
            ByPhoto::Kept(id) if is_known(&id) => id,
            ByPhoto::Kept(_) => return Err(StoreError::Missing("photo")),
            ByPhoto::New(body) => kept(&db, bench, body).await?,
        };
        let before = known.as_ref().map(|known| known.value.clone()).unwrap_or_default();
        let (after, gone) = before.with(ShownBy { what, photo: id.to_string(), moves });
        let change = match known {
            Some(known) => Change::replace(known.id, &known.value, &after)?,
            None => Change::add(Uuid::now_v7(), &after)?,
        };
        apply(&db, bench, "what was noted", &[change]).await?;
        let gone: Vec<Uuid> = gone.iter().filter_map(|photo| photo.parse().ok()).collect();
        let own = photo::Entity::delete_many().filter(photo::Column::BenchId.eq(bench));
        own.filter(photo::Column::Id.is_in(gone)).exec(&db).await?;
        db.commit().await?;
        Ok(id)
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
