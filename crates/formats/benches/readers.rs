//! How fast files are read, beside a general-purpose reader of the same form in the same run: the figures of docs/performance.md.
//! `BARS=39000000 cargo bench -p artemon-formats --bench readers`
#![allow(clippy::unwrap_used, clippy::cast_precision_loss)]

use artemon_core::{
    domain::{Company, Currency, Day, InsiderTrade, Record, Table},
    filings::{self as filed, Filer, FiscalCalendar},
};
use artemon_formats::{
    Known, OwnConcepts, ReadError, TableFile, company_facts,
    filings::{self, Filers},
    mapped_table::{self, Sample},
    ownership::Issuers,
    statement_sets::{self, NewFilers},
};
use parquet::{
    basic::{Compression, ConvertedType, Repetition, Type as Physical},
    data_type::{ByteArray, ByteArrayType, DoubleType, Int32Type},
    file::{
        properties::WriterProperties,
        reader::{FileReader, SerializedFileReader},
        writer::SerializedFileWriter,
    },
    schema::types::Type,
};
use std::{
    fs::{self, File},
    io::{Read, Write},
    path::{Path, PathBuf},
    sync::Arc,
    time::Instant,
};
use zip::{ZipArchive, ZipWriter, write::SimpleFileOptions};

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Companies for whatever is read, nothing known of them.
struct Anybody;

impl Filers for Anybody {
    fn filer(&self, company_id: &str) -> Option<Filer> {
        let calendar = Some(FiscalCalendar { end_month: 12 });
        Some(Filer { company_id: company_id.into(), kind: artemon_core::domain::Kind::Operating, calendar, label_shift: None })
    }

    fn company_row(&self, _: &str) -> Option<Company> {
        None
    }

    fn identified(&self, scheme: &str, identifier: &str) -> Option<Arc<str>> {
        (scheme.ends_with("CIK") && identifier.starts_with("00")).then(|| "C1".into())
    }

    fn known(&self, _: &str) -> Result<filed::Known, ReadError> {
        Ok(filed::Known::default())
    }
}

impl Issuers for Anybody {
    fn listed(&self, _: &str) -> Option<(Arc<str>, Currency)> {
        None
    }
    fn registered(&self, _: &str) -> Option<(Arc<str>, Currency)> {
        None
    }
    fn company(&self, _: &str) -> Option<(Arc<str>, Currency)> {
        None
    }
    fn trades(&self, _: &str) -> Result<Vec<InsiderTrade>, ReadError> {
        Ok(Vec::new())
    }
}

fn golden(path: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/formats").join(path)
}

fn asked(name: &str, otherwise: usize) -> usize {
    std::env::var(name).ok().and_then(|v| v.parse().ok()).unwrap_or(otherwise)
}

/// The most memory since the last call, in megabytes.
fn peak() -> u64 {
    let status = fs::read_to_string("/proc/self/status").unwrap_or_default();
    let line = status.lines().find(|l| l.starts_with("VmHWM")).unwrap_or("VmHWM: 0 kB");
    let kb: u64 = line.split_whitespace().nth(1).and_then(|n| n.parse().ok()).unwrap_or(0);
    fs::write("/proc/self/clear_refs", "5").ok();
    kb >> 10
}

/// Times both readers of the same content and prints their figures.
fn compare(what: &str, amount: f64, unit: &str, ours: impl FnOnce(), general: (&str, impl FnOnce())) {
    peak();
    let begun = Instant::now();
    ours();
    let (own, memory) = (begun.elapsed().as_secs_f64(), peak());
    let begun = Instant::now();
    general.1();
    let other = begun.elapsed().as_secs_f64();
    println!(
        "{what}: {:.2} {unit}/s in {own:.1} s, {memory} MB; {}: {:.2} {unit}/s; ratio {:.2}",
        amount / own,
        general.0,
        amount / other,
        other / own
    );
}

fn entry(path: &Path, name: &str) -> Vec<u8> {
    let mut bytes = Vec::new();
    ZipArchive::new(File::open(path).unwrap()).unwrap().by_name(name).unwrap().read_to_end(&mut bytes).unwrap();
    bytes
}

