//! The simulated feed: what comes in session by session makes the panel that loading the dataset anew makes.
#![allow(clippy::unwrap_used)]

use artemon_app::{
    Ctx, EvaluateRequest, FeedRequest, Home, Options, YearAnswer, YearRequest, about, add_document, evaluate, feed_state, make_demo,
    next_sessions, run_saved_screen, screen, screen_year,
};
use artemon_core::{domain::Day, screening::Screen};
use serde_json::json;
use std::{path::Path, sync::Arc};

fn now(home: &Arc<Home>) -> Ctx {
    home.local_ctx().unwrap()
}

fn open(folder: &Path) -> Arc<Home> {
    Home::open(Options { folder: folder.to_owned(), base: None }).unwrap()
}

/// Figures of all companies as of a day, or the newest session, as text.
fn figures(app: &Arc<Home>, as_of: Option<Day>) -> String {
    let formulas =
        ["price", "pe", "own_rank(pb, 10y)", "insider_net_buying(12)", "target_upside", "beta", "intrinsic_value", "chief_tenure"];
    let request = EvaluateRequest { formulas: formulas.map(str::to_owned).to_vec(), symbols: Vec::new(), as_of };
    serde_json::to_string(&evaluate(&now(app), &request).unwrap()).unwrap()
}

#[test]
fn a_quarter_of_the_feed_is_what_a_fresh_start_loads() {
    let folder = tempfile::tempdir().unwrap();
    make_demo(folder.path(), Some(60), false).unwrap();
    let app = open(folder.path());
    let (before, start) = (figures(&app, None), feed_state(&now(&app)).unwrap());
    let last = about(&now(&app)).last_day;
    assert!(start.available && start.left >= 250);

    next_sessions(&now(&app), FeedRequest { sessions: 1 }).unwrap();
    let report = next_sessions(&now(&app), FeedRequest { sessions: 62 }).unwrap();
    assert_eq!(report.state.left, start.left - 63);
    assert_eq!(about(&now(&app)).last_day, Some(report.to));
    let grown = figures(&app, None);
    assert_ne!(grown, before);
    // What was kept of an earlier day is what it would be if it were computed anew.
    assert_eq!(figures(&app, last), before);

    drop(app);
    let fresh = open(folder.path());
    assert_eq!(figures(&fresh, None), grown);
    assert_eq!(figures(&fresh, last), before);
    assert_eq!(feed_state(&now(&fresh)).unwrap(), report.state, "the feed goes on where it was");
    let refused = next_sessions(&now(&fresh), FeedRequest { sessions: 0 }).unwrap_err().to_string();
    assert_eq!(refused, "The simulated feed is not usable: between 1 and 63 sessions can be brought at once.");
}

/// A saved screen remembers for which session it was run: the next run says who came and went since, by the criteria that turned,
/// and that is what the two dates say by themselves.
#[test]
fn a_saved_screen_tells_what_changed_since_its_last_run() {
    let folder = tempfile::tempdir().unwrap();
    make_demo(folder.path(), Some(60), false).unwrap();
    let app = open(folder.path());
    let screen = json!({ "blocks": [{ "need": "all", "criteria": [{ "formula": "from_high_52w", "max": -0.12 }] }] });
    let file = json!({ "kind": "screen", "name": "Fallen", "body": screen });
    let kept = add_document(&now(&app), serde_json::from_value(file).unwrap()).unwrap();
    let first = run_saved_screen(&now(&app), &kept.id).unwrap();
    assert!(first.changes.is_none() && first.found_before.is_none() && first.found > 0);
    assert!(run_saved_screen(&now(&app), &kept.id).unwrap().changes.is_none(), "the same session is no earlier one");

    next_sessions(&now(&app), FeedRequest { sessions: 40 }).unwrap();
    drop(app);
    let app = open(folder.path());
    let second = run_saved_screen(&now(&app), &kept.id).unwrap();
    let changes = second.changes.unwrap();
    assert_eq!((second.found_before, changes.since), (i32::try_from(first.found).ok(), first.as_of));
    assert_eq!(changes.stayed + changes.entered.len(), second.found);
    assert_eq!(changes.stayed + changes.left.len(), first.found);
    assert!(changes.entered.len() + changes.left.len() > 0);
    let drop = |figure: &artemon_app::Figure| serde_json::to_value(figure).unwrap()["value"].as_f64();
    let fallen = |figure| drop(figure).is_some_and(|fall| fall <= -0.12);
    for (came, of) in [(true, &changes.entered), (false, &changes.left)] {
        for change in of.iter().filter(|c| !c.outside) {
            let [turned] = &change.turned[..] else { panic!("one criterion turned: {change:?}") };
            assert_eq!((fallen(&turned.then), fallen(&turned.now)), (!came, came), "{change:?}");
            assert_eq!(turned.bound, "at most −12\u{202f}%");
        }
    }
    assert!(run_saved_screen(&now(&app), "nobody").is_err());
}

/// A screen on the same day of each of the last ten years, where there were prices: found as a run of that day finds it, and what
/// came of it only where twelve months have passed.
#[test]
fn a_screen_is_run_on_the_same_day_of_other_years() {
    let folder = tempfile::tempdir().unwrap();
    make_demo(folder.path(), Some(60), false).unwrap();
    let app = open(folder.path());
    let mut document: Screen =
        serde_json::from_value(json!({ "blocks": [{ "need": "all", "criteria": [{ "formula": "pe", "max": 15 }] }] })).unwrap();
    let years = |screen: &Screen| -> Vec<YearAnswer> {
        let year = |years_before| screen_year(&now(&app), &YearRequest { screen: screen.clone(), years_before }).unwrap();
        (0..=10).map_while(year).collect()
    };
    let found = years(&document);
    assert_eq!(found.len(), 11);
    assert!(found[0].year_after.is_none() && found[0].all_year_after.is_none(), "the months after lie ahead");
    assert!(found[1..].iter().all(|y| y.all_year_after.is_some_and(|r| r.abs() < 1.0)));
    for year in &found {
        document.as_of = Some(year.as_of);
        assert_eq!(screen(&now(&app), &document).unwrap().survivors, year.found, "{}", year.as_of);
    }
    // From 2008 on there are no ten years before: days without data are left out.
    document.as_of = "2009-06-30".parse().ok();
    assert_eq!(years(&document).len(), 3);
}

/// Sessions of one month share the months before it; with the next month the last one is whole. Each day is what a fresh start says.
#[test]
fn day_by_day_figures_are_those_of_a_fresh_start() {
    let folder = tempfile::tempdir().unwrap();
    make_demo(folder.path(), Some(20), false).unwrap();
    let app = open(folder.path());
    figures(&app, None);
    let mut grown = Vec::new();
    // The first days of July, and on to the first of August.
    for _ in 0..24 {
        let to = next_sessions(&now(&app), FeedRequest { sessions: 1 }).unwrap().to;
        grown.push((to, figures(&app, None)));
    }
    drop(app);
    let fresh = open(folder.path());
    for (day, said) in grown {
        assert_eq!(figures(&fresh, Some(day)), said, "{day}");
    }
}
