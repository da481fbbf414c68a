//! Who owns everything: makers' benches.

use chrono::Utc;
use rosy_core::Units;
use rosy_core::ink::Name;
use sea_orm::{
    ActiveModelTrait, ActiveValue::Set, ColumnTrait, EntityTrait, QueryFilter, QueryOrder, sea_query::Expr,
    sea_query::OnConflict,
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
}

impl From<bench::Model> for Bench {
    fn from(row: bench::Model) -> Bench {
        let units = if row.units == "millimetres" { Units::Millimetres } else { Units::Inches };
        Bench { id: row.id, name: row.name, units }
    }
}

fn word(units: Units) -> &'static str {
    match units {
        Units::Inches => "inches",
        Units::Millimetres => "millimetres",
    }
}

impl Store {
    /// All benches, the oldest first.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn benches(&self) -> Result<Vec<Bench>, StoreError> {
        let rows = bench::Entity::find().order_by_asc(bench::Column::CreatedAt).all(&self.db).await?;
        Ok(rows.into_iter().map(Bench::from).collect())
    }

    /// One bench, where there is one of this number.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn bench(&self, id: Uuid) -> Result<Option<Bench>, StoreError> {
        Ok(bench::Entity::find_by_id(id).one(&self.db).await?.map(Bench::from))
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
