create index results_of_piece on results (gym_id, piece_id);
drop index results_of_piece_and_member;
drop index pieces_of_a_shape;
alter table pieces drop column shape;
