//! The record of decisions: what was decided and why, what was seen then, how it is looked at again, what came of it.

mod decide;
mod page;
mod reasons;
mod review;
mod seen;
mod then_and_now;

pub(super) use decide::written;
pub use decide::{Decided, NewDecision, Screened, decide};
pub(super) use page::{BoughtFor, bought_for, due_reviews, origins, read};
pub use page::{DecisionRow, DecisionsPage, DecisionsRequest, ScreenRecord, decisions};
pub use reasons::Reasons;
pub(super) use reasons::tell_when_wrong;
pub use review::{Review, add_review};
pub use seen::{Seen, SeenFigure};
pub use then_and_now::{DecisionAnswer, FigureThenAndNow, decision};
