//! A class while it runs, on all of its screens.

use std::net::TcpListener;
use std::time::Duration;

use anyhow::{Result, ensure};
use browser_tests::running::{ClassNow, crowd, outage, whole};
use browser_tests::{TestDatabase, TestServer, soon, with_browser};
use chrono::{TimeDelta, Timelike, Utc};
use lantern_core::gym::ClockFace;

/// How long screens may take to agree on a machine that others use too; the proof asks for a second.
const PATIENCE: Duration = Duration::from_secs(60);

/// The whole hour: the same phase everywhere, whatever waits is started, and every finish is in the book once. The whole of it is
/// `cargo run --release -p proof -- class`.
#[test]
fn a_whole_class_shows_the_same_everywhere_and_every_finish_once() -> Result<()> {
    let whole = whole(60.0, 1, PATIENCE)?;
    let has = |block: &str| whole.phases.iter().any(|phase| phase.starts_with(block));
    for block in ["brief", "warmup", "strength", "conditioning", "scores", "cool_down"] {
        ensure!(has(block), "{block} in {:?}", whole.phases);
    }
    ensure!(whole.tapped >= 12 && whole.results == (whole.tapped, whole.tapped), "{whole:?}");
    Ok(())
}

/// Screens agree on what time it is; without a server the clock goes on, pages can be loaded again, and what was tapped meanwhile arrives once. A minute of it is
/// `cargo run --release -p proof -- outage`.
#[test]
fn screens_agree_and_go_on_without_a_server() -> Result<()> {
    let outage = outage(Duration::from_secs(3), Duration::from_secs(1), PATIENCE)?;
    ensure!(outage.apart_ms < 250, "{outage:?}");
    ensure!(outage.tapped == 3 && outage.results == (3, 3), "{outage:?}");
    Ok(())
}

/// Many screens hear of everything; what they cost is `cargo run --release -p proof -- screens`.
#[test]
fn many_screens_hear_of_everything() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let crowd = crowd(&database, (&server, std::process::id()), 40)?;
    ensure!(crowd.screens == 40, "{crowd:?}");
    Ok(())
}

/// A timer that only shows digits reads what the class reads.
#[test]
fn a_wall_timer_shows_the_digits() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let class = ClassNow::new(&database, &server);
    let (device, page) = (TcpListener::bind("127.0.0.1:0")?, TcpListener::bind("127.0.0.1:0")?);
    let (to_device, face) = (device.local_addr()?.to_string(), format!("http://{}", page.local_addr()?));
    std::thread::spawn(move || {
        actix_web::rt::System::new().block_on(lantern_web::timer::stand_in(device, page))
    });
    let wall = format!("{}{}", server.address, class.wall);
    std::thread::spawn(move || lantern_web::timer::drive(&wall, &to_device));
    let reads = |wanted: &dyn Fn(&str) -> bool| -> Result<()> {
        let mut body = String::new();
        for _ in 0..100 {
            body = TestServer::at(&face).signed_out().get("/").body;
            if wanted(&body) {
                return Ok(());
            }
            std::thread::sleep(Duration::from_millis(100));
        }
        anyhow::bail!("{body}")
    };
    reads(&|face| face.contains("4:00") && face.contains("before"))?;
    let floor = format!("/days/{}/floor", class.slot);
    server.post(&floor, &[("what", "start")]);
    reads(&|face| face.contains("3:5") && face.contains("running"))?;
    server.post(&floor, &[("what", "pause")]);
    reads(&|face| face.contains("paused"))
}

/// How big the digits are that are read from ten metres, and what is smaller than can be read.
const SIZES: &str = "
    const clock = document.getElementById('clock'), style = getComputedStyle(clock), pen = document.createElement('canvas').getContext('2d');
    pen.font = style.fontWeight + ' ' + style.fontSize + ' ' + style.fontFamily;
    const high = pen.measureText('0').actualBoundingBoxAscent / innerHeight, digits = document.createRange();
    digits.selectNodeContents(clock);
    const wide = digits.getBoundingClientRect().width / innerWidth;
    const small = [...document.querySelectorAll('#now *')].filter((e) => e.checkVisibility() && [...e.childNodes].some((n) => n.nodeType === 3 && n.data.trim()) && parseFloat(getComputedStyle(e).fontSize) < 44 * Math.min(innerWidth, innerHeight) / 1080);
    const out = [...document.querySelectorAll('#now > *')].filter((e) => e.getBoundingClientRect().right > innerWidth + 8);
    return [high, wide, small.map((e) => e.outerHTML.slice(0, 80)).join(), out.map((e) => e.outerHTML.slice(0, 80)).join(), innerWidth, innerHeight];
