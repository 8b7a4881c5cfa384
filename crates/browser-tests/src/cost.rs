//! What a page costs the processor, and how long it takes in an installation that has grown.

use std::time::{Duration, Instant};

use crate::{TestDatabase, TestServer};

/// What a page costs.
#[derive(Clone, Debug)]
pub struct Cost {
    /// Its address.
    pub page: String,
    /// Processor time of the application for one request, when nothing has changed.
    pub kept: Duration,
    /// From asking to the last byte when everything is made anew, the median.
    pub made: Duration,
}

/// Processor time that a process has used so far.
pub fn processor(process: u32) -> Duration {
    let stat = std::fs::read_to_string(format!("/proc/{process}/stat")).unwrap_or_default();
    let fields: Vec<&str> = stat.rsplit(')').next().unwrap_or_default().split_whitespace().collect();
    let ticks = |place: usize| fields.get(place).and_then(|field| field.parse::<u64>().ok()).unwrap_or(0);
    // User and system time, in hundredths of a second as Linux counts them.
    Duration::from_millis((ticks(11) + ticks(12)) * 10)
}

/// Asks for each page so often, unchanged and after changes.
pub fn costs(
    database: &TestDatabase,
    (server, process): (&TestServer, u32),
    pages: &[String],
    (times, anew): (u32, u32),
) -> Vec<Cost> {
    let road = server.road();
    let cost = |page: &String| {
        road.ask(page);
        let mut made: Vec<Duration> = (0..anew)
            .map(|_| {
                database.run("update gyms set version = version + 1");
                let begun = Instant::now();
                road.ask(page);
                begun.elapsed()
            })
            .collect();
        made.sort();
        let before = processor(process);
        for _ in 0..times {
            road.ask(page);
        }
        let kept = (processor(process) - before) / times;
        Cost { page: page.clone(), kept, made: made[made.len() / 2] }
    };
    pages.iter().map(cost).collect()
}

/// Fills an installation with gyms of so many members each, with lifts and classes as the demo's have.
pub fn grow(database: &TestDatabase, gyms: u32, members: u32) {
    database.run(&format!(
        "do $$
         declare model bigint; n int; made bigint;
         begin
           select min(id) into model from gyms;
           for n in 1..{gyms} loop
             insert into gyms (name, settings) select 'Gym ' || n, settings from gyms where id = model returning id into made;
             insert into members (gym_id, name, profile)
               select made, 'Member ' || k, (array(select profile from members where gym_id = model order by id))[1 + k % 14]
               from generate_series(1, {members}) k;
             insert into maxes (gym_id, member_id, lift, grams, set_on, source)
               select made, m.id, l.lift, 40000 + 1000 * (m.id % 60), current_date - 7 * w, 'tested'
               from members m, (select distinct lift from maxes where gym_id = model) l, generate_series(1, 3) w
               where m.gym_id = made;
             insert into sessions (gym_id, day, text) select made, day, text from sessions where gym_id = model;
             insert into pieces (gym_id, day, place, kind, words, fingerprint, shape, tree, reader)
               select made, day, place, kind, words, fingerprint, shape, tree, reader from pieces where gym_id = model;
             insert into classes (gym_id, day, starts, minutes, coach)
               select made, day, starts, minutes, coach from classes where gym_id = model;
             insert into bookings (gym_id, class_id, member_id)
               select made, c.id, m.id from classes c join lateral
                 (select id from members where gym_id = made order by id offset (c.id % 10) * 14 limit 14) m on true
               where c.gym_id = made;
           end loop;
         end $$"
    ));
    database.run("analyze");
}

