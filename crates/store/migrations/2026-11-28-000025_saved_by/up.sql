-- Who saved a text of a day, as they were called then; empty for those of before.
alter table session_texts add column saved_by text not null default '' check (length(saved_by) <= 200);
