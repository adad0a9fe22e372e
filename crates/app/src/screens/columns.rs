//! The sets of columns that ship with the product; a person's own are documents of the kind `column_set`.

use serde::Serialize;
use utoipa::ToSchema;

/// Columns that go together.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
pub struct ReadyColumns {
    /// What they are for.
    pub name: &'static str,
    /// The formulas, in the order of the table.
    pub columns: &'static [&'static str],
}

const SHIPPED: [ReadyColumns; 6] = [
    ReadyColumns {
        name: "Value",
        columns: &["price", "pe", "own_rank(pe, 10y)", "ev_ebit", "pb", "fcf_yield", "price_to_value", "margin_of_safety"],
    },
    ReadyColumns { name: "Quality", columns: &["price", "quality", "roic", "operating_margin", "cash_conversion(3)", "red_flags"] },
    ReadyColumns {
        name: "Growth",
        columns: &["price", "revenue_growth(5)", "eps_growth(5)", "eps_rising_years(5)", "eps_steadiness(9)", "peg"],
    },
    ReadyColumns {
        name: "Balance sheet",
        columns: &["price", "debt_to_equity", "net_debt_to_ebitda", "interest_cover", "current_ratio", "altman_z", "piotroski_f"],
    },
    ReadyColumns {
        name: "Owners",
        columns: &["price", "dividend_yield", "dividend_cover", "buyback_yield", "share_count_growth(5)", "insider_stake"],
    },
    ReadyColumns {
        name: "Price",
        columns: &["price", "from_low_52w", "from_high_52w", "change(1m)", "change(1y)", "volatility(252)", "rsi(14, day)"],
    },
];

/// The shipped sets of columns.
#[must_use]
pub const fn ready_columns() -> &'static [ReadyColumns] {
    &SHIPPED
}

#[cfg(test)]
mod tests {
    use super::ready_columns;
    use artemon_core::measures::compile;

    #[test]
    fn every_shipped_column_is_sound() {
        for formula in ready_columns().iter().flat_map(|set| set.columns) {
            compile(formula).unwrap_or_else(|e| panic!("{formula}: {e}"));
        }
    }
}
