//! What holds for every valuation and quality, on a small demo world.

use super::{context, records};
use artemon_core::{
    domain::{Day, Kind},
    engine::Settings,
    valuation::{Cell, CompanyValue, EarningsBase, Model, Override, Overrides, RequiredReturn, Valuation, Verdict},
};
use artemon_demo::World;

/// Looks at each company's valuation, of which there must be some.
fn valued(settings: &Settings, check: impl Fn(Kind, &Valuation)) {
    let whole = context(records().iter()).with(settings.clone());
    let (t, mut values) = (World::last_day(), 0);
    for c in whole.as_of(t).universe() {
        let valuation = whole.value_company(t, c.index).valuation;
        values += usize::from(valuation.value.is_ok());
        check(c.kind(), &valuation);
    }
    assert!(values > 20, "{values} values");
}

fn cells(v: &Valuation, models: &[Model]) -> Vec<(Model, Option<f64>, f64)> {
    let growth = |c: &Cell| v.growth.iter().find(|g| Some(g.0) == c.scenario).and_then(|g| g.1.ok());
    v.cells.iter().filter(|c| models.contains(&c.model)).filter_map(|c| Some((c.model, growth(c), c.value.ok()?))).collect()
}

/// The more is asked a year, the less a company is worth by any model of cash to come.
#[test]
fn value_falls_when_the_required_return_rises() {
    let models = [Model::EarningsMultiple, Model::OwnerCashFlow, Model::DividendStream, Model::PropertyCashFlow];
    let under = |r: f64| {
        let mut settings = Settings::standard(World::base_currency());
        settings.assumptions.required_return = RequiredReturn::Fixed(r);
        let all = std::cell::RefCell::new(Vec::new());
        valued(&settings, |_, v| all.borrow_mut().extend(cells(v, &models)));
        all.into_inner()
    };
    let (low, high) = (under(0.08), under(0.10));
    assert!(low.len() > 100 && low.len() == high.len());
    assert!(low.iter().zip(&high).all(|(a, b)| a.2 > b.2));
}

#[test]
fn value_rises_with_growth() {
    let models = [Model::EarningsMultiple, Model::OwnerCashFlow, Model::DividendStream, Model::PropertyCashFlow];
    valued(&Settings::standard(World::base_currency()), |_, v| {
        for model in models {
            let mut by_growth = cells(v, &[model]);
            by_growth.sort_by(|a, b| a.1.partial_cmp(&b.1).unwrap());
            assert!(by_growth.windows(2).all(|w| w[0].2 <= w[1].2), "{model:?}: {by_growth:?}");
        }
    });
}

/// A lower price never makes a verdict worse; quality below the least is a pass at any price; a bank has no model of cash
/// flow, and a fund no value.
#[test]
fn verdicts_follow_the_price_and_kinds_their_models() {
    let settings = Settings::standard(World::base_currency());
    valued(&settings, |kind, v| {
        let models: Vec<Model> = v.cells.iter().map(|c| c.model).collect();
        let cash = [Model::OwnerCashFlow, Model::FirmCashFlow, Model::EarningsPower];
        assert!(!matches!(kind, Kind::Bank | Kind::Insurer) || models.iter().all(|m| !cash.contains(m)));
        assert!(kind != Kind::Fund || v.value.is_err());
        let Ok(price) = v.price else { return };
        let at = |factor: f64| Valuation { price: Ok(price * factor), ..v.clone() }.verdict(&settings.assumptions);
        let verdicts: Vec<Verdict> = [0.2, 0.5, 0.8, 1.0, 1.3, 2.0, 5.0].map(at).to_vec();
        assert!(verdicts.is_sorted(), "{verdicts:?}");
        let poor = v.quality.score.is_ok_and(|q| q < settings.assumptions.least_quality);
        assert!(!poor || v.value.is_err() || verdicts.iter().all(|x| *x == Verdict::Pass));
    });
}

/// The implied growth gives the price back, and rises with it.
#[test]
fn implied_growth_rises_with_the_price() {
    let whole = context(records().iter());
    let (t, mut checked) = (World::last_day(), 0);
    for c in whole.as_of(t).universe() {
        let CompanyValue { found: inputs, valuation: v, .. } = whole.value_company(t, c.index);
        let Ok(implied) = v.implied_growth else { continue };
        let dearer = artemon_core::valuation::Inputs { price: inputs.price.map(|p| p * 1.05), ..inputs };
        if let Ok(more) = artemon_core::valuation::value(&dearer, &whole.settings().assumptions).implied_growth {
            assert!(more > implied, "{more} after {implied}");
            checked += 1;
        }
    }
    assert!(checked > 10);
}

/// Whatever was looked at before, forward or back, under whatever settings, all companies together are valued as each is
/// alone by an engine that has kept nothing.
#[test]
fn what_is_kept_changes_nothing() {
    let used = context(records().iter());
    let days = ["2019-02-27", "2019-03-01", "2014-06-30", "2019-02-28", "2020-05-15", "2019-02-27"];
    for (i, day) in days.iter().enumerate() {
        let t: Day = day.parse().unwrap();
        let settings = varied(i);
        let (warm, cold) = (used.with(settings.clone()), context(records().iter()).with(settings));
        let together = warm.valuations(t);
        for (company, valued) in (0u32..).zip(together.iter()) {
            let alone = cold.value_company(t, company).valuation;
            assert_eq!(format!("{valued:?}"), format!("{alone:?}"), "{} as of {day}", cold.snapshot().symbol(company));
        }
    }
}

/// The Standard set with another assumption changed each time.
fn varied(i: usize) -> Settings {
    let mut settings = Settings::standard(World::base_currency());
    let a = &mut settings.assumptions;
    match i {
        1 => a.tax_rate = 0.30,
        2 => a.earnings = EarningsBase::Average3,
        3 => a.quiet_months = [1, 1, 1],
        4 => a.margin_years = 3,
        5 => {
            let own = Override { required_return: Some(0.2), ..Override::default() };
            settings.overrides = Overrides::new([("C00001".to_owned(), own)]).into();
        }
        _ => {}
    }
    settings
}
