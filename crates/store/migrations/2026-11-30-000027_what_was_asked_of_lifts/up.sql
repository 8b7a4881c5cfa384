-- The heaviest set that somebody's sheet asked for when a set was entered on it, in grams and repetitions; nothing for what came otherwise, and for those of before.
alter table maxes add column asked_grams integer check (asked_grams > 0);
alter table maxes add column asked_reps integer check (asked_reps >= 0);
