//! Whom and what decisions are about: rows name members and parts of a day by their ids, a plan by name and place. Between the two a decision is
//! told over, so that it follows whoever is called otherwise now, and the part that stands elsewhere now.

use std::collections::BTreeMap;

use super::{Decision, HourDecision, LoadDecision, PieceDecision};
use crate::floor::FloorEdits;
use crate::hour::{Change, HourEdits};
use crate::session::PartKind;
use crate::strength::Release;
use crate::versions::{HandLine, PieceEdits};

/// What stands before the id of a member in a row, so that no name is taken for one.
const ID: char = '#';

/// A part of a day: the id of its row where it has one, and what it is for.
pub type KnownPart = (Option<i64>, PartKind);

/// Other names for members, parts and pieces.
#[derive(Clone, Debug, Default)]
pub struct Naming {
    members: BTreeMap<String, String>,
    /// None leaves parts and pieces as they are.
    places: Option<Places>,
    /// Whether what is not known is gone: an id of nobody, a part that was taken out.
    to_plan: bool,
}

/// Places and ids of parts and of pieces, one way round or the other.
#[derive(Clone, Debug)]
struct Places {
    parts: BTreeMap<usize, usize>,
    pieces: BTreeMap<usize, usize>,
}

/// How a member is named in rows.
pub fn id_of(member: impl Into<i64>) -> String {
    format!("{ID}{}", member.into())
}

impl Naming {
    /// From names and places of a plan to ids. `members` are ids and names, `parts` stand in the order of the day.
    pub fn to_rows<Id: Copy + Into<i64>>(members: &[(Id, String)], parts: &[KnownPart]) -> Self {
        let by_place = |(place, id): (usize, usize)| (place, id);
        Self {
            members: members.iter().map(|(id, name)| (name.clone(), id_of(*id))).collect(),
            places: Some(Places {
                parts: places(parts, |_| true).map(by_place).collect(),
                pieces: places(parts, is_piece).map(by_place).collect(),
            }),
            to_plan: false,
        }
    }

    /// From ids to names and places of a plan.
    pub fn to_plan<Id: Copy + Into<i64>>(members: &[(Id, String)], parts: &[KnownPart]) -> Self {
        let by_id = |(place, id): (usize, usize)| (id, place);
        Self {
            members: members.iter().map(|(id, name)| (id_of(*id), name.clone())).collect(),
            places: Some(Places {
                parts: places(parts, |_| true).map(by_id).collect(),
                pieces: places(parts, is_piece).map(by_id).collect(),
            }),
            to_plan: true,
        }
    }

    /// From ids to names of people, with parts left as they are: for somebody's own record.
    pub fn of_people<Id: Copy + Into<i64>>(members: &[(Id, String)]) -> Self {
        Self { places: None, ..Self::to_plan(members, &[]) }
    }

    /// A name that nobody on file has is kept as it is; an id of nobody is nobody.
    fn member(&self, known: &str) -> Option<String> {
        match self.members.get(known) {
            Some(other) => Some(other.clone()),
            None if self.to_plan && known.starts_with(ID) => None,
            None => Some(known.to_owned()),
        }
    }

    fn part(&self, known: usize) -> Option<usize> {
        self.places.as_ref().map_or(Some(known), |places| places.parts.get(&known).copied())
    }

    fn piece(&self, known: usize) -> Option<usize> {
        self.places.as_ref().map_or(Some(known), |places| places.pieces.get(&known).copied())
    }

    fn pair(&self, (a, b): &(String, String)) -> Option<(String, String)> {
        Some((self.member(a)?, self.member(b)?))
    }

    fn line(&self, line: &HandLine) -> Option<HandLine> {
        let member = match &line.member {
            Some(member) => Some(self.member(member)?),
            None => None,
        };
        Some(HandLine { member, ..line.clone() })
    }

    /// A block of the hour: `conditioning-2` belongs to a part, `warmup` to none.
    fn block(&self, key: &str) -> Option<String> {
        let of_part = key.rsplit_once('-').and_then(|(kind, part)| Some((kind, part.parse().ok()?)));
        match of_part {
            Some((kind, part)) => Some(format!("{kind}-{}", self.part(part)?)),
            None => Some(key.to_owned()),
        }
    }

