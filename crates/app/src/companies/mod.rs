//! Companies: found, grouped, and the page of one.

mod answers;
mod behaviour;
mod cases;
mod cash;
mod change;
mod episodes;
mod glance;
mod groups;
pub(crate) mod months;
mod multiples;
mod names;
mod notes;
mod owners;
mod page;
mod peers;
mod price;
mod quarters;
pub(crate) mod search;
mod solvency;
mod statements;
mod trades;
mod workbook;
mod years;

pub use answers::{Answer, Mark};
pub use behaviour::{AfterPurchases, Behaviour, OpenGap, OpenMarketTrade, Pattern, PriceLevel, SwingPoint, after_purchases, behaviour};
pub use cases::{
    Case, CaseAnswer, CaseYear, Cases, CasesAnswer, CasesRecord, Habit, PastYear, cases_record, own_cases, save_cases, work_out,
};
pub use cash::cash_picture;
pub(crate) use change::change_answer;
pub use change::{ChangePart, FigureChange, ValueChangeAnswer, ValueThen, value_change};
pub use episodes::{EpisodeRow, OwnRecord};
pub use glance::{Glance, Headline, glance};
pub use groups::{Groups, IndexGroup, groups};
pub use multiples::{MultiplePath, MultipleRequest, PathStatistics, Standing, multiple_path};
pub use notes::{Note, note, save_note};
pub use owners::{Owners, StakePoint, owners};
pub(crate) use page::headline_figures;
pub use page::{CompanyPage, DateAhead, ListingRow, NamedFigure, OfficerRow, company_page};
pub use peers::{IndustryPlace, PeerRow, PeersAnswer, peers};
pub use price::{
    BandsAnswer, ChannelAnswer, IndexLine, Lane, LineAnswer, LogEntry, PriceAnswer, PriceRequest, PriceZones, Stretch, price_chart, stretch,
};
pub use quarters::{ExpectedPeriod, ExpectedRange, QuartersAnswer, QuartersRequest, RevisionPoint, TargetAnswer, quarters};
pub use search::{CompanyHit, search};
pub use solvency::{Outcome, SolvencyTest, YearBefore, solvency};
pub use statements::{
    Statement, StatementColumn, StatementForm, StatementPeriod, StatementRequest, StatementRow, StatementTable, statement,
};
pub use trades::TradeRow;
pub(crate) use trades::trade;
pub use workbook::company_xlsx;
pub use years::{YearColumn, YearRow};
