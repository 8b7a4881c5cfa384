//! How slow single movements are beside their kind of work, as logarithms of pace: what a class shows of its burpees says little of its boxes.
//!
//! Movements are taken to have nothing to do with one another, which keeps a gym that has met two hundred of them as quick to work out as one that has met ten;
//! what a piece of several says is divided by how unsure each is.

use std::collections::BTreeMap;

use crate::movement::MovementId;

/// An independent normal distribution for each movement; those that nothing was heard of lie around nothing.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct ByMovement {
    /// Variance of those that nothing was heard of.
    apart: f64,
    /// Mean and variance of the others.
    heard: BTreeMap<MovementId, (f64, f64)>,
}

impl ByMovement {
    /// Around nothing, with a standard deviation.
    pub fn around_nothing(apart: f64) -> Self {
        Self { apart: apart.powi(2), heard: BTreeMap::new() }
    }

    fn of(&self, movement: &MovementId) -> (f64, f64) {
        self.heard.get(movement).copied().unwrap_or((0.0, self.apart))
    }

    /// Those that something was heard of.
    pub fn heard(&self) -> impl Iterator<Item = &MovementId> {
        self.heard.keys()
    }

    /// In the middle, of a movement alone.
    pub fn mean_of(&self, movement: &MovementId) -> f64 {
        self.of(movement).0
    }

    /// In the middle, of shares.
    pub fn mean(&self, shares: &[(MovementId, f64)]) -> f64 {
        shares.iter().map(|(movement, share)| share * self.of(movement).0).sum()
    }

    /// The variance of shares.
    pub fn variance(&self, shares: &[(MovementId, f64)]) -> f64 {
        shares.iter().map(|(movement, share)| share.powi(2) * self.of(movement).1).sum()
    }

    /// The sum of two that have nothing to do with each other.
    pub fn plus(&self, other: &Self) -> Self {
        let sum = |movement: &MovementId| {
            let ((mean, variance), (more, wider)) = (self.of(movement), other.of(movement));
            (movement.clone(), (mean + more, variance + wider))
        };
        let heard = self.heard.keys().chain(other.heard.keys()).map(sum).collect();
        Self { apart: self.apart + other.apart, heard }
    }

    /// What was believed fades towards `usual`, of which so much is kept.
    pub fn fade(&mut self, kept: f64, usual: &Self) {
        for (movement, (mean, variance)) in &mut self.heard {
            let (theirs, apart) = usual.of(movement);
            *mean = theirs + (*mean - theirs) * kept;
            *variance = *variance * kept * kept + apart * (1.0 - kept * kept);
        }
    }

    /// How much each moves with what is heard along shares of them, of which the variance of all is `all`.
    pub fn gains(&self, shares: &[(MovementId, f64)], all: f64) -> Vec<f64> {
        shares.iter().map(|(movement, share)| share * self.of(movement).1 / all).collect()
    }

    /// Moves by so much of a surprise, and is so much surer.
    pub fn hear(&mut self, shares: &[(MovementId, f64)], gains: &[f64], surprise: f64) {
        for ((movement, share), gain) in shares.iter().zip(gains) {
            let (mean, variance) = self.of(movement);
            self.heard.insert(movement.clone(), (mean + gain * surprise, variance * (1.0 - gain * share)));
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn two_that_have_nothing_to_do_with_each_other_add_up() {
        let (rows, jumps) = (MovementId::new("row"), MovementId::new("box-jump"));
        let heard = |movement: &MovementId, mean, variance| ByMovement {
            apart: 0.01,
            heard: [(movement.clone(), (mean, variance))].into(),
        };
        let both = heard(&rows, 0.2, 0.004).plus(&heard(&jumps, -0.1, 0.002));
        assert!((both.mean_of(&rows) - 0.2).abs() < 1e-12 && (both.mean_of(&jumps) + 0.1).abs() < 1e-12);
        // Of what only one has heard of, the other is as unsure as of anything.
        assert!((both.variance(&[(rows.clone(), 1.0)]) - 0.014).abs() < 1e-12);
        let twice = heard(&rows, 0.2, 0.004).plus(&heard(&rows, 0.1, 0.001));
        assert!((twice.mean_of(&rows) - 0.3).abs() < 1e-12);
        assert!((twice.variance(&[(rows, 1.0)]) - 0.005).abs() < 1e-12);
    }
}
