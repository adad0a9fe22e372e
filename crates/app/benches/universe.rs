//! The figures of `docs/performance.md`: 10,000 companies × 20 years.

use artemon_core::{
    domain::Day,
    formula::{Compiled, compile, evaluate},
    panel::{AsOf, PanelBuilder, Settings, Snapshot},
    screening::{self, KeptSection, Screen, Section},
    valuation,
};
use artemon_demo::World;
use divan::Bencher;
use std::sync::{Arc, OnceLock};

fn main() {
    divan::main();
}

fn size() -> usize {
    std::env::var("COMPANIES").ok().and_then(|n| n.parse().ok()).unwrap_or(10_000)
}

fn snapshot() -> &'static Snapshot {
    static SNAPSHOT: OnceLock<Snapshot> = OnceLock::new();
    SNAPSHOT.get_or_init(fresh)
}

fn fresh() -> Snapshot {
    let mut builder = PanelBuilder::default();
    let put = |r| {
        builder.push(r);
        Ok::<(), ()>(())
    };
    World { companies: size(), seed: 1 }.make(put).ok();
    builder.build()
}

fn settings() -> &'static Settings {
    static SETTINGS: OnceLock<Settings> = OnceLock::new();
    SETTINGS.get_or_init(|| Settings::standard(World::base_currency()))
}

fn view(t: Day) -> AsOf<'static> {
    AsOf { snapshot: snapshot(), settings: settings(), t }
}

/// Eight criteria, two of them ranks in the own history.
fn screen(most: f64) -> Screen {
    let criteria = format!(
        r#"[{{"formula": "own_rank(pe, 10y)", "max": {most}}}, {{"formula": "own_rank(operating_margin, 10y)", "min": 30}},
        {{"formula": "eps_growth(5)", "min": 0.03}}, {{"formula": "net_margin", "min": 0.05}}, {{"formula": "debt_to_equity", "max": 1}},
        {{"formula": "current_ratio", "min": 1.2}}, {{"formula": "insider_net_buying_ratio(12)", "min": 0}}, {{"formula": "from_low_52w", "max": 0.5}}]"#
    );
    let text =
        format!(r#"{{"blocks": [{{"need": "all", "criteria": {criteria}}}], "columns": ["pe", "roe"], "sort": [{{"formula": "pe"}}]}}"#);
    serde_json::from_str(&text).unwrap_or_default()
}

/// A screen run again after one bound has changed.
#[divan::bench(sample_count = 30)]
fn screen_after_a_bound_changed(bencher: Bencher<'_, '_>) {
    let view = view(World::last_day());
    let kept = Arc::new(KeptSection::new(view));
    let run = |most| screening::run(&screen(most), &Section::of(view, kept.clone())).map(|r| r.survivors.len());
    run(25.0).ok();
    let mut most = 25.0;
    bencher.bench_local(|| {
        most = if most > 60.0 { 25.0 } else { most + 1.0 };
        run(most)
    });
}

/// The same screen as of a date asked for first, on a snapshot that has computed nothing yet.
#[divan::bench(sample_count = 1, sample_size = 1)]
fn first_screen_of_a_fresh_snapshot(bencher: Bencher<'_, '_>) {
    let view = view(World::last_day().plus_days(-400));
    bencher.bench_local(|| screening::run(&screen(25.0), &Section::new(view)).map(|r| r.survivors.len()));
}

/// The same screen as of another date, the own histories being there.
#[divan::bench(sample_count = 5, sample_size = 1)]
fn first_screen_of_a_new_date(bencher: Bencher<'_, '_>) {
    let mut days = 0;
    bencher.bench_local(|| {
        days += 30;
        let view = view(World::last_day().plus_days(-days));
        screening::run(&screen(25.0), &Section::new(view)).map(|r| r.survivors.len())
    });
}

/// Valuation of all companies at a date: inputs, every model under every scenario, one value.
#[divan::bench(sample_count = 5, sample_size = 1)]
fn value_all_companies(bencher: Bencher<'_, '_>) {
    divan::black_box(valuation::value_all(view(World::last_day())));
    let mut days = 0;
    bencher.bench_local(|| {
        days += 1;
        valuation::value_all(view(World::last_day().plus_days(-days))).len()
    });
}

/// Everything of the catalogue at one date.
#[divan::bench(sample_count = 1, sample_size = 1)]
fn every_measure_of_the_catalogue(bencher: Bencher<'_, '_>) {
    let rows = view(World::last_day()).universe();
    let all: Vec<Compiled> = artemon_core::measures::all().filter_map(|m| compile(&m.example()).ok()).collect();
    bencher.bench_local(|| all.iter().map(|f| evaluate(f, &rows).len()).sum::<usize>());
}
