//! The figures of `docs/performance.md`: 10,000 companies × 20 years.

use artemon_core::{
    domain::Day,
    engine::{Context, Engine, Section, Settings},
    formula::{Column, Compiled},
    measures::compile,
    panel::{PanelBuilder, Snapshot},
    ranking,
    screening::{self, Screen},
    valuation,
};
use artemon_demo::World;
use divan::Bencher;
use std::sync::OnceLock;

/// The one of the program.
#[global_allocator]
static MEMORY: mimalloc::MiMalloc = mimalloc::MiMalloc;

fn main() {
    divan::main();
}

fn size() -> usize {
    std::env::var("COMPANIES").ok().and_then(|n| n.parse().ok()).unwrap_or(10_000)
}

fn context() -> &'static Context {
    static CONTEXT: OnceLock<Context> = OnceLock::new();
    CONTEXT.get_or_init(|| Engine::new(fresh()).context(settings().into()))
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

fn settings() -> Settings {
    Settings::standard(World::base_currency())
}

fn last() -> Day {
    World::last_day()
}

/// Twelve criteria, two of them ranks in the own history.
fn screen(most: f64) -> Screen {
    let criteria = format!(
        r#"[{{"formula": "own_rank(pe, 10y)", "max": {most}}}, {{"formula": "own_rank(operating_margin, 10y)", "min": 30}},
        {{"formula": "eps_growth(5)", "min": 0.03}}, {{"formula": "net_margin", "min": 0.05}}, {{"formula": "debt_to_equity", "max": 1}},
        {{"formula": "current_ratio", "min": 1.2}}, {{"formula": "insider_net_buying_ratio(12)", "min": 0}}, {{"formula": "from_low_52w", "max": 0.5}},
        {{"formula": "roe", "min": 0.05}}, {{"formula": "interest_cover", "min": 3}}, {{"formula": "fcf_yield", "min": 0.01}},
        {{"formula": "eps_positive_years(5)", "min": 4}}]"#
    );
    let text =
        format!(r#"{{"blocks": [{{"need": "all", "criteria": {criteria}}}], "columns": ["pe", "roe"], "sort": [{{"formula": "pe"}}]}}"#);
    serde_json::from_str(&text).unwrap_or_default()
}

/// A screen run again after one bound has changed.
#[divan::bench(sample_count = 30)]
fn screen_after_a_bound_changed(bencher: Bencher<'_, '_>) {
    let run = |most| screening::run(&screen(most), &Section::new(context(), last()), 20).map(|r| r.survivors);
    run(25.0).ok();
    let mut most = 25.0;
    bencher.bench_local(|| {
        most = if most > 60.0 { 25.0 } else { most + 1.0 };
        run(most)
    });
}

/// The survivors alone, without histograms and near misses.
#[divan::bench(sample_count = 30)]
fn survivors_after_a_bound_changed(bencher: Bencher<'_, '_>) {
    let run = |most| screening::survivors(&screen(most), &Section::new(context(), last())).map(|all| all.len());
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
    let t = last().plus_days(-400);
    bencher.bench_local(|| screening::run(&screen(25.0), &Section::new(context(), t), 20).map(|r| r.survivors));
}

/// The same screen as of another date, the own histories being there.
#[divan::bench(sample_count = 5, sample_size = 1)]
fn first_screen_of_a_new_date(bencher: Bencher<'_, '_>) {
    let mut days = 0;
    bencher.bench_local(|| {
        days += 30;
        screening::run(&screen(25.0), &Section::new(context(), last().plus_days(-days)), 20).map(|r| r.survivors)
    });
}

/// Valuation of all companies at a date: inputs, every model under every scenario, one value.
#[divan::bench(sample_count = 5, sample_size = 1)]
fn value_all_companies(bencher: Bencher<'_, '_>) {
    divan::black_box(context().valuations(last()));
    let mut days = 0;
    bencher.bench_local(|| {
        days += 1;
        context().valuations(last().plus_days(-days)).len()
    });
}

/// The same at dates so far from one another that most companies have filed in between.
#[divan::bench(sample_count = 5, sample_size = 1)]
fn value_all_companies_quarters_before(bencher: Bencher<'_, '_>) {
    divan::black_box(context().valuations(last()));
    let mut days = 0;
    bencher.bench_local(|| {
        days += 95;
        context().valuations(last().plus_days(-days)).len()
    });
}

/// The same after the required return was moved: what it starts from is kept.
#[divan::bench(sample_count = 20, sample_size = 1)]
fn value_all_companies_at_another_return(bencher: Bencher<'_, '_>) {
    divan::black_box(context().valuations(last()));
    let mut r = 0.09;
    bencher.bench_local(|| {
        r += 0.001;
        let mut settings = settings();
        settings.assumptions.required_return = valuation::RequiredReturn::Fixed(r);
        context().with(settings).valuations(last()).len()
    });
}

