//! How the sources stand: no module needs one that needs it in turn.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

/// Crates whose modules stand in layers, and how deep their rooms go.
const LAYERED: [(&str, usize); 2] = [("store", 1), ("web", 2)];

fn files(below: &Path, found: &mut Vec<PathBuf>) {
    for entry in std::fs::read_dir(below).expect("sources") {
        let path = entry.expect("an entry").path();
        if path.is_dir() {
            files(&path, found);
        } else if path.extension().is_some_and(|end| end == "rs") {
            found.push(path);
        }
    }
}

/// The module of a file, down to a depth.
fn module(path: &Path, root: &Path, depth: usize) -> String {
    let path = path.strip_prefix(root).expect("below its root").with_extension("");
    let names: Vec<String> = path.iter().map(|name| name.to_string_lossy().into_owned()).collect();
    let names = names.into_iter().filter(|name| name != "mod" && name != "lib");
    names.take(depth).collect::<Vec<_>>().join("::")
}

/// Every path of the crate that a source names: `crate::a::{b, c::d}` names three.
fn named(source: &str, depth: usize) -> BTreeSet<String> {
    let code = source.split("#[cfg(test)]").next().unwrap_or_default();
    let code: String =
        code.lines().filter(|line| !line.trim_start().starts_with("//")).collect::<Vec<_>>().join("\n");
    let mut found = BTreeSet::new();
    for rest in code.split("crate::").skip(1) {
        let plain: String = rest.chars().take_while(|c| c.is_alphanumeric() || "_:".contains(*c)).collect();
        let group = rest[plain.len()..].strip_prefix('{').and_then(|rest| rest.split_once('}'));
        let ends: Vec<&str> =
            group.map_or(vec![""], |(inside, _)| inside.split(',').map(str::trim).collect());
        for end in ends {
            let whole = format!("{plain}{end}");
            let names = whole.split("::").filter(|name| !name.is_empty()).take(depth);
            found.insert(names.collect::<Vec<_>>().join("::"));
        }
    }
    found
}

/// What each module needs, directly.
fn needs(root: &Path, depth: usize) -> BTreeMap<String, BTreeSet<String>> {
    let mut all = Vec::new();
    files(root, &mut all);
    let mut needs: BTreeMap<String, BTreeSet<String>> = BTreeMap::new();
    for path in &all {
        let own = module(path, root, depth);
        let source = std::fs::read_to_string(path).expect("a source");
        needs.entry(own).or_default().extend(named(&source, depth));
    }
    let known: BTreeSet<String> = needs.keys().filter(|name| !name.is_empty()).cloned().collect();
    for (own, others) in &mut needs {
        others.retain(|other| known.contains(other) && other != own);
    }
    needs
}

/// Modules that are left when those that need none of the rest are taken away again and again: they stand in circles, or above one.
fn in_circles(mut needs: BTreeMap<String, BTreeSet<String>>) -> BTreeMap<String, BTreeSet<String>> {
    loop {
        let free: Vec<String> =
            needs.iter().filter(|(_, others)| others.is_empty()).map(|(own, _)| own.clone()).collect();
        if free.is_empty() {
            return needs;
        }
        for name in &free {
            needs.remove(name);
        }
        for others in needs.values_mut() {
            others.retain(|other| !free.contains(other));
        }
    }
}

#[test]
fn no_module_needs_one_that_needs_it() {
    for (name, depth) in LAYERED {
        let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("..").join(name).join("src");
        let needs = needs(&root, depth);
        assert!(needs.values().map(BTreeSet::len).sum::<usize>() > 20, "the sources of {name} are read");
        let circles = in_circles(needs);
        assert!(circles.is_empty(), "{name}: {circles:#?}");
    }
}

#[test]
fn a_circle_is_found_over_several_modules() {
    let of = |all: &[(&str, &[&str])]| {
        let set = |others: &[&str]| others.iter().map(|other| (*other).to_owned()).collect();
        all.iter().map(|(own, others)| ((*own).to_owned(), set(others))).collect()
    };
    assert!(in_circles(of(&[("a", &["b", "c"]), ("b", &["c"]), ("c", &[])])).is_empty());
    assert_eq!(in_circles(of(&[("a", &["b"]), ("b", &["c"]), ("c", &["a"]), ("d", &[])])).len(), 3);
    let source = "use crate::day::{told, slot_of};\n// crate::no\nfn f() { crate::gyms::change() }\n#[cfg(test)]\nuse crate::x;";
    let found: Vec<String> = named(source, 2).into_iter().collect();
    assert_eq!(found, ["day::slot_of", "day::told", "gyms::change"]);
}
