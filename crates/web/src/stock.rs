//! The sheets there are, the next batch, and the plan for it.

use rosy_core::cut::{Batch, CutError, Piece, Plan, Sheet, SheetAsked};
use rosy_store::{Change, Kept, Scope, Store, StoreError};
use uuid::Uuid;

use crate::error::{Problem, sentence};
use crate::visitor::Visitor;
use crate::workroom::Workroom;

/// Most of one thing counted or added at a time.
pub const MOST: u32 = 600;

/// The stock and the batch as kept, and the plan for them.
pub struct Stock {
    /// Every sheet and offcut there is.
    pub all: Vec<Kept<Sheet>>,
    /// Those the plan is made with, in the order they are asked with.
    pub sheets: Vec<Kept<Sheet>>,
    /// The next batch; none where none has been begun.
    pub batch: Option<Kept<Batch>>,
    /// What is asked.
    pub asked: SheetAsked,
    /// The plan, or why there is none; nothing where nothing is to be cut.
    pub plan: Option<Result<Plan, CutError>>,
}

/// Fetches the stock and plans the batch.
pub async fn stock(visitor: &Visitor, store: &Store, room: &Workroom) -> Result<Stock, Problem> {
    let bench = visitor.bench.id;
    let mut all = store.all::<Sheet>(bench).await?;
    all.sort_by(|a, b| {
        let key = |sheet: &Sheet| (sheet.offcut, sheet.paper.clone(), -sheet.area(), sheet.name.clone());
        key(&a.value).cmp(&key(&b.value)).then(a.id.cmp(&b.id))
    });
    let batch = store.all::<Batch>(bench).await?.into_iter().next();
    let gathered = batch.as_ref().map(|kept| kept.value.clone()).unwrap_or_default();
    let sheets = serving(&all, &gathered.pieces);
    let asked = SheetAsked {
        units: visitor.units(),
        pieces: gathered.pieces,
        sheets: sheets.iter().map(|kept| kept.value.clone()).collect(),
        keep: gathered.keep,
    };
    let plan = if asked.pieces.is_empty() { None } else { Some(planned(visitor, room, &asked).await?) };
    Ok(Stock { all, sheets, batch, asked, plan })
}

/// The sheets a plan is made with: all, or, where there are more kinds than are planned with, those that hold a piece, full
/// sheets before offcuts and the larger before the smaller.
fn serving(all: &[Kept<Sheet>], pieces: &[Piece]) -> Vec<Kept<Sheet>> {
    let most = rosy_core::cut::batch::MOST.2;
    if all.len() <= most {
        return all.to_vec();
    }
    let mut serving: Vec<&Kept<Sheet>> =
        all.iter().filter(|kept| pieces.iter().any(|piece| kept.value.holds(piece))).collect();
    serving.sort_by_key(|kept| (kept.value.offcut, -kept.value.area()));
    serving.truncate(most);
    serving.into_iter().cloned().collect()
}

/// The plan for a question, reckoned once for as long as it is not forgotten.
async fn planned(
    visitor: &Visitor,
    room: &Workroom,
    asked: &SheetAsked,
) -> Result<Result<Plan, CutError>, Problem> {
    // Refusals are told from the question itself, at once.
    if let Err(refused) = asked.check() {
        return Ok(Err(refused));
    }
    let key = format!("plan {}", serde_json::to_string(asked).unwrap_or_default());
    let question = asked.clone();
    let made = room.made(visitor.asker(), key, move || {
        let plan = question.answer().map_err(|error| Problem::Refused(sentence(&error.to_string())))?;
        serde_json::to_vec(&plan).map_err(|_| Problem::Broken)
    });
    match made.await {
        Ok(plan) => Ok(Ok(serde_json::from_slice(&plan).map_err(|_| Problem::Broken)?)),
        Err(Problem::Refused(_)) => Ok(Err(CutError::Offcuts)),
        Err(other) => Err(other),
    }
}

/// Keeps a new count.
pub async fn count_off(store: &Store, bench: Uuid, id: Uuid, count: u32) -> Result<(), StoreError> {
    let before = store.one::<Sheet>(bench, id).await?.value;
    if before.count == Some(count) {
        return Ok(());
    }
    let sheet = Sheet { count: Some(count), ..before.clone() };
    let label = format!("count {} of {}", count, sheet.name);
    store.change(bench, Scope::Stock, &label, vec![Change::replace(id, &before, &sheet)?]).await
}

/// A number for what a page has shown, so that what is cut is what was seen.
pub fn seen(asked: &SheetAsked, sheets: &[Kept<Sheet>]) -> String {
    use std::hash::{DefaultHasher, Hash, Hasher};
    let mut hasher = DefaultHasher::new();
    serde_json::to_string(asked).unwrap_or_default().hash(&mut hasher);
    let ids: Vec<Uuid> = sheets.iter().map(|kept| kept.id).collect();
    ids.hash(&mut hasher);
    format!("{:016x}", hasher.finish())
}