    fn change(&self, change: &Change) -> Option<Change> {
        Some(match change {
            Change::AccessoryHome { part } => Change::AccessoryHome { part: self.part(*part)? },
            Change::OneSetLess { part } => Change::OneSetLess { part: self.part(*part)? },
            Change::OneSetMore { part } => Change::OneSetMore { part: self.part(*part)? },
            Change::LowerCap { part } => Change::LowerCap { part: self.part(*part)? },
            Change::ShorterPiece { part } => Change::ShorterPiece { part: self.part(*part)? },
            Change::ShorterWarmup
            | Change::LongerWarmup
            | Change::CoolDownAlone
            | Change::LongerCoolDown
            | Change::Without { .. } => change.clone(),
        })
    }

    fn pieces(&self, edits: &PieceEdits) -> PieceEdits {
        let mut told = PieceEdits::default();
        for (piece, edit) in &edits.pieces {
            let Some(piece) = self.piece(*piece) else { continue };
            let mut edit = edit.clone();
            edit.versions = edit
                .versions
                .iter()
                .filter_map(|(member, version)| Some((self.member(member)?, *version)))
                .collect();
            edit.hand = edit.hand.iter().filter_map(|line| self.line(line)).collect();
            told.pieces.insert(piece, edit);
        }
        told
    }

    fn hour(&self, edits: &HourEdits) -> HourEdits {
        let floor = |(piece, floor): (&usize, &FloorEdits)| {
            let mut floor = floor.clone();
            let place = |(who, at): (&String, &(f64, f64))| Some((self.member(who)?, *at));
            floor.places = floor.places.iter().filter_map(place).collect();
            for wishes in [&mut floor.teams.together, &mut floor.teams.apart] {
                *wishes = wishes.iter().filter_map(|pair| self.pair(pair)).collect();
            }
            Some((self.piece(*piece)?, floor))
        };
        HourEdits {
            changes: edits.changes.iter().filter_map(|change| self.change(change)).collect(),
            pins: edits
                .pins
                .iter()
                .filter_map(|(block, seconds)| Some((self.block(block)?, *seconds)))
                .collect(),
            floors: edits.floors.iter().filter_map(floor).collect(),
        }
    }
}

fn is_piece(kind: PartKind) -> bool {
    kind == PartKind::Conditioning
}

/// Places among the parts of some kinds, each with its id.
fn places(parts: &[KnownPart], counts: impl Fn(PartKind) -> bool) -> impl Iterator<Item = (usize, usize)> {
    let ids = parts.iter().filter(move |(_, kind)| counts(*kind));
    ids.enumerate().filter_map(|(place, (id, _))| Some((place, usize::try_from((*id)?).ok()?)))
}

impl Decision {
    /// The decision with its member, part and piece called otherwise; none where one of them is not there.
    pub fn told(&self, naming: &Naming) -> Option<Self> {
        Some(match self {
            Self::Warmup(decision) => Self::Warmup(decision.clone()),
            Self::Pieces(decision) => Self::Pieces(decision.told(naming)?),
            Self::Loads(LoadDecision::Release(release)) => {
                let member = naming.member(&release.member)?;
                Self::Loads(LoadDecision::Release(Release { member, ..release.clone() }))
            }
            Self::Loads(LoadDecision::Hold { member, lift }) => {
                Self::Loads(LoadDecision::Hold { member: naming.member(member)?, lift: lift.clone() })
            }
            Self::Hour(decision) => Self::Hour(decision.told(naming)?),
        })
    }
}

