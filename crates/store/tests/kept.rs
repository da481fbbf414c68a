//! What is kept stays kept: undo and redo, several tabs, one owner apart from another.

use rosy_core::colour::Colour;
use rosy_core::cut::{Batch, Piece, Sheet};
use rosy_core::ink::{Finish, Ink, Kind, Paper, Tool, ToolKind};
use rosy_core::record::Photos;
use rosy_core::{Length, Panel, Units};
use rosy_store::photo::ByPhoto;
use rosy_store::{Bench, Change, Kept, Save, Saved, Scope, Store, StoreError};
use sea_orm::{ConnectionTrait, Database};
use uuid::Uuid;

async fn store(name: &str) -> (Store, Bench) {
    let server =
        std::env::var("DATABASE_URL").expect("DATABASE_URL is not set: run the suite with ./rosy test");
    let name = format!("kept_{}_{name}", std::process::id());
    let connection = Database::connect(&server).await.unwrap();
    connection.execute_unprepared(&format!("CREATE DATABASE {name}")).await.unwrap();
    let (before, _) = server.rsplit_once('/').unwrap();
    let store = Store::open(&format!("{before}/{name}")).await.unwrap();
    let bench = store.add_bench(&"Kite-day bench".parse().unwrap(), Units::Inches).await.unwrap();
    (store, bench)
}

fn ink(name: &str) -> Ink {
    let colour = Colour::Lab([57.25, 56.0, -4.5].into());
    Ink { name: name.parse().unwrap(), kind: Kind::Dye, colour, one_veil: None, full_veils: 7, on_ink: None }
}

fn panel() -> Panel {
    let paper = Paper::plain(Finish::VerySmooth);
    let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
    let (width, height) = (Length::from_inches(4), Length::from_inches(5));
    Panel::bare("Ebb at six".parse().unwrap(), width, height, paper, tool, 1)
        .with_inks(vec![ink("Cockle"), ink("Thrift")], Units::Inches)
}

/// Two changes together.
async fn both([base, one, other]: [&Panel; 3]) -> Result<Option<Panel>, StoreError> {
    Ok(rosy_core::merge::merged(base, one, other))
}

/// A save of a tab that knows nothing but what it sends.
async fn save(store: &Store, bench: &Bench, id: Uuid, revision: i64, panel: &Panel, label: &str) -> Saved {
    let save = Save { revision, base: None, panel, label, mark: None };
    store.save_panel(bench.id, id, save, both).await.unwrap()
}

fn revision(saved: &Saved) -> i64 {
    match saved {
        Saved::Kept(state) | Saved::Merged(state) => state.revision,
        Saved::Beside { .. } => panic!("{saved:?}"),
    }
}

fn renamed(panel: &Panel, name: &str) -> Panel {
    Panel { name: name.parse().unwrap(), ..panel.clone() }
}

#[tokio::test]
async fn a_panel_comes_back_as_it_was_kept() {
    let (store, bench) = store("back").await;
    let id = store.add_panel(bench.id, &panel()).await.unwrap();
    let kept: Kept<Panel> = store.one(bench.id, id).await.unwrap();
    assert_eq!((kept.value, kept.revision), (panel(), 1));
}

#[tokio::test]
async fn undo_walks_back_and_redo_forth_until_something_new_is_done() {
    let (store, bench) = store("undo").await;
    let id = store.add_panel(bench.id, &panel()).await.unwrap();
    let scope = Scope::Panel(id);
    for (revision, name) in [(1, "One"), (2, "Two"), (3, "Three")] {
        let saved = save(&store, &bench, id, revision, &renamed(&panel(), name), name).await;
        let Saved::Kept(state) = saved else { panic!("{saved:?}") };
        assert_eq!((state.revision, state.undo.as_deref()), (revision + 1, Some(name)));
    }
    let name = async || store.one::<Panel>(bench.id, id).await.unwrap().value.name.to_string();
    assert_eq!(store.undo(bench.id, scope).await.unwrap().as_deref(), Some("Three"));
    assert_eq!(store.undo(bench.id, scope).await.unwrap().as_deref(), Some("Two"));
    assert_eq!(name().await, "One");
    assert_eq!(store.redo(bench.id, scope).await.unwrap().as_deref(), Some("Two"));
    assert_eq!(name().await, "Two");
    let revision = store.one::<Panel>(bench.id, id).await.unwrap().revision;
    save(&store, &bench, id, revision, &renamed(&panel(), "Other"), "Other").await;
    assert_eq!(store.undoable(bench.id, scope).await.unwrap(), (Some("Other".into()), None));
    assert_eq!(store.redo(bench.id, scope).await.unwrap(), None);
}

