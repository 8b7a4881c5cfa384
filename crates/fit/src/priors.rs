//! What is believed beforehand of each parameter, and how sure; and the file that the fitted ones are written to.

use anyhow::{Context as _, Result};
use lantern_core::pacing::Model;
use serde::Deserialize;
use toml::Table;

/// A parameter that is fitted.
#[derive(Clone, Debug, Deserialize)]
pub struct Prior {
    /// Section and key under `[fitted]`: `pace.burpee`.
    pub key: String,
    /// What is believed without the table.
    pub value: f64,
    /// How far it may lie off, as one standard deviation: in proportion where `scale` says so.
    pub spread: f64,
    /// In proportion or in its own unit.
    pub scale: Scale,
}

/// How a parameter moves.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Scale {
    /// In proportion: never through zero.
    Log,
    /// In its own unit.
    Plain,
}

impl Prior {
    /// The parameter so many standard deviations off.
    pub fn at(&self, off: f64) -> f64 {
        match self.scale {
            Scale::Log => self.value * (self.spread * off).exp(),
            Scale::Plain => self.value + self.spread * off,
        }
    }
}

/// All parameters that are fitted.
///
/// # Errors
/// When the file is damaged.
pub fn priors() -> Result<Vec<Prior>> {
    let mut rows = csv::ReaderBuilder::new()
        .comment(Some(b'#'))
        .from_reader(include_bytes!("../data/priors.csv").as_slice());
    rows.deserialize().map(|row| row.context("priors.csv")).collect()
}

/// The model with these values, as the file will hold them.
///
/// # Errors
/// When the model has no such parameter.
pub fn with(model: &Model, priors: &[Prior], off: &[f64]) -> Result<Model> {
    let mut fitted = Table::try_from(&model.fitted)?;
    for (prior, off) in priors.iter().zip(off) {
        let (section, key) = prior.key.split_once('.').context("a key has a section")?;
        let section = fitted.get_mut(section).and_then(toml::Value::as_table_mut);
        let value = section.and_then(|section| section.get_mut(key));
        *value.with_context(|| format!("no parameter {}", prior.key))? =
            toml::Value::Float(rounded(prior.at(*off)));
    }
    Ok(Model { fitted: fitted.try_into()?, ..model.clone() })
}

/// To four figures: more are not known.
fn rounded(value: f64) -> f64 {
    format!("{value:.3e}").parse().unwrap_or(value)
}

/// The text of the parameter file with these values in their lines; comments stay.
pub fn rewritten(text: &str, priors: &[Prior], off: &[f64]) -> String {
    let mut section = String::new();
    let mut lines: Vec<String> = Vec::new();
    for line in text.lines() {
        if let Some(name) = line.strip_prefix('[') {
            section = name.trim_end_matches(']').trim_start_matches("fitted.").to_owned();
        }
        let key = line.split_once(" = ").map(|(key, _)| format!("{section}.{key}"));
        let fitted = key.and_then(|key| priors.iter().zip(off).find(|(prior, _)| prior.key == key));
        lines.push(match fitted {
            Some((prior, off)) => {
                format!(
                    "{} = {:?}",
                    prior.key.rsplit('.').next().unwrap_or_default(),
                    rounded(prior.at(*off))
                )
            }
            None => line.to_owned(),
        });
    }
    lines.join("\n") + "\n"
}
