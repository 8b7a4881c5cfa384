//! Tables that come from a spreadsheet or a page: a row becomes a line as a coach would write it.

/// What a column holds, by the word at its head.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Column {
    Part,
    Movement,
    Sets,
    Reps,
    Load,
    Percent,
    Rest,
    Length,
    Level,
    Place,
    Note,
}

fn column(head: &str) -> Option<Column> {
    Some(match head.trim().to_lowercase().as_str() {
        "block" | "part" | "section" | "phase" => Column::Part,
        "exercise" | "movement" | "what" | "exercises" | "lift" | "movements" => Column::Movement,
        "sets" => Column::Sets,
        "reps" | "amount" | "dose" | "reps/time" | "volume" => Column::Reps,
        "load" | "weight" | "kg" | "lb" | "loads" => Column::Load,
        "%" | "percent" | "intensity" | "% 1rm" => Column::Percent,
        "rest" | "pause" => Column::Rest,
        "time" | "min" | "mins" | "minutes" | "duration" | "length" => Column::Length,
        "set" | "#" | "no" | "no." | "station" | "day" => Column::Place,
        "note" | "notes" | "remarks" | "remark" | "comment" | "comments" | "goal" => Column::Note,
        "rx" | "scaled" | "level 1" | "level 2" | "level 3" | "l1" | "l2" | "l3" | "beginner"
        | "intermediate" | "advanced" => Column::Level,
        _ => return None,
    })
}

/// A table whose rows are still coming.
#[derive(Clone, Debug)]
pub struct Table {
    separator: char,
    columns: Vec<Option<Column>>,
    /// The column of the level that is read, when the columns are levels.
    level: Option<usize>,
    part: String,
    /// What stands at the head of columns that hold nothing known.
    pub title: String,
}

impl Table {
    /// A table that begins with this line, told by the words at the heads of its columns.
    pub fn begin(raw: &str) -> Option<Self> {
        let separator = ['\t', ';', '|'].into_iter().find(|sign| raw.matches(*sign).count() >= 2)?;
        let heads = cells(raw, separator);
        let columns: Vec<Option<Column>> = heads.iter().map(|head| column(head)).collect();
        let known = columns.iter().flatten().count();
        let named = heads.iter().filter(|head| !head.trim().is_empty()).count();
        if known < 2 || known * 2 < named {
            return None;
        }
        let levels: Vec<usize> = columns
            .iter()
            .enumerate()
            .filter(|(_, column)| **column == Some(Column::Level))
            .map(|(n, _)| n)
            .collect();
        // The hardest of numbered levels, else the first.
        let level = levels.iter().copied().max_by_key(|n| {
            let head = heads[*n].to_lowercase();
            let number = head.chars().find_map(|c| c.to_digit(10)).unwrap_or(0);
            (u32::from(matches!(head.trim(), "rx" | "advanced")) * 10 + number, usize::MAX - n)
        });
        let unknown =
            heads.iter().zip(&columns).filter(|(_, column)| column.is_none()).map(|(head, _)| head.trim());
        let title = unknown.filter(|head| !head.is_empty()).collect::<Vec<_>>().join(" ");
        Some(Self { separator, columns, level, part: String::new(), title })
    }

    /// A row as a line; empty when it says nothing, none when the table has ended.
    pub fn row(&mut self, raw: &str) -> Option<String> {
        if !raw.contains(self.separator) {
            return None;
        }
        let cells = cells(raw, self.separator);
        if !raw.chars().any(char::is_alphanumeric) {
            return Some(String::new());
        }
        let of = |wanted: Column| {
            let place = self.columns.iter().position(|column| *column == Some(wanted))?;
            cells.get(place).map(|cell| cell.trim().to_owned()).filter(|cell| !cell.is_empty() && cell != "-")
        };
        if let Some(level) = self.level {
            let name = cells.iter().enumerate().find(|(n, cell)| {
                self.columns.get(*n).copied().flatten() != Some(Column::Level) && !cell.trim().is_empty()
            });
            let name = name.map(|(_, cell)| cell.trim().to_owned()).unwrap_or_default();
            let cell = cells.get(level).map(|cell| cell.trim().to_owned()).unwrap_or_default();
            return Some(format!("{name} {cell}"));
        }
        let mut line = String::new();
        // "10-25" in the column of times is a stretch of the clock.
        let window = of(Column::Length).filter(|cell| {
            let clock = |side: &str| {
                let side = side.trim();
                !side.is_empty() && side.chars().all(|c| c.is_ascii_digit() || c == ':')
            };
            cell.split_once(['-', '\u{2013}']).is_some_and(|(from, to)| clock(from) && clock(to))
        });
        if let Some(window) = window {
            line = format!("{window} ");
        }
        if let Some(part) = of(Column::Part)
            && part != self.part
        {
            self.part.clone_from(&part);
            // "10 min" beside the name of a part is its length; "10:15" is when it begins.
            let length = of(Column::Length).filter(|length| !length.contains(':'));
            line = match length {
                Some(length) if length.chars().any(char::is_alphabetic) => format!("{part} ({length}): "),
                Some(length) => format!("{part} ({length} min): "),
                None => format!("{part}: "),
            };
        }
        let movement = of(Column::Movement).unwrap_or_default();
        let reps = of(Column::Reps);
        let percent =
            of(Column::Percent).map(|share| if share.ends_with('%') { share } else { format!("{share}%") });
        if movement.is_empty()
            && let (Some(reps), Some(percent)) = (&reps, &percent)
        {
            return Some(format!("{reps} @ {percent}"));
        }
        line.push_str(&movement);
        match (of(Column::Sets).filter(|sets| sets != "1"), reps) {
            (Some(sets), Some(reps)) => line.push_str(&format!(" {sets} x {reps}")),
            (Some(sets), None) => line.push_str(&format!(", {sets} sets")),
            (None, Some(reps)) => line.push_str(&format!(" {reps}")),
            (None, None) => {}
        }
        for (sign, cell) in [(" @ ", percent), (" @ ", of(Column::Load))] {
            let Some(cell) = cell else { continue };
            let counts = cell.chars().any(|c| c.is_ascii_digit());
            line.push_str(if counts { sign } else { ", " });
            line.push_str(&cell);
        }
        if let Some(rest) = of(Column::Rest) {
            line.push_str(&format!(", rest {rest}"));
        }
        if let Some(note) = of(Column::Note) {
            line.push_str(&format!(". {note}"));
        }
        Some(line)
    }
}

