-- The second wall: within a transaction the tables show one gym's rows, whatever a query asks for. The owner of the tables is held
-- to it too, so the program needs no second role; it must not be a superuser, whom nothing holds.

create function lantern_gym() returns bigint language sql stable
    as $$ select nullif(current_setting('lantern.gym', true), '')::bigint $$;
-- Whoever runs the server, from the terminal: commands about all gyms, and migrations.
create function lantern_operator() returns boolean language sql stable
    as $$ select current_setting('lantern.operator', true) is not distinct from 'on' $$;

alter table gyms enable row level security, force row level security;
create policy of_one_gym on gyms using (id = lantern_gym() or lantern_operator());
alter table members enable row level security, force row level security;
create policy of_one_gym on members using (gym_id = lantern_gym() or lantern_operator());
alter table maxes enable row level security, force row level security;
create policy of_one_gym on maxes using (gym_id = lantern_gym() or lantern_operator());
alter table sessions enable row level security, force row level security;
create policy of_one_gym on sessions using (gym_id = lantern_gym() or lantern_operator());
alter table session_texts enable row level security, force row level security;
create policy of_one_gym on session_texts using (gym_id = lantern_gym() or lantern_operator());
alter table pieces enable row level security, force row level security;
create policy of_one_gym on pieces using (gym_id = lantern_gym() or lantern_operator());
alter table decisions enable row level security, force row level security;
create policy of_one_gym on decisions using (gym_id = lantern_gym() or lantern_operator());
alter table movement_aliases enable row level security, force row level security;
create policy of_one_gym on movement_aliases using (gym_id = lantern_gym() or lantern_operator());
alter table gym_movements enable row level security, force row level security;
create policy of_one_gym on gym_movements using (gym_id = lantern_gym() or lantern_operator());
alter table classes enable row level security, force row level security;
create policy of_one_gym on classes using (gym_id = lantern_gym() or lantern_operator());
alter table bookings enable row level security, force row level security;
create policy of_one_gym on bookings using (gym_id = lantern_gym() or lantern_operator());
alter table removals enable row level security, force row level security;
create policy of_one_gym on removals using (gym_id = lantern_gym() or lantern_operator());
alter table memberships enable row level security, force row level security;
create policy of_one_gym on memberships using (gym_id = lantern_gym() or lantern_operator());
alter table invitations enable row level security, force row level security;
create policy of_one_gym on invitations using (gym_id = lantern_gym() or lantern_operator());
alter table keys enable row level security, force row level security;
create policy of_one_gym on keys using (gym_id = lantern_gym() or lantern_operator());
alter table health_views enable row level security, force row level security;
create policy of_one_gym on health_views using (gym_id = lantern_gym() or lantern_operator());
