-- What coaches have decided about the pieces of a day: intended results, versions, equipment at home.
create table piece_edits (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    day date not null,
    -- The layout is lantern_core::versions::PieceEdits.
    edits jsonb not null,
    unique (gym_id, day)
);
