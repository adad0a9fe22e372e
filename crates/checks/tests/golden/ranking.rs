//! What holds of every ranking of the golden companies, whatever the weights and whoever is ranked.

use super::{DATES, context, day};
use artemon_core::{
    Num,
    domain::Day,
    panel::CompanyIndex,
    ranking::{Candidate, Weights, rank},
};

fn universe(t: Day) -> Vec<CompanyIndex> {
    context().as_of(t).universe().iter().map(|c| c.index).collect()
}

/// The four figures of a candidate, in the order of its ranks.
fn figures(c: &Candidate) -> [Num; 4] {
    let v = c.value();
    [v.margin_of_safety(), v.quality.score, v.expected_return, v.quality.insider_buying]
}

/// Better verdicts first, then higher scores, then symbols; every company once.
fn in_order(ranked: &[Candidate]) -> bool {
    ranked.windows(2).all(|w| {
        let key = |c: &Candidate| (c.verdict, -c.score.unwrap_or(f64::NEG_INFINITY), c.company);
        key(&w[0]) < key(&w[1])
    })
}

fn weights(all: [f64; 4]) -> Weights {
    let [margin_of_safety, quality, expected_return, insider_buying] = all;
    Weights { margin_of_safety, quality, expected_return, insider_buying }
}

#[test]
fn the_score_is_a_weighted_mean_of_known_ranks() {
    for t in DATES.map(day) {
        let all = universe(t);
        for of in [[0.4, 0.3, 0.2, 0.1], [1.0, 0.0, 0.0, 0.0], [0.0, 0.0, 5.0, 5.0], [4.0, 3.0, 2.0, 1.0]] {
            let ranked = rank(context(), t, &all, weights(of));
            assert_eq!(ranked.len(), all.len());
            assert!(in_order(&ranked), "{t} {of:?}");
            for c in &ranked {
                let known: Vec<(f64, f64)> = of.into_iter().zip(c.ranks).filter_map(|(w, r)| Some((w, r?))).collect();
                let weight: f64 = known.iter().map(|k| k.0).sum();
                let want = (weight > 0.0).then(|| known.iter().map(|(w, r)| w * r).sum::<f64>() / weight);
                assert!(c.score.zip(want).is_none_or(|(a, b)| (a - b).abs() < 1e-9) && c.score.is_some() == want.is_some());
            }
        }
        // Only proportions matter.
        let scores = |of| rank(context(), t, &all, weights(of)).into_iter().map(|c| c.company).collect::<Vec<_>>();
        assert_eq!(scores([0.4, 0.3, 0.2, 0.1]), scores([4.0, 3.0, 2.0, 1.0]));
    }
}

/// Ranks are those among who is ranked: from 0 to 100, higher for a higher figure, none for one that is not known.
#[test]
fn ranks_are_among_those_ranked() {
    for t in DATES.map(day) {
        let all = universe(t);
        for whom in [all.clone(), all.iter().copied().step_by(2).collect(), all[..3].to_vec()] {
            let ranked = rank(context(), t, &whom, Weights::default());
            for k in 0..4 {
                let mut known: Vec<(f64, f64)> = Vec::new();
                for c in &ranked {
                    assert_eq!(c.ranks[k].is_some(), figures(c)[k].is_ok(), "{t} figure {k}");
                    known.extend(figures(c)[k].ok().zip(c.ranks[k]));
                }
                known.sort_by(|a, b| a.0.total_cmp(&b.0));
                assert!(known.windows(2).all(|w| (w[0].0 < w[1].0) == (w[0].1 < w[1].1)), "{t} figure {k}: {known:?}");
                if let [first, .., last] = &known[..]
                    && known.windows(2).all(|w| w[0].0 < w[1].0)
                {
                    assert_eq!((first.1, last.1), (0.0, 100.0), "{t} figure {k}");
                }
            }
        }
    }
}

/// Alone a company stands in the middle, and nobody ranked is no ranking.
#[test]
fn one_stands_in_the_middle() {
    let t = day(DATES[2]);
    let all = universe(t);
    let alone = &rank(context(), t, &all[..1], Weights::default())[0];
    assert!(alone.ranks.iter().flatten().all(|r| *r == 50.0));
    assert!(rank(context(), t, &[], Weights::default()).is_empty());
}
