//! What is kept and cannot be used is named and kept as it is, until it is repaired.

use crate::{golden, golden_folder, now, open};
use artemon_app::{
    Assumptions, MatchRequest, Override, RankRequest, assume_of_company, assumption_sets, match_company, rank, repairs, save_assumptions,
    value,
};
use artemon_core::valuation::RequiredReturn;
use artemon_store::{KeptOverride, NewDocument, People};
use serde_json::json;

/// A set with an assumption that this version does not know, in use; a measure and an override that are no longer understood.
#[test]
fn what_is_no_longer_understood_is_named_and_offered() {
    let folder = golden_folder();
    let people = People::open(folder.path()).unwrap();
    let me = people.local();
    let mut body = serde_json::to_value(Assumptions { required_return: RequiredReturn::Fixed(0.11), ..Assumptions::standard() }).unwrap();
    body["tea_leaves"] = json!(3);
    let unknown = body.to_string();
    let add =
        |kind, name, body: &str| people.add_document(&me, NewDocument { kind, folder: "Mine", name, note: "why", body }).map(drop).unwrap();
    add("assumption_set", "Careful", &unknown);
    people.prefer(&me, "assumptions", "Careful").unwrap();
    add("measure", "odd", r#"{"id": "odd", "label": "Odd", "note": "", "formula": "price / net_magin"}"#);
    add("measure", "empty", "not even JSON");
    let own = |company_id: &str, body: &str| KeptOverride {
        company_id: company_id.to_owned(),
        symbol: "DRUA".to_owned(),
        isin: String::new(),
        name: "Drua".to_owned(),
        body: body.to_owned(),
    };
    people.keep_override(&me, &own("of-before", r#"{"required_return": "high"}"#)).unwrap();
    drop(people);

    let home = open(folder.path());
    let waiting = repairs(&now(&home)).broken;
    let told: Vec<(&str, &str, &str)> = waiting.iter().map(|b| (b.kind.as_str(), b.name.as_str(), b.instead.as_str())).collect();
    assert_eq!(
        told,
        [
            ("assumption_set", "Careful", "Values are computed with Standard."),
            ("measure", "empty", "Formulas do not know it."),
            ("measure", "odd", "Formulas that use it have no answer."),
            ("override", "Drua", "The company is valued as the set says."),
        ]
    );
    assert_eq!((waiting[0].body.as_str(), waiting[0].folder.as_str(), waiting[0].note.as_str()), (unknown.as_str(), "Mine", "why"));
    assert!(waiting.iter().all(|b| !b.problem.contains('`') && b.problem.len() < 120), "{waiting:?}");
    assert!(waiting[0].problem.contains("tea_leaves") && waiting[2].problem.contains("net_magin"), "{waiting:?}");
    assert_eq!(value(&now(&home), "DRUA", None).unwrap().assumptions, "Standard");

    // Saved again as a sound set it is the next version, and in use.
    let sound = Assumptions { name: "Careful".to_owned(), required_return: RequiredReturn::Fixed(0.11), ..Assumptions::standard() };
    save_assumptions(&now(&home), &sound, Some(1)).unwrap();
    assert_eq!(repairs(&now(&home)).broken.len(), 3);
    assert_eq!(value(&now(&home), "DRUA", None).unwrap().assumptions, "Careful, version 2");
    let sets = assumption_sets(&now(&home)).unwrap();
    assert!(sets.iter().any(|s| s.assumptions.name == "Careful" && s.in_use));
    assume_of_company(&now(&home), "DRUA", &Override { required_return: Some(0.12), ..Override::default() }).unwrap();
    assert!(repairs(&now(&home)).broken.iter().all(|b| b.kind != "override"), "it took the place of what was kept");
}

/// After another dataset: found again by its ISIN under another id and symbol, never by a symbol that is another's now; what
/// is not there is listed, and can be given to a company or forgotten.
#[test]
fn companies_are_matched_again_in_another_dataset() {
    let (folder, home) = golden();
    let listed = |symbol: &str| {
        let people = People::open(folder.path()).unwrap();
        assume_of_company(&now(&home), symbol, &Override { required_return: Some(0.2), ..Override::default() }).unwrap();
        let all = people.overrides(&people.local()).unwrap();
        let found = all.into_iter().find(|o| o.symbol == symbol).unwrap();
        people.forget_override(&people.local(), &found.company_id).unwrap();
        found
    };
    let (drua, olic) = (listed("DRUA"), listed("OLIC"));
    assert!(!drua.isin.is_empty());
    let people = People::open(folder.path()).unwrap();
    let me = people.local();
    // As of a dataset with other ids: the same ISIN under an older symbol; a symbol that another company has today; neither.
    let renamed = KeptOverride { company_id: "old-1".to_owned(), symbol: "OLDDRUA".to_owned(), ..drua };
    let taken = KeptOverride { company_id: "old-2".to_owned(), isin: "XA0000000000".to_owned(), name: "Gone".to_owned(), ..olic };
    people.keep_override(&me, &renamed).unwrap();
    people.keep_override(&me, &taken).unwrap();

    let overridden = || {
        let rows = rank(&now(&home), &RankRequest::default()).unwrap().rows;
        rows.into_iter().filter(|r| r.overridden).map(|r| r.symbol).collect::<Vec<_>>()
    };
    assert_eq!(overridden(), ["DRUA"]);
    let waiting = repairs(&now(&home)).unmatched;
    assert_eq!(waiting.iter().map(|u| u.company_id.as_str()).collect::<Vec<_>>(), ["old-2"]);

    let give = |symbol: Option<&str>| MatchRequest { company_id: "old-2".to_owned(), symbol: symbol.map(str::to_owned) };
    assert!(match_company(&now(&home), &give(Some("NOSUCH"))).is_err());
    match_company(&now(&home), &give(Some("BRAM"))).unwrap();
    let mut both = overridden();
    both.sort();
    assert_eq!((both, repairs(&now(&home)).unmatched.len()), (vec!["BRAM".to_owned(), "DRUA".to_owned()], 0));
    assert!(match_company(&now(&home), &give(None)).is_err(), "nothing is kept under that id any more");
    people.keep_override(&me, &taken).unwrap();
    match_company(&now(&home), &give(None)).unwrap();
    assert!(repairs(&now(&home)).unmatched.is_empty());
}
