-- A habit of the coach's hand that is forgotten comes back by one click, as everything else that is removed.
alter table removals drop constraint removals_kind_check;
alter table removals add constraint removals_kind_check
    check (kind in ('class', 'lift', 'name', 'movement', 'cycle', 'habit'));
