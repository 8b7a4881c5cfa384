drop index pieces_that_tell;
alter table pieces drop column told;
alter table members drop column told;