";

#[test]
fn the_wall_is_read_from_ten_metres() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let class = ClassNow::new(&database, &server);
    let address = server.address.clone();
    let floor = format!("/days/{}/floor", class.slot);
    let go = |block: &str, n: &str| {
        assert_eq!(server.post(&floor, &[("what", "go_to"), ("block", block), ("n", n)]).status, 303);
    };
    go("brief", "0");
    let blocks = ["warmup", "strength-0", "conditioning-1"];
    blocks.iter().for_each(|block| go(block, "1"));
    with_browser(move |browser| async move {
        browser.open(&format!("{address}{}", class.wall)).await?;
        for (width, height) in [(1920, 1080), (1080, 1920), (1280, 720)] {
            // The window's own frame comes on top.
            browser.client.set_window_size(width, height + 143).await?;
            for block in blocks {
                assert_eq!(
                    server.post(&floor, &[("what", "go_to"), ("block", block), ("n", "1")]).status,
                    303
                );
                let here =
                    format!("return document.querySelector('[data-floor]').dataset.phase === '{block}:1'");
                browser.until(&here).await?;
                let told = browser.client.execute(SIZES, Vec::new()).await?;
                let number = |n: usize| told[n].as_f64().unwrap_or(0.0);
                let upright = height > width;
                ensure!(
                    if upright { number(1) >= 0.85 } else { number(0) >= 0.22 },
                    "{width} x {height} {block}: {told}"
                );
                ensure!(told[2] == "" && told[3] == "", "{width} x {height} {block}: {told}");
            }
        }
        Ok(())
    })
}

/// Whatever zone the device is in, and whichever way it tells the time itself.
#[test]
fn a_wall_tells_the_time_of_day_as_the_gym_does() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let class = ClassNow::new(&database, &server);
    database.run("delete from classes");
    // Where it is not about midnight.
    let now = Utc::now();
    let (zone, hours) = if now.hour() < 12 { ("Asia/Tokyo", 9) } else { ("America/Denver", -7) };
    let starts = now + TimeDelta::hours(hours + 2);
    let (day, starts) = (starts.date_naive(), starts.format("%H:%M").to_string());
    ensure!(server.post("/gym", &[("clock", "Twelve"), ("time_zone", zone)]).status == 303);
    ensure!(
        server
            .post(&format!("/days/{day}/classes"), &[("starts", &starts), ("minutes", "60"), ("coach", "")])
            .status
            == 303
    );
    let address = server.address.clone();
    with_browser(move |browser| async move {
        browser.open(&format!("{address}{}", class.wall)).await?;
        let told = browser.wait_text("#until", |text| text.starts_with("starts at ")).await?;
        let shown = told.strip_prefix("starts at ").and_then(ClockFace::typed);
        ensure!(
            shown.is_some() && shown == ClockFace::typed(&starts) && told.ends_with('m'),
            "{told}, {starts}"
        );
        Ok(())
    })
}

#[test]
fn what_happens_is_kept_once_and_a_stranger_sees_nothing() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let class = ClassNow::new(&database, &server);
    let floor = format!("/days/{}/floor", class.slot);
    let start = [("what", "start"), ("key", "a key that was made there")];
    for _ in 0..3 {
        assert_eq!(server.post(&floor, &start).status, 303);
    }
    let happened = || database.names("select what->>'what' as name from happenings order by at_ms, id");
    assert_eq!(happened(), ["start"]);
    // Of two who skip the same phase at once, one is heard; the future is now.
    let skip = [("what", "next"), ("block", "brief"), ("n", "0"), ("at_ms", "99999999999999")];
    server.post(&floor, &skip);
    server.post(&floor, &skip);
    let page = server.get(&floor).body;
    let shown = page.split("id=\"class\">").nth(1).unwrap().split("</script>").next().unwrap();
    let shown: serde_json::Value = serde_json::from_str(&shown.replace("<\\/", "</")).unwrap();
    let phase = &shown["phases"][shown["phase"].as_u64().unwrap() as usize];
    assert_eq!(
        (shown["blocks"][phase["block"].as_u64().unwrap() as usize]["key"].as_str(), shown["state"].as_str()),
        (Some("warmup"), Some("running"))
    );
    for (wrong, field) in [("dance", "what"), ("", "what")] {
        let told = server.post(&floor, &[("what", wrong)]);
        assert!(told.status == 422 && told.body.contains(field), "{}", told.body);
    }
    assert_eq!(
        server.post(&format!("{floor}/score"), &[("piece", "7"), ("member", "1"), ("text", "5:00")]).status,
        422
    );
    // A member has the phone page and no other; who is signed out has none; the wall names nobody by the family name, nor before they are done.
    let alba = server.seen_by("alba");
    assert_eq!(
        (alba.get(&floor).status, alba.get("/me/now").status, alba.get("/me/own").status),
        (403, 200, 200)
    );
    let out = server.signed_out();
    assert!([303, 401].contains(&out.get(&floor).status));
    let wall = out.get(&class.wall).body;
    assert!(
        !wall.contains("Quenby") && wall.contains("\"name\":\"Alba\"") == wall.contains("Alba"),
        "{wall}"
    );
    assert!(alba.get("/me/now").body.contains("Alba Quenby") && !alba.get("/me/now").body.contains("Soames"));
}

