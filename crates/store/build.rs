//! A new migration directory must rebuild the crate that embeds it.
fn main() {
    println!("cargo:rerun-if-changed=migrations");
}
