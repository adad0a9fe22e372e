//! The screen that a backtest is of.

use crate::{
    AppError, Ctx,
    documents::{self, DocumentKind},
    screens::ready_screen,
};
use artemon_core::{
    backtest::{Backtest, ScreenRef},
    screening::Screen,
};

/// The same settings with the screen itself, for whoever does not have it.
pub(crate) fn resolved(ctx: &Ctx, settings: Backtest) -> Result<Backtest, AppError> {
    let screen = screen_of(ctx, &settings.screen)?;
    Ok(Backtest { screen: ScreenRef::Document(Box::new(screen)), ..settings })
}

/// Its document, or a kept or ready-made one of that name.
pub(super) fn screen_of(ctx: &Ctx, of: &ScreenRef) -> Result<Screen, AppError> {
    let name = match of {
        ScreenRef::Document(screen) => return Ok((**screen).clone()),
        ScreenRef::Name(name) => name,
    };
    let own = documents::documents(ctx, DocumentKind::Screen, false)?.into_iter().find(|d| d.name == *name || d.id == *name);
    if let Some(own) = own {
        let screen = documents::screen_of(&documents::document(ctx, &own.id, None)?)?;
        return Ok(Screen { name: own.name, ..screen });
    }
    ready_screen(name).ok_or_else(|| AppError::Missing { what: format!("A screen of the name \"{name}\"") })
}
