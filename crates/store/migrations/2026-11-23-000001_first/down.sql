drop table movement_aliases;
drop table sessions;
drop table maxes;
drop table members;
drop table gyms;
