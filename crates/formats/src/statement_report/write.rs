//! Rows of statements → reports.

use self::place::{COMPANY, CURRENCY, FILED_ON, ITEMS, PERIOD, PERIOD_END, SOURCE};
use super::NAMESPACE;
use crate::{
    LEI_SCHEME, WriteError,
    tables::{Block, columns},
};
use artemon_core::{
    domain::{Day, Item, Period, Table},
    filings::{Taxonomy, UnitKind, concept_of, counted},
};
use serde::Serialize;
use std::{
    collections::{BTreeMap, HashMap},
    fs,
    io::{self, Write},
    path::{Path, PathBuf},
};
use zip::{CompressionMethod, ZipWriter, write::SimpleFileOptions, write::StreamWriter};

/// Where reports go.
pub enum Reports<W: Write> {
    /// A folder, with one in it for each company.
    Folder(PathBuf),
    /// A zip, written without going back.
    Zip(Box<ZipWriter<StreamWriter<W>>>),
}

impl Reports<io::Sink> {
    /// A new folder.
    #[must_use]
    pub fn in_folder(folder: &Path) -> Reports<io::Sink> {
        Reports::Folder(folder.to_owned())
    }
}

impl<W: Write> Reports<W> {
    /// A zip into anything that takes bytes.
    pub fn zipped(out: W) -> Reports<W> {
        Reports::Zip(Box::new(ZipWriter::new_stream(out)))
    }

    fn add(&mut self, company: &str, name: &str, bytes: &[u8]) -> Result<(), WriteError> {
        match self {
            Reports::Folder(folder) => {
                let folder = folder.join(company);
                let path = folder.join(name);
                let write = || fs::create_dir_all(&folder).and_then(|()| fs::File::create_new(&path)?.write_all(bytes));
                write().map_err(|source| WriteError::Io { path: path.clone(), source })
            }
            Reports::Zip(zip) => {
                let options = SimpleFileOptions::default().compression_method(CompressionMethod::Deflated);
                let begun = zip.start_file(format!("{company}/{name}"), options).map_err(io::Error::other);
                begun.and_then(|()| zip.write_all(bytes)).map_err(|source| WriteError::Stream { source })
            }
        }
    }

    fn finish(self) -> Result<(), WriteError> {
        let stream = |e: zip::result::ZipError| WriteError::Stream { source: io::Error::other(e) };
        match self {
            // Without a filing there is a folder all the same.
            Reports::Folder(path) => fs::create_dir_all(&path).map_err(|source| WriteError::Io { path, source }),
            Reports::Zip(zip) => zip.finish().map(drop).map_err(stream),
        }
    }
}

/// Writes a report for each filing. Companies come before their statements, these in the order of their companies.
pub struct StatementReports<W: Write> {
    reports: Reports<W>,
    taxonomy: Taxonomy,
    /// Legal entity identifiers by company.
    identifiers: HashMap<String, String>,
    /// The rows of the company that is being gathered, each with its cells.
    gathered: Vec<Vec<String>>,
}

/// Where the keys of a statement stand among its cells.
mod place {
    pub(super) const COMPANY: usize = 0;
    pub(super) const PERIOD: usize = 2;
    pub(super) const PERIOD_END: usize = 3;
    pub(super) const FILED_ON: usize = 4;
    pub(super) const CURRENCY: usize = 5;
    pub(super) const SOURCE: usize = 6;
    /// Where its items begin.
    pub(super) const ITEMS: usize = 7;
}

impl<W: Write> StatementReports<W> {
    /// Nothing yet.
    pub fn new(reports: Reports<W>, taxonomy: Taxonomy) -> StatementReports<W> {
        StatementReports { reports, taxonomy, identifiers: HashMap::new(), gathered: Vec::new() }
    }

    /// Takes rows of companies or of statements.
    ///
    /// # Errors
    /// When a report cannot be written.
    pub fn write(&mut self, block: &Block) -> Result<(), WriteError> {
        let lei = columns(Table::Companies).iter().position(|c| c.name == "lei").unwrap_or(0);
        block.for_each_row(|row| {
            let cells: Vec<String> = row.iter().map(|cell| String::from_utf8_lossy(cell).into_owned()).collect();
            if block.table == Table::Companies {
                self.identifiers.insert(cells[COMPANY].clone(), cells[lei].clone());
                return Ok(());
            }
            if self.gathered.last().is_some_and(|last| last[COMPANY] != cells[COMPANY]) {
                self.company()?;
            }
            self.gathered.push(cells);
            Ok(())
        })
    }

    /// Writes what is still gathered.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn finish(mut self) -> Result<(), WriteError> {
        self.company()?;
        self.reports.finish()
    }

    /// Writes the filings of the company that was gathered.
    fn company(&mut self) -> Result<(), WriteError> {
        let rows = std::mem::take(&mut self.gathered);
        let mut filings: BTreeMap<(&str, &str), Vec<&[String]>> = BTreeMap::new();
        for row in &rows {
            filings.entry((&row[FILED_ON], &row[SOURCE])).or_default().push(row);
        }
        let mut of_day = ("", 0);
        for ((filed_on, _), rows) in filings {
            of_day = if of_day.0 == filed_on { (filed_on, of_day.1 + 1) } else { (filed_on, 1) };
            let company = &rows[0][COMPANY];
            let name = if of_day.1 == 1 { format!("{filed_on}.json") } else { format!("{filed_on}-{}.json", of_day.1) };
            let lei = self.identifiers.get(company).map(String::as_str).filter(|lei| !lei.is_empty());
            let bytes = serde_json::to_vec_pretty(&report(&rows, lei, self.taxonomy));
            let bytes = bytes.map_err(|e| WriteError::Stream { source: io::Error::other(e) })?;
            self.reports.add(&file_name(company), &name, &bytes)?;
        }
        Ok(())
    }
}

