//! `import` and `export`.

use crate::{
    args::{ExportArgs, Folder, ImportArgs, Order, Shared},
    output::print,
};
use anyhow::Context;
use artemon_app::{
    Answers, Choices, ConceptMapping, DateOrder, ExportForm, ExportRequest, FixedCell, ImportReport, ImportRequest, MappedColumn, Mapping,
    NewFilers, ObservationAnswers, PriceAnswers, Progress, Source, TableRows, WideChoices, plan_import,
};
use serde::Serialize;
use std::{
    collections::BTreeMap,
    io::{IsTerminal, Write},
    ops::ControlFlow,
    time::Instant,
};

pub(crate) fn import(shared: &Shared, args: &ImportArgs) -> anyhow::Result<()> {
    let folder = shared.folder(Folder::Data)?;
    artemon_app::map_concepts(&folder, &concepts(args)?)?;
    let (sources, unknown) = plan_import(&folder, &args.paths, &choices(args)?)?;
    for path in unknown {
        eprintln!("ignored, in no known format: {}", path.display());
    }
    for source in &sources {
        if let Source::Table(table, mapping) = source {
            explain(&table.name(), mapping);
        }
    }
    let title = args.paths.iter().map(|p| p.display().to_string()).collect::<Vec<_>>().join(", ");
    let (started, shows) = (Instant::now(), std::io::stderr().is_terminal());
    let watch = |p: Progress| {
        if shows {
            progress(p, started);
        }
        ControlFlow::Continue(())
    };
    let new_filers = if args.known_only { NewFilers::LeaveOut } else { NewFilers::Add };
    let request = ImportRequest { title, sources, skip_bad_rows: args.skip_bad_rows, only: args.only.clone(), new_filers };
    let report = artemon_app::import(&folder, &request, &watch)?;
    if shows {
        eprintln!();
    }
    for cell in &report.bad {
        eprintln!("skipped: {cell}");
    }
    for name in &report.kept_out {
        eprintln!("ignored, unknown file or column: {name}");
    }
    if !report.odd_codes.is_empty() {
        eprintln!("taken as they are: {}", report.odd_codes.join("; "));
    }
    of_filings(&report);
    show(shared, &report, &report.tables, report.rows, report.bad_rows)
}

/// What became of filings: what was left out, what to look at, how many facts were used.
fn of_filings(report: &ImportReport) {
    for l in &report.notes {
        let detail = if l.detail.is_empty() { String::new() } else { format!(" ({})", l.detail) };
        eprintln!("{}: {}, {}{detail}", l.file, l.what, l.count);
    }
    for warning in &report.warnings {
        eprintln!("look at: {warning}");
    }
    for own in &report.own_concepts {
        eprintln!(
            "{}: the company's own concept {{{}}}{} ({} of {}) serves no item",
            own.file, own.namespace, own.name, own.value, own.span
        );
    }
    let mut outcomes: BTreeMap<_, u64> = BTreeMap::new();
    for fact in &report.facts {
        *outcomes.entry(fact.outcome).or_default() += fact.count;
    }
    if !outcomes.is_empty() {
        let said: Vec<String> = outcomes.iter().map(|(outcome, count)| format!("{count} {outcome}")).collect();
        eprintln!("facts: {}", said.join(", "));
    }
}

fn progress(p: Progress, started: Instant) {
    let rate = p.rows as f64 / started.elapsed().as_secs_f64().max(0.001);
    let share = 100.0 * p.bytes as f64 / p.bytes_in_all.max(1) as f64;
    eprint!("\r{} rows, {share:.0} %, {rate:.0} rows a second, reading {}   ", p.rows, p.table);
    std::io::stderr().flush().ok();
}

fn choices(args: &ImportArgs) -> anyhow::Result<Choices> {
    let columns = args.maps.iter().map(|m| {
        let (column, from) = m.split_once('=').with_context(|| format!("\"{m}\" is no COLUMN=HEADER."))?;
        let divided = from.rsplit_once('/').and_then(|(header, by)| Some((header, by.parse::<f64>().ok()?)));
        let (from, divide) = divided.unwrap_or((from, 1.0));
        anyhow::Ok(MappedColumn { column: column.to_owned(), from: from.to_owned(), divide })
    });
    let fixed = args.sets.iter().map(|s| {
        let (column, value) = s.split_once('=').with_context(|| format!("\"{s}\" is no COLUMN=VALUE."))?;
        anyhow::Ok(FixedCell { column: column.to_owned(), value: value.to_owned() })
    });
    Ok(Choices {
        table: args.table,
        columns: columns.collect::<Result<_, _>>()?,
        fixed: fixed.collect::<Result<_, _>>()?,
        mapping: args.mapping.as_deref().map(mapping).transpose()?,
        dates: args.dates.map(|order| match order {
            Order::Ymd => DateOrder::YearMonthDay,
            Order::Dmy => DateOrder::DayMonthYear,
            Order::Mdy => DateOrder::MonthDayYear,
        }),
        wide: WideChoices {
            columns: args.values.iter().map(|v| pair(v, "HEADER=CODE")).collect::<Result<_, _>>()?,
            percent: args.percent,
            monthly: args.monthly,
            levels: args.levels,
        },
        observations: ObservationAnswers {
            series: set(args, "series").and_then(|s| s.parse().ok()),
            currency: set(args, "currency").and_then(|c| c.parse().ok()),
            chosen: args.chosen.iter().map(|c| pair(c, "DIMENSION=VALUE")).collect::<Result<_, _>>()?,
        },
        prices: PriceAnswers { divide: args.divide.iter().map(|d| divided(d)).collect::<Result<_, _>>()? },
        answers: Answers { company_id: args.company.clone(), filed_on: args.filed_on, source: args.source.clone() },
    })
}

