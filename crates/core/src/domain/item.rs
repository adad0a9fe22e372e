//! The items of a financial statement.

use super::codes::CodeError;
use std::{fmt, str::FromStr};

/// How an item is summed over periods, put on a split basis and converted between currencies.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ItemKind {
    /// Money over a period: summed over twelve months.
    Flow,
    /// Money a share over a period: summed, divided by later splits.
    PerShare,
    /// Money at the end of a period.
    Balance,
    /// A number of shares: the newest known, multiplied by later splits.
    Shares,
    /// A plain ratio: the newest known.
    Ratio,
}

macro_rules! items {
    ($($variant:ident $code:literal $label:literal $kind:ident),+ $(,)?) => {
        /// An item of a statement. Amounts are in whole units of the statement's currency.
        #[allow(missing_docs)]
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
        #[repr(u8)]
        pub enum Item { $($variant),+ }

        impl Item {
            /// Every item in the order of the dataset's columns.
            pub const ALL: &'static [Item] = &[$(Item::$variant),+];

            /// The item's name in the dataset and in formulas.
            #[must_use]
            pub const fn code(self) -> &'static str { match self { $(Item::$variant => $code),+ } }

            /// The item's name in words.
            #[must_use]
            pub const fn label(self) -> &'static str { match self { $(Item::$variant => $label),+ } }

            /// How it is summed, split and converted.
            #[must_use]
            pub const fn kind(self) -> ItemKind { match self { $(Item::$variant => ItemKind::$kind),+ } }
        }
    };
}

items! {
    Revenue "revenue" "revenue" Flow,
    CostOfRevenue "cost_of_revenue" "cost of revenue" Flow,
    GrossProfit "gross_profit" "gross profit" Flow,
    ResearchDevelopment "research_development" "research and development" Flow,
    SellingGeneralAdmin "selling_general_admin" "selling, general and administrative cost" Flow,
    OperatingIncome "operating_income" "operating income" Flow,
    DepreciationAmortization "depreciation_amortization" "depreciation and amortization" Flow,
    InterestExpense "interest_expense" "interest expense" Flow,
    PretaxIncome "pretax_income" "pretax income" Flow,
    IncomeTax "income_tax" "income tax" Flow,
    NetIncome "net_income" "net income" Flow,
    PreferredDividends "preferred_dividends" "preferred dividends" Flow,
    EpsBasic "eps_basic" "basic earnings per share" PerShare,
    EpsDiluted "eps_diluted" "diluted earnings per share" PerShare,
    EpsAdjusted "eps_adjusted" "adjusted earnings per share" PerShare,
    SharesBasic "shares_basic" "basic shares" Shares,
    SharesDiluted "shares_diluted" "diluted shares" Shares,
    Cash "cash" "cash" Balance,
    ShortTermInvestments "short_term_investments" "short-term investments" Balance,
    Receivables "receivables" "receivables" Balance,
    Inventory "inventory" "inventory" Balance,
    CurrentAssets "current_assets" "current assets" Balance,
    FixedAssets "fixed_assets" "fixed assets" Balance,
    Goodwill "goodwill" "goodwill" Balance,
    Intangibles "intangibles" "intangibles" Balance,
    TotalAssets "total_assets" "total assets" Balance,
    Payables "payables" "payables" Balance,
    ShortTermDebt "short_term_debt" "short-term debt" Balance,
    CurrentLiabilities "current_liabilities" "current liabilities" Balance,
    LongTermDebt "long_term_debt" "long-term debt" Balance,
    TotalLiabilities "total_liabilities" "total liabilities" Balance,
    PreferredEquity "preferred_equity" "preferred equity" Balance,
    MinorityInterest "minority_interest" "minority interest" Balance,
    Equity "equity" "equity" Balance,
    RetainedEarnings "retained_earnings" "retained earnings" Balance,
    SharesOutstanding "shares_outstanding" "shares outstanding" Shares,
    OperatingCashFlow "operating_cash_flow" "operating cash flow" Flow,
    CapitalExpenditure "capital_expenditure" "capital expenditure" Flow,
    DividendsPaid "dividends_paid" "dividends paid" Flow,
    SharesIssued "shares_issued" "shares issued" Flow,
    SharesRepurchased "shares_repurchased" "shares repurchased" Flow,
    Acquisitions "acquisitions" "acquisitions" Flow,
    StockCompensation "stock_compensation" "stock compensation" Flow,
    DebtIssued "debt_issued" "debt issued" Flow,
    DebtRepaid "debt_repaid" "debt repaid" Flow,
    NetInterestIncome "net_interest_income" "net interest income" Flow,
    LossProvision "loss_provision" "loss provision" Flow,
    Tier1Ratio "tier1_ratio" "tier 1 ratio" Ratio,
    PremiumsEarned "premiums_earned" "premiums earned" Flow,
    CombinedRatio "combined_ratio" "combined ratio" Ratio,
    FundsFromOperations "funds_from_operations" "funds from operations" Flow,
}

