//! Least squares with what is believed beforehand: damped steps (Levenberg 1944, Marquardt 1963) over a numerical derivative. The
//! same input gives the same result.

use anyhow::Result;
use lantern_core::pacing::Model;
use rayon::prelude::*;

use crate::priors::{Prior, with};
use crate::table::Case;

/// Most steps.
const STEPS: usize = 40;
/// Step of the numerical derivative, in standard deviations of a parameter.
const NUDGE: f64 = 0.02;
/// Beyond so many half-widths of its range a row pulls no harder: one odd row must not decide.
const FAR: f64 = 1.5;
/// What the beliefs count against the rows.
const BELIEF: f64 = 1.0;
/// A step that gains less than this share is the last.
const ENOUGH: f64 = 1e-4;

/// Parameters, in standard deviations off what is believed.
pub type Off = Vec<f64>;

/// Fits all parameters to some rows.
///
/// # Errors
/// When a parameter is not one of the model's.
pub fn fit(cases: &[&Case], priors: &[Prior], model: &Model) -> Result<Off> {
    let mut off = vec![0.0; priors.len()];
    let mut now = residuals(cases, priors, model, &off)?;
    let mut damping = 1.0;
    for _ in 0..STEPS {
        let slopes: Vec<Vec<f64>> = (0..priors.len())
            .into_par_iter()
            .map(|n| {
                let mut nudged = off.clone();
                nudged[n] += NUDGE;
                let there = residuals(cases, priors, model, &nudged)?;
                Ok(there.iter().zip(&now).map(|(there, now)| (there - now) / NUDGE).collect())
            })
            .collect::<Result<_>>()?;
        let mut gained = false;
        for _ in 0..8 {
            let step = damped_step(&slopes, &now, &off, damping);
            let tried: Off = off.iter().zip(&step).map(|(off, step)| (off + step).clamp(-4.0, 4.0)).collect();
            let there = residuals(cases, priors, model, &tried)?;
            let (before, after) = (cost(&now, &off), cost(&there, &tried));
            if after < before {
                gained = before - after > ENOUGH * before;
                (off, now) = (tried, there);
                damping = (damping * 0.4).max(1e-3);
                break;
            }
            damping *= 3.0;
        }
        if !gained {
            break;
        }
    }
    Ok(off)
}

/// How far off each row is, in half-widths of its range, weighted.
fn residuals(cases: &[&Case], priors: &[Prior], model: &Model, off: &[f64]) -> Result<Vec<f64>> {
    let model = with(model, priors, off)?;
    Ok(cases.iter().map(|case| bounded(case.off_in_widths(case.predicted(&model))) * case.weight).collect())
}

/// Nearly linear to [`FAR`], and slower from there on.
fn bounded(off: f64) -> f64 {
    off.signum() * FAR * (off.abs() / FAR).asinh()
}

fn cost(residuals: &[f64], off: &[f64]) -> f64 {
    let squares = |values: &[f64]| values.iter().map(|value| value * value).sum::<f64>();
    squares(residuals) + BELIEF * squares(off)
}

/// The step that the derivative asks for, damped.
fn damped_step(slopes: &[Vec<f64>], residuals: &[f64], off: &[f64], damping: f64) -> Vec<f64> {
    let count = slopes.len();
    let along = |a: &[f64], b: &[f64]| a.iter().zip(b).map(|(a, b)| a * b).sum::<f64>();
    let mut rows: Vec<Vec<f64>> = (0..count)
        .map(|n| {
            let mut row: Vec<f64> = (0..count).map(|m| along(&slopes[n], &slopes[m])).collect();
            row[n] = (row[n] + BELIEF) * (1.0 + damping);
            row.push(-along(&slopes[n], residuals) - BELIEF * off[n]);
            row
        })
        .collect();
    // The matrix is positive definite, so elimination needs no other order.
    for n in 0..count {
        for below in n + 1..count {
            let factor = rows[below][n] / rows[n][n];
            let (upper, lower) = rows.split_at_mut(below);
            upper[n].iter().zip(&mut lower[0]).skip(n).for_each(|(above, value)| *value -= factor * above);
        }
    }
    let mut step = vec![0.0; count];
    for n in (0..count).rev() {
        let known = (n + 1..count).map(|m| rows[n][m] * step[m]).sum::<f64>();
        step[n] = (rows[n][count] - known) / rows[n][n];
    }
    step
}