#[tokio::test]
async fn the_later_of_two_tabs_is_kept_beside_the_first() {
    let (store, bench) = store("tabs").await;
    let id = store.add_panel(bench.id, &panel()).await.unwrap();
    save(&store, &bench, id, 1, &renamed(&panel(), "First tab"), "x").await;
    let saved = save(&store, &bench, id, 1, &renamed(&panel(), &"n".repeat(80)), "y").await;
    let Saved::Beside { id: beside, name, state } = saved else { panic!("{saved:?}") };
    assert_eq!(state.panel.name.as_str(), "First tab");
    assert!(name.ends_with("(other tab)") && name.len() == 80);
    assert_eq!(store.one::<Panel>(bench.id, id).await.unwrap().value.name.as_str(), "First tab");
    assert_eq!(store.one::<Panel>(bench.id, beside).await.unwrap().value.name.as_str(), name);
}

#[tokio::test]
async fn many_tabs_at_once_lose_none_of_their_work() {
    let (store, bench) = store("race").await;
    let id = store.add_panel(bench.id, &panel()).await.unwrap();
    let tabs = (0..6).map(|tab| {
        let (store, bench) = (store.clone(), bench.clone());
        tokio::spawn(async move {
            save(&store, &bench, id, 1, &renamed(&panel(), &format!("Tab {tab}")), "x").await
        })
    });
    let mut kept = 0;
    for tab in tabs.collect::<Vec<_>>() {
        kept += usize::from(matches!(tab.await.unwrap(), Saved::Kept(_)));
    }
    let names: Vec<String> =
        store.all::<Panel>(bench.id).await.unwrap().iter().map(|p| p.value.name.to_string()).collect();
    assert_eq!((kept, names.len()), (1, 6));
    for tab in 0..6 {
        assert!(names.iter().any(|name| name.starts_with(&format!("Tab {tab}"))), "{names:?}");
    }
}

#[tokio::test]
async fn a_removal_is_undone_and_a_change_behind_undos_back_is_not_lost() {
    let (store, bench) = store("removal").await;
    let id = Uuid::now_v7();
    let (old, new) = (ink("Cockle"), ink("Cockle, new pad"));
    let change = |change| store.change(bench.id, Scope::Drawer, "x", vec![change]);
    change(Change::add(id, &old).unwrap()).await.unwrap();
    change(Change::remove(id, &old).unwrap()).await.unwrap();
    assert!(store.all::<Ink>(bench.id).await.unwrap().is_empty());
    store.undo(bench.id, Scope::Drawer).await.unwrap();
    assert_eq!(store.one::<Ink>(bench.id, id).await.unwrap().value, old);

    // Changed through another scope: taking back the adding would lose that change.
    store.change(bench.id, Scope::Bench, "y", vec![Change::replace(id, &old, &new).unwrap()]).await.unwrap();
    let refused = store.undo(bench.id, Scope::Drawer).await;
    assert!(matches!(refused, Err(StoreError::ChangedSince(_))), "{refused:?}");
    assert_eq!(store.one::<Ink>(bench.id, id).await.unwrap().value, new);
}

