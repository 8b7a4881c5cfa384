//! How true predictions were, on the command line.

use std::process::ExitCode;

use anyhow::Result;
use chrono::Days;
use lantern_core::book::{Calibration, LookingBack};
use lantern_store::{GymId, Operator, Store, clock, gyms, results};
use serde_json::json;
use trial::Trial;

use crate::serve::runtime;

/// People of an invented class.
const PEOPLE: usize = 28;

/// Of an invented class.
pub(crate) fn simulated(seed: u64, weeks: u32, as_json: bool) -> Result<ExitCode> {
    let report = Trial { seed, weeks, people: PEOPLE }.run();
    if as_json {
        println!("{}", serde_json::to_string_pretty(&report)?);
        return Ok(ExitCode::SUCCESS);
    }
    println!("seed {seed}, {weeks} weeks, {PEOPLE} people; half within: with learning, by file alone");
    for week in &report.weeks {
        println!(
            "week {:>3}  {:>4} results  {:>5.1} %  {:>5.1} %  {:>5.1} % in range",
            week.week,
            week.results,
            week.error * 100.0,
            week.error_by_file * 100.0,
            week.within * 100.0
        );
    }
    println!("{}", told(&report.all));
    println!(
        "from week 6 on {:.0} % nearer than without learning; better for {:.0} % of the people",
        report.better_from_week_6 * 100.0,
        report.people_better * 100.0
    );
    Ok(ExitCode::SUCCESS)
}

/// Of each gym's results.
pub(crate) fn of_gyms(url: &str, weeks: u32, as_json: bool) -> Result<ExitCode> {
    let all = runtime()?.block_on(async {
        let mut all = Vec::new();
        for (id, name, _) in Operator::at(url).await?.gyms().await? {
            all.push((name, looking_back(url, id, weeks).await?));
        }
        anyhow::Ok(all)
    })?;
    if as_json {
        let gyms = all.iter().map(|(gym, back)| json!({"gym": gym, "weeks": weeks, "results": back}));
        println!("{}", serde_json::to_string_pretty(&gyms.collect::<Vec<_>>())?);
        return Ok(ExitCode::SUCCESS);
    }
    for (gym, back) in all {
        let words = back.calibration.as_ref().map_or_else(|| "nothing to compare yet".to_owned(), told);
        println!("{gym}: {words}");
    }
    Ok(ExitCode::SUCCESS)
}

async fn looking_back(url: &str, id: GymId, weeks: u32) -> Result<LookingBack> {
    let mut rows = Store::new(url)?.look(id).await?;
    let since = clock::today(&gyms::settings(&mut rows).await?) - Days::new(u64::from(weeks) * 7);
    Ok(LookingBack::new(&results::since(&mut rows, since).await?))
}

fn told(all: &Calibration) -> String {
    format!(
        "{} results: {:.0} % within what eight of ten days were to hold, half within {:.1} %, by file alone within {:.1} %",
        all.count,
        all.within * 100.0,
        all.error * 100.0,
        all.error_by_file * 100.0
    )
}