/// How many items a statement can carry.
pub const ITEM_COUNT: usize = Item::ALL.len();

impl Item {
    /// The bit of this item in a mask of items.
    #[must_use]
    pub const fn bit(self) -> u64 {
        1 << self as u8
    }

    /// Whether the item is summed over twelve months.
    #[must_use]
    pub const fn is_flow(self) -> bool {
        matches!(self.kind(), ItemKind::Flow | ItemKind::PerShare)
    }

    /// The item whose presence shows that a missing one is none (rule 10 of the dataset).
    #[must_use]
    pub const fn none_when_absent_beside(self) -> Option<Item> {
        match self {
            Item::ShortTermInvestments | Item::PreferredEquity | Item::MinorityInterest | Item::Goodwill | Item::Intangibles => {
                Some(Item::TotalAssets)
            }
            Item::PreferredDividends => Some(Item::NetIncome),
            Item::DividendsPaid | Item::SharesIssued | Item::SharesRepurchased => Some(Item::OperatingCashFlow),
            Item::ShortTermDebt => Some(Item::LongTermDebt),
            Item::LongTermDebt => Some(Item::ShortTermDebt),
            _ => None,
        }
    }
}

impl FromStr for Item {
    type Err = CodeError;
    fn from_str(s: &str) -> Result<Item, CodeError> {
        let found = Item::ALL.iter().copied().find(|i| i.code() == s);
        found.ok_or_else(|| CodeError { text: s.to_owned(), expected: "an item of a statement".to_owned() })
    }
}

impl fmt::Display for Item {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.code())
    }
}

/// The items that one filing carries.
#[derive(Clone, Debug, PartialEq)]
pub struct Items {
    mask: u64,
    values: [f64; ITEM_COUNT],
}

impl Default for Items {
    fn default() -> Items {
        Items { mask: 0, values: [0.0; ITEM_COUNT] }
    }
}

impl Items {
    /// The item's figure, if the filing carries it.
    #[must_use]
    pub fn get(&self, item: Item) -> Option<f64> {
        (self.mask & item.bit() != 0).then(|| self.values[item as usize])
    }

    /// Sets or clears an item.
    pub fn set(&mut self, item: Item, value: Option<f64>) {
        match value {
            Some(v) => {
                self.mask |= item.bit();
                self.values[item as usize] = v;
            }
            None => self.mask &= !item.bit(),
        }
    }

    /// Which items are carried, one bit each by [`Item::bit`].
    #[must_use]
    pub const fn mask(&self) -> u64 {
        self.mask
    }

    /// The carried items with their figures, in order.
    pub fn iter(&self) -> impl Iterator<Item = (Item, f64)> + '_ {
        Item::ALL.iter().filter_map(|&i| self.get(i).map(|v| (i, v)))
    }
}
