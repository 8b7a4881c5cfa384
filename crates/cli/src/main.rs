//! The program: `read` and `plan` for files, `serve` for a gym.
//!
//! `read` and `plan` need no database. Exit 0 when everything was understood, 1 when a plan was made but
//! some lines were not understood, 2 when nothing usable came in.

#[cfg(feature = "sealed")]
mod backup;
mod calibration;
mod figures;
mod files;
mod history;
mod serve;
mod settings;
mod watch;

use std::path::PathBuf;
use std::process::ExitCode;

use clap::{Parser, Subcommand};

/// Gives memory back to the system after a big plan.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Turns a coach's programmed session into warm-ups, loads, versions and pacing targets.
#[derive(Parser)]
#[command(name = "honest-lantern", version)]
struct Cli {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Reads a session and says what was understood.
    Read {
        /// The session's text; `-` reads standard input.
        session: PathBuf,
        /// The gym, as TOML: how its coaches write.
        #[arg(long)]
        gym: Option<PathBuf>,
        /// What has been put right: the JSON of a reading, or only its list `corrections`.
        #[arg(long)]
        corrections: Option<PathBuf>,
        /// Prints JSON instead of text.
        #[arg(long)]
        json: bool,
    },
    /// Plans a session for a class.
    Plan {
        /// The session's text; `-` reads standard input.
        session: PathBuf,
        /// The class, as CSV.
        #[arg(long)]
        roster: PathBuf,
        /// The gym, as TOML.
        #[arg(long)]
        gym: Option<PathBuf>,
        /// What has been put right in the text: the JSON of a reading, or only its list `corrections`.
        #[arg(long)]
        corrections: Option<PathBuf>,
        /// What a coach has decided, as a JSON list: versions, lines written anew, windows, the hour.
        #[arg(long)]
        decisions: Option<PathBuf>,
        /// Length of the class.
        #[arg(long, default_value_t = 60, value_parser = clap::value_parser!(u32).range(20..=180))]
        minutes: u32,
        /// Seed of the predictions: the same seed gives the same plan.
        #[arg(long, default_value_t = 1)]
        seed: u64,
        /// Prints JSON instead of text.
        #[arg(long)]
        json: bool,
    },
    /// Serves the web application.
    Serve(Box<settings::ServeArguments>),
    /// Loads the demo gym into a database of its own.
    LoadDemo {
        /// Database URL.
        #[arg(long, env = "LANTERN_DATABASE_URL", hide_env_values = true)]
        database_url: String,
        /// Removes what the demo has made first; a database with any other gym is refused.
        #[arg(long)]
        fresh: bool,
    },
    /// Prints a link with which somebody chooses a new passphrase; it works once, for two hours.
    PassphraseLink {
        /// Database URL.
        #[arg(long, env = "LANTERN_DATABASE_URL", hide_env_values = true)]
        database_url: String,
        /// The e-mail address of the account.
        email: String,
        /// Where the server is asked for.
        #[arg(long, default_value = "http://127.0.0.1:8080")]
        at: String,
        /// Also asks for no one-time code any more: for whoever has lost the device, and whom you know to be who they say.
        #[arg(long)]
        without_codes: bool,
    },
    /// Says how true predictions were: of a gym's results, or of an invented class whose hidden bodies do weeks of pieces.
    Calibration {
        /// Database URL, for a gym's results.
        #[arg(long, env = "LANTERN_DATABASE_URL", hide_env_values = true)]
        database_url: Option<String>,
        /// Has an invented class do it instead.
        #[arg(long)]
        simulate: bool,
        /// Draws the class.
        #[arg(long, default_value_t = 1)]
        seed: u64,
        /// How long it goes, or how far is looked back.
        #[arg(long, default_value_t = 12, value_parser = clap::value_parser!(u32).range(1..=104))]
        weeks: u32,
        /// Prints JSON instead of text.
        #[arg(long)]
        json: bool,
    },
    /// Drives a timer on the wall that only shows digits, or stands in for one.
    Timer {
        /// Address of the gym's wall, as it was made under People and roles.
        #[arg(long, required_unless_present = "stand_in")]
        wall: Option<String>,
        /// Where the device listens, and where the stand-in does.
        #[arg(long, default_value = "127.0.0.1:8091")]
        device: String,
        /// Stand in for a device: its digits stand on a page at this address.
        #[arg(long, value_name = "PAGE")]
        stand_in: Option<String>,
    },
    /// Writes everything into one file, sealed with a passphrase, as it is at one moment, whoever writes meanwhile.
    #[cfg(feature = "sealed")]
    Backup(backup::BackupArguments),
    /// Brings a backup back into a database without tables, and compares.
    #[cfg(feature = "sealed")]
    Restore(backup::RestoreArguments),
    /// Writes everything on file about one gym into one sealed file.
    #[cfg(feature = "sealed")]
    ExportGym(backup::ExportArguments),
    /// Takes a gym in that `export-gym` has written, beside those that there are.
    #[cfg(feature = "sealed")]
    ImportGym(backup::ImportArguments),
    /// Sets up a gym from a file and a roster.
    Import {
        /// Database URL.
        #[arg(long, env = "LANTERN_DATABASE_URL", hide_env_values = true)]
        database_url: String,
        /// Members, as CSV.
        roster: PathBuf,
        /// What a column is that the roster does not know: `Header=back_squat_kg`, `Header=note` or `Header=drop`.
        #[arg(long = "column")]
        columns: Vec<String>,
        /// The gym, as TOML; needed once, for a database without a gym.
        #[arg(long)]
        gym: Option<PathBuf>,
    },
}

