//! Backtests against a second implementation that takes one company and one day at a time, from the rows themselves: a small demo world
//! with holes in its prices. And what must hold of all: no later data changes them, chance shows no skill.

use super::{context, records};
use artemon_core::{
    backtest::{self, Backtest, Exit, Outcome, ScreenRef, Weights},
    domain::{Action, ActionKind, Bar, Currency, Day, Listing, Record},
    engine::{Context, Section, Settings},
    formula::Value,
    screening::{Screen, survivors},
};
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use serde_json::json;
use std::{
    collections::{BTreeMap, BTreeSet},
    sync::{Arc, OnceLock},
};

/// The rows without some prices: about months' ends, where decisions are carried out, of a day or of three weeks. And with splits and
/// departures, on sessions and on days between them.
fn holed() -> &'static [Record] {
    static HOLED: OnceLock<Vec<Record>> = OnceLock::new();
    HOLED.get_or_init(|| {
        let mut chance = ChaCha8Rng::seed_from_u64(11);
        let mut holes: BTreeMap<(String, i32), (Day, Day)> = BTreeMap::new();
        let primary = |r: &Record| if let Record::Listing(l) = r { l.primary.then(|| l.symbol.clone()) } else { None };
        let first: Day = "2009-05-16".parse().unwrap();
        let numbered: Vec<(Arc<str>, i32)> = records().iter().filter_map(primary).zip(0..).collect();
        // Some leave the exchange, on sessions and between them.
        let gone: BTreeMap<Arc<str>, Day> =
            numbered.iter().filter(|n| n.1 % 7 == 5).map(|(symbol, n)| (symbol.clone(), first.plus_days(600 + 31 * n))).collect();
        let splits: BTreeMap<_, (Day, f64)> = numbered
            .into_iter()
            .filter(|(_, n)| n % 3 != 0)
            .map(|(symbol, n)| (symbol, (first.plus_days(41 * n), [2.0, 3.0, 0.25][n as usize % 3])))
            .collect();
        let mut out = Vec::new();
        for record in records() {
            match record {
                Record::Price { symbol, bar } if is_hole(&mut holes, &mut chance, symbol, bar.date) => {}
                Record::Price { symbol, bar } if gone.get(symbol).is_some_and(|day| bar.date >= *day) => {}
                Record::Listing(l) if l.primary && gone.contains_key(&l.symbol) => {
                    out.push(Record::Listing(Listing { delisted_on: Some(gone[&l.symbol]), delisting_return: Some(-0.4), ..l.clone() }));
                }
                Record::Price { symbol, bar } => {
                    let by = splits.get(symbol).filter(|s| s.0 <= bar.date).map_or(1.0, |s| s.1);
                    let [open, high, low, close] = [bar.open, bar.high, bar.low, bar.close].map(|price| price / by);
                    let bar = Bar { open, high, low, close, volume: bar.volume * by, ..*bar };
                    out.push(Record::Price { symbol: symbol.clone(), bar });
                }
                other => out.push(other.clone()),
            }
        }
        let split = |(symbol, (ex_date, ratio)): (Arc<str>, (Day, f64))| {
            let (declared_on, record_date, pay_date) = (None, None, None);
            Record::Action(Action {
                symbol,
                ex_date,
                kind: ActionKind::Split,
                ratio: Some(ratio),
                amount: None,
                declared_on,
                record_date,
                pay_date,
            })
        };
        out.extend(splits.into_iter().map(split));
        out
    })
}

fn is_hole(holes: &mut BTreeMap<(String, i32), (Day, Day)>, chance: &mut ChaCha8Rng, symbol: &str, day: Day) -> bool {
    let (from, to) = *holes.entry((symbol.to_owned(), day.month_index())).or_insert_with(|| {
        let long = if chance.random_bool(0.3) { chance.random_range(8..22) } else { chance.random_range(0..3) };
        let first = day.month_start().plus_days(chance.random_range(-1..3));
        if chance.random_bool(0.3) { (first, first.plus_days(long)) } else { (Day::MAX, Day::MAX) }
    });
    from <= day && day <= to
}

