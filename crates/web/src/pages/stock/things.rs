//! A thing into the stock and out of it; undo takes either back.

use rosy_store::{Change, Scope, Store, StoreError, Thing};
use uuid::Uuid;

use crate::visitor::{Nothing, Sent, Visitor};

/// Adds a thing to the stock.
pub(super) async fn add<T: Thing>(visitor: &Visitor, store: &Store, thing: &T) -> Result<(), StoreError> {
    let label = format!("add {}", thing.name());
    store.change(visitor.bench.id, Scope::Stock, &label, vec![Change::add(Uuid::now_v7(), thing)?]).await
}

/// Removes a thing of the stock; undo brings it back.
pub(super) async fn remove<T: Thing>(
    sent: &Sent<Nothing>,
    store: &Store,
    id: Uuid,
) -> Result<(), StoreError> {
    let bench = sent.visitor.bench.id;
    let thing = store.one::<T>(bench, id).await?.value;
    let label = format!("remove {}", thing.name());
    store.change(bench, Scope::Stock, &label, vec![Change::remove(id, &thing)?]).await
}
