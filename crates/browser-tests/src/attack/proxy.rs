//! A road to the database on which queries are counted, and which can go silent: connections stay open, and nothing comes back on them. New
//! ones work at once.

use std::io::{Read, Write};
use std::net::{Shutdown, TcpListener, TcpStream};
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};

/// A proxy on a port of its own.
pub struct Proxy {
    /// The database URL through it.
    pub url: String,
    silenced: Arc<AtomicUsize>,
    opened: Arc<AtomicUsize>,
    queries: Arc<AtomicUsize>,
}

impl Proxy {
    /// In front of the database of a URL such as `postgres://u:p@127.0.0.1:5432/name`.
    pub fn before(url: &str) -> Self {
        let (front, rest) = url.split_once('@').expect("a URL names who asks");
        let (target, name) = rest.split_once('/').expect("a URL names a database");
        let listener = TcpListener::bind("127.0.0.1:0").expect("a free port");
        let port = listener.local_addr().expect("bound").port();
        let (silenced, opened) = (Arc::new(AtomicUsize::new(0)), Arc::new(AtomicUsize::new(0)));
        let target = target.to_owned();
        let queries = Arc::new(AtomicUsize::new(0));
        let (down, up, counted) = (silenced.clone(), opened.clone(), queries.clone());
        std::thread::spawn(move || {
            for client in listener.incoming().flatten() {
                let Ok(server) = TcpStream::connect(&target) else { continue };
                let place = up.fetch_add(1, Ordering::SeqCst);
                // Small messages are not held back.
                let _ = (client.set_nodelay(true), server.set_nodelay(true));
                let pair = |stream: &TcpStream| stream.try_clone().expect("a stream can be shared");
                pipe(pair(&client), pair(&server), place, down.clone(), Some(Messages::new(counted.clone())));
                pipe(server, client, place, down.clone(), None);
            }
        });
        Self { url: format!("{front}@127.0.0.1:{port}/{name}"), silenced, opened, queries }
    }

    /// Queries that have gone this way so far; where a transaction begins and ends is none.
    pub fn queries(&self) -> usize {
        self.queries.load(Ordering::SeqCst)
    }

    /// Connections that have been made this way so far.
    pub fn connections(&self) -> usize {
        self.opened.load(Ordering::SeqCst)
    }

    /// From now on every connection made so far is silent for good.
    pub fn go_silent(&self) {
        self.silenced.store(self.opened.load(Ordering::SeqCst), Ordering::SeqCst);
    }
}

/// The messages of a client, as PostgreSQL's protocol (version 3) has them: a first one without a kind, then kind, length and body.
struct Messages {
    begun: bool,
    rest: Vec<u8>,
    queries: Arc<AtomicUsize>,
}

impl Messages {
    fn new(queries: Arc<AtomicUsize>) -> Self {
        Self { begun: false, rest: Vec::new(), queries }
    }

    fn pass(&mut self, bytes: &[u8]) {
        self.rest.extend_from_slice(bytes);
        loop {
            let kind = usize::from(self.begun);
            let Some(length) = self.rest.get(kind..kind + 4) else { break };
            let length = u32::from_be_bytes(length.try_into().expect("four bytes")) as usize + kind;
            if self.rest.len() < length {
                break;
            }
            // A statement is run each time that it is bound; one without parameters may come as a plain query.
            let runs = match self.rest[0] {
                b'B' if self.begun => true,
                b'Q' if self.begun => {
                    let words = String::from_utf8_lossy(&self.rest[5..length]).to_lowercase();
                    !["begin", "commit", "rollback"].iter().any(|word| words.starts_with(word))
                }
                _ => false,
            };
            self.queries.fetch_add(usize::from(runs), Ordering::SeqCst);
            self.begun = true;
            self.rest.drain(..length);
        }
    }
}

fn pipe(
    mut from: TcpStream,
    mut to: TcpStream,
    place: usize,
    silenced: Arc<AtomicUsize>,
    mut messages: Option<Messages>,
) {
    std::thread::spawn(move || {
        let mut buffer = [0; 16 * 1024];
        loop {
            match from.read(&mut buffer) {
                Ok(0) | Err(_) => break,
                // Taken and acknowledged, and never passed on.
                Ok(_) if place < silenced.load(Ordering::SeqCst) => {}
                Ok(count) => {
                    if let Some(messages) = &mut messages {
                        messages.pass(&buffer[..count]);
                    }
                    if to.write_all(&buffer[..count]).is_err() {
                        break;
                    }
                }
            }
        }
        let _ = to.shutdown(Shutdown::Both);
    });
}
