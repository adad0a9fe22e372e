//! All formats that can be read and how each is recognised by its content: to add a format, add its folder and its line here.

use crate::{
    archive::Archive,
    filings, identifiers, insider_sets, ownership_xml, parquet_table,
    problem::ReadError,
    sdmx_csv, statement_report, statement_sets,
    text::{decode, is_object},
    workbook,
    xml::outermost,
};
use std::{borrow::Cow, fs::File, io::Read, path::Path};

/// Bytes looked at.
const HEAD: u64 = 64 << 10;

/// A format in which data comes in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Format {
    /// The whole dataset: a folder with a descriptor, or a zip of it.
    DataPackage,
    /// A filing in one of the forms of XBRL.
    Filing,
    /// A page that does not say that it is a filing.
    Page,
    /// An ownership filing.
    Ownership,
    /// All facts of one filer, or of many in a zip.
    CompanyFacts,
    /// A quarterly set of statements: a zip, or its file of filings.
    StatementSet,
    /// A quarterly set of insiders' trades, likewise.
    InsiderSet,
    /// Another file of such a set, which is read with it.
    PartOfSet,
    /// What joins filers' numbers with companies.
    Identifiers,
    /// Series of observations.
    Observations,
    /// What a person said of the filings beside it.
    Answers,
    /// Many files of prices in a zip.
    PriceArchive,
    /// A workbook of sheets.
    Workbook,
    /// One table as Parquet.
    Parquet,
    /// Filings of the dataset as it writes them itself.
    StatementReport,
    /// One table as delimited text, its columns to be mapped.
    CsvTable,
}

/// What is seen of a file.
#[derive(Debug)]
pub struct Look<'a> {
    /// Its first bytes.
    bytes: &'a [u8],
    /// The text that they are; `None` where they are none.
    text: Option<Cow<'a, str>>,
    /// The names in an archive.
    names: Vec<String>,
}

