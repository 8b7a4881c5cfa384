-- Who decided, and who took it back when: any decision can be taken back later, whatever came after it.
alter table decisions
    add column made_by text not null default '' check (length(made_by) <= 120),
    add column undone_at timestamptz,
    add column undone_by text check (length(undone_by) <= 120);
