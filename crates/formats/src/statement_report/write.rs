//! Rows of statements → reports.

use self::place::{COMPANY, CURRENCY, FILED_ON, ITEMS, PERIOD, PERIOD_END, SOURCE};
use super::NAMESPACE;
use crate::{
    LEI_SCHEME, WriteError,
    archive::quickly_packed,
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
use zip::{ZipWriter, write::StreamWriter};

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
                let begun = zip.start_file(format!("{company}/{name}"), quickly_packed()).map_err(io::Error::other);
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
    terms: Terms,
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
        StatementReports { reports, terms: Terms::of(taxonomy), identifiers: HashMap::new(), gathered: Vec::new() }
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
            let bytes = self.terms.report(&rows, lei);
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
    rows: BTreeMap<&'r str, BTreeMap<&'static str, &'r str>>,
}

#[derive(Serialize)]
struct Fact<'r> {
    value: &'r str,
    dimensions: Dimensions<'r>,
    #[serde(rename = "artemon:row")]
    row: &'r str,
    #[serde(rename = "artemon:item")]
    item: &'static str,
}

/// What a fact is of: its concept, whose it is, when, and in which unit.
#[derive(Serialize)]
struct Dimensions<'r> {
    concept: &'r str,
    entity: &'r str,
    #[serde(skip_serializing_if = "Option::is_none")]
    period: Option<&'r str>,
    #[serde(skip_serializing_if = "Option::is_none")]
    unit: Option<&'r str>,
}

/// What a row gives its facts.
struct RowTerms {
    name: String,
    instant: Option<String>,
    span: Option<String>,
    money: String,
    per_share: String,
}

/// How items are told in a taxonomy.
struct Terms {
    taxonomy: Taxonomy,
    /// Of each item its concept, how it is counted, and whether it is of a day.
    items: Vec<(Item, String, UnitKind, bool)>,
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

impl Terms {
    fn of(taxonomy: Taxonomy) -> Terms {
        let item = |item: &Item| {
            let standard = concept_of(*item, taxonomy).map(|name| format!("{}:{name}", taxonomy.prefix()));
            let (unit, of_a_day) = counted(*item);
            (*item, standard.unwrap_or_else(|| format!("artemon:{}", item.code())), unit, of_a_day)
        };
        Terms { taxonomy, items: Item::ALL.iter().map(item).collect() }
    }

    /// The bytes of a report on the rows of one filing.
    fn report(&self, rows: &[&[String]], lei: Option<&str>) -> serde_json::Result<Vec<u8>> {
        let (namespace, entry) = addresses(self.taxonomy);
        let company = || format!("company:{}", rows[0][COMPANY].split_whitespace().collect::<Vec<_>>().join("_"));
        let entity = lei.map_or_else(company, |lei| format!("lei:{lei}"));
        let terms: Vec<RowTerms> = rows.iter().enumerate().map(|(n, row)| RowTerms::of(n + 1, row)).collect();
        let document_info = Head {
            document_type: "https://xbrl.org/2021/xbrl-json",
            namespaces: BTreeMap::from([
                ("artemon", NAMESPACE),
                ("company", "https://artemon.example/companies"),
                ("iso4217", "http://www.xbrl.org/2003/iso4217"),
                ("lei", LEI_SCHEME),
                ("xbrli", "http://www.xbrl.org/2003/instance"),
                (self.taxonomy.prefix(), namespace),
            ]),
            taxonomy: [entry],
            rows: terms.iter().zip(rows).map(|(terms, row)| (terms.name.as_str(), keys(row))).collect(),
        };
        let mut facts = BTreeMap::new();
        for (terms, row) in terms.iter().zip(rows) {
            for ((item, concept, unit, of_a_day), value) in self.items.iter().zip(&row[ITEMS..]).filter(|(_, value)| !value.is_empty()) {
                let period = if *of_a_day { &terms.instant } else { &terms.span };
                let unit = match unit {
                    UnitKind::Monetary => Some(terms.money.as_str()),
                    UnitKind::PerShare => Some(terms.per_share.as_str()),
                    UnitKind::Shares => Some("xbrli:shares"),
                    UnitKind::Pure => None,
                };
                let dimensions = Dimensions { concept, entity: &entity, period: period.as_deref(), unit };
                facts.insert(format!("{}.{}", terms.name, item.code()), Fact { value, dimensions, row: &terms.name, item: item.code() });
            }
        }
        serde_json::to_vec_pretty(&Report { document_info, facts })
    }
}

/// What a row says of itself.
fn keys(row: &[String]) -> BTreeMap<&'static str, &str> {
    let named = columns(Table::Statements).iter().map(|c| c.name).zip(row.iter().map(String::as_str));
    named.take(ITEMS).filter(|(_, cell)| !cell.is_empty()).collect()
}

impl RowTerms {
    /// A period ends with the midnight after its last day.
    fn of(number: usize, row: &[String]) -> RowTerms {
        let end = row[PERIOD_END].parse::<Day>().ok().map(|day| day.plus_days(1));
        let months = row[PERIOD].parse::<Period>().ok().map(|period| match period {
            Period::FY => 12,
            Period::H1 | Period::H2 => 6,
            Period::Q1 | Period::Q2 | Period::Q3 | Period::Q4 => 3,
        });
        let span = |(end, months): (Day, i32)| format!("{}T00:00:00/{end}T00:00:00", end.plus_months(-months));
        let money = format!("iso4217:{}", row[CURRENCY]);
        RowTerms {
            name: format!("r{number:03}"),
            instant: end.map(|end| format!("{end}T00:00:00")),
            span: end.zip(months).map(span),
            per_share: format!("{money}/xbrli:shares"),
            money,
        }
    }
}