fn cells(raw: &str, separator: char) -> Vec<String> {
    let raw = if separator == '|' { raw.trim().trim_matches('|') } else { raw };
    let mut found = vec![String::new()];
    let mut quoted = false;
    for c in raw.chars() {
        match c {
            '"' if separator != '|' => quoted = !quoted,
            c if c == separator && !quoted => found.push(String::new()),
            c => found.last_mut().expect("there is one").push(c),
        }
    }
    found
}

/// A grid with a part of the day in each column, whose cells may go over several lines.
#[derive(Clone, Debug)]
pub struct Grid {
    heads: Vec<String>,
    column: usize,
    quoted: bool,
}

/// Words at the heads of columns that hold a part of the day each.
const PARTS: [&str; 16] = [
    "warm-up",
    "warm up",
    "warmup",
    "strength",
    "skill",
    "conditioning",
    "metcon",
    "wod",
    "workout",
    "accessory",
    "extra",
    "extras",
    "finisher",
    "cool-down",
    "cool down",
    "mobility",
];

impl Grid {
    /// A grid that begins with this line.
    pub fn begin(raw: &str) -> Option<Self> {
        if raw.matches('\t').count() < 2 {
            return None;
        }
        let heads: Vec<String> = raw.split('\t').map(|head| head.trim().to_owned()).collect();
        let known = heads.iter().filter(|head| PARTS.contains(&head.to_lowercase().as_str())).count();
        (known >= 2).then_some(Self { heads, column: 0, quoted: false })
    }

    /// The pieces of the next line, each as a line of its own, with whether it begins a part; none when the grid has ended.
    pub fn row(&mut self, raw: &str) -> Option<Vec<(String, bool)>> {
        if !self.quoted && !raw.contains('\t') {
            return None;
        }
        if !self.quoted {
            self.column = 0;
        }
        let mut pieces = vec![(String::new(), !self.quoted)];
        for c in raw.chars() {
            match c {
                '"' => self.quoted = !self.quoted,
                '\t' if !self.quoted => {
                    self.column += 1;
                    let head = self
                        .heads
                        .get(self.column)
                        .filter(|head| PARTS.contains(&head.to_lowercase().as_str()));
                    pieces.push((head.map(|head| format!("{head}: ")).unwrap_or_default(), true));
                }
                c => pieces.last_mut().expect("there is one").0.push(c),
            }
        }
        Some(pieces)
    }
}

/// Two columns side by side, parted by a stroke at the same place in line after line: the left one, then the right one, each
/// line with its number.
pub fn columns(text: &str) -> Option<Vec<(usize, String)>> {
    /// Fewest lines that make columns.
    const FEWEST: usize = 4;
    let lines: Vec<&str> = text.split('\n').collect();
    let place = |line: &str| {
        let strokes: Vec<usize> =
            line.chars().enumerate().filter(|(_, c)| *c == '|').map(|(n, _)| n).collect();
        if let [only] = strokes[..] { Some(only) } else { None }
    };
    let first = lines.iter().position(|line| place(line).is_some_and(|at| at > 8))?;
    let at = place(lines[first])?;
    let run = lines[first..].iter().take_while(|line| place(line) == Some(at)).count();
    if run < FEWEST {
        return None;
    }
    let half = |n: usize, left: bool| -> String {
        let chars: Vec<char> = lines[n].chars().collect();
        if left { chars[..at].iter().collect() } else { chars[at + 1..].iter().collect() }
    };
    let mut found: Vec<(usize, String)> = (0..first).map(|n| (n + 1, lines[n].to_owned())).collect();
    for left in [true, false] {
        found.extend((first..first + run).map(|n| (n + 1, half(n, left))));
        found.push((first + run, String::new()));
    }
    found.extend((first + run..lines.len()).map(|n| (n + 1, lines[n].to_owned())));
    Some(found)
}