impl PieceDecision {
    fn told(&self, naming: &Naming) -> Option<Self> {
        Some(match self {
            Self::Stand { edits } => Self::Stand { edits: naming.pieces(edits) },
            Self::Choose { piece, member, version } => Self::Choose {
                piece: naming.piece(*piece)?,
                member: naming.member(member)?,
                version: *version,
            },
            Self::Release { piece, member } => {
                Self::Release { piece: naming.piece(*piece)?, member: naming.member(member)? }
            }
            Self::Window { piece, low, high } => {
                Self::Window { piece: naming.piece(*piece)?, low: *low, high: *high }
            }
            Self::More { piece, on } => Self::More { piece: naming.piece(*piece)?, on: *on },
            Self::Home { piece, kit } => Self::Home { piece: naming.piece(*piece)?, kit: kit.clone() },
            Self::Hand { piece, line } => {
                Self::Hand { piece: naming.piece(*piece)?, line: naming.line(line)? }
            }
            Self::HandBack { piece, line } => {
                Self::HandBack { piece: naming.piece(*piece)?, line: naming.line(line)? }
            }
        })
    }
}

impl HourDecision {
    fn told(&self, naming: &Naming) -> Option<Self> {
        let piece = |piece: &usize| naming.piece(*piece);
        Some(match self {
            Self::Stand { edits } => Self::Stand { edits: naming.hour(edits) },
            Self::Make { change } => Self::Make { change: naming.change(change)? },
            Self::TakeBack { change } => Self::TakeBack { change: naming.change(change)? },
            Self::Pin { block, seconds } => Self::Pin { block: naming.block(block)?, seconds: *seconds },
            Self::Unpin { block } => Self::Unpin { block: naming.block(block)? },
            Self::Arrange { piece: of, way } => Self::Arrange { piece: piece(of)?, way: *way },
            Self::Place { piece: of, who, at } => {
                Self::Place { piece: piece(of)?, who: naming.member(who)?, at: *at }
            }
            Self::PlacesBack { piece: of } => Self::PlacesBack { piece: piece(of)? },
            Self::TeamSize { piece: of, size } => Self::TeamSize { piece: piece(of)?, size: *size },
            Self::TeamsAlike { piece: of, alike } => Self::TeamsAlike { piece: piece(of)?, alike: *alike },
            Self::Wish { piece: of, pair, together } => {
                Self::Wish { piece: piece(of)?, pair: naming.pair(pair)?, together: *together }
            }
            Self::DropWish { piece: of, pair, together } => {
                Self::DropWish { piece: piece(of)?, pair: naming.pair(pair)?, together: *together }
            }
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Decisions;
    use crate::versions::VersionName;
    use proptest::prelude::*;

    const DAY: [KnownPart; 4] = [
        (Some(70), PartKind::Warmup),
        (Some(71), PartKind::Strength),
        (Some(72), PartKind::Conditioning),
        (Some(73), PartKind::Conditioning),
    ];

    fn members() -> Vec<(i64, String)> {
        ["Ada", "Ben", "Cleo"].iter().zip(7..).map(|(name, id)| (id, (*name).to_owned())).collect()
    }

    /// Somebody may be called like an id of the rows, and keeps that name on the way there; on the way back an id of nobody is nobody.
    #[test]
    fn a_name_like_an_id_is_a_name() {
        let called =
            Decision::Loads(LoadDecision::Hold { member: format!("{ID}99"), lift: "back-squat".to_owned() });
        assert_eq!(called.told(&Naming::to_rows(&members(), &DAY)), Some(called.clone()));
        assert_eq!(called.told(&Naming::to_plan(&members(), &DAY)), None);
    }

    /// A decision of each kind that names a member, a part or a piece.
    fn decision(n: usize) -> Decision {
        let name = members()[n % 3].1.clone();
        let piece = n % 2;
        let line = HandLine {
            version: VersionName::Lighter,
            member: Some(name.clone()),
            from: "10 burpee".to_owned(),
            to: "8 burpee".to_owned(),
        };
        match n % 12 {
            0 => {
                Decision::Pieces(PieceDecision::Choose { piece, member: name, version: VersionName::Simpler })
            }
            1 => Decision::Pieces(PieceDecision::Hand { piece, line }),
            2 => Decision::Pieces(PieceDecision::Window { piece, low: Some(300.0), high: Some(600.0) }),
            3 => Decision::Loads(LoadDecision::Hold { member: name, lift: "back-squat".to_owned() }),
            4 => Decision::Hour(HourDecision::Make { change: Change::LowerCap { part: 2 + piece } }),
            5 => Decision::Hour(HourDecision::Pin { block: "conditioning-3".to_owned(), seconds: 600 }),
            6 => Decision::Hour(HourDecision::Pin { block: "warmup".to_owned(), seconds: 600 }),
            7 => Decision::Hour(HourDecision::Place { piece, who: name, at: (1.0, 2.0) }),
            8 => {
                Decision::Hour(HourDecision::Wish { piece, pair: (name, "Cleo".to_owned()), together: true })
            }
            9 => Decision::Hour(HourDecision::Make { change: Change::ShorterWarmup }),
            10 => {
                let mut edits = PieceEdits::default();
                edits.change(piece, |edit| {
                    edit.versions.insert(name, VersionName::Lighter);
                });
                Decision::Pieces(PieceDecision::Stand { edits })
            }
            _ => {
                let mut edits = HourEdits::default();
                edits.pins.insert("strength-1".to_owned(), 300);
                edits.change_floor(piece, |floor| {
                    floor.places.insert(name, (1.0, 1.0));
                });
                Decision::Hour(HourDecision::Stand { edits })
            }
        }
    }

    proptest! {
        #[test]
        fn prop_a_decision_comes_back_as_it_was_and_its_row_names_nobody(n in 0_usize..72) {
            let made = decision(n);
            let row = made.told(&Naming::to_rows(&members(), &DAY)).expect("all of it is there");
            let stored = serde_json::to_string(&row).unwrap();
            for (_, name) in members() {
                prop_assert!(!stored.contains(&name), "{stored}");
            }
            prop_assert_eq!(row.told(&Naming::to_plan(&members(), &DAY)), Some(made));
        }

        /// Parts put in, taken out or moved, members renamed: what is decided is about the same people and pieces.
        #[test]
        fn prop_decisions_follow_the_piece_and_the_person(
            n in 0_usize..72,
            above in prop::collection::vec(prop::sample::select(vec![PartKind::Conditioning, PartKind::Strength]), 0..4),
            swapped in any::<bool>(),
        ) {
            let row = decision(n).told(&Naming::to_rows(&members(), &DAY)).unwrap();
            let mut now: Vec<KnownPart> = above.iter().zip(900..).map(|(kind, id)| (Some(id), *kind)).collect();
            now.extend(DAY);
            if swapped {
                let end = now.len();
                now.swap(end - 1, end - 2);
            }
            let renamed: Vec<(i64, String)> =
                members().into_iter().map(|(id, name)| (id, format!("{name} Berg"))).collect();
            let told = row.told(&Naming::to_plan(&renamed, &now)).expect("nothing is gone");
            // Told back by the same names and places it is the same row.
            prop_assert_eq!(told.told(&Naming::to_rows(&renamed, &now)), Some(row));
        }
    }

    #[test]
    fn a_choice_moves_with_its_piece() {
        let choose = Decision::Pieces(PieceDecision::Choose {
            piece: 0,
            member: "Ada".to_owned(),
            version: VersionName::Lighter,
        });
        let row = choose.told(&Naming::to_rows(&members(), &DAY)).unwrap();
        let now = [(Some(80), PartKind::Conditioning), DAY[2], DAY[3]];
        let mut all = Decisions::default();
        row.told(&Naming::to_plan(&members(), &now)).unwrap().apply(&mut all);
        assert!(all.pieces.of(0).versions.is_empty());
        assert_eq!(all.pieces.of(1).versions["Ada"], VersionName::Lighter);
    }

    #[test]
    fn what_is_gone_is_decided_no_more() {
        let row = |n| decision(n).told(&Naming::to_rows(&members(), &DAY)).unwrap();
        let without_piece = Naming::to_plan(&members(), &DAY[..2]);
        for n in [0, 1, 2, 4, 5, 7, 8] {
            assert_eq!(row(n).told(&without_piece), None, "{n}");
        }
        let without_ada = Naming::to_plan(&members()[1..], &DAY);
        assert_eq!(row(0).told(&without_ada), None);
        assert_eq!(row(3).told(&without_ada), None);
        assert!(row(6).told(&without_piece).is_some() && row(9).told(&without_piece).is_some());
    }
}
