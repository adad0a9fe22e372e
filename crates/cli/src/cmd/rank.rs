//! `rank`: buy candidates in order.

use super::screen::load;
use crate::{
    args::{RankArgs, Shared},
    output::{figure, print},
};
use anyhow::Context;
use artemon_app::{RankRequest, candidates_xlsx, rank, set_named};
use artemon_core::{ranking::Weights, screening::ScreenUniverse};

const HEADERS: &[&str] = &[
    "place",
    "symbol",
    "name",
    "verdict",
    "score",
    "quality",
    "red_flags",
    "currency",
    "price",
    "intrinsic_value",
    "margin_of_safety",
    "buy_below",
    "expected_return",
];

pub(crate) fn run(shared: &Shared, args: &RankArgs) -> anyhow::Result<()> {
    let ctx = shared.open()?;
    let request = RankRequest {
        universe: ScreenUniverse {
            symbols: args.symbols.clone(),
            index: args.index.clone(),
            list: args.list.clone(),
            ..ScreenUniverse::default()
        },
        assumptions: args.assumptions.as_deref().map(|name| set_named(&ctx, name)).transpose()?,
        screen: args.screen.as_deref().map(load).transpose()?,
        margin: args.margin,
        least_quality: args.quality,
        weights: Weights::default(),
        as_of: args.as_of,
        rows: Some(usize::MAX),
        ..RankRequest::default()
    };
    let answer = rank(&ctx, &request)?;
    if let Some(file) = &args.xlsx {
        std::fs::write(file, candidates_xlsx(&ctx, &request)?).with_context(|| format!("{} cannot be written", file.display()))?;
    }
    let show = |f: &artemon_app::Figure| figure(shared.format, f);
    let row = |r: &artemon_app::CandidateRow| {
        vec![
            r.place.to_string(),
            r.symbol.clone(),
            r.name.clone(),
            r.verdict.to_string(),
            r.score.map(|s| format!("{s:.1}")).unwrap_or_default(),
            show(&r.quality),
            r.red_flags.to_string(),
            r.currency.clone(),
            show(&r.price),
            show(&r.intrinsic_value),
            show(&r.margin_of_safety),
            show(&r.buy_below),
            show(&r.expected_return),
        ]
    };
    let rows: Vec<_> = answer.rows.iter().map(row).collect();
    print(shared.format, &answer, HEADERS, &rows)
}
