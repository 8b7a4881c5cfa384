//! Decisions as sentences, for the history of a day.

use super::{Decision, HourDecision, LoadDecision, PieceDecision, WarmupDecision};
use crate::hour::Change;
use crate::movement::Catalogue;
use crate::session::PartKind;
use crate::strength::Release;
use crate::units::{clock, clock_s};
use crate::versions::HandLine;

/// What decisions are about, in words.
pub struct Subjects<'a> {
    /// The parts of the day: what each is for, and what it is called.
    pub parts: &'a [(PartKind, String)],
    /// What an item of the warm-up is called, by its id.
    pub item: &'a dyn Fn(&str) -> String,
    /// What lifts are called.
    pub catalogue: &'a Catalogue,
}

impl Subjects<'_> {
    fn part(&self, place: usize) -> &str {
        self.parts.get(place).map_or("a part", |(_, called)| called)
    }

    fn piece(&self, place: usize) -> &str {
        let pieces = self.parts.iter().filter(|(kind, _)| *kind == PartKind::Conditioning);
        pieces.map(|(_, called)| called.as_str()).nth(place).unwrap_or("a piece")
    }

    /// A block of the hour: `conditioning-2` by what the part is called, `cool_down` in words.
    fn block(&self, key: &str) -> String {
        let part = key.rsplit_once('-').and_then(|(_, part)| part.parse().ok());
        let kind = key.split('-').next().unwrap_or(key);
        match (part.map(|part| self.part(part)), kind) {
            (Some(part), "brief") => format!("the brief of {part}"),
            (Some(part), "warmup") => format!("the rehearsal of {part}"),
            (Some(part), "set_up") => format!("setting up for {part}"),
            (Some(part), "climb") => format!("the climb before {part}"),
            (Some(part), "rest") => format!("the rest before {part}"),
            (Some(part), _) => part.to_owned(),
            (None, "warmup") => "the warm-up".to_owned(),
            (None, "cool_down") => "the cool-down".to_owned(),
            (None, other) => other.replace('_', " "),
        }
    }

    fn lift(&self, id: &str) -> String {
        self.catalogue.find(id).map_or(id, |lift| &lift.name).to_lowercase()
    }

    fn change(&self, change: &Change) -> String {
        match change {
            Change::AccessoryHome { part } => format!("{} is for home", self.part(*part)),
            Change::OneSetLess { part } => format!("one set less of {}", self.part(*part)),
            Change::OneSetMore { part } => format!("one set more of {}", self.part(*part)),
            Change::LowerCap { part } => format!("the cap of {} two minutes sooner", self.part(*part)),
            Change::ShorterPiece { part } => format!("{} two minutes shorter", self.part(*part)),
            Change::ShorterWarmup => "two minutes less warm-up".to_owned(),
            Change::LongerWarmup => "two minutes more warm-up".to_owned(),
            Change::CoolDownAlone => "everybody cools down alone".to_owned(),
            Change::LongerCoolDown => "three minutes more to cool down".to_owned(),
            Change::Without { what } => format!("today: {}", what.label().to_lowercase()),
        }
    }
}

impl Decision {
    /// In a sentence without an end, of what it says once it names members and places as the subjects do.
    pub fn words(&self, of: &Subjects<'_>) -> String {
        match self {
            Self::Warmup(decision) => decision.words(of),
            Self::Pieces(decision) => decision.words(of),
            Self::Loads(LoadDecision::Release(Release { member, lift, by, .. })) => {
                format!("{member} does {} as written, on the word of {by}", of.lift(lift))
            }
            Self::Loads(LoadDecision::Hold { member, lift }) => {
                format!("the {} of {member} is held back again", of.lift(lift))
            }
            Self::Hour(decision) => decision.words(of),
        }
    }
}