/// A set is one tap and goes to the book; a class that is closed says who has no score yet.
#[test]
fn a_set_is_a_tap_and_closing_names_who_is_missing() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let class = ClassNow::new(&database, &server);
    let floor = format!("/days/{}/floor", class.slot);
    server.post(&floor, &[("what", "go_to"), ("block", "strength-0"), ("n", "0")]);
    let address = server.address.clone();
    with_browser(move |browser| async move {
        browser.open(&format!("{address}{floor}")).await?;
        browser.click("[data-lifter]").await?;
        let planned = browser.text("#lifter-set").await?;
        ensure!(planned.starts_with("planned 5 x "), "{planned}");
        browser.click("#lifter button[value='']").await?;
        browser.wait_text("#rack-list", |racks| racks.contains("✓ 1")).await?;
        let sets = "select reps || ' ' || source as name from maxes where undo_key is not null";
        ensure!(database.names(sets) == ["5 class result"], "{:?}", database.names(sets));
        // A miss takes off what is left, and says so.
        browser.click("[data-lifter]").await?;
        browser.click("#lifter button[value=' missed']").await?;
        browser
            .wait_text("#rack-list", |racks| racks.contains("✓ 2") && racks.contains("was missed"))
            .await?;
        // The next phase by keyboard.
        let title = browser.text("#title").await?;
        let main = browser.client.find(fantoccini::Locator::Css("body")).await?;
        main.send_keys("\u{e014}").await?;
        browser.wait_text("#title", |now| now != title).await?;
        // A slip of the hand: as if it had not been.
        browser.wait_text("#undo", |words| words == "Undo the skip").await?;
        browser.click("#undo").await?;
        browser.wait_text("#title", |now| now == title).await?;
        // Somebody goes on with an easier version from where they are: it is a decision like others.
        server.post(&floor, &[("what", "go_to"), ("block", "conditioning-1"), ("n", "1")]);
        browser.wait_text("#title", |title| title.starts_with("Cap")).await?;
        let opens = "for (const tile of document.querySelectorAll('.tile')) {
            tile.dispatchEvent(new MouseEvent('contextmenu', { bubbles: true, cancelable: true }));
            const easier = document.querySelector('#person-easier button');
            if (easier) return easier.textContent;
            document.getElementById('person').close();
        }";
        let easier = browser.client.execute(opens, Vec::new()).await?;
        ensure!(easier.as_str().is_some_and(|words| words.contains("from here: about ")), "{easier}");
        browser.click("#person-easier button").await?;
        let decided = "select what::text as name from decisions where about = 'pieces'";
        soon("it is decided", || !database.names(decided).is_empty()).await?;
        ensure!(database.names(decided).len() == 1, "{:?}", database.names(decided));
        // Their score says so: it was neither version from the start.
        let said = browser
            .client
            .execute("return document.getElementById('person-name').textContent", Vec::new())
            .await?;
        let id = format!(
            "select id::text as name from members where name = '{}'",
            said.as_str().unwrap_or_default()
        );
        let score = [("piece", "0"), ("member", &database.names(&id)[0]), ("text", "5:30")];
        ensure!(server.post(&format!("{floor}/score"), &score).status == 303);
        let mixed = "select what->'gone_on'->>'from' as name from results";
        ensure!(database.names(mixed) == ["AsWritten"], "{:?}", database.names(mixed));
        let book = server.get(&format!("{}/book", floor.trim_end_matches("/floor"))).body;
        ensure!(book.contains("As written until 0:"), "{book}");
        server.post(
            &format!("{floor}/unscore"),
            &[("id", &database.names("select id::text as name from results")[0])],
        );
        browser.click("#close").await?;
        let missing = browser.text("#closing-who").await?;
        ensure!(missing.starts_with("No score yet: Alba Quenby"), "{missing}");
        browser.click("#closing [data-act=closed]").await?;
        browser.wait_text("#title", |title| title == "The class is over").await?;
        // What it came to, and what is noted: also in the Book, and forgotten with whom it names.
        browser.wait_text("#headline", |headline| headline.starts_with("Nothing entered yet")).await?;
        browser.type_over("#note", "Alba Quenby led; bars too slow").await?;
        browser.click("#noted .is-lit").await?;
        let book = format!("{}/book", floor.trim_end_matches("/floor"));
        soon("the note stands in the book", || {
            server.get(&book).body.contains("Alba Quenby led; bars too slow")
        })
        .await?;
        browser.client.refresh().await?;
        browser.wait_text("#title", |title| title == "The class is over").await?;
        ensure!(browser.value("#note").await? == "Alba Quenby led; bars too slow");
        // A class that is over is kept on the device no longer.
        browser.until("return !Object.keys(localStorage).some((name) => name.startsWith('class:'))").await?;
        Ok(())
    })
}

