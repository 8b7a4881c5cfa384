//! Facts of the whole part: its clock, its limits, how a lift is prescribed, who shares it.

use super::{Facts, Held, MOST_SETS};
use crate::say::Say;
use lantern_session::{Load, PartKind, PercentOf, Sharing, Tempo, TrainingMax};

/// Shorter lengths belong to a hold or a pause, not to a part.
const SHORTEST_PART_S: u32 = 15;
/// Least share of a maximum that anybody is asked to lift, in percent; less is a change of one.
const LEAST_SHARE: f64 = 20.0;

impl Facts {
    /// The share of what was built that a drop leaves, as long as no set is told to be at it.
    fn back_off(&mut self) -> Option<f64> {
        let built = self.strength.rm.is_some() || self.build;
        let of_today = self.strength.percent_of == Some(PercentOf::Today);
        let left = match self.strength.percent[..] {
            [[low, high]] if built && of_today && low == high => low,
            _ => return None,
        };
        self.strength.percent.clear();
        Some(left)
    }

    /// Facts of the whole part; the first word on a matter wins, a second one that differs is a contradiction.
    pub(super) fn fact(&mut self, say: &Say) {
        match say {
            Say::Week(k, n) => self.strength.week = self.strength.week.or(Some((*k, *n))),
            Say::Tempo(text) => {
                self.strength.tempo.get_or_insert_with(|| Tempo(text.clone()));
            }
            Say::Paused => self.paused = true,
            Say::OnOff { times, work_s, rest_s, total_s } => {
                if self.on_off.is_some_and(|(_, work, rest)| (work, rest) != (*work_s, *rest_s)) {
                    self.contradictions.push("two clocks");
                }
                self.on_off_lasts_s = self.on_off_lasts_s.or(total_s.filter(|_| times.is_none()));
                let times = times.or(total_s.map(|total| total / (work_s + rest_s).max(1)));
                self.on_off.get_or_insert((times, *work_s, *rest_s));
            }
            Say::StationTime { work_s, move_s } => {
                self.station_s = self.station_s.or(Some(*work_s));
                self.station_move_s = self.station_move_s.or(*move_s);
            }
            Say::Tabata => self.tabata = true,
            Say::Amrap(seconds) => {
                if let (Some(Some(known)), Some(seconds)) = (self.amrap, seconds)
                    && known != *seconds
                {
                    self.contradictions.push("two lengths");
                }
                match &mut self.amrap {
                    Some(known) => *known = known.or(*seconds),
                    None => self.amrap = Some(*seconds),
                }
            }
            Say::Bouts { times, seconds, open } => {
                self.bouts = self.bouts.or(Some(*times));
                if *open {
                    self.amrap.get_or_insert(Some(*seconds));
                } else {
                    self.on_off.get_or_insert((Some(*times), *seconds, 0));
                }
            }
            Say::Every { interval_s, times, total_s } => match &mut self.every {
                Some((known, known_times, known_total)) => {
                    if known != interval_s && times.is_some() && known_times.is_some() {
                        self.contradictions.push("two clocks");
                    }
                    *known_times = known_times.or(*times);
                    *known_total = known_total.or(*total_s);
                }
                None => self.every = Some((*interval_s, *times, *total_s)),
            },
            Say::InTurn(interval_s) => {
                self.in_turn = true;
                self.every.get_or_insert((*interval_s, None, None));
            }
            Say::ForBoth => self.rest_of_all = true,
            Say::Alternating => self.alternating = true,
            Say::TimesRound => self.times_round = true,
            Say::FromTheStart => self.interrupts_at_once = true,
            Say::EveryReps(n) => self.every_reps = self.every_reps.or(Some(*n)),
            Say::UntilFailure { rises } => {
                self.until_failure = true;
                self.rises |= rises;
            }
            Say::InMinute { minute, reps } => self.in_minutes.push((*minute, *reps)),
            Say::AddEach(step) => self.add_each = self.add_each.or(Some(*step)),
            Say::ForTime => self.for_time = true,
            Say::Quality => self.quality = true,
            Say::Cap(seconds) => {
                if let (Some(known), Some(seconds)) = (self.cap_s, seconds)
                    && known != *seconds
                {
                    self.contradictions.push("two caps");
                }
                self.cap_s = self.cap_s.or(*seconds);
            }
            Say::RoundUnder(seconds) => self.round_under = self.round_under.or(Some(*seconds)),
            Say::Intent(intent) => self.intents.push(intent.clone()),
            Say::Score(score) => self.score = self.score.or(Some(*score)),
            Say::OfTrainingMax(share) => {
                let of = share.map_or(TrainingMax::Usual, TrainingMax::Percent);
                self.strength.training_max = match self.strength.training_max {
                    Some(known @ TrainingMax::Percent(_)) => Some(known),
                    _ => Some(of),
                };
            }
            Say::CountedIn(unit) => self.counted_in = self.counted_in.or(Some(*unit)),
            Say::Counted(id) => self.counted = self.counted.take().or(Some(id.clone())),
            Say::Team(size) => {
                self.team = self.team.or(Some(*size));
                self.own_team = true;
            }
            Say::Sharing(sharing) => {
                // How they change over says more than that they share.
                let closer = matches!(sharing, Sharing::InTurns { .. } | Sharing::Held | Sharing::Stations);
                let known = self.sharing.filter(|known| !(closer && *known == Sharing::Freely));
                self.sharing = known.or(Some(*sharing));
            }
            Say::Rm(rm) => {
                self.builds_first |= self.sets_reps.is_empty() && self.set_list.is_empty();
                if self.strength.rm.is_some_and(|known| known != *rm) {
                    self.contradictions.push("two maxima");
                }
                self.strength.rm = self.strength.rm.or(Some(*rm));
            }
            Say::Percent(shares) => {
                self.strength.percent.extend(shares.iter().filter(|[_, high]| *high >= LEAST_SHARE));
            }
            Say::PercentOf(PercentOf::Today) if !self.set_list.is_empty() => {
                self.strength.percent_of = Some(PercentOf::TopSet(self.set_list.len() as u32));
            }
            Say::PercentOf(of) => {
                let known = self.strength.percent_of.take();
                self.strength.percent_of = known.or(Some(of.clone()));
            }
            Say::PercentsOf(id) => self.percents_of = Some(id.clone()),
            Say::OpenLast => self.strength.open_last = true,
            Say::OpenSets(n) if !self.set_list.is_empty() => {
                // As heavy as the set before.
                let share = self.set_list.last().map_or(0.0, |(_, share)| *share);
                for _ in 0..(*n).min(MOST_SETS) {
                    self.fact(&Say::SetAt { reps: 0, percent: [share; 2] });
                }
            }
            Say::OpenSets(n) if !self.sets_reps.is_empty() => {
                self.shares_before_open = self.strength.percent.len();
                self.sets_reps.push((*n, 0));
                self.strength.open_last = true;
            }
            Say::OpenSets(n) => match self.back_off() {
                // "Build to a heavy 3, then drop 15 % and do 2 x max": each at what the drop leaves.
                Some(share) => (0..(*n).min(MOST_SETS))
                    .for_each(|_| self.fact(&Say::SetAt { reps: 0, percent: [share; 2] })),
                None => self.sets = self.sets.or(Some(*n)),
            },
            Say::Rpe(range) => self.strength.rpe = self.strength.rpe.or(Some(*range)),
            Say::Sets(n) => self.sets = self.sets.or(Some(*n)),
            Say::MoreSets(n) => {
                if let Some((sets, _)) = self.sets_reps.first_mut() {
                    *sets += n;
                } else if let Some(sets) = &mut self.sets {
                    *sets += n;
                }
            }
            Say::TopSets(n) => self.strength.top_sets = self.strength.top_sets.or(Some(*n)),
            Say::SetsReps { sets, reps, upper } => {
                self.sets_reps.push((*sets, *reps));
                self.strength.reps_high = self.strength.reps_high.or(upper.filter(|upper| upper > reps));
            }
            Say::SetAt { reps: 0, percent } if !self.sets_reps.is_empty() => {
                self.sets_reps.push((1, 0));
                self.strength.percent.push(*percent);
                self.strength.open_last = true;
            }
            Say::SetAt { reps, percent } => {
                self.strength.open_last |= *reps == 0;
                self.set_list.push((*reps, percent[0]));
                self.strength.percent.push(*percent);
            }
            // A pause of some seconds is no length of a part.
            Say::Length(seconds) if *seconds < SHORTEST_PART_S => {}
            // A stretch of the clock says more than the length of the whole clock above it.
            Say::Window(seconds) if !self.window => {
                // Above the work it is that of all windows.
                let of_the_clock = self.running_s.take().is_some()
                    || !self.has_items() && self.duration_s.is_some_and(|all| all > *seconds);
                self.window = self.duration_s.is_none() || of_the_clock;
                if self.window {
                    self.duration_s = Some(*seconds);
                }
            }
            Say::Window(seconds) | Say::Length(seconds) => {
                self.duration_s = self.duration_s.or(Some(*seconds));
            }
            Say::Clock(seconds) => match &mut self.amrap {
                Some(known) => *known = known.or(Some(*seconds)),
                None if self.duration_s.is_none() => {
                    (self.duration_s, self.running_s) = (Some(*seconds), Some(*seconds));
                }
                None => {}
            },
            Say::Remaining => self.remaining = true,
            Say::Superset | Say::SupersetWith => self.superset = true,
            Say::Complex { named } => {
                self.one_bar = true;
                self.names_complex |= *named;
            }
            Say::Build => self.build = true,
            Say::RepsHigh(n) => self.strength.reps_high = self.strength.reps_high.or(Some(*n)),
            Say::SetsOf(n) => self.sets_of = self.sets_of.or(Some(*n)),
            Say::Climbs => self.climbs = true,
            Say::ClimbsBy(jump) => {
                self.climbs = true;
                self.strength.jump = self.strength.jump.or(Some(*jump));
            }
            Say::ClimbsTo => {
                self.climbs = true;
                self.strength.ends_at_share = true;
            }
            Say::SetWith { reps, load } => self.weighed.push((*reps, *load)),
            Say::ShareFor { reps, percent } => self.shares_for.push((*reps, *percent)),
            Say::ClimbsToMost => (self.climbs, self.to_most) = (true, true),
            Say::EmptyBar => self.empty_bar = true,
            Say::Heaviness(rpe) => self.heaviness = self.heaviness.or(Some(*rpe)),
            Say::ShareStep { step, by_wave } => {
                self.share_step = self.share_step.or(Some((*step, *by_wave)));
            }
            Say::Efforts(each) => {
                let (low, high) =
                    each.iter().fold((10.0_f64, 0.0_f64), |(low, high), n| (low.min(*n), high.max(*n)));
                if self.strength.rpe.is_none() {
                    self.strength.rpe = Some([low, high]);
                    self.strength.efforts.clone_from(each);
                }
            }
            Say::OneTool(tool) => self.one_tool = self.one_tool.or(Some(*tool)),
            Say::EachPerson => self.each_person = true,
            Say::ComplexReps(reps) if self.complex.is_empty() => self.complex.clone_from(reps),
            Say::Kind(kind) => self.kind = self.kind.or(Some(*kind)),
            Say::Practice(seconds) => {
                self.kind = self.kind.or(Some(PartKind::Skill));
                self.duration_s = self.duration_s.or(Some(*seconds));
            }
            Say::Load { implements, first, second, unit: Some(unit) } => {
                let load = Load { first: *first, second: *second, unit: *unit, implements: *implements };
                self.common_load = self.common_load.or(Some(load));
            }
            Say::Load { first, second, unit: None, .. } => {
                self.common_bare_load = self.common_bare_load.or(Some((*first, *second)));
            }
            Say::LoadRange(low, high, unit) => {
                self.strength.load_range = self.strength.load_range.or(Some((*low, *high, *unit)));
            }
            Say::ToolLoad { .. } => self.held.extend(Held::of(say)),
            _ => {}
        }
    }
}
