//! Backtests and the value check: every figure, trade and pick; what is random within the bounds that are given.

use super::{context, day, golden, package};
use artemon_core::{
    backtest::{self, Backtest, Outcome, ScreenRef, ValueCheck, ValueCheckOutcome},
    domain::{Action, ActionKind, Record},
    engine::{Context, Engine, Settings},
    panel::PanelBuilder,
    screening::Screen,
};
use serde_json::{Value as Json, json};

/// Differences of what is expected from what there is, each with its path: numbers within 1e-8, of objects the expected keys alone.
fn differences(path: &str, got: &Json, want: &Json, out: &mut Vec<String>) {
    match (got, want) {
        (Json::Object(a), Json::Object(b)) => {
            b.iter().for_each(|(k, w)| differences(&format!("{path}.{k}"), a.get(k).unwrap_or(&Json::Null), w, out));
        }
        (Json::Array(a), Json::Array(b)) if a.len() == b.len() => {
            a.iter().zip(b).enumerate().for_each(|(i, (a, b))| differences(&format!("{path}[{i}]"), a, b, out));
        }
        (Json::Number(a), Json::Number(b)) => {
            let (a, b) = (a.as_f64().unwrap(), b.as_f64().unwrap());
            if (a - b).abs() > 1e-8 * b.abs().max(1.0) {
                out.push(format!("{path}: {a}, expected {b}"));
            }
        }
        (a, b) if a == b => {}
        (Json::Array(a), Json::Array(b)) => out.push(format!("{path}: {} entries, expected {}", a.len(), b.len())),
        (a, b) => out.push(format!("{path}: {a}, expected {b}")),
    }
}

struct Tested {
    context: Context,
    settings: Backtest,
    screen: Screen,
    outcome: Outcome,
    want: Json,
}

impl Tested {
    fn run(number: u32) -> Tested {
        let settings: Backtest = serde_json::from_value(golden(&format!("backtest-{number}.json"))).unwrap();
        let ScreenRef::Document(screen) = &settings.screen else { panic!("the document has its screen") };
        let screen = (**screen).clone();
        let context = settings.package.as_ref().map_or_else(|| context().clone(), |changes| changed(changes));
        let outcome = backtest::run(&context, &settings, &screen, &mut |_| {}).unwrap();
        let want = golden(&format!("expected-backtest-{number}.json"))["result"].clone();
        Tested { context, settings, screen, outcome, want }
    }

    fn agrees(&self) {
        let (got, mut want, mut wrong) = (json!(self.outcome), self.want.clone(), Vec::new());
        // Told in another form, in another order, or random: looked at by themselves.
        for apart in ["luck", "bootstrap", "candidates", "trades", "first_trades", "curve", "picks", "holdings_at"] {
            want.as_object_mut().unwrap().remove(apart);
        }
        differences("", &got, &want, &mut wrong);
        if self.want["first_trades"].is_array() {
            self.begins_as_told(&mut wrong);
        } else {
            self.lists(&got, &mut wrong);
        }
        let candidates = backtest::candidates(&self.context, &self.settings, &self.screen).unwrap();
        let candidates = candidates.into_iter().map(|(decision, symbols)| json!({"decision": decision, "symbols": symbols}));
        if let Some(want) = self.want.get("candidates") {
            differences("candidates", &candidates.collect(), want, &mut wrong);
        }
        self.chance();
        assert!(wrong.is_empty(), "{}", wrong[..wrong.len().min(40)].join("\n"));
    }

    /// The first document has the number of trades with the first of them, and every 21st session of the curve.
    fn begins_as_told(&self, wrong: &mut Vec<String>) {
        let first = self.want["first_trades"].as_array().unwrap();
        assert_eq!(json!(self.outcome.trades.len()), self.want["trades"]);
        differences("first_trades", &json!(self.outcome.trades[..first.len()]), &self.want["first_trades"], wrong);
        for want in self.want["curve"].as_array().unwrap() {
            let daily = &self.outcome.daily;
            let at = daily.dates.binary_search(&day(want["date"].as_str().unwrap())).unwrap();
            differences("curve", &json!({"date": want["date"], "value": daily.value[at], "benchmark": daily.benchmark[at]}), want, wrong);
        }
    }

