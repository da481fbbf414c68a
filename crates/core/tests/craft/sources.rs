//! Which file of a crate uses what of which other? Read from the `use` lines and the paths in its sources, through whatever
//! hands a name on, to where it is defined. Tests are left out.

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};

use syn::punctuated::Punctuated;
use syn::visit::{self, Visit};
use syn::{Attribute, Expr, Item, Token, UseTree, Visibility};

/// The path that leads to a module, or to what is in one.
type Names = Vec<String>;

/// From one file to another, both from the folder of sources.
pub type Arrow = (String, String);

#[derive(Default)]
struct Module {
    file: String,
    /// What is defined in it.
    defined: BTreeSet<String>,
    /// What it hands on: under which name, and what that is.
    handed: Vec<(String, Names)>,
    /// What is used in it.
    used: Vec<Names>,
}

/// The modules of a crate.
pub struct Sources {
    modules: BTreeMap<Names, Module>,
}

impl Sources {
    /// Reads all that belongs to the crate whose sources lie in a folder.
    pub fn of(folder: &Path) -> Sources {
        let root = ["lib.rs", "main.rs"].into_iter().find(|root| folder.join(root).exists());
        let mut sources = Sources { modules: BTreeMap::new() };
        sources.read(folder, Path::new(root.expect("a crate")), Vec::new());
        sources
    }

    fn read(&mut self, folder: &Path, file: &Path, names: Names) {
        let text = fs::read_to_string(folder.join(file)).expect("a source");
        let items = syn::parse_file(&text).expect("Rust").items;
        self.take(folder, file, names, items);
    }

    fn take(&mut self, folder: &Path, file: &Path, names: Names, items: Vec<Item>) {
        let mut module = Module { file: file.display().to_string(), ..Module::default() };
        let is_folder = names.is_empty() || file.ends_with("mod.rs");
        let within: PathBuf = if is_folder { file.parent().unwrap().into() } else { file.with_extension("") };
        for item in items.into_iter().filter(|item| !is_of_tests(attributes(item))) {
            module.defined.extend(name(&item));
            match item {
                Item::Mod(inner) => {
                    let name = inner.ident.to_string();
                    let names = [names.clone(), vec![name.clone()]].concat();
                    match inner.content {
                        Some((_, items)) => self.take(folder, file, names, items),
                        None => {
                            let flat = within.join(format!("{name}.rs"));
                            let deep = within.join(&name).join("mod.rs");
                            let file = if folder.join(&flat).exists() { flat } else { deep };
                            self.read(folder, &file, names);
                        }
                    }
                }
                Item::Use(taken) if !matches!(taken.vis, Visibility::Inherited) => {
                    leaves(&taken.tree, &[], &mut module.handed);
                }
                item => Paths(&mut module.used).visit_item(&item),
            }
        }
        self.modules.insert(names, module);
    }

    /// Every arrow between two files, with the names that are taken along it.
    pub fn arrows(&self) -> BTreeMap<Arrow, BTreeSet<String>> {
        let mut arrows: BTreeMap<Arrow, BTreeSet<String>> = BTreeMap::new();
        for (names, module) in &self.modules {
            for path in &module.used {
                let to = self.file_of(names, path, &mut Vec::new()).map(|(file, _)| file);
                if let Some(to) = to.filter(|to| *to != module.file) {
                    let taken = arrows.entry((module.file.clone(), to.to_owned())).or_default();
                    taken.extend(path.last().cloned());
                }
            }
        }
        arrows
    }

    /// The file in which something is defined that a module names so, and whether it is surely there: what a macro defines is
    /// not seen. Nothing where it is of another crate.
    fn file_of<'a>(
        &'a self,
        from: &Names,
        path: &[String],
        asked: &mut Vec<Names>,
    ) -> Option<(&'a str, bool)> {
        let child = |of: &Names, name: &String| [of.clone(), vec![name.clone()]].concat();
        let (mut at, mut rest) = match path.first()?.as_str() {
            "crate" => (Names::new(), &path[1..]),
            "super" | "self" => (from.clone(), path),
            _ if self.modules.contains_key(&child(from, &path[0])) => (from.clone(), path),
            _ => return None,
        };
        while let Some(first) = rest.first().filter(|first| matches!(first.as_str(), "super" | "self")) {
            if first == "super" {
                at.pop();
            }
            rest = &rest[1..];
        }
        while let Some(next) = rest.first().filter(|next| self.modules.contains_key(&child(&at, next))) {
            at = child(&at, next);
            rest = &rest[1..];
        }
        let module = self.modules.get(&at)?;
        let Some(name) = rest.first() else { return Some((&module.file, true)) };
        if module.defined.contains(name) || asked.contains(&path.to_vec()) {
            return Some((&module.file, true));
        }
        asked.push(path.to_vec());
        let handed = module.handed.iter().filter(|(known, _)| known == name || known == "*");
        let mut through: Vec<(&str, bool)> = handed
            .filter_map(|(known, what)| {
                let from_there = if known == "*" { rest } else { &rest[1..] };
                self.file_of(&at, &[what.clone(), from_there.to_vec()].concat(), asked)
            })
            .collect();
        through.retain(|(_, is_sure)| *is_sure);
        through.first().copied().or(Some((&module.file, false)))
    }
}

