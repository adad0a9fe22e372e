//! Everything of one's own as one zip: documents in the form in which they can be brought back, the ledger, messages, and every row.

use super::noted;
use crate::{
    AppError, Ctx,
    backtests::backtest,
    documents::{DocumentKind, document_file, documents},
    ledger::{LedgerFormat, LedgerRequest, ledger_file},
    mail::{mail_file, outbox},
};
use artemon_formats::quickly_packed;
use std::{
    collections::BTreeSet,
    io::{self, Write},
};
use zip::{ZipWriter, write::StreamWriter};

const READ_ME: &str = "Everything that is yours in Artemon.\n\n\
    documents/  screens, lists, columns, measures, assumption sets, notes, forecasts and alerts, each as a file that can be imported\n\
    backtests/  what was asked and what came of it\n\
    ledger/     the journal as CSV, and the whole ledger as a workbook\n\
    messages/   as files that mail programs open\n\
    rows/       every row that belongs to you, as it is kept: a line of JSON each\n\n\
    What lets somebody sign in (passphrase, codes, tokens, private addresses) is not in it.\n";

/// Writes it into anything that takes bytes.
///
/// # Errors
/// When something cannot be read, or nobody takes the bytes.
pub fn everything_into(ctx: &Ctx, out: impl Write) -> Result<(), AppError> {
    noted(ctx, "took everything along", "")?;
    let mut zip = Packed { zip: ZipWriter::new_stream(out), names: BTreeSet::new() };
    zip.add("README.txt", READ_ME.as_bytes())?;
    for kind in DocumentKind::ALL {
        for entry in documents(ctx, kind, false)? {
            let file = serde_json::to_vec_pretty(&document_file(ctx, &entry.id, None)?).unwrap_or_default();
            zip.add(&format!("documents/{}/{}.json", kind.code(), plain(&entry.name)), &file)?;
        }
    }
    for entry in crate::backtests::backtests(ctx)?.backtests {
        let whole = serde_json::to_vec_pretty(&backtest(ctx, &entry.id)?).unwrap_or_default();
        zip.add(&format!("backtests/{}.json", plain(&entry.name)), &whole)?;
    }
    if !ctx.home.people.accounts(&ctx.person)?.is_empty() {
        for (format, name) in [(LedgerFormat::Csv, "ledger/journal.csv"), (LedgerFormat::Xlsx, "ledger/ledger.xlsx")] {
            zip.add(name, &ledger_file(ctx, &LedgerRequest::default(), format)?)?;
        }
    }
    for mail in outbox(ctx)?.mails {
        zip.add(&format!("messages/{}.eml", plain(&mail.subject)), &mail_file(ctx, &mail.id)?)?;
    }
    for (table, lines) in ctx.home.people.everything_of(&ctx.person)?.into_iter().filter(|(_, lines)| !lines.is_empty()) {
        zip.add(&format!("rows/{table}.jsonl"), format!("{}\n", lines.join("\n")).as_bytes())?;
    }
    zip.zip.finish().map_err(|e| stream(io::Error::other(e)))?.into_inner().flush().map_err(stream)
}

fn stream(source: io::Error) -> AppError {
    AppError::Write(artemon_formats::WriteError::Stream { source })
}

/// A name that files can have.
fn plain(name: &str) -> String {
    let plain: String = name.chars().map(|c| if c.is_alphanumeric() || " -_.,()".contains(c) { c } else { '_' }).take(80).collect();
    let plain = plain.trim_matches(['.', ' ']);
    if plain.is_empty() { "_".to_owned() } else { plain.to_owned() }
}

struct Packed<W: Write> {
    zip: ZipWriter<StreamWriter<W>>,
    names: BTreeSet<String>,
}

impl<W: Write> Packed<W> {
    /// Adds a file; one of the same name, whatever its letters' size, gets a number.
    fn add(&mut self, name: &str, bytes: &[u8]) -> Result<(), AppError> {
        let (stem, ending) = name.rsplit_once('.').unwrap_or((name, ""));
        let names = (1..).map(|n| if n == 1 { name.to_owned() } else { format!("{stem} {n}.{ending}") });
        let name = names.into_iter().find(|name| self.names.insert(name.to_lowercase())).unwrap_or_default();
        let put = self.zip.start_file(name, quickly_packed()).map_err(io::Error::other).and_then(|()| self.zip.write_all(bytes));
        put.map_err(stream)
    }
}