/// A column that has one value for all rows.
fn set<'a>(args: &'a ImportArgs, column: &str) -> Option<&'a str> {
    args.sets.iter().filter_map(|s| s.split_once('=')).find(|(c, _)| *c == column).map(|(_, value)| value)
}

fn pair(text: &str, form: &str) -> anyhow::Result<(String, String)> {
    let (key, value) = text.rsplit_once('=').with_context(|| format!("\"{text}\" is no {form}."))?;
    Ok((key.to_owned(), value.to_owned()))
}

/// `FILE=NUMBER`, or the number alone for every file.
fn divided(text: &str) -> anyhow::Result<(String, f64)> {
    let (file, by) = text.rsplit_once('=').unwrap_or(("*", text));
    let by: f64 = by.parse().ok().filter(|n: &f64| n.is_finite() && *n > 0.0).with_context(|| format!("\"{by}\" is no number above 0."))?;
    Ok((file.to_owned(), by))
}

/// How columns are taken, as it is saved.
fn mapping(path: &std::path::Path) -> anyhow::Result<Mapping> {
    let text = std::fs::read_to_string(path).with_context(|| format!("{} cannot be read.", path.display()))?;
    serde_json::from_str(&text).map_err(|e| anyhow::anyhow!("{} is no mapping: {e}.", path.display()))
}

/// `{NAMESPACE}NAME=ITEM`, the item with a minus where what is stated counts the other way.
fn concepts(args: &ImportArgs) -> anyhow::Result<Vec<ConceptMapping>> {
    let one = |text: &String| {
        let parts = text.strip_prefix('{').and_then(|rest| rest.split_once('}'));
        let parts = parts.and_then(|(namespace, rest)| Some((namespace, rest.rsplit_once('=')?)));
        let (namespace, (name, item)) = parts.with_context(|| format!("\"{text}\" is no {{NAMESPACE}}NAME=ITEM."))?;
        let (item, negated) = item.strip_prefix('-').map_or((item, false), |item| (item, true));
        Ok(ConceptMapping { namespace: namespace.to_owned(), name: name.to_owned(), item: Some(item.to_owned()), negated })
    };
    args.concepts.iter().map(one).collect()
}

fn explain(table: &str, mapping: &Mapping) {
    eprintln!("{table} is taken for {}: dates {}, decimals {}", mapping.table, word(mapping.dates), word(mapping.decimal));
    for c in &mapping.columns {
        let divided = if c.divide > 1.0 { format!(" ÷ {}", c.divide) } else { String::new() };
        eprintln!("  {} from \"{}\"{divided}", c.column, c.from);
    }
    if let Some(wide) = &mapping.wide {
        for c in &wide.columns {
            let of: Vec<&str> = c.fixed.iter().map(|f| f.value.as_str()).collect();
            eprintln!("  {} of {} from \"{}\"", wide.value, of.join(" "), c.from);
        }
    }
    if let Some(turned) = &mapping.turned {
        let columns: Vec<&str> = turned.columns.iter().map(|c| c.from.as_str()).collect();
        eprintln!("  turned: rows by \"{}\", columns {}", turned.labels, columns.join(", "));
        for r in &turned.rows {
            eprintln!("  {} from the row \"{}\"", r.column, r.label);
        }
    }
    for c in &mapping.fixed {
        eprintln!("  {} is \"{}\" everywhere", c.column, c.value);
    }
}

/// The word by which a serialised choice is known.
fn word(choice: impl Serialize) -> String {
    serde_json::to_value(choice).ok().and_then(|v| v.as_str().map(|s| s.replace('_', " "))).unwrap_or_default()
}

pub(crate) fn export(shared: &Shared, args: &ExportArgs) -> anyhow::Result<()> {
    let form = match args.xbrl_json {
        Some(taxonomy) => ExportForm::XbrlJson(taxonomy),
        None if args.parquet => ExportForm::Parquet { measures: args.measures.clone() },
        None => ExportForm::of(&args.path),
    };
    let request = ExportRequest { form, tables: args.tables.clone(), companies: args.symbols.clone() };
    let report = artemon_app::export(&shared.folder(Folder::Data)?, &request, &args.path)?;
    for damaged in &report.left_out {
        eprintln!("left out: {damaged}");
    }
    show(shared, &report, &report.tables, report.rows, 0)
}

fn show(shared: &Shared, report: &impl Serialize, tables: &[TableRows], all: u64, bad: u64) -> anyhow::Result<()> {
    let mut rows: Vec<_> = tables.iter().map(|t| vec![t.table.to_string(), t.rows.to_string()]).collect();
    rows.push(vec!["all".to_owned(), all.to_string()]);
    if bad > 0 {
        rows.push(vec!["skipped as bad".to_owned(), bad.to_string()]);
    }
    print(shared.format, report, &["table", "rows"], &rows)
}
