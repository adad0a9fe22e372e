//! Price, trading and dividends, all on the split basis of the date.

mod averages;
mod candles;
mod dividends;
mod frame;
mod lines;
mod returns;
mod session;
mod together;
mod trading;
mod trend;
mod year;
mod zones;

pub(crate) use averages::{atr, bollinger, bollinger_position, ema, rsi, sma};
pub(crate) use candles::candle;
pub use candles::{Candle, CandleAt, candles};
pub(crate) use dividends::{dividend_years, dividend_yield, regular_dividend, year_dividend};
pub use frame::Frame;
pub use lines::{averages, bands, strengths};
pub use returns::{MarketReturns, price_return, total_return};
pub use session::{sector_change, sector_return, session_after, session_change};
pub use together::{MonthlyReturns, correlation, monthly_returns, together};
pub(crate) use trading::{average_traded_value, average_volume, market_cap, order_share, relative_volume, volume};
pub use trend::{Channel, channel_of, trend_tests};
pub(crate) use trend::{beta, breakout, channel_lower, channel_position, channel_upper, smoothness, trend_check, weekly_range};
pub(crate) use year::{at_low_52w, change, drawdown, high_52w, low_52w, volatility};
pub use zones::{Gap, Level, Turn, gaps, levels, turns};
pub(crate) use zones::{near_support, open_gaps, resistance, support};