/// A format's entry.
#[derive(Debug)]
pub struct Entry {
    /// The format.
    pub format: Format,
    /// Its name in words.
    pub name: &'static str,
    /// Whether a file looks like it.
    pub recognises: fn(&Look<'_>) -> bool,
}

/// Every format, in the order in which they are tried.
pub const FORMATS: &[Entry] = &[
    Entry { format: Format::StatementSet, name: "statement set", recognises: |l| l.is_set(statement_sets::FILES, "adsh\tcik\t") },
    Entry {
        format: Format::InsiderSet,
        name: "set of insiders' trades",
        recognises: |l| l.is_set(insider_sets::FILES, "accession_number\tfiling_date\t"),
    },
    Entry { format: Format::PartOfSet, name: "file of a set", recognises: |l| l.is_part_of_set() },
    Entry { format: Format::Workbook, name: "workbook", recognises: |l| l.names.iter().any(|n| n == workbook::ENTRY) },
    Entry { format: Format::Parquet, name: "Parquet", recognises: |l| l.bytes.starts_with(&parquet_table::MAGIC) },
    Entry { format: Format::PriceArchive, name: "zip of price files", recognises: |l| l.is_archive_of_tables() },
    Entry { format: Format::DataPackage, name: "Data Package", recognises: |l| l.is_archive() && !l.is_facts() },
    Entry { format: Format::Ownership, name: "ownership filing", recognises: |l| l.root().is_some_and(|r| r == ownership_xml::ROOT) },
    Entry { format: Format::Page, name: "page", recognises: |l| l.is_plain_page() },
    Entry {
        format: Format::StatementReport,
        name: "statements in xBRL-JSON",
        recognises: |l| l.text.as_ref().is_some_and(|t| statement_report::is_report(t)),
    },
    Entry { format: Format::Filing, name: "filing in XBRL", recognises: |l| l.is_filing() },
    Entry { format: Format::CompanyFacts, name: "facts of filers", recognises: |l| l.is_facts() },
    Entry { format: Format::Identifiers, name: "identifiers", recognises: |l| l.first_line().is_some_and(identifiers::is_identifiers) },
    Entry {
        format: Format::Observations,
        name: "series of observations",
        recognises: |l| l.first_line().is_some_and(sdmx_csv::is_observations),
    },
    Entry { format: Format::Answers, name: "days of filings", recognises: |l| l.first_line().is_some_and(filings::is_answers) },
    Entry { format: Format::CsvTable, name: "CSV of one table", recognises: |l| l.text.is_some() && !l.is_xml() && !l.is_json() },
];

impl<'a> Look<'a> {
    /// What is seen of the first bytes of a file.
    fn of(bytes: &'a [u8]) -> Look<'a> {
        // Of a file that goes on the last character may be cut in two.
        let most = if bytes.len() as u64 == HEAD { 3 } else { 0 };
        let text = (0..=most).find_map(|cut| decode(bytes.get(..bytes.len().checked_sub(cut)?)?).ok());
        Look { bytes, text, names: Vec::new() }
    }

    fn is_archive(&self) -> bool {
        self.bytes.starts_with(b"PK\x03\x04")
    }

    fn is_xml(&self) -> bool {
        self.text.as_ref().is_some_and(|t| t.trim_start().starts_with('<'))
    }

    fn is_json(&self) -> bool {
        self.text.as_ref().is_some_and(|t| is_object(t))
    }

    /// An instance, a page, a report in JSON; or XML that cannot be read to its first element: what is wrong is told by its reader.
    fn is_filing(&self) -> bool {
        match &self.text {
            Some(_) if self.is_xml() => self.root().is_none_or(|root| root == "xbrl" || root == "html"),
            Some(text) if self.is_json() => text.contains("\"documentInfo\""),
            _ => false,
        }
    }

    fn is_plain_page(&self) -> bool {
        let says_so = || self.text.as_ref().is_some_and(|t| t.contains("inlineXBRL"));
        self.is_xml() && self.root().is_some_and(|root| root == "html") && !says_so()
    }

    /// An object with a filer's number and facts; an archive of such, each called by the number.
    fn is_facts(&self) -> bool {
        let of_filer = |name: &String| {
            let name = name.rsplit('/').next().unwrap_or_default();
            name.starts_with("CIK") && name.ends_with(".json")
        };
        let names_facts = || self.text.as_ref().is_some_and(|t| t.contains("\"cik\"") && t.contains("\"facts\""));
        self.names.iter().any(of_filer) || (self.is_json() && names_facts())
    }

    /// An archive that holds these files, or a table that begins with these columns.
    fn is_set(&self, files: [&str; 2], columns: &str) -> bool {
        let holds = |file: &&str| self.names.iter().any(|n| n.rsplit('/').next().is_some_and(|last| last.eq_ignore_ascii_case(file)));
        files.iter().all(holds) || self.begins_with(columns)
    }

    fn is_part_of_set(&self) -> bool {
        ["adsh\t", "accession_number\t", "tag\tversion\t"].into_iter().any(|columns| self.begins_with(columns))
    }

    fn begins_with(&self, columns: &str) -> bool {
        self.first_line().and_then(|line| line.get(..columns.len())).is_some_and(|head| head.eq_ignore_ascii_case(columns))
    }

    /// An archive of tables that no descriptor names.
    fn is_archive_of_tables(&self) -> bool {
        let files = || self.names.iter().filter(|n| !n.ends_with('/'));
        let is_table =
            |n: &&String| n.rsplit_once('.').is_some_and(|(_, end)| ["csv", "txt", "tsv"].iter().any(|e| end.eq_ignore_ascii_case(e)));
        files().next().is_some() && files().all(|n| is_table(&n))
    }

    /// The name of the outermost element.
    fn root(&self) -> Option<String> {
        outermost(self.text.as_ref()?).map(|(_, name)| name)
    }

    fn first_line(&self) -> Option<&str> {
        self.text.as_ref()?.lines().next()
    }
}

/// The format of a file by its content, or of a folder by its descriptor.
///
/// # Errors
/// When it does not exist, is empty, cannot be read, or no format recognises it.
pub fn recognise(path: &Path) -> Result<Format, ReadError> {
    if !path.exists() {
        return Err(ReadError::Missing { path: path.to_owned() });
    }
    if path.is_dir() {
        return Ok(Format::DataPackage);
    }
    let file = filings::file_name(path);
    let mut head = Vec::new();
    let read = File::open(path).and_then(|f| f.take(HEAD).read_to_end(&mut head));
    read.map_err(|source| ReadError::Io { file: file.clone(), source })?;
    if head.is_empty() {
        return Err(ReadError::Unusable { file, problem: "the file is empty".to_owned() });
    }
    let mut look = Look::of(&head);
    if look.is_archive() {
        look.names = Archive::open(path)?.names().to_vec();
    }
    let found = FORMATS.iter().find(|f| (f.recognises)(&look));
    found.map(|f| f.format).ok_or_else(|| {
        let known: Vec<_> = FORMATS.iter().map(|f| f.name).collect();
        let reason = decode(&head).err().or_else(|| look.root().map(|root| format!("its outermost element is {root}")));
        let reason = reason.map(|r| format!(" ({r})")).unwrap_or_default();
        ReadError::Unusable { file, problem: format!("its content is in no known format{reason}. These are known: {}", known.join(", ")) }
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn formats_are_told_by_content_and_not_by_name() {
        let folder = tempfile::tempdir().unwrap();
        let recognised = |content: &[u8]| {
            let path = folder.path().join("file.bin");
            std::fs::write(&path, content).unwrap();
            recognise(&path).map_err(|e| e.to_string())
        };
        assert!(recognised(b"PK\x03\x04...").unwrap_err().contains("it is no complete archive"));
        assert_eq!(recognised(b"<?xml version=\"1.0\"?>\n<ownershipDocument>"), Ok(Format::Ownership));
        assert_eq!(recognised(b"<xbrl xmlns=\"http://www.xbrl.org/2003/instance\">"), Ok(Format::Filing));
        assert_eq!(recognised(b"\xEF\xBB\xBF{\"documentInfo\""), Ok(Format::Filing));
        assert_eq!(recognised(b"file,company_id,filed_on,source\n"), Ok(Format::Answers));
        assert_eq!(recognised(b"cik,ticker\n"), Ok(Format::Identifiers));
        assert_eq!(recognised(b"{\"cik\":1,\"facts\":{}}"), Ok(Format::CompanyFacts));
        assert_eq!(recognised(b"<!DOCTYPE a [<!ENTITY b 'c'>]><a>"), Ok(Format::Filing), "its reader says what is wrong");
        assert!(recognised(b"<xs:schema xmlns:xs='s'>").unwrap_err().contains("outermost element is schema"));
        assert_eq!(recognised(b"symbol,date,close\n"), Ok(Format::CsvTable));
        assert_eq!(recognised(b"\xFF\xFEs\0y\0"), Ok(Format::CsvTable));
        assert!(recognised(b"").unwrap_err().contains("is empty"));
        assert!(recognised(b"a\0b").unwrap_err().contains("a NUL character"));
    }
}
