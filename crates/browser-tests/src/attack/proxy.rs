//! A road to the database that can go silent: connections stay open, and nothing comes back on them. New ones work at once.

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
        let (down, up) = (silenced.clone(), opened.clone());
        std::thread::spawn(move || {
            for client in listener.incoming().flatten() {
                let Ok(server) = TcpStream::connect(&target) else { continue };
                let place = up.fetch_add(1, Ordering::SeqCst);
                // Small messages are not held back.
                let _ = (client.set_nodelay(true), server.set_nodelay(true));
                let pair = |stream: &TcpStream| stream.try_clone().expect("a stream can be shared");
                pipe(pair(&client), pair(&server), place, down.clone());
                pipe(server, client, place, down.clone());
            }
        });
        Self { url: format!("{front}@127.0.0.1:{port}/{name}"), silenced, opened }
    }

    /// From now on every connection made so far is silent for good.
    pub fn go_silent(&self) {
        self.silenced.store(self.opened.load(Ordering::SeqCst), Ordering::SeqCst);
    }
}

fn pipe(mut from: TcpStream, mut to: TcpStream, place: usize, silenced: Arc<AtomicUsize>) {
    std::thread::spawn(move || {
        let mut buffer = [0; 16 * 1024];
        loop {
            match from.read(&mut buffer) {
                Ok(0) | Err(_) => break,
                // Taken and acknowledged, and never passed on.
                Ok(_) if place < silenced.load(Ordering::SeqCst) => {}
                Ok(count) => {
                    if to.write_all(&buffer[..count]).is_err() {
                        break;
                    }
                }
            }
        }
        let _ = to.shutdown(Shutdown::Both);
    });
}
