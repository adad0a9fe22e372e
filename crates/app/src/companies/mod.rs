//! Companies: found, grouped, and the page of one.

mod answers;
mod behaviour;
mod change;
mod glance;
mod groups;
pub(crate) mod months;
mod names;
mod page;
mod peers;
pub(crate) mod search;
mod statements;
mod years;

pub use answers::{Answer, Mark};
pub use behaviour::{AfterPurchases, Behaviour, OpenGap, OpenMarketTrade, Pattern, PriceLevel, SwingPoint, after_purchases, behaviour};
pub use change::{ChangePart, FigureChange, ValueChangeAnswer, ValueThen, value_change};
pub use glance::{Glance, Headline, glance};
pub use groups::{Groups, IndexGroup, groups};
pub use page::{CompanyPage, company_page};
pub use peers::{IndustryPlace, PeerRow, PeersAnswer, peers};
pub use search::{CompanyHit, search};
pub use statements::{
    Statement, StatementColumn, StatementForm, StatementPeriod, StatementRequest, StatementRow, StatementTable, statement,
};
