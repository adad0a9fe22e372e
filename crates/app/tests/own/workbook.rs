//! The workbook calculated by a spreadsheet: its formulas give what the program gives, also after what is assumed was changed
//! in it by hand.

use crate::{golden, now};
use artemon_app::{
    Assumptions, Ctx, Override, RankAnswer, RankRequest, assume_of_company, candidates_xlsx, rank, save_assumptions, use_assumptions, value,
};
use artemon_core::valuation::RequiredReturn;
use calamine::{Data, Range, Reader, Xlsx};
use std::{
    collections::BTreeMap,
    fs,
    io::{Cursor, Read, Write},
    process::Command,
};
use zip::{ZipArchive, ZipWriter, write::SimpleFileOptions};

/// What a person changes on the sheet *Assumptions*: the names of the cells and their new values.
const CHANGED: [(&str, f64); 14] = [
    ("required_return", 0.11),
    ("terminal_growth", 0.015),
    ("terminal_gap", 0.03),
    ("growth_low", -0.05),
    ("growth_high", 0.12),
    ("margin", 0.35),
    ("wider_when_unsure", 0.2),
    ("leverage_floor", 0.01),
    ("growth_years", 4.0),
    ("exit_pe_high", 15.0),
    ("persistence", 0.4),
    ("outlier_cut", 2.5),
    ("weight_past", 0.0),
    ("weight_model_2", 0.5),
];

/// The same as a set.
fn changed() -> Assumptions {
    let standard = Assumptions::standard();
    let (mut scenario_weights, mut model_weights) = (standard.scenario_weights, standard.model_weights);
    (scenario_weights[0], model_weights[1]) = (0.0, 0.5);
    Assumptions {
        name: "Changed".to_owned(),
        required_return: RequiredReturn::Fixed(0.11),
        terminal_growth: 0.015,
        terminal_gap: 0.03,
        growth_bounds: (-0.05, 0.12),
        margin: 0.35,
        wider_when_unsure: 0.2,
        leverage_floor: 0.01,
        growth_years: 4,
        exit_pe: (standard.exit_pe.0, 15.0),
        persistence: 0.4,
        outlier_cut: 2.5,
        scenario_weights,
        model_weights,
        ..standard
    }
}

/// A workbook as LibreOffice calculates it, whatever figures its formulas carry.
fn calculated(workbook: &[u8]) -> Xlsx<Cursor<Vec<u8>>> {
    let folder = tempfile::tempdir().unwrap();
    let [profile, out] = ["profile", "out"].map(|name| folder.path().join(name));
    fs::create_dir_all(profile.join("user")).unwrap();
    // Every formula is calculated when the file is read.
    let always = r#"<?xml version="1.0" encoding="UTF-8"?>
<oor:items xmlns:oor="http://openoffice.org/2001/registry"><item oor:path="/org.openoffice.Office.Calc/Formula/Load">
<prop oor:name="OOXMLRecalcMode" oor:op="fuse"><value>0</value></prop></item></oor:items>"#;
    fs::write(profile.join("user/registrymodifications.xcu"), always).unwrap();
    let given = folder.path().join("candidates.xlsx");
    fs::write(&given, workbook).unwrap();
    let ran = Command::new("soffice")
        .arg(format!("-env:UserInstallation=file://{}", profile.display()))
        .args(["--headless", "--convert-to", "xlsx", "--outdir"])
        .args([&out, &given])
        .output()
        .expect("LibreOffice is needed: make deps installs it");
    let file = out.join("candidates.xlsx");
    let written = fs::read(&file).unwrap_or_else(|e| panic!("{e}: {}", String::from_utf8_lossy(&ran.stderr)));
    Xlsx::new(Cursor::new(written)).unwrap()
}

