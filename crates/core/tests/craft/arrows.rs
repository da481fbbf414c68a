//! Which part of the program may use which? The tables in `docs/architecture.md` say it, the lowest part first, and the sources
//! are held against them: each part uses only what stands above it in its table, so that there is no way round in a circle.

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};

use crate::sources::Sources;

/// The crates that are read.
const CRATES: [&str; 5] = ["core", "eye", "camera", "store", "web"];

type Arrows = BTreeMap<String, BTreeSet<String>>;

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..")
}

fn files_of(name: &str) -> Arrows {
    let mut files = Arrows::new();
    for (from, to) in Sources::of(&root().join("crates").join(name).join("src")).arrows().into_keys() {
        files.entry(from).or_default().insert(to);
    }
    files
}

/// The part of the program that a file belongs to: its folder, or itself where it lies in none.
fn part(file: &str) -> String {
    file.split('/').next().unwrap_or(file).trim_end_matches(".rs").to_owned()
}

fn parts_of(files: &Arrows) -> Arrows {
    let mut parts = Arrows::new();
    for (from, to) in files {
        let others = to.iter().map(|to| part(to)).filter(|to| *to != part(from));
        parts.entry(part(from)).or_default().extend(others);
    }
    parts
}

/// What may use what, as the page on the architecture has it under a heading of the crate's name, in its order.
fn table(page: &str, name: &str) -> Vec<(String, BTreeSet<String>)> {
    let of = page.split("\n## ").find(|section| section.starts_with(&format!("The arrows of `{name}`")));
    let rows =
        of.unwrap_or_else(|| panic!("no table of {name}")).lines().filter(|line| line.starts_with("| `"));
    let row = |line: &str| {
        let cells: Vec<&str> = line.trim_matches('|').split('|').collect();
        let words = |cell: &str| cell.split('`').skip(1).step_by(2).map(str::to_owned).collect::<Vec<_>>();
        (words(cells[0]).remove(0), words(cells[2]).into_iter().collect())
    };
    rows.map(row).collect()
}

/// What lies on a circle, where there is one.
fn circle(arrows: &Arrows) -> Option<BTreeSet<String>> {
    let reached = |from: &String| {
        let (mut reached, mut ways) = (BTreeSet::new(), vec![from]);
        while let Some(at) = ways.pop() {
            ways.extend(arrows.get(at).into_iter().flatten().filter(|to| reached.insert((*to).clone())));
        }
        reached
    };
    let round = |from: &String| {
        let mut on = reached(from);
        on.retain(|to| reached(to).contains(from));
        on
    };
    arrows.keys().map(round).find(|on| !on.is_empty())
}

#[test]
fn arrows_run_one_way_between_files_and_between_folders() {
    for name in CRATES {
        let files = files_of(name);
        assert!(files.len() > 2, "{name} has been read");
        assert_eq!(circle(&files), None, "files of {name}");
        assert_eq!(circle(&parts_of(&files)), None, "folders of {name}");
    }
}

#[test]
fn each_part_uses_what_the_page_on_the_architecture_allows_and_no_more() {
    let page = fs::read_to_string(root().join("docs/architecture.md")).expect("the page");
    for name in CRATES {
        let (parts, table) = (parts_of(&files_of(name)), table(&page, name));
        let mut above = BTreeSet::new();
        for (part, may) in &table {
            let uses = parts.get(part).cloned().unwrap_or_default();
            assert_eq!(uses, *may, "what `{part}` of {name} uses, and what it may");
            assert!(may.is_subset(&above), "`{part}` of {name} stands above what it uses");
            assert!(above.insert(part.clone()), "`{part}` of {name} stands there once");
        }
        let missing: Vec<&String> = parts.keys().filter(|part| !above.contains(*part)).collect();
        assert!(missing.is_empty(), "{name}: {missing:?} stand nowhere");
    }
}

#[test]
fn a_circle_is_found() {
    let arrows = |of: &[(&str, &str)]| {
        let mut arrows = Arrows::new();
        for (from, to) in of {
            arrows.entry((*from).to_owned()).or_default().insert((*to).to_owned());
        }
        arrows
    };
    assert_eq!(circle(&arrows(&[("a", "b"), ("b", "c"), ("a", "c")])), None);
    let round = circle(&arrows(&[("a", "b"), ("b", "c"), ("c", "b")])).expect("b and c");
    assert_eq!(round, BTreeSet::from(["b".to_owned(), "c".to_owned()]));
}

/// Names are followed through whatever hands them on, and tests are left out.
#[test]
fn a_name_is_followed_to_where_it_is_defined() {
    let folder = tempfile::tempdir().unwrap();
    let write = |file: &str, text: &str| {
        let file = folder.path().join(file);
        fs::create_dir_all(file.parent().unwrap()).unwrap();
        fs::write(file, text).unwrap();
    };
    write("lib.rs", "mod high; mod low; pub use low::Deep;");
    write("low/mod.rs", "mod deep; mod flat; pub use deep::*; pub use flat::Flat as Even;");
    write(
        "low/deep.rs",
        "pub struct Deep; impl Deep { fn own(&self) { format!(\"{}\", super::flat::flat()); } }",
    );
    write(
        "low/flat.rs",
        "pub struct Flat; pub fn flat() {} #[cfg(test)] mod tests { use crate::high::high; }",
    );
    write("high.rs", "use crate::{Deep, low::Even}; use std::fmt::Debug; pub fn high() {}");
    let arrows: Vec<_> = Sources::of(folder.path()).arrows().into_keys().collect();
    let arrow = |from: &str, to: &str| (from.to_owned(), to.to_owned());
    let wanted = [
        arrow("high.rs", "low/deep.rs"),
        arrow("high.rs", "low/flat.rs"),
        arrow("low/deep.rs", "low/flat.rs"),
    ];
    assert_eq!(arrows, wanted);
}
