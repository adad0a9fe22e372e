//! Bytes to a statement: OFX by its own words, CSV by a mapping.

use crate::{AppError, Ctx};
use artemon_formats::{
    csv_statement::{self, StatementHead, StatementMapping},
    ofx,
    statement::{Statement, StatementError},
};
use serde::Serialize;
use utoipa::ToSchema;

/// Rows of a file that are shown with its headers.
const SHOWN: usize = 5;

/// The headers of a CSV file, and how they are understood.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct StatementMappingAnswer {
    pub headers: Vec<String>,
    /// The first rows as they stand in the file.
    pub first: Vec<Vec<String>>,
    pub mapping: StatementMapping,
    /// It was remembered from a file with the same headers.
    pub remembered: bool,
}

/// A statement; of a CSV file also its head and the mapping that was used.
pub(super) fn statement(
    ctx: &Ctx,
    bytes: &[u8],
    asked: Option<&StatementMapping>,
) -> Result<(Statement, Option<(StatementHead, StatementMappingAnswer)>), AppError> {
    let unusable = |e: &StatementError| AppError::Unusable {
        what: "The statement".to_owned(),
        problem: e.to_string().trim_end_matches('.').to_owned(),
    };
    if ofx::is_ofx(bytes) {
        let mut all = ofx::read(bytes).map_err(|e| unusable(&e))?;
        if all.len() > 1 {
            let accounts: Vec<&str> = all.iter().map(|s| s.account.as_str()).collect();
            let problem = format!("it is of {} accounts ({}); bring one account at a time", all.len(), accounts.join(", "));
            return Err(AppError::Unusable { what: "The statement".to_owned(), problem });
        }
        return Ok((all.remove(0), None));
    }
    let head = StatementHead::of(bytes).map_err(|e| unusable(&e))?;
    let kept = ctx.home.people.mapping(&ctx.person, &head.signature())?;
    let kept: Option<StatementMapping> = kept.and_then(|text| serde_json::from_str(&text).ok());
    let remembered = asked.is_none() && kept.is_some();
    let mut mapping = asked.cloned().or(kept).unwrap_or_else(|| csv_statement::guess(&head));
    // Words that the remembered file did not have.
    let new = csv_statement::guess(&head).words.into_iter().filter(|w| mapping.meant(&w.word).is_none()).collect::<Vec<_>>();
    mapping.words.extend(new);
    let statement = match csv_statement::read(&head, &mapping) {
        Ok(statement) => statement,
        // The mapping is shown all the same, so that it can be mended.
        Err(e) if asked.is_none() => Statement {
            left_out: vec![artemon_formats::statement::LeftOut { id: String::new(), what: "The file".to_owned(), why: e.to_string() }],
            ..Statement::default()
        },
        Err(e) => return Err(unusable(&e)),
    };
    let first = head.rows.iter().take(SHOWN).map(|r| r.1.clone()).collect();
    let answer = StatementMappingAnswer { headers: head.headers.clone(), first, mapping, remembered };
    Ok((statement, Some((head, answer))))
}

/// Keeps a mapping for files with the same headers.
pub(super) fn remember(ctx: &Ctx, head: &StatementHead, mapping: &StatementMapping) -> Result<(), AppError> {
    let text = serde_json::to_string(mapping).unwrap_or_default();
    Ok(ctx.home.people.remember_mapping(&ctx.person, &head.signature(), &text)?)
}
