//! Learning: an averaged perceptron over the best ways to read each text, the one that its label likes best being the target.
//! (Collins 2002, "Discriminative training methods for hidden Markov models"; the margin grows with what is wrong, as in
//! Taskar et al. 2003.)

/// Times that all texts are gone through.
const PASSES: usize = 30;
/// How far a weight moves for a text that is read wrong.
const RATE: f64 = 0.01;
/// A wrong way must be this much dearer for each fact that it loses, at most [`MOST_MARGIN`].
const MARGIN: f64 = 0.1;
/// Largest margin that is asked for.
const MOST_MARGIN: f64 = 0.6;
/// How far a weight goes back to where it began after each pass: what few texts speak for stays by hand.
const PULL: f64 = 0.02;
/// Weights are kept to hundredths, so that the file can be read.
const HUNDREDTHS: f64 = 100.0;

/// A way to read a text.
#[derive(Clone, Debug)]
pub struct Choice {
    /// How often each learned feature holds.
    pub counts: Vec<f64>,
    /// What it costs besides.
    pub fixed: f64,
    /// Facts that it states rightly, less those that it makes up.
    pub good: f64,
}

/// A text with the ways to read it.
#[derive(Clone, Debug, Default)]
pub struct Example {
    /// Which text it is of: what it says is held out together.
    pub of: usize,
    /// Cheapest first by the weights that found them.
    pub choices: Vec<Choice>,
}

fn cost(choice: &Choice, weights: &[f64]) -> f64 {
    choice.fixed + choice.counts.iter().zip(weights).map(|(count, weight)| count * weight).sum::<f64>()
}

impl Example {
    /// The way that costs least; none where there is no way at all.
    pub fn chosen(&self, weights: &[f64]) -> Option<&Choice> {
        self.choices.iter().min_by(|a, b| cost(a, weights).total_cmp(&cost(b, weights)))
    }

    /// The way that its label likes best; of several the one that costs least.
    fn target(&self, weights: &[f64]) -> Option<&Choice> {
        let dearer = |a: &Choice, b: &Choice| cost(a, weights).total_cmp(&cost(b, weights));
        self.choices.iter().max_by(|a, b| a.good.total_cmp(&b.good).then(dearer(b, a)))
    }

    /// The way that comes nearest to being chosen wrongly, margin and all.
    fn rival(&self, target: &Choice, weights: &[f64]) -> Option<&Choice> {
        let reach = |choice: &Choice| {
            cost(choice, weights) - (MARGIN * (target.good - choice.good)).clamp(0.0, MOST_MARGIN)
        };
        self.choices.iter().min_by(|a, b| reach(a).total_cmp(&reach(b)))
    }
}

/// Weights that choose well among the ways to read each text, beginning with others.
pub fn learn(examples: &[Example], start: &[f64]) -> Vec<f64> {
    let mut weights = start.to_vec();
    let mut sum = vec![0.0; start.len()];
    for _ in 0..PASSES {
        for example in examples {
            let Some(target) = example.target(&weights) else { continue };
            let Some(rival) = example.rival(target, &weights) else { continue };
            if rival.good < target.good {
                for (n, weight) in weights.iter_mut().enumerate() {
                    *weight += RATE * (rival.counts[n] - target.counts[n]);
                }
            }
        }
        for (n, weight) in weights.iter_mut().enumerate() {
            *weight += PULL * (start[n] - *weight);
            sum[n] += *weight;
        }
    }
    sum.into_iter().map(|total| (total / PASSES as f64 * HUNDREDTHS).round() / HUNDREDTHS).collect()
}

/// What is right in the ways that weights choose, over all texts.
pub fn goodness(examples: &[Example], weights: &[f64]) -> f64 {
    examples.iter().filter_map(|example| example.chosen(weights)).map(|choice| choice.good).sum()
}

/// What is right in texts that were held out of learning, `folds` of them, each text in one: by the weights it begins with, and by what
/// the other texts have taught.
pub fn held_out(examples: &[Example], start: &[f64], folds: usize) -> Vec<(f64, f64)> {
    let of = |fold: usize, held: bool| -> Vec<Example> {
        let kept = examples.iter().filter(|example| (example.of % folds == fold) == held);
        kept.cloned().collect()
    };
    let folds = (0..folds).map(|fold| {
        let (taught, held) = (learn(&of(fold, false), start), of(fold, true));
        (goodness(&held, start), goodness(&held, &taught))
    });
    folds.collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn choice(counts: [f64; 2], fixed: f64, good: f64) -> Choice {
        Choice { counts: counts.to_vec(), fixed, good }
    }

    /// Two ways each: the right one has the second feature, the wrong one the first, and is cheaper by hand.
    fn examples() -> Vec<Example> {
        (0..20)
            .map(|n| Example {
                of: n as usize,
                choices: vec![choice([1.0, 0.0], 0.01 * f64::from(n), 3.0), choice([0.0, 1.0], 0.0, 9.0)],
            })
            .collect()
    }

    #[test]
    fn what_the_labels_like_is_chosen_after_learning() {
        let start = [0.0, 0.5];
        let learned = learn(&examples(), &start);
        assert_eq!(goodness(&examples(), &start), 60.0);
        assert_eq!(goodness(&examples(), &learned), 180.0, "{learned:?}");
        assert!(learned[0] > start[0] && learned[1] < start[1], "{learned:?}");
    }

    #[test]
    fn nothing_moves_where_everything_is_right_by_a_margin() {
        assert_eq!(learn(&examples(), &[2.0, 0.1]), [2.0, 0.1]);
    }

    #[test]
    fn the_same_texts_teach_the_same() {
        assert_eq!(learn(&examples(), &[0.0, 0.5]), learn(&examples(), &[0.0, 0.5]));
    }

    #[test]
    fn held_out_texts_gain_too_where_the_kind_is_the_same() {
        for (by_hand, taught) in held_out(&examples(), &[0.0, 0.5], 4) {
            assert_eq!((by_hand, taught), (15.0, 45.0));
        }
    }

    #[test]
    fn a_text_without_any_reading_teaches_nothing() {
        assert_eq!(learn(&[Example::default()], &[0.3]), [0.3]);
    }
}
