//! Where somebody goes who has signed in or out, and with which cookie.

use actix_web::HttpResponse;

use crate::respond::error::AppError;

/// A place of this site, from an address that came along; the start where it is none.
pub(crate) fn place(to: &str) -> &str {
    let here = to.starts_with('/') && !to.starts_with("//") && !to.contains('\\');
    if here && !to.chars().any(char::is_control) { to } else { "/" }
}

/// An answer that takes the cookie away or sets another.
pub(crate) fn with_cookie(
    mut answer: HttpResponse,
    cookie: &actix_web::cookie::Cookie<'_>,
) -> Result<HttpResponse, AppError> {
    answer.add_cookie(cookie).map_err(|error| AppError::Inside(error.to_string()))?;
    Ok(answer)
}

#[cfg(test)]
mod tests {
    use super::place;

    #[test]
    fn nobody_is_led_elsewhere() {
        assert_eq!(place("/days/2026-11-23/read?saved=1"), "/days/2026-11-23/read?saved=1");
        for elsewhere in
            ["", "https://evil.example", "//evil.example", "/\\evil.example", "/a\r\nX: 1", "days"]
        {
            assert_eq!(place(elsewhere), "/", "{elsewhere}");
        }
    }
}