impl WarmupDecision {
    fn words(&self, of: &Subjects<'_>) -> String {
        match self {
            Self::Stand { edits } if *edits == crate::warmup::Edits::default() => {
                "the warm-up as it was worked out, without changes".to_owned()
            }
            Self::Stand { .. } => "the warm-up as it stood".to_owned(),
            Self::Keep { id } => format!("{} stays in the warm-up", (of.item)(id)),
            Self::LetGo { id } => format!("{} may leave the warm-up", (of.item)(id)),
            Self::Exchange { id, other, .. } => {
                format!("{} and {} change places", (of.item)(id), (of.item)(other))
            }
            Self::Swap { id, to } => format!("{} in place of {}", (of.item)(to), (of.item)(id)),
            Self::Refuse { id } => format!("no {} in the warm-up", (of.item)(id)),
            Self::Dose { id, dose } if dose.is_empty() => format!("the usual dose of {}", (of.item)(id)),
            Self::Dose { id, dose } => format!("{}: {dose}", (of.item)(id)),
            Self::Minutes { minutes } => format!("{minutes} minutes of warm-up"),
        }
    }
}

impl PieceDecision {
    fn words(&self, of: &Subjects<'_>) -> String {
        match self {
            Self::Stand { .. } => "versions and windows as they stood".to_owned(),
            Self::Choose { piece, member, version } => {
                format!("{} for {member} in {}", version.label(), of.piece(*piece))
            }
            Self::Release { piece, member } => {
                format!("the numbers choose for {member} in {}", of.piece(*piece))
            }
            Self::Window { piece, low: None, high: None } => {
                format!("the intended result of {} as it is read", of.piece(*piece))
            }
            Self::Window { piece, low, high } => {
                let end = |end: &Option<f64>| end.map_or("open".to_owned(), clock);
                format!("intended result of {}: {} to {}", of.piece(*piece), end(low), end(high))
            }
            Self::More { piece, on: true } => {
                format!("more is offered in {} to those who are ahead", of.piece(*piece))
            }
            Self::More { piece, on: false } => {
                format!("nothing more is offered in {}", of.piece(*piece))
            }
            Self::Home { piece, kit } => {
                let kit = kit.as_deref().filter(|kit| !kit.is_empty()).unwrap_or("nothing");
                format!("at home {} is done with {kit}", of.piece(*piece))
            }
            Self::Hand { line, .. } => {
                format!("{}: {} in place of {}", whose(line), line.to, line.from)
            }
            Self::HandBack { line, .. } => format!("{}: {} as it was", whose(line), line.from),
        }
    }
}

/// Whose line it is: a version's, or one person's.
fn whose(line: &HandLine) -> String {
    match &line.member {
        Some(member) => member.clone(),
        None => line.version.label().to_owned(),
    }
}

