delete from removals where kind = 'habit';
alter table removals drop constraint removals_kind_check;
alter table removals add constraint removals_kind_check
    check (kind in ('class', 'lift', 'name', 'movement', 'cycle'));
