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

const SHIPPED: [(&str, &str, &str); 13] = [
    (
        "steady-at-low",
        "Companies that earn more in most years and never lost money, while their shares are near the lowest price of a year.",
        include_str!("../../screens/steady-at-low.json"),
    ),
    (
        "cheap-own-history",
        "Low multiples for their own ten years, with margins that have not sunk: cheap by mood rather than by merit.",
        include_str!("../../screens/cheap-own-history.json"),
    ),
    (
        "large-cheap-growing",
        "Of the three hundred largest, those that cost little for what they earn and still grow: size buys time to be patient.",
        include_str!("../../screens/large-cheap-growing.json"),
    ),
    (
        "profitable-undervalued",
        "High returns and margins, little debt, and a price well below what they are worth by the valuation.",
        include_str!("../../screens/profitable-undervalued.json"),
    ),
    (
        "owners-buying",
        "Profitable companies in which several insiders put their own money at open-market prices.",
        include_str!("../../screens/owners-buying.json"),
    ),
    (
        "own-share-buyers",
        "Companies that spend what they earn on their own shares, so that each share left owns more, at a price at which that is worth while.",
        include_str!("../../screens/own-share-buyers.json"),
    ),
    (
        "safe-small",
        "Small companies with twice the current assets they owe, hardly any debt and no loss in five years: too small for large funds to look at.",
        include_str!("../../screens/safe-small.json"),
    ),
    (
        "net-current-assets",
        "The price is below current assets less all debts: the business itself costs nothing. Look for what burns the cash.",
        include_str!("../../screens/net-current-assets.json"),
    ),
    (
        "accelerating",
        "Growth of earnings or sales has risen quarter after quarter, and the price has begun to notice.",
        include_str!("../../screens/accelerating.json"),
    ),
    (
        "fallen-turning",
        "Far below the yearly high and oversold, but with a first sign that buyers are back: rising volume or a turn of the candles.",
        include_str!("../../screens/fallen-turning.json"),
    ),
    (
        "sound-at-support",
        "Sound companies in a rising year whose price has come back to a level at which it turned before.",
        include_str!("../../screens/sound-at-support.json"),
    ),
    (
        "covered-dividend",
        "A dividend that earnings cover, that has been paid for years and grows, from companies that could pay their debts.",
        include_str!("../../screens/covered-dividend.json"),
    ),
    (
        "quality-first",
        "High returns on capital, steady growth and earnings that become cash; look at the price afterwards.",
        include_str!("../../screens/quality-first.json"),
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
    use artemon_core::measures::compile;

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
