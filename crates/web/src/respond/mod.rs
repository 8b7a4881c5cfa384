//! What goes out: whole pages and parts of them, what went wrong in words, files, and what was shown last.

pub(crate) mod assets;
pub(crate) mod error;
pub(crate) mod files;
pub(crate) mod filters;
pub(crate) mod redirect;
pub(crate) mod tables;
pub(crate) mod wanted;
