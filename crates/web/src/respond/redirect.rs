//! On to another page.

use std::fmt;

use actix_web::HttpResponse;
use actix_web::http::header;

/// On to another page. Whatever a value holds, the header stays one line of plain characters.
pub(crate) fn see_other(to: impl fmt::Display) -> HttpResponse {
    let plain =
        |c: char| c.is_ascii_graphic() && !matches!(c, '"' | '<' | '>' | '\\' | '^' | '`' | '{' | '|' | '}');
    let mut address = String::new();
    for c in to.to_string().chars().take(2_000) {
        if plain(c) {
            address.push(c);
        } else {
            c.encode_utf8(&mut [0; 4]).bytes().for_each(|byte| address.push_str(&format!("%{byte:02X}")));
        }
    }
    HttpResponse::SeeOther().insert_header((header::LOCATION, address)).finish()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_address_is_one_line_of_plain_characters() {
        let answer = see_other("/days/2026-11-23/warmup#a\r\nX-Injected: 1 \u{e4}");
        let location = answer.headers().get("location").unwrap().to_str().unwrap();
        assert_eq!(location, "/days/2026-11-23/warmup#a%0D%0AX-Injected:%201%20%C3%A4");
        assert!(see_other("x".repeat(200_000)).headers().get("location").unwrap().len() <= 2_000);
    }
}
