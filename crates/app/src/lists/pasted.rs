//! Companies from what somebody pastes or drops: symbols, ISINs and names in any mixture, or a table.

use super::body::MemberOwn;
use crate::{
    AppError, Ctx,
    companies::{
        CompanyHit,
        search::{hit, names},
    },
};
use artemon_core::{domain::Day, panel::CompanyIndex};
use serde::Serialize;
use std::collections::HashSet;
use utoipa::ToSchema;

/// Bytes that are read at most, and companies that are looked for.
const MOST_BYTES: usize = 1_000_000;
const MOST_COMPANIES: usize = 5_000;
/// Companies offered for a text that may mean several, or none.
const OFFERED: usize = 4;

/// What a text names.
#[derive(Clone, Debug, Default, Serialize, ToSchema)]
pub struct Pasted {
    /// Those that it names, each once, in its order.
    pub matched: Vec<PastedCompany>,
    /// What may mean several companies.
    pub ambiguous: Vec<UnclearText>,
    /// What means none; with the nearest, where any is near.
    pub unknown: Vec<UnclearText>,
    /// Companies that were named more than once.
    pub repeated: usize,
}

/// A company that a text names.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct PastedCompany {
    /// As it was written.
    pub text: String,
    pub company: CompanyHit,
    /// What the table said of it.
    pub own: MemberOwn,
}

/// A text that names no company or several.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct UnclearText {
    pub text: String,
    /// What may be meant.
    pub offered: Vec<CompanyHit>,
}

/// The companies that a pasted text or a dropped table names. A table has a heading with a column called symbol, ticker, isin or name;
/// columns called note and price_to_pay are taken with it.
///
/// # Errors
/// A text that is too long.
pub fn match_pasted(ctx: &Ctx, text: &str) -> Result<Pasted, AppError> {
    let refused = |problem: &str| Err(AppError::Unusable { what: "The text".to_owned(), problem: problem.to_owned() });
    if text.len() > MOST_BYTES {
        return refused("it has more than a million characters; bring it in parts");
    }
    let rows = table(text).unwrap_or_else(|| plain(ctx, text));
    if rows.len() > MOST_COMPANIES {
        return refused("it has more than 5,000 entries; bring it in parts");
    }
    let mut pasted = Pasted::default();
    let mut seen = HashSet::new();
    for (text, own) in rows {
        let found = meant(ctx, &text);
        let hits = |of: &[CompanyIndex]| of.iter().take(OFFERED).map(|i| hit(&ctx.engine.as_of(Day::MAX).company(*i))).collect::<Vec<_>>();
        match &found[..] {
            [one] if seen.insert(*one) => {
                pasted.matched.extend(hits(&[*one]).into_iter().map(|company| PastedCompany {
                    text: text.clone(),
                    company,
                    own: own.clone(),
                }));
            }
            [_] => pasted.repeated += 1,
            [] => pasted.unknown.push(UnclearText { offered: hits(&near(ctx, &text)), text }),
            several => pasted.ambiguous.push(UnclearText { offered: hits(several), text }),
        }
    }
    Ok(pasted)
}

/// The companies that a text means: that of a symbol, ISIN or id; else those of a symbol of another or earlier listing; else those of
/// a name.
fn meant(ctx: &Ctx, text: &str) -> Vec<CompanyIndex> {
    ctx.snapshot().find(text).map_or_else(|| names(ctx).exactly(text), |i| vec![i])
}

fn near(ctx: &Ctx, text: &str) -> Vec<CompanyIndex> {
    names(ctx).find(text, OFFERED, |_| ())
}

/// Lines that are a name whole; others in pieces.
fn plain(ctx: &Ctx, text: &str) -> Vec<(String, MemberOwn)> {
    let mut all = Vec::new();
    for line in text.lines().map(str::trim).filter(|l| !l.is_empty()) {
        if !meant(ctx, line).is_empty() {
            all.push(line.to_owned());
            continue;
        }
        // Parted by commas, semicolons or tabs, a piece may be a name of several words; parted by blanks alone it may not.
        let parted: Vec<&str> = line.split([',', ';', '\t']).map(|p| p.trim().trim_matches('"')).filter(|p| !p.is_empty()).collect();
        for piece in parted {
            let words: Vec<&str> = piece.split_whitespace().collect();
            let codes = words.len() > 1
                && meant(ctx, piece).is_empty()
                && words.iter().filter(|w| !meant(ctx, w).is_empty()).count() * 2 >= words.len();
            let pieces = if codes { words } else { vec![piece] };
            all.extend(pieces.into_iter().map(str::to_owned));
        }
    }
    all.into_iter().map(|text| (text, MemberOwn::default())).collect()
}

/// What the columns of a table are called.
const SYMBOLS: [&str; 8] = ["symbol", "ticker", "code", "isin", "id", "company_id", "company", "name"];

/// The rows of a table with a heading; none when the text has none.
fn table(text: &str) -> Option<Vec<(String, MemberOwn)>> {
    let first = text.trim_start_matches('\u{feff}').lines().next()?;
    let by = [b'\t', b';', b','].into_iter().max_by_key(|by| first.bytes().filter(|b| b == by).count())?;
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(by)
        .flexible(true)
        .trim(csv::Trim::All)
        .from_reader(text.trim_start_matches('\u{feff}').as_bytes());
    let heads: Vec<String> = reader.headers().ok()?.iter().map(|h| h.to_lowercase().replace(' ', "_")).collect();
    let keys: Vec<usize> = SYMBOLS.iter().filter_map(|s| heads.iter().position(|h| h == s)).collect();
    let at = |names: &[&str]| names.iter().find_map(|n| heads.iter().position(|h| h == n));
    let (note, price) = (at(&["note"]), at(&["price_to_pay"]));
    if keys.is_empty() {
        return None;
    }
    let row = |r: csv::StringRecord| {
        let cell = |i: Option<usize>| i.and_then(|i| r.get(i)).unwrap_or_default().to_owned();
        let key = keys.iter().map(|k| cell(Some(*k))).find(|k| !k.is_empty())?;
        let own =
            MemberOwn { note: cell(note), price: cell(price).replace(',', ".").parse().ok().filter(|p: &f64| p.is_finite() && *p > 0.0) };
        Some((key, own))
    };
    Some(reader.records().filter_map(Result::ok).filter_map(row).collect())
}