#[tokio::test]
async fn of_a_panel_that_is_shown_the_latest_photo_is_kept() {
    let (store, bench) = store("shown").await;
    let ebb = |moves| ("ebb".to_owned(), moves);
    let shown = async |what, photo| store.shown_by(bench.id, what, photo).await;
    let first = shown(ebb(3), ByPhoto::New(b"first".to_vec())).await.unwrap();
    // The same photo, read as of another step.
    assert_eq!(shown(ebb(5), ByPhoto::Kept(first)).await.unwrap(), first);
    let photos = store.only::<Photos>(bench.id).await.unwrap().1;
    assert_eq!(photos.0.iter().map(|shown| shown.moves).collect::<Vec<_>>(), [5]);
    let other = shown(("kites".to_owned(), 1), ByPhoto::New(b"other".to_vec())).await.unwrap();
    let second = shown(ebb(5), ByPhoto::New(b"second".to_vec())).await.unwrap();
    assert_eq!(store.photo(bench.id, second).await.unwrap(), b"second");
    assert_eq!(store.photo(bench.id, other).await.unwrap(), b"other");
    assert!(matches!(store.photo(bench.id, first).await, Err(StoreError::Missing("photo"))));
    assert!(matches!(shown(ebb(5), ByPhoto::Kept(first)).await, Err(StoreError::Missing("photo"))));
    // It is no change that undo would take back, and another bench has none of it.
    assert_eq!(store.undo(bench.id, Scope::Bench).await.unwrap(), None);
    let stranger = store.add_bench(&"Another bench".parse().unwrap(), Units::Inches).await.unwrap();
    assert!(matches!(store.photo(stranger.id, second).await, Err(StoreError::Missing("photo"))));
    let taken = store.shown_by(stranger.id, ebb(1), ByPhoto::Kept(second)).await;
    assert!(matches!(taken, Err(StoreError::Missing("photo"))));
}

#[tokio::test]
async fn one_bench_cannot_reach_anothers_things() {
    let (store, bench) = store("owners").await;
    let other = store.add_bench(&"Tea hut".parse().unwrap(), Units::Millimetres).await.unwrap();
    let id = store.add_panel(bench.id, &panel()).await.unwrap();
    assert!(matches!(store.one::<Panel>(other.id, id).await, Err(StoreError::Missing("panel"))));
    assert!(matches!(store.remove_panel(other.id, id).await, Err(StoreError::Missing("panel"))));
    let stolen = Save { revision: 1, base: None, panel: &panel(), label: "x", mark: None };
    assert!(store.save_panel(other.id, id, stolen, both).await.is_err());
    assert!(store.walk_panel(other.id, id, true).await.is_err());
    store.remove_panel(bench.id, id).await.unwrap();
    assert!(store.bring_panel_back(other.id, id).await.is_err());
    store.bring_panel_back(bench.id, id).await.unwrap();
    assert!(store.all::<Panel>(other.id).await.unwrap().is_empty());
    assert_eq!(store.undo(other.id, Scope::Panel(id)).await.unwrap(), None);
    // A panel is not an ink.
    assert!(matches!(store.one::<Ink>(bench.id, id).await, Err(StoreError::Missing("ink"))));
}

#[tokio::test]
async fn opening_again_changes_nothing() {
    let server = std::env::var("DATABASE_URL").unwrap();
    let (first, bench) = store("again").await;
    let id = first.add_panel(bench.id, &panel()).await.unwrap();
    let key = first.cookie_key("first".into()).await.unwrap();
    let (before, _) = server.rsplit_once('/').unwrap();
    let second = Store::open(&format!("{before}/kept_{}_again", std::process::id())).await.unwrap();
    assert_eq!(second.cookie_key("second".into()).await.unwrap(), key);
    assert_eq!(second.benches().await.unwrap(), std::slice::from_ref(&bench));
    assert_eq!(second.one::<Panel>(bench.id, id).await.unwrap().value, panel());
    second.ping().await.unwrap();
}

#[tokio::test]
async fn a_bench_reads_lengths_as_its_maker_chose() {
    let (store, bench) = store("units").await;
    assert_eq!(bench.units, Units::Inches);
    store.set_units(bench.id, Units::Millimetres).await.unwrap();
    assert_eq!(store.bench(bench.id).await.unwrap().unwrap().units, Units::Millimetres);
    assert_eq!(store.bench(Uuid::now_v7()).await.unwrap(), None);
}