/// Gives the demo gym members and ten years of results: so many of them, loaded as one by the database, of pieces that come again and again.
pub fn grow_results(database: &TestDatabase, members: u32, results: u32) {
    let days = 3650;
    let a_day = results / days;
    database.run(&format!(
        "do $$
         declare model bigint; people int;
         begin
           select min(id) into model from gyms;
           alter table results disable trigger user;
           alter table pieces disable trigger user;
           insert into members (gym_id, name, profile)
             select model, 'Member ' || k, (array(select profile from members where gym_id = model order by id))[1 + k % 14]
             from generate_series(1, {members}) k;
           select count(*) into people from members where gym_id = model;
           insert into sessions (gym_id, day, text)
             select model, current_date - 30 - n, (array(select text from sessions where gym_id = model order by day))[1 + n % 10]
             from generate_series(1, case when {a_day} > 0 then {days} else 0 end) n on conflict do nothing;
           insert into pieces (gym_id, day, place, kind, words, fingerprint, shape, tree, reader)
             select model, current_date - 30 - n, 0, p.kind, p.words, p.fingerprint, p.shape, p.tree, p.reader
             from generate_series(1, case when {a_day} > 0 then {days} else 0 end) n join lateral
               (select * from pieces where gym_id = model and kind = 'conditioning' and place is not null
                and day >= current_date - 20 order by id offset n % 8 limit 1) p on true;
           insert into results (gym_id, day, starts, piece_id, member_id, what, key, made_by)
             select model, p.day, '18:00', p.id, m.id,
               jsonb_build_object('version', 'AsWritten', 'done', jsonb_build_object('done', 'finished', 'seconds', 500 + k % 200),
                 'said', '8:20', 'value', 500 + k % 200, 'at_least', false,
                 'predicted', jsonb_build_object('measure', 'finish', 'spread', jsonb_build_array(500, 600, 700),
                   'window', jsonb_build_array(480, 720))),
               'grown-' || p.id || '-' || k, 'Iris'
             from pieces p cross join generate_series(1, {a_day}) k
               join lateral (select id from members where gym_id = model order by id offset (k * 7 + p.id) % people limit 1) m on true
             where p.gym_id = model and p.day < current_date - 30
               and not exists (select 1 from results r where r.gym_id = p.gym_id and r.piece_id = p.id);
           alter table results enable trigger user;
           alter table pieces enable trigger user;
         end $$"
    ));
    database.run("analyze");
}

/// Gives the installation so many gyms more, each with the members, the pieces and the results of the demo gym, loaded as one by the database.
pub fn grow_installation(database: &TestDatabase, gyms: u32) {
    database.run(&format!(
        "do $$
         declare model bigint; n int; made bigint;
         begin
           select min(id) into model from gyms;
           alter table results disable trigger user;
           alter table pieces disable trigger user;
           for n in 1..{gyms} loop
             insert into gyms (name, settings) select 'Large gym ' || n, settings from gyms where id = model returning id into made;
             insert into members (gym_id, name, twin, profile) select made, name, twin, profile from members where gym_id = model;
             insert into pieces (gym_id, day, place, kind, words, fingerprint, shape, tree, reader)
               select made, day, place, kind, words, fingerprint, shape, tree, reader from pieces where gym_id = model order by id;
             create temporary table same_piece on commit drop as
               select a.id as old, b.id as new
               from (select id, row_number() over (order by id) as at from pieces where gym_id = model) a
                 join (select id, row_number() over (order by id) as at from pieces where gym_id = made) b using (at);
             create temporary table same_member on commit drop as
               select a.id as old, b.id as new from members a join members b using (name, twin)
               where a.gym_id = model and b.gym_id = made;
             -- Without figures of what has just been made they would be joined row by row.
             analyze same_piece; analyze same_member;
             insert into results (gym_id, day, starts, piece_id, member_id, what, key, made_by)
               select made, r.day, r.starts, p.new, m.new, r.what, r.key, r.made_by
               from results r join same_piece p on p.old = r.piece_id join same_member m on m.old = r.member_id
               where r.gym_id = model;
             drop table same_piece, same_member;
           end loop;
           alter table results enable trigger user;
           alter table pieces enable trigger user;
         end $$"
    ));
    database.run("analyze");
}
