//! What is open.

use super::Answer;
use crate::caller::Caller;
use artemon_app::{About, about as what_is_open};

/// The open dataset: name, days, base currency, assumption set.
#[utoipa::path(get, path = "/api/about", tag = "about", responses((status = 200, body = About)))]
pub(crate) async fn about(caller: Caller) -> Answer<About> {
    caller.run(|ctx| Ok(what_is_open(ctx))).await
}