/// Who is not here is ticked off before the start: it is shown who moves, and then screens, racks and the book know it; somebody who came too gets a place.
#[test]
fn who_is_here_is_ticked_and_the_class_formed_again() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let class = ClassNow::new(&database, &server);
    // Pairs, so that one who is missing leaves somebody over; and one of the gym is not booked.
    database.run("delete from bookings where member_id = (select id from members where name = 'Nico Ferraby') and class_id = (select max(id) from classes)");
    let day = &class.slot[..10];
    let revision =
        database.names(&format!("select revision::text as name from sessions where day = '{day}'"));
    let text = "In pairs, share as you like, for time, cap 15\n100 burpees\n100 air squats";
    let saved = server.post(&format!("/days/{day}/read"), &[("text", text), ("revision", &revision[0])]);
    ensure!(saved.status == 303, "{}", saved.body);
    let (floor, address) = (format!("/days/{}/floor", class.slot), server.address.clone());
    with_browser(move |browser| async move {
        browser.open(&format!("{address}{floor}")).await?;
        browser.wait_text("#here", |words| words == "Who is here: all 13").await?;
        browser.click("#here").await?;
        browser.wait_text(".formed", |words| words.contains("Untick who is not")).await?;
        // Of thirteen in pairs one team is three; without one of a pair its other joins a team.
        browser.click("#here-form input[name=here]").await?;
        browser.wait_text(".formed", |words| words.contains("12 here")).await?;
        let untick = "return document.querySelector('#here-form input[name=here]').checked";
        ensure!(browser.client.execute(untick, Vec::new()).await? == false);
        browser.click("#here-more").await?;
        let more = browser.client.find(fantoccini::Locator::Css("#here-more")).await?;
        more.select_by_label("Nico Ferraby").await?;
        browser
            .wait_text(".formed", |words| words.contains("13 here") && words.contains("Nico Ferraby"))
            .await?;
        browser.click("#here-form .is-lit").await?;
        browser.wait_text("#here", |words| words == "Who is here: 13 of 14").await?;
        let came = "select came || ' ' || count(*) as name from bookings where class_id = (select max(id) from classes) group by came order by 1";
        ensure!(database.names(came) == ["away 1", "booked 12", "joined 1"], "{:?}", database.names(came));
        browser
            .wait_text("#tiles", |tiles| !tiles.contains("Alba Quenby") && tiles.contains("Nico Ferraby"))
            .await?;
        let book = server.get(&format!("{}/book", floor.trim_end_matches("/floor"))).body;
        ensure!(!book.contains("Alba Quenby") && book.contains("13 in this class"), "{book}");
        // She comes late, and is back where she was.
        browser.click("#here").await?;
        browser.wait_text(".formed", |words| words.contains("13 here. Untick")).await?;
        browser.click("#here-form input[name=here]").await?;
        browser.wait_text(".formed", |words| words.contains("14 here")).await?;
        browser.click("#here-form .is-lit").await?;
        browser.wait_text("#here", |words| words == "Who is here: all 14").await?;
        Ok(())
    })
}

