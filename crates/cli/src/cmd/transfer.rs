//! `import` and `export`.

use crate::{
    args::{ExportArgs, ImportArgs, Shared},
    output::print,
};
use artemon_app::{Progress, TransferReport};
use std::{
    io::{IsTerminal, Write},
    time::Instant,
};

pub(crate) fn import(shared: &Shared, args: &ImportArgs) -> anyhow::Result<()> {
    let folder = shared.folder("data")?;
    for path in &args.paths {
        let started = Instant::now();
        let report = artemon_app::import(&folder, path, args.skip_bad_rows, |p| progress(p, started))?;
        for line in &report.bad {
            eprintln!("skipped: {line}");
        }
        for name in &report.kept_out {
            eprintln!("kept out, because nothing is known of it: {name}");
        }
        show(shared, &report)?;
    }
    Ok(())
}

fn progress(p: Progress, started: Instant) {
    if std::io::stderr().is_terminal() {
        let rate = p.rows as f64 / started.elapsed().as_secs_f64().max(0.001);
        eprint!("\r{} rows, {:.0} rows a second, reading {}   ", p.rows, rate, p.table);
        std::io::stderr().flush().ok();
    }
}

pub(crate) fn export(shared: &Shared, args: &ExportArgs) -> anyhow::Result<()> {
    let report = artemon_app::export(&shared.open()?, &args.path)?;
    show(shared, &report)
}

fn show(shared: &Shared, report: &TransferReport) -> anyhow::Result<()> {
    let mut rows: Vec<_> = report.tables.iter().map(|(t, n)| vec![t.clone(), n.to_string()]).collect();
    rows.push(vec!["all".to_owned(), report.rows.to_string()]);
    if report.bad_rows > 0 {
        rows.push(vec!["skipped as bad".to_owned(), report.bad_rows.to_string()]);
    }
    print(shared.format, report, &["table", "rows"], &rows)
}
