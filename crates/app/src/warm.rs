//! What is asked for first after a start, made ready in the background.

use crate::{
    Ctx, Home,
    alerts::data_changed,
    companies::search::names,
    screens::{RowsRequest, ready_screens, screen, screen_rows},
    today::{TodayRequest, today},
};
use artemon_core::engine::Cancel;
use std::sync::Arc;

/// Makes ready the values and doubts of the newest date, the index of names, and the screen that opens first. Whoever asks
/// for one of these meanwhile waits for it and not for all.
pub fn warm_up(home: &Arc<Home>) {
    let Ok(ctx) = home.local_ctx() else { return };
    let Ok(t) = ctx.date(None) else { return };
    drop(ctx.engine.valuations(t));
    warm_today(home);
    // What a session says that came just before the last stop.
    data_changed(home);
    first_screen(&ctx);
    names(&ctx);
    ctx.dataset.findings();
    ctx.dataset.coverage();
    ctx.dataset.fingerprint();
}

/// Makes ready what everybody looks at when other data has come.
pub fn warm_today(home: &Arc<Home>) {
    for person in home.people.persons().unwrap_or_default() {
        if let Ok(ctx) = home.ctx(&person, Cancel::default()) {
            // A page that fails here fails again for whoever asks, and tells why.
            today(&ctx, &TodayRequest::default()).ok();
        }
    }
}

fn first_screen(ctx: &Ctx) {
    if let Some(ready) = ready_screens().into_iter().next() {
        // A screen that fails here fails again for whoever asks, and tells why.
        screen(ctx, &ready.screen).ok();
        screen_rows(ctx, &RowsRequest { list: ready.screen.into(), offset: 0, rows: 1, news: false }).ok();
    }
}