fn main() -> ExitCode {
    let done = match Cli::parse().command {
        Command::Read { session, gym, corrections, json } => {
            files::read(&session, gym.as_deref(), corrections.as_deref(), json)
        }
        Command::Plan { session, roster, gym, corrections, decisions, minutes, seed, json } => {
            let files = files::PlanFiles {
                session: &session,
                roster: &roster,
                gym: gym.as_deref(),
                corrections: corrections.as_deref(),
                decisions: decisions.as_deref(),
            };
            files::plan(&files, minutes, seed, json)
        }
        Command::Serve(arguments) => {
            settings::Settings::from(*arguments).and_then(|settings| serve::serve(&settings))
        }
        Command::LoadDemo { database_url, fresh } => serve::load_demo(&database_url, fresh),
        Command::PassphraseLink { database_url, email, at, without_codes } => {
            serve::passphrase_link(&database_url, &email, &at, without_codes)
        }
        Command::Calibration { simulate: true, seed, weeks, json, .. } => {
            calibration::simulated(seed, weeks, json)
        }
        Command::Calibration { database_url: Some(url), weeks, json, .. } => {
            calibration::of_gyms(&url, weeks, json)
        }
        Command::Calibration { .. } => Err(anyhow::anyhow!(
            "say --database-url for a gym's results, or --simulate for an invented class"
        )),
        #[cfg(feature = "sealed")]
        Command::Backup(arguments) => backup::backup(&arguments),
        #[cfg(feature = "sealed")]
        Command::Restore(arguments) => backup::restore(&arguments),
        #[cfg(feature = "sealed")]
        Command::ExportGym(arguments) => backup::export(&arguments),
        #[cfg(feature = "sealed")]
        Command::ImportGym(arguments) => backup::import(&arguments),
        Command::Timer { stand_in: Some(page), device, .. } => serve::timer_stand_in(&device, &page),
        Command::Timer { wall, device, .. } => lantern_web::timer::drive(&wall.unwrap_or_default(), &device),
        Command::Import { database_url, roster, columns, gym } => {
            serve::import(&database_url, &roster, &columns, gym.as_deref())
        }
    };
    match done {
        Ok(code) => code,
        Err(error) => {
            eprintln!("honest-lantern: {error:#}");
            ExitCode::from(2)
        }
    }
}
