//! What a written tempo takes off a load.

use crate::session::Tempo;

/// The most that tempo elements together take off, in percent.
const MOST: f64 = 30.0;

/// Percent to take off for a tempo: lowering, pause and raising added up, at most 30; common practice,
/// its direction supported by Wilk et al. 2021.
pub fn tempo_cut(tempo: &Tempo) -> f64 {
    let lowering = match tempo.lowering_s() {
        0..=2 => 0.0,
        3 => 5.0,
        4..=5 => 12.5,
        _ => 25.0,
    };
    let pause = match tempo.pause_s() {
        0 => 0.0,
        1 => 3.5,
        _ => 7.5,
    };
    let raising = if tempo.raising_s() >= 3 { 17.5 } else { 0.0 };
    f64::min(lowering + pause + raising, MOST)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tempo_takes_load_off_and_names_how_much() {
        assert_eq!(tempo_cut(&Tempo("31X1".into())), 8.5);
        assert_eq!(tempo_cut(&Tempo("6330".into())), 30.0);
    }
}
