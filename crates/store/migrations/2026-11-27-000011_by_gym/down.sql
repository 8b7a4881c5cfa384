drop index removals_of_member;
drop index bookings_by_member;
create index bookings_of_gym on bookings (gym_id, class_id);
create index maxes_by_member on maxes (member_id);
create index bookings_by_member on bookings (member_id);
create index removals_of_member on removals (member_id);

alter table maxes drop constraint maxes_of_their_gym;
alter table removals drop constraint removals_of_their_gym;
alter table bookings
    drop constraint bookings_of_a_class,
    drop constraint bookings_of_a_member,
    drop constraint bookings_once,
    add constraint bookings_class_id_member_id_key unique (class_id, member_id);

alter table members drop constraint members_pkey, add primary key (id);
alter table classes drop constraint classes_pkey, add primary key (id);
alter table maxes drop constraint maxes_pkey, add primary key (id),
    add constraint maxes_member_id_fkey foreign key (member_id) references members (id) on delete cascade;
alter table sessions drop constraint sessions_pkey, add primary key (id);
alter table movement_aliases drop constraint movement_aliases_pkey, add primary key (id);
alter table gym_movements drop constraint gym_movements_pkey, add primary key (id);
alter table bookings drop constraint bookings_pkey, add primary key (id),
    add constraint bookings_class_id_fkey foreign key (class_id) references classes (id) on delete cascade,
    add constraint bookings_member_id_fkey foreign key (member_id) references members (id) on delete cascade;
alter table decisions drop constraint decisions_pkey, add primary key (id);
alter table removals drop constraint removals_pkey, add primary key (id),
    add constraint removals_member_id_fkey foreign key (member_id) references members (id) on delete cascade;
