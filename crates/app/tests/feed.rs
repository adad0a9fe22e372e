//! The simulated feed: what comes in session by session makes the panel that loading the dataset anew makes.
#![allow(clippy::unwrap_used)]

use artemon_app::{
    Ctx, EvaluateRequest, FeedRequest, FeedSource, Home, Options, YearAnswer, YearRequest, about, add_document, choose_feed, evaluate,
    feed_state, make_demo, next_sessions, run_saved_screen, screen, screen_year, stand_in, take_incoming,
};
use artemon_core::{domain::Day, screening::Screen};
use serde_json::json;
use std::{path::Path, sync::Arc};

fn now(home: &Arc<Home>) -> Ctx {
    home.local_ctx().unwrap()
}

fn open(folder: &Path) -> Arc<Home> {
    Home::open(Options { folder: folder.to_owned(), ..Options::default() }).unwrap()
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
    assert_eq!(refused, "The feed is not usable: between 1 and 63 sessions can be brought at once.");
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

/// A server of one's own machine that hands out what is told.
fn provider(answers: Vec<(String, Vec<u8>)>) -> String {
    use std::io::{BufRead, BufReader, Write};
    let listener = std::net::TcpListener::bind("127.0.0.1:0").unwrap();
    let address = format!("http://{}", listener.local_addr().unwrap());
    std::thread::spawn(move || {
        for stream in listener.incoming() {
            let mut stream = stream.unwrap();
            let mut asked = String::new();
            let mut reader = BufReader::new(stream.try_clone().unwrap());
            reader.read_line(&mut asked).unwrap();
            let mut line = String::new();
            while reader.read_line(&mut line).unwrap() > 2 {
                line.clear();
            }
            let path = asked.split(' ').nth(1).unwrap();
            let found = answers.iter().find(|a| a.0 == path);
            let (status, body) = found.map_or(("404 Not Found", &b""[..]), |a| ("200 OK", &a.1));
            write!(stream, "HTTP/1.1 {status}\r\nContent-Length: {}\r\nConnection: close\r\n\r\n", body.len()).unwrap();
            stream.write_all(body).unwrap();
        }
    });
    address
}

/// The sessions of a provider over HTTP bring what the demo world's own bring, row by row.
#[test]
fn a_provider_on_this_machine_brings_the_same_sessions() {
    let (own, other) = (tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap());
    for folder in [&own, &other] {
        make_demo(folder.path(), Some(20), false).unwrap();
    }
    let sessions = stand_in(own.path(), None).unwrap();
    let days = sessions.days();
    let mut answers = vec![("/sessions".to_owned(), serde_json::to_vec(&days).unwrap())];
    answers.extend(days[..3].iter().map(|d| (format!("/sessions/{d}.zip"), sessions.package(*d).unwrap().unwrap())));
    let (own, other) = (open(own.path()), open(other.path()));
    let chosen = choose_feed(&now(&other), &FeedSource { address: Some(provider(answers)) }).unwrap();
    assert_eq!((chosen.next, chosen.left), (Some(days[0]), days.len()));
    let brought = |app: &Arc<Home>| next_sessions(&now(app), FeedRequest { sessions: 3 }).unwrap();
    assert_eq!((brought(&own).to, brought(&other).to), (days[2], days[2]));
    assert_eq!(figures(&other, None), figures(&own, None));
    // The fourth session is not there: nothing of it lands, and it is said.
    let refused = next_sessions(&now(&other), FeedRequest { sessions: 1 }).unwrap_err().to_string();
    assert!(refused.contains(&format!("/sessions/{}.zip", days[3])) && refused.contains("404"), "{refused}");
    assert_eq!(about(&now(&other)).last_day, Some(days[2]));
    let state = choose_feed(&now(&other), &FeedSource { address: None }).unwrap();
    assert_eq!((state.next, state.address), (Some(days[3]), None), "the demo world's own goes on where it is");
}

#[test]
fn a_feed_that_goes_backwards_or_is_elsewhere_is_refused() {
    let folder = tempfile::tempdir().unwrap();
    make_demo(folder.path(), Some(20), false).unwrap();
    let sessions = stand_in(folder.path(), None).unwrap();
    let days = sessions.days();
    // It calls the second session what is the first one's.
    let answers = vec![
        ("/sessions".to_owned(), serde_json::to_vec(&days[1..2]).unwrap()),
        (format!("/sessions/{}.zip", days[1]), sessions.package(days[0]).unwrap().unwrap()),
    ];
    let app = open(folder.path());
    next_sessions(&now(&app), FeedRequest { sessions: 1 }).unwrap();
    let before = figures(&app, None);
    choose_feed(&now(&app), &FeedSource { address: Some(provider(answers)) }).unwrap();
    let refused = next_sessions(&now(&app), FeedRequest { sessions: 1 }).unwrap_err().to_string();
    assert!(refused.contains("goes backwards") && refused.contains(&format!("{} is over", days[0])), "{refused}");
    assert_eq!(figures(&app, None), before);
    for elsewhere in ["http://192.0.2.7:80", "https://127.0.0.1:1", "file:///etc/passwd", "nonsense"] {
        let refused = choose_feed(&now(&app), &FeedSource { address: Some(elsewhere.to_owned()) }).unwrap_err().to_string();
        assert!(refused.contains("not an address of this machine"), "{refused}");
    }
}

/// What a script puts into the folder is taken once it is whole; what cannot be taken lies aside with its report.
#[test]
fn packages_in_the_folder_are_taken_once_they_are_whole() {
    let folder = tempfile::tempdir().unwrap();
    make_demo(folder.path(), Some(20), false).unwrap();
    let sessions = stand_in(folder.path(), None).unwrap();
    let days = sessions.days();
    let app = open(folder.path());
    assert_eq!(take_incoming(&app).unwrap(), 0, "there is no folder");
    let incoming = folder.path().join("incoming");
    std::fs::create_dir(&incoming).unwrap();
    let put = |name: &str, bytes: &[u8]| std::fs::write(incoming.join(name), bytes).unwrap();
    let whole = sessions.package(days[0]).unwrap().unwrap();
    put("1.zip.part", &whole[..whole.len() / 2]);
    put("2.zip.lock", b"");
    put("2.zip", &whole[..whole.len() / 3]);
    put("3.zip", b"this is no package");
    put("prices.csv", b"symbol,date,open,high,low,close,volume\nNOSUCH,2026-07-01,1,1,1,1,1\n");
    assert_eq!(take_incoming(&app).unwrap(), 0);
    let report = |name: &str| std::fs::read_to_string(incoming.join("refused").join(format!("{name}.report.txt"))).unwrap();
    assert!(report("3.zip").len() > 20 && report("prices.csv").contains("NOSUCH"), "{}", report("prices.csv"));
    assert!(incoming.join("1.zip.part").exists() && incoming.join("2.zip").exists(), "half-written ones are left alone");
    put("2.zip", &whole);
    std::fs::remove_file(incoming.join("2.zip.lock")).unwrap();
    assert_eq!(take_incoming(&app).unwrap(), 1);
    assert!(incoming.join("taken/2.zip").exists());
    assert_eq!(about(&now(&app)).last_day, Some(days[0]));
    assert_eq!(take_incoming(&app).unwrap(), 0);
}
