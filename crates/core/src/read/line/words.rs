//! Words that tell work from talk.

use std::collections::HashSet;
use std::sync::LazyLock;

use crate::read::clause::CLAIMED;

/// Words that may stand around work without meaning anything to the reader.
const FILLERS: &str = "a an the of and with to in into on onto at for from by as do does then next first last another again back start starts \
    starting finish finishing end when while you your we go goes going now all out both perform complete completing straight \
    directly per line target high low ball bell bells box bar bars bodyweight bw dumbbell dumbbells db dbs kb kbs kettlebell \
    kettlebells barbell rig pair pairs plate plates band bands reps rep total easy moderate light medium heavy steady slow slowly \
    fast quick hard pace effort alternating alternate alt unbroken touch n tng over under up down left right long short that this it is are \
    same more only strict bare empty own plus or no percent choose load weight any by feel keep moving smooth controlled \
    good clean tall deep low high wide narrow weighted assisted banded scaled rx fresh working work sets set rounds round \
    side sides way arms legs together everyone group class one two three four five six seven eight nine ten \
    min mins minutes minute sec secs seconds m s cal cals calories metres meters in inches cm kg lb lbs x w e g \
    big fun last also each every hold holds test around be somewhere done time times use using like so through once twice drop \
    accumulate few possible fewest breaks interval intervals repeats repeat pvc stick broomstick dowel dual double single today day folks movement movements exercise exercises station stations rest resting between rotate rotating continuous continuously workout wod \
    nose breathing conversational rower erg machine bodyweight seated standing kneeling lying partner here there yourself \
    choice options own like building across ascending descending increasing climbing ladder then after before until till repeat repeats";

/// Sentences that begin so tell how, not what.
pub(super) const TALK_OPENERS: &[&str] = &[
    "do not",
    "don't",
    "dont",
    "never",
    "remember",
    "try",
    "make sure",
    "keep",
    "avoid",
    "no ",
    "be ",
    "think",
    "watch",
    "please",
    "stay",
    "last time",
    "yesterday",
    "tomorrow",
    "next",
    "note",
    "nb",
    "reminder",
    "tip",
    "pick",
    "choose",
    "stop",
    "walk",
    "we will",
    "we'll",
    "you should",
    "you can",
    "your",
    "these",
    "those",
    "they",
    "if",
    "bring",
    "see",
    "focus",
    "cue",
    "cues",
    "points",
    "aim to",
    "ideally",
    "swings",
    "alternate legs",
    "write",
    "log",
    "record",
    "only",
    "but only",
    "today",
    "coach",
    "nobody",
    "everyone",
    "anyone",
    "most",
    "some",
    "who",
    "why",
    "what",
    "how",
    "when you",
    "let",
    "have",
    "leave",
    "treat",
    "scale",
    "beginners",
];

/// Sentences that begin so say what may be done instead.
pub(super) const ALTERNATIVE_OPENERS: &[&str] = &[
    "or ",
    "or:",
    "or,",
    "or-",
    "sub",
    "scale",
    "scaled",
    "scaling",
    "option",
    "alternative",
    "instead",
    "if you ",
    "if no ",
    "if your ",
    "can't ",
    "cannot ",
    "no rower",
    "no bar",
    "no rig",
    "no box",
    "no rope",
    "no bike",
    "no equipment:",
    "beginners:",
    "beginner:",
    "newer members",
    "new members",
    "for those",
    "easier:",
    "lighter:",
    "rx+",
    "level 2",
    "level 1",
    "l1",
    "l2",
    "in place of",
    "swap",
    "substitute",
    "modify",
    "modification",
];

/// Whether a word may stand around work without meaning anything.
pub(super) fn is_filler(word: &str) -> bool {
    static SET: LazyLock<HashSet<&'static str>> = LazyLock::new(|| FILLERS.split_whitespace().collect());
    SET.contains(word) || word == CLAIMED
}
