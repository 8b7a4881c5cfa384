//! What a piece comes to, and what is too much.

use lantern_reader::plausible::{seconds, too_heavy, too_many};
use lantern_reader::read;
use lantern_session::movement::{Catalogue, MovementId};
use lantern_session::{Dose, Node, Work};

#[test]
fn every_family_has_a_row() {
    let catalogue = Catalogue::standard();
    for movement in catalogue.iter() {
        let ten = Work::new(movement.id.clone(), Dose::reps(10));
        assert!(seconds(&Node::Work(ten), catalogue) > 0.0, "{:?}", movement.pattern);
    }
}

#[test]
fn a_piece_comes_to_what_it_would_about_take() {
    let catalogue = Catalogue::standard();
    let tree = |text: &str| read(text, catalogue).session.parts[0].tree.clone();
    let piece = tree("5 rounds for time\n20 cal row\n15 wall balls\n10 burpees");
    let minutes = seconds(&piece, catalogue) / 60.0;
    assert!((8.0..16.0).contains(&minutes), "{minutes}");
    assert!(too_many(&piece, catalogue).is_empty() && too_heavy(&piece, catalogue).is_empty());
    let absurd = tree("3 rounds for time\n400 burpees\n10 thrusters, 600 kg");
    assert_eq!(too_many(&absurd, catalogue), [MovementId::new("burpee")]);
    assert_eq!(too_heavy(&absurd, catalogue), [MovementId::new("thruster")]);
}
