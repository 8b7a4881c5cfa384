drop index pieces_of_a_shape;
alter table pieces drop column shape;