/// The market as its rows say.
struct Market {
    closes: BTreeMap<String, BTreeMap<Day, f64>>,
    actions: Vec<(String, Day, ActionKind, f64)>,
    listings: BTreeMap<String, Listing>,
}

impl Market {
    fn of(records: &[Record]) -> Market {
        let mut out = Market { closes: BTreeMap::new(), actions: Vec::new(), listings: BTreeMap::new() };
        for record in records {
            match record {
                Record::Listing(l) if l.primary => drop(out.listings.insert(l.symbol.to_string(), l.clone())),
                Record::Price { symbol, bar } => drop(out.closes.entry(symbol.to_string()).or_default().insert(bar.date, bar.close)),
                Record::Action(a) => out.actions.push((a.symbol.to_string(), a.ex_date, a.kind, a.ratio.or(a.amount).unwrap())),
                _ => {}
            }
        }
        // Splits before dividends.
        out.actions.sort_by_key(|a| (a.1, a.2 != ActionKind::Split));
        out
    }

    /// The last close and its day.
    fn last(&self, symbol: &str, day: Day) -> Option<(Day, f64)> {
        self.closes.get(symbol)?.range(..=day).next_back().map(|(d, c)| (*d, *c))
    }

    /// The last close on the split basis of the day.
    fn price(&self, symbol: &str, day: Day) -> Option<f64> {
        let (on, close) = self.last(symbol, day)?;
        let since = self.actions.iter().filter(|a| a.0 == symbol && a.2 == ActionKind::Split && a.1 > on && a.1 <= day);
        Some(since.fold(close, |price, split| price / split.3))
    }

    fn trades(&self, symbol: &str, day: Day) -> bool {
        self.closes.get(symbol).is_some_and(|c| c.contains_key(&day))
    }

    fn left(&self, symbol: &str, day: Day) -> bool {
        self.listings[symbol].delisted_on.is_some_and(|d| d <= day)
    }
}

/// A holding: shares, what was put in, when it was decided, and from when on it is to be sold.
#[derive(Clone)]
struct Held {
    shares: f64,
    start: f64,
    decided: Day,
    due: Option<Day>,
}

/// The account by hand.
struct ByHand<'r> {
    context: Context,
    market: &'r Market,
    settings: &'r Backtest,
    cost: f64,
    /// The most companies held, and whether the exit rule counts: neither for a benchmark.
    places: usize,
    exit: Exit,
    weights: Weights,
    cash: f64,
    held: BTreeMap<String, Held>,
    waiting: Vec<(String, f64, Day, Day)>,
}

