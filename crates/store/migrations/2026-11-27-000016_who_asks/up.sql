-- What of a gym every page needs.
create function lantern_known(gym bigint) returns jsonb language sql stable as $$
    select jsonb_build_object('settings', g.settings, 'version', g.version,
        'names', coalesce((select jsonb_agg(jsonb_build_array(a.alias, a.movement) order by a.alias)
            from movement_aliases a where a.gym_id = g.id), '[]'),
        'own', coalesce((select jsonb_agg(o.definition order by o.name)
            from gym_movements o where o.gym_id = g.id), '[]'))
    from gyms g where g.id = gym
$$;

-- Who asks, in one question: the login session of a token, what its account is at the gym that it looks at, and what of the gym every page
-- needs. Nothing where the session has ended, or the account belongs there no longer. Noted as seen now and then, not each time.
create function lantern_who(asked bytea, longest_days int, idle_days int, noted_minutes int) returns jsonb language plpgsql as $$
declare
    who record;
    belongs jsonb;
begin
    select a.id, a.email, s.gym_id, s.seen_at into who
        from login_sessions s join accounts a on a.id = s.account_id
        where s.token = asked
            and s.began_at >= now() - make_interval(days => longest_days)
            and s.seen_at >= now() - make_interval(days => idle_days);
    if not found then
        return null;
    end if;
    if who.seen_at < now() - make_interval(mins => noted_minutes) then
        update login_sessions set seen_at = now() where token = asked;
    end if;
    -- For this statement alone, like the gym of any other transaction.
    perform set_config('lantern.gym', who.gym_id::text, true);
    select jsonb_build_object('account', who.id, 'email', who.email, 'gym', who.gym_id,
            'role', m.role, 'name', m.name, 'member', m.member_id) || lantern_known(who.gym_id)
        into belongs
        from memberships m where m.gym_id = who.gym_id and m.account_id = who.id;
    return belongs;
end $$;
