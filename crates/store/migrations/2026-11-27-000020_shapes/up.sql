-- What a part says without its loads and its cap: the same piece when it comes back heavier or lighter. Parts that were kept before have none until
-- they are kept again, and are recognised word for word alone.
alter table pieces add column shape text not null default '' check (length(shape) <= 64);
create index pieces_of_a_shape on pieces (gym_id, shape, day) where shape <> '';
