//! Statements as tables, against the rows of the dataset's own file.

use crate::{golden, now, package};
use artemon_app::{Ctx, Statement, StatementForm, StatementPeriod, StatementRequest, StatementTable, statement};
use artemon_core::domain::Day;
use std::collections::BTreeMap;

const BASE: StatementRequest =
    StatementRequest { statement: Statement::Income, period: StatementPeriod::Year, form: StatementForm::Amount, as_of: None };

fn table(ctx: &Ctx, id: &str, request: StatementRequest) -> StatementTable {
    statement(ctx, id, request).unwrap()
}

fn values(table: &StatementTable, id: &str) -> Option<Vec<Option<f64>>> {
    let row = table.rows.iter().find(|r| r.id == id)?;
    Some(row.cells.values.iter().map(|v| v.number().ok()).collect())
}

fn near(a: f64, b: f64) -> bool {
    (a - b).abs() <= 1e-5 * b.abs().max(1e-9)
}

/// What the file says of a company's periods of a sort: by label, each item as it was filed last.
fn filed(id: &str, sort: &str) -> BTreeMap<String, BTreeMap<String, f64>> {
    let mut rows: Vec<BTreeMap<String, String>> =
        csv::Reader::from_path(package().join("statements.csv")).unwrap().deserialize().map(Result::unwrap).collect();
    rows.retain(|r| r["company_id"] == id && r["period"].starts_with(sort));
    rows.sort_by(|a, b| a["filed_on"].cmp(&b["filed_on"]));
    let mut out: BTreeMap<String, BTreeMap<String, f64>> = BTreeMap::new();
    for row in rows {
        let label = if sort == "FY" { row["fiscal_year"].clone() } else { format!("{} {}", row["period"], row["fiscal_year"]) };
        let items = row.iter().filter_map(|(item, value)| Some((item.clone(), value.parse().ok()?)));
        out.entry(label).or_default().extend(items);
    }
    out
}

/// Every item of every year and quarter that companies reporting in the base currency have filed, restated ones as restated.
#[test]
fn amounts_are_those_that_were_filed() {
    let (_folder, home) = golden();
    let ctx = now(&home);
    let mut compared = 0;
    for id in ["C00001", "C00003", "C00006", "C00014", "C00016"] {
        for (period, sort) in [(StatementPeriod::Year, "FY"), (StatementPeriod::Quarter, "Q")] {
            let filed = filed(id, sort);
            for (statement, items) in [
                (Statement::Income, ["revenue", "pretax_income", "net_income"]),
                (Statement::Balance, ["cash", "total_assets", "equity"]),
                (Statement::Cash, ["operating_cash_flow", "capital_expenditure", "dividends_paid"]),
            ] {
                let table = table(&ctx, id, StatementRequest { statement, period, ..BASE });
                assert!(table.columns.iter().filter(|c| filed.contains_key(&c.label)).count() > 8, "{id} {:?}", table.columns);
                for item in items {
                    let Some(values) = values(&table, item) else { continue };
                    for (column, value) in table.columns.iter().zip(values) {
                        let Some(want) = filed.get(&column.label).and_then(|f| f.get(item)) else { continue };
                        assert!(value.is_some_and(|v| near(v, *want)), "{id} {item} {}: {value:?}, filed {want}", column.label);
                        compared += 1;
                    }
                }
            }
        }
    }
    assert!(compared > 900, "{compared}");
}

/// A half-year is what was filed of it, the fiscal year less the first half, or the sum of two quarters; its balance is that of its end.
#[test]
fn half_years_are_filed_or_follow_from_what_was() {
    let (_folder, home) = golden();
    let ctx = now(&home);
    for (id, base) in [("C00001", true), ("C00003", true), ("C00007", false), ("C00011", false)] {
        let of = |statement| table(&ctx, id, StatementRequest { statement, period: StatementPeriod::Half, ..BASE });
        let income = of(Statement::Income);
        let revenue = values(&income, "revenue").unwrap();
        let [years, halves, quarters] = ["FY", "H", "Q"].map(|sort| filed(id, sort));
        let item = |of: &BTreeMap<String, BTreeMap<String, f64>>, label: String| Some(*of.get(&label)?.get("revenue")?);
        let of_quarters = |year: &str, which: [u8; 2]| which.iter().map(|n| item(&quarters, format!("Q{n} {year}"))).sum::<Option<f64>>();
        let mut ratios = Vec::new();
        for (column, value) in income.columns.iter().zip(&revenue) {
            let (half, year) = column.label.split_once(' ').unwrap();
            let first = item(&halves, format!("H1 {year}")).or_else(|| of_quarters(year, [1, 2]));
            let want = if half == "H1" { first } else { item(&years, year.to_owned()).zip(first).map(|(year, first)| year - first) };
            let Some((want, value)) = want.zip(*value) else { continue };
            ratios.push(value / want);
        }
        // In another currency than the base one all are converted at one rate.
        assert!(ratios.len() > 8 && ratios.iter().all(|r| near(*r, if base { 1.0 } else { ratios[0] })), "{id} {ratios:?}");
        let growth = table(&ctx, id, StatementRequest { period: StatementPeriod::Half, form: StatementForm::Growth, ..BASE });
        let rate = values(&growth, "revenue").unwrap()[0].unwrap();
        assert!(near(1.0 + rate, revenue[0].unwrap() / revenue[2].unwrap()), "{id}: two columns on");
        let balance = of(Statement::Balance);
        let second = balance.columns.iter().position(|c| c.label.starts_with("H2")).unwrap();
        let year = table(&ctx, id, StatementRequest { statement: Statement::Balance, ..BASE });
        let year_end = year.columns.iter().position(|c| c.period_end == balance.columns[second].period_end).unwrap();
        assert_eq!(values(&balance, "equity").unwrap()[second], values(&year, "equity").unwrap()[year_end], "{id}");
    }
    assert!(table(&ctx, "C00009", StatementRequest { period: StatementPeriod::Half, ..BASE }).columns.is_empty());
}

