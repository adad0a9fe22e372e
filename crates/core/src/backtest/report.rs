//! From what happened to the documented result.

use super::{
    account::{Note, Pick, Story},
    calendar::Calendar,
    decide::Decision,
    luck::{DRAWS, Luck},
    outcome::{
        BenchmarkIndex, Bin, Bootstrap, CurvePoint, Daily, DayValue, FanPoint, LuckOutcome, NoteOutcome, Outcome, Payout, PickOutcome,
        Quantile, RebalanceOutcome, TradeOutcome, WarningFigures,
    },
    priced::Entry,
    statistics::{annualised, downside, drawdown, growth, monthly, rolling, volatility, years},
    tested::{IndexUsed, Tested},
    warnings,
};
use crate::{
    domain::{Day, RateSeries},
    index_levels::index_levels,
    panel::CompanyIndex,
    stats::{mean, percentile_of_sorted},
};
use std::collections::BTreeMap;

/// The quantiles of random portfolios that are told.
const QUANTILES: [f64; 5] = [0.05, 0.25, 0.5, 0.75, 0.95];
/// Bars of the distribution of random portfolios.
const BINS: usize = 40;
/// The share of random portfolios at either end that lie beyond the bars.
const FAR: f64 = 0.005;
/// Tries of which the best by chance is told.
const TRIES: usize = 100;
/// Best and worst picks that are told.
const FEW: usize = 5;

/// The result.
pub(super) fn outcome(
    tested: &Tested<'_>,
    story: Story,
    benchmark: &[f64],
    index: Option<IndexUsed>,
    luck: &Luck,
    interval: Option<(f64, f64)>,
) -> Outcome {
    let told = Told { tested, calendar: &tested.calendar };
    let (calendar, curve) = (&tested.calendar, &story.curve);
    let (sessions, last) = (&calendar.sessions, calendar.last());
    let ends = calendar.month_ends();
    let days = sessions[last].days_since(sessions[0]);
    let (value, against) = (curve[last], benchmark[last]);
    let annual = |growth: f64| annualised(growth, days);
    let (months, benchmark_months) = (monthly(curve, &ends), monthly(benchmark, &ends));
    let risk_free = told.risk_free(&ends);
    let over = annual(value) - risk_free;
    let by_volatility = |v: Option<f64>| v.filter(|v| *v > 0.0).map(|v| over / v);
    let worst = drawdown(curve);
    let picks: Vec<PickOutcome> = story.picks.iter().map(|p| told.pick(p, benchmark)).collect();
    let by_year = |of: &[f64]| years(calendar).into_iter().map(|(y, (from, to))| (y.to_string(), growth(of, from, to) - 1.0)).collect();
    let gains = told.gains(&story.picks);
    let warning_figures = told.warning_figures(&story, &gains);
    let warned = warnings::warnings(&warning_figures, mean_of(&story.held), value);
    let mut points = ends.clone();
    points.push(last);
    points.dedup();
    let share = |part: usize, of: usize| (of > 0).then(|| part as f64 / of as f64);
    let beat = months.iter().zip(&benchmark_months).filter(|(a, b)| a > b).count();
    let rolled = |years: usize| {
        let all = rolling(curve, benchmark, &ends, calendar, years);
        all.into_iter().map(|(s, value)| DayValue { date: sessions[s], value }).collect()
    };
    let of_years = calendar.years_to(last);
    // The sum of nothing is −0.
    let turned = 0.0 + story.turned.iter().map(|(moved, before)| moved / 2.0 / before).sum::<f64>();
    let cash: Vec<f64> = story.cash.iter().zip(curve).map(|(cash, value)| if *value > 0.0 { cash / value } else { 0.0 }).collect();
    let mut out = Outcome {
        first: sessions[0],
        last: sessions[last],
        sessions: sessions.len(),
        rebalances: told.rebalances(&story),
        total_return: value - 1.0,
        annualised_return: annual(value),
        benchmark_total_return: against - 1.0,
        benchmark_annualised_return: annual(against),
        excess: annual(value) - annual(against),
        annual_volatility: volatility(&months),
        benchmark_volatility: volatility(&benchmark_months),
        max_drawdown: worst.map_or(0.0, |w| w.0),
        drawdown_from: worst.map(|w| sessions[w.1]),
        drawdown_to: worst.map(|w| sessions[w.2]),
        benchmark_max_drawdown: drawdown(benchmark).map_or(0.0, |w| w.0),
        sharpe: by_volatility(volatility(&months)),
        sortino: by_volatility(downside(&months)),
        risk_free,
        share_of_months_beating: share(beat, months.len().min(benchmark_months.len())),
        share_of_picks_beating: share(picks.iter().filter(|p| p.beat).count(), picks.len()),
        turnover_a_year: turned / of_years,
        average_held: mean_of(&story.held),
        cost_paid: story.cost_paid,
        time_in_cash: story.held.iter().filter(|held| **held == 0).count() as f64 / sessions.len() as f64,
        average_cash: mean(&cash).unwrap_or_default(),
        by_year: by_year(curve),
        benchmark_by_year: by_year(benchmark),
        warnings: warned,
        said: Vec::new(),
        curve: points.iter().map(|s| CurvePoint { date: sessions[*s], value: curve[*s], benchmark: benchmark[*s] }).collect(),
        rolling_3: rolled(3),
        rolling_5: rolled(5),
        trades: told.trades(&story),
        payouts: told.payouts(&story),
        notes: story.notes.iter().map(|n| told.note(n)).collect(),
        gain_by_company: gains.into_iter().map(|(i, gain)| (told.symbol(i), gain)).collect(),
        best_picks: few(&picks, |p| -p.returned),
        worst_picks: few(&picks, |p| p.returned),
        picks,
        benchmark_index: index.and_then(|used| told.index(used)),
        candidates: tested.decisions.iter().map(|d| d.candidates().len()).collect(),
        luck: told.luck(luck, value, annual(against), &story),
        bootstrap: interval.map(|(low, high)| Bootstrap { months: months.len(), resamples: DRAWS, low, high }),
        daily: Daily { dates: sessions.clone(), cash, benchmark: benchmark.to_vec(), value: story.curve },
        warning_figures,
    };
    out.said = warnings::said(&out);
    out
}

