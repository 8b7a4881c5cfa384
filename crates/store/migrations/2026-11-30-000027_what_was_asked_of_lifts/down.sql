alter table maxes drop column asked_reps;
alter table maxes drop column asked_grams;
