//! The rows of the grammar.

use lantern_reader::grammar::Grammar;
use lantern_reader::lexicon::Lexicon;
use lantern_reader::tokens::tokens;
use lantern_reader::values::Line;
use lantern_session::movement::Catalogue;

#[test]
fn every_row_reads_its_own_example_from_end_to_end() {
    let grammar = Grammar::standard();
    let catalogue = Catalogue::standard();
    let mut missed = Vec::new();
    for (row, production) in grammar.rows.iter().enumerate() {
        let tokens = tokens(&production.example, &|word| catalogue.uses_word(word));
        let line = Line::new(&tokens, Lexicon::standard(), catalogue);
        let whole = grammar
            .phrases(&line)
            .iter()
            .any(|phrase| phrase.row == row && phrase.start <= 1 && phrase.end >= tokens.len() - 1);
        if !whole {
            missed.push(format!("{}: {}", production.says, production.example));
        }
    }
    assert!(missed.is_empty(), "{missed:#?}");
}
