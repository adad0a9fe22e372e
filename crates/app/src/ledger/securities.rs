//! Securities by what people call them.

use crate::Ctx;
use artemon_core::{ledger::Security, panel::Snapshot};

/// A security by symbol, ISIN or id; as it is called where the dataset does not have it.
pub(super) fn security(ctx: &Ctx, text: &str) -> Security {
    listed(ctx.snapshot(), text).unwrap_or_else(|| Security::Other { what: text.trim().into() })
}

/// A security of the dataset by symbol, ISIN or id, or by one that stands in parentheses behind its name.
pub(super) fn listed(snapshot: &Snapshot, text: &str) -> Option<Security> {
    let within = || text.trim().strip_suffix(')')?.rsplit_once('(').map(|(_, key)| key);
    let found = snapshot.find(text.trim()).or_else(|| snapshot.find(within()?))?;
    Some(Security::Listed { company: snapshot.company(found).id.clone(), symbol: snapshot.symbol(found).into() })
}