impl ByHand<'_> {
    fn rate(&self, symbol: &str, day: Day) -> f64 {
        let currency: Currency = self.market.listings[symbol].currency;
        self.context.as_of(day).fx(currency, self.settings.base).unwrap()
    }

    fn value_of(&self, symbol: &str, day: Day) -> f64 {
        self.held[symbol].shares * self.market.price(symbol, day).unwrap() * self.rate(symbol, day)
    }

    fn value(&self, day: Day) -> f64 {
        self.cash + self.waiting.iter().map(|w| w.1).sum::<f64>() + self.held.keys().map(|s| self.value_of(s, day)).sum::<f64>()
    }

    fn number(&self, formula: &str, symbol: &str, day: Day) -> Option<f64> {
        let row = self.context.as_of(day).company(self.context.snapshot().find(symbol).unwrap());
        self.context.evaluate(&self.context.compile(formula).unwrap(), &[row]).value(0).number().ok()
    }

    fn weights_of(&self, symbols: &[String], day: Day) -> Vec<f64> {
        let caps: Vec<f64> = symbols.iter().map(|s| self.number("market_cap", s, day).unwrap_or(0.0)).collect();
        if self.weights == Weights::Equal {
            return vec![1.0 / symbols.len() as f64; symbols.len()];
        }
        let mut weights: Vec<f64> = caps.iter().map(|c| c / caps.iter().sum::<f64>()).collect();
        // Again and again the excess goes to those that are below.
        while let Some(most) = self.settings.max_weight.filter(|most| self.cost > 0.0 && weights.iter().any(|w| *w > most + 1e-12)) {
            let full: Vec<bool> = weights.iter().map(|w| *w > most - 1e-12).collect();
            let rest: f64 = 1.0 - most * full.iter().filter(|f| **f).count() as f64;
            let below: f64 = caps.iter().zip(&full).filter(|(_, f)| !**f).map(|(c, _)| c).sum();
            weights = caps.iter().zip(&full).map(|(c, f)| if *f { most } else { c / below * rest.max(0.0) }).collect();
        }
        weights
    }

    /// Splits, dividends and departures up to a session since the one before.
    fn events(&mut self, before: Day, day: Day) {
        for (symbol, ex, kind, x) in self.market.actions.iter().filter(|a| a.1 > before && a.1 <= day) {
            let price = self.market.price(symbol, day);
            if let Some(held) = self.held.get_mut(symbol) {
                held.shares *= match kind {
                    ActionKind::Split => *x,
                    // On the basis of the ex-date; a later split by the session is already in the price.
                    _ => {
                        let later =
                            self.market.actions.iter().filter(|a| a.0 == *symbol && a.2 == ActionKind::Split && a.1 > *ex && a.1 <= day);
                        1.0 + later.fold(*x, |amount, split| amount / split.3) / price.unwrap()
                    }
                };
            }
        }
        let gone: Vec<String> = self.held.keys().filter(|s| self.market.left(s, day)).cloned().collect();
        for symbol in gone {
            self.cash += self.value_of(&symbol, day) * (1.0 + self.market.listings[&symbol].delisting_return.unwrap_or(0.0));
            self.held.remove(&symbol);
        }
    }

    /// The first session from a trade on, within ten days, on which it can be bought.
    fn entry(&self, symbol: &str, trade: Day, sessions: &[Day]) -> Option<Day> {
        let within = sessions.iter().filter(|d| **d >= trade && **d <= trade.plus_days(10));
        within.copied().take_while(|d| !self.market.left(symbol, *d)).find(|d| self.market.trades(symbol, *d))
    }

    /// Puts money into companies at their weights: all is turned over, or what is free is given to new ones.
    fn rebalance(&mut self, picks: &[String], (decided, trade): (Day, Day), sessions: &[Day], sold: &BTreeSet<String>) {
        let rule = matches!(self.exit, Exit::Each(_));
        let free = self.places - if rule { self.held.len() } else { 0 };
        let wanted = picks.iter().filter(|s| !rule || !self.held.contains_key(*s) && !sold.contains(*s)).take(free);
        let has_weight = |s: &&String| self.weights == Weights::Equal || self.number("market_cap", s, decided).is_some_and(|c| c > 0.0);
        let bought: Vec<(String, Day)> = wanted
            .filter(has_weight)
            .filter_map(|s| Some((s.clone(), if self.held.contains_key(s) { trade } else { self.entry(s, trade, sessions)? })))
            .collect();
        let kept: Vec<String> = if rule { self.held.keys().cloned().collect() } else { Vec::new() };
        let all: Vec<String> = kept.iter().cloned().chain(bought.iter().map(|b| b.0.clone())).collect();
        let weights = self.weights_of(&all, decided)[kept.len()..].to_vec();
        let (value, sum) = (self.value(trade), weights.iter().sum::<f64>());
        let invested = if rule {
            if sum == 0.0 {
                return;
            }
            (value / (1.0 + self.cost * sum)).min(self.cash / ((1.0 + self.cost) * sum))
        } else {
            // What is left after costs, found by halving.
            let old = |s: &String| if self.held.contains_key(s) { self.value_of(s, trade) } else { 0.0 };
            let spent = |left: f64| {
                let turned: f64 = bought.iter().zip(&weights).map(|((s, _), w)| (w * left - old(s)).abs()).sum();
                let gone: f64 = self.held.keys().filter(|s| !bought.iter().any(|b| b.0 == **s)).map(old).sum();
                left + self.cost * (turned + gone)
            };
            let (mut low, mut high) = (0.0, value);
            for _ in 0..200 {
                let middle = (low + high) / 2.0;
                if spent(middle) > value { high = middle } else { low = middle }
            }
            self.held.clear();
            self.cash = low;
            low
        };
        for ((symbol, on), weight) in bought.into_iter().zip(weights) {
            let amount = weight * invested;
            self.cash -= amount * if rule { 1.0 + self.cost } else { 1.0 };
            if on > trade { self.waiting.push((symbol, amount, on, decided)) } else { self.buy(symbol, amount, on, decided) }
        }
    }

    fn buy(&mut self, symbol: String, amount: f64, day: Day, decided: Day) {
        let shares = amount / (self.market.price(&symbol, day).unwrap() * self.rate(&symbol, day));
        self.held.insert(symbol, Held { shares, start: amount, decided, due: None });
    }

    /// The value at each session.
    fn run(mut self, sessions: &[Day], rebalances: &[(Day, Day)], picks: &[Vec<String>]) -> Vec<f64> {
        let (mut curve, mut before) = (Vec::new(), sessions[0]);
        for &day in sessions {
            self.events(before, day);
            let due: Vec<String> = self
                .held
                .iter()
                .filter(|(s, h)| h.due.is_some_and(|d| d <= day) && self.market.trades(s, day))
                .map(|(s, _)| s.clone())
                .collect();
            for symbol in &due {
                self.cash += self.value_of(symbol, day) * (1.0 - self.cost);
                self.held.remove(symbol);
            }
            if let Some(k) = rebalances.iter().position(|r| r.1 == day) {
                self.rebalance(&picks[k], rebalances[k], sessions, &due.into_iter().collect());
            }
            for (symbol, amount, _, decided) in self.waiting.extract_if(.., |w| w.2 <= day).collect::<Vec<_>>() {
                self.buy(symbol, amount, day, decided);
            }
            curve.push(self.value(day));
            self.mark(day, sessions);
            before = day;
        }
        curve
    }

    /// Marks what is to be sold.
    fn mark(&mut self, day: Day, sessions: &[Day]) {
        let Exit::Each(rule) = self.exit else { return };
        let next = sessions.iter().copied().find(|d| *d > day);
        for symbol in self.held.keys().cloned().collect::<Vec<_>>() {
            let held = &self.held[&symbol];
            let gained = rule.gain.is_some_and(|g| self.value_of(&symbol, day) / held.start - 1.0 >= g);
            let row = self.context.as_of(day).company(self.context.snapshot().find(&symbol).unwrap());
            let at_value = || self.context.evaluate(&self.context.compile("price >= intrinsic_value").unwrap(), &[row]).value(0);
            let reached = rule.at_value && self.market.trades(&symbol, day) && at_value() == Value::Flag(true);
            let over = rule.months.map(|m| held.decided.plus_months(m.cast_signed())).filter(|end| next.is_some_and(|n| n >= *end));
            let due = if gained || reached { next } else { over };
            let held = self.held.get_mut(&symbol).unwrap();
            held.due = held.due.or(due);
        }
    }
}

