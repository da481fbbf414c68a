//! Who owns everything: makers' benches.

use chrono::Utc;
use rosy_core::Units;
use rosy_core::ink::Name;
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, EntityTrait, IntoActiveModel, QueryFilter, QueryOrder,
    sea_query::Expr, sea_query::OnConflict,
};
use uuid::Uuid;

use crate::entity::{bench, house};
use crate::{Store, StoreError};

/// A maker's bench.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Bench {
    /// Its number.
    pub id: Uuid,
    /// What the maker calls it.
    pub name: String,
    /// How the maker reads lengths.
    pub units: Units,
    /// What it was called before it was renamed.
    pub former_name: Option<String>,
}

impl From<bench::Model> for Bench {
    fn from(row: bench::Model) -> Bench {
        let units = if row.units == "millimetres" { Units::Millimetres } else { Units::Inches };
        Bench { id: row.id, name: row.name, units, former_name: row.former_name }
    }
}

pub(crate) fn word(units: Units) -> &'static str {
    match units {
        Units::Inches => "inches",
        Units::Millimetres => "millimetres",
    }
}

impl Store {
    /// All benches that are in use, the oldest first.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn benches(&self) -> Result<Vec<Bench>, StoreError> {
        self.listed(bench::Column::RemovedAt.is_null()).await
    }

    /// Those that were removed and can be brought back.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn removed_benches(&self) -> Result<Vec<Bench>, StoreError> {
        self.listed(bench::Column::RemovedAt.is_not_null()).await
    }

    async fn listed(&self, which: sea_orm::sea_query::SimpleExpr) -> Result<Vec<Bench>, StoreError> {
        let rows =
            bench::Entity::find().filter(which).order_by_asc(bench::Column::CreatedAt).all(&self.db).await?;
        Ok(rows.into_iter().map(Bench::from).collect())
    }

    /// Calls a bench something else; it keeps in mind what it was called.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where there is none of this number.
    pub async fn rename_bench(&self, id: Uuid, name: &Name) -> Result<(), StoreError> {
        let row = bench::Entity::find_by_id(id).one(&self.db).await?.ok_or(StoreError::Missing("bench"))?;
        if row.name != name.as_str() {
            let mut renamed = row.clone().into_active_model();
            renamed.former_name = Set(Some(row.name));
            renamed.name = Set(name.to_string());
            renamed.update(&self.db).await?;
        }
        Ok(())
    }

    /// Removes a bench with everything on it, or brings it back.
    ///
    /// # Errors
    /// [`StoreError::Missing`] where there is none of this number, [`StoreError::Last`] where it is the only one.
    pub async fn set_bench_removed(&self, id: Uuid, removed: bool) -> Result<(), StoreError> {
        if removed && self.benches().await?.iter().all(|bench| bench.id == id) {
            return Err(StoreError::Last);
        }
        let row = bench::Entity::find_by_id(id).one(&self.db).await?.ok_or(StoreError::Missing("bench"))?;
        let mut put = row.into_active_model();
        put.removed_at = Set(removed.then(Utc::now));
        put.update(&self.db).await?;
        Ok(())
    }

    /// One bench, where there is one of this number.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn bench(&self, id: Uuid) -> Result<Option<Bench>, StoreError> {
        let there = bench::Entity::find_by_id(id).filter(bench::Column::RemovedAt.is_null());
        Ok(there.one(&self.db).await?.map(Bench::from))
    }

    /// Sets up another bench.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn add_bench(&self, name: &Name, units: Units) -> Result<Bench, StoreError> {
        let row = bench::ActiveModel {
            id: Set(Uuid::now_v7()),
            name: Set(name.to_string()),
            units: Set(word(units).into()),
            created_at: Set(Utc::now()),
            former_name: Set(None),
            removed_at: Set(None),
        };
        Ok(row.insert(&self.db).await?.into())
    }

    /// Reads lengths the other way from now on.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn set_units(&self, bench: Uuid, units: Units) -> Result<(), StoreError> {
        bench::Entity::update_many()
            .col_expr(bench::Column::Units, Expr::value(word(units)))
            .filter(bench::Column::Id.eq(bench))
            .exec(&self.db)
            .await?;
        Ok(())
    }

    /// The key that the program's cookies are sealed with; `fresh` becomes it where there is none yet.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn cookie_key(&self, fresh: String) -> Result<String, StoreError> {
        house::Entity::insert(house::ActiveModel { id: Set(1), cookie_key: Set(fresh) })
            .on_conflict(OnConflict::column(house::Column::Id).do_nothing().to_owned())
            .exec_without_returning(&self.db)
            .await?;
        let row = house::Entity::find_by_id(1_i16).one(&self.db).await?;
        row.map(|row| row.cookie_key).ok_or(StoreError::Missing("cookie key"))
    }
}
