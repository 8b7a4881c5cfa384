-- What a coach has put right in the reading of a text; the layout is lantern_reader::corrections::Correction. Kept with each text that a day has had.
alter table sessions add column corrections jsonb not null default '[]';
alter table session_texts add column corrections jsonb not null default '[]';
