//! Shapley values over a few groups, of which some cannot be parted.

use crate::{Num, Why};

/// What one group, or several that cannot be parted, add to the whole change.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Share {
    /// The groups, a bit each.
    pub groups: u32,
    /// What they add.
    pub amount: f64,
}

/// The part of each of `n` groups in the change from `of(0)` to `of(2ⁿ − 1)`, where `of(s)` is the figure when exactly the groups
/// whose bits are set in `s` have changed:
///
/// φ(g) = Σ over s without g of |s|! (n − |s| − 1)! ÷ n! × (of(s with g) − of(s)).
///
/// Every group's addition, averaged over all orders in which they may change; the parts add up to the change. Groups between
/// which a mixture is undefined are taken as one. Shapley 1953, "A value for n-person games".
///
/// # Errors
/// The figure is undefined before or after.
pub fn shares(n: u32, of: impl FnMut(u32) -> Num) -> Result<Vec<Share>, Why> {
    let all = (1u32 << n) - 1;
    let figures: Vec<Num> = (0..=all).map(of).collect();
    let (before, after) = (figures[0], figures[all as usize]);
    before.and(after)?;
    let known: Vec<Option<f64>> = figures.into_iter().map(Result::ok).collect();
    let groups = together((0..n).map(|g| 1 << g).collect(), &known);
    Ok(groups.iter().map(|g| Share { groups: *g, amount: part(*g, &groups, &known) }).collect())
}

/// Joins groups until no mixture of them is undefined: each time those two that leave the fewest.
fn together(mut groups: Vec<u32>, known: &[Option<f64>]) -> Vec<u32> {
    while undefined(&groups, known) > 0 {
        let pairs = (0..groups.len()).flat_map(|a| (a + 1..groups.len()).map(move |b| (a, b)));
        let Some(joined) = pairs.map(|(a, b)| joined(&groups, a, b)).min_by_key(|groups| undefined(groups, known)) else { break };
        groups = joined;
    }
    groups
}

fn joined(groups: &[u32], a: usize, b: usize) -> Vec<u32> {
    let mut out = groups.to_vec();
    out[a] |= out.remove(b);
    out
}

/// How many mixtures of the groups are undefined.
fn undefined(groups: &[u32], known: &[Option<f64>]) -> usize {
    mixtures(groups).filter(|s| known[*s as usize].is_none()).count()
}

/// Every mixture of groups, as bits.
fn mixtures(groups: &[u32]) -> impl Iterator<Item = u32> + '_ {
    let chosen = |which: u32| groups.iter().enumerate().filter(|(i, _)| which >> i & 1 == 1).map(|(_, g)| g).sum();
    (0..1u32 << groups.len()).map(chosen)
}

fn part(group: u32, groups: &[u32], known: &[Option<f64>]) -> f64 {
    let others: Vec<u32> = groups.iter().copied().filter(|g| *g != group).collect();
    let n = groups.len();
    let added = |s: u32| {
        let changed = others.iter().filter(|g| s & **g == **g).count();
        let weight = factorial(changed) * factorial(n - changed - 1) / factorial(n);
        Some(weight * (known[(s | group) as usize]? - known[s as usize]?))
    };
    mixtures(&others).filter_map(added).sum()
}

#[allow(clippy::cast_precision_loss)]
fn factorial(n: usize) -> f64 {
    (1..=n).map(|k| k as f64).product()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn amounts(n: u32, of: impl FnMut(u32) -> Num) -> Vec<(u32, f64)> {
        let round = |x: f64| (x * 1e9).round() / 1e9;
        shares(n, of).unwrap().into_iter().map(|s| (s.groups, round(s.amount))).collect()
    }

    /// Price 10 → 12 and shares 5 → 7 of a product of 50 → 84. Price first: 2 × 5 = 10, then shares 2 × 12 = 24; shares first:
    /// 2 × 10 = 20, then price 2 × 7 = 14. The means are 12 and 22.
    #[test]
    fn a_product_is_parted_by_the_mean_of_both_orders() {
        let product = |s: u32| Ok(if s & 1 == 0 { 10.0 } else { 12.0 } * if s & 2 == 0 { 5.0 } else { 7.0 });
        assert_eq!(amounts(2, product), [(1, 12.0), (2, 22.0)]);
    }

    /// The glove game: the left glove needs one of two right ones. Its parts are known: 2/3, 1/6, 1/6.
    #[test]
    fn the_glove_game_has_its_known_solution() {
        let pair = |s: u32| Ok(f64::from(u8::from(s & 1 == 1 && s & 6 != 0)));
        assert_eq!(amounts(3, pair), [(1, 0.666666667), (2, 0.166666667), (4, 0.166666667)]);
    }

    /// Changing the first group alone gives nothing that could be computed: it and the second are one; the third stands alone.
    #[test]
    fn groups_that_cannot_be_parted_are_one() {
        let value = |s: u32| {
            let third = if s & 4 == 0 { 0.0 } else { 5.0 };
            match s & 3 {
                0 => Ok(100.0 + third),
                3 => Ok(80.0 + third),
                2 => Ok(90.0 + third),
                _ => Err(Why::NotPositive),
            }
        };
        assert_eq!(amounts(3, value), [(3, -20.0), (4, 5.0)]);
    }

    #[test]
    fn nothing_is_parted_where_an_end_is_undefined() {
        assert_eq!(shares(2, |s| if s == 3 { Err(Why::Stale) } else { Ok(1.0) }), Err(Why::Stale));
        assert_eq!(shares(2, |s| if s == 0 { Err(Why::NoPrice) } else { Ok(1.0) }), Err(Why::NoPrice));
        assert_eq!(shares(0, |_| Ok(1.0)), Ok(Vec::new()));
    }
}
