//! The parts of the valuation, of quality and red flags, the ranking and the draws.

use super::{DATES, agrees, context, day, golden, snapshot};
use artemon_core::{
    Why,
    domain::Kind,
    formula::Value,
    quality,
    ranking::{self, Weights},
    valuation::{self, Assumptions, Cell, Inputs, Model, Scenario, Status, Valuation},
};

/// The parts of the valuation: cells, models, starting figures, growth and outliers.
#[test]
fn every_part_of_the_valuations_agrees() {
    let mut wrong = Vec::new();
    let mut skipped = std::collections::BTreeSet::new();
    for date in DATES {
        let t = day(date);
        let expected = golden(&format!("expected-{date}.json"));
        for (symbol, figures) in expected["results"].as_object().unwrap() {
            let index = snapshot().find(symbol).unwrap();
            let valuation::CompanyValue { found: inputs, valuation, .. } = context().value_company(t, index);
            for (key, want) in figures.as_object().unwrap().iter().filter(|(k, _)| k.starts_with("valuation.")) {
                if key.starts_with("valuation.draw_") {
                    continue; // see the draws below
                }
                let Some(got) = part(key, &inputs, &valuation) else {
                    skipped.insert(key.clone());
                    continue;
                };
                if !agrees(key, &got, &want["value"]) {
                    wrong.push(format!("{date} {symbol} {key}: got {got:?}, expected {want}"));
                }
            }
        }
    }
    assert!(skipped.is_empty(), "parts that nothing is compared with: {skipped:?}");
    assert!(wrong.is_empty(), "{} disagree:\n{}", wrong.len(), wrong.join("\n"));
}

/// Every component of quality, every red flag, and the ranking of the universe.
#[test]
fn every_quality_flag_and_ranking_agrees() {
    let mut wrong = Vec::new();
    for date in DATES {
        let t = day(date);
        let expected = golden(&format!("expected-{date}.json"));
        for (symbol, figures) in expected["results"].as_object().unwrap() {
            let valuation = context().value_company(t, snapshot().find(symbol).unwrap()).valuation;
            for (key, want) in figures.as_object().unwrap() {
                let got = match key.split('.').collect::<Vec<_>>()[..] {
                    ["quality", "component", pillar, id] => component(&valuation, pillar, id),
                    ["red_flag", id] => flag(&valuation, id),
                    _ => continue,
                };
                if !agrees(key, &got, &want["value"]) {
                    wrong.push(format!("{date} {symbol} {key}: got {got:?}, expected {want}"));
                }
            }
        }
        let universe: Vec<_> = context().as_of(t).universe().iter().map(|c| c.index).collect();
        let ranked = ranking::rank(context(), t, &universe, Weights::default());
        let want = expected["ranking"].as_array().unwrap();
        assert_eq!(ranked.len(), want.len());
        for (got, want) in ranked.iter().zip(want) {
            let (symbol, verdict) = (snapshot().symbol(got.company), got.verdict.code());
            let score = got.score.map_or(Value::Undefined(Why::TooLittle), Value::Number);
            if want["symbol"] != *symbol || want["verdict"] != *verdict || !agrees("score", &score, &want["score"]) {
                wrong.push(format!("{date} ranking: got {symbol} {verdict} {score:?}, expected {want}"));
            }
        }
    }
    assert!(wrong.is_empty(), "{} disagree:\n{}", wrong.len(), wrong.join("\n"));
}

/// The corners of the draws are the independent ones; every percentile lies between them, in order, and the chance is the
/// share of draws above the price.
#[test]
fn draws_stay_within_their_corners() {
    let mut checked = 0;
    for date in DATES {
        let t = day(date);
        let expected = golden(&format!("expected-{date}.json"));
        for (symbol, figures) in expected["results"].as_object().unwrap() {
            let Some(low) = figures.get("valuation.draw_minimum").and_then(|w| w["value"].as_f64()) else { continue };
            let high = figures["valuation.draw_maximum"]["value"].as_f64().unwrap();
            let c = context().as_of(t).company(snapshot().find(symbol).unwrap());
            if c.kind() == Kind::Fund {
                continue; // a fund is worth what it holds: it is shown no draws
            }
            let inputs = context().value_company(t, c.index).found;
            let d = valuation::draws(context().view(t), &c, &inputs, &Assumptions::standard()).unwrap();
            let near = |a: f64, b: f64| (a - b).abs() <= 1e-9 * b.abs().max(1.0);
            assert!(near(d.corners.0, low) && near(d.corners.1, high), "{date} {symbol}: {:?}, expected {low} and {high}", d.corners);
            assert!(d.percentiles.is_sorted() && low <= d.percentiles[0] && d.percentiles[4] <= high, "{symbol}: {d:?}");
            let (price, chance) = (inputs.price.unwrap(), d.chance_undervalued.unwrap());
            assert!(if price < low {
                chance == 1.0
            } else if price > high {
                chance == 0.0
            } else {
                (0.0..=1.0).contains(&chance)
            });
            assert_eq!(d, valuation::draws(context().view(t), &c, &inputs, &Assumptions::standard()).unwrap(), "the same draws every time");
            checked += 1;
        }
    }
    assert!(checked > 40, "{checked}");
}

fn component(v: &Valuation, pillar: &str, id: &str) -> Value {
    let same = |m: &&quality::Measured| {
        let component = &quality::COMPONENTS[m.component];
        component.id == id && component.pillar.code() == pillar
    };
    v.quality
        .components
        .iter()
        .find(same)
        .map_or(Value::Undefined(Why::NotMeaningful), |m| m.score.map_or_else(Value::Undefined, Value::Number))
}

fn flag(v: &Valuation, id: &str) -> Value {
    let at = quality::FLAGS.iter().position(|f| f.id == id).unwrap();
    v.quality.flags[at].map_or_else(Value::Undefined, Value::Flag)
}

fn part(key: &str, inputs: &Inputs, v: &Valuation) -> Option<Value> {
    let a = &context().settings().assumptions;
    let number = |n: artemon_core::Num| n.map_or_else(Value::Undefined, Value::Number);
    let by_model = |n: &str| Model::ALL[n.parse::<usize>().unwrap() - 1];
    Some(match key.split('.').skip(1).collect::<Vec<_>>()[..] {
        ["cell", model, scenario] => {
            let same = |c: &&Cell| c.model == by_model(model) && c.scenario.map_or("-", Scenario::code) == scenario;
            number(v.cells.iter().find(same).map_or(Err(Why::NotMeaningful), |c| c.value))
        }
        ["model", model] => number(v.models.iter().find(|m| m.0 == by_model(model)).map(|m| m.1).ok_or(Why::TooLittle)),
        ["growth", scenario] => number(v.growth.iter().find(|g| g.0.code() == scenario).map_or(Err(Why::NotMeaningful), |g| g.1)),
        ["outliers"] => {
            let mut out: Vec<_> = v.cells.iter().filter(|c| c.status == Status::Outlier).map(name).collect();
            out.sort();
            Value::Text(out.join(",").into())
        }
        ["E0"] => number(inputs.earnings),
        ["F0"] => number(inputs.cash_flow),
        ["B0"] => number(inputs.book),
        ["D0"] => number(inputs.dividend),
        ["p"] => Value::Number(inputs.payout()),
        ["X"] => Value::Number(inputs.exit_pe(a)),
        ["tax"] => number(inputs.tax),
        ["w"] => number(inputs.firm_rate(a)),
        _ => return None,
    })
}

fn name(cell: &Cell) -> String {
    format!("{}.{}", cell.model.number(), cell.scenario.map_or("-", Scenario::code))
}
