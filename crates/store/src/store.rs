//! The connection to everything kept, and why something could not be kept or fetched.

use sea_orm::error::ConnAcquireErr;
use sea_orm::{ConnectOptions, Database, DatabaseConnection, DbErr, RuntimeErr};
use sea_orm_migration::MigratorTrait;
use std::time::Duration;

use crate::migration::Migrator;

/// Connections to the database: each answers in a few milliseconds, and PostgreSQL's own usual limit is a hundred.
const CONNECTIONS: u32 = 12;

/// Why something could not be kept or fetched.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// The database does not answer or refuses.
    #[error("the database does not answer: {0}")]
    Database(DbErr),
    /// Every connection is taken and none came free in time.
    #[error("too much is asked at once")]
    Busy,
    /// There is no such thing on this bench.
    #[error("there is no such {0} on this bench: it may have been removed")]
    Missing(&'static str),
    /// The only bench there is.
    #[error("this is the only bench: set up another before you put it away")]
    Last,
    /// What is kept cannot be read back.
    #[error("what is kept cannot be read: {0}")]
    Unreadable(#[from] serde_json::Error),
    /// A letter that cannot be kept, in the field at this place of a document.
    #[error("a letter that is none (U+0000) stands in {0}: take it out")]
    Letter(String),
    /// The database is there and refuses what was to be kept.
    #[error("what was sent cannot be kept as it is")]
    Refused,
    /// What was to be kept could not be read to its end.
    #[error("what was sent could not be read to its end: send it again")]
    CutOff,
    /// A change cannot be undone or redone any more.
    #[error("“{0}” has been changed since: undo the later change first")]
    ChangedSince(String),
}

impl From<DbErr> for StoreError {
    fn from(error: DbErr) -> StoreError {
        match error {
            DbErr::ConnectionAcquire(ConnAcquireErr::Timeout) => StoreError::Busy,
            // It answered: what it was given is none of its figures (class 22) or stands there already (class 23).
            other if is_refused(&other) => StoreError::Refused,
            other => StoreError::Database(other),
        }
    }
}

fn is_refused(error: &DbErr) -> bool {
    let (DbErr::Exec(RuntimeErr::SqlxError(error)) | DbErr::Query(RuntimeErr::SqlxError(error))) = error
    else {
        return false;
    };
    let code = error.as_database_error().and_then(|error| error.code());
    code.is_some_and(|code| code.starts_with("22") || code.starts_with("23"))
}

/// The connection to everything kept.
#[derive(Clone, Debug)]
pub struct Store {
    pub(crate) db: DatabaseConnection,
}

impl Store {
    /// Connects and brings the tables up to date.
    ///
    /// # Errors
    /// [`StoreError::Database`] where the database does not answer within a few seconds.
    pub async fn open(url: &str) -> Result<Store, StoreError> {
        let mut options = ConnectOptions::new(url);
        options
            .max_connections(CONNECTIONS)
            .connect_timeout(Duration::from_secs(5))
            .acquire_timeout(Duration::from_secs(5))
            .sqlx_logging(false);
        let db = Database::connect(options).await?;
        Migrator::up(&db, None).await?;
        Ok(Store { db })
    }

    /// Whether the database answers.
    ///
    /// # Errors
    /// [`StoreError::Database`] where it does not.
    pub async fn ping(&self) -> Result<(), StoreError> {
        Ok(self.db.ping().await?)
    }
}
