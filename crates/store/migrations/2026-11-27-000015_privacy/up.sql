-- What others see of a name, what somebody has agreed to, and how old what they spare is; keys for programs.
alter table members
    add column shown text not null default 'first' check (shown in ('full', 'first', 'initials', 'hidden')),
    -- When what they spare was last said or looked at: it goes when the gym's time for it is over.
    add column limits_on date not null default current_date;

create table consents (
    gym_id bigint not null references gyms (id) on delete cascade,
    id bigint generated always as identity,
    member_id bigint not null,
    -- Who has noted it: themselves, or a coach to whom they said it.
    noted_by text not null check (length(noted_by) <= 120),
    given_at timestamptz not null default now(),
    withdrawn_at timestamptz,
    primary key (gym_id, id),
    foreign key (gym_id, member_id) references members (gym_id, id) on delete cascade
);
create index consents_of_member on consents (gym_id, member_id);
alter table consents enable row level security, force row level security;
create policy of_one_gym on consents using (gym_id = lantern_gym() or lantern_operator());

alter table keys drop constraint keys_kind_check;
alter table keys
    add constraint keys_kind_check check (kind in ('wall', 'calendar', 'api')),
    -- What a program may ask for.
    add column scopes text[] not null default '{}' check (scopes <@ array['sessions', 'loads', 'members']);
