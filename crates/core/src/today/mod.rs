//! What happened between two days that an investor who follows some companies wants to know.
//!
//! A file a section of the page Today. Everything is computed as of the later day and, where it is compared, as of the earlier one;
//! amounts a share are in the listing's currency on the split basis of the later day.

mod coming;
mod followed;
mod gauge;
mod insiders;
mod lows;
mod market;
mod movers;
mod report;
mod turned;
mod under;
mod words;

pub use coming::{Coming, coming};
pub use followed::Followed;
pub use gauge::{Gauge, GaugeStanding, gauge, gauge_at, gauge_days, gauge_settings, standing};
pub use insiders::{Buyer, Purchases, purchases};
pub use lows::{SoundLow, YearlyLows, yearly_lows};
pub use market::median_return;
pub use movers::{Mover, Movers, MovesOver, SectorMove, movers, newest_headline, sector_moves};
pub use report::{Asked, AskedOf, Report, ReportError, report};
pub use turned::{MovedBy, NewFlags, Standing, VerdictChange, new_flags, verdict_changes};
pub use under::{UnderPrice, under_my_price};
pub use words::{event_words, followed_words, gauge_words, purchase_words, role, sector_words, under_words, verdict_words};