/// The workbook with other values in named cells, as if typed; the figures that other cells carry stay what they were.
fn typed(workbook: &[u8], cells: &[(&str, f64)]) -> Vec<u8> {
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(workbook.to_vec())).unwrap();
    let names: BTreeMap<String, String> = book.defined_names().iter().cloned().collect();
    let at = book.sheet_names().iter().position(|n| n == "Assumptions").unwrap() + 1;
    let path = format!("xl/worksheets/sheet{at}.xml");
    assert!(book.worksheet_range("Assumptions").is_ok());
    let mut from = ZipArchive::new(Cursor::new(workbook)).unwrap();
    let mut to = ZipWriter::new(Cursor::new(Vec::new()));
    for i in 0..from.len() {
        let mut file = from.by_index(i).unwrap();
        let (name, mut bytes) = (file.name().unwrap().into_owned(), Vec::new());
        file.read_to_end(&mut bytes).unwrap();
        to.start_file(name.as_str(), SimpleFileOptions::default()).unwrap();
        if name == path {
            let mut text = String::from_utf8(bytes).unwrap();
            for (name, value) in cells {
                let cell = names[*name].rsplit('!').next().unwrap().replace('$', "");
                let begins = text.find(&format!("<c r=\"{cell}\"")).unwrap_or_else(|| panic!("{name} at {cell}"));
                let value_at = begins + text[begins..].find("<v>").unwrap() + 3;
                let ends = value_at + text[value_at..].find("</v>").unwrap();
                text.replace_range(value_at..ends, &value.to_string());
            }
            bytes = text.into_bytes();
        }
        to.write_all(&bytes).unwrap();
    }
    to.finish().unwrap().into_inner()
}

fn number(data: Option<&Data>) -> Option<f64> {
    match data {
        Some(Data::Float(v)) => Some(*v),
        Some(Data::Int(v)) => Some(*v as f64),
        Some(Data::String(text)) => text.parse().ok(),
        _ => None,
    }
}

fn close(a: Option<f64>, b: Option<f64>) -> bool {
    match (a, b) {
        (Some(a), Some(b)) => (a - b).abs() <= 1e-9 * b.abs().max(1.0),
        (a, b) => a.is_none() && b.is_none(),
    }
}

fn figure(figure: &impl serde::Serialize) -> Option<f64> {
    serde_json::to_value(figure).unwrap()["value"].as_f64()
}

/// What the sheet *Candidates* says of each company against the ranking.
fn summary_agrees(sheet: &Range<Data>, answer: &RankAnswer) -> Vec<String> {
    let of_symbol: BTreeMap<String, &[Data]> = sheet.rows().skip(1).map(|r| (r[1].to_string(), r)).collect();
    let mut wrong = Vec::new();
    for row in &answer.rows {
        let cells = of_symbol[&row.symbol];
        let figures = [
            ("value", 6, figure(&row.intrinsic_value)),
            ("agreement", 9, figure(&row.value_agreement)),
            ("margin of safety", 10, figure(&row.margin_of_safety)),
            ("pay at most", 11, figure(&row.buy_below)),
        ];
        for (what, column, want) in figures {
            let got = number(cells.get(column));
            if !close(got, want) {
                wrong.push(format!("{} {what}: {got:?}, expected {want:?}", row.symbol));
            }
        }
        let verdict = cells[12].to_string();
        if verdict != row.verdict.code() {
            wrong.push(format!("{}: {verdict}, expected {}", row.symbol, row.verdict.code()));
        }
    }
    wrong
}

/// Every cell of the grid against the valuation of its company.
fn grid_agrees(ctx: &Ctx, sheet: &Range<Data>) -> (usize, Vec<String>) {
    let heads: Vec<String> = sheet.rows().next().unwrap().iter().map(ToString::to_string).collect();
    let place = |head: &str| heads.iter().position(|h| h == head).unwrap();
    let (worth, counts) = (place("Value"), place("Counts as"));
    let mut said: BTreeMap<[String; 3], [Option<f64>; 2]> = BTreeMap::new();
    for r in sheet.rows().skip(1) {
        said.insert([0, 1, 2].map(|c| r[c].to_string()), [worth, counts].map(|c| number(r.get(c))));
    }
    let symbols: std::collections::BTreeSet<&String> = said.keys().map(|k| &k[0]).collect();
    let (mut checked, mut wrong) = (0, Vec::new());
    for symbol in symbols {
        let answer = serde_json::to_value(value(ctx, symbol, None).unwrap()).unwrap();
        for model in answer["models"].as_array().unwrap() {
            for cell in model["cells"].as_array().unwrap() {
                let scenario = cell["scenario"].as_str().unwrap_or_default().to_owned();
                let key = [symbol.clone(), model["label"].as_str().unwrap().to_owned(), scenario];
                let Some(got) = said.get(&key) else { continue };
                let want = cell["value"]["value"].as_f64();
                let counted = match cell["status"].as_str().unwrap() {
                    "kept" => want,
                    "nothing" => Some(0.0),
                    _ => None,
                };
                checked += 1;
                if !close(got[0], want) || !close(got[1], counted) {
                    wrong.push(format!("{key:?}: {got:?}, expected {want:?} counting as {counted:?}"));
                }
            }
        }
    }
    (checked, wrong)
}