fn mean_of(counts: &[usize]) -> f64 {
    counts.iter().sum::<usize>() as f64 / counts.len() as f64
}

/// The first few by a key, ties by symbol.
fn few(picks: &[PickOutcome], key: impl Fn(&PickOutcome) -> f64) -> Vec<PickOutcome> {
    let mut all: Vec<&PickOutcome> = picks.iter().collect();
    all.sort_by(|a, b| key(a).total_cmp(&key(b)).then_with(|| a.symbol.cmp(&b.symbol)));
    all.into_iter().take(FEW).cloned().collect()
}

/// What is told of it, with days and symbols in place of numbers.
struct Told<'r> {
    tested: &'r Tested<'r>,
    calendar: &'r Calendar,
}

impl Told<'_> {
    fn day(&self, session: usize) -> Day {
        self.calendar.sessions[session]
    }

    fn symbol(&self, company: CompanyIndex) -> String {
        self.tested.context.snapshot().symbol(company).to_owned()
    }

    fn decision(&self, rebalance: usize) -> Day {
        self.day(self.calendar.rebalances[rebalance].decision)
    }

    /// The mean yield of ten-year government bonds at month ends, 0 where there is none.
    fn risk_free(&self, ends: &[usize]) -> f64 {
        let of = |s: &usize| self.tested.context.as_of(self.day(*s)).rate(self.tested.settings.base, RateSeries::Government10yYield);
        mean(&ends.iter().filter_map(of).collect::<Vec<_>>()).unwrap_or_default()
    }

    fn rebalances(&self, story: &Story) -> Vec<RebalanceOutcome> {
        let one = |(k, held): (usize, &Vec<CompanyIndex>)| RebalanceOutcome {
            decision: self.decision(k),
            trade: self.day(self.calendar.rebalances[k].trade),
            holdings: held.iter().map(|i| self.symbol(*i)).collect(),
        };
        story.portfolios.iter().enumerate().map(one).collect()
    }

    fn trades(&self, story: &Story) -> Vec<TradeOutcome> {
        let seen = |company, session| self.tested.context.as_of(self.day(session)).company(company).price().unwrap_or_default();
        let one = |t: &super::account::Trade| TradeOutcome {
            date: self.day(t.session),
            symbol: self.symbol(t.company),
            amount: t.amount,
            price: seen(t.company, t.session),
            why: t.why,
        };
        let mut all: Vec<_> = story.trades.iter().collect();
        all.sort_by_key(|t| (t.session, t.company));
        all.into_iter().map(one).collect()
    }

    fn payouts(&self, story: &Story) -> Vec<Payout> {
        let one = |(s, company, amount): &(usize, CompanyIndex, f64)| Payout {
            date: self.day(*s),
            symbol: self.symbol(*company),
            amount: *amount,
        };
        story.payouts.iter().map(one).collect()
    }

    fn note(&self, note: &Note) -> NoteOutcome {
        let (what, on) = match note.entry {
            Entry::At(session) => ("bought at the first close", Some(self.day(session))),
            Entry::NoPrice => ("no price within 10 days", None),
            Entry::Left => ("delisted before the trade", None),
        };
        let date = self.day(self.calendar.rebalances[note.rebalance].trade);
        NoteOutcome { date, symbol: self.symbol(note.company), what: what.to_owned(), on }
    }

    fn pick(&self, pick: &Pick, benchmark: &[f64]) -> PickOutcome {
        let (returned, benchmark_return) = (pick.end / pick.start - 1.0, growth(benchmark, pick.from, pick.to) - 1.0);
        PickOutcome {
            symbol: self.symbol(pick.company),
            decision: self.decision(pick.rebalance),
            from: self.day(pick.from),
            to: self.day(pick.to),
            start: pick.start,
            end: pick.end,
            ended_by: pick.ended_by,
            returned,
            benchmark_return,
            beat: returned > benchmark_return,
        }
    }

    fn gains(&self, picks: &[Pick]) -> BTreeMap<CompanyIndex, f64> {
        let mut gains = BTreeMap::new();
        picks.iter().for_each(|p| *gains.entry(p.company).or_default() += p.end - p.start);
        gains
    }

    fn warning_figures(&self, story: &Story, gains: &BTreeMap<CompanyIndex, f64>) -> WarningFigures {
        let gain = story.curve[self.calendar.last()] - 1.0;
        let of_gain = |part: f64| (gain > 0.0).then_some(part / gain);
        let company = gains.iter().max_by(|a, b| a.1.total_cmp(b.1).then(b.0.cmp(a.0)));
        let made = |(year, (from, to)): (i32, (usize, usize))| (year, story.curve[to] - story.curve[from]);
        let year = years(self.calendar).into_iter().map(made).max_by(|a, b| a.1.total_cmp(&b.1));
        let sum = |of: fn(&Decision) -> usize| self.tested.decisions.iter().map(|d| of(d)).sum::<usize>() as f64;
        let all = sum(|d| d.candidates().len());
        WarningFigures {
            rebalances: self.calendar.rebalances.len(),
            top_company: company.map(|(i, _)| self.symbol(*i)),
            top_company_share_of_gain: company.and_then(|(_, made)| of_gain(*made)),
            top_year: year.map(|(year, _)| year.to_string()),
            top_year_share_of_gain: year.and_then(|(_, made)| of_gain(made)),
            undefined_share: (all > 0.0).then(|| sum(|d| d.undefined) / all),
        }
    }

    fn index(&self, used: IndexUsed) -> Option<BenchmarkIndex> {
        let context = &self.tested.context;
        let currency = context.snapshot().indexes().find(|i| i.0 == used.id)?.2;
        let own = context.with(crate::engine::Settings { base: currency, ..context.settings().clone() });
        let (first, last) = (self.day(0), self.tested.last_day());
        let all: Vec<Day> = context.snapshot().sessions_after(Day::MIN);
        let levels = index_levels(&own, &used.id, &all)?;
        let at = |day: Day| levels[all.partition_point(|d| *d <= day).checked_sub(1)?];
        let first_date = all.iter().zip(&levels).find(|(_, level)| level.is_some()).map(|(day, _)| *day)?;
        Some(BenchmarkIndex { index: used.id, derived: used.derived, level_at_first: at(first)?, level_at_last: at(last)?, first_date })
    }

    fn luck(&self, luck: &Luck, value: f64, benchmark: f64, story: &Story) -> LuckOutcome {
        let days = self.day(self.calendar.last()).days_since(self.day(0));
        let excess = |total: f64| annualised(1.0 + total, days) - benchmark;
        let quantile = |p: &f64| Quantile { quantile: *p, value: luck.quantile(*p) };
        let ends = (0..self.calendar.rebalances.len()).map(|k| self.day(self.calendar.end_of(k)));
        LuckOutcome {
            draws: luck.total_returns.len(),
            portfolio_sizes: story.portfolios.iter().map(Vec::len).collect(),
            percentile: luck.percentile(value - 1.0),
            total_return_quantiles: QUANTILES.iter().map(quantile).collect(),
            mean_total_return: luck.mean(),
            histogram: histogram(&luck.total_returns.iter().map(|r| excess(*r)).collect::<Vec<_>>()),
            fan: ends.zip(luck.fan(&QUANTILES)).map(|(date, values)| FanPoint { date, values }).collect(),
            best_of: (1..=TRIES).map(|tries| excess(luck.best_of(tries))).collect(),
        }
    }
}

/// Counts of ordered numbers between equally distant ends; the few that are far from all others count at the ends.
#[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
fn histogram(sorted: &[f64]) -> Vec<Bin> {
    let ends = percentile_of_sorted(sorted, FAR).zip(percentile_of_sorted(sorted, 1.0 - FAR));
    let Some((low, high)) = ends.filter(|(low, high)| low < high) else { return Vec::new() };
    let width = (high - low) / BINS as f64;
    let mut bins: Vec<Bin> = (0..BINS).map(|i| Bin { low: low + width * i as f64, high: low + width * (i + 1) as f64, count: 0 }).collect();
    sorted.iter().for_each(|x| bins[(((x - low) / width).max(0.0) as usize).min(BINS - 1)].count += 1);
    bins
}
