//! Rows, grids and columns as lines.

use lantern_reader::table::{Grid, Table, columns};

#[test]
fn rows_become_lines_as_a_coach_writes_them() {
    let mut table = Table::begin("Part;Movement;Sets;Reps;Load;Rest").unwrap();
    assert_eq!(table.row("Lift;Push press;5;4;68%;1:40").unwrap(), "Lift: Push press 5 x 4 @ 68%, rest 1:40");
    assert_eq!(table.row("Lift;Plank;;30 s;;").unwrap(), "Plank 30 s");
    assert_eq!(table.row("and then we rest"), None);
    let mut levels = Table::begin("| | Level 1 | Level 2 |").unwrap();
    assert_eq!(levels.row("| thruster | 8 @ 30/20 | 8 @ 40/30 |").unwrap(), "thruster 8 @ 40/30");
    let mut sets = Table::begin("| set | reps | % |").unwrap();
    assert_eq!(sets.row("| 1 | 5 | 65 |").unwrap(), "5 @ 65%");
    assert!(Table::begin("| 06-15 | Skill, 9 minutes: |").is_none());
}

#[test]
fn a_grid_gives_its_cells_as_parts_and_columns_stand_below_each_other() {
    let mut grid = Grid::begin("Day\tStrength\tConditioning").unwrap();
    let first = grid.row("Wed\t\"Squat").unwrap();
    assert_eq!(first, [("Wed".to_owned(), true), ("Strength: Squat".to_owned(), true)]);
    assert_eq!(
        grid.row("5x5\"\t10 burpees").unwrap(),
        [("5x5".to_owned(), false), ("Conditioning: 10 burpees".to_owned(), true)]
    );
    let text = "A. Press       |  B. AMRAP 10\n4x5            |  10 burpees\nrest 2 min     |  10 lunges\n               |  goal 5 rounds";
    let lines: Vec<usize> = columns(text).unwrap().into_iter().map(|(line, _)| line).collect();
    assert_eq!(lines, [1, 2, 3, 4, 4, 1, 2, 3, 4, 4]);
}
