drop trigger tells on gyms;
drop function lantern_told_of_gym();
drop table happenings;
drop function lantern_told();