#[tokio::test]
async fn a_file_of_inks_is_read_whole_and_undone_whole() {
    let (store, bench) = store("file").await;
    let names = ["Cockle", "Thrift", "Marram", "Samphire"];
    let added: Vec<Change> =
        names.iter().map(|name| Change::add(Uuid::now_v7(), &ink(name)).unwrap()).collect();
    store.change(bench.id, Scope::Drawer, "read 4 inks", added).await.unwrap();
    assert_eq!(store.all::<Ink>(bench.id).await.unwrap().len(), 4);
    store.undo(bench.id, Scope::Drawer).await.unwrap();
    assert!(store.all::<Ink>(bench.id).await.unwrap().is_empty());
    store.redo(bench.id, Scope::Drawer).await.unwrap();
    assert_eq!(store.all::<Ink>(bench.id).await.unwrap().len(), 4);

    // One that is there already stops the whole file: nothing of it is added.
    let there = store.all::<Ink>(bench.id).await.unwrap();
    let mixed = vec![
        Change::add(Uuid::now_v7(), &ink("Mudlark")).unwrap(),
        Change::add(there[0].id, &ink("Twice")).unwrap(),
    ];
    assert!(store.change(bench.id, Scope::Drawer, "x", mixed).await.is_err());
    assert_eq!(store.all::<Ink>(bench.id).await.unwrap().len(), 4);
}

#[tokio::test]
async fn what_is_set_out_at_the_start_cannot_be_undone() {
    let (store, bench) = store("set_out").await;
    store.set_out(bench.id, vec![Change::add(Uuid::now_v7(), &ink("Cockle")).unwrap()]).await.unwrap();
    for scope in [Scope::Drawer, Scope::Bench] {
        assert_eq!(store.undoable(bench.id, scope).await.unwrap(), (None, None));
    }
    assert_eq!(store.all::<Ink>(bench.id).await.unwrap().len(), 1);
}

#[tokio::test]
async fn the_line_of_changes_forgets_what_is_long_ago() {
    let (store, bench) = store("forgets").await;
    let id = store.add_panel(bench.id, &panel()).await.unwrap();
    for n in 1..=230 {
        let saved = save(&store, &bench, id, n, &renamed(&panel(), &format!("Name {n}")), "x").await;
        assert_eq!(revision(&saved), n + 1);
    }
    let mut undone = 0;
    while store.undo(bench.id, Scope::Panel(id)).await.unwrap().is_some() {
        undone += 1;
    }
    assert_eq!(undone, 200);
    assert_eq!(store.one::<Panel>(bench.id, id).await.unwrap().value.name.as_str(), "Name 30");
}

#[tokio::test]
async fn saving_what_is_kept_already_is_no_change() {
    let (store, bench) = store("same").await;
    let id = store.add_panel(bench.id, &panel()).await.unwrap();
    // Even from a tab that is behind: there is nothing to lose.
    assert_eq!(revision(&save(&store, &bench, id, 7, &panel(), "x").await), 1);
    assert_eq!(store.undoable(bench.id, Scope::Panel(id)).await.unwrap(), (None, None));
}

#[tokio::test]
async fn a_batch_cut_is_one_change_and_comes_back_whole() {
    let (store, bench) = store("stock").await;
    let (width, height) = (Length::from_inches(8), Length::from_inches(11));
    let sheet = |name: &str, count| Sheet {
        name: name.parse().unwrap(),
        width,
        height,
        grain: None,
        count: Some(count),
        paper: None,
        offcut: name != "Letter",
    };
    let piece = Piece { name: "Base".parse().unwrap(), width, height, grain: None, count: 3, paper: None };
    let (full, bit, next) = (Uuid::now_v7(), Uuid::now_v7(), Uuid::now_v7());
    let batch = Batch { pieces: vec![piece], ..Batch::default() };
    let set = vec![
        Change::add(full, &sheet("Letter", 9)).unwrap(),
        Change::add(bit, &sheet("Bit", 1)).unwrap(),
        Change::add(next, &batch).unwrap(),
    ];
    store.set_out(bench.id, set).await.unwrap();
    let cut = vec![
        Change::replace(full, &sheet("Letter", 9), &sheet("Letter", 6)).unwrap(),
        Change::remove(bit, &sheet("Bit", 1)).unwrap(),
        Change::add(Uuid::now_v7(), &sheet("New bit", 2)).unwrap(),
        Change::replace(next, &batch, &Batch::default()).unwrap(),
    ];
    store.change(bench.id, Scope::Stock, "cut the batch", cut).await.unwrap();
    let names = async || {
        let mut names: Vec<(String, Option<u32>)> = Vec::new();
        for kept in store.all::<Sheet>(bench.id).await.unwrap() {
            names.push((kept.value.name.to_string(), kept.value.count));
        }
        names.sort();
        names
    };
    assert_eq!(names().await, [("Letter".to_owned(), Some(6)), ("New bit".to_owned(), Some(2))]);
    assert_eq!(store.undo(bench.id, Scope::Stock).await.unwrap().as_deref(), Some("cut the batch"));
    assert_eq!(names().await, [("Bit".to_owned(), Some(1)), ("Letter".to_owned(), Some(9))]);
    assert_eq!(store.one::<Batch>(bench.id, next).await.unwrap().value, batch);
    // The drawer's line and the stock's do not mix.
    assert_eq!(store.undo(bench.id, Scope::Drawer).await.unwrap(), None);
    store.redo(bench.id, Scope::Stock).await.unwrap();
    assert_eq!(store.one::<Batch>(bench.id, next).await.unwrap().value, Batch::default());
}

