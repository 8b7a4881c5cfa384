//! How it went: the gym's results beside what was meant and predicted, and whether plans rest on them.

use actix_web::{HttpResponse, get, post, web};
use askama::Template;
use chrono::{Days, NaiveDate};
use lantern_core::book::{CEILING, Calibration, LookingBack, PieceBack, WeekBack};
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::pacing::in_words;
use lantern_core::session::Session;
use lantern_core::strength::followed::followed;
use lantern_core::strength::with_cycles;
use lantern_store::pieces::Kept;
use lantern_store::{GymScope, gyms, lifts, members, pieces, results};
use serde::Deserialize;

use super::cycles::CycleView;
use crate::day::day_name;
use crate::request::Form;
use crate::request::tenant::Tenant;
use crate::respond::error::{AppError, html};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config.service(show).service(switch);
}

/// What is looked back on.
const WEEKS: u64 = 12;
/// Most pieces that are named.
const MOST_PIECES: usize = 12;
/// Most movements that are named.
const MOST_MOVEMENTS: usize = 8;
/// Side of the diagram of what was said against what came, in its own units.
const SIDE: f64 = 240.0;

#[derive(Template)]
#[template(path = "gym/results.html")]
struct ResultsPage {
    gym: String,
    learns: bool,
    /// The most that one result moves.
    ceiling: String,
    weeks: u64,
    headline: String,
    told: Option<Told>,
    rows: Vec<WeekRow>,
    missed: Vec<MissedRow>,
    /// Movements that go otherwise here than people's files say, in words.
    movements: Vec<String>,
    /// Lifts that are trained by weeks.
    cycles: Vec<CycleView>,
}

/// How true predictions were, in words and drawn.
struct Told {
    within: String,
    error: String,
    /// What learning has changed about it.
    learned: String,
    leans: String,
    points: Vec<Point>,
    line: String,
}

/// One tenth of the diagram.
struct Point {
    x: f64,
    y: f64,
    words: String,
}

struct WeekRow {
    from: String,
    results: usize,
    on_stimulus: String,
    within: String,
    error: String,
    by_file: String,
}

struct MissedRow {
    day: String,
    words: String,
    counts: String,
    off: String,
}

/// `GET /gym/results`
#[get("/gym/results")]
async fn show(tenant: Tenant) -> Result<HttpResponse, AppError> {
    let since = tenant.today() - Days::new(WEEKS * 7);
    let mut rows = tenant.look_since().await?;
    let all = results::since(&mut rows, since).await?;
    let catalogue = tenant.catalogue();
    let of_gym = if tenant.gym.learns {
        members::learned_of_gym(&mut rows, tenant.today()).await?.stands_out(&catalogue)
    } else {
        Vec::new()
    };
    let movements = of_gym.iter().filter_map(|(id, slower)| otherwise(&catalogue, id, *slower));
    let movements: Vec<String> = movements.take(MOST_MOVEMENTS).collect();
    let cycles = cycles(&mut rows, &tenant, since).await?;
    let (gym, learns) = (tenant.gym.name.clone(), tenant.gym.learns);
    // Thousands of results take their time: not on the thread that answers everybody.
    let page = web::block(move || page(gym, learns, movements, &LookingBack::new(&all))).await;
    let page = page.map_err(|error| AppError::Inside(error.to_string()))?;
    html(&ResultsPage { cycles, ..page })
}

/// The lifts that were trained by weeks since a day, with what was entered of them.
async fn cycles(rows: &mut GymScope, tenant: &Tenant, since: NaiveDate) -> Result<Vec<CycleView>, AppError> {
    let (gym, catalogue) = (&tenant.gym, tenant.catalogue());
    let sets = lifts::beside_what_was_asked(rows, since).await?;
    let days = pieces::kept(rows, since, tenant.today()).await?;
    let filled = |(day, kept): (NaiveDate, Kept)| {
        let session = Session { parts: kept.parts, ..Session::default() };
        (day, with_cycles(&session, &gym.cycles, &catalogue))
    };
    let days: Vec<(NaiveDate, Session)> = days.into_iter().map(filled).collect();
    let parts = days.iter().flat_map(|(day, session)| session.parts.iter().map(|part| (*day, part)));
    let followed = followed(&gym.cycles, parts, &sets, &catalogue);
    Ok(followed.iter().map(|followed| CycleView::of(followed, gym.unit, &catalogue)).collect())
}

#[derive(Deserialize)]
struct Switch {
    /// `on` or `off`.
    learning: String,
}

/// `POST /gym/results`: plans rest on results from now on, or on what is on file alone.
#[post("/gym/results")]
async fn switch(tenant: Tenant, form: Form<Switch>) -> Result<HttpResponse, AppError> {
    let learns = match form.learning.as_str() {
        "on" => true,
        "off" => false,
        other => return Err(AppError::field("learning", other, "on or off")),
    };
    let mut rows = tenant.change().await?;
    gyms::change(&mut rows, |gym| {
        gym.learns = learns;
        Ok(())
    })
    .await?;
    rows.keep().await?;
    Ok(see_other("/gym/results"))
}