/// The last session of every so many months with a session after it.
fn days_by_hand(market: &Market, settings: &Backtest) -> (Vec<Day>, Vec<(Day, Day)>) {
    let all: BTreeSet<Day> = market.closes.values().flat_map(|c| c.keys().copied()).filter(|d| *d <= settings.to).collect();
    let all: Vec<Day> = all.into_iter().collect();
    let due =
        |d: Day| d >= settings.from.month_start() && (d.month_index() - settings.from.month_index()) % settings.every.cast_signed() == 0;
    let pairs = all.windows(2).filter(|w| w[0].month_index() != w[1].month_index() && due(w[0]));
    let rebalances: Vec<(Day, Day)> = pairs.map(|w| (w[0], w[1])).collect();
    let sessions = all.into_iter().filter(|d| *d >= rebalances[0].0).collect();
    (sessions, rebalances)
}

/// Everybody that a decision may choose from, and those that it picks: one company after the other.
fn picked_by_hand(context: &Context, settings: &Backtest, formula: (&str, f64), day: Day) -> (Vec<String>, Vec<String>) {
    let number = |formula: &str, c| context.evaluate(&context.compile(formula).unwrap(), &[c]).value(0).number().ok();
    let rows: Vec<_> = context.as_of(day).companies().filter(|c| c.in_universe() && c.kind() != artemon_core::domain::Kind::Fund).collect();
    let rows: Vec<_> = rows.into_iter().filter(|c| number("price_in_base", *c).is_some_and(|p| p >= 1.0)).collect();
    let passing = rows.iter().filter(|c| number(formula.0, **c).is_some_and(|x| x <= formula.1));
    let by = settings.by.as_deref().unwrap();
    let mut keyed: Vec<(f64, String)> = passing.filter_map(|c| Some((number(by, *c)?, c.symbol().to_owned()))).collect();
    keyed.sort_by(|a, b| {
        let order = a.0.partial_cmp(&b.0).unwrap();
        (if settings.descending { order.reverse() } else { order }).then(a.1.cmp(&b.1))
    });
    (rows.iter().map(|c| c.symbol().to_owned()).collect(), keyed.into_iter().map(|k| k.1).collect())
}