#[tokio::test]
async fn tabs_that_change_different_things_are_merged() {
    let (store, bench) = store("merged").await;
    let base = panel();
    let id = store.add_panel(bench.id, &base).await.unwrap();
    let from_base = async |panel: &Panel| {
        let save = Save { revision: 1, base: Some(&base), panel, label: "x", mark: None };
        store.save_panel(bench.id, id, save, both).await.unwrap()
    };
    from_base(&Panel { done: 2, ..base.clone() }).await;
    let saved = from_base(&renamed(&base, "Ebb at seven")).await;
    let Saved::Merged(state) = saved else { panic!("{saved:?}") };
    assert_eq!((state.panel.name.as_str(), state.panel.done, state.revision), ("Ebb at seven", 2, 3));
    // Ticks of both, and no second panel.
    let saved = from_base(&Panel { done: 3, ..base.clone() }).await;
    assert!(matches!(&saved, Saved::Merged(state) if state.panel.done == 3), "{saved:?}");
    assert_eq!(store.count::<Panel>(bench.id).await.unwrap(), 1);
    // The same thing changed in two ways is kept twice.
    assert!(matches!(from_base(&renamed(&base, "Ebb at eight")).await, Saved::Beside { .. }));
    assert_eq!(store.count::<Panel>(bench.id).await.unwrap(), 2);
    // What one took back stays taken back by one step.
    store.walk_panel(bench.id, id, true).await.unwrap();
    assert_eq!(store.panel(bench.id, id).await.unwrap().panel.done, 2);
}

#[tokio::test]
async fn where_it_is_not_known_whether_two_changes_go_together_neither_is_taken_for_a_quarrel() {
    let (store, bench) = store("unmerged").await;
    let (base, one) = (panel(), renamed(&panel(), "One"));
    let id = store.add_panel(bench.id, &base).await.unwrap();
    save(&store, &bench, id, 1, &renamed(&base, "Two"), "y").await;
    let send = Save { revision: 1, base: Some(&base), panel: &one, label: "x", mark: Some(Uuid::new_v4()) };
    let breaks = async |_: [&Panel; 3]| Err(StoreError::Missing("answer"));
    assert!(matches!(store.save_panel(bench.id, id, send, breaks).await, Err(StoreError::Missing("answer"))));
    assert_eq!(store.count::<Panel>(bench.id).await.unwrap(), 1, "nothing is kept beside");
    // Sent twice at once, it is kept beside once.
    let (first, second) =
        tokio::join!(store.save_panel(bench.id, id, send, both), store.save_panel(bench.id, id, send, both));
    assert!(first.is_ok() && second.is_ok());
    assert_eq!(store.count::<Panel>(bench.id).await.unwrap(), 2);
}

