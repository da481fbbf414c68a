//! What is told of an evening, from one device or several.

use rosy_core::evening::{Sitting, Told};
use sea_orm::TransactionTrait;
use uuid::Uuid;

use crate::change::{Change, apply};
use crate::thing::{Kept, Thing, row};
use crate::{Store, StoreError};

impl Thing for Sitting {
    const KIND: &'static str = "evening";
    fn name(&self) -> &str {
        self.name.as_str()
    }
}

impl Store {
    /// Writes down what is told of an evening, all or nothing, one after the other with whatever else is told; what was
    /// answered is kept. The reason is given where it cannot be.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where the bench has no such evening.
    pub async fn tell_evening(
        &self,
        bench: Uuid,
        id: Uuid,
        told: &[Told],
    ) -> Result<Result<Kept<Sitting>, String>, StoreError> {
        let db = self.db.begin().await?;
        let found = row(&db, bench, id, true).await?.filter(|row| row.kind == Sitting::KIND);
        let before = Kept::<Sitting>::from_row(found.ok_or(StoreError::Missing(Sitting::KIND))?)?;
        let mut after = before.value.clone();
        if let Err(error) = after.tell(told) {
            return Ok(Err(error.to_string()));
        }
        if after == before.value {
            return Ok(Ok(before));
        }
        apply(&db, bench, "what was told", &[Change::replace(id, &before.value, &after)?]).await?;
        db.commit().await?;
        Ok(Ok(Kept { value: after, revision: before.revision + 1, ..before }))
    }
}
