//! Companies: found, grouped, and the page of one.

mod answers;
mod groups;
mod names;
mod page;
pub(crate) mod search;

pub use answers::{Answer, Mark};
pub use groups::{Groups, IndexGroup, groups};
pub use page::{CompanyPage, company_page};
pub use search::{CompanyHit, search};
