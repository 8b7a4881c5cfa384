-- What results tell of pace, kept beside whom and what it is about, so that planning a day looks through no results. Both follow from the results
-- that stand, and are made anew whenever one of them changes.
alter table members add column told jsonb not null default '[]' check (length(told::text) <= 60000);
alter table pieces add column told jsonb check (length(told::text) <= 4000);
create index pieces_that_tell on pieces (gym_id, day) where told is not null;
