drop trigger tells on decisions;
drop trigger tells on results;
drop table happenings;
drop function lantern_told();
