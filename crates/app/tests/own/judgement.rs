//! What one thinks of a company: notes and cases, kept with their versions.

use crate::{golden, now};
use artemon_app::{AppError, Case, Cases, DocumentKind, Note, cases_record, documents, note, own_cases, save_cases, save_note, work_out};
use artemon_core::forecast::ForecastYear;

fn words(text: &str) -> Note {
    Note { text: text.to_owned(), ..Note::default() }
}

#[test]
fn a_note_is_kept_and_never_overwritten_unseen() {
    let (_folder, home) = golden();
    assert_eq!(note(&now(&home), "DRUA").unwrap().version, 0);
    save_note(&now(&home), "DRUA", 0, words("first")).unwrap();
    save_note(&now(&home), "DRUA", 1, words("second")).unwrap();
    let kept = note(&now(&home), "DRUA").unwrap();
    assert_eq!((kept.version, kept.own.text.as_str()), (2, "second"));
    // Another window still has the first version before it.
    let refused = save_note(&now(&home), "DRUA", 1, words("third")).unwrap_err();
    assert!(matches!(refused, AppError::ChangedSince { version: 2, .. }), "{refused}");
    assert_eq!(note(&now(&home), "DRUA").unwrap().own.text, "second");
    // It belongs to that company alone, and is one of the person's documents.
    assert_eq!(note(&now(&home), "NEVN").unwrap().version, 0);
    assert_eq!(documents(&now(&home), DocumentKind::Note, false).unwrap().len(), 1);
}

/// What is saved while one writes leaves its first version and its newest, not one for each pause.
#[test]
fn writing_leaves_few_versions() {
    let (_folder, home) = golden();
    for version in 0..6 {
        save_note(&now(&home), "DRUA", version, words(&"word ".repeat(version as usize + 1))).unwrap();
    }
    let kept = note(&now(&home), "DRUA").unwrap();
    assert_eq!(kept.versions.iter().map(|v| v.version).collect::<Vec<_>>(), [1, 6]);
}

#[test]
fn a_text_that_is_too_long_changes_nothing() {
    let (_folder, home) = golden();
    let long = Note { outlook: "x".repeat(4_001), ..Note::default() };
    let refused = save_note(&now(&home), "DRUA", 0, long).unwrap_err().to_string();
    assert!(refused.contains("Outlook") && refused.contains("4,000"), "{refused}");
    assert_eq!(note(&now(&home), "DRUA").unwrap().version, 0);
}

fn steady(growth: f64) -> Case {
    let year = ForecastYear { revenue_growth: growth, operating_margin: 0.15, tax_rate: 0.25, reinvestment: 0.3, share_change: 0.0 };
    Case { years: vec![year; 5], exit_multiple: 12.0, why: "as before".to_owned() }
}

fn number(figure: &artemon_app::Figure) -> f64 {
    serde_json::to_value(figure).unwrap()["value"].as_f64().unwrap()
}

/// Cases are kept as they were written; absent ones are filled with what the last years did; the more growth, the more it is worth.
#[test]
fn cases_are_kept_and_worked_out() {
    let (_folder, home) = golden();
    let cases = Cases { made_on: None, low: Some(steady(0.0)), likely: None, high: Some(steady(0.1)) };
    save_cases(&now(&home), "DRUA", 0, cases.clone()).unwrap();
    assert_eq!(own_cases(&now(&home), "DRUA").unwrap().own, cases);
    let worked = work_out(&now(&home), "DRUA", cases, None).unwrap();
    let (low, likely, high) = (worked.low.unwrap(), worked.likely.unwrap(), worked.high.unwrap());
    assert!(number(&low.worth) < number(&high.worth));
    assert_eq!(low.years.iter().map(|y| y.fiscal_year).collect::<Vec<_>>(), [2025, 2026, 2027, 2028, 2029]);
    assert!(likely.case.years.len() == 5 && (5.0..=40.0).contains(&likely.case.exit_multiple));
    assert!(low.years.iter().all(|y| y.reported_eps.is_none()));
    // Earnings a share are net income over the shares: nobody issues or buys any here.
    let shares: Vec<f64> = low.years.iter().map(|y| y.income.net_income / y.income.eps).collect();
    assert!(shares.windows(2).all(|w| (w[0] / w[1] - 1.0).abs() < 1e-12), "{shares:?}");
}

/// A case starts from the figures of the day on which it was made: years reported since stand beside what was forecast of them and
/// are worth nothing any more, and all cases together have a record.
#[test]
fn what_came_stands_beside_the_forecast() {
    let (_folder, home) = golden();
    let made_on = Some("2023-05-15".parse().unwrap());
    let cases = Cases { made_on, likely: Some(steady(0.05)), ..Cases::default() };
    let then = work_out(&now(&home), "DRUA", cases.clone(), made_on).unwrap();
    let today = work_out(&now(&home), "DRUA", cases.clone(), None).unwrap();
    assert_eq!((then.after_year, then.passed, today.after_year, today.passed), (Some(2022), 0, Some(2022), 2));
    let (before, after) = (then.likely.unwrap(), today.likely.unwrap());
    let reported: Vec<(i32, bool)> = after.years.iter().map(|y| (y.fiscal_year, y.reported_eps.is_some())).collect();
    assert_eq!(reported, [(2023, true), (2024, true), (2025, false), (2026, false), (2027, false)]);
    assert!(before.years.iter().all(|y| y.reported_eps.is_none() && y.reported_revenue.is_none()));
    // What was forecast stays what it was.
    assert!(before.years.iter().zip(&after.years).all(|(a, b)| (a.income.eps / b.income.eps - 1.0).abs() < 1e-9));

    save_cases(&now(&home), "DRUA", 0, cases).unwrap();
    let record = cases_record(&now(&home)).unwrap();
    let off = |y: &artemon_app::CaseYear| y.reported_eps.map(|r| (y.income.eps - r).abs() / r.abs());
    let errors: Vec<f64> = after.years.iter().filter_map(off).collect();
    assert_eq!((record.companies, record.years), (1, 2));
    assert!((record.mean_error.unwrap() - errors.iter().sum::<f64>() / 2.0).abs() < 1e-12);
}

/// A bank's income does not follow from revenue and margin: it says so instead.
#[test]
fn a_bank_has_no_case_of_this_sort() {
    let (_folder, home) = golden();
    let worked = work_out(&now(&home), "NEVN", Cases::default(), None).unwrap();
    assert!(worked.likely.is_none() && worked.reason.is_some());
}

#[test]
fn a_case_that_cannot_be_meant_is_refused() {
    let (_folder, home) = golden();
    let mut wrong = steady(0.05);
    wrong.years[2].tax_rate = 25.0;
    let refused = work_out(&now(&home), "DRUA", Cases { likely: Some(wrong), ..Cases::default() }, None).unwrap_err().to_string();
    assert!(refused.contains("tax rate"), "{refused}");
}