fn settings(more: &serde_json::Value) -> (Backtest, Screen) {
    let screen = json!({"name": "Not dear", "universe": {"min_price": 1.0}, "blocks": [{"criteria": [{"formula": "pb", "max": 6.0}]}]});
    let mut all = json!({"screen": screen, "from": "2009-03-31", "to": "2014-08-19", "top": 6, "by": "earnings_yield", "base": "ZOC"});
    all.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
    let settings: Backtest = serde_json::from_value(all).unwrap();
    let ScreenRef::Document(screen) = settings.screen.clone() else { unreachable!() };
    (settings, *screen)
}

/// Rules of every sort, in two currencies.
fn every_sort() -> Vec<(Backtest, Screen)> {
    let all = [
        json!({}),
        json!({"every": 1, "weights": "market_cap", "max_weight": 0.3, "cost_bps": 50, "base": "ZVD", "benchmark": "universe_cap"}),
        json!({"every": 6, "exit": {"gain": 0.15, "months": 10}, "weights": "market_cap"}),
        json!({"every": 1, "exit": {"at_value": true, "months": 7}, "top": 4, "descending": false, "by": "pb"}),
        json!({"every": 12, "top": 12, "cost_bps": 0, "benchmark": "universe_cap", "base": "ZVD"}),
    ];
    all.iter().map(settings).collect()
}

fn run(context: &Context, (settings, screen): &(Backtest, Screen)) -> Outcome {
    backtest::run(context, settings, screen, &mut |_| {}).unwrap()
}

#[test]
fn an_account_kept_by_hand_comes_to_the_same() {
    let (context, market) = (context(holed().iter()), Market::of(holed()));
    let (mut waited, mut left, mut split) = (0, 0, 0);
    for asked in every_sort() {
        let outcome = run(&context, &asked);
        let settings = &asked.0;
        let (sessions, rebalances) = days_by_hand(&market, settings);
        assert_eq!(outcome.daily.dates, sessions);
        let context = context.with(Settings { base: settings.base, ..context.settings().clone() });
        let chosen: Vec<_> = rebalances.iter().map(|r| picked_by_hand(&context, settings, ("pb", 6.0), r.0)).collect();
        let (everybody, picks): (Vec<_>, Vec<_>) = chosen.into_iter().unzip();
        let by_hand = |cost: f64, places: usize, exit: Exit, weights: Weights| ByHand {
            context: context.clone(),
            market: &market,
            settings,
            cost,
            places,
            exit,
            weights,
            cash: 1.0,
            held: BTreeMap::new(),
            waiting: Vec::new(),
        };
        let account = by_hand(settings.cost_bps / 10_000.0, settings.top.unwrap(), settings.exit, settings.weights);
        let near = |got: &[f64], want: &[f64], what: &str| {
            for ((a, b), day) in got.iter().zip(want).zip(&sessions) {
                assert!((a - b).abs() < 1e-9 * b, "{what} of {settings:?} on {day}: {a}, by hand {b}");
            }
        };
        near(&outcome.daily.value, &account.run(&sessions, &rebalances, &picks), "value");
        let weights = if matches!(settings.benchmark, backtest::Benchmark::UniverseCap) { Weights::MarketCap } else { Weights::Equal };
        let all = by_hand(0.0, usize::MAX, Exit::Rebalance, weights);
        near(&outcome.daily.benchmark, &all.run(&sessions, &rebalances, &everybody), "benchmark");
        waited += outcome.notes.len();
        let held = |a: &&(String, Day, ActionKind, f64)| outcome.picks.iter().any(|p| p.symbol == a.0 && p.from < a.1 && a.1 <= p.to);
        split += market.actions.iter().filter(|a| a.2 == ActionKind::Split).filter(held).count();
        left += outcome.payouts.len();
    }
    assert!(waited > 20, "picks waited for a price {waited} times");
    assert!(left > 0 && split > 0, "{left} that were held left the exchange, {split} split their shares");
}

