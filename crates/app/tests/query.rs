//! The dataset as Parquet, read by another program: a query engine comes to the same market values and medians, and what is read back
//! is what was written.
#![allow(clippy::unwrap_used)]

mod cases;

use artemon_app::{Choices, EvaluateRequest, ExportForm, ExportRequest, Home, ImportRequest, Options, Source, evaluate, export};
use cases::{exported, import};
use std::{
    collections::BTreeMap,
    ops::ControlFlow,
    path::{Path, PathBuf},
    process::Command,
};

/// Shares of the newest period that has them, on the basis of the day, times the last close, by company; and the medians by sector.
const MARKET_VALUES: &str = "
import duckdb, sys
folder, day = sys.argv[1], sys.argv[2]
table = lambda name: f\"read_parquet('{folder}/{name}/**/*.parquet')\"
duckdb.sql(f'''
create table caps as
with last_close as (
  select symbol, arg_max(close, date) as close from {table('prices')} where date <= date '{day}' group by symbol),
filed as (
  select company_id, shares_outstanding as shares, filed_on,
         row_number() over (partition by company_id order by period_end desc, filed_on desc) as newest
  from {table('statements')} where filed_on <= date '{day}' and shares_outstanding is not null),
counted as (
  select f.company_id, l.symbol, l.shares_per_unit, l.currency, f.shares * coalesce((
           select product(a.ratio) from {table('actions')} a
           where a.symbol = l.symbol and a.kind = 'split' and a.ex_date > f.filed_on and a.ex_date <= date '{day}'), 1) as shares
  from filed f join {table('listings')} l on l.company_id = f.company_id and l.primary where f.newest = 1)
select c.company_id, k.sector, p.close * c.shares / c.shares_per_unit as cap
from counted c join last_close p using (symbol) join {table('companies')} k using (company_id)
where c.currency = 'XFA'
''')
for row in duckdb.sql('select company_id, cap from caps').fetchall(): print('cap', *row, sep='\\t')
for row in duckdb.sql('select sector, median(cap) from caps group by sector').fetchall(): print('median', *row, sep='\\t')
for row in duckdb.sql(f\"select symbol, pe from read_parquet('{folder}/measures/as_of={day}/*.parquet') where pe is not null\").fetchall(): print('pe', *row, sep='\\t')
";

fn golden() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/package")
}

fn with_golden() -> tempfile::TempDir {
    let folder = tempfile::tempdir().unwrap();
    let request = ImportRequest { sources: vec![Source::Package(golden())], ..ImportRequest::default() };
    artemon_app::import(folder.path(), &request, &|_| ControlFlow::Continue(())).unwrap();
    folder
}

fn median(mut all: Vec<f64>) -> f64 {
    all.sort_by(f64::total_cmp);
    let n = all.len();
    if n % 2 == 1 { all[n / 2] } else { f64::midpoint(all[n / 2 - 1], all[n / 2]) }
}

#[track_caller]
fn near(a: f64, b: f64) {
    assert!((a - b).abs() <= 1e-9 * b.abs(), "{a} and {b}");
}

#[test]
fn a_query_engine_comes_to_the_same_values() {
    let (data, out) = (with_golden(), tempfile::tempdir().unwrap());
    let folder = out.path().join("set");
    let day = "2024-06-28";
    let form = ExportForm::Parquet { measures: vec![day.parse().unwrap()] };
    let report = export(data.path(), &ExportRequest { form, ..ExportRequest::default() }, &folder).unwrap();
    assert!(report.rows > 10_000 && folder.join("prices/year=2024/prices.parquet").exists());
    let asked = Command::new("python3").args(["-c", MARKET_VALUES, folder.to_str().unwrap(), day]).output().unwrap();
    assert!(asked.status.success(), "{}", String::from_utf8_lossy(&asked.stderr));
    let mut told: BTreeMap<&str, BTreeMap<String, f64>> = BTreeMap::new();
    let said = String::from_utf8(asked.stdout).unwrap();
    for told_row in said.lines() {
        let [kind, key, value] = told_row.split('\t').collect::<Vec<_>>()[..] else { panic!("{told_row}") };
        told.entry(kind).or_default().insert(key.to_owned(), value.parse().unwrap());
    }
    let ctx = Home::open(Options { folder: data.path().to_owned(), base: Some("XFA".parse().unwrap()), ..Options::default() })
        .unwrap()
        .local_ctx()
        .unwrap();
    let symbols: Vec<String> = told["cap"].keys().cloned().collect();
    let request = EvaluateRequest {
        formulas: ["market_cap", "pe"].map(str::to_owned).to_vec(),
        symbols: symbols.clone(),
        as_of: Some(day.parse().unwrap()),
    };
    let (mut by_sector, mut compared): (BTreeMap<String, Vec<f64>>, _) = (BTreeMap::new(), 0);
    let sectors: BTreeMap<String, String> =
        exported(data.path(), "companies").into_iter().map(|r| (r["company_id"].clone(), r["sector"].clone())).collect();
    let figures = evaluate(&ctx, &request).unwrap();
    let number = |figure: &artemon_app::Figure| serde_json::to_value(figure).unwrap().get("value").and_then(serde_json::Value::as_f64);
    for (id, figures) in symbols.iter().zip(&figures) {
        let Some(cap) = number(&figures.values[0].figure) else { continue };
        near(told["cap"][id], cap);
        by_sector.entry(sectors[id].clone()).or_default().push(cap);
        compared += 1;
        if let (Some(pe), Some(told)) = (number(&figures.values[1].figure), told["pe"].get(&figures.symbol)) {
            near(*told, pe);
        }
    }
    assert!(compared > 5, "{compared} companies");
    let whole = |sector: &str| by_sector[sector].len() == told["cap"].keys().filter(|id| sectors[*id] == sector).count();
    for (sector, all) in by_sector.iter().filter(|(s, _)| whole(s)) {
        near(told["median"][sector], median(all.clone()));
    }
}

/// Every table that Parquet files hold comes back as it was.
#[test]
fn parquet_files_are_read_back() {
    let (data, out) = (with_golden(), tempfile::tempdir().unwrap());
    let folder = out.path().join("set");
    let form = ExportForm::Parquet { measures: Vec::new() };
    export(data.path(), &ExportRequest { form, ..ExportRequest::default() }, &folder).unwrap();
    let again = tempfile::tempdir().unwrap();
    import(again.path(), &[folder], &Choices::default(), false).unwrap();
    for table in ["companies", "listings", "statements", "prices", "actions", "estimates", "insider_trades", "fx", "rates", "news"] {
        assert!(exported(data.path(), table) == exported(again.path(), table), "{table} differs");
    }
}
