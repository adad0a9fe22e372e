//! Price, trading and dividends, all on the split basis of the date.

mod dividends;
mod trading;
mod year;

pub(crate) use dividends::{dividend_years, dividend_yield, regular_dividend, year_dividend};
pub(crate) use trading::{average_traded_value, average_volume, market_cap, order_share, relative_volume, volume};
pub(crate) use year::{at_low_52w, change, drawdown, high_52w, low_52w, sma, volatility};
