//! The simulated feed: what comes in session by session makes the panel that loading the dataset anew makes.
#![allow(clippy::unwrap_used)]

use artemon_app::{Ctx, EvaluateRequest, FeedRequest, Home, Options, about, evaluate, feed_state, make_demo, next_sessions};
use std::{path::Path, sync::Arc};

fn now(home: &Arc<Home>) -> Ctx {
    home.local_ctx().unwrap()
}

fn open(folder: &Path) -> Arc<Home> {
    Home::open(Options { folder: folder.to_owned(), base: None }).unwrap()
}

/// Figures of all companies, as text.
fn figures(app: &Arc<Home>) -> String {
    let formulas =
        ["price", "pe", "own_rank(pb, 10y)", "insider_net_buying(12)", "target_upside", "beta", "intrinsic_value", "chief_tenure"];
    let request = EvaluateRequest { formulas: formulas.map(str::to_owned).to_vec(), symbols: Vec::new(), as_of: None };
    serde_json::to_string(&evaluate(&now(app), &request).unwrap()).unwrap()
}

#[test]
fn a_quarter_of_the_feed_is_what_a_fresh_start_loads() {
    let folder = tempfile::tempdir().unwrap();
    make_demo(folder.path(), Some(60), false).unwrap();
    let app = open(folder.path());
    let (before, start) = (figures(&app), feed_state(&now(&app)).unwrap());
    assert!(start.available && start.left >= 250);

    next_sessions(&now(&app), FeedRequest { sessions: 1 }).unwrap();
    let report = next_sessions(&now(&app), FeedRequest { sessions: 62 }).unwrap();
    assert_eq!(report.state.left, start.left - 63);
    assert_eq!(about(&now(&app)).last_day, Some(report.to));
    let grown = figures(&app);
    assert_ne!(grown, before);

    drop(app);
    let fresh = open(folder.path());
    assert_eq!(figures(&fresh), grown);
    assert_eq!(feed_state(&now(&fresh)).unwrap(), report.state, "the feed goes on where it was");
    let refused = next_sessions(&now(&fresh), FeedRequest { sessions: 0 }).unwrap_err().to_string();
    assert_eq!(refused, "The simulated feed is not usable: between 1 and 63 sessions can be brought at once.");
}