    fn lists(&self, got: &Json, wrong: &mut Vec<String>) {
        // Why a trade was made is for reading only.
        let sorted = |of: &Json| {
            let mut all = of.as_array().unwrap().clone();
            let key = |t: &Json| ["date", "symbol", "from", "decision"].map(|key| t[key].to_string());
            all.sort_by_key(key);
            all.iter_mut().for_each(|t| drop(t.as_object_mut().unwrap().remove("why")));
            Json::from(all)
        };
        for list in ["curve", "trades", "picks"] {
            differences(list, &sorted(&got[list]), &sorted(&self.want[list]), wrong);
        }
        for want in self.want["holdings_at"].as_array().unwrap() {
            let got = backtest::holdings_at(&self.context, &self.settings, &self.outcome, day(want["date"].as_str().unwrap()));
            differences("holdings_at", &json!(got), want, wrong);
        }
    }

    /// What is drawn at random lies where a thousand draws must.
    fn chance(&self) {
        let Some(want) = self.want.get("luck") else { return };
        let luck = &self.outcome.luck;
        let within = |x: f64, bounds: &Json| {
            let [low, high] = [0, 1].map(|i| bounds[i].as_f64().unwrap());
            assert!(low <= x && x <= high, "{x} is not between {low} and {high}");
        };
        assert_eq!(json!(luck.portfolio_sizes), want["portfolio_sizes"]);
        within(luck.percentile, &want["percentile_of_1000_draws_between"]);
        within(luck.mean_total_return, &want["mean_of_1000_draws_between"]);
        for (got, want) in luck.total_return_quantiles.iter().zip(want["total_return_quantiles"].as_array().unwrap()) {
            assert_eq!(json!(got.quantile), want["quantile"]);
            within(got.value, &want["of_1000_draws_between"]);
        }
        let (got, want) = (self.outcome.bootstrap.unwrap(), &self.want["bootstrap"]);
        assert_eq!(json!(got.months), want["months"]);
        within(got.low, &want["low_of_1000_between"]);
        within(got.high, &want["high_of_1000_between"]);
    }
}

/// The package with some prices left out, listings changed and dividends added.
fn changed(changes: &str) -> Context {
    let changes = golden(changes);
    let left_out: Vec<(String, _, _)> = changes["leave_out_prices"]
        .as_array()
        .unwrap()
        .iter()
        .map(|c| (c["symbol"].as_str().unwrap().to_owned(), day(c["from"].as_str().unwrap()), day(c["to"].as_str().unwrap())))
        .collect();
    let gone = |symbol: &str, date| left_out.iter().any(|(s, from, to)| s == symbol && (*from..=*to).contains(&date));
    let mut builder = PanelBuilder::default();
    package(&mut |record| match record {
        Record::Price { symbol, bar } if gone(&symbol, bar.date) => {}
        Record::Listing(mut l) => {
            for set in changes["set_listings"].as_array().unwrap().iter().filter(|s| s["symbol"] == *l.symbol) {
                l.delisted_on = Some(day(set["delisted_on"].as_str().unwrap()));
                l.delisting_return = set["delisting_return"].as_f64();
            }
            builder.push(Record::Listing(l));
        }
        other => builder.push(other),
    });
    for action in changes["add_actions"].as_array().unwrap() {
        let date = |key: &str| action[key].as_str().map(day);
        builder.push(Record::Action(Action {
            symbol: action["symbol"].as_str().unwrap().into(),
            ex_date: date("ex_date").unwrap(),
            kind: ActionKind::SpecialDividend,
            ratio: None,
            amount: action["amount"].as_f64(),
            declared_on: date("declared_on"),
            record_date: date("record_date"),
            pay_date: date("pay_date"),
        }));
    }
    Engine::new(builder.build()).context(Settings::standard("XFA".parse().unwrap()).into())
}

#[test]
fn equal_weights_held_to_the_next_rebalance_agree() {
    Tested::run(1).agrees();
}

/// Sold at a gain of 40 % or after 18 months, against an index with levels.
#[test]
fn exits_by_gain_and_months_agree() {
    Tested::run(2).agrees();
}

/// Every month, by market value with a highest weight, on data with holes, a delisting and a special dividend.
#[test]
fn holes_in_the_prices_agree() {
    Tested::run(3).agrees();
}

/// Sold at the value, against an index that is derived from its members.
#[test]
fn exits_at_the_value_agree() {
    Tested::run(4).agrees();
}

#[test]
fn fifths_by_a_measure_agree() {
    let asked: ValueCheck = serde_json::from_value(golden("valuecheck-1.json")).unwrap();
    let got: ValueCheckOutcome = backtest::value_check(context(), &asked, |_, _| {}).unwrap();
    let mut wrong = Vec::new();
    differences("", &json!(got), &golden("expected-valuecheck-1.json")["result"], &mut wrong);
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
