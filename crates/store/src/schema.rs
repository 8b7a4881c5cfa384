//! Tables as Diesel sees them; the migrations are the truth.

diesel::table! {
    gyms (id) {
        id -> Int8,
        name -> Text,
        settings -> Jsonb,
        created_at -> Timestamptz,
    }
}

diesel::table! {
    members (id) {
        id -> Int8,
        gym_id -> Int8,
        name -> Text,
        profile -> Jsonb,
        created_at -> Timestamptz,
    }
}

diesel::table! {
    maxes (id) {
        id -> Int8,
        gym_id -> Int8,
        member_id -> Int8,
        lift -> Text,
        grams -> Int4,
        set_on -> Date,
        source -> Text,
        reps -> Int4,
        rpe -> Nullable<Float4>,
        missed -> Bool,
    }
}

diesel::table! {
    sessions (id) {
        id -> Int8,
        gym_id -> Int8,
        day -> Date,
        text -> Text,
        revision -> Int4,
        updated_at -> Timestamptz,
    }
}

diesel::table! {
    movement_aliases (id) {
        id -> Int8,
        gym_id -> Int8,
        alias -> Text,
        movement -> Text,
    }
}

diesel::table! {
    gym_movements (id) {
        id -> Int8,
        gym_id -> Int8,
        name -> Text,
        definition -> Jsonb,
    }
}

diesel::table! {
    warmup_edits (id) {
        id -> Int8,
        gym_id -> Int8,
        day -> Date,
        edits -> Jsonb,
    }
}

diesel::table! {
    piece_edits (id) {
        id -> Int8,
        gym_id -> Int8,
        day -> Date,
        edits -> Jsonb,
    }
}

diesel::table! {
    classes (id) {
        id -> Int8,
        gym_id -> Int8,
        day -> Date,
        starts -> Time,
        minutes -> Int4,
        coach -> Text,
    }
}

diesel::table! {
    bookings (id) {
        id -> Int8,
        gym_id -> Int8,
        class_id -> Int8,
        member_id -> Int8,
    }
}

diesel::table! {
    hour_edits (id) {
        id -> Int8,
        gym_id -> Int8,
        day -> Date,
        starts -> Text,
        edits -> Jsonb,
    }
}

diesel::allow_tables_to_appear_in_same_query!(
    gyms,
    members,
    maxes,
    sessions,
    movement_aliases,
    gym_movements,
    warmup_edits,
    piece_edits,
    classes,
    bookings,
    hour_edits
);
