//! The rules that claim clauses from a text, one a clause. Every rule carries an example, and one test
//! reads them all. Their order is the grammar: what comes first claims first.

use regex::Captures;

use super::captured::{
    add_each, amount, build_to, emom, every, every_length, group, implement_load, interrupt, load_named_pair,
    load_of_hand_tools, load_pair, load_single, load_unit, max, on_off, percent, percent_of_a_max, rest,
    scheme, scheme_ends, scheme_with_dots, score, sets_at, sets_reps, split, target, target_bare_limit,
    tempo, until_failure,
};
use super::clause::Clause;
use super::quantity::{NUMBER, TIME, minutes_or_time, number, seconds, whole};
use crate::movement::Unit;
use crate::session::{Intent, Score, Sharing};

/// Words that rules look for; spelling is mended towards them.
pub(super) const KEYWORDS: &str = "amrap emom tabata rounds round rds reps rep sets set time cap score target goal rest warmup \
    warm cooldown conditioning metcon strength accessory mobility skill finisher minutes minute mins seconds secs calories \
    cals metres meters partner pairs teams unbroken tempo percent build building heavy every between alternating remaining \
    ladder buy cash rft weeks week home version stretch score slowest quality interval intervals superset";

/// One kind of clause: how it is written, and what it becomes.
pub(super) struct Rule {
    /// A text that the rule claims; one test tries them all.
    #[cfg_attr(not(test), expect(dead_code, reason = "documentation that a test reads"))]
    pub example: &'static str,
    pub pattern: &'static str,
    pub read: fn(&Captures<'_>) -> Vec<Clause>,
}

/// `{N}` number, `{T}` time with unit, `{B}` either; and the classes cut down to ASCII, which is all that a
/// comparable text uses of them. With the Unicode ones the set of all rules cannot run as one automaton, and
/// reading a day takes twenty times as long.
pub(super) fn expand(pattern: &str) -> String {
    pattern
        .replace("{B}", &format!("(?:{TIME}|\\d+(?:\\.\\d+)?)"))
        .replace("{T}", TIME)
        .replace("{N}", NUMBER)
        .replace("{KG}", r"(?:kilograms?|kilos?|kgs?|lbs?|pounds?|#)")
        .replace(r"\b", r"(?-u:\b)")
        .replace(r"\d", "[0-9]")
        .replace(r"\s", "[ ]")
        .replace(r"\w", "[a-z0-9_]")
}

/// All rules, in the order in which they claim.
pub(super) static RULES: &[Rule] = &[
    Rule {
        example: "no sorry,",
        pattern: r"(?:\.\.+\s*)?\b(?:no,? sorry|sorry|scratch that|i mean|make that|correction)\b[,:]?",
        read: |_| vec![Clause::Withdraw],
    },
    Rule {
        example: "zone 2",
        pattern: r"\bzone\s*([1-5])\b",
        read: |c| vec![Clause::Intent(Intent::Feel(format!("zone {}", &c[1])))],
    },
    Rule {
        example: "wk 3 of 6",
        pattern: r"\b(?:week|wk)\s*#?\s*(\d{1,2})(?:\s*(?:of|/|out of)\s*(\d{1,2}))?\b",
        read: |c| group(c, 1, whole).map(|k| Clause::Week(k, group(c, 2, whole))).into_iter().collect(),
    },
    Rule {
        example: "tempo 31x1",
        pattern: r"\btempo\s*(?:is|of|:|@)?\s*([0-9xa](?:\s*-?\s*[0-9xa]){2,3})\b|(?:@\s*)?\b([0-9]{2}[x0-9a][0-9x])\s*tempo\b|(?:@\s*)?\b([0-9]{2}x[0-9]?)\b",
        read: tempo,
    },
    Rule {
        example: "3 seconds down",
        pattern: r"\b({N})\s*-?\s*(?:s|sec|secs|seconds?|count)\s*(?:down|lowering|eccentric|negatives?|descent|on the way down)\b(?:\s*,?\s*(?:and\s*)?({N})\s*-?\s*(?:s|sec|secs|seconds?|count)\s*(?:pause|hold|at the bottom|in the hole)(?:\s*(?:at the bottom|in the hole))?)?",
        read: |c| {
            let digit = |n| group(c, n, whole).filter(|d| *d < 10);
            digit(1)
                .map(|down| Clause::Tempo(format!("{down}{}X0", digit(2).unwrap_or(0))))
                .into_iter()
                .collect()
        },
    },
    Rule {
        example: "2 s pause in the hole",
        pattern: r"\b({N})\s*-?\s*(?:s|sec|secs|seconds?|count)\s*(?:pause|hold)\s*(?:at|in|on) the (?:bottom|hole|chest|knee|knees)\b|\bpause\s*({N})\s*(?:s|sec|secs|seconds?)\b",
        read: |c| {
            group(c, 1, whole)
                .or(group(c, 2, whole))
                .filter(|d| *d < 10)
                .map(|d| Clause::Tempo(format!("2{d}X0")))
                .into_iter()
                .collect()
        },
    },
    Rule {
        example: "in whatever time is left",
        pattern: r"\b(?:(?:in|with|for|until|use|fill)\s+)?(?:(?:whatever|what|any|the|all)\s+)*(?:remaining time|time remaining|time (?:that )?(?:is |that's |you have )?(?:left|remains|remaining)|rest of the (?:time|clock|window|interval|minutes?)|remainder(?: of the (?:time|clock|window|interval))?|clock runs out)\b",
        read: |_| vec![Clause::Remaining],
    },
    Rule {
        example: "4 x 3:00 on, 1:30 off",
        pattern: r"\b(?:({N})\s*(?:x|rounds?(?:\s+of)?|sets?(?:\s+of)?|times)\s*:?\s*)?({B})\s*(?:s|sec|seconds|min)?\s*(?:hard\s+)?(?:on|work|of work|working)\b\s*[,/:;+&|-]*\s*(?:and\s+|then\s+)?({B})\s*(?:s|sec|seconds|min)?\s*(?:of\s+)?(?:off|rest|recovery|easy)\b(?:\s*(?:x|for)\s*({N})\b(?:\s*rounds)?)?",
        read: |c| on_off(c, 1, 2, 3, 4),
    },
    Rule {
        example: "work 40 s, rest 20 s",
        pattern: r"\bwork(?:\s+for)?\s*({B})\s*(?:s|sec)?\b\s*[,/:;+-]*\s*(?:and\s+|then\s+)?rest(?:\s+for)?\s*({B})\b(?:\s*x\s*({N})\b)?",
        read: |c| on_off(c, 9, 1, 2, 3),
    },
    Rule {
        example: "tabata x 3",
        pattern: r"\btabatas?\b(?:\s*x\s*\d+|\s*style)?",
        read: |_| vec![Clause::Tabata],
    },
    Rule {
        example: "1 min at each station",
        pattern: r"\b({T})\s+(?:at|on|per|for|of work at)\s+(?:each|every|a|per)?\s*(?:station|movement|exercise)s?\b|\b({T})\s+(?:each|a|per)\s+station\b",
        read: |c| {
            group(c, 1, seconds)
                .or(group(c, 2, seconds))
                .map(|work_s| Clause::OnOff { times: None, work_s, rest_s: 0 })
                .into_iter()
                .collect()
        },
    },
    Rule {
        example: "12 min emom",
        pattern: r"\b(\d{1,3})\s*-?\s*(?:minutes?|mins?|min|m)?\s*(?:alternating\s+|alt\s+)?emom\b",
        read: |c| {
            let total = group(c, 1, minutes_or_time);
            vec![Clause::Every { interval_s: 60, times: total.map(|t| t / 60), total_s: total }]
        },
    },
    Rule {
        example: "e2mom x 7",
        pattern: r"\b(?:alternating\s+|alt\s+)?e\s?(\d+(?:\.\d+)?|\d:\d\d)?\s?mom(?:s\b)?\s*(?:(x|for|of|in|-|:|\()?\s*(\d{1,3}(?::\d\d)?)\b\s*(rounds?|sets?|times|rnds|minutes?|mins?|min)?(?:\s*x\s*(\d{1,2})\b)?)?",
        read: emom,
    },
    Rule {
        example: "e2m for 16 min",
        pattern: r"\be\s?(\d{1,2}(?:\.\d)?)\s?m\b\s*(x|for)\s*(\d{1,3}(?::\d\d)?)\b\s*(rounds?|sets?|times|rnds|minutes?|mins?|min)?()",
        read: emom,
    },
    Rule {
        example: "e90s x 8",
        pattern: r"\be\s?(\d{2,3})\s?(?:s|sec)\b\s*(?:x|for)\s*(\d{1,2})\b(?:\s*(?:sets?|rounds?|times)\b)?",
        read: |c| {
            group(c, 1, whole)
                .map(|s| Clause::Every { interval_s: s, times: group(c, 2, whole), total_s: None })
                .into_iter()
                .collect()
        },
    },
    Rule {
        example: "at the start of every minute, beginning with minute two, stop and do",
        pattern: r"\b(?:but\s+)?(?:(?:at|on)\s+)?(?:the\s+)?(?:start|top|beginning|mark|sound|turn)\s+of\s+(?:every|each)\s+(?:new\s+)?({T}|minute|({N}) minutes)\b(?:\s*,?\s*\(?(?:beginning|starting)\s+(?:with|at|from|in)\s+(?:the\s+)?(?:minute\s+)?({N}|{T}|second|third)(?:\s+minute)?\)?)?\s*,?\s*(?:including (?:zero|0|the first))?\s*(?:you\s+)?(?:stop\s+)?(?:and\s+)?(?:do\s+)?",
        read: interrupt,
    },
    Rule {
        example: "every minute, stop and do",
        pattern: r"\b(?:but\s+)?(?:on\s+|at\s+)?(?:every|each)\s+({T}|minute|({N}) minutes)(?:\s+on the minute)?(?:\s+mark)?\s*,?\s*(?:you\s+)?(?:must\s+)?(?:(?:stop|pause)\s*,?\s*(?:and\s+|for\s+)?(?:do\s+)?|interrupt\w*\s*(?:with)?)()",
        read: interrupt,
    },
    Rule {
        example: "every time you break:",
        pattern: r"\b(?:(?:every|each) time (?:that )?(?:you|they|anyone|the (?:bar|ball|set))|when(?:ever)? you|if you)\s+(?:have to\s+)?(?:break|put|drop|stop|come off|come down|let go|miss|rest|set (?:it|the)|touch down|fail|trip)(?:\s+(?:it|the|your|them|bar|bell|ball|set|down|up|off|hands|a rep|rope|pair|dumbbells|rings|rig|for a rest|on the floor))*\s*[,:=-]*|\b(?:for|per|after)\s*(?:each|every)?\s*(?:break|drop)\b\s*[,:=]*|\b(?:each|every) (?:break|drop)\b\s*[,:=]*|\bpenalty\b\s*(?:is|of)?[:=]*",
        read: |_| vec![Clause::Penalty],
    },
    Rule {
        example: "5 rounds, every 4:00",
        pattern: r"\b({N})\s*(rounds?|sets?|rds)\s*,?\s*(?:one\s+|starting\s+|start\s+)?(?:every|on (?:the|a)|each)\s+({T}|minute)\b(?:\s+clock)?",
        read: |c| {
            let interval = every_length(c.get(3).map_or("", |m| m.as_str()));
            let times = group(c, 1, whole);
            vec![Clause::Every { interval_s: interval, times, total_s: None }]
        },
    },
    Rule {
        example: "every 2:30 x 6",
        pattern: r"\b(?:every|on the|each)\s+({T}|minute|({N})\s*(?:m|minutes?)?)(?:\s+on\s+(?:the\s+)?(?:minute|clock|\d+(?:\.\d+)?))?\s*(?:,|-|:|\()?\s*(?:(x|for)\s*(?:a total of\s*)?(\d+:\d\d|{N})\s*(rounds?|sets?|times|rnds|intervals|minutes?|mins?|min)?)?\b",
        read: every,
    },
    Rule {
        example: "one movement each minute",
        pattern: r"\b(?:one|a|1|new)\s+(?:movement|station|exercise|move|line)\s+(?:each|every|per|a)\s+({T}|minute)\b",
        read: |c| vec![Clause::Every { interval_s: every_length(&c[1]), times: None, total_s: None }],
    },
    Rule {
        example: "rest 2:00 between sets",
        pattern: r"\brest(?:ing)?\s*(?:exactly|is|:|=|of|for|about|at least|up to|-)*\s*({B}|{N})(?:\s*(?:-|to)\s*({B}))?(?:\s*(?:s|sec|secs|min|mins|minutes|seconds)\b)?(?:\s*(?:of rest\s*)?(?:in\s+)?(between|b/w|btw|after)\s+(?:each\s+|every\s+|all\s+|the\s+)*(rounds?|sets?|efforts?|intervals?|bouts?|pieces?|amraps?|exercises|lifts|stations?|movements?|laps?|them|both|each|it|one|supersets?|[a-h]\d?)\b(?:\s+(?:{N})(?:\s*(?:,|and|&)\s*(?:{N}))*)?|\s*(between|b/w|btw)\s*(?:$|[,.;)]))?",
        read: rest,
    },
    Rule {
        example: "one minute between them",
        pattern: r"\b(?:rest(?:ing)?\s*)?({T})()(?:\s+(?:of\s+)?(?:rest|off|break))?\s+(?:in\s+)?(between|b/w|btw|after)\s+(?:each\s+|every\s+|all\s+|the\s+)*(them|rounds?|sets?|efforts?|intervals?|bouts?|pieces?|amraps?|tabatas?|parts?|exercises|lifts|stations?|movements?|laps?|each|it|one|(?:the\s+)?(?:two|three|four)|both|[a-h]\d|[a-h]\d?\s*(?:and|&|\+)\s*[a-h]\d?)\b(?:\s+(?:{N})(?:\s*(?:,|and|&)\s*(?:{N}))*)?|\b(?:rest(?:ing)?\s*)?({T})(?:\s+(?:of\s+)?(?:rest|off|break))?\s+in between\b",
        read: rest,
    },
    Rule {
        example: "2-3 min rest",
        pattern: r"\b(\d{1,3})\s*(?:-|to)\s*({T})\s*(?:of\s+)?rest\b()()",
        read: rest,
    },
    Rule {
        example: "2:00 rest",
        pattern: r"\b({T})()\s*(?:of\s+)?(?:rest|recovery|easy walk)\b()()",
        read: rest,
    },
    Rule {
        example: "rest as needed",
        pattern: r"\brest\s*(?:is\s*)?(?:as (?:needed|required|you (?:need|like))|when(?:ever)? needed|whatever (?:is|time is) left|what(?:ever)?(?:'s| is| remains)?\s*(?:left|remaining)?|the (?:remainder|rest)(?: of the (?:minute|interval))?|(?:the )?remainder|for what is left|until (?:you are |fully )?(?:ready|recovered))(?: of the (?:minute|interval|time))?|(?:^|[,;:]\s*)(?:just\s+)?rest\s*(?:$|[,;.])",
        read: |_| vec![Clause::RestOpen],
    },
    Rule {
        example: "3 x 5:00 amrap",
        pattern: r"\b({N})\s*(?:x|rounds of|sets of|times)\s*({B})\s*-?\s*(?:m|min|minutes?|mins)?\s*amraps?\b|\b({N})\s*x\s*amraps?\s*(?:of\s*)?({B})(?:\s*(?:m|min|minutes|mins)\b)?",
        read: |c| {
            let times = group(c, 1, whole).or(group(c, 3, whole));
            let seconds = group(c, 2, minutes_or_time).or(group(c, 4, minutes_or_time));
            match (times, seconds) {
                (Some(times), Some(seconds)) => vec![Clause::Bouts(times), Clause::Amrap(Some(seconds))],
                _ => Vec::new(),
            }
        },
    },
    Rule {
        example: "amrap:",
        pattern: r"(?:^|[\x01,;])\s*amrap\s*[:.]?\s*$",
        read: |_| vec![Clause::Amrap(None)],
    },
    Rule {
        example: "amrap 12",
        pattern: r"\bamrap\s+of\s+({T})|\bamrap\s+of\b\s*:?|\bamrap\s*(?:in|for|x|-|:|=|\()?\s*({B})(?:\s*(?:m|min|minutes|mins)\b)?",
        read: |c| vec![Clause::Amrap(group(c, 1, minutes_or_time).or(group(c, 2, minutes_or_time)))],
    },
    Rule {
        example: "12 min amrap",
        pattern: r"\b({B})\s*-?\s*(?:m|min|minutes?|mins)?\s*(?:of\s+|long\s+|partner\s+|team\s+)*amrap\b",
        read: |c| vec![Clause::Amrap(group(c, 1, minutes_or_time))],
    },
    Rule {
        example: "as many rounds as possible in 10 minutes",
        pattern: r"\bas many (?:good |quality |full )?(?:rounds|reps|rounds and reps|rounds & reps|repetitions)(?:\s+and reps)?(?: as (?:possible|you can))?(?:\s*,?\s*(?:in|for|within|of)\s*({T}))?",
        read: |c| vec![Clause::Amrap(group(c, 1, seconds))],
    },
    Rule {
        example: "max rounds in 10 min",
        pattern: r"\b(?:max(?:imum)?\s+(?:rounds|reps)(?:\s+and reps)?|as far as (?:possible|you can)|(?:how|get as) far (?:can you get|as you can|as possible)?)\s*(?:in|within)\s*({T})",
        read: |c| vec![Clause::Amrap(group(c, 1, seconds))],
    },
    Rule {
        example: "12 minute clock",
        pattern: r"\b({T})\s*(?:running\s+)?(?:clock|on the clock|to (?:get|do|go) as)\b",
        read: |c| vec![Clause::Amrap(group(c, 1, seconds))],
    },
    Rule {
        example: "we stop the clock at 25 minutes",
        pattern: r"\b(?:time\s*-?\s*)?(?:cap|limit|tc|hard stop|stop the clock|clock stops|call time|cut[- ]?off)(?:ped)?(?:\s+for (?:this|it|everyone|all|[a-h]))?\s*(?:is|of|at|after|:|=|-)*\s*(?:is|at)?\s*({B})(?:\s*(?:m|min)\b)?",
        read: |c| vec![Clause::Cap(group(c, 1, minutes_or_time))],
    },
    Rule {
        example: "13 min cap",
        pattern: r"\b({B})\s*-?\s*(?:m|min|minutes?|mins)?\s*(?:time\s*-?\s*|hard\s+)?(?:cap|limit|cut[- ]?off|tc)\b",
        read: |c| vec![Clause::Cap(group(c, 1, minutes_or_time))],
    },
    Rule {
        example: "time cap for a: to be announced",
        pattern: r"\b(?:time\s*-?\s*)?cap\b[^0-9.;]*",
        read: |_| vec![Clause::Cap(None)],
    },
    Rule {
        example: "each round in under 3:00",
        pattern: r"\b(?:each|every|per|one) (?:round|interval|set|window)s?\s*(?:should (?:be|take)\s*|to be\s*|is\s*|done\s*)?(?:in\s+)?(?:under|sub|below|within|inside|less than|faster than)\s*({B})|\b(?:under|sub|within|inside|less than|faster than)\s*({B})(?:\s*min)?\s*(?:a|per|each|/|for each|for every)\s*(?:round|interval|set)s?",
        read: |c| {
            group(c, 1, minutes_or_time)
                .or(group(c, 2, minutes_or_time))
                .map(Clause::RoundUnder)
                .into_iter()
                .collect()
        },
    },
    Rule {
        example: "goal: 5-6 rounds",
        pattern: r"\b(?:goals?|target|aim(?:ing)?(?:\s+for)?|shooting for|looking (?:for|at)|should take(?: you| most of you| about| most people)*|should be(?: done| finished)?|expect(?:ed)?|time domain|stimulus|intended|finish(?:ed)? (?:in|between|within|under)|plan (?:on|for)|window|you want|most (?:of you |people |will |should )*(?:will )?(?:need|take|finish|land|come in|be done)(?: somewhere)?)\s*(?:time|score|is|of|:|=|-)*\s*(?:(?:to (?:finish|be done|get)|in|a|an|about|around|roughly|somewhere|between|from|for|is)\s+)*(sub|under|below|inside|less than|<=?|faster than|over|at least|>=?|more than)?\s*({B})\s*(\+)?(?:\s*(?:-|to|and)\s*({B}))?\s*(\+)?\s*(?:full\s+|total\s+)?(rounds?|rds|reps|minutes|mins|min|cals|calories)?\b(?:\s*or (?:less|faster|more))?",
        read: target,
    },
    Rule {
        example: "sub 7",
        pattern: r"\b(sub|under|below|inside|less than|faster than)\s*-?\s*({B})()()()\s*(minutes|mins|min)?\b",
        read: target_bare_limit,
    },
    Rule {
        example: "between 16 and 21 minutes",
        pattern: r"\b(?:between|around|about|roughly|somewhere around|approx\.?)()\s*({B}|{N})()\s*(?:-|to|and)\s*({B}|{N})()\s*(minutes|mins|min|rounds)\b",
        read: target,
    },
    Rule {
        example: "4+ rounds",
        pattern: r"()\b(\d{1,2})\s*(\+)\s*()()(?:full\s+)?(rounds?|rds)\b",
        read: target,
    },
    Rule {
        example: "at least 4 rounds",
        pattern: r"\b(at least|more than|over)\s*({N})()()()\s*(?:full\s+)?(rounds?|rds)\b",
        read: target,
    },
    Rule {
        example: "5-6 rounds",
        pattern: r"()\b(\d{1,2})()\s*(?:-|to)\s*(\d{1,2})(\+)?\s*(rounds|rds)\b",
        read: target,
    },
    Rule {
        example: "8-12 min",
        pattern: r"()\b(\d{1,2}(?::\d\d)?)()\s*(?:-|to)\s*(\d{1,2}(?::\d\d)?)()\s*(minutes|mins|min)\b",
        read: target,
    },
    Rule {
        example: "score = slowest 500",
        pattern: r"\b(?:your\s+|the\s+|team\s+)?(?:score|scoring|result)\s*(?:is|are|will be|=|:|-)*\s*([^.;!]*)",
        read: |c| score(&c[1]).map(Clause::Score).into_iter().collect(),
    },
    Rule {
        example: "total reps is your score",
        pattern: r"^(total (?:reps|cals|calories|metres|meters|distance))(?: for (?:the )?\w+)?[ .]*$|(?:^|[.;,]\s*)([^.;,]{3,40}?)\s+(?:is|are|=|counts as)\s+(?:your|the|our|what is the)\s+(?:score|result)\b",
        read: |c| group(c, 1, score).or(group(c, 2, score)).map(Clause::Score).into_iter().collect(),
    },
    Rule {
        example: "count rounds as a pair",
        pattern: r"\bcount\s+(?:your\s+|the\s+|all\s+|total\s+|full\s+|completed\s+)*(rounds|reps|calories|cals|metres|meters)[^.;!]*",
        read: |c| score(&c[1]).map(Clause::Score).into_iter().collect(),
    },
    Rule {
        example: "slowest round counts",
        pattern: r"\b(?:record|log|write(?: down)?|note(?: down)?|report|post|remember)\s+(?:your\s+|the\s+)?(?:slowest|worst)\b[^.;!]*|\b(?:slowest|worst)\s+(?:\w+\s+)?(?:counts|is what counts)|\b(?:rests?|resting)\s+(?:does not|doesn't|do not|don't|is not|not)\s+count\w*",
        read: |c| {
            vec![Clause::Score(if c[0].contains("rest") {
                Score::TimeMinusRest
            } else {
                Score::SlowestInterval
            })]
        },
    },
    Rule {
        example: "2 man teams",
        pattern: r"\b({N})[ -]?(?:man|person|people|member)s?\s+(?:teams?|squads?|groups?)\b",
        read: |c| group(c, 1, whole).map(Clause::Team).into_iter().collect(),
    },
    Rule {
        example: "teams of 3",
        pattern: r"\b(?:in\s+)?(?:teams?|groups?|squads?) of ({N})\b",
        read: |c| group(c, 1, whole).map(Clause::Team).into_iter().collect(),
    },
    Rule {
        example: "in pairs",
        pattern: r"(?:\b(?:in|as|with)\s+|\bw/\s*)(?:a\s+)?(?:pairs?|twos|2s|partners?)\b|\b(?:pairs|(?:partner|buddy) (?:workout|wod|piece|amrap|work|day))\b|\bwith a buddy\b|^partners?\b",
        read: |_| vec![Clause::Team(2)],
    },
    Rule {
        example: "in threes",
        pattern: r"\b(?:in\s+(?:threes|3s|trios)|trios)\b",
        read: |_| vec![Clause::Team(3)],
    },
    Rule {
        example: "i go you go",
        pattern: r"\bi go,? you go\b|\byou go,? i go\b|\bigyg\b|\b(?:one )?partner (?:does|completes|works through) (?:a|one|the) (?:full|whole|complete)?\s*round,?\s*(?:then\s*)?(?:swap|switch|change|tag)?\b|\b(?:each|every) (?:athlete|person|member|partner|one) (?:does|completes|works through) (?:a|one|the) (?:full|whole|complete)?\s*round\b|\balternat(?:e|ing) (?:full |whole |complete )?rounds\b|\b(?:swap|switch|change|tag) (?:after|every|each) (?:(?:each|every|full|one|a|whole|complete)\s+)*rounds?\b",
        read: |_| vec![Clause::Sharing(Sharing::Rounds)],
    },
    Rule {
        example: "one works, two rest",
        pattern: r"\bone (?:person\s+)?(?:works?|working|at a time)(?:\s+at a time)?(?:\s*,?\s*(?:and\s+)?(?:(?:the )?others?|one|two|three|partner) rests?)?|\bsplit (?:it |the (?:reps|work) |reps |work |everything )?(?:any ?how|any way|any ?way|as|however|freely|between)[^.;,]*",
        read: |_| vec![Clause::Sharing(Sharing::Freely)],
    },
    Rule {
        example: "synchro",
        pattern: r"\bsynchro(?:nised|nized)?\b|\bin sync\b",
        read: |_| vec![Clause::Sharing(Sharing::Together)],
    },
    Rule {
        example: "until you can't",
        pattern: r"\buntil (?:you|they|it|the work|the reps|everyone)\s*(?:can(?:'t|not| not)|fails?|miss(?:es)?|no longer|do not|don't|drops? out|are out|fall (?:off|behind))[^.;:,(]*|\buntil (?:failure|one is missed)|\bdeath by\b|\b(?:for )?as long as (?:you can|possible)\b|\badd (?:one|1) until you miss\b",
        read: until_failure,
    },
    Rule {
        example: "add 2 reps each round",
        pattern: r"\b(?:add(?:ing)?|increase(?: by)?|increasing by|plus)\s*({N})\s*(?:more\s*)?(?:reps?|cals?|calories)?\s*(?:more\s*)?(?:(?:of|to|on)\s+(?:each|both|everything|all)(?: movements?)?\s*)?(?:each|every|per|a)\s*(?:round|minute|interval|time|set|window)|\+\s*({N})\s*(?:reps?\s*)?(?:each|every|per|a|/)\s*(?:round|minute|interval)|\b(?:climb(?:ing)?|go(?:ing)? up|counting up|rising|up)\s+by\s+(\w+)(?:\s+(?:each|every) (?:round|minute))?",
        read: add_each,
    },
    Rule {
        example: "not for time",
        pattern: r"\bnot (?:for time|a race|for (?:a )?score)\b|\bfor (?:quality|form)\b|\bquality (?:work|reps|movement|over speed)\b|\bnft\b|\buntimed\b|\bno clock\b|\bno (?:rush|score)\b",
        read: |_| vec![Clause::Quality],
    },
    Rule {
        example: "4 rft",
        pattern: r"\b({N})\s*rft\b",
        read: |c| vec![Clause::Rounds(group(c, 1, whole).unwrap_or(1)), Clause::ForTime],
    },
    Rule {
        example: "for time",
        pattern: r"\b(?:all\s+)?for time\b|\bafap\b|\bas fast as (?:possible|you can)\b|\bagainst the clock\b|\brft\b|\bon a running clock\b|\btime trial\b",
        read: |_| vec![Clause::ForTime],
    },
    Rule {
        example: "3 rfq",
        pattern: r"\b({N})\s*rfq\b",
        read: |c| {
            let rounds = group(c, 1, whole).map(Clause::Rounds);
            rounds.into_iter().chain([Clause::Quality]).collect()
        },
    },
    Rule {
        example: "superset x 3",
        pattern: r"\b(?:super\s?sets?|tri\s?-?sets?|giant sets?)\s*x\s*({N})\b",
        read: |c| {
            let sets = group(c, 1, whole).map(Clause::Sets);
            sets.into_iter().chain([Clause::Superset]).collect()
        },
    },
    Rule {
        example: "superset",
        pattern: r"\bsuper\s?sets?\b|\bstraight into\b",
        read: |_| vec![Clause::Superset],
    },
    Rule {
        example: "light enough to cycle",
        pattern: r"\b(?:light|heavy) enough to [a-z ]{3,30}[a-z]|\b(?:should|must|needs? to) (?:feel|be|stay) (?:very |pretty |quite )?(?:light|moderate|heavy|challenging|manageable)\b|\btouch[ -]and[ -]go\b|\ball[ -]out\b|\b(?:light|moderate|heavy) and (?:fast|smooth|crisp)\b",
        read: |c| vec![Clause::Intent(Intent::Feel(c[0].to_owned()))],
    },
    Rule {
        example: "no more than two sets",
        pattern: r"\b(?:no more than|at most|maximum(?: of)?|unbroken or(?: in)?)\s*({N})\s*(?:sets?|breaks?)\b|\b({N})\s*sets? (?:max|at most)\s*(?:$|[.,;)])",
        read: |c| {
            group(c, 1, whole)
                .or(group(c, 2, whole))
                .map(|n| Clause::Intent(Intent::SetsAtMost(n)))
                .into_iter()
                .collect()
        },
    },
    Rule {
        example: "8+ a minute",
        pattern: r"\b(?:at least\s+)?(\d{1,3})\s*\+?\s*(?:reps?\s*)?(?:a|per)\s+minute\b",
        read: |c| group(c, 1, number).map(|n| Clause::Intent(Intent::RepsPerMinute(n))).into_iter().collect(),
    },
    Rule {
        example: "at least 10 s to spare",
        pattern: r"\b(?:at least|leav\w+(?: you)?(?: at least)?|with)\s*({T})\s*(?:of rest|rest|to (?:walk|rest|recover|spare|move|breathe)|to spare|left)\b",
        read: |c| group(c, 1, seconds).map(|s| Clause::Intent(Intent::RestLeft(s))).into_iter().collect(),
    },
    Rule {
        example: "last two at the working weight",
        pattern: r"\b(?:the\s+)?last\s+({N})\s*(?:sets?\s*)?(?:at|stay at|on|heavy at|all at)\s*(?:the\s+)?(?:working (?:weight|load|set)|top(?: weight| end)?|same (?:weight|load)|heaviest)",
        read: |c| group(c, 1, whole).map(Clause::TopSets).into_iter().collect(),
    },
    Rule {
        example: "then 3 more singles there",
        pattern: r"\b({N})\s+more\s+(?:singles|doubles|triples|sets)\b",
        read: |c| group(c, 1, whole).map(Clause::MoreSets).into_iter().collect(),
    },
    Rule {
        example: "(8 singles in all)",
        pattern: r"\(?\b(?:{N})\s+(?:singles|doubles|triples|sets|lifts)\s+(?:in all|in total|total|altogether)\)?",
        read: |_| vec![Clause::Split],
    },
    Rule {
        example: "(3/3)",
        pattern: r"\(\s*(\d{1,3})\s*/\s*(\d{1,3})\s*\)|\(\s*\d{1,3}\s*(?:\+|and|&)\s*\d{1,3}\s*\)",
        read: split,
    },
    Rule {
        example: "with 1 kb 24/16",
        pattern: r"(?:^|[,.;:(]\s*|\bwith\s+|\bw/\s*|\busing\s+|\bone\s+|\ban?\s+|\b1\s+|\btwo\s+|\b2\s+)(?:(?:an?|one|two|1|2)\s+)?(kbs?|kettlebells?|dbs?|dumb-?bells?|bar|barbells?|bb)\s*(?:@|at|is|:|=|-)*\s*(?:([12])\s*x\s*)?(\d{1,3}(?:\.\d+)?)\s*/\s*(\d{1,3}(?:\.\d+)?)\s*({KG})?(?:$|[ ,.;)])",
        read: implement_load,
    },
    Rule {
        example: "2 x 15/10 kg",
        pattern: r"(?:@\s*|\bat\s+|\bwith\s+(?:an?\s+)?|\bw/\s*)?(?:\b([12])\s*(?:x|\*)\s*|\b)(\d{1,3}(?:\.\d+)?)\s*({KG}|cm|inch(?:es)?|in)?\s*/\s*(\d{1,3}(?:\.\d+)?)(?:\s*/\s*\d{1,3}(?:\.\d+)?)?\s*-?\s*({KG}|cm|inch(?:es)?|in)(?:\b|$|\s|[),.;])",
        read: load_pair,
    },
    Rule {
        example: "22.5/15s",
        pattern: r"(?:@\s*|\bat\s+|\bwith\s+)?\b(\d{1,3}(?:\.\d+)?)(?:'?s)?\s*/\s*(\d{1,3}(?:\.\d+)?)'?s\b",
        read: |c| {
            group(c, 1, number)
                .map(|first| Clause::BareLoad(first, group(c, 2, number)))
                .into_iter()
                .collect()
        },
    },
    Rule {
        example: "men 60 kg, women 40 kg",
        pattern: r"(?:@\s*)?\b(?:men|man|guys|m|male|males|him)\s*[:=]?\s*(\d{1,3}(?:\.\d+)?)\s*({KG}|cm|in)?\s*[,/;|&-]*\s*(?:and\s+)?(?:women|woman|ladies|girls|w|f|female|females|her)\s*[:=]?\s*(\d{1,3}(?:\.\d+)?)\s*({KG}|cm|in)",
        read: load_named_pair,
    },
    Rule {
        example: "60 kg men / 40 kg women",
        pattern: r"(?:@\s*)?\b(\d{1,3}(?:\.\d+)?)\s*({KG}|cm|in)?\s*(?:for\s+)?(?:the\s+)?(?:men|guys|males?)\s*[,/;|&-]*\s*(?:and\s+)?(\d{1,3}(?:\.\d+)?)\s*({KG}|cm|in)\s*(?:for\s+)?(?:the\s+)?(?:women|ladies|girls|females?)\b",
        read: load_named_pair,
    },
    Rule {
        example: "50-60 kg",
        pattern: r"(?:@\s*)?\b(\d{1,3}(?:\.\d+)?)\s*(?:{KG})?\s*(?:-|to)\s*(\d{1,3}(?:\.\d+)?)\s*({KG})(?:\b|$|\s|[),.;])",
        read: |c| match (
            group(c, 1, number),
            group(c, 2, number),
            c.get(3).and_then(|m| load_unit(m.as_str(), 0.0)),
        ) {
            (Some(low), Some(high), Some(unit)) => vec![Clause::LoadRange(low, high, unit)],
            _ => Vec::new(),
        },
    },
    Rule {
        example: "24 kg",
        pattern: r"(?:@\s*|\bat\s+|\bwith\s+(?:an?\s+)?|\bw/\s*)?(?:\b([12])\s*(?:x|\*)\s*|\b)(\d{1,3}(?:\.\d+)?)\s*-?\s*({KG}|cm|inch(?:es)?)(?:\b|$|\s|[),.;])|\b()(\d{2})\s*-?\s*(in)\b(?:\s+(box|boxes|height|plates?))?(?:\s*$|\s*[),.;])",
        read: load_single,
    },
    Rule {
        example: "3 singles @",
        pattern: r"\b({N})\s*(singles?|doubles?|triples?)\s*(?:@|\bat\b)",
        read: |c| {
            let reps = match c[2].as_bytes()[0] {
                b's' => 1,
                b'd' => 2,
                _ => 3,
            };
            group(c, 1, whole).map(|sets| Clause::SetsReps { sets, reps, upper: None }).into_iter().collect()
        },
    },
    Rule {
        example: "60% of today's 3rm",
        pattern: r"(?:@\s*|\bat\s+)?\b\d{1,3}(?:\.\d+)?(?:\s*(?:-|to)\s*\d{1,3}(?:\.\d+)?)?\s*%\s*of\s+(?:your\s+|the\s+|today's\s+|that\s+)+\d{1,2}\s*-?\s*rm\b()",
        read: percent_of_a_max,
    },
    Rule {
        example: "22.5/15 db",
        pattern: r"\b()(?:([12])\s*x\s*)?(\d{1,3}(?:\.\d+)?)\s*/\s*(\d{1,3}(?:\.\d+)?)\s*({KG})?\s*(?:dbs?|dumb-?bells?|kbs?|kettlebells?)(?:$|[,.;)])",
        read: load_of_hand_tools,
    },
    Rule {
        example: "build to a 5rm",
        pattern: r"\b(?:build(?:ing)?|work(?:ing)?|climb(?:ing)?|go(?:ing)?|ramp(?:ing)?)\s*(?:up\s+)?to\s+(?:an?\s+|your\s+|today's\s+|the\s+)*(?:heavy\s+|max(?:imum)?\s+|tough\s+|best\s+|hard\s+)*(?:set of\s+)?({N}|single|double|triple)\s*-?\s*(?:rm\b|rep(?:etition)? max\b|reps?\b)?(\s*(?:%|kg|lb|-\s*\d|min\b|minutes))?",
        read: build_to,
    },
    Rule {
        example: "find a 3 rep max",
        pattern: r"\b(?:find|test|establish|hit|retest|set (?:an?|your|the|today's|new))\s+(?:an?\s+|your\s+|the\s+|today's\s+|new\s+)*(?:heavy\s+|max\s+)*({N}|single|double|triple)\s*-?\s*(?:rm|rep max)?\b(\s*(?:%|kg|min\b|minutes))?",
        read: build_to,
    },
    Rule {
        example: "heavy triple",
        pattern: r"\b(?:heavy|max)\s+(?:set of\s+)?(singles?|doubles?|triples?|{N})\b(-|\s*(?:%|kg|x|sets|rounds|min\b|minutes|[a-z]{3}))?",
        read: build_to,
    },
    Rule { example: "5rm", pattern: r"\b(\d{1,2})\s*-?\s*(?:rm|rep max)\b()", read: build_to },
    Rule {
        example: "5 x 500m",
        pattern: r"(?:,\s*(then)\s+)?\b(\d{1,2})\s*x\s*(\d{1,5}(?:\.\d+)?)(?:\s*/\s*(\d{1,5}))?\s*(cals?|calories|metres?|meters?|m|km|miles?)\b",
        read: |c| {
            let amount = amount(c, 3, 4, 5);
            match (group(c, 2, whole), amount, c.get(1)) {
                (Some(times), Some(amount), None) => vec![Clause::Rounds(times), amount],
                (Some(times), Some(amount), Some(_)) => vec![Clause::Then, Clause::Rounds(times), amount],
                _ => Vec::new(),
            }
        },
    },
    Rule {
        example: "3 sets of 30 s",
        pattern: r"\b({N})\s*(?:x|sets?\s*(?:of|x|:))\s*({T})",
        read: |c| match (group(c, 1, whole), group(c, 2, seconds)) {
            (Some(sets), Some(length)) => vec![Clause::Sets(sets), Clause::Length(length)],
            _ => Vec::new(),
        },
    },
    Rule {
        example: "3 x max",
        pattern: r"\b({N})\s*x\s*(?:max(?:imum)?|amrap)\b(?:\s*reps?)?(?:\s*of)?",
        read: |c| group(c, 1, whole).map_or_else(Vec::new, |n| vec![Clause::Sets(n), Clause::Max(None)]),
    },
    Rule {
        example: "4 x (",
        pattern: r"\b({N})\s*x\s*[(\[]",
        read: |c| group(c, 1, whole).map(Clause::Rounds).into_iter().collect(),
    },
    Rule {
        example: "2 x 15/10",
        pattern: r"(?:@\s*)?\b(2)\s*x\s*(\d{1,2}(?:\.\d+)?)()\s*/\s*(\d{1,2}(?:\.\d+)?)()\b",
        read: |c| {
            group(c, 2, number)
                .map(|first| Clause::BareLoad(first, group(c, 4, number)))
                .into_iter()
                .collect()
        },
    },
    Rule {
        example: "5x3",
        pattern: r"\b({N})\s*(?:x|by)\s*({N})(?:\s*-\s*(\d{1,2}))?\+?(?:\s*reps?\b)?",
        read: sets_reps,
    },
    Rule {
        example: "four sets of four",
        pattern: r"\b({N})\s*(?:work(?:ing)?\s+|hard\s+|heavy\s+|straight\s+|across\s+|ramping\s+|back[- ]?off\s+|down\s+|drop\s+|more\s+)?sets?\s*(?:of|x)\s*({N})(?:\s*-\s*(\d{1,2}))?\b(?:\s*reps?\b)?",
        read: sets_reps,
    },
    Rule {
        example: "3 sets",
        pattern: r"\b({N})\s*(?:work(?:ing)?\s+|hard\s+|heavy\s+|straight\s+|total\s+|super)?sets?\b",
        read: |c| group(c, 1, whole).map(Clause::Sets).into_iter().collect(),
    },
    Rule {
        example: "500 m row, then 2 rounds",
        pattern: r",\s*then\s+({N})\s*(?:rounds?|rds?|rnds?|laps?)\b(?:\s*of\b)?",
        read: |c| {
            let rounds = group(c, 1, whole).map(Clause::Rounds);
            [Clause::Then].into_iter().chain(rounds).collect()
        },
    },
    Rule {
        example: "3 rounds",
        pattern: r"(?:\bx\s*)?\b({N})\s*-?\s*(?:full\s+|total\s+|easy\s+|steady\s+)?(?:rounds?|rds?|rnds?|laps?|circuits?|times through|times round|trips|passes)\b|\brepeat\s*(?:x\s*)?({N})\s*(?:times|x)?|\b(twice) through\b",
        read: |c| {
            group(c, 1, whole)
                .or(group(c, 2, whole))
                .or(c.get(3).map(|_| 2))
                .map(Clause::Rounds)
                .into_iter()
                .collect()
        },
    },
    Rule {
        example: "x5",
        pattern: r"^\(?x\s*(\d{1,2})\)?\s*$",
        read: |c| group(c, 1, whole).map(Clause::Rounds).into_iter().collect(),
    },
    Rule {
        example: "10-9-8...1",
        pattern: r"\b\d{1,3}(?:\s*[-,]\s*\d{1,3})+\s*[-,]?\s*(?:\.{2,}|etc\.?|and so on)\s*[-,]?\s*(\d{1,3})?\b?",
        read: scheme_with_dots,
    },
    Rule {
        example: "21-15-9",
        pattern: r"\b(\d{1,3}(?:\s*-\s*\d{1,3}){2,})\b(\s*(?:%|kg|lb|#))?(?:\s*reps?\b(?:\s*of\b)?)?",
        read: scheme,
    },
    Rule {
        example: "21, 15, 9 reps of",
        pattern: r"\b(\d{1,3}(?:\s*[,/]\s*(?:and\s*)?\d{1,3}){2,}(?:,?\s*and\s*\d{1,3})?)()\s*(?:reps?(?:\s*(?:of|each|for time))?|for time|of)\b",
        read: scheme,
    },
    Rule {
        example: "50/40/30/20/10",
        pattern: r"\b(\d{1,3}(?:/\d{1,3}){2,})\b(\s*(?:%|kg|lb|#|cal|m\b))?",
        read: scheme,
    },
    Rule {
        example: "10 down to 1",
        pattern: r"\b(?:from\s+)?(\d{1,2})\s*(?:down to|to)\s*(1)\b|\b(?:from\s+)?(1)\s*(?:up to|to)\s*(\d{1,2})\b",
        read: scheme_ends,
    },
    Rule {
        example: "5@75, 3@85, 1+@95%",
        pattern: r"\b\d{1,2}\+?\s*@\s*\d{2,3}%?(?:\s*[,/;]\s*\d{1,2}\+?\s*@\s*\d{2,3}%?)*\s*[,/;]\s*\d{1,2}\+?\s*@\s*\d{2,3}\s*%",
        read: sets_at,
    },
    Rule {
        example: "5 @ 75%",
        pattern: r"\b(\d{1,2})\+?\s*(?:reps?\s*)?(?:@|at)\s*(\d{1,3}(?:\.\d+)?)\s*%",
        read: |c| match (group(c, 1, whole), group(c, 2, number)) {
            (Some(reps), Some(percent)) => vec![Clause::SetAt { reps, percent }],
            _ => Vec::new(),
        },
    },
    Rule {
        example: "70-75-80-85%",
        pattern: r"(?:@\s*|\bat\s+|\bfrom\s+)?\b\d{1,3}(?:\.\d+)?\s*(?:%|percent)?(?:\s*(?:-|to|/|up to|%\s*,|%\s*and|%\s*then)\s*\d{1,3}(?:\.\d+)?\s*)*\s*(?:%|percent\b|per cent\b)(?:\s*and up)?(?:\s*(?:of|x)\s*(?:your\s+|the\s+|today's\s+|that\s+|a\s+)*(?:\d\s*rm|max|tm|training max|best|e1rm|1rm|clean\s*(?:&|and)\s*jerk|snatch|c&j|back squat|front squat|deadlift|bench press|strict press|(?:heavy\s+)?(?:single|double|triple|three|five|set|lift|\d)))?(?:\s*1\s*rm)?(?:\s*(lighter|less|off|more|heavier|faster|slower|effort|of the (?:class|time|way)|of effort|drop))?",
        read: percent,
    },
    Rule { example: "@ 70, 75, 80%", pattern: r"@\s*\d{1,3}(?:\s*,\s*\d{1,3})+\s*%()", read: percent },
    Rule {
        example: "rpe 7-8",
        pattern: r"(?:@\s*)?\brpe\s*(?:of|@|:|around)?\s*(\d{1,2}(?:\.5)?)(?:\s*(?:-|to)\s*(\d{1,2}(?:\.5)?))?|(?:@\s*)?\b(\d)(?:\.5)?\s*rpe\b",
        read: |c| match (group(c, 1, number).or(group(c, 3, number)), group(c, 2, number)) {
            (Some(low), high) => vec![Clause::Rpe([low, high.unwrap_or(low)])],
            _ => Vec::new(),
        },
    },
    Rule {
        example: "2 rir",
        pattern: r"\b(\d)\s*(?:rir|reps? in (?:reserve|the tank))\b|\brir\s*(\d)\b",
        read: |c| {
            group(c, 1, number)
                .or(group(c, 2, number))
                .map(|left| Clause::Rpe([10.0 - left; 2]))
                .into_iter()
                .collect()
        },
    },
    Rule {
        example: "0:00 to 15:00",
        pattern: r"^(?:from\s+)?(\d{1,3}:\d\d)\s*(?:-|to|until)\s*(\d{1,3}:\d\d)\s*[-:,]?",
        read: |c| match (group(c, 1, seconds), group(c, 2, seconds)) {
            (Some(from), Some(to)) if to > from => vec![Clause::Window { seconds: to - from }],
            _ => Vec::new(),
        },
    },
    Rule {
        example: "minutes 0-15:",
        pattern: r"^(?:min(?:ute)?s?)\s*(\d{1,3})\s*(?:-|to)\s*(\d{1,3})\s*[-:,]",
        read: |c| match (group(c, 1, whole), group(c, 2, whole)) {
            (Some(from), Some(to)) if to > from => vec![Clause::Window { seconds: (to - from) * 60 }],
            _ => Vec::new(),
        },
    },
    Rule {
        example: "from 20:00,",
        pattern: r"^(?:from|at|starting at|@)\s+(\d{1,3}:\d\d)\s*(?:on)?\s*[-:,]?",
        read: |_| vec![Clause::ClockStart],
    },
    Rule { example: "buy-in:", pattern: r"\bbuy\s?-?\s?in\b\s*[:-]?", read: |_| vec![Clause::BuyIn] },
    Rule {
        example: "cash-out:",
        pattern: r"\b(?:cash|buy)\s?-?\s?out\b\s*[:-]?",
        read: |_| vec![Clause::CashOut],
    },
    Rule {
        example: "after every round",
        pattern: r"\b(?:after|at the end of|between|to finish)\s+(?:every|each|all)(?:\s+of the)?\s+(?:rounds?|sets?|rungs?|ones?)\b|\bbetween (?:the )?(?:rounds|rungs)\b",
        read: |_| vec![Clause::AfterEach],
    },
    Rule {
        example: "then",
        pattern: r"^(?:and\s+)?(?:then|finally|finish(?:ing)? (?:with|on)|end(?:ing)? with|followed by)\b\s*[,:]?|,?\s*\bthen\b\s*:?\s*$",
        read: |_| vec![Clause::Then],
    },
    Rule {
        example: "max reps of",
        pattern: r"\b(?:max(?:imum|imal)?|as many)\s*-?\s*(?:(?:unbroken|effort|reps?|set|sets)\s*)*(cals?|calories|metres?|meters?|distance)?(?:\s*(?:reps?|of|as possible))*\b|\bto failure\b|\bamrap\b",
        read: max,
    },
    Rule {
        example: "each side",
        pattern: r"\b(?:on\s+)?(?:each|per|ea\.?|either|every)\s*-?\s*(?:side|arm|leg|hand|foot|direction|way)s?\b|/\s*(?:side|arm|leg|hand|each|s|a|l)\b|\be/?s\b|\be/a\b|\be/l\b|\ba side\b|\bp/s\b|\bboth sides\b|\bl\s*/\s*r\b|\bl\s*\+\s*r\b|\bleft and right\b",
        read: |_| vec![Clause::Side],
    },
    Rule {
        example: "same bar",
        pattern: r"\b(?:(?:with|on|at|using)\s+)?(?:(?:the|that|this)\s+)?same\s+(?:(?:heavy|light|db|kb)\s+)?(?:bar|bell|kettlebell|kb|pair|dumbbells?|dbs?|weights?|loads?|ball|plates?|box|barbell)\b|\bthat (?:bell|bar|pair|weight|load)\b",
        read: |_| vec![Clause::SameLoad],
    },
    Rule {
        example: "@ 60/40",
        pattern: r"(?:@|\bat)\s*(?:([12])\s*x\s*)?(\d{1,3}(?:\.\d+)?)(?:\s*/\s*(\d{1,3}(?:\.\d+)?))?\b",
        read: |c| {
            group(c, 2, number)
                .filter(|first| *first > 0.0)
                .map(|first| Clause::BareLoad(first, group(c, 3, number)))
                .into_iter()
                .collect()
        },
    },
    Rule {
        example: "12/10 cal",
        pattern: r"\b(\d{1,6}(?:\.\d+)?)(?:\s*/\s*(\d{1,6}(?:\.\d+)?))?\s*-?\s*(cals?|calories|calorie|kcals?|metres?|meters?|mtrs?|m|kms?|kilometres?|kilometers?|miles?|mi|yards?|yds?|feet|ft|foot|reps?)\b",
        read: |c| amount(c, 1, 2, 3).into_iter().collect(),
    },
    Rule {
        example: "5k",
        pattern: r"\b(\d{1,2}(?:\.\d)?)()k()\b",
        read: |c| {
            group(c, 1, number)
                .map(|km| Clause::Amount { first: km * 1000.0, second: None, unit: Some(Unit::Metres) })
                .into_iter()
                .collect()
        },
    },
    Rule {
        example: "30 s",
        pattern: r"\b{T}",
        read: |c| seconds(&c[0]).map(Clause::Length).into_iter().collect(),
    },
    Rule { example: "or", pattern: r"\bor\b", read: |_| vec![Clause::Or] },
];

/// Words that stand in a rule; they are known, so spelling leaves them alone. Of `miles?` both spellings are.
pub(super) fn rule_words() -> impl Iterator<Item = &'static str> {
    RULES.iter().flat_map(|rule| {
        let letters = |c: char| c.is_ascii_lowercase();
        // The letter of a class (`\\b`) is no part of the word after it.
        let words = rule.pattern.split('\\').enumerate().flat_map(move |(n, piece)| {
            piece.get(usize::from(n > 0)..).unwrap_or_default().split(move |c| !letters(c))
        });
        let shorter = rule.pattern.split('?').filter_map(move |before| {
            let word = &before[before.trim_end_matches(letters).len()..];
            word.get(..word.len().checked_sub(1)?)
        });
        words.chain(shorter).filter(|word| word.len() >= 3)
    })
}
