drop table backups;
