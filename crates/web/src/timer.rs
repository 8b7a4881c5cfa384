//! A timer on the wall that only shows digits: what drives it, and a small stand-in for one.
//!
//! The device listens on TCP and is told one line a second: `SHOW 12:34 running`. The digits are what the clock of the class reads, with a plus in front where
//! something is over; the word is `before`, `running`, `paused` or `closed`. It answers nothing. What is not understood is passed over, so that
//! lines can be added.

use std::io::{BufRead, BufReader, Write};
use std::net::{TcpListener, TcpStream};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;

use actix_web::{App, HttpResponse, HttpServer, web};

/// How long it takes to try again when the application or the device is away.
const AGAIN: Duration = Duration::from_secs(2);

/// Follows the wall of a gym and tells a device what its clock reads, for ever.
pub fn drive(wall: &str, device: &str) -> ! {
    let digits = format!("{}/digits", wall.trim_end_matches('/'));
    loop {
        if let Err(error) = tell(&digits, device) {
            tracing::warn!(%error, "the timer is not told just now; tried again");
        }
        std::thread::sleep(AGAIN);
    }
}

/// Tells a device for as long as both are there.
fn tell(digits: &str, device: &str) -> std::io::Result<()> {
    let mut device = TcpStream::connect(device)?;
    let mut answer = ureq::get(digits).call().map_err(std::io::Error::other)?;
    for line in BufReader::new(answer.body_mut().as_reader()).lines() {
        if let Some(reads) = line?.strip_prefix("data: ") {
            writeln!(device, "SHOW {reads}")?;
        }
    }
    Ok(())
}

/// What a line tells the device to show; nothing where it is not understood.
fn shown(line: &str) -> Option<(String, String)> {
    let mut words = line.strip_prefix("SHOW ")?.split_whitespace();
    let digits =
        words.next().filter(|digits| digits.chars().all(|c| c.is_ascii_digit() || ":+".contains(c)))?;
    Some((digits.to_owned(), words.next().unwrap_or_default().to_owned()))
}

/// A stand-in for a timer: listens like one, and shows its digits on a page. Runs until it is stopped.
///
/// # Errors
/// When the page cannot be served.
pub async fn stand_in(device: TcpListener, page: TcpListener) -> std::io::Result<()> {
    let shows = Arc::new(Mutex::new((String::from("-:--"), String::new())));
    let told = shows.clone();
    std::thread::spawn(move || {
        for line in
            device.incoming().flatten().flat_map(|from| BufReader::new(from).lines().map_while(Result::ok))
        {
            if let Some(now) = shown(&line) {
                *told.lock().unwrap_or_else(PoisonError::into_inner) = now;
            }
        }
    });
    let face = move || {
        let (digits, state) = shows.lock().unwrap_or_else(PoisonError::into_inner).clone();
        let page = format!(
            "<!doctype html><html lang=\"en\"><title>Timer</title><meta http-equiv=\"refresh\" content=\"1\"><body style=\"background:#000;color:#f33;font:700 30vw monospace;text-align:center\"><div>{digits}</div><p style=\"font-size:3vw;color:#ccc\">A stand-in for a wall timer: {state}</p>"
        );
        std::future::ready(HttpResponse::Ok().content_type("text/html; charset=utf-8").body(page))
    };
    let serve = move || App::new().route("/", web::get().to(face.clone()));
    HttpServer::new(serve).listen(page)?.workers(1).disable_signals().run().await
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_line_that_is_not_understood_shows_nothing() {
        let two = |line| shown(line).map(|(digits, state)| format!("{digits}|{state}"));
        assert_eq!(two("SHOW 12:34 running").as_deref(), Some("12:34|running"));
        assert_eq!(two("SHOW +0:07 running more").as_deref(), Some("+0:07|running"));
        for wrong in ["SHOW", "SHOW <b> running", "HIDE 1:00", ""] {
            assert_eq!(two(wrong), None, "{wrong}");
        }
    }
}
