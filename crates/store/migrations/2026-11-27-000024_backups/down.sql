drop trigger counts on happenings;
drop table backups;
