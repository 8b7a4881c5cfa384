-- What names members and parts by id means nothing without them.
delete from decisions where by_id;
alter table decisions drop column by_id;
drop table pieces;
update members set name = name || ' (' || twin || ')' where twin > 1;
alter table members drop constraint members_told_apart;
alter table members drop column twin;
alter table members add constraint members_gym_id_name_key unique (gym_id, name);