#[tokio::test]
async fn a_change_sent_again_is_known_again() {
    let (store, bench) = store("mark").await;
    let id = store.add_panel(bench.id, &panel()).await.unwrap();
    let (one, two) = (renamed(&panel(), "One"), renamed(&panel(), "Two"));
    let mark = Some(Uuid::new_v4());
    let send = async || {
        let save = Save { revision: 1, base: None, panel: &one, label: "x", mark };
        store.save_panel(bench.id, id, save, both).await.unwrap()
    };
    assert_eq!(revision(&send().await), 2);
    save(&store, &bench, id, 2, &two, "y").await;
    // The answer was lost, the change was not: nothing is done twice, nothing is kept beside.
    let Saved::Kept(state) = send().await else { panic!("kept") };
    assert_eq!((state.revision, state.panel.name.as_str()), (3, "Two"));
    assert_eq!(store.count::<Panel>(bench.id).await.unwrap(), 1);
}

#[tokio::test]
async fn many_undos_at_once_take_back_one_change_each() {
    let (store, bench) = store("undos").await;
    for name in ["Cockle", "Thrift", "Marram", "Samphire"] {
        let add = vec![Change::add(Uuid::now_v7(), &ink(name)).unwrap()];
        store.change(bench.id, Scope::Drawer, name, add).await.unwrap();
    }
    let undos = (0..3).map(|_| {
        let (store, bench) = (store.clone(), bench.id);
        tokio::spawn(async move { store.undo(bench, Scope::Drawer).await.unwrap() })
    });
    let mut undone = Vec::new();
    for undo in undos.collect::<Vec<_>>() {
        undone.extend(undo.await.unwrap());
    }
    undone.sort();
    assert_eq!(undone, ["Marram", "Samphire", "Thrift"]);
    assert_eq!(store.count::<Ink>(bench.id).await.unwrap(), 1);
}

#[tokio::test]
async fn panels_are_copied_removed_and_brought_back() {
    let (store, bench) = store("panels").await;
    let first = store.add_panel(bench.id, &Panel { done: 3, ..panel() }).await.unwrap();
    let copy = store.add_panel_as(bench.id, &renamed(&panel(), "Ebb at six, copy"), "copy it").await.unwrap();
    store.remove_panel(bench.id, first).await.unwrap();
    store.remove_panel(bench.id, copy).await.unwrap();
    let removed = store.removed::<Panel>(bench.id, Scope::Bench).await.unwrap();
    assert_eq!(removed.iter().map(|(id, _)| *id).collect::<Vec<_>>(), [copy, first], "the latest first");
    // Whatever was done in between.
    store.bring_panel_back(bench.id, first).await.unwrap();
    assert_eq!(store.one::<Panel>(bench.id, first).await.unwrap().value.done, 3);
    assert_eq!(store.removed::<Panel>(bench.id, Scope::Bench).await.unwrap().len(), 1);
    assert!(store.bring_panel_back(bench.id, first).await.is_err(), "it is there");
    let some = store.some::<Panel>(bench.id, 0, 10).await.unwrap();
    assert_eq!(some.len(), 1);
    assert!(store.some::<Panel>(bench.id, 1, 10).await.unwrap().is_empty());
}

#[tokio::test]
async fn benches_are_renamed_put_away_and_brought_back() {
    let (store, bench) = store("benches").await;
    assert!(matches!(store.set_bench_removed(bench.id, true).await, Err(StoreError::Last)));
    store.rename_bench(bench.id, &"Flag stewards".parse().unwrap()).await.unwrap();
    let renamed = store.bench(bench.id).await.unwrap().unwrap();
    assert_eq!(
        (renamed.name.as_str(), renamed.former_name.as_deref()),
        ("Flag stewards", Some("Kite-day bench"))
    );
    let other = store.add_bench(&"Tea hut".parse().unwrap(), Units::Millimetres).await.unwrap();
    store.add_panel(other.id, &panel()).await.unwrap();
    store.set_bench_removed(other.id, true).await.unwrap();
    assert_eq!(store.bench(other.id).await.unwrap(), None);
    assert_eq!(store.removed_benches().await.unwrap().len(), 1);
    store.set_bench_removed(other.id, false).await.unwrap();
    assert_eq!(store.count::<Panel>(other.id).await.unwrap(), 1, "everything on it came back");
}