impl HourDecision {
    fn words(&self, of: &Subjects<'_>) -> String {
        let wish = |(a, b): &(String, String), together: bool| {
            if together { format!("{a} and {b} in one team") } else { format!("{a} and {b} apart") }
        };
        match self {
            Self::Stand { .. } => "the hour as it stood".to_owned(),
            Self::Make { change } => of.change(change),
            Self::TakeBack { change } => format!("taken back: {}", of.change(change)),
            Self::Pin { block, seconds } => format!("{} lasts {}", of.block(block), clock_s(*seconds)),
            Self::Unpin { block } => format!("the length of {} is worked out", of.block(block)),
            Self::Arrange { piece, way: Some(way) } => {
                format!("{}: {}", of.piece(*piece), way.label().to_lowercase())
            }
            Self::Arrange { piece, way: None } => {
                format!("the numbers arrange {}", of.piece(*piece))
            }
            Self::Place { who, .. } => format!("another place on the floor for {who}"),
            Self::PlacesBack { .. } => "places on the floor are worked out".to_owned(),
            Self::TeamSize { size: Some(size), .. } => format!("teams of {size}"),
            Self::TeamSize { size: None, .. } => "no teams but those that are written".to_owned(),
            Self::TeamsAlike { alike: true, .. } => "teams of people who are alike".to_owned(),
            Self::TeamsAlike { alike: false, .. } => "teams that are even".to_owned(),
            Self::Wish { pair, together, .. } => wish(pair, *together),
            Self::DropWish { pair, together, .. } => format!("no longer: {}", wish(pair, *together)),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::floor::Arrangement;
    use crate::hour::{HourEdits, Without};
    use crate::versions::{PieceEdits, VersionName};
    use crate::warmup::Edits;

    #[test]
    fn a_block_is_called_by_what_it_is_of_its_part() {
        let parts = [(PartKind::Conditioning, "21-15-9 for time".to_owned())];
        let of =
            Subjects { parts: &parts, item: &|id: &str| id.to_owned(), catalogue: Catalogue::standard() };
        let called = ["brief-0", "warmup-0", "set_up-0", "climb-0", "rest-0", "conditioning-0"]
            .map(|key| of.block(key));
        assert_eq!(
            called,
            [
                "the brief of 21-15-9 for time",
                "the rehearsal of 21-15-9 for time",
                "setting up for 21-15-9 for time",
                "the climb before 21-15-9 for time",
                "the rest before 21-15-9 for time",
                "21-15-9 for time",
            ]
        );
        assert_eq!(
            ["warmup", "cool_down", "scores"].map(|key| of.block(key)),
            ["the warm-up", "the cool-down", "scores"]
        );
    }

    #[test]
    fn a_history_reads_as_sentences() {
        let parts = [
            (PartKind::Warmup, "Warm-up".to_owned()),
            (PartKind::Strength, "back squat 5x5".to_owned()),
            (PartKind::Conditioning, "21-15-9 for time".to_owned()),
        ];
        let item = |id: &str| id.replace('-', " ");
        let of = Subjects { parts: &parts, item: &item, catalogue: Catalogue::standard() };
        let line = HandLine {
            version: VersionName::Lighter,
            member: None,
            from: "thruster, 40/30 kg".to_owned(),
            to: "thruster, 20/15 kg".to_owned(),
        };
        let pair = || ("Ada".to_owned(), "Ben".to_owned());
        let changes = [
            Change::AccessoryHome { part: 1 },
            Change::OneSetMore { part: 1 },
            Change::LowerCap { part: 2 },
            Change::ShorterWarmup,
            Change::LongerWarmup,
            Change::CoolDownAlone,
            Change::LongerCoolDown,
            Change::Without { what: Without::Rowers },
        ];
        let told = [
            Decision::Pieces(PieceDecision::Choose {
                piece: 0,
                member: "Ada".to_owned(),
                version: VersionName::Lighter,
            }),
            Decision::Pieces(PieceDecision::Hand { piece: 0, line: line.clone() }),
            Decision::Pieces(PieceDecision::Window { piece: 0, low: Some(240.0), high: Some(540.0) }),
            Decision::Hour(HourDecision::Pin { block: "conditioning-2".to_owned(), seconds: 600 }),
            Decision::Hour(HourDecision::Pin { block: "warmup".to_owned(), seconds: 480 }),
            Decision::Hour(HourDecision::Make { change: Change::OneSetLess { part: 1 } }),
            Decision::Warmup(WarmupDecision::Refuse { id: "easy-row".to_owned() }),
            Decision::Loads(LoadDecision::Hold { member: "Ben".to_owned(), lift: "back-squat".to_owned() }),
            Decision::Pieces(PieceDecision::Window { piece: 0, low: None, high: None }),
            Decision::Pieces(PieceDecision::Window { piece: 0, low: None, high: Some(540.0) }),
            Decision::Pieces(PieceDecision::More { piece: 0, on: true }),
            Decision::Pieces(PieceDecision::More { piece: 0, on: false }),
            Decision::Pieces(PieceDecision::Home { piece: 0, kit: Some("a band".to_owned()) }),
            Decision::Pieces(PieceDecision::Home { piece: 0, kit: Some(String::new()) }),
            Decision::Pieces(PieceDecision::Home { piece: 0, kit: None }),
            Decision::Pieces(PieceDecision::Release { piece: 7, member: "Ada".to_owned() }),
            Decision::Pieces(PieceDecision::HandBack {
                piece: 0,
                line: HandLine { member: Some("Ada".to_owned()), ..line },
            }),
            Decision::Pieces(PieceDecision::Stand { edits: PieceEdits::default() }),
            Decision::Loads(LoadDecision::Release(Release {
                member: "Ben".to_owned(),
                lift: "deadlift".to_owned(),
                by: "Iris".to_owned(),
                at: String::new(),
            })),
            Decision::Hour(HourDecision::Stand { edits: HourEdits::default() }),
            Decision::Hour(HourDecision::Unpin { block: "cool_down".to_owned() }),
            Decision::Hour(HourDecision::Unpin { block: "set_up".to_owned() }),
            Decision::Hour(HourDecision::Unpin { block: "strength-9".to_owned() }),
            Decision::Hour(HourDecision::Arrange { piece: 0, way: Some(Arrangement::Heats) }),
            Decision::Hour(HourDecision::Arrange { piece: 0, way: None }),
            Decision::Hour(HourDecision::Place { piece: 0, who: "Ada".to_owned(), at: (1.0, 2.0) }),
            Decision::Hour(HourDecision::PlacesBack { piece: 0 }),
            Decision::Hour(HourDecision::TeamSize { piece: 0, size: Some(3) }),
            Decision::Hour(HourDecision::TeamSize { piece: 0, size: None }),
            Decision::Hour(HourDecision::TeamsAlike { piece: 0, alike: true }),
            Decision::Hour(HourDecision::TeamsAlike { piece: 0, alike: false }),
            Decision::Hour(HourDecision::Wish { piece: 0, pair: pair(), together: true }),
            Decision::Hour(HourDecision::Wish { piece: 0, pair: pair(), together: false }),
            Decision::Hour(HourDecision::DropWish { piece: 0, pair: pair(), together: true }),
            Decision::Hour(HourDecision::TakeBack { change: Change::ShorterPiece { part: 2 } }),
            Decision::Warmup(WarmupDecision::Stand { edits: Edits::default() }),
            Decision::Warmup(WarmupDecision::Stand { edits: Edits { minutes: Some(8), ..Edits::default() } }),
            Decision::Warmup(WarmupDecision::Keep { id: "easy-row".to_owned() }),
            Decision::Warmup(WarmupDecision::LetGo { id: "easy-row".to_owned() }),
            Decision::Warmup(WarmupDecision::Exchange {
                id: "a".to_owned(),
                other: "b".to_owned(),
                seen: vec![],
            }),
            Decision::Warmup(WarmupDecision::Swap { id: "a".to_owned(), to: "b".to_owned() }),
            Decision::Warmup(WarmupDecision::Dose { id: "a".to_owned(), dose: String::new() }),
            Decision::Warmup(WarmupDecision::Dose { id: "a".to_owned(), dose: "20 each".to_owned() }),
            Decision::Warmup(WarmupDecision::Minutes { minutes: 12 }),
        ]
        .into_iter()
        .chain(changes.map(|change| Decision::Hour(HourDecision::Make { change })))
        .map(|decision| decision.words(&of))
        .collect::<Vec<_>>()
        .join("\n");
        insta::assert_snapshot!(told, @r"
        Lighter for Ada in 21-15-9 for time
        Lighter: thruster, 20/15 kg in place of thruster, 40/30 kg
        intended result of 21-15-9 for time: 4:00 to 9:00
        21-15-9 for time lasts 10:00
        the warm-up lasts 8:00
        one set less of back squat 5x5
        no easy row in the warm-up
        the back squat of Ben is held back again
        the intended result of 21-15-9 for time as it is read
        intended result of 21-15-9 for time: open to 9:00
        more is offered in 21-15-9 for time to those who are ahead
        nothing more is offered in 21-15-9 for time
        at home 21-15-9 for time is done with a band
        at home 21-15-9 for time is done with nothing
        at home 21-15-9 for time is done with nothing
        the numbers choose for Ada in a piece
        Ada: thruster, 40/30 kg as it was
        versions and windows as they stood
        Ben does deadlift as written, on the word of Iris
        the hour as it stood
        the length of the cool-down is worked out
        the length of set up is worked out
        the length of a part is worked out
        21-15-9 for time: heats
        the numbers arrange 21-15-9 for time
        another place on the floor for Ada
        places on the floor are worked out
        teams of 3
        no teams but those that are written
        teams of people who are alike
        teams that are even
        Ada and Ben in one team
        Ada and Ben apart
        no longer: Ada and Ben in one team
        taken back: 21-15-9 for time two minutes shorter
        the warm-up as it was worked out, without changes
        the warm-up as it stood
        easy row stays in the warm-up
        easy row may leave the warm-up
        a and b change places
        b in place of a
        the usual dose of a
        a: 20 each
        12 minutes of warm-up
        back squat 5x5 is for home
        one set more of back squat 5x5
        the cap of 21-15-9 for time two minutes sooner
        two minutes less warm-up
        two minutes more warm-up
        everybody cools down alone
        three minutes more to cool down
        today: rowers out
        ");
    }
}