/// The same to the last digit: on the data as they were known at the end, run again, and after other things were asked.
#[test]
fn later_data_change_nothing_of_an_earlier_result() {
    let whole = context(holed().iter());
    let to: Day = "2014-08-19".parse().unwrap();
    let cut = context(holed().iter().filter(|r| r.known_on().is_none_or(|d| d <= to)));
    for asked in every_sort() {
        let (got, known_then) = (run(&whole, &asked), run(&cut, &asked));
        assert!(json!(got) == json!(known_then), "{:?}", asked.0);
        assert!(json!(got) == json!(run(&whole, &asked)));
    }
}

/// Of a screen that asks what companies are worth, and of ranks among them, the decisions of many days made together are those of each day
/// by itself.
#[test]
fn decisions_by_value_are_those_of_each_day() {
    let context = context(holed().iter());
    let criteria = json!([{"formula": "margin_of_safety", "min": 0.1}, {"formula": "rank_in(quality, universe)", "min": 30}]);
    let screen = json!({"name": "Under value", "blocks": [{"criteria": criteria}], "sort": [{"formula": "quality", "descending": true}]});
    let mut asked = settings(&json!({"top": 40, "every": 6, "screen": screen}));
    asked.0.by = None;
    let outcome = run(&context, &asked);
    let fresh = self::context(holed().iter());
    let mut held = 0;
    for rebalance in &outcome.rebalances {
        let section = Section::new(&fresh, rebalance.decision);
        let mut passing: Vec<&str> =
            survivors(&asked.1, &section).unwrap().into_iter().map(|place| fresh.snapshot().symbol(section.members()[place])).collect();
        passing.sort_unstable();
        let unpriced: BTreeSet<&str> =
            outcome.notes.iter().filter(|n| n.date == rebalance.trade && n.on.is_none()).map(|n| n.symbol.as_str()).collect();
        passing.retain(|symbol| !unpriced.contains(symbol));
        assert_eq!(rebalance.holdings, passing, "as of {}", rebalance.decision);
        held += passing.len();
    }
    assert!(held > 50, "{held} were held");
}

/// Holdings at any date and cash are what the curve says, and the picks of a rebalance are those that it holds.
#[test]
fn holdings_follow_from_the_picks() {
    let context = context(holed().iter());
    for asked in every_sort() {
        let outcome = run(&context, &asked);
        for (i, day) in outcome.daily.dates.iter().enumerate().step_by(37) {
            let at = backtest::holdings_at(&context, &asked.0, &outcome, *day);
            let share = outcome.daily.cash[i];
            assert!((at.cash - share * outcome.daily.value[i]).abs() < 1e-9, "{day}: {} and {share}", at.cash);
        }
        let gains: f64 = outcome.gain_by_company.values().sum();
        assert!((gains - outcome.cost_paid - outcome.total_return).abs() < 1e-9, "gains less costs are the return");
    }
}