fn page(gym: String, learns: bool, movements: Vec<String>, back: &LookingBack) -> ResultsPage {
    let (results, inside) =
        back.weeks.iter().fold((0, 0), |(all, inside), week| (all + week.results, inside + week.on_stimulus));
    let headline = if results == 0 {
        "Nothing has been entered yet that can be compared: results come from Book".to_owned()
    } else {
        format!("{} of {results} results on stimulus, {}", inside, percent(inside as f64 / results as f64))
    };
    ResultsPage {
        gym,
        learns,
        ceiling: percent(CEILING),
        weeks: WEEKS,
        headline,
        told: back.calibration.as_ref().map(Told::new),
        rows: back.weeks.iter().rev().map(WeekRow::new).collect(),
        missed: back.missed.iter().take(MOST_PIECES).map(MissedRow::new).collect(),
        movements,
        cycles: Vec::new(),
    }
}

/// `Burpees: 12 % slower`.
fn otherwise(catalogue: &Catalogue, id: &MovementId, slower: f64) -> Option<String> {
    Some(format!("{}: {}", catalogue.name(id), in_words(slower)?))
}

fn percent(share: f64) -> String {
    format!("{:.0} %", share * 100.0)
}

impl Told {
    fn new(told: &Calibration) -> Self {
        let Calibration { count, within, error, error_by_file, slower, below, .. } = told;
        let point = |(said, was): &(f64, f64)| Point {
            x: said * SIDE,
            y: (1.0 - was) * SIDE,
            words: format!("{} were to be as quick or quicker, {} were", percent(*said), percent(*was)),
        };
        let points: Vec<Point> = below.iter().map(point).collect();
        let line: Vec<String> = points.iter().map(|point| format!("{:.1},{:.1}", point.x, point.y)).collect();
        let leans = match slower {
            s if s.abs() < 0.02 => "They lean to neither side.".to_owned(),
            s if *s > 0.0 => format!("In the middle results are {} slower than predicted.", percent(*s)),
            s => format!("In the middle results are {} quicker than predicted.", percent(-s)),
        };
        Self {
            within: format!(
                "{} of {count} results lay within the range in which eight of ten were to lie.",
                percent(*within)
            ),
            error: format!("Half of them lay within {} of what was predicted.", percent(*error)),
            learned: if (error - error_by_file).abs() < 5e-4 {
                "What results taught has changed nothing about that yet.".to_owned()
            } else {
                format!("Without what results taught it would have been {}.", percent(*error_by_file))
            },
            leans,
            points,
            line: line.join(" "),
        }
    }
}

impl WeekRow {
    fn new(week: &WeekBack) -> Self {
        let of = |figure: fn(&Calibration) -> f64| {
            week.calibration.as_ref().map_or_else(|| "-".to_owned(), |told| percent(figure(told)))
        };
        Self {
            from: day_name(week.from),
            results: week.results,
            on_stimulus: percent(week.on_stimulus as f64 / week.results.max(1) as f64),
            within: of(|told| told.within),
            error: of(|told| told.error),
            by_file: of(|told| told.error_by_file),
        }
    }
}

impl MissedRow {
    fn new(piece: &PieceBack) -> Self {
        let PieceBack { day, words, results, inside, early, late, slower } = piece;
        let word = if *slower > 0.0 { "slower" } else { "quicker" };
        Self {
            day: day_name(*day),
            words: words.lines().filter(|line| !line.trim().is_empty()).collect::<Vec<_>>().join(", "),
            counts: format!("{inside} of {results} inside, {early} early, {late} late"),
            off: if slower.abs() < 0.02 {
                "as predicted".to_owned()
            } else {
                format!("{} {word} than predicted", percent(slower.abs()))
            },
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_said_has_its_figures_and_what_it_would_have_been() {
        let told = Calibration {
            count: 40,
            within: 0.775,
            error: 0.081,
            error_by_file: 0.124,
            crps: 0.07,
            slower: -0.031,
            below: vec![(0.5, 0.6)],
        };
        let shown = Told::new(&told);
        assert_eq!(shown.learned, "Without what results taught it would have been 12 %.");
        assert_eq!(shown.leans, "In the middle results are 3 % quicker than predicted.");
        assert_eq!(shown.line, "120.0,96.0");
        let same = Told::new(&Calibration { error_by_file: 0.081, slower: 0.01, ..told });
        assert!(same.learned.contains("nothing") && same.leans.contains("neither"));
    }

    /// What goes otherwise is named with its share, and nothing stands where nothing does.
    #[test]
    fn what_goes_otherwise_here_is_named() {
        let catalogue = Catalogue::standard();
        let words = otherwise(catalogue, &MovementId::new("burpee"), 0.88_f64.ln()).unwrap();
        assert_eq!(words, "Burpee: 12 % quicker");
        let shown = |movements: Vec<String>| {
            page("A gym".to_owned(), true, movements, &LookingBack::new(&[])).render().unwrap()
        };
        assert!(shown(vec![words]).contains("<li>Burpee: 12 % quicker</li>"));
        assert!(!shown(Vec::new()).contains("What goes otherwise here"));
    }

    #[test]
    fn of_nothing_it_says_so() {
        let page = page("A gym".to_owned(), true, Vec::new(), &LookingBack::new(&[]));
        assert!(page.headline.starts_with("Nothing") && page.told.is_none());
    }
}
