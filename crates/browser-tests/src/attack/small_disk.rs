//! A disk that is soon full.

use std::fs::File;
use std::io::Write as _;
use std::path::{Path, PathBuf};
use std::process::Command;

use anyhow::{Result, ensure};
use tempfile::TempDir;

use crate::cluster::is_root;

/// A disk in memory; it goes with this.
pub struct SmallDisk {
    folder: TempDir,
}

impl SmallDisk {
    /// One of so many megabytes. The system allows it only to its administrator.
    ///
    /// # Errors
    /// When it does not.
    pub fn of_mb(size: u32) -> Result<Self> {
        let disk = Self { folder: tempfile::tempdir()? };
        let size = format!("size={size}m,mode=777");
        as_root(&["mount", "-t", "tmpfs", "-o", &size, "tmpfs", &disk.path().display().to_string()])?;
        Ok(disk)
    }

    /// Where it is.
    pub fn path(&self) -> &Path {
        self.folder.path()
    }

    fn filler(&self) -> PathBuf {
        self.path().join("something-else")
    }

    /// Fills it with something else, to the last byte.
    ///
    /// # Errors
    /// When there cannot be written at all.
    pub fn fill(&self) -> Result<()> {
        let mut file = File::options().create(true).append(true).open(self.filler())?;
        let (large, small) = (vec![1; 1 << 16], vec![1; 1 << 8]);
        while file.write(&large).is_ok_and(|written| written > 0) {}
        while file.write(&small).is_ok_and(|written| written > 0) {}
        Ok(())
    }

    /// Gives the room back.
    ///
    /// # Errors
    /// When it was not filled.
    pub fn give_room(&self) -> Result<()> {
        Ok(std::fs::remove_file(self.filler())?)
    }
}

impl Drop for SmallDisk {
    fn drop(&mut self) {
        // Whoever still has a file open there keeps it until they end.
        let _ = as_root(&["umount", "-l", &self.path().display().to_string()]);
    }
}

fn as_root(command: &[&str]) -> Result<()> {
    let words = if is_root() { command.to_vec() } else { [&["sudo", "-n"], command].concat() };
    let done = Command::new(words[0]).args(&words[1..]).output()?;
    ensure!(done.status.success(), "{words:?}: {}", String::from_utf8_lossy(&done.stderr));
    Ok(())
}