/// All that is held leaves the exchange for nothing: the account stays at nothing, buys nothing more, and every figure is a number.
#[test]
fn who_lost_everything_is_told_so() {
    let asked = settings(&json!({"top": 2}));
    let bought = run(&context(records().iter()), &asked).rebalances[0].clone();
    let gone = bought.trade.plus_days(40);
    let ruined = |symbol: &str| bought.holdings.iter().any(|held| held == symbol);
    let records = records().iter().filter_map(|record| match record {
        Record::Price { symbol, bar } if ruined(symbol) && bar.date >= gone => None,
        Record::Listing(l) if l.primary && ruined(&l.symbol) => {
            Some(Record::Listing(Listing { delisted_on: Some(gone), delisting_return: Some(-1.0), ..l.clone() }))
        }
        other => Some(other.clone()),
    });
    let records: Vec<Record> = records.collect();
    for more in [json!({"top": 2}), json!({"top": 2, "exit": {"gain": 0.5}})] {
        let outcome = run(&context(records.iter()), &settings(&more));
        assert_eq!(outcome.daily.value.last(), Some(&0.0));
        assert!((outcome.total_return + 1.0).abs() < 1e-15 && (outcome.max_drawdown + 1.0).abs() < 1e-15);
        assert!(outcome.said[0].starts_with("Everything was lost"), "{:?}", outcome.said);
        assert!(outcome.rebalances[1..].iter().all(|r| r.holdings.is_empty()));
        assert_eq!(outcome.by_year["2012"], 0.0);
        assert!(outcome.rolling_3.iter().chain(&outcome.rolling_5).all(|r| r.value.is_finite()));
        let kept = serde_json::to_string(&outcome).unwrap();
        assert_eq!(serde_json::from_str::<Outcome>(&kept).expect("every figure is a number"), outcome);
    }
}

/// Picked by the digits of the price that mean nothing, a portfolio falls anywhere among random ones: over 200 such measures the
/// percentiles are even (Kolmogorov and Smirnov's distance, at 1 %).
#[test]
fn a_measure_of_nothing_shows_no_skill() {
    let context = context(records().iter());
    let percentile = |seed: u32| {
        let factor = 1_000.0 * (1.0 + f64::from(seed) * 0.618_034).fract() + 317.0;
        let by = format!("price * {factor} - round(price * {factor}, 0)");
        let asked = settings(&json!({"from": "2010-01-31", "to": "2013-12-31", "by": by, "every": 6, "top": 5, "seed": seed}));
        run(&context, &asked).luck.percentile / 100.0
    };
    let mut all: Vec<f64> = (0..200).map(percentile).collect();
    all.sort_by(f64::total_cmp);
    let distance =
        all.iter().enumerate().map(|(i, p)| (p - i as f64 / 200.0).abs().max((p - (i + 1) as f64 / 200.0).abs())).fold(0.0, f64::max);
    assert!(distance < 1.63 / 200f64.sqrt(), "the percentiles are not even: {distance}, {all:?}");
}

/// What cannot be run is refused with a sentence.
#[test]
fn what_cannot_be_run_says_why() {
    let context = context(records().iter());
    let refused = |more: serde_json::Value| {
        let (settings, screen) = settings(&more);
        let error = backtest::run(&context, &settings, &screen, &mut |_| {}).unwrap_err().to_string();
        assert_eq!(backtest::check(&context, &settings, &screen).map_err(|e| e.to_string()).err().unwrap_or(error.clone()), error);
        error
    };
    let said = [
        (json!({"from": "2014-08-20"}), "It begins on 2014-08-20 and ends on 2014-08-19"),
        (json!({"every": 2}), "It cannot rebalance every 2 months"),
        (json!({"top": 51}), "It cannot hold 51 companies"),
        (json!({"max_weight": 0.2}), "A highest weight needs weights by market value"),
        (json!({"exit": {"months": 0}}), "A sale after 0 months cannot be meant"),
        (json!({"exit": {}}), "The exit rule says nothing"),
        (json!({"from": "1950-01-31", "to": "1951-01-31"}), "Between 1950-01-31 and 1951-01-31 there is no month's end"),
        (json!({"by": "sector"}), "The formula \"sector\" is no number"),
        (json!({"by": "earnings_yeild"}), "The formula \"earnings_yeild\" is not understood"),
        (json!({"benchmark": {"index": "NONE"}}), "There is no index \"NONE\""),
    ];
    for (more, want) in said {
        let got = refused(more);
        assert!(got.starts_with(want), "{got}");
    }
    let (settings, mut screen) = settings(&json!({}));
    screen.universe.min_price = Some(1e12);
    let nobody = backtest::run(&context, &settings, &screen, &mut |_| {}).unwrap_err();
    assert_eq!(nobody, backtest::BacktestError::Nobody);
}