/// A key as the name of a folder: what a file system may not take, and the sign itself, as its number.
fn file_name(key: &str) -> String {
    let safe = |c: char| c.is_alphanumeric() || matches!(c, '-' | '_');
    let mut out = String::new();
    for c in key.chars() {
        if safe(c) { out.push(c) } else { out.push_str(&format!("%{:X}", u32::from(c))) }
    }
    out
}

#[derive(Serialize)]
#[serde(rename_all = "camelCase")]
struct Report<'r> {
    document_info: Head<'r>,
    facts: BTreeMap<String, Fact<'r>>,
}

#[derive(Serialize)]
#[serde(rename_all = "camelCase")]
struct Head<'r> {
    document_type: &'static str,
    namespaces: BTreeMap<&'static str, &'static str>,
    taxonomy: [&'static str; 1],
    #[serde(rename = "artemon:rows")]
    rows: BTreeMap<String, BTreeMap<&'static str, &'r str>>,
}

#[derive(Serialize)]
struct Fact<'r> {
    value: &'r str,
    dimensions: BTreeMap<&'static str, String>,
    #[serde(rename = "artemon:row")]
    row: String,
    #[serde(rename = "artemon:item")]
    item: &'static str,
}

/// Namespace and entry of a taxonomy, by which it is known: nothing is fetched from there.
const fn addresses(taxonomy: Taxonomy) -> (&'static str, &'static str) {
    match taxonomy {
        Taxonomy::UsGaap => ("http://fasb.org/us-gaap/2024", "http://xbrl.fasb.org/us-gaap/2024/entire/us-gaap-entryPoint-std-2024.xsd"),
        Taxonomy::Ifrs => (
            "https://xbrl.ifrs.org/taxonomy/2024-03-27/ifrs-full",
            "https://xbrl.ifrs.org/taxonomy/2024-03-27/full_ifrs_entry_point_2024-03-27.xsd",
        ),
    }
}

fn report<'r>(rows: &[&'r [String]], lei: Option<&str>, taxonomy: Taxonomy) -> Report<'r> {
    let (namespace, entry) = addresses(taxonomy);
    let mut head = Head {
        document_type: "https://xbrl.org/2021/xbrl-json",
        namespaces: BTreeMap::from([
            ("artemon", NAMESPACE),
            ("company", "https://artemon.example/companies"),
            ("iso4217", "http://www.xbrl.org/2003/iso4217"),
            ("lei", LEI_SCHEME),
            ("xbrli", "http://www.xbrl.org/2003/instance"),
            (taxonomy.prefix(), namespace),
        ]),
        taxonomy: [entry],
        rows: BTreeMap::new(),
    };
    let mut facts = BTreeMap::new();
    for (n, row) in rows.iter().enumerate() {
        let name = format!("r{:03}", n + 1);
        let keys = columns(Table::Statements).iter().map(|c| c.name).zip(row.iter().map(String::as_str));
        head.rows.insert(name.clone(), keys.take(ITEMS).filter(|(_, cell)| !cell.is_empty()).collect());
        for (&item, value) in Item::ALL.iter().zip(&row[ITEMS..]).filter(|(_, value)| !value.is_empty()) {
            let dimensions = dimensions(row, item, lei, taxonomy);
            facts.insert(format!("{name}.{}", item.code()), Fact { value, dimensions, row: name.clone(), item: item.code() });
        }
    }
    Report { document_info: head, facts }
}

/// What a fact is of: its concept, whose it is, when, and in which unit.
fn dimensions(row: &[String], item: Item, lei: Option<&str>, taxonomy: Taxonomy) -> BTreeMap<&'static str, String> {
    let (unit, of_a_day) = counted(item);
    let concept = concept_of(item, taxonomy);
    let company = || format!("company:{}", row[COMPANY].split_whitespace().collect::<Vec<_>>().join("_"));
    let mut all = BTreeMap::from([
        ("concept", concept.map_or_else(|| format!("artemon:{}", item.code()), |name| format!("{}:{name}", taxonomy.prefix()))),
        ("entity", lei.map_or_else(company, |lei| format!("lei:{lei}"))),
    ]);
    let money = format!("iso4217:{}", row[CURRENCY]);
    match unit {
        UnitKind::Monetary => all.insert("unit", money),
        UnitKind::PerShare => all.insert("unit", format!("{money}/xbrli:shares")),
        UnitKind::Shares => all.insert("unit", "xbrli:shares".to_owned()),
        UnitKind::Pure => None,
    };
    if let Some(period) = period(&row[PERIOD], &row[PERIOD_END], of_a_day) {
        all.insert("period", period);
    }
    all
}

/// A period as OIM writes it: it ends with the midnight after its last day.
fn period(code: &str, end: &str, of_a_day: bool) -> Option<String> {
    let end = end.parse::<Day>().ok()?.plus_days(1);
    let months = match code.parse::<Period>().ok()? {
        Period::FY => 12,
        Period::H1 | Period::H2 => 6,
        Period::Q1 | Period::Q2 | Period::Q3 | Period::Q4 => 3,
    };
    let start = end.plus_months(-months);
    Some(if of_a_day { format!("{end}T00:00:00") } else { format!("{start}T00:00:00/{end}T00:00:00") })
}
