//! The program: read, plan, serve, demo.
fn main() {
    let a: Vec<String> = std::env::args().collect();
    let text = std::fs::read_to_string(&a[1]).unwrap();
    let c = lantern_core::movement::Catalogue::standard();
    let r = lantern_core::read::read(&text, c);
    if let Some(roster) = a.get(2) {
        let (m, e) = lantern_core::member::roster_from_csv(&std::fs::read_to_string(roster).unwrap());
        assert!(e.is_empty());
        let g = lantern_core::gym::Gym::default();
        let p = lantern_core::plan::plan(&r.session, &m, &g, c, 1);
        for piece in &p.pieces { eprintln!("{} | {} {}", piece.headline(), piece.window.show(), piece.window.why);
          for m in &piece.members { eprintln!("   {:20} {:?} {} | {} chance {:.2} {} | {:?} | {}", m.name, m.chosen.version, m.as_written.predicted.measure.show(m.as_written.predicted.spread.p50), m.chosen.predicted.measure.show(m.chosen.predicted.spread.p50), m.chosen.predicted.chance, m.chosen.on_stimulus, m.chosen.edits.iter().map(|e| &e.what).collect::<Vec<_>>(), m.chosen.reason); } }
        eprintln!("hour fits {} spare {} over {}", p.hour.fits, p.hour.spare_s, p.hour.over_s);
    }
    println!("{}", serde_json::to_string_pretty(&lantern_core::print::reading_json(&r)).unwrap());
}
