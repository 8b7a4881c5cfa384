//! Conditions with bans of their own: pregnancy, after birth, heart, blood pressure and others. Conservative coaching judgement
//! that defers to whoever treats the person.

use crate::movement::Property::{self, *};

/// What a condition brings along.
pub(super) struct Brings {
    pub forbids: &'static [Property],
    /// Hardest effort, as RPE.
    pub effort: Option<f64>,
    /// Not accounted for unless the words say what is forbidden or allowed.
    pub asks: Asks,
}

/// When the words beside a condition leave a question.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(super) enum Asks {
    /// Its own bans are enough.
    Nothing,
    /// Unless something is stated: a ban, an allowance, a ceiling, an effort.
    UnlessStated,
    /// Unless somebody has cleared them.
    UnlessCleared,
    /// Unless an effort is stated.
    UnlessEffort,
    /// Always.
    Always,
}

const EARLY: &[Property] = &[MaximalEffort, Straining, Kipping, HeadDown, Height, Prone];
const LATER: &[Property] = &[
    MaximalEffort,
    Straining,
    Kipping,
    HeadDown,
    Height,
    Prone,
    Jump,
    Impact,
    SpinalFlexion,
    CoreStrain,
    Supine,
];
const AFTER_BIRTH: &[Property] = &[Jump, Impact, SpinalFlexion, CoreStrain, Kipping];
const AFTER_BIRTH_NOT_CLEARED: &[Property] =
    &[Jump, Impact, SpinalFlexion, CoreStrain, Kipping, Straining, MaximalEffort];
/// The last week of pregnancy in which only the early bans hold.
const EARLY_UNTIL_WEEK: f64 = 15.0;

/// What follows from a condition; `week` is that of a pregnancy, `cleared` and `repaired` are what the words say.
pub(super) fn brings(condition: &str, week: Option<f64>, cleared: bool, repaired: bool) -> Brings {
    let (forbids, effort, asks): (&[Property], Option<f64>, Asks) = match condition {
        "pregnancy" if week.is_some_and(|week| week <= EARLY_UNTIL_WEEK) => (EARLY, Some(6.0), Asks::Nothing),
        "pregnancy" => (LATER, Some(6.0), Asks::Nothing),
        "postpartum" if cleared => (AFTER_BIRTH, None, Asks::Nothing),
        "postpartum" => (AFTER_BIRTH_NOT_CLEARED, None, Asks::Nothing),
        "postpartum_surgery" | "postpartum_symptom" if cleared => (AFTER_BIRTH, None, Asks::Nothing),
        "postpartum_surgery" | "postpartum_symptom" => (AFTER_BIRTH_NOT_CLEARED, None, Asks::UnlessCleared),
        "heart" | "blood_pressure" => (&[Straining, MaximalEffort, HeadDown], Some(7.0), Asks::UnlessStated),
        "eye" if repaired => (&[HeadDown, Straining, MaximalEffort], None, Asks::Nothing),
        "eye" => (&[HeadDown, Straining], None, Asks::Nothing),
        "hernia" if repaired => (&[Straining, CoreStrain, SpinalFlexion, MaximalEffort], None, Asks::Nothing),
        "hernia" => (&[Straining, CoreStrain, SpinalFlexion, MaximalEffort, LoadedHinge], None, Asks::Always),
        "minor" => (&[MaximalEffort], Some(7.0), Asks::Nothing),
        "seizures" | "blood_thinner" => (&[Height], None, Asks::Nothing),
        "dizziness" => (&[HeadDown, Balance, Height], None, Asks::Nothing),
        "osteoporosis_fracture" => (&[Impact], None, Asks::Always),
        "illness" => (&[MaximalEffort], None, Asks::UnlessEffort),
        "concussion" if cleared => (&[HeadDown], None, Asks::Nothing),
        "concussion" => (
            &[HeadDown, Jump, Impact, Straining, MaximalEffort, Height, HighHeartRate],
            Some(5.0),
            Asks::UnlessCleared,
        ),
        _ => (&[], None, Asks::Nothing),
    };
    Brings { forbids, effort, asks }
}

/// The ladder that leads around a ban.
pub(super) fn reason_of(property: Property) -> Option<&'static str> {
    Some(match property {
        Overhead | Hanging | Kipping | HorizontalPush | VerticalPull | HeadDown => "shoulder",
        DeepKneeBend | Lunge | Kneeling => "knee",
        Jump | Impact | Running => "ankle_impact",
        LoadedHinge | SpinalFlexion | Rotation | AxialLoad => "low_back",
        FrontRack | WristExtension | Grip => "wrist",
        HorizontalPull => "elbow",
        CoreStrain | Supine | Prone => "pregnancy",
        _ => return None,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_ban_is_led_around_by_the_ladder_of_its_joint() {
        for (property, ladder) in [
            (FrontRack, "wrist"),
            (WristExtension, "wrist"),
            (Grip, "wrist"),
            (Overhead, "shoulder"),
            (DeepKneeBend, "knee"),
            (Jump, "ankle_impact"),
            (LoadedHinge, "low_back"),
            (HorizontalPull, "elbow"),
            (Supine, "pregnancy"),
        ] {
            assert_eq!(reason_of(property), Some(ladder), "{property:?}");
        }
        // Nothing stands in for hard breathing.
        assert_eq!(reason_of(HighHeartRate), None);
    }
}
