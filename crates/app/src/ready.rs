//! The screens that ship with the product, as documents of the form that users save.

use artemon_core::screening::Screen;
use serde::Serialize;
use utoipa::ToSchema;

/// A screen that ships with the product.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct ReadyScreen {
    /// Its name in addresses and on the command line.
    pub id: &'static str,
    /// The reasoning, in a sentence or two.
    pub reasoning: &'static str,
    /// The document.
    pub screen: Screen,
}

const SHIPPED: [(&str, &str, &str); 3] = [
    (
        "steady-at-low",
        "Companies that earn more in most years and never lost money, while their shares are near the lowest price of a year.",
        include_str!("../screens/steady-at-low.json"),
    ),
    (
        "cheap-own-history",
        "A low multiple against the own ten years, with margins that have not sunk: cheap by mood rather than by merit.",
        include_str!("../screens/cheap-own-history.json"),
    ),
    (
        "owners-buying",
        "Profitable companies in which several insiders put their own money at open-market prices.",
        include_str!("../screens/owners-buying.json"),
    ),
];

/// The shipped screens.
#[must_use]
pub fn ready_screens() -> Vec<ReadyScreen> {
    let parse = |(id, reasoning, text): (&'static str, &'static str, &str)| {
        serde_json::from_str(text).ok().map(|screen| ReadyScreen { id, reasoning, screen })
    };
    SHIPPED.into_iter().filter_map(parse).collect()
}

/// The shipped screen of an id or name.
#[must_use]
pub fn ready_screen(name: &str) -> Option<Screen> {
    ready_screens().into_iter().find(|s| s.id == name || s.screen.name == name).map(|s| s.screen)
}

#[cfg(test)]
mod tests {
    use super::*;
    use artemon_core::formula::compile;

    #[test]
    fn every_shipped_screen_is_sound() {
        let screens = ready_screens();
        assert_eq!(screens.len(), SHIPPED.len());
        for s in screens {
            let criteria = s.screen.blocks.iter().flat_map(|b| &b.criteria).map(|c| &c.formula);
            for formula in criteria.chain(&s.screen.columns) {
                compile(formula).unwrap_or_else(|e| panic!("{}: {formula}: {e}", s.id));
            }
        }
    }
}
