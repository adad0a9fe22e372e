//! A quarter of the books.

/// What is paid for a year of revenue, and for one unit of book, when little is earned on it.
const SOLD_FOR: f64 = 0.50;
const WORKS_FOR: f64 = 0.35;
pub(crate) const TAX_RATE: f64 = 0.30;

/// The flows of one quarter and the balance at its end; amounts in whole units of the reporting currency.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Quarter {
    pub(crate) revenue: f64,
    pub(crate) cost: f64,
    pub(crate) research: f64,
    pub(crate) selling: f64,
    pub(crate) depreciation: f64,
    pub(crate) interest: f64,
    /// One-off gain (or loss) before tax.
    pub(crate) one_off: f64,
    pub(crate) tax: f64,
    /// Goodwill that turned out to be worth nothing: a cost that no tax is saved on and no cash is spent for.
    pub(crate) written_off: f64,
    /// Of the income, what belongs to other owners of its subsidiaries.
    pub(crate) minority_income: f64,
    pub(crate) stock_pay: f64,
    pub(crate) capex: f64,
    pub(crate) dividends: f64,
    /// Paid beside the regular dividend.
    pub(crate) special: f64,
    /// Paid on preferred shares.
    pub(crate) preferred_dividends: f64,
    /// Spent on the purchase of companies; what they cost above their net assets is goodwill.
    pub(crate) acquired: f64,
    pub(crate) repurchased: f64,
    pub(crate) issued: f64,
    pub(crate) debt_issued: f64,
    pub(crate) debt_repaid: f64,
    pub(crate) operating_cash: f64,
    pub(crate) cash: f64,
    pub(crate) receivables: f64,
    pub(crate) inventory: f64,
    pub(crate) fixed: f64,
    pub(crate) goodwill: f64,
    pub(crate) payables: f64,
    pub(crate) short_debt: f64,
    pub(crate) long_debt: f64,
    /// With the preferred shares.
    pub(crate) equity: f64,
    pub(crate) preferred: f64,
    /// Other owners' capital in its subsidiaries.
    pub(crate) minority: f64,
    pub(crate) retained: f64,
    /// Shares on the basis before all splits, at the end.
    pub(crate) shares: f64,
    /// Income of a year without cycle and one-offs, a share: what prices look at.
    pub(crate) normal_eps: f64,
    /// Operating income of a year without cycle.
    pub(crate) normal_operating: f64,
    /// Growth a year that can be expected from here.
    pub(crate) outlook: f64,
    /// Turns of usual earnings that a well-informed market pays for growth, and for the quality that makes it last.
    pub(crate) appeal: f64,
    /// Quality as it then is.
    pub(crate) quality: f64,
    /// What others believe of its quality.
    pub(crate) believed: f64,
    /// Banks' deposits or insurers' provisions.
    pub(crate) entrusted: f64,
}

impl Quarter {
    pub(crate) fn operating_income(&self) -> f64 {
        self.revenue - self.cost - self.research - self.selling
    }

    pub(crate) fn pretax(&self) -> f64 {
        self.operating_income() - self.interest + self.one_off - self.written_off
    }

    /// What is left for its own shareholders, the preferred among them.
    pub(crate) fn net_income(&self) -> f64 {
        self.pretax() - self.tax - self.minority_income
    }

    pub(crate) fn current_assets(&self) -> f64 {
        self.cash + self.receivables + self.inventory
    }

    /// What would be paid for a share of a business that earns little: for its customers, or for its works.
    pub(crate) fn sold_for(&self) -> f64 {
        let customers = SOLD_FOR * 4.0 * self.revenue - 0.15 * (self.short_debt + self.long_debt);
        customers.max(WORKS_FOR * self.equity) / self.shares
    }

    pub(crate) fn total_assets(&self) -> f64 {
        self.current_assets() + self.fixed + self.goodwill
    }

    pub(crate) fn total_liabilities(&self) -> f64 {
        self.payables + self.short_debt + self.long_debt + self.entrusted
    }
}
