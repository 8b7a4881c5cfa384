-- What was taken back would stand again.
delete from decisions where undone_at is not null;
alter table decisions drop column made_by, drop column undone_at, drop column undone_by;