/// A guest needs the code on the wall and nothing else, sees the clock and what somebody like them would do, and of others what the wall shows.
#[test]
fn a_guest_follows_a_class_by_its_code() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let class = ClassNow::new(&database, &server);
    let out = server.signed_out();
    let wall = out.get(&class.wall).body;
    let code = wall.split("/guest</b> code <b>").nth(1).unwrap().split('<').next().unwrap().to_owned();
    let asked = out.get(&format!("/guest?code={}", code.to_uppercase()));
    assert_eq!((asked.status, asked.location), (303, Some(format!("/guest/{code}"))));
    let page = out.get(&format!("/guest/{code}?like=4")).body;
    assert!(page.contains("burpee") && page.contains("a guess") && page.contains("begin with"), "{page}");
    for name in ["Quenby", "Soames", "Ombaye"] {
        assert!(!page.contains(name), "{name}");
    }
    assert_eq!(out.get(&format!("/guest/{code}/live")).status, 200);
    // Neither another code nor the code of a class that is long over opens anything.
    let wrong = format!("{}{}", &code[..code.len() - 1], if code.ends_with('a') { 'b' } else { 'a' });
    let asked = out.get(&format!("/guest?code={wrong}"));
    assert!(asked.status == 404 && asked.body.contains(&wrong), "{}", asked.body);
    assert_eq!(out.get(&format!("/guest/{wrong}")).status, 404);
    database.run("update classes set starts = starts - interval '6 hours' where day = current_date");
    assert_eq!(out.get(&format!("/guest/{code}")).status, 404);
}

/// What a tap on a name is follows from what the piece counts: the time of an interval, of all of them a score; or out of what rises.
#[test]
fn a_tap_is_what_the_piece_counts() -> Result<()> {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let class = ClassNow::new(&database, &server);
    let day = class.slot[..10].to_owned();
    let revision = format!("select revision::text as name from sessions where day = '{day}'");
    let text = "Every 2:00 x 2\n200 m run\n10 kettlebell swings\n\nevery 1:00 until you can't\nadd 2 reps each round\n3 burpees";
    let form = [("text", text), ("revision", &database.names(&revision)[0])];
    ensure!(server.post(&format!("/days/{day}/read"), &form).status == 303);
    let (floor, address) = (format!("/days/{}/floor", class.slot), server.address.clone());
    with_browser(move |browser| async move {
        browser.open(&format!("{address}{floor}")).await?;
        let goes = |block: &str, n: &str| {
            server.post(&floor, &[("what", "go_to"), ("block", block), ("n", n)]);
        };
        let first = "#tiles .tile";
        for (n, interval) in [("1", "Interval 1 of 2"), ("2", "Interval 2 of 2")] {
            goes("conditioning-0", n);
            browser.wait_text("#title", |title| title == interval).await?;
            // A tap in the first second of an interval is none.
            tokio::time::sleep(Duration::from_secs(2)).await;
            browser.click(first).await?;
        }
        browser.wait_text("#tiles .done", |tile| tile.contains("0:")).await?;
        // It is shown before the server has it.
        let done = "select jsonb_array_length(what->'done'->'seconds')::text as name from results";
        soon("it is in the book", || !database.names(done).is_empty()).await?;
        ensure!(
            database.names(done) == ["2"],
            "{:?}",
            database.names("select what::text as name from results")
        );
        goes("conditioning-1", "4");
        browser.wait_text("#title", |title| title == "Minute 4").await?;
        browser.click(first).await?;
        browser.wait_text("#tiles .done", |tile| tile.contains("3+0")).await?;
        Ok(())
    })
}

/// One tap is the finish of everybody who shares the piece.
#[test]
fn a_finish_of_one_is_that_of_the_team() {
    let database = TestDatabase::demo();
    let server = TestServer::start(&database);
    let pairs = database.names("select day::text as name from sessions where text ilike '%pairs%' or text ilike '%teams of 2%' limit 1");
    let id = database.names("select id::text as name from members where name = 'Alba Quenby'");
    let score =
        [("piece", "0"), ("member", id[0].as_str()), ("text", "17:30"), ("key", "one tap of one hand")];
    for _ in 0..2 {
        assert_eq!(server.post(&format!("/days/{}T18:00/floor/score", pairs[0]), &score).status, 303);
    }
    let done = database.names("select distinct member_id::text as name from results");
    assert!(done.len() == 2 && done.contains(&id[0]), "{done:?}");
    assert_eq!(database.names("select count(*)::text as name from results"), ["2"]);
}