fn is_of_tests(attributes: &[Attribute]) -> bool {
    let is_test = |attribute: &Attribute| attribute.parse_args::<syn::Ident>().is_ok_and(|of| of == "test");
    attributes.iter().any(|attribute| attribute.path().is_ident("cfg") && is_test(attribute))
}

fn attributes(item: &Item) -> &[Attribute] {
    match item {
        Item::Const(item) => &item.attrs,
        Item::Enum(item) => &item.attrs,
        Item::Fn(item) => &item.attrs,
        Item::Impl(item) => &item.attrs,
        Item::Macro(item) => &item.attrs,
        Item::Mod(item) => &item.attrs,
        Item::Static(item) => &item.attrs,
        Item::Struct(item) => &item.attrs,
        Item::Trait(item) => &item.attrs,
        Item::Type(item) => &item.attrs,
        Item::Use(item) => &item.attrs,
        _ => &[],
    }
}

fn name(item: &Item) -> Option<String> {
    Some(match item {
        Item::Const(item) => item.ident.to_string(),
        Item::Enum(item) => item.ident.to_string(),
        Item::Fn(item) => item.sig.ident.to_string(),
        Item::Macro(item) => item.ident.as_ref()?.to_string(),
        Item::Static(item) => item.ident.to_string(),
        Item::Struct(item) => item.ident.to_string(),
        Item::Trait(item) => item.ident.to_string(),
        Item::Type(item) => item.ident.to_string(),
        _ => return None,
    })
}

/// What a `use` line takes: under which name, and what that is.
fn leaves(tree: &UseTree, before: &[String], taken: &mut Vec<(String, Names)>) {
    let with = |name: &syn::Ident| match name.to_string().as_str() {
        "self" if !before.is_empty() => before.to_vec(),
        name => [before.to_vec(), vec![name.to_owned()]].concat(),
    };
    match tree {
        UseTree::Path(path) => leaves(&path.tree, &with(&path.ident), taken),
        UseTree::Name(name) => {
            let path = with(&name.ident);
            taken.push((path.last().cloned().unwrap_or_default(), path));
        }
        UseTree::Rename(renamed) => taken.push((renamed.rename.to_string(), with(&renamed.ident))),
        UseTree::Glob(_) => taken.push(("*".into(), before.to_vec())),
        UseTree::Group(group) => group.items.iter().for_each(|tree| leaves(tree, before, taken)),
    }
}

/// Gathers the paths in an item.
struct Paths<'a>(&'a mut Vec<Names>);

impl Visit<'_> for Paths<'_> {
    fn visit_item(&mut self, item: &Item) {
        if !is_of_tests(attributes(item)) {
            visit::visit_item(self, item);
        }
    }

    fn visit_item_use(&mut self, item: &syn::ItemUse) {
        let mut taken = Vec::new();
        leaves(&item.tree, &[], &mut taken);
        self.0.extend(taken.into_iter().map(|(_, path)| path));
    }

    fn visit_path(&mut self, path: &syn::Path) {
        if path.segments.len() > 1 {
            self.0.push(path.segments.iter().map(|segment| segment.ident.to_string()).collect());
        }
        visit::visit_path(self, path);
    }

    /// What a macro is given, where that is written as expressions are.
    fn visit_macro(&mut self, called: &syn::Macro) {
        self.visit_path(&called.path);
        if let Ok(given) = called.parse_body_with(Punctuated::<Expr, Token![,]>::parse_terminated) {
            given.iter().for_each(|given| self.visit_expr(given));
        }
    }
}
