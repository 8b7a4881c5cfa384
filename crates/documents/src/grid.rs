//! Rows and columns as lines.

/// Most columns and rows that a table has.
pub const MOST_COLUMNS: usize = 60;
pub const MOST_ROWS: usize = 3000;

/// A table whose cells hold text.
#[derive(Debug, Default)]
pub struct Grid {
    rows: Vec<Vec<String>>,
}

impl Grid {
    /// Puts text into a cell; what lies far out is left.
    pub fn put(&mut self, row: usize, column: usize, text: &str) {
        if text.trim().is_empty() || row >= MOST_ROWS || column >= MOST_COLUMNS {
            return;
        }
        if self.rows.len() <= row {
            self.rows.resize_with(row + 1, Vec::new);
        }
        let cells = &mut self.rows[row];
        if cells.len() <= column {
            cells.resize_with(column + 1, String::new);
        }
        text.trim().clone_into(&mut cells[column]);
    }

    /// A row is a line, its cells parted by tabs; a cell that holds a tab, a quote or a line break stands in quotes.
    pub fn table(&self) -> String {
        let quoted = |cell: &String| {
            let needs = cell.contains(['\t', '"', '\n', '\r']);
            if needs { format!("\"{}\"", cell.replace('"', "\"\"")) } else { cell.clone() }
        };
        let line = |row: &Vec<String>| row.iter().map(quoted).collect::<Vec<_>>().join("\t");
        let lines: Vec<String> = self.rows.iter().filter(|row| !row.is_empty()).map(line).collect();
        lines.join("\n")
    }

    /// A row is a line, its cells parted by tabs; a table with whole paragraphs in its cells, as a week on a page has, is read column by column.
    pub fn text(&self) -> String {
        let widest = self.rows.iter().map(Vec::len).max().unwrap_or_default();
        if widest > 1 && self.rows.iter().flatten().any(|cell| cell.contains('\n')) {
            let column = |n: usize| {
                let cells = self.rows.iter().filter_map(|row| row.get(n));
                cells.filter(|cell| !cell.is_empty()).cloned().collect::<Vec<_>>().join("\n")
            };
            return (0..widest).map(column).filter(|text| !text.is_empty()).collect::<Vec<_>>().join("\n\n");
        }
        self.rows.iter().map(|row| row.join("\t")).collect::<Vec<_>>().join("\n")
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rows_are_lines_and_pages_of_a_week_are_columns() {
        let mut rows = Grid::default();
        rows.put(0, 0, "Exercise");
        rows.put(0, 1, "Reps");
        rows.put(1, 0, "push-up");
        rows.put(1, 1, "12");
        assert_eq!(rows.text(), "Exercise\tReps\npush-up\t12");
        rows.put(4, 1, "5 rounds\n10 \"full\" burpees");
        assert_eq!(rows.table(), "Exercise\tReps\npush-up\t12\n\t\"5 rounds\n10 \"\"full\"\" burpees\"");
        let mut week = Grid::default();
        week.put(0, 0, "Monday");
        week.put(0, 1, "Tuesday");
        week.put(1, 0, "5 rounds\n10 burpees");
        week.put(1, 1, "AMRAP 12\n9 sit-ups");
        assert_eq!(week.text(), "Monday\n5 rounds\n10 burpees\n\nTuesday\nAMRAP 12\n9 sit-ups");
    }

    #[test]
    fn what_lies_far_out_takes_no_room() {
        let mut grid = Grid::default();
        grid.put(MOST_ROWS, 0, "x");
        grid.put(0, usize::MAX, "x");
        assert_eq!(grid.text(), "");
    }
}
