//! Tables as Diesel sees them, printed from what the migrations make; a test compares.

diesel::table! {
    accounts (id) {
        id -> Int8,
        email -> Text,
        passphrase -> Nullable<Text>,
        gyms -> Array<Int8>,
        created_at -> Timestamptz,
        code_secret -> Nullable<Bytea>,
        code_step -> Nullable<Int8>,
        code_spare -> Array<Bytea>,
    }
}

diesel::table! {
    backups (id) {
        id -> Int8,
        made_at -> Timestamptz,
        verified_at -> Nullable<Timestamptz>,
        bytes -> Int8,
        rows -> Int8,
    }
}

diesel::table! {
    bookings (gym_id, id) {
        id -> Int8,
        gym_id -> Int8,
        class_id -> Int8,
        member_id -> Int8,
        came -> Text,
    }
}

diesel::table! {
    classes (gym_id, id) {
        id -> Int8,
        gym_id -> Int8,
        day -> Date,
        starts -> Time,
        minutes -> Int4,
        coach -> Text,
    }
}

diesel::table! {
    consents (gym_id, id) {
        gym_id -> Int8,
        id -> Int8,
        member_id -> Int8,
        noted_by -> Text,
        given_at -> Timestamptz,
        withdrawn_at -> Nullable<Timestamptz>,
    }
}

diesel::table! {
    decisions (gym_id, id) {
        id -> Int8,
        gym_id -> Int8,
        day -> Date,
        starts -> Text,
        about -> Text,
        what -> Jsonb,
        made_at -> Timestamptz,
        by_id -> Bool,
        made_by -> Text,
        undone_at -> Nullable<Timestamptz>,
        undone_by -> Nullable<Text>,
    }
}

diesel::table! {
    gym_movements (gym_id, id) {
        id -> Int8,
        gym_id -> Int8,
        name -> Text,
        definition -> Jsonb,
    }
}

diesel::table! {
    gyms (id) {
        id -> Int8,
        name -> Text,
        settings -> Jsonb,
        created_at -> Timestamptz,
        demo -> Bool,
        version -> Int8,
        changed_in -> Nullable<Int8>,
    }
}

diesel::table! {
    happenings (gym_id, id) {
        id -> Int8,
        gym_id -> Int8,
        day -> Date,
        starts -> Text,
        at_ms -> Int8,
        what -> Jsonb,
        key -> Text,
        made_at -> Timestamptz,
        made_by -> Text,
    }
}

diesel::table! {
    health_views (gym_id, member_id, hour, account_id) {
        gym_id -> Int8,
        member_id -> Int8,
        hour -> Timestamptz,
        account_id -> Int8,
        viewer -> Text,
    }
}

diesel::table! {
    invitations (gym_id, id) {
        gym_id -> Int8,
        id -> Int8,
        token -> Bytea,
        email -> Text,
        role -> Text,
        name -> Text,
        member_id -> Nullable<Int8>,
        made_at -> Timestamptz,
        ends_at -> Timestamptz,
    }
}

diesel::table! {
    keys (gym_id, id) {
        gym_id -> Int8,
        id -> Int8,
        kind -> Text,
        token -> Bytea,
        name -> Text,
        made_at -> Timestamptz,
        used_at -> Nullable<Timestamptz>,
        scopes -> Array<Text>,
    }
}

diesel::table! {
    login_sessions (token) {
        token -> Bytea,
        account_id -> Int8,
        gym_id -> Int8,
        began_at -> Timestamptz,
        seen_at -> Timestamptz,
    }
}

diesel::table! {
    maxes (gym_id, id) {
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
        undo_key -> Nullable<Text>,
        kept -> Nullable<Bool>,
        asked_grams -> Nullable<Int4>,
        asked_reps -> Nullable<Int4>,
    }
}

diesel::table! {
    members (gym_id, id) {
        id -> Int8,
        gym_id -> Int8,
        name -> Text,
        profile -> Jsonb,
        created_at -> Timestamptz,
        twin -> Int4,
        shown -> Text,
        limits_on -> Date,
        told -> Jsonb,
    }
}

diesel::table! {
    memberships (gym_id, account_id) {
        gym_id -> Int8,
        account_id -> Int8,
        role -> Text,
        name -> Text,
        member_id -> Nullable<Int8>,
        since -> Timestamptz,
    }
}

diesel::table! {
    movement_aliases (gym_id, id) {
        id -> Int8,
        gym_id -> Int8,
        alias -> Text,
        movement -> Text,
    }
}

diesel::table! {
    one_time_links (token) {
        token -> Bytea,
        kind -> Text,
        gym_id -> Nullable<Int8>,
        account_id -> Nullable<Int8>,
        ends_at -> Timestamptz,
    }
}

diesel::table! {
    pieces (gym_id, id) {
        gym_id -> Int8,
        id -> Int8,
        day -> Date,
        place -> Nullable<Int4>,
        kind -> Text,
        words -> Text,
        fingerprint -> Text,
        tree -> Jsonb,
        reader -> Text,
        told -> Nullable<Jsonb>,
        shape -> Text,
    }
}

diesel::table! {
    removals (gym_id, id) {
        id -> Int8,
        gym_id -> Int8,
        member_id -> Nullable<Int8>,
        key -> Text,
        kind -> Text,
        what -> Jsonb,
        removed_at -> Timestamptz,
    }
}

diesel::table! {
    results (gym_id, id) {
        id -> Int8,
        gym_id -> Int8,
        day -> Date,
        starts -> Text,
        piece_id -> Int8,
        member_id -> Int8,
        what -> Jsonb,
        key -> Text,
        made_at -> Timestamptz,
        made_by -> Text,
        undone_at -> Nullable<Timestamptz>,
        undone_by -> Nullable<Text>,
    }
}

diesel::table! {
    session_texts (gym_id, day, revision) {
        gym_id -> Int8,
        day -> Date,
        revision -> Int4,
        text -> Text,
        writer -> Text,
        saved_at -> Timestamptz,
        corrections -> Jsonb,
        saved_by -> Text,
        while_typing -> Bool,
        passed_over -> Bool,
    }
}

diesel::table! {
    sessions (gym_id, id) {
        id -> Int8,
        gym_id -> Int8,
        day -> Date,
        text -> Text,
        revision -> Int4,
        updated_at -> Timestamptz,
        corrections -> Jsonb,
    }
}

diesel::table! {
    throttles (about) {
        about -> Bytea,
        failures -> Int4,
        last_at -> Timestamptz,
    }
}

diesel::joinable!(memberships -> gyms (gym_id));
diesel::joinable!(login_sessions -> accounts (account_id));
// Every pair that may stand in one query costs the compiler time: those that do.
diesel::allow_tables_to_appear_in_same_query!(memberships, accounts, gyms, login_sessions);
diesel::allow_tables_to_appear_in_same_query!(results, pieces);
diesel::allow_tables_to_appear_in_same_query!(pieces, sessions);
diesel::allow_tables_to_appear_in_same_query!(bookings, classes);
diesel::allow_tables_to_appear_in_same_query!(maxes, members);
