drop trigger tells on maxes;
drop function lantern_told_of_a_set();
drop trigger tells on decisions;
drop trigger tells on results;
drop table happenings;
drop function lantern_told();
