//! The tables. Migrations are only ever added to.

use sea_orm_migration::prelude::*;
use sea_orm_migration::schema::{
    big_integer, big_pk_auto, binary, boolean, json_binary, pk_uuid, small_integer, string, string_null,
    timestamp_with_time_zone, timestamp_with_time_zone_null, uuid, uuid_null,
};

pub struct Migrator;

#[async_trait::async_trait]
impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        vec![Box::new(Benches), Box::new(Things), Box::new(Changes), Box::new(Marks), Box::new(Photos)]
    }
}

/// Benches own everything; the house is the program itself.
#[derive(DeriveIden)]
enum Bench {
    #[sea_orm(iden = "benches")]
    Table,
    Id,
    Name,
    Units,
    CreatedAt,
    FormerName,
    RemovedAt,
}

#[derive(DeriveIden)]
enum House {
    #[sea_orm(iden = "house")]
    Table,
    Id,
    CookieKey,
}

struct Benches;

impl MigrationName for Benches {
    fn name(&self) -> &str {
        "m001_benches"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Benches {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table(House::Table)
                    .col(small_integer(House::Id).primary_key())
                    .col(string(House::CookieKey))
                    .to_owned(),
            )
            .await?;
        manager
            .create_table(
                Table::create()
                    .table(Bench::Table)
                    .col(pk_uuid(Bench::Id))
                    .col(string(Bench::Name))
                    .col(string(Bench::Units))
                    .col(timestamp_with_time_zone(Bench::CreatedAt))
                    .to_owned(),
            )
            .await
    }
}

/// What a bench owns goes with it.
fn of_a_bench(table: impl IntoIden + 'static, column: impl IntoIden + 'static) -> ForeignKeyCreateStatement {
    ForeignKey::create()
        .from(table, column)
        .to(Bench::Table, Bench::Id)
        .on_delete(ForeignKeyAction::Cascade)
        .to_owned()
}

/// Inks, papers, tools and panels: one row each.
#[derive(DeriveIden)]
enum Thing {
    #[sea_orm(iden = "things")]
    Table,
    Id,
    BenchId,
    Kind,
    Body,
    Revision,
    ChangedAt,
}

struct Things;

impl MigrationName for Things {
    fn name(&self) -> &str {
        "m002_things"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Things {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table(Thing::Table)
                    .col(pk_uuid(Thing::Id))
                    .col(uuid(Thing::BenchId))
                    .col(string(Thing::Kind))
                    .col(json_binary(Thing::Body))
                    .col(big_integer(Thing::Revision))
                    .col(timestamp_with_time_zone(Thing::ChangedAt))
                    .foreign_key(&mut of_a_bench(Thing::Table, Thing::BenchId))
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(
                Index::create()
                    .name("things_of_a_bench")
                    .table(Thing::Table)
                    .col(Thing::BenchId)
                    .col(Thing::Kind)
                    .to_owned(),
            )
            .await
    }
}

/// What was changed, so that it can be undone.
#[derive(DeriveIden)]
enum Change {
    #[sea_orm(iden = "changes")]
    Table,
    Id,
    BenchId,
    Scope,
    Label,
    Things,
    Undone,
    MadeAt,
    Mark,
}

struct Changes;

impl MigrationName for Changes {
    fn name(&self) -> &str {
        "m003_changes"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Changes {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager
            .create_table(
                Table::create()
                    .table(Change::Table)
                    .col(big_pk_auto(Change::Id))
                    .col(uuid(Change::BenchId))
                    .col(string(Change::Scope))
                    .col(string(Change::Label))
                    .col(json_binary(Change::Things))
                    .col(boolean(Change::Undone))
                    .col(timestamp_with_time_zone(Change::MadeAt))
                    .foreign_key(&mut of_a_bench(Change::Table, Change::BenchId))
                    .to_owned(),
            )
            .await?;
        manager
            .create_index(
                Index::create()
                    .name("changes_of_a_scope")
                    .table(Change::Table)
                    .col(Change::BenchId)
                    .col(Change::Scope)
                    .col(Change::Id)
                    .to_owned(),
            )
            .await
    }
}

/// A change sent again is known by its mark; benches keep the name they had, and can be brought back.
struct Marks;

impl MigrationName for Marks {
    fn name(&self) -> &str {
        "m004_marks"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Marks {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let benches = Table::alter()
            .table(Bench::Table)
            .add_column(string_null(Bench::FormerName))
            .add_column(timestamp_with_time_zone_null(Bench::RemovedAt))
            .to_owned();
        manager.alter_table(benches).await?;
        let changes = Table::alter().table(Change::Table).add_column(uuid_null(Change::Mark)).to_owned();
        manager.alter_table(changes).await?;
        let marks = Index::create()
            .name("changes_by_mark")
            .table(Change::Table)
            .col(Change::BenchId)
            .col(Change::Mark)
            .unique()
            .to_owned();
        manager.create_index(marks).await?;
        // Lists are read latest first.
        let latest = Index::create()
            .name("things_by_age")
            .table(Thing::Table)
            .col(Thing::BenchId)
            .col(Thing::Kind)
            .col(Thing::ChangedAt)
            .to_owned();
        manager.create_index(latest).await
    }
}

/// Photos of what was made. What points to them is the record; they themselves are only ever added.
#[derive(DeriveIden)]
enum Photo {
    #[sea_orm(iden = "photos")]
    Table,
    Id,
    BenchId,
    Body,
    CreatedAt,
}

struct Photos;

impl MigrationName for Photos {
    fn name(&self) -> &str {
        "m005_photos"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Photos {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let photos = Table::create()
            .table(Photo::Table)
            .col(pk_uuid(Photo::Id))
            .col(uuid(Photo::BenchId))
            .col(binary(Photo::Body))
            .col(timestamp_with_time_zone(Photo::CreatedAt))
            .foreign_key(&mut of_a_bench(Photo::Table, Photo::BenchId))
            .to_owned();
        manager.create_table(photos).await?;
        let owned =
            Index::create().name("photos_of_a_bench").table(Photo::Table).col(Photo::BenchId).to_owned();
        manager.create_index(owned).await
    }
}
