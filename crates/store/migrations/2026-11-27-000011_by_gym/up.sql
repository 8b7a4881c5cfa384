-- The gym stands first in every key, unique index and reference, so that no row can join two gyms, and the tables can be spread over
-- machines by gym. Only the gyms themselves are found by an id alone.

-- Keys: what refers to them goes with them and is made anew below.
alter table members drop constraint members_pkey cascade, add primary key (gym_id, id);
alter table classes drop constraint classes_pkey cascade, add primary key (gym_id, id);
alter table maxes drop constraint maxes_pkey, add primary key (gym_id, id);
alter table sessions drop constraint sessions_pkey, add primary key (gym_id, id);
alter table movement_aliases drop constraint movement_aliases_pkey, add primary key (gym_id, id);
alter table gym_movements drop constraint gym_movements_pkey, add primary key (gym_id, id);
alter table bookings drop constraint bookings_pkey, add primary key (gym_id, id);
alter table decisions drop constraint decisions_pkey, add primary key (gym_id, id);
alter table removals drop constraint removals_pkey, add primary key (gym_id, id);

-- What refers to a member or a class refers to one of the same gym.
alter table maxes add constraint maxes_of_their_gym
    foreign key (gym_id, member_id) references members (gym_id, id) on delete cascade;
alter table removals add constraint removals_of_their_gym
    foreign key (gym_id, member_id) references members (gym_id, id) on delete cascade;
alter table bookings
    add constraint bookings_of_a_class foreign key (gym_id, class_id) references classes (gym_id, id) on delete cascade,
    add constraint bookings_of_a_member foreign key (gym_id, member_id) references members (gym_id, id) on delete cascade,
    drop constraint bookings_class_id_member_id_key,
    add constraint bookings_once unique (gym_id, class_id, member_id);

drop index bookings_of_gym;
drop index maxes_by_member;
drop index bookings_by_member;
drop index removals_of_member;
create index bookings_by_member on bookings (gym_id, member_id);
create index removals_of_member on removals (gym_id, member_id);