fn agrees(ctx: &Ctx, mut book: Xlsx<Cursor<Vec<u8>>>) {
    let answer = rank(ctx, &RankRequest::default()).unwrap();
    let mut wrong = summary_agrees(&book.worksheet_range("Candidates").unwrap(), &answer);
    let (checked, of_grid) = grid_agrees(ctx, &book.worksheet_range("Valuation").unwrap());
    wrong.extend(of_grid);
    assert!(checked > 300, "{checked} cells");
    assert!(wrong.is_empty(), "{} disagree:\n{}", wrong.len(), wrong.join("\n"));
}

#[test]
fn a_spreadsheet_calculates_what_the_program_does() {
    let (_folder, app) = golden();
    let workbook = candidates_xlsx(&now(&app), &RankRequest::default()).unwrap();
    agrees(&now(&app), calculated(&workbook));

    let by_hand = typed(&workbook, &CHANGED);
    save_assumptions(&now(&app), &changed(), None).unwrap();
    use_assumptions(&now(&app), "Changed").unwrap();
    agrees(&now(&app), calculated(&by_hand));
}

/// A long horizon, growth that lasts longer than another one, a return that depends on rates, and what is assumed of single
/// companies: the sheet has other columns, other rows and typed figures then.
#[test]
fn other_sets_and_single_companies_are_calculated_too() {
    let (_folder, app) = golden();
    let own = |symbol: &str, own: Override| assume_of_company(&now(&app), symbol, &own).unwrap();
    own("DRUA", Override { own_growth: Some(0.07), margin: Some(0.5), ..Override::default() });
    own("NEVN", Override { required_return: Some(0.12), exit_multiple: Some(9.5), ..Override::default() });
    own("HALB", Override { earnings: Some(3.0), cash_flow: Some(2.5), ..Override::default() });
    let standard = Assumptions::standard();
    for (name, set) in [
        ("Long", Assumptions { horizon: 30, growth_years: 12, required_return: RequiredReturn::OverAaa(0.04), ..standard.clone() }),
        ("Short", Assumptions { horizon: 3, growth_years: 8, own_growth: Some(0.04), ..standard }),
    ] {
        save_assumptions(&now(&app), &Assumptions { name: name.to_owned(), ..set }, None).unwrap();
        use_assumptions(&now(&app), name).unwrap();
        let workbook = candidates_xlsx(&now(&app), &RankRequest::default()).unwrap();
        agrees(&now(&app), calculated(&workbook));
    }
}

/// A company's own workbook: a spreadsheet comes to the same ratios, most of which are formulas, and the years stand oldest first.
#[test]
fn a_companys_ratios_are_calculated() {
    let (_folder, home) = golden();
    let bytes = artemon_app::company_xlsx(&now(&home), "DRUA", None).unwrap();
    let mut given: Xlsx<_> = Xlsx::new(Cursor::new(bytes.clone())).unwrap();
    let mut then = calculated(&bytes);
    let mut formulas = 0;
    for name in ["Income", "Balance", "Cash"] {
        let (written, came) = (given.worksheet_range(name).unwrap(), then.worksheet_range(name).unwrap());
        formulas += given.worksheet_formula(name).unwrap().used_cells().count();
        let years: Vec<f64> = (1..4).filter_map(|i| number(came.get_value((1, i)))).collect();
        assert!(years.windows(2).all(|w| w[0] < w[1]), "{name}: {years:?}");
        for (row, column, value) in written.used_cells() {
            let at = (row as u32, column as u32);
            let (a, b) = (number(Some(value)), number(came.get_value(at)));
            let near = a.zip(b).map_or(a == b, |(a, b)| (a - b).abs() <= 3e-5 * a.abs().max(1e-6));
            assert!(near, "{name} {at:?}: {value:?} is {b:?}");
        }
    }
    assert!(formulas > 80, "{formulas}");
}
