//! One line made comparable: lower case, plain dashes, quotes, crosses and fractions.

/// A line in comparable form, with the column that each of its bytes came from.
#[derive(Clone, Debug, Default)]
pub(super) struct Plain {
    pub text: String,
    columns: Vec<u32>,
}

impl Plain {
    /// ```text
    /// "• 3 × 8 bent‑over row, rest 1½ min" becomes "* 3 x 8 bent-over row, rest 1.5 min"
    /// ```
    pub fn new(raw: &str) -> Self {
        let mut plain = Self::default();
        let chars: Vec<char> = raw.chars().collect();
        for (n, &c) in chars.iter().enumerate() {
            let column = n as u32 + 1;
            let after_digit = n > 0 && (chars[n - 1].is_ascii_digit() || fraction(chars[n - 1]).is_some());
            let next = chars.get(n + 1).copied().unwrap_or(' ');
            match c {
                _ if c.is_whitespace() => plain.push(" ", column),
                '\u{2010}'..='\u{2015}' | '\u{2212}' | '\u{fe58}' | '\u{ff0d}' => plain.push("-", column),
                '×' | '✕' | '✖' | '⨯' => plain.push("x", column),
                '•' | '◦' | '▪' | '‣' | '·' | '●' | '○' | '■' => plain.push("*", column),
                '…' => plain.push("...", column),
                '→' | '➔' | '⇒' => plain.push(" to ", column),
                '≤' => plain.push("<=", column),
                '≥' => plain.push(">=", column),
                '′' | '\'' | '\u{2019}' | '\u{2018}' if after_digit && !next.is_alphanumeric() => {
                    plain.push(" min", column);
                }
                '″' | '"' | '\u{201d}' if after_digit => plain.push(" in", column),
                '\u{2019}' | '\u{2018}' | '′' | '`' => plain.push("'", column),
                '\u{201c}' | '\u{201d}' | '«' | '»' => plain.push("\"", column),
                '½' | '¼' | '¾' => {
                    let decimals = fraction(c).unwrap_or_default();
                    plain.push(if after_digit { &decimals[1..] } else { decimals }, column);
                }
                '⁄' => plain.push("/", column),
                // ":30" is a length without its minutes.
                ':' if bare_seconds(&chars, n) => plain.push("0:", column),
                '♂' => plain.push(" men ", column),
                '♀' => plain.push(" women ", column),
                '\u{0}'..='\u{1f}' | '\u{feff}' | '\u{200b}'..='\u{200d}' => plain.push(" ", column),
                // Decimal comma: one or two digits after it and no further list.
                ',' if after_digit && decimal_comma(&chars, n) => plain.push(".", column),
                // Thousands: "1,000 m".
                ',' if after_digit && thousands_comma(&chars, n) => {}
                _ => {
                    let lower: String = c.to_lowercase().collect();
                    plain.push(&lower, column);
                }
            }
        }
        plain
    }

    fn push(&mut self, text: &str, column: u32) {
        self.text.push_str(text);
        self.columns.extend(std::iter::repeat_n(column, text.len()));
    }

    /// The column, counted from 1, that the byte at `place` came from.
    pub fn column(&self, place: usize) -> usize {
        self.columns.get(place).or(self.columns.last()).map_or(1, |&column| column as usize)
    }

    /// The line with bytes `from..to` replaced; new bytes point at the old start.
    pub fn replace(&mut self, from: usize, to: usize, with: &str) {
        let column = self.columns.get(from).copied().unwrap_or(1);
        self.text.replace_range(from..to, with);
        self.columns.splice(from..to, std::iter::repeat_n(column, with.len()));
    }
}

fn bare_seconds(chars: &[char], colon: usize) -> bool {
    let starts = colon == 0 || chars[colon - 1].is_whitespace() || "(@,/".contains(chars[colon - 1]);
    starts && digits_after(chars, colon) == 2
}

fn fraction(c: char) -> Option<&'static str> {
    match c {
        '½' => Some("0.5"),
        '¼' => Some("0.25"),
        '¾' => Some("0.75"),
        _ => None,
    }
}

fn digits_after(chars: &[char], comma: usize) -> usize {
    chars[comma + 1..].iter().take_while(|c| c.is_ascii_digit()).count()
}

fn decimal_comma(chars: &[char], comma: usize) -> bool {
    let digits = digits_after(chars, comma);
    let end = chars.get(comma + 1 + digits).copied().unwrap_or(' ');
    let before = chars[..comma].iter().rev().take_while(|c| c.is_ascii_digit()).count();
    // "7,5 kg" and "22,5/15" are decimals; "10,8,6" is a list, and so is "1,2".
    let unit_follows =
        chars[comma + 1 + digits..].iter().find(|c| **c != ' ').is_some_and(|c| "klm%/#".contains(*c));
    digits == 1 && end != ',' && unit_follows && before <= 3
}

fn thousands_comma(chars: &[char], comma: usize) -> bool {
    let before = chars[..comma].iter().rev().take_while(|c| c.is_ascii_digit()).count();
    let further = chars.get(comma + 4).copied().unwrap_or(' ');
    digits_after(chars, comma) == 3 && before <= 2 && further != ','
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn unicode_marks_become_the_plain_ones() {
        assert_eq!(
            Plain::new("• 3 × 8 bent\u{2011}over row, rest 1½ min").text,
            "* 3 x 8 bent-over row, rest 1.5 min"
        );
        assert_eq!(Plain::new("cap: 9′").text, "cap: 9 min");
        assert_eq!(Plain::new("box 24/20\"").text, "box 24/20 in");
        assert_eq!(Plain::new("10–9–8…1").text, "10-9-8...1");
        assert_eq!(Plain::new(":30 bear crawl, rest :45").text, "0:30 bear crawl, rest 0:45");
    }

    #[test]
    fn commas_in_numbers_are_told_from_lists() {
        assert_eq!(Plain::new("22,5/15 kg").text, "22.5/15 kg");
        assert_eq!(Plain::new("1,000 m row").text, "1000 m row");
        assert_eq!(Plain::new("21,15,9 reps").text, "21,15,9 reps");
    }

    #[test]
    fn columns_point_into_the_text_as_typed() {
        let plain = Plain::new("½ min …x");
        assert_eq!(plain.column(plain.text.find('x').unwrap()), 8);
    }
}
