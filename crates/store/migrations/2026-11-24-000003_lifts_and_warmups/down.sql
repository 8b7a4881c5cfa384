drop table warmup_edits;
alter table maxes drop column reps, drop column rpe, drop column missed;