/// A set of many filings like those of the cases: of four figures one is of the company as a whole, as in the sets that are given out.
fn statement_set(path: &Path, rows: usize) -> usize {
    let set = golden("bulk/statement-sets/2024q2.zip");
    let (sub, num) = (String::from_utf8(entry(&set, "sub.txt")).unwrap(), String::from_utf8(entry(&set, "num.txt")).unwrap());
    let accession = "9000000011-24-000003";
    let header = num.lines().next().unwrap();
    let figures: Vec<&str> = num.lines().filter(|l| l.starts_with(accession)).collect();
    let listed = sub.lines().find(|l| l.starts_with(accession)).unwrap();
    let mut zip = ZipWriter::new(File::create(path).unwrap());
    let filings = rows / (figures.len() * 4);
    let number = |n: usize| format!("{:010}-24-{n:06}", 9_100_000_000_usize + n);
    zip.start_file("sub.txt", SimpleFileOptions::default()).unwrap();
    writeln!(zip, "{}", sub.lines().next().unwrap()).unwrap();
    for n in 0..filings {
        let row = listed.replace(accession, &number(n)).replace("9000000011", &(9_100_000_000_usize + n).to_string());
        writeln!(zip, "{row}").unwrap();
    }
    zip.start_file("num.txt", SimpleFileOptions::default().large_file(true)).unwrap();
    writeln!(zip, "{header}").unwrap();
    let mut written = 0;
    for n in 0..filings {
        for figure in &figures {
            let figure = figure.replace(accession, &number(n));
            writeln!(zip, "{figure}").unwrap();
            let mut cells: Vec<&str> = figure.split('\t').collect();
            for segment in ["Segments=North;", "Segments=South;", "Product=Lamps;"] {
                cells[6] = segment;
                writeln!(zip, "{}", cells.join("\t")).unwrap();
            }
            written += 4;
        }
    }
    zip.finish().unwrap();
    written
}

fn sets(folder: &Path) {
    let path = folder.join("set.zip");
    let rows = statement_set(&path, asked("ROWS", 3_000_000));
    let general = || {
        let mut zip = ZipArchive::new(File::open(&path).unwrap()).unwrap();
        let entry = zip.by_name("num.txt").unwrap();
        let mut csv = csv::ReaderBuilder::new().delimiter(b'\t').quoting(false).from_reader(entry);
        let mut record = csv::StringRecord::new();
        while csv.read_record(&mut record).unwrap() {}
    };
    let ours = || {
        let mut taken = 0;
        let mut take = |_: Record| {
            taken += 1;
            Ok(())
        };
        statement_sets::read(std::slice::from_ref(&path), &OwnConcepts::new(), &Anybody, NewFilers::Add, &mut take).unwrap();
        assert!(taken > 0);
    };
    compare("statement set", rows as f64 / 1e6, "million figures", ours, ("csv alone", general));
}

fn facts(folder: &Path) {
    let path = folder.join("facts.zip");
    // Of four concepts one is of use, as in the files that are given out.
    let mut json: serde_json::Value =
        serde_json::from_slice(&entry(&golden("bulk/company-facts/company-facts.zip"), "CIK9000000001.json")).unwrap();
    let concepts = json["facts"]["us-gaap"].as_object_mut().unwrap();
    for (name, facts) in concepts.clone() {
        for other in ["OfAssociates", "ProForma", "Detail"] {
            concepts.insert(format!("{name}{other}"), facts.clone());
        }
    }
    let json = serde_json::to_vec(&json).unwrap();
    let (copies, mut zip) = (asked("FACTS_MB", 300) * (1 << 20) / json.len(), ZipWriter::new(File::create(&path).unwrap()));
    for n in 0..copies {
        zip.start_file(format!("CIK{n:010}.json"), SimpleFileOptions::default()).unwrap();
        let text = String::from_utf8(json.clone()).unwrap().replacen("9000000001", &format!("{n}"), 1);
        zip.write_all(text.as_bytes()).unwrap();
    }
    zip.finish().unwrap();
    let general = || {
        let mut zip = ZipArchive::new(File::open(&path).unwrap()).unwrap();
        for at in 0..zip.len() {
            let mut bytes = Vec::new();
            zip.by_index(at).unwrap().read_to_end(&mut bytes).unwrap();
            serde_json::from_slice::<serde_json::Value>(&bytes).unwrap();
        }
    };
    let ours = || {
        company_facts::read(&path, &Anybody, &mut |_: Record| Ok(())).unwrap();
    };
    compare("facts of filers", (copies * json.len()) as f64 / 1e6, "MB", ours, ("serde_json::Value", general));
}

fn pages(folder: &Path) {
    let page = fs::read_to_string(golden("inline-xbrl/quarterly").join(first_page())).unwrap().replace("\u{feff}", "");
    // The same tables again and again, as the notes of a long report.
    let (start, end) = (page.find("<body").unwrap(), page.rfind("</body>").unwrap());
    let start = start + page[start..].find('>').unwrap() + 1;
    let body = &page[start..end];
    let header = body.find("</ix:header></div>").map_or(0, |at| at + "</ix:header></div>".len());
    let rest = body[header..].replace(" id=\"", " data-id=\"");
    let copies = asked("PAGE_MB", 20) * (1 << 20) / rest.len();
    let whole = format!("{}{}{}{}", &page[..start], body, rest.repeat(copies), &page[end..]);
    let path = folder.join("page.xhtml");
    fs::write(&path, &whole).unwrap();
    let general = || {
        let mut reader = quick_xml::Reader::from_str(&whole);
        while !matches!(reader.read_event().unwrap(), quick_xml::events::Event::Eof) {}
    };
    let ours = || {
        filings::open(&path, &OwnConcepts::new()).unwrap();
    };
    compare("Inline XBRL", whole.len() as f64 / 1e6, "MB", ours, ("quick-xml events", general));
}

