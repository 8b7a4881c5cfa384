-- A text that was saved by itself while somebody typed, until somebody saves it, and whether the page that saved it has gone on since.
alter table session_texts add column while_typing boolean not null default false;
alter table session_texts add column passed_over boolean not null default false;
