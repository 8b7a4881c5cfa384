-- Movements of a gym's own.
create table gym_movements (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    name text not null check (length(name) between 1 and 60),
    -- How the gym describes it; the layout is lantern_core::movement::OwnMovement.
    definition jsonb not null,
    unique (gym_id, name)
);
