//! What the program is built from: licences, where it comes from, and nothing that nobody uses.

use std::collections::BTreeSet;
use std::path::{Path, PathBuf};
use std::process::Command;

use serde_json::Value;

/// Licences under which what is used may be passed on with the program; of several that a crate offers one is enough.
const LICENCES: [&str; 17] = [
    "0BSD",
    "Apache-2.0",
    "Apache-2.0 WITH LLVM-exception",
    "BSD-2-Clause",
    "BSD-3-Clause",
    "BSL-1.0",
    "CC0-1.0",
    "CDLA-Permissive-2.0",
    "ISC",
    "MIT",
    "MIT-0",
    "MPL-2.0",
    "Unicode-3.0",
    "Unicode-DFS-2016",
    "Unlicense",
    "WTFPL",
    "Zlib",
];

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..")
}

fn packages() -> Vec<Value> {
    let told = Command::new(env!("CARGO"))
        .args(["metadata", "--format-version", "1", "--locked", "--offline", "--filter-platform"])
        .arg(format!("{}-unknown-linux-gnu", std::env::consts::ARCH))
        .current_dir(root())
        .output()
        .expect("cargo tells what is used");
    assert!(told.status.success(), "{}", String::from_utf8_lossy(&told.stderr));
    let told: Value = serde_json::from_slice(&told.stdout).expect("as JSON");
    told["packages"].as_array().expect("packages").clone()
}

/// Whether an expression of licences leaves a way that is allowed: `OR` is a choice, `AND` takes both.
fn is_allowed(expression: &str) -> bool {
    let choices = expression.replace(['(', ')'], " ").replace('/', " OR ");
    let choices = choices.split(" OR ").map(str::to_owned).collect::<Vec<_>>();
    choices.iter().any(|all| all.split(" AND ").all(|one| LICENCES.contains(&one.trim())))
}

#[test]
fn every_crate_may_be_passed_on_and_comes_from_the_registry() {
    let (mut wrong, mut seen) = (Vec::new(), 0);
    for package in packages() {
        let name = package["name"].as_str().unwrap_or_default();
        let Some(source) = package["source"].as_str() else { continue };
        seen += 1;
        if !source.starts_with("registry+") {
            wrong.push(format!("{name} comes from {source}"));
        }
        let licence = package["license"].as_str().unwrap_or("no licence");
        if !is_allowed(licence) {
            wrong.push(format!("{name}: {licence}"));
        }
    }
    assert!(seen > 300, "{seen}");
    assert_eq!(wrong, Vec::<String>::new());
    assert!(is_allowed("MIT OR GPL-3.0-only") && !is_allowed("MIT AND GPL-3.0-only"));
}

/// The text of every source of a crate.
fn sources(folder: &Path) -> String {
    let Ok(entries) = std::fs::read_dir(folder) else { return String::new() };
    let mut text = String::new();
    for path in entries.flatten().map(|entry| entry.path()) {
        if path.is_dir() {
            text += &sources(&path);
        } else if path.extension().is_some_and(|kind| kind == "rs") {
            text += &std::fs::read_to_string(&path).unwrap_or_default();
        }
    }
    text
}

#[test]
fn no_crate_names_another_that_it_does_not_use() {
    let mut unused = BTreeSet::new();
    for entry in std::fs::read_dir(root().join("crates")).expect("the crates").flatten() {
        let folder = entry.path();
        let manifest = std::fs::read_to_string(folder.join("Cargo.toml")).expect("a manifest");
        let text: String =
            ["src", "tests", "benches", "examples"].iter().map(|part| sources(&folder.join(part))).collect();
        let text = text + &std::fs::read_to_string(folder.join("build.rs")).unwrap_or_default();
        let lines = manifest.lines().skip_while(|line| !line.contains("dependencies]"));
        for line in lines.take_while(|line| !line.starts_with("[lints") && !line.starts_with("[[")) {
            let Some(name) = line.split_once(".workspace").map(|(name, _)| name.trim()) else { continue };
            if !text.contains(&name.replace('-', "_")) {
                unused.insert(format!("{}: {name}", entry.file_name().to_string_lossy()));
            }
        }
    }
    assert_eq!(unused, BTreeSet::new());
}