fn first_page() -> String {
    let names = fs::read_dir(golden("inline-xbrl/quarterly")).unwrap().map(|e| e.unwrap().file_name().into_string().unwrap());
    names.filter(|n| n.ends_with("html")).min().unwrap()
}

/// Bars of listings with 5,000 sessions each, in row groups of a million rows.
fn parquet_of(path: &Path, bars: usize) -> Vec<Arc<str>> {
    let field = |name: &str, physical, converted| {
        let field = Type::primitive_type_builder(name, physical).with_repetition(Repetition::OPTIONAL).with_converted_type(converted);
        Arc::new(field.build().unwrap())
    };
    let mut fields = vec![field("symbol", Physical::BYTE_ARRAY, ConvertedType::UTF8), field("date", Physical::INT32, ConvertedType::DATE)];
    fields.extend(["open", "high", "low", "close", "volume"].map(|name| field(name, Physical::DOUBLE, ConvertedType::NONE)));
    let schema = Arc::new(Type::group_type_builder("prices").with_fields(fields).build().unwrap());
    let properties = Arc::new(WriterProperties::builder().set_compression(Compression::SNAPPY).build());
    let mut file = SerializedFileWriter::new(File::create(path).unwrap(), schema, properties).unwrap();
    let symbols: Vec<Arc<str>> = (0..bars.div_ceil(5_000)).map(|n| format!("S{n:05}").into()).collect();
    let first = "2005-01-03".parse::<Day>().unwrap().epoch_days();
    for start in (0..bars).step_by(1 << 20) {
        let rows = start..bars.min(start + (1 << 20));
        let there = vec![1i16; rows.len()];
        let mut group = file.next_row_group().unwrap();
        let mut column = group.next_column().unwrap().unwrap();
        let texts: Vec<ByteArray> = rows.clone().map(|n| ByteArray::from(&*symbols[n / 5_000])).collect();
        column.typed::<ByteArrayType>().write_batch(&texts, Some(&there), None).unwrap();
        column.close().unwrap();
        let mut column = group.next_column().unwrap().unwrap();
        let days: Vec<i32> = rows.clone().map(|n| first + i32::try_from(n % 5_000).unwrap()).collect();
        column.typed::<Int32Type>().write_batch(&days, Some(&there), None).unwrap();
        column.close().unwrap();
        for (which, add) in [0.0, 0.5, -0.5, 0.1, 1e5].into_iter().enumerate() {
            let mut column = group.next_column().unwrap().unwrap();
            let price = |n: usize| 20.0 + ((n * 7_919 + which) % 3_000) as f64 / 100.0;
            let high = |n: usize| ((20.0 + ((n * 7_919) % 3_000) as f64 / 100.0 + add) * 100.0).round() / 100.0;
            let values: Vec<f64> = rows.clone().map(|n| if which == 4 { (price(n) * 1e4).round() } else { high(n) }).collect();
            column.typed::<DoubleType>().write_batch(&values, Some(&there), None).unwrap();
            column.close().unwrap();
        }
        group.close().unwrap();
    }
    file.close().unwrap();
    symbols
}

fn bars(folder: &Path) {
    let (path, bars) = (folder.join("prices.parquet"), asked("BARS", 5_000_000));
    let symbols = parquet_of(&path, bars);
    let table = TableFile::of(&path);
    let mapping = mapped_table::for_table(&Sample::of_table(&table).unwrap(), Table::Prices);
    let ours = || {
        let mut known = Known { symbols: symbols.iter().cloned().collect(), ..Known::default() };
        let mut taken = 0;
        let mut take = |_: Record| {
            taken += 1;
            Ok(())
        };
        mapped_table::read(&table, &mapping, &mut known, &mut take).unwrap();
        assert_eq!(taken, bars);
    };
    let general = || {
        let file = SerializedFileReader::new(File::open(&path).unwrap()).unwrap();
        assert_eq!(file.get_row_iter(None).unwrap().map(Result::unwrap).count(), bars);
    };
    compare("Parquet", bars as f64 / 1e6, "million bars", ours, ("parquet's rows", general));
}

fn main() {
    let folder = tempfile::tempdir().unwrap();
    let which = std::env::var("ONLY").unwrap_or_default();
    for (name, run) in [("sets", sets as fn(&Path)), ("facts", facts), ("pages", pages), ("bars", bars)] {
        if which.is_empty() || which == name {
            run(folder.path());
        }
    }
}
