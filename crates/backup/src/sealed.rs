//! What is written is sealed with a passphrase: nobody without it reads or changes a byte unnoticed.

use std::io::{Read, Write};

use age::secrecy::SecretString;
use age::stream::StreamWriter;
use age::{Decryptor, Encryptor, scrypt};
use anyhow::{Context as _, Result, ensure};

/// Shortest passphrase that is taken, in characters: whoever has the file may try for years.
const SHORTEST: usize = 12;

/// What a backup is sealed with.
#[derive(Clone)]
pub struct Passphrase(SecretString);

impl Passphrase {
    /// Of what somebody chose.
    ///
    /// # Errors
    /// When it is too short.
    pub fn new(text: &str) -> Result<Self> {
        let text = text.trim_end_matches(['\r', '\n']);
        let length = text.chars().count();
        ensure!(
            length >= SHORTEST,
            "the passphrase has {length} characters; {SHORTEST} are the fewest that are taken"
        );
        Ok(Self(SecretString::from(text.to_owned())))
    }
}

pub(crate) fn seal<W: Write>(to: W, passphrase: &Passphrase) -> Result<StreamWriter<W>> {
    Ok(Encryptor::with_user_passphrase(passphrase.0.clone()).wrap_output(to)?)
}

pub(crate) fn open<R: Read>(from: R, passphrase: &Passphrase) -> Result<impl Read> {
    let sealed = Decryptor::new_buffered(std::io::BufReader::new(from)).context("this is no sealed file")?;
    let key = scrypt::Identity::new(passphrase.0.clone());
    sealed
        .decrypt(std::iter::once(&key as _))
        .context("the passphrase is another one, or the file is damaged")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_sealed_opens_with_its_passphrase_alone_and_whole() {
        let (one, other) = (
            Passphrase::new("a long passphrase\n").unwrap(),
            Passphrase::new("another one of them").unwrap(),
        );
        let text = b"a line\n".repeat(30_000);
        let mut file = Vec::new();
        let mut writer = seal(&mut file, &one).unwrap();
        writer.write_all(&text).unwrap();
        writer.finish().unwrap();
        let read = |file: &[u8], passphrase: &Passphrase| -> Result<Vec<u8>> {
            let mut back = Vec::new();
            open(file, passphrase)?.read_to_end(&mut back)?;
            Ok(back)
        };
        assert_eq!(read(&file, &one).unwrap(), text);
        assert!(read(&file, &other).is_err());
        assert!(read(&file[..file.len() - 1], &one).is_err(), "cut off");
        let mut changed = file.clone();
        changed[file.len() / 2] ^= 1;
        assert!(read(&changed, &one).is_err(), "changed");
        assert!(read(b"not sealed", &one).is_err());
        assert!(Passphrase::new("too short").is_err());
    }
}
