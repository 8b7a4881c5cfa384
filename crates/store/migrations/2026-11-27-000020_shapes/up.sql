-- What a part says without its loads and its cap: the same piece when it comes back heavier or lighter. Parts that were kept before are known by what they
-- say word for word until they are kept again.
alter table pieces add column shape text not null default '' check (length(shape) <= 64);
update pieces set shape = fingerprint;
create index pieces_of_a_shape on pieces (gym_id, shape, day);
-- What a few people did of a piece, among hundreds.
create index results_of_piece_and_member on results (gym_id, piece_id, member_id, id desc);
drop index results_of_piece;