/// The whole ranking of candidates after the margin was moved.
#[divan::bench(sample_count = 20, sample_size = 1)]
fn ranking_at_another_margin(bencher: Bencher<'_, '_>) {
    let companies: Vec<u32> = context().as_of(last()).universe().iter().map(|c| c.index).collect();
    let ranked = |settings: Settings| ranking::rank(&context().with(settings), last(), &companies, ranking::Weights::default()).len();
    ranked(settings());
    let mut margin = 0.1;
    bencher.bench_local(|| {
        margin += 0.01;
        let mut settings = settings();
        settings.assumptions.margin = margin;
        ranked(settings)
    });
}

/// Ten thousand draws of what cannot be known, for one company.
#[divan::bench(sample_count = 20)]
fn draws_of_one_company(bencher: Bencher<'_, '_>) {
    let view = context().view(last());
    let valued = view.as_of.universe().into_iter().map(|c| (c, context().value_company(last(), c.index)));
    let Some((c, v)) = { valued }.find(|(c, v)| valuation::draws(view, c, &v.inputs, &v.assumptions).is_ok()) else { return };
    bencher.bench_local(|| valuation::draws(view, &c, &v.inputs, &v.assumptions).map(|d| d.percentiles[2]));
}

/// The value of one company at each month end of twenty years, from what was known then.
#[divan::bench(sample_count = 20)]
fn value_of_one_company_over_twenty_years(bencher: Bencher<'_, '_>) {
    let mut companies = context().as_of(last()).universe().into_iter().filter(|c| c.month_ends().len() > 200).map(|c| c.index).cycle();
    let since = last().plus_months(-240);
    bencher.bench_local(|| companies.next().map(|c| context().value_series(last(), c, since).len()));
}

const MULTIPLES: [&str; 12] =
    ["pe", "pe_adjusted", "pb", "ptb", "ps", "pfcf", "ev_ebit", "ev_ebitda", "ev_sales", "ev_fcf", "earnings_yield", "fcf_yield"];

fn own_ranks() -> Vec<Compiled> {
    MULTIPLES.iter().filter_map(|m| compile(&format!("own_rank({m}, 10y)")).ok()).collect()
}

/// The place of twelve multiples in their own ten years for everyone, from the raw panel.
#[divan::bench(sample_count = 3, sample_size = 1)]
fn own_ranks_of_twelve_multiples_at_first(bencher: Bencher<'_, '_>) {
    let mut assumed = 0.2;
    bencher.bench_local(|| {
        // Under other assumptions no history is kept.
        assumed += 0.001;
        let mut settings = settings();
        settings.assumptions.tax_rate = assumed;
        let context = context().with(settings);
        let (rows, ranks) = (context.as_of(last()).universe(), own_ranks());
        context.evaluate_all(&ranks.iter().collect::<Vec<_>>(), &rows).iter().map(Column::len).sum::<usize>()
    });
}

/// The same when the histories are kept and the columns are those of the section.
#[divan::bench(sample_count = 10)]
fn own_ranks_of_twelve_multiples_again(bencher: Bencher<'_, '_>) {
    let (section, ranks) = (Section::new(context(), last()), own_ranks());
    ranks.iter().for_each(|f| drop(section.column(f)));
    bencher.bench_local(|| ranks.iter().map(|f| section.column(f).len()).sum::<usize>());
}

/// One figure opened down to its filings.
#[divan::bench(sample_count = 20)]
fn a_figure_opened(bencher: Bencher<'_, '_>) {
    let company = context().as_of(last()).universe()[7];
    let formulas: Vec<Compiled> = ["pe", "roic", "piotroski_f", "own_rank(ev_ebit, 10y)"].iter().filter_map(|f| compile(f).ok()).collect();
    let mut next = formulas.iter().cycle();
    bencher.bench_local(|| next.next().map(|f| context().explain(f, &company).inputs.len()));
}

/// Everything of the catalogue at one date, valuations and their histories being there; EACH=1 prints what each measure
/// takes alone.
#[divan::bench(sample_count = 1, sample_size = 1)]
fn every_measure_of_the_catalogue(bencher: Bencher<'_, '_>) {
    let rows = context().as_of(last()).universe();
    let all: Vec<Compiled> = artemon_core::measures::all().filter_map(|m| compile(&m.example()).ok()).collect();
    divan::black_box(context().valuations(last()));
    if std::env::var_os("EACH").is_some() {
        for f in &all {
            let started = std::time::Instant::now();
            divan::black_box(context().evaluate(f, &rows));
            println!("{:>8.1} ms {}", started.elapsed().as_secs_f64() * 1e3, f.text);
        }
    }
    let all: Vec<&Compiled> = all.iter().collect();
    bencher.bench_local(|| context().evaluate_all(&all, &rows).len());
}
