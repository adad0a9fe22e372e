//! Which figure stands in which column of which sheet: what the formulas of the others refer to.

/// Of *Valuation*: what stands beside the years; the years follow it.
pub(super) const BESIDE: u16 = 7;

/// The first of the six growth columns of *Inputs*, after the figures themselves.
pub(super) const GROWTH: u16 = 41;

/// Of *Candidates*.
pub(super) mod candidates {
    pub const PRICE: u16 = 5;
    pub const VALUE: u16 = 6;
    pub const LOW: u16 = 7;
    pub const HIGH: u16 = 8;
    pub const AGREEMENT: u16 = 9;
    pub const MARGIN: u16 = 10;
    pub const BUY_BELOW: u16 = 11;
    pub const VERDICT: u16 = 12;
    pub const QUALITY: u16 = 13;
    pub const MIDDLE: u16 = 16;
    pub const MAD: u16 = 17;
    pub const MODELS: u16 = 18;
}

/// Of *Inputs*.
pub(super) mod inputs {
    pub const SYMBOL: u16 = 0;
    pub const PRICE: u16 = 3;
    pub const EARNINGS: u16 = 4;
    pub const CASH: u16 = 5;
    pub const BOOK: u16 = 6;
    pub const DIVIDEND: u16 = 7;
    pub const PAID: u16 = 8;
    pub const EACH_YEAR: u16 = 9;
    pub const OWN_PE: u16 = 10;
    pub const OWN_PS: u16 = 11;
    pub const OWN_PB: u16 = 12;
    pub const OWN_EV: u16 = 13;
    pub const OWN_PFFO: u16 = 14;
    pub const ROE: u16 = 15;
    pub const PAST: u16 = 16;
    pub const ANALYSTS: u16 = 17;
    pub const INFLATION: u16 = 18;
    pub const AAA: u16 = 19;
    pub const GOVERNMENT: u16 = 20;
    pub const TAX: u16 = 21;
    pub const INCOME: u16 = 22;
    pub const REINVESTED: u16 = 23;
    pub const REVENUE: u16 = 24;
    pub const MARGIN: u16 = 25;
    pub const CLAIMS: u16 = 26;
    pub const DEBT: u16 = 27;
    pub const INTEREST: u16 = 28;
    pub const FFO: u16 = 29;
    pub const REVENUE_OUT: u16 = 30;
    pub const BOOK_OUT: u16 = 31;
    pub const EBIT_OUT: u16 = 32;
    pub const CLAIMS_OUT: u16 = 33;
    pub const PAYOUT: u16 = 34;
    pub const PAYOUT_FFO: u16 = 35;
    pub const EXIT: u16 = 36;
    pub const EXIT_FFO: u16 = 37;
    pub const RETURN: u16 = 38;
    pub const FIRM: u16 = 39;
    pub const OWN_GROWTH: u16 = 40;
}