/// The other forms follow from the amounts: what is divided, by what, and compared with which column.
#[test]
fn forms_follow_from_amounts() {
    let (_folder, home) = golden();
    let ctx = now(&home);
    let of = |statement, period, form| table(&ctx, "C00001", StatementRequest { statement, period, form, ..BASE });
    let row = |t: &StatementTable, id: &str| values(t, id).unwrap();
    let income = of(Statement::Income, StatementPeriod::Year, StatementForm::Amount);
    let (revenue, profit) = (row(&income, "revenue"), row(&income, "net_income"));
    let skip = usize::from(income.columns[0].label == "12 months");

    let common = of(Statement::Income, StatementPeriod::Year, StatementForm::CommonSize);
    assert!(row(&common, "revenue").iter().all(|v| v.is_some_and(|v| near(v, 1.0))));
    for (i, share) in row(&common, "net_income").into_iter().enumerate() {
        assert!(near(share.unwrap(), profit[i].unwrap() / revenue[i].unwrap()));
    }
    assert!(values(&common, "net_margin").is_none() && values(&common, "eps").is_none(), "a share of a share says nothing");
    let assets = of(Statement::Balance, StatementPeriod::Year, StatementForm::CommonSize);
    assert!(row(&assets, "total_assets").iter().all(|v| v.is_some_and(|v| near(v, 1.0))));

    let growth = of(Statement::Income, StatementPeriod::Year, StatementForm::Growth);
    assert_eq!(growth.columns.len() + skip, income.columns.len());
    for (i, rate) in row(&growth, "revenue").into_iter().enumerate().take(8) {
        assert!(near(1.0 + rate.unwrap(), revenue[i + skip].unwrap() / revenue[i + skip + 1].unwrap()), "{i}");
    }
    // A quarter is compared with the same one of the year before, four columns on.
    let quarters = row(&of(Statement::Income, StatementPeriod::Quarter, StatementForm::Amount), "revenue");
    for (i, rate) in row(&of(Statement::Income, StatementPeriod::Quarter, StatementForm::Growth), "revenue").into_iter().enumerate().take(8)
    {
        assert!(near(1.0 + rate.unwrap(), quarters[i].unwrap() / quarters[i + 4].unwrap()), "{i}");
    }
    let shares = row(&income, "shares_diluted");
    for (i, a_share) in row(&of(Statement::Income, StatementPeriod::Year, StatementForm::PerShare), "revenue").into_iter().enumerate() {
        assert!(near(a_share.unwrap(), revenue[i].unwrap() / shares[i].unwrap()), "{i}");
    }
}

/// Each kind has its own rows; nothing of a later day is seen; who reports no quarters has none.
#[test]
fn rows_are_those_of_the_kind_and_columns_those_known() {
    let (_folder, home) = golden();
    let ctx = now(&home);
    let has = |id: &str, item: &str| table(&ctx, id, BASE).rows.iter().any(|r| r.id == item);
    assert!(has("C00014", "net_interest_income") && !has("C00014", "cost_of_revenue"), "a bank");
    assert!(has("C00015", "premiums_earned") && has("C00015", "combined_ratio"), "an insurer");
    assert!(has("C00016", "funds_from_operations"), "a property company");
    assert!(has("C00001", "cost_of_revenue") && !has("C00001", "net_interest_income"), "an operating company");
    let quarterly = StatementRequest { period: StatementPeriod::Quarter, ..BASE };
    assert!(table(&ctx, "C00009", quarterly).columns.is_empty(), "it reports once a year");

    let then: Day = "2021-05-14".parse().unwrap();
    let before = table(&ctx, "C00001", StatementRequest { as_of: Some(then), ..BASE });
    let today = table(&ctx, "C00001", BASE);
    assert!(before.columns.len() < today.columns.len() && !before.columns.is_empty());
    assert!(before.columns.iter().all(|c| c.filed_on <= then));
    assert!(statement(&ctx, "NOBODY", BASE).is_err());
}
