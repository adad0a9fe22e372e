//! What to know before a curve is believed.

use super::outcome::{Outcome, WarningFigures, Warnings};
use crate::wording::figures::{count, percent};

const REBALANCES: usize = 20;
const HELD: f64 = 5.0;
const OF_ONE_COMPANY: f64 = 0.25;
const OF_ONE_YEAR: f64 = 0.5;
const UNDEFINED: f64 = 0.2;
/// Fewer candidates than so many times those held leave chance too little to choose from.
const FIELD: usize = 4;

/// Which of the warnings there are.
pub(super) fn warnings(of: &WarningFigures, average_held: f64, value: f64) -> Warnings {
    let above = |share: Option<f64>, most: f64| value > 1.0 && share.is_some_and(|share| share > most);
    Warnings {
        few_rebalances: of.rebalances < REBALANCES,
        few_held: average_held < HELD,
        one_pick: above(of.top_company_share_of_gain, OF_ONE_COMPANY),
        one_year: above(of.top_year_share_of_gain, OF_ONE_YEAR),
        undefined_data: of.undefined_share.is_some_and(|share| share > UNDEFINED),
    }
}

/// The warnings and what else weighs, in sentences.
pub(super) fn said(of: &Outcome) -> Vec<String> {
    let (w, f) = (of.warnings, &of.warning_figures);
    let name = |text: &Option<String>| text.clone().unwrap_or_default();
    let share = |share: Option<f64>| percent(share.unwrap_or_default());
    let few_candidates = of.candidates.iter().zip(&of.luck.portfolio_sizes).any(|(all, held)| *held > 0 && *all < FIELD * held);
    let sentences = [
        (of.average_held == 0.0, "Nothing was ever bought: no company passed on any of the days.".to_owned()),
        (
            of.total_return <= -1.0,
            "Everything was lost: all that it held left the exchange for nothing, and it could buy no more.".to_owned(),
        ),
        (w.few_rebalances, format!("It rebalanced only {}: too few for its result to mean much (20 are wanted).", times(f.rebalances))),
        (
            w.few_held && of.average_held > 0.0,
            format!("It held {:.1} companies on average: with fewer than 5, single companies decide.", of.average_held),
        ),
        (
            w.one_pick,
            format!(
                "{} made {} of the gain: without it the result would be another.",
                name(&f.top_company),
                share(f.top_company_share_of_gain)
            ),
        ),
        (w.one_year, format!("The year {} made {} of the gain.", name(&f.top_year), share(f.top_year_share_of_gain))),
        (
            w.undefined_data,
            format!(
                "For want of data {} of the companies could not be judged: what is left out may have done otherwise.",
                share(f.undefined_share)
            ),
        ),
        (
            few_candidates,
            "There was little to choose from: with fewer than four candidates for each company held, random portfolios are much like it."
                .to_owned(),
        ),
    ];
    sentences.into_iter().filter(|(holds, _)| *holds).map(|(_, sentence)| sentence).collect()
}

fn times(n: usize) -> String {
    match n {
        1 => "once".to_owned(),
        2 => "twice".to_owned(),
        n => count(n, "time"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const FINE: WarningFigures = WarningFigures {
        rebalances: 20,
        top_company: None,
        top_company_share_of_gain: Some(0.25),
        top_year: None,
        top_year_share_of_gain: Some(0.5),
        undefined_share: Some(0.2),
    };

    /// Each at its limit is no warning, and a bit beyond it is.
    #[test]
    fn each_warning_has_its_limit() {
        assert_eq!(warnings(&FINE, 5.0, 1.5), Warnings::default());
        let all = WarningFigures {
            rebalances: 19,
            top_company_share_of_gain: Some(0.2501),
            top_year_share_of_gain: Some(0.5001),
            undefined_share: Some(0.2001),
            ..FINE
        };
        let every = Warnings { few_rebalances: true, few_held: true, one_pick: true, one_year: true, undefined_data: true };
        assert_eq!(warnings(&all, 4.99, 1.5), every);
    }

    /// Without a gain nobody has a part in it.
    #[test]
    fn a_loss_has_no_part_that_one_pick_made() {
        let all = WarningFigures { top_company_share_of_gain: Some(0.9), top_year_share_of_gain: Some(0.9), ..FINE };
        assert_eq!(warnings(&all, 5.0, 1.0), Warnings::default());
        let unknown = WarningFigures { undefined_share: None, top_company_share_of_gain: None, ..FINE };
        assert_eq!(warnings(&unknown, 5.0, 1.5), Warnings::default());
    }

    #[test]
    fn numbers_of_times_are_said_as_one_says_them() {
        assert_eq!([1, 2, 3].map(times), ["once", "twice", "3 times"]);
    }
}
